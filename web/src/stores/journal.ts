// The journal of edits, in a database of its own: each entry must be safe at once. A transaction ends by itself only
// when the page has heard of its requests, which waits behind every frame that is drawn meanwhile; here each is
// committed as soon as it is made.

const [NAME, STORE] = ['dusky-mason-journal', 'entries'];

let opened: Promise<IDBDatabase> | null = null;

function database(): Promise<IDBDatabase> {
  opened ??= new Promise<IDBDatabase>((done, fail) => {
    const r = indexedDB.open(NAME, 1);
    r.onupgradeneeded = () => r.result.createObjectStore(STORE);
    r.onsuccess = () => {
      // A connection that the browser closes is opened anew with the next entry.
      r.result.onclose = r.result.onversionchange = () => {
        r.result.close();
        opened = null;
      };
      done(r.result);
    };
    r.onerror = () => {
      opened = null;
      fail(r.error ?? new Error('no database'));
    };
  });
  return opened;
}

/**
 * Runs requests in one transaction, which is committed at once; resolves with what the last one gave when it is on the
 * disk.
 */
async function transact<T>(mode: IDBTransactionMode, act: (box: IDBObjectStore) => IDBRequest<T>): Promise<T> {
  const db = await database();
  return new Promise<T>((done, fail) => {
    const t = db.transaction(STORE, mode);
    const r = act(t.objectStore(STORE));
    t.oncomplete = () => done(r.result);
    t.onabort = () => fail(t.error ?? new Error('not written'));
    t.commit();
  });
}

const keyOf = (id: string, seq: number): string => `${id}:${String(seq).padStart(10, '0')}`;

export const putEntry = (id: string, seq: number, text: string): Promise<unknown> =>
  transact('readwrite', (box) => box.put(text, keyOf(id, seq)));

export const getEntry = (id: string, seq: number): Promise<string | undefined> =>
  transact('readonly', (box) => box.get(keyOf(id, seq)) as IDBRequest<string | undefined>);

/** Lets go of the entries of a project from one place on up to another. */
export const dropEntries = (id: string, from: number, to: number): Promise<unknown> =>
  from > to
    ? Promise.resolve()
    : transact('readwrite', (box) => box.delete(IDBKeyRange.bound(keyOf(id, from), keyOf(id, to))));

/** All entries of a project, or of all projects, as text by their keys. */
export async function allEntries(id = ''): Promise<[key: string, text: string][]> {
  const range = id ? IDBKeyRange.bound(`${id}:`, `${id};`) : undefined;
  const keys = await transact('readonly', (box) => box.getAllKeys(range));
  const texts = await transact('readonly', (box) => box.getAll(range) as IDBRequest<string[]>);
  return keys.map((k, i) => [String(k), texts[i] ?? '']);
}

/** Puts entries back as they were. */
export async function putEntries(entries: readonly [key: string, text: string][]): Promise<void> {
  for (const [key, text] of entries) await transact('readwrite', (box) => box.put(text, key));
}
