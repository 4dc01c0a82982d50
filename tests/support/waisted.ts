/** A solid whose edges are closed splines. */
import { interpolateSurface } from '../../src/core/surfaces/space';
import type { Kernel, Shape } from '../../src/kernel/open';
import { skinBody } from '../../src/kernel/skin';

/** A waisted post whose side is one periodic spline. */
export function waisted(kernel: Kernel): Shape {
  const knots = (n: number): number[] => Array.from({ length: n + 1 }, (_, i) => i / n);
  const u = { degree: 3, knots: knots(24), periodic: true };
  const v = { degree: 3, knots: knots(6), periodic: false };
  const side = interpolateSurface(u, v, (a, b) => {
    const r = 12 - 4 * Math.sin(Math.PI * b) + Math.cos(10 * Math.PI * a);
    return [r * Math.cos(2 * Math.PI * a), r * Math.sin(2 * Math.PI * a), 60 * b - 30];
  });
  const caps = {
    start: { origin: [0, 0, -30], normal: [0, 0, -1], name: 'bottom' },
    end: { origin: [0, 0, 30], normal: [0, 0, 1], name: 'top' },
  } as const;
  const body = skinBody(kernel, [[side]], () => 'side', caps, false, 's1');
  if (!body.ok) throw new Error(body.error.why);
  return body.value.shape;
}
