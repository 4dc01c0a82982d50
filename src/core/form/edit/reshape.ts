/** Edits that change what a cage is made of: faces drawn out, set in, cut, joined, filled, taken away. Lengths in mm. */
import { along, cross, dot, minus, triple, unit } from '../../geometry/vectors';
import { fail, ok, type Result } from '../../result';
import type { CageOf, P3 } from '../cage';
import { faceNormal } from '../starts';
import { Draft } from './draft';
import { middleOf, normalsOf, type Picked, verticesOf } from './select';
import { type Edge, edgeKey, edgeOfKey, facesBeside, isBorder, rim, rowsOf, type Topology } from './topology';

export interface Made<W> {
  readonly cage: CageOf<W>;
  readonly picked: Picked;
}
type Places = ReadonlyMap<number, P3>;

const faceAt = (cage: CageOf<unknown>, f: number): P3[] => cage.faces[f]!.map((v) => cage.vertices[v]!);
const afterIn = (face: readonly number[], i: number): number => face[(i + 1) % face.length]!;
const finished = <W>(draft: Draft<W>, picked: (to: { vertexOf: Int32Array; faceOf: Int32Array }) => Picked): Made<W> => {
  const done = draft.finish();
  return { cage: done.cage, picked: picked(done) };
};

const TOUCHING = 'the picked faces touch each other in a vertex alone: pick the faces between them too, or take them one after another';

/** Where the vertices of picked faces go when the faces are moved by a distance along their normals, each face by the whole of it. */
export function outwards(cage: CageOf<unknown>, faces: readonly number[], t: Topology, distance: number): Map<number, P3> {
  const mine = new Set(faces);
  const out = new Map<number, P3>();
  for (const [v, n] of normalsOf(cage, { kind: 'faces', faces }, t)) {
    const about = t.rings[v]!.faces.filter((f) => mine.has(f)).map((f) => unit(faceNormal(faceAt(cage, f))) ?? n);
    const lean = about.reduce((s, m) => s + dot(m, n), 0) / Math.max(1, about.length);
    out.set(v, along(cage.vertices[v]!, n, distance / Math.max(0.25, lean)));
  }
  return out;
}

/** Faces drawn out of the skin as a whole, with walls of quads between their old rim and the new one. */
export function extrudeFaces<W>(cage: CageOf<W>, faces: readonly number[], places: Places): Result<Made<W>, string> {
  if (faces.length === 0) return fail('pick faces to extrude');
  const edges = rim(cage, faces);
  if (edges.length === 0) return fail('all faces are picked: nothing stays behind that walls could stand on');
  if (new Map(edges).size < edges.length) return fail(TOUCHING);
  return ok(ringed(cage, faces, edges, places));
}

/** Walls nearer to each other than this are one, mm. */
const TOO_NEAR = 1e-6;

/** The same of several regions, each drawn out by itself: where two share an edge, it stays behind with a wall to either side. */
export function extrudeApart<W>(
  cage: CageOf<W>,
  regions: readonly { readonly faces: readonly number[]; readonly places: Places }[],
): Result<Made<W>, string> {
  const picked = regions.flatMap((r) => r.faces);
  const ends = new Map<number, P3[]>();
  for (const { places } of regions)
    for (const [v, to] of places) {
      const others = ends.get(v) ?? [];
      if (others.some((o) => Math.hypot(...minus(o, to)) < TOO_NEAR))
        return fail('neighbours would stand wall to wall with nothing between them: inset them first, or extrude them as one');
      ends.set(v, [...others, to]);
    }
  let now: Made<W> = { cage, picked: { kind: 'faces', faces: picked } };
  for (const { faces, places } of regions) {
    const made = extrudeFaces(now.cage, faces, places);
    if (!made.ok) return made;
    now = { cage: made.value.cage, picked: now.picked };
  }
  return ok(now);
}

/** New vertices for picked faces, and quads between their old rim and the new one. */
function ringed<W>(cage: CageOf<W>, faces: readonly number[], edges: readonly Edge[], places: Places): Made<W> {
  const draft = new Draft(cage);
  const onRim = new Set(edges.flat());
  const copy = new Map<number, number>();
  for (const [v, to] of places) {
    if (onRim.has(v)) copy.set(v, draft.add(to));
    else draft.vertices[v] = to;
  }
  const inside = new Set(faces);
  for (const f of faces) draft.faces[f] = cage.faces[f]!.map((v) => copy.get(v) ?? v);
  // A crease inside the picked faces goes with them; one on their rim stays with the skin.
  const rimKeys = new Set(edges.map(([a, b]) => edgeKey(a, b)));
  for (const f of inside)
    for (const [i, a] of cage.faces[f]!.entries()) {
      const b = afterIn(cage.faces[f]!, i);
      const w = draft.crease.get(edgeKey(a, b));
      if (w !== undefined && !rimKeys.has(edgeKey(a, b))) draft.crease.set(edgeKey(copy.get(a) ?? a, copy.get(b) ?? b), w);
    }
  for (const [a, b] of edges) draft.faces.push([a, b, copy.get(b)!, copy.get(a)!]);
  return finished(draft, ({ faceOf }) => ({ kind: 'faces', faces: faces.map((f) => faceOf[f]!) }));
}

/** Faces set in from their rim by a distance within their own planes, region by region. */
export function inset<W>(cage: CageOf<W>, regions: readonly (readonly number[])[], t: Topology, distance: number): Result<Made<W>, string> {
  if (regions.every((r) => r.length === 0)) return fail('pick faces to inset');
  if (!(distance > 0)) return fail('faces are set in by more than nothing');
  let now: Made<W> = { cage, picked: { kind: 'faces', faces: regions.flat() } };
  for (const faces of regions) {
    const edges = rim(now.cage, faces);
    if (edges.length === 0) return fail('all faces are picked: there is no rim to set them in from');
    if (new Map(edges).size < edges.length) return fail(TOUCHING);
    const normals = normalsOf(cage, { kind: 'faces', faces }, t);
    const places = mitred(cage, edges, (v) => normals.get(v)!, distance);
    if (!places.ok) return places;
    now = { cage: ringed(now.cage, faces, edges, places.value).cage, picked: now.picked };
  }
  return ok(now);
}

/** The rim's vertices moved inwards so that each of its edges moves by the distance. */
function mitred(
  cage: CageOf<unknown>,
  edges: readonly Edge[],
  normal: (v: number) => P3,
  distance: number,
): Result<Map<number, P3>, string> {
  const after = new Map(edges);
  const out = new Map<number, P3>();
  for (const row of rowsOf(after))
    for (const [i, v] of row.entries()) {
      const [before, next] = [row.at(i - 1)!, afterIn(row, i)];
      const n = unit(normal(v)) ?? [0, 0, 1];
      const p = cage.vertices[v]!;
      const inward = (a: P3, b: P3): P3 => unit(cross(n, minus(b, a))) ?? [0, 0, 0];
      const [one, two] = [inward(cage.vertices[before]!, p), inward(p, cage.vertices[next]!)];
      const reach = 1 + dot(one, two);
      if (reach < 0.05) return fail(`the rim turns back on itself at vertex ${v + 1}`);
      const to = along(p, along(one, two, 1), distance / reach);
      out.set(v, to);
    }
  // An edge that has turned round was shorter than what was taken from it.
  for (const [a, b] of edges) {
    const [was, is] = [minus(cage.vertices[b]!, cage.vertices[a]!), minus(out.get(b)!, out.get(a)!)];
    if (dot(was, is) <= 0) {
      const room = (distance * Math.hypot(...was) ** 2) / (Math.hypot(...was) ** 2 - dot(was, is));
      return fail(`there is no room: an edge of the rim is used up at ${room.toFixed(2)} mm`);
    }
  }
  return ok(out);
}

/** Border edges away from their faces, within the faces' planes. */
export function awayFromFaces(cage: CageOf<unknown>, edges: readonly Edge[], t: Topology, distance: number): Map<number, P3> {
  const sums = new Map<number, P3>();
  for (const [a, b] of edges) {
    const f = Math.max(t.faceAlong(a, b), t.faceAlong(b, a));
    const [p, q] = t.faceAlong(a, b) >= 0 ? [a, b] : [b, a];
    const away = unit(cross(minus(cage.vertices[q]!, cage.vertices[p]!), faceNormal(faceAt(cage, f))));
    if (away) for (const v of [a, b]) sums.set(v, along(sums.get(v) ?? [0, 0, 0], away, 1));
  }
  return new Map([...sums].map(([v, s]) => [v, along(cage.vertices[v]!, unit(s) ?? [0, 0, 0], distance)]));
}

/** A strip of quads on border edges. */
export function extrudeEdges<W>(cage: CageOf<W>, edges: readonly Edge[], t: Topology, places: Places): Result<Made<W>, string> {
  if (edges.length === 0) return fail('pick border edges to extrude');
  if (edges.some(([a, b]) => !isBorder(t.net, t.edge(a, b))))
    return fail('only edges with one face can be extruded; pick faces to draw out of the skin');
  const draft = new Draft(cage);
  const copy = new Map<number, number>();
  for (const v of new Set(edges.flat())) copy.set(v, draft.add(places.get(v) ?? cage.vertices[v]!));
  for (const [a, b] of edges) {
    const [p, q] = t.faceAlong(a, b) >= 0 ? [a, b] : [b, a];
    draft.faces.push([q, p, copy.get(p)!, copy.get(q)!]);
  }
  return ok(
    finished(draft, ({ vertexOf }) => ({
      kind: 'edges',
      edges: edges.map(([a, b]): Edge => [vertexOf[copy.get(a)!]!, vertexOf[copy.get(b)!]!]),
    })),
  );
}

/** Vertices to one place: all of them into their middle, or those nearer to each other than a distance. */
export function weld<W>(cage: CageOf<W>, groups: readonly (readonly number[])[]): Result<Made<W>, string> {
  if (groups.every((g) => g.length < 2)) return fail('no two of the vertices can be welded');
  const draft = new Draft(cage);
  const into = new Map<number, number>();
  for (const g of groups) {
    if (g.length < 2) continue;
    for (const v of g) into.set(v, g[0]!);
    draft.vertices[g[0]!] = middleOf(cage, g);
  }
  for (const [f, face] of cage.faces.entries()) {
    const now = face.map((v) => into.get(v) ?? v);
    const kept = now.filter((v, i) => v !== afterIn(now, i));
    draft.faces[f] = kept.length < 3 ? null : kept;
  }
  for (const [a, b, w] of cage.creases) {
    const [p, q] = [into.get(a) ?? a, into.get(b) ?? b];
    if (p !== q && !draft.crease.has(edgeKey(p, q))) draft.crease.set(edgeKey(p, q), w);
  }
  return ok(
    finished(draft, ({ vertexOf }) => ({
      kind: 'vertices',
      vertices: [...new Set(into.values())].map((v) => vertexOf[v]!).filter((v) => v >= 0),
    })),
  );
}

/** Vertices that stand nearer to each other than a distance, group by group. */
export function groupsWithin(cage: CageOf<unknown>, vertices: readonly number[], distance: number): number[][] {
  const lead = new Map(vertices.map((v) => [v, v]));
  const find = (v: number): number => (lead.get(v) === v ? v : find(lead.get(v)!));
  // By cells as wide as the distance: what is near lies in the same cell or in one beside it.
  const cells = new Map<string, number[]>();
  for (const a of vertices) {
    const cell = triple((k) => Math.floor(cage.vertices[a]![k] / distance));
    for (const dx of [-1, 0, 1])
      for (const dy of [-1, 0, 1])
        for (const dz of [-1, 0, 1])
          for (const b of cells.get(`${cell[0] + dx} ${cell[1] + dy} ${cell[2] + dz}`) ?? [])
            if (Math.hypot(...minus(cage.vertices[a]!, cage.vertices[b]!)) <= distance) lead.set(find(a), find(b));
    const mine = cells.get(cell.join(' '));
    if (mine) mine.push(a);
    else cells.set(cell.join(' '), [a]);
  }
  const out = new Map<number, number[]>();
  for (const v of vertices) out.set(find(v), [...(out.get(find(v)) ?? []), v]);
  return [...out.values()];
}

/** A vertex on each edge, at a share of the way from its first vertex to its second. */
export function splitEdges<W>(cage: CageOf<W>, edges: readonly Edge[], share: number): Result<Made<W>, string> {
  if (edges.length === 0) return fail('pick edges to split');
  if (!(share > 0 && share < 1)) return fail('an edge is split between its ends');
  const draft = new Draft(cage);
  const made = edges.map(([a, b]) => draft.between(a, b, share));
  return ok(finished(draft, ({ vertexOf }) => ({ kind: 'vertices', vertices: made.map((v) => vertexOf[v]!) })));
}

/** Vertices that stand on edges without being part of them taken into those: each edge takes the one nearest to its share. */
export function splitOnto<W>(cage: CageOf<W>, edges: readonly Edge[], share: number, onto: readonly number[]): Result<Made<W>, string> {
  const made = splitEdges(cage, edges, share);
  if (!made.ok || made.value.picked.kind !== 'vertices') return made;
  // Splitting only adds vertices: those of before keep their numbers.
  const split = made.value.cage;
  const far = (u: number, v: number): number => Math.hypot(...minus(split.vertices[u]!, split.vertices[v]!));
  return weld(
    split,
    made.value.picked.vertices.map((v) => [onto.reduce((a, b) => (far(b, v) < far(a, v) ? b : a)), v]),
  );
}

/** An edge through each face that has two picked vertices which are no neighbours. */
export function connect<W>(cage: CageOf<W>, vertices: readonly number[]): Result<Made<W>, string> {
  const mine = new Set(vertices);
  const draft = new Draft(cage);
  const made: Edge[] = [];
  for (const [f, face] of cage.faces.entries()) {
    const at = face.flatMap((v, i) => (mine.has(v) ? [i] : []));
    if (at.length !== 2) continue;
    const [i, j] = at as [number, number];
    if (j - i === 1 || j - i === face.length - 1) continue;
    draft.faces[f] = face.slice(i, j + 1);
    draft.faces.push([...face.slice(j), ...face.slice(0, i + 1)]);
    made.push([face[i]!, face[j]!]);
  }
  if (made.length === 0) return fail('no face has two of the picked vertices without an edge between them');
  return ok(finished(draft, ({ vertexOf }) => ({ kind: 'edges', edges: made.map(([a, b]): Edge => [vertexOf[a]!, vertexOf[b]!]) })));
}

/** Faces taken away; of edges and vertices all faces about them. */
export function remove<W>(cage: CageOf<W>, p: Picked): Result<Made<W>, string> {
  const draft = new Draft(cage);
  const mine = new Set(verticesOf(cage, p));
  const edges = new Set(p.kind === 'edges' ? p.edges.map(([a, b]) => edgeKey(a, b)) : []);
  const faces = p.kind === 'faces' ? new Set(p.faces) : null;
  for (const [f, face] of cage.faces.entries()) {
    const gone = faces
      ? faces.has(f)
      : p.kind === 'vertices'
        ? face.some((v) => mine.has(v))
        : face.some((v, i) => edges.has(edgeKey(v, afterIn(face, i))));
    if (gone) draft.faces[f] = null;
  }
  if (draft.faces.every((f) => !f)) return fail('nothing would be left of the cage');
  return ok(finished(draft, () => ({ kind: 'faces', faces: [] })));
}

/** Edges taken out: the faces beside them become one. Of vertices all their edges, of faces those between them. Vertices left with two edges go too. */
export function dissolve<W>(cage: CageOf<W>, p: Picked, t: Topology): Result<Made<W>, string> {
  const mine = new Set(verticesOf(cage, p));
  const faces = new Set(p.kind === 'faces' ? p.faces : []);
  const out = new Set<number>();
  // A vertex of two edges only goes from between them.
  const thin = new Set(p.kind === 'vertices' ? p.vertices.filter((v) => t.rings[v]!.near.length === 2) : []);
  for (const v of thin) mine.delete(v);
  for (let e = 0; e < t.net.ends.length / 2; e++) {
    if (isBorder(t.net, e)) continue;
    const [a, b] = [t.net.ends[2 * e]!, t.net.ends[2 * e + 1]!];
    if (p.kind === 'faces' ? facesBeside(t.net, e).every((f) => faces.has(f)) : p.kind === 'vertices' && (mine.has(a) || mine.has(b)))
      out.add(edgeKey(a, b));
  }
  if (p.kind === 'edges') for (const [a, b] of p.edges) if (!isBorder(t.net, t.edge(a, b))) out.add(edgeKey(a, b));
  if (out.size === 0 && thin.size === 0) return fail('there is no edge inside the skin to take out');
  const group = Int32Array.from(cage.faces, (_, f) => f);
  const find = (f: number): number => {
    let r = f;
    while (group[r] !== r) r = group[r]!;
    return r;
  };
  for (const key of out) {
    const e = t.edge(...edgeOfKey(key));
    const [f, g] = facesBeside(t.net, e).map(find) as [number, number];
    group[g] = f;
  }
  const groups = new Map<number, number[]>();
  for (let f = 0; f < cage.faces.length; f++) groups.set(find(f), [...(groups.get(find(f)) ?? []), f]);
  const draft = new Draft(cage);
  const joined: number[] = [];
  for (const [lead, members] of groups) {
    if (members.length < 2) continue;
    const rows = outline(cage, members);
    if (!rows) return fail('faces would be joined about a hole: leave an edge between them');
    for (const f of members) draft.faces[f] = null;
    draft.faces[lead] = rows;
    joined.push(lead);
  }
  // Vertices the edges leave behind between two others.
  const edges = new Map<number, Set<number>>();
  for (const f of draft.faces)
    if (f)
      for (const [i, a] of f.entries()) {
        const b = afterIn(f, i);
        for (const [p, q] of [
          [a, b],
          [b, a],
        ] as const)
          edges.set(p, (edges.get(p) ?? new Set()).add(q));
      }
  const touched = new Set([...[...out].flatMap(edgeOfKey), ...thin]);
  const idle = new Set([...touched].filter((v) => edges.get(v)?.size === 2 && !draft.corner.has(v)));
  for (const v of idle) {
    const [a, b] = [...edges.get(v)!] as [number, number];
    const w = draft.crease.get(edgeKey(a, v));
    if (w !== undefined && w === draft.crease.get(edgeKey(v, b))) draft.crease.set(edgeKey(a, b), w);
  }
  for (const [f, face] of draft.faces.entries()) {
    if (!face?.some((v) => idle.has(v))) continue;
    const kept = face.filter((v) => !idle.has(v));
    if (kept.length < 3) return fail('a face would be left with two corners');
    draft.faces[f] = kept;
  }
  return ok(finished(draft, ({ faceOf }) => ({ kind: 'faces', faces: joined.map((f) => faceOf[f]!) })));
}

/** The one closed row of edges round some faces, as they run; nothing where there are several or it meets itself. */
function outline(cage: CageOf<unknown>, faces: readonly number[]): number[] | undefined {
  const edges = rim(cage, faces);
  const next = new Map(edges);
  if (next.size < edges.length) return undefined;
  const rows = rowsOf(next);
  return rows.length === 1 ? rows[0] : undefined;
}

/** Edges with a weight, or without one. */
export function crease<W>(cage: CageOf<W>, edges: readonly Edge[], weight: W | null): Result<Made<W>, string> {
  if (edges.length === 0) return fail('pick edges to crease');
  const draft = new Draft(cage);
  for (const [a, b] of edges) {
    if (weight === null) draft.crease.delete(edgeKey(a, b));
    else draft.crease.set(edgeKey(a, b), weight);
  }
  return ok(finished(draft, () => ({ kind: 'edges', edges })));
}

/** Vertices that the smooth body keeps as corners, or no longer. */
export function corner<W>(cage: CageOf<W>, vertices: readonly number[], weight: W | null): Result<Made<W>, string> {
  if (vertices.length === 0) return fail('pick vertices to make corners');
  const draft = new Draft(cage);
  for (const v of vertices) {
    if (weight === null) draft.corner.delete(v);
    else draft.corner.set(v, weight);
  }
  return ok(finished(draft, () => ({ kind: 'vertices', vertices })));
}
