import { judgedBody, materialOf } from '../../core/brief/judge';
import { MATERIALS } from '../../core/brief/materials';
import type { Batch, Made } from '../../core/made/document';
import { changedBatch } from '../../core/made/edit';
import { paceOf } from '../../core/made/pace';
import { DRAWN_DOWN, sameWay } from '../../core/print/lie';
import { gramsOf, type Printer, secondsOf } from '../../core/print/printer';
import type { Project } from '../../core/recipe/schema';
import { fail, ok } from '../../core/result';
import { timeFrom, timeWords } from '../../core/units/time';
import { fixed } from '../../core/units/units';
import { useBench } from '../state/bench';
import { useLies } from '../state/built';
import { setPrinter, usePrinter } from '../state/printer';
import { ValueField } from '../ui/ValueField';
import { changeMade } from './useMade';

/** How long a piece took to print and what it used, against what was reckoned; the next ones are reckoned by it. */
export function Printing({ project, made, batch }: { project: Project; made: Made; batch: Batch }) {
  const { printer } = usePrinter();
  const now = useReckoned(project, printer);
  const reckoned = batch.reckoned ?? now;
  const put = (more: Partial<Batch>): void =>
    changeMade((m) => changedBatch(m, batch.id, (b) => ({ ...b, ...more, ...(b.reckoned || !now ? {} : { reckoned: now }) })));
  const grams = (t: string) => {
    const v = Number(t.replace(',', '.').replace(/\s*g$/, ''));
    return v > 0 && v <= 1e6 ? ok(v) : fail('grams, more than nothing');
  };
  const pace = paceOf(made.batches);
  const [time, material] = [pace.time ?? printer.pace, pace.material ?? printer.fill];
  const differs = Math.abs(time / printer.pace - 1) > 0.005 || Math.abs(material / printer.fill - 1) > 0.005;
  return (
    <section aria-label="Printing">
      <h2 className="heading mb-1">A piece of it</h2>
      <p className="flex items-baseline justify-between text-[13px]">
        took
        <ValueField
          label="A piece took"
          value={batch.took === undefined ? '' : timeWords(batch.took)}
          placeholder="2 h 10"
          minChars={7}
          check={(t) => (t.trim() === '' ? ok(0) : timeFrom(t))}
          onCommit={(t) => {
            const r = timeFrom(t);
            put({ took: r.ok ? r.value : undefined });
          }}
        />
        <span className="text-ink2">{reckoned ? `reckoned ${timeWords(reckoned.seconds)}` : ''}</span>
      </p>
      <p className="flex items-baseline justify-between text-[13px]">
        used
        <ValueField
          label="A piece used"
          value={batch.used === undefined ? '' : `${batch.used} g`}
          placeholder="38 g"
          minChars={7}
          check={(t) => (t.trim() === '' ? ok(0) : grams(t))}
          onCommit={(t) => {
            const r = grams(t);
            put({ used: r.ok ? r.value : undefined });
          }}
        />
        <span className="text-ink2">{reckoned && reckoned.grams > 0 ? `reckoned ${fixed(reckoned.grams, 0)} g` : ''}</span>
      </p>
      {differs && (
        <p className="mt-1 text-[12px]">
          Prints that were logged took {fixed(time, 2)} of the time that is reckoned plainly, and {fixed(material, 2)} of the material.{' '}
          <button type="button" className="link" onClick={() => setPrinter({ pace: time, fill: material })}>
            Reckon so from now on
          </button>
        </p>
      )}
      {(printer.pace !== 1 || printer.fill !== 1) && (
        <p className="mt-1 text-[12px] text-ink2">
          On Make time counts {fixed(printer.pace, 2)}-fold, material {fixed(printer.fill, 2)}-fold.{' '}
          <button type="button" className="link" onClick={() => setPrinter({ pace: 1, fill: 1 })}>
            Reckon plainly
          </button>
        </p>
      )}
    </section>
  );
}

/** What is reckoned for one piece as the model stands and lies, plainly; null while it is not known. */
function useReckoned(project: Project, printer: Printer): { readonly seconds: number; readonly grams: number } | null {
  const result = useBench((s) => s.result);
  const chosen = useBench((s) => s.gaugeBody);
  const body = judgedBody(project, result?.bodies ?? [], (b) => b.id, chosen);
  const ways = useLies(body?.id ?? null, printer);
  if (!body || !ways.data?.ok) return null;
  const down = project.bodies[body.id]?.lie?.down ?? DRAWN_DOWN;
  const way = ways.data.value.find((l) => sameWay(l.down, down)) ?? ways.data.value[0];
  if (!way) return null;
  const density = MATERIALS[materialOf(project, body.id)]?.density ?? 0;
  const plain = { ...printer, pace: 1, fill: 1 };
  const solid = body.volume ?? 0;
  return { seconds: secondsOf(plain, solid, way.support, way.layers), grams: gramsOf(plain, solid, way.support, density) };
}
