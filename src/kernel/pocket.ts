/** Pockets in flat faces by topology alone: where outlines lie within one face, nothing has to be intersected. */
import type { TopoDS_Face, TopoDS_Wire } from 'replicad-opencascadejs';
import { type Frame, heightOver, normalOf } from '../core/curves/frame';
import { cross, dot, minus, triple, type Vec3 } from '../core/geometry/vectors';
import type { FaceName } from '../core/recipe/names';
import { asBody, type KernelBody } from './body';
import { attempt, type Kernel, type Scope, type Shape, scoped } from './open';
import { nameOn, type Prism, type RegionFace } from './prism';
import { flatFrame } from './refer';
import { solidWithin } from './sewing';
import { facesOf, subShapes } from './shapes';
import { shellOf } from './surface';
import { displayDeflection, tessellateOnto } from './tessellate';
import { verifySolid } from './verify';

/** A plane lies in another, mm. */
const FLAT = 1e-7;

/** What is cut out: its flat outline on the face, and the prism from there into the body. */
export interface Plug {
  readonly top: RegionFace;
  readonly prism: Prism;
  /** A place of its outline. */
  readonly at: Vec3;
}

/** The face of a body that lies in a plane and has all the places; undefined where it is not one and the same. */
function faceUnder(kernel: Kernel, body: KernelBody, frame: Frame, places: readonly Vec3[]): number | undefined {
  const faces = facesOf(kernel, body.shape);
  const n = normalOf(frame);
  const flat = faces.map((f) => {
    const own = flatFrame(kernel, f);
    return own !== undefined && Math.abs(heightOver(frame, own.origin)) < FLAT && Math.abs(Math.abs(dot(normalOf(own), n)) - 1) < 1e-12;
  });
  if (!flat.includes(true)) return undefined;
  const { positions: p, indices, faceOf } = body.mesh ?? tessellateOnto(kernel, body.shape, displayDeflection(kernel, body.shape));
  const corner = (k: number): Vec3 => triple((x) => p[3 * indices[k]! + x]!);
  const under = (q: Vec3): number | undefined => {
    for (let t = 0; t < faceOf.length; t++) {
      if (!flat[faceOf[t]!]) continue;
      const c = [corner(3 * t), corner(3 * t + 1), corner(3 * t + 2)] as const;
      const sides = c.map((a, i) => dot(cross(minus(c[(i + 1) % 3]!, a), minus(q, a)), n));
      if (sides.every((s) => s > -1e-6) || sides.every((s) => s < 1e-6)) return faceOf[t];
    }
    return undefined;
  };
  const found = places.map(under);
  return found.every((f) => f !== undefined && f === found[0]) ? found[0] : undefined;
}

const wiresOf = (kernel: Kernel, face: Shape): TopoDS_Wire[] => subShapes(kernel, face, 'TopAbs_WIRE').map((w) => kernel.TopoDS.Wire(w));

/**
 * A body with pockets in one of its flat faces, in which the plugs fit. The inside of a plug's hole stays as an island.
 * @returns undefined where outlines do not lie within one flat face, or the pockets run into something
 */
export function withPockets(kernel: Kernel, body: KernelBody, frame: Frame, plugs: readonly Plug[]): KernelBody | undefined {
  const index = faceUnder(
    kernel,
    body,
    frame,
    plugs.map((p) => p.at),
  );
  if (index === undefined) return undefined;
  const faces = facesOf(kernel, body.shape);
  // What an outline leaves inside of it stays as an island.
  const holes = plugs.map((p) => wiresOf(kernel, p.top.face));
  const floors = plugs.flatMap(({ prism }) =>
    facesOf(kernel, prism.shape)
      .filter((face) => !face.IsSame(prism.start))
      .map((face) => ({ face, name: nameOn(prism, face) ?? 'pocket' })),
  );
  const made = attempt(kernel, () =>
    scoped((s) => {
      for (const turned of [true, false]) {
        const shape = pocketed(
          kernel,
          s,
          faces,
          index,
          holes,
          floors.map((f) => f.face),
          turned,
        );
        const check = s.keep(new kernel.BRepCheck_Analyzer(shape, true, false, false));
        if (check.IsValid()) return shape;
      }
      return undefined;
    }),
  );
  if (!made.ok || !made.value) return undefined;
  const verified = verifySolid(kernel, made.value, { volume: [0, body.volume] });
  if (!verified.ok) return undefined;
  const islands = holes.flatMap((h) => h.slice(1)).map(() => body.faces[index]!);
  const own: FaceName[] = [...body.faces, ...islands, ...floors.map((f) => f.name)];
  // Islands share the face's name with it: pieces are numbered.
  const seen = new Map<string, number>();
  const names = own.map((name) => {
    const k = (seen.get(name) ?? 0) + 1;
    seen.set(name, k);
    return k === 1 ? name : `${name}#${k}`;
  });
  return asBody(verified.value, names);
}

/** @param turned outlines run the other way than the face's border does */
function pocketed(
  kernel: Kernel,
  s: Scope,
  faces: readonly Shape[],
  index: number,
  holes: readonly (readonly TopoDS_Wire[])[],
  floors: readonly Shape[],
  turned: boolean,
): Shape {
  const base = faces[index]!;
  const forward = kernel.TopoDS.Face(base.Oriented('TopAbs_FORWARD'));
  const way = base.Orientation();
  const maker = s.keep(new kernel.BRepBuilderAPI_MakeFace(forward));
  const facing = (w: TopoDS_Wire): TopoDS_Wire => (turned ? kernel.TopoDS.Wire(w.Reversed()) : w);
  const surface = kernel.BRep_Tool.Surface(forward);
  const islands: Shape[] = [];
  for (const [outer, ...inner] of holes) {
    maker.Add(facing(outer!));
    for (const wire of inner) {
      const island = s.keep(new kernel.BRepBuilderAPI_MakeFace(surface, facing(wire), true));
      islands.push(island.Face().Oriented(way));
    }
  }
  const list: Shape[] = faces.map((f, i) => (i === index ? maker.Face().Oriented(way) : f));
  list.push(...islands, ...floors.map((f) => f.Reversed()));
  const shell = shellOf(kernel, s, list as TopoDS_Face[]);
  shell.Closed(true);
  return solidWithin(kernel, s, shell);
}
