/** How thick the wall of a turned body is, in its half plane: the ball that fits in it at every place of its skin. */
import { piece } from '../curves/offset';
import type { PlanarCurve } from '../curves/planar';
import { Field, newNearest } from './field';
import { seekGreatest } from './golden';
import { type Evaluator, evaluatorOf, newJet, turnCuts } from './jets';
import { type Meridian, type MeridianCurve, skinOf } from './meridian';

/** The greatest distance of some curves from others, mm, with how many places were looked at. */
export function widestBetween(inner: readonly PlanarCurve[], outer: readonly PlanarCurve[]): { most: number; samples: number } {
  const field = new Field(outer);
  const near = newNearest();
  const j = newJet();
  let [most, samples] = [0, 0];
  const peaks: { value: number; refine: () => void }[] = [];
  for (const c of inner) {
    const e = evaluatorOf(c);
    const away = (t: number): number => {
      e.into(t, j);
      field.nearest(j[0]!, j[1]!, near);
      samples++;
      most = Math.max(most, near.distance);
      return -near.distance;
    };
    const n = Math.max(8, 4 * (e.breaks.length - 1));
    const v = Array.from({ length: n + 1 }, (_, k) => away(k / n));
    v.forEach((value, k) => {
      if ((v[k - 1] ?? 0) < value || (v[k + 1] ?? 0) < value) return;
      peaks.push({ value, refine: () => lowest(away, Math.max(0, k - 1) / n, Math.min(n, k + 1) / n) });
    });
  }
  for (const p of peaks.sort((a, b) => a.value - b.value).slice(0, MOST)) p.refine();
  return { most, samples };
}

export interface WallPlace {
  readonly thickness: number;
  /** On the skin: radius and height, mm. */
  readonly x: number;
  readonly y: number;
  /** Unit, outwards. */
  readonly nx: number;
  readonly ny: number;
  readonly face: string;
  /** What the ball touches opposite. */
  readonly contact: { readonly x: number; readonly y: number; readonly face: string };
}

/** Skins that lean more than 60° towards each other are an edge, not a wall. */
const OPPOSING = -0.5;
/** For the thickest place only the skin that faces the same way, within 60°, is left out; a contact nearer than this share of a ball is no wall. */
const BESIDE = 0.5;
/** Balls of this size and more touch nothing, mm. */
const FAR = 1e5;

interface Ball {
  r: number;
  touches: number;
  x: number;
  y: number;
}

/** Curves in stretches that turn little, so that a ball's own curve can be its other side too. */
function stretchesOf(m: Meridian): MeridianCurve[] {
  return skinOf(m).flatMap((c) => {
    const cuts = turnCuts(evaluatorOf(c.curve));
    return cuts.slice(1).map((to, i) => ({ face: c.face, curve: cuts.length === 2 ? c.curve : piece(c.curve, cuts[i]!, to) }));
  });
}

/**
 * The thinnest and the thickest wall: twice the radius of the ball inside that touches a place of the skin and something opposite. The ball's middle
 * may lie on the axis but not beyond it, where the other half of the body is.
 * @param wedge pairs of faces that meet in a sharp edge: towards it the wall goes to nothing, and it is told of by itself
 */
export function thinnestAndThickest(
  m: Meridian,
  wedge: (a: string, b: string) => boolean,
): { thinnest: WallPlace | null; thickest: WallPlace | null; samples: number } {
  const skin = stretchesOf(m);
  const field = new Field(skin.map((c) => c.curve));
  const near = newNearest();
  const [j, k] = [newJet(), newJet()];
  const ball: Ball = { r: 0, touches: -1, x: 0, y: 0 };
  let samples = 0;
  /** The largest ball at a place that holds no skin whose normal opposes the place's by so much. */
  const grow = (x: number, y: number, nx: number, ny: number, facing: number): void => {
    samples++;
    // Inwards from the skin, to the axis at most: there the other half of the body is as near.
    let r = nx < -1e-12 ? Math.min(x / -nx, FAR) : FAR;
    ball.touches = nx < -1e-12 && r < FAR ? -2 : -1;
    ball.x = x + 2 * r * nx;
    ball.y = y + 2 * r * ny;
    for (let round = 0; round < 60; round++) {
      const [cx, cy] = [x + r * nx, y + r * ny];
      let next = r;
      for (let i = 0; i < skin.length; i++) {
        near.distance = r * (1 - 1e-10);
        near.curve = -1;
        field.nearestOn(i, cx, cy, near);
        if (near.curve < 0) continue;
        field.evaluators[i]!.into(near.t, k);
        const l = Math.hypot(k[2]!, k[3]!) || 1;
        if ((-k[3]! / l) * nx + (k[2]! / l) * ny > facing) continue;
        const [qx, qy] = [near.x - x, near.y - y];
        const h = nx * qx + ny * qy;
        if (!(h > 1e-12)) continue;
        const smaller = (qx * qx + qy * qy) / (2 * h);
        if (smaller < next) {
          next = smaller;
          ball.touches = i;
          ball.x = near.x;
          ball.y = near.y;
        }
      }
      if (!(next < r - 1e-10)) break;
      r = next;
    }
    ball.r = r;
  };
  let thinnest: WallPlace | null = null;
  let thickest: WallPlace | null = null;
  /** The wall at a place of a stretch; undefined where nothing there tells of one. */
  const wallAt = (c: MeridianCurve, e: Evaluator, t: number, facing: number): WallPlace | undefined => {
    e.into(t, j);
    const l = Math.hypot(j[2]!, j[3]!);
    if (!(l > 0)) return undefined;
    const [x, y, nx, ny] = [j[0]!, j[1]!, -j[3]! / l, j[2]! / l];
    grow(x, y, nx, ny, OPPOSING);
    const other = ball.touches === -2 ? c.face : skin[ball.touches]?.face;
    if (other === undefined || (other !== c.face && wedge(c.face, other))) return undefined;
    if (ball.touches >= 0 && Math.hypot(ball.x - x, ball.y - y) <= BESIDE * 2 * ball.r) return undefined;
    if (facing !== OPPOSING) grow(x, y, nx, ny, facing);
    const [thickness, face] = [2 * ball.r, ball.touches === -2 ? c.face : skin[ball.touches]!.face];
    const place: WallPlace = { thickness, x, y, nx: -nx, ny: -ny, face: c.face, contact: { x: ball.x, y: ball.y, face } };
    if (facing === OPPOSING ? !thinnest || thickness < thinnest.thickness : !thickest || thickness > thickest.thickness)
      if (facing === OPPOSING) thinnest = place;
      else thickest = place;
    return place;
  };
  // Samples all over first, then the most promising of them searched to their ends.
  for (const facing of [OPPOSING, BESIDE]) {
    const sign = facing === OPPOSING ? 1 : -1;
    const seeds: { value: number; refine: () => void }[] = [];
    for (const c of skin) {
      const e = evaluatorOf(c.curve);
      const n = c.curve.kind === 'line' ? 12 : 8 * (e.breaks.length - 1) + 4;
      const at = (k: number): number => Math.min(1 - 1e-7, Math.max(1e-7, k / n));
      const value = (t: number): number => sign * (wallAt(c, e, t, facing)?.thickness ?? sign * Infinity);
      const v = Array.from({ length: n + 1 }, (_, k) => value(at(k)));
      v.forEach((x, k) => {
        if (!Number.isFinite(x) || (v[k - 1] ?? Infinity) < x || (v[k + 1] ?? Infinity) < x) return;
        seeds.push({ value: x, refine: () => lowest(value, at(Math.max(0, k - 1)), at(Math.min(n, k + 1))) });
      });
    }
    for (const s of seeds.sort((a, b) => a.value - b.value).slice(0, MOST)) s.refine();
  }
  return { thinnest, thickest, samples };
}

/** Places that are searched to their ends. */
const MOST = 8;

/** Towards the least value; what is seen on the way is kept by the function itself. */
const lowest = (f: (t: number) => number, from: number, to: number): void => seekGreatest((t) => -f(t), from, to, 34);
