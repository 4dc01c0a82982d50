/** Outlines laid round a turned face in true scale, and raised over it, sunk into it, or left as a body of their own. */
import { type Point2, pointAt } from '../../core/curves/planar';
import type { On } from '../../core/detail/dimple';
import { fits, type Laid, layRound, type TurnedFace, turnedFace } from '../../core/detail/wrap';
import { cross, distance, dot, minus, triple, type Vec3 } from '../../core/geometry/vectors';
import { material } from '../../core/profile/material';
import type { Region } from '../../core/profile/regions';
import { faceWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import { asBody, type Fix, type KernelBody, type StepFailure, wanting } from '../body';
import { type Ground, groundOf } from '../dimples';
import { nameFaces } from '../names';
import { placedProfile } from '../placed';
import { pickedFaces } from '../refer';
import { facesOf } from '../shapes';
import { verifyDetail, verifySolid } from '../verify';
import { type Base, embossed, type WrappedSolid, wrappedSolid } from '../wrapped';
import { needBody } from './combine';
import { type ContextOf, changed, type StepOutcome } from './operation';
import { asNewBody, combineInto } from './raise';

/** How far what is raised reaches into the skin, and what is sunk stands out of it, mm: faces that fall together are met badly. */
const ROOT = 0.2;
/** Places of each line of an outline that are looked at for whether it fits. */
const LOOKS = 48;
const DEGREE = Math.PI / 180;
/** Of what is sunk less than this share in the material is told: it goes through. */
const MET = 0.95;

export function wrap(context: ContextOf<'wrap'>): StepOutcome {
  const { kernel, step, scope } = context;
  const { inputs } = step;
  const body = needBody(context, inputs.body, 'there is nothing to wrap it round');
  if (!body.ok) return body;
  const placed = placedProfile(context, inputs.profile);
  if (!placed.ok) return placed;
  const { profile, resolved } = placed.value;
  const what = `${profile.name} can’t be wrapped so`;
  const picked = pickedFaces(context, inputs.body, body.value, inputs.faces, {
    gone: 'an earlier change removed it',
    otherwise: 'pick another face',
  });
  if (!picked.ok) return picked;
  const found = picked.value[0];
  if (!found) return wanting(`${profile.name} is not wrapped yet`)('no face is picked', 'pick a turned face on the stage');
  const regions = material(resolved, false, 'solid', 0, scope);
  if (!regions.ok) return fail({ what, why: regions.error, tryInstead: ['close the outline on the board'] });
  const ground = groundOf(kernel, body.value.shape, found.index);
  try {
    return onGround(context, body.value, found.index, ground, profile, regions.value);
  } finally {
    ground.end();
  }
}

function onGround(
  context: ContextOf<'wrap'>,
  body: KernelBody,
  index: number,
  ground: Ground,
  profile: { readonly name: string },
  regions: readonly Region[],
): StepOutcome {
  const { kernel, step, project, values } = context;
  const { inputs } = step;
  const what = `${profile.name} can’t be wrapped so`;
  const on = inPlace(ground);
  const face = turnedFace(on, ground.sheet.u, ground.sheet.v, ground.sheet.closed);
  const words = faceWords(body.faces[index]!, project);
  if (!face)
    return fail({
      what,
      why: `${words} is not turned about an axis`,
      tryInstead: ['pick a cylinder, a cone, a ball, a ring or another turned face', 'extrude it, where the face is flat'],
    });
  const height = face.length / 2 + values.up;
  if (!(height > 0 && height < face.length))
    return fail({
      what,
      why: `its origin lies beyond ${words}, which reaches ${fixed(face.length / 2, 2)} mm to either side of its middle`,
      tryInstead: ['nearer to the middle of the face'],
      fixes: [{ words: 'Put it in the middle of the face', step: step.id, values: { up: '0 mm' } }],
    });
  const laid = layRound(face, values.around, height, values.turn);
  const places = regions.flatMap((r) => r.outer.flatMap((c) => Array.from({ length: LOOKS }, (_, i) => pointAt(c.curve, i / LOOKS))));
  const room = fits(face, laid, places);
  if (!room.ok)
    return beyondIt(context, what, words, room.error, (up) => {
      const there = face.length / 2 + up;
      return there > 0 && there < face.length && fits(face, layRound(face, values.around, there, values.turn), places).ok;
    });
  const [least, most] = room.value.stretch;
  const stretch =
    most - least < 1e-6
      ? `unrolled exactly, ${fixed(height, 2)} mm over the lower end of the face`
      : `widths × ${fixed(least, 3)} to ${fixed(most, 3)}, heights as drawn, ${fixed(height, 2)} mm over the lower end of the face`;
  if (inputs.as !== 'apart') {
    const quick = byTopology(context, body, index, ground, face, laid, regions, places);
    if (quick) return changed(inputs.body, body, quick, [], stretch);
  }
  const root = Math.min(ROOT, values.height);
  const [low, high] = inputs.as === 'raised' ? [-root, values.height] : inputs.as === 'sunk' ? [-values.height, root] : [0, values.height];
  const solids: KernelBody[] = [];
  for (const region of regions) {
    const made = wrappedSolid(kernel, laid.at, region, low, high);
    const verified = made.ok ? verifySolid(kernel, made.value.shape, { simple: true }) : made;
    if (!made.ok || !verified.ok)
      return fail({
        what,
        why: made.ok ? 'what is raised would pass through itself' : made.error,
        tryInstead: ['less high', 'farther from where the face comes to its axis'],
      });
    const names = made.value.faces.map((f) => nameOf(step.id, f));
    solids.push(asBody(verified.value, names));
  }
  const raised = { solids, words: profile.name, note: stretch };
  if (inputs.as === 'apart') return asNewBody(context, ok(raised));
  const done = combineInto(context, inputs.as === 'raised' ? 'join' : 'cut', inputs.body, body, raised);
  if (!done.ok || inputs.as === 'raised' || !('volumeChange' in done.value)) return done;
  const meant = (solids.reduce((sum, b) => sum + b.volume, 0) * values.height) / (values.height + root);
  if (-done.value.volumeChange > MET * meant) return done;
  const message = 'part of it meets nothing: it is deeper than the wall is thick, or lies over an opening';
  return ok({ ...done.value, warnings: [...done.value.warnings, { message }] });
}

/** Places of the face as they lie in the body. */
const inPlace =
  ({ on, world }: Ground) =>
  (u: number, v: number): On | undefined => {
    const o = on(u, v);
    if (!o) return undefined;
    const p = world(o.p);
    const turned = (d: Vec3): Vec3 => minus(world(triple((k) => o.p[k] + d[k])), p);
    return { p, n: turned(o.n), du: turned(o.du), dv: turned(o.dv) };
  };

/** Farther than this from where a face closes, rad. */
const CLEAR = 1e-4;

/**
 * Raised or sunk by topology alone, where all of it lies within the face and clear of where that closes; undefined where that is not so, or what
 * comes of it is not sound.
 */
function byTopology(
  { kernel, step, values }: ContextOf<'wrap'>,
  body: KernelBody,
  index: number,
  ground: Ground,
  face: TurnedFace,
  laid: Laid,
  regions: readonly Region[],
  places: readonly Point2[],
): KernelBody | undefined {
  const { sheet, world } = ground;
  const moved = (
    [
      [0, 0, 0],
      [1, 0, 0],
      [0, 1, 0],
    ] as const
  ).some((p) => distance(world(p), p) > 0);
  if (moved || body.pieces) return undefined;
  const firsts = places.map((p) => face.first(laid.place(p).angle));
  const [from, to] = [Math.min(...firsts), Math.max(...firsts)];
  const turns = 2 * Math.PI * Math.floor((from - sheet.u[0]) / (2 * Math.PI) + 1e-9);
  const clear = sheet.closed ? CLEAR : 0;
  if (from - turns < sheet.u[0] + clear || to - turns > sheet.u[1] - clear) return undefined;
  const middle = ground.on((sheet.u[0] + sheet.u[1]) / 2, (sheet.v[0] + sheet.v[1]) / 2);
  if (!middle) return undefined;
  const base: Base = {
    uv: (p) => {
      const { s, angle } = laid.place(p);
      return [face.first(angle) - turns, face.meridian(Math.min(face.length, Math.max(0, s)))[4]];
    },
    on: ([u, v]) => sheet.at(u, v) ?? middle.p,
    outwards: dot(cross(middle.du, middle.dv), middle.n) > 0,
  };
  const raised = step.inputs.as === 'raised';
  const made = embossed(kernel, body.shape, index, base, laid.at, regions, raised ? values.height : -values.height);
  if (!made?.ok) return undefined;
  const { shape, added } = made.value;
  const verified = verifyDetail(kernel, shape, body.volume, raised, body.faces.length + added.length);
  if (!verified.ok) return undefined;
  const own = added.map((f) => (f === 'island' ? body.faces[index]! : nameOf(step.id, f)));
  const names = [...body.faces, ...own];
  const claims = facesOf(kernel, verified.value.shape).map((f, i) => ({ shape: f, name: names[i]! }));
  return asBody(verified.value, nameFaces(kernel, verified.value.shape, claims, step.id));
}

const nameOf = (id: string, face: WrappedSolid['faces'][number]): string =>
  `${id}/${face === 'low' ? 'start' : face === 'high' ? 'end' : face.curve}`;

type Beyond = Extract<ReturnType<typeof fits>, { readonly ok: false }>['error'];

/** Which end of the face it reaches beyond and how far, with what brings it back where there is room for it. */
function beyondIt(
  { step, values }: ContextOf<'wrap'>,
  what: string,
  words: string,
  off: Beyond,
  goes: (up: number) => boolean,
): Result<never, StepFailure> {
  const { above, below, before, after, over } = off;
  const said = [
    above > 0 ? `${fixed(above, 2)} mm beyond its upper end` : '',
    below > 0 ? `${fixed(below, 2)} mm beyond its lower end` : '',
    before > 0 ? `${fixed(before / DEGREE, 1)}° beyond its one side` : '',
    after > 0 ? `${fixed(after / DEGREE, 1)}° beyond its other side` : '',
    over > 0 ? `${fixed(over / DEGREE, 1)}° round onto itself` : '',
  ].filter(Boolean);
  const fixes: Fix[] = [];
  // Moved by what is missing, a little more than that.
  if (above > 0 !== below > 0 && before + after + over === 0) {
    const up = values.up + (above > 0 ? -above - 1e-3 : below + 1e-3);
    if (goes(up))
      fixes.push({
        words: `Move it ${above > 0 ? 'down' : 'up'} by ${fixed(above + below, 2)} mm`,
        step: step.id,
        values: { up: `${up.toFixed(3)} mm` },
      });
  }
  return fail({
    what,
    why: `it reaches ${said.join(', ')} of ${words}`,
    tryInstead: over > 0 ? ['a narrower drawing'] : ['move it', 'a smaller drawing'],
    fixes,
  });
}
