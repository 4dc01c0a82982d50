/** Plane sections of a welded mesh. A vertex on the plane counts as below, so that every outline closes. */
import type { TriMesh } from './mesh';

export interface Plane {
  /** Unit normal. */
  readonly normal: readonly [number, number, number];
  /** Distance of the plane from the origin along the normal, mm. */
  readonly offset: number;
}

/** Closed polylines (first point not repeated) in the plane's own coordinates. */
export interface Section {
  readonly u: readonly [number, number, number];
  readonly v: readonly [number, number, number];
  readonly loops: readonly (readonly [number, number][])[];
  /** Chains from an open border to another; none for a closed mesh. */
  readonly chains: readonly (readonly [number, number][])[];
}

/** Two unit vectors that span the plane, right-handed with its normal. */
export function planeAxes(normal: Plane['normal']): { u: [number, number, number]; v: [number, number, number] } {
  const [x, y, z] = normal;
  const ref: [number, number, number] = Math.abs(z) < 0.9 ? [0, 0, 1] : [1, 0, 0];
  let u: [number, number, number] = [ref[1] * z - ref[2] * y, ref[2] * x - ref[0] * z, ref[0] * y - ref[1] * x];
  const l = Math.hypot(...u);
  u = [u[0] / l, u[1] / l, u[2] / l];
  return { u, v: [y * u[2] - z * u[1], z * u[0] - x * u[2], x * u[1] - y * u[0]] };
}

/** Cuts the mesh. Loops run counter-clockwise round material seen against the normal. */
export function sliceMesh(mesh: TriMesh, plane: Plane): Section {
  const { positions: p, indices } = mesh;
  const [nx, ny, nz] = plane.normal;
  const count = p.length / 3;
  const side = new Float64Array(count);
  for (let i = 0; i < count; i++) side[i] = p[3 * i]! * nx + p[3 * i + 1]! * ny + p[3 * i + 2]! * nz - plane.offset;
  const { u, v } = planeAxes(plane.normal);
  const next = new Map<number, number>();
  const place = new Map<number, [number, number]>();
  const cross = (a: number, b: number): number => {
    const id = a < b ? a * count + b : b * count + a;
    if (!place.has(id)) {
      const [lo, hi] = a < b ? [a, b] : [b, a];
      const t = side[lo]! / (side[lo]! - side[hi]!);
      const x = p[3 * lo]! + t * (p[3 * hi]! - p[3 * lo]!);
      const y = p[3 * lo + 1]! + t * (p[3 * hi + 1]! - p[3 * lo + 1]!);
      const z = p[3 * lo + 2]! + t * (p[3 * hi + 2]! - p[3 * lo + 2]!);
      place.set(id, [x * u[0] + y * u[1] + z * u[2], x * v[0] + y * v[1] + z * v[2]]);
    }
    return id;
  };
  for (let t = 0; t < indices.length; t += 3) {
    const a = indices[t]!;
    const b = indices[t + 1]!;
    const c = indices[t + 2]!;
    const above = (side[a]! > 0 ? 1 : 0) + (side[b]! > 0 ? 2 : 0) + (side[c]! > 0 ? 4 : 0);
    if (above === 0 || above === 7) continue;
    // The one vertex alone on its side, and the two others in the triangle's sense.
    const alone = above === 1 || above === 6 ? 0 : above === 2 || above === 5 ? 1 : 2;
    const tri = [a, b, c];
    const s = tri[alone]!;
    const q = cross(s, tri[(alone + 1) % 3]!);
    const r = cross(s, tri[(alone + 2) % 3]!);
    const up = above === 1 || above === 2 || above === 4;
    if (up) next.set(q, r);
    else next.set(r, q);
  }
  const walk = (start: number): [number, number][] => {
    const line: [number, number][] = [];
    for (let at: number | undefined = start; at !== undefined; ) {
      line.push(place.get(at)!);
      const to: number | undefined = next.get(at);
      next.delete(at);
      at = to === start ? undefined : to;
    }
    return line;
  };
  // What begins at an open border first: what is left after it closes.
  const met = new Set(next.values());
  const chains = [...next.keys()].filter((id) => !met.has(id)).map(walk);
  const loops: [number, number][][] = [];
  while (next.size > 0) {
    const loop = walk(next.keys().next().value as number);
    if (loop.length > 2) loops.push(loop);
  }
  return { u, v, loops, chains };
}

export const loopArea = (loop: readonly (readonly [number, number])[]): number => {
  let a = 0;
  for (let i = 0; i < loop.length; i++) {
    const p = loop[i]!;
    const q = loop[(i + 1) % loop.length]!;
    a += p[0] * q[1] - q[0] * p[1];
  }
  return a / 2;
};

/** Centroid of the area a loop encloses. */
export function loopCentroid(loop: readonly (readonly [number, number])[]): [number, number] {
  let [x, y] = [0, 0];
  for (let i = 0; i < loop.length; i++) {
    const p = loop[i]!;
    const q = loop[(i + 1) % loop.length]!;
    const w = p[0] * q[1] - q[0] * p[1];
    x += w * (p[0] + q[0]);
    y += w * (p[1] + q[1]);
  }
  const six = 6 * loopArea(loop);
  return [x / six, y / six];
}

/** x and y of a place of a level section, whose own axes are turned (`planeAxes`). */
export const levelPlace = ([a, b]: readonly [number, number]): [number, number] => [b, -a];

/** The largest outline of a cavity in a level section; undefined where there is none. */
export function largestHole(mesh: TriMesh, height: number): readonly (readonly [number, number])[] | undefined {
  const holes = sliceMesh(mesh, { normal: [0, 0, 1], offset: height }).loops.filter((l) => loopArea(l) < 0);
  return holes.length === 0 ? undefined : holes.reduce((a, b) => (loopArea(a) < loopArea(b) ? a : b));
}

/** An outer loop with the holes right inside it. */
export interface Region {
  readonly outer: readonly [number, number][];
  readonly holes: readonly (readonly [number, number][])[];
}

/** Loops grouped to regions. */
export function regions(section: Section): Region[] {
  const areas = section.loops.map(loopArea);
  // Material lies to one side throughout; the largest loop is always an outer one and gives the sign.
  const largest = areas.reduce((m, a) => (Math.abs(a) > Math.abs(m) ? a : m), 0);
  const sign = Math.sign(largest);
  const outers = section.loops
    .map((loop, i) => ({ loop, area: areas[i]! }))
    .filter((l) => l.area * sign > 0)
    .sort((a, b) => Math.abs(a.area) - Math.abs(b.area));
  const out = outers.map((o) => ({ outer: o.loop, holes: [] as (readonly [number, number][])[] }));
  section.loops.forEach((loop, i) => {
    if (areas[i]! * sign >= 0) return;
    const home = out.find((o) => Math.abs(loopArea(o.outer)) > Math.abs(areas[i]!) && contains(o.outer, loop[0]!));
    home?.holes.push(loop);
  });
  return out;
}

export function contains(loop: readonly (readonly [number, number])[], p: readonly [number, number]): boolean {
  let inside = false;
  for (let i = 0, j = loop.length - 1; i < loop.length; j = i++) {
    const a = loop[i]!;
    const b = loop[j]!;
    if (a[1] > p[1] !== b[1] > p[1] && p[0] < ((b[0] - a[0]) * (p[1] - a[1])) / (b[1] - a[1]) + a[0]) inside = !inside;
  }
  return inside;
}

type P2 = readonly [number, number];
const within = (q: P2, r: Region): boolean => contains(r.outer, q) && !r.holes.some((h) => contains(h, q));

/** Whether two regions share ground: a corner of one in the other, or sides that cross. */
export const regionsMeet = (a: Region, b: Region): boolean =>
  a.outer.some((q) => within(q, b)) ||
  b.outer.some((q) => within(q, a)) ||
  a.outer.some((p, i) => crosses(p, a.outer[(i + 1) % a.outer.length]!, b.outer));

function crosses(p: P2, q: P2, loop: readonly P2[]): boolean {
  const side = (a: P2, b: P2, c: P2): number => (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
  return loop.some((r, i) => {
    const s = loop[(i + 1) % loop.length]!;
    return side(p, q, r) * side(p, q, s) < 0 && side(r, s, p) * side(r, s, q) < 0;
  });
}
