/** What must not dip below a plane, and how far it does. */
import { z } from 'zod';
import { planeRefSchema } from '../schema';
import { choice, placed, type SentencePart, text, usually } from './definition';

export const overSchema = {
  /** Whether it is held against a plane; it may go anywhere where left out. */
  dip: z.enum(['free', 'told']).optional(),
  /** The plane it is to stay over, on the side of its normal. */
  over: planeRefSchema.optional(),
};
export interface OverInputs {
  readonly dip?: 'free' | 'told' | undefined;
  readonly over?: string | undefined;
}

/** The end of the sentence; silent where nothing is held. */
export const overWords = (i: OverInputs): readonly SentencePart[] =>
  i.dip === 'told'
    ? [text(','), choice('dip', ['free', 'free to dip'], ['told', 'told where it dips below']), { plane: 'over' }]
    : usually(true, text(','), choice('dip', ['free', 'free to dip'], ['told', 'told where it dips below a plane']));

export const overPlanes = (i: OverInputs): readonly string[] => (i.dip === 'told' && i.over ? [i.over] : []);

/** What goes with the choice to be told: the plane that was placed last, else the level one. */
export const overChosen = <I extends OverInputs>(i: I, field: string, planes: readonly string[]): I =>
  field === 'dip' && i.dip === 'told' && !i.over ? { ...i, over: placed({ planes }, 'level') } : i;
