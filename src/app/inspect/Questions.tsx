import { useMemo, useRef } from 'react';
import { toast } from 'sonner';
import { evaluateAs } from '../../core/dimensions/expression';
import { type Ask, standardAsks, type Way } from '../../core/inspect/asks';
import type { FitObject } from '../../core/inspect/fit';
import type { Project } from '../../core/recipe/schema';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { useBench } from '../state/bench';
import { ask, chooseBody, useInspect } from '../state/inspecting';
import { linesInSpace } from '../state/lines';
import { tableOf } from '../state/project';
import { ValueField } from '../ui/ValueField';
import { MeasureSettings } from './Measure';
import { SaveReport } from './SaveReport';

/** What can be asked of a body, in the maker's words. */
const QUESTIONS: readonly { readonly what: Ask['what']; readonly words: string; readonly about: string }[] = [
  { what: 'walls', words: 'How thick is it?', about: 'wall at every place, thinnest and thickest' },
  { what: 'sections', words: 'What do sections show?', about: 'area, outline and wall, height by height' },
  { what: 'curvature', words: 'How does it bend?', about: 'curvature and the tightest radii' },
  { what: 'combs', words: 'How do its lines run?', about: 'curvature combs, changes of side' },
  { what: 'joins', words: 'How do its faces meet?', about: 'gap, angle and curvature along every edge' },
  { what: 'reflection', words: 'How does light run over it?', about: 'mirrored stripes, isophotes, a room' },
  { what: 'label', words: 'Where does a label lie flat?', about: 'zones laid flat, their sizes and strain' },
  { what: 'draft', words: 'Does it leave the mould?', about: 'draft, undercuts, the parting line' },
  { what: 'overhang', words: 'Does it print unheld?', about: 'overhangs, bridges, islands, the foot' },
  { what: 'measure', words: 'How far is it from here to there?', about: 'distance, angle, radius, length, area' },
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
                className="w-full px-4 py-1.5 text-left hover:text-teal"
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
      return <WaySettings project={project} way={asked.way} check={angle} onChange={(way) => ask({ ...asked, way })} />;
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
    case 'combs':
      return (
        <>
          <Pick
            label="Of"
            value={asked.on}
            options={[
              ['section', 'a section'],
              ['edges', 'the edges'],
              ['iso', 'the lines of its surfaces'],
            ]}
            onChange={(on) => ask({ ...asked, on })}
          />
          {asked.on === 'section' && (
            <>
              <Pick label="Across" value={asked.axis} options={ACROSS} onChange={(axis) => ask({ ...asked, axis })} />
              <Slide
                label="How far along"
                value={asked.share}
                from={0.01}
                to={0.99}
                step={0.01}
                onChange={(share) => ask({ ...asked, share })}
              />
            </>
          )}
          <Slide
            label="Length of teeth"
            value={asked.scale}
            from={0.02}
            to={1}
            step={0.02}
            onChange={(scale) => ask({ ...asked, scale })}
          />
          <Slide
            label="How many teeth"
            value={asked.density}
            from={40}
            to={400}
            step={20}
            onChange={(density) => ask({ ...asked, density })}
          />
        </>
      );
    case 'label':
      return (
        <>
          <Row label="Flat below (1/m²)">
            <ValueField
              label="Flat below (1/m²)"
              value={`${Number((asked.limit * 1e6).toPrecision(4))}`}
              check={plainNumber}
              onCommit={(t) => commit(plainNumber(t), (v) => ask({ ...asked, limit: v / 1e6 }))}
            />
          </Row>
          <Row label="Smallest side">
            <ValueField
              label="Smallest side"
              value={`${asked.least} mm`}
              check={length}
              onCommit={(t) => commit(length(t), (least) => ask({ ...asked, least }))}
            />
          </Row>
        </>
      );
    case 'measure':
      return <MeasureSettings project={project} />;
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

const plainNumber = (t: string): Result<number, string> => {
  const v = Number(t.trim());
  return Number.isFinite(v) && v > 0 ? ok(v) : fail('a number above 0');
};

const ACROSS = [
  ['z', 'the height'],
  ['y', 'front to back'],
  ['x', 'left to right'],
] as const;

/** Which way the planes are moved. */
function WaySettings({
  project,
  way,
  check,
  onChange,
}: {
  project: Project;
  way: Way;
  check: (t: string) => Result<number, string>;
  onChange: (w: Way) => void;
}) {
  const result = useBench((s) => s.result);
  const lines = useMemo(() => linesInSpace(project, result), [project, result]);
  const turn = (t: string): Result<number, string> => evaluateAs(t, 'angle', tableOf(project).scope);
  const degrees = (rad: number): string => `${Number((rad / DEGREE).toFixed(2))}°`;
  return (
    <>
      <Pick
        label="Across"
        value={way.by === 'axis' ? way.axis : way.by === 'slant' ? 'slant' : way.path}
        options={[...ACROSS, ['slant', 'a leaning direction'] as const, ...lines.map((l) => [l.id, `along ${l.words}`] as const)]}
        onChange={(v: string) => {
          const line = lines.find((l) => l.id === v);
          if (line) onChange({ by: 'path', path: line.id, line: line.line });
          else if (v === 'slant') onChange({ by: 'slant', lean: 30 * DEGREE, turn: 0 });
          else onChange({ by: 'axis', axis: v as 'x' });
        }}
      />
      {way.by === 'slant' && (
        <>
          <Row label="Leans from upright">
            <ValueField
              label="Leans from upright"
              value={degrees(way.lean)}
              check={check}
              onCommit={(t) => commit(check(t), (lean) => onChange({ ...way, lean }))}
            />
          </Row>
          <Row label="Towards (0° right, 90° back)">
            <ValueField
              label="Towards (0° right, 90° back)"
              value={degrees(way.turn)}
              check={turn}
              onCommit={(t) => commit(turn(t), (v) => onChange({ ...way, turn: v }))}
            />
          </Row>
        </>
      )}
    </>
  );
}

const OBJECTS: Readonly<Record<Exclude<FitObject['kind'], 'mesh'>, FitObject>> = {
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
  const file = useRef<HTMLInputElement>(null);
  const sizes = object && object.kind !== 'mesh' ? Object.entries(object).filter(([k]) => k !== 'kind') : [];
  const bring = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    const { readMeshFile } = await import('./meshFile');
    const read = readMeshFile(new Uint8Array(await file.arrayBuffer()), file.name);
    if (read.ok) onChange({ kind: 'mesh', name: file.name, ...read.value });
    else toast.error(read.error);
  };
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
          ['mesh', 'a mesh file…'],
        ]}
        onChange={(k) => {
          if (k === 'mesh') file.current?.click();
          else onChange(k === 'none' ? null : OBJECTS[k]);
        }}
      />
      <input
        ref={file}
        type="file"
        accept=".stl,.obj"
        aria-label="Mesh file to put in"
        className="hidden"
        onChange={(e) => {
          void bring(e.target.files?.[0]);
          e.target.value = '';
        }}
      />
      {object?.kind === 'mesh' && <p className="text-[12px] text-ink2">{object.name}, upright as in its file</p>}
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
