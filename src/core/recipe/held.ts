/** Values that are taken hold of on the stage: where the number is written that changes, and how it is written. */
import type { Kind } from '../dimensions/expression';
import type { Vec3 } from '../geometry/vectors';
import { degrees, type LengthUnit, MM_PER_INCH, shortNumber } from '../units/units';
import { patchStep, setDimension } from './edit';
import type { Project, Step } from './schema';

/** A value of a step, or the named dimension that it is. */
export type HeldIn = { readonly step: string; readonly value: string } | { readonly dimension: string };

/** A number by itself, with a fraction and a unit where it has them. */
const PLAIN = /^\s*[-+]?(\d+\.?\d*|\.\d+)(\s+\d+\/\d+)?\s*(mm|cm|inch|in|"|°|deg)?\s*$/i;

/** @returns null for a value that is worked out from others: whoever pulled at it would lose what it follows */
export function heldIn(project: Project, step: Step, name: string): HeldIn | null {
  const text = step.values[name] ?? '';
  if (PLAIN.test(text)) return { step: step.id, value: name };
  const own = project.dimensions.find((d) => d.name === text.trim());
  return own && PLAIN.test(own.expr) ? { dimension: own.name } : null;
}

export const textOf = (project: Project, held: HeldIn): string =>
  'dimension' in held
    ? project.dimensions.find((d) => d.name === held.dimension)!.expr
    : (project.steps.find((s) => s.id === held.step)!.values[held.value] ?? '');

export const putHeld = (project: Project, held: HeldIn, text: string): Project =>
  'dimension' in held ? setDimension(project, held.dimension, text) : patchStep(project, held.step, { values: { [held.value]: text } });

/** Whether a text is written in inches; where it says nothing the project decides. */
const inInches = (text: string, units: LengthUnit): boolean => (/in|"/i.test(text) ? true : /[mc]m/i.test(text) ? false : units === 'in');

/** A value as it was written before. @param value mm, rad or plain @param like the text that stood there @param more digits than one would type */
export function written(value: number, kind: Kind, like: string, units: LengthUnit, more = 0): string {
  if (kind === 'angle') return `${shortNumber(degrees(value), 2 + more)}°`;
  if (kind === 'number') return shortNumber(value, 3 + more);
  return inInches(like, units) ? `${shortNumber(value / MM_PER_INCH, 4 + more)} in` : `${shortNumber(value, 3 + more)} mm`;
}

/** Whether a text is a number by itself, with a unit or without. */
export const isPlain = (text: string): boolean => PLAIN.test(text);

/**
 * A value that was pulled to, rounded to what a pointer can tell there: one, two or five of a decimal place of its own unit, or whole degrees.
 * @param across how much of the value one px is, mm or rad
 */
export function roundedTo(value: number, across: number, kind: Kind, like: string, units: LengthUnit): number {
  if (kind === 'angle') return Math.round(value / (Math.PI / 180)) * (Math.PI / 180);
  const unit = kind === 'length' && inInches(like, units) ? MM_PER_INCH : 1;
  const wanted = Math.max((3 * across) / unit, 1e-3);
  const decade = 10 ** Math.floor(Math.log10(wanted));
  const step = decade * [1, 2, 5, 10].find((k) => k * decade >= wanted * (1 - 1e-9))!;
  return Number((Math.round(value / unit / step) * step).toFixed(6)) * unit;
}

/** By how much an arrow key moves a value, mm, rad or plain. */
export const nudge = (kind: Kind, units: LengthUnit): number =>
  kind === 'angle' ? Math.PI / 180 : kind === 'number' ? 0.1 : units === 'in' ? MM_PER_INCH / 100 : 0.5;

/** A place of a step that was typed, in one of its lists. */
export interface HeldPlace {
  readonly field: string;
  readonly index: number;
  readonly at: readonly [string, string, string];
}

/** The places of a step that were typed. */
export const placesHeld = (step: Step): HeldPlace[] =>
  Object.entries(step.inputs).flatMap(([field, list]) =>
    (Array.isArray(list) ? list : []).flatMap((p: unknown, index): HeldPlace[] =>
      typeof p === 'object' && p !== null && 'at' in p ? [{ field, index, at: p.at as HeldPlace['at'] }] : [],
    ),
  );

/**
 * A place that was pulled: coordinates that are written as numbers go along, those that follow something stay.
 * @param from where it is read to be, mm @param to where it is pulled, mm @param across mm of one px there
 */
export function pulledPlace({ at }: HeldPlace, from: Vec3, to: Vec3, across: number, units: LengthUnit): HeldPlace['at'] {
  const text = (k: 0 | 1 | 2): string => {
    const goes = PLAIN.test(at[k]) && Math.abs(to[k] - from[k]) > across / 2;
    return goes ? written(roundedTo(to[k], across, 'length', at[k], units), 'length', at[k], units) : at[k];
  };
  return [text(0), text(1), text(2)];
}

export const putPlace = (project: Project, step: Step, { field, index }: HeldPlace, at: HeldPlace['at']): Project =>
  patchStep(project, step.id, {
    inputs: { [field]: (step.inputs[field] as readonly unknown[]).map((p, i) => (i === index ? { at } : p)) },
  });
