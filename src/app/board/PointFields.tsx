import { evaluateAs } from '../../core/dimensions/expression';
import { addConstraint, removeConstraint } from '../../core/profile/draw';
import type { ResolvedProfile } from '../../core/profile/resolve';
import { type Dimension, isDimension } from '../../core/profile/solver/terms';
import type { Constraint, Profile, Project } from '../../core/recipe/schema';
import { fail } from '../../core/result';
import { fixed, shortNumber } from '../../core/units/units';
import { tableOf } from '../state/project';
import { ValueField } from '../ui/ValueField';
import { Row } from './Row';

/** Radius, diameter and height of a point. A typed value is kept as a driving dimension. */
export function PointFields({
  project,
  profile,
  resolved,
  id,
  half,
  onChange,
  setConstraint,
}: {
  project: Project;
  profile: Profile;
  half: boolean;
  onChange: (p: Profile) => void;
  resolved: ResolvedProfile;
  id: string;
  setConstraint: (c: Constraint) => void;
}) {
  const scope = tableOf(project).scope;
  const at = resolved.points.get(id);
  if (!at) return null;
  const check = (t: string) => {
    const r = evaluateAs(t, 'length', scope);
    return r.ok && r.value < -1e-9 && half ? fail('a half profile stays on one side of the axis: the value can’t be negative') : r;
  };
  const length = (t: string) => evaluateAs(t, 'length', scope);
  const dims = profile.constraints.filter(isDimension);
  const acrossDim = dims.find((c) => c.kind === 'across' && c.point === id);
  const from = (line: string): Dimension | undefined =>
    dims.find((c) => c.kind === 'distance' && ((c.a === line && c.b === id) || (c.b === line && c.a === id)));
  const [radiusDim, heightDim] = [from('axis'), from('level')];
  const put =
    (old: Dimension | undefined, instead: Dimension | undefined, make: (value: string) => Parameters<typeof addConstraint>[1]) =>
    (value: string) => {
      if (old) setConstraint({ ...old, value, driving: true } as Constraint);
      else onChange(addConstraint(instead ? removeConstraint(profile, instead.id) : profile, make(value)).profile);
    };
  // A point given a height below the base level goes there first: a distance keeps the side it is drawn on.
  const vertical = (value: string): Profile => {
    const v = length(value);
    if (!v.ok || v.value >= 0) return profile;
    return { ...profile, points: profile.points.map((p) => (p.id === id ? { ...p, y: v.value } : p)) };
  };
  const setHeight = (value: string): void => {
    const v = length(value);
    const text = v.ok && v.value < 0 ? `-(${value})` : value;
    if (heightDim) return setConstraint({ ...heightDim, value: text, driving: true } as Constraint);
    onChange(
      addConstraint(vertical(value), { kind: 'distance', a: 'level', b: id, direction: 'vertical', value: text, driving: true }).profile,
    );
  };
  return (
    <>
      <b>Point {id}</b>
      <Row label={half ? 'Radius' : 'Across'}>
        <ValueField
          label={half ? 'Radius' : 'Across'}
          value={radiusDim?.driving ? radiusDim.value : shortNumber(at.x)}
          check={check}
          onCommit={put(radiusDim, acrossDim, (value) => ({
            kind: 'distance',
            a: 'axis',
            b: id,
            direction: 'horizontal',
            value,
            driving: true,
          }))}
          minChars={7}
        />
      </Row>
      {half && (
        <Row label="Diameter">
          <ValueField
            label="Diameter across the axis"
            value={acrossDim?.driving ? acrossDim.value : shortNumber(at.x * 2)}
            check={check}
            onCommit={put(acrossDim, radiusDim, (value) => ({ kind: 'across', point: id, value, driving: true }))}
            minChars={7}
          />
        </Row>
      )}
      <Row label="Height">
        <ValueField
          label="Height on the axis"
          value={heightDim?.driving ? heightDim.value : shortNumber(at.y)}
          check={length}
          onCommit={setHeight}
          minChars={7}
        />
      </Row>
      <span className="font-mono text-[11px] text-ink3">
        = {fixed(at.x, 3)}, {fixed(at.y, 3)} mm
      </span>
    </>
  );
}
