import localforage from 'localforage';

/**
 * Imported and frozen meshes of this browser, packed, by the hash of their content. The workers read and write it
 * themselves: large ones never pass through the page.
 */
const shelf = localforage.createInstance({ name: 'dusky-mason', storeName: 'meshes' });

export const keepMesh = (hash: string, bytes: Uint8Array): Promise<unknown> => shelf.setItem(hash, bytes);
export const readMeshBytes = (hash: string): Promise<Uint8Array | null> => shelf.getItem<Uint8Array>(hash);
export const keptMeshes = (): Promise<string[]> => shelf.keys();
export const dropMesh = (hash: string): Promise<void> => shelf.removeItem(hash);
