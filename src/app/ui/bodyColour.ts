import { isScan } from '../../core/recipe/lineage';
import type { Project } from '../../core/recipe/schema';

const IVORY = '#e9e3d3';
/** What was measured is none of what is made. */
const SCANNED = '#b4bcc0';

/** The colour a body is shown in: its own, else that of everything made, or of scans. */
export const bodyColour = (project: Project, body: string): string =>
  project.bodies[body]?.colour ?? (isScan(project, body) ? SCANNED : IVORY);
