/** Colour maps for readings on a body: perceptually even, and lighter as the value grows, so that they read in greyscale too. */
import { triple } from '../geometry/vectors';

/** Ten stops of the viridis map (Smith and van der Walt 2015, public domain; from memory). */
const VIRIDIS = ['#440154', '#482878', '#3e4989', '#31688e', '#26828e', '#1f9e89', '#35b779', '#6ece58', '#b5de2b', '#fde725'].map((h) =>
  [1, 3, 5].map((i) => Number.parseInt(h.slice(i, i + 2), 16) / 255),
) as unknown as readonly (readonly [number, number, number])[];

/** Colour of a share 0…1, sRGB 0…1. */
export function viridis(share: number): [number, number, number] {
  const x = Math.min(1, Math.max(0, share)) * (VIRIDIS.length - 1);
  const i = Math.min(VIRIDIS.length - 2, Math.floor(x));
  const f = x - i;
  return triple((k) => VIRIDIS[i]![k]! * (1 - f) + VIRIDIS[i + 1]![k]! * f);
}

/** No reading. */
const UNKNOWN: readonly [number, number, number] = [0.56, 0.57, 0.57];

/** Out of reach, which −∞ stands for: madder, apart from every colour of the map. */
const MARKED: readonly [number, number, number] = [0.631, 0.149, 0.227];

/** Colours of readings, three bytes each. @param from value of the darkest colour; @param to value of the lightest */
export function coloursOf(values: ArrayLike<number>, from: number, to: number): Uint8Array {
  const out = new Uint8Array(3 * values.length);
  for (let i = 0; i < values.length; i++) {
    const v = values[i]!;
    const c = Number.isFinite(v) ? viridis((v - from) / (to - from || 1)) : v === Number.NEGATIVE_INFINITY ? MARKED : UNKNOWN;
    for (let k = 0; k < 3; k++) out[3 * i + k] = Math.round(255 * c[k]!);
  }
  return out;
}

/** Relative luminance of a colour (WCAG 2 formula): what is left of it in greyscale. */
export const luminance = (c: readonly [number, number, number]): number => {
  const [r, g, b] = c.map((x) => (x <= 0.03928 ? x / 12.92 : ((x + 0.055) / 1.055) ** 2.4)) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
};
