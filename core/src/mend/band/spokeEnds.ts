import { add, cross, dot, lengthOf, sub, unit, type Vec3 } from '../../mesh/index.ts';
import { spokeName } from './aims.ts';
import type { FineTriangles } from './fineTriangles.ts';
import type { LevelLine } from './levelLine.ts';
import type { SeamSides } from './seamSides.ts';

/** The end of a spoke: a place along the line (mm from its first node), and whether a crease holds it there. */
export interface SpokeEnd {
  p: number;
  isHeld: boolean;
}

/** The spokes of a vertex of the seam on one side. */
export interface Spoke {
  /** Half-edge of the side that leaves the vertex; the last one at the end of an open side. */
  h: number;
  vertex: number;
  ends: SpokeEnd[];
  /** On a flat: where lines beside both edges of a corner meet, mm, and whether a fan stands for it else. */
  mitre: { at: Vec3; isFan: boolean } | null;
}

/** The ends of the spokes of a side on its line, in the order of both. */
export interface EndsOnLine {
  spokes: Spoke[];
  /** Where each node of the line is along it, and its whole length, mm. */
  places: number[];
  length: number;
}

/** What prevents it, and near which half-edges (none: anywhere). */
export interface NoEnds {
  why: string;
  near: number[];
}

/** A corner of a flat that turns by no more than this (radians) is mitred: a little over a right angle. */
const MOST_MITRED = 1.75;
/** It stands beside edges of the seam no shorter than this, in widths, where a fan would stand for it else. */
const BESIDE_MITRE = 0.5;
/** The distance of a mitre from its corner is that from the seam, within this, in widths. */
const OWN_CORNER = 1e-6;
/** Faces whose normals have this cosine or more lie in one plane. */
const ONE_PLANE = 1 - 1e-12;
/** A run of the line that belongs to one vertex is a fan when it is longer than this, in widths. */
const FAN = 0.6;
/** One quad of a fan goes round so much, in widths (about a right angle at the vertex). */
const FAN_QUAD = 1.75;
/** A fan narrower than this has no end in its middle. */
const NARROW_FAN = 0.3;
/** No free end of a fan is nearer to one held by a crease, in widths. */
const BESIDE_HELD = 0.45;
/** A crease that meets the line farther off than this (widths) along it is held by another vertex. */
const HELD_WITHIN = 6;
/** Places along the side this near (in half-edges) are one. */
const SAME_PLACE = 1e-7;
/** An aimed end goes no farther than this from the square one, in widths. */
const AIMED_WITHIN = 1.2;

/**
 * The ends of the spokes of one side on its line: each where the nearest place of the side is the spoke's vertex; fans
 * at corners that look into the surface; at creases where the line crosses them. `heldBy`: the vertex that a crease
 * leaves, for each fine edge of creases that the line crosses; `aim`: the direction that a spoke is wanted in, null for
 * square ones; `fans`: corners (see `spokeName`) that have no room for a mitre.
 */
export function spokeEnds(
  fine: FineTriangles,
  s: SeamSides,
  side: number,
  line: LevelLine,
  kept: ReadonlySet<number>,
  heldBy: ReadonlyMap<number, number>,
  aim: (vertex: number) => Vec3 | null,
  shift: number,
  fans: ReadonlySet<string>,
): EndsOnLine | NoEnds {
  const { list, isClosed } = s.sides[side]!;
  const N = list.length;
  if (isClosed) beginBetween(line);
  const { nodes } = line;
  if (isClosed !== line.isClosed) return { why: 'runs out at a border', near: [] };
  const n = nodes.length;
  const places = [0];
  const steps = isClosed ? n : n - 1;
  for (let j = 0; j < steps; j++) places.push(places[j]! + fine.length(nodes[j]!.vertex, nodes[(j + 1) % n]!.vertex));
  const length = places[steps]!;
  const raw = nodes.map((x) => s.index[x.h]! + x.share);
  const wrap = (d: number) => (isClosed ? d - N * Math.round(d / N) : d);
  const u = [raw[0]!];
  for (let j = 1; j <= steps; j++) u.push(u[j - 1]! + wrap(raw[j % n]! - raw[j - 1]!));
  if (isClosed && Math.round(u[n]! - u[0]!) !== N) return { why: 'goes round otherwise', near: nodes.map((x) => x.h) };
  neverBack(u);
  if (!isClosed) [u[0], u[steps]] = [0, N];
  const base = u[0]!;
  for (let j = 0; j <= steps; j++) u[j] = Math.max(base, Math.min(base + N, u[j]!));
  /** Where along the line a place along the side comes first. */
  const placeOf = (level: number): number => {
    let [lo, hi] = [0, steps];
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (u[mid]! >= level) hi = mid;
      else lo = mid + 1;
    }
    if (lo === 0) return 0;
    const [a, b] = [u[lo - 1]!, u[lo]!];
    const share = b > a ? Math.max(0, Math.min(1, (level - a) / (b - a))) : 1;
    return places[lo - 1]! + share * (places[lo]! - places[lo - 1]!);
  };
  const carriers = list.filter((h) => kept.has(s.A[h]!)).map((h) => ({ h, vertex: s.A[h]!, k: s.index[h]! }));
  if (!isClosed) carriers.push({ h: list[N - 1]!, vertex: s.B[list[N - 1]!]!, k: N });
  const runs = carriers.map(({ h, vertex, k: at }) => {
    let k = at;
    if (isClosed) {
      while (k < base - 1e-9) k += N;
      while (k >= base + N - 1e-9) k -= N;
    }
    const a = placeOf(k - SAME_PLACE);
    const b = Math.max(a, placeOf(k + SAME_PLACE));
    return { h, vertex, k, a, b, ends: [] as SpokeEnd[], mitre: null as Spoke['mitre'] };
  });
  runs.sort((x, y) => x.k - y.k);
  const held = new Map<number, number[]>();
  nodes.forEach((x, j) => {
    const root = heldBy.get(x.edge);
    if (root !== undefined) held.set(root, [...(held.get(root) ?? []), places[j]!]);
  });
  const near = (p: number, q: number) => (isClosed ? q + (p - q) - length * Math.round((p - q) / length) : p);
  const W = (x: { h: number; vertex: number }) => s.W[s.A[x.h] === x.vertex ? x.h : s.after[x.h]!]!;
  for (const x of runs) {
    const w = W(x);
    const mid = (x.a + x.b) / 2;
    const at = (held.get(x.vertex) ?? [])
      .map((p) => near(p, mid))
      .filter((p) => Math.abs(p - mid) < HELD_WITHIN * w)
      .sort((p, q) => p - q);
    if (!isClosed && x.k === 0) x.ends = [{ p: 0, isHeld: true }];
    else if (!isClosed && x.k === N) x.ends = [{ p: length, isHeld: true }];
    else {
      const isFan = x.b - x.a > FAN * w;
      const way = aim(x.vertex);
      const mitre = at.length || way || shift ? null : mitreAt(fine, s, x.h, w);
      const i = runs.indexOf(x);
      const beside = [runs.at(i - 1)!, runs[(i + 1) % runs.length]!].map((y) => fine.length(x.vertex, y.vertex));
      const isShort = Math.min(...beside) < BESIDE_MITRE * w;
      if (mitre && !(isFan && (isShort || fans.has(spokeName(side, x.vertex))))) x.mitre = { at: mitre, isFan };
      if (x.mitre || (!isFan && !at.length)) {
        const p = aimed(fine, line, places, near, x.vertex, mid + shift, AIMED_WITHIN * w, way);
        x.ends = [{ p, isHeld: false }];
      } else x.ends = fanned(isFan ? [x.a, x.b] : [], at, w);
    }
  }
  const order = runs.flatMap((x) => x.ends);
  if (!inOrder(order, isClosed ? length : null)) return { why: 'creases in another order', near: [] };
  return { spokes: runs.map(({ h, vertex, ends, mitre }) => ({ h, vertex, ends, mitre })), places, length };
}

/**
 * Where lines at one width beside both edges of a corner meet, when all surface about it is one flat and the corner
 * looks into it by no more than a little over a right angle.
 */
function mitreAt(fine: FineTriangles, s: SeamSides, h: number, w: number): Vec3 | null {
  const before = s.prev[h]!;
  if (before < 0) return null;
  const { out, angles } = s.fan(before);
  const turn = angles.at(-1)! - Math.PI;
  const planeAt = (x: number) => fine.groups[fine.group[(x / 3) | 0]!]!.plane;
  const plane = planeAt(out[0]!);
  const isAlong = (x: Float64Array) => x[0]! * plane[0]! + x[1]! * plane[1]! + x[2]! * plane[2]! > ONE_PLANE;
  if (turn <= 0 || turn > MOST_MITRED || !out.every((x) => isAlong(planeAt(x)))) return null;
  const normal: Vec3 = [plane[0]!, plane[1]!, plane[2]!];
  const v = fine.at(s.A[h]!);
  const one = unit(cross(normal, sub(v, fine.at(s.A[before]!))));
  const two = unit(cross(normal, sub(fine.at(s.B[h]!), v)));
  const at = add(v, add(one, two), w / (1 + dot(one, two)));
  // The corner itself must be what is nearest to it: beside a ragged seam another piece of it may be.
  s.nearest(at[0], at[1], at[2], h);
  const isOwn = Math.abs(s.found.distance - lengthOf(sub(at, v))) < OWN_CORNER * w;
  return isOwn ? at : null;
}

/** Lets a closed line begin beside the middle of an edge of the seam: no run that belongs to one vertex is parted. */
function beginBetween({ nodes, triangles }: LevelLine): void {
  let best = 0;
  nodes.forEach((x, j) => {
    if (Math.abs(x.share - 0.5) < Math.abs(nodes[best]!.share - 0.5)) best = j;
  });
  nodes.push(...nodes.splice(0, best));
  triangles.push(...triangles.splice(0, best));
}

/** Makes numbers never fall: halfway between the greatest from before and the least from behind. */
function neverBack(u: number[]): void {
  const [up, down] = [u.slice(), u.slice()];
  for (let j = 1; j < u.length; j++) up[j] = Math.max(up[j]!, up[j - 1]!);
  for (let j = u.length - 1; j-- > 0;) down[j] = Math.min(down[j]!, down[j + 1]!);
  for (let j = 0; j < u.length; j++) u[j] = (up[j]! + down[j]!) / 2;
}

/** The ends of a fan: those held by creases, its own two where there is room, and some between them. */
function fanned(own: readonly number[], held: readonly number[], w: number): SpokeEnd[] {
  const all: SpokeEnd[] = held.map((p) => ({ p, isHeld: true }));
  for (const p of own) if (held.every((q) => Math.abs(p - q) > BESIDE_HELD * w)) all.push({ p, isHeld: false });
  all.sort((p, q) => p.p - q.p);
  const out: SpokeEnd[] = [];
  all.forEach((e, i) => {
    out.push(e);
    const b = all[i + 1];
    if (!b) return;
    const gap = (b.p - e.p) / w;
    const parts = gap < NARROW_FAN ? 1 : 2 * Math.max(1, Math.ceil(gap / FAN_QUAD));
    for (let q = 1; q < parts; q++) out.push({ p: e.p + ((b.p - e.p) * q) / parts, isHeld: false });
  });
  return out;
}

/** The place of the line, near to one of it, that lies in a direction from a vertex. */
function aimed(
  fine: FineTriangles,
  line: LevelLine,
  places: readonly number[],
  near: (p: number, q: number) => number,
  vertex: number,
  mid: number,
  within: number,
  way: Vec3 | null,
): number {
  if (!way) return mid;
  let [best, at] = [-Infinity, mid];
  line.nodes.forEach((x, j) => {
    const p = near(places[j]!, mid);
    if (Math.abs(p - mid) > within) return;
    const cos = dot(unit(sub(fine.at(x.vertex), fine.at(vertex))), way);
    if (cos > best) [best, at] = [cos, p];
  });
  return at;
}

/**
 * Draws free ends in between those that are held, which none passes; a closed line is gone round twice. False where
 * held ones are in another order.
 */
function inOrder(ends: readonly SpokeEnd[], length: number | null): boolean {
  const turns = length === null ? [0] : [0, length];
  let low = -Infinity;
  for (const more of turns)
    for (const e of ends) {
      const p = e.p + more;
      if (e.isHeld && p < low - 1e-9 && more === 0) return false;
      if (!e.isHeld && p < low) e.p = low - more;
      else low = e.isHeld ? p : Math.max(low, p);
    }
  let high = Infinity;
  for (const more of [...turns].reverse())
    for (let i = ends.length; i-- > 0;) {
      const e = ends[i]!;
      const p = e.p + more;
      if (!e.isHeld && p > high) e.p = high - more;
      else high = e.isHeld ? p : Math.min(high, p);
    }
  return true;
}
