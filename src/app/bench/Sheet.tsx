import { useEffect, useRef } from 'react';
import { groupRuns } from '../../core/recipe/edit';
import type { Project, Step } from '../../core/recipe/schema';
import { punctuated, stepDefinitions } from '../../core/recipe/steps';
import { setBench, useBench } from '../state/bench';
import { change, changeStep } from '../state/project';
import { BodyRows } from './BodyRows';
import { Dimensions } from './Dimensions';
import { NextStep } from './NextStep';
import { Part } from './SentenceParts';
import { StepGroup } from './StepGroup';
import { StepMenu } from './StepMenu';
import { StepNotes } from './StepNotes';
import { StepRange } from './StepRange';

/** The sheet: dimensions, then the steps as sentences edited in place, with what each did under it. */
export function Sheet({ project }: { project: Project }) {
  const result = useBench((s) => s.result);
  const running = useBench((s) => s.running);
  const done = result?.steps.filter((s) => s.state === 'done' || s.state === 'warned').length ?? 0;
  return (
    <div className="flex h-full flex-col bg-panel">
      <div className="min-h-0 flex-1 overflow-y-auto">
        <Dimensions project={project} />
        <BodyRows project={project} />
        <section aria-label="Steps">
          <div className="flex items-center px-3 pb-1 pt-2">
            <h2 className="heading">Steps</h2>
            <span className="ml-auto text-ink2" data-testid="build-summary">
              {running
                ? 'building…'
                : result && project.steps.length > 0
                  ? `${done} done · ${result.computed} computed in ${(result.ms / 1000).toFixed(result.ms < 1000 ? 2 : 1)} s`
                  : ''}
            </span>
          </div>
          <ol>
            {groupRuns(project.steps).map((run) => {
              const rows = run.steps.map((step) => (
                <StepRow key={step.id} project={project} step={step} index={project.steps.indexOf(step)} />
              ));
              return run.group === null ? (
                rows
              ) : (
                <StepGroup key={run.steps[0]!.id} name={run.group} steps={run.steps}>
                  {rows}
                </StepGroup>
              );
            })}
          </ol>
          {project.steps.length === 0 && project.profiles.length > 0 && (
            <p className="px-4 py-6 text-ink2">
              No steps yet. Draw half a profile on the board, then raise a body from it with the next step below.
            </p>
          )}
        </section>
      </div>
      <NextStep project={project} />
    </div>
  );
}

const STATE_MARK: Record<string, string> = { done: '◆', warned: '▲', failed: '■', skipped: '◇', unfinished: '◇' };

function StepRow({ project, step, index }: { project: Project; step: Step; index: number }) {
  const report = useBench((s) => s.reports[step.id]);
  const running = useBench((s) => s.running?.step === step.id);
  const active = useBench((s) => s.step === step.id);
  const markerAt = project.marker === null ? project.steps.length - 1 : project.steps.findIndex((s) => s.id === project.marker);
  const waits = index > markerAt;
  const unfinished = report?.state === 'failed' && report.unfinished;
  const state = running ? 'running' : unfinished ? 'unfinished' : (report?.state ?? 'skipped');
  const tone = state === 'failed' ? 'text-madder' : state === 'warned' ? 'text-amber' : 'text-teal';
  // Worked on, or in want of something: with all that can be said of it.
  const open = active || state === 'failed' || state === 'unfinished';
  const edit = (next: Step): void => changeStep(step, next);
  const row = useRef<HTMLLIElement>(null);
  const born = useRef(active);
  useEffect(() => {
    // A step that was just added is seen, however long the sheet is.
    if (born.current) row.current?.scrollIntoView({ block: 'center' });
  }, []);
  // Why it failed and what would work stand at its end: they are brought into view, as far as the row's own beginning stays there.
  const refused = active && state === 'failed' ? report?.message : undefined;
  useEffect(() => {
    if (refused) row.current?.scrollIntoView({ block: 'nearest' });
  }, [refused]);
  return (
    <>
      <li
        ref={row}
        className={`group relative flex gap-2 border-l-[3px] py-1.5 pl-2 pr-2 ${active ? 'border-teal bg-card' : 'border-transparent'} ${waits || !step.enabled ? 'opacity-55' : ''}`}
        data-testid={`step-${step.id}`}
        data-state={state}
        onFocus={() => setBench({ step: step.id })}
        onClick={() => setBench({ step: step.id })}
        onKeyDown={() => {}}
      >
        <span className="w-4 pt-0.5 text-right font-mono text-[12px] text-ink3">{index + 1}</span>
        <span aria-hidden className={`pt-0.5 text-[11px] leading-[18px] ${tone}`}>
          {running ? '◈' : STATE_MARK[state]}
        </span>
        <div className="min-w-0 flex-1">
          <div className={`flex flex-wrap items-center gap-x-1 leading-[20px] ${open ? 'gap-y-1' : 'reading'}`}>
            {punctuated(stepDefinitions[step.kind]!.sentence(step), (part) => open || !part.usual).map(({ part, comma, at }) => (
              // The same element as long as the part is there: a field that is typed in stays while others come beside it.
              <span key={at} className={comma ? 'inline-flex max-w-full flex-wrap items-center gap-x-1' : 'contents'}>
                <Part part={part} project={project} step={step} onChange={edit} />
                {comma && <span className="-ml-1">,</span>}
              </span>
            ))}
          </div>
          {step.note && <p className="border-l-2 border-line2 pl-1.5 text-[12px] text-ink2">{step.note}</p>}
          <StepNotes project={project} step={step} report={report} running={running} open={open} />
          {(active || state === 'failed') && <StepRange project={project} step={step} />}
        </div>
        <StepMenu project={project} step={step} index={index} />
      </li>
      {index === markerAt && (
        <li className="flex items-center gap-2 px-3 py-0.5" aria-label="Work-from-here marker">
          <span className="h-px flex-1 border-t border-dashed border-teal" />
          {index < project.steps.length - 1 ? (
            <button
              type="button"
              className="text-[12px] text-teal hover:underline"
              onClick={() => change((p) => ({ ...p, marker: null }))}
              title="Move the marker to the end"
            >
              work from here · go to the end
            </button>
          ) : (
            <span className="text-[12px] text-teal">work from here</span>
          )}
        </li>
      )}
    </>
  );
}
