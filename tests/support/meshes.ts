/** Meshes of known shape for tests, straight from formulas. */
import type { TriMesh } from '../../src/core/mesh/mesh';

/** A profile of (r, z) places from axis to axis, turned in n steps; every stretch between two places is a face. Outward for a profile that rises. */
export function turnedMesh(profile: readonly (readonly [number, number])[], n = 96): TriMesh {
  const positions: number[] = [];
  const ring = profile.map(([r, z]) => {
    if (r < 1e-9) {
      positions.push(0, 0, z);
      return { first: positions.length / 3 - 1, one: true };
    }
    const first = positions.length / 3;
    for (let i = 0; i < n; i++) positions.push(r * Math.cos((2 * Math.PI * i) / n), r * Math.sin((2 * Math.PI * i) / n), z);
    return { first, one: false };
  });
  const at = (k: number, i: number): number => (ring[k]!.one ? ring[k]!.first : ring[k]!.first + (i % n));
  const indices: number[] = [];
  const faceOf: number[] = [];
  const put = (a: number, b: number, c: number, face: number): void => {
    if (a === b || b === c || c === a) return;
    indices.push(a, b, c);
    faceOf.push(face);
  };
  for (let k = 0; k + 1 < profile.length; k++)
    for (let i = 0; i < n; i++) {
      put(at(k, i), at(k, i + 1), at(k + 1, i + 1), k);
      put(at(k, i), at(k + 1, i + 1), at(k + 1, i), k);
    }
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices), faceOf: Uint32Array.from(faceOf) };
}

/** Places along an arc about (0, z) in the half plane, from one angle to another (rad, from straight down). */
export const arcOf = (radius: number, z: number, from: number, to: number, n = 48): [number, number][] =>
  Array.from({ length: n + 1 }, (_, i) => {
    const a = from + ((to - from) * i) / n;
    return [Math.max(0, radius * Math.sin(a)), z - radius * Math.cos(a)];
  });

/** Two closed skins as one, the second turned inside out: a void. */
export function withVoid(outer: TriMesh, inner: TriMesh, shift: readonly [number, number, number] = [0, 0, 0]): TriMesh {
  const base = outer.positions.length / 3;
  const faces = Math.max(...outer.faceOf) + 1;
  const moved = Float64Array.from(inner.positions, (x, i) => x + shift[i % 3]!);
  const turned: number[] = [];
  for (let t = 0; t < inner.indices.length; t += 3)
    turned.push(base + inner.indices[t]!, base + inner.indices[t + 2]!, base + inner.indices[t + 1]!);
  return {
    positions: Float64Array.from([...outer.positions, ...moved]),
    indices: Uint32Array.from([...outer.indices, ...turned]),
    faceOf: Uint32Array.from([...outer.faceOf, ...Array.from(inner.faceOf, (f) => f + faces)]),
  };
}

/** A block between two corners, mm. */
export function blockMesh(a: readonly [number, number, number], b: readonly [number, number, number]): TriMesh {
  const corner = (i: number): number[] => [0, 1, 2].map((k) => ((i >> k) & 1 ? b[k]! : a[k]!));
  const positions = Float64Array.from(Array.from({ length: 8 }, (_, i) => corner(i)).flat());
  const quads = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ];
  return { positions, indices: Uint32Array.from(quads.flatMap(([p, q, r, s]) => [p!, q!, r!, p!, r!, s!])), faceOf: new Uint32Array(12) };
}
