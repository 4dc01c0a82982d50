/** Steps that were taken away after they had failed: what was tried with them and why it was refused stays with the project. */
import type { GivenUpStep, Project, Step } from '../recipe/schema';
import { stepDefinitions } from '../recipe/steps';
import { stepTitle } from '../recipe/words';

/** So many are kept; the oldest go first. Tries of one step at most: the last ones. */
const [MOST, TRIES] = [200, 12] as const;

/** What a step was tried with: the value it is about, or those that are not as it begins. */
export function triedWith(step: Step): string {
  const definition = stepDefinitions[step.kind];
  if (!definition) return '';
  const values: Readonly<Record<string, { readonly label: string; readonly initial: string }>> = definition.values;
  const own = definition.ranged
    ? [definition.ranged as string]
    : Object.keys(values).filter((k) => step.values[k] !== undefined && step.values[k] !== values[k]!.initial);
  return own.map((k) => `${values[k]?.label ?? k} ${step.values[k]}`).join(', ');
}

/** One more try; the same again says nothing new. */
export function withTry(tries: GivenUpStep['tries'], one: GivenUpStep['tries'][number]): GivenUpStep['tries'] {
  if (tries.some((t) => t.with === one.with && t.why === one.why)) return tries;
  return [...tries, one].slice(-TRIES);
}

/** @param before the sheet that still had it */
export function giveUp(p: Project, before: Project, step: Step, tries: GivenUpStep['tries'], at: string): Project {
  const all = p.givenUp ?? [];
  return { ...p, givenUp: [...all, { at, step: stepTitle(step.id, before), kind: step.kind, tries: [...tries] }].slice(-MOST) };
}
