/** What is picked and its images as regions of their own: neighbours that are each other's images are not one region. */
import { along } from '../../geometry/vectors';
import type { CageOf, P3 } from '../cage';
import { faceFinder } from './select';
import { type Motion, moved, type Partners, turnsOver } from './symmetry';
import { facesBeside, type Topology } from './topology';

export interface Region {
  readonly faces: readonly number[];
  /** Carries the first region of its kind to this one. */
  readonly motion: Motion;
}

/**
 * Parts faces where a face meets its own image, and where what was picked meets an image of it. Where a cage repeats about its axis the turns
 * part; mirror planes only where there are no turns, so that a column with a middle plane stays whole.
 * @param full what was picked with all its images
 */
export function regionsApart(
  cage: CageOf<unknown>,
  picked: readonly number[],
  full: readonly number[],
  t: Topology,
  p: Partners,
): Region[] {
  const turns = p.motions.flatMap((m, g) => (g > 0 && !turnsOver(m) ? [g] : []));
  const used = turns.length > 0 ? turns : p.motions.flatMap((_, g) => (g > 0 ? [g] : []));
  const find = faceFinder(cage);
  const image = (f: number, g: number): number => find(cage.faces[f]!.map((v) => p.maps[g]![v]!));
  const home = new Map<number, number>();
  for (const g of [0, ...used])
    for (const f of picked) {
      const to = image(f, g);
      if (to >= 0 && !home.has(to)) home.set(to, g);
    }
  const orbit = new Map(full.map((f) => [f, new Set(used.map((g) => image(f, g)))]));
  const parts = (a: number, b: number): boolean => {
    const [one, two] = [home.get(a), home.get(b)];
    return orbit.get(a)!.has(b) || (one !== undefined && two !== undefined && one !== two);
  };
  const left = new Set(full);
  const regions: number[][] = [];
  for (const first of full) {
    if (!left.delete(first)) continue;
    const region = [first];
    for (const f of region)
      for (const [i, a] of cage.faces[f]!.entries()) {
        const b = cage.faces[f]![(i + 1) % cage.faces[f]!.length]!;
        for (const next of facesBeside(t.net, t.edge(a, b))) if (left.has(next) && !parts(f, next) && left.delete(next)) region.push(next);
      }
    regions.push(region);
  }
  // The regions that lead, each with what it looks like from the others.
  const leads: Region[] = [];
  return regions.map((faces) => {
    for (const lead of leads) for (const g of used) if (faces.includes(image(lead.faces[0]!, g))) return { faces, motion: p.motions[g]! };
    const own: Region = { faces, motion: p.motions[0]! };
    leads.push(own);
    return own;
  });
}

/** Where the vertices of a region go when what leads it is moved along. */
export const movedAlong = (cage: CageOf<unknown>, { faces, motion }: Region, by: P3): Map<number, P3> => {
  const d = moved(motion, by);
  return new Map(faces.flatMap((f) => cage.faces[f]!).map((v) => [v, along(cage.vertices[v]!, d, 1)]));
};
