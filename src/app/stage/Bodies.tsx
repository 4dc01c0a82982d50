import { Line } from '@react-three/drei';
import { useThree } from '@react-three/fiber';
import { useEffect, useMemo, useState } from 'react';
import * as THREE from 'three';
import { isScan } from '../../core/recipe/lineage';
import { atAnyCopy, type EdgeRef, type FaceRef, sameFace } from '../../core/recipe/names';
import type { Project } from '../../core/recipe/schema';
import { stepOf } from '../../core/recipe/steps';
import type { BodyScene } from '../../engine/types';
import { useBench, useScenes } from '../state/bench';
import { useInspect } from '../state/inspecting';
import { pickedSoFar } from '../state/picking';
import { useShaping } from '../state/shaping';
import { bodyColour } from '../ui/bodyColour';
import type { Extent } from './extent';
import { isFlat } from './flat';
import { Label } from './Label';
import { QuickSkins } from './QuickSkins';
import { Reading } from './Reading';
import { edgePlaces, type Hit, usePointer } from './usePointer';
import { useSkin } from './useSkin';

/** What of the stage goes onto a card. */
export const BODIES = 'bodies';
/** A body that no longer matches the sheet is shown in grey: a change of colour needs no new shader. */
const OLD = '#d3d4cf';
const INK = '#2b3236';
const TEAL = '#0a6a66';
const MADDER = '#a1263a';

/** Clipping of the open half: material beyond the plane towards the viewer is taken away. */
function useClipping(): THREE.Plane[] {
  const cut = useBench((s) => s.section);
  return useMemo(() => {
    if (!cut) return [];
    const n = new THREE.Vector3(cut.axis === 'x' ? -1 : 0, cut.axis === 'y' ? 1 : 0, cut.axis === 'z' ? -1 : 0);
    return [new THREE.Plane(n, cut.axis === 'y' ? -cut.offset : cut.offset)];
  }, [cut]);
}

/** @param reading the body that is inspected shows its reading instead of its material */
export function Bodies({ project, extent, reading }: { project: Project; extent: Extent; reading: boolean }) {
  const all = useScenes();
  const asked = useInspect((s) => s.body);
  // Inspected, a body stands alone.
  const only = reading ? (all.find((s) => s.id === asked) ?? all[0])?.id : undefined;
  const scenes = useMemo(
    () => all.filter((s) => (only === undefined ? !project.bodies[s.id]?.hidden : s.id === only)),
    [all, project.bodies, only],
  );
  const preview = useBench((s) => s.preview);
  const quick = useBench((s) => s.quick);
  const stale = useBench((s) => s.stale && !s.kept);
  const picking = useBench((s) => s.picking !== null);
  const chosenStep = useBench((s) => s.step);
  const clipping = useClipping();
  const read = useInspect((s) => s.answer?.body ?? null);
  const coloured = useInspect((s) => s.answer?.overlay != null);
  const covered = reading && !preview && coloured ? read : null;
  const { invalidate } = useThree();
  const [hover, setHover] = useState<Hit | null>(null);
  useEffect(() => {
    invalidate();
  });
  const formView = useShaping((s) => s.view);
  const reflecting = useShaping((s) => s.reflect);
  const form = stepOf(project, chosenStep, 'form');
  // A cage that is worked on takes the pointer; seen alone, or as a mirror, it stands in for its body.
  const shaping = !reading && !picking && form !== undefined && formView !== 'body' && form.inputs.source.by === 'cage';
  const standsIn = !reading && form !== undefined && (formView === 'cage' || reflecting);
  const hidden = standsIn ? (form.inputs.body ?? form.id) : null;
  usePointer(project, scenes, preview !== null || quick !== null || shaping, setHover);
  return (
    <>
      <group name={BODIES}>
        {!preview &&
          scenes
            .filter((s) => s.id !== hidden)
            .map((s) => (
              <Body
                key={s.id}
                scene={s}
                project={project}
                clipping={clipping}
                old={stale}
                hover={hover?.body === s ? hover : null}
                covered={covered === s.id}
                away={quick?.bodies.includes(s.id) ?? false}
                without={quick?.faces.join('\n') ?? ''}
              />
            ))}
      </group>
      {quick && <QuickSkins quick={quick} clipping={clipping} />}
      {reading && !preview && read !== null && <Reading clipping={clipping} />}
      {(standsIn ? null : preview)?.map((m, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: preview meshes stand for nothing beyond their order
        <Preview key={i} mesh={m} clipping={clipping} />
      ))}
      <AxisLine extent={extent} />
    </>
  );
}

function AxisLine({ extent }: { extent: Extent }) {
  const over = (extent.max[2] - extent.min[2]) * 0.06;
  // The same list while nothing changes: another one would have its material compiled anew.
  const points = useMemo(
    (): [number, number, number][] => [
      [0, 0, extent.min[2] - over],
      [0, 0, extent.max[2] + over],
    ],
    [extent, over],
  );
  return <Line points={points} color={TEAL} lineWidth={1} dashed dashSize={over * 0.8} gapSize={over * 0.3} transparent opacity={0.55} />;
}

function Preview({
  mesh,
  clipping,
}: {
  mesh: { positions: Float32Array; normals: Float32Array; indices: Uint32Array };
  clipping: THREE.Plane[];
}) {
  const geometry = useSkin(mesh);
  return (
    <mesh geometry={geometry}>
      <meshStandardMaterial color="#dfe4dc" roughness={0.7} side={THREE.DoubleSide} clippingPlanes={clipping} />
    </mesh>
  );
}

export function Body({
  scene,
  project,
  clipping,
  old,
  hover,
  covered,
  away = false,
  without = '',
}: {
  scene: BodyScene;
  project: Project;
  clipping: THREE.Plane[];
  old: boolean;
  hover: Hit | null;
  /** Its reading stands in for its material. */
  covered: boolean;
  /** Something stands in for all of it. It stays ready to be drawn. */
  away?: boolean;
  /** Faces whose names begin so are left out; one a line. */
  without?: string;
}) {
  const picking = useBench((s) => s.picking);
  const geometry = useMemo(() => {
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(scene.positions, 3));
    g.setAttribute('normal', new THREE.BufferAttribute(scene.normals, 3));
    g.setIndex(new THREE.BufferAttribute(indicesOf(scene, without), 1));
    return g;
  }, [scene, without]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  const lines = useMemo(() => {
    const gone = without === '' ? [] : without.split('\n');
    const keep: number[] = [];
    for (let i = 0; i < scene.edgeOf.length; i++)
      if (scene.edgeNames[scene.edgeOf[i]!] !== '' && !gone.some((w) => scene.edgeNames[scene.edgeOf[i]!]!.includes(w)))
        for (let k = 0; k < 6; k++) keep.push(scene.segments[6 * i + k]!);
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.Float32BufferAttribute(keep, 3));
    return g;
  }, [scene, without]);
  useEffect(() => () => lines.dispose(), [lines]);
  const picks = usePicked(project, scene);
  const scan = isScan(project, scene.id);
  const colour = bodyColour(project, scene.id);
  const pointed = useBench((s) => s.pointed === scene.id);
  return (
    <group visible={!away}>
      <mesh geometry={geometry} visible={!covered}>
        <meshPhysicalMaterial
          color={old ? OLD : colour}
          emissive={TEAL}
          emissiveIntensity={pointed ? 0.4 : 0}
          roughness={0.52}
          clearcoat={0.25}
          clearcoatRoughness={0.5}
          side={THREE.DoubleSide}
          clippingPlanes={clipping}
          polygonOffset
          // What was fitted to a scan lies in it: it is drawn before it.
          polygonOffsetFactor={scan ? 3 : 1}
          polygonOffsetUnits={scan ? 300 : 1}
        />
      </mesh>
      <lineSegments geometry={lines}>
        <lineBasicMaterial color={INK} transparent opacity={0.75} clippingPlanes={clipping} />
      </lineSegments>
      {picks.faces.map((f) => (
        <FaceTint key={`f${f}`} scene={scene} face={f} opacity={0.45} clipping={clipping} />
      ))}
      {picks.edges.map((e) => (
        <EdgeTint key={`e${e}`} scene={scene} edge={e} width={3.5} />
      ))}
      <Candidates scene={scene} clipping={clipping} />
      {hover && hover.edge >= 0 && <EdgeTint scene={scene} edge={hover.edge} width={3} />}
      {hover?.end && <Spot at={edgePlaces(scene, hover.edge)[hover.end]} />}
      {hover &&
        hover.edge < 0 &&
        hover.face >= 0 &&
        (picking?.what === 'faces' || picking?.what === 'things' || (picking?.what === 'flats' && isFlat(scene, hover.face))) && (
          <FaceTint scene={scene} face={hover.face} opacity={0.3} clipping={clipping} />
        )}
    </group>
  );
}

/** Its facets without those of faces whose names begin so. */
function indicesOf({ indices, faceOf, faceNames }: BodyScene, without: string): Uint32Array {
  if (without === '') return indices;
  const beginnings = without.split('\n');
  const gone = faceNames.map((n) => beginnings.some((w) => n.startsWith(w)));
  return indices.filter((_, i) => !gone[faceOf[Math.floor(i / 3)]!]);
}

/** Faces and edges that the step being picked for, or the active step, refers to. */
function usePicked(project: Project, scene: BodyScene): { faces: number[]; edges: number[] } {
  const picking = useBench((s) => s.picking);
  return useMemo(() => {
    const refs = (picking ? pickedSoFar(picking, project) : []) as (FaceRef | EdgeRef)[];
    const faces: number[] = [];
    const edges: number[] = [];
    for (const r of refs) {
      if ('face' in r) for (const [i, n] of scene.faceNames.entries()) if (sameFace(r.face, n)) faces.push(i);
      if ('edge' in r) for (const [i, n] of scene.edgeNames.entries()) if (n === r.edge) edges.push(i);
      if ('alike' in r) {
        const like = atAnyCopy(r.alike);
        for (const [i, n] of scene.edgeNames.entries()) if (atAnyCopy(n) === like) edges.push(i);
      }
    }
    return { faces, edges };
  }, [picking, project, scene]);
}

/** What may be meant by a pick that a failed step has lost, numbered as on the sheet. */
function Candidates({ scene, clipping }: { scene: BodyScene; clipping: THREE.Plane[] }) {
  const steps = useBench((s) => s.result?.steps);
  const chosen = useBench((s) => s.step);
  const failed = steps?.filter((s) => s.lost?.body === scene.id) ?? [];
  const lost = (failed.find((s) => s.id === chosen) ?? failed[0])?.lost;
  if (!lost) return null;
  const names = lost.what === 'face' ? scene.faceNames : scene.edgeNames;
  return lost.candidates.map((name, i) => {
    const index = names.indexOf(name);
    if (index < 0) return null;
    const at = lost.what === 'face' ? facePlace(scene, index) : edgePlaces(scene, index).middle;
    return (
      <group key={name}>
        {lost.what === 'face' ? (
          <FaceTint scene={scene} face={index} opacity={0.4} clipping={clipping} colour={MADDER} />
        ) : (
          <EdgeTint scene={scene} edge={index} width={4} colour={MADDER} />
        )}
        <Label position={at} center zIndexRange={[6, 0]}>
          <div className="pointer-events-none rounded-full border border-madder bg-card px-1.5 font-mono text-[12px] text-madder">
            {i + 1}
          </div>
        </Label>
      </group>
    );
  });
}

/** The middle of a face's largest facet. */
function facePlace(scene: BodyScene, face: number): THREE.Vector3 {
  const best = { area: -1, at: new THREE.Vector3() };
  const corner = (t: number, k: number): THREE.Vector3 => new THREE.Vector3().fromArray(scene.positions, 3 * scene.indices[3 * t + k]!);
  for (let t = 0; t < scene.faceOf.length; t++) {
    if (scene.faceOf[t] !== face) continue;
    const triangle = new THREE.Triangle(corner(t, 0), corner(t, 1), corner(t, 2));
    if (triangle.getArea() > best.area) Object.assign(best, { area: triangle.getArea(), at: triangle.getMidpoint(new THREE.Vector3()) });
  }
  return best.at;
}

function FaceTint({
  scene,
  face,
  opacity,
  clipping,
  colour = TEAL,
}: {
  scene: BodyScene;
  face: number;
  opacity: number;
  clipping: THREE.Plane[];
  colour?: string;
}) {
  const geometry = useMemo(() => {
    const index: number[] = [];
    for (let t = 0; t < scene.faceOf.length; t++)
      if (scene.faceOf[t] === face) index.push(scene.indices[3 * t]!, scene.indices[3 * t + 1]!, scene.indices[3 * t + 2]!);
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(scene.positions, 3));
    g.setIndex(index);
    return g;
  }, [scene, face]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return (
    <mesh geometry={geometry} renderOrder={2}>
      <meshBasicMaterial
        color={colour}
        transparent
        opacity={opacity}
        side={THREE.DoubleSide}
        depthWrite={false}
        clippingPlanes={clipping}
      />
    </mesh>
  );
}

/** A place on an edge that a click would take. */
function Spot({ at }: { at: THREE.Vector3 }) {
  return (
    <points renderOrder={4}>
      <bufferGeometry>
        <bufferAttribute attach="attributes-position" args={[new Float32Array([at.x, at.y, at.z]), 3]} />
      </bufferGeometry>
      <pointsMaterial color={TEAL} size={11} sizeAttenuation={false} depthTest={false} />
    </points>
  );
}

function EdgeTint({ scene, edge, width, colour = TEAL }: { scene: BodyScene; edge: number; width: number; colour?: string }) {
  const points = useMemo(() => {
    const out: [number, number, number][] = [];
    for (let i = 0; i < scene.edgeOf.length; i++)
      if (scene.edgeOf[i] === edge)
        for (const o of [0, 3]) out.push([scene.segments[6 * i + o]!, scene.segments[6 * i + o + 1]!, scene.segments[6 * i + o + 2]!]);
    return out;
  }, [scene, edge]);
  if (points.length < 2) return null;
  return <Line points={points} segments color={colour} lineWidth={width} />;
}
