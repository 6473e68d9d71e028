/**
 * Storage of the browser held in memory, for tests: values are copied as a real one would, and it can be full, or end
 * after so many writes.
 */
export const disk = {
  boxes: new Map<string, Map<string, unknown>>(),
  /** How many more writes there are before nothing reaches the disk any more. */
  writesLeft: Infinity,
  full: false,
  clear(): void {
    this.boxes.clear();
    this.writesLeft = Infinity;
    this.full = false;
  },
};

function createInstance({ storeName }: { storeName: string }) {
  const box = (): Map<string, unknown> => {
    const b = disk.boxes.get(storeName) ?? new Map<string, unknown>();
    disk.boxes.set(storeName, b);
    return b;
  };
  const write = async (act: () => void): Promise<void> => {
    if (disk.full) throw Object.assign(new Error('full'), { name: 'QuotaExceededError' });
    if (disk.writesLeft-- > 0) act();
    // A browser that was killed never answers.
    else await new Promise(() => undefined);
  };
  return {
    getItem: async (key: string) => structuredClone(box().get(key) ?? null),
    setItem: async (key: string, value: unknown) => {
      const copy = structuredClone(value);
      await write(() => void box().set(key, copy));
    },
    removeItem: async (key: string) => write(() => void box().delete(key)),
    keys: async () => [...box().keys()],
  };
}

/** The journal over the same memory, for tests: see stores/journal.ts. */
export function memoryJournal() {
  const box = createInstance({ storeName: 'journal' });
  const keyOf = (id: string, seq: number): string => `${id}:${String(seq).padStart(10, '0')}`;
  const within = async (id: string, from: string, to: string) =>
    (await box.keys()).filter((k) => k.startsWith(`${id}:`) && k >= from && k <= to);
  return {
    putEntry: (id: string, seq: number, text: string) => box.setItem(keyOf(id, seq), text),
    getEntry: async (id: string, seq: number) => (await box.getItem(keyOf(id, seq))) ?? undefined,
    dropEntries: async (id: string, from: number, to: number) => {
      for (const k of await within(id, keyOf(id, from), keyOf(id, to))) await box.removeItem(k);
    },
    allEntries: async (id = '') =>
      Promise.all(
        (await box.keys()).filter((k) => !id || k.startsWith(`${id}:`)).map(async (k) => [k, await box.getItem(k)]),
      ),
    putEntries: async (entries: [string, string][]) => {
      for (const [k, text] of entries) await box.setItem(k, text);
    },
  };
}

export default { createInstance };
