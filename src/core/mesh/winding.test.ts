/** What winding numbers prove of a skin, on meshes whose truth is known. */
import { describe, expect, it } from 'vitest';
import { buildBvh } from './bvh';
import type { TriMesh } from './mesh';
import { selfCrossings } from './self-crossings';
import { faultInSkin, judgeSkin, solidAngleWinding, windingAt } from './winding';

type P = readonly [number, number, number];

function meshOf(points: readonly P[], triangles: readonly (readonly [number, number, number])[]): TriMesh {
  return {
    positions: Float64Array.from(points.flat()),
    indices: Uint32Array.from(triangles.flat()),
    faceOf: new Uint32Array(triangles.length),
  };
}

function joined(...parts: TriMesh[]): TriMesh {
  let base = 0;
  const [positions, indices]: [number[], number[]] = [[], []];
  for (const p of parts) {
    indices.push(...Array.from(p.indices, (i) => i + base));
    positions.push(...p.positions);
    base += p.positions.length / 3;
  }
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices), faceOf: new Uint32Array(indices.length / 3) };
}

/** A ball of even facets about a place. */
function ball(r: number, at: P = [0, 0, 0], out = true): TriMesh {
  const [rows, cols] = [16, 24];
  const points: P[] = [[at[0], at[1], at[2] - r]];
  for (let i = 1; i < rows; i++)
    for (let j = 0; j < cols; j++) {
      const [a, b] = [Math.PI * (i / rows - 0.5), (2 * Math.PI * j) / cols];
      points.push([at[0] + r * Math.cos(a) * Math.cos(b), at[1] + r * Math.cos(a) * Math.sin(b), at[2] + r * Math.sin(a)]);
    }
  points.push([at[0], at[1], at[2] + r]);
  const tri: [number, number, number][] = [];
  const id = (i: number, j: number): number => 1 + (i - 1) * cols + (j % cols);
  for (let j = 0; j < cols; j++) {
    tri.push([0, id(1, j + 1), id(1, j)], [points.length - 1, id(rows - 1, j), id(rows - 1, j + 1)]);
    for (let i = 1; i < rows - 1; i++) tri.push([id(i, j), id(i, j + 1), id(i + 1, j + 1)], [id(i, j), id(i + 1, j + 1), id(i + 1, j)]);
  }
  return meshOf(
    points,
    tri.map(([a, b, c]) => (out ? [a, b, c] : [a, c, b])),
  );
}

/** A tube about a figure eight in the plane: half of it lies inside out. */
function eight(): TriMesh {
  const n = 80;
  const points: P[] = [];
  const line = (t: number, z: number): P => [30 * Math.sin(t), 18 * Math.sin(2 * t), z];
  for (let i = 0; i < n; i++) for (const z of [0, 6]) points.push(line((2 * Math.PI * (i + 0.37)) / n, z));
  const [low, high] = [points.push([15, 0, 0]) - 1, points.push([15, 0, 6]) - 1];
  const tri: [number, number, number][] = [];
  for (let i = 0; i < n; i++) {
    const [a, b, c, d] = [2 * i, 2 * i + 1, 2 * ((i + 1) % n), 2 * ((i + 1) % n) + 1];
    tri.push([a, c, d], [a, d, b], [low, c, a], [high, b, d]);
  }
  return meshOf(points, tri);
}

const judged = (m: TriMesh, deflection = 0.05) => judgeSkin(buildBvh(m), deflection, 100);

describe('a closed skin', () => {
  it('about a ball, a hollow ball and two apart is sound', () => {
    for (const m of [ball(20), joined(ball(20), ball(15, [0, 0, 0], false)), joined(ball(20), ball(10, [40, 0, 0]))])
      expect(judged(m)).toEqual({ verdict: 'sound' });
  });
  it('inside out, or with a part of it inside out beside it, is false', () => {
    expect(judged(ball(20, [0, 0, 0], false)).verdict).toBe('false');
    expect(judged(joined(ball(20), ball(10, [40, 0, 0], false)))).toMatchObject({ verdict: 'false', winding: expect.any(Number) });
    expect(judged(joined(ball(20), ball(10))).verdict).toBe('false');
  });
  it('of two bodies that overlap is false, with a place in both', () => {
    const r = judged(joined(ball(20), ball(20, [25, 0.3, 0.2])));
    expect(r).toMatchObject({ verdict: 'false', winding: 2 });
    if (r.verdict !== 'false') return;
    for (const c of [0, 25]) expect(Math.hypot(r.at[0] - c, r.at[1], r.at[2])).toBeLessThan(20.5);
  });
  it('in an eight is false where it runs the other way', () => {
    expect(judged(eight())).toMatchObject({ verdict: 'false', winding: -1 });
  });
  it('whose facets only graze each other is sound, as one whose point goes deeper is not', () => {
    // The tip of one pyramid stands in the base of another, so deep; the base is a triangle with its middle elsewhere.
    const pyramid = (at: P): TriMesh =>
      meshOf(
        [
          [at[0] - 8, at[1] - 6, at[2]],
          [at[0] + 9, at[1] - 5, at[2]],
          [at[0] + 0.5, at[1] + 10, at[2]],
          [at[0] + 0.2, at[1] + 0.1, at[2] + 12],
        ],
        [
          [0, 2, 1],
          [0, 1, 3],
          [1, 2, 3],
          [2, 0, 3],
        ],
      );
    const deep = (mm: number): TriMesh => joined(pyramid([0, 0, 0]), pyramid([0.3, -0.4, 12 - mm]));
    expect(selfCrossings(buildBvh(deep(0.002)), 2e-5).length).toBeGreaterThan(0);
    expect(judged(deep(0.002))).toEqual({ verdict: 'sound' });
    expect(judged(deep(0.2)).verdict).not.toBe('sound');
    expect(judged(deep(3)).verdict).toBe('false');
  });
  it('whose upper side sinks through its lower one is false, however gently it does', () => {
    const n = 40;
    // A slab of 0.4 mm, its upper side pressed through the lower one by so much over most of its width: the sheets part by a few degrees.
    const pressed = (through: number, width: number): TriMesh => {
      const points: P[] = [];
      const bump = (s: number): number => Math.cos((Math.PI * Math.min(1, Math.abs(s))) / 2) ** 2;
      for (const top of [0, 1])
        for (let i = 0; i <= n; i++)
          for (let j = 0; j <= n; j++) {
            const [x, y] = [(2 * i) / n - 1, (2 * j) / n - 1];
            points.push([width * x, width * y, top * (0.4 - (0.4 + through) * bump(x) * bump(y))]);
          }
      const id = (top: number, i: number, j: number): number => top * (n + 1) ** 2 + i * (n + 1) + j;
      const triangles: [number, number, number][] = [];
      const quad = (a: number, b: number, c: number, d: number): void => {
        triangles.push([a, b, c], [a, c, d]);
      };
      for (let i = 0; i < n; i++)
        for (let j = 0; j < n; j++) {
          quad(id(1, i, j), id(1, i + 1, j), id(1, i + 1, j + 1), id(1, i, j + 1));
          quad(id(0, i, j), id(0, i, j + 1), id(0, i + 1, j + 1), id(0, i + 1, j));
        }
      for (let i = 0; i < n; i++) {
        quad(id(0, i, 0), id(0, i + 1, 0), id(1, i + 1, 0), id(1, i, 0));
        quad(id(0, i + 1, n), id(0, i, n), id(1, i, n), id(1, i + 1, n));
        quad(id(0, 0, i + 1), id(0, 0, i), id(1, 0, i), id(1, 0, i + 1));
        quad(id(0, n, i), id(0, n, i + 1), id(1, n, i + 1), id(1, n, i));
      }
      return meshOf(points, triangles);
    };
    for (const width of [10, 40, 150]) {
      expect([width, judged(pressed(-0.2, width), 0.05).verdict]).toEqual([width, 'sound']);
      // Thin lenses are never called sound; those that are clear of their facets are proven.
      expect([width, judged(pressed(0.15, width), 0.05).verdict]).not.toEqual([width, 'sound']);
      expect([width, judged(pressed(1, width), 0.05).verdict]).toEqual([width, 'false']);
    }
  });
  it('whose facets cross by less than they may be off proves nothing', () => {
    // Two balls that overlap by a hundredth, of facets that lie half a millimetre off.
    const r = judged(joined(ball(20), ball(20, [39.9, 0.05, 0.02])), 0.5);
    expect(r.verdict).not.toBe('false');
  });
});

describe('winding numbers', () => {
  it('by rays are those by solid angles', () => {
    const bvh = buildBvh(joined(ball(20), ball(14, [18, 0, 0]), ball(6, [-4, 0, 0], false)));
    let told = 0;
    for (let i = 0; i < 400; i++) {
      const at: P = [((i * 37) % 101) - 45, ((i * 53) % 61) - 30, ((i * 29) % 47) - 23];
      const w = windingAt(bvh, ...at);
      const exact = solidAngleWinding(bvh, ...at);
      if (Number.isNaN(w) || Math.abs(exact - Math.round(exact)) > 1e-6) continue;
      told++;
      expect(w + 0).toBe(Math.round(exact) + 0);
    }
    expect(told).toBeGreaterThan(380);
  });
});

describe('crossings', () => {
  it('of a plain skin are none, of two that cut each other all are named', () => {
    expect(selfCrossings(buildBvh(ball(20)), 1e-4)).toEqual([]);
    const m = joined(ball(20), ball(20, [25, 0.3, 0.2]));
    const found = selfCrossings(buildBvh(m), 1e-4);
    // All pairs, one by one: a slow way that knows no tree.
    const half = m.faceOf.length / 2;
    expect(found.every((c) => c.a < half !== c.b < half)).toBe(true);
    expect(found.length).toBeGreaterThan(40);
    for (const c of found) {
      expect(Math.hypot(...c.at)).toBeLessThan(20.01);
      expect(Math.hypot(c.at[0] - 25, c.at[1] - 0.3, c.at[2] - 0.2)).toBeLessThan(20.01);
    }
  });
});

describe('a skin with borders', () => {
  const sheet = (height: (x: number, y: number) => P): TriMesh => {
    const n = 24;
    const points = Array.from({ length: (n + 1) ** 2 }, (_, i): P => height((i % (n + 1)) / n, Math.floor(i / (n + 1)) / n));
    const tri: [number, number, number][] = [];
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++) {
        const a = j * (n + 1) + i;
        tri.push([a, a + 1, a + n + 2], [a, a + n + 2, a + n + 1]);
      }
    return meshOf(points, tri);
  };
  const fault = (m: TriMesh) => faultInSkin(buildBvh(m), 0.02, 60)?.what;
  it('that is bent is sound', () => {
    expect(fault(sheet((x, y) => [40 * x, 40 * y, 8 * Math.sin(5 * x) * Math.cos(4 * y)]))).toBeUndefined();
    expect(fault(sheet((x, y) => [20 * Math.cos(5 * x), 20 * Math.sin(5 * x), 30 * y]))).toBeUndefined();
  });
  it('that passes through itself is told', () => {
    // A strip that loops over itself.
    expect(fault(sheet((x, y) => [30 * x + 14 * Math.sin(7 * x), 20 * y, 14 * Math.cos(7 * x)]))).toBe('crosses');
  });
  it('that folds back on itself is told', () => {
    expect(fault(sheet((x, y) => [30 * Math.abs(x - 0.5), 30 * y, 0.02 * x]))).toBe('folds');
  });
});
