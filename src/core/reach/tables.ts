/** What moves what as tables for sheets of others. */
import { gaugeById } from '../brief/gauges';
import { csvOf } from '../sizes/table';
import type { Effect } from './effects';
import type { Mover } from './mover';
import type { Spot } from './sweep';

const called = (gauges: readonly string[]): string[] =>
  gauges.map((id) => {
    const g = gaugeById(id);
    return g ? `${g.label}${g.unit === 'yes/no' ? '' : `, ${g.unit}`}` : id;
  });
const figure = (value: number | null | undefined): string =>
  value === null || value === undefined ? '' : String(Number(value.toPrecision(9)));

/** A line a value of the dimension: what is read there, in the gauges' own units. */
export function sweepTable(mover: Pick<Mover, 'name' | 'text'>, spots: readonly Spot[]): string {
  const gauges = [...new Set(spots.flatMap((s) => [...(s.read?.keys() ?? [])]))];
  return csvOf(
    [mover.name, ...called(gauges)],
    spots.map((s) => [mover.text(s.at, 3), ...gauges.map((g) => figure(s.read?.get(g)?.value))]),
  );
}

/** A line a dimension: what each gauge changes by with a step of it; nothing where it does not move it. */
export function effectsTable(effects: readonly Effect[]): string {
  const gauges = [...new Set(effects.flatMap((e) => [...e.moves.keys()]))];
  return csvOf(
    ['dimension', 'more by', ...called(gauges)],
    effects.map((e) => [e.dimension, e.by, ...gauges.map((g) => figure(e.moves.get(g)))]),
  );
}
