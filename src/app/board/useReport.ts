import { useEffect, useState } from 'react';
import type { Scope } from '../../core/dimensions/expression';
import { dimensionTargets } from '../../core/profile/resolve';
import type { Profile } from '../../core/recipe/schema';
import { Helper } from '../../engine/helper';
import type { BoardReport, BoardWorker } from '../board-worker';

const helper = new Helper<BoardWorker>(
  () => new Worker(new URL('../board-worker.ts', import.meta.url), { type: 'module' }),
  'The diagnosis',
  { seconds: 20, idle: 60 },
);

/** What is free, repeats or contradicts in a profile, worked out beside the page; the last report stands until the next one comes. */
export function useReport(profile: Profile | null, scope: Scope): BoardReport | null {
  const [report, setReport] = useState<{ of: string; report: BoardReport } | null>(null);
  useEffect(() => {
    const targets = profile ? dimensionTargets(profile, scope) : null;
    if (!profile || !targets?.ok) {
      setReport(null);
      return;
    }
    let current = true;
    const timer = setTimeout(() => {
      void helper
        .ask((api) => api.report(profile, targets.value))
        .then((r) => current && setReport({ of: profile.id, report: r.ok ? r.value : { stopped: r.error.words } }));
    }, 80);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [profile, scope]);
  return report && report.of === profile?.id ? report.report : null;
}
