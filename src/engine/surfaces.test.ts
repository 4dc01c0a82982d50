/** Surfaces: skins raised from lines and outlines, their borders, what splits by them and what can't be done to them. */
import { describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/support/kernel';
import { add, box, circle, empty, engine, extrude, flat, loft, square, stack, sweep } from '../../tests/support/parts';
import { arc, line, sketchProfile } from '../../tests/support/sketch';
import { addStep, setProfile } from '../core/recipe/edit';
import { nextOffers } from '../core/recipe/offers';
import type { Profile, Project } from '../core/recipe/schema';
import { namedEdges } from '../kernel/names';

const skin = { mode: 'surface', body: null } as const;
const open = (id: string, plane: string, half = false): Profile => ({
  ...sketchProfile({ a: [-10, 0], b: [20, 0], c: [30, 10], m: [20, 10] }, [line('ab'), arc('bcm')]),
  id,
  name: id,
  plane,
  half,
});

async function report(p: Project) {
  const r = await engine.rebuild(p);
  const s = r.steps[r.steps.length - 1]!;
  return { body: r.bodies[r.bodies.length - 1], said: `${s.state}: ${s.message ?? ''}; ${s.why ?? ''}`, all: r.bodies, state: s.state };
}

/** The names of the edges of the first body. */
async function sceneEdges(p: Project): Promise<string[]> {
  await engine.rebuild(p);
  const { body } = engine.bodies()[0]!;
  return namedEdges(await testKernel(), body).map((e) => e.name);
}

describe('a surface', () => {
  it('is what an open line leaves when it is pushed: its length times the height, with one border', async () => {
    const r = await report(extrude(empty(), open('l', 'level'), skin, { length: '12' }));
    expect(r.said).toBe('done: ; ');
    const length = 30 + 5 * Math.PI;
    expect(r.body!.area).toBeCloseTo(12 * length, 4);
    expect([r.body!.closed, r.body!.volume, r.body!.borders.length]).toEqual([false, 0, 1]);
    expect(r.body!.borders[0]!.length).toBeCloseTo(2 * (12 + length), 4);
    expect(r.body!.borders[0]!.offPlane).toBeGreaterThan(3);
  });
  it('turned from a line has the area of Pappus, and two round flat borders', async () => {
    const half = { ...sketchProfile({ a: [10, 0], b: [20, 30] }, [line('ab')]), id: 'h', name: 'h', plane: 'front', half: true };
    const r = await report(addStep(setProfile(empty(), half), 'revolve', { profile: 'h', ...skin }, { angle: '360°' }).project);
    expect(r.said).toBe('done: ; ');
    // Lateral area of a frustum: π (r + R) s.
    expect(r.body!.area).toBeCloseTo(Math.PI * 30 * Math.hypot(10, 30), 4);
    expect(r.body!.borders.map((b) => b.length).sort((a, b) => a - b)).toEqual([
      expect.closeTo(20 * Math.PI, 4),
      expect.closeTo(40 * Math.PI, 4),
    ]);
    for (const b of r.body!.borders) expect(b.offPlane).toBeLessThan(1e-6);
  });
  it('of a closed outline is its skin without the flat ends', async () => {
    const r = await report(extrude(empty(), flat('o', 'level', square(20)), skin, { length: '8' }));
    expect(r.body!.area).toBeCloseTo(4 * 20 * 8, 6);
    expect(r.body!.borders.length).toBe(2);
  });
  it('is lofted through open lines, and swept with one', async () => {
    const across = (width: number) => (id: string, plane: string) => ({
      ...sketchProfile({ a: [-width, 0], b: [width, 0] }, [line('ab')]),
      id,
      name: id,
      plane,
      half: false,
    });
    const lofted = await report(
      loft(
        stack([
          [0, across(10)],
          [40, across(20)],
        ]),
        { ...skin, skin: 'ruled' },
      ),
    );
    expect(lofted.said).toBe('done: ; ');
    expect(lofted.body!.area).toBeCloseTo(40 * 30, 4);
    const path: Profile = {
      ...sketchProfile({ a: [0, 0], b: [0, 50] }, [line('ab')]),
      id: 'path',
      name: 'path',
      plane: 'front',
      half: false,
    };
    const swept = await report(
      sweep(setProfile(setProfile(empty(), path), open('sec', 'level')), { profile: 'path', curve: 'ab' }, ['sec'], skin),
    );
    expect(swept.said).toBe('done: ; ');
    expect(swept.body!.area / (50 * (30 + 5 * Math.PI))).toBeCloseTo(1, 5);
  });
  it('parts a solid, and is parted by one and by a plane', async () => {
    const cut = { ...sketchProfile({ a: [-50, -20], b: [50, 20] }, [line('ab')]), id: 'cut', name: 'cut', plane: 'level', half: false };
    let p = box(empty(), [40, 40, 10]);
    p = extrude(p, cut, { ...skin, extent: 'symmetric' }, { length: '60' });
    const solid = p.steps[0]!.id;
    const surface = p.steps[1]!.id;
    const parted = add(p, 'split', { body: solid, by: 'body', plane: 'level', profile: null, tool: surface, keep: 'all' });
    const r = await report(parted);
    expect(r.said).toBe('done: ; ');
    expect(r.all.filter((b) => b.closed).reduce((sum, b) => sum + b.volume, 0)).toBeCloseTo(16000, 4);
    expect(r.all.filter((b) => b.closed).map((b) => b.volume)).toEqual([expect.closeTo(8000, 3), expect.closeTo(8000, 3)]);
    // It was raised last: the split that is offered for the solid begins by it, and uses it up.
    const built = { skins: new Set([surface]), made: () => undefined };
    const offer = nextOffers(p, built).offers.find((o) => o.kind === 'split' && o.inputs.body === solid)!;
    const used = await report(add(p, 'split', offer.inputs as Record<string, unknown>));
    expect(used.all.map((b) => b.volume)).toEqual([expect.closeTo(8000, 3), expect.closeTo(8000, 3)]);
    const drawing = { ...cut, id: 'open', name: 'open' };
    const drawn = nextOffers({ ...p, profiles: [...p.profiles, drawing] }, built).offers.find((o) => o.kind === 'split')!;
    expect(drawn.inputs).toMatchObject({ by: 'profile', profile: 'open' });
    // A drawing with nothing in it yet is no line.
    const begun = nextOffers({ ...p, profiles: [...p.profiles, { ...drawing, curves: [] }] }, built).offers.find(
      (o) => o.kind === 'split',
    )!;
    expect(begun.inputs).toMatchObject({ by: 'body', tool: surface });
    const trimmed = await report(
      add(p, 'split', { body: surface, by: 'body', plane: 'level', profile: null, tool: solid, keep: 'second' }),
    );
    expect(trimmed.said).toBe('done: ; ');
    // What lies inside the plate: its width along the slant, times its height.
    expect(trimmed.all.find((b) => b.id === surface)!.area).toBeCloseTo(Math.hypot(40, 16) * 10, 4);
    const halved = await report(add(p, 'split', { body: surface, by: 'plane', plane: 'front', profile: null, tool: null, keep: 'first' }));
    expect(halved.said).toBe('done: ; ');
    expect(halved.all.find((b) => b.id === surface)!.area).toBeCloseTo((Math.hypot(100, 40) * 60) / 2, 3);
  });
  it('is pushed up to a plane, level or leaning', async () => {
    const straight: Profile = { ...sketchProfile({ a: [0, 0], b: [20, 0] }, [line('ab')]), id: 'l', name: 'l', plane: 'level' };
    const level = addStep(empty(), 'plane', { by: 'distance', from: 'level' }, { distance: '12.5' });
    const up = { extent: 'plane', ...skin } as const;
    const flatTop = await report(extrude(level.project, straight, { ...up, upTo: level.id }));
    expect(flatTop.body!.area).toBeCloseTo(250, 6);
    // A plane through (0, 0, 10) that leans by 45° about the line away: heights of 10 to 30, and of 10 to −10 the other way.
    const raised = addStep(empty(), 'plane', { by: 'distance', from: 'level' }, { distance: '10' });
    const leaning = (angle: string) => addStep(raised.project, 'plane', { by: 'tilt', from: raised.id, about: 'up', paths: [] }, { angle });
    const tried = async (angle: string) => report(extrude(leaning(angle).project, straight, { ...up, upTo: leaning(angle).id }));
    const [over, under] = [await tried('45°'), await tried('-45°')];
    const [met, missed] = over.state === 'done' ? [over, under] : [under, over];
    expect(met.body!.area).toBeCloseTo(400, 6);
    expect(missed.said).toContain('with its whole line');
  });
  it('is rounded and bevelled along its inner edges, and not along its border', async () => {
    const angle: Profile = {
      ...sketchProfile({ a: [0, 0], b: [30, 0], c: [30, 20] }, [line('ab'), line('bc')]),
      id: 'l',
      name: 'l',
      plane: 'level',
    };
    const p = extrude(empty(), angle, skin, { length: '12' });
    const id = p.steps[0]!.id;
    const edges = await sceneEdges(p);
    const [one, other] = engine.bodies()[0]!.body.faces;
    const edge = edges.find((n) => n.includes(one!) && n.includes(other!))!;
    for (const r of [3, 9]) {
      const rounded = await report(add(p, 'fillet', { body: id, edges: [{ edge }] }, { radius: `${r}` }));
      expect(rounded.said).toBe('done: ; ');
      // Two lengths of r give way to a quarter of a circle.
      expect(rounded.body!.area).toBeCloseTo(12 * (50 - 2 * r + (Math.PI * r) / 2), 5);
      expect([rounded.body!.closed, rounded.body!.borders.length]).toEqual([false, 1]);
    }
    const bevelled = await report(add(p, 'chamfer', { body: id, edges: [{ edge }], by: 'distance', side: 'first' }, { distance: '4' }));
    expect(bevelled.body!.area).toBeCloseTo(12 * (50 - 8 + 4 * Math.SQRT2), 5);
    const far = await report(add(p, 'fillet', { body: id, edges: [{ edge }] }, { radius: '25' }));
    expect(far.state).toBe('failed');
    const smooth = await report(add(p, 'fillet', { body: id, edges: [{ edge }], section: 'smooth' }, { radius: '3' }));
    expect(smooth.said).toContain('cut from a solid');
    const border = (await sceneEdges(p)).find((n) => n !== edge)!;
    expect((await report(add(p, 'fillet', { body: id, edges: [{ edge: border }] }, { radius: '1' }))).said).toContain('it is a border');
  });
  it('is not rounded where the rounds of two creases would stand apart at its border', async () => {
    const drawn = (id: string, plane: string, points: Record<string, readonly [number, number]>, ...lines: string[]): Profile => ({
      ...sketchProfile(
        points,
        lines.map((l) => line(l)),
      ),
      id,
      name: id,
      plane,
    });
    const plane = addStep(empty(), 'plane', { by: 'distance', from: 'front' }, { distance: '12.5' });
    const low = drawn('low', 'front', { a: [0, 0], b: [40, 0], c: [40, 30] }, 'ab', 'bc');
    let p = extrude(plane.project, low, { ...skin, extent: 'plane', upTo: plane.id });
    p = setProfile(p, drawn('front', plane.id, { c: [40, 30], e: [0, 30], f: [0, 0] }, 'ce', 'ef'));
    const borders = (await sceneEdges(p)).filter((n) => n.startsWith('border'));
    const drawnSides = ['ce', 'ef'].map((curve) => ({ profile: 'front', curve }));
    // Of the plates' six border edges the two that lie in the plane close the front.
    const pairs = borders.flatMap((a, i) => borders.slice(i + 1).map((b) => [a, b]));
    let filled: Project | undefined;
    for (const pair of pairs) {
      const tried = add(p, 'patch', { paths: [...pair.map((edge) => ({ body: 's2', edge })), ...drawnSides], smooth: [] });
      if (!filled && (await report(tried)).state === 'done') filled = tried;
    }
    p = extrude(filled!, drawn('shelf', plane.id, { a: [0, 30], b: [40, 30] }, 'ab'), skin, { length: '25' });
    p = add(p, 'combine', { body: 's2', mode: 'join', tools: ['s3', 's4'], tooling: 'used' });
    const creases = (await sceneEdges(p)).filter((n) => !n.startsWith('border'));
    const round = (edges: readonly string[]) =>
      report(add(p, 'fillet', { body: 's2', edges: edges.map((edge) => ({ edge })) }, { radius: '5' }));
    const all = await round(creases);
    expect(all.said).toMatch(/^failed: .*would stand up to 0\.\d\d mm apart/);
    const apart = await round(creases.filter((n) => !n.includes('s4')));
    expect(apart.said).toBe('done: ; ');
  });
  it('is given a wall straight along a direction: as thick everywhere that way, with upright ends', async () => {
    // A quarter of a cylinder of 20, 30 long, over a square of 20 × 30: what is pushed up by w holds 600 w.
    const arch: Profile = {
      ...sketchProfile({ a: [0, 20], b: [20, 0], m: [0, 0] }, [arc('bam')]),
      id: 'l',
      name: 'l',
      plane: 'front',
    };
    const p = extrude(empty(), arch, skin, { length: '30' });
    const up = (side: string, wall: string, plane = 'level') => report(add(p, 'thicken', { body: 's1', side, plane }, { wall }));
    for (const [side, wall] of [
      ['along', 3],
      ['against', 3],
      ['along', 25],
    ] as const) {
      const r = await up(side, `${wall}`);
      expect(r.said).toBe('done: ; ');
      expect(r.body!.volume / (600 * wall)).toBeCloseTo(1, 6);
      expect(r.body!.bbox.max[2]! - r.body!.bbox.min[2]!).toBeCloseTo(20 + wall, 2);
      expect(r.body!.bbox.max[0]! - r.body!.bbox.min[0]!).toBeCloseTo(20, 2);
    }
    // Sideways it is as deep as it is wide.
    expect((await up('along', '4', 'side')).body!.volume / 2400).toBeCloseTo(1, 6);
    // A whole round pipe would be pushed into itself.
    const pipe = extrude(empty(), circle('c', 'front', 8), skin, { length: '10' });
    expect((await report(add(pipe, 'thicken', { body: 's1', side: 'along', plane: 'level' }, { wall: '2' }))).said).toContain(
      'leans over along that way',
    );
    // A skin of several faces stays one body.
    const bent: Profile = {
      ...sketchProfile({ a: [0, 0], b: [30, 4], c: [60, 0] }, [line('ab'), line('bc')]),
      id: 'l',
      name: 'l',
      plane: 'front',
    };
    const roof = await report(
      add(extrude(empty(), bent, skin, { length: '20' }), 'thicken', { body: 's1', side: 'against', plane: 'level' }, { wall: '2' }),
    );
    expect(roof.body!.volume).toBeCloseTo(60 * 20 * 2, 5);
    expect(roof.all).toHaveLength(1);
  });
  it('fills flat borders flat, the smaller ones left as holes', async () => {
    const outline: Profile = {
      ...sketchProfile({ a: [0, 0], b: [40, 0], c: [40, 30], d: [0, 30] }, [line('ab'), line('bc'), line('cd'), line('da')]),
      id: 'o',
      name: 'o',
      plane: 'front',
    };
    const hole = (id: string, at: readonly [number, number]) => circle(id, 'front', 5, at);
    const p = [outline, hole('h', [12, 15]), hole('k', [28, 15]), hole('far', [60, 15])].reduce(setProfile, empty());
    const sides = outline.curves.map((c) => ({ profile: 'o', curve: c.id }));
    const patch = (...holes: string[]) =>
      report(add(p, 'patch', { paths: [...sides, ...holes.map((h) => ({ profile: h, curve: 'c0' }))], smooth: [] }));
    const whole = await patch();
    expect(whole.body!.area).toBeCloseTo(1200, 6);
    const two = await patch('h', 'k');
    expect(two.said).toBe('done: ; ');
    expect(two.body!.area).toBeCloseTo(1200 - 50 * Math.PI, 6);
    expect(two.body!.borders.length).toBe(3);
    expect((await patch('far')).said).toContain('cross or overlap');
  });
  it('refuses in words what only a solid can have done to it', async () => {
    const p = extrude(empty(), circle('o', 'level', 10), skin, { length: '8' });
    const id = p.steps[0]!.id;
    const shelled = await report(add(p, 'shell', { body: id, open: [], side: 'inward' }, { wall: '1' }));
    expect(shelled.said).toContain('it is a surface and has no inside');
    const both = box(p, [5, 5, 5]);
    const joined = await report(add(both, 'combine', { body: both.steps[1]!.id, tools: [id], mode: 'join', tooling: 'used' }));
    expect(joined.said).toContain('is a surface and has no inside');
  });
  it('moves, turns and scales with its area', async () => {
    const p = extrude(empty(), open('l', 'level'), skin, { length: '12' });
    const scaled = { body: p.steps[0]!.id, by: 'scale', about: 'z', paths: [], faces: [], result: 'moved' };
    const [before, after] = [await report(p), await report(add(p, 'move', scaled, { factor: '2' }))];
    expect(after.said).toBe('done: ; ');
    expect(after.body!.area).toBeCloseTo(4 * before.body!.area, 4);
  });
});
