import type { FontName } from '../../core/profile/text';
import type { TextCurve } from '../../core/profile/typed';

export const FONT_WORDS: Readonly<Record<FontName, string>> = {
  sans: 'plain',
  serif: 'with serifs',
  mono: 'even widths',
  strokes: 'single strokes',
};

/** How a font stands in the document: the plain one not at all. */
export const fontOf = (font: FontName): Pick<TextCurve, 'font'> => (font === 'sans' ? {} : { font });
