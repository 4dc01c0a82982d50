/** A named dimension that is moved: what it is, how far it is looked either way, and the sheet with another value of it. */
import { evaluateDimensions } from '../dimensions/dimensions';
import { type Kind, kindOf, namesIn } from '../dimensions/expression';
import { setDimension } from '../recipe/edit';
import { isPlain, written } from '../recipe/held';
import type { Project } from '../recipe/schema';
import { stepDefinitions } from '../recipe/steps';

export interface Mover {
  readonly name: string;
  readonly kind: Kind;
  /** Where it stands, mm, rad or plain. */
  readonly from: number;
  /** It counts something: only whole numbers are tried. */
  readonly whole: boolean;
  /** By how much its effects are told, mm, rad or plain: about a fiftieth of it, as a round number of its own unit. */
  readonly step: number;
  at(value: number): Project;
  /** As it would be typed. @param more digits beyond that */
  text(value: number, more?: number): string;
}

/** Where a dimension that stands at nought is looked for, mm and rad. */
const FROM_NOUGHT = { length: 10, angle: 0.2, number: 1 } as const;

/** Dimensions that may be changed: what is worked out from others follows them. */
export const changeable = (project: Project): string[] => project.dimensions.filter((d) => isPlain(d.expr)).map((d) => d.name);

/** Whether a dimension counts something: a step or a drawing takes it, or what is worked out from it, for a number of things. */
function countsBy(project: Project, name: string): boolean {
  const names = new Set([name]);
  for (let before = 0; before !== names.size; ) {
    before = names.size;
    for (const d of project.dimensions) if (namesIn(d.expr).some((n) => names.has(n))) names.add(d.name);
  }
  const counts = [
    ...project.profiles.flatMap((p) => p.derived.flatMap((d) => (d.kind === 'linear' || d.kind === 'circular' ? [d.count] : []))),
    ...project.steps.flatMap((s) =>
      Object.entries(stepDefinitions[s.kind]?.values ?? {}).flatMap(([value, spec]) => (spec.whole ? [s.values[value] ?? ''] : [])),
    ),
  ];
  return counts.some((text) => namesIn(text).some((n) => names.has(n)));
}

/** @returns null where there is no such dimension, or it has no value */
export function moverOf(project: Project, name: string): Mover | null {
  const own = project.dimensions.find((d) => d.name === name);
  const quantity = own && evaluateDimensions(project.dimensions).scope(own.name);
  const kind = quantity?.ok ? kindOf(quantity.value) : undefined;
  if (!own || !quantity?.ok || !kind) return null;
  const from = quantity.value.value;
  const text = (value: number, more = 0): string => written(value, kind, own.expr, project.units, more);
  const whole = kind === 'number' && Number.isInteger(from) && countsBy(project, name);
  // In the unit it is written in: what one of it is worth is read off how one is written.
  const unit = kind === 'angle' ? Math.PI / 180 : kind === 'length' && text(25.4, 3).endsWith('in') ? 25.4 : 1;
  const size = Math.abs(from || FROM_NOUGHT[kind]) / unit;
  const step = whole ? 1 : 10 ** Math.floor(Math.log10(size / 20)) * unit;
  return { name, kind, from, whole, step, text, at: (value) => setDimension(project, name, text(value, MORE)) };
}

/** Digits beyond those one would type: a value worked out is written as exactly as it was found. */
export const MORE = 3;

/** Values that are looked at from where a dimension stands, outwards on one side. */
export function outwards({ from, whole, kind }: Pick<Mover, 'from' | 'whole' | 'kind'>, sign: 1 | -1): number[] {
  if (whole)
    return COUNTS.flatMap((n) => {
      const at = from + sign * n;
      return at >= 1 || from < 1 ? [at] : [];
    });
  const room = kind === 'angle' ? Math.max(Math.abs(from), FROM_NOUGHT.angle) : Math.abs(from) || FROM_NOUGHT[kind];
  // Towards nought it stays on its own side of it; away from it there is more room.
  const inwards = from !== 0 && Math.sign(from) !== sign;
  return (inwards ? SHARES.filter((s) => s < 1) : SHARES).map((s) => from + sign * s * room);
}

const COUNTS = [1, 2, 3, 5, 8, 12, 18, 27, 40, 60, 100, 200] as const;
const SHARES = [0.02, 0.06, 0.12, 0.2, 0.32, 0.5, 0.72, 0.9, 0.97, 1.4, 2.2, 4, 9, 20] as const;
