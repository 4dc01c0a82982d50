import { Line } from '@react-three/drei';
import { useThree } from '@react-three/fiber';
import { useEffect, useMemo } from 'react';
import { type Frame, toPlane, toSpace } from '../../core/curves/frame';
import type { Vec3 } from '../../core/geometry/vectors';
import type { Project } from '../../core/recipe/schema';
import { planeWords } from '../../core/recipe/words';
import { useBench } from '../state/bench';
import { pickedSoFar } from '../state/picking';
import { type BoardDrawing, keyOf, useDrawnLines, useDrawnPoints } from './drawnLines';
import type { Extent } from './extent';
import { Label } from './Label';
import { TieLines } from './Ties';

const TEAL = '#0a6a66';

/** The plane a step places or the board lies on, and the drawing on it, where they are in space. */
export function Drawings({
  project,
  extent,
  drawing,
  curves,
}: {
  project: Project;
  extent: Extent;
  drawing: BoardDrawing | null;
  /** Those that steps draw. */
  curves: readonly (readonly Vec3[])[];
}) {
  const step = useBench((s) => s.step);
  const result = useBench((s) => s.result);
  const { invalidate } = useThree();
  const lines = drawing?.lines;
  const told = step !== null ? result?.steps.find((s) => s.id === step) : undefined;
  const active = step !== null ? result?.planes.get(step) : undefined;
  const planes: { frame: Frame; words: string }[] = [];
  if (active && step) planes.push({ frame: active, words: planeWords(step, project) });
  if (drawing && drawing.profile.plane !== step) planes.push({ frame: drawing.frame, words: planeWords(drawing.profile.plane, project) });
  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn anew when what is shown changes
  useEffect(() => {
    const timer = setTimeout(() => invalidate(), 60);
    invalidate();
    return () => clearTimeout(timer);
  }, [lines, curves, told, active, invalidate]);
  return (
    <>
      {planes.map((p) => (
        <PlaneSheet key={p.words} {...p} extent={extent} />
      ))}
      {curves.map((points, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: curves in space stand in the order of their steps
        <Line key={i} points={[...points]} color={TEAL} lineWidth={2} />
      ))}
      {told?.ties && <TieLines ties={told.ties} step={told.id} failed={told.state === 'failed'} project={project} />}
      <LinesToPick project={project} />
      <PointsToPick project={project} />
      {lines?.map((l) => (
        <Line
          key={l.id}
          points={l.points}
          color={TEAL}
          lineWidth={l.construction ? 1 : 2}
          dashed={l.construction}
          dashSize={2}
          gapSize={1.5}
        />
      ))}
    </>
  );
}

/** While a step asks for lines: all there are, seen through bodies, with the one under the pointer and those taken. */
function LinesToPick({ project }: { project: Project }) {
  const drawn = useDrawnLines(project);
  const over = useBench((s) => s.hover?.line);
  const picking = useBench((s) => s.picking);
  const taken = useMemo(() => new Set(picking ? pickedSoFar(picking, project).map(keyOf) : []), [picking, project]);
  const { invalidate } = useThree();
  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn anew when what is shown changes
  useEffect(() => invalidate(), [drawn, over, taken, invalidate]);
  return drawn?.lines.map(({ points }, i) => {
    const key = drawn.edgeNames[i]!;
    const strong = key === over || taken.has(key);
    return (
      <Line
        key={key}
        points={[...points]}
        color={TEAL}
        lineWidth={strong ? 3.5 : 1.5}
        transparent
        opacity={strong ? 1 : 0.55}
        depthTest={false}
        renderOrder={4}
      />
    );
  });
}

/** While a step asks for places: all drawn points there are, seen through bodies. */
function PointsToPick({ project }: { project: Project }) {
  const points = useDrawnPoints(project);
  const { invalidate } = useThree();
  const places = useMemo(() => new Float32Array(points.flatMap((p) => [...p.at])), [points]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn anew when what is shown changes
  useEffect(() => invalidate(), [places, invalidate]);
  if (points.length === 0) return null;
  return (
    <points renderOrder={4} frustumCulled={false}>
      <bufferGeometry key={places.join()}>
        <bufferAttribute attach="attributes-position" args={[places, 3]} />
      </bufferGeometry>
      <pointsMaterial color={TEAL} size={7} sizeAttenuation={false} depthTest={false} transparent />
    </points>
  );
}

/** A sheet of the plane, large enough to cross the body, with its name at a corner. */
function PlaneSheet({ frame, words, extent }: { frame: Frame; words: string; extent: Extent }) {
  const corners = useMemo(() => {
    const eight: Vec3[] = [0, 1, 2, 3, 4, 5, 6, 7].map((i) => [
      (i & 1 ? extent.max : extent.min)[0],
      (i & 2 ? extent.max : extent.min)[1],
      (i & 4 ? extent.max : extent.min)[2],
    ]);
    const flat = eight.map((p) => toPlane(frame, p));
    const size = Math.max(...flat.map((p) => p.x)) - Math.min(...flat.map((p) => p.x));
    const margin = 0.12 * Math.max(size, 10);
    const [x0, x1] = [Math.min(...flat.map((p) => p.x)) - margin, Math.max(...flat.map((p) => p.x)) + margin];
    const [y0, y1] = [Math.min(...flat.map((p) => p.y)) - margin, Math.max(...flat.map((p) => p.y)) + margin];
    return [
      { x: x0, y: y0 },
      { x: x1, y: y0 },
      { x: x1, y: y1 },
      { x: x0, y: y1 },
    ].map((p) => toSpace(frame, p));
  }, [frame, extent]);
  const positions = useMemo(() => new Float32Array([0, 1, 2, 0, 2, 3].flatMap((i) => [...corners[i]!])), [corners]);
  return (
    <group>
      <mesh renderOrder={3}>
        <bufferGeometry key={positions.join()}>
          <bufferAttribute attach="attributes-position" args={[positions, 3]} />
        </bufferGeometry>
        <meshBasicMaterial color={TEAL} transparent opacity={0.07} side={2} depthWrite={false} />
      </mesh>
      <Line points={[...corners, corners[0]!]} color={TEAL} lineWidth={1} transparent opacity={0.6} />
      <Label position={corners[0]!} zIndexRange={[5, 0]}>
        <div className="pointer-events-none whitespace-nowrap bg-stage/80 px-1 text-[11px] text-teal">{words}</div>
      </Label>
    </group>
  );
}
