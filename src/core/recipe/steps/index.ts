/** Every step kind the document may hold, registered once. */
import type { StepDefinition } from './definition';
import { fillet } from './fillet';
import { revolve } from './revolve';
import { shell } from './shell';

export type { SentencePart, StepDefinition, StepGroup, ValueSpec } from './definition';
export type { FilletInputs } from './fillet';
export type { RevolveInputs } from './revolve';
export type { ShellInputs } from './shell';

export const definitions = { revolve, fillet, shell } as const;
export type StepKind = keyof typeof definitions;

/** The registry by plain text, for documents; undefined for a kind this version does not know. */
export const stepDefinitions: Readonly<Record<string, StepDefinition | undefined>> = definitions as unknown as Record<
  string,
  StepDefinition
>;
