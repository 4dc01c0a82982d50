import { useMemo } from 'react';
import { Box3, Matrix4, Quaternion, Vector3 } from 'three';
import type { Vec3 } from '../../core/geometry/vectors';
import type { Project } from '../../core/recipe/schema';
import type { BodyScene } from '../../engine/types';
import { useBench } from '../state/bench';
import { Body } from './Bodies';
import { type Extent, overallOf } from './extent';
import { Leaders } from './Leaders';
import { Over } from './Over';
import { Rig } from './Rig';
import { Room } from './Room';
import { useExtent } from './useExtent';

/**
 * Bodies to be looked at from all sides, with their sizes, and nothing else.
 * @param only those that stand there; all that are not hidden where left out
 * @param over bodies laid over them, of another state of the sheet
 * @param down which way of them is down, where they lie otherwise than they are drawn: then without their sizes
 */
export function Look({
  project,
  only,
  down = null,
  over = NONE,
}: {
  project: Project;
  only?: readonly string[];
  down?: Vec3 | null;
  over?: readonly BodyScene[];
}) {
  const all = useBench((s) => s.scenes);
  const stale = useBench((s) => s.stale && !s.kept);
  const built = useBench((s) => s.result?.bodies);
  const scenes = useMemo(
    () => all.filter((s) => (only ? only.includes(s.id) : !project.bodies[s.id]?.hidden)),
    [all, only, project.bodies],
  );
  const drawn = useExtent(useMemo(() => [...scenes, ...over], [scenes, over]));
  const { extent, turn, at } = useMemo(() => lain(drawn, down), [drawn, down]);
  const overall = useMemo(
    () => (scenes.length > 0 ? overallOf(scenes, (id) => built?.find((b) => b.id === id)?.bbox) : null),
    [scenes, built],
  );
  return (
    <section aria-label="What is made" className="relative h-full overflow-hidden border border-line2 bg-stage">
      <Room>
        <Rig extent={extent} standing={extent} whole={false} />
        <group quaternion={turn} position={at}>
          {scenes.map((s) => (
            <Body key={s.id} scene={s} project={project} clipping={NOWHERE} old={stale} hover={null} covered={false} />
          ))}
        </group>
        {over.map((s) => (
          <Over key={s.id} scene={s} />
        ))}
        {overall && !down && <Leaders overall={overall} units={project.units} />}
      </Room>
    </section>
  );
}

const NOWHERE: never[] = [];
const NONE: readonly BodyScene[] = [];

/** Turned about its middle so that what is to be down is; where it reaches then, at the most. */
function lain(drawn: Extent, down: Vec3 | null): { extent: Extent; turn: Quaternion; at: Vector3 } {
  const turn = down ? new Quaternion().setFromUnitVectors(new Vector3(...down), new Vector3(0, 0, -1)) : new Quaternion();
  const box = new Box3(new Vector3(...drawn.min), new Vector3(...drawn.max));
  const middle = box.getCenter(new Vector3());
  const at = middle.clone().sub(middle.clone().applyQuaternion(turn));
  if (!down) return { extent: drawn, turn, at };
  box.applyMatrix4(new Matrix4().compose(at, turn, new Vector3(1, 1, 1)));
  return { extent: { min: box.min.toArray(), max: box.max.toArray() }, turn, at };
}
