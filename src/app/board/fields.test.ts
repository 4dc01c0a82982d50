import { describe, expect, it } from 'vitest';
import { steamDiffuser } from '../../../demo/steam-diffuser';
import { evaluateAs } from '../../core/dimensions/expression';
import { diameterText, radiusFromDiameter } from './diameter';
import { previewMeshes } from './preview';

describe('a diameter across the axis', () => {
  it.each([['belly'], ['82.5'], ['82 mm'], ['3 1/4 in'], ['height - 2*wall']])('“%s” is kept as typed, and halved', (text) => {
    expect(diameterText(radiusFromDiameter(text))).toBe(text);
  });
  it('is half of what was typed', () => {
    const r = evaluateAs(radiusFromDiameter('3 1/4 in'), 'length', () => undefined);
    expect(r.ok && r.value).toBeCloseTo(41.275, 12);
  });
  it('is not read out of a radius that is no half', () => {
    for (const t of ['25', 'belly', 'a/2 + b/2', 'wall*2']) expect(diameterText(t)).toBeNull();
  });
});

describe('the instant preview', () => {
  it('turns every revolve of the project, the draft in place of its profile', () => {
    const belly = steamDiffuser.profiles[0]!;
    const meshes = previewMeshes(steamDiffuser, belly)!;
    expect(meshes).toHaveLength(3);
    const wider = { ...belly, points: belly.points.map((p) => (p.id === 'p3' ? { ...p, x: '60' } : p)) };
    const widest = (m: Float32Array): number => m.reduce((w, v) => Math.max(w, Math.abs(v)), 0);
    const radius = (m: { positions: Float32Array }): number => widest(m.positions.filter((_, i) => i % 3 === 0));
    expect(radius(previewMeshes(steamDiffuser, wider)![0]!)).toBeGreaterThan(radius(meshes[0]!) + 10);
  });
  it('shows nothing for a draft that can’t be turned', () => {
    const belly = steamDiffuser.profiles[0]!;
    const across = { ...belly, points: belly.points.map((p) => (p.id === 'p3' ? { ...p, x: '-20' } : p)) };
    expect(previewMeshes(steamDiffuser, across)).toBeNull();
  });
});
