/** What messages may quote of a document: names of bodies, drawings, curves, steps and planes, and the unit of their figures. */
import type { Project } from './schema';
import { sidesOf } from './sides';
import { bodyWords, curveWords, planeWords, stepTitle } from './words';

/** Words by what they name. */
export type Quotable = ReadonlyMap<string, string>;

const UNITS = 'units';

export function quotable(project: Project): Quotable {
  const out = new Map<string, string>([[UNITS, project.units]]);
  for (const id of new Set([...Object.keys(project.bodies), ...project.steps.map((s) => s.id)]))
    out.set(`body ${id}`, bodyWords(id, project));
  for (const s of project.steps) {
    out.set(`step ${s.id}`, stepTitle(s.id, project));
    out.set(`plane ${s.id}`, planeWords(s.id, project));
    const drawn = project.profiles.find((p) => p.id === s.inputs.profile);
    if (drawn) for (const [face, side] of sidesOf(project, s, drawn)) out.set(`side ${s.id}/${face}`, side);
  }
  for (const p of project.profiles) {
    out.set(`drawing ${p.id}`, p.name);
    for (const c of p.curves) out.set(`curve ${p.id} ${c.id}`, curveWords(p, c.id));
  }
  return out;
}

/** Whether something said under some names may read otherwise under others. @param said all of its text */
export function readsOtherwise(said: string, before: Quotable, now: Quotable): boolean {
  if (said === '' || before === now) return false;
  for (const [what, words] of before) {
    if (now.get(what) === words) continue;
    if (what === UNITS || said.includes(words)) return true;
  }
  return false;
}
