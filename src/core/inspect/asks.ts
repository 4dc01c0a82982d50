/** What can be asked of a body on the inspection page. */
import type { FitObject } from './fit';
import type { WallMethod } from './walls';

export type Axis = 'x' | 'y' | 'z';
export const AXES: Readonly<Record<Axis, readonly [number, number, number]>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };
/** Lights in rows mirrored in the skin, places that face alike, or a room with a horizon. */
export type ReflectionKind = 'stripes' | 'isophotes' | 'room';
export type CurvatureShown = 'gaussian' | 'mean' | 'largest' | 'smallest';

export type Ask =
  | { readonly what: 'walls'; readonly method: WallMethod; readonly limit: number | null }
  | { readonly what: 'sections'; readonly axis: Axis; readonly rows: number }
  | { readonly what: 'curvature'; readonly show: CurvatureShown }
  | { readonly what: 'joins' }
  | {
      readonly what: 'reflection';
      readonly as: ReflectionKind;
      readonly toward: Axis;
      readonly count: number;
      /** 0 for hard borders of the stripes, 1 for soft ones. */
      readonly blend: number;
    }
  /** Angles in rad. */
  | { readonly what: 'draft'; readonly axis: Axis; readonly sign: 1 | -1; readonly parts: 1 | 2; readonly limit: number }
  | { readonly what: 'overhang'; readonly limit: number }
  /** Volume asked for, mm³; null for none. */
  | { readonly what: 'holds'; readonly wanted: number | null; readonly object: FitObject | null };

const DEGREE = Math.PI / 180;
/** How each question is asked at first; the limits are common practice, no source. @param limit least wall of the brief, mm */
export const standardAsks = (limit: number | null) =>
  ({
    walls: { what: 'walls', method: 'ball', limit },
    sections: { what: 'sections', axis: 'z', rows: 81 },
    curvature: { what: 'curvature', show: 'largest' },
    joins: { what: 'joins' },
    reflection: { what: 'reflection', as: 'stripes', toward: 'x', count: 14, blend: 0.15 },
    draft: { what: 'draft', axis: 'z', sign: 1, parts: 1, limit: 1 * DEGREE },
    overhang: { what: 'overhang', limit: 45 * DEGREE },
    holds: { what: 'holds', wanted: null, object: null },
  }) satisfies { readonly [W in Ask['what']]: Extract<Ask, { what: W }> };
