import {
  Bvh,
  checkCancelled,
  faceBegin,
  faceCount,
  faceEnd,
  MasonError,
  partOf,
  sizeOf,
  topologyOf,
  vertexPlace,
  type OpContext,
  type PolyMesh,
} from '../../mesh/index.ts';
import { BandFaces } from './bandFaces.ts';
import { BandLines } from './bandLines.ts';
import type { Bands, BandWish } from './bands.ts';
import { CREASE, FineTriangles, PLAIN, SEAM } from './fineTriangles.ts';

/** Faces within so many widths of the seam are looked at: twice as wide is a mitre, and the front goes on a half. */
const IN_REACH = 3.1;
/** A face is flat within this share of the size. */
const FLAT = 1e-9;
/** Rounds where a face made cuts through another, narrower by a little in half of them, then by more. */
const [MOST_GATES, FIRST, NARROWER] = [8, 0.95, 0.7];

/**
 * Lays one band of quads beside the wanted sides of a seam, whatever faces lie there: from the seam to the line at one
 * width, measured over the surface. What lies beneath is taken out, what lies beyond ends at the spokes. A width is less
 * where other sides, creases or borders are near; a side without a line is left as it was.
 *
 * Short edges of the seam are joined where it moves by less than 0.04 of the width, when both its sides have a band.
 * Throws `not-done` where no side has room. Source: level lines of a distance field on a triangulated surface
 * (marching triangles), with longest-edge refinement (Rivara, 1997).
 */
export function layBands(m: PolyMesh, wish: BandWish, ctx?: OpContext): Bands {
  const t = topologyOf(m);
  /** Corners of sides without a band, and the first of each such side. */
  const lone = new Set<number>();
  const none: number[] = [];
  const seam = new Set<number>();
  for (const c of wish.seam) {
    seam.add(c);
    if (t.opposite[c]! >= 0) seam.add(t.opposite[c]!);
  }
  const faces = facesInReach(m, [...seam], IN_REACH * wish.width);
  const kindOf = (c: number): number => {
    if (seam.has(c)) return SEAM;
    return t.opposite[c]! < 0 || wish.isCrease(c) ? CREASE : PLAIN;
  };
  for (let turn = 0; ; turn++) {
    checkCancelled(ctx);
    const fine = new FineTriangles(m, faces, kindOf, FLAT * sizeOf(m));
    const isWanted = (halves: readonly number[]) => {
      const corners = halves.map((h) => fine.corner[h]!);
      return wish.isWanted(corners) && !corners.some((c) => lone.has(c));
    };
    const lines = new BandLines(fine, wish.width, isWanted, wish.aim, wish.shift);
    if (!lines.s.sides.some((x) => x.isWanted)) throw noRoom(m, none[0]);
    // Each round, with a side less, takes half of the progress that is left.
    const made = laidOut(m, lines, wish, partOf(ctx, 1 - 0.5 ** turn, 1 - 0.5 ** (turn + 1)));
    if (!('none' in made)) return { ...made.bands, none };
    for (const k of made.none) {
      const corners = lines.s.sides[k]!.list.map((h) => fine.corner[lines.s.half[h]!]!);
      none.push(corners[0]!);
      for (const c of corners) lone.add(c);
    }
  }
}

function noRoom(m: PolyMesh, first: number | undefined): MasonError {
  if (first === undefined)
    return new MasonError('bad-input', 'None of the sides that are asked for is there. Ask for both sides.');
  return new MasonError(
    'not-done',
    'There is no room for a band on any side. Type a smaller width, or pick other edges.',
    { point: vertexPlace(m, m.corners[first]!) },
  );
}

/** Faces whose boxes come near to corners of the seam. */
function facesInReach(m: PolyMesh, seam: readonly number[], reach: number): number[] {
  const { next } = topologyOf(m);
  const boxes = new Float64Array(6 * seam.length);
  seam.forEach((c, i) => {
    const [p, q] = [vertexPlace(m, m.corners[c]!), vertexPlace(m, m.corners[next[c]!]!)];
    for (let k = 0; k < 3; k++) {
      boxes[6 * i + k] = Math.min(p[k]!, q[k]!);
      boxes[6 * i + 3 + k] = Math.max(p[k]!, q[k]!);
    }
  });
  const tree = new Bvh(
    boxes,
    Int32Array.from(seam, (_, i) => i),
  );
  const out: number[] = [];
  const box = new Float64Array(6);
  for (let f = 0; f < faceCount(m); f++) {
    box.fill(Infinity, 0, 3).fill(-Infinity, 3);
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++)
      for (let k = 0; k < 3; k++) {
        const x = m.positions[3 * m.corners[c]! + k]!;
        box[k] = Math.min(box[k]!, x);
        box[3 + k] = Math.max(box[3 + k]!, x);
      }
    let near = false;
    tree.overlaps(box, 0, reach, () => (near = true));
    if (near) out.push(f);
  }
  return out;
}

/** Lays lines out as faces, narrower where a face would cut through another one; else the sides that have none. */
function laidOut(
  m: PolyMesh,
  lines: BandLines,
  wish: BandWish,
  ctx: OpContext | undefined,
): { bands: Omit<Bands, 'none'> } | { none: number[] } {
  let faulty: number[] = [];
  for (let i = 0; i <= MOST_GATES; i++) {
    const laid = lines.lay(partOf(ctx, i / (MOST_GATES + 1), (i + 1) / (MOST_GATES + 1)));
    if ('none' in laid) return laid;
    const { s } = lines;
    const b = new BandFaces(m, lines, laid, wish);
    const bands = b.done();
    if (b.unfit.length) {
      for (const name of b.unfit) lines.fans.add(name);
      continue;
    }
    const faults = b.faults(bands.mesh, ctx);
    if (!faults.size) return { bands };
    const done = new Set<number>();
    for (const h of faults) s.narrow(h, 2 * i < MOST_GATES ? FIRST : NARROWER, 1, done);
    faulty = [...new Set([...faults].map((h) => s.sideOf[h]!))];
  }
  return { none: faulty };
}
