import { newProject } from '../../core/recipe/edit';
import type { Project } from '../../core/recipe/schema';
import type { OfferGroup } from '../../core/recipe/steps';
import { choices } from '../actions/offers';
import { setBench } from '../state/bench';
import { change, otherUnits } from '../state/project';

const COLUMNS: readonly (readonly [OfferGroup, string])[] = [
  ['Draw', 'With a drawing'],
  ['Raise', 'With a body'],
];

/** An empty sheet: all that a project can begin with, in words, where its body will stand. */
export function Begin({ project }: { project: Project }) {
  const all = choices(project).choices;
  /** Everything but its name and its units, which may have been chosen already. */
  const beaker = (p: Project): Project => {
    const { dimensions, profiles, steps, bodies } = newProject(p.name);
    return { ...p, dimensions, profiles, steps, bodies };
  };
  return (
    <section
      aria-label="How does it begin?"
      className="pointer-events-none absolute inset-0 z-10 flex items-start justify-center p-6 pb-14"
    >
      <div className="pointer-events-auto flex max-h-full max-w-2xl flex-1 flex-col gap-3 overflow-auto border border-line2 bg-panel p-4">
        <div className="flex items-baseline gap-3">
          <h2 className="text-[15px] font-semibold">How does it begin?</h2>
          <span className="mr-auto text-ink2">Anything can follow, in any order.</span>
          <button type="button" className="link" onClick={otherUnits}>
            {project.units === 'mm' ? 'in inches instead' : 'in millimetres instead'}
          </button>
        </div>
        <div className="grid grid-cols-2 gap-4">
          {COLUMNS.map(([group, words]) => (
            <div key={group}>
              <h3 className="mb-1 border-b border-line pb-0.5 text-[12px] font-semibold text-ink2">{words}</h3>
              <ul>
                {all
                  .filter((c) => c.group === group && !c.picks)
                  .map((c) => (
                    <li key={c.label + c.hint}>
                      <button type="button" className="w-full px-1.5 py-1 text-left hover:bg-tealwash" onClick={c.run}>
                        {c.label} <span className="text-[12px] text-ink2">{c.hint}</span>
                      </button>
                    </li>
                  ))}
                {group === 'Raise' && (
                  <li>
                    <button
                      type="button"
                      className="w-full px-1.5 py-1 text-left hover:bg-tealwash"
                      onClick={() => {
                        change(beaker);
                        setBench({ step: 's1' });
                      }}
                    >
                      A turned beaker <span className="text-[12px] text-ink2">to try things on</span>
                    </button>
                  </li>
                )}
              </ul>
            </div>
          ))}
        </div>
      </div>
    </section>
  );
}
