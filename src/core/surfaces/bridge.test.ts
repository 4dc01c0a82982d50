import { describe, expect, it } from 'vitest';
import { cross, distance, dot, minus, triple, unit, type Vec3 } from '../geometry/vectors';
import { type Bridge, bridge } from './bridge';
import type { Joined, Strand } from './network';
import { placeAlong, surfaceAt } from './space';

const ring = (r: number, z: number, words: string, from = 0, sense = 1): Strand => ({
  at: (t) => [r * Math.cos(from + sense * 2 * Math.PI * t), r * Math.sin(from + sense * 2 * Math.PI * t), z],
  closed: true,
  joints: [],
  corners: [],
  held: true,
  words,
});
/** A cylinder about z beside a ring, which leads on up or down. */
const tube = (r: number, up: 1 | -1, join: 'G1' | 'G2'): Joined => ({
  join,
  words: 'the tube',
  beside: (p) => {
    const n: Vec3 = [p[0] / r, p[1] / r, 0];
    const round: Vec3 = [-n[1], n[0], 0];
    return { normal: n, away: [0, 0, up], form: (a, b) => (-dot(a, round) * dot(b, round)) / r };
  },
});
const made = (r: ReturnType<typeof bridge>): Bridge => {
  if (!r.ok) throw new Error(r.error.why);
  return r.value;
};
const places = (b: Bridge): Vec3[] =>
  b.surfaces.flatMap((s) => Array.from({ length: 21 * 21 }, (_, k) => surfaceAt(s, (k % 21) / 20, Math.floor(k / 21) / 20)));

describe('a bridge', () => {
  it('between two ends of one cylinder is that cylinder, wherever their rings begin and whichever way they run', () => {
    for (const join of ['G1', 'G2'] as const) {
      const [a, b] = [ring(15, 0, 'low'), ring(15, 40, 'high', 1.234, -1)];
      const n = made(
        bridge({ strand: a, joined: tube(15, 1, join), strength: 1 }, { strand: b, joined: tube(15, -1, join), strength: 1 }, 0),
      );
      for (const p of places(n)) expect(Math.abs(Math.hypot(p[0], p[1]) - 15)).toBeLessThan(1e-5);
      expect(n.off).toBeLessThan(1e-5);
    }
  });

  it('between rings that are only met is the cone between them', () => {
    const n = made(
      bridge(
        { strand: ring(10, 0, 'low'), joined: undefined, strength: 1 },
        { strand: ring(25, 30, 'high'), joined: undefined, strength: 1 },
        0,
      ),
    );
    for (const p of places(n)) expect(Math.abs(Math.hypot(p[0], p[1]) - (10 + p[2] / 2))).toBeLessThan(1e-5);
  });

  it('goes from a ring to a slot with straight sides, smooth where its pieces meet and across the slot’s joints', () => {
    // A slot 60 × 20 of two half circles and two lines, by arc length from the middle of its right side.
    const [r, l] = [10, 20];
    const total = 4 * l + 2 * Math.PI * r;
    const slot: Strand = {
      at: (t) => {
        const s = (t - Math.floor(t)) * total;
        const arc = Math.PI * r;
        const end = (a: number, side: number): Vec3 => [side * l + r * Math.cos(a), r * Math.sin(a), 0];
        if (s < arc / 2) return end(s / r, 1);
        if (s < arc / 2 + 2 * l) return [l - (s - arc / 2), r, 0];
        if (s < 1.5 * arc + 2 * l) return end(Math.PI / 2 + (s - arc / 2 - 2 * l) / r, -1);
        if (s < 1.5 * arc + 4 * l) return [-l + (s - 1.5 * arc - 2 * l), -r, 0];
        return end((s - 1.5 * arc - 4 * l) / r - Math.PI / 2, 1);
      },
      closed: true,
      joints: [0.25 * 2 * Math.PI * r, 0.25 * 2 * Math.PI * r + 2 * l, 0.75 * 2 * Math.PI * r + 2 * l, 0.75 * 2 * Math.PI * r + 4 * l].map(
        (s) => s / total,
      ),
      corners: [],
      held: true,
      words: 'the slot',
    };
    const wall: Joined = {
      join: 'G2',
      words: 'the slot',
      beside: (p) => {
        const x = Math.max(-l, Math.min(l, p[0]));
        const n = unit([p[0] - x, p[1], 0])!;
        const round: Vec3 = [-n[1], n[0], 0];
        const bent = Math.abs(p[0]) > l ? 1 / r : 0;
        return { normal: n, away: [0, 0, 1], form: (a, b) => -bent * dot(a, round) * dot(b, round) };
      },
    };
    const n = made(
      bridge(
        { strand: slot, joined: wall, strength: 0.8 },
        { strand: ring(14, 70, 'the pipe'), joined: tube(14, -1, 'G2'), strength: 0.8 },
        0,
      ),
    );
    expect(n.surfaces).toHaveLength(4);
    const normal = (k: number, u: number, v: number): Vec3 => {
      const s = n.surfaces[k % 4]!;
      const h = 1e-4;
      const d = (f: (x: number) => Vec3, x: number): Vec3 => (x + h > 1 ? minus(f(x), f(x - h)) : minus(f(x + h), f(x)));
      return unit(
        cross(
          d((x) => surfaceAt(s, x, v), u),
          d((x) => surfaceAt(s, u, x), v),
        ),
      )!;
    };
    for (let k = 0; k < 4; k++)
      for (const v of [0, 0.31, 0.5, 0.83, 1]) {
        expect(distance(surfaceAt(n.surfaces[k]!, 1, v), surfaceAt(n.surfaces[(k + 1) % 4]!, 0, v))).toBeLessThan(1e-9);
        expect((Math.acos(Math.min(1, dot(normal(k, 1, v), normal(k + 1, 0, v)))) * 180) / Math.PI).toBeLessThan(0.05);
      }
    // It leaves the slot upright: its normals lie level there.
    for (let k = 0; k < 4; k++) for (const u of [0.1, 0.4, 0.7, 0.9]) expect(Math.abs(normal(k, u, 0)[2])).toBeLessThan(1e-3);
    // As alike both ways over as slot and pipe are.
    const near = places(n);
    for (const p of near.filter((_, i) => i % 17 === 0)) {
      const mirrored: Vec3 = [-p[0], p[1], p[2]];
      expect(Math.min(...near.map((q) => distance(q, mirrored)))).toBeLessThan(1.5);
    }
  });

  it('says that an open border has no other end in a closed one, and where a border has a corner', () => {
    const open: Strand = { ...ring(10, 0, 'the line'), closed: false };
    const r = bridge(
      { strand: open, joined: undefined, strength: 1 },
      { strand: ring(10, 30, 'the ring'), joined: undefined, strength: 1 },
      0,
    );
    expect(r.ok).toBe(false);
    const cornered = bridge(
      { strand: { ...ring(10, 0, 'the square'), corners: [0.25] }, joined: undefined, strength: 1 },
      { strand: ring(10, 30, 'the ring'), joined: undefined, strength: 1 },
      0,
    );
    expect(!cornered.ok && cornered.error).toMatchObject({ what: 'corner', at: triple((k) => ring(10, 0, '').at(0.25)[k]) });
  });

  it('carries the first border round the bend to the second, wherever that begins and whichever way it runs', () => {
    // Lies level, leads up; the other stands upright at y = −60 and leads back to it: what is in front comes to lie below.
    const low = ring(20, 0, 'low', 0.4, 1);
    for (const [from, sense] of [
      [0, 1],
      [2.1, -1],
      [4.4, 1],
    ] as const) {
      const high: Strand = {
        ...low,
        at: (t) => [12 * Math.cos(from + sense * 2 * Math.PI * t), -60, 85 + 12 * Math.sin(from + sense * 2 * Math.PI * t)],
      };
      const lead: Joined = {
        join: 'G2',
        words: 'it',
        beside: (p) => {
          const n: Vec3 = [p[0] / 12, 0, (p[2] - 85) / 12];
          const round: Vec3 = [-n[2], 0, n[0]];
          return { normal: n, away: [0, 1, 0], form: (a, b) => (-dot(a, round) * dot(b, round)) / 12 };
        },
      };
      const n = made(bridge({ strand: low, joined: tube(20, 1, 'G2'), strength: 1 }, { strand: high, joined: lead, strength: 1 }, 0));
      for (let k = 0; k < 24; k++) {
        const [p, q] = [0, 1].map((v) => placeAlong(n.surfaces, k / 24, v)) as [Vec3, Vec3];
        expect(q[0] / 12).toBeCloseTo(p[0] / 20, 4);
        expect((q[2] - 85) / 12).toBeCloseTo(p[1] / 20, 4);
      }
    }
  });

  it('turns back between two ends that lead the same way', () => {
    const [left, right] = [ring(10, 0, 'left'), ring(10, 0, 'right', 1.9, -1)];
    const aside: Strand = { ...right, at: (t) => triple((k) => right.at(t)[k] + (k === 0 ? 60 : 0)) };
    const over: Joined = {
      ...tube(10, 1, 'G2'),
      beside: (p, a, b) =>
        tube(10, 1, 'G2').beside(
          triple((k) => p[k] - (k === 0 ? 60 : 0)),
          a,
          b,
        ),
    };
    const n = made(bridge({ strand: left, joined: tube(10, 1, 'G2'), strength: 1 }, { strand: aside, joined: over, strength: 1 }, 0));
    // As in a bend of 180°: the inside goes to the inside.
    for (let k = 0; k < 24; k++) {
      const [p, q] = [0, 1].map((v) => placeAlong(n.surfaces, k / 24, v)) as [Vec3, Vec3];
      expect(q[0] - 60).toBeCloseTo(-p[0], 4);
      expect(q[1]).toBeCloseTo(p[1], 4);
    }
  });
});
