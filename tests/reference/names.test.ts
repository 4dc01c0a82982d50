/**
 * Names survive a rebuild: change every dimension by ±50 %, put a step before, swap two that do not depend on
 * each other, and later selections land on the same geometry or fail in words.
 */
import { describe, expect, it } from 'vitest';
import { addStep, moveStep, newProject, setDimension, setStep } from '../../src/core/recipe/edit';
import { splitEdgeName, stepOf } from '../../src/core/recipe/names';
import type { Profile, Project } from '../../src/core/recipe/schema';
import { Engine } from '../../src/engine/engine';
import { namedEdges } from '../../src/kernel/names';
import { boundsOf, facesOf } from '../../src/kernel/shapes';
import { testKernel } from '../support/kernel';
import { written } from '../support/profile';

const engine = new Engine({ open: testKernel });

const dimensions = [
  { name: 'height', expr: '100 mm' },
  { name: 'belly', expr: '60 mm' },
  { name: 'neck', expr: '24 mm' },
  { name: 'wall', expr: '2 mm' },
  { name: 'crease', expr: '2 mm' },
  { name: 'foot_r', expr: '0.8 mm' },
];
const poly = (id: string, name: string, points: [string, string][], names: string[]): Profile =>
  written(
    {
      id,
      name,
      points: points.map(([x, y], i) => ({ id: `p${i}`, x, y })),
      curves: names.map((n, i) => ({ kind: 'line', id: n, name: n, from: `p${i}`, to: `p${(i + 1) % points.length}` })),
    },
    dimensions,
  );

/** A pot with a collar, its crease rounded, hollowed open at the collar's rim; then the foot's edge rounded. */
function pot(): Project {
  let p: Project = {
    ...newProject('Pot'),
    dimensions,
    profiles: [
      poly(
        'belly',
        'Belly',
        [
          ['0', '0'],
          ['belly/2', '0'],
          ['belly/2', 'height*0.6'],
          ['0', 'height*0.6'],
        ],
        ['foot', 'side', 'shoulder'],
      ),
      poly(
        'collar',
        'Collar',
        [
          ['0', 'height*0.4'],
          ['neck/2', 'height*0.4'],
          ['neck/2', 'height'],
          ['0', 'height'],
        ],
        ['root', 'side', 'rim'],
      ),
      poly(
        'groove',
        'Groove',
        [
          ['belly/2 - 1', 'height*0.2'],
          ['belly/2 + 5', 'height*0.2'],
          ['belly/2 + 5', 'height*0.3'],
          ['belly/2 - 1', 'height*0.3'],
        ],
        ['low', 'out', 'high', 'in'],
      ),
      poly(
        'bead',
        'Bead',
        [
          ['neck/2 - 1', 'height*0.8'],
          ['neck/2 + 2', 'height*0.8'],
          ['neck/2 + 2', 'height*0.85'],
          ['neck/2 - 1', 'height*0.85'],
        ],
        ['low', 'out', 'high', 'in'],
      ),
    ],
    steps: [{ id: 's1', kind: 'revolve', inputs: { profile: 'belly', mode: 'new', body: null }, values: { angle: '360°' }, enabled: true }],
  };
  p = addStep(p, 'revolve', { profile: 'collar', mode: 'join', body: 's1' }).project;
  p = addStep(p, 'fillet', { body: 's1', edges: [{ edge: 's1/shoulder|s2/side' }] }, { radius: 'crease' }).project;
  p = addStep(p, 'shell', { body: 's1', open: [{ face: 's2/rim' }] }, { wall: 'wall' }).project;
  return addStep(p, 'fillet', { body: 's1', edges: [{ edge: 's1/foot|s1/side' }] }, { radius: 'foot_r' }).project;
}

interface Landing {
  readonly rim: number;
  readonly inside: number;
  readonly creaseAt: readonly [number, number];
  readonly footRadius: number;
}

/** Where the selections ended up, read off the body's geometry and not off its names. */
async function landing(p: Project): Promise<Landing | string> {
  const r = await engine.rebuild(p);
  const bad = r.steps.find((s) => s.state === 'failed');
  if (bad) return `${bad.message}: ${bad.why}`;
  const kernel = await testKernel();
  const { body } = engine.bodies()[0]!;
  const box = (name: RegExp) => {
    const i = body.faces.findIndex((f) => name.test(f));
    if (i < 0) throw new Error(`no face ${name} among ${body.faces.join(', ')}`);
    return boundsOf(kernel, facesOf(kernel, body.shape)[i]!);
  };
  const crease = box(/^s3\/round/);
  const foot = box(/^s5\/round|^s\d+\/round\(s1\/foot/);
  return {
    rim: box(/rim\(s2\/rim\)/).max[2],
    inside: box(/inner\(s1\/foot\)/).max[2],
    creaseAt: [crease.min[2], crease.max[2]],
    footRadius: foot.max[2] - foot.min[2],
  };
}

/** What must hold of a pot by its dimensions. */
function check(l: Landing | string, d: { height: number; wall: number; crease: number; foot_r: number }): void {
  if (typeof l === 'string') {
    // A refusal is allowed, in words; landing elsewhere is not.
    expect(l).toMatch(/does not fit|can't be hollowed|does not touch|no longer exists|could not be/);
    return;
  }
  expect(l.rim).toBeCloseTo(d.height, 3);
  expect(l.inside).toBeCloseTo(d.wall, 3);
  expect(l.creaseAt[0]).toBeCloseTo(d.height * 0.6, 3);
  expect(l.creaseAt[1]).toBeCloseTo(d.height * 0.6 + d.crease, 3);
  expect(l.footRadius).toBeCloseTo(d.foot_r, 3);
}

const base = { height: 100, belly: 60, neck: 24, wall: 2, crease: 2, foot_r: 0.8 };

describe('selections land where they were', () => {
  it('as built', async () => {
    const l = await landing(pot());
    expect(typeof l).toBe('object');
    check(l, base);
  });
  for (const name of Object.keys(base) as (keyof typeof base)[])
    for (const factor of [0.5, 1.5])
      it(`with ${name} × ${factor}`, async () => {
        const value = base[name] * factor;
        const l = await landing(setDimension(pot(), name, `${value} mm`));
        check(l, { ...base, [name]: value });
        if (name !== 'crease') expect(typeof l).toBe('object');
      });
  it('with a cut put in before them', async () => {
    const { project } = addStep({ ...pot(), marker: 's1' }, 'revolve', { profile: 'groove', mode: 'cut', body: 's1' });
    const l = await landing({ ...project, marker: null });
    expect(typeof l).toBe('object');
    check(l, base);
  });
  it('with two independent steps swapped', async () => {
    const { project, id } = addStep({ ...pot(), marker: 's2' }, 'revolve', { profile: 'groove', mode: 'cut', body: 's1' });
    const one = { ...project, marker: null };
    const a = await landing(one);
    const order = one.steps.map((s) => s.id);
    const b = await landing(moveStep(one, id, order.indexOf('s3')));
    expect(typeof a).toBe('object');
    expect(b).toEqual(a);
    check(b, base);
  });
  it('with the joins in the other order', async () => {
    const p = addStep({ ...pot(), marker: 's1' }, 'revolve', { profile: 'bead', mode: 'new', body: null }).project;
    check(await landing({ ...p, marker: null }), base);
  });
  it('through rules: every edge between two steps, the topmost flat face', async () => {
    let p = pot();
    p = setStep(p, { ...p.steps[2]!, inputs: { body: 's1', edges: [{ between: ['s1', 's2'] }] } });
    p = setStep(p, { ...p.steps[3]!, inputs: { body: 's1', open: [{ topOf: 's2' }] } });
    for (const height of [60, 100, 150]) check(await landing(setDimension(p, 'height', `${height} mm`)), { ...base, height });
  });
});

describe('a selection that is gone', () => {
  it('fails in words with candidates, never silently elsewhere', async () => {
    const p = pot();
    const without = { ...p, steps: p.steps.filter((s) => s.id !== 's2') };
    const r = await engine.rebuild(without);
    expect(r.steps.map((s) => s.state)).toEqual(['done', 'failed', 'skipped', 'skipped']);
    expect(r.steps[1]!.message).toContain('no longer exists');
    expect(r.steps[1]!.tryInstead.length).toBeGreaterThan(0);
  });
});

it('every edge of a body has one name of its own, made of two faces the body has', async () => {
  await engine.rebuild(pot());
  const kernel = await testKernel();
  const { body } = engine.bodies()[0]!;
  const names = namedEdges(kernel, body)
    .map((e) => e.name)
    .filter(Boolean);
  expect(new Set(names).size).toBe(names.length);
  expect(new Set(body.faces).size).toBe(body.faces.length);
  for (const n of names) {
    const parts = splitEdgeName(n)!;
    expect(body.faces).toContain(parts.a);
    expect(body.faces).toContain(parts.b);
    expect(stepOf(parts.a)).toMatch(/^s\d$/);
  }
});
