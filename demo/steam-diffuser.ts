/** The steam diffuser of Marram Bathhouse, an invented customer: turned, joined, rounded, hollowed. */
import { FORMAT, type Project, VERSION } from '../src/core/recipe/schema';

export const steamDiffuser: Project = {
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
    { name: 'foot', expr: 'belly * 0.6' },
    { name: 'mouth', expr: '1 5/8 in' },
    { name: 'wall', expr: '2.2 mm', note: 'six print widths of 0.4 mm would be 2.4' },
    { name: 'lip', expr: '3 mm' },
    { name: 'crease', expr: '6 mm' },
    { name: 'bench_depth', expr: '4 in' },
  ],
  profiles: [
    {
      id: 'belly',
      name: 'Belly',
      points: [
        { id: 'p1', x: '0', y: '0' },
        { id: 'p2', x: 'foot/2', y: '0' },
        { id: 'p3', x: 'belly/2', y: '50 mm' },
        { id: 'p4', x: '0', y: 'height*0.76' },
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
          start: { angle: '38°', weight: '0.7' },
          end: { angle: '0°', weight: '0.8' },
        },
      ],
    },
    {
      id: 'collar',
      name: 'Collar',
      points: [
        { id: 'c1', x: '0', y: 'height*0.6' },
        { id: 'c2', x: 'mouth/2 + wall - 2 mm', y: 'height*0.6' },
        { id: 'c3', x: '20.4 mm', y: '118 mm' },
        { id: 'c4', x: 'mouth/2 + wall', y: 'height' },
        { id: 'c5', x: '0', y: 'height' },
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
          start: { angle: '90°', weight: '0.6' },
          end: { angle: '-90°', weight: '0.7' },
        },
        { kind: 'line', id: 'rim', name: 'rim', from: 'c4', to: 'c5' },
      ],
    },
    {
      id: 'lip',
      name: 'Lip',
      points: [
        { id: 'l1', x: 'mouth/2 + wall - lip', y: 'height - lip - 3 mm' },
        { id: 'l2', x: 'mouth/2 + wall', y: 'height - 3 mm' },
        { id: 'l3', x: 'mouth/2 + wall + lip', y: 'height - lip - 3 mm' },
        { id: 'l4', x: 'mouth/2 + wall', y: 'height - 2*lip - 3 mm' },
      ],
      curves: [
        { kind: 'arc', id: 'top', name: 'upper half', from: 'l1', to: 'l3', through: 'l2' },
        { kind: 'arc', id: 'under', name: 'lower half', from: 'l3', to: 'l1', through: 'l4' },
      ],
    },
  ],
  steps: [
    { id: 's1', kind: 'revolve', inputs: { profile: 'belly', mode: 'new', body: null }, values: { angle: '360°' }, enabled: true },
    { id: 's2', kind: 'revolve', inputs: { profile: 'collar', mode: 'join', body: 's1' }, values: { angle: '360°' }, enabled: true },
    { id: 's3', kind: 'revolve', inputs: { profile: 'lip', mode: 'join', body: 's1' }, values: { angle: '360°' }, enabled: true },
    { id: 's4', kind: 'fillet', inputs: { body: 's1', edges: [{ between: ['s1', 's2'] }] }, values: { radius: 'crease' }, enabled: true },
    { id: 's5', kind: 'shell', inputs: { body: 's1', open: [{ face: 's2/rim' }] }, values: { wall: 'wall' }, enabled: true },
  ],
  marker: null,
  bodies: { s1: { name: 'Diffuser', colour: '#e9e3d3', material: 'petg' } },
};
