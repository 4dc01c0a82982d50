/** Drawn lines and curves in space: those that stand on the stage, and all there are while a step asks for some. */
import { useMemo } from 'react';
import { type Frame, isOriginPlane, ORIGIN_PLANES } from '../../core/curves/frame';
import type { Vec3 } from '../../core/geometry/vectors';
import type { Profile, Project } from '../../core/recipe/schema';
import type { PathRef } from '../../core/recipe/steps';
import { shownOnBoard } from '../board/shown';
import { useBench } from '../state/bench';
import { curvesInSpace, type DrawnLine, drawnBefore, spaceLine } from '../state/lines';
import type { PickableLines } from './pick';

export interface DrawnLines extends PickableLines {
  /** One for each of `edgeNames`. */
  readonly lines: readonly DrawnLine[];
}

export const keyOf = (ref: PathRef): string => JSON.stringify(ref);

/** What may be picked beside edges; null while no step asks for lines. */
export function useDrawnLines(project: Project): DrawnLines | null {
  const picking = useBench((s) => s.picking);
  const result = useBench((s) => s.result);
  const step = picking?.what === 'paths' && 'step' in picking.target ? picking.target.step : null;
  return useMemo(() => {
    if (step === null) return null;
    const lines = drawnBefore(project, result, step);
    const segments: number[] = [];
    const edgeOf: number[] = [];
    lines.forEach(({ points }, edge) => {
      for (let i = 1; i < points.length; i++) {
        segments.push(...points[i - 1]!, ...points[i]!);
        edgeOf.push(edge);
      }
    });
    return {
      segments: new Float32Array(segments),
      edgeOf: new Uint32Array(edgeOf),
      edgeNames: lines.map((l) => keyOf(l.ref)),
      lines,
    };
  }, [project, result, step]);
}

interface BoardDrawing {
  readonly profile: Profile;
  readonly frame: Frame;
  readonly lines: ReturnType<typeof curvesInSpace>;
}

/** The drawing the board shows, where its plane puts it; null where it has no place, or the board shows enough. */
export function useBoardDrawing(project: Project): BoardDrawing | null {
  const chosen = useBench((s) => s.profile);
  const step = useBench((s) => s.step);
  const result = useBench((s) => s.result);
  return useMemo(() => {
    const { profile } = shownOnBoard(project, step, chosen);
    if (!profile) return null;
    const frame = isOriginPlane(profile.plane) ? ORIGIN_PLANES[profile.plane] : result?.profiles.get(profile.id)?.frame;
    const used = project.steps.some((s) => s.enabled && s.inputs.profile === profile.id);
    // A half profile on the front plane stands inside its own body.
    if (!frame || (profile.plane === 'front' && used)) return null;
    return { profile, frame, lines: curvesInSpace(profile, project, result, 0.1) };
  }, [project, step, chosen, result]);
}

/** Curves that steps draw. */
export function useStepCurves(): readonly (readonly Vec3[])[] {
  const result = useBench((s) => s.result);
  return useMemo(() => [...(result?.paths.values() ?? [])].map(spaceLine), [result]);
}
