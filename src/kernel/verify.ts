/**
 * Stands between every solid operation and the document: the kernel can return a wrong solid without an
 * error. Checks run cheapest first and stop at the first that fails.
 */

import type { TopoDS_Edge } from 'replicad-opencascadejs';
import { buildBvh, type ClosestHit, closestOpposing, type RayHit, raycast, sharedBvh } from '../core/mesh/bvh';
import type { Bounds } from '../core/mesh/mesh';
import { bounds as boundsOfPoints, diagonal, massProperties, type TriMesh } from '../core/mesh/mesh';
import { centroidOf, judgeSkin } from '../core/mesh/winding';
import { fail, ok, type Result } from '../core/result';
import { ledBetween } from '../core/surfaces/nearest';
import { volumeOf } from './amounts';
import { checking } from './clock';
import { nearFaces } from './nearest';
import type { Kernel, Shape } from './open';
import { compoundOf, distanceBetween, edgesWithFaces, facesOf, solidsOf, surfaceReader, vertexAt } from './shapes';
import {
  type BodyMesh,
  displayDeflection,
  isClosedMesh,
  tessellate,
  tessellateOnto,
  turnFor,
  VERIFY_ANGLE,
  weldedMesh,
} from './tessellate';

export interface Refusal {
  /** Which check refused, for tests and the curious. */
  readonly check: 'solids' | 'volume' | 'kernel' | 'mesh' | 'lobe' | 'bounds' | 'wall-rays' | 'wall-exact' | 'ball';
  readonly why: string;
  /** A place that shows it. */
  readonly at?: readonly [number, number, number];
  /** The wall that came about at its thinnest, exact, mm. */
  readonly wall?: number;
}

export interface Expectation {
  /** Allowed volume, mm³, bounds excluded; any above nothing where left out. */
  readonly volume?: readonly [number, number];
  /** The result must lie inside this. */
  readonly inside?: Bounds;
  /** Largest distance of the verification mesh from the surface, mm; what a shown body has where left out. */
  readonly deflection?: number;
  /** Largest turn between its facets, rad; for bodies of hundreds of small bends a wider one. */
  readonly angle?: number;
  /** How many solids it may be, 1 where left out. */
  readonly pieces?: number | undefined;
  /** It can't run through itself by the way it was made: straight, or from bodies that were checked. */
  readonly simple?: true;
  /** It may come inside out: then it is turned. */
  readonly either?: true;
}

export interface Verified {
  readonly shape: Shape;
  readonly volume: number;
  /** How many solids it is. */
  readonly solids: number;
  readonly mesh: BodyMesh;
  readonly skin: TriMesh;
}

/** Checks that hold for any solid: one solid, volume, the kernel's own check, a closed mesh of the same volume, bounds. */
export const verifySolid = (kernel: Kernel, result: Shape, expect: Expectation = {}): Result<Verified, Refusal> =>
  checking(() => solidChecked(kernel, result, expect));

/** Checks of a solid after detail was raised over its skin or sunk into it. @param before its volume without, mm³ @param faces how many it has now */
export const verifyDetail = (kernel: Kernel, result: Shape, before: number, raised: boolean, faces: number): Result<Verified, Refusal> =>
  verifySolid(kernel, result, {
    volume: raised ? [before, Number.POSITIVE_INFINITY] : [0, before],
    angle: turnFor(faces, VERIFY_ANGLE),
  });

function solidChecked(kernel: Kernel, result: Shape, expect: Expectation): Result<Verified, Refusal> {
  const refuse = (check: Refusal['check'], why: string): Result<never, Refusal> => fail({ check, why });
  if (result.IsNull()) return refuse('solids', 'the kernel returned nothing');
  const solids = solidsOf(kernel, result);
  if (solids.length === 0) return refuse('solids', 'the result is not a solid');
  if (solids.length > (expect.pieces ?? 1)) return refuse('solids', `the result falls into ${solids.length} separate pieces`);
  // The handle itself where it is the solid: integrals are known by handle.
  const made = solids.length > 1 ? compoundOf(kernel, solids) : result.ShapeType() === 'TopAbs_SOLID' ? result : solids[0]!;
  const analyzer = new kernel.BRepCheck_Analyzer(made, true, false, false);
  const valid = analyzer.IsValid();
  analyzer.delete();
  // The volume of what is none is not worth its integral, which takes seconds over many offset faces.
  if (!valid) return refuse('kernel', 'surfaces of the result cross each other or do not meet');
  const signed = volumeOf(kernel, made).volume;
  const turned = expect.either === true && signed < 0;
  const [shape, volume] = turned ? [made.Reversed(), -signed] : [made, signed];
  const [least, most] = expect.volume ?? [0, Number.POSITIVE_INFINITY];
  if (!(volume > least && volume < most)) return refuse('volume', 'the result does not have a volume that can be right');
  const shown = displayDeflection(kernel, shape);
  const deflection = expect.deflection ?? shown;
  // What is finer than shown bodies are would stay on the faces and make all that comes of them slow.
  const angle = expect.angle ?? VERIFY_ANGLE;
  const anew = (): BodyMesh => tessellate(kernel, shape, deflection, angle);
  let mesh = deflection < 0.9 * shown ? anew() : tessellateOnto(kernel, shape, deflection, angle);
  if (!isClosedMesh(weldedMesh(mesh))) {
    // Facets that were kept need not fit those beside them.
    mesh = anew();
    if (!isClosedMesh(weldedMesh(mesh))) return refuse('mesh', 'the result is not closed');
  }
  const skin = weldedMesh(mesh);
  // The mesh's own area is near enough for a bound, and the exact one of trimmed spline faces takes seconds.
  const facets = massProperties(skin);
  const off = Math.abs(facets.volume - volume);
  if (off > deflection * facets.area * 1.02 + 1e-6 * Math.abs(volume)) return refuse('mesh', 'parts of the result overlap');
  if (!expect.simple) {
    const lobe = lobeIn(kernel, shape, skin, deflection);
    if (lobe) return fail({ check: 'lobe', why: 'it runs through itself', at: lobe });
  }
  if (expect.inside) {
    const b = boundsOfPoints(skin.positions);
    const slack = 1e-4 + deflection;
    for (let k = 0; k < 3; k++)
      if (b.min[k]! < expect.inside.min[k]! - slack || b.max[k]! > expect.inside.max[k]! + slack)
        return refuse('bounds', 'the result sticks out of where it can be');
  }
  return ok({ shape, volume, solids: solids.length, mesh, skin });
}

/** A finer look is taken at meshes of no more triangles than this. */
const LOOKED_AT_AGAIN = 30_000;

/** A place where a closed skin is inside out or lies twice over, which volumes can't show because both are signed; undefined where none was found. */
function lobeIn(kernel: Kernel, shape: Shape, skin: TriMesh, deflection: number): readonly [number, number, number] | undefined {
  const size = diagonal(boundsOfPoints(skin.positions));
  const first = judgeSkin(sharedBvh(skin), deflection, size);
  if (first.verdict === 'false') return first.at;
  if (first.verdict === 'sound' || skin.indices.length / 3 > LOOKED_AT_AGAIN) return undefined;
  // Facets cross, as those of a thin place do that are coarser than it: finer ones tell.
  const finer = judgeSkin(buildBvh(weldedMesh(tessellate(kernel, shape, deflection / 4, VERIFY_ANGLE / 2))), deflection / 4, size);
  return finer.verdict === 'false' ? finer.at : undefined;
}

/** Mesh tolerance for verifying a value t on a body. */
export const deflectionFor = (value: number, b: Bounds): number => Math.min(Math.max(value / 10, 2e-4), 1e-3 * diagonal(b));

const hit: RayHit = { t: 0, triangle: -1 };

/**
 * The wall of an inward shell. First some 200 rays inward from the kept outside, then the exact distance
 * between the generated inner faces and the kept outer ones, which must be the wall asked for.
 * @param inner face indices of the cavity; @param kept face indices of the old skin that stay
 * @param most the wall that was built, where that is more than what is asked
 */
export const verifyWall = (
  kernel: Kernel,
  result: Verified,
  wall: number,
  inner: ReadonlySet<number>,
  kept: ReadonlySet<number>,
  most = wall,
): Result<true, Refusal> => checking(() => wallChecked(kernel, result, wall, inner, kept, most));

/** What the thinnest wall may miss by, mm. */
const WALL_TOLERANCE = 1e-3;

function wallChecked(
  kernel: Kernel,
  result: Verified,
  wall: number,
  inner: ReadonlySet<number>,
  kept: ReadonlySet<number>,
  most: number,
): Result<true, Refusal> {
  if (inner.size === 0) return fail({ check: 'wall-rays', why: 'no cavity came about' });
  const bvh = sharedBvh(result.skin);
  const size = diagonal(boundsOfPoints(result.skin.positions));
  const deflection = deflectionFor(wall, boundsOfPoints(result.skin.positions));
  const tolerance = 2 * deflection + 2e-3 * Math.min(wall, 0.1 * size);
  const { faceOf } = result.skin;
  const outside: number[] = [];
  for (let t = 0; t < faceOf.length; t++) if (kept.has(faceOf[t]!)) outside.push(t);
  const stride = Math.max(1, Math.floor(outside.length / 200));
  for (let i = 0; i < outside.length; i += stride) {
    const t = outside[i]!;
    const c = centroidOf(bvh, t, 1 / 3, 1 / 3, 1 / 3);
    const n = bvh.normals.subarray(3 * t, 3 * t + 3);
    raycast(bvh, c[0], c[1], c[2], -n[0]!, -n[1]!, -n[2]!, 1e-6 * size, size, hit);
    if (hit.triangle >= 0 && !kept.has(faceOf[hit.triangle]!) && inner.has(faceOf[hit.triangle]!) && hit.t < wall - tolerance)
      return fail({ check: 'wall-rays', why: `the wall would be ${hit.t.toFixed(2)} mm where ${wall.toFixed(2)} mm is asked` });
  }
  const faces = facesOf(kernel, result.shape);
  const d = leastBetween(kernel, result.skin, faces, inner, kept, Math.max(0.3 * wall, 6 * deflection));
  if (!d) return fail({ check: 'wall-exact', why: 'the wall could not be measured' });
  if (d.distance < wall - WALL_TOLERANCE || d.distance > most + WALL_TOLERANCE)
    return fail({
      check: 'wall-exact',
      why: `the wall would be ${d.distance.toFixed(3)} mm where ${wall.toFixed(3)} mm is asked`,
      wall: d.distance,
    });
  return ok(true);
}

/** Places tried exactly for every pair of faces. */
const TRIED = 4;

/**
 * The least distance between faces of the cavity and of the old skin. The mesh tells for every pair of faces that are next to each other where
 * it may lie; from there each place is led to the nearest one of the exact other face, and back, until it is no nearer.
 * @param apart how much nearer two faces may be than the mesh says, mm
 */
function leastBetween(
  kernel: Kernel,
  skin: TriMesh,
  faces: readonly Shape[],
  inner: ReadonlySet<number>,
  kept: ReadonlySet<number>,
  apart: number,
): { distance: number } | undefined {
  const { positions: p, indices, faceOf } = skin;
  const pick: number[] = [];
  for (let t = 0; t < faceOf.length; t++) if (kept.has(faceOf[t]!)) pick.push(t);
  if (pick.length === 0) return undefined;
  const bvh = buildBvh({
    positions: p,
    indices: Uint32Array.from(pick.flatMap((t) => [indices[3 * t]!, indices[3 * t + 1]!, indices[3 * t + 2]!])),
    faceOf: Uint32Array.from(pick.map((t) => faceOf[t]!)),
  });
  const nearby: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };
  const pairs = new Map<number, { far: number; v: number; from: number; to: number }[]>();
  const seen = new Set<number>();
  for (let t = 0; t < faceOf.length; t++) {
    const from = faceOf[t]!;
    if (!inner.has(from)) continue;
    for (let c = 0; c < 3; c++) {
      const v = indices[3 * t + c]!;
      const mark = v * faces.length + from;
      if (seen.has(mark)) continue;
      seen.add(mark);
      closestOpposing(bvh, p[3 * v]!, p[3 * v + 1]!, p[3 * v + 2]!, 0, 0, 1, 1, 1e5, nearby);
      const to = bvh.mesh.faceOf[nearby.triangle]!;
      const key = from * faces.length + to;
      const list = pairs.get(key);
      if (list) list.push({ far: nearby.distance, v, from, to });
      else pairs.set(key, [{ far: nearby.distance, v, from, to }]);
    }
  }
  const near = nearFaces(kernel, faces);
  let least = Number.POSITIVE_INFINITY;
  const tried = [...pairs.values()].flatMap((list) => list.sort((a, b) => a.far - b.far).slice(0, TRIED));
  // The nearest first: what lies much farther away on the mesh is not nearer on the faces.
  for (const { far, v, from, to } of tried.sort((a, b) => a.far - b.far)) {
    if (far > least + apart) break;
    const led = ledBetween([p[3 * v]!, p[3 * v + 1]!, p[3 * v + 2]!], (place, turn) => {
      const face = turn % 2 === 0 ? to : from;
      let d = near(place, face, least);
      // The mesh knows of a nearer place: what was found is only the nearest about there.
      if (d && turn === 0 && d.distance > far + apart / 3) d = near(place, face, Number.POSITIVE_INFINITY);
      if (d) least = Math.min(least, d.distance);
      return d;
    });
    if (led === undefined) return undefined;
  }
  return Number.isFinite(least) ? { distance: least } : undefined;
}

/**
 * Every round: at points of the new face the rolling ball's centre must be one radius from both faces it
 * leans on, and touch them within their own bounds.
 * @param rounds face index of each new face with the pairs of old faces it lies between: one pair, or those of the edges it runs along
 */
export const verifyRounds = (
  kernel: Kernel,
  result: Verified,
  radius: number | readonly [number, number],
  rounds: readonly RoundFace[],
): Result<true, Refusal> => checking(() => roundsChecked(kernel, result, radius, rounds));

interface RoundFace {
  readonly face: number;
  readonly between: readonly (readonly [Shape, Shape])[];
}

function roundsChecked(
  kernel: Kernel,
  result: Verified,
  radius: number | readonly [number, number],
  rounds: readonly RoundFace[],
): Result<true, Refusal> {
  const faces = facesOf(kernel, result.shape);
  // A radius that changes along the edge is no ball's own: some ball of the range must fit nearly.
  const balls =
    typeof radius === 'number' ? [radius] : Array.from({ length: 17 }, (_, i) => radius[0] + ((radius[1] - radius[0]) * i) / 16);
  const tolerance = typeof radius === 'number' ? 1e-4 + 2e-4 * radius : 0.02 * radius[1] + (radius[1] - radius[0]) / 16;
  for (const { face, between } of rounds) {
    const reader = surfaceReader(kernel, faces[face]!);
    try {
      const { u, v } = reader.range;
      for (const a of [0.11, 0.37, 0.5, 0.83])
        for (const b of [0.13, 0.5, 0.87]) {
          const s = reader.at(u[0] + a * (u[1] - u[0]), v[0] + b * (v[1] - v[0]));
          if (!s) continue;
          let off = Number.POSITIVE_INFINITY;
          for (const r of balls)
            for (const sign of [-1, 1]) {
              const centre: [number, number, number] = [
                s.point[0] + sign * r * s.normal[0],
                s.point[1] + sign * r * s.normal[1],
                s.point[2] + sign * r * s.normal[2],
              ];
              for (const pair of between) if (off > tolerance) off = Math.min(off, leans(kernel, centre, r, pair, off));
            }
          if (off > tolerance)
            return fail({ check: 'ball', why: `the rounding does not touch the faces beside its edge (off by ${off.toFixed(3)} mm)` });
        }
    } finally {
      reader.dispose();
    }
  }
  return ok(true);
}

/** Borders of a round lie on the faces that were there within this, mm. */
const ON_OLD = 1e-3;

/**
 * A round that changes along its edge must end on the faces that were there: beyond the room there is, its borders run off them.
 * @param rounds faces of the result that are new
 */
export const verifyBorders = (kernel: Kernel, old: Shape, result: Verified, rounds: ReadonlySet<number>): Result<true, Refusal> =>
  checking(() => {
    const faces = facesOf(kernel, result.shape);
    for (const { edge, faces: sides } of edgesWithFaces(kernel, faces)) {
      const mine = sides.filter((i) => rounds.has(i));
      // Between two new faces a border lies on none of the old ones.
      if (mine.length !== 1 || sides.length !== 2) continue;
      for (const at of alongEdge(kernel, edge)) {
        const v = vertexAt(kernel, at);
        const off = distanceBetween(kernel, v, old)?.distance ?? Number.POSITIVE_INFINITY;
        v.delete();
        if (off > ON_OLD) return fail({ check: 'ball', why: `the round runs off the faces beside its edge by ${off.toFixed(3)} mm`, at });
      }
    }
    return ok(true);
  });

/** Places along an edge, its ends among them. */
function alongEdge(kernel: Kernel, edge: TopoDS_Edge): [number, number, number][] {
  const curve = new kernel.BRepAdaptor_Curve(edge);
  const [from, to] = [curve.FirstParameter(), curve.LastParameter()];
  const out = [0, 0.17, 0.38, 0.5, 0.71, 0.9, 1].map((share): [number, number, number] => {
    const p = curve.EvalD0(from + share * (to - from));
    const at: [number, number, number] = [p.X(), p.Y(), p.Z()];
    p.delete();
    return at;
  });
  curve.delete();
  return out;
}

/**
 * Largest miss of a ball against two faces: off its radius, or touching beyond the face's own border.
 * @param enough a miss as large as this need not be known better
 */
function leans(
  kernel: Kernel,
  centre: readonly [number, number, number],
  radius: number,
  between: readonly [Shape, Shape],
  enough: number,
): number {
  const v = vertexAt(kernel, centre);
  let worst = 0;
  for (const face of between) {
    if (worst >= enough) break;
    const d = distanceBetween(kernel, v, face);
    worst = d ? Math.max(worst, Math.abs(d.distance - radius)) : Number.POSITIVE_INFINITY;
  }
  v.delete();
  return worst;
}
