/** Parts a body by outlines: each drawing's pieces together one body, and the rest; all of them fill what was there. */
import { type Frame, normalOf, shifted, toSpace } from '../../core/curves/frame';
import { pointAt } from '../../core/curves/planar';
import { material } from '../../core/profile/material';
import { inlay as definition } from '../../core/recipe/steps/inlay';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import { volumeOf } from '../amounts';
import { bodySide, readBackwards } from '../backwards';
import { asBody, type KernelBody, type StepFailure } from '../body';
import { asOneBody, booleanParts } from '../boolean';
import { attempt, scoped } from '../open';
import { placedProfile } from '../placed';
import { type Plug, withPockets } from '../pocket';
import { nameOn, prismOf, regionFace } from '../prism';
import { facesOf, roughBounds } from '../shapes';
import { verifySolid } from '../verify';
import { needBody } from './combine';
import type { ContextOf, StepOutcome, StepWarning } from './operation';

/** What parts together may miss the whole by, as a share. */
const TIGHT = 1e-6;

export function inlay(context: ContextOf<'inlay'>): StepOutcome {
  const { kernel, step, project } = context;
  const { inputs } = step;
  const body = needBody(context, inputs.body, 'there is nothing to part');
  if (!body.ok) return body;
  const name = bodyWords(inputs.body, project);
  const what = `${name} can’t be parted so`;
  if (inputs.profiles.length === 0)
    return fail({ what, why: 'no outline is chosen', unfinished: true, tryInstead: ['choose a drawing of closed outlines or a text'] });
  const warnings: StepWarning[] = [];
  const tools: Tools[] = [];
  for (const [k, id] of inputs.profiles.entries()) {
    const made = prisms(context, body.value, id, k, warnings);
    if (!made.ok) return made;
    tools.push(made.value);
  }
  const run = (mode: 'cut' | 'common', target: KernelBody, list: readonly KernelBody[], words: string): Result<KernelBody, StepFailure> => {
    const made = booleanParts(kernel, mode, target, list, { target: name, tool: words }, step.id);
    if (!made.ok) return made;
    const { pieces, claims } = made.value;
    if (pieces.length === 0) return fail({ what, why: `nothing of it is left by ${words}`, tryInstead: ['smaller outlines', 'less deep'] });
    return ok(pieces.length === 1 ? pieces[0]! : asOneBody(kernel, pieces, claims, step.id));
  };
  const parts: KernelBody[] = [];
  let left = body.value;
  for (const { words, frame, plugs, solids } of tools) {
    // Within one flat face nothing has to be intersected.
    const pockets = plugs && !left.pieces ? withPockets(kernel, left, frame, plugs) : undefined;
    const part = pockets && plugs ? plugged(context, plugs) : run('common', body.value, solids(), words);
    if (!part.ok) return part;
    parts.push(part.value);
    const rest = pockets ? ok(pockets) : run('cut', left, solids(), words);
    if (!rest.ok) return rest;
    left = rest.value;
  }
  const whole = body.value.volume;
  const sum = parts.reduce((v, p) => v + p.volume, left.volume);
  if (Math.abs(sum - whole) > TIGHT * whole)
    return fail({
      what,
      why:
        sum > whole
          ? `outlines lie over each other: ${fixed((sum - whole) / 1000, 4)} cm³ would belong to two`
          : 'the parts together do not fill it',
      tryInstead: ['draw them apart'],
    });
  const ids = definition.makes(inputs, step.id);
  return ok({
    bodies: [{ id: inputs.body, body: left }, ...parts.map((p, k) => ({ id: ids[k]!, body: p }))],
    volumeChange: 0,
    warnings,
    note: parts.map((p) => `${fixed(p.volume / 1000, 3)} cm³${p.pieces ? ` in ${p.pieces} pieces` : ''}`).join(', '),
  });
}

/** What a drawing parts off. */
interface Tools {
  readonly words: string;
  readonly frame: Frame;
  /** From the drawing into the body; undefined where it goes right through. */
  readonly plugs: readonly Plug[] | undefined;
  /** From well before the body, where its skin may rise over the drawing. */
  readonly solids: () => KernelBody[];
}

/** What a drawing's outlines cut out. */
function prisms(context: ContextOf<'inlay'>, body: KernelBody, id: string, k: number, warnings: StepWarning[]): Result<Tools, StepFailure> {
  const { kernel, step, values } = context;
  const placed = placedProfile(context, id);
  if (!placed.ok) return placed;
  const { profile, frame, resolved } = placed.value;
  const what = `${profile.name} parts nothing off`;
  const regions = material(resolved, false, 'solid', 0, context.scope);
  if (!regions.ok) return fail({ what, why: regions.error, tryInstead: ['close the outline on the board'] });
  warnings.push(...readBackwards(kernel, profile, frame, body));
  const side = bodySide(kernel, body, frame);
  const n = normalOf(frame);
  const pushed = (base: Frame, reach: number): Plug[] | undefined => {
    const out: Plug[] = [];
    for (const region of regions.value) {
      const made = attempt(kernel, () =>
        scoped((s): Plug | undefined => {
          const top = regionFace(kernel, s, region, base);
          const prism = top && prismOf(kernel, s, top, [n[0] * reach, n[1] * reach, n[2] * reach], `${step.id}/${k + 1}`);
          return top && prism && { top, prism, at: toSpace(base, pointAt(region.outer[0]!.curve, 0.5)) };
        }),
      );
      if (!made.ok || !made.value) return undefined;
      out.push(made.value);
    }
    return out;
  };
  const blind = step.inputs.depth === 'blind';
  const plugs = blind ? pushed(frame, side * values.deep) : undefined;
  if (blind && !plugs) return fail({ what, why: 'an outline does not close for the kernel', tryInstead: ['look for very short curves'] });
  const solids = (): KernelBody[] => {
    const box = roughBounds(kernel, body.shape);
    const size = Math.hypot(...box.max.map((m, i) => m - box.min[i]!)) + 10;
    return (pushed(shifted(frame, -side * size), side * (size + (blind ? values.deep : size))) ?? []).map((p) => solidOf(context, p));
  };
  return ok({ words: profile.name, frame, plugs, solids });
}

function solidOf({ kernel, step }: ContextOf<'inlay'>, { prism }: Plug): KernelBody {
  const faces = facesOf(kernel, prism.shape).map((f) => nameOn(prism, f) ?? `${step.id}/side`);
  return { shape: prism.shape, faces, volume: Math.abs(volumeOf(kernel, prism.shape).volume) };
}

/** The plugs of a drawing as one body. */
function plugged(context: ContextOf<'inlay'>, plugs: readonly Plug[]): Result<KernelBody, StepFailure> {
  const { kernel, step } = context;
  const out: KernelBody[] = [];
  for (const plug of plugs) {
    const own = solidOf(context, plug);
    const verified = verifySolid(kernel, own.shape, { either: true, simple: true });
    if (!verified.ok)
      return fail({ what: 'a part could not be made', why: verified.error.why, tryInstead: ['look for outlines that cross themselves'] });
    out.push(asBody(verified.value, own.faces));
  }
  const claims = out.flatMap((b) => facesOf(kernel, b.shape).map((shape, i) => ({ shape, name: b.faces[i]! })));
  return ok(out.length === 1 ? out[0]! : asOneBody(kernel, out, claims, step.id));
}
