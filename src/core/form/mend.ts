/** What the findings of a cage propose, done: one, or all of a kind, with how far the body goes from where it was. */
import { type ClosestHit, closestOpposing } from '../mesh/bvh';
import { type Cage, type CageOf, netOf, numbered } from './cage';
import { type Finding, type FindingKind, layoutFindings, type Repair } from './doctor';
import { applyEdit, type Setting } from './edit/edit';
import { limitMesh } from './limit';
import { limitSkin } from './skin';

/** Weights as a document keeps them. */
export interface Weights<W> extends Setting<W> {
  readonly written: (weight: number) => W;
}

/** A repair done, or the words it is refused with. */
export function mended<W>(cage: CageOf<W>, { edit, picked }: Repair, setting: Weights<W>): ReturnType<typeof applyEdit<W>> {
  const written = edit.do === 'crease' ? { ...edit, weight: setting.written(edit.weight as number) } : edit;
  return applyEdit(cage, picked, written, setting);
}

/** Findings that are told together: those of a kind, and of vertices those with as many edges. */
export const groupOf = (f: Finding): string => (f.kind === 'valence' ? f.what : f.kind);

/** Repairs of one kind are tried so often at most. */
const MOST = 400;

/**
 * All repairs of a kind, one after the other: each changes the numbers of what is left.
 * @param panel it is to be a surface
 */
export function mendedAll<W>(
  cage: CageOf<W>,
  kind: FindingKind,
  setting: Weights<W>,
  panel: boolean,
): { readonly cage: CageOf<W>; readonly done: number; readonly left: number } {
  const of = (c: CageOf<W>): Finding[] => layoutFindings(numbered(c, setting.weigh), panel).filter((f) => f.kind === kind && f.repair);
  let now = cage;
  let left = of(now);
  const before = left.length;
  for (let round = 0; round < MOST && left.length > 0; round++) {
    let next: { cage: CageOf<W>; left: Finding[] } | undefined;
    for (const f of left) {
      const made = mended(now, f.repair!, setting);
      if (!made.ok) continue;
      const after = of(made.value.cage);
      // One that mends nothing would be done for ever.
      if (after.length >= left.length) continue;
      next = { cage: made.value.cage, left: after };
      break;
    }
    if (!next) break;
    now = next.cage;
    left = next.left;
  }
  return { cage: now, done: before - left.length, left: left.length };
}

/** Largest distance from the smooth body of one cage to that of another, mm; null where one has none. */
export function bodyMovedBy(before: Cage, after: Cage): number | null {
  const [a, b] = [netOf(before), netOf(after)];
  if (!a.ok || !b.ok) return null;
  const was = limitSkin(a.value, 3);
  const { places } = limitMesh(b.value, 2);
  const hit: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };
  let most = 0;
  for (let i = 0; i < places.length; i += 3) {
    closestOpposing(was, places[i]!, places[i + 1]!, places[i + 2]!, 0, 0, 1, 1, 1e5, hit);
    most = Math.max(most, hit.distance);
  }
  return most;
}
