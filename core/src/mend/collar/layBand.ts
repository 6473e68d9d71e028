import {
  insideRing,
  segmentsMeet,
  type Flat,
  type NewCorner,
  type NewFace,
  type Pass,
  type Spot,
} from '../../mesh/index.ts';
import { corner, type MeshEdit } from '../meshEdit.ts';
import type { Side } from './lineSides.ts';

/**
 * A line beside a side of edges, from spoke to spoke: the vertices at the ends of the spokes, and how the line runs
 * between each two.
 */
export interface OuterLine {
  /** New vertices, one for each corner of the side. */
  ends: readonly number[];
  /** The places of the ends. */
  spots: readonly Spot[];
  /** From each end to the next. */
  links: readonly (readonly Pass[])[];
}

/**
 * What lies under the band: the faces that go altogether, and the faces of which something is left, with what that is.
 */
export interface Laid {
  swallowed: number[];
  /** How many edges go with them. */
  edges: number;
  kept: Map<number, NewFace[]>;
}

/**
 * The line in one face: by which place of the face's border it comes in and goes out, null where it stays within; the
 * ends on its way.
 */
interface Piece {
  enters: At | null;
  leaves: At | null;
  ends: number[];
}

/** A place on the border of a face: a corner of it, and the share along that corner's edge. */
interface At {
  corner: number;
  share: number;
  /** The vertex that stands there. */
  vertex: number;
}

/** Which ends keep the line from being laid; none where that is not known. */
export class NoBand extends Error {
  constructor(readonly culprits: readonly number[]) {
    super('no band');
  }
}

/**
 * Parts the faces beside a side along an outer line, which has what is kept on its left: what is left of each face, and
 * the faces between the side and the line, which go. Edges that the line crosses end at the nearer end of the stretch
 * that crosses them, and vertices that it goes through become one with that end, so that the line has no vertex between
 * its ends.
 * Throws `NoBand` where the line is not one that a band can have.
 */
export function partAlong(e: MeshEdit, side: Side, line: OuterLine): Laid {
  const { mesh: m, topology: t } = e;
  const n = line.ends.length;
  const pieces = new Map<number, Piece[]>();
  const passed: { face: number; a: Spot; b: Spot; at: number }[] = [];
  /** Vertices that the line goes through between its ends, and the end that each becomes. */
  const merged = new Map<number, number>();
  /** Vertices that stand on edges, by edge: shares from the first corner of the edge. */
  const onEdge = new Map<number, { share: number; vertex: number }[]>();
  const stand = (s: Spot, vertex: number) => {
    if (s.corner < 0) return;
    const edge = t.edge[s.corner]!;
    const share = shareOn(e, edge, s);
    onEdge.set(edge, [...(onEdge.get(edge) ?? []).filter((x) => x.vertex !== vertex), { share, vertex }]);
  };
  line.spots.forEach((s, i) => stand(s, line.ends[i]!));
  /** Where a place lies on the border of a face. */
  const borderOf = (f: number, s: Spot, vertex: number): At => {
    if (s.corner >= 0) {
      for (const [c, share] of [
        [s.corner, s.share],
        [t.opposite[s.corner]!, 1 - s.share],
      ] as const)
        if (c >= 0 && t.face[c] === f) return { corner: c, share, vertex };
      throw new NoBand([]);
    }
    const corners = cornersAt(e, f, s.vertex);
    if (corners.length !== 1) throw new NoBand([]);
    return { corner: corners[0]!, share: 0, vertex };
  };
  /** Stretches of edges that the line runs along, by edge: nothing under the band goes on across them. */
  const along = new Map<number, Stretch[]>();
  const ran = ({ from, to }: Pass, at: number) => {
    const onIt = [from, to].find((s) => s.corner >= 0)?.corner;
    const joins = (c: number, a: Spot, b: Spot) => m.corners[c] === a.vertex && m.corners[t.next[c]!] === b.vertex;
    const c = onIt ?? m.corners.findIndex((_, k) => joins(k, from, to) || joins(k, to, from));
    const [low, high] = [from, to].map((s) => shareOn(e, t.edge[c]!, s)).sort((x, y) => x - y) as [number, number];
    along.set(t.edge[c]!, [...(along.get(t.edge[c]!) ?? []), { low, high, at }]);
  };
  let open: { face: number; piece: Piece } | null = null;
  let first: { face: number; piece: Piece } | null = null;
  const put = (face: number, piece: Piece) => pieces.set(face, [...(pieces.get(face) ?? []), piece]);
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const nearer = (s: Spot) => {
      const end = distance(s, line.spots[i]!) <= distance(s, line.spots[j]!) ? line.ends[i]! : line.ends[j]!;
      if (s.vertex >= 0) {
        if (line.ends.includes(s.vertex) || (merged.get(s.vertex) ?? end) !== end) throw new NoBand([i, j]);
        merged.set(s.vertex, end);
      }
      return end;
    };
    for (const [k, pass] of line.links[i]!.entries()) {
      if (pass.face < 0) {
        open = null;
        ran(pass, i);
        if (k < line.links[i]!.length - 1) nearer(pass.to);
        continue;
      }
      const isFirst = k === 0;
      const isLast = k === line.links[i]!.length - 1;
      passed.push({ face: pass.face, a: pass.from, b: pass.to, at: i });
      const inside = (s: Spot) => s.vertex < 0 && s.corner < 0;
      const goesOn: boolean = open !== null && open.face === pass.face && isFirst && inside(pass.from);
      if (!goesOn) {
        const enters = inside(pass.from)
          ? null
          : borderOf(pass.face, pass.from, isFirst ? line.ends[i]! : nearer(pass.from));
        open = { face: pass.face, piece: { enters, leaves: null, ends: [] } };
        put(pass.face, open.piece);
        if (!enters && (first || i + k)) throw new NoBand([i, j]);
        if (!enters) first = open;
      }
      const to = isLast ? line.ends[j]! : inside(pass.to) ? null : nearer(pass.to);
      if (isLast && inside(pass.to)) {
        open!.piece.ends.push(to!);
        continue;
      }
      open!.piece.leaves = borderOf(pass.face, pass.to, to!);
      open = null;
    }
  }
  // The stretch that the walk began in the midst of is one with its end.
  if (first && open) {
    if (first.face !== open.face) throw new NoBand([]);
    if (first.piece !== open.piece) {
      open.piece.ends.push(...first.piece.ends);
      open.piece.leaves = first.piece.leaves;
      pieces.set(
        first.face,
        pieces.get(first.face)!.filter((p) => p !== first.piece),
      );
    }
  } else if (first) throw new NoBand([0]);
  crossings(e, passed, n);
  touchings(along, onEdge, n);
  const laid = flood(e, side, pieces, onEdge, along);
  merge(e, laid, merged);
  return laid;
}

/** A stretch of an edge that the line runs along, by shares of its length, and the end after which it does. */
interface Stretch {
  low: number;
  high: number;
  at: number;
}

/** The share of an edge's length, from its first corner on, at which a place on it lies. */
function shareOn({ mesh: m, topology: t }: MeshEdit, edge: number, s: Spot): number {
  const c = t.edgeCorner[edge]!;
  if (s.corner >= 0) return s.corner === c ? s.share : 1 - s.share;
  return s.vertex === m.corners[c] ? 0 : 1;
}

/** Refuses a line that runs along an edge where it runs already, or where another of its ends stands. */
function touchings(
  along: ReadonlyMap<number, readonly Stretch[]>,
  onEdge: ReadonlyMap<number, readonly { share: number }[]>,
  n: number,
): void {
  const bad = new Set<number>();
  for (const [edge, list] of along)
    for (const [i, { low, high, at }] of list.entries()) {
      const others = list.slice(i + 1).filter((x) => x.low < high && low < x.high);
      const stands = onEdge.get(edge)?.some((x) => x.share > low && x.share < high);
      if (!others.length && !stands) continue;
      for (const x of [at, ...others.map((o) => o.at)]) bad.add(x).add((x + 1) % n);
    }
  if (bad.size) throw new NoBand([...bad]);
}

/** Puts other vertices in place of some, in all faces that are kept. */
function merge(e: MeshEdit, { swallowed, kept }: Laid, merged: ReadonlyMap<number, number>): void {
  if (!merged.size) return;
  const { mesh: m, topology: t } = e;
  const gone = new Set(swallowed);
  for (let c = 0; c < m.corners.length; c++) {
    const f = t.face[c]!;
    if (!merged.has(m.corners[c]!) || gone.has(f)) continue;
    const faces = kept.get(f) ?? [{ from: f, boundaries: e.boundaries(f) }];
    const renamed = (loop: readonly NewCorner[]) =>
      withoutRepeats(loop.map((x) => corner(merged.get(x.vertex) ?? x.vertex, x.edge)));
    const boundaries = (list: readonly (readonly NewCorner[])[]) => list.map(renamed).filter((loop) => loop.length > 2);
    kept.set(
      f,
      faces.map((x) => ({ ...x, boundaries: boundaries(x.boundaries) })).filter((x) => x.boundaries.length),
    );
  }
}

const withoutRepeats = (ring: readonly NewCorner[]): NewCorner[] =>
  ring.filter((c, i) => c.vertex !== ring[(i + 1) % ring.length]!.vertex);

const distance = (a: Spot, b: Spot) =>
  Math.hypot(a.point[0] - b.point[0], a.point[1] - b.point[1], a.point[2] - b.point[2]);

function cornersAt(e: MeshEdit, f: number, v: number): number[] {
  const { mesh: m } = e;
  const out: number[] = [];
  for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++)
    if (m.corners[c] === v) out.push(c);
  return out;
}

/** Refuses a line that crosses itself within a face. */
function crossings(e: MeshEdit, passed: readonly { face: number; a: Spot; b: Spot; at: number }[], n: number): void {
  const byFace = new Map<number, { a: Flat; b: Flat; at: number }[]>();
  for (const { face, a, b, at } of passed) {
    const [p, q] = e.flatPoints(face, [a.point, b.point]);
    byFace.set(face, [...(byFace.get(face) ?? []), { a: p!, b: q!, at }]);
  }
  const bad = new Set<number>();
  for (const list of byFace.values())
    for (let i = 0; i < list.length; i++)
      for (let k = i + 1; k < list.length; k++) {
        const [x, y] = [list[i]!, list[k]!];
        if (x.at === y.at || (x.at + 1) % n === y.at || (y.at + 1) % n === x.at) continue;
        if (segmentsMeet(x.a, x.b, y.a, y.b, 0)) for (const at of [x.at, y.at]) bad.add(at).add((at + 1) % n);
      }
  if (bad.size) throw new NoBand([...bad]);
}

/** What is left of the faces that the line passes, and the faces between it and the side. */
function flood(
  e: MeshEdit,
  side: Side,
  pieces: ReadonlyMap<number, readonly Piece[]>,
  onEdge: ReadonlyMap<number, readonly { share: number; vertex: number }[]>,
  along: ReadonlyMap<number, unknown>,
): Laid {
  const { mesh: m, topology: t } = e;
  const own = new Set(side.along);
  const kept = new Map<number, NewFace[]>();
  const gone = new Set<number>();
  const todo: number[] = [];
  const under = new Set<number>();
  const over = (c: number) => {
    if (own.has(c) || along.has(t.edge[c]!)) return;
    const o = t.opposite[c]!;
    if (o < 0) throw new NoBand([]);
    under.add(t.edge[c]!);
    todo.push(t.face[o]!);
  };
  /** Beyond the line a face is whole, but vertices may stand on its edges. */
  const lies = (f: number) => {
    const list = pieces.get(f);
    if (list?.length) return;
    if (gone.has(f)) return;
    gone.add(f);
    for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++) over(c);
  };
  for (const [f, list] of pieces) {
    if (!list.length) continue;
    const left = traced(e, f, list, onEdge, own);
    for (const c of left.under) over(c);
    kept.set(f, left.boundaries);
  }
  for (const c of side.along) lies(t.face[c]!);
  while (todo.length) lies(todo.pop()!);
  // Faces beyond, on whose edges ends stand.
  for (const [edge, list] of onEdge) {
    const c = t.edgeCorner[edge]!;
    for (const x of [c, t.opposite[c]!]) {
      if (x < 0 || gone.has(t.face[x]!) || kept.has(t.face[x]!) || !list.length) continue;
      const f = t.face[x]!;
      kept.set(f, [
        {
          from: f,
          boundaries: e
            .boundaries(f)
            .map((loop) =>
              loop.flatMap((k) => [k, ...standing(e, k.edge, onEdge, 0, 1).map((v) => corner(v, k.edge))]),
            ),
        },
      ]);
    }
  }
  return { swallowed: [...gone], edges: under.size, kept };
}

/** Vertices that stand on a corner's edge between two shares, in the corner's order. */
function standing(
  e: MeshEdit,
  c: number,
  onEdge: ReadonlyMap<number, readonly { share: number; vertex: number }[]>,
  from: number,
  to: number,
): number[] {
  const { topology: t } = e;
  const edge = t.edge[c]!;
  const forward = t.edgeCorner[edge] === c;
  return (onEdge.get(edge) ?? [])
    .map(({ share, vertex }) => ({ share: forward ? share : 1 - share, vertex }))
    .filter(({ share }) => share > from && share < to)
    .sort((a, b) => a.share - b.share)
    .map((x) => x.vertex);
}

/** Boundaries of what is left of a face, and the corners whose whole edges lie under the band. */
function traced(
  e: MeshEdit,
  f: number,
  list: readonly Piece[],
  onEdge: ReadonlyMap<number, readonly { share: number; vertex: number }[]>,
  own: ReadonlySet<number>,
): { boundaries: NewFace[]; under: number[] } {
  const { mesh: m, topology: t } = e;
  const rings: NewCorner[][] = [];
  const under: number[] = [];
  const walked = new Set<number>();
  const touched = new Set<number>();
  const loopOf = (c: number) => {
    let l = m.faceLoops[f]!;
    while (m.loopStart[l + 1]! <= c) l++;
    return l;
  };
  const left = new Set(list);
  const entering = list.filter((p) => p.enters);
  for (const p of list) for (const at of [p.enters, p.leaves]) if (at) touched.add(loopOf(at.corner));
  /** From a place of the border on, counter-clockwise, to where a piece comes in; the corners on the way. */
  const ahead = (at: At): { to: Piece; corners: NewCorner[] } => {
    const corners: NewCorner[] = [];
    let c = at.corner;
    let share = at.share;
    for (let step = 0; ; step++) {
      if (step > m.loopStart[m.faceLoops[f + 1]!]! - m.loopStart[m.faceLoops[f]!]! + 1) throw new NoBand([]);
      if (own.has(c)) throw new NoBand([]);
      const onward = entering
        .filter((p) => p.enters!.corner === c && (step === 0 ? p.enters!.share > share : p.enters!.share >= share))
        .sort((a, b) => a.enters!.share - b.enters!.share)[0];
      const until = onward ? onward.enters!.share : 1;
      for (const v of standing(e, c, onEdge, share, until)) corners.push(corner(v, c));
      if (onward) return { to: onward, corners };
      if (share === 0 || until === 1) walked.add(c);
      c = t.next[c]!;
      share = 0;
      const comes = entering.find((p) => p.enters!.corner === c && p.enters!.share === 0);
      if (comes) return { to: comes, corners };
      corners.push(corner(m.corners[c]!, c));
    }
  };
  while (left.size) {
    const [start] = left as unknown as [Piece];
    const ring: NewCorner[] = [];
    let p = start;
    do {
      if (!left.delete(p)) throw new NoBand([]);
      if (p.enters) ring.push(corner(p.enters.vertex));
      for (const v of p.ends) ring.push(corner(v));
      if (!p.leaves) break;
      // The edge that it comes out on goes on from there.
      ring.push(corner(p.leaves.vertex, p.leaves.corner));
      const next = ahead(p.leaves);
      ring.push(...next.corners);
      p = next.to;
    } while (p !== start);
    const clean = withoutRepeats(ring);
    if (clean.length > 2) rings.push(clean);
  }
  for (let l = m.faceLoops[f]!; l < m.faceLoops[f + 1]!; l++) {
    const [begin, end] = [m.loopStart[l]!, m.loopStart[l + 1]!];
    if (touched.has(l)) {
      // Whole edges of which no part was walked, and on which the line does not end.
      for (let c = begin; c < end; c++) {
        const hit = list.some((p) => [p.enters, p.leaves].some((at) => at && at.corner === c && at.share > 0));
        if (!walked.has(c) && !hit) under.push(c);
      }
      continue;
    }
    const loop = Array.from({ length: end - begin }, (_, i) => corner(m.corners[begin + i]!, begin + i));
    // The side's own boundary lies under the band; others are kept, and must lie in what is.
    if (loop.some((c) => own.has(c.edge))) {
      if (!loop.every((c) => own.has(c.edge))) for (const c of loop) under.push(c.edge);
      continue;
    }
    rings.push(loop.flatMap((c) => [c, ...standing(e, c.edge, onEdge, 0, 1).map((v) => corner(v, c.edge))]));
  }
  return { boundaries: grouped(e, f, rings), under };
}

/** Rings put together to faces: those that run round something, each with the holes that lie in it. */
function grouped(e: MeshEdit, f: number, rings: readonly NewCorner[][]): NewFace[] {
  const flat = rings.map((ring) => e.flat(f, ring));
  const area = flat.map((p) =>
    p.reduce((s, [x, y], i) => s + x * p[(i + 1) % p.length]![1] - y * p[(i + 1) % p.length]![0], 0),
  );
  const outer = [...rings.keys()].filter((i) => area[i]! > 0).sort((i, j) => area[i]! - area[j]!);
  const faces = new Map(
    outer.map((i): [number, NewFace & { boundaries: NewCorner[][] }] => [i, { from: f, boundaries: [rings[i]!] }]),
  );
  for (const i of rings.keys()) {
    if (area[i]! > 0) continue;
    const holder = outer.find((o) => flat[i]!.every((p) => insideRing(flat[o]!, p)));
    // A hole that lies in nothing that is kept would go with the band.
    if (holder === undefined) throw new NoBand([]);
    faces.get(holder)!.boundaries.push(rings[i]!);
  }
  return [...faces.values()];
}
