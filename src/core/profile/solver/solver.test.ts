/** Sketches whose solutions are known from geometry (worked by hand; no source but Euclid unless one is named). */
import { describe, expect, it } from 'vitest';
import {
  angle,
  arc,
  circle,
  distance,
  fixedAt,
  line,
  on,
  radius,
  type Solved,
  sketchProfile,
  solved,
} from '../../../../tests/support/sketch';
import type { Profile } from '../../recipe/schema';
import { findConflict } from './conflict';
import { diagnose } from './diagnose';

interface Case {
  readonly name: string;
  readonly profile: Profile;
  /** Freedoms left. */
  readonly free: number;
  readonly check?: (s: Solved) => void;
  readonly repeats?: readonly (readonly string[])[];
}
const near = (p: { x: number; y: number }, x: number, y: number): void => {
  expect(Math.hypot(p.x - x, p.y - y)).toBeLessThan(1e-7);
};
const gap = (s: Solved, a: string, b: string): number => Math.hypot(s.at(b).x - s.at(a).x, s.at(b).y - s.at(a).y);
const square = { a: [0.3, -0.2], b: [10.5, 0.4], c: [9.6, 8.8], d: [-0.4, 9.3] } as const;
const box = [line('ab'), line('bc'), line('cd'), line('da')];
const level = (a: string, b: string) => ({ kind: 'horizontal', a, b }) as const;
const plumb = (a: string, b: string) => ({ kind: 'vertical', a, b }) as const;
const boxed = [level('a', 'b'), plumb('b', 'c'), level('c', 'd'), plumb('d', 'a')];
const meet = (a: string, b = 'origin') => ({ kind: 'coincident', a, b }) as const;
const touch = (a: string, b: string) => ({ kind: 'tangent', a, b }) as const;
const equal = (a: string, b: string) => ({ kind: 'equal', a, b }) as const;
const slotPlaces = { a: [0, 5], b: [20, 5.5], c: [20.5, -5], d: [0.4, -5], m: [20, 0], n: [0, 0] } as const;
const slotCurves = [line('ab'), arc('bcm', false), line('cd'), arc('dan', false)];

const cases: Case[] = [
  { name: 'a lone point', profile: sketchProfile({ a: [3, 4] }, []), free: 2, check: (s) => near(s.at('a'), 3, 4) },
  { name: 'a point on the origin', profile: sketchProfile({ a: [3, 4] }, [], [meet('a')]), free: 0, check: (s) => near(s.at('a'), 0, 0) },
  {
    name: 'a point on the axis',
    profile: sketchProfile({ a: [3, 4] }, [], [on('a', 'axis')]),
    free: 1,
    check: (s) => near(s.at('a'), 0, 4),
  },
  {
    name: 'a point on the base level',
    profile: sketchProfile({ a: [3, 4] }, [], [on('a', 'level')]),
    free: 1,
    check: (s) => near(s.at('a'), 3, 0),
  },
  {
    name: 'two points that coincide meet halfway',
    profile: sketchProfile({ a: [0, 0], b: [4, 2] }, [], [meet('a', 'b')]),
    free: 2,
    check: (s) => near(s.at('a'), 2, 1),
  },
  {
    name: 'a bar of a set length grows evenly from both ends',
    profile: sketchProfile({ a: [0, 0], b: [6, 8] }, [line('ab')], [distance('a', 'b', 20)]),
    free: 3,
    check: (s) => {
      expect(gap(s, 'a', 'b')).toBeCloseTo(20, 9);
      near(s.at('a'), -3, -4);
    },
  },
  {
    name: 'a bar fixed at one end with length and slope',
    profile: sketchProfile({ a: [0, 0], b: [6, 7] }, [line('ab')], [fixedAt('a'), distance('a', 'b', 10), angle('level', 'ab', 30)]),
    free: 0,
    check: (s) => near(s.at('b'), 10 * Math.cos(Math.PI / 6), 5),
  },
  {
    name: 'a level bar',
    profile: sketchProfile({ a: [0, 1], b: [6, 3] }, [line('ab')], [level('a', 'b')]),
    free: 3,
    check: (s) => expect(s.at('b').y).toBeCloseTo(2, 9),
  },
  {
    name: 'a rectangle from four loose lines',
    profile: sketchProfile(square, box, [...boxed, meet('a'), distance('a', 'b', 12), distance('b', 'c', 7)]),
    free: 0,
    check: (s) => near(s.at('c'), 12, 7),
  },
  { name: 'a rectangle without its sizes', profile: sketchProfile(square, box, [...boxed, meet('a')]), free: 2 },
  {
    name: 'a rectangle with an angle too many',
    profile: sketchProfile(square, box, [...boxed, meet('a'), { kind: 'perpendicular', a: 'ab', b: 'bc' }]),
    free: 2,
    repeats: [['k6']],
  },
  {
    name: 'a rectangle held by parallels and one right angle',
    profile: sketchProfile(square, box, [
      { kind: 'parallel', a: 'ab', b: 'cd' },
      { kind: 'parallel', a: 'bc', b: 'da' },
      { kind: 'perpendicular', a: 'ab', b: 'bc' },
      level('a', 'b'),
      meet('a'),
      distance('a', 'b', 12),
      distance('b', 'c', 7),
    ]),
    free: 0,
    check: (s) => near(s.at('c'), 12, 7),
  },
  {
    name: 'a right triangle 3-4-5',
    profile: sketchProfile(
      { a: [0, 0], b: [2.6, 0.2], c: [2.4, 4.4] },
      [line('ab'), line('bc'), line('ca')],
      [meet('a'), level('a', 'b'), distance('a', 'b', 3), distance('b', 'c', 4), distance('c', 'a', 5)],
    ),
    free: 0,
    check: (s) => near(s.at('c'), 3, 4),
  },
  {
    name: 'the same triangle drawn below stays below',
    profile: sketchProfile(
      { a: [0, 0], b: [2.6, 0.2], c: [2.4, -4.4] },
      [line('ab'), line('bc'), line('ca')],
      [meet('a'), level('a', 'b'), distance('a', 'b', 3), distance('b', 'c', 4), distance('c', 'a', 5)],
    ),
    free: 0,
    check: (s) => near(s.at('c'), 3, -4),
  },
  {
    name: 'a triangle pressed flat, 1 + 2 = 3, is rigid and repeats nothing',
    profile: sketchProfile(
      { a: [0, 0], b: [1, 0], c: [3, 0] },
      [line('ab'), line('bc'), line('ca')],
      [meet('a'), level('a', 'c'), distance('a', 'b', 1), distance('b', 'c', 2), distance('c', 'a', 3)],
    ),
    free: 0,
    check: (s) => near(s.at('b'), 1, 0),
  },
  {
    name: 'an equilateral triangle by equal sides',
    profile: sketchProfile(
      { a: [0, 0], b: [10, 0], c: [4, 7] },
      [line('ab'), line('bc'), line('ca')],
      [meet('a'), level('a', 'b'), equal('ab', 'bc'), equal('bc', 'ca'), distance('a', 'b', 10)],
    ),
    free: 0,
    check: (s) => near(s.at('c'), 5, 5 * Math.sqrt(3)),
  },
  {
    name: 'a hexagon of equal sides and one angle is not rigid',
    profile: sketchProfile(
      { a: [10, 0], b: [5, 8.66], c: [-5, 8.66], d: [-10, 0], e: [-5, -8.66], f: [5, -8.66] },
      [line('ab'), line('bc'), line('cd'), line('de'), line('ef'), line('fa')],
      [
        equal('ab', 'bc'),
        equal('bc', 'cd'),
        equal('cd', 'de'),
        equal('de', 'ef'),
        equal('ef', 'fa'),
        fixedAt('a'),
        fixedAt('b'),
        angle('ab', 'bc', 120, true),
      ],
    ),
    free: 2,
  },
  { name: 'a circle is free in place and size', profile: sketchProfile({ m: [1, 2] }, [circle('m', 5)]), free: 3 },
  {
    name: 'a circle of a set radius about the origin',
    profile: sketchProfile({ m: [1, 2] }, [circle('m', 5)], [meet('m'), radius('om', 7)]),
    free: 0,
    check: (s) => expect(s.radius('om')).toBeCloseTo(7, 9),
  },
  {
    name: 'a circle through three points has their circumradius',
    profile: sketchProfile(
      { m: [2, 1], a: [0, 0], b: [6, 0], c: [0, 8] },
      [circle('m', 3)],
      [fixedAt('a'), fixedAt('b'), fixedAt('c'), on('a', 'om'), on('b', 'om'), on('c', 'om')],
    ),
    free: 0,
    check: (s) => {
      near(s.at('m'), 3, 4);
      expect(s.radius('om')).toBeCloseTo(5, 9);
    },
  },
  {
    name: 'a line touches a circle at its radius',
    profile: sketchProfile(
      { m: [0, 0], a: [-8, 6], b: [8, 6.5] },
      [circle('m', 5), line('ab')],
      [meet('m'), radius('om', 5), level('a', 'b'), touch('ab', 'om')],
    ),
    free: 2,
    check: (s) => expect(s.at('a').y).toBeCloseTo(5, 9),
  },
  {
    name: 'a line drawn below touches the circle below',
    profile: sketchProfile(
      { m: [0, 0], a: [-8, -6], b: [8, -6.5] },
      [circle('m', 5), line('ab')],
      [meet('m'), radius('om', 5), level('a', 'b'), touch('ab', 'om')],
    ),
    free: 2,
    check: (s) => expect(s.at('a').y).toBeCloseTo(-5, 9),
  },
  {
    name: 'two circles touch from outside',
    profile: sketchProfile(
      { m: [0, 0], n: [9, 0.5] },
      [circle('m', 5), circle('n', 3)],
      [meet('m'), on('n', 'level'), radius('om', 5), radius('on', 3), touch('om', 'on')],
    ),
    free: 0,
    check: (s) => near(s.at('n'), 8, 0),
  },
  {
    name: 'two circles touch from inside',
    profile: sketchProfile(
      { m: [0, 0], n: [2.4, 0.5] },
      [circle('m', 5), circle('n', 3)],
      [meet('m'), on('n', 'level'), radius('om', 5), radius('on', 3), touch('om', 'on')],
    ),
    free: 0,
    check: (s) => near(s.at('n'), 2, 0),
  },
  {
    name: 'a circle between three: the inner circle of a 3-4-5 triangle has radius 1',
    profile: sketchProfile(
      { a: [0, 0], b: [4, 0], c: [0, 3], m: [1.3, 0.8] },
      [line('ab'), line('bc'), line('ca'), circle('m', 0.7)],
      [fixedAt('a'), fixedAt('b'), fixedAt('c'), touch('ab', 'om'), touch('bc', 'om'), touch('ca', 'om')],
    ),
    free: 0,
    check: (s) => {
      near(s.at('m'), 1, 1);
      expect(s.radius('om')).toBeCloseTo(1, 9);
    },
  },
  {
    name: 'Descartes: the fourth circle between three of radius 1 has 2/√3 − 1',
    profile: sketchProfile(
      { a: [0, 0], b: [2, 0], c: [1, Math.sqrt(3)], m: [1.1, 0.5] },
      [circle('a', 1), circle('b', 1), circle('c', 1), circle('m', 0.2)],
      [
        fixedAt('a'),
        fixedAt('b'),
        fixedAt('c'),
        radius('oa', 1),
        radius('ob', 1),
        radius('oc', 1),
        touch('oa', 'om'),
        touch('ob', 'om'),
        touch('oc', 'om'),
      ],
    ),
    free: 0,
    check: (s) => expect(s.radius('om')).toBeCloseTo(2 / Math.sqrt(3) - 1, 9),
  },
  { name: 'an arc is free in five ways', profile: sketchProfile({ a: [5, 0], b: [0, 5], m: [0, 0] }, [arc('abm')]), free: 5 },
  {
    name: 'a fillet between two lines has its tangent points at r',
    profile: sketchProfile(
      { p: [0, 10], a: [0.2, 3], b: [3, 0.2], q: [10, 0], m: [2.8, 2.9] },
      [line('pa'), arc('abm'), line('bq')],
      [fixedAt('p'), fixedAt('q'), plumb('p', 'a'), level('b', 'q'), touch('pa', 'abm'), touch('abm', 'bq'), radius('abm', 4)],
    ),
    free: 0,
    check: (s) => {
      near(s.at('a'), 0, 4);
      near(s.at('b'), 4, 0);
      near(s.at('m'), 4, 4);
    },
  },
  {
    name: 'a fillet of 60° cuts r·√3 from each side',
    profile: sketchProfile(
      { o: [0, 0], p: [20, 0], a: [7, 0], b: [3.5, 6], q: [10, 17.32], m: [7, 4] },
      [line('ap'), arc('bam', true), line('bq')],
      [
        fixedAt('o'),
        { kind: 'fixed', point: 'p' },
        on('a', 'level'),
        angle('level', 'bq', 60),
        on('o', 'bq'),
        distance('o', 'q', 20),
        touch('ap', 'bam'),
        touch('bam', 'bq'),
        radius('bam', 4),
      ],
    ),
    free: 0,
    check: (s) => expect(gap(s, 'o', 'a')).toBeCloseTo(4 * Math.sqrt(3), 7),
  },
  {
    name: 'a semicircle on its diameter is rigid and repeats nothing',
    profile: sketchProfile(
      { a: [5, 0], b: [-5, 0], m: [0, 0] },
      [arc('abm')],
      [fixedAt('a'), level('a', 'b'), distance('a', 'b', 10), radius('abm', 5)],
    ),
    free: 0,
    check: (s) => near(s.at('m'), 0, 0),
  },
  {
    name: 'an arc by its length: a quarter turn of radius 8 is 4π long',
    profile: sketchProfile(
      { a: [8, 0], b: [1, 7.8], m: [0, 0] },
      [arc('abm')],
      [meet('m'), on('a', 'level'), radius('abm', 8), { kind: 'arc-length', curve: 'abm', value: String(4 * Math.PI), driving: true }],
    ),
    free: 0,
    check: (s) => near(s.at('b'), 0, 8),
  },
  {
    name: 'a chord of an arc: 2 r sin(θ/2)',
    profile: sketchProfile(
      { a: [10, 0], b: [4, 9], m: [0, 0] },
      [arc('abm')],
      [meet('m'), on('a', 'level'), radius('abm', 10), distance('a', 'b', 10)],
    ),
    free: 0,
    check: (s) => near(s.at('b'), 5, 5 * Math.sqrt(3)),
  },
  {
    name: 'a slot: four tangencies leave its radii free of each other',
    profile: sketchProfile(slotPlaces, slotCurves, [touch('ab', 'bcm'), touch('bcm', 'cd'), touch('cd', 'dan'), touch('dan', 'ab')]),
    free: 6,
  },
  {
    name: 'a slot of equal ends',
    profile: sketchProfile(slotPlaces, slotCurves, [
      touch('ab', 'bcm'),
      touch('bcm', 'cd'),
      touch('cd', 'dan'),
      touch('dan', 'ab'),
      equal('bcm', 'dan'),
      meet('n'),
      level('n', 'm'),
      radius('bcm', 5),
      distance('n', 'm', 25),
    ]),
    free: 0,
    check: (s) => {
      near(s.at('m'), 25, 0);
      near(s.at('a'), 0, 5);
      near(s.at('c'), 25, -5);
    },
  },
  {
    name: 'two arcs tangent at a shared end run on in one direction',
    profile: sketchProfile(
      { a: [10, 0], b: [0, 10], c: [-6, 16], m: [0, 0], n: [0, 16] },
      [arc('abm'), arc('bcn', false)],
      [
        meet('m'),
        on('a', 'level'),
        radius('abm', 10),
        on('b', 'axis'),
        touch('abm', 'bcn'),
        radius('bcn', 6),
        distance('n', 'c', 6, 'horizontal'),
      ],
    ),
    free: 0,
    check: (s) => {
      near(s.at('n'), 0, 16);
      near(s.at('c'), -6, 16);
    },
  },
  {
    name: 'mirror images about the axis',
    profile: sketchProfile({ a: [3, 4], b: [-2, 5] }, [], [{ kind: 'symmetric', a: 'a', b: 'b', line: 'axis' }]),
    free: 2,
    check: (s) => {
      near(s.at('a'), 2.5, 4.5);
      near(s.at('b'), -2.5, 4.5);
    },
  },
  {
    name: 'mirror images about a sloping line',
    profile: sketchProfile(
      { p: [0, 0], q: [10, 10], a: [6, 1], b: [1.4, 5.5] },
      [line('pq')],
      [fixedAt('p'), fixedAt('q'), fixedAt('a'), { kind: 'symmetric', a: 'a', b: 'b', line: 'pq' }],
    ),
    free: 0,
    check: (s) => near(s.at('b'), 1, 6),
  },
  {
    name: 'a roof drawn symmetric about the axis follows one length',
    profile: sketchProfile(
      { a: [-8, 0], b: [8.5, 0], c: [0.3, 5] },
      [line('ac'), line('cb')],
      [
        on('a', 'level'),
        on('c', 'axis'),
        { kind: 'symmetric', a: 'a', b: 'b', line: 'axis' },
        distance('a', 'c', 10),
        distance('a', 'b', 16),
      ],
    ),
    free: 0,
    check: (s) => near(s.at('c'), 0, 6),
  },
  {
    name: 'the middle of a line',
    profile: sketchProfile(
      { a: [0, 0], b: [10, 4], m: [4, 3] },
      [line('ab')],
      [fixedAt('a'), fixedAt('b'), { kind: 'midpoint', point: 'm', curve: 'ab' }],
    ),
    free: 0,
    check: (s) => near(s.at('m'), 5, 2),
  },
  {
    name: 'the middle of an arc lies on its bisector',
    profile: sketchProfile(
      { a: [10, 0], b: [0, 10], m: [0, 0], h: [6, 6] },
      [arc('abm')],
      [fixedAt('a'), fixedAt('b'), fixedAt('m'), { kind: 'midpoint', point: 'h', curve: 'abm' }],
    ),
    free: 0,
    repeats: [],
    check: (s) => near(s.at('h'), 5 * Math.SQRT2, 5 * Math.SQRT2),
  },
  {
    name: 'lines in line',
    profile: sketchProfile(
      { a: [0, 0], b: [10, 0], c: [12, 1], d: [20, -1] },
      [line('ab'), line('cd')],
      [fixedAt('a'), fixedAt('b'), { kind: 'collinear', a: 'ab', b: 'cd' }],
    ),
    free: 2,
    check: (s) => expect(Math.abs(s.at('c').y) + Math.abs(s.at('d').y)).toBeLessThan(1e-9),
  },
  {
    name: 'concentric circles with an offset between them',
    profile: sketchProfile(
      { m: [0, 0], n: [1, 1] },
      [circle('m', 5), circle('n', 8)],
      [meet('m'), radius('om', 5), { kind: 'offset', a: 'om', b: 'on', value: '2.5', driving: true }],
    ),
    free: 0,
    check: (s) => {
      near(s.at('n'), 0, 0);
      expect(s.radius('on')).toBeCloseTo(7.5, 9);
    },
  },
  {
    name: 'an offset line stays parallel on its side',
    profile: sketchProfile(
      { a: [0, 0], b: [10, 0], c: [0, 3], d: [10, 4] },
      [line('ab'), line('cd')],
      [fixedAt('a'), fixedAt('b'), { kind: 'offset', a: 'ab', b: 'cd', value: '2', driving: true }],
    ),
    free: 2,
    check: (s) => {
      expect(s.at('c').y).toBeCloseTo(2, 9);
      expect(s.at('d').y).toBeCloseTo(2, 9);
    },
  },
  {
    name: 'a diameter across the axis is halved',
    profile: sketchProfile({ a: [3, 4] }, [], [{ kind: 'across', point: 'a', value: '50', driving: true }, on('a', 'level')]),
    free: 0,
    check: (s) => near(s.at('a'), 25, 0),
  },
  {
    name: 'a diameter of a circle',
    profile: sketchProfile({ m: [0, 0] }, [circle('m', 3)], [{ kind: 'diameter', curve: 'om', value: '30', driving: true }]),
    free: 2,
    check: (s) => expect(s.radius('om')).toBeCloseTo(15, 9),
  },
  {
    name: 'a level distance keeps its side',
    profile: sketchProfile(
      { a: [0, 0], b: [-4, 3] },
      [],
      [meet('a'), distance('a', 'b', 9, 'horizontal'), distance('a', 'b', 2, 'vertical')],
    ),
    free: 0,
    check: (s) => near(s.at('b'), -9, 2),
  },
  {
    name: 'the distance of a point from a line',
    profile: sketchProfile(
      { a: [0, 0], b: [10, 10], c: [2, 8] },
      [line('ab')],
      [fixedAt('a'), fixedAt('b'), distance('c', 'ab', 5), on('c', 'axis')],
    ),
    free: 0,
    check: (s) => near(s.at('c'), 0, 5 * Math.SQRT2),
  },
  {
    name: 'the distance between parallels',
    profile: sketchProfile(
      { a: [0, 0], b: [10, 0], c: [0, 3], d: [10, 4] },
      [line('ab'), line('cd')],
      [fixedAt('a'), fixedAt('b'), { kind: 'parallel', a: 'ab', b: 'cd' }, distance('ab', 'cd', 6)],
    ),
    free: 2,
    check: (s) => expect(s.at('d').y).toBeCloseTo(6, 9),
  },
  {
    name: 'an angle between two lines from a common point',
    profile: sketchProfile(
      { a: [0, 0], b: [10, 0], c: [6, 5] },
      [line('ab'), line('ac')],
      [fixedAt('a'), fixedAt('b'), angle('ab', 'ac', 75), distance('a', 'c', 10)],
    ),
    free: 0,
    check: (s) => near(s.at('c'), 10 * Math.cos((75 * Math.PI) / 180), 10 * Math.sin((75 * Math.PI) / 180)),
  },
  {
    name: 'an angle past the right angle is not taken for its supplement',
    profile: sketchProfile(
      { a: [0, 0], b: [10, 0], c: [1, 9] },
      [line('ab'), line('ac')],
      [fixedAt('a'), fixedAt('b'), angle('ab', 'ac', 140), distance('a', 'c', 10)],
    ),
    free: 0,
    check: (s) => near(s.at('c'), 10 * Math.cos((140 * Math.PI) / 180), 10 * Math.sin((140 * Math.PI) / 180)),
  },
  {
    name: 'a point on an ellipse',
    profile: sketchProfile(
      { m: [0, 0], e: [10, 0], p: [5, 6] },
      [{ kind: 'ellipse', id: 'el', centre: 'm', major: 'e', minor: 6 }],
      [fixedAt('m'), fixedAt('e'), on('p', 'el'), distance('origin', 'p', 6, 'horizontal')],
    ),
    // The half-axis b is still free, and the point's height goes with it.
    free: 1,
    check: (s) => expect(s.at('p').y / s.sketch.system.x[s.sketch.curves.get('el')!.minor!]!).toBeCloseTo(0.8, 7),
  },
  {
    name: 'a level line touches an ellipse at its half-axis',
    profile: sketchProfile(
      { m: [0, 0], e: [10, 0], a: [-5, 7], b: [5, 7] },
      [{ kind: 'ellipse', id: 'el', centre: 'm', major: 'e', minor: 6 }, line('ab')],
      [fixedAt('m'), fixedAt('e'), fixedAt('a'), fixedAt('b'), touch('ab', 'el')],
    ),
    free: 0,
    check: (s) => expect(s.sketch.system.x[s.sketch.curves.get('el')!.minor!]!).toBeCloseTo(7, 7),
  },
  {
    name: 'a spline leaves a line along it',
    profile: sketchProfile(
      { a: [0, 0], b: [10, 0], c: [20, 8] },
      [line('ab'), { kind: 'spline', id: 's', from: 'b', to: 'c', through: [], start: { angle: 25, weight: 1 } }],
      [fixedAt('a'), fixedAt('b'), fixedAt('c'), touch('ab', 's')],
    ),
    free: 1,
    check: (s) => expect(Math.abs(s.sketch.system.x[s.sketch.curves.get('s')!.handles!.get('start')![0]]!)).toBeLessThan(1e-9),
  },
  {
    name: 'a spline by control points leaves a line along its first leg',
    profile: sketchProfile(
      { a: [0, 0], b: [10, 0], c: [15, 2], d: [20, 8], e: [22, 14] },
      [line('ab'), { kind: 'control', id: 's', points: ['b', 'c', 'd', 'e'], degree: 3 }],
      [fixedAt('a'), fixedAt('b'), touch('ab', 's')],
    ),
    free: 5,
    check: (s) => expect(s.at('c').y).toBeCloseTo(0, 9),
  },
  {
    name: 'a point on a spline stays on it',
    profile: sketchProfile(
      { a: [0, 0], b: [10, 5], c: [20, 0], p: [6, 7] },
      [{ kind: 'spline', id: 's', from: 'a', to: 'c', through: ['b'] }],
      [fixedAt('a'), fixedAt('b'), fixedAt('c'), on('p', 's')],
    ),
    free: 1,
  },
  {
    name: 'two of three equal circles in a row of known length',
    profile: sketchProfile(
      { a: [5, 0], b: [15, 1], c: [24, 0] },
      [circle('a', 5), circle('b', 4), circle('c', 6)],
      [
        on('a', 'level'),
        on('b', 'level'),
        on('c', 'level'),
        equal('oa', 'ob'),
        equal('ob', 'oc'),
        touch('oa', 'ob'),
        touch('ob', 'oc'),
        touch('axis', 'oa'),
        distance('axis', 'c', 25),
      ],
    ),
    free: 0,
    check: (s) => expect(s.radius('oa')).toBeCloseTo(5, 9),
  },
  {
    name: 'belt round two pulleys: outer tangents of length √(d² − (R − r)²)',
    profile: sketchProfile(
      { m: [0, 0], n: [30, 0], a: [1, 10], b: [30, 4] },
      [circle('m', 10), circle('n', 4), line('ab')],
      [fixedAt('m'), fixedAt('n'), radius('om', 10), radius('on', 4), on('a', 'om'), on('b', 'on'), touch('ab', 'om'), touch('ab', 'on')],
    ),
    free: 0,
    check: (s) => expect(gap(s, 'a', 'b')).toBeCloseTo(Math.sqrt(900 - 36), 7),
  },
  {
    name: 'Pythagoras on a ladder: 13 against the wall at 5',
    profile: sketchProfile(
      { a: [4, 0.2], b: [0.3, 11] },
      [line('ab')],
      [on('a', 'level'), on('b', 'axis'), distance('a', 'b', 13), distance('axis', 'a', 5)],
    ),
    free: 0,
    check: (s) => near(s.at('b'), 0, 12),
  },
  {
    name: 'a regular pentagon: its circle and side, s = 2 r sin 36°',
    profile: sketchProfile(
      { m: [0, 0], a: [10, 0], b: [3, 9.5], c: [-8, 6], d: [-8, -6], e: [3, -9.5] },
      [circle('m', 10), line('ab'), line('bc'), line('cd'), line('de'), line('ea')],
      [
        meet('m'),
        on('a', 'level'),
        radius('om', 10),
        ...['a', 'b', 'c', 'd', 'e'].map((p) => on(p, 'om')),
        equal('ab', 'bc'),
        equal('bc', 'cd'),
        equal('cd', 'de'),
        equal('de', 'ea'),
      ],
    ),
    free: 0,
    check: (s) => expect(gap(s, 'a', 'b')).toBeCloseTo(20 * Math.sin(Math.PI / 5), 7),
  },
  {
    name: 'an isosceles triangle under a line of symmetry: height √(s² − (b/2)²)',
    profile: sketchProfile(
      { a: [-6, 0], b: [6, 0], c: [0.5, 7] },
      [line('ab'), line('bc'), line('ca')],
      [fixedAt('a'), fixedAt('b'), equal('bc', 'ca'), distance('b', 'c', 10)],
    ),
    free: 0,
    check: (s) => near(s.at('c'), 0, 8),
  },
  {
    name: 'the same length given twice',
    profile: sketchProfile(
      { a: [0, 0], b: [10, 0] },
      [line('ab')],
      [meet('a'), level('a', 'b'), distance('a', 'b', 10), distance('axis', 'b', 10)],
    ),
    free: 0,
    repeats: [['d1'], ['d2']],
  },
  {
    name: 'three angles of a triangle: the third follows from the others',
    profile: sketchProfile(
      { a: [0, 0], b: [10, 0], c: [5, 8.660254037844386] },
      [line('ab'), line('bc'), line('ca')],
      [fixedAt('a'), fixedAt('b'), angle('ab', 'bc', 60, true), angle('bc', 'ca', 60, true), angle('ca', 'ab', 60, true)],
    ),
    free: 0,
    repeats: [['d3'], ['d4'], ['d5']],
  },
  {
    name: 'parallels in a circle: one says nothing new',
    profile: sketchProfile(
      { a: [0, 0], b: [10, 1], c: [0, 5], d: [10, 6], e: [0, 9], f: [10, 10] },
      [line('ab'), line('cd'), line('ef')],
      [
        { kind: 'parallel', a: 'ab', b: 'cd' },
        { kind: 'parallel', a: 'cd', b: 'ef' },
        { kind: 'parallel', a: 'ef', b: 'ab' },
      ],
    ),
    free: 10,
    repeats: [['k1'], ['k2'], ['k3']],
  },
  {
    name: 'a point held on two crossing lines is where they cross, and free of repeats',
    profile: sketchProfile(
      { a: [0, 0], b: [10, 10], c: [0, 8], d: [8, 0], p: [3, 5] },
      [line('ab'), line('cd')],
      [fixedAt('a'), fixedAt('b'), fixedAt('c'), fixedAt('d'), on('p', 'ab'), on('p', 'cd')],
    ),
    free: 0,
    check: (s) => near(s.at('p'), 4, 4),
  },
];

describe('sketches with known solutions', () => {
  it(`are at least sixty with those that contradict`, () => expect(cases.length + contradictions.length).toBeGreaterThanOrEqual(60));
  it.each(cases.map((c) => [c.name, c] as const))('%s', (_, c) => {
    const s = solved(c.profile);
    expect(s.outcome.unmet).toEqual([]);
    expect(s.outcome.ok).toBe(true);
    c.check?.(s);
    const d = diagnose(s.sketch);
    expect(d.freedoms).toBe(c.free);
    if (c.repeats && c.repeats.length > 0) {
      expect(d.repeats).toHaveLength(1);
      expect(c.repeats.flat()).toContain(d.repeats[0]!.constraint);
    } else expect(d.repeats).toEqual([]);
  });
});

const contradictions: { name: string; profile: Profile; between: readonly string[] }[] = [
  {
    name: 'two lengths of one line',
    profile: sketchProfile({ a: [0, 0], b: [10, 0] }, [line('ab')], [distance('a', 'b', 10), distance('a', 'b', 12)]),
    between: ['d1', 'd2'],
  },
  {
    name: 'a triangle longer than its other two sides',
    profile: sketchProfile(
      { a: [0, 0], b: [10, 0], c: [5, 5], z: [30, 30], y: [40, 31] },
      [line('ab'), line('bc'), line('ca'), line('zy')],
      [level('z', 'y'), distance('a', 'b', 10), distance('b', 'c', 3), distance('c', 'a', 4), distance('z', 'y', 8)],
    ),
    between: ['d1', 'd2', 'd3'],
  },
  {
    name: 'level and plumb and long',
    profile: sketchProfile({ a: [0, 0], b: [10, 0.1] }, [line('ab')], [level('a', 'b'), plumb('a', 'b'), distance('a', 'b', 10)]),
    between: ['k1', 'k2', 'd1'],
  },
  {
    name: 'parallel and square at once',
    profile: sketchProfile(
      { a: [0, 0], b: [10, 0], c: [0, 5], d: [9, 8] },
      [line('ab'), line('cd')],
      [{ kind: 'parallel', a: 'ab', b: 'cd' }, distance('a', 'b', 10), { kind: 'perpendicular', a: 'ab', b: 'cd' }],
    ),
    between: ['k1', 'k2'],
  },
  {
    name: 'a radius and a diameter that differ',
    profile: sketchProfile(
      { m: [0, 0] },
      [circle('m', 5)],
      [meet('m'), radius('om', 5), { kind: 'diameter', curve: 'om', value: '12', driving: true }],
    ),
    between: ['d1', 'd2'],
  },
  {
    name: 'a rectangle with a wrong diagonal',
    profile: sketchProfile(square, box, [...boxed, distance('a', 'b', 12), distance('b', 'c', 5), distance('a', 'c', 20)]),
    between: ['d1', 'd2', 'd3', 'k1', 'k2', 'k3', 'k4'],
  },
  {
    name: 'a point on the axis and 5 mm from it',
    profile: sketchProfile({ a: [0, 3], b: [8, 8] }, [], [on('a', 'axis'), distance('axis', 'a', 5), distance('a', 'b', 9)]),
    between: ['k1', 'd1'],
  },
  {
    name: 'a bar that can’t span two fixed points',
    profile: sketchProfile({ a: [0, 0], b: [10, 0] }, [line('ab')], [fixedAt('a'), fixedAt('b'), distance('a', 'b', 11)]),
    between: ['k1', 'k2', 'd1'],
  },
  {
    name: 'angles of a triangle that do not add up',
    profile: sketchProfile(
      { a: [0, 0], b: [10, 0], c: [5, 8] },
      [line('ab'), line('bc'), line('ca')],
      [distance('a', 'b', 10), angle('ab', 'bc', 60, true), angle('bc', 'ca', 60, true), angle('ca', 'ab', 70, true)],
    ),
    between: ['d2', 'd3', 'd4'],
  },
];

describe('constraints that contradict', () => {
  it.each(contradictions.map((c) => [c.name, c] as const))('%s', (_, c) => {
    const s = solved(c.profile);
    expect(s.outcome.ok).toBe(false);
    // The last good shape stands.
    for (const p of c.profile.points) expect(s.at(p.id)).toEqual({ x: p.x, y: p.y });
    const found = findConflict(s.sketch);
    for (const id of found) expect(c.between).toContain(id);
    expect(found.length).toBeGreaterThanOrEqual(Math.min(2, c.between.length));
    // Smallest: alone they can't hold, and with any one of them gone the rest of them can.
    const only = (ids: readonly string[]): Profile => ({
      ...c.profile,
      constraints: c.profile.constraints.filter((k) => ids.includes(k.id)),
    });
    expect(solved(only(found)).outcome.ok).toBe(false);
    for (const id of found) expect(solved(only(found.filter((k) => k !== id))).outcome.ok).toBe(true);
  });
});
