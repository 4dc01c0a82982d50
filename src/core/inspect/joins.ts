/** How faces meet along their edges: continuity classes by adjustable limits. */

export interface JoinReading {
  readonly edge: string;
  /** mm. */
  readonly length: number;
  /** Largest distance between the two faces along the edge, mm. */
  readonly gap: number;
  /** Largest angle between their normals, rad. */
  readonly angle: number;
  /** Largest difference of their curvatures across the edge, 1/mm, and as a share of their sum. */
  readonly bend: number;
  readonly mismatch: number;
  /** Where the angle, or in a smooth join the difference, is largest. */
  readonly at: readonly [number, number, number];
  /** Places along the edge, mm. */
  readonly places: readonly (readonly [number, number, number])[];
  /** Along the edge at even shares: angle (rad) and difference of curvature (1/mm). */
  readonly along: readonly { readonly angle: number; readonly bend: number }[];
}

/** Limits of the classes: common practice, no source. */
export interface JoinLimits {
  /** mm. */
  readonly gap: number;
  /** rad. */
  readonly angle: number;
  /** Share of the sum of the two curvatures. */
  readonly mismatch: number;
  /** 1/mm; a smaller difference counts as none, whatever its share. */
  readonly bend: number;
}

export const JOIN_LIMITS: JoinLimits = { gap: 0.01, angle: (0.5 * Math.PI) / 180, mismatch: 0.05, bend: 1e-4 };
/** Edges between G1’s limit and this angle were meant to be smooth, as far as a program can tell; rad. */
const MEANT_SMOOTH = (8 * Math.PI) / 180;

export type JoinClass = 'open' | 'G0' | 'G1' | 'G2';

export function joinClass(j: Pick<JoinReading, 'gap' | 'angle' | 'bend' | 'mismatch'>, limits: JoinLimits = JOIN_LIMITS): JoinClass {
  if (j.gap > limits.gap) return 'open';
  if (j.angle > limits.angle) return 'G0';
  return j.mismatch > limits.mismatch && j.bend > limits.bend ? 'G1' : 'G2';
}

/** A join that is nearly smooth and isn’t. */
export const nearlySmooth = (j: JoinReading, limits: JoinLimits = JOIN_LIMITS): boolean =>
  joinClass(j, limits) === 'G0' && j.angle < MEANT_SMOOTH;
