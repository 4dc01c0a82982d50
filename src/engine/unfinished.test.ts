import { describe, expect, it } from 'vitest';
import { add, box, empty, engine } from '../../tests/support/parts';
import { offeringOf } from '../core/recipe/offers';
import type { Project } from '../core/recipe/schema';
import { stepDefinitions } from '../core/recipe/steps';

const block = (): Project => box(empty(), [60, 40, 30]);
const last = async (p: Project) => (await engine.rebuild(p)).steps.at(-1)!;

describe('a step that was begun', () => {
  it('and waits for a pick is not finished, with what to do next', async () => {
    for (const [kind, inputs] of [
      ['fillet', { body: 's1', edges: [] }],
      ['chamfer', { body: 's1', edges: [] }],
      ['draft', { body: 's1', faces: [], plane: 'level' }],
      ['hole', { body: 's1', places: [], plane: 'level', ends: 'through' }],
      ['remove', { bodies: [] }],
    ] as const) {
      const offered = stepDefinitions[kind]!.inputs.safeParse(inputs);
      const r = await last(add(block(), kind, offered.success ? offered.data : inputs));
      expect([kind, r.state, r.unfinished, r.tryInstead.length > 0], r.why ?? '').toEqual([kind, 'failed', true, true]);
    }
  });
  it('as it is offered either works at once, or waits for what it asks to be picked', async () => {
    const p = block();
    let waiting = 0;
    for (const [kind, d] of Object.entries(stepDefinitions))
      for (const o of d!.offers(offeringOf(p, { skins: new Set(), made: () => undefined }))) {
        const r = await last(
          add(p, kind as Parameters<typeof add>[1], o.inputs as Record<string, unknown>, o.values as Record<string, string>),
        );
        if (r.unfinished) waiting++;
        if (o.pick) expect([kind, o.label, r.state === 'failed' && !r.unfinished], r.why ?? '').toEqual([kind, o.label, false]);
      }
    expect(waiting).toBeGreaterThan(5);
  });
  it('and is wrong is a failure, as ever', async () => {
    const r = await last(add(block(), 'shell', { body: 's1', open: [{ face: 's1/end' }] }, { wall: '40 mm' }));
    expect([r.state, r.unfinished]).toEqual(['failed', false]);
  });
});
