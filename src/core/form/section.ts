/** Where an axis-square plane meets a mesh, as stretches: also of one that is open, whose cuts do not close. */
import { triple } from '../geometry/vectors';
import type { P3 } from './cage';

/**
 * @param k axis the plane is square to; @param at its place on it, mm
 * @returns pairs of places
 */
export function cutAcross(positions: ArrayLike<number>, indices: ArrayLike<number>, k: 0 | 1 | 2, at: number): (readonly [P3, P3])[] {
  const place = (v: number): P3 => [positions[3 * v]!, positions[3 * v + 1]!, positions[3 * v + 2]!];
  const out: (readonly [P3, P3])[] = [];
  for (let t = 0; t < indices.length; t += 3) {
    const corners = [0, 1, 2].map((i) => place(indices[t + i]!));
    const met: P3[] = [];
    for (const [i, p] of corners.entries()) {
      const q = corners[(i + 1) % 3]!;
      // A corner on the plane counts as above, so that every crossing is met once.
      if (p[k]! >= at === q[k]! >= at) continue;
      const s = (at - p[k]!) / (q[k]! - p[k]!);
      met.push(triple((c) => p[c]! + s * (q[c]! - p[c]!)));
    }
    if (met.length === 2) out.push([met[0]!, met[1]!]);
  }
  return out;
}
