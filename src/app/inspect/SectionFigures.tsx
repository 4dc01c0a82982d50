import type { Project } from '../../core/recipe/schema';
import { formatArea, formatLength } from '../../core/units/units';
import { showMark } from '../state/bench';
import { showRow, showStack, useInspect } from '../state/inspecting';
import { Chart } from './Chart';
import { wallLimit } from './limits';
import { Figure, type Of, Places } from './parts';
import { SaveSection } from './SaveSection';

/** What sections show: charts by height, linked to the plane on the stage. */
export function Sections({ answer, project }: { answer: Of<'sections'>; project: Project }) {
  const row = useInspect((s) => s.row);
  const stack = useInspect((s) => s.stack);
  const { rows } = answer;
  const limit = wallLimit(project);
  if (rows.length === 0) return <p className="text-ink2">The curve has no length: choose another one.</p>;
  const from = rows[0]!.place;
  const to = rows[rows.length - 1]!.place;
  const nearest = (y: number): number =>
    rows.reduce((best, r, i) => (Math.abs(r.place - y) < Math.abs(rows[best]!.place - y) ? i : best), 0);
  const point = (y: number): void => showRow(nearest(y));
  const some = rows.filter((r) => r.least !== null);
  const thinnest = some.length > 0 ? some.reduce((a, b) => (b.least! < a.least! ? b : a)) : undefined;
  const widest = Math.max(1, ...some.map((r) => Math.min(r.most!, 4 * (thinnest?.least ?? r.most!))));
  const length = (v: number | null): string => (v === null ? '–' : formatLength(v, project.units, 2));
  const now = row === null ? thinnest : rows[row];
  const { way } = answer;
  const along = way.by === 'axis' && way.axis === 'z' ? 'height' : way.by === 'path' ? 'way along it' : 'place';
  return (
    <>
      <Chart
        title={`Wall by ${along}`}
        x={{ label: 'wall, mm', from: 0, to: widest * 1.1 }}
        y={{ label: `${along}, mm`, from, to }}
        series={[
          { label: 'least', points: some.map((r) => [r.least!, r.place] as const), colour: 'teal', width: 2 },
          { label: 'mean', points: some.map((r) => [Math.min(r.mean!, widest), r.place] as const), colour: 'ink2', width: 1 },
          { label: 'most', points: some.map((r) => [Math.min(r.most!, widest), r.place] as const), colour: 'line2', width: 1.5 },
        ]}
        limits={limit === null ? [] : [{ value: limit, words: `brief ≥ ${Number(limit.toFixed(2))}` }]}
        point={now?.place ?? null}
        onPoint={point}
      />
      <label className="flex items-center gap-2 text-[12px]">
        <span className="text-ink2">Plane</span>
        <input
          type="range"
          aria-label="Place of the section"
          className="min-w-0 flex-1 accent-teal"
          min={0}
          max={rows.length - 1}
          value={row ?? (thinnest ? rows.indexOf(thinnest) : 0)}
          onChange={(e) => showRow(Number(e.target.value))}
        />
        <span className="w-20 text-right font-mono">{length(now?.place ?? null)}</span>
      </label>
      <label className="flex items-center gap-2 py-1 text-[12px]">
        <input type="checkbox" className="accent-teal" checked={stack} onChange={(e) => showStack(e.target.checked)} />
        many sections at once, as contours
      </label>
      {now && (
        <div data-testid="section-row">
          <Figure label="Area of material" value={formatArea(now.area, project.units)} />
          <Figure label="Length of outlines" value={formatLength(now.perimeter, project.units, 1)} />
          <Figure
            label="Wall, least"
            value={length(now.least)}
            tone={limit !== null && now.least !== null && now.least < limit - 5e-4 ? 'text-madder' : ''}
          />
          <Figure label="Wall, mean" value={length(now.mean)} />
          <Figure label="Wall, most" value={length(now.most)} />
          {now.spot && (
            <button type="button" className="link mt-1" onClick={() => showMark(now.spot!.at, `wall ${length(now.least)}`)}>
              show where it is least
            </button>
          )}
          <SaveSection project={project} body={answer.body} station={now} />
        </div>
      )}
      {thinnest && (
        <Places
          title="Thinnest of all sections"
          list={[{ words: `at ${length(thinnest.place)}`, value: length(thinnest.least), at: thinnest.spot?.at ?? [0, 0, 0] }]}
        />
      )}
      <Chart
        title={`Area by ${along}`}
        x={{ label: 'area, cm²', from: 0, to: Math.max(...rows.map((r) => r.area)) / 100 || 1 }}
        y={{ label: `${along}, mm`, from, to }}
        series={[{ label: 'area', points: rows.map((r) => [r.area / 100, r.place] as const), colour: 'teal' }]}
        height={150}
        onPoint={point}
        point={now?.place ?? null}
      />
    </>
  );
}
