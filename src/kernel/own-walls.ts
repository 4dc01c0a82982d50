/** Faces of a shell with a wall of their own: thicker or thinner than the rest, flat or curved. */
import { wholeFace } from '../core/recipe/names';
import { fail, ok, type Result } from '../core/result';
import { fixed } from '../core/units/units';
import type { KernelBody, StepFailure } from './body';
import { booleanOf } from './boolean';
import type { Kernel } from './open';
import { slabOf } from './prism';
import { flatFrame } from './refer';
import { compoundOf, distanceBetween, facesOf } from './shapes';

/** One face with its own wall, by name and in words. */
export interface OwnWall {
  readonly name: string;
  readonly words: string;
}

/** What lies within a wall of one face of a body, inside or outside of it, as if all the others were open; or why there is none. */
export type WallAt = (body: KernelBody, face: string, wall: number) => Result<KernelBody>;

/** Everything of the old body within a face’s own wall, joined to the shell. */
function thicker(
  kernel: Kernel,
  body: KernelBody,
  shell: KernelBody,
  own: OwnWall,
  wall: number,
  under: WallAt,
  stepId: string,
): Result<KernelBody> {
  const plane = flatFrame(kernel, facesOf(kernel, body.shape)[body.faces.indexOf(own.name)]!);
  // Over a plane from a little before the face: its border lines then lie on nothing of the slab.
  const names = { from: `${stepId}/far`, to: `${stepId}/inner(${own.name})` };
  const slab = plane && slabOf(kernel, body.shape, plane, 1, -wall, names, stepId);
  const part = slab
    ? booleanOf(kernel, 'common', body, [slab], { target: own.words, tool: 'its wall' }, stepId)
    : under(body, own.name, wall);
  if (!part.ok) return typeof part.error === 'string' ? fail(part.error) : fail(part.error.why);
  const joined = booleanOf(kernel, 'join', shell, [part.value], { target: 'the shell', tool: `the wall of ${own.words}` }, stepId);
  return joined.ok ? joined : fail(joined.error.why);
}

/** What lies between a face of the cavity and its own, nearer place, taken out of the shell. */
function thinner(
  kernel: Kernel,
  body: KernelBody,
  shell: KernelBody,
  own: OwnWall,
  less: number,
  over: WallAt,
  stepId: string,
): Result<KernelBody> {
  const inside = `${stepId}/inner(${own.name})`;
  if (!shell.faces.some((f) => wholeFace(f) === inside)) return fail('the cavity has no face behind it');
  // Over the cavity’s own face, with the cavity’s other faces as where it ends: it reaches as far as they do.
  const cavity = booleanOf(kernel, 'cut', body, [shell], { target: 'the body', tool: 'the shell' }, stepId);
  if (!cavity.ok) return fail(cavity.error.why);
  const pocket = over(cavity.value, inside, less);
  if (!pocket.ok) return pocket;
  const cut = booleanOf(kernel, 'cut', shell, [pocket.value], { target: 'the shell', tool: `the wall of ${own.words}` }, stepId);
  return cut.ok ? cut : fail(cut.error.why);
}

/** Least distance between the cavity of a shell and what is left of the old skin, mm. */
function leastWall(kernel: Kernel, shell: KernelBody, before: KernelBody, stepId: string): ReturnType<typeof distanceBetween> {
  const faces = facesOf(kernel, shell.shape);
  const kept = new Set(before.faces.map(wholeFace));
  const some = (which: (name: string) => boolean) =>
    compoundOf(
      kernel,
      faces.filter((_, i) => which(shell.faces[i]!)),
    );
  const [inner, outer] = [some((n) => n.startsWith(`${stepId}/`) && !n.startsWith(`${stepId}/rim`)), some((n) => kept.has(wholeFace(n)))];
  const d = distanceBetween(kernel, inner, outer);
  inner.delete();
  outer.delete();
  return d;
}

/**
 * The shell with the own walls of some faces.
 * @param wall of the rest, mm; @param own of these faces, mm
 */
export function withOwnWalls(
  kernel: Kernel,
  body: KernelBody,
  shell: KernelBody,
  list: readonly OwnWall[],
  wall: number,
  own: number,
  walls: { readonly under: WallAt; readonly over: WallAt },
  stepId: string,
): Result<KernelBody, StepFailure> {
  let now = shell;
  if (Math.abs(own - wall) < 1e-9) return ok(now);
  for (const face of list) {
    const made =
      own > wall
        ? thicker(kernel, body, now, face, own, walls.under, stepId)
        : thinner(kernel, body, now, face, wall - own, walls.over, stepId);
    if (!made.ok)
      return fail({
        what: `a wall of ${fixed(own, 2)} mm at ${face.words} could not be made`,
        why: made.error,
        tryInstead: [own > wall ? 'a thinner one' : 'one nearer to the wall of the rest', 'another face'],
      });
    now = made.value;
  }
  if (list.length === 0 || own > wall) return ok(now);
  const least = leastWall(kernel, now, body, stepId);
  if (!least || least.distance < own - 1e-3)
    return fail({
      what: `a wall of ${fixed(own, 2)} mm at ${list.map((l) => l.words).join(' and ')} could not be made`,
      why: `the wall beside it would be ${fixed(least?.distance ?? 0, 3)} mm`,
      tryInstead: ['one nearer to the wall of the rest'],
      ...(least ? { at: least.onB } : {}),
    });
  return ok(now);
}
