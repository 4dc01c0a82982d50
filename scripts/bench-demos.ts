/**
 * Every demo through the headless runner, beside the same at an earlier commit in the same run: how many times faster it is. The earlier commit is checked
 * out into a folder of its own; where the history does not reach back to it, only today's times are told.
 */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { asJson, figure } from './figures';

/** The last commit before bodies kept their outlines. */
const BEFORE = process.env.BENCH_BEFORE ?? 'f247339';

const run = (command: string, args: readonly string[], cwd = '.') =>
  spawnSync(command, args, { cwd, encoding: 'utf8', maxBuffer: 1 << 28 });
const root = mkdtempSync(join(tmpdir(), 'before-'));
const there = run('git', ['worktree', 'add', '--detach', join(root, 'tree'), BEFORE]).status === 0 ? join(root, 'tree') : null;
if (there) symlinkSync(resolve('node_modules'), join(there, 'node_modules'));
else console.log(`no history back to ${BEFORE}: without ratios`);

interface Told {
  readonly total: number;
  readonly build: number;
  readonly check: number;
  readonly steps: readonly { readonly ms: number; readonly checkMs?: number }[];
}
/** @param runner how the runner is called at that commit */
function build(cwd: string, file: string, runner: readonly [string, ...string[]]): Told | null {
  const t = performance.now();
  const [command, ...args] = runner;
  const done = run(command, [...args, 'build', file, '--json'], cwd);
  const total = performance.now() - t;
  if (done.status !== 0) return null;
  const { steps } = JSON.parse(done.stdout) as { steps: Told['steps'] };
  const sum = (f: (s: Told['steps'][number]) => number): number => steps.reduce((n, s) => n + f(s), 0);
  return { total, build: sum((s) => s.ms), check: sum((s) => s.checkMs ?? 0), steps };
}

const TODAY = ['node', 'scripts/lathe.mjs'] as const;
const THEN = ['npx', 'tsx', 'src/cli/main.ts'] as const;
// Bundled once, before anything is timed.
run('node', ['scripts/lathe.mjs', 'demo']);

const shares: number[] = [];
let [built, checked] = [0, 0];
for (const name of readdirSync('demo').filter((f) => f.endsWith('.lathe.json'))) {
  const file = `demo/${name}`;
  const now = build('.', file, TODAY);
  if (!now) {
    console.log(`${name}: did not build`);
    continue;
  }
  figure(`${name}: the runner, all in all`, now.total, 'ms', name.startsWith('steam-diffuser') ? 5000 : undefined);
  const before = there && existsSync(join(there, file)) ? build(there, file, THEN) : null;
  if (before) figure('  times faster than before', before.total / now.total, '×', 5, true);
  built += now.build;
  checked += now.check;
  for (const s of now.steps) if (s.ms >= 20) shares.push((s.checkMs ?? 0) / s.ms);
}
figure('checks beside building, all steps of all demos', checked / built, '×', 1);
figure('  in the median of steps over 20 ms', shares.sort((a, b) => a - b)[Math.floor(shares.length / 2)]!, '×', 0.5);
if (there) run('git', ['worktree', 'remove', '--force', there]);
rmSync(root, { recursive: true, force: true });
asJson();
