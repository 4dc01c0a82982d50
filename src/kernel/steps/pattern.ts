/** Repeats a step or a body in a row, a ring or along a curve: all copies go to the kernel as one operation. */
import { type Motion, shiftBy, turnAbout } from '../../core/curves/motion';
import { minus, type Vec3 } from '../../core/geometry/vectors';
import { copySteps, planRow, ringTurn } from '../../core/profile/spacing';
import { type CombineMode, type PatternInputs, pieceIds, standsAlone } from '../../core/recipe/steps';
import { stepValues } from '../../core/recipe/values';
import { bodyWords, stepTitle } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import type { KernelBody, StepFailure } from '../body';
import type { Kernel } from '../open';
import { pathOf } from '../refer';
import { roughBounds } from '../shapes';
import { transformed } from '../transform';
import { needBody } from './combine';
import { axisOf } from './move';
import type { ContextOf, StepOutcome } from './operation';
import { combineInto, together } from './raise';
import { raisedBy } from './raisers';

/** A face takes 1 to 3 ms on a small machine; so many are copied at most, against the time a step has. */
const [MS_A_FACE, MOST_FACES] = [2, 30_000] as const;

export function pattern(context: ContextOf<'pattern'>): StepOutcome {
  const { kernel, step } = context;
  const inputs = step.inputs;
  const source = sourceOf(context, inputs);
  if (!source.ok) return source;
  const { solids, mode, body, words } = source.value;
  const target = needBody(context, body, 'there is nothing to repeat on');
  if (!target.ok) return target;
  const plan = motionsOf(context, inputs, solids);
  if (!plan.ok) return plan;
  const faces = solids.reduce((n, b) => n + b.faces.length, 0);
  const wanted = plan.value.motions.length;
  const inAll = wanted * faces;
  if (inAll > MOST_FACES) {
    const most = Math.max(1, Math.floor(MOST_FACES / faces));
    return fail({
      what: `${wanted + 1} of them are too many`,
      why: `each has ${faces} faces, ${inAll.toLocaleString('en')} in all: that would take some ${Math.ceil((inAll * MS_A_FACE) / 60_000)} min`,
      tryInstead: [most > 1 ? `at most ${most} of them` : 'a body with fewer faces'],
    });
  }
  const skipped = numbers(inputs.skip);
  if (!skipped.ok)
    return fail({ what: 'what is left out can’t be read', why: skipped.error, tryInstead: ['numbers with commas between, as 3, 5'] });
  const copies: KernelBody[] = [];
  for (const { motion, number } of plan.value.motions) {
    if (skipped.value.has(number)) continue;
    for (const solid of solids) {
      const made = transformed(kernel, solid, motion, (n) => `${step.id}/${number}(${n})`);
      if (!made.ok) return fail({ what: `copy ${number} could not be made`, why: made.error, tryInstead: ['change the spacing a little'] });
      copies.push(made.value);
    }
  }
  if (copies.length === 0) return ok({ bodies: [{ id: body, body: target.value }], volumeChange: 0, warnings: [], note: plan.value.words });
  if (inputs.what === 'body' && inputs.result === 'separate') {
    const ids = pieceIds(step.id, step.id, copies.length);
    const made = copies.map((body, i) => ({ id: ids[i]!, body }));
    return ok({ bodies: made, volumeChange: made.reduce((sum, m) => sum + m.body.volume, 0), warnings: [], note: plan.value.words });
  }
  const done = combineInto(context, mode, body, target.value, { solids: copies, words: `the repeated ${words}` });
  if (!done.ok || !('bodies' in done.value)) return done;
  return ok({ ...done.value, note: together(plan.value.words, done.value.note) });
}

interface Source {
  readonly solids: readonly KernelBody[];
  readonly mode: CombineMode;
  readonly body: string;
  readonly words: string;
}

/** What is repeated, and what is done with it. */
function sourceOf(context: ContextOf<'pattern'>, inputs: PatternInputs): Result<Source, StepFailure> {
  const { project } = context;
  if (inputs.what === 'body') {
    if (!inputs.body)
      return fail({ what: 'there is nothing to repeat', why: 'no body is chosen', unfinished: true, tryInstead: ['choose a body'] });
    const body = needBody(context, inputs.body, 'there is nothing to repeat');
    return body.ok ? ok({ solids: [body.value], mode: 'join', body: inputs.body, words: bodyWords(inputs.body, project) }) : body;
  }
  const step = project.steps.find((s) => s.id === inputs.step);
  const raising = step && raisedBy(step);
  if (!step || !raising)
    return fail({
      what: 'there is nothing to repeat',
      why: 'no step that raises something is chosen',
      unfinished: true,
      tryInstead: ['choose a step'],
    });
  const { mode, body } = raising.step.inputs;
  const values = stepValues(step, context.scope);
  if (!values.ok)
    return fail({ what: `${stepTitle(step.id, project)} can’t be repeated`, why: values.error, tryInstead: ['correct its value'] });
  const raised = raising.raise({ ...context, step: raising.step, values: values.value }, 0);
  if (!raised.ok) return raised;
  return ok({
    solids: raised.value.solids,
    mode: standsAlone(mode) ? 'join' : mode,
    body: standsAlone(mode) ? step.id : body!,
    words: raised.value.words,
  });
}

interface Plan {
  readonly motions: readonly { readonly motion: Motion; readonly number: number }[];
  readonly words: string;
}

function motionsOf(context: ContextOf<'pattern'>, inputs: PatternInputs, solids: readonly KernelBody[]): Result<Plan, StepFailure> {
  const { count, length, margin, gap, angle } = context.values;
  const refuse = (why: string): Result<never, StepFailure> =>
    fail({ what: 'they can’t be laid out', why, tryInstead: ['change the count or the length'] });
  const sided = (n: number): number[] => copySteps(n, inputs.symmetric === 'both' && inputs.along !== 'path');
  if (inputs.along === 'ring') {
    const axis = axisOf(context, inputs.axis, inputs.paths);
    if (!axis.ok) return axis;
    const n = Math.round(count);
    if (Math.abs(n - count) > 1e-9) return refuse('a count is a whole number');
    const turn = ringTurn(inputs.by, n, angle);
    return ok({
      motions: sided(n).map((k, i) => ({ motion: turnAbout(axis.value.place, axis.value.direction, turn * k), number: i + 2 })),
      words: `${n} in all, ${fixed((turn * 180) / Math.PI, 3)}° apart`,
    });
  }
  if (inputs.along === 'path') {
    const ref = inputs.paths[0];
    if (!ref)
      return fail({
        what: 'the curve is not chosen',
        why: 'none is picked',
        unfinished: true,
        tryInstead: ['pick an edge on the stage, or a curve on the board'],
      });
    const path = pathOf(context, ref);
    if (!path.ok) return path;
    const whole = path.value.length;
    const n = Math.round(count);
    if (Math.abs(n - count) > 1e-9) return refuse('a count is a whole number');
    const step = inputs.by === 'spacing' ? length / whole : (1 - (2 * margin) / whole) / Math.max(1, path.value.closed ? n : n - 1);
    if (step * (n - 1) > 1 + 1e-9)
      return refuse(`${n} of them take ${fixed(step * (n - 1) * whole, 2)} mm, and the curve is ${fixed(whole, 2)} mm long`);
    const origin = path.value.at(0).point;
    return ok({
      motions: sided(n).map((k, i) => ({ motion: shiftBy(minus(path.value.at(step * k).point, origin)), number: i + 2 })),
      words: `${n} in all, ${fixed(step * whole, 3)} mm apart along ${fixed(whole, 2)} mm`,
    });
  }
  const axis = axisOf(context, inputs.axis, inputs.paths);
  if (!axis.ok) return axis;
  const d = axis.value.direction;
  const size = Math.max(...solids.map((b) => extentAlong(context.kernel, b, d)));
  const plan = planRow({ by: inputs.by, count, length, margin, gap, size });
  if (!plan.ok) return refuse(plan.error);
  const { spacing } = plan.value;
  const left = plan.value.left === undefined ? '' : `, ${fixed(plan.value.left, 2)} mm left`;
  return ok({
    motions: sided(plan.value.count).map((k, i) => ({
      motion: shiftBy([d[0] * spacing * k, d[1] * spacing * k, d[2] * spacing * k]),
      number: i + 2,
    })),
    words: `${plan.value.count} in all, ${fixed(spacing, 3)} mm apart, ${fixed(plan.value.gap, 3)} mm between${left}`,
  });
}

/** Size of a body along a direction, mm, from its bounds. */
function extentAlong(kernel: Kernel, body: KernelBody, d: Vec3): number {
  const b = roughBounds(kernel, body.shape);
  return [0, 1, 2].reduce((sum, k) => sum + Math.abs(d[k]!) * (b.max[k]! - b.min[k]!), 0);
}

/** Whole numbers with commas between; nothing is none. */
function numbers(text: string): Result<Set<number>> {
  const out = new Set<number>();
  for (const part of text
    .split(',')
    .map((t) => t.trim())
    .filter(Boolean)) {
    const n = Number(part);
    if (!Number.isInteger(n) || n < 2 || n > 500) return fail(`“${part}” is not the number of a copy; the original is 1`);
    out.add(n);
  }
  return ok(out);
}
