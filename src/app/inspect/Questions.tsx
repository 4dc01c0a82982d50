import { judgedBody } from '../../core/brief/judge';
import { evaluateAs } from '../../core/dimensions/expression';
import { type Ask, standardAsks } from '../../core/inspect/asks';
import type { Project } from '../../core/recipe/schema';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { useBench } from '../state/bench';
import { ask, chooseBody, useInspect } from '../state/inspecting';
import { tableOf } from '../state/project';
import { ACROSS, angleText, Pick, Slide, ValueRow } from './fields';
import { wallLimit } from './limits';
import { MeasureSettings } from './Measure';
import { ObjectSettings } from './ObjectSettings';
import { SaveReport } from './SaveReport';
import { WaySettings } from './WaySettings';

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
  { what: 'deviation', words: 'How far is it from another body?', about: 'deviation from a scan or a body, share within tolerance' },
  { what: 'holds', words: 'What does it hold, does it stand?', about: 'capacity by height, tipping angle' },
];

const NONE: readonly { readonly id: string }[] = [];
const idOf = (b: { readonly id: string }): string => b.id;

/** The questions with the settings of the one that is asked. */
export function Questions({ project }: { project: Project }) {
  const asked = useInspect((s) => s.ask);
  const chosen = useInspect((s) => s.body);
  // One list as long as there is none: another each time would draw the page anew without end.
  const bodies = useBench((s) => s.result?.bodies) ?? NONE;
  const limit = wallLimit(project);
  const body = judgedBody(project, bodies, idOf, chosen)?.id;
  return (
    <section aria-label="Questions" className="h-full overflow-y-auto bg-panel">
      {bodies.length > 1 && (
        <label className="flex items-center gap-2 border-b border-line px-4 py-2">
          <span className="heading">Body</span>
          <select className="field flex-1" value={body} onChange={(e) => chooseBody(e.target.value)}>
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
          <ValueRow
            label="Thin is below"
            value={asked.limit === null ? '' : `${asked.limit} mm`}
            check={length}
            onTake={(limit) => ask({ ...asked, limit: limit > 0 ? limit : null })}
          />
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
          <ValueRow
            label="Flat below (1/m²)"
            value={`${Number((asked.limit * 1e6).toPrecision(4))}`}
            check={plainNumber}
            onTake={(v) => ask({ ...asked, limit: v / 1e6 })}
          />
          <ValueRow label="Smallest side" value={`${asked.least} mm`} check={length} onTake={(least) => ask({ ...asked, least })} />
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
          <ValueRow label="Least draft" value={angleText(asked.limit)} check={angle} onTake={(limit) => ask({ ...asked, limit })} />
        </>
      );
    case 'overhang':
      return <ValueRow label="Leans at most" value={angleText(asked.limit)} check={angle} onTake={(limit) => ask({ ...asked, limit })} />;
    case 'deviation':
      return <DeviationSettings asked={asked} project={project} check={length} />;
    case 'holds': {
      const litres = (t: string): Result<number, string> => {
        if (t.trim() === '') return ok(0);
        const v = Number(t.replace(/\s*l\s*$/i, ''));
        return Number.isFinite(v) && v > 0 ? ok(v * 1e6) : fail('litres, such as 0.5');
      };
      return (
        <>
          <ValueRow
            label="How high for (litres)"
            value={asked.wanted === null ? '' : `${asked.wanted / 1e6}`}
            check={litres}
            onTake={(v) => ask({ ...asked, wanted: v > 0 ? v : null })}
          />
          <ObjectSettings object={asked.object} check={length} onChange={(object) => ask({ ...asked, object })} />
        </>
      );
    }
  }
}

function DeviationSettings({
  asked,
  project,
  check,
}: {
  asked: Extract<Ask, { what: 'deviation' }>;
  project: Project;
  check: (t: string) => Result<number, string>;
}) {
  const chosen = useInspect((s) => s.body);
  const bodies = useBench((s) => s.result?.bodies) ?? NONE;
  const others = bodies.filter((b) => b.id !== judgedBody(project, bodies, idOf, chosen)?.id);
  if (others.length === 0) return <p className="text-[12px] text-ink2">There is no other body to compare with.</p>;
  return (
    <>
      <Pick
        label="From"
        value={others.some((b) => b.id === asked.from) ? asked.from! : others[0]!.id}
        options={others.map((b) => [b.id, bodyWords(b.id, project)] as const)}
        onChange={(from) => ask({ ...asked, from })}
      />
      <ValueRow label="Within" value={`${asked.tolerance} mm`} check={check} onTake={(tolerance) => ask({ ...asked, tolerance })} />
    </>
  );
}

const plainNumber = (t: string): Result<number, string> => {
  const v = Number(t.trim());
  return Number.isFinite(v) && v > 0 ? ok(v) : fail('a number above 0');
};
