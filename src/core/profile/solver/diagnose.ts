/**
 * What a solved profile still leaves free, which constraints repeat others, and which contradict each other.
 *
 * Rank of the unit rows of the Jacobian tells most of it, but misjudges singular shapes that are valid (a triangle pressed flat, a
 * semicircle on its diameter). So a row that depends on others is shifted a little: where that can be met by a small motion the row
 * says something of its own; and a direction counts as free only if a step along it survives being brought back onto the constraints.
 */
import type { Point2 } from '../../curves/planar';
import { type Equation, Reduced, type System } from './system';
import type { Sketch } from './terms';

interface FreePoint {
  readonly point: string;
  /** One unit direction it may move along, or none given where it may move anywhere. */
  readonly direction?: Point2;
}

interface Repeat {
  readonly constraint: string;
  /** The others that already say it. */
  readonly by: readonly string[];
}

export interface Diagnosis {
  /** Freedoms left. */
  readonly freedoms: number;
  readonly free: readonly FreePoint[];
  /** Curves whose radius may change. */
  readonly freeRadii: readonly string[];
  /** Spline handles that may turn or stretch, as curve and place. */
  readonly freeHandles: readonly { readonly curve: string; readonly at: string }[];
  readonly repeats: readonly Repeat[];
}

const RANK = 1e-7;
const FREE = 1e-6;
const G = new Float64Array(512);

interface Factored {
  readonly q: readonly Float64Array[];
  readonly dependent: readonly { readonly equation: number; readonly by: readonly number[] }[];
}

/** Order in which rows are taken in: those that carry the shape first, so that what repeats is the simplest statement. */
function rowOrder(equations: readonly Equation[], own: ReadonlySet<string>, dims: ReadonlySet<string>): number[] {
  const count = new Map<string, number>();
  for (const e of equations) count.set(e.of, (count.get(e.of) ?? 0) + 1);
  const rank = (e: Equation): number => (!own.has(e.of) ? 0 : dims.has(e.of) ? 3 : count.get(e.of)! > 1 ? 1 : 2);
  return equations.map((_, i) => i).sort((a, b) => rank(equations[a]!) - rank(equations[b]!) || a - b);
}

/** How a unit row was made of the orthonormal ones: row = Σ h_k q_k + left · q. */
interface Triangle {
  readonly equation: number;
  readonly h: Float64Array;
  readonly left: number;
}

/** The equations a combination of orthonormal rows is made of, by back substitution. */
function onRows(h: Float64Array, made: readonly Triangle[]): number[] {
  const c = h.slice();
  const out: number[] = [];
  for (let k = made.length - 1; k >= 0; k--) {
    c[k] = c[k]! / made[k]!.left;
    if (Math.abs(c[k]!) > 1e-6) out.push(made[k]!.equation);
    if (c[k] !== 0) for (let j = 0; j < made[k]!.h.length; j++) c[j] = c[j]! - c[k]! * made[k]!.h[j]!;
  }
  return out.reverse();
}

/** Gram–Schmidt (twice, for accuracy) over the unit rows of one component, keeping how each depends on the earlier ones. */
function orthogonalise(system: System, order: readonly number[], column: ReadonlyMap<number, number>): Factored {
  const n = column.size;
  const q: Float64Array[] = [];
  const made: Triangle[] = [];
  const dependent: { equation: number; by: readonly number[] }[] = [];
  for (const index of order) {
    const { row } = system.equations[index]!;
    row.eval(system.x, system.params, G);
    const v = new Float64Array(n);
    row.vars.forEach((k, i) => {
      const c = column.get(k)!;
      v[c] = v[c]! + G[i]! / Math.sqrt(system.weight[k]!);
    });
    let length = 0;
    for (const a of v) length += a * a;
    length = Math.sqrt(length);
    if (length < 1e-12) {
      dependent.push({ equation: index, by: [] });
      continue;
    }
    for (let i = 0; i < n; i++) v[i] = v[i]! / length;
    const h = new Float64Array(q.length);
    let left = 1;
    // A second pass where the first took most of the row away: what is left would carry its rounding.
    for (let pass = 0; pass < 2; pass++) {
      for (let k = 0; k < q.length; k++) {
        const u = q[k]!;
        let d = 0;
        for (let i = 0; i < n; i++) d += u[i]! * v[i]!;
        if (d === 0) continue;
        h[k] = h[k]! + d;
        for (let i = 0; i < n; i++) v[i] = v[i]! - d * u[i]!;
      }
      const was = left;
      left = 0;
      for (const a of v) left += a * a;
      left = Math.sqrt(left);
      if (left > 0.5 * was) break;
    }
    if (left < RANK) {
      dependent.push({ equation: index, by: onRows(h, made) });
      continue;
    }
    for (let i = 0; i < n; i++) v[i] = v[i]! / left;
    q.push(v);
    made.push({ equation: index, h, left });
  }
  return { q, dependent };
}

/** Variables joined by equations, each group with its equations. */
function groups(system: System): { vars: number[]; equations: number[] }[] {
  const lead = Int32Array.from({ length: system.x.length }, (_, i) => i);
  const find = (i: number): number => {
    while (lead[i] !== i) i = lead[i] = lead[lead[i]!]!;
    return i;
  };
  // Variables that one equation alone pins (the frame, held coordinates) do not tie their neighbours together.
  const pinned = new Set<number>();
  for (const e of system.equations) if (e.row.vars.length === 1) pinned.add(e.row.vars[0]!);
  for (const e of system.equations) {
    const loose = e.row.vars.filter((v) => !pinned.has(v));
    for (const v of loose) lead[find(v)] = find(loose[0]!);
  }
  const out = new Map<number, { vars: Set<number>; equations: number[] }>();
  const at = (v: number) => {
    const g = find(v);
    let o = out.get(g);
    if (!o) {
      o = { vars: new Set(), equations: [] };
      out.set(g, o);
    }
    return o;
  };
  for (let v = 0; v < system.x.length; v++) at(v).vars.add(v);
  const pins = new Map<number, number[]>();
  system.equations.forEach((e, i) => {
    const loose = e.row.vars.find((v) => !pinned.has(v));
    const home = at(loose ?? e.row.vars[0]!);
    home.equations.push(i);
    if (e.row.vars.length === 1) pins.set(e.row.vars[0]!, [...(pins.get(e.row.vars[0]!) ?? []), i]);
  });
  // A pinned variable that a group uses brings its pins along, so that what repeats is seen there.
  for (const g of out.values())
    for (const i of [...g.equations])
      for (const v of system.equations[i]!.row.vars)
        if (pinned.has(v) && !g.vars.has(v)) {
          g.vars.add(v);
          g.equations.push(...pins.get(v)!.filter((p) => !g.equations.includes(p)));
        }
  return [...out.values()].map((g) => ({ vars: [...g.vars], equations: g.equations }));
}

/** The same system with other values and one equation shifted. */
function shifted(system: System, equation: number, by: number, x: Float64Array): System {
  return {
    ...system,
    x,
    params: system.params.slice(),
    equations: system.equations.map((e, i) =>
      i === equation ? { of: e.of, row: { vars: e.row.vars, eval: (a, p, g) => e.row.eval(a, p, g) - by } } : e,
    ),
  };
}

const largest = (a: Float64Array, b: Float64Array): number => {
  let m = 0;
  for (let i = 0; i < a.length; i++) m = Math.max(m, Math.abs(a[i]! - b[i]!));
  return m;
};

/** Unit null vectors of a component, spread over the system's variables in their own units. */
function nullVectors(system: System, q: readonly Float64Array[], column: ReadonlyMap<number, number>, count: number): Float64Array[] {
  const n = column.size;
  const out: Float64Array[] = [];
  // Numbers without pattern, the same on every run.
  let seed = 12345;
  const random = (): number => {
    seed = (seed * 1103515245 + 12345) & 0x7fffffff;
    return seed / 0x40000000 - 1;
  };
  for (let k = 0; k < count; k++) {
    const v = Float64Array.from({ length: n }, random);
    for (let pass = 0; pass < 2; pass++)
      for (const u of [...q, ...out]) {
        let d = 0;
        for (let i = 0; i < n; i++) d += u[i]! * v[i]!;
        for (let i = 0; i < n; i++) v[i] = v[i]! - d * u[i]!;
      }
    let l = 0;
    for (const a of v) l += a * a;
    l = Math.sqrt(l);
    if (l < 1e-9) break;
    for (let i = 0; i < n; i++) v[i] = v[i]! / l;
    out.push(v);
  }
  return out.map((v) => {
    const full = new Float64Array(system.x.length);
    for (const [variable, c] of column) full[variable] = v[c]! / Math.sqrt(system.weight[variable]!);
    return full;
  });
}

/** Whether a dependent row still says something: a shift of it can be met by a small motion. */
function saysSomething(system: System, equation: number, along: readonly Float64Array[]): boolean {
  const eps = 1e-4;
  const reach = 2 * Math.sqrt(eps) * system.size;
  for (const sign of [-1, 1])
    for (const v of [undefined, ...along])
      for (const way of v ? [-1, 1] : [1]) {
        const x = system.x.slice();
        if (v) for (let i = 0; i < x.length; i++) x[i] = x[i]! + way * reach * v[i]!;
        const trial = shifted(system, equation, sign * eps * system.size, x);
        const r = new Reduced(trial).solve(60);
        if (r.ok && largest(trial.x, system.x) < 0.2 * system.size) return true;
      }
  return false;
}

/** Reads a solved sketch. */
export function diagnose(sketch: Sketch): Diagnosis {
  const { system } = sketch;
  const own = new Set(sketch.profile.constraints.map((c) => c.id));
  const dims = new Set(sketch.dimensions.map((d) => d.constraint));
  const place = new Map(rowOrder(system.equations, own, dims).map((e, i) => [e, i]));
  const projector = new Map<number, { readonly q: readonly Float64Array[]; readonly column: ReadonlyMap<number, number> }>();
  const lost = new Map<number, readonly Float64Array[]>();
  let freedoms = 0;
  const dependentRows = new Map<string, Set<string>>();
  const dependentCount = new Map<string, number>();
  for (const g of groups(system)) {
    const order = [...g.equations].sort((a, b) => place.get(a)! - place.get(b)!);
    const column = new Map(g.vars.map((v, i) => [v, i]));
    const { q, dependent } = orthogonalise(system, order, column);
    let open = g.vars.length - q.length;
    let survive: readonly Float64Array[] | undefined;
    const real = dependent.filter((d) => own.has(system.equations[d.equation]!.of));
    if (real.length > 0 || dependent.length > 0) {
      const nulls = nullVectors(system, q, column, Math.min(open, 12));
      let singular = false;
      for (const d of dependent) {
        const of = system.equations[d.equation]!.of;
        if (saysSomething(system, d.equation, nulls)) {
          singular = true;
          continue;
        }
        if (!own.has(of)) continue;
        dependentCount.set(of, (dependentCount.get(of) ?? 0) + 1);
        const by = dependentRows.get(of) ?? new Set<string>();
        for (const e of d.by) if (own.has(system.equations[e]!.of) && system.equations[e]!.of !== of) by.add(system.equations[e]!.of);
        dependentRows.set(of, by);
      }
      if (singular && nulls.length > 0) {
        const kept = nulls.filter((v) => survives(system, v));
        survive = kept;
        open = kept.length;
      }
    }
    freedoms += open;
    for (const v of g.vars) {
      // A pinned variable appears in several groups; it is free in none of them.
      projector.set(v, { q, column });
      if (survive) lost.set(v, survive);
    }
  }
  // The share of a variable pair that lies in the null space: the block of I − QᵀQ.
  const block = (a: number, b: number): number => {
    const kept = lost.get(a) ?? lost.get(b);
    if (kept) {
      let s = 0;
      for (const v of kept) s += v[a]! * v[b]! * Math.sqrt(system.weight[a]! * system.weight[b]!);
      return s;
    }
    const pa = projector.get(a)!;
    const pb = projector.get(b)!;
    if (pa !== pb) return 0;
    const [i, j] = [pa.column.get(a)!, pa.column.get(b)!];
    let s = a === b ? 1 : 0;
    for (const u of pa.q) s -= u[i]! * u[j]!;
    return s;
  };
  const free: FreePoint[] = [];
  for (const p of sketch.profile.points) {
    const [vx, vy] = sketch.points.get(p.id)!;
    const [a, b, c] = [block(vx, vx), block(vx, vy), block(vy, vy)];
    const mean = (a + c) / 2;
    const spread = Math.hypot((a - c) / 2, b);
    if (mean + spread < FREE) continue;
    if (mean - spread > FREE) free.push({ point: p.id });
    else {
      const angle = Math.atan2(2 * b, a - c) / 2;
      free.push({ point: p.id, direction: { x: Math.cos(angle), y: Math.sin(angle) } });
    }
  }
  const freeRadii: string[] = [];
  const freeHandles: { curve: string; at: string }[] = [];
  for (const [id, v] of sketch.curves) {
    const radius = v.radius ?? v.minor;
    if (radius !== undefined && block(radius, radius) > FREE) freeRadii.push(id);
    for (const [at, [angle, weight]] of v.handles ?? [])
      if (block(angle, angle) > FREE || block(weight, weight) > FREE) freeHandles.push({ curve: id, at });
  }
  const total = new Map<string, number>();
  for (const e of system.equations) total.set(e.of, (total.get(e.of) ?? 0) + 1);
  const repeats = [...dependentRows]
    .filter(([of]) => dependentCount.get(of) === total.get(of))
    .map(([constraint, by]) => ({ constraint, by: [...by] }));
  return { freedoms, free, freeRadii, freeHandles, repeats };
}

/** Whether a step along a null direction is still there after being brought back onto the constraints. */
function survives(system: System, v: Float64Array): boolean {
  const step = 2e-3 * system.size;
  for (const way of [-1, 1]) {
    const x = system.x.slice();
    for (let i = 0; i < x.length; i++) x[i] = x[i]! + way * step * v[i]!;
    const trial: System = { ...system, x };
    const r = new Reduced(trial).solve(80);
    if (!r.ok) continue;
    let along = 0;
    let norm = 0;
    for (let i = 0; i < x.length; i++) {
      along += (x[i]! - system.x[i]!) * v[i]! * system.weight[i]!;
      norm += v[i]! * v[i]! * system.weight[i]!;
    }
    if ((way * along) / norm > step * 0.5) return true;
  }
  return false;
}
