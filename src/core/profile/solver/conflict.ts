/** Which constraints contradict each other. */
import { Reduced, type System } from './system';
import type { Sketch } from './terms';

const G = new Float64Array(512);

/**
 * The smallest set of constraints that can't hold together, for a sketch that can't be solved; empty where it can after all.
 * First the least-squares shape: only equations that share in the contradiction keep a residual there. Then a deletion filter on
 * those, each "can't" checked from several starts before it is believed.
 */
export function findConflict(sketch: Sketch): string[] {
  const { system } = sketch;
  const own = [...new Set(sketch.profile.constraints.map((c) => c.id))];
  const start = system.x.slice();
  const solvable = (without: ReadonlySet<string>): boolean => {
    const starts = [start, ...[0.01, 0.05, 0.2].map((s, i) => jittered(start, system, s, i + 1))];
    for (const x of starts) {
      const trial: System = { ...system, x: x.slice(), params: system.params.slice() };
      if (new Reduced(trial, new Set(), without).solve(80).ok) return true;
    }
    return false;
  };
  if (solvable(new Set())) return [];
  let suspects = leastSquaresSupport(sketch, own);
  const others = own.filter((c) => !suspects.includes(c));
  // The support alone must contradict; else the whole set is filtered.
  if (suspects.length === 0 || solvable(new Set(others))) suspects = own;
  const outside = new Set(own.filter((c) => !suspects.includes(c)));
  const left = [...suspects];
  for (let chunk = Math.max(1, left.length >> 1); ; chunk = Math.max(1, chunk >> 1)) {
    for (let i = 0; i < left.length; ) {
      const part = left.slice(i, i + chunk);
      if (part.length === left.length) {
        i += chunk;
        continue;
      }
      if (!solvable(new Set([...outside, ...part]))) {
        for (const p of part) outside.add(p);
        left.splice(i, part.length);
      } else i += chunk;
    }
    if (chunk === 1) break;
  }
  return left;
}

function jittered(x: Float64Array, system: System, share: number, seed: number): Float64Array {
  let s = seed * 7919;
  return x.map((v, i) => {
    s = (s * 1103515245 + 12345) & 0x7fffffff;
    return v + ((s / 0x40000000 - 1) * share * system.size) / Math.sqrt(system.weight[i]!);
  });
}

/** Constraints with a share in the residual of the least-squares shape (Levenberg–Marquardt on the dense normal equations). */
function leastSquaresSupport(sketch: Sketch, own: readonly string[]): string[] {
  const { system } = sketch;
  const { equations, params } = system;
  const n = system.x.length;
  const x = system.x.slice();
  const scale = Float64Array.from(system.weight, (w) => 1 / Math.sqrt(w));
  const cost = (): number => {
    let s = 0;
    for (const e of equations) s += e.row.eval(x, params, G) ** 2;
    return s;
  };
  let mu = 1e-3;
  let now = cost();
  for (let round = 0; round < 60 && n <= 900; round++) {
    const a = new Float64Array(n * n);
    const b = new Float64Array(n);
    for (const e of equations) {
      const r = e.row.eval(x, params, G);
      const { vars } = e.row;
      for (let i = 0; i < vars.length; i++) {
        const gi = G[i]! * scale[vars[i]!]!;
        b[vars[i]!] = b[vars[i]!]! - gi * r;
        for (let j = 0; j < vars.length; j++) {
          const k = vars[i]! * n + vars[j]!;
          a[k] = a[k]! + gi * G[j]! * scale[vars[j]!]!;
        }
      }
    }
    let gradient = 0;
    for (const v of b) gradient = Math.max(gradient, Math.abs(v));
    if (gradient < 1e-10 * system.size) break;
    let better = false;
    for (let tries = 0; tries < 8 && !better; tries++) {
      const step = choleskySolve(a, b, mu, n);
      const old = x.slice();
      for (let i = 0; i < n; i++) x[i] = old[i]! + step[i]! * scale[i]!;
      const after = cost();
      if (after < now) {
        better = true;
        if (now - after < 1e-14 * now) round = 1000;
        now = after;
        mu = Math.max(1e-12, mu / 5);
      } else {
        x.set(old);
        mu *= 6;
      }
    }
    if (!better) break;
  }
  const worst = new Map<string, number>();
  let top = 0;
  for (const e of equations) {
    const r = Math.abs(e.row.eval(x, params, G));
    top = Math.max(top, r);
    worst.set(e.of, Math.max(worst.get(e.of) ?? 0, r));
  }
  return own.filter((c) => (worst.get(c) ?? 0) > 1e-5 * top);
}

/** (A + μI) s = b by dense Cholesky; A stays. */
function choleskySolve(a: Float64Array, b: Float64Array, mu: number, n: number): Float64Array {
  const l = a.slice();
  for (let i = 0; i < n; i++) l[i * n + i] = l[i * n + i]! + mu;
  for (let j = 0; j < n; j++) {
    let d = l[j * n + j]!;
    for (let k = 0; k < j; k++) d -= l[j * n + k]! ** 2;
    const p = Math.sqrt(Math.max(d, 1e-30));
    l[j * n + j] = p;
    for (let i = j + 1; i < n; i++) {
      let s = l[i * n + j]!;
      for (let k = 0; k < j; k++) s -= l[i * n + k]! * l[j * n + k]!;
      l[i * n + j] = s / p;
    }
  }
  const y = b.slice();
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) y[i] = y[i]! - l[i * n + k]! * y[k]!;
    y[i] = y[i]! / l[i * n + i]!;
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) y[i] = y[i]! - l[k * n + i]! * y[k]!;
    y[i] = y[i]! / l[i * n + i]!;
  }
  return y;
}
