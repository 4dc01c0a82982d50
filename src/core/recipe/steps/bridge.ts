import { z } from 'zod';
import { choice, idSchema, pathRefSchema, pickUses, type StepDefinition, still, text, usually, value } from './definition';
import { overChosen, overPlanes, overSchema, overWords } from './over';

const join = z.enum(['G0', 'G1', 'G2']);
const inputs = z.object({
  /** The two borders: edges with what goes on from them smoothly, drawn chains, curves in space. */
  paths: z.array(pathRefSchema).max(2),
  /** How it goes on from what lies beside either. */
  start: join,
  end: join,
  /** The bodies whose faces lie beside borders, beside those whose edges are picked. */
  beside: z.array(idSchema).max(24),
  ...overSchema,
});
export type BridgeInputs = z.infer<typeof inputs>;

/** What its ends are called. */
export const BRIDGE_ENDS = { start: 'the first border', end: 'the second border' } as const;

const joins = (field: 'start' | 'end', called: string) =>
  choice(field, ['G1', `${called} smoothly (G1)`], ['G2', `${called} with its curvature (G2)`], ['G0', `${called} only met`]);

export const bridge: StepDefinition<BridgeInputs, 'startStrength' | 'endStrength' | 'turn'> = {
  kind: 'bridge',
  verb: 'Bridge',
  group: 'raise',
  summary: 'a surface from one border to another, on from what lies beside both',
  known: ['blend surface', 'surface blend', 'transition', 'connect surfaces', 'bridge surface', 'freeform blend', 'neck', 'spout'],
  needs: 'nothing',
  offers: (c) => [
    {
      group: 'Raise',
      label: 'Bridge two borders',
      hint: 'a surface that goes on smoothly from both',
      inputs: { paths: [], start: 'G2', end: 'G2', beside: c.skins.map((s) => s.id).slice(0, 24) },
      pick: { what: 'paths', field: 'paths', most: 2 },
    },
  ],
  inputs,
  values: {
    startStrength: { kind: 'number', label: 'strength at the first', initial: '1', above: 0, atMost: 4 },
    endStrength: { kind: 'number', label: 'strength at the second', initial: '1', above: 0, atMost: 4 },
    turn: { kind: 'number', label: 'matching turned by', initial: '0', atLeast: -1, atMost: 1 },
  },
  sentence: (step) => {
    const { inputs: i } = step;
    return [
      text('Bridge'),
      { picks: 'paths', what: 'paths', most: 2 },
      text(','),
      joins('start', 'the first'),
      ...usually(i.start === 'G0' || still(step, bridge.values, 'startStrength'), text('strength'), value('startStrength')),
      text(','),
      joins('end', 'the second'),
      ...usually(i.end === 'G0' || still(step, bridge.values, 'endStrength'), text('strength'), value('endStrength')),
      ...usually(still(step, bridge.values, 'turn'), text(', matching turned by'), value('turn')),
      ...usually(true, text(', going on from'), { bodies: 'beside' }),
      ...overWords(i),
    ];
  },
  makes: (_, id) => [id],
  changesBody: () => null,
  chosen: (i, field, { planes }) => overChosen(i, field, planes),
  uses: (i) => {
    const picks = pickUses(i.paths);
    const bodies = i.start === 'G0' && i.end === 'G0' ? picks.bodies : [...picks.bodies, ...i.beside];
    return { ...picks, bodies: [...new Set(bodies)], planes: overPlanes(i) };
  },
};
