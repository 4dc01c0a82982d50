/**
 * What a vessel holds: the void inside its bounding box, cut off at a level, falls into parts; those that
 * touch neither the sides nor the bottom of the box are basins. The brim is the highest level that still
 * has one. Side holes, spouts and sealed voids come out right.
 */
import Module, { type Manifold, type ManifoldToplevel } from 'manifold-3d';
import { bounds, massProperties, type TriMesh } from '../core/mesh/mesh';
import { largestHole, levelPlace, loopArea, loopCentroid, sliceMesh } from '../core/mesh/slice';

let loading: Promise<ManifoldToplevel> | undefined;

/** @param wasmUrl where the mesh library's binary is served; left out in Node */
export function openMeshKernel(wasmUrl?: string): Promise<ManifoldToplevel> {
  loading ??= Module(wasmUrl ? ({ locateFile: () => wasmUrl } as never) : undefined).then((m) => {
    m.setup();
    loaded = m;
    return m;
  });
  return loading;
}

let loaded: ManifoldToplevel | undefined;

/** The mesh library, once it is open. */
export const meshKernel = (): ManifoldToplevel | undefined => loaded;

export interface Holding {
  /** Level above which it runs over, mm. */
  readonly brim: number;
  /** Lowest point of the cavity, mm. */
  readonly floor: number;
  /** Volume to the brim, mm³. */
  readonly toBrim: number;
  /** Volume to the level asked, mm³; null where the level lies outside the cavity. */
  readonly toLevel: number | null;
  /** Narrowest clear diameter in the top 3 mm, mm. */
  readonly mouth: { readonly diameter: number; readonly centre: readonly [number, number]; readonly depth: number } | null;
}

export const toManifold = (m: ManifoldToplevel, mesh: TriMesh): Manifold =>
  m.Manifold.ofMesh(new m.Mesh({ numProp: 3, vertProperties: Float32Array.from(mesh.positions), triVerts: mesh.indices }));

/** What a level holds. */
interface Basins {
  /** mm³. */
  readonly volume: number;
  /** Lowest place, mm. */
  readonly floor: number;
  /** Centre of what is in them, mm; undefined where there is nothing. */
  readonly centre: [number, number, number] | undefined;
}

/** The void a body could be filled in, and what of it a level holds. @param own keeps what must be freed */
function fillable(
  mesh: TriMesh,
  m: ManifoldToplevel,
  own: <T extends { delete(): void }>(x: T) => T,
): (level: number, centred?: boolean) => Basins {
  const box = bounds(mesh.positions);
  const solid = own(toManifold(m, mesh));
  const size = box.max.map((v, k) => v - box.min[k]! + 2) as [number, number, number];
  const frame = own(own(m.Manifold.cube(size)).translate([box.min[0] - 1, box.min[1] - 1, box.min[2] - 1]));
  // Voids that no surface joins to the outside can't be filled: they count as solid here.
  let filled = solid;
  for (const part of own(frame.subtract(solid)).decompose()) {
    own(part);
    if (part.volume() > 0 && part.boundingBox().min[2] > box.min[2] - 0.5) filled = own(filled.add(part));
  }
  const space = own(frame.subtract(filled));
  return (level, centred = false) => {
    const below = own(space.trimByPlane([0, 0, -1], -level));
    let volume = 0;
    let floor = Infinity;
    const moment: [number, number, number] = [0, 0, 0];
    for (const part of below.decompose()) {
      own(part);
      const b = part.boundingBox();
      const touches =
        b.min[0] < box.min[0] - 0.5 ||
        b.max[0] > box.max[0] + 0.5 ||
        b.min[1] < box.min[1] - 0.5 ||
        b.max[1] > box.max[1] + 0.5 ||
        b.min[2] < box.min[2] - 0.5;
      const v = part.volume();
      if (touches || v < 1e-6) continue;
      volume += v;
      floor = Math.min(floor, b.min[2]);
      if (centred) {
        const { centroid } = massProperties(fromManifold(part));
        for (let k = 0; k < 3; k++) moment[k] = moment[k]! + v * centroid[k]!;
      }
    }
    return { volume, floor, centre: centred && volume > 0 ? (moment.map((x) => x / volume) as [number, number, number]) : undefined };
  };
}

/** A mesh back from the mesh library. */
export function fromManifold(part: Manifold): TriMesh {
  const { numProp, vertProperties, triVerts } = part.getMesh();
  const positions = new Float64Array((vertProperties.length / numProp) * 3);
  for (let v = 0; v < positions.length / 3; v++) for (let k = 0; k < 3; k++) positions[3 * v + k] = vertProperties[v * numProp + k]!;
  return { positions, indices: triVerts, faceOf: new Uint32Array(triVerts.length / 3) };
}

/** Frees all that was made on the way, whatever happens. */
async function freeing<T>(work: (own: <X extends { delete(): void }>(x: X) => X) => Promise<T>): Promise<T> {
  const owned: { delete(): void }[] = [];
  try {
    return await work((x) => {
      owned.push(x);
      return x;
    });
  } finally {
    for (const o of owned) o.delete();
  }
}

export interface FillRow {
  /** Height of the level over the lowest place of the cavity, mm. */
  readonly height: number;
  /** mm³. */
  readonly volume: number;
  /** Centre of the contents, mm. */
  readonly centre: readonly [number, number, number];
}

/** Volume by fill height, from the floor to the brim, on the mesh exactly. */
export const fillTable = (mesh: TriMesh, held: Pick<Holding, 'brim' | 'floor'>, m: ManifoldToplevel, rows = 24): Promise<FillRow[]> =>
  freeing(async (own) => {
    const basins = fillable(mesh, m, own);
    return Array.from({ length: rows }, (_, i) => {
      const height = ((held.brim - held.floor) * (i + 1)) / rows;
      const { volume, centre } = basins(held.floor + height - (i === rows - 1 ? 1e-3 : 0), true);
      return { height, volume, centre: centre ?? [0, 0, held.floor] };
    });
  });

/** The height over the floor at which a vessel holds a volume (mm³), by halving, mm. Null for more than it holds. */
export const heightFor = (
  mesh: TriMesh,
  held: Pick<Holding, 'brim' | 'floor' | 'toBrim'>,
  volume: number,
  m: ManifoldToplevel,
): Promise<number | null> =>
  freeing(async (own) => {
    if (!(volume > 0) || volume > held.toBrim) return null;
    const basins = fillable(mesh, m, own);
    let [low, high] = [0, held.brim - held.floor];
    for (let k = 0; k < 18; k++) {
      const middle = (low + high) / 2;
      if (basins(held.floor + middle).volume < volume) low = middle;
      else high = middle;
    }
    return (low + high) / 2;
  });

/**
 * @param levelBelowBrim distance of the fill line below the brim, mm
 * @returns null for a body that holds nothing
 */
export const holding = (
  mesh: TriMesh,
  levelBelowBrim: number,
  m: ManifoldToplevel,
  tick: () => Promise<boolean> = async () => true,
): Promise<Holding | null> =>
  freeing(async (own) => {
    const basins = fillable(mesh, m, own);
    const heights = [
      ...new Set(Array.from({ length: mesh.positions.length / 3 }, (_, i) => Math.round(mesh.positions[3 * i + 2]! * 1e4) / 1e4)),
    ].sort((a, b) => a - b);
    // Scan down for a level with a basin, then bisect over the vertex heights for the highest.
    const just = 1e-3;
    let lowIndex = -1;
    let highIndex = heights.length;
    for (const share of [1, 0.995, 0.98, 0.95, 0.9, 0.8, 0.65, 0.5, 0.3, 0.1]) {
      if (!(await tick())) return null;
      const i = Math.max(1, Math.round((heights.length - 1) * share));
      if (basins(heights[i]! - just).volume > 0) {
        lowIndex = i;
        break;
      }
      highIndex = i;
    }
    if (lowIndex < 0) return null;
    while (highIndex - lowIndex > 1) {
      if (!(await tick())) return null;
      const mid = (lowIndex + highIndex) >> 1;
      if (basins(heights[mid]! - just).volume > 0) lowIndex = mid;
      else highIndex = mid;
    }
    const brim = heights[lowIndex]!;
    const full = basins(brim - just);
    // The last thousandth of a millimetre, by the area just below it.
    const areaAt = (z: number): number =>
      sliceMesh(mesh, { normal: [0, 0, 1], offset: z })
        .loops.map(loopArea)
        .filter((a) => a < 0)
        .reduce((a, b) => a - b, 0);
    const toBrim = full.volume + just * areaAt(brim - just);
    const level = brim - levelBelowBrim;
    const toLevel = level > full.floor + just && level <= brim + 1e-9 ? (levelBelowBrim < just ? toBrim : basins(level).volume) : null;
    return { brim, floor: full.floor, toBrim, toLevel, mouth: mouthDiameter(mesh, brim, full.floor) };
  });

/** Narrowest clear circle of the cavity's outlines in the top 3 mm. */
function mouthDiameter(mesh: TriMesh, brim: number, floor: number): Holding['mouth'] {
  const depth = Math.min(3, 0.5 * (brim - floor));
  let best: { diameter: number; centre: [number, number]; depth: number } | null = null;
  for (const share of [0.002, 0.1, 0.25, 0.45, 0.7, 1]) {
    const largest = largestHole(mesh, brim - share * depth - 1e-4);
    if (!largest) continue;
    const [cx, cy] = loopCentroid(largest);
    // Outlines of turned bodies have their corners on the true circle.
    const r = Math.min(...largest.map(([x, y]) => Math.hypot(x - cx, y - cy)));
    if (best === null || 2 * r < best.diameter) best = { diameter: 2 * r, centre: levelPlace([cx, cy]), depth };
  }
  return best;
}
