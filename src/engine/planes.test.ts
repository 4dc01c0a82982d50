/** Planes and followed curves, against the geometry of a cylinder, a frustum and a box. Truth by elementary geometry. */
import { beforeAll, describe, expect, it } from 'vitest';
import { polyProfile } from '../../tests/support/kernel';
import { type Frame, heightOver, normalOf } from '../core/curves/frame';
import { type PlanarCurve, pointAt } from '../core/curves/planar';
import { addConstraint, addCurve, addPoint } from '../core/profile/draw';
import { addProjection } from '../core/profile/follow';
import { addStep, emptyProfile, newProject, setDimension, setProfile } from '../core/recipe/edit';
import type { Profile, Project, Projection } from '../core/recipe/schema';
import type { PlaneInputs } from '../core/recipe/steps';
import { openKernel } from '../kernel/open';
import { Engine } from './engine';

const engine = new Engine({ open: () => openKernel() });
beforeAll(async () => {
  await engine.start();
});

/** A part turned from (r, z) corners; the top at a named height where asked. */
function part(corners: readonly (readonly [number, number])[], angle = '360°'): Project {
  const base = newProject('Part');
  const profile: Profile = { ...polyProfile(corners), id: 'body', name: 'Body' };
  return { ...base, profiles: [profile], steps: [{ ...base.steps[0]!, values: { angle } }] };
}
/** R 20, H 50: c0 the foot, c1 the side, c2 the top. */
const cylinder = (): Project =>
  part([
    [0, 0],
    [20, 0],
    [20, 50],
    [0, 50],
  ]);
const frustum = (): Project =>
  part([
    [0, 0],
    [20, 0],
    [30, 50],
    [0, 50],
  ]);

async function frameOf(p: Project, inputs: PlaneInputs, values: Record<string, string> = {}): Promise<Frame> {
  const { project, id } = addStep(p, 'plane', inputs, values);
  const r = await engine.rebuild(project);
  const report = r.steps[r.steps.length - 1]!;
  if (report.state === 'failed') throw new Error(`${report.message}: ${report.why}`);
  return r.planes.get(id)!;
}
const RIM = 's1/c1|s1/c2';

describe('a plane is placed', () => {
  it('at a distance, typed or by a named dimension', async () => {
    const p = { ...cylinder(), dimensions: [{ name: 'rise', expr: '12 mm' }] };
    const f = await frameOf(p, { by: 'distance', from: 'level' }, { distance: 'rise*2' });
    expect(f.origin[2]).toBeCloseTo(24, 12);
  });
  it('at a distance from another placed one', async () => {
    const first = addStep(cylinder(), 'plane', { by: 'distance', from: 'front' }, { distance: '10 mm' });
    const f = await frameOf(first.project, { by: 'distance', from: first.id }, { distance: '5 mm' });
    // The front plane looks to −y.
    expect(f.origin[1]).toBeCloseTo(-15, 12);
  });
  it('through an end of an edge, a typed place, a point of a drawing', async () => {
    const rim = await frameOf(cylinder(), { by: 'place', from: 'level', places: [{ body: 's1', edge: RIM, end: 'low' }] });
    expect(rim.origin[2]).toBeCloseTo(50, 9);
    const typed = await frameOf(cylinder(), { by: 'place', from: 'side', places: [{ at: ['1/2 in', '0', '0'] }] });
    expect(typed.origin[0]).toBeCloseTo(12.7, 9);
    const drawn = await frameOf(frustum(), { by: 'place', from: 'side', places: [{ profile: 'body', point: 'p2' }] });
    expect(drawn.origin[0]).toBeCloseTo(30, 9);
  });
  it('at an angle about its own axes or a drawn line', async () => {
    const f = await frameOf(cylinder(), { by: 'tilt', from: 'front', about: 'up', paths: [] }, { angle: '90°' });
    expect(Math.abs(normalOf(f)[0])).toBeCloseTo(1, 12);
    const line = await frameOf(
      cylinder(),
      { by: 'tilt', from: 'level', about: 'line', paths: [{ profile: 'body', curve: 'c2' }] },
      { angle: '30°' },
    );
    expect(normalOf(line)[2]).toBeCloseTo(Math.cos(Math.PI / 6), 9);
    expect(heightOver(line, [20, 0, 50])).toBeCloseTo(0, 9);
    expect(heightOver(line, [-7, 0, 50])).toBeCloseTo(0, 9);
  });
  it('through three places', async () => {
    const f = await frameOf(cylinder(), {
      by: 'three',
      places: [{ at: ['20', '0', '0'] }, { at: ['0', '20', '0'] }, { body: 's1', edge: RIM, end: 'middle' }],
    });
    // The rim's middle, opposite its seam, at −20, 0, 50.
    for (const p of [
      [20, 0, 0],
      [0, 20, 0],
      [-20, 0, 50],
    ] as const)
      expect(heightOver(f, p)).toBeCloseTo(0, 6);
  });
  it('touching a cylinder, its normal the radius there', async () => {
    const f = await frameOf(cylinder(), { by: 'touch', faces: [{ body: 's1', face: 's1/c1' }], places: [{ at: ['30', '30', '20'] }] });
    const n = normalOf(f);
    expect(n[0]).toBeCloseTo(Math.SQRT1_2, 9);
    expect(n[1]).toBeCloseTo(Math.SQRT1_2, 9);
    expect(heightOver(f, [0, 0, 0])).toBeCloseTo(-20, 9);
    expect(f.origin[2]).toBeCloseTo(20, 9);
  });
  it('touching a cone, leaning by its half angle', async () => {
    const f = await frameOf(frustum(), { by: 'touch', faces: [{ body: 's1', face: 's1/c1' }], places: [{ at: ['0', '-60', '25'] }] });
    // tan of the half angle is 10 / 50; the normal leans down by it.
    expect(normalOf(f)[2]).toBeCloseTo(-10 / Math.hypot(10, 50), 9);
  });
  it('half-way between top and foot, and halving the angle of two end faces', async () => {
    const f = await frameOf(cylinder(), {
      by: 'between',
      faces: [
        { body: 's1', face: 's1/c0' },
        { body: 's1', face: 's1/c2' },
      ],
    });
    expect(heightOver(f, [0, 0, 25])).toBeCloseTo(0, 9);
    const wedge = part(
      [
        [0, 0],
        [20, 0],
        [20, 50],
        [0, 50],
      ],
      '90°',
    );
    const half = await frameOf(wedge, {
      by: 'between',
      faces: [
        { body: 's1', face: 's1/start' },
        { body: 's1', face: 's1/end' },
      ],
    });
    expect(heightOver(half, [10, 10, 3])).toBeCloseTo(0, 9);
    expect(heightOver(half, [0, 0, 9])).toBeCloseTo(0, 9);
  });
  it('square to an edge at a share of its length', async () => {
    const f = await frameOf(frustum(), { by: 'square', paths: [{ profile: 'body', curve: 'c1' }] }, { share: '0.25' });
    const l = Math.hypot(10, 50);
    expect(normalOf(f)[0]).toBeCloseTo(10 / l, 9);
    expect(normalOf(f)[2]).toBeCloseTo(50 / l, 9);
    expect(heightOver(f, [22.5, 0, 12.5])).toBeCloseTo(0, 9);
    const rim = await frameOf(cylinder(), { by: 'square', paths: [{ body: 's1', edge: RIM }] }, { share: '0.5' });
    // Opposite the seam the rim runs along y.
    expect(Math.abs(normalOf(rim)[1])).toBeCloseTo(1, 6);
  });
  it('on a flat face, looking out, its origin under the world’s', async () => {
    const f = await frameOf(cylinder(), { by: 'on', faces: [{ body: 's1', face: 's1/c2' }] });
    expect(normalOf(f)[2]).toBeCloseTo(1, 12);
    expect(f.origin).toEqual([0, 0, expect.closeTo(50, 9)]);
    expect(normalOf(await frameOf(cylinder(), { by: 'on', faces: [{ body: 's1', face: 's1/c0' }] }))[2]).toBeCloseTo(-1, 12);
  });
  it.each<[string, PlaneInputs, Record<string, string>, RegExp]>([
    ['a curved face', { by: 'on', faces: [{ body: 's1', face: 's1/c1' }] }, {}, /side|is not flat/],
    ['a face that is gone', { by: 'on', faces: [{ body: 's1', face: 's1/c9' }] }, {}, /is not on Body 1/],
    ['nothing picked', { by: 'on', faces: [] }, {}, /not picked/],
    ['one place of three', { by: 'three', places: [{ at: ['0', '0', '0'] }] }, {}, /2 of its three places are not picked/],
    [
      'three in a line',
      { by: 'three', places: [0, 1, 2].map((k) => ({ at: [`${k}`, '0', '0'] as [string, string, string] })) },
      {},
      /one line/,
    ],
    ['a curve to turn about', { by: 'tilt', from: 'front', about: 'line', paths: [{ body: 's1', edge: RIM }] }, {}, /not straight/],
    ['a share beyond the end', { by: 'square', paths: [{ body: 's1', edge: RIM }] }, { share: '1.5' }, /at most 1/],
    ['a place that is no length', { by: 'place', from: 'level', places: [{ at: ['1', '2', 'three'] }] }, {}, /z:/],
    ['a plane that is not there', { by: 'distance', from: 's99' }, {}, /places no plane/],
  ])('is refused in words for %s', async (_, inputs, values, words) => {
    await expect(frameOf(cylinder(), inputs, values)).rejects.toThrow(words);
  });
  it('follows the body: a taller cylinder lifts the plane on its top', async () => {
    const p = newProject('Part');
    const { project, id } = addStep(p, 'plane', { by: 'on', faces: [{ body: 's1', face: 's1/rim' }] });
    expect((await engine.rebuild(project)).planes.get(id)!.origin[2]).toBeCloseTo(80, 9);
    expect((await engine.rebuild(setDimension(project, 'height', '120 mm'))).planes.get(id)!.origin[2]).toBeCloseTo(120, 9);
  });
});

/** A drawing that follows one thing of the first body. */
const following = (p: Project, plane: string, what: Projection['what']): Project =>
  setProfile(p, addProjection(emptyProfile('see', 'See', plane, false), { body: 's1', what, outline: true }).profile);
async function seen(p: Project): Promise<PlanarCurve[]> {
  const place = (await engine.rebuild(p)).profiles.get('see')!;
  if (!place.follows) throw new Error(place.problem ?? 'nothing');
  return [...place.follows.values()].flat().map((f) => f.curve);
}
const ends = (c: PlanarCurve): number[] => [c.a.x, c.a.y, c.b.x, c.b.y].map((v) => Math.round(v * 1e5) / 1e5 + 0);
const sorted = (list: PlanarCurve[]): number[][] =>
  list
    .map((c) =>
      c.a.x < c.b.x - 1e-6 || (Math.abs(c.a.x - c.b.x) < 1e-6 && c.a.y < c.b.y) ? ends(c) : [...ends(c).slice(2), ...ends(c).slice(0, 2)],
    )
    .sort((a, b) => a[0]! - b[0]! || a[1]! - b[1]! || a[2]! - b[2]!);

describe('a drawing follows', () => {
  it('a rim seen from above as a circle, from the front as a line, on a leaning plane as an ellipse', async () => {
    const edges = { kind: 'edges' as const, edges: [RIM] };
    const [circle] = await seen(following(cylinder(), 'level', edges));
    expect(circle).toMatchObject({ kind: 'arc', radius: expect.closeTo(20, 9) });
    const [line] = await seen(following(cylinder(), 'front', edges));
    expect(sorted([line!])).toEqual([[-20, 50, 20, 50]]);
    const tilt = addStep(cylinder(), 'plane', { by: 'tilt', from: 'level', about: 'across', paths: [] }, { angle: '60°' });
    const [ellipse] = await seen(following(tilt.project, tilt.id, edges));
    if (ellipse?.kind !== 'ellipse') throw new Error(`a ${ellipse?.kind}`);
    expect(Math.hypot(ellipse.u.x, ellipse.u.y)).toBeCloseTo(20, 9);
    expect(Math.hypot(ellipse.v.x, ellipse.v.y)).toBeCloseTo(10, 9);
  });
  it('the section of a frustum: a circle across, a trapezium along', async () => {
    const lift = addStep(frustum(), 'plane', { by: 'distance', from: 'level' }, { distance: '25 mm' });
    const [circle, ...more] = await seen(following(lift.project, lift.id, { kind: 'section' }));
    expect(more).toHaveLength(0);
    expect(circle).toMatchObject({ kind: 'arc', radius: expect.closeTo(25, 6) });
    const sides = sorted(await seen(following(frustum(), 'front', { kind: 'section' })));
    expect(sides).toEqual([
      [-30, 50, -20, 0],
      [-30, 50, 30, 50],
      [-20, 0, 20, 0],
      [20, 0, 30, 50],
    ]);
  });
  it('an oblique cut of a cylinder as an ellipse of half-axes R and R / cos', async () => {
    const low = addStep(cylinder(), 'plane', { by: 'distance', from: 'level' }, { distance: '25 mm' });
    const tilt = addStep(low.project, 'plane', { by: 'tilt', from: low.id, about: 'across', paths: [] }, { angle: '30°' });
    const cut = await seen(following(tilt.project, tilt.id, { kind: 'section' }));
    for (const c of cut)
      for (let i = 0; i <= 10; i++) {
        const p = pointAt(c, i / 10);
        expect(Math.hypot(p.x / 20, (p.y * Math.cos(Math.PI / 6)) / 20)).toBeCloseTo(1, 6);
      }
  });
  it('the outline of a frustum from the front, and of a torus from above and from the side', async () => {
    const sides = sorted(await seen(following(frustum(), 'front', { kind: 'outline' })));
    expect(sides).toEqual([
      [-30, 50, -20, 0],
      [-30, 50, 30, 50],
      [-20, 0, 20, 0],
      [20, 0, 30, 50],
    ]);
    const ring: Profile = {
      ...emptyProfile('body', 'Body'),
      points: [{ id: 'm', x: 30, y: 10 }],
      curves: [{ kind: 'circle', id: 'c1', centre: 'm', radius: 8 }],
    };
    const torus = { ...cylinder(), profiles: [ring] };
    // From above: two circles of R + r and R − r.
    for (const c of await seen(following(torus, 'level', { kind: 'outline' })))
      for (let i = 0; i <= 8; i++) {
        const r = Math.hypot(pointAt(c, i / 8).x, pointAt(c, i / 8).y);
        expect(Math.min(Math.abs(r - 38), Math.abs(r - 22))).toBeLessThan(1e-4);
      }
    // From the front: two half rounds of r and two lines between, all on the border of the shadow.
    const front = await seen(following(torus, 'front', { kind: 'outline' }));
    let round = 0;
    for (const c of front)
      for (let i = 0; i <= 8; i++) {
        const p = pointAt(c, i / 8);
        const off = Math.abs(p.x) <= 30 ? Math.abs(Math.abs(p.y - 10) - 8) : Math.abs(Math.hypot(Math.abs(p.x) - 30, p.y - 10) - 8);
        expect(off).toBeLessThan(1e-4);
        if (Math.abs(p.x) > 31) round++;
      }
    expect(round).toBeGreaterThan(8);
  });
  it('what is there where it is first used, not what a later step makes of it', async () => {
    const p = newProject('Part');
    const shelled = addStep(p, 'shell', { body: 's1', open: [{ topOf: 's1' }] }, { wall: '2 mm' });
    expect((await seen(following(p, 'front', { kind: 'section' }))).length).toBe(4);
    // Unused, it sees the hollowed beaker: a wall on either side, a floor, an inside.
    expect((await seen(following(shelled.project, 'front', { kind: 'section' }))).length).toBeGreaterThan(7);
    const ring = following(p, 'front', { kind: 'section' });
    const see = {
      ...ring.profiles[1]!,
      half: true,
      points: polyProfile([
        [28, 10],
        [40, 10],
        [40, 20],
        [28, 20],
      ]).points,
      curves: polyProfile(
        [
          [28, 10],
          [40, 10],
          [40, 20],
          [28, 20],
        ],
        true,
      ).curves,
    };
    const quiet = setProfile(ring, { ...see, projections: see.projections.map((q) => ({ ...q, outline: false })) });
    const used = addStep(quiet, 'revolve', { profile: 'see', mode: 'join', body: 's1' });
    const hollow = addStep(used.project, 'shell', { body: 's1', open: [{ topOf: 's1' }] }, { wall: '2 mm' });
    expect((await seen(hollow.project)).length).toBe(4);
  });
  it('nothing that is not there: a plane beside the body, a body that is not made, an edge that went', async () => {
    const problem = async (p: Project): Promise<string> => (await engine.rebuild(p)).profiles.get('see')!.problem ?? 'none';
    const off = addStep(cylinder(), 'plane', { by: 'distance', from: 'level' }, { distance: '90 mm' });
    expect(await problem(following(off.project, off.id, { kind: 'section' }))).toContain('does not cut Body 1');
    expect(await problem(following(cylinder(), 'level', { kind: 'edges', edges: ['s1/c1|s1/c9'] }))).toContain('is gone');
    const p = cylinder();
    expect(await problem({ ...following(p, 'level', { kind: 'outline' }), steps: [] })).toContain('not there yet');
  });
});

describe('a part built from what it follows', () => {
  /** A collar on the beaker: its inner corner holds on to the rim's edge, its width is 6. */
  function collar(): Project {
    const p = newProject('Part');
    const base = addProjection(emptyProfile('collar', 'Collar'), {
      body: 's1',
      what: { kind: 'edges', edges: ['s1/foot|s1/side'] },
      outline: false,
    });
    let q = base.profile;
    const ids: string[] = [];
    for (const [x, y] of [
      [24, 0],
      [40, 0],
      [40, 10],
      [24, 10],
    ] as const) {
      const r = addPoint(q, { x, y });
      q = r.profile;
      ids.push(r.id);
    }
    ids.forEach((from, i) => {
      q = addCurve(q, { kind: 'line', from, to: ids[(i + 1) % 4]! }).profile;
    });
    // The dropped edge is a line across: its right end is the foot's corner.
    for (const c of [
      { kind: 'horizontal', a: ids[0]!, b: ids[1]! },
      { kind: 'vertical', a: ids[1]!, b: ids[2]! },
      { kind: 'horizontal', a: ids[2]!, b: ids[3]! },
      { kind: 'vertical', a: ids[3]!, b: ids[0]! },
      { kind: 'distance', a: ids[0]!, b: ids[1]!, direction: 'horizontal', value: '10 mm', driving: true },
      { kind: 'distance', a: ids[1]!, b: ids[2]!, direction: 'vertical', value: '8 mm', driving: true },
    ] as const)
      q = addConstraint(q, c).profile;
    return setProfile(p, q);
  }

  it('changes with it, held by a point on the body’s own edge', async () => {
    const p = collar();
    const id = [...(await engine.rebuild(p)).profiles.get('collar')!.follows!.values()].flat()[0]!.id;
    const corner = p.profiles[1]!.points[0]!.id;
    const held = setProfile(p, addConstraint(p.profiles[1]!, { kind: 'coincident', a: corner, b: `f1-${id}-b` }).profile);
    const { project } = addStep(held, 'revolve', { profile: 'collar', mode: 'new', body: null });
    // Pappus: a ring of 10 × 8 whose inner radius is the foot's.
    const ring = (r: number): number => 2 * Math.PI * (r + 5) * 80;
    const volume = async (q: Project): Promise<number> => {
      const r = await engine.rebuild(q);
      const why = r.steps.map((s) => `${s.state} ${s.message ?? ''} ${s.why ?? ''}`).join('; ');
      return r.bodies.find((b) => b.id === 's2')?.volume ?? Number.NaN * why.length;
    };
    const ends = [...(await engine.rebuild(p)).profiles.get('collar')!.follows!.values()].flat()[0]!.curve;
    const right = Math.max(ends.a.x, ends.b.x) === ends.b.x ? 25 : -25;
    expect(right).toBe(25);
    expect(await volume(project)).toBeCloseTo(ring(25), 4);
    const wider = setProfile(project, {
      ...project.profiles[0]!,
      points: project.profiles[0]!.points.map((q) => (q.id === 'p2' ? { ...q, x: 32 } : q)),
    });
    expect(await volume(wider)).toBeCloseTo(ring(32), 4);
  });

  it('is turned about the upright of the plane it is drawn on', async () => {
    const base = part([
      [0, 0],
      [20, 0],
      [20, 50],
      [0, 50],
    ]);
    const lift = addStep(base, 'plane', { by: 'tilt', from: 'front', about: 'across', paths: [] }, { angle: '90°' });
    const lying: Profile = {
      ...polyProfile([
        [0, 0],
        [6, 0],
        [6, 40],
        [0, 40],
      ]),
      id: 'peg',
      name: 'Peg',
      plane: lift.id,
    };
    const { project, id } = addStep(setProfile(lift.project, lying), 'revolve', { profile: 'peg', mode: 'join', body: 's1' });
    const r = await engine.rebuild(project);
    expect(r.steps.map((s) => s.state)).toEqual(['done', 'done', 'done']);
    expect(id).toBe('s3');
    // A peg along y from the axis out: it adds what reaches beyond the cylinder.
    const body = r.bodies[0]!;
    expect(body.bbox.max[1]! - body.bbox.min[1]!).toBeCloseTo(60, 6);
    expect(body.bbox.max[2]).toBeCloseTo(50, 6);
    expect(body.volume).toBeGreaterThan(Math.PI * 400 * 50 + Math.PI * 36 * 19.9);
    expect(engine.bodies()[0]!.body.faces).toContain('s3/c2');
  });
});
