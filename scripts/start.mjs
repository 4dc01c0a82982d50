/** Installs what is missing, builds what is older than its source, and serves the application: `npm start -- --port 4200`. */
import { spawnSync } from 'node:child_process';
import { parseArgs } from 'node:util';
import { isStale } from './fresh.mjs';
import { ensurePackages } from './install.mjs';

const { values } = parseArgs({ options: { port: { type: 'string' }, host: { type: 'string' } } });
ensurePackages();
if (isStale('dist/index.html', 'src', 'demo', 'package-lock.json', 'vite.config.ts')) {
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
