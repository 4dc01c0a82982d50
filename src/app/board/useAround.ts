/** What stands about the drawing on the board: drawings in parallel planes, and bodies where its plane meets them. */
import { useEffect, useMemo, useState } from 'react';
import { normalOf, toPlane } from '../../core/curves/frame';
import type { Point2 } from '../../core/curves/planar';
import { dot, triple } from '../../core/geometry/vectors';
import { type Around, edgesIn, liesAlong, seenIn } from '../../core/profile/around';
import type { Profile, Project } from '../../core/recipe/schema';
import { bodyWords } from '../../core/recipe/words';
import { useBench } from '../state/bench';
import { curvesInSpace, frameOfDrawing } from '../state/lines';
import { cutBody } from '../state/sections';
import { useSame } from '../ui/useSame';

/** Other drawings are shown this exactly, mm. */
const DEVIATION = 0.05;
const NONE: readonly Around[] = [];

/** @param seen whether there is a board to show it on: nothing is solved or cut for nothing */
export function useAround(profile: Profile, project: Project, seen: boolean): readonly Around[] {
  const result = useBench((s) => s.result);
  const scenes = useBench((s) => s.scenes);
  const frame = useMemo(() => frameOfDrawing(profile, result), [profile, result]);
  const drawings = useMemo(() => {
    if (!frame || !seen) return NONE;
    return project.profiles.flatMap((p): Around[] => {
      const own = p.id === profile.id ? undefined : frameOfDrawing(p, result);
      if (!own || !liesAlong(own, frame)) return [];
      const lines = curvesInSpace(p, project, result, DEVIATION).filter((c) => !c.construction);
      return lines.length > 0
        ? [
            {
              words: p.name,
              lines: seenIn(
                frame,
                lines.map((c) => c.points),
              ),
            },
          ]
        : [];
    });
  }, [project, profile.id, frame, result, seen]);
  const [bodies, setBodies] = useState(NONE);
  const key = frame && JSON.stringify(frame);
  const hidden = useSame(Object.keys(project.bodies).filter((id) => project.bodies[id]!.hidden));
  // biome-ignore lint/correctness/useExhaustiveDependencies: the frame by its figures: it is another one after each build
  useEffect(() => {
    if (!frame || !seen) return setBodies(NONE);
    let live = true;
    const normal = normalOf(frame);
    const offset = dot(frame.origin, normal);
    void Promise.all(
      scenes
        .filter((s) => !hidden.includes(s.id))
        .map(async (scene): Promise<Around> => {
          const r = await cutBody(scene, { normal, offset });
          const { u, v, regions, chains } = r.ok && r.value ? r.value : { u: [0, 0, 0], v: [0, 0, 0], regions: [], chains: [] };
          const place = ([a, b]: readonly [number, number]): Point2 =>
            toPlane(
              frame,
              triple((k) => u[k]! * a + v[k]! * b + normal[k] * offset),
            );
          const loops = regions.flatMap(({ outer, holes }) => [outer, ...holes]).map((l) => [...l, l[0]!]);
          return {
            words: bodyWords(scene.id, project),
            lines: [...edgesIn(frame, scene.segments, scene.edgeOf), ...[...loops, ...chains].map((l) => l.map(place))],
          };
        }),
    ).then((all) => live && setBodies(all.filter((a) => a.lines.length > 0)));
    return () => {
      live = false;
    };
  }, [scenes, key, hidden, seen]);
  return useMemo(() => [...drawings, ...bodies], [drawings, bodies]);
}
