/** Forms to begin with, as steps of the sheet. */
import { toast } from 'sonner';
import type { Cage } from '../../core/form/cage';
import { layoutFindings } from '../../core/form/doctor';
import { cageFromHalf, cageFromOutline } from '../../core/form/from-drawing';
import { sourceOf } from '../../core/form/read';
import type { RingForm } from '../../core/form/rings';
import { withFollowed } from '../../core/profile/follow';
import { resolveProfile } from '../../core/profile/resolve';
import { addStep } from '../../core/recipe/edit';
import type { Project } from '../../core/recipe/schema';
import type { FormInputs, FormSource } from '../../core/recipe/steps';
import { fail } from '../../core/result';
import { degrees } from '../../core/units/units';
import { readCage } from '../files/read';
import { setBench, useBench } from '../state/bench';
import { change, tableOf } from '../state/project';
import { chooseFile } from '../ui/chooseFile';

/** A table of rings that says where the cage stands. */
export const ringSource = (form: RingForm): FormSource => ({
  by: 'rings',
  sides: `${form.sides}`,
  ridge: `${Number(form.ridge.toFixed(6))} mm`,
  on: 'cage',
  rows: form.rows.map((r) => ({
    height: `${Number(r.height.toFixed(6))} mm`,
    radius: `${Number(r.radius.toFixed(6))} mm`,
    twist: `${Number(degrees(r.twist).toFixed(6))}°`,
    crease: `${r.crease}`,
  })),
  bottom: form.bottom,
  top: form.top,
});

export function addForm(source: FormSource, plane = 'level', mode: FormInputs['mode'] = 'new'): void {
  const inputs: FormInputs = { source, plane, follow: 'well', mode, body: null };
  let id = '';
  change((p) => {
    const r = addStep(p, 'form', inputs);
    id = r.id;
    return r.project;
  });
  setBench({ step: id });
}

/** Makes a form of a drawing, on the drawing's own plane, or says why not. */
export function formFromDrawing(project: Project, id: string): void {
  const profile = project.profiles.find((p) => p.id === id);
  if (!profile) return;
  const { scope } = tableOf(project);
  const follows = useBench.getState().result?.profiles.get(id)?.follows ?? undefined;
  const resolved = resolveProfile(withFollowed(profile, follows), scope);
  const cage = resolved.ok
    ? profile.half
      ? cageFromHalf(resolved.value, profile.name, 12, 8)
      : cageFromOutline(resolved.value, scope, 16, 40)
    : fail(resolved.error.message);
  // A half profile is turned about the upright axis; a cage stands over the level plane.
  if (cage.ok) addForm(sourceOf(cage.value), profile.half ? 'level' : profile.plane);
  else toast.error(`${profile.name}: ${cage.error}`);
}

/** What takes no flat caps begins as a surface: as a solid it would begin with a failure. */
export const modeFor = (cage: Cage): 'new' | 'surface' =>
  layoutFindings(cage, false).some((f) => f.kind === 'not-flat') ? 'surface' : 'new';

/** Asks for an OBJ file and makes a form of its faces, or says why not. */
export const chooseCageFile = (): void =>
  chooseFile('.obj', async (file) => {
    const cage = await readCage(file);
    if (cage.ok) addForm(sourceOf(cage.value), 'level', modeFor(cage.value));
    else toast.error(`${file.name}: ${cage.error}`);
  });
