import earcut from 'earcut';
import { facePlane, planeBasis } from './planes.ts';
import { faceBegin, faceCount, faceEnd, type PolyMesh } from './polymesh.ts';

const basis = new Float64Array(6);

/**
 * Triangles of face f as corner numbers, three each, counter-clockwise from outside. Any polygon, flat or bent,
 * concave, with inner boundaries, is laid on its mean plane (Newell) and cut by ear clipping (`earcut`); corners that
 * ear clipping drops are put back, so that neighbouring faces keep meeting edge to edge.
 */
export function triangulateFace(m: PolyMesh, f: number, out: number[] = []): number[] {
  const s = faceBegin(m, f);
  const e = faceEnd(m, f);
  const single = m.faceLoops[f + 1]! - m.faceLoops[f]! === 1;
  if (single && e - s === 3) {
    out.push(s, s + 1, s + 2);
    return out;
  }
  const plane = facePlane(m, f);
  planeBasis(plane, 0, basis);
  const flat: number[] = [];
  for (let c = s; c < e; c++) {
    const i = 3 * m.corners[c]!;
    const x = m.positions[i]! - plane[3]!;
    const y = m.positions[i + 1]! - plane[4]!;
    const z = m.positions[i + 2]! - plane[5]!;
    flat.push(basis[0]! * x + basis[1]! * y + basis[2]! * z, basis[3]! * x + basis[4]! * y + basis[5]! * z);
  }
  if (single && e - s === 4) {
    quadTriangles(m, s, flat, out);
    return out;
  }
  const starts: number[] = [];
  for (let l = m.faceLoops[f]!; l < m.faceLoops[f + 1]!; l++) starts.push(m.loopStart[l]! - s);
  for (const i of triangulateFlat(flat, starts)) out.push(s + i);
  return out;
}

/**
 * Triangles of a polygon of a plane as numbers of its points, three each, turning as its first boundary does; every
 * point of its boundaries is a corner of one.
 * `flat`: two coordinates per point; `starts`: the first point of each boundary, the outer one first.
 */
export function triangulateFlat(flat: readonly number[], starts: readonly number[]): number[] {
  const n = flat.length / 2;
  const next = Int32Array.from({ length: n }, (_, i) => i + 1);
  starts.forEach((s, l) => (next[(starts[l + 1] ?? n) - 1] = s));
  return withGapsClosed(orient(earcut(flat, starts.slice(1), 2), flat), next);
}

/** A quad is cut along its shorter diagonal that leaves both triangles turning the right way. */
function quadTriangles(m: PolyMesh, s: number, flat: number[], out: number[]): void {
  const turn = (a: number, b: number, c: number) =>
    (flat[2 * b]! - flat[2 * a]!) * (flat[2 * c + 1]! - flat[2 * a + 1]!) -
    (flat[2 * c]! - flat[2 * a]!) * (flat[2 * b + 1]! - flat[2 * a + 1]!);
  const length = (a: number, b: number) => {
    const i = 3 * m.corners[s + a]!;
    const j = 3 * m.corners[s + b]!;
    const P = m.positions;
    return (P[i]! - P[j]!) ** 2 + (P[i + 1]! - P[j + 1]!) ** 2 + (P[i + 2]! - P[j + 2]!) ** 2;
  };
  const worst02 = Math.min(turn(0, 1, 2), turn(0, 2, 3));
  const worst13 = Math.min(turn(0, 1, 3), turn(1, 2, 3));
  const use02 = worst02 > 0 && worst13 > 0 ? length(0, 2) <= length(1, 3) * (1 + 1e-12) : worst02 >= worst13;
  if (use02) out.push(s, s + 1, s + 2, s, s + 2, s + 3);
  else out.push(s, s + 1, s + 3, s + 1, s + 2, s + 3);
}

/** Turns all triangles the way the outer boundary runs; the boundary is counter-clockwise on its own plane. */
function orient(tris: number[], flat: readonly number[]): number[] {
  let area = 0;
  for (let i = 0; i < tris.length; i += 3) {
    const [a, b, c] = [2 * tris[i]!, 2 * tris[i + 1]!, 2 * tris[i + 2]!];
    area +=
      (flat[b]! - flat[a]!) * (flat[c + 1]! - flat[a + 1]!) - (flat[c]! - flat[a]!) * (flat[b + 1]! - flat[a + 1]!);
  }
  return area >= 0 ? tris : tris.reverse();
}

/**
 * Makes the triangles cover the polygon edge to edge. Ear clipping drops corners on a straight run, and leaves a gap
 * where corners nearly coincide: what it left is a set of closed walks of boundary edges without a triangle and of
 * triangle edges without a partner. A walk with one triangle edge is a run that this edge passes over: its triangle
 * becomes a fan over the run. Any other walk is a gap, and is filled.
 */
function withGapsClosed(tris: number[], next: Int32Array): number[] {
  const n = next.length;
  const gaps = leftWalks(tris, next);
  if (!gaps.length) return tris;
  /** The run that replaces a directed triangle edge. */
  const over = new Map<number, number[]>();
  const out: number[] = [];
  for (const walk of gaps) {
    const own = walk.map((v, i) => next[v] === walk[(i + 1) % walk.length]);
    const at = own.indexOf(false);
    if (at >= 0 && at === own.lastIndexOf(false)) {
      const run = [...walk.slice(at + 1), ...walk.slice(0, at + 1)];
      over.set(run[0]! * n + run.at(-1)!, run);
    } else for (let i = 1; i + 1 < walk.length; i++) out.push(walk[0]!, walk[i]!, walk[i + 1]!);
  }
  const todo = tris.slice();
  while (todo.length) {
    const [a, b, c] = todo.splice(-3) as [number, number, number];
    const corner = [a, b, c];
    const k = corner.findIndex((u, i) => over.has(u * n + corner[(i + 1) % 3]!));
    if (k < 0) {
      out.push(a, b, c);
      continue;
    }
    const key = corner[k]! * n + corner[(k + 1) % 3]!;
    const run = over.get(key)!;
    over.delete(key);
    for (let j = 0; j + 1 < run.length; j++) todo.push(run[j]!, run[j + 1]!, corner[(k + 2) % 3]!);
  }
  return out;
}

/**
 * Closed walks of the directed edges that are left when triangle edges are taken off the boundaries, and off each
 * other.
 */
function leftWalks(tris: number[], next: Int32Array): number[][] {
  const n = next.length;
  const left = new Set<number>();
  for (let i = 0; i < n; i++) left.add(i * n + next[i]!);
  for (let i = 0; i < tris.length; i += 3)
    for (let k = 0; k < 3; k++) {
      const [u, v] = [tris[i + k]!, tris[i + ((k + 1) % 3)]!];
      if (!left.delete(u * n + v)) left.add(v * n + u);
    }
  const from = new Map<number, number[]>();
  for (const e of left) {
    const u = Math.floor(e / n);
    const list = from.get(u);
    if (list) list.push(e % n);
    else from.set(u, [e % n]);
  }
  const walks: number[][] = [];
  /**
   * The way on from a corner: along its boundary where that is left, so that a run ends where the triangle edge over it
   * began.
   */
  const onward = (v: number): number | undefined => {
    const list = from.get(v);
    const at = list?.indexOf(next[v]!) ?? -1;
    return at >= 0 ? list!.splice(at, 1)[0] : list?.pop();
  };
  const walkFrom = (start: number, first: number): void => {
    const walk = [start];
    let v: number | undefined = first;
    while (v !== undefined && v !== start) {
      walk.push(v);
      v = onward(v);
    }
    // A boundary that passes an edge twice leaves walks that do not close: there is nothing to fill.
    if (v === start) walks.push(walk);
  };
  // Triangle edges first: each is passed over by one run, or is the side of one gap.
  for (const [start, list] of from)
    for (let at = list.findIndex((v) => v !== next[start]); at >= 0; at = list.findIndex((v) => v !== next[start]))
      walkFrom(start, list.splice(at, 1)[0]!);
  for (const [start, list] of from) while (list.length) walkFrom(start, list.pop()!);
  return walks;
}

/** All triangles of a mesh: corner numbers, three each, and the face of each triangle. */
export function triangulateMesh(m: PolyMesh): { triangles: Int32Array; face: Int32Array } {
  const triangles: number[] = [];
  const face: number[] = [];
  for (let f = 0; f < faceCount(m); f++) {
    triangulateFace(m, f, triangles);
    while (face.length < triangles.length / 3) face.push(f);
  }
  return { triangles: Int32Array.from(triangles), face: Int32Array.from(face) };
}
