/** Curvature along edges, sections and isoparametric curves of a body, off its exact curves and surfaces. */
import { cross, dot, minus, unit, type Vec3 } from '../../core/geometry/vectors';
import { bendOf, type Combed, curvatures, inflections } from '../../core/inspect/combs';
import { perimeterOf, type Station, sectionAt, sectionPlace } from '../../core/inspect/sweep';
import { type Bvh, type ClosestHit, closestOpposing } from '../../core/mesh/bvh';
import { areaOf } from '../amounts';
import type { KernelBody } from '../body';
import { namedEdges } from '../names';
import { type Kernel, scoped } from '../open';
import { facesOf, lengthOf, xyzOf } from '../shapes';
import { type NearFace, nearFace } from './nearest';

export interface CombReading {
  /** Name of the edge; null for a curve that has none. */
  readonly edge: string | null;
  /** Face it lies on; -1 where it runs over several. */
  readonly face: number;
  readonly curve: Combed;
  /** mm. */
  readonly length: number;
  /** Least radius, mm, with its place; null where it is straight throughout. */
  readonly tightest: { readonly radius: number; readonly at: Vec3 } | null;
  readonly inflections: number;
}

/** A side of a face's parameters that shrinks to a point: curves pinch together there. */
export interface Pinch {
  readonly face: number;
  readonly at: Vec3;
}

const FLAT = 1e-9;

function read(curve: Combed, length: number, edge: string | null, face: number): CombReading {
  const k = curvatures(curve);
  const most = k.reduce((best, x, i) => (x > k[best]! ? i : best), 0);
  return {
    edge,
    face,
    curve,
    length,
    tightest: k[most]! > FLAT ? { radius: 1 / k[most]!, at: curve.places[most]! } : null,
    inflections: inflections(curve),
  };
}

type Tick = (share: number) => Promise<boolean>;

/** @param step mm between teeth; @param tick false gives up and the result is null */
export async function edgeCombs(
  kernel: Kernel,
  body: KernelBody,
  step: number,
  tick: Tick = async () => true,
): Promise<CombReading[] | null> {
  const out: CombReading[] = [];
  const edges = namedEdges(kernel, body).filter((e) => e.name !== '');
  for (const [i, e] of edges.entries()) {
    if (!(await tick(i / edges.length))) return null;
    scoped((s) => {
      const curve = s.keep(new kernel.BRepAdaptor_Curve(e.edge));
      const length = lengthOf(kernel, e.edge);
      if (curve.GetType() === 'GeomAbs_Line') return;
      const [t0, t1] = [curve.FirstParameter(), curve.LastParameter()];
      const [p, d1, d2] = [s.keep(new kernel.gp_Pnt()), s.keep(new kernel.gp_Vec()), s.keep(new kernel.gp_Vec())];
      const n = Math.min(400, Math.max(8, Math.ceil(length / step)));
      const [places, bends]: [Vec3[], Vec3[]] = [[], []];
      for (let k = 0; k <= n; k++) {
        curve.D2(t0 + ((t1 - t0) * k) / n, p, d1, d2);
        const b = bendOf([d1.X(), d1.Y(), d1.Z()], [d2.X(), d2.Y(), d2.Z()]);
        if (!b) continue;
        places.push([p.X(), p.Y(), p.Z()]);
        bends.push(b);
      }
      const ends = [places[0], places[places.length - 1]];
      const closed = ends[0] !== undefined && ends[1] !== undefined && Math.hypot(...ends[0].map((x, k) => x - ends[1]![k]!)) < 1e-6;
      if (closed) {
        places.pop();
        bends.pop();
      }
      if (places.length > 1) out.push(read({ places, bends, closed }, length, e.name, -1));
    });
  }
  return out;
}

const near: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };

/**
 * Combs of a section. Places are met on the mesh and carried to the exact surface; how the section bends there follows from how the
 * surface bends along it and from its lean to the plane (Meusnier's theorem).
 */
export async function sectionCombs(
  kernel: Kernel,
  body: KernelBody,
  bvh: Bvh,
  station: Station,
  step: number,
  tick: Tick = async () => true,
): Promise<CombReading[] | null> {
  const section = sectionAt(bvh.mesh, station);
  const faces = facesOf(kernel, body.shape);
  const known = new Map<number, NearFace>();
  const m = station.normal as Vec3;
  const out: CombReading[] = [];
  try {
    for (const [l, loop] of section.loops.entries()) {
      if (!(await tick(l / section.loops.length))) return null;
      const length = perimeterOf(loop);
      const stride = Math.max(step, length / 600);
      const [places, bends]: [Vec3[], Vec3[]] = [[], []];
      const on = new Set<number>();
      let left = 0;
      for (let i = 0; i < loop.length; i++) {
        const [p, q] = [loop[i]!, loop[(i + 1) % loop.length]!];
        const side = Math.hypot(q[0] - p[0], q[1] - p[1]);
        for (; left < side; left += stride) {
          const s = left / side;
          const at = sectionPlace(section, station.normal, station.offset, [p[0] + (q[0] - p[0]) * s, p[1] + (q[1] - p[1]) * s]);
          closestOpposing(bvh, ...at, 0, 0, 1, 1, 1e6, near);
          const face = near.triangle < 0 ? -1 : bvh.mesh.faceOf[near.triangle]!;
          if (face < 0 || !faces[face]) continue;
          let look = known.get(face);
          if (!look) {
            look = nearFace(kernel, faces[face]);
            known.set(face, look);
          }
          const found = look.nearest(at);
          if (!found) continue;
          const b = sectionBend(found.normal, found.bend, m);
          if (!b) continue;
          on.add(face);
          places.push(found.point);
          bends.push(b);
        }
        left -= side;
      }
      if (places.length > 2) out.push(read({ places, bends, closed: true }, length, null, on.size === 1 ? [...on][0]! : -1));
    }
  } finally {
    for (const look of known.values()) look.reader.dispose();
  }
  return out;
}

/** Curvature vector, in the plane, of the curve in which a plane with this normal cuts a surface. Undefined where they touch. */
function sectionBend(normal: Vec3, bend: (direction: Vec3) => number, plane: Vec3): Vec3 | undefined {
  const t = unit(cross(plane, normal));
  if (!t) return undefined;
  const inPlane = cross(t, plane);
  const lean = dot(inPlane, normal);
  if (Math.abs(lean) < 1e-6) return undefined;
  // A convex bend turns away from the outward normal.
  const k = -bend(t) / lean;
  return inPlane.map((x) => k * x) as unknown as Vec3;
}

/** Whether a place of a face's surface lies within its trimming, as far as the mesh knows. */
function onFace(bvh: Bvh, face: number, at: Vec3, within: number): boolean {
  closestOpposing(bvh, ...at, 0, 0, 1, 1, within, near);
  return near.triangle >= 0 && (bvh.mesh.faceOf[near.triangle] === face || near.distance < 1e-6);
}

/** Curves of each direction on a face. */
const ISO = 5;

/** Isoparametric curves of every curved face, so many each way, with the sides of its parameters that shrink to a point. */
export async function isoCombs(
  kernel: Kernel,
  body: KernelBody,
  bvh: Bvh,
  step: number,
  tick: Tick = async () => true,
): Promise<{ curves: CombReading[]; pinches: Pinch[] } | null> {
  const faces = facesOf(kernel, body.shape);
  const [curves, pinches]: [CombReading[], Pinch[]] = [[], []];
  for (const [index, face] of faces.entries()) {
    if (!(await tick(index / faces.length))) return null;
    scoped((s) => {
      const surface = s.keep(new kernel.BRepAdaptor_Surface(face, true));
      if (surface.GetType() === 'GeomAbs_Plane') return;
      const b = kernel.BRepTools.UVBounds(face, 0, 0, 0, 0);
      const size = Math.sqrt(areaOf(kernel, face));
      const p = s.keep(new kernel.gp_Pnt());
      const v = [0, 1, 2, 3, 4].map(() => s.keep(new kernel.gp_Vec()));
      /** Runs of a curve that lie on the face; what its trimming has taken away is left out. */
      const line = (along: 'u' | 'v', fixed: number): { curve: Combed; length: number }[] => {
        const [from, to] = along === 'u' ? [b.UMin, b.UMax] : [b.VMin, b.VMax];
        const n = Math.min(200, Math.max(16, Math.ceil((2 * size) / step)));
        const runs: { places: Vec3[]; bends: Vec3[]; length: number }[] = [];
        let run: (typeof runs)[0] | undefined;
        for (let k = 0; k <= n; k++) {
          const t = from + ((to - from) * k) / n;
          if (along === 'u') surface.D2(t, fixed, p, v[0]!, v[1]!, v[2]!, v[3]!, v[4]!);
          else surface.D2(fixed, t, p, v[0]!, v[1]!, v[2]!, v[3]!, v[4]!);
          const bend = along === 'u' ? bendOf(xyzOf(v[0]!), xyzOf(v[2]!)) : bendOf(xyzOf(v[1]!), xyzOf(v[3]!));
          const at = xyzOf(p);
          if (!bend || !onFace(bvh, index, at, 0.004 * size)) {
            run = undefined;
            continue;
          }
          if (!run) {
            run = { places: [], bends: [], length: 0 };
            runs.push(run);
          }
          const last = run.places[run.places.length - 1];
          if (last) run.length += Math.hypot(...at.map((x, c) => x - last[c]!));
          run.places.push(at);
          run.bends.push(bend);
        }
        return runs.map(({ places, bends, length }) => ({ curve: { places, bends, closed: false }, length }));
      };
      /** Length of a side of the parameters. */
      const sideLength = (along: 'u' | 'v', fixed: number): number => {
        let [length, last]: [number, Vec3 | undefined] = [0, undefined];
        for (let k = 0; k <= 16; k++) {
          if (along === 'u') surface.D0(b.UMin + ((b.UMax - b.UMin) * k) / 16, fixed, p);
          else surface.D0(fixed, b.VMin + ((b.VMax - b.VMin) * k) / 16, p);
          const at = xyzOf(p);
          if (last) length += Math.hypot(...minus(at, last));
          last = at;
        }
        return length;
      };
      for (const along of ['u', 'v'] as const) {
        const [from, to] = along === 'u' ? [b.VMin, b.VMax] : [b.UMin, b.UMax];
        for (let k = 0; k < ISO; k++) {
          for (const { curve, length } of line(along, from + ((to - from) * (k + 0.5)) / ISO))
            if (curve.places.length > 2) curves.push(read(curve, length, null, index));
        }
        for (const end of [from, to]) {
          if (sideLength(along, end) > 1e-6 * size) continue;
          if (along === 'u') surface.D0(b.UMin, end, p);
          else surface.D0(end, b.VMin, p);
          pinches.push({ face: index, at: xyzOf(p) });
        }
      }
    });
  }
  return { curves, pinches };
}
