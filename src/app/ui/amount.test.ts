import { describe, expect, it } from 'vitest';
import type { BodyReport } from '../../engine/types';
import { bodyAmount } from './amount';

const body = (more: Partial<BodyReport>): BodyReport => ({
  id: 's1',
  name: 'Body',
  closed: true,
  facets: false,
  borders: [],
  volume: 12_345,
  area: 4_200,
  bbox: { min: [0, 0, 0], max: [1, 1, 1] },
  centroid: [0, 0, 0],
  faces: 6,
  edges: 12,
  ...more,
});
const border = (length: number, offPlane = 0) => ({ length, offPlane, at: [0, 0, 0] as const });

describe('what there is of a body, in words', () => {
  it('says volume and faces of a solid', () => {
    expect(bodyAmount(body({}), 'mm')).toBe('12.3 cm³, 6 faces, closed solid');
    expect(bodyAmount(body({ facets: true }), 'mm')).toBe('12.3 cm³, closed mesh, no exact faces');
    expect(bodyAmount(body({ facets: true, closed: false, borders: [border(10)] }), 'mm')).toBe(
      'facets of 42.00 cm², 1 open border, no exact faces',
    );
  });
  it('says area and borders of a surface, and how far these leave a plane', () => {
    expect(bodyAmount(body({ closed: false, volume: 0 }), 'mm')).toBe('surface of 42.00 cm², 6 faces, without a border');
    expect(bodyAmount(body({ closed: false, faces: 1, borders: [border(63.2)] }), 'mm')).toBe(
      'surface of 42.00 cm², 1 face, 1 open border: 63.20 mm',
    );
    expect(bodyAmount(body({ closed: false, borders: [border(10), border(20, 0.42)] }), 'mm')).toBe(
      'surface of 42.00 cm², 6 faces, 2 open borders: 10.00 mm; 20.00 mm, 0.42 mm off a plane',
    );
  });
});
