/**
 * How thin an outlined text gets: its thinnest stroke and its narrowest gap, for a print line or a cutter. Looked for straight across from
 * places all along the outlines to what runs against them on the other side. Millimetres.
 */
import { distance2, flatten, type PlanarCurve, type Point2 } from '../curves/planar';

export interface Thinness {
  readonly stroke: number;
  readonly gap: number;
  /** Where the thinnest stroke is. */
  readonly at: Point2;
}

interface Side {
  readonly a: Point2;
  readonly b: Point2;
  /** Along it. */
  readonly way: Point2;
}
/** Sides that run along each other within 12° bound a stroke or a gap: those of a corner or a crotch, which come to nothing, don't. */
const ALONG = Math.cos((12 * Math.PI) / 180);

/**
 * @param curves closed outlines, even-odd
 * @param tolerance of their flattening, mm
 * @returns undefined where nothing lies across from anything
 */
export function thinnest(curves: readonly PlanarCurve[], tolerance: number): Thinness | undefined {
  const sides = curves.flatMap((c) => {
    const points = flatten(c, tolerance);
    return points.slice(1).flatMap((b, i): Side[] => {
      const a = points[i]!;
      const l = distance2(a, b);
      return l > 1e-9 ? [{ a, b, way: { x: (b.x - a.x) / l, y: (b.y - a.y) / l } }] : [];
    });
  });
  let found: Thinness | undefined;
  for (const s of sides)
    for (const share of distance2(s.a, s.b) > 20 * tolerance ? [0.02, 0.25, 0.5, 0.75, 0.98] : [0.5]) {
      const p = { x: s.a.x + share * (s.b.x - s.a.x), y: s.a.y + share * (s.b.y - s.a.y) };
      for (const sense of [1, -1]) {
        const out = { x: -sense * s.way.y, y: sense * s.way.x };
        const across = nearestAcross(sides, s, p, out);
        if (across === undefined) continue;
        const inside = crossingsBeyond(sides, { x: p.x + (out.x * across) / 2, y: p.y + (out.y * across) / 2 }) % 2 === 1;
        const now: Thinness = found ?? { stroke: Number.POSITIVE_INFINITY, gap: Number.POSITIVE_INFINITY, at: p };
        if (inside && across < now.stroke) found = { ...now, stroke: across, at: p };
        else if (!inside && across < now.gap) found = { ...now, gap: across };
      }
    }
  return found;
}

/** How far the first thing straight across is, if it runs along this side. */
function nearestAcross(sides: readonly Side[], own: Side, p: Point2, out: Point2): number | undefined {
  let best = Number.POSITIVE_INFINITY;
  let along = false;
  for (const o of sides) {
    if (o === own) continue;
    // p + d·out = o.a + e·(o.b − o.a)
    const [wx, wy] = [o.b.x - o.a.x, o.b.y - o.a.y];
    const det = wx * out.y - wy * out.x;
    if (Math.abs(det) < 1e-15) continue;
    const [rx, ry] = [o.a.x - p.x, o.a.y - p.y];
    const d = (wx * ry - wy * rx) / det;
    const e = (out.x * ry - out.y * rx) / det;
    if (d < 1e-9 || e < 0 || e > 1 || d >= best) continue;
    best = d;
    along = Math.abs(o.way.x * own.way.x + o.way.y * own.way.y) > ALONG;
  }
  return along ? best : undefined;
}

/** Sides that a ray to the right crosses. */
const crossingsBeyond = (sides: readonly Side[], p: Point2): number =>
  sides.filter((s) => s.a.y > p.y !== s.b.y > p.y && s.a.x + ((p.y - s.a.y) / (s.b.y - s.a.y)) * (s.b.x - s.a.x) > p.x).length;
