/**
 * A patch over any closed border: every coordinate is harmonic over the disc, with the border at its rim. No place of it lies beyond the
 * border's own bounds (maximum principle), and over a convex border it covers the plane once (Radó, Kneser and Choquet's theorem, from memory).
 */
import { triple, type Vec3 } from '../geometry/vectors';
import { interpolateSurface, type SplineSpace, type SplineSurface } from './space';

/** Places of the border the harmonics are worked out from. */
const SAMPLES = 512;
/** Harmonics kept: what is finer dies away right at the border, which is met exactly anyway. */
const HARMONICS = 120;
/** Spans along one piece of the border; a border of one piece has them all round. */
const ALONG = 48;

/** One piece of a border by a share 0…1 along it, mm. */
export type BorderPiece = (share: number) => Vec3;

/**
 * @param pieces end to end round the border, with their lengths, mm
 * @returns one surface for each piece, u along it, v from the middle (0) to the border (1)
 */
export function membrane(pieces: readonly { readonly at: BorderPiece; readonly length: number }[]): SplineSurface[] {
  const total = pieces.reduce((sum, p) => sum + p.length, 0);
  const starts = pieces.map((_, i) => pieces.slice(0, i).reduce((sum, p) => sum + p.length, 0) / total);
  const border = (share: number): Vec3 => {
    let i = pieces.length - 1;
    while (i > 0 && starts[i]! > share) i--;
    return pieces[i]!.at(Math.min(1, ((share - starts[i]!) * total) / pieces[i]!.length));
  };
  const samples = Array.from({ length: SAMPLES }, (_, i) => border(i / SAMPLES));
  const wave = (k: number, f: (x: number) => number): Vec3 =>
    triple((c) => ((k === 0 ? 1 : 2) / SAMPLES) * samples.reduce((sum, p, i) => sum + p[c]! * f((2 * Math.PI * k * i) / SAMPLES), 0));
  const waves = Array.from({ length: HARMONICS + 1 }, (_, k) => ({ cos: wave(k, Math.cos), sin: wave(k, Math.sin) }));
  const within = (share: number, r: number): Vec3 => {
    const out: [number, number, number] = [0, 0, 0];
    let power = 1;
    for (const [k, w] of waves.entries()) {
      const [co, si] = [power * Math.cos(2 * Math.PI * k * share), power * Math.sin(2 * Math.PI * k * share)];
      for (let c = 0; c < 3; c++) out[c] = out[c]! + co * w.cos[c]! + si * w.sin[c]!;
      power *= r;
      if (power < 1e-14) break;
    }
    return out;
  };
  const v: SplineSpace = {
    degree: 3,
    // Finer towards the border, where the short waves live.
    knots: Array.from({ length: 17 }, (_, i) => 1 - (1 - i / 16) ** 1.7),
    periodic: false,
  };
  const whole = pieces.length === 1;
  const u: SplineSpace = { degree: 3, knots: Array.from({ length: ALONG + 1 }, (_, i) => i / ALONG), periodic: whole };
  return pieces.map((piece, i) =>
    interpolateSurface(u, v, (s, r) => {
      const along = whole ? s - Math.floor(s) : s;
      return r >= 1 - 1e-12 ? piece.at(along) : within((starts[i]! + (along * piece.length) / total) % 1, r);
    }),
  );
}
