/**
 * Ways a body can lie on a printer's bed, each with what it needs held up, how high it is, and how it stands. Material under steep places is counted
 * on upright columns: straight down to what lies beneath, or the bed.
 */
import { hullOf, type P2 } from '../geometry/hull';
import { cross, dot, unit, type Vec3 } from '../geometry/vectors';
import { CEILING, ON_BED } from '../inspect/overhang';
import { footprint, standOf } from '../inspect/stand';
import { bounds, massProperties, type TriMesh } from '../mesh/mesh';
import type { Printer } from './printer';

export interface Lie {
  /** Which way of the body is down, a unit vector in its own frame. */
  readonly down: Vec3;
  /** Its size as it lies, the longer side across the bed first, mm. */
  readonly size: Vec3;
  readonly fits: boolean;
  /** How far its longer side is turned from along the bed's, so that it fits, rad. */
  readonly turn: number;
  /** The face most of it lies on; null where it lies on an edge or a point. */
  readonly face: number | null;
  /** mm² on the bed. */
  readonly contact: number;
  /** mm² that lean more than the printer goes without support. */
  readonly steep: number;
  /** mm² of ceilings that are bridged instead: held on both sides, no wider than the printer bridges. */
  readonly bridged: number;
  /** mm³ beneath what leans too much. */
  readonly support: number;
  /** Lean at which it falls over, rad; negative where it does not stand by itself. */
  readonly tipping: number;
  readonly layers: number;
}

/** What counts how much when ways to lie are compared; each of a figure's share of the worst among them. */
export interface Weights {
  readonly support: number;
  readonly steep: number;
  readonly height: number;
  /** For a large foot. */
  readonly contact: number;
}
export const EVEN: Weights = { support: 2, steep: 1, height: 1, contact: 1 };

/** Columns along the longer side. */
const COLUMNS = 320;
/** Columns stand this far off the middles of their cells, in cells: on them they would run along the sides of facets that lie evenly. */
const ASIDE = [0.5137, 0.4929] as const;
/** Flat faces that are tried as feet, the largest first; each has this share of the skin at least. */
const [FLATS, SHARE] = [24, 0.004] as const;
/** Ways nearer than this are the same, rad. */
const SAME = (3 * Math.PI) / 180;
/** Below this lean it counts as falling over, below the next it has no foot at all, rad. */
export const SHAKY = (4 * Math.PI) / 180;
const STANDS = (0.5 * Math.PI) / 180;

export const sameWay = (a: Vec3, b: Vec3): boolean => a.every((v, k) => Math.abs(v - b[k]!) < 1e-9);
/** Down as it is drawn, where no other way was taken. */
export const DRAWN_DOWN: Vec3 = [0, 0, -1];

/** A frame in which `down` is down: the bed's x and y, and up; what lies already stays as it is. */
function frameOf(down: Vec3): readonly [Vec3, Vec3, Vec3] {
  const up: Vec3 = [-down[0], -down[1], -down[2]];
  const u = unit(cross(Math.abs(up[1]) < 0.9 ? [0, 1, 0] : [0, 0, 1], up))!;
  return [u, cross(up, u), up];
}

/** Square to a facet, outwards, as long as twice its area. */
function facing(p: ArrayLike<number>, indices: ArrayLike<number>, t: number): [number, number, number] {
  const [a, b, c] = [3 * indices[3 * t]!, 3 * indices[3 * t + 1]!, 3 * indices[3 * t + 2]!];
  return cross(
    [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!],
    [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!],
  );
}

/** Directions with something flat across them, the largest first, and those between the axes. */
function candidates(mesh: TriMesh): Vec3[] {
  const { positions: p, indices } = mesh;
  const flats = new Map<string, { area: number; sum: [number, number, number] }>();
  let all = 0;
  for (let t = 0; t < indices.length / 3; t++) {
    const n = facing(p, indices, t);
    const l = Math.hypot(...n);
    if (l < 1e-12) continue;
    all += l;
    const key = n.map((v) => Math.round((200 * v) / l)).join();
    const flat = flats.get(key) ?? { area: 0, sum: [0, 0, 0] };
    flat.area += l;
    for (let k = 0; k < 3; k++) flat.sum[k] = flat.sum[k]! + n[k]!;
    flats.set(key, flat);
  }
  const large = [...flats.values()].filter((f) => f.area > SHARE * all).toSorted((a, b) => b.area - a.area);
  const ways: Vec3[] = [];
  const put = (v: readonly [number, number, number], within = SAME): void => {
    const l = Math.hypot(...v);
    const way: Vec3 = [v[0] / l, v[1] / l, v[2] / l];
    if (!ways.some((w) => dot(w, way) > Math.cos(within))) ways.push(way);
  };
  for (const f of large.slice(0, FLATS)) put(f.sum, 1e-3);
  for (const x of [-1, 0, 1]) for (const y of [-1, 0, 1]) for (const z of [-1, 0, 1]) if (x || y || z) put([x, y, z]);
  return ways;
}

/** The rectangle of least area round places, by the sides of their hull (Freeman and Shapira 1975): its longer side, its shorter, and the longer's direction. */
export function leastRectangle(hull: readonly P2[]): { readonly long: number; readonly short: number; readonly along: P2 } {
  let best = { long: Number.POSITIVE_INFINITY, short: Number.POSITIVE_INFINITY, along: [1, 0] as P2 };
  hull.forEach(([x, y], i) => {
    const [nx, ny] = hull[(i + 1) % hull.length]!;
    const l = Math.hypot(nx - x, ny - y);
    if (l < 1e-12) return;
    const [ux, uy] = [(nx - x) / l, (ny - y) / l];
    let [a, b, c, d] = [Infinity, -Infinity, Infinity, -Infinity];
    for (const [px, py] of hull) {
      const [s, t] = [px * ux + py * uy, py * ux - px * uy];
      [a, b, c, d] = [Math.min(a, s), Math.max(b, s), Math.min(c, t), Math.max(d, t)];
    }
    const [w, h] = [b - a, d - c];
    if (w * h < best.long * best.short - 1e-9)
      best = w >= h ? { long: w, short: h, along: [ux, uy] } : { long: h, short: w, along: [-uy, ux] };
  });
  return best;
}

/** Places as they lie: up is z, nothing of the body beneath nought. */
function laidPlaces({ positions: p }: TriMesh, down: Vec3): Float64Array {
  const [u, v, w] = frameOf(down);
  const out = new Float64Array(p.length);
  let low = Number.POSITIVE_INFINITY;
  for (let i = 0; i < p.length; i += 3) {
    const q: Vec3 = [p[i]!, p[i + 1]!, p[i + 2]!];
    out[i] = dot(u, q);
    out[i + 1] = dot(v, q);
    out[i + 2] = dot(w, q);
    low = Math.min(low, out[i + 2]!);
  }
  for (let i = 2; i < out.length; i += 3) out[i] = out[i]! - low;
  return out;
}

/** The outline seen from above, as its hull. */
const shadow = (places: Float64Array): P2[] => {
  const points: P2[] = [];
  for (let i = 0; i < places.length; i += 3) points.push([places[i]!, places[i + 1]!]);
  return hullOf(points);
};

/** The body as it goes onto the bed: lowered to it, about its middle, its longer side turned from along x. */
export function laid(mesh: TriMesh, { down, turn }: Pick<Lie, 'down' | 'turn'>): TriMesh {
  const places = laidPlaces(mesh, down);
  const { along } = leastRectangle(shadow(places));
  const angle = Math.atan2(along[1], along[0]) - turn;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  for (let i = 0; i < places.length; i += 3) {
    const [x, y] = [places[i]!, places[i + 1]!];
    places[i] = x * c + y * s;
    places[i + 1] = y * c - x * s;
  }
  const { min, max } = bounds(places);
  for (let i = 0; i < places.length; i += 3) {
    places[i] = places[i]! - (min[0] + max[0]) / 2;
    places[i + 1] = places[i + 1]! - (min[1] + max[1]) / 2;
  }
  const { normals: _, ...rest } = mesh;
  return { ...rest, positions: places };
}

/** The least turn by which a rectangle lies within a bed, rad; null where none does. */
function turnToFit(long: number, short: number, [bx, by]: Vec3): number | null {
  for (let degrees = 0; degrees <= 90; degrees++) {
    const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
    if (long * c + short * s <= bx + 1e-9 && long * s + short * c <= by + 1e-9) return (degrees * Math.PI) / 180;
  }
  return null;
}

/** How a body lies one way. */
export function lieOf(mesh: TriMesh, down: Vec3, printer: Printer): Lie {
  const places = laidPlaces(mesh, down);
  const placed: TriMesh = { ...mesh, positions: places };
  const { indices, faceOf } = mesh;
  const count = indices.length / 3;
  const high = bounds(places).max[2];
  const { long, short } = leastRectangle(shadow(places));

  // What each facet is to the printer: 1 leans too much, 2 a ceiling.
  const kind = new Uint8Array(count);
  let [contact, steep] = [0, 0];
  const on = new Map<number, number>();
  for (let t = 0; t < count; t++) {
    const [a, b, c] = [3 * indices[3 * t]!, 3 * indices[3 * t + 1]!, 3 * indices[3 * t + 2]!];
    const n = facing(places, indices, t);
    const l = Math.hypot(...n);
    if (l < 1e-12) continue;
    const below = -n[2] / l;
    if (below > 0.99 && Math.max(places[a + 2]!, places[b + 2]!, places[c + 2]!) < ON_BED) {
      contact += l / 2;
      on.set(faceOf[t]!, (on.get(faceOf[t]!) ?? 0) + l / 2);
      continue;
    }
    const lean = below > 1e-9 ? Math.asin(Math.min(1, below)) : 0;
    if (lean <= printer.overhang + 1e-6) continue;
    kind[t] = lean > CEILING ? 2 : 1;
    steep += l / 2;
  }

  const columns = columnsOf(placed);
  const { starts, heights, facets } = columns;
  const bridgedAt = bridges(columns, kind, printer);
  let [support, bridged] = [0, 0];
  const square = columns.sx * columns.sy;
  for (let k = 0; k + 1 < starts.length; k++)
    for (let i = starts[k]!; i < starts[k + 1]!; i++) {
      if (kind[facets[i]!] === 0) continue;
      if (bridgedAt[i]) bridged += square;
      else support += square * (heights[i]! - (i > starts[k]! ? heights[i - 1]! : 0));
    }
  const face = [...on].toSorted((a, b) => b[1] - a[1])[0];
  const turn = turnToFit(long, short, printer.bed);
  return {
    down,
    size: [long, short, high],
    fits: turn !== null && high <= printer.bed[2],
    turn: turn ?? 0,
    face: face && face[1] > 0.2 * contact ? face[0] : null,
    contact,
    steep: Math.max(0, steep - bridged),
    bridged,
    support,
    tipping: tippingOf(placed),
    // A hair of the mesh is not a layer.
    layers: Math.ceil(high / printer.layer - 0.01),
  };
}

/** Where uprights, one a cell of a grid, meet the skin: all of one after all of another, the lowest first. */
interface Columns {
  readonly nx: number;
  readonly ny: number;
  /** Size of a cell, mm. */
  readonly sx: number;
  readonly sy: number;
  /** Where each column begins among the heights, and where the last ends. */
  readonly starts: Uint32Array;
  readonly heights: Float64Array;
  /** The facet that is met. */
  readonly facets: Uint32Array;
}

function columnsOf({ positions: places, indices }: TriMesh): Columns {
  const {
    min: [x0, y0],
    max: [x1, y1],
  } = bounds(places);
  const cell = Math.max(x1 - x0, y1 - y0) / COLUMNS || 1;
  const [nx, ny] = [Math.max(1, Math.ceil((x1 - x0) / cell - 1e-9)), Math.max(1, Math.ceil((y1 - y0) / cell - 1e-9))];
  const [sx, sy] = [(x1 - x0) / nx, (y1 - y0) / ny];
  const starts = new Uint32Array(nx * ny + 1);
  const each = (visit: (column: number, t: number, z: number) => void): void => {
    for (let t = 0; t < indices.length / 3; t++) {
      const [a, b, c] = [3 * indices[3 * t]!, 3 * indices[3 * t + 1]!, 3 * indices[3 * t + 2]!];
      const [ax, ay, bx, by, cx, cy] = [places[a]!, places[a + 1]!, places[b]!, places[b + 1]!, places[c]!, places[c + 1]!];
      const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
      if (area === 0) continue;
      const j1 = Math.min(ny - 1, Math.ceil((Math.max(ay, by, cy) - y0) / sy - ASIDE[1]) - 1);
      for (let j = Math.max(0, Math.ceil((Math.min(ay, by, cy) - y0) / sy - ASIDE[1])); j <= j1; j++) {
        const py = y0 + (j + ASIDE[1]) * sy;
        // Half open, and a side is cut alike from either facet: each upright meets one of the two.
        let [left, right] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
        const cut = (px: number, qy: number, qx: number, ry: number): void => {
          if (qy <= py === ry <= py) return;
          const x = qy < ry ? px + ((py - qy) / (ry - qy)) * (qx - px) : qx + ((py - ry) / (qy - ry)) * (px - qx);
          left = Math.min(left, x);
          right = Math.max(right, x);
        };
        cut(ax, ay, bx, by);
        cut(bx, by, cx, cy);
        cut(cx, cy, ax, ay);
        const i1 = Math.min(nx - 1, Math.ceil((right - x0) / sx - ASIDE[0]) - 1);
        for (let i = Math.max(0, Math.ceil((left - x0) / sx - ASIDE[0])); i <= i1; i++) {
          const px = x0 + (i + ASIDE[0]) * sx;
          const v = ((px - ax) * (cy - ay) - (py - ay) * (cx - ax)) / area;
          const w = ((bx - ax) * (py - ay) - (by - ay) * (px - ax)) / area;
          visit(j * nx + i, t, (1 - v - w) * places[a + 2]! + v * places[b + 2]! + w * places[c + 2]!);
        }
      }
    }
  };
  each((column) => {
    starts[column + 1] = starts[column + 1]! + 1;
  });
  for (let k = 0; k < nx * ny; k++) starts[k + 1] = starts[k + 1]! + starts[k]!;
  const fill = starts.slice();
  const heights = new Float64Array(starts[nx * ny]!);
  const facets = new Uint32Array(heights.length);
  each((column, t, z) => {
    // Sorted as they come: a column has few.
    let at = fill[column]!;
    fill[column] = at + 1;
    for (; at > starts[column]! && heights[at - 1]! > z; at--) {
      heights[at] = heights[at - 1]!;
      facets[at] = facets[at - 1]!;
    }
    heights[at] = z;
    facets[at] = t;
  });
  return { nx, ny, sx, sy, starts, heights, facets };
}

/** Ceilings whose columns lie on a run, across or along or aslant, that ends in material on both sides and is no longer than the printer bridges. */
function bridges({ nx, ny, sx, sy, starts, heights, facets }: Columns, kind: Uint8Array, { bridge, layer }: Printer): Uint8Array {
  const out = new Uint8Array(heights.length);
  /** The ceiling of another column at the same height, as its place in the list. */
  const ceilingAt = (column: number, z: number): number => {
    for (let i = starts[column]!; i < starts[column + 1]!; i++) if (kind[facets[i]!] === 2 && Math.abs(heights[i]! - z) < layer) return i;
    return -1;
  };
  /** Whether a column has material just beneath a height: what begins there has something to lie on. */
  const solidAt = (column: number, z: number): boolean => {
    let inside = false;
    for (let i = starts[column]!; i < starts[column + 1]! && heights[i]! < z; i++) inside = !inside;
    return inside;
  };
  const ways = [
    [1, 0, sx],
    [0, 1, sy],
    [1, 1, Math.hypot(sx, sy)],
    [1, -1, Math.hypot(sx, sy)],
  ] as const;
  for (const [di, dj, step] of ways) {
    const seen = new Uint8Array(heights.length);
    for (let j = 0; j < ny; j++)
      for (let i = 0; i < nx; i++)
        for (let e = starts[j * nx + i]!; e < starts[j * nx + i + 1]!; e++) {
          if (kind[facets[e]!] !== 2 || seen[e]) continue;
          const z = heights[e]!;
          const run: number[] = [e];
          seen[e] = 1;
          /** Goes on to the run's end on one side. @returns whether that lies on material */
          const end = (sign: 1 | -1): boolean => {
            for (let k = 1; ; k++) {
              const [ci, cj] = [i + sign * k * di, j + sign * k * dj];
              if (ci < 0 || cj < 0 || ci >= nx || cj >= ny) return false;
              const next = ceilingAt(cj * nx + ci, z);
              if (next < 0) return solidAt(cj * nx + ci, z - layer / 2);
              seen[next] = 1;
              run.push(next);
            }
          };
          const [back, on] = [end(-1), end(1)];
          if (back && on && run.length * step <= bridge + step / 2) for (const r of run) out[r] = 1;
        }
  }
  return out;
}

/** The lean at which it falls over, by what of it is lowest, rad. */
function tippingOf(placed: TriMesh): number {
  const foot = footprint(placed, ON_BED / 2);
  return foot.length < 3 ? -Math.PI / 2 : standOf(foot, 0, massProperties(placed).centroid).tipping;
}

/** Ways it stands by itself, unsorted; all that were thought of where it stands no way. @returns null where the tick gave up */
export async function lies(
  mesh: TriMesh,
  printer: Printer,
  tick: (share: number) => Promise<boolean> = async () => true,
): Promise<Lie[] | null> {
  const all = candidates(mesh);
  const standing = all.filter((down) => tippingOf({ ...mesh, positions: laidPlaces(mesh, down) }) > STANDS);
  const ways = standing.length > 0 ? standing : all;
  const out: Lie[] = [];
  for (const [i, down] of ways.entries()) {
    if (!(await tick(i / ways.length))) return null;
    out.push(lieOf(mesh, down, printer));
  }
  return out;
}

/** The best first: what does not fit or does not stand comes last. */
export function sorted<L extends Lie>(all: readonly L[], weights: Weights): L[] {
  const most = (of: (l: Lie) => number): number => Math.max(...all.map(of), 1e-9);
  const [support, steep, height, contact] = [most((l) => l.support), most((l) => l.steep), most((l) => l.size[2]), most((l) => l.contact)];
  const cost = (l: Lie): number =>
    (weights.support * l.support) / support +
    (weights.steep * l.steep) / steep +
    (weights.height * l.size[2]) / height +
    weights.contact * (1 - l.contact / contact) +
    (l.fits ? 0 : 1e3) +
    (l.tipping < SHAKY ? 1e2 : 0);
  return all.toSorted((a, b) => cost(a) - cost(b));
}
