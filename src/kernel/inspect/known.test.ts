/** Combs, measurements, sections along a way and curvature of exact shapes, against closed forms (differential geometry textbooks, mensuration). */
import { beforeAll, describe, expect, it } from 'vitest';
import { box, cylinder, post, testKernel, turned } from '../../../tests/support/kernel';
import { triple } from '../../core/geometry/vectors';
import { joinClass } from '../../core/inspect/joins';
import { stationsAlong, stationsOf, sweep } from '../../core/inspect/sweep';
import { type Bvh, buildBvh } from '../../core/mesh/bvh';
import { emptyProfile } from '../../core/recipe/edit';
import type { Measurement, Profile } from '../../core/recipe/schema';
import type { KernelBody } from '../body';
import { namedEdges } from '../names';
import type { Kernel } from '../open';
import { tessellate, weldedMesh } from '../tessellate';
import { edgeCombs, isoCombs, sectionCombs } from './combs';
import { curvatureMap } from './curvature';
import { measureJoins } from './joins';
import { readMeasurement } from './measure';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await testKernel();
});
const bvhOf = (body: KernelBody): Bvh => buildBvh(weldedMesh(tessellate(kernel, body.shape, 0.02, 0.1)));

/** Half an ellipse about the origin, turned: half-axes a across, b along the axis. */
const ellipsoid = (a: number, b: number): KernelBody => {
  const p: Profile = {
    ...emptyProfile('e', 'E'),
    points: [
      { id: 'c', x: 0, y: 0 },
      { id: 'm', x: a, y: 0 },
      { id: 'low', x: 0, y: -b },
      { id: 'high', x: 0, y: b },
    ],
    curves: [{ kind: 'ellipse', id: 'e', centre: 'c', major: 'm', minor: b, arc: { from: 'low', to: 'high', ccw: true } }],
  };
  return turned(kernel, p);
};

/** Two cubics from (12, 0) by way of (30, 20) to the top, mirrored in their meeting where `even`; closed by the axis. */
const shouldered = (even: boolean): KernelBody => {
  const p: Profile = {
    ...emptyProfile('s', 'S'),
    points: [
      { id: 'o', x: 0, y: 0 },
      { id: 'a0', x: 20, y: 0 },
      { id: 'a1', x: 26, y: 8 },
      { id: 'a2', x: 30, y: 14 },
      { id: 'm', x: 30, y: 20 },
      { id: 'b1', x: 30, y: even ? 26 : 23 },
      { id: 'b2', x: 26, y: 32 },
      { id: 'b3', x: 20, y: 40 },
      { id: 't', x: 0, y: 40 },
    ],
    curves: [
      { kind: 'line', id: 'base', from: 'o', to: 'a0' },
      { kind: 'control', id: 'a', points: ['a0', 'a1', 'a2', 'm'], degree: 3 },
      { kind: 'control', id: 'b', points: ['m', 'b1', 'b2', 'b3'], degree: 3 },
      { kind: 'line', id: 'top', from: 'b3', to: 't' },
    ],
  };
  return turned(kernel, p);
};

describe('curvature of an ellipsoid', () => {
  it('is that of the closed form at every corner of its mesh, to 1e-6', async () => {
    const [a, b] = [30, 18];
    const body = ellipsoid(a, b);
    const mesh = tessellate(kernel, body.shape, 0.1);
    const map = (await curvatureMap(kernel, body, mesh))!;
    let seen = 0;
    for (let v = 0; v < map.largest.length; v++) {
      if (!Number.isFinite(map.largest[v]!)) continue;
      const [x, y, z] = triple((k) => mesh.positions[3 * v + k]!);
      // K = 1 / (a² a² b² (x²/a⁴ + y²/a⁴ + z²/b⁴)²).
      const s = (x * x + y * y) / a ** 4 + (z * z) / b ** 4;
      expect(map.largest[v]! * map.smallest[v]!).toBeCloseTo(1 / (a ** 4 * b ** 2 * s ** 2), 6);
      seen++;
    }
    expect(seen).toBeGreaterThan(100);
    // Tightest round the equator, along the meridian: b²/a.
    expect(map.convex[0]!.radius).toBeCloseTo(b ** 2 / a, 3);
  });
});

describe('joins made on purpose', () => {
  it('are G2 where two curved patches mirror each other, and G1 by a difference that the control points foretell', async () => {
    const at20 = async (body: KernelBody) => (await measureJoins(kernel, body))!.find((j) => Math.abs(j.at[2] - 20) < 1e-6)!;
    const smooth = await at20(shouldered(true));
    expect(joinClass(smooth)).toBe('G2');
    expect(smooth.bend).toBeLessThan(1e-9);
    const broken = await at20(shouldered(false));
    expect(joinClass(broken)).toBe('G1');
    // End curvature of a cubic: (2/3) · distance of the third point from the tangent / (first leg)².
    expect(broken.bend).toBeCloseTo((2 / 3) * (4 / 3 ** 2) - (2 / 3) * (4 / 6 ** 2), 9);
  });
});

describe('combs', () => {
  it('of edges: the rims of a post, each of its own radius, and no straight edge', async () => {
    const found = (await edgeCombs(kernel, post(kernel), 1))!;
    const radii = found.map((c) => c.tightest!.radius).sort((a, b) => a - b);
    expect(radii).toEqual([15, 15, 30, 30].map((r) => expect.closeTo(r, 9)));
    for (const c of found) expect([c.inflections, c.curve.closed]).toEqual([0, true]);
    expect(await edgeCombs(kernel, box(kernel, 10, 10, 10), 1)).toEqual([]);
  });
  it('of a slanting section of a cylinder: an ellipse, tightest by b²/a at its ends', async () => {
    const body = cylinder(kernel, 20, 100);
    const lean = 0.5;
    const normal = [Math.sin(lean), 0, Math.cos(lean)] as const;
    const [c] = (await sectionCombs(kernel, body, bvhOf(body), { place: 0, normal, offset: 50 * normal[2] }, 0.5))!;
    const a = 20 / Math.cos(lean);
    expect(c!.tightest!.radius).toBeCloseTo(20 ** 2 / a, 1);
    for (const [i, p] of c!.curve.places.entries()) {
      // κ = a b / (a² sin² t + b² cos² t)^(3/2) at (a cos t, b sin t).
      const [along, across] = [p[0] / 20, p[1] / 20];
      const k = (a * 20) / ((a * across) ** 2 + (20 * along) ** 2) ** 1.5;
      expect(Math.hypot(...c!.curve.bends[i]!)).toBeCloseTo(k, 6);
    }
    expect(c!.inflections).toBe(0);
    expect(c!.face).toBeGreaterThanOrEqual(0);
  });
  it('of surface lines: an ellipsoid pinches into both its poles, a cylinder nowhere', async () => {
    const egg = ellipsoid(30, 18);
    const iso = (await isoCombs(kernel, egg, bvhOf(egg), 1))!;
    expect(iso.pinches.map((p) => Math.round(p.at[2])).sort((a, b) => a - b)).toEqual([-18, 18]);
    const drum = cylinder(kernel, 20, 50);
    const round = (await isoCombs(kernel, drum, bvhOf(drum), 1))!;
    expect(round.pinches).toEqual([]);
    const curved = round.curves.filter((c) => c.tightest);
    expect(curved).toHaveLength(5);
    for (const c of curved) {
      expect(c.tightest!.radius).toBeCloseTo(20, 9);
      expect(c.length).toBeCloseTo(2 * Math.PI * 20, 1);
    }
  });
  it('of surface lines leave out what a hole has taken away', async () => {
    const drum = cylinder(kernel, 20, 50);
    const drill = new kernel.BRepPrimAPI_MakeCylinder(8, 60);
    const lay = new kernel.gp_Trsf();
    lay.SetRotation(new kernel.gp_Ax1(new kernel.gp_Pnt(0, 0, 25), new kernel.gp_Dir(1, 0, 0)), Math.PI / 2);
    const lying = new kernel.BRepBuilderAPI_Transform(drill.Shape(), lay, true).Shape();
    const shape = new kernel.BRepAlgoAPI_Cut(drum.shape, lying).Shape();
    const body: KernelBody = { ...drum, shape, faces: ['a', 'b', 'c', 'd', 'e'] };
    const lengths = (await isoCombs(kernel, body, bvhOf(body), 0.5))!.curves.map((c) => c.length);
    const whole = (await isoCombs(kernel, drum, bvhOf(drum), 0.5))!.curves.map((c) => c.length);
    expect(lengths.reduce((a, b) => a + b, 0)).not.toBeCloseTo(
      whole.reduce((a, b) => a + b, 0),
      0,
    );
  });
});

describe('sections along a way', () => {
  it('that leans cut a cylinder in ellipses of πr²/cos', async () => {
    const drum = cylinder(kernel, 20, 100);
    const normal = [0, Math.sin(0.4), Math.cos(0.4)] as const;
    const rows = (await sweep(bvhOf(drum), stationsAlong(normal, 40 * normal[2], 60 * normal[2], 5), 30))!;
    for (const r of rows) expect(r.area / ((Math.PI * 400) / Math.cos(0.4))).toBeCloseTo(1, 3);
  });
  it('along the centre line of a ring cut its section and not the far side, which the plane meets too', async () => {
    const ring = new kernel.BRepPrimAPI_MakeTorus(30, 8).Shape();
    const body: KernelBody = { shape: ring, faces: ['r'], volume: 2 * Math.PI ** 2 * 30 * 64 };
    const line = Array.from({ length: 181 }, (_, i) => [30 * Math.cos((i * Math.PI) / 180), 30 * Math.sin((i * Math.PI) / 180), 0]).flat();
    const rows = (await sweep(bvhOf(body), stationsOf(line, 7), 30))!;
    expect(rows).toHaveLength(7);
    for (const r of rows) {
      expect(r.area / (Math.PI * 64)).toBeCloseTo(1, 2);
      expect(r.perimeter / (2 * Math.PI * 8)).toBeCloseTo(1, 2);
    }
    expect(rows[6]!.place / (Math.PI * 30 * (6.5 / 7))).toBeCloseTo(1, 3);
  });
});

describe('measurements', () => {
  const read = (bodies: Record<string, KernelBody>, m: Omit<Measurement, 'id'>) => {
    const r = readMeasurement(kernel, new Map(Object.entries(bodies)), { id: 'm1', ...m });
    if ('why' in r) throw new Error(r.why);
    return r;
  };
  it('between the faces of a box: its sides, parallel or square to each other', () => {
    const b = box(kernel, 30, 20, 10);
    const readings = b.faces.map((face) => read({ b }, { a: { body: 'b', face: b.faces[0]! }, b: { body: 'b', face } }));
    const parallel = readings.slice(1).filter((r) => r.angle! < 1e-9);
    expect(parallel).toHaveLength(1);
    expect([10, 20, 30]).toContain(Math.round(parallel[0]!.distance!.value * 1e6) / 1e6);
    for (const r of readings.slice(1))
      if (r !== parallel[0]) expect([r.angle, r.distance!.value]).toEqual([expect.closeTo(Math.PI / 2, 9), expect.closeTo(0, 9)]);
    const areas = b.faces.map((face) => read({ b }, { a: { body: 'b', face } }).a.area!);
    expect(areas.reduce((s, a) => s + a, 0)).toBeCloseTo(2 * (600 + 300 + 200), 6);
  });
  it('of a rim: radius, length; of two drums: gap and distance of their axes', () => {
    const p = post(kernel);
    const rims = namedEdges(kernel, p).filter((e) => e.name !== '');
    const radii = rims.map((e) => read({ p }, { a: { body: 'p', edge: e.name } }).a);
    for (const r of radii) expect(r.length).toBeCloseTo(2 * Math.PI * r.radius!, 6);
    const left = cylinder(kernel, 10, 40);
    const move = new kernel.gp_Trsf();
    move.SetTranslation(new kernel.gp_Vec(50, 0, 0));
    const right: KernelBody = { ...cylinder(kernel, 15, 40) };
    const moved: KernelBody = { ...right, shape: new kernel.BRepBuilderAPI_Transform(right.shape, move, true).Shape() };
    const side = left.faces.find((f) => read({ left }, { a: { body: 'left', face: f } }).a.kind === 'cylinder')!;
    const r = read({ left, moved }, { a: { body: 'left', face: side }, b: { body: 'moved', face: side } });
    expect([r.distance!.value, r.centres!.value, r.angle]).toEqual([expect.closeTo(25, 6), expect.closeTo(50, 6), expect.closeTo(0, 9)]);
  });
  it('of a place on a face is taken on the exact surface, and of an edge at its ends', () => {
    const c = cylinder(kernel, 20, 60);
    const side = c.faces.find((f) => read({ c }, { a: { body: 'c', face: f } }).a.kind === 'cylinder')!;
    // Picked a little off the surface, as a mesh is.
    const spot = read({ c }, { a: { body: 'c', face: side, at: [19.9, 0, 30] } });
    expect(spot.a.at).toEqual([expect.closeTo(20, 9), expect.closeTo(0, 9), expect.closeTo(30, 9)]);
    const b = box(kernel, 30, 20, 10);
    const edge = namedEdges(kernel, b).find((e) => read({ b }, { a: { body: 'b', edge: e.name } }).a.length! > 29)!.name;
    const across = read({ b }, { a: { body: 'b', edge, end: 'low' }, b: { body: 'b', edge, end: 'high' } });
    expect(across.distance!.value).toBeCloseTo(30, 9);
    expect(read({ b }, { a: { body: 'b', edge, end: 'middle' }, b: { body: 'b', edge, end: 'high' } }).distance!.value).toBeCloseTo(15, 9);
  });
  it('that have lost what they were taken from say so', () => {
    const c = cylinder(kernel, 20, 60);
    const bodies = new Map([['c', c]]);
    expect(readMeasurement(kernel, bodies, { id: 'm', a: { body: 'c', face: 'gone' } })).toMatchObject({ why: /gone/ });
    expect(readMeasurement(kernel, bodies, { id: 'm', a: { body: 'c', edge: 'gone' } })).toMatchObject({ why: /gone/ });
    expect(readMeasurement(kernel, bodies, { id: 'm', a: { body: 'x', face: 'f' } })).toMatchObject({ why: /not there/ });
  });
});
