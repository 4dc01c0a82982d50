import { Command } from 'cmdk';
import { Popover } from 'radix-ui';
import { useEffect, useMemo, useState } from 'react';
import { found } from '../../core/find';
import type { Project } from '../../core/recipe/schema';
import { type Choice, choices } from '../actions/offers';
import { useKeys } from '../actions/useKeys';
import { setBench, useBench } from '../state/bench';

/** What can be done next, by what the maker wants; what is typed puts the likeliest first. */
export function NextStep({ project }: { project: Project }) {
  const open = useBench((s) => s.choosingStep);
  useKeys('sheet');
  useEffect(() => () => setBench({ choosingStep: false }), []);
  return (
    <Popover.Root open={open} onOpenChange={(choosingStep) => setBench({ choosingStep })}>
      <Popover.Trigger className="flex items-center justify-between border-t border-line2 bg-card px-4 py-2.5 text-left hover:text-teal">
        next step…
        <kbd className="rounded-xs border border-line2 px-1 font-mono text-[11px] text-ink3">N</kbd>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="start"
          sideOffset={2}
          className="z-50 w-[360px] rounded-sm border border-line2 bg-card shadow-lg"
        >
          <Choices project={project} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

const GROUP =
  '[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-1.5 [&_[cmdk-group-heading]]:text-[11px] [&_[cmdk-group-heading]]:font-semibold [&_[cmdk-group-heading]]:text-ink3';

function Choices({ project }: { project: Project }) {
  const [asked, setAsked] = useState('');
  const all = useMemo(() => choices(project), [project]);
  const list = found(asked, all.choices);
  const groups = [...new Set(list.map((o) => o.group))];
  const missing = asked.trim() === '' ? [] : found(asked, all.missing);
  return (
    <Command label="Next step" shouldFilter={false}>
      <Command.Input
        value={asked}
        onValueChange={setAsked}
        placeholder="what should happen next?"
        className="w-full border-b border-line bg-transparent px-3 py-2 outline-none"
      />
      <Command.List className="max-h-80 overflow-auto py-1">
        {list.length === 0 && missing.length === 0 && <p className="px-3 py-3 text-ink2">Nothing goes by that name.</p>}
        {asked.trim() === ''
          ? groups.map((g) => (
              <Command.Group key={g} heading={g} className={GROUP}>
                {list
                  .filter((o) => o.group === g)
                  .map((o) => (
                    <Row key={o.label + o.hint} choice={o} />
                  ))}
              </Command.Group>
            ))
          : list.map((o) => <Row key={o.label + o.hint} choice={o} />)}
        {missing.map((m) => (
          <Command.Item key={m.label} value={m.label} disabled className="flex items-baseline gap-2 px-3 py-1 text-ink3">
            {m.label}
            <span className="text-[12px]">needs {m.needs}</span>
          </Command.Item>
        ))}
      </Command.List>
    </Command>
  );
}

function Row({ choice }: { choice: Choice }) {
  return (
    <Command.Item
      value={`${choice.label} ${choice.hint}`}
      onSelect={() => {
        setBench({ choosingStep: false });
        choice.run();
      }}
      className="flex cursor-pointer items-baseline gap-2 px-3 py-1 data-[selected=true]:bg-tealwash"
    >
      {choice.label}
      <span className="text-[12px] text-ink2">{choice.hint}</span>
    </Command.Item>
  );
}
