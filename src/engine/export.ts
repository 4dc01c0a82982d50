/** A built body as a file. */
import { write3mf, writeObj, writeStl } from '../core/exchange/mesh-files';
import { openEdgeCount, type TriMesh, triangleCount } from '../core/mesh/mesh';
import { slug } from '../core/recipe/file';
import { fail, ok, type Result } from '../core/result';
import type { KernelBody } from '../kernel/body';
import { writeStep } from '../kernel/exchange/step';
import type { Kernel } from '../kernel/open';
import { tessellate, weldedMesh } from '../kernel/tessellate';
import type { ExportFormat } from './types';

export const EXPORT_FORMATS: readonly ExportFormat[] = ['step', 'stl', '3mf', 'obj'];

export interface ExportFile {
  readonly name: string;
  readonly bytes: Uint8Array;
  readonly triangles: number | null;
}

/** Facets turn by at most this in exported meshes, rad. */
const EXPORT_ANGLE = 0.35;

/** @param deviation largest distance from the exact surface, mm */
export function exportMesh(kernel: Kernel, body: KernelBody, deviation: number): TriMesh {
  if (body.facets && body.mesh) return weldedMesh(body.mesh);
  return weldedMesh(tessellate(kernel, body.shape, deviation, EXPORT_ANGLE));
}

/** A mesh file is refused when its skin is not closed: it would only fail later, at the maker's. */
export function exportBody(
  kernel: Kernel,
  body: KernelBody,
  format: ExportFormat,
  deviation: number,
  project: string,
  bodyName: string,
): Result<ExportFile> {
  const title = `${project}, ${bodyName}`;
  const name = `${slug(project, bodyName)}.${format}`;
  if (format === 'step' && body.facets) return fail(`${bodyName} was hollowed as a mesh: STEP has no exact surfaces of it to write`);
  if (format === 'step') {
    const bytes = writeStep(kernel, body.shape, title);
    return bytes.ok ? ok({ name, bytes: bytes.value, triangles: null }) : bytes;
  }
  if (body.surface) return fail(`${bodyName} is a surface and has no inside to print: close it or give it a wall, or write it as STEP`);
  const mesh = exportMesh(kernel, body, deviation);
  const open = openEdgeCount(mesh);
  if (open > 0) return fail(`at this deviation the mesh has ${open} open edges; choose a finer one`);
  const bytes = { stl: writeStl, obj: writeObj, '3mf': write3mf }[format](mesh, title);
  return ok({ name, bytes, triangles: triangleCount(mesh) });
}
