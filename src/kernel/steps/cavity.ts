/** A smooth turned cavity that keeps a wall everywhere, cut from a body whose skin a shell can't follow. */
import { radiusAt, type TurnedCavity, turnedCavity } from '../../core/cavity/turned';
import { evaluateBSpline, interpolateCubic } from '../../core/curves/bspline';
import { type Frame, normalOf } from '../../core/curves/frame';
import type { PlanarCurve } from '../../core/curves/planar';
import { along, dot, minus, type Vec3 } from '../../core/geometry/vectors';
import { type Bvh, buildBvh, type ClosestHit, closestOpposing } from '../../core/mesh/bvh';
import { bounds, type TriMesh } from '../../core/mesh/mesh';
import { levelPlace, loopArea, loopCentroid, sliceMesh } from '../../core/mesh/slice';
import type { Outline } from '../../core/profile/outline';
import { wholeFace } from '../../core/recipe/names';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { interpolateSurface, type SplineSpace, type SplineSurface, surfaceAt } from '../../core/surfaces/space';
import { fixed } from '../../core/units/units';
import { asBody, type KernelBody, type StepFailure } from '../body';
import { booleanOf } from '../boolean';
import { nameFaces } from '../names';
import { attempt, type Kernel, type Shape, scoped } from '../open';
import { frameOf } from '../placed';
import { pickedFaces } from '../refer';
import { compoundOf, distanceBetween, facesOf } from '../shapes';
import { sewn } from '../skin';
import { type BodyMesh, tessellate, weldedMesh } from '../tessellate';
import { verifySolid } from '../verify';
import type { ContextOf, StepOutcome, WallChart } from './operation';
import { SEAMS, turn } from './revolve';

/** The skin seen from the axis: x and y across it, z along it. */
function inFrame(mesh: TriMesh, f: Frame): TriMesh {
  const n = normalOf(f);
  const positions = new Float64Array(mesh.positions.length);
  for (let i = 0; i < positions.length; i += 3) {
    const d = minus([mesh.positions[i]!, mesh.positions[i + 1]!, mesh.positions[i + 2]!], f.origin);
    positions[i] = dot(d, f.x);
    positions[i + 1] = dot(d, f.y);
    positions[i + 2] = dot(d, n);
  }
  return { positions, indices: mesh.indices, faceOf: mesh.faceOf };
}

/** The skin without its open faces, for asking how near it is. @param less facets left out too */
function keptSkin(mesh: TriMesh, open: ReadonlySet<number>, less: ReadonlySet<number> = new Set()): Bvh {
  const keep: number[] = [];
  for (let t = 0; t < mesh.faceOf.length; t++) if (!open.has(mesh.faceOf[t]!) && !less.has(t)) keep.push(t);
  return buildBvh({
    positions: mesh.positions,
    indices: Uint32Array.from(keep.flatMap((t) => [mesh.indices[3 * t]!, mesh.indices[3 * t + 1]!, mesh.indices[3 * t + 2]!])),
    faceOf: Uint32Array.from(keep.map((t) => mesh.faceOf[t]!)),
  });
}

/** Facets of a level bottom. */
function bottomOf(mesh: TriMesh): Set<number> {
  const low = bounds(mesh.positions).min[2] + LEVEL;
  const lies = (v: number): boolean => mesh.positions[3 * v + 2]! <= low;
  return new Set(Array.from(mesh.faceOf.keys()).filter((t) => [0, 1, 2].every((c) => lies(mesh.indices[3 * t + c]!))));
}
/** What lies within this of the lowest place is level, mm. */
const LEVEL = 1e-3;

const hit: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };
/** How far the skin is, as far as `limit` mm: what lies beyond is told as the limit, and found the sooner. */
const distanceTo = (skin: Bvh, x: number, y: number, z: number, limit = 1e4): number =>
  closestOpposing(skin, x, y, z, 0, 0, 1, 1, limit, hit).distance;

/** The inside as a radius about a centre line, by height and direction. */
interface Inside {
  readonly bottom: number;
  readonly top: number;
  readonly centre: (z: number) => readonly [number, number];
  readonly radius: (z: number, cos: number, sin: number) => number;
  /** Which way a share of the way round looks: close together where a slim section turns sharply. Evenly where left out. */
  readonly heading?: (share: number, z: number) => readonly [cos: number, sin: number];
}
const evenly = (share: number): readonly [number, number] => [Math.cos(2 * Math.PI * share), Math.sin(2 * Math.PI * share)];

/** How far beyond the rim the cutting tool reaches, mm. */
const OVER = 1;
/** Rounds in which a following rim gives way. */
const ROUNDS = 8;
/** What a skin is planned over the wall, mm. */
const SPARE = 0.02;
/** Rounds of asking the skin before a radius is taken as it is. */
const STEPS = 40;

/** What a wall may come out short by, and the cavity be made again that much smaller, mm. */
const SHORT = 0.3;

export function cavity(context: ContextOf<'cavity'>): StepOutcome {
  // The plan is made on a mesh; where the exact wall is a little short, it is made again with as much more.
  let more = 0;
  let facets: BodyMesh | undefined;
  // The same facets for all rounds: those of a body of splines take seconds.
  const facetsOf: FacetsOf = (shape, deflection) => {
    facets ??= tessellate(context.kernel, shape, deflection, 0.2);
    return facets;
  };
  for (let round = 0; ; round++) {
    const { outcome, short } = cavityWith(context, more, facetsOf);
    if (outcome.ok || short === null || short > SHORT || round === 2) return outcome;
    // A skin that is fitted anew is off elsewhere: the second time it is given twice what was wanting.
    more += (1 + round) * short + 2e-3;
  }
}

type FacetsOf = (shape: Shape, deflection: number) => BodyMesh;

/** @param more planned over the wall asked, mm; @returns how short the exact wall was, where it was */
function cavityWith(context: ContextOf<'cavity'>, more: number, facetsOf: FacetsOf): { outcome: StepOutcome; short: number | null } {
  const { kernel, project, step } = context;
  const inputs = step.inputs;
  const refused = (error: StepFailure): { outcome: StepOutcome; short: null } => ({ outcome: fail(error), short: null });
  const { wall: asked, floor, band } = context.values;
  const wall = asked + more;
  const body = context.bodies.get(inputs.body);
  if (!body)
    return refused({
      what: 'there is nothing to turn a cavity into',
      why: 'the body it names is not made by an earlier step',
      tryInstead: ['choose a body'],
    });
  const name = bodyWords(inputs.body, project);
  const picked = pickedFaces(context, inputs.body, body, inputs.open, {
    gone: 'an earlier change removed the face it was to be open at',
    offer: (face) => `open it at the ${face}`,
    otherwise: 'pick another face to open',
  });
  if (!picked.ok) return { outcome: picked, short: null };
  if (picked.value.length === 0)
    return refused({
      what: 'the cavity has no opening',
      why: 'no face is picked for it',
      unfinished: true,
      tryInstead: ['pick the face it opens at'],
    });
  const plane = frameOf(inputs.plane, context.planes, project);
  if (!plane.ok) return { outcome: plane, short: null };
  const frame = plane.value;
  const deflection = Math.min(0.02, asked / 30);
  const mesh = inFrame(weldedMesh(facetsOf(body.shape, deflection)), frame);
  const open = new Set(picked.value.map((f) => f.index));
  const skin = keptSkin(mesh, open);
  const sections = inputs.rim === 'sections';
  // How high the floor lies sees to the bottom: asked for the way outwards too, it would let no section begin.
  const sides = sections ? keptSkin(mesh, open, bottomOf(mesh)) : skin;
  const turned = sections ? undefined : turnedCavity(mesh, { wall, floor, open, deflection, printable: inputs.lean === 'printable' });
  if (turned && !turned.ok)
    return refused({
      what: `no cavity that keeps ${fixed(asked, 2)} mm can be turned into ${name}`,
      why: turned.error,
      tryInstead: ['a thinner wall', 'another axis', 'a cavity that follows the outside section by section'],
      fixes: [{ words: 'Follow the outside section by section', step: step.id, inputs: { rim: 'sections' } }],
    });
  const reach = (c: number, s: number, z: number, from: number): number => traced(skin, 0, 0, c, s, z, wall + 0.03 + deflection, from);
  const what = `the cavity could not be cut from ${name}`;
  const follows = turned ? radiusOf(turned.value, band, inputs.rim === 'follow', reach) : undefined;
  const insideOf = (raised: number): Result<Inside, string> =>
    turned
      ? ok({ bottom: turned.value.bottom, top: turned.value.top, centre: () => [0, 0], radius: follows! })
      : sectioned(mesh, sides, wall, floor, (x, y, c, s, z) => traced(sides, x, y, c, s, z, wall + 0.03 + deflection), raised);
  const opened = picked.value.map((f) => wholeFace(body.faces[f.index]!));
  let outcome: StepOutcome | undefined;
  // Another seam, or the floor higher up: beside notches and edges sections are too uneven for a skin.
  for (const trial of inputs.rim === 'round' ? SEAMS : sections ? RAISED : [0]) {
    const inside = insideOf(sections ? trial : 0);
    if (!inside.ok)
      return refused({
        what: `no cavity that keeps ${fixed(asked, 2)} mm fits ${name}`,
        why: inside.error,
        tryInstead: ['a thinner wall'],
      });
    const tool =
      inputs.rim === 'round'
        ? turnedTool(kernel, frame, turned!.value, step.id, trial)
        : followingTool(context, frame, inside.value, inputs.rim === 'follow' ? band : null, skin, wall);
    if (!tool.ok) {
      outcome = fail({ ...tool.error, what });
      continue;
    }
    const cut = booleanOf(kernel, 'cut', body, [tool.value], { target: name, tool: 'the cavity' }, step.id);
    if (!cut.ok) {
      outcome = fail({ ...cut.error, what });
      continue;
    }
    const least = exactWall(kernel, cut.value, step.id, opened);
    if (least === undefined || least.distance < asked - 1e-3)
      return {
        short: least ? asked - least.distance : null,
        outcome: fail({
          what,
          why: `the wall would be ${fixed(least?.distance ?? 0, 3)} mm where ${fixed(asked, 3)} mm is asked`,
          tryInstead: ['a wall that is a little thicker', inputs.rim === 'round' ? 'another axis' : 'keep it round up to the rim'],
          ...(least ? { at: least.onB } : {}),
        }),
      };
    const chart = chartOf(inside.value, skin, asked);
    const most = Math.max(...chart.rows.map((r) => r.most));
    const thicker = inside.value.bottom - bounds(mesh.positions).min[2];
    return {
      short: null,
      outcome: ok({
        bodies: [{ id: inputs.body, body: cut.value }],
        volumeChange: cut.value.volume - body.volume,
        warnings:
          thicker > floor + 0.5
            ? [
                {
                  message: `its floor lies ${fixed(thicker, 2)} mm over the lowest place: its sections farther down are too slim or too uneven`,
                },
              ]
            : [],
        note: `${turned ? `${turned.value.points} control points hold ${fixed(100 * turned.value.share, 1)} % of the largest turned cavity` : 'it follows the outside section by section'}; wall ${fixed(least.distance, 3)} to ${fixed(most, 2)} mm, ${fixed((body.volume - cut.value.volume) / 1000, 1)} cm³ hollowed out`,
        chart,
      }),
    };
  }
  return { outcome: outcome!, short: null };
}

/** Outwards from a centre as far as the skin stays away by a distance: that distance never allows a step through it. */
function traced(skin: Bvh, x: number, y: number, cos: number, sin: number, z: number, away: number, from = 0): number {
  let r = from;
  // A step on, it is no farther than before by more than that step.
  let limit = 1e4;
  for (let k = 0; k < STEPS; k++) {
    const far = distanceTo(skin, x + r * cos, y + r * sin, z, limit);
    const step = far - away;
    limit = (far + Math.abs(step)) * (1 + 1e-9) + 1e-9;
    r += step;
    if (step < 1e-4) break;
  }
  return Math.max(from, r);
}

/** Sections whose middles the centre line runs through. */
const MIDDLES = 17;
/** From the middle of a section to the inside's skin, at least, mm. */
const ROOM = 0.5;
/** How many times as far an inside may reach as it is thick: beyond the first its skin comes out crossed, up to the second it never did. */
const [SLIMMEST, SLIM] = [60, 40] as const;
/** Shares of the height that the floor of an inside is tried higher, where its skin does not come out. */
const RAISED = [0, 0.05, 0.12, 0.25] as const;
/** The share of the height that an inside may begin higher than its floor asks. */
const MOST_RAISED = 0.5;

/** The lowest height that goes, as far as forty looks tell; the one asked where none does. */
function firstThatGoes(goes: (z: number) => boolean, from: number, to: number): number {
  const looks = 40;
  const at = (k: number): number => from + ((to - from) * k) / looks;
  const k = Array.from({ length: looks }, (_, i) => i + 1).find((i) => goes(at(i)));
  if (k === undefined) return from;
  let [low, high] = [at(k - 1), at(k)];
  for (let i = 0; i < 10; i++) {
    const z = (low + high) / 2;
    if (goes(z)) high = z;
    else low = z;
  }
  return high;
}

/**
 * An inside that follows the outside at every height, about the middles of its sections.
 * @param raised the share of the height that it begins higher than it might @returns an error in words where no room is left
 */
function sectioned(
  mesh: TriMesh,
  skin: Bvh,
  wall: number,
  floor: number,
  trace: (x: number, y: number, cos: number, sin: number, z: number) => number,
  raised: number,
): Result<Inside, string> {
  const box = bounds(mesh.positions);
  const [low, high] = [box.min[2], box.max[2]];
  const top = high - 1e-4;
  const middleAt = (z: number): SectionMiddle | undefined => {
    const loops = sliceMesh(mesh, { normal: [0, 0, 1], offset: Math.min(z, high - 1e-3) }).loops.filter((l) => loopArea(l) > 0);
    const largest = loops.reduce<(typeof loops)[0] | undefined>((a, b) => (a && loopArea(a) >= loopArea(b) ? a : b), undefined);
    if (!largest) return undefined;
    const [x, y] = levelPlace(loopCentroid(largest));
    const loop = largest.map((p) => {
      const [px, py] = levelPlace(p);
      return [px - x, py - y] as const;
    });
    return { at: [x, y, z], room: distanceTo(skin, x, y, z), reach: Math.max(...loop.map((p) => Math.hypot(...p))), loop };
  };
  const slim = (z: number, most: number): boolean => {
    const middle = middleAt(z);
    return !middle || middle.room - wall < Math.max(ROOM, middle.reach / most);
  };
  const lowest = low + Math.max(floor, wall) + 0.03;
  if (!(top - lowest > wall)) return fail('the floor takes all of its height');
  const asked = lowest + raised * (top - lowest);
  // Where it comes to an edge below, as a pouch does, the inside begins where there is room for it.
  const bottom = slim(asked, SLIMMEST) ? firstThatGoes((z) => !slim(z, SLIM), asked, asked + MOST_RAISED * (top - asked)) : asked;
  const middles: SectionMiddle[] = [];
  for (let k = 0; k < MIDDLES; k++) {
    const z = bottom + ((top - bottom) * k) / (MIDDLES - 1);
    const middle = middleAt(z);
    if (!middle) return fail(`it has no section at height ${fixed(z, 2)} mm`);
    if (middle.room < wall + ROOM)
      return fail(`at height ${fixed(z, 2)} mm the middle of its section is only ${fixed(middle.room, 2)} mm from the outside`);
    middles.push(middle);
  }
  const line = interpolateCubic(middles.map((m) => m.at));
  const known = new Map<number, readonly [number, number]>();
  const centre = (z: number): readonly [number, number] => {
    const at = known.get(z) ?? middleOf(z);
    known.set(z, at);
    return at;
  };
  const middleOf = (z: number): readonly [number, number] => {
    // The line rises all the way: its parameter at a height is found by halving.
    let [a, b] = [0, 1];
    for (let k = 0; k < 40; k++) {
      const m = (a + b) / 2;
      if (evaluateBSpline(line, m)[0]![2]! < z) a = m;
      else b = m;
    }
    const p = evaluateBSpline(line, (a + b) / 2)[0]!;
    return [p[0]!, p[1]!];
  };
  return ok({
    bottom,
    top: high,
    centre,
    radius: (z, cos, sin) => {
      const [x, y] = centre(Math.min(z, top));
      return trace(x, y, cos, sin, Math.min(z, top));
    },
    ...(middles.some((m) => m.reach > ROUNDISH * m.room) ? { heading: alongSections(middles) } : {}),
  });
}

/** Sections that reach no farther than so many times their room are gone round evenly. */
const ROUNDISH = 2;

interface SectionMiddle {
  readonly at: Vec3;
  /** From there to the outside, mm. */
  readonly room: number;
  /** Farthest of the section from there, mm. */
  readonly reach: number;
  /** The section about it. */
  readonly loop: readonly (readonly [number, number])[];
}

/** Headings as those of an ellipse as slim as the section: along the direction in which the slimmest of all is longest. */
function alongSections(middles: readonly SectionMiddle[]): NonNullable<Inside['heading']> {
  const slimmest = middles.reduce((a, b) => (b.reach / b.room > a.reach / a.room ? b : a));
  const [ex, ey] = unit2(slimmest.loop.reduce((a, b) => (Math.hypot(b[0], b[1]) > Math.hypot(a[0], a[1]) ? b : a)));
  const ratios = middles.map(({ loop }) => {
    const reach = (x: number, y: number): number => Math.max(...loop.map((p) => Math.abs(p[0] * x + p[1] * y)));
    return reach(-ey, ex) / reach(ex, ey);
  });
  const [low, high] = [middles[0]!.at[2], middles.at(-1)!.at[2]];
  return (share, z) => {
    const k = Math.min(ratios.length - 1, Math.max(0, ((z - low) / (high - low)) * (ratios.length - 1)));
    const i = Math.min(ratios.length - 2, Math.floor(k));
    const ratio = ratios[i]! + (k - i) * (ratios[i + 1]! - ratios[i]!);
    const [along, across] = evenly(share);
    return unit2([along * ex - ratio * across * ey, along * ey + ratio * across * ex]);
  };
}
const unit2 = ([x, y]: readonly [number, number]): readonly [number, number] => {
  const l = Math.hypot(x, y) || 1;
  return [x / l, y / l];
};

/** The least distance of the cavity's faces from what is left of the old skin, the opened faces aside. */
function exactWall(kernel: Kernel, body: KernelBody, stepId: string, opened: readonly string[]): ReturnType<typeof distanceBetween> {
  const faces = facesOf(kernel, body.shape);
  const own = (i: number): boolean => body.faces[i]!.startsWith(`${stepId}/`);
  const inner = faces.filter((_, i) => own(i));
  const kept = faces.filter((_, i) => !own(i) && !opened.includes(wholeFace(body.faces[i]!)));
  if (inner.length === 0 || kept.length === 0) return undefined;
  const [a, b] = [compoundOf(kernel, kept), compoundOf(kernel, inner)];
  const d = distanceBetween(kernel, a, b);
  a.delete();
  b.delete();
  return d;
}

/** The cavity as a turned solid, reaching a little beyond the rim. */
function turnedTool(kernel: Kernel, frame: Frame, c: TurnedCavity, stepId: string, seam: number): Result<KernelBody, StepFailure> {
  const { radius, bottom, top } = c;
  const height = top - bottom;
  const poles = radius.poles.map((p, i) => {
    const g = (radius.knots[i + 1]! + radius.knots[i + 2]! + radius.knots[i + 3]!) / 3;
    return [p[0]!, bottom + g * height];
  });
  const at = (t: number): { x: number; y: number } => ({ x: evaluateBSpline(radius, t)[0]![0]!, y: bottom + t * height });
  const wall: PlanarCurve = { kind: 'spline', a: at(0), b: at(1), spline: { degree: 3, knots: radius.knots, poles } };
  const line = (a: { x: number; y: number }, b: { x: number; y: number }): PlanarCurve => ({ kind: 'line', a, b });
  const [p, q] = [at(0), at(1)];
  const over = { x: q.x, y: q.y + OVER };
  const outline: Outline = {
    curves: [
      { id: 'floor', curve: line({ x: 0, y: p.y }, p), reversed: false },
      { id: 'wall', curve: wall, reversed: false },
      { id: 'over', curve: line(q, over), reversed: false },
      { id: 'lid', curve: line(over, { x: 0, y: over.y }), reversed: false },
    ],
    onAxis: true,
  };
  // A turned profile stands upright in its plane: across stays across, up is along the axis.
  return turn(kernel, outline, 2 * Math.PI, stepId, seam, { origin: frame.origin, x: frame.x, y: normalOf(frame) });
}

/** Radius at a height and a direction: turned below, following the outside near the rim. */
function radiusOf(
  c: TurnedCavity,
  band: number,
  follow: boolean,
  reach: (cos: number, sin: number, z: number, from: number) => number,
): (z: number, cos: number, sin: number) => number {
  const from = c.top - band;
  const blend = Math.min(10, Math.max(1, (from - c.bottom) * 0.5));
  return (z, cos, sin) => {
    const r = radiusAt(c, z);
    if (!follow || z <= from - blend) return r;
    const x = Math.min(1, (z - from + blend) / blend);
    const w = x * x * x * (10 - 15 * x + 6 * x * x);
    return r + w * (reach(cos, sin, Math.min(z, c.top - 1e-3), r) - r);
  };
}

/** Heights at which an outside is looked at for shoulders, and how steeply an inside gives way to them, mm a mm. */
const [LOOKS, STEEPEST] = [96, 1.5] as const;
/** Rows of a spline skin no nearer than this share of its height. */
const NEAREST_ROWS = 0.012;

/**
 * A radius that never exceeds the one given and changes no faster than a spline can follow: under a shoulder an inside that keeps its wall steps
 * back at once, and a skin through a step swings and crosses itself.
 */
function noSteeper(radius: (share: number, z: number) => number, bottom: number, top: number): (share: number, z: number) => number {
  const at = (k: number): number => bottom + ((top - bottom) * k) / LOOKS;
  const looked = new Map<number, Float64Array>();
  return (share, z) => {
    let r = looked.get(share);
    if (!r) {
      r = Float64Array.from({ length: LOOKS + 1 }, (_, k) => radius(share, at(k)));
      looked.set(share, r);
    }
    let least = radius(share, z);
    for (let k = 0; k <= LOOKS; k++) least = Math.min(least, r[k]! + STEEPEST * Math.abs(z - at(k)));
    return least;
  };
}

const evenRows = (height: number): number[] => Array.from({ length: 17 }, (_, i) => (i / 16) * height);

/** Heights over the bottom that rows of a skin lie at: even, and halved where the radius between two is off a straight run. */
function rowsFor(radius: (share: number, z: number) => number, bottom: number, top: number): number[] {
  const [headings, bends, rounds] = [16, 0.4, 3] as const;
  let rows = evenRows(top - bottom);
  for (let round = 0; round < rounds; round++)
    rows = rows.flatMap((z, i) => {
      const next = rows[i + 1];
      if (next === undefined) return [z];
      const off = (k: number, share: number): number => {
        const r = (h: number): number => radius(k / headings, bottom + h);
        return Math.abs(r(z + share * (next - z)) - (1 - share) * r(z) - share * r(next));
      };
      const bent = Array.from({ length: headings }, (_, k) => k).some((k) => [0.25, 0.5, 0.75].some((share) => off(k, share) > bends));
      return bent ? [z, (z + next) / 2] : [z];
    });
  return rows;
}

/** The cavity with a band below the rim that follows the outside: one spline skin, closed with flat caps. */
function followingTool(
  context: ContextOf<'cavity'>,
  frame: Frame,
  c: Inside,
  band: number | null,
  skin: Bvh,
  wall: number,
): Result<KernelBody, StepFailure> {
  const { kernel, step } = context;
  const cannot = (why: string): Result<never, StepFailure> => fail({ what: '', why, tryInstead: ['keep it round up to the rim'] });
  const n = normalOf(frame);
  const { radius, centre, heading = evenly } = c;
  const round = band === null ? 48 : 72;
  const height = c.top + OVER - c.bottom;
  const known = new Map<string, number>();
  const given = (share: number, z: number): number => {
    const key = `${share.toFixed(9)} ${z.toFixed(6)}`;
    let r = known.get(key);
    if (r === undefined) {
      r = radius(z, ...heading(share, z));
      known.set(key, r);
    }
    return r;
  };
  const plain = band === null ? noSteeper(given, c.bottom, c.top) : given;
  const even = band === null ? rowsFor(plain, c.bottom, c.top) : evenRows(c.top - c.bottom);
  const fine =
    band === null ? [] : Array.from({ length: 9 }, (_, i) => c.top - c.bottom - band - 10 + (i / 8) * (band + 10)).filter((z) => z > 0);
  const vKnots = [...even, ...fine, height]
    .sort((a, b) => a - b)
    .filter((z, i, all) => i === 0 || z - all[i - 1]! > NEAREST_ROWS * height || z === height);
  const u: SplineSpace = { degree: 3, knots: Array.from({ length: round + 1 }, (_, i) => i / round), periodic: true };
  const v: SplineSpace = { degree: 3, knots: vKnots, periodic: false };
  // A spline can’t turn as sharply as an outside may: where it would come too near, the radius gives way, round by round.
  const [across, rows] = [96, 24];
  const less = Array.from({ length: rows + 1 }, () => new Float64Array(across));
  const reduction = (share: number, z: number): number => {
    const [x, y] = [share * across, Math.min(rows, Math.max(0, ((z - c.bottom) / (c.top - c.bottom)) * rows))];
    const [i, j] = [Math.floor(x), Math.min(rows - 1, Math.floor(y))];
    const [fx, fy] = [x - i, y - j];
    const at = (k: number, m: number): number => less[m]![((k % across) + across) % across]!;
    return (1 - fy) * ((1 - fx) * at(i, j) + fx * at(i + 1, j)) + fy * ((1 - fx) * at(i, j + 1) + fx * at(i + 1, j + 1));
  };
  const make = (): SplineSurface =>
    interpolateSurface(u, v, (s, t): Vec3 => {
      const z = Math.min(c.top, c.bottom + t);
      const r = plain(s - Math.floor(s), z) - reduction(s - Math.floor(s), z);
      const [x, y] = centre(z);
      const [cos, sin] = heading(s, z);
      return [x + r * cos, y + r * sin, c.bottom + t];
    });
  let local = make();
  for (let trial = 0; trial < ROUNDS; trial++) {
    let worst = 0;
    const next = less.map((row) => row.slice());
    for (let j = 0; j <= 4 * rows; j++)
      for (let i = 0; i < 4 * across; i++) {
        const p = surfaceAt(local, i / (4 * across), ((c.top - c.bottom) * j) / (4 * rows));
        const miss = wall + SPARE - distanceTo(skin, p[0], p[1], p[2], wall + SPARE);
        if (miss <= 0) continue;
        worst = Math.max(worst, miss);
        for (const m of [Math.floor(j / 4), Math.ceil(j / 4)])
          for (const k of [Math.floor(i / 4) - 1, Math.floor(i / 4), Math.floor(i / 4) + 1, Math.floor(i / 4) + 2]) {
            const q = ((k % across) + across) % across;
            next[m]![q] = Math.max(next[m]![q]!, less[m]![q]! + 1.15 * miss);
          }
      }
    // What is still wanting is spared: the exact wall is measured afterwards.
    if (worst < SPARE / 2) break;
    for (const [m, row] of next.entries()) less[m]!.set(row);
    local = make();
  }
  const surface: SplineSurface = {
    ...local,
    poles: local.poles.map((row) =>
      row.map(([x, y, z]) => along(along(along(frame.origin, frame.x, x), frame.y, y), n, z) as [number, number, number]),
    ),
  };
  const at = (z: number): Vec3 => along(frame.origin, n, z);
  const made = attempt(kernel, () =>
    scoped((s) =>
      sewn(kernel, s, [[{ surface, name: `${step.id}/wall` }]], {
        start: { origin: at(c.bottom), normal: n, name: `${step.id}/floor` },
        end: { origin: at(c.bottom + height), normal: n, name: `${step.id}/lid` },
      }),
    ),
  );
  if (!made.ok || !made.value) return cannot(made.ok ? 'the skin of the cavity does not close' : made.error);
  const verified = verifySolid(kernel, made.value.shape);
  if (!verified.ok) return cannot(verified.error.why);
  return ok(asBody(verified.value, nameFaces(kernel, verified.value.shape, made.value.claims, step.id)));
}

/** Thinnest and thickest wall round about at every height, straight across space. */
function chartOf(c: Inside, skin: Bvh, wall: number): WallChart {
  const rows = Array.from({ length: 41 }, (_, i) => {
    const z = c.bottom + ((c.top - c.bottom) * i) / 40;
    let [least, most] = [Number.POSITIVE_INFINITY, 0];
    for (let k = 0; k < 72; k++) {
      const [cos, sin] = (c.heading ?? evenly)(k / 72, z);
      const r = c.radius(z, cos, sin);
      const [x, y] = c.centre(z);
      const d = distanceTo(skin, x + r * cos, y + r * sin, z);
      least = Math.min(least, d);
      most = Math.max(most, d);
    }
    return { z, least, most };
  });
  return { limit: wall, rows };
}
