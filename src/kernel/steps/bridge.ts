/** A surface from one border to another, on from what lies beside both: worked out in core, checked on the built faces. */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import { BRIDGE_ENDS, type BridgeInputs } from '../../core/recipe/steps/bridge';
import { fail, ok, type Result } from '../../core/result';
import { bridge as bridged } from '../../core/surfaces/bridge';
import type { Joined, NetworkFault } from '../../core/surfaces/network';
import { placeAlong, placesOf, type SplineSurface } from '../../core/surfaces/space';
import { fixed } from '../../core/units/units';
import { facesBeside, heldAgainst, joinedTo, lacksBeside, type Taken, taken } from '../beside';
import { type Fix, type KernelBody, wanting } from '../body';
import { dipOver } from '../dip';
import { nearOfAll } from '../inspect/nearest';
import { facesOf } from '../shapes';
import { sideBySide } from '../skin';
import type { ContextOf, StepOutcome, StepWarning } from './operation';

const FAILED = 'the bridge can’t be made';
const missing = wanting(FAILED);

interface Made {
  readonly body: KernelBody;
  readonly off: number;
  readonly surfaces: readonly SplineSurface[];
  readonly told: readonly string[];
  readonly warnings: readonly StepWarning[];
}

function made(context: ContextOf<'bridge'>, from: Taken, to: Taken, inputs: BridgeInputs): Result<Made, NetworkFault> {
  const { kernel, step, values } = context;
  const ids = new Set([...inputs.paths.flatMap((r) => ('body' in r ? [r.body] : [])), ...inputs.beside]);
  const beside = facesBeside(
    kernel,
    inputs.start === 'G0' && inputs.end === 'G0' ? [] : [...ids].flatMap((id) => context.bodies.get(id) ?? []),
  );
  try {
    const joined = (strand: Taken, field: 'start' | 'end'): Joined | undefined =>
      inputs[field] === 'G0' ? undefined : joinedTo(strand, inputs[field], BRIDGE_ENDS[field], beside);
    const [start, end] = [joined(from, 'start'), joined(to, 'end')];
    const core = bridged(
      { strand: from, joined: start, strength: values.startStrength },
      { strand: to, joined: end, strength: values.endStrength },
      values.turn,
    );
    if (!core.ok) return core;
    const { surfaces } = core.value;
    const checked = sideBySide(kernel, surfaces, 'bridge', step.id);
    if (!checked.ok) return fail({ what: 'fit', ...checked.error });
    const body = checked.value;
    const told: string[] = [];
    const warnings: StepWarning[] = [];
    const near = nearOfAll(kernel, facesOf(kernel, body.shape) as TopoDS_Face[]);
    for (const [j, v] of [
      [start, 0],
      [end, 1],
    ] as const) {
      if (!j) continue;
      const held = heldAgainst(near.nearest, j, (x, inside) => placeAlong(surfaces, x, v === 0 ? inside : 1 - inside));
      told.push(held.told);
      warnings.push(...held.warnings);
    }
    near.end();
    return ok({ body, off: core.value.off, surfaces, told, warnings });
  } finally {
    beside.end();
  }
}

export function bridge(context: ContextOf<'bridge'>): StepOutcome {
  const { step } = context;
  const { inputs } = step;
  const [a, b] = inputs.paths;
  if (!a || !b) return missing(a ? 'the other border is not picked' : 'no border is picked', 'pick an edge, a drawn line or a curve');
  const lost = lacksBeside(context, FAILED, inputs.beside, inputs.start !== 'G0' || inputs.end !== 'G0');
  if (lost) return lost;
  const from = taken(context, a, true);
  if (!from.ok) return from;
  const to = taken(context, b, true);
  if (!to.ok) return to;
  const done = made(context, from.value, to.value, inputs);
  if (!done.ok) {
    const { what, why, at, border } = done.error;
    const field = border && (border.words === BRIDGE_ENDS.start ? 'start' : 'end');
    const tried: Fix[] =
      field && made(context, from.value, to.value, { ...inputs, [field]: 'G0' }).ok
        ? [{ words: `Only meet ${border.words}`, step: step.id, inputs: { [field]: 'G0' } }]
        : [];
    return fail({ what: FAILED, why, tryInstead: WAYS[what] ?? ['other borders'], ...(at ? { at } : {}), fixes: tried });
  }
  const { body, off, surfaces, told, warnings } = done.value;
  const dip = dipOver(context, inputs, placesOf(surfaces));
  if (!dip.ok) return dip;
  return ok({
    bodies: [{ id: step.id, body }],
    volumeChange: 0,
    warnings: [...warnings, ...dip.value.warnings],
    note: `meets its borders within ${fixed(off, 5)} mm${told.length > 0 ? `; ${told.join(', ')}` : ''}${dip.value.told}`,
  });
}

const WAYS: Partial<Record<NetworkFault['what'], readonly string[]>> = {
  few: ['pick two closed borders, or two open ones', 'take a piece of the closed one'],
  corner: ['take a piece of that border', 'round the corner first'],
  beside: ['choose the body that lies beside it', 'let it only meet that border'],
  fit: ['another strength', 'borders that bend less'],
};
