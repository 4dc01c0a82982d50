/** Which faces of a body on the stage are flat. */
import type { BodyScene } from '../../engine/types';

type Skin = Pick<BodyScene, 'positions' | 'indices' | 'faceOf' | 'faceNames'>;

/** Facets farther off a common plane than this share of the face's size are of a bent face; single precision alone leaves less. */
const OFF = 2e-5;

const known = new WeakMap<Skin, readonly boolean[]>();

/** Whether all facets of a face lie on one plane. */
export function isFlat(body: Skin, face: number): boolean {
  let flat = known.get(body);
  if (!flat) {
    flat = flatFaces(body);
    known.set(body, flat);
  }
  return flat[face] ?? false;
}

const tops = new WeakMap<Skin, { readonly name: string | undefined }>();

/** The name of the highest face that is flat and level; undefined where there is none. */
export function topFace(body: Skin): string | undefined {
  const top = tops.get(body) ?? { name: highest(body) };
  tops.set(body, top);
  return top.name;
}

function highest(body: Skin): string | undefined {
  const heights = body.faceNames.map(() => ({ least: Number.POSITIVE_INFINITY, most: Number.NEGATIVE_INFINITY }));
  for (let i = 0; i < body.indices.length; i++) {
    const h = heights[body.faceOf[Math.floor(i / 3)]!];
    const z = body.positions[3 * body.indices[i]! + 2]!;
    if (!h) continue;
    h.least = Math.min(h.least, z);
    h.most = Math.max(h.most, z);
  }
  const level = heights.flatMap((h, face) => (h.most - h.least <= 1e-6 * Math.max(1, Math.abs(h.most)) ? [{ face, at: h.most }] : []));
  const top = level.reduce<(typeof level)[number] | undefined>((best, f) => (best && best.at >= f.at ? best : f), undefined);
  return top && body.faceNames[top.face];
}

function flatFaces({ positions: p, indices, faceOf, faceNames }: Skin): boolean[] {
  const corners: number[][] = faceNames.map(() => []);
  for (let t = 0; t < faceOf.length; t++) corners[faceOf[t]!]?.push(indices[3 * t]!, indices[3 * t + 1]!, indices[3 * t + 2]!);
  return corners.map((list) => {
    if (list.length === 0) return false;
    const n = [0, 0, 0];
    let [area, size] = [0, 0];
    for (let i = 0; i < list.length; i += 3) {
      const [a, b, c] = [3 * list[i]!, 3 * list[i + 1]!, 3 * list[i + 2]!];
      const u = [0, 1, 2].map((k) => p[b + k]! - p[a + k]!);
      const v = [0, 1, 2].map((k) => p[c + k]! - p[a + k]!);
      const w = [u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!];
      for (let k = 0; k < 3; k++) n[k]! += w[k]!;
      area += Math.hypot(...w);
      size = Math.max(size, Math.hypot(...u), Math.hypot(...v));
    }
    // What bends loses area where its facets' normals are summed.
    const length = Math.hypot(...n);
    if (length < (1 - 1e-6) * area) return false;
    const at = 3 * list[0]!;
    const scale = Math.max(size, Math.hypot(p[at]!, p[at + 1]!, p[at + 2]!));
    return list.every((i) => Math.abs([0, 1, 2].reduce((s, k) => s + (p[3 * i + k]! - p[at + k]!) * n[k]!, 0)) <= OFF * scale * length);
  });
}
