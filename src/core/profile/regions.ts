/**
 * Closed regions of a drawing, with their holes: faces of the plane graph whose nodes are curve ends. Also what keeps a region from
 * closing: loose ends, small gaps, and places where curves cross without a point.
 */
import { intersect } from '../curves/intersect';
import { derivatives, distance2, flatten, isWhole, type PlanarCurve, type Point2, reverse } from '../curves/planar';
import { areaAndCentroid, JOIN_TOLERANCE, type OutlineCurve, outlineLength } from './outline';
import type { ResolvedProfile } from './resolve';

export interface Region {
  readonly outer: readonly OutlineCurve[];
  readonly holes: readonly (readonly OutlineCurve[])[];
  /** mm², holes taken off. */
  readonly area: number;
  readonly centroid: Point2;
  /** Length of all its borders, mm. */
  readonly length: number;
}

export interface RegionReading {
  readonly regions: readonly Region[];
  /** Places where two curves cross away from their ends. */
  readonly crossings: readonly { readonly at: Point2; readonly a: string; readonly b: string }[];
  /** Ends where nothing goes on. */
  readonly loose: readonly Point2[];
}

interface Half {
  readonly from: number;
  readonly to: number;
  readonly piece: OutlineCurve;
  readonly twin: number;
  readonly angle: number;
  readonly bend: number;
}

/** Direction and curvature with which a curve leaves its start. */
function leaving(c: PlanarCurve): { angle: number; bend: number } {
  const { d1, d2 } = derivatives(c, 0);
  let [x, y] = [d1.x, d1.y];
  if (Math.hypot(x, y) < 1e-12) {
    const later = derivatives(c, 1e-4);
    [x, y] = [later.p.x - c.a.x, later.p.y - c.a.y];
  }
  const l = Math.hypot(d1.x, d1.y) || 1e-300;
  return { angle: Math.atan2(y, x), bend: (d1.x * d2.y - d1.y * d2.x) / l ** 3 };
}

/**
 * @param axisCloses on a half profile the stretches of the axis between its ends close a region
 */
export function findRegions(profile: ResolvedProfile, axisCloses: boolean): RegionReading {
  const curves = profile.curves.filter((c) => !c.construction).map((c) => ({ id: c.id, curve: c.curve }));
  const loops: OutlineCurve[][] = [];
  const open: OutlineCurve[] = [];
  for (const c of curves) {
    if (isWhole(c.curve) || distance2(c.curve.a, c.curve.b) <= JOIN_TOLERANCE) loops.push([{ ...c, reversed: false }]);
    else open.push({ ...c, reversed: false });
  }
  const nodes: Point2[] = [];
  const node = (p: Point2): number => {
    const i = nodes.findIndex((n) => distance2(n, p) <= JOIN_TOLERANCE);
    if (i >= 0) return i;
    nodes.push(p);
    return nodes.length - 1;
  };
  for (const c of open) {
    node(c.curve.a);
    node(c.curve.b);
  }
  if (axisCloses) {
    const on = nodes.filter((n) => Math.abs(n.x) <= 1e-6).sort((a, b) => a.y - b.y);
    for (let i = 1; i < on.length; i++) open.push({ id: 'axis', curve: { kind: 'line', a: on[i - 1]!, b: on[i]! }, reversed: false });
  }
  // Curves that lead nowhere bound nothing.
  let edges = open.map((piece) => ({ piece, a: node(piece.curve.a), b: node(piece.curve.b) }));
  const degree = (n: number): number => edges.filter((e) => e.a === n || e.b === n).length;
  const loose = nodes.filter((_, i) => degree(i) === 1 && edges.some((e) => (e.a === i || e.b === i) && e.piece.id !== 'axis'));
  for (let shrinking = true; shrinking; ) {
    const counts = nodes.map((_, i) => degree(i));
    const kept = edges.filter((e) => counts[e.a]! > 1 && counts[e.b]! > 1);
    shrinking = kept.length < edges.length;
    edges = kept;
  }
  const halves: Half[] = [];
  for (const e of edges) {
    const i = halves.length;
    const back = { id: e.piece.id, curve: reverse(e.piece.curve), reversed: true };
    halves.push({ from: e.a, to: e.b, piece: e.piece, twin: i + 1, ...leaving(e.piece.curve) });
    halves.push({ from: e.b, to: e.a, piece: back, twin: i, ...leaving(back.curve) });
  }
  const around: number[][] = nodes.map(() => []);
  halves.forEach((h, i) => {
    around[h.from]!.push(i);
  });
  for (const list of around)
    list.sort((x, y) => {
      const [p, q] = [halves[x]!, halves[y]!];
      return Math.abs(p.angle - q.angle) > 1e-9 ? p.angle - q.angle : p.bend - q.bend;
    });
  const seen = new Set<number>();
  const faces: OutlineCurve[][] = [];
  for (let s = 0; s < halves.length; s++) {
    if (seen.has(s)) continue;
    const face: OutlineCurve[] = [];
    for (let h = s; !seen.has(h); ) {
      seen.add(h);
      face.push(halves[h]!.piece);
      const ring = around[halves[h]!.to]!;
      const at = ring.indexOf(halves[h]!.twin);
      h = ring[(at - 1 + ring.length) % ring.length]!;
    }
    faces.push(face);
  }
  const signed = (loop: readonly OutlineCurve[]): number => areaAndCentroid({ curves: loop, onAxis: false }).area;
  const outers: { loop: OutlineCurve[]; area: number }[] = [];
  const islands: { loop: OutlineCurve[]; area: number }[] = [];
  for (const f of faces) {
    const area = signed(f);
    if (area > 1e-9) outers.push({ loop: f, area });
    else if (area < -1e-9) islands.push({ loop: f, area: -area });
  }
  for (const l of loops) {
    const area = signed(l);
    const left = area >= 0 ? l : [{ id: l[0]!.id, curve: reverse(l[0]!.curve), reversed: true }];
    const right = area >= 0 ? [{ id: l[0]!.id, curve: reverse(l[0]!.curve), reversed: true }] : l;
    outers.push({ loop: left, area: Math.abs(area) });
    islands.push({ loop: right, area: Math.abs(area) });
  }
  const shapes = outers.map((o) => o.loop.flatMap((c) => flatten(c.curve, 0.02).slice(0, -1)));
  const holes: OutlineCurve[][][] = outers.map(() => []);
  for (const island of islands) {
    const p = island.loop[0]!.curve;
    const probe = flatten(p, 0.02)[1] ?? p.a;
    let best = -1;
    outers.forEach((o, i) => {
      if (o.area <= island.area * (1 + 1e-9)) return;
      if (inside(shapes[i]!, probe) && (best < 0 || o.area < outers[best]!.area)) best = i;
    });
    if (best >= 0) holes[best]!.push(island.loop);
  }
  const regions = outers.map((o, i): Region => {
    const all = [o.loop, ...holes[i]!].map((loop) => ({ curves: loop, onAxis: false }));
    let [area, mx, my, length] = [0, 0, 0, 0];
    for (const l of all) {
      const r = areaAndCentroid(l);
      area += r.area;
      mx += r.area * r.centroid.x;
      my += r.area * r.centroid.y;
      length += outlineLength(l);
    }
    return { outer: o.loop, holes: holes[i]!, area, centroid: { x: mx / area, y: my / area }, length };
  });
  return { regions: regions.sort((a, b) => b.area - a.area), crossings: allCrossings(curves), loose };
}

/** Whether a polygon holds a point (even–odd). */
export function inside(polygon: readonly Point2[], p: Point2): boolean {
  let odd = false;
  for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++) {
    if (crossesRightOf(polygon[i]!, polygon[j]!, p)) odd = !odd;
  }
  return odd;
}

/** Whether a level ray from a point to the right crosses a straight piece of a border: within it, an odd number do. */
export const crossesRightOf = (a: Point2, b: Point2, p: Point2): boolean =>
  a.y > p.y !== b.y > p.y && p.x < ((b.x - a.x) * (p.y - a.y)) / (b.y - a.y) + a.x;

function allCrossings(curves: readonly { id: string; curve: PlanarCurve }[]): { at: Point2; a: string; b: string }[] {
  const boxes = curves.map(({ curve }) => {
    const pts = flatten(curve, 0.1);
    return [
      Math.min(...pts.map((p) => p.x)),
      Math.min(...pts.map((p) => p.y)),
      Math.max(...pts.map((p) => p.x)),
      Math.max(...pts.map((p) => p.y)),
    ] as const;
  });
  const out: { at: Point2; a: string; b: string }[] = [];
  for (let i = 0; i < curves.length; i++)
    for (let j = i + 1; j < curves.length; j++) {
      const [p, q] = [boxes[i]!, boxes[j]!];
      if (p[0] > q[2] + 0.1 || q[0] > p[2] + 0.1 || p[1] > q[3] + 0.1 || q[1] > p[3] + 0.1) continue;
      for (const h of intersect(curves[i]!.curve, curves[j]!.curve)) {
        const ends = [curves[i]!.curve, curves[j]!.curve].map(
          (c) => !isWhole(c) && Math.min(distance2(c.a, h.at), distance2(c.b, h.at)) <= JOIN_TOLERANCE * 10,
        );
        // An end on the other curve's inside is a T, which closes no region either.
        if (ends[0] && ends[1]) continue;
        out.push({ at: h.at, a: curves[i]!.id, b: curves[j]!.id });
      }
    }
  return out;
}
