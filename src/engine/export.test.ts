import { describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/support/kernel';
import { add, empty, engine } from '../../tests/support/parts';
import { triangleCount } from '../core/mesh/mesh';
import { exportMesh, MOST_FACETS } from './export';

/** A ball or cylinder of 1 m, or one of the given size. */
async function made(shape: string, size: number) {
  const sizes = { diameter: `${size} mm`, height: `${size} mm` };
  const p = add(empty(), 'primitive', { shape, plane: 'level', places: [], mode: 'new', body: null }, sizes);
  await engine.rebuild(p);
  return { kernel: await testKernel(), body: engine.bodies()[0]!.body };
}

describe('a mesh file', () => {
  it('that would have more facets than can be made is refused before they are made, with a deviation that works', async () => {
    const { kernel, body } = await made('sphere', 1000);
    const refused = exportMesh(kernel, body, 0.001);
    expect(refused.ok ? '' : refused.error).toMatch(/about [\d.]+ million facets, more than can be made; [\d.]+ mm is the finest/);
    const finest = Number(/; ([\d.]+) mm is/.exec(refused.ok ? '' : refused.error)![1]);
    const fine = exportMesh(kernel, body, finest);
    // Half off at most: what is refused is really too much, and what is offered is no tenth of what is possible.
    const n = fine.ok ? triangleCount(fine.value) : 0;
    expect(n).toBeGreaterThan(MOST_FACETS.face / 2);
    expect(n).toBeLessThan(MOST_FACETS.face * 1.5);
  });
  it('is made at any deviation that gives fewer', async () => {
    const long = await made('cylinder', 1000);
    expect(exportMesh(long.kernel, long.body, 0.001).ok).toBe(true);
    const small = await made('sphere', 20);
    expect(exportMesh(small.kernel, small.body, 0.005).ok).toBe(true);
  });
});
