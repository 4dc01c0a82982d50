/** Every bench, one after the other, to the end: one that fails is named and does not stop the others. */
import { readdirSync } from 'node:fs';
import { run } from './install.mjs';

const failed = [];
for (const script of readdirSync('scripts')
  .filter((f) => /^bench.*\.ts$/.test(f))
  .sort()) {
  console.log(`\n— ${script}`);
  if (run('npx', ['tsx', `scripts/${script}`]) !== 0) failed.push(script);
}
console.log(failed.length > 0 ? `\nfailed: ${failed.join(', ')}` : '\nall ran to their end');
process.exit(failed.length > 0 ? 1 : 0);
