/** The circle that fits places on a closed row best: its plane by their area, middle and radius by least squares of x² + y² (Kåsa 1976; from memory). */
import { along, cross, dot, minus, triple, unit } from '../geometry/vectors';
import { solveDense } from '../linear';
import type { P3 } from './cage';
import { faceNormal } from './starts';

export interface FittedCircle {
  readonly middle: P3;
  readonly normal: P3;
  /** Directions across and up in its plane. */
  readonly x: P3;
  readonly y: P3;
  readonly radius: number;
}

/** @returns nothing where the places enclose no area */
export function circleThrough(places: readonly P3[]): FittedCircle | undefined {
  const normal = unit(faceNormal(places));
  if (!normal) return undefined;
  const n = places.length;
  const mean = triple((k) => places.reduce((s, p) => s + p[k]!, 0) / n);
  const first = minus(places[0]!, mean);
  const x = unit(along(first, normal, -dot(first, normal))) ?? unit(cross(normal, Math.abs(normal[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0]))!;
  const y = cross(normal, x);
  const flat = places.map((p) => [dot(minus(p, mean), x), dot(minus(p, mean), y)] as const);
  const sum = (f: (a: number, b: number) => number): number => flat.reduce((s, [a, b]) => s + f(a, b), 0);
  const [xx, xy, yy] = [sum((a) => a * a), sum((a, b) => a * b), sum((_, b) => b * b)];
  const square = (a: number, b: number): number => a * a + b * b;
  if (!(xx * yy - xy * xy > 1e-12 * (xx + yy) ** 2)) return undefined;
  // Places are taken from their mean, so that the equation of the radius stands by itself.
  const [[u], [v]] = solveDense(
    [
      [2 * xx, 2 * xy],
      [2 * xy, 2 * yy],
    ],
    [[sum((a, b) => a * square(a, b))], [sum((a, b) => b * square(a, b))]],
  ) as [[number], [number]];
  const radius = Math.sqrt((xx + yy) / n + u * u + v * v);
  return { middle: along(along(mean, x, u), y, v), normal, x, y, radius };
}
