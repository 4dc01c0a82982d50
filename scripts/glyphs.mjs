/**
 * Writes the letters of the shipped text fonts as plain data, so that the core needs no font reader: `node scripts/glyphs.mjs`.
 * Three have outlines (Hanken Grotesk, Bitter, Red Hat Mono), one has single strokes (EMS Readability by Sheldon B. Michaels, as its file
 * `scripts/fonts/ems-readability.svg` says). All stand under the SIL Open Font License 1.1.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { XMLParser } from 'fast-xml-parser';
import opentype from 'opentype.js';

const LICENCE = 'SIL Open Font License 1.1';
const wanted = new Set();
for (let c = 0x20; c < 0x7f; c++) wanted.add(c);
for (let c = 0xa1; c <= 0xff; c++) wanted.add(c);

/** @param glyphs by letter: advance, and path in font units, y up; Z closes */
function write(name, font, unitsPerEm, capHeight, glyphs) {
  writeFileSync(`src/core/profile/fonts/${name}.json`, `${JSON.stringify({ font, licence: LICENCE, unitsPerEm, capHeight, glyphs })}\n`);
  console.log(font, Object.keys(glyphs).length, 'glyphs,', capHeight, 'of', unitsPerEm);
}

function outlines(name, words, family) {
  const bytes = readFileSync(`node_modules/@fontsource/${family}/files/${family}-latin-500-normal.woff`);
  const font = opentype.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
  const glyphs = {};
  for (const code of wanted) {
    const g = font.charToGlyph(String.fromCodePoint(code));
    if (g.index === 0) continue;
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
  write(name, words, font.unitsPerEm, Math.round(font.charToGlyph('H').getBoundingBox().y2), glyphs);
}

/** Strokes turn less than this from one piece to the next where they are meant to be round. */
const ROUND = Math.cos((40 * Math.PI) / 180);

/** A stroke through its places: straight where it has corners or long pieces, else cubics without a corner (Catmull and Rom's, by the pieces' lengths). */
function stroke(points) {
  const same = (p, q) => p[0] === q[0] && p[1] === q[1];
  const closed = points.length > 3 && same(points[0], points.at(-1));
  const n = points.length;
  const between = (i) => [points[i + 1][0] - points[i][0], points[i + 1][1] - points[i][1]];
  const length = (d) => Math.hypot(...d);
  // The direction a stroke has at a place, for a length of one; undefined at corners and beside long straight pieces.
  const way = (i) => {
    const a = i > 0 ? between(i - 1) : closed ? between(n - 2) : undefined;
    const b = i < n - 1 ? between(i) : closed ? between(0) : undefined;
    if (!a || !b) return undefined;
    const [la, lb] = [length(a), length(b)];
    if ((a[0] * b[0] + a[1] * b[1]) / (la * lb) < ROUND) return undefined;
    return [0, 1].map((k) => ((a[k] / la) * lb + (b[k] / lb) * la) / (la + lb));
  };
  const LONG = 130;
  let path = `M${points[0].map(Math.round).join(' ')}`;
  for (let i = 0; i + 1 < n; i++) {
    const d = between(i);
    const l = length(d);
    const [w0, w1] = [way(i), way(closed && i + 1 === n - 1 ? 0 : i + 1)];
    if (l > LONG || (!w0 && !w1)) {
      path += `L${points[i + 1].map(Math.round).join(' ')}`;
      continue;
    }
    const straight = d.map((x) => x / l);
    const [a, b] = [w0 ?? straight, w1 ?? straight];
    const poles = [
      [points[i][0] + (a[0] * l) / 3, points[i][1] + (a[1] * l) / 3],
      [points[i + 1][0] - (b[0] * l) / 3, points[i + 1][1] - (b[1] * l) / 3],
      points[i + 1],
    ];
    path += `C${poles.flat().map(Math.round).join(' ')}`;
  }
  return path;
}

function strokes(name, words, file) {
  const read = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '', processEntities: false, trimValues: false }).parse(
    readFileSync(file, 'utf8'),
  );
  const { font } = read.svg.defs;
  const glyphs = {};
  let capHeight = 0;
  for (const g of font.glyph) {
    const letter = g.unicode
      ?.replace(/&#x([0-9a-fA-F]+);/g, (_, h) => String.fromCodePoint(Number.parseInt(h, 16)))
      .replace(/&(amp|lt|gt|quot|apos);/g, (_, n) => ({ amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" })[n]);
    if (letter?.length !== 1 || !wanted.has(letter.codePointAt(0))) continue;
    const runs = [];
    for (const [, op, x, y] of (g.d ?? '').matchAll(/([ML]) ([-\d.]+) ([-\d.]+)/g)) {
      const p = [Number(x), Number(y)];
      if (op === 'M') runs.push([p]);
      else if (Math.hypot(p[0] - runs.at(-1).at(-1)[0], p[1] - runs.at(-1).at(-1)[1]) > 0.5) runs.at(-1).push(p);
    }
    if (letter === 'H') capHeight = Math.round(Math.max(...runs.flat().map((p) => p[1])));
    glyphs[letter] = [
      Math.round(Number(g['horiz-adv-x'])),
      runs
        .filter((r) => r.length > 1)
        .map(stroke)
        .join(''),
    ];
  }
  write(name, words, Number(font['font-face']['units-per-em']), capHeight, glyphs);
}

outlines('sans', 'Hanken Grotesk Medium', 'hanken-grotesk');
outlines('serif', 'Bitter Medium', 'bitter');
outlines('mono', 'Red Hat Mono Medium', 'red-hat-mono');
strokes('strokes', 'EMS Readability', 'scripts/fonts/ems-readability.svg');
