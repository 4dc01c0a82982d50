import { describe, expect, it } from 'vitest';
import { cross, distance, dot, minus, triple, unit, type Vec3 } from '../geometry/vectors';
import { cards } from './cards';
import { type Joined, type Network, network, type Strand } from './network';
import { surfaceAt } from './space';

type Patch = (u: number, v: number) => Vec3;
const strand = (at: (t: number) => Vec3, words: string, held = false): Strand => ({
  at,
  closed: false,
  joints: [],
  corners: [],
  held,
  words,
});
/** Lines of a known surface, both ways, at even shares; each run at a pace of its own. */
const linesOf = (f: Patch, n: number, m: number, pace: (t: number, k: number) => number = (t) => t) => ({
  along: Array.from({ length: m }, (_, j) => strand((t) => f(pace(t, j), j / (m - 1)), `line ${j}`)),
  across: Array.from({ length: n }, (_, i) => strand((t) => f(i / (n - 1), pace(t, i + 7)), `rib ${i}`)),
});
const open: Parameters<typeof network>[2] = { within: 1e-3, joined: { along: [], across: [] } };
const made = (r: ReturnType<typeof network>): Network => {
  if (!r.ok) throw new Error(r.error.why);
  return r.value;
};
/** Largest distance of the surface from a known one, by how far its places miss `f`'s own condition. */
const worst = (n: Network, miss: (p: Vec3) => number): number => {
  let off = 0;
  for (let i = 0; i <= 40; i++) for (let j = 0; j <= 40; j++) off = Math.max(off, Math.abs(miss(surfaceAt(n.surface, i / 40, j / 40))));
  return off;
};

describe('cards', () => {
  it('are one at their own place and nothing at the others, for any ends', () => {
    for (const [start, end] of [
      [0, 0],
      [1, 0],
      [2, 2],
      [0, 2],
    ] as const) {
      const nodes = [0, 0.2, 0.55, 1];
      const c = cards(nodes, start, end);
      for (const [i, x] of nodes.entries()) for (const [k, v] of c.at(x).entries()) expect(v).toBeCloseTo(k === i ? 1 : 0, 8);
    }
  });

  it('give a parabola its own values between three places, and a line between two', () => {
    const three = cards([0, 0.3, 1]);
    const two = cards([0, 1]);
    for (const x of [0.1, 0.47, 0.9]) {
      expect(three.at(x).reduce((s, w, i) => s + w * [0, 0.3, 1][i]! ** 2, 0)).toBeCloseTo(x * x, 5);
      expect(two.at(x)[1]).toBeCloseTo(x, 7);
    }
  });
});

describe('a network', () => {
  it('is the Coons patch of four lines', () => {
    const corner = (x: number, y: number): Vec3 => [60 * x, 40 * y, 30 * x * y];
    const n = made(network(linesOf(corner, 2, 2).along, linesOf(corner, 2, 2).across, open));
    // A bilinear patch: z = xy/80.
    expect(worst(n, ([x, y, z]) => z - (x * y) / 80)).toBeLessThan(1e-6);
  });

  it('is the Coons patch of four curves, by its formula', () => {
    const c0: Patch = (u) => [50 * u, 0, 8 * Math.sin(Math.PI * u)];
    const c1: Patch = (u) => [50 * u, 40, 12 * u * (1 - u)];
    const d0: Patch = (_, v) => [0, 40 * v, 6 * v * (1 - v)];
    const d1: Patch = (_, v) => [50, 40 * v, -10 * v * (1 - v)];
    const n = made(
      network(
        [strand((t) => c0(t, 0), 'c0'), strand((t) => c1(t, 0), 'c1')],
        [strand((t) => d0(0, t), 'd0'), strand((t) => d1(0, t), 'd1')],
        open,
      ),
    );
    // z of the Coons patch: its corners lie at z = 0. Parameters are by length, so x and y tell them.
    const z = (x: number, y: number): number => {
      const [u, v] = [x / 50, y / 40];
      return (1 - v) * c0(u, 0)[2] + v * c1(u, 0)[2] + (1 - u) * d0(0, v)[2] + u * d1(0, v)[2];
    };
    expect(worst(n, (p) => p[2] - z(p[0], p[1]))).toBeLessThan(1e-5);
  });

  const size = 100;
  const quarter = Math.PI / 2;
  const known: Record<string, { f: Patch; miss: (p: Vec3) => number }> = {
    ball: {
      f: (u, v) => {
        const [a, b] = [quarter * u, 0.9 * quarter * v];
        return [50 * Math.cos(a) * Math.cos(b), 50 * Math.sin(a) * Math.cos(b), 50 * Math.sin(b)];
      },
      miss: (p) => Math.hypot(...p) - 50,
    },
    ring: {
      f: (u, v) => {
        const [a, b] = [quarter * u, quarter * v];
        const r = 35 + 15 * Math.cos(b);
        return [r * Math.cos(a), r * Math.sin(a), 15 * Math.sin(b)];
      },
      miss: ([x, y, z]) => Math.hypot(Math.hypot(x, y) - 35, z) - 15,
    },
    cylinder: { f: (u, v) => [50 * Math.cos(2 * u), 50 * Math.sin(2 * u), 90 * v], miss: ([x, y]) => Math.hypot(x, y) - 50 },
    saddle: {
      f: (u, v) => [100 * u - 50, 100 * v - 50, ((100 * u - 50) ** 2 - (100 * v - 50) ** 2) / 100],
      miss: ([x, y, z]) => z - (x * x - y * y) / 100,
    },
    bicubic: {
      f: (u, v) => [100 * u, 80 * v, 40 * (u ** 3 - u * u * v + v ** 3 - 0.5 * u ** 3 * v ** 2)],
      miss: ([x, y, z]) => {
        const [u, v] = [x / 100, y / 80];
        return z - 40 * (u ** 3 - u * u * v + v ** 3 - 0.5 * u ** 3 * v ** 2);
      },
    },
  };
  for (const [name, { f, miss }] of Object.entries(known))
    it(`is the ${name} whose lines it is given, whatever their pace`, () => {
      // Where places of lines belong together by their parameters, as on a polynomial patch, they are taken at that pace.
      const uneven = name === 'bicubic' ? 0 : 0.15;
      const { along, across } = linesOf(f, 5, 4, (t, k) => t + uneven * ((k % 3) - 1) * t * (1 - t));
      const n = made(network(along, across, open));
      expect(worst(n, miss)).toBeLessThan(1e-4 * size);
      expect(n.off).toBeLessThan(0.005);
    });

  it('passes curves that miss each other within what is given, half the way, and refuses the next wider', () => {
    const f = known.saddle!.f;
    const lines = linesOf(f, 4, 4);
    const lifted = lines.across.map((s, i) =>
      i === 1 ? { ...s, at: (t: number) => triple((k) => s.at(t)[k] + (k === 2 ? 0.08 : 0)) as Vec3 } : s,
    );
    const n = made(network(lines.along, lifted, { ...open, within: 0.1 }));
    expect(n.gap!.distance).toBeGreaterThan(0.03);
    expect(n.gap!.distance).toBeLessThan(0.0801);
    const refused = network(lines.along, lifted, { ...open, within: 0.02 });
    expect(refused.ok).toBe(false);
    if (!refused.ok) expect(refused.error).toMatchObject({ what: 'gap' });
  });

  it('leaves what lies on a body where it is, and pulls the others to it', () => {
    const lines = linesOf(known.saddle!.f, 3, 3);
    const along = lines.along.map((s, j) =>
      j === 0 ? { ...s, held: true, at: (t: number) => triple((k) => s.at(t)[k] + (k === 2 ? 0.05 : 0)) as Vec3 } : s,
    );
    const n = made(network(along, lines.across, { ...open, within: 0.1 }));
    for (const u of [0, 0.3, 0.77]) {
      const p = surfaceAt(n.surface, u, 0);
      expect(p[2]).toBeCloseTo((p[0] ** 2 - p[1] ** 2) / 100 + 0.05, 4);
    }
  });

  it('names curves that are not in their order, and the order that is', () => {
    const { along, across } = linesOf(known.saddle!.f, 4, 3);
    const r = network(along, [across[0]!, across[2]!, across[1]!, across[3]!], open);
    expect(r.ok).toBe(false);
    if (!r.ok) expect(r.error).toMatchObject({ what: 'order', order: { family: 'across', to: [0, 2, 1, 3] } });
  });

  it('takes the stretch of a closed curve between the outermost that meet it', () => {
    const circle = (z: number, r: number): Strand => ({
      ...strand((t) => [r * Math.cos(2 * Math.PI * t), r * Math.sin(2 * Math.PI * t), z], 'circle'),
      closed: true,
    });
    const up = (a: number): Strand => strand((t) => [(40 - 10 * t) * Math.cos(a), (40 - 10 * t) * Math.sin(a), 60 * t], `line ${a}`);
    // Over the place where the circles begin.
    const n = made(network([circle(0, 40), circle(60, 30)], [up(-0.7), up(0.1), up(0.8)], open));
    expect(worst(n, ([x, y, z]) => Math.hypot(x, y) - (40 - z / 6))).toBeLessThan(1e-4 * size);
    const p = surfaceAt(n.surface, 0.5, 0.5);
    expect(p[0]).toBeGreaterThan(30);
  });
});

describe('a network that goes on from what is beside it', () => {
  /** A ball about a place, as what lies beside a border. */
  const ball =
    (centre: Vec3, r: number, out: Vec3 = [0, 0, -1]): Joined['beside'] =>
    (p, along) => {
      const n = unit(minus(p, centre))!;
      const square = cross(n, along);
      return { normal: n, away: dot(square, out) < 0 ? triple((k) => -square[k]) : square, form: (a, b) => -dot(a, b) / r };
    };
  /** A flat of normal z. */
  const floor: Joined['beside'] = (p) => ({ normal: [0, 0, 1], away: unit([-p[0], -p[1], 0])!, form: () => 0 });
  const joined = (join: 'G1' | 'G2', beside: Joined['beside']): Joined => ({ join, beside, words: 'it' });
  /** The surface's own normal and normal curvature along a direction, by differences. */
  const reading = (n: Network, u: number, v: number) => {
    const h = 2e-4;
    const s = (a: number, b: number) => surfaceAt(n.surface, a, b);
    const sense = v === 0 ? 1 : -1;
    const d = triple((k) => (sense * (-1.5 * s(u, v)[k]! + 2 * s(u, v + sense * h)[k]! - 0.5 * s(u, v + 2 * sense * h)[k]!)) / h);
    const dd = triple(
      (k) => (2 * s(u, v)[k]! - 5 * s(u, v + sense * h)[k]! + 4 * s(u, v + 2 * sense * h)[k]! - s(u, v + 3 * sense * h)[k]!) / h ** 2,
    );
    const t = minus(s(u + h, v), s(u - h, v));
    const normal = unit(cross(t, d))!;
    return { p: s(u, v), d, normal, bend: dot(dd, normal) };
  };
  const ends = (c: Vec3, r: number, a: number, tilt: number): { p: Vec3; way: Vec3 } => {
    const p: Vec3 = [c[0] + r * Math.cos(a) * Math.cos(tilt), c[1] + r * Math.sin(a) * Math.cos(tilt), c[2] + r * Math.sin(tilt)];
    return { p, way: [-Math.cos(a) * Math.sin(tilt), -Math.sin(a) * Math.sin(tilt), Math.cos(tilt)] };
  };
  /** Lines from a circle of latitude of a ball down to a floor: quintics that leave both in their tangent planes, with their curvature or another. */
  const tent = (right = true) => {
    const [r, tilt] = [20, 0.6];
    const up = (a: number): Strand => {
      const top = ends([0, 0, 30], r, a, tilt);
      const out: Vec3 = [Math.cos(a), Math.sin(a), 0];
      const n = unit(minus(top.p, [0, 0, 30]))!;
      const [p0, d0, e0]: Vec3[] = [triple((k) => 45 * out[k]), triple((k) => -40 * out[k]), [0, 0, right ? 0 : 60]];
      const [p1, d1]: Vec3[] = [top.p, triple((k) => 25 * top.way[k])];
      const e1 = triple((k) => (right ? (-25 * 25) / r : 0) * n[k]);
      // Quintic Hermite data as Bézier poles.
      const poles: Vec3[] = [
        p0!,
        triple((k) => p0![k] + d0![k] / 5),
        triple((k) => p0![k] + (2 * d0![k]) / 5 + e0![k] / 20),
        triple((k) => p1![k] - (2 * d1![k]) / 5 + e1[k] / 20),
        triple((k) => p1![k] - d1![k] / 5),
        p1!,
      ];
      const choose = [1, 5, 10, 10, 5, 1];
      return strand(
        (t) => triple((k) => poles.reduce((sum, p, i) => sum + choose[i]! * t ** i * (1 - t) ** (5 - i) * p[k], 0)),
        `line ${a}`,
      );
    };
    const arc = (z: number, rad: number, words: string): Strand =>
      strand((t) => [rad * Math.cos(1.6 * t), rad * Math.sin(1.6 * t), z], words, true);
    return {
      along: [arc(0, 45, 'the floor’s edge'), arc(30 + r * Math.sin(tilt), r * Math.cos(tilt), 'the ball’s edge')],
      across: [0, 0.5, 1.1, 1.6].map(up),
      beside: { floor, ball: ball([0, 0, 30], r) },
    };
  };

  it('keeps the tangent planes of a floor and a ball to 0.05°, and their curvature to 1 %', () => {
    for (const join of ['G1', 'G2'] as const) {
      const { along, across, beside } = tent(join === 'G2');
      const n = made(
        network(along, across, {
          within: 1e-3,
          joined: { along: [joined(join, beside.floor), joined(join, beside.ball)], across: [] },
        }),
      );
      for (let k = 0; k < 23; k++) {
        const u = (k + 0.5) / 23;
        for (const [v, side] of [
          [0, beside.floor],
          [1, beside.ball],
        ] as const) {
          const { p, d, normal, bend } = reading(n, u, v);
          const there = side(p, unit(minus(surfaceAt(n.surface, u + 1e-4, v), p))!, d)!;
          const turn = Math.atan2(Math.hypot(...cross(normal, there.normal)), Math.abs(dot(normal, there.normal)));
          expect((turn * 180) / Math.PI).toBeLessThan(0.05);
          if (join === 'G1') continue;
          const wanted = there.form(d, d) * Math.sign(dot(normal, there.normal));
          expect(Math.abs(bend - wanted) / dot(d, d)).toBeLessThan(0.01 * Math.abs(wanted / dot(d, d)) + 1e-4);
        }
      }
    }
  });

  it('refuses to go on with a curvature that its curves do not have', () => {
    const { along, across, beside } = tent(false);
    const r = network(along, across, { within: 1e-3, joined: { along: [joined('G2', beside.floor), undefined], across: [] } });
    expect(r.ok).toBe(false);
    // e0 / d0² of the lines.
    if (!r.ok) expect(r.error).toMatchObject({ what: 'bends', why: expect.stringContaining('0.0375 1/mm') });
  });

  it('refuses a curve that leaves what it is to go on from at an angle, with the place', () => {
    const { along, across, beside } = tent();
    const steep = across.map((s, i) =>
      i === 2 ? { ...s, at: (t: number): Vec3 => triple((k) => s.at(t)[k] + (k === 2 ? 20 * t * (1 - t) : 0)) } : s,
    );
    const r = network(along, steep, { within: 1e-3, joined: { along: [joined('G1', beside.floor), undefined], across: [] } });
    expect(r.ok).toBe(false);
    if (!r.ok) {
      expect(r.error.what).toBe('leaves');
      expect(distance(r.error.at!, along[0]!.at(1.1 / 1.6))).toBeLessThan(1e-3);
    }
  });

  it('refuses to turn back over what it is to go on from', () => {
    const { along, across, beside } = tent();
    const back = across.map((s, i) =>
      i === 1
        ? { ...s, at: (t: number): Vec3 => triple((k) => s.at(t)[k] + (k < 2 ? 3.4 * along[0]!.at(0.5 / 1.6)[k] * t * (1 - t) ** 2 : 0)) }
        : s,
    );
    const r = network(along, back, { within: 1e-3, joined: { along: [joined('G1', beside.floor), undefined], across: [] } });
    expect(r.ok).toBe(false);
    if (!r.ok) expect(r.error.what).toBe('back');
  });

  it('goes on from one ball all round, its four borders meeting in corners', () => {
    const r = 30;
    const on = (a: number, b: number): Vec3 => [r * Math.cos(a) * Math.cos(b), r * Math.sin(a) * Math.cos(b), r * Math.sin(b)];
    const level = (b: number, words: string): Strand => strand((t) => on(1.1 * t, b), words, true);
    const upright = (a: number, words: string): Strand => strand((t) => on(a, 0.8 * t), words, true);
    const beside = (out: (p: Vec3) => Vec3): Joined => ({
      join: 'G2',
      words: 'the ball',
      beside: (p, along, leaving) => ball([0, 0, 0], r, out(p))(p, along, leaving),
    });
    const n = made(
      network([level(0, 'low'), level(0.8, 'high')], [upright(0, 'left'), upright(1.1, 'right')], {
        within: 1e-3,
        joined: {
          along: [beside(() => [0, 0, 1]), beside(() => [0, 0, -1])],
          across: [beside(() => [0, 1, 0]), beside(() => [Math.sin(1.1), -Math.cos(1.1), 0])],
        },
      }),
    );
    // Known by its borders alone.
    expect(worst(n, (p) => Math.hypot(...p) - r)).toBeLessThan(2e-3 * r);
    for (let k = 0; k < 19; k++) {
      const x = (k + 0.5) / 19;
      for (const [u, v] of [
        [x, 0],
        [x, 1],
        [0, x],
        [1, x],
      ] as const) {
        const h = 1e-4;
        const [cu, cv] = [Math.min(1 - h, Math.max(h, u)), Math.min(1 - h, Math.max(h, v))];
        const normal = unit(
          cross(
            minus(surfaceAt(n.surface, cu + h, cv), surfaceAt(n.surface, cu - h, cv)),
            minus(surfaceAt(n.surface, cu, cv + h), surfaceAt(n.surface, cu, cv - h)),
          ),
        )!;
        expect((Math.acos(Math.min(1, Math.abs(dot(normal, unit(surfaceAt(n.surface, cu, cv))!)))) * 180) / Math.PI).toBeLessThan(0.05);
      }
    }
  });
});
