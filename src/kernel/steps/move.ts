/** Moves, turns, scales or aligns a body, or a copy of it. */
import { type Frame, normalOf } from '../../core/curves/frame';
import { carry, type Motion, scaleFrom, shiftBy, turnAbout } from '../../core/curves/motion';
import { along, triple, type Vec3 } from '../../core/geometry/vectors';
import { contactAlong } from '../../core/mesh/contact';
import { diagonal, type TriMesh } from '../../core/mesh/mesh';
import type { MoveInputs } from '../../core/recipe/steps';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import { type KernelBody, type StepFailure, wanting } from '../body';
import type { Kernel } from '../open';
import { faceOf, flatFrame, pathOf } from '../refer';
import { facetsWithin } from '../scans';
import { centreOf, roughBounds } from '../shapes';
import { transformed } from '../transform';
import { needBody } from './combine';
import { type ContextOf, changed, type StepContext, type StepOutcome } from './operation';

export function move(context: ContextOf<'move'>): StepOutcome {
  const { kernel, step, project } = context;
  const inputs = step.inputs;
  const body = needBody(context, inputs.body, 'there is nothing to move');
  if (!body.ok) return body;
  const found = motionOf(context, inputs, body.value);
  if (!found.ok) return found;
  const { motion, note } = found.value;
  const copied = inputs.result === 'copied';
  const made = transformed(kernel, body.value, motion, copied ? (n) => `${step.id}/copy(${n})` : undefined);
  if (!made.ok)
    return fail({
      what: `${bodyWords(inputs.body, project)} could not be moved`,
      why: made.error,
      tryInstead: ['change the value a little'],
    });
  if (!copied) return changed(inputs.body, body.value, made.value, [], note);
  return ok({ bodies: [{ id: step.id, body: made.value }], volumeChange: made.value.volume, warnings: [], ...(note ? { note } : {}) });
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

/** A motion, with what is told of how it was found. */
interface Found {
  readonly motion: Motion;
  readonly note?: string;
}
const plainly = (motion: Motion): Result<Found, never> => ok({ motion });

const WAYS: Readonly<Record<NonNullable<MoveInputs['way']>, Vec3>> = {
  down: [0, 0, -1],
  up: [0, 0, 1],
  left: [-1, 0, 0],
  right: [1, 0, 0],
  back: [0, 1, 0],
  front: [0, -1, 0],
};
/** Exact bodies stand for themselves by facets no farther off them than this share of their size, mm at most. */
const TOUCHING = { share: 1 / 5000, most: 0.01 } as const;

/** Facets of a body, fine enough to say where it touches. */
const touchingFacets = (kernel: Kernel, body: KernelBody): TriMesh =>
  facetsWithin(kernel, body, Math.min(TOUCHING.most, diagonal(roughBounds(kernel, body.shape)) * TOUCHING.share));

/** From before all of another body up to it, as far as a gap. */
function upTo(context: ContextOf<'move'>, inputs: MoveInputs, body: KernelBody): Result<Found, StepFailure> {
  const { kernel, project, bodies, values } = context;
  const what = `${bodyWords(inputs.body, project)} can’t be moved until it touches`;
  const other = inputs.onto && inputs.onto !== inputs.body ? bodies.get(inputs.onto) : undefined;
  if (!other) return wanting(what)('the body that it goes to is not chosen', 'choose another body');
  const way = WAYS[inputs.way ?? 'down'];
  const met = contactAlong(touchingFacets(kernel, body), touchingFacets(kernel, other), way);
  if (!met)
    return fail({
      what,
      why: `that way it goes by ${bodyWords(inputs.onto!, project)}`,
      tryInstead: ['another way', 'move it before the other first'],
    });
  const by = met.distance - values.gap;
  return ok({
    motion: shiftBy(triple((k) => by * way[k])),
    note: `moved by ${fixed(by, 3)} mm; ${values.gap > 0 ? 'nearest' : 'touches'} at ${met.at.map((x) => fixed(x, 1)).join(', ')}`,
  });
}

function motionOf(context: ContextOf<'move'>, inputs: MoveInputs, body: KernelBody): Result<Found, StepFailure> {
  const { x, y, z, angle, factor, gap } = context.values;
  switch (inputs.by) {
    case 'shift':
      return plainly(shiftBy([x, y, z]));
    case 'turn': {
      const axis = axisOf(context, inputs.about, inputs.paths);
      return axis.ok ? plainly(turnAbout(axis.value.place, axis.value.direction, angle)) : axis;
    }
    case 'scale':
      return plainly(scaleFrom([0, 0, 0], factor));
    case 'touch':
      return upTo(context, inputs, body);
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
      return plainly(carry(from, to));
    }
  }
}
