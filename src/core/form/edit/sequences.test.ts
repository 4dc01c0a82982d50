/** Whatever is done to a cage, one edit after another: it stays a cage, stays symmetric to the last digits, and going back is exact. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { everyCase } from '../../../../tests/support/properties';
import { type Cage, netOf, type P3 } from '../cage';
import { limitMesh } from '../limit';
import { ballCage, boxCage, gridCage, torusCage, tubeCage } from '../starts';
import { applyEdit, type Edit } from './edit';
import { all, borders, grown, loops, type Picked, pickedAs, ringsAcross, shrunk } from './select';
import { asymmetry, partnersOf, type Symmetry, snapped } from './symmetry';

const small = fc.oneof(fc.double({ min: -6, max: -0.01, noNaN: true }), fc.double({ min: 0.01, max: 6, noNaN: true }));
const share = fc.double({ min: 0.1, max: 0.9, noNaN: true });
const place = fc.tuple(small, small, small);
const regions = fc.constantFrom('one' as const, 'apart' as const);
const edits: fc.Arbitrary<Edit> = fc.oneof(
  fc.record({ do: fc.constant('move' as const), by: place, soft: fc.constantFrom(0, 25) }),
  fc.record({ do: fc.constant('move-normal' as const), distance: small }),
  fc.record({ do: fc.constant('scale' as const), by: fc.tuple(share, share, share) as fc.Arbitrary<P3> }),
  fc.record({ do: fc.constant('rotate' as const), axis: place, angle: small }),
  fc.record({ do: fc.constant('flatten' as const), to: fc.constantFrom('fit' as const, 'x' as const, 'y' as const, 'z' as const) }),
  fc.constant<Edit>({ do: 'straighten' }),
  fc.constant<Edit>({ do: 'space-evenly' }),
  fc.record({
    do: fc.constant('make-round' as const),
    diameter: fc.constantFrom(null, 40),
    even: fc.boolean(),
    onBody: fc.constant(false),
  }),
  fc.record({ do: fc.constant('slide' as const), share: fc.double({ min: -0.8, max: 0.8, noNaN: true }) }),
  fc.record({ do: fc.constant('extrude' as const), distance: small, as: regions }),
  fc.record({ do: fc.constant('extrude-by' as const), by: place, as: regions }),
  fc.record({
    do: fc.constant('inset' as const),
    distance: fc.double({ min: 0.2, max: 3, noNaN: true }),
    as: fc.constantFrom('one' as const, 'apart' as const, 'each' as const),
  }),
  fc.record({ do: fc.constant('insert-loop' as const), share, keepShape: fc.constant(false) }),
  fc.record({ do: fc.constant('bevel' as const), distance: fc.double({ min: 0.2, max: 3, noNaN: true }) }),
  fc.record({ do: fc.constant('bridge' as const), rings: fc.nat(2), turn: fc.constant(0) }),
  fc.record({ do: fc.constant('fill' as const), way: fc.constantFrom('one' as const, 'fan' as const, 'quads' as const, 'grid' as const) }),
  fc.record({ do: fc.constant('weld' as const), within: fc.constantFrom(null, 0.5) }),
  fc.record({ do: fc.constant('split' as const), share }),
  fc.constant<Edit>({ do: 'connect' }),
  fc.constant<Edit>({ do: 'delete' }),
  fc.constant<Edit>({ do: 'dissolve' }),
  fc.record({ do: fc.constant('crease' as const), weight: fc.constantFrom(0.7, 2, 10) }),
  fc.constant<Edit>({ do: 'uncrease' }),
);

/** With a few vertices out of line. */
const pushed = (cage: Cage): Cage => ({
  ...cage,
  vertices: cage.vertices.map((p, v): P3 => (v % 9 === 4 ? [p[0] + 3, p[1] - 2, p[2] + 1] : p)),
});

const starts: readonly (readonly [string, Cage, Symmetry])[] = [
  ['a box', boxCage([60, 40, 30], [2, 2, 2]), { mirror: ['x', 'y'], fold: 1 }],
  ['a box mirrored once', boxCage([60, 40, 30], [4, 2, 1]), { mirror: ['x'], fold: 1 }],
  ['a ball', ballCage(30, 2), { mirror: ['x'], fold: 4 }],
  ['a tube six times round', tubeCage(30, 60, 12, 4), { mirror: [], fold: 6 }],
  ['a tube five times round', tubeCage(30, 60, 10, 3), { mirror: ['x'], fold: 5 }],
  ['a ring', torusCage(40, 12, 6, 8), { mirror: ['y'], fold: 2 }],
  ['a sheet', gridCage(80, 60, 4, 3), { mirror: ['x'], fold: 1 }],
  ['a ball in part', pushed(ballCage(30, 2)), { mirror: ['x'], fold: 4, partly: true }],
  ['anything', ballCage(25, 2), { mirror: [], fold: 1 }],
];
const exact = (cage: Cage, symmetry: Symmetry): Cage => {
  const partners = partnersOf(cage, symmetry);
  if (!partners.ok) throw new Error(partners.error.what);
  return snapped(cage, partners.value);
};

/** What an edit is for; the others take anything. */
const KINDS: Partial<Record<Edit['do'], Picked['kind']>> = {
  extrude: 'faces',
  inset: 'faces',
  bridge: 'faces',
  'insert-loop': 'edges',
  bevel: 'edges',
  slide: 'edges',
  split: 'edges',
  fill: 'edges',
  'make-round': 'edges',
  connect: 'vertices',
};

const picks = fc.record({
  kind: fc.constantFrom('vertices' as const, 'edges' as const, 'faces' as const),
  items: fc.array(fc.nat(), { minLength: 1, maxLength: 3 }),
  more: fc.constantFrom('nothing' as const, 'loops' as const, 'rings' as const, 'grown' as const, 'shrunk' as const, 'border' as const),
});
interface Pick {
  readonly kind: Picked['kind'];
  readonly items: readonly number[];
  readonly more: string;
}
function pickFrom(cage: Cage, { kind, items, more }: Pick, edit: Edit): Picked {
  if (more === 'border' && edit.do !== 'delete' && borders(cage).kind === 'edges' && KINDS[edit.do] !== 'faces') return borders(cage);
  const every = all(cage, kind);
  const from = <T>(list: readonly T[]): T[] => items.map((i) => list[i % list.length]!);
  const own: Picked =
    every.kind === 'vertices'
      ? { kind: 'vertices', vertices: from(every.vertices) }
      : every.kind === 'edges'
        ? { kind: 'edges', edges: from(every.edges) }
        : { kind: 'faces', faces: from(every.faces) };
  if (more === 'loops') return loops(cage, own);
  if (more === 'rings') return ringsAcross(cage, own);
  if (more === 'grown') return grown(cage, own);
  return more === 'shrunk' ? shrunk(cage, pickedAs(cage, grown(cage, grown(cage, own)), kind)) : own;
}

describe('edits one after another', () => {
  it('leave a cage that is a cage, symmetric to 1e-12 of its size, and can be taken back exactly', () => {
    const done = new Map<string, number>();
    let refused = 0;
    fc.assert(
      fc.property(fc.nat(starts.length - 1), fc.array(fc.tuple(picks, edits), { minLength: 3, maxLength: 9 }), (start, sequence) => {
        const [, given, symmetry] = starts[start]!;
        let cage = exact(given, symmetry);
        const history: string[] = [];
        const states: Cage[] = [];
        for (const [pick, edit] of sequence) {
          const picked = pickFrom(cage, { ...pick, kind: KINDS[edit.do] ?? pick.kind }, edit);
          history.push(JSON.stringify(cage));
          states.push(cage);
          const r = applyEdit(cage, picked, edit, { symmetry, weigh: (w) => w });
          // What is refused is refused in words and changes nothing.
          if (!r.ok) {
            expect(r.error.length).toBeGreaterThan(8);
            refused++;
          } else {
            cage = r.value.cage;
            done.set(edit.do, (done.get(edit.do) ?? 0) + 1);
            const net = netOf(cage);
            expect(net.ok ? '' : net.error.what).toBe('');
            const size = Math.max(1, ...cage.vertices.flat().map(Math.abs));
            expect(asymmetry(cage, symmetry)).toBeLessThan(1e-12 * size);
            for (const v of [r.value.picked].flatMap((p) =>
              p.kind === 'vertices' ? p.vertices : p.kind === 'edges' ? p.edges.flat() : p.faces,
            ))
              expect(v >= 0 && v < (r.value.picked.kind === 'faces' ? cage.faces.length : cage.vertices.length)).toBe(true);
          }
          states.forEach((s, i) => {
            expect(JSON.stringify(s)).toBe(history[i]);
          });
          if (cage.faces.length > 1500) break;
        }
        const net = netOf(cage);
        if (net.ok && cage.faces.length < 400) expect(limitMesh(net.value, 1).places.every(Number.isFinite)).toBe(true);
      }),
      { numRuns: everyCase ? 500 : 250 },
    );
    // Every kind of edit was accepted somewhere, so that none is only ever refused here.
    expect([...done.values()].reduce((sum, n) => sum + n, 0)).toBeGreaterThan(everyCase ? 1200 : 600);
    expect(refused).toBeGreaterThan(0);
    for (const kind of [
      'move',
      'extrude',
      'inset',
      'insert-loop',
      'bevel',
      'bridge',
      'fill',
      'weld',
      'split',
      'connect',
      'delete',
      'dissolve',
      'crease',
      'slide',
      'make-round',
    ])
      expect([kind, (done.get(kind) ?? 0) > 0]).toEqual([kind, true]);
  }, 600_000);
});
