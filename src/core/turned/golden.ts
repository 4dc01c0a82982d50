/** Golden-section search (Kiefer 1953). */
const GOLDEN = 0.6180339887498949;

/** Narrows an interval towards the greatest value of a function of one peak; what is seen on the way is kept by the function itself. */
export function seekGreatest(f: (t: number) => number, from: number, to: number, rounds: number): void {
  let [a, b] = [from, to];
  let [c, d] = [b - GOLDEN * (b - a), a + GOLDEN * (b - a)];
  let [atC, atD] = [f(c), f(d)];
  for (let i = 0; i < rounds && b - a > 1e-10; i++)
    if (atC > atD) {
      b = d;
      d = c;
      atD = atC;
      c = b - GOLDEN * (b - a);
      atC = f(c);
    } else {
      a = c;
      c = d;
      atC = atD;
      d = a + GOLDEN * (b - a);
      atD = f(d);
    }
}
