/** A small body laid over faces again and again: spaced and laid in core, put into the body as topology, verified as any solid. */
import { type Field, type FieldAsked, fieldOver } from '../../core/detail/field';
import { longerAcross } from '../../core/detail/rows';
import { along, minus, type Vec3 } from '../../core/geometry/vectors';
import { bodyWords, faceWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import { asBody, type Fix, type KernelBody, type StepFailure, wanting } from '../body';
import { pickedFaces } from '../refer';
import { compoundOf } from '../shapes';
import { displayDeflection, tessellateOnto, turnFor, VERIFY_ANGLE, weldedMesh } from '../tessellate';
import { readTile, type Tile } from '../tile-read';
import { footOutline, newEffort, type TileGround, tileGroundOf, tileSolid, withTiles } from '../tiles';
import { cutsThrough, NO_WALL, thinnestUnder } from '../under';
import { verifyDetail, verifySolid } from '../verify';
import { needBody } from './combine';
import type { ContextOf, StepOutcome, StepWarning } from './operation';

/** Faces of a field at most: beyond that facets are the better road. */
const MOST_FACES = 8000;
/** What is not told: stretched or thinned by less than this. */
const TOLD = 5e-4;

interface Planned {
  readonly index: number;
  readonly ground: TileGround;
  readonly field: Field;
}

export function tiles(context: ContextOf<'tiles'>): StepOutcome {
  const { kernel, step, project, values } = context;
  const { inputs } = step;
  const [tileName, bodyName] = [inputs.tile, inputs.body].map((id) => bodyWords(id, project)) as [string, string];
  const what = `${bodyName} can’t be tiled with ${tileName}`;
  const body = needBody(context, inputs.body, 'there is nothing to tile');
  if (!body.ok) return body;
  const small = needBody(context, inputs.tile, 'there is no tile');
  if (!small.ok) return small;
  if (inputs.tile === inputs.body) return wanting(what)('it can’t be laid over itself', 'choose a small body as the tile');
  const odd = [small.value, body.value].find((b) => b.surface || b.facets || b.pieces);
  if (odd)
    return fail({
      what,
      why: `${odd === small.value ? tileName : bodyName} is ${odd.surface ? 'a surface' : odd.facets ? 'known by its facets alone' : 'several pieces'}`,
      tryInstead: ['choose a solid in one piece'],
    });
  const picked = pickedFaces(context, inputs.body, body.value, inputs.faces, {
    gone: 'an earlier change removed it',
    otherwise: 'pick another face',
  });
  if (!picked.ok) return picked;
  if (picked.value.length === 0) return wanting(`${tileName} is not laid yet`)('no face is picked', 'pick faces on the stage');
  const facets = weldedMesh(tessellateOnto(kernel, small.value.shape, displayDeflection(kernel, small.value.shape))).positions;
  const read = readTile(kernel, small.value.shape, facets, values.turn);
  if (!read.ok)
    return fail({
      what,
      why: read.error,
      tryInstead: ['part it by a plane below, so that it stands on a flat face', 'choose another tile'],
    });
  const grounds: { index: number; ground: TileGround }[] = [];
  try {
    for (const f of picked.value) grounds.push({ index: f.index, ground: tileGroundOf(kernel, body.value.shape, f.index) });
    return laidOut(context, what, body.value, small.value, read.value, grounds);
  } finally {
    read.value.end();
    for (const { ground } of grounds) ground.end();
  }
}

type Grounds = readonly { readonly index: number; readonly ground: TileGround }[];

function laidOut(
  context: ContextOf<'tiles'>,
  what: string,
  body: KernelBody,
  small: KernelBody,
  tile: Tile,
  grounds: Grounds,
): StepOutcome {
  const { kernel, step, project } = context;
  const { inputs } = step;
  const planned = plan(context, body, tile, grounds);
  if (!planned.ok) return fail({ what, ...planned.error });
  const all = planned.value.flatMap((p) => p.field.pieces);
  const room = `it takes ${fixed(tile.box.x[1] - tile.box.x[0], 2)} × ${fixed(tile.box.y[1] - tile.box.y[0], 2)} mm`;
  if (all.length === 0)
    return fail({
      what,
      why: `none fits: ${room} and wants ${fixed(context.values.margin, 2)} mm beside`,
      tryInstead: ['a smaller tile', 'less margin'],
    });
  if (all.length * tile.others.length > MOST_FACES)
    return fail({
      what,
      why: `that would be ${all.length * tile.others.length} faces, and ${MOST_FACES} are the most as exact ones`,
      tryInstead: ['farther apart', 'a plainer tile'],
    });
  const over = planned.value.find((p) => p.field.over);
  if (over) return fail({ what, ...overlapping(context, body, tile, grounds, over) });
  if (inputs.as === 'sunk') {
    const middles = planned.value.flatMap(({ field, ground }) =>
      field.pieces.map(({ centre, normal }) => ({ at: ground.world(centre), out: ground.world(along(centre, normal, 1)) })),
    );
    const wall = thinnestUnder(kernel, body, middles, tile.high);
    if (wall && wall.left < NO_WALL) return fail({ what, ...cutsThrough(wall, tile.high) });
  }
  const warnings: StepWarning[] = [];
  const dropped = planned.value.reduce((sum, p) => sum + p.field.dropped, 0);
  if (dropped > 0) warnings.push({ message: `${dropped} are left out because they would lie over a border` });
  const several = planned.value.length > 1;
  const note = planned.value.map((p) => `${several ? `${faceWords(body.faces[p.index]!, project)}: ` : ''}${told(p.field)}`).join('; ');
  const gone = inputs.tooling === 'used' ? [inputs.tile] : [];
  const name = (n: number, face: number): string => `${step.id}/${n}(${small.faces[face]!})`;
  const effort = newEffort();
  const unsound = (why: string, at?: Vec3): StepOutcome =>
    fail({ what, why, tryInstead: ['a lower tile', 'farther apart', 'farther from borders'], ...(at ? { at } : {}) });
  if (inputs.as === 'apart') {
    const solids = [];
    for (const p of planned.value)
      for (const piece of p.field.pieces) {
        const made = tileSolid(kernel, tile, piece, p.ground, effort);
        if (!made.ok) return unsound(made.error);
        solids.push(made.value);
      }
    const shape = solids.length > 1 ? compoundOf(kernel, solids) : solids[0]!;
    const order = [tile.foot, ...tile.others].map((f) => f.index);
    const names = solids.flatMap((_, i) => order.map((f) => name(i + 1, f)));
    const verified = verifySolid(kernel, shape, { pieces: solids.length, angle: turnFor(names.length, VERIFY_ANGLE) });
    if (!verified.ok) return unsound(verified.error.why, verified.error.at);
    const made = asBody(verified.value, names);
    return ok({ bodies: [{ id: step.id, body: made }], gone, volumeChange: made.volume, warnings, note });
  }
  const raised = inputs.as === 'raised';
  let shape = body.shape;
  const names = [...body.faces];
  const islands = tile.foot.wires.length - 1;
  let number = 0;
  for (const { index, ground, field } of planned.value) {
    const made = withTiles(kernel, shape, index, ground, tile, field.pieces, raised, effort);
    if (!made)
      return fail({
        what,
        why: `how ${faceWords(body.faces[index]!, project)} closes is not known well enough to lay any over its seam`,
        tryInstead: [
          'farther apart in rows, so that none lies over the line along which it closes',
          'rows along its other way',
          'another face',
        ],
      });
    if (!made.ok) return unsound(made.error);
    shape = made.value;
    for (const _ of field.pieces) {
      number++;
      names.push(...tile.others.map((f) => name(number, f.index)), ...new Array<string>(islands).fill(body.faces[index]!));
    }
  }
  const verified = verifyDetail(kernel, shape, body.volume, raised, names.length);
  if (!verified.ok) return unsound(verified.error.why, verified.error.at);
  const made = asBody(verified.value, names);
  return ok({ bodies: [{ id: inputs.body, body: made }], gone, volumeChange: made.volume - body.volume, warnings, note });
}

type Spacing = Pick<ContextOf<'tiles'>['values'], 'pitch' | 'across' | 'rows' | 'perRow'>;

function plan(
  { step, values, project }: ContextOf<'tiles'>,
  body: KernelBody,
  tile: Tile,
  grounds: Grounds,
  change: Partial<Spacing> = {},
): Result<Planned[], Pick<StepFailure, 'why' | 'tryInstead' | 'at'>> {
  const { inputs } = step;
  const { pitch, across, rows, perRow } = { ...values, ...change };
  const foot = footOutline(tile);
  const out: Planned[] = [];
  for (const { index, ground } of grounds) {
    const { sheet } = ground;
    const asked: FieldAsked = {
      pattern: inputs.pattern,
      by: inputs.by,
      pitch,
      across,
      rows: Math.round(rows),
      perRow: Math.round(perRow),
      margin: values.margin,
      turned: inputs.way === 'long' ? !sheet.closed && longerAcross(sheet) : inputs.way === 'v',
      box: tile.box,
      foot,
      thin: inputs.thin === 'none' ? undefined : { towards: inputs.thin, over: values.over, least: values.least },
      up: (d) => {
        const way = minus(ground.world(d), ground.world([0, 0, 0]));
        return Math.abs(way[2]) > 1e-9 * Math.hypot(...way) ? way[2] : way[1];
      },
    };
    const field = fieldOver(ground, asked);
    if (!field.ok)
      return fail({
        why: `${faceWords(body.faces[index]!, project)} comes to a point there, where nothing can be laid`,
        tryInstead: ['more margin', 'another face'],
        ...(field.error.at ? { at: ground.world(field.error.at) } : {}),
      });
    out.push({ index, ground, field: field.value });
  }
  return ok(out);
}

/** Two that lie over each other, with what would keep them apart: each tried. */
function overlapping(context: ContextOf<'tiles'>, body: KernelBody, tile: Tile, grounds: Grounds, { ground, field }: Planned) {
  const { step, values } = context;
  const goes = (change: Partial<Spacing>): boolean => {
    const p = plan(context, body, tile, grounds, change);
    return p.ok && p.value.some((q) => q.field.pieces.length > 0) && p.value.every((q) => !q.field.over);
  };
  const fixes: Fix[] = [];
  if (step.inputs.by === 'pitch') {
    const wider = (mm: number, size: number): number => Math.max(mm, Math.ceil(10 * (size + 0.2)) / 10);
    const [pitch, across] = [wider(values.pitch, tile.box.x[1] - tile.box.x[0]), wider(values.across, tile.box.y[1] - tile.box.y[0])];
    if (goes({ pitch, across }))
      fixes.push({
        words: `At least ${fixed(pitch, 1)} mm apart in rows, rows ${fixed(across, 1)} mm`,
        step: step.id,
        values: { pitch: `${fixed(pitch, 1)} mm`, across: `${fixed(across, 1)} mm` },
      });
  } else {
    const fewer = [1, 2, 3, 5, 8].flatMap((k) => [
      { rows: Math.round(values.rows), perRow: Math.round(values.perRow) - k },
      { rows: Math.round(values.rows) - k, perRow: Math.round(values.perRow) },
    ]);
    const works = fewer.find((c) => c.rows > 0 && c.perRow > 0 && goes(c));
    if (works)
      fixes.push({
        words: `${works.rows} rows of ${works.perRow}`,
        step: step.id,
        values: { rows: `${works.rows}`, perRow: `${works.perRow}` },
      });
  }
  return { why: 'they would lie over each other', tryInstead: ['farther apart', 'a smaller tile'], at: ground.world(field.over!), fixes };
}

/** How they lie, in words. */
function told({ pieces, rows: { rows, inRow, between }, gap, stretch, share }: Field): string {
  const span = ([least, most]: readonly [number, number], digits: number): string =>
    most - least < 0.5 * 10 ** -digits ? fixed(least, digits) : `${fixed(least, digits)} to ${fixed(most, digits)}`;
  return [
    `${pieces.length} in ${rows} row${rows === 1 ? '' : 's'}${inRow[1] > 0 ? `, ${span(inRow, 2)} mm apart along the surface` : ''}${rows > 1 ? `, rows ${fixed(between, 2)} mm` : ''}`,
    Number.isFinite(gap) ? `${fixed(gap, 2)} mm free between them` : '',
    stretch[0] > 1 - TOLD && stretch[1] < 1 + TOLD ? 'laid in true scale' : `lengths × ${span(stretch, 3)}`,
    share[0] < 1 - TOLD ? `heights × ${span(share, 2)}` : '',
  ]
    .filter(Boolean)
    .join('; ');
}
