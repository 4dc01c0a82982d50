/** What is picked of a cage: vertices, edges or faces, and ways to pick more of it. */
import { dot, minus } from '../../geometry/vectors';
import { type CageOf, edgeCount, type P3 } from '../cage';
import { faceNormal } from '../starts';
import type { Partners } from './symmetry';
import {
  type Edge,
  edgeKey,
  edgesOfLoop,
  endsOf,
  facesBeside,
  isBorder,
  loopThrough,
  ringAcross,
  type Topology,
  topologyOf,
} from './topology';

export type Picked =
  | { readonly kind: 'vertices'; readonly vertices: readonly number[] }
  | { readonly kind: 'edges'; readonly edges: readonly Edge[] }
  | { readonly kind: 'faces'; readonly faces: readonly number[] };
export type PickKind = Picked['kind'];
export const nothing = (kind: PickKind): Picked =>
  kind === 'vertices' ? { kind, vertices: [] } : kind === 'edges' ? { kind, edges: [] } : { kind, faces: [] };

export const countOf = (p: Picked): number => (p.kind === 'vertices' ? p.vertices : p.kind === 'edges' ? p.edges : p.faces).length;

const uniqueEdges = (edges: readonly Edge[]): Edge[] => [...new Map(edges.map((e) => [edgeKey(e[0], e[1]), e])).values()];

/** The vertices of what is picked, in the order they were picked. */
export function verticesOf(cage: CageOf<unknown>, p: Picked): number[] {
  if (p.kind === 'vertices') return [...new Set(p.vertices)];
  return [...new Set(p.kind === 'edges' ? p.edges.flat() : p.faces.flatMap((f) => cage.faces[f] ?? []))];
}

/** What is picked, as vertices, edges or faces: those all of whose vertices are picked. */
export function pickedAs(cage: CageOf<unknown>, p: Picked, kind: PickKind): Picked {
  if (p.kind === kind) return p;
  const mine = new Set(verticesOf(cage, p));
  if (kind === 'vertices') return { kind, vertices: [...mine] };
  if (kind === 'faces') return { kind, faces: cage.faces.flatMap((f, i) => (f.every((v) => mine.has(v)) ? [i] : [])) };
  const edges = cage.faces.flatMap((f) => f.map((v, i): Edge => [v, f[(i + 1) % f.length]!]));
  return { kind, edges: uniqueEdges(edges.filter(([a, b]) => mine.has(a) && mine.has(b))) };
}

/** What is found taken instead of what is picked, with it, only where both hold it, or added where it is not and taken out where it is. */
export type PickHow = 'replace' | 'add' | 'narrow' | 'toggle';

/** What is picked after something of the same kind was found; of another kind, what was found. */
export function combined(how: PickHow, p: Picked, q: Picked): Picked {
  if (how === 'replace') return q;
  const of = <T>(a: readonly T[], b: readonly T[], key: (t: T) => number): T[] => {
    const found = new Map(b.map((t) => [key(t), t]));
    const own = a.filter((t) => how === 'add' || found.has(key(t)) === (how === 'narrow'));
    if (how === 'narrow') return own;
    const had = new Set(a.map(key));
    return [...own, ...b.filter((t) => !had.has(key(t)))];
  };
  if (p.kind === 'vertices' && q.kind === 'vertices') return { kind: 'vertices', vertices: of(p.vertices, q.vertices, (v) => v) };
  if (p.kind === 'edges' && q.kind === 'edges') return { kind: 'edges', edges: of(p.edges, q.edges, ([a, b]) => edgeKey(a, b)) };
  if (p.kind === 'faces' && q.kind === 'faces') return { kind: 'faces', faces: of(p.faces, q.faces, (f) => f) };
  return q;
}

/** Adds what is not there, takes out what is. */
export const toggled = (p: Picked, q: Picked): Picked => combined('toggle', p, q);

export const all = (cage: CageOf<unknown>, kind: PickKind): Picked =>
  pickedAs(cage, { kind: 'vertices', vertices: cage.vertices.map((_, v) => v) }, kind);

/** The loops through the picked edges; of faces the rows of quads, of vertices the loops through neighbours that are both picked. */
export function loops(cage: CageOf<unknown>, p: Picked): Picked {
  const t = topologyOf(cage);
  if (!t.ok) return p;
  if (p.kind === 'faces') {
    // A row runs on over the edge two picked faces share; one face alone gives both rows through it.
    const mine = new Set(p.faces);
    const shared: Edge[] = [];
    for (let e = 0; e < edgeCount(t.value.net); e++) {
      const beside = facesBeside(t.value.net, e);
      if (beside.length === 2 && beside.every((f) => mine.has(f))) shared.push(endsOf(t.value.net, e));
    }
    const starts =
      shared.length > 0 ? shared : p.faces.flatMap((f) => [0, 1].map((i): Edge => [cage.faces[f]![i]!, cage.faces[f]![i + 1]!]));
    return { kind: 'faces', faces: [...new Set([...p.faces, ...starts.flatMap((e) => ringAcross(t.value, cage.faces, e).faces)])] };
  }
  const edges = (pickedAs(cage, p, 'edges') as Extract<Picked, { kind: 'edges' }>).edges;
  const found = edges.flatMap((edge) => edgesOfLoop(loopThrough(t.value, edge)));
  const out: Picked = { kind: 'edges', edges: uniqueEdges(found) };
  return p.kind === 'edges' ? out : { kind: 'vertices', vertices: [...new Set([...p.vertices, ...verticesOf(cage, out)])] };
}

/** What goes on from one thing that was clicked twice: the loop through an edge, the row of quads over the side of a face that was nearest. */
export function goingOn(cage: CageOf<unknown>, one: Picked, side?: Edge): Picked {
  const t = topologyOf(cage);
  if (!t.ok || one.kind !== 'faces' || !side) return loops(cage, one);
  return { kind: 'faces', faces: [...new Set([...one.faces, ...ringAcross(t.value, cage.faces, side).faces])] };
}

/** The rings across the quads from the picked edges on. */
export function ringsAcross(cage: CageOf<unknown>, p: Picked): Picked {
  const t = topologyOf(cage);
  const edges = pickedAs(cage, p, 'edges');
  if (!t.ok || edges.kind !== 'edges') return p;
  return { kind: 'edges', edges: uniqueEdges(edges.edges.flatMap((e) => ringAcross(t.value, cage.faces, e).edges)) };
}

/** Everything that shares a vertex with what is picked, too. */
export function grown(cage: CageOf<unknown>, p: Picked): Picked {
  const mine = new Set(verticesOf(cage, p));
  const faces = cage.faces.flatMap((f, i) => (f.some((v) => mine.has(v)) ? [i] : []));
  return p.kind === 'faces' ? { kind: 'faces', faces } : pickedAs(cage, { kind: 'faces', faces }, p.kind);
}

/** Without what lies at its rim: what shares a vertex with something that is not picked. */
export function shrunk(cage: CageOf<unknown>, p: Picked): Picked {
  if (p.kind === 'faces') {
    const mine = new Set(p.faces);
    const rim = new Set(cage.faces.flatMap((f, i) => (mine.has(i) ? [] : f)));
    return { kind: 'faces', faces: p.faces.filter((f) => !cage.faces[f]!.some((v) => rim.has(v))) };
  }
  const mine = new Set(verticesOf(cage, p));
  const near = cage.faces.filter((f) => f.some((v) => !mine.has(v))).flat();
  const rim = new Set(near);
  return p.kind === 'vertices'
    ? { kind: 'vertices', vertices: p.vertices.filter((v) => !rim.has(v)) }
    : { kind: 'edges', edges: p.edges.filter(([a, b]) => !rim.has(a) && !rim.has(b)) };
}

/** Everything on one side of a plane, or on it within a tolerance in mm; of faces and edges those that lie there whole. */
export function byPlane(
  cage: CageOf<unknown>,
  kind: PickKind,
  plane: { readonly normal: P3; readonly offset: number },
  side: 'over' | 'under' | 'on',
  tolerance = 1e-3,
): Picked {
  const length = Math.hypot(...plane.normal) || 1;
  const vertices = cage.vertices.flatMap((p, v) => {
    const h = dot(p, plane.normal) / length - plane.offset;
    return (side === 'over' ? h > tolerance : side === 'under' ? h < -tolerance : Math.abs(h) <= tolerance) ? [v] : [];
  });
  return pickedAs(cage, { kind: 'vertices', vertices }, kind);
}

/** All edges that have one face. */
export function borders(cage: CageOf<unknown>): Picked {
  const t = topologyOf(cage);
  if (!t.ok) return { kind: 'edges', edges: [] };
  const { net } = t.value;
  return {
    kind: 'edges',
    edges: Array.from({ length: edgeCount(net) }, (_, e) => e).flatMap((e) => (isBorder(net, e) ? [endsOf(net, e)] : [])),
  };
}

/** What is picked together with all its symmetric partners, itself first. */
export function withPartners(cage: CageOf<unknown>, p: Picked, partners: Partners): Picked {
  const { maps } = partners;
  if (p.kind === 'vertices')
    return { kind: 'vertices', vertices: [...new Set(maps.flatMap((m) => p.vertices.map((v) => m[v]!)))].filter((v) => v >= 0) };
  if (p.kind === 'edges') return { kind: 'edges', edges: uniqueEdges(directedPartners(cage, p.edges, partners)) };
  const known = faceFinder(cage);
  return {
    kind: 'faces',
    faces: [...new Set(maps.flatMap((m) => p.faces.map((f) => known(cage.faces[f]!.map((v) => m[v]!)))))].filter((f) => f >= 0),
  };
}

/** Edges with all their partners, each as it runs: one that is its own mirror image the other way round comes twice. */
export function directedPartners(cage: CageOf<unknown>, edges: readonly Edge[], { maps }: Partners): Edge[] {
  const t = topologyOf(cage);
  // Where it is symmetric only partly, two vertices with partners need not have an edge between these.
  const images = maps
    .flatMap((m) => edges.map(([a, b]): Edge => [m[a]!, m[b]!]))
    .filter(([a, b]) => a >= 0 && b >= 0 && (!t.ok || t.value.edge(a, b) >= 0));
  return [...new Map(images.map((e) => [e.join(), e])).values()];
}

/** Only the symmetric partners of what is picked. */
export function partnersOnly(cage: CageOf<unknown>, p: Picked, partners: Partners): Picked {
  const both = withPartners(cage, p, partners);
  const own = toggled(both, p);
  return countOf(own) > 0 ? own : p;
}

/** Number of the face with given vertices, in whatever order; −1 where there is none. */
export function faceFinder(cage: CageOf<unknown>): (vertices: readonly number[]) => number {
  const key = (f: readonly number[]): string => [...f].sort((a, b) => a - b).join();
  const known = new Map(cage.faces.map((f, i) => [key(f), i]));
  return (vertices) => known.get(key(vertices)) ?? -1;
}

/** Middle of what is picked: of its vertices. */
export function middleOf(cage: CageOf<unknown>, vertices: readonly number[]): P3 {
  const sum: [number, number, number] = [0, 0, 0];
  for (const v of vertices) for (let k = 0; k < 3; k++) sum[k] = sum[k]! + cage.vertices[v]![k]!;
  const n = Math.max(1, vertices.length);
  return [sum[0] / n, sum[1] / n, sum[2] / n];
}

/** The direction the skin faces at every vertex of what is picked: of the picked faces where faces are, else of all faces about it. */
export function normalsOf(cage: CageOf<unknown>, p: Picked, t: Topology): Map<number, P3> {
  const only = p.kind === 'faces' ? new Set(p.faces) : null;
  const out = new Map<number, P3>();
  for (const v of verticesOf(cage, p)) {
    const sum: [number, number, number] = [0, 0, 0];
    for (const f of t.rings[v]!.faces) {
      if (only && !only.has(f)) continue;
      const n = faceNormal(cage.faces[f]!.map((w) => cage.vertices[w]!));
      const l = Math.hypot(...n) || 1;
      // By the angle at the vertex, so that how a face is cut up does not count.
      const i = cage.faces[f]!.indexOf(v);
      const at = cage.vertices[v]!;
      const [a, b] = [
        minus(cage.vertices[cage.faces[f]![(i + 1) % cage.faces[f]!.length]!]!, at),
        minus(cage.vertices[cage.faces[f]!.at(i - 1)!]!, at),
      ];
      const angle = Math.acos(Math.max(-1, Math.min(1, dot(a, b) / (Math.hypot(...a) * Math.hypot(...b) || 1))));
      for (let k = 0; k < 3; k++) sum[k] = sum[k]! + (angle * n[k]!) / l;
    }
    const l = Math.hypot(...sum) || 1;
    out.set(v, [sum[0] / l, sum[1] / l, sum[2] / l]);
  }
  return out;
}
