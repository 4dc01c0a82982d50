import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Link, NavLink, Outlet, useParams } from 'react-router';
import { Keys } from '../actions/Keys';
import { useKeys } from '../actions/useKeys';
import { setBench } from '../state/bench';
import { startBuilding } from '../state/building';
import { startGivingUp } from '../state/givingUp';
import { closeMoving } from '../state/moving';
import { openProject, redo, undo, useProject } from '../state/project';
import { startRanging } from '../state/ranging';
import { autosave, isUnsaved, type Saver } from '../state/saving';
import { forgetSizes } from '../state/sizes';
import { startTrying } from '../state/trying';
import { openAgain, useStorage } from '../storage/rows';
import { loadProject, onAnnouncement } from '../storage/store';
import { Asking } from '../ui/ask';
import { Finder } from '../ui/Finder';
import { SaveNote, SaveTrouble, StayOrLeave } from './SaveNote';
import { TourCard } from './TourCard';

/** Header, saving and building around the pages of one project. */
export function ProjectFrame() {
  const { id } = useParams() as { id: string };
  const loaded = useQuery({
    queryKey: ['project', id],
    queryFn: () => loadProject(id),
    gcTime: 0,
    staleTime: Infinity,
    refetchOnWindowFocus: false,
  });
  const lasting = useStorage((s) => s.lasting);
  const saving = useRef<Saver | null>(null);
  const project = useProject((s) => (s.id === id ? s.project : null));
  const value = loaded.data?.ok ? loaded.data.value : null;

  useEffect(() => {
    if (!value) return;
    openProject(id, value.project);
    const saver = autosave(id, value.rev);
    saving.current = saver;
    const stopBuilding = startBuilding();
    const stopRanging = startRanging();
    const stopGivingUp = startGivingUp();
    const stopTrying = startTrying();
    return () => {
      setBench({ finding: false, listingKeys: false });
      stopTrying();
      stopRanging();
      stopGivingUp();
      stopBuilding();
      forgetSizes();
      closeMoving();
      void saver.stop();
      useProject.getState().close();
    };
  }, [id, value]);

  // Another tab wrote this project: say so before anything is overwritten.
  useEffect(
    () =>
      onAnnouncement((a) => {
        if (a.id === id) saving.current?.heard(a.rev, a.deleted);
      }),
    [id],
  );
  useEffect(() => {
    const flush = (): void => void saving.current?.flush();
    const ask = (e: BeforeUnloadEvent): void => {
      flush();
      if (isUnsaved()) e.preventDefault();
    };
    window.addEventListener('pagehide', flush);
    window.addEventListener('beforeunload', ask);
    return () => {
      window.removeEventListener('pagehide', flush);
      window.removeEventListener('beforeunload', ask);
    };
  }, []);

  useKeys('project');
  useEffect(() => {
    if (project) document.title = `${project.name} · Ivory Lathe`;
  }, [project]);

  if (loaded.data && !loaded.data.ok)
    return (
      <main className="p-10">
        <h1 className="mb-2 text-lg font-semibold">This project can’t be opened</h1>
        <p className="mb-4">{loaded.data.error} Nothing was changed.</p>
        {!lasting && (
          <button type="button" className="btn-strong mr-2" onClick={() => void openAgain().then(() => loaded.refetch())}>
            Try again
          </button>
        )}
        <Link className="btn" to="/">
          Back to the projects
        </Link>
      </main>
    );
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-11 shrink-0 items-stretch border-b border-line2 bg-panel pl-4">
        <div className="flex min-w-8 items-center gap-1.5 overflow-hidden text-[14px]">
          <Link to="/" className="min-w-6 truncate text-ink2 hover:text-teal" title="All projects">
            {project?.client || 'Projects'}
          </Link>
          <span className="text-ink3">/</span>
          <b className="truncate">{project?.name ?? '…'}</b>
        </div>
        <nav className="ml-8 flex shrink-0 items-stretch max-[820px]:ml-2" aria-label="Pages of the project">
          {[
            ['brief', 'Brief'],
            ['bench', 'Bench'],
            ['inspect', 'Inspect'],
            ['sizes', 'Sizes'],
            ['drawing', 'Drawing'],
            ['make', 'Make'],
            ['made', 'Made'],
            ['log', 'Log'],
          ].map(([to, label]) => (
            <NavLink
              key={to}
              to={to!}
              // A mark belongs to the page it was asked for on.
              onClick={() => setBench({ mark: null })}
              className={({ isActive }) =>
                `flex items-center px-4 max-[820px]:px-2 ${isActive ? 'border-b-2 border-teal pt-0.5 font-semibold' : 'hover:text-teal'}`
              }
            >
              {label}
            </NavLink>
          ))}
        </nav>
        <div className="ml-auto flex items-center gap-2 pr-3">
          <SaveNote />
          <UndoButtons />
          <button
            type="button"
            className="field flex w-52 items-center justify-between text-ink3 max-[820px]:w-auto"
            onClick={() => setBench({ finding: true })}
          >
            <span className="max-[820px]:sr-only">Find or do…</span>{' '}
            <kbd className="rounded-xs border border-line2 px-1 font-mono text-[11px]">/</kbd>
          </button>
        </div>
      </header>
      <SaveTrouble id={id} onReload={() => void loaded.refetch()} onRetry={() => void saving.current?.flush()} />
      <div className="min-h-0 flex-1">{project && <Outlet />}</div>
      <Finder />
      <Keys />
      <Asking />
      <StayOrLeave id={id} />
      <TourCard />
    </div>
  );
}

function UndoButtons() {
  const [state, setState] = useState(() => useProject.temporal.getState());
  useEffect(() => useProject.temporal.subscribe(setState), []);
  return (
    <span className="flex gap-1">
      <button type="button" className="btn" disabled={state.pastStates.length === 0} onClick={undo} title="Undo (Ctrl+Z)">
        Undo
      </button>
      <button type="button" className="btn" disabled={state.futureStates.length === 0} onClick={redo} title="Redo (Ctrl+Shift+Z)">
        Redo
      </button>
    </span>
  );
}
