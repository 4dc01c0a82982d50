/**
 * The document: one project, one JSON file `*.lathe.json`. These schemas are the single definition; types
 * are inferred from them. Values are stored as typed (expression text with units), never as numbers derived.
 */
import { z } from 'zod';

z.config({ jitless: true });

export const FORMAT = 'ivory-lathe';
export const VERSION = 2;

const id = z.string().regex(/^[a-zA-Z][\w-]{0,39}$/, 'an id is a letter followed by letters, digits, - or _');
const value = z.string().max(200);
const name = z.string().min(1).max(80);

export const pointSchema = z.object({ id, x: value, y: value });

/** Direction and strength of a spline at an end. The angle points from the end into the curve, 0° = away from the axis, 90° = up. */
export const handleSchema = z.object({ angle: value, weight: value });

const curveBase = { id, name: z.string().max(40).optional(), from: id, to: id };
export const curveSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('line'), ...curveBase }),
  z.object({ kind: z.literal('arc'), ...curveBase, through: id }),
  z.object({
    kind: z.literal('spline'),
    ...curveBase,
    through: z.array(id).max(200),
    start: handleSchema.optional(),
    end: handleSchema.optional(),
  }),
]);

/** Half a vessel beside the axis: x is the radius, y the height along the axis. */
export const profileSchema = z.object({
  id,
  name,
  points: z.array(pointSchema).max(500),
  curves: z.array(curveSchema).max(300),
});

export const dimensionSchema = z.object({ name: z.string().min(1).max(40), expr: value, note: z.string().max(200).optional() });

/** A step is data; its kind's own schema (recipe/steps) says what `inputs` and `values` hold. */
export const stepSchema = z.object({
  id,
  kind: z.string().max(40),
  inputs: z.record(z.string(), z.unknown()),
  values: z.record(z.string(), value),
  enabled: z.boolean(),
  note: z.string().max(500).optional(),
});

export const bodySchema = z.object({
  name,
  colour: z
    .string()
    .regex(/^#[0-9a-f]{6}$/i)
    .optional(),
  material: z.string().max(40).optional(),
});

/** `auto` has the gauge measured without a target. */
export const targetSchema = z.object({
  gauge: z.string().max(40),
  min: value.optional(),
  max: value.optional(),
});

export const briefSchema = z.object({
  purpose: z.string().max(2000),
  process: z.enum(['print', 'mould', 'mill', 'turn', 'cast']),
  material: z.string().max(40),
  uses: z.array(z.string().max(40)).max(20),
  fillBelowBrim: value,
  targets: z.array(targetSchema).max(60),
});

export const projectSchema = z.object({
  format: z.literal(FORMAT),
  version: z.literal(VERSION),
  name,
  client: z.string().max(80),
  units: z.enum(['mm', 'in']),
  brief: briefSchema,
  dimensions: z.array(dimensionSchema).max(300),
  profiles: z.array(profileSchema).max(100),
  steps: z.array(stepSchema).max(300),
  /** Steps after this one wait; null means the end. */
  marker: id.nullable(),
  bodies: z.record(id, bodySchema),
});

export type Project = z.infer<typeof projectSchema>;
export type Profile = z.infer<typeof profileSchema>;
export type ProfileCurve = z.infer<typeof curveSchema>;
export type Handle = z.infer<typeof handleSchema>;
export type Step = z.infer<typeof stepSchema>;
export type Brief = z.infer<typeof briefSchema>;
export type Target = z.infer<typeof targetSchema>;
