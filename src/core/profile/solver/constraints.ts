/** The equations each constraint and dimension stands for. */
import { evaluateBSpline } from '../../curves/bspline';
import type { Constraint } from '../../recipe/schema';
import { type Builder, Refusal, sgn } from './builder';
import type { LineVars, PointVars } from './rows';
import * as rows from './rows';
import { endCurvature, headingAt, headingsMeet, onEllipse, sharedEnd, splineVars, tangent } from './tangency';
import { AXIS, type Dimension, isRound, LEVEL, ORIGIN, splineFrom, valueKind } from './terms';

function dimension(b: Builder, c: Dimension, targets: ReadonlyMap<string, number>, make: (param: number) => void): void {
  if (!c.driving) return;
  const target = targets.get(c.id);
  if (target === undefined) return;
  b.params.push(target);
  const param = b.params.length - 1;
  const equation = b.equations.length;
  make(param);
  b.dimensions.push({ constraint: c.id, param, target, equation, kind: valueKind(c) });
}

const horizontalFrame = (ref: string): boolean => ref === LEVEL;

export function addConstraint(b: Builder, c: Constraint, targets: ReadonlyMap<string, number>): void {
  const id = c.id;
  switch (c.kind) {
    case 'coincident': {
      const [p, q] = [b.point(c.a), b.point(c.b)];
      b.affine(id, p[0], q[0], 1);
      b.affine(id, p[1], q[1], 1);
      return;
    }
    case 'horizontal':
      b.affine(id, b.point(c.a)[1], b.point(c.b)[1], 1);
      return;
    case 'vertical':
      b.affine(id, b.point(c.a)[0], b.point(c.b)[0], 1);
      return;
    case 'fixed': {
      const p = b.point(c.point);
      b.affine(id, p[0], -1, 1, -1, 0, b.value(p[0]));
      b.affine(id, p[1], -1, 1, -1, 0, b.value(p[1]));
      return;
    }
    case 'on-curve': {
      const q = b.point(c.point);
      if (c.curve === AXIS) return b.affine(id, q[0], -1, 1);
      if (c.curve === LEVEL) return b.affine(id, q[1], -1, 1);
      const v = b.curves.get(c.curve);
      if (!v) throw new Refusal(b.missing(c.curve, 'curve'));
      if (v.curve.kind === 'line') return b.row(id, rows.pointLine(q, b.line(c.curve), 1, -1));
      if (isRound(v.curve)) {
        const r = b.round(c.curve);
        return b.row(id, rows.onCircle(q, r.centre, r.radius));
      }
      if (v.curve.kind === 'ellipse') return b.row(id, onEllipse(b, v.curve, v.minor!, q));
      if (v.curve.kind === 'text') throw new Refusal('a point can’t be held on a text');
      // A place along the spline is a variable of its own.
      const x = Float64Array.from(b.x);
      const curve = splineFrom(b.points, v, x);
      let best = 0;
      let near = Number.POSITIVE_INFINITY;
      for (let i = 0; i <= 200; i++) {
        const p = evaluateBSpline(curve, i / 200)[0]!;
        const d = Math.hypot(p[0]! - x[q[0]]!, p[1]! - x[q[1]]!);
        if (d < near) {
          near = d;
          best = i / 200;
        }
      }
      const t = b.variable(best, b.size * b.size);
      const all = [...new Set([...splineVars(b, v), ...q, t])];
      for (const k of [0, 1])
        b.row(
          id,
          rows.numeric(all, (x) => x[q[k]!]! - evaluateBSpline(splineFrom(b.points, v, x), Math.min(1, Math.max(0, x[t]!)))[0]![k]!),
        );
      return;
    }
    case 'midpoint': {
      const q = b.point(c.point);
      const v = b.curves.get(c.curve);
      if (v?.curve.kind === 'arc') {
        const m = b.point(v.curve.centre);
        const [r, a0, a1] = [v.radius!, v.a0!, v.a1!];
        b.row(
          id,
          rows.numeric([q[0], m[0], r, a0, a1], (x) => x[q[0]]! - x[m[0]]! - x[r]! * Math.cos((x[a0]! + x[a1]!) / 2)),
        );
        b.row(
          id,
          rows.numeric([q[1], m[1], r, a0, a1], (x) => x[q[1]]! - x[m[1]]! - x[r]! * Math.sin((x[a0]! + x[a1]!) / 2)),
        );
        return;
      }
      if (c.curve === AXIS || c.curve === LEVEL) throw new Refusal('the axis has no middle');
      const l = b.line(c.curve);
      b.row(id, rows.combination([q[0], l[0], l[2]], [1, -0.5, -0.5]));
      b.row(id, rows.combination([q[1], l[1], l[3]], [1, -0.5, -0.5]));
      return;
    }
    case 'parallel':
    case 'perpendicular': {
      const [l, m] = [b.line(c.a), b.line(c.b)];
      const upright = (ref: string): boolean => (ref === AXIS) === (c.kind === 'parallel');
      for (const [frameRef, other] of [
        [c.a, m],
        [c.b, l],
      ] as const)
        if (frameRef === AXIS || frameRef === LEVEL) {
          const k = upright(frameRef) ? 0 : 1;
          return b.affine(id, other[k], other[k + 2]!, 1);
        }
      const diff = rows.wrap(b.heading(m) - b.heading(l));
      const turn = c.kind === 'parallel' ? (Math.abs(diff) < Math.PI / 2 ? 0 : Math.PI) : (sgn(diff) * Math.PI) / 2;
      return b.row(id, rows.lineAngle(l, m, turn, 1, -1, b.size));
    }
    case 'collinear': {
      const [l, m] = [b.line(c.a), b.line(c.b)];
      for (const [ref, other] of [
        [c.a, m],
        [c.b, l],
      ] as const)
        if (ref === AXIS || ref === LEVEL) {
          const k = horizontalFrame(ref) ? 1 : 0;
          b.affine(id, other[k], -1, 1);
          b.affine(id, other[k + 2]!, -1, 1);
          return;
        }
      b.row(id, rows.pointLine([m[0], m[1]], l, 1, -1));
      b.row(id, rows.pointLine([m[2], m[3]], l, 1, -1));
      return;
    }
    case 'tangent':
      return tangent(b, id, c.a, c.b);
    case 'smooth': {
      const [va, vb] = [b.curves.get(c.a), b.curves.get(c.b)];
      const meet = va && vb && sharedEnd(b, va, vb);
      if (!meet) throw new Refusal('curvature is matched at an end two curves share');
      b.row(id, headingsMeet(b, headingAt(b, va, meet[0]), headingAt(b, vb, meet[1])));
      const [p, q] = [endCurvature(b, va, meet[0]), endCurvature(b, vb, meet[1])];
      if (p.vars.length + q.vars.length <= 1) throw new Refusal('one of the two must be a spline');
      // Run into both curves from the shared end, a smooth passage turns opposite ways.
      b.row(
        id,
        rows.numeric([...new Set([...p.vars, ...q.vars])], (x) => (p.f(x) + q.f(x)) * b.size * b.size * 0.1),
      );
      return;
    }
    case 'equal': {
      if (b.isLine(c.a) && b.isLine(c.b)) return b.row(id, rows.equalLength(b.line(c.a), b.line(c.b)));
      return b.affine(id, b.round(c.a).radius, b.round(c.b).radius, 1);
    }
    case 'concentric': {
      const centre = (ref: string): PointVars => {
        const v = b.curves.get(ref);
        if (v?.curve.kind === 'ellipse') return b.point(v.curve.centre);
        return v ? b.round(ref).centre : b.point(ref);
      };
      const [p, q] = [centre(c.a), centre(c.b)];
      b.affine(id, p[0], q[0], 1);
      b.affine(id, p[1], q[1], 1);
      return;
    }
    case 'symmetric': {
      const [p, q] = [b.point(c.a), b.point(c.b)];
      if (c.line === AXIS || c.line === LEVEL) {
        const across = c.line === AXIS ? 0 : 1;
        b.affine(id, p[across], q[across], -1);
        b.affine(id, p[1 - across]!, q[1 - across]!, 1);
        return;
      }
      const l = b.line(c.line);
      b.row(id, rows.middleOnLine(p, q, l));
      b.row(id, rows.squareToLine(p, q, l));
      return;
    }
    case 'distance':
      return dimension(b, c, targets, (param) => distance(b, c, param));
    case 'radius':
      return dimension(b, c, targets, (param) => b.affine(id, b.round(c.curve).radius, -1, 1, param, 1));
    case 'diameter':
      return dimension(b, c, targets, (param) => b.affine(id, b.round(c.curve).radius, -1, 1, param, 0.5));
    case 'across':
      return dimension(b, c, targets, (param) => {
        const x = b.point(c.point)[0];
        b.affine(id, x, -1, 1, param, 0.5 * sgn(b.value(x)));
      });
    case 'angle':
      return dimension(b, c, targets, (param) => {
        const l = b.line(c.a);
        const m0 = b.line(c.b);
        const m: LineVars = c.reverse ? [m0[2], m0[3], m0[0], m0[1]] : m0;
        b.row(id, rows.lineAngle(l, m, 0, sgn(rows.wrap(b.heading(m) - b.heading(l))), param, b.size));
      });
    case 'arc-length':
      return dimension(b, c, targets, (param) => {
        const v = b.curves.get(c.curve);
        if (v?.curve.kind === 'arc') b.row(id, rows.arcLength(v.radius!, v.a0!, v.a1!, v.sense!, param));
        else if (v?.curve.kind === 'line') b.row(id, rows.pointDistance(b.point(v.curve.from), b.point(v.curve.to), param));
        else throw new Refusal('a length can be set for lines and arcs');
      });
    case 'offset':
      return dimension(b, c, targets, (param) => {
        if (b.isLine(c.a) && b.isLine(c.b)) {
          const [l, m] = [b.line(c.a), b.line(c.b)];
          const sign = sgn(b.now(rows.pointLine([m[0], m[1]], l, 1, -1)));
          b.row(id, rows.pointLine([m[0], m[1]], l, sign, param));
          b.row(id, rows.pointLine([m[2], m[3]], l, sign, param));
          return;
        }
        const [p, q] = [b.round(c.a), b.round(c.b)];
        const sign = sgn(b.value(q.radius) - b.value(p.radius));
        b.row(id, rows.difference(p.radius, q.radius, sign, param));
        b.affine(id, p.centre[0], q.centre[0], 1);
        b.affine(id, p.centre[1], q.centre[1], 1);
      });
    case 'direction':
    case 'weight':
      return dimension(b, c, targets, (param) => {
        const h = b.curves.get(c.curve)?.handles?.get(c.at);
        if (!h) throw new Refusal('the spline has no handle there');
        if (c.kind === 'weight') b.affine(id, h[1], -1, 1, param, 1);
        else b.row(id, rows.angleIs(h[0], 0, 1, param, b.size));
      });
    default:
      // A kind without its equations would hold nothing, and say nothing.
      c satisfies never;
  }
}

function distance(b: Builder, c: Extract<Constraint, { kind: 'distance' }>, param: number): void {
  const isPoint = (ref: string): boolean => b.points.has(ref);
  const [pa, pb] = [isPoint(c.a), isPoint(c.b)];
  if (pa && pb) {
    const [p, q] = [b.point(c.a), b.point(c.b)];
    if (c.direction === 'aligned') return b.row(c.id, rows.pointDistance(p, q, param));
    const k = c.direction === 'horizontal' ? 0 : 1;
    const sign = sgn(b.value(q[k]) - b.value(p[k]));
    if (c.a === ORIGIN) return b.affine(c.id, q[k], -1, 1, param, sign);
    if (c.b === ORIGIN) return b.affine(c.id, p[k], -1, 1, param, -sign);
    return b.row(c.id, rows.difference(p[k], q[k], sign, param));
  }
  const [lineRef, other] = pa ? [c.b, c.a] : [c.a, c.b];
  // A frame line is taken as the base: the distance is then one coordinate.
  const base = other === AXIS || other === LEVEL ? other : lineRef;
  const rest = base === lineRef ? other : lineRef;
  const l = b.line(base);
  const q: PointVars = isPoint(rest) ? b.point(rest) : ([b.line(rest)[0], b.line(rest)[1]] as const);
  if (base === AXIS) return b.affine(c.id, q[0], -1, 1, param, sgn(b.value(q[0])));
  if (base === LEVEL) return b.affine(c.id, q[1], -1, 1, param, sgn(b.value(q[1])));
  b.row(c.id, rows.pointLine(q, l, sgn(b.now(rows.pointLine(q, l, 1, -1))), param));
}
