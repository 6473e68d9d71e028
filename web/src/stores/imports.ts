import { addPart, newProject, Shape, type Project } from '@dusky-mason/core/courses';
import { IMPORT_EXTENSIONS, MOST_BYTES } from '@dusky-mason/core/formats';
import type { Outline } from '@dusky-mason/core/shapes';
import { sideEngine } from '../engine/engine.ts';
import { keepMesh } from './storage.ts';

/** Endings of files that can be opened, with their dots. */
export const OPENABLE = [...IMPORT_EXTENSIONS.map((e) => `.${e}`), '.svg', '.zip'] as const;

export interface ImportedMesh {
  kind: 'mesh';
  shape: Shape;
  hash: string;
  bytes: Uint8Array;
  /** What the reader minded, in sentences. */
  warnings: string[];
}
export interface ImportedProject {
  kind: 'project';
  project: Project;
}

export interface ImportedDrawing {
  kind: 'drawing';
  title: string;
  outlines: Outline[];
  warnings: string[];
}

/** Ends of things: a number of their own, so that a copy or an import never overwrites another project. */
export const newId = (): string => crypto.randomUUID();

/**
 * Reads a dropped or chosen file in the side worker and keeps the meshes in it. A project gets an id of its own. Throws with one
 * sentence; nothing is changed then.
 */
export async function importFile(file: File): Promise<ImportedMesh | ImportedProject | ImportedDrawing> {
  if (!OPENABLE.some((e) => file.name.toLowerCase().endsWith(e)))
    throw new Error(`"${file.name}" cannot be opened. Known are ${OPENABLE.join(', ')} (a project file).`);
  if (file.size > MOST_BYTES)
    throw new Error(`"${file.name}" is too large: at most ${MOST_BYTES / 2 ** 20} MB are read.`);
  const bytes = new Uint8Array(await file.arrayBuffer());
  try {
    if (file.name.toLowerCase().endsWith('.zip')) {
      const { project, meshes } = await sideEngine().ask({ kind: 'readProject', bytes });
      for (const m of meshes) await keepMesh(m.hash, m.bytes);
      return { kind: 'project', project: { ...project, id: newId() } };
    }
    if (file.name.toLowerCase().endsWith('.svg')) {
      const { outlines, warnings } = await sideEngine().ask({ kind: 'readDrawing', bytes });
      return { kind: 'drawing', title: file.name.replace(/\.[^.]*$/, '') || 'Drawing', outlines, warnings };
    }
    const r = await sideEngine().ask({ kind: 'import', name: file.name, bytes });
    await keepMesh(r.hash, r.bytes);
    const shape = Shape.parse({ kind: 'mesh', hash: r.hash, title: file.name });
    return { kind: 'mesh', shape, hash: r.hash, bytes: r.bytes, warnings: r.warnings };
  } catch (e) {
    throw new Error(`"${file.name}" was not opened: ${e instanceof Error ? e.message : String(e)}`, { cause: e });
  }
}

/** A project of one imported part. */
export const projectOf = (mesh: ImportedMesh): Project => {
  const title = titleOf(mesh);
  return addPart(newProject(newId(), title), title, mesh.shape);
};

export const titleOf = (mesh: ImportedMesh): string =>
  (mesh.shape.kind === 'mesh' ? mesh.shape.title : 'Part').replace(/\.[^.]*$/, '') || 'Part';
