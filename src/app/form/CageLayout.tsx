import { useMemo, useState } from 'react';
import { type Frame, overPlane } from '../../core/curves/frame';
import type { Finding } from '../../core/form/doctor';
import { showMark } from '../state/bench';
import { setShaping, shape } from '../state/shaping';

/** Lines shown; more of them are counted. */
const MOST_SHOWN = 40;

/** What the layout of a cage does to its skin, the grave first, each with its place and what mends it. Alike places share a line. */
export function CageLayout({ step, found, plane }: { step: string; found: readonly Finding[]; plane: Frame | undefined }) {
  const [turn, setTurn] = useState<Readonly<Record<string, number>>>({});
  const lines = useMemo(() => {
    const out = new Map<string, Finding[]>();
    for (const f of found) {
      const key = f.kind === 'valence' ? f.what : `${f.what} ${f.at.join()}`;
      out.set(key, [...(out.get(key) ?? []), f]);
    }
    return [...out];
  }, [found]);
  if (found.length === 0) return <p>● Quads throughout, with four edges at every vertex.</p>;
  const show = (key: string, places: readonly Finding[]): void => {
    const k = (turn[key] ?? 0) % places.length;
    const f = places[k]!;
    showMark(plane ? overPlane(plane, f.at) : f.at, `${f.what} ${f.why}`, f.grave ? 'fail' : 'warn');
    setTurn({ ...turn, [key]: k + 1 });
  };
  const mend = ({ what, repair }: Finding): void => {
    if (!repair) return;
    const { edit, picked, words } = repair;
    // Weights stand in the document as expressions.
    const done = shape(step, edit.do === 'crease' ? { ...edit, weight: `${edit.weight}` } : edit, picked);
    if (done) setShaping({ note: `${what} Done: ${words}.` });
  };
  return (
    <ol aria-label="Layout">
      {lines.slice(0, MOST_SHOWN).map(([key, places]) => {
        const [f, more] = [places[0]!, places.length];
        return (
          <li key={key} className="py-0.5">
            <button type="button" className="text-left hover:text-teal" onClick={() => show(key, places)}>
              {f.grave ? '■' : '▲'} {f.what} {more > 1 && <b className="font-semibold">{more} times. </b>}
              <span className="text-ink2">{f.why}</span>
            </button>
            {f.repair && (
              <button type="button" className="link ml-2" onClick={() => mend(f)}>
                {f.repair.words}
              </button>
            )}
          </li>
        );
      })}
      {lines.length > MOST_SHOWN && <li className="text-ink2">and {lines.length - MOST_SHOWN} more</li>}
    </ol>
  );
}
