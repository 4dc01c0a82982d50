/** What the places of a step's values are told from: planes, drawings, bodies and faces as they are built. */
import { useMemo } from 'react';
import { isOriginPlane, ORIGIN_PLANES } from '../../core/curves/frame';
import { evaluateAs } from '../../core/dimensions/expression';
import { cross, minus, triple, unit, type Vec3 } from '../../core/geometry/vectors';
import { bounds } from '../../core/mesh/mesh';
import type { Project, Step } from '../../core/recipe/schema';
import { stepDefinitions } from '../../core/recipe/steps';
import type { Standing } from '../../core/recipe/steps/handles';
import { evaluateValue } from '../../core/recipe/values';
import type { BodyScene } from '../../engine/types';
import { useBench } from '../state/bench';
import { curvesInSpace, frameOfDrawing, pointsInSpace } from '../state/lines';
import { tableOf } from '../state/project';

/** Lines that go with a handle are drawn this exactly, mm. */
const DEVIATION = 0.1;

export function useStanding(project: Project, step: Step | undefined): Standing | null {
  const result = useBench((s) => s.result);
  const scenes = useBench((s) => s.scenes);
  return useMemo(() => {
    if (!step) return null;
    const { scope } = tableOf(project);
    const specs = stepDefinitions[step.kind]!.values;
    return {
      value: (name) => {
        const read = evaluateValue(specs[name]!, step.values[name] ?? '', scope);
        return read.ok ? read.value : Number.NaN;
      },
      frame: (plane) => (isOriginPlane(plane) ? ORIGIN_PLANES[plane] : result?.planes.get(plane)),
      drawing: (id) => {
        const profile = project.profiles.find((p) => p.id === id);
        const frame = profile && frameOfDrawing(profile, result);
        if (!profile || !frame) return undefined;
        const curves = curvesInSpace(profile, project, result, DEVIATION);
        return { frame, lines: curves.filter((c) => !c.construction).map((c) => c.points) };
      },
      bounds: (body) => {
        const scene = scenes.find((s) => s.id === body);
        return scene && bounds(scene.positions);
      },
      place: (ref) => {
        // What can't be read stands nowhere, and has no handle.
        if ('at' in ref)
          return triple((k) => {
            const read = evaluateAs(ref.at[k], 'length', scope);
            return read.ok ? read.value : Number.NaN;
          });
        const profile = 'profile' in ref && project.profiles.find((p) => p.id === ref.profile);
        return profile ? pointsInSpace(profile, project, result).find((p) => p.ref.point === ref.point)?.at : undefined;
      },
      face: (called) => highest(scenes, called),
    };
  }, [project, step, result, scenes]);
}

/** The highest facet of the faces that are called so: its middle, and the way it faces. */
function highest(scenes: readonly BodyScene[], called: RegExp): { at: Vec3; normal: Vec3 } | undefined {
  let best: { at: Vec3; normal: Vec3 } | undefined;
  for (const { faceNames, faceOf, indices, positions } of scenes) {
    const wanted = new Set(faceNames.flatMap((n, i) => (called.test(n) ? [i] : [])));
    if (wanted.size === 0) continue;
    const corner = (t: number, k: number): Vec3 => triple((axis) => positions[3 * indices[3 * t + k]! + axis]!);
    for (let t = 0; t < faceOf.length; t++) {
      if (!wanted.has(faceOf[t]!)) continue;
      const [a, b, c] = [corner(t, 0), corner(t, 1), corner(t, 2)];
      const at = triple((k) => (a[k] + b[k] + c[k]) / 3);
      if (best && at[2] <= best.at[2]) continue;
      const normal = unit(cross(minus(b, a), minus(c, a)));
      if (normal) best = { at, normal };
    }
  }
  return best;
}
