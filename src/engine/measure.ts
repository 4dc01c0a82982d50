/** Gauges of a built body, the limits of a wall before it is made, and the drawing data of the stage. */

import type { GaugeDefinition } from '../core/brief/gauges';
import { materialOf } from '../core/brief/judge';
import { evaluateAs, type Scope } from '../core/dimensions/expression';
import { formDeviation } from '../core/form/deviation';
import { cross, minus, triple, type Vec3 } from '../core/geometry/vectors';
import { type Bounds, diagonal, massProperties, openEdgeCount, bounds as pointBounds, type TriMesh } from '../core/mesh/mesh';
import { farthestFrom, planOf } from '../core/mesh/plan';
import { measureWall, type WallReport } from '../core/mesh/wall';
import type { Project } from '../core/recipe/schema';
import { bodyWords, faceWords } from '../core/recipe/words';
import { topologyOf } from '../core/scan/topology';
import { degrees, formatLength } from '../core/units/units';
import { areaOf, volumeOf } from '../kernel/amounts';
import type { KernelBody } from '../kernel/body';
import { cornerAt } from '../kernel/edges';
import { exactWall } from '../kernel/exact-wall';
import { facetKnives, facetLines } from '../kernel/facets';
import { type Holding, holding, openMeshKernel } from '../kernel/hold';
import { namedEdges } from '../kernel/names';
import { type Kernel, scoped } from '../kernel/open';
import { withBorders } from '../kernel/scans';
import { boundsOf, distanceBetween, facesOf, lengthOf } from '../kernel/shapes';
import { borderLoops } from '../kernel/surface';
import { type WallLimits, wallLimits } from '../kernel/swallow';
import {
  type BodyMesh,
  displayDeflection,
  edgeLines,
  finenessFor,
  roughOf,
  tessellate,
  turnFor,
  VERIFY_ANGLE,
  weldedMesh,
} from '../kernel/tessellate';
import { turnedAmounts, turnedFaceAreas, turnedForecast, turnedKnives, turnedScene, turnedVessel, turnedWalls } from './turned-measure';
import type { BodyScene, KnifeEdges, MeasureResult, Side, WallForecast } from './types';

/** Facets turn by at most this in a measuring mesh, rad. */
const MEASURE_ANGLE = 0.2;

/** Fine enough that a round cavity's volume is right to 0.1 % (the tests hold it to that), mm. */
export const measureDeflection = (size: number): number => Math.min(0.03, Math.max(0.001, size / 8000));

/** Skins that were measured lately, by body: the gauges and every question of the inspection page use the same one. */
const skins = new WeakMap<KernelBody, TriMesh>();

/** The skin a body is measured on, or the facets it consists of. */
export function measuringSkin(kernel: Kernel, body: KernelBody): TriMesh {
  let skin = skins.get(body);
  if (!skin) {
    const size = diagonal(boundsOf(kernel, body.shape, roughOf(kernel, body)));
    const count = body.faces.length;
    skin = weldedMesh(
      body.facets && body.mesh
        ? body.mesh
        : tessellate(kernel, body.shape, finenessFor(count, measureDeflection(size)), turnFor(count, MEASURE_ANGLE)),
    );
    skins.set(body, skin);
  }
  return skin;
}

/** What bodies that were measured lately hold. */
const vessels = new WeakMap<KernelBody, Holding | null>();

/** What a body holds to the brim; null for one that holds nothing. */
export async function vesselOf(kernel: Kernel, body: KernelBody, meshKernelUrl?: string): Promise<Holding | null> {
  const known = vessels.get(body);
  if (known !== undefined) return known;
  const turned = body.turned && turnedVessel(body.turned, 0);
  if (turned !== undefined) {
    vessels.set(body, turned);
    return turned;
  }
  const held = await holding(measuringSkin(kernel, body), 0, await openMeshKernel(meshKernelUrl));
  vessels.set(body, held);
  return held;
}

const walls = new WeakMap<KernelBody, WallReport>();

/** Thinnest wall of a solid, on its exact surfaces, and its thickest; null where the tick gave up. */
export async function wallsOf(kernel: Kernel, body: KernelBody, tick: () => Promise<boolean>): Promise<WallReport | null> {
  const known = walls.get(body);
  if (known) return known;
  if (body.turned) {
    const report = turnedWalls(body, body.turned, knifeEdges(kernel, body));
    walls.set(body, report);
    return report;
  }
  const sharp = knifeEdges(kernel, body);
  const found = await measureWall(measuringSkin(kernel, body), { samples: 12_000, tick, wedge: (a, b) => sharp.pairs.has(`${a},${b}`) });
  if (!found) return null;
  // On the exact surfaces another of the thin places may be the thinnest: a mesh reads a sharp ridge short.
  const exact = body.facets ? found.candidates : found.candidates.map((s) => ({ ...s, ...exactWall(kernel, body, s) }));
  const thinnest = exact.toSorted((a, b) => a.thickness - b.thickness)[0] ?? null;
  // A mesh reads a round wall a hair short all over: where a wall is everywhere the same, no place is thinner than the thinnest.
  const { thickest: widest } = found;
  const thickest = thinnest && widest && widest.thickness < thinnest.thickness ? { ...widest, thickness: thinnest.thickness } : widest;
  const report = { ...found, thinnest, thickest };
  walls.set(body, report);
  return report;
}

/** Interior angle below which an edge is a knife edge, degrees. */
const KNIFE_EDGE = 60;
/** Faces that turn by more at a convex edge pinch the solid between them, rad. */
const ACUTE = Math.PI / 2 + 0.05;

/** Pairs of faces that meet at an acute convex edge, and the sharpest such edges with their interior angle in degrees. */
export function knifeEdges(kernel: Kernel, body: KernelBody): KnifeEdges {
  let known = knives.get(body);
  if (!known) {
    known = findKnifeEdges(kernel, body);
    knives.set(body, known);
  }
  return known;
}

const knives = new WeakMap<KernelBody, KnifeEdges>();

function findKnifeEdges(kernel: Kernel, body: KernelBody): KnifeEdges {
  if (body.turned) return turnedKnives(body, body.turned, KNIFE_EDGE);
  if (body.facets && body.mesh) {
    const { pairs, list } = facetKnives(weldedMesh(body.mesh), body.faces, ACUTE);
    const sharp = list.map((k) => ({ ...k, angle: degrees(k.angle) })).filter((k) => k.angle < KNIFE_EDGE);
    return { pairs, list: sharp.sort((x, y) => x.angle - y.angle) };
  }
  const faces = facesOf(kernel, body.shape);
  const pairs = new Set<string>();
  const list: { edge: string; angle: number; at: readonly [number, number, number] }[] = [];
  for (const e of namedEdges(kernel, body)) {
    if (e.name === '' || e.faces.length !== 2) continue;
    const [a, b] = e.faces as [number, number];
    const corner = cornerAt(kernel, e.edge, faces[a]!, faces[b]!, 0.37);
    if (corner?.kind !== 'convex' || corner.turn < ACUTE) continue;
    pairs.add(`${a},${b}`).add(`${b},${a}`);
    const angle = 180 - degrees(corner.turn);
    if (angle < KNIFE_EDGE) list.push({ edge: e.name, angle, at: corner.at });
  }
  return { pairs, list: list.sort((x, y) => x.angle - y.angle) };
}

/** The clear width again on the exact surfaces, as the distance of the mouth's own axis from them. */
function exactMouth(kernel: Kernel, body: KernelBody, mouth: NonNullable<Holding['mouth']>, brim: number): number {
  const [x, y] = mouth.centre;
  const exact = scoped((s) => {
    const a = s.keep(new kernel.gp_Pnt(x, y, brim));
    const b = s.keep(new kernel.gp_Pnt(x, y, brim - mouth.depth));
    return distanceBetween(kernel, s.keep(new kernel.BRepBuilderAPI_MakeEdge(a, b)).Edge(), body.shape)?.distance;
  });
  // Something standing in the mouth would be nearer than its rim: then the outline's own figure holds.
  return exact !== undefined && Math.abs(2 * exact - mouth.diameter) < 0.02 * mouth.diameter ? 2 * exact : mouth.diameter;
}

/** Whether a body holds anything on the coarser mesh it was checked on: most bodies are no vessels, and the fine skin need not be asked. */
async function mayHold(body: KernelBody, meshKernelUrl: string | undefined, tick: () => Promise<boolean>): Promise<boolean> {
  if (!body.mesh || body.facets) return true;
  return (await holding(weldedMesh(body.mesh), 0, await openMeshKernel(meshKernelUrl), tick)) !== null;
}

/** What is measured of a body beside its walls and what it holds. */
interface Amounts {
  readonly box: Bounds;
  readonly diameter: number;
  readonly round: boolean;
  readonly held: Holding | null;
  readonly mouth: number | null;
  readonly openBorders: number;
  readonly volume: number;
  readonly area: number;
}

/** @param tick called between portions; false gives up and the result is null */
export async function measureBody(
  kernel: Kernel,
  project: Project,
  scope: Scope,
  id: string,
  body: KernelBody,
  tick: () => Promise<boolean>,
  meshKernelUrl?: string,
): Promise<MeasureResult | null> {
  const started = performance.now();
  const amounts = await amountsOf(kernel, project, scope, body, tick, meshKernelUrl);
  if (!amounts || !(await tick())) return null;
  const { held, below } = amounts;
  vessels.set(body, held);
  const sharp = knifeEdges(kernel, body);
  // A surface has neither an inside nor a wall.
  const solid = !body.surface;
  const wall = solid ? await wallsOf(kernel, body, tick) : { thinnest: null, thickest: null };
  if (!wall) return null;
  const spot = (s: WallReport['thinnest']): MeasureResult['thinnest'] => (s ? { at: s.at, normal: s.normal, value: s.thickness } : null);
  const formed = formDeviation(project, scope, id);
  return {
    body: id,
    readings: {
      ...amounts.readings,
      wallMin: wall.thinnest?.thickness ?? null,
      wallMax: wall.thickest?.thickness ?? null,
      deviation: formed?.value ?? null,
    },
    // Rounding has no place worth showing.
    offCage: formed?.at && formed.value > 1e-6 ? { at: formed.at, value: formed.value } : null,
    thinnest: spot(wall.thinnest),
    thickest: spot(wall.thickest),
    knifeEdges: sharp.list,
    brim: held?.brim ?? null,
    fillLevel: held && below.ok && held.toLevel !== null ? held.brim - below.value : null,
    ms: performance.now() - started,
  };
}

/** One gauge of a body in its own unit, without measuring what it does not need; null where the body has none, or the tick gave up. */
export async function readOne(
  kernel: Kernel,
  project: Project,
  scope: Scope,
  id: string,
  body: KernelBody,
  gauge: GaugeDefinition,
  tick: () => Promise<boolean>,
  meshKernelUrl?: string,
): Promise<number | null> {
  if (gauge.id === 'wall-min' || gauge.id === 'wall-max') {
    const wall = body.surface ? null : await wallsOf(kernel, body, tick);
    return (gauge.id === 'wall-min' ? wall?.thinnest : wall?.thickest)?.thickness ?? null;
  }
  const whole = await amountsOf(kernel, project, scope, body, tick, meshKernelUrl);
  const raw = whole && gauge.read({ ...whole.readings, wallMin: null, wallMax: null, deviation: null }, materialOf(project, id));
  return raw === null ? null : raw * gauge.scale;
}

/** What is read of a body beside its walls. */
async function amountsOf(
  kernel: Kernel,
  project: Project,
  scope: Scope,
  body: KernelBody,
  tick: () => Promise<boolean>,
  meshKernelUrl?: string,
) {
  const below = evaluateAs(project.brief.fillBelowBrim, 'length', scope);
  const fill = below.ok ? Math.max(0, below.value) : 0;
  const amounts = turnedReadings(body, fill) ?? (await skinReadings(kernel, body, fill, tick, meshKernelUrl));
  if (!amounts) return null;
  const { box, held } = amounts;
  return {
    held,
    below,
    readings: {
      height: box.max[2] - box.min[2],
      width: box.max[0] - box.min[0],
      depth: box.max[1] - box.min[1],
      diameter: amounts.diameter,
      round: amounts.round,
      mouth: amounts.mouth,
      capacityBrim: held?.toBrim ?? null,
      capacityFill: held && below.ok ? held.toLevel : null,
      closed: !body.surface && amounts.openBorders === 0,
      surface: body.surface === true,
      openBorders: amounts.openBorders,
      volume: amounts.volume,
      area: amounts.area,
    },
  };
}

/** Off the meridian of a body that stands upright; undefined for another. */
function turnedReadings(body: KernelBody, fill: number): Amounts | undefined {
  const exact = body.turned && turnedAmounts(body.turned);
  if (!exact) return undefined;
  const held = turnedVessel(body.turned!, fill) ?? null;
  return {
    box: exact.bbox,
    diameter: exact.bbox.max[0] - exact.bbox.min[0],
    round: true,
    held,
    mouth: held?.mouth?.diameter ?? null,
    openBorders: 0,
    volume: exact.volume,
    area: exact.area,
  };
}

/** Off the measuring skin, what is exact off the surfaces; undefined where the tick gave up. */
async function skinReadings(
  kernel: Kernel,
  body: KernelBody,
  fill: number,
  tick: () => Promise<boolean>,
  meshKernelUrl: string | undefined,
): Promise<Amounts | undefined> {
  const facets = body.facets ? measuringSkin(kernel, body) : undefined;
  const box = facets ? pointBounds(facets.positions) : boundsOf(kernel, body.shape, roughOf(kernel, body));
  const deflection = measureDeflection(diagonal(box));
  const skin = measuringSkin(kernel, body);
  if (!(await tick())) return undefined;
  const plan = planOf(skin.positions, box);
  // A body turned all round is exactly as wide as its bounds; the mesh is a hair narrower.
  const most = Math.max(plan.width, plan.depth);
  const about = plan.round ? plan.across : 2 * farthestFrom(skin.positions, 0, 0);
  const diameter = Math.abs(about - most) < 4 * deflection ? most : about;
  const solid = !body.surface;
  const held =
    solid && (await mayHold(body, meshKernelUrl, tick)) ? await holding(skin, fill, await openMeshKernel(meshKernelUrl), tick) : null;
  const { mouth } = held ?? {};
  return {
    box,
    diameter,
    round: plan.round,
    held,
    mouth: mouth ? (facets ? mouth.diameter : exactMouth(kernel, body, mouth, held!.brim)) : null,
    openBorders: !body.surface ? openEdgeCount(skin) : facets ? topologyOf(facets).borders.length : borderLoops(kernel, body.shape).length,
    volume: facets && solid ? massProperties(facets).volume : solid ? volumeOf(kernel, body.shape).volume : 0,
    area: facets ? massProperties(facets).area : areaOf(kernel, body.shape),
  };
}

/** Area of each face of a body of facets, mm². */
function facetAreas(mesh: BodyMesh, faces: number): number[] {
  const out = new Array<number>(faces).fill(0);
  const { positions: p, indices } = mesh;
  for (let t = 0; t < mesh.faceOf.length; t++) {
    const corner = (k: number): Vec3 => triple((x) => p[3 * indices[3 * t + k]! + x]!);
    const [a, b, c] = [corner(0), corner(1), corner(2)];
    out[mesh.faceOf[t]!]! += Math.hypot(...cross(minus(b, a), minus(c, a))) / 2;
  }
  return out;
}

/** Triangles, edges and names of a body for the stage. */
export function sceneOf(kernel: Kernel, project: Project, id: string, body: KernelBody): BodyScene {
  const deflection = displayDeflection(kernel, body.shape);
  // The mesh a body was verified on is fine enough to look at: its normals are exact.
  const mesh = body.turned
    ? turnedScene(body, body.turned, deflection / 4)
    : (body.mesh ?? tessellate(kernel, body.shape, deflection, VERIFY_ANGLE));
  return {
    id,
    name: bodyWords(id, project),
    surface: body.surface === true,
    ...mesh,
    ...linesOf(kernel, body, mesh, deflection),
    faceNames: body.faces,
    faceAreas: body.turned
      ? turnedFaceAreas(body, body.turned)
      : body.facets
        ? facetAreas(mesh, body.faces.length)
        : facesOf(kernel, body.shape).map((f) => areaOf(kernel, f)),
  };
}

/** The edges of a body, or where the faces of its facets meet. */
function linesOf(
  kernel: Kernel,
  body: KernelBody,
  mesh: BodyMesh,
  deflection: number,
): Pick<BodyScene, 'segments' | 'edgeOf' | 'edgeNames' | 'edgeLengths'> {
  if (body.facets) {
    const skin = weldedMesh(mesh);
    const inside = facetLines(skin, body.faces);
    return body.surface ? withBorders(inside, skin, body.faces) : inside;
  }
  const edges = namedEdges(kernel, body);
  return {
    ...edgeLines(kernel, body.shape, deflection),
    edgeNames: edges.map((e) => e.name),
    edgeLengths: edges.map((e) => lengthOf(kernel, e.edge)),
  };
}

export async function forecastWall(
  kernel: Kernel,
  project: Project,
  step: string,
  body: KernelBody,
  open: ReadonlySet<number>,
  wall: number,
  tick: () => Promise<boolean>,
  side: Side = 'inward',
): Promise<WallForecast | null> {
  if (body.turned && side === 'inward') return turnedForecast(project, step, body, body.turned, open, wall);
  const places: Place[] = [];
  // Half of a centred wall lies to either side: each detail stands twice the wall it would stand on one.
  const share = side === 'centred' ? 2 : 1;
  let noneFrom = Number.POSITIVE_INFINITY;
  for (const way of ['inward', 'outward'] as const) {
    if (side !== 'centred' && side !== way) continue;
    const limits = await wallLimits(kernel, body, open, tick, way);
    if (!limits) return null;
    places.push(...placesOf(limits, project, body, way, share));
    noneFrom = Math.min(noneFrom, (share * limits.widest) / 2);
  }
  places.sort((a, b) => a.value - b.value);
  const first = places[0];
  return {
    step,
    side,
    keepsAllUpTo: first?.value ?? null,
    noneFrom,
    swallowed: places.filter((p) => p.value < wall * (1 - 1e-6)).map(({ words, at }) => ({ words, at })),
    limit: first ? { words: first.words, at: first.at } : null,
  };
}

/** A detail with the wall from which on it is swallowed, mm. */
interface Place {
  readonly value: number;
  readonly words: string;
  readonly at: readonly [number, number, number];
}

function placesOf(limits: WallLimits, project: Project, body: KernelBody, way: 'inward' | 'outward', share: number): Place[] {
  const length = (v: number): string => formatLength(v, project.units, 2);
  const places: Place[] = limits.tight.map((t) => ({
    value: share * t.radius,
    at: t.at,
    words: `${faceWords(body.faces[t.face]!, project)}: ${way === 'inward' ? 'outside' : 'hollow'} radius ${length(t.radius)}`,
  }));
  if (limits.narrow) {
    const { width, at, face, otherFace } = limits.narrow;
    const between = `between ${faceWords(body.faces[face]!, project)} and ${faceWords(body.faces[otherFace]!, project)}`;
    places.push({
      value: (share * width) / 2,
      at,
      words: way === 'inward' ? `${between}: ${length(width)} across` : `the gap ${between}: ${length(width)} wide`,
    });
  }
  return places;
}
