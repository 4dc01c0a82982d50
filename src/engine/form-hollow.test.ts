/** Bodies of forms hollowed by a form inside them: walls, floors and openings, against geometry of the same cages. */
import { describe, expect, it } from 'vitest';
import { empty, engine } from '../../tests/support/parts';
import { netOf } from '../core/form/cage';
import { limitMesh } from '../core/form/limit';
import { sourceOf } from '../core/form/read';
import { startOf } from '../core/form/start-shapes';
import { massProperties } from '../core/mesh/mesh';
import { addStep } from '../core/recipe/edit';
import type { Project } from '../core/recipe/schema';

const form = (key: 'ball' | 'box'): Project =>
  addStep(empty(), 'form', { source: sourceOf(startOf(key)), plane: 'level', follow: 'well', mode: 'new', body: null }, {}).project;
/** Cut off by a level plane, what lies on one side kept. */
function cut(p: Project, height: number, keep: 'first' | 'second'): Project {
  const plane = addStep(p, 'plane', { by: 'distance', from: 'level' }, { distance: `${height} mm` });
  const inputs = { body: 's1', by: 'plane' as const, plane: plane.project.steps.at(-1)!.id, profile: null, tool: null, keep };
  return addStep(plane.project, 'split', inputs, {}).project;
}
const hollow = (p: Project, open: readonly ('topOf' | 'bottomOf')[], wall: string): Project =>
  addStep(p, 'shell', { body: 's1', open: open.map((o) => ({ [o]: 's1' })) as never }, { wall }).project;
const built = async (p: Project) => {
  const r = await engine.rebuild(p);
  const step = r.steps.at(-1)!;
  return { said: `${step.state} ${step.message ?? ''} ${step.why ?? ''} ${step.note ?? ''}`, volume: r.bodies.at(-1)!.volume };
};

describe('a form, hollowed', () => {
  it('keeps its wall at the skin and over the floor where it was cut, open at the top', async () => {
    const bowl = cut(cut(form('ball'), 45, 'second'), 6, 'first');
    const whole = await built(bowl);
    const made = await built(hollow(bowl, ['topOf'], '2 mm'));
    expect(made.said).toMatch(/^done .*wall 2\.00 mm at its thinnest/);
    // Of a shell of even wall: outer skin times wall, less what the curvature takes; the floor is a disc of 2 mm.
    const net = netOf(startOf('ball'));
    if (!net.ok) throw new Error(net.error.what);
    const { places, indices, faceOf } = limitMesh(net.value, 5);
    const ball = massProperties({ positions: places, indices, faceOf });
    expect(whole.volume).toBeLessThan(ball.volume);
    const zone = ball.area * (39 / 60);
    expect(made.volume).toBeGreaterThan(2 * zone * 0.92);
    expect(made.volume).toBeLessThan(2 * (zone + Math.PI * 20 ** 2) * 1.15);
    // Open at both ends there is no floor: less is left by about that disc.
    const both = await built(hollow(bowl, ['topOf', 'bottomOf'], '2 mm'));
    expect(both.said).toMatch(/^done/);
    expect(made.volume - both.volume).toBeGreaterThan(2 * Math.PI * 14 ** 2);
    expect(made.volume - both.volume).toBeLessThan(2 * Math.PI * 22 ** 2);
  });
  it('is closed with no face open, and thicker walls leave more', async () => {
    const [thin, thick] = [await built(hollow(form('box'), [], '1.5 mm')), await built(hollow(form('box'), [], '3 mm'))];
    expect(thin.said).toMatch(/wall 1\.50 mm at its thinnest/);
    expect(thick.said).toMatch(/wall 3\.00 mm at its thinnest|wall 3\.01 mm at its thinnest/);
    expect(thick.volume).toBeGreaterThan(1.8 * thin.volume);
  });
  it('is refused where no room is left', async () => {
    const made = await built(hollow(cut(form('box'), 4, 'second'), ['topOf'], '4.5 mm'));
    expect(made.said).toMatch(/^failed/);
  });
});
