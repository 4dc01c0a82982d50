/**
 * A place typed at the board: `25, 0` from the origin, `@5, 3` from the last place, `@10 < 45` by length and angle; a length alone where a size is asked.
 */
import type { Point2 } from '../../core/curves/planar';
import { evaluateAs, namesIn, parted, type Scope } from '../../core/dimensions/expression';
import type { NewConstraint } from '../../core/profile/draw';
import type { Keep } from '../../core/profile/snap';
import { fail, ok, type Result } from '../../core/result';

export interface TypedPlace extends Point2 {
  /** What of it follows named dimensions, each held by a dimension of the drawing. */
  readonly typed?: readonly Keep[];
  /** Which coordinates those are. */
  readonly held?: { readonly across: boolean; readonly up: boolean };
  /** A size alone that follows a named dimension, as typed. */
  readonly size?: string;
}

/** A value turned round, as somebody would write it. */
const negated = (text: string): string => {
  const t = text.trim();
  return /^-[^+-]*$/.test(t) ? t.slice(1).trim() : `-(${t})`;
};

/** The dimension that holds a coordinate as it was typed; none where it is nothing: there the place falls onto a line. */
function heldBy(text: string, value: number, direction: 'horizontal' | 'vertical', relative: boolean): Keep | undefined {
  if (Math.abs(value) < 1e-9) return undefined;
  // A distance has no sign: the drawing knows the side.
  const words = value < 0 ? negated(text) : text.trim();
  return (b, before): NewConstraint | undefined => {
    const a = relative ? before : 'origin';
    return a ? { kind: 'distance', a, b, direction, value: words, driving: true } : undefined;
  };
}

export function readPlace(
  text: string,
  scope: Scope,
  last: Point2 | undefined,
  /** The place that a size stands for; undefined where none is asked. */
  bySize: (size: number) => Point2 | undefined = () => undefined,
): Result<TypedPlace> {
  const t = text.trim();
  const relative = t.startsWith('@');
  const from = relative ? last : { x: 0, y: 0 };
  if (!from) return fail('there is no last place to measure from');
  const body = relative ? t.slice(1) : t;
  const polar = body.split('<');
  if (polar.length === 2) {
    const length = evaluateAs(polar[0]!, 'length', scope);
    if (!length.ok) return length;
    const angle = evaluateAs(polar[1]!, 'angle', scope);
    if (!angle.ok) return angle;
    return ok({ x: from.x + length.value * Math.cos(angle.value), y: from.y + length.value * Math.sin(angle.value) });
  }
  const [across, ...up] = parted(body) as [string, ...string[]];
  if (up.length === 0) {
    // Any size tells whether one is asked for at all.
    if (relative || !bySize(1)) return fail('type two values with a comma between: across, up');
    const size = evaluateAs(across, 'length', scope);
    if (!size.ok) return size;
    if (!(size.value > 1e-6)) return fail('a size is above zero');
    return ok({ ...bySize(size.value)!, ...(namesIn(across).length > 0 ? { size: across.trim() } : {}) });
  }
  const x = evaluateAs(across, 'length', scope);
  if (!x.ok) return x;
  const y = evaluateAs(up.join(', '), 'length', scope);
  if (!y.ok) return y;
  const at = { x: from.x + x.value, y: from.y + y.value };
  // One that follows a dimension is held as a whole: a number beside it was meant as well.
  if (![across, up.join(', ')].some((v) => namesIn(v).length > 0)) return ok(at);
  const holds = [heldBy(across, x.value, 'horizontal', relative), heldBy(up.join(', '), y.value, 'vertical', relative)] as const;
  return ok({ ...at, typed: holds.filter((k) => k !== undefined), held: { across: holds[0] !== undefined, up: holds[1] !== undefined } });
}

/** Whether a relation speaks only of the coordinate that is not held already. */
export function leaves(c: NewConstraint, held: { readonly across: boolean; readonly up: boolean }): boolean {
  const across = c.kind === 'vertical' || (c.kind === 'on-curve' && c.curve === 'axis');
  const up = c.kind === 'horizontal' || (c.kind === 'on-curve' && c.curve === 'level');
  return (across && !held.across) || (up && !held.up);
}
