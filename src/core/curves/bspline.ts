/**
 * B-spline curves on plain arrays. Source: Piegl & Tiller, The NURBS Book, algorithms A2.1–A2.3 (from memory).
 */
export type Vec = readonly number[];

export interface BSpline {
  readonly degree: number;
  /** Full knot vector, length = poles + degree + 1. */
  readonly knots: readonly number[];
  readonly poles: readonly Vec[];
}

/** Index of the knot span holding t (A2.1); the last span for the end parameter. */
export function findSpan(degree: number, knots: readonly number[], poleCount: number, t: number): number {
  const n = poleCount - 1;
  if (t >= knots[n + 1]!) return n;
  if (t <= knots[degree]!) return degree;
  let lo = degree;
  let hi = n + 1;
  let mid = (lo + hi) >> 1;
  while (t < knots[mid]! || t >= knots[mid + 1]!) {
    if (t < knots[mid]!) hi = mid;
    else lo = mid;
    mid = (lo + hi) >> 1;
  }
  return mid;
}

/** Values of the degree+1 basis functions that are non-zero on the span (A2.2). @param slopes gets their first derivatives (eq. 2.7 of the same book) */
export function basisValues(degree: number, knots: readonly number[], span: number, t: number, slopes?: number[]): number[] {
  const values = new Array<number>(degree + 1).fill(0);
  values[0] = 1;
  for (let j = 1; j <= degree; j++) {
    let saved = 0;
    for (let r = 0; r < j; r++) {
      const right = knots[span + r + 1]! - t;
      const left = t - knots[span + 1 - j + r]!;
      const temp = values[r]! / (right + left);
      values[r] = saved + right * temp;
      saved = left * temp;
      if (slopes && j === degree) {
        slopes[r] = (r === 0 ? 0 : slopes[r]!) - degree * temp;
        slopes[r + 1] = degree * temp;
      }
    }
    values[j] = saved;
  }
  return values;
}

/** Room to reckon in, for degrees up to the one it is made for: nothing is asked for while curves are evaluated by the thousand. */
function roomFor(p: number): Room {
  const n = p + 1;
  return { n, ndu: new Float64Array(n * n), left: new Float64Array(n), right: new Float64Array(n), a: new Float64Array(2 * n) };
}
interface Room {
  readonly n: number;
  /** Basis functions above the diagonal, differences of knots below it. */
  readonly ndu: Float64Array;
  readonly left: Float64Array;
  readonly right: Float64Array;
  readonly a: Float64Array;
}
let room = roomFor(5);

/** Values and derivatives up to `order` of the degree+1 basis functions that are non-zero on the span (A2.3). */
export function basisDerivatives(degree: number, knots: readonly number[], span: number, t: number, order: number): number[][] {
  const p = degree;
  if (order === 0) return [basisValues(p, knots, span, t)];
  if (order === 1) {
    const slopes = new Array<number>(p + 1).fill(0);
    return [basisValues(p, knots, span, t, slopes), slopes];
  }
  if (room.n < p + 1) room = roomFor(p);
  const { n, ndu, left, right, a } = room;
  ndu[0] = 1;
  for (let j = 1; j <= p; j++) {
    left[j] = t - knots[span + 1 - j]!;
    right[j] = knots[span + j]! - t;
    let saved = 0;
    for (let r = 0; r < j; r++) {
      const width = right[r + 1]! + left[j - r]!;
      ndu[j * n + r] = width;
      const temp = ndu[r * n + j - 1]! / width;
      ndu[r * n + j] = saved + right[r + 1]! * temp;
      saved = left[j - r]! * temp;
    }
    ndu[j * n + j] = saved;
  }
  const ders: number[][] = [];
  for (let k = 0; k <= order; k++) ders.push(new Array<number>(p + 1).fill(0));
  for (let j = 0; j <= p; j++) ders[0]![j] = ndu[j * n + p]!;
  const most = Math.min(order, p);
  for (let r = 0; r <= p; r++) {
    let [s1, s2] = [0, n];
    a.fill(0);
    a[0] = 1;
    for (let k = 1; k <= most; k++) {
      let d = 0;
      const rk = r - k;
      const pk = p - k;
      if (r >= k) {
        a[s2] = a[s1]! / ndu[(pk + 1) * n + rk]!;
        d = a[s2]! * ndu[rk * n + pk]!;
      }
      const j1 = rk >= -1 ? 1 : -rk;
      const j2 = r - 1 <= pk ? k - 1 : p - r;
      for (let j = j1; j <= j2; j++) {
        a[s2 + j] = (a[s1 + j]! - a[s1 + j - 1]!) / ndu[(pk + 1) * n + rk + j]!;
        d += a[s2 + j]! * ndu[(rk + j) * n + pk]!;
      }
      if (r <= pk) {
        a[s2 + k] = -a[s1 + k - 1]! / ndu[(pk + 1) * n + r]!;
        d += a[s2 + k]! * ndu[r * n + pk]!;
      }
      ders[k]![r] = d;
      const other = s1;
      s1 = s2;
      s2 = other;
    }
  }
  let f = p;
  for (let k = 1; k <= most; k++) {
    const row = ders[k]!;
    for (let j = 0; j <= p; j++) row[j] = row[j]! * f;
    f *= p - k;
  }
  return ders;
}

/** Position and derivatives up to `order` at t: `[C, C′, C″ …]`. */
export function evaluateBSpline(curve: BSpline, t: number, order = 0): number[][] {
  const { degree, knots, poles } = curve;
  const span = findSpan(degree, knots, poles.length, t);
  const basis = basisDerivatives(degree, knots, span, t, order);
  const size = poles[0]!.length;
  return basis.map((row) => {
    const out = new Array<number>(size).fill(0);
    for (let j = 0; j <= degree; j++) {
      const pole = poles[span - degree + j]!;
      for (let d = 0; d < size; d++) out[d] = out[d]! + row[j]! * pole[d]!;
    }
    return out;
  });
}

/**
 * The C2 cubic through the points, on centripetal-to-chord parameters (chord length). An end with a given
 * derivative starts along it; an end without has no curvature (natural).
 * @param points at least two, no two neighbours equal
 * @param startDerivative dC/dt at the start, where t runs 0…1
 * @param inner dC/dt at points between, by index; the curve is C1 there
 * @throws RangeError when two neighbouring points coincide
 */
export function interpolateCubic(
  points: readonly Vec[],
  startDerivative?: Vec,
  endDerivative?: Vec,
  inner: ReadonlyMap<number, Vec> = new Map(),
): BSpline {
  const n = points.length - 1;
  if (n < 1) throw new RangeError('a spline needs at least two points');
  const size = points[0]!.length;
  const chord: number[] = [];
  for (let i = 0; i < n; i++) {
    const d = Math.hypot(...points[i + 1]!.map((c, k) => c - points[i]![k]!));
    if (!(d > 0)) throw new RangeError('two neighbouring spline points coincide');
    chord.push(d);
  }
  const total = chord.reduce((a, b) => a + b, 0);
  const t = [0];
  for (const c of chord) t.push(t[t.length - 1]! + c / total);
  t[n] = 1;
  const h = t.slice(1).map((x, i) => x - t[i]!);

  // Slopes m_i from C2 continuity: a tridiagonal system, the same for each coordinate.
  const lower = new Array<number>(n + 1).fill(0);
  const diag = new Array<number>(n + 1).fill(1);
  const upper = new Array<number>(n + 1).fill(0);
  const rhs: number[][] = Array.from({ length: n + 1 }, () => new Array<number>(size).fill(0));
  const slope = (i: number, k: number): number => (points[i + 1]![k]! - points[i]![k]!) / h[i]!;
  for (let i = 1; i < n; i++) {
    const given = inner.get(i);
    if (given) {
      rhs[i] = [...given];
      continue;
    }
    lower[i] = h[i]!;
    diag[i] = 2 * (h[i]! + h[i - 1]!);
    upper[i] = h[i - 1]!;
    for (let k = 0; k < size; k++) rhs[i]![k] = 3 * (h[i]! * slope(i - 1, k) + h[i - 1]! * slope(i, k));
  }
  if (startDerivative) rhs[0] = [...startDerivative];
  else {
    diag[0] = 2;
    upper[0] = 1;
    for (let k = 0; k < size; k++) rhs[0]![k] = 3 * slope(0, k);
  }
  if (endDerivative) rhs[n] = [...endDerivative];
  else {
    diag[n] = 2;
    lower[n] = 1;
    for (let k = 0; k < size; k++) rhs[n]![k] = 3 * slope(n - 1, k);
  }
  for (let i = 1; i <= n; i++) {
    const w = lower[i]! / diag[i - 1]!;
    diag[i] = diag[i]! - w * upper[i - 1]!;
    for (let k = 0; k < size; k++) rhs[i]![k] = rhs[i]![k]! - w * rhs[i - 1]![k]!;
  }
  const m: number[][] = new Array(n + 1);
  m[n] = rhs[n]!.map((v) => v / diag[n]!);
  for (let i = n - 1; i >= 0; i--) m[i] = rhs[i]!.map((v, k) => (v - upper[i]! * m[i + 1]![k]!) / diag[i]!);

  // Poles by blossoming each segment's Bézier form at the knots it shares.
  const knots = [0, 0, 0, ...t.flatMap((u, i) => (inner.has(i) && i > 0 && i < n ? [u, u] : [u])), 1, 1, 1];
  const poles: number[][] = [];
  for (let i = 0; i + 4 < knots.length; i++) {
    const args = [knots[i + 1]!, knots[i + 2]!, knots[i + 3]!];
    // Any span under this pole's basis function will do.
    let j = i;
    while (!(knots[j]! < knots[j + 1]!)) j++;
    const seg = t.indexOf(knots[j]!);
    const a = points[seg]!;
    const b = points[seg + 1]!;
    const bezier = [[...a], a.map((c, k) => c + (m[seg]![k]! * h[seg]!) / 3), b.map((c, k) => c - (m[seg + 1]![k]! * h[seg]!) / 3), [...b]];
    poles.push(
      blossom(
        bezier,
        args.map((u) => (u - t[seg]!) / h[seg]!),
      ),
    );
  }
  return { degree: 3, knots, poles };
}

/** A clamped B-spline on uniform knots over 0…1 by its control points; the degree is lowered where there are too few. */
export function controlSpline(poles: readonly Vec[], degree: number): BSpline {
  const p = Math.max(1, Math.min(degree, poles.length - 1));
  const spans = poles.length - p;
  const knots = [
    ...new Array<number>(p + 1).fill(0),
    ...Array.from({ length: spans - 1 }, (_, i) => (i + 1) / spans),
    ...new Array<number>(p + 1).fill(1),
  ];
  return { degree: p, knots, poles };
}

/** A single Bézier piece in a higher degree, the same curve (The NURBS Book, eq. 5.36 for one segment, from memory). */
export function elevated(bezier: BSpline, degree: number): BSpline {
  let poles = bezier.poles;
  for (let p = bezier.degree; p < degree; p++) {
    const next: Vec[] = [poles[0]!];
    for (let i = 1; i <= p; i++) {
      const a = i / (p + 1);
      next.push(poles[i]!.map((v, k) => a * poles[i - 1]![k]! + (1 - a) * v));
    }
    next.push(poles[p]!);
    poles = next;
  }
  return { degree, knots: [...new Array<number>(degree + 1).fill(0), ...new Array<number>(degree + 1).fill(1)], poles };
}

/** Polar form of a Bézier segment: de Casteljau with another parameter on each level. */
function blossom(bezier: number[][], params: readonly number[]): number[] {
  let row = bezier;
  for (const u of params) row = row.slice(1).map((p, i) => p.map((c, k) => (1 - u) * row[i]![k]! + u * c));
  return row[0]!;
}

/** Distinct knots with their multiplicities, as exchange formats and kernels want them. */
export function knotMultiplicities(knots: readonly number[]): { values: number[]; counts: number[] } {
  const values: number[] = [];
  const counts: number[] = [];
  for (const k of knots) {
    if (values.length > 0 && Math.abs(values[values.length - 1]! - k) < 1e-12) counts[counts.length - 1]!++;
    else {
      values.push(k);
      counts.push(1);
    }
  }
  return { values, counts };
}
