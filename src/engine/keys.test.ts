/**
 * Whatever is changed in a document, what is built from what was there equals what is built anew: every field is part of the key of what reads it.
 * One field after the other is changed, by its kind, and put through the reader's own schema.
 */
import { describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/support/kernel';
import { add, box, circle, empty, extrude } from '../../tests/support/parts';
import { everyCase, seed } from '../../tests/support/properties';
import { randomFrom } from '../../tests/support/turned';
import { pack } from '../core/exchange/packed';
import { addStep, newProject, setProfile } from '../core/recipe/edit';
import { readProject } from '../core/recipe/file';
import type { Project } from '../core/recipe/schema';
import { Engine } from './engine';

const opened = { open: testKernel };

/** A turned beaker hollowed by a dimension, with a round, a level plane, and a wall that does not go. */
function beaker(): Project {
  let p = newProject('Beaker');
  const body = p.steps[0]!.id;
  p = add(p, 'shell', { body, open: [{ topOf: body }] }, { wall: 'wall' });
  p = addStep(p, 'plane', { by: 'distance', from: 'level' }, { distance: 'height / 3' }).project;
  p = add(p, 'split', { body, by: 'plane', plane: p.steps.at(-1)!.id, profile: null, tool: null, keep: 'all' });
  return add(p, 'shell', { body: p.steps.at(-1)!.id, open: [] }, { wall: '900 mm' });
}

/** A block with a post, drilled, rounded, mirrored and repeated. */
function bracket(): Project {
  let p = box(empty(), [40, 30, 10]);
  p = extrude(p, circle('post', 'level', 5), { mode: 'join', body: 's1' }, { length: '25 mm' });
  p = add(p, 'hole', { body: 's1', places: [{ at: ['12', '8', '0'] }], plane: 'level', depth: 'through' }, { part: '4 mm' });
  p = add(p, 'fillet', { body: 's1', edges: [{ edge: 's1/front|s1/right' }] }, { radius: '2 mm' });
  return add(p, 'move', { body: 's1', by: 'shift', about: 'z', paths: [], faces: [], result: 'copied' }, { x: '60 mm' });
}

/** A drawing with a text of construction, and a solid that was brought in. */
async function broughtIn(side: number): Promise<Project> {
  const kernel = await testKernel();
  const text = kernel.BRepToolsWrapper.Write(new kernel.BRepPrimAPI_MakeBox(side, 8, 5).Shape());
  const p = setProfile(empty(), circle('ring', 'level', 9));
  return add({ ...p, imports: { i1: { name: 'Bracket', solids: [pack(text)] } } }, 'bring', { file: 'i1', count: 1 });
}

type Path = readonly (string | number)[];
function leaves(x: unknown, path: Path = []): Path[] {
  if (x === null || typeof x !== 'object') return [path];
  return Object.entries(x).flatMap(([k, v]) => leaves(v, [...path, Array.isArray(x) ? Number(k) : k]));
}
const at = (x: unknown, path: Path): unknown => path.reduce((o, k) => (o as Record<string, unknown>)[k], x);

/** Another value of the same kind. */
function otherThan(value: unknown, path: Path, random: () => number): unknown {
  if (typeof value === 'number') return value * 1.07 + 0.13;
  if (typeof value === 'boolean') return !value;
  if (typeof value !== 'string') return value;
  if (value === 'mm' && path.length === 1) return 'in';
  const number = /\d+(\.\d+)?/.exec(value);
  const named = ['name', 'note', 'client', 'purpose'].includes(String(path.at(-1)));
  if (number && !named) return value.replace(number[0], String(Number(number[0]) * (random() < 0.3 ? 20 : 1.1)));
  return `${value}x`;
}

function changedAt(p: Project, path: Path, random: () => number): Project | undefined {
  const copy = structuredClone(p) as unknown as Record<string, unknown>;
  const holder = at(copy, path.slice(0, -1)) as Record<string, unknown>;
  holder[String(path.at(-1))] = otherThan(at(p, path), path, random);
  const read = readProject(copy);
  return read.ok ? read.value : undefined;
}

async function result(engine: Engine, p: Project) {
  const r = await engine.rebuild(p);
  const steps = r.steps.map(({ ms: _, checkMs: __, cached: ___, ...s }) => s);
  return { steps, bodies: r.bodies, planes: [...r.planes], faces: engine.bodies().map((b) => [b.id, b.body.faces]) };
}

const rounded = (x: unknown): unknown => JSON.parse(JSON.stringify(x, (_, v) => (typeof v === 'number' ? Number(v.toPrecision(9)) : v)));

describe('a document with one field changed', () => {
  it.each([
    ['a beaker', async () => beaker()],
    ['a bracket', async () => bracket()],
    ['a solid that was brought in', () => broughtIn(12)],
  ])('is built from what was there as it is built anew: %s', async (_, make) => {
    const random = randomFrom(seed());
    const p = await make();
    const [warm, cold] = [new Engine(opened), new Engine(opened)];
    await warm.rebuild(p);
    const all = leaves(p).filter((path) => path[0] !== 'format' && path[0] !== 'version');
    const some = all.map((path) => ({ path, order: random() })).sort((a, b) => a.order - b.order);
    let tried = 0;
    for (const { path } of some) {
      if (tried >= (everyCase ? 70 : 25)) break;
      const other = changedAt(p, path, random);
      if (!other) continue;
      tried++;
      cold.clear();
      const told = `${path.join('.')}: ${String(at(p, path)).slice(0, 40)} → ${String(at(other, path)).slice(0, 40)}`;
      expect([told, rounded(await result(warm, other))]).toEqual([told, rounded(await result(cold, other))]);
      await warm.rebuild(p);
    }
    expect(tried).toBeGreaterThan(8);
  });

  it('brings in the other file where another is brought in under the same name', async () => {
    const engine = new Engine(opened);
    const volume = async (p: Project): Promise<number> => (await engine.rebuild(p)).bodies[0]!.volume;
    expect(await volume(await broughtIn(12))).toBeCloseTo(12 * 40, 9);
    expect(await volume(await broughtIn(20))).toBeCloseTo(20 * 40, 9);
    expect(await volume(await broughtIn(12))).toBeCloseTo(12 * 40, 9);
  });

  it('says the new name of a body that a refusal quotes, and keeps what does not quote it', async () => {
    const engine = new Engine(opened);
    const p = beaker();
    const last = p.steps.at(-1)!.id;
    await engine.rebuild(p);
    const renamed: Project = { ...p, bodies: { ...p.bodies, [p.steps[3]!.id]: { name: 'Upper part' } } };
    const r = await engine.rebuild(renamed);
    expect(r.steps.find((s) => s.id === last)!.message).toBe("Upper part can't be hollowed to 900.00 mm");
    expect(r.computed).toBe(1);
  });
});
