/** What the faces of an extruded drawing are called by where they lie: its top, the outer left side, the lower of two tops. */

import { type Frame, isOriginPlane, normalOf, ORIGIN_PLANES } from '../curves/frame';
import type { Point2 } from '../curves/planar';
import { triple, type Vec3 } from '../geometry/vectors';
import type { Profile, Project, Step } from './schema';
import { isOf, standsAlone, stepOf } from './steps';

/** Leaning by more than this from an axis, a side is not called by it, as the cosine: 15°. */
const ALONG = 0.966;

const WORDS: readonly (readonly [string, string])[] = [
  ['left side', 'right side'],
  ['front', 'back'],
  ['underside', 'top'],
];

/** The axis a direction runs along and its sense; undefined where it leans. */
function axisOf(d: Vec3): { readonly axis: number; readonly sense: 1 | -1 } | undefined {
  const axis = [0, 1, 2].find((k) => Math.abs(d[k]!) >= ALONG * Math.hypot(...d));
  return axis === undefined ? undefined : { axis, sense: d[axis]! > 0 ? 1 : -1 };
}
const wordOf = (d: Vec3): string | undefined => {
  const a = axisOf(d);
  return a && WORDS[a.axis]![a.sense > 0 ? 1 : 0];
};

/** The directions of a plane that lies like one through the origin, however far off; undefined for a tilted one. */
function directionsOf(project: Project, plane: string): Frame | undefined {
  if (isOriginPlane(plane)) return ORIGIN_PLANES[plane];
  const inputs = stepOf(project, plane, 'plane')?.inputs;
  return inputs && (inputs.by === 'distance' || inputs.by === 'place') ? directionsOf(project, inputs.from) : undefined;
}

/** With more lines than this, where they lie tells nobody which is which. */
const MOST = 60;

/** Chords that stand for an arc where it is asked on which side of the outline a place lies. */
const CHORDS = 24;

/** The lines of an outline of lines, arcs and circles, each with the direction away from what it encloses; undefined for any other. */
function outwards(profile: Profile): { readonly id: string; readonly middle: Point2; readonly out: Point2 }[] | undefined {
  const drawn = profile.curves.filter((c) => !('construction' in c && c.construction));
  if (drawn.length > MOST) return undefined;
  const place = new Map(profile.points.map((p) => [p.id, p]));
  const sides: { id: string; a: Point2; b: Point2 }[] = [];
  const round: { a: Point2; b: Point2 }[] = [];
  for (const c of drawn) {
    if (c.kind === 'line') {
      const [a, b] = [place.get(c.from), place.get(c.to)];
      if (!a || !b) return undefined;
      sides.push({ id: c.id, a, b });
      continue;
    }
    const m = c.kind === 'arc' || c.kind === 'circle' ? place.get(c.centre) : undefined;
    if (!m) return undefined;
    const angle = (p: Point2): number => Math.atan2(p.y - m.y, p.x - m.x);
    let [radius, from, sweep] = [0, 0, 2 * Math.PI];
    if (c.kind === 'arc') {
      const [a, b] = [place.get(c.from), place.get(c.to)];
      if (!a || !b) return undefined;
      [radius, from] = [Math.hypot(a.x - m.x, a.y - m.y), angle(a)];
      sweep = (angle(b) - from) % (2 * Math.PI);
      if (c.ccw ? sweep <= 0 : sweep >= 0) sweep += c.ccw ? 2 * Math.PI : -2 * Math.PI;
    } else if (c.kind === 'circle') radius = c.radius;
    const at = (k: number): Point2 => {
      const w = from + (sweep * k) / CHORDS;
      return { x: m.x + radius * Math.cos(w), y: m.y + radius * Math.sin(w) };
    };
    for (let k = 0; k < CHORDS; k++) round.push({ a: at(k), b: at(k + 1) });
  }
  const within = ({ x, y }: Point2): boolean =>
    [...sides, ...round].filter(({ a, b }) => a.y > y !== b.y > y && x < a.x + ((y - a.y) / (b.y - a.y)) * (b.x - a.x)).length % 2 === 1;
  return sides.map(({ id, a, b }) => {
    const length = Math.hypot(b.x - a.x, b.y - a.y) || 1;
    const right = { x: (b.y - a.y) / length, y: -(b.x - a.x) / length };
    const middle = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
    const inside = within({ x: middle.x + 1e-4 * length * right.x, y: middle.y + 1e-4 * length * right.y });
    return { id, middle, out: inside ? { x: -right.x, y: -right.y } : right };
  });
}

const inSpace = (f: Frame, p: Point2): Vec3 => triple((k) => p.x * f.x[k]! + p.y * f.y[k]!);

/**
 * @param rest what the step calls the face: `start`, `end`, or a line of its drawing
 * @returns undefined where it has no such name: not extruded as a body of its own, tilted or turned, an outline of more than lines
 */
export function sideWords(project: Project, step: Step, profile: Profile, rest: string): string | undefined {
  const inputs = isOf(step, 'extrude') ? step.inputs : undefined;
  const frame = directionsOf(project, profile.plane);
  if (!inputs || !frame || !standsAlone(inputs.mode)) return undefined;
  const turned = project.steps.some(
    (s) => isOf(s, 'move') && s.inputs.body === step.id && s.inputs.by !== 'shift' && s.inputs.by !== 'scale',
  );
  if (turned) return undefined;
  if (rest === 'start' || rest === 'end') {
    const ahead = (rest === 'end') === (inputs.way === 'out' || inputs.extent === 'symmetric' || inputs.extent === 'two');
    return wordOf(normalOf(frame).map((c) => (ahead ? c : -c)) as unknown as Vec3);
  }
  const line = profile.curves.find((c) => c.id === rest);
  const sides = line && !('name' in line && line.name) && inputs.fill === 'solid' ? outwards(profile) : undefined;
  const own = sides?.find((s) => s.id === rest);
  const word = own && wordOf(inSpace(frame, own.out));
  if (!own || !word) return undefined;
  const { axis, sense } = axisOf(inSpace(frame, own.out))!;
  const reach = (s: { middle: Point2 }): number => sense * inSpace(frame, s.middle)[axis]!;
  // The outermost first.
  const alike = sides!.filter((s) => wordOf(inSpace(frame, s.out)) === word).sort((a, b) => reach(b) - reach(a));
  if (alike.length === 1) return word;
  const place = alike.indexOf(own);
  if (alike.length > 2) return `${word} ${place + 1} of ${alike.length}`;
  const [outer, inner] = axis === 2 ? (sense > 0 ? ['upper', 'lower'] : ['lower', 'upper']) : ['outer', 'inner'];
  return `${place === 0 ? outer : inner} ${word}`;
}
