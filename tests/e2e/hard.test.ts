/** The hard trials in short: `npm run hard` makes them by the hundred. */
import { expect, it } from 'vitest';
import { faultsAll } from '../hard/faults';
import { cancels, intrusions } from '../hard/free';
import { killAll } from '../hard/kills';
import { tryAll } from '../hard/readers';
import { tabsAll } from '../hard/tabs';
import { visits } from '../hard/visits';

/** What has not ended by then hangs, on any machine, s. */
const HANGS = 120;

it('hostile files are read or refused in words', async () => {
  const { came, wrong } = await tryAll('files', 70, 2, HANGS);
  expect(wrong).toEqual([]);
  expect(Object.values(came).reduce((n, k) => n + k, 0)).toBe(70);
});
it('hostile documents are refused, built, or told where they can’t be', async () => {
  const { came, wrong } = await tryAll('documents', 40, 2, HANGS);
  expect(wrong).toEqual([]);
  expect((came['document built'] ?? 0) + (came['document told'] ?? 0)).toBeGreaterThan(6);
});
it('faults of storage, workers and server end in words, with a way on', async () => {
  expect((await faultsAll(8)).wrong).toEqual([]);
});
it('what a tab calls saved is in the store, or in a copy', async () => {
  const { wrong, saved } = await tabsAll(5, 2);
  expect(wrong).toEqual([]);
  expect(saved).toBeGreaterThan(3);
});
it('what was called saved outlives kills of the browser', async () => {
  const { lost, saved } = await killAll(5, 2);
  expect(lost).toEqual([]);
  expect(saved).toBeGreaterThan(3);
});
it('hostile files brought in by the page’s own buttons are answered by words', async () => {
  const { wrong, files } = await intrusions(6, 2);
  expect(wrong).toEqual([]);
  expect(files).toBe(15);
});
it('a build cancelled at any step is built when that is asked for', async () => {
  // What it takes is for the full trials: no test asserts on time.
  const { wrong, cancels: n } = await cancels(2, 2);
  expect(wrong.filter((w) => w.includes('not built'))).toEqual([]);
  expect(n).toBeGreaterThan(0);
});
it('visits of the bench leave no drawing context behind', async () => {
  const { contexts } = await visits(3, ['Robe hook']);
  expect(contexts).toBeLessThanOrEqual(1);
});
