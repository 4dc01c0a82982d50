/** What the demo recipes share: outlines held by named dimensions. */
import { emptyProfile } from '../src/core/recipe/edit';
import type { Constraint, Profile, Project } from '../src/core/recipe/schema';

/** A point's distance from the upright line, driven; it keeps the side it is drawn on. */
export const out = (id: string, point: string, value: string): Constraint => ({
  kind: 'distance',
  id,
  a: 'axis',
  b: point,
  direction: 'horizontal',
  value,
  driving: true,
});
/** A point's distance from the base level, driven. */
export const up = (id: string, point: string, value: string): Constraint => ({
  kind: 'distance',
  id,
  a: 'level',
  b: point,
  direction: 'vertical',
  value,
  driving: true,
});

/** An extrusion as it starts out, and its values. */
export const extrusion = { extent: 'one', way: 'out', fill: 'solid', faces: [], until: null } as const;
export const lengths = { length: '20 mm', back: '10 mm', taper: '0°', start: '0 mm', wall: '2 mm' };

/** A circle held by its centre and its diameter. Where a distance is left out the centre lies on the line. */
export function disc(
  id: string,
  name: string,
  plane: string,
  diameter: string,
  drawn: readonly [number, number, number],
  x?: string,
  y?: string,
): Profile {
  return {
    ...emptyProfile(id, name, plane, false),
    points: [{ id: 'm', x: drawn[0], y: drawn[1] }],
    curves: [{ kind: 'circle', id: 'rim', name: 'rim', centre: 'm', radius: drawn[2] }],
    constraints: [
      x ? out('d1', 'm', x) : { kind: 'on-curve', id: 'k1', point: 'm', curve: 'axis' },
      y ? up('d2', 'm', y) : { kind: 'on-curve', id: 'k2', point: 'm', curve: 'level' },
      { kind: 'diameter', id: 'd3', curve: 'rim', value: diameter, driving: true },
    ],
  };
}

/** Two half rounds and two straights about the middle: as long across as `width`, as high as `depth`. */
export function stadium(id: string, name: string, plane: string, width: string, depth: string, drawn: readonly [number, number]): Profile {
  const [w, d] = drawn;
  const [h, r] = [(w - d) / 2, d / 2];
  return {
    ...emptyProfile(id, name, plane, false),
    points: [
      { id: 'a', x: -h, y: -r },
      { id: 'b', x: h, y: -r },
      { id: 'c', x: h, y: r },
      { id: 'd', x: -h, y: r },
      { id: 'm', x: h, y: 0 },
      { id: 'n', x: -h, y: 0 },
    ],
    curves: [
      { kind: 'line', id: 'low', from: 'a', to: 'b' },
      { kind: 'arc', id: 'right', from: 'b', to: 'c', centre: 'm', ccw: true },
      { kind: 'line', id: 'high', from: 'c', to: 'd' },
      { kind: 'arc', id: 'left', from: 'd', to: 'a', centre: 'n', ccw: true },
    ],
    constraints: [
      { kind: 'on-curve', id: 'k1', point: 'm', curve: 'level' },
      { kind: 'symmetric', id: 'k2', a: 'm', b: 'n', line: 'axis' },
      { kind: 'tangent', id: 'k3', a: 'low', b: 'right' },
      { kind: 'tangent', id: 'k4', a: 'right', b: 'high' },
      { kind: 'tangent', id: 'k5', a: 'high', b: 'left' },
      { kind: 'tangent', id: 'k6', a: 'left', b: 'low' },
      { kind: 'equal', id: 'k7', a: 'right', b: 'left' },
      out('d1', 'm', `(${width} - ${depth})/2`),
      { kind: 'diameter', id: 'd2', curve: 'right', value: depth, driving: true },
    ],
  };
}

export const bathhouse: Pick<Project, 'client' | 'units'> = { client: 'Marram Bathhouse', units: 'mm' };
