/** What is seen while something is dragged, against the kernel's own bodies. */
import { describe, expect, it } from 'vitest';
import { diffuserBody } from '../../../demo/steam-diffuser';
import { polyProfile, testKernel } from '../../../tests/support/kernel';
import { add, at, box, circle, empty, engine, extrude, flat, fresh, square } from '../../../tests/support/parts';
import { evaluateDimensions } from '../../core/dimensions/dimensions';
import { bounds } from '../../core/mesh/mesh';
import { asDrawn } from '../../core/profile/session';
import { addStep, setProfile } from '../../core/recipe/edit';
import type { Project } from '../../core/recipe/schema';
import { stepDefinitions } from '../../core/recipe/steps';
import { placeAt } from '../../core/recipe/steps/handles';
import type { QuickSkin } from '../../core/recipe/steps/quick';
import { sceneOf } from '../../engine/measure';
import { vertexAt } from '../../kernel/shapes';
import { quickOf, quickView, standingOf, stepsOf } from './standing';

async function built(p: Project) {
  const result = await engine.rebuild(p);
  for (const s of result.steps) expect(['done', 'warned'], `${s.message}; ${s.why}`).toContain(s.state);
  const kernel = await testKernel();
  const scenes = engine.bodies().map(({ id, body }) => sceneOf(kernel, p, id, body));
  return { result, scenes };
}

function areaOf({ positions: p, indices }: QuickSkin): number {
  let sum = 0;
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t]!, indices[t + 1]!, indices[t + 2]!].map((i) => [p[3 * i]!, p[3 * i + 1]!, p[3 * i + 2]!]);
    const [u, v] = [b!.map((x, k) => x - a![k]!), c!.map((x, k) => x - a![k]!)];
    sum += Math.hypot(u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!) / 2;
  }
  return sum;
}

/** The last step, seen in a moment, takes the same room as its body and has nearly its area. */
async function likeTheBody(p: Project, share = 0.01, room = 0.35): Promise<void> {
  const { result, scenes } = await built(p);
  const step = p.steps.at(-1)!;
  const skins = quickOf(p, step, result, scenes);
  expect(skins, step.kind).not.toBeNull();
  const all = skins!.flatMap((s) => [...s.positions]);
  const body = scenes.find((s) => s.id === step.id) ?? scenes.at(-1)!;
  const [own, its] = [bounds(all), bounds(body.positions)];
  for (const end of ['min', 'max'] as const)
    for (let k = 0; k < 3; k++) expect(Math.abs(own[end][k]! - its[end][k]!), `${step.kind} ${end} ${'xyz'[k]}`).toBeLessThan(room);
  const area = skins!.reduce((sum, s) => sum + areaOf(s), 0);
  const exact = body.faceAreas.reduce((a, b) => a + b, 0);
  expect(Math.abs(area / exact - 1), `${step.kind} ${area} for ${exact}`).toBeLessThan(share);
}

const half = polyProfile(
  [
    [10, 0],
    [20, 0],
    [24, 18],
    [10, 18],
  ],
  true,
);

describe('what is seen in a moment is nearly what is built', () => {
  it('plain bodies, beside the origin on another plane', async () => {
    for (const shape of ['box', 'cylinder', 'cone', 'sphere', 'torus'])
      await likeTheBody(
        add(empty(), 'primitive', { shape, plane: 'front', places: [at(7, -3, 5)], ...fresh }, { width: '31', height: '12' }),
      );
  });
  it('what is extruded: straight and tapered, backwards, half to either side, as a wall’s outline with a hole', async () => {
    const drawn = flat('d', 'side', square(20));
    for (const taper of ['0°', '9°', '-6°']) {
      await likeTheBody(extrude(empty(), drawn, { extent: 'one' }, { length: '17', taper }));
      await likeTheBody(extrude(empty(), drawn, { extent: 'one', way: 'back' }, { length: '17', start: '3', taper }));
      await likeTheBody(extrude(empty(), drawn, { extent: 'symmetric' }, { length: '17', taper }));
      await likeTheBody(extrude(empty(), drawn, { extent: 'two' }, { length: '17', back: '5', start: '-2', taper }));
    }
    const ring = {
      ...circle('r', 'level', 20),
      curves: [...circle('r', 'level', 20).curves, { kind: 'circle' as const, id: 'c1', centre: 'm', radius: 12 }],
    };
    await likeTheBody(extrude(empty(), ring, { extent: 'one' }, { length: '9' }));
  });
  it('what is turned, all round and part of the way', async () => {
    for (const angle of ['360°', '70°', '300°'])
      await likeTheBody(add(setProfile(empty(), half), 'revolve', { profile: 'test', ...fresh }, { angle }));
  });
  it('a loft of two and of three sections, one of them run the other way round', async () => {
    const plane = (p: Project, distance: string) => addStep(p, 'plane', { by: 'distance', from: 'level' }, { distance });
    const loft = { paths: [], rails: 'drawn', skin: 'smooth', run: 'open', start: 'free', end: 'free', shifts: '', ...fresh };
    const one = plane(empty(), '30');
    const two = plane(one.project, '60');
    let p = setProfile(two.project, circle('a', 'level', 20));
    p = setProfile(p, circle('b', one.id, 12));
    await likeTheBody(add(p, 'loft', { ...loft, sections: ['a', 'b'] }));
    p = setProfile(p, circle('c', two.id, 18, [3, 0]));
    await likeTheBody(add(p, 'loft', { ...loft, sections: ['a', 'b', 'c'] }), 0.03, 0.6);
    const back = flat('f', one.id, square(20).toReversed());
    const q = setProfile(setProfile(one.project, flat('e', 'level', square(30))), back);
    await likeTheBody(add(q, 'loft', { ...loft, skin: 'ruled', sections: ['e', 'f'] }));
  });
  it('what is carried along a path, twisted and grown', async () => {
    const path = {
      ...flat('path', 'front', [
        [0, 0],
        [0, 50],
      ]),
      curves: [{ kind: 'line' as const, id: 'l', from: 'p0', to: 'p1' }],
    };
    const p = setProfile(setProfile(empty(), flat('s', 'level', square(16))), path);
    const sweep = { sections: ['s'], paths: [{ profile: 'path', curve: 'l' }], hold: 'square', ...fresh };
    await likeTheBody(add(p, 'sweep', sweep));
    await likeTheBody(add(p, 'sweep', sweep, { scale: '1.5' }));
    const q = add(p, 'sweep', sweep, { scale: '1.5', twist: '30°' });
    const { result, scenes } = await built(q);
    const step = q.steps.at(-1)!;
    const handles = stepDefinitions.sweep!.handles!(step, standingOf(q, step, result, scenes));
    expect(handles.map((h) => h.value)).toEqual(['twist', 'scale']);
    // A corner of the end, half a diagonal of 16 × 1.5 from the path, 30° on.
    const corner = scenes[0]!.positions;
    for (const h of handles) {
      const place = placeAt(h, h.value === 'twist' ? Math.PI / 6 : 1.5);
      let least = Number.POSITIVE_INFINITY;
      for (let i = 0; i < corner.length; i += 3)
        least = Math.min(least, Math.hypot(corner[i]! - place[0], corner[i + 1]! - place[1], corner[i + 2]! - place[2]));
      expect(least, h.value).toBeLessThan(1e-4);
    }
  });
  it('a coil, and a wire', async () => {
    const coil = { plane: 'level', hand: 'right', ...fresh };
    await likeTheBody(add(empty(), 'coil', coil, { turns: '3', wire: '3', pitch: '8' }), 0.03);
    await likeTheBody(add(empty(), 'coil', { ...coil, hand: 'left' }, { turns: '2.3', wire: '3', pitch: '8', top: '20' }), 0.03);
  });
});

describe('what is repeated and moved', () => {
  const row = {
    what: 'body',
    step: null,
    body: 's1',
    along: 'row',
    axis: 'x',
    paths: [],
    by: 'spacing',
    symmetric: 'one',
    skip: '',
    result: 'separate',
  };
  const middles = (skins: readonly QuickSkin[] | null, of: number, k = 0): number[] => {
    const all = [...skins![0]!.positions];
    const each = all.length / of;
    return Array.from({ length: of }, (_, i) => {
      const b = bounds(all.slice(i * each, (i + 1) * each));
      return Math.round(500 * (b.min[k]! + b.max[k]!)) / 1000;
    });
  };
  it('copies stand where the build puts them, and their values where they stand', async () => {
    const p = add(box(empty(), [10, 10, 10]), 'pattern', row, { count: '4', length: '25' });
    const { result, scenes } = await built(p);
    const step = p.steps.at(-1)!;
    expect(middles(quickOf(p, step, result, scenes), 3)).toEqual([25, 50, 75]);
    const handles = stepDefinitions.pattern!.handles!(step, standingOf(p, step, result, scenes));
    expect(handles.map((h) => [h.value, placeAt(h, h.value === 'count' ? 4 : 25)[0]])).toEqual([
      ['length', 25],
      ['count', 80],
    ]);
    const fit = add(box(empty(), [10, 10, 10]), 'pattern', { ...row, by: 'fit' }, { length: '100', gap: '4', margin: '3' });
    const seen = await built(fit);
    const held = stepDefinitions.pattern!.handles!(fit.steps.at(-1)!, standingOf(fit, fit.steps.at(-1)!, seen.result, seen.scenes));
    expect(held.map((h) => [h.value, placeAt(h, { length: 100, gap: 4, margin: 3 }[h.value]!)[0]])).toEqual([
      ['length', 92],
      ['gap', 9],
      ['margin', 89],
    ]);
  });
  it('joined to their body too: what was repeated is told from its copies', async () => {
    const disc = box(empty(), [60, 60, 4]);
    const peg = extrude(disc, circle('peg', 'level', 3, [20, 0]), { mode: 'join', body: 's1' }, { length: '9' });
    const ring = { ...row, what: 'step', step: peg.steps.at(-1)!.id, along: 'ring', axis: 'z', by: 'extent', result: undefined };
    const p = add(peg, 'pattern', ring, { count: '4' });
    const { result, scenes } = await built(p);
    const step = p.steps.at(-1)!;
    const places = middles(quickOf(p, step, result, scenes), 3);
    for (const [i, x] of [0, -20, 0].entries()) expect(Math.abs(places[i]! - x)).toBeLessThan(0.1);
    const [count] = stepDefinitions.pattern!.handles!(step, standingOf(p, step, result, scenes));
    const last = placeAt(count!, 4);
    for (const [k, x] of [0, 20, 4.5].entries()) expect(Math.abs(last[k]! - x)).toBeLessThan(0.1);
    const whole = add(
      box(empty(), [10, 10, 10]),
      'pattern',
      { ...row, result: 'joined', pieces: 'together' },
      { count: '3', length: '25' },
    );
    const seen = await built(whole);
    expect(middles(quickOf(whole, whole.steps.at(-1)!, seen.result, seen.scenes), 2)).toEqual([25, 50]);
  });
  it('a body goes from where it was built to where it is pulled', async () => {
    const move = { body: 's1', about: 'z', paths: [], faces: [], result: 'moved' };
    const p = add(box(empty(), [10, 10, 10]), 'move', { ...move, by: 'shift' }, { x: '7', y: '0', z: '0' });
    const { result, scenes } = await built(p);
    const to = { ...p, steps: p.steps.map((s) => (s.kind === 'move' ? { ...s, values: { ...s.values, x: '30' } } : s)) };
    expect(middles(quickOf(to, to.steps.at(-1)!, result, scenes, undefined, p), 1)).toEqual([30]);
    expect(quickView(to, ['s2'], result, scenes, { built: p })).toMatchObject({ bodies: ['s1'], faces: [] });
    const big = add(box(empty(), [10, 10, 10]), 'move', { ...move, by: 'scale' }, { factor: '2' });
    const seen = await built(big);
    const bigger = { ...big, steps: big.steps.map((s) => (s.kind === 'move' ? { ...s, values: { ...s.values, factor: '3' } } : s)) };
    expect(bounds(quickOf(bigger, bigger.steps.at(-1)!, seen.result, seen.scenes, undefined, big)![0]!.positions).max[2]).toBeCloseTo(
      30,
      4,
    );
  });
});

describe('values of what was done to faces stand on them', () => {
  const shell = { body: 's1', open: [{ topOf: 's1' }], joins: 'arc', side: 'outward' };
  const cases: [string, Project, string, number][] = [
    ['a wall outwards', add(box(empty(), [30, 20, 10]), 'shell', shell, { wall: '2' }), 'wall', 2],
    [
      'a leaning face',
      add(box(empty(), [30, 20, 10]), 'draft', { body: 's1', faces: [{ face: 's1/right' }], plane: 'level' }, { angle: '7°' }),
      'angle',
      (7 * Math.PI) / 180,
    ],
    [
      'the wall of a surface',
      add(
        extrude(empty(), circle('c', 'level', 12), { mode: 'surface' }, { length: '9' }),
        'thicken',
        { body: 's1', side: 'front' },
        { wall: '1.5' },
      ),
      'wall',
      1.5,
    ],
  ];
  it.each(cases)('%s', async (_, p, name, value) => {
    const { result, scenes } = await built(p);
    const step = p.steps.at(-1)!;
    const handle = stepDefinitions[step.kind]!.handles!(step, standingOf(p, step, result, scenes)).find((h) => h.value === name)!;
    const kernel = await testKernel();
    const off = (v: number): number =>
      new kernel.BRepExtrema_DistShapeShape(vertexAt(kernel, placeAt(handle, v)), engine.bodies().at(-1)!.body.shape).Value();
    // The middle of a facet lies inside a bent wall by its sag, which is no distance from a solid.
    expect(off(value)).toBeLessThan(1e-5);
    expect(Math.max(off(value + 0.2), off(value - 0.2))).toBeGreaterThan(0.1);
  });
});

describe('what is dragged on the board', () => {
  const drag = (x: number) => {
    const belly = diffuserBody.profiles[0]!;
    const r = asDrawn(
      { ...belly, points: belly.points.map((p) => (p.id === 'p3' ? { ...p, x } : p)) },
      evaluateDimensions(diffuserBody.dimensions).scope,
    );
    if (!r.ok) throw new Error(r.error.message);
    return { profile: 'belly', resolved: r.value };
  };
  it('shows all that is raised on the body it begins, with the drawing as it is dragged', async () => {
    const { result, scenes } = await built(diffuserBody);
    const ids = stepsOf(diffuserBody, 'belly');
    const widest = (x: number): number => {
      const seen = quickView(diffuserBody, ids, result, scenes, { dragged: drag(x) })!;
      expect(seen.steps.length).toBeGreaterThan(1);
      expect(seen.bodies).toEqual([diffuserBody.steps.find((s) => s.id === ids[0])!.id]);
      return Math.max(...seen.steps[0]!.skins.map((s) => bounds(s.positions).max[0]!));
    };
    expect(widest(60)).toBeGreaterThan(widest(46.2) + 10);
  });
});
