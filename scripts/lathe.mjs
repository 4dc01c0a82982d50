/** The headless runner as one file, bundled where it is older than its source: its modules one by one load longer than most builds take. */
import { spawnSync } from 'node:child_process';
import { renameSync } from 'node:fs';
import { isStale } from './fresh.mjs';
import { ensurePackages } from './install.mjs';

/** As deep as its source: it finds the demos from where it lies. */
const FOLDER = 'node_modules/.lathe';
const BUNDLE = `${FOLDER}/main.js`;

ensurePackages();
if (isStale(BUNDLE, 'src', 'package-lock.json', 'scripts/lathe.mjs')) {
  const { build } = await import('vite');
  // Under a name of its own first: another runner may begin meanwhile.
  const mine = `main-${process.pid}.js`;
  await build({
    configFile: false,
    publicDir: false,
    logLevel: 'error',
    ssr: { noExternal: true, external: ['replicad-opencascadejs', 'manifold-3d'] },
    build: {
      ssr: 'src/cli/main.ts',
      target: 'node20',
      outDir: FOLDER,
      emptyOutDir: false,
      rollupOptions: { output: { entryFileNames: mine, codeSplitting: false } },
    },
  });
  renameSync(`${FOLDER}/${mine}`, BUNDLE);
}
// In a process of its own: where that ends itself over a step without an end, nobody adds a word to what it said.
process.exitCode = spawnSync(process.execPath, [BUNDLE, ...process.argv.slice(2)], { stdio: 'inherit' }).status ?? 1;
