/** Views of bodies for a drawing. */
import { normalOf, shifted, toPlane } from '../core/curves/frame';
import { flatten } from '../core/curves/planar';
import { sectionPlace } from '../core/inspect/sweep';
import { bounds, diagonal } from '../core/mesh/mesh';
import { sliceMesh } from '../core/mesh/slice';
import { boxOf } from '../core/shop/box';
import type { DrawnView } from '../core/shop/sheet';
import { type Looked, looking, rowOf } from '../core/shop/sight';
import { VIEW_FRAMES, type ViewSide } from '../core/shop/views';
import type { KernelBody } from '../kernel/body';
import { cutCurves } from '../kernel/follow';
import { type LookedEdge, lookedOf } from '../kernel/looked';
import type { Kernel } from '../kernel/open';
import { dropEdge } from '../kernel/project';
import { boundsOf } from '../kernel/shapes';
import { finenessFor, roughOf, tessellate, turnFor } from '../kernel/tessellate';
import { measureDeflection } from './measure';
import { turnedScene } from './turned-measure';

/** How one view is asked for. */
export interface ViewAsk {
  readonly side: ViewSide;
  /** Cut there: height of the plane along the line of sight over the origin, mm. */
  readonly cut: number | null;
}

/** Facets turn by at most this in a body that is looked at, rad. */
const LOOK_ANGLE = 0.12;

type Known = Looked<LookedEdge>;
const looked = new WeakMap<KernelBody, Known>();

function lookedAt(kernel: Kernel, id: string, body: KernelBody): Known {
  let known = looked.get(body);
  if (!known) {
    const count = body.faces.length;
    const off = finenessFor(count, measureDeflection(diagonal(boundsOf(kernel, body.shape, roughOf(kernel, body)))));
    const mesh =
      body.facets && body.mesh
        ? body.mesh
        : body.turned
          ? turnedScene(body, body.turned, off)
          : tessellate(kernel, body.shape, off, turnFor(count, LOOK_ANGLE));
    known = lookedOf(kernel, id, body, mesh, off);
    looked.set(body, known);
  }
  return known;
}

/** Longest that is drawn before something else may come first, ms. */
const PORTION = 40;

/** Draws one view of bodies where they stand. @param tick called between portions; false gives up and the result is null */
export async function drawView(
  kernel: Kernel,
  bodies: readonly { readonly id: string; readonly body: KernelBody }[],
  ask: ViewAsk,
  tick: () => Promise<boolean> = async () => true,
): Promise<DrawnView | null> {
  const frame = VIEW_FRAMES[ask.side];
  const all: { id: string; body: KernelBody; seen: Known }[] = [];
  for (const { id, body } of bodies) {
    if (!(await tick())) return null;
    all.push({ id, body, seen: lookedAt(kernel, id, body) });
  }
  const cuts = ask.cut === null ? [] : all.map(({ id, body, seen }) => cutOf(kernel, id, body, seen, ask.side, ask.cut!));
  const work = looking(
    all.map((a) => a.seen),
    frame,
    ({ edge, points }) => (edge ? dropEdge(kernel, edge, frame) : rowOf(points.map((p) => toPlane(frame, p)))),
    ask.cut,
    cuts.flatMap((c) => c.curves),
  );
  let begun = performance.now();
  let step = work.next();
  for (; !step.done; step = work.next()) {
    if (performance.now() - begun < PORTION) continue;
    if (!(await tick())) return null;
    begun = performance.now();
  }
  const { lines, edges } = step.value;
  // What is cut, or seen aslant, reaches as far as its lines do.
  const box =
    ask.cut === null && ask.side !== 'corner' ? exactBox(kernel, bodies, ask.side) : boxOf(lines.flatMap((l) => flatten(l.curve, 1e-4)));
  return {
    lines,
    edges,
    cuts,
    box,
    ...(ask.cut === null ? {} : { cutAt: ask.cut }),
  };
}

/** Where a plane cuts a body. */
function cutOf(kernel: Kernel, id: string, body: KernelBody, seen: Known, side: ViewSide, cut: number): DrawnView['cuts'][number] {
  const frame = VIEW_FRAMES[side];
  const plane = shifted(frame, cut);
  const normal = normalOf(frame);
  const section = sliceMesh(seen.bvh.mesh, { normal, offset: cut });
  const loops = section.loops.map((loop) => loop.map((p) => toPlane(frame, sectionPlace(section, normal, cut, p))));
  const exact = body.facets ? [] : cutCurves(kernel, body, plane);
  const curves = exact.length > 0 ? exact : loops.map((l) => rowOf([...l, l[0]!]));
  return { body: id, curves, loops };
}

/** How far bodies reach across and up, exactly. */
function exactBox(kernel: Kernel, bodies: readonly { readonly body: KernelBody }[], side: ViewSide): DrawnView['box'] {
  const corners = bodies.flatMap(({ body }) => {
    const { min, max } = body.facets && body.mesh ? bounds(body.mesh.positions) : boundsOf(kernel, body.shape, roughOf(kernel, body));
    return [min, max].map((p) => toPlane(VIEW_FRAMES[side], p));
  });
  return boxOf(corners);
}
