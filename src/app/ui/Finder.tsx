import { Command } from 'cmdk';
import { Dialog } from 'radix-ui';
import { useNavigate } from 'react-router';
import { slug, writeProject } from '../../core/recipe/file';
import { offers } from '../bench/NextStep';
import { look, setBench, useBench } from '../state/bench';
import { cancelBuild } from '../state/building';
import { redo, undo, useProject } from '../state/project';
import { download } from './download';
import { toggleTheme } from './theme';

interface Action {
  readonly words: string;
  readonly key?: string;
  readonly run: () => void;
}

/** Every action with its key, found by typing. */
export function Finder({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const go = useNavigate();
  const project = useProject((s) => s.project);
  if (!project) return null;
  const actions: Action[] = [
    { words: 'Go to the brief', run: () => go('brief') },
    { words: 'Go to the bench', run: () => go('bench') },
    { words: 'Go to inspection', run: () => go('inspect') },
    { words: 'Go to making and export', run: () => go('make') },
    { words: 'All projects', run: () => go('/') },
    { words: 'Undo', key: 'Ctrl+Z', run: undo },
    { words: 'Redo', key: 'Ctrl+Shift+Z', run: redo },
    { words: 'Look from the front', key: '1', run: () => look('front') },
    { words: 'Look from the side', key: '2', run: () => look('side') },
    { words: 'Look from above', key: '3', run: () => look('above') },
    { words: 'Look from below', key: '4', run: () => look('below') },
    { words: 'Look from a corner, all in view', key: '5', run: () => look('corner') },
    {
      words: 'Cut the body open along its axis',
      key: 'C',
      run: () => setBench({ section: useBench.getState().section ? null : { axis: 'y', offset: 0 } }),
    },
    { words: 'Stop building', run: () => void cancelBuild() },
    {
      words: 'Save the project to a file',
      run: () => download(`${slug(project.name)}.lathe.json`, writeProject(project), 'application/json'),
    },
    { words: 'Light or dark', run: toggleTheme },
    ...project.profiles.map((p) => ({ words: `Draw ${p.name} on the board`, run: () => setBench({ profile: p.id }) })),
    ...offers(project).map((o) => ({ words: `${o.label} ${o.hint}`, run: o.run })),
  ];
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed left-1/2 top-24 z-50 w-[480px] -translate-x-1/2 rounded-sm border border-line2 bg-card shadow-xl"
        >
          <Dialog.Title className="sr-only">Find or do</Dialog.Title>
          <Command label="Find or do">
            <Command.Input
              placeholder="Find or do…"
              className="w-full border-b border-line bg-transparent px-4 py-2.5 text-[15px] outline-none"
            />
            <Command.List className="max-h-96 overflow-auto py-1">
              <Command.Empty className="px-4 py-3 text-ink2">Nothing by that name.</Command.Empty>
              {actions.map((a) => (
                <Command.Item
                  key={a.words}
                  onSelect={() => {
                    onOpenChange(false);
                    a.run();
                  }}
                  className="flex cursor-pointer items-center justify-between px-4 py-1.5 data-[selected=true]:bg-tealwash"
                >
                  {a.words}
                  {a.key && <kbd className="font-mono text-[11px] text-ink3">{a.key}</kbd>}
                </Command.Item>
              ))}
            </Command.List>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
