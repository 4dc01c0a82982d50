/** Installs what is missing, builds, and serves the application. */
import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { ensurePackages, run } from './install.mjs';

ensurePackages();
const newest = (dir) => readdirSync(dir, { recursive: true }).reduce((t, f) => Math.max(t, statSync(join(dir, f)).mtimeMs), 0);
const built = existsSync('dist/index.html') ? statSync('dist/index.html').mtimeMs : 0;
if (built < Math.max(newest('src'), newest('demo'), statSync('package-lock.json').mtimeMs, statSync('vite.config.ts').mtimeMs)) {
  if (run('npx', ['vite', 'build', '--logLevel', 'warn']) !== 0) process.exit(1);
}
process.exit(run('npx', ['vite', 'preview', ...process.argv.slice(2)]));
