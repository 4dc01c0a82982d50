import { z } from 'zod';
import { MOST_FACES } from '../../form/cage';
import { MOST_FOLD } from '../../form/edit/symmetry';
import { MOST_RINGS } from '../../form/rings';
import { planeRefSchema } from '../schema';
import { choice, expressionSchema, raiseModeSchema, raiseWords, raising, type StepDefinition, text } from './definition';

const place = z.number().min(-1e5).max(1e5);
const index = z.number().int().min(0);
const rowSchema = z.object({
  height: expressionSchema,
  radius: expressionSchema,
  /** Against the ring below. */
  twist: expressionSchema,
  crease: expressionSchema,
});
export type RingTexts = z.infer<typeof rowSchema>;

const sourceSchema = z.discriminatedUnion('by', [
  /** A table of rings; `on` says whether it holds what the body measures or where the cage's vertices stand. */
  z.object({
    by: z.literal('rings'),
    sides: expressionSchema,
    ridge: expressionSchema,
    on: z.enum(['body', 'cage']),
    rows: z.array(rowSchema).min(2).max(MOST_RINGS),
    bottom: z.enum(['flat', 'round']),
    top: z.enum(['flat', 'round']),
  }),
  /** A cage of its own, mm; the weights of its creases and corners are expressions. */
  z.object({
    by: z.literal('cage'),
    vertices: z.array(z.tuple([place, place, place])).max(2 * MOST_FACES),
    faces: z.array(z.array(index).min(3).max(64)).min(1).max(MOST_FACES),
    creases: z.array(z.tuple([index, index, expressionSchema])).max(MOST_FACES),
    corners: z.array(z.tuple([index, expressionSchema])).max(MOST_FACES),
    /** Planes through the origin across which it is kept a mirror image of itself. */
    mirror: z.array(z.enum(['x', 'y', 'z'])).max(3),
    /** How often it is the same round the upright axis; and how often the vertices here are, which are made over when the two differ. */
    fold: expressionSchema,
    folded: z.number().int().min(1).max(MOST_FOLD),
  }),
]);
export type FormSource = z.infer<typeof sourceSchema>;

const inputs = z.object({
  source: sourceSchema,
  plane: planeRefSchema,
  /** How closely the faces follow the limit where the cage is irregular. */
  follow: z.enum(['well', 'finely']),
  ...raiseModeSchema,
});
export type FormInputs = z.infer<typeof inputs>;

/** Every expression of a form, rewritten. */
export function mapSource(source: FormSource, f: (text: string) => string): FormSource {
  if (source.by === 'rings')
    return {
      ...source,
      sides: f(source.sides),
      ridge: f(source.ridge),
      rows: source.rows.map((r) => ({ height: f(r.height), radius: f(r.radius), twist: f(r.twist), crease: f(r.crease) })),
    };
  return {
    ...source,
    fold: f(source.fold),
    creases: source.creases.map(([a, b, w]): [number, number, string] => [a, b, f(w)]),
    corners: source.corners.map(([v, w]): [number, string] => [v, f(w)]),
  };
}

export const form: StepDefinition<FormInputs> = {
  kind: 'form',
  verb: 'Form',
  group: 'raise',
  summary: 'a freeform body by a cage whose smooth limit it is',
  inputs,
  values: {},
  sentence: (step) => {
    const { source } = step.inputs as FormInputs;
    return [
      text('Form'),
      text(source.by === 'rings' ? `by ${source.rows.length} rings of ${source.sides}` : `by a cage of ${source.faces.length} faces`),
      text('on'),
      { plane: 'plane' },
      text('followed'),
      choice('follow', ['well', 'well'], ['finely', 'finely']),
      ...raiseWords(step),
    ];
  },
  makes: raising.makes,
  changesBody: raising.changesBody,
  uses: (i) => ({ bodies: raising.target(i), profiles: [], planes: [i.plane], expressions: true }),
};
