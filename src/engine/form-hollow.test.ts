/** Bodies of forms hollowed by a form inside them: walls, floors and openings, against geometry of the same cages. */
import { describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/support/kernel';
import { empty, engine } from '../../tests/support/parts';
import { netOf } from '../core/form/cage';
import { limitMesh } from '../core/form/limit';
import { sourceOf } from '../core/form/read';
import { startOf } from '../core/form/start-shapes';
import { massProperties } from '../core/mesh/mesh';
import { addStep } from '../core/recipe/edit';
import type { FaceRef } from '../core/recipe/names';
import type { Project } from '../core/recipe/schema';
import { formHollow } from '../kernel/form-hollow';
import { selectFaces } from '../kernel/select';

const form = (key: 'ball' | 'box'): Project =>
  addStep(empty(), 'form', { source: sourceOf(startOf(key)), plane: 'level', follow: 'well', mode: 'new', body: null }, {}).project;
/** Cut off by a level plane, what lies on one side kept. */
function cut(p: Project, height: number, keep: 'first' | 'second'): Project {
  const plane = addStep(p, 'plane', { by: 'distance', from: 'level' }, { distance: `${height} mm` });
  const inputs = { body: 's1', by: 'plane' as const, plane: plane.project.steps.at(-1)!.id, profile: null, tool: null, keep };
  return addStep(plane.project, 'split', inputs, {}).project;
}
/** Hollowed by a form inside, whatever the kernel's own shell would do. */
async function hollow(p: Project, open: readonly ('topOf' | 'bottomOf')[], wall: number) {
  await engine.rebuild(p);
  const { body } = engine.bodies().find((b) => b.id === 's1')!;
  const kernel = await testKernel();
  const found = selectFaces(
    kernel,
    body,
    open.map((o) => ({ [o]: 's1' }) as FaceRef),
  );
  if (!found.ok || !body.form) throw new Error('no face, or no form');
  const made = formHollow(kernel, body, body.form, found.value, wall, 'h');
  return made.ok ? { volume: made.value.volume, faces: made.value.faces, whole: body.volume } : { why: made.error.why };
}
const volumeIn = (made: Awaited<ReturnType<typeof hollow>>): number => {
  if (!('volume' in made)) throw new Error(made.why);
  return made.volume!;
};

describe('a form, hollowed', () => {
  it('keeps its wall at the skin and over the floor where it was cut, open at the top', async () => {
    const bowl = cut(cut(form('ball'), 45, 'second'), 6, 'first');
    const made = await hollow(bowl, ['topOf'], 2);
    // The inside is named by the faces it lies behind, and the floor for itself.
    expect('faces' in made && made.faces!.filter((n) => n.startsWith('h/floor'))).toHaveLength(1);
    expect('faces' in made && made.faces!.some((n) => n.startsWith('h/inner(s1/f'))).toBe(true);
    // Of a shell of even wall: outer skin times wall, less what the curvature takes; the floor is a disc of 2 mm.
    const net = netOf(startOf('ball'));
    if (!net.ok) throw new Error(net.error.what);
    const { places, indices, faceOf } = limitMesh(net.value, 5);
    const ball = massProperties({ positions: places, indices, faceOf });
    expect('whole' in made && made.whole!).toBeLessThan(ball.volume);
    const zone = ball.area * (39 / 60);
    expect(volumeIn(made)).toBeGreaterThan(2 * zone * 0.92);
    expect(volumeIn(made)).toBeLessThan(2 * (zone + Math.PI * 20 ** 2) * 1.15);
    // Open at both ends there is no floor: less is left by about that disc.
    const less = volumeIn(made) - volumeIn(await hollow(bowl, ['topOf', 'bottomOf'], 2));
    expect(less).toBeGreaterThan(2 * Math.PI * 14 ** 2);
    expect(less).toBeLessThan(2 * Math.PI * 22 ** 2);
  });
  it('is closed with no face open, and thicker walls leave more', async () => {
    const [thin, thick] = [volumeIn(await hollow(form('box'), [], 1.5)), volumeIn(await hollow(form('box'), [], 3))];
    expect(thick).toBeGreaterThan(1.8 * thin);
    expect(thick).toBeLessThan(2.2 * thin);
  });
  it('is refused where no room is left', async () => {
    const made = await hollow(cut(form('box'), 4, 'second'), ['topOf'], 4.5);
    expect('why' in made && made.why).toMatch(/./);
  });
});
