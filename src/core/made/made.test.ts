import { describe, expect, it } from 'vitest';
import { layerSeconds } from '../print/layers';
import { DESKTOP, gramsOf, printerSchema, secondsOf } from '../print/printer';
import { emptyProject, renameDimension } from '../recipe/edit';
import { readProject, writeProject } from '../recipe/file';
import type { Project } from '../recipe/schema';
import { keep, restored, sinceKept } from '../revisions/kept';
import { emptyShop } from '../shop/document';
import type { DrawnView } from '../shop/sheet';
import { type Made, noneMade, type Place } from './document';
import {
  changedBatch,
  changedPiece,
  changedPlace,
  withBatch,
  withGrowth,
  withoutBatch,
  withoutPiece,
  withoutPlace,
  withPiece,
  withPlace,
  withReadings,
} from './edit';
import { grownMesh, growthWords } from './grown';
import { paceOf } from './pace';
import { limitsOf, type Model, nominalOf, placesOffered, readingsFrom, readingsText, toleranceFrom } from './places';
import { measuringPage, placesDrawn, placesSheet } from './sheet';
import { batchCsv, batchWords, rowsOf, shrinkageIn } from './table';
import { typicalShrinkage } from './typical';

const nothing = () => undefined;
const mm = { units: 'mm' } as const;
const inch = { units: 'in' } as const;
const values = <T>(r: { ok: true; value: T } | { ok: false; error: unknown }): T => {
  if (!r.ok) throw new Error(String(r.error));
  return r.value;
};

describe('readings as they are typed', () => {
  it('are several with a space or a semicolon between, with decimal commas, in the project’s unit or one that is said', () => {
    expect(values(readingsFrom('12.03 12.05', 'mm', mm, nothing))).toEqual([12.03, 12.05]);
    expect(values(readingsFrom('12,03; 12,05', 'mm', mm, nothing))).toEqual([12.03, 12.05]);
    expect(values(readingsFrom('1/2 in; 12.7', 'mm', mm, nothing))).toEqual([12.7, 12.7]);
    expect(values(readingsFrom('0.5', 'mm', inch, nothing))).toEqual([12.7]);
    expect(values(readingsFrom('12.7 mm', 'mm', inch, nothing))).toEqual([12.7]);
    expect(values(readingsFrom('0.25 kg', 'g', mm, nothing))).toEqual([250]);
    expect(values(readingsFrom('1', 'g', inch, nothing))[0]).toBeCloseTo(28.3495, 4);
    expect(values(readingsFrom('500 ml; 0.5', 'L', mm, nothing))).toEqual([0.5, 0.5]);
    expect(values(readingsFrom('', 'mm', mm, nothing))).toEqual([]);
  });

  it('are refused where they are no lengths, nothing, or beyond count', () => {
    for (const text of ['twelve', '12.03 about', '-3', '0', '30°', '12..3'])
      expect(readingsFrom(text, 'mm', mm, nothing).ok, text).toBe(false);
    expect(readingsFrom('5 mm', 'g', mm, nothing).ok).toBe(false);
    expect(readingsFrom(Array(31).fill('5').join(' '), 'mm', mm, nothing).ok).toBe(false);
  });

  it('read back as they are shown', () => {
    for (const project of [mm, inch])
      for (const reading of [12.03, 0.8125, 340.5]) {
        const [back] = values(readingsFrom(readingsText([reading], 'mm', project), 'mm', project, nothing));
        expect(back).toBeCloseTo(reading, 4);
      }
  });

  it('may be off by a figure with a sign before it, and by no less than nothing', () => {
    expect(values(toleranceFrom('± 0.2', 'mm', mm, nothing))).toBe(0.2);
    expect(values(toleranceFrom('+0,2', 'mm', mm, nothing))).toBe(0.2);
    expect(values(toleranceFrom('0.01', 'mm', inch, nothing))).toBeCloseTo(0.254, 9);
    expect(toleranceFrom('much', 'mm', mm, nothing).ok).toBe(false);
  });
});

const height: Place = { id: 'm1', name: 'Height', of: { kind: 'gauge', gauge: 'height' }, way: 'z', side: 'outer' };
const sheet = (): Project => ({
  ...emptyProject('Beaker'),
  dimensions: [
    { name: 'tall', expr: '80 mm' },
    { name: 'lean', expr: '5°' },
  ],
});
const model: Model = {
  gauge: (id) => ({ height: 80, mass: 37, diameter: 60 })[id] ?? null,
  measured: (id) =>
    id === 'gone'
      ? { id, why: 'the edge is gone' }
      : id === 'pitch'
        ? {
            id,
            a: { kind: 'circle', length: 30, area: null, radius: 5, at: [0, 0, 0] },
            b: { kind: 'circle', length: 30, area: null, radius: 5, at: [40, 0, 0] },
            distance: { value: 30, from: [5, 0, 0], to: [35, 0, 0] },
            angle: 0,
            centres: { value: 40, from: [0, 0, 0], to: [40, 0, 0] },
          }
        : undefined,
  scope: (name) => (name === 'tall' ? { ok: true, value: { value: 80, length: 1, angle: 0 } } : undefined),
};

describe('what a place should be', () => {
  it('comes of a gauge, a measurement, a dimension or a figure, or is told why not', () => {
    const of = (o: Place['of']) => nominalOf({ of: o }, model);
    expect(of({ kind: 'gauge', gauge: 'height' })).toEqual({ ok: true, value: 80 });
    expect(of({ kind: 'measure', measure: 'pitch' })).toEqual({ ok: true, value: 40 });
    expect(of({ kind: 'named', dimension: 'tall' })).toEqual({ ok: true, value: 80 });
    expect(of({ kind: 'typed', value: '2 in' })).toEqual({ ok: true, value: 50.8 });
    expect(of({ kind: 'measure', measure: 'gone' })).toEqual({ ok: false, error: 'the edge is gone' });
    expect(of({ kind: 'gauge', gauge: 'mouth' }).ok).toBe(false);
    expect(of({ kind: 'named', dimension: 'wide' }).ok).toBe(false);
  });

  it('is offered once, with the way it goes where that is known', () => {
    const project = { ...sheet(), measures: [{ id: 'pitch', a: { body: 's1', edge: 'e' }, b: { body: 's1', edge: 'f' } }] };
    const offers = placesOffered(project, model, ['height', 'mass', 'area']);
    expect(offers.map((o) => [o.of.kind, o.way, o.side])).toEqual([
      ['gauge', 'z', 'outer'],
      ['gauge', 'other', 'neither'],
      ['measure', 'x', 'neither'],
      ['named', 'other', 'outer'],
    ]);
    const more = { ...project, made: withPlace(noneMade(), offers[0]!) };
    expect(placesOffered(more, model, ['height', 'mass', 'area'])).toHaveLength(3);
  });
});

describe('its limits', () => {
  const limits = (place: Place, project: Project) => limitsOf(place, 80, project, model.scope);
  it('are its own before the brief’s, and the brief’s before the drawing’s', () => {
    const plain = sheet();
    expect(limits(height, plain)).toEqual({ low: null, high: null, from: null });
    // ISO 2768-m: 0.3 mm over 30 up to 120 mm.
    const drawn = { ...plain, shop: emptyShop('mm', '2026-01-01') };
    expect(limits(height, drawn)).toEqual({ low: 79.7, high: 80.3, from: 'ISO 2768-m' });
    const asked = { ...drawn, brief: { ...drawn.brief, targets: [{ gauge: 'height', min: '79 mm' }] } };
    expect(limits(height, asked)).toEqual({ low: 79, high: null, from: 'the brief' });
    expect(limits({ ...height, over: '0.1', under: '0.4' }, asked)).toMatchObject({ low: 79.6, high: 80.1, from: 'its own' });
    expect(limits({ ...height, over: '0.1' }, asked)).toMatchObject({ low: 79.9, high: 80.1 });
  });
});

function measuredMade(): Made {
  let made = withPlace(noneMade(), { name: 'Height', of: { kind: 'typed', value: '80 mm' }, way: 'z', side: 'outer' });
  made = withPlace(made, { name: 'Floor', of: { kind: 'typed', value: '20 mm' }, way: 'z', side: 'outer' });
  made = withBatch(made, '=first', '2026-11-02', { m1: 80 });
  made = changedBatch(made, 'b1', (b) => withPiece(withPiece(b)));
  [79.2, 79.3, 79.1].forEach((v, i) => {
    made = changedBatch(made, 'b1', (b) => withReadings(b, `p${i + 1}`, 'm1', [v - 0.01, v + 0.01], 999));
    made = changedBatch(made, 'b1', (b) => withReadings(b, `p${i + 1}`, 'm2', [v / 4], 20));
  });
  return changedPlace(made, 'm1', { over: '0.75' });
}

describe('a batch', () => {
  it('is judged place by place against what it should have been when it was made', () => {
    const made = measuredMade();
    const batch = made.batches[0]!;
    // The first nominal stays, whatever the model says by now; one that was not known is kept with the first reading.
    expect(batch.nominal).toEqual({ m1: 80, m2: 20 });
    const rows = rowsOf(sheet(), made, batch, new Map([['m1', 90]]), model.scope);
    expect(rows[0]).toMatchObject({ nominal: 80, now: 90, limits: { low: 79.25, high: 80.75 } });
    expect(rows[0]!.summary!.mean).toBeCloseTo(79.2, 9);
    expect(rows[0]!.repeats).toBeCloseTo(0.01 * Math.SQRT2, 9);
    expect([...rows[0]!.pieces.values()].map((p) => p.held)).toEqual(['beyond', 'within', 'beyond']);
    expect(rows[1]!.now).toBeNull();
    expect(batchWords(batch, rows)).toBe('3 pieces, 2 places read, 1 of 3 within their limits, 2 beyond');
  });

  it('is written for sheets of others, with nothing that they would take for a formula', () => {
    const made = changedPlace(measuredMade(), 'm1', { name: '=SUM(A1)' });
    const batch = changedPiece(made.batches[0]!, 'p1', { name: 'left, one' });
    const csv = batchCsv(batch, rowsOf(sheet(), made, batch, new Map(), model.scope));
    const [head, first] = csv.split('\n');
    expect(head).toBe('place,unit,nominal,least,most,"left, one",2,3,mean,off,spread,Cp,Cpk');
    expect(first).toBe(`"'=SUM(A1)",mm,80,79.25,80.75,79.19 79.21,79.29 79.31,79.09 79.11,79.2,-0.8,0.1,2.5,-0.166667`);
  });

  it('tells shrinkage from the file it was made of: what was grown and came out right shrank by as much', () => {
    const made = measuredMade();
    const plain = shrinkageIn(made, made.batches)!;
    expect(plain.scale.z!.value).toBeCloseTo(-0.01, 6);
    const k = 1 / 0.99;
    const grown = changedBatch(made, 'b1', (b) => ({ ...b, grown: { x: 1, y: 1, z: k } }));
    const again = shrinkageIn(grown, grown.batches)!;
    expect(again.scale.z!.value).toBeCloseTo(0.99 / k - 1, 6);
    expect(again.scale.x).toBeUndefined();
    // What it should be is needed: readings of a place whose nominal is not known tell nothing.
    expect(
      shrinkageIn(
        made,
        made.batches.map((b) => ({ ...b, nominal: {} })),
      ),
    ).toBeNull();
  });

  it('loses what is taken away, and nothing else', () => {
    const made = measuredMade();
    const less = withoutPlace(made, 'm1');
    expect(less.places.map((p) => p.id)).toEqual(['m2']);
    expect(Object.keys(less.batches[0]!.pieces[0]!.readings)).toEqual(['m2']);
    // A new place never comes to old readings.
    expect(withPlace(less, height).places.at(-1)!.id).toBe('m1');
    expect(less.batches[0]!.nominal).toEqual({ m2: 20 });
    expect(withoutPiece(made.batches[0]!, 'p2').pieces.map((p) => p.id)).toEqual(['p1', 'p3']);
    expect(withoutBatch(made, 'b1').batches).toEqual([]);
    expect(withReadings(made.batches[0]!, 'p1', 'm1', [], 1).pieces[0]!.readings).toEqual({ m2: [19.8] });
    expect(withGrowth(withGrowth(made, { x: 1, y: 1, z: 1.01 }), null)).toEqual(made);
  });
});

describe('how long prints took', () => {
  const batch = (more: object) => ({ id: 'b1', name: '', at: '2026-11-02', nominal: {}, pieces: [], ...more });
  it('is told against what was reckoned, long ones counting for more, and not of those that nothing is known of', () => {
    expect(paceOf([batch({}), batch({ took: 100 }), batch({ reckoned: { seconds: 100, grams: 5 } })])).toEqual({
      time: null,
      material: null,
    });
    const all = [
      batch({ took: 7200, used: 30, reckoned: { seconds: 6000, grams: 60 } }),
      batch({ took: 600, reckoned: { seconds: 1000, grams: 10 } }),
    ];
    expect(paceOf(all)).toEqual({ time: 7800 / 7000, material: 0.5 });
  });

  it('makes the next as long as it took: reckoned by its own pace a print takes its own time', () => {
    const plain = secondsOf(DESKTOP, 30_000, 2000, 400);
    const { time } = paceOf([batch({ took: 9000, reckoned: { seconds: plain, grams: 1 } })]);
    expect(secondsOf({ ...DESKTOP, pace: time! }, 30_000, 2000, 400)).toBeCloseTo(9000, 6);
    expect(layerSeconds({ ...DESKTOP, pace: 2 }, 270)).toBeCloseTo(2 * layerSeconds(DESKTOP, 270), 9);
    expect(gramsOf({ ...DESKTOP, fill: 0.4 }, 30_000, 0, 1.24)).toBeCloseTo(0.4 * 37.2, 9);
  });

  it('is one where a printer was kept before it was known', () => {
    const { pace: _, fill: __, ...old } = DESKTOP;
    expect(printerSchema.parse(old)).toEqual(DESKTOP);
  });
});

describe('what was made', () => {
  it('goes into the file, and is no state of the sheet: it stays when the work goes back', () => {
    const before = keep(sheet(), 'before', '2026-11-01T10:00:00Z', 'hand');
    const project = { ...before, made: measuredMade(), dimensions: [{ name: 'tall', expr: '90 mm' }] };
    expect(sinceKept(project).some((w) => /made/.test(w))).toBe(false);
    const back = values(restored(project, 'k1'));
    expect(back.made).toEqual(project.made);
    expect(back.dimensions[0]!.expr).toBe('80 mm');
    const read = readProject(JSON.parse(writeProject(project)));
    expect(values(read).made).toEqual(project.made);
  });
});

describe('a dimension that is renamed', () => {
  it('is followed by what is measured, its tolerances, and where the drawing is cut', () => {
    let made = withPlace(noneMade(), { name: 'tall', of: { kind: 'named', dimension: 'tall' }, way: 'z', side: 'outer' });
    made = withPlace(made, { name: 'half', of: { kind: 'typed', value: 'tall/2' }, way: 'z', side: 'outer' });
    made = changedPlace(made, 'm2', { over: 'tall/100', under: '0.1' });
    const shop = {
      ...emptyShop('mm', '2026-01-01'),
      views: [{ id: 'v1', side: 'front' as const, hidden: true, smooth: false, cut: 'tall/4' }],
    };
    const after = values(renameDimension({ ...sheet(), made, shop }, 'tall', 'height'));
    expect(after.made!.places.map((p) => p.of)).toEqual([
      { kind: 'named', dimension: 'height' },
      { kind: 'typed', value: 'height/2' },
    ]);
    expect(after.made!.places[1]).toMatchObject({ over: 'height/100', under: '0.1' });
    expect(after.shop!.views[0]!.cut).toBe('height/4');
  });
});

describe('files that are grown', () => {
  it('are larger along each axis from the origin: volume by the product of all three', () => {
    const mesh = {
      positions: Float64Array.from([1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0]),
      indices: Uint32Array.from([0, 1, 2, 1, 0, 3, 2, 1, 3, 0, 2, 3]),
      faceOf: new Uint32Array(4),
      normals: new Float32Array(36),
    };
    const grown = grownMesh(mesh, { x: 1.1, y: 1.2, z: 1.5 });
    expect([...grown.positions.slice(0, 9)]).toEqual([1.1, 0, 0, 0, 1.2, 0, 0, 0, 1.5]);
    // Normals do not scale as places do.
    expect(grown.normals).toBeUndefined();
    expect(growthWords({ x: 1.1, y: 1.2, z: 1.5 })).toBe('1.1000 × 1.2000 × 1.5000');
    expect(growthWords({ x: 1.01, y: 1.01, z: 1.01 })).toBe('1.0100');
  });

  it('have a usual figure to begin with where something shrinks, and none where nothing does', () => {
    expect(typicalShrinkage('print', 'abs')).toMatchObject({ from: 0.005, to: 0.009 });
    expect(typicalShrinkage('cast', 'porcelain')!.to).toBeGreaterThan(typicalShrinkage('cast', 'stoneware')!.to);
    expect(typicalShrinkage('mill', 'steel')).toBeUndefined();
    expect(typicalShrinkage('print', 'steel')).toBeUndefined();
  });
});

describe('the sheet to measure by', () => {
  const view = (x: number, y: number): DrawnView => ({ lines: [], edges: [], cuts: [], box: { x0: -x / 2, y0: 0, x1: x / 2, y1: y } });
  const drawn = new Map([
    ['front', view(60, 80)],
    ['top', view(60, 60)],
    ['right', view(60, 80)],
  ] as const);

  it('numbers each place in a view that shows it at full length, as in the table', () => {
    const places: Place[] = [
      height,
      { id: 'm2', name: 'Mass', of: { kind: 'gauge', gauge: 'mass' }, way: 'other', side: 'neither' },
      { id: 'm3', name: 'Pitch', of: { kind: 'measure', measure: 'pitch' }, way: 'x', side: 'neither' },
    ];
    const made = { ...noneMade(), places };
    const present = new Map([
      ['m1', 80],
      ['m2', 37],
      ['m3', 40],
    ]);
    const rows = rowsOf(sheet(), made, null, present, model.scope);
    const read = model.measured('pitch');
    const drawnIn = placesDrawn(rows, (id) => (id === 'pitch' && read && !('why' in read) ? read : undefined));
    // No view is drawn that nothing stands in.
    expect(drawnIn.sides).toEqual(['front']);
    const page = placesSheet(sheet(), drawnIn, drawn, '2026-11-02');
    expect(page.views.flatMap((v) => v.dimensions.map((d) => d.words)).sort()).toEqual(['(1)  80', '(3)  40']);
    expect(page.lost).toEqual([]);
    const html = measuringPage(sheet(), made, rows, '<?xml version="1.0"?>\n<svg/>', ['a<b']);
    expect(html).toContain('a&lt;b');
    expect(html).not.toContain('<?xml');
    expect(html.match(/class="e"/g)).toHaveLength(3);
    expect(measuringPage(sheet(), made, rows, '<svg/>', []).match(/class="e"/g)).toHaveLength(15);
  });
});
