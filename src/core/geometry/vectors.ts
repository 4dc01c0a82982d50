/** Places and directions in space, mm. */
export type Vec3 = readonly [number, number, number];

export const cross = (a: Vec3, b: Vec3): [number, number, number] => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
export const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const minus = (a: Vec3, b: Vec3): [number, number, number] => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
/** a + k·b */
export const along = (a: Vec3, b: Vec3, k: number): [number, number, number] => [a[0] + k * b[0], a[1] + k * b[1], a[2] + k * b[2]];
/** The direction of a vector; undefined for one without length. */
export function unit(a: Vec3): [number, number, number] | undefined {
  const l = Math.hypot(a[0], a[1], a[2]);
  return l > 1e-12 ? [a[0] / l, a[1] / l, a[2] / l] : undefined;
}
/** What of a vector is square to a unit direction. */
export const squareTo = (a: Vec3, n: Vec3): [number, number, number] => along(a, n, -dot(a, n));
export const distance = (a: Vec3, b: Vec3): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
/** The same the other way. */
export const opposite = (a: Vec3): [number, number, number] => [-a[0], -a[1], -a[2]];
/** A vector by a formula of its coordinates. */
export const triple = (at: (k: 0 | 1 | 2) => number): [number, number, number] => [at(0), at(1), at(2)];
