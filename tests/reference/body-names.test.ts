/**
 * Names of every way to raise and combine bodies survive a rebuild: each dimension by ±50 %, a step put before, two that do not depend on
 * each other swapped. An edge picked by name is rounded last; what that takes away, (1 − π/4) r² for every millimetre of a square edge
 * (geometry), says which edge it was, since every edge of these recipes has a length of its own.
 */
import { describe, expect, it } from 'vitest';
import { addStep, emptyProfile, moveStep, newProject, setDimension, setProfile } from '../../src/core/recipe/edit';
import type { Profile, Project } from '../../src/core/recipe/schema';
import { Engine } from '../../src/engine/engine';
import { testKernel } from '../support/kernel';
import { ROW } from '../support/parts';

const engine = new Engine({ open: testKernel });
const RADIUS = 0.6;
const sizes = { W: 40, D: 26, H: 18 };
type Sizes = Record<keyof typeof sizes, number>;

const start = (): Project => ({
  ...newProject('Names'),
  dimensions: Object.entries(sizes).map(([name, v]) => ({ name, expr: `${v} mm` })),
  profiles: [],
  steps: [],
  bodies: {},
});
const fresh = { mode: 'new', body: null };
const add = (
  p: Project,
  kind: Parameters<typeof addStep>[1],
  inputs: Record<string, unknown>,
  values: Record<string, string> = {},
): Project => addStep(p, kind, inputs, values).project;
const box = (p: Project, w = 'W', d = 'D', h = 'H', more: Record<string, unknown> = {}): Project =>
  add(p, 'primitive', { shape: 'box', plane: 'level', places: [], ...fresh, ...more }, { width: w, depth: d, height: h });
const at = (x: string, y: string, z: string): { places: { at: [string, string, string] }[] } => ({ places: [{ at: [x, y, z] }] });
/** A rectangle held by dimensions, its lower left corner on the origin: low, right, high, left. */
function rectangle(id: string, plane: string, w: string, h: string, drawn: readonly [number, number]): Profile {
  const [x, y] = drawn;
  const corners: Record<string, [number, number]> = { a: [0, 0], b: [x, 0], c: [x, y], d: [0, y] };
  return {
    ...emptyProfile(id, id, plane, false),
    points: Object.entries(corners).map(([k, [px, py]]) => ({ id: k, x: px, y: py })),
    curves: [
      { kind: 'line', id: 'low', from: 'a', to: 'b' },
      { kind: 'line', id: 'right', from: 'b', to: 'c' },
      { kind: 'line', id: 'high', from: 'c', to: 'd' },
      { kind: 'line', id: 'left', from: 'd', to: 'a' },
    ],
    constraints: [
      { kind: 'coincident', id: 'k1', a: 'a', b: 'origin' },
      { kind: 'horizontal', id: 'k2', a: 'a', b: 'b' },
      { kind: 'vertical', id: 'k3', a: 'b', b: 'c' },
      { kind: 'horizontal', id: 'k4', a: 'c', b: 'd' },
      { kind: 'vertical', id: 'k5', a: 'd', b: 'a' },
      { kind: 'distance', id: 'd1', a: 'a', b: 'b', direction: 'horizontal', value: w, driving: true },
      { kind: 'distance', id: 'd2', a: 'b', b: 'c', direction: 'vertical', value: h, driving: true },
    ],
  };
}
const extrusion = { extent: 'one', way: 'out', fill: 'solid', faces: [], until: null, ...fresh };
const extruded = (p: Project, length: string, more: Record<string, unknown> = {}, plane = 'level'): Project => {
  const id = `plan${p.profiles.length}`;
  return add(
    setProfile(p, rectangle(id, plane, 'W', 'D', [sizes.W, sizes.D])),
    'extrude',
    { profile: id, ...extrusion, ...more },
    { length },
  );
};
const plane = (p: Project, distance: string): { project: Project; id: string } =>
  addStep(p, 'plane', { by: 'distance', from: 'level' }, { distance });

interface Recipe {
  readonly name: string;
  readonly make: () => Project;
  /** The body rounded, the edge picked, and how long it is. */
  readonly body: string;
  readonly edge: string;
  readonly length: (s: Sizes) => number;
}

const recipes: readonly Recipe[] = [
  { name: 'a plain box', make: () => box(start()), body: 's1', edge: 's1/end|s1/right', length: (s) => s.D },
  { name: 'an extrusion', make: () => extruded(start(), 'H'), body: 's1', edge: 's1/low|s1/right', length: (s) => s.H },
  {
    name: 'an extrusion to both sides',
    make: () => extruded(start(), 'H', { extent: 'symmetric' }),
    body: 's1',
    edge: 's1/high|s1/start',
    length: (s) => s.W,
  },
  {
    name: 'a quarter turn',
    make: () =>
      add(
        setProfile(start(), { ...rectangle('half', 'front', 'W', 'H', [40, 18]), half: true }),
        'revolve',
        { profile: 'half', ...fresh },
        { angle: '90°' },
      ),
    body: 's1',
    edge: 's1/high|s1/start',
    length: (s) => s.W,
  },
  {
    name: 'a block with a hole',
    make: () =>
      add(
        box(start()),
        'primitive',
        { shape: 'cylinder', plane: 'level', places: [], mode: 'cut', body: 's1' },
        { diameter: 'D/4', height: 'H*2' },
      ),
    body: 's1',
    edge: 's1/front|s1/left',
    length: (s) => s.H,
  },
  {
    name: 'a block on a block',
    make: () => box(box(start()), 'W/2', 'D/3', 'H*2', { mode: 'join', body: 's1' }),
    body: 's1',
    edge: 's2/back|s2/end',
    length: (s) => s.W / 2,
  },
  {
    name: 'what two blocks share',
    make: () => box(box(start()), 'W/2', 'D*2', 'H*2', { mode: 'common', body: 's1' }),
    body: 's1',
    edge: 's1/front|s2/left',
    length: (s) => s.H,
  },
  {
    name: 'two bodies combined',
    make: () => add(box(box(start()), 'W/2', 'D/3', 'H*2'), 'combine', { body: 's1', mode: 'join', tools: ['s2'], tooling: 'used' }),
    body: 's1',
    edge: 's2/end|s2/left',
    length: (s) => s.D / 3,
  },
  {
    name: 'a cut with a body that stays',
    make: () => add(box(box(start()), 'W/2', 'D*2', 'H/2'), 'combine', { body: 's1', mode: 'cut', tools: ['s2'], tooling: 'kept' }),
    body: 's1',
    edge: 's1/back|s1/end',
    length: (s) => s.W,
  },
  {
    name: 'a block cut off by a plane',
    make: () => {
      const p = plane(box(start()), 'H/3');
      return add(p.project, 'split', { body: 's1', by: 'plane', plane: p.id, profile: null, tool: null, keep: 'second' });
    },
    body: 's1',
    edge: 's1/right|s3/cut',
    length: (s) => s.D,
  },
  {
    name: 'both pieces of a split',
    make: () => {
      const p = plane(box(start()), 'H/3');
      return add(p.project, 'split', { body: 's1', by: 'plane', plane: p.id, profile: null, tool: null, keep: 'all' });
    },
    body: 's3',
    edge: 's1/back|s3/cut',
    length: (s) => s.W,
  },
  {
    name: 'a mirror image joined on',
    make: () => add(box(start(), 'W', 'D', 'H', at('W/2', '0', '0')), 'mirror', { body: 's1', plane: 'side', result: 'joined' }),
    body: 's1',
    edge: 's2/copy(s1/end)|s2/copy(s1/right)',
    length: (s) => s.D,
  },
  {
    name: 'a mirror image of its own',
    make: () => add(box(start(), 'W', 'D', 'H', at('W', '0', '0')), 'mirror', { body: 's1', plane: 'side', result: 'separate' }),
    body: 's2',
    edge: 's2/copy(s1/front)|s2/copy(s1/right)',
    length: (s) => s.H,
  },
  {
    name: 'a moved block',
    make: () =>
      add(box(start()), 'move', { body: 's1', by: 'shift', about: 'z', paths: [], faces: [], result: 'moved' }, { x: 'W', y: '3 mm' }),
    body: 's1',
    edge: 's1/end|s1/right',
    length: (s) => s.D,
  },
  {
    name: 'a turned block',
    make: () => add(box(start()), 'move', { body: 's1', by: 'turn', about: 'x', paths: [], faces: [], result: 'moved' }, { angle: '37°' }),
    body: 's1',
    edge: 's1/back|s1/left',
    length: (s) => s.H,
  },
  {
    name: 'a copy',
    make: () => add(box(start()), 'move', { body: 's1', by: 'shift', about: 'z', paths: [], faces: [], result: 'copied' }, { x: 'W*2' }),
    body: 's2',
    edge: 's2/copy(s1/back)|s2/copy(s1/end)',
    length: (s) => s.W,
  },
  {
    name: 'a row of bosses',
    make: () => {
      const p = box(box(start()), 'W/10', 'D/2', 'H*1.5', { mode: 'join', body: 's1', ...at('-W*0.4', '0', '0') });
      return add(p, 'pattern', { ...ROW, step: 's2', body: 's1' }, { count: '4', length: 'W/4' });
    },
    body: 's1',
    edge: 's3/3(s2/end)|s3/3(s2/right)',
    length: (s) => s.D / 2,
  },
  {
    name: 'a boss drawn on the top',
    make: () => {
      const p = addStep(box(start()), 'plane', { by: 'on', faces: [{ body: 's1', face: 's1/end' }] });
      const boss = rectangle('boss', p.id, 'W/3', 'D/4', [sizes.W / 3, sizes.D / 4]);
      return add(setProfile(p.project, boss), 'extrude', { profile: 'boss', ...extrusion, mode: 'join', body: 's1' }, { length: 'H/3' });
    },
    body: 's1',
    edge: 's3/end|s3/high',
    length: (s) => s.W / 3,
  },
  {
    name: 'a swept bar',
    make: () => {
      const path = addStep(start(), 'curve', {
        by: 'line',
        places: [{ at: ['0', '0', '0'] }, { at: ['W*2', '0', '0'] }],
        paths: [],
        plane: 'level',
        chain: 'smooth',
        join: 'G1',
        ends: 'end-start',
      });
      const bar = rectangle('bar', 'side', 'D/2', 'H/2', [sizes.D / 2, sizes.H / 2]);
      return add(setProfile(path.project, bar), 'sweep', { sections: ['bar'], paths: [{ step: path.id }], hold: 'square', ...fresh });
    },
    body: 's2',
    edge: 's2/end|s2/high',
    length: (s) => s.D / 2,
  },
  {
    name: 'a bent wire',
    make: () => {
      const block = box(start());
      const wire = add(
        block,
        'wire',
        { paths: [{ body: 's1', edge: 's1/end|s1/front' }], chain: 'picked', inside: 'solid', ...fresh },
        { wire: 'H/3' },
      );
      // What is rounded is the block the wire is joined to: its upper edge behind.
      return add(wire, 'combine', { mode: 'join', body: 's1', tools: ['s2'], tooling: 'used' });
    },
    body: 's1',
    edge: 's1/back|s1/end',
    length: (s) => s.W,
  },
  {
    name: 'a straight loft',
    make: () => {
      const p = plane(setProfile(start(), rectangle('low', 'level', 'W', 'D', [40, 26])), 'H');
      const q = setProfile(p.project, rectangle('high', p.id, 'W', 'D', [40, 26]));
      return add(q, 'loft', {
        sections: ['low', 'high'],
        paths: [],
        rails: 'drawn',
        skin: 'ruled',
        run: 'open',
        start: 'free',
        end: 'free',
        shifts: '',
        ...fresh,
      });
    },
    body: 's2',
    edge: 's2/end|s2/right',
    length: (s) => s.D,
  },
  {
    name: 'a bar that ends at a block',
    make: () => {
      const p = plane(box(start()), 'H*3');
      const bar = rectangle('bar', p.id, 'W/4', 'D/4', [10, 6.5]);
      return add(setProfile(p.project, bar), 'extrude', {
        profile: 'bar',
        ...extrusion,
        extent: 'body',
        until: 's1',
        way: 'back',
        mode: 'join',
        body: 's1',
      });
    },
    body: 's1',
    edge: 's3/low|s3/start',
    length: (s) => s.W / 4,
  },
];

/** What the last round took away for every (1 − π/4) r²: the length of the edge it landed on. Words where it failed. */
async function landing(p: Project): Promise<number | string> {
  const r = await engine.rebuild(p);
  const bad = r.steps.find((s) => s.state === 'failed' || s.state === 'skipped');
  if (bad) return `${bad.message}: ${bad.why ?? ''}`;
  return -r.steps.find((s) => s.kind === 'fillet')!.volumeChange! / ((1 - Math.PI / 4) * RADIUS ** 2);
}

describe('an edge picked on', () => {
  it('is asked of at least twenty recipes', () => expect(recipes.length).toBeGreaterThanOrEqual(20));
  it.each(recipes.map((r) => [r.name, r] as const))('%s is the same edge after every change', async (_, recipe) => {
    const round = (p: Project): Project =>
      add(p, 'fillet', { body: recipe.body, edges: [{ edge: recipe.edge }] }, { radius: `${RADIUS} mm` });
    const base = round(recipe.make());
    expect(await landing(base)).toBeCloseTo(recipe.length(sizes), 2);
    const wrong: string[] = [];
    const judge = async (what: string, p: Project, s: Sizes): Promise<void> => {
      const length = await landing(p);
      if (typeof length === 'string' ? length.length < 10 : Math.abs(length - recipe.length(s)) > 0.01) wrong.push(`${what}: ${length}`);
    };
    for (const name of Object.keys(sizes) as (keyof Sizes)[])
      for (const k of [0.5, 1.5])
        await judge(`${name} × ${k}`, setDimension(base, name, `${sizes[name] * k} mm`), { ...sizes, [name]: sizes[name] * k });
    // A body of its own, before everything and then after the first step.
    const more = addStep(base, 'primitive', { shape: 'sphere', plane: 'level', ...at('300 mm', '0', '0'), ...fresh }, { diameter: '5 mm' });
    const before = moveStep(more.project, more.id, 0);
    await judge('a step before', before, sizes);
    await judge('two steps swapped', moveStep(before, more.id, 1), sizes);
    expect(wrong).toEqual([]);
  });
});
