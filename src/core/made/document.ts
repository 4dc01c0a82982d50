/** Parts that were made and measured, as they are kept in the document: what is measured, with what, and what it read. */
import { z } from 'zod';

const id = z.string().regex(/^[a-zA-Z][\w-]{0,39}$/);
const words = z.string().max(120);

/** What a place is measured in: lengths in mm, masses in g, what it holds in L. */
export type Quantity = 'mm' | 'g' | 'L';

/** Which way a length goes: along an axis of the part, somewhere across its upright, or none that says anything about one. */
const WAYS = ['x', 'y', 'z', 'flat', 'other'] as const;
export type Way = (typeof WAYS)[number];

/** What lies between its ends: material, as across an outside; room, as in a bore; or as much of both, as between two bores. */
const SIDES = ['outer', 'inner', 'neither'] as const;
export type Side = (typeof SIDES)[number];

const placeSchema = z.object({
  id,
  name: words,
  /** What it should be: a gauge, something measured on the model, a named dimension, or a figure. */
  of: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('gauge'), gauge: z.string().max(40) }),
    z.object({ kind: z.literal('measure'), measure: id }),
    z.object({ kind: z.literal('named'), dimension: z.string().max(40) }),
    z.object({ kind: z.literal('typed'), value: z.string().max(200) }),
  ]),
  way: z.enum(WAYS),
  side: z.enum(SIDES),
  /** How far off it may be, as typed: upwards, and downwards where that is not as far. */
  over: z.string().max(200).optional(),
  under: z.string().max(200).optional(),
});

const factor = z.number().min(0.5).max(2);
const grownSchema = z.object({ x: factor, y: factor, z: factor });

const pieceSchema = z.object({ id, name: words, readings: z.record(id, z.array(z.number()).max(30)) });

const batchSchema = z.object({
  id,
  name: words,
  /** When it was made, as a day, ISO 8601. */
  at: z.string().max(40),
  /** Its file was grown by so much. */
  grown: grownSchema.optional(),
  /** A piece took so many seconds and used so many grams; and what was reckoned for one, by the printer's own line, layer and speed. */
  took: z.number().positive().max(1e7).optional(),
  used: z.number().positive().max(1e6).optional(),
  reckoned: z.object({ seconds: z.number().positive(), grams: z.number().min(0) }).optional(),
  /** What the places should have been when it was made: the model may be another by now. */
  nominal: z.record(id, z.number()),
  pieces: z.array(pieceSchema).max(200),
});

/** What readings are trusted to with a coverage factor of two, in the quantity's own unit. */
const deviceSchema = z.object({ name: words, off: z.number().min(0).max(1000) });

export const madeSchema = z.object({
  places: z.array(placeSchema).max(60),
  devices: z.object({ mm: deviceSchema, g: deviceSchema, L: deviceSchema }),
  batches: z.array(batchSchema).max(100),
  /** Files are written larger by so much. */
  grown: grownSchema.optional(),
});
export type Made = z.infer<typeof madeSchema>;
export type Place = Made['places'][number];
export type Batch = Made['batches'][number];
export type Piece = Batch['pieces'][number];
export type Grown = z.infer<typeof grownSchema>;

/** Usual devices of a workshop: a caliper that shows hundredths, kitchen scales, a measuring jug. Common practice, no source. */
const USUAL: Made['devices'] = {
  mm: { name: 'caliper', off: 0.03 },
  g: { name: 'scales', off: 0.2 },
  L: { name: 'measuring jug', off: 0.005 },
};

export const noneMade = (): Made => ({ places: [], devices: USUAL, batches: [] });
