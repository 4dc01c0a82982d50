/** Bodies as they are looked at for a drawing: every edge followed in space, with which way is off the body there. */
import type { BRepAdaptor_Curve, TopoDS_Edge, TopoDS_Face } from 'replicad-opencascadejs';
import { chained } from '../core/curves/chained';
import { along, unit, type Vec3 } from '../core/geometry/vectors';
import { buildBvh } from '../core/mesh/bvh';
import type { TriMesh } from '../core/mesh/mesh';
import { mixed } from '../core/shop/outlines';
import type { BodyEdge, Looked } from '../core/shop/sight';
import type { KernelBody } from './body';
import { cornerAt } from './edges';
import { facetLines } from './facets';
import { namedEdges } from './names';
import { type Kernel, scoped } from './open';
import { facesOf, lengthOf, surfaceReader, xyzOf } from './shapes';
import { type BodyMesh, weldedMesh } from './tessellate';

/** An edge with the kernel's own. */
export interface LookedEdge extends BodyEdge {
  readonly edge: TopoDS_Edge | null;
}

/** Places along an edge: few of a straight one, more of a bent one, closer where it is long. */
const FEWEST = { straight: 16, bent: 32 };
const MOST = 160;
/** The same on a body of very many edges, where each is a small part of it. */
const MANY_EDGES = 400;

/** @param mesh facets of it @param off how far they lie off it, mm */
export function lookedOf(kernel: Kernel, id: string, body: KernelBody, mesh: BodyMesh, off: number): Looked<LookedEdge> {
  const skin = weldedMesh(mesh);
  return { edges: body.facets ? facetEdges(id, body, skin) : exactEdges(kernel, id, body), mesh, bvh: buildBvh(skin), off };
}

/** Where the faces of facets meet; how the facets lie beside them is not asked. */
function facetEdges(id: string, body: KernelBody, skin: TriMesh): LookedEdge[] {
  const { segments, edgeOf, edgeNames } = facetLines(skin, body.faces);
  const pieces = edgeNames.map((): Vec3[][] => []);
  for (let i = 0; i < edgeOf.length; i++) {
    const at = (k: number): Vec3 => [segments[6 * i + k]!, segments[6 * i + k + 1]!, segments[6 * i + k + 2]!];
    pieces[edgeOf[i]!]!.push([at(0), at(3)]);
  }
  return pieces.flatMap((own, e) =>
    chained(own).map((points, k, all) => ({
      body: id,
      name: all.length > 1 ? `${edgeNames[e]!}~${k + 1}` : edgeNames[e]!,
      points,
      lifts: points.map((): Vec3 => [0, 0, 0]),
      smooth: false,
      straight: points.length === 2,
      edge: null,
    })),
  );
}

function exactEdges(kernel: Kernel, id: string, body: KernelBody): LookedEdge[] {
  const faces = facesOf(kernel, body.shape);
  const edges = namedEdges(kernel, body);
  const many = edges.length > MANY_EDGES;
  const out: LookedEdge[] = [];
  for (const { edge, name, faces: sides } of edges) {
    // A seam is no line of the body.
    if (!name) continue;
    const found = scoped((s): Omit<LookedEdge, 'body' | 'name' | 'smooth' | 'edge'> => {
      const curve = s.keep(new kernel.BRepAdaptor_Curve(edge));
      const straight = curve.GetType() === 'GeomAbs_Line';
      const least = straight ? FEWEST.straight : FEWEST.bent;
      const n = many ? least / 2 : Math.min(MOST, Math.max(least, Math.ceil(lengthOf(kernel, edge) / 2)));
      const [t0, t1] = [curve.FirstParameter(), curve.LastParameter()];
      const p = s.keep(new kernel.gp_Pnt());
      const stops = Array.from({ length: n + 1 }, (_, i) => t0 + (i / n) * (t1 - t0));
      const points = stops.map((t) => {
        curve.D0(t, p);
        return xyzOf(p);
      });
      const circle = curve.GetType() === 'GeomAbs_Circle' ? circleOf(curve) : null;
      return {
        points,
        lifts: liftsAlong(
          kernel,
          edge,
          sides.map((f) => faces[f]!),
          stops,
          straight,
        ),
        straight,
        ...(circle ? { circle } : {}),
      };
    });
    const [a, b] = sides;
    const corner = b === undefined ? undefined : cornerAt(kernel, edge, faces[a!]!, faces[b]!);
    out.push({ body: id, name, smooth: corner?.kind === 'smooth', edge, ...found });
  }
  return out;
}

const circleOf = (curve: BRepAdaptor_Curve): NonNullable<BodyEdge['circle']> =>
  scoped((s) => {
    const circle = s.keep(curve.Circle());
    const axis = s.keep(s.keep(circle.Axis()).Direction());
    const turn = curve.LastParameter() - curve.FirstParameter();
    return {
      centre: xyzOf(s.keep(circle.Location())),
      axis: xyzOf(axis),
      radius: circle.Radius(),
      whole: Math.abs(turn - 2 * Math.PI) < 1e-9,
    };
  });

/** Away from the faces on both sides at each place: between their normals. Read at every fourth place of a bent edge, at three of a straight one. */
function liftsAlong(kernel: Kernel, edge: TopoDS_Edge, sides: readonly TopoDS_Face[], stops: readonly number[], straight: boolean): Vec3[] {
  const n = stops.length - 1;
  const step = straight ? n / 2 : 4;
  const own = scoped((s) => {
    const readers = sides.slice(0, 2).map((face) => {
      const on = s.keep(new kernel.BRepAdaptor_Curve2d(edge, face));
      const reader = surfaceReader(kernel, face);
      s.keep({ delete: reader.dispose });
      return (t: number): Vec3 => {
        const uv = on.Value(t);
        const normal = reader.at(uv.X(), uv.Y())?.normal ?? ([0, 0, 0] as Vec3);
        uv.delete();
        return normal;
      };
    });
    return Array.from({ length: Math.floor(n / step) + 1 }, (_, i) => {
      const t = stops[Math.min(n, Math.round(i * step))]!;
      // The border of a skin has nothing on its other side.
      const sum = readers.length < 2 ? [0, 0, 0] : readers.reduce<Vec3>((a, read) => along(a, read(t), 1), [0, 0, 0]);
      return unit(sum as Vec3) ?? ([0, 0, 0] as Vec3);
    });
  });
  return stops.map((_, i) => {
    const k = Math.min(own.length - 2, Math.floor(i / step));
    if (k < 0) return own[0]!;
    return unit(mixed(own[k]!, own[k + 1]!, Math.min(1, i / step - k))) ?? [0, 0, 0];
  });
}
