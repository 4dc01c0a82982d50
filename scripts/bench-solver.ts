/** Drag steps and diagnosis of profiles of 20, 60 and 200 curves. */
import { diagnose } from '../src/core/profile/solver/diagnose';
import { SketchDrag } from '../src/core/profile/solver/solve';
import { chain, grid, solved } from '../tests/support/sketch';

export interface Row {
  readonly what: string;
  readonly median: number;
  readonly p95: number;
  readonly note: string;
}

const stats = (times: number[]): { median: number; p95: number } => {
  const t = times.toSorted((a, b) => a - b);
  return { median: t[t.length >> 1]!, p95: t[Math.floor(t.length * 0.95)]! };
};

export function benchSolver(): Row[] {
  const rows: Row[] = [];
  for (const [name, make] of [
    ['one chain', (n: number) => chain(n, n >= 200)],
    ['linked rectangles', grid],
  ] as const)
    for (const n of [20, 60, 200]) {
      const profile = make(n);
      const s = solved(profile);
      if (!s.outcome.ok) throw new Error(`${name} ${n} did not solve`);
      const before = s.sketch.system.x.slice();
      const ids = profile.points.map((p) => p.id);
      const grip = ids[Math.floor(ids.length * 0.7)]!;
      const t0 = performance.now();
      const drag = new SketchDrag(s.sketch, { points: [grip] });
      const setUp = performance.now() - t0;
      const times: number[] = [];
      let failed = 0;
      // The first drag compiles the code; a person's first drag is a second long.
      for (let k = 0; k < 300; k++) drag.move(3 * Math.sin(k / 20), 2 * Math.sin(k / 17));
      drag.move(0, 0);
      for (let k = 0; k < 400; k++) {
        const a = (k / 400) * 4 * Math.PI;
        const r = 6 * Math.sin(a / 4);
        const t = performance.now();
        if (!drag.move(r * Math.cos(a), r * Math.sin(a))) failed++;
        times.push(performance.now() - t);
      }
      drag.move(1e-7, 0);
      drag.move(0, 0);
      let off = 0;
      s.sketch.system.x.forEach((v, i) => {
        off = Math.max(off, Math.abs(v - before[i]!));
      });
      const t1 = performance.now();
      const d = diagnose(s.sketch);
      const told = performance.now() - t1;
      rows.push({
        what: `drag step, ${name}, ${n} curves, ${profile.constraints.length} constraints`,
        ...stats(times),
        note: `set-up ${setUp.toFixed(1)} ms, ${failed} steps refused, back to ${(off / s.sketch.system.size).toExponential(1)} of size; diagnosis ${told.toFixed(0)} ms, ${d.freedoms} free`,
      });
    }
  return rows;
}

if (process.argv[1]?.endsWith('bench-solver.ts'))
  for (const r of benchSolver()) console.log(`${r.what}: ${r.median.toFixed(3)} / ${r.p95.toFixed(3)} ms (${r.note})`);
