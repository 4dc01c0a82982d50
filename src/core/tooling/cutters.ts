/** Cutters: which goes into an inside round, and the ridges a ball leaves. Millimetres. */

/** Diameters that are kept in stock: common practice, no source. */
export const CUTTERS = [0.5, 1, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10, 12, 16, 20, 25] as const;

/** The largest that goes into an inside round of a radius; undefined where none does. */
export const largestInto = (radius: number): number | undefined => CUTTERS.findLast((d) => d / 2 <= radius + 1e-9);

/** How often its diameter a cutter may stick out before it bends more than one likes: common practice, no source. */
export const SLENDER = 5;

/** Height of the ridges between two passes of a ball on a flat: R − √(R² − s²/4). Source: the chord of a circle, as machinists' handbooks have it. */
export function scallop(diameter: number, step: number): number {
  const [r, half] = [diameter / 2, step / 2];
  return half >= r ? r : r - Math.sqrt(r * r - half * half);
}

/** How far apart passes of a ball may lie for ridges of a height: 2 √(h (2R − h)). */
export const stepFor = (diameter: number, height: number): number => {
  const h = Math.min(height, diameter / 2);
  return 2 * Math.sqrt(h * (diameter - h));
};
