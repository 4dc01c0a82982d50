/** Meshes read for their shape alone: STL (binary or text), OBJ and PLY, with the readers of three.js. */
import { BufferGeometry, type Mesh } from 'three';
import { OBJLoader } from 'three/examples/jsm/loaders/OBJLoader.js';
import { PLYLoader } from 'three/examples/jsm/loaders/PLYLoader.js';
import { STLLoader } from 'three/examples/jsm/loaders/STLLoader.js';
import { fail, ok, type Result } from '../../core/result';

type P3 = readonly [number, number, number];

export const MAX_MESH_BYTES = 60_000_000;
/** Places that are kept of a mesh; more would only make the letting down slower. */
const KEPT = 4_000;

/** Places of a mesh, mm, moved so that its bounds stand on the origin; evenly thinned out where there are many. */
export interface MeshPlaces {
  readonly places: readonly P3[];
  readonly height: number;
}

export const damaged = (name: string): Result<never, string> =>
  fail(`${name} can’t be read: it is damaged, or it is not what its ending says.`);

/**
 * The corners of a mesh's facets, nine numbers each.
 * @param name with its ending, which tells the format; the file's units are taken for millimetres
 */
export function readFacets(bytes: Uint8Array, name: string): Result<Float32Array, string> {
  if (bytes.length === 0) return fail(`${name} is empty.`);
  if (bytes.length > MAX_MESH_BYTES)
    return fail(`${name} has ${Math.round(bytes.length / 1e6)} MB; at most ${MAX_MESH_BYTES / 1e6} MB are read.`);
  let corners: ArrayLike<number>[];
  try {
    if (/\.obj$/i.test(name)) {
      const found: ArrayLike<number>[] = [];
      new OBJLoader().parse(new TextDecoder().decode(bytes)).traverse((o) => {
        const g = (o as Mesh).geometry;
        if (g instanceof BufferGeometry && g.getAttribute('position')) found.push(g.getAttribute('position').array);
      });
      corners = found;
    } else if (/\.stl$/i.test(name)) {
      if (!isStl(bytes)) return damaged(name);
      const copy = new Uint8Array(bytes);
      corners = [new STLLoader().parse(copy.buffer).getAttribute('position').array];
    } else if (/\.ply$/i.test(name)) {
      if (new TextDecoder('latin1').decode(bytes.subarray(0, 3)) !== 'ply') return damaged(name);
      const g = new PLYLoader().parse(new Uint8Array(bytes).buffer);
      if (!g.getIndex()) return fail(`${name} holds places without facets: have the scanner join them first.`);
      corners = [g.toNonIndexed().getAttribute('position').array];
    } else return fail(`${name} is no mesh this reads: bring an STL, an OBJ or a PLY file.`);
  } catch {
    return damaged(name);
  }
  const all = new Float32Array(corners.reduce((n, c) => n + c.length, 0));
  let at = 0;
  for (const c of corners) {
    all.set(c, at);
    at += c.length;
  }
  if (all.length < 9) return fail(`${name} holds no facets.`);
  if (!all.every(Number.isFinite)) return fail(`${name} holds places that are no numbers.`);
  return ok(all);
}

/** Whether a file is as long as its count of facets says, or begins as text: the reader makes room for any count first. */
function isStl(bytes: Uint8Array): boolean {
  if (bytes.length >= 84 && 84 + 50 * new DataView(bytes.buffer, bytes.byteOffset).getUint32(80, true) === bytes.length) return true;
  return /^.{0,5}solid/s.test(new TextDecoder('latin1').decode(bytes.subarray(0, 10)));
}

/** The places of a mesh alone, for what is let down into a vessel. */
export function readMeshFile(bytes: Uint8Array, name: string): Result<MeshPlaces, string> {
  const facets = readFacets(bytes, name);
  if (!facets.ok) return facets;
  const c = facets.value;
  const places: P3[] = [];
  for (let i = 0; i + 2 < c.length; i += 3) places.push([c[i]!, c[i + 1]!, c[i + 2]!]);
  return ok(standing(places));
}

function standing(all: readonly P3[]): MeshPlaces {
  const [min, max] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ];
  for (const p of all)
    for (let k = 0; k < 3; k++) {
      min[k] = Math.min(min[k]!, p[k]!);
      max[k] = Math.max(max[k]!, p[k]!);
    }
  const from = [(min[0]! + max[0]!) / 2, (min[1]! + max[1]!) / 2, min[2]!];
  const known = new Map<string, P3>();
  for (const p of all) {
    const q = p.map((x, k) => x - from[k]!) as unknown as P3;
    known.set(q.map((x) => Math.round(1e3 * x)).join(), q);
  }
  const places = [...known.values()];
  const every = Math.ceil(places.length / KEPT);
  // What reaches furthest is kept whatever else goes.
  return {
    places: places.filter(
      (p, i) => i % every === 0 || Math.hypot(p[0], p[1]) > 0.98 * Math.hypot(max[0]! - from[0]!, max[1]! - from[1]!) || p[2] < 1e-6,
    ),
    height: max[2]! - min[2]!,
  };
}
