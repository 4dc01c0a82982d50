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

/** @param body the one a page is about, null where there is none; where left out, the one the bench reads */
export function useJudged(project: Project, body?: string | null): Judged {
  const measures = useBench((s) => s.measures);
  const chosen = useBench((s) => s.gaugeBody);
  const read = measures ?? [];
  const measured = body === undefined ? judgedBody(project, read, (m) => m.body, chosen) : (read.find((m) => m.body === body) ?? null);
  const id = body ?? measured?.body ?? null;
  return { measured, material: materialOf(project, id), gauges: judge(project, tableOf(project).scope, id, measured?.readings ?? null) };
}
