import { ChartSpline, Plus, Trash2 } from 'lucide-react';
import { Fragment, useState } from 'react';
import { toast } from 'sonner';
import { evaluateDimensions } from '../../core/dimensions/dimensions';
import type { Quantity } from '../../core/dimensions/expression';
import { STANDARDS } from '../../core/dimensions/standards';
import { addDimension, removeDimension, renameDimension, setDimension, usesOf } from '../../core/recipe/edit';
import { isPlain } from '../../core/recipe/held';
import type { Project } from '../../core/recipe/schema';
import { fail, ok, type Result } from '../../core/result';
import { degrees, fixed, formatInchFraction, formatLength } from '../../core/units/units';
import { useJudged } from '../state/judged';
import { lookAt } from '../state/moving';
import { change, otherUnits, tableOf } from '../state/project';
import { ValueField } from '../ui/ValueField';

function show(r: Result<Quantity> | undefined, units: 'mm' | 'in'): string {
  if (!r?.ok) return '?';
  const q = r.value;
  if (q.length === 1 && q.angle === 0) return formatLength(q.value, units);
  if (q.length === 0 && q.angle === 1) return `${fixed(degrees(q.value), 2)}°`;
  return fixed(q.value, 3);
}

/** The same length in the other system, for the tooltip: `≈ 3 1/4 in`. */
const otherUnit = (r: Result<Quantity> | undefined, units: 'mm' | 'in'): string | undefined =>
  r?.ok && r.value.length === 1 && r.value.angle === 0
    ? units === 'mm'
      ? `≈ ${formatInchFraction(r.value.value)}`
      : formatLength(r.value.value)
    : undefined;

/** A longer expression stands beneath its name, in characters. */
const FITS = 14;

/** The project's named dimensions: name, expression as typed, value. */
export function Dimensions({ project }: { project: Project }) {
  const [adding, setAdding] = useState(false);
  const table = tableOf(project);
  const judged = useJudged(project);
  const check = (name: string) => (text: string) =>
    evaluateDimensions(project.dimensions.map((d) => (d.name === name ? { name, expr: text } : d))).values.get(name) ?? fail('?');

  const add = (name: string, expr: string): void => {
    const r = addDimension(project, name.trim(), expr.trim());
    if (!r.ok) return void toast.error(r.error);
    change(() => r.value);
    setAdding(false);
  };

  return (
    <section aria-label="Dimensions" className="border-b border-line px-3 pb-2 pt-2">
      <div className="mb-1 flex items-center">
        <h2 className="heading">Dimensions</h2>
        <button
          type="button"
          className="ml-auto text-ink2 hover:text-teal"
          onClick={otherUnits}
          title="Units values are shown in; typed values keep their own"
        >
          shown in {project.units}
        </button>
        <button type="button" className="ml-2 inline-flex items-center text-ink2 hover:text-teal" onClick={() => setAdding(true)}>
          <Plus size={13} aria-hidden /> add
        </button>
      </div>
      <table className="w-full table-fixed">
        <tbody>
          {project.dimensions.map((d) => {
            const value = table.values.get(d.name);
            const typed = (
              <>
                <ValueField
                  label={d.name}
                  value={d.expr}
                  minChars={6}
                  invalid={value?.ok === false}
                  check={check(d.name)}
                  onCommit={(t) => change((p) => setDimension(p, d.name, t))}
                />
                {value && !value.ok && <div className="text-[12px] text-madder">■ {value.error}</div>}
              </>
            );
            const beneath = d.expr.length > FITS;
            return (
              <Fragment key={d.name}>
                <tr className="group align-top">
                  <td className="w-[32%] overflow-hidden py-[1px]">
                    <ValueField
                      label={`Name of ${d.name}`}
                      value={d.name}
                      className="border-transparent! font-sans!"
                      check={(t) => {
                        const r = renameDimension(project, d.name, t.trim());
                        return r.ok ? ok(true) : r;
                      }}
                      onCommit={(t) => {
                        const r = renameDimension(project, d.name, t);
                        if (r.ok) change(() => r.value);
                      }}
                    />
                  </td>
                  <td className="py-[1px] pr-1 [&_input]:max-w-full" title={d.expr}>
                    {!beneath && typed}
                  </td>
                  <td className="w-[25%] whitespace-nowrap py-[1px] text-right font-mono text-ink3" title={otherUnit(value, project.units)}>
                    {show(value, project.units)}
                  </td>
                  <td className="w-9 whitespace-nowrap text-right">
                    {judged.measured && isPlain(d.expr) && (
                      <button
                        type="button"
                        aria-label={`What ${d.name} moves`}
                        title={`What ${d.name} moves: how far it goes, and the gauges over that`}
                        className="mr-1 text-ink3 opacity-0 hover:text-teal focus:opacity-100 group-hover:opacity-100"
                        onClick={() => void lookAt(d.name, project, judged.measured!.body)}
                      >
                        <ChartSpline size={12} />
                      </button>
                    )}
                    <button
                      type="button"
                      aria-label={`Remove ${d.name}`}
                      className="text-ink3 opacity-0 hover:text-madder focus:opacity-100 group-hover:opacity-100"
                      onClick={() => {
                        const uses = usesOf(project, d.name);
                        if (uses.length > 0)
                          toast.error(`${d.name} is used by ${uses.slice(0, 3).join(', ')}${uses.length > 3 ? ' …' : ''}`, {
                            description: 'Change those first, then remove it.',
                          });
                        else change((p) => removeDimension(p, d.name));
                      }}
                    >
                      <Trash2 size={12} />
                    </button>
                  </td>
                </tr>
                {beneath && (
                  <tr>
                    <td colSpan={4} className="pb-1 pl-3 [&_input]:max-w-full" title={d.expr}>
                      {typed}
                    </td>
                  </tr>
                )}
              </Fragment>
            );
          })}
        </tbody>
      </table>
      {adding && <NewDimension onAdd={add} onCancel={() => setAdding(false)} />}
    </section>
  );
}

/** What the list of standard sizes calls by its place in them; undefined while nothing is chosen. */
const standardOf = (key: string) => {
  const [kind, which] = key.split('|').map(Number) as [number, number];
  const of = key === '' ? undefined : STANDARDS[kind];
  return of && { of, size: of.sizes[which]! };
};

function NewDimension({ onAdd, onCancel }: { onAdd: (name: string, expr: string) => void; onCancel: () => void }) {
  const [name, setName] = useState('');
  const [expr, setExpr] = useState('');
  const [standard, setStandard] = useState('');
  const chosen = standardOf(standard);
  const take = (key: string): void => {
    setStandard(key);
    const taken = standardOf(key);
    if (!taken) return;
    setExpr(taken.size[1]);
    if (name === '') setName(taken.of.called);
  };
  return (
    <form
      className="mt-1 flex flex-wrap items-center gap-1"
      onSubmit={(e) => {
        e.preventDefault();
        if (name && expr) onAdd(name, expr);
      }}
      onKeyDown={(e) => e.key === 'Escape' && onCancel()}
    >
      <input
        className="field w-24"
        aria-label="New dimension’s name"
        placeholder="name"
        autoFocus
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      =
      <input
        className="field w-28 font-mono"
        aria-label="New dimension’s value"
        placeholder="3 1/4 in"
        value={expr}
        onChange={(e) => setExpr(e.target.value)}
      />
      <button type="submit" className="btn" disabled={!name || !expr}>
        Add
      </button>
      <select className="field w-full" aria-label="Size by standard" value={standard} onChange={(e) => take(e.target.value)}>
        <option value="">or a size by its trade’s name…</option>
        {STANDARDS.map((s, k) => (
          <optgroup key={s.name} label={s.name}>
            {s.sizes.map(([word], i) => (
              <option key={word} value={`${k}|${i}`}>
                {s.name} {word}
              </option>
            ))}
          </optgroup>
        ))}
      </select>
      {chosen && (
        <p className="w-full text-[12px] text-ink2">
          {chosen.of.name} {chosen.size[0]}: {chosen.of.measures} ({chosen.of.source})
        </p>
      )}
    </form>
  );
}
