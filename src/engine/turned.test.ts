/** Turned bodies through the engine: made at the first try, read off their outline, drawn from it, and what a wall swallows told. */
import { describe, expect, it } from 'vitest';
import { diffuserBody } from '../../demo/steam-diffuser';
import { testKernel } from '../../tests/support/kernel';
import { add, empty, engine, fresh } from '../../tests/support/parts';
import { line, sketchProfile } from '../../tests/support/sketch';
import { evaluateDimensions } from '../core/dimensions/dimensions';
import { massProperties } from '../core/mesh/mesh';
import { addStep, setProfile, setStep } from '../core/recipe/edit';
import type { Profile, Project } from '../core/recipe/schema';
import { isClosedMesh, weldedMesh } from '../kernel/tessellate';
import { forecastWall, measureBody, sceneOf } from './measure';

const half = (id: string, curves: Profile['curves'], places: Record<string, readonly [number, number]>): Profile => ({
  ...sketchProfile(places, curves),
  id,
  name: id,
  plane: 'front',
  half: true,
});
/** A side drawn as a spline through points, on a flat foot, closed above. */
const vase = (side: readonly (readonly [number, number])[]): Project => {
  const names = 'bcdefgh'.slice(0, side.length);
  const places: Record<string, readonly [number, number]> = { a: [0, 0], z: [0, side.at(-1)![1]] };
  side.forEach((p, i) => {
    places[names[i]!] = p;
  });
  const last = names.at(-1)!;
  const curves: Profile['curves'] = [
    line('ab', 'foot'),
    { kind: 'spline', id: 'side', from: 'b', to: last, through: names.slice(1, -1).split('') } as Profile['curves'][number],
    line(`${last}z`, 'top'),
  ];
  return add(setProfile(empty(), half('v', curves, places)), 'revolve', { profile: 'v', ...fresh }, { angle: '360°' });
};
const hollow = (p: Project, wall: string, open: readonly string[] = ['s1/top']): Project =>
  add(p, 'shell', { body: 's1', open: open.map((face) => ({ face })) }, { wall });
const last = async (p: Project) => {
  const r = await engine.rebuild(p);
  return { ...r.steps.at(-1)!, body: r.bodies.at(-1)! };
};

describe('a turned body with a spline side', () => {
  const tube = vase([
    [20, 0],
    [34, 28],
    [18, 62],
    [24, 90],
  ]);
  it('open at both ends takes every wall, and a thinner one leaves less', async () => {
    let before = 0;
    for (const wall of [0.4, 0.8, 1, 1.3, 1.6, 2.5, 4, 7]) {
      const s = await last(hollow(tube, `${wall} mm`, ['s1/top', 's1/foot']));
      expect([wall, s.state]).toEqual([wall, 'done']);
      expect(s.body.volume).toBeGreaterThan(before);
      before = s.body.volume;
    }
  });
  it('takes them after a ring was parted off, on either piece', async () => {
    const lift = addStep(tube, 'plane', { by: 'distance', from: 'level' }, { distance: '70 mm' });
    const parted = add(lift.project, 'split', { body: 's1', by: 'plane', plane: lift.id, profile: null, tool: null, keep: 'all' });
    const piece = parted.steps.at(-1)!.id;
    for (const body of ['s1', piece])
      for (const wall of [1, 1.3, 1.6]) {
        const s = await last(add(parted, 'shell', { body, open: [{ topOf: 's1' }] }, { wall: `${wall} mm` }));
        expect([body, wall, s.state, s.why]).toEqual([body, wall, 'done', null]);
      }
  });
  it('says the largest wall there is where more is asked, with its place, and that one goes', async () => {
    const s = await last(hollow(tube, '60 mm'));
    expect(s.state).toBe('failed');
    expect(s.why).toMatch(/^no cavity of that wall exists: the last of the inside is gone at \d+\.\d+ mm$/);
    expect(s.at).not.toBeNull();
    const offered = s.fixes[0]!.values!.wall!;
    expect((await last(hollow(tube, offered))).state).toBe('done');
  });
});

describe('what stopped makers before', () => {
  it('a side that leaves the floor smoothly is hollowed at every wall', async () => {
    const p = setProfile(
      empty(),
      half(
        'v',
        [
          line('ab', 'foot'),
          { kind: 'spline', id: 'side', from: 'b', to: 'e', through: ['c', 'd'], start: { angle: 0, weight: 1 } } as never,
          line('ez', 'top'),
        ],
        {
          a: [0, 0],
          b: [18, 0],
          c: [32, 14],
          d: [30, 40],
          e: [22, 70],
          z: [0, 70],
        },
      ),
    );
    const vessel = add(p, 'revolve', { profile: 'v', ...fresh }, { angle: '360°' });
    for (const wall of [0.5, 1, 2, 3, 5, 8, 12]) expect([wall, (await last(hollow(vessel, `${wall} mm`))).state]).toEqual([wall, 'done']);
  });
  it('a rim that carries a bead is hollowed, and the bead kept', async () => {
    const drum = add(empty(), 'primitive', { shape: 'cylinder', plane: 'level', places: [], ...fresh }, { diameter: '60', height: '50' });
    const bead = add(
      drum,
      'primitive',
      { shape: 'torus', plane: 'level', places: [{ at: ['0', '0', '0'] }], mode: 'join', body: 's1' },
      { diameter: '60', thickness: '6' },
    );
    for (const wall of [0.6, 1.3, 2.5, 3, 4]) {
      const s = await last(add(bead, 'shell', { body: 's1', open: [{ face: 's1/top' }] }, { wall: `${wall} mm` }));
      expect([wall, s.state, s.why]).toEqual([wall, 'done', null]);
    }
  });
  it('a wall equal to the radius of a round goes', async () => {
    const drum = add(empty(), 'primitive', { shape: 'cylinder', plane: 'level', places: [], ...fresh }, { diameter: '60', height: '50' });
    const soft = add(drum, 'fillet', { body: 's1', edges: [{ edge: 's1/foot|s1/side' }] }, { radius: '4 mm' });
    const s = await last(add(soft, 'shell', { body: 's1', open: [{ face: 's1/top' }] }, { wall: '4 mm' }));
    expect(s.state).toBe('done');
    // Inside the round nothing is left of it: a plain drum 26 wide.
    expect(s.volumeChange).toBeCloseTo(-Math.PI * 26 * 26 * 46, 3);
  });
});

describe('the diffuser', () => {
  const { scope } = evaluateDimensions(diffuserBody.dimensions);
  it('holds what was taken out of it, to the last digit, and reads its wall and sizes exactly', async () => {
    const r = await engine.rebuild(diffuserBody);
    const { id, body } = engine.bodies()[0]!;
    const m = await measureBody(await testKernel(), diffuserBody, scope, id, body, async () => true);
    const hollowed = r.steps.at(-1)!;
    expect(m!.readings.capacityBrim! / -hollowed.volumeChange!).toBeCloseTo(1, 9);
    expect(m!.readings.wallMin).toBeCloseTo(2.2, 4);
    expect(m!.readings.height).toBeCloseTo(140, 9);
    expect(m!.readings.volume / r.bodies[0]!.volume).toBeCloseTo(1, 12);
  });
  it('is drawn from its outline: closed, of its volume, each face under its name', async () => {
    const kernel = await testKernel();
    await engine.rebuild(diffuserBody);
    const { id, body } = engine.bodies()[0]!;
    const scene = sceneOf(kernel, diffuserBody, id, body);
    const skin = weldedMesh({ positions: scene.positions, normals: scene.normals, indices: scene.indices, faceOf: scene.faceOf });
    expect(isClosedMesh(skin)).toBe(true);
    expect(massProperties(skin).volume / body.volume).toBeCloseTo(1, 2);
    expect(new Set(scene.faceOf).size).toBe(body.faces.length);
    const area = scene.faceAreas.reduce((a, b) => a + b, 0);
    expect(area / (await engine.rebuild(diffuserBody)).bodies[0]!.area).toBeCloseTo(1, 9);
  });
  it('is told what a wall will swallow, and up to which it keeps every face', async () => {
    await engine.rebuild(diffuserBody);
    const before = engine.bodyBefore(diffuserBody, 's5')!;
    const open = new Set([before.faces.indexOf('s2/rim')]);
    const told = async (wall: number) =>
      (await forecastWall(await testKernel(), diffuserBody, 's5', before, open, wall, async () => true))!;
    const { keepsAllUpTo, noneFrom } = await told(1);
    expect(keepsAllUpTo).toBeGreaterThan(0);
    expect(noneFrom).toBeGreaterThan(keepsAllUpTo!);
    expect((await told(keepsAllUpTo! * 0.99)).swallowed).toEqual([]);
    expect((await told(keepsAllUpTo! * 1.2)).swallowed.length).toBeGreaterThan(0);
    // No inside is left from there on.
    const shell = diffuserBody.steps[4]!;
    const at = async (w: number) => (await last(setStep(diffuserBody, { ...shell, values: { ...shell.values, wall: `${w} mm` } }))).state;
    expect([await at(noneFrom * 0.999), await at(noneFrom * 1.001)]).toEqual(['done', 'failed']);
  });
});
