/** Extrusions and plain solids, against mensuration: prisms, frustums, Steinmetz's solid, sections through round walls. */
import { describe, expect, it } from 'vitest';
import { add, at, circle, empty, engine, extrude, flat, fresh, last, square, volume } from '../../tests/support/parts';
import { addStep } from '../core/recipe/edit';
import type { Profile } from '../core/recipe/schema';
import type { ExtrudeInputs } from '../core/recipe/steps';

describe('an extrusion', () => {
  it('of a polygon is a prism, its faces named by the lines and the two ends', async () => {
    const r = await last(extrude(empty(), flat('plate', 'level', square(20)), {}, { length: '30 mm' }));
    expect(r.volume).toBeCloseTo(400 * 30, 6);
    expect([...r.faces].sort()).toEqual(['s1/c0', 's1/c1', 's1/c2', 's1/c3', 's1/end', 's1/start']);
  });
  it('leaves holes, fills islands in them, and goes to either side', async () => {
    const ring: Profile = {
      ...circle('ring', 'level', 20),
      curves: [20, 12, 5].map((radius, i) => ({ kind: 'circle', id: `c${i}`, centre: 'm', radius })),
    };
    // Ring and island are two pieces: no new body, but both cut.
    expect((await last(extrude(empty(), ring, {}))).said).toContain('2 separate pieces');
    const washer = { ...ring, curves: ring.curves.slice(0, 2) };
    expect(await volume(extrude(empty(), washer, { extent: 'symmetric' }, { length: '8 mm' }))).toBeCloseTo(Math.PI * (400 - 144) * 8, 4);
    expect(await volume(extrude(empty(), washer, { extent: 'two' }, { length: '8 mm', back: '3 mm' }))).toBeCloseTo(Math.PI * 256 * 11, 4);
    const back = await engine.rebuild(extrude(empty(), washer, { way: 'back' }, { length: '8 mm', start: '2 mm' }));
    expect([back.bodies[0]!.bbox.min[2], back.bodies[0]!.bbox.max[2]]).toEqual([expect.closeTo(-6, 5), expect.closeTo(2, 5)]);
    const block = extrude(empty(), flat('block', 'level', square(60)), {}, { length: '10 mm' });
    expect(await volume(extrude(block, ring, { mode: 'cut', body: 's1' }, { length: '5 mm' }))).toBeCloseTo(
      36000 - 5 * Math.PI * (256 + 25),
      4,
    );
  });
  it('tapered is a prismatoid: h (a² + ab + b²) / 3 for a square, the frustum for a circle', async () => {
    const t = Math.tan((10 * Math.PI) / 180);
    const b = 40 - 2 * 25 * t;
    const p = extrude(empty(), flat('plate', 'level', square(40)), {}, { length: '25 mm', taper: '10°' });
    expect(await volume(p)).toBeCloseTo((25 * (1600 + 40 * b + b * b)) / 3, 4);
    const wide = 20 + 30 * t;
    expect(await volume(extrude(empty(), circle('disc', 'front', 20), {}, { length: '30 mm', taper: '-10°' }))).toBeCloseTo(
      (Math.PI * 30 * (400 + 20 * wide + wide * wide)) / 3,
      3,
    );
    const back = extrude(empty(), flat('plate', 'level', square(40)), { way: 'back' }, { length: '25 mm', taper: '10°' });
    expect(await volume(back)).toBeCloseTo((25 * (1600 + 40 * b + b * b)) / 3, 4);
  });
  it('that its taper uses up is refused, and so is an open outline', async () => {
    expect((await last(extrude(empty(), flat('plate', 'level', square(20)), {}, { length: '60 mm', taper: '20°' }))).said).toMatch(
      /^failed/,
    );
    const open = { ...flat('plate', 'level', square(20)) };
    expect((await last(extrude(empty(), { ...open, curves: open.curves.slice(1) }, {}))).said).toContain('an end is loose at');
  });
  it('as a wall: inside, outside and about a closed line, and along an open one', async () => {
    const plate = flat('plate', 'level', square(40));
    const wall = (fill: ExtrudeInputs['fill']) => volume(extrude(empty(), plate, { fill }, { length: '10 mm', wall: '3 mm' }));
    expect(await wall('inside')).toBeCloseTo(10 * (1600 - 34 * 34), 5);
    expect(await wall('outside')).toBeCloseTo(10 * (46 * 46 - 1600), 5);
    expect(await wall('about')).toBeCloseTo(10 * (43 * 43 - 37 * 37), 5);
    const strip = { ...plate, curves: plate.curves.slice(0, 1) };
    expect(await volume(extrude(empty(), strip, { fill: 'about' }, { length: '10 mm', wall: '3 mm' }))).toBeCloseTo(40 * 3 * 10, 5);
  });
  it('common with another at right angles is Steinmetz’s solid, 16 r³ / 3', async () => {
    const one = extrude(empty(), circle('one', 'front', 15), { extent: 'symmetric' }, { length: '80 mm' });
    const p = extrude(one, circle('two', 'side', 15), { extent: 'symmetric', mode: 'common', body: 's1' }, { length: '80 mm' });
    expect(await volume(p)).toBeCloseTo((16 * 15 ** 3) / 3, 2);
  });
  it('up to a plane is a prism where that is parallel, and one cut off obliquely where it leans: its section by the height at its middle', async () => {
    const lifted = addStep(empty(), 'plane', { by: 'distance', from: 'level' }, { distance: '30 mm' });
    const tilted = addStep(lifted.project, 'plane', { by: 'tilt', from: 'level', about: 'across', paths: [] }, { angle: '20°' });
    const leaning = addStep(tilted.project, 'plane', { by: 'place', from: tilted.id, places: [at(0, 0, 30)] });
    const upTo = (plane: string, more: Partial<ExtrudeInputs> = {}) =>
      extrude(leaning.project, flat('plate', 'level', square(20)), { extent: 'plane', upTo: plane, ...more });
    const straight = await last(upTo(lifted.id));
    expect(straight.volume).toBeCloseTo(400 * 30, 6);
    const cut = await last(upTo(leaning.id));
    expect(cut.volume).toBeCloseTo(400 * 30, 4);
    expect([...cut.faces].sort()).toEqual([...straight.faces].sort());
    // Off the middle it is as high as the plane stands there.
    const aside = { ...flat('plate', 'level', square(20)) };
    const moved = { ...aside, points: aside.points.map((p) => ({ ...p, y: p.y + 15 })) };
    expect(await volume(extrude(leaning.project, moved, { extent: 'plane', upTo: leaning.id }))).toBeCloseTo(
      400 * (30 + 15 * Math.tan((20 * Math.PI) / 180)),
      4,
    );
    // Each way out works as it is offered; a plane along the way is refused.
    const below = upTo(lifted.id, { way: 'back' });
    const fix = (await engine.rebuild(below)).steps.at(-1)!.fixes[0]!;
    expect(fix.words).toBe('Let it go outwards');
    expect(await volume(upTo(lifted.id, fix.inputs))).toBeCloseTo(12000, 6);
    expect((await engine.rebuild(upTo('level'))).steps.at(-1)!.unfinished).toBe(true);
    expect((await last(upTo('front'))).said).toContain('stands along the way it is pushed');
    expect(
      (await last(extrude(leaning.project, flat('plate', 'level', square(200)), { extent: 'plane', upTo: tilted.id }))).said,
    ).toContain('does not meet the plane of step 2 with its whole section');
  });
  it('up to a round wall ends on it, without a gap and without poking through', async () => {
    // A post of R 30 about z; a square bar of 12 from x = 60 inwards to its skin.
    const post = extrude(empty(), circle('post', 'level', 30), {}, { length: '80 mm' });
    const lift = addStep(post, 'plane', { by: 'distance', from: 'side' }, { distance: '60 mm' });
    const bar: Profile = { ...flat('bar', lift.id, square(12)), points: square(12).map(([x, y], i) => ({ id: `p${i}`, x, y: y + 40 })) };
    const apart = extrude(lift.project, bar, { extent: 'body', until: 's1', way: 'back' });
    const round = (y: number): number => (y * Math.sqrt(900 - y * y) + 900 * Math.asin(y / 30)) / 2;
    const expected = 12 * (60 * 12 - (round(6) - round(-6)));
    expect(await volume(apart)).toBeCloseTo(expected, 3);
    const joined = extrude(lift.project, bar, { extent: 'body', until: 's1', way: 'back', mode: 'join', body: 's1' });
    expect(await volume(joined)).toBeCloseTo(Math.PI * 900 * 80 + expected, 2);
    const skin = extrude(lift.project, bar, { extent: 'face', faces: [{ body: 's1', face: 's1/c0' }], way: 'back' });
    expect(await volume(skin)).toBeCloseTo(expected, 3);
    const high: Profile = { ...bar, points: bar.points.map((q) => ({ ...q, y: q.y + 37 })) };
    expect(
      (await last(extrude(lift.project, high, { extent: 'face', faces: [{ body: 's1', face: 's1/c0' }], way: 'back' }))).said,
    ).toContain('does not meet');
  });
  it('up to a leaning flat face is cut off along it', async () => {
    const wedge = extrude(
      empty(),
      flat('wedge', 'front', [
        [0, 0],
        [60, 0],
        [60, 40],
      ]),
      { extent: 'symmetric' },
      { length: '60 mm' },
    );
    // Under the slope z = 2x/3: from z = 60 down, over x 20…40, the height is 60 − 2x/3.
    const lift = addStep(wedge, 'plane', { by: 'distance', from: 'level' }, { distance: '60 mm' });
    const peg = flat('peg', lift.id, [
      [20, -5],
      [40, -5],
      [40, 5],
      [20, 5],
    ]);
    const p = extrude(lift.project, peg, { extent: 'face', way: 'back', faces: [{ body: 's1', face: 's1/c2' }] });
    expect(await volume(p)).toBeCloseTo(10 * (60 * 20 - (1600 - 400) / 3), 4);
  });
  it('through everything needs a body in its way', async () => {
    const plate = flat('plate', 'level', square(20));
    expect((await last(extrude(empty(), plate, { extent: 'through' }))).said).toContain('body of its own');
    const block = extrude(empty(), plate, {}, { length: '10 mm' });
    const wrong = extrude(block, circle('hole', 'level', 4), { extent: 'through', way: 'back', mode: 'cut', body: 's1' });
    expect((await last(wrong)).said).toContain('let it go outwards');
    const both = extrude(block, circle('hole', 'front', 3, [0, 5]), { extent: 'both', mode: 'cut', body: 's1' });
    expect(await volume(both)).toBeCloseTo(4000 - Math.PI * 9 * 20, 4);
  });
});

describe('a plain solid', () => {
  it.each<[string, string, Record<string, string>, number, number]>([
    ['box', 'box', { width: '40', depth: '30', height: '20' }, 24000, 6],
    ['cylinder', 'cylinder', { diameter: '30', height: '20' }, Math.PI * 225 * 20, 3],
    ['cone to a point', 'cone', { diameter: '30', top: '0', height: '20' }, (Math.PI * 225 * 20) / 3, 2],
    ['frustum', 'cone', { diameter: '30', top: '20', height: '20' }, (Math.PI * 20 * (225 + 150 + 100)) / 3, 3],
    ['ball', 'sphere', { diameter: '30' }, (4 / 3) * Math.PI * 15 ** 3, 1],
    ['ring', 'torus', { diameter: '30', thickness: '6' }, 2 * Math.PI ** 2 * 15 * 9, 1],
  ])('%s has the volume of mensuration and the faces of its name', async (_, shape, values, volume, faces) => {
    const r = await last(add(empty(), 'primitive', { shape, plane: 'front', places: [], ...fresh }, values));
    expect(r.volume / volume).toBeCloseTo(1, 6);
    expect(r.faces).toHaveLength(faces);
  });
  it('stands square on its plane, at a place', async () => {
    const p = add(
      empty(),
      'primitive',
      { shape: 'cylinder', plane: 'side', places: [at(99, 7, 50)], ...fresh },
      { diameter: '10', height: '30' },
    );
    const b = (await engine.rebuild(p)).bodies[0]!.bbox;
    expect([...b.min, ...b.max].map((v) => Math.round(v * 1e4) / 1e4 + 0)).toEqual([0, 2, 45, 30, 12, 55]);
  });
  it('that can’t be is refused: a ring thicker than it is wide', async () => {
    const p = add(empty(), 'primitive', { shape: 'torus', plane: 'level', places: [], ...fresh }, { diameter: '10', thickness: '12' });
    expect((await last(p)).said).toContain('leaves no hole');
  });
});

describe('what is joined says how its ends stand to the body', () => {
  /** A square bar pushed towards the axis of a cylinder of radius 30, ending at a distance from it. */
  const bar = (end: number, hollow = false) => {
    let p = add(empty(), 'primitive', { shape: 'cylinder', plane: 'level', places: [], ...fresh }, { diameter: '60', height: '60' });
    if (hollow) p = add(p, 'shell', { body: 's1', open: [{ topOf: 's1' }] }, { wall: '2' });
    const lift = addStep(p, 'plane', { by: 'distance', from: 'side' }, { distance: '50' });
    const drawn = {
      ...flat('bar', lift.id, [
        [-5, 25],
        [5, 25],
        [5, 35],
        [-5, 35],
      ]),
    };
    return extrude(lift.project, drawn, { mode: 'join', body: 's1', way: 'back' }, { length: `${50 - end}` });
  };
  const told = async (p: Parameters<typeof engine.rebuild>[0]) => {
    const s = (await engine.rebuild(p)).steps.at(-1)!;
    return `${s.state}: ${s.note ?? ''} | ${s.warnings.map((w) => w.message).join(', ')}`;
  };
  it('deep in it, with the least and the most', async () => {
    // At the corners the wall stands at √(900 − 25) = 29.58.
    expect(await told(bar(25))).toMatch(/^done: its end sits 4\.(59|6\d) to (4\.99|5\.00) mm inside/);
  });
  it('short of it at the corners, by how much', async () => {
    expect(await told(bar(29.8))).toMatch(/^warned: .* its end leaves a gap of up to 0\.2[12] mm to/);
  });
  it('through a hollow wall, by how much', async () => {
    expect(await told(bar(24, true))).toMatch(/^warned: .* its end pokes through .* by up to (3\.99|4\.00) mm/);
  });
  it('flush, where it was ended on the body', async () => {
    const p = add(empty(), 'primitive', { shape: 'box', plane: 'level', places: [], ...fresh }, { width: '60', depth: '60', height: '60' });
    const lift = addStep(p, 'plane', { by: 'distance', from: 'side' }, { distance: '50' });
    const drawn = flat('bar', lift.id, [
      [-5, 25],
      [5, 25],
      [5, 35],
      [-5, 35],
    ]);
    expect(await told(extrude(lift.project, drawn, { mode: 'join', body: 's1', way: 'back' }, { length: '20' }))).toContain(
      'its end lies flush on',
    );
  });
  it('with its sides in the wall: nothing of its ends, but by how much a side pokes through', async () => {
    /** A rib along a vessel of radius 30 with a wall of 2, from a distance of the axis to beyond the wall. */
    const rib = (near: number, start: string, ended = false) => {
      let p = add(empty(), 'primitive', { shape: 'cylinder', plane: 'level', places: [], ...fresh }, { diameter: '60', height: '60' });
      p = add(p, 'shell', { body: 's1', open: [{ topOf: 's1' }] }, { wall: '2' });
      const drawn = flat('rib', 'level', [
        [near, -3],
        [36, -3],
        [36, 3],
        [near, 3],
      ]);
      return extrude(p, drawn, { mode: 'join', body: 's1', ...(ended ? { through: 'ended' as const } : {}) }, { length: '20', start });
    };
    expect(await told(rib(28.5, '10'))).toMatch(/^done: [^|]*\| $/);
    // The inside has a radius of 28: in the middle of the rib that is 1 mm farther out than the rib begins, at its edges 0.83 mm.
    expect(await told(rib(27, '10'))).toMatch(/^warned: .*\| a side of it pokes through .* by up to (0\.9\d|1\.00) mm$/);
    // Where it ends level with the body nothing of that is told either.
    expect(await told(rib(28.5, '40'))).toMatch(/^done: [^|]*\| $/);
    const ended = await engine.rebuild(rib(27, '10', true));
    const plain = await engine.rebuild(rib(28.5, '10'));
    expect(ended.steps.at(-1)!.state).toBe('done');
    expect(ended.bodies[0]!.volume).toBeCloseTo(plain.bodies[0]!.volume, 3);
  });
});

describe('an extrusion that begins on a face', () => {
  const drum = () =>
    add(empty(), 'primitive', { shape: 'cylinder', plane: 'level', places: [], ...fresh }, { diameter: '60', height: '60' });
  const block = (id: string) =>
    flat('bar', id, [
      [-5, 25],
      [5, 25],
      [5, 35],
      [-5, 35],
    ]);
  /** ∫ √(r² − y²) dy over −5 … 5, times 10 high. */
  const under = (r: number): number => 10 * (5 * Math.sqrt(r * r - 25) + r * r * Math.asin(5 / r));
  it('keeps its distance from it and ends flat, outwards and backwards', async () => {
    const side = (await last(drum())).faces.find((f) => f.endsWith('side'))!;
    const from: Partial<ExtrudeInputs> = { origin: 'face', fromFaces: [{ body: 's1', face: side }] };
    const lift = addStep(drum(), 'plane', { by: 'distance', from: 'side' }, { distance: '20' });
    const near = extrude(lift.project, block(lift.id), from, { length: '8', start: '2' });
    expect(await volume(near)).toBeCloseTo(40 * 100 - under(32), 3);
    const flush = extrude(lift.project, block(lift.id), { ...from, mode: 'join', body: 's1' }, { length: '8', start: '0' });
    expect(await volume(flush)).toBeCloseTo(Math.PI * 900 * 60 + 38 * 100 - under(30), 2);
    // Between the face and another body in front of it.
    const wall = add(
      lift.project,
      'primitive',
      { shape: 'box', plane: 'level', places: [at(60, 0, 0)], ...fresh },
      { width: '20', depth: '60', height: '60' },
    );
    const between = extrude(wall, block(lift.id), { ...from, extent: 'body', until: 's3' }, { start: '0' });
    expect(await volume(between)).toBeCloseTo(50 * 100 - under(30), 3);
  });
  it('can’t where the face bends tighter than the distance inwards', async () => {
    const side = (await last(drum())).faces.find((f) => f.endsWith('side'))!;
    const lift = addStep(drum(), 'plane', { by: 'distance', from: 'side' }, { distance: '20' });
    const p = extrude(
      lift.project,
      block(lift.id),
      { origin: 'face', fromFaces: [{ body: 's1', face: side }] },
      { length: '8', start: '-31' },
    );
    expect((await last(p)).said).toMatch(/^failed/);
  });
});
