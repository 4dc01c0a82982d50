import { strFromU8, unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import type { TriMesh } from '../mesh/mesh';
import { write3mf, writeObj, writeStl } from './mesh-files';

/** A tetrahedron with one corner at the origin. */
const tetra: TriMesh = {
  positions: Float64Array.from([0, 0, 0, 10, 0, 0, 0, 20, 0, 0, 0, 30]),
  indices: Uint32Array.from([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3]),
  faceOf: new Uint32Array(4),
};

describe('binary STL', () => {
  const bytes = writeStl([{ mesh: tetra, name: 'Téte' }], 'Téte');
  const view = new DataView(bytes.buffer);
  it('has a header, a count and fifty bytes a triangle', () => {
    expect(bytes.length).toBe(84 + 4 * 50);
    expect(view.getUint32(80, true)).toBe(4);
  });
  it('does not begin with the word that marks a text file', () => expect(strFromU8(bytes.slice(0, 5))).not.toBe('solid'));
  it('writes the outward normal and the corners of each triangle', () => {
    expect([0, 4, 8].map((o) => view.getFloat32(84 + o, true))).toEqual([0, 0, -1]);
    expect([0, 4, 8].map((o) => view.getFloat32(84 + 12 + 12 + o, true))).toEqual([0, 20, 0]);
  });
});

describe('OBJ', () => {
  const text = strFromU8(writeObj([{ mesh: tetra, name: 'a\nb' }], 'a\nb'));
  it('counts vertices from one and says its unit', () => {
    expect(text).toContain('# units: mm');
    expect(text.match(/^v /gm)).toHaveLength(4);
    expect(text.match(/^f \d+ \d+ \d+$/gm)).toHaveLength(4);
    expect(text).toContain('f 1 3 2');
    expect(text).not.toContain('f 0');
  });
  it('keeps a title on one line', () => expect(text.split('\n')[0]).toBe('# a b'));
});

describe('3MF', () => {
  it('escapes what a title could break', () => {
    const model = strFromU8(unzipSync(write3mf([{ mesh: tetra, name: '<b> & "c"' }], '<b> & "c"'))['3D/3dmodel.model']!);
    expect(model).toContain('&lt;b&gt; &amp; &quot;c&quot;');
    expect(model.match(/<vertex /g)).toHaveLength(4);
    expect(model.match(/<triangle /g)).toHaveLength(4);
  });
});
