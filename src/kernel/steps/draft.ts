/** Leans faces about the line where a plane meets them. */
import { normalOf } from '../../core/curves/frame';
import { bodyWords, faceRefWords } from '../../core/recipe/words';
import { fail } from '../../core/result';
import { asBody } from '../body';
import { nameFaces } from '../names';
import { attempt, type Shape, scoped } from '../open';
import { frameOf } from '../placed';
import { pickedFaces } from '../refer';
import { facesOf } from '../shapes';
import { verifySolid } from '../verify';
import { needBody } from './combine';
import { type ContextOf, changed, type StepOutcome } from './operation';

export function draft(context: ContextOf<'draft'>): StepOutcome {
  const { kernel, step, project } = context;
  const inputs = step.inputs;
  const body = needBody(context, inputs.body, 'there is nothing to taper');
  if (!body.ok) return body;
  const frame = frameOf(inputs.plane, context.planes, project);
  if (!frame.ok) return frame;
  const picked = pickedFaces(context, inputs.body, body.value, inputs.faces, {
    gone: 'an earlier change removed it',
    otherwise: 'pick another face',
  });
  if (!picked.ok) return picked;
  if (picked.value.length === 0)
    return fail({ what: 'nothing is tapered', why: 'no face is picked', unfinished: true, tryInstead: ['pick faces on the stage'] });
  const angle = context.values.angle;
  const name = bodyWords(inputs.body, project);
  const degrees = ((angle * 180) / Math.PI).toFixed(2);
  const what = `${name} can't be tapered by ${degrees}°`;
  const made = attempt(kernel, () =>
    scoped((s): { shape: Shape; faces: Shape[] } | number | undefined => {
      const maker = s.keep(new kernel.BRepOffsetAPI_DraftAngle(body.value.shape));
      const n = normalOf(frame.value);
      const direction = s.keep(new kernel.gp_Dir(...n));
      const plane = s.keep(new kernel.gp_Pln(s.keep(new kernel.gp_Pnt(...frame.value.origin)), direction));
      for (const f of picked.value) {
        maker.Add(f.face, direction, angle, plane, true);
        if (!maker.AddDone()) return f.index;
      }
      maker.Build();
      if (!maker.IsDone()) return undefined;
      const faces = facesOf(kernel, body.value.shape).map((f): Shape => {
        const to = maker.ModifiedShape(f);
        return to.IsNull() ? f : to;
      });
      return { shape: maker.Shape(), faces };
    }),
  );
  if (!made.ok || made.value === undefined)
    return fail({
      what,
      why: made.ok ? 'the leaning faces no longer close the body' : made.error,
      tryInstead: ['a smaller angle', 'taper before rounding'],
    });
  if (typeof made.value === 'number')
    return fail({
      what,
      why: `${faceRefWords({ face: body.value.faces[made.value]! }, project)} can't lean: only faces that are flat, round or conical about the plane's normal can`,
      tryInstead: ['take that face out'],
    });
  const { shape, faces } = made.value;
  const verified = verifySolid(kernel, shape, { pieces: body.value.pieces });
  if (!verified.ok) return fail({ what, why: verified.error.why, tryInstead: ['a smaller angle'] });
  const names = nameFaces(
    kernel,
    verified.value.shape,
    faces.map((f, i) => ({ shape: f, name: body.value.faces[i]! })),
    step.id,
  );
  return changed(inputs.body, body.value, asBody(verified.value, names));
}
