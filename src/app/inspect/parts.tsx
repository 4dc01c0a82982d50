import type { ReactNode } from 'react';
import type { Answer } from '../../engine/inspect';
import { showMark } from '../state/bench';

/** The answer to one of the questions. */
export type Of<W extends Answer['what']> = Extract<Answer, { what: W }>;

/** One figure with its name. */
export function Figure({ label, value, tone = '' }: { label: string; value: ReactNode; tone?: string }) {
  return (
    <div className="flex items-baseline justify-between gap-2 border-b border-line py-1">
      <span>{label}</span>
      <span className={`whitespace-nowrap font-mono ${tone}`}>{value}</span>
    </div>
  );
}

/** A list of places, each visited by its button; the keyboard walks it as any list of buttons. */
export function Places({
  title,
  list,
  tone = 'info',
}: {
  title: string;
  list: readonly { readonly words: string; readonly value: string; readonly at: readonly [number, number, number] }[];
  tone?: 'info' | 'warn' | 'fail';
}) {
  if (list.length === 0) return null;
  return (
    <section className="my-2" aria-label={title}>
      <h3 className="heading mb-1">{title}</h3>
      <ol>
        {list.map((p, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: places stand in order of their value
          <li key={i}>
            <button
              type="button"
              className="flex w-full items-baseline justify-between gap-2 py-0.5 text-left hover:text-teal"
              onClick={() => showMark(p.at, `${p.words} ${p.value}`, tone)}
            >
              <span className="truncate">
                {i + 1}. {p.words}
              </span>
              <span className="whitespace-nowrap font-mono">{p.value}</span>
            </button>
          </li>
        ))}
      </ol>
    </section>
  );
}
