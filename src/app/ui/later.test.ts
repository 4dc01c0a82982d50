import { expect, it, vi } from 'vitest';
import { Later } from './later';

it('a part is fetched and kept; one that did not come is asked for anew, where its file is named under another address', async () => {
  const there = new Later(
    async () => ({ part: 7 }),
    (m) => m.part,
  );
  expect([await there.come(), there.value]).toEqual([7, 7]);
  // A browser that names no file: the same again.
  const unnamed = vi.fn().mockRejectedValueOnce(new TypeError('Importing a module script failed.')).mockResolvedValue({ part: 8 });
  const late = new Later<{ part: number }, number>(unnamed, (m) => m.part);
  await expect(late.come()).rejects.toThrow('failed');
  expect(await late.come()).toBe(8);
  // One that names it: its own fetch would give the failure that is known, and is not asked.
  const named = vi
    .fn()
    .mockRejectedValue(new TypeError('Failed to fetch dynamically imported module: http://localhost:9/assets/Part-1.js'));
  const gone = new Later<{ part: number }, number>(named, (m) => m.part);
  await expect(gone.come()).rejects.toThrow('Part-1.js');
  // Node loads nothing over a network, and says so.
  for (let k = 0; k < 2; k++) await expect(gone.come()).rejects.toThrow("Received protocol 'http:'");
  expect(named).toHaveBeenCalledTimes(1);
});
