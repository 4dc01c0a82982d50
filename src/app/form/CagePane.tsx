import { useMemo } from 'react';
import { evaluateAs } from '../../core/dimensions/expression';
import { netOf } from '../../core/form/cage';
import { findings } from '../../core/form/doctor';
import { limitMesh } from '../../core/form/limit';
import { cageOf } from '../../core/form/read';
import { bounds } from '../../core/mesh/mesh';
import { setStep } from '../../core/recipe/edit';
import type { Project, Step } from '../../core/recipe/schema';
import type { FormInputs, FormSource } from '../../core/recipe/steps';
import { bodyWords } from '../../core/recipe/words';
import { fail, type Result } from '../../core/result';
import { showMark } from '../state/bench';
import { change, tableOf } from '../state/project';
import { ValueField } from '../ui/ValueField';
import { CageSwitch } from './CageSwitch';

type CageSource = Extract<FormSource, { by: 'cage' }>;
const AXES = ['width', 'depth', 'height'] as const;

/** The board of a form by a cage: its sizes on the smooth body, and what its layout does to the skin. */
export function CagePane({ project, step, inputs, source }: { project: Project; step: Step; inputs: FormInputs; source: CageSource }) {
  const { scope } = tableOf(project);
  const read = useMemo(() => {
    const cage = cageOf(source, scope);
    const net = cage.ok ? netOf(cage.value) : null;
    if (!cage.ok || !net?.ok) return null;
    return { box: bounds(limitMesh(net.value, 3).places), found: findings(cage.value) };
  }, [source, scope]);
  const length = (t: string): Result<number, string> => {
    const r = evaluateAs(t, 'length', scope);
    return r.ok && !(r.value > 0) ? fail('a size is more than nothing') : r;
  };
  const scale = (k: number, to: number): void => {
    if (!read) return;
    const by = to / (read.box.max[k]! - read.box.min[k]!);
    const vertices = source.vertices.map((v): [number, number, number] => {
      const p: [number, number, number] = [v[0], v[1], v[2]];
      p[k] = Number((p[k]! * by).toFixed(9));
      return p;
    });
    change((p) => setStep(p, { ...step, inputs: { ...inputs, source: { ...source, vertices } } }));
  };
  return (
    <section aria-label="Form" className="h-full overflow-y-auto bg-panel px-4 py-2">
      <h2 className="heading mb-1">Cage of {bodyWords(step.id, project)}</h2>
      <p className="mb-2 text-ink2">
        {source.vertices.length} vertices, {source.faces.length} faces
        {source.creases.length > 0 ? `, ${source.creases.length} edges creased` : ''}. Sizes are those of the smooth body; setting one
        scales the cage so that the body meets it.
      </p>
      <CageSwitch />
      {read && (
        <div className="mb-2 flex flex-wrap gap-4">
          {AXES.map((name, k) => (
            <span key={name} className="flex items-center gap-1">
              {name}
              <ValueField
                label={`${name} on the body`}
                value={`${Number((read.box.max[k]! - read.box.min[k]!).toFixed(3))} mm`}
                check={length}
                onCommit={(t) => {
                  const r = length(t);
                  if (r.ok) scale(k, r.value);
                }}
              />
            </span>
          ))}
        </div>
      )}
      <h3 className="heading mb-1">Layout</h3>
      {read && read.found.length === 0 && <p>● Quads throughout, with four edges at every vertex.</p>}
      <ol>
        {read?.found.slice(0, 40).map((f, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: findings stand in order of their weight
          <li key={i}>
            <button
              type="button"
              className="w-full py-0.5 text-left hover:text-teal"
              onClick={() => showMark(f.at, f.what, f.grave ? 'fail' : 'warn')}
            >
              {f.grave ? '■' : '▲'} {f.what} <span className="text-ink2">{f.why}</span>
            </button>
          </li>
        ))}
      </ol>
    </section>
  );
}
