/** How far a round, a bevel or a wall can go by the shape around it, read off before anything is tried. */
import type { TopoDS_Edge, TopoDS_Face } from 'replicad-opencascadejs';
import type { Vec3 } from '../core/geometry/vectors';
import type { Project } from '../core/recipe/schema';
import { edgeWords, faceWords } from '../core/recipe/words';
import { fixed } from '../core/units/units';
import type { KernelBody } from './body';
import { cornerAt } from './edges';
import type { NamedEdge } from './names';
import type { Kernel } from './open';
import { distanceBetween, edgesWithFaces, facesOf, roughBounds, surfaceReader, vertexAt } from './shapes';
import { displayDeflection, tessellate } from './tessellate';

export interface Estimate {
  /** Largest value the shape leaves room for, mm. */
  readonly limit: number;
  /** What limits it. */
  readonly words: string;
  readonly at: Vec3;
}

interface Room {
  readonly width: number;
  readonly at: Vec3;
  /** The line the room ends at, where it is one that is softened too. */
  readonly shared: boolean;
}

/** How wide a face is, seen from one of its edges: to the next edge that does not touch it, else to its farthest place. */
function roomOn(kernel: Kernel, face: TopoDS_Face, edge: TopoDS_Edge, set: readonly NamedEdge[]): Room | undefined {
  let best: Room | undefined;
  for (const { edge: other } of edgesWithFaces(kernel, [face])) {
    if (other.IsSame(edge)) continue;
    const d = distanceBetween(kernel, other, edge);
    if (!d || d.distance < 1e-6) continue;
    if (!best || d.distance < best.width) best = { width: d.distance, at: d.onA, shared: set.some((e) => e.edge.IsSame(other)) };
  }
  if (best) return best;
  const mesh = tessellate(kernel, face, displayDeflection(kernel, face));
  const stride = 3 * Math.max(1, Math.floor(mesh.positions.length / 3 / 200));
  for (let i = 0; i < mesh.positions.length; i += stride) {
    const at: Vec3 = [mesh.positions[i]!, mesh.positions[i + 1]!, mesh.positions[i + 2]!];
    const v = vertexAt(kernel, at);
    const d = distanceBetween(kernel, v, edge)?.distance ?? 0;
    v.delete();
    if (!best || d > best.width) best = { width: d, at, shared: false };
  }
  // A disc with a rim alone: its middle lies on no mesh corner, half its span is what there is.
  const b = roughBounds(kernel, face);
  const half = Math.max(...b.max.map((m, k) => m - b.min[k]!)) / 2;
  const whole = edgesWithFaces(kernel, [face]).length === 1;
  return whole && best ? { ...best, width: half, at: b.min.map((m, k) => (m + b.max[k]!) / 2) as unknown as Vec3 } : best;
}

/** The tightest bend of a face on the side a ball rolls, 1/mm with its place. */
function tightest(kernel: Kernel, face: TopoDS_Face, inside: boolean): { k: number; at: Vec3 } | undefined {
  const reader = surfaceReader(kernel, face);
  const { u, v } = reader.range;
  let best: { k: number; at: Vec3 } | undefined;
  for (let i = 0; i <= 12; i++)
    for (let j = 0; j <= 12; j++) {
      const s = reader.at(u[0] + ((u[1] - u[0]) * (i + 0.5)) / 13, v[0] + ((v[1] - v[0]) * (j + 0.5)) / 13);
      if (!s) continue;
      const k = inside ? s.curvatures[0] : -s.curvatures[1];
      if (k > 1e-6 && (!best || k > best.k)) best = { k, at: s.point };
    }
  reader.dispose();
  return best;
}

/**
 * The room one edge has for a round.
 * @param set all edges rounded with it: room between two of them is shared
 */
export function roundRoom(
  kernel: Kernel,
  project: Project,
  body: KernelBody,
  e: NamedEdge,
  set: readonly NamedEdge[],
): Estimate | undefined {
  const faces = facesOf(kernel, body.shape);
  const sides = e.faces.map((i) => faces[i]!);
  const corner = cornerAt(kernel, e.edge, sides[0]!, sides[1] ?? sides[0]!);
  if (!corner || corner.kind === 'smooth') return undefined;
  const reach = Math.tan(corner.turn / 2);
  let best: Estimate | undefined;
  const offer = (limit: number, words: string, at: Vec3): void => {
    if (!best || limit < best.limit) best = { limit, words, at };
  };
  for (const [k, face] of sides.entries()) {
    const name = faceWords(body.faces[e.faces[k]!]!, project);
    const room = roomOn(kernel, face, e.edge, set);
    if (room)
      offer(
        (room.shared ? room.width / 2 : room.width) / reach,
        `${name}, ${fixed(room.width, 2)} mm wide${room.shared ? ' and rounded on both sides' : ''}`,
        room.at,
      );
    const bend = tightest(kernel, face, corner.kind === 'convex');
    if (bend) offer(1 / bend.k, `${name}, which bends with a radius of ${fixed(1 / bend.k, 2)} mm`, bend.at);
  }
  return best;
}

/** The room one edge has for a bevel of equal distances. */
export function bevelRoom(
  kernel: Kernel,
  project: Project,
  body: KernelBody,
  e: NamedEdge,
  set: readonly NamedEdge[],
): Estimate | undefined {
  const faces = facesOf(kernel, body.shape);
  let best: Estimate | undefined;
  for (const i of e.faces) {
    const room = roomOn(kernel, faces[i]!, e.edge, set);
    if (!room) continue;
    const limit = room.shared ? room.width / 2 : room.width;
    const words = `${faceWords(body.faces[i]!, project)}, ${fixed(room.width, 2)} mm wide${room.shared ? ' and bevelled on both sides' : ''}`;
    if (!best || limit < best.limit) best = { limit, words, at: room.at };
  }
  return best;
}

/** The least room of several edges, with the edge in words. */
export function leastRoom(
  project: Project,
  edges: readonly NamedEdge[],
  room: (e: NamedEdge) => Estimate | undefined,
): Estimate | undefined {
  let best: Estimate | undefined;
  for (const e of edges) {
    const own = room(e);
    if (own && (!best || own.limit < best.limit))
      best = edges.length > 1 ? { ...own, words: `${own.words}, at the ${edgeWords(e.name, project)}` } : own;
  }
  return best;
}
