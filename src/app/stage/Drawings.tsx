import { Line } from '@react-three/drei';
import { useThree } from '@react-three/fiber';
import { useEffect, useMemo } from 'react';
import { type Frame, isOriginPlane, ORIGIN_PLANES, toPlane, toSpace } from '../../core/curves/frame';
import { flatten } from '../../core/curves/planar';
import type { Vec3 } from '../../core/geometry/vectors';
import { withFollowed } from '../../core/profile/follow';
import { resolveProfile } from '../../core/profile/resolve';
import type { Project } from '../../core/recipe/schema';
import { planeWords } from '../../core/recipe/words';
import { useBench } from '../state/bench';
import { tableOf } from '../state/project';
import type { Extent } from './extent';
import { Label } from './Label';
import { TieLines } from './Ties';

const TEAL = '#0a6a66';

/** The plane a step places or the board lies on, and the drawing on it, where they are in space. */
export function Drawings({ project, extent }: { project: Project; extent: Extent }) {
  const chosen = useBench((s) => s.profile);
  const step = useBench((s) => s.step);
  const result = useBench((s) => s.result);
  const { invalidate } = useThree();
  const profile = project.profiles.find((p) => p.id === chosen) ?? project.profiles[0];
  const place = profile && result?.profiles.get(profile.id);
  const frame = profile && (isOriginPlane(profile.plane) ? ORIGIN_PLANES[profile.plane] : place?.frame);
  const used = project.steps.some((s) => s.enabled && s.inputs.profile === profile?.id);
  // A half profile on the front plane stands inside its own body: there the board shows enough.
  const shown = profile && frame && (profile.plane !== 'front' || !used);
  const scope = tableOf(project).scope;
  const lines = useMemo(() => {
    if (!profile || !frame || !shown) return [];
    const r = resolveProfile(withFollowed(profile, place?.follows ?? undefined), scope);
    if (!r.ok) return [];
    return r.value.curves.map((c) => ({
      id: c.id,
      construction: c.construction,
      points: flatten(c.curve, 0.1).map((p) => toSpace(frame, p)),
    }));
  }, [profile, frame, shown, place, scope]);
  const curves = useMemo(
    () =>
      [...(result?.paths.values() ?? [])].map((p) =>
        Array.from({ length: p.length / 3 }, (_, i): [number, number, number] => [p[3 * i]!, p[3 * i + 1]!, p[3 * i + 2]!]),
      ),
    [result],
  );
  const told = step !== null ? result?.steps.find((s) => s.id === step) : undefined;
  const active = step !== null ? result?.planes.get(step) : undefined;
  const planes: { frame: Frame; words: string }[] = [];
  if (active && step) planes.push({ frame: active, words: planeWords(step, project) });
  if (profile && shown && profile.plane !== step) planes.push({ frame, words: planeWords(profile.plane, project) });
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
        <Line key={i} points={points} color={TEAL} lineWidth={2} />
      ))}
      {told?.ties && <TieLines ties={told.ties} step={told.id} failed={told.state === 'failed'} project={project} />}
      {lines.map((l) => (
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
