/** What is kept of how projects looked, against a real IndexedDB in memory (fake-indexeddb). */
import 'fake-indexeddb/auto';
import { describe, expect, it, vi } from 'vitest';
import type { BodyScene } from '../../engine/types';
import { keepAlike, keepOnly, keepPicture, keepScenes, keptPictures, keptScenes } from './kept';

const scene = (corners: number): BodyScene => ({
  id: 's1',
  name: 'Body 1',
  surface: false,
  positions: new Float32Array(3 * corners).map((_, i) => i),
  normals: new Float32Array(0),
  indices: new Uint32Array([0, 1, 2]),
  faceOf: new Uint32Array(0),
  segments: new Float32Array(0),
  edgeOf: new Uint32Array(0),
  faceNames: ['s1/top'],
  faceAreas: [1],
  edgeNames: [],
  edgeLengths: [],
});

describe('what was built last', () => {
  it('comes back as it was, with the key of what it was built from', async () => {
    await keepScenes({ id: 'p1', of: 'a', scenes: [scene(4)] });
    expect(await keptScenes('p1')).toEqual({ id: 'p1', of: 'a', scenes: [scene(4)] });
    await keepScenes({ id: 'p1', of: 'b', scenes: [scene(5)] });
    expect((await keptScenes('p1'))?.of).toBe('b');
    expect(await keptScenes('p2')).toBeUndefined();
  });
  it('is not kept where it is too large, nor what was kept before it', async () => {
    await keepScenes({ id: 'p1', of: 'a', scenes: [scene(4)] });
    await keepScenes({ id: 'p1', of: 'b', scenes: [scene(2_600_000)] });
    expect(await keptScenes('p1')).toBeUndefined();
  });
  it('goes with its project, and to a copy of it', async () => {
    await keepScenes({ id: 'p1', of: 'a', scenes: [scene(4)] });
    await keepPicture({ id: 'p1', picture: 'data:,1', size: '1 × 2 × 3 mm' });
    await keepAlike('p1', 'p2');
    await keepAlike('nothing', 'p3');
    expect((await keptScenes('p2'))?.of).toBe('a');
    expect([...(await keptPictures())].map(([id, k]) => [id, k.size])).toEqual([
      ['p1', '1 × 2 × 3 mm'],
      ['p2', '1 × 2 × 3 mm'],
    ]);
    await keepOnly(new Set(['p2']));
    expect(await keptScenes('p1')).toBeUndefined();
    expect([...(await keptPictures()).keys()]).toEqual(['p2']);
  });
  it('of the projects kept longest ago goes first', async () => {
    for (let k = 0; k < 45; k++) await keepScenes({ id: `q${String(k).padStart(2, '0')}`, of: 'a', scenes: [scene(3)] });
    expect(await keptScenes('q00')).toBeUndefined();
    expect((await keptScenes('q44'))?.of).toBe('a');
  });
  it('is nothing, and no error, where the browser keeps nothing', async () => {
    vi.resetModules();
    const there = globalThis.indexedDB;
    vi.stubGlobal('indexedDB', {
      open: () => {
        throw new Error('forbidden');
      },
    });
    const refused = await import('./kept');
    await refused.keepScenes({ id: 'p1', of: 'a', scenes: [scene(4)] });
    expect([await refused.keptScenes('p1'), (await refused.keptPictures()).size]).toEqual([undefined, 0]);
    vi.stubGlobal('indexedDB', there);
  });
});
