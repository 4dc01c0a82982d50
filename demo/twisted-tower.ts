/** The twisted steam tower of Marram Bathhouse, an invented customer: a form by rings whose twist eases off upwards, and a turned cavity. */
import { FORMAT, type Project, VERSION } from '../src/core/recipe/schema';

const RINGS = 7;
/** Full in the middle, by the way from foot to mouth. */
const RADII = ['foot / 2', 'foot / 2 + 3 mm', 'foot / 2 + 5 mm', 'foot / 2 + 5 mm', 'mouth / 2 + 7 mm', 'mouth / 2 + 3 mm', 'mouth / 2'];

export const twistedTower: Project = {
  format: FORMAT,
  version: VERSION,
  name: 'Twisted tower',
  client: 'Marram Bathhouse',
  units: 'mm',
  brief: {
    purpose: 'The taller sister of the steam tower: its soft ridges wind fast at the foot and ease off towards the mouth.',
    process: 'print',
    material: 'petg',
    uses: ['heat', 'print'],
    fillBelowBrim: '20 mm',
    targets: [
      { gauge: 'height', min: '159', max: '161' },
      { gauge: 'wall-min', min: '2.4' },
      { gauge: 'mouth', min: '35' },
      { gauge: 'closed' },
    ],
  },
  dimensions: [
    { name: 'height', expr: '160 mm' },
    { name: 'foot', expr: '66 mm' },
    { name: 'mouth', expr: '58 mm' },
    { name: 'twist', expr: '24°', note: 'of the lowest ring; each one above twists by 3° less' },
    { name: 'wall', expr: '2.4 mm' },
  ],
  profiles: [],
  steps: [
    {
      id: 's1',
      kind: 'form',
      inputs: {
        source: {
          by: 'rings',
          sides: '16',
          ridge: '2.5 mm',
          on: 'body',
          rows: Array.from({ length: RINGS }, (_, i) => ({
            height: i === 0 ? '0 mm' : i === RINGS - 1 ? 'height' : `height * ${i} / ${RINGS - 1}`,
            radius: RADII[i]!,
            twist: i === 0 ? '0°' : `twist - ${3 * (i - 1)}°`,
            crease: '0',
          })),
          bottom: 'flat',
          top: 'flat',
        },
        plane: 'level',
        follow: 'well',
        mode: 'new',
        body: null,
      },
      values: {},
      enabled: true,
    },
    {
      id: 's2',
      kind: 'cavity',
      inputs: { body: 's1', open: [{ face: 's1/top' }], plane: 'level', rim: 'round', lean: 'free' },
      values: { wall: 'wall', floor: '4 mm', band: '10 mm' },
      enabled: true,
    },
  ],
  marker: null,
  bodies: { s1: { name: 'Tower', colour: '#c9d3cf' } },
};
