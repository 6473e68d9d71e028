import { MasonError } from '../mesh/index.ts';

/** Largest file that is read, and most vertices or faces of one mesh: what a browser tab can hold with room to work. */
export const MOST_BYTES = 512 * 1024 * 1024;
export const MOST_ELEMENTS = 20_000_000;
/** Most corners of one face: cutting it into triangles takes their square in the worst case. */
export const MOST_CORNERS = 5_000;
/** Longest name of a slot, in characters. */
export const MOST_NAME = 200;
/** Largest coordinate that is read, in the file's unit: beyond it nothing is left of a millimetre. */
export const LARGEST_COORDINATE = 1e12;

/** A `bad-file` error with where it is. */
export const badFile = (what: string, where: string): MasonError =>
  new MasonError(
    'bad-file',
    where ? `${what} (${where}). Nothing was read from this file.` : `${what}. Nothing was read from this file.`,
  );

export function checkSize(bytes: Uint8Array): void {
  if (bytes.length === 0) throw badFile('The file is empty', '');
  if (bytes.length > MOST_BYTES)
    throw badFile(
      `The file has ${Math.round(bytes.length / 2 ** 20)} MB, more than the ${MOST_BYTES / 2 ** 20} MB that are read`,
      '',
    );
}

export function checkCount(n: number, what: string): void {
  if (n > MOST_ELEMENTS) throw badFile(`The file has over ${MOST_ELEMENTS} ${what}`, '');
}

/**
 * Result of a reader: the mesh in the file's own numbers, and warnings in sentences about what was left out or
 * corrected.
 */
export interface ReadMesh {
  mesh: import('../mesh/index.ts').PolyMesh;
  warnings: string[];
}
