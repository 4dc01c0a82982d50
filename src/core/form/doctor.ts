/**
 * What a cage's layout does to its skin: places where the limit is not plain, or not what was meant. Each finding has its place, why it
 * matters, and how strong it is, measured on the limit where that can be measured.
 */
import { along, distance, dot, minus, triple } from '../geometry/vectors';
import { bounds } from '../mesh/mesh';
import { type Cage, type CageFault, edgeCount, type Net, netOf, type P3, placeAt, SHARP, vertexCount } from './cage';
import { circleThrough } from './circle';
import type { Edit } from './edit/edit';
import { groupsWithin } from './edit/reshape';
import type { Picked } from './edit/select';
import { borderLoops, type Edge, edgeKey, edgesOfLoop, endsOf, facesBeside, loopThrough, type Topology, topologyOf } from './edit/topology';
import { limitOn, vertexLimits } from './limit';
import { faceArea } from './starts';
import { crossings, type Slit, slitsIn } from './torn';

export type FindingKind =
  | 'valence'
  | 'triangle'
  | 'many-sided'
  | 'open'
  | 'doubled'
  | 'crossing'
  | 'slit'
  | 'crease-end'
  | 'crease-uneven'
  | 'no-area'
  | 'joint'
  | 'out-of-round'
  | 'uneven'
  | 'not-flat';

/** What would mend it: an edit of something that is picked for it. */
export interface Repair {
  readonly words: string;
  readonly edit: Edit;
  readonly picked: Picked;
}

export interface Finding {
  readonly kind: FindingKind;
  readonly what: string;
  readonly why: string;
  /** It can't be made solid as it is. */
  readonly grave: boolean;
  readonly at: P3;
  /** Larger is worse; among findings of a kind. */
  readonly weight: number;
  readonly repair?: Repair;
}

/** Vertices nearer than this share of the cage's size are doubled. */
const DOUBLED = 1e-4;

const middle = (points: readonly P3[]): P3 => triple((k) => points.reduce((s, p) => s + p[k]!, 0) / points.length);

/**
 * All findings, the grave ones first. A cage that is no surface has that as its only one.
 * @param panel it is to be a surface, whose borders are meant
 */
export function findings(cage: Cage, panel = false): Finding[] {
  const net = netOf(cage);
  const layout = layoutFindings(cage, panel);
  if (!net.ok) return layout;
  const { min, max } = bounds(net.value.places);
  const beside = besideTears(cage, layout);
  const all = crossings(net.value, distance(min, max)).filter(({ f, g }) => !(beside.has(f) && beside.has(g)));
  const crossing = all.map(
    ({ f, g, at, length }): Finding => ({
      kind: 'crossing',
      what:
        f === g ? `The skin of face ${f + 1} passes through itself.` : `The skin of face ${f + 1} passes through that of face ${g + 1}.`,
      why: `along ${length.toFixed(length < 1 ? 2 : 1)} mm`,
      grave: true,
      at,
      weight: length,
    }),
  );
  return graveFirst([...layout, ...crossing]);
}

/** Kinds of what tears the skin open. */
const TEARS: ReadonlySet<FindingKind> = new Set(['doubled', 'joint', 'slit']);

/** Faces about places where the skin is torn: it curls up at borders that should be none, and runs through itself there until they are mended. */
function besideTears(cage: Cage, layout: readonly Finding[]): Set<number> {
  const torn = new Set<number>();
  for (const { kind, repair } of layout) {
    if (!TEARS.has(kind) || !repair) continue;
    const { picked, edit } = repair;
    if (picked.kind === 'vertices') for (const v of picked.vertices) torn.add(v);
    if (picked.kind === 'edges') for (const v of picked.edges.flat()) torn.add(v);
    if (edit.do === 'split' && edit.onto !== undefined) torn.add(edit.onto);
  }
  const touching = (vertices: ReadonlySet<number>): number[] =>
    cage.faces.flatMap((face, f) => (face.some((v) => vertices.has(v)) ? [f] : []));
  const about = touching(torn);
  return new Set(touching(new Set(about.flatMap((f) => cage.faces[f]!))));
}

/** The same without what only the refined skin tells: nothing of that can be mended by itself. */
export function layoutFindings(cage: Cage, panel: boolean): Finding[] {
  const [built, known] = [netOf(cage), topologyOf(cage)];
  if (!built.ok) return [noSurface(cage, built.error)];
  if (!known.ok) return [noSurface(cage, known.error)];
  const t = known.value;
  const net = built.value;
  const out: Finding[] = [];
  const put = (kind: FindingKind, at: P3, what: string, why: string, weight = 1, grave = false, repair?: Repair): void => {
    out.push({ kind, what, why, grave, at, weight, ...(repair ? { repair } : {}) });
  };
  const loopOf = (edge: Edge): Edge[] => edgesOfLoop(loopThrough(t, edge));
  const { rings } = t;
  const corners = (f: readonly number[]): P3[] => f.map((v) => cage.vertices[v]!);
  const { min, max } = bounds(net.places);
  const size = Math.hypot(...min.map((x, k) => max[k]! - x));

  /** Edges that part the faces beside one, from a vertex in the middle of its side to another such vertex. */
  const partingEdges = (f: number, face: readonly number[]): Edge[] | undefined => {
    const ends = (v: number): boolean => !rings[v]!.border && rings[v]!.edges.length === 3;
    for (const v of face.filter(ends)) {
      const off = rings[v]!.edges.find((e) => !facesBeside(net, e).includes(f));
      const loop = off === undefined ? [] : loopOf(endsOf(net, off));
      const times = new Map<number, number>();
      for (const w of loop.flat()) times.set(w, (times.get(w) ?? 0) + 1);
      if (loop.length > 0 && [...times].every(([w, n]) => n === 2 || ends(w))) return loop;
    }
    return undefined;
  };
  const takenOut = (edges: Edge[] | undefined): Repair | undefined =>
    edges && {
      words:
        edges.length > 1
          ? `take out the ${edges.length} edges that part the faces beside it`
          : 'take out the edge that parts the face beside it',
      edit: { do: 'dissolve' },
      picked: { kind: 'edges', edges },
    };

  for (const [f, face] of cage.faces.entries()) {
    const p = corners(face);
    const area = faceArea(p);
    if (area < 1e-9 * size * size) put('no-area', middle(p), `Face ${f + 1} has no area.`, 'its skin has no direction there', 1, true);
    if (face.length === 3) {
      const rise = riseTowards(net, f, 0, 1);
      const beside = face.map((v, i): Edge => [v, face[(i + 1) % 3]!]).find(([a, b]) => triangleBeside(cage, t, f, a, b));
      put(
        'triangle',
        middle(p),
        `Face ${f + 1} is a triangle.`,
        `it leaves a vertex of three edges in its middle${risen(rise)}`,
        rise,
        false,
        beside && { words: 'join it with the triangle beside it', edit: { do: 'dissolve' }, picked: { kind: 'edges', edges: [beside] } },
      );
    }
    if (face.length > 4) {
      const rise = riseTowards(net, f, 0, 1);
      put(
        'many-sided',
        middle(p),
        `Face ${f + 1} has ${face.length} sides.`,
        `it leaves a vertex of ${face.length} edges in its middle${risen(rise)}`,
        rise,
        false,
        face.length % 2 === 0
          ? { words: 'fill it with quads', edit: { do: 'fill', way: 'grid' }, picked: { kind: 'faces', faces: [f] } }
          : takenOut(partingEdges(f, face)),
      );
    }
  }
  for (let v = 0; v < vertexCount(net); v++) {
    const r = rings[v]!;
    const n = r.edges.length;
    if (!r.border && n === 2)
      put('joint', placeAt(net, v), 'A vertex stands in the middle of an edge.', 'its faces have a corner there that is none', 1, false, {
        words: 'take it out',
        edit: { do: 'dissolve' },
        picked: { kind: 'vertices', vertices: [v] },
      });
    else if (!r.border && n !== 4 && r.edges.every((e) => net.crease[e] === 0) && net.corner[v] === 0) {
      const f = r.faces[0]!;
      const rise = riseTowards(net, f, cage.faces[f]!.indexOf(v), 0);
      put(
        'valence',
        placeAt(net, v),
        `${n} edges meet here.`,
        `${n > 5 ? 'the skin gathers into a peak' : 'curvature has no single value here'}${risen(rise)}`,
        rise,
      );
    }
    const creased = r.edges.filter((e) => net.crease[e]! > 0);
    const inner = creased.filter((e) => net.sides[2 * e + 1]! >= 0);
    if (inner.length === 1 && creased.length === 1) {
      const loop = loopOf(endsOf(net, inner[0]!));
      const longer = loop.length > 1;
      put('crease-end', placeAt(net, v), 'A crease ends here.', 'it fades out into the smooth skin and leaves a dent', 1, false, {
        words: longer ? 'carry it on along its loop' : 'take the crease away',
        edit: longer ? { do: 'crease', weight: Math.min(SHARP, net.crease[inner[0]!]!) } : { do: 'uncrease' },
        picked: { kind: 'edges', edges: loop },
      });
    }
    if (inner.length === 2 && creased.length === 2) {
      const [a, b] = inner.map((e) => net.crease[e]!) as [number, number];
      if (a !== b)
        put(
          'crease-uneven',
          placeAt(net, v),
          'The weight of a crease changes here.',
          'its roundness changes in the middle of the loop',
          Math.abs(Math.min(SHARP, a) - Math.min(SHARP, b)),
          false,
          {
            words: 'give its loop the larger weight',
            edit: { do: 'crease', weight: Math.min(SHARP, Math.max(a, b)) },
            picked: { kind: 'edges', edges: loopOf(endsOf(net, inner[0]!)) },
          },
        );
    }
  }
  const slits = slitsIn(cage, t, DOUBLED * size);
  for (const { at, gap, edges, vertices } of slits)
    put(
      'slit',
      at,
      `A slit up to ${gap < 0.1 ? gap.toFixed(3) : gap.toFixed(2)} mm wide runs along ${edges} ${edges === 1 ? 'edge' : 'edges'}.`,
      'the skin is torn there, and its borders only seem to meet',
      gap,
      true,
      { words: 'weld it shut', edit: { do: 'weld', within: gap * 1.001 }, picked: { kind: 'vertices', vertices } },
    );
  for (const found of loopFindings(cage, net, size, t, slits)) if (found.kind !== 'not-flat' || !panel) out.push(found);
  if (!panel)
    for (const row of borderLoops(t))
      put(
        'open',
        middle(row.map((v) => cage.vertices[v]!)),
        `The cage is open: ${row.length} edges in a row have one face.`,
        'borders are closed by planes when it is made solid, if they are flat',
        0,
      );
  const near = Math.max(1e-9, DOUBLED * size);
  const doubled = groupsWithin(
    cage,
    cage.vertices.map((_, v) => v),
    near,
  ).flatMap((group) => group.slice(1).map((v) => [group[0]!, v] as const));
  // Welded one by one they would hang together by single vertices on the way.
  const vertices = [...new Set(doubled.flat())];
  for (const [u, v] of doubled)
    put('doubled', cage.vertices[v]!, `Vertices ${u + 1} and ${v + 1} stand at one place.`, 'the skin is torn or pinched there', 1, true, {
      words: doubled.length > 1 ? `weld all ${doubled.length} pairs` : 'weld them',
      edit: { do: 'weld', within: near },
      picked: { kind: 'vertices', vertices },
    });
  return graveFirst(out);
}

const graveFirst = (found: Finding[]): Finding[] => found.sort((x, y) => Number(y.grave) - Number(x.grave) || y.weight - x.weight);

/** What is said of a cage that can't be refined at all. */
function noSurface(cage: Cage, fault: CageFault): Finding {
  const places = fault.vertices.flatMap((v) => (cage.vertices[v] ? [cage.vertices[v]] : []));
  return {
    kind: 'open',
    what: fault.what,
    why: 'it is no surface that could be refined',
    grave: true,
    at: places.length > 0 ? middle(places) : [0, 0, 0],
    weight: 1,
  };
}

/**
 * How many times as much the limit bends right beside a place as on the same face away from it: what an irregular vertex does to the skin.
 * @param to 0 for the face's corner, 1 for its middle
 */
function riseTowards(net: Net, f: number, corner: number, to: 0 | 1): number {
  const bend = (s: number): number => {
    const at = to === 0 ? s : 1 - s;
    const q = limitOn(net, f, corner, at, at);
    return q.curvatures ? Math.max(...q.curvatures.map(Math.abs)) : 0;
  };
  const [near, far] = [bend(0.04), bend(0.7)];
  return far > 1e-9 ? near / far : 1;
}
const risen = (rise: number): string =>
  rise > 1.15
    ? `: the skin bends ${rise.toFixed(1)} times as much towards it`
    : rise < 0.85
      ? `: the skin bends ${(1 / Math.max(rise, 0.01)).toFixed(1)} times less towards it`
      : '';

const triangleBeside = (cage: Cage, t: Topology, f: number, a: number, b: number): boolean => {
  const other = facesBeside(t.net, t.edge(a, b)).find((g) => g !== f);
  return other !== undefined && cage.faces[other]!.length === 3;
};

/** A loop nearer to a circle than this share of its radius is meant to be one; farther off it is another shape. */
const MEANT_ROUND = 0.05;
/** Shares of the radius that are not worth telling. */
const ROUND_ENOUGH = 5e-4;
/** Neighbouring edges of a loop that differ by more than this. */
const UNEVEN = 4;
/** A border farther from its plane takes no flat cap, mm. */
const FLAT = 1e-3;

/** What closed loops are not: round, evenly spaced, flat; and borders that only seem to meet. */
function loopFindings(cage: Cage, net: Net, size: number, t: Topology, slits: readonly Slit[]): Finding[] {
  const out: Finding[] = [];
  const { places } = vertexLimits(net);
  const limit = (v: number): P3 => [places[3 * v]!, places[3 * v + 1]!, places[3 * v + 2]!];
  const met = new Set<number>();
  const unround: { vertices: readonly number[]; edges: readonly Edge[]; off: number; radius: number; at: P3 }[] = [];
  for (let e = 0; e < edgeCount(t.net); e++) {
    const edge = endsOf(t.net, e);
    if (met.has(edgeKey(...edge))) continue;
    const loop = loopThrough(t, edge);
    const edges = loop.vertices.map((v, i): Edge => [v, loop.vertices[(i + 1) % loop.vertices.length]!]);
    for (const [a, b] of edges) met.add(edgeKey(a, b));
    if (!loop.closed || loop.vertices.length < 6) continue;
    const picked: Picked = { kind: 'edges', edges };
    const smooth = loop.vertices.map(limit);
    const { off, radius, at, flat } = offCircle(smooth);
    const count = `The loop of ${edges.length} edges`;
    if (flat < 0.02 * radius && off > ROUND_ENOUGH * radius && off < MEANT_ROUND * radius && !isPattern(smooth))
      unround.push({ vertices: loop.vertices, edges, off, radius, at });
    const lengths = edges.map(([a, b]) => Math.hypot(...minus(cage.vertices[a]!, cage.vertices[b]!)));
    const ratios = lengths.map((l, i) => {
      const next = lengths[(i + 1) % lengths.length]!;
      return Math.max(l, next) / Math.max(1e-9, Math.min(l, next));
    });
    const worst = Math.max(...ratios);
    if (worst > UNEVEN && flat < 0.02 * radius && off < MEANT_ROUND * radius) {
      const i = ratios.indexOf(worst);
      out.push({
        kind: 'uneven',
        what: `${count} is spaced unevenly: neighbours differ ${worst.toFixed(1)} times.`,
        why: 'the skin speeds up and slows down there, and stripes wander',
        grave: false,
        at: cage.vertices[edges[i]![1]]!,
        weight: worst / 100,
        repair: { words: 'space it evenly', edit: { do: 'space-evenly' }, picked },
      });
    }
  }
  for (const loop of unround) {
    const { off, radius, at } = loop;
    // Loops beside each other pull at each other's skin: those that do not cross are made round together.
    const taken = new Set(loop.vertices);
    const together = [loop];
    for (const other of unround)
      if (other.vertices.every((v) => !taken.has(v))) {
        together.push(other);
        for (const v of other.vertices) taken.add(v);
      }
    out.push({
      kind: 'out-of-round',
      what: `The loop of ${loop.edges.length} edges is out of round by ${off.toFixed(off < 0.1 ? 3 : 2)} mm.`,
      why: `its body is ⌀ ${(2 * radius).toFixed(2)} mm there on the mean`,
      grave: false,
      at,
      weight: off / radius,
      repair: {
        words: together.length > 1 ? `make it round, and ${together.length - 1} more beside it` : 'make it round',
        edit: { do: 'make-round', diameter: null, even: false, onBody: true },
        picked: { kind: 'edges', edges: together.flatMap((l) => l.edges) },
      },
    });
  }
  const borders = borderLoops(t);
  // A slit is no border that could take a cap.
  const torn = new Set(slits.flatMap((s) => s.vertices));
  for (const row of borders) {
    const p = row.map((v) => cage.vertices[v]!);
    const { flat, at } = offCircle(p);
    if (flat > FLAT && !row.some((v) => torn.has(v)))
      out.push({
        kind: 'not-flat',
        what: `A border lies up to ${flat.toFixed(2)} mm off its plane.`,
        why: 'it takes no flat cap, so that no solid comes of it',
        grave: true,
        at,
        weight: flat / size,
        repair: { words: 'flatten it', edit: { do: 'flatten', to: 'fit' }, picked: { kind: 'vertices', vertices: row } },
      });
  }
  const edges = borders.flatMap((row) => row.map((v, i): Edge => [v, row[(i + 1) % row.length]!]));
  for (const v of new Set(borders.flat()))
    for (const [a, b] of edges) {
      if (a === v || b === v) continue;
      const [p, q, at] = [cage.vertices[a]!, cage.vertices[b]!, cage.vertices[v]!];
      const [d, w] = [minus(q, p), minus(at, p)];
      const s = dot(d, w) / dot(d, d);
      if (!(s > 0.02 && s < 0.98) || Math.hypot(...minus(w, d.map((x) => s * x) as unknown as P3)) > DOUBLED * size) continue;
      out.push({
        kind: 'joint',
        what: `Vertex ${v + 1} stands on an edge it is no part of.`,
        why: 'the faces only seem to meet: the skin is torn along that edge',
        grave: true,
        at,
        weight: 1,
        repair: { words: 'take it into the edge', edit: { do: 'split', share: s, onto: v }, picked: { kind: 'edges', edges: [[a, b]] } },
      });
    }
  return out;
}

/** Repeats of what goes in and out along a loop from which on it is meant so: twice, it may be an oval. */
const REPEATS = 3;
/** How well they must agree, as a share of how far they go. */
const AGREE = 0.2;

/** Whether the distances of a loop's places from its middle repeat: ridges and waves are meant, one place pushed out is not. */
function isPattern(places: readonly P3[]): boolean {
  const circle = circleThrough(places);
  if (!circle) return false;
  const r = places.map((p) => distance(p, circle.middle));
  const most = Math.max(...r) - Math.min(...r);
  const n = r.length;
  for (let period = 2; period * REPEATS <= n; period++)
    if (n % period === 0 && r.every((x, i) => Math.abs(x - r[(i + period) % n]!) < AGREE * most)) return true;
  return false;
}

/** How far places lie off the circle and off the plane that fit them, mm. */
function offCircle(places: readonly P3[]): { off: number; radius: number; flat: number; at: P3 } {
  const circle = circleThrough(places);
  if (!circle) return { off: 0, radius: 0, flat: 0, at: places[0]! };
  const heights = places.map((p) => dot(minus(p, circle.middle), circle.normal));
  const offs = places.map((p, i) => Math.abs(Math.hypot(...along(minus(p, circle.middle), circle.normal, -heights[i]!)) - circle.radius));
  const off = Math.max(...offs);
  return { off, radius: circle.radius, flat: Math.max(...heights.map(Math.abs)), at: places[offs.indexOf(off)]! };
}

/** How far a loop of vertices lies off a circle, on the limit, mm: largest distance from the circle that fits it best. */
export function outOfRound(cage: Cage, loop: readonly number[]): number {
  const built = netOf(cage);
  if (!built.ok || loop.length < 4) return 0;
  const { places } = vertexLimits(built.value);
  return offCircle(loop.map((v): P3 => [places[3 * v]!, places[3 * v + 1]!, places[3 * v + 2]!])).off;
}
