/** What the pointer does on the stage: names what it is over, picks it, and picks many at once. */
import { useThree } from '@react-three/fiber';
import { useEffect, useRef } from 'react';
import * as THREE from 'three';
import { distance, type Vec3 } from '../../core/geometry/vectors';
import type { MeasuredThing, Project } from '../../core/recipe/schema';
import { edgeWords, faceWords, pickWords } from '../../core/recipe/words';
import { formatArea, formatLength } from '../../core/units/units';
import type { BodyScene } from '../../engine/types';
import type { Picking, ScreenFrame } from '../state/asked';
import { type SectionCut, setBench, useBench } from '../state/bench';
import { pickMeasured } from '../state/inspecting';
import type { DrawnLine, DrawnPoint } from '../state/lines';
import { type Picked, takePick, takePicks } from '../state/picking';
import { keyOf, useDrawnLines, useDrawnPoints, withAllThatGoOn } from './drawnLines';
import { isFlat } from './flat';
import { chainOf, withinFrame } from './frame';
import { frameDrag, placeOver, STILL, secondClicks } from './gestures';
import { listen } from './listen';
import { faceUnder, lineUnder, onScreen } from './pick';

export interface Hit {
  readonly body: BodyScene;
  readonly face: number;
  readonly edge: number;
  /** Which place of the edge is meant, where places are picked. */
  readonly end?: 'low' | 'middle' | 'high';
  /** The place that was met, mm; null where only an edge beside the body was. */
  readonly at: readonly [number, number, number] | null;
}

/** A drawn line, or a curve in space. */
interface LineHit {
  readonly drawn: DrawnLine;
}

interface PointHit {
  readonly point: DrawnPoint;
}

/** Drawn points within so many px of the pointer are met before edges. */
const POINT_REACH = 7;

/** Hover says in words what a click would pick; a click picks it for the step that asks. */
export function usePointer(project: Project, scenes: readonly BodyScene[], off: boolean, setHover: (h: Hit | null) => void): void {
  const { camera, gl } = useThree();
  const controls = useThree((s) => s.controls) as { enabled: boolean } | null;
  const drawn = useDrawnLines(project);
  const points = useDrawnPoints(project);
  const state = useRef({ project, scenes, off, controls, drawn, points });
  state.current = { project, scenes, off, controls, drawn, points };
  useEffect(() => {
    const element = gl.domElement;
    const place = (e: PointerEvent): { x: number; y: number } => placeOver(element, e);
    const frames = frameDrag(element, () => state.current.controls);
    const isSecond = secondClicks();
    const pointUnder = (e: PointerEvent): PointHit | null => {
      const box = element.getBoundingClientRect();
      const { x, y } = place(e);
      let [best, least]: [DrawnPoint | null, number] = [null, POINT_REACH];
      for (const point of state.current.points) {
        const q = onScreen(camera, new THREE.Vector3(...point.at), box);
        const d = Math.hypot(q.x - x, q.y - y);
        if (d < least) [best, least] = [point, d];
      }
      return best && { point: best };
    };
    const find = (e: PointerEvent): Hit | LineHit | PointHit | null => {
      const point = pointUnder(e);
      if (point) return point;
      const box = element.getBoundingClientRect();
      const pointer = { ...place(e), width: box.width, height: box.height };
      const cut = useBench.getState().section;
      const visible = cut ? uncut(cut) : undefined;
      const { scenes, drawn } = state.current;
      const best = faceUnder(scenes, camera, pointer, visible);
      const picking = useBench.getState().picking;
      const met = lineUnder(scenes, drawn ? [drawn] : [], camera, pointer, visible, beforeStep(picking));
      if (met.line) return { drawn: met.line.body.lines[met.line.edge]! };
      let { edge } = met;
      if (picking && 'profile' in picking.target && edge && edge.body.id !== picking.target.body) edge = null;
      if (edge && !asksFaces(picking)) {
        const screen = (p: THREE.Vector3): number => {
          const { x, y } = onScreen(camera, p, box);
          return Math.hypot(x - pointer.x, y - pointer.y);
        };
        const end = picking?.what === 'places' || picking?.what === 'spots' ? { end: endNear(edge.body, edge.edge, screen) } : {};
        return { body: edge.body, face: best?.face ?? -1, edge: edge.edge, at: best?.at.toArray() ?? null, ...end };
      }
      const onFaces = !picking || asksFaces(picking) || picking.what === 'things' || picking.what === 'spots';
      return best && onFaces ? { body: best.body, face: best.face, edge: -1, at: best.at.toArray() } : null;
    };
    let down: { x: number; y: number } | null = null;
    /** Takes what is within the frame that was drawn. */
    const takeFrame = (frame: ScreenFrame, how: 'wholly' | 'partly'): void => {
      const { picking, section } = useBench.getState();
      if (!framed(picking)) return;
      const { scenes } = state.current;
      const screen = { width: element.clientWidth, height: element.clientHeight };
      const what = asksFaces(picking) ? 'faces' : 'edges';
      const found = withinFrame(scenes, camera, screen, frame, what, how, section ? uncut(section) : undefined);
      takePicks(
        found
          .filter(({ body, index }) => what === 'faces' || (beforeStep(picking)?.(body.edgeNames[index]!) ?? true))
          .map(({ body, index }) => picked({ body, face: what === 'faces' ? index : -1, edge: what === 'faces' ? -1 : index, at: null })),
      );
    };
    const move = (e: PointerEvent): void => {
      if (frames.move(e) || e.buttons !== 0 || state.current.off) return;
      const hit = find(e);
      const { project } = state.current;
      if (hit && 'point' in hit) {
        setHover(null);
        setBench({ hover: { words: pickWords(hit.point.ref, project), ...place(e) } });
        return;
      }
      if (hit && 'drawn' in hit) {
        setHover(null);
        const { ref, points } = hit.drawn;
        const words = `${pickWords(ref, project)}, ${formatLength(lengthOf(points), project.units, 1)}`;
        setBench({ hover: { words, ...place(e), line: keyOf(ref) } });
        return;
      }
      setHover(hit);
      setBench({ hover: hit ? { words: wordsOf(hit, project), ...place(e) } : null });
    };
    const press = (e: PointerEvent): void => {
      down = { x: e.clientX, y: e.clientY };
      setBench({ hover: null });
      if (!e.shiftKey || e.button !== 0 || state.current.off || !framed(useBench.getState().picking)) return;
      frames.begin(e);
    };
    const release = (e: PointerEvent): void => {
      const frame = frames.end();
      if (frame) return takeFrame(frame, e.altKey ? 'partly' : 'wholly');
      if (!down || state.current.off || Math.hypot(e.clientX - down.x, e.clientY - down.y) > STILL) return;
      const hit = find(e);
      const twice = isSecond(e);
      const { picking } = useBench.getState();
      if (hit && 'point' in hit) takePick(hit.point.ref, state.current.project);
      else if (hit && 'drawn' in hit) {
        const { drawn } = state.current;
        // The first of two clicks took it, or let go of it.
        if (twice && drawn && framed(picking)) takePicks(withAllThatGoOn(drawn, hit.drawn.ref));
        else takePick(hit.drawn.ref, state.current.project);
      } else if (hit && twice && hit.edge >= 0 && framed(picking) && !asksFaces(picking)) pickChain(hit);
      else if (hit) pick(hit, state.current.project);
    };
    const leave = (): void => {
      setHover(null);
      setBench({ hover: null });
    };
    return listen(element, { pointermove: move, pointerdown: press, pointerup: release, pointerleave: leave });
  }, [camera, gl, setHover]);
}

/** Length of a drawn line as it is shown, mm. */
const lengthOf = (points: readonly Vec3[]): number => points.slice(1).reduce((sum, p, i) => sum + distance(points[i]!, p), 0);

function wordsOf(hit: Hit, project: Project): string {
  const what = useBench.getState().picking?.what;
  const face = (): string => faceWords(hit.body.faceNames[hit.face]!, project);
  if (hit.edge < 0 && what === 'flats' && !isFlat(hit.body, hit.face)) return `${face()}: not flat`;
  if (hit.edge < 0)
    return what === 'spots' ? `a place on ${face()}` : `${face()}, ${formatArea(hit.body.faceAreas[hit.face]!, project.units, 1)}`;
  const edge = `${edgeWords(hit.body.edgeNames[hit.edge]!, project)}, ${formatLength(hit.body.edgeLengths[hit.edge]!, project.units, 1)}`;
  return what === 'places' || what === 'spots' ? `${PLACES[hit.end ?? 'middle']} of the ${edge}` : edge;
}

const PLACES = { low: 'lower end', middle: 'middle', high: 'upper end' } as const;

/** What a cut leaves. */
const uncut =
  (cut: SectionCut) =>
  (p: THREE.Vector3): boolean =>
    cut.axis === 'y' ? p.y >= cut.offset - 1e-3 : cut.axis === 'x' ? p.x <= cut.offset + 1e-3 : p.z <= cut.offset + 1e-3;

/** Whether many can be picked at once: edges or faces for a step. */
const framed = (picking: Picking | null): picking is Picking =>
  picking !== null && 'step' in picking.target && picking.target.most !== 1 && ['edges', 'paths', 'faces'].includes(picking.what);

/** Whether faces are asked for, of any shape or flat ones. */
const asksFaces = (picking: Picking | null): boolean => picking?.what === 'faces' || picking?.what === 'flats';

/** Edges that the step makes itself are not there for it to begin from. */
function beforeStep(picking: Picking | null): ((edge: string) => boolean) | undefined {
  if (!picking || !('step' in picking.target)) return undefined;
  const own = `${picking.target.step}/`;
  return (edge) => !edge.includes(own);
}

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
const pickChain = (hit: Hit): void => takePicks(chainOf(hit.body, hit.edge, hit.face).map((edge) => picked({ ...hit, edge })));

/** Hands what was clicked to what asks for it. */
function pick(hit: Hit, project: Project): void {
  const picking = useBench.getState().picking;
  if (!picking) return;
  const { target, what } = picking;
  if ('measure' in target) return pickMeasured(measuredThing(hit, what === 'spots'));
  if (what === 'places') takePick({ body: hit.body.id, edge: hit.body.edgeNames[hit.edge]!, end: hit.end ?? 'middle' }, project);
  else if (what !== 'flats' || isFlat(hit.body, hit.face)) takePick(picked(asksFaces(picking) ? { ...hit, edge: -1 } : hit), project);
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
export function edgePlaces(body: BodyScene, edge: number): { low: THREE.Vector3; middle: THREE.Vector3; high: THREE.Vector3 } {
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
