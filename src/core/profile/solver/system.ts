/**
 * The numerical solver of a profile: variables, equations, elimination of the plainly linear ones, connected components, and
 * weighted minimum-norm Gauss–Newton steps on each, so that what need not move does not.
 *
 * Method: affine union-find for x_i = ±x_j + c; then per component dx = W⁻¹Jᵀλ with (J W⁻¹ Jᵀ)λ = −r by sparse LDLᵀ. A drag
 * looks for the shape nearest to that at the drag's start, so that dragging back returns it.
 */
import { analyse, factor, type Numeric, numericFor, type Symbolic, solve } from './ldl';
import type { Row } from './rows';

/** x_i = s·x_j + k·p + c with s = ±1; a constant where j < 0; without the parameter where it is < 0. */
export interface Affine {
  readonly i: number;
  readonly j: number;
  readonly s: 1 | -1;
  readonly param: number;
  readonly k: number;
  readonly c: number;
}

export interface Equation {
  /** The constraint (or curve) it belongs to. */
  readonly of: string;
  readonly row: Row;
  readonly affine?: Affine;
}

/** Values, weights (mm² per unit²) and parameters live in plain arrays that the equations index. */
export interface System {
  readonly x: Float64Array;
  readonly weight: Float64Array;
  readonly params: Float64Array;
  readonly equations: readonly Equation[];
  /** Typical length in mm, by which residuals are judged. */
  readonly size: number;
}

/** Residuals below this, in parts of the size, count as met. */
const TOLERANCE = 1e-11;
const REGULAR = 1e-10;
const TINY = 1e-13;

interface ReducedRow {
  readonly equation: number;
  readonly start: number;
  readonly slots: Int32Array;
  /** For each variable of the row: its place among `slots` (−1: constant) and its factor. */
  readonly place: Int32Array;
  readonly factor: Float64Array;
}

interface Component {
  readonly vars: readonly number[];
  readonly rows: readonly ReducedRow[];
  /** Full variables of the component, and the place of each one's root among `vars`. */
  readonly members: Int32Array;
  readonly memberSlot: Int32Array;
  readonly rowSum: Float64Array;
  readonly inverse: Float64Array;
  readonly jacobian: Float64Array;
  readonly slotOf: Int32Array;
  readonly contribution: { readonly a: Int32Array; readonly b: Int32Array; readonly v: Int32Array; readonly place: Int32Array };
  readonly diagonalOf: Int32Array;
  readonly symbolic: Symbolic;
  readonly numeric: Numeric;
}

export interface Outcome {
  readonly ok: boolean;
  /** Largest residual left, mm. */
  readonly worst: number;
  /** Constraints whose equations are not met, worst first. */
  readonly unmet: readonly string[];
}

const G = new Float64Array(512);

/** A system with its linear equations eliminated; built once per structure, used for many values. */
export class Reduced {
  private readonly root: Int32Array;
  private readonly sign: Float64Array;
  private readonly offset: Float64Array;
  /** The forest of accepted affine equations, parents first: var, its parent, sign, and the equation. */
  private readonly tree: readonly { v: number; up: number; s: number; a: Affine; forward: boolean }[];
  private readonly components: readonly Component[];
  /** Equations left without any free variable: they hold or they contradict. */
  private readonly constant: readonly number[];
  private readonly weight: Float64Array;

  constructor(
    private readonly system: System,
    /** Variables that follow the pointer get a large weight. */
    heavy: ReadonlySet<number> = new Set(),
    /** Equations left out, by the constraint they belong to. */
    without: ReadonlySet<string> = new Set(),
  ) {
    const n = system.x.length;
    this.weight = Float64Array.from(system.weight, (w, i) => (heavy.has(i) ? w * 1e7 : w));
    // Node n stands for the constant.
    const up = Int32Array.from({ length: n + 1 }, (_, i) => i);
    const find = (i: number): number => {
      let r = i;
      while (up[r] !== r) r = up[r]!;
      while (up[i] !== r) {
        const next = up[i]!;
        up[i] = r;
        i = next;
      }
      return r;
    };
    const edges: { to: number; a: Affine; forward: boolean }[][] = Array.from({ length: n + 1 }, () => []);
    const rest: number[] = [];
    system.equations.forEach((e, index) => {
      if (without.has(e.of)) return;
      if (!e.affine) {
        rest.push(index);
        return;
      }
      const j = e.affine.j < 0 ? n : e.affine.j;
      const [ra, rb] = [find(e.affine.i), find(j)];
      if (ra === rb) {
        rest.push(index);
        return;
      }
      up[ra] = rb;
      edges[e.affine.i]!.push({ to: j, a: e.affine, forward: false });
      edges[j]!.push({ to: e.affine.i, a: e.affine, forward: true });
    });
    this.root = new Int32Array(n + 1).fill(-1);
    this.sign = new Float64Array(n + 1).fill(1);
    this.offset = new Float64Array(n + 1);
    const tree: { v: number; up: number; s: number; a: Affine; forward: boolean }[] = [];
    const visit = (start: number): void => {
      this.root[start] = start;
      const queue = [start];
      for (const v of queue)
        for (const e of edges[v]!) {
          if (this.root[e.to]! >= 0) continue;
          this.root[e.to] = start;
          this.sign[e.to] = this.sign[v]! * e.a.s;
          tree.push({ v: e.to, up: v, s: e.a.s, a: e.a, forward: e.forward });
          queue.push(e.to);
        }
    };
    visit(n);
    for (let v = 0; v < n; v++) if (this.root[v]! < 0) visit(v);
    this.tree = tree;
    const members: number[][] = Array.from({ length: n + 1 }, () => []);
    for (let v = 0; v < n; v++) members[this.root[v]!]!.push(v);

    // Components: roots joined by rows.
    const group = Int32Array.from({ length: n + 1 }, (_, i) => i);
    const lead = (i: number): number => {
      while (group[i] !== i) i = group[i] = group[group[i]!]!;
      return i;
    };
    const free: { index: number; roots: number[] }[] = [];
    const constant: number[] = [];
    for (const index of rest) {
      const roots = [...new Set(system.equations[index]!.row.vars.map((v) => this.root[v]!).filter((r) => r !== n))];
      if (roots.length === 0) constant.push(index);
      else {
        free.push({ index, roots });
        for (const r of roots) group[lead(r)] = lead(roots[0]!);
      }
    }
    this.constant = constant;
    const byGroup = new Map<number, { index: number; roots: number[] }[]>();
    for (const f of free) {
      const g = lead(f.roots[0]!);
      const list = byGroup.get(g);
      if (list) list.push(f);
      else byGroup.set(g, [f]);
    }
    this.components = [...byGroup.values()].map((rows) => this.component(rows, members));
  }

  private component(list: readonly { index: number; roots: readonly number[] }[], members: readonly (readonly number[])[]): Component {
    const { equations } = this.system;
    const vars = [...new Set(list.flatMap((r) => r.roots))];
    const at = new Map(vars.map((v, i) => [v, i]));
    let start = 0;
    const rows: ReducedRow[] = list.map(({ index, roots }) => {
      const own = equations[index]!.row.vars;
      const slots = Int32Array.from(roots, (r) => at.get(r)!);
      const row = {
        equation: index,
        start,
        slots,
        place: Int32Array.from(own, (v) => roots.indexOf(this.root[v]!)),
        factor: Float64Array.from(own, (v) => this.sign[v]!),
      };
      start += slots.length;
      return row;
    });
    const inverse = new Float64Array(vars.length);
    vars.forEach((v, i) => {
      let w = 0;
      for (const m of members[v]!) w += this.weight[m]!;
      inverse[i] = 1 / w;
    });
    const slotOf = new Int32Array(start);
    const diagonalOf = new Int32Array(start);
    const touching: { row: number; at: number }[][] = vars.map(() => []);
    rows.forEach((r, k) => {
      r.slots.forEach((slot, i) => {
        slotOf[r.start + i] = slot;
        diagonalOf[r.start + i] = k;
        touching[slot]!.push({ row: k, at: r.start + i });
      });
    });
    const pairIndex = new Map<number, number>();
    const pairs: [number, number][] = [];
    const a: number[] = [];
    const b: number[] = [];
    const v: number[] = [];
    const pairOf: number[] = [];
    touching.forEach((list_, slot) => {
      for (let i = 0; i < list_.length; i++)
        for (let j = i + 1; j < list_.length; j++) {
          const [p, q] = [list_[i]!, list_[j]!];
          const key = Math.min(p.row, q.row) * rows.length + Math.max(p.row, q.row);
          let pair = pairIndex.get(key);
          if (pair === undefined) {
            pair = pairs.length;
            pairIndex.set(key, pair);
            pairs.push([p.row, q.row]);
          }
          a.push(p.at);
          b.push(q.at);
          v.push(slot);
          pairOf.push(pair);
        }
    });
    const { symbolic, places } = analyse(rows.length, pairs);
    return {
      vars,
      rows,
      members: Int32Array.from(vars.flatMap((r) => members[r]!)),
      memberSlot: Int32Array.from(vars.flatMap((r, i) => members[r]!.map(() => i))),
      rowSum: new Float64Array(rows.length),
      inverse,
      jacobian: new Float64Array(start),
      slotOf,
      diagonalOf,
      contribution: {
        a: Int32Array.from(a),
        b: Int32Array.from(b),
        v: Int32Array.from(v),
        place: Int32Array.from(pairOf, (p) => places[p]!),
      },
      symbolic,
      numeric: numericFor(symbolic),
    };
  }

  /** Works out the constants of the eliminated variables for the parameters as they now stand. */
  private refresh(): void {
    const { params } = this.system;
    for (const t of this.tree) {
      const c = (t.a.param < 0 ? 0 : t.a.k * params[t.a.param]!) + t.a.c;
      // forward: v = s·up + c;  backward: up = s·v + c, so v = s·(up − c).
      this.offset[t.v] = t.forward ? t.s * this.offset[t.up]! + c : t.s * (this.offset[t.up]! - c);
    }
  }

  /** The reduced values nearest to the full ones, by weight. */
  private gather(component: Component, x: Float64Array, out: Float64Array): void {
    const { members, memberSlot, inverse } = component;
    out.fill(0);
    for (let k = 0; k < members.length; k++) {
      const m = members[k]!;
      const i = memberSlot[k]!;
      out[i] = out[i]! + this.weight[m]! * this.sign[m]! * (x[m]! - this.offset[m]!) * inverse[i]!;
    }
  }

  private scatter(component: Component, u: Float64Array): void {
    const { x } = this.system;
    const { members, memberSlot } = component;
    for (let k = 0; k < members.length; k++) {
      const m = members[k]!;
      x[m] = this.sign[m]! * u[memberSlot[k]!]! + this.offset[m]!;
    }
  }

  private residuals(component: Component, r: Float64Array, jacobian: boolean): number {
    const { x, params, equations } = this.system;
    const J = component.jacobian;
    let worst = 0;
    for (let k = 0; k < component.rows.length; k++) {
      const row = component.rows[k]!;
      const value = equations[row.equation]!.row.eval(x, params, G);
      r[k] = value;
      const size = Math.abs(value);
      if (!(size <= worst)) worst = size;
      if (!jacobian) continue;
      for (let i = 0; i < row.slots.length; i++) J[row.start + i] = 0;
      for (let i = 0; i < row.place.length; i++) {
        const p = row.place[i]!;
        if (p >= 0) J[row.start + p] = J[row.start + p]! + row.factor[i]! * G[i]!;
      }
    }
    return worst;
  }

  private factorise(component: Component): void {
    const { jacobian: J, inverse, contribution, diagonalOf, slotOf, symbolic, numeric, rowSum } = component;
    numeric.upper.fill(0);
    numeric.diagonal.fill(0);
    const { a, b, v, place } = contribution;
    for (let e = 0; e < a.length; e++) numeric.upper[place[e]!] = numeric.upper[place[e]!]! + J[a[e]!]! * J[b[e]!]! * inverse[v[e]!]!;
    rowSum.fill(0);
    for (let e = 0; e < J.length; e++) rowSum[diagonalOf[e]!] = rowSum[diagonalOf[e]!]! + J[e]! * J[e]! * inverse[slotOf[e]!]!;
    for (let k = 0; k < symbolic.n; k++) {
      const row = symbolic.order[k]!;
      numeric.diagonal[k] = rowSum[row]! * (1 + REGULAR) + 1e-300;
    }
    factor(symbolic, numeric, TINY);
  }

  /** dx = W⁻¹Jᵀλ into `out`, for a right side that is overwritten. */
  private step(component: Component, rhs: Float64Array, out: Float64Array): void {
    solve(component.symbolic, component.numeric, rhs);
    out.fill(0);
    const { jacobian: J, slotOf, diagonalOf, inverse } = component;
    for (let e = 0; e < J.length; e++) out[slotOf[e]!] = out[slotOf[e]!]! + J[e]! * rhs[diagonalOf[e]!]!;
    for (let i = 0; i < out.length; i++) out[i] = out[i]! * inverse[i]!;
  }

  /**
   * Brings one component onto its equations, nearest to `anchor` where one is given, else by least steps from where it is.
   * @returns the largest residual left
   */
  private settle(component: Component, u: Float64Array, anchor: Float64Array | null, rounds: number): number {
    const n = component.rows.length;
    const tolerance = TOLERANCE * this.system.size;
    const r = new Float64Array(n);
    const rhs = new Float64Array(n);
    const du = new Float64Array(u.length);
    const trial = new Float64Array(u.length);
    this.scatter(component, u);
    let worst = this.residuals(component, r, true);
    let anchored = anchor ? ANCHORED_ROUNDS : 0;
    let stalled = 0;
    let fresh = true;
    for (let round = 0; round < rounds; round++) {
      if (!Number.isFinite(worst)) return worst;
      if (worst <= tolerance && anchored === 0) break;
      // Bringing a drag back onto its equations goes on with the old factors as long as they serve.
      if (fresh) this.factorise(component);
      if (anchored > 0 && anchor) {
        for (let k = 0; k < n; k++) {
          const row = component.rows[k]!;
          let jd = 0;
          for (let i = 0; i < row.slots.length; i++) {
            const s = row.slots[i]!;
            jd += component.jacobian[row.start + i]! * (anchor[s]! - u[s]!);
          }
          rhs[k] = -r[k]! - jd;
        }
        this.step(component, rhs, du);
        let moved = 0;
        for (let i = 0; i < u.length; i++) {
          du[i] = du[i]! + anchor[i]! - u[i]!;
          moved = Math.max(moved, Math.abs(du[i]!));
        }
        anchored--;
        if (moved <= tolerance) anchored = 0;
      } else {
        for (let k = 0; k < n; k++) rhs[k] = -r[k]!;
        this.step(component, rhs, du);
      }
      const before = Math.max(worst, anchored > 0 || anchor ? this.system.size * 0.05 : 0);
      let alpha = 1;
      let after = Number.POSITIVE_INFINITY;
      for (let tries = 0; tries < 8; tries++) {
        for (let i = 0; i < u.length; i++) trial[i] = u[i]! + alpha * du[i]!;
        this.scatter(component, trial);
        after = this.residuals(component, r, true);
        if (after <= Math.max(before * (1 - alpha / 8), tolerance)) break;
        alpha /= 2;
      }
      if (!(after <= Math.max(before, tolerance))) {
        // No step helps: the old values stand.
        this.scatter(component, u);
        return this.residuals(component, r, true);
      }
      stalled = anchored === 0 && after > worst * 0.9 ? stalled + 1 : 0;
      u.set(trial);
      fresh = !anchor || anchored > 0 || after > worst * 0.05;
      worst = after;
      if (stalled > 6) break;
    }
    return worst;
  }

  /**
   * Meets every equation from the values in `system.x`, moving as little as possible.
   * `system.x` holds the outcome even where it failed; keep a copy of what must not be lost.
   */
  solve(rounds = 60): Outcome {
    this.refresh();
    const { x } = this.system;
    const start = x.slice();
    for (let v = 0; v < x.length; v++) if (this.root[v] === x.length) x[v] = this.offset[v]!;
    const loose = new Set<number>();
    for (let v = 0; v < x.length; v++) loose.add(v);
    for (const c of this.components) {
      const u = new Float64Array(c.vars.length);
      this.gather(c, start, u);
      this.settle(c, u, null, rounds);
      for (const m of c.members) loose.delete(m);
    }
    this.settleLoose(start, loose);
    return this.judge();
  }

  /** Variables tied to others but in no row: their class takes the weighted mean. */
  private settleLoose(start: Float64Array, loose: ReadonlySet<number>): void {
    const { x } = this.system;
    const n = x.length;
    const sum = new Map<number, [number, number]>();
    for (const m of loose) {
      const r = this.root[m]!;
      if (r === n) continue;
      const s = sum.get(r) ?? [0, 0];
      s[0] += this.weight[m]! * this.sign[m]! * (start[m]! - this.offset[m]!);
      s[1] += this.weight[m]!;
      sum.set(r, s);
    }
    for (const m of loose) {
      const r = this.root[m]!;
      if (r === n) continue;
      const s = sum.get(r)!;
      x[m] = this.sign[m]! * (s[0] / s[1]) + this.offset[m]!;
    }
  }

  /** Which equations hold for the values as they stand. */
  judge(): Outcome {
    const { x, params, equations, size } = this.system;
    const bad: { of: string; r: number }[] = [];
    let worst = 0;
    const look = (index: number): void => {
      const e = equations[index]!;
      const r = Math.abs(e.row.eval(x, params, G));
      if (!(r <= worst)) worst = r;
      if (!(r <= 1e-9 * size)) bad.push({ of: e.of, r });
    };
    for (const i of this.constant) look(i);
    for (const c of this.components) for (const row of c.rows) look(row.equation);
    for (const v of x) if (!Number.isFinite(v)) return { ok: false, worst: Number.NaN, unmet: [...new Set(bad.map((b) => b.of))] };
    bad.sort((a, b) => b.r - a.r);
    return { ok: bad.length === 0, worst, unmet: [...new Set(bad.map((b) => b.of))] };
  }

  /** Starts a drag of the heavy variables from the values as they stand, which must hold. */
  drag(heavy: ReadonlySet<number>): DragRun {
    this.refresh();
    const { x } = this.system;
    const n = x.length;
    const start = x.slice();
    const roots = new Set([...heavy].map((v) => this.root[v]!).filter((r) => r !== n));
    const moved = this.components.filter((c) => c.vars.some((v) => roots.has(v)));
    const inRows = new Set(moved.flatMap((c) => c.vars));
    const looseRoots = new Set([...roots].filter((r) => !inRows.has(r)));
    const loose = new Set<number>();
    for (let v = 0; v < n; v++) if (looseRoots.has(this.root[v]!)) loose.add(v);
    const anchors = moved.map((c) => new Float64Array(c.vars.length));
    const current = moved.map((c) => {
      const u = new Float64Array(c.vars.length);
      this.gather(c, start, u);
      return u;
    });
    const origin = current.map((u) => u.slice());
    const last = x.slice();
    const wanted = start.slice();
    return {
      start,
      move: (targets) => {
        wanted.set(start);
        let same = true;
        for (const [v, value] of targets) {
          if (wanted[v] !== value) same = false;
          wanted[v] = value;
        }
        let ok = true;
        moved.forEach((c, k) => {
          const u = current[k]!;
          if (same) {
            u.set(origin[k]!);
            this.scatter(c, u);
            return;
          }
          this.gather(c, wanted, anchors[k]!);
          const old = u.slice();
          const worst = this.settle(c, u, anchors[k]!, 14);
          if (!(worst <= 1e-9 * this.system.size)) {
            ok = false;
            u.set(old);
          }
        });
        if (loose.size > 0) this.settleLoose(wanted, loose);
        if (ok) last.set(x);
        else x.set(last);
        return ok;
      },
      back: (to) => {
        x.set(to);
        last.set(to);
        moved.forEach((c, k) => {
          this.gather(c, x, current[k]!);
        });
      },
    };
  }
}

/** A drag under way. `move` sets the wanted values of the dragged variables; false keeps the last shape that held. */
export interface DragRun {
  readonly start: Float64Array;
  readonly move: (targets: readonly (readonly [number, number])[]) => boolean;
  /** Takes an earlier shape for the last one. */
  readonly back: (to: Float64Array) => void;
}

const ANCHORED_ROUNDS = 2;
