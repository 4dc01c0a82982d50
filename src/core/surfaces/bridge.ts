/**
 * A surface from one border to another, on from what lies beside both: across it every place of the first goes to one of the second by
 * Hermite data of their tangent planes, and of their curvature. Millimetres.
 */
import { along, cross, distance, dot, minus, opposite, triple, unit, type Vec3 } from '../geometry/vectors';
import { ok, type Result } from '../result';
import { fixed } from '../units/units';
import { cards, type EndOrder } from './cards';
import {
  FAR,
  FINEST,
  gives,
  type Joined,
  NEAR,
  type NetworkFault,
  placeOn,
  type Run,
  remembered,
  type Stand,
  type Strand,
  spaceOf,
  standOf,
} from './network';
import { wrapped } from './round';
import { interpolateSurface, type SplineSpace, type SplineSurface, surfaceAt } from './space';

export interface BridgeEnd {
  readonly strand: Strand;
  /** Undefined where the border is only met. */
  readonly joined: Joined | undefined;
  /** How far it leads on before it bends to the other: 1 is the distance to that. */
  readonly strength: number;
}

export interface Bridge {
  /** One beside the other along the borders; several where these are closed. */
  readonly surfaces: readonly SplineSurface[];
  /** Their largest distance from what they are to be, mm. */
  readonly off: number;
}

/** Places that the matching of two borders is read at. */
const READ = 64;
/** A closed bridge is made of so many surfaces. */
const PIECES = 4;

const mean = (places: readonly Vec3[]): Vec3 => triple((k) => places.reduce((sum, p) => sum + p[k] / places.length, 0));
const samples = (s: Strand): Vec3[] => Array.from({ length: READ }, (_, k) => s.at(s.closed ? k / READ : k / (READ - 1)));

/** Which way a bridge leaves an end: as what is beside it leads on, else square to the border. @param chord to the other end */
function wayAt({ strand, joined }: BridgeEnd, chord: Vec3): Vec3 | undefined {
  const places = samples(strand);
  const middle = mean(places);
  let square: Vec3 = [0, 0, 0];
  for (const [i, p] of places.entries()) square = along(square, cross(minus(p, middle), minus(places[(i + 1) % READ]!, middle)), 1);
  const normal = unit(square);
  const upright = normal && (dot(normal, chord) < 0 ? opposite(normal) : normal);
  if (!joined) return upright;
  const run: Run = (x) => placeOn(strand, x);
  const leads = Array.from({ length: 16 }, (_, k) => standOf(run, joined, 0.02 + (0.96 * k) / 16, chord)).flatMap((s) =>
    s.ok ? [s.value.away] : [],
  );
  const lead = leads.length > 0 ? mean(leads) : ([0, 0, 0] as const);
  return Math.hypot(...lead) > 0.5 ? unit(lead) : upright;
}

/** Turns by the least angle that brings one direction to another, to the opposite one about what is square to both it and the chord. */
function turning(from: Vec3, to: Vec3, chord: Vec3): (p: Vec3) => Vec3 {
  const axis = cross(from, to);
  const cos = dot(from, to);
  if (cos < -1 + 1e-6) {
    const about = unit(cross(from, chord));
    return (p) => (about ? along(opposite(p), about, 2 * dot(about, p)) : p);
  }
  // Rodrigues’ formula with 1 − cos = sin² / (1 + cos).
  return (p) => {
    const a = cross(axis, p);
    return along(along(p, a, 1), cross(axis, a), 1 / (1 + cos));
  };
}

/**
 * Where along the second border the places of the first belong, by shares of length: nearest as a whole, once the first is turned the way that the bridge turns.
 * @param turn by hand, share of the second's length
 */
function matching(first: BridgeEnd, second: BridgeEnd, turn: number): (x: number) => number {
  const [a, b] = [first.strand, second.strand];
  const [ca, cb] = [mean(samples(a)), mean(samples(b))];
  const chord = minus(cb, ca);
  const from = wayAt(first, chord);
  // What is beside the second border leads back to the first.
  const back = wayAt(second, opposite(chord));
  const into = back && opposite(back);
  const turned = a.closed && from && into ? turning(from, into, chord) : (p: Vec3) => p;
  const carried = (p: Vec3): Vec3 => (a.closed ? along(cb, turned(minus(p, ca)), 1) : p);
  const off = (to: (x: number) => number): number => {
    let sum = 0;
    for (let k = 0; k < READ; k++) {
      const x = a.closed ? k / READ : k / (READ - 1);
      sum += distance(carried(a.at(x)), b.at(to(x))) ** 2;
    }
    return sum;
  };
  if (!a.closed) {
    const [on, over] = [(x: number) => x, (x: number) => 1 - x];
    return off(on) <= off(over) ? on : over;
  }
  const by = (sense: 1 | -1, start: number) => (x: number) => wrapped(start + sense * x);
  let best = { sense: 1 as 1 | -1, start: 0, off: Number.POSITIVE_INFINITY };
  for (const sense of [1, -1] as const)
    for (let k = 0; k < READ; k++) {
      const here = off(by(sense, k / READ));
      if (here < best.off - 1e-9) best = { sense, start: k / READ, off: here };
    }
  // Between the steps.
  let [lo, hi] = [best.start - 1 / READ, best.start + 1 / READ];
  for (let k = 0; k < 40; k++) {
    const [p, q] = [lo + (hi - lo) / 3, hi - (hi - lo) / 3];
    if (off(by(best.sense, p)) < off(by(best.sense, q))) hi = q;
    else lo = p;
  }
  const fine = (lo + hi) / 2;
  // A match at a step stays exactly there.
  const start = off(by(best.sense, fine)) < best.off - 1e-9 ? fine : best.start;
  return by(best.sense, start + turn);
}

/** @param a, b both open or both closed, by shares of their length */
export function bridge(a: BridgeEnd, b: BridgeEnd, turn: number): Result<Bridge, NetworkFault> {
  if (a.strand.closed !== b.strand.closed) {
    const open = a.strand.closed ? b.strand : a.strand;
    return gives('few', `${open.words} is open, and the other border is closed`, { at: open.at(0) });
  }
  const closed = a.strand.closed;
  for (const { strand } of [a, b])
    if (strand.corners.length > 0) return gives('corner', `${strand.words} has a corner there`, { at: strand.at(strand.corners[0]!) });
  const to = matching(a, b, turn);
  const runs: readonly [Run, Run] = [(x) => placeOn(a.strand, x), (x) => placeOn(b.strand, to(x))];
  const orders = [a, b].map(({ joined }): EndOrder => (!joined ? 0 : joined.join === 'G1' ? 1 : 2)) as [EndOrder, EndOrder];
  const weights = cards([0, 1], orders[0], orders[1]);
  const ends = [a, b];
  /** Derivatives into the bridge at an end, of rising order. */
  const leaving = (x: number, k: 0 | 1): Result<Vec3[], NetworkFault> => {
    const { joined, strength } = ends[k]!;
    if (!joined) return ok([]);
    const [p, q] = [runs[k](x), runs[1 - k]!(x)];
    const way = triple((c) => q[c] - p[c]);
    const run: Run = closed ? (y) => runs[k](x + y - 0.5) : runs[k];
    const stand: Result<Stand, NetworkFault> = standOf(run, joined, closed ? 0.5 : x, way);
    if (!stand.ok) return stand;
    const speed = strength * distance(p, q) * (k === 0 ? 1 : -1);
    const first = triple((c) => speed * stand.value.away[c]);
    return ok(joined.join === 'G1' ? [first] : [first, triple((c) => stand.value.form(first, first) * stand.value.normal[c])]);
  };
  for (let k = 0; k <= READ; k++)
    for (const end of [0, 1] as const) {
      const l = leaving(k / READ, end);
      if (!l.ok) return l;
    }
  const data = remembered((x): readonly Vec3[] => {
    const parts = ([0, 1] as const).map((k) => {
      const l = leaving(x, k);
      return l.ok ? l.value : new Array<Vec3>(orders[k]).fill([0, 0, 0]);
    });
    return [runs[0](x), runs[1](x), ...parts.flat()];
  });
  const formula = (x: number, v: number): Vec3 => {
    const w = weights.at(v);
    const d = data(x);
    return triple((c) => d.reduce((sum, p, k) => sum + w[k]! * p[c], 0));
  };
  // Parameters of the first border where either bends otherwise.
  const jumps = [
    ...a.strand.joints,
    ...b.strand.joints.map((t) => {
      if (!closed) return to(0) === 0 ? t : 1 - t;
      const sense = wrapped(to(0.01) - to(0)) < 0.5 ? 1 : -1;
      return wrapped(sense * (t - to(0)));
    }),
  ].sort((p, q) => p - q);
  // All pieces have one way across, or their borders would not be the same.
  const { surfaces, off } = besideEachOther(closed, jumps, spaceOf([0, 1], [], 2), formula);
  if (off > FAR) return gives('fit', `its surface would leave the borders by ${fixed(off, 3)} mm`);
  return ok({ surfaces, off });
}

/**
 * Surfaces one beside the other along a border, of one formula.
 * @param jumps parameters along it, rising, where it bends otherwise; @param formula by the parameter along and the way across 0…1
 */
function besideEachOther(
  closed: boolean,
  jumps: readonly number[],
  across: SplineSpace,
  formula: (x: number, v: number) => Vec3,
): { readonly surfaces: readonly SplineSurface[]; readonly off: number } {
  const count = closed ? PIECES : 1;
  const surfaces: SplineSurface[] = [];
  let off = 0;
  for (let i = 0; i < count; i++) {
    const [from, size] = [i / count, 1 / count];
    const joints = jumps.map((t) => (t - from) / size).filter((t) => t > 1e-6 && t < 1 - 1e-6);
    let made: { readonly surface: SplineSurface; readonly off: number } | undefined;
    for (let spans = 4; spans <= 4 * FINEST; spans *= 2) {
      const surface = interpolateSurface(spaceOf([0, 1], joints, spans), across, (x, v) => formula(from + x * size, v));
      let far = 0;
      for (let k = 0; k < 2 * spans; k++) {
        const x = (k + 0.43) / (2 * spans);
        for (const v of [0, 0.21, 0.47, 0.78, 1]) far = Math.max(far, distance(formula(from + x * size, v), surfaceAt(surface, x, v)));
      }
      made = { surface, off: far };
      if (far < NEAR) break;
    }
    surfaces.push(made!.surface);
    off = Math.max(off, made!.off);
  }
  return { surfaces, off };
}

/** How a surface goes on beyond its border: straight in its tangent planes, or bending on as it does across the border there. */
export type Onward = 'tangent' | 'curvature';

/**
 * What a surface is made longer by, beyond a border.
 * @param length along the surface, mm
 */
export function extension(strand: Strand, joined: Joined, onward: Onward, length: number): Result<Bridge, NetworkFault> {
  const { closed } = strand;
  if (strand.corners.length > 0) return gives('corner', `${strand.words} has a corner there`, { at: strand.at(strand.corners[0]!) });
  const run: Run = (x) => placeOn(strand, x);
  const stand = (x: number): Result<Stand, NetworkFault> =>
    closed ? standOf((y) => run(x + y - 0.5), joined, 0.5, [0, 0, 0]) : standOf(run, joined, x, [0, 0, 0]);
  for (let k = 0; k <= READ; k++) {
    const s = stand(k / READ);
    if (!s.ok) return s;
    const bend = Math.abs(s.value.form(s.value.away, s.value.away)) * length;
    if (onward === 'curvature' && bend > MOST_TURN)
      return gives('fit', `it would bend on by ${fixed((bend * 180) / Math.PI, 0)}° there`, { at: run(k / READ) });
  }
  const at = remembered((x): Stand => {
    const s = stand(x);
    // All places were looked at; one between them is the same.
    return s.ok ? s.value : { along: [1, 0, 0], away: [0, 1, 0], normal: [0, 0, 1], form: () => 0 };
  });
  const formula = (x: number, v: number): Vec3 => {
    const { away, normal, form } = at(x);
    const l = v * length;
    const k = onward === 'tangent' ? 0 : form(away, away);
    // An arc of that curvature; a line where there is none.
    const [on, up] = Math.abs(k * l) < 1e-6 ? [l, (k * l * l) / 2] : [Math.sin(k * l) / k, (1 - Math.cos(k * l)) / k];
    return along(along(run(x), away, on), normal, up);
  };
  const jumps = strand.joints.toSorted((p, q) => p - q);
  const { surfaces, off } = besideEachOther(closed, jumps, spaceOf([0, 1], [], onward === 'tangent' ? 1 : 4), formula);
  return off > FAR ? gives('fit', `its surface would leave the border by ${fixed(off, 3)} mm`) : ok({ surfaces, off });
}

/** An extension bends on by no more, rad: beyond a quarter turn it would come back. */
const MOST_TURN = Math.PI / 2;
