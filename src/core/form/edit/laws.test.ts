/** What holds of edits whatever the cage: they undo each other, add up, keep what they say they keep, and repairs do no harm. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { minus } from '../../geometry/vectors';
import { type Cage, edgeCount, netOf, type P3 } from '../cage';
import { findings } from '../doctor';
import { vertexLimits } from '../limit';
import { ballCage, boxCage, faceArea, faceNormal, gridCage, torusCage, tubeCage } from '../starts';
import { applyEdit, type Edit } from './edit';
import { all, countOf, grown, loops, type Picked, pickedAs, ringsAcross, shrunk, toggled, verticesOf } from './select';
import { asymmetry, mirrored, NO_SYMMETRY, partnersOf, snapped, withFold } from './symmetry';

const net = (c: Cage) => {
  const r = netOf(c);
  if (!r.ok) throw new Error(r.error.what);
  return r.value;
};
const apply = (cage: Cage, picked: Picked, edit: Edit): { cage: Cage; picked: Picked } => {
  const r = applyEdit(cage, picked, edit, { symmetry: NO_SYMMETRY, weigh: (w) => w });
  if (!r.ok) throw new Error(r.error);
  return r.value;
};
const euler = (c: Cage): number => c.vertices.length - edgeCount(net(c)) + c.faces.length;
const corners = (c: Cage, f: number): P3[] => c.faces[f]!.map((v) => c.vertices[v]!);
const area = (c: Cage): number => c.faces.reduce((s, _, f) => s + faceArea(corners(c, f)), 0);
const volume = (c: Cage): number =>
  c.faces.reduce((s, _, f) => {
    const p = corners(c, f);
    const n = faceNormal(p);
    const m = [0, 1, 2].map((k) => p.reduce((t, q) => t + q[k]!, 0) / p.length);
    return s + (m[0]! * n[0] + m[1]! * n[1] + m[2]! * n[2]) / 6;
  }, 0);

const size = fc.double({ min: 10, max: 80, noNaN: true });
const cells = fc.integer({ min: 1, max: 4 });
/** Boxes of any size, cut into quads any way. */
const boxes = fc.tuple(fc.tuple(size, size, size), fc.tuple(cells, cells, cells)).map(([s, n]) => boxCage(s, n));
/** Closed and open cages of quads, their vertices pushed about a little. */
const pushed = fc
  .tuple(
    fc.constantFrom(ballCage(20, 3), torusCage(30, 9, 7, 9), tubeCage(15, 40, 9, 5), gridCage(60, 40, 5, 4)),
    fc.array(fc.double({ min: -0.8, max: 0.8, noNaN: true }), { minLength: 30, maxLength: 30 }),
  )
  .map(
    ([c, d]): Cage => ({
      ...c,
      vertices: c.vertices.map((p, v): P3 => [p[0] + d[v % 30]!, p[1] + d[(v + 7) % 30]!, p[2] + d[(v + 13) % 30]!]),
    }),
  );
const share = fc.double({ min: 0.1, max: 0.9, noNaN: true });
const edgeOf = (c: Cage, k: number): readonly [number, number] => {
  const n = net(c);
  const e = k % edgeCount(n);
  return [n.ends[2 * e]!, n.ends[2 * e + 1]!];
};

describe('edits of cages', () => {
  it('a loop put in and dissolved leaves what was there', () => {
    fc.assert(
      fc.property(pushed, fc.nat(), share, (cage, k, s) => {
        const cut = apply(cage, { kind: 'edges', edges: [edgeOf(cage, k)] }, { do: 'insert-loop', share: s, keepShape: false });
        expect(euler(cut.cage)).toBe(euler(cage));
        const back = apply(cut.cage, cut.picked, { do: 'dissolve' }).cage;
        expect(back.vertices).toEqual(cage.vertices);
        const key = (c: Cage): string[] => c.faces.map((f) => [...f].sort((a, b) => a - b).join()).sort();
        expect(key(back)).toEqual(key(cage));
      }),
      { numRuns: 120 },
    );
  });
  it('a loop that keeps the shape leaves the body over every old vertex where it was', () => {
    fc.assert(
      fc.property(pushed, fc.nat(), fc.double({ min: 0.25, max: 0.75, noNaN: true }), (cage, k, s) => {
        const r = applyEdit(
          cage,
          { kind: 'edges', edges: [edgeOf(cage, k)] },
          { do: 'insert-loop', share: s, keepShape: true },
          { symmetry: NO_SYMMETRY, weigh: (w: number) => w },
        );
        if (!r.ok) throw new Error(r.error);
        const [was, now] = [vertexLimits(net(cage)).places, vertexLimits(net(r.value.cage)).places];
        for (let i = 0; i < was.length; i++) expect(Math.abs(was[i]! - now[i]!)).toBeLessThan(1e-7);
      }),
      { numRuns: 25 },
    );
  });
  it('faces of a box drawn out add their area times the distance, twice as far twice as much', () => {
    fc.assert(
      fc.property(boxes, fc.double({ min: 0.5, max: 20, noNaN: true }), fc.nat(5), (cage, d, side) => {
        // All faces of one side: the region is flat, so that its walls stand square.
        const first = faceNormal(corners(cage, side % cage.faces.length));
        const l = Math.hypot(...first);
        const region = cage.faces.flatMap((_, f) => {
          const n = faceNormal(corners(cage, f));
          return (n[0] * first[0] + n[1] * first[1] + n[2] * first[2]) / (Math.hypot(...n) * l) > 0.99 ? [f] : [];
        });
        const flat = region.reduce((s, f) => s + faceArea(corners(cage, f)), 0);
        const one = apply(cage, { kind: 'faces', faces: region }, { do: 'extrude', distance: d, as: 'one' });
        expect(volume(one.cage) - volume(cage)).toBeCloseTo(flat * d, 6);
        const two = apply(one.cage, one.picked, { do: 'extrude', distance: d, as: 'one' });
        expect(volume(two.cage) - volume(cage)).toBeCloseTo(2 * flat * d, 6);
        expect(euler(two.cage)).toBe(2);
      }),
      { numRuns: 120 },
    );
  });
  it('what is set in stays in its plane and covers what it covered', () => {
    fc.assert(
      fc.property(boxes, fc.double({ min: 0.02, max: 0.4, noNaN: true }), fc.nat(), fc.boolean(), (cage, part, k, each) => {
        const f = k % cage.faces.length;
        const p = corners(cage, f);
        const short = Math.min(...p.map((q, i) => Math.hypot(...minus(q, p[(i + 1) % 4]!))));
        const made = apply(cage, { kind: 'faces', faces: [f] }, { do: 'inset', distance: part * short, as: each ? 'each' : 'one' });
        expect(area(made.cage)).toBeCloseTo(area(cage), 6);
        expect(volume(made.cage)).toBeCloseTo(volume(cage), 6);
        const inner = made.picked.kind === 'faces' ? corners(made.cage, made.picked.faces[0]!) : [];
        const [a, b] = [0, 1].map((i) => Math.hypot(...minus(p[i]!, p[i + 1]!)));
        expect(faceArea(inner)).toBeCloseTo((a! - 2 * part * short) * (b! - 2 * part * short), 6);
      }),
      { numRuns: 120 },
    );
  });
  it('a move and the same move back are none, softly too where nothing else is near', () => {
    fc.assert(
      fc.property(pushed, fc.nat(), fc.tuple(share, share, share), (cage, k, by) => {
        const picked: Picked = { kind: 'faces', faces: [k % cage.faces.length] };
        const there = apply(cage, picked, { do: 'move', by });
        const back = apply(there.cage, there.picked, { do: 'move', by: by.map((x) => -x) as unknown as P3 }).cage;
        for (const [v, p] of cage.vertices.entries()) for (let i = 0; i < 3; i++) expect(back.vertices[v]![i]).toBeCloseTo(p[i]!, 10);
      }),
      { numRuns: 80 },
    );
  });
  it('a hole is filled so that the skin is closed again, whichever way', () => {
    fc.assert(
      fc.property(boxes, fc.nat(), fc.constantFrom('one' as const, 'fan' as const, 'quads' as const, 'grid' as const), (cage, k, way) => {
        const open = apply(cage, { kind: 'faces', faces: [k % cage.faces.length] }, { do: 'delete' });
        const rim = cage.faces[k % cage.faces.length]!;
        // Vertices that only the face had are gone, where a box is one quad thick.
        fc.pre(open.cage.vertices.length === cage.vertices.length);
        const filled = apply(open.cage, { kind: 'edges', edges: [[rim[0]!, rim[1]!]] }, { do: 'fill', way }).cage;
        expect(euler(filled)).toBe(2);
        expect(volume(filled)).toBeCloseTo(volume(cage), 6);
      }),
      { numRuns: 80 },
    );
  });
});

describe('picking', () => {
  const picks = fc
    .tuple(pushed, fc.nat(), fc.constantFrom('vertices' as const, 'edges' as const, 'faces' as const))
    .map(([cage, k, kind]) => {
      const every = all(cage, kind);
      const one = <T>(list: readonly T[]): T[] => [list[k % list.length]!];
      const picked: Picked =
        every.kind === 'vertices'
          ? { kind: 'vertices', vertices: one(every.vertices) }
          : every.kind === 'edges'
            ? { kind: 'edges', edges: one(every.edges) }
            : { kind: 'faces', faces: one(every.faces) };
      return { cage, picked };
    });
  it('only ever adds by growing, running on and taking partners, and gives back what was toggled twice', () => {
    fc.assert(
      fc.property(picks, ({ cage, picked }) => {
        const has = (more: Picked): void => {
          const there = new Set(verticesOf(cage, more));
          expect(verticesOf(cage, picked).every((v) => there.has(v))).toBe(true);
        };
        has(grown(cage, picked));
        if (picked.kind !== 'vertices') has(loops(cage, picked));
        if (picked.kind === 'edges') has(ringsAcross(cage, picked));
        expect(countOf(toggled(toggled(picked, picked), picked))).toBe(countOf(picked));
        expect(countOf(shrunk(cage, all(cage, picked.kind)))).toBe(countOf(all(cage, picked.kind)));
        expect(pickedAs(cage, pickedAs(cage, all(cage, 'faces'), 'vertices'), 'faces')).toEqual(all(cage, 'faces'));
      }),
      { numRuns: 120 },
    );
  });
  it('by loops and rings is the same from each of its edges', () => {
    fc.assert(
      fc.property(fc.nat(), fc.nat(), (k, other) => {
        const cage = torusCage(30, 9, 7, 9);
        const edge = edgeOf(cage, k);
        for (const f of [loops, ringsAcross]) {
          const whole = f(cage, { kind: 'edges', edges: [edge] });
          if (whole.kind !== 'edges') throw new Error('edges were asked for');
          const again = f(cage, { kind: 'edges', edges: [whole.edges[other % whole.edges.length]!] });
          expect(new Set(verticesOf(cage, again))).toEqual(new Set(verticesOf(cage, whole)));
        }
      }),
      { numRuns: 60 },
    );
  });
});

describe('symmetry', () => {
  it('of one half mirrored is exact, and mirroring again changes nothing', () => {
    fc.assert(
      fc.property(pushed, fc.constantFrom('x' as const, 'y' as const), fc.constantFrom(1 as const, -1 as const), (cage, axis, side) => {
        const made = mirrored(cage, axis, side);
        // A cage whose faces cross the plane more than once, or touch it in a vertex alone, has no such half.
        fc.pre(made.ok && netOf(made.value).ok);
        if (!made.ok) return;
        expect(asymmetry(made.value, { mirror: [axis], fold: 1 })).toBe(0);
        const again = mirrored(made.value, axis, side);
        expect(again.ok && again.value.faces.length).toBe(made.value.faces.length);
      }),
      { numRuns: 80 },
    );
  });
  it('round the axis survives any counts on the way', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 3, max: 20 }), { minLength: 1, maxLength: 4 }), fc.nat(2), (counts, start) => {
        const [cage, from] = (
          [
            [tubeCage(20, 40, 12, 4), 6],
            [ballCage(20, 2), 4],
            [torusCage(30, 8, 6, 10), 5],
          ] as const
        )[start]!;
        const partners = partnersOf(cage, { mirror: [], fold: from });
        if (!partners.ok) throw new Error(partners.error.what);
        let now: Cage = snapped(cage, partners.value);
        let fold: number = from;
        for (const to of [...counts, from]) {
          const made = withFold(now, fold, to);
          if (!made.ok) throw new Error(made.error);
          [now, fold] = [made.value, to];
          expect(euler(now)).toBe(euler(cage));
          expect(asymmetry(now, { mirror: [], fold })).toBeLessThan(1e-11);
        }
        expect(now.faces.length).toBe(cage.faces.length);
        const places = (c: Cage): string[] => c.vertices.map((p) => p.map((x) => (Math.round(x * 1e7) / 1e7 + 0).toFixed(7)).join()).sort();
        expect(places(now)).toEqual(places(cage));
      }),
      { numRuns: 60 },
    );
  });
});

describe('repairs', () => {
  it('of whatever is found leave a cage, and no more of what was mended', () => {
    fc.assert(
      fc.property(
        pushed,
        fc.array(
          fc.tuple(
            fc.nat(),
            fc.constantFrom<Edit>(
              { do: 'connect' },
              { do: 'delete' },
              { do: 'dissolve' },
              { do: 'split', share: 0.4 },
              { do: 'crease', weight: 2 },
            ),
          ),
          { maxLength: 3 },
        ),
        (start, damage) => {
          let cage = start;
          for (const [k, edit] of damage) {
            const picked: Picked =
              edit.do === 'connect'
                ? { kind: 'vertices', vertices: [cage.faces[k % cage.faces.length]![0]!, cage.faces[k % cage.faces.length]![2]!] }
                : edit.do === 'delete' || edit.do === 'dissolve'
                  ? { kind: 'faces', faces: [k % cage.faces.length, (k + 1) % cage.faces.length] }
                  : { kind: 'edges', edges: [edgeOf(cage, k)] };
            const r = applyEdit(cage, picked, edit, { symmetry: NO_SYMMETRY, weigh: (w: number) => w });
            if (r.ok) cage = r.value.cage;
          }
          const found = findings(cage);
          for (const f of found.filter((x) => x.repair).slice(0, 4)) {
            const r = applyEdit(cage, f.repair!.picked, f.repair!.edit, { symmetry: NO_SYMMETRY, weigh: (w: number) => w });
            // What can't be mended so says why; what is done leaves a cage.
            if (!r.ok) expect(r.error.length).toBeGreaterThan(10);
            else {
              expect(netOf(r.value.cage).ok).toBe(true);
              const of = (c: Cage): number => findings(c).filter((x) => x.kind === f.kind && x.what === f.what).length;
              expect(of(r.value.cage)).toBeLessThanOrEqual(of(cage));
            }
          }
        },
      ),
      { numRuns: 40 },
    );
  });
});
