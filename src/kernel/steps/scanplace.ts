/** Sets a scan upright by its own middle plane. */
import { bodyWords } from '../../core/recipe/words';
import { fail } from '../../core/result';
import { middlePlane } from '../../core/scan/middle';
import { placed, placingOf } from '../../core/scan/upright';
import { degrees, fixed } from '../../core/units/units';
import { scanBody, scanMesh } from '../scans';
import { needBody } from './combine';
import { type ContextOf, changed, type StepOutcome } from './operation';

/** Of a part that is made alike either side, more of the places have a partner. */
const FEW = 0.5;

export function scanplace(context: ContextOf<'scanplace'>): StepOutcome {
  const { kernel, project, step, values } = context;
  const { body: id, stands } = step.inputs;
  const body = needBody(context, id, 'there is nothing to set upright');
  if (!body.ok) return body;
  const what = `${bodyWords(id, project)} can’t be set upright`;
  const mesh = scanMesh(body.value);
  if (!mesh) return fail({ what, why: 'it is no scan', tryInstead: ['bring in a scan'] });
  const plane = middlePlane(mesh);
  if (!plane) return fail({ what, why: 'no plane was found about which it is its own mirror image', tryInstead: ['clean it first'] });
  const to = placingOf(mesh, plane, stands, values.turn);
  const [x, y, z] = plane.normal;
  const note = `images lie off by ${fixed(plane.residual, 2)} mm, of ${Math.round(100 * plane.share)} % of its places; the plane leaned ${fixed(degrees(Math.asin(Math.min(1, Math.abs(z)))), 1)}° and was turned by ${fixed(degrees(Math.atan2(y, x)), 1)}°`;
  const warnings =
    plane.share < FEW
      ? [
          {
            message: `only ${Math.round(100 * plane.share)} % of its places have a partner on the other side: it may not be alike either side`,
          },
        ]
      : [];
  return changed(id, body.value, scanBody(kernel, placed(mesh, to), body.value.faces), warnings, note);
}
