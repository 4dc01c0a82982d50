/** A small solid read face by face, so that it can be written again where it is laid: what it stands on, its faces' surfaces and its edges on them. */
import type { TopAbs_ShapeEnum, TopoDS_Edge, TopoDS_Face } from 'replicad-opencascadejs';
import type { Uv } from '../core/detail/dimple';
import type { Box2 } from '../core/detail/lay';
import { triple, type Vec3 } from '../core/geometry/vectors';
import { bounds } from '../core/mesh/mesh';
import { fail, ok, type Result } from '../core/result';
import { curveAt, interpolateCurve, quintic, type SplineSpace } from '../core/surfaces/space';
import type { Kernel, Shape } from './open';
import { facesOf, hashOf, xyzOf } from './shapes';

/** A curve over a face's parameters. */
export interface FlatCurve {
  readonly space: SplineSpace;
  readonly poles: readonly (readonly number[])[];
}

interface TileEdge {
  readonly range: readonly [number, number];
  /** Where it runs; of a pole its place. */
  readonly at: (t: number) => Vec3;
  readonly ends: readonly [number, number];
  /** It is a pole of a surface, without a length. */
  readonly pole: boolean;
}

interface TileUse {
  readonly edge: number;
  readonly sense: 1 | -1;
  readonly flat: FlatCurve;
}

export interface TileFace {
  /** Its number among the faces of the body. */
  readonly index: number;
  readonly sense: 1 | -1;
  readonly at: (u: number, v: number) => Vec3;
  readonly u: readonly [number, number];
  readonly v: readonly [number, number];
  readonly wires: readonly { readonly sense: 1 | -1; readonly uses: readonly TileUse[] }[];
}

export interface Tile {
  /** What it stands on. */
  readonly foot: TileFace;
  readonly others: readonly TileFace[];
  readonly edges: readonly TileEdge[];
  readonly vertices: readonly Vec3[];
  /** The room it takes about its middle; heights from its foot on. */
  readonly box: Box2;
  readonly high: number;
  readonly end: () => void;
}

/** What lies lower than this over the lowest place of a tile lies on its foot, mm. */
const LEVEL = 1e-6;
/** Curves over parameters are met so well, in shares of the face's range. */
const NEAR = 2e-7;
const MOST_SPANS = 64;
const NO_FOOT = 'its lowest place is no flat face that it could stand on';

/** Sub-shapes in the order they are written, as often as they are used, each with its own sense. */
function within(kernel: Kernel, shape: Shape, kind: TopAbs_ShapeEnum): { readonly shape: Shape; readonly sense: 1 | -1 }[] {
  const forward = shape.Oriented('TopAbs_FORWARD');
  const explorer = new kernel.TopExp_Explorer(forward, kind);
  const out: { shape: Shape; sense: 1 | -1 }[] = [];
  for (; explorer.More(); explorer.Next()) {
    const s = explorer.Current();
    out.push({ shape: s, sense: s.Orientation() === 'TopAbs_REVERSED' ? -1 : 1 });
  }
  explorer.delete();
  return out;
}

/** Places between those that are fitted, as shares of a span. */
export const BETWEEN = [0.11, 0.39, 0.64, 0.87] as const;

/** A flat curve as a spline over the same parameter. */
function flatOf(at: (t: number) => Uv, [from, to]: readonly [number, number], size: readonly [number, number]): FlatCurve {
  const off = ({ space, poles }: FlatCurve): number => {
    let worst = 0;
    const n = space.knots.length - 1;
    for (let i = 0; i < n; i++)
      for (const share of BETWEEN) {
        const t = from + ((i + share) / n) * (to - from);
        const [p, q] = [curveAt(space, poles, t), at(t)];
        worst = Math.max(worst, Math.abs(p[0]! - q[0]) / size[0], Math.abs(p[1]! - q[1]) / size[1]);
      }
    return worst;
  };
  const straight: FlatCurve = { space: { degree: 1, knots: [from, to], periodic: false }, poles: [at(from), at(to)] };
  if (off(straight) < NEAR) return straight;
  for (let spans = 1; ; spans *= 2) {
    const space = quintic(from, to, spans);
    const made = { space, poles: interpolateCurve(space, at) };
    if (spans >= MOST_SPANS || off(made) < NEAR) return made;
  }
}

/**
 * Reads a solid as a tile that stands on its lowest, flat face: from the middle of the room it takes, turned about the upright.
 * @param facets places of its skin, mm @param turn rad, seen from above to the left; @returns why it is none
 */
export function readTile(kernel: Kernel, shape: Shape, facets: ArrayLike<number>, turn: number): Result<Tile> {
  const held: { delete(): void }[] = [];
  const end = (): void => {
    for (const h of held) h.delete();
  };
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const turned = (p: Vec3): Vec3 => [c * p[0] - s * p[1], s * p[0] + c * p[1], p[2]];
  let origin: Vec3 = [0, 0, 0];
  const inPlace = (p: Vec3): Vec3 => {
    const q = turned(p);
    return triple((k) => q[k] - origin[k]);
  };
  const point = new kernel.gp_Pnt();
  held.push(point);
  const edges: TileEdge[] = [];
  const edgeShapes = new Map<number, { shape: Shape; index: number }[]>();
  const vertices: Vec3[] = [];
  const vertexShapes: Shape[] = [];
  const vertexOf = (v: Shape): number => {
    const known = vertexShapes.findIndex((o) => o.IsSame(v));
    if (known >= 0) return known;
    vertexShapes.push(v);
    return vertices.push(turned(xyzOf(kernel.BRep_Tool.Pnt(kernel.TopoDS.Vertex(v))))) - 1;
  };
  const edgeOf = (edge: TopoDS_Edge, range: readonly [number, number]): number => {
    const hash = hashOf(kernel, edge);
    const known = edgeShapes.get(hash)?.find((e) => e.shape.IsSame(edge));
    if (known) return known.index;
    const ends = within(kernel, edge, 'TopAbs_VERTEX');
    const [first, last] = ([1, -1] as const).map((sense) => ends.find((v) => v.sense === sense)?.shape);
    const at = vertexOf(first ?? last!);
    const pole = kernel.BRep_Tool.Degenerated(edge);
    let run = (_: number): Vec3 => inPlace(vertices[at]!);
    if (!pole) {
      const curve = new kernel.BRepAdaptor_Curve(kernel.TopoDS.Edge(edge.Oriented('TopAbs_FORWARD')));
      held.push(curve);
      run = (t) => {
        curve.D0(t, point);
        return inPlace(xyzOf(point));
      };
    }
    const index = edges.push({ range, at: run, ends: [at, vertexOf(last ?? first!)], pole }) - 1;
    edgeShapes.set(hash, [...(edgeShapes.get(hash) ?? []), { shape: edge, index }]);
    return index;
  };
  const faces: TileFace[] = facesOf(kernel, shape).map((face, index) => {
    const forward = kernel.TopoDS.Face(face.Oriented('TopAbs_FORWARD')) as TopoDS_Face;
    const { UMin, UMax, VMin, VMax } = kernel.BRepTools.UVBounds(forward, 0, 0, 0, 0);
    const surface = new kernel.BRepAdaptor_Surface(forward, false);
    held.push(surface);
    const wires = within(kernel, forward, 'TopAbs_WIRE').map((wire) => ({
      sense: wire.sense,
      uses: within(kernel, wire.shape, 'TopAbs_EDGE').map((use): TileUse => {
        const edge = kernel.TopoDS.Edge(use.shape);
        // Of an edge that a surface closes in, the curve on this side of it.
        const side = wire.sense * use.sense > 0 ? 'TopAbs_FORWARD' : 'TopAbs_REVERSED';
        const flat = new kernel.BRepAdaptor_Curve2d(kernel.TopoDS.Edge(edge.Oriented(side)), forward);
        const range = [flat.FirstParameter(), flat.LastParameter()] as const;
        const at = (t: number): Uv => {
          const p = flat.Value(t);
          const uv: Uv = [p.X(), p.Y()];
          p.delete();
          return uv;
        };
        const made = flatOf(at, range, [UMax - UMin || 1, VMax - VMin || 1]);
        flat.delete();
        return { edge: edgeOf(edge, range), sense: use.sense, flat: made };
      }),
    }));
    return {
      index,
      sense: face.Orientation() === 'TopAbs_REVERSED' ? -1 : 1,
      at: (u, v) => {
        surface.D0(u, v, point);
        return inPlace(xyzOf(point));
      },
      u: [UMin, UMax],
      v: [VMin, VMax],
      wires,
    };
  });
  const places: number[] = [];
  for (let i = 0; i < facets.length; i += 3) places.push(...turned([facets[i]!, facets[i + 1]!, facets[i + 2]!]));
  const room = bounds(places);
  const least = Math.min(...vertices.map((p) => p[2]));
  if (room.min[2] < least - LEVEL * 100) {
    end();
    return fail(NO_FOOT);
  }
  origin = [(room.min[0] + room.max[0]) / 2, (room.min[1] + room.max[1]) / 2, least];
  const shares = [0, 0.3, 0.6, 1];
  const between = ([from, to]: readonly [number, number], x: number): number => from + x * (to - from);
  const level = (p: Vec3): boolean => Math.abs(p[2]) < LEVEL;
  const [foot, second] = faces.filter(
    (f) =>
      shares.every((x) => level(f.at(between(f.u, x), between(f.v, x)))) &&
      f.wires.every((w) => w.uses.every(({ edge }) => shares.every((x) => level(edges[edge]!.at(between(edges[edge]!.range, x)))))),
  );
  if (!foot || second) {
    end();
    return fail(foot ? 'it stands on several flat faces' : NO_FOOT);
  }
  const half = (k: 0 | 1): readonly [number, number] => [(room.min[k]! - room.max[k]!) / 2, (room.max[k]! - room.min[k]!) / 2];
  return ok({
    foot,
    others: faces.filter((f) => f !== foot),
    edges,
    // Read before the origin was known.
    vertices: vertices.map((p) => triple((k) => p[k] - origin[k])),
    box: { x: half(0), y: half(1) },
    high: room.max[2] - least,
    end,
  });
}
