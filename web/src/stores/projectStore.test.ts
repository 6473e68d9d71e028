import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import {
  addCut,
  Evaluator,
  moveCourse,
  movePart,
  newShape,
  removeCourse,
  setPart,
  switchCourse,
  type Project,
} from '@dusky-mason/core/courses';
import { skerryLight } from '@dusky-mason/core/demo';
import { surveyCounts } from '@dusky-mason/core/survey';
import type { Watch } from '../engine/client.ts';
import type { Ask } from '../engine/protocol.ts';

// @vitest-environment happy-dom

const worker = vi.hoisted(() => ({ asked: [] as unknown[], lose: null as null | ((watch: Watch) => Error) }));

vi.mock('localforage', () => import('../testing/memoryForage.ts'));
vi.mock('./journal.ts', async () => (await import('../testing/memoryForage.ts')).memoryJournal());
vi.mock('../engine/engine.ts', async () => {
  const evaluator = new Evaluator();
  const client = {
    ask: async (ask: Ask, watch: Watch = {}) => {
      worker.asked.push(ask);
      if (worker.lose) {
        const e = worker.lose(watch);
        worker.lose = null;
        throw e;
      }
      if (ask.kind !== 'evaluate') return { kind: ask.kind, fits: [] };
      const r = evaluator.evaluate(ask.part, () => undefined);
      return { kind: 'evaluate', key: r.key, courses: r.courses, counts: surveyCounts(r.mesh), ms: 1, picture: null };
    },
    lose: () => undefined,
  };
  return { engine: () => client, sideEngine: () => client, setTimeLimit: () => undefined };
});

const { useProject } = await import('./project.ts');
const { heldOf } = await import('./held.ts');
const { useNotices } = await import('./notices.ts');
const { EngineError, EngineLost } = await import('../engine/client.ts');
const { keepProject, openProject } = await import('./storage.ts');
const { disk } = await import('../testing/memoryForage.ts');

const sample = skerryLight('p');
const wall = sample.parts[0]!;
const settled = () => new Promise((done) => setTimeout(done, 10));
/** The project as another start of the browser would find it. */
const found = async () => (await openProject('p'))!.project;

async function opened() {
  await keepProject(sample);
  const store = useProject();
  expect(await store.open('p')).toBe(true);
  await settled();
  return store;
}

describe('the open project', () => {
  beforeEach(() => {
    setActivePinia(createPinia());
    disk.clear();
    worker.lose = null;
  });

  it('opens on its first part, evaluated; another id opens nothing', async () => {
    const store = await opened();
    expect(store.part?.name).toBe('Pump-house wall');
    expect(store.outcome?.counts.faces).toBe(178);
    expect(await store.open('elsewhere')).toBe(false);
  });

  it('a change is one step: kept, taken back and done again', async () => {
    const store = await opened();
    const hatch = wall.courses[2]!;
    store.change('Switch off Hatch', switchCourse(store.project!, wall.id, hatch.id, false));
    await settled();
    expect(store.outcome?.courses.find((c) => c.id === hatch.id)?.state).toBe('off');
    expect((await found()).parts[0]!.courses[2]!.on).toBe(false);
    expect([store.undoTitle, store.redoTitle]).toEqual(['Switch off Hatch', undefined]);
    store.undo();
    await settled();
    expect(store.project).toEqual(sample);
    expect((await found()).parts[0]!.courses[2]!.on).toBe(true);
    store.redo();
    expect(store.part!.courses[2]!.on).toBe(false);
  });

  it('a preview shows and is not kept; it becomes one step from where it began', async () => {
    const store = await opened();
    const before = store.project;
    const one = switchCourse(store.project!, wall.id, wall.courses[1]!.id, false);
    const two = switchCourse(one, wall.id, wall.courses[2]!.id, false);
    store.preview(one);
    store.preview(two);
    expect(store.part!.courses.map((c) => c.on)).toEqual([true, false, false, true, true]);
    expect(store.undoTitle).toBe(undefined);
    store.dropPreview();
    expect(store.project).toBe(before);
    store.preview(one);
    store.change('Both off', two);
    store.undo();
    expect(store.project).toEqual(sample);
  });

  it('what was shown on the way goes when a drag ends where it began', async () => {
    const store = await opened();
    const before = store.project!;
    store.preview(switchCourse(before, wall.id, wall.courses[1]!.id, false));
    expect(store.project).not.toBe(before);
    store.change('Nowhere', structuredClone(before) as Project);
    expect(store.project).toBe(before);
    expect(store.undoTitle).toBe(undefined);
    store.change('On', switchCourse(before, wall.id, wall.courses[1]!.id, false));
    expect(store.undoTitle).toBe('On');
  });

  it('lets go of picks whose thing is gone, and takes the only cutter of a picked cut', async () => {
    const store = await opened();
    const [, doorway, , , drains] = wall.courses;
    store.select({ course: doorway!.id });
    expect(store.cutter?.name).toBe('Doorway');
    store.select({ course: drains!.id });
    expect(store.cutter).toBe(undefined);
    store.change('Delete Drains', removeCourse(store.project!, wall.id, drains!.id));
    expect(store.selection).toEqual({ part: wall.id, course: null, cutter: null });
    store.select({ part: sample.parts[1]!.id });
    await settled();
    expect(store.outcome?.counts.genus).not.toBe(null);
  });

  it('fitted parts follow the cutter in every change and preview', async () => {
    const store = await opened();
    const p = store.project!;
    const moved = structuredClone(p) as Project;
    const cut = moved.parts[0]!.courses[1]!;
    if (cut.kind !== 'cut') throw new Error('no cut');
    cut.params.cutters[0]!.placement.position[0] = 100;
    store.preview(moved);
    const place = () => {
      const base = store.project!.parts[4]!.courses[0]!;
      return base.kind === 'shape' ? base.params.placement.position[0] : NaN;
    };
    expect(place()).toBe(100);
    store.dropPreview();
    expect(place()).toBe(-500);
  });

  it('a lost worker switches its course off, says so, and the rest goes on', async () => {
    const store = await opened();
    const drains = wall.courses[4]!;
    worker.lose = () => new EngineLost('hung', { course: drains.id, name: 'Drains' });
    store.change('Lay elsewhere', moveCourse(store.project!, wall.id, drains.id, 1));
    await settled();
    expect(useNotices().list.at(-1)).toMatchObject({
      kind: 'warning',
      text: expect.stringContaining('"Drains" did not finish in time'),
    });
    expect(store.part!.courses.find((c) => c.id === drains.id)!.on).toBe(false);
    expect(store.outcome?.counts.faces).toBe(50);
    store.undo();
    await settled();
    expect(store.outcome?.counts.faces).toBe(178);
  });

  it('what the user stops is switched off though the worker listened; what is only stale is not', async () => {
    const store = await opened();
    const drains = wall.courses[4]!;
    const on = () => store.part!.courses.find((c) => c.id === drains.id)!.on;
    const cancelled = (byUser: boolean) => (watch: Watch) => {
      watch.begun?.({ course: drains.id, name: 'Drains' });
      if (byUser) store.stopWork();
      return new EngineError('cancelled', 'Stopped.');
    };
    worker.lose = cancelled(false);
    store.change('Lay elsewhere', moveCourse(store.project!, wall.id, drains.id, 1));
    await settled();
    expect(on()).toBe(true);
    worker.lose = cancelled(true);
    store.change('Lay elsewhere', moveCourse(store.project!, wall.id, drains.id, 2));
    await settled();
    expect(on()).toBe(false);
    expect(useNotices().list.at(-1)?.text).toContain('"Drains" was stopped');
  });

  it('says at once when it cannot be kept, and works on', async () => {
    const store = await opened();
    disk.full = true;
    const cutter = {
      name: 'Pin',
      shape: newShape('cylinder'),
      placement: { position: [0, 0, 900], turn: [0, 0, 0] },
    } as const;
    store.change(
      'Place',
      addCut(store.project!, wall.id, { ...cutter, placement: { position: [0, 0, 900], turn: [0, 0, 0] } }),
    );
    await settled();
    expect(store.saved).toBe('failed');
    expect(useNotices().list.at(-1)?.text).toMatch(/could not keep/);
    disk.full = false;
    store.undo();
    await settled();
    expect(store.saved).toBe('saved');
  });
});

describe('what is picked and stands somewhere', () => {
  beforeEach(() => {
    disk.clear();
    setActivePinia(createPinia());
  });

  it('is a cutter or a base; a fitted part that follows, and a locked one, is none', async () => {
    const store = await opened();
    const wall = store.project!.parts[0]!;
    store.select({ part: wall.id, course: wall.courses[0]!.id });
    expect(heldOf(store)).toMatchObject({ kind: 'base', name: 'Plastered block' });
    store.select({ course: wall.courses[2]!.id });
    const held = heldOf(store)!;
    expect(held).toMatchObject({ kind: 'cutter', name: 'Hatch' });
    const moved = {
      ...held.placed,
      placement: { ...held.placed.placement, position: [1, 2, 3] as [number, number, number] },
    };
    store.change('Move', held.put(store.project!, moved));
    expect(store.cutter!.placement.position).toEqual([1, 2, 3]);
    const copied = heldOf(store)!.copied(store.project!, moved)!;
    expect(copied.parts[0]!.courses[2]).toMatchObject({
      params: { cutters: [{ name: 'Hatch' }, { name: 'Hatch copy' }] },
    });
    const leaf = store.project!.parts.at(-1)!;
    store.select({ part: leaf.id, course: leaf.courses[0]!.id });
    expect(heldOf(store)).toBeNull();
    store.select({ part: wall.id, course: wall.courses[0]!.id });
    store.change('Lock', setPart(store.project!, wall.id, { locked: true }));
    expect(heldOf(store)).toBeNull();
  });

  it('a locked part refuses changes and previews, and says so', async () => {
    const store = await opened();
    const wall = store.project!.parts[0]!;
    store.change('Lock', setPart(store.project!, wall.id, { locked: true }));
    const before = store.project;
    const moved = movePart(store.project!, wall.id, [9, 0, 0]);
    store.preview(moved);
    expect(store.project).toBe(before);
    store.change('Move', moved);
    expect(store.project).toBe(before);
    expect(useNotices().list.at(-1)?.text).toContain('is locked');
    store.change('Unlock', setPart(store.project!, wall.id, { locked: false }));
    store.change('Move', movePart(store.project!, wall.id, [9, 0, 0]));
    expect(store.project).not.toBe(before);
  });
});
