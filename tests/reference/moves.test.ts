/** What dimensions move, against limits and slopes that elementary geometry gives: where a recipe ends, and how strongly its gauges follow. */
import { describe, expect, it } from 'vitest';
import type { Project } from '../../src/core/recipe/schema';
import { effectsOf, sweepDimension, type WorkOut } from '../../src/engine/moves';
import { AS_IT_IS, type SizeReport, workOutSize } from '../../src/engine/sizes';
import { add, box, empty, engine, extrude, flat, square } from '../support/parts';

const named = (p: Project, dimensions: Readonly<Record<string, string>>): Project => ({
  ...p,
  dimensions: Object.entries(dimensions).map(([name, expr]) => ({ name, expr })),
});
let turn: Promise<unknown> = Promise.resolve();
/** There is one engine here: one sheet after the other. */
const inTurn =
  (one: WorkOut): WorkOut =>
  (sheet) => {
    const mine = turn.then(() => one(sheet));
    turn = mine;
    return mine;
  };
/** Whether it is made, and nothing of what it reads. */
const made = inTurn(async (sheet) => {
  const failed = (await engine.rebuild(sheet)).steps.find((s) => s.state === 'failed');
  return {
    size: '',
    gauges: [],
    ms: 0,
    ...(failed ? { failed: { step: failed.id, why: `${failed.message}; ${failed.why}` } } : {}),
  } satisfies SizeReport;
});
const read = inTurn((sheet) => workOutSize(engine, sheet, AS_IT_IS, null));

const can = (d: number, h: number, wall: number): Project =>
  named(
    add(
      add(empty(), 'primitive', { shape: 'cylinder', plane: 'level', places: [], mode: 'new', body: null }, { diameter: 'd', height: 'h' }),
      'shell',
      { body: 's1', open: [{ topOf: 's1' }] },
      { wall: 't' },
    ),
    { d: `${d} mm`, h: `${h} mm`, t: `${wall} mm` },
  );
const tray = (a: number, b: number, h: number, wall: number): Project =>
  named(add(box(empty(), [a, b, h]), 'shell', { body: 's1', open: [{ topOf: 's1' }] }, { wall: 't' }), { t: `${wall} mm` });
const UPRIGHT = ['front|left', 'front|right', 'back|left', 'back|right'];
const cornered = (a: number, b: number, h: number, r: number, kind: 'fillet' | 'chamfer'): Project =>
  named(
    add(
      box(empty(), [a, b, h]),
      kind,
      {
        body: 's1',
        edges: UPRIGHT.map((e) => ({
          edge: e
            .split('|')
            .map((f) => `s1/${f}`)
            .toSorted()
            .join('|'),
        })),
        ...(kind === 'chamfer' ? { by: 'distance', side: 'first' } : {}),
      },
      { [kind === 'fillet' ? 'radius' : 'distance']: 'r' },
    ),
    { r: `${r} mm` },
  );
const wedge = (side: number, h: number, taper: number): Project =>
  named(extrude(empty(), flat('p', 'level', square(side)), {}, { length: `${h} mm`, taper: 'lean' }), { lean: `${taper}°` });
describe('how far a recipe goes', () => {
  const cases: readonly (readonly [string, Project, string, { readonly low?: number; readonly high?: number }])[] = [
    // A wall all round and a floor: it leaves nothing at the radius, or at the height.
    ...(
      [
        [40, 60, 2],
        [60, 12, 2],
        [25, 90, 3],
        [120, 40, 4],
        [33, 17, 1.5],
        [18, 9, 1],
        [70, 34, 6],
        [51, 200, 2.5],
      ] as const
    ).map(([d, h, t]) => [`a wall of a can ${d} × ${h}`, can(d, h, t), 't', { high: Math.min(d / 2, h) }] as const),
    ...(
      [
        [40, 60, 2],
        [30, 40, 5],
        [90, 25, 4],
        [26, 80, 3],
      ] as const
    ).flatMap(([d, h, t]) => [
      [`the width of a can with a wall of ${t}`, can(d, h, t), 'd', { low: 2 * t }] as const,
      [`the height of a can with a floor of ${t}`, can(d, h, t), 'h', { low: t }] as const,
    ]),
    ...(
      [
        [40, 30, 60, 2],
        [90, 25, 40, 3],
        [60, 60, 14, 2],
        [22, 70, 30, 1],
        [80, 50, 19, 4],
        [35, 36, 37, 2],
      ] as const
    ).map(([a, b, h, t]) => [`a wall of a tray ${a} × ${b} × ${h}`, tray(a, b, h, t), 't', { high: Math.min(a / 2, b / 2, h) }] as const),
    ...(
      [
        [40, 30, 20, 4],
        [90, 25, 40, 6],
        [60, 60, 14, 10],
        [22, 70, 30, 3],
        [35, 36, 12, 9],
      ] as const
    ).flatMap(([a, b, h, r]) => [
      [`four corners of a block ${a} × ${b}, rounded`, cornered(a, b, h, r, 'fillet'), 'r', { high: Math.min(a, b) / 2 }] as const,
      [`four corners of a block ${a} × ${b}, bevelled`, cornered(a, b, h, r, 'chamfer'), 'r', { high: Math.min(a, b) / 2 }] as const,
    ]),
    // Its sides meet at the top.
    ...(
      [
        [40, 60, 4],
        [30, 40, 6],
        [25, 90, 2],
        [60, 70, 10],
      ] as const
    ).map(([s, h, lean]) => [`the taper of a block ${s} × ${h}`, wedge(s, h, lean), 'lean', { high: Math.atan(s / 2 / h) }] as const),
  ];
  it.each(cases)('%s', async (_, project, dimension, { low, high }) => {
    const r = (await sweepDimension(made, project, dimension))!;
    const close = (end: { at: number; why: string | null }, limit: number, sign: 1 | -1): void => {
      expect(end.why).not.toBeNull();
      const over = (sign * (end.at - limit)) / limit;
      expect(over).toBeLessThanOrEqual(1e-6);
      // The bracket is a hundredth; the recipe itself may stop a hair before a limit at which nothing is left.
      expect(over).toBeGreaterThan(-0.03);
    };
    if (low !== undefined) close(r.range!.low, low, -1);
    if (high !== undefined) close(r.range!.high, high, 1);
  });
  it('is known of at least thirty', () => expect(cases.length).toBeGreaterThanOrEqual(30));
});

describe('how strongly gauges follow', () => {
  it('a can: each dimension moves its volume, its height and what it holds by their derivatives, and nothing else', async () => {
    const [d, h, t] = [60, 80, 2];
    const told = new Map((await effectsOf(read, can(d, h, t)))!.map((e) => [e.dimension, e]));
    // Mensuration: V = π d²/4 h − π (d/2 − t)² (h − t), and what it holds is what is taken away; per the steps of 1 mm, 1 mm and 0.1 mm, cm³ and L.
    const inner = d / 2 - t;
    const slopes = {
      d: { volume: ((Math.PI / 2) * d * h - Math.PI * inner * (h - t)) / 1e3, 'capacity-brim': (Math.PI * inner * (h - t)) / 1e6 },
      h: { volume: ((Math.PI / 4) * d ** 2 - Math.PI * inner ** 2) / 1e3, 'capacity-brim': (Math.PI * inner ** 2) / 1e6 },
      t: {
        volume: (0.1 * (2 * Math.PI * inner * (h - t) + Math.PI * inner ** 2)) / 1e3,
        'capacity-brim': (-0.1 * (2 * Math.PI * inner * (h - t) + Math.PI * inner ** 2)) / 1e6,
      },
    };
    expect([...told.values()].map((e) => e.by)).toEqual(['1 mm', '1 mm', '0.1 mm']);
    for (const [name, gauges] of Object.entries(slopes))
      for (const [gauge, slope] of Object.entries(gauges))
        expect(Math.abs(told.get(name)!.moves.get(gauge)! / slope - 1), `${name} on ${gauge}`).toBeLessThan(1e-4);
    expect(told.get('d')!.moves.get('diameter')).toBeCloseTo(1, 6);
    expect(told.get('h')!.moves.get('height')).toBeCloseTo(1, 6);
    expect(told.get('h')!.moves.has('diameter')).toBe(false);
    expect(told.get('t')!.moves.get('wall-min')).toBeCloseTo(0.1, 5);
    expect(told.get('t')!.moves.has('height')).toBe(false);
  });
  it('the brief of a can ends where a formula says, by the gauge that ends it', async () => {
    const p = can(60, 80, 2);
    const asked: Project = {
      ...p,
      brief: { ...p.brief, targets: [{ gauge: 'capacity-brim', min: '0.18', max: '0.25' }] },
    };
    const r = (await sweepDimension(read, asked, 'h'))!;
    const at = (litres: number): number => (litres * 1e6) / (Math.PI * 28 ** 2) + 2;
    expect([r.brief!.low.gauge, r.brief!.high.gauge]).toEqual(['capacity-brim', 'capacity-brim']);
    expect(Math.abs(r.brief!.low.at / at(0.18) - 1)).toBeLessThan(0.011);
    expect(Math.abs(r.brief!.high.at / at(0.25) - 1)).toBeLessThan(0.011);
    for (const s of r.spots)
      expect(Math.abs(s.read!.get('capacity-brim')!.value! / ((Math.PI * 28 ** 2 * (s.at - 2)) / 1e6) - 1)).toBeLessThan(1e-6);
  });
});
