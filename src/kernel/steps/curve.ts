/** Draws a curve in space: through places, as a helix, along edges, or as a blend between two curves. */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import { type Frame, normalOf } from '../../core/curves/frame';
import { arcInSpace, pathAlong, polyline, type SpaceCurve, spaceAt, splineThroughPlaces, tangentArc } from '../../core/curves/path';
import { rebuild } from '../../core/curves/rebuild';
import { along, cross, distance, type Vec3 } from '../../core/geometry/vectors';
import { diagonal, type TriMesh } from '../../core/mesh/mesh';
import type { CurveInputs, PathRef } from '../../core/recipe/steps';
import { curve as definition } from '../../core/recipe/steps/curve';
import { bodyWords, planeWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { roughness } from '../../core/scan/clean';
import { type FairLine, fairLine, sectionLines } from '../../core/scan/section';
import { fixed } from '../../core/units/units';
import { type StepFailure, wanting } from '../body';
import { bentBy, chainOf, tightestBend } from '../chains';
import { cutLines, lineOfFace, meetingLines, pieceOf, shareNearest } from '../lines';
import { type Kernel, type Shape, scoped } from '../open';
import { frameOf } from '../placed';
import { curvesOf, faceOf, pathOf, placeOf } from '../refer';
import { scanMesh } from '../scans';
import { distanceBetween, nearestOnLine, roughBounds, vertexAt } from '../shapes';
import type { ContextOf, StepOutcome } from './operation';

const FAILED = 'the curve can’t be drawn';
const refuse = (why: string, tryInstead: readonly string[], at?: Vec3): Result<never, StepFailure> =>
  fail({ what: FAILED, why, tryInstead, ...(at ? { at } : {}) });
const missing = wanting(FAILED);

export function curve(context: ContextOf<'curve'>): StepOutcome {
  let told = '';
  const drawn = drawnCurves(context, (words) => {
    told += `; ${words}`;
  });
  if (!drawn.ok) return drawn;
  const path = pathAlong(drawn.value);
  if (!(path.length > 1e-6)) return refuse('it has no length', ['move its places apart']);
  const joints = [
    ...path.corners.map((c) => `a corner of ${fixed((c.angle * 180) / Math.PI, 2)}° at ${fixed(c.share * path.length, 2)} mm`),
  ];
  if (path.joints.length > 0)
    joints.push(`${path.joints.length} tangent joint${path.joints.length > 1 ? 's' : ''} where only the curvature jumps`);
  const { radius: tightest } = tightestBend(path);
  return ok({
    path: drawn.value,
    warnings: [],
    note: `${fixed(path.length, 3)} mm long${path.closed ? ', closed' : ''}${tightest < 1e5 ? `, bends down to R ${fixed(tightest, 2)} mm` : ''}; ${joints.length > 0 ? joints.join(', ') : 'smooth throughout'}${told}`,
  });
}

/** Places by picks, each asked for by its name. */
function placesOf(context: ContextOf<'curve'>, refs: CurveInputs['places'], wanted: readonly string[]): Result<Vec3[], StepFailure> {
  const out: Vec3[] = [];
  for (const [i, words] of wanted.entries()) {
    const ref = refs[i];
    if (!ref) return missing(`${words} is not picked`, 'pick or type a place');
    const p = placeOf(context, ref);
    if (!p.ok) return p;
    out.push(p.value);
  }
  return ok(out);
}

/** Places a curve is laid on a face at: many where a few do not keep it so near to the face, mm. */
const LAID = { few: 97, many: 385 } as const;
const KEPT = 1e-3;

/** A curve on a face: its places pulled to the nearest ones there, or moved along a plane's normal. */
function laidOn(context: ContextOf<'curve'>, inputs: CurveInputs, say: (words: string) => void): Result<SpaceCurve[], StepFailure> {
  const { kernel } = context;
  const [ref, faceRef] = [inputs.paths[0], inputs.faces?.[0]];
  if (!ref) return missing('the curve is not picked', 'pick an edge or a curve');
  if (!faceRef) return missing('the face is not picked', 'pick a face on the stage');
  const path = pathOf(context, ref, !('body' in ref));
  if (!path.ok) return path;
  const face = faceOf(context, faceRef);
  if (!face.ok) return face;
  const projected = inputs.onto === 'projected';
  const frame = projected ? frameOf(inputs.plane, context.planes, context.project) : undefined;
  if (frame && !frame.ok) return frame;
  const n = frame?.ok ? normalOf(frame.value) : undefined;
  const reach = n
    ? 2 * diagonal(roughBounds(kernel, face.value)) + path.value.length + distanceTo(kernel, face.value, path.value.at(0).point)
    : 0;
  const on = (p: Vec3): Vec3 | undefined =>
    scoped((s) => {
      if (!n) return distanceBetween(kernel, s.keep(vertexAt(kernel, p)), face.value)?.onB;
      const [a, b] = [along(p, n, -reach), along(p, n, reach)].map((q) => s.keep(new kernel.gp_Pnt(...q)));
      const line = s.keep(new kernel.BRepBuilderAPI_MakeEdge(a!, b!)).Edge();
      const hit = nearestOnLine(kernel, line, face.value, p);
      return hit;
    });
  const laidAt = (count: number): Result<{ readonly spline: SpaceCurve; readonly off: number }, StepFailure> => {
    const places: Vec3[] = [];
    for (let i = 0; i < count; i++) {
      const p = path.value.at(i / (count - 1)).point;
      const q = on(p);
      if (!q)
        return refuse(
          `it passes beside the face ${fixed((100 * i) / (count - 1), 0)} % along`,
          ['pick a larger face', 'move the curve'],
          p,
        );
      const before = places[places.length - 1];
      if (!before || distance(q, before) > 1e-6) places.push(q);
    }
    if (places.length < 2) return refuse('all of it falls on one place of the face', ['project it another way']);
    const spline = splineThroughPlaces(places);
    // How far it leaves the face between the places it was laid at.
    let off = 0;
    for (let i = 0; i < 64; i++) off = Math.max(off, distanceTo(kernel, face.value, spaceAt(spline, (i + 0.5) / 64).p));
    return ok({ spline, off });
  };
  const few = laidAt(LAID.few);
  const made = few.ok && few.value.off > KEPT ? laidAt(LAID.many) : few;
  if (!made.ok) return made;
  say(`keeps to the face within ${fixed(made.value.off, 5)} mm`);
  return ok([made.value.spline]);
}

const distanceTo = (kernel: Kernel, shape: Shape, p: Vec3): number =>
  scoped((s) => distanceBetween(kernel, s.keep(vertexAt(kernel, p)), shape)?.distance ?? Number.POSITIVE_INFINITY);

function drawnCurves(context: ContextOf<'curve'>, say: (words: string) => void): Result<SpaceCurve[], StepFailure> {
  const inputs = context.step.inputs;
  const { fillet, diameter, top, turns, pitch, strength, points } = context.values;
  switch (inputs.by) {
    case 'line':
    case 'spline': {
      const places: Vec3[] = [];
      for (const ref of inputs.places) {
        const p = placeOf(context, ref);
        if (!p.ok) return p;
        const before = places[places.length - 1];
        if (before && Math.hypot(p.value[0] - before[0], p.value[1] - before[1], p.value[2] - before[2]) < 1e-6)
          return refuse('two places in a row fall together', ['take one of them out'], p.value);
        places.push(p.value);
      }
      if (places.length < 2)
        return missing(`${places.length === 1 ? 'a second place is' : 'its places are'} not picked`, 'pick or type places');
      if (inputs.by === 'spline') return ok([splineThroughPlaces(places)]);
      const line = polyline(places);
      return fillet > 0 ? bentBy(context, FAILED, line, 'fillet', fillet) : ok(line);
    }
    case 'arc': {
      const places = placesOf(context, inputs.places, ['where it starts', 'what it passes through', 'where it ends']);
      if (!places.ok) return places;
      const arc = arcInSpace(...(places.value as [Vec3, Vec3, Vec3]));
      return arc ? ok([arc]) : refuse('its three places lie on one line', ['move the middle one aside', 'draw a line']);
    }
    case 'tangent': {
      const ref = inputs.paths[0];
      if (!ref) return missing('the curve it goes on from is not picked', 'pick an edge or a curve');
      const path = pathOf(context, ref, !('body' in ref));
      if (!path.ok) return path;
      const places = placesOf(context, inputs.places, ['where it ends']);
      if (!places.ok) return places;
      const fromEnd = inputs.ends.startsWith('end');
      const { point, direction } = path.value.at(fromEnd ? 1 : 0);
      const arc = tangentArc(point, fromEnd ? direction : (direction.map((v) => -v) as unknown as Vec3), places.value[0]!);
      return arc ? ok([arc]) : refuse('no arc leads there: the place lies straight behind', ['move its end aside']);
    }
    case 'onto':
      return laidOn(context, inputs, say);
    case 'rebuild': {
      const ref = inputs.paths[0];
      if (!ref) return missing('the curve is not picked', 'pick an edge or a curve');
      const path = pathOf(context, ref, !('body' in ref));
      if (!path.ok) return path;
      const corner = path.value.corners[0];
      if (corner)
        return refuse(
          'it has a corner, which one smooth curve can’t follow',
          ['round the corner first'],
          path.value.at(corner.share).point,
        );
      if (path.value.closed) return refuse('it is closed on itself', ['pick an open curve']);
      const made = rebuild((s) => path.value.at(s).point, points);
      say(`${points} control points, off by at most ${fixed(made.deviation, 4)} mm, ${fixed(100 * made.at, 0)} % along`);
      return ok([{ kind: 'spline', spline: made.spline }]);
    }
    case 'helix': {
      const frame = frameOf(inputs.plane, context.planes, context.project);
      if (!frame.ok) return frame;
      return ok([{ kind: 'helix', frame: frame.value, radius: diameter / 2, end: top / 2, pitch: pitch, turns }]);
    }
    case 'edges': {
      if (inputs.paths.length === 0) return missing('no edge is picked', 'pick edges on the stage');
      return chainOf(context, inputs.paths, inputs.chain === 'smooth', FAILED);
    }
    case 'section': {
      const frame = frameOf(inputs.plane, context.planes, context.project);
      if (!frame.ok) return frame;
      const body = inputs.body ? context.bodies.get(inputs.body) : undefined;
      if (!body) return missing('the body that is cut is not chosen', 'choose a body');
      const words = `${planeWords(inputs.plane, context.project)} passes beside ${bodyWords(inputs.body!, context.project)}`;
      const scan = scanMesh(body);
      if (scan) return oneOf(context, scanLines(scan, frame.value, say), words, say);
      return oneOf(context, cutLines(context.kernel, body.shape, frame.value), words, say);
    }
    case 'meet': {
      const faces = facesPicked(context, 2, 'the two faces are not picked');
      if (!faces.ok) return faces;
      return oneOf(context, meetingLines(context.kernel, faces.value[0]!, faces.value[1]!), 'the faces do not meet', say);
    }
    case 'line-of': {
      const faces = facesPicked(context, 1, 'the face is not picked');
      if (!faces.ok) return faces;
      const through = inputs.places[0] ? placeOf(context, inputs.places[0]) : undefined;
      if (through && !through.ok) return through;
      const lines = lineOfFace(context.kernel, faces.value[0]!, inputs.way ?? 'u', context.values.share, through?.value);
      return oneOf(context, lines, 'there is no line of the face there', say);
    }
    case 'part': {
      const ref = inputs.paths[0];
      if (!ref) return missing('the curve is not picked', 'pick an edge or a curve');
      const curves = curvesOf(context, ref, !('body' in ref));
      if (!curves.ok) return curves;
      const piece = inputs.piece ?? 'before';
      const places = placesOf(context, inputs.places, piece === 'between' ? ['where it begins', 'where it ends'] : ['where it is parted']);
      if (!places.ok) return places;
      const path = pathAlong(curves.value);
      const shares = places.value.map((p) => shareNearest(path, p)).sort((a, b) => a - b);
      const [from, to] = piece === 'before' ? [0, shares[0]!] : piece === 'after' ? [shares[0]!, 1] : [shares[0]!, shares[1]!];
      if ((to - from) * path.length < 1e-6)
        return refuse('nothing of it is left', ['choose another place, or the other piece'], places.value[0]);
      const off = Math.max(...places.value.map((p) => Math.min(...shares.map((s) => distance(path.at(s).point, p)))));
      if (off > 1e-6) say(`parted ${fixed(off, 3)} mm beside the place, where the curve is nearest to it`);
      return ok(pieceOf(curves.value, path, from, to));
    }
    case 'blend':
      return blended(context, inputs.paths, inputs, strength, say);
  }
}

/** Over the roughness of a scan its curves may lie off so much more: what is nearer follows the roughness. */
const FAIR = 1.1;

/** Fair curves near the lines in which a plane cuts a scan. */
function scanLines(scan: TriMesh, frame: Frame, say: (note: string) => void): SpaceCurve[][] {
  const wanted = Math.max(FAIR * roughness(scan), 1e-3);
  const made = sectionLines(scan, frame.origin, normalOf(frame)).map((places) => fairLine(places, wanted));
  if (made.length > 0) {
    const most = (f: (m: FairLine) => number): number => Math.max(...made.map(f));
    say(
      `up to ${most((m) => m.spline.poles.length)} control points, off the scan by ${fixed(
        most((m) => m.rms),
        3,
      )} mm (root of the mean square), at most ${fixed(
        most((m) => m.off),
        2,
      )} mm`,
    );
  }
  return made.map(({ spline }): SpaceCurve[] => [{ kind: 'spline', spline }]);
}

/** The faces that are picked. */
function facesPicked(context: ContextOf<'curve'>, count: number, why: string): Result<TopoDS_Face[], StepFailure> {
  const refs = context.step.inputs.faces ?? [];
  if (refs.length < count) return missing(why, 'pick faces on the stage');
  const out: TopoDS_Face[] = [];
  for (const ref of refs.slice(0, count)) {
    const face = faceOf(context, ref);
    if (!face.ok) return face;
    out.push(face.value);
  }
  return ok(out);
}

/** One of several lines: the one nearest to the place that is picked, else the longest. */
function oneOf(
  context: ContextOf<'curve'>,
  lines: readonly SpaceCurve[][],
  none: string,
  say: (words: string) => void,
): Result<SpaceCurve[], StepFailure> {
  if (lines.length === 0) return refuse(none, ['choose another place']);
  const ref = context.step.inputs.places[0];
  const picked = ref && placeOf(context, ref);
  if (picked && !picked.ok) return picked;
  const paths = lines.map((line) => ({ line, path: pathAlong(line) }));
  const rank = ({ path }: (typeof paths)[0]): number =>
    picked ? distance(path.at(shareNearest(path, picked.value)).point, picked.value) : -path.length;
  const best = paths.reduce((a, b) => (rank(b) < rank(a) ? b : a));
  if (lines.length > 1) say(`${lines.length} lines are there: ${picked ? 'the nearest' : 'the longest'} is taken`);
  return ok(best.line);
}

/** A Bézier curve between two ends, of degree 1, 3, 5 or 7 for G0 to G3. */
function blended(
  context: ContextOf<'curve'>,
  refs: readonly PathRef[],
  inputs: CurveInputs,
  strength: number,
  say: (words: string) => void,
): Result<SpaceCurve[], StepFailure> {
  if (refs.length < 2) return missing('two curves are wanted', 'pick the two curves it joins');
  const ends: { p: Vec3; derivatives: Vec3[] }[] = [];
  const [first, second] = inputs.ends.split('-') as ['end' | 'start', 'end' | 'start'];
  for (const [k, ref] of refs.slice(0, 2).entries()) {
    const path = pathOf(context, ref);
    if (!path.ok) return path;
    const atEnd = (k === 0 ? first : second) === 'end';
    // Out of the first curve, into the second: by arc length, in the sense of the blend.
    const sense = (k === 0) === atEnd ? 1 : -1;
    const l = path.value.length;
    const s = atEnd ? 1 : 0;
    const at = path.value.at(s);
    const h = Math.min(0.01, 1e-3 * l);
    const inside = path.value.at(atEnd ? 1 - h / l : h / l);
    const third = inside.bend.map((b, i) => ((atEnd ? 1 : -1) * (at.bend[i]! - b)) / h) as unknown as Vec3;
    ends.push({
      p: at.point,
      derivatives: [at.direction.map((v) => sense * v) as unknown as Vec3, at.bend, third.map((v) => sense * v) as unknown as Vec3],
    });
  }
  const [a, b] = ends as [(typeof ends)[0], (typeof ends)[0]];
  const chord = Math.hypot(...a.p.map((v, i) => b.p[i]! - v));
  if (chord < 1e-6) return refuse('the two ends fall together', ['choose the other ends']);
  const order = { G0: 0, G1: 1, G2: 2, G3: 3 }[inputs.join];
  const n = 2 * order + 1;
  // Poles from the derivatives by arc length with speed w: P′ = w T, P″ = w² κN, P‴ = w³ (κN)′.
  const side = (e: { p: Vec3; derivatives: Vec3[] }, sign: number, w: number): Vec3[] => {
    const d = e.derivatives.map((v, k) => v.map((x) => x * w ** (k + 1) * sign ** (k + 1)) as unknown as Vec3);
    const p0 = e.p;
    const p1 = along(p0, d[0]!, 1 / n);
    const p2 = along(p1.map((v, i) => 2 * v - p0[i]!) as unknown as Vec3, d[1]!, 1 / (n * (n - 1)));
    const p3 = along(p2.map((v, i) => 3 * v - 3 * p1[i]! + p0[i]!) as unknown as Vec3, d[2]!, n > 2 ? 1 / (n * (n - 1) * (n - 2)) : 0);
    return [p0, p1, p2, p3].slice(0, order + 1);
  };
  const knots = [...new Array<number>(n + 1).fill(0), ...new Array<number>(n + 1).fill(1)];
  const curveOf = (by: number): SpaceCurve => ({
    kind: 'spline',
    spline: { degree: n, knots, poles: [...side(a, 1, by * chord), ...side(b, -1, by * chord).reverse()] },
  });
  const made = curveOf(strength);
  const gentlest = order === 0 ? undefined : gentlestOf((by) => bendOf(curveOf(by)));
  if (gentlest && gentlest.radius > GENTLER * bendOf(made))
    say(`gentlest at a strength of ${fixed(gentlest.strength, 2)}, which bends down to R ${fixed(gentlest.radius, 2)} mm`);
  return ok([made]);
}

/** Another strength is told where its tightest bend is this much wider. */
const GENTLER = 1.05;
/** Places of a blend that its bend is read at, and strengths that are tried before the best is closed in on. */
const [READ_AT, TRIED] = [160, 24] as const;
/** Strengths from here to the most that can be typed. */
const LEAST_STRENGTH = 0.1;

/** The radius of a curve's tightest bend, mm; infinite for a straight one. */
function bendOf(c: SpaceCurve): number {
  let most = 0;
  for (let i = 0; i <= READ_AT; i++) {
    const { d1, d2 } = spaceAt(c, i / READ_AT);
    const speed = Math.hypot(...d1);
    if (speed > 0) most = Math.max(most, Math.hypot(...cross(d1, d2)) / speed ** 3);
  }
  return 1 / most;
}

/** The strength whose tightest bend is widest, rounded as it is told. */
function gentlestOf(radius: (strength: number) => number): { readonly strength: number; readonly radius: number } {
  const at = (k: number): number => LEAST_STRENGTH + ((definition.values.strength.atMost! - LEAST_STRENGTH) * k) / TRIED;
  const radii = Array.from({ length: TRIED + 1 }, (_, k) => radius(at(k)));
  const best = radii.indexOf(Math.max(...radii));
  let [low, high] = [at(Math.max(0, best - 1)), at(Math.min(TRIED, best + 1))];
  for (let i = 0; i < 14; i++) {
    const [p, q] = [low + (high - low) / 3, high - (high - low) / 3];
    if (radius(p) > radius(q)) high = q;
    else low = p;
  }
  const strength = Math.round(50 * (low + high)) / 100;
  return { strength, radius: radius(strength) };
}
