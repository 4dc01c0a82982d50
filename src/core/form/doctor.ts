/**
 * What a cage's layout does to its skin: places where the limit is not plain, or not what was meant. Each finding has its place, why it
 * matters, and how strong it is, measured on the limit where that can be measured.
 */
import { cross, dot, minus } from '../curves/frame';
import { bounds } from '../mesh/mesh';
import { type Cage, edgeCount, netOf, type P3, placeAt, ringsOf, vertexCount } from './cage';
import { limitOn, vertexLimits } from './limit';
import { faceArea, faceNormal } from './starts';

export type FindingKind =
  | 'valence'
  | 'triangle'
  | 'many-sided'
  | 'open'
  | 'doubled'
  | 'folded'
  | 'crossing'
  | 'crease-end'
  | 'crease-uneven'
  | 'no-area';

export interface Finding {
  readonly kind: FindingKind;
  readonly what: string;
  readonly why: string;
  /** It can't be made solid as it is. */
  readonly grave: boolean;
  readonly at: P3;
  /** Larger is worse; among findings of a kind. */
  readonly weight: number;
}

/** Vertices nearer than this share of the cage's size are doubled. */
const DOUBLED = 1e-4;
/** Edges that turn back by more than this fold, cosine of the angle between the normals beside them. */
const FOLDED = -0.5;

const middle = (points: readonly P3[]): P3 => [0, 1, 2].map((k) => points.reduce((s, p) => s + p[k]!, 0) / points.length) as unknown as P3;

/** All findings, the grave ones first. A cage that is no surface has that as its only one. */
export function findings(cage: Cage): Finding[] {
  const built = netOf(cage);
  if (!built.ok) {
    const v = built.error.vertices.filter((i) => cage.vertices[i]);
    return [
      {
        kind: 'open',
        what: built.error.what,
        why: 'it is no surface that could be refined',
        grave: true,
        at: v.length > 0 ? middle(v.map((i) => cage.vertices[i]!)) : [0, 0, 0],
        weight: 1,
      },
    ];
  }
  const net = built.value;
  const out: Finding[] = [];
  const put = (kind: FindingKind, at: P3, what: string, why: string, weight = 1, grave = false): void => {
    out.push({ kind, what, why, grave, at, weight });
  };
  const rings = ringsOf(net);
  const corners = (f: readonly number[]): P3[] => f.map((v) => cage.vertices[v]!);
  const { min, max } = bounds(net.places);
  const size = Math.hypot(...min.map((x, k) => max[k]! - x));

  for (const [f, face] of cage.faces.entries()) {
    const p = corners(face);
    const area = faceArea(p);
    if (area < 1e-9 * size * size) put('no-area', middle(p), `Face ${f + 1} has no area.`, 'its skin has no direction there', 1, true);
    if (face.length === 3)
      put('triangle', middle(p), `Face ${f + 1} is a triangle.`, 'it leaves a vertex of three edges in its middle', bump(net, f));
    if (face.length > 4)
      put(
        'many-sided',
        middle(p),
        `Face ${f + 1} has ${face.length} sides.`,
        `it leaves a vertex of ${face.length} edges in its middle`,
        bump(net, f),
      );
  }
  for (let v = 0; v < vertexCount(net); v++) {
    const r = rings[v]!;
    const n = r.edges.length;
    if (!r.border && n !== 4 && r.edges.every((e) => net.crease[e] === 0) && net.corner[v] === 0)
      put(
        'valence',
        placeAt(net, v),
        `${n} edges meet here.`,
        n > 5 ? 'the skin gathers into a peak' : 'curvature has no single value here',
        Math.abs(n - 4),
      );
    const creased = r.edges.filter((e) => net.crease[e]! > 0);
    const inner = creased.filter((e) => net.sides[2 * e + 1]! >= 0);
    if (inner.length === 1 && creased.length === 1)
      put('crease-end', placeAt(net, v), 'A crease ends here.', 'it fades out into the smooth skin and leaves a dent', 1);
    if (inner.length === 2 && creased.length === 2) {
      const [a, b] = inner.map((e) => net.crease[e]!) as [number, number];
      if (a !== b)
        put(
          'crease-uneven',
          placeAt(net, v),
          'The weight of a crease changes here.',
          'its roundness changes in the middle of the loop',
          Math.abs(a - b),
        );
    }
  }
  let borders = 0;
  let somewhere: P3 = [0, 0, 0];
  for (let e = 0; e < edgeCount(net); e++) {
    const [a, b] = [net.ends[2 * e]!, net.ends[2 * e + 1]!];
    const [f, g] = [net.sides[2 * e]!, net.sides[2 * e + 1]!];
    if (g < 0) {
      borders++;
      somewhere = middle([placeAt(net, a), placeAt(net, b)]);
      continue;
    }
    const [m, n] = [faceNormal(corners(cage.faces[f]!)), faceNormal(corners(cage.faces[g]!))];
    const turn = dot(m, n) / (Math.hypot(...m) * Math.hypot(...n) || 1);
    if (turn < FOLDED)
      put(
        'folded',
        middle([placeAt(net, a), placeAt(net, b)]),
        'Two faces fold back on each other.',
        'the skin passes through itself there',
        -turn,
        true,
      );
  }
  if (borders > 0)
    put(
      'open',
      somewhere,
      `The cage is open: ${borders} edges have one face.`,
      'borders are closed by planes when it is made solid, if they are flat',
      0,
    );
  const grid = new Map<string, number>();
  const cell = Math.max(1e-9, DOUBLED * size);
  cage.vertices.forEach((p, v) => {
    const key = p.map((x) => Math.round(x / cell)).join();
    const other = grid.get(key);
    if (other !== undefined)
      put('doubled', p, `Vertices ${other + 1} and ${v + 1} stand at one place.`, 'weld them, or the skin is torn there', 1, true);
    else grid.set(key, v);
  });
  for (const [f, g, at] of crossings(cage))
    put('crossing', at, `Faces ${f + 1} and ${g + 1} cross.`, 'the body would pass through itself', 1, true);
  return out.sort((x, y) => Number(y.grave) - Number(x.grave) || y.weight - x.weight);
}

/** How much the limit bends in the middle of a face, against its size: what a triangle or a many-sided face does to the skin. */
function bump(net: Parameters<typeof limitOn>[0], f: number): number {
  const q = limitOn(net, f, 0, 0.9, 0.9);
  return q.curvatures ? Math.max(...q.curvatures.map(Math.abs)) : 1;
}

/** Pairs of faces without a common vertex that pass through each other, found on their triangles. */
function crossings(cage: Cage): [number, number, P3][] {
  const boxes = cage.faces.map((f) => {
    const p = f.map((v) => cage.vertices[v]!);
    const side = (g: (...x: number[]) => number): P3 => [0, 1, 2].map((k) => g(...p.map((q) => q[k]!))) as unknown as P3;
    return { min: side(Math.min), max: side(Math.max) };
  });
  const order = boxes.map((_, i) => i).sort((a, b) => boxes[a]!.min[0] - boxes[b]!.min[0]);
  const out: [number, number, P3][] = [];
  for (const [i, a] of order.entries())
    for (let j = i + 1; j < order.length && boxes[order[j]!]!.min[0] <= boxes[a]!.max[0]; j++) {
      const b = order[j]!;
      const [p, q] = [boxes[a]!, boxes[b]!];
      if (p.min[1] > q.max[1] || q.min[1] > p.max[1] || p.min[2] > q.max[2] || q.min[2] > p.max[2]) continue;
      if (cage.faces[a]!.some((v) => cage.faces[b]!.includes(v))) continue;
      const at = meeting(cage, a, b) ?? meeting(cage, b, a);
      if (at) out.push([Math.min(a, b), Math.max(a, b), at]);
      if (out.length >= 20) return out;
    }
  return out;
}

/** Where an edge of one face passes through a triangle of another. */
function meeting(cage: Cage, f: number, g: number): P3 | undefined {
  const [p, q] = [cage.faces[f]!.map((v) => cage.vertices[v]!), cage.faces[g]!.map((v) => cage.vertices[v]!)];
  for (let i = 0; i < p.length; i++) {
    const [a, b] = [p[i]!, p[(i + 1) % p.length]!];
    for (let k = 1; k + 1 < q.length; k++) {
      const hit = through(a, b, q[0]!, q[k]!, q[k + 1]!);
      if (hit) return hit;
    }
  }
  return undefined;
}

/** Where a stretch from a to b passes through a triangle (Möller and Trumbore 1997; from memory). */
function through(a: P3, b: P3, p: P3, q: P3, r: P3): P3 | undefined {
  const d = minus(b, a);
  const [e, f] = [minus(q, p), minus(r, p)];
  const h = cross(d, f);
  const det = dot(e, h);
  if (Math.abs(det) < 1e-12) return undefined;
  const s = minus(a, p);
  const u = dot(s, h) / det;
  const c = cross(s, e);
  const v = dot(d, c) / det;
  const t = dot(f, c) / det;
  if (u < 0 || v < 0 || u + v > 1 || t < 0 || t > 1) return undefined;
  return [a[0] + t * d[0], a[1] + t * d[1], a[2] + t * d[2]];
}

/** How far a loop of vertices lies off a circle, on the limit, mm: largest distance from the circle that fits it best. */
export function outOfRound(cage: Cage, loop: readonly number[]): number {
  const built = netOf(cage);
  if (!built.ok || loop.length < 4) return 0;
  const { places } = vertexLimits(built.value);
  const points = loop.map((v): P3 => [places[3 * v]!, places[3 * v + 1]!, places[3 * v + 2]!]);
  const centre = middle(points);
  const radii = points.map((p) => Math.hypot(...minus(p, centre)));
  const mean = radii.reduce((s, r) => s + r, 0) / radii.length;
  return Math.max(...radii.map((r) => Math.abs(r - mean)));
}
