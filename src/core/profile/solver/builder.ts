/** Variables and equations as they are collected from a profile. */
import type { Profile } from '../../recipe/schema';
import type { LineVars, PointVars, Row } from './rows';
import * as rows from './rows';
import type { Affine, Equation } from './system';
import { AXIS, type CurveVars, type DrivenDimension, endsOf, FRAME, LEVEL, ORIGIN } from './terms';

export class Builder {
  readonly x: number[] = [];
  readonly weight: number[] = [];
  readonly params: number[] = [];
  readonly equations: Equation[] = [];
  readonly points = new Map<string, PointVars>();
  readonly curves = new Map<string, CurveVars>();
  readonly dimensions: DrivenDimension[] = [];
  readonly refused: { constraint: string; why: string }[] = [];
  readonly size: number;
  private readonly same = new Map<string, string>();
  private readonly G = new Float64Array(512);

  constructor(readonly profile: Profile) {
    const xs = profile.points.map((p) => p.x);
    const ys = profile.points.map((p) => p.y);
    const radii = profile.curves.map((c) => (c.kind === 'circle' ? c.radius : 0));
    this.size = Math.max(1, Math.max(0, ...xs) - Math.min(0, ...xs), Math.max(0, ...ys) - Math.min(0, ...ys), ...radii);
  }

  variable(value: number, weight = 1): number {
    this.x.push(value);
    this.weight.push(weight);
    return this.x.length - 1;
  }
  value(i: number): number {
    return this.x[i]!;
  }
  row(of: string, row: Row): void {
    this.equations.push({ of, row });
  }
  affine(of: string, i: number, j: number, s: 1 | -1, param = -1, k = 0, c = 0): void {
    const affine: Affine = { i, j, s, param, k, c };
    this.equations.push({ of, row: rows.linear(i, j, s, param, k, c), affine });
  }
  /** Variables that stay as they are. */
  still(...vars: readonly number[]): void {
    for (const v of vars) this.affine(FRAME, v, -1, 1, -1, 0, this.value(v));
  }
  point(ref: string): PointVars {
    const p = this.points.get(ref);
    if (!p) throw new Refusal(this.missing(ref, 'point'));
    return p;
  }
  /** Why there is nothing by this name: an edge of a body may have gone. */
  missing(ref: string, what: 'point' | 'curve'): string {
    return this.profile.projections.some((p) => ref.startsWith(`${p.id}-`))
      ? 'what it holds on to is not found on the body it follows'
      : `there is no ${what} “${ref}”`;
  }
  /** A line as its two points; a spline by control points has none. */
  line(ref: string): LineVars {
    const known = this.points.get(`#${ref}`);
    if (known) {
      const o = this.point(ORIGIN);
      return [o[0], o[1], known[0], known[1]];
    }
    const c = this.curves.get(ref)?.curve;
    if (!c) throw new Refusal(this.missing(ref, 'curve'));
    if (c.kind !== 'line') throw new Refusal('a line is wanted here');
    return [...this.point(c.from), ...this.point(c.to)];
  }
  isLine(ref: string): boolean {
    return ref === AXIS || ref === LEVEL || this.curves.get(ref)?.curve.kind === 'line';
  }
  round(ref: string): { centre: PointVars; radius: number; vars: CurveVars } {
    const v = this.curves.get(ref);
    if (!v) throw new Refusal(this.missing(ref, 'curve'));
    if (v.curve.kind !== 'arc' && v.curve.kind !== 'circle') throw new Refusal('an arc or a circle is wanted here');
    return { centre: this.point(v.curve.centre), radius: v.radius!, vars: v };
  }
  /** Evaluates a row as things stand: the sign or side a constraint keeps is the drawn one. */
  now(row: Row): number {
    return row.eval(Float64Array.from(this.x), Float64Array.from([...this.params, 0]), this.G);
  }
  /** Whether a point is kept on a curve by a constraint or as one of its ends. */
  isHeldOn(point: string, curve: string): boolean {
    const at = this.canonical(point);
    const ends = endsOf(this.curves.get(curve)!.curve);
    if (ends && [ends.from, ends.to].some((e) => this.canonical(e) === at)) return true;
    return this.profile.constraints.some((c) => c.kind === 'on-curve' && c.curve === curve && this.canonical(c.point) === at);
  }
  canonical(point: string): string {
    let p = point;
    while (this.same.get(p) !== undefined) p = this.same.get(p)!;
    return p;
  }
  merge(a: string, b: string): void {
    const [x, y] = [this.canonical(a), this.canonical(b)];
    if (x !== y) this.same.set(x, y);
  }
  heading(l: LineVars): number {
    return Math.atan2(this.value(l[3]) - this.value(l[1]), this.value(l[2]) - this.value(l[0]));
  }
}

/** A constraint that makes no sense for what it refers to; caught where it is built. */
export class Refusal extends Error {}

export const sgn = (v: number): 1 | -1 => (v < 0 ? -1 : 1);
