import { faceBegin, faceCount, faceEnd } from '../mesh/index.ts';
import { Places, type Looked } from './look.ts';

/** Which faces look the other way than most of the piece that they belong to. */
export interface Sides {
  /** 1 for a face that must be turned over, so that its piece looks one way. */
  against: Uint8Array;
  /** The piece of each face: what hangs together by edges with two faces. */
  piece: Int32Array;
  pieces: number;
  /** Edges, each by a corner, whose faces cannot agree: the piece is one-sided. */
  torn: number[];
}

/**
 * Goes from face to face across edges with two faces, and tells those that look one way from those that look the other;
 * the lesser of the two by area is against. Edges with three faces or more are not crossed: there any way round is as
 * good as another.
 */
export function sidesOf(l: Looked): Sides {
  const known = l.known.get('sides') as Sides | undefined;
  if (known) return known;
  const { mesh: m, topology: t } = l;
  const n = faceCount(m);
  const piece = new Int32Array(n).fill(-1);
  const side = new Uint8Array(n);
  const waiting = new Int32Array(n);
  const weigh: number[] = [];
  const torn: number[] = [];
  let pieces = 0;
  for (let first = 0; first < n; first++) {
    if (piece[first]! >= 0) continue;
    piece[first] = pieces;
    waiting[0] = first;
    let balance = 0;
    for (let left = 1; left > 0;) {
      const f = waiting[--left]!;
      balance += (side[f] ? -1 : 1) * l.areas[f]!;
      for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
        const o = t.sameEdge[c]!;
        if (o === c || t.sameEdge[o] !== c) continue;
        const g = t.face[o]!;
        if (g === f) continue;
        const same = Number(m.corners[o] === m.corners[c]);
        if (piece[g]! < 0) {
          piece[g] = pieces;
          side[g] = side[f]! ^ same;
          waiting[left++] = g;
        } else if (side[g] !== (side[f]! ^ same) && c < o) torn.push(c);
      }
    }
    weigh.push(balance);
    pieces++;
  }
  const against = side.map((s, f) => (weigh[piece[f]!]! < 0 ? 1 - s : s));
  const sides = { against, piece, pieces, torn };
  l.known.set('sides', sides);
  return sides;
}

/** Faces that look the other way than the rest of their piece. Where no edge is flipped there are none. */
export function flippedFaces(l: Looked): Places {
  const out = new Places('face');
  // Without an edge that is out of the ordinary all faces agree.
  if (!l.edges.odd.length) return out;
  sidesOf(l).against.forEach((a, f) => a && out.add(f));
  return out;
}
