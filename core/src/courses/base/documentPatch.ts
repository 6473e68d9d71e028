// What changed between two states of a document, small enough to be kept at once for every step, and to be taken back.

type Json = Record<string, unknown>;

/**
 * A change of one value. Objects are changed key by key, lists of things with numbers thing by thing, all else as a
 * whole.
 */
export type Patch =
  | { whole: unknown }
  | { set?: Json; drop?: string[]; within?: Record<string, Patch> }
  | { order?: number[]; added?: Json[]; each?: Record<string, Patch> };

const isObject = (x: unknown): x is Json => typeof x === 'object' && x !== null && !Array.isArray(x);
type Numbered = Json & { id: number };
const isNumbered = (x: unknown): x is Numbered[] =>
  Array.isArray(x) &&
  x.every((y) => isObject(y) && typeof y.id === 'number') &&
  new Set(x.map((y: Numbered) => y.id)).size === x.length;

/**
 * The patch that turns `before` into `after`; null when they are equal. Parts of both that are the same object are
 * passed over, so that the cost is that of what was changed. A key whose value is undefined is a key that is not there.
 */
export function patchOf(before: unknown, after: unknown): Patch | null {
  if (Object.is(before, after)) return null;
  if (isObject(before) && isObject(after)) return objectPatch(before, after);
  if (isNumbered(before) && isNumbered(after)) return listPatch(before, after);
  if (Array.isArray(before) && Array.isArray(after) && before.length === after.length)
    return before.every((x, i) => !patchOf(x, after[i])) ? null : { whole: after };
  return { whole: after };
}

function objectPatch(before: Json, after: Json): Patch | null {
  const set: Json = {};
  const within: Record<string, Patch> = {};
  const drop = Object.keys(before).filter((k) => before[k] !== undefined && after[k] === undefined);
  for (const [k, value] of Object.entries(after)) {
    if (value === undefined) continue;
    const p = before[k] === undefined ? { whole: value } : patchOf(before[k], value);
    if (!p) continue;
    if ('whole' in p) set[k] = value;
    else within[k] = p;
  }
  const some = (x: object) => Object.keys(x).length > 0;
  if (!drop.length && !some(set) && !some(within)) return null;
  return { ...(some(set) && { set }), ...(drop.length && { drop }), ...(some(within) && { within }) };
}

function listPatch(before: Numbered[], after: Numbered[]): Patch | null {
  const known = new Map(before.map((x) => [x.id, x]));
  const added = after.filter((x) => !known.has(x.id));
  const each: Record<string, Patch> = {};
  for (const x of after) {
    const p = known.has(x.id) ? patchOf(known.get(x.id), x) : null;
    if (p) each[x.id] = p;
  }
  const same = before.length === after.length && before.every((x, i) => x.id === after[i]!.id);
  if (same && !Object.keys(each).length) return null;
  return {
    ...(!same && { order: after.map((x) => x.id) }),
    ...(added.length && { added }),
    ...(Object.keys(each).length && { each }),
  };
}

/**
 * Applies a patch to a value. Whatever the patch does not touch stays the same object. Throws `RangeError` where the
 * patch is of another value.
 */
export function applyPatch(value: unknown, p: Patch): unknown {
  if ('whole' in p) return p.whole;
  if (isObject(value)) {
    const { set, drop = [], within = {} } = p as Extract<Patch, { set?: Json }>;
    const out: Json = { ...value, ...set };
    for (const k of drop) delete out[k];
    for (const [k, q] of Object.entries(within)) out[k] = applyPatch(value[k], q);
    return out;
  }
  if (!isNumbered(value)) throw new RangeError('A patch of another value.');
  const { order, added = [], each = {} } = p as Extract<Patch, { order?: number[] }>;
  const all = new Map<number, Json>([...value, ...(added as Numbered[])].map((x) => [x.id, x]));
  const ids = order ?? value.map((x) => x.id);
  if ([...ids, ...Object.keys(each).map(Number)].some((id) => !all.has(id)))
    throw new RangeError('A patch of another list.');
  return ids.map((id) => (each[id] ? applyPatch(all.get(id), each[id]) : all.get(id)));
}
