/** One part written to every format and read back as a scan: the same facets in the same lengths, and what is damaged refused in words. */
import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { headRestScan } from '../../../demo/scans';
import { writeGlb } from '../../core/exchange/glb';
import { write3mf, writeObj, writeStl } from '../../core/exchange/mesh-files';
import { massProperties } from '../../core/mesh/mesh';
import { SCAN_UNITS } from '../../core/recipe/steps/scan';
import { unpackMesh } from '../../core/scan/packed';
import { readScan } from './scan-file';

const part = { mesh: headRestScan(2, { noise: 0, step: 12, gaps: 0, strays: 0 }), name: 'rest' };
const { area } = massProperties(part.mesh);
const text = (s: string): Uint8Array => new TextEncoder().encode(s);

/** The text form of PLY. Source: G. Turk, "The PLY polygon file format" (1994), from memory. */
function ply(): Uint8Array {
  const { positions: p, indices } = part.mesh;
  const rows = Array.from({ length: p.length / 3 }, (_, i) => `${p[3 * i]} ${p[3 * i + 1]} ${p[3 * i + 2]}`);
  const facets = Array.from({ length: indices.length / 3 }, (_, t) => `3 ${indices[3 * t]} ${indices[3 * t + 1]} ${indices[3 * t + 2]}`);
  return text(
    `ply\nformat ascii 1.0\nelement vertex ${rows.length}\nproperty float x\nproperty float y\nproperty float z\nelement face ${facets.length}\nproperty list uchar int vertex_indices\nend_header\n${rows.join('\n')}\n${facets.join('\n')}\n`,
  );
}

describe('a scan from a file', () => {
  it.each([
    ['stl', () => writeStl([part], 'x'), 'mm'],
    ['obj', () => writeObj([part], 'x'), 'mm'],
    ['ply', ply, 'mm'],
    ['3mf', () => write3mf([part], 'x'), 'mm'],
    ['glb', () => writeGlb([part], 'x'), 'm'],
  ] as const)('of kind %s has the area it was written with', async (ending, write, unit) => {
    const r = await readScan(write(), `rest.${ending}`);
    if (!r.ok) throw new Error(r.error);
    expect(r.value.unit).toBe(unit);
    const mesh = unpackMesh(r.value.packed);
    if (!mesh.ok) throw new Error(mesh.error);
    const scale = SCAN_UNITS[r.value.unit];
    expect((massProperties(mesh.value).area * scale * scale) / area).toBeCloseTo(1, 5);
    expect(mesh.value.faceOf.length).toBe(part.mesh.faceOf.length);
  });
  it('knows the lengths of a 3MF, where its objects are set, and guesses those of others by their size', async () => {
    const model = (unit: string): Uint8Array =>
      zipSync({
        '3D/3dmodel.model': strToU8(
          `<?xml version="1.0"?><model unit="${unit}"><resources><object id="1"><mesh><vertices><vertex x="0" y="0" z="0"/><vertex y="0" x="10" z="0"/><vertex x="0" y="10" z="0"/></vertices><triangles><triangle v1="0" v2="1" v3="2"/></triangles></mesh></object><object id="2"><components><component objectid="1" transform="1 0 0 0 1 0 0 0 1 0 0 5"/></components></object></resources><build><item objectid="2" transform="2 0 0 0 2 0 0 0 2 0 0 0"/></build></model>`,
        ),
      });
    const inches = await readScan(model('inch'), 'a.3mf');
    if (!inches.ok) throw new Error(inches.error);
    const mesh = unpackMesh(inches.value.packed);
    if (!mesh.ok) throw new Error(mesh.error);
    // Moved by 5, then twice as large, in inches.
    expect(Math.max(...mesh.value.positions)).toBeCloseTo(20 * 25.4, 2);
    expect(mesh.value.positions[2]).toBeCloseTo(10 * 25.4, 2);
    expect(await readScan(model('ell'), 'a.3mf')).toMatchObject({ ok: false, error: expect.stringContaining('no unit') });
    for (const [scale, unit] of [
      [1, 'mm'],
      [1e-3, 'm'],
      [1 / 25.4, 'in'],
    ] as const) {
      const r = await readScan(
        writeStl([{ ...part, mesh: { ...part.mesh, positions: part.mesh.positions.map((x) => x * scale) } }], 'x'),
        'a.stl',
      );
      expect(r.ok && r.value.unit).toBe(unit);
    }
  });
  it('that is damaged, empty or of another kind is refused in words', async () => {
    for (const [bytes, name, words] of [
      [text('nothing'), 'a.3mf', /damaged/],
      [zipSync({ 'other.txt': strToU8('x') }), 'a.3mf', /no model/],
      [zipSync({ '3D/a.model': strToU8('<model><build><item objectid="7"/></build></model>') }), 'a.3mf', /does not hold/],
      [text('glTF'), 'a.glb', /damaged/],
      [
        text('ply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nproperty float y\nproperty float z\nend_header\n0 0 0\n'),
        'a.ply',
        /without facets|no facets/,
      ],
      [text('x'), 'a.doc', /no mesh/],
    ] as const) {
      const r = await readScan(bytes, name);
      expect(r.ok ? 'read' : r.error).toMatch(words);
    }
  });
});
