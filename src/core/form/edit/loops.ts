/** Loops put across rings of quads: at a share of the edges or at a distance, also to both sides of a row as its support. */
import { dot, minus } from '../../geometry/vectors';
import { fail, ok, type Result } from '../../result';
import { type Cage, type CageOf, type Net, netOf, type P3 } from '../cage';
import { limitAt } from '../limit';
import { Draft } from './draft';
import { limitsOf, onBody, type Places } from './place';
import type { Made } from './reshape';
import { chains, type Edge, edgeKey, edgeOfKey, ringAcross, type Topology } from './topology';

/** Where a loop crosses its edges: a share of each, or mm from where each begins. */
export type At = { readonly share: number } | { readonly distance: number };

/** Where old faces are met by new vertices and new faces' middles, for what is to keep its shape. */
interface Traces {
  /** New vertices: an old face, and where on it. */
  readonly vertices: readonly { readonly v: number; readonly face: number; readonly u: number; readonly w: number }[];
  readonly middles: readonly { readonly face: number; readonly of: number; readonly u: number; readonly w: number }[];
}

interface Cut {
  /** Which loop it belongs to, and where it lies on the edge from the vertex with the lower number on. */
  readonly loop: number;
  readonly share: number;
  /** It was measured from the lower number. */
  readonly fromLow: boolean;
  readonly v: number;
}

/**
 * A loop across the ring of quads through each of some edges. Where rings cross, the quad is cut both ways; where a ring ends at a face
 * that is no quad, that face gets a corner more.
 * @param edges each from the vertex the share or distance is measured from
 */
export function insertLoops<W>(cage: CageOf<W>, edges: readonly Edge[], t: Topology, at: At): Result<Made<W> & { traces: Traces }, string> {
  if (edges.length === 0) return fail('pick an edge the loop is to cross');
  const draft = new Draft(cage);
  const cuts = new Map<number, Cut[]>();
  for (const [loop, edge] of edges.entries()) {
    const ring = ringAcross(t, cage.faces, edge);
    if (ring.faces.length === 0) return fail('there is no quad beside the edge that a loop could cross');
    const shares: number[] = [];
    for (const [a, b] of ring.edges) {
      const length = Math.hypot(...minus(cage.vertices[b]!, cage.vertices[a]!));
      const share = 'share' in at ? at.share : at.distance / length;
      if (!(share > 0 && share < 1))
        return fail(
          'share' in at
            ? 'a loop crosses its edges between their ends'
            : `there is no room: an edge it would cross is ${length.toFixed(2)} mm long`,
        );
      shares.push(a < b ? share : 1 - share);
    }
    const [first, key] = [shares[ring.edges.findIndex(([a, b]) => a === edge[0] && b === edge[1])]!, edgeKey(edge[0], edge[1])];
    // The same loop, met by another of its edges.
    if (cuts.get(key)?.some((c) => Math.abs(c.share - first) < 1e-9)) continue;
    for (const [i, [a, b]] of ring.edges.entries()) {
      const [low, high, share] = [Math.min(a, b), Math.max(a, b), shares[i]!];
      const [p, q] = [cage.vertices[low]!, cage.vertices[high]!];
      const length = Math.hypot(...minus(q, p));
      const passing = 'distance' in at && cuts.get(edgeKey(a, b))?.find((c) => c.fromLow !== a < b && c.fromLow === c.share > share);
      if (passing) return fail(`there is no room: two loops would pass each other on an edge that is ${length.toFixed(2)} mm long`);
      const v = draft.add([p[0] + share * (q[0] - p[0]), p[1] + share * (q[1] - p[1]), p[2] + share * (q[2] - p[2])]);
      cuts.set(
        edgeKey(a, b),
        [...(cuts.get(edgeKey(a, b)) ?? []), { loop, share, fromLow: a < b, v }].sort((x, y) => x.share - y.share),
      );
    }
  }
  for (const [key, list] of cuts) {
    const w = draft.crease.get(key);
    if (w === undefined) continue;
    draft.crease.delete(key);
    const [low, high] = edgeOfKey(key);
    const row = [low, ...list.map((c) => c.v), high];
    for (let i = 1; i < row.length; i++) draft.crease.set(edgeKey(row[i - 1]!, row[i]!), w);
  }
  const lines: Edge[] = [];
  const [traced, middles]: [Traces['vertices'][number][], Traces['middles'][number][]] = [[], []];
  for (const [f, face] of cage.faces.entries()) {
    /** Cuts of edge i as the face runs. */
    const along = (i: number): Cut[] => {
      const [a, b] = [face[i]!, face[(i + 1) % face.length]!];
      const list = cuts.get(edgeKey(a, b)) ?? [];
      return a < b ? list : list.map((c) => ({ ...c, share: 1 - c.share })).reverse();
    };
    const back = (i: number) =>
      along(i)
        .map((c) => ({ ...c, share: 1 - c.share }))
        .reverse();
    if (face.every((_, i) => along(i).length === 0)) continue;
    if (face.length !== 4) {
      draft.faces[f] = face.flatMap((v, i) => [v, ...along(i).map((c) => c.v)]);
      continue;
    }
    const [low, high, left, right] = [along(0), back(2), back(3), along(1)];
    const alike = (x: readonly Cut[], y: readonly Cut[]): boolean => x.length === y.length && x.every((c, i) => c.loop === y[i]!.loop);
    if (!alike(low, high) || !alike(left, right))
      return fail('the loops would cross each other: put them in one after another, or nearer to their rows');
    const [across, up] = [low.length + 2, left.length + 2];
    const p = face.map((v) => cage.vertices[v]!);
    const grid: { v: number; u: number; w: number }[][] = Array.from({ length: up }, (_, j) =>
      Array.from({ length: across }, (_, i) => {
        const [first, last, bottom, top] = [i === 0, i === across - 1, j === 0, j === up - 1];
        if (bottom || top) {
          const w = bottom ? 0 : 1;
          if (first || last) return { v: face[bottom ? (first ? 0 : 1) : first ? 3 : 2]!, u: first ? 0 : 1, w };
          const c = (bottom ? low : high)[i - 1]!;
          return { v: c.v, u: c.share, w };
        }
        if (first || last) {
          const c = (first ? left : right)[j - 1]!;
          return { v: c.v, u: first ? 0 : 1, w: c.share };
        }
        // Where two loops cross: on both straight lines between their cuts.
        const [s, x, y, r] = [low[i - 1]!.share, high[i - 1]!.share, left[j - 1]!.share, right[j - 1]!.share];
        const u = (s + (x - s) * y) / (1 - (x - s) * (r - y));
        const w = y + (r - y) * u;
        const place = [0, 1, 2].map(
          (k) => (1 - u) * (1 - w) * p[0]![k]! + u * (1 - w) * p[1]![k]! + u * w * p[2]![k]! + (1 - u) * w * p[3]![k]!,
        );
        return { v: draft.add(place as unknown as P3), u, w };
      }),
    );
    draft.faces[f] = null;
    for (let j = 0; j < up; j++)
      for (let i = 0; i < across; i++) {
        const own = grid[j]![i]!;
        if (own.v >= cage.vertices.length) traced.push({ v: own.v, face: f, u: own.u, w: own.w });
        if (i > 0 && j > 0 && j < up - 1) lines.push([grid[j]![i - 1]!.v, own.v]);
        if (j > 0 && i > 0 && i < across - 1) lines.push([grid[j - 1]![i]!.v, own.v]);
        if (i === 0 || j === 0) continue;
        const four = [grid[j - 1]![i - 1]!, grid[j - 1]![i]!, own, grid[j]![i - 1]!];
        const mean = (of: 'u' | 'w'): number => four.reduce((sum, c) => sum + c[of], 0) / 4;
        middles.push({ face: f, of: draft.faces.length, u: mean('u'), w: mean('w') });
        draft.faces.push(four.map((c) => c.v));
      }
  }
  const done = draft.finish();
  return ok({
    cage: done.cage,
    picked: { kind: 'edges', edges: lines.map(([a, b]): Edge => [done.vertexOf[a]!, done.vertexOf[b]!]) },
    traces: {
      vertices: traced.map((x) => ({ ...x, v: done.vertexOf[x.v]! })),
      middles: middles.map((x) => ({ ...x, of: done.faceOf[x.of]! })),
    },
  });
}

/**
 * Vertices moved so that the smooth body lies where it lay before loops were put in: at all old vertices and all new ones.
 * @returns the places, and how far the body is off in the middles of the faces that were cut, mm
 */
export function keepingShape(before: Cage, after: Cage, traces: Traces): Result<{ places: Places; off: number }, string> {
  const [was, net] = [limitsOf(before), netOf(before)];
  if (!was.ok) return was;
  if (!net.ok) return fail(net.error.what);
  const wanted: Places = new Map(was.value.map((p, v) => [v, p]));
  for (const { v, face, u, w } of traces.vertices) wanted.set(v, limitAt(net.value, face, u, w).point);
  const places = onBody(after, wanted);
  if (!places.ok) return places;
  const now = netOf({ ...after, vertices: after.vertices.map((p, v) => places.value.get(v) ?? p) });
  if (!now.ok) return fail(now.error.what);
  let off = 0;
  for (const { face, of, u, w } of traces.middles)
    off = Math.max(off, distanceFrom(net.value, face, u, w, limitAt(now.value, of, 0.5, 0.5).point));
  return ok({ places: places.value, off });
}

/** How far a place lies from the limit on a face, square to it: from the place on the face nearest to it, found from where it should lie. */
function distanceFrom(net: Net, face: number, u: number, w: number, place: P3): number {
  const h = 1e-3;
  const inside = (x: number): number => Math.min(1 - h, Math.max(h, x));
  let [a, b] = [inside(u), inside(w)];
  for (let round = 0; round < 5; round++) {
    const off = minus(place, limitAt(net, face, a, b).point);
    const [x, y] = [
      minus(limitAt(net, face, a + h, b).point, limitAt(net, face, a - h, b).point).map((c) => c / (2 * h)) as unknown as P3,
      minus(limitAt(net, face, a, b + h).point, limitAt(net, face, a, b - h).point).map((c) => c / (2 * h)) as unknown as P3,
    ];
    const [e, f, g] = [dot(x, x), dot(x, y), dot(y, y)];
    const det = e * g - f * f;
    if (!(det > 0)) break;
    [a, b] = [inside(a + (g * dot(off, x) - f * dot(off, y)) / det), inside(b + (e * dot(off, y) - f * dot(off, x)) / det)];
  }
  const { point, normal } = limitAt(net, face, a, b);
  return Math.abs(dot(minus(place, point), normal));
}

/** Edges that leave rows of edges to either side: where supporting loops cross. Each begins on its row. */
export function besideRows(edges: readonly Edge[], t: Topology): Result<Edge[], string> {
  const mine = new Set(edges.map(([a, b]) => edgeKey(a, b)));
  const out: Edge[] = [];
  for (const { vertices, closed } of chains(edges)) {
    let found = false;
    for (const [i, v] of vertices.entries()) {
      const ring = t.rings[v]!;
      // Where the row runs plainly through, each other edge is one side's.
      const own = ring.near.filter((o) => mine.has(edgeKey(v, o)));
      const plain = own.length === (closed || (i > 0 && i + 1 < vertices.length) ? 2 : 1) && ring.near.length === (ring.border ? 3 : 4);
      if (!plain) continue;
      for (const o of ring.near) {
        if (mine.has(edgeKey(v, o))) continue;
        // An end of a row inside the skin runs straight on into an edge that is on no side.
        if (own.length === 1 && !ring.border && ring.near[(ring.near.indexOf(own[0]!) + 2) % 4] === o) continue;
        if (own.length === 1 && ring.border) continue;
        found = true;
        out.push([v, o]);
      }
      if (found) break;
    }
    if (!found) return fail('beside this row there are no quads a supporting loop could cross');
  }
  return ok(out);
}
