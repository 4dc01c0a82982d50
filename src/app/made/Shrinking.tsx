import { useState } from 'react';
import { toast } from 'sonner';
import { MATERIALS } from '../../core/brief/materials';
import type { Batch, Grown, Made } from '../../core/made/document';
import { withGrowth } from '../../core/made/edit';
import { growthWords } from '../../core/made/grown';
import { AXES, type Axis, growth, type Known, type Shrinkage } from '../../core/made/shrinkage';
import { shrinkageIn } from '../../core/made/table';
import { typicalShrinkage } from '../../core/made/typical';
import { addDimension, setDimension } from '../../core/recipe/edit';
import type { Project } from '../../core/recipe/schema';
import { fixed, formatLength } from '../../core/units/units';
import { change } from '../state/project';
import { changeMade } from './useMade';
import { WAY_WORDS } from './words';

const percent = (v: number, digits = 2): string => `${fixed(100 * v, digits)} %`;

/** Whether it is told apart from nothing. */
const sure = ({ value, off }: Known): boolean => off !== null && Math.abs(value) > off;

/** What was measured of shrinkage, and what can be done about it: files grown by it, or named dimensions to be used on the sheet. */
export function Shrinking({ project, made, batch, material }: { project: Project; made: Made; batch: Batch | null; material: string }) {
  const [all, setAll] = useState(false);
  const [together, setTogether] = useState(false);
  const batches = all ? made.batches : batch ? [batch] : [];
  const found = shrinkageIn(made, batches, together);
  const typical = typicalShrinkage(project.brief.process, material);
  const grow = (grown: Grown): void => {
    changeMade((m) => withGrowth(m, grown));
    toast.success(`STL and 3MF are written ${growthWords(grown)} as large`, {
      description: 'What is exact, and the drawing, stay as drawn.',
    });
  };
  return (
    <section aria-label="Shrinkage">
      <h2 className="heading mb-1">Shrinkage</h2>
      {made.grown && (
        <p className="mb-2 border-l-2 border-teal bg-panel px-2 py-1">
          STL and 3MF are written <b className="font-mono font-medium">{growthWords(made.grown)}</b> as large.{' '}
          <button type="button" className="link" onClick={() => changeMade((m) => withGrowth(m, null))}>
            Write them as drawn
          </button>
        </p>
      )}
      {found ? (
        <>
          <Figures project={project} made={made} found={found} />
          <div className="mb-1 flex flex-wrap gap-x-4 text-[12px]">
            {made.batches.length > 1 && (
              <label className="flex items-center gap-1.5">
                <input type="checkbox" className="accent-teal" checked={all} onChange={(e) => setAll(e.target.checked)} />
                all batches
              </label>
            )}
            <label className="flex items-center gap-1.5">
              <input type="checkbox" className="accent-teal" checked={together} onChange={(e) => setTogether(e.target.checked)} />
              across alike
            </label>
          </div>
          <div className="flex flex-wrap gap-2">
            <button type="button" className="btn" onClick={() => grow(grownBy(found))}>
              Grow the files by it
            </button>
            <button type="button" className="btn" onClick={() => name(project, found)}>
              As named dimensions
            </button>
          </div>
        </>
      ) : (
        <p className="mb-2 text-ink2">
          {made.places.length === 0
            ? 'It is told here once lengths are measured.'
            : 'Lengths that go along an axis, read on a piece, tell it.'}
        </p>
      )}
      {typical && !found && (
        <p className="text-[13px]">
          Usual for {typical.words}: {percent(typical.from, 1)} to {percent(typical.to, 1)}.{' '}
          <button
            type="button"
            className="link"
            onClick={() => {
              const k = Number((1 / (1 - (typical.from + typical.to) / 2)).toFixed(5));
              grow({ x: k, y: k, z: k });
            }}
          >
            Begin with the middle
          </button>
        </p>
      )}
      {!typical && !found && made.places.length > 0 && (
        <p className="text-[12px] text-ink2">No usual figure is known for {MATERIALS[material]?.label ?? material} made this way.</p>
      )}
    </section>
  );
}

/** Files are grown along the axes that were measured; the others stay. */
function grownBy(found: Shrinkage): Grown {
  const of = (axis: Axis): number => {
    const known = found.scale[axis];
    return known ? Number(growth(known).value.toFixed(6)) : 1;
  };
  return { x: of('x'), y: of('y'), z: of('z') };
}

function name(project: Project, found: Shrinkage): void {
  const names: string[] = [];
  let next = project;
  for (const axis of AXES) {
    const known = found.scale[axis];
    if (!known) continue;
    const called = `grow_${axis}`;
    const expr = growth(known).value.toFixed(5);
    const there = next.dimensions.some((d) => d.name === called);
    const made = there ? null : addDimension(next, called, expr);
    if (made && !made.ok) return void toast.error(`${called} can’t be named`, { description: made.error });
    next = made?.ok ? made.value : setDimension(next, called, expr);
    names.push(called);
  }
  change(() => next);
  toast.success(`${names.join(', ')} stand on the sheet`, {
    description: 'Multiply a length by the one of its way. Files are not grown by them.',
  });
}

function Figures({ project, made, found }: { project: Project; made: Made; found: Shrinkage }) {
  const { proud, worst } = found;
  const unsure = AXES.filter((a) => found.scale[a] && found.scale[a].off === null);
  return (
    <>
      <table className="mb-1 w-full" data-testid="shrinkage">
        <tbody>
          {AXES.map((axis) => {
            const known = found.scale[axis];
            return (
              <tr key={axis} className="border-b border-line">
                <td className="py-0.5 text-[13px]">{WAY_WORDS[axis]}</td>
                <td className={`text-right font-mono ${known && !sure(known) ? 'text-ink2' : ''}`}>
                  {known
                    ? `${known.value > 0 ? '+' : ''}${percent(known.value)}${known.off === null ? '' : ` ± ${fixed(100 * known.off, 2)}`}`
                    : 'not measured'}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <div className="mb-2 flex flex-col gap-1 text-[12px] text-ink2">
        {unsure.length > 0 && <p>How sure it is can be told from two pieces on, or from more places.</p>}
        {AXES.some((a) => found.scale[a] && found.scale[a].off !== null && !sure(found.scale[a])) && (
          <p>What is grey is not told apart from nothing, at 95 %.</p>
        )}
        {proud && Math.abs(proud.value) > Math.max(0.02, proud.off ?? 0) && (
          <p>
            Skins stand {proud.value > 0 ? 'proud' : 'back'} by {formatLength(Math.abs(proud.value) / 2, project.units, 3)} each
            {proud.off === null ? '' : ` (± ${formatLength(proud.off / 2, project.units, 3)})`}: that is for the machine to take back, not
            for the file’s size.
          </p>
        )}
        {Math.abs(worst.off) > 3 * made.devices.mm.off && (
          <p className="text-amber">
            ▲ {made.places.find((p) => p.id === worst.place)?.name ?? 'A place'} is {formatLength(Math.abs(worst.off), project.units, 3)}{' '}
            off what shrinkage explains: read again, or warped.
          </p>
        )}
      </div>
    </>
  );
}
