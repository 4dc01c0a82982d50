/** Exported files read back by programs that are not ours: occt-import-js, three.js' loaders, admesh. */
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { DOMParser } from 'linkedom';
import occtImport from 'occt-import-js';
import type { BufferGeometry, Mesh, MeshPhongMaterial } from 'three';
import { ThreeMFLoader } from 'three/examples/jsm/loaders/3MFLoader.js';
import { OBJLoader } from 'three/examples/jsm/loaders/OBJLoader.js';
import { STLLoader } from 'three/examples/jsm/loaders/STLLoader.js';
import { beforeAll, describe, expect, it } from 'vitest';
import { steamDiffuser } from '../../demo/steam-diffuser';
import { bounds, massProperties, weld } from '../../src/core/mesh/mesh';
import { Engine } from '../../src/engine/engine';
import { exportApart, exportBodies } from '../../src/engine/export';
import type { ExportFormat } from '../../src/engine/types';
import type { KernelBody } from '../../src/kernel/body';
import { writeStep } from '../../src/kernel/exchange/step';
import { readStep } from '../../src/kernel/exchange/step-read';
import type { Kernel } from '../../src/kernel/open';
import { compoundOf } from '../../src/kernel/shapes';
import { cylinder, testKernel } from '../support/kernel';

let kernel: Kernel;
let body: KernelBody;
beforeAll(async () => {
  kernel = await testKernel();
  const engine = new Engine({ open: testKernel });
  await engine.rebuild(steamDiffuser);
  body = engine.bodies()[0]!.body;
});
const bytes = (format: ExportFormat): Uint8Array => {
  const r = exportBodies(kernel, [{ body: body, name: 'Diffuser' }], format, 0.05, 'Steam diffuser');
  if (!r.ok) throw new Error(r.error);
  expect(r.value.name).toBe(`steam-diffuser_diffuser.${format}`);
  return r.value.bytes;
};
const arrayBuffer = (b: Uint8Array): ArrayBuffer => b.slice().buffer as ArrayBuffer;
const volumeOfGeometry = (g: BufferGeometry): number => {
  const p = Float64Array.from(g.getAttribute('position').array);
  const indices = g.index ? Uint32Array.from(g.index.array) : Uint32Array.from({ length: p.length / 3 }, (_, i) => i);
  return massProperties(weld({ positions: p, indices, faceOf: new Uint32Array(indices.length / 3) }, 1e-4)).volume;
};

describe('names and colours in a STEP file', () => {
  it('are read by occt-import-js, those of pieces and of what follows them too', async () => {
    const sized = (r: number) => cylinder(kernel, r, 20).shape;
    const written = writeStep(kernel, [
      { shape: sized(20), title: 'Dial’s ring', colour: '#ff8000' },
      { shape: compoundOf(kernel, [sized(3), sized(2)]), title: 'Pins', colour: '#0A6A66' },
      { shape: sized(5), title: 'Plain $& 1' },
      { shape: sized(6), title: 'Cap', colour: '#ffffff' },
    ]);
    if (!written.ok) throw new Error(written.error);
    const { meshes } = (await occtImport()).ReadStepFile(written.value, null);
    expect(meshes.map((m) => m.name)).toEqual(['Dial’s ring', 'Pins, piece 1', 'Pins, piece 2', 'Plain $& 1', 'Cap']);
    // The reader gives linear shares (IEC 61966-2-1 turned about).
    const linear = (hex: number): number => (hex / 255 <= 0.04045 ? hex / 255 / 12.92 : ((hex / 255 + 0.055) / 1.055) ** 2.4);
    const near = (...rgb: number[]) => rgb.map((v) => expect.closeTo(linear(v), 4));
    expect(meshes.map((m) => m.color)).toEqual([near(255, 128, 0), near(10, 106, 102), near(10, 106, 102), undefined, near(255, 255, 255)]);
    const again = readStep(kernel, written.value);
    expect(again.ok ? again.value.map((v) => v.volume / (Math.PI * 20)) : again.error).toEqual(
      [400, 9, 4, 25, 36].map((v) => expect.closeTo(v, 6)),
    );
  });
});

describe('the diffuser, exported', () => {
  it('as STEP is read by occt-import-js as one solid with the same volume', async () => {
    const occt = await occtImport();
    const result = occt.ReadStepFile(bytes('step'), {
      linearUnit: 'millimeter',
      linearDeflectionType: 'absolute_value',
      linearDeflection: 0.02,
      angularDeflection: 0.1,
    });
    expect(result.success).toBe(true);
    expect(result.meshes).toHaveLength(1);
    const mesh = result.meshes[0]!;
    const positions = Float64Array.from(mesh.attributes.position.array);
    const indices = Uint32Array.from(mesh.index.array);
    const welded = weld({ positions, indices, faceOf: new Uint32Array(indices.length / 3) }, 1e-4);
    expect(Math.abs(massProperties(welded).volume / body.volume - 1)).toBeLessThan(5e-3);
    expect(bounds(positions).max[2]).toBeCloseTo(140, 2);
    const text = new TextDecoder().decode(bytes('step'));
    expect(text).toContain("PRODUCT('Steam diffuser, Diffuser'");
    expect(text).toMatch(/SI_UNIT\(\.MILLI\.,\.METRE\.\)/);
  });
  it('as STL is read by three.js with the same volume', () => {
    const g = new STLLoader().parse(arrayBuffer(bytes('stl')));
    expect(Math.abs(volumeOfGeometry(g) / body.volume - 1)).toBeLessThan(5e-3);
  });
  it('as OBJ is read by three.js with the same volume', () => {
    const o = new OBJLoader().parse(new TextDecoder().decode(bytes('obj')));
    expect(Math.abs(volumeOfGeometry((o.children[0] as Mesh).geometry) / body.volume - 1)).toBeLessThan(5e-3);
  });
  it('as 3MF is a package in millimetres as the 3MF Core Specification asks', () => {
    const files = unzipSync(bytes('3mf'));
    expect(Object.keys(files).sort()).toEqual(['3D/3dmodel.model', '[Content_Types].xml', '_rels/.rels']);
    const model = new TextDecoder().decode(files['3D/3dmodel.model']);
    expect(model).toContain('unit="millimeter"');
    expect(model).toContain('<item objectid="1"/>');
    expect(new TextDecoder().decode(files['_rels/.rels'])).toContain('Target="/3D/3dmodel.model"');
  });
  it('as 3MF is read by three.js with the same volume', () => {
    // The loader wants a browser's XML parser; linkedom lends one.
    Object.assign(globalThis, { DOMParser });
    const group = new ThreeMFLoader().parse(arrayBuffer(bytes('3mf')));
    const found: Mesh[] = [];
    group.traverse((o) => {
      if ((o as Mesh).isMesh) found.push(o as Mesh);
    });
    expect(found).toHaveLength(1);
    expect(Math.abs(volumeOfGeometry(found[0]!.geometry) / body.volume - 1)).toBeLessThan(5e-3);
  });
  it('as STL has no disconnected facet by admesh', (context) => {
    if (spawnSync('admesh', ['--version']).error) {
      // Debian's package; npm test installs it where it can.
      context.skip();
      return;
    }
    const path = join(mkdtempSync(join(tmpdir(), 'lathe-')), 'body.stl');
    writeFileSync(path, bytes('stl'));
    const out = execFileSync('admesh', [path], { encoding: 'utf8' });
    expect(out).toMatch(/Total disconnected facets\s*:\s*0\s+0/);
    expect(out).toMatch(/Number of parts\s*:\s*1\b/);
  });
  it('with its lid in one file is read as two bodies of their volumes and places, each under its name; STL keeps both', async () => {
    const engine = new Engine({ open: testKernel });
    await engine.rebuild(steamDiffuser);
    const parts = engine.bodies().map((b, k) => ({ body: b.body, name: ['Diffuser', 'Lid & seat'][k]! }));
    expect(parts).toHaveLength(2);
    const all = (format: ExportFormat): Uint8Array => {
      const r = exportBodies(kernel, parts, format, 0.02, 'Steam diffuser');
      if (!r.ok) throw new Error(r.error);
      expect(r.value.name).toBe(`steam-diffuser.${format}`);
      return r.value.bytes;
    };
    const exact = parts.map((p) => p.body.volume);
    const near = (volumes: readonly number[]): void => {
      expect(volumes).toHaveLength(2);
      volumes.forEach((v, k) => void expect(Math.abs(v / exact[k]! - 1)).toBeLessThan(5e-3));
    };
    const step = all('step');
    const read = (await occtImport()).ReadStepFile(step, {
      linearUnit: 'millimeter',
      linearDeflectionType: 'absolute_value',
      linearDeflection: 0.02,
      angularDeflection: 0.1,
    });
    const solid = (m: (typeof read.meshes)[number]) => {
      const indices = Uint32Array.from(m.index.array);
      const positions = Float64Array.from(m.attributes.position.array);
      return weld({ positions, indices, faceOf: new Uint32Array(indices.length / 3) }, 1e-4);
    };
    near(read.meshes.map((m) => massProperties(solid(m)).volume));
    // Where they stand: neither is moved into the other's frame.
    const tops = read.meshes.map((m) => bounds(solid(m).positions).max[2]);
    expect(tops[0]).toBeCloseTo(140, 2);
    expect(tops[1]).toBeGreaterThan(140);
    expect([...new TextDecoder().decode(step).matchAll(/\bPRODUCT\('([^']*)'/g)].map((m) => m[1])).toEqual([
      'Steam diffuser, Diffuser',
      'Steam diffuser, Lid & seat',
    ]);
    Object.assign(globalThis, { DOMParser });
    const found: Mesh[] = [];
    new ThreeMFLoader().parse(arrayBuffer(all('3mf'))).traverse((o) => {
      if ((o as Mesh).isMesh) found.push(o as Mesh);
    });
    near(found.map((m) => volumeOfGeometry(m.geometry)));
    // Bodies with a colour have it there; those without keep none.
    const coloured = exportBodies(kernel, [{ ...parts[0]!, colour: '#1f6f8b' }, parts[1]!], '3mf', 0.1, 'a');
    const painted: string[] = [];
    if (coloured.ok)
      new ThreeMFLoader().parse(arrayBuffer(coloured.value.bytes)).traverse((o) => {
        if ((o as Mesh).isMesh) painted.push(((o as Mesh).material as MeshPhongMaterial).color.getHexString());
      });
    expect(painted).toEqual(['1f6f8b', expect.not.stringMatching(/^1f6f8b$/)]);
    // Apart: a file for each, in one frame.
    const apart = exportApart(kernel, parts, 'stl', 0.1, 'Dial');
    const unpacked = apart.ok ? unzipSync(apart.value.bytes) : {};
    expect(Object.keys(unpacked)).toHaveLength(2);
    near(Object.values(unpacked).map((b) => volumeOfGeometry(new STLLoader().parse(arrayBuffer(b)))));
    const objects = new OBJLoader().parse(new TextDecoder().decode(all('obj'))).children as Mesh[];
    near(objects.map((m) => volumeOfGeometry(m.geometry)));
    expect(objects.map((o) => o.name)).toEqual(['Diffuser', 'Lid & seat']);
    const both = volumeOfGeometry(new STLLoader().parse(arrayBuffer(all('stl'))));
    expect(Math.abs(both / (exact[0]! + exact[1]!) - 1)).toBeLessThan(5e-3);
    // One that can't be written stops the file, and is named.
    const without = exportBodies(kernel, [parts[0]!, { body: { ...parts[1]!.body, surface: true }, name: 'Lid' }], '3mf', 0.1, 'a');
    expect(without).toEqual({ ok: false, error: expect.stringMatching(/^Lid is a surface/) });
  });
  it('is finer with a smaller deviation', () => {
    const count = (d: number): number => {
      const r = exportBodies(kernel, [{ body: body, name: 'b' }], 'stl', d, 'a');
      return r.ok ? r.value.triangles! : 0;
    };
    expect(count(0.02)).toBeGreaterThan(count(0.2));
  });
});
