/** A diameter across the axis as it was typed, if the radius is written as half of something. */
export function diameterText(radius: string): string | null {
  const t = radius.trim();
  const m = /^\((.+)\)\s*\/\s*2$/.exec(t) ?? /^([^+\-*/()]+)\/\s*2$/.exec(t);
  return m ? m[1]!.trim() : null;
}
export const radiusFromDiameter = (diameter: string): string =>
  /^[\p{L}\p{N}_.]+$/u.test(diameter.trim()) ? `${diameter.trim()}/2` : `(${diameter.trim()})/2`;
