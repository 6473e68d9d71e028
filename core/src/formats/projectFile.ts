import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import type { PolyMesh } from '../mesh/index.ts';
import { badFile, checkSize, MOST_BYTES } from './limits.ts';
import { packMesh, unpackMesh } from './pack.ts';

/**
 * What a project file holds: the document (checked by whoever knows its schema), imported meshes by hash, a picture.
 */
export interface ProjectFile {
  document: unknown;
  meshes: Map<string, PolyMesh>;
  /** PNG bytes. */
  thumbnail?: Uint8Array;
}

const DOCUMENT = 'project.json';
const THUMBNAIL = 'thumbnail.png';
/** A mesh in the file, named by the hash of what it holds. */
const MESH = /^meshes\/([0-9a-f]{8,64})\.mesh$/;
/** Far more than a project has: a file with more is meant to do harm. */
const MOST_ENTRIES = 10_000;

/** Writes a project as one zip. */
export function writeProjectFile(p: ProjectFile): Uint8Array {
  const files: Record<string, Uint8Array> = { [DOCUMENT]: strToU8(JSON.stringify(p.document, null, 1)) };
  for (const [hash, mesh] of p.meshes) files[`meshes/${hash}.mesh`] = packMesh(mesh);
  if (p.thumbnail) files[THUMBNAIL] = p.thumbnail;
  // A fixed date keeps equal projects equal files.
  return zipSync(files, { mtime: new Date(Date.UTC(2000, 0, 2)) });
}

/**
 * Reads a project zip. Entries of other names are passed over, no name is ever used as a path, and what it unpacks to
 * is counted before it is unpacked. Throws `bad-file`.
 */
export function readProjectFile(bytes: Uint8Array): ProjectFile {
  checkSize(bytes);
  let total = 0;
  let entries = 0;
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes, {
      filter: (f) => {
        if (++entries > MOST_ENTRIES) throw badFile(`The file has over ${MOST_ENTRIES} entries`, '');
        if (f.name !== DOCUMENT && f.name !== THUMBNAIL && !MESH.test(f.name)) return false;
        total += f.originalSize;
        if (total > MOST_BYTES) throw badFile(`The file unpacks to over ${MOST_BYTES / 2 ** 20} MB`, '');
        return true;
      },
    });
  } catch (e) {
    if (e instanceof Error && e.name === 'MasonError') throw e;
    throw badFile('The file is not a zip, or is damaged', '');
  }
  const text = files[DOCUMENT];
  if (!text) throw badFile(`There is no ${DOCUMENT} in it, so it is not a project of ours`, '');
  let document: unknown;
  try {
    document = JSON.parse(strFromU8(text));
  } catch {
    throw badFile(`Its ${DOCUMENT} cannot be read`, '');
  }
  const meshes = new Map<string, PolyMesh>();
  for (const [name, data] of Object.entries(files)) {
    const hash = MESH.exec(name)?.[1];
    if (hash) meshes.set(hash, unpackMesh(data));
  }
  return { document, meshes, thumbnail: files[THUMBNAIL] };
}

/** Whether bytes begin as a zip does. */
export const isZip = (bytes: Uint8Array): boolean => bytes[0] === 0x50 && bytes[1] === 0x4b;
