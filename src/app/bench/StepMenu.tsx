import { ArrowDown, ArrowUp, CopyPlus, Eye, EyeOff, Group, MoreVertical, StickyNote, Trash2 } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { toast } from 'sonner';
import { duplicateStep, groupSteps, moveStep, removeStep } from '../../core/recipe/edit';
import { danglingReferences } from '../../core/recipe/references';
import type { Project, Step } from '../../core/recipe/schema';
import { stepTitle } from '../../core/recipe/words';
import { fail, ok } from '../../core/result';
import { change, changeStep } from '../state/project';
import { ask } from '../ui/ask';

/** Moves a step unless it, or one after it, would come before what it is built on. */
function reorder(project: Project, id: string, to: number): void {
  const next = moveStep(project, id, to);
  const before = danglingReferences(project).map((d) => d.step + d.what);
  const broken = danglingReferences(next).find((d) => !before.includes(d.step + d.what));
  if (broken) toast.error(`${stepTitle(broken.step, project)} would come before what it is built on`, { description: broken.what });
  else change(() => next);
}

/** More that can be done with a step. */
export function StepMenu({ project, step, index }: { project: Project; step: Step; index: number }) {
  const item = 'flex cursor-pointer items-center gap-2 px-3 py-1 outline-none data-[disabled]:opacity-40 data-[highlighted]:bg-tealwash';
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger aria-label={`More for step ${index + 1}`} className="h-6 px-0.5 text-ink3 hover:text-teal">
        <MoreVertical size={14} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="z-50 min-w-48 rounded-sm border border-line2 bg-card py-1 shadow-md">
          <DropdownMenu.Item className={item} onSelect={() => changeStep(step, { ...step, enabled: !step.enabled })}>
            {step.enabled ? <EyeOff size={13} /> : <Eye size={13} />}
            {step.enabled ? 'Switch off' : 'Switch on'}
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} disabled={index === 0} onSelect={() => reorder(project, step.id, index - 1)}>
            <ArrowUp size={13} />
            Move up
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className={item}
            disabled={index === project.steps.length - 1}
            onSelect={() => reorder(project, step.id, index + 1)}
          >
            <ArrowDown size={13} />
            Move down
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className={item}
            onSelect={() =>
              ask({
                title: `Note for step ${index + 1}`,
                initial: step.note ?? '',
                check: (t) => (t.length <= 500 ? ok(t) : fail('a note has at most 500 characters')),
                done: (t) => {
                  const { note: _, ...rest } = step;
                  changeStep(step, t.trim() ? { ...rest, note: t.trim() } : rest);
                },
              })
            }
          >
            <StickyNote size={13} />
            Note…
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className={item}
            onSelect={() =>
              ask({
                title: `Group of step ${index + 1}`,
                initial: step.group ?? project.steps[index - 1]?.group ?? '',
                check: (t) => (t.trim().length > 60 ? fail('a name has at most 60 characters') : ok(t)),
                done: (t) => change((p) => groupSteps(p, [step.id], t.trim() || null)),
              })
            }
          >
            <Group size={13} />
            {step.group === undefined ? 'Group under a name…' : 'Another group, or none…'}
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => change((p) => duplicateStep(p, step.id))}>
            <CopyPlus size={13} />
            Duplicate
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
