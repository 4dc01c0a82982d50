/** How curves run into one another: tangent anywhere, or with the same curvature at an end they share. */
import { evaluateBSpline } from '../../curves/bspline';
import type { ProfileCurve } from '../../recipe/schema';
import { type Builder, Refusal, sgn } from './builder';
import type { LineVars, PointVars, Row } from './rows';
import * as rows from './rows';
import { type CurveVars, endsOf, isRound, pointsOf, splineFrom } from './terms';

type EllipseCurve = Extract<ProfileCurve, { kind: 'ellipse' }>;

/** How far a point lies off an ellipse along the ray from its centre, mm. */
export function onEllipse(b: Builder, c: EllipseCurve, minor: number, q: PointVars): Row {
  const [m, e] = [b.point(c.centre), b.point(c.major)];
  return rows.numeric([...m, ...e, ...q, minor], (x) => {
    const [ux, uy] = [x[e[0]]! - x[m[0]]!, x[e[1]]! - x[m[1]]!];
    const a = Math.hypot(ux, uy) || 1e-300;
    const [wx, wy] = [x[q[0]]! - x[m[0]]!, x[q[1]]! - x[m[1]]!];
    const u = (wx * ux + wy * uy) / a;
    const v = (wy * ux - wx * uy) / a;
    const rho = Math.hypot(u / a, v / x[minor]!);
    return (rho - 1) * Math.sqrt(a * Math.abs(x[minor]!));
  });
}

/** The variables a spline's shape depends on; one that follows a body depends on none. */
export const splineVars = (b: Builder, v: CurveVars): number[] => [
  ...(v.curve.kind === 'still' ? [] : pointsOf(v.curve)).flatMap((p) => [...b.point(p)]),
  ...[...(v.handles?.values() ?? [])].flat(),
];

/** Signed curvature at an end, run from the end into the curve, as a function of the variables; with those variables. */
export function endCurvature(b: Builder, v: CurveVars, end: 'start' | 'end'): { vars: number[]; f: (x: Float64Array) => number } {
  const c = v.curve;
  switch (c.kind) {
    case 'line':
      return { vars: [], f: () => 0 };
    case 'arc': {
      const k = v.sense! * (end === 'start' ? 1 : -1);
      return { vars: [v.radius!], f: (x) => k / x[v.radius!]! };
    }
    case 'spline':
    case 'still':
    case 'control':
      return {
        vars: splineVars(b, v),
        f: (x) => {
          const [, d1, d2] = evaluateBSpline(splineFrom(b.points, v, x), end === 'start' ? 0 : 1, 2);
          const l = Math.hypot(d1![0]!, d1![1]!) || 1e-300;
          return ((end === 'start' ? 1 : -1) * (d1![0]! * d2![1]! - d1![1]! * d2![0]!)) / l ** 3;
        },
      };
    default:
      throw new Refusal('curvature can be matched between lines, arcs and splines');
  }
}

type Heading =
  | { readonly kind: 'line'; readonly l: LineVars }
  | { readonly kind: 'angle'; readonly v: number; readonly turn: number }
  | { readonly kind: 'other'; readonly vars: readonly number[]; readonly f: (x: Float64Array) => number };

/** The direction in which a curve leaves one of its ends, into itself. */
export function headingAt(b: Builder, v: CurveVars, end: 'start' | 'end'): Heading {
  const c = v.curve;
  const first = end === 'start';
  switch (c.kind) {
    case 'line':
      return { kind: 'line', l: first ? [...b.point(c.from), ...b.point(c.to)] : [...b.point(c.to), ...b.point(c.from)] };
    case 'arc':
      return { kind: 'angle', v: first ? v.a0! : v.a1!, turn: (v.sense! * (first ? 1 : -1) * Math.PI) / 2 };
    case 'control': {
      const [p, q] = first ? [c.points[0]!, c.points[1]!] : [c.points[c.points.length - 1]!, c.points[c.points.length - 2]!];
      return { kind: 'line', l: [...b.point(p), ...b.point(q)] };
    }
    case 'still': {
      const [, d1] = evaluateBSpline(c.spline, first ? 0 : 1, 1);
      const heading = Math.atan2((first ? 1 : -1) * d1![1]!, (first ? 1 : -1) * d1![0]!);
      return { kind: 'other', vars: [], f: () => heading };
    }
    case 'spline': {
      const h = v.handles?.get(end);
      if (!h) throw new Refusal(`the spline needs a handle at its ${end} to be led by`);
      return { kind: 'angle', v: h[0], turn: 0 };
    }
    case 'ellipse': {
      if (!c.arc) throw new Refusal('a whole ellipse has no end');
      const [m, e, q] = [b.point(c.centre), b.point(c.major), b.point(first ? c.arc.from : c.arc.to)];
      const s = (c.arc.ccw ? 1 : -1) * (first ? 1 : -1);
      const minor = v.minor!;
      return {
        kind: 'other',
        vars: [...m, ...e, ...q, minor],
        f: (x) => {
          const [ux, uy] = [x[e[0]]! - x[m[0]]!, x[e[1]]! - x[m[1]]!];
          const a = Math.hypot(ux, uy) || 1e-300;
          const [wx, wy] = [x[q[0]]! - x[m[0]]!, x[q[1]]! - x[m[1]]!];
          const cos = (wx * ux + wy * uy) / a / a;
          const sin = (wy * ux - wx * uy) / a / x[minor]!;
          // d/dw of (a cos w, b sin w), turned by the major direction.
          const [du, dv] = [-a * sin * s, x[minor]! * cos * s];
          return Math.atan2((du * uy + dv * ux) / a, (du * ux - dv * uy) / a);
        },
      };
    }
    default:
      throw new Refusal('a text or a circle has no end');
  }
}

function headingNow(b: Builder, h: Heading): number {
  if (h.kind === 'line') return b.heading(h.l);
  if (h.kind === 'angle') return b.value(h.v) + h.turn;
  return h.f(Float64Array.from(b.x));
}

/** Two curves that leave a shared end in opposite directions (or the same one, where drawn so). */
export function headingsMeet(b: Builder, p: Heading, q: Heading): Row {
  const diff = rows.wrap(headingNow(b, p) - headingNow(b, q));
  const turn = Math.abs(diff) < Math.PI / 2 ? 0 : Math.PI;
  const scale = b.size;
  if (p.kind === 'angle' && q.kind === 'angle') return rows.angleDifference(p.v, q.v, q.turn - p.turn + turn, scale);
  if (p.kind === 'line' && q.kind === 'angle') return rows.lineDirection(p.l, q.v, q.turn + turn, scale);
  if (p.kind === 'angle' && q.kind === 'line') return rows.lineDirection(q.l, p.v, p.turn - turn, scale);
  if (p.kind === 'line' && q.kind === 'line') return rows.lineAngle(q.l, p.l, turn, 1, -1, scale);
  const f = (h: Heading) => (x: Float64Array) =>
    h.kind === 'line' ? Math.atan2(x[h.l[3]]! - x[h.l[1]]!, x[h.l[2]]! - x[h.l[0]]!) : h.kind === 'angle' ? x[h.v]! + h.turn : h.f(x);
  const [fp, fq] = [f(p), f(q)];
  const vars = (h: Heading): readonly number[] => (h.kind === 'line' ? h.l : h.kind === 'angle' ? [h.v] : h.vars);
  return rows.numeric([...new Set([...vars(p), ...vars(q)])], (x) => rows.wrap(fp(x) - fq(x) - turn) * scale);
}

/** The end at which two curves meet, if they do. */
export function sharedEnd(b: Builder, p: CurveVars, q: CurveVars): ['start' | 'end', 'start' | 'end'] | undefined {
  const [ep, eq] = [endsOf(p.curve), endsOf(q.curve)];
  if (!ep || !eq) return undefined;
  for (const [x, i] of [
    [ep.from, 'start'],
    [ep.to, 'end'],
  ] as const)
    for (const [y, j] of [
      [eq.from, 'start'],
      [eq.to, 'end'],
    ] as const)
      if (b.canonical(x) === b.canonical(y)) return [i, j];
  return undefined;
}

export function tangent(b: Builder, id: string, ra: string, rb: string): void {
  // Lines of the frame first, so that a curve is the second.
  if (b.isLine(rb) && !b.isLine(ra)) [ra, rb] = [rb, ra];
  const [va, vb] = [b.curves.get(ra), b.curves.get(rb)];
  for (const ref of [ra, rb]) if (!b.isLine(ref) && !b.curves.has(ref)) throw new Refusal(b.missing(ref, 'curve'));
  const meet = va && vb && sharedEnd(b, va, vb);
  if (meet) {
    b.row(id, headingsMeet(b, headingAt(b, va, meet[0]), headingAt(b, vb, meet[1])));
    return;
  }
  if (b.isLine(ra)) {
    const l = b.line(ra);
    if (vb && isRound(vb.curve)) {
      const { centre, radius } = b.round(rb);
      // Where one end of the line is held on the circle it touches there: the distance form would meet it in a double root.
      const l0 = va?.curve.kind === 'line' ? va.curve : undefined;
      const held = [l0?.from, l0?.to].find((end) => end !== undefined && b.isHeldOn(end, rb));
      if (held !== undefined) return b.row(id, rows.squareToLine(centre, b.point(held), l));
      const side = sgn(b.now(rows.pointLine(centre, l, 1, -1)));
      b.row(id, rows.pointLine(centre, l, 1, -1, radius, side));
      return;
    }
    if (vb?.curve.kind === 'ellipse') {
      const [m, e, minor] = [b.point(vb.curve.centre), b.point(vb.curve.major), vb.minor!];
      b.row(
        id,
        rows.numeric([...l, ...m, ...e, minor], (x) => {
          const [ux, uy] = [x[l[2]]! - x[l[0]]!, x[l[3]]! - x[l[1]]!];
          const len = Math.hypot(ux, uy) || 1e-300;
          const [nx, ny] = [-uy / len, ux / len];
          const d = (x[m[0]]! - x[l[0]]!) * nx + (x[m[1]]! - x[l[1]]!) * ny;
          const [mx, my] = [x[e[0]]! - x[m[0]]!, x[e[1]]! - x[m[1]]!];
          const a = Math.hypot(mx, my) || 1e-300;
          // The support function of an ellipse: its reach along the line's normal.
          return Math.abs(d) - Math.hypot(mx * nx + my * ny, (x[minor]! * (mx * ny - my * nx)) / a);
        }),
      );
      return;
    }
    throw new Refusal('a line touches an arc, a circle or an ellipse anywhere, a spline at a shared end');
  }
  if (va && vb && isRound(va.curve) && isRound(vb.curve)) {
    const [p, q] = [b.round(ra), b.round(rb)];
    const d = Math.hypot(b.value(q.centre[0]) - b.value(p.centre[0]), b.value(q.centre[1]) - b.value(p.centre[1]));
    const [r1, r2] = [b.value(p.radius), b.value(q.radius)];
    const outside = Math.abs(d - (r1 + r2)) <= Math.abs(d - Math.abs(r1 - r2));
    const [alpha, beta] = outside ? [1, 1] : r1 >= r2 ? [1, -1] : [-1, 1];
    b.row(id, rows.circlesTouch(p.centre, p.radius, q.centre, q.radius, alpha, beta));
    return;
  }
  throw new Refusal('these two can touch only at an end they share');
}
