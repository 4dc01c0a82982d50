/** The numbers behind a step's typed values. */
import { evaluateAs, type Kind, type Scope } from '../dimensions/expression';
import { fail, ok, type Result } from '../result';
import { degrees } from '../units/units';
import type { Step } from './schema';
import { stepDefinitions } from './steps';
import type { ValueSpec } from './steps/definition';

/** What no value goes beyond, whatever its step allows: 100 m, ten turns, a million. */
const MOST: Readonly<Record<Kind, number>> = { length: 1e5, angle: 20 * Math.PI, number: 1e6 };
/** Lengths that are more than nothing are this long at least, mm: below, the kernel can't tell them from nothing. */
const LEAST = 1e-4;

/** Evaluates and checks one value against what its step allows. */
export function evaluateValue(spec: ValueSpec, text: string, scope: Scope): Result<number> {
  const r = evaluateAs(text, spec.kind, scope);
  if (!r.ok) return fail(`${spec.label}: ${r.error}`);
  const show = (v: number): string =>
    spec.kind === 'angle' ? `${Number(degrees(v).toFixed(3))}°` : spec.kind === 'length' ? `${Number(v.toFixed(4))} mm` : String(v);
  if (spec.above !== undefined && !(r.value > spec.above))
    return fail(`the ${spec.label} must be more than ${show(spec.above)}; it is ${show(r.value)}`);
  if (spec.atLeast !== undefined && r.value < spec.atLeast)
    return fail(`the ${spec.label} is at least ${show(spec.atLeast)}; it is ${show(r.value)}`);
  if (spec.atMost !== undefined && r.value > spec.atMost * (1 + 1e-12))
    return fail(`the ${spec.label} is at most ${show(spec.atMost)}; it is ${show(r.value)}`);
  if (Math.abs(r.value) > MOST[spec.kind] * (1 + 1e-12))
    return fail(`the ${spec.label} is at most ${show(MOST[spec.kind])} here; it is ${show(r.value)}`);
  if (spec.kind === 'length' && spec.above === 0 && r.value < LEAST)
    return fail(
      `the ${spec.label} is at least ${show(LEAST)}, the least that can be told from nothing; it is ${r.value.toPrecision(2)} mm`,
    );
  return r;
}

/** All values of a step in mm, rad or plain. */
export function stepValues(step: Step, scope: Scope): Result<Record<string, number>> {
  const out: Record<string, number> = {};
  for (const [name, spec] of Object.entries(stepDefinitions[step.kind]!.values)) {
    const r = evaluateValue(spec, step.values[name] ?? '', scope);
    if (!r.ok) return r;
    out[name] = r.value;
  }
  return ok(out);
}
