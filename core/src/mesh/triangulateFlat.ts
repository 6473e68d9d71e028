import earcut from 'earcut';

/**
 * Lengths that differ by less than this share are alike, and a triangle lower than it over its longest side is flat.
 */
export const LENGTHS_ALIKE = 1e-9;

/**
 * Triangles of a polygon of a plane as numbers of its points, three each, turning as its first boundary does; every
 * point of its boundaries is a corner of one.
 * `flat`: two coordinates per point; `starts`: the first point of each boundary, the outer one first.
 */
export function triangulateFlat(flat: readonly number[], starts: readonly number[]): number[] {
  const n = flat.length / 2;
  const next = Int32Array.from({ length: n }, (_, i) => i + 1);
  starts.forEach((s, l) => (next[(starts[l + 1] ?? n) - 1] = s));
  return withoutFlatOnes(withGapsClosed(orient(earcut(flat, starts.slice(1), 2), flat), next), flat);
}

/**
 * Triangles of which three corners stand in a straight line have no plane: each gives way, with its neighbour over its
 * longest side, to the two that stand on its shorter sides.
 */
function withoutFlatOnes(tris: number[], flat: readonly number[]): number[] {
  const square = (a: number, b: number) =>
    (flat[2 * a]! - flat[2 * b]!) ** 2 + (flat[2 * a + 1]! - flat[2 * b + 1]!) ** 2;
  const turn = (a: number, b: number, c: number) =>
    (flat[2 * b]! - flat[2 * a]!) * (flat[2 * c + 1]! - flat[2 * a + 1]!) -
    (flat[2 * c]! - flat[2 * a]!) * (flat[2 * b + 1]! - flat[2 * a + 1]!);
  /**
   * The corner of a triangle that stands on its longest side, where it is no higher than rounding; −1 of a sound one.
   */
  const flatCorner = (t: number): number => {
    const [a, b, c] = [tris[t]!, tris[t + 1]!, tris[t + 2]!];
    const sides = [square(b, c), square(c, a), square(a, b)];
    const longest = Math.max(...sides);
    return turn(a, b, c) > LENGTHS_ALIKE * longest ? -1 : sides.indexOf(longest);
  };
  const todo: number[] = [];
  for (let t = 0; t < tris.length; t += 3) if (flatCorner(t) >= 0) todo.push(t);
  if (!todo.length) return tris;
  const n = flat.length / 2;
  const at = new Map<number, number>();
  const note = (t: number): void => {
    for (let k = 0; k < 3; k++) at.set(tris[t + k]! * n + tris[t + ((k + 1) % 3)]!, t + k);
  };
  for (let t = 0; t < tris.length; t += 3) note(t);
  // Each turn of a diagonal takes one away or hands it on; a run of corners in line hands it on once a corner.
  for (let left = 2 * n; todo.length && left > 0; left--) {
    const t = todo.pop()!;
    const k = flatCorner(t);
    if (k < 0) continue;
    const [b, c, a] = [tris[t + k]!, tris[t + ((k + 1) % 3)]!, tris[t + ((k + 2) % 3)]!];
    const over = at.get(a * n + c);
    if (over === undefined) continue;
    const other = over - (over % 3);
    const d = tris[other + ((over + 2) % 3)]!;
    if (d === b || at.has(b * n + d) || at.has(d * n + b)) continue;
    at.delete(a * n + c);
    at.delete(c * n + a);
    tris.splice(t, 3, a, b, d);
    tris.splice(other, 3, b, c, d);
    note(t);
    note(other);
    todo.push(t, other);
  }
  return tris;
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
