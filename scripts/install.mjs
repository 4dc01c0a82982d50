/** What every command needs first: the packages, if they are missing or older than the lock file. */
import { spawnSync } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';

export const run = (command, args, options = {}) => spawnSync(command, args, { stdio: 'inherit', ...options }).status ?? 1;

export function ensurePackages() {
  const marker = 'node_modules/.package-lock.json';
  if (existsSync(marker) && statSync(marker).mtimeMs >= statSync('package-lock.json').mtimeMs - 1000) return;
  console.log('Installing packages…');
  // Not `npm ci`: it refuses a lock file in which packages for other platforms are missing, and some registries do not serve those.
  if (run('npm', ['install', '--no-fund', '--no-audit', '--loglevel=error']) !== 0) process.exit(1);
}
