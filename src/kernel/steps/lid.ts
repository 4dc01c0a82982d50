/** Parts a lid off a hollow body, with a gap, and a lip that finds its place in the cavity. */
import type { TopoDS_Wire } from 'replicad-opencascadejs';
import { type Frame, normalOf } from '../../core/curves/frame';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import { areaOf } from '../amounts';
import { asBody, type KernelBody, type StepFailure } from '../body';
import { booleanOf } from '../boolean';
import { nameFaces } from '../names';
import { attempt, type Kernel, type Scope, type Shape, scoped } from '../open';
import { frameOf } from '../placed';
import { slabOf } from '../prism';
import { distanceBetween, facesOf, subShapes } from '../shapes';
import { verifySolid } from '../verify';
import { needBody } from './combine';
import type { ContextOf, StepOutcome } from './operation';

export function lid(context: ContextOf<'lid'>): StepOutcome {
  const { kernel, step, project } = context;
  const inputs = step.inputs;
  const body = needBody(context, inputs.body, 'there is nothing to part a lid off');
  if (!body.ok) return body;
  const frame = frameOf(inputs.plane, context.planes, project);
  if (!frame.ok) return frame;
  const { gap, lip, thick, clearance } = context.values;
  const name = bodyWords(inputs.body, project);
  const refuse = (why: string, tryInstead: readonly string[]): Result<never, StepFailure> =>
    fail({ what: `a lid could not be parted off ${name}`, why, tryInstead });
  const names = { from: `${step.id}/parting`, to: `${step.id}/far` };
  const lower = slabOf(kernel, body.value.shape, frame.value, 0, Number.NEGATIVE_INFINITY, names, step.id);
  const upper = slabOf(kernel, body.value.shape, frame.value, gap, Number.POSITIVE_INFINITY, names, step.id);
  if (!lower || !upper) return refuse('the kernel could not build the plane’s halves', ['another plane']);
  const base = booleanOf(kernel, 'common', body.value, [lower], { target: name, tool: 'what lies below the plane' }, step.id);
  if (!base.ok) return base;
  const top = booleanOf(kernel, 'common', body.value, [upper], { target: name, tool: 'what lies above the plane' }, step.id);
  if (!top.ok) return top;
  const volume = base.value.volume + top.value.volume;
  if (volume > body.value.volume * (1 + 1e-6)) return refuse('the pieces together are more than the whole', ['another plane']);
  const rim = facesOf(kernel, base.value.shape).filter((_, i) => base.value.faces[i]!.startsWith(`${step.id}/parting`));
  const seat = rim.reduce((sum, f) => sum + areaOf(kernel, f), 0);
  if (inputs.register === 'none')
    return ok({
      bodies: [
        { id: inputs.body, body: base.value },
        { id: step.id, body: top.value },
      ],
      volumeChange: volume - body.value.volume,
      warnings: [],
      note: `they meet on ${fixed(seat / 100, 2)} cm²`,
    });
  const ring = lipOf(kernel, rim, frame.value, { gap, lip, thick, clearance }, step.id);
  if (!ring.ok) return refuse(ring.error, ['a thinner lip, or less clearance', 'part it without a lip']);
  const joined = booleanOf(kernel, 'join', top.value, [ring.value], { target: 'the lid', tool: 'its lip' }, step.id);
  if (!joined.ok) return joined;
  // The lip goes into the base with its clearance all round, and no farther than it is deep.
  const clear = distanceBetween(kernel, joined.value.shape, base.value.shape);
  const wanted = Math.min(gap, clearance);
  if (!clear || clear.distance < wanted - 1e-3)
    return fail({
      what: `the lid would not go onto ${name}`,
      why: `its lip comes within ${fixed(clear?.distance ?? 0, 3)} mm of the inside where ${fixed(wanted, 3)} mm is asked: the cavity narrows below the plane`,
      tryInstead: ['a shorter lip', 'more clearance', 'a plane where the cavity is straight'],
      ...(clear ? { at: clear.onA } : {}),
    });
  return ok({
    bodies: [
      { id: inputs.body, body: base.value },
      { id: step.id, body: joined.value },
    ],
    volumeChange: base.value.volume + joined.value.volume - body.value.volume,
    warnings: [],
    note: `they meet on ${fixed(seat / 100, 2)} cm²; lid and base come no nearer than ${fixed(clear.distance, 3)} mm`,
  });
}

interface Lip {
  readonly gap: number;
  readonly lip: number;
  readonly thick: number;
  readonly clearance: number;
}

/** The ring that goes down into the cavity, with a root that reaches into the wall of the lid. */
function lipOf(kernel: Kernel, rim: readonly Shape[], frame: Frame, o: Lip, stepId: string): Result<KernelBody> {
  const made = attempt(kernel, () =>
    scoped((s): Shape | string => {
      const holes = rim.flatMap((f) => innerWires(kernel, f));
      if (holes.length === 0) return 'there is no cavity at the plane for a lip to go into';
      if (holes.length > 1) return `there are ${holes.length} cavities at the plane, and a lip is for one`;
      const cavity = holes[0]!;
      const n = normalOf(frame);
      /** The outline of the cavity moved: positive inwards. */
      const inset = (d: number): TopoDS_Wire | undefined => offsetWire(kernel, s, cavity, d);
      const outer = inset(o.clearance);
      const inner = inset(o.clearance + o.thick);
      const root = inset(-0.5 * o.thick);
      if (!outer || !inner || !root) return `the cavity is too narrow at the plane for a lip ${fixed(o.thick, 2)} mm thick`;
      const ringOf = (border: TopoDS_Wire, from: number, to: number): Shape | undefined => {
        const face = ringFace(kernel, s, border, inner);
        if (!face) return undefined;
        const lift = s.keep(new kernel.gp_Trsf());
        lift.SetTranslation(s.keep(new kernel.gp_Vec(n[0] * from, n[1] * from, n[2] * from)));
        const placed = s.keep(new kernel.BRepBuilderAPI_Transform(face, lift, true, false)).Shape();
        const h = to - from;
        return s
          .keep(new kernel.BRepPrimAPI_MakePrism(placed, s.keep(new kernel.gp_Vec(n[0] * h, n[1] * h, n[2] * h)), false, true))
          .Shape();
      };
      const down = ringOf(outer, -o.lip, o.gap + 0.5 * o.thick);
      const collar = ringOf(root, o.gap, o.gap + o.thick);
      if (!down || !collar) return 'the outline of the lip does not close';
      const args = s.keep(new kernel.NCollection_List_TopoDS_Shape());
      args.Append(down);
      const tools = s.keep(new kernel.NCollection_List_TopoDS_Shape());
      tools.Append(collar);
      const fuse = s.keep(new kernel.BRepAlgoAPI_Fuse());
      fuse.SetArguments(args);
      fuse.SetTools(tools);
      fuse.Build();
      return fuse.IsDone() ? fuse.Shape() : 'the kernel could not build the lip';
    }),
  );
  if (!made.ok) return made;
  if (typeof made.value === 'string') return fail(made.value);
  const verified = verifySolid(kernel, made.value);
  if (!verified.ok) return fail(verified.error.why);
  const claims = facesOf(kernel, verified.value.shape).map((shape) => ({ shape: shape as Shape, name: `${stepId}/lip` }));
  return ok(asBody(verified.value, nameFaces(kernel, verified.value.shape, claims, stepId)));
}

/** The borders of holes in a face: all but the one round everything. */
function innerWires(kernel: Kernel, face: Shape): TopoDS_Wire[] {
  const outer = kernel.BRepTools.OuterWire(kernel.TopoDS.Face(face));
  return subShapes(kernel, face, 'TopAbs_WIRE')
    .filter((w) => !w.IsSame(outer))
    .map((w) => kernel.TopoDS.Wire(w));
}

/** A flat closed line moved inwards (positive) or outwards, mm; told apart by what it encloses. */
function offsetWire(kernel: Kernel, s: Scope, wire: TopoDS_Wire, inwards: number): TopoDS_Wire | undefined {
  if (Math.abs(inwards) < 1e-9) return wire;
  const area = (w: TopoDS_Wire): number => {
    const f = s.keep(new kernel.BRepBuilderAPI_MakeFace(w, true));
    return f.IsDone() ? areaOf(kernel, f.Face()) : 0;
  };
  const before = area(wire);
  for (const sign of [-1, 1]) {
    const maker = s.keep(new kernel.BRepOffsetAPI_MakeOffset());
    maker.Init('GeomAbs_Arc', false);
    maker.AddWire(wire);
    maker.Perform(sign * inwards, 0);
    if (!maker.IsDone()) continue;
    const found = subShapes(kernel, maker.Shape(), 'TopAbs_WIRE')[0];
    if (!found) continue;
    const moved = kernel.TopoDS.Wire(found);
    if (inwards > 0 === area(moved) < before) return moved;
  }
  return undefined;
}

function ringFace(kernel: Kernel, s: Scope, outer: TopoDS_Wire, inner: TopoDS_Wire): Shape | undefined {
  const whole = s.keep(new kernel.BRepBuilderAPI_MakeFace(outer, true));
  const hole = s.keep(new kernel.BRepBuilderAPI_MakeFace(inner, true));
  if (!whole.IsDone() || !hole.IsDone()) return undefined;
  const args = s.keep(new kernel.NCollection_List_TopoDS_Shape());
  args.Append(whole.Face());
  const tools = s.keep(new kernel.NCollection_List_TopoDS_Shape());
  tools.Append(hole.Face());
  const cut = s.keep(new kernel.BRepAlgoAPI_Cut());
  cut.SetArguments(args);
  cut.SetTools(tools);
  cut.Build();
  return cut.IsDone() ? facesOf(kernel, cut.Shape())[0] : undefined;
}
