import { evaluateAs } from '../../core/dimensions/expression';
import type { Batch, Made, Place, Side } from '../../core/made/document';
import {
  changedBatch,
  changedPiece,
  changedPlace,
  MOST_PIECES,
  withoutPiece,
  withoutPlace,
  withPiece,
  withReadings,
} from '../../core/made/edit';
import { quantityOf, readingsFrom, readingsText, shownOf, toleranceFrom } from '../../core/made/places';
import type { Held } from '../../core/made/statistics';
import type { PlaceRow } from '../../core/made/table';
import type { Project } from '../../core/recipe/schema';
import { fail, ok } from '../../core/result';
import { fixed, scaleIn } from '../../core/units/units';
import { showMark } from '../state/bench';
import { tableOf } from '../state/project';
import { atMost } from '../ui/letters';
import { ValueField } from '../ui/ValueField';
import { changeMade, type MadeModel } from './useMade';
import { WAY_WORDS } from './words';

const SIDE_WORDS: Readonly<Record<Side, string>> = { outer: 'over material', inner: 'over room', neither: 'neither' };
const HELD: Readonly<Record<Held, { readonly mark: string; readonly tone: string; readonly words: string }>> = {
  within: { mark: '●', tone: '', words: 'within its limits' },
  unsure: { mark: '▲', tone: 'text-amber', words: 'nearer to a limit than the device can tell' },
  beyond: { mark: '■', tone: 'text-madder', words: 'beyond its limits' },
};

/** Places along the side, pieces along the top; what they read, and what that says. */
export function ReadingsTable({
  project,
  made,
  batch,
  rows,
  known,
}: {
  project: Project;
  made: Made;
  batch: Batch | null;
  rows: readonly PlaceRow[];
  known: MadeModel;
}) {
  const pieces = batch?.pieces ?? [];
  const put = (edit: (b: Batch) => Batch): void => {
    if (batch) changeMade((m) => changedBatch(m, batch.id, edit));
  };
  return (
    <div className="overflow-x-auto pb-2">
      <table className="border border-line2 bg-panel" data-testid="made">
        <thead>
          <tr className="heading border-b border-line text-left">
            <th className="sticky left-0 z-10 bg-panel px-3 py-1.5">Place</th>
            <th className="px-2">Should be</th>
            <th className="px-2">Limits</th>
            <th className="px-2 text-right">Mean</th>
            <th className="px-2 text-right">Off</th>
            <th className="px-2 text-right" title="standard deviation from piece to piece">
              Spread
            </th>
            <th
              className="px-2 text-right"
              title="room from the mean to the nearer limit in three spreads; from 1.33 on is usually called capable"
            >
              Cpk
            </th>
            {pieces.map((p) => (
              <th key={p.id} className="whitespace-nowrap px-2 font-normal">
                <ValueField
                  label={`Name of piece ${p.name}`}
                  value={p.name}
                  minChars={2}
                  check={atMost(120)}
                  onCommit={(name) => put((b) => changedPiece(b, p.id, { name }))}
                />
                <button
                  type="button"
                  className="text-ink3 hover:text-madder"
                  aria-label={`Take piece ${p.name} away`}
                  onClick={() => put((b) => withoutPiece(b, p.id))}
                >
                  ×
                </button>
              </th>
            ))}
            {batch && (
              <th className="px-1">
                <button
                  type="button"
                  className="btn whitespace-nowrap py-0!"
                  disabled={pieces.length >= MOST_PIECES}
                  onClick={() => put(withPiece)}
                >
                  + piece
                </button>
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <Row key={row.place.id} project={project} batch={batch} row={row} known={known} put={put} made={made} />
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Row({
  project,
  made,
  batch,
  row,
  known,
  put,
}: {
  project: Project;
  made: Made;
  batch: Batch | null;
  row: PlaceRow;
  known: MadeModel;
  put: (edit: (b: Batch) => Batch) => void;
}) {
  const { place, quantity, nominal, limits, summary } = row;
  const { scope } = tableOf(project);
  const { unit } = scaleIn(quantity, project.units);
  const show = (v: number | null | undefined, more = 0): string =>
    v === null || v === undefined ? '' : shownOf(v, quantity, project, more);
  const off = summary && nominal !== null ? summary.mean - nominal : null;
  const held = summary ? HELD[worstOf([...row.pieces.values()].map((p) => p.held))] : null;
  return (
    <tr className="border-b border-line align-top" data-testid={`place-${place.id}`}>
      <td className="sticky left-0 z-10 min-w-52 bg-panel px-3 py-1">
        <ValueField
          label={`Name of ${place.name}`}
          value={place.name}
          minChars={12}
          className="font-sans! font-medium"
          check={atMost(120)}
          onCommit={(name) => changeMade((m) => changedPlace(m, place.id, { name }))}
        />
        <span className="ml-1 whitespace-nowrap text-[12px]">
          {atOf(place, known) && (
            <button type="button" className="link" onClick={() => showMark([...atOf(place, known)!], place.name)}>
              show
            </button>
          )}{' '}
          <button
            type="button"
            className="text-ink3 hover:text-madder"
            aria-label={`Measure ${place.name} no more`}
            onClick={() => changeMade((m) => withoutPlace(m, place.id))}
          >
            ×
          </button>
        </span>
        {quantity === 'mm' && <Goes place={place} />}
        <Note row={row} known={known} />
      </td>
      <td className="whitespace-nowrap px-2 py-1 font-mono">
        {place.of.kind === 'typed' ? (
          <ValueField
            label={`What ${place.name} should be`}
            value={place.of.value}
            check={(t) => evaluateAs(t, 'length', scope)}
            onCommit={(value) => changeMade((m) => changedPlace(m, place.id, { of: { kind: 'typed', value } }))}
          />
        ) : nominal === null ? (
          <span className="font-sans text-[12px] text-ink2">{known.missing.get(place.id) ?? '…'}</span>
        ) : (
          <>
            {show(nominal)} <span className="text-ink2">{unit}</span>
          </>
        )}
        {row.now !== null && batch && (
          <p className="font-sans text-[12px] text-amber">
            ▲ {show(row.now)} on the model now{' '}
            <button
              type="button"
              className="link"
              title="take what the model says now as what it should have been"
              onClick={() => put((b) => ({ ...b, nominal: { ...b.nominal, [place.id]: row.now! } }))}
            >
              take that
            </button>
          </p>
        )}
      </td>
      <td className="whitespace-nowrap px-2 py-1">
        <Tolerance project={project} place={place} />
        {limits.from && limits.from !== 'its own' && (
          <p className="text-[11px] text-ink2">
            {limits.low !== null && limits.high !== null && nominal !== null && Math.abs(limits.high + limits.low - 2 * nominal) < 1e-9
              ? `± ${show(limits.high - nominal)}`
              : [limits.low === null ? '' : `≥ ${show(limits.low)}`, limits.high === null ? '' : `≤ ${show(limits.high)}`]
                  .filter(Boolean)
                  .join(', ')}
            , {limits.from}
          </p>
        )}
      </td>
      <td
        className="whitespace-nowrap px-2 py-1 text-right font-mono"
        title={summary?.within ? `the mean of all lies within ± ${show(summary.within, 1)} of it, at 95 %` : ''}
      >
        {show(summary?.mean, 1)}
      </td>
      <td className={`whitespace-nowrap px-2 py-1 text-right font-mono ${limits.from && held ? held.tone : ''}`}>
        {off === null ? '' : `${off > 0 ? '+' : ''}${show(off, 1)}`}
      </td>
      <td
        className="whitespace-nowrap px-2 py-1 text-right font-mono"
        title={row.repeats === null ? '' : `readings of one piece differ by ${show(row.repeats, 1)}`}
      >
        {show(summary?.spread, 1)}
      </td>
      <td
        className="whitespace-nowrap px-2 py-1 text-right font-mono"
        title={
          row.capability
            ? `${row.capability.cp === null ? '' : `Cp ${fixed(row.capability.cp, 2)}; `}at least ${fixed(row.capability.cpkAtLeast, 2)} at 95 %; ${fixed(100 * row.capability.outside, 2)} % would lie outside`
            : ''
        }
      >
        {row.capability ? fixed(row.capability.cpk, 2) : ''}
      </td>
      {(batch?.pieces ?? []).map((p) => {
        const read = row.pieces.get(p.id);
        const mark = read && limits.from ? HELD[read.held] : null;
        return (
          <td key={p.id} className="whitespace-nowrap px-2 py-1">
            <ValueField
              label={`${place.name}, piece ${p.name}`}
              value={readingsText(p.readings[place.id] ?? [], quantity, project)}
              minChars={6}
              check={(t) => readingsFrom(t, quantity, project, scope)}
              onCommit={(t) => {
                const r = readingsFrom(t, quantity, project, scope);
                if (r.ok) put((b) => withReadings(b, p.id, place.id, r.value, known.present.get(place.id) ?? null));
              }}
            />
            {mark && (
              <span className={mark.tone} title={`${mark.words} (± ${made.devices[quantity].off} by the ${made.devices[quantity].name})`}>
                <span aria-hidden="true">{mark.mark}</span>
                <span className="sr-only">{mark.words}</span>
              </span>
            )}
          </td>
        );
      })}
      {batch && <td />}
    </tr>
  );
}

const worstOf = (all: readonly Held[]): Held => (all.includes('beyond') ? 'beyond' : all.includes('unsure') ? 'unsure' : 'within');

/** Where on the body it is measured; null where it is nowhere by itself. */
function atOf({ of }: Place, known: MadeModel): readonly [number, number, number] | null {
  const read = of.kind === 'measure' ? known.model.measured(of.measure) : undefined;
  return read && !('why' in read) ? (read.distance?.from ?? read.a.at) : null;
}

/** Which way a length goes and what lies between its ends: from these, shrinkage by axis is told from skins that stand proud. */
function Goes({ place }: { place: Place }) {
  const select = <T extends string>(label: string, value: T, words: Readonly<Record<T, string>>, put: (v: T) => void) => (
    <select
      className="border-b border-dashed border-line2 bg-transparent text-[11px] text-ink2 hover:border-teal"
      aria-label={label}
      value={value}
      onChange={(e) => put(e.target.value as T)}
    >
      {(Object.keys(words) as T[]).map((k) => (
        <option key={k} value={k}>
          {words[k]}
        </option>
      ))}
    </select>
  );
  return (
    <p className="flex gap-2">
      {select('Which way it goes', place.way, WAY_WORDS, (way) => changeMade((m) => changedPlace(m, place.id, { way })))}
      {select('What lies between its ends', place.side, SIDE_WORDS, (side) => changeMade((m) => changedPlace(m, place.id, { side })))}
    </p>
  );
}

/** How far off it may be: one figure, or upwards and downwards. */
function Tolerance({ project, place }: { project: Project; place: Place }) {
  const { scope } = tableOf(project);
  const quantity = quantityOf(place);
  const check = (t: string) => (t.trim() === '' ? ok(0) : readBoth(t));
  const readBoth = (t: string) => {
    const parts = t.split('/').map((part) => toleranceFrom(part, quantity, project, scope));
    const wrong = parts.find((p) => !p.ok);
    return parts.length > 2 ? fail('one figure, or over / under') : (wrong ?? ok(0));
  };
  return (
    <ValueField
      label={`How far ${place.name} may be off`}
      value={place.over === undefined ? '' : `${place.over}${place.under === undefined ? '' : ` / ${place.under}`}`}
      placeholder="± …"
      minChars={5}
      check={check}
      onCommit={(t) => {
        const [over, under] = t.split('/').map((part) => part.trim().replace(/^[±+−-]\s*/, ''));
        changeMade((m) => changedPlace(m, place.id, { over: over || undefined, under: (over && under) || undefined }));
      }}
    />
  );
}

/** What a mass or a filling says beside its figure. */
function Note({ row, known }: { row: PlaceRow; known: MadeModel }) {
  const { place, summary, nominal } = row;
  if (!summary || nominal === null || place.of.kind !== 'gauge' || place.of.gauge !== 'mass') return null;
  const share = summary.mean / nominal;
  const density = densityOf(known);
  return (
    <p className="max-w-[34ch] text-[12px] text-ink2">
      {fixed(100 * share, 1)} % of the mass were it solid
      {density === null ? '' : `: ${fixed(share * density, 2)} g/cm³ for ${fixed(density, 2)}`}
      {share < 0.97 ? '. It has room inside, or is of another material.' : share > 1.03 ? '. It is heavier than the material says.' : ''}
    </p>
  );
}

/** Of the material as the model takes it, g/cm³. */
function densityOf(known: MadeModel): number | null {
  const [mass, volume] = [known.model.gauge('mass'), known.model.gauge('volume')];
  return mass !== null && volume ? mass / volume : null;
}
