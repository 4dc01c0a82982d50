/** Places that are measured: what each should be, how far off it may be, and what it reads. */
import { gaugeById, readGauge } from '../brief/gauges';
import { evaluateAs, type Scope } from '../dimensions/expression';
import { minus, type Vec3 } from '../geometry/vectors';
import type { LostMeasure, MeasureReading } from '../inspect/measured';
import { measurementWords } from '../recipe/measure-words';
import type { Measurement, Project } from '../recipe/schema';
import { fail, ok, type Result } from '../result';
import { generalTolerance } from '../shop/paper';
import { scaleIn, shownIn } from '../units/units';
import type { Place, Quantity, Side, Way } from './document';
import type { Limits } from './statistics';

/** Decimals that readings are shown with, before inches. */
const DIGITS: Readonly<Record<Quantity, number>> = { mm: 2, g: 1, L: 3 };

/** Gauges that a made part can be measured for: which way each goes, and what lies between its ends. */
const GAUGES: Readonly<Record<string, { readonly way: Way; readonly side: Side } | undefined>> = {
  height: { way: 'z', side: 'outer' },
  diameter: { way: 'flat', side: 'outer' },
  width: { way: 'x', side: 'outer' },
  depth: { way: 'y', side: 'outer' },
  mouth: { way: 'flat', side: 'inner' },
  'wall-min': { way: 'other', side: 'outer' },
  'wall-max': { way: 'other', side: 'outer' },
  mass: { way: 'other', side: 'neither' },
  'capacity-brim': { way: 'other', side: 'neither' },
  'capacity-fill': { way: 'other', side: 'neither' },
};

/** The model as it stands, as far as it is known. */
export interface Model {
  /** In the gauge's own unit. */
  readonly gauge: (id: string) => number | null;
  readonly measured: (id: string) => MeasureReading | LostMeasure | undefined;
  readonly scope: Scope;
}

export function quantityOf(place: Pick<Place, 'of'>): Quantity {
  const unit = place.of.kind === 'gauge' ? gaugeById(place.of.gauge)?.unit : 'mm';
  return unit === 'g' || unit === 'L' ? unit : 'mm';
}

/** The figure a measurement is for, mm, and the way from one end to the other where there is one: across one round thing, between two, or least apart. */
function mainFigure(
  m: MeasureReading,
): { readonly value: number; readonly along: Vec3 | null; readonly side: Side; readonly round: boolean } | null {
  if (m.centres && m.a.radius !== null && m.b?.radius !== null)
    return { value: m.centres.value, along: minus(m.centres.to, m.centres.from), side: 'neither', round: false };
  if (m.distance) return { value: m.distance.value, along: minus(m.distance.to, m.distance.from), side: 'outer', round: false };
  if (m.a.radius !== null) return { value: 2 * m.a.radius, along: null, side: m.a.kind === 'circle' ? 'neither' : 'outer', round: true };
  return m.a.length !== null ? { value: m.a.length, along: null, side: 'neither', round: false } : null;
}

/** Directions this near to an axis go along it. */
const NEAR = Math.cos((1 * Math.PI) / 180);

function wayOf(along: Vec3 | null): Way {
  if (!along) return 'other';
  const l = Math.hypot(...along);
  if (l === 0) return 'other';
  const k = [0, 1, 2].find((i) => Math.abs(along[i]!) / l > NEAR);
  if (k !== undefined) return (['x', 'y', 'z'] as const)[k]!;
  return Math.abs(along[2]) / l < Math.sin((1 * Math.PI) / 180) ? 'flat' : 'other';
}

/** What a place should be as the model stands, in its quantity; in words where that is not known. */
export function nominalOf({ of }: Pick<Place, 'of'>, { gauge, measured, scope }: Model): Result<number> {
  if (of.kind === 'gauge') {
    const value = gauge(of.gauge);
    return value === null ? fail('not measured on the model yet, or it has none') : ok(value);
  }
  if (of.kind === 'measure') {
    const m = measured(of.measure);
    if (!m) return fail('not measured on the model yet');
    if ('why' in m) return fail(m.why);
    const figure = mainFigure(m);
    return figure ? ok(figure.value) : fail('it is no length');
  }
  return evaluateAs(of.kind === 'named' ? of.dimension : of.value, 'length', scope);
}

export type NewPlace = Omit<Place, 'id'>;

/** Everything of the model that could be measured on parts and is not yet. */
export function placesOffered(project: Project, model: Model, applying: readonly string[]): NewPlace[] {
  const have = new Set((project.made?.places ?? []).map((p) => JSON.stringify(p.of)));
  const gauges = applying.flatMap((id): NewPlace[] => {
    const goes = GAUGES[id];
    const gauge = gaugeById(id);
    return goes && gauge ? [{ name: gauge.label, of: { kind: 'gauge', gauge: id }, ...goes }] : [];
  });
  const measures = (project.measures ?? []).flatMap((m: Measurement): NewPlace[] => {
    const read = model.measured(m.id);
    const figure = read && !('why' in read) ? mainFigure(read) : null;
    if (!figure) return [];
    const name = measurementWords(m, project).slice(0, 120);
    return [{ name, of: { kind: 'measure', measure: m.id }, way: figure.round ? 'flat' : wayOf(figure.along), side: figure.side }];
  });
  const named = project.dimensions.flatMap((d): NewPlace[] =>
    evaluateAs(d.name, 'length', model.scope).ok
      ? [{ name: d.name, of: { kind: 'named', dimension: d.name }, way: 'other', side: 'outer' }]
      : [],
  );
  return [...gauges, ...measures, ...named].filter((p) => !have.has(JSON.stringify(p.of)));
}

/** A plain figure with or without a decimal comma. */
const PLAIN = /^[-+]?(\d+[.,]?\d*|[.,]\d+)$/;
const plain = (text: string): number => Number(text.replace(',', '.'));

/** One reading as it was typed, in the quantity's own unit; a figure without a unit is in the one the project shows. */
function readingFrom(text: string, quantity: Quantity, project: Pick<Project, 'units'>, scope: Scope): Result<number> {
  const { factor } = scaleIn(quantity, project.units);
  if (PLAIN.test(text)) return ok(plain(text) / factor);
  if (quantity === 'mm') return evaluateAs(text, 'length', scope);
  const found = /^(.*?)\s*(kg|g|oz|mL|ml|cl|L|l|fl oz)$/.exec(text);
  const inches = scaleIn(quantity, 'in');
  const one: Readonly<Record<string, number>> = {
    ...(quantity === 'g' ? { kg: 1000, g: 1 } : { mL: 1e-3, ml: 1e-3, cl: 1e-2, L: 1, l: 1 }),
    [inches.unit]: 1 / inches.factor,
  };
  const unit = found && one[found[2]!];
  return found && unit && PLAIN.test(found[1]!)
    ? ok(plain(found[1]!) * unit)
    : fail(`“${text}” can’t be read in ${quantity === 'g' ? 'g' : 'L'}`);
}

/** Readings of one place of one piece: several are parted by a semicolon, plain ones by a space. */
export function readingsFrom(text: string, quantity: Quantity, project: Pick<Project, 'units'>, scope: Scope): Result<number[]> {
  const parts = text.split(';').flatMap((part) => {
    const words = part.trim().split(/\s+/);
    return words.every((w) => PLAIN.test(w)) ? words : [part.trim()];
  });
  const out: number[] = [];
  for (const part of parts) {
    if (part === '') continue;
    const read = readingFrom(part, quantity, project, scope);
    if (!read.ok) return read;
    if (!(read.value > 0)) return fail('a reading is more than nothing');
    out.push(read.value);
  }
  return out.length > 30 ? fail('at most 30 readings of one place') : ok(out);
}

/** A value of a quantity as the project shows it, with digits of a caliper. @param more decimals */
export const shownOf = (value: number, quantity: Quantity, project: Pick<Project, 'units'>, more = 0): string =>
  shownIn(value, quantity, DIGITS[quantity] + more, project.units).text;

/** Readings as they stand in a field. */
export const readingsText = (readings: readonly number[], quantity: Quantity, project: Pick<Project, 'units'>): string =>
  readings.map((r) => String(Number((r * scaleIn(quantity, project.units).factor).toPrecision(7)))).join(' ');

/** What a tolerance is typed as, in the quantity's own unit. */
export function toleranceFrom(text: string, quantity: Quantity, project: Pick<Project, 'units'>, scope: Scope): Result<number> {
  const read = readingFrom(text.trim().replace(/^[±+−-]\s*/, ''), quantity, project, scope);
  return read.ok && read.value < 0 ? fail('a tolerance is no less than nothing') : read;
}

export interface PlaceLimits extends Limits {
  /** Where they come from, in words; null where there are none. */
  readonly from: string | null;
}

/** Between what a place may read: its own tolerance, else the brief's target, else the drawing's general tolerance. */
export function limitsOf(place: Place, nominal: number, project: Project, scope: Scope): PlaceLimits {
  const quantity = quantityOf(place);
  if (place.over !== undefined) {
    const over = toleranceFrom(place.over, quantity, project, scope);
    const under = place.under === undefined ? over : toleranceFrom(place.under, quantity, project, scope);
    if (over.ok && under.ok) return { low: nominal - under.value, high: nominal + over.value, from: 'its own' };
  }
  const { of } = place;
  if (of.kind === 'gauge') {
    const gauge = gaugeById(of.gauge);
    const target = project.brief.targets.find((t) => t.gauge === of.gauge);
    const read = gauge && target ? readGauge(gauge, target, null, project.brief.material, scope) : null;
    if (read && (read.min !== null || read.max !== null)) return { low: read.min, high: read.max, from: 'the brief' };
  }
  const by = quantity === 'mm' ? project.shop?.tolerance : undefined;
  const may = by ? generalTolerance(by, nominal) : null;
  return may === null ? { low: null, high: null, from: null } : { low: nominal - may, high: nominal + may, from: `ISO 2768-${by}` };
}
