/**
 * The equations a profile's constraints stand for. Each is one residual with its analytic gradient over at most a dozen
 * variables. Signed and angular forms are used where a squared one would lose its sign: a tangent must not turn over.
 * Lengths are mm, angles rad.
 */

/** One equation: writes dr/dv of its variables into `g` (the order of `vars`) and returns the residual r. */
export interface Row {
  readonly vars: readonly number[];
  readonly eval: (x: Float64Array, p: Float64Array, g: Float64Array) => number;
}

/** A line as the variables of its two points: ax, ay, bx, by. */
export type LineVars = readonly [number, number, number, number];
/** A point as its two variables. */
export type PointVars = readonly [number, number];

/** The angle reduced to (−π, π]. */
export const wrap = (a: number): number => a - 2 * Math.PI * Math.round(a / (2 * Math.PI));

/** x_i = s·x_j + k·p + c, as an equation. `j` < 0 leaves that part out, `param` < 0 the other. */
export const linear = (i: number, j: number, s: number, param: number, k: number, c: number): Row => ({
  vars: j < 0 ? [i] : [i, j],
  eval: (x, p, g) => {
    g[0] = 1;
    if (j >= 0) g[1] = -s;
    return x[i]! - (j < 0 ? 0 : s * x[j]!) - (param < 0 ? 0 : k * p[param]!) - c;
  },
});

/** Any linear equation Σ k_i x_i = 0. */
export const combination = (vars: readonly number[], factors: readonly number[]): Row => ({
  vars,
  eval: (x, _, g) => {
    let r = 0;
    for (let i = 0; i < vars.length; i++) {
      g[i] = factors[i]!;
      r += factors[i]! * x[vars[i]!]!;
    }
    return r;
  },
});

/** b − a along one coordinate equals sign·p. */
export const difference = (a: number, b: number, sign: number, param: number): Row => ({
  vars: [a, b],
  eval: (x, p, g) => {
    g[0] = -1;
    g[1] = 1;
    return x[b]! - x[a]! - sign * p[param]!;
  },
});

/** |b − a| = p. */
export const pointDistance = (a: PointVars, b: PointVars, param: number): Row => ({
  vars: [a[0], a[1], b[0], b[1]],
  eval: (x, p, g) => {
    const dx = x[b[0]]! - x[a[0]]!;
    const dy = x[b[1]]! - x[a[1]]!;
    const d = Math.hypot(dx, dy) || 1e-300;
    g[0] = -dx / d;
    g[1] = -dy / d;
    g[2] = dx / d;
    g[3] = dy / d;
    return d - p[param]!;
  },
});

/** Two lengths, |b − a| = |d − c|. */
export const equalLength = (l: LineVars, m: LineVars): Row => ({
  vars: [...l, ...m],
  eval: (x, _, g) => {
    const ux = x[l[2]]! - x[l[0]]!;
    const uy = x[l[3]]! - x[l[1]]!;
    const vx = x[m[2]]! - x[m[0]]!;
    const vy = x[m[3]]! - x[m[1]]!;
    const u = Math.hypot(ux, uy) || 1e-300;
    const v = Math.hypot(vx, vy) || 1e-300;
    g[0] = -ux / u;
    g[1] = -uy / u;
    g[2] = ux / u;
    g[3] = uy / u;
    g[4] = vx / v;
    g[5] = vy / v;
    g[6] = -vx / v;
    g[7] = -vy / v;
    return u - v;
  },
});

/** Signed distance of a point from a line, left positive, minus sign·p (and minus side·radius where one is given). */
export const pointLine = (q: PointVars, l: LineVars, sign: number, param: number, radius = -1, side = 0): Row => ({
  vars: radius < 0 ? [...q, ...l] : [...q, ...l, radius],
  eval: (x, p, g) => {
    const ux = x[l[2]]! - x[l[0]]!;
    const uy = x[l[3]]! - x[l[1]]!;
    const wx = x[q[0]]! - x[l[0]]!;
    const wy = x[q[1]]! - x[l[1]]!;
    const len = Math.hypot(ux, uy) || 1e-300;
    const d = (ux * wy - uy * wx) / len;
    g[0] = -uy / len;
    g[1] = ux / len;
    // d = (u × w)/|u|; through b: ∂d/∂u = (w⊥ − d·û)/|u|, through a both u and w shrink.
    const gux = (wy - (d * ux) / len) / len;
    const guy = (-wx - (d * uy) / len) / len;
    g[4] = gux;
    g[5] = guy;
    g[2] = -gux + uy / len;
    g[3] = -guy - ux / len;
    let r = d - (param < 0 ? 0 : sign * p[param]!);
    if (radius >= 0) {
      g[6] = -side;
      r -= side * x[radius]!;
    }
    return r;
  },
});

/** The directed angle from line l to line m is turn + sign·p; `scale` mm brings radians to the size of lengths. */
export const lineAngle = (l: LineVars, m: LineVars, turn: number, sign: number, param: number, scale: number): Row => ({
  vars: [...l, ...m],
  eval: (x, p, g) => {
    const ux = x[l[2]]! - x[l[0]]!;
    const uy = x[l[3]]! - x[l[1]]!;
    const vx = x[m[2]]! - x[m[0]]!;
    const vy = x[m[3]]! - x[m[1]]!;
    const u2 = ux * ux + uy * uy || 1e-300;
    const v2 = vx * vx + vy * vy || 1e-300;
    g[0] = (-uy / u2) * scale;
    g[1] = (ux / u2) * scale;
    g[2] = (uy / u2) * scale;
    g[3] = (-ux / u2) * scale;
    g[4] = (vy / v2) * scale;
    g[5] = (-vx / v2) * scale;
    g[6] = (-vy / v2) * scale;
    g[7] = (vx / v2) * scale;
    const a = Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy);
    return wrap(a - turn - (param < 0 ? 0 : sign * p[param]!)) * scale;
  },
});

/** A line's direction is a curve's direction variable plus turn: tangent at a shared end. */
export const lineDirection = (l: LineVars, angle: number, turn: number, scale: number): Row => ({
  vars: [...l, angle],
  eval: (x, _, g) => {
    const ux = x[l[2]]! - x[l[0]]!;
    const uy = x[l[3]]! - x[l[1]]!;
    const u2 = ux * ux + uy * uy || 1e-300;
    g[0] = (uy / u2) * scale;
    g[1] = (-ux / u2) * scale;
    g[2] = (-uy / u2) * scale;
    g[3] = (ux / u2) * scale;
    g[4] = -scale;
    return wrap(Math.atan2(uy, ux) - x[angle]! - turn) * scale;
  },
});

/** Two direction variables differ by turn (modulo a full turn). */
export const angleDifference = (a: number, b: number, turn: number, scale: number): Row => ({
  vars: [a, b],
  eval: (x, _, g) => {
    g[0] = scale;
    g[1] = -scale;
    return wrap(x[a]! - x[b]! - turn) * scale;
  },
});

/** One direction variable is turn + sign·p. */
export const angleIs = (a: number, turn: number, sign: number, param: number, scale: number): Row => ({
  vars: [a],
  eval: (x, p, g) => {
    g[0] = scale;
    return wrap(x[a]! - turn - sign * p[param]!) * scale;
  },
});

/** A point of an arc at its angle: the equation of one coordinate, P = C + r·(cos, sin). */
export const arcEnd = (p: number, centre: number, radius: number, angle: number, sine: boolean): Row => ({
  vars: [p, centre, radius, angle],
  eval: (x, _, g) => {
    const c = Math.cos(x[angle]!);
    const s = Math.sin(x[angle]!);
    g[0] = 1;
    g[1] = -1;
    g[2] = sine ? -s : -c;
    g[3] = sine ? -x[radius]! * c : x[radius]! * s;
    return x[p]! - x[centre]! - x[radius]! * (sine ? s : c);
  },
});

/** |q − c| = r: a point on a circle. */
export const onCircle = (q: PointVars, c: PointVars, radius: number): Row => ({
  vars: [...q, ...c, radius],
  eval: (x, _, g) => {
    const dx = x[q[0]]! - x[c[0]]!;
    const dy = x[q[1]]! - x[c[1]]!;
    const d = Math.hypot(dx, dy) || 1e-300;
    g[0] = dx / d;
    g[1] = dy / d;
    g[2] = -dx / d;
    g[3] = -dy / d;
    g[4] = -1;
    return d - x[radius]!;
  },
});

/** |c₂ − c₁| = α·r₁ + β·r₂: two circles that touch, from outside (1, 1) or inside (±1, ∓1). */
export const circlesTouch = (c1: PointVars, r1: number, c2: PointVars, r2: number, alpha: number, beta: number): Row => ({
  vars: [...c1, ...c2, r1, r2],
  eval: (x, _, g) => {
    const dx = x[c2[0]]! - x[c1[0]]!;
    const dy = x[c2[1]]! - x[c1[1]]!;
    const d = Math.hypot(dx, dy) || 1e-300;
    g[0] = -dx / d;
    g[1] = -dy / d;
    g[2] = dx / d;
    g[3] = dy / d;
    g[4] = -alpha;
    g[5] = -beta;
    return d - alpha * x[r1]! - beta * x[r2]!;
  },
});

/** Length of an arc: r·|a₁ − a₀| = p, with the sense known so that no absolute value is needed. */
export const arcLength = (radius: number, a0: number, a1: number, sense: number, param: number): Row => ({
  vars: [radius, a0, a1],
  eval: (x, p, g) => {
    const sweep = sense * (x[a1]! - x[a0]!);
    g[0] = sweep;
    g[1] = -sense * x[radius]!;
    g[2] = sense * x[radius]!;
    return x[radius]! * sweep - p[param]!;
  },
});

/** Mirror images about a line: the middle lies on it, or the join stands square to it. Left positive. */
export const middleOnLine = (a: PointVars, b: PointVars, l: LineVars): Row => ({
  vars: [...a, ...b, ...l],
  eval: (x, _, g) => {
    const ux = x[l[2]]! - x[l[0]]!;
    const uy = x[l[3]]! - x[l[1]]!;
    const len = Math.hypot(ux, uy) || 1e-300;
    const wx = (x[a[0]]! + x[b[0]]!) / 2 - x[l[0]]!;
    const wy = (x[a[1]]! + x[b[1]]!) / 2 - x[l[1]]!;
    const d = (ux * wy - uy * wx) / len;
    g[0] = g[2] = -uy / len / 2;
    g[1] = g[3] = ux / len / 2;
    const gux = (wy - (d * ux) / len) / len;
    const guy = (-wx - (d * uy) / len) / len;
    g[6] = gux;
    g[7] = guy;
    g[4] = -gux + uy / len;
    g[5] = -guy - ux / len;
    return d;
  },
});
export const squareToLine = (a: PointVars, b: PointVars, l: LineVars): Row => ({
  vars: [...a, ...b, ...l],
  eval: (x, _, g) => {
    const ux = x[l[2]]! - x[l[0]]!;
    const uy = x[l[3]]! - x[l[1]]!;
    const len = Math.hypot(ux, uy) || 1e-300;
    const wx = x[b[0]]! - x[a[0]]!;
    const wy = x[b[1]]! - x[a[1]]!;
    const d = (ux * wx + uy * wy) / len;
    g[0] = -ux / len;
    g[1] = -uy / len;
    g[2] = ux / len;
    g[3] = uy / len;
    g[6] = (wx - (d * ux) / len) / len;
    g[7] = (wy - (d * uy) / len) / len;
    g[4] = -g[6]!;
    g[5] = -g[7]!;
    return d;
  },
});

/**
 * An equation with its gradient by central differences: for the few whose analytic form would be longer than the rest
 * together (ellipses, a spline's end curvature). Step 1e-6 of the variable's size leaves about 1e-10 of error.
 */
export const numeric = (vars: readonly number[], f: (x: Float64Array, p: Float64Array) => number): Row => ({
  vars,
  eval: (x, p, g) => {
    for (let i = 0; i < vars.length; i++) {
      const v = vars[i]!;
      const old = x[v]!;
      const h = 1e-6 * Math.max(1, Math.abs(old));
      x[v] = old + h;
      const up = f(x, p);
      x[v] = old - h;
      const down = f(x, p);
      x[v] = old;
      g[i] = (up - down) / (2 * h);
    }
    return f(x, p);
  },
});
