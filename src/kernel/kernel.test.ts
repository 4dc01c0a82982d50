import { beforeAll, describe, expect, it } from 'vitest';
import { box, cylinder, edgesOf, post, testKernel, topFace, turned } from '../../tests/support/kernel';
import { written } from '../../tests/support/profile';
import { cornerAt } from './edges';
import { largestWorking, roundDown } from './largest';
import { attempt, type Kernel } from './open';
import { selectEdges, selectFaces } from './select';
import { distanceBetween, facesOf, surfaceReader, vertexAt } from './shapes';
import { hollow } from './steps/shell';
import { narrowest, wallLimits } from './swallow';
import { edgeLines, isClosedMesh, tessellate, weldedMesh } from './tessellate';
import { verifySolid } from './verify';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await testKernel();
});

describe('verification', () => {
  const wide = [0, Infinity] as const;
  it('takes a sound solid and hands out its mesh', () => {
    const r = verifySolid(kernel, cylinder(kernel, 20, 60).shape, { volume: wide, deflection: 0.1 });
    expect(r.ok && isClosedMesh(r.value.skin)).toBe(true);
  });
  it('refuses a shell that is no solid, a wrong volume, a body out of bounds', () => {
    const body = cylinder(kernel, 20, 60);
    const check = (shape: typeof body.shape, e: Partial<Parameters<typeof verifySolid>[2]>): string => {
      const r = verifySolid(kernel, shape, { volume: wide, deflection: 0.1, ...e });
      return r.ok ? 'accepted' : r.error.check;
    };
    expect(check(facesOf(kernel, body.shape)[0]!, {})).toBe('solids');
    expect(check(body.shape, { volume: [0, 75_000] })).toBe('volume');
    expect(check(body.shape, { inside: { min: [-20, -20, 0], max: [20, 20, 50] } })).toBe('bounds');
    expect(check(body.shape.Reversed(), {})).toBe('volume');
  });
  it('refuses what the kernel gives back for a wall of 21 in a cylinder of radius 20', () => {
    const body = cylinder(kernel, 20, 60);
    const r = hollow(kernel, body, [topFace(kernel, body)], 21, 's2');
    expect(r.ok).toBe(false);
  });
});

describe('kernel exceptions', () => {
  it('become errors in words', () => {
    const p = new kernel.gp_Pnt(0, 0, 0);
    const r = attempt(kernel, () => new kernel.BRepBuilderAPI_MakeEdge(p, p).Edge());
    expect(r.ok ? '' : r.error).toContain('StdFail_NotDone');
  });
  it('leave other errors alone', () =>
    expect(() =>
      attempt(kernel, () => {
        throw new TypeError('ours');
      }),
    ).toThrow('ours'));
});

describe('surfaces', () => {
  // κ = 1/R on cylinder and sphere; differential geometry textbooks.
  it('have the curvature of a cylinder, outward normals, and reach the point asked for', () => {
    const body = cylinder(kernel, 20, 60);
    const side = facesOf(kernel, body.shape)[body.faces.indexOf('s1/c1')]!;
    const reader = surfaceReader(kernel, side);
    const s = reader.at((reader.range.u[0] + reader.range.u[1]) / 3, (reader.range.v[0] + reader.range.v[1]) / 2)!;
    expect(s.curvatures[0]).toBeCloseTo(0.05, 9);
    expect(s.curvatures[1]).toBeCloseTo(0, 9);
    expect(s.normal[0] * s.point[0] + s.normal[1] * s.point[1]).toBeCloseTo(20, 6);
    reader.dispose();
  });
  it('are as far from a point as geometry says', () => {
    expect(distanceBetween(kernel, vertexAt(kernel, [50, 0, 30]), cylinder(kernel, 20, 60).shape)!.distance).toBeCloseTo(30, 9);
  });
});

describe('corners', () => {
  it('are convex on a box and concave at the foot of a post', () => {
    const b = box(kernel, 60, 40, 30);
    const faces = facesOf(kernel, b.shape);
    for (const e of edgesOf(kernel, b)) {
      const c = cornerAt(kernel, e.edge, faces[e.faces[0]!]!, faces[e.faces[1]!]!)!;
      expect(c.kind).toBe('convex');
      expect(c.turn).toBeCloseTo(Math.PI / 2, 9);
    }
    const stepped = post(kernel);
    const kinds = edgesOf(kernel, stepped).map(
      (e) => cornerAt(kernel, e.edge, facesOf(kernel, stepped.shape)[e.faces[0]!]!, facesOf(kernel, stepped.shape)[e.faces[1]!]!)!.kind,
    );
    expect(kinds.filter((k) => k === 'concave')).toHaveLength(1);
    expect(kinds.filter((k) => k === 'convex')).toHaveLength(3);
  });
});

describe('selection', () => {
  it('finds faces by name and by rule', () => {
    const body = cylinder(kernel, 20, 60);
    const found = (ref: Parameters<typeof selectFaces>[2][number]): string => {
      const r = selectFaces(kernel, body, [ref]);
      return r.ok ? r.value.map((f) => body.faces[f.index]).join() : `lost, candidates ${r.error.candidates.join(' ')}`;
    };
    expect(found({ face: 's1/c2' })).toBe('s1/c2');
    expect(found({ topOf: 's1' })).toBe('s1/c2');
    expect(found({ bottomOf: 's1' })).toBe('s1/c0');
    expect(found({ face: 's1/c9' })).toMatch(/^lost, candidates s1\/c/);
    expect(found({ topOf: 's7' })).toContain('lost');
  });
  it('finds edges by the faces they separate, in either order', () => {
    const body = cylinder(kernel, 20, 60);
    for (const edge of ['s1/c1|s1/c2', 's1/c2|s1/c1']) expect(selectEdges(kernel, body, [{ edge }]).ok).toBe(true);
    expect(selectEdges(kernel, body, [{ edge: 's1/c0|s1/c2' }]).ok).toBe(false);
  });
});

describe('what a wall will swallow', () => {
  it('is the tightest convex radius and the narrowest place, with their values', async () => {
    // A disc R 30, 8 thick, its rim a half round of radius 4.
    const body = turned(
      kernel,
      written({
        id: 'd',
        name: 'Disc',
        points: [
          ['0', '0'],
          ['26', '0'],
          ['30', '4'],
          ['26', '8'],
          ['0', '8'],
        ].map(([x, y], i) => ({ id: `p${i}`, x: x!, y: y! })),
        curves: [
          { kind: 'line', id: 'low', from: 'p0', to: 'p1' },
          { kind: 'arc', id: 'rim', from: 'p1', to: 'p3', through: 'p2' },
          { kind: 'line', id: 'top', from: 'p3', to: 'p4' },
        ],
      }),
    );
    const l = (await wallLimits(kernel, body, new Set()))!;
    expect(l.tight[0]!.radius).toBeCloseTo(4, 6);
    expect(body.faces[l.tight[0]!.face]).toBe('s1/rim');
    expect(l.narrow!.width).toBeCloseTo(8, 1);
  });
  it('outwards is the tightest hollow radius and the narrowest gap', async () => {
    // A spool R 20, 30 high, with a half-round groove of radius 3 about its middle.
    const body = turned(
      kernel,
      written({
        id: 'd',
        name: 'Spool',
        points: [
          ['0', '0'],
          ['20', '0'],
          ['20', '12'],
          ['17', '15'],
          ['20', '18'],
          ['20', '30'],
          ['0', '30'],
        ].map(([x, y], i) => ({ id: `p${i}`, x: x!, y: y! })),
        curves: [
          { kind: 'line', id: 'low', from: 'p0', to: 'p1' },
          { kind: 'line', id: 'under', from: 'p1', to: 'p2' },
          { kind: 'arc', id: 'groove', from: 'p2', to: 'p4', through: 'p3' },
          { kind: 'line', id: 'over', from: 'p4', to: 'p5' },
          { kind: 'line', id: 'top', from: 'p5', to: 'p6' },
        ],
      }),
    );
    const l = (await wallLimits(kernel, body, new Set(), undefined, 'outward'))!;
    expect(l.tight[0]!.radius).toBeCloseTo(3, 6);
    expect(body.faces[l.tight[0]!.face]).toBe('s1/groove');
    expect(l.narrow!.width).toBeCloseTo(6, 1);
    // Inwards only its way round the body counts, 17 at the groove’s ground.
    expect((await wallLimits(kernel, body, new Set()))!.tight[0]!.radius).toBeGreaterThan(16.9);
  });
});

describe('the narrowest place', () => {
  it('of a block lies between its nearest sides, those that stay closed', () => {
    const body = box(kernel, 40, 6, 30);
    expect(narrowest(kernel, body, new Set())!.width).toBeCloseTo(6, 6);
    // Of the two that are 6 apart one is open, then both that are 30 apart.
    const side = (axis: 0 | 1 | 2): number[] => {
      const mesh = weldedMesh(body.mesh ?? tessellate(kernel, body.shape, 0.05));
      const faces = new Set(mesh.faceOf);
      return [...faces].filter((f) => {
        const t = mesh.faceOf.indexOf(f);
        const [a, b, c] = [0, 1, 2].map((k) => mesh.positions[3 * mesh.indices[3 * t + k]! + axis]!);
        return Math.abs(a! - b!) < 1e-9 && Math.abs(a! - c!) < 1e-9;
      });
    };
    expect(narrowest(kernel, body, new Set([side(1)[0]!]))!.width).toBeCloseTo(30, 6);
    expect(narrowest(kernel, body, new Set([...side(1), ...side(2)]))!.width).toBeCloseTo(40, 6);
    expect(narrowest(kernel, body, new Set(body.faces.map((_, i) => i)))).toBeUndefined();
  });
  it('of a round bar is no less than it is thick, and no more by what facets are off', () => {
    const { width } = narrowest(kernel, cylinder(kernel, 5, 60), new Set())!;
    expect(width).toBeLessThan(10 + 1e-6);
    expect(width).toBeGreaterThan(9.8);
  });
});

describe('meshes of a body', () => {
  it('carry face and edge indices, and normals that point outward', () => {
    const body = cylinder(kernel, 20, 60);
    const m = tessellate(kernel, body.shape, 0.1);
    expect(new Set(m.faceOf).size).toBe(3);
    for (let v = 0; v < m.positions.length; v += 3 * 37) {
      const [x, y, z] = [m.positions[v]!, m.positions[v + 1]!, m.positions[v + 2]! - 30];
      expect(x * m.normals[v]! + y * m.normals[v + 1]! + z * m.normals[v + 2]!).toBeGreaterThan(0);
    }
    expect(isClosedMesh(weldedMesh(m))).toBe(true);
    expect(new Set(edgeLines(kernel, body.shape, 0.1).edgeOf).size).toBe(3);
  });
});

describe('the search for the largest working value', () => {
  it('closes in on the limit from below', () => {
    const v = largestWorking((x) => x < 7.4, 20, 1, { trials: 12 })!;
    expect(v).toBeLessThan(7.4);
    expect(v).toBeGreaterThan(7.3);
  });
  it('says when nothing works', () => expect(largestWorking(() => false, 20, 1)).toBeUndefined());
  it('offers three figures, rounded down', () => {
    expect(roundDown(7.4269)).toBe(7.42);
    expect(roundDown(0.012345)).toBe(0.0123);
    expect(roundDown(123.9)).toBe(123);
  });
});
