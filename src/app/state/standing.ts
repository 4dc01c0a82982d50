/** What the places of a step's values are told from: planes, drawings, bodies and faces as they are built. */
import { useMemo } from 'react';
import { chained, JOINED } from '../../core/curves/chained';
import { isOriginPlane, ORIGIN_PLANES } from '../../core/curves/frame';
import { evaluateAs } from '../../core/dimensions/expression';
import { cross, distance, minus, triple, unit, type Vec3 } from '../../core/geometry/vectors';
import { bounds } from '../../core/mesh/mesh';
import type { ResolvedProfile } from '../../core/profile/resolve';
import type { Profile, Project, Step } from '../../core/recipe/schema';
import { stepDefinitions } from '../../core/recipe/steps';
import type { Standing } from '../../core/recipe/steps/handles';
import type { Quick, QuickSkin, QuickStep } from '../../core/recipe/steps/quick';
import { usesOfStep } from '../../core/recipe/uses';
import { evaluateValue } from '../../core/recipe/values';
import type { BodyScene, RebuildResult } from '../../engine/types';
import { useBench } from './bench';
import { curvesInSpace, frameOfDrawing, pointsInSpace, spaceLine } from './lines';
import { tableOf } from './project';

/** Lines that go with a handle are drawn this exactly, mm. */
const DEVIATION = 0.1;

/** A drawing as it is being dragged. */
export interface Dragged {
  readonly profile: string;
  readonly resolved: ResolvedProfile;
}

/** What the places of a step's values are told from, and what it raises in a moment. @param dragged stands in for that drawing */
export function standingOf(
  project: Project,
  step: Step,
  result: RebuildResult | null,
  scenes: readonly BodyScene[],
  dragged?: Dragged,
): Standing {
  const { scope } = tableOf(project);
  const specs = stepDefinitions[step.kind]!.values;
  const profileOf = (id: string) => project.profiles.find((p) => p.id === id);
  const linesOf = (profile: Profile) =>
    curvesInSpace(profile, project, result, DEVIATION, dragged?.profile === profile.id ? dragged.resolved : undefined);
  const standing: Standing = {
    value: (name) => {
      const read = evaluateValue(specs[name]!, step.values[name] ?? '', scope);
      return read.ok ? read.value : Number.NaN;
    },
    frame: (plane) => (isOriginPlane(plane) ? ORIGIN_PLANES[plane] : result?.planes.get(plane)),
    drawing: (id) => {
      const profile = profileOf(id);
      const frame = profile && frameOfDrawing(profile, result);
      return profile && frame ? { frame, lines: drawnLines(linesOf(profile)) } : undefined;
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
      const profile = 'profile' in ref ? profileOf(ref.profile) : undefined;
      return profile && 'point' in ref ? pointsInSpace(profile, project, result).find((p) => p.ref.point === ref.point)?.at : undefined;
    },
    face: (called) => highest(scenes, called),
    line: (ref) => {
      if ('step' in ref) {
        const line = result?.paths.get(ref.step);
        return line && spaceLine(line);
      }
      if ('edge' in ref) return edgeLine(scenes, ref.body, ref.edge);
      const profile = profileOf(ref.profile);
      const curves = profile ? linesOf(profile) : [];
      const own = curves.find((c) => c.id === ref.curve)?.points[0];
      return own && chained(drawnLines(curves)).find((c) => c.some((p) => distance(p, own) < JOINED));
    },
    skin: (body, without) => {
      const scene = scenes.find((s) => s.id === body);
      return scene && (without === '' ? scene : facetsOf(scene, (name) => !name.startsWith(without)));
    },
    raised: (id) => {
      const other = project.steps.find((s) => s.id === id);
      return (other && quickOf(project, other, result, scenes, dragged)) ?? [];
    },
  };
  return standing;
}

/** What a step raises as it stands in a project, in a moment. @param built the project as it is built, where that is another */
export function quickOf(
  project: Project,
  step: Step,
  result: RebuildResult | null,
  scenes: readonly BodyScene[],
  dragged?: Dragged,
  built: Project = project,
): readonly QuickSkin[] | null {
  const quick = stepDefinitions[step.kind]!.quick;
  const was = built.steps.find((s) => s.id === step.id);
  if (!quick || !step.enabled || !was) return null;
  const skins = quick(step, standingOf(project, step, result, scenes, dragged), standingOf(built, was, result, scenes));
  return skins?.every((s) => s.positions.every(Number.isFinite)) ? skins : null;
}

/**
 * What is seen of steps while a value or a drawing of theirs is dragged. A body that one of them begins is shown by all that is raised on it; of
 * others what the step itself made is put in its place.
 * @param ids those that change @param built the project as it is built
 * @returns null where only the build can tell
 */
export function quickView(
  project: Project,
  ids: readonly string[],
  result: RebuildResult | null,
  scenes: readonly BodyScene[],
  o: { readonly dragged?: Dragged; readonly built?: Project } = {},
): Quick | null {
  const shown = new Map<string, QuickStep>();
  const bodies = new Set<string>();
  const faces: string[] = [];
  const raise = (step: Step): boolean => {
    const skins = quickOf(project, step, result, scenes, o.dragged, o.built);
    if (skins) shown.set(step.id, { step: step.id, skins, cuts: step.inputs.mode === 'cut' || step.inputs.mode === 'common' });
    return skins !== null;
  };
  for (const step of project.steps.filter((s) => s.enabled && ids.includes(s.id))) {
    if (!raise(step)) continue;
    const { makes, changesBody } = stepDefinitions[step.kind]!;
    const [own] = makes(step.inputs, step.id);
    const changed = changesBody(step.inputs);
    if (own === step.id && changed === null) {
      bodies.add(own);
      for (const other of project.steps) if (other.enabled && stepDefinitions[other.kind]!.changesBody(other.inputs) === own) raise(other);
    } else if (scenes.some((s) => s.faceNames.some((n) => n.startsWith(`${step.id}/`)))) faces.push(`${step.id}/`);
    else if (changed) bodies.add(changed);
  }
  return shown.size > 0 ? { steps: [...shown.values()], bodies: [...bodies], faces } : null;
}

/** The steps that a drawing is raised by, and those that repeat them. */
export function stepsOf(project: Project, profile: string): string[] {
  const own = project.steps.filter((s) => usesOfStep(project, s).profiles.includes(profile)).map((s) => s.id);
  return project.steps.filter((s) => own.includes(s.id) || usesOfStep(project, s).steps?.some((id) => own.includes(id))).map((s) => s.id);
}

const drawnLines = (curves: ReturnType<typeof curvesInSpace>): Vec3[][] => curves.filter((c) => !c.construction).map((c) => c.points);

/** An edge of a body, as it is drawn. */
function edgeLine(scenes: readonly BodyScene[], body: string, edge: string): Vec3[] | undefined {
  const scene = scenes.find((s) => s.id === body);
  const index = scene?.edgeNames.indexOf(edge) ?? -1;
  if (!scene || index < 0) return undefined;
  const pieces: Vec3[][] = [];
  for (let i = 0; i < scene.edgeOf.length; i++)
    if (scene.edgeOf[i] === index) pieces.push(spaceLine(scene.segments.subarray(6 * i, 6 * i + 6)));
  return chained(pieces)[0];
}

/** The facets of the faces that are wanted. */
function facetsOf({ positions, indices, faceOf, faceNames }: BodyScene, wanted: (name: string) => boolean): QuickSkin {
  const faces = faceNames.map(wanted);
  const kept: number[] = [];
  const own = new Map<number, number>();
  const places: number[] = [];
  for (let t = 0; t < faceOf.length; t++) {
    if (!faces[faceOf[t]!]) continue;
    for (let k = 0; k < 3; k++) {
      const corner = indices[3 * t + k]!;
      let at = own.get(corner);
      if (at === undefined) {
        at = own.size;
        own.set(corner, at);
        places.push(positions[3 * corner]!, positions[3 * corner + 1]!, positions[3 * corner + 2]!);
      }
      kept.push(at);
    }
  }
  return { positions: Float32Array.from(places), indices: Uint32Array.from(kept) };
}

export function useStanding(project: Project, step: Step | undefined): Standing | null {
  const result = useBench((s) => s.result);
  const scenes = useBench((s) => s.scenes);
  return useMemo(() => (step ? standingOf(project, step, result, scenes) : null), [project, step, result, scenes]);
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
