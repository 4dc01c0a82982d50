/** What the page does with a worker that does not come back: the worker here is played, its clock too. */
import type * as Comlink from 'comlink';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { empty } from '../../tests/support/parts';
import { EngineClient } from './client';
import type { Checkpoint, GivenUp, StepReport } from './types';
import type { EngineApi, RebuildAnswer, StepListener } from './worker';

const LIMIT = 30;
const WAIT = 5;
const step = (id: string) => ({ id, kind: 'shell' });
const report = (id: string) => ({ id, state: 'done' }) as StepReport;
const answer = (steps: readonly string[]): RebuildAnswer =>
  ({ result: { cancelled: false, steps: steps.map(report) }, scenes: [] }) as unknown as RebuildAnswer;
const never = new Promise<never>(() => {});

/** Workers that build three steps, one of which may not end while it is not given up. */
function played(
  how: { hangsAt?: string; diesAt?: string; deaths?: number; before?: Promise<unknown>; pace?: number } = {},
  Client = EngineClient,
) {
  const workers: { ended: boolean; seeded: readonly Checkpoint[]; givenUp: GivenUp[]; die: () => void }[] = [];
  const connectTo = () => {
    const me = { ended: false, seeded: [] as readonly Checkpoint[], givenUp: [] as GivenUp[], die: () => {} };
    const first = workers.length === 0;
    const dies = workers.length < (how.deaths ?? 0);
    workers.push(me);
    const api = {
      start: async () => {
        if (dies && !how.diesAt) {
          me.die();
          await never;
        }
        return 1;
      },
      cancel: async () => {},
      seed: async (c: readonly Checkpoint[]) => {
        me.seeded = c;
      },
      giveUp: async (g: GivenUp) => {
        me.givenUp.push(g);
      },
      forget: async () => {
        me.givenUp.length = 0;
      },
      inspect: () => never,
      exportBodies: () => never,
      countTriangles: () => never,
      rebuild: async (_: unknown, told: unknown) => {
        const listener = told as StepListener;
        if (first) await how.before;
        for (const [i, id] of ['s1', 's2', 's3'].entries()) {
          const key = `key of ${id}`;
          listener(i, step(id), null, null, key);
          if (id === how.diesAt && dies) {
            me.die();
            await never;
          }
          if (id === how.hangsAt && !me.givenUp.some((g) => g.key === key)) await never;
          if (how.pace) await new Promise((r) => setTimeout(r, how.pace! * 1000));
          listener(i, step(id), report(id), { key, made: [], gone: [], report: report(id) }, key);
        }
        return answer(['s1', 's2', 's3']);
      },
    };
    const worker = {
      terminate: () => {
        me.ended = true;
      },
      addEventListener: ((what: string, listen: () => void) => {
        if (what === 'error') me.die = listen;
      }) as Worker['addEventListener'],
    };
    return { worker, api: api as unknown as Comlink.Remote<EngineApi> };
  };
  return { client: new Client(connectTo, LIMIT, WAIT), workers };
}

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
});

/** What a promise has come to by now. */
async function soFar<T>(p: Promise<T>): Promise<T | 'open'> {
  return Promise.race([p, vi.advanceTimersByTimeAsync(0).then(() => 'open' as const)]);
}

describe('a step that does not end', () => {
  it('is given up at its limit, not before, and the rest is built in a new worker from what stood', async () => {
    const { client, workers } = played({ hangsAt: 's2' });
    const build = client.rebuild(empty(), () => {});
    await vi.advanceTimersByTimeAsync((LIMIT - 1) * 1000);
    expect(await soFar(build)).toBe('open');
    expect(workers).toHaveLength(1);
    await vi.advanceTimersByTimeAsync(1000);
    expect(await build).toMatchObject({ result: { cancelled: false } });
    expect(workers.map((w) => w.ended)).toEqual([true, false]);
    expect(workers[1]!.seeded.map((c) => c.key)).toEqual(['key of s1']);
    expect(workers[1]!.givenUp).toEqual([{ key: 'key of s2', step: step('s2'), seconds: LIMIT }]);
  });
  it('is tried again after the project was left', async () => {
    const { client, workers } = played({ hangsAt: 's2' });
    const build = client.rebuild(empty(), () => {});
    await vi.advanceTimersByTimeAsync(LIMIT * 1000);
    await build;
    client.forget();
    const again = client.rebuild(empty(), () => {});
    await vi.advanceTimersByTimeAsync((LIMIT - 1) * 1000);
    expect(await soFar(again)).toBe('open');
    await vi.advanceTimersByTimeAsync(1000);
    await again;
    expect(workers.map((w) => w.ended)).toEqual([true, true, false]);
  });
});

it('many steps, each within its limit, may take longer than it together', async () => {
  const { client, workers } = played({ pace: LIMIT - 1 });
  const build = client.rebuild(empty(), () => {});
  await vi.advanceTimersByTimeAsync(3 * LIMIT * 1000);
  expect(await build).not.toBeNull();
  expect(workers).toHaveLength(1);
});

it('a build that waits for what ran before ends that after a while, and runs', async () => {
  const { client, workers } = played({ before: never });
  const build = client.rebuild(empty(), () => {});
  await vi.advanceTimersByTimeAsync((WAIT - 1) * 1000);
  expect(await soFar(build)).toBe('open');
  await vi.advanceTimersByTimeAsync(1000);
  expect(await build).not.toBeNull();
  expect(workers.map((w) => w.ended)).toEqual([true, false]);
});

it('a newer build behind a step that hangs comes to its end, the older one gives none', async () => {
  const { client } = played({ hangsAt: 's2' });
  const older = client.rebuild(empty(), () => {});
  await vi.advanceTimersByTimeAsync(1000);
  const newer = client.rebuild(empty(), () => {});
  await vi.advanceTimersByTimeAsync(2 * LIMIT * 1000);
  expect(await older).toBeNull();
  expect(await newer).not.toBeNull();
});

it('a question to a worker that is ended is answered with nothing, not left open', async () => {
  const { client } = played({ hangsAt: 's2' });
  void client.rebuild(empty(), () => {});
  const asked = client.inspect(empty(), 's1', {} as never, () => {});
  expect(await soFar(asked)).toBe('open');
  await vi.advanceTimersByTimeAsync(LIMIT * 1000);
  expect(await asked).toBeNull();
});

describe('a worker that dies', () => {
  it('in a step is followed by another that goes on from what stood', async () => {
    const { client, workers } = played({ diesAt: 's2', deaths: 1 });
    expect(await client.rebuild(empty(), () => {})).toMatchObject({ result: { cancelled: false } });
    expect(workers.map((w) => w.ended)).toEqual([true, false]);
    expect(workers[1]!.seeded.map((c) => c.key)).toEqual(['key of s1']);
  });
  it('leaves no question open', async () => {
    const { client, workers } = played({ hangsAt: 's2' });
    void client.rebuild(empty(), () => {});
    const asked = client.inspect(empty(), 's1', {} as never, () => {});
    expect(await soFar(asked)).toBe('open');
    workers[0]!.die();
    expect(await asked).toBeNull();
  });
  it('over a file or a question is told: the file says so, and who keeps the bodies is asked for them', async () => {
    const { client, workers } = played();
    const asked: number[] = [];
    client.onDeath = () => asked.push(workers.length);
    await client.rebuild(empty(), () => {});
    const file = client.exportBodies([{ id: 's1', name: 'Block' }], 'stl', 0.05, 'Part', false);
    const count = client.countTriangles(['s1'], 0.05);
    workers[0]!.die();
    expect(await file).toEqual({ ok: false, error: expect.stringContaining('the kernel stopped over it') });
    expect((await count).ok).toBe(false);
    expect(asked).toEqual([1]);
    // In a build it is not: that goes on by itself.
    const dying = played({ diesAt: 's2', deaths: 1 });
    dying.client.onDeath = () => asked.push(0);
    await dying.client.rebuild(empty(), () => {});
    expect(asked).toEqual([1]);
  });
  it('again and again is told instead of being followed for ever', async () => {
    const { client, workers } = played({ diesAt: 's1', deaths: 100 });
    await expect(client.rebuild(empty(), () => {})).rejects.toThrow('again and again');
    expect(workers).toHaveLength(3);
    expect(workers.every((w) => w.ended)).toBe(true);
  });
  it('before it is ready is told, and the next try begins anew', async () => {
    const { client, workers } = played({ deaths: 1 });
    await expect(client.start()).rejects.toThrow('before it was ready');
    expect(await client.start()).toBe(1);
    expect(workers.map((w) => w.ended)).toEqual([true, false]);
  });
});

it('goes with its page in the middle of a build, and begins in no other worker before the page is come back to', async () => {
  const heard = new Map<string, () => void>();
  vi.stubGlobal('addEventListener', (what: string, listen: () => void) => heard.set(what, listen));
  vi.resetModules();
  const fresh = await import('./client');
  vi.unstubAllGlobals();
  const { client, workers } = played({ hangsAt: 's2' }, fresh.EngineClient);
  const built = client.rebuild(empty(), () => {});
  expect(await soFar(built)).toBe('open');
  heard.get('pagehide')!();
  expect(await built).toBeNull();
  expect(await client.forecast(empty(), 's1')).toBeNull();
  expect(workers.map((w) => w.ended)).toEqual([true]);
  heard.get('pageshow')!();
  expect(await client.start()).toBe(1);
  expect(workers).toHaveLength(2);
});
