/** Pulls the cage of a surface onto a scan or another body and makes its limit exact. */
import { ORIGIN_PLANES } from '../../core/curves/frame';
import { faceCount, netOf } from '../../core/form/cage';
import { drape as draped } from '../../core/form/drape';
import { patchesOf } from '../../core/form/patches';
import { massProperties, type TriMesh, triangleCount } from '../../core/mesh/mesh';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok } from '../../core/result';
import { fixed } from '../../core/units/units';
import { asSurface, type Fix, wanting } from '../body';
import { verifiedForm } from '../form-solid';
import { facetsWithin, scanMesh } from '../scans';
import { needBody } from './combine';
import type { ContextOf, StepOutcome, StepWarning } from './operation';

/** Refinements about irregular vertices. */
const LEVELS = 4;
/** An exact body stands for itself by facets that lie no farther off it than this share of the tolerance. */
const FACETS = 0.1;
/** On a scan no quad is less than so many of its facets long. */
const FINEST = 2;
/** Less than this share of it beside the other is told, not warned of. */
const LITTLE = 0.02;

export function drape(context: ContextOf<'drape'>): StepOutcome {
  const { kernel, project, step, values } = context;
  const { body: id, onto } = step.inputs;
  const body = needBody(context, id, 'there is nothing to pull');
  if (!body.ok) return body;
  const what = `${bodyWords(id, project)} can’t be pulled`;
  if (!onto || onto === id) return wanting(what)('nothing is chosen that it is pulled onto', 'choose a scan or a body');
  const other = needBody(context, onto, what);
  if (!other.ok) return other;
  const { form, surface } = body.value;
  if (!form || !surface)
    return fail({
      what,
      why: surface ? 'it is no longer as its cage formed it' : 'it is no surface formed by a cage',
      tryInstead: ['pull it before other steps change it', 'form a sheet, as a surface'],
    });
  const net = netOf(form);
  if (!net.ok) return fail({ what, why: net.error.what, tryInstead: ['mend the cage'] });
  const { within, clear } = values;
  const scan = scanMesh(other.value);
  const found = draped(net.value, facetsWithin(kernel, other.value, FACETS * within), {
    within,
    clear,
    ...(scan ? { finest: FINEST * facetSize(scan) } : {}),
  });
  const name = bodyWords(onto, project);
  if (!found.ok) {
    const { why, at, reached } = found.error;
    return fail({
      what: `${what} within ${fixed(within, 2)} mm of ${name}`,
      why: reached === undefined ? why : `at the worst place it lies off by ${fixed(reached, 3)} mm; ${why}`,
      ...(at ? { at } : {}),
      fixes: reached === undefined ? [] : [wider(step.id, reached)],
      tryInstead:
        reached === undefined ? ['begin nearer to it, and not around it', 'choose another body'] : ['smooth the scan when it is cleaned'],
    });
  }
  const { net: fitted, off, at, rms, finer, over, beyond, beyondAt } = found.value;
  const skin = patchesOf(fitted, LEVELS);
  const most = off + skin.deviation.value;
  if (most > within)
    return fail({
      what: `${what} within ${fixed(within, 2)} mm of ${name}`,
      why: `its exact faces lie off its cage’s limit by ${fixed(skin.deviation.value, 3)} mm`,
      at: skin.deviation.at,
      tryInstead: ['a sheet whose faces are quads'],
      fixes: [wider(step.id, most)],
    });
  const made = verifiedForm(kernel, fitted, skin, ORIGIN_PLANES.level, step.id, true, what);
  if (!made.ok) return made;
  const share = beyond / (over + beyond);
  const warnings: StepWarning[] =
    share > LITTLE
      ? [
          {
            message: `${fixed(beyond / 100, 1)} cm² of it reach beyond ${name}: there it goes straight on and is held by nothing`,
            ...(beyondAt ? { at: beyondAt } : {}),
          },
        ]
      : [];
  const note = [
    `lies over ${fixed(over / 100, 1)} cm² of ${name}${clear > 0 ? `, ${fixed(clear, 2)} mm clear of it` : ''}, off by ${fixed(most, 3)} mm at most (${at.map((x) => fixed(x, 1)).join(', ')}), ${fixed(rms, 3)} mm root of the mean square`,
    finer === 0 ? '' : `each quad parted in ${4 ** finer}, ${faceCount(fitted)} in all`,
  ];
  return ok({
    bodies: [{ id, body: asSurface(made.value.verified, made.value.names) }],
    volumeChange: 0,
    warnings,
    note: note.filter(Boolean).join('; '),
  });
}

/** A tolerance a little wider than what was reached, as it would be typed. @param reached mm */
function wider(step: string, reached: number): Fix {
  const within = `${fixed(Math.ceil(reached * 1.02 * 100) / 100, 2)} mm`;
  return { words: `within ${within}`, step, values: { within } };
}

/** The length of an equilateral facet of the mean area, mm. */
const facetSize = (mesh: TriMesh): number => Math.sqrt((4 / Math.sqrt(3)) * (massProperties(mesh).area / triangleCount(mesh)));
