import { ArrowDown, ArrowUp, Eye, EyeOff, MoreVertical, Trash2 } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { toast } from 'sonner';
import { bodiesBefore, moveStep, removeStep, setStep } from '../../core/recipe/edit';
import type { EdgeRef, FaceRef } from '../../core/recipe/names';
import type { Project, Step } from '../../core/recipe/schema';
import { type SentencePart, stepDefinitions } from '../../core/recipe/steps';
import { evaluateValue } from '../../core/recipe/values';
import { bodyWords, edgeRefWords, faceRefWords } from '../../core/recipe/words';
import { formatLength, formatVolume } from '../../core/units/units';
import type { StepReport } from '../../engine/types';
import { setBench, showMark, useBench } from '../state/bench';
import { cancelBuild } from '../state/building';
import { change, tableOf } from '../state/project';
import { ValueField } from '../ui/ValueField';
import { Dimensions } from './Dimensions';
import { NextStep } from './NextStep';

/** The sheet: dimensions, then the steps as sentences edited in place, with what each did under it. */
export function Sheet({ project }: { project: Project }) {
  const result = useBench((s) => s.result);
  const running = useBench((s) => s.running);
  const done = result?.steps.filter((s) => s.state === 'done' || s.state === 'warned').length ?? 0;
  return (
    <div className="flex h-full flex-col bg-panel">
      <div className="min-h-0 flex-1 overflow-y-auto">
        <Dimensions project={project} />
        <section aria-label="Steps">
          <div className="flex items-center px-3 pb-1 pt-2">
            <h2 className="heading">Steps</h2>
            <span className="ml-auto text-ink2" data-testid="build-summary">
              {running
                ? 'building…'
                : result
                  ? `${done} done · ${result.computed} computed in ${(result.ms / 1000).toFixed(result.ms < 1000 ? 2 : 1)} s`
                  : ''}
            </span>
          </div>
          <ol>
            {project.steps.map((step, i) => (
              <StepRow key={step.id} project={project} step={step} index={i} />
            ))}
          </ol>
          {project.steps.length === 0 && (
            <p className="px-4 py-6 text-ink2">
              No steps yet. Draw half a profile on the board, then raise a body from it with the next step below.
            </p>
          )}
        </section>
      </div>
      <NextStep project={project} />
    </div>
  );
}

const STATE_MARK: Record<string, string> = { done: '◆', warned: '▲', failed: '■', skipped: '◇' };

function StepRow({ project, step, index }: { project: Project; step: Step; index: number }) {
  const report = useBench((s) => s.reports[step.id]);
  const running = useBench((s) => s.running?.step === step.id);
  const active = useBench((s) => s.step === step.id);
  const markerAt = project.marker === null ? project.steps.length - 1 : project.steps.findIndex((s) => s.id === project.marker);
  const waits = index > markerAt;
  const state = running ? 'running' : (report?.state ?? 'skipped');
  const tone = state === 'failed' ? 'text-madder' : state === 'warned' ? 'text-amber' : 'text-teal';
  const edit = (next: Step): void => change((p) => setStep(p, next));
  return (
    <>
      <li
        className={`group relative flex gap-2 border-l-[3px] py-1.5 pl-2 pr-2 ${active ? 'border-teal bg-card' : 'border-transparent'} ${waits || !step.enabled ? 'opacity-55' : ''}`}
        data-testid={`step-${step.id}`}
        data-state={state}
        onFocus={() => setBench({ step: step.id })}
        onClick={() => setBench({ step: step.id })}
        onKeyDown={() => {}}
      >
        <span className="w-4 pt-0.5 text-right font-mono text-[12px] text-ink3">{index + 1}</span>
        <span aria-hidden className={`pt-0.5 text-[11px] leading-[18px] ${tone}`}>
          {running ? '◈' : STATE_MARK[state]}
        </span>
        <div className="min-w-0 flex-1">
          <div className="flex flex-wrap items-center gap-x-1 gap-y-1 leading-[20px]">
            {stepDefinitions[step.kind]!.sentence(step).map((part, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: the parts of a sentence have no identity but their place
              <Part key={i} part={part} project={project} step={step} onChange={edit} />
            ))}
          </div>
          <StepNotes project={project} step={step} report={report} running={running} />
        </div>
        <StepMenu project={project} step={step} index={index} />
      </li>
      {index === markerAt && (
        <li className="flex items-center gap-2 px-3 py-0.5" aria-label="Work-from-here marker">
          <span className="h-px flex-1 border-t border-dashed border-teal" />
          {index < project.steps.length - 1 ? (
            <button
              type="button"
              className="text-[12px] text-teal hover:underline"
              onClick={() => change((p) => ({ ...p, marker: null }))}
              title="Move the marker to the end"
            >
              work from here · go to the end
            </button>
          ) : (
            <span className="text-[12px] text-teal">work from here</span>
          )}
        </li>
      )}
    </>
  );
}

function Part({ part, project, step, onChange }: { part: SentencePart; project: Project; step: Step; onChange: (s: Step) => void }) {
  const table = tableOf(project);
  const definition = stepDefinitions[step.kind]!;
  if ('text' in part) return <span>{part.text}</span>;
  if ('value' in part) {
    const spec = definition.values[part.value]!;
    const text = step.values[part.value] ?? '';
    const check = (t: string) => evaluateValue(spec, t, table.scope);
    return (
      <ValueField
        label={spec.label}
        value={text}
        check={check}
        invalid={!check(text).ok}
        onCommit={(t) => onChange({ ...step, values: { ...step.values, [part.value]: t } })}
      />
    );
  }
  if ('choice' in part)
    return (
      <Select
        label={part.choice}
        value={String(step.inputs[part.choice])}
        options={part.options.map((o) => [o.value, o.words])}
        onChange={(v) => {
          const bodies = bodiesBefore(project, step.id);
          const inputs = {
            ...step.inputs,
            [part.choice]: v,
            ...(part.choice === 'mode'
              ? { body: v === 'new' ? null : ((step.inputs.body as string | null) ?? bodies[bodies.length - 1] ?? null) }
              : {}),
          };
          if (v === 'new')
            change((p) => ({
              ...setStep(p, { ...step, inputs }),
              bodies: { ...p.bodies, [step.id]: p.bodies[step.id] ?? { name: `Body ${Object.keys(p.bodies).length + 1}` } },
            }));
          else onChange({ ...step, inputs });
        }}
      />
    );
  if ('profile' in part) {
    const id = String(step.inputs[part.profile]);
    const known = project.profiles.some((p) => p.id === id);
    return (
      <span className="inline-flex items-center">
        <Select
          label="profile"
          value={id}
          options={[...(known ? [] : [[id, 'deleted profile'] as const]), ...project.profiles.map((p) => [p.id, p.name] as const)]}
          onChange={(v) => onChange({ ...step, inputs: { ...step.inputs, [part.profile]: v } })}
        />
        {known && (
          <button type="button" className="ml-1 text-[12px] text-teal hover:underline" onClick={() => setBench({ profile: id })}>
            draw
          </button>
        )}
      </span>
    );
  }
  if ('body' in part) {
    const id = (step.inputs[part.body] as string | null) ?? '';
    const bodies = bodiesBefore(project, step.id);
    return (
      <Select
        label="body"
        value={id}
        options={[
          ...(bodies.includes(id) ? [] : [[id, id ? 'missing body' : 'choose…'] as const]),
          ...bodies.map((b) => [b, bodyWords(b, project)] as const),
        ]}
        onChange={(v) => onChange({ ...step, inputs: { ...step.inputs, [part.body]: v } })}
      />
    );
  }
  const what = 'faces' in part ? 'faces' : 'edges';
  const field = 'faces' in part ? part.faces : part.edges;
  return <Picks project={project} step={step} what={what} field={field} onChange={onChange} />;
}

function Picks({
  project,
  step,
  what,
  field,
  onChange,
}: {
  project: Project;
  step: Step;
  what: 'faces' | 'edges';
  field: string;
  onChange: (s: Step) => void;
}) {
  const picking = useBench((s) => s.picking?.step === step.id && s.picking.what === what);
  const refs = (step.inputs[field] as (FaceRef | EdgeRef)[]) ?? [];
  const words = (r: FaceRef | EdgeRef): string =>
    what === 'faces' ? faceRefWords(r as FaceRef, project) : edgeRefWords(r as EdgeRef, project);
  return (
    <>
      {refs.map((r, i) => (
        <span key={JSON.stringify(r)} className="chip max-w-full" title={words(r)}>
          <span className="truncate">{words(r)}</span>
          <button
            type="button"
            aria-label={`Take out ${words(r)}`}
            className="text-ink3 hover:text-madder"
            onClick={() => onChange({ ...step, inputs: { ...step.inputs, [field]: refs.filter((_, k) => k !== i) } })}
          >
            ×
          </button>
        </span>
      ))}
      {refs.length === 0 && <span className="text-ink2">{what === 'faces' ? 'no face (sealed)' : 'no edge yet'}</span>}
      <button
        type="button"
        aria-pressed={picking}
        className={picking ? 'btn-strong py-0!' : 'btn py-0!'}
        onClick={() => setBench({ picking: picking ? null : { step: step.id, what } })}
      >
        {picking ? 'done' : 'pick'}
      </button>
    </>
  );
}

function Select({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: readonly (readonly [string, string])[];
  onChange: (v: string) => void;
}) {
  return (
    <select
      aria-label={label}
      className="chip cursor-pointer appearance-none pr-1 hover:border-teal"
      value={value}
      onChange={(e) => onChange(e.target.value)}
    >
      {options.map(([v, words]) => (
        <option key={v} value={v}>
          {words}
        </option>
      ))}
    </select>
  );
}

function StepNotes({ project, step, report, running }: { project: Project; step: Step; report: StepReport | undefined; running: boolean }) {
  const forecast = useBench((s) => s.forecasts[step.id]);
  if (running)
    return (
      <p className="text-teal">
        working…{' '}
        <button type="button" className="link" onClick={() => void cancelBuild()}>
          cancel
        </button>
      </p>
    );
  if (!report) return <p className="text-ink3">waits to be built</p>;
  const at = report.at;
  if (report.state === 'failed')
    return (
      <div role="alert" className="mt-0.5 text-madder">
        <p>
          ■ {report.message}: {report.why}.{' '}
          {at && (
            <button type="button" className="link text-madder!" onClick={() => showMark(at, report.message ?? '', 'fail')}>
              show where
            </button>
          )}
        </p>
        {report.tryInstead.length > 0 && <p>Try: {report.tryInstead.join('; or ')}.</p>}
      </div>
    );
  const parts: string[] = [];
  if (report.state === 'skipped') parts.push(report.message ?? 'waits');
  if (report.volumeChange !== null) parts.push(`${report.volumeChange >= 0 ? '+' : '−'} ${formatVolume(Math.abs(report.volumeChange))}`);
  if (report.faces !== null) parts.push(`${report.faces} faces`);
  parts.push(report.cached ? 'unchanged' : `${Math.round(report.ms)} ms`);
  return (
    <div className="text-[12px] text-ink2">
      <p>{(report.state === 'skipped' ? parts.slice(0, 1) : parts).join(' · ')}</p>
      {report.warnings.map((w) => (
        <p key={w.message} className="text-amber">
          ▲ {w.message}
        </p>
      ))}
      {forecast && forecast.swallowed.length > 0 && (
        <div className="text-amber">
          ▲ the inside will not follow:
          <ul>
            {forecast.swallowed.slice(0, 4).map((s) => (
              <li key={s.words} className="ml-3">
                {s.words}{' '}
                <button type="button" className="link text-amber!" onClick={() => showMark(s.at, s.words, 'warn')}>
                  show where
                </button>
              </li>
            ))}
          </ul>
          {forecast.keepsAllUpTo !== null && <p>A wall under {formatLength(forecast.keepsAllUpTo, project.units)} keeps every detail.</p>}
        </div>
      )}
      {forecast && forecast.swallowed.length === 0 && forecast.limit && forecast.keepsAllUpTo !== null && (
        <p>
          keeps every detail up to {formatLength(forecast.keepsAllUpTo, project.units)}, then limited by {forecast.limit.words}{' '}
          <button type="button" className="link" onClick={() => showMark(forecast.limit!.at, forecast.limit!.words)}>
            show where
          </button>
        </p>
      )}
    </div>
  );
}

function StepMenu({ project, step, index }: { project: Project; step: Step; index: number }) {
  const item = 'flex cursor-pointer items-center gap-2 px-3 py-1 outline-none data-[disabled]:opacity-40 data-[highlighted]:bg-tealwash';
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger aria-label={`More for step ${index + 1}`} className="h-6 px-0.5 text-ink3 hover:text-teal">
        <MoreVertical size={14} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="z-50 min-w-48 rounded-sm border border-line2 bg-card py-1 shadow-md">
          <DropdownMenu.Item className={item} onSelect={() => change((p) => setStep(p, { ...step, enabled: !step.enabled }))}>
            {step.enabled ? <EyeOff size={13} /> : <Eye size={13} />}
            {step.enabled ? 'Switch off' : 'Switch on'}
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} disabled={index === 0} onSelect={() => change((p) => moveStep(p, step.id, index - 1))}>
            <ArrowUp size={13} />
            Move up
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className={item}
            disabled={index === project.steps.length - 1}
            onSelect={() => change((p) => moveStep(p, step.id, index + 1))}
          >
            <ArrowDown size={13} />
            Move down
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className={item}
            onSelect={() => change((p) => ({ ...p, marker: index === p.steps.length - 1 ? null : step.id }))}
          >
            <span className="w-[13px] text-center">╌</span>
            Work from here
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className={item}
            onSelect={() => {
              change((p) => removeStep(p, step.id));
              toast(`Step ${index + 1} deleted`, { description: 'Undo brings it back.' });
            }}
          >
            <Trash2 size={13} />
            Delete
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
