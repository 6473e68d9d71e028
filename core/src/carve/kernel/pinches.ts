import type { Polygons } from './polygons.ts';
import type { State } from './state.ts';
import { PairTable, Roots } from './tables.ts';

/**
 * Pairs the faces of a result along each touched edge. Returns per corner whether its edge is a new seam: the two faces
 * come from different bodies. Where four faces or more share an edge, those that bound the same wedge of solid are
 * paired; with `part`, vertices at which separate fans then meet are doubled, and edges that still have four faces
 * between the same two vertices get a vertex of their own in the middle, so that the result is manifold.
 */
export function pairAndPart(s: State, out: Polygons, part: boolean): Uint8Array {
  const corners = out.vertex.length;
  const next = new Int32Array(corners);
  const face = new Int32Array(corners);
  for (let f = 0; f < out.faces; f++)
    for (let l = out.faceLoops.get(f); l < out.faceLoops.get(f + 1); l++) {
      const begin = out.loopStart.get(l);
      const end = out.loopStart.get(l + 1);
      for (let c = begin; c < end; c++) {
        next[c] = c + 1 < end ? c + 1 : begin;
        face[c] = f;
      }
    }
  const edges = new PairTable(1024);
  const head: number[] = [];
  const chain = new Int32Array(corners).fill(-1);
  const size: number[] = [];
  for (let c = 0; c < corners; c++) {
    const u = out.vertex.get(c);
    const v = out.vertex.get(next[c]!);
    if (!s.touched[u] && !s.touched[v]) continue;
    const e = edges.indexEdge(u, v);
    if (e === head.length) {
      head.push(c);
      size.push(1);
    } else {
      chain[c] = head[e]!;
      head[e] = c;
      size[e]!++;
    }
  }
  const seam = new Uint8Array(corners);
  const partner = new Int32Array(corners).fill(-1);
  const bodyOf = (c: number) => s.scene.faceBody[out.source.get(face[c]!)]!;
  const pair = (a: number, b: number) => {
    partner[a] = b;
    partner[b] = a;
    const zoneOf = (c: number) => out.zone.get(face[c]!);
    if (bodyOf(a) !== bodyOf(b) || zoneOf(a) !== zoneOf(b)) seam[a] = seam[b] = 1;
  };
  for (let e = 0; e < head.length; e++) {
    const a = head[e]!;
    if (size[e] === 2) {
      const b = chain[a]!;
      if (out.vertex.get(a) !== out.vertex.get(b)) pair(a, b);
    } else if (size[e]! > 2) {
      const around: number[] = [];
      for (let c = a; c >= 0; c = chain[c]!) around.push(c);
      pairByWedge(s, out, next, face, around, pair);
    }
  }
  // Where a sheet was cut, the new border is the seam.
  if (s.scene.open) for (let c = 0; c < corners; c++) if (partner[c]! < 0 && out.corner.get(c) < 0) seam[c] = 1;
  if (!part) return seam;
  partFans(s, out, next, partner);
  return partEdges(s, out, next, partner, seam);
}

/** A vector along a face's normal, from all its boundaries: an inner one by itself would look the other way. */
function areaVector(s: State, out: Polygons, f: number): [number, number, number] {
  const { P } = s;
  const n: [number, number, number] = [0, 0, 0];
  const o = 3 * out.vertex.get(out.loopStart.get(out.faceLoops.get(f)));
  for (let l = out.faceLoops.get(f); l < out.faceLoops.get(f + 1); l++) {
    const end = out.loopStart.get(l + 1);
    let a = 3 * out.vertex.get(end - 1);
    for (let c = out.loopStart.get(l); c < end; c++) {
      const b = 3 * out.vertex.get(c);
      for (let k = 0; k < 3; k++) {
        const i = (k + 1) % 3;
        const j = (k + 2) % 3;
        n[k]! += (P[a + i]! - P[o + i]!) * (P[b + j]! - P[o + j]!) - (P[a + j]! - P[o + j]!) * (P[b + i]! - P[o + i]!);
      }
      a = b;
    }
  }
  return n;
}

/** Sorts the faces round one edge and pairs each that has solid beyond it with the one at which that solid ends. */
function pairByWedge(
  s: State,
  out: Polygons,
  next: Int32Array,
  face: Int32Array,
  around: number[],
  pair: (a: number, b: number) => void,
): void {
  const c0 = around[0]!;
  const u = out.vertex.get(c0);
  const v = out.vertex.get(next[c0]!);
  const { P } = s;
  const d = [0, 1, 2].map((k) => P[3 * v + k]! - P[3 * u + k]!);
  const length = Math.hypot(d[0]!, d[1]!, d[2]!);
  for (let k = 0; k < 3; k++) d[k]! /= length;
  // Into the face, square to the edge: the face's area vector turned by the edge's direction.
  const into = around.map((c) => {
    const forward = out.vertex.get(c) === u;
    const n = areaVector(s, out, face[c]!);
    const w = [0, 1, 2].map((k) => {
      const i = (k + 1) % 3;
      const j = (k + 2) % 3;
      return (n[i]! * d[j]! - n[j]! * d[i]!) * (forward ? 1 : -1);
    });
    return { c, forward, w };
  });
  const x = into[0]!.w;
  const scale = Math.hypot(x[0]!, x[1]!, x[2]!) || 1;
  const ex = x.map((q) => q / scale);
  const ey = [0, 1, 2].map((k) => d[(k + 1) % 3]! * ex[(k + 2) % 3]! - d[(k + 2) % 3]! * ex[(k + 1) % 3]!);
  const dot = (a: number[], b: number[]) => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;
  const sorted = into
    .map((q) => ({ ...q, angle: Math.atan2(dot(q.w, ey), dot(q.w, ex)) }))
    .sort((a, b) => a.angle - b.angle);
  // The solid lies counter-clockwise of a face that runs against the edge, up to one that runs along it.
  const n = sorted.length;
  for (let i = 0; i < n; i++) {
    const a = sorted[i]!;
    const b = sorted[(i + 1) % n]!;
    if (!a.forward && b.forward) pair(a.c, b.c);
  }
}

/** Whether faces out of reach use a vertex as well: its fan is not all here. */
export const onBorder = (s: State, v: number): boolean => s.scene.beyond?.border[v] === 1;

/** Doubles each touched vertex as often as there are separate fans of faces round it. */
function partFans(s: State, out: Polygons, next: Int32Array, partner: Int32Array): void {
  const roots = new Roots(out.vertex.length);
  for (let c = 0; c < partner.length; c++) {
    const o = partner[c]!;
    if (o < 0) continue;
    // c: u → v, o: v → u. The corners at u are c and the one after o.
    roots.join(c, next[o]!);
  }
  const first = new Int32Array(s.vertices).fill(-1);
  const twins = new Map<number, number>();
  const renamed: [number, number][] = [];
  for (let c = 0; c < partner.length; c++) {
    const v = out.vertex.get(c);
    if (!s.touched[v] || onBorder(s, v)) continue;
    const r = roots.of(c);
    if (first[v]! < 0) first[v] = r;
    if (first[v] === r) continue;
    let w = twins.get(r);
    if (w === undefined) {
      twins.set(r, (w = s.copyVertex(v)));
      s.contacts++;
    }
    renamed.push([c, w]);
  }
  for (const [c, w] of renamed) out.vertex.data[c] = w;
}

/**
 * Where two wedges touch along an edge and hang together at both of its ends, doubling vertices does not part them:
 * each of the two edges is led over a vertex of its own in its middle. Returns the seam flags with those of the new
 * corners.
 */
function partEdges(s: State, out: Polygons, next: Int32Array, partner: Int32Array, seam: Uint8Array): Uint8Array {
  const edges = new PairTable(64);
  /** The paired corners on each edge. */
  const pairs: number[][] = [];
  for (let c = 0; c < partner.length; c++) {
    if (partner[c]! < c) continue;
    const e = edges.indexEdge(out.vertex.get(c), out.vertex.get(next[c]!));
    (pairs[e] ??= []).push(c);
  }
  /** The vertex that goes in after a corner. */
  const middle = new Map<number, number>();
  for (const list of pairs) {
    if (list.length < 2) continue;
    s.contacts++;
    const [u, v] = [out.vertex.get(list[0]!), out.vertex.get(next[list[0]!]!)];
    const at = [0, 1, 2].map((k) => (s.P[3 * u + k]! + s.P[3 * v + k]!) / 2) as [number, number, number];
    for (const c of list) {
      const w = s.addVertex(...at);
      middle.set(c, w).set(partner[c]!, w);
    }
  }
  if (!middle.size) return seam;
  const [vertex, corner] = [out.vertex.view().slice(), out.corner.view().slice()];
  const flags = new Uint8Array(seam.length + middle.size);
  out.vertex.length = out.corner.length = 0;
  let from = 0;
  for (let l = 1; l < out.loopStart.length; l++) {
    for (const end = out.loopStart.get(l); from < end; from++)
      for (const v of [vertex[from]!, middle.get(from)]) {
        if (v === undefined) continue;
        flags[out.vertex.length] = seam[from]!;
        out.vertex.push(v);
        out.corner.push(corner[from]!);
      }
    out.loopStart.data[l] = out.vertex.length;
  }
  return flags;
}
