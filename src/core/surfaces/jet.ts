/** Places of a spline surface with their derivatives. Millimetres. Source: Piegl and Tiller, The NURBS Book, 3.4 (from memory). */
import { basisDerivatives, findSpan } from '../curves/bspline';
import type { Vec3 } from '../geometry/vectors';
import type { PoleSurface } from './spline';

/** A place with its first and second derivatives: u, v, uu, uv, vv. */
export type Jet = readonly [Vec3, Vec3, Vec3, Vec3, Vec3, Vec3];

type Orders = readonly [readonly number[], readonly number[], readonly number[]];

/** The basis functions that are not zero at a place, and their first two derivatives. */
export interface Basis {
  readonly first: number;
  readonly values: readonly (readonly number[])[];
}

export interface Jets {
  readonly basis: (way: 0 | 1, t: number) => Basis;
  readonly jetOf: (u: Basis, v: Basis) => Jet;
}

/** @param surface without weights */
export function jetsOf({ degrees, knots, poles }: PoleSurface): Jets {
  const basis = (way: 0 | 1, t: number): Basis => {
    const span = findSpan(degrees[way], knots[way], knots[way].length - degrees[way] - 1, t);
    return { first: span - degrees[way], values: basisDerivatives(degrees[way], knots[way], span, t, 2) };
  };
  const sums = new Float64Array(18);
  const jetOf = (a: Basis, b: Basis): Jet => {
    sums.fill(0);
    const [a0, a1, a2] = a.values as Orders;
    const [b0, b1, b2] = b.values as Orders;
    for (let i = 0; i <= degrees[0]; i++) {
      const row = poles[a.first + i]!;
      for (let j = 0; j <= degrees[1]; j++) {
        const pole = row[b.first + j]!;
        const [p0, p1, p2] = [a0[i]! * b0[j]!, a1[i]! * b0[j]!, a0[i]! * b1[j]!];
        const [p3, p4, p5] = [a2[i]! * b0[j]!, a1[i]! * b1[j]!, a0[i]! * b2[j]!];
        for (let c = 0; c < 3; c++) {
          const x = pole[c]!;
          sums[c] = sums[c]! + p0 * x;
          sums[c + 3] = sums[c + 3]! + p1 * x;
          sums[c + 6] = sums[c + 6]! + p2 * x;
          sums[c + 9] = sums[c + 9]! + p3 * x;
          sums[c + 12] = sums[c + 12]! + p4 * x;
          sums[c + 15] = sums[c + 15]! + p5 * x;
        }
      }
    }
    const at = (k: number): Vec3 => [sums[k]!, sums[k + 1]!, sums[k + 2]!];
    return [at(0), at(3), at(6), at(9), at(12), at(15)];
  };
  return { basis, jetOf };
}
