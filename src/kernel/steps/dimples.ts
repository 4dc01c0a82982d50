/** Dimples or bumps over faces: spaced along them in core, put into the body as topology, verified as any solid. */
import { flatReach } from '../../core/detail/dimple';
import { type Rows, rowsOver } from '../../core/detail/rows';
import { along, type Vec3 } from '../../core/geometry/vectors';
import { bodyWords, faceWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import { asBody, type Fix, type StepFailure, wanting } from '../body';
import { capsOver, type Ground, groundOf, overlapping, type Placed, withCaps } from '../dimples';
import { pickedFaces } from '../refer';
import { cutsThrough, NO_WALL, thinnestUnder } from '../under';
import { verifyDetail } from '../verify';
import { needBody } from './combine';
import { type ContextOf, changed, type StepOutcome, type StepWarning } from './operation';

/** Caps of a body at most: beyond that facets are the better road. */
const MOST = 600;
/** Walls under dimples are told up to so many times their depth. */
const TOLD = 12;

interface Planned {
  readonly index: number;
  readonly ground: Ground;
  readonly rows: Rows;
  readonly placed: readonly Placed[];
}

export function dimples(context: ContextOf<'dimples'>): StepOutcome {
  const { kernel, step, values, project } = context;
  const { inputs } = step;
  const body = needBody(context, inputs.body, 'there is nothing to dimple');
  if (!body.ok) return body;
  const raised = inputs.shape === 'bumps';
  const called = raised ? 'bumps' : 'dimples';
  const what = `${bodyWords(inputs.body, project)} can’t take ${called} of ${fixed(values.diameter, 2)} mm`;
  const picked = pickedFaces(context, inputs.body, body.value, inputs.faces, {
    gone: 'an earlier change removed it',
    otherwise: 'pick another face',
  });
  if (!picked.ok) return picked;
  if (picked.value.length === 0) return wanting(`no ${called} yet`)('no face is picked', 'pick faces on the stage');
  if (values.depth > 0.49 * values.diameter)
    return fail({
      what,
      why: `${fixed(values.depth, 2)} mm is more than half a ball of that width`,
      tryInstead: [`at most ${fixed(0.49 * values.diameter, 2)} mm`],
    });
  const grounds = picked.value.map((f) => ({ index: f.index, ground: groundOf(kernel, body.value.shape, f.index) }));
  try {
    const planned = plan(context, grounds);
    if (!planned.ok) return fail({ what, ...planned.error });
    const all = planned.value.flatMap((p) => p.placed);
    if (all.length === 0)
      return fail({
        what,
        why: `none fits: they reach ${fixed(2 * flatReach(values), 2)} mm across and want ${fixed(values.margin, 2)} mm beside`,
        tryInstead: ['smaller ones', 'less margin'],
      });
    if (all.length > MOST)
      return fail({
        what,
        why: `that would be ${all.length} of them, and ${MOST} are the most as exact faces`,
        tryInstead: ['farther apart', 'fewer rows'],
      });
    const near = overlapping(all);
    if (near.gap < 0) return fail({ what, ...touching(context, grounds, near) });
    const middles = planned.value.flatMap(({ placed, ground }) =>
      placed.map(({ cap }) => ({ at: ground.world(cap.centre), out: ground.world(along(cap.centre, cap.normal, 1)) })),
    );
    const wall = raised ? undefined : thinnestUnder(kernel, body.value, middles, values.depth);
    if (wall && wall.left < NO_WALL) return fail({ what, ...cutsThrough(wall, values.depth) });
    const size = { diameter: values.diameter, depth: values.depth, rim: values.rim, raised };
    let shape = body.value.shape;
    let names = [...body.value.faces];
    let number = 0;
    for (const { index, ground, placed } of planned.value) {
      const made = withCaps(kernel, shape, index, ground, placed, size);
      if (!made)
        return fail({
          what,
          why: `how ${faceWords(body.value.faces[index]!, project)} closes is not known well enough to lay any over its seam`,
          tryInstead: ['in rows in line, an even number round about', 'another face'],
        });
      if (!made.ok) return fail({ what, why: made.error, tryInstead: ['farther apart', 'another rim'] });
      shape = made.value;
      names = [
        ...names,
        ...placed.flatMap(() => {
          number++;
          return [`${step.id}/${raised ? 'bump' : 'dimple'}.${number}`, ...(values.rim > 0 ? [`${step.id}/rim.${number}`] : [])];
        }),
      ];
    }
    const before = body.value.volume;
    const verified = verifyDetail(kernel, shape, before, raised, names.length);
    if (!verified.ok)
      return fail({
        what,
        why: verified.error.why,
        tryInstead: ['farther from borders', 'less deep'],
        ...(verified.error.at ? { at: verified.error.at } : {}),
      });
    const warnings: StepWarning[] = [];
    const dropped = planned.value.reduce((sum, p) => sum + p.rows.dropped, 0);
    if (dropped > 0) warnings.push({ message: `${dropped} are left out because they would lie over a border` });
    const done = changed(inputs.body, body.value, asBody(verified.value, names), warnings);
    if (!done.ok) return done;
    const under = wall && wall.left < TOLD * values.depth ? `; ${fixed(wall.left, 2)} mm of wall are left under them` : '';
    return ok({ ...done.value, note: `${planned.value.map((p) => told(p.rows)).join('; ')}${under}` });
  } finally {
    for (const { ground } of grounds) ground.end();
  }
}

/** How they lie, in words. */
function told({ places, rows, inRow, between, nearest }: Rows): string {
  const [least, most] = inRow;
  const apart = most - least < 5e-3 ? fixed(least, 2) : `${fixed(least, 2)} to ${fixed(most, 2)}`;
  const along = most > 0 ? `, ${apart} mm apart along the surface` : '';
  return `${places.length} in ${rows} row${rows === 1 ? '' : 's'}${along}${rows > 1 ? `, rows ${fixed(between, 2)} mm` : ''}${Number.isFinite(nearest) ? `, nearest ${fixed(nearest, 2)} mm straight` : ''}`;
}

/** What keeps them apart. */
type Spacing = Pick<ContextOf<'dimples'>['values'], 'pitch' | 'rim' | 'perRow'>;
type Faces = readonly { readonly index: number; readonly ground: Ground }[];

function plan(
  { step, values }: ContextOf<'dimples'>,
  grounds: Faces,
  change: Partial<Spacing> = {},
): Result<Planned[], Pick<StepFailure, 'why' | 'tryInstead' | 'at'>> {
  const { inputs } = step;
  const { pitch, rim, perRow } = { ...values, ...change };
  const size = { diameter: values.diameter, depth: values.depth, rim, raised: inputs.shape === 'bumps' };
  const out: Planned[] = [];
  for (const { index, ground } of grounds) {
    const { pattern, by, way } = inputs;
    const sheet = ground.sheet;
    const turned = way === 'v';
    const rows = rowsOver(turned ? { ...sheet, at: (a, b) => sheet.at(b, a), u: sheet.v, v: sheet.u, closed: false } : sheet, {
      pattern,
      by,
      pitch,
      rows: Math.round(values.rows),
      perRow: Math.round(perRow),
      margin: values.margin,
      size: 2 * flatReach(size),
    });
    const caps = capsOver(
      ground,
      rows.places.map(({ uv: [a, b] }) => (turned ? [b, a] : [a, b])),
      size,
    );
    if (!caps.ok) return fail({ why: caps.error.why, at: caps.error.at, tryInstead: ['smaller ones', 'another face'] });
    out.push({ index, ground, rows, placed: caps.value });
  }
  return ok(out);
}

/** Two that touch, with what would keep them apart: each tried. */
function touching(context: ContextOf<'dimples'>, grounds: Faces, near: { readonly gap: number; readonly at: Vec3 }) {
  const { step, values } = context;
  const goes = (change: Partial<Spacing>): boolean => {
    const p = plan(context, grounds, change);
    return p.ok && p.value.some((q) => q.placed.length > 0) && overlapping(p.value.flatMap((q) => q.placed)).gap >= 0;
  };
  const fixes: Fix[] = [];
  const fix = (words: string, changed: Record<string, string>): number => fixes.push({ words, step: step.id, values: changed });
  if (step.inputs.by === 'pitch') {
    const pitch = Math.ceil(10 * (values.pitch - 1.1 * near.gap)) / 10;
    if (goes({ pitch })) fix(`At least ${fixed(pitch, 1)} mm apart`, { pitch: `${fixed(pitch, 1)} mm` });
  } else {
    const fewer = [1, 2, 3, 5, 8].map((k) => Math.round(values.perRow) - k).find((perRow) => perRow > 0 && goes({ perRow }));
    if (fewer !== undefined) fix(`${fewer} in each row`, { perRow: `${fewer}` });
  }
  for (let rim = Math.floor(20 * values.rim - 1) / 20; rim >= 0.05; rim = Math.floor(10 * rim) / 20)
    if (goes({ rim })) {
      fix(`Rims rounded by ${fixed(rim, 2)} mm`, { rim: `${fixed(rim, 2)} mm` });
      break;
    }
  return {
    why: `they would overlap by ${fixed(-near.gap, 2)} mm`,
    tryInstead: ['farther apart', 'smaller ones'],
    at: near.at,
    fixes,
  };
}
