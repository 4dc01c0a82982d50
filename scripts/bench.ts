/** Speed figures, as a table and as JSON. `npm run bench` */
import { diffuserBody } from '../demo/steam-diffuser';
import { evaluateDimensions } from '../src/core/dimensions/dimensions';
import { findOutline, outlinePolyline } from '../src/core/profile/outline';
import { readPoles } from '../src/core/profile/pole';
import { type ResolvedProfile, resolveProfile } from '../src/core/profile/resolve';
import { startDrag } from '../src/core/profile/session';
import { snap } from '../src/core/profile/snap';
import { setStep } from '../src/core/recipe/edit';
import type { Profile } from '../src/core/recipe/schema';
import { spun } from '../src/core/recipe/steps/quick';
import { Engine } from '../src/engine/engine';
import { forecastWall, measureBody, sceneOf } from '../src/engine/measure';
import { openKernel } from '../src/kernel/open';

interface Row {
  readonly what: string;
  readonly median: number;
  readonly p95: number;
  readonly runs: number;
}
const rows: Row[] = [];
const note = (what: string, times: number[]): void => {
  const s = times.toSorted((a, b) => a - b);
  rows.push({ what, median: s[Math.floor(s.length / 2)]!, p95: s[Math.min(s.length - 1, Math.floor(s.length * 0.95))]!, runs: s.length });
};
const time = async (what: string, runs: number, work: (i: number) => unknown): Promise<void> => {
  const times: number[] = [];
  for (let i = 0; i < runs; i++) {
    const t = performance.now();
    await work(i);
    times.push(performance.now() - t);
  }
  note(what, times);
};

const { scope } = evaluateDimensions(diffuserBody.dimensions);
const turned = (r: ResolvedProfile) => {
  const o = findOutline(r, 'demo');
  if (!o.ok) throw new Error('the demo must draw');
  readPoles(o.value);
  snap(r, { x: 20, y: 50 }, 3, 1);
  const line = outlinePolyline(o.value, 0.08).map(({ point }): [number, number, number] => [point.x, 0, point.y]);
  return spun([line], [0, 0, 0], [0, 0, 1], 2 * Math.PI);
};
const meshOf = (p: Profile) => {
  const r = resolveProfile(p, scope);
  if (!r.ok) throw new Error(r.error.message);
  return turned(r.value);
};
const [belly, collar, lip] = diffuserBody.profiles as [Profile, Profile, Profile];
// The belly's widest point is held in the demo; without what holds it, it can be dragged.
const loose = { ...belly, constraints: belly.constraints.filter((c) => c.id !== 'd2' && c.id !== 'd3') };
const drag = startDrag(loose, scope, { points: ['p3'] })!;
await time('drag step: solve, snap, check, pole, preview of all three revolves', 300, (i) => {
  const r = drag.move(0, Math.sin(i));
  if (r.ok) turned(r.value);
  meshOf(collar);
  meshOf(lip);
});

const opened = performance.now();
const engine = new Engine({ open: () => openKernel() });
const kernel = await engine.start();
note('load the kernel', [performance.now() - opened]);

const steps = new Map<string, number[]>();
for (let run = 0; run < 4; run++) {
  engine.clear();
  const t = performance.now();
  const r = await engine.rebuild(diffuserBody);
  const total = performance.now() - t;
  if (run === 0) note('demo, all five steps, cold', [total]);
  else {
    steps.set('demo, all five steps, warm', [...(steps.get('demo, all five steps, warm') ?? []), total]);
    for (const s of r.steps) steps.set(`  ${s.id} ${s.kind}`, [...(steps.get(`  ${s.id} ${s.kind}`) ?? []), s.ms]);
  }
}
for (const [what, times] of steps) note(what, times);
const shell = diffuserBody.steps[4]!;
await time('edit of the last step only', 4, async (i) => {
  const r = await engine.rebuild(setStep(diffuserBody, { ...shell, values: { ...shell.values, wall: `${2.3 + i * 0.05} mm` } }));
  if (r.computed !== 1) throw new Error(`computed ${r.computed} steps`);
});
await engine.rebuild(diffuserBody);
await time('nothing changed', 5, () => engine.rebuild(diffuserBody));
const { id, body } = engine.bodies()[0]!;
await time('gauges of the demo', 3, () => measureBody(kernel, diffuserBody, scope, id, body, async () => true));
await time('stage data of the demo', 3, () => sceneOf(kernel, diffuserBody, id, body));
const before = engine.bodyBefore(diffuserBody, 's5')!;
await time('what the wall will swallow', 2, () =>
  forecastWall(kernel, diffuserBody, 's5', before, new Set([before.faces.indexOf('s2/rim')]), 2.2, async () => true),
);
note('kernel heap, MB (not ms)', [engine.heap / 1e6]);

const wide = Math.max(...rows.map((r) => r.what.length));
console.log(`${'what'.padEnd(wide)}   median ms      p95 ms  runs`);
for (const r of rows)
  console.log(
    `${r.what.padEnd(wide)}  ${r.median.toFixed(2).padStart(10)}  ${r.p95.toFixed(2).padStart(10)}  ${String(r.runs).padStart(4)}`,
  );
console.log(JSON.stringify(rows));
