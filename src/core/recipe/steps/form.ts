import { z } from 'zod';
import { sourceOf } from '../../form/read';
import { type FormSource, sourceSchema } from '../../form/source';
import { startOf } from '../../form/start-shapes';
import { planeRefSchema } from '../schema';
import { choice, type Offer, raiseModeSchema, raisesOwn, raiseWords, raising, type StepDefinition, text, usually } from './definition';

const inputs = z.object({
  source: sourceSchema,
  plane: planeRefSchema,
  /** How closely the faces follow the limit where the cage is irregular. */
  follow: z.enum(['well', 'finely']),
  ...raiseModeSchema,
});
export type FormInputs = z.infer<typeof inputs>;

/** Every expression of a form, rewritten. */
export function mapSource(source: FormSource, f: (text: string) => string): FormSource {
  if (source.by === 'rings')
    return {
      ...source,
      sides: f(source.sides),
      ridge: f(source.ridge),
      rows: source.rows.map((r) => ({ height: f(r.height), radius: f(r.radius), twist: f(r.twist), crease: f(r.crease) })),
    };
  return {
    ...source,
    fold: f(source.fold),
    creases: source.creases.map(([a, b, w]): [number, number, string] => [a, b, f(w)]),
    corners: source.corners.map(([v, w]): [number, string] => [v, f(w)]),
  };
}

/** A plain vessel of rings, flat below and above. */
export const startRings = (): FormSource => ({
  by: 'rings',
  sides: '12',
  ridge: '0 mm',
  on: 'body',
  rows: [
    [0, 30],
    [25, 40],
    [50, 42],
    [75, 36],
    [100, 32],
  ].map(([z, r]) => ({ height: `${z} mm`, radius: `${r} mm`, twist: '0°', crease: '0' })),
  bottom: 'flat',
  top: 'flat',
});

export const form: StepDefinition<FormInputs, never> = {
  kind: 'form',
  verb: 'Form',
  group: 'raise',
  summary: 'a freeform body by a cage whose smooth limit it is',
  known: ['subdivision', 'sub-d', 'freeform', 'cage', 'polygon modelling', 'sculpt', 'clay', 'organic', 'mesh', 'control cage'],
  needs: 'nothing',
  offers: () => {
    const form = (
      label: string,
      hint: string,
      source: FormSource,
      plane = 'level',
      mode: FormInputs['mode'] = 'new',
    ): Offer<FormInputs> => ({
      group: 'Raise',
      label,
      hint,
      inputs: { source, plane, follow: 'well', mode, body: null },
    });
    return [
      form('Form a vessel by rings', 'a smooth body from a table of heights, radii and twists', startRings()),
      form('Form a rounded box', 'the smooth limit of a cage of quads', sourceOf(startOf('box'))),
      form('Form a pebble', 'a ball of quads', sourceOf(startOf('ball'))),
      form('Form a soft ring', 'a ring of quads', sourceOf(startOf('ring'))),
      form('Form a tube', 'an open cylinder of quads, closed flat above and below', sourceOf(startOf('tube'))),
      form('Form a sheet', 'a flat grid of quads, as a surface', sourceOf(startOf('sheet')), 'level', 'surface'),
    ];
  },
  inputs,
  values: {},
  sentence: (step) => {
    const { source } = step.inputs;
    return [
      text('Form'),
      text(source.by === 'rings' ? `by ${source.rows.length} rings of ${source.sides}` : `by a cage of ${source.faces.length} faces`),
      text('on'),
      { plane: 'plane' },
      ...usually((step.inputs.follow ?? 'well') === 'well', text('followed'), choice('follow', ['well', 'well'], ['finely', 'finely'])),
      ...raiseWords(step),
    ];
  },
  ...raisesOwn,
  uses: (i) => raising.uses(i, { bodies: [], profiles: [], planes: [i.plane], expressions: true }),
};
