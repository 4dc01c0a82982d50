/** Ways a body is looked at for a drawing, and where they stand to each other on the sheet. */
import type { Frame } from '../curves/frame';

/** z runs up and the front is seen from −y, as on the bench. */
export const SIDES = ['front', 'back', 'left', 'right', 'top', 'bottom', 'corner'] as const;
export type ViewSide = (typeof SIDES)[number];

const r2 = Math.SQRT1_2;
const r6 = 1 / Math.sqrt(6);

/** Across and up of each, about the origin: their normal points to the eye. */
export const VIEW_FRAMES: Readonly<Record<ViewSide, Frame>> = {
  front: { origin: [0, 0, 0], x: [1, 0, 0], y: [0, 0, 1] },
  back: { origin: [0, 0, 0], x: [-1, 0, 0], y: [0, 0, 1] },
  left: { origin: [0, 0, 0], x: [0, -1, 0], y: [0, 0, 1] },
  right: { origin: [0, 0, 0], x: [0, 1, 0], y: [0, 0, 1] },
  top: { origin: [0, 0, 0], x: [1, 0, 0], y: [0, 1, 0] },
  bottom: { origin: [0, 0, 0], x: [1, 0, 0], y: [0, -1, 0] },
  // All three axes are as long as each other (isometric).
  corner: { origin: [0, 0, 0], x: [r2, r2, 0], y: [-r6, r6, 2 * r6] },
};

export const SIDE_WORDS: Readonly<Record<ViewSide, string>> = {
  front: 'Front',
  back: 'Back',
  left: 'Left side',
  right: 'Right side',
  top: 'From above',
  bottom: 'From below',
  corner: 'From a corner',
};

/** Which of the sides a section is seen from, by what it is cut square to. */
export const CUT_SIDES = ['front', 'right', 'top'] as const;
export type CutSide = (typeof CUT_SIDES)[number];
export const CUT_WORDS: Readonly<Record<CutSide, string>> = {
  front: 'upright, seen from the front',
  right: 'upright, seen from the right',
  top: 'level, seen from above',
};

/** Where views lie about the front one: the first-angle way puts what is seen from above beneath it, the third-angle way above it. */
export type Projection = 'first' | 'third';
/** Column and row about the front view, to the right and up. Source: ISO 5456-2, from memory. */
export function cellOf(side: ViewSide, projection: Projection): readonly [number, number] {
  const s = projection === 'third' ? 1 : -1;
  switch (side) {
    case 'front':
      return [0, 0];
    case 'top':
      return [0, s];
    case 'bottom':
      return [0, -s];
    case 'right':
      return [s, 0];
    case 'left':
      return [-s, 0];
    case 'back':
      // Beside the left view of the first-angle way, beside the right one of the other: to the right in both.
      return [2, 0];
    case 'corner':
      return [s, s];
  }
}
