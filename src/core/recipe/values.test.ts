import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { stepDefinitions } from './steps';
import { evaluateValue } from './values';

const none = () => undefined;
const specs = Object.entries(stepDefinitions).flatMap(([kind, d]) =>
  Object.entries(d!.values).map(([name, spec]) => ({ kind, name, spec })),
);
const UNITS = { length: ' mm', angle: '°', number: '' } as const;

describe('values of steps', () => {
  it('begin within what they allow', () => {
    for (const { kind, name, spec } of specs)
      expect(evaluateValue(spec, spec.initial, none), `${kind} ${name}`).toMatchObject({ ok: true });
  });
  it('are finite and within bounds whatever is typed, or refused by name', () => {
    fc.assert(
      fc.property(fc.constantFrom(...specs), fc.double({ noNaN: true }), ({ spec }, v) => {
        const r = evaluateValue(spec, `${v}${UNITS[spec.kind]}`, none);
        if (r.ok) expect(Math.abs(r.value)).toBeLessThanOrEqual(1e6);
        else expect(r.error).toContain(spec.label);
      }),
      { numRuns: 2000 },
    );
  });
  it('of no use are refused in words: a length no kernel can tell from nothing, a thousand turns, a kilometre, a million copies', () => {
    const refused = (kind: string, name: string, text: string): string => {
      const r = evaluateValue(stepDefinitions[kind]!.values[name]!, text, none);
      return r.ok ? '' : r.error;
    };
    expect(refused('shell', 'wall', '1e-9 mm')).toBe(
      'the wall is at least 0.0001 mm, the least that can be told from nothing; it is 1.0e-9 mm',
    );
    expect(refused('sweep', 'twist', '1e6°')).toBe('the twist is at most 3600° here; it is 1000000°');
    expect(refused('extrude', 'length', '1e6 mm')).toBe('the length is at most 100000 mm here; it is 1000000 mm');
    expect(refused('pattern', 'count', '1000000')).toMatch(/at most 500; it is 1000000$/);
    expect(refused('extrude', 'length', '100 mm')).toBe('');
  });
});
