/** Zones laid flat: closed forms of developable skins (differential geometry textbooks; unrolling of cones is published mathematics). */
import { describe, expect, it } from 'vitest';
import { type BentSkin, labelZones } from './label';
import { rectangleIn } from './rectangle';
import { unroll } from './unroll';

/** A sheet of surface over a grid of parameters, with its normals and Gaussian curvature. */
function sheet(
  place: (u: number, v: number) => readonly [number, number, number],
  normal: (u: number, v: number) => readonly [number, number, number],
  gaussian: (u: number, v: number) => number,
  u: readonly [number, number, number],
  v: readonly [number, number, number],
): BentSkin {
  const [positions, normals, curvature, indices]: [number[], number[], number[], number[]] = [[], [], [], []];
  for (let i = 0; i <= u[2]; i++)
    for (let j = 0; j <= v[2]; j++) {
      const [a, b] = [u[0] + ((u[1] - u[0]) * i) / u[2], v[0] + ((v[1] - v[0]) * j) / v[2]];
      positions.push(...place(a, b));
      normals.push(...normal(a, b));
      curvature.push(gaussian(a, b));
    }
  const at = (i: number, j: number): number => i * (v[2] + 1) + j;
  for (let i = 0; i < u[2]; i++)
    for (let j = 0; j < v[2]; j++) indices.push(at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j), at(i + 1, j + 1), at(i, j + 1));
  return { positions, normals, gaussian: curvature, indices: Uint32Array.from(indices), faceOf: new Uint32Array(indices.length / 3) };
}

const TURN = 2 * Math.PI;
/** A cone of half angle α between two distances from its tip, and so far round. */
const cone = (alpha: number, from: number, to: number, turn: number, start = 0, n = 120): BentSkin =>
  sheet(
    (a, s) => [s * Math.sin(alpha) * Math.cos(a), s * Math.sin(alpha) * Math.sin(a), s * Math.cos(alpha)],
    (a) => [Math.cos(alpha) * Math.cos(a), Math.cos(alpha) * Math.sin(a), -Math.sin(alpha)],
    () => 0,
    [start, start + turn, n],
    [from, to, 12],
  );
const zones = async (skin: BentSkin, limit = 1e-6, least = 5) => (await labelZones(skin, limit, least))!;

describe('a zone for a label', () => {
  it('on a cylinder is its height by its circumference, cut at the back', async () => {
    const skin = sheet(
      (a, z) => [20 * Math.cos(a), 20 * Math.sin(a), z],
      (a) => [Math.cos(a), Math.sin(a), 0],
      () => 0,
      [0.03, 0.03 + TURN, 240],
      [0, 50, 10],
    );
    const [z] = (await zones(skin)).zones;
    expect(z!.around).toBe(true);
    // 240 chords stand for the circle.
    expect(z!.width).toBeCloseTo(240 * 2 * 20 * Math.sin(Math.PI / 240), 2);
    expect(z!.height).toBeCloseTo(50, 4);
    expect(z!.strain).toBeLessThan(1e-6);
    expect(z!.label.width / z!.width).toBeGreaterThan(0.99);
    expect(z!.saddle).toBe(false);
    expect(z!.at[1]).toBeLessThan(-19);
  });
  it('on part of a cone is a sector of its own distances from the tip', async () => {
    const [alpha, from, to, turn] = [0.4, 40, 90, 2.2];
    // Its middle looks to the front.
    const [z] = (await zones(cone(alpha, from, to, turn, -Math.PI / 2 - turn / 2))).zones;
    const sector = turn * Math.sin(alpha);
    expect(z!.around).toBe(false);
    expect(z!.width).toBeCloseTo(2 * to * Math.sin(sector / 2), 1);
    // Upright: from the outer arc's top down to the inner arc's ends.
    expect(z!.height).toBeCloseTo(to - from * Math.cos(sector / 2), 1);
    expect(z!.area).toBeCloseTo((sector * (to ** 2 - from ** 2)) / 2, 0);
    expect(z!.strain).toBeLessThan(1e-5);
    // The largest label stays within the sector.
    expect(z!.label.height).toBeLessThanOrEqual(to - from + 0.5);
    expect(z!.label.width * z!.label.height).toBeLessThan(z!.area);
    expect(z!.label.width * z!.label.height).toBeGreaterThan(0.6 * z!.area);
  });
  it('all round a cone is cut open and keeps its lengths', async () => {
    const [z] = (await zones(cone(0.3, 60, 100, TURN, 0.01))).zones;
    expect(z!.around).toBe(true);
    expect(z!.strain).toBeLessThan(1e-5);
    const sector = TURN * Math.sin(0.3);
    expect(z!.width).toBeCloseTo(2 * 100 * Math.sin(sector / 2), 0);
  });
  it('keeps its lengths also where slivers lie along its border: what is thinner than its own rest tells nothing', async () => {
    const alpha = 0.3;
    const row = (k: number): number => (k < 11.5 ? 60 + (40 * k) / 11 : 100 + 3e-4);
    const skin = sheet(
      (a, k) => [
        row(k) * Math.sin(alpha) * Math.cos(a + 0.004 * Math.sin(7 * k)),
        row(k) * Math.sin(alpha) * Math.sin(a + 0.004 * Math.sin(7 * k)),
        row(k) * Math.cos(alpha),
      ],
      (a) => [Math.cos(alpha) * Math.cos(a), Math.cos(alpha) * Math.sin(a), -Math.sin(alpha)],
      () => 0,
      [0.01, 0.01 + TURN, 48],
      [0, 12, 12],
    );
    const [z] = (await zones(skin)).zones;
    expect(z!.around).toBe(true);
    expect(z!.strain).toBeLessThan(2e-3);
  });
  it('is not on a ball, and a saddle is told for a sleeve to bridge', async () => {
    const ball = sheet(
      (a, b) => [30 * Math.cos(b) * Math.cos(a), 30 * Math.cos(b) * Math.sin(a), 30 * Math.sin(b)],
      (a, b) => [Math.cos(b) * Math.cos(a), Math.cos(b) * Math.sin(a), Math.sin(b)],
      () => 1 / 900,
      [0, 2, 30],
      [-0.5, 0.5, 20],
    );
    expect((await zones(ball)).zones).toEqual([]);
    const waist = { ...ball, gaussian: Array.from({ length: ball.positions.length / 3 }, () => -1e-3) };
    const told = await zones(waist);
    expect(told.zones).toEqual([]);
    expect(told.saddles[0]!.gaussian).toBeCloseTo(-1e-3, 9);
    expect(told.saddles[0]!.area).toBeGreaterThan(100);
  });
  it('of slight double bend tells the strain its border takes: K a² / 8 for a round one', async () => {
    // A cap of a ball R 200, 40 mm from middle to border along the skin.
    const [R, reach] = [200, 40];
    const cap = sheet(
      (a, s) => [R * Math.sin(s / R) * Math.cos(a), R * Math.sin(s / R) * Math.sin(a), R * Math.cos(s / R)],
      (a, s) => [Math.sin(s / R) * Math.cos(a), Math.sin(s / R) * Math.sin(a), Math.cos(s / R)],
      () => 1 / R ** 2,
      [0, TURN, 96],
      [0, reach, 16],
    );
    const [z] = (await zones(cap, 3e-5)).zones;
    // A flat disc pressed onto a ball: the hoop at its border gives way by K a² / 8 (theory of shallow shells, no Poisson effect; from memory).
    expect(z!.strain / (reach ** 2 / R ** 2 / 8)).toBeGreaterThan(0.8);
    expect(z!.strain / (reach ** 2 / R ** 2 / 8)).toBeLessThan(1.25);
    expect(Math.abs(z!.width / z!.height - 1)).toBeLessThan(0.01);
  });
  it('ends at an edge, where the skin turns', async () => {
    // Two flat sheets that meet at a right angle: two zones.
    const flat = sheet(
      (u, v) => [u, v, 0],
      () => [0, 0, 1],
      () => 0,
      [0, 40, 4],
      [0, 30, 3],
    );
    const upright = sheet(
      (u, v) => [0, v, u],
      () => [1, 0, 0],
      () => 0,
      [0, 20, 4],
      [0, 30, 3],
    );
    const n = flat.positions.length / 3;
    const both: BentSkin = {
      positions: [...(flat.positions as number[]), ...(upright.positions as number[])],
      normals: [...(flat.normals as number[]), ...(upright.normals as number[])],
      gaussian: [...(flat.gaussian as number[]), ...(upright.gaussian as number[])],
      indices: Uint32Array.from([...flat.indices, ...[...upright.indices].map((i) => i + n)]),
      faceOf: [...new Array(flat.indices.length / 3).fill(0), ...new Array(upright.indices.length / 3).fill(1)],
    };
    const found = (await zones(both)).zones;
    expect(found.map((z) => [Math.round(z.width), Math.round(z.height)])).toEqual([
      [40, 30],
      [30, 20],
    ]);
    expect(found.map((z) => z.faces)).toEqual([[0], [1]]);
    expect(await labelZones(both, 1e-6, 5, async () => false)).toBeNull();
  });
});

describe('laying flat', () => {
  it('leaves a flat piece as it is, whichever way it lies', () => {
    const places = [0, 0, 5, 30, 0, 5, 30, 20, 5, 0, 20, 5];
    const { flat, strain } = unroll(places, Uint32Array.from([0, 1, 2, 0, 2, 3]));
    expect(Math.max(...strain)).toBeLessThan(1e-9);
    const d = (a: number, b: number): number => Math.hypot(flat[2 * a]! - flat[2 * b]!, flat[2 * a + 1]! - flat[2 * b + 1]!);
    expect([d(0, 1), d(1, 2), d(0, 2)]).toEqual([expect.closeTo(30, 6), expect.closeTo(20, 6), expect.closeTo(Math.hypot(30, 20), 6)]);
  });
});

describe('the largest upright rectangle', () => {
  it('in a right triangle is half of its sides', () => {
    const r = rectangleIn(
      [
        [0, 0],
        [60, 0],
        [0, 40],
      ],
      Uint32Array.from([0, 1, 2]),
      [0, 60],
      [0, 40],
    );
    expect(r.width * r.height).toBeGreaterThan(0.95 * 600);
    expect(r.width * r.height).toBeLessThanOrEqual(1.03 * 600);
  });
  it('in a rectangle is itself, and in nothing is none', () => {
    const r = rectangleIn(
      [
        [0, 0],
        [60, 0],
        [60, 20],
        [0, 20],
      ],
      Uint32Array.from([0, 1, 2, 0, 2, 3]),
      [0, 60],
      [0, 20],
    );
    expect([r.width, r.height]).toEqual([expect.closeTo(60, 6), expect.closeTo(20, 6)]);
    expect(rectangleIn([], new Uint32Array(0), [0, 1], [0, 1])).toEqual({ width: 0, height: 0 });
  });
});
