import { describe, expect, it } from 'vitest';
import { readMeshFile } from './meshFile';

const text = (s: string): Uint8Array => new TextEncoder().encode(s);
const OBJ = 'v 10 10 5\nv 30 10 5\nv 30 40 5\nv 10 40 5\nv 20 25 45\nf 1 2 3 4\nf 1 2 5\nf 2 3 5\nf 3 4 5\nf 4 1 5\n';

describe('a mesh that is put in', () => {
  it('stands on its underside, about the middle of its bounds', () => {
    const r = readMeshFile(text(OBJ), 'wedge.obj');
    if (!r.ok) throw new Error(r.error);
    expect(r.value.height).toBe(40);
    expect(r.value.places).toHaveLength(5);
    expect(Math.max(...r.value.places.map((p) => p[0]))).toBe(10);
    expect(Math.max(...r.value.places.map((p) => p[1]))).toBe(15);
    expect(Math.min(...r.value.places.map((p) => p[2]))).toBe(0);
  });
  it('of text facets is read as well', () => {
    const facet = 'facet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 8 0 0\nvertex 0 6 2\nendloop\nendfacet\n';
    const r = readMeshFile(text(`solid t\n${facet}endsolid t\n`), 'Part.STL');
    expect(r.ok && r.value.height).toBe(2);
  });
  it('that is empty, of another kind, without facets or damaged is refused in words', () => {
    const words = (bytes: Uint8Array, name: string): string => {
      const r = readMeshFile(bytes, name);
      return r.ok ? 'taken' : r.error;
    };
    expect(words(new Uint8Array(0), 'a.stl')).toMatch(/is empty/);
    expect(words(text('x'), 'a.txt')).toMatch(/an STL, an OBJ or a PLY/);
    expect(words(text('x'), 'a.ply')).toMatch(/damaged/);
    expect(words(text('# nothing\n'), 'a.obj')).toMatch(/no facets/);
    expect(words(text('v 0 0 0\nv nan 0 0\nv 0 1 0\nf 1 2 3\n'), 'a.obj')).toMatch(/no numbers/);
    expect(words(new Uint8Array([1, 2, 3, 4]), 'a.stl')).toMatch(/damaged|no facets/);
  });
});
