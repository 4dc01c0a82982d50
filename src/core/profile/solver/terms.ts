/** What the solver calls things: curves with their variables, a sketch, and what profiles, curves and constraints refer to. */
import { type BSpline, controlSpline, interpolateCubic } from '../../curves/bspline';
import type { Constraint, Profile, ProfileCurve } from '../../recipe/schema';
import type { LineVars, PointVars } from './rows';
import type { System } from './system';

/** Where the variables of a curve stand; absent ones the curve does not have. */
export interface CurveVars {
  readonly curve: ProfileCurve;
  readonly radius?: number;
  readonly a0?: number;
  readonly a1?: number;
  /** +1 where an arc runs counter-clockwise. */
  readonly sense?: 1 | -1;
  readonly minor?: number;
  /** Angle and weight of each handle, by `start`, `end` or point. */
  readonly handles?: ReadonlyMap<string, readonly [number, number]>;
}

export interface DrivenDimension {
  readonly constraint: string;
  readonly param: number;
  readonly target: number;
  readonly equation: number;
  readonly kind: 'length' | 'angle' | 'number';
}

export interface Sketch {
  readonly profile: Profile;
  readonly system: System;
  readonly points: ReadonlyMap<string, PointVars>;
  readonly curves: ReadonlyMap<string, CurveVars>;
  readonly dimensions: readonly DrivenDimension[];
  /** Lines that may move, for the check against turning over. */
  readonly lines: readonly { readonly id: string; readonly vars: LineVars }[];
  /** Pairs of lines that share a point, each pointing away from it. */
  readonly corners: readonly (readonly [LineVars, LineVars])[];
  /** Constraints that could not be made into equations, and why. */
  readonly refused: readonly { readonly constraint: string; readonly why: string }[];
}

export const ORIGIN = 'origin';

export const AXIS = 'axis';

export const LEVEL = 'level';

export const FRAME = '#frame';

export type Dimension = Extract<Constraint, { value: string }>;

export const isDimension = (c: Constraint): c is Dimension => 'driving' in c;

/** Which kind of value a dimension takes. */
export const valueKind = (c: Dimension): 'length' | 'angle' | 'number' =>
  c.kind === 'angle' || c.kind === 'direction' ? 'angle' : c.kind === 'weight' ? 'number' : 'length';

/** The points a curve stands on. */
export function pointsOf(c: ProfileCurve): readonly string[] {
  switch (c.kind) {
    case 'line':
      return [c.from, c.to];
    case 'arc':
      return [c.from, c.to, c.centre];
    case 'circle':
      return [c.centre];
    case 'ellipse':
      return c.arc ? [c.centre, c.major, c.arc.from, c.arc.to] : [c.centre, c.major];
    case 'spline':
      return [c.from, ...c.through, c.to];
    case 'control':
      return c.points;
    case 'text':
      return [c.point];
    case 'still':
      return [c.from, c.to];
  }
}

/** The two ends of an open curve; undefined for a closed one. */
export function endsOf(c: ProfileCurve): { from: string; to: string } | undefined {
  switch (c.kind) {
    case 'line':
    case 'arc':
    case 'spline':
    case 'still':
      return { from: c.from, to: c.to };
    case 'ellipse':
      return c.arc && { from: c.arc.from, to: c.arc.to };
    case 'control':
      return { from: c.points[0]!, to: c.points[c.points.length - 1]! };
    default:
      return undefined;
  }
}

export const isRound = (c: ProfileCurve | undefined): boolean => c?.kind === 'arc' || c?.kind === 'circle';

/** Every constraint's references to points, curves, `axis`, `level` and `origin`. */
export function refsOf(c: Constraint): readonly string[] {
  const out: string[] = [];
  for (const key of ['a', 'b', 'line', 'point', 'curve'] as const) {
    const v = (c as Record<string, unknown>)[key];
    if (typeof v === 'string') out.push(v);
  }
  if ('at' in c && c.at !== 'start' && c.at !== 'end') out.push(c.at);
  return out;
}

/** A spline's curve from the variables as they stand. */
export function splineFrom(points: ReadonlyMap<string, PointVars>, vars: CurveVars, x: Float64Array): BSpline {
  const c = vars.curve;
  if (c.kind === 'still') return c.spline;
  if (c.kind === 'control')
    return controlSpline(
      c.points.map((p) => [x[points.get(p)![0]]!, x[points.get(p)![1]]!]),
      c.degree,
    );
  if (c.kind !== 'spline') throw new TypeError('not a spline');
  const ids = [c.from, ...c.through, c.to];
  const via = ids.map((p) => [x[points.get(p)![0]]!, x[points.get(p)![1]]!]);
  let chord = 0;
  for (let i = 1; i < via.length; i++) chord += Math.hypot(via[i]![0]! - via[i - 1]![0]!, via[i]![1]! - via[i - 1]![1]!);
  const derivative = (key: string, sign: number): [number, number] | undefined => {
    const h = vars.handles?.get(key);
    if (!h) return undefined;
    const l = sign * chord * x[h[1]]!;
    return [Math.cos(x[h[0]]!) * l, Math.sin(x[h[0]]!) * l];
  };
  const inner = new Map<number, [number, number]>();
  c.through.forEach((p, i) => {
    const d = derivative(p, 1);
    if (d) inner.set(i + 1, d);
  });
  return interpolateCubic(via, derivative('start', 1), derivative('end', -1), inner);
}
