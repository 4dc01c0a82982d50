import { useMemo } from 'react';
import type { ResolvedProfile } from '../../core/profile/resolve';
import { thinnest } from '../../core/profile/strokes';
import { readsFromOther } from '../../core/profile/text';
import { fontOf, type TextCurve } from '../../core/profile/typed';
import { curveWords } from '../../core/profile/words';
import type { Profile, ProfileCurve } from '../../core/recipe/schema';
import { fail } from '../../core/result';
import { formatLength, type LengthUnit } from '../../core/units/units';
import { useProject } from '../state/project';
import { ValueField } from '../ui/ValueField';
import { Choice } from './Choice';
import { FONT_WORDS } from './fonts';
import { Row } from './Row';

/** A line that is printed is about so wide, mm (common practice, no source). */
const PRINT_LINE = 0.4;

/** A chosen text: letters, font, size, what it leads along, and how thin it gets. */
export function TextFields({
  profile,
  curve,
  resolved,
  set,
}: {
  profile: Profile;
  curve: TextCurve;
  resolved: ResolvedProfile;
  set: (c: ProfileCurve) => void;
}) {
  const units = useProject((s) => s.project!.units);
  const process = useProject((s) => s.project!.brief.process);
  const { along } = curve;
  const lines = profile.curves.filter((c) => c.kind !== 'text');
  return (
    <>
      <Row label="Text">
        <ValueField
          label="Text"
          value={curve.text}
          check={(t) => (t ? { ok: true, value: t } : fail('a text has letters'))}
          onCommit={(text) => set({ ...curve, text: text.slice(0, 60) })}
        />
      </Row>
      <Row label="Font">
        <Choice
          label="Font"
          value={curve.font ?? 'sans'}
          options={FONT_WORDS}
          onChange={(font) => {
            const { font: _, ...rest } = curve;
            set({ ...rest, ...fontOf(font) });
          }}
        />
      </Row>
      <Typed label="Height" name="Height of capitals" value={curve.height} onCommit={(height) => set({ ...curve, height })} />
      <Typed
        label="Apart"
        name="Between letters, more than the font has"
        value={curve.apart ?? '0 mm'}
        onCommit={(apart) => set({ ...curve, apart })}
      />
      <Row label="At point">
        <Choice
          label="What of the text lies at its point"
          value={curve.align ?? 'start'}
          options={{ start: 'its beginning', middle: 'its middle', end: 'its end' }}
          onChange={(align) => {
            const { align: _, ...rest } = curve;
            set(align === 'start' ? rest : { ...rest, align });
          }}
        />
      </Row>
      {(lines.length > 0 || along) && (
        <Row label="Along">
          <Choice
            label="What the text leads along"
            value={along?.curve ?? ''}
            options={{ '': 'a straight line', ...Object.fromEntries(lines.map((c) => [c.id, curveWords(profile, c.id)])) }}
            onChange={(id) => {
              const { along: before, ...rest } = curve;
              if (id === '') return set(rest);
              const line = resolved.curves.find((c) => c.id === id)?.curve;
              const other = line && readsFromOther(line, resolved.points.get(curve.point)!);
              set({ ...rest, along: { curve: id, lift: before?.lift ?? '0 mm', ...(other ? { other: true } : {}) } });
            }}
          />
        </Row>
      )}
      {along ? (
        <>
          <Row label="On">
            <Choice
              label="Side of the line"
              value={along.other ? 'other' : 'one'}
              options={{ one: 'its one side', other: 'its other side' }}
              onChange={(side) => {
                const { other: _, ...rest } = along;
                set({ ...curve, along: side === 'other' ? { ...rest, other: true } : rest });
              }}
            />
          </Row>
          <Typed
            label="Lifted by"
            name="Baseline off the line"
            value={along.lift}
            onCommit={(lift) => set({ ...curve, along: { ...along, lift } })}
          />
        </>
      ) : (
        <Typed label="Slope" name="Slope of the text" value={curve.angle} onCommit={(angle) => set({ ...curve, angle })} />
      )}
      {curve.font === 'strokes' ? (
        <p className="text-[11.5px] text-ink3">
          Single strokes: for a wall about them, a groove swept along them, or a cutter’s middle line.
        </p>
      ) : (
        <Thin curve={curve} resolved={resolved} units={units} printed={process === 'print'} />
      )}
    </>
  );
}

function Typed({ label, name, value, onCommit }: { label: string; name: string; value: string; onCommit: (typed: string) => void }) {
  return (
    <Row label={label}>
      <ValueField label={name} value={value} check={(t) => ({ ok: true, value: t })} onCommit={onCommit} />
    </Row>
  );
}

/** How thin its strokes and gaps get. */
function Thin({ curve, resolved, units, printed }: { curve: TextCurve; resolved: ResolvedProfile; units: LengthUnit; printed: boolean }) {
  const found = useMemo(() => {
    const own = resolved.curves.filter((c) => c.source?.id === curve.id).map((c) => c.curve);
    const top = Math.max(...own.flatMap((c) => [c.a.y, c.b.y])) - Math.min(...own.flatMap((c) => [c.a.y, c.b.y]));
    return own.length > 0 ? thinnest(own, Math.max(1e-3, top / 200)) : undefined;
  }, [resolved, curve.id]);
  if (!found) return null;
  const fine = printed && Math.min(found.stroke, found.gap) < PRINT_LINE;
  return (
    <p className={`text-[11.5px] ${fine ? 'text-amber' : 'text-ink3'}`} data-testid="text-thin">
      Strokes from {formatLength(found.stroke, units)}
      {Number.isFinite(found.gap) && `, gaps from ${formatLength(found.gap, units)}`}
      {fine && `: finer than a printed line of ${formatLength(PRINT_LINE, units)}`}
    </p>
  );
}
