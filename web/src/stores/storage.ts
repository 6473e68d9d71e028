import localforage from 'localforage';
import { meshesUsed, readProject, type Project } from '@dusky-mason/core/courses';

const shelf = localforage.createInstance({ name: 'dusky-mason', storeName: 'projects' });
const packed = localforage.createInstance({ name: 'dusky-mason', storeName: 'meshes' });
const pictures = localforage.createInstance({ name: 'dusky-mason', storeName: 'pictures' });
const small = localforage.createInstance({ name: 'dusky-mason', storeName: 'settings' });

/** What the Yard shows of a project without opening it. */
export interface ProjectCard {
  id: string;
  name: string;
  parts: string[];
  changed: number;
  /** A picture as a data address. */
  thumbnail?: string;
}

/** What is found again beside the project itself. */
export interface ViewState {
  part: number | null;
  course: number | null;
  cutter: number | null;
  camera?: { position: number[]; target: number[] };
}

interface Kept {
  card: ProjectCard;
  document: unknown;
}

const INDEX = 'cards';

/** The projects of this browser, the ones changed last first. */
export async function listProjects(): Promise<ProjectCard[]> {
  const cards = (await small.getItem<ProjectCard[]>(INDEX)) ?? [];
  return cards.sort((a, b) => b.changed - a.changed);
}

/**
 * Keeps a project. Two generations are held: the newer one is written over the older, so that a write that is cut off leaves the
 * generation before it whole.
 */
export async function keepProject(project: Project, thumbnail?: string): Promise<ProjectCard> {
  const cards = await listProjects();
  const before = cards.find((c) => c.id === project.id);
  const card: ProjectCard = {
    id: project.id,
    name: project.name,
    parts: project.parts.map((p) => p.name),
    changed: Date.now(),
    thumbnail: thumbnail ?? before?.thumbnail,
  };
  const turn = ((await small.getItem<number>(`turn:${project.id}`)) ?? 0) + 1;
  await shelf.setItem<Kept>(`${project.id}:${turn % 2}`, { card, document: JSON.parse(JSON.stringify(project)) });
  await small.setItem(`turn:${project.id}`, turn);
  await small.setItem(INDEX, [card, ...cards.filter((c) => c.id !== project.id)]);
  return card;
}

/** Opens a project: the newest generation that can be read. null when there is none of that name; throws when none is whole. */
export async function openProject(id: string): Promise<Project | null> {
  const turn = (await small.getItem<number>(`turn:${id}`)) ?? 0;
  let problem: unknown = null;
  for (const t of [turn % 2, (turn + 1) % 2]) {
    const kept = await shelf.getItem<Kept>(`${id}:${t}`);
    if (!kept) continue;
    try {
      return readProject(kept.document);
    } catch (e) {
      problem ??= e;
    }
  }
  if (problem) throw problem;
  return null;
}

export async function deleteProject(id: string): Promise<void> {
  await small.setItem(
    INDEX,
    (await listProjects()).filter((c) => c.id !== id),
  );
  await Promise.all([
    shelf.removeItem(`${id}:0`),
    shelf.removeItem(`${id}:1`),
    small.removeItem(`turn:${id}`),
    small.removeItem(`view:${id}`),
  ]);
}

export const keepView = (id: string, view: ViewState): Promise<unknown> =>
  small.setItem(`view:${id}`, JSON.parse(JSON.stringify(view)));
export const readView = (id: string): Promise<ViewState | null> => small.getItem<ViewState>(`view:${id}`);

/** Imported meshes, packed, by the hash of their content. */
export const keepMesh = (hash: string, bytes: Uint8Array): Promise<unknown> => packed.setItem(hash, bytes);
export const readMeshBytes = (hash: string): Promise<Uint8Array | null> => packed.getItem<Uint8Array>(hash);

/** Reference pictures, as PNG, by the hash of their content. */
export const keepPicture = (hash: string, bytes: Uint8Array): Promise<unknown> => pictures.setItem(hash, bytes);
export const readPictureBytes = (hash: string): Promise<Uint8Array | null> => pictures.getItem<Uint8Array>(hash);

let swept = false;
/**
 * Lets go of imported meshes and pictures that no project uses any more: once a visit, as a deletion may still be taken back, and only while no tab
 * works on a project, as its history may still need them.
 */
export async function sweepMeshes(): Promise<void> {
  if (swept || !navigator.locks) return;
  swept = true;
  const [kept, pinned] = await Promise.all([packed.keys(), pictures.keys()]);
  if (!kept.length && !pinned.length) return;
  const { held = [] } = await navigator.locks.query();
  if (held.some((l) => l.name?.startsWith(LOCK))) return;
  const used = new Set<string>();
  for (const key of await shelf.keys())
    try {
      const project = readProject((await shelf.getItem<Kept>(key))!.document);
      for (const hash of [...meshesUsed(project), ...project.pictures.map((p) => p.hash)]) used.add(hash);
    } catch {
      // What cannot be read now may be read by a newer version: nothing is thrown away.
      return;
    }
  for (const hash of kept) if (!used.has(hash)) await packed.removeItem(hash);
  for (const hash of pinned) if (!used.has(hash)) await pictures.removeItem(hash);
}

/** Name of the lock that a tab holds while it works on a project, followed by the project's id. */
export const LOCK = 'dusky-mason:';

export const keepSetting = (key: string, value: unknown): Promise<unknown> => small.setItem(`set:${key}`, value);
export const readSetting = <T>(key: string): Promise<T | null> => small.getItem<T>(`set:${key}`);
