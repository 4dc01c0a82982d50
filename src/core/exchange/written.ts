import type { Project } from '../recipe/schema';

/** How a body goes into files, beside its name: in the colour of the document, as it lies, larger by what it was measured to shrink. */
export const writtenAs = ({ bodies, made }: Pick<Project, 'bodies' | 'made'>, id: string) => ({
  colour: bodies[id]?.colour,
  lie: bodies[id]?.lie,
  grown: made?.grown,
});
