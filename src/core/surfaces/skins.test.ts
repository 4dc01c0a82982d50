/** Lofts and sweeps as surfaces alone: how closely they keep to what they are made from, and what they refuse. */
import { describe, expect, it } from 'vitest';
import { ORIGIN_PLANES } from '../curves/frame';
import { bent, pathAlong, polyline, straightLine } from '../curves/path';
import type { Vec3 } from '../geometry/vectors';
import { type LoftOptions, loft, type Rail } from './loft';
import type { Section } from './round';
import { type SplineSurface, surfaceAt } from './space';
import { type LocalSection, type SweepOptions, sweep } from './sweep';

const ring = (radius: number, z: number, turn = 0): Section => ({
  at: (s) => [radius * Math.cos(2 * Math.PI * (s + turn)), radius * Math.sin(2 * Math.PI * (s + turn)), z],
  normal: [0, 0, 1],
  corners: [],
  joints: [],
  point: false,
  words: `the ring at ${z}`,
});
/** A square by its arc length, its corners at the quarters, begun anywhere. */
const square = (side: number, z: number, begin = 0): Section => {
  const h = side / 2;
  const corners: [number, number][] = [
    [-h, -h],
    [h, -h],
    [h, h],
    [-h, h],
  ];
  return {
    at: (s) => {
      const x = 4 * (((s + begin) % 1) + 1);
      const i = Math.floor(x) % 4;
      const [a, b] = [corners[i]!, corners[(i + 1) % 4]!];
      const t = x - Math.floor(x);
      return [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]), z];
    },
    normal: [0, 0, 1],
    corners: [0, 0.25, 0.5, 0.75].map((c) => (c - begin + 2) % 1).sort((a, b) => a - b),
    joints: [],
    point: false,
    words: `the square at ${z}`,
  };
};
const plain: LoftOptions = { ruled: false, closed: false, snap: false, shifts: [] };
const made = <T>(r: { ok: true; value: T } | { ok: false; error: unknown }): T => {
  if (!r.ok) throw new Error(JSON.stringify(r.error));
  return r.value;
};
const each = (f: SplineSurface, visit: (p: Vec3, u: number, v: number) => void): void => {
  const [u0, u1] = [f.u.knots[0]!, f.u.knots[f.u.knots.length - 1]!];
  const [v0, v1] = [f.v.knots[0]!, f.v.knots[f.v.knots.length - 1]!];
  for (let i = 0; i <= 24; i++)
    for (let j = 0; j <= 12; j++) {
      const [u, v] = [u0 + ((u1 - u0) * i) / 24, v0 + ((v1 - v0) * j) / 12];
      visit(surfaceAt(f, u, v), u, v);
    }
};

describe('a skin through sections', () => {
  it('straight between two rings is a cone, everywhere', () => {
    const { patches } = made(loft([ring(20, 0), ring(12, 40)], [], { ...plain, ruled: true }));
    expect(patches.map((r) => r.length)).toEqual([1]);
    each(patches[0]![0]!, (p) => expect(Math.hypot(p[0], p[1])).toBeCloseTo(20 - (8 * p[2]) / 40, 3));
  });
  it('does not twist, wherever the sections begin', () => {
    for (const turn of [0, 0.13, 0.4, 0.77]) {
      const { ties } = made(loft([ring(20, 0), ring(20, 40, turn)], [], { ...plain, ruled: true }));
      for (const tie of ties.lines) expect(Math.hypot(tie[0]![0] - tie[1]![0], tie[0]![1] - tie[1]![1])).toBeLessThan(0.2);
    }
    for (const begin of [0, 0.25, 0.5, 0.1]) {
      const { ties, patches } = made(loft([square(30, 0), square(20, 40, begin)], [], { ...plain, ruled: true }));
      expect(patches[0]).toHaveLength(4);
      // Corner goes to corner: 5 across and 5 away.
      for (const tie of ties.lines) expect(Math.hypot(tie[0]![0] - tie[1]![0], tie[0]![1] - tie[1]![1])).toBeCloseTo(Math.hypot(5, 5), 6);
    }
  });
  it('parts at corners, and gives a ring as many ties as a square has', () => {
    const { patches, deviation } = made(loft([square(30, 0), ring(12, 40)], [], plain));
    expect(patches[0]).toHaveLength(4);
    expect(deviation.sections).toBeLessThan(3e-4);
    // Neighbours share their border, point for point.
    const [a, b] = [patches[0]![0]!, patches[0]![1]!];
    for (const t of [0, 0.3, 0.8, 1]) {
      const [p, q] = [surfaceAt(a, a.u.knots.at(-1)!, t), surfaceAt(b, b.u.knots[0]!, t)];
      for (let k = 0; k < 3; k++) expect(p[k]).toBeCloseTo(q[k]!, 9);
    }
  });
  it('square to its ends leaves them at right angles', () => {
    const { patches } = made(loft([ring(20, 0), ring(12, 40)], [], { ...plain, startSquare: 1, endSquare: 1 }));
    const f = patches[0]![0]!;
    for (const u of [0.1, 0.6])
      for (const [v, h] of [
        [0, 1e-4],
        [1, -1e-4],
      ] as const) {
        const [p, q] = [surfaceAt(f, u, v), surfaceAt(f, u, v + h)];
        expect(Math.abs(Math.hypot(p[0], p[1]) - Math.hypot(q[0], q[1])) / Math.abs(p[2] - q[2])).toBeLessThan(1e-3);
      }
  });
  const bow = (side: number, off = 0): Rail => ({
    at: (t) => [side * (20 + 12 * t * (1 - t)) + off, 0, 40 * t],
    knots: [],
    words: side > 0 ? 'the right rail' : 'the left rail',
  });
  it('runs along its rails, and says how far a rail misses', () => {
    const { patches, deviation } = made(loft([ring(20, 0), ring(20, 40)], [bow(1), bow(-1)], plain));
    expect(Math.max(deviation.sections, deviation.rails)).toBeLessThan(3e-4);
    let widest = 0;
    for (const f of patches[0]!)
      each(f, (p) => {
        widest = Math.max(widest, Math.abs(p[0]));
      });
    expect(widest).toBeCloseTo(23, 2);
    const missed = loft([ring(20, 0), ring(20, 40)], [bow(1, 0.5), bow(-1)], plain);
    expect(missed.ok ? '' : missed.error).toMatch(/the right rail misses the ring at 0 by 0\.\d+ mm/);
    const pulled = made(loft([ring(20, 0), ring(20, 40)], [bow(1, 0.5), bow(-1)], { ...plain, snap: true }));
    expect(pulled.deviation.sections).toBeLessThan(3e-4);
  });
  it('of one section, of points alone, or of sections in one place does not exist', () => {
    const point = { ...ring(0, 0), point: true };
    for (const sections of [[ring(20, 0)], [point, { ...point, at: (): Vec3 => [0, 0, 9] }], [ring(20, 0), ring(20, 0)]])
      expect(loft(sections, [], plain).ok).toBe(false);
  });
});

describe('a section carried along a path', () => {
  const wire = (r: number, share = 0): LocalSection => ({
    at: (u) => [r * Math.cos(2 * Math.PI * u), r * Math.sin(2 * Math.PI * u), 0],
    normal: [0, 0, 1],
    corners: [],
    joints: [],
    point: false,
    words: 'the wire',
    share,
  });
  const options: SweepOptions = { hold: 'square', twist: 0, scale: 1, across: [0, 0, 1], up: [0, -1, 0] };
  const elbow = polyline([
    [0, 0, 0],
    [40, 0, 0],
    [40, 40, 0],
  ]);
  const bentBy = (radius: number) => {
    const r = bent(elbow, radius);
    if (!r.ok) throw new Error(`at most ${r.error.most}`);
    return pathAlong(r.value);
  };

  it('keeps its distance from the path, a face to every stretch', () => {
    const path = bentBy(12);
    const r = made(sweep(path, [wire(4)], options));
    expect(r.patches).toHaveLength(3);
    expect(r.deviation).toBeLessThan(3e-4);
    for (const row of r.patches)
      each(row[0]!, (p, _, v) => {
        const c = path.at(v).point;
        expect(Math.hypot(p[0] - c[0], p[1] - c[1], p[2] - c[2])).toBeCloseTo(4, 3);
      });
  });
  it('has the volume of Pappus, less where its middle lies inside the bend', () => {
    const path = bentBy(12);
    expect(made(sweep(path, [wire(4)], options)).volume! / (Math.PI * 16 * path.length)).toBeCloseTo(1, 4);
    const off: LocalSection = { ...wire(2), at: (u) => [2 * Math.cos(2 * Math.PI * u), 3 + 2 * Math.sin(2 * Math.PI * u), 0] };
    // Moved 3 towards −up, which lies outside of this bend to the left: the quarter turn is run at radius 12 ± 3.
    const v = made(sweep(path, [off], options)).volume! / (Math.PI * 4);
    const straight = 2 * (40 - 12);
    expect(Math.min(Math.abs(v - straight - (Math.PI / 2) * 9), Math.abs(v - straight - (Math.PI / 2) * 15))).toBeLessThan(2e-3);
  });
  it('is refused where the path has a corner, bends tighter than it reaches, or comes back on itself', () => {
    const why = (r: ReturnType<typeof sweep>): string => (r.ok ? '' : r.error.why);
    expect(why(sweep(pathAlong(elbow), [wire(4)], options))).toContain('sharp corner of 90.0°');
    expect(why(sweep(bentBy(3.5), [wire(4)], options))).toContain('bends with a radius of 3.50 mm, and the section reaches 4.00 mm');
    const back = pathAlong([{ kind: 'helix', frame: ORIGIN_PLANES.level, radius: 20, end: 20, pitch: 6, turns: 3 }]);
    expect(why(sweep(back, [wire(3.2)], { ...options, across: [1, 0, 0], up: [0, 0, 1] }))).toContain('runs into itself');
    expect(sweep(back, [wire(2.5)], { ...options, across: [1, 0, 0], up: [0, 0, 1] }).ok).toBe(true);
  });
  it('only moved along keeps the way it looks', () => {
    const path = pathAlong([straightLine([0, 0, 0], [30, 0, 40])]);
    const r = made(sweep(path, [wire(5)], { ...options, hold: 'fixed', across: [1, 0, 0], up: [0, 1, 0] }));
    expect(r.volume).toBeUndefined();
    each(r.patches[0]![0]!, (p, _, v) => expect(p[2]).toBeCloseTo(40 * v, 6));
  });
});
