/**
 * A form inside a form: a cage whose smooth body keeps a wall from that of another everywhere, and follows it. Its skin goes in by small
 * steps, each against the direction it faces by then, so that it does not fold where a ridge is narrow; then it is measured all over, and
 * goes in farther where it is too near.
 */
import { dot, triple, type Vec3 } from '../geometry/vectors';
import { type Bvh, buildBvh, type ClosestHit, closestOpposing, type RayHit, raycast } from '../mesh/bvh';
import { type Bounds, bounds, diagonal } from '../mesh/mesh';
import { crossingApart, selfCrossings } from '../mesh/self-crossings';
import { fail, ok, type Result } from '../result';
import { ledBetween, type NearestPlace, nearestOn } from '../surfaces/nearest';
import { surfaceAt, unrolled } from '../surfaces/space';
import { type Cage, edgeCount, faceCount, type Net, netOf, type P3, vertexCount } from './cage';
import { facesFollowing, skinOf } from './deviation';
import { limitMesh, vertexLimits } from './limit';
import type { FormPatch } from './patches';
import { refine } from './refine';
import { levelWithin, limitSkin } from './skin';
import { GRAZES } from './torn';

interface Found {
  /** The net of the inside. */
  readonly net: Net;
  /** Distances from the outside, measured between vertices too, mm. */
  readonly least: number;
  readonly most: number;
}

export interface InsideForm extends Found {
  /** Its exact faces, which keep the wall from those of the outside. */
  readonly patches: readonly FormPatch[];
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

/** How often it goes in farther because the exact skins are nearer to each other than their facets, and what they may miss by, mm. */
const [AGAIN, HAIR] = [3, 5e-4];

/** @param wall mm */
export function insideForm(cage: Cage, wall: number): Result<InsideForm, NoInside> {
  const net = netOf(cage);
  if (!net.ok) return fail({ why: net.error.what, at: cage.vertices[0]! });
  const outside = limitSkin(net.value, levelWithin(net.value, 5, 2, MOST_TRIANGLES));
  const coarse = insideOn(net.value, outside, wall);
  const even = coarse.ok && coarse.value.most <= EVEN * wall;
  const fine = even || faceCount(net.value) > MOST_REFINED ? undefined : insideOn(refine(net.value), outside, wall);
  let none: Result<never, NoInside> | undefined;
  for (const found of [fine, coarse]) {
    if (!found) continue;
    const made = found.ok ? exactInside(cage, net.value, found.value, outside, wall) : found;
    if (made.ok) return made;
    none ??= made;
  }
  return none!;
}

/** Where the exact skins are nearer than their facets it goes in farther; one that comes upon itself is none. */
function exactInside(cage: Cage, net: Net, first: Found, outside: Bvh, wall: number): Result<InsideForm, NoInside> {
  // The step that made the form has asked for these.
  const outer = skinOf(cage, net, FOLLOWED).patches;
  let found = first;
  for (let asked = wall, again = 0; ; again++) {
    const { net: inner } = found;
    const narrow = narrowIn(inner, NARROW * wall);
    if (narrow) return fail({ why: FOLDS, at: narrow });
    const patches = facesFollowing(inner, FOLLOWED);
    const short = wall - leastApart(patches, outer, outside, wall);
    if (short <= HAIR || again === AGAIN) return ok({ ...found, patches });
    // A little more than is missing: what is pushed drags its neighbours along less than it goes.
    asked += 2 * short + HAIR;
    const next = settled(inner, outside, asked, Float64Array.from(inner.places), SETTLES);
    if (!next.ok) return next;
    found = next.value;
  }
}

const FOLDS = 'the skin bends more tightly there than the wall is thick: its inside would fold';
/** What is narrower within than this share of the wall, between sides that look away from each other, has come upon itself. */
const NARROW = 0.03;
const LOOK_AWAY = -0.95;

/** A place where the inside of a skin is narrower than a width, mm. */
function narrowIn(net: Net, width: number): P3 | undefined {
  const { places: p, indices, faceOf } = limitMesh(net, 3);
  const bvh = buildBvh({ positions: p, indices, faceOf });
  const ray: RayHit = { t: 0, triangle: -1 };
  for (let t = 0; t < faceOf.length; t++) {
    const n = triple((k) => bvh.normals[3 * t + k]!);
    const c = triple((k) => (p[3 * indices[3 * t]! + k]! + p[3 * indices[3 * t + 1]! + k]! + p[3 * indices[3 * t + 2]! + k]!) / 3);
    raycast(bvh, ...c, -n[0], -n[1], -n[2], 1e-9, width, ray);
    if (ray.triangle < 0) continue;
    const m = triple((k) => bvh.normals[3 * ray.triangle + k]!);
    if (dot(n, m) < LOOK_AWAY) return c;
  }
  return undefined;
}

/** How closely exact faces follow the forms. */
const FOLLOWED = 'well';
/** Places of every patch that are led to where the skins are nearest. */
const TRIED = 4;

/** The least distance of the exact skin of the inside from that of the outside, mm; infinite where none is near the wall. */
function leastApart(inner: readonly FormPatch[], outer: readonly FormPatch[], outside: Bvh, wall: number): number {
  const surfaces = (patches: readonly FormPatch[]) =>
    patches.map(({ surface }) => {
      const poles = unrolled(surface);
      let near: ReturnType<typeof nearestOn> | undefined;
      const nearest = (p: Vec3): NearestPlace => {
        near ??= nearestOn(poles);
        return near(p);
      };
      // No place of it lies out of the box of its poles.
      return { surface, box: boxOf(poles.poles.flat()), nearest };
    });
  const skins = surfaces(outer);
  const nearestOuter = (p: Vec3): NearestPlace => {
    let best: NearestPlace = { distance: Number.POSITIVE_INFINITY, at: p };
    const order = skins.map((s) => ({ s, off: offBox(s.box, p) })).sort((a, b) => a.off - b.off);
    for (const { s, off } of order) {
      if (off >= best.distance) break;
      const found = s.nearest(p);
      if (found.distance < best.distance) best = found;
    }
    return best;
  };
  let least = Number.POSITIVE_INFINITY;
  for (const { surface, nearest } of surfaces(inner)) {
    const places: { p: Vec3; far: number }[] = [];
    for (const u of between(surface.u.knots))
      for (const v of between(surface.v.knots)) {
        const p = surfaceAt(surface, u, v);
        closestOpposing(outside, ...p, 0, 0, 1, 1, 1.3 * wall, hit);
        if (hit.triangle >= 0) places.push({ p, far: hit.distance });
      }
    for (const { p } of places.sort((a, b) => a.far - b.far).slice(0, TRIED))
      least = Math.min(least, ledBetween(p, (place, turn) => (turn % 2 === 0 ? nearestOuter(place) : nearest(place)))!);
  }
  return least;
}

/** Knots and the middles between them. */
const between = (knots: readonly number[]): number[] => knots.flatMap((t, i) => (i === 0 ? [t] : [(knots[i - 1]! + t) / 2, t]));

const boxOf = (places: readonly Vec3[]): Bounds => bounds(Float64Array.from(places.flat()));
const offBox = ({ min, max }: Bounds, p: Vec3): number => Math.hypot(...triple((k) => Math.max(0, min[k] - p[k], p[k] - max[k])));

const hit: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };

/** The skin goes in by so many small steps, and evens its vertices out along itself by this share at each. */
const [STEPS, EVENED] = [10, 0.15];
/** Rounds in which places that are too near go in farther, and the share of what is missing that a vertex goes at a time. */
const [ROUNDS, SHARE] = [40, 1.1];
/** Rounds after which vertices are evened out no more. */
const SETTLES = 12;

function insideOn(net: Net, outside: Bvh, wall: number): Result<Found, NoInside> {
  const beside = neighbours(net);
  let places: Places = Float64Array.from(net.places);
  for (let k = 0; k < STEPS; k++) places = evened(net, steppedIn(net, places, (wall + MARGIN) / STEPS), beside, EVENED);
  return settled(net, outside, wall, places, 0);
}

/** The net moved from given places until it keeps the wall everywhere. @param first round, of those in which it is evened out */
function settled(net: Net, outside: Bvh, wall: number, from: Places, first: number): Result<Found, NoInside> {
  const size = diagonal(bounds(net.places));
  const beside = neighbours(net);
  let places = from;
  const corners = cornersOfFaces(net);
  for (let round = first; ; round++) {
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
      if (crossing.reduce((n, c) => n + c.length, 0) > GRAZES * size) return fail({ why: FOLDS, at: crossing[0]!.at });
      return ok({ net: { ...net, places }, least, most });
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
