/** What each drawing tool makes of the places clicked or typed: points, curves, and the constraints that make the shape what it is. */
import { arcThrough, distance2, type Point2 } from '../curves/planar';
import type { Profile } from '../recipe/schema';
import { fail, ok, type Result } from '../result';
import { addConstraint, addCurve, addPoint, hasConstraint, type NewConstraint, type NewCurve } from './draw';
import type { Keep } from './snap';
import { endsOf } from './solver/terms';
import { type FontName, fontOf } from './typed';

export interface Place {
  readonly at: Point2;
  /** A point that is already there. */
  readonly point?: string;
  /** Constraints that keep a new point where it fell. */
  readonly keep?: readonly Keep[];
  /** Dimensions of a new point by what was typed for it. */
  readonly typed?: readonly Keep[];
  /** What was typed as a size alone, where it follows a named dimension. */
  readonly size?: string;
}

export type DrawTool =
  | 'point'
  | 'line'
  | 'arc'
  | 'centre-arc'
  | 'tangent-arc'
  | 'circle'
  | 'ellipse'
  | 'ellipse-arc'
  | 'rectangle'
  | 'centre-rectangle'
  | 'polygon'
  | 'slot'
  | 'spline'
  | 'control'
  | 'text';

export interface DrawOptions {
  readonly sides: number;
  readonly degree: number;
  readonly text: string;
  readonly textHeight: string;
  readonly font?: FontName;
  readonly construction: boolean;
}

/** How many places a tool takes; `more` takes as many as are given. */
export const PLACES: Readonly<Record<DrawTool, { readonly count: number; readonly more?: boolean; readonly ask: readonly string[] }>> = {
  point: { count: 1, ask: ['where'] },
  line: { count: 2, ask: ['from', 'to'] },
  arc: { count: 3, ask: ['from', 'to', 'through'] },
  'centre-arc': { count: 3, ask: ['centre', 'from', 'towards'] },
  'tangent-arc': { count: 2, ask: ['from the end of a curve', 'to'] },
  circle: { count: 2, ask: ['centre', 'radius, or a place on it'] },
  ellipse: { count: 3, ask: ['centre', 'end of one half-axis', 'reach of the other'] },
  'ellipse-arc': { count: 5, ask: ['centre', 'end of one half-axis', 'reach of the other', 'from', 'to, counter-clockwise'] },
  rectangle: { count: 2, ask: ['corner', 'opposite corner'] },
  'centre-rectangle': { count: 2, ask: ['centre', 'corner'] },
  polygon: { count: 2, ask: ['centre', 'radius, or a corner'] },
  slot: { count: 3, ask: ['centre of one end', 'centre of the other', 'half width'] },
  spline: { count: 2, more: true, ask: ['from', 'through'] },
  control: { count: 3, more: true, ask: ['from', 'control point'] },
  text: { count: 1, ask: ['start of the baseline'] },
};

/**
 * The place that a length alone stands for, where the next thing a tool asks for is a size: a radius, a half-axis, half a width. A first half-axis, a radius
 * and a polygon's corner lie to the right of the centre.
 * @param size mm, above 0
 * @returns undefined where the tool asks for a place
 */
export function placeOfSize(tool: DrawTool, places: readonly Point2[], size: number): Point2 | undefined {
  const [p0, p1] = places;
  if (p0 && !p1 && (tool === 'circle' || tool === 'polygon' || tool === 'ellipse' || tool === 'ellipse-arc'))
    return { x: p0.x + size, y: p0.y };
  if (!p0 || !p1 || places.length !== 2) return undefined;
  const l = distance2(p0, p1);
  const [nx, ny] = [-(p1.y - p0.y) / l, (p1.x - p0.x) / l];
  // Measured from the line through both places, wherever along it; the half-axis from the centre.
  if (tool === 'slot') return { x: p1.x + size * nx, y: p1.y + size * ny };
  if (tool === 'ellipse' || tool === 'ellipse-arc') return { x: p0.x + size * nx, y: p0.y + size * ny };
  return undefined;
}

export interface Drawn {
  readonly profile: Profile;
  readonly curves: readonly string[];
  /** Constraints put in by snapping, which the maker may refuse. */
  readonly kept: readonly string[];
  /** The point a next curve would go on from. */
  readonly end?: string;
}

/** Collects points, curves and constraints while a shape is made. */
class Maker {
  readonly curves: string[] = [];
  readonly kept: string[] = [];
  constructor(
    public profile: Profile,
    private readonly construction: boolean,
  ) {}
  at(at: Point2, reference = false): string {
    const r = addPoint(this.profile, at, reference);
    this.profile = r.profile;
    return r.id;
  }
  /** @param before the point this one was drawn from, @param from the one it was measured from */
  place(p: Place, before?: string, from = before): string {
    if (p.point && this.profile.points.some((q) => q.id === p.point)) {
      if (before && before !== p.point) this.keep(p, p.point, before);
      return p.point;
    }
    const id = this.at(p.at);
    this.own(p, id, before, from);
    return id;
  }
  keep(p: Place, id: string, before?: string): void {
    this.hold(p.keep, id, before);
  }
  /** A point that is made already is kept as the place was. */
  own(p: Place, id: string, before?: string, from = before): void {
    this.keep(p, id, before);
    this.hold(p.typed, id, from);
  }
  /** Places one after the other: what was typed from the last one is held from it. */
  row(places: readonly Place[]): string[] {
    const ids: string[] = [];
    for (const p of places) ids.push(this.place(p, undefined, ids.at(-1)));
    return ids;
  }
  /** A place that a curve only runs through is held by a point of reference on it, where it follows named dimensions. */
  through(p: Place, curve: string, before?: string): void {
    if (!p.typed?.length) return;
    const id = this.at(p.at, true);
    this.own(p, id, before);
    this.tie({ kind: 'on-curve', point: id, curve });
  }
  private hold(keeps: readonly Keep[] | undefined, id: string, before?: string): void {
    for (const k of keeps ?? []) {
      const c = k(id, before);
      if (c && !hasConstraint(this.profile, c)) this.kept.push(this.tie(c));
    }
  }
  curve(c: NewCurve): string {
    const r = addCurve(this.profile, this.construction ? ({ ...c, construction: true } as NewCurve) : c);
    this.profile = r.profile;
    this.curves.push(r.id);
    return r.id;
  }
  tie(c: NewConstraint): string {
    const r = addConstraint(this.profile, c);
    this.profile = r.profile;
    return r.id;
  }
  where(id: string): Point2 {
    return this.profile.points.find((p) => p.id === id)!;
  }
  done(end?: string): Result<Drawn> {
    return ok({ profile: this.profile, curves: this.curves, kept: this.kept, ...(end ? { end } : {}) });
  }
}

const angleOf = (c: Point2, p: Point2): number => Math.atan2(p.y - c.y, p.x - c.x);

/**
 * Makes a shape.
 * @returns an error in words where the places allow no such shape
 */
export function drawShape(profile: Profile, tool: DrawTool, places: readonly Place[], options: DrawOptions): Result<Drawn> {
  const need = PLACES[tool];
  if (places.length < need.count) return fail(`${need.count} places are wanted`);
  for (let i = 1; i < places.length; i++)
    if (tool !== 'ellipse-arc' && distance2(places[i - 1]!.at, places[i]!.at) < 1e-6) return fail('two places in a row fall together');
  const m = new Maker(profile, options.construction);
  const [p0, p1, p2] = places as [Place, Place, Place];
  switch (tool) {
    case 'point': {
      const id = m.at(p0.at, true);
      m.own(p0, id);
      return m.done(id);
    }
    case 'line': {
      const from = m.place(p0);
      const to = m.place(p1, from);
      m.curve({ kind: 'line', from, to });
      return m.done(to);
    }
    case 'arc': {
      const arc = arcThrough(p0.at, p2.at, p1.at);
      if (!arc) return fail('the three places lie on one line');
      const from = m.place(p0);
      const to = m.place(p1, from);
      const made = m.curve({ kind: 'arc', from, to, centre: m.at(arc.centre), ccw: arc.sweep > 0 });
      m.through(p2, made, to);
      return m.done(to);
    }
    case 'centre-arc': {
      const r = distance2(p0.at, p1.at);
      const w = angleOf(p0.at, p2.at);
      const turn = angleOf(p0.at, p2.at) - angleOf(p0.at, p1.at);
      const centre = m.place(p0);
      const from = m.place(p1, centre);
      const onRim = Math.abs(distance2(p0.at, p2.at) - r) < 1e-6;
      const to = onRim ? m.place(p2) : m.at({ x: p0.at.x + r * Math.cos(w), y: p0.at.y + r * Math.sin(w) });
      m.curve({ kind: 'arc', from, to, centre, ccw: Math.sin(turn) >= 0 });
      return m.done(to);
    }
    case 'tangent-arc':
      return tangentArc(m, p0, p1);
    case 'circle': {
      const centre = m.place(p0);
      const made = m.curve({ kind: 'circle', centre, radius: distance2(p0.at, p1.at) });
      if (p1.size) m.tie({ kind: 'radius', curve: made, value: p1.size, driving: true });
      else m.through(p1, made, centre);
      return m.done();
    }
    case 'ellipse':
    case 'ellipse-arc': {
      const a = distance2(p0.at, p1.at);
      if (a < 1e-6) return fail('the half-axis has no length');
      const [ux, uy] = [(p1.at.x - p0.at.x) / a, (p1.at.y - p0.at.y) / a];
      const minor = Math.abs((p2.at.x - p0.at.x) * -uy + (p2.at.y - p0.at.y) * ux);
      if (minor < 1e-6) return fail('the other half-axis has no length');
      const centre = m.place(p0);
      const major = m.place(p1, centre);
      if (tool === 'ellipse') {
        m.curve({ kind: 'ellipse', centre, major, minor });
        return m.done();
      }
      const rim = (p: Point2): Point2 => {
        const [wx, wy] = [p.x - p0.at.x, p.y - p0.at.y];
        const w = Math.atan2((wy * ux - wx * uy) / minor, (wx * ux + wy * uy) / a);
        return {
          x: p0.at.x + a * Math.cos(w) * ux - minor * Math.sin(w) * uy,
          y: p0.at.y + a * Math.cos(w) * uy + minor * Math.sin(w) * ux,
        };
      };
      const from = m.at(rim(places[3]!.at));
      const to = m.at(rim(places[4]!.at));
      m.curve({ kind: 'ellipse', centre, major, minor, arc: { from, to, ccw: true } });
      return m.done(to);
    }
    case 'rectangle':
    case 'centre-rectangle': {
      const a = tool === 'rectangle' ? p0.at : { x: 2 * p0.at.x - p1.at.x, y: 2 * p0.at.y - p1.at.y };
      const c = p1.at;
      if (Math.abs(a.x - c.x) < 1e-6 || Math.abs(a.y - c.y) < 1e-6) return fail('the two places make no rectangle');
      const pa = tool === 'rectangle' ? m.place(p0) : m.at(a);
      const pb = m.at({ x: c.x, y: a.y });
      const pc = m.place(p1);
      const pd = m.at({ x: a.x, y: c.y });
      m.curve({ kind: 'line', from: pa, to: pb });
      m.curve({ kind: 'line', from: pb, to: pc });
      m.curve({ kind: 'line', from: pc, to: pd });
      m.curve({ kind: 'line', from: pd, to: pa });
      m.tie({ kind: 'horizontal', a: pa, b: pb });
      m.tie({ kind: 'vertical', a: pb, b: pc });
      m.tie({ kind: 'horizontal', a: pc, b: pd });
      m.tie({ kind: 'vertical', a: pd, b: pa });
      if (tool === 'centre-rectangle') {
        const centre = m.at(p0.at, true);
        m.own(p0, centre);
        const diagonal = addCurve(m.profile, { kind: 'line', from: pa, to: pc, construction: true });
        m.profile = diagonal.profile;
        m.tie({ kind: 'midpoint', point: centre, curve: diagonal.id });
      }
      return m.done();
    }
    case 'polygon': {
      const n = Math.round(options.sides);
      if (!(n >= 3 && n <= 60)) return fail('a polygon has 3 to 60 sides');
      const r = distance2(p0.at, p1.at);
      const start = angleOf(p0.at, p1.at);
      const centre = m.place(p0);
      const corners = [m.place(p1, centre)];
      for (let i = 1; i < n; i++) {
        const w = start + (2 * Math.PI * i) / n;
        corners.push(m.at({ x: p0.at.x + r * Math.cos(w), y: p0.at.y + r * Math.sin(w) }));
      }
      const circle = addCurve(m.profile, { kind: 'circle', centre, radius: r, construction: true });
      m.profile = circle.profile;
      if (p1.size) m.tie({ kind: 'radius', curve: circle.id, value: p1.size, driving: true });
      const sides = corners.map((from, i) => m.curve({ kind: 'line', from, to: corners[(i + 1) % n]! }));
      for (const c of corners) m.tie({ kind: 'on-curve', point: c, curve: circle.id });
      for (let i = 1; i < n; i++) m.tie({ kind: 'equal', a: sides[i - 1]!, b: sides[i]! });
      return m.done();
    }
    case 'slot': {
      const l = distance2(p0.at, p1.at);
      const [ux, uy] = [(p1.at.x - p0.at.x) / l, (p1.at.y - p0.at.y) / l];
      const w = Math.abs((p2.at.x - p0.at.x) * -uy + (p2.at.y - p0.at.y) * ux);
      if (w < 1e-6) return fail('the slot has no width');
      const c0 = m.place(p0);
      const c1 = m.place(p1, c0);
      const corner = (c: Point2, side: number): string => m.at({ x: c.x - side * w * uy, y: c.y + side * w * ux });
      const [a, b, c, d] = [corner(p0.at, -1), corner(p1.at, -1), corner(p1.at, 1), corner(p0.at, 1)];
      const low = m.curve({ kind: 'line', from: a, to: b });
      const right = m.curve({ kind: 'arc', from: b, to: c, centre: c1, ccw: true });
      const high = m.curve({ kind: 'line', from: c, to: d });
      const left = m.curve({ kind: 'arc', from: d, to: a, centre: c0, ccw: true });
      m.tie({ kind: 'tangent', a: low, b: right });
      m.tie({ kind: 'tangent', a: right, b: high });
      m.tie({ kind: 'tangent', a: high, b: left });
      m.tie({ kind: 'tangent', a: left, b: low });
      // Four tangencies alone leave the two radii free of each other.
      m.tie({ kind: 'equal', a: right, b: left });
      if (p2.size) m.tie({ kind: 'radius', curve: right, value: p2.size, driving: true });
      return m.done();
    }
    case 'spline': {
      const ids = m.row(places);
      m.curve({ kind: 'spline', from: ids[0]!, to: ids[ids.length - 1]!, through: ids.slice(1, -1) });
      return m.done(ids[ids.length - 1]);
    }
    case 'control': {
      const ids = m.row(places);
      m.curve({ kind: 'control', points: ids, degree: Math.min(Math.max(1, Math.round(options.degree)), ids.length - 1, 7) });
      return m.done(ids[ids.length - 1]);
    }
    case 'text': {
      if (options.text.trim() === '') return fail('type the text first');
      m.curve({
        kind: 'text',
        point: m.place(p0),
        text: options.text.slice(0, 60),
        height: options.textHeight,
        angle: '0°',
        ...fontOf(options.font ?? 'sans'),
      });
      return m.done();
    }
  }
}

/** An arc that goes on from the end of a line or an arc without a corner. */
function tangentArc(m: Maker, from: Place, to: Place): Result<Drawn> {
  if (!from.point) return fail('a tangent arc starts at the end of a curve');
  const before = m.profile.curves.find((c) => {
    const e = endsOf(c);
    return e && (e.from === from.point || e.to === from.point);
  });
  if (!before) return fail('a tangent arc starts at the end of a curve');
  let heading: number;
  if (before.kind === 'line' || before.kind === 'control' || before.kind === 'spline') {
    const ids =
      before.kind === 'line'
        ? [before.from, before.to]
        : before.kind === 'spline'
          ? [before.from, ...before.through, before.to]
          : before.points;
    const atStart = ids[0] === from.point;
    const next = m.where(atStart ? ids[1]! : ids[ids.length - 2]!);
    heading = angleOf(next, from.at);
    if (before.kind === 'spline') {
      const h = before[atStart ? 'start' : 'end'];
      if (!h) return fail('give the spline a handle at this end first');
      heading = (h.angle * Math.PI) / 180 + Math.PI;
    }
  } else if (before.kind === 'arc') {
    const c = m.where(before.centre);
    const w = angleOf(c, from.at);
    const forward = before.to === from.point;
    heading = w + ((before.ccw === forward ? 1 : -1) * Math.PI) / 2;
  } else return fail('a tangent arc goes on from a line, an arc or a spline');
  const [dx, dy] = [to.at.x - from.at.x, to.at.y - from.at.y];
  const across = -Math.sin(heading) * dx + Math.cos(heading) * dy;
  if (Math.abs(across) < 1e-6) return fail('straight ahead there is no arc');
  // |P + rn − Q| = |r|: the centre lies on the normal at the start.
  const r = (dx * dx + dy * dy) / (2 * across);
  const centre = m.at({ x: from.at.x - r * Math.sin(heading), y: from.at.y + r * Math.cos(heading) });
  const end = m.place(to, from.point);
  const arc = m.curve({ kind: 'arc', from: from.point, to: end, centre, ccw: r > 0 });
  m.kept.push(m.tie({ kind: 'tangent', a: before.id, b: arc }));
  return m.done(end);
}
