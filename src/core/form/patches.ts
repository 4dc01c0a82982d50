/**
 * The limit of a cage as few large bicubic spline faces: one for every rectangle of plain quads. It is exact where the cage is plain; towards
 * irregular vertices and creases knots draw together and what is left is measured. Source: interpolation of limit places, end derivatives
 * and twists; end points of tangents at irregular vertices by Loop and Schaefer 2008 (from memory).
 */
import type { Vec3 } from '../geometry/vectors';
import { knotSolver, type SplineSpace, type SplineSurface, surfaceAt } from '../surfaces/space';
import { isQuads, type Net, type P3, type Ring, ringsOf } from './cage';
import { limitAt } from './limit';
import { limitPlaces } from './masks';
import { levelsToSettle, refine, refined } from './refine';
import { irregularVertices, type Placed, type Region, regionsOf } from './regions';

export interface FormPatch {
  readonly surface: SplineSurface;
  /** Faces of the cage it covers. */
  readonly faces: readonly number[];
}

export interface FormSkin {
  readonly patches: readonly FormPatch[];
  /** Largest distance met between patches and limit, mm, with its place on the limit. */
  readonly deviation: { readonly value: number; readonly at: P3 };
  /** Vertices that are irregular, after a first refinement where the cage has faces that are no quads. */
  readonly irregular: number;
}

/** @param levels refinements about irregular vertices: 3 for a preview, 4 for a solid, more for less deviation */
export function patchesOf(cage: Net, levels: number): FormSkin {
  const { net, odd, regions, patches } = covered(cage, levels);
  return { patches, deviation: deviationOf(net, odd, regions, patches), irregular: odd.filter(Boolean).length };
}

/** The same without a measure of what the faces miss. */
export const facesOver = (cage: Net, levels: number): readonly FormPatch[] => covered(cage, levels).patches;

function covered(cage: Net, levels: number) {
  const quads = isQuads(cage);
  const net = quads ? cage : refine(cage);
  // A quad of the first refinement has the number of the corner of the cage's face it lies at.
  const parent = quads ? undefined : parents(cage);
  const deep = Math.max(levels, levelsToSettle(net));
  const rings = ringsOf(net);
  const odd = irregularVertices(net, rings);
  const regions = regionsOf(net);
  const graded = odd.some(Boolean);
  const fine = refined(net, deep);
  const sampler = new Sampler(fine, deep);
  const patches = regions.map(
    (region): FormPatch => ({
      surface: patch(sampler, region, graded),
      faces: [...new Set(region.cells.flat().map((p) => (parent ? parent[p.face]! : p.face)))],
    }),
  );
  return { net, odd, regions, patches };
}

function parents(cage: Net): Uint32Array {
  const out = new Uint32Array(cage.vertex.length);
  for (let f = 0; f + 1 < cage.start.length; f++) out.fill(f, cage.start[f], cage.start[f + 1]);
  return out;
}

/** Whole numbers, and where it is graded 2⁻ᵏ from both ends. */
function knotsOf(cells: number, deep: number, graded: boolean): number[] {
  const all = new Set(Array.from({ length: cells + 1 }, (_, i) => i));
  if (graded)
    for (let k = 1; k <= deep; k++) {
      all.add(2 ** -k);
      all.add(cells - 2 ** -k);
    }
  return [...all].sort((a, b) => a - b);
}

function patch(sampler: Sampler, region: Region, graded: boolean): SplineSurface {
  const [q, p] = [region.cells.length, region.cells[0]!.length];
  const [ku, kv] = [knotsOf(p, sampler.deep, graded), knotsOf(q, sampler.deep, graded)];
  const u: SplineSpace = { degree: 3, knots: ku, periodic: false };
  const v: SplineSpace = { degree: 3, knots: kv, periodic: false };
  const grid = sampler.on(region);
  const [along, up] = [knotSolver(u), knotSolver(v)];
  /** Poles along u of a row with its end derivatives. */
  const row = (values: readonly P3[], first: P3, last: P3): P3[] => {
    const m = values.length - 1;
    const three = [0, 1, 2].map((k) =>
      along([values[0]![k]!, first[k]!, ...values.slice(1, m).map((x) => x[k]!), last[k]!, values[m]![k]!]),
    );
    return three[0]!.map((_, i): P3 => [three[0]![i]!, three[1]![i]!, three[2]![i]!]);
  };
  const rows = kv.map((b) =>
    row(
      ku.map((a) => grid.place(a, b)),
      grid.du(0, b),
      grid.du(p, b),
    ),
  );
  const low = row(
    ku.map((a) => grid.dv(a, 0)),
    grid.twist(0, 0),
    grid.twist(p, 0),
  );
  const high = row(
    ku.map((a) => grid.dv(a, q)),
    grid.twist(0, q),
    grid.twist(p, q),
  );
  const poles = rows[0]!.map((_, i): Vec3[] => {
    const m = rows.length - 1;
    const three = [0, 1, 2].map((k) =>
      up([rows[0]![i]![k]!, low[i]![k]!, ...rows.slice(1, m).map((r) => r[i]![k]!), high[i]![k]!, rows[m]![i]![k]!]),
    );
    return three[0]!.map((_, j): Vec3 => [three[0]![j]!, three[1]![j]!, three[2]![j]!]);
  });
  return { u, v, poles };
}

interface GridReader {
  place(a: number, b: number): P3;
  /** Derivatives by the region's parameters. */
  du(a: number, b: number): P3;
  dv(a: number, b: number): P3;
  twist(a: number, b: number): P3;
}

/** Reads limit places, derivatives and twists off a finely refined net, by dyadic coordinates on the quads it comes from. */
class Sampler {
  private readonly rings: Ring[];
  private readonly limits: Float64Array;
  private readonly unitsPerQuad: number;
  constructor(
    private readonly fine: Net,
    readonly deep: number,
  ) {
    this.rings = ringsOf(fine);
    this.limits = limitPlaces(fine);
    this.unitsPerQuad = 2 ** deep;
  }

  on(region: Region): GridReader {
    const [q, p] = [region.cells.length, region.cells[0]!.length];
    const s = this.unitsPerQuad;
    const vertex = (i: number, j: number): number => {
      const [x, y] = [Math.min(Math.floor(i / s), p - 1), Math.min(Math.floor(j / s), q - 1)];
      return this.vertex(region.cells[y]![x]!, i - x * s, j - y * s);
    };
    // Towards the inside, where a border leaves no other way.
    const ahead = (i: number, most: number): 1 | -1 => (i < most ? 1 : -1);
    return {
      place: (a, b) => this.limit(vertex(a * s, b * s)),
      du: (a, b) => {
        const [i, j, d] = [a * s, b * s, ahead(a * s, p * s)];
        return scaled(this.derivative(vertex(i, j), vertex(i + d, j)), d * s);
      },
      dv: (a, b) => {
        const [i, j, d] = [a * s, b * s, ahead(b * s, q * s)];
        return scaled(this.derivative(vertex(i, j), vertex(i, j + d)), d * s);
      },
      twist: (a, b) => {
        const [i, j] = [a * s, b * s];
        const [d, e] = [ahead(i, p * s), ahead(j, q * s)];
        return scaled(this.twist(vertex(i, j), vertex(i + d, j), vertex(i, j + e), vertex(i + d, j + e)), d * e * s * s);
      },
    };
  }

  /** The fine vertex at whole coordinates of a quad. */
  private vertex({ face, corner }: Placed, x: number, y: number): number {
    let [f, c, a, b] = [face, corner, x, y];
    for (let size = this.unitsPerQuad; size > 1; size /= 2) {
      const half = size / 2;
      const [right, above] = [a > half, b > half];
      const j = right ? (above ? 2 : 1) : above ? 3 : 0;
      f = 4 * f + ((c + j) & 3);
      // As the quarter runs, its corner at the lower left is one of the four.
      c = [0, 3, 2, 1][j]!;
      if (right) a -= half;
      if (above) b -= half;
    }
    const k = a === 0 ? (b === 0 ? 0 : 3) : b === 0 ? 1 : 2;
    return this.fine.vertex[4 * f + ((c + k) & 3)]!;
  }

  private limit(v: number): P3 {
    return [this.limits[3 * v]!, this.limits[3 * v + 1]!, this.limits[3 * v + 2]!];
  }
  private at(v: number): P3 {
    const p = this.fine.places;
    return [p[3 * v]!, p[3 * v + 1]!, p[3 * v + 2]!];
  }
  private across(f: number, v: number): P3 {
    for (let k = 0; k < 4; k++) if (this.fine.vertex[4 * f + k] === v) return this.at(this.fine.vertex[4 * f + ((k + 2) & 3)]!);
    throw new Error('a ring names a face its vertex is not on');
  }
  private sharp(ring: Ring, i: number): boolean {
    return this.fine.crease[ring.edges[i]!]! > 0;
  }

  /** Derivative of the limit at a fine vertex towards a neighbour, by fine quads. */
  private derivative(v: number, toward: number): P3 {
    const ring = this.rings[v]!;
    const n = ring.edges.length;
    const i = ring.near.indexOf(toward);
    const near = (k: number): P3 => this.at(ring.near[((k % n) + n) % n]!);
    const face = (k: number): P3 => this.across(ring.faces[((k % ring.faces.length) + ring.faces.length) % ring.faces.length]!, v);
    const sharp = ring.edges.map((_, k) => k).filter((k) => this.sharp(ring, k));
    const p = this.at(v);
    if (this.fine.corner[v]! > 0 || sharp.length > 2) return sum([1, near(i)], [-1, p]);
    if (sharp.length === 2) {
      const [a, b] = sharp as [number, number];
      if (i === a || i === b) {
        const other = i === a ? b : a;
        return sum([0.5, near(i)], [-0.5, near(other)]);
      }
      // Alone between two creases it is plain: the crease stands for a mirror.
      const inWedge = (i + n - 1) % n === (i < a || i > b ? b : a) && (i + 1) % n === (i < a || i > b ? a : b);
      if (inWedge) {
        const [before, after] = [near(i - 1), near(i + 1)];
        return sum([4 / 6, near(i)], [-4 / 6, p], [1 / 6, face(i - 1)], [-1 / 6, before], [1 / 6, face(i)], [-1 / 6, after]);
      }
      return sum([1, near(i)], [-1, p]);
    }
    if (n === 4 && sharp.length === 0)
      return sum(
        [2 / 6, near(i)],
        [-2 / 6, near(i + 2)],
        [1 / 12, face(i)],
        [1 / 12, face(i - 1)],
        [-1 / 12, face(i + 1)],
        [-1 / 12, face(i + 2)],
      );
    const [c, cos] = [Math.cos(Math.PI / n), Math.cos((2 * Math.PI) / n)];
    const lambda = (5 + cos + c * Math.sqrt(18 + 2 * cos)) / 16;
    const sigma = 1 / Math.sqrt(4 + c * c);
    const terms: [number, P3][] = [];
    for (let k = 0; k < n; k++) {
      const [q, next, diagonal] = [near(k), near(k + 1), face(k)];
      const middle = sum([0.5, p], [0.5, q]);
      const centre = sum([0.25, p], [0.25, q], [0.25, next], [0.25, diagonal]);
      terms.push([(1 - sigma * c) * Math.cos((2 * Math.PI * (k - i)) / n), middle]);
      terms.push([2 * sigma * Math.cos((2 * Math.PI * (k - i) + Math.PI) / n), centre]);
    }
    return scaled(sum(...terms), (2 * lambda * 2) / n);
  }

  /** Mixed derivative at a fine vertex towards two neighbours with a face between them, by fine quads. */
  private twist(v: number, a: number, b: number, diagonal: number): P3 {
    const ring = this.rings[v]!;
    const n = ring.edges.length;
    const sharp = ring.edges.map((_, k) => k).filter((k) => this.sharp(ring, k));
    const [i, j] = [ring.near.indexOf(a), ring.near.indexOf(b)];
    const plain = this.fine.corner[v] === 0;
    const face = (k: number): P3 => this.across(ring.faces[((k % ring.faces.length) + ring.faces.length) % ring.faces.length]!, v);
    if (plain && n === 4 && sharp.length === 0 && !ring.border) {
      const first = (i + 1) % 4 === j ? i : j;
      return scaled(sum([1, face(first)], [-1, face(first + 1)], [1, face(first + 2)], [-1, face(first + 3)]), 0.25);
    }
    // On a crease that goes on behind the vertex, with one edge between its two ends on this side.
    if (plain && sharp.length === 2 && sharp.includes(i) !== sharp.includes(j)) {
      const [on, off] = sharp.includes(i) ? [i, j] : [j, i];
      const other = sharp.find((k) => k !== on)!;
      const [before, after] = [(off + n - 1) % n, (off + 1) % n];
      if ((before === on && after === other) || (before === other && after === on)) {
        const [nearFace, farFace] = before === on ? [off - 1, off] : [off, off - 1];
        return scaled(sum([1, face(nearFace)], [-1, this.at(ring.near[on]!)], [-1, face(farFace)], [1, this.at(ring.near[other]!)]), 0.5);
      }
    }
    if (!plain) return sum([1, this.at(diagonal)], [-1, this.at(a)], [-1, this.at(b)], [1, this.at(v)]);
    return sum([1, this.limit(diagonal)], [-1, this.limit(a)], [-1, this.limit(b)], [1, this.limit(v)]);
  }
}

const scaled = (v: P3, s: number): P3 => [s * v[0], s * v[1], s * v[2]];
function sum(...terms: readonly (readonly [number, P3])[]): P3 {
  const out: [number, number, number] = [0, 0, 0];
  for (const [w, q] of terms) for (let k = 0; k < 3; k++) out[k] = out[k]! + w * q[k]!;
  return out;
}

/** Between knots and between them and the middle of a quad, on quads at irregular vertices: elsewhere the patches are exact. */
const PLACES = [0.03, 0.14, 0.35] as const;

function deviationOf(net: Net, odd: readonly boolean[], regions: readonly Region[], patches: readonly FormPatch[]): FormSkin['deviation'] {
  let worst: { value: number; at: P3 } = { value: 0, at: [0, 0, 0] };
  for (const [r, region] of regions.entries())
    region.cells.forEach((row, j) => {
      row.forEach((p, i) => {
        for (let k = 0; k < 4; k++) {
          if (!odd[net.vertex[net.start[p.face]! + ((p.corner + k) & 3)]!]) continue;
          for (const a of PLACES)
            for (const b of PLACES) {
              const x = k === 1 || k === 2 ? 1 - a : a;
              const y = k >= 2 ? 1 - b : b;
              const exact = limitAt(net, p.face, ...ownOf(p.corner, x, y)).point;
              const q = surfaceAt(patches[r]!.surface, i + x, j + y);
              const value = Math.hypot(q[0] - exact[0], q[1] - exact[1], q[2] - exact[2]);
              if (value > worst.value) worst = { value, at: exact };
            }
        }
      });
    });
  return worst;
}

/** Coordinates of a region's quad as the quad itself runs. */
function ownOf(corner: number, x: number, y: number): [number, number] {
  switch (corner) {
    case 0:
      return [x, y];
    case 1:
      // Its lower left is the quad's second corner: along u it runs as the quad's v.
      return [1 - y, x];
    case 2:
      return [1 - x, 1 - y];
    default:
      return [y, 1 - x];
  }
}
