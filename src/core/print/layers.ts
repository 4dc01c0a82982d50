/** A body layer by layer, as it is laid down: what each layer is, what begins in the air, and rooms that nothing gets out of. */
import type { Vec3 } from '../geometry/vectors';
import { massProperties, type TriMesh } from '../mesh/mesh';
import { levelPlace, loopArea, type Region, regions, regionsMeet, sliceMesh } from '../mesh/slice';
import { topologyOf } from '../scan/topology';
import { PER_LAYER, type Printer } from './printer';

type P2 = readonly [number, number];

interface Island {
  readonly layer: number;
  /** mm² of its first layer. */
  readonly area: number;
  readonly at: P2;
}

export interface Layers {
  /** mm² of each, cut at half its height. */
  readonly areas: readonly number[];
  /** Pieces that begin on nothing. */
  readonly islands: readonly Island[];
  /** Round all layers, mm: least and most of x, least and most of y. */
  readonly box: readonly [number, number, number, number];
}

/** At most so many layers are looked at: more would be a body of many metres, or layers of nothing. */
const MOST_LAYERS = 20_000;
/** Layers before something else may come first. */
const PORTION = 8;
/** Less of a layer begins as a corner of what is beside it, mm². */
const LEAST_ISLAND = 1e-3;

export const layerCount = (mesh: TriMesh, layer: number): number => {
  const { positions: p } = mesh;
  let high = 0;
  for (let i = 2; i < p.length; i += 3) high = Math.max(high, p[i]!);
  // What is left over above half a layer is one more.
  return Math.max(1, Math.ceil(high / layer - 0.5));
};

/** The outlines of a layer, counted from nought, on the bed. @param mesh laid, its lowest place at nought */
export const layerAt = (mesh: TriMesh, layer: number, k: number): P2[][] =>
  sectionAt(mesh, layer, k).loops.map((loop) => loop.map(levelPlace));

const sectionAt = (mesh: TriMesh, layer: number, k: number) => sliceMesh(mesh, { normal: [0, 0, 1], offset: (k + 0.5) * layer });

/**
 * All layers. @param mesh laid, its lowest place at nought @param tick called between portions; false gives up and the result is null
 */
export async function layersOf(mesh: TriMesh, layer: number, tick: () => Promise<boolean> = async () => true): Promise<Layers | null> {
  const count = Math.min(MOST_LAYERS, layerCount(mesh, layer));
  const areas: number[] = [];
  const islands: Island[] = [];
  const box: [number, number, number, number] = [Infinity, -Infinity, Infinity, -Infinity];
  let below: readonly Region[] = [];
  for (let k = 0; k < count; k++) {
    if (k % PORTION === 0 && !(await tick())) return null;
    const section = sectionAt(mesh, layer, k);
    areas.push(Math.abs(section.loops.reduce((s, l) => s + loopArea(l), 0)));
    const here = regions(section);
    for (const { outer, holes } of here) {
      for (const q of outer) {
        const [x, y] = levelPlace(q);
        [box[0], box[1], box[2], box[3]] = [Math.min(box[0], x), Math.max(box[1], x), Math.min(box[2], y), Math.max(box[3], y)];
      }
      const area = Math.abs(loopArea(outer)) - holes.reduce((s, h) => s + Math.abs(loopArea(h)), 0);
      if (k === 0 || area < LEAST_ISLAND || below.some((s) => regionsMeet({ outer, holes }, s))) continue;
      islands.push({ layer: k, area, at: levelPlace(outer[0]!) });
    }
    below = here;
  }
  return { areas, islands, box };
}

/** Seconds that a layer of an area takes, by the printer's line and speed. */
export const layerSeconds = ({ line, speed, pace }: Printer, area: number): number => pace * (area / (line * speed) + PER_LAYER);

/** A room inside that no opening leads into. */
export interface ClosedRoom {
  /** mm³ */
  readonly volume: number;
  /** A place on its skin. */
  readonly at: Vec3;
}

/** Rooms inside a closed skin: parts of it by themselves that look inwards. The largest first. */
export function closedRooms(mesh: TriMesh): ClosedRoom[] {
  const { positions: p, indices } = mesh;
  const { islandOf, islands } = topologyOf(mesh);
  if (islands.length < 2) return [];
  const parts = islands.map((): number[] => []);
  islandOf.forEach((island, t) => {
    parts[island]!.push(t);
  });
  const rooms: ClosedRoom[] = [];
  for (const list of parts) {
    const own = Uint32Array.from(list.flatMap((t) => [indices[3 * t]!, indices[3 * t + 1]!, indices[3 * t + 2]!]));
    const { volume } = massProperties({ positions: p, indices: own, faceOf: new Uint32Array(list.length) });
    const i = 3 * own[0]!;
    if (volume < 0) rooms.push({ volume: -volume, at: [p[i]!, p[i + 1]!, p[i + 2]!] });
  }
  return rooms.sort((a, b) => b.volume - a.volume);
}
