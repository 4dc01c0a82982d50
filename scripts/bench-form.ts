/**
 * How fast a large cage is refined to its limit mesh, beside `three-subdivide` doing the same two levels; what a pull on a cage of 500 faces
 * costs; and how long a cage of about 150 faces takes to a verified solid, cold and warm.
 */
import { BufferAttribute, BufferGeometry } from 'three';
import { netOf, type P3 } from '../src/core/form/cage';
import { beginDrag } from '../src/core/form/edit/drag';
import { limitMesh } from '../src/core/form/limit';
import { sourceOf } from '../src/core/form/read';
import { boxCage, torusCage } from '../src/core/form/starts';
import { openKernel } from '../src/kernel/open';
import { raiseForm } from '../src/kernel/steps/form';

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
  const runs = Array.from({ length: 12 }, () => {
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
const ring = torusCage(60, 20, 20, 25);
for (const [what, soft] of [
  ['a pull on 500 faces, mirrored', 0],
  ['the same, softly within 40 mm', 40],
] as const) {
  const drag = beginDrag(ring, { kind: 'faces', faces: [40, 41] }, { mirror: ['y'], fold: 1 }, soft);
  if (!drag.ok) throw new Error(drag.error);
  time(what, () => drag.value({ by: [0, 0, 3] }));
}
const kernel = await openKernel();
const box = boxCage([80, 60, 40], [6, 5, 4]);
/** The box a hair higher with every run: the skin of a cage that was raised before is at hand. */
let runs = 0;
const raise = (): boolean => {
  const higher = { ...box, vertices: box.vertices.map(([x, y, z]): P3 => [x, y, z * (1 + 1e-9 * runs)]) };
  runs++;
  const inputs = { source: sourceOf(higher), plane: 'level', follow: 'well', mode: 'new', body: null };
  const step = { id: 's1', kind: 'form', enabled: true, values: {}, inputs };
  const context = { kernel, step, planes: new Map(), scope: () => undefined, project: { profiles: [], steps: [] } };
  return raiseForm(context as unknown as Parameters<typeof raiseForm>[0], 0).ok;
};
const cold = performance.now();
raise();
figures.push({ what: `${box.faces.length} faces to a verified solid, cold`, ms: Math.round(performance.now() - cold) });
time(`${box.faces.length} faces to a verified solid, warm`, () => {
  if (!raise()) throw new Error('no solid came of it');
});
console.table(figures);
console.log(JSON.stringify({ faces: faces.length, figures }));
