import { describe, expect, it } from 'vitest';
import { robeHook } from '../../../demo/robe-hook';
import { soapDish } from '../../../demo/soap-dish';
import { steamDiffuser } from '../../../demo/steam-diffuser';
import { examine, named, wontReadAgain } from './file';
import { salvage } from './salvage';
import { MOST_NAME, type Project } from './schema';

const DEMOS = [steamDiffuser, robeHook, soapDish];
/** As it comes back from a file. */
const stored = (p: Project): Project => JSON.parse(JSON.stringify(p));
type Loose = Record<string, unknown> & { steps: Record<string, unknown>[]; profiles: { points: Record<string, unknown>[] }[] };
const damaged = (p: Project, how: (doc: Loose) => void): unknown => {
  const doc = stored(p) as unknown as Loose;
  how(doc);
  return doc;
};

describe('what can be read of a damaged project', () => {
  it('is all of a sound one', () => {
    for (const p of DEMOS) expect(salvage(stored(p))).toEqual({ project: stored(p), lost: [] });
  });
  it('is the rest of one with a place beyond the limits: the point, and what stood on it, is left out', () => {
    const s = salvage(
      damaged(steamDiffuser, (d) => {
        d.profiles[0]!.points[1]!.x = 500_000;
      }),
    )!;
    expect(examine(s.project).ok).toBe(true);
    expect(s.lost[0]).toMatch(/profiles\.0\.points/);
    expect(s.project.steps).toHaveLength(steamDiffuser.steps.length);
    expect(s.project.profiles[0]!.points).toHaveLength(steamDiffuser.profiles[0]!.points.length - 1);
    // The other drawings are as they were.
    expect(s.project.profiles.slice(1)).toEqual(stored(steamDiffuser).profiles.slice(1));
  });
  it('is one with a shorter name, another marker, without steps of unknown kinds and those called as what every object has', () => {
    const s = salvage(
      damaged(robeHook, (d) => {
        d.name = 'n'.repeat(300);
        d.marker = 's99';
        d.steps[1]!.kind = 'constructor';
        d.steps[2]!.kind = 'toString';
        d.steps[3]!.kind = '__proto__';
      }),
    )!;
    expect(s.project.name).toHaveLength(MOST_NAME);
    expect(s.project.marker).toBeNull();
    expect(s.project.steps.map((x) => x.id)).toEqual(robeHook.steps.filter((_, i) => ![1, 2, 3].includes(i)).map((x) => x.id));
    expect(s.lost).toHaveLength(3);
  });
  it('is sound whatever one thing is replaced by something else, or nothing is left', () => {
    // Every leaf of a document in turn.
    const doc = stored(robeHook) as unknown as Record<string, unknown>;
    const paths: (string | number)[][] = [];
    const walk = (x: unknown, path: (string | number)[]): void => {
      if (typeof x !== 'object' || x === null) paths.push(path);
      else for (const [k, v] of Object.entries(x)) walk(v, [...path, Array.isArray(x) ? Number(k) : k]);
    };
    walk(doc, []);
    let kept = 0;
    for (const path of paths.filter((_, i) => i % 3 === 0)) {
      const bad = structuredClone(doc);
      let at: Record<string | number, unknown> = bad;
      for (const k of path.slice(0, -1)) at = at[k] as typeof at;
      at[path[path.length - 1]!] = { nonsense: [1, null] };
      const s = salvage(bad);
      if (!s) continue;
      kept++;
      expect([path, examine(s.project).ok]).toEqual([path, true]);
    }
    expect(kept / (paths.length / 3)).toBeGreaterThan(0.8);
  });
  it('is nothing of what is no project', () => {
    for (const x of [null, 3, 'text', [], undefined, { version: 99 }]) expect(salvage(x)).toBeUndefined();
  });
});

describe('names', () => {
  it('stay within what can be read again, with their ends whole', () => {
    const long = named(robeHook, 'n'.repeat(MOST_NAME), ' copy');
    expect(long.name).toHaveLength(MOST_NAME);
    expect(long.name.endsWith(' copy')).toBe(true);
    expect(wontReadAgain(long)).toBeUndefined();
    expect(wontReadAgain({ ...long, name: `${long.name}!` })).toMatch(/^at name: /);
  });
});
