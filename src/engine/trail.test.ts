/** The keys by which results are kept: the same for the same step on the same things, another when anything it is built from changes. */
import { describe, expect, it } from 'vitest';
import { soapDish } from '../../demo/soap-dish';
import { steamDiffuser } from '../../demo/steam-diffuser';
import { twistedTower } from '../../demo/twisted-tower';
import { moveStep, setDimension } from '../core/recipe/edit';
import type { Project } from '../core/recipe/schema';
import { stepDefinitions } from '../core/recipe/steps';
import { stepValues } from '../core/recipe/values';
import { bodyKey, Trail } from './trail';

/** Keys of all steps, as a rebuild that succeeds throughout goes on from one to the next. */
function keys(p: Project): Map<string, string> {
  const trail = new Trail(p);
  const out = new Map<string, string>();
  for (const step of p.steps) {
    if (!step.enabled) continue;
    trail.look(step);
    const values = stepValues(step, trail.scope);
    if (!values.ok) throw new Error(`${step.id}: its values can’t be read`);
    const key = trail.keyOf(step, values.value);
    out.set(step.id, key);
    const d = stepDefinitions[step.kind]!;
    const changed = d.changesBody(step.inputs);
    const made = [...d.makes(step.inputs, step.id), ...(changed === null ? [] : [changed])];
    trail.take(step, key, { made: made.map((id) => ({ id })), gone: [] });
  }
  return out;
}
const differing = (a: Project, b: Project): string[] => {
  const [x, y] = [keys(a), keys(b)];
  return [...x].filter(([id, k]) => y.get(id) !== k).map(([id]) => id);
};

describe('keys of results', () => {
  it('are the same for the same project, read twice or written and read', () => {
    for (const p of [steamDiffuser, twistedTower, soapDish]) {
      expect(differing(p, p)).toEqual([]);
      expect(differing(p, JSON.parse(JSON.stringify(p)) as Project)).toEqual([]);
    }
  });
  it('change with a dimension from the first step on that it reaches', () => {
    // The drain is bored last; the wall is the shell's, and what stands on it follows.
    expect(differing(soapDish, setDimension(soapDish, 'drain', '6 mm'))).toEqual(['s3']);
    expect(differing(soapDish, setDimension(soapDish, 'wall', '3 mm'))).toContain('s2');
    expect(differing(twistedTower, setDimension(twistedTower, 'wall', '3 mm'))).toContain('s2');
    expect(differing(twistedTower, setDimension(twistedTower, 'twist', '20°'))).toEqual(['s1', 's2']);
  });
  it('do not change with names, colours, briefs and notes', () => {
    const renamed: Project = {
      ...soapDish,
      name: 'Another',
      bodies: { s1: { name: 'Tray', colour: '#112233' } },
      brief: { ...soapDish.brief, purpose: 'nothing of this matters to the shape', targets: [] },
      steps: soapDish.steps.map((s) => ({ ...s, note: 'looked at twice' })),
    };
    expect(differing(soapDish, renamed)).toEqual([]);
  });
  it('change with one moved vertex of a cage, for all that comes of it', () => {
    const first = soapDish.steps[0]!;
    const source = (first.inputs as { source: { vertices: [number, number, number][] } }).source;
    const vertices = source.vertices.map((v, i) => (i === 5 ? [v[0], v[1], v[2] + 1e-9] : v));
    const moved = {
      ...soapDish,
      steps: [{ ...first, inputs: { ...first.inputs, source: { ...source, vertices } } }, ...soapDish.steps.slice(1)],
    };
    expect(differing(soapDish, moved)).toEqual(['s1', 's2', 's3']);
  });
  it('name a body by the step it came from last', () => {
    const k = keys(soapDish);
    expect(bodyKey(k.get('s2')!, 's1')).toBe(`${k.get('s2')}/s1`);
    // The same steps in another order are other results.
    const swapped = differing(soapDish, moveStep(soapDish, 's3', 1));
    expect(swapped).toEqual(expect.arrayContaining(['s2', 's3']));
    expect(swapped).not.toContain('s1');
  });
});
