/** What every command needs first: the packages, if they are missing or older than the lock file. */
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync, statSync, utimesSync, writeFileSync } from 'node:fs';

export const run = (command, args, options = {}) => spawnSync(command, args, { stdio: 'inherit', ...options }).status ?? 1;

const LOCK = 'package-lock.json';

export function ensurePackages() {
  const marker = 'node_modules/.package-lock.json';
  if (existsSync(marker) && statSync(marker).mtimeMs >= statSync(LOCK).mtimeMs - 1000) return;
  console.log('Installing packages: half a minute to two…');
  // Not `npm ci`: it refuses a lock file in which packages for other platforms are missing, and some registries do not serve those.
  // What npm writes into the lock file on the way is taken back: starting changes nothing that is kept.
  const [lock, { mtime, atime }] = [readFileSync(LOCK), statSync(LOCK)];
  const done = run('npm', ['install', '--no-fund', '--no-audit', '--loglevel=error']);
  if (!readFileSync(LOCK).equals(lock)) {
    writeFileSync(LOCK, lock);
    utimesSync(LOCK, atime, mtime);
  }
  if (done !== 0) process.exit(1);
  // Where nothing had to be changed npm leaves its marker as old as it was.
  utimesSync(marker, new Date(), new Date());
}
