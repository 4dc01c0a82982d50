import type { GaugeReading } from '../../core/brief/gauges';
import { judge } from '../../core/brief/judge';
import type { Project } from '../../core/recipe/schema';
import type { Answer } from '../../engine/inspect';
import { reportHtml } from '../../engine/report';
import { engine, useBench } from '../state/bench';
import { stopInspecting } from '../state/inspecting';
import { tableOf } from '../state/project';
import { wallLimit } from './limits';

/** All that a report of a body tells. */
interface Told {
  readonly answers: readonly Answer[];
  readonly faces: readonly string[];
  readonly gauges: readonly GaugeReading[];
}

/** Every question of a body answered; null where it was stopped, or the body changed meanwhile. */
export async function allAnswers(project: Project, body: string, onShare: (share: number) => void): Promise<Told | null> {
  const { scenes, measures } = useBench.getState();
  stopInspecting();
  const answers = await engine.inspectAll(project, body, wallLimit(project), onShare).catch(() => null);
  if (!answers) return null;
  const readings = measures?.find((m) => m.body === body)?.readings ?? null;
  return {
    answers,
    faces: scenes.find((s) => s.id === body)?.faceNames ?? [],
    gauges: judge(project, tableOf(project).scope, body, readings),
  };
}

/** A day as it is written out, where the reader is. */
export const today = (): string => new Date().toLocaleDateString(undefined, { dateStyle: 'long' });

/** The page of it that is printed. @param shown a picture of the body as a data address, if there is one */
export const reportPage = (project: Project, body: string, { answers, faces, gauges }: Told, shown: string | null): string =>
  reportHtml(project, body, gauges, answers, faces, today(), shown);
