/** The store against a real IndexedDB in memory (fake-indexeddb): what it writes can be read again, and what is deleted is kept. */
import 'fake-indexeddb/auto';
import { openDB } from 'idb';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { newProject } from '../../core/recipe/edit';
import { rows, useStorage } from './rows';
import { createProject, listProjects, loadProject, loadRaw, saveProject, setDeleted } from './store';

beforeEach(async () => {
  const store = await rows();
  for (const r of await store.all()) await store.remove(r.id);
});

describe('the store', () => {
  it('writes a revision on the one it builds on, and no other', async () => {
    const id = await createProject(newProject('One'));
    expect(await saveProject(id, newProject('Two'), 1)).toEqual({ saved: true, rev: 2 });
    expect(await saveProject(id, newProject('Three'), 1)).toEqual({ saved: false, because: 'changed' });
    const loaded = await loadProject(id);
    expect(loaded.ok && [loaded.value.project.name, loaded.value.rev]).toEqual(['Two', 2]);
  });
  it('does not bring a deleted project back by saving it, and keeps it to be brought back', async () => {
    const id = await createProject(newProject('One'));
    await setDeleted(id, true);
    expect(await saveProject(id, newProject('Two'), 1)).toEqual({ saved: false, because: 'deleted' });
    expect((await listProjects()).here).toEqual([]);
    expect((await listProjects()).deleted.map((r) => r.name)).toEqual(['One']);
    expect((await loadProject(id)).ok).toBe(false);
    await setDeleted(id, false);
    expect((await listProjects()).here.map((r) => r.name)).toEqual(['One']);
    expect(await saveProject(id, newProject('Two'), 3)).toEqual({ saved: true, rev: 4 });
  });
  it('lets go of what was deleted long ago', async () => {
    const id = await createProject(newProject('Old'));
    await setDeleted(id, true);
    await (await rows()).edit(id, (r) => ({ ...r!, deletedAt: Date.now() - 15 * 24 * 3600e3 }));
    expect((await listProjects()).deleted).toEqual([]);
    expect(await loadRaw(id)).toBeUndefined();
  });
  it('never writes what it could not read again, and says why', async () => {
    const far = newProject('Far');
    const wrong = {
      ...far,
      profiles: far.profiles.map((p) => ({ ...p, points: p.points.map((q, i) => (i === 0 ? { ...q, x: 500_000 } : q)) })),
    };
    const id = await createProject(far);
    expect(await saveProject(id, wrong, 1)).toMatchObject({
      saved: false,
      because: 'unreadable',
      why: expect.stringContaining('points.0.x'),
    });
    await expect(createProject({ ...far, name: 'x'.repeat(100) })).rejects.toThrow('name');
    const large = { ...far, imports: { f1: { name: 'a', text: 'y'.repeat(6_000_000) } } } as unknown as typeof far;
    expect(await saveProject(id, large, 1)).toMatchObject({ saved: false, because: 'unreadable', why: expect.stringContaining('6.0 MB') });
    const loaded = await loadProject(id);
    expect(loaded.ok && loaded.value.project).toEqual(far);
  });
  it('shows a row that can’t be read with its name and what is wrong, and hands it out as it is', async () => {
    const id = await createProject(newProject('One'));
    const doc = { ...newProject('Broken'), steps: [{ id: 's1', kind: 'constructor' }] };
    await (await rows()).edit(id, (r) => ({ ...r!, doc }));
    const [row] = (await listProjects()).here;
    expect([row!.name, row!.problem]).toEqual(['Broken', expect.stringContaining('steps.0')]);
    expect(await loadRaw(id)).toEqual(doc);
  });
  it('opens the database anew when the browser has closed it', async () => {
    const id = await createProject(newProject('One'));
    // Another version of the application wants it: the handle of this page becomes useless.
    const store = await rows();
    await (await openDB('ivory-lathe')).close();
    expect((await store.get(id))?.id).toBe(id);
    expect(useStorage.getState().lasting).toBe(true);
  });
  it('goes on in memory where the database can’t be opened, says so, and moves what was made there once it can', async () => {
    const id = await createProject(newProject('Before'));
    vi.resetModules();
    const opening = vi.spyOn(indexedDB, 'open').mockImplementation(() => {
      throw new DOMException('denied', 'SecurityError');
    });
    const [fresh, store] = [await import('./rows'), await import('./store')];
    const made = await store.createProject(newProject('Meanwhile'));
    expect(fresh.useStorage.getState()).toMatchObject({ lasting: false, why: 'denied' });
    // What lies in the database is not said to be gone.
    expect(await store.loadProject(id)).toEqual({ ok: false, error: expect.stringContaining('can’t be opened (denied)') });
    expect(await fresh.openAgain()).toBe(false);
    opening.mockRestore();
    expect(await fresh.openAgain()).toBe(true);
    expect(fresh.useStorage.getState().lasting).toBe(true);
    expect((await store.listProjects()).here.map((r) => r.id).sort()).toEqual([id, made].sort());
  });
});
