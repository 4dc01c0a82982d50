/** Where a flat label lies down: pieces of skin that bend one way at most, laid flat. */
import { triple } from '../geometry/vectors';
import type { P2 } from './rectangle';
import { sizesOf, unroll } from './unroll';

type P3 = readonly [number, number, number];

export interface LabelZone {
  readonly faces: readonly number[];
  /** mm². */
  readonly area: number;
  /** Of the piece laid flat, mm, height along what is upright on the body. */
  readonly width: number;
  readonly height: number;
  /** The largest upright rectangle within it, mm. */
  readonly label: { readonly width: number; readonly height: number };
  /** It goes all round and was cut open at the back. */
  readonly around: boolean;
  /** Largest stretch or squeeze along its border, as a share. */
  readonly strain: number;
  /** It bends both ways, by less than the limit, like a saddle. */
  readonly saddle: boolean;
  readonly at: P3;
  /** Its border in space, segments of six coordinates. */
  readonly border: Float32Array;
  /** Its border laid flat, segments of four coordinates. */
  readonly flat: Float32Array;
}

export interface LabelMap {
  readonly zones: readonly LabelZone[];
  /** Skin like a saddle beyond the limit, which a sleeve bridges: area, mm², and its most bent place. */
  readonly saddles: readonly { readonly area: number; readonly gaussian: number; readonly at: P3 }[];
}

export interface BentSkin {
  readonly positions: ArrayLike<number>;
  readonly indices: Uint32Array;
  readonly faceOf: ArrayLike<number>;
  /** Unit normals at the corners. */
  readonly normals: ArrayLike<number>;
  /** Gaussian curvature at the corners, 1/mm²; NaN where it is not known. */
  readonly gaussian: ArrayLike<number>;
}

/** Skin goes on over an edge that turns by less than this, rad. */
const SMOOTH = (3 * Math.PI) / 180;
/** Skin that looks up or down by this much is level. */
const LEVEL = 0.9999;

/**
 * @param limit Gaussian curvature within which a flat label lies down, 1/mm²
 * @param least shorter side of a zone, mm; smaller ones are left out
 */
export async function labelZones(
  skin: BentSkin,
  limit: number,
  least: number,
  tick: (share: number) => Promise<boolean> = async () => true,
): Promise<LabelMap | null> {
  const ids = joined(skin.positions);
  const m = skin.indices.length / 3;
  const kind = new Int8Array(m);
  for (let t = 0; t < m; t++) {
    const k = [0, 1, 2].map((c) => skin.gaussian[skin.indices[3 * t + c]!]!);
    kind[t] = k.every((x) => Math.abs(x) <= limit) ? 1 : k.every((x) => x < -limit) ? -1 : 0;
  }
  const pieces = piecesOf(skin, ids, kind).map((facets) => ({ facets, area: areaOf(skin, facets) }));
  pieces.sort((a, b) => b.area - a.area);
  const zones: LabelZone[] = [];
  const saddles: LabelMap['saddles'][number][] = [];
  for (const [i, { facets, area }] of pieces.entries()) {
    if (!(await tick(i / pieces.length))) return null;
    if (kind[facets[0]!]! < 0) {
      const worst = facets.map((t) => skin.indices[3 * t]!).reduce((a, b) => (skin.gaussian[b]! < skin.gaussian[a]! ? b : a));
      if (area > least * least) saddles.push({ area, gaussian: skin.gaussian[worst]!, at: placeOf(skin, worst) });
      continue;
    }
    if (area < least * least || zones.length >= 12) continue;
    const zone = zoneOf(skin, ids, facets, area);
    if (Math.min(zone.width, zone.height) >= least) zones.push(zone);
  }
  return { zones, saddles };
}

const placeOf = (skin: BentSkin, v: number): P3 => [skin.positions[3 * v]!, skin.positions[3 * v + 1]!, skin.positions[3 * v + 2]!];

/** One number for all corners at a place, to a ten-thousandth of a millimetre. */
function joined(positions: ArrayLike<number>): Uint32Array {
  const known = new Map<string, number>();
  return Uint32Array.from({ length: positions.length / 3 }, (_, i) => {
    const key = [0, 1, 2].map((k) => Math.round(positions[3 * i + k]! * 1e4)).join();
    const id = known.get(key) ?? i;
    known.set(key, id);
    return id;
  });
}

/** Facets of a kind that hang together over sides that are no edges. */
function piecesOf(skin: BentSkin, ids: Uint32Array, kind: Int8Array): number[][] {
  const m = kind.length;
  const sides = new Map<number, [number, number][]>();
  const n = ids.length;
  for (let t = 0; t < m; t++) {
    if (kind[t] === 0) continue;
    for (let k = 0; k < 3; k++) {
      const [a, b] = [ids[skin.indices[3 * t + k]!]!, ids[skin.indices[3 * t + ((k + 1) % 3)]!]!];
      if (a === b) continue;
      const key = a < b ? a * n + b : b * n + a;
      const list = sides.get(key);
      if (list) list.push([t, k]);
      else sides.set(key, [[t, k]]);
    }
  }
  const normal = (t: number, id: number): P3 => {
    const k = [0, 1, 2].find((c) => ids[skin.indices[3 * t + c]!] === id)!;
    const v = skin.indices[3 * t + k]!;
    return [skin.normals[3 * v]!, skin.normals[3 * v + 1]!, skin.normals[3 * v + 2]!];
  };
  const parent = Int32Array.from({ length: m }, (_, t) => t);
  const root = (t: number): number => {
    while (parent[t] !== t) {
      parent[t] = parent[parent[t]!]!;
      t = parent[t]!;
    }
    return t;
  };
  for (const list of sides.values()) {
    const [one, two] = list;
    if (!one || !two || kind[one[0]] !== kind[two[0]]) continue;
    const ends = [ids[skin.indices[3 * one[0] + one[1]]!]!, ids[skin.indices[3 * one[0] + ((one[1] + 1) % 3)]!]!];
    const smooth = ends.every((id) => {
      const [a, b] = [normal(one[0], id), normal(two[0], id)];
      return a[0] * b[0] + a[1] * b[1] + a[2] * b[2] > Math.cos(SMOOTH);
    });
    if (smooth) parent[root(one[0])] = root(two[0]);
  }
  const pieces = new Map<number, number[]>();
  for (let t = 0; t < m; t++) {
    if (kind[t] === 0) continue;
    const r = root(t);
    const list = pieces.get(r);
    if (list) list.push(t);
    else pieces.set(r, [t]);
  }
  return [...pieces.values()];
}

function areaOf(skin: BentSkin, facets: readonly number[]): number {
  let sum = 0;
  for (const t of facets) {
    const [a, b, c] = [0, 1, 2].map((k) => placeOf(skin, skin.indices[3 * t + k]!)) as [P3, P3, P3];
    const u = b.map((x, k) => x - a[k]!) as unknown as P3;
    const v = c.map((x, k) => x - a[k]!) as unknown as P3;
    sum += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
  }
  return sum;
}

interface Piece {
  readonly places: number[];
  readonly facets: Uint32Array;
}

function zoneOf(skin: BentSkin, ids: Uint32Array, facets: readonly number[], area: number): LabelZone {
  const whole = gathered(skin, ids, facets);
  // A level ring lies flat as it is.
  const level = facets.every((t) => Math.abs(skin.normals[3 * skin.indices[3 * t]! + 2]!) > LEVEL);
  const open = level ? undefined : cutOpen(whole);
  const piece = open ?? whole;
  const around = open !== undefined;
  const lying = unroll(piece.places, piece.facets);
  const up = uprightIn(piece, lying.flat);
  const borders = borderOf(piece.facets, piece.places.length / 3);
  const sizes = sizesOf(lying.flat, piece.facets, up ?? [0, 1]);
  // Lying level it has no upright side: the longer one is its width.
  const turned = !up && sizes.height > sizes.width;
  const turn = <T extends { width: number; height: number }>(s: T): T => (turned ? { ...s, width: s.height, height: s.width } : s);
  let [gaussian, count, sharpest] = [0, 0, 0];
  for (const t of facets)
    for (let k = 0; k < 3; k++) {
      const g = skin.gaussian[skin.indices[3 * t + k]!]!;
      gaussian += g;
      sharpest = Math.max(sharpest, Math.abs(g));
      count++;
    }
  const middle = [0, 1, 2].map((k) => {
    let sum = 0;
    for (let i = k; i < piece.places.length; i += 3) sum += piece.places[i]!;
    return (3 * sum) / piece.places.length;
  });
  let [at, best]: [P3, number] = [[0, 0, 0], Number.POSITIVE_INFINITY];
  for (let t = 0; t < piece.facets.length; t += 3) {
    const c = triple(
      (k) =>
        (piece.places[3 * piece.facets[t]! + k]! +
          piece.places[3 * piece.facets[t + 1]! + k]! +
          piece.places[3 * piece.facets[t + 2]! + k]!) /
        3,
    );
    // In front, where it goes all round.
    const far = around ? c[1] + Math.abs(c[2] - middle[2]!) : Math.hypot(...c.map((x, k) => x - middle[k]!));
    if (far < best) [at, best] = [c, far];
  }
  return {
    faces: [...new Set(facets.map((t) => skin.faceOf[t]!))],
    area,
    width: turn(sizes).width,
    height: turn(sizes).height,
    label: turn(sizes.label),
    around,
    strain: borderStrain(piece, lying.strain),
    // Where it bends both ways by next to nothing it is flat.
    saddle: gaussian / count < -Math.max(1e-9, 0.05 * sharpest),
    at,
    border: Float32Array.from(borders.flatMap(([a, b]) => [a, b].flatMap((v) => [0, 1, 2].map((k) => piece.places[3 * v + k]!)))),
    flat: Float32Array.from(borders.flatMap(([a, b]) => [a, b].flatMap((v) => [lying.flat[2 * v]!, lying.flat[2 * v + 1]!]))),
  };
}

/** The facets with vertices of their own, shared where they meet. */
function gathered(skin: BentSkin, ids: Uint32Array, facets: readonly number[]): Piece {
  const index = new Map<number, number>();
  const places: number[] = [];
  const out: number[] = [];
  for (const t of facets) {
    const corners = [0, 1, 2].map((k) => {
      const v = skin.indices[3 * t + k]!;
      let i = index.get(ids[v]!);
      if (i === undefined) {
        i = places.length / 3;
        index.set(ids[v]!, i);
        places.push(...placeOf(skin, v));
      }
      return i;
    });
    // A facet with two corners at one place has no inside.
    if (new Set(corners).size === 3) out.push(...corners);
  }
  return { places, facets: Uint32Array.from(out) };
}

/** Sides with one facet only, in the sense of their facet. */
function borderOf(facets: Uint32Array, n: number): [number, number][] {
  const seen = new Map<number, [number, number] | null>();
  for (let t = 0; t < facets.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [facets[t + k]!, facets[t + ((k + 1) % 3)]!];
      const key = a < b ? a * n + b : b * n + a;
      seen.set(key, seen.has(key) ? null : [a, b]);
    }
  return [...seen.values()].filter((s): s is [number, number] => s !== null);
}

function borderStrain(piece: Piece, strain: Float64Array): number {
  const edge = new Set(borderOf(piece.facets, piece.places.length / 3).flat());
  let most = 0;
  for (let t = 0; t < strain.length; t++) if ([0, 1, 2].some((k) => edge.has(piece.facets[3 * t + k]!))) most = Math.max(most, strain[t]!);
  return most;
}

/**
 * A ring about an upright line through its middle, cut open at the back: facets that the cut crosses are divided. Undefined for what is no
 * such ring.
 */
function cutOpen(piece: Piece): Piece | undefined {
  const { places } = piece;
  const n = places.length / 3;
  let [x0, y0] = [0, 0];
  let sum = 0;
  for (let t = 0; t < piece.facets.length; t += 3) {
    const c = [0, 1, 2].map((k) => piece.facets[t + k]!);
    sum += 3;
    for (const v of c) {
      x0 += places[3 * v]!;
      y0 += places[3 * v + 1]!;
    }
  }
  [x0, y0] = [x0 / sum, y0 / sum];
  let turns = 0;
  for (const [a, b] of borderOf(piece.facets, n)) {
    const angle = (v: number): number => Math.atan2(places[3 * v + 1]! - y0, places[3 * v]! - x0);
    let d = angle(b) - angle(a);
    if (d > Math.PI) d -= 2 * Math.PI;
    if (d < -Math.PI) d += 2 * Math.PI;
    turns += Math.abs(d);
  }
  // Two borders that each go once round.
  if (turns < 3.9 * Math.PI) return undefined;
  const hair = 1e-5;
  const out: number[] = [...places];
  const facets: number[] = [];
  const made = new Map<string, number>();
  const behind = (v: number): boolean => out[3 * v + 1]! > y0;
  const side = (v: number): -1 | 0 | 1 => (Math.abs(out[3 * v]! - x0) < hair ? 0 : out[3 * v]! < x0 ? -1 : 1);
  /** A vertex on the cut, one for either side of it. */
  const split = (v: number, s: -1 | 1): number => {
    if (side(v) !== 0 || !behind(v) || s < 0) return v;
    const key = `v${v}`;
    let i = made.get(key);
    if (i === undefined) {
      i = out.length / 3;
      made.set(key, i);
      out.push(x0, out[3 * v + 1]!, out[3 * v + 2]!);
    }
    return i;
  };
  const crossing = (a: number, b: number): number => {
    const key = a < b ? `${a},${b}` : `${b},${a}`;
    let i = made.get(key);
    if (i === undefined) {
      const s = (x0 - out[3 * a]!) / (out[3 * b]! - out[3 * a]!);
      i = out.length / 3;
      made.set(key, i);
      out.push(x0, out[3 * a + 1]! + s * (out[3 * b + 1]! - out[3 * a + 1]!), out[3 * a + 2]! + s * (out[3 * b + 2]! - out[3 * a + 2]!));
    }
    return i;
  };
  for (let t = 0; t < piece.facets.length; t += 3) {
    const c = [piece.facets[t]!, piece.facets[t + 1]!, piece.facets[t + 2]!] as const;
    const s = c.map(side);
    const crosses = s.includes(1) && s.includes(-1) && c.some(behind);
    if (!crosses) {
      const own = s.includes(1) ? 1 : -1;
      facets.push(...c.map((v) => split(v, own)));
      continue;
    }
    for (const half of [-1, 1] as const) {
      const ring: number[] = [];
      for (let k = 0; k < 3; k++) {
        const [a, b] = [c[k]!, c[(k + 1) % 3]!];
        if (s[k] === half || s[k] === 0) ring.push(split(a, half));
        if (s[k]! * s[(k + 1) % 3]! < 0) ring.push(split(crossing(a, b), half));
      }
      for (let k = 1; k + 1 < ring.length; k++) facets.push(ring[0]!, ring[k]!, ring[k + 1]!);
    }
  }
  return { places: out, facets: Uint32Array.from(facets) };
}

/** The direction in the flat piece that is upright on the body; undefined where the piece lies level. */
function uprightIn({ places, facets }: Piece, flat: Float64Array): P2 | undefined {
  let [x, y, whole] = [0, 0, 0];
  for (let t = 0; t < facets.length; t += 3) {
    const [a, b, c] = [facets[t]!, facets[t + 1]!, facets[t + 2]!];
    const [ux, uy, vx, vy] = [
      flat[2 * b]! - flat[2 * a]!,
      flat[2 * b + 1]! - flat[2 * a + 1]!,
      flat[2 * c]! - flat[2 * a]!,
      flat[2 * c + 1]! - flat[2 * a + 1]!,
    ];
    const area = ux * vy - uy * vx;
    const [du, dv] = [places[3 * b + 2]! - places[3 * a + 2]!, places[3 * c + 2]! - places[3 * a + 2]!];
    // Slope of the height over the flat facet, weighed by its area.
    x += (du * vy - dv * uy) / 2;
    y += (dv * ux - du * vx) / 2;
    whole += Math.abs(area) / 2;
  }
  const l = Math.hypot(x, y);
  return l < 0.1 * whole ? undefined : [x / l, y / l];
}
