/** What a profile follows of the bodies: their edges, where its plane cuts them, their outline seen square to it. */
import type { TopoDS_Edge } from 'replicad-opencascadejs';
import { type Frame, heightOver, normalOf, toSpace } from '../core/curves/frame';
import { intersect } from '../core/curves/intersect';
import { piece } from '../core/curves/offset';
import { type PlanarCurve, pointAt, tangentAt } from '../core/curves/planar';
import { along } from '../core/geometry/vectors';
import { buildBvh, type RayHit, raycast } from '../core/mesh/bvh';
import { diagonal } from '../core/mesh/mesh';
import { type FollowedCurve, type Follows, followedIds } from '../core/profile/follow';
import type { Profile, Project, Projection } from '../core/recipe/schema';
import { bodyWords, edgeWords, faceWords } from '../core/recipe/words';
import { fail, ok, type Result } from '../core/result';
import type { KernelBody, StepFailure } from './body';
import { attempt, type Kernel, type Scope, type Shape, scoped } from './open';
import { dropEdge } from './project';
import { selectEdges } from './select';
import { distanceBetween, facesOf, planeAt, roughBounds, subShapes, vertexAt } from './shapes';
import { displayDeflection, tessellate, weldedMesh } from './tessellate';

interface Named {
  readonly name: string;
  readonly curve: PlanarCurve;
}

const cache = new WeakMap<KernelBody, Map<string, Result<Named[], StepFailure>>>();

/** Everything a profile follows, as curves on its plane. */
export function followsOf(
  kernel: Kernel,
  project: Project,
  profile: Profile,
  frame: Frame,
  bodies: ReadonlyMap<string, KernelBody>,
): Result<Follows, StepFailure> {
  const out = new Map<string, readonly FollowedCurve[]>();
  for (const p of profile.projections) {
    const body = bodies.get(p.body);
    const name = bodyWords(p.body, project);
    if (!body)
      return fail({
        what: `${profile.name} can't follow ${name}`,
        why: 'that body is not there yet where the profile is first used',
        tryInstead: ['move the step that makes the body up', 'let go of what is followed'],
      });
    const known = cache.get(body) ?? new Map<string, Result<Named[], StepFailure>>();
    cache.set(body, known);
    const key = JSON.stringify([p.what, frame]);
    let found = known.get(key);
    if (!found) {
      const made = attempt(kernel, () => findCurves(kernel, project, body, p, frame, name));
      found = made.ok
        ? made.value
        : fail({ what: `${profile.name} can't follow ${name}`, why: made.error, tryInstead: ['follow its edges one by one'] });
      known.set(key, found);
    }
    if (!found.ok) return found;
    const words = (n: string): string => (p.what.kind === 'edges' ? edgeWords(n, project) : faceWords(n, project));
    const ids = followedIds(found.value.map((f) => f.name));
    out.set(
      p.id,
      found.value.map((f, i) => ({ id: ids[i]!, curve: f.curve, words: words(f.name) })),
    );
  }
  return ok(out);
}

function findCurves(
  kernel: Kernel,
  project: Project,
  body: KernelBody,
  p: Projection,
  frame: Frame,
  bodyName: string,
): Result<Named[], StepFailure> {
  switch (p.what.kind) {
    case 'edges': {
      const edges = selectEdges(
        kernel,
        body,
        p.what.edges.map((edge) => ({ edge })),
      );
      if (!edges.ok) {
        const lost = 'edge' in edges.error.ref ? edges.error.ref.edge : '';
        return fail({
          what: `an edge that is followed is not on ${bodyName} any more`,
          why: `${edgeWords(lost, project)} is gone`,
          tryInstead: edges.error.candidates.map((c) => `follow ${edgeWords(c, project)}`),
        });
      }
      return ok(
        edges.value.flatMap((e) => {
          const curve = dropEdge(kernel, e.edge, frame);
          return curve ? [{ name: e.name, curve }] : [];
        }),
      );
    }
    case 'section': {
      const curves = sectionCurves(kernel, body, frame);
      if (curves.length > 0) return ok(curves);
      return fail({
        what: `the plane does not cut ${bodyName}`,
        why: 'there is no section to follow',
        tryInstead: ['move the plane into the body'],
      });
    }
    case 'outline':
      return ok(outlineCurves(kernel, body, frame));
  }
}

/** A steady order for curves of one name. */
const inOrder = (list: Named[]): Named[] => {
  const place = (c: PlanarCurve) => pointAt(c, 0.5);
  return list.sort((a, b) => {
    if (a.name !== b.name) return a.name < b.name ? -1 : 1;
    const [p, q] = [place(a.curve), place(b.curve)];
    return Math.abs(p.x - q.x) > 1e-6 ? p.x - q.x : p.y - q.y;
  });
};

/** The kernel's section of a body with a plane; undefined where it comes to none. */
function planeSection(kernel: Kernel, s: Scope, body: KernelBody, frame: Frame) {
  const section = s.keep(new kernel.BRepAlgoAPI_Section(body.shape, planeAt(kernel, s, frame), false));
  section.Approximation(true);
  section.Build();
  return section.IsDone() ? section : undefined;
}

/** Where the plane cuts the body. */
export const cutCurves = (kernel: Kernel, body: KernelBody, frame: Frame): PlanarCurve[] =>
  scoped((s) => {
    const section = planeSection(kernel, s, body, frame);
    if (!section) return [];
    return subShapes(kernel, section.Shape(), 'TopAbs_EDGE').flatMap((e) => dropEdge(kernel, kernel.TopoDS.Edge(e), frame) ?? []);
  });

/** Where the plane cuts the body, each curve named by the face it lies on. */
function sectionCurves(kernel: Kernel, body: KernelBody, frame: Frame): Named[] {
  return scoped((s) => {
    const section = planeSection(kernel, s, body, frame);
    if (!section) return [];
    const faces = facesOf(kernel, body.shape);
    const out: Named[] = [];
    for (const shape of subShapes(kernel, section.Shape(), 'TopAbs_EDGE')) {
      const edge = kernel.TopoDS.Edge(shape);
      const curve = dropEdge(kernel, edge, frame);
      if (!curve) continue;
      const found = s.keep(new kernel.TopoDS_Shape());
      let index = section.HasAncestorFaceOn1(edge, found) ? faces.findIndex((f) => f.IsSame(found)) : -1;
      // Along a seam the kernel names no face.
      if (index < 0) index = nearestFace(kernel, s, faces, toSpace(frame, pointAt(curve, 0.37)));
      if (index >= 0) out.push({ name: body.faces[index]!, curve });
    }
    return inOrder(out);
  });
}

function nearestFace(kernel: Kernel, s: Scope, faces: readonly Shape[], at: readonly [number, number, number]): number {
  const v = s.keep(vertexAt(kernel, at));
  let best = -1;
  let near = Number.POSITIVE_INFINITY;
  faces.forEach((f, i) => {
    const box = roughBounds(kernel, f);
    if (at.some((c, k) => c < box.min[k]! - 0.01 || c > box.max[k]! + 0.01)) return;
    const d = distanceBetween(kernel, v, f)?.distance ?? Number.POSITIVE_INFINITY;
    if (d < near) {
      near = d;
      best = i;
    }
  });
  return near < 1e-3 ? best : -1;
}

/**
 * The border of the body's shadow on the plane, lit square to it: of all the lines a hidden-line view shows, the stretches with the shadow
 * on one side only. Each is named by the face seen beside it.
 */
function outlineCurves(kernel: Kernel, body: KernelBody, frame: Frame): Named[] {
  const n = normalOf(frame);
  const lines = viewLines(kernel, body.shape, frame);
  const box = roughBounds(kernel, body.shape);
  const size = diagonal(box);
  const mesh = weldedMesh(tessellate(kernel, body.shape, displayDeflection(kernel, body.shape) / 4, 0.15));
  const bvh = buildBvh(mesh);
  const above = size + Math.abs(heightOver(frame, box.min)) + Math.abs(heightOver(frame, box.max));
  const hit: RayHit = { t: 0, triangle: -1 };
  /** Name of the face first met from above the plane, or undefined beside the shadow. */
  const lit = (x: number, y: number): string | undefined => {
    const p = along(toSpace(frame, { x, y }), n, above);
    raycast(bvh, ...p, -n[0], -n[1], -n[2], 0, 2 * above, hit);
    return hit.triangle < 0 ? undefined : body.faces[mesh.faceOf[hit.triangle]!]!;
  };
  const out: Named[] = [];
  const step = size * 1e-3;
  for (const [i, curve] of lines.entries()) {
    // Where another line ends on this one, or crosses it, its place on the border may change.
    const cuts = lines
      .flatMap((other, j) => (j === i ? [] : intersect(curve, other).map((h) => h.s)))
      .filter((t) => t > 1e-4 && t < 1 - 1e-4)
      .sort((p, q) => p - q);
    const stops = [0, ...cuts, 1];
    let run: { from: number; to: number; name: string } | undefined;
    const runs: NonNullable<typeof run>[] = [];
    for (let k = 1; k < stops.length; k++) {
      const [from, to] = [stops[k - 1]!, stops[k]!];
      if (to - from < 1e-6) continue;
      const p = pointAt(curve, (from + to) / 2);
      const u = tangentAt(curve, (from + to) / 2);
      const [left, right] = [lit(p.x - u.y * step, p.y + u.x * step), lit(p.x + u.y * step, p.y - u.x * step)];
      if ((left === undefined) === (right === undefined)) run = undefined;
      else if (run && from - run.to < 1e-6) run.to = to;
      else {
        run = { from, to, name: (left ?? right)! };
        runs.push(run);
      }
    }
    for (const r of runs) out.push({ name: r.name, curve: r.from < 1e-9 && r.to > 1 - 1e-9 ? curve : piece(curve, r.from, r.to) });
  }
  return inOrder(withoutTwins(out));
}

/** Two edges one behind the other drop onto the same line: one of them is enough. */
const withoutTwins = (list: readonly Named[]): Named[] =>
  list.filter((a, i) => {
    const mid = pointAt(a.curve, 0.5);
    return !list.slice(0, i).some((b) => {
      const ends = [b.curve.a, b.curve.b];
      const near = (p: { x: number; y: number }, q: { x: number; y: number }): boolean => Math.hypot(p.x - q.x, p.y - q.y) < 1e-4;
      const same = (near(ends[0]!, a.curve.a) && near(ends[1]!, a.curve.b)) || (near(ends[1]!, a.curve.a) && near(ends[0]!, a.curve.b));
      return same && near(pointAt(b.curve, 0.5), mid);
    });
  });

/** Every visible line of a view square to the plane: sharp edges, smooth ones, seams and silhouettes. */
function viewLines(kernel: Kernel, shape: Shape, frame: Frame): PlanarCurve[] {
  return scoped((s) => {
    const axes = s.keep(
      new kernel.gp_Ax2(
        s.keep(new kernel.gp_Pnt(...frame.origin)),
        s.keep(new kernel.gp_Dir(...normalOf(frame))),
        s.keep(new kernel.gp_Dir(...frame.x)),
      ),
    );
    const algorithm = s.keep(new kernel.HLRBRep_Algo());
    algorithm.Add(shape, 0);
    algorithm.Projector(s.keep(new kernel.HLRAlgo_Projector(axes)));
    algorithm.Update();
    algorithm.Hide();
    const view = s.keep(new kernel.HLRBRep_HLRToShape(algorithm));
    const sheet: Frame = { origin: [0, 0, 0], x: [1, 0, 0], y: [0, 1, 0] };
    const out: PlanarCurve[] = [];
    for (const lines of [view.VCompound(), view.OutLineVCompound(), view.Rg1LineVCompound(), view.RgNLineVCompound()]) {
      if (!lines || lines.IsNull()) continue;
      kernel.BRepLib.BuildCurves3d(lines);
      for (const e of subShapes(kernel, lines, 'TopAbs_EDGE')) {
        const curve = dropEdge(kernel, kernel.TopoDS.Edge(e) as TopoDS_Edge, sheet);
        if (curve) out.push(curve);
      }
    }
    return out;
  });
}
