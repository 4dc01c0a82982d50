import { Command } from 'cmdk';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { addStep, bodiesBefore, freshId, setProfile } from '../../core/recipe/edit';
import type { Project } from '../../core/recipe/schema';
import type { StepKind } from '../../core/recipe/steps';
import { bodyWords } from '../../core/recipe/words';
import { setBench } from '../state/bench';
import { change } from '../state/project';

interface Offer {
  readonly group: string;
  readonly label: string;
  readonly hint: string;
  readonly run: () => void;
}

/** What can be done next, in verbs grouped by what the maker wants. */
export function offers(project: Project): Offer[] {
  const bodies = bodiesBefore(project);
  const add = (kind: StepKind, inputs: Record<string, unknown>, pick?: 'faces' | 'edges', values?: Record<string, string>): void => {
    let id = '';
    change((p) => {
      const r = addStep(p, kind, inputs, values);
      id = r.id;
      return r.project;
    });
    setBench({ step: id, ...(pick ? { picking: { step: id, what: pick } } : {}) });
  };
  const out: Offer[] = [
    {
      group: 'Draw',
      label: 'New half profile',
      hint: 'beside the axis, on the board',
      run: () => {
        const id = freshId(
          'profile',
          project.profiles.map((p) => p.id),
        );
        change((p) => setProfile(p, { id, name: `Profile ${p.profiles.length + 1}`, points: [], curves: [] }));
        setBench({ profile: id });
      },
    },
  ];
  for (const p of project.profiles) {
    out.push({
      group: 'Raise',
      label: `Revolve ${p.name}`,
      hint: 'as a new body',
      run: () => add('revolve', { profile: p.id, mode: 'new', body: null }),
    });
    for (const b of bodies) {
      out.push({
        group: 'Join and cut',
        label: `Revolve ${p.name}, joined`,
        hint: `to ${bodyWords(b, project)}`,
        run: () => add('revolve', { profile: p.id, mode: 'join', body: b }),
      });
      out.push({
        group: 'Join and cut',
        label: `Revolve ${p.name}, cut`,
        hint: `from ${bodyWords(b, project)}`,
        run: () => add('revolve', { profile: p.id, mode: 'cut', body: b }),
      });
    }
  }
  for (const b of bodies) {
    out.push({
      group: 'Soften',
      label: 'Round edges',
      hint: `of ${bodyWords(b, project)}; pick them on the stage`,
      run: () => add('fillet', { body: b, edges: [] }, 'edges'),
    });
    const wall = project.dimensions.some((d) => d.name === 'wall') ? { wall: 'wall' } : undefined;
    out.push({
      group: 'Hollow',
      label: `Hollow ${bodyWords(b, project)}`,
      hint: 'open at its topmost flat face',
      run: () => add('shell', { body: b, open: [{ topOf: lastMaker(project, b) }] }, undefined, wall),
    });
    out.push({
      group: 'Hollow',
      label: `Hollow ${bodyWords(b, project)}, open where I pick`,
      hint: 'pick the faces on the stage',
      run: () => add('shell', { body: b, open: [] }, 'faces', wall),
    });
  }
  return out;
}

/** The last revolve joined to a body usually carries its rim. */
function lastMaker(project: Project, body: string): string {
  const makers = project.steps.filter(
    (s) => s.kind === 'revolve' && (s.id === body || (s.inputs.body === body && s.inputs.mode === 'join')),
  );
  const withFlat = makers.filter((s) => project.profiles.find((p) => p.id === s.inputs.profile)?.curves.some((c) => c.kind === 'line'));
  return (withFlat[withFlat.length - 1] ?? makers[0])?.id ?? body;
}

export function NextStep({ project }: { project: Project }) {
  const [open, setOpen] = useState(false);
  useHotkeys('n', (e) => {
    e.preventDefault();
    setOpen(true);
  });
  const list = offers(project);
  const groups = [...new Set(list.map((o) => o.group))];
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="flex items-center justify-between border-t border-line2 bg-card px-4 py-2.5 text-left hover:text-teal">
        next step…
        <kbd className="rounded-xs border border-line2 px-1 font-mono text-[11px] text-ink3">N</kbd>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="start"
          sideOffset={2}
          className="z-50 w-[340px] rounded-sm border border-line2 bg-card shadow-lg"
        >
          <Command label="Next step">
            <Command.Input
              placeholder="what should happen next?"
              className="w-full border-b border-line bg-transparent px-3 py-2 outline-none"
            />
            <Command.List className="max-h-80 overflow-auto py-1">
              <Command.Empty className="px-3 py-3 text-ink2">Nothing fits. Draw a half profile first.</Command.Empty>
              {groups.map((g) => (
                <Command.Group
                  key={g}
                  heading={g}
                  className="[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-1.5 [&_[cmdk-group-heading]]:text-[11px] [&_[cmdk-group-heading]]:font-semibold [&_[cmdk-group-heading]]:text-ink3"
                >
                  {list
                    .filter((o) => o.group === g)
                    .map((o) => (
                      <Command.Item
                        key={o.label + o.hint}
                        value={`${o.label} ${o.hint}`}
                        onSelect={() => {
                          setOpen(false);
                          o.run();
                        }}
                        className="flex cursor-pointer items-baseline gap-2 px-3 py-1 data-[selected=true]:bg-tealwash"
                      >
                        {o.label}
                        <span className="text-[12px] text-ink2">{o.hint}</span>
                      </Command.Item>
                    ))}
                </Command.Group>
              ))}
            </Command.List>
          </Command>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
