/** The questions of the inspection page, answered for one built body. Plain data, so that it crosses a worker's border. */
import { materialOf } from '../core/brief/judge';
import { massOf } from '../core/brief/materials';
import { triple } from '../core/geometry/vectors';
import { type Ask, AXES, type CurvatureShown, directionOf, standardAsks, type Way } from '../core/inspect/asks';
import { combLines, curveLines } from '../core/inspect/combs';
import { type DeviationMap, deviationMap } from '../core/inspect/deviation';
import { draftMap } from '../core/inspect/draft';
import { type Facets, facetCount, facetsOf, type Histogram } from '../core/inspect/facets';
import { type Fit, fitInto, openingOf } from '../core/inspect/fit';
import { type JoinReading, joinClass, nearlySmooth } from '../core/inspect/joins';
import { type LabelMap, type LabelZone, labelZones } from '../core/inspect/label';
import type { LostMeasure, MeasureReading } from '../core/inspect/measured';
import { type OverhangMap, overhangMap } from '../core/inspect/overhang';
import { footprint, type Stand, standOf } from '../core/inspect/stand';
import { type Station, type SweepRow, sectionAt, sectionPlace, stationsAlong, stationsOf, sweep } from '../core/inspect/sweep';
import { type WallPlace, wallMap } from '../core/inspect/walls';
import { sharedBvh } from '../core/mesh/bvh';
import { bounds, diagonal, massProperties, reachAlong, type TriMesh } from '../core/mesh/mesh';
import { loopArea } from '../core/mesh/slice';
import type { Measurement, Project } from '../core/recipe/schema';
import type { KernelBody } from '../kernel/body';
import { exactWall } from '../kernel/exact-wall';
import { type FillRow, fillTable, heightFor, openMeshKernel } from '../kernel/hold';
import { type CombReading, edgeCombs, isoCombs, type Pinch, sectionCombs } from '../kernel/inspect/combs';
import { type CurvatureMap, curvatureMap, type TightRadius } from '../kernel/inspect/curvature';
import { measureJoins } from '../kernel/inspect/joins';
import { readMeasurement } from '../kernel/inspect/measure';
import type { Kernel } from '../kernel/open';
import { type BodyMesh, displayDeflection, tessellate, VERIFY_ANGLE } from '../kernel/tessellate';
import { knifeEdges, measureDeflection, measuringSkin, vesselOf, wallsOf } from './measure';

/** A coloured skin for the stage: corners unshared, a value for each facet, or the body's own corners with a value each. */
export interface Overlay {
  readonly positions: Float32Array;
  readonly indices: Uint32Array | null;
  /** Of the exact surfaces, at the corners; for what is mirrored. */
  readonly normals: Float32Array | null;
  readonly values: Float32Array;
  readonly per: 'facet' | 'corner';
  /** Values of the darkest and the lightest colour. */
  readonly from: number;
  readonly to: number;
  readonly unit: 'mm' | '°' | '1/mm' | '1/mm²';
}

/** Lines over the body: segments of six coordinates each, mm. */
export interface Stroke {
  readonly points: Float32Array;
  /** What they tell: fine, to be looked at, wrong, or plain. */
  readonly tone: 'good' | 'watch' | 'bad' | 'plain';
  readonly width: number;
}

export type Answer = {
  readonly body: string;
  readonly ms: number;
  readonly overlay: Overlay | null;
  readonly strokes: readonly Stroke[];
} & (
  | {
      readonly what: 'walls';
      readonly limit: number | null;
      readonly histogram: Histogram;
      readonly below: number | null;
      /** What is thinner by less than this does not count as below, mm. */
      readonly tolerance: number;
      readonly thinnest: readonly WallPlace[];
      readonly thickest: readonly WallPlace[];
      readonly change: { readonly rate: number; readonly at: readonly [number, number, number] } | null;
      readonly knives: readonly { readonly edge: string; readonly angle: number; readonly at: readonly [number, number, number] }[];
      readonly facets: number;
    }
  | { readonly what: 'sections'; readonly way: Way; readonly rows: readonly SweepRow[] }
  | {
      readonly what: 'curvature';
      readonly show: CurvatureShown;
      readonly convex: readonly TightRadius[];
      readonly concave: readonly TightRadius[];
    }
  | {
      readonly what: 'combs';
      readonly curves: readonly Omit<CombReading, 'curve'>[];
      readonly pinches: readonly Pinch[];
      /** Length of a tooth, mm, by curvature, 1/mm. */
      readonly scale: number;
    }
  | { readonly what: 'joins'; readonly joins: readonly JoinReading[] }
  /** Seen, not measured: the stage draws it from the exact normals. */
  | { readonly what: 'reflection' }
  | {
      readonly what: 'label';
      readonly limit: number;
      readonly zones: readonly Omit<LabelZone, 'border'>[];
      readonly saddles: LabelMap['saddles'];
    }
  | { readonly what: 'measure'; readonly list: readonly (MeasureReading | LostMeasure)[] }
  | {
      readonly what: 'draft';
      readonly limit: number;
      readonly below: number;
      readonly faces: readonly { readonly face: number; readonly area: number; readonly least: number }[];
      readonly undercutArea: number;
      readonly sideActions: number;
    }
  | ({ readonly what: 'overhang'; readonly limit: number } & Omit<OverhangMap, 'values'>)
  | ({
      readonly what: 'deviation';
      readonly tolerance: number;
      /** The body compared with; null where there is no other. */
      readonly from: string | null;
    } & Omit<DeviationMap, 'values'>)
  | {
      readonly what: 'holds';
      /** Null for a body that holds nothing. */
      readonly vessel: {
        readonly brim: number;
        readonly floor: number;
        readonly toBrim: number;
        readonly rows: readonly FillRow[];
        /** Height over the floor for the volume asked, mm; null for more than it holds. */
        readonly height: number | null;
      } | null;
      /** Of what is put in; null where nothing is, or there is no mouth to go through and floor to stand on. A body that leaks has them too. */
      readonly fit: Fit | null;
      /** mm². */
      readonly foot: number;
      readonly empty: Stand;
      /** Filled with water to the brim, by the material's density; null where one is not known. */
      readonly full: Stand | null;
    }
);

/** What every question of a skin begins with, kept as long as the skin. */
const divided = new WeakMap<TriMesh, Facets>();
const looks = new WeakMap<KernelBody, BodyMesh>();
const shows = new WeakMap<KernelBody, BodyMesh>();
const bends = new WeakMap<BodyMesh, CurvatureMap>();
const tables = new WeakMap<TriMesh, readonly FillRow[]>();
function remembered<K extends object, T>(of: WeakMap<K, T>, skin: K, make: () => T): T {
  let known = of.get(skin);
  if (!known) {
    known = make();
    of.set(skin, known);
  }
  return known;
}

/** What is told where there is no other body to compare with. */
const NOTHING: Omit<DeviationMap, 'values'> = {
  histogram: { from: 0, to: 1, areas: [] },
  mean: 0,
  rms: 0,
  within: 0,
  touching: 0,
  compared: 0,
  over: [],
  under: [],
};

/** Facets no longer than this share of the body's size carry the colours. */
const FINE = 1 / 70;

/** @param tick called with the share done; false gives up and the result is null */
export async function inspectBody(
  kernel: Kernel,
  project: Project,
  id: string,
  body: KernelBody,
  ask: Ask,
  tick: (share: number) => Promise<boolean>,
  meshKernelUrl?: string,
  all: ReadonlyMap<string, KernelBody> = new Map([[id, body]]),
): Promise<Answer | null> {
  const started = performance.now();
  const skin = measuringSkin(kernel, body);
  const size = diagonal(bounds(skin.positions));
  const done = <T extends object>(overlay: Overlay | null, rest: T, strokes: readonly Stroke[] = []) => ({
    body: id,
    ms: performance.now() - started,
    overlay,
    strokes,
    ...rest,
  });
  const facets = () => remembered(divided, skin, () => facetsOf(skin, size * FINE));
  const plain = (values: Float32Array, from: number, to: number, unit: Overlay['unit'], positions: Float32Array): Overlay => ({
    positions,
    indices: null,
    normals: null,
    values,
    per: 'facet',
    from,
    to,
    unit,
  });
  switch (ask.what) {
    case 'walls': {
      const f = facets();
      const sharp = knifeEdges(kernel, body);
      const wall = Math.max(1, ask.limit ?? size / 20);
      const tolerance = body.facets ? 0 : 2 * measureDeflection(size);
      const map = await wallMap(sharedBvh(skin), f, {
        method: ask.method,
        // On bulky bodies large balls cost most: what is far over the limit need not be known to the millimetre.
        cap: Math.min(size, 6 * wall),
        limit: ask.limit,
        tolerance,
        apart: size / 25,
        wedge: (a, b) => sharp.pairs.has(`${a},${b}`),
        tick,
      });
      if (!map) return null;
      const { values, ...rest } = map;
      const thinnest =
        ask.method === 'ball' && !body.surface ? await exactPlaces(kernel, body, map.thinnest, size / 25, tick) : map.thinnest;
      const from = Math.min(map.histogram.from, ask.limit ?? Number.POSITIVE_INFINITY);
      const to = Math.min(map.histogram.to, 3 * wall);
      return done(plain(values, from, Math.max(to, from + 1e-3), 'mm', f.positions), {
        ...rest,
        thinnest,
        tolerance,
        what: 'walls' as const,
        limit: ask.limit,
        knives: sharp.list,
        facets: facetCount(f),
      });
    }
    case 'sections': {
      const rows = await sweep(sharedBvh(skin), stationsFor(skin, ask.way, ask.rows), size / 2, tick);
      if (!rows) return null;
      const exact: SweepRow[] = [];
      for (const r of rows) {
        if (!(await tick(0.99))) return null;
        const spot = r.spot && !body.surface ? exactPlace(kernel, body, r.spot) : r.spot;
        // The mesh reads all of a section short by about the same: what its least was off mends the others.
        const off = spot && r.least !== null ? spot.thickness - r.least : 0;
        exact.push({
          ...r,
          spot,
          least: spot?.thickness ?? r.least,
          mean: r.mean === null ? null : r.mean + off,
          most: r.most === null ? null : r.most + off,
        });
      }
      return done(null, { what: 'sections' as const, way: ask.way, rows: exact });
    }
    case 'curvature': {
      if (body.facets) return done(null, { what: 'curvature' as const, show: ask.show, convex: [], concave: [] });
      const mesh = lookMesh(kernel, body, size, ENOUGH);
      const map = await bendsOf(kernel, body, mesh, tick);
      if (!map) return null;
      const values = shown(map.largest, map.smallest, ask.show);
      const [from, to] = spread(values);
      const overlay: Overlay = {
        positions: mesh.positions,
        indices: mesh.indices,
        normals: null,
        values,
        per: 'corner',
        from,
        to,
        unit: ask.show === 'gaussian' ? '1/mm²' : '1/mm',
      };
      return done(overlay, { what: 'curvature' as const, show: ask.show, convex: map.convex, concave: map.concave });
    }
    case 'joins': {
      const joins = await measureJoins(kernel, body, tick);
      return joins && done(null, { what: 'joins' as const, joins }, joinStrokes(joins));
    }
    case 'combs': {
      if (body.facets) return done(null, { what: 'combs' as const, curves: [], pinches: [], scale: 0 });
      const step = size / ask.density;
      const iso = ask.on === 'iso' ? await isoCombs(kernel, body, sharedBvh(skin), step, tick) : null;
      const curves =
        ask.on === 'edges'
          ? await edgeCombs(kernel, body, step, tick)
          : ask.on === 'section'
            ? await sectionCombs(kernel, body, sharedBvh(skin), stationAt(skin, ask.axis, ask.share), step, tick)
            : (iso?.curves ?? null);
      if (!curves) return null;
      const most = Math.max(1e-9, ...curves.flatMap((c) => (c.tightest ? [1 / c.tightest.radius] : [])));
      const scale = (ask.scale * size) / most;
      const strokes = curves.flatMap(({ curve }): Stroke[] => [
        { points: curveLines(curve), tone: 'plain', width: 2 },
        { points: combLines(curve, scale), tone: 'good', width: 1 },
      ]);
      return done(
        null,
        { what: 'combs' as const, curves: curves.map(({ curve: _, ...rest }) => rest), pinches: iso?.pinches ?? [], scale },
        strokes,
      );
    }
    case 'label': {
      if (body.facets) return done(null, { what: 'label' as const, limit: ask.limit, zones: [], saddles: [] });
      const mesh = lookMesh(kernel, body, size, ENOUGH);
      const bent = await bendsOf(kernel, body, mesh, (share) => tick(0.7 * share));
      if (!bent) return null;
      const gaussian = shown(bent.largest, bent.smallest, 'gaussian');
      const map = await labelZones({ ...mesh, gaussian }, ask.limit, ask.least, (share) => tick(0.7 + 0.3 * share));
      if (!map) return null;
      const { positions, indices } = mesh;
      const [from, to] = [-10 * ask.limit, 10 * ask.limit];
      return done(
        { positions, indices, normals: null, values: gaussian, per: 'corner', from, to, unit: '1/mm²' },
        { what: 'label' as const, limit: ask.limit, zones: map.zones.map(({ border: _, ...rest }) => rest), saddles: map.saddles },
        map.zones.map((z): Stroke => ({ points: z.border, tone: z.saddle ? 'watch' : 'good', width: 3 })),
      );
    }
    case 'measure':
      return done(null, measurements(kernel, all, ask.list));
    case 'reflection': {
      const { positions, normals, indices } = lookMesh(kernel, body, size, ENOUGH);
      const overlay: Overlay = {
        positions,
        normals,
        indices,
        values: new Float32Array(0),
        per: 'corner',
        from: 0,
        to: 1,
        unit: 'mm',
      };
      return done(overlay, { what: 'reflection' as const });
    }
    case 'draft': {
      const f = facets();
      const pull = AXES[ask.axis].map((c) => c * ask.sign) as [number, number, number];
      const map = await draftMap(sharedBvh(skin), f, pull, ask.parts, ask.limit, tick);
      if (!map) return null;
      // What can't be reached has a colour of its own.
      const degrees = map.values.map((v, i) => (map.undercut[i] ? Number.NEGATIVE_INFINITY : (v * 180) / Math.PI));
      return done(
        plain(degrees, 0, Math.max(10, (4 * ask.limit * 180) / Math.PI), '°', f.positions),
        {
          what: 'draft' as const,
          limit: ask.limit,
          below: map.below,
          faces: map.faces,
          undercutArea: map.undercutArea,
          sideActions: map.sideActions,
        },
        [{ points: map.parting, tone: 'bad', width: 2.5 }],
      );
    }
    case 'overhang': {
      const f = facets();
      const map = await overhangMap(skin, f, ask.limit, tick);
      if (!map) return null;
      const { values, ...rest } = map;
      return done(
        plain(
          values.map((v) => (v * 180) / Math.PI),
          0,
          90,
          '°',
          f.positions,
        ),
        { ...rest, what: 'overhang' as const, limit: ask.limit },
      );
    }
    case 'deviation': {
      const from = ask.from !== null && ask.from !== id && all.has(ask.from) ? ask.from : ([...all.keys()].find((b) => b !== id) ?? null);
      if (from === null)
        return (await tick(1)) ? done(null, { ...NOTHING, what: 'deviation' as const, from, tolerance: ask.tolerance }) : null;
      const other = measuringSkin(kernel, all.get(from)!);
      const f = facets();
      const map = await deviationMap(f, other, ask.tolerance, size / 15, tick);
      if (!map) return null;
      const { values, ...rest } = map;
      const most = Math.max(ask.tolerance, Math.min(4 * ask.tolerance, 3 * rest.rms), 1e-3);
      return done(plain(values, -most, most, 'mm', f.positions), { ...rest, what: 'deviation' as const, from, tolerance: ask.tolerance });
    }
    case 'holds': {
      const rest = await holds(kernel, project, id, body, skin, ask, meshKernelUrl, tick);
      return rest && done(null, rest);
    }
  }
}

/** The gauge's own thinnest place, which is searched for, and those of a map, measured again on the exact surfaces; thinnest first. */
async function exactPlaces(
  kernel: Kernel,
  body: KernelBody,
  places: readonly WallPlace[],
  apart: number,
  tick: (share: number) => Promise<boolean>,
): Promise<WallPlace[]> {
  const gauge = (await wallsOf(kernel, body, () => tick(0.99)))?.thinnest;
  const others = places
    .filter((p) => !gauge || Math.hypot(...p.at.map((x, k) => x - gauge.at[k]!)) > apart)
    .slice(0, 7)
    .map((p) => exactPlace(kernel, body, p))
    .sort((a, b) => a.thickness - b.thickness);
  if (!gauge) return others;
  // Places alike to a thousandth are the same wall: the gauge's own stands for them.
  return others[0] && others[0].thickness < gauge.thickness - 1e-3 ? [...others, gauge] : [gauge, ...others];
}

/** A place measured again on the exact surfaces; a body of facets has none. */
const exactPlace = (kernel: Kernel, body: KernelBody, p: WallPlace): WallPlace =>
  body.facets ? p : { ...p, thickness: exactWall(kernel, body, p).thickness };

const shown = (largest: Float32Array, smallest: Float32Array, show: CurvatureShown): Float32Array => {
  switch (show) {
    case 'largest':
      return largest;
    case 'smallest':
      return smallest;
    case 'mean':
      return largest.map((a, i) => (a + smallest[i]!) / 2);
    case 'gaussian':
      return largest.map((a, i) => a * smallest[i]!);
  }
};

/** Corners from which on the mesh a body is shown with is fine enough to look at closely. */
const ENOUGH = 8_000;
/** Facets to look at closely turn by at most this, rad. */
const FINE_ANGLE = 0.06;

/**
 * A mesh to look at closely, with the exact normals at its corners.
 * @param enough corners from which on the one a body is shown with is fine enough
 */
function lookMesh(kernel: Kernel, body: KernelBody, size: number, enough: number): BodyMesh {
  const shown = remembered(
    shows,
    body,
    () => body.mesh ?? tessellate(kernel, body.shape, displayDeflection(kernel, body.shape), VERIFY_ANGLE),
  );
  if (body.facets || shown.positions.length / 3 > enough) return shown;
  return remembered(looks, body, () => tessellate(kernel, body.shape, 0.4 * measureDeflection(size), FINE_ANGLE));
}

/** Curvature at the corners of a mesh, worked out once. */
async function bendsOf(kernel: Kernel, body: KernelBody, mesh: BodyMesh, tick: (share: number) => Promise<boolean>) {
  if (!(await tick(0))) return null;
  const map = bends.get(mesh) ?? (await curvatureMap(kernel, body, mesh, tick));
  if (map) bends.set(mesh, map);
  return map;
}

/** Where colours begin and end: between the 2nd and the 98th of a hundred, so that one tight corner does not darken all else. */
function spread(values: Float32Array): [number, number] {
  const sorted = values.filter((v) => Number.isFinite(v)).sort();
  if (sorted.length === 0) return [0, 1];
  const [a, b] = [sorted[Math.floor(0.02 * (sorted.length - 1))]!, sorted[Math.floor(0.98 * (sorted.length - 1))]!];
  return b > a ? [a, b] : [a - 1e-3, a + 1e-3];
}

/** Water, g/mm³. */
const WATER = 1e-3;

async function holds(
  kernel: Kernel,
  project: Project,
  id: string,
  body: KernelBody,
  skin: TriMesh,
  ask: Extract<Ask, { what: 'holds' }>,
  meshKernelUrl: string | undefined,
  tick: (share: number) => Promise<boolean>,
) {
  if (!(await tick(0.1))) return null;
  const m = await openMeshKernel(meshKernelUrl);
  const held = await vesselOf(kernel, body, meshKernelUrl);
  if (!(await tick(0.6))) return null;
  const rows = held ? (tables.get(skin) ?? (await fillTable(skin, held, m, 16))) : [];
  tables.set(skin, rows);
  if (!(await tick(0.9))) return null;
  const { volume, centroid } = massProperties(skin);
  const foot = footprint(skin);
  const ground = bounds(skin.positions).min[2];
  const mass = massOf(volume, materialOf(project, id));
  const last = rows.at(-1);
  const water = held ? held.toBrim * WATER : 0;
  const full =
    mass !== undefined && last
      ? standOf(
          foot,
          ground,
          triple((k) => (mass * centroid[k]! + water * last.centre[k]!) / (mass + water)),
        )
      : null;
  const opening = held?.mouth ? { ...held, centre: held.mouth.centre } : ask.object ? openingOf(sharedBvh(skin)) : null;
  return {
    what: 'holds' as const,
    vessel: held && {
      brim: held.brim,
      floor: held.floor,
      toBrim: held.toBrim,
      rows,
      height: ask.wanted === null ? null : await heightFor(skin, held, ask.wanted, m),
    },
    fit: ask.object && opening ? fitInto(sharedBvh(skin), ask.object, opening.centre, opening.floor, opening.brim) : null,
    foot: Math.abs(loopArea(foot)),
    empty: standOf(foot, ground, centroid),
    full,
  };
}

/** The planes of a sweep. */
function stationsFor(skin: TriMesh, way: Way, count: number): Station[] {
  if (way.by === 'path') return stationsOf(way.line, count);
  const normal = directionOf(way);
  return stationsAlong(normal, ...reachAlong(skin.positions, normal), count);
}

function stationAt(skin: TriMesh, axis: keyof typeof AXES, share: number): Station {
  const normal = AXES[axis];
  const [from, to] = reachAlong(skin.positions, normal);
  // A plane that runs along a face tells nothing: never quite at an end.
  const offset = from + (to - from) * Math.min(0.999, Math.max(0.001, share));
  return { place: offset, normal, offset };
}

const TONES = { open: 'bad', G0: 'plain', G1: 'watch', G2: 'good' } as const;
/** Edges by how their faces meet; those that were meant to be smooth and aren't stand out. */
function joinStrokes(joins: readonly JoinReading[]): Stroke[] {
  return joins.map((j) => {
    const points = Float32Array.from(j.places.slice(1).flatMap((p, i) => [...j.places[i]!, ...p]));
    return nearlySmooth(j) ? { points, tone: 'bad', width: 5 } : { points, tone: TONES[joinClass(j)], width: 3 };
  });
}

/** Measurements of the document, as the bodies stand. */
export const measurements = (kernel: Kernel, bodies: ReadonlyMap<string, KernelBody>, list: readonly Measurement[]) => ({
  what: 'measure' as const,
  list: list.map((m) => readMeasurement(kernel, bodies, m)),
});

/** Outlines of one section, in the plane's own coordinates and as places in space, mm. */
export function sectionOutlines(kernel: Kernel, body: KernelBody, station: Station) {
  const section = sectionAt(measuringSkin(kernel, body), station);
  return {
    loops: section.loops.map((l) => l.map(([x, y]) => [x, y] as [number, number])),
    places: section.loops.map((l) => l.map((p) => sectionPlace(section, station.normal, station.offset, p))),
  };
}

/** Every question asked as it first stands, one after the other. @param tick called with the share of all; false gives up, result null */
export async function inspectAll(
  kernel: Kernel,
  project: Project,
  id: string,
  body: KernelBody,
  limit: number | null,
  tick: (share: number) => Promise<boolean>,
  meshKernelUrl?: string,
  all?: ReadonlyMap<string, KernelBody>,
): Promise<Answer[] | null> {
  // What is only looked at has no numbers.
  const alone = (all?.size ?? 1) < 2;
  const asks = Object.values(standardAsks(limit)).filter((a) => a.what !== 'reflection' && !(alone && a.what === 'deviation'));
  const out: Answer[] = [];
  for (const [i, standard] of asks.entries()) {
    const ask = standard.what === 'measure' ? { ...standard, list: project.measures ?? [] } : standard;
    const answer = await inspectBody(kernel, project, id, body, ask, (share) => tick((i + share) / asks.length), meshKernelUrl, all);
    if (!answer) return null;
    // Colours are for the stage.
    out.push({ ...answer, overlay: null, strokes: [] });
  }
  return out;
}
