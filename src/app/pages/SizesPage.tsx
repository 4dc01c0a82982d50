import { useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { type GaugeReading, showReading } from '../../core/brief/gauges';
import { slug } from '../../core/recipe/file';
import type { Project, Size, Sizes } from '../../core/recipe/schema';
import { fail, ok } from '../../core/result';
import {
  changedRow,
  faultsOf,
  MOST_SIZES,
  sizesOf,
  withColumn,
  withoutColumn,
  withoutRow,
  withRow,
  withSize,
} from '../../core/sizes/sizes';
import { asTyped, csvOf, pastedSizes, seriesOf } from '../../core/sizes/table';
import { wordsIn } from '../../core/units/units';
import type { SizeReport } from '../../engine/sizes';
import { EXPORT_FORMATS, type ExportFormat } from '../../engine/types';
import { engine } from '../state/bench';
import { useJudged } from '../state/judged';
import { change, useProject } from '../state/project';
import { knownOf, stopSizes, useSizes, workOut } from '../state/sizes';
import { download } from '../ui/download';
import { ValueField } from '../ui/ValueField';
import { VerdictMark } from '../ui/verdict';
import { Overlaid } from './Overlaid';

/** Facets of files that have them lie so near, mm. */
const DEVIATION = 0.05;
/** Gauges beside those of the brief that a table shows. */
const MORE = 2;

const put = (next: Sizes): void => change((p) => ({ ...p, sizes: next }));

/** The same thing in several sizes: typed, in series or from a table; each worked out, read against the brief, and saved. */
export function SizesPage() {
  const project = useProject((s) => s.project);
  return project && <SizesOf project={project} />;
}

function SizesOf({ project }: { project: Project }) {
  const sizes = sizesOf(project);
  const worked = useSizes((s) => s.worked);
  const waiting = useSizes((s) => s.waiting);
  const trouble = useSizes((s) => s.trouble);
  const judged = useJudged(project);
  const [series, setSeries] = useState(false);
  const [pasting, setPasting] = useState(false);
  const [seen, setSeen] = useState<string | null>(null);
  const over = sizes.rows.find((r) => r.id === seen);
  const known = new Map(sizes.rows.map((r) => [r.id, knownOf(worked, project, r)]));
  const faults = useMemo(() => new Map(sizesOf(project).rows.map((r) => [r.id, faultsOf(project, r)])), [project]);
  const sound = sizes.rows.filter((r) => faults.get(r.id)!.every((f) => f === null));
  const columns = gaugeColumns([judged.gauges, ...[...known.values()].map((r) => r?.gauges ?? [])]);
  const free = project.dimensions.filter((d) => !sizes.dimensions.includes(d.name));
  const left = sound.filter((r) => !known.get(r.id));
  const failed = sound.filter((r) => known.get(r.id)?.failed);
  const off = sound.filter((r) => known.get(r.id)?.gauges.some((g) => g.target !== '–' && g.verdict === 'fail'));
  return (
    <main className="h-full overflow-auto px-8 py-6">
      <h1 className="mb-1 text-lg font-semibold">Sizes</h1>
      <p className="mb-3 max-w-[72ch] text-ink2">
        The same thing in several sizes. Each sets some of the sheet’s dimensions; what it leaves empty stays as it is there. They are
        worked out beside the bench, and read against the brief.
      </p>
      {project.dimensions.length === 0 && (
        <p className="mb-3 bg-amberwash px-3 py-2 text-amber">
          ▲ The sheet has no named dimensions yet: what is to differ needs a name. Add it on the bench.
        </p>
      )}
      <div className="mb-3 flex flex-wrap items-center gap-2">
        <button type="button" className="btn" disabled={sizes.rows.length >= MOST_SIZES} onClick={() => put(withRow(sizes, ''))}>
          Add a size
        </button>
        {free.length > 0 && (
          <select aria-label="Add a dimension" className="field" value="" onChange={(e) => put(withColumn(sizes, e.target.value))}>
            <option value="">Add a dimension…</option>
            {free.map((d) => (
              <option key={d.name}>{d.name}</option>
            ))}
          </select>
        )}
        <button
          type="button"
          className="btn"
          aria-expanded={series}
          disabled={project.dimensions.length === 0}
          onClick={() => setSeries(!series)}
        >
          A series…
        </button>
        <button type="button" className="btn" aria-expanded={pasting} onClick={() => setPasting(!pasting)}>
          From a table…
        </button>
      </div>
      {series && <Series project={project} close={() => setSeries(false)} />}
      {pasting && <Pasting project={project} close={() => setPasting(false)} />}
      {(sizes.rows.length > 0 || sizes.dimensions.length > 0) && (
        <div className="overflow-x-auto">
          <table className="border border-line2 bg-panel" data-testid="sizes">
            <thead>
              <tr className="heading border-b border-line text-left">
                <th className="px-3 py-1.5">Size</th>
                <th aria-label="What can be done with it" />
                {sizes.dimensions.map((d) => (
                  <th key={d} className="whitespace-nowrap px-2">
                    {d}{' '}
                    <button
                      type="button"
                      className="text-ink3 hover:text-madder"
                      aria-label={`Leave ${d} out of the table`}
                      onClick={() => put(withoutColumn(sizes, d))}
                    >
                      ×
                    </button>
                  </th>
                ))}
                <th className="whitespace-nowrap px-2">Worked out</th>
                {columns.map((c) => (
                  <th
                    key={c.id}
                    className="px-2 text-right font-normal"
                    title={c.target === '–' ? c.label : `${c.label}, target ${c.target}`}
                  >
                    {c.label}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              <tr className="border-b border-line text-ink2">
                <td className="whitespace-nowrap px-3 py-1">as on the sheet</td>
                <td />
                {sizes.dimensions.map((d) => (
                  <td key={d} className="whitespace-nowrap px-2 font-mono">
                    {project.dimensions.find((k) => k.name === d)?.expr}
                  </td>
                ))}
                <td className="whitespace-nowrap px-2">on the bench</td>
                <Readings columns={columns} gauges={judged.gauges} project={project} />
              </tr>
              {sizes.rows.map((r) => (
                <Row
                  key={r.id}
                  project={project}
                  sizes={sizes}
                  row={r}
                  report={known.get(r.id)}
                  faults={faults.get(r.id)!}
                  waiting={waiting.has(r.id)}
                  columns={columns}
                  busy={waiting.size > 0}
                  see={() => setSeen(r.id)}
                />
              ))}
            </tbody>
          </table>
        </div>
      )}
      {over && <Overlaid project={project} sheet={withSize(project, over)} id={over.id} called={over.name} close={() => setSeen(null)} />}
      {sizes.rows.length > 0 && (
        <>
          <div className="mt-3 flex flex-wrap items-center gap-3">
            {waiting.size === 0 ? (
              <button
                type="button"
                className="btn-strong"
                disabled={sound.length === 0}
                onClick={() => void workOut(project, left.length > 0 ? left : sound)}
              >
                {left.length > 0 && left.length < sound.length ? `Work out the other ${left.length}` : `Work out all ${sound.length}`}
              </button>
            ) : (
              <button type="button" className="btn-strong" onClick={stopSizes}>
                Stop
              </button>
            )}
            <span role="status" data-testid="sizes-told">
              {waiting.size > 0
                ? `${sound.length - waiting.size} of ${sound.length} are known`
                : [
                    left.length > 0 ? `${left.length} to be worked out` : 'all worked out',
                    failed.length > 0 && `${failed.length} can’t be made`,
                    off.length > 0 && `${off.length} off the brief`,
                    sound.length < sizes.rows.length && `${sizes.rows.length - sound.length} with a value that can’t be`,
                  ]
                    .filter(Boolean)
                    .join(' · ')}
            </span>
            {trouble && <span className="text-madder">■ {trouble}</span>}
          </div>
          <Saving project={project} sizes={sound} columns={columns} known={known} busy={waiting.size > 0} />
        </>
      )}
    </main>
  );
}

/** Gauges that a table shows: those with targets, then some that any of the bodies has. */
function gaugeColumns(all: readonly (readonly GaugeReading[])[]): GaugeReading[] {
  const seen = new Map<string, GaugeReading>();
  for (const gauges of all) for (const g of gauges) if (g.applies && g.unit !== 'yes/no' && !seen.has(g.id)) seen.set(g.id, g);
  const asked = [...seen.values()].filter((g) => g.target !== '–');
  return [...asked, ...[...seen.values()].filter((g) => g.target === '–').slice(0, MORE)];
}

function Readings({ columns, gauges, project }: { columns: readonly GaugeReading[]; gauges: readonly GaugeReading[]; project: Project }) {
  return columns.map((c) => {
    const g = gauges.find((k) => k.id === c.id);
    const shown = g && showReading(g.value, g.unit, g.digits, project.units);
    return (
      <td
        key={c.id}
        className="whitespace-nowrap px-2 text-right font-mono"
        title={g && g.target !== '–' ? wordsIn(g.words, project.units) : undefined}
      >
        {g && g.target !== '–' && <VerdictMark verdict={g.verdict} />} {shown?.text ?? ''}
        <span className="text-[11px] text-ink3">{shown?.unit}</span>
      </td>
    );
  });
}

function Row({
  project,
  sizes,
  row,
  report,
  faults,
  waiting,
  columns,
  busy,
  see,
}: {
  project: Project;
  sizes: Sizes;
  row: Size;
  report: SizeReport | undefined;
  /** By its columns. */
  faults: readonly (string | null)[];
  waiting: boolean;
  columns: readonly GaugeReading[];
  /** Others are being worked out: what is drawn would end that. */
  busy: boolean;
  see: () => void;
}) {
  const fault = faults.find((f) => f !== null);
  return (
    <tr className="border-b border-line align-baseline last:border-0" data-testid={`size-${row.id}`}>
      <td className="px-3 py-1">
        <ValueField
          label={`Name of ${row.name}`}
          value={row.name}
          minChars={10}
          className="font-sans!"
          check={(t) => (t.trim() === '' ? fail('a size has a name') : t.length > 80 ? fail('at most 80 letters') : ok(t))}
          onCommit={(name) => put(changedRow(sizes, row.id, (r) => ({ ...r, name })))}
        />
      </td>
      <td className="whitespace-nowrap px-2">
        <button
          type="button"
          className="link"
          onClick={() => {
            change((p) => withSize(p, row));
            toast.success(`The sheet is ${row.name} now`, { description: 'Undo brings it back.' });
          }}
        >
          take
        </button>{' '}
        <button type="button" className="link" disabled={fault !== undefined || busy} onClick={see}>
          see
        </button>{' '}
        <button
          type="button"
          className="text-ink3 hover:text-madder"
          aria-label={`Remove ${row.name}`}
          onClick={() => put(withoutRow(sizes, row.id))}
        >
          ×
        </button>
      </td>
      {sizes.dimensions.map((d, i) => {
        const at = (text: string): Size => ({ ...row, values: row.values.map((v, k) => (k === i ? text : v)) });
        return (
          <td key={d} className="px-2">
            <ValueField
              label={`${d} of ${row.name}`}
              value={row.values[i] ?? ''}
              placeholder="as it is"
              minChars={8}
              invalid={faults[i] !== null}
              check={(t) => {
                const fault = faultsOf(project, at(asTyped(project, d, t)))[i];
                return fault ? fail(fault) : ok(t);
              }}
              onCommit={(t) => put(changedRow(sizes, row.id, () => at(asTyped(project, d, t))))}
            />
          </td>
        );
      })}
      {report?.failed && !waiting ? (
        <td className="px-2 text-[12px] text-madder" colSpan={1 + columns.length}>
          ■ {report.failed.step}: {wordsIn(report.failed.why, project.units)}
        </td>
      ) : (
        <>
          <td className="whitespace-nowrap px-2 text-[12px] text-ink2">
            {waiting ? (
              '…'
            ) : report ? (
              `in ${(report.ms / 1000).toFixed(1)} s`
            ) : fault !== undefined ? (
              <span className="text-madder">■ {fault}</span>
            ) : (
              'not yet'
            )}
          </td>
          <Readings columns={columns} gauges={report?.gauges ?? []} project={project} />
        </>
      )}
    </tr>
  );
}

/** One dimension evenly from one value to another. */
function Series({ project, close }: { project: Project; close: () => void }) {
  const [name, setName] = useState(project.dimensions[0]?.name ?? '');
  const [from, setFrom] = useState('');
  const [to, setTo] = useState('');
  const [count, setCount] = useState('5');
  const now = project.dimensions.find((d) => d.name === name)?.expr;
  const made = from && to ? seriesOf(project, name, from, to, Number(count)) : null;
  return (
    <form
      className="mb-3 flex flex-wrap items-baseline gap-2 border border-line2 bg-card px-3 py-2"
      aria-label="A series"
      onSubmit={(e) => {
        e.preventDefault();
        if (!made?.ok) return;
        put(made.value);
        close();
      }}
    >
      <select aria-label="Dimension of the series" className="field" value={name} onChange={(e) => setName(e.target.value)}>
        {project.dimensions.map((d) => (
          <option key={d.name}>{d.name}</option>
        ))}
      </select>
      from
      <input aria-label="From" className="field w-24 font-mono" value={from} placeholder={now} onChange={(e) => setFrom(e.target.value)} />
      to
      <input aria-label="To" className="field w-24 font-mono" value={to} placeholder={now} onChange={(e) => setTo(e.target.value)} />
      in
      <input
        aria-label="So many"
        className="field w-16 font-mono"
        value={count}
        inputMode="numeric"
        onChange={(e) => setCount(e.target.value)}
      />
      <button type="submit" className="btn-strong" disabled={!made?.ok}>
        Add them
      </button>
      {made && !made.ok && <span className="text-madder">{made.error}</span>}
    </form>
  );
}

/** A table that is pasted, or read from a file. */
function Pasting({ project, close }: { project: Project; close: () => void }) {
  const [text, setText] = useState('');
  const file = useRef<HTMLInputElement>(null);
  const made = text.trim() ? pastedSizes(text, project) : null;
  return (
    <form
      className="mb-3 border border-line2 bg-card px-3 py-2"
      aria-label="From a table"
      onSubmit={(e) => {
        e.preventDefault();
        if (!made?.ok) return;
        put(made.value);
        close();
      }}
    >
      <p className="mb-1 text-ink2">Dimensions along the top, a size a line, its name first. From a sheet’s clipboard or a CSV file.</p>
      <textarea
        aria-label="The table"
        className="field min-h-24 w-full max-w-[72ch] font-mono"
        value={text}
        placeholder={`size, ${project.dimensions
          .slice(0, 2)
          .map((d) => d.name)
          .join(', ')}\nsmall, …`}
        onChange={(e) => setText(e.target.value)}
      />
      <div className="mt-1 flex items-baseline gap-2">
        <button type="submit" className="btn-strong" disabled={!made?.ok}>
          Add {made?.ok ? made.value.rows.length - sizesOf(project).rows.length : 'them'}
        </button>
        <button type="button" className="btn" onClick={() => file.current?.click()}>
          Read a CSV file
        </button>
        <input
          ref={file}
          type="file"
          hidden
          accept=".csv,.tsv,.txt,text/csv"
          aria-label="CSV file"
          onChange={(e) => {
            const chosen = e.target.files?.[0];
            e.target.value = '';
            if (chosen && chosen.size > 1e6) toast.error('Not read', { description: 'The file is larger than 1 MB.' });
            else void chosen?.text().then(setText);
          }}
        />
        {made && !made.ok && <span className="text-madder">{made.error}</span>}
      </div>
    </form>
  );
}

/** All sizes as files in one, and the table for sheets of others. */
function Saving({
  project,
  sizes,
  columns,
  known,
  busy,
}: {
  project: Project;
  sizes: readonly Size[];
  columns: readonly GaugeReading[];
  known: ReadonlyMap<string, SizeReport | undefined>;
  busy: boolean;
}) {
  const [format, setFormat] = useState<ExportFormat>('step');
  const table = (of: (row: Size) => SizeReport | undefined): string => {
    const { dimensions } = sizesOf(project);
    const unit = (c: GaugeReading): string => showReading(1, c.unit, c.digits, project.units).unit;
    return csvOf(
      ['size', ...dimensions, 'state', ...columns.map((c) => `${c.label} (${unit(c)})`)],
      sizes.map((r) => {
        const report = of(r);
        const values = withSize(project, r).dimensions;
        return [
          r.name,
          ...dimensions.map((d) => values.find((v) => v.name === d)?.expr ?? ''),
          report?.failed ? `${report.failed.step}: ${report.failed.why}` : report ? 'done' : 'not worked out',
          ...columns.map((c) => {
            const g = report?.gauges.find((k) => k.id === c.id);
            return g && g.value !== null ? showReading(g.value, g.unit, g.digits, project.units).text : '';
          }),
        ];
      }),
    );
  };
  const saveAll = async (): Promise<void> => {
    const reports = await workOut(project, sizes, { format, deviation: DEVIATION });
    if (!reports) return;
    const files = reports.flatMap((r) => (r.file?.ok ? [r.file.value] : []));
    const refused = reports.flatMap((r) => (r.file && !r.file.ok ? [r.file.error] : []));
    if (files.length === 0) return void toast.error('Not saved', { description: refused[0] ?? 'none of them can be made' });
    const csv = { name: 'sizes.csv', bytes: new TextEncoder().encode(table((row) => reports.find((r) => r.size === row.id))) };
    const packed = await engine.pack([...files, csv]);
    if (!packed.ok) return void toast.error('Not saved', { description: packed.error });
    const name = `${slug(project.name)}-sizes-${format}.zip`;
    download(name, packed.value, 'application/zip');
    const without = sizes.length - files.length;
    toast.success(`${name} saved`, {
      description: `${files.length} sizes and the table${without > 0 ? `; ${without} can’t be made and are not in it` : ''}, millimetres`,
    });
  };
  return (
    <div className="mt-6 flex flex-wrap items-center gap-2">
      <button type="button" className="btn" disabled={busy || sizes.length === 0} onClick={() => void saveAll()}>
        Save all as
      </button>
      <select aria-label="Format of the files" className="field" value={format} onChange={(e) => setFormat(e.target.value as ExportFormat)}>
        {EXPORT_FORMATS.map((f) => (
          <option key={f} value={f}>
            {f.toUpperCase()}
          </option>
        ))}
      </select>
      <span className="text-ink2">a file for each size and the table, packed in one</span>
      <button
        type="button"
        className="btn ml-4"
        onClick={() =>
          download(
            `${slug(project.name)}-sizes.csv`,
            table((r) => known.get(r.id)),
            'text/csv',
          )
        }
      >
        Save the table as CSV
      </button>
    </div>
  );
}
