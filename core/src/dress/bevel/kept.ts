import { orient2d } from 'robust-predicates';
import {
  insideRing,
  planeBasis,
  topologyOf,
  type Flat,
  type NewCorner,
  type NewFace,
  type PolyMesh,
} from '../../mesh/index.ts';
import { SOFT } from './bevelLoops.ts';
import type { Nodes, Trouble } from './nodes.ts';
import type { Pieces } from './edgePieces.ts';

interface Segment {
  from: number;
  to: number;
  /** The old corner whose edge it lies on; −1 for a stretch of a line. */
  edge: number;
}

/** Boundaries of what remains of faces. */
export interface KeptFaces {
  faces: (NewFace | number)[];
  troubles: Trouble[];
}

/**
 * What remains of all faces: inside the lines, boundaries of stretches of old edges and of lines. `chords` gives each
 * face's stretches of lines, `of` the vertices behind a node.
 */
export function keptFaces(
  nodes: Nodes,
  role: Uint8Array,
  pieces: Pieces,
  chords: ReadonlyMap<number, readonly (readonly [number, number])[]>,
  of: (node: number) => readonly number[],
  active: (corner: number) => boolean,
): KeptFaces {
  const m = nodes.mesh;
  const t = topologyOf(m);
  const out: KeptFaces = { faces: [], troubles: [] };
  const faceCount = m.faceLoops.length - 1;
  const olds = m.positions.length / 3;
  for (let f = 0; f < faceCount; f++) {
    const [begin, end] = [m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f + 1]!]!];
    const segments: Segment[] = [];
    let changed = chords.has(f);
    for (let c = begin; c < end; c++) {
      const soft = t.opposite[c]! >= 0 && role[t.edge[c]!] === SOFT;
      if (soft ? pieces.touched(c) : active(c)) changed = true;
      if (soft) for (const [from, to] of pieces.of(c)) segments.push({ from, to, edge: c });
      else if (!active(c)) segments.push({ from: m.corners[c]!, to: m.corners[t.next[c]!]!, edge: c });
    }
    if (!changed) {
      out.faces.push(f);
      continue;
    }
    for (const [from, to] of chords.get(f) ?? [])
      segments.push({ from, to, edge: from < olds && to < olds ? alongOld(m, begin, end, from, to) : -1 });
    if (segments.length) boundariesOf(nodes, f, segments, of, out);
  }
  return out;
}

/** The corner of a face whose whole edge runs between two vertices; −1 where there is none. */
function alongOld(m: PolyMesh, begin: number, end: number, from: number, to: number): number {
  const t = topologyOf(m);
  for (let c = begin; c < end; c++) if (m.corners[c] === from && m.corners[t.next[c]!] === to) return c;
  return -1;
}

/** Links segments to boundaries, sorts these into outer and inner ones, and looks whether they cross. */
function boundariesOf(
  nodes: Nodes,
  f: number,
  segments: readonly Segment[],
  of: (node: number) => readonly number[],
  out: KeptFaces,
): void {
  const normal = nodes.surface.normal(f);
  const basis = new Float64Array(6);
  planeBasis(normal, 0, basis);
  const origin = nodes.at(segments[0]!.from);
  const places = new Map<number, Flat>();
  const at = (id: number): Flat => {
    let p = places.get(id);
    if (!p) {
      const q = nodes.at(id);
      const d = [q[0] - origin[0], q[1] - origin[1], q[2] - origin[2]] as const;
      p = [
        basis[0]! * d[0] + basis[1]! * d[1] + basis[2]! * d[2],
        basis[3]! * d[0] + basis[4]! * d[1] + basis[5]! * d[2],
      ];
      places.set(id, p);
    }
    return p;
  };
  const tell = (what: Trouble['what'], ids: readonly number[]) => {
    const vertices = [...new Set(ids.flatMap(of))];
    if (vertices.length) out.troubles.push({ what, at: nodes.at(ids[0]!), vertices });
  };
  const crossing = firstCrossing(segments, at);
  if (crossing) {
    tell(
      'meets',
      crossing.flatMap((s) => [s.from, s.to]),
    );
    return;
  }
  const loops = linked(segments, at);
  if (!loops) {
    tell(
      'meets',
      segments.filter((s) => s.edge < 0).flatMap((s) => [s.from, s.to]),
    );
    return;
  }
  const area = (loop: readonly Segment[]) =>
    loop.reduce((sum, s) => sum + at(s.from)[0] * at(s.to)[1] - at(s.from)[1] * at(s.to)[0], 0);
  const outer = loops.filter((l) => area(l) > 0).map((l) => ({ ring: l.map((s) => at(s.from)), boundaries: [l] }));
  for (const l of loops) {
    if (area(l) > 0) continue;
    const own = outer.find((o) => insideRing(o.ring, at(l[0]!.from)));
    if (own) own.boundaries.push(l);
    else
      tell(
        'meets',
        l.map((s) => s.from),
      );
  }
  for (const { boundaries } of outer) {
    const faces: NewFace = {
      from: f,
      boundaries: boundaries.map((l) => l.map((s): NewCorner => ({ vertex: s.from, edge: s.edge }))),
    };
    out.faces.push(faces);
  }
}

/**
 * Closed walks of the segments: where several lead on, the one that turns left the most. Null where one does not close.
 */
function linked(segments: readonly Segment[], at: (id: number) => Flat): Segment[][] | null {
  const leaving = new Map<number, Segment[]>();
  for (const s of segments) {
    const list = leaving.get(s.from);
    if (list) list.push(s);
    else leaving.set(s.from, [s]);
  }
  const used = new Set<Segment>();
  const loops: Segment[][] = [];
  for (const first of segments) {
    if (used.has(first)) continue;
    const loop: Segment[] = [];
    let s = first;
    do {
      used.add(s);
      loop.push(s);
      const on: Segment[] = (leaving.get(s.to) ?? []).filter((x) => !used.has(x) || x === first);
      if (!on.length) return null;
      s = on.length === 1 ? on[0]! : leftmost(s, on, at);
    } while (s !== first);
    if (loop.length > 2) loops.push(loop);
  }
  return loops;
}

function leftmost(s: Segment, on: readonly Segment[], at: (id: number) => Flat): Segment {
  const [p, q] = [at(s.from), at(s.to)];
  const back = Math.atan2(p[1] - q[1], p[0] - q[0]);
  let [best, least] = [on[0]!, Infinity];
  for (const x of on) {
    const r = at(x.to);
    let turn = back - Math.atan2(r[1] - q[1], r[0] - q[0]);
    while (turn <= 1e-12) turn += 2 * Math.PI;
    if (turn < least) [best, least] = [x, turn];
  }
  return best;
}

/** Two segments that cross, ends apart. */
function firstCrossing(segments: readonly Segment[], at: (id: number) => Flat): [Segment, Segment] | null {
  const low = (s: Segment) => Math.min(at(s.from)[0], at(s.to)[0]);
  const high = (s: Segment) => Math.max(at(s.from)[0], at(s.to)[0]);
  const sorted = [...segments].sort((a, b) => low(a) - low(b));
  for (let i = 0; i < sorted.length; i++) {
    const a = sorted[i]!;
    const far = high(a);
    for (let j = i + 1; j < sorted.length && low(sorted[j]!) <= far; j++) {
      const b = sorted[j]!;
      if (a.edge >= 0 && b.edge >= 0) continue;
      if (a.from === b.from || a.from === b.to || a.to === b.from || a.to === b.to) {
        // There and back over the same way: nothing is left between.
        if (a.from === b.to && a.to === b.from) return [a, b];
        continue;
      }
      const [p, q, r, s] = [at(a.from), at(a.to), at(b.from), at(b.to)];
      if (side(p, q, r) !== side(p, q, s) && side(r, s, p) !== side(r, s, q)) return [a, b];
    }
  }
  return null;
}

const side = (a: Flat, b: Flat, c: Flat): boolean => orient2d(...a, ...b, ...c) > 0;
