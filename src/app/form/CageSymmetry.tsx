import { useState } from 'react';
import { evaluateAs } from '../../core/dimensions/expression';
import type { CageOf } from '../../core/form/cage';
import { type Axis, aloneIn, MOST_FOLD, mirrored, partnersOf, type Symmetry, snapped, symmetryWords } from '../../core/form/edit/symmetry';
import type { CageSource } from '../../core/form/read';
import { distance } from '../../core/geometry/vectors';
import { setStep } from '../../core/recipe/edit';
import type { Project } from '../../core/recipe/schema';
import { fail, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
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

/** How far vertices went to be each other's images; null where they were. */
function moveWords(before: CageOf<string>, after: CageOf<string>): string | null {
  const off = before.vertices.map((p, v) => distance(p, after.vertices[v]!));
  const moved = off.filter((d) => d > 1e-6).length;
  return moved === 0 ? null : `${moved} ${moved === 1 ? 'vertex' : 'vertices'} moved by up to ${fixed(Math.max(...off), 3)} mm`;
}

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
  /** A symmetry the cage has only in part: how it may be had. */
  const [asked, setAsked] = useState<{ next: Symmetry; more: Partial<CageSource>; axis: Axis | null } | null>(null);
  const { source } = found;
  const { texts, symmetry } = read;
  /** Keeps a symmetry from now on where the cage has it, nearly or exactly. */
  const keep = (next: Symmetry, more: Parameters<typeof writeCage>[3]): boolean => {
    const partners = partnersOf(texts, next, NEARLY);
    if (!partners.ok) {
      const parts = partnersOf(texts, { ...next, partly: true }, NEARLY);
      const alone = parts.ok ? aloneIn(parts.value) : [];
      setShaping({
        refusal: `It is not: ${partners.error.what}.`,
        note: null,
        // What stands in the way is shown where it is.
        ...(alone.length > 0
          ? {
              picked: { kind: 'vertices', vertices: alone },
              kind: 'vertices',
              refusal: `It is not ${symmetryWords(next)}: ${alone.length} of ${texts.vertices.length} vertices have no partners; they are picked.`,
            }
          : {}),
      });
      return false;
    }
    const exact = snapped(texts, partners.value);
    writeCage(found, exact, next.fold, { partly: next.partly, ...more });
    setAsked(null);
    setShaping({ refusal: null, note: moveWords(texts, exact) });
    return true;
  };
  const parts = symmetry.partly && partnersOf(texts, symmetry);
  const standing = parts?.ok ? aloneIn(parts.value) : [];
  const mirror = (axis: Axis, on: boolean): void => {
    const next = on ? [...source.mirror, axis] : source.mirror.filter((m) => m !== axis);
    setAsked(null);
    if (!on) {
      const none = next.length === 0 && symmetry.fold === 1;
      const rest: Partial<CageSource> = none ? { mirror: next, partly: undefined } : { mirror: next };
      return change((p) => setStep(p, { ...found.step, inputs: { ...found.inputs, source: { ...source, ...rest } } }));
    }
    const wanted = { ...symmetry, mirror: next };
    if (!keep(wanted, { mirror: next })) setAsked({ next: wanted, more: { mirror: next }, axis });
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
    if (symmetry.fold > 1 && r.value > 1 && !symmetry.partly) {
      change((p) => setStep(p, { ...found.step, inputs: { ...found.inputs, source: { ...source, fold: text } } }));
      setShaping({ refusal: null });
      return;
    }
    const { partly: _, ...sure } = symmetry;
    const wanted: Symmetry = { ...(r.value === 1 && source.mirror.length === 0 ? sure : symmetry), fold: r.value };
    if (!keep(wanted, { fold: text })) setAsked({ next: wanted, more: { fold: text }, axis: null });
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
      {symmetry.partly && (
        <span className="text-ink2" data-testid="partly">
          where it is: {texts.vertices.length - standing.length} of {texts.vertices.length} vertices
        </span>
      )}
      {asked?.axis &&
        ([1, -1] as const).map((side) => (
          <button key={side} type="button" className="btn py-0!" onClick={() => fromHalf(asked.axis!, side)}>
            mirror {MIRRORS.find(([a]) => a === asked.axis)![side === 1 ? 2 : 3]}
          </button>
        ))}
      {asked && (
        <button type="button" className="btn py-0!" onClick={() => keep({ ...asked.next, partly: true }, asked.more)}>
          keep alike what is
        </button>
      )}
    </div>
  );
}
