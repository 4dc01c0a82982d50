/** A result that falls apart: which pieces stay, what they are called and what can be done with them, against volumes of geometry. */
import { describe, expect, it } from 'vitest';
import { add, at, bodies, box, circle, empty, engine, extrude, flat, fresh, last, ROW } from '../../tests/support/parts';
import { addStep, emptyProfile } from '../core/recipe/edit';
import type { Profile, Project } from '../core/recipe/schema';
import type { ExtrudeInputs } from '../core/recipe/steps';

/** A bar 100 × 10 × 10 cut by a slot 20 wide off its middle: 25 and 55 long. */
const parted = (more: Record<string, unknown> = {}): Project =>
  box(box(empty(), [100, 10, 10]), [20, 30, 30], { mode: 'cut', body: 's1', places: [at(-15, 0, -5)], ...more });
const fixesOf = async (p: Project) => {
  const r = await engine.rebuild(p);
  return r.steps[r.steps.length - 1]!;
};

describe('a cut that parts its body', () => {
  it('says how many pieces there are and of which size, marks the smallest, and offers what can become of them', async () => {
    const r = await fixesOf(parted());
    expect([r.state, r.why]).toEqual(['failed', 'it falls into 2 separate pieces: 2.50 cm³, 5.50 cm³']);
    expect(r.at![0]).toBeCloseTo(-37.5, 6);
    expect(r.fixes.map((f) => f.inputs?.pieces)).toEqual(['each', 'together', 'largest']);
    for (const f of r.fixes) {
      const p = parted(f.inputs as Record<string, unknown>);
      expect((await fixesOf(p)).state).toBe('done');
    }
  });
  it('leaves each a body of its own, from left to right; one together; the largest', async () => {
    expect(await bodies(parted({ pieces: 'each' }))).toEqual({ s1: expect.closeTo(2500, 6), s2: expect.closeTo(5500, 6) });
    expect(await bodies(parted({ pieces: 'together' }))).toEqual({ s1: expect.closeTo(8000, 6) });
    expect(await bodies(parted({ pieces: 'largest' }))).toEqual({ s1: expect.closeTo(5500, 6) });
  });
  it('leaves the piece that holds a place, or that touches a body', async () => {
    expect(await bodies(parted({ pieces: 'held', holds: [at(-40, 0, 5)] }))).toEqual({ s1: expect.closeTo(2500, 6) });
    expect(await bodies(parted({ pieces: 'held', holds: [at(40, 0, 5)] }))).toEqual({ s1: expect.closeTo(5500, 6) });
    const post = (x: number): Project => {
      const p = box(box(empty(), [100, 10, 10]), [10, 10, 10], { places: [at(x, 0, 10)] });
      return box(p, [20, 30, 30], { mode: 'cut', body: 's1', places: [at(-15, 0, -5)], pieces: 'touching', near: 's2' });
    };
    expect(await bodies(post(-40))).toEqual({ s1: expect.closeTo(2500, 6), s2: expect.closeTo(1000, 6) });
    expect(await bodies(post(30))).toEqual({ s1: expect.closeTo(5500, 6), s2: expect.closeTo(1000, 6) });
    const none = await fixesOf(post(200));
    expect(none.why).toContain('none of its 2 pieces touches');
  });
  it('asks for the place or the body, and is not wrong until then', async () => {
    expect((await fixesOf(parted({ pieces: 'held', holds: [] }))).unfinished).toBe(true);
    expect((await fixesOf(parted({ pieces: 'touching' }))).unfinished).toBe(true);
  });
  it('is one piece again where the slot no longer parts it, whatever was asked', async () => {
    for (const pieces of ['each', 'together', 'largest', 'held', 'touching'])
      expect(await bodies(parted({ pieces, holds: [at(0, 0, 0)], places: [at(-15, 13, 0)] }))).toEqual({
        s1: expect.closeTo(10000 - 20 * 7 * 10, 6),
      });
  });
  it('keeps three in the order of their places when sizes change a little', async () => {
    const three = (d: number): Project =>
      add(
        box(box(box(empty(), [100, 10, 10]), [5 + d, 30, 30], { places: [at(-25, 0, 0)] }), [5, 30, 30], { places: [at(15, 0, 0)] }),
        'combine',
        {
          body: 's1',
          mode: 'cut',
          tools: ['s2', 's3'],
          tooling: 'used',
          pieces: 'each',
        },
      );
    const a = await bodies(three(0));
    expect(Object.keys(a)).toEqual(['s1', 's4', 's4_3']);
    expect(Object.values(a).map((v) => v / 100)).toEqual([22.5, 35, 32.5].map((v) => expect.closeTo(v, 6)));
    expect(Object.keys(await bodies(three(0.5)))).toEqual(Object.keys(a));
  });
});

describe('pieces together', () => {
  const both = (): Project => parted({ pieces: 'together' });
  it('have faces with names of their own', async () => {
    await engine.rebuild(both());
    const names = engine.bodies()[0]!.body.faces;
    expect(names.length).toBe(12);
    expect(new Set(names).size).toBe(12);
  });
  it('are joined by what touches both, cut again, mirrored, repeated and moved', async () => {
    const bridge = box(both(), [100, 2, 10], { mode: 'join', body: 's1', places: [at(0, 6, 0)] });
    expect(await bodies(bridge)).toEqual({ s1: expect.closeTo(10000, 4) });
    const again = box(both(), [100, 4, 20], { mode: 'cut', body: 's1', places: [at(0, 5, 0)] });
    expect(await bodies(again)).toEqual({ s1: expect.closeTo(8000 - 80 * 2 * 10, 4) });
    const image = add(both(), 'mirror', { body: 's1', plane: 'level', result: 'joined' });
    expect(await bodies(image)).toEqual({ s1: expect.closeTo(16000, 4) });
    const row = add(both(), 'pattern', { ...ROW, what: 'body', body: 's1', axis: 'y', pieces: 'together' }, { count: '3', length: '20' });
    expect(await bodies(row)).toEqual({ s1: expect.closeTo(24000, 4) });
  });
  it('may become more by a later cut, without being asked again', async () => {
    const more = box(both(), [10, 30, 30], { mode: 'cut', body: 's1', places: [at(30, 0, 0)] });
    expect(await bodies(more)).toEqual({ s1: expect.closeTo(7000, 4) });
    expect(engine.bodies()[0]!.body.pieces).toBe(3);
  });
  it('are rounded in one step', async () => {
    await engine.rebuild(both());
    const r = await last(
      add(both(), 'fillet', { body: 's1', edges: [{ edge: 's1/end#2|s1/front' }, { edge: 's1/end|s1/front#2' }] }, { radius: '2' }),
    );
    expect(r.said).toMatch(/^(done|warned)/);
    // A round of r takes (1 − π/4) r² off each mm of an edge.
    expect(r.volume).toBeCloseTo(8000 - (1 - Math.PI / 4) * 4 * 80, 2);
  });
  it('are refused by what needs one piece, with the way to part them', async () => {
    const r = await fixesOf(add(both(), 'shell', { body: 's1', open: [], direction: 'inward', corners: 'round', walls: [] }));
    expect([r.state, r.why]).toEqual(['failed', 'it is 2 pieces that lie apart']);
    expect(r.fixes).toEqual([expect.objectContaining({ step: 's2', inputs: { pieces: 'each' } })]);
  });
});

describe('walls about several lines', () => {
  const lines = (...ends: readonly (readonly [number, number, number, number])[]): Profile => ({
    ...emptyProfile('l', 'l', 'level', false),
    points: ends.flatMap(([a, b, c, d], i) => [
      { id: `a${i}`, x: a, y: b },
      { id: `b${i}`, x: c, y: d },
    ]),
    curves: ends.map((_, i) => ({ kind: 'line', id: `c${i}`, from: `a${i}`, to: `b${i}` })),
  });
  it('are as many pieces as lie apart, and one where they cross', async () => {
    const apart = lines([0, 0, 30, 0], [0, 20, 30, 20]);
    const wall = (p: Profile, more: Record<string, unknown> = {}): Project =>
      extrude(empty(), p, { fill: 'about', ...more }, { length: '5', wall: '2' });
    expect(await bodies(wall(apart, { pieces: 'together' }))).toEqual({ s1: expect.closeTo(2 * 300, 6) });
    const crossing = lines([-15, 0, 15, 0], [0, -15, 0, 15]);
    expect(await bodies(wall(crossing))).toEqual({ s1: expect.closeTo(5 * (2 * 60 - 4), 6) });
  });
  it('are cut from a body and kept in common with it, also where they cross', async () => {
    const plate = box(empty(), [20, 20, 4]);
    const crossing = lines([-30, 0, 30, 0], [0, -30, 0, 30]);
    const at_ = (mode: 'cut' | 'common', pieces?: 'each'): Project =>
      extrude(plate, crossing, { fill: 'about', mode, body: 's1', extent: 'both', ...(pieces ? { pieces } : {}) }, { wall: '2' });
    expect(await bodies(at_('common'))).toEqual({ s1: expect.closeTo(4 * (2 * 40 - 4), 6) });
    expect(Object.values(await bodies(at_('cut', 'each')))).toEqual([1, 2, 3, 4].map(() => expect.closeTo(4 * 81, 6)));
  });
  it('are offered where lines close no outline', async () => {
    const r = await fixesOf(extrude(empty(), lines([0, 0, 30, 0]), {}, { length: '5', wall: '2' }));
    expect(r.fixes.map((f) => f.inputs)).toEqual([{ fill: 'about' }, { mode: 'surface' }]);
    for (const f of r.fixes)
      expect(
        (await fixesOf(extrude(empty(), lines([0, 0, 30, 0]), f.inputs as Partial<ExtrudeInputs>, { length: '5', wall: '2' }))).state,
      ).toBe('done');
  });
});

describe('a new body of several outlines, and copies that do not touch', () => {
  it('is as many bodies as there are outlines', async () => {
    const corners = (x: number, y: number, side: number): [number, number][] => [
      [x, y],
      [x + side, y],
      [x + side, y + side],
      [x, y + side],
    ];
    const near = flat('d', 'level', corners(0, 0, 10));
    const far = flat('e', 'level', corners(20, 0, 4));
    const drawing: Profile = {
      ...near,
      points: [...near.points, ...far.points.map((p) => ({ ...p, id: `q${p.id}` }))],
      curves: [
        ...near.curves,
        ...far.curves.map((c) => (c.kind === 'line' ? { ...c, id: `q${c.id}`, from: `q${c.from}`, to: `q${c.to}` } : c)),
      ],
    };
    const r = await fixesOf(extrude(empty(), drawing, {}, { length: '5' }));
    expect(r.why).toBe('it falls into 2 separate pieces: 0.50 cm³, 0.08 cm³');
    expect(await bodies(extrude(empty(), drawing, { pieces: 'each' }, { length: '5' }))).toEqual({
      s1: expect.closeTo(500, 6),
      s1_2: expect.closeTo(80, 6),
    });
  });
  it('mirrored apart becomes two bodies', async () => {
    const p = box(empty(), [10, 10, 10], { places: [at(30, 0, 0)] });
    const m = (more: Record<string, unknown>): Project => add(p, 'mirror', { body: 's1', plane: 'side', result: 'joined', ...more });
    const r = await fixesOf(m({}));
    expect([r.message, r.fixes.length]).toEqual(['the mirror image of Body 1 does not touch Body 1', 3]);
    expect(await bodies(m({ pieces: 'each' }))).toEqual({ s1: expect.closeTo(1000, 6), s2: expect.closeTo(1000, 6) });
  });
});

describe('what would poke through a wall', () => {
  /** A box 40 × 40 × 20 hollowed by 2 and open above, with a peg ⌀6 that comes from the side to 7 mm behind the inside. */
  const cup = (more: Record<string, unknown> = {}): Project => {
    const hollow = add(
      box(empty(), [40, 40, 20]),
      'shell',
      { body: 's1', open: [{ face: 's1/end' }], side: 'inward' },
      { wall: '2', floor: '2' },
    );
    const lift = addStep(hollow, 'plane', { by: 'distance', from: 'side' }, { distance: '50 mm' });
    return extrude(lift.project, circle('peg', lift.id, 3, [0, 10]), { mode: 'join', body: 's1', way: 'back', ...more }, { length: '39' });
  };
  const walls = 40 * 40 * 20 - 36 * 36 * 18;
  it('is told with the way to end it, which works at the first click', async () => {
    const r = await fixesOf(cup());
    expect([r.state, r.message]).toEqual(['warned', expect.stringContaining('pokes through')]);
    expect(r.fixes).toEqual([expect.objectContaining({ inputs: { through: 'ended' } })]);
    const done = await fixesOf(cup({ through: 'ended' }));
    expect([done.state, done.note]).toEqual(['done', 'ended at the inside: 0.20 cm³ beyond it left out']);
    expect(await bodies(cup({ through: 'ended' }))).toEqual({ s1: expect.closeTo(walls + Math.PI * 9 * 30, 3) });
    expect(await bodies({ ...cup() })).toEqual({ s1: expect.closeTo(walls + Math.PI * 9 * 37, 3) });
  });
  it('ends on a round wall too, and is as drawn where it does not reach the inside', async () => {
    const turned = (length: string): Project => {
      const tube = add(
        add(empty(), 'primitive', { shape: 'cylinder', plane: 'level', places: [], ...fresh }, { diameter: '60', height: '50' }),
        'shell',
        { body: 's1', open: [{ face: 's1/top' }], side: 'inward' },
        { wall: '3', floor: '3' },
      );
      const lift = addStep(tube, 'plane', { by: 'distance', from: 'side' }, { distance: '50 mm' });
      return extrude(
        lift.project,
        circle('peg', lift.id, 4, [0, 25]),
        { mode: 'join', body: 's1', way: 'back', through: 'ended' },
        { length },
      );
    };
    const shell = Math.PI * (900 * 50 - 729 * 47);
    // Outside R 30: the peg up to 50, less what is under the cylinder, by quadrature over its circle.
    let outside = 0;
    for (let i = 0; i < 4000; i++) {
      const y = -4 + (8 * (i + 0.5)) / 4000;
      outside += (8 / 4000) * 2 * Math.sqrt(16 - y * y) * (50 - Math.sqrt(900 - y * y));
    }
    expect((await bodies(turned('35'))).s1).toBeCloseTo(shell + outside, 1);
    expect((await bodies(turned('21.5'))).s1).toBeCloseTo(shell + outside, 1);
  });
});
