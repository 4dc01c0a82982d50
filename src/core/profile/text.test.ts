import { readFileSync } from 'node:fs';
import opentype from 'opentype.js';
import { describe, expect, it } from 'vitest';
import { intersect } from '../curves/intersect';
import { arcAbout, flatten, type PlanarCurve, type Point2 } from '../curves/planar';
import { emptyProfile } from '../recipe/edit';
import type { Profile } from '../recipe/schema';
import { tidy } from './draw';
import { resolveProfile } from './resolve';
import { thinnest } from './strokes';
import { FONTS, readsFromOther, straight, textOutline, textWidth } from './text';
import type { FontName } from './typed';

const FILES: Readonly<Record<Exclude<FontName, 'strokes'>, string>> = { sans: 'hanken-grotesk', serif: 'bitter', mono: 'red-hat-mono' };
const outlined = Object.keys(FILES) as Exclude<FontName, 'strokes'>[];
const read = (family: string) => {
  const bytes = readFileSync(`node_modules/@fontsource/${family}/files/${family}-latin-500-normal.woff`);
  return opentype.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer);
};
const good = (text: string, height: number, font: FontName): PlanarCurve[] => {
  const made = textOutline(text, straight({ x: 0, y: 0 }, 0), { height, font });
  if (!made.ok) throw new Error(made.error);
  return made.value;
};
const box = (curves: readonly PlanarCurve[]): number[] => {
  const points = curves.flatMap((c) => flatten(c, 1e-3));
  const [x, y] = [points.map((p) => p.x), points.map((p) => p.y)];
  return [Math.min(...x), Math.max(...x), Math.min(...y), Math.max(...y)];
};
/** Twice the area within, even-odd for contours that run against each other. */
const area = (curves: readonly PlanarCurve[]): number =>
  Math.abs(
    curves.reduce((sum, c) => {
      const pts = flatten(c, 1e-5);
      return sum + pts.slice(1).reduce((s, q, i) => s + (pts[i]!.x * q.y - q.x * pts[i]!.y) / 2, 0);
    }, 0),
  );

describe('shipped fonts against their own files, read by opentype.js', () => {
  it.each(outlined)('%s: advances, capital height and bounds of every letter', (name) => {
    const font = read(FILES[name]);
    const { glyphs, capHeight } = FONTS[name];
    const k = 7 / capHeight;
    expect(Object.keys(glyphs).length).toBeGreaterThan(180);
    for (const letter of Object.keys(glyphs)) {
      const g = font.charToGlyph(letter);
      expect(textWidth(letter, { height: 7, font: name })).toBeCloseTo(g.advanceWidth! * k, 1);
      const curves = good(letter, 7, name);
      if (curves.length === 0) continue;
      const b = g.getBoundingBox();
      // Numbers of the data are whole units of a thousand to the em.
      box(curves).forEach((v, i) => {
        expect(v, letter).toBeCloseTo([b.x1, b.x2, b.y1, b.y2][i]! * k, 1);
      });
    }
    const [, , low, high] = box(good('H', 7, name));
    expect([low, high]).toEqual([expect.closeTo(0, 6), expect.closeTo(7, 6)]);
  });

  it.each(outlined)('%s: no letter’s outline crosses itself or another of its own', (name) => {
    const crossing = Object.keys(FONTS[name].glyphs).filter((letter) => {
      const curves = good(letter, 10, name);
      const boxes = curves.map((c) => box([c]));
      const near = (i: number, j: number): boolean =>
        [0, 2].every((k) => boxes[i]![k]! <= boxes[j]![k + 1]! && boxes[j]![k]! <= boxes[i]![k + 1]!);
      return curves.some((a, i) =>
        curves.some(
          (b, j) => j > i && near(i, j) && intersect(a, b).some((h) => h.s > 1e-4 && h.s < 1 - 1e-4 && h.t > 1e-4 && h.t < 1 - 1e-4),
        ),
      );
    });
    expect(crossing).toEqual([]);
  });

  it('single strokes stay within what their file says, and every run of them is drawn', () => {
    const svg = readFileSync('scripts/fonts/ems-readability.svg', 'utf8');
    for (const letter of 'ABCHMSaegor0358') {
      const d = new RegExp(`unicode="${letter}"[^>]* d="([^"]*)"`).exec(svg)![1]!;
      const numbers = [...d.matchAll(/([-\d.]+) ([-\d.]+)/g)].map((m) => ({ x: Number(m[1]), y: Number(m[2]) }));
      const k = 10 / FONTS.strokes.capHeight;
      const want = [
        Math.min(...numbers.map((p) => p.x)),
        Math.max(...numbers.map((p) => p.x)),
        Math.min(...numbers.map((p) => p.y)),
        Math.max(...numbers.map((p) => p.y)),
      ].map((v) => v * k);
      const curves = good(letter, 10, 'strokes');
      // Rounded strokes leave their places by less than a hundredth of the capital's height.
      box(curves).forEach((v, i) => {
        expect(Math.abs(v - want[i]!), letter).toBeLessThan(0.1);
      });
      const runs = curves.filter((c, i) => i === 0 || Math.hypot(c.a.x - curves[i - 1]!.b.x, c.a.y - curves[i - 1]!.b.y) > 1e-6).length;
      expect(runs, letter).toBe(d.split('M').length - 1);
    }
  });
});

/** A drawing of a text about a circle of 20, or along a line, with its point at a place. */
const drawn = (along: object, rest: object = {}, at: Point2 = { x: 0, y: 20 }): Profile =>
  ({
    ...emptyProfile('p', 'Label', 'front', false),
    points: [
      { id: 'o', x: 0, y: 0, reference: true },
      { id: 'q', ...at },
      { id: 'a', x: -30, y: -5 },
      { id: 'b', x: 30, y: -5 },
    ],
    curves: [
      { kind: 'circle', id: 'ring', centre: 'o', radius: 20, construction: true },
      { kind: 'line', id: 'line', from: 'a', to: 'b', construction: true },
      {
        kind: 'text',
        id: 't',
        point: 'q',
        text: 'OOO',
        height: '4 mm',
        angle: '0°',
        along: { curve: 'ring', lift: '0 mm', ...along },
        ...rest,
      },
    ],
    constraints: [],
  }) as Profile;
const resolved = (p: Profile): PlanarCurve[] => {
  const r = resolveProfile(p, () => undefined);
  if (!r.ok) throw new Error(r.error.message);
  return r.value.curves.filter((c) => c.source?.kind === 'text').map((c) => c.curve);
};

describe('a text along a line', () => {
  it('stands outside a circle read clockwise, inside it from the other side, its middle at its point', () => {
    const radii = (curves: readonly PlanarCurve[]): [number, number] => {
      const r = curves.flatMap((c) => flatten(c, 1e-3)).map((p) => Math.hypot(p.x, p.y));
      return [Math.min(...r), Math.max(...r)];
    };
    // A circle runs counter-clockwise: on its left is the inside.
    const within = resolved(drawn({}, { align: 'middle' }, { x: 0, y: -20 }));
    const outside = resolved(drawn({ other: true }, { align: 'middle' }));
    const [low, high] = radii(outside);
    // Round letters reach a little below their baseline.
    expect(low).toBeGreaterThan(19.85);
    expect(high).toBeGreaterThan(23.9);
    expect(high).toBeLessThan(24.3);
    expect(radii(within)[1]).toBeLessThan(20.25);
    const [x0, x1] = box(outside);
    expect(x0! + x1!).toBeCloseTo(0, 1);
    // Letters are what they were: no area is gained or lost by the bend.
    expect(area(outside)).toBeCloseTo(area(good('OOO', 4, 'sans')), 6);
  });

  it('of half the letters at their middles by the length of the arc', () => {
    // The middles of three like letters lie an advance apart along the circle.
    const curves = resolved(drawn({ other: true }, { align: 'middle' }));
    const angles = [0, 1, 2].map((i) => {
      const part = curves.slice((i * curves.length) / 3, ((i + 1) * curves.length) / 3).flatMap((c) => flatten(c, 1e-4));
      const [x, y] = [part.map((p) => p.x), part.map((p) => p.y)];
      return Math.atan2((Math.min(...y) + Math.max(...y)) / 2, (Math.min(...x) + Math.max(...x)) / 2);
    });
    const advance = textWidth('O', { height: 4 }) / 20;
    expect(angles[0]! - angles[1]!).toBeCloseTo(advance, 2);
    expect(angles[1]! - angles[2]!).toBeCloseTo(advance, 2);
  });

  it('lifted off a straight line it is the straight text moved up', () => {
    const led = box(resolved(drawn({ curve: 'line', lift: '3 mm' }, {}, { x: -25, y: -4 })));
    const plain = box(good('OOO', 4, 'sans'));
    expect(led).toEqual(plain.map((v, i) => expect.closeTo(v + [-25, -25, -2, -2][i]!, 6)));
  });

  it('has its letters farther apart where that is asked, and is as long as told', () => {
    const [x0, x1] = box(resolved(drawn({ curve: 'line' }, { apart: '1.5 mm' }, { x: -25, y: -5 })));
    const [p0, p1] = box(good('OOO', 4, 'sans'));
    expect(x1! - x0!).toBeCloseTo(p1! - p0! + 3, 6);
    expect(textWidth('OOO', { height: 4, apart: 1.5 })).toBeCloseTo(3 * textWidth('O', { height: 4 }) + 3, 9);
  });

  it('knows from which side it reads from left to right', () => {
    const ring = arcAbout({ x: 0, y: 0 }, 20, 0, 2 * Math.PI);
    expect([readsFromOther(ring, { x: 1, y: 25 }), readsFromOther(ring, { x: 1, y: -25 })]).toEqual([true, false]);
  });

  it('says by how much its line is too short, and that its line is gone', () => {
    const told = (p: Profile): string => {
      const r = resolveProfile(p, () => undefined);
      return r.ok ? '' : r.error.message;
    };
    expect(told(drawn({ curve: 'line' }, { height: '40 mm' }))).toMatch(
      /Label, t: it is [\d.]+ mm long and its line 60\.00 mm: a smaller text fits/,
    );
    expect(told(drawn({ curve: 'line' }, { height: '8 mm' }, { x: 29, y: 0 }))).toMatch(/mm beyond an end of its line: move its point/);
    expect(told(drawn({ curve: 'gone' }))).toContain('the line it leads along is not there');
    // Taking the line away lets the text stand straight.
    const p = drawn({});
    const left = tidy({ ...p, curves: p.curves.filter((c) => c.id !== 'ring') });
    expect(left.curves.find((c) => c.id === 't')).not.toHaveProperty('along');
  });
});

describe('how thin a text gets', () => {
  const ring = (R: number): PlanarCurve => arcAbout({ x: 0, y: 0 }, R, 0, 2 * Math.PI);
  const square = (x: number, y: number, w: number, h: number): PlanarCurve[] => {
    const c: Point2[] = [
      { x, y },
      { x: x + w, y },
      { x: x + w, y: y + h },
      { x, y: y + h },
    ];
    return c.map((a, i) => ({ kind: 'line', a, b: c[(i + 1) % 4]! }));
  };
  it('between two circles, and between two blocks', () => {
    expect(thinnest([ring(5), ring(4.4)], 1e-3)!.stroke).toBeCloseTo(0.6, 2);
    const blocks = thinnest([...square(0, 0, 2, 5), ...square(2.3, 0, 1.5, 5)], 1e-3)!;
    expect(blocks.stroke).toBeCloseTo(1.5, 9);
    expect(blocks.gap).toBeCloseTo(0.3, 9);
  });
  it('goes with the size, and a corner is no stroke', () => {
    const a = thinnest(good('Marram 38', 5, 'serif'), 0.01)!;
    const b = thinnest(good('Marram 38', 10, 'serif'), 0.02)!;
    expect(b.stroke / a.stroke).toBeCloseTo(2, 6);
    const tip: PlanarCurve[] = [
      { kind: 'line', a: { x: 0, y: 0 }, b: { x: 10, y: 0 } },
      { kind: 'line', a: { x: 10, y: 0 }, b: { x: 5, y: 6 } },
      { kind: 'line', a: { x: 5, y: 6 }, b: { x: 0, y: 0 } },
    ];
    expect(thinnest(tip, 1e-3)).toBeUndefined();
    // The crotches of an M and an A close to nothing: that is no gap of theirs.
    const [m, thin] = [thinnest(good('M', 10, 'serif'), 0.02), thinnest(good('A', 10, 'sans'), 0.02)];
    expect(m!.gap).toBeGreaterThan(0.3);
    expect(thin!.stroke).toBeGreaterThan(0.8);
  });
});
