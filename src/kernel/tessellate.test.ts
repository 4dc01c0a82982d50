/** Facets of bodies. The outside reference is the extractor that the kernel's bindings bring along: another way to the same triangulation. */
import { beforeAll, describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/support/kernel';
import { massProperties } from '../core/mesh/mesh';
import { numbersOf } from './memory';
import { type Kernel, type Shape, scoped } from './open';
import { facesOf, hashOf, xyzOf } from './shapes';
import { type BodyMesh, isClosedMesh, tessellate, tessellateOnto, VERIFY_ANGLE, weldedMesh } from './tessellate';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await testKernel();
});

const cylinder = (radius: number, height: number): Shape => new kernel.BRepPrimAPI_MakeCylinder(radius, height).Shape();
const placed = (shape: Shape, set: (t: InstanceType<Kernel['gp_Trsf']>) => void): Shape => {
  const t = new kernel.gp_Trsf();
  set(t);
  return new kernel.BRepBuilderAPI_Transform(shape, t, false, false).Shape();
};
const cut = (a: Shape, b: Shape): Shape => new kernel.BRepAlgoAPI_Cut(a, b, new kernel.Message_ProgressRange()).Shape();
const tube = (): Shape => cut(cylinder(10, 30), cylinder(6, 20));

/** The same by the extractor. */
function extracted(shape: Shape, deflection: number, angle: number): BodyMesh {
  return scoped((s) => {
    const data = s.keep(kernel.ReplicadMeshExtractor.extract(shape, deflection, angle, false));
    const { buffer } = kernel.wasmMemory;
    const indices = new Uint32Array(buffer, data.getTrianglesPtr(), data.getTrianglesSize()).slice();
    const groups = new Int32Array(buffer, data.getFaceGroupsPtr(), data.getFaceGroupsSize()).slice();
    const faceOf = new Uint32Array(indices.length / 3);
    const index = new Map(facesOf(kernel, shape).map((f, i) => [hashOf(kernel, f), i]));
    for (let g = 0; g < groups.length; g += 3) faceOf.fill(index.get(groups[g + 2]!)!, groups[g]! / 3, (groups[g]! + groups[g + 1]!) / 3);
    return {
      positions: new Float32Array(buffer, data.getVerticesPtr(), data.getVerticesSize()).slice(),
      normals: new Float32Array(buffer, data.getNormalsPtr(), data.getNormalsSize()).slice(),
      indices,
      faceOf,
    };
  });
}

/** Every facet as words: its face, its corners in turn from the least, and the normals there. */
function facets({ positions, normals, indices, faceOf }: BodyMesh): string[] {
  const words = (i: number): string =>
    [positions, normals]
      .map((a) => [...a.subarray(3 * i, 3 * i + 3)].map((v) => (Math.round(v * 1e4) / 1e4 + 0).toFixed(4)).join(','))
      .join('|');
  return Array.from(faceOf, (face, t) => {
    const corners = [0, 1, 2].map((k) => words(indices[3 * t + k]!));
    const least = corners.indexOf([...corners].sort()[0]!);
    return `${face}: ${[0, 1, 2].map((k) => corners[(least + k) % 3]).join(' ')}`;
  }).sort();
}

describe('facets', () => {
  const bodies: [string, () => Shape][] = [
    ['a tube with a floor', tube],
    [
      'one moved and turned',
      () => placed(tube(), (t) => t.SetRotation(new kernel.gp_Ax1(new kernel.gp_Pnt(3, 1, 2), new kernel.gp_Dir(1, 2, 3)), 1.1)),
    ],
    ['one mirrored', () => placed(tube(), (t) => t.SetMirror(new kernel.gp_Ax2(new kernel.gp_Pnt(40, 0, 0), new kernel.gp_Dir(1, 0, 0))))],
    ['a ball', () => new kernel.BRepPrimAPI_MakeSphere(7).Shape()],
    ['a turned-round body', () => tube().Reversed()],
  ];
  it.each(bodies)('of %s are those of another reader, corner by corner and normal by normal', (_, make) => {
    const [mine, others] = [facets(tessellateOnto(kernel, make(), 0.05)), facets(extracted(make(), 0.05, VERIFY_ANGLE))];
    expect(mine.length).toBeGreaterThan(40);
    expect(mine).toEqual(others);
  });
  it('close and hold the volume of a mirrored body the right way out', () => {
    const skin = weldedMesh(tessellate(kernel, bodies[2]![1](), 0.01, 0.1));
    expect(isClosedMesh(skin)).toBe(true);
    // π (10² · 30 − 6² · 20), less what chords cut off.
    expect(massProperties(skin).volume / (Math.PI * (3000 - 720))).toBeCloseTo(1, 2);
  });
  it('stay on faces that a later body takes over, and only there', () => {
    const whole = tube();
    tessellateOnto(kernel, whole, 0.5);
    const later = cut(
      whole,
      placed(cylinder(1.5, 40), (t) => t.SetTranslation(new kernel.gp_Vec(8, 0, -5))),
    );
    const [kept, anew] = [tessellateOnto(kernel, later, 5), tessellate(kernel, later, 5)];
    const coarse = facets(anew).length;
    // The hole leaves nothing of the inside as it was but its floor and its wall; both are as fine as they were.
    expect(facets(kept).length).toBeGreaterThan(coarse);
    expect(isClosedMesh(weldedMesh(kept))).toBe(true);
    // Another fineness meshes faces of its own: what is kept hangs on no question that was asked.
    tessellate(kernel, later, 0.001);
    expect(facets(tessellateOnto(kernel, later, 5))).toEqual(facets(kept));
  });
});

describe('arrays of the kernel', () => {
  it('are read in one go, and entry by entry where their place is not found, with the same numbers', () => {
    const [face] = facesOf(kernel, cylinder(5, 10));
    new kernel.BRepMesh_IncrementalMesh(face!, 0.1, false, 0.2, false).delete();
    const tri = kernel.BRep_Tool.Triangulation(face!, new kernel.TopLoc_Location(), 0);
    let asked = 0;
    const read = (of: object): Float64Array =>
      numbersOf(kernel, {
        of,
        length: tri.NbNodes(),
        per: 3,
        as: Float64Array,
        entry: (i) => {
          asked++;
          return xyzOf(tri.Node(i + 1));
        },
      });
    const fast = read(tri.MapNodeArray());
    // Held against the first and the last entry only.
    expect(asked).toBe(2);
    expect(tri.NbNodes()).toBeGreaterThan(20);
    const slow = read({});
    expect(asked).toBe(2 + tri.NbNodes());
    expect([...fast]).toEqual([...slow]);
    // A record that points anywhere is not believed.
    expect([...read({ somewhere: { a: 4096, b: 12_345_678 } })]).toEqual([...slow]);
  });
});
