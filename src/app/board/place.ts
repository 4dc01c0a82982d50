/**
 * A place typed at the board: `25, 0` from the origin, `@5, 3` from the last place, `@10 < 45` by length and angle; a length alone where a size is asked.
 */
import type { Point2 } from '../../core/curves/planar';
import { evaluateAs, parted, type Scope } from '../../core/dimensions/expression';
import { fail, ok, type Result } from '../../core/result';

export function readPlace(
  text: string,
  scope: Scope,
  last: Point2 | undefined,
  /** The place that a size stands for; undefined where none is asked. */
  bySize: (size: number) => Point2 | undefined = () => undefined,
): Result<Point2> {
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
    return size.value > 1e-6 ? ok(bySize(size.value)!) : fail('a size is above zero');
  }
  const x = evaluateAs(across, 'length', scope);
  if (!x.ok) return x;
  const y = evaluateAs(up.join(', '), 'length', scope);
  if (!y.ok) return y;
  return ok({ x: from.x + x.value, y: from.y + y.value });
}
