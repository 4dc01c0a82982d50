import { AlertDialog } from 'radix-ui';
import { useBlocker, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { named } from '../../core/recipe/file';
import { wordsOf } from '../../core/result';
import { undo, useProject } from '../state/project';
import { isUnsaved, keptElsewhere, useSaving } from '../state/saving';
import { useStorage } from '../storage/rows';
import { createProject } from '../storage/store';
import { saveProjectFile } from '../ui/saveProject';

/** Saves the state of the page to a file, whatever the storage says. */
function saveToFile(): void {
  const { project } = useProject.getState();
  if (project) saveProjectFile(project);
}

/** Whether what is on the page is saved, in a word. */
export function SaveNote() {
  const state = useSaving((s) => s.state);
  const lasting = useStorage((s) => s.lasting);
  if (state !== 'saved' && state !== 'saving') return <span className="text-madder">■ not saving</span>;
  if (!lasting) return <span className="text-amber">▲ kept on this page only</span>;
  return <span className="text-ink3">{state === 'saving' ? 'saving…' : 'saved'}</span>;
}

const WORDS = {
  changed: 'Changed in another tab. What you do here is not written over it.',
  deleted: 'Deleted in another tab. What is here is on this page only.',
  unreadable: 'It could not be read again like this, so the last sound state stays stored',
  error: 'The browser’s storage refused. It is tried again every few seconds',
} as const;

/** What keeps the page from being saved, and every way to keep it. */
export function SaveTrouble({ id, onReload, onRetry }: { id: string; onReload: () => void; onRetry: () => void }) {
  const { state, why } = useSaving();
  const go = useNavigate();
  if (state === 'saved' || state === 'saving') return null;
  const keepMine = async (): Promise<void> => {
    const mine = useProject.getState().project;
    if (!mine || useProject.getState().id !== id) return;
    try {
      const copy = await createProject(named(mine, mine.name, ' (this tab)'));
      keptElsewhere();
      toast('Your state was kept as a copy');
      go(`/project/${copy}/bench`);
    } catch (e) {
      toast.error('No copy was made', { description: wordsOf(e) });
    }
  };
  const button = (words: string, run: () => void) => (
    <button type="button" className="btn shrink-0" onClick={run}>
      {words}
    </button>
  );
  return (
    <div role="alert" className="flex items-center gap-2 border-b border-line2 bg-amberwash px-4 py-1.5 text-amber">
      <span className="min-w-0 flex-1">
        ▲ {WORDS[state]}
        {why && `: ${why}.`}
      </span>
      {state === 'changed' && button('Keep both', () => void keepMine())}
      {state === 'changed' && button('Take theirs', onReload)}
      {state === 'deleted' && button('Keep mine as a copy', () => void keepMine())}
      {state === 'unreadable' && button('Undo the last change', undo)}
      {state === 'error' && button('Try again', onRetry)}
      {button('Save to a file', saveToFile)}
    </div>
  );
}

/** Asks before unsaved work is left. */
export function StayOrLeave({ id }: { id: string }) {
  const blocker = useBlocker(({ nextLocation }) => isUnsaved() && !nextLocation.pathname.startsWith(`/project/${id}/`));
  if (blocker.state !== 'blocked') return null;
  return (
    <AlertDialog.Root open>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <AlertDialog.Content className="fixed left-1/2 top-32 z-50 w-[440px] -translate-x-1/2 rounded-sm border border-line2 bg-card px-5 py-4 shadow-xl">
          <AlertDialog.Title className="mb-1 text-[15px] font-semibold">Your last changes are not saved</AlertDialog.Title>
          <AlertDialog.Description className="mb-3 text-ink2">
            They are on this page only, and gone when you leave it.
          </AlertDialog.Description>
          <div className="flex flex-wrap gap-2">
            <AlertDialog.Cancel className="btn-strong" onClick={() => blocker.reset()}>
              Stay
            </AlertDialog.Cancel>
            <button
              type="button"
              className="btn"
              onClick={() => {
                saveToFile();
                blocker.proceed();
              }}
            >
              Save to a file and leave
            </button>
            <button type="button" className="btn" onClick={() => blocker.proceed()}>
              Leave without them
            </button>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
