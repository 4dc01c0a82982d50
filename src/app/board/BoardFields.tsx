import { Trash2, X } from 'lucide-react';
import { evaluateAs } from '../../core/dimensions/expression';
import { removeConstraint } from '../../core/profile/draw';
import { projectionOf } from '../../core/profile/follow';
import { accept, asText, type Offer, relationsFor } from '../../core/profile/relate';
import type { ResolvedProfile } from '../../core/profile/resolve';
import { isDimension, refsOf, valueKind } from '../../core/profile/solver/terms';
import { constraintWords, curveWords } from '../../core/profile/words';
import { removeProfile } from '../../core/recipe/edit';
import type { Constraint, Picture, Profile, Project } from '../../core/recipe/schema';
import { fixed } from '../../core/units/units';
import type { ProfilePlace } from '../../engine/types';
import { change, tableOf } from '../state/project';
import { ValueField } from '../ui/ValueField';
import { CurveFields } from './CurveFields';
import { DerivedFields } from './DerivedFields';
import { FollowFields, PlaneFields } from './PlaneFields';
import { PointFields } from './PointFields';
import { Row } from './Row';
import type { Picked } from './tools';

interface Props {
  readonly project: Project;
  readonly profile: Profile;
  readonly resolved: ResolvedProfile | null;
  readonly readings: ReadonlyMap<string, number>;
  readonly picked: readonly Picked[];
  readonly half: boolean;
  readonly place: ProfilePlace | undefined;
  readonly onPick: (p: readonly Picked[]) => void;
  readonly onChange: (p: Profile) => void;
  readonly onRemove: () => void;
  readonly onScalePicture: () => void;
}

/** Typed values of what is picked on the board, its relations, and what could be added. */
export function BoardFields(props: Props) {
  const { project, profile, resolved, picked, half, onChange, onPick, onRemove } = props;
  const only = picked.length === 1 ? picked[0]! : undefined;
  const point = only?.kind === 'point' ? profile.points.find((p) => p.id === only.id) : undefined;
  const curve = only?.kind === 'curve' ? profile.curves.find((c) => c.id === only.id) : undefined;
  const constraint = only?.kind === 'constraint' ? profile.constraints.find((c) => c.id === only.id) : undefined;
  const derived = only?.kind === 'derived' ? profile.derived.find((d) => d.id === only.id) : undefined;
  const followed = (curve || point) && profile.followed?.has(only!.id) ? projectionOf(profile, only!.id) : undefined;
  const refs = picked.filter((p) => p.kind !== 'constraint' && p.kind !== 'derived').map((p) => p.id);
  const about = profile.constraints.filter((c) => refs.length > 0 && refs.every((r) => refsOf(c).includes(r)));
  const setConstraint = (c: Constraint): void =>
    onChange({ ...profile, constraints: profile.constraints.map((k) => (k.id === c.id ? c : k)) });
  return (
    <div
      className="absolute right-2 top-2 flex max-h-[calc(100%-16px)] w-[212px] flex-col gap-1 overflow-y-auto border border-line2 bg-panel/95 px-2 py-1.5"
      role="group"
      aria-label="Values of what is picked"
    >
      {picked.length === 0 && (
        <>
          <label className="flex items-center justify-between gap-2">
            Profile
            <input
              aria-label="Profile’s name"
              className="field w-28"
              key={profile.id + profile.name}
              defaultValue={profile.name}
              onBlur={(e) => {
                const name = e.target.value.trim();
                if (name && name !== profile.name) onChange({ ...profile, name: name.slice(0, 80) });
              }}
              onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
            />
          </label>
          <PlaneFields project={project} profile={profile} place={props.place} onChange={onChange} />
          <button
            type="button"
            className="self-start text-[12px] text-ink2 hover:text-madder"
            onClick={() => change((p) => removeProfile(p, profile.id))}
          >
            delete this profile
          </button>
          {profile.picture && (
            <PictureFields profile={profile} picture={profile.picture} onChange={onChange} onScale={props.onScalePicture} />
          )}
        </>
      )}
      {picked.length > 1 && <b>{picked.length} chosen</b>}
      {only?.kind === 'frame' && (
        <b className="first-letter:uppercase">{only.id === 'origin' ? 'the origin' : curveWords(profile, only.id)}</b>
      )}
      {point && !profile.followed?.has(point.id) && resolved && (
        <PointFields {...props} resolved={resolved} id={point.id} half={half} setConstraint={setConstraint} />
      )}
      {followed && <FollowFields project={project} profile={profile} projection={followed} words={curve?.name} onChange={onChange} />}
      {curve && !followed && resolved && <CurveFields profile={profile} curve={curve} resolved={resolved} onChange={onChange} />}
      {constraint && (
        <ConstraintFields
          {...props}
          c={constraint}
          project={project}
          reading={props.readings.get(constraint.id)}
          setConstraint={setConstraint}
        />
      )}
      {derived && <DerivedFields project={project} profile={profile} derived={derived} resolved={resolved} onChange={onChange} />}
      {about.length > 0 && (
        <ul aria-label="Relations of what is picked" className="flex flex-col border-t border-line pt-1 text-[12px]">
          {about.map((c) => (
            <li key={c.id} className="flex items-start justify-between gap-1">
              <button type="button" className="text-left hover:text-teal" onClick={() => onPick([{ kind: 'constraint', id: c.id }])}>
                {constraintWords(profile, c)}
              </button>
              <button
                type="button"
                aria-label={`Remove: ${constraintWords(profile, c)}`}
                className="text-ink3 hover:text-madder"
                onClick={() => onChange(removeConstraint(profile, c.id))}
              >
                <X size={12} aria-hidden />
              </button>
            </li>
          ))}
        </ul>
      )}
      {resolved && refs.length > 0 && (
        <Offers profile={profile} resolved={resolved} refs={refs} half={half} onChange={onChange} onPick={onPick} />
      )}
      {picked.length > 0 && only?.kind !== 'frame' && (
        <button
          type="button"
          className="inline-flex items-center gap-1 self-start text-[12px] text-ink2 hover:text-madder"
          onClick={onRemove}
        >
          <Trash2 size={12} aria-hidden /> remove (Del)
        </button>
      )}
    </div>
  );
}

/** The reference picture: how strong it shows, whether it may be dragged, and its scale. */
function PictureFields({
  profile,
  picture,
  onChange,
  onScale,
}: {
  profile: Profile;
  picture: Picture;
  onChange: (p: Profile) => void;
  onScale: () => void;
}) {
  const set = (next: Partial<Picture>): void => onChange({ ...profile, picture: { ...picture, ...next } });
  return (
    <div className="flex flex-col gap-1 border-t border-line pt-1 text-[12px]" role="group" aria-label="Picture">
      <b>Picture</b>
      <Row label="Width">
        <span className="font-mono">{fixed(picture.width, 2)} mm</span>
      </Row>
      <label className="flex items-center gap-2">
        Strength
        <input
          type="range"
          aria-label="Strength of the picture"
          min={0}
          max={1}
          step={0.05}
          className="min-w-0 flex-1"
          value={picture.strength}
          onChange={(e) => set({ strength: Number(e.target.value) })}
        />
      </label>
      <label className="flex items-center gap-1.5">
        <input type="checkbox" checked={picture.locked} onChange={(e) => set({ locked: e.target.checked })} />
        locked in place
      </label>
      <button type="button" className="self-start text-teal hover:underline" onClick={onScale}>
        scale by two places and a known length
      </button>
      <button
        type="button"
        className="self-start text-ink2 hover:text-madder"
        onClick={() => {
          const { picture: _, ...rest } = profile;
          onChange(rest);
        }}
      >
        take it away
      </button>
    </div>
  );
}

function Offers({
  profile,
  resolved,
  refs,
  half,
  onChange,
  onPick,
}: {
  profile: Profile;
  resolved: ResolvedProfile;
  refs: readonly string[];
  half: boolean;
  onChange: (p: Profile) => void;
  onPick: (p: readonly Picked[]) => void;
}) {
  const list = relationsFor(profile, refs, half);
  const put = (o: Offer): void => {
    const r = accept(profile, resolved, o);
    onChange(r.profile);
    // A new dimension is chosen at once, so that its value can be typed.
    if (o.kind === 'dimension') onPick(r.added.map((id) => ({ kind: 'constraint', id })));
  };
  if (list.length === 0) return null;
  return (
    <div className="flex flex-wrap gap-1 border-t border-line pt-1" role="group" aria-label="What can be added">
      {list.map((o) => (
        <button
          key={o.words + o.kind}
          type="button"
          className={`chip text-[12px] hover:border-teal hover:text-teal ${o.kind === 'dimension' ? 'font-mono text-[11px]!' : ''}`}
          onClick={() => put(o)}
        >
          {o.kind === 'dimension' ? `↔ ${o.words}` : o.words}
        </button>
      ))}
    </div>
  );
}

function ConstraintFields({
  project,
  profile,
  c,
  reading,
  setConstraint,
}: Pick<Props, 'project' | 'profile'> & { c: Constraint; reading: number | undefined; setConstraint: (c: Constraint) => void }) {
  if (!isDimension(c)) return <b className="font-semibold first-letter:uppercase">{constraintWords(profile, c)}</b>;
  const scope = tableOf(project).scope;
  const words = constraintWords(profile, { ...c, value: '' }).replace(/\s+/g, ' ');
  return (
    <>
      <b className="first-letter:uppercase">{words}</b>
      {c.driving ? (
        <Row label="Value">
          <ValueField
            label="Value of the dimension"
            value={c.value}
            check={(t) => evaluateAs(t, valueKind(c), scope)}
            onCommit={(value) => setConstraint({ ...c, value })}
            minChars={9}
          />
        </Row>
      ) : (
        <Row label="Reads">
          <span className="font-mono">{reading === undefined ? '–' : asText(c, reading)}</span>
        </Row>
      )}
      {c.driving && reading !== undefined && <span className="font-mono text-[11px] text-ink3">= {asText(c, reading)}</span>}
      <label className="flex items-center gap-1.5 text-[12px]">
        <input
          type="checkbox"
          checked={c.driving}
          onChange={(e) =>
            setConstraint({
              ...c,
              driving: e.target.checked,
              value: e.target.checked && c.value === '' && reading !== undefined ? asText(c, reading) : c.value,
            })
          }
        />
        drives the drawing (else it only reads)
      </label>
    </>
  );
}
