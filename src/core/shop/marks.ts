/** What a sheet consists of, in mm of paper from its lower left corner. */
import type { PlanarCurve, Point2 } from '../curves/planar';

export type Pen = 'visible' | 'smooth' | 'hidden' | 'hatch' | 'dimension' | 'centre' | 'plane' | 'frame' | 'thin';

/** Widths and dashes, mm. Source: ISO 128-2, wide lines twice as wide as narrow ones, from memory. */
export const PENS: Readonly<Record<Pen, { readonly width: number; readonly dash?: readonly number[] }>> = {
  visible: { width: 0.5 },
  smooth: { width: 0.18 },
  hidden: { width: 0.25, dash: [2.4, 1] },
  hatch: { width: 0.13 },
  dimension: { width: 0.18 },
  centre: { width: 0.18, dash: [6, 1.2, 0.6, 1.2] },
  plane: { width: 0.35, dash: [6, 1.2, 0.6, 1.2] },
  frame: { width: 0.7 },
  thin: { width: 0.25 },
};

export type Mark =
  | { readonly kind: 'curve'; readonly curve: PlanarCurve; readonly pen: Pen }
  | {
      readonly kind: 'text';
      readonly text: string;
      /** Of its baseline. */
      readonly at: Point2;
      /** Height of its letters' body, mm. */
      readonly size: number;
      readonly anchor: 'start' | 'middle' | 'end';
      /** Counter-clockwise, rad. */
      readonly turn?: number;
      readonly bold?: true;
    }
  | { readonly kind: 'fill'; readonly points: readonly Point2[] };

export const lineMark = (a: Point2, b: Point2, pen: Pen): Mark => ({ kind: 'curve', curve: { kind: 'line', a, b }, pen });

/** About how wide a text is, mm: figures and letters of the fonts used are 0.55 of their size in the mean. */
export const widthOf = (text: string, size: number): number => 0.56 * size * text.length;

/** The head of an arrow that points along a direction and ends at a place. */
export function arrow(tip: Point2, way: Point2, size = 2.6): Mark {
  const back = { x: tip.x - size * way.x, y: tip.y - size * way.y };
  const half = size * 0.17;
  return {
    kind: 'fill',
    points: [tip, { x: back.x - half * way.y, y: back.y + half * way.x }, { x: back.x + half * way.y, y: back.y - half * way.x }],
  };
}
