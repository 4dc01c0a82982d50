/**
 * The hollow of a turned body, in its half plane: every place inside that lies the wall or more away from all that is kept. A ball that
 * touches a skin of revolution touches it in its own half plane, so distances in the plane are distances in space.
 *
 * Pieces that may border the hollow are cut where they cross; a stretch stays where it lies at the wall's distance from everything kept and
 * what is to its left is inside and not nearer. What stays is chained to loops, and only then are splines fitted.
 */
import { piece } from '../curves/offset';
import { arcAbout, type PlanarCurve, reverse } from '../curves/planar';
import { fail, ok, type Result } from '../result';
import { type Chained, chained, OpenChain, sealed } from './chain';
import { crossPieces } from './crossings';
import { Field, type Nearest, newNearest } from './field';
import { splineAlong } from './fit';
import { Inside } from './inside';
import { evaluatorOf, newJet } from './jets';
import { AXIS, curvesOf, type Loop, type Meridian, sweptVolume } from './meridian';
import { intoPiece, type Piece, piecesOf, type Sources, sourcesOf } from './pieces';

export interface HollowCurve {
  readonly curve: PlanarCurve;
  /** What it is: the old skin, what is left of an open face, the inside of a face, or the round behind an edge; the axis makes no face. */
  readonly role: 'kept' | 'rim' | 'inner' | 'corner' | 'axis';
  /** The face it is of, or the edge it turns about. */
  readonly of: string;
}

export interface Hollow {
  /** Loops of what is left, the material to the left. */
  readonly body: readonly (readonly HollowCurve[])[];
  /** Loops of the hollow itself, its inside to the left; none where the wall leaves no room. */
  readonly cavity: readonly (readonly HollowCurve[])[];
}

/** A body made ready to be hollowed at several walls. */
export interface Prepared {
  readonly meridian: Meridian;
  readonly sources: Sources;
  readonly inside: Inside;
  /** What loops amount to, mm³ or mm², and the whole body does: amounts must add up. */
  readonly amount: (loops: readonly (readonly PlanarCurve[])[]) => number;
  readonly volume: number;
}

/** @param open faces that are taken away */
export function prepareHollow(meridian: Meridian, open: (face: string) => boolean): Prepared {
  return {
    meridian,
    sources: sourcesOf(meridian, open),
    inside: new Inside(curvesOf(meridian)),
    amount: sweptVolume,
    volume: sweptVolume(curvesOf(meridian)),
  };
}

/** How near splines of the inside lie to the true parallel curves, mm. */
const FIT = 1e-5;
/** How far beside a stretch its inner side is looked at, mm. */
const BESIDE = 2e-6;
const prepared = new WeakMap<Meridian, Map<string, Prepared>>();

/** An outline made ready for hollowing, kept while it lives: a search asks for many walls. */
export function preparedOnce(m: Meridian, open: ReadonlySet<string>, prepare: () => Prepared): Prepared {
  const key = [...open].sort().join('\n');
  const known = prepared.get(m) ?? new Map<string, Prepared>();
  prepared.set(m, known);
  const one = known.get(key) ?? prepare();
  known.set(key, one);
  return one;
}

/** Walls that meet a coincidence (two corners vanish at once) are told apart by a hair, mm. */
const NUDGES = [0, 0, 1e-7, -1e-7, 7e-7, -7e-7, 4e-6, -4e-6, 2e-5, -2e-5, 7e-5, -7e-5];
const WITHIN = [1e-6, 1e-4, 2e-3];

/**
 * @param wall of each kept face, mm
 * @returns an error in words where its borders could not be traced; nothing false is returned
 */
export function hollowOf(prepared: Prepared, wall: (face: string) => number): Result<Hollow> {
  let why = '';
  for (const [trial, nudge] of NUDGES.entries()) {
    const nudged = (face: string): number => wall(face) + nudge;
    const limits = limitsOf(prepared.sources, nudged);
    const { stays, rim } = stretchesOf(prepared, limits, nudged, trial > 0);
    if (stays.length === 0) return ok(unhollowed(prepared.meridian));
    for (const within of WITHIN)
      try {
        const made = assembled(prepared, stays, rim, within);
        const wrong = made && wrongWith(prepared, limits, made, nudged);
        if (!wrong) return ok(made ?? unhollowed(prepared.meridian));
        why = wrong;
      } catch (e) {
        if (!(e instanceof OpenChain)) throw e;
        why = e.message;
      }
  }
  return fail(`the inside could not be traced (${why})`);
}

const unhollowed = (m: Meridian): Hollow => ({
  body: m.loops.map((l) => l.map((c) => ({ curve: c.curve, role: c.face === AXIS ? 'axis' : 'kept', of: c.face }))),
  cavity: [],
});

/** The kept curves by the wall they want. */
interface Limit {
  readonly wall: number;
  readonly field: Field;
}

function limitsOf(sources: Sources, wall: (face: string) => number): Limit[] {
  const by = new Map<number, PlanarCurve[]>();
  for (const c of sources.kept) by.set(wall(c.face), [...(by.get(wall(c.face)) ?? []), c.curve]);
  return [...by].map(([w, curves]) => ({ wall: w, field: new Field(curves) }));
}

interface Stretch extends Chained {
  readonly q: Piece;
  readonly s0: number;
  readonly s1: number;
}

const near: Nearest = newNearest();
const j = newJet();

/** Whether anything kept is nearer than its wall and a margin. */
function tooNear(limits: readonly Limit[], x: number, y: number, margin: number): boolean {
  for (const { wall, field } of limits) {
    field.nearest(x, y, near, wall + Math.abs(margin) * 2);
    if (near.curve >= 0 && near.distance < wall + margin) return true;
  }
  return false;
}

function stretchesOf(
  { sources, inside }: Prepared,
  limits: readonly Limit[],
  wall: (face: string) => number,
  both: boolean,
): { stays: Stretch[]; rim: Stretch[] } {
  const pieces = piecesOf(sources, wall, both);
  for (let i = 0; i < pieces.length; i++) for (let k = i + 1; k < pieces.length; k++) crossPieces(pieces[i]!, pieces[k]!);
  const [stays, rim]: [Stretch[], Stretch[]] = [[], []];
  const valid = (q: Piece, at: number): boolean => {
    intoPiece(q, at, j);
    const [x, y] = [j[0]!, j[1]!];
    const l = Math.hypot(j[2]!, j[3]!);
    if (tooNear(limits, x, y, -1e-8)) return false;
    if (!(l > 0)) return true;
    const away = q.role === 'offset' || q.role === 'corner';
    const [u, v] = [x - (j[3]! / l) * BESIDE, y + (j[2]! / l) * BESIDE];
    if (tooNear(limits, u, v, away ? 0.2 * BESIDE : 0)) return false;
    return !away || inside.has(u, v);
  };
  for (const q of pieces) {
    const cuts = refined(q, valid, (t) => {
      intoPiece(q, t, j);
      return tooNear(limits, j[0]!, j[1]!, -1e-6);
    });
    const hair = 1e-9 * (q.t1 - q.t0);
    let s0 = cuts[0]!;
    for (let k = 1; k < cuts.length; k++) {
      const last = k === cuts.length - 1;
      const s1 = last ? q.t1 : cuts[k]!;
      if (!last && (s1 - s0 < hair || q.t1 - s1 < hair)) continue;
      if (s1 - s0 < hair) continue;
      // Two places, neither the middle, where symmetric things like to touch.
      const stay = valid(q, s0 + 0.46 * (s1 - s0)) && valid(q, s0 + 0.71 * (s1 - s0));
      if (stay) stays.push(stretch(q, s0, s1));
      else if (q.role === 'open' || q.role === 'axis') rim.push(stretch(q, s0, s1));
      s0 = s1;
    }
  }
  return { stays, rim };
}

const SIMPLE = [1e-7, 0.46, 0.71, 1 - 1e-7];
const FINE = [1e-7, 0.03, 0.15, 0.3, 0.46, 0.6, 0.71, 0.85, 0.97, 1 - 1e-7];

/** The cuts of a piece, and those that were missed: a stretch of both kinds is halved until its border is found. */
function refined(q: Piece, valid: (q: Piece, t: number) => boolean, clearlyNear: (t: number) => boolean): number[] {
  const rough = [q.t0, ...q.cuts.toSorted((a, b) => a - b), q.t1];
  const cuts = [rough[0]!];
  for (let k = 1; k < rough.length; k++) {
    const [a, b] = [rough[k - 1]!, rough[k]!];
    if (b - a > 1e-6 * (q.t1 - q.t0)) {
      const at = (q.planar ? SIMPLE : FINE).map((w) => a + w * (b - a));
      const v = at.map((t, i) => i > 0 && i < at.length - 1 && valid(q, t));
      // Ends may lie on other pieces: they count as their neighbours unless clearly too near.
      v[0] = v[1]! && !clearlyNear(at[0]!);
      v[at.length - 1] = v[at.length - 2]! && !clearlyNear(at[at.length - 1]!);
      for (let i = 1; i < at.length; i++) {
        if (v[i] === v[i - 1]) continue;
        let [lo, hi] = [at[i - 1]!, at[i]!];
        for (let r = 0; r < 45; r++) {
          const m = (lo + hi) / 2;
          if (valid(q, m) === v[i - 1]) lo = m;
          else hi = m;
        }
        cuts.push((lo + hi) / 2);
      }
    }
    cuts.push(b);
  }
  return cuts;
}

function stretch(q: Piece, s0: number, s1: number): Stretch {
  const ends = [s0, s1].map((t, k) => {
    intoPiece(q, t, j);
    const [x, y] = [j[0]!, j[1]!];
    if (Math.hypot(j[2]!, j[3]!) < 1e-6) intoPiece(q, t + (k === 0 ? 1e-3 : -1e-3) * (s1 - s0), j);
    return [x, y, j[2]!, j[3]!] as const;
  });
  const [[ax, ay, dax, day], [bx, by, dbx, dby]] = ends as [(typeof ends)[0], (typeof ends)[0]];
  return { q, s0, s1, ax, ay, bx, by, dax, day, dbx, dby };
}

/** Twice over the corners and some places between: enough to tell a loop from a hair. */
function roughArea(loop: readonly Stretch[]): number {
  const p: number[] = [];
  for (const s of loop)
    for (let k = 0; k < 8; k++) {
      intoPiece(s.q, s.s0 + ((s.s1 - s.s0) * k) / 8, j);
      p.push(j[0]!, j[1]!);
    }
  let area = 0;
  for (let i = 0; i < p.length; i += 2) {
    const k = (i + 2) % p.length;
    area += (p[i]! * p[k + 1]! - p[i + 1]! * p[k]!) / 2;
  }
  return area;
}

/** @throws OpenChain @returns undefined where only hairs stay */
function assembled({ sources }: Prepared, stays: readonly Stretch[], rim: readonly Stretch[], within: number): Hollow | undefined {
  const loops = chained(stays, within).filter((l) => Math.abs(roughArea(l)) > 1e-6);
  if (loops.length === 0) return undefined;
  const cavity = loops.map((l) => sealed(merged(l)));
  const rest: HollowCurve[] = sources.kept.map((c) => ({ curve: c.curve, role: 'kept', of: c.face }));
  for (const s of rim)
    if (Math.hypot(s.ax - s.bx, s.ay - s.by) > 1e-9) {
      const { curve } = drawn([s]);
      rest.push(s.q.role === 'axis' ? { curve, role: 'axis', of: AXIS } : { curve, role: 'rim', of: s.q.name });
    }
  for (const l of cavity) for (const c of l) if (c.role === 'inner' || c.role === 'corner') rest.push({ ...c, curve: reverse(c.curve) });
  const ends = rest.map((c) => ({ c, ...endsOf(c.curve) }));
  const body = chained(ends, 1e-4).map((l) => sealed(joinedRims(l.map((e) => e.c))));
  return { body, cavity };
}

export function endsOf(c: PlanarCurve): Chained {
  const e = evaluatorOf(c);
  e.into(0, j);
  const [dax, day] = [j[2]!, j[3]!];
  e.into(1 - 1e-12, j);
  return { ax: c.a.x, ay: c.a.y, bx: c.b.x, by: c.b.y, dax, day, dbx: j[2]!, dby: j[3]! };
}

const ROLES = { offset: 'inner', corner: 'corner', open: 'rim', axis: 'axis' } as const;

/** Stretches of one origin that run on into each other, as one curve. */
function merged(loop: readonly Stretch[]): HollowCurve[] {
  const n = loop.length;
  const runsOn = (a: Stretch, b: Stretch): boolean =>
    a.q.origin === b.q.origin && a.q.distance === b.q.distance && Math.hypot(a.bx - b.ax, a.by - b.ay) < 1e-6 && follows(a, b);
  const start = loop.findIndex((s, i) => !runsOn(loop[(i + n - 1) % n]!, s));
  const order = start > 0 ? [...loop.slice(start), ...loop.slice(0, start)] : loop;
  const groups: Stretch[][] = [];
  for (const s of order) {
    const group = groups[groups.length - 1];
    if (group && runsOn(group[group.length - 1]!, s)) group.push(s);
    else groups.push([s]);
  }
  return groups.map((g) => drawn(g));
}

/** Whether one goes on in the direction of the other; a parallel curve that crosses itself does so at another parameter. */
const follows = (a: Stretch, b: Stretch): boolean =>
  a.q.planar ? a.dbx * b.dax + a.dby * b.day > 0.999 * Math.hypot(a.dbx, a.dby) * Math.hypot(b.dax, b.day) : Math.abs(a.s1 - b.s0) < 1e-9;

function drawn(group: readonly Stretch[]): HollowCurve {
  const [first, last] = [group[0]!, group[group.length - 1]!];
  const { q } = first;
  const named = { role: ROLES[q.role], of: q.name } as const;
  if (q.planar?.kind === 'line')
    return { ...named, curve: { kind: 'line', a: { x: first.ax, y: first.ay }, b: { x: last.bx, y: last.by } } };
  if (q.planar?.kind === 'arc') {
    const { centre, radius, start, sweep } = q.planar;
    const total = group.reduce((sum, s) => sum + (s.q.planar?.kind === 'arc' ? (s.s1 - s.s0) * s.q.planar.sweep : 0), 0);
    return { ...named, curve: arcAbout(centre, radius, start + first.s0 * sweep, total) };
  }
  if (q.distance === 0) {
    const whole = first.s0 <= 0 && last.s1 >= 1;
    return { ...named, curve: whole ? q.e.curve : piece(q.e.curve, first.s0, last.s1) };
  }
  const long: Piece = { ...q, t0: first.s0, t1: last.s1 };
  return { ...named, curve: splineAlong((t, o) => intoPiece(long, t, o), first.s0, last.s1, q.e.breaks, FIT) };
}

/** Stretches of one open line that follow each other, as one. */
function joinedRims(loop: HollowCurve[]): HollowCurve[] {
  const out: HollowCurve[] = [];
  for (const c of loop) {
    const before = out[out.length - 1];
    const alike = before && before.role === c.role && before.of === c.of && (c.role === 'rim' || c.role === 'axis');
    if (alike && before.curve.kind === 'line' && c.curve.kind === 'line')
      out[out.length - 1] = { ...c, curve: { kind: 'line', a: before.curve.a, b: c.curve.b } };
    else out.push(c);
  }
  return out;
}

/** How far a traced wall may miss the one asked for, mm: near a centre of bending places are known less well, to the thick side without harm. */
const THINNER = 3e-5;
const THICKER = 3e-4;

/** What is wrong with a hollow that was traced: a wall that is not the one asked for, or amounts that do not add up. */
function wrongWith(prepared: Prepared, limits: readonly Limit[], made: Hollow, wall: (face: string) => number): string | undefined {
  const amount = (loops: readonly (readonly HollowCurve[])[]): number => prepared.amount(loops.map((l) => l.map((c) => c.curve)));
  const off = Math.abs(amount(made.body) + amount(made.cavity) - prepared.volume);
  if (off > 1e-7 * prepared.volume) return 'its amounts do not add up';
  for (const c of made.cavity.flat()) {
    if (c.role !== 'inner' && c.role !== 'corner') continue;
    const e = evaluatorOf(c.curve);
    const n = c.curve.kind === 'spline' ? 24 : 6;
    for (let k = 0; k <= n; k++) {
      e.into(k / n, j);
      const [x, y] = [j[0]!, j[1]!];
      if (tooNear(limits, x, y, -THINNER)) return `its wall is thinner than asked at ${x.toFixed(3)}, ${y.toFixed(3)}`;
      // It is somebody's wall: of the face it is the inside of, or of those beside its edge.
      if (c.role === 'inner' && !tooNear(limits, x, y, THICKER)) return `its wall of ${wall(c.of).toFixed(3)} is thicker than asked`;
    }
  }
  return undefined;
}

/** Loops as a meridian, each curve under the name it goes by. */
export const asMeridian = (loops: readonly (readonly HollowCurve[])[], name: (c: HollowCurve) => string): Meridian => ({
  loops: loops.map((l): Loop => l.map((c) => ({ curve: c.curve, face: c.role === 'axis' ? AXIS : name(c) }))),
});
