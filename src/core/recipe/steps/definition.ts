import { z } from 'zod';
import type { OriginPlane } from '../../curves/frame';
import type { Kind } from '../../dimensions/expression';
import type { Step } from '../schema';
import type { Handle, Standing } from './handles';
import type { QuickSkin } from './quick';
import { idSchema, type PathRef, type Pick, placeRefSchema, type SectionRef } from './refs';

export type { BodyFace, PathRef, Pick, PlaceRef, SectionRef } from './refs';
export {
  bodyFaceSchema,
  edgeRefSchema,
  expressionSchema,
  faceRefSchema,
  idSchema,
  pathRefSchema,
  placeRefSchema,
  sectionRefSchema,
} from './refs';

/** A step of a kind whose inputs are known. */
export type StepOf<I> = Omit<Step, 'inputs'> & { readonly inputs: I };

/** A value of a step: what it is, what it is called, and what may stand there. */
export interface ValueSpec {
  readonly kind: Kind;
  readonly label: string;
  readonly initial: string;
  /** Allowed range in mm, rad or plain; `above` itself is excluded, the other bounds are included. */
  readonly above?: number;
  readonly atLeast?: number;
  readonly atMost?: number;
  /** It counts something. */
  readonly whole?: true;
}

/**
 * A step reads as one sentence made of these; the sheet edits each part in place. What is as it usually is, is left out
 * of the sentence until the step is worked on.
 */
export type SentencePart = Part & { readonly usual?: true };
type Part =
  | { readonly text: string }
  | { readonly value: string }
  | { readonly choice: string; readonly options: readonly { readonly value: string; readonly words: string }[] }
  | { readonly profile: string }
  | { readonly body: string }
  | { readonly faces: string }
  | { readonly edges: string }
  | { readonly plane: string }
  /** Values of single edges out of a list of edges; the others have the step's own. */
  | { readonly edgeValues: string; readonly edges: string; readonly otherwise: string }
  /** Something that was brought in. */
  | { readonly file: string }
  /** Several bodies. */
  | { readonly bodies: string }
  /** An earlier step that raises something. */
  | { readonly step: string }
  /** Whole numbers, or shares, with commas between. */
  | { readonly numbers: string }
  | { readonly shares: string }
  /** Several profiles in order; or sections of any kind. */
  | { readonly profiles: string; readonly anything?: true }
  /** What a plane is placed by: faces, lines or places picked on bodies and drawings, at most so many. */
  | { readonly picks: string; readonly what: PickKind; readonly most: number };

/** What becomes of a result that falls apart. */
export const piecesSchema = {
  /** One piece is expected where left out; else each is a body, they are one body together, or only some of them stay. */
  pieces: z.enum(['one', 'each', 'together', 'largest', 'held', 'touching']).optional(),
  /** The place by which the piece that stays is known. */
  holds: z.array(placeRefSchema).max(1).optional(),
  /** The body that the pieces that stay touch. */
  near: idSchema.nullable().optional(),
};
const piecesInputs = z.object(piecesSchema);
export type PiecesInputs = Readonly<z.infer<typeof piecesInputs>>;

/**
 * What the pieces of a result are called: the first keeps the body's own id.
 * @param target the body that was changed, or the step's own id for new ones
 * @param own the second bears the step's own id, as one that the document knows of
 */
export const pieceIds = (target: string, stepId: string, count: number, own = false): string[] =>
  Array.from({ length: count }, (_, k) => (k === 0 ? target : k === 1 && own && target !== stepId ? stepId : `${stepId}_${k + 1}`));

/** The step a numbered piece comes of, and its number; undefined for a body that is none. */
export function pieceOf(body: string): { readonly step: string; readonly number: number } | undefined {
  const piece = /^(.+)_(\d+)$/.exec(body);
  return piece ? { step: piece[1]!, number: Number(piece[2]) } : undefined;
}

/** The end of the sentence of a step whose result may fall apart; silent where one piece is expected. */
export const piecesWords = (i: PiecesInputs): readonly SentencePart[] =>
  (i.pieces ?? 'one') === 'one'
    ? []
    : [
        text(','),
        choice(
          'pieces',
          ['one', 'all one piece'],
          ['each', 'each piece a body of its own'],
          ['together', 'its pieces together one body'],
          ['largest', 'only its largest piece'],
          ['held', 'only the piece nearest to'],
          ['touching', 'only its pieces that touch'],
        ),
        ...(i.pieces === 'held' ? [{ picks: 'holds', what: 'places', most: 1 } as const] : []),
        ...(i.pieces === 'touching' ? [{ body: 'near' }] : []),
      ];

/** What the pieces that stay are known by, added to what a step uses itself. */
export function withPieces(i: PiecesInputs, own: Uses): Uses {
  const held = pickUses(i.pieces === 'held' ? (i.holds ?? []) : []);
  return {
    ...own,
    bodies: [...own.bodies, ...held.bodies, ...(i.pieces === 'touching' && i.near ? [i.near] : [])],
    profiles: [...new Set([...own.profiles, ...held.profiles])],
    ...(own.paths || held.paths.length > 0 ? { paths: [...(own.paths ?? []), ...held.paths] } : {}),
    ...(own.expressions || held.expressions ? { expressions: true } : {}),
  };
}

/** Whether what a step raises is a body of its own, or what it does to another. */
export const raiseModeSchema = {
  mode: z.enum(['new', 'surface', 'join', 'cut', 'common']),
  /** The body joined to, cut from or intersected with; null for a new body or a surface. */
  body: idSchema.nullable(),
  /** What is joined and would poke through a wall stays as drawn, or ends at the wall's inside. */
  through: z.enum(['drawn', 'ended']).optional(),
  ...piecesSchema,
};
export type RaiseMode = PiecesInputs & {
  readonly through?: 'drawn' | 'ended' | undefined;
  readonly mode: 'new' | 'surface' | 'join' | 'cut' | 'common';
  readonly body: string | null;
};
/** What a raised solid does to a body that is there. */
export type CombineMode = Exclude<RaiseMode['mode'], 'new' | 'surface'>;
/** Whether what is raised stays a body of its own. */
export const standsAlone = (mode: RaiseMode['mode']): mode is 'new' | 'surface' => mode === 'new' || mode === 'surface';

/** The end of the sentence of a step that raises something. */
export const raiseWords = (step: StepOf<RaiseMode>): readonly SentencePart[] => [
  ...usualChoice(
    step.inputs,
    'mode',
    ['new', 'as a new body'],
    ['surface', 'as a surface'],
    ['join', 'joined to'],
    ['cut', 'cut from'],
    ['common', 'kept in common with'],
  ),
  ...(standsAlone(step.inputs.mode) ? [] : [{ body: 'body' }]),
  ...(step.inputs.mode === 'join' && step.inputs.through === 'ended'
    ? [text(','), choice('through', ['drawn', 'as drawn'], ['ended', 'ended where it would poke through'])]
    : []),
  ...piecesWords(step.inputs),
];

/** What all of them make, change and use. */
export const raising = {
  makes: (i: RaiseMode, id: string): readonly string[] => (standsAlone(i.mode) || i.pieces === 'each' ? [id] : []),
  changesBody: (i: RaiseMode): string | null => (standsAlone(i.mode) ? null : i.body),
  /** What a step uses itself, with the body it is done to and what the pieces that stay are known by. */
  uses: (i: RaiseMode, own: Uses): Uses =>
    withPieces(i, { ...own, bodies: [...(!standsAlone(i.mode) && i.body ? [i.body] : []), ...own.bodies] }),
};

/** What every kind says that raises a solid of its own: it is made or done to a body, in pieces too, and can be raised again elsewhere. */
export const raisesOwn = { makes: raising.makes, changesBody: raising.changesBody, takesPieces: true, again: true } as const;

export type PickKind = 'faces' | 'flats' | 'paths' | 'places';

/** Parts left out of the sentence where they say what is usual. */
export const usually = (usual: boolean, ...parts: readonly SentencePart[]): readonly SentencePart[] =>
  usual ? parts.map((p) => ({ ...p, usual: true })) : parts;

/** A choice that is left out of the sentence while the first of its options is taken. */
export const usualChoice = (
  inputs: Readonly<Record<string, unknown>>,
  field: string,
  ...options: readonly (readonly [string, string])[]
): readonly SentencePart[] => usually((inputs[field] ?? options[0]![0]) === options[0]![0], choice(field, ...options));

/** Whether values of a step are as they begin. */
export const still = (step: StepOf<unknown>, specs: Readonly<Record<string, ValueSpec>>, ...names: readonly string[]): boolean =>
  names.every((n) => (step.values[n] ?? '').replace(/\s/g, '') === specs[n]!.initial.replace(/\s/g, ''));

/** What a step is built from, beside its own values. */
export interface Uses {
  readonly bodies: readonly string[];
  readonly profiles: readonly string[];
  readonly planes: readonly string[];
  /** Earlier steps that drew the curves in space it follows. */
  readonly paths?: readonly string[];
  /** Earlier steps whose tools it raises again. */
  readonly steps?: readonly string[];
  /** Its inputs hold expressions over the named dimensions. */
  readonly expressions?: boolean;
  /** Files brought in that it reads. */
  readonly imports?: readonly string[];
}

/** What picks in space rest on: every kind of step that takes places or lines counts them alike. */
export const pickUses = (picks: readonly Pick[]) => ({
  bodies: picks.flatMap((p) => ('body' in p ? [p.body] : [])),
  profiles: picks.flatMap((p) => ('profile' in p ? [p.profile] : [])),
  paths: picks.flatMap((p) => ('step' in p ? [p.step] : [])),
  expressions: picks.some((p) => 'at' in p),
});

/** What a step uses that carries drawings along lines into a body. */
export const skinUses = (i: RaiseMode & { readonly sections: readonly SectionRef[]; readonly paths: readonly PathRef[] }): Uses => {
  const picks = pickUses([...i.paths, ...i.sections.flatMap((s) => (typeof s === 'string' ? [] : [s]))]);
  const drawn = i.sections.flatMap((s) => (typeof s === 'string' ? [s] : []));
  return raising.uses(i, { ...picks, profiles: [...new Set([...drawn, ...picks.profiles])], planes: [] });
};

/** What the maker wants, which is how the list of next steps is grouped. */
type StepGroup = 'raise' | 'combine' | 'repeat' | 'soften' | 'hollow' | 'refer';

/** Headings of the list of next steps. */
export type OfferGroup = 'Draw' | 'Raise' | 'Join and cut' | 'Repeat' | 'Soften' | 'Hollow' | 'Refer';

/** A step that can be made next, ready to be added. */
export interface Offer<I> {
  readonly group: OfferGroup;
  readonly label: string;
  readonly hint: string;
  readonly inputs: I;
  /** Values that differ from what they begin with. */
  readonly values?: Readonly<Record<string, string>>;
  /** What is asked for at once, and where it goes. */
  readonly pick?: { readonly what: PickKind | 'edges'; readonly field: keyof I & string; readonly most?: number };
  /** A drawing is begun on the plane that it places. */
  readonly draws?: true;
}

interface Called {
  readonly id: string;
  readonly name: string;
}
/** What there is to go on from, where the next step would stand. Bodies and curves: the latest first. */
export interface Offering {
  readonly solids: readonly Called[];
  readonly skins: readonly Called[];
  /** Surfaces that are still as their cages formed them. */
  readonly cages: readonly Called[];
  /** Scans: nothing is built of them but what is fitted. */
  readonly scans: readonly Called[];
  /** Drawings; those on a face have its body behind them. */
  readonly profiles: readonly (Called & {
    readonly half: boolean;
    readonly onFace: boolean;
    /** Its curves close an outline, as far as their ends tell. */
    readonly closed: boolean;
    /** It has lines that close none. */
    readonly open: boolean;
    /** It has a text: several outlines that belong together. */
    readonly lettered: boolean;
    /** A step is built from it already. */
    readonly used: boolean;
    readonly plane: string;
    /** The plane through the origin that its own is parallel to; null where only the build can tell. */
    readonly along: string | null;
  })[];
  /** The planes through the origin, then those that were placed. */
  readonly planes: readonly string[];
  readonly curves: readonly string[];
  /** The step that raised something last, with the body that has it. */
  readonly raised: (Called & { readonly body: string | null }) | null;
  /** The step whose topmost flat face a vessel opens at. */
  readonly topOf: (body: string) => string;
  /** The upright plane through the origin that a body lies against, as half of something does. */
  readonly against: (body: string) => string | null;
  /** A plane through the origin that passes through a body. */
  readonly across: (body: string) => string | null;
  /** Whether a dimension of the sheet has this name. */
  readonly dimension: (name: string) => boolean;
}

/** The plane that was placed last, else the one given. */
export const placed = ({ planes }: { readonly planes: readonly string[] }, otherwise: string): string =>
  planes.length > 3 ? planes[planes.length - 1]! : otherwise;

/** What a drawing that is raised can become: a body or a skin of its own, or joined to, cut from or shared with each body there is. */
export const raisedOffers = <I extends RaiseMode>(
  c: Offering,
  called: string,
  inputs: Omit<I, 'mode' | 'body'>,
  whenCut: Partial<I> = {},
): readonly Offer<I>[] => {
  const offer = (
    group: OfferGroup,
    label: string,
    hint: string,
    mode: RaiseMode['mode'],
    body: string | null,
    more: Partial<I> = {},
  ): Offer<I> => ({
    group,
    label,
    hint,
    inputs: { ...inputs, ...more, mode, body } as unknown as I,
  });
  return [
    offer('Raise', called, 'as a new body', 'new', null),
    offer('Raise', `${called}, as a surface`, 'a skin without an inside', 'surface', null),
    ...c.solids.flatMap((b) => [
      offer('Join and cut', `${called}, joined`, `to ${b.name}`, 'join', b.id),
      offer('Join and cut', `${called}, cut`, `from ${b.name}`, 'cut', b.id, whenCut),
      offer('Join and cut', `${called}, in common`, `with ${b.name}`, 'common', b.id),
    ]),
  ];
};

/** Words of a sentence. */
export const text = (t: string): SentencePart => ({ text: t });
export const value = (v: string): SentencePart => ({ value: v });
export const choice = (field: string, ...options: readonly (readonly [string, string])[]): SentencePart => ({
  choice: field,
  options: options.map(([v, words]) => ({ value: v, words })),
});

/** The parts that are shown, each with its place in the sentence; commas stand at the part they follow, so that no line of the sheet begins with one. */
export function punctuated(
  parts: readonly SentencePart[],
  shown: (part: SentencePart) => boolean = () => true,
): { readonly part: SentencePart; readonly comma: boolean; readonly at: number }[] {
  const out: { part: SentencePart; comma: boolean; at: number }[] = [];
  for (const [at, part] of parts.entries()) {
    if (!shown(part)) continue;
    const last = out.at(-1);
    if (!last || !('text' in part) || !part.text.startsWith(',')) {
      out.push({ part, comma: false, at });
      continue;
    }
    last.comma = true;
    const rest = part.text.slice(1).trim();
    if (rest) out.push({ part: { ...part, text: rest }, comma: false, at });
  }
  return out;
}

/** Another kind that a step may become, in words, with its choices and values. */
export interface OtherWay {
  readonly words: string;
  readonly step: string;
  readonly kind: string;
  readonly inputs: Readonly<Record<string, unknown>>;
  readonly values: Readonly<Record<string, string>>;
}

/** What there is to choose from beside a step. */
export interface Around {
  /** Those through the origin, then those that were placed. */
  readonly planes: readonly string[];
  /** Drawings; those that nothing is built from come last. */
  readonly drawings: readonly string[];
  /** Bodies that are there before the step, scans first. */
  readonly bodies: readonly string[];
}

/**
 * All that a step kind is without its geometry: adding a kind means one file here, one beside it in
 * kernel/steps, and a line in each registry.
 *
 * @typeParam I its inputs; @typeParam V the names of its values
 */
export interface StepDefinition<I extends Record<string, unknown> = Record<string, unknown>, V extends string = string> {
  readonly kind: string;
  readonly verb: string;
  readonly group: StepGroup;
  readonly summary: string;
  /** What else the trade calls it, one word or more each; found by these too. */
  readonly known: readonly string[];
  /** What has to be there before it can be made, said while it is not. */
  readonly needs: string;
  /** The ways it can be begun from what there is. */
  readonly offers: (c: Offering) => readonly Offer<I>[];
  readonly inputs: z.ZodType<I>;
  readonly values: Readonly<Record<V, ValueSpec>>;
  readonly sentence: (step: StepOf<I>) => readonly SentencePart[];
  /** Ids of the bodies the step makes; the first is named by the step's own id. */
  readonly makes: (inputs: I, stepId: string) => readonly string[];
  /** What sets the body it makes apart from the one it was, at first; else it is numbered. @param plane how a plane lies that steps placed */
  readonly part?: (inputs: I, plane: (ref: string) => OriginPlane | null) => { readonly of: string; readonly words: string } | null;
  /** Bodies that are gone after the step. */
  readonly removes?: (inputs: I, there: readonly string[]) => readonly string[];
  /** The body a step changes, if any. */
  readonly changesBody: (inputs: I) => string | null;
  /** The body that the one it makes is a copy of, wherever that then lies. */
  readonly copies?: (inputs: I) => string | null;
  /** Whether the body it changes may be a surface; else that must be a solid. */
  readonly takesSurfaces?: true;
  /** Whether the body it changes may be several solids that lie apart. */
  readonly takesPieces?: true;
  /** Whether it works on bodies that are known by their facets alone. */
  readonly takesFacets?: true | ((inputs: I) => boolean);
  /** It is built from bodies alone, so that a change of it can be tried beside the rebuild. */
  readonly tried?: true;
  /** What helps where it finds no end, before what helps every kind. */
  readonly tooLong?: string;
  /** What it puts into space where it makes no body. */
  readonly places?: 'plane' | 'curve';
  /** What a curve that it places is called. */
  readonly called?: (inputs: I) => string;
  /** What it raises can be raised again elsewhere. */
  readonly again?: true;
  /** Its geometry is the mesh kernel's. */
  readonly meshes?: true;
  /** The value whose working range is searched for. */
  readonly ranged?: string;
  /** Values that stand somewhere, to be taken hold of on the stage. */
  readonly handles?: (step: StepOf<I>, standing: Standing) => readonly Handle[];
  /** What it raises or moves, shown while one of its values or drawings is dragged; null where only the build can tell. @param was as it is built */
  readonly quick?: (step: StepOf<I>, standing: Standing, was: Standing) => readonly QuickSkin[] | null;
  readonly uses: (inputs: I) => Uses;
  /** Other ways to what it is for, offered where it came to no end in time. */
  readonly otherwise?: (step: StepOf<I>) => readonly OtherWay[];
  /** What goes with a choice that was just made. */
  readonly chosen?: (inputs: I, field: string, there: Around) => I;
}
