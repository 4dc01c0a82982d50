/**
 * Dimples and bumps over faces. Volumes against the spherical cap (V = π h (3w² + h²) / 6) on a flat face, the lens of two balls on a ball
 * (both published), and a quadrature of its own on a cylinder; spacing against arc lengths.
 */
import { beforeAll, describe, expect, it } from 'vitest';
import { ballRadius, flatReach } from '../../src/core/detail/dimple';
import { setProfile } from '../../src/core/recipe/edit';
import type { Project } from '../../src/core/recipe/schema';
import { measureJoins } from '../../src/kernel/inspect/joins';
import { boundsOf, facesOf } from '../../src/kernel/shapes';
import { add, box, circle, empty, engine, extrude } from '../support/parts';
import { arc, line, sketchProfile } from '../support/sketch';

beforeAll(() => engine.start());

const built = async (p: Project) => {
  const r = await engine.rebuild(p);
  const s = r.steps.at(-1)!;
  const said = `${s.state} ${s.message ?? ''} ${s.why ?? ''} ${s.warnings.map((w) => w.message).join('; ')}`.trim();
  return { r, s, said, note: s.note ?? '', volume: r.bodies.at(-1)?.volume ?? Number.NaN };
};
const KIND = { body: 's1', shape: 'dimples', pattern: 'staggered', by: 'pitch' };
const SIZE = { diameter: '9 mm', depth: '1.8 mm', rim: '0 mm', pitch: '12 mm', margin: '1 mm' };
const capVolume = (w: number, h: number): number => (Math.PI * h * (3 * w * w + h * h)) / 6;
/** The highest face of the body that stands. */
async function topFace(): Promise<string> {
  const kernel = await engine.start();
  const { body } = engine.bodies()[0]!;
  const faces = facesOf(kernel, body.shape);
  const high = faces.map((f) => boundsOf(kernel, f)).map((b) => b.min[2]);
  return body.faces[high.indexOf(Math.max(...high))]!;
}
/** The face round about. */
async function sideFace(): Promise<string> {
  const kernel = await engine.start();
  const { body } = engine.bodies()[0]!;
  const size = facesOf(kernel, body.shape).map((f) => {
    const b = boundsOf(kernel, f);
    return b.max[2] - b.min[2];
  });
  return body.faces[size.indexOf(Math.max(...size))]!;
}

describe('on a flat face', () => {
  it('caps take and add what the spherical cap says', async () => {
    const p = box(empty(), [60, 40, 20]);
    await built(p);
    const faces = [{ face: await topFace() }];
    for (const shape of ['dimples', 'bumps']) {
      const { said, note, volume } = await built(add(p, 'dimples', { ...KIND, shape, faces }, SIZE));
      expect(said).toBe('done');
      const count = Number(/^(\d+) in 3 rows/.exec(note)![1]);
      expect(count).toBe(14);
      const each = (shape === 'bumps' ? volume - 48_000 : 48_000 - volume) / count;
      expect(Math.abs(each / capVolume(4.5, 1.8) - 1)).toBeLessThan(1e-5);
    }
  });

  it('rims are as round as a torus is: volume by Pappus, tangent to both sides', async () => {
    const p = box(empty(), [60, 40, 20]);
    await built(p);
    const faces = [{ face: await topFace() }];
    const rim = 0.8;
    const { said, note, volume } = await built(add(p, 'dimples', { ...KIND, faces }, { ...SIZE, rim: `${rim} mm` }));
    expect(said).toBe('done');
    const count = Number(/^(\d+) in/.exec(note)![1]);
    // The half profile: down along the axis, the ball's arc, the rim's, back at the top; turned round the axis, by Simpson's rule.
    const [w, h] = [4.5, 1.8];
    const R = ballRadius(2 * w, h);
    const reach = flatReach({ diameter: 2 * w, depth: h, rim });
    const touch = (R * reach) / (R + rim);
    const depth = (r: number): number => (r < touch ? Math.sqrt(R * R - r * r) - (R - h) : rim - Math.sqrt(rim * rim - (reach - r) ** 2));
    let v = 0;
    for (const [a, b] of [
      [0, touch],
      [touch, reach],
    ] as const) {
      const n = 4000;
      for (let i = 0; i <= n; i++) {
        const r = a + ((b - a) * i) / n;
        v += ((i === 0 || i === n ? 1 : i % 2 ? 4 : 2) * (b - a) * 2 * Math.PI * r * depth(r)) / (3 * n);
      }
    }
    expect(Math.abs((48_000 - volume) / count / v - 1)).toBeLessThan(1e-5);
    const kernel = await engine.start();
    const joins = await measureJoins(kernel, engine.bodies()[0]!.body);
    const rims = joins!.filter((j) => j.edge.includes('/rim.'));
    expect(rims.length).toBeGreaterThanOrEqual(2 * count);
    for (const j of rims) expect((j.angle * 180) / Math.PI).toBeLessThan(0.02);
  });
});

describe('on a cylinder', () => {
  const R = 20;
  const cylinder = (): Project => extrude(empty(), circle('c', 'level', R), {}, { length: '60 mm' });

  it('takes what a quadrature says, also over its seam', async () => {
    await built(cylinder());
    const faces = [{ face: await sideFace() }];
    const { said, note, volume, s } = await built(add(cylinder(), 'dimples', { ...KIND, faces }, SIZE));
    expect(said).toBe('done');
    const count = Number(/^(\d+) in 5 rows/.exec(note)![1]);
    expect(count).toBe(50);
    // The ball's part within the cylinder: cut by planes square to the cylinder, each a lens of two circles (published).
    const ball = ballRadius(9, 1.8);
    const middle = R - 1.8 + ball;
    const lens = (r: number): number => {
      if (r + R <= middle) return 0;
      const a = Math.acos((middle ** 2 + r * r - R * R) / (2 * middle * r));
      const b = Math.acos((middle ** 2 + R * R - r * r) / (2 * middle * R));
      return r * r * a + R * R * b - middle * r * Math.sin(a);
    };
    // By x = half·sin, which is smooth at the ends.
    const half = Math.sqrt(ball * ball - (middle - R) ** 2);
    let v = 0;
    const n = 2000;
    for (let i = 0; i < n; i++) {
      const t = Math.PI * ((i + 0.5) / n - 0.5);
      v += (lens(Math.sqrt(ball * ball - (half * Math.sin(t)) ** 2)) * half * Math.cos(t) * Math.PI) / n;
    }
    const whole = Math.PI * R * R * 60;
    expect(Math.abs((whole - volume) / count / v - 1)).toBeLessThan(1e-5);
    expect(s.checkMs).toBeGreaterThan(0);
  });

  it('has them apart along the surface as told, which is what goes round', async () => {
    await built(cylinder());
    const faces = [{ face: await sideFace() }];
    const { note } = await built(add(cylinder(), 'dimples', { ...KIND, faces }, SIZE));
    // Ten go round 125.66 mm at 12 mm at least.
    expect(note).toContain(`${((2 * Math.PI * R) / 10).toFixed(2)} mm apart along the surface`);
  });

  it('refuses what overlaps, and what it offers goes', async () => {
    await built(cylinder());
    const faces = [{ face: await sideFace() }];
    const close = { ...SIZE, pitch: '8 mm', rim: '0.5 mm' };
    const { said, s } = await built(add(cylinder(), 'dimples', { ...KIND, faces }, close));
    expect(said).toMatch(/would overlap by \d\.\d\d mm/);
    expect(s.at).toBeDefined();
    const wider = s.fixes.find((f) => f.values?.pitch)!;
    expect((await built(add(cylinder(), 'dimples', { ...KIND, faces }, { ...close, ...wider.values }))).said).toBe('done');
  });

  it('keeps the wall under them, told, and refuses to cut through', async () => {
    let p = extrude(empty(), circle('c', 'level', R), {}, { length: '60 mm' });
    p = add(p, 'shell', { body: 's1', open: [{ topOf: 's1' }], side: 'inward', own: [], corners: 'sharp' }, { wall: '3 mm' });
    await built(p);
    const faces = [{ face: await sideFace() }];
    const fine = await built(add(p, 'dimples', { ...KIND, faces }, SIZE));
    expect(fine.said).toBe('done');
    expect(fine.note).toMatch(/1\.(19|20) mm of wall are left/);
    expect((await built(add(p, 'dimples', { ...KIND, faces }, { ...SIZE, depth: '3.2 mm' }))).said).toMatch(
      /would cut through: (2\.99|3\.00) mm of wall/,
    );
  });
});

describe('on a ball and on a barrel', () => {
  it('takes the lens of two balls from a ball', async () => {
    const ball = add(empty(), 'primitive', { shape: 'sphere', plane: 'level', places: [], mode: 'new', body: null }, { diameter: '60 mm' });
    await built(ball);
    const faces = [{ face: engine.bodies()[0]!.body.faces[0]! }];
    const { said, note, volume } = await built(add(ball, 'dimples', { ...KIND, pattern: 'rings', faces }, { ...SIZE, margin: '6 mm' }));
    expect(said).toMatch(/^done/);
    const count = Number(/^(\d+) in/.exec(note)![1]);
    expect(count).toBeGreaterThan(20);
    const [R, r] = [30, ballRadius(9, 1.8)];
    const d = R - 1.8 + r;
    const lens = (Math.PI * (R + r - d) ** 2 * (d * d + 2 * d * r - 3 * r * r + 2 * d * R + 6 * r * R - 3 * R * R)) / (12 * d);
    expect(Math.abs(((4 / 3) * Math.PI * R ** 3 - volume) / count / lens - 1)).toBeLessThan(1e-5);
  });

  it('sets sixty round a barrel, evenly, rims rounded, and follows a change', async () => {
    const barrel = (belly: number): Project => {
      const m = (belly ** 2 - 16 ** 2 - 40 ** 2) / (2 * (belly - 16));
      const half = sketchProfile({ a: [0, -40], b: [16, -40], c: [16, 40], d: [0, 40], m: [m, 0] }, [
        line('ab'),
        arc('bcm'),
        line('cd'),
        line('da'),
      ]);
      return add(
        setProfile(empty(), { ...half, id: 'half', name: 'half', plane: 'front', half: true }),
        'revolve',
        { profile: 'half', mode: 'new', body: null },
        { angle: '360°' },
      );
    };
    for (const belly of [24, 26]) {
      const p = barrel(belly);
      await built(p);
      const faces = [{ face: await sideFace() }];
      const { said, note } = await built(
        add(p, 'dimples', { ...KIND, by: 'count', faces }, { ...SIZE, rim: '0.5 mm', rows: '6', perRow: '10', margin: '6 mm' }),
      );
      expect(said).toBe('done');
      expect(note).toMatch(/^60 in 6 rows/);
    }
  });
});
