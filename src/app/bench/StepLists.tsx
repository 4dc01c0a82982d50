import { useMemo, useState } from 'react';
import { bodiesBefore, curvesBefore } from '../../core/recipe/edit';
import { atAnyCopy, type EdgeRef, type FaceRef } from '../../core/recipe/names';
import type { Project, Step } from '../../core/recipe/schema';
import { type PickKind, type Pick as PlanePick, type SectionRef, stepDefinitions } from '../../core/recipe/steps';
import { evaluateValue } from '../../core/recipe/values';
import { bodyWords, edgeRefWords, edgeWords, faceRefWords, pickWords, sectionWords } from '../../core/recipe/words';
import { ok } from '../../core/result';
import { openDrawing, setBench, useBench, useMade, useScenes } from '../state/bench';
import { tableOf } from '../state/project';
import { ValueField } from '../ui/ValueField';
import { readSpace, type TypedPlace } from './places';

/** A long list of picks is told by its first and how many more there are. */
const MOST_SHOWN = 3;

/** What is picked on the stage, the board or by typing. */
export function Picks({
  project,
  step,
  what,
  field,
  most,
  onChange,
}: {
  project: Project;
  step: Step;
  what: PickKind | 'edges';
  field: string;
  /** Where the list holds what a plane is placed by: how many it takes. */
  most?: number;
  onChange: (s: Step) => void;
}) {
  const refs = (step.inputs[field] as (FaceRef | EdgeRef | PlanePick)[]) ?? [];
  const words = (r: FaceRef | EdgeRef | PlanePick): string => {
    if (most !== undefined) return pickWords(r as PlanePick, project);
    return what === 'faces' ? faceRefWords(r as FaceRef, project) : edgeRefWords(r as EdgeRef, project);
  };
  const set = (list: readonly unknown[]): void => onChange({ ...step, inputs: { ...step.inputs, [field]: list } });
  const [all, setAll] = useState(false);
  // A few more than are shown are shown too.
  const shown = refs.length > MOST_SHOWN + 2 ? MOST_SHOWN : refs.length;
  const curves = curvesBefore(project, step.id).filter((c) => !refs.some((r) => JSON.stringify(r) === JSON.stringify({ step: c })));
  const { scope } = tableOf(project);
  const typedBefore = (i: number): TypedPlace | undefined => {
    const before = refs[i - 1];
    return before && 'at' in before ? before.at : undefined;
  };
  const placeAt = (i: number, text: string): void => {
    const r = readSpace(text, scope, typedBefore(i));
    if (r.ok) set([...refs.slice(0, i), { at: r.value }, ...refs.slice(i + 1)].slice(-(most ?? 1)));
  };
  return (
    <>
      {refs.slice(0, all ? undefined : shown).map((r, i) => (
        <span key={'at' in r ? i : JSON.stringify(r)} className="chip max-w-full" title={words(r)}>
          {'at' in r ? (
            <ValueField
              label={`place ${i + 1}`}
              value={r.at.join(', ')}
              check={(t) => readSpace(t, scope, typedBefore(i))}
              onCommit={(t) => placeAt(i, t)}
            />
          ) : (
            <span className="truncate">{words(r)}</span>
          )}
          <button
            type="button"
            aria-label={`Take out ${words(r)}`}
            className="editing text-ink3 hover:text-madder"
            onClick={() => set(refs.filter((_, k) => k !== i))}
          >
            ×
          </button>
        </span>
      ))}
      {refs.length > shown && (
        <button type="button" className="link" aria-expanded={all} onClick={() => setAll(!all)}>
          {all ? 'fewer' : `and ${refs.length - shown} more`}
        </button>
      )}
      {refs.length === 0 && <span className="text-ink2">{NOTHING[field] ?? NOTHING[what]}</span>}
      <PickButton step={step} field={field} what={what} most={most} />
      {what === 'edges' && most === undefined && <AtEveryCopy step={step} refs={refs as readonly EdgeRef[]} set={set} />}
      {what === 'paths' && curves.length > 0 && (
        <Select
          label="add a curve"
          value=""
          options={[['', 'or a curve…'], ...curves.map((c) => [c, pickWords({ step: c }, project)] as const)]}
          onChange={(v) => v && set([...(most === 1 ? [] : refs), { step: v }].slice(-(most ?? 1)))}
        />
      )}
      {what === 'places' && (
        <span className="editing" title="across, away, up; with @ from the last place">
          <ValueField
            label="place to add"
            value=""
            placeholder="x, y, z  @0, 0, 9"
            minChars={16}
            check={(t) => readSpace(t, scope, typedBefore(refs.length))}
            onCommit={(t) => placeAt(refs.length, t)}
          />
        </span>
      )}
    </>
  );
}

/** Edges that a body has at several copies of what they belong to: all of them for the one that was picked, however many copies there will be. */
function AtEveryCopy({ step, refs, set }: { step: Step; refs: readonly EdgeRef[]; set: (list: readonly EdgeRef[]) => void }) {
  const scenes = useScenes();
  const names = scenes.find((s) => s.id === step.inputs.body)?.edgeNames;
  const like = useMemo(() => {
    const count = new Map<string, number>();
    for (const n of names ?? []) {
      const key = atAnyCopy(n);
      if (key) count.set(key, (count.get(key) ?? 0) + 1);
    }
    return count;
  }, [names]);
  const taken = new Set(refs.flatMap((r) => ('alike' in r ? [atAnyCopy(r.alike)] : [])));
  const picked = refs.flatMap((r) => ('edge' in r ? [{ edge: r.edge, key: atAnyCopy(r.edge) ?? '' }] : []));
  /** How many there are: those that stand on the body, and the picked ones that the step has made away with. */
  const among = (key: string): number => (like.get(key) ?? 0) + picked.filter((p) => p.key === key && !names?.includes(p.edge)).length;
  const keys = [...new Set(picked.map((p) => p.key))].filter((k) => !taken.has(k) && among(k) > picked.filter((p) => p.key === k).length);
  if (keys.length === 0) return null;
  const all = keys.reduce((n, k) => n + among(k), 0);
  return (
    <button
      type="button"
      className="editing link"
      onClick={() =>
        set([
          ...refs.filter((r) => !('edge' in r && keys.includes(atAnyCopy(r.edge) ?? ''))),
          ...keys.map((k) => ({ alike: picked.find((p) => p.key === k)!.edge })),
        ])
      }
    >
      all {all} alike, at every copy
    </button>
  );
}

/** A value for each edge of a list, beside its words; an edge without one has the step's own. */
export function EdgeValues({
  project,
  step,
  part,
  onChange,
}: {
  project: Project;
  step: Step;
  part: { readonly edgeValues: string; readonly edges: string; readonly otherwise: string };
  onChange: (s: Step) => void;
}) {
  const { scope } = tableOf(project);
  const spec = stepDefinitions[step.kind]!.values[part.otherwise]!;
  const own = (step.inputs[part.edgeValues] as { edge: string; value: string }[] | undefined) ?? [];
  const edges = ((step.inputs[part.edges] as EdgeRef[] | undefined) ?? []).flatMap((e) => ('edge' in e ? [e.edge] : []));
  const set = (edge: string, value: string): void => {
    const rest = own.filter((o) => o.edge !== edge);
    onChange({ ...step, inputs: { ...step.inputs, [part.edgeValues]: value.trim() === '' ? rest : [...rest, { edge, value }] } });
  };
  return (
    <span className="flex w-full flex-col">
      {edges.map((edge) => (
        <span key={edge} className="flex items-center gap-1 text-[12px]">
          <ValueField
            label={`${spec.label} of the ${edgeWords(edge, project)}`}
            value={own.find((o) => o.edge === edge)?.value ?? ''}
            placeholder={step.values[part.otherwise] ?? ''}
            check={(t) => (t.trim() === '' ? ok(t) : evaluateValue(spec, t, scope))}
            onCommit={(t) => set(edge, t)}
          />
          <span className="truncate text-ink2" title={edgeWords(edge, project)}>
            {edgeWords(edge, project)}
          </span>
        </span>
      ))}
    </span>
  );
}

/** Several bodies, each of which can be taken out. */
export function BodyList({ project, step, field, onChange }: { project: Project; step: Step; field: string; onChange: (s: Step) => void }) {
  const list = (step.inputs[field] as string[]) ?? [];
  const made = useMade();
  const rest = bodiesBefore(project, step.id, made).filter((b) => !list.includes(b) && b !== step.inputs.body);
  const set = (next: readonly string[]): void => onChange({ ...step, inputs: { ...step.inputs, [field]: next } });
  return (
    <>
      {list.map((b) => (
        <span key={b} className="chip">
          {bodyWords(b, project)}
          <button
            type="button"
            aria-label={`Take out ${bodyWords(b, project)}`}
            className="editing text-ink3 hover:text-madder"
            onClick={() => set(list.filter((k) => k !== b))}
          >
            ×
          </button>
        </span>
      ))}
      {rest.length > 0 && (
        <Select
          label="add a body"
          value=""
          options={[['', list.length > 0 ? 'and…' : 'choose…'], ...rest.map((b) => [b, bodyWords(b, project)] as const)]}
          onChange={(v) => v && set([...list, v])}
        />
      )}
    </>
  );
}

/** Several sections in order, each of which can be moved up or taken out. */
export function ProfileList({
  project,
  step,
  field,
  anything,
  onChange,
}: {
  project: Project;
  step: Step;
  field: string;
  /** Faces, lines and places can be sections too. */
  anything: boolean;
  onChange: (s: Step) => void;
}) {
  const list = (step.inputs[field] as SectionRef[]) ?? [];
  const rest = project.profiles.filter((p) => !list.includes(p.id));
  const set = (next: readonly SectionRef[]): void => onChange({ ...step, inputs: { ...step.inputs, [field]: next } });
  const name = (ref: SectionRef): string => sectionWords(ref, project);
  return (
    <>
      {list.map((ref, i) => (
        <span key={JSON.stringify(ref)} className="chip max-w-full" title={name(ref)}>
          {i > 0 && (
            <button
              type="button"
              aria-label={`Move ${name(ref)} before ${name(list[i - 1]!)}`}
              className="editing text-ink3 hover:text-teal"
              onClick={() => set(list.with(i - 1, ref).with(i, list[i - 1]!))}
            >
              ‹
            </button>
          )}
          {typeof ref === 'string' ? (
            <button type="button" className="hover:text-teal" onClick={() => openDrawing(ref)}>
              {name(ref)}
            </button>
          ) : (
            <span className="truncate">{name(ref)}</span>
          )}
          <button
            type="button"
            aria-label={`Take out ${name(ref)}`}
            className="editing text-ink3 hover:text-madder"
            onClick={() => set(list.toSpliced(i, 1))}
          >
            ×
          </button>
        </span>
      ))}
      {rest.length > 0 && (
        <Select
          label="add a drawing"
          value=""
          options={[['', list.length > 0 ? 'and…' : 'choose…'], ...rest.map((p) => [p.id, p.name] as const)]}
          onChange={(v) => v && set([...list, v])}
        />
      )}
      {anything &&
        (['faces', 'paths', 'places'] as const).map((what) => (
          <PickButton key={what} step={step} field={field} what={what} most={MOST_SECTIONS} words={SECTION_PICKS[what]} />
        ))}
    </>
  );
}

const MOST_SECTIONS = 40;
const SECTION_PICKS = { faces: 'a face', paths: 'a line', places: 'a point' } as const;

/** Begins picking for a list of a step, or ends it. */
function PickButton({
  step,
  field,
  what,
  most,
  words = 'pick',
}: {
  step: Step;
  field: string;
  what: PickKind | 'edges';
  most?: number | undefined;
  words?: string;
}) {
  const picking = useBench(
    (s) =>
      s.picking !== null &&
      'step' in s.picking.target &&
      s.picking.target.step === step.id &&
      s.picking.target.field === field &&
      s.picking.what === what,
  );
  return (
    <button
      type="button"
      aria-pressed={picking}
      className={picking ? 'btn-strong py-0!' : 'editing btn py-0!'}
      onClick={() => setBench({ picking: picking ? null : { target: { step: step.id, field, ...(most ? { most } : {}) }, what } })}
    >
      {picking ? 'done' : words}
    </button>
  );
}

const NOTHING: Readonly<Record<string, string>> = {
  // An empty list of these is a choice.
  open: 'no face (sealed)',
  other: 'none',
  smooth: 'none',
  edges: 'no edge yet',
  faces: 'no face yet',
  paths: 'no line yet',
  places: 'no place yet',
};

/** A choice as wide as its words. */
export function Select({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: readonly (readonly [string, string])[];
  onChange: (v: string) => void;
}) {
  return (
    <select
      aria-label={label}
      className={`chip cursor-pointer appearance-none pr-1 [field-sizing:content] hover:border-teal ${value === '' ? 'editing' : ''}`}
      value={value}
      onChange={(e) => onChange(e.target.value)}
    >
      {options.map(([v, words]) => (
        <option key={v} value={v}>
          {words}
        </option>
      ))}
    </select>
  );
}
