/** A net of quads divided into rectangles of plain quads: cut along creases, borders, and lines straight on from every irregular vertex. */
import { edgeCount, faceCount, type Net, type Ring, ringsOf, vertexCount } from './cage';

/** A quad with the corner at which its own (0, 0) lies. */
export interface Placed {
  readonly face: number;
  readonly corner: number;
}

/** `cells[j][i]`: i along u, j along v. */
export interface Region {
  readonly cells: readonly (readonly Placed[])[];
}

const sideOf = (net: Net, f: number, k: number): number => net.edge[net.start[f]! + ((k + 4) & 3)]!;

/** The quad beyond a side of a placed one, placed in line with it. Sides: 0 below, 1 right, 2 above, 3 left. */
function beyond(net: Net, { face, corner }: Placed, side: number): Placed | undefined {
  const e = sideOf(net, face, corner + side);
  const other = net.sides[2 * e] === face ? net.sides[2 * e + 1]! : net.sides[2 * e]!;
  if (other < 0) return undefined;
  const k = [0, 1, 2, 3].find((i) => sideOf(net, other, i) === e)!;
  // Its side that faces this one lies across from the one that was left by.
  return { face: other, corner: (k - ((side + 2) & 3) + 8) & 3 };
}

/** Vertices whose limit is no plain bicubic, in a net of quads. */
export function irregularVertices(net: Net, rings: readonly Ring[]): boolean[] {
  return rings.map((r, v) => {
    if (net.corner[v]! > 0) return true;
    if (r.border) return r.faces.length !== 2 || r.edges.slice(1, -1).some((e) => net.crease[e]! > 0);
    if (r.faces.length !== 4) return true;
    const sharp = r.edges.map((e) => net.crease[e]! > 0);
    const count = sharp.filter(Boolean).length;
    return count !== 0 && !(count === 2 && sharp[0] === sharp[2]);
  });
}

/** @param net quads only */
export function regionsOf(net: Net): Region[] {
  const rings = ringsOf(net);
  const odd = irregularVertices(net, rings);
  const cut = new Uint8Array(edgeCount(net));
  /** Cuts along an edge and straight on from its far end. */
  const extend = (v: number, e: number): void => {
    let [from, edge] = [v, e];
    for (;;) {
      if (cut[edge] === 2) return;
      cut[edge] = 2;
      const to = net.ends[2 * edge] === from ? net.ends[2 * edge + 1]! : net.ends[2 * edge]!;
      const ring = rings[to]!;
      if (odd[to] || ring.border) return;
      from = to;
      edge = ring.edges[(ring.edges.indexOf(edge) + 2) & 3]!;
    }
  };
  for (let e = 0; e < edgeCount(net); e++) if (net.crease[e]! > 0) cut[e] = Math.max(cut[e]!, 1);
  for (let v = 0; v < vertexCount(net); v++) if (odd[v]) for (const e of rings[v]!.edges) extend(v, e);
  // Rings and tori close in themselves: halved until none does.
  for (let guard = 0; guard < 1000; guard++) {
    const loop = closedRow(net, cut);
    if (!loop) break;
    for (const p of [loop[0]!, loop[Math.floor(loop.length / 2)]!]) {
      const e = sideOf(net, p.face, p.corner + 3);
      extend(net.ends[2 * e]!, e);
      cut[e] = 1;
      extend(net.ends[2 * e + 1]!, e);
    }
  }
  return gather(net, cut);
}

/** A row of quads that comes back to its beginning without meeting a cut, from left to right. */
function closedRow(net: Net, cut: Uint8Array): Placed[] | undefined {
  const seen = new Uint8Array(2 * faceCount(net));
  for (let f = 0; f < faceCount(net); f++)
    for (const corner of [0, 1]) {
      if (seen[2 * f + corner]) continue;
      const row: Placed[] = [];
      let at: Placed | undefined = { face: f, corner };
      while (at) {
        const direction: number = at.corner & 1;
        if (seen[2 * at.face + direction] && at.face !== f) break;
        seen[2 * at.face + direction] = 1;
        row.push(at);
        if (cut[sideOf(net, at.face, at.corner + 1)]) break;
        at = beyond(net, at, 1);
        if (at && at.face === f && at.corner === corner) return row;
        if (row.length > faceCount(net)) break;
      }
    }
  return undefined;
}

function gather(net: Net, cut: Uint8Array): Region[] {
  const done = new Uint8Array(faceCount(net));
  const out: Region[] = [];
  const until = (start: Placed, side: number): Placed[] => {
    const row = [start];
    for (let at = start; !cut[sideOf(net, at.face, at.corner + side)]; ) {
      const next = beyond(net, at, side);
      if (!next) break;
      row.push(next);
      at = next;
    }
    return row;
  };
  for (let f = 0; f < faceCount(net); f++) {
    if (done[f]) continue;
    // To the lower left, then rows upwards.
    const left = until({ face: f, corner: 0 }, 3);
    const low = until(left[left.length - 1]!, 0);
    const column = until(low[low.length - 1]!, 2);
    const cells = column.map((p) => until(p, 1));
    const whole = cells.every((r) => r.length === cells[0]!.length) && cells.flat().every((p) => !done[p.face]);
    if (!whole || new Set(cells.flat().map((p) => p.face)).size !== cells.flat().length) {
      done[f] = 1;
      out.push({ cells: [[{ face: f, corner: 0 }]] });
      continue;
    }
    for (const p of cells.flat()) done[p.face] = 1;
    out.push({ cells });
  }
  return out;
}
