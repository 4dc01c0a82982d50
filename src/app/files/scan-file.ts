/** Scans from files, as the project keeps them: corners shared, packed. */
import type { BufferGeometry, Mesh } from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { read3mf } from '../../core/exchange/read-3mf';
import { bounds, diagonal, weld } from '../../core/mesh/mesh';
import { fail, ok, type Result } from '../../core/result';
import { MOST_FACETS, packMesh } from '../../core/scan/packed';
import { damaged, MAX_MESH_BYTES, readFacets } from '../inspect/meshFile';

export interface ReadScan {
  readonly packed: string;
  /** What its lengths are in, or most likely are. */
  readonly unit: 'mm' | 'm' | 'in';
}

/** Corners nearer than this share of the size are one. */
const SAME_CORNER = 1e-7;
/** A part scanned is hardly smaller than the first in mm, and hardly so large as the second in metres: common practice, no source. */
const [SMALLEST, LARGEST] = [3, 20] as const;
/** Places after the point: a thousandth of a millimetre or finer, whatever the lengths are in. */
const KEPT_PLACES = { mm: 3, m: 6, in: 5 } as const;

/** The facets of a scan. @param name with its ending, which tells the format */
export async function readScan(bytes: Uint8Array, name: string): Promise<Result<ReadScan, string>> {
  const read = await facetsOf(bytes, name);
  if (!read.ok) return read;
  const count = read.value.facets.length / 9;
  if (count > MOST_FACETS)
    return fail(`${name} has ${(count / 1e6).toFixed(1)} million facets; up to ${MOST_FACETS / 1e6} million are read.`);
  const positions = Float64Array.from(read.value.facets);
  const size = diagonal(bounds(positions));
  const unit = read.value.unit ?? (size < SMALLEST ? 'm' : size < LARGEST ? 'in' : 'mm');
  const mesh = weld(
    { positions, indices: Uint32Array.from({ length: 3 * count }, (_, i) => i), faceOf: new Uint32Array(count) },
    Math.max(1e-9, SAME_CORNER * size),
  );
  if (mesh.faceOf.length === 0) return fail(`${name} holds no facets with an area.`);
  return ok({ packed: packMesh(mesh, KEPT_PLACES[unit]), unit });
}

/** @returns the unit too where the format says it */
async function facetsOf(
  bytes: Uint8Array,
  name: string,
): Promise<Result<{ readonly facets: Float32Array; readonly unit?: ReadScan['unit'] }, string>> {
  if (bytes.length > MAX_MESH_BYTES || !/\.(3mf|glb)$/i.test(name)) {
    const r = readFacets(bytes, name);
    return r.ok ? ok({ facets: r.value }) : r;
  }
  if (/\.3mf$/i.test(name)) {
    const r = read3mf(bytes);
    return r.ok ? ok({ facets: r.value, unit: 'mm' }) : fail(`${name} can’t be read: ${r.error}.`);
  }
  try {
    const { scene } = await new GLTFLoader().parseAsync(bytes.slice().buffer, '');
    scene.updateMatrixWorld(true);
    const found: number[] = [];
    scene.traverse((o) => {
      const own = (o as Mesh).isMesh ? ((o as Mesh).geometry as BufferGeometry) : undefined;
      if (!own) return;
      const g = (own.getIndex() ? own.toNonIndexed() : own.clone()).applyMatrix4(o.matrixWorld);
      const p = g.getAttribute('position');
      // Its second axis is upright there.
      for (let i = 0; i < p.count; i++) found.push(p.getX(i), -p.getZ(i), p.getY(i));
    });
    if (found.length < 9) return fail(`${name} holds no facets.`);
    if (!found.every(Number.isFinite)) return fail(`${name} holds places that are no numbers.`);
    return ok({ facets: Float32Array.from(found), unit: 'm' });
  } catch {
    return damaged(name);
  }
}
