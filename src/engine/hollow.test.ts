/** Walls to either side, walls of their own, surfaces given a wall, cavities turned and closed: against mensuration. */
import { BufferAttribute, BufferGeometry, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/support/kernel';
import {
  add,
  at,
  bodies,
  box,
  circle,
  disc,
  empty,
  engine,
  extrude,
  flat,
  loft,
  block as square,
  stack,
  volume,
} from '../../tests/support/parts';
import { arc, line, sketchProfile } from '../../tests/support/sketch';
import { addStep, patchStep, setProfile } from '../core/recipe/edit';
import type { Profile, Project, Step } from '../core/recipe/schema';
import { borderChains, loopOf } from '../kernel/surface';
import { tessellate } from '../kernel/tessellate';
import { exportBodies } from './export';

const report = async (p: Project) => (await engine.rebuild(p)).steps.at(-1)!;
const block = () => box(empty(), [60, 40, 30]);
const hollow = (p: Project, more: Record<string, unknown> = {}, values: Record<string, string> = {}) =>
  add(p, 'shell', { body: 's1', open: [{ face: 's1/end' }], ...more }, { wall: '2 mm', ...values });

/** A wall of t round a box open above, its outer edges and corners rolled round: prisms, quarter cylinders, eighths of a ball. */
const around = (a: number, b: number, c: number, t: number): number =>
  a * b * t + 2 * (a + b) * c * t + Math.PI * t * t * c + (2 * (a + b) * Math.PI * t * t) / 4 + (2 / 3) * Math.PI * t ** 3;

describe('a hollow', () => {
  it('has its wall inside, outside, or half to either side', async () => {
    const inside = 60 * 40 * 30 - 56 * 36 * 28;
    expect(await volume(hollow(block()))).toBeCloseTo(inside, 3);
    expect(await volume(hollow(block(), { side: 'outward' }))).toBeCloseTo(around(60, 40, 30, 2), 2);
    expect(await volume(hollow(block(), { side: 'centred' }))).toBeCloseTo(60 * 40 * 30 - 58 * 38 * 29 + around(60, 40, 30, 1), 2);
    expect(await volume(hollow(block(), { side: 'outward', open: [] }))).toBeCloseTo(
      around(60, 40, 30, 2) + 60 * 40 * 2 + (2 * 100 * Math.PI * 4) / 4 + (2 / 3) * Math.PI * 8,
      2,
    );
  });
  it('has another wall at the faces picked: thicker or thinner, flat or curved', async () => {
    const floor = { other: [{ face: 's1/start' }] };
    expect(await volume(hollow(block(), floor, { floor: '5 mm' }))).toBeCloseTo(72000 - 56 * 36 * 25, 3);
    expect(await volume(hollow(block(), floor, { floor: '1 mm' }))).toBeCloseTo(72000 - 56 * 36 * 29, 3);
    const cone = add(
      empty(),
      'primitive',
      { shape: 'cone', plane: 'level', places: [], mode: 'new', body: null },
      { diameter: '40', top: '60', height: '50' },
    );
    await engine.rebuild(cone);
    const faces = engine.bodies()[0]!.body.faces;
    const side = faces.find((f) => f.endsWith('side'))!;
    const top = faces.find((f) => f.endsWith('end') || f.endsWith('top'))!;
    /** A cone of half the opening per height 1/5, hollowed from a floor of 2 to the brim, its side w thick. */
    const left = (w: number): number => {
      const r = (z: number): number => 20 + z / 5 - w * Math.hypot(1, 1 / 5);
      return (Math.PI / 3) * (50 * (400 + 600 + 900) - 48 * (r(2) ** 2 + r(2) * r(50) + r(50) ** 2));
    };
    const own = (w: string) =>
      add(cone, 'shell', { body: 's1', open: [{ face: top }], other: [{ face: side }] }, { wall: '2 mm', floor: w });
    expect(await volume(own('4 mm'))).toBeCloseTo(left(4), 2);
    // Thinner at the side, and the floor keeps its wall: under the pocket too, whose foot meets it square to the side.
    expect(await volume(own('1.2 mm'))).toBeCloseTo(left(1.2), 2);
    expect((await report(own('1.2 mm'))).note).toMatch(/^wall 1\.20 mm at its thinnest, up to 2\.\d\d mm, measured at \d+ places/);
  });
  it('tells the wall it came out with', async () => {
    expect((await report(hollow(block()))).note).toMatch(/^wall 2\.00 mm at its thinnest, measured at \d+ places$/);
    expect((await report(hollow(block(), { side: 'centred' }))).note).toMatch(/^wall 2\.00 mm at its thinnest, measured/);
    expect((await report(hollow(block(), { other: [{ face: 's1/start' }] }, { floor: '5 mm' }))).note).toContain('up to 5.00 mm');
  });
  it('keeps its wall in a body whose edges fade into a circle, by three-mesh-bvh on fine facets', async () => {
    const vessel = loft(stack([[0, disc(19.1785)] as const, [54.3778, square(57.4101)] as const]));
    const made = add(vessel, 'shell', { body: 's3', open: [{ topOf: 's3' }] }, { wall: '2 mm' });
    const s = await report(made);
    expect([s.state, s.why]).toEqual(['done', null]);
    expect(s.note).toMatch(/^wall 2\.00 mm at its thinnest/);
    const { body } = engine.bodies()[0]!;
    const skin = tessellate(await testKernel(), body.shape, 0.003);
    const inner = (t: number): boolean => body.faces[skin.faceOf[t]!]!.includes('/inner(');
    const kept = [...skin.faceOf.keys()].filter((t) => !/inner|rim|corner/.test(body.faces[skin.faceOf[t]!]!));
    const geometry = new BufferGeometry().setAttribute('position', new BufferAttribute(skin.positions, 3));
    geometry.setIndex(kept.flatMap((t) => [...skin.indices.subarray(3 * t, 3 * t + 3)]));
    const outside = new MeshBVH(geometry);
    let least = Number.POSITIVE_INFINITY;
    for (let t = 0; t < skin.faceOf.length; t++)
      if (inner(t))
        for (const i of skin.indices.subarray(3 * t, 3 * t + 3))
          least = Math.min(least, outside.closestPointToPoint(new Vector3().fromArray(skin.positions, 3 * i))!.distance);
    expect(least).toBeGreaterThan(2 - 0.01);
    expect(least).toBeLessThan(2 + 0.02);
  });
  it('that does not go offers what does', async () => {
    const s = await report(hollow(block(), {}, { wall: '21 mm' }));
    expect(s.fixes.map((f) => f.words)).toEqual([
      expect.stringMatching(/^Use a wall of 19\.\d mm$|^Use a wall of \d+(\.\d)? mm$/),
      expect.stringContaining('smooth cavity'),
      expect.stringContaining('section by section'),
      'Hollow it as a mesh, for printing only',
    ]);
  });
});

const skin = { mode: 'surface', body: null } as const;
const screen = (): Profile => ({
  ...sketchProfile({ a: [0, 0], b: [30, 0], c: [40, 10], m: [30, 10] }, [line('ab'), arc('bcm')]),
  id: 'l',
  name: 'l',
  plane: 'level',
  half: false,
});
const wallOn = (side: string, wall = '2 mm') =>
  add(extrude(empty(), screen(), skin, { length: '20' }), 'thicken', { body: 's1', side }, { wall });

describe('a surface', () => {
  it('given a wall is a solid of that wall, to either side and to both', async () => {
    // Straight 30 · t, and a quarter ring of radius 10 with the wall outside or inside of it.
    const ring = (r0: number, r1: number): number => (Math.PI / 4) * Math.abs(r1 * r1 - r0 * r0);
    const [out, within, half] = [20 * (60 + ring(10, 12)), 20 * (60 + ring(8, 10)), 20 * (60 + ring(9, 11))];
    const [front, back] = [await volume(wallOn('front')), await volume(wallOn('back'))];
    expect([front, back].sort((a, b) => a - b)).toEqual([expect.closeTo(within, 3), expect.closeTo(out, 3)]);
    expect(await volume(wallOn('both'))).toBeCloseTo(half, 3);
    const r = await engine.rebuild(wallOn('front'));
    expect(r.bodies[0]!.closed).toBe(true);
  });
  it('has its ends across it, or flush with its borders', async () => {
    // A cone's skin, radius 20 below and 30 above, 50 high, with a wall of 3 before it.
    const half = { ...sketchProfile({ a: [20, 0], b: [30, 50] }, [line('ab')]), id: 'h', name: 'h', plane: 'front', half: true };
    const skinOf = add(setProfile(empty(), half), 'revolve', { profile: 'h', ...skin }, { angle: '360°' });
    const wall = (side: string, ends: string) => add(skinOf, 'thicken', { body: 's1', side, ends }, { wall: '3 mm' });
    const slant = Math.hypot(1, 1 / 5);
    /** Between two cones of the same opening, from level to level: rings of an even width across. */
    const flush = (sign: number): number => {
      const frustum = (d: number): number => (Math.PI / 3) * 50 * ((20 + d) ** 2 + (20 + d) * (30 + d) + (30 + d) ** 2);
      return Math.abs(frustum(sign * 3 * slant) - frustum(0));
    };
    const found = [await volume(wall('front', 'square')), await volume(wall('back', 'square'))].sort((a, b) => a - b);
    expect(found).toEqual([expect.closeTo(flush(-1), 3), expect.closeTo(flush(1), 3)]);
    const r = await engine.rebuild(wall('front', 'square'));
    expect([r.bodies[0]!.bbox.min[2], r.bodies[0]!.bbox.max[2]]).toEqual([expect.closeTo(0, 6), expect.closeTo(50, 6)]);
    const across = await engine.rebuild(wall('front', 'normal'));
    expect(across.bodies[0]!.bbox.max[2] - across.bodies[0]!.bbox.min[2]).toBeGreaterThan(50.5);
    const both = flush(1) / 2 + flush(-1) / 2;
    expect(Math.abs((await volume(wall('both', 'square'))) / both - 1)).toBeLessThan(0.01);
  });
  it('that is a spline is carried on too, and an open one with no flat border is not', async () => {
    const bowl = loft(
      stack([
        [0, disc(20)],
        [20, disc(26)],
        [40, disc(28)],
      ]),
      { mode: 'surface' },
    );
    const id = bowl.steps.at(-1)!.id;
    const r = await engine.rebuild(add(bowl, 'thicken', { body: id, side: 'front', ends: 'square' }, { wall: '2 mm' }));
    expect(r.bodies[0]!.closed).toBe(true);
    expect([r.bodies[0]!.bbox.min[2], r.bodies[0]!.bbox.max[2]]).toEqual([expect.closeTo(0, 5), expect.closeTo(40, 5)]);
    expect(
      (await report(add(extrude(empty(), screen(), skin, { length: '20' }), 'thicken', { body: 's1', side: 'front', ends: 'square' }))).why,
    ).toBe('none of its borders is flat, so there is no plane for its ends');
  });
  it('moved along its normals stays a surface, longer or shorter round the bend', async () => {
    const r = await engine.rebuild(wallOn('moved'));
    expect(r.bodies[0]!.closed).toBe(false);
    const area = r.bodies[0]!.area / 20;
    expect([30 + 6 * Math.PI, 30 + 4 * Math.PI].some((a) => Math.abs(a - area) < 1e-3)).toBe(true);
  });
  it('that bends tighter than the wall is refused, with one that works', async () => {
    const told = [await report(wallOn('front', '11 mm')), await report(wallOn('back', '11 mm'))];
    const failed = told.find((s) => s.state === 'failed')!;
    expect(failed.fixes[0]!.words).toMatch(/^Use \d/);
  });
  it('is closed with flat caps to the solid it was the skin of', async () => {
    const tube = extrude(empty(), circle('o', 'level', 10), skin, { length: '30' });
    const closed = add(tube, 'close', { body: 's1' });
    expect(await volume(closed)).toBeCloseTo(Math.PI * 100 * 30, 4);
    expect((await report(closed)).note).toBe(`2 borders closed, of ${(20 * Math.PI).toFixed(2)}, ${(20 * Math.PI).toFixed(2)} mm`);
  });
  it('with a border off its plane says by how much, and is closed once it is trimmed', async () => {
    const tube = extrude(empty(), circle('o', 'level', 10), skin, { length: '30' });
    const saddle = {
      ...sketchProfile({ a: [-30, 20], b: [30, 20], m: [0, 26] }, [{ kind: 'spline', id: 'cut', from: 'a', to: 'b', through: ['m'] }]),
      id: 'cut',
      name: 'cut',
      plane: 'front',
      half: false,
    };
    const cut = add(setProfile(tube, saddle), 'split', {
      body: 's1',
      by: 'profile',
      plane: 'level',
      profile: 'cut',
      tool: null,
      keep: 'second',
    });
    const flat = add(cut, 'close', { body: 's1' });
    const s = await report(flat);
    expect(s.why).toMatch(/a border of 6\d\.\d+ mm leaves its plane by 0\.\d+ mm/);
    // Repairs it offers: cut back to the plane through its lowest places, or a patch over it as it is.
    expect(s.fixes.map((f) => f.words)).toEqual([
      'Close it with a patch that follows it',
      expect.stringMatching(/^Cut it back to a plane, [01]\.\d\d mm at most$/),
    ]);
    /** Heights of the border, on the exact edge. */
    const heights = borderChains(await testKernel(), engine.bodies()[0]!.body.shape).flatMap((c) =>
      loopOf(c).offPlane < 1e-6 ? [] : c.flatMap((e) => e.points.map((p) => p[2])),
    );
    const [low, high] = [Math.min(...heights), Math.max(...heights)];
    const back = await volume(patchStep(flat, 's3', s.fixes[1]!));
    expect(back).toBeGreaterThan(Math.PI * 100 * (low - 0.02));
    expect(back).toBeLessThan(Math.PI * 100 * low);
    expect((await report(patchStep(flat, 's3', s.fixes[1]!))).note).toMatch(/cut back by 0\.\d\d mm$/);
    // A membrane’s mean height is its border’s.
    const patched = await volume(patchStep(flat, 's3', s.fixes[0]!));
    const border = heights.reduce((sum, z) => sum + z, 0) / heights.length;
    expect(Math.abs(patched / (Math.PI * 100 * border) - 1)).toBeLessThan(5e-3);
    expect(high - low).toBeGreaterThan(0.4);
    const trimmed = add(cut, 'split', { body: 's1', by: 'plane', plane: 'level', profile: null, tool: null, keep: 'first' });
    expect((await report(trimmed)).state).toBe('failed');
    const lift = addStep(cut, 'plane', { by: 'distance', from: 'level' }, { distance: '18' });
    const below = add(lift.project, 'split', { body: 's1', by: 'plane', plane: lift.id, profile: null, tool: null, keep: 'second' });
    expect(await volume(add(below, 'close', { body: 's1' }))).toBeCloseTo(Math.PI * 100 * 18, 3);
  });
});

describe('a hollow of facets', () => {
  const meshed = (wall: string, resolution = '1 mm') =>
    add(block(), 'meshhollow', { body: 's1', open: [{ face: 's1/end' }] }, { wall, resolution });
  it('keeps the wall, is closed, and nearly the box it would be', async () => {
    const p = meshed('3 mm');
    const r = await engine.rebuild(p);
    const s = r.steps.at(-1)!;
    expect(s.state).toBe('warned');
    expect(s.message).toContain('mesh only');
    const [, least] = /wall ([\d.]+) to ([\d.]+) mm/.exec(s.note!)!.map(Number) as [number, number];
    expect(least).toBeGreaterThanOrEqual(3);
    const exact = 72000 - 54 * 34 * 27;
    expect(r.bodies[0]!.volume).toBeGreaterThanOrEqual(exact);
    expect(r.bodies[0]!.volume / exact).toBeLessThan(1.06);
    expect([r.bodies[0]!.closed, r.bodies[0]!.facets]).toEqual([true, true]);
    const { body } = engine.bodies()[0]!;
    const kernel = await testKernel();
    expect(exportBodies(kernel, [{ body: body, name: 'Block' }], 'stl', 0.1, 'Part').ok).toBe(true);
    const step = exportBodies(kernel, [{ body: body, name: 'Block' }], 'step', 0.1, 'Part');
    expect(step.ok ? '' : step.error).toContain('is a mesh');
  });
  it('comes back from its text, and takes no exact step afterwards', async () => {
    const p = add(meshed('3 mm'), 'fillet', { body: 's1', edges: [{ edge: 's1/front|s1/right' }] }, { radius: '2 mm' });
    expect((await report(p)).why).toBe('it is a mesh, and nothing exact is left to work on');
    const before = (await engine.rebuild(meshed('3 mm'))).bodies[0]!.volume;
    await engine.renew();
    expect((await engine.rebuild(meshed('3 mm'))).bodies[0]!.volume).toBeCloseTo(before, 6);
  });
  it('says where there is no room', async () => {
    expect((await report(meshed('21 mm'))).why).toBe('nowhere inside is it that far from the outside');
  });
});

describe('a border nearly flat', () => {
  /** A tube of radius 10 whose upper border rises and falls by 0.02 mm. */
  const tube = extrude(empty(), circle('o', 'level', 10), skin, { length: '30' });
  const wavy = {
    ...sketchProfile({ a: [-30, 20], b: [30, 20], m: [0, 20.3] }, [{ kind: 'spline', id: 'cut', from: 'a', to: 'b', through: ['m'] }]),
    id: 'cut',
    name: 'cut',
    plane: 'front',
    half: false,
  };
  const cut = add(setProfile(tube, wavy), 'split', {
    body: 's1',
    by: 'profile',
    plane: 'level',
    profile: 'cut',
    tool: null,
    keep: 'second',
  });
  const flat = add(cut, 'close', { body: 's1' });
  it('is flattened by what it says at most, and is a closed solid that goes on', async () => {
    const s = await report(flat);
    const fix = s.fixes[0]!;
    expect(fix.words).toMatch(/^Flatten it, by 0\.0\d+ mm at most$/);
    const done = patchStep(flat, 's3', fix);
    const v = await volume(done);
    expect(v / (Math.PI * 100 * 20.28)).toBeCloseTo(1, 3);
    expect((await report(done)).note).toMatch(/flattened by 0\.0\d+ mm at most$/);
    // What comes after takes it as any solid.
    expect(await volume(add(done, 'shell', { body: 's1', open: [] }, { wall: '2 mm' }))).toBeCloseTo(v - Math.PI * 64 * 16.28, -1.5);
  });
  it('stays refused where it leaves its plane by more than is allowed', async () => {
    expect((await report(add(cut, 'close', { body: 's1', caps: 'flatten' }, { within: '0.001 mm' }))).state).toBe('failed');
  });
});

describe('a lid', () => {
  /** A sealed drum of radius 20 and 60 high, 2 mm all round, parted at 40. */
  const drum = (more: Record<string, unknown>, values: Record<string, string> = {}) => {
    const solid = add(
      empty(),
      'primitive',
      { shape: 'cylinder', plane: 'level', places: [], mode: 'new', body: null },
      { diameter: '40', height: '60' },
    );
    const hollowed = add(solid, 'shell', { body: 's1', open: [] }, { wall: '2' });
    const lift = addStep(hollowed, 'plane', { by: 'distance', from: 'level' }, { distance: '40' });
    return add(lift.project, 'lid', { body: 's1', plane: lift.id, ...more }, values);
  };
  const ring = Math.PI * (400 - 324);
  it('is parted with a gap, and says on what they meet', async () => {
    const p = drum({ register: 'none' }, { gap: '0.5' });
    expect(await bodies(p)).toEqual({
      s1: expect.closeTo(ring * 40 + Math.PI * 324 * 2, 2),
      s4: expect.closeTo(ring * 19.5 + Math.PI * 324 * 2, 2),
    });
    expect((await report(p)).note).toBe(`they meet on ${(ring / 100).toFixed(2)} cm²`);
  });
  it('has a lip that goes into the cavity with its clearance', async () => {
    const p = drum({ register: 'lip' }, { gap: '0.5', lip: '4', thick: '1.5', clearance: '0.3' });
    const s = await report(p);
    expect(s.note).toContain('come no nearer than 0.300 mm');
    // Down: a ring 17.7 / 16.2 wide; its root goes out to the wall of the lid, 18, over one thickness.
    const down = Math.PI * (17.7 ** 2 - 16.2 ** 2) * 4.5;
    const root = Math.PI * (18 ** 2 - 16.2 ** 2) * 1.5;
    expect((await bodies(p)).s4).toBeCloseTo(ring * 19.5 + Math.PI * 324 * 2 + down + root, 1);
  });
  it('says where there is nothing for a lip to go into, and where the cavity narrows below', async () => {
    const solid = box(empty(), [20, 20, 20]);
    const lift = addStep(solid, 'plane', { by: 'distance', from: 'level' }, { distance: '10' });
    expect((await report(add(lift.project, 'lid', { body: 's1', plane: lift.id, register: 'lip' }))).why).toContain(
      'no cavity at the plane',
    );
    const cone = add(
      empty(),
      'primitive',
      { shape: 'cone', plane: 'level', places: [], mode: 'new', body: null },
      { diameter: '40', top: '80', height: '60' },
    );
    const hollowed = add(cone, 'shell', { body: 's1', open: [] }, { wall: '2' });
    const cut = addStep(hollowed, 'plane', { by: 'distance', from: 'level' }, { distance: '40' });
    expect((await report(add(cut.project, 'lid', { body: 's1', plane: cut.id, register: 'lip' }))).why).toContain(
      'the cavity narrows below the plane',
    );
  });
});

describe('holes', () => {
  const bored = (depth: string, places: readonly { at: [string, string, string] }[]) =>
    add(block(), 'hole', { body: 's1', places, plane: 'level', depth }, { part: '4', clearance: '0.25', deep: '10' });
  it('are as wide as what goes in and its clearance, through or to a depth', async () => {
    const two = [at(-15, 0, 30), at(15, 0, 30)];
    expect(await volume(bored('through', two))).toBeCloseTo(72000 - 2 * Math.PI * 2.25 ** 2 * 30, 3);
    expect(await volume(bored('blind', two))).toBeCloseTo(72000 - 2 * Math.PI * 2.25 ** 2 * 10, 3);
    expect((await report(bored('through', two))).note).toBe('⌀ 4.50 mm = 4.00 + 2 × 0.25');
  });
  it('say where they miss', async () => {
    expect((await report(bored('through', [at(200, 0, 0)]))).message).toContain('cuts nothing from');
    expect((await report(bored('through', []))).message).toBe('no place is picked');
  });
});

describe('a cavity', () => {
  const into = (p: Project, open: string, more: Record<string, unknown> = {}) => {
    const body = p.steps.at(-1)!.id;
    const inputs = { body, open: [{ face: `${body}/${open}` }], plane: 'level', rim: 'round', lean: 'free', ...more };
    return add(p, 'cavity', inputs, { wall: '2.5', floor: '4', band: '8' });
  };
  const taken = async (p: Project): Promise<number> => {
    const s = await report(p);
    expect(`${s.state}: ${s.why ?? ''}`).toBe('done: ');
    // The wall that was measured on the exact surfaces is the least of all, and the chart says so too.
    expect(Number(/wall ([\d.]+) to/.exec(s.note!)![1])).toBeGreaterThanOrEqual(2.499);
    expect(Math.min(...s.chart!.rows.map((r) => r.least))).toBeGreaterThan(2.45);
    return -s.volumeChange!;
  };
  it('turned into a block is the cylinder that keeps the wall', async () => {
    const v = await taken(into(box(empty(), [50, 50, 60]), 'end'));
    expect(v / (Math.PI * 22.5 ** 2 * 56)).toBeGreaterThan(0.98);
    expect(v / (Math.PI * 22.5 ** 2 * 56)).toBeLessThan(1);
  });
  it('follows the outside below the rim, or all the way where there is no axis', async () => {
    const square = box(empty(), [50, 50, 40]);
    const round = await taken(into(square, 'end'));
    const follow = await taken(into(square, 'end', { rim: 'follow' }));
    const sections = await taken(into(square, 'end', { rim: 'sections' }));
    expect(follow).toBeGreaterThan(round * 1.01);
    expect(sections).toBeGreaterThan(follow * 1.02);
    // The even inset of a block holds more: the corners inside are drawn round.
    expect(sections).toBeLessThan(45 * 45 * 36);
    expect(sections).toBeGreaterThan(0.9 * 45 * 45 * 36);
    // A body that comes to an edge 1.2 mm thick: the inside begins where it is thick enough for its length.
    const edge = (id: string, plane: string) =>
      flat(id, plane, [
        [-20, -0.6],
        [20, -0.6],
        [20, 0.6],
        [-20, 0.6],
      ]);
    const pouch = loft(
      stack([
        [0, edge],
        [
          60,
          (id: string, plane: string) =>
            flat(id, plane, [
              [-14, -14],
              [14, -14],
              [14, 14],
              [-14, 14],
            ]),
        ],
      ]),
      { skin: 'ruled' },
    );
    const s = await report(
      add(pouch, 'cavity', (into(pouch, 'end', { rim: 'sections' }).steps.at(-1) as Step).inputs, { wall: '0.8', floor: '2', band: '8' }),
    );
    expect([s.state, s.why]).toEqual(['warned', null]);
    const half = (z: number): number => 0.6 + (13.4 * z) / 60;
    const floor = Number(/floor lies ([\d.]+) mm/.exec(s.warnings[0]!.message)![1]);
    const room = half(floor) * Math.cos(Math.atan(13.4 / 60)) - 0.8;
    const slim = Math.hypot(20 - (6 * floor) / 60, half(floor)) / room;
    expect(slim).toBeGreaterThan(36);
    expect(slim).toBeLessThan(41);
    expect(Number(/wall ([\d.]+) to/.exec(s.note!)![1])).toBeGreaterThanOrEqual(0.799);
    // Shoulders, one over the other, and notches round the foot: the inside steps back under the one and begins over the other.
    const upright = (p: Project, z: number, r: number, length: string): Project => {
      const lift = addStep(p, 'plane', { by: 'distance', from: 'level' }, { distance: `${z} mm` });
      return extrude(lift.project, disc(r)(`at${z}`, lift.id), { mode: 'join', body: 's1' }, { length });
    };
    const bottle = upright(upright(box(empty(), [44, 36, 50]), 50, 15, '6'), 56, 11, '10');
    const top = { open: [{ topOf: bottle.steps.at(-1)!.id }], body: 's1' };
    const neck = await taken(into(bottle, 'end', { ...top, rim: 'sections' }));
    // The even inset, its corners square; the neck's bore and the collar's.
    const inset = 39 * 31 * (50 - 2.5 - 4) + Math.PI * (12.5 ** 2 * 6 + 8.5 ** 2 * 10);
    expect(neck).toBeGreaterThan(0.85 * inset);
    expect(neck).toBeLessThan(inset);
    // A leaning body: no upright axis passes through all of it.
    const leaning = loft(
      stack([
        [0, disc(14)],
        [60, disc(12, [26, 0])],
      ]),
      {},
    );
    expect((await report(into(leaning, 'end'))).fixes[0]!.words).toBe('Follow the outside section by section');
    const v = await taken(into(leaning, 'end', { rim: 'sections' }));
    // Discs with radii from 14 to 12, less the wall square to a side that leans 23°.
    const frustum = (a: number, b: number, h: number): number => (Math.PI * h * (a * a + a * b + b * b)) / 3;
    expect(v).toBeGreaterThan(0.9 * frustum(11.2, 9.3, 56));
    expect(v).toBeLessThan(frustum(11.5, 9.5, 56));
  });
});
