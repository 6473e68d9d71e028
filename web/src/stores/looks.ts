import { defineStore } from 'pinia';
import { ref, shallowRef, watch } from 'vue';
import type { LookName, LookValues } from '@dusky-mason/core/survey';
import { sideEngine } from '../engine/engine.ts';
import { Latest } from '../engine/latest.ts';
import type { PartPicture } from '../engine/protocol.ts';
import { useNotices } from './notices.ts';
import { useProject } from './project.ts';

/** How the part is shown: plain clay, light bands that move with the view, or coloured by what it is like. */
export type Shown = 'clay' | 'bands' | LookName;

export const useLooks = defineStore('looks', () => {
  const store = useProject();
  const notices = useNotices();
  const shown = ref<Shown>('clay');
  /** For wall thickness: what is thinner than this is marked, mm. */
  const thin = ref(0);
  /** The values of the look, of the picture with this key. */
  const values = shallowRef<(LookValues & { look: LookName; key: string }) | null>(null);

  const latest = new Latest<Shown>(
    async (look) => {
      const { part } = store;
      if (!part || look === 'clay' || look === 'bands') return;
      try {
        const a = await sideEngine().ask({ kind: 'look', part, look });
        if (shown.value === look) values.value = { ...a, look };
      } catch (e) {
        notices.fail(e);
      }
    },
    () => undefined,
  );

  /** How often the preview is subdivided; 0 for none. */
  const levels = ref(0);
  const preview = shallowRef<PartPicture | null>(null);
  const faces = ref(0);
  /** Whether the preview is coloured by how far it is from the guide surface, and how far that is. */
  const offGuide = ref(false);
  const off = shallowRef<LookValues | null>(null);
  const subdivided = new Latest<number>(
    async (n) => {
      const { part } = store;
      if (!part || n === 0) return;
      try {
        const a = await sideEngine().ask({ kind: 'subdivided', part, levels: n });
        if (levels.value !== n) return;
        preview.value = a.picture;
        faces.value = a.faces;
        off.value = a.off;
      } catch (e) {
        levels.value = 0;
        notices.fail(e);
      }
    },
    () => undefined,
  );
  watch(
    () => [levels.value, store.outcome?.key] as const,
    ([n]) => {
      if (n === 0) preview.value = off.value = null;
      else subdivided.request(n);
    },
  );

  watch(
    () => [shown.value, store.outcome?.key] as const,
    ([look]) => {
      if (look === 'clay' || look === 'bands') values.value = null;
      else latest.request(look);
    },
  );

  return { shown, thin, values, levels, preview, faces, offGuide, off };
});
