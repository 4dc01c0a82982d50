/** What can be asked of a body on the inspection page. */
import type { Measurement } from '../recipe/schema';
import type { FitObject } from './fit';
import type { WallMethod } from './walls';

export type Axis = 'x' | 'y' | 'z';
export const AXES: Readonly<Record<Axis, readonly [number, number, number]>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };
/** Lights in rows mirrored in the skin, places that face alike, or a room with a horizon. */
type ReflectionKind = 'stripes' | 'isophotes' | 'room';
export type CurvatureShown = 'gaussian' | 'mean' | 'largest' | 'smallest';

/** The way planes are moved: along an axis, along a leaning direction, or along a curve in space. */
export type Way =
  | { readonly by: 'axis'; readonly axis: Axis }
  /** Angles in rad: how far the direction leans from upright, and which way, from the right to the back. */
  | { readonly by: 'slant'; readonly lean: number; readonly turn: number }
  /** The curve by its name in the project, and its places, three coordinates each, mm. */
  | { readonly by: 'path'; readonly path: string; readonly line: readonly number[] };

/** Unit direction of a way that has one. */
export function directionOf(way: Exclude<Way, { by: 'path' }>): readonly [number, number, number] {
  if (way.by === 'axis') return AXES[way.axis];
  const across = Math.sin(way.lean);
  return [across * Math.cos(way.turn), across * Math.sin(way.turn), Math.cos(way.lean)];
}

/** Curves whose curvature is drawn as a comb. */
type CombCurves = 'edges' | 'section' | 'iso';

export type Ask =
  | { readonly what: 'walls'; readonly method: WallMethod; readonly limit: number | null }
  | { readonly what: 'sections'; readonly way: Way; readonly rows: number }
  | { readonly what: 'curvature'; readonly show: CurvatureShown }
  | {
      readonly what: 'combs';
      readonly on: CombCurves;
      /** Of a section: across what, and how far along it, as a share of the body. */
      readonly axis: Axis;
      readonly share: number;
      /** Length of the longest tooth by the size of the body. */
      readonly scale: number;
      /** Teeth along the longest curve. */
      readonly density: number;
    }
  | { readonly what: 'joins' }
  | {
      readonly what: 'reflection';
      readonly as: ReflectionKind;
      readonly toward: Axis;
      readonly count: number;
      /** 0 for hard borders of the stripes, 1 for soft ones. */
      readonly blend: number;
    }
  /** Gaussian curvature within which a flat label lies down, 1/mm², and the least side of one, mm. */
  | { readonly what: 'label'; readonly limit: number; readonly least: number }
  /** Angles in rad. */
  | { readonly what: 'draft'; readonly axis: Axis; readonly sign: 1 | -1; readonly parts: 1 | 2; readonly limit: number }
  | { readonly what: 'overhang'; readonly limit: number }
  /** The body compared with, null for the first other one, and what may be between, mm. */
  | { readonly what: 'deviation'; readonly from: string | null; readonly tolerance: number }
  | { readonly what: 'measure'; readonly list: readonly Measurement[] }
  /** Volume asked for, mm³; null for none. */
  | { readonly what: 'holds'; readonly wanted: number | null; readonly object: FitObject | null };

const DEGREE = Math.PI / 180;
/** How each question is asked at first; the limits are common practice, no source. @param limit least wall of the brief, mm */
export const standardAsks = (limit: number | null) =>
  ({
    walls: { what: 'walls', method: 'ball', limit },
    sections: { what: 'sections', way: { by: 'axis', axis: 'z' }, rows: 81 },
    curvature: { what: 'curvature', show: 'largest' },
    combs: { what: 'combs', on: 'section', axis: 'y', share: 0.5, scale: 0.2, density: 160 },
    joins: { what: 'joins' },
    reflection: { what: 'reflection', as: 'stripes', toward: 'x', count: 14, blend: 0.15 },
    label: { what: 'label', limit: 1e-5, least: 15 },
    draft: { what: 'draft', axis: 'z', sign: 1, parts: 1, limit: 1 * DEGREE },
    overhang: { what: 'overhang', limit: 45 * DEGREE },
    deviation: { what: 'deviation', from: null, tolerance: 0.3 },
    measure: { what: 'measure', list: [] },
    holds: { what: 'holds', wanted: null, object: null },
  }) satisfies { readonly [W in Ask['what']]: Extract<Ask, { what: W }> };
