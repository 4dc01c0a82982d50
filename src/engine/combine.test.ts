/** Bodies combined, split, moved, mirrored, repeated and tapered, against the volumes geometry gives them. */
import { describe, expect, it } from 'vitest';
import { polyProfile } from '../../tests/support/kernel';
import { add, at, bodies, box, empty, engine, extrude, flat, fresh, last, ROW, square, volume } from '../../tests/support/parts';
import { addStep, patchStep, replacePick, setProfile } from '../core/recipe/edit';
import { atAnyCopy } from '../core/recipe/names';
import type { Profile, Project } from '../core/recipe/schema';
import { namedEdges } from '../kernel/names';

describe('bodies are combined', () => {
  const two = (): Project => box(box(empty(), [40, 40, 10]), [10, 10, 30]);
  it('joined, cut and kept in common, the tools used up or kept', async () => {
    const run = (mode: string, tooling = 'used') => bodies(add(two(), 'combine', { body: 's1', mode, tools: ['s2'], tooling }));
    expect(await run('join')).toEqual({ s1: expect.closeTo(16000 + 2000, 4) });
    expect(await run('cut')).toEqual({ s1: expect.closeTo(16000 - 1000, 4) });
    expect(await run('common')).toEqual({ s1: expect.closeTo(1000, 4) });
    expect(await run('cut', 'kept')).toEqual({ s1: expect.closeTo(15000, 4), s2: expect.closeTo(3000, 4) });
  });
  it('many tools in one operation', async () => {
    let p = box(empty(), [100, 20, 10]);
    const tools: string[] = [];
    for (let i = 0; i < 8; i++) {
      p = add(
        p,
        'primitive',
        { shape: 'cylinder', plane: 'level', places: [at(-42 + 12 * i, 0, 0)], ...fresh },
        { diameter: '6', height: '10' },
      );
      tools.push(p.steps[p.steps.length - 1]!.id);
    }
    const r = await engine.rebuild(add(p, 'combine', { body: 's1', mode: 'cut', tools, tooling: 'used' }));
    expect(r.bodies.map((b) => b.id)).toEqual(['s1']);
    expect(r.bodies[0]!.volume).toBeCloseTo(20000 - 8 * Math.PI * 90, 3);
  });
  it('are put away, or all but some', async () => {
    expect(Object.keys(await bodies(add(two(), 'remove', { mode: 'delete', bodies: ['s1'] })))).toEqual(['s2']);
    expect(Object.keys(await bodies(add(two(), 'remove', { mode: 'keep', bodies: ['s1'] })))).toEqual(['s1']);
  });
  it('a later step on a body that is gone says so', async () => {
    const gone = add(two(), 'combine', { body: 's1', mode: 'join', tools: ['s2'], tooling: 'used' });
    const p = add(gone, 'fillet', { body: 's2', edges: [{ edge: 's2/front|s2/right' }] });
    expect((await last(p)).said).toContain('not made by an earlier step');
  });
});

describe('a split', () => {
  const split = (p: Project, more: Record<string, unknown>): Project =>
    add(p, 'split', { body: 's1', by: 'plane', plane: 'level', profile: null, tool: null, keep: 'all', ...more });
  it('that misses its body offers those that it passes through', async () => {
    const plane = addStep(box(box(empty(), [40, 30, 20]), [10, 10, 60]), 'plane', { by: 'distance', from: 'level' }, { distance: '50' });
    const p = split(plane.project, { plane: plane.id });
    const told = (await engine.rebuild(p)).steps.at(-1)!;
    expect(told.message).toContain('is not split');
    expect(told.fixes.map((f) => f.words)).toEqual(['Split Body 2 instead']);
    expect(Object.values(await bodies(patchStep(p, told.id, told.fixes[0]!))).map((v) => Math.round(v))).toEqual([24000, 1000, 5000]);
  });
  it('that is done beside its body offers the body that is met', async () => {
    const two = box(box(empty(), [40, 30, 20], { places: [at(100, 0, 0)] }), [40, 30, 20]);
    const p = extrude(two, flat('d', 'level', square(10)), { mode: 'cut', body: 's1', extent: 'one' }, { length: '8' });
    const told = (await engine.rebuild(p)).steps.at(-1)!;
    expect(told.message).toContain('cuts nothing');
    expect(told.fixes.map((f) => f.words)).toEqual(['Cut it from Body 2 instead']);
    expect(await bodies(patchStep(p, told.id, told.fixes[0]!))).toEqual({ s1: expect.closeTo(24000, 3), s2: expect.closeTo(23200, 3) });
  });
  it('calls what it parts off by where it lies', () => {
    const plane = addStep(box(empty(), [40, 30, 20]), 'plane', { by: 'distance', from: 'level' }, { distance: '5 mm' });
    const leaning = addStep(plane.project, 'plane', { by: 'tilt', from: 'front', about: 'up', paths: [] });
    const named = (p: Project, more: Record<string, unknown>): string => Object.values(split(p, more).bodies).at(-1)!.name;
    expect(named(plane.project, { plane: plane.id })).toBe('Body 1, lower part');
    expect(named(plane.project, { plane: 'side' })).toBe('Body 1, left part');
    expect(named(plane.project, { plane: 'front' })).toBe('Body 1, rear part');
    expect(named(leaning.project, { plane: leaning.id })).toBe('Body 1, other part');
    const once = split(plane.project, { plane: plane.id });
    const part = Object.keys(once.bodies).at(-1)!;
    expect(named(once, { body: part, plane: plane.id })).toBe('Body 1, lower part 2');
    expect(named(once, { body: part, plane: 'side' })).toBe('Body 1, left part');
  });
  it('by a plane gives both pieces, or the one that is kept', async () => {
    const p = box(empty(), [40, 30, 20]);
    const cut = addStep(p, 'plane', { by: 'distance', from: 'level' }, { distance: '5 mm' });
    const all = await bodies(split(cut.project, { plane: cut.id }));
    expect(all).toEqual({ s1: expect.closeTo(1200 * 15, 4), s3: expect.closeTo(1200 * 5, 4) });
    expect(await bodies(split(cut.project, { plane: cut.id, keep: 'first' }))).toEqual({ s1: expect.closeTo(18000, 4) });
    expect(await bodies(split(cut.project, { plane: cut.id, keep: 'second' }))).toEqual({ s1: expect.closeTo(6000, 4) });
    const live = engine.bodies()[0]!.body;
    expect(live.faces).toContain('s3/cut');
    expect(live.faces).toContain('s1/start');
  });
  it('by a drawn line, left and right of it', async () => {
    const p = box(empty(), [40, 30, 20]);
    const line: Profile = {
      ...polyProfile([
        [-30, 0],
        [0, 0],
        [0, 30],
      ]),
      id: 'line',
      name: 'Line',
      plane: 'level',
      half: false,
    };
    const q = split(setProfile(p, line), { by: 'profile', profile: 'line' });
    // Left of a line that runs right, then up, is the quarter beyond it.
    expect(await bodies(q)).toEqual({ s1: expect.closeTo(20 * 15 * 20, 4), s2: expect.closeTo(1200 * 20 - 6000, 4) });
  });
  it('by another body, outside and inside it', async () => {
    const p = add(
      box(empty(), [40, 40, 20]),
      'primitive',
      { shape: 'cylinder', plane: 'level', places: [], ...fresh },
      { diameter: '20', height: '50' },
    );
    const core = Math.PI * 100 * 20;
    const r = await bodies(split(p, { by: 'body', tool: 's2' }));
    expect(r.s1).toBeCloseTo(32000 - core, 3);
    expect(r.s3).toBeCloseTo(core, 3);
  });
  it('that passes beside the body is refused', async () => {
    const p = addStep(box(empty(), [40, 30, 20]), 'plane', { by: 'distance', from: 'level' }, { distance: '50 mm' });
    expect((await last(split(p.project, { plane: p.id }))).said).toContain('does not pass through');
  });
});

describe('a body is moved', () => {
  const moved = (p: Project, more: Record<string, unknown>, values: Record<string, string> = {}): Project =>
    add(p, 'move', { body: 's1', by: 'shift', about: 'z', paths: [], faces: [], result: 'moved', ...more }, values);
  const bounds = async (p: Project, id: string): Promise<number[]> => {
    const b = (await engine.rebuild(p)).bodies.find((k) => k.id === id)!.bbox;
    return [...b.min, ...b.max].map((v) => Math.round(v * 1e4) / 1e4 + 0);
  };
  it('by lengths, turned about an axis or an edge, scaled; its names stay', async () => {
    const p = box(empty(), [40, 30, 20]);
    expect(await bounds(moved(p, {}, { x: '10', y: '-5', z: '3' }), 's1')).toEqual([-10, -20, 3, 30, 10, 23]);
    expect(await bounds(moved(p, { by: 'turn' }, { angle: '90°' }), 's1')).toEqual([-15, -20, 0, 15, 20, 20]);
    const edge = { by: 'turn', about: 'line', paths: [{ body: 's1', edge: 's1/end|s1/right' }] };
    expect(await bounds(moved(p, edge, { angle: '180°' }), 's1')).toEqual([20, -15, 20, 60, 15, 40]);
    const scaled = moved(p, { by: 'scale' }, { factor: '0.5' });
    expect(await bodies(scaled)).toEqual({ s1: expect.closeTo(3000, 5) });
    expect(engine.bodies()[0]!.body.faces).toContain('s1/right');
  });
  it('as a copy, named as one', async () => {
    const p = moved(box(empty(), [40, 30, 20]), { result: 'copied' }, { x: '100' });
    expect(Object.keys(await bodies(p))).toEqual(['s1', 's2']);
    expect(engine.bodies()[1]!.body.faces).toContain('s2/copy(s1/right)');
  });
  it('face against face, with a gap', async () => {
    const p = add(
      box(empty(), [40, 40, 10]),
      'primitive',
      { shape: 'cylinder', plane: 'level', places: [at(80, 0, 0)], ...fresh },
      { diameter: '20', height: '30' },
    );
    const faces = [
      { body: 's2', face: 's2/foot' },
      { body: 's1', face: 's1/end' },
    ];
    const q = moved(p, { body: 's2', by: 'align', faces }, { gap: '2 mm' });
    expect((await bounds(q, 's2')).map(Math.round)).toEqual([-10, -10, 12, 10, 10, 42]);
  });
});

describe('a mirror image', () => {
  it('is joined across its plane, or a body of its own', async () => {
    const off = box(empty(), [40, 30, 20], { places: [at(20, 0, 0)] });
    const joined = add(off, 'mirror', { body: 's1', plane: 'side', result: 'joined' });
    expect(await bodies(joined)).toEqual({ s1: expect.closeTo(48000, 4) });
    const far = box(empty(), [40, 30, 20], { places: [at(50, 0, 0)] });
    const own = await bodies(add(far, 'mirror', { body: 's1', plane: 'side', result: 'separate' }));
    expect(own).toEqual({ s1: expect.closeTo(24000, 4), s2: expect.closeTo(24000, 4) });
    expect((await last(add(far, 'mirror', { body: 's1', plane: 'side', result: 'joined' }))).said).toContain('gap of 60.00 mm');
  });
});

describe('a pattern', () => {
  const row = { ...ROW, step: 's2', body: 's1' };
  const plate = (): Project => box(empty(), [100, 20, 4]);
  const hole = (x: number): Project =>
    add(
      plate(),
      'primitive',
      { shape: 'cylinder', plane: 'level', places: [at(x, 0, 0)], mode: 'cut', body: 's1' },
      { diameter: '6', height: '10' },
    );
  const one = Math.PI * 9 * 4;
  const note = async (p: Project): Promise<string> => (await engine.rebuild(p)).steps.at(-1)!.note ?? '';
  it('counts the original: 5 in all, 20 apart, in one operation', async () => {
    const p = add(hole(-40), 'pattern', row, { count: '5', length: '20 mm' });
    expect(await bodies(p)).toEqual({ s1: expect.closeTo(8000 - 5 * one, 3) });
    expect(await note(p)).toBe('5 in all, 20.000 mm apart, 14.000 mm between');
    expect(engine.bodies()[0]!.body.faces).toContain('s3/4(s2/side)');
  });
  it('fills a length with margins, fits as many as go, leaves some out, goes both ways', async () => {
    const within = add(hole(-40), 'pattern', { ...row, by: 'extent' }, { count: '4', length: '96 mm', margin: '5 mm' });
    // 96 less twice 5 leaves 86; four of 6 stand (86 − 6) / 3 apart.
    expect(await note(within)).toContain('4 in all, 26.667 mm apart');
    const fit = add(hole(-40), 'pattern', { ...row, by: 'fit' }, { length: '90 mm', gap: '9 mm' });
    expect(await note(fit)).toBe('6 in all, 15.000 mm apart, 9.000 mm between, 9.00 mm left');
    expect(await bodies(fit)).toEqual({ s1: expect.closeTo(8000 - 6 * one, 3) });
    const some = add(hole(-40), 'pattern', { ...row, skip: '2, 4' }, { count: '5', length: '20 mm' });
    expect(await bodies(some)).toEqual({ s1: expect.closeTo(8000 - 3 * one, 3) });
    const both = add(hole(0), 'pattern', { ...row, symmetric: 'both' }, { count: '5', length: '20 mm' });
    expect(await bodies(both)).toEqual({ s1: expect.closeTo(8000 - 5 * one, 3) });
  });
  it('says how many of its copies meet nothing', async () => {
    // The plate ends at 50: those at 60, 80 and 100 lie beside it.
    const p = add(hole(-40), 'pattern', row, { count: '8', length: '20 mm' });
    expect(await bodies(p)).toEqual({ s1: expect.closeTo(8000 - 5 * one, 3) });
    expect(await note(p)).toBe('8 in all, 20.000 mm apart, 14.000 mm between; 3 of 7 meet nothing of Body 1');
  });
  const ring = (count: string): Project => {
    const disc = add(empty(), 'primitive', { shape: 'cylinder', plane: 'level', places: [], ...fresh }, { diameter: '80', height: '4' });
    const first = add(
      disc,
      'primitive',
      { shape: 'cylinder', plane: 'level', places: [at(30, 0, 0)], mode: 'cut', body: 's1' },
      { diameter: '6', height: '10' },
    );
    return add(first, 'pattern', { ...row, along: 'ring', axis: 'z', by: 'extent' }, { count, angle: '360°' });
  };
  it('goes round in a ring, the whole turn shared by all', async () => {
    const p = ring('8');
    expect(await bodies(p)).toEqual({ s1: expect.closeTo(Math.PI * 1600 * 4 - 8 * one, 2) });
    expect(await note(p)).toBe('8 in all, 45.000° apart');
  });
  it('has an edge at every copy rounded by one pick, however many copies there are', async () => {
    await engine.rebuild(ring('8'));
    const names = namedEdges(await engine.start(), engine.bodies()[0]!.body).map((e) => e.name);
    // The rims above: of the first hole and of a copy; the ones below are not alike.
    const above = names.filter((n) => n.includes('s1/top') && n.includes('s2/'));
    expect(above).toHaveLength(8);
    expect(new Set(names.map(atAnyCopy)).size).toBeLessThan(names.length - 10);
    // Pappus: the corner that a ball of 0.5 leaves out goes round at the distance of its middle from the hole's axis.
    const [r, area] = [0.5, 0.25 * (1 - Math.PI / 4)];
    const rim = 2 * Math.PI * (3 + (r * (5 / 6 - Math.PI / 4)) / (1 - Math.PI / 4)) * area;
    for (const picked of [above[0]!, above[5]!])
      for (const count of ['8', '5']) {
        const p = add(ring(count), 'fillet', { body: 's1', edges: [{ alike: picked }] }, { radius: '0.5 mm' });
        expect([count, await bodies(p)]).toEqual([
          count,
          { s1: expect.closeTo(Math.PI * 1600 * 4 - Number(count) * (Math.PI * 36 + rim), 2) },
        ]);
      }
  });
  it('follows a curve by its length', async () => {
    const line: Profile = {
      ...polyProfile([
        [-40, 0],
        [40, 5],
      ]),
      id: 'line',
      name: 'Line',
      plane: 'level',
      half: false,
    };
    const p = add(
      setProfile(hole(-40), line),
      'pattern',
      { ...row, along: 'path', by: 'extent', paths: [{ profile: 'line', curve: 'c0' }] },
      { count: '5', margin: '0' },
    );
    expect(await bodies(p)).toEqual({ s1: expect.closeTo(8000 - 5 * one, 3) });
  });
  it('repeats a body, joined where the copies touch', async () => {
    const p = add(box(empty(), [20, 20, 10]), 'pattern', { ...row, what: 'body', step: null }, { count: '4', length: '15 mm' });
    expect(await bodies(p)).toEqual({ s1: expect.closeTo((20 + 45) * 200, 3) });
    expect(
      (await last(add(box(empty(), [20, 20, 10]), 'pattern', { ...row, what: 'body', step: null }, { count: '3', length: '30 mm' }))).said,
    ).toContain('pieces');
  });
  it('of too many faces is refused before it is made, with the count that is made', async () => {
    const corners = Array.from({ length: 98 }, (_, i) => [10 * Math.cos((i * Math.PI) / 49), 10 * Math.sin((i * Math.PI) / 49)] as const);
    const many = extrude(empty(), flat('p1', 'level', corners), {}, { length: '5 mm' });
    const { said } = await last(add(many, 'pattern', { ...row, what: 'body', step: null }, { count: '500', length: '15 mm' }));
    // 499 copies of 98 sides and two ends.
    expect(said).toContain('49,900 in all');
    expect(said).toContain('at most 300 of them');
  });
  it('says in words what does not go', async () => {
    expect((await last(add(hole(-40), 'pattern', row, { count: '2.5' }))).said).toContain('whole number');
    expect((await last(add(hole(-40), 'pattern', { ...row, skip: '1' }, { count: '3' }))).said).toContain('the original is 1');
    expect((await last(add(hole(-40), 'pattern', { ...row, step: 's9' }, { count: '3' }))).said).toContain('no step that raises');
  });
});

describe('faces are tapered', () => {
  it('about a plane: a block of square foot becomes a prismatoid', async () => {
    const p = box(empty(), [40, 40, 20]);
    const faces = ['front', 'right', 'back', 'left'].map((f) => ({ face: `s1/${f}` }));
    const t = Math.tan((5 * Math.PI) / 180);
    const b = 40 - 2 * 20 * t;
    expect(await volume(add(p, 'draft', { body: 's1', faces, plane: 'level' }, { angle: '5°' }))).toBeCloseTo(
      (20 * (1600 + 40 * b + b * b)) / 3,
      3,
    );
    expect((await last(add(p, 'draft', { body: 's1', faces: [{ face: 's1/end' }], plane: 'level' }, { angle: '5°' }))).said).toMatch(
      /^failed/,
    );
  });
});

describe('copies', () => {
  it('of a body stay bodies of their own where that is asked, and a surface is repeated too', async () => {
    const row = { ...ROW, what: 'body', body: 's1' };
    const p = add(box(empty(), [20, 20, 10]), 'pattern', { ...row, result: 'separate' }, { count: '3', length: '30 mm' });
    expect(await bodies(p)).toEqual({ s1: expect.closeTo(4000, 4), s2: expect.closeTo(4000, 4), s2_2: expect.closeTo(4000, 4) });
  });
});

describe('a pick that is lost', () => {
  it('comes with what may be meant, and one of those takes its place', async () => {
    const p = add(box(empty(), [40, 40, 10]), 'fillet', { body: 's1', edges: [{ edge: 's1/end|s1/gone' }] }, { radius: '2' });
    const report = (await engine.rebuild(p)).steps.at(-1)!;
    expect(report.lost).toMatchObject({ body: 's1', what: 'edge', name: 's1/end|s1/gone' });
    const mended = await last(replacePick(p, report.id, report.lost!.name, report.lost!.candidates[0]!));
    expect(mended.said).toMatch(/^done/);
  });
});

it('a cut by a plane says how large it is', async () => {
  const p = add(box(empty(), [40, 30, 10]), 'split', { body: 's1', by: 'plane', plane: 'front', profile: null, tool: null, keep: 'all' });
  expect((await engine.rebuild(p)).steps.at(-1)!.note).toBe('the cut is 4.00 cm²');
});
