import { isOriginPlane, normalOf, ORIGIN_PLANES } from '../../core/curves/frame';
import { addProjection, removeProjection, setProjection, withoutFollowed } from '../../core/profile/follow';
import { bodiesBefore, planesBefore } from '../../core/recipe/edit';
import { copyProfile, unlinkProfile } from '../../core/recipe/linked';
import type { Profile, Project, Projection } from '../../core/recipe/schema';
import { usesOfStep } from '../../core/recipe/uses';
import { bodyWords, edgeWords, planeWords } from '../../core/recipe/words';
import type { ProfilePlace } from '../../engine/types';
import { look, openDrawing, setBench, useBench } from '../state/bench';
import { change } from '../state/project';
import { Row } from './Row';

/** The first step that is built from the profile: what stands before it can be followed. */
const firstUse = (project: Project, profile: Profile): string | undefined =>
  project.steps.find((s) => usesOfStep(project, s).profiles.includes(profile.id))?.id;

const kindWords = (p: Projection): string =>
  p.what.kind === 'edges'
    ? `${p.what.edges.length} edge${p.what.edges.length > 1 ? 's' : ''}`
    : p.what.kind === 'outline'
      ? 'outline'
      : 'section';

/** Bodies that stand before the profile is first used. */
export const bodiesToFollow = (project: Project, profile: Profile): string[] => bodiesBefore(project, firstUse(project, profile));

export const followWhole = (profile: Profile, body: string, kind: 'outline' | 'section'): Profile =>
  addProjection(withoutFollowed(profile), { body, what: { kind }, outline: false }).profile;

/** Asks for edges of a body on the stage. */
export const pickEdges = (profile: Profile, body: string): void =>
  setBench({ picking: { target: { profile: profile.id, body }, what: 'edges' } });

/** Where the drawing lies, whether it is half of a turned body, and what it follows. */
export function PlaneFields({
  project,
  profile,
  place,
  onChange,
}: {
  project: Project;
  profile: Profile;
  place: ProfilePlace | undefined;
  onChange: (p: Profile) => void;
}) {
  const picking = useBench((s) =>
    s.picking && 'profile' in s.picking.target && s.picking.target.profile === profile.id ? s.picking.target.body : null,
  );
  const use = firstUse(project, profile);
  const linked = project.profiles.filter((p) => profile.link && p.link === profile.link && p.id !== profile.id);
  const copyTo = (plane: string): void => {
    if (!plane) return;
    let id = '';
    change((p) => {
      const r = copyProfile(p, profile.id, plane);
      id = r.id;
      return r.project;
    });
    openDrawing(id);
  };
  const bodies = bodiesToFollow(project, profile);
  const frame = isOriginPlane(profile.plane) ? ORIGIN_PLANES[profile.plane] : place?.frame;
  return (
    <div className="flex flex-col gap-1 border-t border-line pt-1">
      <Row label="On">
        <select
          aria-label="Plane of the drawing"
          className="field max-w-36"
          value={profile.plane}
          onChange={(e) => onChange({ ...profile, plane: e.target.value })}
        >
          {planesBefore(project, use, profile.plane).map((p) => (
            <option key={p} value={p}>
              {planeWords(p, project)}
            </option>
          ))}
        </select>
      </Row>
      <Row label="Copy">
        <select aria-label="Copy the drawing to" className="field max-w-36" value="" onChange={(e) => copyTo(e.target.value)}>
          <option value="">a plane…</option>
          {planesBefore(project).map((p) => (
            <option key={p} value={p}>
              {planeWords(p, project)}
            </option>
          ))}
        </select>
      </Row>
      {linked.length > 0 && (
        <p className="text-[12px] text-ink2">
          one drawing with {linked.map((p) => p.name).join(', ')}{' '}
          <button type="button" className="link" onClick={() => change((p) => unlinkProfile(p, profile.id))}>
            make it its own
          </button>
        </p>
      )}
      <label className="flex items-center gap-1.5 text-[12px]">
        <input type="checkbox" checked={profile.half} onChange={(e) => onChange({ ...profile, half: e.target.checked })} />
        half of a turned body
      </label>
      {frame && (
        <button
          type="button"
          className="self-start text-[12px] text-teal hover:underline"
          onClick={() => look({ from: normalOf(frame), up: frame.y })}
        >
          look at it square on the stage
        </button>
      )}
      {profile.projections.length > 0 && (
        <ul aria-label="What it follows" className="flex flex-col border-t border-line pt-1 text-[12px]">
          {profile.projections.map((p) => (
            <li key={p.id} className="flex items-center justify-between gap-1">
              <span title={p.what.kind === 'edges' ? p.what.edges.map((e) => edgeWords(e, project)).join('; ') : undefined}>
                {kindWords(p)} of {bodyWords(p.body, project)}
              </span>
              <button
                type="button"
                aria-label={`Let go of the ${kindWords(p)} of ${bodyWords(p.body, project)}`}
                className="text-ink3 hover:text-madder"
                onClick={() => onChange(removeProjection(profile, p.id))}
              >
                ×
              </button>
            </li>
          ))}
        </ul>
      )}
      {bodies.map((b) => (
        <div
          key={b}
          className="flex flex-wrap items-center gap-1 border-t border-line pt-1 text-[12px]"
          role="group"
          aria-label={`Follow ${bodyWords(b, project)}`}
        >
          <span className="text-ink2">Follow {bodyWords(b, project)}:</span>
          <button
            type="button"
            aria-pressed={picking === b}
            className={picking === b ? 'btn-strong py-0!' : 'btn py-0!'}
            onClick={() => (picking === b ? setBench({ picking: null }) : pickEdges(profile, b))}
          >
            {picking === b ? 'done' : 'edges'}
          </button>
          <button type="button" className="btn py-0!" onClick={() => onChange(followWhole(profile, b, 'outline'))}>
            outline
          </button>
          <button type="button" className="btn py-0!" onClick={() => onChange(followWhole(profile, b, 'section'))}>
            section
          </button>
        </div>
      ))}
    </div>
  );
}

/** A followed curve: what it comes from, and whether it is built from. */
export function FollowFields({
  project,
  profile,
  projection,
  words,
  onChange,
}: {
  project: Project;
  profile: Profile;
  projection: Projection;
  words: string | undefined;
  onChange: (p: Profile) => void;
}) {
  const of = `${kindWords(projection)} of ${bodyWords(projection.body, project)}`;
  return (
    <>
      <b>Follows {projection.what.kind === 'edges' ? of : `the ${of}`}</b>
      {words && <span className="text-[12px] text-ink2">{words}</span>}
      <label className="flex items-center gap-1.5 text-[12px]">
        <input
          type="checkbox"
          checked={projection.outline}
          onChange={(e) => onChange(setProjection(withoutFollowed(profile), { ...projection, outline: e.target.checked }))}
        />
        part of the outline (else construction)
      </label>
    </>
  );
}
