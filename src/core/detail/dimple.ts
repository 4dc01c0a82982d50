/**
 * A dimple or a bump on a surface: a cap of a ball about a place on the surface's normal there, its rim rounded by a ball that rolls
 * between both. Worked out place by place round about, on any surface. Millimetres and radians.
 */
import { along, cross, distance, dot, minus, triple, unit, type Vec3 } from '../geometry/vectors';
import { fail, ok, type Result } from '../result';

/** A place of a surface. */
export interface On {
  readonly p: Vec3;
  /** Unit, out of the body. */
  readonly n: Vec3;
  readonly du: Vec3;
  readonly dv: Vec3;
}
export type Surface = (u: number, v: number) => On | undefined;
export type Uv = readonly [number, number];

export interface CapSize {
  /** Where the ball meets a flat surface, mm. */
  readonly diameter: number;
  /** Along the normal in its middle, mm. */
  readonly depth: number;
  /** Radius of the rounded rim; 0 for a sharp one, mm. */
  readonly rim: number;
  /** Out of the body. */
  readonly raised: boolean;
}

/** One dimple or bump, round about by even angles from the surface's first direction towards its second. */
export interface Cap {
  readonly centre: Vec3;
  /** Of the ball. */
  readonly middle: Vec3;
  readonly radius: number;
  /** Along the surface's normal in its middle, out of the body. */
  readonly normal: Vec3;
  /** Where it leaves the surface. */
  readonly outer: readonly { readonly uv: Uv; readonly p: Vec3 }[];
  /** Where the rim meets the ball, and the middles of the ball that rolls; alike the outer where the rim is sharp. */
  readonly inner: readonly Vec3[];
  readonly rolling: readonly Vec3[];
  /** The largest distance of its outer border from the centre, mm. */
  readonly reach: number;
}

/** As near as a border is sought, mm. */
const NEAR = 1e-10;

/** The radius of the ball whose cap is so wide and so deep: from w² = h (2R − h) with half the width w. */
export const ballRadius = (diameter: number, depth: number): number => (diameter * diameter) / (8 * depth) + depth / 2;

/** How far from its middle a cap reaches on a flat surface, its rim with it, mm. */
export function flatReach({ diameter, depth, rim }: Pick<CapSize, 'diameter' | 'depth' | 'rim'>): number {
  const R = ballRadius(diameter, depth);
  // The rolling ball's middle lies a rim below the surface, R + rim from the ball's.
  return Math.sqrt((R + rim) ** 2 - (R - depth + rim) ** 2);
}

/**
 * The cap about a place, or where there is no room for it.
 * @param round places round about
 * @param start angle that the first of them has, rad
 */
export function cap(
  surface: Surface,
  [u0, v0]: Uv,
  size: CapSize,
  round: number,
  start = 0,
): Result<Cap, { readonly why: string; readonly at: Vec3 }> {
  const here = surface(u0, v0);
  if (!here) return fail({ why: 'the surface has no direction there', at: [0, 0, 0] });
  const R = ballRadius(size.diameter, size.depth);
  const sense = size.raised ? -1 : 1;
  // For a dimple the ball lies outside, for a bump inside; the rolling ball on the other side.
  const up: Vec3 = triple((k) => sense * here.n[k]);
  const middle = along(here.p, up, R - size.depth);
  const e1 = unit(here.du)!;
  // Round about as the surface's parameters go, whichever way its normal looks.
  const flip = dot(cross(here.du, here.dv), here.n) < 0 ? -1 : 1;
  const e2 = triple((k) => flip * cross(here.n, e1)[k]);
  const [E, F, G] = [dot(here.du, here.du), dot(here.du, here.dv), dot(here.dv, here.dv)];
  const det = E * G - F * F;
  const outer: { uv: Uv; p: Vec3 }[] = [];
  const inner: Vec3[] = [];
  const rolling: Vec3[] = [];
  const guess = flatReach(size);
  let t = guess;
  for (let i = 0; i < round; i++) {
    const a = start + (2 * Math.PI * i) / round;
    const way = triple((k) => Math.cos(a) * e1[k] + Math.sin(a) * e2[k]);
    const [x, y] = [dot(way, here.du), dot(way, here.dv)];
    const [wu, wv] = [(G * x - F * y) / det, (E * y - F * x) / det];
    const read = (s: number): { on: On; q: Vec3; off: number; slope: number } | undefined => {
      const on = surface(u0 + s * wu, v0 + s * wv);
      if (!on) return undefined;
      const q = along(on.p, on.n, -sense * size.rim);
      const to = minus(q, middle);
      const l = Math.hypot(...to);
      return { on, q, off: l - R - size.rim, slope: (wu * dot(to, on.du) + wv * dot(to, on.dv)) / l };
    };
    // From the place before by Newton's steps, as if normals did not turn; held between nothing and twice as far.
    let [lo, hi] = [0, 2 * guess];
    let now = read(t);
    for (let k = 0; k < 60 && now && Math.abs(now.off) > NEAR; k++) {
      if (now.off < 0) lo = Math.max(lo, t);
      else hi = Math.min(hi, t);
      const next = t - now.off / now.slope;
      t = Number.isFinite(next) && next > lo && next < hi ? next : (lo + hi) / 2;
      if (hi - lo < 1e-13) break;
      now = read(t);
    }
    if (!now || Math.abs(now.off) > 1e-7) return fail({ why: 'the surface bends away too fast for a cap so wide', at: here.p });
    outer.push({ uv: [u0 + t * wu, v0 + t * wv], p: now.on.p });
    rolling.push(now.q);
    inner.push(size.rim > 0 ? along(middle, unit(minus(now.q, middle))!, R) : now.on.p);
  }
  return ok({
    centre: here.p,
    middle,
    radius: R,
    normal: here.n,
    outer,
    inner,
    rolling,
    reach: Math.max(...outer.map((o) => distance(o.p, here.p))),
  });
}

/** The rounded rim between its borders, a circle's arc across: a place by the place round about and a share from the outer to the inner. */
export function rimPlace(c: Pick<Cap, 'outer' | 'inner' | 'rolling'>, i: number, share: number): Vec3 {
  const q = c.rolling[i]!;
  const [a, b] = [minus(c.outer[i]!.p, q), minus(c.inner[i]!, q)];
  const r = Math.hypot(...a);
  const angle = Math.atan2(Math.hypot(...cross(a, b)), dot(a, b));
  if (angle < 1e-12) return c.outer[i]!.p;
  const [s, t] = [Math.sin((1 - share) * angle) / Math.sin(angle), Math.sin(share * angle) / Math.sin(angle)];
  const d = triple((k) => s * a[k] + t * b[k]);
  return along(q, d, r / Math.hypot(...d));
}
