/** How the cage of a form is looked at and what of it is picked. Not undoable, not saved. */
import { toast } from 'sonner';
import { create } from 'zustand';
import { type Cage, type CageOf, numbered } from '../../core/form/cage';
import type { Finding, FindingKind } from '../../core/form/doctor';
import { applyEdit, type Edit, type Edited } from '../../core/form/edit/edit';
import { countOf, nothing, type Picked, type PickKind } from '../../core/form/edit/select';
import type { Symmetry } from '../../core/form/edit/symmetry';
import { topologyOf } from '../../core/form/edit/topology';
import { bodyMovedBy, mended, mendedAll, type Weights } from '../../core/form/mend';
import { type CageSource, cageFields, cageOf, repeatedCage, weigher } from '../../core/form/read';
import { setStep } from '../../core/recipe/edit';
import type { Project, Step } from '../../core/recipe/schema';
import { type FormInputs, stepOf } from '../../core/recipe/steps';
import { ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import { setBench } from './bench';
import { change, tableOf, useProject } from './project';

export type FormView = 'both' | 'cage' | 'body';
/** Where a pull on the stage leads: along the skin's normal, along one way, within the two of a plane, about the upright axis, or to a size. */
export type Freedom = 'out' | 'x' | 'y' | 'z' | 'xy' | 'xz' | 'yz' | 'turn' | 'size';

interface Shaping {
  readonly view: FormView;
  readonly kind: PickKind;
  readonly picked: Picked;
  readonly under: Picked | null;
  readonly freedom: Freedom;
  /** Reach of a soft move, mm; 0 for none. */
  readonly soft: number;
  /** Vertices where other than four edges meet, and the weights of creases, are written at them. */
  readonly marks: boolean;
  /** The smooth body mirrors stripes. */
  readonly reflect: boolean;
  /** What is drawn while something moves. */
  readonly draft: Cage | null;
  /** How far it was moved, in words. */
  readonly moved: string | null;
  /** Why the last edit was refused, or what is worth telling of it. */
  readonly refusal: string | null;
  readonly note: string | null;
}

const START: Shaping = {
  view: 'both',
  kind: 'faces',
  picked: nothing('faces'),
  under: null,
  freedom: 'out',
  soft: 0,
  marks: false,
  reflect: false,
  draft: null,
  moved: null,
  refusal: null,
  note: null,
};
export const useShaping = create<Shaping>(() => START);
export const setShaping = useShaping.setState;

/** Nothing is picked any more; how the form is looked at stays. */
export const letGo = (): void =>
  setShaping((s) => ({ picked: nothing(s.kind), under: null, draft: null, moved: null, refusal: null, note: null }));

/** The form that is worked on, when it is one by a cage. */
export function cageStep(project: Project, step: string | null): { step: Step; inputs: FormInputs; source: CageSource } | null {
  const found = stepOf(project, step, 'form');
  return found?.inputs.source.by === 'cage' ? { step: found, inputs: found.inputs, source: found.inputs.source } : null;
}

const cages = new WeakMap<CageSource, { scope: unknown; read: ReadCage | null }>();
export interface ReadCage {
  readonly texts: CageOf<string>;
  readonly cage: Cage;
  readonly symmetry: Symmetry;
}

/** The cage of a source, worked out once for a table of dimensions; null where it can't be. */
export function readCage(source: CageSource, project: Project): ReadCage | null {
  const { scope } = tableOf(project);
  const known = cages.get(source);
  if (known && known.scope === scope) return known.read;
  const [texts, cage] = [repeatedCage(source, scope), cageOf(source, scope)];
  const read = texts.ok && cage.ok ? { texts: texts.value.cage, symmetry: texts.value.symmetry, cage: cage.value } : null;
  cages.set(source, { scope, read });
  return read;
}

/** What is picked, as far as the cage still has it. */
export function stillPicked(picked: Picked, cage: CageOf<unknown>): Picked {
  if (picked.kind === 'faces') return picked.faces.every((f) => f < cage.faces.length) ? picked : nothing('faces');
  if (picked.kind === 'vertices') return picked.vertices.every((v) => v < cage.vertices.length) ? picked : nothing('vertices');
  const t = topologyOf(cage);
  return t.ok && picked.edges.every(([a, b]) => t.value.edge(a, b) >= 0) ? picked : nothing('edges');
}

/** Writes a cage into its step. */
export function writeCage(
  found: { step: Step; inputs: FormInputs; source: CageSource },
  cage: CageOf<string>,
  folded: number,
  more: Partial<CageSource> = {},
): void {
  const source: CageSource = {
    ...found.source,
    ...cageFields(cage),
    folded,
    ...more,
  };
  change((p) => setStep(p, { ...found.step, inputs: { ...found.inputs, source } }));
}

/** Edits the cage that is worked on: one undoable change, or a refusal in words that changes nothing. */
export function shape(step: string, edit: Edit, on?: Picked): boolean {
  const { project } = useProject.getState();
  const found = project && cageStep(project, step);
  const read = found && readCage(found.source, project);
  if (!found || !read) return false;
  const picked = on ?? stillPicked(useShaping.getState().picked, read.texts);
  return take(found, read, applyEdit(read.texts, picked, edit, { symmetry: read.symmetry, weigh: weigher(tableOf(project).scope) }));
}

/** Writes what came of an edit, or tells why nothing did. */
function take(found: NonNullable<ReturnType<typeof cageStep>>, read: ReadCage, r: Result<Edited<string>, string>): boolean {
  if (!r.ok) {
    setShaping({ refusal: r.error, note: null });
    return false;
  }
  writeCage(found, r.value.cage, read.symmetry.fold);
  const next = countOf(r.value.picked) > 0 ? r.value.picked : nothing(r.value.picked.kind);
  setShaping({ picked: next, kind: next.kind, under: null, refusal: null, note: r.value.note });
  return true;
}

/** What the repairs of findings work with, of the cage that is worked on. */
function mending(step: string) {
  const { project } = useProject.getState();
  const found = project && cageStep(project, step);
  const read = found && readCage(found.source, project);
  if (!found || !read) return null;
  const setting: Weights<string> = { symmetry: read.symmetry, weigh: weigher(tableOf(project).scope), written: String };
  return { found, read, setting, panel: found.inputs.mode === 'surface' };
}

/** Does what a finding proposes. */
export function mend(step: string, { what, repair }: Finding): void {
  const m = mending(step);
  if (m && repair && take(m.found, m.read, mended(m.read.texts, repair, m.setting))) setShaping({ note: `${what} Done: ${repair.words}.` });
}

/** Does what all findings of a kind propose, as one change. */
export function mendAll(step: string, kind: FindingKind): void {
  const m = mending(step);
  if (!m) return;
  const { cage, done, left } = mendedAll(m.read.texts, kind, m.setting, m.panel);
  if (done === 0) return setShaping({ refusal: 'None of them can be mended so: mend them by hand.', note: null });
  writeCage(m.found, cage, m.read.symmetry.fold);
  const rest = left > 0 ? `; ${left} can’t be mended so` : '';
  setShaping({ picked: nothing(useShaping.getState().kind), under: null, refusal: null, note: `${done} mended${rest}.` });
}

/** What a repair would do to the body, in words; all of its kind where so many are asked for. */
export function mendingWords(step: string, f: Finding, all: boolean): string {
  const m = mending(step);
  if (!m || !f.repair) return '';
  const made = all ? ok(mendedAll(m.read.texts, f.kind, m.setting, m.panel)) : mended(m.read.texts, f.repair, m.setting);
  if (!made.ok) return `it can’t be: ${made.error}`;
  const off = bodyMovedBy(m.read.cage, numbered(made.value.cage, m.setting.weigh));
  if (off === null) return 'what it does to the body can’t be told';
  return off < 5e-4 ? 'the body stays where it is' : `the body goes up to ${fixed(off, off < 0.1 ? 3 : 2)} mm from where it was`;
}

/** Ends what is being moved, and writes it. */
export function endDrag(step: string, edit: Edit | null): void {
  setBench({ preview: null });
  setShaping({ draft: null, moved: null });
  if (edit && !shape(step, edit)) toast.error(useShaping.getState().refusal ?? '');
}
