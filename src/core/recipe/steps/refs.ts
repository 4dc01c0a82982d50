/** What steps pick: faces, edges, lines and places, as the document holds them. */
import { z } from 'zod';

const id = z.string().max(40);
export const faceRefSchema = z.union([z.object({ face: z.string().max(600) }), z.object({ topOf: id }), z.object({ bottomOf: id })]);
export const edgeRefSchema = z.union([
  z.object({ edge: z.string().max(1200) }),
  z.object({ between: z.tuple([id, id]) }),
  z.object({ alike: z.string().max(1200) }),
]);
export const idSchema = id;

const expression = z.string().max(200);
export const expressionSchema = expression;
/** A face of a body. */
export const bodyFaceSchema = z.object({ body: id, face: z.string().max(600) });
/** A line or curve in space: an edge of a body, or a curve of a profile where its plane puts it. */
export const pathRefSchema = z.union([
  z.object({ body: id, edge: z.string().max(1200) }),
  z.object({ profile: id, curve: id }),
  z.object({ step: id }),
]);
/** A place in space: typed, the lower end, middle or upper end of an edge, or a point of a profile. */
export const placeRefSchema = z.union([
  z.object({ at: z.tuple([expression, expression, expression]) }),
  z.object({ body: id, edge: z.string().max(1200), end: z.enum(['low', 'middle', 'high']) }),
  z.object({ profile: id, point: id }),
]);
export type BodyFace = z.infer<typeof bodyFaceSchema>;
export type PathRef = z.infer<typeof pathRefSchema>;
export type PlaceRef = z.infer<typeof placeRefSchema>;
/** A section of a skin: a drawing, the border of a flat face, a place it comes to a point at, or an edge or a curve. */
export const sectionRefSchema = z.union([id, bodyFaceSchema, placeRefSchema, pathRefSchema]);
export type SectionRef = string | BodyFace | PlaceRef | PathRef;
/** Anything a plane may be placed by. */
export type Pick = BodyFace | PathRef | PlaceRef;
