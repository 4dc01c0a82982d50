import { Line } from '@react-three/drei';
import { useThree } from '@react-three/fiber';
import { useEffect } from 'react';
import type { MeasureReading } from '../../core/inspect/measured';
import { readingWords } from '../../core/recipe/measure-words';
import type { Project } from '../../core/recipe/schema';
import { useInspect } from '../state/inspecting';
import { Label } from './Label';

/** What was measured, as leader lines that stay. */
export function MeasureLines({ project }: { project: Project }) {
  const measured = useInspect((s) => s.measured);
  const { invalidate } = useThree();
  // Labels take their place a frame after their lines.
  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn anew when what is measured changes
  useEffect(() => {
    const timers = [0, 60, 250].map((ms) => setTimeout(() => invalidate(), ms));
    return () => timers.forEach(clearTimeout);
  }, [measured, invalidate]);
  return measured.map((m) => ('why' in m ? null : <Leader key={m.id} reading={m} project={project} />));
}

function Leader({ reading, project }: { reading: MeasureReading; project: Project }) {
  const way = reading.distance && reading.distance.value > 1e-7 ? reading.distance : reading.centres;
  const middle = way ? way.from.map((x, k) => (x + way.to[k]!) / 2) : [...reading.a.at];
  const words = readingWords(reading, project.units)[0]!;
  return (
    <>
      {way && <Line points={[[...way.from], [...way.to]]} color="#0a6a66" lineWidth={2.5} depthTest={false} renderOrder={6} />}
      {way && (
        <Line
          points={[[...way.from], [...way.to]]}
          color="#eeefec"
          lineWidth={1}
          depthTest={false}
          renderOrder={7}
          dashed
          dashSize={1.5}
          gapSize={1.5}
        />
      )}
      <Label position={middle as [number, number, number]} zIndexRange={[9, 0]}>
        <div
          data-testid="leader"
          className="pointer-events-none -translate-y-1/2 translate-x-2 whitespace-nowrap border border-teal bg-card px-1 font-mono text-[12px] text-ink"
        >
          {words}
        </div>
      </Label>
    </>
  );
}
