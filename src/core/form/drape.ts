/**
 * Pulling a cage onto something: its smooth limit is brought as near to a mesh as asked, with finer quads where those it has cannot follow.
 * Source: least squares by progressive iteration, H. Lin, Z. Zhang, "An efficient method for fitting large data sets using T-splines" (2013),
 * from memory, with hat functions of the cage for weights: what is rough from place to place is averaged and not followed.
 */
import { along, cross, dot, minus, triple, type Vec3 } from '../geometry/vectors';
import type { TriMesh } from '../mesh/mesh';
import { fail, ok, type Result } from '../result';
import { type Nearest, nearestOf } from '../scan/nearest';
import { faceCount, type Net, vertexCount } from './cage';
import { limitMesh } from './limit';
import { levelsToSettle, refine } from './refine';

export interface DrapeWish {
  /** The limit lies no farther from where it is wanted than this, mm. */
  readonly within: number;
  /** How far before the mesh it is wanted, to the side its facets face, mm. */
  readonly clear: number;
  /** Quads are not parted finer than this, mm: what a scan shows between its places is its roughness. */
  readonly finest?: number;
}

export interface Draped {
  readonly net: Net;
  /** How often every quad was parted in four. */
  readonly finer: number;
  /** Farthest of the limit from where it is wanted, mm, and where. */
  readonly off: number;
  readonly at: Vec3;
  /** Root of the mean square of that by area, mm. */
  readonly rms: number;
  /** Area that lies over the mesh, and beyond its open borders, mm². */
  readonly over: number;
  readonly beyond: number;
  /** A place beyond the borders, where there is one. */
  readonly beyondAt?: Vec3;
}

export interface DrapeFault {
  readonly why: string;
  readonly at?: Vec3;
  /** How near it came, mm, where nothing but the tolerance was missed. */
  readonly reached?: number;
}

/** Parts of a quad along each side by which it is fitted, and by which it is judged at least and at most, as powers of two. */
const FITTED = 2;
const JUDGED = { least: 3, most: 6 } as const;
/** What is rough is judged at so many places for every length below which it is not followed. */
const PER_FINEST = 4;
/** How often places are pulled at first, and again at each fineness after that. */
const ROUNDS = { first: 40, later: 15 } as const;
/** A round takes more than what is off, since neighbours hold back. */
const TAKEN = 1.4;
/** The quads are parted no more often, and come to no more than so many. */
const MOST_FINER = 4;
const MOST_QUADS = 3000;
/** Where the limit leans from the mesh by more than this, it is folded over or lies on another side of it: cosine of 75°. */
const LEANS = 0.26;

/** A refined net's vertices as shares of the cage's own, by halves of edges and middles of faces. */
interface Shares {
  /** Where the shares of each fine vertex begin, with the end of the last. */
  readonly start: Uint32Array;
  readonly of: Uint32Array;
  readonly share: Float64Array;
}

function sharesOf(net: Net, levels: number): Shares {
  let rows: ReadonlyMap<number, number>[] = Array.from({ length: vertexCount(net) }, (_, v) => new Map([[v, 1]]));
  let fine = net;
  for (let k = 0; k < levels; k++) {
    const mean = (of: readonly number[]): Map<number, number> => {
      const out = new Map<number, number>();
      for (const v of of) for (const [w, x] of rows[v]!) out.set(w, (out.get(w) ?? 0) + x / of.length);
      return out;
    };
    const { ends, start, vertex } = fine;
    // After its own vertices come those of its edges, then of its faces.
    rows = [
      ...rows,
      ...Array.from({ length: ends.length / 2 }, (_, e) => mean([ends[2 * e]!, ends[2 * e + 1]!])),
      ...Array.from({ length: faceCount(fine) }, (_, f) => mean([...vertex.subarray(start[f]!, start[f + 1]!)])),
    ];
    fine = refine(fine);
  }
  const start = new Uint32Array(rows.length + 1);
  rows.forEach((r, i) => {
    start[i + 1] = start[i]! + r.size;
  });
  return {
    start,
    of: Uint32Array.from(rows.flatMap((r) => [...r.keys()])),
    share: Float64Array.from(rows.flatMap((r) => [...r.values()])),
  };
}

/** Where a place of the limit is wanted. @param normal of the limit, to the side the mesh faces */
const wanted = ({ at, normal, beyond }: Nearest, place: Vec3, facing: Vec3, clear: number): Vec3 =>
  beyond ? along(place, normal, clear - dot(minus(place, at), normal)) : along(at, facing, clear);

/** Pulled at one fineness. @param side 1 where the limit looks to the side the mesh faces, −1 else */
function pulled(net: Net, nearest: (p: Vec3) => Nearest, clear: number, side: number, rounds: number): Net {
  const shares = sharesOf(net, FITTED);
  const weight = new Float64Array(vertexCount(net));
  for (let i = 0; i < shares.of.length; i++) weight[shares.of[i]!]! += shares.share[i]!;
  let now = net;
  for (let round = 0; round < rounds; round++) {
    const fine = limitMesh(now, FITTED);
    const by = new Float64Array(now.places.length);
    let most = 0;
    for (let s = 0; s + 1 < shares.start.length; s++) {
      const place = triple((k) => fine.places[3 * s + k]!);
      const to = wanted(
        nearest(place),
        place,
        triple((k) => side * fine.normals[3 * s + k]!),
        clear,
      );
      const gap = minus(to, place);
      most = Math.max(most, Math.hypot(...gap));
      for (let i = shares.start[s]!; i < shares.start[s + 1]!; i++)
        for (let k = 0; k < 3; k++) by[3 * shares.of[i]! + k]! += shares.share[i]! * gap[k]!;
    }
    const places = now.places.map((x, i) => x + (TAKEN * by[i]!) / weight[Math.floor(i / 3)]!);
    let moved = 0;
    for (let i = 0; i < places.length; i++) moved = Math.max(moved, Math.abs(places[i]! - now.places[i]!));
    now = { ...now, places };
    if (moved < 1e-4 * most || moved < 1e-7) break;
  }
  return now;
}

interface Judged extends Omit<Draped, 'net' | 'finer'> {
  readonly folded?: Vec3;
}

/** What a limit is off, by the corners of its facets, each with a third of those around. */
function judge(net: Net, nearest: (p: Vec3) => Nearest, clear: number, side: number, finest: number): Judged {
  const levels = finest > 0 ? Math.ceil(Math.log2((PER_FINEST * meanEdge(net)) / finest)) : 0;
  const { places, normals, indices } = limitMesh(net, Math.min(JUDGED.most, Math.max(JUDGED.least, levels)));
  const areas = new Float64Array(places.length / 3);
  for (let t = 0; t < indices.length; t += 3) {
    const corner = (k: number): Vec3 => triple((x) => places[3 * indices[t + k]! + x]!);
    const share = Math.hypot(...cross(minus(corner(1), corner(0)), minus(corner(2), corner(0)))) / 6;
    for (let k = 0; k < 3; k++) areas[indices[t + k]!]! += share;
  }
  let [off, squares, over, beyond] = [0, 0, 0, 0];
  let [at, beyondAt, folded]: [Vec3, Vec3 | undefined, Vec3 | undefined] = [[0, 0, 0], undefined, undefined];
  let [most, leans] = [0, LEANS];
  for (let v = 0; v < areas.length; v++) {
    const place = triple((k) => places[3 * v + k]!);
    const near = nearest(place);
    const facing = triple((k) => side * normals[3 * v + k]!);
    if (near.beyond) {
      beyond += areas[v]!;
      if (Math.abs(near.distance) > most) [most, beyondAt] = [Math.abs(near.distance), place];
      continue;
    }
    over += areas[v]!;
    if (dot(facing, near.normal) < leans) [leans, folded] = [dot(facing, near.normal), place];
    const far = near.distance - clear;
    squares += areas[v]! * far * far;
    if (Math.abs(far) > off) [off, at] = [Math.abs(far), place];
  }
  return {
    off,
    at,
    rms: over > 0 ? Math.sqrt(squares / over) : 0,
    over,
    beyond,
    ...(beyondAt ? { beyondAt } : {}),
    ...(folded ? { folded } : {}),
  };
}

function meanEdge({ ends, places }: Net): number {
  let sum = 0;
  for (let i = 0; i < ends.length; i += 2) sum += Math.hypot(...triple((k) => places[3 * ends[i]! + k]! - places[3 * ends[i + 1]! + k]!));
  return (2 * sum) / ends.length;
}

/** Which side of the limit looks where the mesh faces: by most of its area that lies over the mesh. */
function sideOf(net: Net, nearest: (p: Vec3) => Nearest): number {
  const { places, normals } = limitMesh(net, 1);
  let sum = 0;
  for (let i = 0; i < places.length; i += 3) {
    const near = nearest(triple((k) => places[i + k]!));
    sum += dot(
      triple((k) => normals[i + k]!),
      near.normal,
    );
  }
  return sum < 0 ? -1 : 1;
}

/**
 * The net whose limit lies within a distance of a mesh, or that far before it. It is parted finer while it is farther off, as long as that helps.
 * @param net it lies near the mesh, so that each place of it has its own nearest one
 * @param mesh with shared corners; what it is rough by bounds what can be reached
 */
export function drape(net: Net, mesh: TriMesh, { within, clear, finest = 0 }: DrapeWish): Result<Draped, DrapeFault> {
  const near = nearestOf(mesh);
  if (mesh.indices.length === 0) return fail({ why: 'there is nothing to pull onto' });
  const nearest = (p: Vec3): Nearest => near(p)!;
  // Creases that fade are gone once they have settled: they shape the limit by what is pulled.
  let now = net;
  for (let k = levelsToSettle(net); k > 0; k--) now = refine(now);
  const side = sideOf(now, nearest);
  let best: Draped | undefined;
  for (let finer = 0; ; finer++) {
    now = pulled(now, nearest, clear, side, finer === 0 ? ROUNDS.first : ROUNDS.later);
    const { folded, ...found } = judge(now, nearest, clear, side, finest);
    if (found.over === 0) return fail({ why: 'none of it lies over it', ...(found.beyondAt ? { at: found.beyondAt } : {}) });
    if (folded && finer === 0) return fail({ why: 'it would fold over there, or reach round to another side', at: folded });
    if (!folded && (!best || found.off < best.off)) best = { net: now, finer, ...found };
    if (!folded && found.off <= within) return ok(best!);
    // Parted again it comes no nearer: what is left is the mesh's own roughness, or its corners.
    if (finer === MOST_FINER || 4 * faceCount(now) > MOST_QUADS || meanEdge(now) < 2 * finest || (best && best.finer < finer - 1))
      return fail({
        why: `it comes no nearer than that, parted into ${faceCount(best!.net)} quads`,
        at: best!.at,
        reached: best!.off,
      });
    now = refine(now);
  }
}
