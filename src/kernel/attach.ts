/** How the ends of something raised stand to the body it is joined to: flush, deep in it, short of it, or through it. */
import { along, minus, triple, type Vec3 } from '../core/geometry/vectors';
import { type Bvh, type ClosestHit, closestOpposing, type RayHit, raycast, sharedBvh } from '../core/mesh/bvh';
import { fixed } from '../core/units/units';
import type { KernelBody } from './body';
import { type Kernel, type Shape, scoped } from './open';
import { centreOf, compoundOf, facesOf, nearestOnLine, surfaceReader } from './shapes';
import { type BodyMesh, displayDeflection, tessellate, weldedMesh } from './tessellate';

export interface Attachment {
  /** `across`: it crosses the body's skin with the solid beside it, so that the sides are what meets the body. */
  readonly kind: 'flush' | 'inside' | 'gap' | 'through' | 'across';
  /** One line for the sheet. */
  readonly words: string;
  readonly at: Vec3;
}

/** Nearer than this an end counts as flush, mm. */
const FLUSH = 0.02;
const SAMPLES = 160;

/** A place of an end, and how far the body's skin is from it in a direction. */
interface Reading {
  readonly p: Vec3;
  readonly t: number;
  readonly d: Vec3;
}

/** The same distance on the exact surfaces. */
const exactAlong = (kernel: Kernel, skin: Shape, { p, t, d }: Reading): number =>
  scoped((s) => {
    const [a, b] = [along(p, d, Math.max(0, t - 1)), along(p, d, t + 1)].map((q) => s.keep(new kernel.gp_Pnt(...q)));
    const line = s.keep(new kernel.BRepBuilderAPI_MakeEdge(a!, b!)).Edge();
    const at = nearestOnLine(kernel, line, skin, along(p, d, t));
    return at ? Math.hypot(...minus(at, p)) : t;
  });

const hit: RayHit = { t: 0, triangle: -1 };

/** Distances at which a ray meets a skin, with whether it leaves the inside there. */
function meets(bvh: Bvh, p: Vec3, d: Vec3, most: number): { t: number; leaves: boolean }[] {
  const out: { t: number; leaves: boolean }[] = [];
  let from = 1e-7;
  while (out.length < 8) {
    raycast(bvh, p[0], p[1], p[2], d[0], d[1], d[2], from, most, hit);
    if (hit.triangle < 0) break;
    const n = bvh.normals.subarray(3 * hit.triangle, 3 * hit.triangle + 3);
    out.push({ t: hit.t, leaves: n[0]! * d[0] + n[1]! * d[1] + n[2]! * d[2] > 0 });
    from = hit.t + 1e-5;
  }
  return out;
}

/** Places all over a mesh, its corners among them. */
function spread({ positions: p, indices }: BodyMesh): Vec3[] {
  const triangles = indices.length / 3;
  const n = Math.max(1, Math.ceil(Math.sqrt(SAMPLES / Math.max(1, triangles))));
  const stride = Math.max(1, Math.floor(triangles / SAMPLES));
  const out: Vec3[] = [];
  for (let t = 0; t < triangles; t += stride) {
    const corner = [0, 1, 2].map((k) => [0, 1, 2].map((x) => p[3 * indices[3 * t + k]! + x]!));
    for (let i = 0; i <= n; i++)
      for (let j = 0; j <= n - i; j++) {
        const w = [i / n, j / n, (n - i - j) / n];
        out.push(triple((x) => w.reduce((sum, f, k) => sum + f * corner[k]![x]!, 0)));
      }
  }
  return out;
}

const skinOf = (kernel: Kernel, b: KernelBody): Bvh =>
  sharedBvh(weldedMesh(b.mesh ?? tessellate(kernel, b.shape, displayDeflection(kernel, b.shape))));

/**
 * Reads every flat end of a raised solid against a body, along the end's own normal.
 * @param ends names of the solid's end faces with what they are called
 * @returns nothing for an end that stands free
 */
export function attachments(
  kernel: Kernel,
  target: KernelBody,
  solid: KernelBody,
  ends: readonly { readonly name: string; readonly words: string }[],
  targetWords: string,
): Attachment[] {
  const deflection = displayDeflection(kernel, target.shape);
  const flush = Math.max(FLUSH, 1.5 * deflection);
  let bodies: { target: Bvh; own: Bvh } | undefined;
  // Against a solid, a line inside it is nowhere away from it: its faces alone are asked.
  const skin = compoundOf(kernel, facesOf(kernel, target.shape));
  let through = Number.POSITIVE_INFINITY;
  const out: Attachment[] = [];
  const faces = facesOf(kernel, solid.shape);
  for (const { name, words } of ends) {
    const face = faces[solid.faces.indexOf(name)];
    if (!face) continue;
    const reader = surfaceReader(kernel, face);
    const { u, v } = reader.range;
    const normal = reader.at((u[0] + u[1]) / 2, (v[0] + v[1]) / 2)?.normal;
    reader.dispose();
    if (!normal) continue;
    bodies ??= { target: skinOf(kernel, target), own: skinOf(kernel, solid) };
    const centre = centreOf(kernel, face);
    const mesh = tessellate(kernel, face, deflection);
    const read: Record<'inside' | 'gap' | 'through', Reading[]> = { inside: [], gap: [], through: [] };
    let [flushed, level, free, lasting] = [0, 0, 0, 0];
    const back = normal.map((x) => -x) as unknown as Vec3;
    for (const q of spread(mesh)) {
      // A little in from the border, where a ray along the side could not tell in from out.
      const p = triple((k) => centre[k]! + 0.99 * (q[k]! - centre[k]!));
      const own = meets(bodies.own, p, back, 1e4).find((m) => m.leaves && m.t > 1e-4)?.t ?? 1e4;
      // From a little behind, so that a skin the end lies on is met too.
      const q0 = along(p, back, flush);
      const ahead = meets(bodies.target, q0, normal, 1e4).map((m) => ({ ...m, t: m.t - flush }));
      const behind = meets(bodies.target, q0, back, Math.max(0, own - 2 * flush)).map((m) => ({ ...m, t: m.t + flush }));
      const next = ahead.find((m) => m.t > flush);
      const touched = ahead.find((m) => Math.abs(m.t) <= flush);
      if (touched?.leaves) {
        // It ends where a face of the body does, beside it.
        level++;
        if (behind.length === 0) lasting++;
      } else if (touched) flushed++;
      else if (next?.leaves) {
        const near = behind[0] && behind[0].t < next.t ? { t: behind[0].t, d: back } : { t: next.t, d: normal };
        read.inside.push({ p, ...near });
        // All along the solid, as far as it goes from here, it stays in the body.
        if (behind.length === 0) lasting++;
      } else if (behind.length >= 2) read.through.push({ p, t: behind[0]!.t, d: back });
      else if (next) read.gap.push({ p, t: next.t, d: normal });
      else free++;
    }
    /** The largest or smallest reading, on the exact surfaces. */
    const exact = (list: readonly Reading[], sign: number): Reading => {
      const r = list.reduce((a, b) => (sign * b.t > sign * a.t ? b : a));
      return { ...r, t: exactAlong(kernel, skin, r) };
    };
    const most = (list: readonly Reading[]): string => fixed(exact(list, 1).t, 2);
    const held = read.inside.length + flushed + level;
    if (read.through.length > 0) {
      // What passes right through a wall stands out on both sides: the shorter end is the one meant.
      const far = exact(read.through, 1).t;
      const other = out.findIndex((a) => a.kind === 'through');
      if (far >= through) continue;
      through = far;
      if (other >= 0) out.splice(other, 1);
      out.push({
        kind: 'through',
        words: `${words} pokes through ${targetWords} by up to ${fixed(far, 2)} mm`,
        at: exact(read.through, 1).p,
      });
    } else if (read.gap.length + free > 0 && flushed === 0 && 2 * lasting > read.inside.length + level)
      out.push({ kind: 'across', words: `${words} stands across ${targetWords}`, at: centre });
    else if (held > 0 && read.gap.length + free > 0)
      out.push({
        kind: 'gap',
        words:
          read.gap.length > 0
            ? `${words} leaves a gap of up to ${most(read.gap)} mm to ${targetWords}`
            : `${words} stands partly beside ${targetWords}`,
        at: read.gap.length > 0 ? exact(read.gap, 1).p : centre,
      });
    else if (read.inside.length > 0)
      out.push({
        kind: 'inside',
        words: `${words} sits ${flushed + level > 0 ? 'up to' : `${fixed(exact(read.inside, -1).t, 2)} to`} ${most(read.inside)} mm inside ${targetWords}`,
        at: centre,
      });
    else if (flushed + level > 0 && read.gap.length + free === 0)
      out.push({ kind: 'flush', words: `${words} lies flush on ${targetWords}`, at: centre });
  }
  skin.delete();
  return out;
}

/** How far a part stands off the skin of a body at most, mm, and where. */
export function farthestOff(kernel: Kernel, target: KernelBody, part: KernelBody): { readonly by: number; readonly at: Vec3 } {
  const skin = skinOf(kernel, target);
  const near: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };
  let [by, at]: [number, Vec3] = [0, [0, 0, 0]];
  for (const p of spread(part.mesh ?? tessellate(kernel, part.shape, displayDeflection(kernel, part.shape)))) {
    const [x, y, z] = p;
    closestOpposing(skin, x, y, z, 0, 0, 1, 1, Number.POSITIVE_INFINITY, near);
    if (near.distance > by) [by, at] = [near.distance, p];
  }
  return { by, at };
}
