import { Trash2 } from 'lucide-react';
import { tightestRadius } from '../../core/curves/planar';
import { evaluateAs } from '../../core/dimensions/expression';
import type { ResolvedProfile } from '../../core/profile/resolve';
import { removeProfile } from '../../core/recipe/edit';
import type { Handle, Profile, ProfileCurve, Project } from '../../core/recipe/schema';
import { fail, ok } from '../../core/result';
import { fixed, shortNumber } from '../../core/units/units';
import { change, tableOf } from '../state/project';
import { ValueField } from '../ui/ValueField';
import { diameterText, radiusFromDiameter } from './diameter';
import type { Picked } from './tools';

interface Props {
  readonly project: Project;
  readonly profile: Profile;
  readonly resolved: ResolvedProfile | null;
  readonly picked: Picked;
  readonly onChange: (p: Profile) => void;
  readonly onRemove: () => void;
}

/** Typed values of what is picked on the board. */
export function BoardFields({ project, profile, resolved, picked, onChange, onRemove }: Props) {
  const scope = tableOf(project).scope;
  const length = (t: string) => evaluateAs(t, 'length', scope);
  const radiusCheck = (t: string) => {
    const r = length(t);
    return r.ok && r.value < -1e-9 ? fail('a half profile stays on one side of the axis: the radius can’t be negative') : r;
  };
  const point = picked?.kind === 'point' ? profile.points.find((p) => p.id === picked.id) : undefined;
  const curve = picked?.kind === 'curve' ? profile.curves.find((c) => c.id === picked.id) : undefined;
  const at = point && resolved?.points.get(point.id);
  const setPoint = (next: Partial<{ x: string; y: string }>): void =>
    onChange({ ...profile, points: profile.points.map((p) => (p.id === point!.id ? { ...p, ...next } : p)) });
  const setCurve = (next: ProfileCurve): void => onChange({ ...profile, curves: profile.curves.map((c) => (c.id === next.id ? next : c)) });

  return (
    <div
      className="absolute right-2 top-2 flex w-[196px] flex-col gap-1 border border-line2 bg-panel/95 px-2 py-1.5"
      role="group"
      aria-label="Values of what is picked"
    >
      {!point && !curve && (
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
          <button
            type="button"
            className="self-start text-[12px] text-ink2 hover:text-madder"
            onClick={() => change((p) => removeProfile(p, profile.id))}
          >
            delete this profile
          </button>
        </>
      )}
      {point && at && (
        <>
          <b>Point {point.id}</b>
          <Row label="Radius">
            <ValueField label="Radius" value={point.x} check={radiusCheck} onCommit={(x) => setPoint({ x })} minChars={7} />
          </Row>
          <Row label="Diameter">
            <ValueField
              label="Diameter across the axis"
              value={diameterText(point.x) ?? shortNumber(at.x * 2)}
              check={radiusCheck}
              onCommit={(t) => setPoint({ x: radiusFromDiameter(t) })}
              minChars={7}
            />
          </Row>
          <Row label="Height">
            <ValueField label="Height on the axis" value={point.y} check={length} onCommit={(y) => setPoint({ y })} minChars={7} />
          </Row>
          <span className="font-mono text-[11px] text-ink3">
            = {fixed(at.x, 3)}, {fixed(at.y, 3)} mm
          </span>
        </>
      )}
      {curve && <CurveFields curve={curve} scopeCheck={(t, kind) => evaluateAs(t, kind, scope)} resolved={resolved} onChange={setCurve} />}
      {(point || curve) && (
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

function Row({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div className="flex items-baseline justify-between gap-2">
      <span className="text-ink2">{label}</span>
      {children}
    </div>
  );
}

function CurveFields({
  curve,
  scopeCheck,
  resolved,
  onChange,
}: {
  curve: ProfileCurve;
  scopeCheck: (t: string, kind: 'angle' | 'number') => ReturnType<typeof evaluateAs>;
  resolved: ResolvedProfile | null;
  onChange: (c: ProfileCurve) => void;
}) {
  const shape = resolved?.curves.find((c) => c.id === curve.id)?.curve;
  const setHandle = (end: 'start' | 'end', handle: Handle | null): void => {
    if (curve.kind !== 'spline') return;
    const { [end]: _, ...rest } = curve;
    onChange(handle ? { ...rest, [end]: handle } : rest);
  };
  return (
    <>
      <b className="capitalize">{curve.kind}</b>
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
            if (name !== (old ?? '')) onChange((name ? { ...rest, name } : rest) as ProfileCurve);
          }}
          onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        />
      </label>
      {shape && shape.kind !== 'line' && (
        <Row label={shape.kind === 'arc' ? 'Radius' : 'Tightest radius'}>
          <span className="font-mono">{fixed(tightestRadius(shape), 3)} mm</span>
        </Row>
      )}
      {curve.kind === 'spline' &&
        (['start', 'end'] as const).map((end) => {
          const h = curve[end];
          return h ? (
            <div key={end} className="border-t border-line pt-1">
              <Row label={`Handle, ${end}`}>
                <button type="button" className="text-[12px] text-ink2 hover:text-madder" onClick={() => setHandle(end, null)}>
                  let go
                </button>
              </Row>
              <Row label="Direction">
                <ValueField
                  label={`Direction at the ${end}`}
                  value={h.angle}
                  check={(t) => scopeCheck(t, 'angle')}
                  onCommit={(angle) => setHandle(end, { ...h, angle })}
                />
              </Row>
              <Row label="Weight">
                <ValueField
                  label={`Weight at the ${end}`}
                  value={h.weight}
                  check={(t) => {
                    const r = scopeCheck(t, 'number');
                    return r.ok && !(r.value > 0 && r.value <= 10) ? fail('a weight lies between 0 and 10') : r.ok ? ok(true) : r;
                  }}
                  onCommit={(weight) => setHandle(end, { ...h, weight })}
                />
              </Row>
            </div>
          ) : (
            <button
              key={end}
              type="button"
              className="self-start text-[12px] text-teal hover:underline"
              onClick={() => setHandle(end, { angle: '0°', weight: '1' })}
            >
              add a handle at the {end}
            </button>
          );
        })}
    </>
  );
}
