import { describe, expect, it } from 'vitest';
import { soapDish } from '../../../demo/soap-dish';
import { twistedTower } from '../../../demo/twisted-tower';
import { evaluateDimensions } from '../dimensions/dimensions';
import { stepsBehind } from '../recipe/lineage';
import type { Project } from '../recipe/schema';
import { formDeviation } from './deviation';

const of = (p: Project, body: string) => formDeviation(p, evaluateDimensions(p.dimensions).scope, body);

describe('the deviation of a form', () => {
  it('is read for what comes of a cage, whatever was done to it since', () => {
    const dish = of(soapDish, 's1')!;
    // What the step says when it is raised: within 0.0058 mm.
    expect(dish.value).toBeGreaterThan(0.002);
    expect(dish.value).toBeLessThan(0.006);
    expect(dish.at![2]).toBeGreaterThan(-1);
    // Plain quads throughout have none but rounding.
    expect(of(twistedTower, 's1')!.value).toBeLessThan(1e-9);
    expect(of(soapDish, 's9')).toBeNull();
  });
  it('follows bodies to what they were made from', () => {
    const half = {
      id: 's4',
      kind: 'split',
      inputs: { body: 's1', by: 'plane', keep: 'all', plane: 'front', faces: [], tool: null, profile: null },
      values: {},
      enabled: true,
    };
    const split = { ...soapDish, steps: [...soapDish.steps, half as unknown as Project['steps'][number]] };
    expect(stepsBehind(split, 's4').map((s) => s.id)).toEqual(['s1', 's2', 's3', 's4']);
    expect(stepsBehind({ ...split, marker: 's2' }, 's1').map((s) => s.id)).toEqual(['s1', 's2']);
    expect(stepsBehind({ ...split, steps: split.steps.map((s) => ({ ...s, enabled: s.id !== 's3' })) }, 's1').map((s) => s.id)).toEqual([
      's1',
      's2',
      's4',
    ]);
  });
});
