import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { cautionsFor } from '../../core/brief/cautions';
import { judgedBody } from '../../core/brief/judge';
import { evaluateAs } from '../../core/dimensions/expression';
import { growthWords } from '../../core/made/grown';
import { PRINTED } from '../../core/print/printer';
import { slug } from '../../core/recipe/file';
import type { Project } from '../../core/recipe/schema';
import { fail } from '../../core/result';
import type { ExportFormat } from '../../engine/types';
import { engine, useBench } from '../state/bench';
import { buildAgain } from '../state/building';
import { useBuilt } from '../state/built';
import { useJudged } from '../state/judged';
import { keepState } from '../state/keeping';
import { tableOf, useProject } from '../state/project';
import { bodyAmount } from '../ui/amount';
import { download } from '../ui/download';
import { exported } from '../ui/exported';
import { Pane } from '../ui/Pane';
import { projectFile, saveProjectFile } from '../ui/saveProject';
import { useSame } from '../ui/useSame';
import { ValueField } from '../ui/ValueField';
import { VerdictMark } from '../ui/verdict';
import { HandOver } from './HandOver';
import { Lying } from './Lying';
import { Look } from './StageLater';
import { Milling, Moulding, TurningSeen } from './Tooling';

const FORMATS: Record<ExportFormat, { label: string; for: string; mesh: boolean }> = {
  stl: { label: 'STL, binary', for: 'printing', mesh: true },
  '3mf': { label: '3MF', for: 'printing, with units and colours inside', mesh: true },
  obj: { label: 'OBJ', for: 'rendering and mesh work', mesh: true },
  glb: { label: 'GLB', for: 'showing it, in its colours', mesh: true },
  step: { label: 'STEP', for: 'machining and other modelers; exact surfaces, colours', mesh: false },
};

/** Chosen in place of one body: all in one file, or each in one of its own. */
const TOGETHER = 'together';
const APART = 'apart';

/** Handing over: verdicts once more, format, deviation with its triangle count, and the file. */
export function MakePage() {
  const project = useProject((s) => s.project);
  return project && <MakeOf project={project} />;
}

function MakeOf({ project }: { project: Project }) {
  const result = useBench((s) => s.result);
  const stale = useBench((s) => s.stale);
  const stopped = useBench((s) => s.stopped);
  const [chosen, setBody] = useState<string | null>(null);
  const [format, setFormat] = useState<ExportFormat>('stl');
  const [deviation, setDeviation] = useState('0.05 mm');
  const [busy, setBusy] = useState(false);
  const bodies = result?.bodies ?? [];
  const apart = chosen === APART && bodies.length > 1;
  const together = apart || (chosen === TOGETHER && bodies.length > 1);
  const body = judgedBody(project, bodies, (b) => b.id, together ? null : chosen) ?? undefined;
  const written = together ? bodies : body ? [body] : [];
  const shown = useSame(written.map((b) => b.id));
  const read = useJudged(project, body?.id ?? null).gauges;
  const gauges = read.filter((g) => g.target !== '–');
  const { scope } = tableOf(project);
  const check = (t: string) => {
    const r = evaluateAs(t, 'length', scope);
    return r.ok && !(r.value >= 0.001 && r.value <= 5) ? fail('a deviation lies between 0.001 and 5 mm') : r;
  };
  const parsed = check(deviation);
  const mm = parsed.ok ? (parsed.value as number) : 0.05;
  const mesh = FORMATS[format].mesh;
  const count = useBuilt(['triangles', shown, mm], () => engine.countTriangles(shown, mm), { when: mesh && written.length > 0 });
  // What was put out of sight stays here, but for what is chosen by itself.
  const shownBodies = bodies.filter((b) => !project.bodies[b.id]?.hidden || b.id === body?.id);
  const failed = result?.steps.filter((s) => s.state === 'failed') ?? [];
  const name = apart
    ? `${slug(project.name)}-${format}.zip`
    : `${together ? slug(project.name) : slug(project.name, body?.name ?? '')}.${format}`;
  const triangles = count.data?.ok ? count.data.value : null;
  const size = triangles !== null && format === 'stl' ? 84 + 50 * triangles : null;

  const save = async (): Promise<void> => {
    setBusy(true);
    const file = await engine.exportBodies(exported(project, written), format, mm, project.name, apart);
    setBusy(false);
    if (!file.ok) return void toast.error('Not exported', { description: file.error });
    download(file.value.name, file.value.bytes);
    keepState(file.value.name, 'export', read);
    toast.success(`${file.value.name} saved`, {
      description: `${(file.value.bytes.length / 1000).toFixed(0)} kB${file.value.triangles ? `, ${file.value.triangles.toLocaleString()} triangles` : ', exact surfaces'}, millimetres`,
    });
  };

  return (
    <main className="h-full overflow-auto">
      <div className="mx-auto grid max-w-[1680px] max-[960px]:grid-cols-1! grid-cols-[minmax(320px,1fr)_minmax(0,1.2fr)_minmax(220px,0.7fr)] gap-8 px-8 py-6">
        <div>
          <h1 className="mb-3 text-lg font-semibold">Make</h1>
          {stale && (
            <p className="mb-3 bg-amberwash px-3 py-2 text-amber">
              {stopped ? (
                <>
                  ▲ Its build was stopped; export waits for it.{' '}
                  <button type="button" className="btn" onClick={buildAgain}>
                    Build
                  </button>
                </>
              ) : (
                '▲ The body is being rebuilt; export waits for it.'
              )}
            </p>
          )}
          {failed.length > 0 && (
            <p className="mb-3 bg-madderwash px-3 py-2 text-madder">
              ■ {failed.length === 1 ? 'A step has' : `${failed.length} steps have`} failed: what is exported is the last good body before
              it.
            </p>
          )}
          {!body && !stale && <p className="text-ink2">There is no body yet. Raise one on the bench.</p>}
          {body && (
            <>
              <fieldset className="mb-5">
                <legend className="heading mb-1">{bodies.length > 1 ? 'Bodies' : 'Body'}</legend>
                {bodies.map((b) => (
                  <label key={b.id} className="flex items-center gap-2 py-0.5">
                    <input
                      type="radio"
                      name="body"
                      className="accent-teal"
                      checked={!together && b.id === body.id}
                      onChange={() => setBody(b.id)}
                    />
                    {b.name}
                    <span className="text-ink2">{bodyAmount(b, project.units)}</span>
                  </label>
                ))}
                {bodies.length > 1 &&
                  [
                    {
                      way: TOGETHER,
                      words: `All ${bodies.length} in one file`,
                      hint: `where they stand, each under its name${{ '3mf': ' and in its colour', glb: ' and in its colour', stl: '; STL keeps no names', obj: '', step: ' and in its colour' }[format]}`,
                    },
                    { way: APART, words: 'A file for each', hint: 'in one frame, packed together' },
                  ].map(({ way, words, hint }) => (
                    <label key={way} className="flex items-center gap-2 py-0.5">
                      <input
                        type="radio"
                        name="body"
                        className="accent-teal"
                        checked={together && apart === (way === APART)}
                        onChange={() => setBody(way)}
                      />
                      <span className="whitespace-nowrap">{words}</span>
                      <span className="text-ink2">{hint}</span>
                    </label>
                  ))}
              </fieldset>
              <fieldset className="mb-5">
                <legend className="heading mb-1">Format</legend>
                {(Object.keys(FORMATS) as ExportFormat[]).map((f) => (
                  <label key={f} className="flex items-center gap-2 py-0.5">
                    <input type="radio" name="format" className="accent-teal" checked={f === format} onChange={() => setFormat(f)} />
                    <span className="w-24">{FORMATS[f].label}</span>
                    <span className="text-ink2">{FORMATS[f].for}</span>
                  </label>
                ))}
              </fieldset>
              {mesh && (
                <div className="mb-5">
                  <div className="heading mb-1">Deviation from the exact surface</div>
                  <ValueField label="Deviation" value={deviation} check={check} onCommit={setDeviation} />
                  <span className="ml-3" data-testid="triangles">
                    {count.isFetching
                      ? 'counting…'
                      : triangles !== null
                        ? `${triangles.toLocaleString()} triangles${size ? `, ${(size / 1000).toFixed(0)} kB` : ''}`
                        : ''}
                  </span>
                  {count.data && !count.data.ok && <p className="text-madder">■ {count.data.error}</p>}
                </div>
              )}
              <button type="button" className="btn-strong" disabled={busy || stale} onClick={() => void save()}>
                {busy ? 'Writing…' : `Save ${name}`}
              </button>
              <p className="mt-2 text-ink2">In millimetres. The file name says project{together ? '' : ' and body'}.</p>
              {project.made?.grown && (
                <p className="mt-2 border-l-2 border-teal bg-panel px-2 py-1">
                  {PRINTED.includes(format) ? 'Written' : 'STL and 3MF are written'}{' '}
                  <b className="font-mono font-medium">{growthWords(project.made.grown)}</b> as large, so that what shrinks comes out right.{' '}
                  {PRINTED.includes(format) ? '' : 'This format is as drawn. '}
                  <Link className="link" to="../made">
                    Made
                  </Link>
                </p>
              )}
            </>
          )}
          {body && <HandOver project={project} bodies={shownBodies} body={body} gauges={gauges} deviation={mm} ready={!busy && !stale} />}
          <h2 className="mb-1 mt-8 text-[15px] font-semibold">The project itself</h2>
          <p className="mb-2 text-ink2">Everything you entered, in one readable file that opens in any browser.</p>
          <button type="button" className="btn" onClick={() => saveProjectFile(project)}>
            Save {projectFile(project)}
          </button>
        </div>
        <div className="sticky top-6 h-[calc(100vh-92px)] max-h-[900px] min-h-64 self-start">
          {body && (
            <Pane called="What is made">
              <Look project={project} only={shown} down={(!together && project.bodies[body.id]?.lie?.down) || null} />
            </Pane>
          )}
        </div>
        <aside>
          <h2 className="mb-1 text-[15px] font-semibold">Before it leaves</h2>
          <ul className="mb-5">
            {gauges.map((g) => (
              <li key={g.id} className="flex justify-between border-b border-line py-1">
                <span>{g.label}</span>
                <span className={g.verdict === 'fail' ? 'text-madder' : g.verdict === 'warn' ? 'text-amber' : ''}>
                  <VerdictMark verdict={g.verdict} /> {g.words}
                </span>
              </li>
            ))}
            {gauges.length === 0 && <li className="text-ink2">The brief has no targets.</li>}
          </ul>
          <h2 className="mb-1 text-[15px] font-semibold">Cautions</h2>
          <ul className="flex flex-col gap-2">
            {cautionsFor(project.brief).map((c) => (
              <li key={c} className="border-l-2 border-amber pl-2">
                {c}
              </li>
            ))}
            <li className="text-ink2">The program helps with shape; it certifies nothing.</li>
          </ul>
        </aside>
      </div>
      {body && !together && project.brief.process === 'print' && <Lying project={project} body={body} gauges={read} />}
      {body && !together && (project.brief.process === 'mould' || project.brief.process === 'cast') && (
        <Moulding project={project} body={body} gauges={read} />
      )}
      {body && !together && project.brief.process === 'mill' && <Milling project={project} body={body} />}
      {body && !together && project.brief.process === 'turn' && <TurningSeen project={project} body={body} />}
    </main>
  );
}
