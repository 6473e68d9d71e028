import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, expect, it, vi } from 'vitest';
import { addCourse, Evaluator, slidAlong, type Part } from '@dusky-mason/core/courses';
import { skerryLight } from '@dusky-mason/core/demo';
import { surveyCounts } from '@dusky-mason/core/survey';
import type { Ask, PartPicture } from '../engine/protocol.ts';
import { surveyAnswer, type SurveyAsk } from '../engine/surveyAnswers.ts';

// @vitest-environment happy-dom

vi.mock('localforage', () => import('../testing/memoryForage.ts'));
vi.mock('./journal.ts', async () => (await import('../testing/memoryForage.ts')).memoryJournal());
vi.mock('../engine/engine.ts', async () => {
  const evaluator = new Evaluator();
  const store = () => undefined;
  const whole = (part: Part) => evaluator.evaluate(part, store).mesh;
  const client = {
    ask: async (ask: Ask) => {
      if (ask.kind === 'fit') return { kind: 'fit', fits: [] };
      if (ask.kind !== 'evaluate') return surveyAnswer(ask as SurveyAsk, { evaluator, store, whole }).answer;
      const r = evaluator.evaluate(ask.part, store);
      return { kind: 'evaluate', key: r.key, courses: r.courses, counts: surveyCounts(r.mesh), ms: 1, picture: null };
    },
    lose: () => undefined,
  };
  return { engine: () => client, sideEngine: () => client, setTimeLimit: () => undefined };
});

const { useProject } = await import('./project.ts');
const { usePicks } = await import('./picks.ts');
const { heldOf } = await import('./held.ts');
const { useCompany } = await import('./company.ts');
const { usePartHand } = await import('./partHand.ts');
const { grippedOf } = await import('./grips.ts');
const { keepProject } = await import('./storage.ts');
const { useWipe } = await import('./wipe.ts');
const settled = () => vi.waitFor(() => expect(useProject().outcome?.part).toBe(useProject().selection.part));
const reports = () => useProject().outcome!.courses.map((c) => c.report);

beforeEach(async () => {
  setActivePinia(createPinia());
  await keepProject(skerryLight('sample'));
  await useProject().open('sample');
  await settled();
});

it('picks by acts, one after the other, keeps them by name and picks them again', async () => {
  const picks = usePicks();
  const store = useProject();
  picks.mode('face');
  void picks.act({ do: 'aim', faces: [0], from: [0, 0, 9e4], along: [0, 0, -1], how: 'only' });
  await picks.act({ do: 'grow' });
  expect(picks.count).toBeGreaterThan(4);
  const many = [...picks.ids];
  await picks.keep();
  expect(store.part!.picks).toMatchObject([{ name: `${many.length} faces`, pick: { by: 'elements', on: 'face' } }]);
  await picks.act({ do: 'none' });
  expect(picks.count).toBe(0);
  await picks.recall(store.part!.picks[0]!);
  expect([...picks.ids].sort()).toEqual(many.sort());
  await picks.act({ do: 'border' });
  expect([picks.on, picks.count > 4]).toEqual(['edge', true]);
  // Another kind begins anew.
  picks.mode('vertex');
  expect(picks.count).toBe(0);
  await picks.step(1);
  const [first] = picks.ids;
  await picks.step(1);
  expect(picks.ids[0]).not.toBe(first);
});

it('keeps the rule that a pick comes from, until it is changed by hand', async () => {
  const picks = usePicks();
  const hatch = useProject().part!.courses[2]!;
  await picks.act({ do: 'made', course: hatch.id }, 'face');
  expect(await picks.stored()).toEqual({ by: 'walls', on: 'face', course: hatch.id });
  await picks.act({ do: 'grow' });
  expect(await picks.stored()).toMatchObject({ by: 'elements' });
  await picks.act({ do: 'sharper', angle: 60 }, 'edge');
  expect(await picks.stored()).toEqual({ by: 'sharper', on: 'edge', angle: 60 });
  await picks.act({ do: 'all' });
  expect(await picks.stored()).toEqual({ by: 'all', on: 'edge' });
  await picks.take('face', Int32Array.of(1, 2), { by: 'finding', on: 'face', rule: 'ngons' });
  expect(await picks.stored()).toEqual({ by: 'finding', on: 'face', rule: 'ngons' });
});

it('lays a stroke over what is picked, and again over another pick', async () => {
  const picks = usePicks();
  const store = useProject();
  const courses = store.part!.courses.length;
  picks.mode('face');
  await picks.act({ do: 'aim', faces: [3], from: [0, 0, 9e4], along: [0, 0, -1], how: 'only' });
  expect(picks.canRepeat).toBe(false);
  await picks.lay('orient', 'Turn over', { way: 'flip' });
  await vi.waitFor(() => expect(reports()).toHaveLength(courses + 1));
  expect(reports().at(-1)).toMatchObject({ found: 1, counts: { turned: 1 } });
  expect(store.course?.kind).toBe('orient');
  // The numbers of the mesh are others now: the pick is gone, and the stroke waits for a new one.
  await vi.waitFor(() => expect(picks.count).toBe(0));
  await picks.act({ do: 'aim', faces: [5], from: [0, 0, 9e4], along: [0, 0, -1], how: 'only' }, 'face');
  expect(picks.canRepeat).toBe(true);
  await picks.again();
  await vi.waitFor(() => expect(reports()).toHaveLength(courses + 2));
  expect(store.part!.courses.at(-1)).toMatchObject({ kind: 'orient', params: { way: 'flip' } });
});

it('what a stroke moves is taken hold of: slid, turned and resized by its handles', async () => {
  const store = useProject();
  const pick = { by: 'all', on: 'vertex' };
  const next = addCourse(store.project!, store.part!.id, 'move', 'Move', { by: [1, 0, 0], pick });
  store.change('Move', next);
  store.select({ course: next.nextId - 1 });
  await vi.waitFor(() => expect(heldOf(store)?.kind).toBe('stroke'));
  const held = heldOf(store)!;
  const { shape, placement } = held.placed;
  const [x, y, z] = placement.position;
  const changed = held.put(store.project!, {
    shape: { ...shape, x: 2 * (shape as { x: number }).x } as typeof shape,
    placement: { position: [x + 5, y, z - 2], turn: [0, 0, 30] },
  });
  const params = changed.parts.find((p) => p.id === store.part!.id)!.courses.at(-1)!.params;
  expect(params).toMatchObject({ by: [6, 0, -2], turn: [0, 0, 30], scale: [2, 1, 1] });
  expect(held.copied(store.project!, held.placed)).toBeNull();
});

it('two states of a part are compared, and how far they are apart', async () => {
  const wipe = useWipe();
  const store = useProject();
  wipe.toggle();
  expect(wipe.states.at(-1)!.title).toMatch(/\(now\)$/);
  wipe.before = `course ${store.part!.courses[0]!.id}`;
  await vi.waitFor(() => expect(wipe.compared?.before.faces).toBe(6));
  expect(wipe.compared).toMatchObject({
    after: { faces: 178 },
    now: null,
    shading: { before: { worst: expect.any(Number) } },
  });
  expect(wipe.compared!.heat!.before.max).toBe(wipe.compared!.heat!.after.max);
  wipe.after = `course ${store.part!.courses[1]!.id}`;
  await vi.waitFor(() => expect(wipe.compared?.now).not.toBeNull());
});

it('goes on with what a stroke made, while that is changed, until one picks by hand', async () => {
  const picks = usePicks();
  const store = useProject();
  picks.mode('face');
  // The largest face of the wall.
  await picks.act({ do: 'aim', faces: [0], from: [0, 0, 9e4], along: [0, 0, -1], how: 'only' });
  await picks.lay('inset', 'Inset', { distance: 5 });
  await vi.waitFor(() => expect(reports().at(-1)!.made?.ids).toHaveLength(1));
  await vi.waitFor(() => expect([...picks.ids]).toEqual(reports().at(-1)!.made!.ids));
  const area = picks.shape!.amount;
  // The same after its distance was dragged: the smaller face is smaller still.
  const gripped = grippedOf(store)!;
  expect(gripped.list.map((h) => [h.key, h.title, h.value])).toEqual([
    ['distance', 'Distance', 5],
    ['depth', 'Raised by', 0],
  ]);
  store.change('Distance of Inset', gripped.put(store.project!, 'distance', 20));
  await vi.waitFor(() => expect(picks.shape!.amount).toBeLessThan(area));
  expect([...picks.ids]).toEqual(reports().at(-1)!.made!.ids);
  await picks.act({ do: 'none' });
  store.change('Distance of Inset', gripped.put(store.project!, 'distance', 10));
  await vi.waitFor(() => expect(reports().at(-1)!.counts!.distance).toBe(10));
  expect(picks.count).toBe(0);
});

it('a part slid near another one comes level with it, by what is kept, too', async () => {
  const store = useProject();
  store.select({ course: null });
  usePartHand().on = true;
  const { min, max } = store.outcome!.counts.bounds;
  // A part that begins 7 mm beyond the far side along x.
  const origin = [max[0] + 107, 0, 0];
  useCompany().pictures = new Map([[99, { origin, half: [100, 5000, 5000] } as unknown as PartPicture]]);
  const held = heldOf(store)!;
  expect(held.kind).toBe('part');
  const near = slidAlong(held.placed, 0, 5);
  const level = held.level!(near, 0, 3)!;
  expect([level.meets, level.by]).toEqual(['side', expect.closeTo(2, 9)]);
  expect(held.level!(near, 0, 1)).toBeNull();
  store.change('Slide', held.put(store.project!, level.placed));
  await vi.waitFor(() => expect(store.outcome!.counts.bounds.max[0]).toBeCloseTo(max[0] + 7, 6));
  expect(store.outcome!.counts.bounds.min[1]).toBeCloseTo(min[1], 9);
});
