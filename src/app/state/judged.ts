/** The body that is judged on the page, with its gauges as they stand. */
import type { GaugeReading } from '../../core/brief/gauges';
import { judge, judgedBody, materialOf } from '../../core/brief/judge';
import type { Project } from '../../core/recipe/schema';
import type { MeasureResult } from '../../engine/types';
import { useBench } from './bench';
import { tableOf } from './project';

export interface Judged {
  /** What was measured of it; null while nothing is. */
  readonly measured: MeasureResult | null;
  readonly material: string;
  readonly gauges: readonly GaugeReading[];
}

/** @param body the one a page is about; where left out, the one the bench reads */
export function useJudged(project: Project, body?: string): Judged {
  const measures = useBench((s) => s.measures);
  const chosen = useBench((s) => s.gaugeBody);
  const id = body ?? judgedBody(project, measures?.map((m) => m.body) ?? [], chosen);
  const measured = measures?.find((m) => m.body === id) ?? null;
  return { measured, material: materialOf(project, id), gauges: judge(project, tableOf(project).scope, id, measured?.readings ?? null) };
}
