import { useMemo } from 'react';
import { type GaugeReading, readingWords } from '../../core/brief/gauges';
import { type Effect, movingOn } from '../../core/reach/effects';
import { changeable, MORE, type Mover, moverOf } from '../../core/reach/mover';
import type { Spot, Sweep, SweepEnd } from '../../core/reach/sweep';
import { effectsTable, sweepTable } from '../../core/reach/tables';
import { setDimension } from '../../core/recipe/edit';
import { slug } from '../../core/recipe/file';
import type { Project } from '../../core/recipe/schema';
import { scaleIn, wordsIn } from '../../core/units/units';
import { ALL, closeMoving, lookAt, standsFor, stopLooking, useMoving } from '../state/moving';
import { change } from '../state/project';
import { download } from '../ui/download';

/** A range that nothing ends is drawn to so many times the value. */
const DRAWN = 3;
/** Dimensions that a gauge names as moving it, the strongest first. */
const NAMED = 4;

/** Values found by halving are told to a hundredth of themselves, and so are their ends. */
const near = (mover: Mover, value: number): string => mover.text(Number(value.toPrecision(4)));

/** The dimension that is looked at over all it goes to; null while none is. */
export function useMover(project: Project): Mover | null {
  const of = useMoving((s) => s.of);
  return useMemo(() => (of === null || of === ALL ? null : moverOf(project, of)), [project, of]);
}

/** What moves what: the range of one dimension with what ends it, or all of them where the sheet stands. */
export function Moves({
  project,
  body,
  gauges,
  mover,
}: {
  project: Project;
  body: string;
  gauges: readonly GaugeReading[];
  mover: Mover | null;
}) {
  const moving = useMoving();
  const names = changeable(project);
  if (names.length === 0) return null;
  const stands = standsFor(moving, project);
  return (
    <div className="border-b border-line px-3 py-1.5" data-testid="moves">
      <label className="flex items-baseline gap-1.5">
        <span className="text-ink2">moved by</span>
        <select
          aria-label="Moved by"
          className="chip min-w-0 flex-1"
          value={moving.of ?? ''}
          onChange={(e) => (e.target.value === '' ? closeMoving() : void lookAt(e.target.value, project, body))}
        >
          <option value="">–</option>
          <option value={ALL}>every dimension, as it stands</option>
          {names.map((n) => (
            <option key={n}>{n}</option>
          ))}
        </select>
      </label>
      {moving.of !== null && (
        <div className="mt-1 text-[12px]">
          {moving.searching && (
            <p className="text-ink2" role="status">
              {moving.trials} tried{' '}
              <button type="button" className="link" onClick={stopLooking}>
                stop
              </button>
            </p>
          )}
          {moving.trouble && <p className="text-amber">▲ {moving.trouble}</p>}
          {!moving.searching && !stands && (
            <p className="text-amber">
              ▲ The sheet has changed since.{' '}
              <button type="button" className="link" onClick={() => void lookAt(moving.of!, project, body)}>
                look again
              </button>
            </p>
          )}
          {mover && moving.sweep && <Range mover={mover} sweep={moving.sweep} gauges={gauges} project={project} />}
          {mover && moving.spots.length > 1 && <Along mover={mover} spots={moving.spots} live={stands} />}
          {moving.of === ALL && <Unmoved effects={moving.effects} project={project} />}
          {!moving.searching && (moving.sweep || moving.effects.length > 0) && (
            <button
              type="button"
              className="link"
              onClick={() =>
                download(
                  `${slug(project.name)}-${mover ? `${slug(mover.name)}-moves` : 'what-moves-what'}.csv`,
                  mover ? sweepTable(mover, moving.spots) : effectsTable(moving.effects),
                  'text/csv',
                )
              }
            >
              save as a table
            </button>
          )}
        </div>
      )}
    </div>
  );
}

/** From where to where the sheet can be made, and the brief is met, and what is in the way beyond. */
function Range({ mover, sweep, gauges, project }: { mover: Mover; sweep: Sweep; gauges: readonly GaugeReading[]; project: Project }) {
  const { range, brief, aside } = sweep;
  if (!range) return sweep.stopped ? null : <p className="text-madder">■ At no value that was tried can the sheet be made.</p>;
  const asked = gauges.some((g) => g.target !== '–');
  const labelled = (id: string | null): string | undefined => gauges.find((g) => g.id === id)?.label;
  const ends: readonly (readonly [string, SweepEnd])[] = [
    ['below', range.low],
    ['beyond', range.high],
  ];
  const everywhere = brief !== null && aside.length === 0 && brief.low.gauge === null && brief.high.gauge === null;
  const off = brief && [brief.low, brief.high].map((end) => labelled(end.gauge));
  return (
    <div data-testid="range">
      <p>
        It can be made from <b className="font-mono font-medium">{near(mover, range.low.at)}</b>
        {untried(range.low)} to <b className="font-mono font-medium">{near(mover, range.high.at)}</b>
        {untried(range.high)}.
      </p>
      {ends.map(
        ([word, end]) =>
          end.why !== null && (
            <p key={word} className="text-ink2">
              {word}: {wordsIn(end.why, project.units)}
            </p>
          ),
      )}
      {asked &&
        (everywhere ? (
          <p>In the brief all over that.</p>
        ) : brief ? (
          <p>
            In the brief{aside.length > 0 && `, but for ${aside.map(labelled).join(', ')}, off all over,`} from{' '}
            <b className="font-mono font-medium">{near(mover, brief.low.at)}</b> to{' '}
            <b className="font-mono font-medium">{near(mover, brief.high.at)}</b>
            {off?.some((o) => o !== undefined) &&
              `; off are ${[off[0] && `${off[0]} below`, off[1] && `${off[1]} beyond`].filter(Boolean).join(' and ')}`}
            .
          </p>
        ) : (
          <p className="text-madder">
            ■ Nowhere in that range is the brief met{aside.length > 0 && `; off all over: ${aside.map(labelled).join(', ')}`}.
          </p>
        ))}
    </div>
  );
}

/** An end that nothing stands at is only as far as it was looked. */
const untried = (end: SweepEnd): string => (end.why === null ? ' (not tried farther)' : '');

/** Goes along what was tried: every gauge is read there; nothing is changed until it is taken. */
function Along({ mover, spots, live }: { mover: Mover; spots: readonly Spot[]; live: boolean }) {
  const at = useMoving((s) => s.at);
  const here = nearest(spots, at ?? mover.from);
  const spot = spots[here]!;
  const text = near(mover, spot.at);
  return (
    <div className="flex items-center gap-2 py-0.5">
      <input
        type="range"
        className="min-w-0 flex-1 accent-teal"
        aria-label={`${mover.name} that was tried`}
        aria-valuetext={text}
        min={0}
        max={spots.length - 1}
        value={here}
        onChange={(e) => useMoving.setState({ at: spots[Number(e.target.value)]!.at })}
      />
      <button
        type="button"
        className="btn whitespace-nowrap font-mono"
        disabled={!live || Math.abs(spot.at - mover.from) <= 1e-9 * Math.abs(mover.from)}
        title={`${mover.name} becomes ${mover.text(spot.at, MORE)}, which was tried`}
        onClick={() => change((p) => setDimension(p, mover.name, mover.text(spot.at, MORE)))}
      >
        take {text}
      </button>
    </div>
  );
}

const nearest = (spots: readonly Spot[], value: number): number =>
  spots.reduce((best, s, i) => (Math.abs(s.at - value) < Math.abs(spots[best]!.at - value) ? i : best), 0);

/** Dimensions that nothing follows, and those that can't be told. */
function Unmoved({ effects, project }: { effects: readonly Effect[]; project: Project }) {
  const still = effects.filter((e) => e.moves.size === 0 && e.why === undefined);
  return (
    <>
      {still.length > 0 && <p className="text-ink2">Nothing follows {still.map((e) => e.dimension).join(', ')}.</p>}
      {effects.map(
        (e) =>
          e.why !== undefined && (
            <p key={e.dimension} className="text-madder">
              ■ {e.dimension}: {wordsIn(e.why, project.units)}
            </p>
          ),
      )}
    </>
  );
}

/** Under a gauge: its curve over the range, or what moves it how strongly. */
export function GaugeMoved({ gauge, project, body, mover }: { gauge: GaugeReading; project: Project; body: string; mover: Mover | null }) {
  const moving = useMoving();
  if (moving.of === null) return null;
  const pale = standsFor(moving, project) ? '' : 'opacity-50';
  if (moving.of === ALL)
    return (
      <div className={pale}>
        <Movers gauge={gauge} project={project} body={body} effects={moving.effects} />
      </div>
    );
  return mover && moving.spots.length > 1 ? (
    <div className={pale}>
      <Curve gauge={gauge} mover={mover} spots={moving.spots} at={moving.at} project={project} />
    </div>
  ) : null;
}

/** A change of a reading, with its sign, to three figures. */
function changeOf(value: number, gauge: GaugeReading, project: Project): string {
  const { factor, unit } = scaleIn(gauge.unit, project.units);
  const shown = Number((value * factor).toPrecision(3));
  return `${shown < 0 ? '−' : '+'}${Math.abs(shown)} ${unit}`;
}

function Movers({ gauge, project, body, effects }: { gauge: GaugeReading; project: Project; body: string; effects: readonly Effect[] }) {
  const rows = movingOn(effects, gauge.id);
  if (rows.length === 0) return null;
  return (
    <ul className="mt-0.5 text-[12px]" data-testid={`movers-${gauge.id}`}>
      {rows.slice(0, NAMED).map(({ effect: r, change: by }) => (
        <li key={r.dimension} className="flex justify-between gap-2">
          <button
            type="button"
            className="min-w-0 truncate text-left text-ink2 hover:text-teal"
            title={`over all ${r.dimension} goes to`}
            onClick={() => void lookAt(r.dimension, project, body)}
          >
            {r.dimension} +{r.by}
          </button>
          <span className="whitespace-nowrap font-mono">{changeOf(by, gauge, project)}</span>
        </li>
      ))}
    </ul>
  );
}

/** Height of a curve, px. */
const HIGH = 34;

function Curve({
  gauge,
  mover,
  spots,
  at,
  project,
}: {
  gauge: GaugeReading;
  mover: Mover;
  spots: readonly Spot[];
  at: number | null;
  project: Project;
}) {
  const from = mover.from;
  const drawn = spots.filter((s) => Math.abs(s.at - from) <= DRAWN * Math.abs(from || mover.step * 10) || spots.length < 4);
  const points = drawn.flatMap((s) => {
    const value = s.read?.get(gauge.id)?.value;
    return value === null || value === undefined ? [] : [[s.at, value] as const];
  });
  if (points.length < 2) return null;
  const values = points.map((p) => p[1]);
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const [left, right] = [drawn[0]!.at, drawn.at(-1)!.at];
  const here = spots[nearest(spots, at ?? from)]!;
  const read = here.read?.get(gauge.id);
  const told = readingWords(read?.value ?? null, gauge, project.units);
  const words = `${gauge.label} at ${near(mover, here.at)}: ${told}`;
  if (most - least <= 1e-6 * Math.max(Math.abs(most), Math.abs(least))) return <p className="text-[12px] text-ink3">stays</p>;
  const x = (v: number): number => (100 * (v - left)) / (right - left || 1);
  const room = (most - least) * 0.08;
  const y = (v: number): number => HIGH - (HIGH * (v - least + room)) / (most - least + 2 * room);
  const clipped = (v: number): number => Math.min(HIGH, Math.max(0, y(v)));
  const [top, foot] = [gauge.max === null ? 0 : clipped(gauge.max), gauge.min === null ? HIGH : clipped(gauge.min)];
  const limited = gauge.min !== null || gauge.max !== null;
  return (
    <div className="mt-1" data-testid={`curve-${gauge.id}`}>
      <div className="relative" style={{ height: HIGH }}>
        <svg
          className="absolute inset-0 size-full border-b border-line2"
          viewBox={`0 0 100 ${HIGH}`}
          preserveAspectRatio="none"
          role="img"
          aria-label={words}
        >
          {limited && foot > top && <rect x={0} width={100} y={top} height={foot - top} className="fill-tealwash" />}
          <line
            x1={x(from)}
            x2={x(from)}
            y1={0}
            y2={HIGH}
            className="stroke-line2"
            strokeDasharray="2 2"
            vectorEffect="non-scaling-stroke"
          />
          <polyline
            points={points.map(([a, v]) => `${x(a)},${y(v)}`).join(' ')}
            className="fill-none stroke-ink2"
            strokeWidth={1.25}
            vectorEffect="non-scaling-stroke"
          />
        </svg>
        {read?.value !== null && read?.value !== undefined && here.at >= left && here.at <= right && (
          <span
            aria-hidden
            className={`absolute size-[7px] -translate-x-1/2 -translate-y-1/2 rounded-full ${read.off ? 'bg-madder' : 'bg-teal'}`}
            style={{ left: `${x(here.at)}%`, top: y(read.value) }}
          />
        )}
      </div>
      <div className="flex justify-between font-mono text-[11px] text-ink2">
        <span>{near(mover, left)}</span>
        <span className={read?.off ? 'text-madder' : 'text-ink'}>{told}</span>
        <span>{near(mover, right)}</span>
      </div>
    </div>
  );
}
