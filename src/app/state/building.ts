/** Keeps the bodies and gauges up with the document. */
import { hashText } from '../../core/hash';
import type { Project } from '../../core/recipe/schema';
import { shownIn } from '../../core/units/units';
import { reportIn } from '../../engine/step-report';
import type { BodyScene } from '../../engine/types';
import { overallOf } from '../stage/extent';
import { keepPicture, keepScenes, keptScenes } from '../storage/kept';
import { engine, picture, setBench, useBench } from './bench';
import { useProject } from './project';

let latest = 0;

/** The state of a document is built once for as long as it stays, ms: what is changed at once is not kept in between. */
const SETTLED = 800;

/** What of a document the geometry depends on; a change of brief or name alone builds nothing. */
const geometryOf = (p: Project): readonly unknown[] => [p.dimensions, p.profiles, p.steps, p.marker, p.bodies, p.units, p.imports];
const same = (a: readonly unknown[], b: readonly unknown[]): boolean => a.every((x, i) => x === b[i]);

const keyOf = (p: Project): string => hashText(JSON.stringify(geometryOf(p)));

/** What was built last of this same document stands on the stage until it is built again. */
async function showKept(project: Project): Promise<void> {
  const { id } = useProject.getState();
  const kept = id ? await keptScenes(id) : undefined;
  if (!kept || kept.of !== keyOf(project) || useProject.getState().project !== project || useBench.getState().result) return;
  setBench({ scenes: kept.scenes, kept: true });
}

/** Keeps what was built, once nothing else is asked for: its meshes for the next visit, its picture for the card. */
function keepLater(project: Project, mine: number): void {
  setTimeout(() => {
    const { scenes, result, section, shown, preview, stale } = useBench.getState();
    const { id } = useProject.getState();
    if (mine !== latest || !id || !result || stale || scenes.every((s) => project.bodies[s.id]?.hidden)) return;
    void keepScenes({ id, of: keyOf(project), scenes });
    const own = section || shown !== null || preview ? null : picture.card?.();
    if (own) void keepPicture({ id, picture: own, size: sizeWords(scenes, project) });
  }, SETTLED);
}

/** Width × depth × height of what is shown. */
function sizeWords(scenes: readonly BodyScene[], project: Project): string {
  const built = useBench.getState().result?.bodies;
  const { min, max } = overallOf(
    scenes.filter((s) => !project.bodies[s.id]?.hidden),
    (id) => built?.find((b) => b.id === id)?.bbox,
  );
  const sizes = max.map((m, k) => shownIn(m - min[k]!, 'mm', 1, project.units).text);
  return `${sizes.join(' × ')} ${project.units}`;
}

async function ensureKernel(): Promise<boolean> {
  if (useBench.getState().kernel === 'ready') return true;
  setBench({ kernel: 'loading' });
  try {
    await engine.start();
    setBench({ kernel: 'ready' });
    return true;
  } catch {
    setBench({ kernel: 'failed', measuring: false });
    return false;
  }
}

async function build(project: Project): Promise<void> {
  const mine = ++latest;
  setBench({ stale: true, kept: false, stopped: false, forecasts: {}, tried: {}, shown: null });
  engine.stopRange();
  if (!(await ensureKernel()) || mine !== latest) return;
  const answer = await engine
    .rebuild(project, (index, step, report) => {
      if (mine !== latest) return;
      if (report) setBench((s) => ({ reports: { ...s.reports, [step]: reportIn(report, project.units) } }));
      else setBench({ running: { index, step, since: performance.now() } });
    })
    .catch(() => {
      setBench({ kernel: 'failed', measuring: false });
      return null;
    });
  if (mine !== latest) return;
  setBench({ running: null });
  if (!answer?.scenes) return;
  const steps = answer.result.steps.map((s) => reportIn(s, project.units));
  setBench({
    result: { ...answer.result, steps },
    reports: Object.fromEntries(steps.map((s) => [s.id, s])),
    scenes: answer.scenes,
    stale: false,
    kept: false,
    preview: null,
    quick: null,
    mark: null,
  });
  await measure(project, mine);
}

async function measure(project: Project, mine: number): Promise<void> {
  setBench({ measuring: true });
  const measures = await engine.measure(project, (m) => {
    // Each body's gauges as they come; those of the others are still being read.
    if (mine !== latest) return;
    setBench((s) => {
      const before = s.measures ?? [];
      const known = before.some((o) => o.body === m.body);
      return { measures: known ? before.map((o) => (o.body === m.body ? m : o)) : [...before, m] };
    });
  });
  if (mine !== latest) return;
  setBench({ measuring: false, ...(measures ? { measures } : {}) });
  keepLater(project, mine);
  for (const step of project.steps) {
    if (step.kind !== 'shell' || !step.enabled) continue;
    const forecast = await engine.forecast(project, step.id);
    if (mine !== latest) return;
    if (forecast) setBench((s) => ({ forecasts: { ...s.forecasts, [step.id]: forecast } }));
  }
}

/** Workers that may die over one document, while nothing is built, before that is left to the hand. */
const MOST_DEATHS = 3;

/** The kernel died over a question or a file: it gets the bodies again, unless it dies of them each time. */
function builtAfterDeaths(): () => void {
  let deaths: { of: Project | null; count: number } = { of: null, count: 0 };
  engine.onDeath = () => {
    const { project } = useProject.getState();
    deaths = { of: project, count: deaths.of === project ? deaths.count + 1 : 1 };
    if (deaths.count < MOST_DEATHS) buildAgain();
    else setBench({ kernel: 'failed', measuring: false });
  };
  return () => {
    engine.onDeath = () => {};
  };
}

/** Builds what is on the sheet once more: after the kernel could not be loaded or died, or a build was stopped by hand. */
export function buildAgain(): void {
  const { project } = useProject.getState();
  if (project) void build(project);
}

/** Stops the running build; the bodies of the last finished one stay. */
export async function cancelBuild(): Promise<void> {
  latest++;
  await engine.cancel();
  setBench({ running: null, measuring: false, stopped: true, quick: null });
}

/** Builds now and after every change that touches geometry. */
export function startBuilding(): () => void {
  const first = useProject.getState().project;
  if (first) {
    void showKept(first);
    void build(first);
  }
  let last = first;
  const forgetDeaths = builtAfterDeaths();
  // A page that is come back to as it was left has lost its workers.
  const back = (e: PageTransitionEvent): void => {
    if (e.persisted) buildAgain();
  };
  window.addEventListener('pageshow', back);
  const stop = useProject.subscribe((s) => {
    if (!s.project || s.project === last) return;
    const before = last;
    last = s.project;
    if (before && same(geometryOf(before), geometryOf(s.project))) {
      // The fill line is measured, not built.
      if (before.brief.fillBelowBrim !== s.project.brief.fillBelowBrim) void measure(s.project, latest);
      return;
    }
    void build(s.project);
  });
  return () => {
    latest++;
    forgetDeaths();
    window.removeEventListener('pageshow', back);
    stop();
    // Another project shares nothing with this one.
    engine.forget();
    setBench({
      result: null,
      reports: {},
      scenes: [],
      kept: false,
      measures: null,
      forecasts: {},
      tried: {},
      shown: null,
      preview: null,
      quick: null,
      picking: null,
      picked: null,
      mark: null,
      section: null,
      profile: null,
      gaugeBody: null,
      step: null,
      running: null,
    });
  };
}
