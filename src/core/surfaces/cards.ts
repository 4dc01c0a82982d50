/**
 * Cardinal splines: each is one at one place, or in one derivative at an end, and nothing at all the others. Of the quintics with three
 * continuous derivatives those of least change of curvature, so that places on a parabola give that parabola. Without unit.
 */
import { basisDerivatives, findSpan } from '../curves/bspline';
import { solveDense } from '../linear';
import { gauss } from '../quadrature';

/** Derivatives that are told at an end: none, the first, the first and second. */
export type EndOrder = 0 | 1 | 2;

export interface Cards {
  /** One for every node, then the derivatives at the start, then those at the end, each of rising order. */
  readonly count: number;
  /** All of them at a parameter. */
  readonly at: (t: number) => readonly number[];
}

const DEGREE = 5;
/** How much bending counts beside its change: only where that leaves a choice, as between two nodes. */
const BEND = 1e-6;
/** A square of a second derivative is of sixth degree: exact by four places, and five are no dearer. */
const PLACES = 5;
/** @param nodes two or more, rising */
export function cards(nodes: readonly number[], start: EndOrder = 0, end: EndOrder = 0): Cards {
  const n = nodes.length;
  const [from, to] = [nodes[0]!, nodes[n - 1]!];
  const ends = (t: number): number[] => new Array<number>(DEGREE + 1).fill(t);
  const knots = [...ends(from), ...nodes.slice(1, -1).flatMap((t) => [t, t]), ...ends(to)];
  const size = knots.length - DEGREE - 1;
  const row = (t: number, order: number): number[] => {
    const span = findSpan(DEGREE, knots, size, t);
    const out = new Array<number>(size).fill(0);
    basisDerivatives(DEGREE, knots, span, t, order)[order]!.forEach((v, k) => {
      out[span - DEGREE + k] = v;
    });
    return out;
  };
  const wanted = [
    ...nodes.map((t) => row(t, 0)),
    ...Array.from({ length: start }, (_, k) => row(from, k + 1)),
    ...Array.from({ length: end }, (_, k) => row(to, k + 1)),
  ];
  const count = wanted.length;
  // Least energy under these: the conditions of a constrained minimum.
  const whole = size + count;
  const rows = Array.from({ length: whole }, () => new Array<number>(whole).fill(0));
  const add = (r: readonly number[], weight: number): void => {
    for (let i = 0; i < size; i++) {
      if (r[i] === 0) continue;
      for (let j = 0; j < size; j++) rows[i]![j] = rows[i]![j]! + weight * r[i]! * r[j]!;
    }
  };
  for (let k = 1; k < n; k++)
    for (const [x, w] of gauss(PLACES)) {
      const h = nodes[k]! - nodes[k - 1]!;
      const t = nodes[k - 1]! + h * x;
      add(row(t, 3), w * h);
      add(row(t, 2), w * h * BEND);
    }
  wanted.forEach((r, k) => {
    r.forEach((v, i) => {
      rows[size + k]![i] = v;
      rows[i]![size + k] = v;
    });
  });
  const poles = solveDense(
    rows,
    Array.from({ length: whole }, (_, i) => Array.from({ length: count }, (_unused, k) => (i === size + k ? 1 : 0))),
  );
  return {
    count,
    at: (t) => {
      const span = findSpan(DEGREE, knots, size, t);
      const values = basisDerivatives(DEGREE, knots, span, t, 0)[0]!;
      return Array.from({ length: count }, (_, k) => values.reduce((sum, b, i) => sum + b * poles[span - DEGREE + i]![k]!, 0));
    },
  };
}
