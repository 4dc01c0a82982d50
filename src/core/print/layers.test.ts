import { BoxGeometry, type BufferGeometry, ConeGeometry, CylinderGeometry, SphereGeometry } from 'three';
import { describe, expect, it } from 'vitest';
import { meshOf } from '../../../tests/support/shapes';
import type { TriMesh } from '../mesh/mesh';
import { closedRooms, layerAt, layerCount, layerSeconds, layersOf } from './layers';
import { laid } from './lie';
import { DESKTOP, PER_LAYER } from './printer';

const box = (x: number, y: number, z: number): BufferGeometry => new BoxGeometry(x, y, z);
const upright = (g: BufferGeometry): BufferGeometry => g.rotateX(Math.PI / 2);
const all = async (mesh: TriMesh, layer: number) => (await layersOf(mesh, layer))!;

describe('layers', () => {
  it('of a block are its section, as many as its height holds', async () => {
    const mesh = meshOf({ shape: box(20, 10, 7), at: [0, 0, 3.5] });
    const { areas, islands, box: round } = await all(mesh, 0.2);
    expect(areas).toHaveLength(35);
    for (const a of areas) expect(a).toBeCloseTo(200, 9);
    expect(islands).toEqual([]);
    expect(round.map((v) => Number(v.toFixed(6)))).toEqual([-10, 10, -5, 5]);
    expect(layerAt(mesh, 0.2, 3)).toHaveLength(1);
    // What is left over above half a layer is one more.
    expect([7.05, 7.15].map((z) => layerCount(meshOf({ shape: box(1, 1, z), at: [0, 0, z / 2] }), 0.2))).toEqual([35, 36]);
  });

  it('of a cone fall with the square of the height, and add up to its volume (πr²h/3)', async () => {
    const [r, h, n] = [15, 30, 96];
    const mesh = meshOf({ shape: upright(new ConeGeometry(r, h, n)), at: [0, 0, h / 2] });
    const { areas } = await all(mesh, 0.1);
    // Of a regular polygon of n sides: n/2 sin(2π/n) for π.
    const base = (n / 2) * Math.sin((2 * Math.PI) / n) * r * r;
    areas.forEach((a, k) => {
      expect(a / base).toBeCloseTo((1 - (0.1 * (k + 0.5)) / h) ** 2, 6);
    });
    expect(areas.reduce((s, a) => s + 0.1 * a, 0) / ((base * h) / 3)).toBeCloseTo(1, 4);
  });

  it('tell what begins in the air: the far side of an arch does not, a piece that hangs down does, with its layer and area', async () => {
    const table = [
      { shape: box(4, 4, 20), at: [-18, 0, 10] },
      { shape: box(4, 4, 20), at: [18, 0, 10] },
      { shape: box(40, 4, 4), at: [0, 0, 22] },
    ] as const;
    const arch = meshOf(...table.map((b) => ({ ...b, at: [...b.at] as [number, number, number] })));
    expect((await all(arch, 0.25)).islands).toEqual([]);
    const hung = meshOf(...table.map((b) => ({ ...b, at: [...b.at] as [number, number, number] })), {
      shape: box(4, 2, 8),
      at: [0, 0, 16],
    });
    const { islands } = await all(hung, 0.25);
    expect(islands).toHaveLength(1);
    // It begins at 12 mm: the layer whose middle is the first over it.
    expect(islands[0]!.layer).toBe(48);
    expect(islands[0]!.area).toBeCloseTo(8, 9);
    expect(Math.abs(islands[0]!.at[0])).toBeCloseTo(2, 6);
    // Upside down it stands on the table, and what hung stands up.
    expect((await all(laid(hung, { down: [0, 0, 1], turn: 0 }), 0.25)).islands).toEqual([]);
  });

  it('count a piece as held where only sides cross: no corner of one lies in the other', async () => {
    const cross = meshOf({ shape: box(30, 2, 4), at: [0, 0, 2] }, { shape: box(2, 30, 4), at: [0, 0, 6.05] });
    expect((await all(cross, 0.2)).islands).toEqual([]);
  });

  it('are given up between portions', async () => {
    let left = 3;
    expect(await layersOf(meshOf({ shape: box(5, 5, 50), at: [0, 0, 25] }), 0.2, async () => left-- > 0)).toBeNull();
  });

  it('take their lines at the printer’s speed and a little each', () => {
    expect(layerSeconds(DESKTOP, 270)).toBeCloseTo(270 / (0.45 * 60) + PER_LAYER, 9);
  });
});

describe('closed rooms', () => {
  it('are found with their volume (4πr³/3), the largest first; an open pot has none, and what lies loose inside is none', () => {
    const ball = (r: number) => new SphereGeometry(r, 96, 64);
    const mesh = meshOf(
      { shape: box(60, 40, 30), at: [0, 0, 15] },
      { shape: ball(6), at: [15, 0, 15], inwards: true },
      { shape: ball(10), at: [-14, 0, 15], inwards: true },
      { shape: ball(3), at: [-14, 0, 15] },
    );
    const rooms = closedRooms(mesh);
    expect(rooms).toHaveLength(2);
    expect(rooms[0]!.volume / ((4 / 3) * Math.PI * 1000)).toBeCloseTo(1, 2);
    expect(rooms[1]!.volume / ((4 / 3) * Math.PI * 216)).toBeCloseTo(1, 2);
    expect(Math.hypot(rooms[0]!.at[0] + 14, rooms[0]!.at[1], rooms[0]!.at[2] - 15)).toBeCloseTo(10, 4);
    expect(closedRooms(meshOf({ shape: upright(new CylinderGeometry(10, 10, 20, 48)), at: [0, 0, 10] }))).toEqual([]);
  });
});
