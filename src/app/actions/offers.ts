/** What a sheet can go on with, as actions: the steps that can come next, a drawing to begin, what is brought in. */
import { isOriginPlane } from '../../core/curves/frame';
import type { Findable } from '../../core/find';
import { addStep, emptyProfile, freshId, planesBefore, setProfile } from '../../core/recipe/edit';
import { type NextOffer, nextOffers } from '../../core/recipe/offers';
import type { Project } from '../../core/recipe/schema';
import type { OfferGroup } from '../../core/recipe/steps';
import { planeWords } from '../../core/recipe/words';
import { formFromDrawing } from '../form/begin';
import { topFace } from '../stage/flat';
import { openDrawing, setBench, useBench } from '../state/bench';
import { change } from '../state/project';
import { ACTIONS } from './actions';

export interface Choice extends Findable {
  readonly group: OfferGroup;
  readonly hint: string;
  /** It begins with a pick of something that stands there; places can be typed. */
  readonly picks?: boolean;
  readonly run: () => void;
}
/** A kind of step that can't be made yet. */
export interface Missing extends Findable {
  readonly needs: string;
}

function begin({ kind, inputs, values, pick, draws }: NextOffer): void {
  let id = '';
  let profile = '';
  change((p) => {
    const r = addStep(p, kind, inputs, values);
    id = r.id;
    if (!draws) return r.project;
    const d = withDrawing(r.project, id, false);
    profile = d.id;
    return d.project;
  });
  if (!pick) setBench({ step: id });
  else {
    const { what, ...target } = pick;
    setBench({ step: id, picking: { target: { step: id, ...target }, what } });
  }
  if (draws) openDrawing(profile);
}

/** A project with an empty drawing more. */
function withDrawing(project: Project, plane: string, half: boolean): { readonly project: Project; readonly id: string } {
  const id = freshId(
    'profile',
    project.profiles.map((p) => p.id),
  );
  return { project: setProfile(project, emptyProfile(id, `Profile ${project.profiles.length + 1}`, plane, half)), id };
}

function draw(plane: string, half: boolean): void {
  let id = '';
  change((p) => {
    const d = withDrawing(p, plane, half);
    id = d.id;
    return d.project;
  });
  openDrawing(id);
}

const SEEN: Readonly<Record<string, string>> = { level: 'seen from above', front: 'seen from the front', side: 'seen from the side' };
const SKETCH = ['sketch', 'section', 'contour', 'outline', 'rectangle', 'line', 'arc', 'circle', 'ellipse', 'polygon', 'text', 'lettering'];

/** The planes through the origin, then those that were placed, the last of them first. */
const latestFirst = (planes: readonly string[]): string[] => [
  ...planes.filter(isOriginPlane),
  ...planes.filter((p) => !isOriginPlane(p)).toReversed(),
];

/** What can be done next, by what the maker wants; and the kinds of steps that need something first. */
export function choices(project: Project): { readonly choices: readonly Choice[]; readonly missing: readonly Missing[] } {
  const { result, reports, scenes } = useBench.getState();
  const skins = new Set(result?.bodies.flatMap((b) => (b.closed ? [] : [b.id])));
  const { offers, missing } = nextOffers(project, {
    skins,
    made: (step) => reports[step]?.made,
    box: (body) => result?.bodies.find((b) => b.id === body)?.bbox,
    top: (body) => {
      const scene = scenes.find((s) => s.id === body);
      return scene && topFace(scene);
    },
  });
  return {
    choices: [
      {
        group: 'Draw',
        label: 'New half profile',
        hint: 'beside the axis, on the board',
        known: [...SKETCH, 'lathe'],
        run: () => draw('front', true),
      },
      ...latestFirst(planesBefore(project)).map(
        (p): Choice => ({
          group: 'Draw',
          label: `New drawing on ${planeWords(p, project)}`,
          hint: SEEN[p] ?? 'square to it',
          known: SKETCH,
          run: () => draw(p, false),
        }),
      ),
      ...offers.map(
        (o): Choice => ({
          group: o.group,
          label: o.label,
          hint: o.hint,
          known: o.known,
          picks: o.pick !== undefined && o.pick.what !== 'places',
          run: () => begin(o),
        }),
      ),
      ...project.profiles.map(
        (p): Choice => ({
          group: 'Raise',
          label: `Form of ${p.name}`,
          hint: p.half ? 'a cage of quads: the profile turned' : 'a cage of quads: its outline drawn up',
          known: ['subdivision', 'cage'],
          run: () => formFromDrawing(project, p.id),
        }),
      ),
      ...ACTIONS.flatMap(({ group, label, hint = '', known, run }): Choice[] =>
        group ? [{ group, label, hint, known, run: () => run(() => undefined) }] : [],
      ),
    ],
    // A file is brought in by the choice above.
    missing: missing.filter((m) => m.kind !== 'bring' && m.kind !== 'scan'),
  };
}
