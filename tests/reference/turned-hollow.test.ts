/**
 * Hollows of 300 random turned bodies at eight walls each, from a few hundredths of their limit to beyond it, against outlines eroded by a general-purpose
 * polygon library (clipper2-ts), whose chords and rounding are the difference that is allowed.
 */
import { Clipper, ClipType, EndType, FillRule, JoinType, type PathsD } from 'clipper2-ts';
import { describe, expect, it } from 'vitest';
import { pointAt } from '../../src/core/curves/planar';
import { hollowOf, prepareHollow } from '../../src/core/turned/hollow';
import { hollowLimits } from '../../src/core/turned/limits';
import type { Loop, MeridianCurve } from '../../src/core/turned/meridian';
import { AXIS, curvesOf, sweptVolume } from '../../src/core/turned/meridian';
import { everyCase } from '../support/properties';
import { randomTurnedBodies, type TurnedBody } from '../support/turned';

/** Chords lie this near to the curves, mm. */
const CHORD = 1e-3;
const SHARES = [0.004, 0.03, 0.1, 0.25, 0.5, 0.8, 0.97, 1.05];

function chords({ curve }: MeridianCurve): { x: number; y: number }[] {
  if (curve.kind === 'line') return [curve.a, curve.b];
  const n = curve.kind === 'arc' ? 2 + Math.ceil(Math.abs(curve.sweep) / (2 * Math.acos(Math.max(0, 1 - CHORD / curve.radius)))) : 300;
  return Array.from({ length: n + 1 }, (_, i) => pointAt(curve, i / n));
}

/** What is kept, in chains; whether it is one closed line. */
function keptChains(loop: Loop, open: ReadonlySet<string>): { chains: PathsD; closed: boolean } {
  const kept = (c: MeridianCurve): boolean => c.face !== AXIS && !open.has(c.face);
  const start = loop.findIndex((c) => !kept(c));
  const chains: PathsD = [];
  let now: { x: number; y: number }[] | undefined;
  for (const c of start < 0 ? loop : [...loop.slice(start), ...loop.slice(0, start)]) {
    if (!kept(c)) now = undefined;
    else if (now) now.push(...chords(c).slice(1));
    else {
      now = chords(c);
      chains.push(now);
    }
  }
  return { chains, closed: start < 0 };
}

/** Volume that polygons sweep about the axis. */
const swept = (paths: PathsD): number => {
  let sum = 0;
  for (const path of paths)
    path.forEach((a, i) => {
      const b = path[(i + 1) % path.length]!;
      sum += ((b.y - a.y) * (a.x * a.x + a.x * b.x + b.x * b.x)) / 3;
    });
  return Math.PI * sum;
};

function eroded({ meridian, open }: TurnedBody, wall: number): number {
  const body: PathsD = meridian.loops.map((l) => l.flatMap((c) => chords(c).slice(0, -1)));
  const { chains, closed } = keptChains(meridian.loops[0]!, open);
  const grown = Clipper.inflatePathsD(chains, wall, JoinType.Round, closed ? EndType.Joined : EndType.Round, 2, 6, CHORD);
  return Math.abs(swept(Clipper.booleanOpD(ClipType.Difference, body, grown, FillRule.NonZero, 6) as PathsD));
}

describe('hollows of random turned bodies', () => {
  const bodies = randomTurnedBodies(300, 20_000).filter((_, i) => everyCase || i % 3 === 0);
  it('are made wherever they exist, are what erosion leaves, and grow as the wall gets thinner', () => {
    let [existing, made, tried] = [0, 0, 0];
    const wrong: string[] = [];
    for (const b of bodies) {
      const prepared = prepareHollow(b.meridian, (f) => b.open.has(f));
      const { largest } = hollowLimits(prepared);
      let before = Number.POSITIVE_INFINITY;
      for (const share of SHARES) {
        const wall = Math.max(0.02, share * largest.value);
        const told = `${b.kind} ${b.seed} at ${wall}`;
        const reference = eroded(b, wall);
        const exists = reference > 2e-4 * prepared.volume;
        tried++;
        if (exists) existing++;
        const hollow = hollowOf(prepared, () => wall);
        if (!hollow.ok) continue;
        const volume = sweptVolume(hollow.value.cavity.map((l) => l.map((c) => c.curve)));
        if (exists) made++;
        if (Math.abs(volume - reference) > 1e-4 * sweptVolume(curvesOf(b.meridian))) wrong.push(`${told}: ${volume}, not ${reference}`);
        if (volume > before * (1 + 1e-9)) wrong.push(`${told}: more than at the thinner wall`);
        if (wall > largest.value * (1 + 1e-6) && volume > 0) wrong.push(`${told}: beyond its limit of ${largest.value}`);
        before = volume;
      }
    }
    expect(wrong).toEqual([]);
    expect(tried).toBe(bodies.length * SHARES.length);
    expect(existing).toBeGreaterThan(6 * bodies.length);
    expect(made / existing).toBeGreaterThanOrEqual(0.995);
  });
});
