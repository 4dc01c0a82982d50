/** One surface through two families of curves, smooth to the faces beside its borders: worked out in core, checked on the built face. */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import type { NetworkInputs, PathRef } from '../../core/recipe/steps';
import { BORDERS, type BorderName, CALLED, network as definition } from '../../core/recipe/steps/network';
import { fail, ok, type Result } from '../../core/result';
import { type Joined, type NetworkFault, network as raised } from '../../core/surfaces/network';
import { placesOf, type SplineSurface, surfaceAt } from '../../core/surfaces/space';
import { fixed } from '../../core/units/units';
import { facesBeside, heldAgainst, joinedTo, lacksBeside, type Taken, taken } from '../beside';
import { asSurface, type Fix, type KernelBody, wanting } from '../body';
import { closing } from '../closing';
import { dipOver } from '../dip';
import { nearFace } from '../inspect/nearest';
import { attempt, scoped } from '../open';
import { facesOf } from '../shapes';
import { kernelSurface } from '../skin';
import { shellOf, verifySurface } from '../surface';
import type { ContextOf, StepOutcome, StepWarning } from './operation';

const FAILED = 'the network can’t be made';
const missing = wanting(FAILED);
interface Made {
  readonly body: KernelBody;
  readonly surface: SplineSurface;
  readonly note: string;
  readonly warnings: readonly StepWarning[];
}

/** The network by some inputs, or why there is none. */
function made(
  context: ContextOf<'network'>,
  along: readonly Taken[],
  across: readonly Taken[],
  inputs: NetworkInputs,
  within: number,
): Result<Made, NetworkFault> {
  const { kernel, step } = context;
  const ids = new Set([...[...inputs.along, ...inputs.across].flatMap((r) => ('body' in r ? [r.body] : [])), ...inputs.beside]);
  const bodies = [...ids].flatMap((id) => context.bodies.get(id) ?? []);
  const beside = facesBeside(kernel, BORDERS.some((b) => inputs[b] !== 'G0') ? bodies : []);
  try {
    const side = (field: BorderName): Joined | undefined => {
      const list = field.startsWith('along') ? along : across;
      const strand = list[field.endsWith('First') ? 0 : list.length - 1]!;
      const join = inputs[field];
      return join === 'G0' ? undefined : joinedTo(strand, join, CALLED[field], beside);
    };
    const joined = { along: [side('alongFirst'), side('alongLast')] as const, across: [side('acrossFirst'), side('acrossLast')] as const };
    const core = raised(along, across, { within, joined });
    if (!core.ok) return core;
    const { surface, gap, off } = core.value;
    const built = attempt(kernel, () =>
      scoped((s) => {
        const face = s.keep(new kernel.BRepBuilderAPI_MakeFace(kernelSurface(kernel, s, surface), 1e-7));
        return face.IsDone() ? shellOf(kernel, s, [face.Face()]) : undefined;
      }),
    );
    if (!built.ok || !built.value) return fail({ what: 'fit', why: built.ok ? 'no face was made of its surface' : built.error });
    const verified = verifySurface(kernel, built.value);
    if (!verified.ok) return fail({ what: 'fit', why: verified.error.why, ...(verified.error.at ? { at: verified.error.at } : {}) });
    const own = nearFace(kernel, facesOf(kernel, verified.value.shape)[0] as TopoDS_Face);
    const told: string[] = [];
    const warnings: StepWarning[] = [];
    for (const [way, end, j] of [
      ['v', 0, joined.along[0]],
      ['v', 1, joined.along[1]],
      ['u', 0, joined.across[0]],
      ['u', 1, joined.across[1]],
    ] as const) {
      if (!j) continue;
      const held = heldAgainst(own.nearest, j, (x, inside) => {
        const y = end === 0 ? inside : 1 - inside;
        return way === 'v' ? surfaceAt(surface, x, y) : surfaceAt(surface, y, x);
      });
      told.push(held.told);
      warnings.push(...held.warnings);
    }
    own.reader.dispose();
    const pulled = gap ? `; curves that missed each other by ${fixed(gap.distance, 4)} mm pulled together` : '';
    return ok({
      body: asSurface(verified.value, [`${step.id}/network`]),
      surface,
      note: `passes its curves within ${fixed(off, 5)} mm${pulled}${told.length > 0 ? `; ${told.join(', ')}` : ''}`,
      warnings,
    });
  } finally {
    beside.end();
  }
}

export function network(context: ContextOf<'network'>): StepOutcome {
  const { step, values } = context;
  const { inputs } = step;
  for (const [list, words] of [
    [inputs.along, 'along'],
    [inputs.across, 'across'],
  ] as const)
    if (list.length < 2)
      return missing(
        `${list.length === 0 ? 'no curve' : 'only one curve'} ${words} is picked`,
        'pick two or more curves each way, in their order',
      );
  const lost = lacksBeside(
    context,
    FAILED,
    inputs.beside,
    BORDERS.some((b) => inputs[b] !== 'G0'),
  );
  if (lost) return lost;
  const [along, across]: Taken[][] = [[], []];
  for (const [refs, into] of [
    [inputs.along, along!],
    [inputs.across, across!],
  ] as const)
    for (const ref of refs) {
      const strand = taken(context, ref, false);
      if (!strand.ok) return strand;
      into.push(strand.value);
    }
  const run = (i: NetworkInputs, within: number) => {
    // A change of order changes what the strands stand in.
    const order = <T>(list: readonly T[], was: readonly PathRef[], now: readonly PathRef[]): T[] =>
      now.map((ref) => list[was.indexOf(ref)]!);
    return made(context, order(along!, inputs.along, i.along), order(across!, inputs.across, i.across), i, within);
  };
  const done = run(inputs, values.within);
  if (done.ok) {
    const { body, note, surface, warnings } = done.value;
    const dip = dipOver(context, inputs, placesOf([surface]));
    if (!dip.ok) return dip;
    return ok({
      bodies: [{ id: step.id, body }],
      volumeChange: 0,
      warnings: [...warnings, ...dip.value.warnings],
      note: note + dip.value.told,
    });
  }
  const fault = done.error;
  return fail({
    what: FAILED,
    why: fault.why,
    tryInstead: ways[fault.what],
    ...(fault.at ? { at: fault.at } : {}),
    fixes: fixesOf(context, fault, run),
  });
}

const ways: Readonly<Record<NetworkFault['what'], readonly string[]>> = {
  few: ['pick two or more curves each way'],
  gap: ['let curves meet', 'close wider gaps'],
  order: ['pick the curves in the order they stand in'],
  corner: ['take a piece of that curve', 'make two networks that meet in the corner'],
  beside: ['choose the body that lies beside it', 'let it only meet that border'],
  leaves: ['draw that curve as a blend that goes on from the face', 'let it only meet that border'],
  bends: ['draw that curve as a G2 blend', 'pass that border with its tangent planes alone'],
  back: ['choose curves that lead away from it', 'let it only meet that border'],
  fit: ['curves that bend less', 'more curves each way'],
};

/** Changes that were tried and go. */
function fixesOf(
  context: ContextOf<'network'>,
  fault: NetworkFault,
  run: (i: NetworkInputs, within: number) => Result<Made, NetworkFault>,
): Fix[] {
  const { step, values } = context;
  const { inputs } = step;
  const changed = (words: string, change: Partial<NetworkInputs>, within?: string): Fix[] =>
    run({ ...inputs, ...change }, within === undefined ? values.within : Number.parseFloat(within)).ok
      ? [{ words, step: step.id, ...(within === undefined ? { inputs: change } : { values: { within } }) }]
      : [];
  if (fault.what === 'gap') {
    const wider = closing(fault.gap ?? 0);
    return Number.parseFloat(wider) <= definition.values.within.atMost! ? changed(`Pull curves together up to ${wider}`, {}, wider) : [];
  }
  if (fault.what === 'order' && fault.order) {
    const { family, to } = fault.order;
    return changed(`Take the curves ${family} in the order they stand in`, { [family]: to.map((i) => inputs[family][i]!) });
  }
  if (['leaves', 'bends', 'back', 'beside'].includes(fault.what)) {
    const border = BORDERS.find((b) => CALLED[b] === fault.border?.words);
    if (!border) return [];
    const meet = changed(`Only meet ${CALLED[border]}`, { [border]: 'G0' });
    if (fault.what !== 'bends') return meet;
    const one = changed(`Pass ${CALLED[border]} with its tangent planes alone (G1)`, { [border]: 'G1' });
    if (one.length > 0) return [...one, ...meet];
    // Other borders want it too.
    const all = Object.fromEntries(BORDERS.flatMap((b) => (inputs[b] === 'G2' ? [[b, 'G1']] : [])));
    return [...changed('Pass its borders with their tangent planes alone (G1)', all), ...meet];
  }
  return [];
}
