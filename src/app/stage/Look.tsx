import { useMemo } from 'react';
import type { Project } from '../../core/recipe/schema';
import { useBench } from '../state/bench';
import { Body } from './Bodies';
import { overallOf } from './extent';
import { Leaders } from './Leaders';
import { Rig } from './Rig';
import { Room } from './Room';
import { useExtent } from './useExtent';

/** Bodies to be looked at from all sides, with their sizes, and nothing else. @param only those that stand there; all that are not hidden where left out */
export function Look({ project, only }: { project: Project; only?: readonly string[] }) {
  const all = useBench((s) => s.scenes);
  const stale = useBench((s) => s.stale && !s.kept);
  const built = useBench((s) => s.result?.bodies);
  const scenes = useMemo(
    () => all.filter((s) => (only ? only.includes(s.id) : !project.bodies[s.id]?.hidden)),
    [all, only, project.bodies],
  );
  const extent = useExtent(scenes);
  const overall = useMemo(
    () => (scenes.length > 0 ? overallOf(scenes, (id) => built?.find((b) => b.id === id)?.bbox) : null),
    [scenes, built],
  );
  return (
    <section aria-label="What is made" className="relative h-full overflow-hidden border border-line2 bg-stage">
      <Room>
        <Rig extent={extent} standing={extent} whole={false} />
        {scenes.map((s) => (
          <Body key={s.id} scene={s} project={project} clipping={NOWHERE} old={stale} hover={null} covered={false} />
        ))}
        {overall && <Leaders overall={overall} units={project.units} />}
      </Room>
    </section>
  );
}

const NOWHERE: never[] = [];
