/**
 * Small bodies laid over faces in true scale. Volumes against closed forms: on a cylinder a tile of height h takes w d h (1 ± h / 2R) (sectors of a ring), on a
 * ball a small round peg by Gauss's lemma; lengths against arcs of great circles and the unrolling of cones (published); normals and places
 * against the same. What does not fit, lies over itself or is too deep is refused, and what is offered then works.
 */
import { beforeAll, describe, expect, it } from 'vitest';
import { type Bent, bentSpline, layPiece, walkOver } from '../../src/core/detail/lay';
import { cross, distance, dot, minus, triple, unit, type Vec3 } from '../../src/core/geometry/vectors';
import { patchStep } from '../../src/core/recipe/edit';
import type { Project } from '../../src/core/recipe/schema';
import { interpolateSurface, unrolled } from '../../src/core/surfaces/space';
import { add, at, box, empty, engine, extrude, flat } from '../support/parts';

beforeAll(() => engine.start());

const solid = { plane: 'level', places: [], mode: 'new', body: null };
const round = (p: Project, shape: string, values: Record<string, string>, place?: [number, number, number]): Project =>
  add(p, 'primitive', { shape, ...solid, places: place ? [at(...place)] : [] }, values);
const cylinder = (r: number, h: number): Project => round(empty(), 'cylinder', { diameter: `${2 * r}`, height: `${h}` });
const KIND = { tile: 's2', body: 's1', as: 'raised', pattern: 'rows', by: 'pitch', way: 'long', thin: 'none', tooling: 'used' };
const VALUES = { pitch: '10 mm', across: '8 mm', margin: '1 mm' };
const built = async (p: Project) => {
  const r = await engine.rebuild(p);
  const s = r.steps.at(-1)!;
  const of = (id: string): number => r.bodies.find((b) => b.id === id)?.volume ?? Number.NaN;
  const said = `${s.state} ${s.message ?? ''} ${s.why ?? ''} ${s.warnings.map((w) => w.message).join('; ')}`.trim();
  return { s, said, of, note: s.note ?? '', count: Number(/^(\d+) in/.exec(s.note ?? '')?.[1]), bodies: r.bodies.map((b) => b.id) };
};

/** A ball of radius r about the origin, by angles. */
const onBall =
  (r: number) =>
  (u: number, v: number): Bent => {
    const n: Vec3 = [Math.cos(v) * Math.cos(u), Math.cos(v) * Math.sin(u), Math.sin(v)];
    return {
      p: triple((k) => r * n[k]),
      n,
      du: [-r * Math.cos(v) * Math.sin(u), r * Math.cos(v) * Math.cos(u), 0],
      dv: [-r * Math.sin(v) * Math.cos(u), -r * Math.sin(v) * Math.sin(u), r * Math.cos(v)],
      bend: () => 1 / r,
    };
  };

describe('a piece laid on a surface', () => {
  const BOX = { x: [-6, 6], y: [-4, 4] } as const;
  it('runs along great circles of a ball, and square to its middle line', () => {
    const r = 20;
    for (const [u, v, way] of [
      [0.3, 0.2, [0, 0, 1]],
      [-2, -0.9, [1, 1, 0]],
      [1, 0.6, [-1, 0.3, 0.2]],
    ] as const) {
      const on = onBall(r);
      const piece = layPiece(on, [u, v], way, BOX)!;
      const { p: middle, n } = on(u, v);
      const along = unit(
        minus(
          way,
          triple((k) => dot(way, n) * n[k]),
        ),
      )!;
      for (const x of [-6, -2.5, 0, 3, 6])
        for (const y of [-4, -1, 0, 4]) {
          // Along the middle line by the angle x / r, then to its left by y / r: published spherical trigonometry.
          const [a, b] = [x / r, y / r];
          const ahead: Vec3 = triple((k) => Math.cos(a) * n[k] + Math.sin(a) * along[k]);
          const left = cross(n, along);
          const want = triple((k) => r * (Math.cos(b) * ahead[k] + Math.sin(b) * left[k]));
          expect(distance(piece.at({ x, y }, 0), want)).toBeLessThan(5e-6);
          const high = piece.at({ x, y }, 1.5);
          expect(
            distance(
              high,
              triple((k) => (want[k] * (r + 1.5)) / r),
            ),
          ).toBeLessThan(5e-6);
        }
      expect(distance(piece.at({ x: 0, y: 0 }, 0), middle)).toBeLessThan(1e-6);
      // Across it nothing stretches, along it by the cosine of how far it lies to one side.
      expect(piece.stretch[1]).toBeCloseTo(1, 5);
      expect(piece.stretch[0]).toBeCloseTo(Math.cos(4 / r), 3);
    }
  });
  it('keeps every length where the surface can be unrolled', () => {
    // A cone of half angle 0.4, by its angle and the length from its tip.
    const [s, c] = [Math.sin(0.4), Math.cos(0.4)];
    const cone = (u: number, v: number): Bent => {
      const out: Vec3 = [Math.cos(u), Math.sin(u), 0];
      const du: Vec3 = [-v * s * out[1], v * s * out[0], 0];
      const dv: Vec3 = [s * out[0], s * out[1], c];
      const n: Vec3 = [c * out[0], c * out[1], -s];
      // Only round about it bends: by c over the radius, times the square of how far the direction goes that way.
      return { p: triple((k) => v * dv[k]), n, du, dv, bend: (way) => ((c / (v * s)) * (dot(way, du) / (v * s)) ** 2) / dot(way, way) };
    };
    const piece = layPiece(cone, [0.7, 40], [0.2, 1, 0.4], BOX)!;
    expect(piece.stretch[0]).toBeCloseTo(1, 6);
    expect(piece.stretch[1]).toBeCloseTo(1, 6);
    // Unrolled: a place lies at its length from the tip, under its angle times the sine.
    const flat = ([u, v]: readonly [number, number]): [number, number] => [v * Math.cos(u * s), v * Math.sin(u * s)];
    const places = [-6, -1, 5].flatMap((x) => [-4, 0, 3].map((y) => ({ x, y })));
    for (const p of places)
      for (const q of places) {
        const [a, b] = [flat(piece.uv(p)), flat(piece.uv(q))];
        expect(Math.hypot(a[0] - b[0], a[1] - b[1])).toBeCloseTo(Math.hypot(p.x - q.x, p.y - q.y), 5);
      }
  });
  it('lies on splines as on what they stand for, and heights keep to their share', () => {
    const r = 20;
    const patch = interpolateSurface(
      { degree: 5, knots: [-0.6, -0.2, 0.2, 0.6], periodic: false },
      { degree: 5, knots: [-0.6, -0.2, 0.2, 0.6], periodic: false },
      (u, v) => onBall(r)(u, v).p,
    );
    const on = bentSpline(unrolled(patch), 1);
    const [a, b] = [onBall(r), on].map((f) => layPiece(f, [0.1, -0.05], [0, 1, 0.3], BOX, ([, v]) => 1 - v)!);
    for (const p of [-6, 0, 4].flatMap((x) => [-4, 2].map((y) => ({ x, y })))) {
      expect(distance(a!.at(p, 1), b!.at(p, 1))).toBeLessThan(2e-5);
      expect(distance(a!.at(p, 0), a!.at(p, 1))).toBeCloseTo(1 - a!.uv(p)[1], 5);
    }
    const there = walkOver(onBall(r), [0, 0], [0, 1, 0], 5, 7)!;
    expect(
      distance(there.p, [r * Math.cos(7 / r) * Math.cos(5 / r), r * Math.cos(7 / r) * Math.sin(5 / r), r * Math.sin(7 / r)]),
    ).toBeLessThan(1e-6);
  });
});

describe('a field of tiles', () => {
  const [R, H] = [20, 30];
  const [w, d, h] = [6, 4, 2];
  const tiled = (more: Record<string, unknown> = {}, values: Record<string, string> = {}, base = cylinder(R, H)): Project =>
    add(box(base, [w, d, h]), 'tiles', { ...KIND, faces: [{ face: 's1/side' }], ...more }, { ...VALUES, ...values });
  it('takes and adds on a cylinder what a ring’s sectors do, also over where that closes', async () => {
    const whole = Math.PI * R * R * H;
    for (const pattern of ['rows', 'staggered']) {
      for (const [as, sense] of [
        ['raised', 1],
        ['sunk', -1],
      ] as const) {
        const { said, of, count, note, bodies } = await built(tiled({ as, pattern }, { pitch: '7.4 mm' }));
        expect(said).toBe('done');
        expect(count).toBe(64);
        expect(note).toContain('laid in true scale');
        expect(bodies).toEqual(['s1']);
        expect((of('s1') - whole) / (sense * count * w * d * h * (1 + (sense * h) / (2 * R)))).toBeCloseTo(1, 6);
      }
      const { said, of, count } = await built(tiled({ as: 'apart', pattern, tooling: 'kept' }));
      expect(said).toBe('done');
      expect(of('s3') / (count * w * d * h * (1 + h / (2 * R)))).toBeCloseTo(1, 6);
      expect(of('s2')).toBeCloseTo(w * d * h, 9);
    }
  }, 120_000);
  it('keeps the pitch it tells, measured along the face', async () => {
    const { note } = await built(tiled());
    const [, inRow, rows, free] = /in 4 rows, ([\d.]+) mm apart along the surface, rows ([\d.]+) mm; ([\d.]+) mm free/
      .exec(note)!
      .map(Number) as number[];
    expect(inRow).toBeCloseTo((2 * Math.PI * R) / 12, 1);
    expect(rows).toBeCloseTo((H - 2 - d) / 3, 1);
    // Nearest are those of neighbouring rows.
    expect(free).toBeCloseTo(rows! - d, 1);
  });
  it('stands on what it stands on: rings leave the face within them, domes and pegs close, on flat faces, cones and balls', async () => {
    const peg = (p: Project): Project => round(p, 'cylinder', { diameter: '5', height: '2' });
    const ring = (p: Project): Project =>
      add(peg(p), 'primitive', { shape: 'cylinder', ...solid, mode: 'cut', body: 's2' }, { diameter: '3', height: '2' });
    const flat = box(empty(), [60, 40, 20]);
    for (const [make, volume] of [
      [peg, Math.PI * 6.25 * 2],
      [ring, Math.PI * (6.25 - 2.25) * 2],
    ] as const) {
      const on = add(make(flat), 'tiles', { ...KIND, faces: [{ face: 's1/end' }] }, { ...VALUES, pitch: '14 mm', across: '14 mm' });
      const { said, of, count, note } = await built(on);
      expect(`${said} ${note}`).toMatch(/^done /);
      expect((of('s1') - 48_000) / (count * volume)).toBeCloseTo(1, 6);
      // Round a ring on a cylinder the ring’s sectors hold as well, since it is alike to both sides.
      const bent = await built(
        add(make(cylinder(R, H)), 'tiles', { ...KIND, faces: [{ face: 's1/side' }] }, { ...VALUES, pitch: '20 mm', across: '14 mm' }),
      );
      expect(`${bent.said} ${bent.note}`).toMatch(/^done /);
      expect((bent.of('s1') - Math.PI * R * R * H) / (bent.count * volume * (1 + 2 / (2 * R)))).toBeCloseTo(1, 5);
    }
    // On a ball a peg of radius a takes a cone's share between two balls, but for how Fermi's lengths stretch: a² / 3R² of it.
    const ball = await built(
      add(
        peg(round(empty(), 'sphere', { diameter: '50' })),
        'tiles',
        { ...KIND, pattern: 'rings', faces: [{ face: 's1/side' }] },
        { pitch: '20 mm', across: '20 mm', margin: '6 mm' },
      ),
    );
    expect(`${ball.said} ${ball.note}`).toMatch(/^done /);
    const shell = (cap: number): number => ((2 * Math.PI) / 3) * (1 - Math.cos(cap)) * (27 ** 3 - 25 ** 3);
    expect(Math.abs((ball.of('s1') - (4 / 3) * Math.PI * 25 ** 3) / (ball.count * shell(2.5 / 25)) - 1)).toBeLessThan(
      2.5 ** 2 / (2 * 25 ** 2),
    );
    const cone = await built(
      add(
        box(round(empty(), 'cone', { diameter: '50', top: '25', height: '40' }), [w, d, h]),
        'tiles',
        { ...KIND, as: 'apart', faces: [{ face: 's1/side' }] },
        VALUES,
      ),
    );
    expect([cone.said, /laid in true scale/.test(cone.note)]).toEqual(['done', true]);
  }, 120_000);
  it('goes on bodies of many faces, whose text runs on over lines', async () => {
    const corners = Array.from({ length: 14 }, (_, i): [number, number] => [
      30 * Math.cos((Math.PI * i) / 7),
      30 * Math.sin((Math.PI * i) / 7),
    ]);
    const p = box(extrude(empty(), flat('p', 'level', corners), {}, { length: '20' }), [w, d, h]);
    const area = 7 * 900 * Math.sin(Math.PI / 7);
    const { said, of, count } = await built(add(p, 'tiles', { ...KIND, faces: [{ face: 's1/end' }] }, VALUES));
    expect(said).toMatch(/^(done|warned)/);
    expect((of('s1') - 20 * area) / (count * w * d * h)).toBeCloseTo(1, 6);
  });
  it('is lower towards borders by the law that is told', async () => {
    const high = async (values: Record<string, string>, thin: string) => (await built(tiled({ as: 'apart', thin }, values))).of('s3');
    const full = await high({}, 'none');
    const half = await high({ least: '0.5', over: '12 mm' }, 'sides');
    const less = await high({ least: '0.2', over: '12 mm' }, 'sides');
    expect(full).toBeGreaterThan(half);
    expect(half).toBeGreaterThan(less);
    // By Simpson's rule over each row's width: heights grow by 1 − (1 − share) e^(−6 (l / over)²) from either border.
    const share = (l: number): number => [l, H - l].reduce((f, x) => f * (1 - 0.5 * Math.exp(-6 * (x / 12) ** 2)), 1);
    const rows = [0, 1, 2, 3].map((k) => 1 + d / 2 + (k * (H - 2 - d)) / 3);
    let sum = 0;
    const n = 400;
    for (const row of rows)
      for (let i = 0; i <= n; i++) {
        const s = share(row - d / 2 + (d * i) / n);
        // A sector of a ring so high, of a width measured on the skin.
        sum += (i === 0 || i === n ? 1 : i % 2 ? 4 : 2) * ((w * d) / n / 3) * (s * h + (s * h) ** 2 / (2 * R));
      }
    expect(half / (12 * sum)).toBeCloseTo(1, 3);
  }, 120_000);
  it('names the faces of every copy after the tile’s own, so that they can be picked at all of them', async () => {
    await built(tiled());
    const names = engine.bodies()[0]!.body.faces;
    for (const n of [1, 17, 48]) expect(names).toContain(`s3/${n}(s2/end)`);
    expect(names.filter((f) => f.endsWith('(s2/start)'))).toEqual([]);
  });
  it('refuses what lies over itself, cuts through or has no foot, and what is offered works', async () => {
    const over = tiled({}, { pitch: '3 mm', across: '3 mm' });
    const { said, s } = await built(over);
    expect(said).toContain('they would lie over each other');
    const fix = s.fixes![0]!;
    expect((await built(patchStep(over, fix.step, fix))).said).toBe('done');
    const tube = add(
      cylinder(R, H),
      'primitive',
      { shape: 'cylinder', ...solid, mode: 'cut', body: 's1' },
      { diameter: '37', height: '30' },
    );
    const deep = await built(add(box(tube, [w, d, h]), 'tiles', { ...KIND, tile: 's3', as: 'sunk', faces: [{ face: 's1/side' }] }, VALUES));
    expect(deep.said).toMatch(/would cut through: 1\.5\d mm of wall are there/);
    const ball = await built(
      add(round(cylinder(R, H), 'sphere', { diameter: '5' }), 'tiles', { ...KIND, faces: [{ face: 's1/side' }] }, VALUES),
    );
    expect(ball.said).toContain('no flat face that it could stand on');
    const wide = await built(tiled({}, {}, cylinder(R, 4)));
    expect(wide.said).toContain('none fits: it takes 6.00 × 4.00 mm');
  }, 120_000);
});
