/**
 * What the border of a hollow may be made of: parallel curves of what is kept, arcs about corners, the open curves and the axis themselves.
 * Parallel curves of splines stay procedural until it is known which stretches survive.
 */
import { arcAbout, type PlanarCurve, reverse } from '../curves/planar';
import { edgeName } from '../recipe/names';
import { type Evaluator, evaluatorOf, type Jet, leftNormal, newJet, shiftJet, turnCuts } from './jets';
import { AXIS, type Meridian, type MeridianCurve } from './meridian';

type PieceRole = 'offset' | 'corner' | 'open' | 'axis';

export interface Piece {
  readonly role: PieceRole;
  /** Pieces of one origin that run on are one face. */
  readonly origin: number;
  /** Of the face kept, the edge it turns about, or the face that is open. */
  readonly name: string;
  /** Exact, where it is a line or an arc. */
  readonly planar?: PlanarCurve;
  readonly e: Evaluator;
  /** Distance to the left of the evaluator's curve, mm. */
  readonly distance: number;
  readonly t0: number;
  readonly t1: number;
  /** Its polyline, with parameters and how far the curve may lie off it. */
  readonly ts: Float64Array;
  readonly p: Float64Array;
  readonly slack: number;
  readonly box: readonly [number, number, number, number];
  /** Parameters at which something crosses it. */
  readonly cuts: number[];
}

/** Place and derivatives on a piece. */
export function intoPiece(q: Piece, t: number, o: Jet): void {
  q.e.into(t, o);
  shiftJet(o, q.distance);
}

interface Source extends MeridianCurve {
  readonly e: Evaluator;
  /** Parameters between which it turns by less than a quarter. */
  readonly cuts: readonly number[];
  readonly role: 'kept' | 'open' | 'axis';
}

export interface Sources {
  readonly loops: readonly (readonly Source[])[];
  readonly kept: readonly MeridianCurve[];
  /** Chains of kept curves run backwards: where a face is open the inside may reach round their ends. */
  readonly backs: readonly (readonly Source[])[];
}

export function sourcesOf(m: Meridian, open: (face: string) => boolean): Sources {
  const role = (c: MeridianCurve): Source['role'] => (c.face === AXIS ? 'axis' : open(c.face) ? 'open' : 'kept');
  const source = (c: MeridianCurve): Source => {
    const e = evaluatorOf(c.curve);
    return { ...c, e, cuts: turnCuts(e), role: role(c) };
  };
  const loops = m.loops.map((l) => l.map(source));
  const backs: Source[][] = [];
  for (const l of loops) {
    const from = l.findIndex((c) => c.role !== 'kept');
    if (from < 0) continue;
    let run: Source[] = [];
    for (const c of [...l.slice(from), ...l.slice(0, from), l[from]!]) {
      if (c.role === 'kept') {
        run.push(c);
        continue;
      }
      if (run.length > 0) backs.push(run.reverse().map((k) => source({ ...k, curve: reverse(k.curve) })));
      run = [];
    }
  }
  return { loops, backs, kept: loops.flat().filter((c) => c.role === 'kept') };
}

type Polyline = Pick<Piece, 'ts' | 'p' | 'slack' | 'box'>;

function polylineOf(q: Pick<Piece, 'planar' | 'e' | 'distance' | 't0' | 't1'>): Polyline {
  const c = q.planar;
  const ts: number[] = [];
  if (c?.kind === 'line') ts.push(0, 1);
  else if (c?.kind === 'arc') {
    const n = Math.max(2, Math.ceil(Math.abs(c.sweep) / 0.3));
    for (let i = 0; i <= n; i++) ts.push(i / n);
  } else {
    const breaks = [q.t0, ...q.e.breaks.filter((b) => b > q.t0 + 1e-12 && b < q.t1 - 1e-12), q.t1];
    for (let b = 1; b < breaks.length; b++)
      for (let k = b === 1 ? 0 : 1; k <= 8; k++) ts.push(breaks[b - 1]! + ((breaks[b]! - breaks[b - 1]!) * k) / 8);
  }
  const p = new Float64Array(2 * ts.length);
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  const into = (t: number): void => {
    q.e.into(t, scratch);
    shiftJet(scratch, q.distance);
  };
  ts.forEach((t, k) => {
    into(t);
    const [x, y] = [scratch[0]!, scratch[1]!];
    p[2 * k] = x;
    p[2 * k + 1] = y;
    x0 = Math.min(x0, x);
    x1 = Math.max(x1, x);
    y0 = Math.min(y0, y);
    y1 = Math.max(y1, y);
  });
  let slack = 1e-7;
  if (c?.kind !== 'line')
    for (let k = 1; k < ts.length; k++) {
      into((ts[k]! + ts[k - 1]!) / 2);
      const [ax, ay] = [p[2 * k - 2]!, p[2 * k - 1]!];
      const [ux, uy] = [p[2 * k]! - ax, p[2 * k + 1]! - ay];
      const l = Math.hypot(ux, uy);
      if (l > 1e-12) slack = Math.max(slack, (2 * Math.abs((scratch[0]! - ax) * uy - (scratch[1]! - ay) * ux)) / l);
    }
  return { ts: Float64Array.from(ts), p, slack, box: [x0 - slack, y0 - slack, x1 + slack, y1 + slack] };
}
const scratch = newJet();

/** An arc smaller than this has been used up by the wall, mm. */
const USED_UP = 1e-7;

/**
 * @param wall of each kept face, mm
 * @param both also the far side of kept chains
 */
export function piecesOf(sources: Sources, wall: (face: string) => number, both: boolean): Piece[] {
  const out: Piece[] = [];
  const j = newJet();
  let origin = 0;
  const add = (role: PieceRole, name: string, e: Evaluator, distance: number, t0: number, t1: number, planar?: PlanarCurve): void => {
    if (planar?.kind === 'line' && Math.hypot(planar.b.x - planar.a.x, planar.b.y - planar.a.y) < 1e-9) return;
    const q = { role, origin, name, e, distance, t0, t1, cuts: [], ...(planar ? { planar } : {}) };
    out.push({ ...q, ...polylineOf(q) });
  };
  const plain = (role: PieceRole, name: string, c: PlanarCurve): void => add(role, name, evaluatorOf(c), 0, 0, 1, c);
  const arcs = (role: PieceRole, s: Source, c: Extract<PlanarCurve, { kind: 'arc' }>, radius: number): void => {
    for (let k = 1; k < s.cuts.length; k++)
      plain(role, s.face, arcAbout(c.centre, radius, c.start + s.cuts[k - 1]! * c.sweep, (s.cuts[k]! - s.cuts[k - 1]!) * c.sweep));
  };
  const runs = [
    ...sources.loops.map((list) => ({ list, back: false })),
    ...(both ? sources.backs.map((list) => ({ list, back: true })) : []),
  ];
  for (const { list, back } of runs)
    list.forEach((s, i) => {
      const { curve } = s;
      origin++;
      if (s.role !== 'kept') {
        if (curve.kind === 'line') plain(s.role, s.face, curve);
        else if (curve.kind === 'arc') arcs(s.role, s, curve, curve.radius);
        else for (let k = 1; k < s.cuts.length; k++) add(s.role, s.face, s.e, 0, s.cuts[k - 1]!, s.cuts[k]!);
        return;
      }
      const t = wall(s.face);
      if (curve.kind === 'line') {
        const [nx, ny] = leftNormal(s.e, 0.5, j);
        const moved = (p: { x: number; y: number }) => ({ x: p.x + t * nx, y: p.y + t * ny });
        plain('offset', s.face, { kind: 'line', a: moved(curve.a), b: moved(curve.b) });
      } else if (curve.kind === 'arc') {
        // The far side of a used up arc is nearer to the arc's own ends: it never shows.
        const radius = curve.radius - Math.sign(curve.sweep) * t;
        if (radius > USED_UP) arcs('offset', s, curve, radius);
      } else for (const [a, b] of forward(s, t)) add('offset', s.face, s.e, t, a, b);
      // About its ends: between the normals at a corner of one wall, half round where the next one is not kept or has another wall.
      if (back && i === list.length - 1) return;
      const next = list[(i + 1) % list.length]!;
      const before = list[(i + list.length - 1) % list.length]!;
      const [x0, y0] = leftNormal(s.e, 1, j);
      const w0 = Math.atan2(y0, x0);
      origin++;
      if (next.role === 'kept' && wall(next.face) === t) {
        const [x1, y1] = leftNormal(next.e, 0, j);
        const turn = Math.atan2(x0 * y1 - y0 * x1, x0 * x1 + y0 * y1);
        if (turn < -1e-7) plain('corner', cornerName(s, next), arcAbout(curve.b, t, w0, turn));
      } else plain('corner', cornerName(s, next), arcAbout(curve.b, t, w0, -Math.PI));
      origin++;
      if (!back && (before.role !== 'kept' || wall(before.face) !== t)) {
        const [ax, ay] = leftNormal(s.e, 0, j);
        plain('corner', cornerName(before, s), arcAbout(curve.a, t, Math.atan2(ay, ax) + Math.PI, -Math.PI));
      }
    });
  return out;
}

const cornerName = (a: Source, b: Source): string => (a.face === AXIS ? b.face : b.face === AXIS ? a.face : edgeName(a.face, b.face));

/** Where a parallel curve runs forwards: beyond the places where the curve turns as tightly as the wall it is never at its distance. */
function forward(s: Source, wall: number): [number, number][] {
  const j = newJet();
  const speed = (t: number): number => {
    s.e.into(t, j);
    const l = Math.hypot(j[2]!, j[3]!);
    return l > 0 ? 1 - (wall * (j[2]! * j[5]! - j[3]! * j[4]!)) / (l * l * l) : 1;
  };
  const marks: number[] = [];
  for (let k = 1; k < s.cuts.length; k++) {
    const inner = s.e.breaks.filter((b) => b > s.cuts[k - 1]! + 1e-12 && b < s.cuts[k]! - 1e-12);
    const breaks = [s.cuts[k - 1]!, ...inner, s.cuts[k]!];
    for (let b = 1; b < breaks.length; b++)
      for (let m = 0; m < 12; m++) marks.push(breaks[b - 1]! + ((breaks[b]! - breaks[b - 1]!) * m) / 12);
  }
  marks.push(s.cuts[s.cuts.length - 1]!);
  const stretches: [number, number][] = [];
  let before = speed(marks[0]! + 1e-12);
  let from: number | undefined = before > 0 ? marks[0]! : undefined;
  const switchAt = (t: number, wasForward: boolean): void => {
    if (wasForward) {
      stretches.push([from!, t]);
      from = undefined;
    } else from = t;
  };
  for (let k = 1; k < marks.length; k++) {
    const here = speed(marks[k]! - 1e-12);
    if (here > 0 !== before > 0) {
      let [a, b] = [marks[k - 1]!, marks[k]!];
      for (let r = 0; r < 50; r++) {
        const m = (a + b) / 2;
        if (speed(m) > 0 === before > 0) a = m;
        else b = m;
      }
      switchAt(before > 0 ? a : b, before > 0);
    }
    // The bend may jump at a knot.
    const after = k < marks.length - 1 ? speed(marks[k]! + 1e-12) : here;
    if (after > 0 !== here > 0) switchAt(marks[k]!, here > 0);
    before = after;
  }
  if (from !== undefined) stretches.push([from, marks[marks.length - 1]!]);
  return stretches.flatMap(([a, b]) => {
    const inner = [a, ...s.cuts.filter((c) => c > a + 1e-9 && c < b - 1e-9), b];
    return inner.slice(1).flatMap((to, k): [number, number][] => (to - inner[k]! > 1e-10 ? [[inner[k]!, to]] : []));
  });
}
