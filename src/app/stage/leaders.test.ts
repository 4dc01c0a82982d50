import { describe, expect, it } from 'vitest';
import { leadersOf } from './leaders';

const block = { min: [0, 0, 0], max: [60, 40, 20], round: false } as const;
const drum = { min: [-15, -15, 0], max: [15, 15, 80], round: true } as const;
const size = (mm: number): string => mm.toFixed(1);
const length = (mm: number): string => `${size(mm)} mm`;
const of = (o: typeof block | typeof drum, view?: Parameters<typeof leadersOf>[1]) => leadersOf(o, view, length, size);
/** Across 0, away 1, up 2. */
const along = ({ from, to }: { from: readonly number[]; to: readonly number[] }): number => to.findIndex((x, k) => x !== from[k]);

describe('lines beside what is shown', () => {
  it('are those one can see from there, each as long as what it tells', () => {
    expect(of(block).map((l) => l.words)).toEqual(['20.0 mm', '60.0 wide, 40.0 deep']);
    expect(of(block, 'side').map((l) => l.words)).toEqual(['20.0 mm', '40.0 deep']);
    expect(of(block, 'above').map((l) => l.words)).toEqual(['60.0 wide', '40.0 deep']);
    expect(of(drum, 'below').map((l) => l.words)).toEqual(['⌀ 30.0']);
    expect(of(drum, 'front').map((l) => l.words)).toEqual(['80.0 mm', '⌀ 30.0']);
    const hidden = { front: 1, back: 1, side: 0, above: 2, below: 2, corner: -1 } as const;
    for (const [view, axis] of Object.entries(hidden) as [keyof typeof hidden, number][])
      for (const l of of(block, view)) {
        const k = along(l);
        expect([view, k === axis]).toEqual([view, false]);
        expect(l.to[k]! - l.from[k]!).toBe([60, 40, 20][k]);
        // The strokes at its ends are seen too.
        expect(l.tick.findIndex((t) => t !== 0)).not.toBe(axis);
      }
  });
  it('lie beside the body and not over it', () => {
    for (const view of ['front', 'side', 'above', 'below'] as const)
      for (const l of of(block, view)) {
        const across = l.tick.findIndex((t) => t !== 0);
        const outside = l.from[across]! < block.min[across]! || l.from[across]! > block.max[across]!;
        expect([view, l.words, outside]).toEqual([view, l.words, true]);
      }
  });
});
