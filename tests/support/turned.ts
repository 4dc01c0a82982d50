/** Random turned bodies with faces that are open, for laws of hollowing: straight and round sides, splines, beads, undercuts, feet that leave the floor smoothly. */
import { controlSpline, interpolateCubic } from '../../src/core/curves/bspline';
import { splineThrough } from '../../src/core/curves/fit';
import { arcAbout, arcThrough, type PlanarCurve, type Point2 } from '../../src/core/curves/planar';
import { findOutline } from '../../src/core/profile/outline';
import { type Meridian, meridianOf } from '../../src/core/turned/meridian';

/** A small generator of even random numbers (mulberry32), the same everywhere. */
export function randomFrom(seed: number): () => number {
  let s = seed >>> 0;
  return () => {
    s = (s + 0x6d2b79f5) >>> 0;
    let t = s;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const KINDS = ['poly', 'spline', 'tangent foot', 'bead', 'undercut', 'thin lip', 'arcs', 'dome', 'ring', 'control points'] as const;

export interface TurnedBody {
  readonly kind: (typeof KINDS)[number];
  readonly seed: number;
  readonly meridian: Meridian;
  readonly open: ReadonlySet<string>;
}

const at = (x: number, y: number): Point2 => ({ x, y });
const bezier = (poles: readonly Point2[]): PlanarCurve => ({
  kind: 'spline',
  a: poles[0]!,
  b: poles[3]!,
  spline: { degree: 3, knots: [0, 0, 0, 0, 1, 1, 1, 1], poles: poles.map((p) => [p.x, p.y]) },
});

class Pen {
  readonly curves: PlanarCurve[] = [];
  constructor(public now: Point2) {}
  to(q: Point2): void {
    if (Math.hypot(q.x - this.now.x, q.y - this.now.y) > 1e-6) this.curves.push({ kind: 'line', a: this.now, b: q });
    this.now = q;
  }
  arc(through: Point2, q: Point2): void {
    this.curves.push(arcThrough(this.now, through, q) ?? { kind: 'line', a: this.now, b: q });
    this.now = q;
  }
  add(c: PlanarCurve): void {
    this.curves.push(c);
    this.now = c.b;
  }
}

/** @returns undefined where the random curves cross */
function randomTurned(seed: number): TurnedBody | undefined {
  const random = randomFrom(seed);
  const between = (a: number, b: number): number => a + (b - a) * random();
  const often = (v: number): number => (random() < 0.5 ? Math.round(v) : v);
  const kind = KINDS[seed % KINDS.length]!;
  const height = often(between(30, 150));
  const foot = often(between(12, 45));
  const pen = new Pen(at(0, kind === 'dome' ? often(between(0, 6)) : 0));
  if (kind === 'dome') {
    const q = at(foot, 0);
    if (pen.now.y > 0.5) pen.arc(at(foot * 0.5, pen.now.y * between(0.5, 0.8)), q);
    else {
      pen.now = at(0, 0);
      pen.to(q);
    }
  } else if (random() < 0.4) {
    const [k, r] = [between(2, 5), foot - between(3, 6)];
    pen.now = at(0, k);
    for (const q of [at(r, k), at(r, 0), at(foot, 0)]) pen.to(q);
  } else pen.to(at(foot, 0));
  switch (kind) {
    case 'poly': {
      const n = 2 + Math.floor(random() * 5);
      for (let i = 1; i <= n; i++) pen.to(at(often(between(8, 60)), (height * i) / n + (i < n ? between(-0.4, 0.4) * (height / n) : 0)));
      break;
    }
    case 'spline':
    case 'thin lip': {
      const n = 2 + Math.floor(random() * 4);
      const points = [pen.now];
      for (let i = 1; i <= n; i++) points.push(at(often(between(12, 60)), (height * i) / n));
      pen.add({ kind: 'spline', a: points[0]!, b: points[n]!, spline: interpolateCubic(points.map((q) => [q.x, q.y])) });
      if (kind === 'thin lip') {
        const [lip, up, r] = [between(0.6, 3), between(2, 8), pen.now.x + between(-0.2, 1)];
        const inner = Math.max(2.5, pen.now.x);
        for (const q of [at(r, height + up), at(Math.max(3, r - lip), height + up), at(inner, height + between(-1, 1))]) pen.to(q);
      }
      break;
    }
    case 'tangent foot': {
      const points = [
        pen.now,
        at(foot + between(6, 20), height * between(0.15, 0.3)),
        at(between(15, 45), height * between(0.45, 0.7)),
        at(between(12, 40), height),
      ];
      pen.add(splineThrough(points, at(1, 0), at(between(-0.5, 0.5), 1)));
      break;
    }
    case 'control points': {
      const a = pen.now;
      const w = between(5, 18);
      pen.add(bezier([a, at(a.x + w * 0.6, 0), at(a.x + w, height * 0.12), at(a.x + w, height * 0.25)]));
      const [b, e] = [pen.now, at(between(10, 40), height)];
      pen.add(bezier([b, at(b.x, height * 0.45), at(Math.max(2, e.x + between(-8, 2)), height * 0.6), e]));
      break;
    }
    case 'bead': {
      const [r, n] = [often(between(15, 50)), 1 + Math.floor(random() * 4)];
      pen.to(at(r, 0.15 * height));
      for (let i = 0; i < n; i++) {
        const z = height * (0.2 + (0.7 * (i + 0.3)) / n);
        const b = between(0.6, Math.min(4, (0.3 * height) / n));
        pen.to(at(r, z - b));
        pen.arc(at(r + (random() < 0.75 ? b : -b), z), at(r, z + b));
      }
      if (random() < 0.5) {
        pen.to(at(r, height - 3));
        pen.add(arcAbout(at(r, height), 3, -Math.PI / 2, Math.PI * 1.5 - 1e-3 * random()));
      } else pen.to(at(r, height));
      break;
    }
    case 'undercut': {
      const r = between(20, 50);
      const [neck, z, gap] = [between(6, r - 8), height * between(0.4, 0.6), between(1, 6)];
      pen.to(at(r, z));
      pen.to(at(neck, z + between(-3, 0.5)));
      pen.to(at(neck, z + gap));
      pen.to(at(r * between(0.6, 1.1), z + gap + between(0, 4)));
      pen.to(at(between(10, 40), height + 8));
      break;
    }
    case 'arcs': {
      const n = 2 + Math.floor(random() * 4);
      for (let i = 1; i <= n; i++) {
        const q = at(often(between(14, 55)), (height * i) / n);
        pen.arc(at((pen.now.x + q.x) / 2 + between(-0.3, 0.45) * (height / n), (pen.now.y + q.y) / 2), q);
      }
      break;
    }
    case 'dome':
      pen.to(at(often(between(15, 50)), height * 0.6));
      pen.arc(at(pen.now.x * 0.6, height * between(0.82, 0.95)), at(0, height));
      break;
    case 'ring': {
      pen.curves.length = 0;
      const r0 = often(between(8, 20));
      const [r1, z] = [r0 + often(between(8, 30)), often(between(5, 40))];
      const side = controlSpline(
        [
          [r1, 0],
          [r1 + between(0, 10), z * 0.3],
          [r1 + between(-6, 6), z * 0.7],
          [r1, z],
        ],
        3,
      );
      pen.now = at(r0, 0);
      pen.to(at(r1, 0));
      pen.add({ kind: 'spline', a: at(r1, 0), b: at(r1, z), spline: side });
      pen.to(at(r0 + between(0, 3), z + between(-2, 2)));
      pen.to(at(r0, 0));
      break;
    }
  }
  const ring = kind === 'ring';
  if (!ring && pen.now.x > 1e-9) pen.to(at(0, pen.now.y + (random() < 0.3 ? between(-4, 4) : 0)));
  const { curves } = pen;
  const named = curves.map((curve, i) => ({ id: `c${i}`, curve, construction: false }));
  if (!findOutline({ curves: named, points: new Map() } as never, 'random').ok) return undefined;
  const n = curves.length;
  const open = new Set<number>();
  const pick = random();
  if (ring) open.add(2);
  else if (kind === 'dome') {
    if (pick < 0.5) open.add(0);
  } else {
    if (pick < 0.85) open.add(n - 1);
    if (pick > 0.75) open.add(0);
  }
  if (kind === 'poly' && random() < 0.15) open.add(1);
  if (kind === 'bead' && random() < 0.3) {
    const k = curves.findIndex((c) => c.kind === 'arc');
    if (k > 0) open.add(k);
  }
  return {
    kind,
    seed,
    meridian: meridianOf(
      curves.map((curve, i) => ({ curve, face: `c${i}` })),
      !ring,
    ),
    open: new Set([...open].map((i) => `c${i}`)),
  };
}

/** The first so many sound bodies from a seed on. */
export function randomTurnedBodies(count: number, from = 0): TurnedBody[] {
  const out: TurnedBody[] = [];
  for (let seed = from; out.length < count; seed++) {
    const body = randomTurned(seed);
    if (body) out.push(body);
  }
  return out;
}
