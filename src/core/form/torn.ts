/** Where a cage's skin is torn or passes through itself: slits between its borders, and crossings of what it is refined to. */
import { distance, dot, unit } from '../geometry/vectors';
import { crossingApart, selfCrossings } from '../mesh/self-crossings';
import type { Cage, Net, P3 } from './cage';
import { borderLoops, type Topology } from './edit/topology';
import { levelWithin, limitSkin } from './skin';
import { faceNormal } from './starts';

/** Borders nearer to each other than this share of their edges are a slit. */
const SLIT = 0.15;
/** Cosine of the angle between faces that look away from each other. */
const AWAY = -0.5;
/** Triangles of the skin that are looked through for places where it passes through itself. */
const MOST_TRIANGLES = 60_000;
/** Crossings shorter than this share of the size: facets of a tight place graze each other a little. */
export const GRAZES = 1e-4;

/** Faces whose smooth skins pass through each other, with a place and how long the line is that they share, mm. */
export function crossings(net: Net, size: number): { f: number; g: number; at: P3; length: number }[] {
  const skin = limitSkin(net, levelWithin(net, 3, 1, MOST_TRIANGLES));
  const { faceOf } = skin.mesh;
  const out = new Map<string, { f: number; g: number; at: P3; length: number }>();
  for (const c of selfCrossings(skin, crossingApart(size))) {
    const [f, g] = [Math.min(faceOf[c.a]!, faceOf[c.b]!), Math.max(faceOf[c.a]!, faceOf[c.b]!)];
    const known = out.get(`${f} ${g}`);
    if (known) known.length += c.length;
    else out.set(`${f} ${g}`, { f, g, at: c.at, length: c.length });
  }
  return [...out.values()].filter((c) => c.length > GRAZES * size);
}

export interface Slit {
  /** Where it is widest. */
  readonly at: P3;
  /** How wide, mm. */
  readonly gap: number;
  readonly edges: number;
  /** Of both sides. */
  readonly vertices: readonly number[];
}

/** Borders that run so near to each other that they can only be meant as one, but are farther apart than doubled vertices. */
export function slitsIn(cage: Cage, t: Topology, near: number): Slit[] {
  const rows = borderLoops(t);
  const all = rows.flat();
  const normalsAt = (v: number): P3[] =>
    t.rings[v]!.faces.map((f) => unit(faceNormal(cage.faces[f]!.map((w) => cage.vertices[w]!))) ?? [0, 0, 0]);
  const lookAway = (v: number, u: number): boolean => {
    const others = normalsAt(u);
    return normalsAt(v).some((n) => others.some((m) => dot(n, m) < AWAY));
  };
  return rows.flatMap((row) => {
    const found = new Set<number>();
    let [gap, at]: [number, P3] = [0, [0, 0, 0]];
    let pairs = 0;
    row.forEach((v, i) => {
      const [before, next] = [row.at(i - 1)!, row[(i + 1) % row.length]!];
      const p = cage.vertices[v]!;
      const reach = SLIT * Math.min(distance(p, cage.vertices[before]!), distance(p, cage.vertices[next]!));
      for (const u of all) {
        if (u === v || u === before || u === next) continue;
        const d = distance(p, cage.vertices[u]!);
        // The two sides of a fin or a groove that ends in the border look away from each other.
        if (!(d > near && d < reach) || lookAway(v, u)) continue;
        pairs++;
        found.add(v).add(u);
        if (d > gap) [gap, at] = [d, p];
      }
    });
    // Both sides of a slit see it.
    return pairs > 1 ? [{ at, gap, edges: pairs / 2 + 1, vertices: [...found] }] : [];
  });
}
