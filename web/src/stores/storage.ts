import localforage from 'localforage';
import { applyPatch, readProject, type Project } from '@dusky-mason/core/courses';
import { dropMesh, keptMeshes } from '../engine/meshShelf.ts';
import { History, type KeptHistory, type Step } from './history.ts';
import { allEntries, dropEntries, getEntry, putEntries, putEntry } from './journal.ts';

const store = (storeName: string) => localforage.createInstance({ name: 'dusky-mason', storeName });
const shelf = store('projects');
const cardBox = store('cards');
const pictures = store('pictures');
const small = store('settings');

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

/** One entry of a project's journal: a step, or that one was taken back or done again. */
export type Entry = { step: Step } | { travel: 'undo' | 'redo' };

/** A generation of a project: the document after so many entries of its journal. */
interface Kept {
  card: ProjectCard;
  document: unknown;
  /** How many entries of the journal are in it; of what an older version kept none. */
  seq?: number;
  /** The history as text. */
  history?: string;
}

/** A project as it was left. */
export interface Opened {
  project: Project;
  history: KeptHistory;
  /** How many entries of the journal are in it. */
  seq: number;
  /** Which generation it was read from: the other one may be written over. */
  generation: 0 | 1;
}

/** What a generation is kept with: its place in the journal, its history, and which generation is whole and stays. */
export interface KeptWith {
  seq: number;
  history: KeptHistory;
  beside: 0 | 1;
}

// The list of projects.

/** Where an older version kept all cards as one value. */
const OLD_CARDS = 'cards';

const cardOf = (project: Project, thumbnail?: string): ProjectCard => ({
  id: project.id,
  name: project.name,
  parts: project.parts.map((p) => p.name),
  changed: Date.now(),
  thumbnail,
});

/**
 * The projects of this browser, the ones changed last first. Each has a key of its own, so that no tab writes over what
 * another one has made.
 */
export async function listProjects(): Promise<ProjectCard[]> {
  const old = await small.getItem<ProjectCard[]>(OLD_CARDS);
  if (old) {
    for (const c of old) if (!(await cardBox.getItem(c.id))) await cardBox.setItem(c.id, c);
    await small.removeItem(OLD_CARDS);
  }
  const cards = new Map<string, ProjectCard>();
  for (const id of await cardBox.keys()) {
    const c = await cardBox.getItem<ProjectCard>(id);
    if (c) cards.set(id, c);
  }
  // What was made just before the browser was ended has no card yet.
  for (const key of await shelf.keys()) {
    const id = idOf(key);
    const kept = cards.has(id) ? null : await shelf.getItem<Kept>(key);
    if (kept) cards.set(id, kept.card);
  }
  return [...cards.values()].sort((a, b) => b.changed - a.changed);
}

// Projects: two generations, and the journal of what came after the older one.

const idOf = (key: string): string => key.slice(0, key.lastIndexOf(':'));
/** The greatest number that an entry of a journal can have. */
const LAST = 9_999_999_999;

/** Both generations of a project, the newer one first. */
async function generations(id: string): Promise<{ generation: 0 | 1; kept: Kept }[]> {
  // An older version kept which one is newer beside them.
  const turn = (await small.getItem<number>(`turn:${id}`)) ?? 0;
  const out: { generation: 0 | 1; kept: Kept }[] = [];
  for (const generation of turn % 2 ? ([1, 0] as const) : ([0, 1] as const)) {
    const kept = await shelf.getItem<Kept>(`${id}:${generation}`);
    if (kept) out.push({ generation, kept });
  }
  return out.sort((a, b) => (b.kept.seq ?? -1) - (a.kept.seq ?? -1));
}

/** Writes one entry of a project's journal: small, and at once after each change. */
export const keepEntry = (id: string, seq: number, entry: Entry): Promise<unknown> =>
  putEntry(id, seq, JSON.stringify(entry));

/** How much of a history is kept: most steps, counted back from the last, and most characters. */
const MOST_KEPT = { steps: 200, characters: 4_000_000 };
const texts = new WeakMap<Step, string>();
function textOf(step: Step): string {
  const text = texts.get(step) ?? JSON.stringify(step);
  texts.set(step, text);
  return text;
}

/** A history as text, the oldest steps left out where it would be too long. */
function historyText({ done, undone }: KeptHistory): string {
  let room = MOST_KEPT.characters;
  const most = (steps: Step[]): string => {
    const list: string[] = [];
    for (const s of steps.slice(-MOST_KEPT.steps).reverse()) {
      room -= textOf(s).length;
      if (room < 0) break;
      list.unshift(textOf(s));
    }
    return `[${list.join(',')}]`;
  };
  return `{"done":${most(done)},"undone":${most(undone)}}`;
}

/**
 * Keeps a whole project: a new one, or one after `seq` entries of its journal. Two generations are held: the newer one
 * is written over the older, so that a write that is cut off leaves the one before it whole; what of the journal both
 * have in them goes.
 */
export async function keepProject(project: Project, thumbnail?: string, at?: KeptWith): Promise<ProjectCard> {
  const { id } = project;
  const before = await cardBox.getItem<ProjectCard>(id);
  const card = cardOf(project, thumbnail ?? before?.thumbnail);
  const { seq, history, beside } = at ?? { seq: 0, history: { done: [], undone: [] }, beside: 1 };
  const kept: Kept = { card, document: JSON.parse(JSON.stringify(project)), seq, history: historyText(history) };
  const other = await shelf.getItem<Kept>(`${id}:${beside}`);
  await shelf.setItem<Kept>(`${id}:${1 - beside}`, kept);
  await cardBox.setItem(id, card);
  const both = Math.min(seq, other?.seq ?? seq);
  await dropEntries(id, 0, both);
  return card;
}

/** Lets go of the entries of a journal after a place: what came after an entry that could not be read. */
export const cutJournal = (id: string, seq: number): Promise<unknown> => dropEntries(id, seq + 1, LAST);

/**
 * Opens a project as it was left: the newest generation that can be read, and what its journal says came after it. null
 * when there is none of that name; throws when none can be read.
 */
export async function openProject(id: string): Promise<Opened | null> {
  let problem: unknown = null;
  for (const { generation, kept } of await generations(id))
    try {
      const project = readProject(kept.document);
      const history = kept.history ? (JSON.parse(kept.history) as KeptHistory) : { done: [], undone: [] };
      return await withJournal({ project, history, seq: kept.seq ?? 0, generation }, id);
    } catch (e) {
      problem ??= e;
    }
  if (problem) throw problem;
  return null;
}

/** A generation with the entries after it, up to the first one that is not there or leads to nothing valid. */
async function withJournal(from: Opened, id: string): Promise<Opened> {
  const history = new History<Project>();
  history.load(from.history);
  let { project, seq } = from;
  let last = history.kept;
  for (;;) {
    const text = await getEntry(id, seq + 1);
    if (!text) break;
    try {
      const entry = JSON.parse(text) as Entry;
      project = readProject(
        'step' in entry ? applyPatch(project, entry.step.there) : history[entry.travel](project)?.state,
      );
      if ('step' in entry) history.push(entry.step);
      last = history.kept;
      seq++;
    } catch {
      break;
    }
  }
  return { ...from, project, history: last, seq };
}

/** Takes a project away; what is returned brings it back as it was, whether it can be read or not. */
export async function deleteProject(id: string): Promise<() => Promise<void>> {
  const boxes = [shelf, cardBox, small];
  const keys = [[`${id}:0`, `${id}:1`], [id], [`turn:${id}`, `view:${id}`]];
  const entries = await allEntries(id);
  const back: (() => Promise<unknown>)[] = [() => putEntries(entries)];
  for (const [i, box] of boxes.entries())
    for (const key of keys[i]!) {
      const value = await box.getItem<unknown>(key);
      if (value !== null) back.push(() => box.setItem(key, value));
    }
  for (const [i, box] of boxes.entries()) for (const key of keys[i]!) await box.removeItem(key);
  await dropEntries(id, 0, LAST);
  return async () => {
    for (const put of back) await put();
  };
}

/** The newest document of a project as it lies, not checked; null when there is none. */
export async function rawDocument(id: string): Promise<unknown> {
  const [newest] = await generations(id);
  return newest ? newest.kept.document : null;
}

// What is kept beside projects.

export const keepView = (id: string, view: ViewState): Promise<unknown> =>
  small.setItem(`view:${id}`, JSON.parse(JSON.stringify(view)));
export const readView = (id: string): Promise<ViewState | null> => small.getItem<ViewState>(`view:${id}`);

/** Reference pictures, as PNG, by the hash of their content. */
export const keepPicture = (hash: string, bytes: Uint8Array): Promise<unknown> => pictures.setItem(hash, bytes);
export const readPictureBytes = (hash: string): Promise<Uint8Array | null> => pictures.getItem<Uint8Array>(hash);

let swept = false;
/**
 * Lets go of imported meshes and pictures that no project uses any more: once a visit, as a deletion may still be taken
 * back, and only while no tab works on a project, as its history may still need them.
 */
export async function sweepMeshes(): Promise<void> {
  if (swept || !navigator.locks) return;
  swept = true;
  const [kept, pinned] = await Promise.all([keptMeshes(), pictures.keys()]);
  if (!kept.length && !pinned.length) return;
  const { held = [] } = await navigator.locks.query();
  if (held.some((l) => l.name?.startsWith(LOCK))) return;
  // Hashes stand as they are in documents, histories and journals, in those that cannot be read, too.
  const texts: string[] = [];
  for (const key of await shelf.keys()) texts.push(JSON.stringify(await shelf.getItem<Kept>(key)));
  for (const [, text] of await allEntries()) texts.push(text);
  const used = (hash: string): boolean => texts.some((t) => t.includes(hash));
  for (const hash of kept) if (!used(hash)) await dropMesh(hash);
  for (const hash of pinned) if (!used(hash)) await pictures.removeItem(hash);
}

/** Name of the lock that a tab holds while it works on a project, followed by the project's id. */
export const LOCK = 'dusky-mason:';

export const keepSetting = (key: string, value: unknown): Promise<unknown> => small.setItem(`set:${key}`, value);
export const readSetting = <T>(key: string): Promise<T | null> => small.getItem<T>(`set:${key}`);
