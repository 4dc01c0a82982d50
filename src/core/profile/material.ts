/** Which of a drawing's regions are filled: every second one from the outside in, or a wall along its lines. */
import { distance2, flatten } from '../curves/planar';
import type { Scope } from '../dimensions/expression';
import { fail, ok, type Result } from '../result';
import { chainWith } from './chain';
import { derive } from './derive';
import { areaAndCentroid } from './outline';
import { findRegions, inside, type Region } from './regions';
import type { ResolvedCurve, ResolvedProfile } from './resolve';

/** Regions with an even number of others about them. */
export function filled(regions: readonly Region[]): Region[] {
  const shapes = regions.map((r) => r.outer.flatMap((c) => flatten(c.curve, 0.02).slice(0, -1)));
  return regions.filter((r, i) => {
    const probe = pointInside(shapes[i]!);
    const depth = regions.filter((o, j) => j !== i && gross(o) > gross(r) * (1 + 1e-9) && inside(shapes[j]!, probe)).length;
    return depth % 2 === 0;
  });
}

const gross = (r: Region): number => Math.abs(areaAndCentroid({ curves: r.outer, onAxis: false }).area);

/** Some place well inside a polygon run counter-clockwise: beside the middle of its longest side. */
function pointInside(shape: readonly { x: number; y: number }[]): { x: number; y: number } {
  let best = 0;
  for (let i = 0; i < shape.length; i++)
    if (distance2(shape[i]!, shape[(i + 1) % shape.length]!) > distance2(shape[best]!, shape[(best + 1) % shape.length]!)) best = i;
  const [a, b] = [shape[best]!, shape[(best + 1) % shape.length]!];
  for (let step = distance2(a, b) * 0.05; step > 1e-9; step /= 4) {
    const l = distance2(a, b);
    const p = { x: (a.x + b.x) / 2 - ((b.y - a.y) / l) * step, y: (a.y + b.y) / 2 + ((b.x - a.x) / l) * step };
    if (inside(shape, p)) return p;
  }
  return a;
}

export type Fill = 'solid' | 'inside' | 'outside' | 'about';

/**
 * What is built from a drawing.
 * @param wall mm, where the drawing's line becomes a wall
 */
export function material(resolved: ResolvedProfile, half: boolean, fill: Fill, wall: number, scope: Scope): Result<Region[]> {
  if (fill === 'solid') {
    const reading = findRegions(resolved, half);
    const crossing = reading.crossings[0];
    if (crossing) return fail(`${crossing.a} and ${crossing.b} cross without a point at ${where(crossing.at)}`);
    const regions = filled(reading.regions);
    if (regions.length > 0) return ok(regions);
    const loose = reading.loose[0];
    return fail(loose ? `no outline is closed; an end is loose at ${where(loose)}` : 'no outline is closed');
  }
  const regions: Region[] = [];
  for (const chain of chainsOf(resolved.curves.filter((c) => !c.construction))) {
    const made = wallAlong(resolved, chain, fill, wall, scope);
    if (!made.ok) return made;
    regions.push(...made.value);
  }
  return regions.length > 0 ? ok(regions) : fail('nothing is drawn yet');
}

/** The wall along one line of a drawing. */
function wallAlong(resolved: ResolvedProfile, curves: readonly ResolvedCurve[], fill: Fill, wall: number, scope: Scope): Result<Region[]> {
  const own = new Map(curves.map((c) => [c.id, c.curve]));
  // Inside of a closed line is on its left where it runs counter-clockwise.
  const whole = findRegions({ ...resolved, curves }, false).regions;
  const runsLeft = whole.length === 0 || whole[0]!.outer.some((c) => c.id === curves[0]?.id && !c.reversed);
  const side = fill === 'about' ? 'both' : (fill === 'inside') === runsLeft ? 'left' : 'right';
  const made = derive(
    { kind: 'offset', id: 'wall', of: curves.map((c) => c.id), distance: `${fill === 'about' ? wall / 2 : wall} mm`, side, ends: 'closed' },
    { curve: (id) => own.get(id), point: () => undefined, line: () => undefined, scope },
  );
  if (!made.ok) return fail(`a wall of ${wall} mm along it: ${made.error}`);
  const kept = fill === 'about' ? [] : curves;
  const all = [...kept, ...made.value.curves.map((c) => ({ ...c, construction: false }))];
  const regions = filled(findRegions({ ...resolved, curves: all }, false).regions);
  return regions.length > 0 ? ok(regions) : fail('no wall closes along it');
}

/** The separate lines of a drawing, each as the curves that hang together. */
function chainsOf(curves: readonly ResolvedCurve[]): ResolvedCurve[][] {
  const left = new Map(curves.map((c) => [c.id, c]));
  const out: ResolvedCurve[][] = [];
  while (left.size > 0) {
    const [id] = left.keys();
    const taken = new Set(chainWith([...left.values()], id!).map((c) => c.id));
    out.push([...left.values()].filter((c) => taken.has(c.id)));
    for (const t of taken) left.delete(t);
  }
  return out;
}

const where = (p: { x: number; y: number }): string => `${p.x.toFixed(2)}, ${p.y.toFixed(2)}`;
