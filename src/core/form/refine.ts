/** Refinement of a net by one level: Catmull and Clark 1978, creases by DeRose, Kass and Truong 1998 (uniform, fading linearly below 1). */
import { faceCount, type Net, vertexCount } from './cage';

/** What a crease has left after a refinement. */
export const fade = (w: number): number => (w === Number.POSITIVE_INFINITY ? w : Math.max(0, w - 1));

/**
 * The refined net. Its vertices are those of the net, then one for every edge, then one for every face. The face at corner c of the net
 * has number c: it begins at that corner's vertex and runs to the edge after it, the middle, the edge before it. Edge e is followed by
 * 2e from its first end and 2e + 1 from its second; after them come, by corner, the edges from the edge after it to the middle.
 */
export function refine(net: Net): Net {
  const { places: p, start, vertex, edge, ends, sides, crease, corner } = net;
  const n = vertexCount(net);
  const m = faceCount(net);
  const e = ends.length / 2;
  const corners = vertex.length;
  const out = new Float64Array(3 * (n + e + m));
  const [edgeAt, faceAt] = [3 * n, 3 * (n + e)];

  for (let f = 0; f < m; f++) {
    const [from, to] = [start[f]!, start[f + 1]!];
    let [x, y, z] = [0, 0, 0];
    for (let c = from; c < to; c++) {
      const v = 3 * vertex[c]!;
      x += p[v]!;
      y += p[v + 1]!;
      z += p[v + 2]!;
    }
    const k = 1 / (to - from);
    out[faceAt + 3 * f] = x * k;
    out[faceAt + 3 * f + 1] = y * k;
    out[faceAt + 3 * f + 2] = z * k;
  }

  // Sums about the vertices: of far ends, of face points, of ends of sharp edges now and after.
  const near = new Float64Array(3 * n);
  const middle = new Float64Array(3 * n);
  const [edges, faces] = [new Uint16Array(n), new Uint16Array(n)];
  const [sharp, stays] = [new Uint16Array(n), new Uint16Array(n)];
  const [sharpNear, staysNear] = [new Float64Array(3 * n), new Float64Array(3 * n)];
  // Sharpness that is used up by this refinement, for the share of the rule before.
  const [fading, fadings] = [new Float64Array(n), new Uint16Array(n)];
  for (let i = 0; i < e; i++) {
    const [a, b] = [ends[2 * i]!, ends[2 * i + 1]!];
    const w = crease[i]!;
    const left = fade(w);
    for (let side = 0; side < 2; side++) {
      const [v, o] = side === 0 ? [a, b] : [b, a];
      edges[v]!++;
      for (let k = 0; k < 3; k++) near[3 * v + k]! += p[3 * o + k]!;
      if (w === 0) continue;
      sharp[v]!++;
      for (let k = 0; k < 3; k++) sharpNear[3 * v + k]! += p[3 * o + k]!;
      if (left > 0) {
        stays[v]!++;
        for (let k = 0; k < 3; k++) staysNear[3 * v + k]! += p[3 * o + k]!;
      } else {
        fading[v]! += w;
        fadings[v]!++;
      }
    }
    const [f, g] = [sides[2 * i]!, sides[2 * i + 1]!];
    for (let k = 0; k < 3; k++) {
      const half = (p[3 * a + k]! + p[3 * b + k]!) / 2;
      if (g < 0 || w >= 1) out[edgeAt + 3 * i + k] = half;
      else {
        const smooth = half / 2 + (out[faceAt + 3 * f + k]! + out[faceAt + 3 * g + k]!) / 4;
        out[edgeAt + 3 * i + k] = w > 0 ? w * half + (1 - w) * smooth : smooth;
      }
    }
  }
  for (let f = 0; f < m; f++)
    for (let c = start[f]!; c < start[f + 1]!; c++) {
      const v = vertex[c]!;
      faces[v]!++;
      for (let k = 0; k < 3; k++) middle[3 * v + k]! += out[faceAt + 3 * f + k]!;
    }

  for (let v = 0; v < n; v++) {
    const w = corner[v]!;
    const left = fade(w);
    if (w > 0 && left === 0) {
      fading[v]! += w;
      fadings[v]!++;
    }
    const before = w > 0 || sharp[v]! > 2 ? 2 : sharp[v] === 2 ? 1 : 0;
    const after = left > 0 || stays[v]! > 2 ? 2 : stays[v] === 2 ? 1 : 0;
    const share = before === after ? 1 : Math.min(1, fading[v]! / Math.max(1, fadings[v]!));
    const k = edges[v]!;
    for (let c = 0; c < 3; c++) {
      const at = p[3 * v + c]!;
      const rule = (r: number, ends: Float64Array): number => {
        if (r === 2) return at;
        if (r === 1) return 0.75 * at + ends[3 * v + c]! / 8;
        return ((k - 2) / k) * at + near[3 * v + c]! / (k * k) + middle[3 * v + c]! / (k * k);
      };
      const first = rule(before, sharpNear);
      out[3 * v + c] = share >= 1 ? first : share * first + (1 - share) * rule(after, staysNear);
    }
  }

  const newStart = new Uint32Array(corners + 1);
  for (let c = 0; c <= corners; c++) newStart[c] = 4 * c;
  const [newVertex, newEdge] = [new Uint32Array(4 * corners), new Uint32Array(4 * corners)];
  const count = 2 * e + corners;
  const newEnds = new Uint32Array(2 * count);
  const newSides = new Int32Array(2 * count).fill(-1);
  const newCrease = new Float64Array(count);
  for (let i = 0; i < e; i++) {
    newEnds[4 * i] = ends[2 * i]!;
    newEnds[4 * i + 1] = n + i;
    newEnds[4 * i + 2] = n + i;
    newEnds[4 * i + 3] = ends[2 * i + 1]!;
    newCrease[2 * i] = newCrease[2 * i + 1] = fade(crease[i]!);
  }
  for (let f = 0; f < m; f++) {
    const [from, to] = [start[f]!, start[f + 1]!];
    for (let c = from; c < to; c++) {
      const back = c === from ? to - 1 : c - 1;
      const [v, ahead, behind] = [vertex[c]!, edge[c]!, edge[back]!];
      const q = 4 * c;
      newVertex[q] = v;
      newVertex[q + 1] = n + ahead;
      newVertex[q + 2] = n + e + f;
      newVertex[q + 3] = n + behind;
      const inner = 2 * e + c;
      const four = [2 * ahead + (ends[2 * ahead] === v ? 0 : 1), inner, 2 * e + back, 2 * behind + (ends[2 * behind] === v ? 0 : 1)];
      newEnds[2 * inner] = n + ahead;
      newEnds[2 * inner + 1] = n + e + f;
      for (let k = 0; k < 4; k++) {
        const i = four[k]!;
        newEdge[q + k] = i;
        if (newSides[2 * i]! < 0) newSides[2 * i] = c;
        else newSides[2 * i + 1] = c;
      }
    }
  }
  const newCorner = new Float64Array(n + e + m);
  for (let v = 0; v < n; v++) newCorner[v] = fade(corner[v]!);
  return {
    places: out,
    start: newStart,
    vertex: newVertex,
    edge: newEdge,
    ends: newEnds,
    sides: newSides,
    crease: newCrease,
    corner: newCorner,
  };
}

/** Refined so often. */
export function refined(net: Net, levels: number): Net {
  let out = net;
  for (let k = 0; k < levels; k++) out = refine(out);
  return out;
}

/** Levels after which no crease is fading any more. */
export function levelsToSettle(net: Net): number {
  let most = 0;
  for (const w of [net.crease, net.corner]) for (const x of w) if (x !== Number.POSITIVE_INFINITY) most = Math.max(most, x);
  return Math.ceil(most);
}
