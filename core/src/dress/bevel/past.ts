import { MasonError, type OpContext } from '../../mesh/index.ts';
import type { Bevelling, BevelWish } from './bevelling.ts';
import type { Built } from './build.ts';
import { inWords } from './headroom.ts';
import { thinFaces } from './meetInLines.ts';
import { levelled } from './widths.ts';

/** A width with something in its way shrinks by this share, at most so many times; faster when it takes long. */
const [NARROWER, PATIENT, MOST_ROUNDS] = [0.9, 40, 64];
/** How many edges away vertices with a width left are searched. */
const MOST_RINGS = 8;
/** Steps in which width is given back after it was narrowed. */
const GIVES_BACK = 5;
/** A width below this share counts as none. */
const NOTHING = 0.02;

/** What is left between strips that are to meet goes where it is narrower than this share of the width. */
const MEETS = 0.02;
/**
 * Widths are raised one by one in steps from the first share of the wanted width to the second, each halved; the last
 * is how many rounds find those that must stay.
 */
const [FIRST_STEP, LAST_STEP, MOST_TRIES] = [1 / 4, 1 / 8192, 8];

/**
 * The vertices that a collision depends on; where none of them has any width left, their neighbours along the edges,
 * whose lines run together there.
 */
function concerned(b: Bevelling, share: Float64Array, vertices: readonly number[]): readonly number[] {
  let list = [...new Set(vertices)];
  for (let ring = 0; ring < MOST_RINGS && list.every((v) => share[v] === 0); ring++)
    list = [...new Set(list.flatMap((v) => [v, ...b.beside(v)]))];
  return list;
}

/**
 * Lowers shares where something is in the way until nothing is, then raises them as far as possible. Returns what is
 * built.
 */
export function narrow(b: Bevelling, share: Float64Array, past: BevelWish['past'], ctx: OpContext | undefined): Built {
  const full = share.slice();
  let good: Built;
  for (let round = 0; ; round++) {
    good = b.build(share);
    const { troubles } = good;
    if (!troubles.length) break;
    const first = troubles[0]!;
    if (past === 'stop' || round === MOST_ROUNDS)
      throw new MasonError(
        'not-done',
        `The bevel has no room: ${inWords(first.what)}. Use less width${past === 'stop' ? ', or let it be narrower there' : ''}.`,
        { point: first.at },
      );
    ctx?.progress?.(Math.min(0.9, round / 20), 'making it narrower where there is no room');
    const by = round < PATIENT ? NARROWER : round < MOST_ROUNDS - 8 ? 0.5 : 0;
    for (const v of new Set(troubles.flatMap((x) => concerned(b, share, x.vertices))))
      share[v] = share[v]! * by < NOTHING ? 0 : share[v]! * by;
    levelled(b.mesh, b.ground.role, b.width, share);
  }
  if (share.every((s, v) => s === full[v])) return good;
  const least = share.slice();
  let [low, high] = [0, 1];
  for (let step = 0; step < GIVES_BACK; step++) {
    const middle = (low + high) / 2;
    const tried = least.map((s, v) => s + middle * (full[v]! - s));
    const built = b.build(tried);
    if (built.troubles.length) high = middle;
    else {
      [low, good] = [middle, built];
      share.set(tried);
    }
  }
  return good;
}

/**
 * Lets strips come so near to each other that what is left between them can go: round faces that are used up whole.
 * Elsewhere widths stay as they were narrowed, so that no hairline is left. `share` is changed. Returns what is built,
 * and how wide what goes may be, mm; null where no face is used up.
 */
export function comeTogether(
  b: Bevelling,
  share: Float64Array,
  full: Float64Array,
  narrowest: Built,
  ctx: OpContext | undefined,
): { built: Built; within: number } | null {
  const within = MEETS * b.width.reduce((x, w) => Math.max(x, w), 0);
  const raised = share.slice();
  const near = raise(b, raised, full, narrowest, ctx);
  const vertices = thinFaces(near.mesh!, near.first, within).flatMap((f) => b.verticesOf(near.kept[f]!));
  if (!vertices.length) return null;
  const mixed = share.slice();
  for (const v of vertices) mixed[v] = raised[v]!;
  const built = b.build(mixed);
  if (built.troubles.length) return null;
  share.set(mixed);
  return { built, within };
}

/**
 * Raises shares that were lessened, each as far as there is room for it: what the others have stays as it is. Returns
 * what is built of them; `built` is what was built of them before.
 */
function raise(b: Bevelling, share: Float64Array, full: Float64Array, built: Built, ctx: OpContext | undefined): Built {
  let good = built;
  for (let step = FIRST_STEP; step >= LAST_STEP; step /= 2) {
    ctx?.progress?.(0.9, 'letting strips come as near to each other as they can');
    for (let again = true; again;) {
      again = false;
      const tried = share.map((s, v) => Math.min(full[v]!, s + step * full[v]!));
      for (let k = 0; k < MOST_TRIES; k++) {
        const next = b.build(tried);
        if (!next.troubles.length) {
          again = tried.some((s, v) => s > share[v]!);
          share.set(tried);
          good = next;
          break;
        }
        // Those in each other's way stay; the others may grow on.
        for (const v of next.troubles.flatMap((x) => x.vertices)) tried[v] = share[v]!;
        levelled(b.mesh, b.ground.role, b.width, tried);
      }
    }
  }
  return good;
}
