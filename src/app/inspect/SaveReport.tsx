import { useState } from 'react';
import { toast } from 'sonner';
import { judgedBody } from '../../core/brief/judge';
import { slug } from '../../core/recipe/file';
import type { Project } from '../../core/recipe/schema';
import { bodyWords } from '../../core/recipe/words';
import { allNumbers, numbersCsv } from '../../engine/report';
import { engine, picture, useBench } from '../state/bench';
import { inspect, useInspect } from '../state/inspecting';
import { download } from '../ui/download';
import { allAnswers, reportPage } from './makeReport';

type Format = 'html' | 'json' | 'csv';
const TYPES: Readonly<Record<Format, string>> = { html: 'text/html', json: 'application/json', csv: 'text/csv' };

/** Every question answered at once, as a printable page or as plain numbers. */
export function SaveReport({ project }: { project: Project }) {
  const [share, setShare] = useState<number | null>(null);
  const ready = useBench((s) => !s.stale && !s.measuring && (s.result?.bodies.length ?? 0) > 0);
  const save = async (format: Format): Promise<void> => {
    const { result } = useBench.getState();
    const chosen = useInspect.getState().body;
    const body = judgedBody(project, result?.bodies ?? [], (b) => b.id, chosen)?.id;
    if (!body) return;
    const shown = picture.take?.() ?? null;
    setShare(0);
    const told = await allAnswers(project, body, setShare);
    setShare(null);
    if (!told) return void toast.error('The report was not made', { description: 'It was stopped, or the body changed meanwhile.' });
    const numbers = {
      project: project.name,
      body: bodyWords(body, project),
      units: 'mm',
      gauges: Object.fromEntries(told.gauges.map((g) => [g.id, g.value])),
      ...allNumbers(told.answers, told.faces),
    };
    const name = `${slug(project.name, bodyWords(body, project), 'inspection')}.${format}`;
    const text =
      format === 'html'
        ? reportPage(project, body, told, shown)
        : format === 'json'
          ? JSON.stringify(numbers, null, 2)
          : numbersCsv(numbers);
    download(name, text, TYPES[format]);
    toast.success(`${name} saved`);
    void inspect();
  };
  return (
    <section aria-label="Report" className="border-b border-line px-4 py-3">
      <h2 className="heading mb-1">Report</h2>
      {share !== null ? (
        <p className="text-teal">
          measuring all… {Math.round(100 * share)} %{' '}
          <button type="button" className="link" onClick={() => engine.stopInspecting()}>
            stop
          </button>
        </p>
      ) : (
        <div className="flex flex-wrap gap-1">
          <button type="button" className="btn py-0.5!" disabled={!ready} onClick={() => void save('html')}>
            Save the report
          </button>
          <button type="button" className="btn py-0.5!" disabled={!ready} onClick={() => void save('csv')}>
            Numbers as CSV
          </button>
          <button type="button" className="btn py-0.5!" disabled={!ready} onClick={() => void save('json')}>
            as JSON
          </button>
        </div>
      )}
      <p className="mt-1 text-[12px] text-ink2">All questions as they first stand, the gauges, the view as it is, and the cautions.</p>
    </section>
  );
}
