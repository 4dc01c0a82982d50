/** Closes the open borders of a surface with caps, which makes it a solid. */
import { type Frame, heightOver, shifted } from '../../core/curves/frame';
import type { Vec3 } from '../../core/geometry/vectors';
import type { CloseInputs } from '../../core/recipe/steps';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import { asBody, asSurface, type Fix, type KernelBody, type StepFailure } from '../body';
import { flatCap, flattenedCap, patchCaps } from '../caps';
import { type Claim, nameFaces } from '../names';
import { attempt, type Kernel, type Shape, scoped } from '../open';
import { squareAcross } from '../prism';
import { sew, solidWithin } from '../sewing';
import { facesOf } from '../shapes';
import { type BorderEdge, borderChains, loopOf, planeAlong, verifySurface } from '../surface';
import { displayDeflection, tessellate } from '../tessellate';
import { verifySolid } from '../verify';
import { needBody } from './combine';
import type { ContextOf, StepOutcome } from './operation';
import { parted } from './split';

/** A border this far from a plane still takes a flat cap, mm. */
const FLAT = 1e-3;
/** No border farther from its plane is offered to be flattened, mm. */
const MOST_FLATTENED = 0.2;

const CROSSED = 'look at its borders: one may cross itself';

export function close(context: ContextOf<'close'>): StepOutcome {
  const { kernel, project, step } = context;
  const inputs = step.inputs;
  const surface = needBody(context, inputs.body, 'there is nothing to close');
  if (!surface.ok) return surface;
  const name = bodyWords(inputs.body, project);
  if (!surface.value.surface) return fail({ what: `${name} is closed already`, why: 'it is a solid', tryInstead: ['choose a surface'] });
  const caps = inputs.caps ?? 'flat';
  const what = `${name} could not be closed`;
  const open = caps === 'trim' ? trimmed(kernel, surface.value, step.id) : ok({ body: surface.value, lost: 0 });
  if (!open.ok) return fail({ what, why: open.error, tryInstead: ['close it with patches', 'split it by a plane and keep a side'] });
  const { body: skin, lost } = open.value;
  const chains = borderChains(kernel, skin.shape);
  const loops = chains.map(loopOf);
  const within = caps === 'flatten' ? context.values.within : FLAT;
  const bent = loops.find((l) => l.offPlane > within);
  if (bent && caps !== 'patch') return notFlat(step.id, name, bent, caps);
  const made = attempt(kernel, () => capped(kernel, skin, chains, caps, step.id, within));
  if (!made.ok || !made.value)
    return fail({ what, why: made.ok ? 'a cap could not be made on a border' : made.error, tryInstead: [CROSSED] });
  const verified = verifySolid(kernel, made.value.solid);
  if (!verified.ok) return fail({ what, why: verified.error.why, tryInstead: [CROSSED] });
  const body = asBody(verified.value, nameFaces(kernel, verified.value.shape, made.value.claims, step.id));
  const off = Math.max(0, ...loops.map((l) => l.offPlane));
  const how =
    caps === 'patch' && off > FLAT
      ? `; the patches follow it up to ${fixed(off, 2)} mm off its plane`
      : caps === 'flatten' && off > FLAT
        ? `; flattened by ${fixed(off, 3)} mm at most`
        : lost > 0
          ? `; cut back by ${fixed(lost, 2)} mm`
          : '';
  return ok({
    bodies: [{ id: inputs.body, body }],
    volumeChange: body.volume,
    warnings: [],
    note: `${loops.length} border${loops.length === 1 ? '' : 's'} closed, of ${loops.map((l) => fixed(l.length, 2)).join(', ')} mm${how}`,
  });
}

/** Why a border takes no flat cap, with what would do. */
function notFlat(
  stepId: string,
  name: string,
  bent: { readonly length: number; readonly offPlane: number; readonly at: Vec3 },
  caps: 'flat' | 'flatten' | 'trim',
): Result<never, StepFailure> {
  const off = Math.ceil(bent.offPlane * 1000) / 1000;
  const fixes: Fix[] = [
    ...(off <= MOST_FLATTENED
      ? [{ words: `Flatten it, by ${off} mm at most`, step: stepId, inputs: { caps: 'flatten' }, values: { within: `${off} mm` } }]
      : []),
    { words: 'Close it with a patch that follows it', step: stepId, inputs: { caps: 'patch' } },
    ...(caps === 'trim'
      ? []
      : [{ words: `Cut it back to a plane, ${fixed(2 * bent.offPlane, 2)} mm at most`, step: stepId, inputs: { caps: 'trim' } }]),
  ];
  return fail({
    what: `${name} can’t be closed with flat caps`,
    why: `a border of ${fixed(bent.length, 2)} mm leaves its plane by ${fixed(bent.offPlane, 3)} mm`,
    tryInstead: ['a patch that follows the border', 'cutting it back to a plane'],
    at: bent.at,
    fixes,
  });
}

/** The surface sewn to its caps. Undefined where a cap can't be made or does not meet it. */
function capped(
  kernel: Kernel,
  skin: KernelBody,
  chains: readonly (readonly BorderEdge[])[],
  caps: NonNullable<CloseInputs['caps']>,
  stepId: string,
  within: number,
): { solid: Shape; claims: Claim[] } | undefined {
  return scoped((s) => {
    const lids = chains.flatMap((chain) => {
      const off = loopOf(chain).offPlane;
      if (off <= FLAT) return [flatCap(kernel, s, chain)];
      return caps === 'patch' ? (patchCaps(kernel, s, chain) ?? [undefined]) : [flattenedCap(kernel, s, chain)];
    });
    if (lids.some((c) => c === undefined)) return undefined;
    const tolerance = caps === 'flatten' ? Math.max(1e-4, 1.1 * within) : 1e-4;
    const given = [
      ...facesOf(kernel, skin.shape).map((face, i) => ({ face: face as Shape, name: skin.faces[i]! })),
      ...lids.map((cap) => ({ face: cap!, name: `${stepId}/cap` })),
    ];
    const { shape, claims } = sew(kernel, s, given, tolerance);
    if (shape.ShapeType() !== 'TopAbs_SHELL') return undefined;
    return { solid: solidWithin(kernel, s, shape), claims };
  });
}

/** The surface cut back, at each border that is not flat, to the plane along it that lies wholly within the surface. */
function trimmed(kernel: Kernel, surface: KernelBody, stepId: string): Result<{ body: KernelBody; lost: number }> {
  let body = surface;
  let lost = 0;
  for (const chain of borderChains(kernel, surface.shape)) {
    const points = chain.flatMap((l) => l.points);
    const { frame, off } = planeAlong(chain);
    if (off <= FLAT) continue;
    const { positions } = tessellate(kernel, body.shape, displayDeflection(kernel, body.shape));
    let above = 0;
    for (let i = 0; i < positions.length; i += 3)
      above += Math.sign(heightOver(frame, [positions[i]!, positions[i + 1]!, positions[i + 2]!]));
    const side = above >= 0 ? 1 : -1;
    const heights = points.map((p) => side * heightOver(frame, p));
    // A hair beyond the last of the border: there the cut would only graze it.
    const plane: Frame = shifted(frame, side * (Math.max(...heights) + 1e-2));
    const pieces = attempt(kernel, () =>
      parted(
        kernel,
        body,
        {
          words: 'the plane',
          first: (p) => side * heightOver(plane, p) > 0,
          make: (s) => [squareAcross(kernel, s, plane, body.shape)],
        },
        stepId,
      ),
    );
    const kept = pieces.ok ? pieces.value?.pieces.filter((p) => p.first) : undefined;
    if (!pieces.ok || !kept || kept.length !== 1) return fail('the plane along its border cuts it into more than one piece');
    const verified = verifySurface(kernel, kept[0]!.shape);
    if (!verified.ok) return fail(verified.error.why);
    body = asSurface(verified.value, nameFaces(kernel, verified.value.shape, pieces.value!.claims, stepId));
    lost = Math.max(lost, Math.max(...heights) - Math.min(...heights) + 1e-2);
  }
  return ok({ body, lost });
}
