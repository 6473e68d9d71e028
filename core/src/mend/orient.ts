import { faceCount, flipMesh, takeFaces, type PolyMesh, type OpResult } from '../mesh/index.ts';
import { Looked, shells, sidesOf } from '../survey/index.ts';

/** Ways to settle which way faces look. */
export const ORIENT_WAYS = ['flip', 'consistent', 'outward'] as const;
export type OrientWay = (typeof ORIENT_WAYS)[number];

export interface OrientReport {
  /** Faces that were turned over. */
  turned: number;
  /** Edges across which no way round agrees: the surface is one-sided there. */
  torn: number;
}

export interface OrientOptions {
  way: OrientWay;
  /** Which faces; all when left out. */
  wanted?: (face: number) => boolean;
}

/**
 * Settles which way faces look. `flip` turns those that are wanted; `consistent` turns the lesser part, by area, of
 * each piece that hangs together by edges with two faces; `outward` does the same, and then turns whole closed shells:
 * those in no other or in a hollow look outward, those within one other inward, and so on by turns. Pieces without a
 * wanted face are left as they are. No vertex moves; layers go along.
 *
 * @example
 * const { mesh } = orient(flipMesh(box(10, 10, 10)), { way: 'outward' });
 */
export function orient(m: PolyMesh, { way, wanted = () => true }: OrientOptions): OpResult<OrientReport> {
  const n = faceCount(m);
  const list = Array.from({ length: n }, (_, f) => wanted(f));
  if (way === 'flip')
    return { mesh: flipMesh(m, (f) => list[f]!), report: { turned: list.filter(Boolean).length, torn: 0 } };
  const { against, piece, pieces, torn } = sidesOf(new Looked(m));
  const touched = new Uint8Array(pieces);
  list.forEach((is, f) => is && (touched[piece[f]!] = 1));
  const turn = Uint8Array.from(against, (a, f) => (touched[piece[f]!] ? a : 0));
  if (way === 'outward') {
    // Each shell by itself: pieces that meet at an edge with more faces would not count as closed.
    const agreed = flipMesh(m, (f) => turn[f] === 1);
    for (const { piece: k, inward } of nested(agreed, piece, pieces)) {
      if (!inward || !touched[k]) continue;
      for (let f = 0; f < n; f++) if (piece[f] === k) turn[f]! ^= 1;
    }
  }
  return {
    mesh: flipMesh(m, (f) => turn[f] === 1),
    report: { turned: turn.reduce((s, x) => s + x, 0), torn: torn.length },
  };
}

/** For each closed piece, whether it looks the wrong way for where it lies among the others. */
function nested(m: PolyMesh, piece: Int32Array, pieces: number): { piece: number; inward: boolean }[] {
  const l = new Looked(m);
  if (l.pieces.count === pieces)
    return shells(l).map(({ shell, depth }) => ({
      piece: piece[shell.face]!,
      inward: shell.volume < 0 !== (depth % 2 === 1),
    }));
  return Array.from({ length: pieces }, (_, k) => k).flatMap((k) => {
    const own = shells(new Looked(takeFaces(m, (f) => piece[f] === k)));
    return own.map(({ shell }) => ({ piece: k, inward: shell.volume < 0 }));
  });
}
