import { beforeAll, describe, expect, it } from 'vitest';
import { cylinder, testKernel } from '../../../tests/support/kernel';
import type { Kernel } from '../open';
import { compoundOf } from '../shapes';
import { writeStep } from './step';
import { MAX_STEP_BYTES, readStep } from './step-read';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await testKernel();
});
const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const written = (): Uint8Array => {
  const r = writeStep(kernel, [{ shape: cylinder(kernel, 20, 50).shape, title: 'Cylinder' }]);
  if (!r.ok) throw new Error(r.error);
  return r.value;
};
const refusal = (b: Uint8Array): string => {
  const r = readStep(kernel, b);
  if (r.ok) throw new Error('was read');
  return r.error;
};

describe('a STEP file', () => {
  it('that was written here comes back as the same solid', () => {
    const r = readStep(kernel, written());
    if (!r.ok) throw new Error(r.error);
    expect(r.value).toHaveLength(1);
    expect(r.value[0]!.volume / (Math.PI * 400 * 50)).toBeCloseTo(1, 9);
    expect(r.value[0]!.faces).toBe(3);
  });
  it('of two solids brings both', () => {
    const both = writeStep(kernel, [
      { shape: compoundOf(kernel, [cylinder(kernel, 20, 50).shape, cylinder(kernel, 5, 90).shape]), title: 'Two' },
    ]);
    const r = readStep(kernel, both.ok ? both.value : new Uint8Array());
    expect(r.ok ? r.value.map((s) => Math.round(s.volume)).sort((a, b) => a - b) : r.error).toEqual([7069, 62832]);
  });
  it('that is empty, no STEP, cut off, or too large is refused in one sentence', () => {
    expect(refusal(new Uint8Array())).toBe('The file is empty.');
    expect(refusal(bytes('solid cube\nfacet normal 0 0 1'))).toBe('This is not a STEP file.');
    const whole = written();
    expect(refusal(whole.subarray(0, whole.length / 2))).toContain('ends too early');
    expect(refusal(new Uint8Array(MAX_STEP_BYTES + 1))).toContain('up to 20 MB are read');
  });
  it('with nothing in it, or nonsense where its shapes should be, is refused', () => {
    const hull = (data: string): Uint8Array =>
      bytes(
        `ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('','',(''),(''),'','','');\nFILE_SCHEMA(('AUTOMOTIVE_DESIGN'));\nENDSEC;\nDATA;\n${data}\nENDSEC;\nEND-ISO-10303-21;\n`,
      );
    expect(refusal(hull(''))).toMatch(/STEP file/);
    expect(refusal(hull("#1=CARTESIAN_POINT('',(1E999,NaN,0.));"))).toMatch(/STEP file/);
    expect(refusal(hull('#1=MANIFOLD_SOLID_BREP((((((('))).toMatch(/STEP file/);
  });
});
