import { z } from 'zod';
import { heightOver, normalOf } from '../../curves/frame';
import { along, cross, distance, dot, minus, triple, unit } from '../../geometry/vectors';
import { planeRefSchema } from '../schema';
import { faceRefSchema, idSchema, type StepDefinition, text, value } from './definition';

const inputs = z.object({ body: idSchema, faces: z.array(faceRefSchema).max(100), plane: planeRefSchema });
export type DraftInputs = z.infer<typeof inputs>;

export const draft: StepDefinition<DraftInputs, 'angle'> = {
  kind: 'draft',
  verb: 'Taper',
  group: 'combine',
  summary: 'lean faces about the line where a plane meets them',
  known: ['draft', 'lean', 'demould', 'release angle', 'slope', 'tapered'],
  needs: 'a body',
  offers: (c) =>
    [...c.solids, ...c.skins].map((b) => ({
      group: 'Join and cut',
      label: `Taper faces of ${b.name}`,
      hint: 'pick them on the stage',
      inputs: { body: b.id, faces: [], plane: 'level' },
      pick: { what: 'faces', field: 'faces' },
    })),
  inputs,
  values: { angle: { kind: 'angle', label: 'angle', initial: '1°', atLeast: -Math.PI / 4, atMost: Math.PI / 4 } },
  sentence: () => [text('Taper'), { faces: 'faces' }, text('by'), value('angle'), text('from'), { plane: 'plane' }],
  handles: ({ inputs: i }, standing) => {
    const names = i.faces.flatMap((f) => ('face' in f ? [f.face] : []));
    const face = standing.face(new RegExp(`^(${names.map((n) => n.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')).join('|')})$`));
    const frame = standing.frame(i.plane);
    if (!face || !frame || names.length === 0) return [];
    const n = normalOf(frame);
    const up = unit(along(n, face.normal, -dot(n, face.normal)));
    const high = heightOver(frame, face.at);
    if (!up || Math.abs(high) < 1e-6) return [];
    const foot = along(face.at, up, -high / dot(up, n));
    const way = triple((k) => Math.sign(high) * n[k]);
    const about = { place: foot, direction: unit(cross(way, minus([0, 0, 0], face.normal)))! };
    return [{ value: 'angle', from: along(foot, way, distance(foot, face.at)), about }];
  },
  makes: () => [],
  takesPieces: true,
  changesBody: (i) => i.body,
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [i.plane] }),
};
