/** Solving a profile: a plain step where that keeps the shape, else a walk from the drawn dimensions to the wanted ones. */
import { wrap } from './rows';
import { type DragRun, type Outcome, Reduced } from './system';
import { type DrivenDimension, ORIGIN, type Sketch } from './terms';

export interface SolveOutcome {
  readonly ok: boolean;
  /** Constraints that can't hold, worst first; the shape is then the one the solver started from. */
  readonly unmet: readonly string[];
  /** It could be met only by turning a line or an arc over, which is refused. */
  readonly flipped: boolean;
}

/** Whether a step turned a line round, folded a corner to its other side, or turned an arc inside out. */
export function turnsOver(s: Sketch, from: Float64Array, to: Float64Array): boolean {
  for (const { vars: l } of s.lines) {
    const dot = (from[l[2]]! - from[l[0]]!) * (to[l[2]]! - to[l[0]]!) + (from[l[3]]! - from[l[1]]!) * (to[l[3]]! - to[l[1]]!);
    const was = Math.hypot(from[l[2]]! - from[l[0]]!, from[l[3]]! - from[l[1]]!);
    if (was > 1e-9 * s.system.size && dot < 0) return true;
  }
  const side = (x: Float64Array, a: readonly number[], b: readonly number[]): number => {
    const [ux, uy] = [x[a[2]!]! - x[a[0]!]!, x[a[3]!]! - x[a[1]!]!];
    const [vx, vy] = [x[b[2]!]! - x[b[0]!]!, x[b[3]!]! - x[b[1]!]!];
    return (ux * vy - uy * vx) / (Math.hypot(ux, uy) * Math.hypot(vx, vy) || 1e-300);
  };
  for (const [a, b] of s.corners) {
    const before = side(from, a, b);
    const after = side(to, a, b);
    if (Math.abs(before) > 0.02 && Math.abs(after) > 0.02 && before * after < 0) return true;
  }
  for (const c of s.curves.values()) {
    if (c.radius !== undefined && !(to[c.radius]! > 0)) return true;
    if (c.minor !== undefined && !(to[c.minor]! > 0)) return true;
    if (c.a0 !== undefined) {
      const sweep = c.sense! * (to[c.a1!]! - to[c.a0]!);
      if (!(sweep > 1e-9 && sweep < 2 * Math.PI + 1e-9)) return true;
      // More than half a turn at once is a jump, not a motion.
      if (Math.abs(to[c.a0]! - from[c.a0]!) > Math.PI || Math.abs(sweep - c.sense! * (from[c.a1!]! - from[c.a0]!)) > Math.PI) return true;
    }
    for (const [, w] of c.handles?.values() ?? []) if (!(to[w]! > 0)) return true;
  }
  return false;
}

const G = new Float64Array(512);

/** What a dimension reads for the values as they stand, in its own unit. */
export function reading(s: Sketch, d: DrivenDimension): number {
  const { x, params, equations } = s.system;
  const row = equations[d.equation]!.row;
  const p = params[d.param]!;
  const h = 1e-3 * Math.max(1, Math.abs(p));
  const r = row.eval(x, params, G);
  params[d.param] = p + h;
  const k = (row.eval(x, params, G) - r) / h;
  params[d.param] = p;
  return p - r / k;
}

/**
 * Solves the sketch in place (`system.x`).
 * Steps of the walk are geometric for lengths, so that a length shrunk to a third passes evenly.
 */
export function solveSketch(s: Sketch): SolveOutcome {
  const { x, params } = s.system;
  const start = x.slice();
  const reduced = new Reduced(s.system);
  const plain = reduced.solve();
  const flipped = plain.ok && turnsOver(s, start, x);
  if (plain.ok && !flipped) return { ok: true, unmet: [], flipped: false };
  const unmet = plain.unmet;
  const target = params.slice();
  const restore = (): void => {
    x.set(start);
    params.set(target);
  };
  // From what the drawing measures to what is wanted.
  x.set(start);
  const from = new Map(s.dimensions.map((d) => [d, reading(s, d)]));
  const at = (t: number): void => {
    for (const d of s.dimensions) {
      const a = from.get(d)!;
      const b = target[d.param]!;
      params[d.param] =
        d.kind === 'angle'
          ? a + wrap(b - a) * t
          : a > 1e-6 * s.system.size && b > 1e-6 * s.system.size
            ? a ** (1 - t) * b ** t
            : a + (b - a) * t;
    }
  };
  at(0);
  const still = reduced.solve();
  if (!still.ok || turnsOver(s, start, x)) {
    restore();
    return { ok: false, unmet: still.ok ? unmet : still.unmet, flipped: still.ok };
  }
  let t = 0;
  let dt = 1 / 8;
  let last: Outcome = plain;
  let turned = false;
  const good = x.slice();
  while (t < 1) {
    const next = Math.min(1, t + dt);
    if (next === 1) params.set(target);
    else at(next);
    x.set(good);
    const step = reduced.solve(30);
    const over = step.ok && turnsOver(s, good, x);
    if (step.ok && !over) {
      good.set(x);
      t = next;
      dt = Math.min(1 / 8, dt * 1.5);
    } else {
      last = step;
      turned = over;
      dt /= 2;
      if (dt < 1 / 512) {
        restore();
        return { ok: false, unmet: unmet.length > 0 ? unmet : last.unmet, flipped: turned };
      }
    }
  }
  return { ok: true, unmet: [], flipped: false };
}

/** What is dragged: some points, or the radius of an arc or circle. */
export interface Grip {
  readonly points?: readonly string[];
  readonly radius?: string;
}

/** A drag of a solved sketch: the rest moves as little as possible, measured from where the drag began. */
export class SketchDrag {
  private readonly run: DragRun;
  private readonly heavy: readonly number[];
  private readonly shown: Float64Array;
  private at: readonly [number, number, number];

  constructor(
    private readonly sketch: Sketch,
    private readonly grip: Grip,
  ) {
    const heavy: number[] = [];
    for (const p of grip.points ?? []) if (p !== ORIGIN) heavy.push(...sketch.points.get(p)!);
    const radius = grip.radius ? sketch.curves.get(grip.radius)?.radius : undefined;
    if (radius !== undefined) heavy.push(radius);
    this.heavy = heavy;
    this.run = new Reduced(sketch.system, new Set(heavy)).drag(new Set(heavy));
    this.shown = sketch.system.x.slice();
    this.at = [0, 0, radius === undefined ? 0 : sketch.system.x[radius]!];
  }

  /**
   * Moves the grip by (dx, dy) mm from where the drag began, or sets the gripped radius.
   * @returns false where the shape could not follow; the last good one stands in the sketch
   */
  move(dx: number, dy: number, radius = 0): boolean {
    const jump = Math.hypot(dx - this.at[0], dy - this.at[1], this.grip.radius ? radius - this.at[2] : 0);
    const steps = Math.min(12, Math.max(1, Math.ceil(jump / (0.12 * this.sketch.system.size))));
    const [x0, y0, r0] = this.at;
    for (let i = 1; i <= steps; i++) {
      const t = i / steps;
      if (!this.step(x0 + (dx - x0) * t, y0 + (dy - y0) * t, r0 + (radius - r0) * t)) return false;
    }
    return true;
  }

  private step(dx: number, dy: number, radius: number): boolean {
    const { start } = this.run;
    const targets: [number, number][] = [];
    for (const p of this.grip.points ?? []) {
      const v = this.sketch.points.get(p)!;
      targets.push([v[0], start[v[0]]! + dx], [v[1], start[v[1]]! + dy]);
    }
    if (this.grip.radius) targets.push([this.heavy[this.heavy.length - 1]!, radius]);
    const x = this.sketch.system.x;
    if (!this.run.move(targets) || turnsOver(this.sketch, this.shown, x)) {
      this.run.back(this.shown);
      return false;
    }
    this.shown.set(x);
    this.at = [dx, dy, radius];
    return true;
  }
}
