/** How fast a large cage is refined to its limit mesh, beside `three-subdivide` doing the same two levels. */
import { BufferAttribute, BufferGeometry } from 'three';
import { netOf, type P3 } from '../src/core/form/cage';
import { limitMesh } from '../src/core/form/limit';

const [around, along] = [100, 100];
const vertices = Array.from({ length: around * along }, (_, i): P3 => {
  const [a, b] = [(2 * Math.PI * (i % around)) / around, (2 * Math.PI * Math.floor(i / around)) / along];
  return [(60 + 20 * Math.cos(b)) * Math.cos(a), (60 + 20 * Math.cos(b)) * Math.sin(a), 20 * Math.sin(b)];
});
const faces = Array.from({ length: around * along }, (_, i) => {
  const [x, y] = [i % around, Math.floor(i / around)];
  const at = (p: number, q: number): number => (q % along) * around + (p % around);
  return [at(x, y), at(x + 1, y), at(x + 1, y + 1), at(x, y + 1)];
});
const figures: { what: string; ms: number }[] = [];
const time = (what: string, work: () => void): void => {
  const runs = Array.from({ length: 5 }, () => {
    const t = performance.now();
    work();
    return performance.now() - t;
  });
  figures.push({ what, ms: Math.round(10 * Math.min(...runs)) / 10 });
};
const cage = { vertices, faces, creases: [], corners: [] };
time(`${faces.length} faces: edges found`, () => netOf(cage));
const net = netOf(cage);
if (!net.ok) throw new Error(net.error.what);
time('limit mesh at two levels', () => limitMesh(net.value, 2));
const { LoopSubdivision } = (await import('three-subdivide')) as unknown as {
  LoopSubdivision: { modify(g: BufferGeometry, levels: number, options: object): BufferGeometry };
};
const geometry = new BufferGeometry();
geometry.setAttribute('position', new BufferAttribute(Float32Array.from(vertices.flat()), 3));
geometry.setIndex(faces.flatMap(([a, b, c, d]) => [a!, b!, c!, a!, c!, d!]));
time('three-subdivide, two levels', () => LoopSubdivision.modify(geometry, 2, { split: false }));
console.table(figures);
console.log(JSON.stringify({ faces: faces.length, figures }));
