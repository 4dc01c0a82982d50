/** What the stage and the board are asked to pick, and where a pick goes. */
import { addProjection, removeProjection, setProjection } from '../../core/profile/follow';
import { setProfile, setStep } from '../../core/recipe/edit';
import type { Project } from '../../core/recipe/schema';
import type { Picking } from './asked';
import { setBench, useBench } from './bench';
import { change } from './project';

/** One thing picked. Steps on a body of their own take it without the body. */
export type Picked =
  | { readonly body?: string; readonly face: string }
  | PickedEdge
  | { readonly profile: string; readonly curve: string }
  | { readonly step: string };
export type PickedPlace =
  | { readonly body: string; readonly edge: string; readonly end: 'low' | 'middle' | 'high' }
  | { readonly profile: string; readonly point: string };
type PickedEdge = { readonly body?: string; readonly edge: string };

/** Picks of a list that says no number of its own. */
const MOST = 1000;

/** What is picked already, for tinting it on the stage. */
export function pickedSoFar(picking: Picking, project: Project): readonly object[] {
  const { target } = picking;
  if ('step' in target) {
    const step = project.steps.find((s) => s.id === target.step);
    // Drawings stand in such a list by their names; they are not picked on bodies.
    return ((step?.inputs[target.field] as readonly unknown[] | undefined) ?? []).filter((r) => typeof r === 'object' && r !== null);
  }
  if ('measure' in target) return [];
  const profile = project.profiles.find((p) => p.id === target.profile);
  return (profile?.projections ?? []).flatMap((p) =>
    p.body === target.body && p.what.kind === 'edges' ? p.what.edges.map((edge) => ({ edge })) : [],
  );
}

/** Adds a pick where it was asked for, or takes it out again; a full list ends the picking. */
export function takePick(pick: Picked | PickedPlace, project: Project): void {
  const picking = useBench.getState().picking;
  if (!picking) return;
  const { target } = picking;
  if ('measure' in target) return;
  if ('profile' in target) {
    if ('edge' in pick) followEdge(target.profile, target.body, pick.edge);
    return;
  }
  const step = project.steps.find((s) => s.id === target.step);
  if (!step) return;
  const list = (step.inputs[target.field] as readonly object[] | undefined) ?? [];
  const same = (a: object): boolean => JSON.stringify(a) === JSON.stringify(pick);
  const most = target.most ?? MOST;
  // A list for one thing takes the new one instead of the old.
  const kept = most === 1 ? [] : list;
  const next = list.some(same) ? list.filter((a) => !same(a)) : [...kept, pick].slice(-most);
  change((p) => setStep(p, { ...step, inputs: { ...step.inputs, [target.field]: next } }));
  if (next.length >= most) setBench({ picking: null });
}

/** Changes the list that is picked for; one that stays the same changes nothing. */
function setPicks(next: (list: readonly unknown[], most: number) => readonly unknown[]): void {
  const target = useBench.getState().picking?.target;
  if (!target || !('step' in target)) return;
  change((p) => {
    const step = p.steps.find((s) => s.id === target.step);
    if (!step) return p;
    const list = (step.inputs[target.field] as readonly unknown[] | undefined) ?? [];
    const changed = next(list, target.most ?? MOST);
    return changed.length === list.length ? p : setStep(p, { ...step, inputs: { ...step.inputs, [target.field]: changed } });
  });
}

/** Takes the last pick out again. */
export const dropLastPick = (): void => setPicks((list) => list.slice(0, -1));

/** Adds many picks at once; what is there already stays. */
export const takePicks = (picks: readonly Picked[]): void =>
  setPicks((list, most) => {
    const known = new Set(list.map((a) => JSON.stringify(a)));
    return [...list, ...picks.filter((p) => !known.has(JSON.stringify(p)))].slice(0, most);
  });

/** Has a profile follow an edge, or lets go of it. */
function followEdge(profileId: string, body: string, edge: string): void {
  change((project) => {
    const profile = project.profiles.find((p) => p.id === profileId);
    if (!profile) return project;
    for (const p of profile.projections) {
      if (p.body !== body || p.what.kind !== 'edges' || !p.what.edges.includes(edge)) continue;
      const edges = p.what.edges.filter((e) => e !== edge);
      const next = edges.length > 0 ? setProjection(profile, { ...p, what: { kind: 'edges', edges } }) : removeProjection(profile, p.id);
      return setProfile(project, next);
    }
    return setProfile(project, addProjection(profile, { body, what: { kind: 'edges', edges: [edge] }, outline: false }).profile);
  });
}
