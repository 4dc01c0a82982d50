/** The steam tower of Marram Bathhouse, an invented customer: twisted ridges outside, a smooth turned cavity inside. */
import { emptyProfile } from '../src/core/recipe/edit';
import { FORMAT, type Profile, type Project, VERSION } from '../src/core/recipe/schema';

const RIDGES = 6;

/** Ridges of 1.6 mm radius about a circle, grooves between them; drawn as they are and held where they are. */
function ridged(id: string, name: string, plane: string, scale: number, degrees: number): Profile {
  const [ring, ridge, sag] = [28 * scale, 1.6 * scale, 4.5 * scale];
  const half = Math.PI / RIDGES;
  const turn = (degrees * Math.PI) / 180;
  const points: { id: string; x: number; y: number }[] = [];
  const curves: Profile['curves'][number][] = [];
  const round = (v: number): number => Math.round(v * 1e9) / 1e9;
  const place = (pid: string, x: number, y: number): void => void points.push({ id: pid, x: round(x), y: round(y) });
  const flank = (w: number, side: number): [number, number] => [
    ring * Math.cos(w) + ridge * Math.cos(w + side * 1.2),
    ring * Math.sin(w) + ridge * Math.sin(w + side * 1.2),
  ];
  for (let i = 0; i < RIDGES; i++) {
    const w = turn + 2 * half * i;
    const [[ax, ay], [bx, by], [cx, cy]] = [flank(w, -1), flank(w, 1), flank(w + 2 * half, -1)];
    const h = Math.hypot(cx - bx, cy - by) / 2;
    const radius = (h * h + sag * sag) / (2 * sag);
    const [mx, my] = [(bx + cx) / 2, (by + cy) / 2];
    const out = 1 + (radius - sag) / Math.hypot(mx, my);
    place(`a${i}`, ax, ay);
    place(`b${i}`, bx, by);
    place(`m${i}`, ring * Math.cos(w), ring * Math.sin(w));
    place(`g${i}`, mx * out, my * out);
  }
  for (let i = 0; i < RIDGES; i++)
    curves.push(
      { kind: 'arc', id: `l${i}`, name: `ridge ${i + 1}`, from: `a${i}`, to: `b${i}`, centre: `m${i}`, ccw: true },
      { kind: 'arc', id: `c${i}`, name: `groove ${i + 1}`, from: `b${i}`, to: `a${(i + 1) % RIDGES}`, centre: `g${i}`, ccw: false },
    );
  const constraints = points.map((p, i): Profile['constraints'][number] => ({ kind: 'fixed', id: `k${i}`, point: p.id }));
  return { ...emptyProfile(id, name, plane, false), points, curves, constraints };
}

const lift = (id: string, distance: string): Project['steps'][number] => ({
  id,
  kind: 'plane',
  inputs: { by: 'distance', from: 'level' },
  values: { distance, angle: '30°', share: '0.5' },
  enabled: true,
});

export const steamTower: Project = {
  format: FORMAT,
  version: VERSION,
  name: 'Steam tower',
  client: 'Marram Bathhouse',
  units: 'mm',
  brief: {
    purpose:
      'Stands in the corner of the steam room, filled with hot stones and herbs. Its ridges wind up like steam; inside it is smooth to clean.',
    process: 'print',
    material: 'petg',
    uses: ['heat', 'print'],
    fillBelowBrim: '20 mm',
    targets: [
      { gauge: 'height', min: '139', max: '141' },
      { gauge: 'wall-min', min: '2.4' },
      { gauge: 'capacity-fill', min: '0.12' },
      { gauge: 'mouth', min: '28' },
      { gauge: 'closed' },
      { gauge: 'mass', max: '180' },
    ],
  },
  dimensions: [
    { name: 'height', expr: '140 mm' },
    { name: 'belly_height', expr: 'height * 0.32' },
    { name: 'neck_height', expr: 'height * 0.68' },
    { name: 'wall', expr: '2.4 mm', note: 'six print widths of 0.4 mm' },
    { name: 'floor', expr: '4 mm' },
  ],
  profiles: [
    ridged('foot', 'Foot', 'level', 0.95, 0),
    ridged('belly', 'Belly', 's1', 1.1, 16),
    ridged('neck', 'Neck', 's2', 0.86, 32),
    ridged('mouth', 'Mouth', 's3', 0.8, 48),
  ],
  steps: [
    lift('s1', 'belly_height'),
    lift('s2', 'neck_height'),
    lift('s3', 'height'),
    {
      id: 's4',
      kind: 'loft',
      inputs: {
        sections: ['foot', 'belly', 'neck', 'mouth'],
        paths: [],
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
      id: 's5',
      kind: 'cavity',
      inputs: { body: 's4', open: [{ face: 's4/end' }], plane: 'level', rim: 'round', lean: 'printable' },
      values: { wall: 'wall', floor: 'floor', band: '10 mm' },
      enabled: true,
      note: 'An even shell fails here: the ridges are tighter than the wall.',
    },
  ],
  marker: null,
  bodies: { s4: { name: 'Tower' } },
};
