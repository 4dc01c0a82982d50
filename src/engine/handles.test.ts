/** Values that are taken hold of on the stage stand where the kernel's own bodies end. */
import { describe, expect, it } from 'vitest';
import { polyProfile, testKernel } from '../../tests/support/kernel';
import { add, at, box, empty, engine, extrude, flat, fresh, square } from '../../tests/support/parts';
import { type Frame, isOriginPlane, ORIGIN_PLANES, toSpace } from '../core/curves/frame';
import { evaluateDimensions } from '../core/dimensions/dimensions';
import { distance, type Vec3 } from '../core/geometry/vectors';
import { addStep, setProfile } from '../core/recipe/edit';
import { heldIn, placesHeld, pulledPlace, putHeld, putPlace, roundedTo, textOf, written } from '../core/recipe/held';
import type { Project } from '../core/recipe/schema';
import { stepDefinitions } from '../core/recipe/steps';
import { carriedAt, type Handle, middleOf, placeAt, type Standing, turnTo, valueAlong } from '../core/recipe/steps/handles';
import { stepValues } from '../core/recipe/values';
import { vertexAt } from '../kernel/shapes';

/** The handles of the last step, and how far a place is from the last body. */
async function last(
  p: Project,
): Promise<{ handles: Record<string, Handle>; values: Record<string, number>; off: (place: Vec3) => number }> {
  const result = await engine.rebuild(p);
  const step = p.steps.at(-1)!;
  expect(result.steps.at(-1)!.state).toBe('done');
  const read = stepValues(step, evaluateDimensions(p.dimensions).scope);
  const values = read.ok ? read.value : {};
  const frame = (plane: string): Frame | undefined => (isOriginPlane(plane) ? ORIGIN_PLANES[plane] : result.planes.get(plane));
  const standing: Standing = {
    value: (name) => values[name]!,
    frame,
    drawing: (id) => {
      const drawn = p.profiles.find((q) => q.id === id)!;
      const where = frame(drawn.plane)!;
      return { frame: where, lines: [[...drawn.points, drawn.points[0]!].map((q) => toSpace(where, q))] };
    },
    bounds: (id) => result.bodies.find((b) => b.id === id)?.bbox,
    place: (ref) => ('at' in ref ? (ref.at.map(Number) as unknown as Vec3) : undefined),
    face: () => undefined,
    line: () => undefined,
    skin: () => undefined,
    raised: () => [],
  };
  const kernel = await testKernel();
  const body = engine.bodies().at(-1)?.body;
  return {
    handles: Object.fromEntries(stepDefinitions[step.kind]!.handles!(step, standing).map((h) => [h.value, h])),
    values,
    off: (place) => {
      const gap = new kernel.BRepExtrema_DistShapeShape(vertexAt(kernel, place), body!.shape);
      return gap.Value();
    },
  };
}

/** Every handle stands at the body's skin: on it, and out of it when the value is a little more. */
async function onTheSkin(p: Project, ...names: string[]): Promise<void> {
  const { handles, values, off } = await last(p);
  expect(Object.keys(handles).sort()).toEqual([...names].sort());
  for (const name of names) {
    expect(off(placeAt(handles[name]!, values[name]!)), name).toBeLessThan(1e-6);
    // A taper takes away.
    const more = name === 'taper' ? -0.1 : 0.1;
    expect(off(placeAt(handles[name]!, values[name]! + more)), name).toBeGreaterThan(0.04);
  }
}

describe('a value stands where its body ends', () => {
  it('a box, a cylinder, a cone and a ball, beside the origin on another plane', async () => {
    const some = (shape: string): Project =>
      add(empty(), 'primitive', { shape, plane: 'front', places: [at(7, -3, 5)], ...fresh }, { width: '31', height: '12' });
    await onTheSkin(some('box'), 'width', 'depth', 'height');
    await onTheSkin(some('cylinder'), 'diameter', 'height');
    await onTheSkin(some('cone'), 'diameter', 'top', 'height');
    await onTheSkin(some('sphere'), 'diameter');
  });
  it('what is extruded: one way, backwards, half to either side, to both, from off its plane', async () => {
    const drawn = flat('d', 'side', square(20));
    const of = (inputs: Record<string, unknown>, values: Record<string, string> = {}): Project =>
      extrude(empty(), drawn, inputs, { length: '17', ...values });
    await onTheSkin(of({ extent: 'one' }), 'length', 'taper');
    await onTheSkin(of({ extent: 'one' }, { taper: '9°' }), 'length', 'taper');
    await onTheSkin(of({ extent: 'one', way: 'back' }, { start: '3', taper: '-4°' }), 'length', 'taper');
    await onTheSkin(of({ extent: 'symmetric' }), 'length', 'taper');
    await onTheSkin(of({ extent: 'two' }, { back: '6', taper: '5°' }), 'length', 'back', 'taper');
  });
  it('what is turned part of the way', async () => {
    const p = setProfile(
      empty(),
      polyProfile(
        [
          [10, 0],
          [20, 0],
          [20, 8],
          [10, 8],
        ],
        true,
      ),
    );
    await onTheSkin(add(p, 'revolve', { profile: 'test', ...fresh }, { angle: '70°' }), 'angle');
  });
  it('what is moved and turned, with the box of the body going along', async () => {
    const p = add(box(empty(), [40, 30, 20]), 'move', { body: 's1', by: 'shift', about: 'z', paths: [], faces: [], result: 'moved' });
    const shifted = addStep(p, 'move', { ...p.steps.at(-1)!.inputs, by: 'turn', about: 'x' }, { angle: '90°' }).project;
    const { handles, values, off } = await last({
      ...p,
      steps: p.steps.map((s, i) => (i === 1 ? { ...s, values: { ...s.values, z: '9' } } : s)),
    });
    expect(Object.keys(handles)).toEqual(['x', 'y', 'z']);
    expect(off(placeAt(handles.z!, values.z!))).toBeLessThan(1e-6);
    expect(placeAt(handles.z!, values.z!)[2]).toBeCloseTo(29, 6);
    expect(
      Math.min(
        ...carriedAt(handles.z!, 4)
          .flat()
          .map((q) => q[2]),
      ),
    ).toBeCloseTo(4, 6);
    const turned = await last(shifted);
    expect(Object.keys(turned.handles)).toEqual(['angle']);
    // A quarter about the axis across lays what stood up to −y: its middle at z 10 comes to y −10.
    const line = carriedAt(turned.handles.angle!, turned.values.angle!).flat();
    expect(
      middleOf({
        min: [0, 1, 2].map((k) => Math.min(...line.map((q) => q[k]!))) as never,
        max: [0, 1, 2].map((k) => Math.max(...line.map((q) => q[k]!))) as never,
      })[1],
    ).toBeCloseTo(-10, 6);
  });
  it('a plane at a distance, and one that leans', async () => {
    const p = addStep(empty(), 'plane', { by: 'distance', from: 'front' }, { distance: '12' });
    const one = await last(p.project);
    const frame = (await engine.rebuild(p.project)).planes.get(p.id)!;
    expect(distance(placeAt(one.handles.distance!, 12), frame.origin)).toBeLessThan(1e-9);
    const q = addStep(empty(), 'plane', { by: 'tilt', from: 'front', about: 'up', paths: [] }, { angle: '25°' });
    const leaning = await last(q.project);
    const plane = (await engine.rebuild(q.project)).planes.get(q.id)!;
    const there = placeAt(leaning.handles.angle!, leaning.values.angle!);
    const n = [
      plane.x[1] * plane.y[2] - plane.x[2] * plane.y[1],
      plane.x[2] * plane.y[0] - plane.x[0] * plane.y[2],
      plane.x[0] * plane.y[1] - plane.x[1] * plane.y[0],
    ];
    expect(Math.abs(there.reduce((sum, x, k) => sum + (x - plane.origin[k]!) * n[k]!, 0))).toBeLessThan(1e-9);
  });
});

describe('a ray of sight', () => {
  it('meets a line where it passes nearest, and a circle at its turn', () => {
    const up: Handle = { value: 'v', from: [1, 2, 3], way: [0, 0, 1], per: 0.5 };
    expect(valueAlong(up, [1, -50, 8], [0, 1, 0])).toBeCloseTo(10, 9);
    expect(valueAlong(up, [1, 2, 90], [0, 0, -1])).toBeUndefined();
    const round: Handle = { value: 'v', from: [10, 0, 4], about: { place: [0, 0, 0], direction: [0, 0, 1] } };
    expect(turnTo(round, [0, 7, 50], [0, 0, -1])).toBeCloseTo(Math.PI / 2, 9);
    expect(turnTo(round, [0, -50, 4], [0, 1, 0])).toBeUndefined();
    expect(placeAt(round, Math.PI / 2).map((x) => Math.round(x))).toEqual([0, 10, 4]);
  });
});

describe('what is pulled', () => {
  const p: Project = {
    ...box(empty(), [40, 30, 20]),
    dimensions: [
      { name: 'tall', expr: '1 1/2 in', note: '' },
      { name: 'half', expr: 'tall / 2', note: '' },
    ] as never,
  };
  const step = (height: string) => ({ ...p.steps[0]!, values: { ...p.steps[0]!.values, height } });
  it('changes the number where it is written, and nothing that is worked out', () => {
    expect(heldIn(p, step('20 mm'), 'height')).toEqual({ step: 's1', value: 'height' });
    expect(heldIn(p, step(' tall '), 'height')).toEqual({ dimension: 'tall' });
    for (const text of ['half', 'tall * 2', '2 + 3', '', 'nobody']) expect(heldIn(p, step(text), 'height'), text).toBeNull();
    const held = { dimension: 'tall' };
    expect(textOf(p, held)).toBe('1 1/2 in');
    expect(putHeld(p, held, '2 in').dimensions[0]!.expr).toBe('2 in');
    expect(putHeld(p, { step: 's1', value: 'height' }, '7 mm').steps[0]!.values.height).toBe('7 mm');
  });
  it('is written in the unit that stood there, rounded to what a pointer can tell', () => {
    expect(written(38.1, 'length', '1 1/2 in', 'mm')).toBe('1.5 in');
    expect(written(38.1, 'length', '12', 'in')).toBe('1.5 in');
    expect(written(38.1, 'length', '12 mm', 'in')).toBe('38.1 mm');
    expect(written(Math.PI / 3, 'angle', '10°', 'mm')).toBe('60°');
    expect(roundedTo(12.3456, 0.13, 'length', '10 mm', 'mm')).toBe(12.5);
    expect(roundedTo(12.3456, 0.004, 'length', '10 mm', 'mm')).toBeCloseTo(12.34, 9);
    expect(roundedTo(25.6, 0.13, 'length', '1 in', 'mm')).toBeCloseTo(25.4, 9);
    expect(roundedTo(-0.51, 0.4, 'angle', '1°', 'mm')).toBeCloseTo((-29 * Math.PI) / 180, 9);
  });
  it('takes a place along as far as it is written in numbers', () => {
    const bores = add(p, 'hole', { body: 's1', plane: 'level', places: [at(3, 4, 0), { at: ['tall', '2 in', '0'] }], depth: 'through' });
    const step = bores.steps.at(-1)!;
    const [first, second] = placesHeld(step);
    expect([first, second].map((h) => [h!.field, h!.index])).toEqual([
      ['places', 0],
      ['places', 1],
    ]);
    expect(pulledPlace(first!, [3, 4, 0], [7.02, -4.98, 0], 0.13, 'mm')).toEqual(['7 mm', '-5 mm', '0']);
    const moved = pulledPlace(second!, [38.1, 50.8, 0], [50, 25.4, 0], 0.13, 'mm');
    expect(moved).toEqual(['tall', '1 in', '0']);
    const to = putPlace(bores, step, second!, moved);
    expect(to.steps.at(-1)!.inputs.places).toEqual([at(3, 4, 0), { at: moved }]);
  });
});
