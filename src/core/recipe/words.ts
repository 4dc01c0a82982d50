/** Faces, edges and steps in the sheet's words. */
import { isOriginPlane } from '../curves/frame';
import { derivedCurveWords } from '../profile/words';
import { alternatives, atAnyCopy, BORDER, type EdgeRef, type FaceRef, splitEdgeName } from './names';
import type { Profile, Project } from './schema';
import { sidesOf } from './sides';
import { type Pick, pieceOf, type SectionRef, stepDefinitions, stepOf } from './steps';

export function curveWords(profile: Profile | undefined, curveId: string): string {
  const curve = profile?.curves.find((c) => c.id === curveId);
  if (!curve) return (profile && derivedCurveWords(profile, curveId, (of) => curveWords(profile, of))) ?? `curve ${curveId}`;
  if (curve.name) return curve.name;
  const index = profile!.curves.indexOf(curve) + 1;
  return `${curve.kind} ${index}`;
}

/** `rim of Collar`, `inside behind side of Belly`, `round at belly–collar`. */
export function faceWords(name: string, project: Project): string {
  const first = alternatives(name)[0]!;
  const at = first.indexOf('/');
  const step = project.steps.find((s) => s.id === first.slice(0, at));
  let rest = first.slice(at + 1);
  let piece = '';
  // A piece of a piece, after a second cut, is 2.3.
  const hash = /((?:#\d+)+)$/.exec(rest);
  if (hash && !rest.endsWith(')')) {
    piece = `, piece ${hash[1]!.slice(1).replaceAll('#', '.')}`;
    rest = rest.slice(0, hash.index);
  }
  const inner = /^(inner|outer|rim|full|round|chamfer|copy|\d+)\((.*)\)$/.exec(rest);
  if (inner) {
    const [, what, of] = inner as unknown as [string, string, string];
    if (what === 'inner' || what === 'outer') {
      // What a wall outwards makes lies over the old faces.
      const over = what === 'outer' || step?.inputs.side === 'outward';
      return `${over ? 'outside over' : 'inside behind'} the ${splitEdgeName(of) ? edgeWords(of, project) : faceWords(of, project)}${piece}`;
    }
    if (what === 'rim') return `rim left of ${faceWords(of, project)}${piece}`;
    if (what === 'full') return `full round over ${faceWords(of, project)}${piece}`;
    if (what === 'chamfer') return `bevel on ${edgeWords(of, project)}${piece}`;
    if (what === 'round') return `round on ${edgeWords(of, project)}${piece}`;
    return `${what === 'copy' ? 'copy' : `copy ${what}`} of ${faceWords(of, project)}${piece}`;
  }
  const profile = project.profiles.find((p) => p.id === step?.inputs.profile);
  const patch = step?.kind === 'form' ? /^f(\d+)$/.exec(rest) : null;
  if (patch) {
    const body = project.bodies[step!.id]?.name ?? stepTitle(step!.id, project);
    const where = skinWhere(project, step!.id, Number(patch[1]));
    return `skin ${Number(patch[1]) + 1}${where && `, ${where},`} of ${body}${piece}`;
  }
  // A face that a line of the first section was carried to, and which of them in turn where there are several.
  const carried = step && !profile ? carriedLine(step.inputs.sections, rest, project) : undefined;
  if (carried) return `${carried} of ${project.bodies[step!.id]?.name ?? stepTitle(step!.id, project)}${piece}`;
  if (step && !profile)
    return `${rest === 'cut' ? 'cut face' : rest} of ${project.bodies[step.id]?.name ?? stepTitle(step.id, project)}${piece}`;
  const side = step && profile && sidesOf(project, step, profile).get(rest);
  if (side) return `${side} of ${project.bodies[step.id]?.name ?? profile.name}${piece}`;
  if (rest === 'start' || rest === 'end') return `${rest} face of ${profile?.name ?? first}${piece}`;
  return `${curveWords(profile, rest)} of ${profile?.name ?? 'a removed step'}${piece}`;
}

/** `arc 2, part 1`: what became of a line of the first drawing among sections. */
function carriedLine(sections: unknown, rest: string, project: Project): string | undefined {
  const [first] = Array.isArray(sections) ? sections : [];
  const profile = project.profiles.find((p) => p.id === first);
  const found = /^(.+?)(?:\.(\d+))?$/.exec(rest);
  const curve = profile?.curves.find((c) => c.id === found?.[1]);
  return curve && `${curveWords(profile, curve.id)}${found![2] ? `, part ${found![2]}` : ''}`;
}

export function edgeWords(name: string, project: Project): string {
  const parts = splitEdgeName(name);
  if (!parts) return name;
  const n = parts.suffix ? ` (${parts.suffix.slice(1)})` : '';
  if (parts.a === BORDER || parts.b === BORDER) return `border of ${faceWords(parts.a === BORDER ? parts.b : parts.a, project)}${n}`;
  const [a, b] = [faceWords(parts.a, project), faceWords(parts.b, project)];
  // What both are of is said once.
  const of = / of [^,]+$/.exec(b)?.[0];
  return `edge between ${of && a.endsWith(of) ? a.slice(0, -of.length) : a} and ${b}${n}`;
}

export const stepTitle = (stepId: string, project: Project): string => {
  const index = project.steps.findIndex((s) => s.id === stepId);
  const step = project.steps[index];
  if (!step) return 'a removed step';
  const profile = project.profiles.find((p) => p.id === step.inputs.profile);
  const verb = stepDefinitions[step.kind]?.verb ?? step.kind;
  return `step ${index + 1} (${verb}${profile ? ` ${profile.name}` : ''})`;
};

const profileOfStep = (stepId: string, project: Project): string => {
  const step = project.steps.find((s) => s.id === stepId);
  return project.profiles.find((p) => p.id === step?.inputs.profile)?.name ?? stepTitle(stepId, project);
};

export function faceRefWords(ref: FaceRef, project: Project): string {
  if ('face' in ref) return faceWords(ref.face, project);
  if ('topOf' in ref) return `topmost flat face of ${profileOfStep(ref.topOf, project)}`;
  return `lowest flat face of ${profileOfStep(ref.bottomOf, project)}`;
}

export function edgeRefWords(ref: EdgeRef, project: Project): string {
  if ('edge' in ref) return edgeWords(ref.edge, project);
  if ('alike' in ref) return `at every copy: ${edgeWords(atAnyCopy(ref.alike) ?? ref.alike, project)}`;
  return `every edge between ${profileOfStep(ref.between[0], project)} and ${profileOfStep(ref.between[1], project)}`;
}

/** A plane as it is called on the sheet. */
export function planeWords(ref: string, project: Project): string {
  if (isOriginPlane(ref)) return `the ${ref} plane`;
  const index = project.steps.findIndex((s) => s.id === ref);
  return index < 0 ? 'a removed plane' : `the plane of step ${index + 1}`;
}

const THIRDS: readonly (readonly [string, string])[] = [
  ['left', 'right'],
  ['front', 'back'],
  ['lower', 'upper'],
];
/** Where a face of a cage lies in the room its cage takes: “upper front left”; nothing in its middle, or where the cage leans. */
function skinWhere(project: Project, stepId: string, face: number): string {
  const inputs = stepOf(project, stepId, 'form')?.inputs;
  if (inputs?.source.by !== 'cage' || inputs.plane !== 'level') return '';
  const { vertices, faces } = inputs.source;
  const corners = faces[face]?.map((v) => vertices[v]!);
  if (!corners) return '';
  const words = [2, 1, 0].map((k) => {
    const [least, most] = vertices.reduce(([lo, hi], p) => [Math.min(lo, p[k]!), Math.max(hi, p[k]!)], [Infinity, -Infinity]);
    if (!(most > least)) return '';
    const share = (corners.reduce((sum, p) => sum + p[k]!, 0) / corners.length - least) / (most - least);
    return share < 1 / 3 ? THIRDS[k]![0] : share > 2 / 3 ? THIRDS[k]![1] : '';
  });
  return words.filter(Boolean).join(' ');
}

/** What a plane was placed by. */
export function pickWords(pick: Pick, project: Project): string {
  if ('face' in pick) return faceWords(pick.face, project);
  if ('at' in pick) return `(${pick.at.join(', ')})`;
  if ('step' in pick) {
    const index = project.steps.findIndex((s) => s.id === pick.step);
    const step = project.steps[index];
    return step ? `the ${stepDefinitions[step.kind]?.called?.(step.inputs) ?? 'curve'} of step ${index + 1}` : 'a removed curve';
  }
  if ('profile' in pick) {
    const profile = project.profiles.find((p) => p.id === pick.profile);
    const name = profile?.name ?? 'a removed profile';
    return 'curve' in pick ? `${curveWords(profile, pick.curve)} of ${name}` : `point ${pick.point} of ${name}`;
  }
  const edge = edgeWords(pick.edge, project);
  if (!('end' in pick)) return edge;
  return `${pick.end === 'low' ? 'lower end' : pick.end === 'high' ? 'upper end' : 'middle'} of the ${edge}`;
}

/** A section of a skin. */
export const sectionWords = (ref: SectionRef, project: Project): string =>
  typeof ref === 'string' ? (project.profiles.find((p) => p.id === ref)?.name ?? 'a removed drawing') : pickWords(ref, project);

/** A piece that only the build could count is known by its number. */
export function bodyWords(bodyId: string, project: Project): string {
  const named = project.bodies[bodyId]?.name;
  if (named) return named;
  const piece = pieceOf(bodyId);
  return piece && project.steps.some((s) => s.id === piece.step)
    ? `piece ${piece.number} of ${bodyWords(piece.step, project)}`
    : stepTitle(bodyId, project);
}
