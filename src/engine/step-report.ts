/** Reports of steps: how they begin, and whether one that is kept still says what it would say now. */
import { type Quotable, readsOtherwise } from '../core/recipe/quoted';
import type { Step } from '../core/recipe/schema';
import { type LengthUnit, wordsIn } from '../core/units/units';
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
  made: [],
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

/** A report with all its words put otherwise. */
function reworded(r: StepReport, said: (words: string) => string): StepReport {
  const maybe = (w: string | null): string | null => (w === null ? null : said(w));
  return {
    ...r,
    message: maybe(r.message),
    note: maybe(r.note),
    why: maybe(r.why),
    tryInstead: r.tryInstead.map(said),
    warnings: r.warnings.map((w) => ({ ...w, message: said(w.message) })),
    fixes: r.fixes.map((f) => ({ ...f, words: said(f.words) })),
  };
}

/** Everything a report says. */
function saidBy(r: StepReport): string {
  const all: string[] = [];
  reworded(r, (w) => {
    all.push(w);
    return w;
  });
  return all.join('\n');
}

/** A report as it is said in a project's units; figures are metric where they are found. */
export const reportIn = (r: StepReport, units: LengthUnit): StepReport => (units === 'mm' ? r : reworded(r, (w) => wordsIn(w, units)));

/** Whether a report would say the same under other names: values as typed go into what it offers only. */
export const saysTheSame = (report: StepReport, under: Spoken, now: Spoken): boolean =>
  !readsOtherwise(saidBy(report), under.names, now.names) && (report.fixes.length === 0 || under.values === now.values);
