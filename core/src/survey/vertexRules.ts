import { Bvh, checkCancelled, lowerBound, pinchedVertices as pinched, PlaceGrid } from '../mesh/index.ts';
import { Places, type Looked } from './look.ts';

/** Vertices nearer to each other, or to an edge, than this share of the size are in the same place. */
export const SAME_PLACE = 1e-6;
/** Two edges that turn by less than this (sine) at a vertex run straight on. */
const STRAIGHT_ON = 1e-6;

/** Vertices that no face uses. */
export function isolatedVertices({ valence }: Looked): Places {
  const out = new Places('vertex');
  valence.forEach((n, v) => n === 0 && out.add(v));
  return out;
}

/**
 * Vertices in the place of an earlier one; the value is the distance, mm. They are sought in cells of a grid, so that
 * the cost is linear; a pair that straddles cells is found in the neighbouring ones.
 */
export function doubledVertices({ mesh: m, size, valence }: Looked): Places {
  const out = new Places('vertex');
  const reach = SAME_PLACE * size;
  if (!(reach > 0)) return out;
  const P = m.positions;
  const n = P.length / 3;
  const grid = new PlaceGrid(n, reach);
  for (let v = 0; v < n; v++) {
    if (valence[v] === 0) continue;
    const [x, y, z] = [P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!];
    let best = Infinity;
    const count = grid.near(x, y, z);
    for (let c = 0; c < count; c++) {
      const w = grid.found[c]!;
      const [dx, dy, dz] = [P[3 * w]! - x, P[3 * w + 1]! - y, P[3 * w + 2]! - z];
      const d = dx * dx + dy * dy + dz * dz;
      if (d <= reach * reach && d < best) best = d;
    }
    if (best < Infinity) out.add(v, Math.sqrt(best));
    grid.add(v, x, y, z);
  }
  return out;
}

/** Vertices at which faces meet at a point only. */
export function pinchedVertices({ mesh }: Looked): Places {
  const out = new Places('vertex');
  for (const v of pinched(mesh)) out.add(v);
  return out;
}

/** Vertices of two edges that run straight on through them: left over on a straight run. */
export function straightVertices({ mesh: m, topology: t, valence }: Looked): Places {
  const out = new Places('vertex');
  const P = m.positions;
  const done = new Uint8Array(valence.length);
  if (!valence.includes(2)) return out;
  for (let c = 0; c < m.corners.length; c++) {
    const v = m.corners[c]!;
    if (valence[v] !== 2 || done[v]) continue;
    done[v] = 1;
    const [a, b] = [3 * m.corners[t.prev[c]!]!, 3 * m.corners[t.next[c]!]!];
    const [ux, uy, uz] = [P[3 * v]! - P[a]!, P[3 * v + 1]! - P[a + 1]!, P[3 * v + 2]! - P[a + 2]!];
    const [wx, wy, wz] = [P[b]! - P[3 * v]!, P[b + 1]! - P[3 * v + 1]!, P[b + 2]! - P[3 * v + 2]!];
    const cross = Math.hypot(uy * wz - uz * wy, uz * wx - ux * wz, ux * wy - uy * wx);
    const lengths = Math.hypot(ux, uy, uz) * Math.hypot(wx, wy, wz);
    if (cross <= STRAIGHT_ON * lengths && ux * wx + uy * wy + uz * wz > 0) out.add(v);
  }
  return out;
}

/**
 * Vertices that lie within an edge that they do not belong to; the value is the distance from it, mm. Sought among open
 * edges and their ends, where sides were split differently; by a deep look among all edges and vertices, which finds
 * pieces that touch, too.
 */
export function verticesOnEdges(l: Looked): Places {
  if (l.deep) return verticesOnAllEdges(l);
  const out = new Places('vertex');
  const { mesh: m, topology: t } = l;
  const P = m.positions;
  const open = [...l.edges.open];
  if (!open.length) return out;
  const reach = SAME_PLACE * l.size;
  // Along x: an edge meets only vertices between its two ends.
  const vertices = [...new Set(open.flatMap((c) => [m.corners[c]!, m.corners[t.next[c]!]!]))].sort(
    (a, b) => P[3 * a]! - P[3 * b]!,
  );
  const xs = Float64Array.from(vertices, (v) => P[3 * v]!);
  const least = new Map<number, number>();
  for (const c of open) {
    const [a, b] = [m.corners[c]!, m.corners[t.next[c]!]!];
    const [low, high] = [Math.min(P[3 * a]!, P[3 * b]!) - reach, Math.max(P[3 * a]!, P[3 * b]!) + reach];
    for (let i = lowerBound(xs, low); i < xs.length && xs[i]! <= high; i++) {
      const v = vertices[i]!;
      if (v === a || v === b) continue;
      const d = within(P, v, a, b, reach);
      if (d <= reach && d < (least.get(v) ?? Infinity)) least.set(v, d);
    }
  }
  for (const [v, d] of [...least].sort((x, y) => x[0] - y[0])) out.add(v, d);
  return out;
}

/** As `verticesOnEdges`, of all edges: each vertex looks for those whose boxes it is in. */
function verticesOnAllEdges(l: Looked): Places {
  const out = new Places('vertex');
  const { mesh: m, topology: t, ctx, size, valence } = l;
  const P = m.positions;
  const reach = SAME_PLACE * size;
  const n = t.edgeCorner.length;
  const boxes = new Float64Array(6 * n);
  t.edgeCorner.forEach((c, e) => {
    const [a, b] = [3 * m.corners[c]!, 3 * m.corners[t.next[c]!]!];
    for (let k = 0; k < 3; k++) {
      boxes[6 * e + k] = Math.min(P[a + k]!, P[b + k]!) - reach;
      boxes[6 * e + 3 + k] = Math.max(P[a + k]!, P[b + k]!) + reach;
    }
  });
  const tree = new Bvh(
    boxes,
    Int32Array.from({ length: n }, (_, e) => e),
  );
  const point = new Float64Array(6);
  for (let v = 0; v < valence.length; v++) {
    if (valence[v] === 0) continue;
    if (v % ASK_EVERY === 0) {
      checkCancelled(ctx);
      ctx?.progress?.(v / valence.length, 'looking for vertices on foreign edges');
    }
    for (let k = 0; k < 3; k++) point[k] = point[3 + k] = P[3 * v + k]!;
    let least = Infinity;
    tree.overlaps(point, 0, 0, (e) => {
      const c = t.edgeCorner[e]!;
      const [a, b] = [m.corners[c]!, m.corners[t.next[c]!]!];
      if (v !== a && v !== b) least = Math.min(least, within(P, v, a, b, reach));
    });
    if (least <= reach) out.add(v, least);
  }
  return out;
}

/** Vertices between two reports of progress and looks at the signal. */
const ASK_EVERY = 8192;

/** How far a vertex is from the inside of an edge, mm; infinite beside its ends. */
function within(P: Float64Array, v: number, a: number, b: number, reach: number): number {
  let [ee, we] = [0, 0];
  for (let k = 0; k < 3; k++) {
    const e = P[3 * b + k]! - P[3 * a + k]!;
    ee += e * e;
    we += e * (P[3 * v + k]! - P[3 * a + k]!);
  }
  const length = Math.sqrt(ee);
  const along = we / (length || 1);
  if (along <= reach || along >= length - reach) return Infinity;
  const s = we / ee;
  let dd = 0;
  for (let k = 0; k < 3; k++) dd += (P[3 * a + k]! + s * (P[3 * b + k]! - P[3 * a + k]!) - P[3 * v + k]!) ** 2;
  return Math.sqrt(dd);
}

/** Vertices where other than four edges meet, off the rim of a sheet; the value is how many. */
export function poles({ edges: { valence, rim } }: Looked): Places {
  const out = new Places('vertex');
  valence.forEach((n, v) => !rim[v] && (n === 3 || n > 4) && out.add(v, n));
  return out;
}
