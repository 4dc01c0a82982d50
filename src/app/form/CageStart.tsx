import { useState } from 'react';
import { evaluateAs } from '../../core/dimensions/expression';
import { partnersOf, type Symmetry, symmetryWords } from '../../core/form/edit/symmetry';
import { START_SHAPES, type StartField, startProblem } from '../../core/form/start-shapes';
import type { Project } from '../../core/recipe/schema';
import { fail, type Result } from '../../core/result';
import { tableOf } from '../state/project';
import { type cageStep, letGo, setShaping, writeCage } from '../state/shaping';
import { ValueField } from '../ui/ValueField';

/** A cage begun anew from a simple shape, by its sizes and how many quads it has; undo brings the old one back. */
export function CageStart({
  project,
  found,
  symmetry,
}: {
  project: Project;
  found: NonNullable<ReturnType<typeof cageStep>>;
  symmetry: Symmetry;
}) {
  const [key, setKey] = useState('box');
  const [texts, setTexts] = useState<Readonly<Record<string, string>>>({});
  const shape = START_SHAPES.find((s) => s.key === key)!;
  const { scope } = tableOf(project);
  const textOf = (f: StartField): string => texts[`${key}.${f.key}`] ?? f.start;
  const check =
    (f: StartField) =>
    (t: string): Result<number, string> => {
      const r = evaluateAs(t, f.of, scope);
      const problem = r.ok ? startProblem(f, r.value) : null;
      return problem ? fail(problem) : r;
    };
  const begin = (): void => {
    const values: Record<string, number> = {};
    for (const f of shape.fields) {
      const r = check(f)(textOf(f));
      if (!r.ok) return setShaping({ refusal: `${f.label}: ${r.error}`, note: null });
      values[f.key] = r.value;
    }
    const cage = shape.make(values);
    // What is kept alike stays so, where the new cage is.
    const stays = partnersOf(cage, symmetry).ok;
    writeCage(
      found,
      { ...cage, creases: [], corners: [] },
      stays ? symmetry.fold : 1,
      stays ? { mirror: found.source.mirror, fold: found.source.fold } : { mirror: [], fold: '1' },
    );
    letGo();
    if (!stays) setShaping({ note: `It is not ${symmetryWords(symmetry)}: nothing is kept alike now.` });
  };
  return (
    <details className="mt-1">
      <summary className="cursor-pointer text-ink2">Start over from a simple shape</summary>
      <div className="flex flex-wrap items-center gap-x-2 gap-y-0.5 pt-1" role="group" aria-label="Start over">
        <select className="chip" aria-label="Shape to start from" value={key} onChange={(e) => setKey(e.target.value)}>
          {START_SHAPES.map((s) => (
            <option key={s.key} value={s.key}>
              {s.words}
            </option>
          ))}
        </select>
        {shape.fields.map((f) => (
          <span key={f.key} className="flex items-center gap-1 whitespace-nowrap">
            {f.label}
            <ValueField
              label={f.label}
              value={textOf(f)}
              check={check(f)}
              onCommit={(t) => setTexts({ ...texts, [`${key}.${f.key}`]: t })}
              minChars={2}
            />
          </span>
        ))}
        <button type="button" className="btn py-0!" onClick={begin}>
          Start over
        </button>
      </div>
    </details>
  );
}
