/** Scans for demos and tests, made up: a part of known shape, with the noise, holes and strays a scanner leaves. The same seed gives the same scan. */
import { along, cross, minus, unit, type Vec3 } from '../src/core/geometry/vectors';
import type { TriMesh } from '../src/core/mesh/mesh';

/** Numbers between 0 and 1 from a seed. Source: T. Ettinger, mulberry32 (public domain), from memory. */
export function seeded(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Spread normally about 0 with deviation 1. Source: G. E. P. Box, M. E. Muller (1958). */
export const normally = (random: () => number): number => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());

/** The head rest of the bath: its surface over the ground, its outline, and the seven holes for its cords, mm. */
export const HEAD_REST = {
  half: [120, 75] as const,
  holes: [
    [0, 52],
    [45, 44],
    [-45, 44],
    [85, 22],
    [-85, 22],
    [60, -40],
    [-60, -40],
  ] as readonly (readonly [number, number])[],
  radius: 4,
  /** The same to the left and to the right, but not to the front and the back. */
  height: (x: number, y: number): number =>
    26 * (x / 120) ** 2 + 14 * ((y + 12) / 75) ** 2 - 5 * Math.exp(-((x / 45) ** 2) - ((y - 20) / 28) ** 2),
} as const;

interface Defects {
  readonly noise: number;
  /** Distance between places, mm. */
  readonly step: number;
  /** How many holes the scanner left. */
  readonly gaps: number;
  readonly strays: number;
  /** Share of the facets missing at one side. */
  readonly missing?: number;
}

/** Where the part lay under the scanner: turned by angles about z, y and x (rad), and moved. */
const LAY = { turns: [0.5, 0.35, -0.28] as const, moved: [37, -12, 260] as const };

export function laid([x, y, z]: Vec3, { turns: [a, b, c], moved } = LAY): [number, number, number] {
  const [x1, y1] = [x * Math.cos(a) - y * Math.sin(a), x * Math.sin(a) + y * Math.cos(a)];
  const [x2, z1] = [x1 * Math.cos(b) + z * Math.sin(b), z * Math.cos(b) - x1 * Math.sin(b)];
  const [y2, z2] = [y1 * Math.cos(c) - z1 * Math.sin(c), y1 * Math.sin(c) + z1 * Math.cos(c)];
  return [x2 + moved[0], y2 + moved[1], z2 + moved[2]];
}

/** A scan of the head rest as it lay: rough, with gaps, strays and its own seven holes. */
export function headRestScan(seed: number, { noise, step, gaps, strays, missing = 0 }: Defects): TriMesh {
  const random = seeded(seed);
  const { half, holes, radius, height } = HEAD_REST;
  /** Inside where positive, about in mm. */
  const outline = (x: number, y: number): number => {
    const r = (Math.abs(x) / half[0]) ** 2.5 + (Math.abs(y) / half[1]) ** 2.5;
    return (1 - r ** (1 / 2.5)) * half[1];
  };
  const [nx, ny] = half.map((h) => Math.ceil((h + step) / step));
  const at = new Map<string, number>();
  const flat: [number, number][] = [];
  const gapsAt = Array.from({ length: gaps }, () => {
    const [a, r] = [2 * Math.PI * random(), Math.sqrt(random())];
    return [0.8 * r * half[0] * Math.cos(a), 0.7 * r * half[1] * Math.sin(a), 3 + 4 * random(), 1 + 1.2 * random()] as const;
  }).filter(([x, y, r]) => holes.every(([hx, hy]) => Math.hypot(x - hx, y - hy) > 2 * r + radius + 6));
  for (let j = -ny!; j <= ny!; j++)
    for (let i = -nx!; i <= nx!; i++) {
      let [x, y] = [(i + (j % 2) / 2 + 0.2 * (random() - 0.5)) * step, (j + 0.2 * (random() - 0.5)) * step];
      // Places near a border stand on it.
      for (const [hx, hy] of holes) {
        const d = Math.hypot(x - hx, y - hy);
        if (d > 0.45 * radius && d < radius + 0.5 * step) [x, y] = [hx + ((x - hx) * radius) / d, hy + ((y - hy) * radius) / d];
      }
      for (let k = 0; k < 4; k++) {
        const g = outline(x, y);
        if (Math.abs(g) > 0.6 * step) break;
        const e = 1e-3;
        const [gx, gy] = [(outline(x + e, y) - g) / e, (outline(x, y + e) - g) / e];
        const l = gx * gx + gy * gy;
        if (l > 1e-9) [x, y] = [x - (g * gx) / l, y - (g * gy) / l];
      }
      at.set(`${i} ${j}`, flat.push([x, y]) - 1);
    }
  const facets: number[] = [];
  const put = (a: number, b: number, c: number): void => {
    const x = (flat[a]![0] + flat[b]![0] + flat[c]![0]) / 3;
    const y = (flat[a]![1] + flat[b]![1] + flat[c]![1]) / 3;
    if (outline(x, y) < 0 || holes.some(([hx, hy]) => Math.hypot(x - hx, y - hy) < radius)) return;
    if (gapsAt.some(([gx, gy, r, long]) => Math.hypot((x - gx) / long, y - gy) < r)) return;
    if (missing > 0 && x > half[0] * (1 - 2 * missing) && y < 0) return;
    facets.push(a, b, c);
  };
  for (let j = -ny!; j < ny!; j++)
    for (let i = -nx!; i < nx!; i++) {
      const [a, b, c, d] = [at.get(`${i} ${j}`)!, at.get(`${i + 1} ${j}`)!, at.get(`${i + 1} ${j + 1}`)!, at.get(`${i} ${j + 1}`)!];
      // Rows are shifted by half a step in turn.
      if (j % 2 === 0) {
        put(a, b, d);
        put(b, c, d);
      } else {
        put(a, b, c);
        put(a, c, d);
      }
    }
  return scanned(
    facets,
    (v) => {
      const [x, y] = flat[v]!;
      const e = 1e-3;
      const [sx, sy] = [(height(x + e, y) - height(x, y)) / e, (height(x, y + e) - height(x, y)) / e];
      const l = Math.hypot(1, sx, sy);
      return [
        [x, y, height(x, y)],
        [-sx / l, -sy / l, 1 / l],
      ];
    },
    noise,
    Array.from({ length: strays }, () => () => [(random() - 0.5) * 260, (random() - 0.5) * 170, 18 + 25 * random()] as const),
    random,
  );
}

/** Facets with noise along their normals, as they lay, and what the scanner saw beside the part. */
function scanned(
  facets: readonly number[],
  on: (vertex: number) => readonly [place: Vec3, normal: Vec3],
  noise: number,
  strays: readonly (() => Vec3)[],
  random: () => number,
): TriMesh {
  const positions: number[] = [];
  const known = new Map<number, number>();
  const indices = facets.map((v) => {
    let n = known.get(v);
    if (n === undefined) {
      n = positions.length / 3;
      known.set(v, n);
      const [place, normal] = on(v);
      positions.push(...laid(along(place, normal, noise * normally(random))));
    }
    return n;
  });
  for (const stray of strays) {
    const [cx, cy, cz] = laid(stray());
    const first = positions.length / 3;
    for (let k = 0; k < 6; k++) positions.push(cx + 3 * normally(random), cy + 3 * normally(random), cz + normally(random));
    for (let k = 1; k < 5; k++) indices.push(first, first + k, first + k + 1);
  }
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices), faceOf: new Uint32Array(indices.length / 3) };
}

/** The tap in the wash room: a pipe that grows thinner, then bends down; its section is a little flatter than round. Only from above and the sides, mm. */
export const TAP = {
  straight: 80,
  bend: 34,
  /** How far round it bends, and how far round it the scanner saw either side of its top, rad. */
  bent: (65 * Math.PI) / 180,
  seen: (140 * Math.PI) / 180,
  /** Half its width there, and how much less high it is. */
  radius: (s: number): number => 15 - 2.5 * Math.min(1, s / 80),
  flat: 0.93,
  /** A place of its skin. @param s along its middle line, mm; @param f round it from its top, rad */
  place: (s: number, f: number): [number, number, number] => {
    const { straight, bend, radius, flat } = TAP;
    const turn = Math.max(0, s - straight) / bend;
    const r = radius(s);
    const up = r * flat * Math.cos(f);
    return [Math.min(s, straight) + (bend + up) * Math.sin(turn), r * Math.sin(f), (bend + up) * Math.cos(turn) - bend];
  },
} as const;

/** A scan of the tap as it lay. */
export function tapScan(seed: number, { noise, step, gaps, strays }: Omit<Defects, 'missing'>): TriMesh {
  const random = seeded(seed);
  const { straight, bend, bent, seen, place } = TAP;
  const long = straight + bend * bent;
  const [ns, nf] = [Math.ceil(long / step), Math.ceil((2 * seen * 14) / step)];
  const flat: [number, number][] = [];
  for (let j = 0; j <= nf; j++)
    for (let i = 0; i <= ns; i++) {
      const inner = i > 0 && i < ns && j > 0 && j < nf;
      const [a, b] = inner ? [0.2 * (random() - 0.5), 0.2 * (random() - 0.5)] : [0, 0];
      flat.push([((i + a) * long) / ns, ((j + b) / nf - 0.5) * 2 * seen]);
    }
  const gapsAt = Array.from(
    { length: gaps },
    () => [long * (0.1 + 0.8 * random()), 1.3 * seen * (random() - 0.5), 2 + 2 * random()] as const,
  );
  const facets: number[] = [];
  const put = (...v: readonly [number, number, number]): void => {
    const [s, f] = [0, 1].map((k) => v.reduce((sum, w) => sum + flat[w]![k]! / 3, 0)) as [number, number];
    if (!gapsAt.some(([gs, gf, r]) => Math.hypot(s - gs, 14 * (f - gf)) < r)) facets.push(...v);
  };
  for (let j = 0; j < nf; j++)
    for (let i = 0; i < ns; i++) {
      const a = j * (ns + 1) + i;
      const [b, c, d] = [a + 1, a + ns + 2, a + ns + 1];
      // Seen from outside to the left: along, then round.
      if ((i + j) % 2 === 0) {
        put(a, b, c);
        put(a, c, d);
      } else {
        put(a, b, d);
        put(b, c, d);
      }
    }
  return scanned(
    facets,
    (v) => {
      const [s, f] = flat[v]!;
      const e = 1e-4;
      const normal = unit(cross(minus(place(s, f + e), place(s, f - e)), minus(place(s + e, f), place(s - e, f))))!;
      return [place(s, f), normal];
    },
    noise,
    Array.from({ length: strays }, () => () => [long * random(), 60 * (random() - 0.5), 24 + 10 * random()] as const),
    random,
  );
}
