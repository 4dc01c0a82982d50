/** What a body and its gauges depend on; names, units and tables of sizes don't change what is built. */
import type { Project } from './schema';

const MATTERS = ['profiles', 'steps', 'marker', 'brief', 'bodies', 'imports'] as const;

/** Whether two states of one sheet build the same, told by what was put in anew. @param but a dimension that may differ */
export const buildsAlike = (a: Project, b: Project, but: string | null = null): boolean =>
  MATTERS.every((k) => a[k] === b[k]) &&
  (a.dimensions === b.dimensions ||
    (but !== null &&
      a.dimensions.length === b.dimensions.length &&
      a.dimensions.every((d, i) => d.name === b.dimensions[i]!.name && (d.name === but || d.expr === b.dimensions[i]!.expr))));
