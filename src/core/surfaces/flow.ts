/** What a whole spline surface adds to the area, volume and centroid of the skin it is part of. */
import { basisDerivatives, findSpan } from '../curves/bspline';
import { cross, dot, type Vec3 } from '../curves/frame';
import { gauss } from '../quadrature';

/** A surface without weights by its poles, one row for every pole along u; knots with their repeats. */
export interface PoleSurface {
  readonly degrees: readonly [number, number];
  readonly knots: readonly [readonly number[], readonly number[]];
  readonly poles: readonly (readonly Vec3[])[];
  /** Part of its parameters that counts, of each way from and to; all where it is left out. */
  readonly range?: readonly [readonly [number, number], readonly [number, number]];
}

export interface Flow {
  /** mm² */
  readonly area: number;
  /** Of the cone from the origin over it, mm³; positive where it looks away from the origin. */
  readonly volume: number;
  /** Volume times centroid of that cone, mm⁴. */
  readonly moment: Vec3;
}

/** Places a knot span: polynomials of degree 11 are exact, areas are good to 1e-9 where knots lie no coarser than the surface bends. */
const PLACES = 6;

interface Station {
  readonly first: number;
  readonly values: readonly number[];
  readonly slopes: readonly number[];
  readonly w: number;
}

function stations(degree: number, knots: readonly number[], count: number, range: readonly [number, number] | undefined): Station[] {
  const out: Station[] = [];
  for (let i = degree; i < count; i++) {
    const [from, to] = [Math.max(knots[i]!, range?.[0] ?? knots[i]!), Math.min(knots[i + 1]!, range?.[1] ?? knots[i + 1]!)];
    if (!(to > from)) continue;
    for (const [t, w] of gauss(PLACES)) {
      const at = from + t * (to - from);
      const span = findSpan(degree, knots, count, at);
      const [values, slopes] = basisDerivatives(degree, knots, span, at, 1) as [number[], number[]];
      out.push({ first: span - degree, values, slopes, w: w * (to - from) });
    }
  }
  return out;
}

/** The flow through a surface, its normal to the left of u seen along v. */
export function flowThrough({ degrees: [p, q], knots: [ku, kv], poles, range }: PoleSurface): Flow {
  const rows = stations(p, ku, poles.length, range?.[0]);
  const columns = stations(q, kv, poles[0]!.length, range?.[1]);
  let [area, volume] = [0, 0];
  const moment: [number, number, number] = [0, 0, 0];
  const size = 3 * (q + 1);
  const [line, along] = [new Float64Array(3 * poles[0]!.length), new Float64Array(3 * poles[0]!.length)];
  for (const a of rows) {
    // Poles of the curve along v at this place of u, and of its derivative.
    line.fill(0);
    along.fill(0);
    for (let i = 0; i <= p; i++) {
      const row = poles[a.first + i]!;
      for (let j = 0; j < row.length; j++)
        for (let k = 0; k < 3; k++) {
          line[3 * j + k]! += a.values[i]! * row[j]![k]!;
          along[3 * j + k]! += a.slopes[i]! * row[j]![k]!;
        }
    }
    for (const b of columns) {
      const [at, du, dv]: [number, number, number][] = [
        [0, 0, 0],
        [0, 0, 0],
        [0, 0, 0],
      ] as [[number, number, number], [number, number, number], [number, number, number]];
      const from = 3 * b.first;
      for (let j = 0; j < size; j++) {
        const [k, i] = [j % 3, Math.floor(j / 3)];
        at![k]! += b.values[i]! * line[from + j]!;
        du![k]! += b.values[i]! * along[from + j]!;
        dv![k]! += b.slopes[i]! * line[from + j]!;
      }
      const n = cross(du!, dv!);
      const w = a.w * b.w;
      area += w * Math.hypot(n[0], n[1], n[2]);
      const through = w * dot(at!, n);
      volume += through / 3;
      for (let k = 0; k < 3; k++) moment[k]! += (through * at![k]!) / 4;
    }
  }
  return { area, volume, moment };
}
