/** What a batch measured, place by place, and what all of it says of shrinkage. */
import type { Scope } from '../dimensions/expression';
import type { Project } from '../recipe/schema';
import { csvOf } from '../sizes/table';
import type { Batch, Grown, Made, Place, Quantity } from './document';
import { limitsOf, type PlaceLimits, quantityOf } from './places';
import { type Observation, type Shrinkage, shrinkageOf } from './shrinkage';
import { type Capability, capability, type Held, heldBy, meanOf, repeatability, type Summary, summary } from './statistics';

export interface PlaceRow {
  readonly place: Place;
  readonly quantity: Quantity;
  /** What it should have been when it was made, or as the model stands where nothing was measured yet; null where neither is known. */
  readonly nominal: number | null;
  /** As the model stands, where that is another by now. */
  readonly now: number | null;
  readonly limits: PlaceLimits;
  /** By piece: the mean of its readings, and whether it keeps within the limits. */
  readonly pieces: ReadonlyMap<string, { readonly mean: number; readonly held: Held }>;
  readonly summary: Summary | null;
  /** Readings of one piece differ by so much; null where none was read twice. */
  readonly repeats: number | null;
  readonly capability: Capability | null;
}

const CHANGED = 5e-4;

/** @param batch null where none was made yet @param present what places are as the model stands, where known */
export function rowsOf(project: Project, made: Made, batch: Batch | null, present: ReadonlyMap<string, number>, scope: Scope): PlaceRow[] {
  return made.places.map((place) => {
    const now = present.get(place.id) ?? null;
    const nominal = batch?.nominal[place.id] ?? now;
    const limits = nominal === null ? { low: null, high: null, from: null } : limitsOf(place, nominal, project, scope);
    const quantity = quantityOf(place);
    const { off } = made.devices[quantity];
    const read = (batch?.pieces ?? []).flatMap((p) => {
      const readings = p.readings[place.id];
      return readings && readings.length > 0 ? [{ id: p.id, readings, mean: meanOf(readings) }] : [];
    });
    const means = read.map((r) => r.mean);
    return {
      place,
      quantity,
      nominal,
      now: now !== null && nominal !== null && Math.abs(now - nominal) > CHANGED * Math.max(1, quantity === 'L' ? 0 : nominal) ? now : null,
      limits,
      pieces: new Map(read.map((r) => [r.id, { mean: r.mean, held: heldBy(r.mean, limits, off) }])),
      summary: summary(means),
      repeats: repeatability(read.map((r) => r.readings)),
      capability: capability(means, limits),
    };
  });
}

/** By how much a length along some way was larger in the file. */
function grownAlong(grown: Grown | undefined, way: Place['way']): number {
  if (!grown || way === 'other') return 1;
  return way === 'flat' ? (grown.x + grown.y) / 2 : grown[way];
}

/** Shrinkage from the file to the part, of all lengths of batches. @param together both ways across alike */
export function shrinkageIn(made: Made, batches: readonly Batch[], together = false): Shrinkage | null {
  const all = batches.flatMap((b) =>
    b.pieces.flatMap((p) =>
      made.places.flatMap((place): Observation[] => {
        const readings = p.readings[place.id];
        const nominal = b.nominal[place.id];
        return readings && readings.length > 0 && nominal !== undefined && quantityOf(place) === 'mm'
          ? [
              {
                piece: `${b.id}/${p.id}`,
                place: place.id,
                nominal: nominal * grownAlong(b.grown, place.way),
                read: meanOf(readings),
                way: place.way,
                side: place.side,
              },
            ]
          : [];
      }),
    ),
  );
  return shrinkageOf(all, made.devices.mm.off, together);
}

/** A batch in a few words: how much was read, and what of it keeps within its limits. */
export function batchWords(batch: Batch, rows: readonly PlaceRow[]): string {
  const held = rows.flatMap((r) => (r.limits.from ? [...r.pieces.values()].map((p) => p.held) : []));
  const count = (what: Held): number => held.filter((h) => h === what).length;
  const read = rows.filter((r) => r.summary).length;
  const words = [
    `${batch.pieces.length} piece${batch.pieces.length === 1 ? '' : 's'}`,
    `${read} place${read === 1 ? '' : 's'} read`,
    ...(held.length > 0 ? [`${count('within')} of ${held.length} within their limits`] : []),
    ...(count('beyond') > 0 ? [`${count('beyond')} beyond`] : []),
    ...(count('unsure') > 0 ? [`${count('unsure')} too near to tell`] : []),
  ];
  return words.join(', ');
}

const CELL = 6;
const cell = (v: number | null | undefined): string => (v === null || v === undefined ? '' : String(Number(v.toPrecision(CELL))));

/** A batch as a table for sheets of others: millimetres, grams and litres. */
export function batchCsv(batch: Batch, rows: readonly PlaceRow[]): string {
  return csvOf(
    ['place', 'unit', 'nominal', 'least', 'most', ...batch.pieces.map((p) => p.name), 'mean', 'off', 'spread', 'Cp', 'Cpk'],
    rows.map((r) => [
      r.place.name,
      r.quantity,
      cell(r.nominal),
      cell(r.limits.low),
      cell(r.limits.high),
      ...batch.pieces.map((p) => (p.readings[r.place.id] ?? []).map(cell).join(' ')),
      cell(r.summary?.mean),
      cell(r.summary && r.nominal !== null ? r.summary.mean - r.nominal : null),
      cell(r.summary?.spread),
      cell(r.capability?.cp),
      cell(r.capability?.cpk),
    ]),
  );
}
