import { useMemo, useState } from 'react';
import { evaluateAs } from '../../core/dimensions/expression';
import { netOf } from '../../core/form/cage';
import { limitMesh } from '../../core/form/limit';
import { cageOf, ringFormOf, sourceOf } from '../../core/form/read';
import { MOST_RINGS, type RingForm, ringCage, twists, withRingCount } from '../../core/form/rings';
import type { Project, Step } from '../../core/recipe/schema';
import type { FormInputs, RingTexts, StepOf } from '../../core/recipe/steps';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { degrees, fixed } from '../../core/units/units';
import { setBench } from '../state/bench';
import { changeStep, tableOf } from '../state/project';
import { ValueField } from '../ui/ValueField';
import { CagePane } from './CagePane';
import { FormViews } from './FormViews';
import { RingChart } from './RingChart';
import { RingSeries } from './RingSeries';
import { RingSizes } from './RingSizes';
import { type RingSource, RingTable } from './RingTable';

/** The board of a form: its rings as a table and as a chart, one and the same. */
export function FormPane({ project, step }: { project: Project; step: StepOf<FormInputs> }) {
  const { inputs } = step;
  if (inputs.source.by === 'cage') return <CagePane project={project} step={step} inputs={inputs} source={inputs.source} />;
  return <Rings project={project} step={step} inputs={inputs} source={inputs.source} />;
}

const mm = (v: number): string => `${Number(v.toFixed(3))} mm`;
const turn = (v: number): string => `${Number(degrees(v).toFixed(3))}°`;

function Rings({ project, step, inputs, source }: { project: Project; step: Step; inputs: FormInputs; source: RingSource }) {
  const { scope } = tableOf(project);
  const [selected, setSelected] = useState<number | null>(null);
  const [draft, setDraft] = useState<RingSource | null>(null);
  const shown = draft ?? source;
  const form = useMemo(() => ringFormOf(shown, scope), [shown, scope]);
  const commit = (next: RingSource): void => {
    changeStep(step, { ...step, inputs: { ...inputs, source: next } });
  };
  const whole =
    (least: number, most: number) =>
    (t: string): Result<number, string> => {
      const r = evaluateAs(t, 'number', scope);
      if (!r.ok) return r;
      return Number.isInteger(r.value) && r.value >= least && r.value <= most
        ? ok(r.value)
        : fail(`a whole number from ${least} to ${most}`);
    };
  const length = (t: string): Result<number, string> => {
    const r = evaluateAs(t, 'length', scope);
    return r.ok && r.value < 0 ? fail('a depth is no less than nothing') : r;
  };
  const texts = (rows: RingForm['rows']): RingTexts[] =>
    rows.map((r) => ({ height: mm(r.height), radius: mm(r.radius), twist: turn(r.twist), crease: `${r.crease}` }));
  const total = form.ok ? twists(form.value.rows).at(-1)! : null;
  return (
    <section aria-label="Form" className="flex h-full flex-col bg-panel">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line px-3 py-1.5 text-[12px]">
        <h2 className="heading">Rings of {bodyWords(step.id, project)}</h2>
        <span className="flex items-center gap-1">
          sides{' '}
          <ValueField
            label="sides"
            value={source.sides}
            check={whole(3, 96)}
            onCommit={(sides) => commit({ ...source, sides })}
            minChars={2}
          />
        </span>
        <span className="flex items-center gap-1">
          rings
          <ValueField
            label="rings"
            value={`${source.rows.length}`}
            check={whole(2, MOST_RINGS)}
            onCommit={(t) => {
              const n = whole(2, MOST_RINGS)(t);
              if (n.ok && form.ok) commit({ ...source, rows: texts(withRingCount(form.value.rows, n.value)) });
            }}
            minChars={2}
          />
        </span>
        <span className="flex items-center gap-1">
          ridges <ValueField label="ridges" value={source.ridge} check={length} onCommit={(ridge) => commit({ ...source, ridge })} /> deep
        </span>
        <label className="flex items-center gap-1">
          sizes are
          <select className="chip" value={source.on} onChange={(e) => commit({ ...source, on: e.target.value as 'body' })}>
            <option value="body">what the body measures</option>
            <option value="cage">where the cage stands</option>
          </select>
        </label>
        <FormViews />
        {form.ok && (
          <button
            type="button"
            className="link"
            title="Vertices, edges and faces can be moved by hand then; the table is given up"
            onClick={() => {
              const cage = cageOf(source, scope);
              if (cage.ok) changeStep(step, { ...step, inputs: { ...inputs, source: sourceOf(cage.value) } });
            }}
          >
            edit as a cage
          </button>
        )}
        {(['bottom', 'top'] as const).map((end) => (
          <label key={end} className="flex items-center gap-1">
            {end}
            <select className="chip" value={source[end]} onChange={(e) => commit({ ...source, [end]: e.target.value as 'flat' })}>
              <option value="flat">flat</option>
              <option value="round">round</option>
            </select>
          </label>
        ))}
      </div>
      <div className="flex min-h-0 flex-1">
        <div className="min-w-0 flex-1 overflow-auto px-3 py-1">
          <RingTable project={project} source={shown} onChange={commit} />
          <p className="flex flex-wrap gap-x-4 py-1 text-[12px]" data-testid="ring-totals">
            {form.ok ? (
              <>
                <span>
                  twist in all <b className="font-mono font-normal">{fixed(degrees(total!), 1)}°</b>
                </span>
                <span>
                  rings span <b className="font-mono font-normal">{mm(form.value.rows.at(-1)!.height - form.value.rows[0]!.height)}</b>
                </span>
                <span>
                  widest ring <b className="font-mono font-normal">⌀ {mm(2 * Math.max(...form.value.rows.map((r) => r.radius)))}</b>
                </span>
              </>
            ) : (
              <span role="alert" className="text-madder">
                ■ {form.error}
              </span>
            )}
          </p>
          <RingSizes project={project} source={shown} onApply={commit} />
          <RingSeries project={project} source={source} onApply={commit} />
        </div>
        <div className="w-[30%] min-w-40 p-2">
          {form.ok && (
            <RingChart
              form={form.value}
              selected={selected}
              onSelect={setSelected}
              onMove={(i, radius, height) => {
                const next = { ...shown, rows: shown.rows.map((r, k) => (k === i ? { ...r, radius: mm(radius), height: mm(height) } : r)) };
                setDraft(next);
                preview(ringFormOf(next, scope));
              }}
              onEnd={() => {
                setDraft((d) => {
                  if (d) commit(d);
                  return null;
                });
                setBench({ preview: null });
              }}
            />
          )}
        </div>
      </div>
    </section>
  );
}

/** The smooth limit at once, while a ring is moved: of the cage at the table's places, which is a little smaller than the body will be. */
function preview(form: Result<RingForm, string>): void {
  if (!form.ok) return;
  const net = netOf(ringCage(form.value));
  if (!net.ok) return;
  const mesh = limitMesh(net.value, 2);
  setBench({ preview: [{ positions: Float32Array.from(mesh.places), normals: mesh.normals, indices: mesh.indices }] });
}
