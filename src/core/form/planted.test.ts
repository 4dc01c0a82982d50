/**
 * Two hundred random cages with several faults planted in each, and two hundred sound ones with grooves, ridges and creases on purpose: every fault is
 * named at its place, and nothing grave is said of what is sound.
 */
import { describe, expect, it } from 'vitest';
import { everyCase } from '../../../tests/support/properties';
import { distance, triple } from '../geometry/vectors';
import { seeded } from '../mesh/wall';
import type { Cage, P3 } from './cage';
import { type Finding, type FindingKind, findings } from './doctor';
import { applyEdit, type Edit } from './edit/edit';
import type { Picked } from './edit/select';
import { NO_SYMMETRY } from './edit/symmetry';
import { edgesOfLoop, loopThrough, topologyOf } from './edit/topology';
import { mended } from './mend';
import { ballCage, boxCage, gridCage, torusCage } from './starts';

type Chance = () => number;
const between = (next: Chance, from: number, to: number): number => from + (to - from) * next();
const whole = (next: Chance, from: number, to: number): number => Math.floor(between(next, from, to + 1));

interface Start {
  readonly cage: Cage;
  readonly panel: boolean;
}

/** A cage of quads, of a random kind, size and number of faces. */
function start(next: Chance): Start {
  const size = between(next, 20, 300);
  switch (whole(next, 0, 3)) {
    case 0:
      return { cage: boxCage([size, size * between(next, 0.6, 1.4), size * between(next, 0.6, 1.4)], [4, 4, 4]), panel: false };
    case 1:
      return { cage: ballCage(size / 2, whole(next, 3, 5)), panel: false };
    case 2:
      return { cage: torusCage(size, size * between(next, 0.25, 0.4), whole(next, 6, 9), whole(next, 12, 18)), panel: false };
    default: {
      const sheet = gridCage(size, size * between(next, 0.6, 1), 8, 7);
      const bent = between(next, -0.5, 0.5) / size;
      return { cage: { ...sheet, vertices: sheet.vertices.map((p): P3 => [p[0], p[1], bent * (p[0] ** 2 + p[1] ** 2)]) }, panel: true };
    }
  }
}

const middleOf = (cage: Cage, vertices: readonly number[]): P3 =>
  triple((k) => vertices.reduce((s, v) => s + cage.vertices[v]![k], 0) / vertices.length);
const edgeOf = (cage: Cage, f: number): number =>
  Math.min(...cage.faces[f]!.map((v, i, all) => distance(cage.vertices[v]!, cage.vertices[all[(i + 1) % all.length]!]!)));
/** A picked edit; undefined where it is refused. */
const done = (cage: Cage, picked: Picked, edit: Edit): { cage: Cage; picked: Picked } | undefined => {
  const r = applyEdit(cage, picked, edit, { symmetry: NO_SYMMETRY, weigh: Number });
  return r.ok ? r.value : undefined;
};

/** A face set in and drawn out or sunk, or a loop creased: what one does on purpose. */
function worked(cage: Cage, next: Chance): Cage {
  const f = whole(next, 0, cage.faces.length - 1);
  if (next() < 0.35) {
    const t = topologyOf(cage);
    if (!t.ok) return cage;
    const [a, b] = cage.faces[f]!;
    const edges = edgesOfLoop(loopThrough(t.value, [a!, b!]));
    return done(cage, { kind: 'edges', edges }, { do: 'crease', weight: whole(next, 1, 4) })?.cage ?? cage;
  }
  const edge = edgeOf(cage, f);
  const inner = done(cage, { kind: 'faces', faces: [f] }, { do: 'inset', distance: edge * between(next, 0.1, 0.3), as: 'one' });
  const depth = edge * between(next, 0.1, 0.35) * (next() < 0.5 ? -1 : 1);
  return (inner && done(inner.cage, inner.picked, { do: 'move-normal', distance: depth })?.cage) ?? cage;
}

interface Planted {
  readonly kinds: readonly FindingKind[];
  readonly at: P3;
  /** How far off a finding may stand. */
  readonly near: number;
}
type Plant = (cage: Cage, f: number, next: Chance) => { readonly cage: Cage; readonly planted: readonly Planted[] } | undefined;

const withVertices = (cage: Cage, more: readonly P3[], faces: Cage['faces']): Cage => ({
  ...cage,
  vertices: [...cage.vertices, ...more],
  faces,
});

/** One face has a vertex of its own beside the others'. */
const doubled: Plant = (cage, f, next) => {
  const v = cage.faces[f]![whole(next, 0, 3)]!;
  const at = cage.vertices[v]!;
  const off = 1e-5 * edgeOf(cage, f);
  const copy = cage.vertices.length;
  return {
    cage: withVertices(
      cage,
      [triple((k) => at[k] + off * (next() - 0.5))],
      cage.faces.map((face, i) => (i === f ? face.map((w) => (w === v ? copy : w)) : face)),
    ),
    planted: [{ kinds: ['doubled'], at, near: edgeOf(cage, f) / 100 }],
  };
};

/** A face parted in two where those beside it are not. */
const parted: Plant = (cage, f) => {
  const [a, b, c, d] = cage.faces[f] as [number, number, number, number];
  const [left, right] = [middleOf(cage, [a, d]), middleOf(cage, [b, c])];
  const n = cage.vertices.length;
  return {
    cage: withVertices(cage, [left, right], [...cage.faces.map((face, i) => (i === f ? [a, b, n + 1, n] : face)), [n, n + 1, c, d]]),
    planted: [left, right].map((at) => ({ kinds: ['joint'], at, near: edgeOf(cage, f) / 100 })),
  };
};

/** A face parted into triangles. */
const triangles: Plant = (cage, f) => {
  const [a, b, c, d] = cage.faces[f] as [number, number, number, number];
  return {
    cage: withVertices(cage, [], [...cage.faces.map((face, i) => (i === f ? [a, b, c] : face)), [a, c, d]]),
    planted: [
      [a, b, c],
      [a, c, d],
    ].map((face) => ({ kinds: ['triangle'], at: middleOf(cage, face), near: edgeOf(cage, f) / 100 })),
  };
};

/** One edge creased and no other of its loop. */
const stray: Plant = (cage, f) => {
  const [a, b] = cage.faces[f] as [number, number, number, number];
  const known = new Set(cage.creases.flat());
  if (known.has(a) || known.has(b)) return undefined;
  return {
    cage: { ...cage, creases: [...cage.creases, [a, b, 2]] },
    planted: [a, b].map((v) => ({ kinds: ['crease-end'], at: cage.vertices[v]!, near: edgeOf(cage, f) / 100 })),
  };
};

/** A face taken away: of what is to be solid, since openings of a panel are meant. */
const hole: Plant = (cage, f) => ({
  cage: withVertices(
    cage,
    [],
    cage.faces.filter((_, i) => i !== f),
  ),
  planted: [{ kinds: ['open', 'not-flat'], at: middleOf(cage, cage.faces[f]!), near: 3 * edgeOf(cage, f) }],
});

/** Two edges in a row cut open: the vertex between them is there twice, once for the faces of either side. */
const slit: Plant = (cage, f, next) => {
  const t = topologyOf(cage);
  const [v, w] = cage.faces[f] as [number, number, number, number];
  if (!t.ok || t.value.rings[v]!.edges.length !== 4) return undefined;
  const mine = cage.faces.flatMap((face, g) => (face.includes(v) && face.includes(w) ? [g] : []));
  const towards = middleOf(
    cage,
    mine.flatMap((g) => cage.faces[g]!),
  );
  const at = cage.vertices[v]!;
  const copy = cage.vertices.length;
  const gap = between(next, 0.01, 0.1);
  return {
    cage: withVertices(
      cage,
      [triple((k) => at[k] + gap * (towards[k] - at[k]))],
      cage.faces.map((face, g) => (mine.includes(g) ? face.map((x) => (x === v ? copy : x)) : face)),
    ),
    planted: [{ kinds: ['slit'], at, near: 0.2 * edgeOf(cage, f) }],
  };
};

const PLANTS: readonly Plant[] = [doubled, parted, triangles, stray, hole, slit];
const plants = (panel: boolean): readonly Plant[] => (panel ? PLANTS.filter((p) => p !== hole) : PLANTS);

/** Faces of four sides whose neighbours all round are as plain, inside the skin, and none near another. */
function apart(cage: Cage, count: number, next: Chance): number[] {
  const t = topologyOf(cage);
  if (!t.ok) return [];
  const inside = (f: number): boolean => cage.faces[f]!.length === 4 && cage.faces[f]!.every((v) => !t.value.rings[v]!.border);
  const taken = new Set<number>();
  const out: number[] = [];
  for (let tries = 0; tries < 200 && out.length < count; tries++) {
    const f = whole(next, 0, cage.faces.length - 1);
    const about = new Set(cage.faces[f]!.flatMap((v) => t.value.rings[v]!.faces));
    const wide = [...about].flatMap((g) => cage.faces[g]!);
    if (![...about].every(inside) || wide.some((v) => taken.has(v))) continue;
    for (const v of wide) taken.add(v);
    out.push(f);
  }
  return out;
}

const said = (f: Finding): string => `${f.kind}: ${f.what} ${f.at.map((x) => x.toFixed(2)).join(' ')}`;

/** Of the seeds; all of them where every case is run. */
const EVERY = everyCase ? 1 : 2;

describe('random cages', () => {
  it('that are sound, with grooves, ridges and creases on purpose, are called faulty nowhere', () => {
    for (let seed = 1; seed <= 200; seed += EVERY) {
      const next = seeded(seed);
      let { cage, panel } = start(next);
      for (let k = whole(next, 0, 3); k > 0; k--) cage = worked(cage, next);
      expect([
        seed,
        findings(cage, panel)
          .filter((f) => f.grave)
          .map(said),
      ]).toEqual([seed, []]);
    }
  });
  it('with several faults have every one named at its place, and nothing grave anywhere else', () => {
    for (let seed = 1001; seed <= 1200; seed += EVERY) {
      const next = seeded(seed);
      const { cage: sound, panel } = start(next);
      let cage = sound;
      const planted: Planted[] = [];
      // From the last face on, so that those before keep their numbers.
      for (const f of apart(sound, whole(next, 1, 4), next).sort((a, b) => b - a)) {
        const able = plants(panel);
        const made = able[whole(next, 0, able.length - 1)]!(cage, f, next);
        if (!made) continue;
        cage = made.cage;
        planted.push(...made.planted);
      }
      const found = findings(cage, panel);
      const missed = planted.filter((p) => !found.some((f) => p.kinds.includes(f.kind) && distance(f.at, p.at) <= p.near));
      expect([seed, missed, found.filter((f) => missed.some((m) => m.kinds.includes(f.kind))).map(said)]).toEqual([seed, [], []]);
      const invented = found.filter((f) => f.grave && !planted.some((p) => distance(f.at, p.at) <= 2 * p.near));
      expect([seed, invented.map(said)]).toEqual([seed, []]);
      // What mends one leaves the rest of the cage where it is.
      for (const p of planted) {
        const fault = found.find((f) => p.kinds.includes(f.kind) && f.repair && distance(f.at, p.at) <= p.near);
        if (!fault || fault.kind === 'doubled' || fault.kind === 'not-flat') continue;
        const made = mended(cage, fault.repair!, { symmetry: NO_SYMMETRY, weigh: (w) => w, written: (w) => w });
        const left = made.ok ? made.value.cage.vertices : [];
        const off = left.filter((q) => distance(q, p.at) > 5 * p.near && !cage.vertices.some((v) => distance(v, q) < 1e-9));
        expect([seed, fault.kind, made.ok, off]).toEqual([seed, fault.kind, true, []]);
      }
    }
  });
  it('with a face turned over are refused as no surface, at that face', () => {
    for (let seed = 2001; seed <= 2040; seed++) {
      const next = seeded(seed);
      const { cage } = start(next);
      const [f] = apart(cage, 1, next);
      if (f === undefined) continue;
      const turned = withVertices(
        cage,
        [],
        cage.faces.map((face, i) => (i === f ? face.toReversed() : face)),
      );
      const found = findings(turned);
      expect([seed, found.map((x) => x.grave)]).toEqual([seed, [true]]);
      expect(distance(found[0]!.at, middleOf(cage, cage.faces[f]!))).toBeLessThan(2 * edgeOf(cage, f));
    }
  });
});
