/**
 * A form inside a form: a cage whose smooth body keeps a wall from that of another everywhere, and follows it. Its skin goes in by small
 * steps, each against the direction it faces by then, so that it does not fold where a ridge is narrow; then it is measured all over, and
 * goes in farther where it is too near.
 */
import { type Bvh, buildBvh, type ClosestHit, closestOpposing } from '../mesh/bvh';
import { bounds, diagonal } from '../mesh/mesh';
import { crossingApart, selfCrossings } from '../mesh/self-crossings';
import { fail, ok, type Result } from '../result';
import { type Cage, edgeCount, faceCount, type Net, netOf, type P3, placeAt, SHARP, vertexCount } from './cage';
import { limitMesh, vertexLimits } from './limit';
import { refine } from './refine';
import { levelWithin, limitSkin } from './skin';
import { GRAZES } from './torn';

export interface InsideForm {
  readonly cage: Cage;
  /** Distances from the outside, measured between vertices too, mm. */
  readonly least: number;
  readonly most: number;
}

interface NoInside {
  readonly why: string;
  readonly at: P3;
}

/** Walls that come out thicker than this share of what is asked are tried again on a finer cage. */
const EVEN = 1.25;
/** Faces of a cage that is refined for that. */
const MOST_REFINED = 400;
/** Triangles of the outside it is measured against. */
const MOST_TRIANGLES = 400_000;
/** Facets lie off the skin by a little: as much more is kept, mm. */
const MARGIN = 2e-3;

/** @param wall mm */
export function insideForm(cage: Cage, wall: number): Result<InsideForm, NoInside> {
  const net = netOf(cage);
  if (!net.ok) return fail({ why: net.error.what, at: cage.vertices[0]! });
  const outside = limitSkin(net.value, levelWithin(net.value, 5, 2, MOST_TRIANGLES));
  const coarse = insideOn(net.value, outside, wall);
  if (coarse.ok && coarse.value.most <= EVEN * wall)
    return ok({ ...coarse.value, cage: { ...cage, vertices: coarse.value.cage.vertices } });
  if (faceCount(net.value) > MOST_REFINED) return coarse;
  const fine = insideOn(refine(net.value), outside, wall);
  return fine.ok || !coarse.ok ? fine : coarse;
}

const hit: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };

/** The skin goes in by so many small steps, and evens its vertices out along itself by this share at each. */
const [STEPS, EVENED] = [10, 0.15];
/** Rounds in which places that are too near go in farther, and the share of what is missing that a vertex goes at a time. */
const [ROUNDS, SHARE] = [40, 1.1];
/** Rounds after which vertices are evened out no more. */
const SETTLES = 12;

function insideOn(net: Net, outside: Bvh, wall: number): Result<InsideForm, NoInside> {
  const size = diagonal(bounds(net.places));
  const beside = neighbours(net);
  let places: Places = Float64Array.from(net.places);
  for (let k = 0; k < STEPS; k++) places = evened(net, steppedIn(net, places, (wall + MARGIN) / STEPS), beside, EVENED);
  const corners = cornersOfFaces(net);
  for (let round = 0; ; round++) {
    const { places: inner, indices, faceOf } = limitMesh({ ...net, places }, 2);
    let [least, most, nearest] = [Number.POSITIVE_INFINITY, 0, 0];
    const short = new Float64Array(vertexCount(net));
    const away = new Float64Array(3 * vertexCount(net));
    const seen = new Uint8Array(inner.length / 3);
    for (let t = 0; t < faceOf.length; t++)
      for (let c = 0; c < 3; c++) {
        const v = indices[3 * t + c]!;
        if (seen[v]) continue;
        seen[v] = 1;
        closestOpposing(outside, inner[3 * v]!, inner[3 * v + 1]!, inner[3 * v + 2]!, 0, 0, 1, 1, 1e5, hit);
        const from = [inner[3 * v]! - hit.x, inner[3 * v + 1]! - hit.y, inner[3 * v + 2]! - hit.z];
        const n = outside.normals.subarray(3 * hit.triangle, 3 * hit.triangle + 3);
        // Beyond the skin it is less than nothing away from it.
        const distance = from[0]! * n[0]! + from[1]! * n[1]! + from[2]! * n[2]! > 0 ? -hit.distance : hit.distance;
        if (distance < least) [least, nearest] = [distance, 3 * v];
        most = Math.max(most, distance);
        const missing = wall + MARGIN - distance;
        if (missing <= 0) continue;
        for (const u of corners[faceOf[t]!]!) {
          if (missing <= short[u]!) continue;
          // Straight away from where the outside is nearest: normals turn over where the skin is about to fold.
          short[u] = missing;
          const k = missing / (Math.abs(distance) < 1e-9 ? 1 : distance);
          away.set([k * from[0]!, k * from[1]!, k * from[2]!], 3 * u);
        }
      }
    if (least >= wall + 0.5 * MARGIN) {
      const crossing = selfCrossings(buildBvh({ positions: inner, indices, faceOf }), crossingApart(size), 64);
      if (crossing.reduce((n, c) => n + c.length, 0) > GRAZES * size)
        return fail({ why: 'the skin bends more tightly there than the wall is thick: its inside would fold', at: crossing[0]!.at });
      return ok({ cage: cageFrom({ ...net, places }), least, most });
    }
    if (round === ROUNDS)
      return fail({
        why: `there is no room for the wall on both sides: its inside would come as near as ${least.toFixed(2)} mm`,
        at: [inner[nearest]!, inner[nearest + 1]!, inner[nearest + 2]!],
      });
    places = evened(
      net,
      places.map((x, i) => x + SHARE * away[i]!),
      beside,
      // What is evened out is pulled back a little: in the end the wall has the last word.
      EVENED * Math.max(0, 1 - round / SETTLES),
    );
  }
}

type Places = Float64Array<ArrayBuffer>;

/** Vertices moved against the direction the skin faces at them, as it is now. */
function steppedIn(net: Net, places: Places, by: number): Places {
  const { normals } = vertexLimits({ ...net, places });
  return places.map((x, i) => x - by * normals[i]!);
}

/** Vertices moved towards the middle of their neighbours along the skin: where it gathers they keep apart. */
function evened(net: Net, places: Places, beside: readonly (readonly number[])[], share: number): Places {
  const { normals } = vertexLimits({ ...net, places });
  const out = places.slice();
  beside.forEach((list, v) => {
    if (list.length === 0) return;
    const d = [0, 1, 2].map((k) => list.reduce((s, u) => s + places[3 * u + k]!, 0) / list.length - places[3 * v + k]!);
    const along = d.reduce((s, x, k) => s + x * normals[3 * v + k]!, 0);
    for (let k = 0; k < 3; k++) out[3 * v + k]! += share * (d[k]! - along * normals[3 * v + k]!);
  });
  return out;
}

/** Neighbours of every vertex; none of those on a border, which stay where they are along it. */
function neighbours(net: Net): number[][] {
  const out: number[][] = Array.from({ length: vertexCount(net) }, () => []);
  const border = new Set<number>();
  for (let e = 0; e < edgeCount(net); e++) {
    const [a, b] = [net.ends[2 * e]!, net.ends[2 * e + 1]!];
    out[a]!.push(b);
    out[b]!.push(a);
    if (net.sides[2 * e + 1]! < 0) border.add(a).add(b);
  }
  for (const v of border) out[v] = [];
  return out;
}

const cornersOfFaces = (net: Net): number[][] =>
  Array.from({ length: faceCount(net) }, (_, f) => [...net.vertex.subarray(net.start[f], net.start[f + 1])]);

/** A net as a cage. */
function cageFrom(net: Net): Cage {
  const weight = (w: number): number => Math.min(SHARP, w);
  return {
    vertices: Array.from({ length: vertexCount(net) }, (_, v) => placeAt(net, v)),
    faces: cornersOfFaces(net),
    // A border is sharp without being told.
    creases: Array.from({ length: edgeCount(net) }, (_, e) => e).flatMap((e) =>
      net.crease[e]! > 0 && net.sides[2 * e + 1]! >= 0 ? [[net.ends[2 * e]!, net.ends[2 * e + 1]!, weight(net.crease[e]!)] as const] : [],
    ),
    corners: [...net.corner.entries()].flatMap(([v, w]) => (w > 0 ? [[v, weight(w)] as const] : [])),
  };
}
