import { Line } from '@react-three/drei';
import { useThree } from '@react-three/fiber';
import { useEffect } from 'react';
import { along, type Vec3 } from '../../core/geometry/vectors';
import { fixed, formatLength, type LengthUnit } from '../../core/units/units';
import { useBench } from '../state/bench';
import { useColour } from '../ui/theme';
import type { Overall } from './extent';
import { Label } from './Label';
import { leadersOf } from './leaders';

/** Overall sizes as leader lines beside what is shown: height, and diameter where it is round, else width and depth. */
export function Leaders({ overall, units }: { overall: Overall; units: LengthUnit }) {
  const { invalidate } = useThree();
  const view = useBench((s) => s.view.name);
  // As dark as the words, in either theme.
  const line = { color: useColour('--color-ink2'), lineWidth: 1 };
  // Labels take their place one frame after their lines: where frames are drawn on demand that one has to be asked for.
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked for again whenever the lines move
  useEffect(() => {
    const timers = [60, 250].map((ms) => setTimeout(() => invalidate(), ms));
    return () => timers.forEach(clearTimeout);
  }, [overall, view, invalidate]);
  const size = (mm: number): string => (units === 'in' ? `${fixed(mm / 25.4, 2)} in` : fixed(mm, 1));
  const leaders = leadersOf(overall, typeof view === 'string' ? view : undefined, (mm) => formatLength(mm, units, 1), size);
  const ends = (p: Vec3, tick: Vec3): Vec3[] => [along(p, tick, -1), along(p, tick, 1)];
  return (
    <group>
      {leaders.map(({ from, to, tick, words }) => (
        <group key={words}>
          <Line points={[[...from], [...to]]} {...line} />
          {[from, to].map((p) => (
            <Line key={p.join()} points={ends(p, tick).map((q): [number, number, number] => [...q])} {...line} />
          ))}
          <Label position={along(from, to.map((t, k) => t - from[k]!) as unknown as Vec3, 0.5)} center zIndexRange={[5, 0]}>
            <div className="pointer-events-none whitespace-nowrap bg-stage px-1 font-mono text-[12px] text-ink">{words}</div>
          </Label>
        </group>
      ))}
    </group>
  );
}
