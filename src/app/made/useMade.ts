/** What was made of the open project, with what the model says its places should be. */
import { useEffect, useMemo } from 'react';
import type { GaugeReading } from '../../core/brief/gauges';
import { type Made, noneMade } from '../../core/made/document';
import { type Model, type NewPlace, nominalOf, placesOffered } from '../../core/made/places';
import type { Project } from '../../core/recipe/schema';
import { useBench } from '../state/bench';
import { remeasure, useInspect } from '../state/inspecting';
import { useJudged } from '../state/judged';
import { change, tableOf } from '../state/project';

export const madeOf = (project: Project): Made => project.made ?? noneMade();
export const changeMade = (edit: (made: Made) => Made): void => change((p) => ({ ...p, made: edit(madeOf(p)) }));

export interface MadeModel {
  readonly model: Model;
  readonly gauges: readonly GaugeReading[];
  /** What places are as the model stands, by their ids; those that are not known are left out. */
  readonly present: ReadonlyMap<string, number>;
  /** Why a place is not known. */
  readonly missing: ReadonlyMap<string, string>;
  readonly offers: readonly NewPlace[];
}

export function useMadeModel(project: Project): MadeModel {
  const { gauges } = useJudged(project);
  const measured = useInspect((s) => s.measured);
  const stale = useBench((s) => s.stale);
  const { measures } = project;
  // biome-ignore lint/correctness/useExhaustiveDependencies: measured anew where the list is another
  useEffect(() => void (stale || remeasure()), [measures, stale]);
  return useMemo(() => {
    const model: Model = {
      gauge: (id) => gauges.find((g) => g.id === id)?.value ?? null,
      measured: (id) => measured.find((m) => m.id === id),
      scope: tableOf(project).scope,
    };
    const present = new Map<string, number>();
    const missing = new Map<string, string>();
    for (const place of madeOf(project).places) {
      const nominal = nominalOf(place, model);
      if (nominal.ok) present.set(place.id, nominal.value);
      else missing.set(place.id, nominal.error);
    }
    const applying = gauges.filter((g) => g.applies && g.value !== null).map((g) => g.id);
    return { model, gauges, present, missing, offers: placesOffered(project, model, applying) };
  }, [project, gauges, measured]);
}
