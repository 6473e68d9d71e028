import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { readProject, type Project } from '@dusky-mason/core/courses';
import {
  exportDefaults,
  exportParts,
  isZip,
  readMesh,
  readProjectFile,
  type ExportFormat,
  type SlotLook,
} from '@dusky-mason/core/formats';
import type { PolyMesh } from '@dusky-mason/core/mesh';
import { UsageError } from './flags.ts';

// What the command reads and writes. What cannot be read or written is refused with a sentence.

export async function load(file: string, write: (text: string) => void, json: boolean): Promise<PolyMesh> {
  const { mesh, warnings } = readMesh(file, await bytesOf(file));
  if (!json) for (const w of warnings) write(`  ${path.basename(file)}: ${w}\n`);
  return mesh;
}

async function bytesOf(file: string): Promise<Uint8Array> {
  try {
    return new Uint8Array(await readFile(file));
  } catch {
    throw new UsageError(`The file "${file}" cannot be read.`);
  }
}

export async function loadProject(file: string): Promise<{ project: Project; meshes: Map<string, PolyMesh> }> {
  const bytes = await bytesOf(file);
  if (isZip(bytes)) {
    const { document, meshes } = readProjectFile(bytes);
    return { project: readProject(document), meshes };
  }
  let document: unknown;
  try {
    document = JSON.parse(new TextDecoder().decode(bytes));
  } catch {
    throw new UsageError(`"${file}" is neither a project file nor a project document.`);
  }
  return { project: readProject(document), meshes: new Map() };
}

/** Writes by the name's ending: OBJ and STL in mm with z up, GLB in metres with y up. */
export async function save(
  file: string,
  parts: { name: string; mesh: PolyMesh }[],
  looks: readonly SlotLook[] = [],
): Promise<void> {
  await written(file, await exportParts(parts, exportDefaults(endingOf(file)), looks));
}

/** The format that a name's ending asks for. */
function endingOf(file: string): ExportFormat {
  const ending = path.extname(file).slice(1).toLowerCase();
  if (ending !== 'obj' && ending !== 'stl' && ending !== 'glb')
    throw new UsageError(`"${file}" must end in .obj, .stl or .glb.`);
  return ending;
}

/** Refuses a name that nothing could be written to, before any work is done. */
export const checkEnding = (file: string | undefined): void => void (file !== undefined && endingOf(file));

export async function written(file: string, bytes: Uint8Array): Promise<void> {
  try {
    await writeFile(file, bytes);
  } catch {
    throw new UsageError(`"${file}" cannot be written. Look whether its folder is there and may be written to.`);
  }
}
