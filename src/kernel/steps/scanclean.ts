/** Cleans a scan. */
import { bodyWords } from '../../core/recipe/words';
import { fail } from '../../core/result';
import { cleaned } from '../../core/scan/clean';
import { fixed } from '../../core/units/units';
import { scanBody, scanMesh } from '../scans';
import { needBody } from './combine';
import { type ContextOf, changed, type StepOutcome } from './operation';

export function scanclean(context: ContextOf<'scanclean'>): StepOutcome {
  const { kernel, project, step, values } = context;
  const { body: id, keep, fill } = step.inputs;
  const body = needBody(context, id, 'there is nothing to clean');
  if (!body.ok) return body;
  const what = `${bodyWords(id, project)} can’t be cleaned`;
  const mesh = scanMesh(body.value);
  if (!mesh) return fail({ what, why: 'it is no scan', tryInstead: ['bring in a scan'] });
  const done = cleaned(mesh, {
    islands: values.least / 100,
    keep,
    round: Math.round(values.round),
    fill,
    smooth: Math.round(values.smooth),
  });
  if (!done.ok)
    return fail({
      what,
      why: `a hole can’t be filled: ${done.error.why}`,
      at: done.error.at,
      tryInstead: ['let it stay open'],
      fixes: [{ words: 'fill no hole', step: step.id, inputs: { keep: 'all' } }],
    });
  const { islands, dropped, holes, open, moved } = done.value;
  const counted = (n: number, one: string, more: string): string => `${n} ${n === 1 ? one : more}`;
  const note = [
    counted(islands, 'island gone', 'islands gone'),
    counted(holes, 'hole filled', 'holes filled'),
    open.length === 0 ? 'closed' : counted(open.length, 'border stays', 'borders stay'),
    dropped > 0 ? counted(dropped, 'facet left out', 'facets left out') : '',
    moved > 0 ? `smoothing moved places by up to ${fixed(moved, 2)} mm` : '',
  ];
  const faces = [...body.value.faces, `${step.id}/fill`];
  return changed(id, body.value, scanBody(kernel, done.value.mesh, faces), [], note.filter(Boolean).join(', '));
}
