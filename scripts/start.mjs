/** Installs what is missing, builds what is older than its source, and serves the application: `npm start -- --port 4200`. */
import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { ensurePackages } from './install.mjs';

const { values } = parseArgs({ options: { port: { type: 'string' }, host: { type: 'string' } } });
ensurePackages();
const newest = (dir) => readdirSync(dir, { recursive: true }).reduce((t, f) => Math.max(t, statSync(join(dir, f)).mtimeMs), 0);
const built = existsSync('dist/index.html') ? statSync('dist/index.html').mtimeMs : 0;
if (built < Math.max(newest('src'), newest('demo'), statSync('package-lock.json').mtimeMs, statSync('vite.config.ts').mtimeMs)) {
  console.log('Building: 10 to 30 s…');
  const { status, stdout, stderr } = spawnSync(process.execPath, ['node_modules/vite/bin/vite.js', 'build', '--logLevel', 'warn'], {
    encoding: 'utf8',
  });
  // What the bundler has to say matters only where it could not do it.
  if (status !== 0) {
    console.error(stdout + stderr);
    process.exit(1);
  }
}
const { preview } = await import('vite');
const server = await preview({
  logLevel: 'error',
  preview: { ...(values.port ? { port: Number(values.port) } : {}), ...(values.host ? { host: values.host } : {}) },
});
const { local, network } = server.resolvedUrls;
console.log(`Ivory Lathe is at ${network[0] ?? local[0]}  (Ctrl+C ends it)`);
