/** Polynomials through places, in Newton's form. Source: any text on interpolation (Press et al., Numerical Recipes, 3.5; from memory). */

/** Place and derivative in the plane: u, v, u′, v′. */
type At = readonly [number, number, number, number];

/**
 * A curve in the plane that is known to be a polynomial from `from` to `to`, read from as many places as tell it: those of Chebyshev, which lie
 * inside, so that a corner at an end is not met.
 */
export function polynomialThrough(
  degree: number,
  from: number,
  to: number,
  ask: (t: number) => readonly [number, number, ...unknown[]],
): (t: number) => At {
  const count = degree + 1;
  const [middle, half] = [(from + to) / 2, (to - from) / 2];
  const nodes = Array.from({ length: count }, (_, i) => Math.cos((Math.PI * (i + 0.5)) / count));
  const u = new Float64Array(count);
  const v = new Float64Array(count);
  nodes.forEach((x, i) => {
    [u[i], v[i]] = ask(middle + half * x);
  });
  for (let k = 1; k < count; k++)
    for (let i = count - 1; i >= k; i--) {
      const d = nodes[i]! - nodes[i - k]!;
      u[i] = (u[i]! - u[i - 1]!) / d;
      v[i] = (v[i]! - v[i - 1]!) / d;
    }
  return (t) => {
    const x = (t - middle) / half;
    let [a, b, da, db] = [u[degree]!, v[degree]!, 0, 0];
    for (let k = degree - 1; k >= 0; k--) {
      const d = x - nodes[k]!;
      da = da * d + a;
      db = db * d + b;
      a = a * d + u[k]!;
      b = b * d + v[k]!;
    }
    return [a, b, da / half, db / half];
  };
}
