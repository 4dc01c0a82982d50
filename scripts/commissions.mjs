/** Whole jobs through the interface, one file a job in tests/e2e/commissions: all of them, or those whose names are given. `--keep` writes what they made to demo/jobs. */
import { readdirSync } from 'node:fs';
import { ensurePackages, run } from './install.mjs';

const FOLDER = 'tests/e2e/commissions';
const all = readdirSync(FOLDER).flatMap((f) => (f.endsWith('.test.ts') ? [f.slice(0, -'.test.ts'.length)] : []));
const keep = process.argv.includes('--keep');
const asked = process.argv.slice(2).filter((a) => a !== '--keep');
const unknown = asked.filter((name) => !all.includes(name));
if (unknown.length > 0) {
  console.error(`There is no commission “${unknown.join('”, “')}”. There are: ${all.join(', ')}.`);
  process.exit(1);
}
ensurePackages();
const built = run('npx', ['vite', 'build', '--logLevel', 'error']);
if (built !== 0) process.exit(built);
const files = (asked.length > 0 ? asked : all).map((name) => `${FOLDER}/${name}.test.ts`);
process.exit(
  run('npx', ['vitest', 'run', '--project', 'e2e', ...files], {
    env: { ...process.env, EVERY_CASE: '1', ...(keep ? { KEEP_JOBS: '1' } : {}) },
  }),
);
