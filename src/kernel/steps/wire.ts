/** A round wire or tube along edges and curves: what was picked put end to end, its corners bent, the inside of a tube cut out. */
import { pathAlong, type SpacePath } from '../../core/curves/path';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import { type KernelBody, type StepFailure, wanting } from '../body';
import { booleanParts } from '../boolean';
import { bentBy, chainOf, tightestBend } from '../chains';
import { roundDown } from '../largest';
import type { ContextOf, StepWarning } from './operation';
import type { RaiserOf } from './raise';
import { roundAlong } from './sweep';

const FAILED = 'the wire can’t be made';
const missing = wanting(FAILED);
/** A bend is wider than the wire's radius by this much at least: where both are the same, its inside comes to a point. */
const ROOM = 1.01;

export const raiseWire: RaiserOf<'wire'> = (context) => {
  const { inputs } = context.step;
  const { wire, wall, bend } = context.values;
  if (inputs.paths.length === 0) return missing('nothing is picked that it runs along', 'pick edges on the stage, or lines on the board');
  const chain = chainOf(context, inputs.paths, inputs.chain === 'smooth', FAILED);
  if (!chain.ok) return chain;
  const corners = bentBy(context, FAILED, chain.value, 'bend', bend);
  if (!corners.ok) return corners;
  const path = pathAlong(corners.value);
  if (!(path.length > 1e-6)) return missing('what it runs along has no length', 'pick another edge');
  const tightest = tightestBend(path);
  const { radius } = tightest;
  if (radius < ROOM * (wire / 2)) return tooThick(context, wire, tightest);
  const outside = roundAlong(context, path, wire / 2, 'side');
  if (!outside.ok) return fail({ ...outside.error, what: FAILED });
  const body = inputs.inside === 'hollow' ? bored(context, outside.value.body, path, wire / 2 - wall) : ok(outside.value.body);
  if (!body.ok) return body;
  const straight = radius > 1e5;
  return ok({
    solids: [body.value],
    words: inputs.inside === 'hollow' ? 'the tube' : 'the wire',
    note: `${fixed(path.length, 2)} mm of it, ${straight ? 'straight' : `bent down to R ${fixed(radius, 2)} mm`}; ${outside.value.note}`,
    // Common practice, no source: below its own thickness to the middle, wire and tube crack, flatten or fold in bending.
    warnings: !straight && radius < wire * (1 - 1e-6) ? [tight(wire, tightest)] : [],
  });
};

type Bend = ReturnType<typeof tightestBend>;

const tight = (wire: number, { radius, at }: Bend): StepWarning => ({
  message: `it bends to R ${fixed(radius, 2)} mm at its middle, tighter than it is thick (⌀ ${fixed(wire, 2)} mm): many wires crack there, and tubes flatten; ask who bends it`,
  at,
});

function tooThick(context: ContextOf<'wire'>, wire: number, { radius, at }: Bend): Result<never, StepFailure> {
  const works = roundDown((2 * radius) / ROOM);
  return fail({
    what: FAILED,
    why: `what it runs along bends to R ${fixed(radius, 2)} mm, and the wire reaches ${fixed(wire / 2, 2)} mm: it would pass through itself`,
    tryInstead: ['a wider bend', `⌀ ${works} mm works there`],
    at,
    fixes: [{ words: `Use the thickest there, ⌀ ${works} mm`, step: context.step.id, values: { wire: `${works} mm` } }],
  });
}

/** The tube that is left when a thinner wire along the same path is taken out of one. */
function bored(context: ContextOf<'wire'>, outside: KernelBody, path: SpacePath, radius: number): Result<KernelBody, StepFailure> {
  if (!(radius > 1e-6)) {
    const { wire } = context.values;
    const works = roundDown(0.25 * wire);
    return fail({
      what: FAILED,
      why: `its wall leaves nothing of the bore: twice the wall is ⌀ ${fixed(wire, 2)} mm or more`,
      tryInstead: ['a thinner wall', 'make it solid'],
      fixes: [
        { words: `Use a wall of ${works} mm`, step: context.step.id, values: { wall: `${works} mm` } },
        { words: 'Make it solid', step: context.step.id, inputs: { inside: 'solid' } },
      ],
    });
  }
  const inside = roundAlong(context, path, radius, 'bore');
  if (!inside.ok) return fail({ ...inside.error, what: FAILED });
  const cut = booleanParts(context.kernel, 'cut', outside, [inside.value.body], { target: 'the wire', tool: 'its bore' }, context.step.id);
  if (!cut.ok) return fail({ what: FAILED, why: cut.error.why, tryInstead: ['make it solid', 'another wall'] });
  const [body, ...more] = cut.value.pieces;
  return body && more.length === 0
    ? ok(body)
    : fail({ what: FAILED, why: 'its bore takes it apart', tryInstead: ['make it solid', 'another wall'] });
}
