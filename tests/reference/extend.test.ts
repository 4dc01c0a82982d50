/** Surfaces made longer beyond their borders, against what they would be if they had been longer: cylinder, cone, ball, flat sheet. */
import { beforeAll, describe, expect, it } from 'vitest';
import { setProfile } from '../../src/core/recipe/edit';
import type { Project } from '../../src/core/recipe/schema';
import { areaOf } from '../../src/kernel/amounts';
import { namedEdges } from '../../src/kernel/names';
import { boundsOf } from '../../src/kernel/shapes';
import { add, circle, empty, engine, extrude, flat, square } from '../support/parts';
import { arc, line, sketchProfile } from '../support/sketch';

beforeAll(() => engine.start());
const last = async (p: Project) => {
  const r = await engine.rebuild(p);
  const s = r.steps.at(-1)!;
  return {
    r,
    s,
    said: `${s.state} ${s.message ?? ''} ${s.why ?? ''} ${s.warnings.map((w) => w.message).join('; ')}`.trim(),
    note: s.note ?? '',
  };
};
const area = async (): Promise<number> => areaOf(await engine.start(), engine.bodies()[0]!.body.shape);
async function borders(): Promise<{ edge: string; z: number; size: number }[]> {
  const kernel = await engine.start();
  const { body } = engine.bodies()[0]!;
  return namedEdges(kernel, body)
    .filter((e) => e.faces.length === 1)
    .map((e) => {
      const b = boundsOf(kernel, e.edge);
      return { edge: e.name, z: (b.min[2] + b.max[2]) / 2, size: Math.max(...b.max.map((m, k) => m - b.min[k]!)) };
    });
}
const top = (list: readonly { edge: string; z: number }[]) => [{ edge: list.reduce((a, b) => (b.z > a.z ? b : a)).edge }];
/** A skin turned all round. */
const turned = (id: string, places: Record<string, [number, number]>, curve: Parameters<typeof sketchProfile>[1][number]): Project =>
  add(
    setProfile(empty(), { ...sketchProfile(places, [curve]), id, name: id, plane: 'front', half: true }),
    'revolve',
    { profile: id, mode: 'surface', body: null },
    { angle: '360°' },
  );

describe('a surface made longer', () => {
  it('goes on as the cylinder or the cone that it is', async () => {
    const tube = extrude(empty(), circle('c', 'level', 15), { mode: 'surface' }, { length: '20 mm' });
    await last(tube);
    const cone = turned('k', { a: [20, 0], b: [10, 30] }, line('ab'));
    for (const onward of ['tangent', 'curvature']) {
      const long = await last(
        add(tube, 'extend', { body: 's1', edges: top((await last(tube)) && (await borders())), onward }, { length: '12 mm' }),
      );
      expect(long.said).toBe('done');
      expect(long.note).toMatch(/^1 border by 12\.00 mm, turning by 0\.00\d°/);
      expect(await area()).toBeCloseTo(2 * Math.PI * 15 * 32, 2);
      await last(cone);
      await last(add(cone, 'extend', { body: 's1', edges: top(await borders()), onward }, { length: '6 mm' }));
      // Mantles by Guldin: the mean radius round times the length along.
      const slope = Math.hypot(10, 30);
      const end = 10 - (6 * 10) / slope;
      expect(await area()).toBeCloseTo(Math.PI * (20 + end) * (slope + 6), 1);
    }
  });

  it('bends on round a ball where it is to, and leaves it straight where not', async () => {
    const R = 25;
    const zone = turned('b', { a: [R, 0], b: [R * Math.cos(0.5), R * Math.sin(0.5)], m: [0, 0] }, arc('abm'));
    await last(zone);
    const edges = top(await borders());
    await last(add(zone, 'extend', { body: 's1', edges, onward: 'curvature' }, { length: `${R * 0.3} mm` }));
    // Archimedes: a zone's area is 2πR times its height.
    expect(await area()).toBeCloseTo(2 * Math.PI * R * R * Math.sin(0.8), 1);
    const straight = await last(add(zone, 'extend', { body: 's1', edges, onward: 'tangent' }, { length: '8 mm' }));
    expect(straight.said).toBe('done');
    const at = R * Math.cos(0.5);
    expect(await area()).toBeCloseTo(2 * Math.PI * R * R * Math.sin(0.5) + Math.PI * (2 * at - 8 * Math.sin(0.5)) * 8, 1);
  });

  it('goes on from a dome that closes at its pole', async () => {
    const R = 25;
    const dome = turned('d', { a: [R * Math.cos(0.5), R * Math.sin(0.5)], b: [0, R], m: [0, 0] }, arc('abm'));
    expect((await last(dome)).said).toBe('done');
    const list = await borders();
    const edges = [{ edge: list.reduce((a, b) => (b.size > a.size ? b : a)).edge }];
    const long = await last(add(dome, 'extend', { body: 's1', edges, onward: 'curvature' }, { length: `${R * 0.4} mm` }));
    expect(long.said).toBe('done');
    expect(await area()).toBeCloseTo(2 * Math.PI * R * R * (1 - Math.sin(0.1)), 1);
  });

  it('of one side of a flat sheet is that much more sheet', async () => {
    const p = add(setProfile(empty(), flat('s', 'level', square(40))), 'patch', {
      paths: ['c0', 'c1', 'c2', 'c3'].map((curve) => ({ profile: 's', curve })),
      smooth: [],
    });
    const made = await last(p);
    if (!/^done/.test(made.said)) throw new Error(made.said);
    const list = await borders();
    expect(list).toHaveLength(4);
    const long = await last(add(p, 'extend', { body: 's1', edges: [{ edge: list[0]!.edge }], onward: 'tangent' }, { length: '10 mm' }));
    expect(long.said).toBe('done');
    expect(await area()).toBeCloseTo(40 * 50, 4);
  });

  it('waits for a border, takes none that is none, and no solid', async () => {
    const tube = extrude(empty(), circle('c', 'level', 15), { mode: 'surface' }, { length: '20 mm' });
    expect((await last(add(tube, 'extend', { body: 's1', edges: [], onward: 'tangent' }))).s.unfinished).toBe(true);
    const solid = extrude(empty(), circle('c', 'level', 15), {}, { length: '20 mm' });
    expect((await last(add(solid, 'extend', { body: 's1', edges: [], onward: 'tangent' }))).said).toMatch(/is a solid/);
    await last(tube);
    const edges = top(await borders());
    const over = turned('b', { a: [5, 0], b: [4, 3], m: [0, 0] }, arc('abm'));
    await last(over);
    const bent = await last(add(over, 'extend', { body: 's1', edges: top(await borders()), onward: 'curvature' }, { length: '9 mm' }));
    expect(bent.said).toMatch(/would bend on by 103°/);
    expect(edges).toHaveLength(1);
  });
});

describe('a quarter turned', () => {
  it('half to either side is centred on its drawing, as a solid and as a skin', async () => {
    const half = {
      ...sketchProfile({ a: [10, 0], b: [20, 0], c: [20, 30], d: [10, 30] }, [line('ab'), line('bc'), line('cd'), line('da')]),
      id: 'h',
      name: 'h',
      plane: 'front',
      half: true,
    };
    const kernel = await engine.start();
    for (const mode of ['new', 'surface'] as const)
      for (const turn of ['one', 'both'] as const) {
        const drawn =
          mode === 'new'
            ? half
            : { ...sketchProfile({ b: [20, 0], c: [20, 30] }, [line('bc')]), id: 'h', name: 'h', plane: 'front', half: true };
        const { said } = await last(add(setProfile(empty(), drawn), 'revolve', { profile: 'h', mode, body: null, turn }, { angle: '90°' }));
        expect(said).toBe('done');
        const b = boundsOf(kernel, engine.bodies()[0]!.body.shape);
        // Of a quarter from the front plane on, or from −45° to 45° about it.
        const reach = turn === 'one' ? 20 : 20 * Math.SQRT1_2;
        expect(Math.max(Math.abs(b.min[1]), Math.abs(b.max[1]))).toBeCloseTo(reach, 5);
        if (turn === 'both') expect(b.min[1]).toBeCloseTo(-b.max[1], 6);
        expect(b.max[0]).toBeCloseTo(20, 6);
      }
  });
});
