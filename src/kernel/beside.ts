/** What lies beside a border: the exact faces there, so that a surface goes on from them, and is held against them once it is built. */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import { normalOf } from '../core/curves/frame';
import { pathAlong, type SpaceCurve, type SpacePath, spaceAt } from '../core/curves/path';
import { along, cross, distance, dot, minus, opposite, unit, type Vec3 } from '../core/geometry/vectors';
import type { PathRef } from '../core/recipe/steps';
import { bodyWords, pickWords } from '../core/recipe/words';
import { fail, ok, type Result } from '../core/result';
import type { BesidePoint, Joined, Strand } from '../core/surfaces/network';
import { fixed } from '../core/units/units';
import type { KernelBody, StepFailure } from './body';
import { type NearFace, nearFace } from './inspect/nearest';
import { shareNearest } from './lines';
import { type Kernel, scoped } from './open';
import { curvesOf } from './refer';
import { facesOf, subShapes } from './shapes';
import type { StepContext, StepWarning } from './steps/operation';

/** A face lies beside a border that is no farther from it, mm. */
const BESIDE = 1e-3;
/** A border that turns by more against what is beside it is not smooth, rad; another curvature than by this share, and by this much, not the same, 1/mm. */
const [TURNED, MISMATCH, BENT] = [(0.05 * Math.PI) / 180, 0.01, 1e-5];
/** Places along a border at which it is held against what lies beside it. */
const READ = 25;
/** Places along every edge of a face beside a border. */
const ALONG = 48;

/** A picked curve as surfaces through curves take it, with what it is drawn as. */
export interface Taken extends Strand {
  readonly curves: readonly SpaceCurve[];
  readonly path: SpacePath;
}

/** @param even at an even pace, or at its own where it is one curve, which is smoother */
export function taken(context: StepContext, ref: PathRef, even: boolean): Result<Taken, StepFailure> {
  const got = curvesOf(context, ref, true);
  if (!got.ok) return got;
  const curves = got.value;
  const path = pathAlong(curves);
  const [one] = curves;
  const own = curves.length === 1 && !even;
  return ok({
    curves,
    path,
    at: own ? (t) => spaceAt(one!, t).p : (t) => path.at(t).point,
    closed: path.closed,
    joints: own ? [] : path.joints,
    corners: own ? [] : path.corners.map((c) => c.share),
    held: 'body' in ref,
    words: pickWords(ref, context.project),
  });
}

interface Face {
  readonly near: NearFace;
  /** Places of its borders, with the way those run that have the face at their left. */
  readonly rim: readonly { readonly p: Vec3; readonly way: Vec3; readonly reach: number }[];
}

/** Faces that borders may go on from. */
export interface Beside {
  readonly at: (p: Vec3, way: Vec3, leaving: Vec3) => BesidePoint | undefined;
  readonly end: () => void;
}

function faceBeside(kernel: Kernel, face: TopoDS_Face): Face {
  const rim = scoped((s) =>
    subShapes(kernel, face, 'TopAbs_EDGE').flatMap((shape) => {
      const edge = kernel.TopoDS.Edge(shape);
      // At a pole there is no border to run along.
      if (kernel.BRep_Tool.Degenerated(edge)) return [];
      const curve = s.keep(new kernel.BRepAdaptor_Curve(edge));
      const [t0, t1] = [curve.FirstParameter(), curve.LastParameter()];
      const p = s.keep(new kernel.gp_Pnt());
      const d = s.keep(new kernel.gp_Vec());
      const sense = edge.Orientation() === 'TopAbs_REVERSED' ? -1 : 1;
      const places = Array.from({ length: ALONG + 1 }, (_, i) => {
        curve.D1(t0 + ((t1 - t0) * i) / ALONG, p, d);
        return { p: [p.X(), p.Y(), p.Z()] as Vec3, way: unit([sense * d.X(), sense * d.Y(), sense * d.Z()]) };
      });
      const reach = Math.max(...places.slice(1).map((q, i) => distance(q.p, places[i]!.p)));
      return places.flatMap(({ p: at, way }) => (way ? [{ p: at, way, reach }] : []));
    }),
  );
  return { near: nearFace(kernel, face), rim };
}

/** The faces of bodies, by places near them. */
export function facesBeside(kernel: Kernel, bodies: readonly KernelBody[]): Beside {
  const faces = bodies.flatMap((b) => facesOf(kernel, b.shape)).map((f) => faceBeside(kernel, f as TopoDS_Face));
  return {
    at: (p, way, leaving) => {
      let best: { readonly at: BesidePoint; readonly with: number } | undefined;
      for (const { near, rim } of faces) {
        // The border of the face that runs along there tells which side of it the face is.
        let edge: { readonly way: Vec3; readonly like: number } | undefined;
        for (const r of rim) {
          if (distance(r.p, p) >= r.reach) continue;
          const like = Math.abs(dot(r.way, way));
          if (like > Math.max(0.7, edge?.like ?? 0)) edge = { way: r.way, like };
        }
        if (!edge) continue;
        const q = near.nearest(p);
        if (!q || distance(q.point, p) > BESIDE) continue;
        const away = unit(cross(edge.way, q.normal));
        if (!away) continue;
        const on = dot(away, leaving);
        if (best && best.with >= on) continue;
        const quadratic = (w: Vec3): number => {
          const l = dot(w, w);
          return l < 1e-24 ? 0 : -q.bend(w) * l;
        };
        const form = (a: Vec3, b: Vec3): number => (quadratic(along(a, b, 1)) - quadratic(along(a, b, -1))) / 4;
        best = { with: on, at: { normal: q.normal, away, form } };
      }
      return best?.at;
    },
    end: () => {
      for (const { near } of faces) near.reader.dispose();
    },
  };
}

/** A refusal where a body that borders are to go on from is not there. @param asked whether any is to */
export function lacksBeside(
  context: StepContext,
  what: string,
  ids: readonly string[],
  asked: boolean,
): Result<never, StepFailure> | undefined {
  const gone = asked ? ids.find((id) => !context.bodies.has(id)) : undefined;
  if (gone === undefined) return undefined;
  return fail({ what, why: `${bodyWords(gone, context.project)} is not there`, tryInstead: ['take it out of what it goes on from'] });
}

/** What a drawn curve in a plane is passed square to: the ribbon along the plane's normal. Undefined for straight ones, which lie in many. */
function ribbon({ curves, path }: Taken): Joined['beside'] | undefined {
  const [first] = curves;
  if (first?.kind !== 'planar') return undefined;
  const up = normalOf(first.frame);
  const flat = curves.every((c) => c.kind === 'planar' && Math.abs(Math.abs(dot(normalOf(c.frame), up)) - 1) < 1e-9);
  if (!flat || path.straight) return undefined;
  return (p, _, leaving) => {
    const { direction, bend } = path.at(shareNearest(path, p));
    const normal = unit(cross(direction, up));
    const away: Vec3 = dot(up, leaving) < 0 ? opposite(up) : up;
    return normal && { normal, away, form: (a, b) => dot(bend, normal) * dot(a, direction) * dot(b, direction) };
  };
}

/** How a border goes on: from the face beside it that leads on best, else square to the plane of a drawn one. */
export function joinedTo(strand: Taken, join: 'G1' | 'G2', words: string, beside: Beside): Joined {
  const drawn = ribbon(strand);
  const { point, direction } = strand.path.at(0.37);
  const face = beside.at(point, direction, [0, 0, 0]) !== undefined;
  return {
    // Mirror images go on from a plane with their curvature by themselves.
    join: drawn && !face ? 'G1' : join,
    beside: (p, way, leaving) => beside.at(p, way, leaving) ?? drawn?.(p, way, leaving),
    words,
  };
}

/**
 * What a built face has along a border, in words, and where it falls short.
 * @param place on the face, by the way along 0…1 and inwards
 */
export function heldAgainst(
  own: NearFace['nearest'],
  joined: Joined,
  place: (x: number, inside: number) => Vec3,
): { readonly told: string; readonly angle: number; readonly warnings: StepWarning[] } {
  const worst = { angle: 0, bend: 0, mismatch: 0, at: [0, 0, 0] as Vec3 };
  let most = -1;
  for (let k = 0; k < READ; k++) {
    const x = (k + 0.5) / READ;
    const p = place(x, 0);
    const q = own(p);
    const way = unit(minus(place(x + 1e-4, 0), place(x - 1e-4, 0)));
    const beside = way && joined.beside(p, way, minus(place(x, 1e-3), p));
    if (!q || !beside || !way) continue;
    const same = dot(q.normal, beside.normal) < 0 ? -1 : 1;
    const angle = Math.atan2(Math.hypot(...cross(q.normal, beside.normal)), Math.abs(dot(q.normal, beside.normal)));
    const square = cross(beside.normal, way);
    const [ours, theirs] = [-same * q.bend(square), beside.form(square, square)];
    const bend = Math.abs(ours - theirs);
    const mismatch = Math.abs(ours) + Math.abs(theirs) > 1e-9 ? bend / (Math.abs(ours) + Math.abs(theirs)) : 0;
    Object.assign(worst, {
      angle: Math.max(worst.angle, angle),
      bend: Math.max(worst.bend, bend),
      mismatch: Math.max(worst.mismatch, bend > BENT ? mismatch : 0),
    });
    const weight = angle > TURNED ? 1e6 * angle : bend;
    if (weight > most) {
      worst.at = p;
      most = weight;
    }
  }
  const angle = (worst.angle * 180) / Math.PI;
  const curved = joined.join === 'G2';
  const told = `${joined.words} ${joined.join} to ${fixed(angle, 3)}°${curved ? ` and ${fixed(100 * worst.mismatch, 2)} % (${fixed(worst.bend, 5)} 1/mm)` : ''}`;
  const short =
    worst.angle > TURNED
      ? `${joined.words} turns by ${fixed(angle, 2)}° against what lies beside it there`
      : curved && worst.mismatch > MISMATCH
        ? `${joined.words} misses the curvature beside it by ${fixed(100 * worst.mismatch, 1)} % there`
        : undefined;
  return { told, angle: worst.angle, warnings: short ? [{ message: short, at: worst.at }] : [] };
}
