/** A working drawing as it is kept in the document: paper, views, dimensions and words; nothing of what they look like. */
import { z } from 'zod';
import { PAPERS, type Paper, SCALES, TOLERANCES } from './paper';
import { SIDES } from './views';

const id = z.string().regex(/^[a-zA-Z][\w-]{0,39}$/);
const shift = z.object({ x: z.number().min(-2000).max(2000), y: z.number().min(-2000).max(2000) });
const edge = { body: id, edge: z.string().max(1200) };

/** A place on an edge: its lower end, middle or upper end, or the middle of the circle it lies on. */
const EDGE_PLACES = ['low', 'middle', 'high', 'centre'] as const;
const placeSchema = z.object({ ...edge, at: z.enum(EDGE_PLACES) });
const edgeSchema = z.object(edge);

const viewSchema = z.object({
  id,
  side: z.enum(SIDES),
  /** Cut there: how far along the line of sight the plane lies over the origin, as typed. */
  cut: z.string().max(200).optional(),
  hidden: z.boolean(),
  smooth: z.boolean(),
  /** Where it was moved to, from where it would stand, mm of paper. */
  moved: shift.optional(),
});

const base = { id, view: id, label: shift.optional() };
const dimensionSchema = z.discriminatedUnion('kind', [
  /** A driving dimension of a profile. */
  z.object({ kind: z.literal('drawn'), ...base, profile: id, constraint: id }),
  /** A value of a step that stands somewhere. */
  z.object({ kind: z.literal('value'), ...base, step: id, value: z.string().max(40) }),
  z.object({ kind: z.literal('between'), ...base, a: placeSchema, b: placeSchema, way: z.enum(['across', 'up', 'straight']) }),
  z.object({ kind: z.literal('round'), ...base, of: edgeSchema, as: z.enum(['diameter', 'radius']) }),
  z.object({ kind: z.literal('angle'), ...base, a: edgeSchema, b: edgeSchema }),
  /** From end to end of the view. */
  z.object({ kind: z.literal('overall'), ...base, way: z.enum(['across', 'up']) }),
]);

const words = z.string().max(80);
export const shopSchema = z.object({
  paper: z.enum(Object.keys(PAPERS) as [Paper, ...Paper[]]),
  upright: z.boolean(),
  projection: z.enum(['first', 'third']),
  /** The largest that fits where left out. */
  scale: z.enum(SCALES).optional(),
  tolerance: z.enum(TOLERANCES).optional(),
  /** The tolerance is written at each dimension. */
  limits: z.boolean(),
  views: z.array(viewSchema).max(12),
  dimensions: z.array(dimensionSchema).max(200),
  notes: z.string().max(2000),
  /** What the recipe tells of walls and holes, and the cautions of what it is for, are written too. */
  told: z.boolean(),
  title: z.object({ number: words, by: words, date: words, finish: words }),
});
export type Shop = z.infer<typeof shopSchema>;
export type ShopView = Shop['views'][number];
export type ShopDimension = Shop['dimensions'][number];
export type EdgePlace = z.infer<typeof placeSchema>;
type WithoutId<T> = T extends unknown ? Omit<T, 'id'> : never;
export type NewDimension = WithoutId<ShopDimension>;

/** A drawing to begin with: three views in a row and one from a corner. Where inches are read, views stand the third-angle way on paper in inches. */
export function emptyShop(units: 'mm' | 'in', date: string): Shop {
  const sides = ['front', 'top', 'right', 'corner'] as const;
  return {
    paper: units === 'in' ? 'tabloid' : 'a3',
    upright: false,
    projection: units === 'in' ? 'third' : 'first',
    limits: false,
    ...(units === 'in' ? {} : { tolerance: 'm' }),
    views: sides.map((side, i) => ({ id: `v${i + 1}`, side, hidden: side !== 'corner', smooth: false })),
    dimensions: [],
    notes: '',
    told: true,
    title: { number: '', by: '', date, finish: '' },
  };
}

/** Letters of the sections, in order: A, B, C … */
export const sectionLetters = (shop: Shop): ReadonlyMap<string, string> =>
  new Map(shop.views.filter((v) => v.cut !== undefined).map((v, i) => [v.id, String.fromCharCode(65 + i)]));
