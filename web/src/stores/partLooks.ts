import { defineStore } from 'pinia';
import { onScopeDispose, shallowRef, watch } from 'vue';
import type { Part } from '@dusky-mason/core/courses';
import { engine, sideEngine } from '../engine/engine.ts';
import { useProject } from './project.ts';

/** Nothing is drawn for the list before the bench has been at rest for so long, ms. */
const AT_REST = 1500;
/** A list with more parts than this has no pictures: to make them all would take longer than they are worth. */
const MOST_LOOKS = 60;

/** A mesh from a file may be so large that it is not read for a small picture: only once it is at hand. */
const isLarge = (p: Part): boolean => p.courses.some((c) => c.kind === 'shape' && c.params.shape.kind === 'mesh');

/** Pictures of the parts in a few lines, for their list; made one after the other while nothing else is to do. */
export const usePartLooks = defineStore('partLooks', () => {
  const store = useProject();
  const lines = shallowRef<ReadonlyMap<number, string>>(new Map());
  /** The state of each part that its picture shows. */
  const drawn = new Map<number, Part>();
  let waiting: ReturnType<typeof setTimeout> | undefined;
  let drawing = false;

  async function draw(part: Part): Promise<void> {
    drawn.set(part.id, part);
    // The part at hand is evaluated there already.
    const worker = part.id === store.selection.part ? engine() : sideEngine();
    try {
      const answer = await worker.ask({ kind: 'drawing', part });
      lines.value = new Map(lines.value).set(part.id, answer.lines);
    } catch {
      // It says what is wrong with it where it is picked.
    }
  }

  async function next(): Promise<void> {
    const parts = store.project?.parts ?? [];
    if (drawing || parts.length > MOST_LOOKS) return;
    if (store.working || store.behind) return rest();
    const stale = parts.find((p) => drawn.get(p.id) !== p && (p.id === store.selection.part || !isLarge(p)));
    if (!stale) return;
    drawing = true;
    await draw(stale);
    drawing = false;
    void next();
  }
  function rest(): void {
    clearTimeout(waiting);
    waiting = setTimeout(() => void next(), AT_REST);
  }

  watch(
    () => [store.project?.parts, store.selection.part] as const,
    ([parts]) => {
      const alive = new Set(parts?.map((p) => p.id));
      for (const id of drawn.keys()) if (!alive.has(id)) drawn.delete(id);
      if ([...lines.value.keys()].some((id) => !alive.has(id)))
        lines.value = new Map([...lines.value].filter(([id]) => alive.has(id)));
      rest();
    },
    { immediate: true },
  );
  onScopeDispose(() => clearTimeout(waiting));

  return { lines };
});
