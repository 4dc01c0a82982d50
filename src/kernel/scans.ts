/** Scans as bodies of facets. They have no exact shape: the box around them stands in for it, which is what the rest asks of it. */
import { bounds, massProperties, type TriMesh } from '../core/mesh/mesh';
import { BORDER, edgeName, type FaceName } from '../core/recipe/names';
import { placeOf, topologyOf, vertexNormals } from '../core/scan/topology';
import type { KernelBody } from './body';
import { type Kernel, scoped } from './open';
import { type BodyMesh, tessellate, weldedMesh } from './tessellate';

/** How the face of a scan is called, after its step. */
export const SCANNED = '/scan';

/** What is said of every scan. */
export const SCAN_ONLY = 'a scan: it can be cleaned, set upright, moved, measured and fitted, not built on';

/** @param mesh with shared corners; its faces are numbered as `faces` are named */
export function scanBody(kernel: Kernel, mesh: TriMesh, faces: readonly FaceName[]): KernelBody {
  const { min, max } = bounds(mesh.positions);
  const shape = scoped((s) => {
    const [a, b] = [
      s.keep(new kernel.gp_Pnt(...min)),
      s.keep(new kernel.gp_Pnt(...(max.map((m, k) => Math.max(m, min[k]! + 1e-3)) as [number, number, number]))),
    ];
    return s.keep(new kernel.BRepPrimAPI_MakeBox(a, b)).Shape();
  });
  const body = { shape, faces, facets: true as const, mesh: shown(mesh) };
  // Of what is kept, which all later steps ask as well.
  const skin = scanMesh(body)!;
  const { borders, islands } = topologyOf(skin);
  const open = borders.length > 0;
  return {
    ...body,
    volume: open ? 0 : massProperties(skin).volume,
    ...(open ? { surface: true as const } : {}),
    ...(!open && islands.length > 1 ? { pieces: islands.length } : {}),
  };
}

/** Lines on a body of facets. */
interface Lines {
  readonly segments: Float32Array;
  readonly edgeOf: Uint32Array;
  readonly edgeNames: readonly string[];
  readonly edgeLengths: readonly number[];
}

/** Lines with the open borders of a scan beside them, each for itself, the longest first. */
export function withBorders(lines: Lines, mesh: TriMesh, faces: readonly FaceName[]): Lines {
  const faceAt = new Map<number, number>();
  for (let i = 0; i < mesh.indices.length; i++) faceAt.set(mesh.indices[i]!, mesh.faceOf[Math.floor(i / 3)]!);
  const { borders } = topologyOf(mesh);
  const [segments, edgeOf]: [number[], number[]] = [[], []];
  borders.forEach((b, k) => {
    b.vertices.forEach((v, i) => {
      segments.push(...placeOf(mesh, v), ...placeOf(mesh, b.vertices[(i + 1) % b.vertices.length]!));
      edgeOf.push(lines.edgeNames.length + k);
    });
  });
  const names = borders.map((b, k) => `${edgeName(BORDER, faces[faceAt.get(b.vertices[0]!)!]!)}${borders.length > 1 ? `~${k + 1}` : ''}`);
  return {
    segments: Float32Array.from([...lines.segments, ...segments]),
    edgeOf: Uint32Array.from([...lines.edgeOf, ...edgeOf]),
    edgeNames: [...lines.edgeNames, ...names],
    edgeLengths: [...lines.edgeLengths, ...borders.map((b) => b.length)],
  };
}

/** Whether a body is a scan: its first face is called so by whatever was done to it. */
export const isScanned = ({ faces }: Pick<KernelBody, 'faces'>): boolean => /\/scan\b/.test(faces[0] ?? '');

/** The facets of a scan, its corners shared. */
export function scanMesh({ facets, mesh, faces }: Pick<KernelBody, 'facets' | 'mesh' | 'faces'>): TriMesh | undefined {
  if (!facets || !mesh) return undefined;
  // Corners of a scan are parted only where faces meet; those of other facets where they bend, too.
  if (!isScanned({ faces }) || !ofOneFace(mesh)) return weldedMesh(mesh);
  let skin = shared.get(mesh);
  if (!skin) {
    skin = { positions: Float64Array.from(mesh.positions), indices: mesh.indices, faceOf: mesh.faceOf };
    shared.set(mesh, skin);
  }
  return skin;
}

/** The skin of any body by facets with shared corners: a scan's own, else no farther off it than a deflection, mm. */
export const facetsWithin = (kernel: Kernel, body: KernelBody, deflection: number): TriMesh =>
  scanMesh(body) ?? weldedMesh(tessellate(kernel, body.shape, Math.max(1e-3, deflection)));

const shared = new WeakMap<BodyMesh, TriMesh>();

const ofOneFace = ({ faceOf }: { readonly faceOf: Uint32Array }): boolean => faceOf.every((f) => f === faceOf[0]);

/** Corners are parted where faces meet, their normals are not. */
function shown(mesh: TriMesh): BodyMesh {
  const smooth = vertexNormals(mesh);
  // Of one face: as it is.
  if (ofOneFace(mesh))
    return { positions: Float32Array.from(mesh.positions), normals: Float32Array.from(smooth), indices: mesh.indices, faceOf: mesh.faceOf };
  const known = new Map<number, number>();
  const count = mesh.positions.length / 3;
  const [positions, normals]: [number[], number[]] = [[], []];
  const indices = mesh.indices.map((v, i) => {
    const key = mesh.faceOf[Math.floor(i / 3)]! * count + v;
    let n = known.get(key);
    if (n === undefined) {
      n = positions.length / 3;
      known.set(key, n);
      for (let k = 0; k < 3; k++) {
        positions.push(mesh.positions[3 * v + k]!);
        normals.push(smooth[3 * v + k]!);
      }
    }
    return n;
  });
  return { positions: Float32Array.from(positions), normals: Float32Array.from(normals), indices, faceOf: mesh.faceOf };
}
