/** Hollows of turned bodies against mensuration: ball, frustum, ring; walls of their own; what does not exist. */
import { describe, expect, it } from 'vitest';
import { randomTurnedBodies } from '../../../tests/support/turned';
import { arcAbout, type PlanarCurve } from '../curves/planar';
import { asMeridian, type Hollow, hollowOf, prepareHollow } from './hollow';
import { hollowLimits } from './limits';
import { curvesOf, type Meridian, meridianOf, sweptArea, sweptVolume } from './meridian';
import { outwardWall } from './outward';

const line = (ax: number, ay: number, bx: number, by: number): PlanarCurve => ({ kind: 'line', a: { x: ax, y: ay }, b: { x: bx, y: by } });
const outline = (onAxis: boolean, faces: Readonly<Record<string, PlanarCurve>>): Meridian =>
  meridianOf(
    Object.entries(faces).map(([face, curve]) => ({ face, curve })),
    onAxis,
  );
const ball = outline(true, { ball: arcAbout({ x: 0, y: 0 }, 40, -Math.PI / 2, Math.PI) });
const cup = outline(true, { floor: line(0, 0, 30, 0), side: line(30, 0, 40, 100), lid: line(40, 100, 0, 100) });
const ring = outline(false, { ring: arcAbout({ x: 50, y: 0 }, 12, 0, 2 * Math.PI) });
const post = outline(true, {
  foot: line(0, 0, 30, 0),
  plate: line(30, 0, 30, 20),
  step: line(30, 20, 15, 20),
  post: line(15, 20, 15, 50),
  top: line(15, 50, 0, 50),
});

function hollow(m: Meridian, wall: number | Readonly<Record<string, number>>, open: readonly string[] = []): Hollow {
  const made = hollowOf(
    prepareHollow(m, (f) => open.includes(f)),
    (f) => (typeof wall === 'number' ? wall : (wall[f] ?? wall.other!)),
  );
  if (!made.ok) throw new Error(made.error);
  return made.value;
}
const cavity = (h: Hollow): number => sweptVolume(h.cavity.map((l) => l.map((c) => c.curve)));
const frustum = (h: number, a: number, b: number): number => (Math.PI / 3) * h * (a * a + a * b + b * b);

describe('a turned hollow', () => {
  it('of a ball is a ball', () => {
    const h = hollow(ball, 3);
    expect(cavity(h) / ((4 / 3) * Math.PI * 37 ** 3)).toBeCloseTo(1, 12);
    expect(h.body.flat().map((c) => c.role)).toEqual(expect.arrayContaining(['kept', 'inner', 'axis']));
  });
  it('of a ring is a ring within it, a hole of its own', () => {
    const h = hollow(ring, 2);
    expect(cavity(h) / (2 * Math.PI ** 2 * 50 * 100)).toBeCloseTo(1, 12);
    expect(h.body).toHaveLength(2);
    const inner = h.cavity.flat().map((c) => c.curve);
    expect(sweptArea(inner) / (4 * Math.PI ** 2 * 50 * 10)).toBeCloseTo(1, 12);
  });
  it('of a frustum open at its wide end is a frustum', () => {
    const slant = Math.hypot(1, 0.1);
    const r = (z: number): number => 30 + z / 10 - 2 * slant;
    expect(cavity(hollow(cup, 2, ['lid'])) / frustum(98, r(2), r(100))).toBeCloseTo(1, 12);
  });
  it('keeps a wall of its own at a face, thicker or thinner', () => {
    const slant = Math.hypot(1, 0.1);
    for (const [floor, side] of [
      [6, 2],
      [2, 5],
      [1, 2.5],
    ] as const) {
      const r = (z: number): number => 30 + z / 10 - side * slant;
      expect(cavity(hollow(cup, { floor, side }, ['lid'])) / frustum(100 - floor, r(floor), r(100))).toBeCloseTo(1, 12);
    }
  });
  it('goes round an inner corner at its distance, and names that round after the edge', () => {
    const h = hollow(post, 4, ['top']);
    const round = h.cavity.flat().find((c) => c.role === 'corner')!;
    expect(round.of).toBe('post|step');
    expect(round.curve).toMatchObject({ kind: 'arc', radius: 4, centre: { x: 15, y: 20 } });
    // A disc below the step, the post's inside above it, and between them ∫ (15 − √(16 − u²))² du over the height of the round.
    const between = 15 * 15 * 4 - 30 * ((Math.PI * 16) / 4) + (16 * 4 - 64 / 3);
    expect(cavity(h) / (Math.PI * (26 * 26 * 12 + between + 11 * 11 * 30))).toBeCloseTo(1, 12);
  });
  it('is none from its limit on, and the body is left as it was', () => {
    expect(hollow(ball, 40.001).cavity).toHaveLength(0);
    expect(hollow(cup, 41, ['lid']).cavity).toHaveLength(0);
    const whole = asMeridian(hollow(ball, 41).body, (c) => c.of);
    expect(sweptVolume(curvesOf(whole))).toBeCloseTo(sweptVolume(curvesOf(ball)), 9);
  });
  it('of what it is open at leaves a rim, and of the rest the old skin', () => {
    const roles = hollow(cup, 2, ['lid']).body.flat();
    expect(roles.filter((c) => c.role === 'rim').map((c) => c.of)).toEqual(['lid']);
    expect(roles.filter((c) => c.role === 'kept').map((c) => c.of)).toEqual(['floor', 'side']);
  });
  it('falls into several where a neck is narrower than two walls', () => {
    const hourglass = outline(true, {
      foot: line(0, 0, 30, 0),
      low: line(30, 0, 8, 40),
      high: line(8, 40, 30, 80),
      top: line(30, 80, 0, 80),
    });
    expect(hollow(hourglass, 3).cavity).toHaveLength(1);
    expect(hollow(hourglass, 9).cavity).toHaveLength(2);
  });
});

describe('limits of a turned hollow', () => {
  const limits = (m: Meridian, open: readonly string[] = []) => hollowLimits(prepareHollow(m, (f) => open.includes(f)));
  it('are those of the largest ball inside', () => {
    expect(limits(ball).largest.value).toBeCloseTo(40, 9);
    expect(limits(ring).largest).toMatchObject({ value: expect.closeTo(12, 9), x: expect.closeTo(50, 6), y: expect.closeTo(0, 6) });
    // Open above, the middle of the ball may lie in the opening: on the axis there it is as far from the side as that leans.
    const slant = Math.hypot(1, 0.1);
    expect(limits(cup, ['lid']).largest.value).toBeCloseTo(40 / slant, 9);
  });
  it('tell from which wall on a face has no inside', () => {
    const { vanish } = limits(post);
    // Between post and axis 15 mm are left, and the step has an inside until the plate above the foot is used up.
    expect(vanish.get('post')!.value).toBeCloseTo(15, 6);
    expect(vanish.get('plate')!.value).toBeLessThan(20);
    expect(vanish.get('plate')!.value).toBeGreaterThanOrEqual(10 - 1e-6);
  });
  it('are just beyond the last wall that goes, on all kinds of bodies', () => {
    for (const b of randomTurnedBodies(40, 700)) {
      const prepared = prepareHollow(b.meridian, (f) => b.open.has(f));
      const { largest } = hollowLimits(prepared);
      const at = (w: number): number => {
        const made = hollowOf(prepared, () => w);
        return made.ok ? made.value.cavity.length : -1;
      };
      expect([b.kind, b.seed, at(largest.value * 0.995) > 0, at(largest.value * 1.0001 + 1e-6)]).toEqual([b.kind, b.seed, true, 0]);
    }
  });
});

describe('a wall outside', () => {
  const wallOf = (m: Meridian, wall: number, open: readonly string[] = []) => {
    const made = outwardWall(
      m,
      (f) => open.includes(f),
      () => wall,
      (role, of) => `${role} ${of}`,
    );
    if (!made?.ok) throw new Error('no wall');
    return made.value;
  };
  const swept = (list: readonly Meridian[]): number => list.reduce((sum, m) => sum + sweptVolume(curvesOf(m)), 0);
  const drum = outline(true, { foot: line(0, 0, 20, 0), side: line(20, 0, 20, 30), top: line(20, 30, 0, 30) });
  // About an edge of radius 20 a quarter ring of the wall's own radius (Pappus).
  const edge = (t: number): number => 2 * Math.PI * ((Math.PI * t * t) / 4) * (20 + (4 * t) / (3 * Math.PI));
  const sides = (t: number): number => Math.PI * ((20 + t) ** 2 - 400) * 30;
  it('of a drum is its sides, its ends and the rounds about its edges', () => {
    expect(swept(wallOf(drum, 3)) / (sides(3) + 2 * Math.PI * 400 * 3 + 2 * edge(3))).toBeCloseTo(1, 12);
  });
  it('ends in the planes of what is open', () => {
    expect(swept(wallOf(drum, 3, ['top'])) / (sides(3) + Math.PI * 400 * 3 + edge(3))).toBeCloseTo(1, 12);
    expect(swept(wallOf(drum, 3, ['top', 'foot'])) / sides(3)).toBeCloseTo(1, 12);
    const names = wallOf(drum, 3, ['top'])[0]!.loops.flatMap((l) => l.map((c) => c.face));
    expect(names).toEqual(expect.arrayContaining(['kept side', 'kept foot', 'inner side', 'inner foot', 'corner foot|side', 'rim top']));
  });
  it('of a ball is a larger ball less it, and of a ring a thicker ring', () => {
    expect(swept(wallOf(ball, 5)) / ((4 / 3) * Math.PI * (45 ** 3 - 40 ** 3))).toBeCloseTo(1, 12);
    expect(swept(wallOf(ring, 5)) / (2 * Math.PI ** 2 * 50 * (17 ** 2 - 12 ** 2))).toBeCloseTo(1, 12);
  });
  it('is left to others where an open face leans, or the body reaches past it', () => {
    const open = (m: Meridian, face: string) =>
      outwardWall(
        m,
        (f) => f === face,
        () => 2,
        (_, of) => of,
      );
    expect(open(cup, 'side')).toBeUndefined();
    expect(open(post, 'step')).toBeUndefined();
  });
});
