/**
 * Writes the outlines of the shipped text font as plain data, so that the core needs no font reader:
 * `node scripts/glyphs.mjs`. Font: Hanken Grotesk, SIL Open Font License 1.1 (its text stands in the package).
 */
import { readFileSync, writeFileSync } from 'node:fs';
import opentype from 'opentype.js';

const file = 'node_modules/@fontsource/hanken-grotesk/files/hanken-grotesk-latin-500-normal.woff';
const bytes = readFileSync(file);
const font = opentype.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
const glyphs = {};
const wanted = [];
for (let c = 0x20; c < 0x7f; c++) wanted.push(c);
for (let c = 0xa1; c <= 0xff; c++) wanted.push(c);
for (const code of wanted) {
  const g = font.charToGlyph(String.fromCodePoint(code));
  if (g.index === 0) continue;
  // y up, in font units; Z closes.
  const path = g.path.commands
    .map(
      (c) =>
        c.type +
        [c.x1, c.y1, c.x2, c.y2, c.x, c.y]
          .filter((v) => v !== undefined)
          .map((v) => Math.round(v))
          .join(' '),
    )
    .join('');
  glyphs[String.fromCodePoint(code)] = [Math.round(g.advanceWidth), path];
}
const capHeight = Math.round(font.charToGlyph('H').getBoundingBox().y2);
const out = { font: 'Hanken Grotesk Medium', licence: 'SIL Open Font License 1.1', unitsPerEm: font.unitsPerEm, capHeight, glyphs };
writeFileSync('src/core/profile/glyphs.json', `${JSON.stringify(out)}\n`);
console.log(Object.keys(glyphs).length, 'glyphs,', capHeight, 'of', font.unitsPerEm);
