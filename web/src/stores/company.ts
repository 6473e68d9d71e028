import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import type { Bounds } from '@dusky-mason/core/mesh';
import { sideEngine } from '../engine/engine.ts';
import { Latest } from '../engine/latest.ts';
import type { PartPicture } from '../engine/protocol.ts';
import { useProject } from './project.ts';

/** Pictures of the other parts, so that the part at hand can be seen among them. */
export const useCompany = defineStore('company', () => {
  const store = useProject();
  /** Whether they are shown at all. */
  const shown = ref(false);
  const pictures = shallowRef<ReadonlyMap<number, PartPicture>>(new Map());
  const keys = new Map<number, { key: string; picture: PartPicture }>();

  const latest = new Latest<number | 'none'>(
    async () => {
      const p = store.project;
      const others = shown.value && p ? p.parts.filter((x) => x.shown && x.id !== store.selection.part) : [];
      for (const part of others) {
        try {
          const a = await sideEngine().ask({
            kind: 'evaluate',
            part,
            have: keys.get(part.id)?.key ?? '',
            cancel: null,
          });
          if (a.picture) keys.set(part.id, { key: a.key, picture: a.picture });
        } catch {
          // It shows what is wrong with it when it is picked itself.
          keys.delete(part.id);
        }
      }
      const there = others.flatMap((x) => {
        const known = keys.get(x.id);
        return known ? [[x.id, known.picture] as const] : [];
      });
      const before = pictures.value;
      if (there.length !== before.size || there.some(([id, x]) => before.get(id) !== x))
        pictures.value = new Map(there);
      const alive = new Set(p?.parts.map((x) => x.id));
      for (const id of keys.keys()) if (!alive.has(id) || !shown.value) keys.delete(id);
    },
    () => undefined,
  );

  watch(
    () => [shown.value, store.project?.parts, store.selection.part] as const,
    ([on, parts], before) => {
      if (!on && !before?.[0] && !pictures.value.size) return;
      void parts;
      latest.request(store.selection.part ?? 'none');
    },
  );

  /** The boxes round the others that are seen, mm. */
  const boxes = computed(() =>
    [...pictures.value.values()].map(({ origin, half }): Bounds => ({
      min: [origin[0] - half[0], origin[1] - half[1], origin[2] - half[2]],
      max: [origin[0] + half[0], origin[1] + half[1], origin[2] + half[2]],
    })),
  );

  return { shown, pictures, boxes };
});
