/** Curves of a drawing end to end. */
import { distance2, type PlanarCurve, type Point2, reverse } from '../curves/planar';
import { fail, ok, type Result } from '../result';
import type { ResolvedProfile } from './resolve';

export interface ChainCurve {
  readonly id: string;
  /** Run the way the chain goes. */
  readonly curve: PlanarCurve;
}

const NEAR = 1e-4;
const near = (p: Point2, q: Point2): boolean => distance2(p, q) < NEAR;

/** The curves that hang together with one of them, in order, run from end to end. */
export function chainWith(curves: readonly ChainCurve[], id: string): ChainCurve[] {
  const first = curves.find((c) => c.id === id);
  if (!first) return [];
  const chain: ChainCurve[] = [{ id, curve: first.curve }];
  const left = curves.filter((c) => c.id !== id);
  for (let grown = true; grown; ) {
    grown = false;
    const [head, tail] = [chain[0]!.curve.a, chain[chain.length - 1]!.curve.b];
    if (chain.length > 1 && near(head, tail)) break;
    for (const [i, c] of left.entries()) {
      if (near(c.curve.a, tail)) chain.push({ id: c.id, curve: c.curve });
      else if (near(c.curve.b, tail)) chain.push({ id: c.id, curve: reverse(c.curve) });
      else if (near(c.curve.b, head)) chain.unshift({ id: c.id, curve: c.curve });
      else if (near(c.curve.a, head)) chain.unshift({ id: c.id, curve: reverse(c.curve) });
      else continue;
      left.splice(i, 1);
      grown = true;
      break;
    }
  }
  return chain;
}

/** The one open line a drawing consists of, which a surface is raised from. Undefined where an outline is closed. */
export function openLine(resolved: ResolvedProfile): Result<ChainCurve[] | undefined> {
  const drawn = resolved.curves.filter((c) => !c.construction);
  if (drawn.length === 0) return fail('nothing is drawn yet');
  const chain = chainWith(drawn, drawn[0]!.id);
  if (near(chain[0]!.curve.a, chain[chain.length - 1]!.curve.b)) return ok(undefined);
  if (chain.length < drawn.length) return fail('it is not one line: some of its curves do not hang together');
  return ok(chain);
}
