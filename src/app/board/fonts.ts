import type { FontName } from '../../core/profile/typed';

export const FONT_WORDS: Readonly<Record<FontName, string>> = {
  sans: 'plain',
  serif: 'with serifs',
  mono: 'even widths',
  strokes: 'single strokes',
};
