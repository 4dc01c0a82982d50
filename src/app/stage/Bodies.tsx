import { Line } from '@react-three/drei';
import { useThree } from '@react-three/fiber';
import { useEffect, useMemo, useRef, useState } from 'react';
import * as THREE from 'three';
import { type EdgeRef, type FaceRef, sameFace } from '../../core/recipe/names';
import type { MeasuredThing, Project } from '../../core/recipe/schema';
import type { FormInputs } from '../../core/recipe/steps';
import { edgeWords, faceWords } from '../../core/recipe/words';
import { formatArea, formatLength } from '../../core/units/units';
import type { BodyScene } from '../../engine/types';
import type { Picking, ScreenFrame } from '../state/asked';
import { type SectionCut, setBench, useBench, useScenes } from '../state/bench';
import { pickMeasured, useInspect } from '../state/inspecting';
import { type Picked, pickedSoFar, takePick, takePicks } from '../state/picking';
import { useShaping } from '../state/shaping';
import type { Extent } from './extent';
import { chainOf, withinFrame } from './frame';
import { Label } from './Label';
import { listen } from './listen';
import { edgeUnder, faceUnder } from './pick';
import { Reading } from './Reading';

const IVORY = '#e9e3d3';
/** A body that no longer matches the sheet is shown in grey: a change of colour needs no new shader. */
const OLD = '#d3d4cf';
const INK = '#2b3236';
const TEAL = '#0a6a66';
const MADDER = '#a1263a';

export interface Hit {
  readonly body: BodyScene;
  readonly face: number;
  readonly edge: number;
  /** Which place of the edge is meant, where places are picked. */
  readonly end?: 'low' | 'middle' | 'high';
  /** The place that was met, mm; null where only an edge beside the body was. */
  readonly at: readonly [number, number, number] | null;
}

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
  const stale = useBench((s) => s.stale);
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
  const form = project.steps.find((s) => s.id === chosenStep && s.kind === 'form');
  // A cage that is worked on takes the pointer; seen alone, or as a mirror, it stands in for its body.
  const shaping = !reading && !picking && form !== undefined && formView !== 'body' && (form.inputs as FormInputs).source.by === 'cage';
  const standsIn = !reading && form !== undefined && (formView === 'cage' || reflecting);
  const hidden = standsIn ? ((form.inputs as FormInputs).body ?? form.id) : null;
  usePointer(project, scenes, preview !== null || shaping, setHover);
  return (
    <>
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
            />
          ))}
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
  const geometry = useMemo(() => {
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(mesh.positions, 3));
    g.setAttribute('normal', new THREE.BufferAttribute(mesh.normals, 3));
    g.setIndex(new THREE.BufferAttribute(mesh.indices, 1));
    return g;
  }, [mesh]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return (
    <mesh geometry={geometry}>
      <meshStandardMaterial color="#dfe4dc" roughness={0.7} side={THREE.DoubleSide} clippingPlanes={clipping} />
    </mesh>
  );
}

function Body({
  scene,
  project,
  clipping,
  old,
  hover,
  covered,
}: {
  scene: BodyScene;
  project: Project;
  clipping: THREE.Plane[];
  old: boolean;
  hover: Hit | null;
  /** Its reading stands in for its material. */
  covered: boolean;
}) {
  const picking = useBench((s) => s.picking);
  const geometry = useMemo(() => {
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(scene.positions, 3));
    g.setAttribute('normal', new THREE.BufferAttribute(scene.normals, 3));
    g.setIndex(new THREE.BufferAttribute(scene.indices, 1));
    return g;
  }, [scene]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  const lines = useMemo(() => {
    const keep: number[] = [];
    for (let i = 0; i < scene.edgeOf.length; i++)
      if (scene.edgeNames[scene.edgeOf[i]!] !== '') for (let k = 0; k < 6; k++) keep.push(scene.segments[6 * i + k]!);
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.Float32BufferAttribute(keep, 3));
    return g;
  }, [scene]);
  useEffect(() => () => lines.dispose(), [lines]);
  const picks = usePicked(project, scene);
  const colour = project.bodies[scene.id]?.colour ?? IVORY;
  const pointed = useBench((s) => s.pointed === scene.id);
  return (
    <group>
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
          polygonOffsetFactor={1}
          polygonOffsetUnits={1}
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
      {hover && hover.edge < 0 && hover.face >= 0 && (picking?.what === 'faces' || picking?.what === 'things') && (
        <FaceTint scene={scene} face={hover.face} opacity={0.3} clipping={clipping} />
      )}
    </group>
  );
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

/** Hover says in words what a click would pick; a click picks it for the step that asks. */
function usePointer(project: Project, scenes: readonly BodyScene[], off: boolean, setHover: (h: Hit | null) => void): void {
  const { camera, gl } = useThree();
  const controls = useThree((s) => s.controls) as { enabled: boolean } | null;
  const state = useRef({ project, scenes, off, controls });
  state.current = { project, scenes, off, controls };
  useEffect(() => {
    const element = gl.domElement;
    const find = (e: PointerEvent): Hit | null => {
      const box = element.getBoundingClientRect();
      const pointer = { x: e.clientX - box.left, y: e.clientY - box.top, width: box.width, height: box.height };
      const cut = useBench.getState().section;
      const visible = cut ? uncut(cut) : undefined;
      const { scenes } = state.current;
      const best = faceUnder(scenes, camera, pointer, visible);
      let edge = edgeUnder(scenes, camera, pointer, visible);
      const picking = useBench.getState().picking;
      if (picking && 'profile' in picking.target && edge && edge.body.id !== picking.target.body) edge = null;
      if (edge && picking?.what !== 'faces') {
        const screen = (p: THREE.Vector3): number => {
          p.project(camera);
          return Math.hypot(((p.x + 1) / 2) * box.width - pointer.x, ((1 - p.y) / 2) * box.height - pointer.y);
        };
        const end = picking?.what === 'places' || picking?.what === 'spots' ? { end: endNear(edge.body, edge.edge, screen) } : {};
        return { body: edge.body, face: best?.face ?? -1, edge: edge.edge, at: best?.at.toArray() ?? null, ...end };
      }
      const onFaces = !picking || ['faces', 'things', 'spots'].includes(picking.what);
      return best && onFaces ? { body: best.body, face: best.face, edge: -1, at: best.at.toArray() } : null;
    };
    let down: { x: number; y: number } | null = null;
    let last: { x: number; y: number; time: number } | null = null;
    const place = (e: PointerEvent): { x: number; y: number } => {
      const box = element.getBoundingClientRect();
      return { x: e.clientX - box.left, y: e.clientY - box.top };
    };
    /** Takes what is within the frame that was drawn. */
    const takeFrame = (frame: ScreenFrame, how: 'wholly' | 'partly'): void => {
      const { picking, section } = useBench.getState();
      if (!framed(picking)) return;
      const { scenes, project } = state.current;
      const screen = { width: element.clientWidth, height: element.clientHeight };
      const what = picking.what === 'faces' ? 'faces' : 'edges';
      const found = withinFrame(scenes, camera, screen, frame, what, how, section ? uncut(section) : undefined);
      takePicks(
        found.map(({ body, index }) =>
          picked({ body, face: what === 'faces' ? index : -1, edge: what === 'faces' ? -1 : index, at: null }),
        ),
        project,
      );
    };
    const move = (e: PointerEvent): void => {
      const { frame } = useBench.getState();
      if (frame) {
        const { x, y } = place(e);
        setBench({ frame: { ...frame, x1: x, y1: y } });
        return;
      }
      if (e.buttons !== 0 || state.current.off) return;
      const hit = find(e);
      setHover(hit);
      const box = element.getBoundingClientRect();
      setBench({ hover: hit ? { words: wordsOf(hit, state.current.project), x: e.clientX - box.left, y: e.clientY - box.top } : null });
    };
    const press = (e: PointerEvent): void => {
      down = { x: e.clientX, y: e.clientY };
      setBench({ hover: null });
      if (!e.shiftKey || e.button !== 0 || state.current.off || !framed(useBench.getState().picking)) return;
      // The view stands still while the frame is drawn.
      if (state.current.controls) state.current.controls.enabled = false;
      const { x, y } = place(e);
      setBench({ frame: { x0: x, y0: y, x1: x, y1: y } });
    };
    const release = (e: PointerEvent): void => {
      const { frame } = useBench.getState();
      if (frame) {
        if (state.current.controls) state.current.controls.enabled = true;
        setBench({ frame: null });
        if (Math.hypot(frame.x1 - frame.x0, frame.y1 - frame.y0) > 4) return takeFrame(frame, e.altKey ? 'partly' : 'wholly');
      }
      if (!down || state.current.off || Math.hypot(e.clientX - down.x, e.clientY - down.y) > 4) return;
      const hit = find(e);
      const twice = last !== null && e.timeStamp - last.time < TWICE && Math.hypot(e.clientX - last.x, e.clientY - last.y) < 5;
      last = twice ? null : { x: e.clientX, y: e.clientY, time: e.timeStamp };
      const { picking } = useBench.getState();
      if (hit && twice && hit.edge >= 0 && framed(picking) && picking.what !== 'faces') pickChain(hit, state.current.project);
      else if (hit) pick(hit, state.current.project);
    };
    const leave = (): void => {
      setHover(null);
      setBench({ hover: null });
    };
    return listen(element, { pointermove: move, pointerdown: press, pointerup: release, pointerleave: leave });
  }, [camera, gl, setHover]);
}

function wordsOf(hit: Hit, project: Project): string {
  const what = useBench.getState().picking?.what;
  const face = (): string => faceWords(hit.body.faceNames[hit.face]!, project);
  if (hit.edge < 0)
    return what === 'spots' ? `a place on ${face()}` : `${face()}, ${formatArea(hit.body.faceAreas[hit.face]!, project.units, 1)}`;
  const edge = `${edgeWords(hit.body.edgeNames[hit.edge]!, project)}, ${formatLength(hit.body.edgeLengths[hit.edge]!, project.units, 1)}`;
  return what === 'places' || what === 'spots' ? `${PLACES[hit.end ?? 'middle']} of the ${edge}` : edge;
}

const PLACES = { low: 'lower end', middle: 'middle', high: 'upper end' } as const;

/** Two clicks at one place within this count as one that takes all that go on, ms. */
const TWICE = 400;

/** What a cut leaves. */
const uncut =
  (cut: SectionCut) =>
  (p: THREE.Vector3): boolean =>
    cut.axis === 'y' ? p.y >= cut.offset - 1e-3 : cut.axis === 'x' ? p.x <= cut.offset + 1e-3 : p.z <= cut.offset + 1e-3;

/** Whether many can be picked at once: edges or faces for a step. */
const framed = (picking: Picking | null): picking is Picking =>
  picking !== null && 'step' in picking.target && picking.target.most !== 1 && ['edges', 'paths', 'faces'].includes(picking.what);

/** What a step takes of a face or an edge. */
function picked(hit: Hit): Picked {
  const target = useBench.getState().picking?.target;
  // A step that works on one body knows which; other picks say whose they are.
  const own = target && 'step' in target && target.most === undefined;
  const body = own ? {} : { body: hit.body.id };
  if (hit.edge >= 0) return { ...body, edge: hit.body.edgeNames[hit.edge]! };
  return { ...body, face: target && 'step' in target ? sourceFace(hit.body.faceNames[hit.face]!, target.step) : '' };
}

/** Takes an edge with all that go on from it, or with the border it belongs to. */
const pickChain = (hit: Hit, project: Project): void =>
  takePicks(
    chainOf(hit.body, hit.edge, hit.face).map((edge) => picked({ ...hit, edge })),
    project,
  );

/** Hands what was clicked to what asks for it. */
function pick(hit: Hit, project: Project): void {
  const picking = useBench.getState().picking;
  if (!picking) return;
  const { target, what } = picking;
  if ('measure' in target) return pickMeasured(measuredThing(hit, what === 'spots'));
  if (what === 'places') takePick({ body: hit.body.id, edge: hit.body.edgeNames[hit.edge]!, end: hit.end ?? 'middle' }, project);
  else takePick(picked(what === 'faces' ? { ...hit, edge: -1 } : hit), project);
}

/** What was clicked, to be measured from or to. */
function measuredThing(hit: Hit, spot: boolean): MeasuredThing {
  const body = hit.body.id;
  if (hit.edge >= 0) {
    const edge = hit.body.edgeNames[hit.edge]!;
    return spot && hit.end ? { body, edge, end: hit.end } : { body, edge };
  }
  const face = hit.body.faceNames[hit.face]!;
  return spot && hit.at ? { body, face, at: [...hit.at] } : { body, face };
}

/** Which of an edge's lower end, middle and upper end is nearest on the screen. */
function endNear(body: BodyScene, edge: number, screen: (p: THREE.Vector3) => number): 'low' | 'middle' | 'high' {
  const ends = edgePlaces(body, edge);
  let best: 'low' | 'middle' | 'high' = 'middle';
  let near = Number.POSITIVE_INFINITY;
  for (const k of ['low', 'middle', 'high'] as const) {
    const d = screen(ends[k]);
    if (d < near) {
      near = d;
      best = k;
    }
  }
  return best;
}

/** The same places by which the engine finds them: the lower end first, then the left, then the nearer one. */
function edgePlaces(body: BodyScene, edge: number): { low: THREE.Vector3; middle: THREE.Vector3; high: THREE.Vector3 } {
  const segments: number[] = [];
  for (let i = 0; i < body.edgeOf.length; i++) if (body.edgeOf[i] === edge) segments.push(i);
  const at = (i: number, o: 0 | 3): THREE.Vector3 =>
    new THREE.Vector3(body.segments[6 * i + o]!, body.segments[6 * i + o + 1]!, body.segments[6 * i + o + 2]!);
  const [a, b] = [at(segments[0]!, 0), at(segments[segments.length - 1]!, 3)];
  const half = segments.length / 2;
  const middle =
    segments.length % 2 === 0 ? at(segments[half]!, 0) : at(segments[Math.floor(half)]!, 0).lerp(at(segments[Math.floor(half)]!, 3), 0.5);
  const k = ([2, 0, 1] as const).find((i) => Math.abs(a.getComponent(i) - b.getComponent(i)) > 1e-4);
  return k !== undefined && a.getComponent(k) > b.getComponent(k) ? { low: b, middle, high: a } : { low: a, middle, high: b };
}

/** A face the step itself made stands for the face it was made from: that one exists before the step. */
function sourceFace(name: string, step: string): string {
  const own = new RegExp(`^${step}/(?:rim|inner)\\((.*)\\)$`).exec(name);
  return own ? own[1]! : name;
}
