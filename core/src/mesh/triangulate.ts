import earcut from 'earcut';
import { facePlane, planeBasis } from './planes.ts';
import { faceBegin, faceCount, faceEnd, type PolyMesh } from './polymesh.ts';

const basis = new Float64Array(6);

/**
 * Triangles of face f as corner numbers, three each, counter-clockwise from outside. Any polygon, flat or bent, concave,
 * with inner outlines, is laid on its mean plane (Newell) and cut by ear clipping (`earcut`); corners on a straight run,
 * which ear clipping drops, are put back, so that neighbouring faces keep meeting edge to edge.
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
  const holes: number[] = [];
  for (let l = m.faceLoops[f]! + 1; l < m.faceLoops[f + 1]!; l++) holes.push(m.loopStart[l]! - s);
  const tris = earcut(flat, holes, 2);
  const next = new Int32Array(e - s);
  for (let l = m.faceLoops[f]!; l < m.faceLoops[f + 1]!; l++)
    for (let c = m.loopStart[l]!; c < m.loopStart[l + 1]!; c++)
      next[c - s] = (c + 1 < m.loopStart[l + 1]! ? c + 1 : m.loopStart[l]!) - s;
  for (const i of withDroppedCorners(orient(tris, flat), next)) out.push(s + i);
  return out;
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

/** Turns all triangles the way the outer outline runs; the outline is counter-clockwise on its own plane. */
function orient(tris: number[], flat: number[]): number[] {
  let area = 0;
  for (let i = 0; i < tris.length; i += 3) {
    const [a, b, c] = [2 * tris[i]!, 2 * tris[i + 1]!, 2 * tris[i + 2]!];
    area +=
      (flat[b]! - flat[a]!) * (flat[c + 1]! - flat[a + 1]!) - (flat[c]! - flat[a]!) * (flat[b + 1]! - flat[a + 1]!);
  }
  return area >= 0 ? tris : tris.reverse();
}

/**
 * Puts back corners that a triangle edge passes over: an edge a → b that is neither an outline edge nor shared by
 * another triangle stands for a run a → … → b of the outline, and its triangle becomes a fan over that run.
 */
function withDroppedCorners(tris: number[], next: Int32Array): number[] {
  const n = next.length;
  const used = new Set<number>();
  for (let i = 0; i < tris.length; i += 3)
    for (let k = 0; k < 3; k++) used.add(tris[i + k]! * n + tris[i + ((k + 1) % 3)]!);
  let missing = 0;
  for (let i = 0; i < n; i++) if (!used.has(i * n + next[i]!)) missing++;
  if (!missing) return tris;
  const out: number[] = [];
  const todo = tris.slice();
  while (todo.length) {
    const c = todo.pop()!;
    const b = todo.pop()!;
    const a = todo.pop()!;
    const t = [a, b, c];
    let split = false;
    for (let k = 0; k < 3 && !split; k++) {
      const u = t[k]!;
      const v = t[(k + 1) % 3]!;
      const w = t[(k + 2) % 3]!;
      if (next[u] === v || used.has(v * n + u)) continue;
      const run = [u];
      let q = next[u]!;
      while (q !== v && q !== u && run.length <= n) {
        run.push(q);
        q = next[q]!;
      }
      if (q !== v || run.includes(w)) continue;
      run.push(v);
      used.delete(u * n + v);
      for (let j = 0; j + 1 < run.length; j++) {
        todo.push(run[j]!, run[j + 1]!, w);
        used.add(run[j]! * n + run[j + 1]!);
        if (j > 0) {
          used.add(run[j]! * n + w);
          used.add(w * n + run[j]!);
        }
      }
      split = true;
    }
    if (!split) out.push(a, b, c);
  }
  return out;
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
