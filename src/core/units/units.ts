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

/** A volume for reading: cm³ below a litre, litres from there. @param mm3 cubic millimetres */
export function formatVolume(mm3: number): string {
  return Math.abs(mm3) >= 1e6 ? `${fixed(mm3 / 1e6, 3)} L` : `${fixed(mm3 / 1000, 1)} cm³`;
}
