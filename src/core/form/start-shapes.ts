/** Cages to start from, by counts and by the sizes of the smooth body that comes of them, mm. */
import type { Kind } from '../dimensions/expression';
import { bounds } from '../mesh/mesh';
import { type Cage, netOf, type P3 } from './cage';
import { farthest } from './farthest';
import { limitMesh } from './limit';
import { ballCage, boxCage, gridCage, torusCage, tubeCage } from './starts';

export interface StartField {
  readonly key: string;
  readonly label: string;
  readonly of: Kind;
  readonly start: string;
  /** Of counts. */
  readonly least?: number;
  readonly most?: number;
}
type ShapeKey = 'box' | 'tube' | 'ball' | 'ring' | 'sheet';
export interface StartShape {
  readonly key: ShapeKey;
  readonly words: string;
  readonly fields: readonly StartField[];
  readonly make: (v: Readonly<Record<string, number>>) => Cage;
}

const FEW = 400;

/** Places of the smooth body, near enough for its size. */
function limitOf(cage: Cage): Float64Array {
  const net = netOf(cage);
  if (!net.ok) throw new Error(net.error.what);
  // The fewer faces, the farther an extreme may lie from the places of a mesh.
  return limitMesh(net.value, cage.faces.length > FEW ? 3 : 5).places;
}

const scaled = (cage: Cage, by: P3): Cage => ({
  ...cage,
  vertices: cage.vertices.map((p) => p.map((x, k) => x * by[k]!) as unknown as P3),
});

/** A cage whose body spans these sizes and stands on the level plane. */
function spanning(cage: Cage, size: P3): Cage {
  const { min, max } = bounds(limitOf(cage));
  const by = size.map((s, k) => (max[k]! - min[k]! > 1e-9 ? s / (max[k]! - min[k]!) : 1)) as unknown as P3;
  const made = scaled(cage, by);
  return { ...made, vertices: made.vertices.map(([x, y, z]): P3 => [x, y, z - min[2] * by[2]]) };
}

const mm = (key: string, label: string, start: number): StartField => ({ key, label, of: 'length', start: `${start} mm` });
const count = (key: string, label: string, start: number, least: number, most = 60): StartField => ({
  key,
  label,
  of: 'number',
  start: `${start}`,
  least,
  most,
});

export const START_SHAPES: readonly StartShape[] = [
  {
    key: 'box',
    words: 'box',
    fields: [
      mm('w', 'width', 80),
      mm('d', 'depth', 60),
      mm('h', 'height', 40),
      count('i', 'quads across', 3, 1),
      count('j', 'quads deep', 2, 1),
      count('k', 'quads high', 2, 1),
    ],
    make: (v) => spanning(boxCage([v.w!, v.d!, v.h!], [v.i!, v.j!, v.k!]), [v.w!, v.d!, v.h!]),
  },
  {
    key: 'tube',
    words: 'cylinder',
    fields: [mm('d', 'diameter', 60), mm('h', 'height', 80), count('s', 'sides', 12, 3, 96), count('n', 'rows', 4, 1)],
    make: (v) => {
      const cage = tubeCage(v.d! / 2, v.h!, v.s!, v.n! + 1);
      const wide = v.d! / (2 * farthest(limitOf(cage)));
      return scaled(cage, [wide, wide, 1]);
    },
  },
  {
    key: 'ball',
    words: 'ball',
    fields: [mm('d', 'diameter', 60), count('n', 'quads along an edge', 2, 1, 30)],
    make: (v) => spanning(ballCage(v.d! / 2, v.n!), [v.d!, v.d!, v.d!]),
  },
  {
    key: 'ring',
    words: 'ring',
    fields: [
      mm('d', 'outer diameter', 94),
      mm('t', 'thickness', 24),
      count('s', 'sides of the tube', 8, 3),
      count('n', 'quads round', 12, 3, 96),
    ],
    make: (v) => {
      // How far the body falls short depends on both sizes at once.
      let [radius, tube] = [(v.d! - v.t!) / 2, v.t! / 2];
      for (let round = 0; round < 12; round++) {
        const places = limitOf(torusCage(radius, tube, v.s!, v.n!));
        const { min, max } = bounds(places);
        const grown = tube * (v.t! / (max[2] - min[2]));
        radius += v.d! / 2 - farthest(places) - (grown - tube);
        tube = grown;
      }
      const cage = torusCage(radius, tube, v.s!, v.n!);
      const low = bounds(limitOf(cage)).min[2];
      return { ...cage, vertices: cage.vertices.map(([x, y, z]): P3 => [x, y, z - low]) };
    },
  },
  {
    key: 'sheet',
    words: 'sheet',
    fields: [mm('w', 'width', 80), mm('d', 'depth', 60), count('i', 'quads across', 4, 1), count('j', 'quads deep', 3, 1)],
    make: (v) => spanning(gridCage(v.w!, v.d!, v.i!, v.j!), [v.w!, v.d!, 0]),
  },
];

/** What stands against a value of a start, in words; null for nothing. */
export function startProblem(f: StartField, value: number): string | null {
  if (f.of === 'length') return value > 0 ? null : 'a size is more than nothing';
  return Number.isInteger(value) && value >= f.least! && value <= f.most! ? null : `a whole number, ${f.least} to ${f.most}`;
}

const firsts = new Map<ShapeKey, Cage>();

/** A shape as it is offered first. */
export function startOf(key: ShapeKey): Cage {
  let first = firsts.get(key);
  if (!first) {
    const shape = START_SHAPES.find((s) => s.key === key)!;
    first = shape.make(Object.fromEntries(shape.fields.map((f) => [f.key, Number.parseFloat(f.start)])));
    firsts.set(key, first);
  }
  return first;
}
