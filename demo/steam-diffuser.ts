/** The steam diffuser of Marram Bathhouse, an invented customer: turned, joined, rounded, hollowed, and closed with a lid of its own. */
import { emptyProfile } from '../src/core/recipe/edit';
import { type Constraint, FORMAT, type Project, VERSION } from '../src/core/recipe/schema';
import { up } from './parts';

const across = (id: string, point: string, value: string): Constraint => ({ kind: 'across', id, point, value, driving: true });
const handle = (id: string, at: 'start' | 'end', direction: string, weight: string): Constraint[] => [
  { kind: 'direction', id: `${id}a`, curve: 'side', at, value: direction, driving: true },
  { kind: 'weight', id: `${id}b`, curve: 'side', at, value: weight, driving: true },
];

/** The diffuser without its lid. */
export const diffuserBody: Project = {
  format: FORMAT,
  version: VERSION,
  name: 'Steam diffuser',
  client: 'Marram Bathhouse',
  units: 'mm',
  brief: {
    purpose:
      'Stands on the warm bench of the steam room and holds scented water. Printed in PETG, then glazed by hand with a sealing coat.',
    process: 'print',
    material: 'petg',
    uses: ['heat', 'print'],
    fillBelowBrim: '35 mm',
    targets: [
      { gauge: 'height', min: '138', max: '145' },
      { gauge: 'wall-min', min: '2.4' },
      { gauge: 'capacity-fill', min: '0.30' },
      { gauge: 'mouth', min: '38', max: '50' },
      { gauge: 'diameter', max: 'bench_depth' },
      { gauge: 'closed' },
      { gauge: 'mass', max: '160' },
    ],
  },
  dimensions: [
    { name: 'height', expr: '140 mm' },
    { name: 'belly', expr: 'height * 0.66' },
    { name: 'belly_height', expr: '50 mm' },
    { name: 'foot', expr: 'belly * 0.6' },
    { name: 'mouth', expr: '1 5/8 in' },
    { name: 'neck', expr: '40.8 mm', note: 'across the collar where it is narrowest' },
    { name: 'neck_rise', expr: 'height * 17/70', note: 'from the collar’s root to its narrowest place' },
    { name: 'wall', expr: '2.2 mm', note: 'six print widths of 0.4 mm would be 2.4' },
    { name: 'lip', expr: '3 mm' },
    { name: 'crease', expr: '6 mm' },
    { name: 'bench_depth', expr: '4 in' },
  ],
  profiles: [
    {
      ...emptyProfile('belly', 'Belly'),
      points: [
        { id: 'p1', x: 0, y: 0 },
        { id: 'p2', x: 27.72, y: 0 },
        { id: 'p3', x: 46.2, y: 50 },
        { id: 'p4', x: 0, y: 106.4 },
      ],
      curves: [
        { kind: 'line', id: 'foot', name: 'foot', from: 'p1', to: 'p2' },
        {
          kind: 'spline',
          id: 'side',
          name: 'side',
          from: 'p2',
          to: 'p4',
          through: ['p3'],
          start: { angle: 38, weight: 0.7 },
          end: { angle: 0, weight: 0.8 },
        },
      ],
      constraints: [
        { kind: 'coincident', id: 'k1', a: 'p1', b: 'origin' },
        { kind: 'horizontal', id: 'k2', a: 'p1', b: 'p2' },
        { kind: 'on-curve', id: 'k3', point: 'p4', curve: 'axis' },
        across('d1', 'p2', 'foot'),
        across('d2', 'p3', 'belly'),
        up('d3', 'p3', 'belly_height'),
        up('d4', 'p4', 'height*0.76'),
        ...handle('d5', 'start', '38°', '0.7'),
        ...handle('d6', 'end', '0°', '0.8'),
      ],
    },
    {
      ...emptyProfile('collar', 'Collar'),
      points: [
        { id: 'c1', x: 0, y: 84 },
        { id: 'c2', x: 20.8375, y: 84 },
        { id: 'c3', x: 20.4, y: 118 },
        { id: 'c4', x: 22.8375, y: 140 },
        { id: 'c5', x: 0, y: 140 },
      ],
      curves: [
        { kind: 'line', id: 'root', name: 'root', from: 'c1', to: 'c2' },
        {
          kind: 'spline',
          id: 'side',
          name: 'side',
          from: 'c2',
          to: 'c4',
          through: ['c3'],
          start: { angle: 90, weight: 0.6 },
          end: { angle: -90, weight: 0.7 },
        },
        { kind: 'line', id: 'rim', name: 'rim', from: 'c4', to: 'c5' },
      ],
      constraints: [
        { kind: 'on-curve', id: 'k1', point: 'c1', curve: 'axis' },
        { kind: 'on-curve', id: 'k2', point: 'c5', curve: 'axis' },
        { kind: 'horizontal', id: 'k3', a: 'c1', b: 'c2' },
        { kind: 'horizontal', id: 'k4', a: 'c4', b: 'c5' },
        up('d1', 'c1', 'height*0.6'),
        up('d2', 'c5', 'height'),
        across('d3', 'c2', 'mouth + 2*wall - 4 mm'),
        across('d4', 'c4', 'mouth + 2*wall'),
        across('d5', 'c3', 'neck'),
        { kind: 'distance', id: 'd6', a: 'c1', b: 'c3', direction: 'vertical', value: 'neck_rise', driving: true },
        ...handle('d7', 'start', '90°', '0.6'),
        ...handle('d8', 'end', '-90°', '0.7'),
      ],
    },
    {
      ...emptyProfile('lip', 'Lip'),
      points: [
        { id: 'l1', x: 19.8375, y: 134 },
        { id: 'l2', x: 25.8375, y: 134 },
        { id: 'm1', x: 22.8375, y: 134 },
      ],
      curves: [
        { kind: 'arc', id: 'top', name: 'upper half', from: 'l1', to: 'l2', centre: 'm1', ccw: false },
        { kind: 'arc', id: 'under', name: 'lower half', from: 'l2', to: 'l1', centre: 'm1', ccw: false },
      ],
      constraints: [
        { kind: 'horizontal', id: 'k1', a: 'm1', b: 'l1' },
        { kind: 'horizontal', id: 'k2', a: 'm1', b: 'l2' },
        { kind: 'radius', id: 'd1', curve: 'top', value: 'lip', driving: true },
        across('d2', 'm1', 'mouth + 2*wall'),
        up('d3', 'm1', 'height - lip - 3 mm'),
      ],
    },
  ],
  steps: [
    { id: 's1', kind: 'revolve', inputs: { profile: 'belly', mode: 'new', body: null }, values: { angle: '360°' }, enabled: true },
    { id: 's2', kind: 'revolve', inputs: { profile: 'collar', mode: 'join', body: 's1' }, values: { angle: '360°' }, enabled: true },
    { id: 's3', kind: 'revolve', inputs: { profile: 'lip', mode: 'join', body: 's1' }, values: { angle: '360°' }, enabled: true },
    {
      id: 's4',
      kind: 'fillet',
      inputs: { body: 's1', edges: [{ between: ['s1', 's2'] }] },
      values: { radius: 'crease', end: '1 mm' },
      enabled: true,
    },
    { id: 's5', kind: 'shell', inputs: { body: 's1', open: [{ face: 's2/rim' }] }, values: { wall: 'wall', floor: '3 mm' }, enabled: true },
  ],
  marker: null,
  bodies: { s1: { name: 'Diffuser', colour: '#e9e3d3', material: 'petg' } },
};

/** The lid is turned on its own against the mouth: a plug that goes in with its clearance, a rim that rests, four vents for the steam. */
export const steamDiffuser: Project = {
  ...diffuserBody,
  dimensions: [
    ...diffuserBody.dimensions,
    { name: 'lid_clearance', expr: '0.5 mm', note: 'per side between the plug and the mouth' },
    { name: 'vent', expr: '5 mm' },
    { name: 'vent_ring', expr: '11 mm' },
  ],
  profiles: [
    ...diffuserBody.profiles,
    {
      ...emptyProfile('lid', 'Lid'),
      points: [
        { id: 'a', x: 0, y: 136 },
        { id: 'b', x: 20.1375, y: 136 },
        { id: 'c', x: 20.1375, y: 140 },
        { id: 'd', x: 23.8375, y: 140 },
        { id: 'e', x: 23.8375, y: 143 },
        { id: 'f', x: 0, y: 145.5 },
      ],
      curves: [
        { kind: 'line', id: 'under', name: 'underside of the plug', from: 'a', to: 'b' },
        { kind: 'line', id: 'plug', name: 'plug', from: 'b', to: 'c' },
        { kind: 'line', id: 'seat', name: 'seat', from: 'c', to: 'd' },
        { kind: 'line', id: 'edge', name: 'edge', from: 'd', to: 'e' },
        {
          kind: 'spline',
          id: 'crown',
          name: 'crown',
          from: 'e',
          to: 'f',
          through: [],
          start: { angle: 170, weight: 1 },
          end: { angle: 0, weight: 1 },
        },
      ],
      constraints: [
        { kind: 'on-curve', id: 'k1', point: 'a', curve: 'axis' },
        { kind: 'on-curve', id: 'k2', point: 'f', curve: 'axis' },
        { kind: 'horizontal', id: 'k3', a: 'a', b: 'b' },
        { kind: 'vertical', id: 'k4', a: 'b', b: 'c' },
        { kind: 'horizontal', id: 'k5', a: 'c', b: 'd' },
        { kind: 'vertical', id: 'k6', a: 'd', b: 'e' },
        across('d1', 'b', 'mouth - 2*lid_clearance'),
        across('d2', 'd', 'mouth + 2*wall + 2 mm'),
        up('d3', 'a', 'height - 4 mm'),
        up('d4', 'c', 'height'),
        up('d5', 'e', 'height + 3 mm'),
        up('d6', 'f', 'height + 5.5 mm'),
        { kind: 'direction', id: 'd7', curve: 'crown', at: 'start', value: '170°', driving: true },
        { kind: 'weight', id: 'd8', curve: 'crown', at: 'start', value: '1', driving: true },
        { kind: 'direction', id: 'd9', curve: 'crown', at: 'end', value: '0°', driving: true },
        { kind: 'weight', id: 'd10', curve: 'crown', at: 'end', value: '1', driving: true },
      ],
    },
  ],
  steps: [
    ...diffuserBody.steps,
    { id: 's6', kind: 'revolve', inputs: { profile: 'lid', mode: 'new', body: null }, values: { angle: '360°' }, enabled: true },
    {
      id: 's7',
      kind: 'hole',
      inputs: {
        body: 's6',
        places: [
          { at: ['vent_ring', '0', 'height'] },
          { at: ['0', 'vent_ring', 'height'] },
          { at: ['-vent_ring', '0', 'height'] },
          { at: ['0', '-vent_ring', 'height'] },
        ],
        plane: 'level',
        depth: 'through',
      },
      values: { part: 'vent', clearance: '0 mm', deep: '10 mm' },
      enabled: true,
    },
  ],
  bodies: { ...diffuserBody.bodies, s6: { name: 'Lid', colour: '#d9cfb8', material: 'petg' } },
};
