/** Gauss–Legendre quadrature. */

const known = new Map<number, readonly (readonly [number, number])[]>();

/**
 * Places and weights on the stretch from 0 to 1 that integrate polynomials of degree 2n − 1 exactly: roots of the Legendre polynomial by
 * Newton's steps (Press et al., Numerical Recipes, 4.6; from memory).
 */
export function gauss(n: number): readonly (readonly [number, number])[] {
  let rule = known.get(n);
  if (rule) return rule;
  rule = Array.from({ length: n }, (_, i) => {
    let x = Math.cos((Math.PI * (i + 0.75)) / (n + 0.5));
    let slope = 1;
    for (let round = 0; round < 20; round++) {
      let [a, b] = [1, x];
      for (let k = 2; k <= n; k++) [a, b] = [b, ((2 * k - 1) * x * b - (k - 1) * a) / k];
      slope = (n * (x * b - a)) / (x * x - 1);
      const step = b / slope;
      x -= step;
      if (Math.abs(step) < 1e-16) break;
    }
    return [(1 - x) / 2, 1 / ((1 - x * x) * slope * slope)] as const;
  });
  known.set(n, rule);
  return rule;
}
