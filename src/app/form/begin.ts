/** Forms to begin with, as steps of the sheet. */
import { toast } from 'sonner';
import type { Cage } from '../../core/form/cage';
import { cageFromObj } from '../../core/form/starts';
import { addStep } from '../../core/recipe/edit';
import type { FormInputs, FormSource } from '../../core/recipe/steps';
import { setBench } from '../state/bench';
import { change } from '../state/project';

/** A plain vessel of rings, flat below and above. */
export const startRings = (): FormSource => ({
  by: 'rings',
  sides: '12',
  ridge: '0 mm',
  on: 'body',
  rows: [
    [0, 30],
    [25, 40],
    [50, 42],
    [75, 36],
    [100, 32],
  ].map(([z, r]) => ({ height: `${z} mm`, radius: `${r} mm`, twist: '0°', crease: '0' })),
  bottom: 'flat',
  top: 'flat',
});

export const sourceOf = (cage: Cage): FormSource => ({
  by: 'cage',
  vertices: cage.vertices.map(([x, y, z]) => [x, y, z]),
  faces: cage.faces.map((f) => [...f]),
  creases: cage.creases.map(([a, b, w]) => [a, b, `${w}`]),
  corners: cage.corners.map(([v, w]) => [v, `${w}`]),
  mirror: [],
  fold: '1',
  folded: 1,
});

export function addForm(source: FormSource): void {
  const inputs: FormInputs = { source, plane: 'level', follow: 'well', mode: 'new', body: null };
  let id = '';
  change((p) => {
    const r = addStep(p, 'form', inputs);
    id = r.id;
    return r.project;
  });
  setBench({ step: id });
}

/** Asks for an OBJ file and makes a form of its faces, or says why not. */
export function chooseCageFile(): void {
  const input = document.createElement('input');
  input.type = 'file';
  input.accept = '.obj';
  input.onchange = async () => {
    const file = input.files?.[0];
    if (!file) return;
    const cage = cageFromObj(await file.text());
    if (cage.ok) addForm(sourceOf(cage.value));
    else toast.error(`${file.name}: ${cage.error}`);
  };
  input.click();
}
