/** Everything CI runs: types, lint with layers and format, unit, reference and end-to-end tests. */
import { spawnSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { ensurePackages, run } from './install.mjs';

ensurePackages();
const has = (command) => spawnSync(command, ['--version'], { stdio: 'ignore' }).error === undefined;
if (!has('chromium') || !has('admesh')) {
  console.log('Installing Debian’s chromium and admesh…');
  run('apt-get', ['update', '-qq'], { stdio: 'ignore' });
  run('apt-get', ['install', '-y', '-qq', 'chromium', 'admesh'], {
    stdio: 'ignore',
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  });
}
const failures = [];
const check = (name, command, args) => {
  console.log(`\n— ${name}`);
  if (run(command, args) !== 0) failures.push(name);
};
check('types', 'npx', ['tsc', '-p', '.']);
check('lint, layers, format', 'npx', ['biome', 'ci', '--error-on-warnings', '.']);
check('build', 'npx', ['vite', 'build', '--logLevel', 'error']);
if (!has('chromium')) console.log('There is no chromium here and it could not be installed: the end-to-end tests will fail.');
const report = 'test-results/report.json';
rmSync(report, { force: true });
check('tests', 'npx', ['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile=${report}`]);
let counts = { numPassedTests: 0, numFailedTests: 1, numPendingTests: 0 };
try {
  counts = JSON.parse(readFileSync(report, 'utf8'));
} catch {
  failures.push('no test report');
}
const failed = counts.numFailedTests + failures.filter((f) => f !== 'tests' || counts.numFailedTests === 0).length;
if (failures.length > 0) console.log(`\nfailed: ${failures.join(', ')}`);
console.log(`${counts.numPassedTests} passed, ${failed} failed, ${counts.numPendingTests} skipped`);
process.exit(failed > 0 || counts.numPassedTests === 0 ? 1 : 0);
