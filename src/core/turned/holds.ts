/**
 * What an upright turned vessel holds. Levels at which its outline turns or has a corner part the half plane into slabs; in each, what is not material
 * is a row of cells between curves that rise all the way. Cells of neighbouring slabs that share a stretch of their level hang together: what is left
 * unconnected to the outside below a level holds to that level.
 */
import { gauss } from '../quadrature';
import { type Evaluator, evaluatorOf, newJet } from './jets';
import { type Meridian, skinOf, turningPoints } from './meridian';

/** A stretch of the outline that rises all the way. */
interface Flank {
  readonly e: Evaluator;
  readonly t0: number;
  readonly t1: number;
  readonly low: number;
  readonly high: number;
}

interface Cell {
  readonly slab: number;
  /** Towards the axis; undefined where the cell reaches it. */
  readonly left: Flank | undefined;
  /** Undefined where it reaches the outside. */
  readonly right: Flank | undefined;
  root: Cell | undefined;
}

export interface TurnedHolding {
  /** Level above which it runs over, and the lowest place of what it holds, mm. */
  readonly brim: number;
  readonly floor: number;
  /** mm³. */
  readonly toBrim: number;
  /** What it holds to a level, mm³. */
  readonly below: (level: number) => number;
  /** Height of the centre of what it holds to a level, mm. */
  readonly centreBelow: (level: number) => number;
  /** Narrowest clear diameter down to a depth below the brim, mm. */
  readonly mouth: (depth: number) => number;
}

const RULE = gauss(12);
const j = newJet();
const LEAST = 1e-9;
/** Less than this is no basin, mm³. */
const DENT = 1e-3;

/** Radius of a flank at a level, by halving. */
function radiusAt(f: Flank, level: number): number {
  const t = parameterAt(f, level);
  f.e.into(t, j);
  return j[0]!;
}

function parameterAt(f: Flank, level: number): number {
  f.e.into(f.t0, j);
  const rises = j[1]! <= (f.low + f.high) / 2;
  let [a, b] = [f.t0, f.t1];
  for (let r = 0; r < 54; r++) {
    const m = (a + b) / 2;
    f.e.into(m, j);
    if (j[1]! < level === rises) a = m;
    else b = m;
  }
  return (a + b) / 2;
}

/** ∫ of π r² z^k dz along a flank between two levels. */
function disc(f: Flank, from: number, to: number, power: 0 | 1): number {
  const [a, b] = [parameterAt(f, from), parameterAt(f, to)];
  const [lo, hi] = [Math.min(a, b), Math.max(a, b)];
  const arc = f.e.curve.kind === 'arc' || f.e.curve.kind === 'ellipse';
  const breaks = [lo, ...(arc ? [0.25, 0.5, 0.75].map((w) => lo + w * (hi - lo)) : f.e.breaks.filter((k) => k > lo && k < hi)), hi];
  let sum = 0;
  for (let i = 1; i < breaks.length; i++) {
    const h = breaks[i]! - breaks[i - 1]!;
    for (const [x, w] of RULE) {
      f.e.into(breaks[i - 1]! + x * h, j);
      sum += w * h * j[0]! * j[0]! * Math.abs(j[3]!) * (power === 1 ? j[1]! : 1);
    }
  }
  return Math.PI * sum;
}

/** @returns null for a body that holds nothing */
export function turnedHolding(m: Meridian): TurnedHolding | null {
  const flanks: Flank[] = [];
  for (const { curve } of skinOf(m)) {
    const e = evaluatorOf(curve);
    const ts = [0, ...turningPoints(curve, 1).sort((a, b) => a - b), 1];
    for (let i = 1; i < ts.length; i++) {
      const ys = [ts[i - 1]!, ts[i]!].map((t) => {
        e.into(t, j);
        return t === 0 ? curve.a.y : t === 1 ? curve.b.y : j[1]!;
      }) as [number, number];
      const [low, high] = [Math.min(...ys), Math.max(...ys)];
      if (high - low > LEAST) flanks.push({ e, t0: ts[i - 1]!, t1: ts[i]!, low, high });
    }
  }
  const levels: number[] = [];
  for (const y of flanks.flatMap((f) => [f.low, f.high]).sort((a, b) => a - b))
    if (levels.length === 0 || y - levels[levels.length - 1]! > 1e-7) levels.push(y);
  if (levels.length < 2) return null;
  const slabs = levels.slice(1).map((high, k) => cellsOf(flanks, levels[k]!, high, k));
  // Voids that nothing joins to the outside, at the side, below or above, can't be filled.
  const all = connected(slabs, levels, slabs.length);
  const [last, top] = [slabs[slabs.length - 1]!, levels[levels.length - 1]!];
  for (const c of last) {
    const [l, r] = spanOf(c, top);
    if (r - l > 1e-7) all.outside.add(rootOf(c));
  }
  const sealed = new Set(slabs.flat().filter((c) => !all.outside.has(rootOf(c))));
  for (let count = slabs.length; count > 0; count--) {
    const { outside } = connected(slabs, levels, count);
    const basins = new Map<Cell, Cell[]>();
    for (const c of slabs.slice(0, count).flat())
      if (!sealed.has(c) && !outside.has(rootOf(c))) basins.set(rootOf(c), [...(basins.get(rootOf(c)) ?? []), c]);
    // A dent that rounding leaves is none.
    const held = [...basins.values()].filter((b) => volumeBelow(b, levels, levels[count]!) > DENT);
    if (held.length > 0) return holdingOf(held.flat(), levels, levels[count]!);
  }
  return null;
}

function cellsOf(flanks: readonly Flank[], low: number, high: number, slab: number): Cell[] {
  const middle = (low + high) / 2;
  const row = flanks
    .filter((f) => f.low < middle && f.high > middle)
    .map((f) => ({ f, r: radiusAt(f, middle) }))
    .sort((a, b) => a.r - b.r);
  // From outside inwards: void, material, void …
  const cells: Cell[] = [];
  let right: Flank | undefined;
  for (let i = row.length - 1; i >= 0; i -= 2) {
    cells.push({ slab, left: row[i]!.f, right, root: undefined });
    right = row[i - 1]?.f;
    // The innermost material reaches the axis.
    if (!right) return cells;
  }
  cells.push({ slab, left: undefined, right, root: undefined });
  return cells;
}

function rootOf(c: Cell): Cell {
  let r = c;
  while (r.root) r = r.root;
  return r;
}

/** From where to where a cell reaches at a level, mm. */
const spanOf = (c: Cell, level: number): [number, number] => [
  c.left ? radiusAt(c.left, level) : 0,
  c.right ? radiusAt(c.right, level) : Infinity,
];

/** Joins cells below a level; the roots of what hangs together with the outside, at the side or below. */
function connected(slabs: readonly (readonly Cell[])[], levels: readonly number[], top: number): { outside: Set<Cell> } {
  for (const s of slabs) for (const c of s) c.root = undefined;
  for (let k = 1; k < top; k++)
    for (const a of slabs[k - 1]!)
      for (const b of slabs[k]!) {
        const [p, q] = [spanOf(a, levels[k]!), spanOf(b, levels[k]!)];
        if (Math.min(p[1], q[1]) - Math.max(p[0], q[0]) <= 1e-7) continue;
        const [x, y] = [rootOf(a), rootOf(b)];
        if (x !== y) x.root = y;
      }
  const outside = new Set<Cell>();
  for (const s of slabs.slice(0, top))
    for (const c of s) {
      const [l, r] = c.slab === 0 ? spanOf(c, levels[0]!) : [0, 0];
      if (!c.right || r - l > 1e-7) outside.add(rootOf(c));
    }
  return { outside };
}

/** ∫ z^k dV over cells below a level. */
const volumeBelow = (cells: readonly Cell[], levels: readonly number[], level: number, power: 0 | 1 = 0): number =>
  cells.reduce((total, c) => {
    const [from, to] = [levels[c.slab]!, Math.min(level, levels[c.slab + 1]!)];
    if (to <= from) return total;
    return total + disc(c.right!, from, to, power) - (c.left ? disc(c.left, from, to, power) : 0);
  }, 0);

function holdingOf(basin: readonly Cell[], levels: readonly number[], brim: number): TurnedHolding {
  const floor = Math.min(...basin.map((c) => levels[c.slab]!));
  return {
    brim,
    floor,
    toBrim: volumeBelow(basin, levels, brim),
    below: (level) => volumeBelow(basin, levels, level),
    centreBelow: (level) => volumeBelow(basin, levels, level, 1) / volumeBelow(basin, levels, level),
    mouth: (depth) => {
      let least = Infinity;
      for (const c of basin) {
        const [from, to] = [Math.max(levels[c.slab]!, brim - depth), levels[c.slab + 1]!];
        if (to <= from) continue;
        // The outermost of a row is the vessel's own side.
        if (basin.some((o) => o.slab === c.slab && o !== c && radiusAt(o.right!, (from + to) / 2) > radiusAt(c.right!, (from + to) / 2)))
          continue;
        least = Math.min(least, narrowest(c.right!, from, to));
      }
      return 2 * least;
    },
  };
}

/** Least radius of a flank between two levels. */
function narrowest(f: Flank, from: number, to: number): number {
  const [a, b] = [parameterAt(f, from), parameterAt(f, to)];
  const [lo, hi] = [Math.min(a, b), Math.max(a, b)];
  const at = (t: number): number => {
    f.e.into(t, j);
    return j[0]!;
  };
  return Math.min(at(lo), at(hi), ...turningPoints(f.e.curve, 0).flatMap((t) => (t > lo && t < hi ? [at(t)] : [])));
}
