/** Curves of a drawing end to end. */
import { distance2, type PlanarCurve, type Point2, reverse } from '../curves/planar';

/** The curves that hang together with one of them, in order, run from end to end. */
export function chainWith(curves: readonly { readonly id: string; readonly curve: PlanarCurve }[], id: string): PlanarCurve[] {
  const first = curves.find((c) => c.id === id);
  if (!first) return [];
  const chain = [first.curve];
  const left = curves.filter((c) => c.id !== id);
  const near = (p: Point2, q: Point2): boolean => distance2(p, q) < 1e-4;
  for (let grown = true; grown; ) {
    grown = false;
    const [head, tail] = [chain[0]!.a, chain[chain.length - 1]!.b];
    if (chain.length > 1 && near(head, tail)) break;
    for (const [i, c] of left.entries()) {
      if (near(c.curve.a, tail)) chain.push(c.curve);
      else if (near(c.curve.b, tail)) chain.push(reverse(c.curve));
      else if (near(c.curve.b, head)) chain.unshift(c.curve);
      else if (near(c.curve.a, head)) chain.unshift(reverse(c.curve));
      else continue;
      left.splice(i, 1);
      grown = true;
      break;
    }
  }
  return chain;
}
