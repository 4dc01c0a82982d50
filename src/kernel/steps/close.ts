/** Closes the open borders of a surface with flat caps, which makes it a solid. */
import type { TopoDS_Edge } from 'replicad-opencascadejs';
import type { CloseInputs } from '../../core/recipe/steps';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok } from '../../core/result';
import { fixed } from '../../core/units/units';
import { asBody } from '../body';
import { type Claim, nameFaces } from '../names';
import { attempt, type Kernel, type Scope, type Shape, scoped } from '../open';
import { facesOf } from '../shapes';
import { borderChains, borderLoops } from '../surface';
import { verifySolid } from '../verify';
import { needBody } from './combine';
import type { StepContext, StepOutcome } from './operation';

/** A border this far from a plane still takes a flat cap, mm. */
const FLAT = 1e-3;

export function close(context: StepContext): StepOutcome {
  const { kernel, project, step } = context;
  const inputs = step.inputs as CloseInputs;
  const surface = needBody(context, inputs.body, 'there is nothing to close');
  if (!surface.ok) return surface;
  const name = bodyWords(inputs.body, project);
  const { shape, faces: names } = surface.value;
  if (!surface.value.surface) return fail({ what: `${name} is closed already`, why: 'it is a solid', tryInstead: ['choose a surface'] });
  const loops = borderLoops(kernel, shape);
  const bent = loops.find((l) => l.offPlane > FLAT);
  if (bent)
    return fail({
      what: `${name} can’t be closed with flat caps`,
      why: `a border of ${fixed(bent.length, 2)} mm leaves its plane by ${fixed(bent.offPlane, 3)} mm`,
      tryInstead: ['trim it to a plane first: split it by one and keep a side'],
      at: bent.at,
    });
  const what = `${name} could not be closed`;
  const made = attempt(kernel, () =>
    scoped((s) => {
      const caps = borderChains(kernel, shape).map((loop) =>
        flatCap(
          kernel,
          s,
          loop.map((l) => l.edge),
        ),
      );
      if (caps.some((c) => c === undefined)) return undefined;
      const sewing = s.keep(new kernel.BRepBuilderAPI_Sewing(1e-4, true, true, true, false));
      const own = facesOf(kernel, shape);
      for (const f of own) sewing.Add(f);
      for (const c of caps) sewing.Add(c!);
      sewing.Perform();
      const sewn = sewing.SewedShape();
      if (sewn.ShapeType() !== 'TopAbs_SHELL') return undefined;
      const solid = s.keep(new kernel.BRepBuilderAPI_MakeSolid(kernel.TopoDS.Shell(sewn))).Solid();
      kernel.BRepLib.OrientClosedSolid(solid);
      const became = (f: Shape): Shape => (sewing.IsModified(f) ? sewing.Modified(f) : f);
      const claims: Claim[] = [
        ...own.map((f, i) => ({ shape: became(f), name: names[i]! })),
        ...caps.map((c) => ({ shape: became(c!), name: `${step.id}/cap` })),
      ];
      return { solid: solid as Shape, claims };
    }),
  );
  if (!made.ok || !made.value)
    return fail({
      what,
      why: made.ok ? 'a cap could not be made on a border' : made.error,
      tryInstead: ['look at its borders: one may cross itself'],
    });
  const verified = verifySolid(kernel, made.value.solid);
  if (!verified.ok) return fail({ what, why: verified.error.why, tryInstead: ['look at its borders: one may cross itself'] });
  const body = asBody(verified.value, nameFaces(kernel, verified.value.shape, made.value.claims, step.id));
  return ok({
    bodies: [{ id: inputs.body, body }],
    volumeChange: body.volume,
    warnings: [],
    note: `${loops.length} border${loops.length === 1 ? '' : 's'} closed, of ${loops.map((l) => fixed(l.length, 2)).join(', ')} mm`,
  });
}

function flatCap(kernel: Kernel, s: Scope, edges: readonly TopoDS_Edge[]): Shape | undefined {
  const list = s.keep(new kernel.NCollection_List_TopoDS_Shape());
  for (const e of edges) list.Append(e);
  const wire = s.keep(new kernel.BRepBuilderAPI_MakeWire());
  wire.Add(list);
  if (!wire.IsDone()) return undefined;
  const face = s.keep(new kernel.BRepBuilderAPI_MakeFace(wire.Wire(), true));
  return face.IsDone() ? face.Face() : undefined;
}
