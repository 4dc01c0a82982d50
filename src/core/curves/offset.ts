/** Parallel curves: exact for lines and arcs, a spline with a stated tolerance for the rest, and chains with their corners closed. */
import { fail, ok, type Result } from '../result';
import { fixed } from '../units/units';
import { splineThrough } from './fit';
import { intersect } from './intersect';
import { arcAbout, curvatureAt, derivatives, distance2, type PlanarCurve, type Point2, pointAt, tangentAt } from './planar';

/** Largest deviation of an offset spline from the true parallel curve, mm. */
const OFFSET_TOLERANCE = 1e-4;

const beside = (c: PlanarCurve, t: number, d: number): Point2 => {
  const { p } = derivatives(c, t);
  const u = tangentAt(c, t);
  return { x: p.x - d * u.y, y: p.y + d * u.x };
};

/**
 * The curve at a distance, to the left of its sense where positive.
 * @returns an error in words where the curve turns tighter than the distance
 */
export function offsetCurve(c: PlanarCurve, d: number): Result<PlanarCurve> {
  if (c.kind === 'line') return ok({ kind: 'line', a: beside(c, 0, d), b: beside(c, 1, d) });
  if (c.kind === 'arc') {
    const radius = c.radius - Math.sign(c.sweep) * d;
    if (radius <= 1e-6) return fail(`the offset of ${fixed(Math.abs(d), 3)} mm uses up an arc of radius ${fixed(c.radius, 3)} mm`);
    return ok(arcAbout(c.centre, radius, c.start, c.sweep));
  }
  let tightest = 0;
  for (let i = 0; i <= 400; i++) tightest = Math.max(tightest, curvatureAt(c, i / 400) * Math.sign(d));
  if (tightest * Math.abs(d) >= 1)
    return fail(
      `the curve turns tighter than the offset: it works below ${fixed(1 / tightest, 3)} mm, ${fixed(Math.abs(d), 3)} mm was asked`,
    );
  for (let n = 8; n <= 256; n *= 2) {
    const points = Array.from({ length: n + 1 }, (_, i) => beside(c, i / n, d));
    const made = splineThrough(points, tangentAt(c, 0), tangentAt(c, 1));
    if (deviation(made, c, d) <= OFFSET_TOLERANCE) return ok(made);
  }
  return fail('the offset curve can’t be followed closely enough');
}

/** Largest distance error of an offset, measured square to the original at points between those it was made from. */
function deviation(made: PlanarCurve, c: PlanarCurve, d: number): number {
  let worst = 0;
  for (let i = 0; i < 97; i++) {
    const t0 = (i + 0.5) / 97;
    const p = pointAt(made, t0);
    let t = t0;
    for (let k = 0; k < 12; k++) {
      const e = derivatives(c, t);
      const w = { x: p.x - e.p.x, y: p.y - e.p.y };
      const g = w.x * e.d1.x + w.y * e.d1.y;
      const h = e.d1.x * e.d1.x + e.d1.y * e.d1.y - (w.x * e.d2.x + w.y * e.d2.y);
      if (!(Math.abs(h) > 1e-12)) break;
      t = Math.min(1, Math.max(0, t + g / h));
    }
    worst = Math.max(worst, Math.abs(distance2(p, pointAt(c, t)) - Math.abs(d)));
  }
  return worst;
}

/** The same curve between two parameters. Lines and arcs may be longer than they were; splines keep to 0…1. */
export function piece(c: PlanarCurve, t0: number, t1: number): PlanarCurve {
  switch (c.kind) {
    case 'line':
      return { kind: 'line', a: pointAt(c, t0), b: pointAt(c, t1) };
    case 'arc':
      return arcAbout(c.centre, c.radius, c.start + t0 * c.sweep, (t1 - t0) * c.sweep);
    case 'ellipse':
      return { ...c, start: c.start + t0 * c.sweep, sweep: (t1 - t0) * c.sweep, a: pointAt(c, t0), b: pointAt(c, t1) };
    case 'spline': {
      const spline = splitSpline(c.spline, t0, t1);
      const last = spline.poles[spline.poles.length - 1]!;
      return { kind: 'spline', spline, a: { x: spline.poles[0]![0]!, y: spline.poles[0]![1]! }, b: { x: last[0]!, y: last[1]! } };
    }
  }
}

type Spline = Extract<PlanarCurve, { kind: 'spline' }>['spline'];

/** The part of a B-spline between two parameters, exactly, by inserting knots (Boehm; The NURBS Book, A5.1, from memory). */
export function splitSpline(s: Spline, t0: number, t1: number): Spline {
  let { knots, poles } = s;
  const p = s.degree;
  for (const t of [t0, t1])
    for (let have = knots.filter((k) => Math.abs(k - t) < 1e-12).length; have < p + 1 && t > 0 && t < 1; have++) {
      let span = knots.findLastIndex((k) => k <= t + 1e-13);
      span = Math.min(span, knots.length - 2);
      if (have >= p) {
        // One more than the degree parts the curve: the pole there is doubled.
        const at = knots.findIndex((k) => Math.abs(k - t) < 1e-12);
        poles = poles.toSpliced(at - 1, 0, poles[at - 1]!);
        knots = knots.toSpliced(at, 0, t);
        continue;
      }
      const q: (readonly number[])[] = [];
      for (let i = 0; i <= poles.length; i++) {
        if (i <= span - p) q.push(poles[i]!);
        else if (i > span - have) q.push(poles[i - 1]!);
        else {
          const a = (t - knots[i]!) / (knots[i + p]! - knots[i]!);
          q.push(poles[i]!.map((v, k) => a * v + (1 - a) * poles[i - 1]![k]!));
        }
      }
      poles = q;
      knots = knots.toSpliced(span + 1, 0, t);
    }
  const first = t0 <= 0 ? 0 : knots.findIndex((k) => Math.abs(k - t0) < 1e-12);
  const last = t1 >= 1 ? knots.length - 1 : knots.findLastIndex((k) => Math.abs(k - t1) < 1e-12);
  const own = knots.slice(first, last + 1).map((k) => Math.min(1, Math.max(0, (k - t0) / (t1 - t0))));
  return { degree: p, knots: own, poles: poles.slice(first, last - p) };
}

/**
 * A chain of curves offset together; where two meet at a corner their offsets are run on (or cut back) to where they cross,
 * and where they never cross a round of the same distance joins them.
 * @param closed the chain's last curve ends where the first begins
 */
export function offsetChain(chain: readonly PlanarCurve[], d: number, closed: boolean): Result<PlanarCurve[]> {
  const made: PlanarCurve[] = [];
  for (const c of chain) {
    const o = offsetCurve(c, d);
    if (!o.ok) return o;
    made.push(o.value);
  }
  const from = made.map(() => 0);
  const to = made.map(() => 1);
  const rounds = new Map<number, PlanarCurve>();
  for (let i = 0; i < (closed ? made.length : made.length - 1); i++) {
    const j = (i + 1) % made.length;
    const [a, b] = [made[i]!, made[j]!];
    if (distance2(a.b, b.a) < 1e-7) continue;
    const corner = chain[i]!.b;
    const hits = intersect(a, b, 'both').filter((h) => distance2(h.at, corner) < Math.abs(d) * 12);
    hits.sort((p, q) => distance2(p.at, corner) - distance2(q.at, corner));
    const hit = hits.find((h) => h.s > from[i]! && h.t < 1);
    if (hit) {
      to[i] = hit.s;
      from[j] = hit.t;
      continue;
    }
    const w0 = Math.atan2(a.b.y - corner.y, a.b.x - corner.x);
    const w1 = Math.atan2(b.a.y - corner.y, b.a.x - corner.x);
    let sweep = w1 - w0;
    sweep -= 2 * Math.PI * Math.round(sweep / (2 * Math.PI));
    rounds.set(i, arcAbout(corner, Math.abs(d), w0, sweep));
  }
  const out: PlanarCurve[] = [];
  for (let i = 0; i < made.length; i++) {
    if (!(to[i]! > from[i]! + 1e-9))
      return fail(
        `the offset of ${fixed(Math.abs(d), 3)} mm swallows a whole curve near ${fixed(chain[i]!.a.x, 2)}, ${fixed(chain[i]!.a.y, 2)}`,
      );
    out.push(from[i] === 0 && to[i] === 1 ? made[i]! : piece(made[i]!, from[i]!, to[i]!));
    const round = rounds.get(i);
    if (round) out.push(round);
  }
  return ok(out);
}
