/** Whole jobs, finished, to look into: what each is, and its project. Written by `npm run commissions -- --keep`. */

export interface Job {
  readonly name: string;
  /** What was done, in order. */
  readonly words: string;
  /** The text of its project, fetched when it is opened. */
  readonly load: () => Promise<unknown>;
}

const at =
  (fetched: () => Promise<{ readonly default: unknown }>): Job['load'] =>
  async () =>
    (await fetched()).default;

export const JOBS: readonly Job[] = [
  {
    name: 'Beaded steam diffuser',
    words: 'Three half profiles turned and joined, the crease rounded, hollowed open at the collar.',
    load: at(() => import('./jobs/beaded-steam-diffuser.lathe.json')),
  },
  {
    name: 'Ribbed massage bar',
    words: 'Lofted through half sections, cut into ribs, mirrored, rounded along its back.',
    load: at(() => import('./jobs/ribbed-massage-bar.lathe.json')),
  },
  {
    name: 'Soap shell',
    words: 'Arcs over the axes of an ellipse, a smooth surface within a quarter, mirrored twice, knit, given a wall.',
    load: at(() => import('./jobs/soap-shell.lathe.json')),
  },
  {
    name: 'Basin spout',
    words: 'A slot-shaped base and a round pipe as surfaces, bridged with the curvature of both, knit, closed, hollowed.',
    load: at(() => import('./jobs/basin-spout.lathe.json')),
  },
  {
    name: 'Head rest',
    words: 'A rough scan cleaned but for its seven holes, set upright by its own middle plane, fitted by a smooth surface, given a wall.',
    load: at(() => import('./jobs/head-rest.lathe.json')),
  },
  {
    name: 'Thermometer clip',
    words: 'A sheet of quads pulled onto a scanned tap until it lies within 0.15 mm of it, given a wall, a clip joined to it.',
    load: at(() => import('./jobs/thermometer-clip.lathe.json')),
  },
  {
    name: 'Locker key band',
    words:
      'A helix laid on a cylinder, sections swept along it upright, eyes set on the band, a field of pillow tiles, lower towards its sides.',
    load: at(() => import('./jobs/locker-key-band.lathe.json')),
  },
  {
    name: 'Bath-salt cellar',
    words:
      'A quarter turned, trimmed by a V, skinned behind, set four times round, closed by its stopper, rounded, the stopper parted off.',
    load: at(() => import('./jobs/bath-salt-cellar.lathe.json')),
  },
  {
    name: 'Massage roller',
    words: 'A barrel with sixty bumps set round it along its surface, their rims rounded.',
    load: at(() => import('./jobs/massage-roller.lathe.json')),
  },
  {
    name: 'Valve dial',
    words: 'A turned disc parted by numerals and scallops into three colours that fill each other.',
    load: at(() => import('./jobs/valve-dial.lathe.json')),
  },
  {
    name: 'Vent cowl',
    words: 'Rings parted off above and below, the middle hollowed and made a lattice of struts, as a mesh.',
    load: at(() => import('./jobs/vent-cowl.lathe.json')),
  },
  {
    name: 'Hose end and coil',
    words: 'Full rounds, a loft led by rails, a tube along bent runs, coils joined by smooth pieces.',
    load: at(() => import('./jobs/hose-end-and-coil.lathe.json')),
  },
  {
    name: 'Bent towel rail',
    words: 'A wire along the edges of a stepped, tapered block, which is put away.',
    load: at(() => import('./jobs/bent-towel-rail.lathe.json')),
  },
  {
    name: 'Urchin vent cap',
    words: 'A cage whose columns are pulled in one by one, under a stem that is bent.',
    load: at(() => import('./jobs/urchin-vent-cap.lathe.json')),
  },
  {
    name: 'Dipper',
    words: 'In inches: an arc tangent to the upper wall, the wall an offset within the profile.',
    load: at(() => import('./jobs/dipper.lathe.json')),
  },
  {
    name: 'Pot tower',
    words: 'Ridges and a series of twists by rings, a smooth inside that takes a pot, a drain.',
    load: at(() => import('./jobs/pot-tower.lathe.json')),
  },
  {
    name: 'Carved tray',
    words: 'A skin from an outline over a centre line to its mirror image, led by rails, with upright walls and a flat place.',
    load: at(() => import('./jobs/carved-tray.lathe.json')),
  },
  {
    name: 'Drain wedge',
    words: 'In inches: flat sides between two outlines, hollowed, a sunk inset, mirrored.',
    load: at(() => import('./jobs/drain-wedge.lathe.json')),
  },
  {
    name: 'Wall bracket skin',
    words: 'Open lines raised as skins, a flat fill between them, knit, rounded along its creases, cut, mirrored.',
    load: at(() => import('./jobs/wall-bracket-skin.lathe.json')),
  },
  {
    name: 'Lotion pouch',
    words: 'From a slot to a circle, a cap with grips, a crimped end, squeezed, hollowed.',
    load: at(() => import('./jobs/lotion-pouch.lathe.json')),
  },
  {
    name: 'Tub corner panel',
    words: 'A torn patch mended fault by fault, its border rolled in, made a surface and solid.',
    load: at(() => import('./jobs/tub-corner-panel.lathe.json')),
  },
];
