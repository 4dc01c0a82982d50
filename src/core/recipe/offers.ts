/** What can be done next: every kind of step is asked what it can be begun with. */
import { bodiesBefore, curvesBefore, planesBefore } from './edit';
import { isScan } from './lineage';
import { alternatives, stepOf } from './names';
import { parallelTo } from './planes';
import type { Profile, Project } from './schema';
import { definitions, type Offer, type Offering, pieceOf, type RaiseMode, type StepKind, standsAlone, stepDefinitions } from './steps';
import { bodyWords, stepTitle } from './words';

/** An offer with the kind of step it makes. */
export interface NextOffer extends Offer<Record<string, unknown>> {
  readonly kind: StepKind;
  readonly known: readonly string[];
}

/** Whether a plane was placed on a face of a body, its normal away from it. */
const liesOnFace = (project: Project, plane: string): boolean => {
  const step = project.steps.find((s) => s.id === plane);
  return step?.kind === 'plane' && (step.inputs.by === 'on' || step.inputs.by === 'touch');
};

/** What was built already: ids of bodies that are surfaces, and of all that a step made. */
export interface Built {
  readonly skins: ReadonlySet<string>;
  readonly made: (step: string) => readonly string[] | undefined;
  /** The name of a body's topmost flat, level face, where it has one. */
  readonly top?: (body: string) => string | undefined;
  /** Bounds of a body, mm. */
  readonly box?: (body: string) => { readonly min: readonly number[]; readonly max: readonly number[] } | undefined;
}

/** Nearer to a plane than this a body lies against it, mm. */
const AGAINST = 1e-3;
/** Planes through the origin with the axis square to them, the upright ones first. */
const PLANES = [
  ['side', 0],
  ['front', 1],
  ['level', 2],
] as const;

/** Whether the ends of a drawing's curves meet in pairs. */
function closes({ curves }: Profile): boolean {
  const met = new Map<string, number>();
  let whole = false;
  for (const c of curves) {
    if (c.construction) continue;
    if ('from' in c) for (const end of [c.from, c.to]) met.set(end, (met.get(end) ?? 0) + 1);
    else if (c.kind === 'circle' || c.kind === 'text' || (c.kind === 'ellipse' && !c.arc)) whole = true;
    else return false;
  }
  return (whole || met.size > 0) && [...met.values()].every((n) => n === 2);
}

export function offeringOf(project: Project, { skins, made, box, top }: Built): Offering {
  // Where the next step will stand: after the marker, or at the end.
  const end = project.marker === null ? project.steps.length : project.steps.findIndex((s) => s.id === project.marker) + 1;
  const before = project.steps[end]?.id;
  const bodies = bodiesBefore(project, before, made)
    .toReversed()
    // What was put out of sight is not what is worked on.
    .toSorted((a, b) => Number(project.bodies[a]?.hidden === true) - Number(project.bodies[b]?.hidden === true))
    .map((id) => ({ id, name: bodyWords(id, project) }));
  const last = project.steps.slice(0, end).findLast((s) => stepDefinitions[s.kind]?.group === 'raise' && typeof s.inputs.mode === 'string');
  return {
    // What needs an inside is not offered for a surface.
    solids: bodies.filter((b) => !skins.has(b.id) && !isScan(project, b.id)),
    skins: bodies.filter((b) => skins.has(b.id) && !isScan(project, b.id)),
    cages: bodies.filter(
      (b) =>
        skins.has(b.id) &&
        project.steps
          .slice(0, end)
          .every((s) => (s.id === b.id ? s.kind === 'form' : stepDefinitions[s.kind]?.changesBody(s.inputs) !== b.id)),
    ),
    scans: bodies.filter((b) => isScan(project, b.id)),
    profiles: project.profiles.map((p) => ({
      id: p.id,
      name: p.name,
      half: p.half,
      onFace: liesOnFace(project, p.plane),
      closed: closes(p),
      open: p.curves.some((c) => !c.construction) && !closes(p),
      lettered: p.curves.some((c) => c.kind === 'text' && !c.construction && c.text.length > 1),
      plane: p.plane,
      along: parallelTo(project, p.plane),
      used: project.steps.some((s) => stepDefinitions[s.kind]?.uses(s.inputs).profiles.includes(p.id)),
    })),
    planes: planesBefore(project, before),
    curves: curvesBefore(project, before).toReversed(),
    raised: last
      ? {
          id: last.id,
          name: stepTitle(last.id, project),
          body: standsAlone(last.inputs.mode as RaiseMode['mode']) ? last.id : (last.inputs.body as string | null),
        }
      : null,
    topOf: (body) => {
      const face = top?.(body);
      const maker = face === undefined ? undefined : stepOf(alternatives(face)[0]!);
      return project.steps.some((s) => s.id === maker) ? maker! : topMaker(project, body);
    },
    against: (body) => {
      const b = box?.(body);
      if (!b) return null;
      const touched = PLANES.slice(0, 2).filter(([, k]) => Math.abs(b.min[k]!) < AGAINST || Math.abs(b.max[k]!) < AGAINST);
      // A half is thin square to its plane.
      return touched.toSorted(([, j], [, k]) => b.max[j]! - b.min[j]! - (b.max[k]! - b.min[k]!))[0]?.[0] ?? null;
    },
    across: (body) => {
      const b = box?.(body);
      return (b && PLANES.toReversed().find(([, k]) => b.min[k]! < -AGAINST && b.max[k]! > AGAINST)?.[0]) ?? null;
    },
    dimension: (name) => project.dimensions.some((d) => d.name === name),
  };
}

/** All that can be begun, in the order of the kinds; of a kind that can't be, what it needs. */
export function nextOffers(
  project: Project,
  built: Built,
): {
  readonly offers: readonly NextOffer[];
  readonly missing: readonly {
    readonly kind: StepKind;
    readonly label: string;
    readonly needs: string;
    readonly known: readonly string[];
  }[];
} {
  const c = offeringOf(project, built);
  const kinds = (Object.keys(definitions) as StepKind[]).map((kind) => {
    const { known, needs, verb, summary, offers } = stepDefinitions[kind]!;
    return { kind, known, needs, label: `${verb}: ${summary}`, offers: offers(c) };
  });
  return {
    offers: kinds.flatMap(({ kind, known, offers }) => offers.map((o) => ({ ...o, kind, known }))),
    missing: kinds.filter((k) => k.offers.length === 0),
  };
}

/** The last revolve joined to a body usually carries its rim. */
function topMaker(project: Project, body: string): string {
  // A piece that was parted off was made by what made the whole.
  const parted = project.steps.find((s) => s.id === (pieceOf(body)?.step ?? body) && s.kind === 'split');
  if (parted && parted.inputs.body !== body) return topMaker(project, String(parted.inputs.body));
  const makers = project.steps.filter(
    (s) => s.kind === 'revolve' && (s.id === body || (s.inputs.body === body && s.inputs.mode === 'join')),
  );
  const withFlat = makers.filter((s) => project.profiles.find((p) => p.id === s.inputs.profile)?.curves.some((c) => c.kind === 'line'));
  return (withFlat[withFlat.length - 1] ?? makers[0])?.id ?? body;
}
