/**
 * Hard trials, in full: kills of the browser, edits in several tabs, faults put in by hand, hostile files and documents, visits.
 * `npm run hard [kills|tabs|faults|files|documents|intrusions|cancels|visits|edits] [count] [seed]`; what is wrong is printed, and the exit code tells.
 */
import { edits } from '../tests/hard/edits';
import { faultsAll } from '../tests/hard/faults';
import { cancels, intrusions } from '../tests/hard/free';
import { killAll } from '../tests/hard/kills';
import { tryAll } from '../tests/hard/readers';
import { tabsAll } from '../tests/hard/tabs';
import { visits } from '../tests/hard/visits';

const [only, count, seed] = [process.argv[2], Number(process.argv[3]), Number(process.argv[4] ?? 1)];
const FULL = {
  kills: 300,
  tabs: 500,
  faults: 1,
  files: 700,
  documents: 1500,
  intrusions: 200,
  cancels: 100,
  visits: 30,
  edits: 300,
} as const;

let failed = 0;
async function part(
  name: keyof typeof FULL,
  run: (n: number) => Promise<{ readonly told: object; readonly wrong: readonly string[] }>,
): Promise<void> {
  if (only && only !== name) return;
  const started = performance.now();
  const { told, wrong } = await run(Number.isFinite(count) ? count : FULL[name]);
  console.log(`${name}: ${JSON.stringify(told)}, ${wrong.length} wrong, ${((performance.now() - started) / 1000).toFixed(0)} s`);
  for (const w of wrong) console.log(`  ${w}`);
  failed += wrong.length;
}

await part('files', async (n) => {
  const { came, wrong, late, longest } = await tryAll('files', n, seed);
  return { told: { came, longest: `${longest.toFixed(0)} ms` }, wrong: [...wrong, ...late] };
});
await part('documents', async (n) => {
  const { came, wrong, late, longest } = await tryAll('documents', n, seed);
  return { told: { came, longest: `${longest.toFixed(0)} ms` }, wrong: [...wrong, ...late] };
});
await part('faults', async (every) => {
  const { tried, wrong } = await faultsAll(every);
  return { told: { tried }, wrong };
});
await part('tabs', async (n) => {
  const { wrong, ...told } = await tabsAll(n, seed);
  return { told, wrong };
});
await part('intrusions', async (n) => {
  const { wrong, late, ...told } = await intrusions(n, seed);
  return { told, wrong: [...wrong, ...late] };
});
await part('cancels', async (n) => {
  const { wrong, ...told } = await cancels(n, seed);
  return { told, wrong };
});
await part('visits', async (n) => {
  const t = await visits(n);
  const wrong: string[] = [];
  if (t.heap[1] > 1.2 * t.heap[0] + 5) wrong.push(`the heap grew from ${t.heap[0].toFixed(1)} to ${t.heap[1].toFixed(1)} MB`);
  if (t.contexts > 1) wrong.push(`${t.contexts} drawing contexts are alive`);
  return { told: t, wrong };
});
await part('edits', async (n) => {
  const t = await edits(n);
  const grew = t.resident[1] > 1.3 * t.resident[0] + 100;
  return { told: t, wrong: grew ? [`memory grew from ${t.resident[0]} to ${t.resident[1]} MB`] : [] };
});
await part('kills', async (n) => {
  const { lost, ...told } = await killAll(n, seed, undefined, (t) => {
    if (t.kills % 20 === 0) console.log(`  ${t.kills} kills, ${t.saved} called saved, ${t.lost.length} lost`);
  });
  return { told, wrong: lost };
});
console.log(failed === 0 ? 'nothing wrong' : `${failed} wrong`);
process.exit(failed === 0 ? 0 : 1);
