/** Edges of a box and of built bodies under a pointer, against three's own ray caster and distances to many places. */
import * as THREE from 'three';
import { describe, expect, it } from 'vitest';
import hook from '../../../demo/robe-hook.lathe.json';
import { testKernel } from '../../../tests/support/kernel';
import { block, lookFrom, onScreen } from '../../../tests/support/stage';
import { readProject } from '../../core/recipe/file';
import { Engine } from '../../engine/engine';
import { sceneOf } from '../../engine/measure';
import { edgeUnder, faceUnder, lineUnder } from './pick';

interface Spot {
  readonly x: number;
  readonly y: number;
}
/** From a place to a piece of a line, on the screen. */
function toLine(p: Spot, { a, b }: { readonly a: Spot; readonly b: Spot }): number {
  const l2 = (b.x - a.x) ** 2 + (b.y - a.y) ** 2;
  const t = l2 > 0 ? Math.max(0, Math.min(1, ((p.x - a.x) * (b.x - a.x) + (p.y - a.y) * (b.y - a.y)) / l2)) : 0;
  return Math.hypot(a.x + t * (b.x - a.x) - p.x, a.y + t * (b.y - a.y) - p.y);
}

describe('an edge', () => {
  const box = block([30, 20, 10]);
  const camera = lookFrom(110, -150, 90);
  /** Faces that are turned to the camera: +x, −y, +z. */
  const seen = new Set(['1', '2', '5']);
  it('of a box answers at every place along it, and one behind never', () => {
    for (const [e, name] of box.edgeNames.entries()) {
      const shown = name.split('|').some((f) => seen.has(f));
      for (let k = 0; k < 10; k++) {
        const at = new THREE.Vector3()
          .fromArray(box.segments, 6 * e)
          .lerp(new THREE.Vector3().fromArray(box.segments, 6 * e + 3), (k + 0.5) / 10);
        const hit = edgeUnder([box], camera, onScreen(at, camera));
        if (shown) expect([name, k, hit && box.edgeNames[hit.edge]]).toEqual([name, k, name]);
        else expect(hit === null || box.edgeNames[hit.edge]!.split('|').some((f) => seen.has(f))).toBe(true);
        if (shown) expect(hit!.at.distanceTo(at)).toBeLessThan(1e-3);
      }
    }
  });
  it('is met within six pixels and no farther, and gives way to the face', () => {
    const e = box.edgeNames.indexOf('2|5');
    const at = new THREE.Vector3().fromArray(box.segments, 6 * e).lerp(new THREE.Vector3().fromArray(box.segments, 6 * e + 3), 0.3);
    const p = onScreen(at, camera);
    expect(edgeUnder([box], camera, { ...p, y: p.y + 5 })).not.toBeNull();
    expect(edgeUnder([box], camera, { ...p, y: p.y + 12 })).toBeNull();
    // What is not meant is not met, and what lies behind it neither.
    expect(edgeUnder([box], camera, p, undefined, () => false)).toBeNull();
    expect(faceUnder([box], camera, { ...p, y: p.y + 12 })!.face).toBe(2);
    expect(faceUnder([box], camera, { ...p, y: p.y - 12 })!.face).toBe(5);
  });
  it('that is cut away is not met; what lies behind the cut is', () => {
    const behind = (p: THREE.Vector3): boolean => p.y >= 0;
    const e = box.edgeNames.indexOf('3|5');
    const at = new THREE.Vector3().fromArray(box.segments, 6 * e).lerp(new THREE.Vector3().fromArray(box.segments, 6 * e + 3), 0.4);
    const hit = edgeUnder([box], camera, onScreen(at, camera), behind);
    expect(box.edgeNames[hit!.edge]).toBe('3|5');
    const front = box.edgeNames.indexOf('2|5');
    const gone = new THREE.Vector3()
      .fromArray(box.segments, 6 * front)
      .lerp(new THREE.Vector3().fromArray(box.segments, 6 * front + 3), 0.4);
    expect(edgeUnder([box], camera, onScreen(gone, camera), behind)).toBeNull();
  });
});

describe('a drawn line', () => {
  const box = block([30, 20, 10]);
  const camera = lookFrom(110, -150, 90);
  /** Through the box and out of it on both sides, along its length. */
  const line = {
    segments: new Float32Array([-60, 0, 0, 60, 0, 0]),
    edgeOf: new Uint32Array([0]),
    edgeNames: ['drawn'],
  };
  const under = (p: THREE.Vector3) => lineUnder([box], [line], camera, onScreen(p, camera));
  it('is met beside the body and through it', () => {
    for (const x of [-50, -10, 5, 50]) {
      const hit = under(new THREE.Vector3(x, 0, 0));
      expect([x, hit.edge, hit.line && line.edgeNames[hit.line.edge]]).toEqual([x, null, 'drawn']);
    }
    expect(under(new THREE.Vector3(0, 0, 60)).line).toBeNull();
  });
  it('gives way to an edge that is as near, and takes the pointer where it is clearly nearer', () => {
    const e = box.edgeNames.indexOf('2|5');
    const along = new THREE.Vector3(10, -20, 10);
    const beside = { ...line, segments: new Float32Array([-60, -20, 10, 60, -20, 10]) };
    const same = lineUnder([box], [beside], camera, onScreen(along, camera));
    expect([same.edge?.edge, same.line]).toEqual([e, null]);
    const p = onScreen(along, camera);
    const off = lineUnder([box], [beside], camera, { ...p, y: p.y + 4 });
    expect(off.edge?.edge).toBe(e);
    const higher = { ...line, segments: new Float32Array([-60, -20, 12, 60, -20, 12]) };
    expect(lineUnder([box], [higher], camera, onScreen(new THREE.Vector3(10, -20, 12), camera)).line).not.toBeNull();
  });
});

describe('edges of built bodies', () => {
  it('of the robe hook answer wherever nothing lies before them and no other is near', async () => {
    const project = readProject(hook);
    if (!project.ok) throw new Error(project.error);
    const engine = new Engine({ open: testKernel });
    await engine.rebuild(project.value);
    const kernel = await testKernel();
    const scenes = engine.bodies().map((b) => sceneOf(kernel, project.value, b.id, b.body));
    const all = new THREE.Box3().setFromArray(scenes.flatMap((s) => [...s.positions]));
    const [middle, size] = [all.getCenter(new THREE.Vector3()), all.getSize(new THREE.Vector3()).length()];
    const meshes = scenes.map((s) => {
      const g = new THREE.BufferGeometry().setAttribute('position', new THREE.BufferAttribute(s.positions, 3));
      g.setIndex(new THREE.BufferAttribute(s.indices, 1));
      return new THREE.Mesh(g, new THREE.MeshBasicMaterial({ side: THREE.DoubleSide }));
    });
    let tried = 0;
    for (const [dx, dy, dz] of [
      [1, -1.4, 0.9],
      [-0.8, -1.2, -0.7],
      [0.1, 0.2, 2],
    ] as const) {
      const camera = lookFrom(middle.x + dx * size, middle.y + dy * size, middle.z + dz * size, middle);
      const caster = new THREE.Raycaster();
      const places = scenes.flatMap((s, body) =>
        Array.from({ length: s.edgeOf.length }, (_, i) => i).flatMap((i) =>
          s.edgeNames[s.edgeOf[i]!] === ''
            ? []
            : [0.1, 0.5, 0.9].map((t) => {
                const at = new THREE.Vector3().fromArray(s.segments, 6 * i).lerp(new THREE.Vector3().fromArray(s.segments, 6 * i + 3), t);
                return { at, body, edge: s.edgeOf[i]!, ...onScreen(at, camera) };
              }),
        ),
      );
      const lines = scenes.flatMap((s, body) =>
        Array.from({ length: s.edgeOf.length }, (_, i) => ({
          a: onScreen(new THREE.Vector3().fromArray(s.segments, 6 * i), camera),
          b: onScreen(new THREE.Vector3().fromArray(s.segments, 6 * i + 3), camera),
          edge: s.edgeOf[i]!,
          body,
        })),
      );
      const stride = Math.max(1, Math.floor(places.length / 200));
      for (let i = 0; i < places.length; i += stride) {
        const p = places[i]!;
        const other = lines.some((l) => (l.edge !== p.edge || l.body !== p.body) && toLine(p, l) < 9);
        if (other) continue;
        caster.setFromCamera(new THREE.Vector2((2 * p.x) / p.width - 1, 1 - (2 * p.y) / p.height), camera);
        const first = meshes.flatMap((m) => caster.intersectObject(m)).sort((a, b) => a.distance - b.distance)[0];
        const away = p.at.distanceTo(camera.position);
        const before = first ? (away - first.distance) / away : 0;
        const hit = edgeUnder(scenes, camera, p);
        if (before > 1e-3) expect(hit === null || hit.edge !== p.edge || hit.body !== scenes[p.body]).toBe(true);
        else if (before < 1e-4) {
          tried++;
          expect([p.edge, hit?.edge]).toEqual([p.edge, p.edge]);
        }
      }
    }
    expect(tried).toBeGreaterThan(60);
  });
});
