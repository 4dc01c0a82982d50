/** Sheets against drawings worked out by hand, and their files read back by readers that are not ours. */
import { readFileSync } from 'node:fs';
import DxfParser from 'dxf-parser';
import { getDocument, OPS } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { describe, expect, it } from 'vitest';
import { arcAbout, type PlanarCurve } from '../curves/planar';
import { readSvg } from '../exchange/svg';
import { dimensionWords, figureOf, lengthWords, type Measured } from './dimension';
import { emptyShop, type Shop } from './document';
import { withDimension } from './edit';
import { generalTolerance } from './paper';
import { sheetPdf } from './pdf';
import { composeSheet, type DrawnView, hatched, type RecipeDimension } from './sheet';
import type { ViewEdge } from './sight';
import { VIEW_FRAMES, type ViewSide } from './views';
import { sheetDxf, sheetSvg } from './write';

const line = (x0: number, y0: number, x1: number, y1: number): PlanarCurve => ({ kind: 'line', a: { x: x0, y: y0 }, b: { x: x1, y: y1 } });
const edge = (name: string, curve: PlanarCurve): ViewEdge => ({
  body: 's1',
  name,
  curve,
  straight: curve.kind === 'line',
  ends: [curve.a, { x: (curve.a.x + curve.b.x) / 2, y: (curve.a.y + curve.b.y) / 2 }, curve.b],
  ...(curve.kind === 'arc' ? { circle: { centre: curve.centre, radius: curve.radius, whole: true, seen: 'round' as const } } : {}),
});

/** A rectangle with a round hole in its middle, seen from one side. */
function plate(w: number, h: number): DrawnView {
  const sides = [line(0, 0, w, 0), line(w, 0, w, h), line(w, h, 0, h), line(0, h, 0, 0)];
  const hole = arcAbout({ x: w / 2, y: h / 2 }, 4, 0, 2 * Math.PI);
  return {
    lines: [...sides, hole].map((curve) => ({ curve, hidden: false, smooth: false })),
    edges: [...sides.map((c, i) => edge(`e${i}`, c)), edge('hole', hole)],
    cuts: [],
    box: { x0: 0, y0: 0, x1: w, y1: h },
  };
}

/** A block 60 wide, 40 deep and 20 high. */
const block = (shop: Shop): Map<string, DrawnView> => {
  const size: Partial<Record<ViewSide, [number, number]>> = { front: [60, 20], top: [60, 40], right: [40, 20], left: [40, 20] };
  return new Map(shop.views.map((v) => [v.id, plate(...(size[v.side] ?? [70, 60]))]));
};
const words = { name: 'Bracket', client: 'Marram Bathhouse', material: 'PETG', notes: ['Break edges.'], units: 'mm' } as const;
const compose = (shop: Shop, recipe: ReadonlyMap<string, RecipeDimension> = new Map(), drawn = block(shop)) =>
  composeSheet(shop, drawn, recipe, new Map(), words);
const begin = (more: Partial<Shop> = {}): Shop => ({ ...emptyShop('mm', '2026-12-02'), ...more });

describe('figures', () => {
  it('are written without needless noughts, in inches without the first one', () => {
    expect([lengthWords(20, 'mm'), lengthWords(20.504, 'mm'), lengthWords(-3.1, 'mm')]).toEqual(['20', '20.5', '-3.1']);
    expect([lengthWords(25.4, 'in'), lengthWords(6.35, 'in')]).toEqual(['1.000', '.250']);
    const right: Measured = { kind: 'angle', apex: { x: 0, y: 0 }, from: 0, turn: -Math.PI / 2 };
    expect([figureOf(right), dimensionWords(right, 'mm', null)]).toEqual([Math.PI / 2, '90°']);
  });
  it('carry the general tolerance of their size (ISO 2768-1, from memory)', () => {
    expect([2, 6, 30, 31, 120, 401].map((l) => generalTolerance('m', l))).toEqual([0.1, 0.1, 0.2, 0.3, 0.3, 0.8]);
    expect([generalTolerance('v', 2), generalTolerance('f', 0.4), generalTolerance('c', 5000)]).toEqual([null, null, null]);
    expect(dimensionWords({ kind: 'round', centre: { x: 0, y: 0 }, radius: 10, sign: '⌀' }, 'mm', 'm')).toBe('⌀20 ±0.2');
  });
});

describe('a sheet', () => {
  it('takes the largest scale that has room, on larger paper a larger one', () => {
    expect(compose(begin({ paper: 'a4' })).scale).toBe('1:1');
    expect(compose(begin()).scale).toBe('2:1');
    const forced = compose(begin({ paper: 'a4', scale: '5:1' }));
    expect([forced.scale, forced.crowded]).toEqual(['5:1', true]);
  });
  it('stands views one under the other, the first-angle way what is above beneath', () => {
    for (const [projection, sign] of [
      ['first', 1],
      ['third', -1],
    ] as const) {
      const { views } = compose(begin({ projection }));
      const at = (side: ViewSide) => views.find((v) => v.view.side === side)!;
      expect(at('front').origin.x).toBeCloseTo(at('top').origin.x, 9);
      expect(at('front').origin.y).toBeCloseTo(at('right').origin.y, 9);
      expect(Math.sign(at('front').box.y0 - at('top').box.y1)).toBe(sign === 1 ? 1 : -1);
      // From the right: to the left of it the first-angle way.
      expect(Math.sign(at('front').box.x0 - at('right').box.x0)).toBe(sign);
    }
  });
  it('keeps everything within its frame, and views off each other', () => {
    const { views, width, height } = compose(begin());
    for (const v of views) {
      expect(v.room.x0).toBeGreaterThan(20);
      expect(v.room.x1).toBeLessThan(width - 10);
      expect(v.room.y1).toBeLessThan(height - 10);
      for (const o of views)
        if (o !== v)
          expect(o.room.x0 >= v.room.x1 || o.room.x1 <= v.room.x0 || o.room.y0 >= v.room.y1 || o.room.y1 <= v.room.y0).toBe(true);
    }
  });
  it('writes what edges measure, and says which dimension attaches no more', () => {
    let shop = begin();
    const on = (name: string, at: 'low' | 'high' | 'centre') => ({ body: 's1', edge: name, at });
    shop = withDimension(shop, { kind: 'overall', view: 'v1', way: 'across' });
    shop = withDimension(shop, { kind: 'between', view: 'v1', a: on('e0', 'low'), b: on('hole', 'centre'), way: 'across' });
    shop = withDimension(shop, { kind: 'round', view: 'v1', of: { body: 's1', edge: 'hole' }, as: 'diameter' });
    shop = withDimension(shop, { kind: 'angle', view: 'v1', a: { body: 's1', edge: 'e0' }, b: { body: 's1', edge: 'e1' } });
    shop = withDimension(shop, { kind: 'round', view: 'v1', of: { body: 's1', edge: 'gone' }, as: 'radius' });
    shop = withDimension(shop, { kind: 'overall', view: 'v1', way: 'across' });
    expect(shop.dimensions).toHaveLength(5);
    const { views, lost } = compose(shop);
    const told = views[0]!.dimensions.map((d) => d.words);
    expect(told.sort()).toEqual(['30', '60', '90°', '⌀8']);
    expect(lost).toEqual([{ id: 'd5', why: expect.stringContaining('not there any more') }]);
  });
  it('writes the recipe’s dimensions where they are seen at full length only', () => {
    const d: RecipeDimension = {
      words: '',
      of: { profile: 'p', constraint: 'c1' },
      value: 60,
      sign: '',
      a: [0, 0, 0],
      b: [60, 0, 0],
      normal: [0, -1, 0],
    };
    const recipe = new Map([['p/c1', d]]);
    const put = (view: string): Shop => withDimension(begin(), { kind: 'drawn', view, profile: 'p', constraint: 'c1' });
    expect(compose(put('v1'), recipe).views[0]!.dimensions.map((k) => k.words)).toEqual(['60']);
    expect(compose(put('v3'), recipe).lost).toHaveLength(1);
    expect(compose(put('v1')).lost).toHaveLength(1);
  });
  it('dimension rows never cover each other', () => {
    let shop = begin({ paper: 'a3' });
    for (const [a, b] of [
      ['e0', 'hole'],
      ['hole', 'e1'],
      ['e0', 'e1'],
    ] as const)
      shop = withDimension(shop, {
        kind: 'between',
        view: 'v1',
        a: { body: 's1', edge: a, at: a === 'hole' ? 'centre' : 'low' },
        b: { body: 's1', edge: b, at: b === 'hole' ? 'centre' : 'high' },
        way: 'across',
      });
    const texts = compose(shop).views[0]!.dimensions.map((d) => d.text);
    for (const [i, p] of texts.entries()) for (const q of texts.slice(i + 1)) expect(Math.hypot(p.x - q.x, p.y - q.y)).toBeGreaterThan(5);
  });
});

it('hatching covers an outline with a hole by as much as its area says', () => {
  const square = (r: number) => [
    { x: -r, y: -r },
    { x: r, y: -r },
    { x: r, y: r },
    { x: -r, y: r },
  ];
  // Lines a distance g apart are area / g long in all, but for the ends (Cavalieri).
  const length = hatched([square(40), square(20)], 0).reduce((n, m) => {
    if (m.kind !== 'curve') return n;
    return n + Math.hypot(m.curve.b.x - m.curve.a.x, m.curve.b.y - m.curve.a.y);
  }, 0);
  expect(length / ((80 * 80 - 40 * 40) / 2.5)).toBeCloseTo(1, 2);
});

it('views look from where they say: their normals are those of the box', () => {
  const normals = Object.values(VIEW_FRAMES).map((f) => [
    f.x[1] * f.y[2] - f.x[2] * f.y[1],
    f.x[2] * f.y[0] - f.x[0] * f.y[2],
    f.x[0] * f.y[1] - f.x[1] * f.y[0],
  ]);
  expect(normals.map((n) => n.map((v) => Math.round(v * 1000) / 1000 + 0))).toEqual([
    [0, -1, 0],
    [0, 1, 0],
    [-1, 0, 0],
    [1, 0, 0],
    [0, 0, 1],
    [0, 0, -1],
    [0.577, -0.577, 0.577],
  ]);
});

describe('files', () => {
  const font = (set: string, weight: number): Uint8Array =>
    new Uint8Array(readFileSync(`node_modules/@fontsource/hanken-grotesk/files/hanken-grotesk-${set}-${weight}-normal.woff`));
  const fonts = { plain: [font('latin', 500), font('latin-ext', 500)], bold: [font('latin', 600)] };
  const shop = (): Shop => {
    const on = { body: 's1', edge: 'hole' };
    let s = withDimension(begin({ limits: true, scale: '1:1' }), { kind: 'round', view: 'v1', of: on, as: 'diameter' });
    s = withDimension(s, { kind: 'overall', view: 'v1', way: 'across' });
    return { ...s, title: { ...s.title, by: 'Łucja' } };
  };

  it('a PDF read by another reader has every word in its place, and lines to 0.01 mm', async () => {
    const sheet = compose(shop());
    const { bytes, missing } = await sheetPdf(sheet, 'Bracket', fonts);
    expect(missing).toBe('');
    const doc = await getDocument({ data: bytes, useSystemFonts: false }).promise;
    const page = await doc.getPage(1);
    const mm = 25.4 / 72;
    expect(page.view.slice(2).map((v) => v * mm)).toEqual([expect.closeTo(420, 3), expect.closeTo(297, 3)]);
    const items = (await page.getTextContent()).items.flatMap((i) => ('str' in i && i.str.trim() ? [i] : []));
    const text = items.map((i) => i.str).join(' ');
    for (const said of ['Bracket', 'Marram Bathhouse', 'ISO 2768-m', '1:1', 'Ø8 ±0.2', '60 ±0.3', '1. Break edges.'])
      expect(text).toContain(said);
    // Of letters out of two fonts.
    expect(text.replaceAll(' ', '')).toContain('Łucja');
    const title = sheet.marks.find((m) => m.kind === 'text' && m.text === 'Bracket')!;
    const found = items.find((i) => i.str === 'Bracket')!;
    if (title.kind === 'text')
      expect([found.transform[4] * mm, found.transform[5] * mm]).toEqual([expect.closeTo(title.at.x, 2), expect.closeTo(title.at.y, 2)]);
    const ops = await page.getOperatorList();
    const boxes = ops.fnArray.flatMap((fn, i) => (fn === OPS.constructPath ? [Array.from(ops.argsArray[i][2] as number[])] : []));
    // The front view’s lower edge: 60 mm long at 1:1.
    const front = sheet.views[0]!;
    const lower = [front.box.x0, front.box.y0, front.box.x1, front.box.y0].map((v) => v / mm);
    expect(boxes.some((b) => b.every((v, k) => Math.abs(v - lower[k]!) < 0.01 / mm))).toBe(true);
    await doc.destroy();
  });

  it('a letter that no font has is told, and a question mark stands for it', async () => {
    const { missing } = await sheetPdf(compose({ ...shop(), title: { ...shop().title, by: '木' } }), 'x', fonts);
    expect(missing).toBe('木');
  });

  it('a DXF has its lines on layers by what they are, each where it is on the paper', () => {
    const sheet = compose(shop());
    const read = new DxfParser().parseSync(sheetDxf(sheet)) as unknown as {
      entities: {
        type: string;
        layer: string;
        vertices?: { x: number; y: number }[];
        text?: string;
        radius?: number;
        center?: { x: number; y: number };
      }[];
    };
    const seen = read.entities.filter((e) => e.layer === 'VISIBLE');
    expect(seen.filter((e) => e.type === 'LINE')).toHaveLength(16);
    const front = sheet.views[0]!;
    const circle = seen.find((e) => e.type === 'CIRCLE' && Math.abs(e.center!.x - (front.box.x0 + 30)) < 1e-6)!;
    expect(circle.radius).toBeCloseTo(4, 9);
    expect(read.entities.flatMap((e) => (e.type === 'TEXT' ? [e.text] : []))).toEqual(expect.arrayContaining(['%%c8 %%p0.2', 'Bracket']));
  });

  it('an SVG read back has the paper’s size and as many lines as were drawn', () => {
    const sheet = compose(shop());
    const svg = sheetSvg(sheet, 'A & B <x>');
    expect(svg).toContain('width="420mm" height="297mm"');
    expect(svg).toContain('A &amp; B &lt;x&gt;');
    const read = readSvg(svg);
    expect(read.ok && read.value.unit).toBeCloseTo(1, 9);
    const circles = read.ok ? read.value.curves.filter((c) => c.kind === 'arc' && Math.abs(c.radius - 4) < 1e-6) : [];
    expect(circles).toHaveLength(4);
  });
});
