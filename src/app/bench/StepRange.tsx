import { patchStep } from '../../core/recipe/edit';
import type { Project, Step } from '../../core/recipe/schema';
import { formatLength, wordsIn } from '../../core/units/units';
import type { RangeReport } from '../../engine/range';
import { setBench, showMark, useBench } from '../state/bench';
import { change } from '../state/project';
import { stopSearch } from '../state/ranging';

/** The range of a step's value that works, what limits it, and the largest taken by one click. */
export function StepRange({ project, step }: { project: Project; step: Step }) {
  const ranging = useBench((s) => s.ranges[step.id]);
  if (!ranging || ranging.state === 'none') return null;
  if (ranging.state === 'searching')
    return (
      <p className="text-[12px] text-ink2" data-testid="range">
        finding out what works: trial {ranging.done + 1} of at most {ranging.of}{' '}
        <button type="button" className="link" onClick={() => stopSearch(step.id)}>
          stop
        </button>
      </p>
    );
  if (ranging.state === 'stopped')
    return (
      <p className="text-[12px] text-ink2" data-testid="range">
        what works was not found out{' '}
        <button
          type="button"
          className="link"
          onClick={() => {
            setBench((s) => ({ ranges: Object.fromEntries(Object.entries(s.ranges).filter(([id]) => id !== step.id)), step: null }));
            setBench({ step: step.id });
          }}
        >
          find out
        </button>
      </p>
    );
  return ranging.report && <Found report={ranging.report} project={project} />;
}

function Found({ report, project }: { report: RangeReport; project: Project }) {
  const length = (v: number): string => formatLength(v, project.units, 2);
  const words = (w: string): string => wordsIn(w, project.units);
  const { most, room } = report;
  const near = most !== null && room !== null && Math.abs(room.limit / most - 1) < 0.03;
  return (
    <div className="mt-0.5 border-l-2 border-teal pl-1.5 text-[12px] text-ink2" data-testid="range">
      {most === null ? (
        <p className="text-madder">nothing works here, not even {length(report.failsAt ?? 0)}</p>
      ) : (
        <p>
          works up to <b className="font-mono font-medium text-ink">{length(most)}</b>
          {near && <>, limited by {words(room.words)}</>}
          {!near && report.beyond && `; beyond that ${words(report.beyond)}`}
          {room && !near && !report.beyond && room.limit > most && (
            <>
              . The shape itself leaves room for about {length(room.limit)}, limited by {words(room.words)}, but no solid was found between
              the two
            </>
          )}
          {report.failsAt === null && ', and further was not tried'}
          {report.stopped && report.failsAt !== null && `, and not at ${length(report.failsAt)}: what lies between was not tried any more`}
          {room && (near || !report.beyond) && (
            <>
              {' '}
              <button type="button" className="link" onClick={() => showMark(room.at, `limited by ${words(room.words)}`)}>
                show where
              </button>
            </>
          )}
        </p>
      )}
      {report.gaps.length > 0 && <p className="text-amber">▲ but not at {report.gaps.map(length).join(', ')}</p>}
      {report.each.length > 1 && (
        <details>
          <summary className="cursor-pointer">each edge alone</summary>
          <ul>
            {report.each.map((e) => (
              <li key={e.edge} className="ml-2">
                {length(e.most)}: {words(e.words)}
              </li>
            ))}
          </ul>
        </details>
      )}
      {report.fixes.map((f) => (
        <button key={f.words} type="button" className="btn mr-1 mt-0.5 py-0!" onClick={() => change((p) => patchStep(p, f.step, f))}>
          {f.words}
        </button>
      ))}
    </div>
  );
}
