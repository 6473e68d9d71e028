import { defineStore } from 'pinia';
import { shallowRef } from 'vue';
import {
  findOnRack,
  RackItem,
  readRack,
  shortName,
  STARTING_RACK,
  writeRack,
  type Shape,
} from '@dusky-mason/core/courses';
import { hashBytes, SaidError } from '@dusky-mason/core/mesh';
import { newId } from './imports.ts';
import { useNotices } from './notices.ts';
import { useProject } from './project.ts';
import { keepMesh } from '../engine/meshShelf.ts';
import { keepSetting, readSetting } from './storage.ts';

/** Bytes as base64, in runs that the call stack bears. */
function toBase64(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += 0x8000) text += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return btoa(text);
}
const fromBase64 = (text: string): Uint8Array => Uint8Array.from(atob(text), (c) => c.charCodeAt(0));

/** The rack as it is kept; null where there is none that can be read: `load` has put it aside. */
function keptRack(text: string | null): readonly RackItem[] | null {
  try {
    return text ? readRack(text) : null;
  } catch {
    return null;
  }
}

/** Cutters kept across projects, in this browser. */
export const useRack = defineStore('rack', () => {
  const items = shallowRef<readonly RackItem[]>(STARTING_RACK);
  let loaded: Promise<void> | null = null;

  /**
   * Reads the rack once. One that cannot be read is put aside, so that nothing of it is written over, and the starting
   * one takes its place.
   */
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

  /** Changes the rack as it is kept now: another tab may have put something on it meanwhile. */
  async function set(to: (now: readonly RackItem[]) => readonly RackItem[]): Promise<void> {
    const job = async (): Promise<void> => {
      const next = to(keptRack(await readSetting<string>('rack')) ?? items.value);
      items.value = next;
      await keepSetting('rack', writeRack(next));
    };
    await (navigator.locks ? navigator.locks.request('dusky-mason rack', job) : job());
  }

  /**
   * Puts a shape on the rack; a mesh with its packed bytes and its picture. Throws where the mesh is too large to be
   * kept so.
   */
  async function put({
    name,
    shape,
    bytes,
    picture,
  }: {
    name: string;
    shape: Shape;
    bytes?: Uint8Array;
    picture?: string;
  }): Promise<void> {
    await load();
    const mesh = bytes && toBase64(bytes);
    const item = RackItem.safeParse({ id: newId(), name: shortName(name || 'Cutter'), tags: [], shape, mesh, picture });
    if (!item.success)
      throw new SaidError(
        `"${name}" is too large for the rack: up to 6 MB are kept. Save the project as a file instead.`,
      );
    await set((now) => [item.data, ...now]);
  }

  /**
   * Makes the mesh of an item known to the project at hand, and gives the item as it can be stamped here. Throws when
   * its mesh is damaged.
   */
  async function ready(item: RackItem): Promise<RackItem> {
    if (item.shape.kind !== 'mesh' || !item.mesh) return item;
    const bytes = fromBase64(item.mesh);
    // Its name is what it holds, whatever the file says.
    const hash = hashBytes(bytes);
    await keepMesh(hash, bytes);
    await useProject().loadMesh(hash);
    return { ...item, shape: { ...item.shape, hash } };
  }
  const change = (id: string, to: Partial<Omit<RackItem, 'id'>>): Promise<void> =>
    set((now) => now.map((i) => (i.id === id ? { ...i, ...to } : i)));
  const remove = (id: string): Promise<void> => set((now) => now.filter((i) => i.id !== id));

  /** Puts the cutters of a rack file beside those that are there; how many. Throws with one sentence. */
  async function addFile(text: string): Promise<number> {
    const read = readRack(text);
    await load();
    await set((now) => [...read.map((i) => ({ ...i, id: newId() })), ...now]);
    return read.length;
  }

  return {
    items,
    load,
    put,
    ready,
    change,
    remove,
    addFile,
    find: (typed: string) => findOnRack(items.value, typed),
    file: () => writeRack(items.value),
  };
});
