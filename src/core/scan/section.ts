/** Lines in which a plane cuts a scan, and fair curves near them. */
import { type BSpline, basisDerivatives, controlSpline, evaluateBSpline, findSpan } from '../curves/bspline';
import { distance, dot, minus, triple, type Vec3 } from '../geometry/vectors';
import { solveDense } from '../linear';
import type { TriMesh } from '../mesh/mesh';
import { placeOf } from './topology';

/** @returns lines of places from end to end, the longest first; one that closes has its first place again at its end */
export function sectionLines(mesh: TriMesh, origin: Vec3, normal: Vec3): Vec3[][] {
  const n = mesh.positions.length / 3;
  const height = Float64Array.from({ length: n }, (_, v) => dot(minus(placeOf(mesh, v), origin), normal));
  // A vertex on the plane counts as above it, so that every line goes through edges.
  const above = (v: number): boolean => height[v]! >= 0;
  const beside = new Map<number, number[]>();
  const join = (a: number, b: number): void => {
    beside.set(a, [...(beside.get(a) ?? []), b]);
    beside.set(b, [...(beside.get(b) ?? []), a]);
  };
  const edge = (a: number, b: number): number => (a < b ? a * n + b : b * n + a);
  for (let t = 0; t < mesh.indices.length; t += 3) {
    const f = triple((k) => mesh.indices[t + k]!);
    const cut = [0, 1, 2].filter((k) => above(f[k]!) !== above(f[(k + 1) % 3]!)).map((k) => edge(f[k]!, f[(k + 1) % 3]!));
    if (cut.length === 2) join(cut[0]!, cut[1]!);
  }
  const placeAt = (e: number): Vec3 => {
    const [a, b] = [Math.floor(e / n), e % n];
    const s = height[a]! / (height[a]! - height[b]!);
    const [p, q] = [placeOf(mesh, a), placeOf(mesh, b)];
    return triple((k) => p[k] + s * (q[k] - p[k]));
  };
  const seen = new Set<number>();
  const walk = (from: number): number[] => {
    const line = [from];
    seen.add(from);
    for (let at = beside.get(from)!.find((e) => !seen.has(e)); at !== undefined; at = beside.get(at)!.find((e) => !seen.has(e))) {
      seen.add(at);
      line.push(at);
    }
    return line;
  };
  const lines: Vec3[][] = [];
  // Lines that end first: what is left after them closes.
  for (const [e, near] of beside) if (near.length === 1 && !seen.has(e)) lines.push(walk(e).map(placeAt));
  for (const e of beside.keys()) {
    if (seen.has(e)) continue;
    const line = walk(e).map(placeAt);
    lines.push([...line, line[0]!]);
  }
  const lengthOf = (l: readonly Vec3[]): number => l.slice(1).reduce((s, p, i) => s + distance(p, l[i]!), 0);
  return lines.filter((l) => l.length > 3).toSorted((a, b) => lengthOf(b) - lengthOf(a));
}

export interface FairLine {
  readonly spline: BSpline;
  /** What the places lie off it: root of the mean square, and at most, mm. */
  readonly rms: number;
  readonly off: number;
}

/** As few control points as a fair line begins with, and as many as it may have. */
const [FEWEST, MOST] = [4, 60] as const;

/** The cubic curve of the fewest control points that lies as near to places as wanted. @param wanted root of the mean square, mm */
export function fairLine(places: readonly Vec3[], wanted: number): FairLine {
  const lengths = [0];
  for (let i = 1; i < places.length; i++) lengths.push(lengths[i - 1]! + distance(places[i - 1]!, places[i]!));
  const whole = lengths[lengths.length - 1]!;
  const shares = lengths.map((l) => l / whole);
  let best: FairLine | undefined;
  for (let count: number = FEWEST; count <= Math.min(MOST, Math.floor(places.length / 2)); count++) {
    const made = fitted(places, shares, count);
    if (!best || made.rms < best.rms) best = made;
    if (made.rms <= wanted) return made;
  }
  return best ?? fitted(places, shares, Math.max(2, Math.min(FEWEST, places.length - 1)));
}

function fitted(places: readonly Vec3[], shares: readonly number[], count: number): FairLine {
  const blank = controlSpline(
    Array.from({ length: count }, () => [0, 0, 0]),
    3,
  );
  const { degree, knots } = blank;
  const rows = Array.from({ length: count }, () => new Array<number>(count).fill(0));
  const rhs = Array.from({ length: count }, () => [0, 0, 0]);
  places.forEach((p, i) => {
    const span = findSpan(degree, knots, count, shares[i]!);
    const values = basisDerivatives(degree, knots, span, shares[i]!, 0)[0]!;
    // Its ends are where the line ends.
    const weight = i === 0 || i === places.length - 1 ? places.length : 1;
    values.forEach((a, k) => {
      const row = span - degree + k;
      for (let x = 0; x < 3; x++) rhs[row]![x] = rhs[row]![x]! + weight * a * p[x as 0 | 1 | 2];
      values.forEach((b, l) => {
        rows[row]![span - degree + l] = rows[row]![span - degree + l]! + weight * a * b;
      });
    });
  });
  for (let i = 0; i < count; i++) rows[i]![i] = rows[i]![i]! + 1e-9 * places.length;
  const spline: BSpline = { ...blank, poles: solveDense(rows, rhs) };
  const offs = places.map((p, i) => distance(p, evaluateBSpline(spline, shares[i]!, 0)[0] as unknown as Vec3));
  return { spline, rms: Math.sqrt(offs.reduce((s, d) => s + d * d, 0) / offs.length), off: Math.max(...offs) };
}
