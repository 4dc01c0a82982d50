import { useThree } from '@react-three/fiber';
import { type KeyboardEvent, type PointerEvent as Press, useEffect, useMemo, useRef, useState } from 'react';
import { along, minus, triple, type Vec3 } from '../../core/geometry/vectors';
import { type HeldPlace, nudge, placesHeld, pulledPlace, putPlace } from '../../core/recipe/held';
import type { Project, Step } from '../../core/recipe/schema';
import type { Standing } from '../../core/recipe/steps/handles';
import { shortNumber } from '../../core/units/units';
import { setBench, useBench } from '../state/bench';
import { change } from '../state/project';
import { quickView, standingOf, useStanding } from '../state/standing';
import { arrowSign, STILL } from './gestures';
import { acrossPx, letGo, rayAt } from './held';
import { Label } from './Label';
import { Wire } from './Wire';

const TEAL = '#0a6a66';

/** Places in space that were typed in the step that is worked on: dragged in the plane of the axes that face the viewer, or moved by arrow keys. */
export function PlaceHandles({ project }: { project: Project }) {
  const id = useBench((s) => s.step);
  const quiet = useBench((s) => s.picking !== null || s.preview !== null);
  const step = project.steps.find((s) => s.id === id);
  const standing = useStanding(project, step);
  const places = useMemo(() => (step ? placesHeld(step) : []), [step]);
  if (!step?.enabled || quiet || !standing) return null;
  return places.map((held) => <PlaceHandle key={`${step.id}/${held.field}/${held.index}`} {...{ project, step, held, standing }} />);
}

const read = (standing: Standing, at: HeldPlace['at']): Vec3 | null => {
  const place = standing.place({ at: [...at] });
  return place?.every(Number.isFinite) ? place : null;
};

function PlaceHandle({ project, step, held, standing }: { project: Project; step: Step; held: HeldPlace; standing: Standing }) {
  const { camera, gl, invalidate } = useThree();
  const controls = useThree((s) => s.controls) as { enabled: boolean } | null;
  const [pulled, setPulled] = useState<HeldPlace['at'] | null>(null);
  const drag = useRef<{ x: number; y: number; off: Vec3; axis: 0 | 1 | 2; waiting: number } | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: words over the stage take their place one frame after what they hang on
  useEffect(() => {
    const timer = setTimeout(() => invalidate(), 60);
    return () => clearTimeout(timer);
  }, [held, pulled, invalidate]);
  const begun = read(standing, held.at);
  const at = read(standing, pulled ?? held.at);
  if (!begun || !at) return null;
  const words = at.map((v) => shortNumber(v)).join(', ');
  /** Where the ray of sight meets the plane through the place that has the others of the axes. */
  const under = (e: Press, axis: 0 | 1 | 2): Vec3 | undefined => {
    const { origin, direction } = rayAt(gl.domElement, camera, e);
    const [eye, way]: [Vec3, Vec3] = [origin.toArray(), direction.toArray()];
    return Math.abs(way[axis]) < 1e-3 ? undefined : along(eye, way, (begun[axis] - eye[axis]) / way[axis]);
  };
  const begin = (e: Press): void => {
    if (e.button !== 0) return;
    const sight = minus(begun, camera.position.toArray());
    const axis = ([0, 1, 2] as const).reduce((best, k) => (Math.abs(sight[k]) > Math.abs(sight[best]) ? k : best), 0 as 0 | 1 | 2);
    const from = under(e, axis);
    if (!from) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    if (controls) controls.enabled = false;
    drag.current = { x: e.clientX, y: e.clientY, off: minus(begun, from), axis, waiting: 0 };
  };
  const follow = (e: Press): void => {
    const d = drag.current;
    if (!d || (pulled === null && Math.hypot(e.clientX - d.x, e.clientY - d.y) <= STILL)) return;
    const now = under(e, d.axis);
    if (!now) return;
    const next = pulledPlace(held, begun, along(now, d.off, 1), acrossPx(camera, gl.domElement.clientHeight, begun), project.units);
    cancelAnimationFrame(d.waiting);
    d.waiting = requestAnimationFrame(() => {
      setPulled(next);
      const { result, scenes } = useBench.getState();
      setBench({ quick: quickView(putPlace(project, step, held, next), [step.id], result, scenes, { built: project }) });
    });
  };
  const end = (): void => {
    if (!letGo(drag, controls)) return;
    const still = pulled === null || pulled.every((t, k) => t === held.at[k]);
    if (still) setBench({ quick: null });
    else change((p) => putPlace(p, step, held, pulled));
    setPulled(null);
  };
  const key = (e: KeyboardEvent): void => {
    const way = arrowSign(e.key);
    if (!way) return;
    e.preventDefault();
    const { elements } = camera.matrixWorld;
    // Along the axis that lies most across the view, or most up in it.
    const column = e.key === 'ArrowUp' || e.key === 'ArrowDown' ? 4 : 0;
    const seen: Vec3 = [elements[column]!, elements[column + 1]!, elements[column + 2]!];
    const axis = ([0, 1, 2] as const).reduce((best, k) => (Math.abs(seen[k]) > Math.abs(seen[best]) ? k : best), 0 as 0 | 1 | 2);
    const by = nudge('length', project.units) * (e.shiftKey ? 10 : 1) * way * Math.sign(seen[axis]);
    const to = triple((k) => begun[k] + (k === axis ? by : 0));
    change((p) => putPlace(p, step, held, pulledPlace(held, begun, to, 1e-3, project.units)));
  };
  const line = pulled === null ? [begun, begun] : chainWith(project, step, held, pulled);
  return (
    <>
      <Wire
        points={line.slice(1).flatMap((p, i): [number, number, number][] => [[...line[i]!], [...p]])}
        color={TEAL}
        width={2}
        through
        order={5}
      />
      <Label position={[...at]} center zIndexRange={[8, 0]}>
        <button
          type="button"
          aria-label={`Place ${held.index + 1}, ${words}`}
          title={`Place ${held.index + 1} (${words}): drag it, or use the arrow keys`}
          data-testid={`place-${held.field}-${held.index}`}
          className="pointer-events-auto block h-3 w-3 cursor-move touch-none rotate-45 border-2 border-card bg-teal"
          onPointerDown={begin}
          onPointerMove={follow}
          onPointerUp={end}
          onPointerCancel={end}
          onKeyDown={key}
        />
        {pulled && <span className="absolute left-5 top-[-4px] w-max bg-panel px-1 font-mono text-[12px]">{words}</span>}
      </Label>
    </>
  );
}

/** The places of the list one after the other, this one where it is pulled. */
function chainWith(project: Project, step: Step, held: HeldPlace, pulled: HeldPlace['at']): Vec3[] {
  const moved = putPlace(project, step, held, pulled).steps.find((s) => s.id === step.id)!;
  const { result, scenes } = useBench.getState();
  const now = standingOf(project, moved, result, scenes);
  const list = moved.inputs[held.field] as readonly Parameters<Standing['place']>[0][];
  const places = list.flatMap((ref) => {
    const place = now.place(ref);
    return place ? [place] : [];
  });
  return places.length > 1 ? places : [];
}
