/** The soap tray of Marram Bathhouse: a wire along the rim of a helper that is put away, and bars across it. */
import { FORMAT, type Project, VERSION } from '../src/core/recipe/schema';
import { bathhouse, disc, extrusion, lengths, stadium } from './parts';

export const soapTray: Project = {
  format: FORMAT,
  version: VERSION,
  name: 'Soap tray',
  ...bathhouse,
  brief: {
    purpose: 'Hangs over the rim of a basin; water runs off between the bars. Bent from stainless wire.',
    process: 'cast',
    material: 'steel',
    uses: [],
    fillBelowBrim: '10 mm',
    targets: [{ gauge: 'closed' }, { gauge: 'mass', max: '80' }],
  },
  dimensions: [
    { name: 'width', expr: '120 mm' },
    { name: 'depth', expr: '70 mm' },
    { name: 'rise', expr: '14 mm', note: 'of the rim over the basin' },
    { name: 'wire', expr: '4 mm' },
    { name: 'bar', expr: '3 mm' },
    { name: 'bars', expr: '5' },
    { name: 'bar_room', expr: 'width - depth', note: 'the bars stand within this' },
  ],
  profiles: [
    stadium('plan', 'Plan', 'level', 'width', 'depth', [120, 70]),
    disc('wire', 'Wire', 'side', 'wire', [-35, 14, 2], 'depth/2', 'rise'),
    disc('bar', 'Bar', 'front', 'bar', [-25, 14, 1.5], 'bar_room/2', 'rise'),
  ],
  steps: [
    {
      id: 's1',
      kind: 'extrude',
      inputs: { profile: 'plan', ...extrusion, mode: 'new', body: null },
      values: { ...lengths, length: 'rise' },
      enabled: true,
    },
    {
      id: 's2',
      kind: 'sweep',
      inputs: { sections: ['wire'], paths: [{ body: 's1', edge: 's1/end|s1/low' }], hold: 'square', mode: 'new', body: null },
      values: { twist: '0°', scale: '1' },
      enabled: true,
    },
    {
      id: 's3',
      kind: 'extrude',
      inputs: { profile: 'bar', ...extrusion, extent: 'symmetric', mode: 'join', body: 's2' },
      values: { ...lengths, length: 'depth' },
      enabled: true,
    },
    {
      id: 's4',
      kind: 'pattern',
      inputs: { what: 'step', step: 's3', body: 's2', along: 'row', axis: 'x', paths: [], by: 'extent', symmetric: 'one', skip: '' },
      values: { count: 'bars', length: 'bar_room + bar', margin: '0 mm', gap: '2 mm', angle: '360°' },
      enabled: true,
    },
    { id: 's5', kind: 'remove', inputs: { mode: 'delete', bodies: ['s1'] }, values: {}, enabled: true },
  ],
  marker: null,
  bodies: { s1: { name: 'Helper' }, s2: { name: 'Tray' } },
};
