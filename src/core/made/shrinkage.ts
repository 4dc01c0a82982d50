/**
 * How parts come out against what they should be: a scale along each axis, and skins that stand proud or back, as spread lines and tool wear have it.
 * A length n along an axis that shrinks by s reads n (1 + s) + e d, where d is what the two skins at its ends stand proud by together: e is 1 over
 * material, −1 over room, 0 where the two ends go the same way. Fitted by least squares. How sure it is: the pieces by themselves (each fitted alone,
 * and told apart by Student's t), the places (what of them the scale does not explain), the larger of the two; and the device, off by the same amount
 * everywhere, beside it. Source of the uncertainties' sum: JCGM 100:2008 (GUM), 5.1.2.
 */
import { solveDense } from '../linear';
import type { Side, Way } from './document';
import { meanOf, spreadOf, t95 } from './statistics';

export const AXES = ['x', 'y', 'z'] as const;
export type Axis = (typeof AXES)[number];

/** One place of one piece. mm. */
export interface Observation {
  readonly piece: string;
  readonly place: string;
  /** What it was in the file it was made from. */
  readonly nominal: number;
  readonly read: number;
  readonly way: Way;
  readonly side: Side;
}

/** A figure with what it is trusted to at 95 %; null where too little was measured to say. */
export interface Known {
  readonly value: number;
  readonly off: number | null;
}

export interface Shrinkage {
  /** By axis, 0 where it comes out as long as it should, −0.01 where a hundredth is missing; axes that nothing goes along are left out. */
  readonly scale: Readonly<Partial<Record<Axis, Known>>>;
  /** What two opposite skins stand proud by together, mm; null where it can't be told from the scale. */
  readonly proud: Known | null;
  /** Largest of what is left over of a place, mm, and of which. */
  readonly worst: { readonly place: string; readonly off: number };
}

type Unknown = Axis | 'proud';

const ENDS: Readonly<Record<Side, number>> = { outer: 1, inner: -1, neither: 0 };

function row(o: Observation, unknowns: readonly Unknown[]): number[] {
  const share = (axis: Axis): number => (o.way === axis ? 1 : o.way === 'flat' && axis !== 'z' ? 0.5 : 0);
  return unknowns.map((u) => (u === 'proud' ? ENDS[o.side] : o.nominal * share(u)));
}

/** Columns that are this near to lying in each other's span can't be told apart. */
const APART = 1e-4;

/** Whether the columns of a table stand apart from each other: what is left of each beside those before it. */
function apart(rows: readonly (readonly number[])[], count: number): boolean {
  const kept: number[][] = [];
  for (let k = 0; k < count; k++) {
    const column = rows.map((r) => r[k]!);
    const size = Math.hypot(...column);
    if (size === 0) return false;
    let rest = column.map((v) => v / size);
    for (const q of kept) {
      const s = rest.reduce((sum, v, i) => sum + v * q[i]!, 0);
      rest = rest.map((v, i) => v - s * q[i]!);
    }
    const left = Math.hypot(...rest);
    if (left < APART) return false;
    kept.push(rest.map((v) => v / left));
  }
  return true;
}

interface Solved {
  readonly values: number[];
  /** What each would be off by where every reading is off by one the same way. */
  readonly perBias: number[];
  /** Diagonal of the inverse of the normal equations. */
  readonly spread: number[];
  readonly residuals: number[];
}

/** Least squares of all observations; null where they don't tell the unknowns apart. */
function solved(all: readonly Observation[], unknowns: readonly Unknown[]): Solved | null {
  const rows = all.map((o) => row(o, unknowns));
  const n = unknowns.length;
  if (all.length < n || !apart(rows, n)) return null;
  // Columns of one size: scales weigh as lengths and skins as ones.
  const sizes = unknowns.map((_, k) => Math.hypot(...rows.map((r) => r[k]!)));
  const a = rows.map((r) => r.map((v, k) => v / sizes[k]!));
  const normal = unknowns.map((_, i) => unknowns.map((__, j) => a.reduce((s, r) => s + r[i]! * r[j]!, 0)));
  const y = all.map((o) => o.read - o.nominal);
  const rhs = unknowns.map((_, i) => [
    a.reduce((s, r, m) => s + r[i]! * y[m]!, 0),
    a.reduce((s, r) => s + r[i]!, 0),
    ...unknowns.map((__, j) => (i === j ? 1 : 0)),
  ]);
  const x = solveDense(normal, rhs);
  const values = x.map((r, k) => r[0]! / sizes[k]!);
  return {
    values,
    perBias: x.map((r, k) => r[1]! / sizes[k]!),
    spread: x.map((r, k) => r[2 + k]! / sizes[k]! ** 2),
    residuals: rows.map((r, m) => y[m]! - r.reduce((s, v, k) => s + v * values[k]!, 0)),
  };
}

const groupsOf = (all: readonly Observation[], key: 'piece' | 'place'): Observation[][] =>
  [...new Set(all.map((o) => o[key]))].map((k) => all.filter((o) => o[key] === k));

/** Observations of one place brought together as one. */
const byPlace = (all: readonly Observation[]): Observation[] =>
  groupsOf(all, 'place').map((g) => ({ ...g[0]!, nominal: meanOf(g.map((o) => o.nominal)), read: meanOf(g.map((o) => o.read)) }));

/**
 * @param all lengths of all pieces; those that go no stated way are left out
 * @param device what readings are trusted to, mm
 * @param together left-right and front-back shrink alike; so they do where nothing tells them apart
 * @returns null where nothing goes along an axis
 */
export function shrinkageOf(all: readonly Observation[], device: number, together = false): Shrinkage | null {
  const used = all.filter((o) => o.way !== 'other' && o.nominal > 0 && Number.isFinite(o.read));
  const goes = (list: readonly Observation[], way: Way): boolean => list.some((o) => o.way === way);
  const both = together || (goes(used, 'flat') && !(goes(used, 'x') && goes(used, 'y')));
  // Both axes as one stand in the column of the first.
  const told = both ? used.map((o) => (o.way === 'y' || o.way === 'flat' ? { ...o, way: 'x' as const } : o)) : used;
  const axes = AXES.filter((axis) => goes(told, axis));
  const places = byPlace(told);
  if (axes.length === 0) return null;
  const withProud: Unknown[] = [...axes, 'proud'];
  const proud = solved(places, withProud) !== null;
  const unknowns: Unknown[] = proud ? withProud : axes;
  const main = solved(places, unknowns);
  if (!main) return null;
  const alone = groupsOf(told, 'piece').flatMap((g) => solved(g, unknowns) ?? []);
  const freedom = places.length - unknowns.length;
  const left = freedom > 0 ? Math.sqrt(main.residuals.reduce((s, r) => s + r * r, 0) / freedom) : null;
  const known = (k: number): Known => {
    const each = alone.map((s) => s.values[k]!);
    const pieces = each.length < 2 ? null : (t95(each.length - 1) * spreadOf(each)!) / Math.sqrt(each.length);
    const rest = left === null ? null : t95(freedom) * left * Math.sqrt(main.spread[k]!);
    const chance = pieces === null ? rest : Math.max(pieces, rest ?? 0);
    return { value: main.values[k]!, off: chance === null ? null : Math.hypot(chance, main.perBias[k]! * device) };
  };
  const scale = Object.fromEntries(axes.map((axis, k) => [axis, known(k)])) as Partial<Record<Axis, Known>>;
  if (both && scale.x) scale.y = scale.x;
  const worst = main.residuals.reduce((m, r, i) => (Math.abs(r) > Math.abs(main.residuals[m]!) ? i : m), 0);
  return {
    scale,
    proud: proud ? known(unknowns.length - 1) : null,
    worst: { place: places[worst]!.place, off: main.residuals[worst]! },
  };
}

/** By how much a file is made larger, so that what shrinks comes out right, with what that is trusted to. */
export function growth({ value, off }: Known): Known {
  const grown = 1 / (1 + value);
  return { value: grown, off: off === null ? null : off * grown ** 2 };
}
