import { writtenAs } from '../../core/exchange/written';
import type { Project } from '../../core/recipe/schema';
import type { BodyReport } from '../../engine/types';

/** Bodies as the engine is asked to write them: under the names that are shown, in the document's colours, larger by what they were measured to shrink. */
export const exported = (project: Project, bodies: readonly BodyReport[]) =>
  bodies.map(({ id, name }) => ({ id, name, ...writtenAs(project, id) }));
