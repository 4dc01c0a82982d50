/** Cages to start from. Sizes in mm, of the cage; all stand on the level plane about its origin. */
import { cross } from '../geometry/vectors';
import { fail, ok, type Result } from '../result';
import { type Cage, MOST_FACES, netOf, type P3 } from './cage';

const plain = (vertices: readonly P3[], faces: readonly (readonly number[])[]): Cage => ({ vertices, faces, creases: [], corners: [] });

/** A flat grid. */
export function gridCage(width: number, depth: number, across: number, along: number): Cage {
  const vertices: P3[] = [];
  for (let j = 0; j <= along; j++)
    for (let i = 0; i <= across; i++) vertices.push([width * (i / across - 0.5), depth * (j / along - 0.5), 0]);
  const at = (i: number, j: number): number => j * (across + 1) + i;
  const faces: number[][] = [];
  for (let j = 0; j < along; j++) for (let i = 0; i < across; i++) faces.push([at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)]);
  return plain(vertices, faces);
}

/** A closed box of so many quads each way. */
export function boxCage(size: P3, cells: P3): Cage {
  const known = new Map<string, number>();
  const vertices: P3[] = [];
  const at = (i: number, j: number, k: number): number => {
    const key = `${i},${j},${k}`;
    let v = known.get(key);
    if (v === undefined) {
      v = vertices.length;
      known.set(key, v);
      vertices.push([size[0] * (i / cells[0] - 0.5), size[1] * (j / cells[1] - 0.5), (size[2] * k) / cells[2]]);
    }
    return v;
  };
  const faces: number[][] = [];
  const [nx, ny, nz] = cells;
  for (let i = 0; i < nx; i++)
    for (let j = 0; j < ny; j++) {
      faces.push([at(i, j, 0), at(i, j + 1, 0), at(i + 1, j + 1, 0), at(i + 1, j, 0)]);
      faces.push([at(i, j, nz), at(i + 1, j, nz), at(i + 1, j + 1, nz), at(i, j + 1, nz)]);
    }
  for (let i = 0; i < nx; i++)
    for (let k = 0; k < nz; k++) {
      faces.push([at(i, 0, k), at(i + 1, 0, k), at(i + 1, 0, k + 1), at(i, 0, k + 1)]);
      faces.push([at(i, ny, k), at(i, ny, k + 1), at(i + 1, ny, k + 1), at(i + 1, ny, k)]);
    }
  for (let j = 0; j < ny; j++)
    for (let k = 0; k < nz; k++) {
      faces.push([at(0, j, k), at(0, j, k + 1), at(0, j + 1, k + 1), at(0, j + 1, k)]);
      faces.push([at(nx, j, k), at(nx, j + 1, k), at(nx, j + 1, k + 1), at(nx, j, k + 1)]);
    }
  return plain(vertices, faces);
}

/** A ball of quads: a box of so many cells each way blown up to a radius. */
export function ballCage(radius: number, cells: number): Cage {
  const box = boxCage([2, 2, 2], [cells, cells, cells]);
  const blown = box.vertices.map(([x, y, z]): P3 => {
    const l = Math.hypot(x, y, z - 1);
    return [(radius * x) / l, (radius * y) / l, radius + (radius * (z - 1)) / l];
  });
  return plain(blown, box.faces);
}

/** An open tube. */
export function tubeCage(radius: number, height: number, sides: number, rings: number): Cage {
  const profile = Array.from({ length: rings }, (_, j) => [radius, (height * j) / (rings - 1)] as const);
  return plain(turnedPlaces(profile, sides), ringFaces(sides, rings));
}

/** Places of a half profile turned, ring after ring. */
const turnedPlaces = (profile: readonly (readonly [number, number])[], sides: number): P3[] =>
  profile.flatMap(([r, z]) =>
    Array.from({ length: sides }, (_, i): P3 => {
      const a = (2 * Math.PI * i) / sides;
      return [r * Math.cos(a), r * Math.sin(a), z];
    }),
  );

/** A ring. @param radius of its centre line; @param tube its own */
export function torusCage(radius: number, tube: number, sides: number, around: number): Cage {
  const vertices: P3[] = [];
  for (let j = 0; j < around; j++)
    for (let i = 0; i < sides; i++) {
      const [a, b] = [(2 * Math.PI * j) / around, (2 * Math.PI * i) / sides];
      const r = radius + tube * Math.cos(b);
      vertices.push([r * Math.cos(a), r * Math.sin(a), tube + tube * Math.sin(b)]);
    }
  const at = (j: number, i: number): number => (j % around) * sides + (i % sides);
  const faces: number[][] = [];
  for (let j = 0; j < around; j++) for (let i = 0; i < sides; i++) faces.push([at(j, i), at(j + 1, i), at(j + 1, i + 1), at(j, i + 1)]);
  return plain(vertices, faces);
}

/** A half profile turned: open rings where it does not begin or end on the axis, and none of its vertices on it. @param profile radius and height */
export function turnedCage(profile: readonly (readonly [number, number])[], sides: number): Result<Cage, string> {
  if (profile.length < 2) return fail('a profile has two vertices or more');
  if (profile.some(([r]) => !(r > 1e-6))) return fail('a vertex of the profile lies on the axis: end it beside it and close the ring');
  return ok(plain(turnedPlaces(profile, sides), ringFaces(sides, profile.length)));
}

/** A closed outline drawn up: open above and below. @param outline counter-clockwise */
export function drawnUpCage(outline: readonly (readonly [number, number])[], height: number, rings: number): Cage {
  const vertices: P3[] = [];
  for (let j = 0; j < rings; j++) for (const [x, y] of outline) vertices.push([x, y, (height * j) / (rings - 1)]);
  return plain(vertices, ringFaces(outline.length, rings));
}

/** Lines of an OBJ that may be read. */
const MOST_BYTES = 40_000_000;

/** A cage from the faces of an OBJ file; textures, normals, groups and lines are left aside. Refuses in words what is no cage. */
export function cageFromObj(text: string): Result<Cage, string> {
  if (text.length > MOST_BYTES) return fail(`The file has ${Math.round(text.length / 1e6)} MB; a cage has at most ${MOST_FACES} faces.`);
  const vertices: P3[] = [];
  const faces: number[][] = [];
  for (const line of text.split('\n')) {
    const parts = line.trim().split(/\s+/);
    if (parts[0] === 'v') {
      const p = parts.slice(1, 4).map(Number);
      if (p.length < 3 || !p.every(Number.isFinite)) return fail(`Vertex ${vertices.length + 1} holds something that is no number.`);
      vertices.push(p as unknown as P3);
    } else if (parts[0] === 'f') {
      const corners = parts.slice(1).map((c) => {
        const i = Number.parseInt(c, 10);
        return i < 0 ? vertices.length + i : i - 1;
      });
      if (corners.some((i) => !(i >= 0 && i < vertices.length))) return fail(`Face ${faces.length + 1} names a vertex that is not there.`);
      faces.push(corners);
      if (faces.length > MOST_FACES)
        return fail(`The file has more than ${MOST_FACES} faces: that is a mesh, not a cage. Reduce it first.`);
    }
  }
  if (faces.length === 0) return fail('The file has no faces.');
  // Vertices no face uses are left out.
  const used = [...new Set(faces.flat())].sort((a, b) => a - b);
  const index = new Map(used.map((v, i) => [v, i]));
  const cage = plain(
    used.map((v) => vertices[v]!),
    faces.map((f) => f.map((v) => index.get(v)!)),
  );
  const flat = cage.faces.findIndex((f) => faceArea(f.map((v) => cage.vertices[v]!)) < 1e-12);
  if (flat >= 0) return fail(`Face ${flat + 1} has no area.`);
  const net = netOf(cage);
  return net.ok ? ok(cage) : fail(net.error.what);
}

/** Newell's normal of a face, as long as twice its area. */
export function faceNormal(corners: readonly P3[]): P3 {
  let [x, y, z] = [0, 0, 0];
  for (let i = 0; i < corners.length; i++) {
    const c = cross(corners[i]!, corners[(i + 1) % corners.length]!);
    x += c[0];
    y += c[1];
    z += c[2];
  }
  return [x, y, z];
}

/** Area of a face by its corners, mm²; of one that is not flat, of its shadow on the plane that fits it. */
export const faceArea = (corners: readonly P3[]): number => Math.hypot(...faceNormal(corners)) / 2;

/** The quads between rings of so many vertices each, ring after ring from the bottom. */
export function ringFaces(sides: number, rings: number): number[][] {
  const at = (j: number, i: number): number => j * sides + (i % sides);
  const faces: number[][] = [];
  for (let j = 0; j + 1 < rings; j++) for (let i = 0; i < sides; i++) faces.push([at(j, i), at(j, i + 1), at(j + 1, i + 1), at(j + 1, i)]);
  return faces;
}

/** The faces of a cage as triangles from their first corner, three vertices each. */
export const fans = (faces: readonly (readonly number[])[]): number[] =>
  faces.flatMap((f) => f.slice(2).flatMap((_, i) => [f[0]!, f[i + 1]!, f[i + 2]!]));
