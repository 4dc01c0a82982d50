/** Whether what was built is older than what it is built from. */
import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';

const newest = (dir) => readdirSync(dir, { recursive: true }).reduce((t, f) => Math.max(t, statSync(join(dir, f)).mtimeMs), 0);

/** @param built the file that is written last; what else it depends on are folders or files */
export function isStale(built, ...sources) {
  if (!existsSync(built)) return true;
  const made = statSync(built).mtimeMs;
  return sources.some((s) => made < (statSync(s).isDirectory() ? newest(s) : statSync(s).mtimeMs));
}
