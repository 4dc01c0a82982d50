/** Small questions about kernel shapes. */

import type { gp_Pln, TopAbs_ShapeEnum, TopoDS_Edge, TopoDS_Face } from 'replicad-opencascadejs';
import { type Frame, normalOf } from '../core/curves/frame';
import type { BentSurface } from '../core/detail/lay';
import { cross, dot, triple, type Vec3 } from '../core/geometry/vectors';
import { type Bounds, bounds } from '../core/mesh/mesh';
import { type Kernel, type Scope, type Shape, scoped } from './open';

/** A point, vector or direction of the kernel as numbers. */
export const xyzOf = (p: { X(): number; Y(): number; Z(): number }): Vec3 => [p.X(), p.Y(), p.Z()];

const HASH_LIMIT = 2147483647;
export const hashOf = (kernel: Kernel, shape: Shape): number => kernel.ReplicadShapeHasher.HashCode(shape, HASH_LIMIT);

/** The same on faces of its own, without facets: what is kept on those of the shape itself hangs on its recipe alone. */
export function unmeshed(kernel: Kernel, s: Scope, shape: Shape): Shape {
  const still = s.keep(new kernel.gp_Trsf());
  return s.keep(s.keep(new kernel.BRepBuilderAPI_Transform(shape, still, true, false)).Shape());
}

/** Sub-shapes of a kind in the kernel's own order, each once. */
export function subShapes(kernel: Kernel, shape: Shape, kind: TopAbs_ShapeEnum): Shape[] {
  const explorer = new kernel.TopExp_Explorer(shape, kind);
  const out: Shape[] = [];
  const seen = new Map<number, Shape[]>();
  for (; explorer.More(); explorer.Next()) {
    const s = explorer.Current();
    const h = hashOf(kernel, s);
    const same = seen.get(h);
    if (same?.some((o) => o.IsSame(s))) {
      s.delete();
      continue;
    }
    if (same) same.push(s);
    else seen.set(h, [s]);
    out.push(s);
  }
  explorer.delete();
  return out;
}

export const facesOf = (kernel: Kernel, shape: Shape): TopoDS_Face[] =>
  subShapes(kernel, shape, 'TopAbs_FACE').map((s) => kernel.TopoDS.Face(s));

export interface EdgeInfo {
  readonly edge: TopoDS_Edge;
  /** Indices of the faces it bounds, in face order; one index twice over for a seam. */
  readonly faces: number[];
}

/** Every edge with the faces on its sides; degenerate edges (a pole) are left out. */
export function edgesWithFaces(kernel: Kernel, faces: readonly TopoDS_Face[]): EdgeInfo[] {
  const byHash = new Map<number, EdgeInfo[]>();
  const out: EdgeInfo[] = [];
  faces.forEach((face, f) => {
    const explorer = new kernel.TopExp_Explorer(face, 'TopAbs_EDGE');
    for (; explorer.More(); explorer.Next()) {
      const edge = kernel.TopoDS.Edge(explorer.Current());
      if (kernel.BRep_Tool.Degenerated(edge)) continue;
      const h = hashOf(kernel, edge);
      const list = byHash.get(h) ?? [];
      const known = list.find((i) => i.edge.IsSame(edge));
      if (known) known.faces.push(f);
      else {
        const info = { edge, faces: [f] };
        list.push(info);
        byHash.set(h, list);
        out.push(info);
      }
    }
    explorer.delete();
  });
  return out;
}

/** Bounds that were taken lately, by the handle of the shape: a handle's shape never changes once it is verified. */
const boxes = new WeakMap<Shape, Bounds>();

/** Length of an edge in mm. */
export const lengthOf = (kernel: Kernel, edge: Shape): number =>
  scoped((s) => {
    const props = s.keep(new kernel.GProp_GProps());
    kernel.BRepGProp.LinearProperties(edge, props, false, false);
    return props.Mass();
  });

/** Centre of mass of a face, mm. */
export function centreOf(kernel: Kernel, face: Shape): Vec3 {
  return scoped((s) => {
    const props = s.keep(new kernel.GProp_GProps());
    kernel.BRepGProp.SurfaceProperties(face, props, false, false);
    const c = s.keep(props.CentreOfMass());
    return [c.X(), c.Y(), c.Z()];
  });
}

/** Bounds in mm that hold the shape, quickly: splines get theirs from control points. */
export const roughBounds = (kernel: Kernel, shape: Shape): Bounds =>
  scoped((s) => {
    const box = s.keep(new kernel.Bnd_Box());
    kernel.BRepBndLib.Add(shape, box, false);
    return readBox(box);
  });

/** The kernel enlarges its boxes by its own tolerance of 1e-7. */
const tidy = (v: number): number => Math.round(v * 1e6) / 1e6;

const readBox = (box: {
  GetXMin(): number;
  GetYMin(): number;
  GetZMin(): number;
  GetXMax(): number;
  GetYMax(): number;
  GetZMax(): number;
}): Bounds => {
  return {
    min: [tidy(box.GetXMin()), tidy(box.GetYMin()), tidy(box.GetZMin())],
    max: [tidy(box.GetXMax()), tidy(box.GetYMax()), tidy(box.GetZMax())],
  };
};

/** Spline faces with more poles than this have their bounds and integrals sought here: the kernel's own search takes seconds on them. */
const MANY_POLES = 40;

/** Of more faces than this only those have their bounds sought that can reach those of the whole. */
const FEW_FACES = 60;

/** A mesh of a shape, as far as its bounds need it: how far it may lie off, mm, and the face of each triangle. */
export interface Rough {
  readonly positions: ArrayLike<number>;
  readonly indices: ArrayLike<number>;
  readonly faceOf: ArrayLike<number>;
}

/** Tight bounds in mm. @param rough a mesh of it, if one is at hand, and how far that lies off: faces that can't reach the bounds are then left alone */
export function boundsOf(kernel: Kernel, shape: Shape, rough?: { readonly mesh: Rough; readonly off: number }): Bounds {
  let known = boxes.get(shape);
  if (!known) {
    known = seekBounds(kernel, shape, rough);
    boxes.set(shape, known);
  }
  return known;
}

/** Bounds of the triangles of each face. */
function boxesOf(mesh: Rough, faces: number): Bounds[] {
  const out = Array.from(
    { length: faces },
    (): Bounds => ({ min: [Infinity, Infinity, Infinity], max: [-Infinity, -Infinity, -Infinity] }),
  );
  for (let t = 0; t < mesh.faceOf.length; t++) {
    const b = out[mesh.faceOf[t]!]!;
    for (let c = 0; c < 3; c++)
      for (let k = 0; k < 3; k++) {
        const v = mesh.positions[3 * mesh.indices[3 * t + c]! + k]!;
        if (v < b.min[k]!) b.min[k] = v;
        if (v > b.max[k]!) b.max[k] = v;
      }
  }
  return out;
}

function seekBounds(kernel: Kernel, shape: Shape, rough?: { readonly mesh: Rough; readonly off: number }): Bounds {
  return scoped((s) => {
    const box = s.keep(new kernel.Bnd_Box());
    const faces = facesOf(kernel, shape);
    const large = faces.filter((f) => isLargeSpline(kernel, f));
    const offset = faces.filter((f) => isOffset(kernel, f));
    if (large.length === 0 && offset.length === 0 && !(rough && faces.length > FEW_FACES)) {
      kernel.BRepBndLib.AddOptimal(shape, box, false, false);
      return readBox(box);
    }
    // Corners of a mesh lie on the faces, so that what they span the shape spans at least. A face whose facets stay inside of that
    // by more than they lie off reaches no bound.
    const spans = rough && boxesOf(rough.mesh, faces.length);
    const span = spans?.reduce((a, b) => ({
      min: a.min.map((m, k) => Math.min(m, b.min[k]!)) as [number, number, number],
      max: a.max.map((m, k) => Math.max(m, b.max[k]!)) as [number, number, number],
    }));
    const reaches = (f: TopoDS_Face): boolean => {
      const b = spans?.[faces.indexOf(f)];
      return !b || !span || [0, 1, 2].some((k) => b.min[k]! - rough!.off < span.min[k]! || b.max[k]! + rough!.off > span.max[k]!);
    };
    const own = [
      ...large.filter(reaches).map((f) => (fillsItsParameters(kernel, f) ? splineBounds : trimmedBounds)(kernel, f)),
      ...offset.filter(reaches).map((f) => facetBounds(kernel, f)),
    ];
    const rest = faces.filter((f) => !large.includes(f) && !offset.includes(f) && reaches(f));
    if (rest.length > 0) {
      for (const f of rest) kernel.BRepBndLib.AddOptimal(f, box, false, false);
      own.push(readBox(box));
    }
    const side = (f: (...v: number[]) => number, of: 'min' | 'max'): [number, number, number] => [
      f(...own.map((o) => o[of][0])),
      f(...own.map((o) => o[of][1])),
      f(...own.map((o) => o[of][2])),
    ];
    return { min: side(Math.min, 'min'), max: side(Math.max, 'max') };
  });
}

const isOffset = (kernel: Kernel, face: TopoDS_Face): boolean =>
  scoped((s) => s.keep(new kernel.BRepAdaptor_Surface(face, true)).GetType() === 'GeomAbs_OffsetSurface');

/** Facets of offset faces lie this near to them, mm. */
const FINE = 0.01;

/** Bounds by the facets of a face, whose corners lie on it: the kernel's own search has gone 0.7 mm past trimmed offset faces. */
function facetBounds(kernel: Kernel, face: TopoDS_Face): Bounds {
  return scoped((s) => {
    const data = s.keep(kernel.ReplicadMeshExtractor.extract(unmeshed(kernel, s, face), FINE, 0.1, false));
    const { min, max } = bounds(new Float32Array(kernel.wasmMemory.buffer, data.getVerticesPtr(), data.getVerticesSize()));
    return { min: [tidy(min[0]), tidy(min[1]), tidy(min[2])], max: [tidy(max[0]), tidy(max[1]), tidy(max[2])] };
  });
}

const isLargeSpline = (kernel: Kernel, face: TopoDS_Face): boolean =>
  scoped((s) => {
    const surface = s.keep(new kernel.BRepAdaptor_Surface(face, true));
    return surface.GetType() === 'GeomAbs_BSplineSurface' && surface.NbUPoles() * surface.NbVPoles() > MANY_POLES;
  });

/** Whether a face is a whole rectangle of its surface's parameters, and nothing is trimmed away inside it. */
function fillsItsParameters(kernel: Kernel, face: TopoDS_Face): boolean {
  return scoped((s) => {
    const b = kernel.BRepTools.UVBounds(face, 0, 0, 0, 0);
    const surface = s.keep(new kernel.BRepAdaptor_Surface(face, true));
    const hair = 1e-6;
    const whole =
      Math.abs(b.UMin - surface.FirstUParameter()) < hair &&
      Math.abs(b.UMax - surface.LastUParameter()) < hair &&
      Math.abs(b.VMin - surface.FirstVParameter()) < hair &&
      Math.abs(b.VMax - surface.LastVParameter()) < hair;
    if (!whole) return false;
    const explorer = s.keep(new kernel.TopExp_Explorer(face, 'TopAbs_EDGE'));
    for (; explorer.More(); explorer.Next()) {
      const flat = s.keep(new kernel.BRepAdaptor_Curve2d(kernel.TopoDS.Edge(explorer.Current()), face));
      for (const share of [0.1, 0.5, 0.9]) {
        const p = s.keep(flat.Value(flat.FirstParameter() + share * (flat.LastParameter() - flat.FirstParameter())));
        const [u, v] = [p.X(), p.Y()];
        const border = Math.min(Math.abs(u - b.UMin), Math.abs(u - b.UMax), Math.abs(v - b.VMin), Math.abs(v - b.VMax));
        if (border > hair) return false;
      }
    }
    return true;
  });
}

/** What the border of a face spans, and what its surface reaches beyond that within: the farthest places of a region lie on its border, or nothing near them is farther. */
function trimmedBounds(kernel: Kernel, face: TopoDS_Face): Bounds {
  return scoped((s) => {
    const box = s.keep(new kernel.Bnd_Box());
    for (const edge of subShapes(kernel, face, 'TopAbs_EDGE')) kernel.BRepBndLib.AddOptimal(edge, box, false, false);
    const border = readBox(box);
    const peaks = peaksOn(kernel, s, face, MOST_PEAKS);
    const onFace = (place: Vec3): boolean => {
      const off = distanceBetween(kernel, s.keep(vertexAt(kernel, place)), face);
      return off !== undefined && off.distance < 1e-6;
    };
    const reached = (k: 0 | 1 | 2, sign: 1 | -1): number => {
      const edge = sign < 0 ? border.min[k] : border.max[k];
      // The farthest first: those that were trimmed away don't count.
      const beyond = peaks(k, sign).filter((p) => sign * (p[k] - edge) > 1e-6);
      const found = beyond.sort((p, q) => sign * (q[k] - p[k])).find(onFace);
      return found ? tidy(found[k]) : edge;
    };
    return { min: triple((k) => reached(k, -1)), max: triple((k) => reached(k, 1)) };
  });
}

/** Bounds of a whole spline face. */
const splineBounds = (kernel: Kernel, face: TopoDS_Face): Bounds =>
  scoped((s) => {
    // Nothing is trimmed away: the highest of the grid leads to the highest of all.
    const peaks = peaksOn(kernel, s, face, 1);
    const far = (k: 0 | 1 | 2, sign: 1 | -1): number => tidy(peaks(k, sign)[0]![k]);
    return { min: triple((k) => far(k, -1)), max: triple((k) => far(k, 1)) };
  });

/** Places of the whole surface of a face that nothing near is beyond along an axis, the farthest of a grid, from which they are walked to. */
function peaksOn(kernel: Kernel, s: Scope, face: TopoDS_Face, most: number): (k: 0 | 1 | 2, sign: 1 | -1) => Vec3[] {
  const surface = s.keep(new kernel.BRepAdaptor_Surface(face, true));
  const p = s.keep(new kernel.gp_Pnt());
  const [u, v] = [
    [surface.FirstUParameter(), surface.LastUParameter()],
    [surface.FirstVParameter(), surface.LastVParameter()],
  ] as const;
  const at = (a: number, b: number): Vec3 => {
    surface.D0(Math.min(u[1], Math.max(u[0], a)), Math.min(v[1], Math.max(v[0], b)), p);
    return [p.X(), p.Y(), p.Z()];
  };
  const [n, m] = [Math.min(60, 3 * surface.NbUPoles()), Math.min(60, 3 * surface.NbVPoles())];
  const grid = Array.from({ length: m + 1 }, (_, j) =>
    Array.from({ length: n + 1 }, (_, i) => at(u[0] + ((u[1] - u[0]) * i) / n, v[0] + ((v[1] - v[0]) * j) / m)),
  );
  const walked = (i: number, j: number, k: 0 | 1 | 2, sign: 1 | -1): Vec3 => {
    let [a, b] = [u[0] + ((u[1] - u[0]) * i) / n, v[0] + ((v[1] - v[0]) * j) / m];
    let value = sign * grid[j]![i]![k];
    for (let step = 1; step > 1e-6; ) {
      const [du, dv] = [((u[1] - u[0]) / n) * step, ((v[1] - v[0]) / m) * step];
      let further = false;
      for (const [x, y] of AROUND) {
        const [c, d] = [Math.min(u[1], Math.max(u[0], a + x * du)), Math.min(v[1], Math.max(v[0], b + y * dv))];
        const q = sign * at(c, d)[k];
        if (q > value + 1e-12) {
          [a, b, value] = [c, d, q];
          further = true;
        }
      }
      if (!further) step /= 2;
    }
    return at(a, b);
  };
  return (k, sign) => {
    const peaks: { i: number; j: number; value: number }[] = [];
    for (let j = 0; j <= m; j++)
      for (let i = 0; i <= n; i++) {
        const value = sign * grid[j]![i]![k];
        if (AROUND.every(([x, y]) => !(sign * (grid[j + y]?.[i + x]?.[k] ?? Number.NaN) > value))) peaks.push({ i, j, value });
      }
    // Of what is level only some: they are all alike.
    return peaks
      .sort((a, b) => b.value - a.value)
      .slice(0, most)
      .map(({ i, j }) => walked(i, j, k, sign));
  };
}

const MOST_PEAKS = 6;
const AROUND = [
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
  [1, 1],
  [-1, -1],
  [1, -1],
  [-1, 1],
] as const;

/** Least distance between two shapes in mm, with the nearest points. Undefined where the kernel finds none. */
export function distanceBetween(kernel: Kernel, a: Shape, b: Shape): { distance: number; onA: Vec3; onB: Vec3 } | undefined {
  return scoped((s) => {
    const d = s.keep(new kernel.BRepExtrema_DistShapeShape());
    d.LoadS1(a);
    d.LoadS2(b);
    if (!d.Perform() || !d.IsDone() || d.NbSolution() < 1) return undefined;
    const p = s.keep(d.PointOnShape1(1));
    const q = s.keep(d.PointOnShape2(1));
    return { distance: d.Value(), onA: [p.X(), p.Y(), p.Z()], onB: [q.X(), q.Y(), q.Z()] };
  });
}

/** Where a line meets a face, nearest to a place. Undefined where it does not. */
export function nearestOnLine(kernel: Kernel, line: Shape, face: Shape, p: Vec3): Vec3 | undefined {
  return scoped((s) => {
    const d = s.keep(new kernel.BRepExtrema_DistShapeShape());
    d.LoadS1(line);
    d.LoadS2(face);
    if (!d.Perform() || !d.IsDone() || d.Value() > 1e-6) return undefined;
    let best: { at: Vec3; d: number } | undefined;
    for (let i = 1; i <= d.NbSolution(); i++) {
      const q = s.keep(d.PointOnShape2(i));
      const at: Vec3 = [q.X(), q.Y(), q.Z()];
      const far = Math.hypot(at[0] - p[0], at[1] - p[1], at[2] - p[2]);
      if (!best || far < best.d) best = { at, d: far };
    }
    return best?.at;
  });
}

/** The plane of a frame. */
export const planeAt = (kernel: Kernel, s: Scope, frame: Frame): gp_Pln =>
  s.keep(new kernel.gp_Pln(s.keep(new kernel.gp_Pnt(...frame.origin)), s.keep(new kernel.gp_Dir(...normalOf(frame)))));

export function vertexAt(kernel: Kernel, p: Vec3): Shape {
  return scoped((s) => {
    const point = s.keep(new kernel.gp_Pnt(p[0], p[1], p[2]));
    const maker = s.keep(new kernel.BRepBuilderAPI_MakeVertex(point));
    return maker.Vertex();
  });
}

export function compoundOf(kernel: Kernel, shapes: readonly Shape[]): Shape {
  const compound = new kernel.TopoDS_Compound();
  const builder = new kernel.TopoDS_Builder();
  builder.MakeCompound(compound);
  for (const s of shapes) builder.Add(compound, s);
  builder.delete();
  return compound;
}

export const solidsOf = (kernel: Kernel, shape: Shape): Shape[] => subShapes(kernel, shape, 'TopAbs_SOLID');

/** Surface frame of a face at (u, v): point, outward unit normal, and both principal curvatures. */
export interface SurfacePoint {
  readonly point: Vec3;
  readonly normal: Vec3;
  /** Principal curvatures in 1/mm, largest first; positive where the surface bends away from the outward normal (convex). */
  readonly curvatures: readonly [number, number];
  /** Along the parameters, mm. */
  readonly du: Vec3;
  readonly dv: Vec3;
  /** Normal curvature in a direction of the tangent plane, 1/mm, of the same sign as the principal ones. */
  readonly bend: (direction: Vec3) => number;
}

/** Reads position, normal and curvature off a face at many parameters, with one adaptor. Undefined at singular points. */
export function surfaceReader(
  kernel: Kernel,
  face: TopoDS_Face,
): {
  at: (u: number, v: number) => SurfacePoint | undefined;
  range: { u: [number, number]; v: [number, number] };
  dispose: () => void;
} {
  const surface = new kernel.BRepAdaptor_Surface(face, true);
  const flip = face.Orientation() === 'TopAbs_REVERSED' ? -1 : 1;
  const p = new kernel.gp_Pnt();
  const v5 = [0, 1, 2, 3, 4].map(() => new kernel.gp_Vec());
  const b = kernel.BRepTools.UVBounds(face, 0, 0, 0, 0);
  return {
    range: { u: [b.UMin, b.UMax], v: [b.VMin, b.VMax] },
    at: (u, v) => {
      surface.D2(u, v, p, v5[0]!, v5[1]!, v5[2]!, v5[3]!, v5[4]!);
      const [du, dv, duu, dvv, duv] = v5.map(xyzOf) as [Vec3, Vec3, Vec3, Vec3, Vec3];
      const n = cross(du, dv);
      const len = Math.hypot(...n);
      const E = dot(du, du);
      const F = dot(du, dv);
      const G = dot(dv, dv);
      if (len <= 1e-9 * Math.max(E, G, 1e-30)) return undefined;
      const unit: Vec3 = [(flip * n[0]) / len, (flip * n[1]) / len, (flip * n[2]) / len];
      const L = dot(duu, unit);
      const M = dot(duv, unit);
      const N = dot(dvv, unit);
      const det = E * G - F * F;
      const mean = (E * N - 2 * F * M + G * L) / (2 * det);
      const gauss = (L * N - M * M) / det;
      const root = Math.sqrt(Math.max(0, mean * mean - gauss));
      const bend = (w: Vec3): number => {
        // The direction in parameters, then the second form over the first.
        const [x, y] = [dot(w, du), dot(w, dv)];
        const [a, b] = [(G * x - F * y) / det, (E * y - F * x) / det];
        return -(L * a * a + 2 * M * a * b + N * b * b) / (E * a * a + 2 * F * a * b + G * b * b);
      };
      return { point: xyzOf(p), normal: unit, curvatures: [-(mean - root), -(mean + root)], du, dv, bend };
    },
    dispose: () => {
      surface.delete();
      p.delete();
      for (const w of v5) w.delete();
    },
  };
}

/** A face that is read off, as a surface that tells how it bends. */
export const bentBy =
  ({ at }: Pick<ReturnType<typeof surfaceReader>, 'at'>): BentSurface =>
  (u, v) => {
    const r = at(u, v);
    return r && { p: r.point, n: r.normal, du: r.du, dv: r.dv, bend: r.bend };
  };
