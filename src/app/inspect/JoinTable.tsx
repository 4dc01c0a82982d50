import { useState } from 'react';
import { JOIN_LIMITS, type JoinReading, joinClass, nearlySmooth } from '../../core/inspect/joins';
import type { Project } from '../../core/recipe/schema';
import { edgeWords } from '../../core/recipe/words';
import { degrees, fixed, formatLength } from '../../core/units/units';
import { showMark } from '../state/bench';
import { Chart } from './Chart';
import type { Of } from './parts';

type Filter = 'all' | 'nearly' | 'smooth' | 'sharp';

/** How faces meet: every edge with its class, sorted by angle, filtered, opened to its plot. */
export function JoinTable({ answer, project }: { answer: Of<'joins'>; project: Project }) {
  const [filter, setFilter] = useState<Filter>('all');
  const [open, setOpen] = useState<string | null>(null);
  const [limit, setLimit] = useState(degrees(JOIN_LIMITS.angle));
  const limits = { ...JOIN_LIMITS, angle: (limit * Math.PI) / 180 };
  const keep: Readonly<Record<Filter, (j: JoinReading) => boolean>> = {
    all: () => true,
    nearly: (j) => nearlySmooth(j, limits),
    smooth: (j) => ['G1', 'G2'].includes(joinClass(j, limits)),
    sharp: (j) => ['G0', 'open'].includes(joinClass(j, limits)) && !nearlySmooth(j, limits),
  };
  const list = answer.joins.filter(keep[filter]).toSorted((a, b) => b.angle - a.angle || b.bend - a.bend);
  const count = (f: Filter): number => answer.joins.filter(keep[f]).length;
  return (
    <>
      <div className="mb-1 flex flex-wrap gap-1" role="group" aria-label="Which edges">
        {(
          [
            ['all', 'all'],
            ['nearly', 'meant to be smooth but isn’t'],
            ['smooth', 'smooth'],
            ['sharp', 'sharp'],
          ] as const
        ).map(([f, words]) => (
          <button
            key={f}
            type="button"
            aria-pressed={filter === f}
            className={filter === f ? 'btn-strong py-0!' : 'btn py-0!'}
            onClick={() => setFilter(f)}
          >
            {words} {count(f)}
          </button>
        ))}
      </div>
      <label className="mb-1 flex items-center gap-2 text-[12px] text-ink2">
        Smooth up to
        <input
          type="number"
          aria-label="Smooth up to, degrees"
          className="field w-16 py-0!"
          min={0.01}
          max={10}
          step={0.1}
          value={limit}
          onChange={(e) => Number(e.target.value) > 0 && setLimit(Number(e.target.value))}
        />
        ° (common practice)
      </label>
      <p className="mb-1 text-[12px] text-ink2">On the stage: teal G2, amber G1, ink sharp on purpose, thick red meant to be smooth.</p>
      <table className="w-full table-fixed text-[12px]">
        <colgroup>
          <col />
          <col className="w-14" />
          <col className="w-16" />
          <col className="w-11" />
        </colgroup>
        <thead>
          <tr className="border-b border-line2 text-left text-ink2">
            <th className="font-normal">Edge</th>
            <th className="text-right font-normal">angle</th>
            <th className="text-right font-normal">Δκ, 1/mm</th>
            <th className="text-right font-normal">class</th>
          </tr>
        </thead>
        <tbody>
          {list.map((j) => (
            <JoinRow
              key={j.edge}
              join={j}
              project={project}
              limits={limits}
              open={open === j.edge}
              toggle={() => {
                setOpen(open === j.edge ? null : j.edge);
                showMark(j.at, `${edgeWords(j.edge, project)}: ${fixed(degrees(j.angle), 2)}°`);
              }}
            />
          ))}
        </tbody>
      </table>
      {list.length === 0 && <p className="text-ink2">No edge of this kind.</p>}
    </>
  );
}

function JoinRow({
  join,
  project,
  limits,
  open,
  toggle,
}: {
  join: JoinReading;
  project: Project;
  limits: typeof JOIN_LIMITS;
  open: boolean;
  toggle: () => void;
}) {
  const smooth = join.angle < limits.angle;
  const most = Math.max(1e-9, ...join.along.map((a) => (smooth ? a.bend : degrees(a.angle))));
  return (
    <>
      <tr className={`border-b border-line ${open ? 'bg-tealwash' : ''}`}>
        <td>
          <button
            type="button"
            aria-expanded={open}
            className="block w-full truncate text-left hover:text-teal"
            title={edgeWords(join.edge, project)}
            onClick={toggle}
          >
            {edgeWords(join.edge, project).replace(/^edge between /, '')}
          </button>
        </td>
        <td className="whitespace-nowrap pl-2 text-right font-mono">{fixed(degrees(join.angle), 2)}°</td>
        <td className="whitespace-nowrap pl-2 text-right font-mono">{join.bend < limits.bend ? '0' : join.bend.toPrecision(2)}</td>
        <td className="pl-2 text-right font-mono">
          {nearlySmooth(join, limits) ? '▲ ' : ''}
          {joinClass(join, limits)}
        </td>
      </tr>
      {open && (
        <tr>
          <td colSpan={4}>
            <Chart
              title={smooth ? 'Difference of curvature along the edge' : 'Angle along the edge'}
              x={{ label: 'share of the edge', from: 0, to: 1 }}
              y={{ label: smooth ? '1/mm' : '°', from: 0, to: most * 1.1 }}
              series={[
                {
                  label: 'along',
                  points: join.along.map((a, i) => [(i + 0.5) / join.along.length, smooth ? a.bend : degrees(a.angle)] as const),
                  colour: 'teal',
                },
              ]}
              height={120}
            />
            <p className="pb-2 text-ink2">
              gap {join.gap.toExponential(1)} mm · {formatLength(join.length, project.units, 1)} long · curvatures differ by{' '}
              {fixed(100 * join.mismatch, 0)} %
            </p>
          </td>
        </tr>
      )}
    </>
  );
}
