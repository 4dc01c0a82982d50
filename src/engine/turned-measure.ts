/** What is read off a turned body's meridian: exactly, without a mesh. */
import type { Vec3 } from '../core/curves/frame';
import type { Bounds } from '../core/mesh/mesh';
import type { WallReport, WallSpot } from '../core/mesh/wall';
import { edgeName } from '../core/recipe/names';
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
import { turnAt } from '../core/turned/soften';
import { thinnestAndThickest, type WallPlace } from '../core/turned/walls';
import { degrees } from '../core/units/units';
import type { KernelBody } from '../kernel/body';
import type { Holding } from '../kernel/hold';
import { onBody, type Turned } from '../kernel/turned';

/** The meridian of a body that stands upright, its heights those of space; undefined for one that leans. */
export function uprightMeridian(turned: Turned): { meridian: Meridian; centre: readonly [number, number] } | undefined {
  const { frame, meridian } = turned;
  if (Math.abs(Math.abs(frame.y[2]) - 1) > 1e-12) return undefined;
  const [x, y, z] = frame.origin;
  return { meridian: placedMeridian(meridian, 1, frame.y[2] > 0 ? 1 : -1, z), centre: [x, y] };
}

/** Volume, area, centroid and bounds of an upright body. */
export function turnedAmounts(turned: Turned): { volume: number; area: number; centroid: Vec3; bbox: Bounds; reach: number } | undefined {
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
    reach: Math.hypot(x, y) + radius,
  };
}

/** Sharp convex edges with their interior angle in degrees, sharpest first, and the pairs of faces that meet in one. */
export function turnedKnives(turned: Turned, sharp: number): { pairs: Set<string>; list: { edge: string; angle: number; at: Vec3 }[] } {
  const pairs = new Set<string>();
  const list: { edge: string; angle: number; at: Vec3 }[] = [];
  for (const loop of turned.meridian.loops)
    loop.forEach((a, i) => {
      const b = loop[(i + 1) % loop.length]!;
      if (a.face === AXIS || b.face === AXIS || a === b) return;
      const turn = turnAt(a.curve, b.curve);
      if (turn < Math.PI / 2 + 0.05) return;
      pairs.add(`${a.face} ${b.face}`).add(`${b.face} ${a.face}`);
      const angle = 180 - degrees(turn);
      if (angle < sharp) list.push({ edge: edgeName(a.face, b.face), angle, at: onBody(turned, a.curve.b.x, a.curve.b.y) });
    });
  return { pairs, list: list.sort((x, y) => x.angle - y.angle) };
}

/** Thinnest and thickest wall of a turned body. */
export function turnedWalls(body: KernelBody, turned: Turned, pairs: ReadonlySet<string>): WallReport {
  const { thinnest, thickest, samples } = thinnestAndThickest(turned.meridian, (a, b) => pairs.has(`${a} ${b}`));
  const { frame } = turned;
  const spot = (p: WallPlace): WallSpot => ({
    thickness: p.thickness,
    at: onBody(turned, p.x, p.y),
    normal: [0, 1, 2].map((k) => p.nx * frame.x[k]! + p.ny * frame.y[k]!) as unknown as Vec3,
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
