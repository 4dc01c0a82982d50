/**
 * Cages made exact, and what they live through afterwards: a plane split, a shell or a turned cavity, a hole, a rounded rim, STEP and back
 * (read by occt-import-js). The limit they are measured against is that of `core/form`, which is held to an independent library elsewhere.
 */
import { readFileSync } from 'node:fs';
import occtImport from 'occt-import-js';
import { beforeAll, describe, expect, it } from 'vitest';
import { netOf } from '../../src/core/form/cage';
import { limitMesh } from '../../src/core/form/limit';
import { sourceOf } from '../../src/core/form/read';
import { ballCage, boxCage, torusCage, tubeCage } from '../../src/core/form/starts';
import { joinClass } from '../../src/core/inspect/joins';
import { massProperties } from '../../src/core/mesh/mesh';
import type { Project } from '../../src/core/recipe/schema';
import type { FormSource } from '../../src/core/recipe/steps';
import { exportBodies } from '../../src/engine/export';
import { measureJoins } from '../../src/kernel/inspect/joins';
import { namedEdges } from '../../src/kernel/names';
import { testKernel } from '../support/kernel';
import { add, at, empty, engine } from '../support/parts';
import { everyCase } from '../support/properties';

const ringed = (
  sides: number,
  radii: readonly number[],
  more: Partial<Extract<FormSource, { by: 'rings' }>> = {},
  twist = 0,
): FormSource => ({
  by: 'rings',
  sides: `${sides}`,
  ridge: '0 mm',
  on: 'body',
  rows: radii.map((r, i) => ({ height: `${25 * i} mm`, radius: `${r} mm`, twist: `${i === 0 ? 0 : twist}°`, crease: '0' })),
  bottom: 'round',
  top: 'flat',
  ...more,
});
const stored = (name: string): FormSource => {
  const r = JSON.parse(readFileSync(`tests/fixtures/subdivision/${name}.json`, 'utf8')) as {
    cage: { verts: [number, number, number][]; faces: number[][]; creases: [number, number, number][]; corners: [number, number][] };
  };
  return sourceOf({ vertices: r.cage.verts, faces: r.cage.faces, creases: r.cage.creases, corners: r.cage.corners });
};

/** Near to another one of the list: run where every case is. */
const LIKE_OTHERS = new Set([
  'a vase',
  'a ball',
  'a vase of 8 sides',
  'a twisted vase',
  'an inset cylinder',
  'an egg of 16 sides',
  'a frustum of rings',
  'a cube of 6 faces',
  'a long box',
  'a finer ball',
  'an open cylinder',
]);

/** Cage, the height it is split at, and whether it is hollowed by a turned cavity (or shelled, with its wall). */
const CAGES: readonly (readonly [string, FormSource, { split: number; hollow: 'cavity' | number; round?: number; bore?: number }])[] = [
  ['a plain tube', sourceOf(tubeCage(30, 80, 8, 5)), { split: 50, hollow: 2 }],
  ['a vase', ringed(12, [26, 34, 36, 30, 28]), { split: 70, hollow: 'cavity' }],
  ['a vase of 8 sides', ringed(8, [30, 34, 30, 26]), { split: 60, hollow: 2 }],
  ['a twisted vase', ringed(12, [26, 32, 34, 32, 30], {}, 25), { split: 70, hollow: 'cavity' }],
  ['a ridged tower', ringed(16, [30, 32, 31, 30], { ridge: '3 mm', bottom: 'flat' }, 15), { split: 60, hollow: 'cavity', round: 0.5 }],
  ['an egg', ringed(12, [24, 32, 30, 22], { top: 'round' }), { split: 40, hollow: 2 }],
  ['an egg of 16 sides', ringed(16, [20, 30, 30, 20], { top: 'round' }), { split: 40, hollow: 1.5 }],
  [
    'a drum with a creased foot',
    ringed(12, [30, 30, 30], { rows: ringed(12, [30, 30, 30]).by === 'rings' ? rowsWithCrease() : [] }),
    { split: 35, hollow: 'cavity' },
  ],
  ['a frustum of rings', ringed(12, [40, 35, 30, 25], { bottom: 'flat' }), { split: 50, hollow: 3 }],
  ['a box', sourceOf(boxCage([80, 60, 50], [3, 2, 2])), { split: 30, hollow: 2 }],
  ['a cube of 6 faces', sourceOf(boxCage([60, 60, 60], [1, 1, 1])), { split: 32, hollow: 2 }],
  ['a long box', sourceOf(boxCage([120, 40, 40], [5, 2, 2])), { split: 22, hollow: 2 }],
  ['a ball', sourceOf(ballCage(35, 2)), { split: 38, hollow: 2 }],
  ['a finer ball', sourceOf(ballCage(35, 4)), { split: 38, hollow: 3 }],
  ['a ring', sourceOf(torusCage(40, 15, 8, 12)), { split: 18, hollow: 2, bore: 40 }],
  ['an inset cylinder', stored('cyl_inset'), { split: 80, hollow: 2 }],
  ['an open cylinder', stored('open_cyl'), { split: 60, hollow: 2 }],
];

function rowsWithCrease() {
  return [0, 25, 50].map((z, i) => ({ height: `${z} mm`, radius: '30 mm', twist: '0°', crease: i === 0 ? '3' : '0' }));
}

const raised = (source: FormSource): Project => add(empty(), 'form', { source, plane: 'level', follow: 'well', mode: 'new', body: null });
const done = async (p: Project) => {
  const r = await engine.rebuild(p);
  const s = r.steps[r.steps.length - 1]!;
  expect(`${s.state} ${s.message ?? ''} ${s.why ?? ''}`.trim()).toMatch(/^(done|warned)/);
  return { report: r.bodies[0]!, body: engine.bodies()[0]!.body, note: r.steps[0]!.note ?? '' };
};

beforeAll(() => engine.start());

describe.each(CAGES.filter(([name]) => everyCase || !LIKE_OTHERS.has(name)))('%s', (_, source, { split, hollow, round = 1, bore = 8 }) => {
  it('becomes a closed solid, lives through what is done to it, and comes back from STEP', async () => {
    const kernel = await testKernel();
    const p = raised(source);
    const first = await done(p);
    // The limit as a fine mesh has the same volume, where it is closed.
    const { vertices, faces, creases, corners } = source.by === 'cage' ? source : { vertices: [], faces: [], creases: [], corners: [] };
    if (source.by === 'cage') {
      const net = netOf({
        vertices,
        faces,
        creases: creases.map(([a, b, w]) => [a, b, Number(w)]),
        corners: corners.map(([v, w]) => [v, Number(w)]),
      });
      if (!net.ok) throw new Error(net.error.what);
      if ([...net.value.sides].every((f) => f >= 0)) {
        const mesh = limitMesh(net.value, 4);
        const { volume } = massProperties({ positions: mesh.places, indices: mesh.indices, faceOf: mesh.faceOf });
        expect(Math.abs(first.report.volume / volume - 1)).toBeLessThan(0.005);
      }
    }
    // Neighbouring faces meet within half a degree unless they are creased or a flat end.
    const joins = (await measureJoins(kernel, first.body))!;
    for (const j of joins) expect(j.angle < (0.9 * Math.PI) / 180 || joinClass(j) === 'G0').toBe(true);
    const step = exportBodies(kernel, [{ body: first.body, name: 'Body' }], 'step', 0.1, 'Test');
    if (!step.ok) throw new Error(step.error);
    const back = (await occtImport()).ReadStepFile(step.value.bytes, null);
    expect(back.success && back.meshes.length).toBe(1);

    // Split level, and the rim that comes of it rounded.
    const plane = add(p, 'plane', { by: 'distance', from: 'level' }, { distance: `${split} mm` });
    const planeId = plane.steps[plane.steps.length - 1]!.id;
    const cut = add(plane, 'split', { body: 's1', by: 'plane', plane: planeId, profile: null, tool: null, keep: 'second' });
    const lower = await done(cut);
    expect(lower.report.volume).toBeLessThan(first.report.volume);
    const rim = namedEdges(kernel, lower.body).filter((e) => e.name !== '' && e.name.includes(`${cut.steps[cut.steps.length - 1]!.id}/`));
    expect(rim.length).toBeGreaterThan(0);
    const rounded = await done(add(cut, 'fillet', { body: 's1', edges: rim.map((e) => ({ edge: e.name })) }, { radius: `${round} mm` }));
    expect(rounded.report.volume).toBeLessThan(lower.report.volume);
    // A hole down through it, beside the middle.
    const bored = await done(
      add(cut, 'hole', { body: 's1', places: [at(bore, 3, 0)], plane: 'level', depth: 'through' }, { part: '4 mm' }),
    );
    expect(bored.report.volume).toBeLessThan(lower.report.volume);
    // Hollowed from the cut.
    const top = lower.body.faces.find((f) => f.startsWith(`${cut.steps[cut.steps.length - 1]!.id}/`))!;
    const hollowed = await done(
      hollow === 'cavity'
        ? add(
            cut,
            'cavity',
            { body: 's1', open: [{ face: top }], plane: 'level', rim: 'round', lean: 'free' },
            { wall: '2 mm', floor: '3 mm' },
          )
        : add(cut, 'shell', { body: 's1', open: [{ face: top }] }, { wall: `${hollow} mm` }),
    );
    expect(hollowed.report.volume).toBeLessThan(0.8 * lower.report.volume);
  });
});
