import { evaluateAs } from '../../core/dimensions/expression';
import { type Ask, standardAsks } from '../../core/inspect/asks';
import type { FitObject } from '../../core/inspect/fit';
import type { Project } from '../../core/recipe/schema';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { useBench } from '../state/bench';
import { ask, chooseBody, useInspect } from '../state/inspecting';
import { tableOf } from '../state/project';
import { ValueField } from '../ui/ValueField';
import { SaveReport } from './SaveReport';

/** What can be asked of a body, in the maker's words. */
const QUESTIONS: readonly { readonly what: Ask['what']; readonly words: string; readonly about: string }[] = [
  { what: 'walls', words: 'How thick is it?', about: 'wall at every place, thinnest and thickest' },
  { what: 'sections', words: 'What do sections show?', about: 'area, outline and wall, height by height' },
  { what: 'curvature', words: 'How does it bend?', about: 'curvature and the tightest radii' },
  { what: 'joins', words: 'How do its faces meet?', about: 'gap, angle and curvature along every edge' },
  { what: 'reflection', words: 'How does light run over it?', about: 'mirrored stripes, isophotes, a room' },
  { what: 'draft', words: 'Does it leave the mould?', about: 'draft, undercuts, the parting line' },
  { what: 'overhang', words: 'Does it print unheld?', about: 'overhangs, bridges, islands, the foot' },
  { what: 'holds', words: 'What does it hold, does it stand?', about: 'capacity by height, tipping angle' },
];

/** The questions with the settings of the one that is asked. */
export function Questions({ project }: { project: Project }) {
  const asked = useInspect((s) => s.ask);
  const chosen = useInspect((s) => s.body);
  const bodies = useBench((s) => s.result?.bodies ?? []);
  const limit = wallLimit(project);
  return (
    <section aria-label="Questions" className="h-full overflow-y-auto bg-panel">
      {bodies.length > 1 && (
        <label className="flex items-center gap-2 border-b border-line px-4 py-2">
          <span className="heading">Body</span>
          <select className="field flex-1" value={chosen ?? bodies[0]!.id} onChange={(e) => chooseBody(e.target.value)}>
            {bodies.map((b) => (
              <option key={b.id} value={b.id}>
                {bodyWords(b.id, project)}
              </option>
            ))}
          </select>
        </label>
      )}
      <ul>
        {QUESTIONS.map((q) => {
          const on = asked.what === q.what;
          return (
            <li key={q.what} className={`border-b border-line ${on ? 'border-l-2 border-l-teal bg-card' : ''}`}>
              <button
                type="button"
                aria-pressed={on}
                className="w-full px-4 py-2 text-left hover:text-teal"
                onClick={() => ask(standardAsks(limit)[q.what])}
              >
                <span className={on ? 'font-semibold' : ''}>{q.words}</span>
                <span className="block text-[12px] text-ink2">{q.about}</span>
              </button>
              {on && (
                <div className="flex flex-col gap-1.5 px-4 pb-3">
                  <Settings asked={asked} project={project} />
                </div>
              )}
            </li>
          );
        })}
      </ul>
      <SaveReport project={project} />
    </section>
  );
}

/** The least wall of the brief, mm. */
export function wallLimit(project: Project): number | null {
  const text = project.brief.targets.find((t) => t.gauge === 'wall-min')?.min;
  const r = text ? evaluateAs(text, 'length', tableOf(project).scope) : undefined;
  return r?.ok ? r.value : null;
}

const DEGREE = Math.PI / 180;

function Settings({ asked, project }: { asked: Ask; project: Project }) {
  const { scope } = tableOf(project);
  const angle = (t: string): Result<number, string> => {
    const r = evaluateAs(t, 'angle', scope);
    return r.ok && !(r.value >= 0 && r.value <= Math.PI / 2) ? fail('an angle lies between 0 and 90°') : r;
  };
  const length = (t: string): Result<number, string> => {
    if (t.trim() === '') return ok(0);
    const r = evaluateAs(t, 'length', scope);
    return r.ok && !(r.value >= 0) ? fail('a wall is no less than nothing') : r;
  };
  const degrees = (rad: number): string => `${Number((rad / DEGREE).toFixed(2))}°`;
  switch (asked.what) {
    case 'walls':
      return (
        <>
          <Pick
            label="Measured"
            value={asked.method}
            options={[
              ['ball', 'by the largest ball that fits'],
              ['ray', 'along a ray straight in'],
            ]}
            onChange={(method) => ask({ ...asked, method })}
          />
          <Row label="Thin is below">
            <ValueField
              label="Thin is below"
              value={asked.limit === null ? '' : `${asked.limit} mm`}
              check={length}
              onCommit={(t) => {
                const r = length(t);
                ask({ ...asked, limit: r.ok && r.value > 0 ? r.value : null });
              }}
            />
          </Row>
        </>
      );
    case 'sections':
      return (
        <Pick
          label="Across"
          value={asked.axis}
          options={[
            ['z', 'the height'],
            ['y', 'front to back'],
            ['x', 'left to right'],
          ]}
          onChange={(axis) => ask({ ...asked, axis })}
        />
      );
    case 'curvature':
      return (
        <Pick
          label="Colours show"
          value={asked.show}
          options={[
            ['largest', 'the largest curvature'],
            ['smallest', 'the smallest curvature'],
            ['mean', 'mean curvature'],
            ['gaussian', 'Gaussian curvature'],
          ]}
          onChange={(show) => ask({ ...asked, show })}
        />
      );
    case 'joins':
      return <p className="text-[12px] text-ink2">25 places along each edge, on the exact surfaces.</p>;
    case 'reflection':
      return (
        <>
          <Pick
            label="Shown as"
            value={asked.as}
            options={[
              ['stripes', 'mirrored stripes'],
              ['isophotes', 'isophotes'],
              ['room', 'a room with a horizon'],
            ]}
            onChange={(as) => ask({ ...asked, as })}
          />
          <Pick
            label="Rows lie across"
            value={asked.toward}
            options={[
              ['x', 'left to right'],
              ['y', 'front to back'],
              ['z', 'the height'],
            ]}
            onChange={(toward) => ask({ ...asked, toward })}
          />
          <Slide label="How many" value={asked.count} from={4} to={40} step={1} onChange={(count) => ask({ ...asked, count })} />
          <Slide label="Softness" value={asked.blend} from={0} to={1} step={0.05} onChange={(blend) => ask({ ...asked, blend })} />
        </>
      );
    case 'draft':
      return (
        <>
          <Pick
            label="Pulled"
            value={`${asked.axis}${asked.sign > 0 ? '+' : '-'}`}
            options={[
              ['z+', 'upwards'],
              ['z-', 'downwards'],
              ['x+', 'to the right'],
              ['x-', 'to the left'],
              ['y+', 'to the back'],
              ['y-', 'to the front'],
            ]}
            onChange={(v) => ask({ ...asked, axis: v[0] as 'x', sign: v.endsWith('+') ? 1 : -1 })}
          />
          <Pick
            label="Mould of"
            value={`${asked.parts}`}
            options={[
              ['1', 'one part'],
              ['2', 'two halves'],
            ]}
            onChange={(v) => ask({ ...asked, parts: v === '2' ? 2 : 1 })}
          />
          <Row label="Least draft">
            <ValueField
              label="Least draft"
              value={degrees(asked.limit)}
              check={angle}
              onCommit={(t) => commit(angle(t), (limit) => ask({ ...asked, limit }))}
            />
          </Row>
        </>
      );
    case 'overhang':
      return (
        <Row label="Leans at most">
          <ValueField
            label="Leans at most"
            value={degrees(asked.limit)}
            check={angle}
            onCommit={(t) => commit(angle(t), (limit) => ask({ ...asked, limit }))}
          />
        </Row>
      );
    case 'holds': {
      const litres = (t: string): Result<number, string> => {
        if (t.trim() === '') return ok(0);
        const v = Number(t.replace(/\s*l\s*$/i, ''));
        return Number.isFinite(v) && v > 0 ? ok(v * 1e6) : fail('litres, such as 0.5');
      };
      return (
        <>
          <Row label="How high for (litres)">
            <ValueField
              label="How high for (litres)"
              value={asked.wanted === null ? '' : `${asked.wanted / 1e6}`}
              check={litres}
              onCommit={(t) => commit(litres(t), (v) => ask({ ...asked, wanted: v > 0 ? v : null }))}
            />
          </Row>
          <ObjectSettings object={asked.object} check={length} onChange={(object) => ask({ ...asked, object })} />
        </>
      );
    }
  }
}

const OBJECTS: Readonly<Record<FitObject['kind'], FitObject>> = {
  cylinder: { kind: 'cylinder', diameter: 30, height: 80 },
  box: { kind: 'box', width: 20, depth: 20, height: 60 },
  ball: { kind: 'ball', diameter: 25 },
};

/** What is put in, with its sizes. */
function ObjectSettings({
  object,
  check,
  onChange,
}: {
  object: FitObject | null;
  check: (t: string) => Result<number, string>;
  onChange: (o: FitObject | null) => void;
}) {
  const sizes = object ? Object.entries(object).filter(([k]) => k !== 'kind') : [];
  const positive = (t: string): Result<number, string> => {
    const r = check(t);
    return r.ok && !(r.value > 0) ? fail('a size is more than nothing') : r;
  };
  return (
    <>
      <Pick
        label="Put in"
        value={object?.kind ?? 'none'}
        options={[
          ['none', 'nothing'],
          ['cylinder', 'a cylinder'],
          ['box', 'a box'],
          ['ball', 'a ball'],
        ]}
        onChange={(k) => onChange(k === 'none' ? null : OBJECTS[k])}
      />
      {sizes.map(([name, v]) => (
        <Row key={name} label={name}>
          <ValueField
            label={`${name} of what is put in`}
            value={`${v} mm`}
            check={positive}
            onCommit={(t) => commit(positive(t), (size) => onChange({ ...object!, [name]: size } as FitObject))}
          />
        </Row>
      ))}
    </>
  );
}

const commit = (r: Result<number, string>, then: (v: number) => void): void => {
  if (r.ok) then(r.value);
};

function Row({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div className="flex items-center justify-between gap-2 text-[12px]">
      <span className="text-ink2">{label}</span>
      {children}
    </div>
  );
}

function Slide({
  label,
  value,
  from,
  to,
  step,
  onChange,
}: {
  label: string;
  value: number;
  from: number;
  to: number;
  step: number;
  onChange: (v: number) => void;
}) {
  return (
    <label className="flex items-center justify-between gap-2 text-[12px]">
      <span className="text-ink2">{label}</span>
      <input
        type="range"
        className="w-32 accent-teal"
        min={from}
        max={to}
        step={step}
        value={value}
        onChange={(e) => onChange(Number(e.target.value))}
      />
    </label>
  );
}

function Pick<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (v: T) => void;
}) {
  return (
    <label className="flex items-center justify-between gap-2 text-[12px]">
      <span className="text-ink2">{label}</span>
      <select className="field py-0.5!" value={value} onChange={(e) => onChange(e.target.value as T)}>
        {options.map(([v, words]) => (
          <option key={v} value={v}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}
