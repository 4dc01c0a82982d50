/** Lines strung together, mm. */
import { distance, type Vec3 } from '../geometry/vectors';

/** Ends that lie this near belong together, mm. */
export const JOINED = 1e-4;

const near = (a: Vec3, b: Vec3): boolean => distance(a, b) < JOINED;

/** Whether a line ends where it begins. */
export const isClosed = (line: readonly Vec3[]): boolean => line.length > 3 && near(line[0]!, line[line.length - 1]!);

/** Pieces strung together where their ends meet. */
export function chained(pieces: readonly (readonly Vec3[])[]): Vec3[][] {
  const left = pieces.filter((p) => p.length > 1).map((p) => [...p]);
  const out: Vec3[][] = [];
  while (left.length > 0) {
    let chain = left.shift()!;
    for (let found = true; found; ) {
      found = false;
      for (let i = 0; i < left.length; i++) {
        const p = left[i]!;
        const [head, tail] = [chain[0]!, chain[chain.length - 1]!];
        if (near(tail, p[0]!)) chain = [...chain, ...p.slice(1)];
        else if (near(tail, p[p.length - 1]!)) chain = [...chain, ...p.toReversed().slice(1)];
        else if (near(head, p[p.length - 1]!)) chain = [...p, ...chain.slice(1)];
        else if (near(head, p[0]!)) chain = [...p.toReversed(), ...chain.slice(1)];
        else continue;
        left.splice(i, 1);
        found = true;
        break;
      }
    }
    out.push(chain);
  }
  return out;
}
