import {
  areaAndVolume,
  checkCancelled,
  components,
  faceCount,
  isClosed,
  joinMeshes,
  MasonError,
  takeFaces,
  type OpContext,
  type PolyMesh,
} from '../../mesh/index.ts';
import type { Step } from './steps.ts';

/** Makes one body of two closed ones; given from outside, as it is a cut. */
export type Unite = (a: PolyMesh, b: PolyMesh) => PolyMesh;

/** Limits on pieces, and on pairs whose boxes meet, that are checked. */
const [MOST_PIECES, MOST_PAIRS] = [500, 2000];
/** Pairs with more faces are not united: it would take longer than all else. */
const MOST_FACES = 300_000;
/** Bodies that share less than this part of their volume only touch. */
const SHARED = 1e-9;

interface Piece {
  mesh: PolyMesh;
  volume: number;
  /** Least and greatest corner of its box. */
  low: number[];
  high: number[];
}

/**
 * Unites closed pieces that overlap, pair by pair. Pieces that only touch stay two, and so do those with a hollow in
 * them, and those that cannot be united. What was united is looked at again with the others, until no two overlap;
 * `all` says whether every pair was looked at.
 */
export function uniteOverlapping(m: PolyMesh, unite: Unite, ctx?: OpContext): Step & { all: boolean } {
  const { of, count } = components(m);
  if (count < 2 || count > MOST_PIECES) return { mesh: m, done: 0, all: count < 2 };
  const pieces = Array.from({ length: count }, (_, k) => pieceOf(takeFaces(m, (f) => of[f] === k)));
  const hollows = pieces.filter((p) => p.volume < 0);
  const solid = (p: Piece) => p.volume > 0 && isClosed(p.mesh) && !hollows.some((h) => meet(p, h));
  const rest = pieces.filter((p) => !solid(p));
  let list = pieces.filter(solid);
  let done = 0;
  let pairs = 0;
  let large = false;
  for (let i = 0; i < list.length; i++)
    for (let j = i + 1; j < list.length; j++) {
      if (!meet(list[i]!, list[j]!) || ++pairs > MOST_PAIRS) continue;
      checkCancelled(ctx);
      if (faceCount(list[i]!.mesh) + faceCount(list[j]!.mesh) > MOST_FACES) {
        large = true;
        continue;
      }
      const one = united(list[i]!, list[j]!, unite);
      if (!one) continue;
      list = [...list.slice(0, i), one, ...list.slice(i + 1, j), ...list.slice(j + 1)];
      done++;
      // It reaches further now.
      j = i;
    }
  const all = pairs <= MOST_PAIRS && !large;
  return done ? { mesh: joinMeshes([...list, ...rest].map((p) => p.mesh)), done, all } : { mesh: m, done: 0, all };
}

function pieceOf(mesh: PolyMesh): Piece {
  const [low, high] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ];
  for (const v of mesh.corners)
    for (let k = 0; k < 3; k++) {
      low[k] = Math.min(low[k]!, mesh.positions[3 * v + k]!);
      high[k] = Math.max(high[k]!, mesh.positions[3 * v + k]!);
    }
  return { mesh, volume: areaAndVolume(mesh).volume, low, high };
}

const meet = (a: Piece, b: Piece): boolean => [0, 1, 2].every((k) => a.low[k]! < b.high[k]! && b.low[k]! < a.high[k]!);

/** Both as one, where they share some of their volume; else null. */
function united(a: Piece, b: Piece, unite: Unite): Piece | null {
  try {
    const one = pieceOf(unite(a.mesh, b.mesh));
    const both = a.volume + b.volume;
    return faceCount(one.mesh) && isClosed(one.mesh) && one.volume < both * (1 - SHARED) ? one : null;
  } catch (e) {
    // A body that crosses itself cannot be united: it stays and is reported.
    if (e instanceof MasonError && e.code !== 'cancelled') return null;
    throw e;
  }
}
