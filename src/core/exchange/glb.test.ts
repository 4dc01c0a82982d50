/** Binary glTF, read back by three's loader: volumes, names, colours, size and the way up. */
import { Box3, Color, type Mesh, type MeshStandardMaterial, Vector3 } from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { beforeAll, describe, expect, it } from 'vitest';
import { blockMesh } from '../../../tests/support/meshes';
import type { TriMesh } from '../mesh/mesh';
import { writeGlb } from './glb';

/** A round rod of so many sides, mm. */
function rod(radius: number, height: number, n: number): TriMesh {
  const positions = [0, height].flatMap((z) =>
    Array.from({ length: n }, (_, i) => [radius * Math.cos((2 * Math.PI * i) / n), radius * Math.sin((2 * Math.PI * i) / n), z]).flat(),
  );
  const indices: number[] = [];
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    indices.push(i, j, n + j, i, n + j, n + i);
    if (i > 0 && i < n - 1) indices.push(0, i + 1, i, n, n + i, n + i + 1);
  }
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices), faceOf: new Uint32Array(indices.length / 3) };
}
async function read(bytes: Uint8Array): Promise<Mesh[]> {
  const { buffer } = bytes.slice();
  const { scene } = await new GLTFLoader().parseAsync(buffer, '');
  scene.updateMatrixWorld(true);
  const found: Mesh[] = [];
  scene.traverse((o) => {
    if ((o as Mesh).isMesh) found.push(o as Mesh);
  });
  return found;
}
/** Within facets as they stand, m³ (divergence theorem). */
function volume(mesh: Mesh): number {
  const p = mesh.geometry.getAttribute('position');
  const index = mesh.geometry.getIndex()!;
  const at = (i: number): Vector3 => new Vector3().fromBufferAttribute(p, index.getX(i)).applyMatrix4(mesh.matrixWorld);
  let six = 0;
  for (let t = 0; t < index.count; t += 3) six += at(t).dot(at(t + 1).cross(at(t + 2)));
  return six / 6;
}

describe('binary glTF', () => {
  beforeAll(() => {
    // The loader asks its window for itself.
    Object.assign(globalThis, { self: globalThis });
  });
  it('holds every body in metres, upright, under its name and in its colour', async () => {
    const bytes = writeGlb(
      [
        { mesh: blockMesh([0, 0, 0], [10, 20, 30]), name: 'Foot' },
        { mesh: blockMesh([10, 0, 5], [14, 20, 30]), name: 'Lid “oak” é', colour: '#1f6f8b' },
      ],
      'Marram, a block',
    );
    expect(bytes.length % 4).toBe(0);
    const [foot, lid] = await read(bytes);
    expect(volume(foot!) * 1e9).toBeCloseTo(6000, 3);
    expect(volume(lid!) * 1e9).toBeCloseTo(4 * 20 * 25, 3);
    const { min, max } = new Box3().setFromObject(foot!);
    // z is up here, y there; what lay to the back lies farther from the eye.
    expect([...min.toArray(), ...max.toArray()].map((x) => Math.round(x * 1e6) / 1e3 + 0)).toEqual([0, 0, -20, 10, 30, 0]);
    expect(lid!.userData.name ?? lid!.name).toMatch(/Lid/);
    const colour = (lid!.material as MeshStandardMaterial).color;
    expect(colour.getHexString()).toBe(new Color('#1f6f8b').getHexString());
  });
  it('is smooth where facets stand for a round skin, and keeps its edges', async () => {
    const [box] = await read(writeGlb([{ mesh: blockMesh([0, 0, 0], [1, 1, 1]), name: 'b' }], 'b'));
    expect(box!.geometry.getAttribute('position').count).toBe(24);
    const n = 48;
    const [round] = await read(writeGlb([{ mesh: rod(10, 30, n), name: 'r' }], 'r'));
    const [p, normal] = ['position', 'normal'].map((name) => round!.geometry.getAttribute(name)) as [
      ReturnType<Mesh['geometry']['getAttribute']>,
      ReturnType<Mesh['geometry']['getAttribute']>,
    ];
    expect(p.count).toBe(4 * n);
    for (let i = 0; i < p.count; i++) {
      const [x, y, nx, ny, nz] = [p.getX(i), p.getY(i), normal.getX(i), normal.getY(i), normal.getZ(i)];
      // Along the radius, but for facets of unlike area; or straight up or down.
      if (Math.abs(nz) < 0.5) expect((x * nx + y * ny) / 10).toBeGreaterThan(0.99);
      else expect(Math.abs(nz)).toBeCloseTo(1, 9);
    }
  });
});
