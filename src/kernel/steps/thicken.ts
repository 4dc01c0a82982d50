/** Gives a surface an even wall, to one side or both, or moves it along its normals. */
import type { ThickenInputs } from '../../core/recipe/steps';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import { asBody, asSurface, type Fix, type KernelBody, type StepFailure } from '../body';
import { largestWorking, roundDown } from '../largest';
import { type Claim, listOf, nameFaces } from '../names';
import { attempt, type Kernel, type Shape, scoped } from '../open';
import { compoundOf, distanceBetween, facesOf, solidsOf, volumeOf } from '../shapes';
import { verifySurface } from '../surface';
import { verifySolid } from '../verify';
import { needBody } from './combine';
import type { StepContext, StepOutcome, Trial } from './operation';

type Made = Result<KernelBody, Pick<StepFailure, 'why' | 'at'>>;

/** A surface moved along its normals, every place of it by the same distance. */
export function moved(kernel: Kernel, surface: KernelBody, distance: number): Made {
  const made = attempt(kernel, () =>
    scoped((s) => {
      const maker = s.keep(new kernel.BRepOffsetAPI_MakeOffsetShape());
      maker.PerformBySimple(surface.shape, distance);
      if (!maker.IsDone()) return undefined;
      const claims = facesOf(kernel, surface.shape).flatMap((f, i): Claim[] =>
        listOf(kernel, maker.Generated(f)).map((shape) => ({ shape, name: surface.faces[i]! })),
      );
      return { shape: maker.Shape(), claims };
    }),
  );
  if (!made.ok || !made.value) return fail({ why: 'it bends tighter than that' });
  const verified = verifySurface(kernel, made.value.shape);
  if (!verified.ok) return fail({ why: verified.error.why });
  const d = distanceBetween(kernel, surface.shape, verified.value.shape);
  if (!d || Math.abs(d.distance - Math.abs(distance)) > 1e-3)
    return fail({
      why: `it would lie ${fixed(d?.distance ?? 0, 3)} mm away where ${fixed(Math.abs(distance), 3)} mm is asked`,
      ...(d ? { at: d.onA } : {}),
    });
  const names = nameFaces(kernel, verified.value.shape, made.value.claims, 'moved');
  return ok(
    asSurface(
      verified.value,
      names.map((n, i) => (n.startsWith('moved/') ? (surface.faces[i] ?? n) : n)),
    ),
  );
}

/** A surface with a wall. @param wall signed: before the surface where positive */
export function walled(kernel: Kernel, surface: KernelBody, wall: number, stepId: string): Made {
  const made = attempt(kernel, () =>
    scoped((s) => {
      const maker = s.keep(new kernel.BRepOffsetAPI_MakeThickSolid());
      maker.MakeThickSolidBySimple(surface.shape, wall);
      maker.Build();
      if (!maker.IsDone()) return undefined;
      const kept: Claim[] = [];
      const outer: Claim[] = [];
      facesOf(kernel, surface.shape).forEach((f, i) => {
        kept.push({ shape: f, name: surface.faces[i]! });
        for (const g of listOf(kernel, maker.Generated(f)))
          if (g.ShapeType() === 'TopAbs_FACE') outer.push({ shape: g, name: `${stepId}/outer(${surface.faces[i]!})` });
      });
      const shape = maker.Shape();
      const solid = solidsOf(kernel, shape)[0] ?? shape;
      // Behind the surface the builder leaves it inside out.
      return { shape: volumeOf(kernel, solid).volume < 0 ? solid.Reversed() : solid, kept, outer };
    }),
  );
  if (!made.ok || !made.value) return fail({ why: 'it bends tighter than the wall' });
  const { shape, kept, outer } = made.value;
  const verified = verifySolid(kernel, shape);
  if (!verified.ok) return fail({ why: verified.error.why });
  const faces = facesOf(kernel, verified.value.shape);
  const find = (claims: readonly Claim[]): Shape[] => faces.filter((f) => claims.some((c) => c.shape.IsSame(f)));
  const [a, b] = [find(kept), find(outer)];
  if (a.length === 0 || b.length === 0) return fail({ why: 'a side of the wall was lost' });
  const [near, far] = [compoundOf(kernel, a), compoundOf(kernel, b)];
  const d = distanceBetween(kernel, near, far);
  near.delete();
  far.delete();
  if (!d || Math.abs(d.distance - Math.abs(wall)) > 1e-3)
    return fail({
      why: `the wall would be ${fixed(d?.distance ?? 0, 3)} mm where ${fixed(Math.abs(wall), 3)} mm is asked`,
      ...(d ? { at: d.onA } : {}),
    });
  return ok(asBody(verified.value, nameFaces(kernel, verified.value.shape, [...kept, ...outer], stepId)));
}

function run(context: StepContext, surface: KernelBody, wall: number): Made {
  const { kernel, step } = context;
  switch ((step.inputs as ThickenInputs).side) {
    case 'front':
      return walled(kernel, surface, wall, step.id);
    case 'back':
      return walled(kernel, surface, -wall, step.id);
    case 'moved':
      return moved(kernel, surface, wall);
    case 'both': {
      const back = moved(kernel, surface, -wall / 2);
      return back.ok ? walled(kernel, back.value, wall, step.id) : back;
    }
  }
}

export function thicken(context: StepContext): StepOutcome {
  const { project, step } = context;
  const inputs = step.inputs as ThickenInputs;
  const surface = needBody(context, inputs.body, 'there is nothing to give a wall to');
  if (!surface.ok) return surface;
  const name = bodyWords(inputs.body, project);
  const wall = context.values.wall!;
  if (!surface.value.surface)
    return fail({
      what: `${name} can’t be given a wall`,
      why: 'it is a solid already',
      tryInstead: ['hollow it instead', 'choose a surface'],
    });
  const done = run(context, surface.value, wall);
  if (done.ok) return ok({ bodies: [{ id: inputs.body, body: done.value }], volumeChange: done.value.volume, warnings: [] });
  const best = largestWorking((t) => run(context, surface.value, t).ok, wall);
  const fixes: Fix[] =
    best === undefined ? [] : [{ words: `Use ${roundDown(best)} mm`, step: step.id, values: { wall: `${roundDown(best)} mm` } }];
  return fail({
    what: `${name} can’t have a wall of ${fixed(wall, 2)} mm`,
    why: done.error.why,
    tryInstead: [best === undefined ? 'no thinner wall worked either; give it to the other side' : `${roundDown(best)} mm works`],
    fixes,
    ...(done.error.at ? { at: done.error.at } : {}),
  });
}

/** The same step once more with another wall: what its range is tried with. */
export async function thickenTrial(context: StepContext): Promise<Trial | undefined> {
  const surface = context.bodies.get((context.step.inputs as ThickenInputs).body);
  if (!surface?.surface) return undefined;
  return { room: undefined, works: (wall) => run(context, surface, wall).ok };
}
