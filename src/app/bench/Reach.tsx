import { useEffect, useId, useRef, useState } from 'react';
import { type GaugeReading, showReading } from '../../core/brief/gauges';
import { changeable } from '../../core/reach/mover';
import { setDimension } from '../../core/recipe/edit';
import type { Project } from '../../core/recipe/schema';
import { shownIn, wordsIn } from '../../core/units/units';
import type { ReachReport } from '../../engine/reach';
import { engine, useBench } from '../state/bench';
import { useMoving } from '../state/moving';
import { change } from '../state/project';
import { VerdictMark } from '../ui/verdict';

type Search =
  | { readonly state: 'searching'; readonly done: number; readonly of: number }
  | { readonly state: 'over'; readonly report: ReachReport }
  | { readonly state: 'none'; readonly why: string };

/** Brings a gauge to what is wanted by changing one dimension; nothing is changed until it is taken. */
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
  const looked = useMoving((s) => s.of);
  const [dimension, setDimensionName] = useState(looked !== null && names.includes(looked) ? looked : (names[0] ?? ''));
  const unit = shownIn(1, gauge.unit, 9, project.units);
  const factor = Number(unit.text);
  const begins =
    gauge.verdict === 'fail' || gauge.verdict === 'warn'
      ? gauge.value! < (gauge.min ?? Number.NEGATIVE_INFINITY)
        ? gauge.min!
        : (gauge.max ?? gauge.value!)
      : gauge.value!;
  const [wanted, setWanted] = useState(() => String(Number((begins * factor).toFixed(gauge.digits + 1))));
  const [search, setSearch] = useState<Search | null>(null);
  const field = useRef<HTMLInputElement>(null);
  const id = useId();
  const stale = useBench((s) => s.stale);
  useEffect(() => {
    field.current?.select();
    return () => engine.stopReach();
  }, []);
  const target = Number(wanted) / factor;
  const sound = wanted.trim() !== '' && Number.isFinite(target) && target > 0 && names.includes(dimension);
  const look = async (): Promise<void> => {
    setSearch({ state: 'searching', done: 0, of: 40 });
    const asked = await engine.reach(project, { gauge: gauge.id, target, dimension, body }, (done, of) =>
      setSearch({ state: 'searching', done: done + 1, of }),
    );
    if (!asked.ok) setSearch({ state: 'none', why: asked.error });
    else if (asked.value) setSearch({ state: 'over', report: asked.value });
    else setSearch({ state: 'none', why: 'there is nothing to be read as it stands' });
  };
  const report = search?.state === 'over' ? search.report : null;
  const show = (value: number, more = 0): string => {
    const r = showReading(value, gauge.unit, gauge.digits + more, project.units);
    return `${r.text} ${r.unit}`;
  };
  return (
    <form
      className="my-1.5 border border-teal bg-card px-2 py-1.5"
      aria-label={`Bring ${gauge.label} to a value`}
      data-testid={`reach-${gauge.id}`}
      onSubmit={(e) => {
        e.preventDefault();
        if (sound && !stale && search?.state !== 'searching') void look();
      }}
      onKeyDown={(e) => {
        if (e.key !== 'Escape') return;
        e.stopPropagation();
        close();
      }}
    >
      <label htmlFor={id}>
        to{' '}
        <input
          id={id}
          ref={field}
          aria-label={`${gauge.label} wanted`}
          className="w-[9ch] border-b border-dashed border-line2 bg-transparent px-0.5 font-mono focus:border-teal"
          value={wanted}
          inputMode="decimal"
          aria-invalid={!sound}
          onChange={(e) => setWanted(e.target.value)}
        />{' '}
        {unit.unit}
      </label>{' '}
      <label>
        by{' '}
        <select aria-label="Dimension to change" className="chip" value={dimension} onChange={(e) => setDimensionName(e.target.value)}>
          {names.map((n) => (
            <option key={n}>{n}</option>
          ))}
        </select>
      </label>
      <div className="mt-1 flex gap-1.5">
        {/* It stays in place while it looks: whoever pressed it is still there to end it. */}
        <button type="submit" className="btn-strong" aria-disabled={!sound || stale || search?.state === 'searching'}>
          Look for it
        </button>
        <button type="button" className="btn ml-auto" onClick={close}>
          Close
        </button>
      </div>
      {search?.state === 'searching' && (
        <p className="mt-1 text-ink2" role="status">
          trial {search.done} of at most {search.of}{' '}
          <button type="button" className="link" onClick={() => engine.stopReach()}>
            stop
          </button>
        </p>
      )}
      {search?.state === 'none' && <p className="mt-1 text-madder">It was not found: {search.why}.</p>}
      {report?.found && report.trials === 0 && <p className="mt-1.5">It is that already.</p>}
      {report?.found && report.trials > 0 && (
        <div className="mt-1.5 border-t border-line pt-1.5" data-testid="reached">
          <p>
            {report.request.dimension} <b className="font-mono font-medium">{report.found.text}</b>, now{' '}
            {project.dimensions.find((d) => d.name === report.request.dimension)?.expr}; then:
          </p>
          <Changes before={gauges} after={report.found.gauges} project={project} />
          <button
            type="button"
            className="btn-strong mt-1"
            onClick={() => {
              const { text } = report.found!;
              change((p) => setDimension(p, report.request.dimension, text));
              close();
            }}
          >
            Take it
          </button>
        </div>
      )}
      {report && !report.found && (
        <div className="mt-1.5 border-t border-line pt-1.5" data-testid="not-reached">
          <p>
            {report.stopped ? 'Stopped before it was found. ' : `${report.request.dimension} does not bring it there. `}
            From {report.low.text} to {report.high.text} it goes from {show(report.low.value, 1)} to {show(report.high.value, 1)}.
          </p>
          {[report.low, report.high].map(
            (end, i) =>
              end.why && (
                <p key={i === 0 ? 'low' : 'high'} className="text-ink2">
                  {i === 0 ? 'Below' : 'Beyond'} {end.text}: {wordsIn(end.why, project.units)}.
                </p>
              ),
          )}
        </div>
      )}
    </form>
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
