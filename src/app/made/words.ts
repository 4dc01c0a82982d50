import type { Way } from '../../core/made/document';

export const WAY_WORDS: Readonly<Record<Way, string>> = {
  x: 'left to right',
  y: 'front to back',
  z: 'upwards',
  flat: 'across, any way',
  other: 'no one way',
};
