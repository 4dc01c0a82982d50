/** Makes a surface longer beyond its borders: strips worked out in core, knit to it, and held against it. */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import { distance } from '../../core/geometry/vectors';
import { BORDER } from '../../core/recipe/names';
import { bodyWords, edgeWords } from '../../core/recipe/words';
import { fail, ok } from '../../core/result';
import { extension } from '../../core/surfaces/bridge';
import { placeAlong } from '../../core/surfaces/space';
import { fixed } from '../../core/units/units';
import { facesBeside, heldAgainst, joinedTo, type Taken, taken } from '../beside';
import { type KernelBody, wanting } from '../body';
import { nearOfAll } from '../inspect/nearest';
import { knit } from '../knit';
import { facesOf } from '../shapes';
import { sideBySide } from '../skin';
import { needBody } from './combine';
import type { ContextOf, StepOutcome, StepWarning } from './operation';

/** Strips lie on their borders within this, mm. */
const WITHIN = 1e-3;

export function extend(context: ContextOf<'extend'>): StepOutcome {
  const { kernel, project, step, values } = context;
  const { inputs } = step;
  const body = needBody(context, inputs.body, 'there is nothing to extend');
  if (!body.ok) return body;
  const name = bodyWords(inputs.body, project);
  const what = `${name} can’t be extended`;
  if (!body.value.surface) return fail({ what, why: `${name} is a solid and has no border`, tryInstead: ['choose a surface'] });
  if (inputs.edges.length === 0) return wanting(what)('no border is picked', 'pick a border on the stage');
  const strands: Taken[] = [];
  for (const ref of inputs.edges) {
    if (!('edge' in ref)) continue;
    if (!ref.edge.startsWith(`${BORDER}|`))
      return fail({ what, why: `the ${edgeWords(ref.edge, project)} is no border`, tryInstead: ['pick an open border'] });
    const strand = taken(context, { body: inputs.body, edge: ref.edge }, true);
    if (!strand.ok) return strand;
    // What goes on smoothly from one that was picked came with it.
    const middle = strand.value.at(0.5);
    if (!strands.some((s) => Array.from({ length: 129 }, (_, i) => s.at(i / 128)).some((p) => distance(p, middle) < 1e-2 * s.path.length)))
      strands.push(strand.value);
  }
  const beside = facesBeside(kernel, [body.value]);
  try {
    const strips: KernelBody[] = [];
    const warnings: StepWarning[] = [];
    let turned = 0;
    for (const [k, strand] of strands.entries()) {
      const joined = joinedTo(strand, inputs.onward === 'curvature' ? 'G2' : 'G1', `border ${k + 1}`, beside);
      const core = extension(strand, joined, inputs.onward, values.length);
      if (!core.ok)
        return fail({
          what,
          why: core.error.why,
          tryInstead: core.error.what === 'corner' ? ['pick its pieces one by one'] : ['shorter', 'straight on'],
          ...(core.error.at ? { at: core.error.at } : {}),
        });
      const { surfaces } = core.value;
      const strip = sideBySide(kernel, surfaces, `strip.${k + 1}`, step.id);
      if (!strip.ok) return fail({ what, ...strip.error, tryInstead: ['shorter'] });
      const near = nearOfAll(kernel, facesOf(kernel, strip.value.shape) as TopoDS_Face[]);
      const held = heldAgainst(near.nearest, joined, (x, inside) => placeAlong(surfaces, x, inside));
      near.end();
      turned = Math.max(turned, held.angle);
      warnings.push(...held.warnings);
      strips.push(strip.value);
    }
    const joined = knit(kernel, [body.value, ...strips], { target: name, tool: 'its extension' }, step.id, WITHIN);
    if (!joined.ok) return fail({ ...joined.error, what });
    const result = joined.value.body;
    return ok({
      bodies: [{ id: inputs.body, body: result }],
      volumeChange: result.volume,
      warnings,
      note: `${strands.length} border${strands.length === 1 ? '' : 's'} by ${fixed(values.length, 2)} mm, turning by ${fixed((turned * 180) / Math.PI, 3)}° at most; ${joined.value.note}`,
    });
  } finally {
    beside.end();
  }
}
