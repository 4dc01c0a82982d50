/** Short notation for sketches in tests and benches. */
import { evaluateDimensions } from '../../src/core/dimensions/dimensions';
import { addConstraint, type NewConstraint } from '../../src/core/profile/draw';
import { dimensionTargets } from '../../src/core/profile/resolve';
import { buildSketch } from '../../src/core/profile/solver/sketch';
import { type SolveOutcome, solveSketch } from '../../src/core/profile/solver/solve';
import type { Sketch } from '../../src/core/profile/solver/terms';
import { emptyProfile } from '../../src/core/recipe/edit';
import type { Profile, ProfileCurve } from '../../src/core/recipe/schema';

export const noNames = evaluateDimensions([]).scope;

type Places = Readonly<Record<string, readonly [number, number]>>;

/** A profile from places by name, curves and constraints (ids k1, k2 … and d1, d2 … in order). */
export function sketchProfile(places: Places, curves: readonly ProfileCurve[], constraints: readonly NewConstraint[] = []): Profile {
  const start: Profile = {
    ...emptyProfile('t', 'Test'),
    points: Object.entries(places).map(([id, [x, y]]) => ({ id, x, y, reference: true })),
    curves: [...curves],
  };
  return constraints.reduce((p, c) => addConstraint(p, c).profile, start);
}

/** `line('ab')` runs from a to b. */
export const line = (ends: string, id = ends): ProfileCurve => ({ kind: 'line', id, from: ends[0]!, to: ends[1]! });
/** `arc('abm')` runs from a to b about m. */
export const arc = (points: string, ccw = true, id = points): ProfileCurve => ({
  kind: 'arc',
  id,
  from: points[0]!,
  to: points[1]!,
  centre: points[2]!,
  ccw,
});
export const circle = (centre: string, radius: number, id = `o${centre}`): ProfileCurve => ({ kind: 'circle', id, centre, radius });

type Way = 'aligned' | 'horizontal' | 'vertical';
export const distance = (a: string, b: string, value: number | string, direction: Way = 'aligned'): NewConstraint => ({
  kind: 'distance',
  a,
  b,
  direction,
  value: String(value),
  driving: true,
});
export const radius = (curve: string, value: number | string): NewConstraint => ({
  kind: 'radius',
  curve,
  value: String(value),
  driving: true,
});
export const angle = (a: string, b: string, degrees: number | string, reverse = false): NewConstraint => ({
  kind: 'angle',
  a,
  b,
  value: `${degrees}°`,
  driving: true,
  ...(reverse ? { reverse: true } : {}),
});
export const on = (point: string, curve: string): NewConstraint => ({ kind: 'on-curve', point, curve });
export const fixedAt = (point: string): NewConstraint => ({ kind: 'fixed', point });

export interface Solved {
  readonly sketch: Sketch;
  readonly outcome: SolveOutcome;
  readonly at: (point: string) => { x: number; y: number };
  readonly radius: (curve: string) => number;
}

/** Builds and solves. */
export function solved(profile: Profile): Solved {
  const targets = dimensionTargets(profile, noNames);
  if (!targets.ok) throw new Error(targets.error.message);
  const sketch = buildSketch(profile, targets.value);
  if (sketch.refused.length > 0) throw new Error(sketch.refused[0]!.why);
  const outcome = solveSketch(sketch);
  const { x } = sketch.system;
  return {
    sketch,
    outcome,
    at: (p) => ({ x: x[sketch.points.get(p)![0]]!, y: x[sketch.points.get(p)![1]]! }),
    radius: (c) => x[sketch.curves.get(c)!.radius!]!,
  };
}

/**
 * A wavy chain of lines with a tangent arc between each two, its radii and lengths given (every third length only where `dense`): one
 * component of `entities` curves with about two constraints each.
 */
export function chain(entities: number, dense = false): Profile {
  const places: Record<string, [number, number]> = {};
  const curves: ProfileCurve[] = [];
  const constraints: NewConstraint[] = [];
  let heading = 0;
  let [x, y] = [0, 0];
  let last = 'p0';
  places.p0 = [0, 0];
  for (let i = 0; i < entities; i++) {
    const next = `p${i + 1}`;
    if (i % 2 === 0) {
      const l = 8 + (i % 3);
      x += l * Math.cos(heading);
      y += l * Math.sin(heading);
      curves.push({ kind: 'line', id: `l${i}`, from: last, to: next });
      if (dense || i % 6 !== 0) constraints.push(distance(last, next, l));
    } else {
      const r = 3 + (i % 4);
      const turn = (i % 4 === 1 ? 1 : -1) * (0.7 + 0.1 * (i % 3));
      const s = Math.sign(turn);
      const m = `m${i}`;
      const [cx, cy] = [x - s * r * Math.sin(heading), y + s * r * Math.cos(heading)];
      heading += turn;
      x = cx + s * r * Math.sin(heading);
      y = cy - s * r * Math.cos(heading);
      places[m] = [cx, cy];
      curves.push({ kind: 'arc', id: `a${i}`, from: last, to: next, centre: m, ccw: turn > 0 });
      constraints.push({ kind: 'tangent', a: `l${i - 1}`, b: `a${i}` }, radius(`a${i}`, r));
      if (i + 1 < entities) constraints.push({ kind: 'tangent', a: `a${i}`, b: `l${i + 1}` });
    }
    places[next] = [x, y];
    last = next;
  }
  for (let i = 6; i < entities; i += 12) constraints.push({ kind: 'parallel', a: 'l0', b: `l${i - (i % 2)}` });
  constraints.push({ kind: 'coincident', a: 'p0', b: 'origin' }, { kind: 'horizontal', a: 'p0', b: 'p1' });
  // Parallels hold only where the chain's turns add up; the slopes are drawn as they come.
  return sketchProfile(
    places,
    curves,
    constraints.filter((c) => c.kind !== 'parallel'),
  );
}

/** Rectangles in a grid, each with sizes and tied to its neighbour by level and plumb distances. */
export function grid(entities: number): Profile {
  const places: Record<string, [number, number]> = {};
  const curves: ProfileCurve[] = [];
  const constraints: NewConstraint[] = [];
  const n = Math.ceil(entities / 4);
  for (let k = 0; k < n; k++) {
    const [x, y] = [(k % 8) * 20, Math.floor(k / 8) * 15];
    const [w, h] = [10 + (k % 3), 6 + (k % 2)];
    const id = (c: string): string => `${c}${k}`;
    places[id('a')] = [x, y];
    places[id('b')] = [x + w, y];
    places[id('c')] = [x + w, y + h];
    places[id('d')] = [x, y + h];
    curves.push(
      { kind: 'line', id: id('ab'), from: id('a'), to: id('b') },
      { kind: 'line', id: id('bc'), from: id('b'), to: id('c') },
      { kind: 'line', id: id('cd'), from: id('c'), to: id('d') },
      { kind: 'line', id: id('da'), from: id('d'), to: id('a') },
    );
    constraints.push(
      { kind: 'horizontal', a: id('a'), b: id('b') },
      { kind: 'vertical', a: id('b'), b: id('c') },
      { kind: 'horizontal', a: id('c'), b: id('d') },
      { kind: 'vertical', a: id('d'), b: id('a') },
      distance(id('a'), id('b'), w),
      distance(id('b'), id('c'), h),
    );
    if (k > 0) constraints.push(distance(`a${k - 1}`, id('a'), Math.hypot(x - ((k - 1) % 8) * 20, y - Math.floor((k - 1) / 8) * 15)));
  }
  return sketchProfile(places, curves, constraints);
}
