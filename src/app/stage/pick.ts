/** What lies under the pointer: the edge nearest to it on the screen, anywhere along it, that nothing hides; else the face. Pixels on the screen, millimetres in space. */
import * as THREE from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import type { BodyScene } from '../../engine/types';

/** The parts of a body that picking needs. */
export type Pickable = Pick<BodyScene, 'positions' | 'indices' | 'faceOf' | 'segments' | 'edgeOf' | 'edgeNames'>;

/** Lines that can be picked by themselves. */
export type PickableLines = Pick<BodyScene, 'segments' | 'edgeOf' | 'edgeNames'>;

export interface Pointer {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

export interface FaceHit<B> {
  readonly body: B;
  readonly face: number;
  readonly distance: number;
  readonly at: THREE.Vector3;
}

export interface EdgeHit<B> {
  readonly body: B;
  readonly edge: number;
  /** From the pointer, pixels. */
  readonly d: number;
  readonly at: THREE.Vector3;
}

/** Pixels within which an edge is meant rather than the face behind it. */
const REACH = 6;
/** Edges whose distances from the pointer differ by less are as near: the one in front counts, pixels. */
const ALIKE = 1.5;
/** An edge lies in the surface: what a ray meets this share of its way before the edge hides it. */
const BEFORE = 2e-4;

const trees = new WeakMap<object, MeshBVH>();
function treeOf(body: Pickable): MeshBVH {
  let tree = trees.get(body);
  if (!tree) {
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(body.positions, 3));
    g.setIndex(new THREE.BufferAttribute(body.indices, 1));
    // The order of the facets is the body's own.
    tree = new MeshBVH(g, { indirect: true });
    trees.set(body, tree);
  }
  return tree;
}

/** The first facet a ray meets that is not cut away. */
function firstHit<B extends Pickable>(
  bodies: readonly B[],
  ray: THREE.Ray,
  visible: ((p: THREE.Vector3) => boolean) | undefined,
  far = Number.POSITIVE_INFINITY,
): FaceHit<B> | null {
  let best: FaceHit<B> | null = null;
  for (const body of bodies) {
    const most = Math.min(far, best?.distance ?? far);
    const hit = visible
      ? treeOf(body)
          .raycast(ray, THREE.DoubleSide, 0, most)
          .filter((h) => visible(h.point))
          .sort((a, b) => a.distance - b.distance)[0]
      : treeOf(body).raycastFirst(ray, THREE.DoubleSide, 0, most);
    if (hit && hit.distance < most) best = { body, face: body.faceOf[hit.faceIndex!]!, distance: hit.distance, at: hit.point };
  }
  return best;
}

/** Where a place of space is on a screen of a size, pixels from its upper left. */
export function onScreen(
  camera: THREE.Camera,
  p: THREE.Vector3,
  { width, height }: Pick<Pointer, 'width' | 'height'>,
): { x: number; y: number } {
  const q = p.clone().project(camera);
  return { x: ((q.x + 1) / 2) * width, y: ((1 - q.y) / 2) * height };
}

/** @param x from −1 to 1 across the screen @param y from −1 to 1 up it */
function rayThrough(camera: THREE.Camera, x: number, y: number): THREE.Ray {
  const caster = new THREE.Raycaster();
  caster.setFromCamera(new THREE.Vector2(x, y), camera);
  return caster.ray;
}

export const faceUnder = <B extends Pickable>(
  bodies: readonly B[],
  camera: THREE.Camera,
  { x, y, width, height }: Pointer,
  visible?: (p: THREE.Vector3) => boolean,
): FaceHit<B> | null => firstHit(bodies, rayThrough(camera, (2 * x) / width - 1, 1 - (2 * y) / height), visible);

/** The edge under the pointer, or the drawn line where one is clearly nearer: a line is met through bodies, an edge only where it is seen. */
export function lineUnder<B extends Pickable, L extends PickableLines>(
  bodies: readonly B[],
  lines: readonly L[],
  camera: THREE.Camera,
  pointer: Pointer,
  visible?: (p: THREE.Vector3) => boolean,
  meant?: (edge: string) => boolean,
): { readonly edge: EdgeHit<B> | null; readonly line: EdgeHit<L> | null } {
  const edge = edgeUnder(bodies, camera, pointer, visible, meant);
  const line = nearestLine(lines, [], camera, pointer, visible);
  if (edge && line) return line.d + ALIKE < edge.d ? { edge: null, line } : { edge, line: null };
  return { edge, line };
}

/** @param visible what is not cut away; left out where nothing is @param meant whether an edge of a name may be; left out where any may */
export const edgeUnder = <B extends Pickable>(
  bodies: readonly B[],
  camera: THREE.Camera,
  pointer: Pointer,
  visible?: (p: THREE.Vector3) => boolean,
  meant?: (edge: string) => boolean,
): EdgeHit<B> | null => nearestLine(bodies, bodies, camera, pointer, visible, meant);

/** @param hiding what lines are hidden by */
function nearestLine<B extends PickableLines>(
  bodies: readonly B[],
  hiding: readonly Pickable[],
  camera: THREE.Camera,
  pointer: Pointer,
  visible?: (p: THREE.Vector3) => boolean,
  meant: (edge: string) => boolean = () => true,
): EdgeHit<B> | null {
  const m = new THREE.Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse).elements;
  const found: (EdgeHit<B> & { readonly screen: THREE.Vector3 })[] = [];
  const [hw, hh] = [pointer.width / 2, pointer.height / 2];
  for (const body of bodies) {
    const s = body.segments;
    const open = body.edgeNames.map((name) => name !== '' && meant(name));
    // The nearest place of each edge only.
    const nearest = new Map<number, { i: number; t: number; d: number }>();
    for (let i = 0; i < body.edgeOf.length; i++) {
      const edge = body.edgeOf[i]!;
      if (!open[edge]) continue;
      const o = 6 * i;
      const [x0, y0, z0, x1, y1, z1] = [s[o]!, s[o + 1]!, s[o + 2]!, s[o + 3]!, s[o + 4]!, s[o + 5]!];
      const w0 = m[3]! * x0 + m[7]! * y0 + m[11]! * z0 + m[15]!;
      const w1 = m[3]! * x1 + m[7]! * y1 + m[11]! * z1 + m[15]!;
      if (w0 <= 1e-9 || w1 <= 1e-9) continue;
      const ax = ((m[0]! * x0 + m[4]! * y0 + m[8]! * z0 + m[12]!) / w0 + 1) * hw;
      const ay = (1 - (m[1]! * x0 + m[5]! * y0 + m[9]! * z0 + m[13]!) / w0) * hh;
      const dx = ((m[0]! * x1 + m[4]! * y1 + m[8]! * z1 + m[12]!) / w1 + 1) * hw - ax;
      const dy = (1 - (m[1]! * x1 + m[5]! * y1 + m[9]! * z1 + m[13]!) / w1) * hh - ay;
      const l2 = dx * dx + dy * dy;
      const share = l2 > 0 ? Math.min(1, Math.max(0, ((pointer.x - ax) * dx + (pointer.y - ay) * dy) / l2)) : 0;
      const d = Math.hypot(ax + share * dx - pointer.x, ay + share * dy - pointer.y);
      if (d > REACH) continue;
      const known = nearest.get(edge);
      // The share on the screen is another one in space, by perspective.
      if (!known || d < known.d) nearest.set(edge, { i, t: (share * w0) / (share * w0 + (1 - share) * w1), d });
    }
    for (const [edge, { i, t, d }] of nearest) {
      const at = new THREE.Vector3().fromArray(s, 6 * i).lerp(new THREE.Vector3().fromArray(s, 6 * i + 3), t);
      if (visible && !visible(at)) continue;
      found.push({ body, edge, d, at, screen: at.clone().project(camera) });
    }
  }
  const open = found.filter(({ at, screen }) => {
    const ray = rayThrough(camera, screen.x, screen.y);
    // What lies before it hides it.
    return firstHit(hiding, ray, visible, ray.origin.distanceTo(at) * (1 - BEFORE)) === null;
  });
  const least = Math.min(...open.map((f) => f.d));
  return open.filter((f) => f.d <= least + ALIKE).sort((a, b) => a.screen.z - b.screen.z)[0] ?? null;
}
