/** All sizes of a file, each built by a runner of its own, as many at once as there are cores. */
import { spawn } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { slug } from '../core/recipe/file';
import type { Project, Size } from '../core/recipe/schema';
import { setBy, sizesOf } from '../core/sizes/sizes';

/** What a runner prints of one build, as far as it matters here. */
interface Built {
  readonly ok: boolean;
  readonly ms: number;
  readonly steps: readonly { readonly id: string; readonly state: string; readonly message: string | null }[];
  readonly gauges: readonly {
    readonly id: string;
    readonly label: string;
    readonly value: number | string | null;
    readonly unit: string;
    readonly verdict: string;
  }[];
  readonly exports: readonly { readonly path: string; readonly bytes: number }[];
}
export interface BuiltSize extends Partial<Built> {
  readonly size: string;
  readonly ok: boolean;
  /** Why there is nothing, in one line, where the runner gave none. */
  readonly error?: string;
}

/** What a size sets, as the runner's own settings. */
const settings = (project: Project, size: Size): string[] => setBy(project, size).flatMap(([name, typed]) => ['--set', `${name}=${typed}`]);

function buildOne(file: string, project: Project, size: Size, more: readonly string[], out: string | undefined): Promise<BuiltSize> {
  const folder = out === undefined ? [] : ['--out', join(out, slug(size.name))];
  const args = [...process.execArgv, process.argv[1]!, 'build', file, ...settings(project, size), ...more, ...folder, '--json'];
  return new Promise((resolve) => {
    const runner = spawn(process.execPath, args, { stdio: ['ignore', 'pipe', 'pipe'] });
    let [told, wrong] = ['', ''];
    runner.stdout.on('data', (d) => {
      told += d;
    });
    runner.stderr.on('data', (d) => {
      wrong += d;
    });
    runner.on('error', (e) => resolve({ size: size.name, ok: false, error: e.message }));
    runner.on('close', () => {
      try {
        resolve({ size: size.name, ...(JSON.parse(told) as Built) });
      } catch {
        resolve({ size: size.name, ok: false, error: wrong.trim().split('\n').at(-1) || 'it printed nothing' });
      }
    });
  });
}

/** @param more settings of the runner that hold for all of them @param out a folder; each size gets one of its own in it @param onSize called with each as it is built */
export async function buildSizes(
  file: string,
  project: Project,
  more: readonly string[],
  out: string | undefined,
  onSize: (built: BuiltSize) => void,
): Promise<BuiltSize[]> {
  const { rows } = sizesOf(project);
  const done = new Map<string, BuiltSize>();
  const waiting = [...rows];
  const work = async (): Promise<void> => {
    for (let size = waiting.shift(); size; size = waiting.shift()) {
      const built = await buildOne(file, project, size, more, out);
      done.set(size.id, built);
      onSize(built);
    }
  };
  await Promise.all(Array.from({ length: Math.min(availableParallelism(), rows.length) }, work));
  return rows.map((r) => done.get(r.id)!);
}
