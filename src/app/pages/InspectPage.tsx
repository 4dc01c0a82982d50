import { useEffect } from 'react';
import { Group, Panel, Separator } from 'react-resizable-panels';
import { wallLimit } from '../inspect/limits';
import { Questions } from '../inspect/Questions';
import { Results } from '../inspect/Results';
import { useBench } from '../state/bench';
import { remeasure, startInspecting, stopInspecting, useInspect } from '../state/inspecting';
import { useProject } from '../state/project';
import { Pane } from '../ui/Pane';
import { Stage } from './StageLater';

/** Inspect: a question on the left, the body in its colours, the figures on the right. */
export function InspectPage() {
  const project = useProject((s) => s.project);
  const answer = useInspect((s) => s.answer);
  const progress = useInspect((s) => s.progress);
  const asked = useInspect((s) => s.ask.what);
  const stale = useBench((s) => s.stale);
  const stopped = useBench((s) => s.stopped);
  const none = useBench((s) => s.result !== null && s.result.bodies.length === 0);
  const limit = project ? wallLimit(project) : null;
  useEffect(() => startInspecting(limit), [limit]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: read again whenever the list changes
  useEffect(() => void remeasure(), [project?.measures]);
  if (!project) return null;
  const current = answer?.what === asked ? answer : null;
  return (
    <Group orientation="horizontal" className="h-full">
      <Panel defaultSize="22%" minSize="200px" maxSize="36%" collapsible collapsedSize="0px">
        <Pane called="The questions">
          <Questions project={project} />
        </Pane>
      </Panel>
      <Separator className="w-px bg-line2 outline-offset-0 hover:bg-teal" aria-label="Width of the questions" />
      <Panel minSize="30%">
        <Pane called="The stage">
          <Stage project={project} reading />
        </Pane>
      </Panel>
      <Separator className="w-px bg-line2 outline-offset-0 hover:bg-teal" aria-label="Width of the figures" />
      <Panel defaultSize="27%" minSize="230px" maxSize="45%" collapsible collapsedSize="0px">
        <section aria-label="Figures" className="h-full overflow-y-auto bg-panel px-4 py-3">
          <p className="mb-2 flex items-center justify-between text-ink2" role="status" data-testid="inspect-state">
            {none
              ? 'There is no body yet. Raise one on the bench.'
              : stale
                ? stopped
                  ? 'the build was stopped'
                  : 'waits for the body'
                : progress !== null
                  ? `measuring… ${Math.round(100 * progress)} %`
                  : current
                    ? `measured in ${(current.ms / 1000).toFixed(1)} s`
                    : 'stopped'}
            {progress !== null && (
              <button type="button" className="link" onClick={stopInspecting}>
                stop
              </button>
            )}
          </p>
          {current && (
            <Pane called="The figures">
              <Results project={project} answer={current} />
            </Pane>
          )}
        </section>
      </Panel>
    </Group>
  );
}
