/** Curves in space that something may be followed along: those that steps draw, and chains of drawn ones where their planes put them. */
import { isOriginPlane, ORIGIN_PLANES, toSpace } from '../../core/curves/frame';
import { flatten } from '../../core/curves/planar';
import type { Vec3 } from '../../core/geometry/vectors';
import { withFollowed } from '../../core/profile/follow';
import { resolveProfile } from '../../core/profile/resolve';
import type { Project } from '../../core/recipe/schema';
import { stepTitle } from '../../core/recipe/words';
import type { RebuildResult } from '../../engine/types';
import { tableOf } from './project';

export interface LineInSpace {
  readonly id: string;
  readonly words: string;
  /** Three coordinates a place, mm. */
  readonly line: readonly number[];
}

/** Ends that lie this near belong together, mm. */
const JOINED = 1e-4;

export function linesInSpace(project: Project, result: RebuildResult | null): LineInSpace[] {
  const out: LineInSpace[] = [...(result?.paths ?? [])].map(([id, line]) => ({ id, words: stepTitle(id, project), line: [...line] }));
  const { scope } = tableOf(project);
  for (const p of project.profiles) {
    const place = result?.profiles.get(p.id);
    const frame = isOriginPlane(p.plane) ? ORIGIN_PLANES[p.plane] : place?.frame;
    const resolved = resolveProfile(withFollowed(p, place?.follows ?? undefined), scope);
    if (!frame || !resolved.ok) continue;
    const pieces = resolved.value.curves.filter((c) => !c.construction).map((c) => flatten(c.curve, 0.02).map((q) => toSpace(frame, q)));
    const chains = chained(pieces);
    chains.forEach((chain, i) => {
      out.push({ id: `${p.id}/${i}`, words: chains.length > 1 ? `${p.name}, line ${i + 1}` : p.name, line: chain.flat() });
    });
  }
  return out;
}

const near = (a: Vec3, b: Vec3): boolean => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]) < JOINED;

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
