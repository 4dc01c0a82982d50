/** The ladle grip of Marram Bathhouse: two sections, two mirrored rails, a hole to hang it by. */
import { emptyProfile } from '../src/core/recipe/edit';
import { FORMAT, type Profile, type Project, VERSION } from '../src/core/recipe/schema';
import { bathhouse, disc, out, stadium, up } from './parts';

/** One of the two rails beside the grip: from the butt over the swell to the neck. */
const rail = (id: string, name: string, side: 1 | -1): Profile => ({
  ...emptyProfile(id, name, 'front', false),
  points: [
    { id: 'a', x: side * 15, y: 0 },
    { id: 'b', x: side * 18, y: 45 },
    { id: 'c', x: side * 11, y: 120 },
  ],
  curves: [{ kind: 'spline', id: 'line', name: 'line', from: 'a', through: ['b'], to: 'c' }],
  constraints: [
    out('d1', 'a', 'butt/2'),
    { kind: 'on-curve', id: 'k1', point: 'a', curve: 'level' },
    out('d2', 'b', 'swell/2'),
    up('d3', 'b', 'rise'),
    out('d4', 'c', 'neck/2'),
    up('d5', 'c', 'length'),
  ],
});

export const ladleGrip: Project = {
  format: FORMAT,
  version: VERSION,
  name: 'Ladle grip',
  ...bathhouse,
  brief: {
    purpose: 'The grip of the ladle that pours water onto the stones. Milled from beech, oiled.',
    process: 'mill',
    material: 'beech',
    uses: ['heat'],
    fillBelowBrim: '10 mm',
    targets: [
      { gauge: 'height', min: '110', max: '130' },
      { gauge: 'diameter', max: '45' },
      { gauge: 'closed' },
      { gauge: 'mass', max: '60' },
    ],
  },
  dimensions: [
    { name: 'length', expr: '120 mm' },
    { name: 'butt', expr: '30 mm', note: 'wide at the butt' },
    { name: 'butt_depth', expr: 'butt * 0.72' },
    { name: 'swell', expr: '36 mm', note: 'wide where the palm lies' },
    { name: 'rise', expr: 'length * 3/8', note: 'how far up the palm lies' },
    { name: 'neck', expr: '22 mm' },
    { name: 'neck_depth', expr: 'neck * 0.75' },
    { name: 'eye', expr: '7 mm', note: 'hole for the cord' },
  ],
  profiles: [
    stadium('butt', 'Butt', 'level', 'butt', 'butt_depth', [30, 21.6]),
    stadium('neck', 'Neck', 's1', 'neck', 'neck_depth', [22, 16.5]),
    rail('right', 'Right rail', 1),
    rail('left', 'Left rail', -1),
    disc('eye', 'Eye', 'side', 'eye', [0, 12, 3.5], undefined, 'length/10'),
  ],
  steps: [
    {
      id: 's1',
      kind: 'plane',
      inputs: { by: 'distance', from: 'level' },
      values: { distance: 'length', angle: '30°', share: '0.5' },
      enabled: true,
    },
    {
      id: 's2',
      kind: 'loft',
      inputs: {
        sections: ['butt', 'neck'],
        paths: [
          { profile: 'right', curve: 'line' },
          { profile: 'left', curve: 'line' },
        ],
        rails: 'drawn',
        skin: 'smooth',
        run: 'open',
        start: 'free',
        end: 'free',
        shifts: '',
        mode: 'new',
        body: null,
      },
      values: { startWeight: '1', endWeight: '1' },
      enabled: true,
    },
    {
      id: 's3',
      kind: 'extrude',
      inputs: { profile: 'eye', extent: 'both', way: 'out', fill: 'solid', faces: [], until: null, mode: 'cut', body: 's2' },
      values: { length: '20 mm', back: '10 mm', taper: '0°', start: '0 mm', wall: '2 mm' },
      enabled: true,
    },
  ],
  marker: null,
  bodies: { s2: { name: 'Grip' } },
};
