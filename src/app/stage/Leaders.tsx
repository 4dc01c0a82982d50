import { Line } from '@react-three/drei';
import { useThree } from '@react-three/fiber';
import { useEffect } from 'react';
import { fixed, formatLength, type LengthUnit } from '../../core/units/units';
import { useColour } from '../ui/theme';
import type { Overall } from './extent';
import { Label } from './Label';

/** Overall sizes as leader lines beside what is shown: height, and diameter where it is round, else width and depth. */
export function Leaders({ overall: extent, units }: { overall: Overall; units: LengthUnit }) {
  const { invalidate } = useThree();
  // Labels take their place one frame after their lines: where frames are drawn on demand that one has to be asked for.
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked for again whenever the lines move
  useEffect(() => {
    const timers = [60, 250].map((ms) => setTimeout(() => invalidate(), ms));
    return () => timers.forEach(clearTimeout);
  }, [extent, invalidate]);
  const [x0, , z0] = extent.min;
  const [x1, , z1] = extent.max;
  const w = x1 - x0;
  const h = z1 - z0;
  const size = (mm: number): string => (units === 'in' ? `${fixed(mm / 25.4, 2)} in` : fixed(mm, 1));
  const gap = Math.max(w, h) * 0.12;
  const y = (extent.min[1] + extent.max[1]) / 2;
  const tick = gap * 0.25;
  const top = z1 + gap * 1.25;
  // As dark as the words, in either theme.
  const line = { color: useColour('--color-ink2'), lineWidth: 1 };
  const text = 'whitespace-nowrap bg-stage px-1 font-mono text-[12px] text-ink pointer-events-none';
  return (
    <group>
      <Line
        points={[
          [x1 + gap, y, z0],
          [x1 + gap, y, z1],
        ]}
        {...line}
      />
      <Line
        points={[
          [x1 + gap - tick, y, z0],
          [x1 + gap + tick, y, z0],
        ]}
        {...line}
      />
      <Line
        points={[
          [x1 + gap - tick, y, z1],
          [x1 + gap + tick, y, z1],
        ]}
        {...line}
      />
      <Label position={[x1 + gap, y, (z0 + z1) / 2]} center zIndexRange={[5, 0]}>
        <div className={text}>{formatLength(h, units, 1)}</div>
      </Label>
      <Line
        points={[
          [x0, y, top],
          [x1, y, top],
        ]}
        {...line}
      />
      <Line
        points={[
          [x0, y, top - tick],
          [x0, y, top + tick],
        ]}
        {...line}
      />
      <Line
        points={[
          [x1, y, top - tick],
          [x1, y, top + tick],
        ]}
        {...line}
      />
      <Label position={[(x0 + x1) / 2, y, top]} center zIndexRange={[5, 0]}>
        <div className={text}>{extent.round ? `⌀ ${size(w)}` : `${size(w)} wide, ${size(extent.max[1] - extent.min[1])} deep`}</div>
      </Label>
    </group>
  );
}
