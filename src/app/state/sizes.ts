/** Sizes that are worked out beside the bench, what came of each, and of which sheet. */
import { create } from 'zustand';
import { buildsAlike } from '../../core/recipe/matters';
import type { Project, Size } from '../../core/recipe/schema';
import { wordsOf } from '../../core/result';
import { sizesOf } from '../../core/sizes/sizes';
import type { SizeReport, SizeWriting } from '../../engine/sizes';
import { engine } from './bench';

interface Worked {
  readonly report: SizeReport;
  /** What it was worked out from. */
  readonly sheet: Project;
  readonly size: Size;
}
interface SizesState {
  readonly worked: ReadonlyMap<string, Worked>;
  /** Those that are being worked on or wait for it. */
  readonly waiting: ReadonlySet<string>;
  /** Why nothing more comes, where something broke. */
  readonly trouble: string | null;
}
const NOTHING: SizesState = { worked: new Map(), waiting: new Set(), trouble: null };
export const useSizes = create<SizesState>(() => NOTHING);

/** What is known of a size as the sheet stands now; undefined where it was not worked out, or something changed since. */
export function knownOf(worked: SizesState['worked'], sheet: Project, size: Size): SizeReport | undefined {
  const w = worked.get(size.id);
  return w &&
    buildsAlike(w.sheet, sheet) &&
    w.size.values.join('\n') === size.values.join('\n') &&
    sizesOf(w.sheet).dimensions.join('\n') === sizesOf(sheet).dimensions.join('\n')
    ? w.report
    : undefined;
}

/** Raised by every new table: one that was given up leaves the next one's marks alone. */
let run = 0;

/** Works sizes out, each shown as it is known. @returns what was written, in the order of the sizes; null where it was given up */
export async function workOut(sheet: Project, sizes: readonly Size[], writing: SizeWriting | null = null): Promise<SizeReport[] | null> {
  const mine = ++run;
  useSizes.setState({ waiting: new Set(sizes.map((s) => s.id)), trouble: null });
  const came = new Map<string, SizeReport>();
  try {
    const over = await engine.sizes(sheet, sizes, writing, (report) => {
      came.set(report.size, report);
      const size = sizes.find((s) => s.id === report.size)!;
      // What was written is handed on, not kept.
      const { file: _, ...kept } = report;
      useSizes.setState((s) => ({
        worked: new Map(s.worked).set(size.id, { report: kept, sheet, size }),
        waiting: new Set([...s.waiting].filter((id) => id !== size.id)),
      }));
    });
    return over ? sizes.flatMap((s) => came.get(s.id) ?? []) : null;
  } catch (e) {
    if (mine === run) useSizes.setState({ trouble: wordsOf(e) });
    return null;
  } finally {
    if (mine === run) useSizes.setState({ waiting: new Set() });
  }
}

export function stopSizes(): void {
  run++;
  engine.stopSizes();
  useSizes.setState({ waiting: new Set() });
}

/** Another project comes. */
export function forgetSizes(): void {
  stopSizes();
  useSizes.setState(NOTHING);
}
