/** Moves, turns, scales or aligns a body, or a copy of it. */
import { type Frame, normalOf } from '../../core/curves/frame';
import { carry, type Motion, scaleFrom, shiftBy, turnAbout } from '../../core/curves/motion';
import { along, type Vec3 } from '../../core/geometry/vectors';
import type { MoveInputs } from '../../core/recipe/steps';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import type { StepFailure } from '../body';
import { faceOf, flatFrame, pathOf } from '../refer';
import { centreOf } from '../shapes';
import { transformed } from '../transform';
import { needBody } from './combine';
import { type ContextOf, changed, type StepContext, type StepOutcome } from './operation';

export function move(context: ContextOf<'move'>): StepOutcome {
  const { kernel, step, project } = context;
  const inputs = step.inputs;
  const body = needBody(context, inputs.body, 'there is nothing to move');
  if (!body.ok) return body;
  const motion = motionOf(context, inputs);
  if (!motion.ok) return motion;
  const copied = inputs.result === 'copied';
  const made = transformed(kernel, body.value, motion.value, copied ? (n) => `${step.id}/copy(${n})` : undefined);
  if (!made.ok)
    return fail({
      what: `${bodyWords(inputs.body, project)} could not be moved`,
      why: made.error,
      tryInstead: ['change the value a little'],
    });
  if (!copied) return changed(inputs.body, body.value, made.value);
  return ok({ bodies: [{ id: step.id, body: made.value }], volumeChange: made.value.volume, warnings: [] });
}

/** A line through the origin, or one that is picked. */
export function axisOf(
  context: StepContext,
  axis: 'x' | 'y' | 'z' | 'line',
  paths: MoveInputs['paths'],
): Result<{ place: Vec3; direction: Vec3 }, StepFailure> {
  if (axis !== 'line') return ok({ place: [0, 0, 0], direction: [axis === 'x' ? 1 : 0, axis === 'y' ? 1 : 0, axis === 'z' ? 1 : 0] });
  const ref = paths[0];
  if (!ref)
    return fail({ what: 'the line is not chosen', why: 'none is picked', unfinished: true, tryInstead: ['pick an edge on the stage'] });
  const path = pathOf(context, ref);
  if (!path.ok) return path;
  if (!path.value.straight)
    return fail({ what: 'a straight line is wanted', why: 'what was picked is curved', tryInstead: ['pick a straight edge'] });
  const { point, direction } = path.value.at(0);
  return ok({ place: point, direction });
}

function motionOf(context: ContextOf<'move'>, inputs: MoveInputs): Result<Motion, StepFailure> {
  const { x, y, z, angle, factor, gap } = context.values;
  switch (inputs.by) {
    case 'shift':
      return ok(shiftBy([x, y, z]));
    case 'turn': {
      const axis = axisOf(context, inputs.about, inputs.paths);
      return axis.ok ? ok(turnAbout(axis.value.place, axis.value.direction, angle)) : axis;
    }
    case 'scale':
      return ok(scaleFrom([0, 0, 0], factor));
    case 'align': {
      const [own, other] = inputs.faces;
      if (!own || !other)
        return fail({
          what: 'the body is not aligned yet',
          why: own ? 'the face it is laid against is not picked' : 'its own face is not picked',
          tryInstead: ['pick a flat face of the body, then the one it is laid against'],
        });
      if (own.body !== inputs.body)
        return fail({
          what: 'the body can’t be aligned',
          why: 'the first face picked is not its own',
          tryInstead: ['pick a face of the body first'],
        });
      const frames: { frame: Frame; centre: Vec3 }[] = [];
      for (const ref of [own, other]) {
        const face = faceOf(context, ref);
        if (!face.ok) return face;
        const frame = flatFrame(context.kernel, face.value);
        if (!frame)
          return fail({ what: 'the body can’t be aligned', why: 'a face that was picked is not flat', tryInstead: ['pick flat faces'] });
        frames.push({ frame, centre: centreOf(context.kernel, face.value) });
      }
      const [a, b] = frames as [(typeof frames)[0], (typeof frames)[0]];
      // Face against face: their normals oppose, their middles meet.
      const n = normalOf(b.frame);
      const to: Frame = { origin: along(b.centre, n, gap), x: b.frame.x, y: [-b.frame.y[0], -b.frame.y[1], -b.frame.y[2]] };
      const from: Frame = { ...a.frame, origin: a.centre };
      return ok(carry(from, to));
    }
  }
}
