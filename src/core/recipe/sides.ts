/** What the faces of an extruded drawing are called by where they lie: its top, the outer left side, the lower of two tops. */
import { directionIn, type Frame, normalOf, ORIGIN_PLANES } from '../curves/frame';
import { distance2, flatten, type Point2 } from '../curves/planar';
import { triple, type Vec3 } from '../geometry/vectors';
import { crossesRightOf } from '../profile/regions';
import { asDrawn } from '../profile/session';
import { parallelTo } from './planes';
import type { Profile, Project, Step } from './schema';
import { isOf, standsAlone } from './steps';

/** Leaning by more than this from an axis, a side is not called by it, as the cosine: 15°. */
const ALONG = 0.966;

const WORDS: readonly (readonly [string, string])[] = [
  ['left side', 'right side'],
  ['front', 'back'],
  ['underside', 'top'],
];

interface Facing {
  readonly axis: 0 | 1 | 2;
  readonly sense: 1 | -1;
}
/** The axis a direction runs along and its sense; undefined where it leans. */
function axisOf(d: Vec3): Facing | undefined {
  const axis = ([0, 1, 2] as const).find((k) => Math.abs(d[k]) >= ALONG * Math.hypot(...d));
  return axis === undefined ? undefined : { axis, sense: d[axis] > 0 ? 1 : -1 };
}
const wordOf = ({ axis, sense }: Facing): string => WORDS[axis]![sense > 0 ? 1 : 0];

/** The directions of a plane that lies like one through the origin, however far off; undefined for a tilted one. */
function directionsOf(project: Project, plane: string): Frame | undefined {
  const like = parallelTo(project, plane);
  return like ? ORIGIN_PLANES[like] : undefined;
}

/** With more lines than this, where they lie tells nobody which is which. */
const MOST = 60;

/** Arcs as chords are off by no more where it is asked on which side of the outline a place lies, mm. */
const CHORDED = 0.02;

interface Side {
  readonly id: string;
  readonly middle: Point2;
  /** Away from what the outline encloses. */
  readonly out: Point2;
}
const known = new WeakMap<Profile, readonly Side[]>();

/** The lines of an outline of lines, arcs and circles, as it is drawn; none of any other. */
function sidesDrawn(profile: Profile): readonly Side[] {
  let sides = known.get(profile);
  if (!sides) {
    sides = readSides(profile);
    known.set(profile, sides);
  }
  return sides;
}

function readSides(profile: Profile): readonly Side[] {
  const border = profile.curves.filter((c) => !c.construction);
  if (border.length > MOST || border.some((c) => !['line', 'arc', 'circle'].includes(c.kind))) return [];
  const drawn = asDrawn(profile, () => undefined);
  if (!drawn.ok) return [];
  const curves = drawn.value.curves.filter((c) => !c.construction);
  const pieces = curves.flatMap(({ curve }) => {
    const points = flatten(curve, CHORDED);
    return points.slice(1).map((b, i) => [points[i]!, b] as const);
  });
  const within = (p: Point2): boolean => pieces.filter(([a, b]) => crossesRightOf(a, b, p)).length % 2 === 1;
  return curves.flatMap(({ id, curve: { kind, a, b } }): Side[] => {
    if (kind !== 'line') return [];
    const length = distance2(a, b);
    const right = { x: (b.y - a.y) / length, y: -(b.x - a.x) / length };
    const middle = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
    const inside = within({ x: middle.x + 1e-4 * length * right.x, y: middle.y + 1e-4 * length * right.y });
    return [{ id, middle, out: inside ? { x: -right.x, y: -right.y } : right }];
  });
}

/**
 * What the faces of a step are called by where they lie: `start`, `end` and the lines of its drawing.
 * @returns none where they have no such names: not extruded as a body of its own, tilted or turned; lines only of an outline of lines and arcs
 */
export function sidesOf(project: Project, step: Step, profile: Profile): ReadonlyMap<string, string> {
  const out = new Map<string, string>();
  const frame = directionsOf(project, profile.plane);
  if (!isOf(step, 'extrude') || !frame || !standsAlone(step.inputs.mode)) return out;
  const { inputs } = step;
  if (project.steps.some((s) => isOf(s, 'move') && s.inputs.body === step.id && s.inputs.by !== 'shift' && s.inputs.by !== 'scale'))
    return out;
  const ahead = inputs.way === 'out' || inputs.extent === 'symmetric' || inputs.extent === 'two' ? 1 : -1;
  for (const [face, sense] of [
    ['end', ahead],
    ['start', -ahead],
  ] as const) {
    const facing = axisOf(triple((k) => sense * normalOf(frame)[k]));
    if (facing) out.set(face, wordOf(facing));
  }
  if (inputs.fill !== 'solid') return out;
  const sides = sidesDrawn(profile).flatMap(({ id, middle, out: away }) => {
    const facing = axisOf(directionIn(frame, away));
    return facing ? [{ id, ...facing, word: wordOf(facing), reach: facing.sense * directionIn(frame, middle)[facing.axis] }] : [];
  });
  for (const { id, axis, sense, word } of sides) {
    if (profile.curves.find((c) => c.id === id)?.name) continue;
    // The outermost first.
    const alike = sides.filter((s) => s.word === word).sort((a, b) => b.reach - a.reach);
    const place = alike.findIndex((s) => s.id === id);
    const [outer, inner] = axis === 2 ? (sense > 0 ? ['upper', 'lower'] : ['lower', 'upper']) : ['outer', 'inner'];
    out.set(
      id,
      alike.length === 1 ? word : alike.length > 2 ? `${word} ${place + 1} of ${alike.length}` : `${place === 0 ? outer : inner} ${word}`,
    );
  }
  return out;
}
