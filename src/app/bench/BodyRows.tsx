import { Eye, EyeOff, ScanEye } from 'lucide-react';
import { judgedBody } from '../../core/brief/judge';
import { MATERIALS } from '../../core/brief/materials';
import { bodiesBefore } from '../../core/recipe/edit';
import type { Project } from '../../core/recipe/schema';
import { bodyWords } from '../../core/recipe/words';
import { setBench, useBench } from '../state/bench';
import { change } from '../state/project';
import { bodyColour } from '../ui/bodyColour';

/** The bodies there are: name, colour, material, whether they show, and whose gauges are read. */
export function BodyRows({ project }: { project: Project }) {
  const built = useBench((s) => s.result?.bodies);
  const chosen = useBench((s) => s.gaugeBody);
  // What was built also holds pieces that only the kernel could count.
  const ids = [...new Set([...bodiesBefore(project), ...(built?.map((b) => b.id) ?? [])])].filter(
    (id) => !built || built.some((b) => b.id === id),
  );
  if (ids.length < 2) return null;
  const read = judgedBody(project, ids, (id) => id, chosen);
  const set = (id: string, next: Partial<Project['bodies'][string]>): void =>
    change((p) => ({ ...p, bodies: { ...p.bodies, [id]: { ...(p.bodies[id] ?? { name: bodyWords(id, p) }), ...next } } }));
  const shown = ids.filter((id) => !project.bodies[id]?.hidden);
  const alone = shown.length === 1 ? shown[0] : null;
  /** One body by itself, or all of them. */
  const showOnly = (only: string | null): void =>
    change((p) => {
      const bodies = { ...p.bodies };
      for (const id of ids) {
        const body = bodies[id] ?? { name: bodyWords(id, p) };
        bodies[id] = { ...body, hidden: only === null || id === only ? undefined : true };
      }
      return { ...p, bodies };
    });
  return (
    <section aria-label="Bodies" className="border-b border-line pb-2">
      <h2 className="heading px-3 pb-1 pt-2">Bodies</h2>
      <ul>
        {ids.map((id) => {
          const body = project.bodies[id];
          const name = bodyWords(id, project);
          return (
            <li
              key={id}
              onPointerEnter={() => setBench({ pointed: id })}
              onPointerLeave={() => setBench({ pointed: null })}
              className={`flex items-center gap-1.5 px-3 py-0.5 ${read === id ? 'bg-card' : ''}`}
              data-testid={`body-${id}`}
            >
              <input
                type="color"
                aria-label={`Colour of ${name}`}
                className="h-4 w-4 shrink-0 cursor-pointer border border-line2 bg-transparent p-0"
                value={bodyColour(project, id)}
                onChange={(e) => set(id, { colour: e.target.value })}
              />
              <input
                aria-label={`Name of ${name}`}
                className="min-w-0 flex-1 border-b border-transparent bg-transparent px-0.5 hover:border-line2 focus:border-teal"
                key={name}
                defaultValue={name}
                onBlur={(e) => {
                  const next = e.target.value.trim().slice(0, 80);
                  if (next && next !== name) set(id, { name: next });
                }}
                onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
              />
              <select
                aria-label={`Material of ${name}`}
                className="max-w-20 bg-transparent text-[12px] text-ink2"
                value={body?.material ?? ''}
                onChange={(e) => set(id, { material: e.target.value || undefined })}
              >
                <option value="">as the brief</option>
                {Object.entries(MATERIALS).map(([k, m]) => (
                  <option key={k} value={k}>
                    {m.label}
                  </option>
                ))}
              </select>
              <button
                type="button"
                aria-pressed={read === id}
                title={`Read the gauges of ${name}`}
                className={read === id ? 'text-[12px] font-semibold text-teal' : 'text-[12px] text-ink2 hover:text-teal'}
                onClick={() => setBench({ gaugeBody: id })}
              >
                gauges
              </button>
              <button
                type="button"
                aria-pressed={alone === id}
                aria-label={alone === id ? 'Show all bodies' : `Show only ${name}`}
                title={alone === id ? 'Show all bodies' : `Show only ${name}`}
                className={alone === id ? 'text-teal' : 'text-ink3 hover:text-teal'}
                onClick={() => showOnly(alone === id ? null : id)}
              >
                <ScanEye size={13} aria-hidden />
              </button>
              <button
                type="button"
                aria-pressed={body?.hidden === true}
                aria-label={body?.hidden ? `Show ${name}` : `Hide ${name}`}
                className="text-ink3 hover:text-teal"
                onClick={() => set(id, { hidden: body?.hidden ? undefined : true })}
              >
                {body?.hidden ? <EyeOff size={13} aria-hidden /> : <Eye size={13} aria-hidden />}
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
