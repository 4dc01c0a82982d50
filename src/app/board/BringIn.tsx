import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { evaluateAs } from '../../core/dimensions/expression';
import { addDrawing, type PlaneDrawing } from '../../core/exchange/drawing';
import type { Profile } from '../../core/recipe/schema';
import { fixed, shortNumber } from '../../core/units/units';

const noNames = () => undefined;

/** Asks for the scale and the tolerance of a drawing before it is put into the profile. */
export function BringIn({
  drawing,
  name,
  profile,
  onDone,
  onClose,
}: {
  drawing: PlaneDrawing;
  name: string;
  profile: Profile;
  onDone: (p: Profile, curves: readonly string[]) => void;
  onClose: () => void;
}) {
  const [unit, setUnit] = useState(drawing.unit ? `${shortNumber(drawing.unit, 6)} mm` : '1 mm');
  const [join, setJoin] = useState('0.01 mm');
  const scale = evaluateAs(unit, 'length', noNames);
  const tolerance = evaluateAs(join, 'length', noNames);
  const made = scale.ok && tolerance.ok ? addDrawing(profile, drawing, scale.value, tolerance.value) : null;
  const xs = drawing.curves.flatMap((c) => [c.a.x, c.b.x]);
  const ys = drawing.curves.flatMap((c) => [c.a.y, c.b.y]);
  const error = !scale.ok ? scale.error : !tolerance.ok ? tolerance.error : made && !made.ok ? made.error : null;
  return (
    <Dialog.Root open onOpenChange={(o) => !o && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed left-1/2 top-28 z-50 w-96 -translate-x-1/2 rounded-sm border border-line2 bg-card p-4 shadow-xl"
        >
          <form
            className="flex flex-col gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              if (made?.ok) onDone(made.value.profile, made.value.curves);
            }}
          >
            <Dialog.Title className="font-semibold">Bring in {name}</Dialog.Title>
            <p className="text-ink2">
              {drawing.curves.length} curves.{' '}
              {drawing.unit
                ? `The file says one unit is ${shortNumber(drawing.unit, 6)} mm.`
                : 'The file does not say how large its unit is.'}
              {drawing.left.length > 0 && ` Left out: ${drawing.left.join(', ')}.`}
            </p>
            <label className="flex items-center justify-between gap-3">
              One unit of the file is
              <input
                aria-label="One unit of the file"
                className="field w-32 font-mono"
                value={unit}
                onChange={(e) => setUnit(e.target.value)}
              />
            </label>
            <label className="flex items-center justify-between gap-3">
              Ends become one point within
              <input
                aria-label="Tolerance of ends"
                className="field w-32 font-mono"
                value={join}
                onChange={(e) => setJoin(e.target.value)}
              />
            </label>
            {scale.ok && drawing.curves.length > 0 && (
              <p className="font-mono text-[12px]" data-testid="drawing-size">
                {fixed((Math.max(...xs) - Math.min(...xs)) * scale.value, 2)} ×{' '}
                {fixed((Math.max(...ys) - Math.min(...ys)) * scale.value, 2)} mm
                {made?.ok && `, ${made.value.curves.length} curves on ${made.value.profile.points.length - profile.points.length} points`}
              </p>
            )}
            {error && (
              <p role="alert" className="text-madder">
                {error}
              </p>
            )}
            <div className="flex justify-end gap-2">
              <button type="button" className="btn" onClick={onClose}>
                Leave it
              </button>
              <button type="submit" className="btn-strong" disabled={!made?.ok}>
                Bring it in
              </button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
