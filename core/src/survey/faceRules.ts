import {
  faceBegin,
  faceBend,
  faceCount,
  faceEnd,
  FlatFace,
  hasNoArea,
  segmentsMeet,
  type PolyMesh,
} from '../mesh/index.ts';
import { allFaces, Places, type Looked } from './look.ts';

/** Corners sharper than this (degrees) make a face a sliver. */
export const SLIVER_ANGLE = 1;
/** Faces that depart from their plane by more than this share of the size are bent. */
export const BENT = 1e-5;
/** Boundaries of more corners are not checked for crossing themselves: it would take too long. */
const MOST_CORNERS = 2000;

const single = ({ mesh: m }: Looked, f: number): boolean => m.faceLoops[f + 1]! - m.faceLoops[f]! === 1;
const sides = ({ mesh: m }: Looked, f: number): number => faceEnd(m, f) - faceBegin(m, f);

/** Faces of five corners or more, or with inner boundaries; the value is how many corners. */
export function ngons(l: Looked): Places {
  const out = new Places('face');
  if (l.allTriangles) return out;
  for (let f = 0; f < faceCount(l.mesh); f++) {
    const n = sides(l, f);
    if (!single(l, f) || n > 4) out.add(f, n);
  }
  return out;
}

export function triangles(l: Looked): Places {
  if (l.allTriangles) return allFaces(l);
  const out = new Places('face');
  for (let f = 0; f < faceCount(l.mesh); f++) if (single(l, f) && sides(l, f) === 3) out.add(f);
  return out;
}

/** Faces without area, see `hasNoArea`; the value is the area, mm². */
export function zeroAreaFaces({ mesh, areas, size }: Looked): Places {
  const out = new Places('face');
  for (let f = 0; f < areas.length; f++) if (hasNoArea(mesh, f, areas[f]!, size)) out.add(f, areas[f]!);
  return out;
}

/** Faces over the same vertices as an earlier face that has an edge in common with them, whichever way round. */
export function doubledFaces({ mesh: m, topology: t }: Looked): Places {
  const out = new Places('face');
  const { sameEdge, face } = t;
  for (let f = 0; f < faceCount(m); f++) {
    const begin = faceBegin(m, f);
    // The next edge is on the same faces, too.
    const [only, second] = [sameEdge[begin]!, sameEdge[begin + 1]!];
    if (sameEdge[only] === begin && sameEdge[second] === begin + 1 && face[only] !== face[second]) continue;
    for (let o = only; o !== begin; o = sameEdge[o]!) {
      const g = face[o]!;
      if (g >= f || !sameFace(m, f, g)) continue;
      out.add(f);
      break;
    }
  }
  return out;
}

/** Whether two faces have the very same vertices. */
function sameFace(m: PolyMesh, f: number, g: number): boolean {
  const [begin, end] = [faceBegin(m, g), faceEnd(m, g)];
  if (faceEnd(m, f) - faceBegin(m, f) !== end - begin) return false;
  for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
    let there = false;
    for (let d = begin; d < end && !there; d++) there = m.corners[d] === m.corners[c];
    if (!there) return false;
  }
  return true;
}

/** Faces with a corner under `SLIVER_ANGLE`; the value is the angle, degrees. */
export function slivers({ mesh: m, topology: t, shapes: { areas, longest } }: Looked): Places {
  const out = new Places('face');
  const sharp = Math.sin((SLIVER_ANGLE * Math.PI) / 180);
  // Compared by squares, so that a root is drawn at slivers only.
  const limit = Math.cos((SLIVER_ANGLE * Math.PI) / 180) ** 2;
  const P = m.positions;
  const { corners } = m;
  const { prev, next } = t;
  for (let f = 0; f < faceCount(m); f++) {
    // Twice the area is the product of two sides and the sine between them: of a fat triangle no corner is sharp.
    if (2 * areas[f]! > sharp * longest[f]!) continue;
    let sharpest = limit;
    const end = faceEnd(m, f);
    for (let c = faceBegin(m, f); c < end; c++) {
      const v = 3 * corners[c]!;
      const a = 3 * corners[prev[c]!]!;
      const b = 3 * corners[next[c]!]!;
      const x = P[v]!;
      const y = P[v + 1]!;
      const z = P[v + 2]!;
      const ux = P[a]! - x;
      const uy = P[a + 1]! - y;
      const uz = P[a + 2]! - z;
      const wx = P[b]! - x;
      const wy = P[b + 1]! - y;
      const wz = P[b + 2]! - z;
      const dot = ux * wx + uy * wy + uz * wz;
      if (dot <= 0) continue;
      const lengths = (ux * ux + uy * uy + uz * uz) * (wx * wx + wy * wy + wz * wz);
      if (dot * dot > sharpest * lengths) sharpest = (dot * dot) / lengths;
    }
    if (sharpest > limit) out.add(f, (Math.acos(Math.min(1, Math.sqrt(sharpest))) * 180) / Math.PI);
  }
  return out;
}

/** Faces that depart from their own mean plane; the value is the greatest distance, mm. */
export function bentFaces(l: Looked): Places {
  const out = new Places('face');
  const { mesh: m, size } = l;
  if (l.allTriangles) return out;
  for (let f = 0; f < faceCount(m); f++) {
    const bend = faceBend(m, f);
    if (bend > BENT * size) out.add(f, bend);
  }
  return out;
}

/** Faces whose boundary crosses itself, seen squarely, and quads with a corner that turns inward. */
export function foldedFaces(l: Looked): Places {
  const out = new Places('face');
  if (l.allTriangles) return out;
  const { mesh: m, topology: t, normals } = l;
  const P = m.positions;
  const turn = (f: number, c: number): number => {
    const [v, a, b] = [3 * m.corners[c]!, 3 * m.corners[t.prev[c]!]!, 3 * m.corners[t.next[c]!]!];
    const [ux, uy, uz] = [P[v]! - P[a]!, P[v + 1]! - P[a + 1]!, P[v + 2]! - P[a + 2]!];
    const [wx, wy, wz] = [P[b]! - P[v]!, P[b + 1]! - P[v + 1]!, P[b + 2]! - P[v + 2]!];
    const d =
      (uy * wz - uz * wy) * normals[3 * f]! +
      (uz * wx - ux * wz) * normals[3 * f + 1]! +
      (ux * wy - uy * wx) * normals[3 * f + 2]!;
    return d / (Math.sqrt((ux * ux + uy * uy + uz * uz) * (wx * wx + wy * wy + wz * wz)) || 1);
  };
  for (let f = 0; f < faceCount(m); f++) {
    const n = sides(l, f);
    if (n < 4 || n > MOST_CORNERS) continue;
    let inward = 0;
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) if (turn(f, c) < -1e-6) inward++;
    // A face without an inward corner is convex and cannot cross itself.
    if (inward && (n === 4 || boundaryCrosses(m, f))) out.add(f);
  }
  return out;
}

/** Whether the boundaries of a face cross themselves or each other, seen squarely. */
export function boundaryCrosses(m: PolyMesh, f: number): boolean {
  const flat = new FlatFace(m, f);
  const ends = flat.boundaries.flatMap((loop) => loop.map((c, i) => [c, loop[(i + 1) % loop.length]!] as const));
  for (let i = 0; i < ends.length; i++)
    for (let j = i + 1; j < ends.length; j++) {
      const [a, b] = ends[i]!;
      const [c, d] = ends[j]!;
      const shared = [m.corners[a], m.corners[b]].some((v) => v === m.corners[c] || v === m.corners[d]);
      if (!shared && segmentsMeet(flat.at(a), flat.at(b), flat.at(c), flat.at(d), 0)) return true;
    }
  return false;
}

/** Faces all of whose edges have three faces or more: walls inside. Doubled faces are excluded. */
export function innerFaces({ mesh: m, topology: t, edges }: Looked): Places {
  const out = new Places('face');
  if (!edges.odd.length) return out;
  const doubled = (f: number): boolean => {
    const begin = faceBegin(m, f);
    for (let o = t.sameEdge[begin]!; o !== begin; o = t.sameEdge[o]!) if (sameFace(m, f, t.face[o]!)) return true;
    return false;
  };
  const many = (c: number) => t.sameEdge[c] !== c && t.sameEdge[t.sameEdge[c]!] !== c;
  for (let f = 0; f < faceCount(m); f++) {
    let all = true;
    for (let c = faceBegin(m, f); c < faceEnd(m, f) && all; c++) all = many(c);
    if (all && !doubled(f)) out.add(f);
  }
  return out;
}
