import { type Frame, overPlane } from '../../core/curves/frame';
import type { Finding } from '../../core/form/doctor';
import { showMark } from '../state/bench';
import { setShaping, shape } from '../state/shaping';

/** Findings shown; more of them are counted. */
const MOST_SHOWN = 60;

/** What the layout of a cage does to its skin, the grave first, each with its place and what mends it. */
export function CageLayout({ step, found, plane }: { step: string; found: readonly Finding[]; plane: Frame | undefined }) {
  if (found.length === 0) return <p>● Quads throughout, with four edges at every vertex.</p>;
  return (
    <ol aria-label="Layout">
      {found.slice(0, MOST_SHOWN).map((f, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: findings stand in order of their weight
        <li key={i} className="py-0.5">
          <button
            type="button"
            className="text-left hover:text-teal"
            onClick={() => showMark(plane ? overPlane(plane, f.at) : f.at, f.what, f.grave ? 'fail' : 'warn')}
          >
            {f.grave ? '■' : '▲'} {f.what} <span className="text-ink2">{f.why}</span>
          </button>
          {f.repair && (
            <button
              type="button"
              className="link ml-2 whitespace-nowrap"
              onClick={() => {
                const { edit, picked } = f.repair!;
                // Weights stand in the document as expressions.
                if (shape(step, edit.do === 'crease' ? { ...edit, weight: `${edit.weight}` } : edit, picked))
                  setShaping({ note: `${f.what} Done: ${f.repair!.words}.` });
              }}
            >
              {f.repair.words}
            </button>
          )}
        </li>
      ))}
      {found.length > MOST_SHOWN && <li className="text-ink2">and {found.length - MOST_SHOWN} more</li>}
    </ol>
  );
}
