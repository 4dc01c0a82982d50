import { evaluateAs } from '../../core/dimensions/expression';
import { twists } from '../../core/form/rings';
import type { Project } from '../../core/recipe/schema';
import type { FormSource, RingTexts } from '../../core/recipe/steps';
import { fail, ok, type Result } from '../../core/result';
import { degrees, fixed } from '../../core/units/units';
import { tableOf } from '../state/project';
import { ValueField } from '../ui/ValueField';

export type RingSource = Extract<FormSource, { by: 'rings' }>;

export const COLUMNS = [
  ['height', 'length', 'height'],
  ['radius', 'length', 'radius'],
  ['twist', 'angle', 'twist'],
  ['crease', 'number', 'crease'],
] as const;
export type Column = (typeof COLUMNS)[number][0];

/** Reads a cell; what a column may hold is checked here, what rings may be among each other by the form itself. */
export function readCell(column: Column, text: string, project: Project): Result<number, string> {
  const kind = COLUMNS.find(([c]) => c === column)![1];
  const r = evaluateAs(text, kind, tableOf(project).scope);
  if (!r.ok) return r;
  if (column === 'radius' && !(r.value > 0)) return fail('a radius is more than 0');
  if (column === 'crease' && r.value < 0) return fail('a crease is 0 or more');
  return ok(r.value);
}

/** The rings as a table, the topmost first as they stand. */
export function RingTable({ project, source, onChange }: { project: Project; source: RingSource; onChange: (s: RingSource) => void }) {
  const { rows } = source;
  const set = (i: number, column: Column, value: string): void =>
    onChange({ ...source, rows: rows.map((r, k) => (k === i ? { ...r, [column]: value } : r)) });
  const number = (r: RingTexts, c: Column): number => {
    const v = readCell(c, r[c], project);
    return v.ok ? v.value : 0;
  };
  const turned = twists(rows.map((r) => ({ height: 0, radius: 1, twist: number(r, 'twist'), crease: 0 })));
  const between = (i: number): void => {
    const [a, b] = [rows[i]!, rows[i + 1]!];
    const half = (c: 'height' | 'radius'): string => `${Number(((number(a, c) + number(b, c)) / 2).toFixed(3))} mm`;
    const twist = `${Number((degrees(number(b, 'twist')) / 2).toFixed(3))}°`;
    onChange({
      ...source,
      rows: [
        ...rows.slice(0, i + 1),
        { height: half('height'), radius: half('radius'), twist, crease: '0' },
        { ...b, twist },
        ...rows.slice(i + 2),
      ],
    });
  };
  return (
    <table className="w-full text-[12px]" aria-label="Rings">
      <thead>
        <tr className="border-b border-line2 text-left text-ink2">
          <th className="pr-2 font-normal">ring</th>
          {COLUMNS.map(([c, , words]) => (
            <th key={c} className="pr-2 font-normal">
              {words}
            </th>
          ))}
          <th className="pr-2 text-right font-normal">turned</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {rows
          .map((r, i) => ({ r, i }))
          .toReversed()
          .map(({ r, i }) => (
            <tr key={i} className="border-b border-line">
              <td className="pr-2 font-mono">{i + 1}</td>
              {COLUMNS.map(([c]) => (
                <td key={c} className="pr-2">
                  {i === 0 && c === 'twist' ? (
                    <span className="text-ink2">–</span>
                  ) : (
                    <ValueField
                      label={`${c} of ring ${i + 1}`}
                      value={r[c]}
                      check={(t) => readCell(c, t, project)}
                      onCommit={(t) => set(i, c, t)}
                      minChars={4}
                      className="max-w-[17ch] text-[11px]"
                    />
                  )}
                </td>
              ))}
              <td className="pr-2 text-right font-mono">{fixed(degrees(turned[i]!), 1)}°</td>
              <td className="whitespace-nowrap text-right">
                {i + 1 < rows.length && (
                  <button
                    type="button"
                    className="link px-1"
                    aria-label={`Put a ring over ring ${i + 1}`}
                    title="Put a ring over this one"
                    onClick={() => between(i)}
                  >
                    +
                  </button>
                )}
                {rows.length > 2 && (
                  <button
                    type="button"
                    className="link px-1"
                    aria-label={`Take ring ${i + 1} out`}
                    title="Take this ring out"
                    onClick={() => onChange({ ...source, rows: rows.filter((_, k) => k !== i) })}
                  >
                    ×
                  </button>
                )}
              </td>
            </tr>
          ))}
      </tbody>
    </table>
  );
}
