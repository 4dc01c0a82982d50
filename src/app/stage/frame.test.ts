/** Many picked at once: what a frame on the screen holds, and what goes on from an edge. */
import { describe, expect, it } from 'vitest';
import { testKernel } from '../../../tests/support/kernel';
import { add, box, empty, engine } from '../../../tests/support/parts';
import { block, lookFrom, SIZE } from '../../../tests/support/stage';
import { sceneOf } from '../../engine/measure';
import { chainOf, withinFrame } from './frame';

const box_ = block([30, 20, 10]);
const camera = lookFrom(110, -150, 90);
const ALL = { x0: 0, y0: 0, x1: SIZE.width, y1: SIZE.height };
const SEEN = ['1', '2', '5'];
const shown = (name: string): boolean => name.split('|').some((f) => SEEN.includes(f));

describe('a frame', () => {
  it('over all takes the nine edges and three faces of a block that are seen, and none behind', () => {
    const edges = withinFrame([box_], camera, SIZE, ALL, 'edges', 'wholly').map((f) => box_.edgeNames[f.index]!);
    expect(edges.toSorted()).toEqual(box_.edgeNames.filter(shown).toSorted());
    expect(edges).toHaveLength(9);
    const faces = withinFrame([box_], camera, SIZE, ALL, 'faces', 'wholly').map((f) => String(f.index));
    expect(faces.toSorted()).toEqual(SEEN);
  });
  it('over half takes what is wholly in it, or with any part, whichever way it was drawn', () => {
    for (const half of [
      { x0: 0, y0: 0, x1: SIZE.width / 2, y1: SIZE.height },
      { x0: SIZE.width / 2, y0: SIZE.height, x1: 0, y1: 0 },
    ]) {
      const wholly = withinFrame([box_], camera, SIZE, half, 'edges', 'wholly').map((f) => f.index);
      const partly = withinFrame([box_], camera, SIZE, half, 'edges', 'partly').map((f) => f.index);
      expect(wholly.length).toBeGreaterThan(0);
      expect(partly.length).toBeGreaterThan(wholly.length);
      for (const e of wholly) expect(partly).toContain(e);
    }
  });
  it('takes nothing where nothing is, nor what is cut away', () => {
    expect(withinFrame([box_], camera, SIZE, { x0: 0, y0: 0, x1: 5, y1: 5 }, 'edges', 'partly')).toEqual([]);
    const kept = withinFrame([box_], camera, SIZE, ALL, 'faces', 'partly', (p) => p.z < 9.9).map((f) => f.index);
    expect(kept).not.toContain(5);
  });
});

describe('all that go on from an edge', () => {
  it('are the smooth ones; of a corner the border of the face that was pointed at', async () => {
    const kernel = await testKernel();
    const p = add(
      add(
        box(empty(), [40, 30, 20]),
        'fillet',
        { body: 's1', edges: ['front|s1/left', 'front|s1/right', 'back|s1/left', 'back|s1/right'].map((e) => ({ edge: `s1/${e}` })) },
        { radius: '5' },
      ),
      'move',
      { body: 's1', by: 'shift', result: 'moved' },
    );
    const r = await engine.rebuild({ ...p, steps: p.steps.slice(0, 2) });
    expect(r.steps.map((s) => s.state)).toEqual(['done', 'done']);
    const body = engine.bodies()[0]!.body;
    const scene = sceneOf(kernel, p, 's1', body);
    const one = scene.edgeNames.findIndex((n) => n.includes('s1/end') && n.includes('s1/front'));
    // Four sides and four rounds about the top.
    expect(chainOf(scene, one, -1)).toHaveLength(8);
    const plain = await engine.rebuild({ ...p, steps: p.steps.slice(0, 1) });
    expect(plain.steps[0]!.state).toBe('done');
    const block_ = sceneOf(kernel, p, 's1', engine.bodies()[0]!.body);
    const edge = block_.edgeNames.findIndex((n) => n.includes('s1/end') && n.includes('s1/front'));
    expect(chainOf(block_, edge, -1)).toEqual([edge]);
    const border = chainOf(block_, edge, block_.faceNames.indexOf('s1/end')).map((i) => block_.edgeNames[i]!);
    expect(border).toHaveLength(4);
    for (const n of border) expect(n).toContain('s1/end');
  });
});
