/** Lofts, curves in space, sweeps and coils as solids, against frustums, prismatoids, Pappus and the helix. */
import { describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/support/kernel';
import {
  add,
  at,
  block,
  bodies,
  box,
  circle,
  curve,
  disc,
  empty,
  engine,
  extrude,
  flat,
  fresh,
  last,
  loft,
  noteOf,
  rounded,
  spot,
  square,
  stack,
  sweep,
  volume,
} from '../../tests/support/parts';
import { addStep, emptyProfile, patchStep, setProfile } from '../core/recipe/edit';
import type { Profile, Project } from '../core/recipe/schema';
import { namedEdges } from '../kernel/names';
import { facesOf } from '../kernel/shapes';

/** The names of the edges of the first body as it was built last. */
const namedOf = async (): Promise<string[]> => namedEdges(await testKernel(), engine.bodies()[0]!.body).map((e) => e.name);

/** What a failed last step says once its first offer is taken. */
async function afterFix(p: Project): Promise<string> {
  const fix = (await engine.rebuild(p)).steps.at(-1)!.fixes[0]!;
  return noteOf(patchStep(p, fix.step, fix));
}

describe('a loft', () => {
  it('between polygons with sides that keep their directions has flat sides: drawings and holes lie on them', async () => {
    const five =
      (k: number) =>
      (id: string, plane: string): Profile =>
        flat(
          id,
          plane,
          [
            [0, 0],
            [40, 0],
            [50, 20],
            [20, 35],
            [-5, 20],
          ].map(([x, y]) => [k * x! + 20 * (1 - k), k * y! + 20 * (1 - k)]),
        );
    const wedge = loft(
      stack([
        [0, five(1)],
        [20, five(0.75)],
      ]),
      { skin: 'ruled' },
    );
    // The shoelace formula, and the frustum's.
    const area = 1362.5;
    expect(await volume(wedge)).toBeCloseTo((20 * area * (1 + 0.75 + 0.75 ** 2)) / 3, 8);
    const kernel = await testKernel();
    const kinds = facesOf(kernel, engine.bodies()[0]!.body.shape).map((f) => new kernel.BRepAdaptor_Surface(f, true).GetType());
    expect(new Set(kinds)).toEqual(new Set(['GeomAbs_Plane']));
    const touching = addStep(wedge, 'plane', { by: 'touch', faces: [{ body: 's3', face: 's3/c0' }], places: [at(20, 2.5, 10)] });
    const peg = extrude(touching.project, circle('peg', touching.id, 3), { mode: 'join', body: 's3' }, { length: '5 mm' });
    expect((await volume(peg)) - (await volume(wedge))).toBeCloseTo(Math.PI * 9 * 5, 6);
  });
  it('ruled between two circles is a frustum, of three faces', async () => {
    const r = await last(
      loft(
        stack([
          [0, disc(20)],
          [30, disc(12)],
        ]),
        { skin: 'ruled' },
      ),
    );
    expect(r.volume / ((Math.PI * 30 * (400 + 240 + 144)) / 3)).toBeCloseTo(1, 4);
    expect([...r.faces].sort()).toEqual(['s3/end', 's3/side', 's3/start']);
  });
  it('between squares is a prismatoid with a face to every side', async () => {
    const r = await last(
      loft(
        stack([
          [0, block(40)],
          [25, block(20)],
        ]),
        { skin: 'ruled' },
      ),
    );
    expect(r.volume).toBeCloseTo((25 * (1600 + 800 + 400)) / 3, 4);
    expect([...r.faces].sort()).toEqual(['s3/c0', 's3/c1', 's3/c2', 's3/c3', 's3/end', 's3/start']);
  });
  it('to a point is a cone, a pyramid', async () => {
    const cone = await last(
      loft(
        stack([
          [0, disc(15)],
          [40, spot(0, 0)],
        ]),
        { skin: 'ruled' },
      ),
    );
    expect(cone.volume / ((Math.PI * 225 * 40) / 3)).toBeCloseTo(1, 4);
    const pyramid = await last(
      loft(
        stack([
          [0, block(30)],
          [40, spot(5, 5)],
        ]),
        { skin: 'ruled' },
      ),
    );
    expect(pyramid.volume).toBeCloseTo((900 * 40) / 3, 3);
  });
  it('through three equal circles in line is a cylinder; square to its ends it stays one', async () => {
    const three = stack([
      [0, disc(15)],
      [20, disc(15)],
      [50, disc(15)],
    ]);
    for (const more of [{}, { start: 'square', end: 'square' }])
      expect((await volume(loft(three, more))) / (Math.PI * 225 * 50)).toBeCloseTo(1, 4);
  });
  it('from section to section the other way up, or started elsewhere, is not twisted', async () => {
    const p = stack([
      [0, block(40)],
      [25, block(40)],
    ]);
    const turned = p.project.profiles.map((q, i) =>
      i === 0
        ? q
        : {
            ...q,
            curves: [...q.curves.slice(2), ...q.curves.slice(0, 2)]
              .map((c) => (c.kind === 'line' ? { ...c, from: c.to, to: c.from } : c))
              .reverse(),
          },
    );
    const straight = loft({ ids: p.ids, project: { ...p.project, profiles: turned } }, { skin: 'ruled' });
    expect(await volume(straight)).toBeCloseTo(40000, 3);
    // The ties that are shown stand upright on the corners.
    const { ties } = (await engine.rebuild(straight)).steps.at(-1)!;
    expect(ties!.lines).toHaveLength(4);
    expect(ties!.rings.map((r) => r.length)).toEqual([180, 180]);
    for (const [low, high] of ties!.lines) {
      expect([Math.abs(low![0]), Math.abs(low![1])].map((x) => x.toFixed(6))).toEqual(['20.000000', '20.000000']);
      for (const [k, off] of [0, 0, 25].entries()) expect(high![k]! - low![k]!).toBeCloseTo(off, 6);
    }
    // Turned by hand to the next corner it leans all the way round, and holds less.
    expect(await volume(loft(p, { skin: 'ruled', shifts: '0, 0.125' }))).toBeLessThan(39000);
  });
  it('from a rounded rectangle to a circle is one side, within 0.001 mm of both', async () => {
    const r = await engine.rebuild(
      loft(
        stack([
          [0, rounded],
          [60, disc(14)],
        ]),
      ),
    );
    const s = r.steps.at(-1)!;
    expect(s.state).toBe('done');
    expect(s.faces).toBe(3);
    expect(Number(/within ([\d.]+) mm/.exec(s.note ?? '')![1])).toBeLessThan(1e-3);
  });
  /** Two mirrored rails in the front plane that swell outwards between a section at z = 0 and one at z = 60. */
  const railed = (dx = 0): { project: Project; ids: string[] } => {
    const p = stack([
      [0, rounded],
      [60, disc(14)],
    ]);
    const bow = (id: string, s: number): Profile => ({
      ...emptyProfile(id, id, 'front', false),
      points: [
        { id: 'a', x: s * 30 + dx, y: 0 },
        { id: 'b', x: s * 34, y: 22 },
        { id: 'c', x: s * 14, y: 60 },
      ],
      curves: [{ kind: 'spline', id: 'c0', from: 'a', through: ['b'], to: 'c' }],
    });
    return { ids: p.ids, project: setProfile(setProfile(p.project, bow('left', -1)), bow('right', 1)) };
  };
  const paths = [
    { profile: 'left', curve: 'c0' },
    { profile: 'right', curve: 'c0' },
  ];
  it('follows two mirrored rails within 0.001 mm', async () => {
    const r = await engine.rebuild(loft(railed(), { paths }));
    const s = r.steps.at(-1)!;
    expect(`${s.state} ${s.message ?? ''} ${s.why ?? ''}`.trim()).toBe('done');
    expect(s.faces).toBe(3);
    const [sections, rails] = [...(s.note ?? '').matchAll(/within ([\d.]+) mm/g)].map((m) => Number(m[1]));
    expect(sections).toBeLessThan(1e-3);
    expect(rails).toBeLessThan(1e-3);
    // It swells out to the rails, past both sections.
    expect(r.bodies[0]!.bbox.max[0]).toBeGreaterThan(33.9);
    expect(r.bodies[0]!.bbox.min[0]).toBeLessThan(-33.9);
  });
  it('says by how much it swells beyond sections that stand unevenly, and not where it is straight or keeps within them', async () => {
    const tube = stack([
      [0, disc(24)],
      [160, disc(16.5)],
      [166, disc(13)],
      [180, disc(13)],
    ]);
    const r = await engine.rebuild(loft(tube));
    const told = Number(/it swells ([\d.]+) mm beyond its largest section/.exec(r.steps.at(-1)!.note!)![1]);
    // Seen on every eighth of the way: the widest place of a bow lies between.
    const widest = r.bodies[0]!.bbox.max[0] - 24;
    expect(told).toBeLessThan(widest + 0.06);
    expect(told).toBeGreaterThan(0.95 * widest);
    expect(await noteOf(loft(tube, { skin: 'ruled' }))).not.toContain('swells');
    const barrel = stack([
      [0, disc(20)],
      [40, disc(26)],
      [80, disc(20)],
    ]);
    expect(await noteOf(loft(barrel))).not.toContain('swells');
  });
  it('says which rail misses which section by how much, and pulls it on where asked', async () => {
    const off = railed(0.31);
    expect((await last(loft(off, { paths }))).said).toMatch(/misses section 1 \(at0\) by 0\.(29|30|31)\d mm/);
    expect(await afterFix(loft(off, { paths }))).toMatch(/^(done|warned)/);
    expect((await last(loft(off, { paths, rails: 'snapped' }))).said).toMatch(/^done/);
  });
  it('refuses a rail with a sharp corner, and says how sharp', async () => {
    const p = railed();
    const right = p.project.profiles.find((q) => q.id === 'right')!;
    const kinked: Profile = {
      ...right,
      curves: [
        { kind: 'line', id: 'c0', from: 'a', to: 'b' },
        { kind: 'line', id: 'c1', from: 'b', to: 'c' },
      ],
    };
    expect((await last(loft({ ids: p.ids, project: setProfile(p.project, kinked) }, { paths }))).said).toMatch(/sharp corner of \d+\.\d°/);
  });
  it('closes on itself through sections about an axis', async () => {
    let project = empty();
    const ids: string[] = [];
    for (const [i, angle] of [0, 45, 90, 135, 180, 225, 270, 315].entries()) {
      const turn = addStep(project, 'plane', { by: 'tilt', from: 'front', about: 'up', paths: [] }, { angle: `${angle}°` });
      project = setProfile(turn.project, circle(`o${i}`, turn.id, 5, [30, 0]));
      ids.push(`o${i}`);
    }
    const r = await last(loft({ project, ids }, { run: 'closed' }));
    expect(r.said).toMatch(/^done/);
    // Eight sections lead a spline that is not quite the circle of a torus: within half a percent of 2π²Rr².
    expect(r.volume / (2 * Math.PI ** 2 * 30 * 25)).toBeGreaterThan(0.995);
    expect(r.volume / (2 * Math.PI ** 2 * 30 * 25)).toBeLessThan(1.005);
    expect(r.faces).toEqual(['s9/side']);
  });
  it('runs between lines of any kind: curves in space, edges, drawn chains; as a surface', async () => {
    const a = curve(empty(), { places: [at(0, 0, 0), at(40, 0, 0)] });
    const b = curve(a.project, { places: [at(0, 30, 0), at(40, 30, 20)] });
    const between = (sections: unknown[], more: Record<string, unknown> = {}) =>
      loft({ project: b.project, ids: sections as string[] }, { mode: 'surface', body: null, skin: 'ruled', ...more });
    const area = async (p: Project): Promise<number> => {
      const r = await engine.rebuild(p);
      expect([r.steps.at(-1)!.state, r.steps.at(-1)!.why]).toEqual(['done', null]);
      expect(r.bodies.at(-1)!.borders).toHaveLength(1);
      return r.bodies.at(-1)!.area;
    };
    // A bilinear patch: |∂u × ∂v| summed over a fine grid.
    let sum = 0;
    const n = 400;
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++) {
        const [u, v] = [(i + 0.5) / n, (j + 0.5) / n];
        const [du, dv] = [
          [40, 0, 20 * v],
          [0, 30, 20 * u],
        ] as const;
        sum += Math.hypot(du[1] * dv[2] - du[2] * dv[1], du[2] * dv[0] - du[0] * dv[2], du[0] * dv[1] - du[1] * dv[0]) / n ** 2;
      }
    expect((await area(between([{ step: a.id }, { step: b.id }]))) / sum).toBeCloseTo(1, 4);
    // The other way round it is the same: neither runs backwards.
    const back = curve(a.project, { places: [at(40, 30, 20), at(0, 30, 0)] });
    expect(
      (await area(
        loft({ project: back.project, ids: [{ step: a.id }, { step: back.id }] as never }, { mode: 'surface', body: null, skin: 'ruled' }),
      )) / sum,
    ).toBeCloseTo(1, 4);
    const solid = await noteOf(between([{ step: a.id }, { step: b.id }], { mode: 'new' }));
    expect(solid).toContain('is an open line');
    expect(
      await noteOf(
        patchStep(between([{ step: a.id }, { step: b.id }], { mode: 'new' }), 's3', { inputs: { mode: 'surface', body: null } }),
      ),
    ).toMatch(/^done/);
  });
  it('runs between closed lines as a solid: from a rim to a circle in space', async () => {
    const can = add(empty(), 'primitive', { shape: 'cylinder', plane: 'level', places: [], ...fresh }, { diameter: '40', height: '10' });
    await engine.rebuild(can);
    const rim = (await namedOf()).find((e) => e.includes('s1/top') && e.includes('s1/side'))!;
    const ring = curve(can, { by: 'edges', paths: [{ body: 's1', edge: rim }] });
    const up = addStep(ring.project, 'plane', { by: 'distance', from: 'level' }, { distance: '40' });
    const p = setProfile(up.project, circle('c', up.id, 8));
    const made = loft({ project: p, ids: [{ step: ring.id }, { profile: 'c', curve: 'c0' }] as never }, { skin: 'ruled' });
    // A frustum between 10 and 40 high.
    expect((await bodies(made))[made.steps.at(-1)!.id]! / ((Math.PI * 30 * (400 + 160 + 64)) / 3)).toBeCloseTo(1, 4);
  });
  it('says what it lacks', async () => {
    const p = stack([
      [0, disc(20)],
      [30, disc(12)],
    ]);
    expect((await last(loft({ ...p, ids: p.ids.slice(1) }))).said).toContain('only one section');
    const holed: Profile = {
      ...circle('at0', p.project.profiles[0]!.plane, 20),
      curves: [20, 8].map((radius, i) => ({ kind: 'circle', id: `c${i}`, centre: 'm', radius })),
    };
    expect((await last(loft({ ...p, project: setProfile(p.project, holed) }))).said).toContain('has a hole');
  });
});

describe('a curve in space', () => {
  it('through places has its length, its corners rounded where asked', async () => {
    const places = [at(0, 0, 0), at(40, 0, 0), at(40, 30, 0), at(40, 30, 20)];
    expect(await noteOf(curve(empty(), { places }).project)).toMatch(
      /90\.000 mm long.*a corner of 90\.00° at 40\.00 mm, a corner of 90\.00° at 70\.00 mm/,
    );
    // Each round of 5 takes twice 5 and gives back a quarter of its circle.
    const length = 90 - 4 * 5 + Math.PI * 5;
    expect(await noteOf(curve(empty(), { places }, { fillet: '5 mm' }).project)).toContain(
      `${length.toFixed(3)} mm long, bends down to R 5.00 mm; 4 tangent joints`,
    );
    expect(await noteOf(curve(empty(), { places }, { fillet: '25 mm' }).project)).toContain('takes more than the stretch beside it');
  });
  it('as a helix is as long as its unrolled slope', async () => {
    const p = curve(empty(), { by: 'helix' }, { diameter: '30', top: '30', turns: '4', pitch: '8' });
    expect(await noteOf(p.project)).toContain(`${(4 * Math.hypot(Math.PI * 30, 8)).toFixed(3)} mm long`);
  });
  it('along edges goes on where they meet smoothly', async () => {
    const plate = extrude(empty(), { ...rounded('plate', 'level') }, {}, { length: '10 mm' });
    const p = curve(plate, { by: 'edges', paths: [{ body: 's1', edge: 's1/end|s1/l1' }] });
    // The whole rim of the rounded rectangle: 2 (60 + 36) − 8 r + 2 π r.
    expect(await noteOf(p.project)).toContain(`${(192 - 64 + 16 * Math.PI).toFixed(3)} mm long, closed`);
    const one = curve(plate, { by: 'edges', chain: 'picked', paths: [{ body: 's1', edge: 's1/end|s1/l1' }] });
    expect(await noteOf(one.project)).toContain('44.000 mm long');
  });
  it('where a plane cuts a body is its section: one line of several by a place', async () => {
    const ball = add(empty(), 'primitive', { shape: 'sphere', plane: 'level', places: [], mode: 'new', body: null }, { diameter: '30' });
    const section = (p: Project, plane: string, places: unknown[] = []) =>
      noteOf(curve(p, { by: 'section', plane, body: 's1', places }).project);
    expect(await section(ball, 'front')).toContain(`${(30 * Math.PI).toFixed(3)} mm long, closed, bends down to R 15.00 mm`);
    // A ring across: two circles, of which one is taken.
    const ring = add(
      empty(),
      'primitive',
      { shape: 'torus', plane: 'level', places: [], mode: 'new', body: null },
      { diameter: '40', thickness: '6' },
    );
    const across = await section(ring, 'front', [at(-20, 0, 0)]);
    expect(across).toContain(`${(6 * Math.PI).toFixed(3)} mm long, closed`);
    expect(across).toContain('2 lines are there: the nearest is taken');
    const apart = addStep(ball, 'plane', { by: 'distance', from: 'level' }, { distance: '40' });
    expect(await section(apart.project, apart.id)).toContain('passes beside');
  });
  it('where two faces cross, and along a face either way', async () => {
    const ball = add(empty(), 'primitive', { shape: 'sphere', plane: 'level', places: [], mode: 'new', body: null }, { diameter: '30' });
    const p = box(ball, [60, 60, 9]);
    await engine.rebuild(p);
    const [skin, block] = engine.bodies().map((b) => b.body.faces);
    const top = block!.find((n) => n.endsWith('/end'))!;
    const meet = await noteOf(
      curve(p, {
        by: 'meet',
        faces: [
          { body: 's1', face: skin![0]! },
          { body: 's2', face: top },
        ],
      }).project,
    );
    // A ball of 15 cut 9 above its middle.
    expect(meet).toContain(`${(24 * Math.PI).toFixed(3)} mm long, closed, bends down to R 12.00 mm`);
    const can = add(
      empty(),
      'primitive',
      { shape: 'cylinder', plane: 'level', places: [], mode: 'new', body: null },
      { diameter: '20', height: '50' },
    );
    const line = (way: string, share: string, places: unknown[] = []) =>
      noteOf(curve(can, { by: 'line-of', way, places, faces: [{ body: 's1', face: 's1/side' }] }, { share }).project);
    expect(
      [await line('u', '0.3'), await line('v', '0.7')].map((w) => Number.parseFloat(w.replace(/^[^:]*: /, ''))).sort((a, b) => a - b),
    ).toEqual([expect.closeTo(50, 3), expect.closeTo(20 * Math.PI, 3)]);
  });
  it('as a piece of another ends at the places on it: lines stay lines and arcs arcs', async () => {
    const bent = curve(empty(), { places: [at(0, 0, 0), at(60, 0, 0), at(60, 40, 0)] });
    const piece = (which: string, ...places: unknown[]) =>
      noteOf(curve(bent.project, { by: 'part', piece: which, places, paths: [{ step: bent.id }] }).project);
    expect(await piece('before', at(25, 0, 0))).toContain('25.000 mm long; smooth');
    expect(await piece('after', at(25, 0, 0))).toMatch(/75\.000 mm long; a corner of 90\.00° at 35\.00 mm/);
    expect(await piece('between', at(60, 30, 0), at(50, 7, 0))).toMatch(/40\.000 mm long; a corner.*parted 7\.000 mm beside the place/);
    expect(await piece('before', at(-5, 0, 0))).toContain('nothing of it is left');
    const half = curve(empty(), { by: 'arc', places: [at(-20, 0, 0), at(0, 0, 20), at(20, 0, 0)] });
    const quarter = await noteOf(
      curve(half.project, { by: 'part', piece: 'after', places: [at(0, 0, 25)], paths: [{ step: half.id }] }).project,
    );
    expect(quarter).toContain(`${(10 * Math.PI).toFixed(3)} mm long, bends down to R 20.00 mm`);
  });
  it.each([
    ['G0', 90],
    ['G1', 0.001],
    ['G2', 0.001],
    ['G3', 0.001],
  ])('as a blend of class %s meets its curves', async (join, most) => {
    const a = curve(empty(), { places: [at(0, 0, 0), at(30, 0, 0)] });
    const b = curve(a.project, { places: [at(60, 30, 10), at(60, 60, 10)] });
    const c = curve(b.project, { by: 'blend', join, paths: [{ step: a.id }, { step: b.id }] });
    const all = curve(c.project, { by: 'edges', chain: 'picked', paths: [{ step: a.id }, { step: c.id }, { step: b.id }] });
    const said = await noteOf(all.project);
    const corners = [...said.matchAll(/a corner of ([\d.]+)°/g)].map((m) => Number(m[1]));
    expect(Math.max(0, ...corners)).toBeLessThanOrEqual(most);
    if (join === 'G0') expect(corners.length).toBe(2);
    // From G2 on the curvature does not jump either.
    if (join === 'G1') expect(said).toMatch(/tangent joint/);
    if (join === 'G2' || join === 'G3') expect(said).toContain('smooth throughout');
  });
  it('as a blend round a corner tells the strength that bends it least: about a circle’s, whose handles are 0.5523 of its radius', async () => {
    const a = curve(empty(), { places: [at(-30, 0, 0), at(0, 0, 0)] });
    const b = curve(a.project, { places: [at(30, 30, 0), at(30, 60, 0)] });
    const blend = (strength: string) =>
      noteOf(curve(b.project, { by: 'blend', join: 'G1', paths: [{ step: a.id }, { step: b.id }] }, { strength }).project);
    const [, strength, radius] = /gentlest at a strength of ([\d.]+), which bends down to R ([\d.]+) mm/.exec(await blend('0.5'))!;
    expect(Number(strength) / ((3 * 0.5523) / Math.SQRT2)).toBeCloseTo(1, 1);
    expect(Number(radius) / 30).toBeCloseTo(1, 1);
    const there = await blend(strength!);
    expect(there).not.toContain('gentlest');
    expect(Number(/bends down to R ([\d.]+)/.exec(there)![1])).toBeCloseTo(Number(radius), 1);
    for (const other of [0.9, 1.1]) {
      const beside = await blend(`${(other * Number(strength)).toFixed(3)}`);
      expect(Number(/bends down to R ([\d.]+)/.exec(beside)![1])).toBeLessThan(Number(radius));
    }
  });
});

describe('a sweep', () => {
  const wire = (r: number, plane = 'side'): Profile => circle('wire', plane, r);
  it('along a straight line is a prism, along an arc Pappus’s pipe', async () => {
    const straight = curve(setProfile(empty(), wire(4)), { places: [at(0, 0, 0), at(50, 0, 0)] });
    expect((await volume(sweep(straight.project, { step: straight.id }, ['wire']))) / (Math.PI * 16 * 50)).toBeCloseTo(1, 9);
    const arc: Profile = {
      ...emptyProfile('arc', 'Arc', 'level', false),
      points: [
        { id: 'a', x: 0, y: 0 },
        { id: 'b', x: 30, y: 30 },
        { id: 'm', x: 0, y: 30 },
      ],
      curves: [{ kind: 'arc', id: 'c0', from: 'a', to: 'b', centre: 'm', ccw: true }],
    };
    const pipe = sweep(setProfile(setProfile(empty(), wire(4)), arc), { profile: 'arc', curve: 'c0' }, ['wire']);
    expect((await volume(pipe)) / (Math.PI * 16 * (Math.PI / 2) * 30)).toBeCloseTo(1, 9);
  });
  it('along a bent line with rounds has a face to every stretch, and no twist', async () => {
    const p = curve(
      setProfile(empty(), flat('bar', 'side', square(6))),
      { places: [at(0, 0, 0), at(50, 0, 0), at(50, 40, 0), at(50, 40, 30)] },
      { fillet: '10 mm' },
    );
    const r = await last(sweep(p.project, { step: p.id }, ['bar']));
    const length = 120 - 40 + Math.PI * 10;
    expect(r.volume / (36 * length)).toBeCloseTo(1, 3);
    expect(r.faces).toHaveLength(5 * 4 + 2);
    const end = engine.bodies()[0]!;
    expect(end.body.faces).toContain('s2/end');
  });
  it('of a round wire along lines and arcs is made of cylinders and rings that go on through later steps', async () => {
    const turns = Array.from({ length: 11 }, (_, i) => at(30 * i, i < 2 || i % 2 === 0 ? 0 : 40, i < 2 || i % 3 === 0 ? 0 : 25));
    const p = curve(setProfile(empty(), wire(3)), { places: turns }, { fillet: '10 mm' });
    const made = sweep(p.project, { step: p.id }, ['wire']);
    const r = await last(made);
    expect(r.faces).toHaveLength(19 + 2);
    const kernel = await testKernel();
    const kinds = facesOf(kernel, engine.bodies()[0]!.body.shape).map((f) => new kernel.BRepAdaptor_Surface(f, true).GetType());
    const count = (k: string): number => kinds.filter((x) => x === k).length;
    expect([count('GeomAbs_Cylinder'), count('GeomAbs_Torus'), count('GeomAbs_Plane')]).toEqual([10, 9, 2]);
    expect(await noteOf(made)).toContain('cylinders and rings');
    // Its ends are round edges that take a round.
    const rounded = add(made, 'fillet', { body: 's2', edges: [{ edge: 's2/side.1|s2/start' }] }, { radius: '1 mm' });
    // What a round of r takes off the rim of a rod R, by Pappus.
    const taken = 2 * Math.PI * (3 * (1 - Math.PI / 4) - (5 / 6 - Math.PI / 4));
    expect(r.volume - (await volume(rounded))).toBeCloseTo(taken, 6);
  });
  it('of a wire along anything else keeps to it within what it says', async () => {
    const p = curve(setProfile(empty(), wire(3)), { by: 'spline', places: [at(0, 0, 0), at(40, 0, 0), at(80, 30, 10)] });
    expect(await noteOf(sweep(p.project, { step: p.id }, ['wire']))).toContain('keeps to its path within');
  });
  it('twisted and growing keeps the volume its sections say', async () => {
    const p = curve(setProfile(empty(), flat('bar', 'side', square(6))), { places: [at(0, 0, 0), at(60, 0, 0)] });
    expect((await volume(sweep(p.project, { step: p.id }, ['bar'], {}, { twist: '180°' }))) / (36 * 60)).toBeCloseTo(1, 3);
    // From 6 to 12: h (a² + ab + b²) / 3.
    expect((await volume(sweep(p.project, { step: p.id }, ['bar'], {}, { scale: '2' }))) / ((60 * (36 + 72 + 144)) / 3)).toBeCloseTo(1, 3);
  });
  it('through sections that change passes from one to the next', async () => {
    const lift = addStep(setProfile(empty(), wire(4)), 'plane', { by: 'distance', from: 'side' }, { distance: '60 mm' });
    const p = curve(setProfile(lift.project, circle('far', lift.id, 8)), { places: [at(0, 0, 0), at(60, 0, 0)] });
    // The radius goes 4 + 4 (3x² − 2x³): ∫ r² = 16 + 32/2 + 16·13/35 by its moments.
    const exact = Math.PI * 60 * (16 + 32 * 0.5 + 16 * (13 / 35));
    expect((await volume(sweep(p.project, { step: p.id }, ['wire', 'far']))) / exact).toBeCloseTo(1, 3);
  });
  it('closes on a closed path', async () => {
    const ring = circle('ring', 'level', 30);
    const p = sweep(setProfile(setProfile(empty(), ring), { ...circle('wire', 'front', 4, [30, 0]) }), { profile: 'ring', curve: 'c0' }, [
      'wire',
    ]);
    const r = await last(p);
    expect(r.said).toMatch(/^done/);
    expect(r.volume / (2 * Math.PI ** 2 * 30 * 16)).toBeCloseTo(1, 3);
    expect(r.faces).toEqual(['s1/side']);
  });
  it('along edges of a helper that is put away makes a wire of its own', async () => {
    const plate = extrude(empty(), rounded('plate', 'level'), {}, { length: '10 mm' });
    const p = setProfile(plate, { ...circle('wire', 'side', 1.5, [-18, 10]) });
    const swept = sweep(p, { body: 's1', edge: 's1/end|s1/l1' }, ['wire']);
    const r = await bodies(add(swept, 'remove', { mode: 'delete', bodies: ['s1'] }));
    expect(Object.keys(r)).toEqual(['s2']);
    expect(r.s2! / (Math.PI * 2.25 * (192 - 64 + 16 * Math.PI))).toBeCloseTo(1, 9);
  });
  it('says where the path has a corner, bends too tightly, or comes back on itself', async () => {
    const places = [at(0, 0, 0), at(40, 0, 0), at(40, 30, 0)];
    const base = setProfile(empty(), wire(4));
    const sharp = curve(base, { places });
    const cornered = sweep(sharp.project, { step: sharp.id }, ['wire']);
    expect(await noteOf(cornered)).toContain('sharp corner of 90.0°');
    // One click rounds it, and then says that the section is too large for so tight a bend.
    expect(await afterFix(cornered)).toContain('the path bends with a radius of 0.20 mm');
    const tight = curve(base, { places }, { fillet: '3 mm' });
    expect(await noteOf(sweep(tight.project, { step: tight.id }, ['wire']))).toContain(
      'bends with a radius of 3.00 mm, and the section reaches 4.00 mm',
    );
    const back = curve(base, { places: [at(0, 0, 0), at(60, 0, 0), at(60, 7, 0), at(0, 7, 0)] }, { fillet: '3.4 mm' });
    const thin = setProfile(back.project, wire(3.6));
    expect(await noteOf(sweep(thin, { step: back.id }, ['wire']))).toMatch(/bends|runs into itself/);
    const coil = curve(base, { by: 'helix' }, { diameter: '40', top: '40', turns: '3', pitch: '7' });
    const at0: Profile = { ...circle('wire', 'front', 4, [20, 0]) };
    expect(await noteOf(sweep(setProfile(coil.project, at0), { step: coil.id }, ['wire']))).toContain(
      'runs into itself: two stretches of the path pass 7',
    );
  });
});

describe('a coil', () => {
  it('holds its wire’s section times its length', async () => {
    const p = add(
      empty(),
      'coil',
      { plane: 'level', hand: 'right', ...fresh },
      { wire: '3', diameter: '30', top: '30', turns: '4', pitch: '8' },
    );
    expect((await volume(p)) / (Math.PI * 2.25 * 4 * Math.hypot(Math.PI * 30, 8))).toBeCloseTo(1, 3);
  });
  it('that narrows upwards is as long as its spiral', async () => {
    const p = add(
      empty(),
      'coil',
      { plane: 'level', hand: 'left', ...fresh },
      { wire: '2', diameter: '40', top: '20', turns: '3', pitch: '6' },
    );
    // r falls from 20 to 10 over three turns while it climbs 18: Simpson's rule over sqrt(r'² + r² + h'²), source: calculus, no handbook.
    const turn = 6 * Math.PI;
    const speed = (a: number): number => Math.hypot(-10 / turn, 20 - (10 * a) / turn, 18 / turn);
    const n = 600;
    let length = speed(0) + speed(turn);
    for (let i = 1; i < n; i++) length += (i % 2 === 1 ? 4 : 2) * speed((turn * i) / n);
    length *= turn / n / 3;
    expect((await volume(p)) / (Math.PI * length)).toBeCloseTo(1, 3);
  });
  it('with turns closer than its wire is refused, with both numbers', async () => {
    const p = add(
      empty(),
      'coil',
      { plane: 'level', hand: 'left', ...fresh },
      { wire: '6', diameter: '30', top: '30', turns: '4', pitch: '5' },
    );
    expect(await noteOf(p)).toMatch(/pass [45]\.\d\d mm apart, and the section takes [56]\.\d\d mm/);
  });
});

describe('a curve laid on a face', () => {
  const drum = () =>
    add(empty(), 'primitive', { shape: 'cylinder', plane: 'level', places: [], ...fresh }, { diameter: '40', height: '60' });
  const line = (p: Project, a: [number, number, number], b: [number, number, number]) =>
    curve(p, { by: 'line', places: [at(...a), at(...b)] }, {});
  it('pulled: a slanting line beside a cylinder becomes what lies nearest on it', async () => {
    const straight = line(drum(), [30, -20, 10], [30, 20, 40]);
    const side = (await last(drum())).faces.find((f) => f.endsWith('side'))!;
    const laid = curve(straight.project, {
      by: 'onto',
      paths: [{ step: straight.id }],
      faces: [{ body: 's1', face: side }],
      onto: 'pulled',
    });
    const r = await engine.rebuild(laid.project);
    expect(r.steps.at(-1)!.note).toContain('keeps to the face within 0.000');
    // Every place keeps its height and its angle, at the radius.
    const places = r.paths.get(laid.id)!;
    for (let i = 0; i < places.length; i += 3) expect(Math.hypot(places[i]!, places[i + 1]!)).toBeCloseTo(20, 3);
    expect([places[2], places[places.length - 1]]).toEqual([expect.closeTo(10, 4), expect.closeTo(40, 4)]);
    expect(Math.atan2(places[1]!, places[0]!)).toBeCloseTo(Math.atan2(-20, 30), 4);
  });
  it('projected: keeps its place across, and says where it passes beside the face', async () => {
    const side = (await last(drum())).faces.find((f) => f.endsWith('side'))!;
    const lay = (b: [number, number, number]) => {
      const straight = line(drum(), [30, -15, 10], b);
      return curve(straight.project, {
        by: 'onto',
        paths: [{ step: straight.id }],
        faces: [{ body: 's1', face: side }],
        onto: 'projected',
        plane: 'side',
      });
    };
    const laid = lay([30, 15, 40]);
    const places = (await engine.rebuild(laid.project)).paths.get(laid.id)!;
    expect([places[0], places[1]]).toEqual([expect.closeTo(Math.sqrt(400 - 225), 4), expect.closeTo(-15, 4)]);
    expect(await noteOf(lay([30, 25, 40]).project)).toContain('passes beside the face');
  });
  it('drawn again with few points says how far it is off', async () => {
    const bent = curve(empty(), { by: 'spline', places: [at(0, 0, 0), at(20, 8, 0), at(40, -5, 6), at(60, 0, 0)] });
    const again = curve(bent.project, { by: 'rebuild', paths: [{ step: bent.id }] }, { points: '6' });
    expect(await noteOf(again.project)).toMatch(/6 control points, off by at most 0\.\d+ mm/);
  });
  it('goes on as a tangent arc, and as an arc through three places', async () => {
    const first = line(empty(), [0, 0, 0], [0, 0, 30]);
    const arc = curve(first.project, { by: 'tangent', paths: [{ step: first.id }], places: [at(10, 0, 40)] });
    expect(await noteOf(arc.project)).toContain(`${(5 * Math.PI).toFixed(3)} mm long, bends down to R 10.00 mm`);
    const three = curve(empty(), { by: 'arc', places: [at(10, 0, 0), at(0, 10, 0), at(-10, 0, 0)] });
    expect(await noteOf(three.project)).toContain(`${(10 * Math.PI).toFixed(3)} mm long`);
  });
});

describe('a sweep led by a second rail', () => {
  /** A straight path upwards with a rail that leaves it: from x = 10 to x = 20 over 60 mm. */
  const led = (grow: string, rail: readonly [number, number, number][], shape = circle('sec', 'level', 10)) => {
    const path = curve(setProfile(empty(), shape), { by: 'line', places: [at(0, 0, 0), at(0, 0, 60)] });
    const second = curve(path.project, { by: rail.length > 2 ? 'spline' : 'line', places: rail.map((r) => at(...r)) });
    return sweep(second.project, { step: path.id }, ['sec'], { hold: 'guided', rail: [{ step: second.id }], grow });
  };
  it('is a frustum where the rail leans away evenly and all of it grows', async () => {
    const v = await volume(
      led('both', [
        [10, 0, 0],
        [20, 0, 60],
      ]),
    );
    expect(v / ((Math.PI * 60 * (100 + 200 + 400)) / 3)).toBeCloseTo(1, 4);
  });
  it('grows in width alone: elliptic sections, their area by the rail', async () => {
    // ∫ π · 10 · (10 + z/6) dz over 60.
    expect(
      (await volume(
        led('across', [
          [10, 0, 0],
          [20, 0, 60],
        ]),
      )) /
        (Math.PI * 10 * (600 + 300)),
    ).toBeCloseTo(1, 4);
  });
  it('turns with the rail: a rail wound a quarter about the path keeps the size and twists the section', async () => {
    const wound = Array.from({ length: 25 }, (_, i): [number, number, number] => {
      const w = (i * Math.PI) / 48;
      return [10 * Math.cos(w), 10 * Math.sin(w), 2.5 * i];
    });
    const p = led('both', wound, flat('sec', 'level', square(20)));
    expect((await volume(p)) / (400 * 60)).toBeCloseTo(1, 3);
    const top = (await engine.rebuild(p)).bodies.at(-1)!;
    expect(top.bbox.max[0]).toBeGreaterThan(13);
  });
  it('says where the rail ends too early, and where it passes beside the section', async () => {
    expect(
      await noteOf(
        led('both', [
          [10, 0, 0],
          [20, 0, 40],
        ]),
      ),
    ).toContain('does not reach beside the whole path');
    expect(
      await noteOf(
        led('both', [
          [14, 0, 0],
          [20, 0, 60],
        ]),
      ),
    ).toContain('passes 4.00 mm beside section 1');
  });
});
