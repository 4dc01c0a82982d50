/** A profile of the document as variables and equations. */
import type { Handle, Profile, ProfileCurve } from '../../recipe/schema';
import { Builder, Refusal } from './builder';
import { addConstraint } from './constraints';
import type { LineVars, PointVars } from './rows';
import * as rows from './rows';
import { onEllipse } from './tangency';
import { AXIS, LEVEL, ORIGIN, type Sketch } from './terms';

/**
 * Builds the equations.
 * @param targets driving dimensions by constraint: mm, rad or plain
 */
export function buildSketch(profile: Profile, targets: ReadonlyMap<string, number>): Sketch {
  const b = new Builder(profile);
  const frame = (name: string, x: number, y: number): void => {
    const v: PointVars = [b.variable(x), b.variable(y)];
    b.points.set(name, v);
    b.still(...v);
  };
  frame(ORIGIN, 0, 0);
  frame(`#${AXIS}`, 0, 1);
  frame(`#${LEVEL}`, 1, 0);
  for (const p of profile.points) {
    const v: PointVars = [b.variable(p.x), b.variable(p.y)];
    b.points.set(p.id, v);
    if (profile.followed?.has(p.id)) b.still(...v);
  }
  for (const c of profile.curves)
    if (profile.followed?.has(c.id)) addStill(b, c);
    else addCurve(b, c);
  for (const c of profile.constraints) if (c.kind === 'coincident') b.merge(c.a, c.b);
  for (const c of profile.constraints) {
    try {
      addConstraint(b, c, targets);
    } catch (e) {
      if (!(e instanceof Refusal)) throw e;
      b.refused.push({ constraint: c.id, why: e.message });
    }
  }
  const lines = profile.curves.flatMap((c) => (c.kind === 'line' ? [{ id: c.id, vars: b.line(c.id) }] : []));
  const corners: [LineVars, LineVars][] = [];
  const at = new Map<string, LineVars[]>();
  for (const c of profile.curves) {
    if (c.kind !== 'line') continue;
    const l = b.line(c.id);
    for (const [end, away] of [
      [c.from, l],
      [c.to, [l[2], l[3], l[0], l[1]] as LineVars],
    ] as const) {
      const key = b.canonical(end);
      const list = at.get(key);
      if (list) list.push(away);
      else at.set(key, [away]);
    }
  }
  for (const list of at.values())
    for (let i = 0; i + 1 < list.length; i++) for (let j = i + 1; j < list.length; j++) corners.push([list[i]!, list[j]!]);
  return {
    profile,
    system: {
      x: Float64Array.from(b.x),
      weight: Float64Array.from(b.weight),
      params: Float64Array.from(b.params),
      equations: b.equations,
      size: b.size,
    },
    points: b.points,
    curves: b.curves,
    dimensions: b.dimensions,
    lines,
    corners,
    refused: b.refused,
  };
}

/** A curve that follows a body: what it has besides its points is given too. */
function addStill(b: Builder, c: ProfileCurve): void {
  const at = (p: string): readonly [number, number] => [b.value(b.point(p)[0]), b.value(b.point(p)[1])];
  switch (c.kind) {
    case 'circle': {
      const radius = b.variable(c.radius);
      b.still(radius);
      b.curves.set(c.id, { curve: c, radius });
      return;
    }
    case 'ellipse': {
      const minor = b.variable(c.minor);
      b.still(minor);
      b.curves.set(c.id, { curve: c, minor });
      return;
    }
    case 'arc': {
      const [[px, py], [qx, qy], [mx, my]] = [at(c.from), at(c.to), at(c.centre)];
      const sense = c.ccw ? 1 : -1;
      const start = Math.atan2(py - my, px - mx);
      let sweep = sense * (Math.atan2(qy - my, qx - mx) - start);
      while (sweep <= 1e-12) sweep += 2 * Math.PI;
      const vars = [Math.hypot(px - mx, py - my), start, start + sense * sweep].map((v) => b.variable(v)) as [number, number, number];
      b.still(...vars);
      b.curves.set(c.id, { curve: c, radius: vars[0], a0: vars[1], a1: vars[2], sense });
      return;
    }
    default:
      b.curves.set(c.id, { curve: c });
  }
}

function addCurve(b: Builder, c: ProfileCurve): void {
  const own = `#${c.id}`;
  switch (c.kind) {
    case 'arc': {
      const [p, q, m] = [b.point(c.from), b.point(c.to), b.point(c.centre)];
      const ang = (e: PointVars): number => Math.atan2(b.value(e[1]) - b.value(m[1]), b.value(e[0]) - b.value(m[0]));
      const r = Math.max(
        1e-9,
        (Math.hypot(b.value(p[0]) - b.value(m[0]), b.value(p[1]) - b.value(m[1])) +
          Math.hypot(b.value(q[0]) - b.value(m[0]), b.value(q[1]) - b.value(m[1]))) /
          2,
      );
      const sense = c.ccw ? 1 : -1;
      const start = ang(p);
      let sweep = sense * (ang(q) - start);
      while (sweep <= 1e-12) sweep += 2 * Math.PI;
      while (sweep > 2 * Math.PI) sweep -= 2 * Math.PI;
      const w = Math.max(1, r * r);
      const radius = b.variable(r);
      const a0 = b.variable(start, w);
      const a1 = b.variable(start + sense * sweep, w);
      for (const [e, a] of [
        [p, a0],
        [q, a1],
      ] as const) {
        b.row(own, rows.arcEnd(e[0], m[0], radius, a, false));
        b.row(own, rows.arcEnd(e[1], m[1], radius, a, true));
      }
      b.curves.set(c.id, { curve: c, radius, a0, a1, sense });
      return;
    }
    case 'circle':
      b.curves.set(c.id, { curve: c, radius: b.variable(c.radius) });
      return;
    case 'ellipse': {
      const minor = b.variable(c.minor);
      b.curves.set(c.id, { curve: c, minor });
      for (const end of c.arc ? [c.arc.from, c.arc.to] : []) b.row(own, onEllipse(b, c, minor, b.point(end)));
      return;
    }
    case 'spline': {
      const via = [c.from, ...c.through, c.to].map((p) => b.point(p));
      let chord = 0;
      for (let i = 1; i < via.length; i++)
        chord += Math.hypot(b.value(via[i]![0]) - b.value(via[i - 1]![0]), b.value(via[i]![1]) - b.value(via[i - 1]![1]));
      const w = Math.max(1, (chord / 3) ** 2);
      const handles = new Map<string, readonly [number, number]>();
      const add = (key: string, h: Handle | undefined): void => {
        if (h) handles.set(key, [b.variable((h.angle * Math.PI) / 180, w), b.variable(h.weight, w)]);
      };
      add('start', c.start);
      add('end', c.end);
      for (const [p, h] of Object.entries(c.at ?? {})) add(p, h);
      b.curves.set(c.id, { curve: c, handles });
      return;
    }
    default:
      b.curves.set(c.id, { curve: c });
  }
}
