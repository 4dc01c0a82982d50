/** The largest upright rectangle within a flat region of triangles. */
export type P2 = readonly [number, number];

/** Cells along the longer side of the region's bounds. */
const CELLS = 120;

/**
 * Found on a grid of cells whose middles lie in the region, row by row (largest rectangle under a histogram); within one cell of the truth.
 * @param facets three places each; @param x, y bounds of the region, mm
 */
export function rectangleIn(
  places: readonly P2[],
  facets: Uint32Array,
  x: readonly [number, number],
  y: readonly [number, number],
): { width: number; height: number } {
  const cell = Math.max(x[1] - x[0], y[1] - y[0]) / CELLS || 1;
  const [nx, ny] = [Math.max(1, Math.round((x[1] - x[0]) / cell)), Math.max(1, Math.round((y[1] - y[0]) / cell))];
  const [sx, sy] = [(x[1] - x[0]) / nx, (y[1] - y[0]) / ny];
  const within = new Uint8Array(nx * ny);
  for (let t = 0; t < facets.length; t += 3) {
    const [a, b, c] = [places[facets[t]!]!, places[facets[t + 1]!]!, places[facets[t + 2]!]!];
    const area = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
    if (area === 0) continue;
    const column = (v: number): number => Math.floor((v - x[0]) / sx);
    const row = (v: number): number => Math.floor((v - y[0]) / sy);
    for (let j = Math.max(0, row(Math.min(a[1], b[1], c[1]))); j <= Math.min(ny - 1, row(Math.max(a[1], b[1], c[1]))); j++)
      for (let i = Math.max(0, column(Math.min(a[0], b[0], c[0]))); i <= Math.min(nx - 1, column(Math.max(a[0], b[0], c[0]))); i++) {
        const [px, py] = [x[0] + (i + 0.5) * sx, y[0] + (j + 0.5) * sy];
        const side = (p: P2, q: P2): number => ((q[0] - p[0]) * (py - p[1]) - (q[1] - p[1]) * (px - p[0])) / area;
        if (side(a, b) >= -1e-9 && side(b, c) >= -1e-9 && side(c, a) >= -1e-9) within[j * nx + i] = 1;
      }
  }
  const high = new Array<number>(nx).fill(0);
  let best = { width: 0, height: 0 };
  for (let j = 0; j < ny; j++) {
    for (let i = 0; i < nx; i++) high[i] = within[j * nx + i] ? high[i]! + 1 : 0;
    const stack: number[] = [];
    for (let i = 0; i <= nx; i++) {
      const h = i < nx ? high[i]! : 0;
      while (stack.length > 0 && high[stack[stack.length - 1]!]! >= h) {
        const top = high[stack.pop()!]!;
        const left = stack.length > 0 ? stack[stack.length - 1]! + 1 : 0;
        const [width, height] = [(i - left) * sx, top * sy];
        if (width * height > best.width * best.height) best = { width, height };
      }
      stack.push(i);
    }
  }
  return best;
}
