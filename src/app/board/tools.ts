import type { Point2 } from '../../core/curves/planar';
import type { DrawTool } from '../../core/profile/shapes';
import { pointsOf } from '../../core/profile/solver/terms';
import type { Profile } from '../../core/recipe/schema';

/** Something on the board that can be chosen: a point, a curve, a line of the frame, a constraint, derived geometry. */
export interface Picked {
  readonly kind: 'point' | 'curve' | 'frame' | 'constraint' | 'derived';
  readonly id: string;
  /** Of what makes several curves: the one that was met. */
  readonly curve?: string;
}

/**
 * The line that what is chosen is mirrored about: of the frame's lines the one chosen last, or a line chosen last of all that does not run on from the
 * rest, as a side of the outline does; else the axis.
 */
export function mirrorLineOf(profile: Profile, picked: readonly Picked[]): string {
  const frame = picked.findLast((p) => p.kind === 'frame' && p.id !== 'origin');
  if (frame) return frame.id;
  const curves = picked.flatMap((p) => profile.curves.filter((c) => p.kind === 'curve' && c.id === p.id));
  const last = curves.at(-1);
  if (last?.kind !== 'line') return 'axis';
  const ends = new Set(curves.slice(0, -1).flatMap(pointsOf));
  return last.construction || !(ends.has(last.from) || ends.has(last.to)) ? last.id : 'axis';
}

/** Tools that alter what is pointed at. */
export type AlterTool = 'divide' | 'trim' | 'extend' | 'break' | 'round' | 'cut';
/** Two places on the reference picture, whose distance is known. */
export type Tool = 'select' | DrawTool | AlterTool | 'scale-picture';

export interface View {
  /** mm at the middle of the board */
  readonly x: number;
  readonly y: number;
  /** pixels per mm */
  readonly k: number;
}
export type Drag =
  | { readonly kind: 'points'; readonly ids: readonly string[]; readonly at: Point2 }
  | { readonly kind: 'radius'; readonly curve: string; readonly centre: Point2 }
  | { readonly kind: 'handle'; readonly curve: string; readonly end: string }
  | { readonly kind: 'label'; readonly id: string; readonly at: Point2 }
  | { readonly kind: 'picture'; readonly at: Point2 }
  | { readonly kind: 'pan'; readonly from: Point2; readonly view: View };

export interface ToolInfo {
  readonly tool: Tool;
  readonly words: string;
  readonly hint: string;
}

export const DRAW: readonly (readonly ToolInfo[])[] = [
  [
    { tool: 'line', words: 'Line, polyline', hint: 'place after place, Esc ends' },
    { tool: 'rectangle', words: 'Rectangle by corners', hint: 'two opposite corners' },
    { tool: 'centre-rectangle', words: 'Rectangle about a centre', hint: 'the centre, then a corner' },
    { tool: 'polygon', words: 'Regular polygon', hint: 'the centre, then a corner' },
    { tool: 'slot', words: 'Slot', hint: 'both centres, then the half width' },
  ],
  [
    { tool: 'arc', words: 'Arc through three points', hint: 'both ends, then a place it runs through' },
    { tool: 'centre-arc', words: 'Arc about a centre', hint: 'centre, start, towards the end' },
    { tool: 'tangent-arc', words: 'Arc going on without a corner', hint: 'the end of a curve, then where to' },
    { tool: 'circle', words: 'Circle', hint: 'the centre, then a place on it' },
    { tool: 'ellipse', words: 'Ellipse', hint: 'centre, one half-axis, the other’s reach' },
    { tool: 'ellipse-arc', words: 'Elliptical arc', hint: 'centre, half-axis, reach, start, end' },
  ],
  [
    { tool: 'spline', words: 'Spline through points', hint: 'places; Enter or the last one again ends' },
    { tool: 'control', words: 'Spline by control points', hint: 'places; Enter or the last one again ends' },
    { tool: 'text', words: 'Text outline', hint: 'where its baseline starts' },
    { tool: 'point', words: 'Point of reference', hint: 'anywhere' },
  ],
];

export const ALTER: readonly ToolInfo[] = [
  { tool: 'divide', words: 'Put a point on a curve', hint: 'click on a curve' },
  { tool: 'trim', words: 'Trim', hint: 'click the stretch that goes' },
  { tool: 'extend', words: 'Extend', hint: 'click near the end that runs on' },
  { tool: 'break', words: 'Break at crossings', hint: 'click on a curve' },
  { tool: 'round', words: 'Round a corner', hint: 'click the corner point' },
  { tool: 'cut', words: 'Cut a corner', hint: 'click the corner point' },
];

const SELECT: ToolInfo = { tool: 'select', words: 'Move', hint: 'drag points, curves and handles' };
const SCALE: ToolInfo = { tool: 'scale-picture', words: 'Scale the picture', hint: 'two places on it whose distance you know' };
export const toolInfo = (tool: Tool): ToolInfo => [...DRAW.flat(), ...ALTER, SCALE].find((t) => t.tool === tool) ?? SELECT;

const ALTERS: ReadonlySet<string> = new Set(ALTER.map((t) => t.tool));
export const isAlter = (tool: Tool): tool is AlterTool => ALTERS.has(tool);
export const isDraw = (tool: Tool): tool is DrawTool => tool !== 'select' && tool !== 'scale-picture' && !isAlter(tool);

/** Grid steps offered, mm. */
export const GRIDS = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100];
