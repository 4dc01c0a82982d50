import { z } from 'zod';
import { choice, idSchema, type StepDefinition, text } from './definition';

/** Lengths that files of facets are written in, mm. */
export const SCAN_UNITS = { mm: 1, cm: 10, m: 1000, in: 25.4 } as const;

const inputs = z.object({ file: idSchema, unit: z.enum(['mm', 'cm', 'm', 'in']) });
export type ScanInputs = z.infer<typeof inputs>;

export const scan: StepDefinition<ScanInputs, never> = {
  kind: 'scan',
  verb: 'Bring in a scan',
  group: 'raise',
  summary: 'the facets of a scanned part',
  known: ['scan', 'mesh', 'import', 'stl', 'ply', 'obj', 'reverse engineering', 'point cloud'],
  needs: 'a mesh file',
  offers: () => [],
  inputs,
  values: {},
  sentence: () => [
    text('Bring in the scan'),
    { file: 'file' },
    text('in'),
    choice('unit', ['mm', 'millimetres'], ['cm', 'centimetres'], ['m', 'metres'], ['in', 'inches']),
  ],
  makes: (_, id) => [id],
  changesBody: () => null,
  uses: (i) => ({ bodies: [], profiles: [], planes: [], imports: [i.file] }),
};
