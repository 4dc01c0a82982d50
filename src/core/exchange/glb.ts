/**
 * Binary glTF 2.0 for showing bodies: each a mesh under its name in its colour. The format is in metres with y upwards (Khronos glTF 2.0, 3.4 and 3.5;
 * container: 4.4); a node at the top turns and scales what stands below it in millimetres.
 */
import { strToU8 } from 'fflate';
import { triangleNormals } from '../mesh/mesh';
import { lineText } from './encode';
import type { MeshPart } from './mesh-files';

/** Facets that meet at less than this look like one skin, rad. */
const SMOOTH = Math.PI / 6;
/** What a body without a colour of its own is shown in. */
const PLAIN = '#d8d2c4';
const [FLOAT, UINT32, VERTICES, INDICES] = [5126, 5125, 34962, 34963] as const;

/** Vertices with a normal each: as many at a place as there are smooth skins that meet there. */
function shaded({ mesh }: MeshPart): { readonly positions: Float32Array; readonly normals: Float32Array; readonly indices: Uint32Array } {
  const { positions: p, indices } = mesh;
  const flat = triangleNormals(mesh);
  const around: number[][] = Array.from({ length: p.length / 3 }, () => []);
  for (let i = 0; i < indices.length; i++) around[indices[i]!]!.push(Math.floor(i / 3));
  const area = (t: number): number => {
    const [a, b, c] = [0, 1, 2].map((k) => 3 * indices[3 * t + k]!) as [number, number, number];
    const d = (from: number, k: number): number => p[from + k]! - p[a + k]!;
    const n = [0, 1, 2].map((k) => d(b, (k + 1) % 3) * d(c, (k + 2) % 3) - d(b, (k + 2) % 3) * d(c, (k + 1) % 3));
    return Math.hypot(...n) / 2;
  };
  const areas = Float64Array.from({ length: indices.length / 3 }, (_, t) => area(t));
  const known = new Map<string, number>();
  const [places, normals]: [number[], number[]] = [[], []];
  const out = new Uint32Array(indices.length);
  for (let i = 0; i < indices.length; i++) {
    const [v, t] = [indices[i]!, Math.floor(i / 3)];
    const n = [0, 0, 0];
    for (const o of around[v]!) {
      const along = [0, 1, 2].reduce((sum, k) => sum + flat[3 * t + k]! * flat[3 * o + k]!, 0);
      if (along > Math.cos(SMOOTH)) for (let k = 0; k < 3; k++) n[k] = n[k]! + areas[o]! * flat[3 * o + k]!;
    }
    const l = Math.hypot(...n) || 1;
    const unit = n.map((x) => x / l);
    const key = `${v} ${unit.map((x) => Math.round(x * 1e4)).join(' ')}`;
    let at = known.get(key);
    if (at === undefined) {
      at = places.length / 3;
      known.set(key, at);
      places.push(p[3 * v]!, p[3 * v + 1]!, p[3 * v + 2]!);
      normals.push(...unit);
    }
    out[i] = at;
  }
  return { positions: Float32Array.from(places), normals: Float32Array.from(normals), indices: out };
}

/** A colour as the format has it: shares of light, not of what a screen is told (IEC 61966-2-1). */
function light(colour: string): [number, number, number, number] {
  const share = (k: number): number => {
    const c = Number.parseInt(colour.slice(1 + 2 * k, 3 + 2 * k), 16) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  };
  return [share(0), share(1), share(2), 1];
}

export function writeGlb(parts: readonly MeshPart[], title: string): Uint8Array {
  const chunks: Uint8Array[] = [];
  const bufferViews: object[] = [];
  const accessors: object[] = [];
  let length = 0;
  const put = (data: Float32Array | Uint32Array, more: object, target: number): number => {
    bufferViews.push({ buffer: 0, byteOffset: length, byteLength: data.byteLength, target });
    accessors.push({ bufferView: bufferViews.length - 1, componentType: data instanceof Float32Array ? FLOAT : UINT32, ...more });
    chunks.push(new Uint8Array(data.buffer, data.byteOffset, data.byteLength));
    length += data.byteLength;
    return accessors.length - 1;
  };
  const meshes = parts.map((part, material) => {
    const { positions, normals, indices } = shaded(part);
    const reach = (pick: (...x: number[]) => number, from: number): number[] =>
      [0, 1, 2].map((k) => {
        let most = from;
        for (let i = k; i < positions.length; i += 3) most = pick(most, positions[i]!);
        return most;
      });
    const count = positions.length / 3;
    const bounds = { min: reach(Math.min, Number.POSITIVE_INFINITY), max: reach(Math.max, Number.NEGATIVE_INFINITY) };
    const POSITION = put(positions, { count, type: 'VEC3', ...bounds }, VERTICES);
    const NORMAL = put(normals, { count, type: 'VEC3' }, VERTICES);
    const corners = put(indices, { count: indices.length, type: 'SCALAR' }, INDICES);
    return { name: lineText(part.name), primitives: [{ attributes: { POSITION, NORMAL }, indices: corners, material }] };
  });
  const half = Math.SQRT1_2;
  const json = {
    asset: { version: '2.0', generator: 'Ivory Lathe' },
    scene: 0,
    scenes: [{ name: lineText(title), nodes: [0] }],
    nodes: [
      { name: lineText(title), rotation: [-half, 0, 0, half], scale: [1e-3, 1e-3, 1e-3], children: parts.map((_, i) => i + 1) },
      ...parts.map((part, mesh) => ({ name: lineText(part.name), mesh })),
    ],
    meshes,
    materials: parts.map((part) => ({
      name: lineText(part.name),
      pbrMetallicRoughness: { baseColorFactor: light(part.colour ?? PLAIN), metallicFactor: 0, roughnessFactor: 0.6 },
    })),
    accessors,
    bufferViews,
    buffers: [{ byteLength: length }],
  };
  const text = strToU8(JSON.stringify(json));
  const words = Math.ceil(text.length / 4) * 4;
  const out = new Uint8Array(12 + 8 + words + 8 + length);
  const view = new DataView(out.buffer);
  // Header, then both chunks with their lengths and names; the text is filled up with spaces.
  [0x46546c67, 2, out.length, words, 0x4e4f534a].forEach((x, i) => {
    view.setUint32(4 * i, x, true);
  });
  out.fill(0x20, 20, 20 + words);
  out.set(text, 20);
  view.setUint32(20 + words, length, true);
  view.setUint32(24 + words, 0x004e4942, true);
  let at = 28 + words;
  for (const chunk of chunks) {
    out.set(chunk, at);
    at += chunk.length;
  }
  return out;
}
