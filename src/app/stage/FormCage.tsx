import { useThree } from '@react-three/fiber';
import { useEffect, useMemo } from 'react';
import * as THREE from 'three';
import { type Frame, isOriginPlane, ORIGIN_PLANES, overPlane } from '../../core/curves/frame';
import { type Cage, edgeCount, type P3 } from '../../core/form/cage';
import { type Picked, verticesOf } from '../../core/form/edit/select';
import { topologyOf } from '../../core/form/edit/topology';
import { cageOf } from '../../core/form/read';
import type { Project } from '../../core/recipe/schema';
import { stepOf } from '../../core/recipe/steps';
import { useBench } from '../state/bench';
import { tableOf } from '../state/project';
import { cageStep, readCage, useShaping } from '../state/shaping';
import { CageHandles } from './CageHandles';
import { facesGeometry } from './cageGeometry';
import { Label } from './Label';
import { LimitStripes } from './LimitStripes';
import { Wire } from './Wire';

const TEAL = '#0a6a66';
const AMBER = '#8a5000';
const INK = '#2b3236';
/** Marks beyond these would cover the body. */
const MOST_MARKS = 60;

/** The cage of the form that is worked on, as it is kept, and the plane it stands on. */
export interface StoredCage {
  readonly cage: Cage;
  readonly plane: Frame;
}

export function useStoredCage(project: Project): StoredCage | null {
  const step = useBench((s) => s.step);
  const planes = useBench((s) => s.result?.planes);
  const inputs = stepOf(project, step, 'form')?.inputs;
  return useMemo(() => {
    const plane = inputs && (isOriginPlane(inputs.plane) ? ORIGIN_PLANES[inputs.plane] : planes?.get(inputs.plane));
    if (!inputs || !plane) return null;
    if (inputs.source.by === 'cage') {
      const read = readCage(inputs.source, project)?.cage;
      return read ? { cage: read, plane } : null;
    }
    const cage = cageOf(inputs.source, tableOf(project).scope);
    return cage.ok ? { cage: cage.value, plane } : null;
  }, [inputs, planes, project]);
}

/** Its places in space, x y z in a row. */
export const cagePlaces = ({ cage, plane }: StoredCage): number[] => cage.vertices.flatMap((p) => [...overPlane(plane, p)]);

/** The cage of the form that is worked on, around its body: creased edges stand out, what is picked is filled in. */
export function FormCage({ project, kept }: { project: Project; kept: StoredCage | null }) {
  const step = useBench((s) => s.step);
  const { view, draft, reflect, picked, under, marks } = useShaping();
  const found = cageStep(project, step);
  const { invalidate } = useThree();
  const stored = kept?.cage;
  const plane = kept?.plane;
  const cage = draft ?? stored;
  useEffect(() => {
    invalidate();
  });
  if (!cage || !plane) return null;
  return (
    <>
      {view !== 'body' && <Wires cage={cage} plane={plane} filled={view === 'cage'} />}
      {view !== 'body' && found && <Highlight cage={cage} plane={plane} picked={picked} tint={TEAL} />}
      {view !== 'body' && found && under && <Highlight cage={cage} plane={plane} picked={under} tint={AMBER} />}
      {view !== 'body' && marks && <Marks cage={cage} plane={plane} />}
      {reflect && view !== 'cage' && <LimitStripes cage={cage} plane={plane} />}
      {found && view !== 'body' && stored && (
        <CageHandles project={project} step={found.step.id} cage={stored} shown={cage} plane={plane} />
      )}
    </>
  );
}

type Three = [number, number, number];
const onto = (plane: Frame, p: P3): Three => [...overPlane(plane, p)];

function Wires({ cage, plane, filled }: { cage: Cage; plane: Frame; filled: boolean }) {
  const lines = useMemo(() => {
    const t = topologyOf(cage);
    if (!t.ok) return null;
    const weights = new Map(cage.creases.map(([a, b, w]) => [t.value.edge(a, b), w]));
    const [plain, creased]: [Three[], Three[]] = [[], []];
    for (let e = 0; e < edgeCount(t.value.net); e++)
      ((weights.get(e) ?? 0) > 0 ? creased : plain).push(...[0, 1].map((k) => onto(plane, cage.vertices[t.value.net.ends[2 * e + k]!]!)));
    return { plain, creased };
  }, [cage, plane]);
  const skin = useMemo(() => {
    if (!filled) return null;
    const g = facesGeometry(cage, plane).toNonIndexed();
    g.computeVertexNormals();
    return g;
  }, [cage, plane, filled]);
  useEffect(() => () => skin?.dispose(), [skin]);
  if (!lines) return null;
  return (
    <>
      <Wire points={lines.plain} color={TEAL} width={1.2} />
      <Wire points={lines.creased} color={AMBER} width={3} />
      {skin && (
        <mesh geometry={skin}>
          <meshStandardMaterial
            color="#e9e3d3"
            roughness={0.7}
            side={THREE.DoubleSide}
            polygonOffset
            polygonOffsetFactor={1}
            polygonOffsetUnits={1}
          />
        </mesh>
      )}
    </>
  );
}

/** What is picked or lies under the pointer: faces filled, edges thick, vertices as squares. */
function Highlight({ cage, plane, picked, tint }: { cage: Cage; plane: Frame; picked: Picked; tint: string }) {
  const gone = picked.kind === 'faces' ? picked.faces.some((f) => !cage.faces[f]) : verticesOf(cage, picked).some((v) => !cage.vertices[v]);
  const faces = useMemo(
    () =>
      picked.kind === 'faces' && !gone && picked.faces.length > 0
        ? facesGeometry(
            cage,
            plane,
            picked.faces.map((f) => cage.faces[f]!),
          )
        : null,
    [cage, plane, picked, gone],
  );
  const points = useMemo(() => {
    if (picked.kind !== 'vertices' || gone || picked.vertices.length === 0) return null;
    const g = new THREE.BufferGeometry();
    g.setAttribute(
      'position',
      new THREE.BufferAttribute(Float32Array.from(picked.vertices.flatMap((v) => onto(plane, cage.vertices[v]!))), 3),
    );
    return g;
  }, [cage, plane, picked, gone]);
  useEffect(() => () => faces?.dispose(), [faces]);
  useEffect(() => () => points?.dispose(), [points]);
  const edges = useMemo(
    () =>
      picked.kind === 'edges' && !gone
        ? picked.edges.flatMap(([a, b]) => [onto(plane, cage.vertices[a]!), onto(plane, cage.vertices[b]!)])
        : [],
    [cage, plane, picked, gone],
  );
  if (gone) return null;
  return (
    <>
      {faces && (
        <mesh geometry={faces} renderOrder={3}>
          <meshBasicMaterial color={tint} transparent opacity={0.38} side={THREE.DoubleSide} depthWrite={false} />
        </mesh>
      )}
      <Wire points={edges} color={tint} width={4.5} through order={4} />
      {points && (
        <points geometry={points} renderOrder={4}>
          <pointsMaterial color={tint} size={9} sizeAttenuation={false} depthTest={false} />
        </points>
      )}
    </>
  );
}

/** How many edges meet where it is not four, and what creases weigh. */
function Marks({ cage, plane }: { cage: Cage; plane: Frame }) {
  const marks = useMemo(() => {
    const t = topologyOf(cage);
    if (!t.ok) return [];
    const out: { at: Three; words: string; tint: string }[] = [];
    for (const [v, ring] of t.value.rings.entries())
      if (!ring.border && ring.near.length !== 4) out.push({ at: onto(plane, cage.vertices[v]!), words: `${ring.near.length}`, tint: INK });
    for (const [a, b, w] of cage.creases) {
      const [p, q] = [onto(plane, cage.vertices[a]!), onto(plane, cage.vertices[b]!)];
      out.push({
        at: [0, 1, 2].map((k) => (p[k]! + q[k]!) / 2) as Three,
        words: w >= 10 ? 'sharp' : `${Number(w.toFixed(2))}`,
        tint: AMBER,
      });
    }
    return out.slice(0, MOST_MARKS);
  }, [cage, plane]);
  return marks.map((m, i) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: marks stand in the order of the cage
    <Label key={i} position={m.at} center zIndexRange={[6, 0]}>
      <span className="rounded-xs bg-panel px-1 font-mono text-[11px]" style={{ color: m.tint }}>
        {m.words}
      </span>
    </Label>
  ));
}
