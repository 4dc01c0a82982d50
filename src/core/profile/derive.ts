/** Geometry that follows other curves of a profile: offsets, mirror images, rows and rings of copies. */
import { offsetChain } from '../curves/offset';
import { arcAbout, distance2, flatten, type PlanarCurve, type Point2, reverse } from '../curves/planar';
import { evaluateAs, type Scope } from '../dimensions/expression';
import { loopArea } from '../mesh/slice';
import type { Derived } from '../recipe/schema';
import { fail, ok, type Result } from '../result';
import { planRow, type RowPlan } from './spacing';

interface DerivedCurve {
  readonly id: string;
  readonly curve: PlanarCurve;
}
export interface DerivedOutcome {
  readonly curves: readonly DerivedCurve[];
  readonly row?: RowPlan;
}

/** A plane motion x ↦ M·x + t. */
interface Motion {
  readonly m: readonly [number, number, number, number];
  readonly t: Point2;
}
const place = (k: Motion, p: Point2): Point2 => ({
  x: k.m[0] * p.x + k.m[1] * p.y + k.t.x,
  y: k.m[2] * p.x + k.m[3] * p.y + k.t.y,
});
const direct = (k: Motion, v: Point2): Point2 => ({ x: k.m[0] * v.x + k.m[1] * v.y, y: k.m[2] * v.x + k.m[3] * v.y });

/** A curve carried along by a rotation, reflection, shift (or an even scaling). */
function moved(c: PlanarCurve, k: Motion): PlanarCurve {
  const det = k.m[0] * k.m[3] - k.m[1] * k.m[2];
  switch (c.kind) {
    case 'line':
      return { kind: 'line', a: place(k, c.a), b: place(k, c.b) };
    case 'arc': {
      const e = direct(k, { x: Math.cos(c.start), y: Math.sin(c.start) });
      return arcAbout(place(k, c.centre), c.radius * Math.sqrt(Math.abs(det)), Math.atan2(e.y, e.x), Math.sign(det) * c.sweep);
    }
    case 'ellipse':
      return { ...c, a: place(k, c.a), b: place(k, c.b), centre: place(k, c.centre), u: direct(k, c.u), v: direct(k, c.v) };
    case 'spline':
      return {
        kind: 'spline',
        a: place(k, c.a),
        b: place(k, c.b),
        spline: {
          ...c.spline,
          poles: c.spline.poles.map((p) => {
            const q = place(k, { x: p[0]!, y: p[1]! });
            return [q.x, q.y];
          }),
        },
      };
  }
}

const shift = (x: number, y: number): Motion => ({ m: [1, 0, 0, 1], t: { x, y } });
function rotation(about: Point2, angle: number): Motion {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return { m: [c, -s, s, c], t: { x: about.x - c * about.x + s * about.y, y: about.y - s * about.x - c * about.y } };
}
function reflection(a: Point2, b: Point2): Motion {
  const l = distance2(a, b) || 1e-300;
  const [ux, uy] = [(b.x - a.x) / l, (b.y - a.y) / l];
  const m = [ux * ux - uy * uy, 2 * ux * uy, 2 * ux * uy, uy * uy - ux * ux] as const;
  return { m, t: { x: a.x - m[0] * a.x - m[1] * a.y, y: a.y - m[2] * a.x - m[3] * a.y } };
}

export interface DeriveInput {
  readonly curve: (id: string) => PlanarCurve | undefined;
  readonly point: (ref: string) => Point2 | undefined;
  /** The two points of a line, the axis or the base level. */
  readonly line: (ref: string) => readonly [Point2, Point2] | undefined;
  readonly scope: Scope;
}

/** On which side of a closed line, as an offset of it runs, its inside lies; undefined where it is open. */
export function insideOf(curves: readonly PlanarCurve[]): 'left' | 'right' | undefined {
  const chain = curves.length > 0 ? chained(curves) : undefined;
  if (!chain || distance2(chain[0]!.a, chain[chain.length - 1]!.b) > 1e-6) return undefined;
  const area = loopArea(chain.flatMap((c) => flatten(c, 0.01)).map(({ x, y }) => [x, y] as const));
  if (area === 0) return undefined;
  return area > 0 ? 'left' : 'right';
}

/** Works one derivation out. Errors are words without the profile's name. */
export function derive(d: Derived, input: DeriveInput): Result<DerivedOutcome> {
  const sources: { id: string; curve: PlanarCurve }[] = [];
  for (const id of d.of) {
    const curve = input.curve(id);
    if (!curve) return fail(`it follows “${id}”, which is not there any more`);
    sources.push({ id, curve });
  }
  const length = (t: string): Result<number> => evaluateAs(t, 'length', input.scope);
  switch (d.kind) {
    case 'mirror': {
      const l = input.line(d.line);
      if (!l) return fail('its mirror line is not there any more');
      const image = reflection(l[0], l[1]);
      return ok({ curves: sources.map((s) => ({ id: `${d.id}-${s.id}`, curve: moved(s.curve, image) })) });
    }
    case 'offset': {
      const r = length(d.distance);
      if (!r.ok) return r;
      if (!(r.value > 0)) return fail('an offset is more than nothing; choose the other side instead of a negative one');
      const chain = chained(sources.map((s) => s.curve));
      if (!chain) return fail('its curves do not run end to end');
      const closed = chain.length > 1 && distance2(chain[0]!.a, chain[chain.length - 1]!.b) < 1e-6;
      const sides = d.side === 'both' ? [1, -1] : d.side === 'left' ? [1] : [-1];
      const curves: DerivedCurve[] = [];
      const runs: PlanarCurve[][] = [];
      for (const s of sides) {
        const made = offsetChain(chain, s * r.value, closed);
        if (!made.ok) return made;
        runs.push(made.value);
        made.value.forEach((curve, i) => {
          curves.push({ id: `${d.id}-${s > 0 ? 'l' : 'r'}${i + 1}`, curve });
        });
      }
      if (d.ends === 'closed' && !closed) {
        const first = runs[0]!;
        const other = runs[1] ?? chain;
        const join = (a: Point2, b: Point2, id: string): void => {
          if (distance2(a, b) > 1e-7) curves.push({ id: `${d.id}-${id}`, curve: { kind: 'line', a, b } });
        };
        join(other[0]!.a, first[0]!.a, 'start');
        join(first[first.length - 1]!.b, other[other.length - 1]!.b, 'end');
      }
      return ok({ curves });
    }
    case 'linear': {
      const angle = evaluateAs(d.angle, 'angle', input.scope);
      if (!angle.ok) return angle;
      const e = { x: Math.cos(angle.value), y: Math.sin(angle.value) };
      const along = sources.flatMap((s) => flatten(s.curve, 0.01)).map((p) => p.x * e.x + p.y * e.y);
      const values = readAll(
        { count: [d.count, 'number'], length: [d.length, 'length'], margin: [d.margin, 'length'], gap: [d.gap, 'length'] },
        input.scope,
      );
      if (!values.ok) return values;
      const plan = planRow({ by: d.by, ...values.value, size: Math.max(...along) - Math.min(...along) });
      if (!plan.ok) return plan;
      const motions = Array.from({ length: Math.max(0, plan.value.count - 1) }, (_, i) =>
        shift(e.x * plan.value.spacing * (i + 1), e.y * plan.value.spacing * (i + 1)),
      );
      return ok({ curves: numbered(d.id, sources, motions), row: plan.value });
    }
    case 'circular': {
      const centre = input.point(d.centre);
      if (!centre) return fail('its centre is not there any more');
      const count = evaluateAs(d.count, 'number', input.scope);
      if (!count.ok) return count;
      const angle = evaluateAs(d.angle, 'angle', input.scope);
      if (!angle.ok) return angle;
      const n = Math.round(count.value);
      if (Math.abs(n - count.value) > 1e-9 || n < 1 || n > 500) return fail('a count is a whole number from 1 to 500');
      // A whole turn is shared by all; a part of a turn reaches from the first to the last.
      const full = Math.abs(Math.abs(angle.value) - 2 * Math.PI) < 1e-9;
      const step = d.by === 'spacing' ? angle.value : n === 1 ? 0 : angle.value / (full ? n : n - 1);
      const motions = Array.from({ length: n - 1 }, (_, i) => rotation(centre, step * (i + 1)));
      return ok({ curves: numbered(d.id, sources, motions), row: { count: n, spacing: step, gap: 0 } });
    }
  }
}

const numbered = (id: string, sources: readonly DerivedCurve[], motions: readonly Motion[]): DerivedCurve[] =>
  motions.flatMap((k, i) => sources.map((s) => ({ id: `${id}-${i + 2}-${s.id}`, curve: moved(s.curve, k) })));

function readAll<K extends string>(
  texts: Record<K, readonly [string, 'length' | 'number' | 'angle']>,
  scope: Scope,
): Result<Record<K, number>> {
  const out = {} as Record<K, number>;
  for (const k of Object.keys(texts) as K[]) {
    const r = evaluateAs(texts[k][0], texts[k][1], scope);
    if (!r.ok) return fail(`${k}: ${r.error}`);
    out[k] = r.value;
  }
  return ok(out);
}

/** The curves turned so that each begins where the one before ends; undefined where they do not meet. */
function chained(curves: readonly PlanarCurve[]): PlanarCurve[] | undefined {
  const left = [...curves];
  const chain = [left.shift()!];
  while (left.length > 0) {
    const tail = chain[chain.length - 1]!.b;
    const head = chain[0]!.a;
    const i = left.findIndex((c) => [c.a, c.b].some((p) => distance2(p, tail) < 1e-6 || distance2(p, head) < 1e-6));
    if (i < 0) return undefined;
    const c = left.splice(i, 1)[0]!;
    if (distance2(c.a, tail) < 1e-6) chain.push(c);
    else if (distance2(c.b, tail) < 1e-6) chain.push(reverse(c));
    else if (distance2(c.b, head) < 1e-6) chain.unshift(c);
    else chain.unshift(reverse(c));
  }
  return chain;
}
