import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Copy, FileDown, FilePlus2, FolderOpen, LifeBuoy, Timer, Trash2 } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import grip from '../../../demo/ladle-grip.lathe.json';
import hook from '../../../demo/robe-hook.lathe.json';
import dish from '../../../demo/soap-dish.lathe.json';
import tray from '../../../demo/soap-tray.lathe.json';
import diffuser from '../../../demo/steam-diffuser.lathe.json';
import tower from '../../../demo/steam-tower.lathe.json';
import twisted from '../../../demo/twisted-tower.lathe.json';
import { emptyProject } from '../../core/recipe/edit';
import { MAX_FILE_BYTES, named, slug } from '../../core/recipe/file';
import { salvage } from '../../core/recipe/salvage';
import type { Project } from '../../core/recipe/schema';
import { readProjectFile } from '../files/read';
import { useKeptOffline } from '../offline';
import { beginTour } from '../state/tour';
import { type KeptPicture, keepAlike, keepOnly, keptPictures } from '../storage/kept';
import { openAgain, useStorage } from '../storage/rows';
import { note, recall } from '../storage/small';
import {
  createProject,
  listProjects,
  loadProject,
  loadRaw,
  onAnnouncement,
  type ProjectRow,
  saveProject,
  setDeleted,
} from '../storage/store';
import { download } from '../ui/download';
import { saveProjectFile } from '../ui/saveProject';
import { Jobs } from './Jobs';
import { addShipped } from './shipped';

const SEEDED = 'ivory-lathe-demo-shown';
let seeding: Promise<unknown> | null = null;

/** The first visit finds the demos in place. */
async function listWithDemos(): ReturnType<typeof listProjects> {
  if (recall(SEEDED) === null) {
    seeding ??= addDemos().then(() => note(SEEDED, '1'));
    await seeding;
  }
  return listProjects();
}

/** The newest stands first in the list, so the first demo comes last. */
async function addDemos(): Promise<void> {
  for (const raw of [tray, dish, hook, twisted, tower, grip, diffuser]) await addShipped(raw);
}

export function ProjectsPage() {
  const client = useQueryClient();
  const go = useNavigate();
  const file = useRef<HTMLInputElement>(null);
  const [renaming, setRenaming] = useState<string | null>(null);
  const [dragging, setDragging] = useState(false);
  const { lasting, why } = useStorage();
  const keptOffline = useKeptOffline();
  const projects = useQuery({ queryKey: ['projects'], queryFn: listWithDemos });
  const looks = useQuery({ queryKey: ['pictures', projects.dataUpdatedAt], queryFn: keptPictures, enabled: projects.isSuccess });
  const [sought, setSought] = useState('');
  const here = projects.data?.here ?? [];
  const found = here.filter((row) => `${row.name} ${row.client}`.toLowerCase().includes(sought.trim().toLowerCase()));
  // What belongs to no project any more is let go of; a list that is only this page's says nothing of the others.
  const all = projects.data;
  useEffect(() => {
    if (all && lasting) void keepOnly(new Set([...all.here, ...all.deleted].map((row) => row.id)));
  }, [all, lasting]);
  const refresh = () => client.invalidateQueries({ queryKey: ['projects'] });
  useEffect(() => onAnnouncement(() => void client.invalidateQueries({ queryKey: ['projects'] })), [client]);
  useEffect(() => {
    document.title = 'Projects · Ivory Lathe';
  }, []);

  const open = useMutation({
    mutationFn: async (f: File) => {
      if (f.size > MAX_FILE_BYTES)
        throw new Error(`The file is ${(f.size / 1e6).toFixed(1)} MB; a project has at most ${MAX_FILE_BYTES / 1e6} MB.`);
      const project = await readProjectFile(f);
      if (!project.ok) throw new Error(project.error);
      return createProject(project.value);
    },
    onSuccess: (id) => go(`/project/${id}/bench`),
    onError: (e, f) => toast.error(`${f.name} was not opened`, { description: e.message }),
  });

  /** An empty project, opened. */
  const begin = (then: (id: string) => void): void =>
    void createProject(emptyProject('Untitled')).then(
      (id) => {
        then(id);
        go(`/project/${id}/bench`);
      },
      (e: unknown) => toast.error('No project was made', { description: String(e) }),
    );
  const edit = async (id: string, f: (p: Project) => Project): Promise<void> => {
    const loaded = await loadProject(id);
    if (!loaded.ok) return void toast.error(loaded.error);
    const outcome = await saveProject(id, f(loaded.value.project), loaded.value.rev);
    if (!outcome.saved) toast.error(outcome.because === 'unreadable' ? outcome.why : 'Another tab was quicker: look again and repeat it.');
    await refresh();
  };
  const remove = async (row: ProjectRow): Promise<void> => {
    await setDeleted(row.id, true);
    await refresh();
    toast(`${row.name} deleted`, {
      action: { label: 'Undo', onClick: () => void setDeleted(row.id, false).then(refresh) },
      duration: 15000,
    });
  };
  const duplicate = async (row: ProjectRow): Promise<void> => {
    const loaded = await loadProject(row.id);
    if (!loaded.ok) return void toast.error(loaded.error);
    const { project } = loaded.value;
    await keepAlike(row.id, await createProject(named(project, project.name, ' copy')));
    await refresh();
  };
  /** The stored document to a file, as it is. */
  const saveRaw = async (row: ProjectRow): Promise<void> =>
    download(`${slug(row.name)}.damaged.json`, JSON.stringify(await loadRaw(row.id), null, 2), 'application/json');
  /** What can be read of a damaged project, as another one; the damaged one stays. */
  const repair = async (row: ProjectRow): Promise<void> => {
    const saved = salvage(await loadRaw(row.id));
    if (!saved) return void toast.error(`Nothing of ${row.name} can be read`, { description: 'Save it as it is, and keep the file.' });
    const id = await createProject(named(saved.project, saved.project.name, ' (repaired)'));
    toast(
      saved.lost.length === 0
        ? 'All of it could be read'
        : `Left out: ${saved.lost.slice(0, 5).join(', ')}${saved.lost.length > 5 ? ` and ${saved.lost.length - 5} more` : ''}`,
    );
    go(`/project/${id}/bench`);
  };
  const save = async (row: ProjectRow): Promise<void> => {
    const loaded = await loadProject(row.id);
    if (!loaded.ok) return void toast.error(loaded.error);
    saveProjectFile(loaded.value.project);
  };

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: dropping a file is a convenience; the button does the same
    <div
      className={`flex h-full flex-col ${dragging ? 'bg-tealwash' : ''}`}
      onDragOver={(e) => {
        e.preventDefault();
        setDragging(true);
      }}
      onDragLeave={() => setDragging(false)}
      onDrop={(e) => {
        e.preventDefault();
        setDragging(false);
        const f = e.dataTransfer.files[0];
        if (f) open.mutate(f);
      }}
    >
      <header className="flex h-11 items-center border-b border-line2 bg-panel px-4">
        <img src="/icon.svg" alt="" className="mr-2 h-6 w-6" />
        <h1 className="text-[15px] font-bold">Ivory Lathe</h1>
        <span className="ml-3 text-ink2">bodies you can trust, measured while you build them</span>
      </header>
      <main className="mx-auto w-full max-w-6xl flex-1 overflow-auto px-6 py-6">
        <div className="mb-3 flex items-center gap-2">
          <h2 className="mr-auto text-[15px] font-semibold">Projects in this browser</h2>
          {here.length > 1 && (
            <input
              type="search"
              aria-label="Find a project"
              placeholder="find a project…"
              className="field w-44"
              value={sought}
              onChange={(e) => setSought(e.target.value)}
            />
          )}
          <button type="button" className="btn-strong inline-flex items-center gap-1.5" onClick={() => begin(() => undefined)}>
            <FilePlus2 size={14} aria-hidden /> New project
          </button>
          <button type="button" className="btn inline-flex items-center gap-1.5" onClick={() => begin(beginTour)}>
            <Timer size={14} aria-hidden /> Learn it in two minutes
          </button>
          <button type="button" className="btn inline-flex items-center gap-1.5" onClick={() => file.current?.click()}>
            <FolderOpen size={14} aria-hidden /> Open a file
          </button>
          <input
            ref={file}
            type="file"
            aria-label="Project file"
            accept=".json,application/json"
            className="hidden"
            onChange={(e) => {
              const f = e.target.files?.[0];
              if (f) open.mutate(f);
              e.target.value = '';
            }}
          />
        </div>
        {projects.isError && <p className="text-madder">The browser’s storage can’t be read: {String(projects.error)}</p>}
        {!lasting && (
          <p role="status" className="mb-3 bg-amberwash px-3 py-2 text-amber">
            ▲ The browser’s storage can’t be opened ({why}). You can work, but what you make stays on this page only: save it to a file
            before you close it.{' '}
            <button type="button" className="btn" onClick={() => void openAgain().then(refresh)}>
              Try again
            </button>
          </p>
        )}
        <ul aria-label="Projects" className="grid grid-cols-[repeat(auto-fill,minmax(15rem,1fr))] gap-3">
          {found.map((row) => (
            <li key={row.id} className="flex flex-col border border-line2 bg-panel">
              <Picture row={row} kept={looks.data?.get(row.id)} />
              <div className="flex flex-1 flex-col gap-0.5 border-t border-line px-3 py-2">
                {renaming === row.id ? (
                  <input
                    aria-label={`New name of ${row.name}`}
                    className="field w-full"
                    defaultValue={row.name}
                    autoFocus
                    onKeyDown={(e) => {
                      if (e.key === 'Escape') setRenaming(null);
                      if (e.key === 'Enter') e.currentTarget.blur();
                    }}
                    onBlur={(e) => {
                      const name = e.target.value.trim();
                      if (renaming && name && name !== row.name) void edit(row.id, (p) => named(p, name));
                      setRenaming(null);
                    }}
                  />
                ) : row.problem ? (
                  <span className="font-semibold text-ink2">{row.name}</span>
                ) : (
                  <Link to={`/project/${row.id}/bench`} className="truncate text-[15px] font-semibold hover:text-teal" title={row.name}>
                    {row.name}
                  </Link>
                )}
                <div className="text-[12px] text-ink2">
                  {row.problem ? (
                    <span className="text-madder">■ {row.problem}</span>
                  ) : (
                    <>
                      {row.client && `${row.client} · `}
                      {row.steps} {row.steps === 1 ? 'step' : 'steps'}
                      {looks.data?.get(row.id) && <span className="block font-mono">{looks.data.get(row.id)!.size}</span>}
                    </>
                  )}
                </div>
                <div className="mt-auto flex items-center gap-1.5 pt-1 text-[12px]">
                  <span className="mr-auto text-ink2" title={`changed ${dated(row.updatedAt)}`}>
                    {new Date(row.updatedAt).toLocaleDateString(undefined, { dateStyle: 'medium' })}
                  </span>
                  <button
                    type="button"
                    className="btn py-0.5!"
                    aria-label={`Rename ${row.name}`}
                    disabled={row.problem !== null}
                    onClick={() => setRenaming(row.id)}
                  >
                    Rename
                  </button>
                  <DropdownMenu.Root>
                    <DropdownMenu.Trigger className="btn py-0.5!" aria-label={`More for ${row.name}`}>
                      More
                    </DropdownMenu.Trigger>
                    <DropdownMenu.Portal>
                      <DropdownMenu.Content align="end" className="z-50 min-w-44 rounded-sm border border-line2 bg-card py-1 shadow-md">
                        <MenuItem icon={<Copy size={14} />} onSelect={() => void duplicate(row)} disabled={row.problem !== null}>
                          Duplicate
                        </MenuItem>
                        <MenuItem icon={<FileDown size={14} />} onSelect={() => void (row.problem ? saveRaw(row) : save(row))}>
                          {row.problem ? 'Save to a file as it is' : 'Save to a file'}
                        </MenuItem>
                        {row.problem && (
                          <MenuItem icon={<LifeBuoy size={14} />} onSelect={() => void repair(row)}>
                            Open what can be read
                          </MenuItem>
                        )}
                        <MenuItem icon={<Trash2 size={14} />} onSelect={() => void remove(row)}>
                          Delete
                        </MenuItem>
                      </DropdownMenu.Content>
                    </DropdownMenu.Portal>
                  </DropdownMenu.Root>
                </div>
              </div>
            </li>
          ))}
          {here.length > 0 && found.length === 0 && (
            <li className="col-span-full px-4 py-8 text-center text-ink2">
              No project is called like that.{' '}
              <button type="button" className="link" onClick={() => setSought('')}>
                Show all {here.length}
              </button>
            </li>
          )}
          {projects.data?.here.length === 0 && (
            <li className="col-span-full border border-line2 bg-panel px-4 py-8 text-center text-ink2">
              Nothing here yet. Start a <b>new project</b>, open a <code>.lathe.json</code> file (or drop it here), or{' '}
              <button type="button" className="link" onClick={() => void addDemos().then(refresh)}>
                bring the demos back
              </button>
              .
            </li>
          )}
        </ul>
        {projects.data && projects.data.here.length > 0 && (
          <p className="mt-3 text-ink2">
            Projects stay in this browser; save them to a file to keep or pass them on. A file can be dropped anywhere on this page.{' '}
            {keptOffline && 'The application is kept here too, and opens without its server. '}
            <button type="button" className="link" onClick={() => void addDemos().then(refresh)}>
              Add the demos again
            </button>
            {import.meta.env.PROD && (
              <>
                {' · '}
                <a className="link" href="/licences.txt" target="_blank" rel="noreferrer">
                  Licences of what is built in
                </a>
              </>
            )}
          </p>
        )}
        <Jobs />
        {projects.data && projects.data.deleted.length > 0 && (
          <details className="mt-4">
            <summary className="cursor-pointer text-ink2">Deleted, kept for 14 days ({projects.data.deleted.length})</summary>
            <ul aria-label="Deleted projects" className="mt-1 border border-line2 bg-panel">
              {projects.data.deleted.map((row) => (
                <li key={row.id} className="flex items-center gap-3 border-b border-line px-4 py-1.5 last:border-0">
                  <span className="min-w-0 flex-1 truncate">{row.name}</span>
                  <span className="text-ink2">deleted {dated(row.deletedAt!)}</span>
                  <button
                    type="button"
                    className="btn"
                    aria-label={`Bring back ${row.name}`}
                    onClick={() => void setDeleted(row.id, false).then(refresh)}
                  >
                    Bring back
                  </button>
                </li>
              ))}
            </ul>
          </details>
        )}
      </main>
    </div>
  );
}

const dated = (at: number): string => new Date(at).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' });

/** What it looked like when it was last built. */
function Picture({ row, kept }: { row: ProjectRow; kept: KeptPicture | undefined }) {
  const seen = (
    <span className="flex aspect-[4/3] w-full items-center justify-center overflow-hidden bg-stage">
      {kept ? (
        <img src={kept.picture} alt="" className="h-full w-full object-contain" />
      ) : (
        <span className="text-[12px] text-ink2">not built yet</span>
      )}
    </span>
  );
  // The name beneath leads to the same place: one of the two is enough for who can't see it.
  return row.problem ? (
    seen
  ) : (
    <Link to={`/project/${row.id}/bench`} aria-hidden tabIndex={-1}>
      {seen}
    </Link>
  );
}

function MenuItem({
  icon,
  children,
  onSelect,
  disabled = false,
}: {
  icon: React.ReactNode;
  children: React.ReactNode;
  onSelect: () => void;
  disabled?: boolean;
}) {
  return (
    <DropdownMenu.Item
      disabled={disabled}
      onSelect={onSelect}
      className="flex cursor-pointer items-center gap-2 px-3 py-1 outline-none data-[disabled]:opacity-40 data-[highlighted]:bg-tealwash"
    >
      {icon}
      {children}
    </DropdownMenu.Item>
  );
}
