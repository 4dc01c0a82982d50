/**
 * Symmetry of a cage: mirror planes through the origin and turns about the upright axis. Every vertex knows its partners, and places are
 * kept exact: one place of each set of partners leads, the others are its images.
 */
import { minus } from '../../geometry/vectors';
import { bounds } from '../../mesh/mesh';
import { fail, ok, type Result } from '../../result';
import type { CageOf, P3 } from '../cage';
import { Draft } from './draft';
import { edgeKey } from './topology';

export type Axis = 'x' | 'y' | 'z';
const AXIS_INDEX: Readonly<Record<Axis, 0 | 1 | 2>> = { x: 0, y: 1, z: 2 };
const AXIS_NAMES: Readonly<Record<Axis, string>> = { x: 'left to right', y: 'front to back', z: 'above to below' };

export interface Symmetry {
  /** Planes through the origin, by the axis they are square to. */
  readonly mirror: readonly Axis[];
  /** Turns about the upright axis after which it covers itself; 1 for none. */
  readonly fold: number;
  /** Of what has all its partners only; anything else is left alone. */
  readonly partly?: true;
}
export const NO_SYMMETRY: Symmetry = { mirror: [], fold: 1 };
export const MOST_FOLD = 96;

/** A motion as the rows of its matrix. */
export type Motion = readonly [P3, P3, P3];
export const moved = (m: Motion, [x, y, z]: P3): P3 => [
  m[0][0] * x + m[0][1] * y + m[0][2] * z,
  m[1][0] * x + m[1][1] * y + m[1][2] * z,
  m[2][0] * x + m[2][1] * y + m[2][2] * z,
];
export const turnsOver = (m: Motion): boolean =>
  m[0][0] * (m[1][1] * m[2][2] - m[1][2] * m[2][1]) -
    m[0][1] * (m[1][0] * m[2][2] - m[1][2] * m[2][0]) +
    m[0][2] * (m[1][0] * m[2][1] - m[1][1] * m[2][0]) <
  0;
const times = (a: Motion, b: Motion): Motion =>
  [0, 1, 2].map((r) => [0, 1, 2].map((c) => a[r]![0] * b[0][c]! + a[r]![1] * b[1][c]! + a[r]![2] * b[2][c]!)) as unknown as Motion;
const same = (a: Motion, b: Motion): boolean => a.every((row, r) => row.every((x, c) => Math.abs(x - b[r]![c]!) < 1e-9));

/** A turn about the upright axis; quarters are exact. */
function turn(by: number, of: number): Motion {
  const [c, s] = [exact(Math.cos((2 * Math.PI * by) / of)), exact(Math.sin((2 * Math.PI * by) / of))];
  return [
    [c, -s, 0],
    [s, c, 0],
    [0, 0, 1],
  ];
}
const exact = (v: number): number => (Math.abs(v) < 1e-15 ? 0 : Math.abs(Math.abs(v) - 1) < 1e-15 ? Math.sign(v) : v);

/** All motions of a symmetry, the one that moves nothing first. */
export function motionsOf({ mirror, fold }: Symmetry): Motion[] {
  const still: Motion = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ];
  const out: Motion[] = Array.from({ length: Math.max(1, fold) }, (_, k) => (k === 0 ? still : turn(k, fold)));
  const flips = mirror.map(
    (axis): Motion => still.map((row, r) => (r === AXIS_INDEX[axis] ? row.map((x) => -x) : row)) as unknown as Motion,
  );
  for (let k = 0; k < out.length; k++)
    for (const flip of flips) {
      const m = times(flip, out[k]!).map((row) => row.map((x) => x + 0)) as unknown as Motion;
      if (!out.some((o) => same(o, m))) out.push(m);
    }
  return out;
}

/** A symmetry a cage has: by motion, the partner of every vertex; −1 where a vertex stands alone. */
export interface Partners {
  readonly motions: readonly Motion[];
  readonly maps: readonly Int32Array[];
}

/** Partners stand nearer to an image than this share of the cage's size. */
const NEAR = 1e-4;

export interface Broken {
  readonly what: string;
  readonly at: P3;
}

/** Words for a symmetry. */
export function symmetryWords({ mirror, fold }: Symmetry): string {
  const words = mirror.map((m) => `mirrored ${AXIS_NAMES[m]}`);
  if (fold > 1) words.push(`the same ${fold} times round`);
  return words.length === 0 ? 'no symmetry' : words.join(', ');
}

/** The partners of every vertex, or where the cage is not symmetric, which of one that is so partly is no fault. @param near share of the size within which an image counts as met */
export function partnersOf(cage: CageOf<unknown>, symmetry: Symmetry, near = NEAR): Result<Partners, Broken> {
  const motions = motionsOf(symmetry);
  const { vertices, faces } = cage;
  const own = Int32Array.from(vertices, (_, v) => v);
  if (motions.length === 1) return ok({ motions, maps: [own] });
  const { min, max } = bounds(Float64Array.from(vertices.flat()));
  const reach = near * Math.max(1e-9, Math.hypot(...minus(max, min)));
  const cells = new Map<string, number[]>();
  const cellOf = (p: P3): [number, number, number] => [Math.floor(p[0] / reach), Math.floor(p[1] / reach), Math.floor(p[2] / reach)];
  for (const [v, p] of vertices.entries()) {
    const key = cellOf(p).join();
    cells.set(key, [...(cells.get(key) ?? []), v]);
  }
  const nearest = (p: P3): number => {
    const [x, y, z] = cellOf(p);
    let [best, least] = [-1, reach];
    for (let i = -1; i <= 1; i++)
      for (let j = -1; j <= 1; j++)
        for (let k = -1; k <= 1; k++)
          for (const v of cells.get([x + i, y + j, z + k].join()) ?? []) {
            const d = Math.hypot(...minus(vertices[v]!, p));
            if (d < least) [best, least] = [v, d];
          }
    return best;
  };
  if (symmetry.partly) return ok({ motions, maps: whole([own, ...motions.slice(1).map((m) => images(vertices, m, nearest))]) });
  const known = new Map(faces.map((f, i) => [faceKey(f), i]));
  const weights = weightsOf(cage);
  const maps: Int32Array[] = [own];
  for (const motion of motions.slice(1)) {
    const map = new Int32Array(vertices.length);
    const taken = new Set<number>();
    for (const [v, p] of vertices.entries()) {
      const to = nearest(moved(motion, p));
      if (to < 0 || taken.has(to)) return fail({ what: `vertex ${v + 1} has no partner (${symmetryWords(symmetry)})`, at: p });
      taken.add(to);
      map[v] = to;
    }
    const over = turnsOver(motion);
    for (const [i, f] of faces.entries()) {
      const image = f.map((v) => map[v]!);
      if (over) image.reverse();
      if (!known.has(faceKey(image)))
        return fail({ what: `face ${i + 1} has no partner (${symmetryWords(symmetry)})`, at: vertices[f[0]!]! });
    }
    for (const [a, b, w] of cage.creases)
      if (weights.get(edgeKey(map[a]!, map[b]!)) !== w)
        return fail({ what: `a crease has no partner of its weight (${symmetryWords(symmetry)})`, at: vertices[a]! });
    for (const [v, w] of cage.corners)
      if (weights.get(-1 - map[v]!) !== w)
        return fail({ what: `a corner has no partner of its weight (${symmetryWords(symmetry)})`, at: vertices[v]! });
    maps.push(map);
  }
  return ok({ motions, maps });
}

/** What stands nearest to every vertex's image; −1 where nothing does, or what another image has met. */
function images(vertices: readonly P3[], motion: Motion, nearest: (p: P3) => number): Int32Array {
  const taken = new Set<number>();
  return Int32Array.from(vertices, (p) => {
    const to = nearest(moved(motion, p));
    if (to < 0 || taken.has(to)) return -1;
    taken.add(to);
    return to;
  });
}

/** Maps in which a vertex has all its partners or none. */
function whole(maps: readonly Int32Array[]): Int32Array[] {
  const alone = (v: number): boolean => maps.some((m) => m[v]! < 0 || maps.some((n) => n[m[v]!]! < 0));
  const lone = maps[0]!.map((v) => Number(alone(v)));
  return maps.map((m, g) => (g === 0 ? m : m.map((to, v) => (lone[v] ? -1 : to))));
}

/** The vertices that stand alone. */
export const aloneIn = ({ maps }: Partners): number[] =>
  maps.length < 2 ? [] : [...maps[1]!.keys()].filter((v) => maps.some((m) => m[v]! < 0));

const weightsOf = <W>(cage: CageOf<W>): Map<number, W> =>
  new Map([...cage.creases.map(([a, b, w]) => [edgeKey(a, b), w] as const), ...cage.corners.map(([v, w]) => [-1 - v, w] as const)]);

/** The same for every way to name a face, another one for a face that looks the other way. */
function faceKey(f: readonly number[]): string {
  const first = f.indexOf(Math.min(...f));
  return [...f.slice(first), ...f.slice(0, first)].join();
}

/** Places of some vertices carried to all their partners; the first of partners that are both given leads. */
export function carried(partners: Partners, chosen: ReadonlyMap<number, P3>): Map<number, P3> {
  const out = new Map<number, P3>();
  for (const [v, place] of chosen) {
    if (out.has(v)) continue;
    // On a mirror plane or an axis it stays there: the middle of the images it must be one with.
    const sum: [number, number, number] = [0, 0, 0];
    let still = 0;
    partners.maps.forEach((map, g) => {
      if (map[v] !== v) return;
      const q = moved(partners.motions[g]!, place);
      for (let k = 0; k < 3; k++) sum[k] = sum[k]! + q[k]!;
      still++;
    });
    const own: P3 = still === 1 ? place : [sum[0] / still, sum[1] / still, sum[2] / still];
    partners.maps.forEach((map, g) => {
      const to = map[v]!;
      if (to >= 0 && !out.has(to)) out.set(to, g === 0 ? own : moved(partners.motions[g]!, own));
    });
  }
  return out;
}

/** The cage with places that are each other's images to the last digit. */
export function snapped<W>(cage: CageOf<W>, partners: Partners): CageOf<W> {
  if (partners.motions.length === 1) return cage;
  const middles = new Map<number, P3>();
  const met = new Uint8Array(cage.vertices.length);
  for (let v = 0; v < cage.vertices.length; v++) {
    if (met[v] || partners.maps.some((map) => map[v]! < 0)) continue;
    // What all partners say of this place, by turning each of them back.
    const sum: [number, number, number] = [0, 0, 0];
    partners.maps.forEach((map, g) => {
      const [r, p] = [partners.motions[g]!, cage.vertices[map[v]!]!];
      met[map[v]!] = 1;
      // The motion backwards: rows and columns exchanged.
      for (let k = 0; k < 3; k++) sum[k] = sum[k]! + r[0][k]! * p[0] + r[1][k]! * p[1] + r[2][k]! * p[2];
    });
    const n = partners.maps.length;
    middles.set(v, [sum[0] / n, sum[1] / n, sum[2] / n]);
  }
  const places = carried(partners, middles);
  return { ...cage, vertices: cage.vertices.map((p, v) => places.get(v) ?? p) };
}

/** Largest distance of a vertex from the image of its partner, mm; ∞ where there is none. */
export function asymmetry(cage: CageOf<unknown>, symmetry: Symmetry): number {
  const partners = partnersOf(cage, symmetry);
  if (!partners.ok) return Number.POSITIVE_INFINITY;
  const { motions, maps } = partners.value;
  let most = 0;
  maps.forEach((map, g) => {
    cage.vertices.forEach((p, v) => {
      if (map[v]! >= 0) most = Math.max(most, Math.hypot(...minus(moved(motions[g]!, p), cage.vertices[map[v]!]!)));
    });
  });
  return most;
}

/**
 * One half of a cage and its mirror image: what lies beyond the plane is cut away, the rest is put on both sides.
 * @param side of the plane that is kept, +1 or −1
 */
export function mirrored<W>(cage: CageOf<W>, axis: Axis, side: 1 | -1): Result<CageOf<W>, string> {
  const k = AXIS_INDEX[axis];
  const { min, max } = bounds(Float64Array.from(cage.vertices.flat()));
  const on = NEAR * Math.max(1e-9, Math.hypot(...minus(max, min)));
  const draft = new Draft(cage);
  for (const [v, p] of draft.vertices.entries())
    if (Math.abs(p[k]!) < on) draft.vertices[v] = p.map((x, i) => (i === k ? 0 : x)) as unknown as P3;
  const height = (v: number): number => side * draft.vertices[v]![k]!;
  // Edges that cross the plane get a vertex on it, faces that cross are cut in two there.
  const cut = new Map<number, number>();
  for (const f of cage.faces)
    for (const [i, a] of f.entries()) {
      const b = f[(i + 1) % f.length]!;
      if (height(a) * height(b) >= 0 || cut.has(edgeKey(a, b))) continue;
      cut.set(edgeKey(a, b), draft.between(a, b, height(a) / (height(a) - height(b))));
    }
  for (const v of cut.values()) draft.vertices[v] = draft.vertices[v]!.map((x, i) => (i === k ? 0 : x)) as unknown as P3;
  for (let f = 0; f < cage.faces.length; f++) {
    const face = draft.faces[f]!;
    const sides = face.map((v) => Math.sign(height(v)));
    if (sides.every((s) => s >= 0) && sides.some((s) => s > 0)) continue;
    const kept = face.filter((_, i) => sides[i]! >= 0);
    if (sides.some((s) => s > 0)) {
      const changes = face.filter((_, i) => sides[i]! > 0 !== sides[(i + 1) % face.length]! > 0).length;
      if (changes > 2) return fail(`face ${f + 1} crosses the mirror plane more than once`);
      draft.faces[f] = kept;
    } else draft.faces[f] = null;
  }
  const half = draft.finish().cage;
  if (half.faces.length === 0) return fail('nothing of the cage lies on the side that is kept');
  const image = half.vertices.map((p, v) => (p[k] === 0 ? v : -1));
  let count = half.vertices.length;
  const vertices = [...half.vertices];
  for (const [v, to] of image.entries())
    if (to < 0) {
      image[v] = count++;
      vertices.push(half.vertices[v]!.map((x, i) => (i === k ? -x : x)) as unknown as P3);
    }
  const there = new Set<number>();
  return ok({
    vertices,
    faces: [...half.faces, ...half.faces.map((f) => f.map((v) => image[v]!).reverse())],
    creases: [...half.creases, ...half.creases.map(([a, b, w]) => [image[a]!, image[b]!, w] as const)].filter(([a, b]) => {
      const key = edgeKey(a, b);
      if (there.has(key)) return false;
      there.add(key);
      return true;
    }),
    corners: [...half.corners, ...half.corners.filter(([v]) => image[v] !== v).map(([v, w]) => [image[v]!, w] as const)],
  });
}

/**
 * A cage that is the same n times round, made the same m times round: one of its sectors, narrower or wider, repeated.
 * Fails in words where the cage is not what it is said to be.
 */
export function withFold<W>(cage: CageOf<W>, from: number, to: number): Result<CageOf<W>, string> {
  if (!Number.isInteger(to) || to < 1 || to > MOST_FOLD) return fail(`it repeats a whole number of times, 1 to ${MOST_FOLD}`);
  if (from === to) return ok(cage);
  if (from < 2) return fail('the cage repeats nowhere: set how often it repeats first');
  if (to < 2) return fail('a sector can’t be repeated once: its ends would have to meet');
  const found = partnersOf(cage, { mirror: [], fold: from });
  if (!found.ok) return fail(found.error.what);
  const { maps } = found.value;
  // Every vertex as one that leads, turned so many sectors on; those on the axis lead themselves.
  const lead = new Int32Array(cage.vertices.length).fill(-1);
  const sector = new Int32Array(cage.vertices.length);
  for (const [v, p] of cage.vertices.entries()) {
    if (lead[v]! >= 0) continue;
    // The partner whose angle lies in the first sector leads, so that sectors do not wind.
    const angles = maps.map((map) => {
      const q = cage.vertices[map[v]!]!;
      return positive(Math.atan2(q[1], q[0]));
    });
    const first = angles.indexOf(Math.min(...angles));
    const head = maps[first]![v]!;
    if (maps[1]![head] === head) {
      lead[v] = v;
      continue;
    }
    maps.forEach((map, g) => {
      lead[map[head]!] = head;
      sector[map[head]!] = g;
    });
    if (!(Math.hypot(p[0], p[1]) > 0)) return fail('a vertex on the axis has partners');
  }
  const numbers = new Map<string, number>();
  const vertices: P3[] = [];
  const at = (head: number, g: number): number => {
    const p = cage.vertices[head]!;
    const onAxis = maps[1]![head] === head;
    const k = onAxis ? 0 : ((g % to) + to) % to;
    const key = `${head},${k}`;
    let v = numbers.get(key);
    if (v === undefined) {
      v = vertices.length;
      numbers.set(key, v);
      const r = Math.hypot(p[0], p[1]);
      const a = (positive(angleOf(head)) * from) / to;
      vertices.push(onAxis ? p : moved(turn(k, to), [r * Math.cos(a), r * Math.sin(a), p[2]]));
    }
    return v;
  };
  const angleOf = (v: number): number => Math.atan2(cage.vertices[v]![1], cage.vertices[v]![0]);
  /** Sectors from one vertex on to another, the short way round. */
  const steps = (a: number, b: number): number => {
    const apart = angleOf(b) - angleOf(a);
    const short = Math.atan2(Math.sin(apart), Math.cos(apart));
    return Math.round((short - positive(angleOf(lead[b]!)) + positive(angleOf(lead[a]!))) / ((2 * Math.PI) / from));
  };
  const faces: number[][] = [];
  const seen = new Set<string>();
  for (const f of cage.faces) {
    // A face that goes round the axis repeats only in itself and takes more or fewer corners.
    const image = f.map((v) => maps[1]![v]!);
    const turns = faceKey(image) === faceKey(f);
    const own = orbitKey(f, lead, sector, from, maps);
    if (seen.has(own)) continue;
    seen.add(own);
    if (turns) {
      const period = f.length / from;
      if (!Number.isInteger(period)) return fail('a face about the axis does not repeat as the cage does');
      if (period * to < 3) return fail(`a face about the axis would be left with ${period * to} corners`);
      const part = f.slice(0, period);
      const sense = steps(f[0]!, f[period % f.length]!) >= 0 ? 1 : -1;
      faces.push(Array.from({ length: to }, (_, g) => part.map((v) => at(lead[v]!, sector[v]! - sector[part[0]!]! + sense * g))).flat());
      continue;
    }
    const base = f.find((v) => maps[1]![v] !== v);
    if (base === undefined) return fail('a face lies on the axis');
    for (let g = 0; g < to; g++) faces.push(f.map((v) => at(lead[v]!, maps[1]![v] === v ? 0 : g + steps(base, v))));
  }
  const creases: [number, number, W][] = [];
  const creased = new Set<number>();
  for (const [a, b, w] of cage.creases) {
    const base = maps[1]![a] === a ? b : a;
    for (let g = 0; g < to; g++) {
      const [p, q] = [a, b].map((v) => at(lead[v]!, g + steps(base, v))) as [number, number];
      if (p !== q && !creased.has(edgeKey(p, q))) creases.push([p, q, w]);
      creased.add(edgeKey(p, q));
    }
  }
  const corners = new Map<number, W>();
  for (const [v, w] of cage.corners) for (let g = 0; g < to; g++) corners.set(at(lead[v]!, g), w);
  return ok({ vertices, faces, creases, corners: [...corners] });
}

const positive = (a: number): number => (a < -1e-9 ? a + 2 * Math.PI : Math.max(0, a));

/** The same for all faces that are turns of one another. */
function orbitKey(f: readonly number[], lead: Int32Array, sector: Int32Array, from: number, maps: readonly Int32Array[]): string {
  const keys = Array.from({ length: from }, (_, g) => {
    const image = f.map((v) => (maps[1]![v] === v ? `${v}` : `${lead[v]}/${(sector[v]! + g) % from}`));
    const least = image.reduce((best, x, i) => (x < image[best]! ? i : best), 0);
    return [...image.slice(least), ...image.slice(0, least)].join();
  });
  return keys.sort()[0]!;
}
