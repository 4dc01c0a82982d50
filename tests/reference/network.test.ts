/**
 * Networks of curves and bridges between borders, on faces the kernel built: joins by the join table after they are knit, volumes by
 * mensuration.
 */
import { beforeAll, describe, expect, it } from 'vitest';
import { setProfile } from '../../src/core/recipe/edit';
import type { Project } from '../../src/core/recipe/schema';
import { areaOf } from '../../src/kernel/amounts';
import { measureJoins } from '../../src/kernel/inspect/joins';
import { namedEdges } from '../../src/kernel/names';
import { boundsOf } from '../../src/kernel/shapes';
import { add, at, circle, curve, empty, engine, extrude, rounded } from '../support/parts';
import { arc, sketchProfile } from '../support/sketch';

beforeAll(() => engine.start());

const last = async (p: Project) => {
  const r = await engine.rebuild(p);
  const s = r.steps.at(-1)!;
  return {
    report: s,
    said: `${s.state} ${s.message ?? ''} ${s.why ?? ''} ${s.warnings.map((w) => w.message).join('; ')}`.trim(),
    note: s.note ?? '',
  };
};
/** The borders of a body, by the middle of their height. */
async function borders(id: string): Promise<{ name: string; z: number; x: number }[]> {
  const kernel = await engine.start();
  const { body } = engine.bodies().find((b) => b.id === id)!;
  return namedEdges(kernel, body)
    .filter((e) => e.faces.length === 1)
    .map((e) => {
      const b = boundsOf(kernel, e.edge);
      return { name: e.name, z: (b.min[2] + b.max[2]) / 2, x: (b.min[0] + b.max[0]) / 2 };
    });
}
const top = (list: readonly { name: string; z: number }[]): string => list.reduce((a, b) => (b.z > a.z ? b : a)).name;
const bottom = (list: readonly { name: string; z: number }[]): string => list.reduce((a, b) => (b.z < a.z ? b : a)).name;

/** A tray's wall of rounded corners below, a pipe over it. */
async function neck(): Promise<{ p: Project; wall: string; pipe: string }> {
  let p = extrude(empty(), rounded('low', 'level'), { mode: 'surface', way: 'back' }, { length: '20 mm' });
  p = add(p, 'plane', { by: 'distance', from: 'level' }, { distance: '50 mm' });
  p = extrude(p, circle('high', 's2', 12), { mode: 'surface' }, { length: '15 mm' });
  await engine.rebuild(p);
  return { p, wall: top(await borders('s1')), pipe: bottom(await borders('s3')) };
}
const JOINED = { beside: [], start: 'G2', end: 'G2' };

describe('a bridge between borders', () => {
  it('leads from a flat-sided wall into a round pipe with their curvature, and knits with both', async () => {
    const { p, wall, pipe } = await neck();
    const bridged = add(p, 'bridge', {
      paths: [
        { body: 's1', edge: wall },
        { body: 's3', edge: pipe },
      ],
      ...JOINED,
    });
    const { said, note } = await last(bridged);
    expect(said).toBe('done');
    expect(note).toMatch(
      /^meets its borders within 0\.0000\d mm; the first border G2 to 0\.0\d\d° and 0\.\d\d %.*, the second border G2 to 0\.0\d\d° and 0\.\d\d %/,
    );
    const knit = add(bridged, 'knit', { body: 's4', tools: ['s1', 's3'] }, { within: '0.001 mm' });
    const whole = await last(knit);
    expect(whole.said).toMatch(/^done/);
    expect(whole.note).toMatch(/^2 borders open/);
    const kernel = await engine.start();
    const joins = await measureJoins(kernel, engine.bodies().find((b) => b.id === 's4')!.body);
    const kernelBody = engine.bodies().find((b) => b.id === 's4')!.body;
    // Between bridge and wall, and bridge and pipe; the wall's own joints of line and arc are no matter.
    const between = joins!.filter((j) => {
      const e = namedEdges(kernel, kernelBody).find((n) => n.name === j.edge)!;
      const b = boundsOf(kernel, e.edge);
      return b.max[2] - b.min[2] < 1e-3;
    });
    expect(between.length).toBeGreaterThanOrEqual(9);
    for (const j of between) {
      expect((j.angle * 180) / Math.PI).toBeLessThan(0.05);
      expect(Math.min(j.mismatch, j.bend / 1e-3)).toBeLessThan(0.01);
    }
  });

  it('tells where it dips below a plane, and how far it stays over another', async () => {
    const { p, wall, pipe } = await neck();
    const on = (over: string) =>
      add(p, 'bridge', {
        paths: [
          { body: 's1', edge: wall },
          { body: 's3', edge: pipe },
        ],
        ...JOINED,
        dip: 'told',
        over,
      });
    expect((await last(on('level'))).note).toMatch(/stays 0\.000 mm over the level plane/);
    expect((await last(on('s2'))).said).toMatch(/dips 50\.000 mm below/);
  });

  it('between two ends of one cylinder is the rest of that cylinder', async () => {
    let p = extrude(empty(), circle('a', 'level', 15), { mode: 'surface' }, { length: '10 mm' });
    p = add(p, 'plane', { by: 'distance', from: 'level' }, { distance: '40 mm' });
    p = extrude(p, circle('b', 's2', 15), { mode: 'surface' }, { length: '10 mm' });
    await engine.rebuild(p);
    const [low, high] = [top(await borders('s1')), bottom(await borders('s3'))];
    const made = add(p, 'bridge', {
      paths: [
        { body: 's1', edge: low },
        { body: 's3', edge: high },
      ],
      ...JOINED,
    });
    expect((await last(made)).said).toBe('done');
    const kernel = await engine.start();
    expect(areaOf(kernel, engine.bodies().find((b) => b.id === 's4')!.body.shape)).toBeCloseTo(2 * Math.PI * 15 * 30, 2);
  });

  it('waits for its borders, and says that an open one does not go into a closed one', async () => {
    const { p, wall } = await neck();
    const waiting = await last(add(p, 'bridge', { paths: [], ...JOINED }));
    expect(waiting.report.unfinished).toBe(true);
    const drawn = setProfile(p, {
      ...sketchProfile({ a: [0, 60], b: [30, 60], m: [15, 40] }, [arc('abm')]),
      id: 'line',
      name: 'line',
      plane: 'front',
      half: false,
    });
    const wrong = await last(
      add(drawn, 'bridge', {
        paths: [
          { body: 's1', edge: wall },
          { profile: 'line', curve: 'abm' },
        ],
        ...JOINED,
        end: 'G0',
      }),
    );
    expect(wrong.said).toMatch(/is open, and the other border is closed/);
  });
});

describe('a network of curves', () => {
  /** Two cylinder quarters, one over the other and wider, with blends between lines of both. */
  async function between(join: 'G1' | 'G2'): Promise<{ p: Project; along: object[]; across: object[] }> {
    const quarter = (id: string, plane: string, r: number) => ({
      ...sketchProfile({ a: [r, 0], b: [0, r], m: [0, 0] }, [arc('abm')]),
      id,
      name: id,
      plane,
      half: false,
    });
    let p = extrude(empty(), quarter('low', 'level', 30), { mode: 'surface', way: 'back' }, { length: '20 mm' });
    p = add(p, 'plane', { by: 'distance', from: 'level' }, { distance: '35 mm' });
    p = extrude(p, quarter('high', 's2', 18), { mode: 'surface' }, { length: '20 mm' });
    await engine.rebuild(p);
    const [low, high] = [top(await borders('s1')), bottom(await borders('s3'))];
    const faces = engine.bodies().map((b) => ({ body: b.id, face: b.body.faces[0]! }));
    const across: object[] = [];
    for (const a of [0, 0.5, 1.1, Math.PI / 2]) {
      const lines = faces.map((face, k) => {
        const [r, z] = k === 0 ? [30, -10] : [18, 45];
        const c = curve(p, { by: 'line-of', faces: [face], way: 'v', places: [at(r * Math.cos(a), r * Math.sin(a), z)] });
        p = c.project;
        return { step: c.id };
      });
      // Lines of faces run up or down: the ends that face each other.
      const blend = (ends: string) => curve(p, { by: 'blend', paths: lines, join, ends });
      let best = { length: Number.POSITIVE_INFINITY, ends: 'end-start' };
      for (const ends of ['end-start', 'end-end', 'start-start', 'start-end']) {
        const note = (await last(blend(ends).project)).note;
        const length = Number.parseFloat(note);
        if (length < best.length) best = { length, ends };
      }
      const made = blend(best.ends);
      p = made.project;
      across.push({ step: made.id });
    }
    return {
      p,
      along: [
        { body: 's1', edge: low },
        { body: 's3', edge: high },
      ],
      across,
    };
  }
  const FREE = { alongFirst: 'G0', alongLast: 'G0', acrossFirst: 'G0', acrossLast: 'G0', beside: [] };

  it('goes on from both neighbours with their curvature, by the join table once it is knit to them', async () => {
    const { p, along, across } = await between('G2');
    const made = add(p, 'network', { along, across, ...FREE, alongFirst: 'G2', alongLast: 'G2' });
    const { said, note, report } = await last(made);
    expect(said).toBe('done');
    expect(note).toMatch(/^passes its curves within 0\.0000\d mm; the first along G2 to 0\.0\d\d°/);
    const id = report.id;
    const knit = add(made, 'knit', { body: id, tools: ['s1', 's3'] }, { within: '0.001 mm' });
    const whole = await last(knit);
    expect(whole.said).toMatch(/^done/);
    const kernel = await engine.start();
    const joins = await measureJoins(kernel, engine.bodies().find((b) => b.id === id)!.body);
    expect(joins).toHaveLength(2);
    for (const j of joins!) {
      expect(j.gap).toBeLessThan(0.005);
      expect((j.angle * 180) / Math.PI).toBeLessThan(0.05);
      expect(Math.min(j.mismatch, j.bend / 1e-3)).toBeLessThan(0.01);
    }
  });

  it('refuses curves that lack the curvature, and what it offers instead goes', async () => {
    const { p, along, across } = await between('G1');
    const { report, said } = await last(add(p, 'network', { along, across, ...FREE, alongFirst: 'G2', alongLast: 'G2' }));
    expect(said).toMatch(/leaves the (first|last) along with another curvature/);
    expect(report.at).toBeDefined();
    // One border at a time would not be enough.
    const way = report.fixes[0]!;
    expect(way.inputs).toEqual({ alongFirst: 'G1', alongLast: 'G1' });
    expect((await last(add(p, 'network', { along, across, ...FREE, ...way.inputs }))).said).toBe('done');
    const one = await last(add(p, 'network', { along, across, ...FREE, alongFirst: 'G2', alongLast: 'G1' }));
    expect(one.report.fixes[0]!.inputs).toEqual({ alongFirst: 'G1' });
  });

  it('refuses curves out of order, and offers the order that goes', async () => {
    const { p, along, across } = await between('G2');
    const { report, said } = await last(add(p, 'network', { along, across: [across[0], across[2], across[1], across[3]], ...FREE }));
    expect(said).toMatch(/in the order of the others/);
    expect(report.fixes).toHaveLength(1);
    expect((await last(add(p, 'network', { along, across, ...FREE, ...report.fixes[0]!.inputs }))).said).toBe('done');
  });
});
