import { useMemo, useState } from 'react';
import { type Frame, overPlane } from '../../core/curves/frame';
import type { Finding } from '../../core/form/doctor';
import { groupOf } from '../../core/form/mend';
import { showMark } from '../state/bench';
import { mend, mendAll, mendingWords } from '../state/shaping';

/** What the layout of a cage does to its skin, the grave first: what is alike shares a line, each with its place and what mends it. */
export function CageLayout({ step, found, plane }: { step: string; found: readonly Finding[]; plane: Frame | undefined }) {
  const groups = useMemo(() => {
    const out = new Map<string, Finding[]>();
    for (const f of found) out.set(groupOf(f), [...(out.get(groupOf(f)) ?? []), f]);
    return [...out];
  }, [found]);
  if (found.length === 0) return <p>● Quads throughout, with four edges at every vertex.</p>;
  return (
    <ol aria-label="Layout">
      {groups.map(([key, places]) => (
        <Alike key={key} step={step} places={places} plane={plane} />
      ))}
    </ol>
  );
}

/** Findings of one kind: the first in words, the next by clicking, one or all of them mended. */
function Alike({ step, places, plane }: { step: string; places: readonly Finding[]; plane: Frame | undefined }) {
  const [turn, setTurn] = useState(0);
  /** What a repair would do, told while it is pointed at. */
  const [told, setTold] = useState('');
  const k = turn % places.length;
  const f = places[k]!;
  const more = places.length - 1;
  const mendable = places.filter((p) => p.repair).length;
  const show = (at: number): void => {
    const next = places[at % places.length]!;
    setTurn(at);
    showMark(plane ? overPlane(plane, next.at) : next.at, `${next.what} ${next.why}`, next.grave ? 'fail' : 'warn');
  };
  const repair = (words: string, all: boolean) => (
    <button
      type="button"
      className="link ml-2"
      onClick={() => {
        setTold('');
        if (all) mendAll(step, f.kind);
        else mend(step, f);
      }}
      onPointerEnter={() => setTold(mendingWords(step, f, all))}
      onFocus={() => setTold(mendingWords(step, f, all))}
      onPointerLeave={() => setTold('')}
      onBlur={() => setTold('')}
    >
      {words}
    </button>
  );
  return (
    <li className="py-0.5">
      <button type="button" className="text-left hover:text-teal" onClick={() => show(turn)}>
        {f.grave ? '■' : '▲'} {f.what} <span className="text-ink2">{f.why}</span>
      </button>
      {f.repair && repair(f.repair.words, false)}
      {more > 0 && (
        <span className="block pl-3.5">
          <button type="button" className="link" onClick={() => show(turn + 1)}>
            {k + 1} of {places.length}, the next
          </button>
          {mendable > 1 && repair(`mend all ${mendable}`, true)}
        </span>
      )}
      {told && (
        <span role="status" className="block pl-3.5 text-ink2">
          {told}
        </span>
      )}
    </li>
  );
}
