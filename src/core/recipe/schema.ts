/**
 * The document: one project, one JSON file `*.lathe.json`. These schemas are the single definition; types
 * are inferred from them. Values are stored as typed (expression text with units), never as numbers derived.
 */
import { z } from 'zod';
import type { BSpline } from '../curves/bspline';
import { madeSchema } from '../made/document';
import { shopSchema } from '../shop/document';

z.config({ jitless: true });

export const FORMAT = 'ivory-lathe';
export const VERSION = 8;

const id = z.string().regex(/^[a-zA-Z][\w-]{0,39}$/, 'an id is a letter followed by letters, digits, - or _');
const value = z.string().max(200);
/** Letters a name of a project, body or drawing has at most. */
export const MOST_NAME = 80;
const name = z.string().min(1).max(MOST_NAME);

/** A coordinate as it was last drawn or solved, mm (or plain, for handles): where the solver starts from. */
const drawn = z.number().min(-1e5).max(1e5);

/** `reference` keeps a point that no curve uses. */
const pointSchema = z.object({ id, x: drawn, y: drawn, reference: z.literal(true).optional() });

/** A spline's direction (degrees) and strength at one of its points. At an end the angle points into the curve; 0° = to the right, 90° = up. */
const handleSchema = z.object({ angle: z.number().min(-720).max(720), weight: z.number().positive().max(10) });

const curveBase = { id, name: z.string().max(40).optional(), construction: z.literal(true).optional() };
const ends = { from: id, to: id };
const curveSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('line'), ...curveBase, ...ends }),
  /** Runs from one end to the other about its centre, counter-clockwise where `ccw`. */
  z.object({ kind: z.literal('arc'), ...curveBase, ...ends, centre: id, ccw: z.boolean() }),
  z.object({ kind: z.literal('circle'), ...curveBase, centre: id, radius: drawn.positive() }),
  /** `major` ends the first half-axis, `minor` is the length of the other; without ends it is whole. */
  z.object({
    kind: z.literal('ellipse'),
    ...curveBase,
    centre: id,
    major: id,
    minor: drawn.positive(),
    arc: z.object({ ...ends, ccw: z.boolean() }).optional(),
  }),
  z.object({
    kind: z.literal('spline'),
    ...curveBase,
    ...ends,
    through: z.array(id).max(200),
    start: handleSchema.optional(),
    end: handleSchema.optional(),
    /** Handles at points it runs through, by point. */
    at: z.record(id, handleSchema).optional(),
  }),
  /** B-spline by its control points on a clamped uniform knot vector. */
  z.object({
    kind: z.literal('control'),
    ...curveBase,
    points: z.array(id).min(2).max(100),
    degree: z.number().int().min(1).max(7),
  }),
  /** Outlines or strokes of a text in a shipped font, its baseline starting at a point, or leading along a line of the drawing from the place nearest to it. */
  z.object({
    kind: z.literal('text'),
    ...curveBase,
    point: id,
    text: z.string().min(1).max(60),
    height: value,
    angle: value,
    /** Without one the plain one. */
    font: z.enum(['serif', 'mono', 'strokes']).optional(),
    /** Between letters, over what the font has. */
    apart: value.optional(),
    /** What of it lies at the point; without it its beginning. */
    align: z.enum(['middle', 'end']).optional(),
    along: z
      .object({
        curve: id,
        /** Read from the other side of the line, which it then runs along backwards. */
        other: z.literal(true).optional(),
        /** Of the baseline over the line. */
        lift: value,
      })
      .optional(),
  }),
]);

/** A point: an id, or `origin`. A line: a curve's id, or `axis` (x = 0), or `level` (y = 0). */
const ref = id;
const dimension = {
  value,
  driving: z.boolean(),
  /** Where its words stand on the board, mm from the thing it measures. */
  label: z.object({ x: drawn, y: drawn }).optional(),
};
const relation = { id };
const spot = z.union([z.enum(['start', 'end']), id]);
const constraintSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('coincident'), ...relation, a: ref, b: ref }),
  z.object({ kind: z.literal('on-curve'), ...relation, point: ref, curve: ref }),
  z.object({ kind: z.literal('midpoint'), ...relation, point: ref, curve: ref }),
  z.object({ kind: z.literal('horizontal'), ...relation, a: ref, b: ref }),
  z.object({ kind: z.literal('vertical'), ...relation, a: ref, b: ref }),
  z.object({ kind: z.literal('parallel'), ...relation, a: ref, b: ref }),
  z.object({ kind: z.literal('perpendicular'), ...relation, a: ref, b: ref }),
  z.object({ kind: z.literal('collinear'), ...relation, a: ref, b: ref }),
  z.object({ kind: z.literal('tangent'), ...relation, a: ref, b: ref }),
  z.object({ kind: z.literal('smooth'), ...relation, a: ref, b: ref }),
  z.object({ kind: z.literal('equal'), ...relation, a: ref, b: ref }),
  z.object({ kind: z.literal('concentric'), ...relation, a: ref, b: ref }),
  z.object({ kind: z.literal('symmetric'), ...relation, a: ref, b: ref, line: ref }),
  z.object({ kind: z.literal('fixed'), ...relation, point: ref }),
  /** Between two points, a point and a line, or two lines; along the join, or only across or up. */
  z.object({
    kind: z.literal('distance'),
    ...relation,
    ...dimension,
    a: ref,
    b: ref,
    direction: z.enum(['aligned', 'horizontal', 'vertical']),
  }),
  z.object({ kind: z.literal('radius'), ...relation, ...dimension, curve: ref }),
  z.object({ kind: z.literal('diameter'), ...relation, ...dimension, curve: ref }),
  /** Diameter of the turned body at a point: twice its distance from the axis. */
  z.object({ kind: z.literal('across'), ...relation, ...dimension, point: ref }),
  /** Between two lines as rays; `reverse` measures from the second one's other end. */
  z.object({ kind: z.literal('angle'), ...relation, ...dimension, a: ref, b: ref, reverse: z.literal(true).optional() }),
  z.object({ kind: z.literal('arc-length'), ...relation, ...dimension, curve: ref }),
  z.object({ kind: z.literal('offset'), ...relation, ...dimension, a: ref, b: ref }),
  z.object({ kind: z.literal('direction'), ...relation, ...dimension, curve: ref, at: spot }),
  z.object({ kind: z.literal('weight'), ...relation, ...dimension, curve: ref, at: spot }),
]);

const copies = { id, of: z.array(id).min(1).max(100) };
/** Geometry that follows other curves of the profile: it is worked out anew, never solved for. */
const derivedSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('offset'),
    ...copies,
    distance: value,
    side: z.enum(['left', 'right', 'both']),
    ends: z.enum(['open', 'closed']),
  }),
  z.object({ kind: z.literal('mirror'), ...copies, line: ref }),
  /** The count includes the original. `fit` works out how many the length holds with a gap between them, and leaves `count` aside. */
  z.object({
    kind: z.literal('linear'),
    ...copies,
    angle: value,
    count: value,
    by: z.enum(['spacing', 'extent', 'fit']),
    length: value,
    margin: value,
    gap: value,
  }),
  z.object({ kind: z.literal('circular'), ...copies, centre: ref, count: value, by: z.enum(['spacing', 'extent']), angle: value }),
]);

/** A photo or sketch under the drawing: lower left corner and width in mm. */
const pictureSchema = z.object({
  data: z
    .string()
    .max(2_000_000)
    .regex(/^data:image\/(png|jpeg|webp);base64,[A-Za-z0-9+/=]+$/, 'a picture is PNG, JPEG or WebP'),
  /** Height by width. */
  ratio: z.number().positive().max(100),
  x: drawn,
  y: drawn,
  width: drawn.positive(),
  /** 0 hides it, 1 shows it in full. */
  strength: z.number().min(0).max(1),
  locked: z.boolean(),
});

/** `front`, `side` or `level` through the origin, or the step that places a plane. */
export const planeRefSchema = id;

/**
 * Curves that follow a body as it stands before the first step that uses the profile: its edges dropped onto the plane, its outline seen
 * square to the plane, or where the plane cuts it. What they look like is never stored.
 */
const projectionSchema = z.object({
  id,
  body: id,
  what: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('edges'), edges: z.array(z.string().max(1200)).min(1).max(100) }),
    z.object({ kind: z.literal('outline') }),
    z.object({ kind: z.literal('section') }),
  ]),
  /** Part of the outline that is built from; otherwise construction. */
  outline: z.boolean(),
});

/** A drawing on a plane; where `half`, half of a turned body beside the axis: x is the radius, y the height along it. */
const profileSchema = z.object({
  id,
  name,
  plane: planeRefSchema,
  half: z.boolean(),
  projections: z.array(projectionSchema).max(30),
  points: z.array(pointSchema).max(800),
  curves: z.array(curveSchema).max(400),
  constraints: z.array(constraintSchema).max(1500),
  derived: z.array(derivedSchema).max(50),
  picture: pictureSchema.optional(),
  /** Drawings of one link are one drawing on several planes. */
  link: id.optional(),
});

const dimensionSchema = z.object({ name: z.string().min(1).max(40), expr: value, note: z.string().max(200).optional() });

/** A step is data; its kind's own schema (recipe/steps) says what `inputs` and `values` hold. */
const stepSchema = z.object({
  id,
  kind: z.string().max(40),
  inputs: z.record(z.string(), z.unknown()),
  values: z.record(z.string(), value),
  enabled: z.boolean(),
  note: z.string().max(500).optional(),
  /** Neighbours with the same one are shown together under it. */
  group: z.string().min(1).max(60).optional(),
});

const bodySchema = z.object({
  name,
  colour: z
    .string()
    .regex(/^#[0-9a-f]{6}$/i)
    .optional(),
  material: z.string().max(40).optional(),
  hidden: z.literal(true).optional(),
  /** How it lies on a printer's bed: which way of it is down, and how far its longer side is turned from along the bed's, rad. */
  lie: z.object({ down: z.tuple([z.number(), z.number(), z.number()]).readonly(), turn: z.number() }).optional(),
});

/** `auto` has the gauge measured without a target. */
const targetSchema = z.object({
  gauge: z.string().max(40),
  min: value.optional(),
  max: value.optional(),
});

const briefSchema = z.object({
  purpose: z.string().max(2000),
  process: z.enum(['print', 'mould', 'mill', 'turn', 'cast']),
  material: z.string().max(40),
  uses: z.array(z.string().max(40)).max(20),
  fillBelowBrim: value,
  targets: z.array(targetSchema).max(60),
});

const namedOn = { body: id, face: z.string().max(600) };
/** What is measured from or to: a face, a place on one, an edge, or the lower end, middle or upper end of an edge. */
const measuredThingSchema = z.union([
  z.object({ ...namedOn, at: z.tuple([drawn, drawn, drawn]) }),
  z.object(namedOn),
  z.object({ body: id, edge: z.string().max(1200), end: z.enum(['low', 'middle', 'high']) }),
  z.object({ body: id, edge: z.string().max(1200) }),
]);
/** One thing by itself, or the way from it to another. */
const measurementSchema = z.object({ id, a: measuredThingSchema, b: measuredThingSchema.optional() });

/** The same thing in several sizes: what each sets some dimensions to; nothing typed leaves them as they are on the sheet. */
const sizesSchema = z.object({
  dimensions: z.array(z.string().max(40)).max(20),
  rows: z.array(z.object({ id, name, values: z.array(value).max(20) })).max(60),
});

/** Letters that a kept state is called by, at most. */
export const MOST_WORDS = 120;

/** A state of the sheet that is kept: the newest whole, the others as changes that lead back from the next. */
const keptSchema = z.object({
  id,
  name: z.string().max(MOST_WORDS),
  /** When, ISO 8601. */
  at: z.string().max(40),
  by: z.enum(['hand', 'export', 'return']),
  /** Gauges as they stood, in their own units. */
  readings: z.record(z.string().max(40), z.number()),
  state: z.unknown().optional(),
  back: z.array(z.unknown()).optional(),
});
export type KeptState = z.infer<typeof keptSchema>;

/** A step that was taken away after it had failed. */
const givenUpSchema = z.object({
  /** When, ISO 8601. */
  at: z.string().max(40),
  step: z.string().max(300),
  kind: z.string().max(40),
  tries: z.array(z.object({ with: z.string().max(600), why: z.string().max(1200) })).max(20),
});
export type GivenUpStep = z.infer<typeof givenUpSchema>;

/** A note of the log. */
const noteSchema = z.object({ id, at: z.string().max(40), text: z.string().min(1).max(2000) });
export type LogNote = z.infer<typeof noteSchema>;

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
  sizes: sizesSchema.optional(),
  /** What was measured on the bodies and is to stay. */
  measures: z.array(measurementSchema).max(100).optional(),
  /** Brought in from files: solids by the kernel's text of each, or the facets of a scan; packed. */
  imports: z
    .record(id, z.object({ name, solids: z.array(z.string().max(4_000_000)).max(50), scan: z.string().max(4_000_000).optional() }))
    .optional(),
  /** The working drawing. */
  shop: shopSchema.optional(),
  /** Parts that were made of it, and what they measured. */
  made: madeSchema.optional(),
  kept: z.array(keptSchema).max(600).optional(),
  givenUp: z.array(givenUpSchema).max(300).optional(),
  notes: z.array(noteSchema).max(1000).optional(),
});

export type Project = Omit<z.infer<typeof projectSchema>, 'profiles'> & { profiles: Profile[] };
export type Profile = Omit<z.infer<typeof profileSchema>, 'curves'> & {
  readonly curves: readonly ProfileCurve[];
  /** Points and curves put in by `withFollowed`, which follow bodies and can't be moved here. A stored profile has none. */
  readonly followed?: ReadonlySet<string>;
};
export type ProfileCurve = z.infer<typeof curveSchema> | StillCurve;
export type Projection = z.infer<typeof projectionSchema>;

/** A spline that follows a body: its shape is given. It never reaches a file. */
interface StillCurve {
  readonly kind: 'still';
  readonly id: string;
  readonly name?: string;
  readonly construction?: true;
  readonly from: string;
  readonly to: string;
  readonly spline: BSpline;
}
export type ProfilePoint = z.infer<typeof pointSchema>;
export type Handle = z.infer<typeof handleSchema>;
export type Constraint = z.infer<typeof constraintSchema>;
export type Derived = z.infer<typeof derivedSchema>;
export type Picture = z.infer<typeof pictureSchema>;
export type Step = z.infer<typeof stepSchema>;
export type MeasuredThing = z.infer<typeof measuredThingSchema>;
export type Measurement = z.infer<typeof measurementSchema>;
export type Brief = z.infer<typeof briefSchema>;
export type Sizes = z.infer<typeof sizesSchema>;
export type Size = Sizes['rows'][number];
export type Target = z.infer<typeof targetSchema>;
