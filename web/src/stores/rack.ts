import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import { findOnRack, readRack, STARTING_RACK, writeRack, type RackItem, type Shape } from '@dusky-mason/core/courses';
import { newId } from './imports.ts';
import { useNotices } from './notices.ts';
import { keepSetting, readSetting } from './storage.ts';

/** Whether the rack is shown. */
export const rackOpen = ref(false);

/** Cutters kept across projects, in this browser. */
export const useRack = defineStore('rack', () => {
  const items = shallowRef<readonly RackItem[]>(STARTING_RACK);
  let loaded: Promise<void> | null = null;

  /** Reads the rack once. One that cannot be read is put aside, so that nothing of it is written over, and the starting one takes its place. */
  function load(): Promise<void> {
    loaded ??= readSetting<string>('rack').then(async (text) => {
      if (!text) return;
      try {
        items.value = readRack(text);
      } catch (e) {
        await keepSetting('rack, damaged', text);
        useNotices().fail(e);
      }
    });
    return loaded;
  }

  async function set(next: readonly RackItem[]): Promise<void> {
    items.value = next;
    await keepSetting('rack', writeRack(next));
  }

  async function put(name: string, shape: Shape): Promise<void> {
    await load();
    await set([{ id: newId(), name: name || 'Cutter', tags: [], shape }, ...items.value]);
  }
  const change = (id: string, to: Partial<Omit<RackItem, 'id'>>): Promise<void> =>
    set(items.value.map((i) => (i.id === id ? { ...i, ...to } : i)));
  const remove = (id: string): Promise<void> => set(items.value.filter((i) => i.id !== id));

  /** Puts the cutters of a rack file beside those that are there; how many. Throws with one sentence. */
  async function addFile(text: string): Promise<number> {
    const read = readRack(text);
    await load();
    await set([...read.map((i) => ({ ...i, id: newId() })), ...items.value]);
    return read.length;
  }

  return { items, load, put, change, remove, addFile, find: (typed: string) => findOnRack(items.value, typed), file: () => writeRack(items.value) }; // prettier-ignore
});
