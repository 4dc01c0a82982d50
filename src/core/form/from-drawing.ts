/** Cages that begin with a drawing: a half profile turned about the axis, or a closed outline drawn up. */
import type { Point2 } from '../curves/planar';
import { flatten } from '../curves/planar';
import type { Scope } from '../dimensions/expression';
import { loopArea } from '../mesh/slice';
import { material } from '../profile/material';
import { findOutline, outlinePolyline } from '../profile/outline';
import type { ResolvedProfile } from '../profile/resolve';
import { fail, ok, type Result } from '../result';
import type { Cage } from './cage';
import { applyEdit } from './edit/edit';
import { NO_SYMMETRY } from './edit/symmetry';
import { borderLoops, topologyOf } from './edit/topology';
import { drawnUpCage, ringFaces, turnedCage } from './starts';

/** Nearer to the axis than this a place lies on it, mm. */
const ON_AXIS = 1e-4;

/** Places at even steps along a polyline, its ends among them; of a closed one its first is not repeated. */
export function evenly(points: readonly Point2[], count: number, closed: boolean): Point2[] {
  const row = closed ? [...points, points[0]!] : points;
  const lengths = [0];
  for (let i = 1; i < row.length; i++) lengths.push(lengths[i - 1]! + Math.hypot(row[i]!.x - row[i - 1]!.x, row[i]!.y - row[i - 1]!.y));
  const total = lengths.at(-1)!;
  const steps = closed ? count : count - 1;
  return Array.from({ length: count }, (_, i) => {
    const at = (total * i) / steps;
    let k = 0;
    while (k < row.length - 2 && lengths[k + 1]! < at) k++;
    const [a, b, l] = [row[k]!, row[k + 1]!, lengths[k + 1]! - lengths[k]!];
    const s = l > 0 ? (at - lengths[k]!) / l : 0;
    return { x: a.x + s * (b.x - a.x), y: a.y + s * (b.y - a.y) };
  });
}

/**
 * A half profile turned: so many sides and rings. Where it begins or ends on the axis it is closed there by a grid of quads.
 * @param profile on a plane through the axis: x is the radius, y the height
 */
export function cageFromHalf(profile: ResolvedProfile, name: string, sides: number, rings: number): Result<Cage, string> {
  const outline = findOutline(profile, name);
  if (!outline.ok) return fail(outline.error.message);
  const points = outlinePolyline(outline.value, 0.05).map((p) => p.point);
  if (!outline.value.onAxis) {
    // A ring about the axis: rows that close on themselves.
    const made = turnedCage(counterClockwise(evenly(points.slice(0, -1), rings, true)), sides);
    if (!made.ok) return made;
    const wrapped = ringFaces(sides, rings + 1).map((f) => f.map((v) => v % (sides * rings)));
    return ok({ ...made.value, faces: wrapped });
  }
  const upwards = points[0]!.y <= points.at(-1)!.y ? points : points.toReversed();
  const row = evenly(upwards, rings + 2, false).filter((p) => p.x > ON_AXIS);
  const made = turnedCage(
    row.map((p) => [p.x, p.y] as const),
    sides,
  );
  if (!made.ok) return made;
  return closed(made.value);
}

const counterClockwise = (points: readonly Point2[]): (readonly [number, number])[] => {
  const row = points.map((p): [number, number] => [p.x, p.y]);
  return loopArea(row) > 0 ? row : row.reverse();
};

/** Every opening of a cage filled with a grid of quads. */
function closed(cage: Cage): Result<Cage, string> {
  let now = cage;
  for (let guard = 0; guard < 4; guard++) {
    const t = topologyOf(now);
    const row = t.ok ? borderLoops(t.value)[0] : undefined;
    if (!row) return t.ok ? ok(now) : fail(t.error.what);
    const filled = applyEdit(
      now,
      { kind: 'edges', edges: [[row[0]!, row[1]!]] },
      { do: 'fill', way: 'grid' },
      { symmetry: NO_SYMMETRY, weigh: (w) => w },
    );
    if (!filled.ok) return filled;
    now = filled.value.cage;
  }
  return ok(now);
}

/** The largest closed outline of a drawing drawn up: so many sides round it, open above and below. @param height mm */
export function cageFromOutline(profile: ResolvedProfile, scope: Scope, sides: number, height: number): Result<Cage, string> {
  const regions = material(profile, false, 'solid', 0, scope);
  if (!regions.ok) return regions;
  const largest = regions.value.reduce((best, r) => (r.area > best.area ? r : best));
  const points = largest.outer.flatMap((c) => flatten(c.curve, 0.05).slice(0, -1));
  return ok(drawnUpCage(counterClockwise(evenly(points, sides, true)), height, 3));
}
