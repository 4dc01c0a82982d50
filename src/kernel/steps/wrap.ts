/** Outlines laid round a turned face in true scale, and raised over it, sunk into it, or left as a body of their own. */

import { pointAt } from '../../core/curves/planar';
import { fits, layRound, type TurnedFace, turnedFace } from '../../core/detail/wrap';
import { minus, type Vec3 } from '../../core/geometry/vectors';
import { material } from '../../core/profile/material';
import { faceWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import { asBody, type Fix, type KernelBody, type StepFailure, wanting } from '../body';
import { groundOf } from '../dimples';
import { placedProfile } from '../placed';
import { pickedFaces } from '../refer';
import { verifySolid } from '../verify';
import { wrappedSolid } from '../wrapped';
import { needBody } from './combine';
import type { ContextOf, StepOutcome } from './operation';
import { asNewBody, combineInto } from './raise';

/** How far what is raised reaches into the skin, and what is sunk stands out of it, mm: faces that fall together are met badly. */
const ROOT = 0.2;
/** Places of each line of an outline that are looked at for whether it fits. */
const LOOKS = 48;
const DEGREE = Math.PI / 180;

export function wrap(context: ContextOf<'wrap'>): StepOutcome {
  const { kernel, step, project, values, scope } = context;
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
  const face = faceOf(context, body.value, found.index);
  const words = faceWords(body.value.faces[found.index]!, project);
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
  const places = regions.value.flatMap((r) => r.outer.flatMap((c) => Array.from({ length: LOOKS }, (_, i) => pointAt(c.curve, i / LOOKS))));
  const room = fits(face, laid, places);
  if (!room.ok)
    return beyondIt(context, what, words, room.error, (up) => {
      const there = face.length / 2 + up;
      return there > 0 && there < face.length && fits(face, layRound(face, values.around, there, values.turn), places).ok;
    });
  const root = Math.min(ROOT, values.height);
  const [low, high] = inputs.as === 'raised' ? [-root, values.height] : inputs.as === 'sunk' ? [-values.height, root] : [0, values.height];
  const solids: KernelBody[] = [];
  for (const region of regions.value) {
    const made = wrappedSolid(kernel, laid.at, region, low, high);
    const verified = made.ok ? verifySolid(kernel, made.value.shape, { simple: true }) : made;
    if (!made.ok || !verified.ok)
      return fail({
        what,
        why: made.ok ? 'what is raised would pass through itself' : made.error,
        tryInstead: ['less high', 'farther from where the face comes to its axis'],
      });
    const names = made.value.faces.map((f) => `${step.id}/${f === 'low' ? 'start' : f === 'high' ? 'end' : f.curve}`);
    solids.push(asBody(verified.value, names));
  }
  const [least, most] = room.value.stretch;
  const stretch =
    most - least < 1e-6
      ? `unrolled exactly, ${fixed(height, 2)} mm over the lower end of the face`
      : `widths × ${fixed(least, 3)} to ${fixed(most, 3)}, heights as drawn, ${fixed(height, 2)} mm over the lower end of the face`;
  const raised = { solids, words: profile.name, note: stretch };
  if (inputs.as === 'apart') return asNewBody(context, ok(raised));
  return combineInto(context, inputs.as === 'raised' ? 'join' : 'cut', inputs.body, body.value, raised);
}

/** The face as one that is turned, where it lies; undefined where it is none. */
function faceOf({ kernel }: ContextOf<'wrap'>, body: KernelBody, index: number): TurnedFace | undefined {
  const ground = groundOf(kernel, body.shape, index);
  try {
    const at = (u: number, v: number) => {
      const o = ground.on(u, v);
      if (!o) return undefined;
      const p = ground.world(o.p);
      const turned = (d: Vec3): Vec3 => minus(ground.world([o.p[0] + d[0], o.p[1] + d[1], o.p[2] + d[2]]), p);
      return { p, n: turned(o.n), du: turned(o.du), dv: turned(o.dv) };
    };
    return turnedFace(at, ground.sheet.u, ground.sheet.v, ground.sheet.closed);
  } finally {
    ground.end();
  }
}

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
