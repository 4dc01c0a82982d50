/** Steps that raise a solid and keep it as a new body, join it, cut with it or intersect: one way for all of them. */
import {
  type CombineMode,
  type InputsOf,
  type PiecesInputs,
  type RaiseMode,
  type StepKind,
  standsAlone,
  type ValuesOf,
} from '../../core/recipe/steps';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import type { Ties } from '../../core/surfaces/loft';
import { fixed } from '../../core/units/units';
import { areaOf } from '../amounts';
import { type Attachment, attachments, farthestOff } from '../attach';
import type { KernelBody, StepFailure } from '../body';
import { beside, booleanParts, notDone, type Parts } from '../boolean';
import type { Kernel } from '../open';
import { piecesKept } from '../pieces';
import { distanceBetween } from '../shapes';
import { borderLoops, skinWithout } from '../surface';
import type { StepContext, StepOperation, StepOutcome, StepWarning } from './operation';

export interface Raised {
  /** Solids on their own, verified and named; surfaces where the step asks for one and its drawing is open. */
  readonly solids: readonly KernelBody[];
  /** What they are called in messages. */
  readonly words: string;
  readonly warnings?: readonly StepWarning[];
  readonly note?: string;
  readonly ties?: Ties;
}

/**
 * Raises the solids of a step.
 * @param trial 0 first; later ones may put seams elsewhere, where a boolean with the first failed
 */
export type Raiser<I = Readonly<Record<string, unknown>>, V extends string = string> = (
  context: StepContext<I, V>,
  trial: number,
) => Result<Raised, StepFailure>;
export type RaiserOf<K extends StepKind> = Raiser<InputsOf<K>, ValuesOf<K>>;

/** The step that raises and combines. @param trials how many ways of raising it there are */
export const raiseStep =
  <I extends RaiseMode, V extends string>(raise: Raiser<I, V>, trials = 1): StepOperation<I, V> =>
  (context) => {
    const { mode, body, through } = context.step.inputs;
    const first = raise(context, standsAlone(mode) ? -1 : 0);
    if (!first.ok) return first;
    if (standsAlone(mode)) return asNewBody(context, mode === 'surface' ? asSurfaces(context, first.value) : first);
    const target = body ? context.bodies.get(body) : undefined;
    if (!body || !target)
      return fail({
        what: `${first.value.words} has nothing to be ${mode === 'join' ? 'joined to' : mode === 'cut' ? 'cut from' : 'intersected with'}`,
        why: 'the body it names is not made by an earlier step',
        tryInstead: ['choose a body', 'make it a new body'],
      });
    const ended = mode === 'join' && through === 'ended';
    let raised = first.value;
    for (let trial = 0; ; ) {
      const outcome = combineInto(
        context,
        mode,
        body,
        target,
        ended ? endedAt(context, target, raised) : mode === 'join' ? attached(context, body, target, raised) : raised,
      );
      trial++;
      if (outcome.ok) return outcome;
      const next = trial < trials ? raise(context, trial) : undefined;
      if (!next?.ok) return { ok: false, error: withOthers(context, body, target, raised, outcome.error) };
      raised = next.value;
    }
  };

/** Where what is raised lies beside its body, the bodies that it does meet, to be taken instead. */
function withOthers(context: StepContext<RaiseMode>, body: string, target: KernelBody, raised: Raised, error: StepFailure): StepFailure {
  const { kernel, project, step, bodies } = context;
  const { mode } = step.inputs;
  const words = { target: bodyWords(body, project), tool: raised.words };
  // What lies apart is told with its place.
  if (standsAlone(mode) || !error.at || !beside(kernel, mode, target, raised.solids, words)) return error;
  const met = [...bodies].filter(
    ([id, other]) =>
      id !== body &&
      !other.surface &&
      !other.facets &&
      raised.solids.some((s) => distanceBetween(kernel, other.shape, s.shape)?.distance === 0),
  );
  const verb = { join: 'Join it to', cut: 'Cut it from', common: 'Keep what it shares with' }[mode];
  const fixes = met.map(([id]) => ({ words: `${verb} ${bodyWords(id, project)} instead`, step: step.id, inputs: { body: id } }));
  return { ...error, fixes: [...fixes, ...(error.fixes ?? [])] };
}

/** Names of the flat ends of what a step raises. */
const endNames = (stepId: string) => [`${stepId}/start`, `${stepId}/end`] as const;

/** The same with how its ends stand to the body it is joined to. */
function attached(context: StepContext, body: string, target: KernelBody, raised: Raised): Raised {
  const { kernel, project, step } = context;
  const [start, end] = endNames(step.id);
  const ends = [
    { name: start, words: 'its start' },
    { name: end, words: 'its end' },
  ];
  const read = raised.solids.flatMap((solid) => attachments(kernel, target, solid, ends, bodyWords(body, project)));
  // What lies in the wall with its sides pokes through by what stands beyond the wall on its smaller side.
  const across = read.length > 0 && read.every((a) => a.kind === 'across');
  const sides = (across ? raised.solids : []).flatMap((solid): readonly Attachment[] => {
    const { beyond } = partsBeside(kernel, target, solid, raised.words, step.id);
    const far = beyond.map((p) => farthestOff(kernel, target, p)).toSorted((a, b) => b.by - a.by)[0];
    return far
      ? [{ kind: 'through', words: `a side of it pokes through ${bodyWords(body, project)} by up to ${fixed(far.by, 2)} mm`, at: far.at }]
      : [];
  });
  const wrong = [...read.filter((a) => a.kind === 'gap' || a.kind === 'through'), ...sides];
  const right = read.filter((a) => a.kind === 'inside' || a.kind === 'flush');
  const note = together(raised.note, ...right.map((a) => a.words));
  return {
    ...raised,
    ...(note ? { note } : {}),
    warnings: [
      ...(raised.warnings ?? []),
      ...wrong.map((a) => ({
        message: a.words,
        at: a.at,
        ...(a.kind === 'through'
          ? { fix: { words: `End it inside ${bodyWords(body, project)}`, step: step.id, inputs: { through: 'ended' } } }
          : {}),
      })),
    ],
  };
}

/** The parts of something raised that stand outside a body: the largest with those that hold none of its ends, and the others. */
function partsBeside(
  kernel: Kernel,
  target: KernelBody,
  solid: KernelBody,
  words: string,
  stepId: string,
): { readonly kept: readonly KernelBody[]; readonly beyond: readonly KernelBody[] } {
  const ends = new Set<string>(endNames(stepId));
  const parts = booleanParts(kernel, 'cut', solid, [target], { target: words, tool: 'the body' }, stepId);
  if (!parts.ok || parts.value.pieces.length < 2) return { kept: [solid], beyond: [] };
  const { pieces } = parts.value;
  const largest = pieces.reduce((a, b) => (b.volume > a.volume ? b : a));
  const stays = (p: KernelBody): boolean => p === largest || !p.faces.some((f) => ends.has(f));
  return { kept: pieces.filter(stays), beyond: pieces.filter((p) => !stays(p)) };
}

/**
 * What is raised as far as it stands outside the body: of its parts beyond the body's walls those that hold one of its ends fall away, but for the
 * largest. As it is where the body does not part it.
 */
function endedAt({ kernel, step }: StepContext, target: KernelBody, raised: Raised): Raised {
  const parts = raised.solids.map((solid) => partsBeside(kernel, target, solid, raised.words, step.id));
  const solids = parts.flatMap((p) => p.kept);
  const gone = parts.flatMap((p) => p.beyond);
  if (gone.length === 0) return raised;
  const volume = gone.reduce((sum, p) => sum + p.volume, 0);
  return { ...raised, solids, note: together(raised.note, `ended at the inside: ${fixed(volume / 1000, 2)} cm³ beyond it left out`) };
}

const noted = (raised: Pick<Raised, 'note' | 'ties'>): { note?: string; ties?: Ties } => ({
  ...(raised.note ? { note: raised.note } : {}),
  ...(raised.ties ? { ties: raised.ties } : {}),
});

/** The skins of raised solids, without the flat ends that only closed them off. */
function asSurfaces(context: StepContext, raised: Raised): Result<Raised, StepFailure> {
  const ends = new Set<string>(endNames(context.step.id));
  const skins: KernelBody[] = [];
  for (const solid of raised.solids) {
    if (solid.surface) skins.push(solid);
    else {
      const skin = skinWithout(context.kernel, solid, ends);
      if (!skin.ok) return fail({ what: `${raised.words} makes no surface`, why: skin.error, tryInstead: ['make it a new body'] });
      skins.push(skin.value);
    }
  }
  const words = skins.map((skin) => {
    const borders = borderLoops(context.kernel, skin.shape);
    const open = borders.length === 0 ? 'without a border' : `${borders.length} open border${borders.length > 1 ? 's' : ''}`;
    return `${fixed(areaOf(context.kernel, skin.shape) / 100, 2)} cm² of surface, ${open}`;
  });
  return ok({ ...raised, solids: skins, note: together(raised.note, ...words) });
}

export function asNewBody(context: StepContext<PiecesInputs>, made: Result<Raised, StepFailure>): StepOutcome {
  if (!made.ok) return made;
  const raised = made.value;
  if (raised.solids.length === 0)
    return fail({ what: `${raised.words} makes no solid`, why: 'nothing closed is drawn', tryInstead: ['close an outline'] });
  const parts = partsOf(context, raised);
  if (!parts.ok) return parts;
  const kept = piecesKept(context, parts.value, context.step.id, 1, `${raised.words} makes no body`);
  if (!kept.ok) return kept;
  const { bodies, note } = kept.value;
  return ok({
    bodies,
    volumeChange: bodies.reduce((sum, b) => sum + b.body.volume, 0),
    warnings: raised.warnings ?? [],
    ...noted({ ...raised, note: together(raised.note, note) }),
  });
}

/** What was raised as pieces: walls along several lines may run into each other. */
function partsOf({ kernel, step }: StepContext, { solids, words }: Raised): Result<Parts, StepFailure> {
  if (solids.length > 1 && solids.every((b) => !b.surface))
    return booleanParts(kernel, 'join', solids[0]!, solids.slice(1), { target: words, tool: words }, step.id);
  return ok({ pieces: solids, claims: [], idle: 0 });
}

export const together = (...notes: readonly (string | undefined)[]): string => notes.filter((n) => n).join('; ');

/** Edges that lie nearer to each other than this may be taken for one where nothing else works, mm. */
const HAIR = 1e-3;

/** The target with the solids joined, cut away or intersected. */
export function combineInto(
  context: StepContext<PiecesInputs>,
  mode: CombineMode,
  bodyId: string,
  target: KernelBody,
  raised: Raised,
): StepOutcome {
  const name = bodyWords(bodyId, context.project);
  const words = { target: name, tool: raised.words };
  const parts = (hair?: number): Result<Parts, StepFailure> =>
    booleanParts(context.kernel, mode, target, raised.solids, words, context.step.id, hair);
  const first = parts();
  // What lies apart is told with its place; else borders that run beside each other by a hair, as those of skins that were fitted, are taken for one.
  const again = first.ok || first.error.at ? first : parts(HAIR);
  const made = again.ok ? again : first;
  if (!made.ok) return made;
  const kept = piecesKept(context, made.value, bodyId, target.pieces ?? 1, notDone(mode, words), () =>
    beside(context.kernel, mode, target, raised.solids, words),
  );
  if (!kept.ok) return kept;
  const { bodies, note } = kept.value;
  const volume = bodies.reduce((sum, b) => sum + b.body.volume, 0);
  const warnings: StepWarning[] = [...(raised.warnings ?? [])];
  if (made.value.pieces.length === (target.pieces ?? 1) && Math.abs(volume - target.volume) < 1e-6 * target.volume)
    warnings.push({
      message:
        mode === 'join'
          ? `${raised.words} lies wholly inside ${name} and adds nothing`
          : mode === 'cut'
            ? `${raised.words} removes nothing`
            : `${name} lies wholly inside ${raised.words} and loses nothing`,
    });
  const { idle } = made.value;
  const many = raised.solids.length;
  const beyond =
    many > 1 && idle > 0 && idle < many
      ? `${idle} of ${many} ${mode === 'join' ? 'add nothing to' : 'meet nothing of'} ${name}`
      : undefined;
  return ok({
    bodies,
    volumeChange: volume - target.volume,
    warnings,
    ...noted({ ...raised, note: together(raised.note, note, beyond, made.value.note) }),
  });
}
