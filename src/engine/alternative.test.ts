import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/support/kernel';
import { add, box, empty, engine } from '../../tests/support/parts';
import { everyCase } from '../../tests/support/properties';
import { MATERIALS } from '../core/brief/materials';
import { parseProject } from '../core/recipe/file';
import type { Fix } from '../kernel/body';
import { tryAlternative } from './alternative';

const failing = add(box(empty(), [60, 40, 30]), 'shell', { body: 's1', open: [{ face: 's1/end' }] }, { wall: '21 mm' });

async function tried(fix: (all: readonly Fix[]) => Fix) {
  const r = await engine.rebuild(failing);
  const made = engine.madeBefore(failing, 's2');
  return tryAlternative(await testKernel(), failing, fix(r.steps.at(-1)!.fixes), made);
}

describe('a change that is tried', () => {
  it('tells what it would come to, and changes nothing', async () => {
    const a = await tried((all) => ({ ...all[0]!, values: { wall: '4 mm' } }));
    expect(a.why).toBeNull();
    // A box open above: what it holds, what is left of it, and its mass by the brief’s material.
    const [holds, left] = [52 * 32 * 26, 60 * 40 * 30 - 52 * 32 * 26];
    expect(a.figures!.thinnest).toBeCloseTo(4, 3);
    expect(a.figures!.capacity! / holds).toBeCloseTo(1, 3);
    expect(a.figures!.volume).toBeCloseTo(left, 3);
    expect(a.figures!.mass!).toBeCloseTo((left / 1000) * MATERIALS[failing.brief.material]!.density, 2);
    expect(a.scene!.faceNames).toContain('s2/rim(s1/end)');
    expect((await engine.rebuild(failing)).steps.at(-1)!.state).toBe('failed');
  });
  it('of another kind is tried the same way, a mesh too', async () => {
    const cavity = await tried((all) => ({ ...all.find((f) => f.kind === 'cavity')!, values: { wall: '4 mm', floor: '5 mm' } }));
    // The largest turned cavity is the cylinder the narrow side leaves room for.
    expect(cavity.figures!.capacity! / (Math.PI * 16 ** 2 * 25)).toBeCloseTo(1, 1);
    const mesh = await tried((all) => ({ ...all.find((f) => f.kind === 'meshhollow')!, values: { wall: '4 mm', resolution: '1 mm' } }));
    expect(mesh.figures!.capacity! / (52 * 32 * 26)).toBeGreaterThan(0.93);
    expect(mesh.scene!.faceAreas).toHaveLength(7);
  });
  it.runIf(everyCase)('is measured as a mesh on a body of spline faces too, which has no face for its inside', async () => {
    const form = parseProject(readFileSync('demo/soap-dish.lathe.json', 'utf8'));
    if (!form.ok) throw new Error(form.error);
    const dish = add(
      { ...form.value, steps: form.value.steps.slice(0, 1) },
      'shell',
      { body: 's1', open: [{ topOf: 's1' }] },
      { wall: '28 mm' },
    );
    const r = await engine.rebuild(dish);
    const id = dish.steps[1]!.id;
    const inputs = { body: 's1', open: [{ topOf: 's1' }] };
    const fix: Fix = { words: 'as a mesh', step: id, kind: 'meshhollow', inputs, values: { wall: '6 mm', resolution: '3 mm' } };
    expect(r.steps[1]!.fixes.some((f) => f.kind === 'meshhollow')).toBe(true);
    const a = await tryAlternative(await testKernel(), dish, fix, engine.madeBefore(dish, id));
    expect(a.why).toBeNull();
    expect(a.figures!.thinnest!).toBeGreaterThan(5.9);
    expect(a.figures!.volume).toBeLessThan(0.8 * r.bodies[0]!.volume);
  });
  it('that does not work says why', async () => {
    const a = await tried((all) => all.find((f) => f.kind === 'cavity')!);
    expect(a.figures).toBeNull();
    expect(a.why).toMatch(/no cavity that keeps 21.00 mm can be turned into/);
  });
});
