/** Places a plane to draw on, by distances, places, lines and faces. */
import { between, type Frame, facing, heightOver, parallelThrough, shifted, throughThree, tilted } from '../../core/curves/frame';
import type { BodyFace } from '../../core/recipe/steps';
import { faceWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import type { StepFailure } from '../body';
import { frameOf } from '../placed';
import { faceOf, flatFrame, pathOf, placeOf, touching } from '../refer';
import type { ContextOf, StepOutcome, StepWarning } from './operation';

type Made = Result<{ frame: Frame; warning?: string }, StepFailure>;

const wanted = (what: string): Result<never, StepFailure> =>
  fail({ what: 'the plane is not placed yet', why: `${what} not picked`, unfinished: true, tryInstead: ['pick on the stage'] });

export function plane(context: ContextOf<'plane'>): StepOutcome {
  const made = placed(context);
  if (!made.ok) return made;
  const warnings: StepWarning[] = made.value.warning ? [{ message: made.value.warning }] : [];
  return ok({ frame: made.value.frame, warnings });
}

function placed(context: ContextOf<'plane'>): Made {
  const inputs = context.step.inputs;
  const { distance, angle, share } = context.values;
  switch (inputs.by) {
    case 'distance': {
      const from = frameOf(inputs.from, context.planes, context.project);
      return from.ok ? ok({ frame: shifted(from.value, distance) }) : from;
    }
    case 'place': {
      const from = frameOf(inputs.from, context.planes, context.project);
      if (!from.ok) return from;
      const ref = inputs.places[0];
      if (!ref) return wanted('the place it goes through is');
      const place = placeOf(context, ref);
      return place.ok ? ok({ frame: parallelThrough(from.value, place.value) }) : place;
    }
    case 'tilt': {
      const from = frameOf(inputs.from, context.planes, context.project);
      if (!from.ok) return from;
      if (inputs.about !== 'line') {
        const axis = inputs.about === 'across' ? from.value.x : from.value.y;
        return ok({ frame: tilted(from.value, from.value.origin, axis, angle) });
      }
      const ref = inputs.paths[0];
      if (!ref) return wanted('the line it turns about is');
      const path = pathOf(context, ref);
      if (!path.ok) return path;
      if (!path.value.straight)
        return fail({
          what: 'the plane can’t turn about a curve',
          why: 'what was picked is not straight',
          tryInstead: ['pick a straight edge or line'],
        });
      const { point, direction } = path.value.at(0);
      // Laid through the line first, so that the line itself stays on the plane.
      const through = parallelThrough(from.value, point);
      const slope = Math.abs(heightOver(through, [point[0] + direction[0], point[1] + direction[1], point[2] + direction[2]]));
      return ok({
        frame: tilted(through, point, direction, angle),
        ...(slope > 1e-6 ? { warning: 'the line leans out of the plane it turns, so the plane holds only one point of it' } : {}),
      });
    }
    case 'three': {
      if (inputs.places.length < 3)
        return wanted(`${3 - inputs.places.length} of its three places ${inputs.places.length === 2 ? 'is' : 'are'}`);
      const [a, b, c] = inputs.places.map((p) => placeOf(context, p));
      if (!a!.ok) return a!;
      if (!b!.ok) return b!;
      if (!c!.ok) return c!;
      const frame = throughThree(a!.value, b!.value, c!.value);
      if (frame.ok) return ok({ frame: frame.value });
      return fail({ what: 'the plane is not fixed', why: frame.error, tryInstead: ['pick a third point beside that line'] });
    }
    case 'touch': {
      const [ref, at] = [inputs.faces[0], inputs.places[0]];
      if (!ref) return wanted('the face it touches is');
      if (!at) return wanted('the place it is nearest to is');
      const face = faceOf(context, ref);
      if (!face.ok) return face;
      const place = placeOf(context, at);
      if (!place.ok) return place;
      const frame = touching(context.kernel, face.value, place.value);
      if (frame) return ok({ frame });
      return fail({
        what: 'the plane can’t touch there',
        why: `${faceWords(ref.face, context.project)} has no direction of its own at that place`,
        tryInstead: ['choose a place beside its pole or tip'],
      });
    }
    case 'between': {
      if (inputs.faces.length < 2) return wanted(`${inputs.faces.length === 1 ? 'the second face is' : 'the two faces are'}`);
      const [f, g] = inputs.faces.map((r) => flat(context, r));
      if (!f!.ok) return f!;
      if (!g!.ok) return g!;
      const frame = between(f!.value, g!.value);
      if (frame.ok) return ok({ frame: frame.value });
      return fail({ what: 'there is nothing between them', why: frame.error, tryInstead: ['pick two faces that stand apart'] });
    }
    case 'square': {
      const ref = inputs.paths[0];
      if (!ref) return wanted('the curve it is square to is');
      const path = pathOf(context, ref);
      if (!path.ok) return path;
      const { point, direction } = path.value.at(share);
      return ok({ frame: facing(direction, point) });
    }
    case 'on': {
      const ref = inputs.faces[0];
      if (!ref) return wanted('the face it lies on is');
      const frame = flat(context, ref);
      return frame.ok ? ok({ frame: frame.value }) : frame;
    }
  }
}

function flat(context: ContextOf<'plane'>, ref: BodyFace): Result<Frame, StepFailure> {
  const face = faceOf(context, ref);
  if (!face.ok) return face;
  const frame = flatFrame(context.kernel, face.value);
  if (frame) return ok(frame);
  return fail({
    what: 'the plane can’t lie there',
    why: `${faceWords(ref.face, context.project)} is not flat`,
    tryInstead: ['pick a flat face', 'place a plane that touches it instead'],
  });
}
