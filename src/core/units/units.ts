/**
 * Lengths and angles. Inside the program a length is millimetres and an angle is radians.
 * Sources: 1 in = 25.4 mm exactly (international inch, 1959); 1 ft = 12 in.
 */
export type LengthUnit = 'mm' | 'in';

/** Factor from the unit to millimetres or radians, with the exponent it carries. */
export interface UnitDef {
  readonly factor: number;
  readonly length: number;
  readonly angle: number;
}

const length = (factor: number): UnitDef => ({ factor, length: 1, angle: 0 });
const angle = (factor: number): UnitDef => ({ factor, length: 0, angle: 1 });

export const MM_PER_INCH = 25.4;

/** Every unit word the expression language knows. A named dimension may not take one of these names. */
export const UNITS: Readonly<Record<string, UnitDef>> = {
  mm: length(1),
  cm: length(10),
  m: length(1000),
  um: length(0.001),
  inch: length(MM_PER_INCH),
  in: length(MM_PER_INCH),
  ft: length(12 * MM_PER_INCH),
  deg: angle(Math.PI / 180),
  rad: angle(1),
};

export const degrees = (radians: number): number => (radians * 180) / Math.PI;
export const radians = (deg: number): number => (deg * Math.PI) / 180;

/** Fixed digits without a negative zero. */
export function fixed(value: number, digits: number): string {
  const text = value.toFixed(digits);
  return Number(text) === 0 ? (0).toFixed(digits) : text;
}

/**
 * A length for reading: `142.0 mm`, `5.591 in`.
 * @param mm length in millimetres
 * @param digits decimals for millimetres; inches get one and a half more, as shops read them
 */
export function formatLength(mm: number, unit: LengthUnit = 'mm', digits = 2): string {
  return unit === 'in' ? `${fixed(mm / MM_PER_INCH, digits + 1)} in` : `${fixed(mm, digits)} mm`;
}

/** The shortest text that reads back as the same value to 1e-6: used when a dragged value is written into the document. */
export function shortNumber(value: number, digits = 3): string {
  const rounded = Number(value.toFixed(digits));
  return Object.is(rounded, -0) ? '0' : String(rounded);
}

/**
 * A length as whole inches and a fraction: `3 1/4 in`. The nearest 1/64 in is used.
 * @param mm length in millimetres
 */
export function formatInchFraction(mm: number): string {
  const sign = mm < 0 ? '-' : '';
  const n = Math.round((Math.abs(mm) / MM_PER_INCH) * 64);
  const whole = Math.floor(n / 64);
  let num = n % 64;
  let den = 64;
  while (num > 0 && num % 2 === 0) {
    num /= 2;
    den /= 2;
  }
  if (num === 0) return `${sign}${whole} in`;
  return `${sign}${whole > 0 ? `${whole} ` : ''}${num}/${den} in`;
}

/**
 * What a metric figure is where a project is in inches: its unit, how many of them it is, and how many decimals more it gets.
 * Sources: 1 US fluid ounce = 29.5735295625 mL, 1 avoirdupois ounce = 28.349523125 g (NIST Handbook 44, appendix C).
 */
const IN_INCHES: Readonly<Record<string, { readonly unit: string; readonly factor: number; readonly digits: number } | undefined>> = {
  mm: { unit: 'in', factor: 1 / MM_PER_INCH, digits: 1 },
  cm: { unit: 'in', factor: 10 / MM_PER_INCH, digits: 1 },
  'mm²': { unit: 'in²', factor: 1 / MM_PER_INCH ** 2, digits: 3 },
  'cm²': { unit: 'in²', factor: 100 / MM_PER_INCH ** 2, digits: 1 },
  'mm³': { unit: 'in³', factor: 1 / MM_PER_INCH ** 3, digits: 4 },
  'cm³': { unit: 'in³', factor: 1000 / MM_PER_INCH ** 3, digits: 1 },
  L: { unit: 'fl oz', factor: 1000 / 29.5735295625, digits: -1 },
  g: { unit: 'oz', factor: 1 / 28.349523125, digits: 1 },
};

/** What one of a unit is as a project shows it. */
export function scaleIn(unit: string, project: LengthUnit): { readonly factor: number; readonly unit: string } {
  return (project === 'in' && IN_INCHES[unit]) || { factor: 1, unit };
}

/** A figure in a metric unit as a project shows it. @param digits decimals in the metric unit */
export function shownIn(value: number, unit: string, digits: number, project: LengthUnit): { text: string; unit: string } {
  const other = project === 'in' ? IN_INCHES[unit] : undefined;
  return other
    ? { text: fixed(value * other.factor, Math.max(0, digits + other.digits)), unit: other.unit }
    : { text: fixed(value, digits), unit };
}

const joined = ({ text, unit }: { text: string; unit: string }): string => `${text} ${unit}`;

/**
 * A volume for reading: cm³ below a litre, to a thousandth below one of them, litres from there; cubic inches in a project in inches.
 * @param mm3 cubic millimetres
 */
export const formatVolume = (mm3: number, project: LengthUnit): string =>
  project === 'mm' && Math.abs(mm3) >= 1e6
    ? `${fixed(mm3 / 1e6, 3)} L`
    : joined(shownIn(mm3 / 1000, 'cm³', Math.abs(mm3) < 1000 && mm3 !== 0 ? 3 : 1, project));

/** What a vessel holds, for reading: litres, or fluid ounces. @param mm3 cubic millimetres */
export const formatCapacity = (mm3: number, project: LengthUnit): string =>
  project === 'mm' ? formatVolume(mm3, project) : joined(shownIn(mm3 / 1e6, 'L', 3, project));

/** A mass for reading: g, or ounces. @param g grams */
export const formatMass = (g: number, project: LengthUnit): string => joined(shownIn(g, 'g', 0, project));

/** An area for reading: cm² or square inches. @param mm2 square millimetres */
export const formatArea = (mm2: number, project: LengthUnit, digits = 2): string => joined(shownIn(mm2 / 100, 'cm²', digits, project));

/** A figure with its unit in a sentence; what is multiplied or ranges, as `12 × 3 mm`, shares the unit. */
const FIGURE = /((?:\d+(?:\.\d+)?(?: × | to |–|…))*)(\d+(?:\.\d+)?) (mm[²³]?|cm[²³]?|L|g)(?![\p{L}\p{N}²³/])/gu;

/** Words with metric figures as a project shows them. */
export function wordsIn(words: string, project: LengthUnit): string {
  if (project === 'mm') return words;
  const one = (text: string, unit: string) => shownIn(Number(text), unit, text.split('.')[1]?.length ?? 0, project);
  return words.replace(FIGURE, (_, before: string, last: string, unit: string) => {
    const lead = before.replace(/\d+(?:\.\d+)?/g, (n) => one(n, unit).text);
    return `${lead}${joined(one(last, unit))}`;
  });
}
