import { z } from 'zod';
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

const inputs = z.object({
  body: idSchema,
  by: z.enum(['shift', 'turn', 'scale', 'align']),
  /** The line it turns about: through the origin, or one that is picked. */
  about: z.enum(['z', 'x', 'y', 'line']),
  paths: z.array(pathRefSchema).max(1),
  /** A flat face of the body, then the one it is laid against. */
  faces: z.array(bodyFaceSchema).max(2),
  result: z.enum(['moved', 'copied']),
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
};

export const move: StepDefinition<MoveInputs, 'x' | 'y' | 'z' | 'angle' | 'factor' | 'gap'> = {
  kind: 'move',
  verb: 'Move',
  group: 'combine',
  summary: 'move, turn, scale or align a body, or a copy of it',
  known: ['translate', 'rotate', 'scale', 'resize', 'enlarge', 'shrink', 'place', 'position', 'orient', 'copy', 'align'],
  needs: 'a body',
  offers: (c) =>
    [...c.solids, ...c.skins].map((b) => ({
      group: 'Join and cut',
      label: `Move, turn, scale or align ${b.name}`,
      hint: 'moved, or a copy',
      inputs: { body: b.id, by: 'shift', about: 'z', paths: [], faces: [], result: 'moved' },
    })),
  inputs,
  values: {
    x: { kind: 'length', label: 'across', initial: '10 mm' },
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
      choice('by', ['shift', 'by'], ['turn', 'turned by'], ['scale', 'scaled by'], ['align', 'face against face']),
      ...HOW[i.by](i),
      ...usualChoice(i, 'result', ['moved', 'itself'], ['copied', 'as a copy']),
    ];
  },
  makes: (i, id) => (i.result === 'copied' ? [id] : []),
  takesSurfaces: true,
  takesPieces: true,
  changesBody: (i) => (i.result === 'moved' ? i.body : null),
  uses: (i) => {
    const picks = pickUses([...(i.by === 'align' ? i.faces : []), ...(i.by === 'turn' && i.about === 'line' ? i.paths : [])]);
    return { ...picks, bodies: [...new Set([i.body, ...picks.bodies])], planes: [] };
  },
};
