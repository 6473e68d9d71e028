import { MasonError } from '../../mesh/index.ts';

/** Version of the document's form; older ones are migrated, newer ones refused. */
export const DOCUMENT_VERSION = 9;

type Loose = Record<string, unknown>;
/** The settings of every course of some kinds changed, in a document whose form is not checked yet. */
function mapCourses(parts: unknown, kinds: readonly string[], change: (params: Loose) => Loose): unknown {
  const each = (list: unknown, f: (x: Loose) => unknown) =>
    Array.isArray(list) ? list.map((x) => (typeof x === 'object' && x !== null ? f(x as Loose) : x)) : list;
  return each(parts, (part) => ({
    ...part,
    courses: each(part.courses, (c) =>
      kinds.includes(c.kind as string) && typeof c.params === 'object'
        ? { ...c, params: change(c.params as Loose) }
        : c,
    ),
  }));
}

/** Migrations, each from one version to the next. */
const MIGRATIONS: Record<number, (d: Record<string, unknown>) => Record<string, unknown>> = {
  // Version 1 had no unit of its own: everything was shown in mm.
  1: (d) => ({ unit: 'mm', ...d, version: 2 }),
  // Version 2 had only the name of the slot of new walls, empty for that of the part.
  2: (d) => ({
    ...d,
    version: 3,
    parts: mapCourses(d.parts, ['cut'], (p) =>
      p.wallSlot ? { ...p, wallSlots: 'own' } : { ...p, wallSlot: undefined },
    ),
  }),
  // Version 3 knew ties as a yes or no.
  3: (d) => ({
    ...d,
    version: 4,
    parts: mapCourses(d.parts, ['cut'], (p) => ({ ...p, ties: p.ties === true ? 'short' : 'none' })),
  }),
  // Version 4 knew neither materials nor pictures, locks nor pivots: all of them begin as if left out.
  4: (d) => ({ ...d, version: 5 }),
  // Version 5 knew no mends.
  5: (d) => ({ ...d, version: 6 }),
  // Version 6 was written with fewer kinds, too: from here on each new kind raises the number, so that an older program
  // says so.
  6: (d) => ({ ...d, version: 7 }),
  // Version 7 knew no bands beneath bevels.
  7: (d) => ({
    ...d,
    version: 8,
    parts: mapCourses(d.parts, ['finish', 'bevel'], (p) => ({ over: false, ...p })),
  }),
  // Version 8 knew no held rims, and collars that left seams as they were.
  8: (d) => ({
    ...d,
    version: 9,
    parts: mapCourses(d.parts, ['collar'], (p) => ({ gather: false, ...p })),
  }),
};

/**
 * A document migrated to the current version, not checked yet. Throws `bad-file` for anything else, or for a newer
 * version.
 */
export function upToDate(data: unknown): Record<string, unknown> {
  if (typeof data !== 'object' || data === null || Array.isArray(data))
    throw new MasonError('bad-file', 'This is not a project document.');
  let d = data as Record<string, unknown>;
  const version = d.version;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1)
    throw new MasonError('bad-file', 'This is not a project document: it has no version.');
  if (version > DOCUMENT_VERSION)
    throw new MasonError(
      'bad-file',
      `A newer version of Dusky Mason wrote this project (document version ${version}; this one reads up to ${DOCUMENT_VERSION}). Open it with that one.`,
    );
  for (let v = version; v < DOCUMENT_VERSION; v++) d = MIGRATIONS[v]!(d);
  return d;
}
