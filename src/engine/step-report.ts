/** Reports of steps: how they begin, and whether one that is kept still says what it would say now. */
import { type Quotable, readsOtherwise } from '../core/recipe/quoted';
import type { Step } from '../core/recipe/schema';
import type { StepReport } from './types';

/** A step that was done, with nothing to say. */
export const blank = (step: Pick<Step, 'id' | 'kind'>): StepReport => ({
  id: step.id,
  kind: step.kind,
  state: 'done',
  ms: 0,
  checkMs: 0,
  cached: false,
  message: null,
  note: null,
  why: null,
  unfinished: false,
  tryInstead: [],
  warnings: [],
  at: null,
  volumeChange: null,
  faces: null,
  ties: null,
  lost: null,
  fixes: [],
  chart: null,
});

export const failed = (step: Pick<Step, 'id' | 'kind'>, message: string, why: string, tryInstead: readonly string[]): StepReport => ({
  ...blank(step),
  state: 'failed',
  message,
  why,
  tryInstead,
});

/** What a step's words were made under. */
export interface Spoken {
  readonly names: Quotable;
  readonly values: string;
}

/** Everything a report says. */
const saidBy = (r: StepReport): string =>
  [r.message ?? '', r.note ?? '', r.why ?? '', ...r.tryInstead, ...r.warnings.map((w) => w.message), ...r.fixes.map((f) => f.words)]
    .join('\n')
    .trim();

/** Whether a report would say the same under other names: values as typed go into what it offers only. */
export const saysTheSame = (report: StepReport, under: Spoken, now: Spoken): boolean =>
  !readsOtherwise(saidBy(report), under.names, now.names) && (report.fixes.length === 0 || under.values === now.values);
