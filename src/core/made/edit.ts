/** Changes of what was made and measured. */
import { freshId } from '../recipe/edit';
import type { Batch, Grown, Made, Piece, Place } from './document';
import type { NewPlace } from './places';

export const MOST_PIECES = 200;

export const withPlace = (made: Made, place: NewPlace): Made => ({
  ...made,
  places: [
    ...made.places,
    {
      ...place,
      id: freshId(
        'm',
        made.places.map((p) => p.id),
      ),
    },
  ],
});

export const changedPlace = (made: Made, id: string, more: Partial<Place>): Made => ({
  ...made,
  places: made.places.map((p) => (p.id === id ? { ...p, ...more } : p)),
});

/** Without a place, and what it read. */
export const withoutPlace = (made: Made, id: string): Made => {
  const less = <T>(record: Readonly<Record<string, T>>): Record<string, T> => {
    const { [id]: _, ...rest } = record;
    return rest;
  };
  return {
    ...made,
    places: made.places.filter((p) => p.id !== id),
    batches: made.batches.map((b) => ({
      ...b,
      nominal: less(b.nominal),
      pieces: b.pieces.map((p) => ({ ...p, readings: less(p.readings) })),
    })),
  };
};

const newPiece = (pieces: readonly Piece[]): Piece => ({
  id: freshId(
    'p',
    pieces.map((p) => p.id),
  ),
  name: String(pieces.length + 1),
  readings: {},
});

/** A batch more, of one piece, made as the model stands. @param nominal what its places should be */
export const withBatch = (made: Made, name: string, at: string, nominal: Readonly<Record<string, number>>): Made => ({
  ...made,
  batches: [
    ...made.batches,
    {
      id: freshId(
        'b',
        made.batches.map((b) => b.id),
      ),
      name,
      at,
      ...(made.grown ? { grown: made.grown } : {}),
      nominal: { ...nominal },
      pieces: [newPiece([])],
    },
  ],
});

export const changedBatch = (made: Made, id: string, edit: (batch: Batch) => Batch): Made => ({
  ...made,
  batches: made.batches.map((b) => (b.id === id ? edit(b) : b)),
});

export const withoutBatch = (made: Made, id: string): Made => ({ ...made, batches: made.batches.filter((b) => b.id !== id) });

export const withPiece = (batch: Batch): Batch => ({ ...batch, pieces: [...batch.pieces, newPiece(batch.pieces)] });

export const changedPiece = (batch: Batch, id: string, more: Partial<Piece>): Batch => ({
  ...batch,
  pieces: batch.pieces.map((p) => (p.id === id ? { ...p, ...more } : p)),
});

export const withoutPiece = (batch: Batch, id: string): Batch => ({ ...batch, pieces: batch.pieces.filter((p) => p.id !== id) });

/** What a piece reads at a place. What the place should be is kept with the batch the first time: the model may change after. */
export function withReadings(batch: Batch, piece: string, place: string, readings: readonly number[], nominal: number | null): Batch {
  const known = batch.nominal[place] === undefined && nominal !== null ? { ...batch.nominal, [place]: nominal } : batch.nominal;
  return {
    ...batch,
    nominal: known,
    pieces: batch.pieces.map((p) => {
      if (p.id !== piece) return p;
      const { [place]: _, ...rest } = p.readings;
      return { ...p, readings: readings.length > 0 ? { ...rest, [place]: [...readings] } : rest };
    }),
  };
}

/** Files are written larger by so much from now on; as they are where null. */
export function withGrowth(made: Made, grown: Grown | null): Made {
  const { grown: _, ...rest } = made;
  return grown ? { ...rest, grown } : rest;
}
