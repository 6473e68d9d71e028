import { addPart, newProject, Shape, shortName, type Project, checked } from '@dusky-mason/core/courses';
import { IMPORT_EXTENSIONS, MOST_BYTES } from '@dusky-mason/core/formats';
import type { Outline } from '@dusky-mason/core/shapes';
import { SaidError, sentenceOf } from '@dusky-mason/core/mesh';
import type { Watch } from '../engine/client.ts';
import { sideEngine } from '../engine/engine.ts';
import { Stopper } from '../engine/stopper.ts';

/** Endings of files that can be opened, with their dots. */
export const OPENABLE = [...IMPORT_EXTENSIONS.map((e) => `.${e}`), '.svg', '.zip'] as const;

export interface ImportedMesh {
  kind: 'mesh';
  shape: Shape;
  hash: string;
  /** Warnings of the reader, in sentences. */
  warnings: string[];
}
export interface ImportedProject {
  kind: 'project';
  project: Project;
  /** What of it could not be read, in sentences. */
  warnings: string[];
}

export interface ImportedDrawing {
  kind: 'drawing';
  title: string;
  outlines: Outline[];
  warnings: string[];
}

/** From so many faces on a mesh is called large. */
const LARGE = 300_000;
const largeWords = (faces: number): string =>
  `It has ${faces.toLocaleString('en')} faces: each change of it takes some seconds. If one is stopped, raise the longest run in Preferences.`;

const stopper = new Stopper();
/** Cancels reading a file. */
export const stopReading = stopper.stop;

/** Ends of things: a number of their own, so that a copy or an import never overwrites another project. */
export const newId = (): string => crypto.randomUUID();

/**
 * Reads a dropped or chosen file in the side worker and keeps the meshes in it. A project gets an id of its own. Throws
 * with one sentence; nothing is changed then.
 */
export async function importFile(
  file: File,
  watch: Watch = {},
): Promise<ImportedMesh | ImportedProject | ImportedDrawing> {
  if (!OPENABLE.some((e) => file.name.toLowerCase().endsWith(e)))
    throw new SaidError(`"${file.name}" cannot be opened. Known are ${OPENABLE.join(', ')} (a project file).`);
  if (file.size > MOST_BYTES)
    throw new SaidError(`"${file.name}" is too large: at most ${MOST_BYTES / 2 ** 20} MB are read.`);
  const bytes = new Uint8Array(await file.arrayBuffer());
  try {
    if (file.name.toLowerCase().endsWith('.zip')) {
      const { project, left } = await sideEngine().ask({ kind: 'readProject', bytes });
      return { kind: 'project', project: { ...project, id: newId() }, warnings: left };
    }
    if (file.name.toLowerCase().endsWith('.svg')) {
      const { outlines, warnings } = await sideEngine().ask({ kind: 'readDrawing', bytes });
      return { kind: 'drawing', title: shortName(file.name.replace(/\.[^.]*$/, '') || 'Drawing'), outlines, warnings };
    }
    const r = await sideEngine().ask({ kind: 'import', name: file.name, bytes, cancel: stopper.begin() }, watch);
    const shape = checked(Shape, { kind: 'mesh', hash: r.hash, title: shortName(file.name) });
    const large = r.faces >= LARGE ? [largeWords(r.faces)] : [];
    return { kind: 'mesh', shape, hash: r.hash, warnings: [...large, ...r.warnings] };
  } catch (e) {
    throw new SaidError(`"${file.name}" was not opened: ${sentenceOf(e)}`, { cause: e });
  }
}

/** A project of one imported part. */
export const projectOf = (mesh: ImportedMesh): Project => {
  const title = titleOf(mesh);
  return addPart(newProject(newId(), title), title, mesh.shape);
};

export const titleOf = (mesh: ImportedMesh): string =>
  (mesh.shape.kind === 'mesh' ? mesh.shape.title : 'Part').replace(/\.[^.]*$/, '') || 'Part';
