/** What a form is made of, as the document holds it: a table of rings, or a cage of its own. */
import { z } from 'zod';
import { expressionSchema } from '../recipe/steps/definition';
import { MOST_FACES } from './cage';
import { MOST_FOLD } from './edit/symmetry';
import { MOST_RINGS } from './rings';

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

export const sourceSchema = z.discriminatedUnion('by', [
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
    /** Kept so only where it is so: what has no partners is left alone. */
    partly: z.boolean().optional(),
  }),
]);
export type FormSource = z.infer<typeof sourceSchema>;
