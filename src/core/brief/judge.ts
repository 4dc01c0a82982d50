/** Which body the brief judges, of what material, and what its gauges say: one reading for bench, brief, make, report and runner. */
import type { Scope } from '../dimensions/expression';
import { isScan } from '../recipe/lineage';
import type { Project } from '../recipe/schema';
import { type GaugeReading, type Readings, readGauges } from './gauges';

/** What a body is made of: its own material, else the brief's. */
export const materialOf = (project: Project, body: string | null): string =>
  (body !== null && project.bodies[body]?.material) || project.brief.material;

/** The one that was chosen, else the first that is shown, scans last, else the first; null where there is none. @param bodies in the order of the document */
export const judgedBody = <T>(project: Project, bodies: readonly T[], idOf: (body: T) => string, chosen: string | null = null): T | null =>
  bodies.find((b) => idOf(b) === chosen) ??
  bodies.find((b) => !project.bodies[idOf(b)]?.hidden && !isScan(project, idOf(b))) ??
  bodies.find((b) => !project.bodies[idOf(b)]?.hidden) ??
  bodies[0] ??
  null;

/** All gauges of a body, those with targets first, in the brief's order. @param readings null while they are not known */
export const judge = (project: Project, scope: Scope, body: string | null, readings: Readings | null): GaugeReading[] =>
  readGauges(project.brief.targets, readings, materialOf(project, body), scope);
