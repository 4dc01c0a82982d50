import { describe, expect, it } from 'vitest';
import { chained } from '../../core/curves/chained';
import type { Vec3 } from '../../core/geometry/vectors';
import { addStep, emptyProfile, newProject, setProfile } from '../../core/recipe/edit';
import { nextOffers } from '../../core/recipe/offers';
import type { Project } from '../../core/recipe/schema';
import { pickWords } from '../../core/recipe/words';
import { drawnBefore, pointsBefore } from './lines';

/** What a line in space begins with. */
const curveInputs = (p: Project) =>
  nextOffers(p, { skins: new Set(), made: () => undefined }).offers.find((o) => o.kind === 'curve')!.inputs;

const piece = (...p: [number, number][]): Vec3[] => p.map(([x, y]) => [x, y, 0]);

describe('pieces strung together', () => {
  it('run on whichever way each was drawn', () => {
    const chains = chained([piece([1, 0], [2, 0]), piece([3, 0], [2, 0]), piece([0, 0], [1, 0]), piece([4, 0], [3, 0])]);
    expect(chains).toHaveLength(1);
    const xs = chains[0]!.map((p) => p[0]);
    expect(xs[0]! < xs[1]! ? xs : xs.toReversed()).toEqual([0, 1, 2, 3, 4]);
  });
  it('that do not meet stay apart, and a lone point is no line', () => {
    expect(chained([piece([0, 0], [1, 0]), piece([5, 5], [6, 5]), piece([9, 9])])).toHaveLength(2);
  });
});

describe('lines that are there before a step', () => {
  const drawn = setProfile(newProject('Two lines'), {
    ...emptyProfile('low', 'Low', 'level', false),
    points: [
      { id: 'a', x: 3, y: 4 },
      { id: 'b', x: 3, y: 9 },
    ],
    curves: [{ kind: 'line', id: 'l', from: 'a', to: 'b' }],
    derived: [{ kind: 'mirror', id: 'm', of: ['l'], line: 'axis' }],
  });
  it('are those of drawings, their mirror images with them, where their planes put them, and curves of earlier steps', () => {
    const curve = addStep(drawn, 'curve', { ...curveInputs(drawn) });
    const after = addStep(curve.project, 'curve', { ...curveInputs(drawn) });
    const result = {
      paths: new Map([
        [curve.id, [0, 0, 0, 1, 0, 0]],
        [after.id, [0, 0, 0, 2, 0, 0]],
      ]),
      profiles: new Map(),
    };
    const lines = drawnBefore(after.project, result as never, after.id).filter(
      ({ ref }) => 'step' in ref || ('profile' in ref && ref.profile === 'low'),
    );
    expect(lines).toEqual([
      {
        ref: { step: curve.id },
        points: [
          [0, 0, 0],
          [1, 0, 0],
        ],
      },
      {
        ref: { profile: 'low', curve: 'l' },
        points: [
          [3, 4, 0],
          [3, 9, 0],
        ],
      },
      {
        ref: { profile: 'low', curve: 'm-l' },
        points: [
          [-3, 4, 0],
          [-3, 9, 0],
        ],
      },
    ]);
    expect(pickWords({ profile: 'low', curve: 'm-l' }, drawn)).toBe('mirror image of line 1 of Low');
  });
  it('with their points, but not those of planes that are placed later', () => {
    const plane = addStep(drawn, 'plane', { by: 'distance', from: 'level' }, { distance: '7' });
    const higher = setProfile(plane.project, { ...drawn.profiles.find((p) => p.id === 'low')!, id: 'high', plane: plane.id });
    const curve = addStep(higher, 'curve', { ...curveInputs(drawn) });
    const frame = { origin: [0, 0, 7], x: [1, 0, 0], y: [0, 1, 0] };
    const result = { profiles: new Map([['high', { frame, follows: null }]]), paths: new Map() } as never;
    const of = (step: string, profile: string) => pointsBefore(curve.project, result, step).filter((p) => p.ref.profile === profile);
    expect(of(curve.id, 'low')).toEqual([
      { ref: { profile: 'low', point: 'a' }, at: [3, 4, 0] },
      { ref: { profile: 'low', point: 'b' }, at: [3, 9, 0] },
    ]);
    expect(of(curve.id, 'high').map((p) => p.at)).toEqual([
      [3, 4, 7],
      [3, 9, 7],
    ]);
    expect(of(plane.id, 'high')).toEqual([]);
  });
});
