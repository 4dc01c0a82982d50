/** The turned road: a vessel of three revolves and two rounds hollowed, its limits, its gauges, and the live loop of the diffuser. */
import { diffuserBody, steamDiffuser } from '../demo/steam-diffuser';
import { evaluateDimensions } from '../src/core/dimensions/dimensions';
import { setDimension } from '../src/core/recipe/edit';
import { prepareHollow } from '../src/core/turned/hollow';
import { hollowLimits } from '../src/core/turned/limits';
import { largestSoftening, softened } from '../src/core/turned/soften';
import { Engine } from '../src/engine/engine';
import { measureBody, sceneOf } from '../src/engine/measure';
import { openKernel } from '../src/kernel/open';
import { turnedHollow } from '../src/kernel/turned-steps';
import { asJson, figure, median } from './figures';

const engine = new Engine({ open: () => openKernel() });
const kernel = await engine.start();
const { scope } = evaluateDimensions(diffuserBody.dimensions);

const cold = performance.now();
await engine.rebuild(steamDiffuser);
figure('diffuser with its lid, all steps, cold', performance.now() - cold, 'ms', 2500);

await engine.rebuild({ ...diffuserBody, steps: diffuserBody.steps.slice(0, 4) });
const whole = engine.bodies()[0]!.body;
const turned = whole.turned!;
const open = new Set(['s2/rim']);
figure(
  'three revolves and their rounds: hollow, verified, warm',
  await median(15, (i) => turnedHollow(kernel, turned, open, () => 2.2 + 0.01 * i, 's5')),
  'ms',
  100,
);
figure(
  'its largest wall, with the place and what vanishes when',
  await median(15, () => hollowLimits(prepareHollow(turned.meridian, (f) => open.has(f)))),
  'ms',
  50,
);
const corner = turned.meridian.loops[0]!.findIndex((c) => c.face === 's1/foot');
const round = (radius: number) => softened(turned.meridian, [{ kind: 'round', corner: { loop: 0, index: corner }, radius, face: 'r' }]).ok;
figure('the largest round of its foot', await median(15, () => largestSoftening(round, 60)), 'ms', 50);

await engine.rebuild(diffuserBody);
const { id, body } = engine.bodies()[0]!;
// A body of its own each time: what is known of one is kept.
figure(
  'all gauges of the hollow',
  await median(9, () => measureBody(kernel, diffuserBody, scope, id, { ...body }, async () => true)),
  'ms',
  300,
);
figure('stage data of the hollow', await median(5, () => sceneOf(kernel, diffuserBody, id, { ...body })));

const walls = await median(9, async (i) => {
  const p = setDimension(steamDiffuser, 'wall', `${2.3 + 0.01 * i} mm`);
  await engine.rebuild(p);
});
figure('wall changed: every step that hangs on it', walls);
const shell = diffuserBody.steps[4]!;
figure(
  'last step edited: hollow alone',
  await median(9, async (i) => {
    const edited = { ...shell, values: { ...shell.values, wall: `${2.31 + 0.013 * i} mm` } };
    const r = await engine.rebuild({ ...diffuserBody, steps: diffuserBody.steps.with(4, edited) });
    if (r.computed !== 1) throw new Error(`computed ${r.computed} steps`);
  }),
  'ms',
  600,
);
asJson();
