/** What the brief asks of a body that is inspected. */
import { evaluateAs } from '../../core/dimensions/expression';
import type { Project } from '../../core/recipe/schema';
import { tableOf } from '../state/project';

/** The least wall of the brief, mm. */
export function wallLimit(project: Project): number | null {
  const text = project.brief.targets.find((t) => t.gauge === 'wall-min')?.min;
  const r = text ? evaluateAs(text, 'length', tableOf(project).scope) : undefined;
  return r?.ok ? r.value : null;
}
