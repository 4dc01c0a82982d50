/** Drawing, altering, relating and reading profiles: what the board does, without the board. */
import { Bezier } from 'bezier-js';
import { describe, expect, it } from 'vitest';
import { ladleGrip } from '../../../demo/ladle-grip';
import { robeHook } from '../../../demo/robe-hook';
import { soapTray } from '../../../demo/soap-tray';
import { diffuserBody } from '../../../demo/steam-diffuser';
import { arc, circle, distance, fixedAt, line, noNames, on, sketchProfile } from '../../../tests/support/sketch';
import { controlSpline, evaluateBSpline, interpolateCubic } from '../curves/bspline';
import { fairnessHint, readCurve, readJoin } from '../curves/fairness';
import { intersect } from '../curves/intersect';
import { offsetChain, offsetCurve, splitSpline } from '../curves/offset';
import { arcAbout, distance2, type PlanarCurve, pointAt } from '../curves/planar';
import { evaluateDimensions } from '../dimensions/dimensions';
import type { Profile } from '../recipe/schema';
import { breakAtCrossings, byScale, byShift, byTurn, closeGaps, copy, extend, move, smallGaps, softenCorner, trim } from './alter';
import { insideOf } from './derive';
import { addDerived, removeCurve } from './draw';
import { dimensionNotes } from './notes';
import { areaAndCentroid, findOutline } from './outline';
import { scalePicture } from './picture';
import { findRegions } from './regions';
import { accept, readings, relationsFor } from './relate';
import { type ResolvedProfile, resolveProfile, settled } from './resolve';
import { settle, startDrag } from './session';
import { type DrawTool, drawShape, PLACES, type Place, placeOfSize } from './shapes';
import { diagnose } from './solver/diagnose';
import { planRow } from './spacing';
import { straight, textOutline } from './text';

const empty = sketchProfile({}, []);
const solve = (p: Profile, scope = noNames): ResolvedProfile => {
  const r = resolveProfile(p, scope);
  if (!r.ok) throw new Error(r.error.message);
  return r.value;
};
const good = <T>(r: { ok: true; value: T } | { ok: false; error: unknown }): T => {
  if (!r.ok) throw new Error(String(r.error));
  return r.value;
};
const options = { sides: 6, degree: 3, text: 'Marram', textHeight: '8 mm', construction: false };
const at = (...xy: number[]): Place[] => Array.from({ length: xy.length / 2 }, (_, i) => ({ at: { x: xy[2 * i]!, y: xy[2 * i + 1]! } }));
const made = (tool: DrawTool, ...xy: number[]): Profile => good(drawShape(empty, tool, at(...xy), options)).profile;
const area = (p: Profile): number => findRegions(solve(p), false).regions[0]?.area ?? 0;
const freedoms = (p: Profile): number => diagnose(solve(p).sketch).freedoms;

describe('a drawing tool makes the shape its constraints describe', () => {
  // Areas by mensuration; freedoms: place (2), size and, where it may turn, direction.
  it.each([
    ['rectangle', [2, 3, 12, 9], 60, 4],
    ['centre-rectangle', [10, 10, 16, 13], 72, 4],
    ['polygon', [0, 0, 10, 0], (3 * Math.sqrt(3) * 100) / 2, 4],
    ['slot', [0, 0, 20, 0, 5, 4], 160 + Math.PI * 16, 5],
    ['circle', [5, 5, 8, 9], Math.PI * 25, 3],
    ['ellipse', [0, 0, 10, 0, 3, 6], Math.PI * 60, 5],
  ] as const)('%s', (tool, places, size, free) => {
    const p = made(tool, ...places);
    expect(area(p)).toBeCloseTo(size, 6);
    expect(freedoms(p)).toBe(free);
    expect(diagnose(solve(p).sketch).repeats).toEqual([]);
  });
  // A size typed where one is asked, centres on a slanted line: areas by mensuration.
  it.each([
    ['circle', [3, 4], [2.5], Math.PI * 6.25],
    ['polygon', [3, 4], [10], (3 * Math.sqrt(3) * 100) / 2],
    ['slot', [1, 2, 13, 7], [2.5], 5 * 13 + Math.PI * 6.25],
    ['ellipse', [3, 4], [10, 6], Math.PI * 60],
  ] as const)('%s by its size', (tool, given, sizes, size) => {
    const places = at(...given).map((p) => p.at);
    for (const s of sizes) places.push(placeOfSize(tool, places, s)!);
    expect(area(made(tool, ...places.flatMap((p) => [p.x, p.y])))).toBeCloseTo(size, 6);
  });
  it('a size stands for no place of a line, an arc, a rectangle, nor for a first place', () => {
    for (const tool of ['line', 'arc', 'centre-arc', 'rectangle', 'spline', 'point'] as const)
      for (const places of [[], [{ x: 1, y: 1 }], at(1, 1, 5, 5).map((p) => p.at)]) expect(placeOfSize(tool, places, 3)).toBeUndefined();
    for (const tool of ['circle', 'slot', 'ellipse'] as const) expect(placeOfSize(tool, [], 3)).toBeUndefined();
    expect(placeOfSize('slot', [{ x: 1, y: 1 }], 3)).toBeUndefined();
  });
  it('line, arcs, elliptical arc, splines, text and a point stand where they were put', () => {
    for (const [tool, ...places] of [
      ['line', 0, 0, 5, 5],
      ['arc', 10, 0, 0, 10, 7.0710678, 7.0710678],
      ['centre-arc', 0, 0, 10, 0, 0, 9],
      ['ellipse-arc', 0, 0, 10, 0, 0, 6, 10, 0, 0, 6],
      ['spline', 0, 0, 5, 8, 12, 3],
      ['control', 0, 0, 5, 8, 12, 3, 20, 9],
    ] as const) {
      const r = solve(made(tool, ...places));
      const c = r.curves[0]!.curve;
      expect(Number.isFinite(pointAt(c, 0.3).x)).toBe(true);
      if (tool === 'centre-arc') expect(distance2(pointAt(c, 1), { x: 0, y: 10 })).toBeLessThan(1e-9);
      if (tool === 'ellipse-arc') expect(distance2(pointAt(c, 1), { x: 0, y: 6 })).toBeLessThan(1e-9);
    }
    expect(made('point', 4, 4).points).toHaveLength(1);
    expect(solve(made('text', 3, 3)).curves.length).toBeGreaterThan(50);
    expect(Object.keys(PLACES)).toHaveLength(15);
  });
  it('an arc goes on from a line, an arc and a spline without a corner, and stays tangent', () => {
    const l = made('line', 0, 0, 10, 0);
    const end = l.points[1]!.id;
    const a = good(drawShape(l, 'tangent-arc', [{ at: { x: 10, y: 0 }, point: end }, { at: { x: 15, y: 5 } }], options));
    const r = solve(a.profile);
    const [first, second] = r.curves;
    expect(second!.curve.kind === 'arc' && second!.curve.radius).toBeCloseTo(5, 9);
    expect(readJoin(first!.curve, 1, second!.curve, 0).angle).toBeLessThan(1e-7);
    const next = good(drawShape(a.profile, 'tangent-arc', [{ at: { x: 15, y: 5 }, point: a.end! }, { at: { x: 10, y: 10 } }], options));
    const s = solve(next.profile);
    expect(readJoin(s.curves[1]!.curve, 1, s.curves[2]!.curve, 0).angle).toBeLessThan(1e-7);
    const straight = drawShape(l, 'tangent-arc', [{ at: { x: 10, y: 0 }, point: end }, { at: { x: 20, y: 0 } }], options);
    expect(straight.ok ? '' : straight.error).toBe('straight ahead there is no arc');
  });
  it('places that make no shape are refused in words', () => {
    const no = (tool: DrawTool, ...xy: number[]): string => {
      const r = drawShape(empty, tool, at(...xy), options);
      return r.ok ? '' : r.error;
    };
    expect(no('arc', 0, 0, 10, 0, 5, 0)).toContain('one line');
    expect(no('rectangle', 0, 0, 10, 0)).toContain('no rectangle');
    expect(no('slot', 0, 0, 10, 0, 20, 0)).toContain('no width');
    expect(no('line', 0, 0)).toContain('2 places');
    expect(no('line', 1, 1, 1, 1)).toContain('fall together');
    const silent = drawShape(empty, 'text', at(0, 0), { ...options, text: ' ' });
    expect(silent.ok ? '' : silent.error).toContain('type the text');
    const sides = drawShape(empty, 'polygon', at(0, 0, 5, 5), { ...options, sides: 2 });
    expect(sides.ok ? '' : sides.error).toContain('3 to 60');
  });
});

const box = sketchProfile(
  { a: [0, 0], b: [30, 0], c: [30, 20], d: [0, 20] },
  [line('ab'), line('bc'), line('cd'), line('da')],
  [
    fixedAt('a'),
    { kind: 'horizontal', a: 'a', b: 'b' },
    { kind: 'vertical', a: 'b', b: 'c' },
    { kind: 'horizontal', a: 'c', b: 'd' },
    { kind: 'vertical', a: 'd', b: 'a' },
    distance('a', 'b', 30),
    distance('b', 'c', 20),
  ],
);

describe('altering', () => {
  it('rounds a corner: the area loses (1 − π/4) r², the sizes still hold', () => {
    const p = good(softenCorner(box, solve(box), 'c', 'round', '5 mm', 5));
    expect(area(p)).toBeCloseTo(600 - (1 - Math.PI / 4) * 25, 8);
    expect(freedoms(p)).toBe(0);
    const wider = { ...p, constraints: p.constraints.map((c) => (c.id === 'd1' && 'value' in c ? { ...c, value: '40' } : c)) } as Profile;
    expect(area(wider)).toBeCloseTo(800 - (1 - Math.PI / 4) * 25, 8);
  });
  it('cuts a corner, and says what works where it does not', () => {
    const p = good(softenCorner(box, solve(box), 'c', 'cut', '4 mm', 4));
    expect(area(p)).toBeCloseTo(600 - 8, 9);
    const no = softenCorner(box, solve(box), 'c', 'round', '25 mm', 25);
    expect(no.ok ? '' : no.error).toBe('it works below 20.000 mm here, limited by the shorter line of 20.000 mm');
    const lone = softenCorner(box, solve(box), 'z', 'round', '5 mm', 5);
    expect(lone.ok ? '' : lone.error).toContain('choose a corner');
  });
  const crossed = sketchProfile({ a: [0, 0], b: [30, 0], c: [10, -5], d: [10, 5], e: [20, -5], f: [20, 5] }, [
    line('ab'),
    line('cd'),
    line('ef'),
  ]);
  it('trims an end, a middle and a whole, and keeps the new ends on what cut them', () => {
    const r = solve(crossed);
    const end = good(trim(crossed, r, 'ab', 0.9));
    expect(solve(end).curves.find((c) => c.id === 'ab')!.curve.b).toEqual({ x: 20, y: 0 });
    expect(end.constraints.some((c) => c.kind === 'on-curve' && c.curve === 'ef')).toBe(true);
    const mid = good(trim(crossed, r, 'ab', 0.5));
    expect(mid.curves.filter((c) => c.kind === 'line')).toHaveLength(4);
    expect(mid.constraints.some((c) => c.kind === 'collinear')).toBe(true);
    expect(good(trim(box, solve(box), 'ab', 0.5)).curves).toHaveLength(3);
    const round = sketchProfile({ m: [0, 0], a: [-9, 0], b: [9, 0] }, [circle('m', 5), line('ab')]);
    const half = good(trim(round, solve(round), 'om', 0.75));
    const kept = half.curves.find((c) => c.id === 'om')!;
    expect(kept.kind).toBe('arc');
    expect(pointAt(solve(half).curves.find((c) => c.id === 'om')!.curve, 0.5).y).toBeCloseTo(5, 9);
  });
  it('extends to the next curve and breaks at crossings', () => {
    const p = sketchProfile({ a: [0, 0], b: [5, 0], c: [10, -5], d: [10, 5] }, [line('ab'), line('cd')]);
    const r = good(extend(p, solve(p), 'ab', 0.9));
    expect(solve(r).curves[0]!.curve.b).toEqual({ x: 10, y: 0 });
    const none = extend(p, solve(p), 'ab', 0.1);
    expect(none.ok ? '' : none.error).toContain('nothing lies ahead');
    const broken = good(breakAtCrossings(crossed, solve(crossed), 'ab'));
    expect(broken.curves).toHaveLength(5);
    expect(
      solve(broken)
        .curves.map((c) => c.curve)
        .filter((c) => Math.abs(c.a.y) + Math.abs(c.b.y) < 1e-9),
    ).toHaveLength(3);
  });
  it('moves, turns, scales and copies with the relations among the copied', () => {
    const free = { ...box, constraints: box.constraints.filter((c) => c.kind !== 'fixed') };
    const all = free.curves.map((c) => c.id);
    expect(area(settle(move(free, all, [], byShift(7, -3)), noNames).profile)).toBeCloseTo(600, 6);
    const loose = { ...box, constraints: [] };
    expect(area(move(loose, all, [], byTurn({ x: 0, y: 0 }, 0.7)))).toBeCloseTo(600, 9);
    expect(area(move(loose, all, [], byScale({ x: 5, y: 5 }, 2)))).toBeCloseTo(2400, 9);
    const twice = copy(free, all, byShift(50, 0));
    expect(twice.profile.curves).toHaveLength(8);
    expect(twice.profile.constraints).toHaveLength(free.constraints.length * 2);
    expect(findRegions(solve(twice.profile), false).regions).toHaveLength(2);
    expect(freedoms(twice.profile)).toBe(4);
  });
  it('names gaps below a tolerance and closes them', () => {
    const p = sketchProfile({ a: [0, 0], b: [10, 0], c: [10.02, 0.01], d: [0, 8] }, [line('ab'), line('cd'), line('da')]);
    const gaps = smallGaps(p, solve(p), 0.1);
    expect(gaps).toHaveLength(1);
    expect(gaps[0]!.gap).toBeCloseTo(Math.hypot(0.02, 0.01), 9);
    expect(findRegions(solve(p), false).regions).toHaveLength(0);
    expect(findRegions(solve(closeGaps(p, gaps)), false).regions).toHaveLength(1);
  });
  it('takes the derived with the curve it follows', () => {
    const p = addDerived(box, { kind: 'offset', of: ['ab'], distance: '2 mm', side: 'left', ends: 'open' }).profile;
    expect(solve(p).curves).toHaveLength(5);
    expect(removeCurve(p, 'ab').derived).toEqual([]);
  });
});

describe('what follows', () => {
  const outline = ['ab', 'bc', 'cd', 'da'];
  it('an offset runs its corners on outside and back inside', () => {
    const wall = (side: 'left' | 'right'): number => {
      const p = addDerived(box, { kind: 'offset', of: outline, distance: '2 mm', side, ends: 'open' }).profile;
      return findRegions(solve(p), false)
        .regions.map((r) => r.area)
        .reduce((a, b) => a + b, 0);
    };
    // A ring and what is inside it make up the larger of the two outlines.
    expect(wall('left')).toBeCloseTo(600, 9);
    expect(wall('right')).toBeCloseTo(34 * 24, 9);
  });
  it('an offset of a closed line lies inside or outside of it, whichever way it was drawn', () => {
    const rim = sketchProfile({ m: [3, 4] }, [{ kind: 'circle', id: 'c', name: 'c', centre: 'm', radius: 10 }]);
    const clockwise = sketchProfile(
      { a: [0, 0], b: [0, 20], c: [30, 20], d: [30, 0] },
      outline.map((ends) => line(ends)),
    );
    for (const [drawn, of, larger] of [
      [box, outline, 34 * 24],
      [clockwise, outline, 34 * 24],
      [rim, ['c'], Math.PI * 144],
    ] as const) {
      const whole = findRegions(solve(drawn), false).regions[0]!.area;
      const inside = insideOf(solve(drawn).curves.map((c) => c.curve))!;
      for (const side of ['left', 'right'] as const) {
        const p = addDerived(drawn, { kind: 'offset', of: [...of], distance: '2 mm', side, ends: 'open' }).profile;
        const all = findRegions(solve(p), false).regions.reduce((sum, r) => sum + r.area, 0);
        expect([of, side, all]).toEqual([of, side, expect.closeTo(side === inside ? whole : larger, 9)]);
      }
    }
    expect(insideOf(solve(sketchProfile({ a: [0, 0], b: [20, 0] }, [line('ab')])).curves.map((c) => c.curve))).toBeUndefined();
  });
  it('an open offset closes its ends: a strip of length × width', () => {
    const p = addDerived(sketchProfile({ a: [0, 0], b: [20, 0] }, [line('ab')]), {
      kind: 'offset',
      of: ['ab'],
      distance: '3 mm',
      side: 'both',
      ends: 'closed',
    }).profile;
    expect(findRegions(solve(p), false).regions[0]!.area).toBeCloseTo(120, 9);
  });
  it('an offset tighter than the curve is refused with the value that works', () => {
    const p = addDerived(sketchProfile({ a: [5, 0], b: [-5, 0], m: [0, 0] }, [arc('abm')]), {
      kind: 'offset',
      of: ['abm'],
      distance: '6 mm',
      side: 'left',
      ends: 'open',
    }).profile;
    const r = resolveProfile(p, noNames);
    expect(r.ok ? '' : r.error.message).toContain('uses up an arc of radius 5.000 mm');
  });
  it('a spline’s offset keeps its distance to 1e-4 mm everywhere', () => {
    const s = interpolateCubic([
      [0, 0],
      [20, 12],
      [45, 4],
      [60, 20],
    ]);
    const c: PlanarCurve = { kind: 'spline', spline: s, a: { x: 0, y: 0 }, b: { x: 60, y: 20 } };
    const o = good(offsetCurve(c, 2.5));
    const dense = Array.from({ length: 20001 }, (_, i) => pointAt(c, i / 20000));
    for (let i = 3; i < 60; i++) {
      const p = pointAt(o, i / 63);
      expect(Math.abs(Math.min(...dense.map((q) => distance2(p, q))) - 2.5)).toBeLessThan(3e-4);
    }
    const tight = offsetCurve(c, readCurve(c, 2000).tightest.radius * 1.2);
    const other = offsetCurve(c, -readCurve(c, 2000).tightest.radius * 1.2);
    expect(tight.ok && other.ok).toBe(false);
    expect(offsetChain([c], 1, false).ok).toBe(true);
  });
  it('a mirror image, a row and a ring follow what they copy', () => {
    const p = sketchProfile({ m: [20, 0] }, [circle('m', 3)]);
    const mirror = solve(addDerived(p, { kind: 'mirror', of: ['om'], line: 'axis' }).profile);
    expect(mirror.curves[1]!.curve.kind === 'arc' && mirror.curves[1]!.curve.centre.x).toBeCloseTo(-20, 9);
    const row = solve(
      addDerived(p, { kind: 'linear', of: ['om'], angle: '90°', count: '4', by: 'spacing', length: '10 mm', margin: '0 mm', gap: '0 mm' })
        .profile,
    );
    expect(row.curves).toHaveLength(4);
    expect([...row.rows.values()][0]!.gap).toBeCloseTo(4, 2);
    const ring = solve(addDerived(p, { kind: 'circular', of: ['om'], centre: 'origin', count: '6', by: 'extent', angle: '360°' }).profile);
    expect(ring.curves).toHaveLength(6);
    for (const c of ring.curves) expect(c.curve.kind === 'arc' && Math.hypot(c.curve.centre.x, c.curve.centre.y)).toBeCloseTo(20, 9);
    const part = solve(addDerived(p, { kind: 'circular', of: ['om'], centre: 'origin', count: '3', by: 'extent', angle: '90°' }).profile);
    expect(part.curves[2]!.curve.kind === 'arc' && part.curves[2]!.curve.centre.y).toBeCloseTo(20, 9);
  });
  // Counts include the original (common practice, no source).
  it.each([
    [{ by: 'spacing', count: 5, length: 8, margin: 0, gap: 0, size: 6 }, 5, 8, 2, undefined],
    [{ by: 'extent', count: 5, length: 100, margin: 5, gap: 0, size: 6 }, 5, 21, 15, 0],
    [{ by: 'fit', count: 0, length: 100, margin: 5, gap: 2, size: 6 }, 11, 8, 2, 4],
    [{ by: 'fit', count: 0, length: 14, margin: 0, gap: 2, size: 6 }, 2, 8, 2, 0],
  ] as const)('the arithmetic of a row: %o', (request, count, spacing, gap, left) => {
    const r = good(planRow(request));
    expect([r.count, r.spacing, r.gap]).toEqual([count, spacing, gap]);
    if (left === undefined) expect(r.left).toBeUndefined();
    else expect(r.left).toBeCloseTo(left, 9);
  });
  it.each([
    [{ by: 'fit', count: 0, length: 10, margin: 3, gap: 2, size: 6 } as const, 'between the margins 4.000 mm are left'],
    [{ by: 'spacing', count: 2.5, length: 10, margin: 3, gap: 2, size: 6 } as const, 'whole number'],
    [{ by: 'spacing', count: 900, length: 10, margin: 3, gap: 2, size: 6 } as const, 'at most 500'],
    [{ by: 'fit', count: 0, length: 1e5, margin: 0, gap: 0, size: 0.01 } as const, 'at most 500'],
  ])('a row that can’t be: %o', (request, words) => {
    const r = planRow(request);
    expect(r.ok ? '' : r.error).toContain(words);
  });
});

describe('regions', () => {
  it('have their holes taken off, by area and centroid', () => {
    const p = sketchProfile({ a: [0, 0], b: [40, 0], c: [40, 20], d: [0, 20], m: [30, 10] }, [
      line('ab'),
      line('bc'),
      line('cd'),
      line('da'),
      circle('m', 5),
    ]);
    const [r, disc] = findRegions(solve(p), false).regions;
    const hole = Math.PI * 25;
    expect(r!.area).toBeCloseTo(800 - hole, 9);
    expect(r!.centroid.x).toBeCloseTo((800 * 20 - hole * 30) / (800 - hole), 9);
    expect(r!.length).toBeCloseTo(120 + 10 * Math.PI, 9);
    expect(disc!.area).toBeCloseTo(hole, 9);
  });
  it('share a dividing line', () => {
    const p = sketchProfile({ a: [0, 0], b: [20, 0], c: [40, 0], d: [40, 20], e: [20, 20], f: [0, 20] }, [
      line('ab'),
      line('bc'),
      line('cd'),
      line('de'),
      line('ef'),
      line('fa'),
      line('be'),
    ]);
    expect(findRegions(solve(p), false).regions.map((r) => r.area)).toEqual([expect.closeTo(400, 9), expect.closeTo(400, 9)]);
  });
  it('of a half profile are closed by the axis, and say what hangs loose and what crosses', () => {
    const half = sketchProfile({ a: [0, 0], b: [30, 0], c: [30, 50], d: [0, 50], e: [35, 55] }, [
      line('ab'),
      line('bc'),
      line('cd'),
      line('ce'),
    ]);
    const r = findRegions(solve(half), true);
    expect(r.regions[0]!.area).toBeCloseTo(1500, 9);
    expect(r.loose).toEqual([{ x: 35, y: 55 }]);
    const bow = sketchProfile({ a: [0, 0], b: [10, 10], c: [10, 0], d: [0, 10] }, [line('ab'), line('bc'), line('cd'), line('da')]);
    expect(findRegions(solve(bow), false).crossings).toHaveLength(1);
  });
  it('of a letter with a counter have one hole', () => {
    const curves = good(textOutline('o', straight({ x: 0, y: 0 }, 0), { height: 10 }));
    const r = findRegions({ ...solve(empty), curves: curves.map((curve, i) => ({ id: `c${i}`, curve, construction: false })) }, false);
    expect(r.regions[0]!.holes).toHaveLength(1);
    const none = textOutline('漢', straight({ x: 0, y: 0 }, 0), { height: 10 });
    expect(none.ok ? '' : none.error).toBe('the font has no “漢”');
  });
});

describe('curvature', () => {
  // Reference: bezier-js, an independent general-purpose library.
  it('agrees with bezier-js on combs, tightest radius and inflections', () => {
    const poles = [
      [0, 0],
      [30, 40],
      [50, -30],
      [80, 10],
    ] as const;
    const b = new Bezier(poles.flat());
    const spline = controlSpline(
      poles.map((p) => [...p]),
      3,
    );
    const c: PlanarCurve = { kind: 'spline', spline, a: { x: 0, y: 0 }, b: { x: 80, y: 10 } };
    const r = readCurve(c, 50);
    const k = (t: number): number => {
      const [d, e] = [b.derivative(t), (b as unknown as { dderivative: (t: number) => { x: number; y: number } }).dderivative(t)];
      return Math.abs(d.x * e.y - d.y * e.x) / Math.hypot(d.x, d.y) ** 3;
    };
    for (const tooth of r.teeth) expect(Math.abs(tooth.curvature)).toBeCloseTo(k(tooth.t), 6);
    const sharpest = Math.max(...Array.from({ length: 20001 }, (_, i) => k(i / 20000)));
    expect(r.tightest.radius).toBeCloseTo(1 / sharpest, 5);
    expect(r.inflections).toHaveLength(b.inflections().filter((t) => t > 0 && t < 1).length);
  });
  it('a circle has the same everywhere, a line none', () => {
    expect(readCurve(arcAbout({ x: 1, y: 2 }, 8, 0, 2)).tightest.radius).toBeCloseTo(8, 9);
    expect(readCurve({ kind: 'line', a: { x: 0, y: 0 }, b: { x: 1, y: 1 } }).tightest.radius).toBe(Number.POSITIVE_INFINITY);
  });
  it('joins are classed by gap, angle and curvature', () => {
    const l: PlanarCurve = { kind: 'line', a: { x: 0, y: 0 }, b: { x: 10, y: 0 } };
    const quarter = arcAbout({ x: 10, y: 5 }, 5, -Math.PI / 2, Math.PI / 2);
    expect(readJoin(l, 1, quarter, 0)).toMatchObject({ class: 'tangent', mismatch: 100 });
    expect(readJoin(l, 1, arcAbout({ x: 10, y: 5 }, 5, -Math.PI / 2 + 0.1, 1), 0).class).toBe('gap');
    const corner = readJoin(l, 1, { kind: 'line', a: { x: 10, y: 0 }, b: { x: 10, y: 5 } }, 0);
    expect(corner.class).toBe('corner');
    expect(corner.angle).toBeCloseTo(90, 9);
    expect(readJoin(l, 1, { kind: 'line', a: { x: 30, y: 0 }, b: { x: 10, y: 0 } }, 1).class).toBe('curvature');
  });
  it('hints which point makes a curve wave', () => {
    const points = [0, 1, 2, 3, 4, 5].map((i) => ({ x: i * 10, y: 20 * Math.sin((i * Math.PI) / 5) + (i === 3 ? -6 : 0) }));
    const hint = fairnessHint(points)!;
    expect(points[hint.drop + 1]).toBe(points[3]);
    expect(hint.inflectionsAfter).toBeLessThan(hint.inflectionsBefore);
    expect(fairnessHint(points.map((p) => ({ ...p, y: p.x * p.x })))).toBeUndefined();
  });
});

it('curves meet where geometry says', () => {
  const l: PlanarCurve = { kind: 'line', a: { x: -10, y: 3 }, b: { x: 10, y: 3 } };
  const c = arcAbout({ x: 0, y: 0 }, 5, 0, 2 * Math.PI);
  expect(intersect(l, c).map((h) => Math.abs(h.at.x))).toEqual([expect.closeTo(4, 9), expect.closeTo(4, 9)]);
  expect(intersect(c, arcAbout({ x: 6, y: 0 }, 5, 0, 2 * Math.PI)).map((h) => h.at.x)).toEqual([
    expect.closeTo(3, 9),
    expect.closeTo(3, 9),
  ]);
  const s: PlanarCurve = {
    kind: 'spline',
    spline: controlSpline(
      [
        [-5, 0],
        [0, 10],
        [5, 0],
      ],
      2,
    ),
    a: { x: -5, y: 0 },
    b: { x: 5, y: 0 },
  };
  // y = 5 − x²/5 meets y = 3 at x = ±√10.
  expect(intersect(l, s).map((h) => Math.abs(h.at.x))).toEqual([expect.closeTo(Math.sqrt(10), 8), expect.closeTo(Math.sqrt(10), 8)]);
  expect(
    intersect({ kind: 'line', a: { x: 0, y: 0 }, b: { x: 1, y: 0 } }, { kind: 'line', a: { x: 5, y: -1 }, b: { x: 5, y: 1 } }, 'a')[0]!.at
      .x,
  ).toBeCloseTo(5, 12);
});

it('a part of a spline is the same curve', () => {
  const s = interpolateCubic([
    [0, 0],
    [10, 8],
    [25, 3],
    [30, 20],
  ]);
  const part = splitSpline(s, 0.23, 0.81);
  for (let i = 0; i <= 20; i++) {
    const [p, q] = [evaluateBSpline(part, i / 20)[0]!, evaluateBSpline(s, 0.23 + (0.58 * i) / 20)[0]!];
    expect(Math.hypot(p[0]! - q[0]!, p[1]! - q[1]!)).toBeLessThan(1e-10);
  }
});

describe('relations offered for what is chosen', () => {
  const p = sketchProfile({ a: [0, 0], b: [30, 0], c: [30, 20], d: [5, 22], m: [50, 10] }, [
    line('ab'),
    line('bc'),
    circle('m', 6),
    { kind: 'spline', id: 's', from: 'c', to: 'd', through: [] },
  ]);
  const words = (...refs: string[]): string[] => relationsFor(p, refs, true).map((o) => o.words);
  it('fit it', () => {
    expect(words('a', 'b')).toContain('level');
    expect(words('ab', 'bc')).toEqual(['parallel', 'square', 'in line', 'equal length', 'angle', 'distance', 'offset']);
    expect(words('om')).toEqual(['radius', 'diameter']);
    expect(words('ab', 'om')).toEqual(['tangent']);
    expect(words('bc', 's')).toEqual(['tangent', 'smooth (curvature)']);
    expect(words('b', 'axis')).toContain('on the curve');
    expect(words('a', 'b', 'axis')).toEqual(['symmetric about the line']);
  });
  it('take their value from the drawing, and a led spline gets its handle', () => {
    const r = solve(p);
    const length = relationsFor(p, ['ab'], true).find((o) => o.words === 'length')!;
    const with30 = accept(p, r, length).profile;
    expect(with30.constraints[0]).toMatchObject({ kind: 'arc-length', value: '30 mm', driving: true });
    const smooth = relationsFor(p, ['bc', 's'], true).find((o) => o.words.startsWith('smooth'))!;
    const q = settle(accept(p, r, smooth).profile, noNames);
    expect(q.error).toBeUndefined();
    const s = solve(q.profile);
    expect(readJoin(s.curves.find((c) => c.id === 'bc')!.curve, 1, s.curves.find((c) => c.id === 's')!.curve, 0).class).toBe('curvature');
  });
  it('dimensions that only read follow the drawing', () => {
    const read = {
      ...p,
      constraints: [{ kind: 'angle', id: 'd1', a: 'ab', b: 'bc', reverse: true, value: '', driving: false }],
    } as Profile;
    expect(readings(read, solve(read)).get('d1')).toBeCloseTo(Math.PI / 2, 9);
    expect(dimensionNotes(solve(read))[0]!.words).toBe('(90°)');
  });
});

it('a picture is scaled about the first of two places', () => {
  const picture = { data: '', ratio: 0.5, x: -50, y: 0, width: 100, strength: 1, locked: false };
  const r = good(scalePicture(picture, { x: -30, y: 10 }, { x: 10, y: 10 }, 80));
  expect([r.width, r.x, r.y]).toEqual([200, -70, -10]);
  expect(scalePicture(picture, { x: 0, y: 0 }, { x: 0, y: 0 }, 80).ok).toBe(false);
  expect(scalePicture(picture, { x: 0, y: 0 }, { x: 5, y: 0 }, -1).ok).toBe(false);
});

describe.each([diffuserBody, ladleGrip, robeHook, soapTray].map((p) => [p.name, p] as const))('the profiles of the %s', (_, demo) => {
  const scope = evaluateDimensions(demo.dimensions).scope;
  it('are fully held by named dimensions', () => {
    for (const p of demo.profiles) {
      const d = diagnose(solve(p, scope).sketch);
      expect([p.name, d.freedoms, d.repeats]).toEqual([p.name, 0, []]);
    }
  });
  it('stay valid at ±30 % of every dimension', () => {
    for (const d of demo.dimensions)
      for (const k of [0.7, 0.85, 1.15, 1.3]) {
        const s = evaluateDimensions(demo.dimensions.map((x) => (x === d ? { ...x, expr: `(${x.expr})*${k}` } : x))).scope;
        for (const p of demo.profiles) {
          const r = resolveProfile(p, s);
          const o = r.ok && p.half ? findOutline(r.value, p.name) : r;
          expect([d.name, k, o.ok ? '' : o.error.message]).toEqual([d.name, k, '']);
        }
      }
  });
});

describe('the demo’s profiles', () => {
  const scope = evaluateDimensions(diffuserBody.dimensions).scope;
  it('can be dragged nowhere where they are held, and anywhere where they are let go', () => {
    const belly = diffuserBody.profiles[0]!;
    const held = startDrag(belly, scope, { points: ['p3'] })!;
    held.move(9, 9);
    expect(held.profile().points[2]!.x).toBeCloseTo(46.2, 9);
    const free = { ...belly, constraints: belly.constraints.filter((c) => c.id !== 'd2') };
    const drag = startDrag(free, scope, { points: ['p3'] })!;
    const r = good(drag.move(3, 7));
    expect(r.points.get('p3')!.x).toBeCloseTo(49.2, 5);
    expect(r.points.get('p3')!.y).toBeCloseTo(50, 9);
    expect(Math.abs(areaAndCentroid(good(findOutline(r, 'Belly'))).area)).toBeGreaterThan(3968);
    expect(settled(free, r.sketch).points[2]!.x).toBeCloseTo(49.2, 5);
  });
  it('what a radius of a circle is dragged to, it takes', () => {
    const p = sketchProfile({ m: [0, 0], a: [5, 0] }, [circle('m', 5)], [on('a', 'om')]);
    const drag = startDrag(p, noNames, { radius: 'om' })!;
    const c = good(drag.move(0, 0, 8)).curves[0]!.curve;
    expect(c.kind === 'arc' && c.radius).toBeCloseTo(8, 5);
  });
});
