import { z } from 'zod';
import type { Kind } from '../../dimensions/expression';
import type { Step } from '../schema';

const id = z.string().max(40);
export const faceRefSchema = z.union([z.object({ face: z.string().max(600) }), z.object({ topOf: id }), z.object({ bottomOf: id })]);
export const edgeRefSchema = z.union([z.object({ edge: z.string().max(1200) }), z.object({ between: z.tuple([id, id]) })]);
export const idSchema = id;

/** A value of a step: what it is, what it is called, and what may stand there. */
export interface ValueSpec {
  readonly kind: Kind;
  readonly label: string;
  readonly initial: string;
  /** Allowed range in mm, rad or plain; the bounds themselves are excluded below and included above. */
  readonly above?: number;
  readonly atMost?: number;
}

/** A step reads as one sentence made of these; the sheet edits each part in place. */
export type SentencePart =
  | { readonly text: string }
  | { readonly value: string }
  | { readonly choice: string; readonly options: readonly { readonly value: string; readonly words: string }[] }
  | { readonly profile: string }
  | { readonly body: string }
  | { readonly faces: string }
  | { readonly edges: string };

/** What the maker wants, which is how the list of next steps is grouped. */
export type StepGroup = 'raise' | 'soften' | 'hollow';

/**
 * All that a step kind is without its geometry: adding a kind means one file here, one beside it in
 * kernel/steps, and a line in each registry.
 */
export interface StepDefinition<I extends Record<string, unknown> = Record<string, unknown>> {
  readonly kind: string;
  readonly verb: string;
  readonly group: StepGroup;
  readonly summary: string;
  readonly inputs: z.ZodType<I>;
  readonly values: Readonly<Record<string, ValueSpec>>;
  readonly sentence: (step: Step) => readonly SentencePart[];
  /** Whether the step makes a body of its own, named by the step's id. */
  readonly makesBody: (inputs: I) => boolean;
  /** The body a step changes, if any. */
  readonly changesBody: (inputs: I) => string | null;
}
