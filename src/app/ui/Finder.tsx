import { Command } from 'cmdk';
import { Dialog } from 'radix-ui';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { type Findable, found } from '../../core/find';
import type { Project } from '../../core/recipe/schema';
import { ACTIONS } from '../actions/actions';
import { choices } from '../actions/offers';
import { openDrawing, setBench, useBench } from '../state/bench';
import { useProject } from '../state/project';

/** Every action with its key, found by its name or by what else it is known as. */
export function Finder() {
  const open = useBench((s) => s.finding);
  const project = useProject((s) => s.project);
  if (!project) return null;
  return (
    <Dialog.Root open={open} onOpenChange={(finding) => setBench({ finding })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed left-1/2 top-24 z-50 w-[520px] -translate-x-1/2 rounded-sm border border-line2 bg-card shadow-xl"
        >
          <Dialog.Title className="sr-only">Find or do</Dialog.Title>
          <Found project={project} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

interface Entry extends Findable {
  readonly key?: string;
  /** Why it can't be done now. */
  readonly needs?: string;
  readonly run?: () => void;
}

function Found({ project }: { project: Project }) {
  const go = useNavigate();
  const [asked, setAsked] = useState('');
  const entries = useMemo((): Entry[] => {
    const next = choices(project);
    return [
      ...ACTIONS.filter((a) => a.id !== 'find' && !a.group).map((a): Entry => ({ ...a, key: a.key?.shown, run: () => a.run(go) })),
      ...project.profiles.map(
        (p): Entry => ({ label: `Draw ${p.name} on the board`, known: ['sketch', 'edit'], run: () => openDrawing(p.id) }),
      ),
      ...next.choices,
      ...next.missing,
    ];
  }, [project, go]);
  return (
    <Command label="Find or do" shouldFilter={false}>
      <Command.Input
        value={asked}
        onValueChange={setAsked}
        placeholder="Find or do…"
        className="w-full border-b border-line bg-transparent px-4 py-2.5 text-[15px] outline-none"
      />
      <Command.List className="max-h-96 overflow-auto py-1">
        <Command.Empty className="px-4 py-3 text-ink2">Nothing by that name.</Command.Empty>
        {found(asked, entries)
          .filter((e) => e.run || asked.trim() !== '')
          .map((e) => (
            <Command.Item
              key={`${e.label} ${e.hint ?? ''}`}
              value={`${e.label} ${e.hint ?? ''}`}
              disabled={!e.run}
              onSelect={() => {
                setBench({ finding: false });
                e.run?.();
              }}
              className="flex cursor-pointer items-baseline justify-between gap-3 px-4 py-1.5 data-[disabled=true]:cursor-default data-[disabled=true]:text-ink3 data-[selected=true]:bg-tealwash"
            >
              <span>
                {e.label} <span className="text-[12px] text-ink2">{e.needs ? `needs ${e.needs}` : e.hint}</span>
              </span>
              {e.key && <kbd className="font-mono text-[11px] text-ink3">{e.key}</kbd>}
            </Command.Item>
          ))}
      </Command.List>
    </Command>
  );
}
