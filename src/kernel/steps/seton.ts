/** Stands a body on a face of another, square to it. */
import type { Frame } from '../../core/curves/frame';
import { carry } from '../../core/curves/motion';
import { walkOver } from '../../core/detail/lay';
import { along, cross, squareTo, triple, unit } from '../../core/geometry/vectors';
import { bodyWords, faceWords } from '../../core/recipe/words';
import { fail, ok } from '../../core/result';
import { fixed } from '../../core/units/units';
import { wanting } from '../body';
import { faceOf, nearestOn, placeOf } from '../refer';
import { bentBy, boundsOf, surfaceReader } from '../shapes';
import { transformed } from '../transform';
import { needBody } from './combine';
import { type ContextOf, changed, type StepOutcome } from './operation';

/** A face is level where its normal looks up or down but for less than this. */
const LEVEL = 1e-6;

export function seton(context: ContextOf<'seton'>): StepOutcome {
  const { kernel, step, project, values } = context;
  const { inputs } = step;
  const body = needBody(context, inputs.body, 'there is nothing to set on a face');
  if (!body.ok) return body;
  const what = `${bodyWords(inputs.body, project)} can’t be set there`;
  const [ref] = inputs.faces;
  if (!ref)
    return wanting(`${bodyWords(inputs.body, project)} is not set on a face yet`)('no face is picked', 'pick a face of another body');
  if (ref.body === inputs.body)
    return fail({ what, why: `${faceWords(ref.face, project)} is its own`, tryInstead: ['pick a face of another body'] });
  const face = faceOf(context, ref);
  if (!face.ok) return face;
  const picked = inputs.places[0] && placeOf(context, inputs.places[0]);
  if (picked && !picked.ok) return picked;
  const reader = surfaceReader(kernel, face.value);
  try {
    const on = bentBy(reader);
    const { u, v } = reader.range;
    const uv = picked ? nearestOn(kernel, face.value, picked.value) : ([(u[0] + u[1]) / 2, (v[0] + v[1]) / 2] as const);
    const start = uv && on(...uv);
    const level = start && Math.hypot(start.n[0], start.n[1]) < LEVEL;
    const up = start && unit(squareTo(level ? [0, 1, 0] : [0, 0, 1], start.n));
    const there = up && walkOver(on, uv, cross(up, start.n), values.along, values.up);
    if (!there)
      return fail({
        what,
        why: `${faceWords(ref.face, project)} has no direction of its own there`,
        tryInstead: ['another place', 'another face'],
      });
    const { p, n, x } = there;
    const y = cross(n, x);
    const [c, s] = [Math.cos(values.turn), Math.sin(values.turn)];
    const room = boundsOf(kernel, body.value.shape);
    const from: Frame = {
      origin: [(room.min[0] + room.max[0]) / 2, (room.min[1] + room.max[1]) / 2, room.min[2]],
      x: [1, 0, 0],
      y: [0, 1, 0],
    };
    const to: Frame = {
      origin: along(p, n, -values.sunk),
      x: triple((k) => c * x[k] + s * y[k]),
      y: triple((k) => c * y[k] - s * x[k]),
    };
    const copied = inputs.result === 'copied';
    const made = transformed(kernel, body.value, carry(from, to), copied ? (name) => `${step.id}/copy(${name})` : undefined);
    if (!made.ok) return fail({ what, why: made.error, tryInstead: ['change the value a little'] });
    const note = `stands at ${p.map((q) => fixed(q, 1)).join(', ')}`;
    return copied
      ? ok({ bodies: [{ id: step.id, body: made.value }], volumeChange: made.value.volume, warnings: [], note })
      : changed(inputs.body, body.value, made.value, [], note);
  } finally {
    reader.dispose();
  }
}
