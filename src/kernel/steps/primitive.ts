/** Plain solids, drawn as profiles and raised the way the maker would. */
import { type Frame, normalOf, shifted, tilted, toPlane, toSpace } from '../../core/curves/frame';
import { arcAbout, type PlanarCurve } from '../../core/curves/planar';
import { dot, minus, triple } from '../../core/geometry/vectors';
import type { Outline } from '../../core/profile/outline';
import type { Region } from '../../core/profile/regions';
import type { PrimitiveInputs } from '../../core/recipe/steps';
import { planeWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import { asBody, type KernelBody, type StepFailure } from '../body';
import { nameFaces } from '../names';
import { attempt, scoped } from '../open';
import { frameOf } from '../placed';
import { prismOf, regionFace } from '../prism';
import { placeOf } from '../refer';
import { straightFrom } from '../straight';
import { verifySolid } from '../verify';
import type { ContextOf } from './operation';
import type { RaiserOf } from './raise';
import { SEAMS, turn } from './revolve';

const WORDS: Readonly<Record<PrimitiveInputs['shape'], string>> = {
  box: 'the box',
  cylinder: 'the cylinder',
  cone: 'the cone',
  sphere: 'the ball',
  torus: 'the ring',
};

/** A place so far off the plane is told to be, mm. */
const OFF = 1e-6;

export const raisePrimitive: RaiserOf<'primitive'> = (context, trial) => {
  const inputs = context.step.inputs;
  const plane = frameOf(inputs.plane, context.planes, context.project);
  if (!plane.ok) return plane;
  let frame = plane.value;
  let note: string | undefined;
  const at = inputs.places[0];
  if (at) {
    const place = placeOf(context, at);
    if (!place.ok) return place;
    frame = { ...frame, origin: toSpace(frame, toPlane(frame, place.value)) };
    const off = dot(minus(place.value, frame.origin), normalOf(frame));
    if (Math.abs(off) > OFF)
      note = `stands on ${planeWords(inputs.plane, context.project)}: the place lies ${fixed(Math.abs(off), 2)} mm ${off > 0 ? 'before' : 'behind'} that`;
  }
  const solid = inputs.shape === 'box' ? box(context, frame) : round(context, inputs.shape, frame, trial);
  return solid.ok ? ok({ solids: [solid.value], words: WORDS[inputs.shape], ...(note ? { note } : {}) }) : solid;
};

const line = (ax: number, ay: number, bx: number, by: number): PlanarCurve => ({ kind: 'line', a: { x: ax, y: ay }, b: { x: bx, y: by } });

function box(context: ContextOf<'primitive'>, frame: Frame): Result<KernelBody, StepFailure> {
  const { kernel, step } = context;
  const { width: w, depth: d, height: h } = context.values;
  const [x, y] = [w! / 2, d! / 2];
  const sides = { front: line(-x, -y, x, -y), right: line(x, -y, x, y), back: line(x, y, -x, y), left: line(-x, y, -x, -y) };
  const region: Region = {
    outer: Object.entries(sides).map(([id, curve]) => ({ id, curve, reversed: false })),
    holes: [],
    area: w! * d!,
    centroid: { x: 0, y: 0 },
    length: 2 * (w! + d!),
  };
  const up = shifted(frame, h!).origin;
  const made = attempt(kernel, () =>
    scoped((s) => {
      const face = regionFace(kernel, s, region, frame);
      const vector = triple((k) => up[k]! - frame.origin[k]!);
      return face && prismOf(kernel, s, face, vector, step.id);
    }),
  );
  const cannot = (why: string): Result<never, StepFailure> =>
    fail({ what: 'the box can’t be set up', why, tryInstead: ['change its sizes'] });
  if (!made.ok) return cannot(made.error);
  if (!made.value) return cannot('the kernel could not close it');
  const volume = w! * d! * h!;
  const verified = verifySolid(kernel, made.value.shape, { simple: true, volume: [volume * (1 - 1e-6), volume * (1 + 1e-6)] });
  if (!verified.ok) return cannot(verified.error.why);
  const names = nameFaces(kernel, verified.value.shape, made.value.claims, step.id);
  const straight = straightFrom(region, frame, h!, names, step.id);
  return ok({ ...asBody(verified.value, names), ...(straight ? { straight } : {}) });
}

/** Turned about the plane's normal through its origin. */
function round(
  context: ContextOf<'primitive'>,
  shape: PrimitiveInputs['shape'],
  plane: Frame,
  trial: number,
): Result<KernelBody, StepFailure> {
  const { diameter, top, height, thickness } = context.values;
  const r = diameter! / 2;
  const half = tilted(plane, plane.origin, plane.x, Math.PI / 2);
  const curves: Record<string, PlanarCurve> = {};
  switch (shape) {
    case 'cylinder':
      Object.assign(curves, { foot: line(0, 0, r, 0), side: line(r, 0, r, height!), top: line(r, height!, 0, height!) });
      break;
    case 'cone': {
      const t = top! / 2;
      Object.assign(curves, { foot: line(0, 0, r, 0), side: line(r, 0, t, height!) });
      if (t > 1e-9) curves.top = line(t, height!, 0, height!);
      break;
    }
    case 'sphere':
      curves.side = arcAbout({ x: 0, y: 0 }, r, -Math.PI / 2, Math.PI);
      break;
    default: {
      const k = thickness! / 2;
      if (k >= r)
        return fail({
          what: 'the ring can’t be set up',
          why: `a ring ${thickness} mm thick leaves no hole in a diameter of ${diameter} mm`,
          tryInstead: [`a thickness below ${diameter} mm`],
        });
      curves.side = arcAbout({ x: r, y: 0 }, k, 0, 2 * Math.PI);
    }
  }
  const outline: Outline = {
    curves: Object.entries(curves).map(([id, curve]) => ({ id, curve, reversed: false })),
    onAxis: shape !== 'torus',
  };
  return turn(context.kernel, outline, 2 * Math.PI, context.step.id, trial >= 0 ? SEAMS[trial]! : 0, half);
}
