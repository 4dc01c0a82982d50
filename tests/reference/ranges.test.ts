/**
 * The largest value that works, where geometry gives it in closed form: found within one hundredth, in few operations. Where the kernel
 * gives up before geometry does, the room that geometry leaves is read off right and both are told.
 */
import { beforeAll, describe, expect, it } from 'vitest';
import type { Project } from '../../src/core/recipe/schema';
import { Engine } from '../../src/engine/engine';
import { type RangeReport, searchRange } from '../../src/engine/range';
import type { Kernel } from '../../src/kernel/open';
import { testKernel } from '../support/kernel';
import { add, box, circle, empty, extrude, flat, fresh } from '../support/parts';

const engine = new Engine({ open: testKernel });
let kernel: Kernel;
beforeAll(async () => {
  kernel = await testKernel();
});

async function rangeOf(p: Project): Promise<RangeReport> {
  const r = await engine.rebuild(p);
  const last = p.steps.at(-1)!;
  const told = r.steps.at(-1)!.state;
  const found = await searchRange(kernel, p, last.id, engine.madeBefore(p, last.id), told === 'failed' ? 'fails' : 'works');
  if (!found) throw new Error(`no range: ${JSON.stringify(r.steps.at(-1))}`);
  return found;
}

const block = (w: number, d: number, h: number) => box(empty(), [w, d, h]);
const drum = (diameter: number, height: number) =>
  add(empty(), 'primitive', { shape: 'cylinder', plane: 'level', places: [], ...fresh }, { diameter: `${diameter}`, height: `${height}` });
const cone = (low: number, high: number, height: number) =>
  add(
    empty(),
    'primitive',
    { shape: 'cone', plane: 'level', places: [], ...fresh },
    { diameter: `${low}`, top: `${high}`, height: `${height}` },
  );
const round = (p: Project, ...edges: string[]) =>
  add(p, 'fillet', { body: 's1', edges: edges.map((edge) => ({ edge })) }, { radius: '0.5 mm' });
const bevel = (p: Project, ...edges: string[]) =>
  add(p, 'chamfer', { body: 's1', edges: edges.map((edge) => ({ edge })), by: 'distance', side: 'first' }, { distance: '0.5 mm' });
const hollow = (p: Project, open: string) => add(p, 'shell', { body: 's1', open: [{ face: open }] }, { wall: '1 mm' });
const rimOf = (p: Project): Promise<string> =>
  engine.rebuild(p).then(() => {
    const faces = engine.bodies()[0]!.body.faces;
    return [faces.find((f) => f.endsWith('side'))!, faces.find((f) => f.endsWith('end') || f.endsWith('top'))!].sort().join('|');
  });

/** A rib of a width on a plate, along all of it. */
const rib = (width: number) =>
  extrude(
    block(60, 40, 10),
    flat('rib', 'level', [
      [-30, -width / 2],
      [30, -width / 2],
      [30, width / 2],
      [-30, width / 2],
    ]),
    { mode: 'join', body: 's1' },
    { length: '30' },
  );

const exact: readonly (readonly [string, number, () => Project | Promise<Project>])[] = [
  ['one upright edge of a block: its narrower side', 40, () => round(block(60, 40, 30), 's1/front|s1/right')],
  ['one long edge of a block: its height', 30, () => round(block(60, 40, 30), 's1/end|s1/front')],
  ['two edges across a side: half of it', 20, () => round(block(60, 40, 30), 's1/front|s1/right', 's1/back|s1/right')],
  ['the rim of a cylinder: its radius', 20, async () => round(drum(40, 60), await rimOf(drum(40, 60)))],
  ['the rim of a low cylinder: its height', 12, async () => round(drum(40, 12), await rimOf(drum(40, 12)))],
  ['the top edges of a rib between parallel faces: half its width', 2, () => round(rib(4), 's2/c0|s2/end', 's2/c2|s2/end')],
  ['the foot of a rib: the ledge beside it', 18, () => round(rib(4), 's1/end#2|s2/c0')],
  ['a bevel on a block: its height', 30, () => bevel(block(60, 40, 30), 's1/end|s1/front')],
  ['two bevels across a side: half of it', 20, () => bevel(block(60, 40, 30), 's1/front|s1/right', 's1/back|s1/right')],
  ['the wall of an open box: half its narrower side', 20, () => hollow(block(60, 40, 50), 's1/end')],
  [
    'the wall of an open cylinder: its radius',
    20,
    async () => hollow(drum(40, 60), (await rimOf(drum(40, 60))).split('|').find((f) => !f.endsWith('side'))!),
  ],
];

describe('the range found reaches', () => {
  it.each(exact)('%s, %s mm', async (_, limit, make) => {
    const r = await rangeOf(await make());
    expect(r.trials.length).toBeLessThanOrEqual(12);
    expect(r.most! / limit).toBeGreaterThan(0.99);
    expect(r.most).toBeLessThanOrEqual(limit * (1 + 1e-6));
    expect(r.room!.limit / limit).toBeCloseTo(1, 2);
  });
});

describe('a cone wider at the top', () => {
  it('takes every wall that exists, to the ball that just fits below its opening', async () => {
    const p = cone(40, 60, 50);
    const top = (await rimOf(p)).split('|').find((f) => !f.endsWith('side'))!;
    const r = await rangeOf(hollow(p, top));
    // The place on the axis in the opening, R 30: the side leans by 1 in 5.
    const exact = 30 / Math.hypot(1, 1 / 5);
    expect(r.room!.limit).toBeCloseTo(exact, 6);
    expect(r.most! / exact).toBeGreaterThan(0.99);
    expect(r.most).toBeLessThanOrEqual(exact);
  });
});

it('a turned body tells why a larger round does not go: the arc of a rim that leans takes all of the disc', async () => {
  const p = cone(40, 60, 50);
  const r = await rangeOf(round(p, await rimOf(p)));
  // The tangent length on the disc is its radius, 30: r = 30 tan(corner / 2).
  const exact = 30 * Math.tan((Math.PI / 2 - Math.atan(1 / 5)) / 2);
  expect(r.most! / exact).toBeGreaterThan(0.99);
  expect(r.most).toBeLessThanOrEqual(exact);
  expect(r.beyond).toMatch(/axis|face/);
});

it('a set of edges has a common largest and one for each, and per-edge values that go together', async () => {
  let p = block(60, 40, 30);
  p = extrude(
    p,
    circle('post', 'level', 8),
    { mode: 'join', body: 's1', origin: 'face', fromFaces: [{ body: 's1', face: 's1/end' }] },
    { length: '20', start: '0' },
  );
  const r = await rangeOf(round(p, 's1/front|s1/right', 's1/end|s2/c0', 's2/c0|s2/end'));
  expect(r.most! / 8).toBeGreaterThan(0.95);
  expect(r.each).toHaveLength(3);
  const most = Object.fromEntries(r.each.map((e) => [e.edge, e.most]));
  expect(most['s2/c0|s2/end']! / 8).toBeGreaterThan(0.95);
  expect(most['s1/front|s1/right']!).toBeGreaterThan(20);
  expect(r.fixes.some((f) => f.words.startsWith('Use per-edge values'))).toBe(true);
});

it('says that nothing works where nothing does', async () => {
  // A wall cannot be hollowed where every face but one is picked open and that one is bent to nothing: a sealed ball of almost no size.
  const tiny = add(empty(), 'primitive', { shape: 'sphere', plane: 'level', places: [], ...fresh }, { diameter: '0.002' });
  const p = add(tiny, 'shell', { body: 's1', open: [] }, { wall: '1 mm' });
  const r = await rangeOf(p);
  expect(r.most === null || r.most < 0.001).toBe(true);
});
