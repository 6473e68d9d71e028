import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import {
  ALL_SEAMS,
  addCourse,
  addToAllParts,
  everything,
  STROKES,
  pickWords,
  setPicks,
  type KeptPick,
  type StrokeName,
  type Pick,
} from '@dusky-mason/core/courses';
import type { Vec3 } from '@dusky-mason/core/mesh';
import type { ElementKind, PickAct, PickShape } from '@dusky-mason/core/mend';
import { engine } from '../engine/engine.ts';
import { useNotices } from './notices.ts';
import { useProject } from './project.ts';

/** How the pointer picks. */
export const PICK_TOOLS = { click: 'one by one', box: 'in a box', lasso: 'in a lasso', paint: 'by painting' } as const;
export type PickTool = keyof typeof PICK_TOOLS;

const NOTHING = new Int32Array(0);

/** The rule that an act picks by; null where it picks one by one. */
function ruleOf(act: PickAct, on: ElementKind): Pick | null {
  if (act.do === 'all') return everything(on);
  if (act.do === 'sharper') return { by: 'sharper', on: 'edge', angle: act.angle };
  if (act.do === 'seams') return ALL_SEAMS;
  if (act.do !== 'made' || on === 'vertex') return null;
  return on === 'edge' ? { by: 'seam', on, course: act.course } : { by: 'walls', on, course: act.course };
}

/** What is picked of the part at hand: vertices, edges or faces, by number in the mesh that stands just now. */
export const usePicks = defineStore('picks', () => {
  const store = useProject();
  const notices = useNotices();
  /** What clicks in the view pick; null while they pick courses. */
  const on = ref<ElementKind | null>(null);
  /**
   * How to pick: one by one, within a box or a lasso, or by painting over them; and whether what is hidden is picked,
   * too.
   */
  const by = ref<PickTool>('click');
  const through = ref(false);
  const ids = shallowRef<Int32Array>(NOTHING);
  const shape = shallowRef<PickShape | null>(null);
  /** The mesh that the numbers belong to. */
  let key = '';

  /** The face whose boundary steps go round. */
  let face: number | null = null;

  /** The rule that what is picked comes from, where nothing was changed by hand since: then a course keeps the rule. */
  let rule: Pick | null = null;

  /** The course whose result is picked, as it was laid just now: the pick goes along with it while it is changed. */
  let following: number | null = null;

  const count = computed(() => ids.value.length);

  function clear(): void {
    ids.value = NOTHING;
    shape.value = null;
  }
  /** Picks one kind of element by clicks from now on, or none. */
  function mode(kind: ElementKind | null): void {
    if (on.value !== kind) clear();
    on.value = kind;
  }

  /** One after the other: each change starts from the result of the one before. */
  let queue = Promise.resolve();
  function act(how: PickAct, kind = on.value, from?: Int32Array, given: Pick | null = null): Promise<void> {
    following = null;
    return ask(how, kind, from, given);
  }
  function ask(how: PickAct, kind: ElementKind | null, from?: Int32Array, given: Pick | null = null): Promise<void> {
    queue = queue.then(async () => {
      const { part } = store;
      if (!part || !kind) return;
      try {
        const a = await engine().ask({ kind: 'pick', part, on: kind, ids: from ?? ids.value, act: how });
        if (store.part !== part) return;
        on.value = a.on;
        key = a.key;
        ids.value = a.ids;
        face = a.face;
        rule = ruleOf(how, a.on) ?? given;
        shape.value = a;
      } catch (e) {
        notices.fail(e);
      }
    });
    return queue;
  }
  const step = (by: 1 | -1, along: 'face' | 'loop' = 'face'): Promise<void> => act({ do: 'step', by, along, face });
  /** Picks these and no others. */
  const take = (kind: ElementKind, list: Int32Array, by: Pick | null = null): Promise<void> =>
    act({ do: 'keep' }, kind, list, by);

  /** What is picked, as a course keeps it; null where nothing is. */
  async function stored(): Promise<Pick | null> {
    const { part } = store;
    if (!part || !on.value || !ids.value.length) return null;
    if (rule) return rule;
    const a = await engine().ask({ kind: 'pickOf', part, on: on.value, ids: ids.value });
    return a.pick;
  }

  /** Keeps what is picked by a name, with the part. */
  async function keep(): Promise<void> {
    const pick = await stored();
    if (!pick || !store.part || store.readOnly) return;
    const { picks: kept, courses: laid } = store.part;
    const name = pickWords(pick, (id) => laid.find((c) => c.id === id)?.name ?? 'a course');
    const again = kept.filter((k) => k.name.startsWith(name)).length;
    store.change(
      'Keep a pick',
      setPicks(store.project!, store.part.id, [...kept, { name: again ? `${name} (${again + 1})` : name, pick }]),
    );
  }
  /** Picks again what was kept. */
  async function recall(k: KeptPick): Promise<void> {
    const { part } = store;
    if (!part) return;
    try {
      const a = await engine().ask({ kind: 'resolve', part, pick: k.pick });
      if (a.lost)
        notices.say('warning', `${a.of - a.lost} of ${a.of} of “${k.name}” were found; the others no longer exist.`);
      await take(k.pick.on, a.ids, k.pick.by === 'elements' ? null : k.pick);
    } catch (e) {
      notices.fail(e);
    }
  }

  /** Lays a stroke on top of the wall, over what is picked or over what is given. */
  async function lay(
    kind: StrokeName,
    name: string,
    params: Record<string, unknown>,
    pick?: Pick | null,
  ): Promise<void> {
    try {
      const over = pick === undefined ? await stored() : pick;
      if (!store.part || store.readOnly) return;
      const course = store.project!.nextId;
      store.change(
        name,
        addCourse(store.project!, store.part.id, kind, name, { ...params, ...(over && { pick: over }) }),
      );
      last.value = { kind, name, course };
      store.select({ course });
      following = course;
    } catch (e) {
      notices.fail(e);
    }
  }

  /** Lays a stroke on top of every part that is not locked, over all of it. */
  function layOnAllParts(kind: StrokeName, name: string): void {
    if (!store.project || !store.part || store.readOnly) return;
    const here = store.part;
    const { project, parts } = addToAllParts(store.project, kind, name);
    if (!parts)
      return notices.say(
        'warning',
        store.project.parts.every((p) => p.locked)
          ? 'All parts are locked. Unlock one first.'
          : 'No part that may be changed has a cut.',
      );
    store.change(`${name}, all parts`, project);
    const locked = project.parts.length - parts;
    notices.say(
      'said',
      `${name} lies on ${parts} part${parts === 1 ? '' : 's'} now${locked ? `; ${locked} locked` : ''}. One undo takes it off all of them.`,
    );
    const top = project.parts.find((p) => p.id === here.id)!.courses.at(-1)!;
    if (!here.locked) store.select({ course: top.id });
  }

  /**
   * A line of edges over the part, from place to place; or along a path drawn freehand, which goes through vertices
   * within `freehand` mm.
   */
  async function line(places: { face: number; point: Vec3 }[], freehand?: number): Promise<void> {
    const { part } = store;
    if (!part) return;
    try {
      const a = await engine().ask({ kind: 'line', part, places, freehand });
      await lay('line', 'Draw a line', { stops: a.stops }, a.pick);
    } catch (e) {
      notices.fail(e);
    }
  }
  /** Lays a stroke over vertices that were dragged. */
  async function dragged(
    kind: 'slide' | 'moveTie',
    vertices: number[],
    params: Record<string, unknown>,
  ): Promise<void> {
    const { part } = store;
    if (!part) return;
    try {
      const a = await engine().ask({ kind: 'pickOf', part, on: 'vertex', ids: Int32Array.from(vertices) });
      await lay(kind, STROKES[kind].title, params, a.pick);
    } catch (e) {
      notices.fail(e);
    }
  }

  /** The stroke that was laid last, to be done again on another pick; its settings are those that it has now. */
  const last = shallowRef<{ kind: StrokeName; name: string; course: number } | null>(null);
  const settings = () => {
    const course = store.part?.courses.find((c) => c.id === last.value?.course);
    return course && course.kind === last.value?.kind ? (course.params as Record<string, unknown>) : null;
  };
  const canRepeat = computed(() => {
    const kept = settings()?.pick as Pick | undefined;
    return !!kept && !store.readOnly && (kept.by === 'all' || (count.value > 0 && kept.on === on.value));
  });
  async function again(): Promise<void> {
    const params = settings();
    if (!last.value || !params || !canRepeat.value) return;
    const { kind, name } = last.value;
    await lay(kind, name, params, count.value ? undefined : (params.pick as Pick));
  }

  // Another mesh has other numbers.
  watch(
    () => [store.part?.id, store.outcome?.key] as const,
    ([, now]) => {
      if (now !== undefined && now !== key) clear();
      void follow();
    },
  );

  /** Picks what the stroke that was laid last made, to go on with it. */
  async function follow(): Promise<void> {
    const [course, top] = [following, store.outcome?.courses.at(-1)];
    if (course === null || top?.id !== course) return;
    const { made } = top.report;
    if (made?.ids.length) await ask({ do: 'keep' }, made.on, Int32Array.from(made.ids));
  }

  return {
    on,
    ids,
    shape,
    count,
    clear,
    mode,
    act,
    step,
    take,
    by,
    through,
    stored,
    keep,
    recall,
    lay,
    layOnAllParts,
    line,
    dragged,
    last,
    canRepeat,
    again,
  };
});
