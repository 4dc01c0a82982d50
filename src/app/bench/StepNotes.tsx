import { replacePick } from '../../core/recipe/edit';
import type { Project, Step } from '../../core/recipe/schema';
import { edgeWords, faceWords } from '../../core/recipe/words';
import { formatLength, formatVolume } from '../../core/units/units';
import type { LostPick, StepReport } from '../../engine/types';
import { showMark, useBench } from '../state/bench';
import { cancelBuild } from '../state/building';
import { change } from '../state/project';
import { Fixes } from './Fixes';
import { WallByHeight } from './WallByHeight';

/** mm³ */
const ROUNDING = 1e-3;

/** What may be meant by a pick that is lost; the stage shows the same numbers on the body. */
function Candidates({ project, step, lost }: { project: Project; step: Step; lost: LostPick }) {
  return (
    <div>
      <p>It may be one of these, numbered on the stage:</p>
      <ol>
        {lost.candidates.map((name, i) => (
          <li key={name} className="ml-2">
            {i + 1}. {lost.what === 'face' ? faceWords(name, project) : edgeWords(name, project)}{' '}
            <button
              type="button"
              className="link text-madder!"
              aria-label={`Take ${i + 1}`}
              onClick={() => change((p) => replacePick(p, step.id, lost.name, name))}
            >
              take this one
            </button>
          </li>
        ))}
      </ol>
    </div>
  );
}

/** What a step did, or why it could not, under its sentence. */
export function StepNotes({
  project,
  step,
  report,
  running,
  open,
}: {
  project: Project;
  step: Step;
  report: StepReport | undefined;
  running: boolean;
  /** The step is worked on: figures that nothing hangs on are told too. */
  open: boolean;
}) {
  const forecast = useBench((s) => s.forecasts[step.id]);
  if (running)
    return (
      <p className="text-teal">
        working…{' '}
        <button type="button" className="link" onClick={() => void cancelBuild()}>
          cancel
        </button>
      </p>
    );
  if (!report) return <p className="text-ink3">waits to be built</p>;
  const at = report.at;
  if (report.unfinished) return <p className="text-teal">next: {report.tryInstead.join('; or ')}</p>;
  if (report.state === 'failed')
    return (
      <div role="alert" className="mt-0.5 text-madder">
        <p>
          ■ {report.message}: {report.why}.{' '}
          {at && (
            <button type="button" className="link text-madder!" onClick={() => showMark(at, report.message ?? '', 'fail')}>
              show where
            </button>
          )}
        </p>
        {report.lost && report.lost.candidates.length > 0 ? (
          <Candidates project={project} step={step} lost={report.lost} />
        ) : (
          report.tryInstead.length > 0 && <p>Try: {report.tryInstead.join('; or ')}.</p>
        )}
        <Fixes project={project} fixes={report.fixes} />
      </div>
    );
  const parts: string[] = [];
  if (report.state === 'skipped') parts.push(report.message ?? 'waits');
  // What is moved keeps its volume but for rounding.
  if (report.volumeChange !== null && Math.abs(report.volumeChange) > ROUNDING)
    parts.push(`${report.volumeChange >= 0 ? '+' : '−'} ${formatVolume(Math.abs(report.volumeChange), project.units)}`);
  if (report.faces !== null) parts.push(`${report.faces} face${report.faces === 1 ? '' : 's'}`);
  parts.push(report.cached ? 'unchanged' : `${Math.round(report.ms + report.checkMs)} ms`);
  return (
    <div className="text-[12px] text-ink2">
      {report.note && <p className="text-ink">{report.note}</p>}
      {report.chart && <WallByHeight chart={report.chart} project={project} />}
      {(open || report.state === 'skipped') && <p>{(report.state === 'skipped' ? parts.slice(0, 1) : parts).join(' · ')}</p>}
      {report.warnings.map((w) => (
        <p key={w.message} className="text-amber">
          ▲ {w.message}
        </p>
      ))}
      <Fixes project={project} fixes={report.fixes} />
      {forecast && forecast.swallowed.length > 0 && (
        <div className="text-amber">
          ▲ {forecast.side === 'outward' ? 'the outside' : 'the inside'} will not follow
          {forecast.side === 'centred' && ', nor will the outside'}:
          <ul>
            {forecast.swallowed.slice(0, 4).map((s) => (
              <li key={s.words} className="ml-3">
                {s.words}{' '}
                <button type="button" className="link text-amber!" onClick={() => showMark(s.at, s.words, 'warn')}>
                  show where
                </button>
              </li>
            ))}
          </ul>
          {forecast.keepsAllUpTo !== null && <p>A wall under {formatLength(forecast.keepsAllUpTo, project.units)} keeps every detail.</p>}
        </div>
      )}
      {open && forecast && forecast.swallowed.length === 0 && forecast.limit && forecast.keepsAllUpTo !== null && (
        <p>
          keeps every detail up to {formatLength(forecast.keepsAllUpTo, project.units)}, then limited by {forecast.limit.words}{' '}
          <button type="button" className="link" onClick={() => showMark(forecast.limit!.at, forecast.limit!.words)}>
            show where
          </button>
        </p>
      )}
    </div>
  );
}
