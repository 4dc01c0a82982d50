/**
 * Cavities of 100 random bodies of constant section, outlines of lines and arcs with and without holes, at eight walls each, against outlines eroded by a
 * general-purpose polygon library (clipper2-ts).
 */
import { Clipper, EndType, JoinType, type PathsD } from 'clipper2-ts';
import { describe, expect, it } from 'vitest';
import { ORIGIN_PLANES } from '../../src/core/curves/frame';
import { arcAbout, arcThrough, type PlanarCurve, type Point2, pointAt } from '../../src/core/curves/planar';
import { type Loop, type Meridian, reversedLoop, signedArea } from '../../src/core/turned/meridian';
import type { Straight } from '../../src/kernel/outlines';
import { plannedStraightHollow, straightLimit } from '../../src/kernel/straight';
import { randomFrom } from '../support/turned';

const CHORD = 1e-3;

/** A star of sides that are lines or shallow arcs, here and there with a round hole. */
function randomSection(seed: number): Meridian {
  const random = randomFrom(seed);
  const between = (a: number, b: number): number => a + (b - a) * random();
  const n = 3 + Math.floor(random() * 6);
  const corners = Array.from({ length: n }, (_, i): Point2 => {
    const w = (2 * Math.PI * (i + between(0, 0.5))) / n;
    const r = between(18, 45);
    return { x: r * Math.cos(w), y: r * Math.sin(w) };
  });
  const outer: Loop = corners.map((a, i) => {
    const b = corners[(i + 1) % n]!;
    const bow = random() < 0.4 ? between(-0.12, 0.12) : 0;
    const through = { x: (a.x + b.x) / 2 + bow * (b.y - a.y), y: (a.y + b.y) / 2 - bow * (b.x - a.x) };
    const curve: PlanarCurve = (bow !== 0 && arcThrough(a, through, b)) || { kind: 'line', a, b };
    return { curve, face: `s1/c${i}` };
  });
  const hole: Loop = [{ curve: arcAbout({ x: between(-3, 3), y: between(-3, 3) }, between(2, 5), 0, 2 * Math.PI), face: 's1/hole' }];
  return { loops: random() < 0.4 ? [outer, reversedLoop(hole)] : [outer] };
}

const chords = (c: PlanarCurve): Point2[] => {
  if (c.kind !== 'arc') return [c.a];
  const n = 2 + Math.ceil(Math.abs(c.sweep) / (2 * Math.acos(1 - CHORD / c.radius)));
  return Array.from({ length: n }, (_, i) => pointAt(c, i / n));
};
const polygonArea = (paths: PathsD): number =>
  paths.reduce(
    (sum, p) =>
      sum +
      p.reduce((a, q, i) => {
        const r = p[(i + 1) % p.length]!;
        return a + (q.x * r.y - r.x * q.y) / 2;
      }, 0),
    0,
  );

describe('cavities of bodies of constant section', () => {
  it('are what erosion leaves of the outline, as high as the floor leaves, less at every thicker wall, and none beyond their limit', () => {
    const [open, wrong]: [ReadonlySet<string>, string[]] = [new Set(['s1/end']), []];
    let [existing, made] = [0, 0];
    for (let seed = 0; seed < 100; seed++) {
      const section = randomSection(seed);
      const s: Straight = { frame: ORIGIN_PLANES.level, height: 60, section, start: 's1/start', end: 's1/end' };
      const limit = straightLimit(s, open).value;
      const whole = section.loops.reduce((sum, l) => sum + signedArea(l), 0);
      let before = Number.POSITIVE_INFINITY;
      for (const share of [0.01, 0.05, 0.15, 0.3, 0.5, 0.75, 0.95, 1.03]) {
        const wall = share * limit;
        const paths: PathsD = section.loops.map((l) => l.flatMap((c) => chords(c.curve)));
        const reference = polygonArea(Clipper.inflatePathsD(paths, -wall, JoinType.Round, EndType.Polygon, 2, 6, CHORD)) * (60 - wall);
        if (reference > 2e-4 * whole * 60) existing++;
        const plan = plannedStraightHollow(s, open, () => wall, 's2');
        if (plan === undefined) continue;
        const area = plan?.cavity.reduce((sum, m) => sum + m.loops.reduce((a, l) => a + signedArea(l), 0), 0) ?? 0;
        const volume = plan ? area * (plan.to - plan.from) : 0;
        if (reference > 2e-4 * whole * 60) made++;
        const told = `section ${seed} at ${wall}`;
        if (Math.abs(volume - reference) > 1e-4 * whole * 60) wrong.push(`${told}: ${volume}, not ${reference}`);
        if (volume > before * (1 + 1e-9)) wrong.push(`${told}: more than at the thinner wall`);
        if (share > 1 && volume > 0) wrong.push(`${told}: beyond its limit of ${limit}`);
        before = volume;
      }
    }
    expect(wrong).toEqual([]);
    expect(existing).toBeGreaterThan(550);
    expect(made / existing).toBeGreaterThanOrEqual(0.995);
  });
});
