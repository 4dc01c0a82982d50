import { describe, expect, it } from 'vitest';
import { evaluateDimensions } from '../dimensions/dimensions';
import { emptyProfile } from '../recipe/edit';
import { liftProfile, type OldProfile } from '../recipe/lift-profile';
import type { Profile } from '../recipe/schema';
import { addCurve, addPoint, insertPoint, removePoint } from './draw';
import { areaAndCentroid, findOutline, type Outline, outlineLength, turnedVolume } from './outline';
import { fixPole, readPoles } from './pole';
import { resolveProfile } from './resolve';
import { snap } from './snap';

const { scope } = evaluateDimensions([{ name: 'belly', expr: '60 mm' }]);
type P = readonly [string | number, string | number];
const profile = (points: readonly P[], curves: OldProfile['curves']): Profile => ({
  ...emptyProfile('t', 'Test'),
  ...liftProfile(
    { id: 't', name: 'Test', points: points.map(([x, y], i) => ({ id: `p${i}`, x: String(x), y: String(y) })), curves },
    scope,
  ),
});
const lines = (points: readonly P[], closed = false): Profile =>
  profile(
    points,
    Array.from({ length: closed ? points.length : points.length - 1 }, (_, i) => ({
      kind: 'line',
      id: `c${i}`,
      from: `p${i}`,
      to: `p${(i + 1) % points.length}`,
    })),
  );
const resolved = (p: Profile) => {
  const r = resolveProfile(p, scope);
  if (!r.ok) throw new Error(r.error.message);
  return r.value;
};
const outline = (p: Profile): Outline => {
  const o = findOutline(resolved(p), p.name);
  if (!o.ok) throw new Error(o.error.message);
  return o.value;
};
const refusal = (p: Profile) => {
  const r = resolveProfile(p, scope);
  if (!r.ok) return r.error;
  const o = findOutline(r.value, p.name);
  if (o.ok) throw new Error('was accepted');
  return o.error;
};
const ring: Profile = profile(
  [
    [20, 10],
    [38, 10],
    [29, 1],
    [29, 19],
  ],
  [
    { kind: 'arc', id: 'top', from: 'p0', to: 'p1', through: 'p3' },
    { kind: 'arc', id: 'low', from: 'p1', to: 'p0', through: 'p2' },
  ],
);

describe('an outline', () => {
  it('is found whatever order and sense its curves were drawn in', () => {
    const p = profile(
      [
        [0, 0],
        [30, 0],
        [30, 50],
        [0, 50],
      ],
      [
        { kind: 'line', id: 'side', from: 'p2', to: 'p1' },
        { kind: 'line', id: 'foot', from: 'p0', to: 'p1' },
        { kind: 'line', id: 'top', from: 'p2', to: 'p3' },
      ],
    );
    const o = outline(p);
    expect(o.onAxis).toBe(true);
    expect(o.curves).toHaveLength(3);
  });
  it('has the area, centroid and length of a half cylinder', () => {
    const o = outline(
      lines([
        [0, 0],
        [30, 0],
        [30, 50],
        [0, 50],
      ]),
    );
    const { area, centroid } = areaAndCentroid(o);
    expect(Math.abs(area)).toBeCloseTo(1500, 9);
    expect(centroid.x).toBeCloseTo(15, 9);
    expect(centroid.y).toBeCloseTo(25, 9);
    expect(outlineLength(o)).toBeCloseTo(110, 9);
  });
  // Pappus's second centroid theorem; torus V = 2π²Rr².
  it('turns to the volume of Pappus', () => {
    expect(turnedVolume(outline(ring))).toBeCloseTo(2 * Math.PI ** 2 * 29 * 81, 6);
    expect(
      turnedVolume(
        outline(
          lines([
            [0, 0],
            [20, 0],
            [30, 50],
            [0, 50],
          ]),
        ),
      ),
    ).toBeCloseTo((Math.PI * 50 * (400 + 600 + 900)) / 3, 6);
  });

  it('is refused where it crosses itself, with the place', () => {
    const e = refusal(
      lines([
        [0, 0],
        [30, 0],
        [10, 40],
        [10, 10],
        [25, 30],
        [25, 50],
        [0, 50],
      ]),
    );
    expect(e.message).toContain('crosses itself');
    expect(e.at!.x).toBeGreaterThan(9);
    expect(e.at!.x).toBeLessThan(31);
  });
  it('is refused where it crosses the axis, with the place and the depth', () => {
    const e = refusal(
      lines([
        [0, 0],
        [30, 0],
        [-4, 25],
        [30, 50],
        [0, 50],
      ]),
    );
    expect(e.message).toContain('crosses the axis at height 25.00 mm by 4.000 mm');
    expect(e.at).toEqual({ x: -4, y: 25 });
  });
  it('is refused when a spline bulges over the axis between good points', () => {
    const e = refusal(
      profile(
        [
          [0, 0],
          [30, 30],
          [0, 60],
        ],
        [{ kind: 'spline', id: 's', from: 'p0', to: 'p2', through: ['p1'], start: { angle: '160°', weight: '2' } }],
      ),
    );
    expect(e.message).toContain('crosses the axis');
  });
  it('is refused with a gap, and says how wide', () => {
    const p = profile(
      [
        [0, 0],
        [30, 0],
        [30.2, 0],
        [30, 50],
        [0, 50],
      ],
      [
        { kind: 'line', id: 'a', from: 'p0', to: 'p1' },
        { kind: 'line', id: 'b', from: 'p2', to: 'p3' },
        { kind: 'line', id: 'c', from: 'p3', to: 'p4' },
      ],
    );
    expect(refusal(p).message).toContain('gap of 0.200 mm');
  });
  it('is refused open, without height, without curves', () => {
    expect(
      refusal(
        lines([
          [0, 0],
          [30, 0],
          [30, 50],
        ]),
      ).message,
    ).toContain('is open');
    expect(
      refusal(
        lines([
          [0, 5],
          [30, 5],
        ]),
      ).message,
    ).toMatch(/open|no height/);
    expect(
      refusal(
        lines([
          [0, 0],
          [30, 0],
          [0, 0],
        ]),
      ).message,
    ).toMatch(/height|area|crosses/);
    expect(refusal(profile([], [])).message).toContain('no curves');
  });
  it('is refused when its values are no lengths', () => {
    const wide = (text: string): Profile =>
      lines([
        [0, 0],
        [30, 0],
        [0, 10],
      ]) && {
        ...lines([
          [0, 0],
          [30, 0],
          [0, 10],
        ]),
        constraints: [{ kind: 'across', id: 'd1', point: 'p1', value: text, driving: true }],
      };
    expect(refusal(wide('NaN')).message).toContain('no finite value');
    expect(refusal(wide('30°')).message).toContain('a length is wanted');
    expect(refusal(wide('1e6')).message).toContain('100 m');
    expect(refusal(wide('-4')).message).toContain('can’t be negative');
    expect(refusal(wide('girth')).message).toBe('Test, diameter girth across the axis at point p1: there is no dimension called “girth”');
  });
  it('is refused when a line has no length', () => {
    expect(
      refusal(
        lines([
          [5, 5],
          [5, 5],
          [0, 10],
        ]),
      ).message,
    ).toContain('fall together');
  });
});

describe('a pole', () => {
  const dome = (angle: string | null): Profile =>
    profile(
      [
        [0, 0],
        [30, 0],
        [25, 40],
        [0, 60],
      ],
      [
        { kind: 'line', id: 'foot', from: 'p0', to: 'p1' },
        { kind: 'spline', id: 'side', from: 'p1', to: 'p3', through: ['p2'], ...(angle ? { end: { angle, weight: '1' } } : {}) },
      ],
    );
  it('is smooth where the profile meets the axis at 90°', () => {
    expect(readPoles(outline(dome('0°'))).map((p) => p.verdict)).toEqual(['smooth', 'smooth']);
  });
  it('is named a point or a dimple with its angle', () => {
    const point = readPoles(outline(dome('-30°')))[1]!;
    expect(point.verdict).toBe('point');
    expect(point.angle).toBeCloseTo(60, 6);
    expect(readPoles(outline(dome('20°')))[1]!.verdict).toBe('dimple');
    expect(
      readPoles(
        outline(
          lines([
            [0, 10],
            [30, 0],
            [30, 40],
            [0, 40],
          ]),
        ),
      )[0]!.verdict,
    ).toBe('dimple');
    expect(
      readPoles(
        outline(
          lines([
            [0, -10],
            [30, 0],
            [30, 40],
            [0, 40],
          ]),
        ),
      )[0]!.verdict,
    ).toBe('point');
  });
  it.each([['-30°'], ['20°'], [null]])('is smooth after the fix offered, from %s', (angle) => {
    const p = dome(angle);
    const bad = readPoles(outline(p)).find((x) => x.verdict !== 'smooth')!;
    expect(bad.fix).toBe('make the end handle horizontal');
    expect(readPoles(outline(fixPole(p, bad, resolved(p).points))).every((x) => x.verdict === 'smooth')).toBe(true);
  });
  it('is smooth after the fix on a line and on an arc', () => {
    const cone = lines([
      [0, 0],
      [30, 0],
      [30, 40],
      [0, 55],
    ]);
    const arc = profile(
      [
        [0, 0],
        [30, 0],
        [20, 30],
        [0, 45],
      ],
      [
        { kind: 'line', id: 'foot', from: 'p0', to: 'p1' },
        { kind: 'arc', id: 'side', from: 'p1', to: 'p3', through: 'p2' },
      ],
    );
    for (const p of [cone, arc]) {
      const bad = readPoles(outline(p)).find((x) => x.verdict !== 'smooth')!;
      expect(readPoles(outline(fixPole(p, bad, resolved(p).points))).every((x) => x.verdict === 'smooth')).toBe(true);
    }
  });
  it('does not exist on a ring', () => expect(readPoles(outline(ring))).toEqual([]));
});

describe('drawing', () => {
  const pot = lines([
    [0, 0],
    ['belly/2', 0],
    [25, 50],
    [0, 50],
  ]);
  it('puts a point on a line, an arc and a spline without changing the shape', () => {
    const line = insertPoint(pot, resolved(pot), 'c1', 0.5)!;
    expect(outline(line.profile).curves).toHaveLength(4);
    expect(turnedVolume(outline(line.profile))).toBeCloseTo(turnedVolume(outline(pot)), 4);
    const arc = insertPoint(ring, resolved(ring), 'top', 0.3)!;
    expect(turnedVolume(outline(arc.profile)) / turnedVolume(outline(ring))).toBeCloseTo(1, 5);
    const s = profile(
      [
        [0, 0],
        [30, 20],
        [0, 60],
      ],
      [
        {
          kind: 'spline',
          id: 's',
          from: 'p0',
          to: 'p2',
          through: ['p1'],
          start: { angle: '0°', weight: '1' },
          end: { angle: '0°', weight: '1' },
        },
      ],
    );
    const more = insertPoint(s, resolved(s), 's', 0.8)!;
    const c = more.profile.curves[0]!;
    expect(c.kind === 'spline' && c.through).toEqual(['p1', more.id]);
  });
  it('takes points out: two lines become one', () => {
    const p = removePoint(pot, 'p2');
    expect(p.curves).toHaveLength(2);
    expect(p.points.map((q) => q.id)).toEqual(['p0', 'p1', 'p3']);
    // What spoke of the point goes with it, what did not stays.
    expect(p.constraints.length).toBe(pot.constraints.length);
    expect(removePoint(pot, 'p0').constraints.some((c) => JSON.stringify(c).includes('p0'))).toBe(false);
  });
  it('adds curves under ids that are not taken', () => {
    const a = addPoint(pot, { x: 1, y: 2 });
    const b = addCurve(a.profile, { kind: 'line', from: 'p0', to: a.id });
    expect(new Set([...b.profile.points.map((q) => q.id), ...b.profile.curves.map((q) => q.id)]).size).toBe(
      b.profile.points.length + b.profile.curves.length,
    );
  });
  it('snaps with a reason: to a point, the axis, another height, the grid', () => {
    const r = resolved(pot);
    expect(snap(r, { x: 24.6, y: 50.2 }, 1, 1)).toMatchObject({ point: 'p2', reason: 'on a point' });
    expect(snap(r, { x: 0.4, y: 22.3 }, 1, 1)).toMatchObject({ at: { x: 0, y: 22 } });
    expect(snap(r, { x: 42.2, y: 50.3 }, 1, 1).reason).toContain('same height as p2');
    expect(snap(r, { x: 12.2, y: 50.3 }, 1, 1).reason).toBe('middle of line c2');
    expect(snap(r, { x: 5.2, y: 50.3 }, 1, 1).keep[0]!('q')).toEqual({ kind: 'on-curve', point: 'q', curve: 'c2' });
    expect(snap(r, { x: 12.2, y: 33.4 }, 1, 5, { from: { x: 3, y: 33 } }).keep[0]!('q', 'a')).toEqual({
      kind: 'horizontal',
      a: 'a',
      b: 'q',
    });
    expect(snap(r, { x: 12.2, y: 33.4 }, 1, 5)).toMatchObject({ at: { x: 10, y: 35 }, reason: 'grid 5 mm' });
  });
});
