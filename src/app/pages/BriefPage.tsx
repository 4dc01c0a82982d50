import { cautionsFor, USES } from '../../core/brief/cautions';
import { gaugeById, gauges, showReading } from '../../core/brief/gauges';
import { MATERIALS } from '../../core/brief/materials';
import { PROCESSES } from '../../core/brief/processes';
import { evaluateAs, evaluateQuantity } from '../../core/dimensions/expression';
import type { Brief, Project, Target } from '../../core/recipe/schema';
import { ok } from '../../core/result';
import { wordsIn } from '../../core/units/units';
import { useBench } from '../state/bench';
import { useJudged } from '../state/judged';
import { change, tableOf, useProject } from '../state/project';
import { Pane } from '../ui/Pane';
import { ValueField } from '../ui/ValueField';
import { VerdictMark } from '../ui/verdict';
import { Look } from './StageLater';

/** What the body has to be: purpose, process, material, uses with their cautions, and targets. */
export function BriefPage() {
  const project = useProject((s) => s.project);
  return project && <BriefOf project={project} />;
}

function BriefOf({ project }: { project: Project }) {
  const judged = useJudged(project);
  const built = useBench((s) => s.scenes.length > 0);
  const { brief } = project;
  const scope = tableOf(project).scope;
  const set = (next: Partial<Brief>): void => change((p) => ({ ...p, brief: { ...p.brief, ...next } }));
  const setTarget = (i: number, next: Target | null): void =>
    set({ targets: next ? brief.targets.map((t, k) => (k === i ? next : t)) : brief.targets.filter((_, k) => k !== i) });
  const cautions = cautionsFor(brief);
  const unused = gauges.filter((g) => !brief.targets.some((t) => t.gauge === g.id));
  return (
    <main className="h-full overflow-auto">
      <div className="mx-auto grid max-w-[1680px] max-[960px]:grid-cols-1! grid-cols-[minmax(520px,1.3fr)_minmax(0,1fr)_minmax(240px,0.6fr)] gap-8 px-8 py-6">
        <div>
          <h1 className="mb-3 text-lg font-semibold">Brief</h1>
          <div className="grid grid-cols-2 gap-x-4 gap-y-3">
            <Text label="Project" value={project.name} onCommit={(name) => name && change((p) => ({ ...p, name: name.slice(0, 80) }))} />
            <Text label="For" value={project.client} onCommit={(client) => change((p) => ({ ...p, client: client.slice(0, 80) }))} />
            <label className="flex flex-col gap-1">
              <span className="heading">Made by</span>
              <select className="field" value={brief.process} onChange={(e) => set({ process: e.target.value as Brief['process'] })}>
                {Object.entries(PROCESSES).map(([v, { label: words }]) => (
                  <option key={v} value={v}>
                    {words}
                  </option>
                ))}
              </select>
            </label>
            <label className="flex flex-col gap-1">
              <span className="heading">Material</span>
              <select className="field" value={brief.material} onChange={(e) => set({ material: e.target.value })}>
                {Object.entries(MATERIALS).map(([v, m]) => (
                  <option key={v} value={v}>
                    {m.label}, {m.density} g/cm³
                  </option>
                ))}
              </select>
            </label>
            <label className="col-span-2 flex flex-col gap-1">
              <span className="heading">Purpose</span>
              <textarea
                className="field min-h-14"
                key={project.name}
                defaultValue={brief.purpose}
                maxLength={2000}
                onBlur={(e) => e.target.value !== brief.purpose && set({ purpose: e.target.value })}
              />
            </label>
          </div>
          <h2 className="mb-1 mt-6 text-[15px] font-semibold">Targets</h2>
          <p className="mb-2 text-ink2">
            Limits are values or expressions over the named dimensions. Within 1.5 % outside a limit counts as near (▲), beyond that as
            failing (■). Readings come from the body on the bench.
          </p>
          <table className="w-full border border-line2 bg-panel">
            <thead>
              <tr className="heading border-b border-line text-left">
                <th className="px-3 py-1.5">Gauge</th>
                <th>At least</th>
                <th>At most</th>
                <th className="text-right">Reading</th>
                <th className="px-3">Verdict</th>
                <th aria-label="Remove" />
              </tr>
            </thead>
            <tbody>
              {brief.targets.map((t, i) => {
                const g = gaugeById(t.gauge);
                if (!g) return null;
                const r = judged.gauges.find((j) => j.id === t.gauge);
                if (!r) return null;
                const shown = showReading(r.value, g.unit, g.digits, project.units);
                const check = (text: string) =>
                  text.trim() === '' ? ok(true) : g.unit === 'mm' ? evaluateAs(text, 'length', scope) : evaluateQuantity(text, scope);
                const limit = (side: 'min' | 'max') => (
                  <ValueField
                    label={`${g.label}, ${side === 'min' ? 'at least' : 'at most'}`}
                    value={t[side] ?? ''}
                    placeholder="–"
                    minChars={8}
                    check={check}
                    onCommit={(text) => {
                      const { [side]: _, ...rest } = t;
                      setTarget(i, text === '' ? rest : { ...rest, [side]: text });
                    }}
                  />
                );
                return (
                  <tr key={t.gauge} className="border-b border-line last:border-0">
                    <td className="px-3 py-1.5" title={g.help}>
                      {g.label} <span className="text-ink3">{shown.unit || (g.unit === 'yes/no' ? '' : g.unit)}</span>
                    </td>
                    <td>{g.unit === 'yes/no' ? <span className="text-ink2">yes</span> : limit('min')}</td>
                    <td>{g.unit === 'yes/no' ? '' : limit('max')}</td>
                    <td className="text-right font-mono">{shown.text}</td>
                    <td className="whitespace-nowrap px-3">
                      <VerdictMark verdict={r.verdict} /> {wordsIn(r.words, project.units)}
                    </td>
                    <td className="pr-2 text-right">
                      <button
                        type="button"
                        className="text-ink3 hover:text-madder"
                        aria-label={`Remove the target for ${g.label}`}
                        onClick={() => setTarget(i, null)}
                      >
                        ×
                      </button>
                    </td>
                  </tr>
                );
              })}
              {brief.targets.length === 0 && (
                <tr>
                  <td colSpan={6} className="px-3 py-3 text-ink2">
                    No targets yet. Add what must hold; the bench keeps watching it.
                  </td>
                </tr>
              )}
            </tbody>
          </table>
          {unused.length > 0 && (
            <select
              aria-label="Add a target"
              className="field mt-2"
              value=""
              onChange={(e) => set({ targets: [...brief.targets, { gauge: e.target.value }] })}
            >
              <option value="">Add a target…</option>
              {unused.map((g) => (
                <option key={g.id} value={g.id}>
                  {g.label}
                </option>
              ))}
            </select>
          )}
          <p className="mt-4">
            The fill line lies{' '}
            <ValueField
              label="Fill line below the brim"
              value={brief.fillBelowBrim}
              check={(t) => evaluateAs(t, 'length', scope)}
              onCommit={(fillBelowBrim) => set({ fillBelowBrim })}
            />{' '}
            below the brim.
          </p>
        </div>
        <div className="sticky top-6 h-[calc(100vh-92px)] max-h-[900px] min-h-64 self-start">
          {built && (
            <Pane called="What it is for">
              <Look project={project} />
            </Pane>
          )}
        </div>
        <aside aria-label="Uses and cautions">
          <h2 className="mb-1 text-[15px] font-semibold">What it is used for</h2>
          <ul className="mb-5">
            {Object.entries(USES).map(([id, use]) => (
              <li key={id}>
                <label className="flex items-center gap-2 py-0.5">
                  <input
                    type="checkbox"
                    className="accent-teal"
                    checked={brief.uses.includes(id)}
                    onChange={(e) => set({ uses: e.target.checked ? [...brief.uses, id] : brief.uses.filter((u) => u !== id) })}
                  />
                  {use.label}
                </label>
              </li>
            ))}
          </ul>
          <h2 className="mb-1 text-[15px] font-semibold">Cautions</h2>
          <p className="mb-2 text-ink2">
            The program helps with shape; it certifies nothing. Local codes, standards and licensed practice go before anything here.
          </p>
          <ul className="flex flex-col gap-2">
            {cautions.map((c) => (
              <li key={c} className="border-l-2 border-amber pl-2">
                {c}
              </li>
            ))}
          </ul>
        </aside>
      </div>
    </main>
  );
}

function Text({ label, value, onCommit }: { label: string; value: string; onCommit: (v: string) => void }) {
  return (
    <label className="flex flex-col gap-1">
      <span className="heading">{label}</span>
      <input
        className="field"
        key={value}
        defaultValue={value}
        onBlur={(e) => e.target.value.trim() !== value && onCommit(e.target.value.trim())}
        onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      />
    </label>
  );
}
