import { useThree } from '@react-three/fiber';
import { type KeyboardEvent, type PointerEvent as Press, useEffect, useMemo, useRef } from 'react';
import * as THREE from 'three';
import { allOverPlane, type Frame, overPlane } from '../../core/curves/frame';
import type { Cage, P3 } from '../../core/form/cage';
import { beginDrag, editOf, isNothing, type Pull } from '../../core/form/edit/drag';
import {
  combined,
  countOf,
  goingOn,
  middleOf,
  normalsOf,
  nothing,
  type Picked,
  pickedAs,
  toggled,
  verticesOf,
} from '../../core/form/edit/select';
import { type Edge, topologyOf } from '../../core/form/edit/topology';
import { triple, unit } from '../../core/geometry/vectors';
import type { Project } from '../../core/recipe/schema';
import { valueAlong } from '../../core/recipe/steps/handles';
import { degrees, fixed, radians } from '../../core/units/units';
import type { ScreenFrame } from '../state/asked';
import { setBench, useBench } from '../state/bench';
import { cageStep, endDrag, readCage, setShaping, shape, stillPicked, useShaping } from '../state/shaping';
import { facesGeometry } from './cageGeometry';
import { arrowSign, frameDrag, placeOver, STILL, secondClicks } from './gestures';
import { letGo, rayAt } from './held';
import { Label } from './Label';
import { listen } from './listen';
import { Wire } from './Wire';

/** Within so many pixels of the pointer a vertex or an edge is met. */
const REACH = 11;
/** What the handle is moved to is rounded to this, mm; arrow keys move by as much, with Shift by ten times. */
const SNAP = 0.5;
const WAYS: Readonly<Record<'x' | 'y' | 'z', P3>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };
type Three = [number, number, number];
const NONE: readonly Three[] = [];

/** Picks vertices, edges and faces of a cage on the stage, and moves what is picked by one handle along the way that is chosen. */
export function CageHandles({
  project,
  step,
  cage,
  shown,
  plane,
}: {
  project: Project;
  step: string;
  cage: Cage;
  shown: Cage;
  plane: Frame;
}) {
  usePicking(cage, plane);
  const { camera, gl } = useThree();
  const controls = useThree((s) => s.controls) as { enabled: boolean } | null;
  const { picked: wanted, freedom, soft, moved } = useShaping();
  const picked = useMemo(() => stillPicked(wanted, cage), [wanted, cage]);
  const drag = useRef<{
    from: THREE.Vector3;
    pull: ((p: Pull) => { vertices: readonly P3[]; mesh: DragMesh }) | null;
    last: Pull | null;
    waiting: number;
  } | null>(null);
  const vertices = verticesOf(cage, picked);
  if (vertices.length === 0 || vertices.some((v) => !shown.vertices[v])) return null;

  const level = { ...plane, origin: [0, 0, 0] as const };
  const turned = (d: P3): P3 => overPlane(level, d);
  const outward = (): P3 => {
    const t = topologyOf(cage);
    const all = t.ok ? [...normalsOf(cage, picked, t.value).values()] : [];
    return unit(triple((k) => all.reduce((s, n) => s + n[k]!, 0))) ?? [0, 0, 1];
  };
  // About z and to a size the handle goes round the middle, in the level plane through it.
  const round = freedom === 'turn' || freedom === 'size';
  const way: P3 | null = round ? null : freedom === 'out' ? outward() : freedom.length === 1 ? WAYS[freedom as 'x'] : null;
  const square: P3 | null = way ? null : round ? WAYS.z : WAYS[(['x', 'y', 'z'] as const).find((a) => !freedom.includes(a))!];
  const middle = middleOf(cage, vertices);
  const at = overPlane(plane, middleOf(shown, vertices));
  const start = new THREE.Vector3(...overPlane(plane, middle));
  // The handle stands off the skin, so that it does not cover what it moves.
  const size = Math.max(...[0, 1, 2].map((k) => spread(cage.vertices.map((p) => p[k]!))));
  const last = drag.current?.last;
  const arm: P3 = [Math.cos(last && 'turn' in last ? last.turn : 0), Math.sin(last && 'turn' in last ? last.turn : 0), 0];
  const reach = 0.25 * size * (last && 'size' in last ? last.size : 1);
  const off = way ? turned(way).map((x) => x * 0.13 * size) : round ? turned(arm).map((x) => x * reach) : [0, 0, 0];
  const handle: Three = [at[0] + off[0]!, at[1] + off[1]!, at[2] + off[2]!];

  /** Where on its way or in its plane the pointer is. */
  const meets = (e: { clientX: number; clientY: number }): THREE.Vector3 | null => {
    const r = rayAt(gl.domElement, camera, e);
    if (square)
      return r.intersectPlane(
        new THREE.Plane().setFromNormalAndCoplanarPoint(new THREE.Vector3(...turned(square)), start),
        new THREE.Vector3(),
      );
    const d = turned(way!);
    const t = valueAlong({ value: 'out', from: start.toArray(), way: d }, r.origin.toArray(), r.direction.toArray());
    return t === undefined ? null : start.clone().addScaledVector(new THREE.Vector3(...d), t);
  };
  const rounded = (v: number): number => Math.round(v / SNAP) * SNAP;
  const about = (p: THREE.Vector3): [number, number] => {
    const d = p.clone().sub(start);
    return [d.dot(new THREE.Vector3(...plane.x)), d.dot(new THREE.Vector3(...plane.y))];
  };
  /** Where the pointer went on the stage as a pull of the cage. */
  const pullOf = (from: THREE.Vector3, to: THREE.Vector3): Pull => {
    if (round) {
      const [a, b] = [about(from), about(to)];
      if (freedom === 'size') return { size: Math.max(0.01, Math.round((100 * Math.hypot(...b)) / (Math.hypot(...a) || 1)) / 100) };
      const turn = Math.atan2(b[1], b[0]) - Math.atan2(a[1], a[0]);
      return { turn: radians(Math.round(degrees(Math.atan2(Math.sin(turn), Math.cos(turn))))) };
    }
    const by = to.clone().sub(from);
    const own: P3 = [
      by.dot(new THREE.Vector3(...plane.x)),
      by.dot(new THREE.Vector3(...plane.y)),
      by.dot(new THREE.Vector3(...turned([0, 0, 1]))),
    ];
    if (freedom === 'out') return { out: rounded(own[0] * way![0] + own[1] * way![1] + own[2] * way![2]) };
    return { by: own.map((x, k) => (freedom.includes('xyz'[k]!) ? rounded(x) : 0)) as unknown as P3 };
  };
  const show = (pull: Pull): void => {
    const d = drag.current;
    if (!d?.pull) return;
    const { vertices: places, mesh } = d.pull(pull);
    d.last = pull;
    setBench({
      preview: [{ positions: allOverPlane(plane, mesh.places), normals: allOverPlane(plane, mesh.normals, true), indices: mesh.indices }],
    });
    setShaping({ draft: { ...cage, vertices: places }, moved: wordsOf(pull) });
  };
  const begin = (e: Press): void => {
    e.currentTarget.setPointerCapture(e.pointerId);
    const from = meets(e);
    const found = cageStep(project, step);
    const read = found && readCage(found.source, project);
    if (!from || !read) return;
    const pull = beginDrag(cage, picked, read.symmetry, soft);
    if (!pull.ok) return setShaping({ refusal: pull.error });
    if (controls) controls.enabled = false;
    drag.current = { from, pull: pull.value, last: null, waiting: 0 };
  };
  const follow = (e: Press): void => {
    const d = drag.current;
    const to = d && meets(e);
    if (!d || !to) return;
    cancelAnimationFrame(d.waiting);
    const pull = pullOf(d.from, to);
    d.waiting = requestAnimationFrame(() => show(pull));
  };
  const end = (): void => {
    const d = letGo(drag, controls);
    if (!d) return;
    endDrag(step, d.last && !isNothing(d.last) ? editOf(d.last, soft) : null);
  };
  const key = (e: KeyboardEvent): void => {
    const steps = e.shiftKey ? 10 : 1;
    const by = SNAP * steps;
    const sign = arrowSign(e.key);
    if (!sign) return;
    e.preventDefault();
    const go = (pull: Pull): boolean => shape(step, editOf(pull, soft));
    if (freedom === 'out') go({ out: sign * by });
    else if (freedom === 'turn') go({ turn: sign * radians(steps) });
    else if (freedom === 'size') go({ size: 1 + (sign * steps) / 100 });
    else {
      // In a plane the keys left and right go along its first way, up and down along its second.
      const axes = freedom.split('');
      const axis = axes.length === 1 ? axes[0]! : axes[e.key === 'ArrowLeft' || e.key === 'ArrowRight' ? 0 : 1]!;
      go({ by: WAYS[axis as 'x'].map((x) => x * sign * by) as unknown as P3 });
    }
  };
  return (
    <>
      <Wire points={way || round ? [[...at] as Three, handle] : NONE} color="#0a6a66" width={1.5} through order={5} />
      <Label position={handle} center zIndexRange={[8, 0]}>
        <button
          type="button"
          aria-label="Move what is picked"
          title="Drag it, or use the arrow keys"
          className="pointer-events-auto block h-3 w-3 rotate-45 cursor-grab touch-none border-2 border-teal bg-card"
          onPointerDown={begin}
          onPointerMove={follow}
          onPointerUp={end}
          onPointerCancel={end}
          onKeyDown={key}
        />
        {moved && <span className="absolute left-5 top-[-3px] w-max rounded-xs bg-ink px-1 font-mono text-[11px] text-panel">{moved}</span>}
      </Label>
    </>
  );
}

type DragMesh = { places: Float64Array; normals: Float32Array; indices: Uint32Array };
const spread = (values: readonly number[]): number =>
  values.reduce((a, b) => Math.max(a, b), -Infinity) - values.reduce((a, b) => Math.min(a, b), Infinity);
function wordsOf(p: Pull): string {
  if ('out' in p) return `${fixed(p.out, 1)} mm`;
  if ('turn' in p) return `${fixed(degrees(p.turn), 0)}°`;
  if ('size' in p) return `× ${fixed(p.size, 2)}`;
  return p.by.flatMap((x, k) => (x === 0 ? [] : [`${'xyz'[k]} ${fixed(x, 1)}`])).join('  ') || '0.0 mm';
}

/** How far a place on the screen lies from a stretch, px, and at what share of it the nearest place is. */
function away(x: number, y: number, [ax, ay]: readonly [number, number], [bx, by]: readonly [number, number]) {
  const [dx, dy] = [bx - ax, by - ay];
  const share = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
  return { share, distance: Math.hypot(ax + share * dx - x, ay + share * dy - y) };
}

/** Tells what of the cage lies under the pointer, and picks it: alone, or with Shift to what is picked already. */
function usePicking(cage: Cage, plane: Frame): void {
  const { camera, gl, raycaster } = useThree();
  const controls = useThree((s) => s.controls) as { enabled: boolean } | null;
  const state = useRef({ cage, plane, controls });
  state.current = { cage, plane, controls };
  useEffect(() => {
    const element = gl.domElement;
    let skin: { cage: Cage; mesh: THREE.Mesh; faceOf: number[] } | null = null;
    const skinOf = (): NonNullable<typeof skin> => {
      const { cage: c, plane: f } = state.current;
      if (skin?.cage === c) return skin;
      skin?.mesh.geometry.dispose();
      const faceOf = c.faces.flatMap((face, i) => face.slice(2).map(() => i));
      skin = { cage: c, mesh: new THREE.Mesh(facesGeometry(c, f), new THREE.MeshBasicMaterial({ side: THREE.DoubleSide })), faceOf };
      return skin;
    };
    const find = (e: PointerEvent): Picked | null => {
      const box = element.getBoundingClientRect();
      const { x, y } = placeOver(element, e);
      raycaster.setFromCamera(new THREE.Vector2((x / box.width) * 2 - 1, 1 - (y / box.height) * 2), camera);
      const { mesh, faceOf, cage: c } = skinOf();
      const hit = raycaster.intersectObject(mesh)[0];
      const { kind } = useShaping.getState();
      if (kind === 'faces') return hit ? { kind, faces: [faceOf[hit.faceIndex!]!] } : null;
      // What lies clearly behind the face under the pointer is hidden by it.
      const limit = hit ? hit.distance * 1.02 + 1e-6 : Number.POSITIVE_INFINITY;
      const { sx, sy, far } = seen(box);
      let [best, least]: [Picked | null, number] = [null, REACH];
      if (kind === 'vertices') {
        for (let v = 0; v < c.vertices.length; v++) {
          const d = Math.hypot(sx[v]! - x, sy[v]! - y);
          if (d < least && far[v]! <= limit) [best, least] = [{ kind, vertices: [v] }, d];
        }
        return best;
      }
      for (const f of c.faces)
        for (const [i, v] of f.entries()) {
          const w = f[(i + 1) % f.length]!;
          const { share: at, distance: d } = away(x, y, [sx[v]!, sy[v]!], [sx[w]!, sy[w]!]);
          if (d < least && far[v]! + at * (far[w]! - far[v]!) <= limit) [best, least] = [{ kind, edges: [[v, w] as Edge] }, d];
        }
      return best;
    };
    /** Where every vertex stands on the screen, and how far from the eye, mm. */
    const seen = (box: DOMRect): { sx: Float32Array; sy: Float32Array; far: Float32Array } => {
      const places = skinOf().mesh.geometry.getAttribute('position');
      const n = places.count;
      const [sx, sy, far] = [new Float32Array(n), new Float32Array(n), new Float32Array(n)];
      const p = new THREE.Vector3();
      for (let v = 0; v < n; v++) {
        p.fromBufferAttribute(places, v);
        far[v] = p.distanceTo(camera.position);
        p.project(camera);
        sx[v] = ((p.x + 1) / 2) * box.width;
        sy[v] = ((1 - p.y) / 2) * box.height;
      }
      return { sx, sy, far };
    };
    /** The side of a face nearest to the pointer. */
    const sideOf = (e: PointerEvent, face: number): Edge => {
      const { x, y } = placeOver(element, e);
      const { sx, sy } = seen(element.getBoundingClientRect());
      const f = state.current.cage.faces[face]!;
      const sides = f.map((v, i): Edge => [v, f[(i + 1) % f.length]!]);
      const far = ([v, w]: Edge): number => away(x, y, [sx[v]!, sy[v]!], [sx[w]!, sy[w]!]).distance;
      return sides.reduce((a, b) => (far(b) < far(a) ? b : a));
    };
    /** Everything of the cage within a frame on the screen that nothing hides; edges and faces that lie in it whole. */
    const within = (frame: ScreenFrame): Picked => {
      const box = element.getBoundingClientRect();
      const { mesh, cage: c } = skinOf();
      const { sx, sy, far } = seen(box);
      const [left, right] = [Math.min(frame.x0, frame.x1), Math.max(frame.x0, frame.x1)];
      const [top, bottom] = [Math.min(frame.y0, frame.y1), Math.max(frame.y0, frame.y1)];
      const vertices = c.vertices.flatMap((_, v) => {
        if (sx[v]! < left || sx[v]! > right || sy[v]! < top || sy[v]! > bottom) return [];
        raycaster.setFromCamera(new THREE.Vector2((sx[v]! / box.width) * 2 - 1, 1 - (sy[v]! / box.height) * 2), camera);
        const hit = raycaster.intersectObject(mesh)[0];
        return !hit || far[v]! <= hit.distance * 1.02 + 1e-6 ? [v] : [];
      });
      return pickedAs(c, { kind: 'vertices', vertices }, useShaping.getState().kind);
    };
    let down: { x: number; y: number } | null = null;
    const frames = frameDrag(element, () => state.current.controls);
    const isSecond = secondClicks();
    const move = (e: PointerEvent): void => {
      if (frames.move(e) || e.buttons !== 0 || useBench.getState().picking) return;
      const under = find(e);
      if (JSON.stringify(under) !== JSON.stringify(useShaping.getState().under)) setShaping({ under });
    };
    const press = (e: PointerEvent): void => {
      down = e.button === 0 ? { x: e.clientX, y: e.clientY } : null;
      if (down && e.shiftKey && !useBench.getState().picking) frames.begin(e);
    };
    const release = (e: PointerEvent): void => {
      const { picked, kind } = useShaping.getState();
      const own = stillPicked(picked, state.current.cage);
      const frame = frames.end();
      if (frame) {
        setShaping({ picked: combined('add', own, within(frame)), refusal: null, note: null });
        return;
      }
      if (!down || useBench.getState().picking || Math.hypot(e.clientX - down.x, e.clientY - down.y) > STILL) return;
      const one = find(e);
      const twice = isSecond(e);
      if (one && twice) {
        const row = goingOn(state.current.cage, one, one.kind === 'faces' ? sideOf(e, one.faces[0]!) : undefined);
        setShaping({ picked: combined(e.shiftKey ? 'add' : 'replace', own, row), refusal: null, note: null });
      } else if (one) setShaping({ picked: e.shiftKey && countOf(own) > 0 ? toggled(own, one) : one, refusal: null, note: null });
      else if (!e.shiftKey) setShaping({ picked: nothing(kind), refusal: null, note: null });
    };
    const leave = (): void => setShaping({ under: null });
    const deaf = listen(element, { pointermove: move, pointerdown: press, pointerup: release, pointerleave: leave });
    return () => {
      deaf();
      skin?.mesh.geometry.dispose();
      setShaping({ under: null });
    };
  }, [camera, gl, raycaster]);
}
