/** A part on the lathe: its half outline, how tightly that bends inwards, and corners that a rounded tool leaves full. Millimetres. */
import { DxfWriter, Units } from '@tarikjabiri/dxf';
import { curvatureAt, type PlanarCurve, type Point2, pointAt, tangentAt } from '../curves/planar';
import { addCurve } from '../exchange/dxf';
import { type Facets, facetCount } from '../inspect/facets';
import { extentOf, type Meridian, skinOf } from '../turned/meridian';

/** A place of the half outline: its distance from the axis and its height along it. */
export interface OutlinePlace {
  readonly radius: number;
  readonly height: number;
}

export interface Turning {
  readonly length: number;
  readonly diameter: number;
  /** The tightest bend inwards, with its place: a tool with a larger nose does not follow it. */
  readonly tightest: { readonly bend: number; readonly at: OutlinePlace } | null;
  /** Corners inwards without a round. */
  readonly corners: readonly OutlinePlace[];
}

/** Two curves that turn by more than this where they meet have a corner, rad. */
const CORNER = (1 * Math.PI) / 180;
/** Places along a curve that are looked at for its tightest bend, and steps in which that is led nearer. */
const [LOOKS, STEPS] = [160, 40] as const;

const placeOf = (p: Point2): OutlinePlace => ({ radius: p.x, height: p.y });

/** The largest curvature to the right, 1/mm, and where: the material lies to the left. */
function inwards(c: PlanarCurve): { readonly k: number; readonly t: number } {
  const k = (t: number): number => -curvatureAt(c, t);
  let best = 0;
  for (let i = 1; i <= LOOKS; i++) if (k(i / LOOKS) > k(best / LOOKS)) best = i;
  let [lo, hi] = [Math.max(0, best - 1) / LOOKS, Math.min(LOOKS, best + 1) / LOOKS];
  for (let i = 0; i < STEPS; i++) {
    const [a, b] = [lo + (hi - lo) / 3, hi - (hi - lo) / 3];
    if (k(a) < k(b)) lo = a;
    else hi = b;
  }
  const t = (lo + hi) / 2;
  return k(t) >= k(best / LOOKS) ? { k: k(t), t } : { k: k(best / LOOKS), t: best / LOOKS };
}

export function turningOf(m: Meridian): Turning {
  const curves = skinOf(m).map((c) => c.curve);
  const { radius, low, high } = extentOf(curves);
  let tightest: Turning['tightest'] = null;
  for (const c of curves) {
    const { k, t } = inwards(c);
    if (k > 1e-6 && (!tightest || 1 / k < tightest.bend)) tightest = { bend: 1 / k, at: placeOf(pointAt(c, t)) };
  }
  const corners = m.loops.flatMap((loop) =>
    loop.flatMap(({ curve, face }, i): OutlinePlace[] => {
      const next = loop[(i + 1) % loop.length]!;
      // The axis is no skin.
      if (face === '' || next.face === '') return [];
      const [a, b] = [tangentAt(curve, 1), tangentAt(next.curve, 0)];
      const turn = Math.atan2(a.x * b.y - a.y * b.x, a.x * b.x + a.y * b.y);
      return turn < -CORNER ? [placeOf(curve.b)] : [];
    }),
  );
  return { length: high - low, diameter: 2 * radius, tightest, corners };
}

/** The half outline for a lathe, true size: upright, the radius to the right of the axis, which is on a layer of its own. */
export function outlineDxf(m: Meridian): string {
  const dxf = new DxfWriter();
  dxf.setUnits(Units.Millimeters);
  dxf.addLayer('OUTLINE', 7, 'CONTINUOUS');
  dxf.addLayer('AXIS', 1, 'CONTINUOUS');
  const curves = skinOf(m).map((c) => c.curve);
  for (const c of curves) addCurve(dxf, c, 'OUTLINE');
  const { low, high } = extentOf(curves);
  const beyond = 0.05 * (high - low);
  addCurve(dxf, { kind: 'line', a: { x: 0, y: low - beyond }, b: { x: 0, y: high + beyond } }, 'AXIS');
  return dxf.stringify();
}

/** A facet looks so far past the axis before it counts as not turned, as the sine of the angle. */
const PAST = 0.05;

/** Share of a skin that is not turned about the upright through a place. */
export function unturned(facets: Facets, [x, y]: readonly [number, number]): number {
  const { exact: n, centres: c, areas } = facets;
  let [off, all] = [0, 0];
  for (let t = 0; t < facetCount(facets); t++) {
    const [dx, dy] = [c[3 * t]! - x, c[3 * t + 1]! - y];
    const r = Math.hypot(dx, dy);
    all += areas[t]!;
    if (r > 1e-6 && Math.abs((n[3 * t]! * dy - n[3 * t + 1]! * dx) / r) > PAST) off += areas[t]!;
  }
  return off / all;
}
