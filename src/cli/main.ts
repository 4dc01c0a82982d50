/** The headless runner: the same engine in Node. */
import { mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { judge, judgedBody } from '../core/brief/judge';
import { evaluateDimensions } from '../core/dimensions/dimensions';
import { evaluateQuantity } from '../core/dimensions/expression';
import { MAX_FILE_BYTES, parseProject } from '../core/recipe/file';
import { danglingReferences } from '../core/recipe/references';
import type { Project } from '../core/recipe/schema';
import { stepTitle } from '../core/recipe/words';
import { wordsOf } from '../core/result';
import { sizesOf } from '../core/sizes/sizes';
import { degrees, shownIn, wordsIn } from '../core/units/units';
import { Engine } from '../engine/engine';
import { exportBodies, partsOf } from '../engine/export';
import { inspectAll } from '../engine/inspect';
import { measureBody } from '../engine/measure';
import { allNumbers } from '../engine/report';
import { EXPORT_FORMATS, type ExportFormat } from '../engine/types';
import { openKernel } from '../kernel/open';
import { buildSizes } from './sizes';
import { watchSteps } from './watch';

const USAGE = `usage:
  lathe build FILE [--set name=expr]… [--out DIR] [--formats step,stl,3mf,obj,glb] [--together] [--deviation mm] [--inspect] [--limit seconds] [--json]
  lathe sizes FILE [--out DIR] [--formats step,stl,3mf,obj,glb] [--together] [--deviation mm] [--limit seconds] [--json]
  lathe demo
  lathe validate FILE`;

/** Bad file or bad usage: one line on stderr, exit code 2. */
class Refused extends Error {}

function read(path: string | undefined): Project {
  if (!path) throw new Refused('a file is missing');
  let text: string;
  try {
    if (statSync(path).size > MAX_FILE_BYTES) throw new Refused(`${path}: the file is larger than ${MAX_FILE_BYTES / 1e6} MB`);
    text = readFileSync(path, 'utf8');
  } catch (e) {
    throw e instanceof Refused ? e : new Refused(`${path} can't be read`);
  }
  const project = parseProject(text);
  if (!project.ok) throw new Refused(`${path}: ${project.error}`);
  return project.value;
}

function withSettings(project: Project, settings: readonly string[]): Project {
  let dimensions = project.dimensions;
  for (const s of settings) {
    const at = s.indexOf('=');
    const name = s.slice(0, at).trim();
    if (at < 1) throw new Refused(`--set wants name=expr, not “${s}”`);
    if (!dimensions.some((d) => d.name === name)) throw new Refused(`--set: there is no dimension called “${name}”`);
    dimensions = dimensions.map((d) => (d.name === name ? { ...d, expr: s.slice(at + 1) } : d));
  }
  return { ...project, dimensions };
}

/** What is written and where, how long a step may take, and how it is told: of one build, or of all sizes. */
const WRITING = {
  out: { type: 'string' },
  formats: { type: 'string' },
  deviation: { type: 'string' },
  together: { type: 'boolean' },
  limit: { type: 'string' },
  json: { type: 'boolean' },
} as const;

async function build(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { ...WRITING, set: { type: 'string', multiple: true }, inspect: { type: 'boolean' } },
  });
  const project = withSettings(read(positionals[0]), values.set ?? []);
  const formats = (values.formats ?? (values.out ? 'step,stl' : '')).split(',').filter(Boolean);
  const unknown = formats.find((f) => !EXPORT_FORMATS.includes(f as ExportFormat));
  if (unknown) throw new Refused(`there is no format “${unknown}”; known are ${EXPORT_FORMATS.join(', ')}`);
  if (formats.length > 0 && !values.out) throw new Refused('--formats needs --out DIR');
  const deviation = Number(values.deviation ?? 0.05);
  if (!(deviation >= 0.001 && deviation <= 5)) throw new Refused('--deviation lies between 0.001 and 5 mm');

  const seconds = Number(values.limit ?? 120);
  if (!(seconds > 0 && seconds <= 86_400)) throw new Refused('--limit lies between 0 and 86400 s for one step');

  const engine = new Engine({ open: () => openKernel() });
  const kernel = await engine.start();
  const watch = watchSteps(seconds);
  const result = await engine.rebuild(project, (_, step, report) => {
    if (report) watch.end();
    else watch.begin(stepTitle(step.id, project));
  });
  const table = evaluateDimensions(project.dimensions);
  const built = engine.bodies();
  const main = judgedBody(project, built, (b) => b.id);
  const measured = main ? await measureBody(kernel, project, table.scope, main.id, main.body, async () => true) : null;
  const exports: { format: string; path: string; bytes: number }[] = [];
  const parts = partsOf(project, built);
  for (const together of values.together ? [parts] : parts.map((p) => [p]))
    for (const format of formats) {
      const file = exportBodies(kernel, together, format as ExportFormat, deviation, project.name);
      if (!file.ok) throw new Refused(file.error);
      mkdirSync(values.out!, { recursive: true });
      const path = join(values.out!, file.value.name);
      writeFileSync(path, file.value.bytes);
      exports.push({ format, path, bytes: file.value.bytes.length });
    }
  const least = project.brief.targets.find((t) => t.gauge === 'wall-min')?.min;
  const limit = least === undefined ? undefined : evaluateQuantity(least, table.scope);
  const answers =
    values.inspect && main
      ? await inspectAll(
          kernel,
          project,
          main.id,
          main.body,
          limit?.ok ? limit.value.value : null,
          async () => true,
          undefined,
          new Map(built.map((b) => [b.id, b.body])),
        )
      : null;
  const ok = !result.steps.some((s) => s.state === 'failed');
  const report = {
    ok,
    ms: Math.round(result.ms),
    units: 'mm',
    dimensions: project.dimensions.map((d) => {
      const v = table.values.get(d.name)!;
      // Values are mm and degrees outside the program.
      return {
        name: d.name,
        expr: d.expr,
        value: v.ok ? (v.value.angle === 1 && v.value.length === 0 ? degrees(v.value.value) : v.value.value) : null,
        ...(v.ok ? {} : { error: v.error }),
      };
    }),
    steps: result.steps.map((s) => ({
      id: s.id,
      kind: s.kind,
      state: s.state,
      ms: Math.round(s.ms),
      checkMs: Math.round(s.checkMs),
      message: s.why ? `${s.message}: ${s.why}${s.tryInstead.length > 0 ? ` (${s.tryInstead.join('; ')})` : ''}` : s.message,
      note: s.note,
    })),
    bodies: result.bodies.map(({ id: _, ...b }) => b),
    gauges: judge(project, table.scope, main?.id ?? null, measured?.readings ?? null).map((g) => ({
      id: g.id,
      label: g.label,
      value: g.unit === 'yes/no' ? (g.value === null ? null : g.value === 1 ? 'yes' : 'no') : g.value,
      unit: g.unit,
      target: g.target,
      verdict: g.verdict,
    })),
    exports,
    ...(answers ? { inspection: allNumbers(answers, main!.body.faces) } : {}),
  };
  if (values.json) process.stdout.write(`${JSON.stringify(report)}\n`);
  else {
    for (const s of report.steps)
      console.log(
        `${s.state.padEnd(8)} ${s.id} ${s.kind} ${s.ms} + ${s.checkMs} ms${s.message || s.note ? `  ${wordsIn(s.message ?? s.note ?? '', project.units)}` : ''}`,
      );
    for (const b of report.bodies) console.log(`${b.name}: ${b.volume.toFixed(1)} mm³, ${b.faces} faces, ${b.closed ? 'closed' : 'open'}`);
    for (const g of report.gauges) {
      const shown = typeof g.value === 'number' ? shownIn(g.value, g.unit, 4, project.units) : { text: g.value ?? '–', unit: '' };
      console.log(
        `${g.verdict.padEnd(8)} ${g.label}: ${typeof g.value === 'number' ? Number(shown.text) : shown.text} ${shown.unit} (${g.target})`,
      );
    }
    for (const e of exports) console.log(`wrote ${e.path}, ${e.bytes} bytes`);
  }
  return ok ? 0 : 1;
}

/** Every size of the file's table, on all cores: exit code 1 where one can't be made. */
async function sizes(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({ args, allowPositionals: true, options: WRITING });
  const project = read(positionals[0]);
  if (sizesOf(project).rows.length === 0) throw new Refused(`${positionals[0]} has no sizes`);
  if (values.formats && !values.out) throw new Refused('--formats needs --out DIR');
  const more = (['formats', 'deviation', 'limit'] as const).flatMap((k) => (values[k] === undefined ? [] : [`--${k}`, values[k]]));
  const all = await buildSizes(positionals[0]!, project, [...more, ...(values.together ? ['--together'] : [])], values.out, (built) => {
    if (values.json) return;
    const wrong = built.error ?? built.steps?.find((s) => s.state === 'failed')?.message;
    const shown = (built.gauges ?? []).flatMap((g) =>
      typeof g.value === 'number' && g.verdict !== 'unknown' ? [`${g.label} ${Number(g.value.toFixed(4))} ${g.unit} (${g.verdict})`] : [],
    );
    console.log(`${built.ok ? 'done' : 'failed'}   ${built.size}: ${built.ok ? shown.join(', ') : wordsIn(wrong ?? '', project.units)}`);
  });
  if (values.json) process.stdout.write(`${JSON.stringify(all)}\n`);
  return all.every((b) => b.ok) ? 0 : 1;
}

function demo(): number {
  const dir = fileURLToPath(new URL('../../demo/', import.meta.url));
  for (const f of readdirSync(dir)
    .filter((n) => n.endsWith('.lathe.json'))
    .sort()) {
    const p = read(join(dir, f));
    console.log(`${p.name}\t${relative(process.cwd(), join(dir, f))}`);
  }
  return 0;
}

function validate(args: string[]): number {
  const project = read(args[0]);
  const problems = danglingReferences(project).map((d) => `step ${d.step}: ${d.what}`);
  const table = evaluateDimensions(project.dimensions);
  for (const [name, v] of table.values) if (!v.ok) problems.push(`dimension ${name}: ${v.error}`);
  for (const t of project.brief.targets)
    for (const text of [t.min, t.max]) {
      const r = text === undefined ? undefined : evaluateQuantity(text, table.scope);
      if (r && !r.ok) problems.push(`target ${t.gauge}: ${r.error}`);
    }
  for (const p of problems) console.log(p);
  console.log(
    problems.length === 0 ? `${project.name}: sound, ${project.steps.length} steps` : `${project.name}: ${problems.length} to mend`,
  );
  return problems.length === 0 ? 0 : 1;
}

async function main(): Promise<number> {
  const [command, ...args] = process.argv.slice(2);
  switch (command) {
    case 'build':
      return build(args);
    case 'sizes':
      return sizes(args);
    case 'demo':
      return demo();
    case 'validate':
      return validate(args);
    default:
      throw new Refused(command ? `there is no command “${command}”\n${USAGE}` : USAGE);
  }
}

main().then(
  (code) => {
    process.exitCode = code;
  },
  (e: unknown) => {
    process.stderr.write(`${wordsOf(e)}\n`);
    process.exitCode = 2;
  },
);
