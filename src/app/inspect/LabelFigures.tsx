import type { Project } from '../../core/recipe/schema';
import { fixed, formatArea, formatLength } from '../../core/units/units';
import { showMark } from '../state/bench';
import { Figure, type Of, Places } from './parts';

/** Where a label lies: each zone laid flat, with its sizes. */
export function LabelFigures({ answer, project, face }: { answer: Of<'label'>; project: Project; face: (i: number) => string }) {
  const by = (s: { width: number; height: number }, digits: number): string =>
    `${formatLength(s.width, project.units, digits)} × ${formatLength(s.height, project.units, digits)}`;
  return (
    <>
      {answer.zones.length === 0 && (
        <p className="mb-2 text-ink2">No zone is large enough and bends one way only. Raise the limit, or use a sleeve.</p>
      )}
      {answer.zones.map((z, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: zones stand in order of their area
        <section key={i} className="mb-3 border-b border-line pb-2" aria-label={`Zone ${i + 1}`}>
          <button
            type="button"
            className="block w-full truncate text-left hover:text-teal"
            onClick={() => showMark(z.at, `zone ${i + 1}: ${by(z.label, 0)}`, z.saddle ? 'warn' : 'info')}
          >
            {i + 1}. {z.saddle ? '▲ ' : ''}
            {z.faces.map(face).join(', ')}
          </button>
          <Outline flat={z.flat} title={`Zone ${i + 1} laid flat`} />
          <Figure label={z.around ? 'Laid flat, cut at the back' : 'Laid flat'} value={by(z, 1)} />
          <Figure label="Largest upright label" value={by(z.label, 0)} />
          <Figure label="Area" value={formatArea(z.area, project.units)} />
          <Figure label="Strain at its border" value={`${fixed(100 * z.strain, 2)} %`} tone={z.strain > 0.01 ? 'text-amber' : ''} />
          {z.saddle && <p className="text-[12px] text-amber">It bends both ways like a saddle: a sleeve would bridge it.</p>}
        </section>
      ))}
      <Places
        title="Like a saddle: a sleeve would bridge it"
        tone="warn"
        list={answer.saddles
          .slice(0, 6)
          .map((s) => ({ words: `${fixed(s.gaussian * 1e6, 0)} per m² over`, value: formatArea(s.area, project.units), at: s.at }))}
      />
      <p className="text-[12px] text-ink2">
        A label lies flat where the skin bends one way only: its Gaussian curvature is within the limit. Up to about 1 % of strain a soft
        film follows without creases (common practice, no source).
      </p>
    </>
  );
}

function Outline({ flat, title }: { flat: Float32Array; title: string }) {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < flat.length; i += 2) {
    x0 = Math.min(x0, flat[i]!);
    x1 = Math.max(x1, flat[i]!);
    y0 = Math.min(y0, flat[i + 1]!);
    y1 = Math.max(y1, flat[i + 1]!);
  }
  const lines = Array.from({ length: flat.length / 4 }, (_, i) => {
    const [a, b, c, d] = flat.subarray(4 * i, 4 * i + 4) as unknown as number[];
    return `M${(a! - x0).toFixed(2)} ${(y1 - b!).toFixed(2)}L${(c! - x0).toFixed(2)} ${(y1 - d!).toFixed(2)}`;
  });
  const [w, h] = [x1 - x0, y1 - y0];
  return (
    <svg role="img" aria-label={title} viewBox={`-2 -2 ${w + 4} ${h + 4}`} className="my-1 max-h-28 w-full border border-line bg-card">
      <path d={lines.join('')} className="fill-none stroke-teal" vectorEffect="non-scaling-stroke" strokeWidth={1.5} />
    </svg>
  );
}
