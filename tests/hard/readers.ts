/** Hostile files and documents by the hundred, in children that may hang. */
import { spawn } from 'node:child_process';
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';

export interface Tally {
  /** How often each came about: read, built, told, refused. */
  readonly came: Record<string, number>;
  /** What threw, or hung; empty as it should be. */
  readonly wrong: string[];
  /** What took longer than its limit, on this machine as loaded as it was. */
  readonly late: string[];
  /** The longest, ms. */
  longest: number;
}

const root = fileURLToPath(new URL('../..', import.meta.url));
/** Time for one, s: 10, and for files 2 a megabyte where that is less, 3 at least, because children share the machine. */
const limitOf = (what: string, bytes: number): number => (what === 'files' ? Math.min(10, Math.max(3, (2 * bytes) / 1e6)) : 10);
/** @param what `files` are read, `documents` are built @param end what hangs is ended after so long, s; the page ends its workers likewise */
export async function tryAll(what: 'files' | 'documents', count: number, seed: number, end = 15): Promise<Tally> {
  const tally: Tally = { came: {}, wrong: [], late: [], longest: 0 };
  let next = 0;
  while (next < count) {
    const child = spawn('npx', ['tsx', 'tests/hard/child.ts', what, String(next), String(count), String(seed)], {
      cwd: root,
      stdio: ['ignore', 'pipe', 'inherit'],
      detached: true,
    });
    let at = -1;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const stop = (): void => {
      if (child.pid) process.kill(-child.pid, 'SIGKILL');
    };
    for await (const line of createInterface({ input: child.stdout })) {
      const told = JSON.parse(line) as { i: number; begun?: true; kind: string; came: string; why?: string; bytes: number; ms: number };
      clearTimeout(timer);
      if (told.begun) {
        at = told.i;
        timer = setTimeout(stop, 1000 * end);
        continue;
      }
      next = told.i + 1;
      at = -1;
      tally.came[`${told.kind} ${told.came}`] = (tally.came[`${told.kind} ${told.came}`] ?? 0) + 1;
      tally.longest = Math.max(tally.longest, told.ms);
      if (told.came === 'threw') tally.wrong.push(`${what} ${told.i}: ${told.why}`);
      const limit = limitOf(what, told.bytes);
      if (told.ms > 1000 * limit) tally.late.push(`${what} ${told.i} (${told.kind}): ${told.ms.toFixed(0)} ms for ${told.bytes} bytes`);
    }
    clearTimeout(timer);
    if (at >= 0) {
      tally.wrong.push(`${what} ${at}: was not done within ${end} s, or took its process with it`);
      next = at + 1;
    } else if (next < count) throw new Error('the child ended before its work was done');
  }
  return tally;
}
