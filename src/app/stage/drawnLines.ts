/** Drawn lines and curves in space: those that stand on the stage, and all there are while a step asks for some. */
import { useMemo } from 'react';
import { JOINED } from '../../core/curves/chained';
import type { Frame } from '../../core/curves/frame';
import type { Vec3 } from '../../core/geometry/vectors';
import type { Profile, Project } from '../../core/recipe/schema';
import type { PathRef } from '../../core/recipe/steps';
import { shownOnBoard } from '../board/shown';
import { useBench } from '../state/bench';
import { curvesInSpace, type DrawnLine, type DrawnPoint, drawnBefore, frameOfDrawing, pointsBefore, spaceLine } from '../state/lines';
import { goingOn } from './frame';
import type { PickableLines } from './pick';

export interface DrawnLines extends PickableLines {
  /** One for each of `edgeNames`. */
  readonly lines: readonly DrawnLine[];
}

export const keyOf = (ref: object): string => JSON.stringify(ref);

/** What may be picked beside edges; null while no step asks for lines. */
export function useDrawnLines(project: Project): DrawnLines | null {
  const picking = useBench((s) => s.picking);
  const result = useBench((s) => s.result);
  const step = picking?.what === 'paths' && 'step' in picking.target ? picking.target.step : null;
  return useMemo(() => (step === null ? null : pickable(drawnBefore(project, result, step))), [project, result, step]);
}

/** Drawn points that may be picked; none while no step asks for places. */
export function useDrawnPoints(project: Project): readonly DrawnPoint[] {
  const picking = useBench((s) => s.picking);
  const result = useBench((s) => s.result);
  const step = picking?.what === 'places' && 'step' in picking.target ? picking.target.step : null;
  return useMemo(() => (step === null ? NO_POINTS : pointsBefore(project, result, step)), [project, result, step]);
}
const NO_POINTS: readonly DrawnPoint[] = [];

/** Lines as the stage picks them. */
export function pickable(lines: readonly DrawnLine[]): DrawnLines {
  const segments: number[] = [];
  const edgeOf: number[] = [];
  lines.forEach(({ points }, edge) => {
    for (let i = 1; i < points.length; i++) {
      segments.push(...points[i - 1]!, ...points[i]!);
      edgeOf.push(edge);
    }
  });
  return { segments: new Float32Array(segments), edgeOf: new Uint32Array(edgeOf), edgeNames: lines.map((l) => keyOf(l.ref)), lines };
}

/** Drawn lines whose directions differ by less where their ends meet go on from each other: their places lie up to 0.1 mm beside bends, rad. */
const TURN = 0.2;

/** A line with all that go on from it without a corner; of a drawing one curve stands for those that hang together. */
export function withAllThatGoOn(drawn: DrawnLines, ref: PathRef): PathRef[] {
  const at = drawn.lines.findIndex((l) => l.ref === ref);
  const chain = goingOn(drawn, at, TURN, JOINED).map((i) => drawn.lines[i]!.ref);
  return chain.filter((r, i) => !('profile' in r) || chain.findIndex((q) => 'profile' in q && q.profile === r.profile) === i);
}

export interface BoardDrawing {
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
    const frame = frameOfDrawing(profile, result);
    const used = project.steps.some((s) => s.enabled && s.inputs.profile === profile.id);
    // A half profile on the front plane stands inside its own body.
    if (!frame || (profile.plane === 'front' && used)) return null;
    return { profile, frame, lines: curvesInSpace(profile, project, result, 0.01) };
  }, [project, step, chosen, result]);
}

/** Curves that steps draw. */
export function useStepCurves(): readonly (readonly Vec3[])[] {
  const result = useBench((s) => s.result);
  return useMemo(() => [...(result?.paths.values() ?? [])].map(spaceLine), [result]);
}
