/** A built body as a file. */
import { zipSync } from 'fflate';
import { writeGlb } from '../core/exchange/glb';
import { type MeshPart, write3mf, writeObj, writeStl } from '../core/exchange/mesh-files';
import { writtenAs } from '../core/exchange/written';
import type { Grown } from '../core/made/document';
import { grownMesh, growthWords } from '../core/made/grown';
import { openEdgeCount, type TriMesh, triangleCount } from '../core/mesh/mesh';
import { type Lie, laid } from '../core/print/lie';
import { PRINTED } from '../core/print/printer';
import { slug } from '../core/recipe/file';
import type { Project } from '../core/recipe/schema';
import { fail, ok, type Result } from '../core/result';
import type { KernelBody } from '../kernel/body';
import { writeStep } from '../kernel/exchange/step';
import type { Kernel } from '../kernel/open';
import { displayDeflection, tessellate, weldedMesh } from '../kernel/tessellate';
import type { ExportFormat } from './types';

export interface ExportFile {
  readonly name: string;
  readonly bytes: Uint8Array;
  readonly triangles: number | null;
}

/** Facets turn by at most this in exported meshes, rad. */
const EXPORT_ANGLE = 0.35;

/**
 * More facets than this are not made, on one face and in all: the kernel's mesher takes about half a minute over 200 000 on one face and four times
 * as long over twice as many; 2 million are an STL of 100 MB.
 */
export const MOST_FACETS = { face: 200_000, all: 2_000_000 } as const;
/** The two meshes that more is foretold from differ by this factor, and turn by as much as they like. */
const [FORETOLD, ANY_ANGLE] = [4, 3] as const;

/**
 * How many facets a body has at a deviation: made at two coarse ones, and carried on from there by their ratio. A face that bends one way has about
 * twice as many at a quarter of the deviation, one that bends both ways four times as many.
 * @returns undefined where it is coarse enough to be made anyway
 */
function foretold(kernel: Kernel, body: KernelBody, deviation: number): { readonly facets: number; readonly finest: number } | undefined {
  const coarse = FORETOLD * displayDeflection(kernel, body.shape);
  const fine = coarse / FORETOLD;
  if (deviation >= fine) return undefined;
  const [few, many] = [coarse, fine].map((d) => tessellate(kernel, body.shape, d, ANY_ANGLE).faceOf) as [Uint32Array, Uint32Array];
  const grows = Math.min(1, Math.max(0.5, Math.log(many.length / few.length) / Math.log(FORETOLD)));
  const facets = many.length * (fine / deviation) ** grows;
  const of = new Uint32Array(body.faces.length);
  for (const f of many) of[f] = of[f]! + 1;
  const share = Math.max(many.length / MOST_FACETS.all, Math.max(...of) / MOST_FACETS.face);
  return { facets, finest: fine * share ** (1 / grows) };
}

/** @param deviation largest distance from the exact surface, mm @returns an error in words for more facets than can be made */
export function exportMesh(kernel: Kernel, body: KernelBody, deviation: number): Result<TriMesh> {
  if (body.facets && body.mesh) return ok(weldedMesh(body.mesh));
  const told = foretold(kernel, body, deviation);
  if (told && deviation < told.finest) {
    const finest = Number((Math.ceil(told.finest * 2000) / 2000).toFixed(4));
    return fail(
      `at ${deviation} mm it would have about ${(told.facets / 1e6).toPrecision(2)} million facets, more than can be made; ${finest} mm is the finest for it`,
    );
  }
  return ok(weldedMesh(tessellate(kernel, body.shape, deviation, EXPORT_ANGLE)));
}

/** A body that is written, under its name. */
export interface ExportPart {
  readonly body: KernelBody;
  readonly name: string;
  readonly colour?: string | undefined;
  /** How it lies on the bed, where that was chosen: a file to print of it alone has it so. */
  readonly lie?: Pick<Lie, 'down' | 'turn'> | undefined;
  /** By how much what is printed from is made larger along each axis, so that what shrinks comes out right. */
  readonly grown?: Grown | undefined;
}

/** Built bodies as they go into files: under the names and in the colours of the document, larger by what parts of it were measured to shrink. */
export const partsOf = (
  project: Pick<Project, 'bodies' | 'made'>,
  built: readonly { readonly id: string; readonly body: KernelBody }[],
): ExportPart[] => built.map(({ id, body }) => ({ body, name: project.bodies[id]?.name ?? id, ...writtenAs(project, id) }));

/** Formats that skins may be written in: what is shown or worked on, not printed. A scan goes on as STL too, which is what it came as. */
const OPEN: readonly ExportFormat[] = ['obj', 'glb'];

/** What a mesh file holds of a body: refused where it is to be printed and its skin is not closed, which would only fail later, at the maker's. */
function meshPart(kernel: Kernel, { body, name, colour }: ExportPart, format: ExportFormat, deviation: number): Result<MeshPart> {
  const open = body.surface === true;
  if (open && !OPEN.includes(format) && !(body.facets && format === 'stl'))
    return fail(
      body.facets
        ? `${name} has open borders and no inside to print: write it as STL, OBJ or GLB`
        : `${name} is a surface and has no inside to print: close it or give it a wall, or write it as STEP, OBJ or GLB`,
    );
  const made = exportMesh(kernel, body, deviation);
  if (!made.ok) return fail(`${name}: ${made.error}`);
  if (open) return ok({ mesh: made.value, name, colour });
  const edges = openEdgeCount(made.value);
  return edges > 0
    ? fail(`${name}: at this deviation the mesh has ${edges} open edges; choose a finer one`)
    : ok({ mesh: made.value, name, colour });
}

/** One file of one body, or of several where they stand: all of them, or none with what stops it. */
export function exportBodies(
  kernel: Kernel,
  parts: readonly ExportPart[],
  format: ExportFormat,
  deviation: number,
  project: string,
): Result<ExportFile> {
  const one = parts.length === 1 ? parts[0] : undefined;
  const printed = PRINTED.includes(format);
  const growth = printed ? parts.find((p) => p.grown)?.grown : undefined;
  const title = `${project}${one ? `, ${one.name}` : ''}${growth ? `, grown ${growthWords(growth)}` : ''}`;
  const name = `${one ? slug(project, one.name) : slug(project)}.${format}`;
  if (format === 'step') {
    const faceted = parts.find((p) => p.body.facets);
    if (faceted) return fail(`${faceted.name} is a mesh: STEP has no exact surfaces of it to write`);
    const bytes = writeStep(
      kernel,
      parts.map((p) => ({ shape: p.body.shape, title: `${project}, ${p.name}`, colour: p.colour })),
      title,
    );
    return bytes.ok ? ok({ name, bytes: bytes.value, triangles: null }) : bytes;
  }
  const meshes: MeshPart[] = [];
  for (const part of parts) {
    const made = meshPart(kernel, part, format, deviation);
    if (!made.ok) return made;
    const whole = printed && part.grown ? grownMesh(made.value.mesh, part.grown) : made.value.mesh;
    meshes.push({ ...made.value, mesh: one?.lie && printed ? laid(whole, one.lie) : whole });
  }
  const bytes = { stl: writeStl, obj: writeObj, '3mf': write3mf, glb: writeGlb }[format](meshes, title);
  return ok({ name, bytes, triangles: meshes.reduce((n, { mesh }) => n + triangleCount(mesh), 0) });
}

/** A file for each body, all in one frame, packed together: all of them, or none with what stops it. */
export function exportApart(...[kernel, parts, format, deviation, project]: Parameters<typeof exportBodies>): Result<ExportFile> {
  const files: ExportFile[] = [];
  let triangles: number | null = null;
  for (const part of parts) {
    const made = exportBodies(kernel, [{ ...part, lie: undefined }], format, deviation, project);
    if (!made.ok) return made;
    files.push(made.value);
    if (made.value.triangles !== null) triangles = (triangles ?? 0) + made.value.triangles;
  }
  return ok({ name: `${slug(project)}-${format}.zip`, bytes: packed(files), triangles });
}

/** Files in one; what is called alike, as bodies and sizes may be, is told apart. */
export function packed(files: readonly { readonly name: string; readonly bytes: Uint8Array }[]): Uint8Array {
  const out: Record<string, Uint8Array> = {};
  for (const { name, bytes } of files) out[out[name] ? name.replace(/(\.\w+)$/, `-${Object.keys(out).length + 1}$1`) : name] = bytes;
  return zipSync(out, { level: 6 });
}
