/** Drawings made to keep a reader busy, or to act: each is answered in words. A reader that hangs fails by the runner's limit. */
import { describe, expect, it } from 'vitest';
import { readDxf } from './dxf';
import { survey } from './survey';
import { readSvg } from './svg';

const svg = (inside: string): string => `<svg xmlns="http://www.w3.org/2000/svg" width="10mm" viewBox="0 0 10 10">${inside}</svg>`;
const dxf = (entities: string): string => `0\nSECTION\n2\nENTITIES\n${entities}\n0\nENDSEC\n0\nEOF\n`;
const refused = (r: { readonly ok: boolean; readonly error?: unknown }): string => (r.ok ? '' : String(r.error));

describe('an SVG', () => {
  it.each([
    ['of document types without end', '<!DOCTYPE svg>'.repeat(50_000) + svg(''), /well-formed/],
    ['of one attribute, a million times over', svg(`<path d="M0 0L1 1"${' onx'.repeat(1_100_000)}/>`), /script/],
    ['of open quotes', svg(`<path d="${'x'.repeat(1_000_000)}`), /well-formed/],
    ['of comments that never end', svg('<!--'.repeat(200_000)), /well-formed/],
    [
      'of groups moved by long texts',
      svg(`${'<g transform="translate(1 1) '.concat('scale(1) '.repeat(300), '">').repeat(40)}<path d="M0 0L1 1"/>${'</g>'.repeat(40)}`),
      /moved by more text/,
    ],
    ['nested without end', svg('<g>'.repeat(100_000)), /nested deeper/],
    ['of too many elements', svg('<path d="M0 0L1 1"/>'.repeat(40_000)), /elements/],
    ['with a script under another prefix', svg('<svg:script>alert(1)</svg:script>'), /script/],
    ['with a script in capitals', svg('<SCRIPT>alert(1)</SCRIPT>'), /script/],
    ['with something to do when it is loaded', svg('<path d="M0 0L1 1" onload="alert(1)"/>'), /script/],
    ['with a reference to the outside', svg('<image xlink:href="https://example.invalid/x"/>'), /outside/],
    ['with a document type of a place of its own', `<!DOCTYPE svg SYSTEM "file:///etc/passwd">${svg('')}`, /outside/],
    ['with entities', `<!DOCTYPE svg [<!ENTITY a "b">]>${svg('')}`, /entities/],
    ['with foreign objects', svg('<foreignObject><p/></foreignObject>'), /foreign/],
  ])('%s is refused in words', (_, text, why) => {
    expect(refused(readSvg(text))).toMatch(why);
  });
  it('with the usual document type, comments and quoted marks is read', () => {
    const r = readSvg(
      `<?xml version="1.0"?><!-- <script> --><!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "http://www.w3.org/Graphics/SVG/1.1/DTD/svg11.dtd">${svg(
        '<title>a &gt; b</title><path id="x>y" d="M0 0L10 10"/><!-- <g> --><g><line x1="0" y1="0" x2="5" y2="5"/></g>',
      )}`,
    );
    expect(r.ok && r.value.curves.length).toBe(2);
  });
  it('of many plain elements is read', () => {
    const r = readSvg(svg('<path d="M0 0L1 1"/>'.repeat(1_400)));
    expect(r.ok && r.value.curves.length).toBe(1_400);
  });
  it('is looked at only once: leaving its comments out changes nothing else', () => {
    const text = svg('<g a="&lt;"><path d="M0 0"/></g>');
    const r = survey(text);
    expect(r.ok && r.value).toBe(text);
  });
});

describe('a DXF', () => {
  const arc = (from: number, to: number): string => `0\nARC\n10\n0\n20\n0\n40\n5\n50\n${from}\n51\n${to}`;
  it('of arcs with huge angles is read, each as the arc it is', () => {
    const r = readDxf(dxf(Array.from({ length: 300 }, (_, i) => arc(3_600_000 + i, -7_200_000 + i + 90)).join('\n')));
    expect(r.ok && r.value.curves.length).toBe(300);
    const first = r.ok ? r.value.curves[0]! : undefined;
    expect(first?.kind === 'arc' && first.sweep).toBeCloseTo(Math.PI / 2, 6);
  });
  it.each([
    ['a polyline', '0\nLWPOLYLINE\n90\n1000000000\n10\n0\n20\n0'],
    ['a spline', '0\nSPLINE\n71\n3\n72\n900000000\n73\n900000000'],
    ['a mesh', '0\nPOLYLINE\n66\n1\n71\n1000000000\n72\n1000000000'],
  ])('whose count lies is refused: %s', (_, entity) => {
    expect(refused(readDxf(dxf(entity)))).toMatch(/more follows than it holds/);
  });
  it('of numbers that are none is refused', () => {
    expect(refused(readDxf(dxf('0\nCIRCLE\n10\n1e308\n20\n0\n40\n5')))).toMatch(/no coordinate/);
    expect(refused(readDxf(dxf('0\nCIRCLE\n10\nNaN\n20\n0\n40\n5')))).toMatch(/no coordinate/);
  });
});
