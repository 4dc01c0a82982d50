/**
 * A flat bounding volume hierarchy over triangles, with a cone of normals in every node so that a query can
 * skip whole branches that do not face the sample. No allocation in queries.
 */
import { type TriMesh, triangleNormals } from './mesh';

const LEAF = 6;

export interface Bvh {
  readonly mesh: TriMesh;
  readonly normals: Float64Array;
  /** Triangles in tree order. */
  readonly order: Uint32Array;
  /** Corners (9) and normal (3) of each triangle, in tree order: leaves are read from one place. */
  readonly corners: Float64Array;
  readonly facing: Float64Array;
  /** Six bounds a node. */
  readonly box: Float64Array;
  /** Axis (3) and cosine of the half angle of the cone holding all normals below. */
  readonly cone: Float64Array;
  /** First triangle (leaf) or left child (inner). */
  readonly first: Uint32Array;
  /** Triangles in a leaf; 0 for an inner node, whose right child follows its left one. */
  readonly count: Uint32Array;
}

export function buildBvh(mesh: TriMesh): Bvh {
  const n = mesh.indices.length / 3;
  const { positions: p, indices } = mesh;
  const normals = triangleNormals(mesh);
  const order = Uint32Array.from({ length: n }, (_, i) => i);
  const centre = new Float64Array(n * 3);
  for (let t = 0; t < n; t++)
    for (let k = 0; k < 3; k++)
      centre[3 * t + k] = (p[3 * indices[3 * t]! + k]! + p[3 * indices[3 * t + 1]! + k]! + p[3 * indices[3 * t + 2]! + k]!) / 3;
  const capacity = Math.max(1, 2 * n);
  const box = new Float64Array(capacity * 6);
  const cone = new Float64Array(capacity * 4);
  const first = new Uint32Array(capacity);
  const count = new Uint32Array(capacity);
  let nodes = 1;

  const enclose = (node: number, from: number, to: number): void => {
    const b = 6 * node;
    box.fill(Infinity, b, b + 3);
    box.fill(-Infinity, b + 3, b + 6);
    let ax = 0;
    let ay = 0;
    let az = 0;
    for (let i = from; i < to; i++) {
      const t = order[i]!;
      for (let c = 0; c < 3; c++) {
        const v = 3 * indices[3 * t + c]!;
        for (let k = 0; k < 3; k++) {
          const x = p[v + k]!;
          if (x < box[b + k]!) box[b + k] = x;
          if (x > box[b + 3 + k]!) box[b + 3 + k] = x;
        }
      }
      ax += normals[3 * t]!;
      ay += normals[3 * t + 1]!;
      az += normals[3 * t + 2]!;
    }
    const l = Math.hypot(ax, ay, az);
    let least = -1;
    if (l > 1e-9) {
      ax /= l;
      ay /= l;
      az /= l;
      least = 1;
      for (let i = from; i < to; i++) {
        const t = 3 * order[i]!;
        least = Math.min(least, normals[t]! * ax + normals[t + 1]! * ay + normals[t + 2]! * az);
      }
    }
    cone.set([ax, ay, az, least], 4 * node);
  };

  const split = (node: number, from: number, to: number): void => {
    enclose(node, from, to);
    if (to - from <= LEAF) {
      first[node] = from;
      count[node] = to - from;
      return;
    }
    const b = 6 * node;
    let axis = 0;
    for (let k = 1; k < 3; k++) if (box[b + 3 + k]! - box[b + k]! > box[b + 3 + axis]! - box[b + axis]!) axis = k;
    const middle = (box[b + axis]! + box[b + 3 + axis]!) / 2;
    let i = from;
    let j = to - 1;
    while (i <= j) {
      if (centre[3 * order[i]! + axis]! < middle) i++;
      else {
        const s = order[i]!;
        order[i] = order[j]!;
        order[j] = s;
        j--;
      }
    }
    if (i === from || i === to) {
      order.subarray(from, to).sort((x, y) => centre[3 * x + axis]! - centre[3 * y + axis]!);
      i = (from + to) >> 1;
    }
    const left = nodes;
    nodes += 2;
    first[node] = left;
    split(left, from, i);
    split(left + 1, i, to);
  };
  if (n > 0) split(0, 0, n);
  const corners = new Float64Array(9 * n);
  const facing = new Float64Array(3 * n);
  for (let i = 0; i < n; i++) {
    const t = order[i]!;
    facing.set(normals.subarray(3 * t, 3 * t + 3), 3 * i);
    for (let c = 0; c < 3; c++) corners.set(p.subarray(3 * indices[3 * t + c]!, 3 * indices[3 * t + c]! + 3), 9 * i + 3 * c);
  }
  return {
    mesh,
    normals,
    order,
    corners,
    facing,
    box: box.slice(0, nodes * 6),
    cone: cone.slice(0, nodes * 4),
    first: first.slice(0, nodes),
    count: count.slice(0, nodes),
  };
}

const shared = new WeakMap<TriMesh, Bvh>();

/** The hierarchy of a mesh, made once as long as the mesh lives. */
export function sharedBvh(mesh: TriMesh): Bvh {
  let known = shared.get(mesh);
  if (!known) {
    known = buildBvh(mesh);
    shared.set(mesh, known);
  }
  return known;
}

/** Nearest hit of a ray. */
export interface RayHit {
  t: number;
  triangle: number;
}

const stack = new Uint32Array(256);
/** Squared distance of each waiting node. */
const far = new Float64Array(256);

/** Whether a ray runs through a box between two of its parameters. */
export function rayMeets(
  box: Float64Array,
  b: number,
  ox: number,
  oy: number,
  oz: number,
  ix: number,
  iy: number,
  iz: number,
  from: number,
  to: number,
  slack = 0,
): boolean {
  const x1 = (box[b]! - ox) * ix;
  const x2 = (box[b + 3]! - ox) * ix;
  const y1 = (box[b + 1]! - oy) * iy;
  const y2 = (box[b + 4]! - oy) * iy;
  const z1 = (box[b + 2]! - oz) * iz;
  const z2 = (box[b + 5]! - oz) * iz;
  const near = Math.max(Math.min(x1, x2), Math.min(y1, y2), Math.min(z1, z2), from);
  const far = Math.min(Math.max(x1, x2), Math.max(y1, y2), Math.max(z1, z2), to);
  return !(near > far + slack);
}

/**
 * First triangle met by the ray, from `tMin` on (mm along a unit direction); triangle −1 where none is.
 * Möller–Trumbore, both sides. With facing < 1 only triangles count whose normal has at most that product
 * with the reverse of the ray.
 */
export function raycast(
  bvh: Bvh,
  ox: number,
  oy: number,
  oz: number,
  dx: number,
  dy: number,
  dz: number,
  tMin: number,
  tMax: number,
  hit: RayHit,
  facing = 1,
): RayHit {
  const { box, first, count, order, corners: p, facing: normals } = bvh;
  hit.t = tMax;
  hit.triangle = -1;
  const ix = 1 / dx;
  const iy = 1 / dy;
  const iz = 1 / dz;
  let top = 0;
  stack[top++] = 0;
  while (top > 0) {
    const node = stack[--top]!;
    if (!rayMeets(box, 6 * node, ox, oy, oz, ix, iy, iz, tMin, hit.t)) continue;
    const c = count[node]!;
    if (c === 0) {
      stack[top++] = first[node]!;
      stack[top++] = first[node]! + 1;
      continue;
    }
    for (let i = first[node]!; i < first[node]! + c; i++) {
      if (facing < 1 && -(normals[3 * i]! * dx + normals[3 * i + 1]! * dy + normals[3 * i + 2]! * dz) > facing) continue;
      const a = 9 * i;
      const q = a + 3;
      const r = a + 6;
      const ux = p[q]! - p[a]!;
      const uy = p[q + 1]! - p[a + 1]!;
      const uz = p[q + 2]! - p[a + 2]!;
      const vx = p[r]! - p[a]!;
      const vy = p[r + 1]! - p[a + 1]!;
      const vz = p[r + 2]! - p[a + 2]!;
      const hx = dy * vz - dz * vy;
      const hy = dz * vx - dx * vz;
      const hz = dx * vy - dy * vx;
      const det = ux * hx + uy * hy + uz * hz;
      if (Math.abs(det) < 1e-14) continue;
      const f = 1 / det;
      const sx = ox - p[a]!;
      const sy = oy - p[a + 1]!;
      const sz = oz - p[a + 2]!;
      const u = f * (sx * hx + sy * hy + sz * hz);
      if (u < -1e-9 || u > 1 + 1e-9) continue;
      const gx = sy * uz - sz * uy;
      const gy = sz * ux - sx * uz;
      const gz = sx * uy - sy * ux;
      const v = f * (dx * gx + dy * gy + dz * gz);
      if (v < -1e-9 || u + v > 1 + 1e-9) continue;
      const s = f * (vx * gx + vy * gy + vz * gz);
      if (s > tMin && s < hit.t) {
        hit.t = s;
        hit.triangle = order[i]!;
      }
    }
  }
  return hit;
}

export interface ClosestHit {
  distance: number;
  triangle: number;
  x: number;
  y: number;
  z: number;
}

/**
 * Closest point within `limit` mm of (x, y, z) among triangles that oppose the direction n, that is with
 * n_tri · n ≤ `facing`. Pass facing = 1 to accept every triangle.
 */
export function closestOpposing(
  bvh: Bvh,
  x: number,
  y: number,
  z: number,
  nx: number,
  ny: number,
  nz: number,
  facing: number,
  limit: number,
  hit: ClosestHit,
): ClosestHit {
  const { box, cone, first, count, order, corners, facing: normals } = bvh;
  let best = limit * limit;
  hit.triangle = -1;
  hit.distance = limit;
  let top = 0;
  far[top] = boxDistance2(box, 0, x, y, z);
  stack[top++] = 0;
  while (top > 0) {
    const node = stack[--top]!;
    if (far[top]! >= best) continue;
    if (facing < 1) {
      // The least n_tri · n anywhere in the cone: the cosine of the angle to its axis and its half angle together, below half a turn.
      const c = 4 * node;
      const half = cone[c + 3]!;
      if (half > -0.999) {
        const d = Math.min(1, Math.max(-1, cone[c]! * nx + cone[c + 1]! * ny + cone[c + 2]! * nz));
        if (d > -half && d * half - Math.sqrt((1 - d * d) * Math.max(0, 1 - half * half)) > facing) continue;
      }
    }
    const n = count[node]!;
    if (n === 0) {
      const left = first[node]!;
      const dl = boxDistance2(box, left, x, y, z);
      const dr = boxDistance2(box, left + 1, x, y, z);
      // The nearer one is looked at first.
      const later = dl < dr ? left + 1 : left;
      const dLater = Math.max(dl, dr);
      const dSooner = Math.min(dl, dr);
      if (dLater < best) {
        far[top] = dLater;
        stack[top++] = later;
      }
      if (dSooner < best) {
        far[top] = dSooner;
        stack[top++] = 2 * left + 1 - later;
      }
      continue;
    }
    for (let i = first[node]!; i < first[node]! + n; i++) {
      const k = 3 * i;
      const mx = normals[k]!;
      const my = normals[k + 1]!;
      const mz = normals[k + 2]!;
      if (facing < 1 && mx * nx + my * ny + mz * nz > facing) continue;
      // No nearer than its plane.
      const v = 9 * i;
      const off = mx * (x - corners[v]!) + my * (y - corners[v + 1]!) + mz * (z - corners[v + 2]!);
      if (off * off >= best) continue;
      closestOnTriangle(corners, v, x, y, z);
      const d2 = (closest[0]! - x) ** 2 + (closest[1]! - y) ** 2 + (closest[2]! - z) ** 2;
      if (d2 < best) {
        best = d2;
        hit.triangle = order[i]!;
        hit.x = closest[0]!;
        hit.y = closest[1]!;
        hit.z = closest[2]!;
      }
    }
  }
  hit.distance = Math.sqrt(best);
  return hit;
}

function boxDistance2(box: Float64Array, node: number, x: number, y: number, z: number): number {
  const b = 6 * node;
  const dx = Math.max(box[b]! - x, 0, x - box[b + 3]!);
  const dy = Math.max(box[b + 1]! - y, 0, y - box[b + 4]!);
  const dz = Math.max(box[b + 2]! - z, 0, z - box[b + 5]!);
  return dx * dx + dy * dy + dz * dz;
}

const closest = new Float64Array(3);

/** Closest point of the triangle whose corners begin at `a` into `closest`. Source: Ericson, Real-Time Collision Detection, 5.1.5 (from memory). */
function closestOnTriangle(p: Float64Array, a: number, x: number, y: number, z: number): void {
  const b = a + 3;
  const c = a + 6;
  const abx = p[b]! - p[a]!;
  const aby = p[b + 1]! - p[a + 1]!;
  const abz = p[b + 2]! - p[a + 2]!;
  const acx = p[c]! - p[a]!;
  const acy = p[c + 1]! - p[a + 1]!;
  const acz = p[c + 2]! - p[a + 2]!;
  const apx = x - p[a]!;
  const apy = y - p[a + 1]!;
  const apz = z - p[a + 2]!;
  const d1 = abx * apx + aby * apy + abz * apz;
  const d2 = acx * apx + acy * apy + acz * apz;
  if (d1 <= 0 && d2 <= 0) {
    put(p[a]!, p[a + 1]!, p[a + 2]!);
    return;
  }
  const bpx = x - p[b]!;
  const bpy = y - p[b + 1]!;
  const bpz = z - p[b + 2]!;
  const d3 = abx * bpx + aby * bpy + abz * bpz;
  const d4 = acx * bpx + acy * bpy + acz * bpz;
  if (d3 >= 0 && d4 <= d3) {
    put(p[b]!, p[b + 1]!, p[b + 2]!);
    return;
  }
  const vc = d1 * d4 - d3 * d2;
  if (vc <= 0 && d1 >= 0 && d3 <= 0) {
    const v = d1 / (d1 - d3);
    put(p[a]! + v * abx, p[a + 1]! + v * aby, p[a + 2]! + v * abz);
    return;
  }
  const cpx = x - p[c]!;
  const cpy = y - p[c + 1]!;
  const cpz = z - p[c + 2]!;
  const d5 = abx * cpx + aby * cpy + abz * cpz;
  const d6 = acx * cpx + acy * cpy + acz * cpz;
  if (d6 >= 0 && d5 <= d6) {
    put(p[c]!, p[c + 1]!, p[c + 2]!);
    return;
  }
  const vb = d5 * d2 - d1 * d6;
  if (vb <= 0 && d2 >= 0 && d6 <= 0) {
    const w = d2 / (d2 - d6);
    put(p[a]! + w * acx, p[a + 1]! + w * acy, p[a + 2]! + w * acz);
    return;
  }
  const va = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
    const w = (d4 - d3) / (d4 - d3 + (d5 - d6));
    put(p[b]! + w * (p[c]! - p[b]!), p[b + 1]! + w * (p[c + 1]! - p[b + 1]!), p[b + 2]! + w * (p[c + 2]! - p[b + 2]!));
    return;
  }
  const den = 1 / (va + vb + vc);
  const v = vb * den;
  const w = vc * den;
  put(p[a]! + abx * v + acx * w, p[a + 1]! + aby * v + acy * w, p[a + 2]! + abz * v + acz * w);
}

function put(x: number, y: number, z: number): void {
  closest[0] = x;
  closest[1] = y;
  closest[2] = z;
}
