/** Work beside the page, with played workers and a played clock. */
import type * as Comlink from 'comlink';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Helper } from './helper';

interface Api {
  readonly add: (a: number, b: number) => number;
}
const never = new Promise<never>(() => {});

function played(limits: { seconds: number; idle?: number }) {
  const workers: { ended: boolean; die: () => void }[] = [];
  const start = () => {
    const me = { ended: false, die: () => {} };
    workers.push(me);
    return {
      terminate: () => {
        me.ended = true;
      },
      addEventListener: ((what: string, listen: () => void) => {
        if (what === 'error') me.die = listen;
      }) as Worker['addEventListener'],
    };
  };
  const api = { add: async (a: number, b: number) => a + b } as unknown as Comlink.Remote<Api>;
  return { helper: new Helper<Api>(start, 'The adder', limits, () => api), workers };
}

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

describe('work beside the page', () => {
  it('answers, and keeps its worker for the next or lets go of it', async () => {
    const kept = played({ seconds: 5 });
    for (const n of [1, 2, 3]) expect(await kept.helper.ask((a) => a.add(n, 1))).toEqual({ ok: true, value: n + 1 });
    expect(kept.workers).toHaveLength(1);
    const once = played({ seconds: 5, idle: 0 });
    await once.helper.ask((a) => a.add(1, 1));
    expect(once.workers.map((w) => w.ended)).toEqual([true]);
    const a_while = played({ seconds: 5, idle: 10 });
    await a_while.helper.ask((a) => a.add(1, 1));
    await vi.advanceTimersByTimeAsync(9_000);
    await a_while.helper.ask((a) => a.add(1, 1));
    await vi.advanceTimersByTimeAsync(9_000);
    expect(a_while.workers.map((w) => w.ended)).toEqual([false]);
    await vi.advanceTimersByTimeAsync(2_000);
    expect(a_while.workers.map((w) => w.ended)).toEqual([true]);
  });
  it('ends in words when the worker dies, hangs, throws or is stopped, and the next begins anew', async () => {
    const { helper, workers } = played({ seconds: 5 });
    const dying = helper.ask(() => never);
    workers[0]!.die();
    expect(await dying).toEqual({ ok: false, error: { because: 'died', words: 'The adder stopped' } });
    const late = helper.ask(() => never);
    await vi.advanceTimersByTimeAsync(5_001);
    expect(await late).toEqual({ ok: false, error: { because: 'late', words: 'The adder took longer than 5 s' } });
    const longer = helper.ask(() => never, 20);
    await vi.advanceTimersByTimeAsync(19_000);
    helper.stop();
    expect(await longer).toEqual({ ok: false, error: { because: 'stopped', words: 'The adder was stopped' } });
    expect(await helper.ask(async () => Promise.reject(new Error('no numbers')))).toEqual({
      ok: false,
      error: { because: 'threw', words: 'The adder stopped: no numbers' },
    });
    expect(await helper.ask((a) => a.add(2, 2))).toEqual({ ok: true, value: 4 });
    expect(workers.map((w) => w.ended)).toEqual([true, true, true, false]);
  });
  it('tells everyone who waits for a worker that died', async () => {
    const { helper, workers } = played({ seconds: 5 });
    const waiting = [helper.ask(() => never), helper.ask(() => never)];
    workers[0]!.die();
    expect((await Promise.all(waiting)).map((r) => r.ok)).toEqual([false, false]);
    expect(workers).toHaveLength(1);
  });
});
