/** Everything CI runs: types, lint with layers and format, what nobody uses, unit, reference and end-to-end tests. */
import { spawnSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { relative } from 'node:path';
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
check('unused exports, files and dependencies', 'npx', ['knip', '--no-progress']);
check('build', 'npx', ['vite', 'build', '--logLevel', 'error']);
if (!has('chromium')) console.log('There is no chromium here and it could not be installed: the end-to-end tests will fail.');
let [passed, failed, skipped] = [0, 0, 0];
const times = [];
/** Browsers get the machine to themselves, two at a time: kernels beside them would run them into their time limits. */
for (const [name, projects, more] of [
  ['unit and reference tests', ['unit', 'kernel', 'reference'], []],
  // A browser on a loaded runner may stumble once; what was begun again is named so in the output.
  ['end-to-end tests', ['e2e'], ['--retry=1']],
]) {
  const report = `test-results/${projects[0]}.json`;
  rmSync(report, { force: true });
  const before = failures.length;
  check(name, 'npx', [
    'vitest',
    'run',
    ...projects.flatMap((p) => ['--project', p]),
    ...more,
    '--reporter=default',
    '--reporter=json',
    `--outputFile=${report}`,
  ]);
  try {
    const counts = JSON.parse(readFileSync(report, 'utf8'));
    passed += counts.numPassedTests;
    skipped += counts.numPendingTests;
    for (const f of counts.testResults) times.push({ file: relative('.', f.name), s: (f.endTime - f.startTime) / 1000 });
    failed += counts.numFailedTests;
    // Each failed test is counted once, by its own number.
    if (counts.numFailedTests > 0) failures.splice(before);
  } catch {
    failures.push(`${name}: no report`);
  }
}
failed += failures.length;
console.log('\nslowest files, s:');
for (const { file, s } of times.sort((a, b) => b.s - a.s).slice(0, 20)) console.log(`${s.toFixed(0).padStart(5)}  ${file}`);
if (failures.length > 0) console.log(`\nfailed: ${failures.join(', ')}`);
console.log(`${passed} passed, ${failed} failed, ${skipped} skipped`);
process.exit(failed > 0 || passed === 0 ? 1 : 0);
