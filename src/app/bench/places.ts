/** Places in space as they are typed in a step. */
import { evaluateAs, parted, type Scope } from '../../core/dimensions/expression';
import { fail, ok, type Result } from '../../core/result';

export type TypedPlace = readonly [string, string, string];

/**
 * `0, 20 mm, height / 2`: across, away, up from the origin; with an @ before them from the last place.
 * @param last the place before it, where that was typed
 * @returns the three lengths as expressions, so that what they name is followed
 */
export function readSpace(text: string, scope: Scope, last?: TypedPlace): Result<TypedPlace> {
  const relative = text.trim().startsWith('@');
  const parts = parted(relative ? text.trim().slice(1) : text);
  if (parts.length !== 3) return fail('three lengths with commas between are wanted: across, away, up');
  for (const p of parts) {
    const r = evaluateAs(p, 'length', scope);
    if (!r.ok) return r;
  }
  const [x, y, z] = parts as [string, string, string];
  if (!relative) return ok([x, y, z]);
  if (!last) return fail('there is no typed place before it to measure from');
  return ok([sum(last[0], x), sum(last[1], y), sum(last[2], z)]);
}

/** A plain number with its unit, if it has one. */
const PLAIN = /^([+-]?\d+(?:\.\d+)?)\s*([a-z"']*)$/i;

/** Two lengths together: one number where both are plain and of one unit, else an expression that follows what they name. */
function sum(a: string, b: string): string {
  const [p, q] = [PLAIN.exec(a), PLAIN.exec(b)];
  if (q && Number(q[1]) === 0) return a;
  if (p && Number(p[1]) === 0) return b;
  if (p && q && p[2] === q[2]) return `${Number((Number(p[1]) + Number(q[1])).toFixed(9))}${p[2] ? ` ${p[2]}` : ''}`;
  return `${a} + (${b})`;
}
