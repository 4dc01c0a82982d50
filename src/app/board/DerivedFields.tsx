import { evaluateAs } from '../../core/dimensions/expression';
import { insideOf } from '../../core/profile/derive';
import { derivedWords, type ResolvedProfile } from '../../core/profile/resolve';
import { curveWords } from '../../core/profile/words';
import type { Derived, Profile, Project } from '../../core/recipe/schema';
import { degrees, fixed } from '../../core/units/units';
import { tableOf } from '../state/project';
import { ValueField } from '../ui/ValueField';
import { Choice } from './Choice';
import { Row } from './Row';

/** Values of an offset, a mirror image, a row or a ring, with the arithmetic shown. */
export function DerivedFields({
  project,
  profile,
  derived: d,
  resolved,
  onChange,
}: {
  project: Project;
  profile: Profile;
  derived: Derived;
  resolved: ResolvedProfile | null;
  onChange: (p: Profile) => void;
}) {
  const scope = tableOf(project).scope;
  const row = resolved?.rows.get(d.id);
  const inside = d.kind === 'offset' ? insideOf(d.of.flatMap((id) => resolved?.curves.find((c) => c.id === id)?.curve ?? [])) : undefined;
  const sideWords = (side: 'left' | 'right'): string => (inside ? (inside === side ? 'inside' : 'outside') : side);
  const set = (next: Derived): void => onChange({ ...profile, derived: profile.derived.map((k) => (k.id === d.id ? next : k)) });
  const field = (label: string, value: string, kind: 'length' | 'angle' | 'number', commit: (v: string) => void) => (
    <Row label={label}>
      <ValueField label={label} value={value} check={(t) => evaluateAs(t, kind, scope)} onCommit={commit} minChars={6} />
    </Row>
  );
  const choice = <V extends string>(label: string, value: V, options: readonly (readonly [V, string])[], commit: (v: V) => void) => (
    <Row label={label}>
      <Choice label={label} value={value} options={Object.fromEntries(options) as Readonly<Record<V, string>>} onChange={commit} />
    </Row>
  );
  return (
    <>
      <b className="first-letter:uppercase">{derivedWords(d.kind).replace('the ', '')}</b>
      <span className="text-[12px] text-ink2">of {d.of.map((id) => curveWords(profile, id)).join(', ')}</span>
      {d.kind === 'offset' && (
        <>
          {field('Distance', d.distance, 'length', (distance) => set({ ...d, distance }))}
          {choice(
            'Side',
            d.side,
            [
              ['left', sideWords('left')],
              ['right', sideWords('right')],
              ['both', 'both'],
            ],
            (side) => set({ ...d, side }),
          )}
          {choice(
            'Ends',
            d.ends,
            [
              ['open', 'left open'],
              ['closed', 'closed by lines'],
            ],
            (ends) => set({ ...d, ends }),
          )}
        </>
      )}
      {d.kind === 'mirror' && <span className="text-[12px]">about {curveWords(profile, d.line)}</span>}
      {d.kind === 'linear' && (
        <>
          {choice(
            'Given by',
            d.by,
            [
              ['spacing', 'count and spacing'],
              ['extent', 'count in a length'],
              ['fit', 'as many as fit'],
            ],
            (by) => set({ ...d, by }),
          )}
          {field('Direction', d.angle, 'angle', (angle) => set({ ...d, angle }))}
          {d.by !== 'fit' && field('Count with the original', d.count, 'number', (count) => set({ ...d, count }))}
          {field(d.by === 'spacing' ? 'Spacing' : 'Length', d.length, 'length', (length) => set({ ...d, length }))}
          {d.by !== 'spacing' && field('Margin at the ends', d.margin, 'length', (margin) => set({ ...d, margin }))}
          {d.by === 'fit' && field('Gap between', d.gap, 'length', (gap) => set({ ...d, gap }))}
        </>
      )}
      {d.kind === 'circular' && (
        <>
          {field('Count with the original', d.count, 'number', (count) => set({ ...d, count }))}
          {choice(
            'Given by',
            d.by,
            [
              ['extent', 'the whole angle'],
              ['spacing', 'the angle between two'],
            ],
            (by) => set({ ...d, by }),
          )}
          {field('Angle', d.angle, 'angle', (angle) => set({ ...d, angle }))}
        </>
      )}
      {row && (
        <p className="font-mono text-[11px] text-ink2" data-testid="row-plan">
          {row.count} in all, {d.kind === 'circular' ? `${fixed(degrees(row.spacing), 3)}°` : `${fixed(row.spacing, 3)} mm`} apart
          {d.kind === 'linear' && `, gap ${fixed(row.gap, 3)} mm`}
          {row.left !== undefined && `, ${fixed(row.left, 3)} mm left`}
        </p>
      )}
    </>
  );
}
