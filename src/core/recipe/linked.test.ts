/** One drawing on several planes: what is changed on one is changed on all, until it is made its own. */
import { describe, expect, it } from 'vitest';
import { circle, empty } from '../../../tests/support/parts';
import { removeProfile, setProfile } from './edit';
import { parseProject, writeProject } from './file';
import { copyProfile, unlinkProfile } from './linked';
import type { Project } from './schema';

const start = (): Project => setProfile(empty(), circle('a', 'level', 10));
const of = (p: Project, id: string) => p.profiles.find((q) => q.id === id)!;
const radius = (p: Project, id: string): number => (of(p, id).curves[0] as { radius: number }).radius;
const wider = (p: Project, id: string, r: number): Project =>
  setProfile(p, { ...of(p, id), curves: of(p, id).curves.map((c) => (c.kind === 'circle' ? { ...c, radius: r } : c)) });

describe('a drawing copied to another plane', () => {
  it('is the same there, under a name of its own, and either changes both', () => {
    const { project, id } = copyProfile(start(), 'a', 'front');
    expect([of(project, id).plane, of(project, id).name, radius(project, id)]).toEqual(['front', 'a, copy', 10]);
    expect(radius(wider(project, 'a', 12), id)).toBe(12);
    expect(radius(wider(project, id, 7), 'a')).toBe(7);
    const moved = setProfile(project, { ...of(project, id), plane: 'side', name: 'Other' });
    expect([of(moved, 'a').plane, of(moved, 'a').name]).toEqual(['level', 'a']);
  });
  it('is copied again and all three stay one', () => {
    const one = copyProfile(start(), 'a', 'front');
    const two = copyProfile(one.project, one.id, 'side');
    expect(of(two.project, two.id).name).toBe('a, copy, copy');
    const changed = wider(two.project, two.id, 3);
    expect(['a', one.id, two.id].map((id) => radius(changed, id))).toEqual([3, 3, 3]);
    // The first goes; the others are one yet, and a new link is not theirs.
    const left = removeProfile(changed, 'a');
    const again = copyProfile(setProfile(left, circle('a', 'level', 99)), 'a', 'front');
    expect(radius(wider(again.project, one.id, 5), again.id)).toBe(99);
  });
  it('is by itself once it is made its own, and so is the last that is left', () => {
    const { project, id } = copyProfile(start(), 'a', 'front');
    const own = unlinkProfile(project, id);
    expect(own.profiles.map((p) => p.link)).toEqual([undefined, undefined]);
    expect(radius(wider(own, 'a', 12), id)).toBe(10);
    expect(unlinkProfile(own, id)).toBe(own);
  });
  it('comes back from a file as it was', () => {
    const { project, id } = copyProfile(start(), 'a', 'front');
    const read = parseProject(writeProject(project));
    expect(read.ok && radius(wider(read.value, 'a', 12), id)).toBe(12);
  });
});
