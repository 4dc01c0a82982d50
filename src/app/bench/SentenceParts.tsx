import { bodiesBefore, planesBefore, raisingBefore, thereBeside } from '../../core/recipe/edit';
import type { Project, Step } from '../../core/recipe/schema';
import { type RaiseMode, type SentencePart, standsAlone, stepDefinitions } from '../../core/recipe/steps';
import { evaluateValue } from '../../core/recipe/values';
import { bodyWords, planeWords, stepTitle } from '../../core/recipe/words';
import { fail, ok } from '../../core/result';
import { openDrawing, useMade } from '../state/bench';
import { tableOf } from '../state/project';
import { ValueField } from '../ui/ValueField';
import { BodyList, EdgeValues, Picks, ProfileList, Select } from './StepLists';

/** One part of a step's sentence, edited in place. */
export function Part({ part, project, step, onChange }: { part: SentencePart; project: Project; step: Step; onChange: (s: Step) => void }) {
  const table = tableOf(project);
  const definition = stepDefinitions[step.kind]!;
  const made = useMade();
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
        value={String(step.inputs[part.choice] ?? part.options[0]!.value)}
        options={part.options.map((o) => [o.value, o.words])}
        onChange={(v) => {
          const bodies = bodiesBefore(project, step.id, made);
          const plain = {
            ...step.inputs,
            [part.choice]: v,
            ...(part.choice === 'mode'
              ? {
                  body: standsAlone(v as RaiseMode['mode'])
                    ? null
                    : ((step.inputs.body as string | null) ?? bodies[bodies.length - 1] ?? null),
                }
              : {}),
          };
          const inputs = definition.chosen?.(plain, part.choice, thereBeside(project, step.id)) ?? plain;
          onChange({ ...step, inputs });
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
          options={[
            ...(known ? [] : [[id, step.inputs[part.profile] ? 'deleted profile' : 'no drawing yet'] as const]),
            ...project.profiles.map((p) => [p.id, p.name] as const),
          ]}
          onChange={(v) => onChange({ ...step, inputs: { ...step.inputs, [part.profile]: v } })}
        />
        {known && (
          <button type="button" className="editing ml-1 text-[12px] text-teal hover:underline" onClick={() => openDrawing(id)}>
            draw
          </button>
        )}
      </span>
    );
  }
  if ('edgeValues' in part) return <EdgeValues project={project} step={step} part={part} onChange={onChange} />;
  if ('body' in part) {
    const id = (step.inputs[part.body] as string | null) ?? '';
    const bodies = bodiesBefore(project, step.id, made);
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
  if ('plane' in part) {
    const ref = String(step.inputs[part.plane]);
    return (
      <Select
        label="plane"
        value={ref}
        options={planesBefore(project, step.id, ref).map((p) => [p, planeWords(p, project)] as const)}
        onChange={(v) => onChange({ ...step, inputs: { ...step.inputs, [part.plane]: v } })}
      />
    );
  }
  if ('bodies' in part) return <BodyList project={project} step={step} field={part.bodies} onChange={onChange} />;
  if ('step' in part) {
    const id = (step.inputs[part.step] as string | null) ?? '';
    const earlier = raisingBefore(project, step.id);
    return (
      <Select
        label="step"
        value={id}
        options={[
          ...(earlier.some((s) => s.id === id) ? [] : [[id, 'choose…'] as const]),
          ...earlier.map((s) => [s.id, stepTitle(s.id, project)] as const),
        ]}
        onChange={(v) => {
          const of = project.steps.find((s) => s.id === v);
          const body = of && !standsAlone(of.inputs.mode as RaiseMode['mode']) ? of.inputs.body : v;
          onChange({ ...step, inputs: { ...step.inputs, [part.step]: v, body } });
        }}
      />
    );
  }
  if ('file' in part) return <b className="font-semibold">{project.imports?.[String(step.inputs[part.file])]?.name ?? 'a removed file'}</b>;
  if ('profiles' in part)
    return <ProfileList project={project} step={step} field={part.profiles} anything={part.anything === true} onChange={onChange} />;
  if ('shares' in part)
    return (
      <ValueField
        label="matching turned by"
        value={String(step.inputs[part.shares] ?? '')}
        placeholder="0, 0"
        check={(t) => (t.split(',').every((k) => Math.abs(Number(k)) <= 1) ? ok(t) : fail('numbers from −1 to 1 with commas between'))}
        onCommit={(t) => onChange({ ...step, inputs: { ...step.inputs, [part.shares]: t } })}
      />
    );
  if ('numbers' in part)
    return (
      <ValueField
        label="copies left out"
        value={String(step.inputs[part.numbers] ?? '')}
        placeholder="none"
        check={(t) => (/^\s*(\d+\s*(,\s*\d+\s*)*)?$/.test(t) ? ok(t) : fail('numbers with commas between, as 3, 5'))}
        onCommit={(t) => onChange({ ...step, inputs: { ...step.inputs, [part.numbers]: t } })}
      />
    );
  if ('picks' in part)
    return <Picks project={project} step={step} what={part.what} field={part.picks} most={part.most} onChange={onChange} />;
  const what = 'faces' in part ? 'faces' : 'edges';
  const field = 'faces' in part ? part.faces : part.edges;
  return <Picks project={project} step={step} what={what} field={field} onChange={onChange} />;
}
