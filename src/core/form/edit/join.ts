/** New faces between borders and in holes. What is worked out for one place is put at all its symmetric partners too. */
import { distance, dot, minus, triple, unit } from '../../geometry/vectors';
import { fail, ok, type Result } from '../../result';
import type { CageOf, P3 } from '../cage';
import { Draft } from './draft';
import type { Made } from './reshape';
import { middleOf, type Picked } from './select';
import { moved, type Partners, turnsOver } from './symmetry';
import { borderLoops, rim, rowsOf, topologyOf } from './topology';

/** Faces by vertices of the cage and, from its vertex count on, by new ones. */
interface Addition {
  readonly places: readonly P3[];
  readonly faces: readonly (readonly number[])[];
}

/** An addition with all its images, each new place once. */
function added<W>(cage: CageOf<W>, partners: Partners, { places, faces }: Addition): { cage: CageOf<W>; faces: number[] } {
  const n = cage.vertices.length;
  const draft = new Draft(cage);
  const known = new Map<string, number>();
  const put = (p: P3): number => {
    const key = p.map((x) => Math.round(x * 1e6) + 0).join();
    let v = known.get(key);
    if (v === undefined) {
      v = draft.add(p);
      known.set(key, v);
    }
    return v;
  };
  const there = new Set<string>();
  const made: number[] = [];
  partners.maps.forEach((map, g) => {
    const motion = partners.motions[g]!;
    const over = turnsOver(motion);
    // An opening that has no image there is filled once.
    if (faces.some((f) => f.some((v) => v < n && map[v]! < 0))) return;
    for (const f of faces) {
      const image = f.map((v) => (v < n ? map[v]! : put(moved(motion, places[v - n]!))));
      const key = [...image].sort((a, b) => a - b).join();
      if (there.has(key)) continue;
      there.add(key);
      made.push(draft.faces.length);
      draft.faces.push(over ? image.reverse() : image);
    }
  });
  const done = draft.finish();
  return { cage: done.cage, faces: made.map((f) => done.faceOf[f]!) };
}

const asMade = <W>({ cage, faces }: { cage: CageOf<W>; faces: number[] }): Made<W> => ({ cage, picked: { kind: 'faces', faces } });

/** The borders on which something is picked, each as its faces run; picked faces are taken away first and leave theirs. */
function openings<W>(cage: CageOf<W>, p: Picked): Result<{ cage: CageOf<W>; rows: number[][] }, string> {
  if (p.kind === 'faces') {
    // What is left runs the other way along it.
    const edges = rim(cage, p.faces).map(([a, b]) => [b, a] as const);
    const next = new Map(edges);
    if (next.size < edges.length) return fail('the picked faces touch in a vertex alone');
    const gone = new Set(p.faces);
    const faces = cage.faces.filter((_, f) => !gone.has(f));
    if (faces.length === 0) return fail('nothing would be left of the cage');
    return ok({ cage: { ...cage, faces }, rows: rowsOf(next) });
  }
  const t = topologyOf(cage);
  if (!t.ok) return fail(t.error.what);
  const mine = new Set(p.kind === 'vertices' ? p.vertices : p.edges.flat());
  return ok({ cage, rows: borderLoops(t.value).filter((row) => row.some((v) => mine.has(v))) });
}

/**
 * Quads between two openings with as many edges each.
 * @param picked what was picked by hand; @param full the same with all partners
 * @param rings put between them, 0 for quads from one to the other
 * @param turn by how many vertices the second is turned on from where it fits best
 */
export function bridge<W>(
  cage: CageOf<W>,
  picked: Picked,
  full: Picked,
  partners: Partners,
  rings: number,
  turn: number,
): Result<Made<W>, string> {
  const open = openings(cage, full);
  if (!open.ok) return open;
  const own = openings(cage, picked);
  if (!own.ok) return own;
  const rows = own.value.rows.length === 2 ? own.value.rows : open.value.rows;
  if (rows.length !== 2) return fail(`two openings are bridged; ${rows.length === 1 ? 'one is' : `${rows.length} are`} picked`);
  const [a, b] = rows as [number[], number[]];
  if (a.length !== b.length) return fail(`the openings have ${a.length} and ${b.length} edges: split edges until both have as many`);
  if (a.some((v) => b.includes(v))) return fail('the two openings share a vertex');
  const n = a.length;
  const place = (v: number): P3 => cage.vertices[v]!;
  // New quads run against both borders: a's i-th vertex goes with b's (k − i)-th.
  const other = (i: number, k: number): number => b[(((k - i) % n) + n) % n]!;
  const cost = (k: number): number => a.reduce((s, v, i) => s + distance(place(v), place(other(i, k))) ** 2, 0);
  let best = 0;
  for (let k = 1; k < n; k++) if (cost(k) < cost(best) * (1 - 1e-12)) best = k;
  const k = best + turn;
  const base = cage.vertices.length;
  const places: P3[] = [];
  const at = (i: number, r: number): number => {
    const j = ((i % n) + n) % n;
    return r === 0 ? a[j]! : r === rings + 1 ? other(j, k) : base + (r - 1) * n + j;
  };
  for (let r = 1; r <= rings; r++)
    for (const [i, v] of a.entries()) {
      const [p, q, s] = [place(v), place(other(i, k)), r / (rings + 1)];
      places.push(triple((c) => p[c]! + s * (q[c]! - p[c]!)));
    }
  const faces = a.flatMap((_, i) => Array.from({ length: rings + 1 }, (_, r) => [at(i + 1, r), at(i, r), at(i, r + 1), at(i + 1, r + 1)]));
  return ok(asMade(added(open.value.cage, partners, { places, faces })));
}

export type FillWay = 'one' | 'fan' | 'quads' | 'grid';

/** All ways to fill the openings that are picked (of faces, what they leave), the likeliest first: which of them keeps a symmetry is seen only when they are made. */
export function fill<W>(cage: CageOf<W>, picked: Picked, partners: Partners, way: FillWay): Result<Made<W>[], string> {
  const open = openings(cage, picked);
  if (!open.ok) return open;
  const { rows } = open.value;
  if (rows.length === 0) return fail('pick an edge of an opening, or faces to fill anew');
  // A partner's opening is filled as the image of the first.
  const leaders: number[][] = [];
  const met = new Set<number>();
  for (const row of rows) {
    if (met.has(row[0]!)) continue;
    for (const map of partners.maps) for (const v of row) met.add(map[v]!);
    leaders.push(row);
  }
  const ways: Addition[][] = [];
  for (const row of leaders) {
    const one = waysToFill(cage, row, way);
    if (!one.ok) return one;
    ways.push(one.value);
  }
  const most = Math.max(...ways.map((w) => w.length));
  return ok(
    Array.from({ length: most }, (_, k) => {
      let now: { cage: CageOf<W>; faces: number[] } = { cage: open.value.cage, faces: [] };
      const base = cage.vertices.length;
      for (const list of ways) {
        const { places, faces } = list[Math.min(k, list.length - 1)]!;
        const shift = now.cage.vertices.length - base;
        // Places of the cage stay where they are; partners of vertices that came with an earlier opening are not asked for.
        const next = added(now.cage, partners, { places, faces: faces.map((f) => f.map((v) => (v < base ? v : v + shift))) });
        now = { cage: next.cage, faces: [...now.faces, ...next.faces] };
      }
      return asMade(now);
    }),
  );
}

function waysToFill(cage: CageOf<unknown>, border: readonly number[], way: FillWay): Result<Addition[], string> {
  // New faces run against the border.
  const row = border.toReversed();
  const n = row.length;
  const base = cage.vertices.length;
  const at = (i: number): number => row[((i % n) + n) % n]!;
  if (way === 'one') return ok([{ places: [], faces: [row] }]);
  if (way === 'fan') return ok([{ places: [middleOf(cage, row)], faces: row.map((v, i) => [v, at(i + 1), base]) }]);
  if (n % 2 !== 0) return fail(`an opening of ${n} edges can’t be filled with quads alone: split one of its edges`);
  if (n === 4) return ok([{ places: [], faces: [row] }]);
  if (way === 'quads')
    return ok(
      [0, 1].map((o) => ({
        places: [middleOf(cage, row)],
        faces: Array.from({ length: n / 2 }, (_, i) => [at(2 * i + o), at(2 * i + 1 + o), at(2 * i + 2 + o), base]),
      })),
    );
  const p = Math.round(n / 4);
  const q = n / 2 - p;
  const turning = row.map((v, i) => {
    const [a, b] = [minus(cage.vertices[v]!, cage.vertices[at(i - 1)]!), minus(cage.vertices[at(i + 1)]!, cage.vertices[v]!)].map(
      (d): P3 => unit(d) ?? [0, 0, 0],
    );
    return 1 - dot(a!, b!);
  });
  const sharpness = (o: number): number => [0, p, p + q, 2 * p + q].reduce((s, c) => s + turning[(c + o) % n]!, 0);
  const starts = row.map((_, o) => o).sort((x, y) => Math.round(1e6 * (sharpness(y) - sharpness(x))) || x - y);
  return ok(starts.map((o) => gridFill(cage, (i) => at(i + o), p, q, base)));
}

/** A grid of p by q quads whose rim is a border, its inner places between the four sides (Coons 1967). */
function gridFill(cage: CageOf<unknown>, at: (i: number) => number, p: number, q: number, base: number): Addition {
  const place = (v: number): P3 => cage.vertices[v]!;
  const [low, right] = [(i: number) => at(i), (j: number) => at(p + j)];
  const [high, left] = [(i: number) => at(2 * p + q - i), (j: number) => at(2 * p + 2 * q - j)];
  const places: P3[] = [];
  const number = (i: number, j: number): number =>
    j === 0 ? low(i) : j === q ? high(i) : i === 0 ? left(j) : i === p ? right(j) : base + (j - 1) * (p - 1) + i - 1;
  for (let j = 1; j < q; j++)
    for (let i = 1; i < p; i++) {
      const [u, w] = [i / p, j / q];
      places.push(
        triple((k) => {
          const c = (v: number): number => place(v)[k]!;
          return (
            (1 - w) * c(low(i)) +
            w * c(high(i)) +
            (1 - u) * c(left(j)) +
            u * c(right(j)) -
            (1 - u) * (1 - w) * c(low(0)) -
            u * (1 - w) * c(low(p)) -
            u * w * c(high(p)) -
            (1 - u) * w * c(high(0))
          );
        }),
      );
    }
  const faces: number[][] = [];
  for (let j = 0; j < q; j++)
    for (let i = 0; i < p; i++) faces.push([number(i, j), number(i + 1, j), number(i + 1, j + 1), number(i, j + 1)]);
  return { places, faces };
}
