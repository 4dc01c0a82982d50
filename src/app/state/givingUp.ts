/** Watches what fails, and keeps it with the project once the step is taken away. */
import type { GivenUpStep, Project, Step } from '../../core/recipe/schema';
import { giveUp, triedWith, withTry } from '../../core/revisions/given-up';
import { useBench } from './bench';
import { aside, useProject } from './project';

interface Failing {
  readonly step: Step;
  readonly tries: GivenUpStep['tries'];
  /** It failed when it was last built. */
  readonly failed: boolean;
}

/** Begins to watch. @returns ends it */
export function startGivingUp(): () => void {
  const failing = new Map<string, Failing>();
  let before: Project | null = useProject.getState().project;
  const built = (): void => {
    const { project } = useProject.getState();
    const { reports, stale } = useBench.getState();
    // Reports are those of the sheet as it stands once nothing of it waits to be built.
    if (!project || stale) return;
    for (const step of project.steps) {
      const report = reports[step.id];
      const known = failing.get(step.id);
      if (report?.state === 'failed' && !report.unfinished) {
        const why = [report.message, report.why].filter(Boolean).join(': ').slice(0, 1200);
        failing.set(step.id, { step, failed: true, tries: withTry(known?.tries ?? [], { with: triedWith(step).slice(0, 600), why }) });
      } else if (known && report?.state !== 'failed') failing.set(step.id, { ...known, failed: false });
    }
  };
  const changed = (): void => {
    const { project } = useProject.getState();
    const was = before;
    before = project;
    if (!project || !was || project.steps === was.steps) return;
    const here = new Set(project.steps.map((s) => s.id));
    for (const [id, f] of failing) {
      if (here.has(id)) continue;
      failing.delete(id);
      if (!f.failed) continue;
      const { id: open } = useProject.getState();
      // Undo puts what is kept aside back when it is through: this comes after it.
      queueMicrotask(() => {
        if (useProject.getState().id === open) aside((p) => giveUp(p, was, f.step, f.tries, new Date().toISOString()));
      });
    }
  };
  const stops = [
    useBench.subscribe((s, b) => (s.reports !== b.reports || s.stale !== b.stale ? built() : undefined)),
    useProject.subscribe(changed),
  ];
  return () => {
    for (const stop of stops) stop();
  };
}
