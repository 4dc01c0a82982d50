/** Names of all of Unicode in files that readers of others take: fast-xml-parser for XML, three's loader for OBJ, the standard's own rule for STEP. */

import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { unzipSync } from 'fflate';
import { OBJLoader } from 'three/examples/jsm/loaders/OBJLoader.js';
import { describe, expect, it } from 'vitest';
import { testKernel } from '../../../tests/support/kernel';
import { asXml, NAMES } from '../../../tests/support/unicode';
import { writeStep } from '../../kernel/exchange/step';
import { readStep } from '../../kernel/exchange/step-read';
import type { TriMesh } from '../mesh/mesh';
import { asciiText, lineText, stepText, xmlText } from './encode';
import { write3mf, writeObj, writeStl } from './mesh-files';
import { readSvg, writeSvg } from './svg';

const TETRA: TriMesh = {
  positions: Float64Array.from([0, 0, 0, 10, 0, 0, 0, 10, 0, 0, 0, 10]),
  indices: Uint32Array.from([0, 2, 1, 0, 1, 3, 1, 2, 3, 0, 3, 2]),
  faceOf: new Uint32Array(4),
};
const MARKS: Readonly<Record<string, string>> = { lt: '<', gt: '>', quot: '"', amp: '&' };
const byCode = (t: string): string =>
  t.replace(/&(?:#(\d+)|(lt|gt|quot|amp));/g, (_, n, name) => (n ? String.fromCharCode(Number(n)) : MARKS[name]!));

describe('names in files', () => {
  it('leave 3MF and SVG well formed, and come back', () => {
    for (const name of NAMES) {
      const model = new TextDecoder().decode(unzipSync(write3mf([{ mesh: TETRA, name: name }], name))['3D/3dmodel.model']);
      expect([name, XMLValidator.validate(model)]).toEqual([name, true]);
      const read = new XMLParser({ ignoreAttributes: false, processEntities: false, trimValues: false }).parse(model);
      expect(byCode(read.model.metadata['#text'] ?? read.model.metadata)).toBe(asXml(name));
      const svg = writeSvg([], name);
      expect([name, XMLValidator.validate(svg)]).toEqual([name, true]);
      expect([name, readSvg(svg).ok]).toEqual([name, true]);
    }
  });
  it('leave OBJ and STL with the geometry they have', () => {
    for (const name of NAMES) {
      const group = new OBJLoader().parse(new TextDecoder().decode(writeObj([{ mesh: TETRA, name: name }], name)));
      const mesh = group.children[0] as unknown as { geometry: { attributes: { position: { count: number } } } };
      expect([name, group.children.length, mesh.geometry.attributes.position.count]).toEqual([name, 1, 12]);
      const stl = writeStl([{ mesh: TETRA, name: name }], name);
      expect([name, stl.length, /^[\x20-\x7e]*\0*$/.test(new TextDecoder('latin1').decode(stl.subarray(0, 80)))]).toEqual([
        name,
        84 + 50 * 4,
        true,
      ]);
    }
  });
  it('stand in STEP as the standard writes them, and the file is read with the same volume', async () => {
    const kernel = await testKernel();
    const box = new kernel.BRepPrimAPI_MakeBox(10, 20, 30).Shape();
    for (const name of NAMES.slice(0, 24)) {
      const file = writeStep(kernel, [{ shape: box, title: name }]);
      if (!file.ok) throw new Error(file.error);
      const text = new TextDecoder('latin1').decode(file.value);
      const product = /PRODUCT\('((?:[^']|'')*)','((?:[^']|'')*)'/.exec(text)!;
      expect(product[1]).toBe(product[2]);
      // ISO 10303-21, 6.4.3, read the other way round.
      const back = product[1]!
        .replace(/\\X\\([0-9A-F]{2})/g, (_, h) => `\u{f0000}${h};`)
        .replace(/\\X([24])\\([0-9A-F]+)\\X0\\/g, (_, __, h) => `\u{f0000}${h};`)
        .replaceAll("''", "'")
        .replaceAll('\\\\', '\\')
        .replace(/\u{f0000}([0-9A-F]+);/gu, (_, h) => String.fromCodePoint(Number.parseInt(h, 16)));
      expect(back).toBe(name);
      const read = readStep(kernel, file.value);
      expect([name, read.ok && read.value.map((s) => Math.round(s.volume))]).toEqual([name, [6000]]);
    }
  }, 120_000);
  it('are one line of text, or of ASCII, where a format knows no more', () => {
    for (const name of NAMES) {
      expect(lineText(name)).not.toMatch(/[\p{Cc}\p{Zl}\p{Zp}\p{Cs}]/u);
      expect(asciiText(name)).toMatch(/^[\x20-\x7e]*$/);
      expect(stepText(name)).toMatch(/^[\x20-\x7e]*$/);
      expect(xmlText(name)).not.toMatch(/[<>"'\n]/);
    }
  });
});
