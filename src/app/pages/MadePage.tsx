import { useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { materialOf } from '../../core/brief/judge';
import type { Batch, Made } from '../../core/made/document';
import { changedBatch, withBatch, withoutBatch, withPlace } from '../../core/made/edit';
import { growthWords } from '../../core/made/grown';
import { quantityOf } from '../../core/made/places';
import { batchCsv, rowsOf } from '../../core/made/table';
import { slug } from '../../core/recipe/file';
import type { Project } from '../../core/recipe/schema';
import { fail, ok } from '../../core/result';
import { saveMeasuringSheet } from '../made/measuringSheet';
import { Printing } from '../made/Printing';
import { ReadingsTable } from '../made/ReadingsTable';
import { Shrinking } from '../made/Shrinking';
import { changeMade, madeOf, useMadeModel } from '../made/useMade';
import { useBench } from '../state/bench';
import { tableOf, useProject } from '../state/project';
import { download } from '../ui/download';
import { atMost } from '../ui/letters';
import { ValueField } from '../ui/ValueField';

const NEW_FIGURE = 'typed';
const today = (): string => new Date().toISOString().slice(0, 10);

/** Parts that were made: what they measured against what they should be, and what that says of shrinkage. */
export function MadePage() {
  const project = useProject((s) => s.project);
  return project && <MadeOf project={project} />;
}

function MadeOf({ project }: { project: Project }) {
  const made = madeOf(project);
  const known = useMadeModel(project);
  const bodies = useBench((s) => s.result?.bodies.length ?? 0);
  const [params] = useSearchParams();
  const [chosen, setChosen] = useState<string | null>(params.get('batch'));
  const batch = made.batches.find((b) => b.id === chosen) ?? made.batches.at(-1) ?? null;
  const { scope } = tableOf(project);
  const rows = useMemo(() => rowsOf(project, madeOf(project), batch, known.present, scope), [project, batch, known.present, scope]);
  const [busy, setBusy] = useState(false);
  return (
    <main className="h-full overflow-auto px-8 py-6">
      <div className="grid max-w-[1680px] grid-cols-[minmax(0,1fr)_300px] gap-8 max-[960px]:grid-cols-1">
        <div className="min-w-0">
          <h1 className="mb-1 text-lg font-semibold">Made</h1>
          <p className="mb-3 max-w-[72ch] text-ink2">
            Parts that were made, measured against the model as it was then. Say what is measured, make a batch, type what the caliper
            reads: several readings of one place with a space between.
          </p>
          <div className="mb-3 flex flex-wrap items-center gap-2">
            <select
              aria-label="Measure a place"
              className="field max-w-80"
              value=""
              onChange={(e) => {
                const offer = known.offers[Number(e.target.value)];
                changeMade((m) =>
                  withPlace(m, offer ?? { name: 'another length', of: { kind: 'typed', value: '10 mm' }, way: 'other', side: 'outer' }),
                );
              }}
            >
              <option value="">Measure a place…</option>
              {known.offers.map((o, i) => (
                <option key={JSON.stringify(o.of)} value={i}>
                  {o.name}
                </option>
              ))}
              <option value={NEW_FIGURE}>a length that is typed</option>
            </select>
            <button
              type="button"
              className={made.places.length > 0 && made.batches.length === 0 ? 'btn-strong' : 'btn'}
              disabled={made.places.length === 0}
              onClick={() => {
                changeMade((m) => withBatch(m, '', today(), Object.fromEntries(known.present)));
                setChosen(null);
              }}
            >
              {made.batches.length === 0 ? 'A batch was made' : 'Another batch'}
            </button>
            <button
              type="button"
              className="btn ml-auto"
              disabled={made.places.length === 0 || bodies === 0 || busy}
              onClick={() => {
                setBusy(true);
                void saveMeasuringSheet(project, made, rows, known).finally(() => setBusy(false));
              }}
            >
              {busy ? 'drawing…' : 'Sheet to measure by'}
            </button>
            {batch && (
              <button
                type="button"
                className="btn"
                onClick={() => download(`${slug(project.name, batch.name || batch.at, 'measured')}.csv`, batchCsv(batch, rows), 'text/csv')}
              >
                Save as a table
              </button>
            )}
          </div>
          {made.places.length === 0 && (
            <p className="mb-3 border-l-2 border-line2 bg-panel px-3 py-2 text-ink2">
              Nothing is measured on parts yet. The gauges of the bench, what is measured on Inspect and the named lengths of the sheet can
              be chosen above. Two lengths along each axis, one of them long, tell shrinkage well.
            </p>
          )}
          {made.batches.length > 0 && batch && <BatchBar made={made} batch={batch} choose={setChosen} />}
          {made.places.length > 0 && <ReadingsTable project={project} made={made} batch={batch} rows={rows} known={known} />}
          {made.places.length > 0 && (
            <p className="mt-2 max-w-[80ch] text-[12px] text-ink2">
              ● within its limits by more than the device may be off · ▲ nearer to a limit than it can tell (
              <span className="whitespace-nowrap">ISO 14253-1</span>) · ■ beyond. Shares and capability take pieces to be spread as a bell;
              of few pieces they say little.
            </p>
          )}
        </div>
        <aside className="flex flex-col gap-5">
          <Shrinking project={project} made={made} batch={batch} material={materialOf(project, null)} />
          {batch && project.brief.process === 'print' && <Printing project={project} made={made} batch={batch} />}
          <Devices made={made} />
        </aside>
      </div>
    </main>
  );
}

function BatchBar({ made, batch, choose }: { made: Made; batch: Batch; choose: (id: string | null) => void }) {
  const put = (more: Partial<Batch>): void => changeMade((m) => changedBatch(m, batch.id, (b) => ({ ...b, ...more })));
  return (
    <div className="mb-2 flex flex-wrap items-center gap-x-3 gap-y-1" data-testid="batch">
      {made.batches.length > 1 && (
        <select className="field" aria-label="Batch" value={batch.id} onChange={(e) => choose(e.target.value)}>
          {made.batches.map((b, i) => (
            <option key={b.id} value={b.id}>
              {b.name || `batch ${i + 1}`}, {b.at}
            </option>
          ))}
        </select>
      )}
      <ValueField
        label="Name of the batch"
        value={batch.name}
        placeholder={`batch ${made.batches.indexOf(batch) + 1}`}
        minChars={14}
        className="font-sans! font-medium"
        check={atMost(120)}
        onCommit={(name) => put({ name })}
      />
      <label className="text-ink2">
        made on{' '}
        <input type="date" className="field py-0!" value={batch.at} onChange={(e) => e.target.value && put({ at: e.target.value })} />
      </label>
      <span className="text-ink2">{batch.grown ? `from files grown ${growthWords(batch.grown)}` : 'from files as drawn'}</span>
      <button
        type="button"
        className="text-ink3 hover:text-madder"
        aria-label="Take the batch away"
        onClick={() => {
          changeMade((m) => withoutBatch(m, batch.id));
          toast('The batch is gone', { description: 'Undo brings it back.' });
          choose(null);
        }}
      >
        ×
      </button>
    </div>
  );
}

const DEVICE_WORDS = { mm: 'lengths', g: 'masses', L: 'fillings' } as const;

/** What is measured with, and what its readings are trusted to. */
function Devices({ made }: { made: Made }) {
  const used = new Set(made.places.map(quantityOf));
  const put = (q: keyof Made['devices'], more: Partial<Made['devices']['mm']>): void =>
    changeMade((m) => ({ ...m, devices: { ...m.devices, [q]: { ...m.devices[q], ...more } } }));
  const check = (t: string) => {
    const v = Number(t.replace(',', '.'));
    return t.trim() !== '' && v >= 0 && v <= 1000 ? ok(v) : fail('a figure from 0 on');
  };
  return (
    <section aria-label="Devices">
      <h2 className="heading mb-1">Measured with</h2>
      {(['mm', 'g', 'L'] as const)
        .filter((q) => q === 'mm' || used.has(q))
        .map((q) => (
          <p key={q} className="flex items-baseline justify-between gap-2 text-[13px]">
            <ValueField
              label={`Device for ${DEVICE_WORDS[q]}`}
              value={made.devices[q].name}
              className="font-sans!"
              check={atMost(120)}
              onCommit={(name) => put(q, { name })}
            />
            <span className="whitespace-nowrap text-ink2">
              ±{' '}
              <ValueField
                label={`What the ${made.devices[q].name} is trusted to`}
                value={String(made.devices[q].off)}
                check={check}
                onCommit={(t) => put(q, { off: Number(t.replace(',', '.')) })}
              />{' '}
              {q}
            </span>
          </p>
        ))}
      <p className="text-[12px] text-ink2">Its certificate says how far its readings may be off (k = 2); those given are usual ones.</p>
    </section>
  );
}
