import { type ReactNode, useState } from 'react';
import { JOIN_LIMITS, type JoinReading, joinClass, nearlySmooth } from '../../core/inspect/joins';
import type { Project } from '../../core/recipe/schema';
import { edgeWords, faceWords } from '../../core/recipe/words';
import { degrees, fixed, formatLength, formatVolume } from '../../core/units/units';
import type { Answer } from '../../engine/inspect';
import { showMark, useBench } from '../state/bench';
import { showRow, showStack, useInspect } from '../state/inspecting';
import { Bars, Chart } from './Chart';
import { wallLimit } from './Questions';
import { SaveSection } from './SaveSection';

type Of<W extends Answer['what']> = Extract<Answer, { what: W }>;

/** Figures, charts and places of an answer. */
export function Results({ project, answer }: { project: Project; answer: Answer }) {
  const faces = useBench((s) => s.scenes.find((b) => b.id === answer.body)?.faceNames);
  const face = (i: number): string => (faces?.[i] ? faceWords(faces[i], project) : 'a face');
  switch (answer.what) {
    case 'walls':
      return <Walls answer={answer} project={project} face={face} />;
    case 'sections':
      return <Sections answer={answer} project={project} />;
    case 'curvature':
      return <Curvature answer={answer} project={project} face={face} />;
    case 'joins':
      return <Joins answer={answer} project={project} />;
    case 'reflection':
      return (
        <p className="text-ink2">
          Drawn from the exact normals of the surfaces, not of the mesh. Stripes that run through an edge without a kink show tangency;
          without a change of their bend, continuous curvature. The numbers stand under “How do its faces meet?”.
        </p>
      );
    case 'draft':
      return <Draft answer={answer} face={face} />;
    case 'overhang':
      return <Overhang answer={answer} project={project} />;
    case 'holds':
      return <Holds answer={answer} project={project} />;
  }
}

function Figure({ label, value, tone = '' }: { label: string; value: ReactNode; tone?: string }) {
  return (
    <div className="flex items-baseline justify-between gap-2 border-b border-line py-1">
      <span>{label}</span>
      <span className={`whitespace-nowrap font-mono ${tone}`}>{value}</span>
    </div>
  );
}

const area = (mm2: number): string => `${fixed(mm2 / 100, 2)} cm²`;

/** A list of places, each visited by its button; the keyboard walks it as any list of buttons. */
function Places({
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

function Walls({ answer, project, face }: { answer: Of<'walls'>; project: Project; face: (i: number) => string }) {
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
          value={answer.below > 0.5 ? `■ ${area(answer.below)}` : '● nowhere'}
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

function Sections({ answer, project }: { answer: Of<'sections'>; project: Project }) {
  const row = useInspect((s) => s.row);
  const stack = useInspect((s) => s.stack);
  const { rows } = answer;
  const limit = wallLimit(project);
  const from = rows[0]!.offset;
  const to = rows[rows.length - 1]!.offset;
  const nearest = (y: number): number =>
    rows.reduce((best, r, i) => (Math.abs(r.offset - y) < Math.abs(rows[best]!.offset - y) ? i : best), 0);
  const point = (y: number | null): void => {
    if (y !== null) showRow(nearest(y));
  };
  const some = rows.filter((r) => r.least !== null);
  const thinnest = some.length > 0 ? some.reduce((a, b) => (b.least! < a.least! ? b : a)) : undefined;
  const widest = Math.max(1, ...some.map((r) => Math.min(r.most!, 4 * (thinnest?.least ?? r.most!))));
  const length = (v: number | null): string => (v === null ? '–' : formatLength(v, project.units, 2));
  const now = row === null ? thinnest : rows[row];
  const along = answer.axis === 'z' ? 'height' : 'place';
  return (
    <>
      <Chart
        title={`Wall by ${along}`}
        x={{ label: 'wall, mm', from: 0, to: widest * 1.1 }}
        y={{ label: `${along}, mm`, from, to }}
        series={[
          { label: 'least', points: some.map((r) => [r.least!, r.offset] as const), stroke: 'stroke-teal', width: 2 },
          { label: 'mean', points: some.map((r) => [Math.min(r.mean!, widest), r.offset] as const), stroke: 'stroke-ink2', width: 1 },
          { label: 'most', points: some.map((r) => [Math.min(r.most!, widest), r.offset] as const), stroke: 'stroke-line2', width: 1.5 },
        ]}
        limits={limit === null ? [] : [{ value: limit, words: `brief ≥ ${Number(limit.toFixed(2))}` }]}
        point={now?.offset ?? null}
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
        <span className="w-20 text-right font-mono">{length(now?.offset ?? null)}</span>
      </label>
      <label className="flex items-center gap-2 py-1 text-[12px]">
        <input type="checkbox" className="accent-teal" checked={stack} onChange={(e) => showStack(e.target.checked)} />
        many sections at once, as contours
      </label>
      {now && (
        <div data-testid="section-row">
          <Figure label="Area of material" value={area(now.area)} />
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
          <SaveSection project={project} body={answer.body} axis={answer.axis} offset={now.offset} />
        </div>
      )}
      {thinnest && (
        <Places
          title="Thinnest of all sections"
          list={[{ words: `at ${length(thinnest.offset)}`, value: length(thinnest.least), at: thinnest.spot?.at ?? [0, 0, 0] }]}
        />
      )}
      <Chart
        title={`Area by ${along}`}
        x={{ label: 'area, cm²', from: 0, to: Math.max(...rows.map((r) => r.area)) / 100 || 1 }}
        y={{ label: `${along}, mm`, from, to }}
        series={[{ label: 'area', points: rows.map((r) => [r.area / 100, r.offset] as const), stroke: 'stroke-teal' }]}
        height={150}
        onPoint={point}
        point={now?.offset ?? null}
      />
    </>
  );
}

function Curvature({ answer, project, face }: { answer: Of<'curvature'>; project: Project; face: (i: number) => string }) {
  const length = (v: number): string => formatLength(v, project.units, 2);
  return (
    <>
      {answer.concave[0] ? (
        <Figure label="Tightest inside radius" value={length(answer.concave[0].radius)} />
      ) : (
        <Figure label="Inside radii" value="none" />
      )}
      {answer.convex[0] && <Figure label="Tightest outside radius" value={length(answer.convex[0].radius)} />}
      <Places
        title="Inside radii, tightest first"
        list={answer.concave.slice(0, 8).map((t) => ({ words: face(t.face), value: length(t.radius), at: t.at }))}
      />
      <Places
        title="Outside radii, tightest first"
        list={answer.convex.slice(0, 8).map((t) => ({ words: face(t.face), value: length(t.radius), at: t.at }))}
      />
      <p className="text-[12px] text-ink2">
        Off the exact surfaces. Convex counts as positive. A cutter, or a bead, must be no larger than the tightest inside radius.
      </p>
    </>
  );
}

type Filter = 'all' | 'nearly' | 'smooth' | 'sharp';

function Joins({ answer, project }: { answer: Of<'joins'>; project: Project }) {
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
                  stroke: 'stroke-teal',
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

function Draft({ answer, face }: { answer: Of<'draft'>; face: (i: number) => string }) {
  const limit = fixed(degrees(answer.limit), 2);
  const clear = answer.undercutArea < 0.5;
  return (
    <>
      <Figure
        label={`Less draft than ${limit}°`}
        value={answer.below > 0.5 ? `▲ ${area(answer.below)}` : '● nowhere'}
        tone={answer.below > 0.5 ? 'text-amber' : ''}
      />
      <Figure label="Undercut" value={clear ? '● none' : `■ ${area(answer.undercutArea)}`} tone={clear ? '' : 'text-madder'} />
      {!clear && <Figure label="Side actions or cores" value={answer.sideActions} />}
      <section className="my-2">
        <h3 className="heading mb-1">Faces below the limit</h3>
        {answer.faces.length === 0 && <p className="text-ink2">None.</p>}
        {answer.faces.slice(0, 12).map((f) => (
          <Figure key={f.face} label={face(f.face)} value={`${fixed(degrees(f.least), 2)}°, ${area(f.area)}`} />
        ))}
      </section>
      <p className="text-[12px] text-ink2">
        Undercuts are what can’t be seen along the pull; they are grey. The red line is where a mould would part. Texture wants more draft.
      </p>
    </>
  );
}

function Overhang({ answer, project }: { answer: Of<'overhang'>; project: Project }) {
  const length = (v: number): string => formatLength(v, project.units, 1);
  return (
    <>
      <Figure
        label={`Leans more than ${fixed(degrees(answer.limit), 0)}°`}
        value={answer.area > 0.5 ? `▲ ${area(answer.area)}` : '● nowhere'}
        tone={answer.area > 0.5 ? 'text-amber' : ''}
      />
      <Figure label="Flat on the bed" value={area(answer.contact)} />
      <Figure
        label="Begin in the air"
        value={answer.islands.length === 0 ? '● none' : `■ ${answer.islands.length}`}
        tone={answer.islands.length > 0 ? 'text-madder' : ''}
      />
      <Places
        title="Bridges, widest first"
        tone="warn"
        list={answer.bridges.slice(0, 8).map((b) => ({ words: `ceiling of ${area(b.area)}, free span`, value: length(b.span), at: b.at }))}
      />
      <Places
        title="Pieces that begin in the air"
        tone="fail"
        list={answer.islands.map((i) => ({ words: 'at height', value: length(i.height), at: i.at }))}
      />
      <p className="text-[12px] text-ink2">
        Built upwards as it stands. About 45° prints without support as a rule; bridges are kept short.
      </p>
    </>
  );
}

function Holds({ answer, project }: { answer: Of<'holds'>; project: Project }) {
  const { vessel } = answer;
  const angle = (rad: number): string => `${fixed(degrees(rad), 1)}°`;
  const wanted = useInspect((s) => (s.ask.what === 'holds' ? s.ask.wanted : null));
  return (
    <>
      {vessel ? (
        <>
          <Figure label="To the brim" value={formatVolume(vessel.toBrim)} />
          <Figure label="Depth" value={formatLength(vessel.brim - vessel.floor, project.units, 2)} />
          {wanted !== null && (
            <Figure
              label={`For ${fixed(wanted / 1e6, 3)} L`}
              value={vessel.height === null ? '■ more than it holds' : `${formatLength(vessel.height, project.units, 2)} high`}
              tone={vessel.height === null ? 'text-madder' : ''}
            />
          )}
          {wanted !== null && vessel.height !== null && (
            <Figure label="Headspace" value={formatLength(vessel.brim - vessel.floor - vessel.height, project.units, 2)} />
          )}
          <Chart
            title="Capacity by fill height"
            x={{ label: 'capacity, L', from: 0, to: vessel.toBrim / 1e6 }}
            y={{ label: 'height, mm', from: 0, to: vessel.brim - vessel.floor }}
            series={[
              {
                label: 'capacity',
                points: [[0, 0], ...vessel.rows.map((r) => [r.volume / 1e6, r.height] as const)],
                stroke: 'stroke-teal',
              },
            ]}
            point={wanted === null ? null : vessel.height}
          />
        </>
      ) : (
        <p className="mb-2 text-ink2">It holds nothing: no cavity that opens upwards.</p>
      )}
      <Figure label="Foot" value={area(answer.foot)} />
      <Figure
        label="Tips at, empty"
        value={answer.empty.tipping < 0 ? '■ falls by itself' : angle(answer.empty.tipping)}
        tone={answer.empty.tipping < 0 ? 'text-madder' : ''}
      />
      {answer.full && vessel && <Figure label="Tips at, full of water" value={angle(answer.full.tipping)} />}
      <Figure label="Centre of mass" value={answer.empty.centre.map((c) => fixed(c, 1)).join(', ')} />
      <p className="text-[12px] text-ink2">
        Standing on what touches its lowest level; tipping over the nearest edge of that foot, without sliding.
      </p>
    </>
  );
}
