import {
  faceAreas,
  faceBegin,
  faceCount,
  faceEnd,
  components,
  sizeOf,
  takeFaces,
  topologyOf,
  type PolyMesh,
} from '../mesh/index.ts';

/** A closed piece thinner on average than this share of the part's size is rounding, not material. */
const THIN_PIECE = 1e-8;
/** Larger results are not taken apart to look for such pieces: a cut costs what it touches. */
const MOST_TAKEN_APART = 100_000;

/** Six times the signed volume that each face spans with the origin. */
function spans(m: PolyMesh): Float64Array {
  const out = new Float64Array(faceCount(m));
  const P = m.positions;
  for (let f = 0; f < out.length; f++)
    for (let l = m.faceLoops[f]!; l < m.faceLoops[f + 1]!; l++) {
      const [begin, end] = [m.loopStart[l]!, m.loopStart[l + 1]!];
      const a = 3 * m.corners[begin]!;
      for (let c = begin + 1; c + 1 < end; c++) {
        const [b, d] = [3 * m.corners[c]!, 3 * m.corners[c + 1]!];
        out[f]! +=
          P[a]! * (P[b + 1]! * P[d + 2]! - P[b + 2]! * P[d + 1]!) +
          P[a + 1]! * (P[b + 2]! * P[d]! - P[b]! * P[d + 2]!) +
          P[a + 2]! * (P[b]! * P[d + 1]! - P[b + 1]! * P[d]!);
      }
    }
  return out;
}

/**
 * A solid without the closed pieces that are too thin to be material: what a body less itself, moved by less than
 * anyone can make, leaves of it. The same mesh where there are none; pieces that were there before the cut are looked
 * at like the others. The mean thickness of a piece is twice its volume by its area.
 */
export function withoutSkins(m: PolyMesh): PolyMesh {
  if (faceCount(m) > MOST_TAKEN_APART) return m;
  const { count, of } = components(m);
  const [volume, area] = [new Float64Array(count), new Float64Array(count)];
  const [span, areas] = [spans(m), faceAreas(m)];
  for (let f = 0; f < of.length; f++) {
    volume[of[f]!]! += span[f]! / 6;
    area[of[f]!]! += areas[f]!;
  }
  const least = THIN_PIECE * sizeOf(m);
  const thin = volume.map((v, k) => Number(2 * Math.abs(v) < least * area[k]!));
  return thin.some(Boolean) ? takeFaces(m, (f) => !thin[of[f]!]) : m;
}

/** How many closed hollows a course has made: pieces of nothing but its own walls, that look inward. */
export function hollowsOf(m: PolyMesh, course: number): number {
  const { source } = m.layers;
  if (!source) return 0;
  const own = (f: number): boolean => source[3 * f + 2] === course;
  const t = topologyOf(m);
  const seen = new Uint8Array(faceCount(m));
  let span: Float64Array | null = null;
  let hollows = 0;
  for (let first = 0; first < seen.length; first++) {
    if (seen[first] || !own(first)) continue;
    const piece = [first];
    seen[first] = 1;
    let closed = true;
    for (const f of piece)
      for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
        const o = t.opposite[c]!;
        const g = o < 0 ? -1 : t.face[o]!;
        if (g < 0 || !own(g)) closed = false;
        else if (!seen[g]) seen[g] = piece.push(g) > 0 ? 1 : 0;
      }
    if (!closed) continue;
    span ??= spans(m);
    if (piece.reduce((v, f) => v + span![f]!, 0) < 0) hollows++;
  }
  return hollows;
}
