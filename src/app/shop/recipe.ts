/** The recipe's own dimensions as they stand in space, for the drawing: driving ones of profiles, and values of steps that have a place. */
import { directionIn, normalOf, toSpace } from '../../core/curves/frame';
import { along, type Vec3 } from '../../core/geometry/vectors';
import { anchors } from '../../core/profile/notes';
import { dimensionTargets } from '../../core/profile/resolve';
import { isDimension } from '../../core/profile/solver/terms';
import { constraintWords } from '../../core/profile/words';
import type { Project } from '../../core/recipe/schema';
import { stepDefinitions, stepOf } from '../../core/recipe/steps';
import { usesOfStep } from '../../core/recipe/uses';
import { evaluateValue } from '../../core/recipe/values';
import { stepTitle } from '../../core/recipe/words';
import { lengthWords } from '../../core/shop/dimension';
import { type Hole, type RecipeDimension, recipeKey } from '../../core/shop/sheet';
import type { ViewEdge } from '../../core/shop/sight';
import type { BodyScene, RebuildResult } from '../../engine/types';
import { solvedDrawing } from '../state/lines';
import { tableOf } from '../state/project';
import { standingOf } from '../state/standing';

/** All of them, by their keys. */
export function recipeDimensions(
  project: Project,
  result: RebuildResult | null,
  scenes: readonly BodyScene[],
): Map<string, RecipeDimension> {
  const out = new Map<string, RecipeDimension>();
  const put = (d: RecipeDimension): void => void out.set(recipeKey(d.of), d);
  const { scope } = tableOf(project);
  // What nothing is built from has no place on the drawing.
  const used = new Set(project.steps.flatMap((s) => (s.enabled ? usesOfStep(project, s).profiles : [])));
  for (const profile of project.profiles.filter((p) => used.has(p.id))) {
    const stood = solvedDrawing(profile, project, result);
    const targets = dimensionTargets(profile, scope);
    if (!stood || !targets.ok) continue;
    const { frame, resolved } = stood;
    for (const c of profile.constraints) {
      if (!isDimension(c) || !c.driving || !['distance', 'across', 'radius', 'diameter'].includes(c.kind)) continue;
      const at = anchors(c, resolved);
      const value = targets.value.get(c.id);
      if (!at || value === undefined) continue;
      const straight = c.kind === 'distance' && c.direction !== 'aligned' ? c.direction : null;
      put({
        words: `${profile.name}: ${constraintWords(profile, c)}`,
        of: { profile: profile.id, constraint: c.id },
        value,
        sign: c.kind === 'radius' ? 'R' : c.kind === 'distance' ? '' : '⌀',
        a: toSpace(frame, at.a),
        b: toSpace(frame, at.b),
        normal: normalOf(frame),
        ...(c.kind === 'across' || straight ? { way: directionIn(frame, straight === 'vertical' ? { x: 0, y: 1 } : { x: 1, y: 0 }) } : {}),
      });
    }
  }
  for (const step of project.steps) {
    if (!step.enabled) continue;
    const definition = stepDefinitions[step.kind]!;
    for (const h of definition.handles?.(step, standingOf(project, step, result, scenes)) ?? []) {
      if (!('way' in h)) continue;
      const spec = definition.values[h.value]!;
      const read = evaluateValue(spec, step.values[h.value] ?? '', scope);
      if (spec.kind !== 'length' || !read.ok || !(read.value > 0) || !h.from.every(Number.isFinite)) continue;
      const per = h.per ?? 1;
      // What goes half its value one way goes the other half the other way.
      const half = Math.abs(per - 0.5) < 1e-9;
      if (!half && Math.abs(per - 1) > 1e-9) continue;
      const ends: [Vec3, Vec3] = [
        along(h.from, h.way, half ? -read.value / 2 : 0),
        along(h.from, h.way, half ? read.value / 2 : read.value),
      ];
      put({
        words: `${stepTitle(step.id, project)}: ${spec.label}`,
        of: { step: step.id, value: h.value },
        value: read.value,
        sign: /diameter/.test(spec.label) ? '⌀' : '',
        a: ends[0],
        b: ends[1],
        way: h.way,
      });
    }
  }
  return out;
}

/** Holes that steps bore, where a view sees them round: numbered from the left. */
export function holesIn(project: Project, edges: readonly ViewEdge[]): Hole[] {
  const { scope } = tableOf(project);
  const found: { x: number; y: number; radius: number; depth: string }[] = [];
  for (const { kind, id } of project.steps) {
    const step = kind === 'hole' ? stepOf(project, id, 'hole') : undefined;
    if (!step?.enabled) continue;
    const deep = evaluateValue(stepDefinitions.hole!.values.deep!, step.values.deep ?? '', scope);
    const depth = step.inputs.depth === 'through' ? 'through' : deep.ok ? lengthWords(deep.value, project.units) : '';
    for (const e of edges) {
      const c = e.circle;
      if (c?.seen !== 'round' || !e.name.split('|').some((face) => face.startsWith(`${id}/`))) continue;
      if (found.some((o) => Math.hypot(o.x - c.centre.x, o.y - c.centre.y) < 1e-3)) continue;
      found.push({ ...c.centre, radius: c.radius, depth });
    }
  }
  found.sort((a, b) => (Math.abs(a.x - b.x) > 1e-6 ? a.x - b.x : a.y - b.y));
  return found.map((h, i) => ({
    at: { x: h.x, y: h.y },
    label: String(i + 1),
    words: [lengthWords(h.x, project.units), lengthWords(h.y, project.units), `⌀${lengthWords(2 * h.radius, project.units)}`, h.depth],
  }));
}
