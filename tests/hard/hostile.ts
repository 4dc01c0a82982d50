/** Files and documents made to break readers and builders: sound ones, spoilt at random places. */
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { writeDxf } from '../../src/core/exchange/dxf';
import { writeSvg } from '../../src/core/exchange/svg';
import { addStep, newProject } from '../../src/core/recipe/edit';
import type { Project } from '../../src/core/recipe/schema';
import type { Chance } from './chance';

const root = fileURLToPath(new URL('../..', import.meta.url));

/** What files a user may bring in. */
export const READERS = ['svg', 'dxf', 'step', 'cage', 'stl', 'obj', 'project'] as const;
export type Reader = (typeof READERS)[number];

export interface HostileFile {
  readonly reader: Reader;
  readonly name: string;
  readonly bytes: Uint8Array;
}

const NUMBERS = ['1e308', '-1e308', '1e-320', 'NaN', 'Infinity', '-0', '0', '99999999999', '-1', '0.1.2', '1e', '１２', '2147483648', '""'];
const MARKS = [
  '\0',
  '\u0007',
  '\u202e',
  '\ufeff',
  '\ud800',
  '𝔸',
  '<',
  '>',
  '&',
  "'",
  '"',
  '#',
  ';',
  '\\',
  '/*',
  '$&',
  '%s',
  '\r\n',
  '{{',
  ']]>',
];

/** A text spoilt in one to six ways. */
function spoilt(text: string, c: Chance): string {
  let t = text;
  for (let n = 1 + c.below(6); n > 0; n--) {
    const at = c.below(t.length + 1);
    const length = 1 + c.below(Math.max(1, Math.min(400, t.length >> 2)));
    switch (c.below(9)) {
      case 0:
        t = t.slice(0, at);
        break;
      case 1:
        t = t.slice(0, at) + t.slice(at + length);
        break;
      case 2:
        t = t.slice(0, at) + t.slice(at, at + length).repeat(2 + c.below(c.share() < 0.1 ? 2000 : 20)) + t.slice(at);
        break;
      case 3:
      case 4:
      case 5: {
        // Another number in place of one that is there.
        const all = [...t.matchAll(/-?\d+(?:\.\d+)?(?:e[+-]?\d+)?/gi)];
        const m = all.length > 0 ? c.of(all) : undefined;
        if (m) t = t.slice(0, m.index) + c.of(NUMBERS) + t.slice(m.index + m[0].length);
        break;
      }
      case 6:
        t = t.slice(0, at) + c.of(MARKS).repeat(1 + c.below(c.share() < 0.05 ? 50_000 : 5)) + t.slice(at);
        break;
      case 7: {
        const lines = t.split('\n');
        const [a, b] = [c.below(lines.length), c.below(lines.length)];
        [lines[a], lines[b]] = [lines[b]!, lines[a]!];
        t = lines.join('\n');
        break;
      }
      default:
        t = t.slice(at) + t.slice(0, at);
    }
    if (t.length > 2_000_000) t = t.slice(0, 2_000_000);
  }
  return t;
}

const curves = [
  { id: 'a', construction: false, curve: { kind: 'line' as const, a: { x: 0, y: 0 }, b: { x: 30, y: 0 } } },
  { id: 'b', construction: false, curve: { kind: 'line' as const, a: { x: 30, y: 0 }, b: { x: 30, y: 20 } } },
  { id: 'c', construction: false, curve: { kind: 'line' as const, a: { x: 30, y: 20 }, b: { x: 0, y: 0 } } },
];
const SVG = `<svg xmlns="http://www.w3.org/2000/svg" width="80mm" viewBox="0 0 80 60"><g transform="translate(3 4) rotate(20)"><path d="M0 0 C 1 2 3 4 5 6 S 9 9 10 2 Z A 3 4 20 0 1 8 8"/><rect x="1" y="2" width="9" height="4" rx="1"/></g><circle cx="9" cy="8" r="7"/><ellipse cx="1" cy="2" rx="6" ry="3"/><polyline points="0,0 5,5 9,1"/></svg>`;
const DXF = `0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n4\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n0\nLINE\n10\n0\n20\n0\n11\n9\n21\n5\n0\nARC\n10\n1\n20\n2\n40\n5\n50\n20\n51\n160\n0\nLWPOLYLINE\n90\n3\n70\n1\n10\n0\n20\n0\n42\n0.5\n10\n9\n20\n0\n10\n9\n20\n7\n0\nELLIPSE\n10\n0\n20\n0\n11\n9\n21\n0\n40\n0.5\n41\n0\n42\n6.28\n0\nSPLINE\n70\n8\n71\n3\n72\n8\n73\n4\n40\n0\n40\n0\n40\n0\n40\n0\n40\n1\n40\n1\n40\n1\n40\n1\n10\n0\n20\n0\n10\n1\n20\n3\n10\n4\n20\n3\n10\n6\n20\n0\n0\nENDSEC\n0\nEOF\n`;
const OBJ =
  'v 0 0 0\nv 40 0 0\nv 40 30 0\nv 0 30 0\nv 0 0 20\nv 40 0 20\nv 40 30 20\nv 0 30 20\nf 1 4 3 2\nf 5 6 7 8\nf 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nf 4 1 5 8\n';
const STL = `solid t\n${`facet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 9 0 1\nvertex 0 8 2\nendloop\nendfacet\n`.repeat(12)}endsolid t\n`;

const DEMOS = ['soap-tray', 'robe-hook', 'ladle-grip', 'steam-diffuser'];
const demo = (name: string): string => readFileSync(`${root}demo/${name}.lathe.json`, 'utf8');

/** @param step a sound STEP file, made by the kernel beforehand */
export function hostileFile(c: Chance, reader: Reader, step: string): HostileFile {
  const sound: Record<Reader, () => string> = {
    svg: () => c.of([SVG, writeSvg(curves, 'a drawing')]),
    dxf: () => c.of([DXF, writeDxf(curves)]),
    step: () => step,
    cage: () => OBJ,
    stl: () => STL,
    obj: () => OBJ,
    project: () => demo(c.of(DEMOS)),
  };
  const text = sound[reader]();
  const name = `${c.of(['part', '../part', 'pärt', 'a$&b', '\u202epart'])}.${reader === 'cage' ? 'obj' : reader}`;
  // Half of the STL files are binary: a count that lies, places that are no numbers.
  if (reader === 'stl' && c.share() < 0.5) {
    const bytes = new Uint8Array(84 + 50 * c.below(40) + c.below(60)).map(() => c.below(256));
    new DataView(bytes.buffer).setUint32(80, c.of([0, 1, 12, 4294967295, 1e6]), true);
    return { reader, name, bytes };
  }
  return { reader, name, bytes: new TextEncoder().encode(spoilt(text, c)) };
}

const add = (p: Project, kind: Parameters<typeof addStep>[1], inputs: Record<string, unknown>, values: Record<string, string>): Project =>
  addStep(p, kind, inputs, values).project;

/** Small sound documents that build quickly. */
const PARTS: readonly (() => Project)[] = [
  () => {
    const blank: Project = { ...newProject('Part'), profiles: [], steps: [], bodies: {} };
    const box = add(
      blank,
      'primitive',
      { shape: 'box', plane: 'level', places: [], mode: 'new', body: null },
      { width: '60 mm', depth: '40 mm', height: '30 mm' },
    );
    const hollow = add(box, 'shell', { body: 's1', open: [{ face: 's1/end' }] }, { wall: '2 mm' });
    return add(hollow, 'fillet', { body: 's1', edges: [{ edge: 's1/front|s1/right' }] }, { radius: '1 mm' });
  },
  () => newProject('Part'),
  () => {
    const p = newProject('Part');
    return add(p, 'shell', { body: 's1', open: [{ topOf: 's1' }] }, { wall: '2 mm' });
  },
  () => {
    const blank: Project = { ...newProject('Part'), profiles: [], steps: [], bodies: {} };
    const ball = add(
      blank,
      'primitive',
      { shape: 'torus', plane: 'level', places: [], mode: 'new', body: null },
      { diameter: '40 mm', thickness: '8 mm' },
    );
    const row = { along: 'row', axis: 'x', paths: [], by: 'spacing', symmetric: 'one', skip: '', what: 'body', step: null, body: 's1' };
    return add(ball, 'pattern', { ...row, result: 'separate' }, { count: '3', length: '60 mm' });
  },
  () => {
    const p = newProject('Part');
    return add(p, 'split', { body: 's1', by: 'plane', plane: 'level', keep: 'both', profile: null, tool: null, surface: null }, {});
  },
];

const VALUES = [
  '0 mm',
  '-1 mm',
  '1e-9 mm',
  '1e-4 mm',
  '0.01 mm',
  '1 m',
  '100 m',
  '1e9 mm',
  '1e300 mm',
  '360°',
  '-360°',
  '1e6°',
  '0',
  '1',
  '1.5',
  '500',
  '1000000',
  'NaN',
  '',
  '1/0',
  'sqrt(-1)',
  '1 mm +',
  'x',
  '5 in',
  '2 mm * 3 mm',
  '((((1))))',
  '1e400',
  '30 mm',
  '15 mm',
  '2',
];
const PLACES = [0, -0, 1e-9, -40, 40, 1e5, -1e5, 1e6, 1e-300, Number.NaN, Number.POSITIVE_INFINITY];

/** A document with one to four of its leaves replaced by what hardly anybody enters; it may or may not still be one. */
export function hostileDocument(c: Chance): unknown {
  const doc = structuredClone(c.of(PARTS)()) as unknown;
  const leaves: { readonly of: Record<string, unknown>; readonly key: string }[] = [];
  const walk = (x: unknown): void => {
    if (typeof x !== 'object' || x === null) return;
    for (const [key, v] of Object.entries(x)) {
      if (typeof v === 'object' && v !== null) walk(v);
      leaves.push({ of: x as Record<string, unknown>, key });
    }
  };
  const { steps, profiles, bodies, brief } = doc as Record<string, unknown>;
  for (const part of [steps, steps, steps, profiles, bodies, brief]) walk(part);
  // Most of it where a hand types; the rest anywhere.
  const typed = leaves.filter((l) => typeof l.of[l.key] === 'string' && /\d/.test(l.of[l.key] as string));
  for (let n = 1 + c.below(4); n > 0; n--) {
    const { of, key } = c.of(c.share() < 0.6 && typed.length > 0 ? typed : leaves);
    const was = of[key];
    if (typeof was === 'number') of[key] = c.of(PLACES);
    else if (typeof was === 'string') of[key] = c.share() < 0.7 ? c.of(VALUES) : spoilt(was, c).slice(0, 300);
    else if (typeof was === 'boolean') of[key] = !was;
    else if (Array.isArray(was)) of[key] = c.of([[], [...was, ...was], was.toReversed()]);
    else if (was === null) of[key] = c.of(['s1', 's9', '']);
  }
  return doc;
}
