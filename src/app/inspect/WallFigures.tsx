import type { Project } from '../../core/recipe/schema';
import { edgeWords } from '../../core/recipe/words';
import { fixed, formatArea, formatLength } from '../../core/units/units';
import { showMark } from '../state/bench';
import { Bars } from './Chart';
import { Figure, type Of, Places } from './parts';

/** How thick it is: figures, histogram, places. */
export function Walls({ answer, project, face }: { answer: Of<'walls'>; project: Project; face: (i: number) => string }) {
  const length = (v: number): string => formatLength(v, project.units, 2);
  const first = answer.thinnest[0];
  const thin = answer.limit !== null && first !== undefined && first.thickness < answer.limit - 5e-4;
  return (
    <>
      {first && <Figure label="Thinnest" value={`${thin ? '■ ' : ''}${length(first.thickness)}`} tone={thin ? 'text-madder' : ''} />}
      {answer.thickest[0] && <Figure label="Thickest seen" value={length(answer.thickest[0].thickness)} />}
      {answer.below !== null && answer.limit !== null && (
        <Figure
          label={`Thinner than ${length(answer.limit)} by over ${fixed(answer.tolerance, 2)}`}
          value={answer.below > 0.5 ? `■ ${formatArea(answer.below, project.units)}` : '● nowhere'}
          tone={answer.below > 0.5 ? 'text-madder' : ''}
        />
      )}
      {answer.change && (
        <button
          type="button"
          className="block w-full text-left hover:text-teal"
          onClick={() => showMark(answer.change!.at, 'the wall changes fastest here')}
        >
          <Figure label="Fastest change along a face" value={`${fixed(answer.change.rate, 2)} mm per mm`} />
        </button>
      )}
      <Bars
        title="How much of the skin has which wall"
        from={answer.histogram.from}
        to={answer.histogram.to}
        areas={answer.histogram.areas}
        limit={answer.limit}
        unit="wall, mm"
      />
      <Places
        title="Thinnest places"
        tone={thin ? 'fail' : 'info'}
        list={answer.thinnest.map((p) => ({ words: face(p.face), value: length(p.thickness), at: p.at }))}
      />
      <Places title="Thickest places" list={answer.thickest.map((p) => ({ words: face(p.face), value: length(p.thickness), at: p.at }))} />
      <Places
        title="Knife edges, which are no wall"
        tone="warn"
        list={answer.knives.map((k) => ({ words: edgeWords(k.edge, project), value: `${k.angle.toFixed(0)}°`, at: k.at }))}
      />
      <p className="text-[12px] text-ink2">
        {answer.facets.toLocaleString()} places measured on a mesh within half of {fixed(answer.tolerance, 2)} mm; the thinnest ones again
        on the exact surfaces, as the gauge does.
      </p>
    </>
  );
}
