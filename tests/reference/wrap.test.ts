/**
 * Drawings wrapped round turned faces: volumes by Pappus on cylinders, cones and balls (published mensuration), lengths along the skin by the unrolling
 * of cones (published), letters by their own outlines; what does not fit is refused with how far it reaches.
 */
import { describe, expect, it } from 'vitest';
import { layRound, turnedFace } from '../../src/core/detail/wrap';
import { cross, distance, type Vec3 } from '../../src/core/geometry/vectors';
import { patchStep, setProfile } from '../../src/core/recipe/edit';
import type { Profile, Project } from '../../src/core/recipe/schema';
import { add, circle, empty, engine, extrude, flat } from '../support/parts';

const TURN = 2 * Math.PI;
const solid = { plane: 'level', places: [], mode: 'new', body: null } as const;
const cylinder = (d: number, h: number): Project =>
  add(empty(), 'primitive', { shape: 'cylinder', ...solid }, { diameter: `${d}`, height: `${h}` });
const cone = (low: number, high: number, h: number): Project =>
  add(empty(), 'primitive', { shape: 'cone', ...solid }, { diameter: `${low}`, top: `${high}`, height: `${h}` });
const ball = (d: number): Project => add(empty(), 'primitive', { shape: 'sphere', ...solid }, { diameter: `${d}` });
const rectangle = (w: number, h: number): Profile =>
  flat('r', 'front', [
    [-w / 2, -h / 2],
    [w / 2, -h / 2],
    [w / 2, h / 2],
    [-w / 2, h / 2],
  ]);
/** The name of the face that is neither flat end. */
const sideOf = async (p: Project): Promise<string> => {
  await engine.rebuild(p);
  return engine.bodies()[0]!.body.faces.find((f) => /side|skin|ball|body/.test(f)) ?? engine.bodies()[0]!.body.faces[0]!;
};
async function wrapped(
  p: Project,
  profile: Profile,
  as: 'raised' | 'sunk' | 'apart',
  values: Record<string, string> = {},
  more: Record<string, unknown> = {},
) {
  const face = await sideOf(p);
  const project = add(setProfile(p, profile), 'wrap', { body: 's1', faces: [{ face }], profile: profile.id, as, ...more }, values);
  const r = await engine.rebuild(project);
  return { project, step: r.steps.at(-1)!, bodies: r.bodies };
}
const wholeOf = async (p: Project): Promise<number> => (await engine.rebuild(p)).bodies[0]!.volume;

describe('a drawing round a cylinder', () => {
  const [R, H] = [20, 60];
  const ring = (area: number, low: number, high: number): number => (area / R) * (((R + high) ** 2 - (R + low) ** 2) / 2);
  it('is raised and sunk by what Pappus says, wherever it lies', async () => {
    const p = cylinder(2 * R, H);
    const whole = await wholeOf(p);
    for (const values of [{}, { around: '137°', up: '8 mm' }, { around: '-45°', up: '-12 mm', turn: '30°' }] as Record<string, string>[]) {
      const up = await wrapped(p, rectangle(30, 12), 'raised', { height: '1.5 mm', ...values });
      expect(up.step.state).toBe('done');
      expect(up.step.note).toMatch(/^unrolled exactly/);
      expect((up.bodies[0]!.volume - whole) / ring(360, 0, 1.5)).toBeCloseTo(1, 5);
      const down = await wrapped(p, circle('c', 'front', 6), 'sunk', { height: '2 mm', ...values });
      expect((whole - down.bodies[0]!.volume) / ring(Math.PI * 36, -2, 0)).toBeCloseTo(1, 5);
    }
  });
  it('may go all but round it, stands on it as a body of its own, and is refused where it would lie over itself', async () => {
    const p = cylinder(2 * R, H);
    const band = await wrapped(p, rectangle(TURN * R - 1, 10), 'apart', { height: '1 mm' });
    expect(band.step.state).toBe('done');
    expect(band.bodies.map((b) => b.id)).toEqual(['s1', band.project.steps.at(-1)!.id]);
    expect(band.bodies[1]!.volume / ring((TURN * R - 1) * 10, 0, 1)).toBeCloseTo(1, 5);
    const over = await wrapped(p, rectangle(TURN * R + 7, 10), 'raised');
    expect([over.step.state, over.step.why]).toEqual(['failed', expect.stringMatching(/^it reaches 20\.1° round onto itself/)]);
  });
  it('is refused where it reaches beyond the face, and the way that is offered goes', async () => {
    const p = cylinder(2 * R, H);
    const high = await wrapped(p, rectangle(20, 30), 'raised', { up: '20 mm' });
    expect([high.step.state, high.step.why]).toEqual(['failed', expect.stringMatching(/^it reaches 5\.00 mm beyond its upper end/)]);
    const fix = high.step.fixes[0]!;
    expect(fix.words).toBe('Move it down by 5.00 mm');
    const again = await engine.rebuild(patchStep(high.project, fix.step, fix));
    expect(again.steps.at(-1)!.state).toBe('done');
    const out = await wrapped(p, rectangle(20, 10), 'raised', { up: '31 mm' });
    expect(out.step.why).toMatch(/its origin lies beyond/);
    expect((await engine.rebuild(patchStep(out.project, out.step.fixes[0]!.step, out.step.fixes[0]!))).steps.at(-1)!.state).toBe('done');
    // Too tall for the face: nothing is offered that would not go.
    expect((await wrapped(p, rectangle(20, 70), 'raised')).step.fixes).toEqual([]);
  });
  it('reads from left to right seen from outside, upright', async () => {
    // An L: its foot points to the right, seen from the front that is to +x.
    const el = flat('l', 'side', [
      [-4, -6],
      [5, -6],
      [5, -4],
      [-2, -4],
      [-2, 6],
      [-4, 6],
    ]);
    const { bodies } = await wrapped(cylinder(2 * R, H), el, 'apart', { height: '1 mm' });
    const { min, max } = bodies[1]!.bbox;
    expect(max[0]).toBeCloseTo((R + 1) * Math.sin(5 / R), 2);
    expect(min[0]).toBeCloseTo(-(R + 1) * Math.sin(4 / R), 2);
    expect(min[1]).toBeCloseTo(-(R + 1), 2);
    expect([min[2], max[2]]).toEqual([expect.closeTo(24, 3), expect.closeTo(36, 3)]);
    expect(bodies[1]!.centroid[2]).toBeLessThan(30);
  });
  it('has the same volume where the skin closes under it, by another way of building, and keeps the skin within its letters', async () => {
    const words: Profile = {
      ...circle('t', 'front', 1),
      points: [{ id: 'm', x: -9, y: -4 }],
      curves: [{ kind: 'text', id: 'c0', point: 'm', text: 'BAR', height: '8 mm', angle: '0°' }],
    };
    const p = cylinder(2 * R, H);
    for (const as of ['raised', 'sunk'] as const) {
      const clear = await wrapped(p, words, as);
      const over = await wrapped(p, words, as, { around: '90°' });
      expect([clear.step.state, over.step.state]).toEqual(['done', 'done']);
      expect(over.bodies[0]!.volume / clear.bodies[0]!.volume).toBeCloseTo(1, 9);
      // A counter of each A and R, two of the B: still the skin of the cylinder.
      await engine.rebuild(clear.project);
      const side = engine.bodies()[0]!.body.faces.filter((f) => f.startsWith('s1/side'));
      expect(side).toHaveLength(5);
      expect(new Set(side).size).toBe(5);
    }
  });
  it('is the same on a body that was moved and turned', async () => {
    const move = { body: 's1', paths: [], faces: [], result: 'moved' };
    const aside = add(cylinder(2 * R, H), 'move', { ...move, by: 'shift', about: 'z' }, { x: '13 mm', y: '-7 mm', z: '5 mm' });
    const p = add(aside, 'move', { ...move, by: 'turn', about: 'x' }, { angle: '40°' });
    const whole = await wholeOf(p);
    const { step, bodies } = await wrapped(p, rectangle(30, 12), 'raised', { height: '1.5 mm', around: '20°' });
    expect(step.state).toBe('done');
    expect((bodies[0]!.volume - whole) / ring(360, 0, 1.5)).toBeCloseTo(1, 5);
  });
  it('is as many pieces as letters, and one body with it', async () => {
    const words: Profile = {
      ...circle('t', 'front', 1),
      points: [{ id: 'm', x: -14, y: -4 }],
      curves: [{ kind: 'text', id: 'c0', point: 'm', text: 'SALT', height: '8 mm', angle: '0°' }],
    };
    const p = cylinder(2 * R, H);
    const whole = await wholeOf(p);
    const raised = await wrapped(p, words, 'raised', { height: '0.8 mm' });
    expect(raised.step.state).toBe('done');
    const apart = await wrapped(p, words, 'apart', { height: '0.8 mm' }, { pieces: 'together' });
    expect(raised.bodies[0]!.volume - whole).toBeCloseTo(apart.bodies[1]!.volume, 2);
    // The letters' own area, once the drawing is pushed straight.
    const straight = await engine.rebuild(extrude(empty(), words, { pieces: 'together' }, { length: '1' }));
    expect(apart.bodies[1]!.volume / ring(straight.bodies[0]!.volume, 0, 0.8)).toBeCloseTo(1, 4);
  });
});

describe('a drawing on a hollow cylinder', () => {
  const [R, H, W] = [20, 60, 2];
  const tube = (): Project =>
    add(
      cylinder(2 * R, H),
      'shell',
      { body: 's1', open: [{ topOf: 's1' }], direction: 'inward', corners: 'round', walls: [] },
      { wall: `${W} mm` },
    );
  const onto = async (p: Project, inside: boolean, profile: Profile, as: string, values: Record<string, string>) => {
    await engine.rebuild(p);
    const { body } = engine.bodies()[0]!;
    const sides = body.faces.filter((f) => f.includes('side'));
    const face = sides.find((f) => f.startsWith(inside ? 's2' : 's1'))!;
    const project = add(setProfile(p, profile), 'wrap', { body: 's1', faces: [{ face }], profile: profile.id, as }, values);
    const r = await engine.rebuild(project);
    return { step: r.steps.at(-1)!, volume: r.bodies[0]!.volume, whole: body.volume };
  };
  it('is sunk into its wall, and where that is deeper than the wall it is a window and no more', async () => {
    const sunk = await onto(tube(), false, rectangle(16, 10), 'sunk', { height: '0.8 mm' });
    expect(sunk.step.state).toBe('done');
    expect((sunk.whole - sunk.volume) / ((160 / R) * ((R ** 2 - (R - 0.8) ** 2) / 2))).toBeCloseTo(1, 5);
    const through = await onto(tube(), false, rectangle(16, 10), 'sunk', { height: '3 mm' });
    expect(through.step.state).toBe('warned');
    expect(through.step.warnings.map((w) => w.message)).toEqual([expect.stringMatching(/deeper than the wall/)]);
    expect((through.whole - through.volume) / ((160 / R) * ((R ** 2 - (R - W) ** 2) / 2))).toBeCloseTo(1, 5);
  });
  it('is raised inwards from its inside, as wide there as drawn', async () => {
    const r = R - W;
    const { step, volume, whole } = await onto(tube(), true, rectangle(16, 10), 'raised', { height: '1 mm', up: '3 mm' });
    expect(step.state).toBe('done');
    expect((volume - whole) / ((160 / r) * ((r ** 2 - (r - 1) ** 2) / 2))).toBeCloseTo(1, 5);
  });
});

describe('a drawing round a cone', () => {
  it('keeps all its lengths, whichever way the cone opens', async () => {
    for (const [low, high] of [
      [50, 30],
      [30, 50],
    ] as const) {
      const p = cone(low, high, 40);
      const { step, bodies } = await wrapped(p, rectangle(28, 14), 'apart', { height: '1 mm', around: '40°' });
      expect(step.state).toBe('done');
      expect(step.note).toMatch(/^unrolled exactly/);
      // A skin over a developable surface: the area, and half its mean curvature's share on top (Steiner's formula).
      const alpha = Math.atan(10 / 40);
      const slant = Math.hypot(10, 40);
      // ∫ cos α / r over the rectangle laid flat about the tip, by the midpoint rule.
      let bend = 0;
      const tip = 20 / Math.sin(alpha);
      const n = 400;
      for (let i = 0; i < n; i++)
        for (let j = 0; j < n; j++) {
          const [x, y] = [((i + 0.5) / n - 0.5) * 28, ((j + 0.5) / n - 0.5) * 14];
          bend += Math.cos(alpha) / (Math.hypot(x, (low > high ? -1 : 1) * y + tip) * Math.sin(alpha));
        }
      bend *= (28 * 14) / n ** 2;
      expect(slant).toBeCloseTo(41.231, 3);
      expect(bodies[1]!.volume / (28 * 14 + bend / 2)).toBeCloseTo(1, 5);
    }
  });
});

describe('a drawing round a face that bends both ways', () => {
  it('keeps its heights, and says by how much its widths differ', async () => {
    const p = ball(60);
    const { step, bodies } = await wrapped(p, rectangle(20, 24), 'apart', { height: '1 mm' });
    expect(step.state).toBe('done');
    // From the middle 12 mm up and down along the skin: the circle there is cos(12 / 30) as wide.
    expect(step.note).toContain(`widths × ${Math.cos(12 / 30).toFixed(3)} to 1.000`);
    // ∫ cos(s / R) over the heights, and the shell's growth (mensuration of a spherical zone).
    const shell = ((31 ** 3 - 30 ** 3) / 3) * (20 / 30) * 2 * Math.sin(12 / 30);
    expect(bodies[1]!.volume / shell).toBeCloseTo(1, 5);
  });
  it('is not laid round what is not turned', async () => {
    const p = add(empty(), 'primitive', { shape: 'box', ...solid }, { width: '40', depth: '30', height: '20' });
    await engine.rebuild(p);
    const face = engine.bodies()[0]!.body.faces.find((f) => f.endsWith('/front'))!;
    const project = add(setProfile(p, rectangle(5, 5)), 'wrap', { body: 's1', faces: [{ face }], profile: 'r', as: 'raised' });
    const step = (await engine.rebuild(project)).steps.at(-1)!;
    expect([step.state, step.why]).toEqual(['failed', expect.stringMatching(/is not turned about an axis/)]);
  });
});

describe('places on a turned face', () => {
  const on = (place: (u: number, v: number) => Vec3) => (u: number, v: number) => {
    const h = 1e-5;
    const d = (a: Vec3, b: Vec3): Vec3 => [(b[0] - a[0]) / (2 * h), (b[1] - a[1]) / (2 * h), (b[2] - a[2]) / (2 * h)];
    const du = d(place(u - h, v), place(u + h, v));
    const dv = d(place(u, v - h), place(u, v + h));
    const n = cross(du, dv);
    const l = Math.hypot(...n);
    return { p: place(u, v), n: [n[0] / l, n[1] / l, n[2] / l] as Vec3, du, dv };
  };
  it('lie as far apart along a cone as on the drawing, wherever and however it is turned', () => {
    for (const slope of [0.3, -0.3, 0.02, 1.2]) {
      const face = turnedFace(
        on((u, v) => [(40 + slope * v) * Math.cos(u), (40 + slope * v) * Math.sin(u), v]),
        [0, TURN],
        [0, 30],
        true,
      )!;
      expect(face.straight).toBe(true);
      for (const turn of [0, 0.7, 2.5]) {
        const laid = layRound(face, 1.1, face.length / 2, turn);
        // Short stretches on the drawing and on the skin.
        for (const [x, y] of [
          [0, 0],
          [9, 3],
          [-14, 5],
          [4, -11],
        ] as const)
          for (const way of [0, 1, 2, 3, 4]) {
            const e = 1e-3;
            const q = { x: x + e * Math.cos(way), y: y + e * Math.sin(way) };
            expect(distance(laid.at({ x, y }, 0), laid.at(q, 0)) / e).toBeCloseTo(1, 5);
          }
      }
    }
  });
  it('are not read off what only looks turned', () => {
    const oval = (u: number, v: number): Vec3 => [40 * Math.cos(u), 41 * Math.sin(u), v];
    expect(turnedFace(on(oval), [0, TURN], [0, 30], true)).toBeUndefined();
    const lobed = (u: number, v: number): Vec3 => [
      (40 + 0.01 * v * Math.cos(3 * u)) * Math.cos(u),
      (40 + 0.01 * v * Math.cos(3 * u)) * Math.sin(u),
      v,
    ];
    expect(turnedFace(on(lobed), [0, TURN], [0, 30], true)).toBeUndefined();
  });
});
