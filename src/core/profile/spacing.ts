/** The arithmetic of a row of equal things: how many, how far apart, and what is left over. Counts include the original. */
import { fail, ok, type Result } from '../result';
import { fixed } from '../units/units';

export interface RowPlan {
  readonly count: number;
  /** From one to the next, mm (or rad). */
  readonly spacing: number;
  /** Clear gap between neighbours, mm. */
  readonly gap: number;
  /** What the length still has beside the row and both margins, mm; only where a length was given. */
  readonly left?: number;
}

export interface RowRequest {
  readonly by: 'spacing' | 'extent' | 'fit';
  readonly count: number;
  /** Spacing, or the length the row may take. */
  readonly length: number;
  /** Kept free at both ends of the length. */
  readonly margin: number;
  /** Clear gap wanted between neighbours, for `fit`. */
  readonly gap: number;
  /** Size of one of them along the row. */
  readonly size: number;
}

/**
 * @example planRow({ by: 'fit', count: 0, length: 100, margin: 5, gap: 2, size: 6 }) // 11 things, spacing 8, left 4
 */
export function planRow(r: RowRequest): Result<RowPlan> {
  const whole = Math.round(r.count);
  if (r.by !== 'fit' && (Math.abs(whole - r.count) > 1e-9 || whole < 1)) return fail('a count is a whole number from 1 up');
  if (r.by !== 'fit' && whole > 500) return fail('at most 500 copies are made');
  if (r.by === 'spacing') return ok({ count: whole, spacing: r.length, gap: Math.abs(r.length) - r.size });
  const room = r.length - 2 * r.margin;
  if (!(room >= r.size - 1e-9))
    return fail(`between the margins ${fixed(Math.max(0, room), 3)} mm are left, and one takes ${fixed(r.size, 3)} mm`);
  if (r.by === 'extent') {
    if (whole === 1) return ok({ count: 1, spacing: 0, gap: 0, left: room - r.size });
    const spacing = (room - r.size) / (whole - 1);
    return ok({ count: whole, spacing, gap: spacing - r.size, left: 0 });
  }
  const pitch = r.size + r.gap;
  if (!(pitch > 1e-9)) return fail('size and gap together must be more than nothing');
  const count = Math.floor((room + r.gap) / pitch + 1e-9);
  if (count > 500) return fail(`${count} would fit; at most 500 copies are made`);
  return ok({ count, spacing: pitch, gap: r.gap, left: room - (count * pitch - r.gap) });
}

/** From one of a ring to the next, rad: an angle as it is, or one that all of them take; a whole turn ends where it begins. @param count with the original */
export function ringTurn(by: RowRequest['by'], count: number, angle: number): number {
  if (by === 'spacing') return angle;
  if (count <= 1) return 0;
  const full = Math.abs(Math.abs(angle) - 2 * Math.PI) < 1e-9;
  return angle / (full ? count : count - 1);
}

/** Where the copies stand, counted in steps from the original: one way, or to either side in turns. @param count with the original */
export const copySteps = (count: number, bothWays: boolean): number[] =>
  Array.from({ length: Math.max(0, count - 1) }, (_, i) => i + 1).map((k) => (!bothWays ? k : k % 2 === 1 ? (k + 1) / 2 : -k / 2));
