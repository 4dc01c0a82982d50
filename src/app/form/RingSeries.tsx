import { useState } from 'react';
import { evaluateAs } from '../../core/dimensions/expression';
import { bentSeries, series, seriesAlong } from '../../core/form/rings';
import { withFollowed } from '../../core/profile/follow';
import { findOutline, outlinePolyline } from '../../core/profile/outline';
import { resolveProfile } from '../../core/profile/resolve';
import type { Project } from '../../core/recipe/schema';
import { fail, ok, type Result } from '../../core/result';
import { degrees } from '../../core/units/units';
import { useBench } from '../state/bench';
import { tableOf } from '../state/project';
import { ValueField } from '../ui/ValueField';
import { COLUMNS, type Column, type RingSource, readCell } from './RingTable';

/** How a column is written: by a step from ring to ring, by a bend over a middle value, or off a half profile. */
type Way = 'steps' | 'bend' | `profile ${string}`;

/** One column written from the first ring up as a series. */
export function RingSeries({ project, source, onApply }: { project: Project; source: RingSource; onApply: (s: RingSource) => void }) {
  const [column, setColumn] = useState<Column>('twist');
  const [way, setWay] = useState<Way>('steps');
  const [first, setFirst] = useState('40°');
  const [second, setSecond] = useState('-5°');
  const [last, setLast] = useState('0 mm');
  const count = column === 'twist' ? source.rows.length - 1 : source.rows.length;
  const unit = COLUMNS.find(([c]) => c === column)![1];
  const write = (v: number): string =>
    unit === 'angle' ? `${Number(degrees(v).toFixed(3))}°` : unit === 'length' ? `${Number(v.toFixed(3))} mm` : `${v}`;
  const { scope } = tableOf(project);
  const check = (t: string): Result<number, string> => evaluateAs(t, unit, scope);
  const halves = project.profiles.filter((p) => p.half);
  const places = useBench((s) => s.result?.profiles);

  const alongProfile = (id: string): Result<number[], string> => {
    const profile = halves.find((p) => p.id === id);
    if (!profile) return fail('the profile is not there');
    const resolved = resolveProfile(withFollowed(profile, places?.get(id)?.follows ?? undefined), scope);
    if (!resolved.ok) return fail(resolved.error.message);
    const outline = findOutline(resolved.value, profile.name);
    if (!outline.ok) return fail(outline.error.message);
    const heights: number[] = [];
    for (const r of source.rows) {
      const h = readCell('height', r.height, project);
      if (!h.ok) return h;
      heights.push(h.value);
    }
    return seriesAlong(
      outlinePolyline(outline.value, 0.01).map((p) => p.point),
      heights,
    );
  };
  const values = (): Result<number[], string> => {
    if (way.startsWith('profile ')) return alongProfile(way.slice('profile '.length));
    const [a, b, c] = [check(first), check(second), check(last)];
    if (!a.ok) return a;
    if (!b.ok) return b;
    if (way === 'steps') return ok(series(count, a.value, b.value));
    return c.ok ? ok(bentSeries(count, a.value, b.value, c.value)) : c;
  };
  const made = values();
  const begin = (c: Column, w: Way): void => {
    setColumn(c);
    setWay(w);
    const bend = w === 'bend';
    const rows = source.rows;
    if (c === 'twist') {
      setFirst(bend ? '30°' : '40°');
      setSecond(bend ? '20°' : '-5°');
      setLast('10°');
    } else if (c === 'crease') {
      setFirst('0');
      setSecond('0');
      setLast('0');
    } else {
      setFirst(rows[0]![c]);
      setSecond(bend ? rows[Math.floor(rows.length / 2)]![c] : c === 'height' ? '20 mm' : '0 mm');
      setLast(rows.at(-1)![c]);
    }
  };
  const steps = way === 'steps';
  return (
    <div className="flex flex-wrap items-center gap-2 border-t border-line py-1.5 text-[12px]" role="group" aria-label="Series">
      <label className="flex items-center gap-1">
        write
        <select
          className="chip"
          aria-label="Column of the series"
          value={column}
          onChange={(e) => {
            const c = e.target.value as Column;
            begin(c, c !== 'radius' && way.startsWith('profile ') ? 'steps' : way);
          }}
        >
          {COLUMNS.map(([c]) => (
            <option key={c}>{c}</option>
          ))}
        </select>
      </label>
      <select className="chip" aria-label="Way of the series" value={way} onChange={(e) => begin(column, e.target.value as Way)}>
        <option value="steps">in even steps</option>
        <option value="bend">over a middle value</option>
        {column === 'radius' &&
          halves.map((p) => (
            <option key={p.id} value={`profile ${p.id}`}>
              along {p.name}
            </option>
          ))}
      </select>
      {(steps || way === 'bend') && (
        <>
          from <ValueField label="first of the series" value={first} check={check} onCommit={setFirst} />
          {steps ? 'each' : 'over'}{' '}
          <ValueField label={steps ? 'step of the series' : 'middle of the series'} value={second} check={check} onCommit={setSecond} />
          {!steps && (
            <>
              to <ValueField label="last of the series" value={last} check={check} onCommit={setLast} />
            </>
          )}
        </>
      )}
      <button
        type="button"
        className="btn py-0!"
        disabled={!made.ok}
        onClick={() => {
          if (!made.ok) return;
          const from = source.rows.length - count;
          const next = source.rows.map((r, i) => (i < from ? r : { ...r, [column]: write(made.value[i - from]!) }));
          if (next.every((r) => readCell(column, r[column], project).ok)) onApply({ ...source, rows: next });
        }}
      >
        Write the series
      </button>
      {made.ok ? (
        <span className="text-ink2">
          up to {write(made.value.at(-1) ?? 0)}
          {column === 'twist' && `, ${write(made.value.reduce((s, v) => s + v, 0))} in all`}
        </span>
      ) : (
        <span role="alert" className="text-madder">
          ■ {made.error}
        </span>
      )}
    </div>
  );
}
