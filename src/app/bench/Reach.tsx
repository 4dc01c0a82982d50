import { useEffect, useId, useRef, useState } from 'react';
import { type GaugeReading, readingWords, showReading } from '../../core/brief/gauges';
import { evaluateDimensions } from '../../core/dimensions/dimensions';
import { evaluateAs } from '../../core/dimensions/expression';
import { movingOn } from '../../core/reach/effects';
import { changeable, type Mover, moverOf } from '../../core/reach/mover';
import { setDimension } from '../../core/recipe/edit';
import type { Project } from '../../core/recipe/schema';
import { scaleIn, wordsIn } from '../../core/units/units';
import type { Aim, PairReport, ReachReport } from '../../engine/reach';
import { engine, useBench } from '../state/bench';
import { useMoving } from '../state/moving';
import { change } from '../state/project';
import { VerdictMark } from '../ui/verdict';

type Search =
  | { readonly state: 'searching'; readonly done: number; readonly of: number }
  | { readonly state: 'over'; readonly report: ReachReport }
  | { readonly state: 'both'; readonly report: PairReport }
  | { readonly state: 'none'; readonly why: string };

/** What is wanted, as it is typed. */
interface Wish {
  readonly gauge: string;
  readonly wanted: string;
  readonly dimension: string;
  /** Empty as far as it goes; both null while nobody asked for limits. */
  readonly least: string | null;
  readonly most: string | null;
}

/** Gauges that a dimension can be asked to bring somewhere. */
export const reachable = (g: GaugeReading): boolean => g.value !== null && g.value > 0 && g.unit !== 'yes/no';

/** Where it is off: the nearer limit; else what it reads. */
function beginsAt(g: GaugeReading, project: Project): string {
  const off = g.verdict === 'fail' || g.verdict === 'warn';
  const begins = off ? (g.value! < (g.min ?? Number.NEGATIVE_INFINITY) ? g.min! : (g.max ?? g.value!)) : g.value!;
  return String(Number((begins * scaleIn(g.unit, project.units).factor).toFixed(g.digits + 1)));
}

/** A limit as it is typed: null where there is none; undefined where it is no value of that kind. */
function limitOf(project: Project, mover: Mover | null, text: string | null): number | null | undefined {
  if (text === null || text.trim() === '') return null;
  const r = mover && evaluateAs(text, mover.kind, evaluateDimensions(project.dimensions).scope);
  return r?.ok ? r.value : undefined;
}

/** A wish as it is asked; null where something that is typed is no value. */
function aimOf(wish: Wish, gauges: readonly GaugeReading[], project: Project): Aim | null {
  const gauge = gauges.find((g) => g.id === wish.gauge);
  const mover = moverOf(project, wish.dimension);
  const [least, most] = [limitOf(project, mover, wish.least), limitOf(project, mover, wish.most)];
  const target = gauge ? Number(wish.wanted) / scaleIn(gauge.unit, project.units).factor : Number.NaN;
  const sound = wish.wanted.trim() !== '' && Number.isFinite(target) && target > 0 && mover && least !== undefined && most !== undefined;
  return sound ? { gauge: wish.gauge, target, dimension: wish.dimension, least, most } : null;
}

/** Brings a gauge to what is wanted by changing one dimension, or two gauges by two; nothing is changed until it is taken. */
export function Reach({
  gauge,
  gauges,
  project,
  body,
  close,
}: {
  gauge: GaugeReading;
  gauges: readonly GaugeReading[];
  project: Project;
  body: string;
  close: () => void;
}) {
  const names = changeable(project);
  const [wishes, setWishes] = useState<readonly Wish[]>(() => {
    // It begins with what is looked at, else with what moves it most.
    const { of, effects } = useMoving.getState();
    const dimension = [of, movingOn(effects, gauge.id)[0]?.effect.dimension].find((n) => n != null && names.includes(n)) ?? names[0] ?? '';
    return [{ gauge: gauge.id, wanted: beginsAt(gauge, project), dimension, least: null, most: null }];
  });
  const [search, setSearch] = useState<Search | null>(null);
  const stale = useBench((s) => s.stale);
  useEffect(() => () => engine.stopReach(), []);
  const put = (i: number, more: Partial<Wish>): void => setWishes(wishes.map((w, k) => (k === i ? { ...w, ...more } : w)));
  const aims = wishes.map((w) => aimOf(w, gauges, project));
  const apart = new Set(wishes.map((w) => w.dimension)).size === wishes.length;
  const sound = aims.every((a) => a !== null) && apart;
  const searching = search?.state === 'searching';
  const look = async (all = false): Promise<void> => {
    setSearch({ state: 'searching', done: 0, of: all ? 90 : 40 });
    // Progress travels on a port of its own and may arrive after the answer: by then it is history.
    let answered = false;
    const onTrial = (done: number, of: number): void => {
      if (!answered) setSearch({ state: 'searching', done: done + 1, of });
    };
    const [a, b] = aims as Aim[];
    const asked = b
      ? await engine.reachPair(project, { aims: [a!, b], body }, onTrial)
      : await engine.reach(project, { ...a!, body, all }, onTrial);
    answered = true;
    if (!asked.ok) setSearch({ state: 'none', why: asked.error });
    else if (!asked.value) setSearch({ state: 'none', why: 'there is nothing to be read as it stands' });
    else if ('texts' in asked.value) setSearch({ state: 'both', report: asked.value });
    else setSearch({ state: 'over', report: asked.value });
  };
  const take = (values: readonly (readonly [string, string])[]): void => {
    change((p) => values.reduce((q, [name, text]) => setDimension(q, name, text), p));
    close();
  };
  const others = gauges.filter((g) => g.applies && reachable(g) && wishes.every((w) => w.gauge !== g.id));
  const free = names.filter((n) => wishes.every((w) => w.dimension !== n));
  return (
    <form
      className="my-1.5 border border-teal bg-card px-2 py-1.5"
      aria-label={`Bring ${gauge.label} to a value`}
      data-testid={`reach-${gauge.id}`}
      onSubmit={(e) => {
        e.preventDefault();
        if (sound && !stale && !searching) void look();
      }}
      onKeyDown={(e) => {
        if (e.key !== 'Escape') return;
        e.stopPropagation();
        close();
      }}
    >
      {wishes.map((wish, i) => (
        <WishRow
          // biome-ignore lint/suspicious/noArrayIndexKey: the first and the second
          key={i}
          wish={wish}
          first={i === 0}
          gauges={gauges}
          others={others}
          names={names}
          project={project}
          put={(more) => put(i, more)}
          drop={() => setWishes(wishes.slice(0, 1))}
        />
      ))}
      {!apart && <p className="text-[12px] text-amber">▲ Each is brought there by a dimension of its own.</p>}
      {wishes.length === 1 && others.length > 0 && free.length > 0 && (
        <button
          type="button"
          className="link text-[12px]"
          onClick={() => {
            const second = others.find((g) => g.target !== '–') ?? others[0]!;
            setWishes([...wishes, { gauge: second.id, wanted: beginsAt(second, project), dimension: free[0]!, least: null, most: null }]);
          }}
        >
          another gauge with it
        </button>
      )}
      <div className="mt-1 flex gap-1.5">
        {/* It stays in place while it looks: whoever pressed it is still there to end it. */}
        <button type="submit" className="btn-strong" aria-disabled={!sound || stale || searching}>
          Look for it
        </button>
        <button type="button" className="btn ml-auto" onClick={close}>
          Close
        </button>
      </div>
      {searching && (
        <p className="mt-1 text-ink2" role="status">
          trial {search.done} of at most {search.of}{' '}
          <button type="button" className="link" onClick={() => engine.stopReach()}>
            stop
          </button>
        </p>
      )}
      {search?.state === 'none' && <p className="mt-1 text-madder">It was not found: {search.why}.</p>}
      {search?.state === 'over' && <One report={search.report} {...{ gauge, gauges, project, take }} more={() => void look(true)} />}
      {search?.state === 'both' && <Both report={search.report} {...{ gauges, project, take }} />}
    </form>
  );
}

function WishRow({
  wish,
  first,
  gauges,
  others,
  names,
  project,
  put,
  drop,
}: {
  wish: Wish;
  first: boolean;
  gauges: readonly GaugeReading[];
  others: readonly GaugeReading[];
  names: readonly string[];
  project: Project;
  put: (more: Partial<Wish>) => void;
  drop: () => void;
}) {
  const field = useRef<HTMLInputElement>(null);
  const id = useId();
  useEffect(() => field.current?.select(), []);
  const gauge = gauges.find((g) => g.id === wish.gauge)!;
  const mover = moverOf(project, wish.dimension);
  const { unit } = scaleIn(gauge.unit, project.units);
  const wanted = Number(wish.wanted);
  const small = 'border-b border-dashed border-line2 bg-transparent px-0.5 font-mono focus:border-teal';
  const limit = (which: 'least' | 'most', label: string) => (
    <input
      aria-label={`${wish.dimension} ${label}`}
      placeholder="any"
      className={`w-[8ch] ${small}`}
      value={wish[which] ?? ''}
      aria-invalid={limitOf(project, mover, wish[which]) === undefined}
      onChange={(e) => put({ [which]: e.target.value })}
    />
  );
  return (
    <div className={first ? '' : 'mt-1 border-t border-line pt-1'}>
      {!first && (
        <>
          <select
            aria-label="Second gauge"
            className="chip max-w-full"
            value={wish.gauge}
            onChange={(e) => put({ gauge: e.target.value, wanted: beginsAt(gauges.find((g) => g.id === e.target.value)!, project) })}
          >
            {[gauge, ...others].map((g) => (
              <option key={g.id} value={g.id}>
                {g.label}
              </option>
            ))}
          </select>{' '}
          <button type="button" className="text-ink3 hover:text-madder" aria-label="Leave the second gauge out" onClick={drop}>
            ×
          </button>{' '}
        </>
      )}
      <label htmlFor={id}>
        to{' '}
        <input
          id={id}
          ref={field}
          aria-label={`${gauge.label} wanted`}
          className={`w-[9ch] ${small}`}
          value={wish.wanted}
          inputMode="decimal"
          aria-invalid={!(wanted > 0)}
          onChange={(e) => put({ wanted: e.target.value })}
        />{' '}
        {unit}
      </label>{' '}
      <label>
        by{' '}
        <select
          aria-label={first ? 'Dimension to change' : 'Second dimension to change'}
          className="chip"
          value={wish.dimension}
          onChange={(e) => put({ dimension: e.target.value, least: wish.least && '', most: wish.most && '' })}
        >
          {names.map((n) => (
            <option key={n}>{n}</option>
          ))}
        </select>
      </label>{' '}
      {wish.least === null && wish.most === null ? (
        <button type="button" className="link text-[12px]" onClick={() => put({ least: '', most: '' })}>
          within limits
        </button>
      ) : (
        <span className="whitespace-nowrap text-[12px]">
          from {limit('least', 'at least')} to {limit('most', 'at most')}
        </span>
      )}
    </div>
  );
}

const figure = (value: number, gauge: GaugeReading, project: Project, more = 0): string => readingWords(value, gauge, project.units, more);

/** What one dimension brought, or how far it goes. */
function One({
  report,
  gauge,
  gauges,
  project,
  take,
  more,
}: {
  report: ReachReport;
  gauge: GaugeReading;
  gauges: readonly GaugeReading[];
  project: Project;
  take: (values: readonly (readonly [string, string])[]) => void;
  more: () => void;
}) {
  const { found, others, low, high, request } = report;
  const now = project.dimensions.find((d) => d.name === request.dimension)?.expr;
  const still = found !== null && report.trials === 0;
  if (!found)
    return (
      <div className="mt-1.5 border-t border-line pt-1.5" data-testid="not-reached">
        <p>
          {report.stopped ? 'Stopped before it was found. ' : `${request.dimension} does not bring it there. `}
          From {low.text} to {high.text} it goes from {figure(low.value, gauge, project, 1)} to {figure(high.value, gauge, project, 1)}.
        </p>
        {[low, high].map(
          (end, i) =>
            end.why && (
              <p key={i === 0 ? 'low' : 'high'} className="text-ink2">
                {i === 0 ? 'Below' : 'Beyond'} {end.text}: {wordsIn(end.why, project.units)}.
              </p>
            ),
        )}
      </div>
    );
  return (
    <>
      {still && <p className="mt-1.5">It is that already.</p>}
      <div className="mt-1.5 border-t border-line pt-1.5" data-testid="reached">
        {!still && (
          <>
            <p>
              {request.dimension} <b className="font-mono font-medium">{found.text}</b>, now {now}; then:
            </p>
            <Changes before={gauges} after={found.gauges} project={project} />
            <button type="button" className="btn-strong mt-1" onClick={() => take([[request.dimension, found.text]])}>
              Take it
            </button>{' '}
          </>
        )}
        {!request.all && (
          <button type="button" className="link text-[12px]" onClick={more}>
            look for others
          </button>
        )}
        {request.all && others.length === 0 && (
          <p className="text-[12px] text-ink2">
            No other from {low.text} to {high.text}.
          </p>
        )}
        {others.map((o) => (
          <p key={o.text} className="text-[12px]" data-testid="another">
            also at <span className="font-mono">{o.text}</span>{' '}
            <button type="button" className="link" onClick={() => take([[request.dimension, o.text]])}>
              take {o.text}
            </button>
          </p>
        ))}
      </div>
    </>
  );
}

/** What two dimensions brought together, or how near. */
function Both({
  report,
  gauges,
  project,
  take,
}: {
  report: PairReport;
  gauges: readonly GaugeReading[];
  project: Project;
  take: (values: readonly (readonly [string, string])[]) => void;
}) {
  const set = report.request.aims.map((a, i) => [a.dimension, report.texts[i]!] as const);
  const read = report.request.aims.map((a, i) => {
    const g = gauges.find((k) => k.id === a.gauge)!;
    return `${g.label} ${figure(report.values[i]!, g, project, 1)}`;
  });
  const words = set.map(([name, text]) => (
    <span key={name}>
      {name} <b className="font-mono font-medium">{text}</b>,{' '}
    </span>
  ));
  return report.gauges ? (
    <div className="mt-1.5 border-t border-line pt-1.5" data-testid="reached">
      <p>{words}then:</p>
      <Changes before={gauges} after={report.gauges} project={project} />
      <button type="button" className="btn-strong mt-1" onClick={() => take(set)}>
        Take both
      </button>
    </div>
  ) : (
    <div className="mt-1.5 border-t border-line pt-1.5" data-testid="not-reached">
      <p>
        {report.stopped ? 'Stopped before it was found. ' : 'The two do not bring it there. '}
        Nearest: {words}
        {read.join(', ')}.
      </p>
      {report.why && <p className="text-ink2">Nearer: {wordsIn(report.why, project.units)}.</p>}
    </div>
  );
}

/** What else would be read: whatever shows another figure then. */
function Changes({ before, after, project }: { before: readonly GaugeReading[]; after: readonly GaugeReading[]; project: Project }) {
  const shown = (g: GaugeReading | undefined) => (g ? showReading(g.value, g.unit, g.digits, project.units) : null);
  const rows = after.filter((g) => g.applies && shown(g)!.text !== shown(before.find((b) => b.id === g.id))?.text);
  return (
    <ul className="mt-0.5 text-[12px] text-ink2">
      {rows.map((g) => (
        <li key={g.id} className="flex justify-between gap-2">
          <span>{g.label}</span>
          <span className="whitespace-nowrap font-mono">
            {shown(g)!.text} {shown(g)!.unit} {g.target !== '–' && <VerdictMark verdict={g.verdict} />}
          </span>
        </li>
      ))}
    </ul>
  );
}
