/** Where two plane curves meet. Lines and circles in closed form; the rest from polylines, refined by Newton steps. */
import { derivatives, flattenParameters, type PlanarCurve, type Point2, pointAt } from './planar';

export interface Crossing {
  readonly at: Point2;
  /** Parameters on either curve; beyond 0…1 on an extension. */
  readonly s: number;
  readonly t: number;
}

type Arc = Extract<PlanarCurve, { kind: 'arc' }>;
type Line = Extract<PlanarCurve, { kind: 'line' }>;

const sub = (a: Point2, b: Point2): Point2 => ({ x: a.x - b.x, y: a.y - b.y });
const cross = (a: Point2, b: Point2): number => a.x * b.y - a.y * b.x;
const dot = (a: Point2, b: Point2): number => a.x * b.x + a.y * b.y;

/** Parameter of a point on a line, or on an arc continued round its circle (nearest to the middle of the arc). */
export function parameterOn(c: Line | Arc, p: Point2): number {
  if (c.kind === 'line') {
    const u = sub(c.b, c.a);
    return dot(sub(p, c.a), u) / (dot(u, u) || 1e-300);
  }
  const middle = c.start + c.sweep / 2;
  const w = Math.atan2(p.y - c.centre.y, p.x - c.centre.x);
  const off = w - middle - 2 * Math.PI * Math.round((w - middle) / (2 * Math.PI));
  return 0.5 + off / c.sweep;
}

function lineLine(a: Line, b: Line): Point2[] {
  const [u, v] = [sub(a.b, a.a), sub(b.b, b.a)];
  const den = cross(u, v);
  if (Math.abs(den) < 1e-12 * Math.hypot(u.x, u.y) * Math.hypot(v.x, v.y)) return [];
  const s = cross(sub(b.a, a.a), v) / den;
  return [{ x: a.a.x + s * u.x, y: a.a.y + s * u.y }];
}

function lineCircle(l: Line, c: Arc): Point2[] {
  const u = sub(l.b, l.a);
  const len = Math.hypot(u.x, u.y);
  const n = { x: -u.y / len, y: u.x / len };
  const d = dot(sub(c.centre, l.a), n);
  // A tangent that misses by rounding still touches.
  const slack = 1e-9 * Math.max(1, c.radius);
  if (Math.abs(d) > c.radius + slack) return [];
  const foot = { x: c.centre.x - d * n.x, y: c.centre.y - d * n.y };
  const half = Math.sqrt(Math.max(0, c.radius * c.radius - d * d));
  if (half <= Math.sqrt(slack * c.radius) * 1e-2) return [foot];
  const e = { x: u.x / len, y: u.y / len };
  return [
    { x: foot.x - half * e.x, y: foot.y - half * e.y },
    { x: foot.x + half * e.x, y: foot.y + half * e.y },
  ];
}

function circleCircle(a: Arc, b: Arc): Point2[] {
  const w = sub(b.centre, a.centre);
  const d = Math.hypot(w.x, w.y);
  const slack = 1e-9 * Math.max(1, a.radius, b.radius);
  if (d < slack || d > a.radius + b.radius + slack || d < Math.abs(a.radius - b.radius) - slack) return [];
  const along = (d * d + a.radius * a.radius - b.radius * b.radius) / (2 * d);
  const h = Math.sqrt(Math.max(0, a.radius * a.radius - along * along));
  const [ex, ey] = [w.x / d, w.y / d];
  const foot = { x: a.centre.x + along * ex, y: a.centre.y + along * ey };
  if (h <= Math.sqrt(slack * a.radius) * 1e-2) return [foot];
  return [
    { x: foot.x - h * ey, y: foot.y + h * ex },
    { x: foot.x + h * ey, y: foot.y - h * ex },
  ];
}

const simple = (c: PlanarCurve): c is Line | Arc => c.kind === 'line' || c.kind === 'arc';

/**
 * Crossings and touches of two curves.
 * @param beyond also those on the endless line or the whole circle that a line or an arc belongs to: 'a', 'b' or both
 */
export function intersect(a: PlanarCurve, b: PlanarCurve, beyond: 'none' | 'a' | 'b' | 'both' = 'none'): Crossing[] {
  const [openA, openB] = [beyond === 'a' || beyond === 'both', beyond === 'b' || beyond === 'both'];
  const within = (t: number, open: boolean): boolean => open || (t >= -1e-9 && t <= 1 + 1e-9);
  if (simple(a) && simple(b)) {
    const hits =
      a.kind === 'line' && b.kind === 'line'
        ? lineLine(a, b)
        : a.kind === 'line'
          ? lineCircle(a, b as Arc)
          : b.kind === 'line'
            ? lineCircle(b, a)
            : circleCircle(a, b);
    return hits.map((at) => ({ at, s: parameterOn(a, at), t: parameterOn(b, at) })).filter((h) => within(h.s, openA) && within(h.t, openB));
  }
  const [ea, eb] = [openA ? extended(a) : a, openB ? extended(b) : b];
  const hits = general(ea, eb).map((h) => ({
    at: h.at,
    s: ea === a || !simple(a) ? h.s : parameterOn(a, h.at),
    t: eb === b || !simple(b) ? h.t : parameterOn(b, h.at),
  }));
  return hits.filter((h) => within(h.s, openA) && within(h.t, openB));
}

/** A line made long, an arc made whole; other curves stay. */
function extended(c: PlanarCurve): PlanarCurve {
  if (c.kind === 'line') {
    const u = sub(c.b, c.a);
    const k = 1e4 / Math.max(1e-9, Math.hypot(u.x, u.y));
    return { kind: 'line', a: { x: c.a.x - k * u.x, y: c.a.y - k * u.y }, b: { x: c.b.x + k * u.x, y: c.b.y + k * u.y } };
  }
  if (c.kind === 'arc') return { ...c, start: c.start + c.sweep / 2 - Math.PI, sweep: 2 * Math.PI };
  return c;
}

function general(a: PlanarCurve, b: PlanarCurve): Crossing[] {
  const [ta, tb] = [flattenParameters(a, 0.005), flattenParameters(b, 0.005)];
  const [pa, pb] = [ta.map((t) => pointAt(a, t)), tb.map((t) => pointAt(b, t))];
  const out: Crossing[] = [];
  for (let i = 1; i < pa.length; i++)
    for (let j = 1; j < pb.length; j++) {
      const [p, q, r, s] = [pa[i - 1]!, pa[i]!, pb[j - 1]!, pb[j]!];
      const slack = 0.02;
      if (
        Math.max(p.x, q.x) < Math.min(r.x, s.x) - slack ||
        Math.min(p.x, q.x) > Math.max(r.x, s.x) + slack ||
        Math.max(p.y, q.y) < Math.min(r.y, s.y) - slack ||
        Math.min(p.y, q.y) > Math.max(r.y, s.y) + slack
      )
        continue;
      const hit = newton(a, b, (ta[i - 1]! + ta[i]!) / 2, (tb[j - 1]! + tb[j]!) / 2);
      if (!hit || out.some((o) => Math.hypot(o.at.x - hit.at.x, o.at.y - hit.at.y) < 1e-7)) continue;
      out.push(hit);
    }
  return out;
}

/** The crossing near a parameter of each, by Newton's steps. */
export function newton(a: PlanarCurve, b: PlanarCurve, s: number, t: number): Crossing | undefined {
  for (let round = 0; round < 30; round++) {
    const [da, db] = [derivatives(a, Math.min(1, Math.max(0, s))), derivatives(b, Math.min(1, Math.max(0, t)))];
    const w = sub(db.p, da.p);
    if (Math.hypot(w.x, w.y) < 1e-11 * (1 + Math.abs(da.p.x) + Math.abs(da.p.y)))
      return { at: da.p, s: Math.min(1, Math.max(0, s)), t: Math.min(1, Math.max(0, t)) };
    const den = cross(da.d1, db.d1);
    if (Math.abs(den) < 1e-14) return undefined;
    const [onA, onB] = [s, t];
    s = Math.min(1.02, Math.max(-0.02, s + cross(w, db.d1) / den));
    t = Math.min(1.02, Math.max(-0.02, t + cross(w, da.d1) / den));
    // Both are at their ends and stay there.
    if (s === onA && t === onB) return undefined;
  }
  return undefined;
}
