import {
  add,
  areaAndVolume,
  bounds,
  type Bvh,
  checkCancelled,
  dot,
  faceAreas,
  faceCount,
  faceNormals,
  faceTree,
  lengthOf,
  OPEN,
  scaled,
  sizeOf,
  SpatialIndex,
  sub,
  topologyOf,
  transformMesh,
  type OpContext,
  type PolyMesh,
  vertexPlace,
} from '../mesh/index.ts';
import type { CutOperation, Direction } from './carve.ts';

/**
 * What can be foreseen of a placed cutter:
 * `misses` it does not meet the part; `inside` it lies wholly in it and makes a void; `all` it swallows the part;
 * `short` it ends in the material and leaves a skin; `flush` faces of it lie in faces of the part, which is handled;
 * `graze` it passes so close by a vertex or a face that a sliver is left; `coarse`, `fine` its flats are much longer or
 * shorter than those of the surface it meets; `thin` the wall beside it is thin; `behind` it marks only the surface
 * that it meets first, and another lies behind that one; `inTheWay` another part lies before that surface; `elsewhere`
 * it misses the part and meets another one; `open` it is not closed and `turned` it is inside out, and then nothing
 * else is looked at; `touches` the result touches itself along edges or at points, where it is kept apart; `large`
 * there are too many faces to look at.
 */
export type FitKind =
  | 'misses'
  | 'inside'
  | 'all'
  | 'short'
  | 'flush'
  | 'graze'
  | 'coarse'
  | 'fine'
  | 'thin'
  | 'behind'
  | 'inTheWay'
  | 'elsewhere'
  | 'open'
  | 'turned'
  | 'touches'
  | 'large';

/** An act that clears a finding. */
export type Remedy =
  | { kind: 'through' }
  /** Move the cutter by so much, mm. */
  | { kind: 'move'; by: Direction }
  /** Give it so long flats, mm. */
  | { kind: 'flats'; length: number }
  /** Close its openings; turn its faces over. */
  | { kind: 'close' }
  | { kind: 'turn' }
  /** Look for the surface from the other side. */
  | { kind: 'fromBack' }
  /** Cut that part instead. */
  | { kind: 'part'; part: number };

export interface Fit {
  kind: FitKind;
  /** Which of the cutters. */
  cutter: number;
  /** Gap, skin, sliver, wall or flat, mm; the surface's flats for `coarse` and `fine` are in `other`. */
  length?: number;
  other?: number;
  /** Faces that are flush, open edges, places that touch, or faces in all. */
  count?: number;
  /** The other part that it meets, or that lies in the way. */
  part?: number;
  point?: Direction;
  remedy?: Remedy;
}

/** The finest detail that is meant, as a share of the part's size: what is left narrower is a sliver. */
export const DETAIL = 1e-3;
/** What lies within this share of the size is one plane to the kernel. */
const FLUSH = 1e-9;
/**
 * A skin thinner than this share of the part's length along the cutter is taken for a cutter that should have gone
 * through.
 */
const SKIN = 0.12;
/** A wall thinner than this share of the size is reported. */
const THIN_WALL = 0.015;
/** Flats longer or shorter than the surface's by more than this factor are reported. */
const UNLIKE_FLATS = 2.5;
/** Cutters of more faces than this are sampled once a face, and no move is sought for what they graze. */
const MANY_FACES = 2000;
/** Turns between faces that make a curve of flats, degrees. */
const CURVE_TURNS = [1.5, 40] as const;

type Vec = [number, number, number];
const vertex = (m: PolyMesh, v: number): Vec => [...vertexPlace(m, v)];

/** A mesh with what is asked of it again and again. */
class Body {
  readonly index: SpatialIndex;
  readonly normals: ArrayLike<number>;
  readonly box: { min: Direction; max: Direction };

  constructor(readonly mesh: PolyMesh) {
    this.index = new SpatialIndex(mesh);
    this.normals = faceNormals(mesh);
    this.box = bounds(mesh);
  }

  normal(f: number): Vec {
    return [this.normals[3 * f]!, this.normals[3 * f + 1]!, this.normals[3 * f + 2]!];
  }

  /** Whether a point that is not on the surface is inside: most of three rays leave the body at their first hit. */
  holds(p: Direction): boolean {
    if ([0, 1, 2].some((k) => p[k]! < this.box.min[k]! || p[k]! > this.box.max[k]!)) return false;
    const votes = RAYS.filter((d) => {
      const hit = this.index.raycast(p, d);
      return hit !== null && dot(this.normal(hit.face), d) > 0;
    });
    return votes.length >= 2;
  }

  /** Where a way leaves the body; null from a point that is outside of it. */
  wayOut(p: Direction, way: Direction): { point: Direction; distance: number } | null {
    if ([0, 1, 2].some((k) => p[k]! < this.box.min[k]! || p[k]! > this.box.max[k]!)) return null;
    const hit = this.index.raycast(p, way);
    return hit && dot(this.normal(hit.face), way) > 0 ? hit : null;
  }

  /** Vertices in the box of another body, grown by so much. */
  *verticesNear(other: Body, by: number): Generator<Vec> {
    for (let v = 0; v < this.mesh.positions.length / 3; v++) {
      const p = vertex(this.mesh, v);
      if ([0, 1, 2].every((k) => p[k]! >= other.box.min[k]! - by && p[k]! <= other.box.max[k]! + by)) yield p;
    }
  }

  /** Whether an edge of this body passes through the surface of another. */
  pierces(other: Body): boolean {
    const { edgeCorner, next } = topologyOf(this.mesh);
    for (const c of edgeCorner) {
      const a = vertex(this.mesh, this.mesh.corners[c]!);
      const hit = other.index.raycast(a, sub(vertex(this.mesh, this.mesh.corners[next[c]!]!), a));
      if (hit && hit.distance <= 1) return true;
    }
    return false;
  }
}

/** Another part of the project, as it stands. */
export interface OtherPart {
  id: number;
  mesh: PolyMesh;
}

export interface FitContext {
  /** The cut marks only the surface that each cutter meets first, against its axis. */
  nearest?: boolean;
  /** Made only where they matter: for a cutter that misses, or that marks what it meets first. */
  others?: () => readonly OtherPart[];
}

/** Directions of rays, off the main axes, as most faces lie along those. */
const RAYS: readonly Direction[] = [
  [0.5377, 0.6124, 0.5797],
  [-0.3127, 0.8211, 0.4774],
  [0.1931, 0.3372, -0.9214],
];

/**
 * Looks at cutters before they cut. `axes` are the cutters' own z axes, unit: the ways they go through. Lengths are
 * relative to the part's size as the constants above say. `others` are the parts beside it, for a cutter that is aimed
 * at the wrong one. Findings come with their numbers, the place, and where there is one the smallest act that clears
 * them. Meant for parts up to some 100 k faces.
 */
export function dryFit(
  target: PolyMesh,
  cutters: readonly PolyMesh[],
  axes: readonly Direction[],
  operation: CutOperation | 'kerf',
  { nearest = false, others = () => [] }: FitContext = {},
  ctx?: OpContext,
): Fit[] {
  if (!faceCount(target)) return [];
  const part = new Body(target);
  const size = sizeOf(target);
  return cutters.flatMap((mesh, i) => {
    checkCancelled(ctx);
    const unfit = notSolid(mesh);
    if (unfit) return [{ ...unfit, cutter: i }];
    const cutter = new Body(mesh);
    const found: Omit<Fit, 'cutter'>[] = [];
    const flush = flushFaces(part, cutter, size);
    if (!flush.level && !cutter.pierces(part) && !part.pierces(cutter))
      found.push(...apartFrom(part, cutter, size, others));
    else {
      const takes = operation === 'subtract' || operation === 'split';
      const graze = withMove(part, cutter, size, grazes(part, cutter, size, flush));
      if (flush.level) found.push({ kind: 'flush', count: flush.level });
      if (graze) found.push(graze);
      if (takes) found.push(...short(part, cutter, axes[i]!), ...thin(part, cutter, axes[i]!, size, ctx));
      if (nearest) found.push(...behind(part, cutter, axes[i]!, others));
      found.push(...flats(part, cutter));
    }
    return found.map((f) => ({ ...f, cutter: i }));
  });
}

/** A cutter that has no inside to cut with: open, or turned inside out. */
function notSolid(m: PolyMesh): Omit<Fit, 'cutter'> | null {
  const { opposite, next } = topologyOf(m);
  const border = Array.from(opposite.keys()).filter((c) => opposite[c] === OPEN);
  if (border.length) {
    const length = border.reduce(
      (sum, c) => sum + lengthOf(sub(vertex(m, m.corners[c]!), vertex(m, m.corners[next[c]!]!))),
      0,
    );
    return {
      kind: 'open',
      count: border.length,
      length,
      point: vertex(m, m.corners[border[0]!]!),
      remedy: { kind: 'close' },
    };
  }
  return areaAndVolume(m).volume < 0 ? { kind: 'turned', remedy: { kind: 'turn' } } : null;
}

/** Finding for a cutter that misses the part: the other part that it meets, if any, and where it lies. */
function apartFrom(part: Body, cutter: Body, size: number, others: () => readonly OtherPart[]): Omit<Fit, 'cutter'>[] {
  const first = apart(part, cutter, size);
  if (first.kind !== 'misses') return [first];
  const met = others().find(({ mesh }) => {
    if (!near(bounds(mesh), cutter.box)) return false;
    const body = new Body(mesh);
    return cutter.pierces(body) || body.pierces(cutter) || body.holds(vertex(cutter.mesh, 0));
  });
  if (!met) return [first];
  return [first, { kind: 'elsewhere', part: met.id, remedy: { kind: 'part', part: met.id } }];
}

const near = (a: Body['box'], b: Body['box']): boolean =>
  [0, 1, 2].every((k) => a.min[k]! <= b.max[k]! && b.min[k]! <= a.max[k]!);

/** For bodies whose surfaces do not meet: one lies in the other, or they are apart. */
function apart(part: Body, cutter: Body, size: number): Omit<Fit, 'cutter'> {
  const [p, q] = [vertex(cutter.mesh, 0), vertex(part.mesh, 0)];
  if (cutter.holds(q)) return { kind: 'all' };
  let best = { length: Infinity, from: p, to: p };
  const consider = (from: Vec, to: Direction, length: number) => {
    if (length < best.length) best = { length, from, to: [...to] as Vec };
  };
  for (let v = 0; v < cutter.mesh.positions.length / 3; v++) {
    const from = vertex(cutter.mesh, v);
    const near = part.index.closest(from)!;
    consider(from, near.point, near.distance);
  }
  const inside = part.holds(p);
  if (!inside)
    for (let v = 0; v < part.mesh.positions.length / 3; v++) {
      const to = vertex(part.mesh, v);
      const near = cutter.index.closest(to)!;
      consider(near.point, to, near.distance);
    }
  if (inside) return { kind: 'inside', length: best.length, point: best.to };
  // Into the material by a twentieth of the smaller of the two.
  const enter = 0.05 * Math.min(size, sizeOf(cutter.mesh));
  const way = sub(best.to, best.from);
  const k = best.length > 0 ? 1 + enter / best.length : 0;
  return { kind: 'misses', length: best.length, point: best.to, remedy: { kind: 'move', by: scaled(way, k) } };
}

interface Flush {
  /** Faces of the cutter that lie in faces of the part. */
  level: number;
  /** The nearest that a face comes to being level without being it. */
  nearly: { gap: number; by: Vec; point: Vec } | null;
}

/** Pairs of faces that are parallel, overlap, and lie within the finest detail of each other. */
function flushFaces(part: Body, cutter: Body, size: number): Flush {
  const [a, b] = [cutter, part].map((body) => faceTree(body.mesh, true)) as [Bvh, Bvh];
  const out: Flush = { level: 0, nearly: null };
  const seen = new Set<number>();
  a.pairs(b, DETAIL * size, (f, g) => {
    const [n, m] = [cutter.normal(f), part.normal(g)];
    // Parallel enough that the gap changes by less than the detail across the part.
    if (Math.abs(Math.abs(dot(n, m)) - 1) > 0.5 * DETAIL * DETAIL) return;
    const corner = (x: PolyMesh, face: number) => vertex(x, x.corners[x.loopStart[x.faceLoops[face]!]!]!);
    const [p, q] = [corner(cutter.mesh, f), corner(part.mesh, g)];
    const gap = dot(sub(q, p), m);
    if (Math.abs(gap) <= FLUSH * size) {
      if (!seen.has(f)) out.level++;
      seen.add(f);
    } else if (Math.abs(gap) < DETAIL * size && (!out.nearly || Math.abs(gap) < out.nearly.gap))
      out.nearly = { gap: Math.abs(gap), by: scaled(m, gap), point: q };
  });
  return out;
}

/**
 * Adds the smallest move that clears a graze: onto what is grazed, or well away from it; none when something else is
 * grazed then.
 */
function withMove(part: Body, cutter: Body, size: number, graze: (Omit<Fit, 'cutter'> & { by: Vec }) | null) {
  if (!graze) return null;
  const { by, ...fit } = graze;
  if (faceCount(cutter.mesh) > MANY_FACES) return fit;
  const away = 1.01 * DETAIL * size - fit.length!;
  const clear = [by, scaled(by, -away / fit.length!)].find((move) => {
    const moved = new Body(transformMesh(cutter.mesh, [1, 0, 0, move[0], 0, 1, 0, move[1], 0, 0, 1, move[2]]));
    return !grazes(part, moved, size, flushFaces(part, moved, size));
  });
  return clear ? { ...fit, remedy: { kind: 'move', by: clear } as const } : fit;
}

/** The narrowest sliver: beside a face that is nearly level, or a vertex that the cutter's skin passes closely. */
function grazes(part: Body, cutter: Body, size: number, { nearly }: Flush): (Omit<Fit, 'cutter'> & { by: Vec }) | null {
  let best: ReturnType<typeof grazes> = nearly && {
    kind: 'graze',
    length: nearly.gap,
    point: nearly.point,
    by: nearly.by,
  };
  for (const p of part.verticesNear(cutter, DETAIL * size)) {
    const near = cutter.index.closest(p)!;
    if (near.distance <= FLUSH * size || near.distance >= DETAIL * size || near.distance >= (best?.length ?? Infinity))
      continue;
    best = { kind: 'graze', length: near.distance, point: p, by: sub(p, near.point) };
  }
  return best;
}

/** The thinnest skin that an end of the cutter leaves in the material ahead of it. */
function short(part: Body, cutter: Body, axis: Direction): Omit<Fit, 'cutter'>[] {
  const heights = Array.from({ length: cutter.mesh.positions.length / 3 }, (_, v) => dot(vertex(cutter.mesh, v), axis));
  const [low, high] = [Math.min(...heights), Math.max(...heights)];
  const slack = 1e-6 * (high - low);
  let along: [number, number] = [Infinity, -Infinity];
  for (let v = 0; v < part.mesh.positions.length / 3; v++) {
    const h = dot(vertex(part.mesh, v), axis);
    along = [Math.min(along[0], h), Math.max(along[1], h)];
  }
  // An end that lies in the surface is flush, and leaves no skin.
  const [least, limit] = [FLUSH * (along[1] - along[0]), SKIN * (along[1] - along[0])];
  let best: Omit<Fit, 'cutter'> | null = null;
  for (const sign of [-1, 1] as const) {
    const end = heights.flatMap((h, v) =>
      Math.abs(h - (sign < 0 ? low : high)) <= slack ? [vertex(cutter.mesh, v)] : [],
    );
    const middle = end.reduce((m, p) => add(m, p, 1 / end.length), [0, 0, 0] as Vec);
    // A little towards the middle of the end, so that the ray does not start on a wall beside it.
    for (const p of [middle, ...end.map((q) => add(q, sub(middle, q), 0.02))]) {
      const way = scaled(axis, sign);
      const hit = part.wayOut(p, way);
      if (!hit || !(hit.distance > least && hit.distance <= limit && hit.distance < (best?.length ?? Infinity)))
        continue;
      best = { kind: 'short', length: hit.distance, point: hit.point, remedy: { kind: 'through' } };
    }
  }
  return best ? [best] : [];
}

/**
 * The thinnest wall beside the cut: from the cutter's skin outward to where the material ends. Its ends are `short`'s.
 */
function thin(part: Body, cutter: Body, axis: Direction, size: number, ctx?: OpContext): Omit<Fit, 'cutter'>[] {
  const { mesh } = cutter;
  let best: Omit<Fit, 'cutter'> | null = null;
  const many = faceCount(mesh) > MANY_FACES;
  for (let f = 0; f < faceCount(mesh); f++) {
    if (f % 256 === 0) checkCancelled(ctx);
    const run = [
      ...mesh.corners.subarray(mesh.loopStart[mesh.faceLoops[f]!]!, mesh.loopStart[mesh.faceLoops[f]! + 1]!),
    ].map((v) => vertex(mesh, v));
    const middle = run.reduce((m, p) => add(m, p, 1 / run.length), [0, 0, 0] as Vec);
    const n = cutter.normal(f);
    if (Math.abs(dot(n, axis)) > 0.99) continue;
    // The middles of its faces are enough samples of a finely divided cutter.
    for (const p of many ? [middle] : [middle, ...run.map((q) => add(q, sub(middle, q), 0.05))]) {
      // A little off the skin, which the ray would hit too.
      const off = 1e-6 * size;
      const from = add(p, n, off);
      const hit = part.wayOut(from, n);
      if (!hit || hit.distance >= THIN_WALL * size || hit.distance + off >= (best?.length ?? Infinity)) continue;
      best = { kind: 'thin', length: hit.distance + off, point: hit.point };
    }
  }
  return best ? [best] : [];
}

/**
 * How far behind the surface that is met first, against the cutter's axis, the next one lies that looks the same way.
 */
function behind(part: Body, cutter: Body, axis: Direction, others: () => readonly OtherPart[]): Omit<Fit, 'cutter'>[] {
  const { mesh } = cutter;
  const n = mesh.positions.length / 3;
  let high = -Infinity;
  for (let v = 0; v < n; v++) high = Math.max(high, dot(vertex(mesh, v), axis));
  const { min, max } = cutter.box;
  const middle: Vec = [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2, (min[2] + max[2]) / 2];
  const reach = 2 * (high - dot(middle, axis));
  const way = scaled(axis, -1);
  const start = add(middle, axis, high - dot(middle, axis));
  let from = start;
  let gone = 0;
  const met: number[] = [];
  while (met.length < 2) {
    const hit = part.index.raycast(from, way);
    if (!hit || gone + hit.distance > reach) break;
    gone += hit.distance;
    if (dot(part.normal(hit.face), way) < 0) met.push(gone);
    const past = 1e-6 * reach;
    from = add(hit.point, way, past);
    gone += past;
  }
  const found: Omit<Fit, 'cutter'>[] = [];
  if (met.length === 2)
    found.push({ kind: 'behind', length: met[1]! - met[0]!, point: from, remedy: { kind: 'fromBack' } });
  for (const { id, mesh } of met.length ? others() : []) {
    const hit = near(bounds(mesh), cutter.box) ? new SpatialIndex(mesh).raycast(start, way) : null;
    if (hit && hit.distance < met[0]!)
      found.push({ kind: 'inTheWay', part: id, length: met[0]! - hit.distance, point: hit.point });
  }
  return found;
}

/** Flats of the cutter beside those of the curved surface that it meets. */
function flats(part: Body, cutter: Body): Omit<Fit, 'cutter'>[] {
  const [own, surface] = [flatLength(cutter.mesh, null), flatLength(part.mesh, cutter.box)];
  if (own === null || surface === null) return [];
  if (own < UNLIKE_FLATS * surface && surface < UNLIKE_FLATS * own) return [];
  return [
    {
      kind: own > surface ? 'coarse' : 'fine',
      length: own,
      other: surface,
      remedy: { kind: 'flats', length: surface },
    },
  ];
}

/**
 * The middle length of the flats of a curve: of faces beside edges of a slight turn, across those edges; null where
 * nothing is curved.
 */
function flatLength(m: PolyMesh, box: Body['box'] | null): number | null {
  const t = topologyOf(m);
  const N = faceNormals(m);
  const areas = faceAreas(m);
  const [least, most] = CURVE_TURNS.map((d) => Math.cos((d * Math.PI) / 180)) as [number, number];
  const lengths: number[] = [];
  for (const c of t.edgeCorner) {
    const o = t.opposite[c]!;
    if (o < 0) continue;
    const [f, g] = [t.face[c]!, t.face[o]!];
    const turn = N[3 * f]! * N[3 * g]! + N[3 * f + 1]! * N[3 * g + 1]! + N[3 * f + 2]! * N[3 * g + 2]!;
    if (turn > least || turn < most) continue;
    const [a, b] = [vertex(m, m.corners[c]!), vertex(m, m.corners[t.next[c]!]!)];
    const outside = (k: number) => Math.max(a[k]!, b[k]!) < box!.min[k]! || Math.min(a[k]!, b[k]!) > box!.max[k]!;
    if (box && [0, 1, 2].some(outside)) continue;
    const edge = lengthOf(sub(a, b));
    if (edge > 0) lengths.push(Math.min(areas[f]!, areas[g]!) / edge);
  }
  if (lengths.length < 4) return null;
  return lengths.sort((a, b) => a - b)[lengths.length >> 1]!;
}
