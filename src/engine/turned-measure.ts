/** What is read off a turned body's meridian: exactly, without a mesh. */
import { directionIn } from '../core/curves/frame';
import { curvatureAt, type PlanarCurve, pointAt } from '../core/curves/planar';
import { cross, type Vec3 } from '../core/geometry/vectors';
import type { Bounds } from '../core/mesh/mesh';
import type { WallReport, WallSpot } from '../core/mesh/wall';
import { edgeName } from '../core/recipe/names';
import type { Project } from '../core/recipe/schema';
import { faceWords } from '../core/recipe/words';
import { turnedHolding } from '../core/turned/holds';
import {
  AXIS,
  centroidHeight,
  curvesOf,
  extentOf,
  type Meridian,
  placedMeridian,
  skinOf,
  sweptArea,
  sweptVolume,
} from '../core/turned/meridian';
import { turnedMesh } from '../core/turned/mesh';
import { turnAt } from '../core/turned/soften';
import { thinnestAndThickest, type WallPlace } from '../core/turned/walls';
import { degrees, formatLength } from '../core/units/units';
import type { KernelBody } from '../kernel/body';
import type { Holding } from '../kernel/hold';
import type { Turned } from '../kernel/outlines';
import type { BodyMesh } from '../kernel/tessellate';
import { onBody } from '../kernel/turned';
import { turnedLimits } from '../kernel/turned-steps';
import type { KnifeEdges, WallForecast } from './types';

/** The meridian of a body that stands upright, its heights those of space; undefined for one that leans. */
function uprightMeridian(turned: Turned): { meridian: Meridian; centre: readonly [number, number] } | undefined {
  const { frame, meridian } = turned;
  if (Math.abs(Math.abs(frame.y[2]) - 1) > 1e-12) return undefined;
  const [x, y, z] = frame.origin;
  return { meridian: placedMeridian(meridian, 1, frame.y[2] > 0 ? 1 : -1, z), centre: [x, y] };
}

/** Volume, area, centroid and bounds of an upright body. */
export function turnedAmounts(turned: Turned): { volume: number; area: number; centroid: Vec3; bbox: Bounds } | undefined {
  const upright = uprightMeridian(turned);
  if (!upright) return undefined;
  const { meridian, centre } = upright;
  const curves = curvesOf(meridian);
  const skin = skinOf(meridian).map((c) => c.curve);
  const { radius, low, high } = extentOf(skin);
  const [x, y] = centre;
  return {
    volume: sweptVolume(curves),
    area: sweptArea(skin),
    centroid: [x, y, centroidHeight(curves)],
    bbox: { min: [x - radius, y - radius, low], max: [x + radius, y + radius, high] },
  };
}

/** Faces that meet in a convex edge turning by more than this have a wedge there, not a wall: a rim beside its wall, for one. */
const WEDGE = Math.PI / 3;

/** Sharp convex edges with their interior angle in degrees, sharpest first, and the pairs of faces that meet in one. */
export function turnedKnives(body: KernelBody, turned: Turned, sharp: number): KnifeEdges {
  const pairs = new Set<string>();
  const list: { edge: string; angle: number; at: Vec3 }[] = [];
  for (const loop of turned.meridian.loops)
    loop.forEach((a, i) => {
      const b = loop[(i + 1) % loop.length]!;
      if (a.face === AXIS || b.face === AXIS || a === b) return;
      const turn = turnAt(a.curve, b.curve);
      if (turn < WEDGE) return;
      const [m, n] = [body.faces.indexOf(a.face), body.faces.indexOf(b.face)];
      pairs.add(`${m},${n}`).add(`${n},${m}`);
      const angle = 180 - degrees(turn);
      if (angle < sharp) list.push({ edge: edgeName(a.face, b.face), angle, at: onBody(turned, a.curve.b.x, a.curve.b.y) });
    });
  return { pairs, list: list.sort((x, y) => x.angle - y.angle) };
}

/** Thinnest and thickest wall of a turned body. */
export function turnedWalls(body: KernelBody, turned: Turned, { pairs }: KnifeEdges): WallReport {
  const index = new Map(body.faces.map((f, i) => [f, i]));
  const { thinnest, thickest, samples } = thinnestAndThickest(turned.meridian, (a, b) => pairs.has(`${index.get(a)},${index.get(b)}`));
  const { frame } = turned;
  const spot = (p: WallPlace): WallSpot => ({
    thickness: p.thickness,
    at: onBody(turned, p.x, p.y),
    normal: directionIn(frame, { x: p.nx, y: p.ny }),
    contact: onBody(turned, p.contact.x, p.contact.y),
    face: body.faces.indexOf(p.face),
    contactFace: body.faces.indexOf(p.contact.face),
  });
  const thin = thinnest ? spot(thinnest) : null;
  return { thinnest: thin, thickest: thickest ? spot(thickest) : null, candidates: thin ? [thin] : [], samples };
}

/** The depth below the brim in which the mouth is looked for, mm. */
const MOUTH = 3;

/** What an upright turned body holds; null where it holds nothing, undefined where it leans. @param below distance of the fill line below the brim, mm */
export function turnedVessel(turned: Turned, below: number): Holding | null | undefined {
  const upright = uprightMeridian(turned);
  if (!upright) return undefined;
  const held = turnedHolding(upright.meridian);
  if (!held) return null;
  const { brim, floor, toBrim } = held;
  const level = brim - below;
  const depth = Math.min(MOUTH, 0.5 * (brim - floor));
  return {
    brim,
    floor,
    toBrim,
    toLevel: level > floor && level <= brim + 1e-9 ? held.below(level) : null,
    mouth: { diameter: held.mouth(depth), centre: upright.centre, depth },
  };
}

/** Areas of a turned body's faces, in their order, mm². */
export function turnedFaceAreas(body: KernelBody, turned: Turned): number[] {
  const by = new Map(skinOf(turned.meridian).map((c) => [c.face, sweptArea([c.curve])]));
  return body.faces.map((f) => by.get(f) ?? 0);
}

/** Triangles of a turned body where it stands, straight from its meridian. */
export function turnedScene(body: KernelBody, turned: Turned, deflection: number): BodyMesh {
  const mesh = turnedMesh(turned.meridian, deflection);
  const faces = skinOf(turned.meridian).map((c) => body.faces.indexOf(c.face));
  const { frame } = turned;
  // The half plane's own across, what lies square to it, and the axis.
  const axes = [frame.x, cross(frame.y, frame.x), frame.y] as const;
  return {
    positions: alongAxes(frame.origin, axes, mesh.positions),
    normals: alongAxes([0, 0, 0], axes, mesh.normals),
    // A frame of the other hand would turn its facets over.
    indices: mesh.indices,
    faceOf: mesh.curveOf.map((k) => faces[k]!),
  };
}

function alongAxes(origin: Vec3, [a, b, c]: readonly [Vec3, Vec3, Vec3], triples: Float32Array): Float32Array {
  const out = new Float32Array(triples.length);
  for (let i = 0; i < triples.length; i += 3)
    for (let k = 0; k < 3; k++) out[i + k] = origin[k]! + triples[i]! * a[k]! + triples[i + 1]! * b[k]! + triples[i + 2]! * c[k]!;
  return out;
}

/** What a wall will swallow of a turned body, read off its meridian; inwards only. */
export function turnedForecast(
  project: Project,
  step: string,
  body: KernelBody,
  turned: Turned,
  open: ReadonlySet<number>,
  wall: number,
): WallForecast {
  const opened = new Set([...open].map((i) => body.faces[i]!));
  const { largest, vanish } = turnedLimits(turned, opened);
  const length = (v: number): string => formatLength(v, project.units, 2);
  const places = [...vanish].map(([face, p]) => ({
    value: p.value,
    words: `${faceWords(face, project)}: nothing of its inside is left from ${length(p.value)} on`,
    at: onBody(turned, p.x, p.y),
  }));
  for (const { curve, face } of skinOf(turned.meridian)) {
    if (opened.has(face) || curve.kind === 'line') continue;
    const tight = tightestInward(curve);
    if (tight && tight.radius < (vanish.get(face)?.value ?? Number.POSITIVE_INFINITY) * (1 - 1e-6))
      places.push({
        value: tight.radius,
        words: `${faceWords(face, project)}: outside radius ${length(tight.radius)}`,
        at: onBody(turned, tight.x, tight.y),
      });
  }
  places.sort((a, b) => a.value - b.value);
  const first = places[0];
  return {
    step,
    side: 'inward',
    keepsAllUpTo: first?.value ?? null,
    noneFrom: largest.value,
    swallowed: places.filter((p) => p.value < wall * (1 - 1e-6)).map(({ words, at }) => ({ words, at })),
    limit: first ? { words: first.words, at: first.at } : null,
  };
}

/** Where a curve bends most tightly about the material, mm. */
function tightestInward(curve: PlanarCurve): { radius: number; x: number; y: number } | undefined {
  let best: { radius: number; x: number; y: number } | undefined;
  for (let i = 0; i <= 200; i++) {
    const bend = curvatureAt(curve, i / 200);
    if (!(bend > 1e-6) || (best && 1 / bend >= best.radius)) continue;
    const p = pointAt(curve, i / 200);
    best = { radius: 1 / bend, x: p.x, y: p.y };
  }
  return best;
}
