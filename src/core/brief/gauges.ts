/** Gauges: what is measured on a body, and the brief's verdict on it. */
import { evaluateAs, type Scope } from '../dimensions/expression';
import type { Target } from '../recipe/schema';
import { fixed, type LengthUnit, shownIn } from '../units/units';
import { massOf } from './materials';

/** Readings of one body: mm, mm², mm³, g. Null where the thing does not exist (a solid has no capacity). */
export interface Readings {
  readonly height: number;
  /** Across and away. */
  readonly width: number;
  readonly depth: number;
  /** Of a round body about its own upright, of another about the page's. */
  readonly diameter: number;
  /** Seen from above it fills a circle. */
  readonly round: boolean;
  readonly mouth: number | null;
  readonly capacityBrim: number | null;
  readonly capacityFill: number | null;
  readonly wallMin: number | null;
  readonly wallMax: number | null;
  readonly closed: boolean;
  /** A surface, or a scan: it is open as long as it is worked on. */
  readonly surface: boolean;
  /** Closed lines along which a surface has a face on one side only; of facets, their open edges. */
  readonly openBorders: number;
  readonly volume: number;
  readonly area: number;
  /** Of exact faces from the limits of the cages they come of; null for a body that comes of none. */
  readonly deviation: number | null;
}

export type GaugeUnit = 'mm' | 'L' | 'g' | 'cm³' | 'cm²' | 'yes/no';
export type Verdict = 'pass' | 'warn' | 'fail' | 'unknown';

export interface GaugeDefinition {
  readonly id: string;
  readonly label: string;
  readonly help: string;
  readonly unit: GaugeUnit;
  readonly digits: number;
  /** The reading in mm, mm², mm³ or g. */
  readonly read: (r: Readings, material: string) => number | null;
  /** Factor from the inner unit to the shown one. */
  readonly scale: number;
  /** Whether a body has it at all; always where left out. Asked for by the brief it is shown in any case. */
  readonly applies?: (r: Readings) => boolean;
}

/** A dent that holds less than this share of the material is no vessel. */
const DENT = 1e-3;
const holds = (r: Readings): boolean => r.capacityBrim !== null && r.capacityBrim > DENT * r.volume;

/** A skin has no material. */
const solid = (r: Readings): boolean => r.volume > 0;

export const gauges: readonly GaugeDefinition[] = [
  { id: 'height', label: 'Height', help: 'lowest to highest point along the axis', unit: 'mm', digits: 2, scale: 1, read: (r) => r.height },
  {
    id: 'diameter',
    label: 'Largest diameter',
    help: 'twice the largest distance from the axis',
    unit: 'mm',
    digits: 2,
    scale: 1,
    read: (r) => r.diameter,
    applies: (r) => r.round,
  },
  {
    id: 'width',
    label: 'Width',
    help: 'from the leftmost to the rightmost point, seen from the front',
    unit: 'mm',
    digits: 2,
    scale: 1,
    read: (r) => r.width,
    applies: (r) => !r.round,
  },
  {
    id: 'depth',
    label: 'Depth',
    help: 'from the foremost to the hindmost point',
    unit: 'mm',
    digits: 2,
    scale: 1,
    read: (r) => r.depth,
    applies: (r) => !r.round,
  },
  {
    id: 'mouth',
    label: 'Mouth, clear',
    help: 'narrowest clear diameter in the top 3 mm of the opening',
    unit: 'mm',
    digits: 2,
    scale: 1,
    read: (r) => r.mouth,
    applies: (r) => r.mouth !== null && holds(r),
  },
  {
    id: 'capacity-brim',
    label: 'Capacity to the brim',
    help: 'volume held when filled until it runs over',
    unit: 'L',
    digits: 4,
    scale: 1e-6,
    read: (r) => r.capacityBrim,
    applies: holds,
  },
  {
    id: 'capacity-fill',
    label: 'Capacity to the fill line',
    help: 'volume held up to the fill line of the brief',
    unit: 'L',
    digits: 4,
    scale: 1e-6,
    read: (r) => r.capacityFill,
    applies: (r) => r.capacityFill !== null && holds(r),
  },
  {
    id: 'wall-min',
    label: 'Thinnest wall',
    help: 'diameter of the smallest ball that fits between opposite skins',
    unit: 'mm',
    digits: 3,
    scale: 1,
    read: (r) => r.wallMin,
    applies: solid,
  },
  {
    id: 'wall-max',
    label: 'Thickest wall',
    help: 'diameter of the largest ball that fits inside the material',
    unit: 'mm',
    digits: 2,
    scale: 1,
    read: (r) => r.wallMax,
    applies: solid,
  },
  {
    id: 'closed',
    label: 'Closed solid',
    help: 'no open edge anywhere',
    unit: 'yes/no',
    digits: 0,
    scale: 1,
    read: (r) => (r.closed ? 1 : 0),
  },
  {
    id: 'volume',
    label: 'Material volume',
    help: 'volume of the material itself',
    unit: 'cm³',
    digits: 2,
    scale: 1e-3,
    read: (r) => r.volume,
    applies: solid,
  },
  {
    id: 'mass',
    label: 'Mass',
    help: 'material volume times the density of the brief’s material',
    unit: 'g',
    digits: 1,
    scale: 1,
    read: (r, m) => massOf(r.volume, m) ?? null,
    applies: solid,
  },
  {
    id: 'deviation',
    label: 'Off its cage',
    help: 'largest distance of its exact faces from the smooth limit of the cage they come of',
    unit: 'mm',
    digits: 4,
    scale: 1,
    read: (r) => r.deviation,
    applies: (r) => r.deviation !== null,
  },
  { id: 'area', label: 'Surface area', help: 'all skin, inside and outside', unit: 'cm²', digits: 1, scale: 1e-2, read: (r) => r.area },
];

export const gaugeById = (id: string): GaugeDefinition | undefined => gauges.find((g) => g.id === id);

export interface GaugeReading {
  readonly id: string;
  readonly label: string;
  /** In the gauge's unit; null while unknown or where there is none. */
  readonly value: number | null;
  readonly unit: GaugeUnit;
  readonly digits: number;
  readonly min: number | null;
  readonly max: number | null;
  /** The target in words: `≥ 2.4`, `138 … 145`, `–`. */
  readonly target: string;
  readonly verdict: Verdict;
  /** The body has it, or the brief asks for it. */
  readonly applies: boolean;
  /** `holds`, `0.02 under 2.40`, `no target`, or what is wrong with the target. */
  readonly words: string;
}

/** Within this share outside a limit a reading counts as slightly off: a warning, not a failure. */
const NEAR = 0.015;
/** Readings are trusted to this share; a limit met to it is met. */
const READING_TOLERANCE = 2e-4;

const bound = (text: string | undefined, unit: GaugeUnit, scope: Scope): number | null | string => {
  if (text === undefined || text.trim() === '') return null;
  const r = evaluateAs(text, unit === 'mm' ? 'length' : 'number', scope);
  return r.ok ? r.value : r.error;
};

/**
 * One gauge against its target.
 * @param readings null while they are being measured
 */
export function readGauge(
  gauge: GaugeDefinition,
  target: Target | undefined,
  readings: Readings | null,
  material: string,
  scope: Scope,
): GaugeReading {
  const raw = readings ? gauge.read(readings, material) : null;
  const value = raw === null ? null : raw * gauge.scale;
  const min = bound(target?.min, gauge.unit, scope);
  const max = bound(target?.max, gauge.unit, scope);
  const applies = min !== null || max !== null || !gauge.applies || (readings !== null && gauge.applies(readings));
  const base = { id: gauge.id, label: gauge.label, value, unit: gauge.unit, digits: gauge.digits, applies };
  if (typeof min === 'string' || typeof max === 'string')
    return { ...base, min: null, max: null, target: '?', verdict: 'unknown', words: `target: ${typeof min === 'string' ? min : max}` };
  if (gauge.unit === 'yes/no') {
    const verdict: Verdict = value === null ? 'unknown' : value === 1 ? 'pass' : readings!.surface ? 'warn' : 'fail';
    return {
      ...base,
      min: 1,
      max: null,
      target: 'yes',
      verdict,
      words:
        verdict === 'unknown'
          ? 'not measured yet'
          : verdict === 'pass'
            ? 'no open border'
            : `${readings!.openBorders} open border${readings!.openBorders === 1 ? '' : 's'}`,
    };
  }
  const show = (v: number): string => String(Number(v.toFixed(gauge.digits)));
  const target_ =
    min !== null && max !== null ? `${show(min)} … ${show(max)}` : min !== null ? `≥ ${show(min)}` : max !== null ? `≤ ${show(max)}` : '–';
  if (min === null && max === null) return { ...base, min, max, target: target_, verdict: 'unknown', words: 'no target' };
  // What is asked of a thing that does not exist fails; it is not unknown.
  if (value === null)
    return {
      ...base,
      min,
      max,
      target: target_,
      verdict: readings ? 'fail' : 'unknown',
      words: readings ? 'there is none' : 'not measured yet',
    };
  const under = min !== null ? min - value : 0;
  const over = max !== null ? value - max : 0;
  const limit = under > over ? min! : (max ?? min!);
  const off = Math.max(under, over);
  const reach = Math.abs(limit) || 1;
  if (off <= READING_TOLERANCE * reach) return { ...base, min, max, target: target_, verdict: 'pass', words: 'holds' };
  return {
    ...base,
    min,
    max,
    target: target_,
    verdict: off <= NEAR * reach ? 'warn' : 'fail',
    words: `${fixed(off, gauge.digits)} ${under > over ? 'under' : 'over'} ${show(limit)}`,
  };
}

/** A reading for display in the project's units. */
export function showReading(value: number | null, unit: GaugeUnit, digits: number, project: LengthUnit): { text: string; unit: string } {
  if (value === null) return { text: '–', unit: '' };
  if (unit === 'yes/no') return { text: value === 1 ? 'yes' : 'no', unit: '' };
  return shownIn(value, unit, digits, project);
}

/** A reading with its unit, in words. @param more digits beyond those of the gauge */
export function readingWords(value: number | null, gauge: Pick<GaugeReading, 'unit' | 'digits'>, project: LengthUnit, more = 0): string {
  const shown = showReading(value, gauge.unit, gauge.digits + more, project);
  return `${shown.text} ${shown.unit}`.trim();
}

/** All gauges, those with targets first, in the brief's order. */
export function readGauges(targets: readonly Target[], readings: Readings | null, material: string, scope: Scope): GaugeReading[] {
  const withTarget = targets.flatMap((t) => {
    const g = gaugeById(t.gauge);
    return g ? [readGauge(g, t, readings, material, scope)] : [];
  });
  const rest = gauges.filter((g) => !targets.some((t) => t.gauge === g.id)).map((g) => readGauge(g, undefined, readings, material, scope));
  return [...withTarget, ...rest];
}
