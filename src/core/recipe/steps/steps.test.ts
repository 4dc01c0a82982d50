/** Every kind of step says of itself what is so: its sentence names values and choices it has, and it uses what it works on. */
import { describe, expect, it } from 'vitest';
import { ladleGrip } from '../../../../demo/ladle-grip';
import { robeHook } from '../../../../demo/robe-hook';
import { soapDish } from '../../../../demo/soap-dish';
import { soapTray } from '../../../../demo/soap-tray';
import { steamDiffuser } from '../../../../demo/steam-diffuser';
import { steamTower } from '../../../../demo/steam-tower';
import { twistedTower } from '../../../../demo/twisted-tower';
import { evaluateAs } from '../../dimensions/expression';
import { thereBeside } from '../edit';
import { parseProject, writeProject } from '../file';
import { stepsBehind } from '../lineage';
import { definitions, punctuated, type StepKind, stepDefinitions } from '.';

const DEMOS = [steamDiffuser, ladleGrip, robeHook, soapTray, steamTower, twistedTower, soapDish];
const steps = DEMOS.flatMap((p) => p.steps.map((step) => ({ project: p, step })));

describe('a sentence', () => {
  it('has its commas where something stands before them, and loses none', () => {
    for (const { step } of steps) {
      const parts = stepDefinitions[step.kind]!.sentence(step);
      const set = punctuated(parts);
      for (const { part } of set) if ('text' in part) expect(part.text).toMatch(/^[^,\s]/);
      const commas = parts.filter((p) => 'text' in p && p.text.startsWith(',')).length;
      expect(set.filter((s) => s.comma)).toHaveLength(commas);
    }
    expect(punctuated([{ value: 'wall' }, { text: ', open at' }, { faces: 'open' }])).toEqual([
      { part: { value: 'wall' }, comma: true, at: 0 },
      { part: { text: 'open at' }, comma: false, at: 1 },
      { part: { faces: 'open' }, comma: false, at: 2 },
    ]);
  });
});

describe('kinds of steps', () => {
  it.each(Object.keys(definitions) as StepKind[])('have values that begin as what they are: %s', (kind) => {
    const d = stepDefinitions[kind]!;
    expect(d.kind).toBe(kind);
    expect(d.verb.length).toBeGreaterThan(2);
    expect(d.summary.length).toBeGreaterThan(5);
    for (const [name, v] of Object.entries(d.values)) {
      const r = evaluateAs(v.initial, v.kind, () => undefined);
      expect([name, r.ok ? '' : r.error]).toEqual([name, '']);
      if (!r.ok) continue;
      if (v.above !== undefined) expect(r.value).toBeGreaterThan(v.above);
      if (v.atLeast !== undefined) expect(r.value).toBeGreaterThanOrEqual(v.atLeast);
    }
    if (d.ranged) expect(Object.keys(d.values)).toContain(d.ranged);
  });
  it('of the demos keep to their schemas, and come back from a file as they are', () => {
    for (const { step } of steps) {
      const r = stepDefinitions[step.kind]!.inputs.safeParse(step.inputs);
      expect([step.kind, r.success ? '' : r.error.message]).toEqual([step.kind, '']);
      if (r.success) expect(r.data).toEqual(step.inputs);
    }
    for (const p of DEMOS) {
      const r = parseProject(writeProject(p));
      // A file knows no zero below nothing.
      expect(r.ok && r.value).toEqual(JSON.parse(JSON.stringify(p)));
    }
  });
  it('of the demos have sentences of values and choices that are there', () => {
    for (const { step } of steps) {
      const d = stepDefinitions[step.kind]!;
      for (const part of d.sentence(step)) {
        if ('value' in part) expect([step.kind, Object.keys(d.values)]).toEqual([step.kind, expect.arrayContaining([part.value])]);
        if ('choice' in part) {
          const now = step.inputs[part.choice];
          // What is left out is the first of the choices.
          if (now === undefined) continue;
          expect([step.kind, part.choice, part.options.map((o) => o.value)]).toEqual([
            step.kind,
            part.choice,
            expect.arrayContaining([now]),
          ]);
        }
      }
    }
  });
  it('of the demos use only what stands before them, and what they change', () => {
    for (const { project, step } of steps) {
      const d = stepDefinitions[step.kind]!;
      const before = project.steps.slice(0, project.steps.indexOf(step));
      const made = before.flatMap((s) => stepDefinitions[s.kind]!.makes(s.inputs, s.id));
      const uses = d.uses(step.inputs);
      for (const b of uses.bodies) expect(made).toContain(b);
      for (const p of uses.profiles) expect(project.profiles.map((x) => x.id)).toContain(p);
      for (const p of uses.planes) expect([...before.map((s) => s.id), 'front', 'side', 'level']).toContain(p);
      const changed = d.changesBody(step.inputs);
      if (changed !== null) expect(uses.bodies).toContain(changed);
    }
  });
  it('stand behind what they made, in their order, and each once', () => {
    for (const p of DEMOS) {
      const bodies = p.steps.flatMap((s) => stepDefinitions[s.kind]!.makes(s.inputs, s.id));
      for (const b of bodies) {
        const behind = stepsBehind(p, b).map((s) => s.id);
        expect(new Set(behind).size).toBe(behind.length);
        expect(behind).toEqual(p.steps.map((s) => s.id).filter((id) => behind.includes(id)));
        // Switched off, a step is behind nothing.
        const off = { ...p, steps: p.steps.map((s) => ({ ...s, enabled: false })) };
        expect(stepsBehind(off, b)).toEqual([]);
      }
    }
  });
});

describe('what goes with a choice', () => {
  it('of going until it touches is the body at hand: a scan before others, and never itself', () => {
    const there = thereBeside(steamDiffuser, 'none');
    const { chosen } = definitions.move;
    const i = { body: 's1', by: 'touch', about: 'z', paths: [], faces: [], result: 'moved' } as const;
    const take = (bodies: readonly string[]) => chosen!({ ...i, paths: [], faces: [] }, 'by', { ...there, bodies }).onto;
    expect(take(['s4', 's1'])).toBe('s4');
    expect(take(['s1'])).toBe(null);
    expect(there.bodies[0]).toBe('s1');
    const scanned = {
      ...steamDiffuser,
      steps: [...steamDiffuser.steps, { ...steamDiffuser.steps[0]!, id: 'x9', kind: 'scan', inputs: { file: 'f', unit: 'mm' } }],
    };
    expect(thereBeside(scanned, 'none').bodies[0]).toBe('x9');
    // What was chosen before stays.
    expect(chosen!({ ...i, paths: [], faces: [], onto: 's3' }, 'by', { ...there, bodies: ['s4'] }).onto).toBe('s3');
  });
});
