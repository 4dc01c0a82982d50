/**
 * A wall outside of a turned body, which becomes its cavity: what lies within the wall of the kept faces, in the half plane outside. Open faces that are
 * level end it in their own planes.
 */
import { fail, ok, type Result } from '../result';
import { combined, piecesOfLoops } from './combine';
import { asMeridian, type HollowCurve, hollowOf, prepareHollow } from './hollow';
import { AXIS, curvesOf, drum, extentOf, type Loop, type Meridian, signedArea, skinOf } from './meridian';

const FAR = ' far';
const LEVEL = 1e-9;

/**
 * @param name of each curve of the wall: the old skin, the new outside, and the rim an open face leaves
 * @returns the pieces of the wall; undefined where an open face is not level, or the body reaches past it; an error where it could not be traced
 */
export function outwardWall(
  m: Meridian,
  open: (face: string) => boolean,
  wall: (face: string) => number,
  name: (role: Exclude<HollowCurve['role'], 'axis'>, of: string) => string,
): Result<Meridian[]> | undefined {
  const { radius, low, high } = extentOf(curvesOf(m).flat());
  const most = Math.max(...skinOf(m).map((c) => wall(c.face)));
  const reach = 2 * most + radius;
  const ends: { low?: string; high?: string } = {};
  for (const { curve, face } of skinOf(m).filter((c) => open(c.face))) {
    if (curve.kind !== 'line' || Math.abs(curve.a.y - curve.b.y) > LEVEL) return undefined;
    // Material lies to the left: a top is run inwards, a foot outwards.
    if (curve.b.x < curve.a.x && Math.abs(curve.a.y - high) < LEVEL) ends.high = face;
    else if (curve.b.x > curve.a.x && Math.abs(curve.a.y - low) < LEVEL) ends.low = face;
    else return undefined;
  }
  const outside = combined(drum(reach, low - reach, high + reach, [FAR, FAR, FAR]), m, 'cut');
  if (!outside.ok) return outside;
  const walls: Loop[] = [];
  for (const piece of outside.value) {
    const made = hollowOf(
      prepareHollow(piece, (f) => f === FAR || open(f)),
      wall,
    );
    if (!made.ok) return made;
    // What is open lends no wall a face: where one stands before it, that is cut off below.
    const { loops } = asMeridian(made.value.body, (c) => (c.role === 'rim' ? FAR : c.role === 'axis' ? AXIS : name(c.role, c.of)));
    walls.push(...loops);
  }
  const slab = drum(reach, ends.low ? low : low - reach, ends.high ? high : high + reach, [
    ends.low ? name('rim', ends.low) : FAR,
    FAR,
    ends.high ? name('rim', ends.high) : FAR,
  ]);
  const pieces: Meridian[] = [];
  for (const part of piecesOfLoops(walls)) {
    const cut = combined(part, slab, 'common');
    if (!cut.ok) return cut;
    pieces.push(...cut.value);
  }
  const solid = pieces.filter((p) => p.loops.reduce((sum, l) => sum + signedArea(l), 0) > 1e-9);
  if (solid.some((p) => skinOf(p).some((c) => c.face === FAR))) return fail('the wall reaches where it can’t');
  return ok(solid);
}
