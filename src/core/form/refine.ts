/** Refinement of a net by one level: Catmull and Clark 1978, creases by DeRose, Kass and Truong 1998 (uniform, fading linearly below 1). */
import { faceCount, type Net, vertexCount } from './cage';

/** What a crease has left after a refinement. */
const fade = (w: number): number => (w === Number.POSITIVE_INFINITY ? w : Math.max(0, w - 1));

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
  const edges = new Uint16Array(n);
  const [sharp, stays] = [new Uint16Array(n), new Uint16Array(n)];
  const [sharpNear, staysNear] = [new Float64Array(3 * n), new Float64Array(3 * n)];
  // Sharpness that is used up by this refinement, for the share of the rule before.
  const [fading, fadings] = [new Float64Array(n), new Uint16Array(n)];
  const add = (to: Float64Array, v: number, o: number): void => {
    to[3 * v]! += p[3 * o]!;
    to[3 * v + 1]! += p[3 * o + 1]!;
    to[3 * v + 2]! += p[3 * o + 2]!;
  };
  for (let i = 0; i < e; i++) {
    const a = ends[2 * i]!;
    const b = ends[2 * i + 1]!;
    const w = crease[i]!;
    edges[a]!++;
    edges[b]!++;
    add(near, a, b);
    add(near, b, a);
    if (w > 0) {
      const left = fade(w);
      for (let side = 0; side < 2; side++) {
        const v = side === 0 ? a : b;
        const o = side === 0 ? b : a;
        sharp[v]!++;
        add(sharpNear, v, o);
        if (left > 0) {
          stays[v]!++;
          add(staysNear, v, o);
        } else {
          fading[v]! += w;
          fadings[v]!++;
        }
      }
    }
    const f = 3 * sides[2 * i]! + faceAt;
    const g = sides[2 * i + 1]!;
    const to = edgeAt + 3 * i;
    const whole = g < 0 || w >= 1;
    for (let k = 0; k < 3; k++) {
      const half = (p[3 * a + k]! + p[3 * b + k]!) / 2;
      if (whole) out[to + k] = half;
      else {
        const smooth = half / 2 + (out[f + k]! + out[faceAt + 3 * g + k]!) / 4;
        out[to + k] = w > 0 ? w * half + (1 - w) * smooth : smooth;
      }
    }
  }
  for (let f = 0; f < m; f++) {
    const from = faceAt + 3 * f;
    const x = out[from]!;
    const y = out[from + 1]!;
    const z = out[from + 2]!;
    for (let c = start[f]!, to = start[f + 1]!; c < to; c++) {
      const v = 3 * vertex[c]!;
      middle[v]! += x;
      middle[v + 1]! += y;
      middle[v + 2]! += z;
    }
  }

  for (let v = 0; v < n; v++) {
    const w = corner[v]!;
    const k = edges[v]!;
    if (w === 0 && sharp[v] === 0) {
      const own = (k - 2) / k;
      const other = 1 / (k * k);
      for (let c = 3 * v; c < 3 * v + 3; c++) out[c] = own * p[c]! + other * (near[c]! + middle[c]!);
      continue;
    }
    const left = fade(w);
    if (w > 0 && left === 0) {
      fading[v]! += w;
      fadings[v]!++;
    }
    const before = w > 0 || sharp[v]! > 2 ? 2 : sharp[v] === 2 ? 1 : 0;
    const after = left > 0 || stays[v]! > 2 ? 2 : stays[v] === 2 ? 1 : 0;
    const share = before === after ? 1 : Math.min(1, fading[v]! / Math.max(1, fadings[v]!));
    for (let c = 3 * v; c < 3 * v + 3; c++) {
      const rule = (r: number, far: Float64Array): number => {
        if (r === 2) return p[c]!;
        if (r === 1) return 0.75 * p[c]! + far[c]! / 8;
        return ((k - 2) / k) * p[c]! + (near[c]! + middle[c]!) / (k * k);
      };
      const first = rule(before, sharpNear);
      out[c] = share >= 1 ? first : share * first + (1 - share) * rule(after, staysNear);
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
      newEdge[q] = 2 * ahead + (ends[2 * ahead] === v ? 0 : 1);
      newEdge[q + 1] = 2 * e + c;
      newEdge[q + 2] = 2 * e + back;
      newEdge[q + 3] = 2 * behind + (ends[2 * behind] === v ? 0 : 1);
      const inner = 2 * (2 * e + c);
      newEnds[inner] = n + ahead;
      newEnds[inner + 1] = n + e + f;
      for (let k = q; k < q + 4; k++) {
        const i = 2 * newEdge[k]!;
        if (newSides[i]! < 0) newSides[i] = c;
        else newSides[i + 1] = c;
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
