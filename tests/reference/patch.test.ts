/**
 * Patches within borders and surfaces knit together, against what must be so: a plane within a flat border, symmetry, the border itself,
 * and mensuration where what is knit is a known body.
 */
import { beforeAll, describe, expect, it } from 'vitest';
import { setProfile } from '../../src/core/recipe/edit';
import type { Profile, Project } from '../../src/core/recipe/schema';
import { areaOf } from '../../src/kernel/amounts';
import { measureJoins } from '../../src/kernel/inspect/joins';
import { namedEdges } from '../../src/kernel/names';
import { boundsOf } from '../../src/kernel/shapes';
import { add, circle, empty, engine, extrude, flat, square } from '../support/parts';
import { arc, sketchProfile } from '../support/sketch';

beforeAll(() => engine.start());

const last = async (p: Project) => {
  const r = await engine.rebuild(p);
  const s = r.steps.at(-1)!;
  return { report: s, said: `${s.state} ${s.message ?? ''} ${s.why ?? ''}`.trim(), note: s.note ?? '' };
};
const area = async (): Promise<number> => {
  const kernel = await engine.start();
  return engine.bodies().reduce((sum, b) => sum + areaOf(kernel, b.body.shape), 0);
};

/** A quarter of a shell: a quarter ellipse below, two arcs over its axes that rise square from the rim's plane's middle. */
const [A, B, H] = [46, 29, 14];
function quarter(): Project {
  const over = (id: string, plane: string, w: number): Profile => {
    // Through (w, 0), level at (0, H): its middle stands under the top.
    const r = (w * w + H * H) / (2 * H);
    return { ...sketchProfile({ a: [w, 0], b: [0, H], m: [0, H - r] }, [arc('abm')]), id, name: id, plane, half: false };
  };
  let p = setProfile(empty(), over('long', 'front', A));
  p = setProfile(p, over('short', 'side', B));
  return setProfile(p, {
    ...sketchProfile({ m: [0, 0], u: [A, 0], v: [0, B] }, [
      { kind: 'ellipse', id: 'rim', name: 'rim', centre: 'm', major: 'u', minor: B, arc: { from: 'u', to: 'v', ccw: true } } as never,
    ]),
    id: 'base',
    name: 'base',
    plane: 'level',
    half: false,
  });
}

const onArcs = { paths: [{ profile: 'base', curve: 'rim' }], smooth: ['long', 'short'].map((profile) => ({ profile, curve: 'abm' })) };

describe('a patch', () => {
  it('within a flat border is the plane there', async () => {
    const p = setProfile(empty(), circle('rim', 'level', 20));
    const { said, note } = await last(add(p, 'patch', { paths: [{ profile: 'rim', curve: 'c0' }], smooth: [] }));
    expect(said).toMatch(/^done/);
    expect(note).toMatch(/^flat; meets its border within 0\.00000 mm$/);
    expect(await area()).toBeCloseTo(Math.PI * 400, 6);
  });
  it('passes what it is to pass smoothly, so that its mirror images go on from it', async () => {
    const made = add(quarter(), 'patch', onArcs);
    const one = await last(made);
    expect(one.said).toMatch(/^done/);
    const part = await area();
    const half = add(made, 'mirror', { body: 's1', plane: 'side', result: 'joined' });
    const whole = add(half, 'mirror', { body: 's1', plane: 'front', result: 'joined' });
    const { said, note } = await last(whole);
    expect(said).toMatch(/^done/);
    // One border, the whole ellipse: by Gauss and Kummer's series.
    const h = ((A - B) / (A + B)) ** 2;
    const perimeter = Math.PI * (A + B) * (1 + h / 4 + h ** 2 / 64 + h ** 3 / 256 + (25 * h ** 4) / 16384);
    expect(Number(/^1 border open, of ([\d.]+) mm$/.exec(note)![1])).toBeCloseTo(perimeter, 1);
    expect(await area()).toBeCloseTo(4 * part, 2);
    // Its image in the same plane again is itself.
    const again = await last(add(whole, 'mirror', { body: 's1', plane: 'front', result: 'joined' }));
    expect(again.said).toMatch(/they lie on each other/);
    await engine.rebuild(whole);
    const { body } = engine.bodies()[0]!;
    const joins = (await measureJoins(await engine.start(), body))!;
    expect(joins).toHaveLength(4);
    for (const j of joins) expect([j.edge, j.angle < (0.1 * Math.PI) / 180]).toEqual([j.edge, true]);
    // The same border only met is creased along its seams.
    const met = add(quarter(), 'patch', { paths: [...onArcs.paths, ...onArcs.smooth], smooth: [] });
    const creased = await last(add(met, 'mirror', { body: 's1', plane: 'side', result: 'joined' }));
    expect(creased.said).toMatch(/^done/);
    const seam = (await measureJoins(await engine.start(), engine.bodies()[0]!.body))!;
    expect(Math.max(...seam.map((j) => j.angle))).toBeGreaterThan((1 * Math.PI) / 180);
  });
  it('says where its border is open, and how far', async () => {
    const { report, said } = await last(add(quarter(), 'patch', { ...onArcs, smooth: onArcs.smooth.slice(1) }));
    expect(said).toMatch(/its border is open: its ends are 48\.08[34] mm apart/);
    expect(report.unfinished).toBe(true);
    const none = await last(add(quarter(), 'patch', { paths: [], smooth: [] }));
    expect(none.report.unfinished).toBe(true);
  });
  it('goes on from the surface whose border it fills', async () => {
    // A ball's zone with a hole at its top: the patch over it is nearly the ball's own.
    const R = 30;
    const p = setProfile(empty(), {
      ...sketchProfile({ a: [R, 0], b: [R * Math.sin(0.5), R * Math.cos(0.5)], m: [0, 0] }, [arc('abm')]),
      id: 'zone',
      name: 'zone',
      plane: 'front',
      half: true,
    });
    const zone = add(p, 'revolve', { profile: 'zone', mode: 'surface', body: null }, { angle: '360°' });
    await last(zone);
    const kernel = await engine.start();
    const { body } = engine.bodies()[0]!;
    const before = await area();
    const rims = namedEdges(kernel, body).filter((e) => e.faces.length === 1);
    const upper = rims.map((e) => e.name).filter((n) => n !== '');
    expect(upper.length).toBeGreaterThan(0);
    const over = rims.find((e) => boundsOf(kernel, e.edge).max[2] > 5)!.name;
    const patched = add(zone, 'patch', { paths: [], smooth: [{ body: 's1', edge: over }] });
    const { said } = await last(patched);
    expect(said).toMatch(/^(done|warned)/);
    // Archimedes: a cap's area is 2πRh.
    expect((await area()) - before).toBeCloseTo(2 * Math.PI * R * R * (1 - Math.cos(0.5)), -1);
    const joined = await last(add(patched, 'combine', { body: 's1', mode: 'join', tools: ['s2'], tooling: 'used' }));
    expect(joined.said).toMatch(/^done/);
    expect(joined.note).toMatch(/^1 border open/);
  });
});

describe('surfaces that share borders', () => {
  const tube = (): Project => extrude(empty(), flat('p1', 'level', square(20)), { mode: 'surface' }, { length: '10 mm' });
  /** The tube's walls, and a patch over each of its ends. */
  async function parts(): Promise<Project> {
    let p = tube();
    await last(p);
    const kernel = await engine.start();
    const borders = namedEdges(kernel, engine.bodies()[0]!.body).filter((e) => e.faces.length === 1);
    for (const above of [false, true]) {
      const edges = borders.filter((e) => boundsOf(kernel, e.edge).max[2] > 5 === above).map((e) => ({ body: 's1', edge: e.name }));
      expect(edges).toHaveLength(4);
      p = add(p, 'patch', { paths: edges, smooth: [] });
    }
    return p;
  }
  it('are knit to one surface, and to a solid once no border is left', async () => {
    const p = await parts();
    const one = await last(add(p, 'combine', { body: 's1', mode: 'join', tools: ['s2'], tooling: 'used' }));
    expect([one.said, one.note]).toEqual(['done', '1 border open, of 80.00 mm']);
    const all = add(p, 'combine', { body: 's1', mode: 'join', tools: ['s2', 's3'], tooling: 'used' });
    const solid = await last(all);
    expect([solid.said, solid.note]).toEqual(['done', 'closed: it is a solid now']);
    expect((await engine.rebuild(all)).bodies[0]!.volume).toBeCloseTo(4000, 2);
  });
  it('are told their gap where they share none', async () => {
    const p = await parts();
    const moved = add(p, 'move', { body: 's2', by: 'shift', about: 'z', paths: [], faces: [], result: 'moved' }, { z: '-0.5 mm' });
    const { said } = await last(add(moved, 'combine', { body: 's1', mode: 'join', tools: ['s2'], tooling: 'used' }));
    expect(said).toMatch(/there is a gap of 0\.500 mm between them/);
    const cut = await last(add(p, 'combine', { body: 's1', mode: 'cut', tools: ['s2'], tooling: 'used' }));
    expect(cut.said).toMatch(/is a surface and has no inside/);
  });
});

describe('the shell of patches', () => {
  it('takes a wall on its hollow side, and stands flush on the plane of its border', async () => {
    let p = add(quarter(), 'patch', onArcs);
    for (const plane of ['side', 'front']) p = add(p, 'mirror', { body: 's1', plane, result: 'joined' });
    await last(p);
    const skin = await area();
    const walled = add(p, 'thicken', { body: 's1', side: 'back', ends: 'normal' }, { wall: '1.2 mm' });
    expect((await last(walled)).said).toMatch(/^done/);
    const whole = (await engine.rebuild(walled)).bodies[0]!;
    // Steiner: a wall on the hollow side is less than its area says, by its mean curvature.
    expect(whole.volume).toBeLessThan(1.2 * skin);
    expect(whole.volume).toBeGreaterThan(1.1 * skin);
    // Its rim leans down over the plane its border lies in: cut off there it stands flush.
    const flush = add(walled, 'split', { body: 's1', by: 'plane', plane: 'level', profile: null, tool: null, keep: 'first' });
    expect((await last(flush)).said).toMatch(/^done/);
    const { volume, bbox } = (await engine.rebuild(flush)).bodies[0]!;
    expect(volume).toBeLessThan(whole.volume);
    expect(volume).toBeGreaterThan(0.95 * whole.volume);
    expect(bbox.min[2]).toBeCloseTo(0, 3);
    // Asked for flush it is cut off there by itself; before the skin its rim leans away from the plane, and stands across it instead.
    const asked = add(p, 'thicken', { body: 's1', side: 'back', ends: 'square' }, { wall: '1.2 mm' });
    expect((await last(asked)).said).toMatch(/^done/);
    expect((await engine.rebuild(asked)).bodies[0]!.volume).toBeCloseTo(volume, 0);
    const { report, said } = await last(add(p, 'thicken', { body: 's1', side: 'front', ends: 'square' }, { wall: '1.2 mm' }));
    expect(said).toMatch(/^failed .*does not run along the surface’s own edge/);
    expect(report.fixes.map((f) => f.words)).toEqual(['Let its ends stand across the surface']);
  });
});
