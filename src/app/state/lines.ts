/** Curves in space that something may be followed along: those that steps draw, and chains of drawn ones where their planes put them. */
import { isOriginPlane, ORIGIN_PLANES, toSpace } from '../../core/curves/frame';
import { flatten } from '../../core/curves/planar';
import { distance, dot, minus, unit, type Vec3 } from '../../core/geometry/vectors';
import { withFollowed } from '../../core/profile/follow';
import { resolveProfile } from '../../core/profile/resolve';
import type { Profile, Project } from '../../core/recipe/schema';
import type { PathRef } from '../../core/recipe/steps';
import { stepTitle } from '../../core/recipe/words';
import type { RebuildResult } from '../../engine/types';
import { tableOf } from './project';

/** A line that a step may be led along, as it picks it. */
export interface DrawnLine {
  readonly ref: PathRef;
  /** At least two, mm. */
  readonly points: readonly Vec3[];
}

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
  for (const p of project.profiles) {
    const curves = curvesInSpace(p, project, result, 0.02);
    const pieces = curves.filter((c) => !c.construction).map((c) => c.points);
    const chains = chained(pieces);
    chains.forEach((chain, i) => {
      out.push({ id: `${p.id}/${i}`, words: chains.length > 1 ? `${p.name}, line ${i + 1}` : p.name, line: chain.flat() });
    });
  }
  return out;
}

/**
 * The curves of a drawing where its plane puts them; none where that is not known.
 * @param deviation of the places from the curve, mm
 */
export function curvesInSpace(
  profile: Profile,
  project: Project,
  result: RebuildResult | null,
  deviation: number,
): { readonly id: string; readonly construction: boolean; readonly points: Vec3[] }[] {
  const place = result?.profiles.get(profile.id);
  const frame = isOriginPlane(profile.plane) ? ORIGIN_PLANES[profile.plane] : place?.frame;
  if (!frame) return [];
  const resolved = resolveProfile(withFollowed(profile, place?.follows ?? undefined), tableOf(project).scope);
  if (!resolved.ok) return [];
  return resolved.value.curves.map((c) => ({
    id: c.id,
    construction: c.construction,
    points: flatten(c.curve, deviation).map((p) => toSpace(frame, p)),
  }));
}

/** Places of a line from their coordinates in a row. */
export const spaceLine = (line: ArrayLike<number>): Vec3[] =>
  Array.from({ length: line.length / 3 }, (_, i): Vec3 => [line[3 * i]!, line[3 * i + 1]!, line[3 * i + 2]!]);

/** Drawn lines and curves in space that are there before a step. */
export function drawnBefore(project: Project, result: RebuildResult | null, step: string): DrawnLine[] {
  const earlier = new Set(
    project.steps
      .slice(
        0,
        project.steps.findIndex((s) => s.id === step),
      )
      .map((s) => s.id),
  );
  const out: DrawnLine[] = [];
  for (const [id, line] of result?.paths ?? []) if (earlier.has(id)) out.push({ ref: { step: id }, points: spaceLine(line) });
  for (const p of project.profiles)
    if (isOriginPlane(p.plane) || earlier.has(p.plane))
      for (const c of curvesInSpace(p, project, result, 0.1)) out.push({ ref: { profile: p.id, curve: c.id }, points: c.points });
  return out.filter((l) => l.points.length > 1);
}

/** Ends of lines of places whose directions differ by less go on from each other: the places lie up to 0.1 mm beside bends, rad. */
const GOES_ON = 0.2;

/** A line with all that go on from it without a corner; of a drawing one curve stands for those that hang together. */
export function withAllThatGoOn(lines: readonly DrawnLine[], ref: PathRef): PathRef[] {
  const at = lines.findIndex((l) => l.ref === ref);
  const chain = goingOn(
    lines.map((l) => l.points),
    at,
  ).map((i) => lines[i]!.ref);
  return chain.filter((r, i) => !('profile' in r) || chain.findIndex((q) => 'profile' in q && q.profile === r.profile) === i);
}

/** Places in the list, its own first. */
export function goingOn(lines: readonly (readonly Vec3[])[], of: number): number[] {
  const way = (p: readonly Vec3[], end: 'start' | 'end'): Vec3 => {
    const [a, b] = end === 'start' ? [p[1]!, p[0]!] : [p.at(-2)!, p.at(-1)!];
    return unit(minus(b, a)) ?? [0, 0, 0];
  };
  const out = [of];
  for (let i = 0; i < out.length; i++) {
    const p = lines[out[i]!]!;
    for (const [j, q] of lines.entries()) {
      if (out.includes(j)) continue;
      const meets = (['start', 'end'] as const).some((e) =>
        (['start', 'end'] as const).some(
          (f) =>
            near(e === 'start' ? p[0]! : p.at(-1)!, f === 'start' ? q[0]! : q.at(-1)!) && dot(way(p, e), way(q, f)) < -Math.cos(GOES_ON),
        ),
      );
      if (meets) out.push(j);
    }
  }
  return out;
}

const near = (a: Vec3, b: Vec3): boolean => distance(a, b) < JOINED;

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
