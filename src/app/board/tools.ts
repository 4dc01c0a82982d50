import type { Point2 } from '../../core/curves/planar';

export type Picked = { readonly kind: 'point' | 'curve'; readonly id: string } | null;
export type Tool = 'select' | 'line' | 'arc' | 'spline' | 'point';
export interface View {
  /** mm at the middle of the board */
  readonly x: number;
  readonly y: number;
  /** pixels per mm */
  readonly k: number;
}
export type Drag =
  | { readonly kind: 'point'; readonly id: string }
  | { readonly kind: 'handle'; readonly curve: string; readonly end: 'start' | 'end' }
  | { readonly kind: 'pan'; readonly from: Point2; readonly view: View };

export const TOOLS: readonly (readonly [Tool, string, string])[] = [
  ['select', 'Move', 'drag points and handles'],
  ['line', 'Line', 'click from point to point, Esc ends'],
  ['arc', 'Arc', 'click both ends, then a place it runs through'],
  ['spline', 'Spline', 'click points, Enter or a click on the last one ends'],
  ['point', 'Add point', 'click on a curve'],
];

/** Grid steps offered, mm. */
export const GRIDS = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100];
