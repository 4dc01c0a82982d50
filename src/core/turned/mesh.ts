/** A turned body as triangles, straight from its meridian: corners on its skin, normals those of the skin. */
import { evaluatorOf, newJet } from './jets';
import type { Meridian } from './meridian';
import { type MeridianCurve, skinOf } from './meridian';

export interface TurnedMesh {
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  readonly indices: Uint32Array;
  /** Index of the curve, in the order of `skinOf`, each triangle belongs to. */
  readonly curveOf: Uint32Array;
}

/** Facets turn by at most this along a curve, rad. */
const TURN = 0.12;
const AROUND = 96;

/** Parameters along a curve, near enough that facets lie within a distance of it. */
function rowsOf({ curve }: MeridianCurve, deflection: number): number[] {
  if (curve.kind === 'line') return [0, 1];
  const e = evaluatorOf(curve);
  const j = newJet();
  const out = [0];
  for (let b = 1; b < e.breaks.length; b++) {
    const [from, to] = [e.breaks[b - 1]!, e.breaks[b]!];
    const fine = curve.kind === 'arc' ? 1 : 8;
    for (let k = 0; k < fine; k++) {
      const [s, t] = [from + ((to - from) * k) / fine, from + ((to - from) * (k + 1)) / fine];
      e.into((s + t) / 2, j);
      const speed = Math.hypot(j[2]!, j[3]!);
      const bend = speed > 0 ? Math.abs(j[2]! * j[5]! - j[3]! * j[4]!) / speed ** 3 : 0;
      const length = speed * (t - s);
      // Sagitta of a chord: bend · chord² / 8.
      const n = Math.max(1, Math.ceil((bend * length) / TURN), Math.ceil(length * Math.sqrt(bend / (8 * deflection))));
      for (let i = 1; i <= n; i++) out.push(s + ((t - s) * i) / n);
    }
  }
  return out;
}

/** @param deflection how far facets may lie off the skin along its curves, mm */
export function turnedMesh(m: Meridian, deflection: number): TurnedMesh {
  const skin = skinOf(m);
  const radius = Math.max(...skin.flatMap((c) => [c.curve.a.x, c.curve.b.x]));
  const around = Math.max(
    AROUND,
    Math.min(720, Math.ceil(Math.PI / Math.acos(Math.max(0, 1 - deflection / Math.max(radius, deflection))))),
  );
  const [cos, sin] = [new Float64Array(around + 1), new Float64Array(around + 1)];
  for (let i = 0; i <= around; i++) {
    cos[i] = Math.cos((2 * Math.PI * (i % around)) / around);
    sin[i] = Math.sin((2 * Math.PI * (i % around)) / around);
  }
  const [positions, normals, indices, curveOf]: [number[], number[], number[], number[]] = [[], [], [], []];
  const j = newJet();
  skin.forEach((c, index) => {
    const e = evaluatorOf(c.curve);
    const rows = rowsOf(c, deflection);
    const base = positions.length / 3;
    const radii = rows.map((t, k) => {
      e.into(t, j);
      if (Math.hypot(j[2]!, j[3]!) < 1e-9) {
        const [x, y] = [j[0]!, j[1]!];
        e.into(t + (t < 0.5 ? 1e-5 : -1e-5), j);
        [j[0], j[1]] = [x, y];
      }
      // Ends meet their neighbours to the last digit.
      const end = k === 0 ? c.curve.a : k === rows.length - 1 ? c.curve.b : undefined;
      const [x, y] = end ? [end.x, end.y] : [j[0]!, j[1]!];
      const l = Math.hypot(j[2]!, j[3]!) || 1;
      const [nx, ny] = [j[3]! / l, -j[2]! / l];
      for (let i = 0; i <= around; i++) {
        positions.push(x * cos[i]!, x * sin[i]!, y);
        normals.push(nx * cos[i]!, nx * sin[i]!, ny);
      }
      return x;
    });
    for (let k = 1; k < rows.length; k++)
      for (let i = 0; i < around; i++) {
        const a = base + (k - 1) * (around + 1) + i;
        const b = a + around + 1;
        // At a pole one of the two triangles has no area.
        if (radii[k - 1]! > 1e-9) {
          indices.push(a, a + 1, b + 1);
          curveOf.push(index);
        }
        if (radii[k]! > 1e-9) {
          indices.push(a, b + 1, b);
          curveOf.push(index);
        }
      }
  });
  return {
    positions: Float32Array.from(positions),
    normals: Float32Array.from(normals),
    indices: Uint32Array.from(indices),
    curveOf: Uint32Array.from(curveOf),
  };
}
