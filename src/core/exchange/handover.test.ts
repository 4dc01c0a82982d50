import { createHash, randomBytes } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { coverText, type HandedOver, sha256, sumsText } from './handover';

describe('sums', () => {
  it('are those of FIPS 180-4: its own example, nothing at all, and what the machine’s library says of many', async () => {
    expect(await sha256(new TextEncoder().encode('abc'))).toBe('ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad');
    expect(await sha256(new Uint8Array())).toBe('e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855');
    for (const n of [1, 55, 56, 64, 1000, 100_001]) {
      const bytes = new Uint8Array(randomBytes(n));
      expect(await sha256(bytes)).toBe(createHash('sha256').update(bytes).digest('hex'));
    }
  });
  it('of a part of a larger store are of that part alone', async () => {
    const all = new TextEncoder().encode('xxabcxx');
    expect(await sha256(all.subarray(2, 5))).toBe(await sha256(new TextEncoder().encode('abc')));
  });
  it('stand a line each, as the usual tools check them', async () => {
    const bytes = new TextEncoder().encode('abc');
    expect(
      await sumsText([
        { name: 'a.step', bytes, words: '' },
        { name: 'b.stl', bytes: new Uint8Array(), words: '' },
      ]),
    ).toMatch(/^ba78[0-9a-f]{60} {2}a\.step\ne3b0[0-9a-f]{60} {2}b\.stl\n$/);
  });
});

describe('the page on top', () => {
  const plain: HandedOver = {
    project: 'Steam diffuser',
    client: 'Marram Bathhouse',
    date: '2 December 2026',
    purpose: 'Holds half a litre',
    process: 'printing',
    material: 'PLA',
    bodies: [{ name: 'Lid', words: '12.3 cm³' }],
    targets: [{ label: 'Height', target: '138 … 145', reading: '140.00 mm', verdict: 'holds' }],
    files: [{ name: 'a.step', bytes: new Uint8Array(), words: 'exact surfaces' }],
    missing: [{ what: 'STL', why: 'Lid has open borders' }],
    cautions: ['Heat: mind it.'],
  };
  it('tells all there is, and that nothing is certified', () => {
    expect(coverText(plain)).toBe(
      [
        'Steam diffuser, for Marram Bathhouse',
        '2 December 2026',
        '',
        'What it is for',
        '  Holds half a litre',
        '  made by: printing; of PLA',
        '',
        'Bodies',
        '  Lid: 12.3 cm³',
        '',
        'Against the brief',
        '  Height: 140.00 mm, wanted 138 … 145: holds',
        '',
        'Files, in millimetres',
        '  a.step: exact surfaces',
        '',
        'Not in it',
        '  STL: Lid has open borders',
        '',
        'Cautions',
        '  Heat: mind it.',
        '  The program helps with shape; it certifies nothing. Local codes and licensed practice go before anything here.',
        '',
      ].join('\n'),
    );
  });
  it('leaves out what there is none of, but never the last caution', () => {
    const text = coverText({ ...plain, client: '', purpose: '', targets: [], missing: [], cautions: [], bodies: [] });
    expect(text).not.toMatch(/Against|Not in it|Bodies| for Marram/);
    expect(text).toContain('certifies nothing');
  });
});
