/**
 * The soap dish of Marram Bathhouse, an invented customer: a cage kept alike left and right, front and back, whose smooth body is opened at its
 * flat rim, shelled, and drained through its floor.
 */

import type { Cage } from '../src/core/form/cage';
import { applyEdit, type Edit } from '../src/core/form/edit/edit';
import { byPlane, type Picked } from '../src/core/form/edit/select';
import type { Symmetry } from '../src/core/form/edit/symmetry';
import { boxCage } from '../src/core/form/starts';
import { FORMAT, type Project, VERSION } from '../src/core/recipe/schema';
import { bathhouse } from './parts';

const SYMMETRY: Symmetry = { mirror: ['x', 'y'], fold: 1 };

function dish(): Cage {
  let cage: Cage = boxCage([136, 92, 30], [6, 4, 2]);
  const where = (kind: Picked['kind'], axis: 0 | 1 | 2, side: 'over' | 'under' | 'on', at: number): Picked =>
    byPlane(cage, kind, { normal: [Number(axis === 0), Number(axis === 1), Number(axis === 2)], offset: at }, side);
  const apply = (picked: Picked, edit: Edit): void => {
    const r = applyEdit(cage, picked, edit, { symmetry: SYMMETRY, weigh: (w) => w });
    if (!r.ok) throw new Error(r.error);
    cage = r.value.cage;
  };
  // Open above; what is left of the lid's middle goes too.
  apply(where('faces', 2, 'on', 30), { do: 'delete' });
  // Narrower at the foot, its long sides a little waisted above it.
  apply(where('vertices', 2, 'on', 0), { do: 'scale', by: [0.72, 0.68, 1], about: [0, 0, 0] });
  apply(where('vertices', 2, 'on', 15), { do: 'scale', by: [0.96, 0.95, 1], about: [0, 0, 0] });
  apply(where('vertices', 2, 'on', 15), { do: 'move', by: [0, 0, -2] });
  // The short ends lean out into grips.
  const rim = where('vertices', 2, 'on', 30);
  const ends =
    rim.kind === 'vertices' ? rim.vertices.filter((v) => Math.abs(cage.vertices[v]![0]) > 60 && Math.abs(cage.vertices[v]![1]) < 30) : [];
  apply({ kind: 'vertices', vertices: ends.filter((v) => cage.vertices[v]![0] > 0) }, { do: 'move', by: [7, 0, 0] });
  return cage;
}

const cage = dish();
export const soapDish: Project = {
  format: FORMAT,
  version: VERSION,
  name: 'Soap dish',
  ...bathhouse,
  brief: {
    purpose: 'Stands beside a basin; the bar lies on a soft floor and water runs off through the drain.',
    process: 'print',
    material: 'petg',
    uses: ['print'],
    fillBelowBrim: '10 mm',
    targets: [{ gauge: 'closed' }, { gauge: 'wall-min', min: '2.5' }, { gauge: 'height', min: '29', max: '31' }],
  },
  dimensions: [
    { name: 'wall', expr: '2.6 mm' },
    { name: 'drain', expr: '5 mm' },
    { name: 'apart', expr: '15 mm', note: 'of the drain holes' },
  ],
  profiles: [],
  steps: [
    {
      id: 's1',
      kind: 'form',
      inputs: {
        source: {
          by: 'cage',
          vertices: cage.vertices.map(([x, y, z]) => [x, y, z]),
          faces: cage.faces.map((f) => [...f]),
          creases: [],
          corners: [],
          mirror: SYMMETRY.mirror,
          fold: '1',
          folded: 1,
        },
        plane: 'level',
        follow: 'well',
        mode: 'new',
        body: null,
      },
      values: {},
      enabled: true,
    },
    { id: 's2', kind: 'shell', inputs: { body: 's1', open: [{ topOf: 's1' }] }, values: { wall: 'wall', floor: 'wall' }, enabled: true },
    {
      id: 's3',
      kind: 'hole',
      inputs: {
        body: 's1',
        places: [
          { at: ['0 mm', '0 mm', '20 mm'] },
          { at: ['apart', '0 mm', '20 mm'] },
          { at: ['-apart', '0 mm', '20 mm'] },
          { at: ['apart/2', 'apart*0.8', '20 mm'] },
          { at: ['-apart/2', 'apart*0.8', '20 mm'] },
          { at: ['apart/2', '-apart*0.8', '20 mm'] },
          { at: ['-apart/2', '-apart*0.8', '20 mm'] },
        ],
        plane: 'level',
        depth: 'through',
      },
      values: { part: 'drain', clearance: '0 mm', deep: '10 mm' },
      enabled: true,
    },
  ],
  marker: null,
  bodies: { s1: { name: 'Dish', colour: '#cfd6d0' } },
};
