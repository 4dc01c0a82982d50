/**
 * Union, difference and intersection of bodies turned about one axis, in their half plane: outlines are cut where they cross, every stretch is
 * kept or dropped by whether it lies inside the other, and what is kept is chained. Stretches that both share are told by their sense.
 */
import { piece } from '../curves/offset';
import { isWhole, type PlanarCurve, pointAt, reverse } from '../curves/planar';
import { mergeNames } from '../recipe/names';
import { fail, ok, type Result } from '../result';
import { chained, OpenChain, sealed } from './chain';
import { crossPieces } from './crossings';
import { Field, type Nearest, newNearest } from './field';
import { endsOf } from './hollow';
import { Inside } from './inside';
import { evaluatorOf, newJet } from './jets';
import { AXIS, curvesOf, type Loop, type Meridian, type MeridianCurve, signedArea, sweptVolume } from './meridian';
import type { Piece } from './pieces';

export type Combination = 'join' | 'cut' | 'common';

/** Curves nearer than this over a whole stretch are one, mm. */
const SAME = 1e-6;
/** Nearer than this and not the same, it can't be told what is meant, mm. */
const UNSURE = 1e-5;

/**
 * @returns the pieces that result, each with its outside first and its holes; none where nothing is left. An error where the outlines graze each
 *   other so that they can't be told apart
 */
export function combined(a: Meridian, b: Meridian, how: Combination): Result<Meridian[]> {
  const [A, B] = [sideOf(a), sideOf(b)];
  split(A, B);
  try {
    const made = traced(A, B, how);
    const shared = how === 'common' ? made : traced(A, B, 'common');
    const [volume, common] = [volumeOf(made), volumeOf(shared)];
    const wanted = { join: A.volume + B.volume - common, cut: A.volume - common, common }[how];
    if (Math.abs(volume - wanted) > 1e-9 * (A.volume + B.volume)) return fail('their amounts do not add up');
    return ok(piecesOfLoops(made));
  } catch (e) {
    if (e instanceof OpenChain || e instanceof Unsure) return fail(`the outlines graze each other (${e.message})`);
    throw e;
  }
}

class Unsure extends Error {}

interface Side {
  readonly curves: readonly { readonly c: MeridianCurve; readonly q: Piece }[];
  readonly field: Field;
  readonly inside: Inside;
  readonly volume: number;
}

function sideOf(m: Meridian): Side {
  const all = m.loops.flat();
  return {
    curves: all.map((c, i) => ({ c, q: wholePiece(c, i) })),
    field: new Field(all.map((c) => c.curve)),
    inside: new Inside(curvesOf(m)),
    volume: sweptVolume(curvesOf(m)),
  };
}

const j = newJet();

function wholePiece(c: MeridianCurve, origin: number): Piece {
  const e = evaluatorOf(c.curve);
  const k = c.curve;
  const per = k.kind === 'line' ? 1 : k.kind === 'arc' ? Math.max(2, Math.ceil(Math.abs(k.sweep) / 0.2)) : 12;
  const ts = [0];
  for (let b = 1; b < e.breaks.length; b++)
    for (let n = 1; n <= per; n++) ts.push(e.breaks[b - 1]! + ((e.breaks[b]! - e.breaks[b - 1]!) * n) / per);
  const p = new Float64Array(2 * ts.length);
  let [x0, y0, x1, y1, slack] = [Infinity, Infinity, -Infinity, -Infinity, 1e-6];
  ts.forEach((t, i) => {
    e.into(t, j);
    p.set([j[0]!, j[1]!], 2 * i);
    x0 = Math.min(x0, j[0]!);
    x1 = Math.max(x1, j[0]!);
    y0 = Math.min(y0, j[1]!);
    y1 = Math.max(y1, j[1]!);
  });
  for (let i = 1; k.kind !== 'line' && i < ts.length; i++) {
    e.into((ts[i]! + ts[i - 1]!) / 2, j);
    const [mx, my] = [(p[2 * i]! + p[2 * i - 2]!) / 2, (p[2 * i + 1]! + p[2 * i - 1]!) / 2];
    slack = Math.max(slack, 2 * Math.hypot(j[0]! - mx, j[1]! - my));
  }
  const box = [x0 - slack, y0 - slack, x1 + slack, y1 + slack] as const;
  const planar = k.kind === 'line' || k.kind === 'arc' ? { planar: k } : {};
  return {
    role: 'open',
    origin,
    name: c.face,
    e,
    distance: 0,
    t0: 0,
    t1: 1,
    ts: Float64Array.from(ts),
    p,
    slack,
    box,
    cuts: [],
    ...planar,
  };
}

const near: Nearest = newNearest();

/** Cuts either side where the other crosses it, and where the other has a corner on it: there a shared stretch may end. */
function split(a: Side, b: Side): void {
  for (const x of a.curves) for (const y of b.curves) crossPieces(x.q, y.q);
  for (const [one, other] of [
    [a, b],
    [b, a],
  ] as const)
    for (const { c } of other.curves)
      for (let i = 0; i < one.curves.length; i++) {
        near.distance = UNSURE;
        near.curve = -1;
        one.field.nearestOn(i, c.curve.a.x, c.curve.a.y, near);
        if (near.curve >= 0) one.curves[i]!.q.cuts.push(near.t);
      }
}

/** A stretch of a curve between two parameters, run against it where `turned`. */
interface Part {
  readonly source: PlanarCurve;
  readonly face: string;
  readonly origin: string;
  readonly s0: number;
  readonly s1: number;
  readonly turned: boolean;
}

function curveOf({ source, s0, s1, turned }: Part): PlanarCurve {
  const curve = s0 === 0 && s1 === 1 ? source : piece(source, s0, s1);
  return turned ? reverse(curve) : curve;
}

function traced(a: Side, b: Side, how: Combination): Loop[] {
  const parts: Part[] = [];
  const wants = { join: [false, false], cut: [false, true], common: [true, true] }[how] as [boolean, boolean];
  const shared = how === 'cut' ? 'against' : 'along';
  for (const [k, [one, other]] of [
    [a, b],
    [b, a],
  ].entries() as IterableIterator<[number, [Side, Side]]>)
    for (const { c, q } of one.curves)
      for (const [s0, s1] of stretches(q)) {
        const place = placeOf(q, s0, s1, other);
        if (typeof place === 'string') {
          // What both share is taken once, from the first.
          if (place !== shared || k === 1) continue;
        } else if (place !== wants[k]) continue;
        const twin = place === 'along' ? other.curves[near.curve]!.c.face : undefined;
        const face = twin === undefined ? c.face : c.face === AXIS || twin === AXIS ? AXIS : mergeNames([c.face, twin]);
        parts.push({ source: c.curve, face, origin: `${k}.${q.origin}`, s0, s1, turned: how === 'cut' && k === 1 });
      }
  const ends = parts.map((p) => ({ p, ...endsOf(curveOf(p)) }));
  const loops = chained(ends, SAME).map((l) => sealed(rejoined(l.map((e) => e.p))));
  return loops.filter((l) => Math.abs(signedArea(l)) > 1e-9);
}

function stretches(q: Piece): [number, number][] {
  const cuts = [0];
  const length = Math.hypot(q.box[2] - q.box[0], q.box[3] - q.box[1]);
  for (const t of q.cuts.toSorted((x, y) => x - y))
    if ((t - cuts[cuts.length - 1]!) * length > SAME && (1 - t) * length > SAME) cuts.push(t);
  cuts.push(1);
  return cuts.slice(1).map((t, i) => [cuts[i]!, t]);
}

/** Where a stretch lies to the other body: inside it, outside, or on its skin, run along with it or against it. Leaves the nearest place in `near`. */
function placeOf(q: Piece, s0: number, s1: number, other: Side): boolean | 'along' | 'against' {
  const seen = [0.46, 0.71, 0.19].map((w) => {
    q.e.into(s0 + w * (s1 - s0), j);
    const [x, y, dx, dy] = [j[0]!, j[1]!, j[2]!, j[3]!];
    other.field.nearest(x, y, near, UNSURE);
    if (near.curve < 0) return other.inside.has(x, y);
    if (near.distance > SAME) throw new Unsure(`at ${x.toFixed(4)}, ${y.toFixed(4)}`);
    other.curves[near.curve]!.q.e.into(near.t, j);
    return dx * j[2]! + dy * j[3]! > 0 ? ('along' as const) : ('against' as const);
  });
  if (seen.some((s) => s !== seen[0])) throw new Unsure('a stretch lies on both sides');
  return seen[0]!;
}

/** Stretches of one curve that run on into each other, as one. */
function rejoined(loop: readonly Part[]): MeridianCurve[] {
  const n = loop.length;
  /** On a whole circle the end runs on into the beginning. */
  const runsOn = (a: Part, b: Part): boolean => {
    const [end, begin] = a.turned ? [b.s1, a.s0] : [a.s1, b.s0];
    return a.origin === b.origin && a.face === b.face && (end === begin || (isWhole(a.source) && end === 1 && begin === 0));
  };
  const start = loop.findIndex((p, i) => !runsOn(loop[(i + n - 1) % n]!, p));
  const order = start > 0 ? [...loop.slice(start), ...loop.slice(0, start)] : [...loop];
  const groups: Part[] = [];
  for (const p of order) {
    const last = groups[groups.length - 1];
    if (!last || !runsOn(last, p)) groups.push(p);
    else {
      const [first, second] = p.turned ? [p, last] : [last, p];
      const over = first.s1 === second.s0 ? 0 : 1;
      groups[groups.length - 1] = { ...last, s0: first.s0, s1: second.s1 + over };
    }
  }
  const out: MeridianCurve[] = [];
  for (const p of groups) {
    const curve = curveOf(p);
    const last = out[out.length - 1];
    if (last?.face === AXIS && p.face === AXIS) out[out.length - 1] = { face: AXIS, curve: { kind: 'line', a: last.curve.a, b: curve.b } };
    else out.push({ curve, face: p.face });
  }
  return out;
}

const volumeOf = (loops: readonly Loop[]): number => sweptVolume(loops.map((l) => l.map((c) => c.curve)));

/** Loops by what hangs together: every outside with the holes that lie in it. */
export function piecesOfLoops(loops: readonly Loop[]): Meridian[] {
  const outsides = loops.filter((l) => signedArea(l) > 0);
  const holes = loops.filter((l) => signedArea(l) < 0);
  return outsides.map((outside) => {
    const inside = new Inside([outside.map((c) => c.curve)]);
    const mine = holes.filter((h) => {
      const p = pointAt(h[0]!.curve, 0.5);
      const around = outsides.filter((o) => new Inside([o.map((c) => c.curve)]).has(p.x, p.y));
      // Of nested outsides the innermost one has it.
      const innermost = around.toSorted((a, b) => signedArea(a) - signedArea(b))[0];
      return innermost === outside && inside.has(p.x, p.y);
    });
    return { loops: [outside, ...mine] };
  });
}

/** Whether two places of an outline fall together away from its run: a body that touches itself along a circle is none. */
export function touchesItself(m: Meridian): boolean {
  const corners = m.loops.flatMap((l) => l.map((c) => c.curve.a));
  return corners.some((p, i) => corners.some((q, k) => k > i && Math.hypot(p.x - q.x, p.y - q.y) < SAME && m.loops.flat().length > 1));
}
