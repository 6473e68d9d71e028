import { beforeEach, describe, expect, it, vi } from 'vitest';
import { addPart, newProject, renamePart, type Project } from '@dusky-mason/core/courses';
import { disk } from '../testing/memoryForage.ts';
import { History, type KeptHistory } from './history.ts';

vi.mock('localforage', () => import('../testing/memoryForage.ts'));
vi.mock('./journal.ts', async () => (await import('../testing/memoryForage.ts')).memoryJournal());
const { deleteProject, keepProject, listProjects, openProject, rawDocument } = await import('./storage.ts');
const { Keeper } = await import('./keeper.ts');

const turns = async (n = 30): Promise<void> => {
  for (let i = 0; i < n; i++) await Promise.resolve();
};
const fresh = (id = 'p') => addPart(newProject(id, 'Post'), '0');
const partName = (p: Project) => p.parts[0]!.name;

/** A project that is open, as the store holds it. */
async function opened(id = 'p') {
  const from = (await openProject(id))!;
  const history = new History<Project>();
  history.load(from.history);
  let project = from.project;
  const states: string[] = [];
  const keeper = new Keeper(
    id,
    from,
    () => ({ project, history: history.kept }),
    (s) => void states.push(s),
  );
  return {
    states,
    keeper,
    rename(name: string): void {
      const next = renamePart(project, project.parts[0]!.id, name);
      const step = history.record(`to ${name}`, project, next)!;
      project = next;
      keeper.note({ step });
    },
    travel(way: 'undo' | 'redo'): void {
      project = history[way](project)!.state;
      keeper.note({ travel: way });
    },
  };
}

/** Names of the part, from the first state that can be come back to, to the last that can be done again. */
function chain(project: Project, kept: KeptHistory): string[] {
  const history = new History<Project>();
  history.load(kept);
  let p = project;
  for (let s = history.undo(p); s; s = history.undo(p)) p = s.state;
  const names = [partName(p)];
  for (let s = history.redo(p); s; s = history.redo(p)) {
    p = s.state;
    names.push(partName(p));
  }
  return names;
}

describe('projects kept in the browser', () => {
  beforeEach(() => disk.clear());

  it('each change is kept at once, and the history with it', async () => {
    await keepProject(fresh());
    const life = await opened();
    for (const n of ['1', '2', '3', '4']) life.rename(n);
    life.travel('undo');
    life.travel('undo');
    life.travel('redo');
    await turns(60);
    // Nothing was settled: all of this is in the journal.
    const again = (await openProject('p'))!;
    expect(partName(again.project)).toBe('3');
    expect(again.history.done.map((s) => s.title)).toEqual(['to 1', 'to 2', 'to 3']);
    expect(chain(again.project, again.history)).toEqual(['0', '1', '2', '3', '4']);
    await life.keeper.settle();
    expect(life.states.at(-1)).toBe('saved');
    const settled = (await openProject('p'))!;
    expect(settled.project).toEqual(again.project);
    expect(chain(settled.project, settled.history)).toEqual(['0', '1', '2', '3', '4']);
  });

  it('after a death at any write there is a whole state with its history, at most one change behind', async () => {
    for (let deaths = 0; deaths < 60; deaths++) {
      disk.clear();
      await keepProject(fresh());
      disk.writesLeft = deaths;
      const life = await opened();
      let written = '0';
      for (let i = 1; i <= 12; i++) {
        life.rename(String(i));
        if (i % 4 === 0) void life.keeper.settle();
        await turns(80);
        if (disk.writesLeft >= 0) written = String(i);
      }
      disk.writesLeft = Infinity;
      const again = (await openProject('p'))!;
      expect(Number(partName(again.project)), `after ${deaths} writes`).toBeGreaterThanOrEqual(Number(written));
      expect(chain(again.project, again.history)).toEqual(
        Array.from({ length: Number(partName(again.project)) + 1 }, (_, i) => String(i)),
      );
      // Work goes on from there, over whatever the death left behind.
      const next = await opened();
      next.rename('on');
      await next.keeper.settle();
      expect(partName((await openProject('p'))!.project)).toBe('on');
      expect((await listProjects()).map((c) => c.id)).toEqual(['p']);
    }
  });

  it('a generation that cannot be read gives way to the one before it and its journal', async () => {
    await keepProject(fresh());
    const life = await opened();
    life.rename('1');
    await life.keeper.settle();
    life.rename('2');
    await life.keeper.settle();
    const shelf = disk.boxes.get('projects')!;
    const newest = [...shelf].sort(([, a], [, b]) => (b as { seq: number }).seq - (a as { seq: number }).seq)[0]!;
    shelf.set(newest[0], { ...(newest[1] as object), document: { version: 1, parts: 'none' } });
    const again = (await openProject('p'))!;
    expect(partName(again.project)).toBe('2');
    const next = await opened();
    next.rename('3');
    await next.keeper.settle();
    expect(partName((await openProject('p'))!.project)).toBe('3');
  });

  it('a hundred steps and more are there after a reload; the oldest go first', async () => {
    await keepProject(fresh());
    const life = await opened();
    for (let i = 1; i <= 300; i++) life.rename(String(i));
    await life.keeper.settle();
    const { project, history } = (await openProject('p'))!;
    const names = chain(project, history);
    expect(names.length).toBeGreaterThan(100);
    expect(names.at(-1)).toBe('300');
    // What both generations hold is in the journal no more.
    for (let i = 0; i < 2; i++) {
      life.rename(`end ${i}`);
      await life.keeper.settle();
    }
    expect(disk.boxes.get('journal')!.size).toBeLessThan(3);
  });

  it('says when nothing can be kept, and keeps all of it once that is possible', async () => {
    await keepProject(fresh());
    const life = await opened();
    disk.full = true;
    life.rename('1');
    await life.keeper.settle();
    expect(life.states.at(-1)).toBe('failed');
    disk.full = false;
    life.rename('2');
    await life.keeper.settle();
    expect(life.states.at(-1)).toBe('saved');
    expect(partName((await openProject('p'))!.project)).toBe('2');
  });

  it('two tabs that make projects at once lose none; a list of an older version is taken over', async () => {
    await Promise.all(['a', 'b', 'c'].map((id) => keepProject(fresh(id))));
    expect((await listProjects()).map((c) => c.id).sort()).toEqual(['a', 'b', 'c']);
    disk.boxes.get('cards')!.clear();
    disk.boxes.get('settings')?.set('cards', [{ id: 'a', name: 'Old', parts: [], changed: 1 }]);
    expect((await listProjects()).map((c) => c.id).sort()).toEqual(['a', 'b', 'c']);
    expect(disk.boxes.get('settings')?.get('cards')).toBe(undefined);
  });

  it('what an older version kept is opened: the generation that it wrote last', async () => {
    const card = { id: 'p', name: 'Post', parts: [], changed: 1 };
    const at = (name: string) => ({ card, document: renamePart(fresh(), 2, name) });
    await keepProject(fresh('q'));
    disk.boxes.get('projects')!.set('p:0', at('older')).set('p:1', at('newer'));
    disk.boxes.set('settings', new Map([['turn:p', 3]]));
    expect(partName((await openProject('p'))!.project)).toBe('newer');
    const life = await opened();
    life.rename('newest');
    await life.keeper.settle();
    expect(partName((await openProject('p'))!.project)).toBe('newest');
  });

  it('a project that cannot be read is deleted and brought back as it lies', async () => {
    await keepProject(fresh());
    const life = await opened();
    life.rename('1');
    await life.keeper.settle();
    for (const [key, kept] of disk.boxes.get('projects')!)
      disk.boxes.get('projects')!.set(key, { ...(kept as object), document: { version: 99 } });
    await expect(openProject('p')).rejects.toThrow(/newer version of Dusky Mason/);
    expect(await rawDocument('p')).toEqual({ version: 99 });
    const before = structuredClone(disk.boxes);
    const back = await deleteProject('p');
    expect(await listProjects()).toEqual([]);
    expect([...disk.boxes.values()].every((b) => ![...b.keys()].some((k) => k.startsWith('p')))).toBe(true);
    await back();
    expect(disk.boxes).toEqual(before);
  });
});
