/** Figures of a bench: a row each with its goal and whether it is met, then all of them as JSON. */
export interface Figure {
  readonly what: string;
  readonly value: number;
  readonly unit: 'ms' | '×' | 'MB' | '';
  /** At most this, or at least where it is a ratio to beat. */
  readonly goal?: number;
  readonly atLeast?: true;
}

const all: Figure[] = [];

export function figure(what: string, value: number, unit: Figure['unit'] = 'ms', goal?: number, atLeast?: true): void {
  const f: Figure = { what, value, unit, ...(goal === undefined ? {} : { goal }), ...(atLeast ? { atLeast } : {}) };
  all.push(f);
  const met = goal === undefined ? '' : (atLeast ? value >= goal : value <= goal) ? 'met' : 'MISSED';
  const wanted = goal === undefined ? '' : `${atLeast ? '≥' : '≤'} ${goal} ${unit}`;
  console.log(`${what.padEnd(72)} ${value.toFixed(value < 10 ? 2 : 0).padStart(9)} ${unit.padEnd(2)}  ${wanted.padEnd(12)} ${met}`);
}

/** The median of some runs of a piece of work, after one that warms it up, ms. */
export async function median(runs: number, work: (i: number) => unknown): Promise<number> {
  await work(-1);
  const times: number[] = [];
  for (let i = 0; i < runs; i++) {
    const t = performance.now();
    await work(i);
    times.push(performance.now() - t);
  }
  return times.sort((a, b) => a - b)[Math.floor(times.length / 2)]!;
}

export const asJson = (): void => console.log(JSON.stringify(all));
