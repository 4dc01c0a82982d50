/** The exact surface of a face near places of its mesh. */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import { distance, dot, minus, type Vec3 } from '../../core/geometry/vectors';
import type { Kernel } from '../open';
import { type SurfacePoint, surfaceReader } from '../shapes';

/** Places a side of the grid from which the parameters of a place are sought. */
const GRID = 24;
/** Newton steps towards the parameters. */
const STEPS = 4;

export type Near = SurfacePoint & { readonly uv: readonly [number, number] };

export interface NearFace {
  readonly reader: ReturnType<typeof surfaceReader>;
  /** The surface where it is nearest to a place; undefined at a singular one. */
  readonly nearest: (p: Vec3) => Near | undefined;
}

/** Looks places up on one face; to be disposed of by its reader. */
export function nearFace(kernel: Kernel, face: TopoDS_Face): NearFace {
  const reader = surfaceReader(kernel, face);
  const { u, v } = reader.range;
  const grid: { uv: [number, number]; point: Vec3 }[] = [];
  for (let i = 0; i <= GRID; i++)
    for (let j = 0; j <= GRID; j++) {
      const uv: [number, number] = [u[0] + ((u[1] - u[0]) * i) / GRID, v[0] + ((v[1] - v[0]) * j) / GRID];
      const q = reader.at(...uv);
      if (q) grid.push({ uv, point: q.point });
    }
  return {
    reader,
    nearest: (p) => {
      let best = Number.POSITIVE_INFINITY;
      let [a, b] = [0, 0];
      for (const g of grid) {
        const d = (g.point[0] - p[0]) ** 2 + (g.point[1] - p[1]) ** 2 + (g.point[2] - p[2]) ** 2;
        if (d < best) [best, a, b] = [d, ...g.uv];
      }
      let found: Near | undefined;
      for (let k = 0; k < STEPS; k++) {
        const q = reader.at(a, b);
        if (!q) return found;
        found = { ...q, uv: [a, b] };
        const d = minus(p, q.point);
        const [E, F, G] = [dot(q.du, q.du), dot(q.du, q.dv), dot(q.dv, q.dv)];
        const [x, y] = [dot(d, q.du), dot(d, q.dv)];
        const det = E * G - F * F;
        const [du, dv] = [(G * x - F * y) / det, (E * y - F * x) / det];
        if (du * du * E + dv * dv * G < 1e-16) break;
        a += du;
        b += dv;
      }
      return found;
    },
  };
}

/** Several faces looked up as one: the nearest of them. */
export function nearOfAll(
  kernel: Kernel,
  faces: readonly TopoDS_Face[],
): { readonly nearest: NearFace['nearest']; readonly end: () => void } {
  const all = faces.map((f) => nearFace(kernel, f));
  return {
    nearest: (p) =>
      all
        .flatMap((f) => f.nearest(p) ?? [])
        .reduce<Near | undefined>((a, b) => (a && distance(a.point, p) <= distance(b.point, p) ? a : b), undefined),
    end: () => {
      for (const { reader } of all) reader.dispose();
    },
  };
}
