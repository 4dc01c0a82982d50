import { useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { gaugeById, readingWords, showReading } from '../../core/brief/gauges';
import { batchWords, rowsOf } from '../../core/made/table';
import { slug } from '../../core/recipe/file';
import { type KeptState, type LogNote, MOST_WORDS, type Project } from '../../core/recipe/schema';
import { history, isKept, keptOf, restored, sinceKept } from '../../core/revisions/kept';
import { changedNote, MOST_LETTERS, notesOf, withNote } from '../../core/revisions/notes';
import { csvOf } from '../../core/sizes/table';
import { wordsIn } from '../../core/units/units';
import { useBench } from '../state/bench';
import { useJudged } from '../state/judged';
import { forgetState, goBackTo, keepState, readingsOf, renameState } from '../state/keeping';
import { aside, tableOf as tableOfSheet, useProject } from '../state/project';
import { download } from '../ui/download';
import { atMost } from '../ui/letters';
import { ValueField } from '../ui/ValueField';
import { Overlaid } from './Overlaid';

/** Sentences of one state that are shown before all are asked for. */
const FEW = 6;
const BY: Readonly<Record<KeptState['by'], string>> = { hand: 'kept by hand', export: 'handed on', return: 'before going back' };

const dayOf = (at: string): string =>
  new Date(at).toLocaleDateString(undefined, { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' });
const timeOf = (at: string): string => new Date(at).toLocaleTimeString(undefined, { hour: '2-digit', minute: '2-digit' });

/** What was tried, and what it measured: states of the sheet that were kept, what changed from each to the next, and the way back. */
export function LogPage() {
  const project = useProject((s) => s.project);
  return project && <LogOf project={project} />;
}

function LogOf({ project }: { project: Project }) {
  const { gauges } = useJudged(project);
  const stale = useBench((s) => s.stale);
  const measuring = useBench((s) => s.measuring);
  const [name, setName] = useState('');
  const [note, setNote] = useState('');
  const [sought, setSought] = useState('');
  const [seen, setSeen] = useState<{ readonly id: string; readonly called: string; readonly sheet: Project } | null>(null);
  const rows = useMemo(() => history(project), [project]);
  const since = useMemo(() => sinceKept(project), [project]);
  const kept = useMemo(() => isKept(project), [project]);
  const wanted = sought.trim().toLowerCase();
  const says = (...words: readonly string[]): boolean => wanted === '' || words.some((w) => w.toLowerCase().includes(wanted));
  const entries: Entry[] = [
    ...rows.flatMap((row, i) =>
      says(row.kept.name, BY[row.kept.by], ...row.told) ? [{ at: row.kept.at, kept: { ...row, before: rows[i - 1]?.kept ?? null } }] : [],
    ),
    ...notesOf(project).flatMap((note) => (says(note.text) ? [{ at: note.at, note }] : [])),
  ];
  // The newest first; of the same moment what was written last.
  const shown = entries
    .map((e, i) => [e, i] as const)
    .sort(([a, i], [b, k]) => b.at.localeCompare(a.at) || k - i)
    .map(([e]) => e);
  return (
    <main className="h-full overflow-auto px-8 py-6">
      <h1 className="mb-1 text-lg font-semibold">Log</h1>
      <p className="mb-3 max-w-[72ch] text-ink2">
        States of the sheet that are kept: by hand, and by themselves when something is saved on Make. Each tells what changed since the one
        before, and what it measured; the work can go back to any of them. Notes stand among them. All of it goes into the project’s file.
      </p>
      <form
        className="mb-3 flex flex-wrap items-center gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          keepState(name, 'hand', gauges);
          setName('');
        }}
      >
        <input
          className="field w-64"
          aria-label="Name of the state"
          placeholder="what it is, or why it was tried"
          maxLength={MOST_WORDS}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <button type="submit" className="btn-strong" disabled={kept && name.trim() === ''}>
          Keep this state
        </button>
        {(rows.length > 0 || notesOf(project).length > 0) && (
          <>
            <input
              type="search"
              className="field ml-auto w-48"
              aria-label="Find in the log"
              placeholder="find in the log"
              value={sought}
              onChange={(e) => setSought(e.target.value)}
            />
            <button
              type="button"
              className="btn"
              onClick={() => download(`${slug(project.name)}-log.csv`, tableOf(project, rows), 'text/csv')}
            >
              Save as a table
            </button>
          </>
        )}
      </form>
      <form
        className="mb-3 flex flex-wrap items-start gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          aside((p) => withNote(p, note, new Date().toISOString()));
          setNote('');
        }}
      >
        <textarea
          className="field min-h-8 w-[46ch] max-w-full"
          rows={1}
          aria-label="A note"
          placeholder="a note: what was tried, and why"
          maxLength={MOST_LETTERS}
          value={note}
          onChange={(e) => setNote(e.target.value)}
        />
        <button type="submit" className="btn" disabled={note.trim() === ''}>
          Note it
        </button>
      </form>
      {rows.length > 0 && (
        <section aria-label="Since the last" className="mb-4 border-l-2 border-teal bg-panel px-3 py-2">
          <h2 className="heading mb-0.5">Since then</h2>
          {since.length === 0 ? <p className="text-ink2">Nothing has changed.</p> : <Sentences told={since} />}
          <Moved before={keptOf(project).at(-1)!.readings} after={readingsOf(gauges, { stale, measuring })} project={project} />
        </section>
      )}
      {seen && <Overlaid project={project} {...seen} close={() => setSeen(null)} />}
      {wanted !== '' && shown.length === 0 && <p className="text-ink2">Nothing in the log says “{sought}”.</p>}
      <GivenUp project={project} wanted={wanted} />
      <Measured project={project} wanted={wanted} />
      <ol>
        {shown.map((entry, i) => {
          const day = dayOf(entry.at);
          const first = i === 0 || dayOf(shown[i - 1]!.at) !== day;
          const heading = first && <h2 className="heading mt-3 border-b border-line pb-0.5">{day}</h2>;
          if ('note' in entry)
            return (
              <li key={entry.note.id} data-testid={`note-${entry.note.id}`}>
                {heading}
                <Note note={entry.note} />
              </li>
            );
          const { kept: k, told, before } = entry.kept;
          return (
            <li key={k.id} data-testid={`kept-${k.id}`}>
              {heading}
              <div className="grid grid-cols-[64px_minmax(0,1fr)_auto] gap-x-3 border-b border-line py-1.5">
                <span className="font-mono text-ink2">{timeOf(k.at)}</span>
                <div className="min-w-0">
                  <ValueField
                    label={`Name of the state of ${timeOf(k.at)}`}
                    value={k.name}
                    placeholder={BY[k.by]}
                    minChars={14}
                    className="font-sans! font-medium"
                    check={atMost(MOST_WORDS)}
                    onCommit={(t) => renameState(k.id, t)}
                  />
                  {k.name !== '' && <span className="ml-1 text-[12px] text-ink2">{BY[k.by]}</span>}
                  {before === null ? <p className="text-[12px] text-ink2">the first that was kept</p> : <Sentences told={told} />}
                  <Moved before={before?.readings ?? null} after={k.readings} project={project} />
                </div>
                <span className="whitespace-nowrap">
                  <button
                    type="button"
                    className="link"
                    onClick={() => {
                      const r = restored(project, k.id);
                      if (r.ok) setSeen({ id: k.id, called: k.name || `${BY[k.by]}, ${timeOf(k.at)}`, sheet: r.value });
                      else toast.error('It can’t be shown', { description: r.error });
                    }}
                  >
                    see
                  </button>{' '}
                  <button
                    type="button"
                    className="link"
                    onClick={() => {
                      const r = goBackTo(k.id, gauges);
                      if (!r.ok) toast.error('It can’t go back to that', { description: r.error });
                      else
                        toast.success('The sheet is as it was then', {
                          description: 'What it was before is kept, and Undo brings it back.',
                        });
                    }}
                  >
                    go back to it
                  </button>{' '}
                  <button
                    type="button"
                    className="text-ink3 hover:text-madder"
                    aria-label={`Forget the state of ${timeOf(k.at)}`}
                    onClick={() => forgetState(k.id)}
                  >
                    ×
                  </button>
                </span>
              </div>
            </li>
          );
        })}
      </ol>
    </main>
  );
}

type Entry =
  | { readonly at: string; readonly note: LogNote }
  | {
      readonly at: string;
      readonly kept: { readonly kept: KeptState; readonly told: readonly string[]; readonly before: KeptState | null };
    };

/** A note, which is written over where it stands; without words it goes. */
function Note({ note }: { note: LogNote }) {
  const [text, setText] = useState<string | null>(null);
  const left = useRef(false);
  const called = `Note of ${timeOf(note.at)}`;
  return (
    <div className="grid grid-cols-[64px_minmax(0,1fr)_auto] gap-x-3 border-b border-line py-1.5">
      <span className="font-mono text-ink2">{timeOf(note.at)}</span>
      {text === null ? (
        <button
          type="button"
          className="max-w-[80ch] whitespace-pre-wrap text-left hover:text-teal"
          title="write over it"
          onClick={() => setText(note.text)}
        >
          {note.text}
        </button>
      ) : (
        <textarea
          autoFocus
          className="field max-w-[80ch]"
          aria-label={called}
          maxLength={MOST_LETTERS}
          rows={Math.min(8, text.split('\n').length + 1)}
          value={text}
          onChange={(e) => setText(e.target.value)}
          onBlur={() => {
            if (!left.current) aside((p) => changedNote(p, note.id, text));
            setText(null);
          }}
          onKeyDown={(e) => {
            // Backed out of: what leaving it would take over stays as it was.
            left.current = e.key === 'Escape';
            if (left.current) e.currentTarget.blur();
            if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) e.currentTarget.blur();
          }}
        />
      )}
      <button
        type="button"
        className="text-ink3 hover:text-madder"
        aria-label={`Forget the ${called.toLowerCase()}`}
        onClick={() => aside((p) => changedNote(p, note.id, ''))}
      >
        ×
      </button>
    </div>
  );
}

/** Steps that were taken away after they had failed, the last first. */
function GivenUp({ project, wanted }: { project: Project; wanted: string }) {
  const all = (project.givenUp ?? []).filter(
    (g) => wanted === '' || [g.step, ...g.tries.flatMap((t) => [t.with, t.why])].some((w) => w.toLowerCase().includes(wanted)),
  );
  if (all.length === 0) return null;
  return (
    <section aria-label="Given up" className="mb-4">
      <h2 className="heading border-b border-line pb-0.5">Given up</h2>
      <ul>
        {all.toReversed().map((g) => (
          <li key={`${g.at} ${g.step}`} className="border-b border-line py-1 text-[13px]">
            {g.step}{' '}
            <span className="text-[12px] text-ink2">
              {dayOf(g.at)}, {timeOf(g.at)}
            </span>
            <ul className="text-[12px]">
              {g.tries.map((t) => (
                <li key={`${t.with} ${t.why}`}>
                  <span className="text-madder">■</span> {t.with && <b className="font-medium">{t.with}: </b>}
                  {wordsIn(t.why, project.units)}
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Batches that were made and measured, the last first. */
function Measured({ project, wanted }: { project: Project; wanted: string }) {
  const made = project.made;
  const { scope } = tableOfSheet(project);
  const all = (made?.batches ?? []).filter(
    (b) => wanted === '' || [b.name, ...b.pieces.map((p) => p.name)].some((w) => w.toLowerCase().includes(wanted)),
  );
  if (!made || all.length === 0) return null;
  return (
    <section aria-label="Made and measured" className="mb-4">
      <h2 className="heading border-b border-line pb-0.5">Made and measured</h2>
      <ul>
        {all
          .toSorted((a, b) => b.at.localeCompare(a.at))
          .map((b) => (
            <li key={b.id} className="border-b border-line py-1 text-[13px]">
              <Link className="link" to={`../made?batch=${b.id}`}>
                {b.name || `batch ${made.batches.indexOf(b) + 1}`}
              </Link>{' '}
              <span className="text-[12px] text-ink2">{dayOf(b.at)}</span> {batchWords(b, rowsOf(project, made, b, new Map(), scope))}
            </li>
          ))}
      </ul>
    </section>
  );
}

function Sentences({ told }: { told: readonly string[] }) {
  const [all, setAll] = useState(false);
  if (told.length === 0) return <p className="text-[12px] text-ink2">nothing changed</p>;
  return (
    <ul className="text-[13px]">
      {(all ? told : told.slice(0, FEW)).map((w) => (
        <li key={w}>{w}</li>
      ))}
      {told.length > FEW && (
        <li>
          <button type="button" className="link text-[12px]" onClick={() => setAll(!all)}>
            {all ? 'fewer' : `and ${told.length - FEW} more`}
          </button>
        </li>
      )}
    </ul>
  );
}

/** Gauges that read otherwise than before; all of them where there is no before. */
function Moved({
  before,
  after,
  project,
}: {
  before: Readonly<Record<string, number>> | null;
  after: Readonly<Record<string, number>>;
  project: Project;
}) {
  const rows = Object.entries(after).flatMap(([id, value]) => {
    const gauge = gaugeById(id);
    if (!gauge || gauge.unit === 'yes/no') return [];
    const earlier = before?.[id];
    const was = earlier === undefined ? null : readingWords(earlier, gauge, project.units);
    const is = readingWords(value, gauge, project.units);
    return was === is ? [] : [`${gauge.label} ${was === null ? is : `${was} → ${is}`}`];
  });
  return rows.length === 0 ? null : <p className="font-mono text-[11px] text-ink2">{rows.join(' · ')}</p>;
}

function tableOf(project: Project, rows: ReturnType<typeof history>): string {
  const gauges = [...new Set(rows.flatMap((r) => Object.keys(r.kept.readings)))];
  return csvOf(
    ['when', 'name', 'kept', 'what changed', ...gauges.map((g) => gaugeById(g)?.label ?? g)],
    [
      ...rows.map(({ kept: k, told }) => [
        k.at,
        k.name,
        BY[k.by],
        told.join('; '),
        ...gauges.map((g) => {
          const gauge = gaugeById(g);
          const v = k.readings[g];
          return v === undefined || !gauge ? '' : showReading(v, gauge.unit, gauge.digits, project.units).text;
        }),
      ]),
      ...notesOf(project).map((n) => [n.at, n.text, 'note', '', ...gauges.map(() => '')]),
    ].sort((a, b) => a[0]!.localeCompare(b[0]!)),
  );
}
