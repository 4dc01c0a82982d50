import { describe, expect, it } from 'vitest';
import { add, empty, extrude, flat, rounded } from '../../../tests/support/parts';
import { quotable, readsOtherwise } from './quoted';
import type { Project } from './schema';
import { edgeWords, faceWords } from './words';

/** A block with a step, seen from the front: 120 wide, 40 high at its right, 18 at its left. */
const STEPPED: [number, number][] = [
  [0, 0],
  [120, 0],
  [120, 40],
  [60, 40],
  [60, 18],
  [0, 18],
];
const named = (p: Project): Project => ({ ...p, bodies: { s1: { name: 'Block' } } });
const stepped = (plane = 'front', more: object = {}): Project => named(extrude(empty(), flat('drawn', plane, STEPPED), more));
const faces = (p: Project): string[] => ['c0', 'c1', 'c2', 'c3', 'c4', 'c5', 'start', 'end'].map((f) => faceWords(`s1/${f}`, p));

describe('faces of an extruded drawing', () => {
  it('are called by where they lie', () => {
    expect(faces(stepped())).toEqual([
      'underside of Block',
      'right side of Block',
      'upper top of Block',
      'inner left side of Block',
      'lower top of Block',
      'outer left side of Block',
      'back of Block',
      'front of Block',
    ]);
    expect(edgeWords('s1/c4|s1/c5', stepped())).toBe('edge between lower top and outer left side of Block');
  });
  it('are so whichever way round the outline was drawn, and on a plane set off', () => {
    const back = named(extrude(empty(), flat('drawn', 'front', STEPPED.toReversed()), {}));
    expect(new Set(faces(back))).toEqual(new Set(faces(stepped())));
    const off = add(empty(), 'plane', { by: 'distance', from: 'front' }, { distance: '7 mm' });
    const away = extrude(off, flat('drawn', off.steps[0]!.id, STEPPED), {});
    expect(faceWords('s2/c0', { ...away, bodies: { s2: { name: 'Block' } } })).toBe('underside of Block');
  });
  it('on other planes, and pushed the other way, are those of that plane', () => {
    expect(faceWords('s1/end', stepped('level'))).toBe('top of Block');
    expect(faceWords('s1/end', stepped('level', { way: 'back' }))).toBe('underside of Block');
    expect(faceWords('s1/c0', stepped('level'))).toBe('front of Block');
    expect(faceWords('s1/end', stepped('side'))).toBe('right side of Block');
  });
  it('keep the names of their drawing where they lean, are named, are cut into another body, or are turned', () => {
    const slanted = named(
      extrude(
        empty(),
        flat('drawn', 'front', [
          [0, 0],
          [30, 0],
          [0, 30],
        ]),
        {},
      ),
    );
    expect(faceWords('s1/c1', slanted)).toBe('line 2 of drawn');
    const p = stepped();
    const own = {
      ...p,
      profiles: p.profiles.map((d) => ({ ...d, curves: d.curves.map((c) => (c.id === 'c2' ? { ...c, name: 'seat' } : c)) })),
    };
    expect(faceWords('s1/c2', own as Project)).toBe('seat of drawn');
    expect(faceWords('s1/c0', stepped('front', { mode: 'cut', body: 's0' }))).toBe('line 1 of drawn');
    const turned = add(p, 'move', { body: 's1', by: 'turn', about: 'x', paths: [], faces: [], copy: 'moved' });
    expect(faceWords('s1/end', turned)).toBe('end face of drawn');
  });
  it('are said anew in messages when the body is turned', () => {
    const p = stepped();
    const turned = add(p, 'move', { body: 's1', by: 'turn', about: 'x', paths: [], faces: [], copy: 'moved' });
    const said = 'the round on the edge between lower top and outer left side of Block does not fit';
    expect(readsOtherwise(said, quotable(p), quotable(turned))).toBe(true);
    expect(readsOtherwise(said, quotable(p), quotable(stepped()))).toBe(false);
  });
  it('are those of the lines beside arcs too, round holes left out', () => {
    const slot = { ...rounded('drawn', 'level') };
    const holed = {
      ...slot,
      points: [...slot.points, { id: 'hole', x: 0, y: 0 }],
      curves: [...slot.curves, { kind: 'circle' as const, id: 'c', centre: 'hole', radius: 6 }],
    };
    for (const drawn of [slot, holed]) {
      const p = named(extrude(empty(), drawn, {}));
      expect(['l1', 'l2', 'l3', 'l4', 'r1'].map((f) => faceWords(`s1/${f}`, p))).toEqual([
        'front of Block',
        'right side of Block',
        'back of Block',
        'left side of Block',
        'arc 2 of drawn',
      ]);
    }
  });
  it('are counted from the outside where there are several alike', () => {
    const comb = [0, 1, 2].flatMap((k): [number, number][] => [
      [20 * k, 10],
      [20 * k, 20 + k],
      [20 * k + 10, 20 + k],
      [20 * k + 10, 10],
    ]);
    const p = named(extrude(empty(), flat('drawn', 'front', [[0, 0], ...comb, [50, 0]]), {}));
    const tops = faces(p).filter((w) => w.startsWith('top'));
    expect(tops).toEqual(expect.arrayContaining([expect.stringMatching(/^top \d of 5 of Block$/)]));
  });
});

it('faces of a form are called by where they lie on its cage, but not where that leans', () => {
  // Three columns of two quads, 30 wide, 20 high, in one plane.
  const vertices = [0, 10, 20].flatMap((z) => [0, 10, 20, 30].map((x): [number, number, number] => [x, 0, z]));
  const faces = [0, 1].flatMap((row) => [0, 1, 2].map((c) => [4 * row + c, 4 * row + c + 1, 4 * row + c + 5, 4 * row + c + 4]));
  const source = { by: 'cage', vertices, faces, creases: [], corners: [], mirror: [], fold: '1', folded: 1 };
  const form = (plane: string): Project => named(add(empty(), 'form', { source, plane, follow: 'well', mode: 'surface', body: null }));
  const words = ['s1/f0', 's1/f4', 's1/f5', 's1/f9'].map((f) => faceWords(f, form('level')));
  expect(words).toEqual(['skin 1, lower left, of Block', 'skin 5, upper, of Block', 'skin 6, upper right, of Block', 'skin 10 of Block']);
  expect(faceWords('s1/f0', form('front'))).toBe('skin 1 of Block');
});
