/** Bores holes as wide as what goes in and its clearance: all of them in one operation. */
import { facing, normalOf } from '../../core/curves/frame';
import { along, dot, type Vec3 } from '../../core/geometry/vectors';
import { bodyWords } from '../../core/recipe/words';
import { fail } from '../../core/result';
import { drum } from '../../core/turned/meridian';
import { fixed } from '../../core/units/units';
import { volumeOf } from '../amounts';
import type { KernelBody } from '../body';
import { attempt, scoped } from '../open';
import { frameOf } from '../placed';
import { placeOf } from '../refer';
import { facesOf, roughBounds } from '../shapes';
import { needBody } from './combine';
import type { ContextOf, StepOutcome } from './operation';
import { combineInto } from './raise';

export function hole(context: ContextOf<'hole'>): StepOutcome {
  const { kernel, step, project } = context;
  const inputs = step.inputs;
  const body = needBody(context, inputs.body, 'there is nothing to bore into');
  if (!body.ok) return body;
  const frame = frameOf(inputs.plane, context.planes, project);
  if (!frame.ok) return frame;
  if (inputs.places.length === 0)
    return fail({ what: 'no place is picked', why: 'a hole needs a place', unfinished: true, tryInstead: ['pick or type a place'] });
  const { part, clearance, deep } = context.values;
  const diameter = part + 2 * clearance;
  const n = normalOf(frame.value);
  const box = roughBounds(kernel, body.value.shape);
  const size = 2 * Math.hypot(...box.max.map((m, k) => m - box.min[k]!)) + 10;
  const middle = box.min.map((m, k) => (m + box.max[k]!) / 2) as unknown as Vec3;
  const solids: KernelBody[] = [];
  for (const [i, ref] of inputs.places.entries()) {
    const place = placeOf(context, ref);
    if (!place.ok) return place;
    const p = place.value;
    // Through: from well before the body to well behind it. Blind: from a place outwards a little, and down against the normal.
    const off = dot(n, [p[0] - middle[0], p[1] - middle[1], p[2] - middle[2]]);
    const [from, length] = inputs.depth === 'through' ? [along(p, n, -off - size), 2 * size] : [along(p, n, -deep), deep + size];
    const made = attempt(kernel, () =>
      scoped((s) => {
        const axes = s.keep(new kernel.gp_Ax2(s.keep(new kernel.gp_Pnt(...from)), s.keep(new kernel.gp_Dir(...n))));
        return s.keep(new kernel.BRepPrimAPI_MakeCylinder(axes, diameter / 2, length)).Shape();
      }),
    );
    if (!made.ok) return fail({ what: 'a hole could not be built', why: made.error, tryInstead: ['another diameter'] });
    const faces = facesOf(kernel, made.value).map(() => `${step.id}/hole${inputs.places.length > 1 ? `.${i + 1}` : ''}`);
    solids.push({
      shape: made.value,
      faces,
      volume: volumeOf(kernel, made.value).volume,
      turned: {
        frame: { origin: from, x: facing(n, from).x, y: n },
        meridian: drum(diameter / 2, 0, length, [faces[0]!, faces[0]!, faces[0]!]),
      },
    });
  }
  const name = bodyWords(inputs.body, project);
  const done = combineInto(context, 'cut', inputs.body, body.value, {
    solids,
    words: inputs.places.length === 1 ? 'the hole' : 'the holes',
    note: `⌀ ${fixed(diameter, 2)} mm = ${fixed(part, 2)} + 2 × ${fixed(clearance, 2)}`,
  });
  if (done.ok || inputs.depth === 'through') return done;
  return fail({ ...done.error, tryInstead: [...done.error.tryInstead, `bore right through ${name}`] });
}
