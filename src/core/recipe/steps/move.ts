import { z } from 'zod';
import { turned } from '../../curves/frame';
import { after, inverse, type Motion, scaleFrom, shiftBy, turnAbout } from '../../curves/motion';
import { along, cross, dot, minus, triple, unit, type Vec3 } from '../../geometry/vectors';
import {
  bodyFaceSchema,
  choice,
  idSchema,
  pathRefSchema,
  pickUses,
  type SentencePart,
  type StepDefinition,
  text,
  usualChoice,
  value,
} from './definition';
import { boxLines, lineOf, middleOf, type Standing } from './handles';
import { atPlaces } from './quick';

const inputs = z.object({
  body: idSchema,
  by: z.enum(['shift', 'turn', 'scale', 'align', 'touch']),
  /** The line it turns about: through the origin, or one that is picked. */
  about: z.enum(['z', 'x', 'y', 'line']),
  paths: z.array(pathRefSchema).max(1),
  /** A flat face of the body, then the one it is laid against. */
  faces: z.array(bodyFaceSchema).max(2),
  result: z.enum(['moved', 'copied']),
  /** What it goes to until it touches, and which way. */
  onto: idSchema.nullable().optional(),
  way: z.enum(['down', 'up', 'left', 'right', 'back', 'front']).optional(),
});
export type MoveInputs = z.infer<typeof inputs>;

const HOW: Readonly<Record<MoveInputs['by'], (i: MoveInputs) => readonly SentencePart[]>> = {
  shift: () => [value('x'), text('across,'), value('y'), text('away,'), value('z'), text('up')],
  turn: (i) => [
    value('angle'),
    text('about'),
    choice('about', ['z', 'the upright axis'], ['x', 'the axis across'], ['y', 'the axis away'], ['line', 'a line']),
    ...(i.about === 'line' ? [{ picks: 'paths', what: 'paths', most: 1 } as const] : []),
  ],
  scale: () => [value('factor')],
  align: () => [{ picks: 'faces', what: 'faces', most: 2 }, text('with a gap of'), value('gap')],
  touch: () => [
    { body: 'onto' },
    text('going'),
    choice(
      'way',
      ['down', 'down'],
      ['up', 'up'],
      ['left', 'to the left'],
      ['right', 'to the right'],
      ['back', 'away'],
      ['front', 'towards you'],
    ),
    text('with a gap of'),
    value('gap'),
  ],
};

/** Undefined where only the build can tell. */
function motionOf(i: MoveInputs, standing: Standing): Motion | undefined {
  if (i.by === 'shift') return shiftBy(triple((k) => standing.value('xyz'[k]!)));
  if (i.by === 'scale') return scaleFrom([0, 0, 0], standing.value('factor'));
  const line = i.by === 'turn' ? lineOf(i.about, i.paths, standing) : undefined;
  return line && turnAbout(line.place, line.direction, standing.value('angle'));
}

export const move: StepDefinition<MoveInputs, 'x' | 'y' | 'z' | 'angle' | 'factor' | 'gap'> = {
  kind: 'move',
  verb: 'Move',
  group: 'combine',
  summary: 'move, turn, scale or align a body, or a copy of it',
  known: [
    'drop',
    'let down',
    'rest on',
    'until contact',
    'translate',
    'rotate',
    'scale',
    'resize',
    'enlarge',
    'shrink',
    'place',
    'position',
    'orient',
    'copy',
    'align',
  ],
  needs: 'a body',
  offers: (c) =>
    [...c.solids, ...c.skins, ...c.scans].map((b) => ({
      group: 'Join and cut',
      label: `Move, turn, scale or align ${b.name}`,
      hint: 'moved, or a copy',
      inputs: { body: b.id, by: 'shift', about: 'z', paths: [], faces: [], result: 'moved' },
    })),
  inputs,
  values: {
    x: { kind: 'length', label: 'across', initial: '0 mm' },
    y: { kind: 'length', label: 'away', initial: '0 mm' },
    z: { kind: 'length', label: 'up', initial: '0 mm' },
    angle: { kind: 'angle', label: 'angle', initial: '90°' },
    factor: { kind: 'number', label: 'factor', initial: '1.2', above: 0, atMost: 1000 },
    gap: { kind: 'length', label: 'gap', initial: '0 mm' },
  },
  sentence: (step) => {
    const i = step.inputs;
    return [
      text('Move'),
      { body: 'body' },
      choice(
        'by',
        ['shift', 'by'],
        ['turn', 'turned by'],
        ['scale', 'scaled by'],
        ['align', 'face against face'],
        ['touch', 'until it touches'],
      ),
      ...HOW[i.by](i),
      ...usualChoice(i, 'result', ['moved', 'itself'], ['copied', 'as a copy']),
    ];
  },
  handles: ({ id, inputs: i }, standing) => {
    const bounds = standing.bounds(i.result === 'copied' ? id : i.body);
    if (!bounds) return [];
    // What is built stands where it was moved to.
    const middle = middleOf(bounds);
    const lines = boxLines(bounds);
    if (i.by === 'shift')
      return (['x', 'y', 'z'] as const).map((name, axis) => {
        const way = triple((k) => (k === axis ? 1 : 0));
        const back = (p: Vec3): Vec3 => along(p, way, -standing.value(name));
        const side = triple((k) => (k === axis ? bounds.max[k]! : middle[k]));
        return { value: name, from: back(side), way, carried: lines.map((l) => l.map(back)) };
      });
    if (i.by === 'scale') {
      const factor = standing.value('factor');
      const far = bounds.max.map(Math.abs).every((v, k) => v >= Math.abs(bounds.min[k]!)) ? bounds.max : bounds.min;
      const way = unit(far);
      return way ? [{ value: 'factor', from: [0, 0, 0], way, per: Math.hypot(...far) / factor }] : [];
    }
    const about = i.by === 'turn' ? lineOf(i.about, i.paths, standing) : undefined;
    if (!about) return [];
    const { place, direction } = about;
    const back = (p: Vec3): Vec3 => along(place, turned(minus(p, place), direction, -standing.value('angle')), 1);
    // A body that stands on the line it turns about is taken hold of beside it.
    const arm = Math.max(...[0, 1, 2].map((k) => bounds.max[k]! - bounds.min[k]!)) * 0.6;
    const off = minus(middle, along(place, direction, dot(minus(middle, place), direction)));
    const beside = unit(cross(direction, Math.abs(direction[1]) > 0.9 ? [0, 0, 1] : [0, 1, 0]))!;
    const at = Math.hypot(...off) > arm / 4 ? middle : along(middle, beside, arm);
    return [{ value: 'angle', from: back(at), about, carried: lines.map((l) => l.map(back)) }];
  },
  quick: ({ id, inputs: i }, standing, was) => {
    const skin = standing.skin(i.result === 'copied' ? id : i.body, '');
    const [to, from] = [motionOf(i, standing), motionOf(i, was)];
    // What is built stands where it was moved to.
    return skin && to && from ? [atPlaces(skin, [after(to, inverse(from))])] : null;
  },
  makes: (i, id) => (i.result === 'copied' ? [id] : []),
  copies: (i) => (i.result === 'copied' ? i.body : null),
  // What it goes to is at hand.
  chosen: (i, field, there) =>
    field === 'by' && i.by === 'touch' && !i.onto ? { ...i, onto: there.bodies.find((b) => b !== i.body) ?? null } : i,
  takesSurfaces: true,
  takesPieces: true,
  takesFacets: true,
  changesBody: (i) => (i.result === 'moved' ? i.body : null),
  uses: (i) => {
    const picks = pickUses([...(i.by === 'align' ? i.faces : []), ...(i.by === 'turn' && i.about === 'line' ? i.paths : [])]);
    return { ...picks, bodies: [...new Set([i.body, ...(i.by === 'touch' && i.onto ? [i.onto] : []), ...picks.bodies])], planes: [] };
  },
};
