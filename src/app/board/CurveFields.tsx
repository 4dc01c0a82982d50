import { fairnessHint, readCurve, readJoin } from '../../core/curves/fairness';
import type { PlanarCurve } from '../../core/curves/planar';
import { addConstraint } from '../../core/profile/draw';
import { withHandle } from '../../core/profile/relate';
import type { ResolvedProfile } from '../../core/profile/resolve';
import { endsOf } from '../../core/profile/solver/terms';
import { curveWords } from '../../core/profile/words';
import type { Handle, Profile, ProfileCurve } from '../../core/recipe/schema';
import { fixed, shortNumber } from '../../core/units/units';
import { Row } from './Row';
import { TextFields } from './TextFields';

/** How a curve passes into its neighbours at both ends. */
function Joins({
  profile,
  resolved,
  curve,
  shape,
}: {
  profile: Profile;
  resolved: ResolvedProfile;
  curve: ProfileCurve;
  shape: PlanarCurve;
}) {
  const own = endsOf(curve);
  if (!own) return null;
  const rows = (['from', 'to'] as const).flatMap((end) =>
    resolved.curves.flatMap((k) => {
      const e = k.source && k.source.id !== curve.id ? endsOf(k.source) : undefined;
      if (!e || !k.source || k.construction) return [];
      const at = resolved.points.get(own[end])!;
      const other = (['from', 'to'] as const).find((o) => {
        const q = resolved.points.get(e[o])!;
        return Math.hypot(q.x - at.x, q.y - at.y) < 0.01;
      });
      if (!other) return [];
      const j =
        end === 'to' ? readJoin(shape, 1, k.curve, other === 'from' ? 0 : 1) : readJoin(k.curve, other === 'from' ? 0 : 1, shape, 0);
      return [{ end: end === 'from' ? 'start' : 'end', with: curveWords(profile, k.source.id), j }];
    }),
  );
  if (rows.length === 0) return null;
  const kind = { gap: 'a gap', corner: 'G0, a corner', tangent: 'G1, tangent', curvature: 'G2, curvature too' };
  return (
    <ul aria-label="Joins" className="border-t border-line pt-1 text-[11.5px] text-ink2">
      {rows.map((r) => (
        <li key={r.end + r.with}>
          {r.end}, to {r.with}: {kind[r.j.class]}
          <span className="font-mono text-ink3">
            {' '}
            {r.j.gap > 1e-6 ? `${fixed(r.j.gap, 4)} mm, ` : ''}
            {fixed(r.j.angle, 2)}°, {fixed(r.j.mismatch, 0)} %
          </span>
        </li>
      ))}
    </ul>
  );
}

/** A chosen curve: name, curvature, joins, handles. */
export function CurveFields({
  profile,
  curve,
  resolved,
  onChange,
}: {
  profile: Profile;
  curve: ProfileCurve;
  resolved: ResolvedProfile;
  onChange: (p: Profile) => void;
}) {
  const shape = resolved.curves.find((c) => c.id === curve.id)?.curve;
  const set = (next: ProfileCurve): void => onChange({ ...profile, curves: profile.curves.map((c) => (c.id === next.id ? next : c)) });
  const reading = shape && shape.kind !== 'line' ? readCurve(shape, 240) : undefined;
  const setHandle = (key: string, handle: Handle | null): void => {
    if (curve.kind !== 'spline') return;
    const drop = (p: Profile): Profile => ({
      ...p,
      constraints: p.constraints.filter(
        (c) => handle !== null || !((c.kind === 'direction' || c.kind === 'weight') && c.curve === curve.id && c.at === key),
      ),
    });
    let next: ProfileCurve;
    if (key === 'start' || key === 'end') {
      const { [key]: _, ...rest } = curve;
      next = handle ? { ...rest, [key]: handle } : rest;
    } else {
      const { [key]: _, ...rest } = curve.at ?? {};
      next = { ...curve, at: handle ? { ...rest, [key]: handle } : rest };
    }
    onChange(drop({ ...profile, curves: profile.curves.map((c) => (c.id === curve.id ? next : c)) }));
  };
  const hint =
    curve.kind === 'spline' && curve.through.length > 1 && reading && reading.inflections.length > 0
      ? fairnessHint([curve.from, ...curve.through, curve.to].map((p) => resolved.points.get(p)!))
      : undefined;
  return (
    <>
      <b className="capitalize">{curve.kind === 'control' ? `spline, degree ${curve.degree}` : curve.kind}</b>
      <label className="flex items-center justify-between gap-2 text-ink2">
        Name
        <input
          aria-label="Curve’s name"
          className="field w-28 text-ink"
          key={curve.id + (curve.name ?? '')}
          defaultValue={curve.name ?? ''}
          placeholder={curve.id}
          onBlur={(e) => {
            const name = e.target.value.trim().slice(0, 40);
            const { name: old, ...rest } = curve;
            if (name !== (old ?? '')) set((name ? { ...rest, name } : rest) as ProfileCurve);
          }}
          onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        />
      </label>
      <label className="flex items-center gap-1.5 text-[12px]">
        <input
          type="checkbox"
          checked={curve.construction === true}
          onChange={(e) => {
            const { construction: _, ...rest } = curve;
            set((e.target.checked ? { ...rest, construction: true } : rest) as ProfileCurve);
          }}
        />
        construction only
      </label>
      {reading && Number.isFinite(reading.tightest.radius) && (
        <Row label={shape?.kind === 'arc' ? 'Radius' : 'Tightest radius'}>
          <span className="font-mono">{fixed(reading.tightest.radius, 3)} mm</span>
        </Row>
      )}
      {reading && shape?.kind === 'spline' && (
        <>
          <Row label="where">
            <span className="font-mono text-[11px]">
              {fixed(reading.tightest.at.x, 2)}, {fixed(reading.tightest.at.y, 2)}
            </span>
          </Row>
          <Row label="Inflections">
            <span className="font-mono">{reading.inflections.length}</span>
          </Row>
        </>
      )}
      {hint && curve.kind === 'spline' && (
        <p className="bg-amberwash px-1.5 py-1 text-[12px] text-amber">
          One point fewer would remove {hint.inflectionsBefore - hint.inflectionsAfter} inflection
          {hint.inflectionsBefore - hint.inflectionsAfter > 1 ? 's' : ''} and pass {fixed(hint.deviation, 2)} mm beside it.{' '}
          <button
            type="button"
            className="link text-amber!"
            onClick={() => set({ ...curve, through: curve.through.toSpliced(hint.drop, 1) })}
          >
            Leave out {curve.through[hint.drop]}
          </button>
        </p>
      )}
      {shape && <Joins profile={profile} resolved={resolved} curve={curve} shape={shape} />}
      {curve.kind === 'control' && (
        <Row label="Degree">
          <select
            aria-label="Degree"
            className="field"
            value={curve.degree}
            onChange={(e) => set({ ...curve, degree: Number(e.target.value) })}
          >
            {[1, 2, 3, 4, 5, 6, 7].map((d) => (
              <option key={d} value={d} disabled={d >= curve.points.length}>
                {d}
              </option>
            ))}
          </select>
        </Row>
      )}
      {curve.kind === 'text' && <TextFields profile={profile} curve={curve} resolved={resolved} set={set} />}
      {curve.kind === 'spline' && (
        <div className="flex flex-wrap gap-x-2 border-t border-line pt-1 text-[12px]">
          {['start', ...curve.through, 'end'].map((key) => {
            const has = key === 'start' || key === 'end' ? curve[key] : curve.at?.[key];
            const where = key === 'start' || key === 'end' ? `the ${key}` : key;
            return (
              <button
                key={key}
                type="button"
                className={has ? 'text-ink2 hover:text-madder' : 'text-teal hover:underline'}
                onClick={() => {
                  if (has) setHandle(key, null);
                  else if (key === 'start' || key === 'end') onChange(withHandle(profile, resolved, curve.id, key));
                  else setHandle(key, { angle: 90, weight: 1 });
                }}
              >
                {has ? `let go of the handle at ${where}` : `add a handle at ${where}`}
              </button>
            );
          })}
          {(['start', 'end'] as const).map(
            (key) =>
              curve[key] &&
              (['direction', 'weight'] as const).map(
                (kind) =>
                  !profile.constraints.some((c) => c.kind === kind && c.curve === curve.id && c.at === key) && (
                    <button
                      key={key + kind}
                      type="button"
                      className="text-teal hover:underline"
                      onClick={() => {
                        const h = curve[key]!;
                        const value = kind === 'direction' ? `${shortNumber(h.angle, 2)}°` : shortNumber(h.weight, 3);
                        onChange(addConstraint(profile, { kind, curve: curve.id, at: key, value, driving: true }).profile);
                      }}
                    >
                      set the {kind} at the {key}
                    </button>
                  ),
              ),
          )}
        </div>
      )}
    </>
  );
}
