import { useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import type { Frame } from '../../core/curves/frame';
import { evaluateAs } from '../../core/dimensions/expression';
import { countOf, type Picked } from '../../core/form/edit/select';
import type { Project, Step } from '../../core/recipe/schema';
import { bodyWords } from '../../core/recipe/words';
import { fail, type Result } from '../../core/result';
import { readFacetsOf } from '../files/read';
import { useBench } from '../state/bench';
import { tableOf } from '../state/project';
import { type Freedom, type ReadCage, setShaping, shape, useShaping } from '../state/shaping';
import { chooseFile } from '../ui/chooseFile';
import { ValueField } from '../ui/ValueField';
import { nearestOn } from './nearest';
import { choicesOf, type Field, type Values, VERBS, type Verb } from './verbs';

/** What is pulled onto is chosen as a file. */
const MESH_FILE = 'file';
const GROUPS = [...new Set(VERBS.map((v) => v.group))];
const FREEDOMS: readonly (readonly [Freedom, string])[] = [
  ['out', 'along its normal'],
  ['x', 'along x'],
  ['y', 'along y'],
  ['z', 'along z'],
  ['xy', 'in the level plane'],
  ['xz', 'in the front plane'],
  ['yz', 'in the side plane'],
  ['turn', 'about z'],
  ['size', 'larger and smaller'],
];

/** What is done to what is picked: a list of verbs, and the one that is chosen as a sentence with its values. */
export function CageVerbs({
  project,
  step,
  read,
  picked,
  plane,
}: {
  project: Project;
  step: Step;
  read: ReadCage;
  picked: Picked;
  plane: Frame | undefined;
}) {
  const [chosen, setChosen] = useState('move');
  const [texts, setTexts] = useState<Readonly<Record<string, string>>>({});
  const { freedom, soft } = useShaping(useShallow(({ freedom, soft }) => ({ freedom, soft })));
  const scenes = useBench((s) => s.scenes);
  const { scope } = tableOf(project);
  const verb = VERBS.find((v) => v.key === chosen)!;
  const bodies = scenes.filter((s) => s.id !== step.id);
  const textOf = (f: Field): string => {
    const typed = texts[`${verb.key}.${f.key}`];
    if (typed !== undefined && !('choices' in f && choicesOf(f, read.symmetry).every((c) => c[0] !== typed))) return typed;
    if ('choices' in f) return choicesOf(f, read.symmetry)[0]![0];
    if ('body' in f) return bodies[0]?.id ?? MESH_FILE;
    // Where one vertex stands is what its place begins with.
    if (verb.key === 'place' && picked.kind === 'vertices' && picked.vertices.length === 1) {
      const p = read.cage.vertices[picked.vertices[0]!];
      return `${Number((p?.['xyz'.indexOf(f.key)] ?? 0).toFixed(4))} mm`;
    }
    return f.start;
  };
  const setText = (f: Field, text: string): void => setTexts({ ...texts, [`${verb.key}.${f.key}`]: text });
  const fields = verb.sentence.filter((s): s is Field => typeof s !== 'string');
  const fits = !verb.on || verb.on.includes(picked.kind);
  const can = countOf(picked) > 0 && fits;
  const check =
    (f: Field) =>
    (t: string): Result<number, string> =>
      'of' in f ? evaluateAs(t, f.of, scope) : fail('');
  const run = (): void => {
    const values: Record<string, number | string> = {};
    for (const f of fields) {
      const text = textOf(f);
      if (!('of' in f)) {
        values[f.key] = text;
        continue;
      }
      const r = check(f)(text);
      if (!r.ok) return setShaping({ refusal: `${f.label}: ${r.error}`, note: null });
      values[f.key] = r.value;
    }
    const typed: Values = verb.key === 'crease' ? { w: textOf(fields[0]!) } : values;
    const edit = verb.make(typed);
    if (edit.do === 'pull') {
      const scene = bodies.find((s) => s.id === values.body);
      if (!plane) return;
      if (scene) shape(step.id, { ...edit, nearest: nearestOn(scene.positions, plane, scene.indices) });
      else chooseMesh((facets) => shape(step.id, { ...edit, nearest: nearestOn(facets, plane) }));
    } else shape(step.id, verb.soft && soft > 0 ? ({ ...edit, soft } as typeof edit) : edit);
    setTexts(Object.fromEntries(Object.entries(texts).filter(([k]) => !k.startsWith('place.'))));
  };
  return (
    <div className="flex flex-col gap-1.5" role="group" aria-label="Do">
      <div className="flex flex-wrap items-center gap-1 border-l-2 border-teal bg-tealwash px-2 py-1" role="group" aria-label="The edit">
        {verb.sentence.map((s, i) =>
          typeof s === 'string' ? (
            // biome-ignore lint/suspicious/noArrayIndexKey: words of a sentence stand in its order
            <span key={i}>{s}</span>
          ) : 'of' in s ? (
            <ValueField key={s.key} label={s.label} value={textOf(s)} check={check(s)} onCommit={(t) => setText(s, t)} />
          ) : 'choices' in s && choicesOf(s, read.symmetry).length === 1 ? null : (
            <select key={s.key} className="chip" aria-label={s.label} value={textOf(s)} onChange={(e) => setText(s, e.target.value)}>
              {'choices' in s
                ? choicesOf(s, read.symmetry).map(([v, words]) => (
                    <option key={v} value={v}>
                      {words}
                    </option>
                  ))
                : bodies.map((b) => (
                    <option key={b.id} value={b.id}>
                      {bodyWords(b.id, project)}
                    </option>
                  ))}
              {'body' in s && <option value={MESH_FILE}>a mesh file (STL, OBJ)…</option>}
            </select>
          ),
        )}
        <button type="button" className="btn-strong py-0!" disabled={!can} onClick={run}>
          Do it
        </button>
        {!fits && countOf(picked) > 0 && <span className="text-ink2">works on {verb.on!.join(' or ')}</span>}
      </div>
      <div className="grid grid-cols-[auto_1fr] gap-x-2 gap-y-0.5">
        {GROUPS.map((g) => (
          <div key={g} className="contents">
            <span className="text-ink2">{g}</span>
            <span className="flex flex-wrap gap-x-2">
              {VERBS.filter((v) => v.group === g).map((v) => (
                <VerbButton key={v.key} verb={v} chosen={v === verb} onChoose={() => setChosen(v.key)} />
              ))}
            </span>
          </div>
        ))}
      </div>
      <div className="flex flex-wrap items-center gap-1">
        the handle moves
        <select
          className="chip"
          aria-label="Way of the handle"
          value={freedom}
          onChange={(e) => setShaping({ freedom: e.target.value as Freedom })}
        >
          {FREEDOMS.map(([f, words]) => (
            <option key={f} value={f}>
              {words}
            </option>
          ))}
        </select>
        softly within
        <ValueField
          label="reach of soft moves"
          value={`${soft} mm`}
          check={(t) => {
            const r = evaluateAs(t, 'length', scope);
            return r.ok && r.value < 0 ? fail('a reach is no less than nothing') : r;
          }}
          onCommit={(t) => {
            const r = evaluateAs(t, 'length', scope);
            if (r.ok) setShaping({ soft: r.value });
          }}
        />
      </div>
    </div>
  );
}

/** Asks for a mesh and hands its facets on, or says why not. */
const chooseMesh = (then: (facets: Float32Array) => void): void =>
  chooseFile('.stl,.obj', async (file) => {
    const facets = await readFacetsOf(file);
    if (facets.ok) then(facets.value);
    else setShaping({ refusal: facets.error, note: null });
  });

function VerbButton({ verb, chosen, onChoose }: { verb: Verb; chosen: boolean; onChoose: () => void }) {
  return (
    <button type="button" aria-pressed={chosen} className={chosen ? 'font-semibold text-teal underline' : 'link'} onClick={onChoose}>
      {verb.words}
    </button>
  );
}
