/** What there is at a place in the order of steps: bodies with their keys, planes, and what each profile saw when it was first used. */
import { type Frame, isOriginPlane, ORIGIN_PLANES } from '../core/curves/frame';
import type { SpaceCurve } from '../core/curves/path';
import { evaluateDimensions } from '../core/dimensions/dimensions';
import type { Scope } from '../core/dimensions/expression';
import { hashText } from '../core/hash';
import { resolveProfile } from '../core/profile/resolve';
import type { Profile, Project, Step } from '../core/recipe/schema';
import { stepDefinitions } from '../core/recipe/steps';
import type { KernelBody } from '../kernel/body';

export const bodyKey = (stepKey: string, id: string): string => `${stepKey}/${id}`;

export interface Seen {
  readonly bodies: Map<string, KernelBody>;
  readonly keys: ReadonlyMap<string, string>;
}

export class Trail {
  readonly bodies = new Map<string, KernelBody>();
  /** Key of each body: that of the step it came from last, with its own id. */
  readonly keys = new Map<string, string>();
  readonly planes = new Map<string, Frame>();
  readonly paths = new Map<string, readonly SpaceCurve[]>();
  readonly stepKeys = new Map<string, string>();
  readonly seen = new Map<string, Seen>();
  readonly scope: Scope;

  constructor(private readonly project: Project) {
    this.scope = evaluateDimensions(project.dimensions).scope;
  }

  /** Fixes what the profiles of a step follow: the bodies as they stand now, unless an earlier step used them already. */
  look(step: Step): void {
    for (const id of stepDefinitions[step.kind]!.uses(step.inputs).profiles)
      if (!this.seen.has(id)) this.seen.set(id, { bodies: new Map(this.bodies), keys: new Map(this.keys) });
  }

  /** Goes on past a step that is done. */
  take(
    step: Step,
    key: string,
    done: {
      readonly made: readonly { readonly id: string }[] | null;
      readonly gone: readonly string[];
      readonly frame?: Frame;
      readonly path?: readonly SpaceCurve[];
    },
  ): void {
    this.stepKeys.set(step.id, key);
    if (done.path) this.paths.set(step.id, done.path);
    if (done.frame) this.planes.set(step.id, done.frame);
    for (const id of done.gone) {
      this.bodies.delete(id);
      this.keys.delete(id);
    }
    for (const { id } of done.made ?? []) this.keys.set(id, bodyKey(key, id));
  }

  /** Bodies as a profile sees them; the present ones for one that no step has used. */
  seenBy(profile: string): Seen {
    return this.seen.get(profile) ?? { bodies: this.bodies, keys: this.keys };
  }

  frameOf(plane: string): Frame | undefined {
    return isOriginPlane(plane) ? ORIGIN_PLANES[plane] : this.planes.get(plane);
  }

  /** Same key, same result: a step's own numbers and everything it is built from. Failures quote names, so these belong to it. */
  keyOf(step: Step, values: Readonly<Record<string, number>>): string {
    const definition = stepDefinitions[step.kind]!;
    const uses = definition.uses(step.inputs);
    return hashText(
      JSON.stringify([
        step.id,
        step.kind,
        step.inputs,
        values,
        uses.profiles.map((id) => this.profileKey(id)),
        uses.planes.map((p) => this.frameOf(p) ?? null),
        uses.bodies.map((b) => this.keys.get(b) ?? null),
        (uses.paths ?? []).map((p) => this.paths.get(p) ?? null),
        (uses.steps ?? []).map((s) => this.stepKeys.get(s) ?? null),
        uses.expressions ? this.namedIn(step.inputs) : null,
        (uses.imports ?? []).map((id) => importKey(this.project, id)),
      ]),
    );
  }

  /** The dimensions named in a step's expressions, with what they stand for: others leave it as it is. */
  private namedIn(inputs: unknown): unknown {
    const words = new Set(JSON.stringify(inputs).match(/[\p{L}_][\p{L}\p{N}_]*/gu));
    return this.project.dimensions.filter((d) => words.has(d.name)).map((d) => [d.name, this.scope(d.name) ?? null]);
  }

  private profileKey(id: string): unknown {
    const profile = this.project.profiles.find((p) => p.id === id);
    if (!profile) return null;
    const frame = this.frameOf(profile.plane) ?? null;
    if (profile.projections.length === 0) {
      const r = resolveProfile(profile, this.scope);
      if (!r.ok) return [profile.name, profile.half, frame, r.error.message];
      const { curves, points } = r.value;
      return [profile.name, profile.half, frame, curves.map((c) => [c.id, c.construction, c.curve]), [...points]];
    }
    const { keys } = this.seenBy(id);
    return [shapeOf(profile), frame, this.project.dimensions, profile.projections.map((p) => keys.get(p.body) ?? null)];
  }
}

/** Texts of imports are long, and stay the same objects while the document is edited. */
const importKeys = new WeakMap<object, string>();

function importKey(project: Project, id: string): string | null {
  const file = project.imports?.[id];
  if (!file) return null;
  let key = importKeys.get(file);
  if (key === undefined) {
    key = hashText(JSON.stringify(file));
    importKeys.set(file, key);
  }
  return key;
}

/** What a profile's shape depends on: not where its words stand, nor the picture under it. */
const shapeOf = (p: Profile): unknown => [
  p.name,
  p.half,
  p.points,
  p.curves,
  p.constraints.map((c) => ('label' in c ? { ...c, label: null } : c)),
  p.derived,
  p.projections,
];
