/** What is typed in a text of a drawing. */
import type { ProfileCurve } from '../recipe/schema';

export type TextCurve = Extract<ProfileCurve, { kind: 'text' }>;

export type FontName = 'sans' | NonNullable<TextCurve['font']>;

/** How a font stands in the document: the plain one not at all. */
export const fontOf = (font: FontName): Pick<TextCurve, 'font'> => (font === 'sans' ? {} : { font });

/** Every expression of a text. */
export const typedOf = (c: TextCurve): string[] => [
  c.height,
  c.angle,
  ...(c.apart === undefined ? [] : [c.apart]),
  ...(c.along ? [c.along.lift] : []),
];
/** A text whose expressions are rewritten. */
export const withTypedOf = (c: TextCurve, f: (typed: string) => string): TextCurve => ({
  ...c,
  height: f(c.height),
  angle: f(c.angle),
  ...(c.apart === undefined ? {} : { apart: f(c.apart) }),
  ...(c.along ? { along: { ...c.along, lift: f(c.along.lift) } } : {}),
});
