import { useState } from 'react';
import { evaluateAs } from '../../core/dimensions/expression';
import { type Axis, MOST_FOLD, mirrored, partnersOf, type Symmetry, snapped } from '../../core/form/edit/symmetry';
import { setStep } from '../../core/recipe/edit';
import type { Project } from '../../core/recipe/schema';
import { fail, type Result } from '../../core/result';
import { change, tableOf } from '../state/project';
import { type cageStep, type ReadCage, setShaping, writeCage } from '../state/shaping';
import { ValueField } from '../ui/ValueField';

const MIRRORS: readonly (readonly [Axis, string, string, string])[] = [
  ['x', 'left and right', 'the right half', 'the left half'],
  ['y', 'front and back', 'the back half', 'the front half'],
  ['z', 'above and below', 'the upper half', 'the lower half'],
];
/** What nearly is symmetric becomes so exactly: places off by less than this share of the size. */
const NEARLY = 0.01;

/** The symmetry a cage keeps; what it has not yet it can be given from one of its halves. */
export function CageSymmetry({
  project,
  found,
  read,
}: {
  project: Project;
  found: NonNullable<ReturnType<typeof cageStep>>;
  read: ReadCage;
}) {
  const [asked, setAsked] = useState<Axis | null>(null);
  const { source } = found;
  const { texts, symmetry } = read;
  /** Keeps a symmetry from now on where the cage has it, nearly or exactly. */
  const keep = (next: Symmetry, more: Parameters<typeof writeCage>[3]): boolean => {
    const partners = partnersOf(texts, next, NEARLY);
    if (!partners.ok) {
      setShaping({ refusal: `It is not: ${partners.error.what}.`, note: null });
      return false;
    }
    writeCage(found, snapped(texts, partners.value), next.fold, more);
    setShaping({ refusal: null, note: null });
    return true;
  };
  const mirror = (axis: Axis, on: boolean): void => {
    const next = on ? [...source.mirror, axis] : source.mirror.filter((m) => m !== axis);
    setAsked(null);
    if (!on) return change((p) => setStep(p, { ...found.step, inputs: { ...found.inputs, source: { ...source, mirror: next } } }));
    if (!keep({ ...symmetry, mirror: next }, { mirror: next })) setAsked(axis);
  };
  const fromHalf = (axis: Axis, side: 1 | -1): void => {
    const half = mirrored(texts, axis, side);
    if (!half.ok) return setShaping({ refusal: half.error });
    const next = [...source.mirror, axis];
    const partners = partnersOf(half.value, { ...symmetry, mirror: next });
    if (!partners.ok) return setShaping({ refusal: `With the symmetry it has it can’t be: ${partners.error.what}.` });
    writeCage(found, snapped(half.value, partners.value), symmetry.fold, { mirror: next });
    setAsked(null);
    setShaping({ refusal: null });
  };
  const check = (t: string): Result<number, string> => {
    const r = evaluateAs(t, 'number', tableOf(project).scope);
    return r.ok && !(Number.isInteger(r.value) && r.value >= 1 && r.value <= MOST_FOLD) ? fail(`a whole number, 1 to ${MOST_FOLD}`) : r;
  };
  const fold = (text: string): void => {
    const r = check(text);
    if (!r.ok) return;
    // What repeats already gets more or fewer sectors; what does not is looked at first.
    if (symmetry.fold > 1 && r.value > 1) {
      change((p) => setStep(p, { ...found.step, inputs: { ...found.inputs, source: { ...source, fold: text } } }));
      setShaping({ refusal: null });
    } else keep({ ...symmetry, fold: r.value }, { fold: text });
  };
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1" role="group" aria-label="Symmetry">
      <span className="text-ink2">kept alike</span>
      {MIRRORS.map(([axis, words]) => (
        <label key={axis} className="flex items-center gap-1">
          <input
            type="checkbox"
            className="accent-teal"
            checked={source.mirror.includes(axis)}
            onChange={(e) => mirror(axis, e.target.checked)}
          />
          {words}
        </label>
      ))}
      <span className="flex items-center gap-1">
        <ValueField label="times round the axis" value={source.fold} check={check} onCommit={fold} minChars={2} /> times round
      </span>
      {asked &&
        ([1, -1] as const).map((side) => (
          <button key={side} type="button" className="btn py-0!" onClick={() => fromHalf(asked, side)}>
            mirror {MIRRORS.find(([a]) => a === asked)![side === 1 ? 2 : 3]}
          </button>
        ))}
    </div>
  );
}
