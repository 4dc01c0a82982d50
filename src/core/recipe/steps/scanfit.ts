import { z } from 'zod';
import { choice, idSchema, type StepDefinition, text, usualChoice, usually, value } from './definition';

const inputs = z.object({
  body: idSchema,
  /** How near: as near as the scan's own roughness makes sense, or within a typed deviation. */
  near: z.enum(['fair', 'within']),
  /** The halves either side of the side plane are made alike. */
  alike: z.enum(['no', 'side']),
  /** Round holes have their own sizes each, one averaged size, a typed one, or are closed. */
  holes: z.enum(['alike', 'own', 'size', 'none']),
});
export type ScanFitInputs = z.infer<typeof inputs>;

export const scanfit: StepDefinition<ScanFitInputs, 'spans' | 'within' | 'border' | 'size'> = {
  kind: 'scanfit',
  verb: 'Fit a surface',
  group: 'raise',
  summary: 'a smooth surface that lies near a scan, with its border and its round holes',
  known: ['autosurface', 'nurbs from mesh', 'scan to surface', 'reverse engineering', 'best fit', 'patch', 'skin'],
  needs: 'a scan that lies over the level plane',
  offers: (c) =>
    c.scans.map((b) => ({
      group: 'Raise',
      label: `Fit a surface to ${b.name}`,
      hint: 'smooth, over the level plane, with its border and holes',
      inputs: { body: b.id, near: 'fair', alike: 'side', holes: 'alike' },
    })),
  inputs,
  values: {
    spans: { kind: 'number', whole: true, label: 'spans along its longer side', initial: '16', atLeast: 2, atMost: 60 },
    within: { kind: 'length', label: 'deviation, root of the mean square', initial: '0.2 mm', above: 0, atMost: 20 },
    border: { kind: 'number', whole: true, label: 'control points of its border', initial: '100', atLeast: 8, atMost: 400 },
    size: { kind: 'length', label: 'diameter of the holes', initial: '8 mm', above: 0 },
  },
  sentence: (step) => [
    text('Fit a surface to'),
    { body: 'body' },
    choice('near', ['fair', 'as near as it stays fair'], ['within', 'the fairest within']),
    ...(step.inputs.near === 'within' ? [value('within')] : []),
    text(', its border of'),
    value('border'),
    text('points,'),
    choice(
      'holes',
      ['alike', 'round holes of one averaged size'],
      ['own', 'round holes each of its own size'],
      ['size', 'round holes of diameter'],
      ['none', 'holes closed'],
    ),
    ...(step.inputs.holes === 'size' ? [value('size')] : []),
    ...usualChoice(step.inputs, 'alike', ['side', 'alike either side of the side plane'], ['no', 'each side by itself']),
    ...usually(step.values.spans === '16', text(', of'), value('spans'), text('spans')),
  ],
  makes: (_, id) => [id],
  part: (i) => ({ of: i.body, words: 'fitted' }),
  changesBody: () => null,
  takesFacets: true,
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [] }),
};
