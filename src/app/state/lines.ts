/** Curves in space that something may be followed along: those that steps draw, and chains of drawn ones where their planes put them. */
import { chained } from '../../core/curves/chained';
import { type Frame, isOriginPlane, ORIGIN_PLANES, toSpace } from '../../core/curves/frame';
import { flatten } from '../../core/curves/planar';
import type { Vec3 } from '../../core/geometry/vectors';
import { withFollowed } from '../../core/profile/follow';
import { type ResolvedProfile, resolveProfile } from '../../core/profile/resolve';
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

/** Where the plane of a drawing puts it; undefined while that is not built. */
export const frameOfDrawing = (profile: Profile, result: RebuildResult | null): Frame | undefined =>
  isOriginPlane(profile.plane) ? ORIGIN_PLANES[profile.plane] : (result?.profiles.get(profile.id)?.frame ?? undefined);

/** A drawing as it is solved, and where its plane puts it; undefined where either is not known. */
export function solvedDrawing(profile: Profile, project: Project, result: RebuildResult | null, dragged?: ResolvedProfile) {
  const frame = frameOfDrawing(profile, result);
  if (!frame) return undefined;
  if (dragged) return { frame, resolved: dragged };
  const follows = result?.profiles.get(profile.id)?.follows ?? undefined;
  const resolved = resolveProfile(withFollowed(profile, follows), tableOf(project).scope);
  return resolved.ok ? { frame, resolved: resolved.value } : undefined;
}

/**
 * The curves of a drawing where its plane puts them; none where that is not known.
 * @param deviation of the places from the curve, mm
 * @param dragged how it is solved while it is dragged
 */
export function curvesInSpace(
  profile: Profile,
  project: Project,
  result: RebuildResult | null,
  deviation: number,
  dragged?: ResolvedProfile,
): { readonly id: string; readonly construction: boolean; readonly points: Vec3[] }[] {
  const drawn = solvedDrawing(profile, project, result, dragged);
  return (drawn?.resolved.curves ?? []).map((c) => ({
    id: c.id,
    construction: c.construction,
    points: flatten(c.curve, deviation).map((p) => toSpace(drawn!.frame, p)),
  }));
}

/** Places of a line from their coordinates in a row. */
export const spaceLine = (line: ArrayLike<number>): Vec3[] =>
  Array.from({ length: line.length / 3 }, (_, i): Vec3 => [line[3 * i]!, line[3 * i + 1]!, line[3 * i + 2]!]);

const stepsBefore = ({ steps }: Project, step: string): ReadonlySet<string> =>
  new Set(
    steps
      .slice(
        0,
        steps.findIndex((s) => s.id === step),
      )
      .map((s) => s.id),
  );

/** Drawn lines and curves in space that are there before a step. */
export function drawnBefore(project: Project, result: RebuildResult | null, step: string): DrawnLine[] {
  const earlier = stepsBefore(project, step);
  const out: DrawnLine[] = [];
  for (const [id, line] of result?.paths ?? []) if (earlier.has(id)) out.push({ ref: { step: id }, points: spaceLine(line) });
  for (const p of project.profiles)
    if (isOriginPlane(p.plane) || earlier.has(p.plane))
      for (const c of curvesInSpace(p, project, result, 0.1)) out.push({ ref: { profile: p.id, curve: c.id }, points: c.points });
  return out.filter((l) => l.points.length > 1);
}

/** A drawn point that a step may take as a place. */
export interface DrawnPoint {
  readonly ref: { readonly profile: string; readonly point: string };
  readonly at: Vec3;
}

/** The points of a drawing where its plane puts them; none where that is not known. */
export function pointsInSpace(profile: Profile, project: Project, result: RebuildResult | null): DrawnPoint[] {
  const drawn = solvedDrawing(profile, project, result);
  if (!drawn) return [];
  return profile.points.flatMap(({ id }): DrawnPoint[] => {
    const place = drawn.resolved.points.get(id);
    return place ? [{ ref: { profile: profile.id, point: id }, at: toSpace(drawn.frame, place) }] : [];
  });
}

/** Points of drawings that are there before a step. */
export function pointsBefore(project: Project, result: RebuildResult | null, step: string): DrawnPoint[] {
  const earlier = stepsBefore(project, step);
  return project.profiles.filter((p) => isOriginPlane(p.plane) || earlier.has(p.plane)).flatMap((p) => pointsInSpace(p, project, result));
}
