import {
  add,
  cross,
  dot,
  faceNormals,
  lengthOf,
  MasonError,
  placementAffine,
  mapPoint,
  sub,
  topologyOf,
  unit,
  vertexCount,
  type PolyMesh,
  type Vec3,
  type OpResult,
  AXES,
} from '../mesh/index.ts';
import { gauge } from '../survey/index.ts';
import { middleOf } from './merge.ts';
import { MeshEdit } from './meshEdit.ts';
import type { EdgesOptions, VerticesOptions } from './operands.ts';

export interface MoveVerticesOptions extends VerticesOptions {
  /** Along the axes, mm; then along each vertex’s own normal. */
  by?: Vec3;
  normal?: number;
  /** Degrees about x, then y, then z, and factors, both about the middle of what is picked or a place. */
  turn?: Vec3;
  scale?: Vec3;
  about?: Vec3 | null;
  /** What lies within this of the pick goes along, less and less, mm; 0 for nothing. */
  soft?: number;
}

export interface MoveVerticesReport {
  moved: number;
}

/** Defaults of the options. */
export const MOVE_VERTICES_DEFAULTS: Required<
  Pick<MoveVerticesOptions, 'by' | 'normal' | 'turn' | 'scale' | 'about' | 'soft'>
> = {
  by: [0, 0, 0],
  normal: 0,
  turn: [0, 0, 0],
  scale: [1, 1, 1],
  about: null,
  soft: 0,
};

/**
 * Moves, turns and scales vertices; those within reach of them follow by a smooth falloff (3 s² − 2 s³). How many
 * followed.
 *
 * @example
 * const { mesh } = moveVertices(box(10, 10, 10), { vertices: [0, 1], by: [0, 0, -2] });
 */
export function moveVertices(m: PolyMesh, options: MoveVerticesOptions): OpResult<MoveVerticesReport> {
  const { vertices: wanted, ...o } = { ...MOVE_VERTICES_DEFAULTS, ...options };
  const list = [...new Set(wanted)];
  const e = new MeshEdit(m);
  const about = o.about ?? middleOf(list.map((v) => e.at(v)));
  const a = placementAffine({ position: [0, 0, 0], turn: [...o.turn], scale: [...o.scale] });
  const normals = o.normal ? vertexNormals(m) : null;
  const target = (v: number, weight: number): Vec3 => {
    const p = e.at(v);
    const d = sub(p, about);
    const q = add(add(mapPoint(a, ...d), about), o.by);
    const n = normals ? add(q, [normals[3 * v]!, normals[3 * v + 1]!, normals[3 * v + 2]!], o.normal) : q;
    return weight === 1 ? n : add(p, sub(n, p), weight);
  };
  const places = new Map(list.map((v) => [v, target(v, 1)]));
  if (o.soft > 0) for (const [v, weight] of within(m, list, o.soft)) places.set(v, target(v, weight));
  for (const [v, p] of places) e.move(v, p);
  return { mesh: e.done(), report: { moved: places.size } };
}

/** Vertices within a distance of some, with how much they go along. */
function within(m: PolyMesh, list: readonly number[], reach: number): Map<number, number> {
  const P = m.positions;
  const picked = new Set(list);
  const used = new Set(m.corners);
  const cells = new Map<string, number[]>();
  const cell = (v: number) => [0, 1, 2].map((k) => Math.floor(P[3 * v + k]! / reach)) as [number, number, number];
  for (const v of list) {
    const name = cell(v).join();
    cells.set(name, [...(cells.get(name) ?? []), v]);
  }
  const out = new Map<number, number>();
  for (const v of used) {
    if (picked.has(v)) continue;
    const [i, j, k] = cell(v);
    let near = Infinity;
    for (let x = -1; x < 2; x++)
      for (let y = -1; y < 2; y++)
        for (let z = -1; z < 2; z++)
          for (const w of cells.get(`${i + x},${j + y},${k + z}`) ?? [])
            near = Math.min(
              near,
              Math.hypot(P[3 * v]! - P[3 * w]!, P[3 * v + 1]! - P[3 * w + 1]!, P[3 * v + 2]! - P[3 * w + 2]!),
            );
    if (near >= reach) continue;
    const s = 1 - near / reach;
    out.set(v, s * s * (3 - 2 * s));
  }
  return out;
}

/** Unit normals at the vertices: the mean of the faces round each. */
export function vertexNormals(m: PolyMesh): Float64Array {
  const N = faceNormals(m);
  const { face } = topologyOf(m);
  const out = new Float64Array(3 * vertexCount(m));
  m.corners.forEach((v, c) => {
    for (let k = 0; k < 3; k++) out[3 * v + k]! += N[3 * face[c]! + k]!;
  });
  for (let v = 0; v < out.length; v += 3) {
    const l = Math.hypot(out[v]!, out[v + 1]!, out[v + 2]!) || 1;
    for (let k = 0; k < 3; k++) out[v + k]! /= l;
  }
  return out;
}

/** Directions that lean by less than this (sine) are one line. */
const ON_LINE = 1e-9;

/** A run of vertices along edges, closed or not. */
export interface Chain {
  vertices: number[];
  closed: boolean;
}

/** Parts edges into runs that end at forks. */
export function chainsOf(m: PolyMesh, corners: Iterable<number>): Chain[] {
  const t = topologyOf(m);
  const beside = new Map<number, number[]>();
  for (const c of corners) {
    const [a, b] = [m.corners[c]!, m.corners[t.next[c]!]!];
    beside.set(a, [...(beside.get(a) ?? []), b]);
    beside.set(b, [...(beside.get(b) ?? []), a]);
  }
  const taken = new Set<string>();
  const name = (a: number, b: number) => (a < b ? `${a},${b}` : `${b},${a}`);
  const out: Chain[] = [];
  const follow = (start: number, first: number): Chain => {
    const vertices = [start];
    let [from, at] = [start, first];
    taken.add(name(from, at));
    while (at !== start) {
      vertices.push(at);
      const next = beside.get(at)!.length === 2 ? beside.get(at)!.find((w) => w !== from) : undefined;
      if (next === undefined || taken.has(name(at, next))) return { vertices, closed: false };
      taken.add(name(at, next));
      [from, at] = [at, next];
    }
    return { vertices, closed: true };
  };
  const ends = [...beside].filter(([, list]) => list.length !== 2);
  for (const [v, list] of [...ends, ...beside])
    for (const w of list) if (!taken.has(name(v, w))) out.push(follow(v, w));
  return out;
}

/** What is made of a run: round, even in its steps, flat, straight. */
export const LOOP_SHAPES = ['round', 'even', 'flat', 'straight'] as const;
export type LoopShape = (typeof LOOP_SHAPES)[number];

export interface ShapeLoopsOptions extends EdgesOptions {
  shape?: LoopShape;
  /** Of a round one: its own plane, or round along a way that it is projected along; its height along that stays. */
  along?: 'own' | 'x' | 'y' | 'z';
  /**
   * Of a round one: its radius, mm; 0 for the one that fits best. And whether its vertices come to stand at equal
   * angles.
   */
  radius?: number;
  even?: boolean;
}

export interface ShapeLoopsReport {
  /** Runs of edges that were shaped. */
  runs: number;
  /** How far the vertex that went furthest went, mm. */
  furthest: number;
}

/** Defaults of the options. */
export const SHAPE_LOOPS_DEFAULTS: Required<Pick<ShapeLoopsOptions, 'shape' | 'along' | 'radius' | 'even'>> = {
  shape: 'round',
  along: 'own',
  radius: 0,
  even: false,
};

/**
 * Shapes runs of edges. How many runs, and how far the furthest vertex went, mm.
 *
 * @example
 * const m = cylinder(10, 20, 12);
 * const { mesh } = shapeLoops(m, { edges: elementsOf(m, 'edge').slice(0, 12), shape: 'even' });
 */
export function shapeLoops(m: PolyMesh, options: ShapeLoopsOptions): OpResult<ShapeLoopsReport> {
  const { edges: corners, ...o } = { ...SHAPE_LOOPS_DEFAULTS, ...options };
  const e = new MeshEdit(m);
  const chains = chainsOf(m, corners).filter((c) => c.vertices.length > 2);
  let furthest = 0;
  for (const chain of chains) {
    const points = chain.vertices.map((v) => e.at(v));
    const to = shaped(points, chain.closed, o);
    chain.vertices.forEach((v, i) => {
      furthest = Math.max(furthest, lengthOf(sub(to[i]!, points[i]!)));
      e.move(v, to[i]!);
    });
  }
  return { mesh: e.done(), report: { runs: chains.length, furthest } };
}

function shaped(points: readonly Vec3[], closed: boolean, o: typeof SHAPE_LOOPS_DEFAULTS): Vec3[] {
  switch (o.shape) {
    case 'round':
      if (!closed) throw new MasonError('bad-input', 'Only a closed run can be made round. Pick the whole loop.');
      return rounded(points, o);
    case 'even':
      return evenly(points, closed);
    case 'flat': {
      const mid = middleOf(points);
      const n = closed ? areaWay(points) : leastWay(points, mid);
      return points.map((p) => add(p, n, -dot(sub(p, mid), n)));
    }
    case 'straight': {
      const [a, b] = [points[0]!, points.at(-1)!];
      if (closed)
        throw new MasonError('bad-input', 'A closed run has no ends to be straight between. Pick a part of it.');
      const way = unit(sub(b, a));
      return points.map((p) => add(a, way, dot(sub(p, a), way)));
    }
  }
}

function rounded(points: readonly Vec3[], { along, radius, even }: typeof SHAPE_LOOPS_DEFAULTS): Vec3[] {
  const axis: Vec3 = along === 'own' ? areaWay(points) : AXES[along];
  const mid = middleOf(points);
  const u = unit(cross(Math.abs(axis[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0], axis));
  const w = cross(axis, u);
  // Seen along the axis the run is flat: the circle that fits it there.
  const seen = points.map((p): Vec3 => [dot(sub(p, mid), u), dot(sub(p, mid), w), 0]);
  const fit = points.length > 4 ? gauge(seen) : null;
  const centre: Vec3 = fit ? fit.centre : middleOf(seen);
  const r =
    radius > 0 ? radius : fit ? fit.radius : seen.reduce((s, p) => s + lengthOf(sub(p, centre)), 0) / seen.length;
  const angles = seen.map((p) => Math.atan2(p[1] - centre[1], p[0] - centre[0]));
  const way =
    Math.sign(
      seen.reduce((s, p, i) => {
        const q = seen[(i + 1) % seen.length]!;
        return s + (p[0] - centre[0]) * (q[1] - centre[1]) - (p[1] - centre[1]) * (q[0] - centre[0]);
      }, 0),
    ) || 1;
  const step = (way * 2 * Math.PI) / points.length;
  // Starts the equal steps where they move all vertices least.
  const shift = even ? meanAngle(angles.map((a, i) => a - i * step)) : 0;
  return points.map((p, i) => {
    const a = even ? shift + i * step : angles[i]!;
    const h = along === 'own' ? 0 : dot(sub(p, mid), axis);
    return add(add(add(mid, u, centre[0] + r * Math.cos(a)), w, centre[1] + r * Math.sin(a)), axis, h);
  });
}

const meanAngle = (list: readonly number[]): number =>
  Math.atan2(
    list.reduce((s, a) => s + Math.sin(a), 0),
    list.reduce((s, a) => s + Math.cos(a), 0),
  );

/** The same run with steps of one length along it; ends stay, and the first vertex of a closed one. */
function evenly(points: readonly Vec3[], closed: boolean): Vec3[] {
  const run = closed ? [...points, points[0]!] : [...points];
  const at = [0];
  for (let i = 1; i < run.length; i++) at.push(at[i - 1]! + lengthOf(sub(run[i]!, run[i - 1]!)));
  const step = at.at(-1)! / (run.length - 1);
  return points.map((p, i) => {
    if (i === 0 || (!closed && i === points.length - 1)) return p;
    const want = i * step;
    let k = 1;
    while (k < run.length - 1 && at[k]! < want) k++;
    const long = at[k]! - at[k - 1]!;
    return add(run[k - 1]!, sub(run[k]!, run[k - 1]!), long > 0 ? (want - at[k - 1]!) / long : 0);
  });
}

/** The way through a closed run: square to its area. */
function areaWay(points: readonly Vec3[]): Vec3 {
  const mid = middleOf(points);
  const area = points.reduce<Vec3>(
    (s, p, i) => add(s, cross(sub(p, mid), sub(points[(i + 1) % points.length]!, mid))),
    [0, 0, 0],
  );
  if (!(lengthOf(area) > 0))
    throw new MasonError('bad-input', 'The run encloses no area: it has no plane of its own. Choose an axis.');
  return unit(area);
}

/** The way square to an open run: to its longest way, and to what then is the furthest from it. */
function leastWay(points: readonly Vec3[], mid: Vec3): Vec3 {
  const along = unit(sub(points.at(-1)!, points[0]!));
  const aside = points
    .map((p) => {
      const d = sub(p, mid);
      return add(d, along, -dot(d, along));
    })
    .reduce((a, b) => (lengthOf(b) > lengthOf(a) ? b : a));
  if (!(lengthOf(aside) > 0)) return unit(cross(Math.abs(along[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0], along));
  return unit(cross(along, aside));
}

/**
 * Where vertices are brought to: one place of an axis (mm; null: the mean of theirs), the plane through three points,
 * or the line through two.
 */
export type AlignTo =
  { axis: 'x' | 'y' | 'z'; at: number | null } | { plane: [Vec3, Vec3, Vec3] } | { line: [Vec3, Vec3] };

/**
 * The plane of the first of some places: through the first two, and the first of the others that is not on their line.
 */
export function firstPlane(points: readonly Vec3[]): [Vec3, Vec3, Vec3] {
  const [a, b] = points;
  const third = points
    .slice(2)
    .find((c) => lengthOf(cross(sub(b!, a!), sub(c, a!))) > ON_LINE * lengthOf(sub(b!, a!)) * lengthOf(sub(c, a!)));
  if (!third)
    throw new MasonError(
      'bad-input',
      'The picked vertices lie on one line: they have no plane. Pick a face, or three vertices, first.',
    );
  return [a!, b!, third];
}

export interface AlignVerticesOptions extends VerticesOptions {
  to: AlignTo;
}

export interface AlignVerticesReport {
  moved: number;
}

/**
 * Brings vertices to one place of an axis, or straight onto a plane or a line.
 *
 * @example
 * const { mesh } = alignVertices(box(10, 10, 10), { vertices: [0, 1], to: { axis: 'z', at: 3 } });
 */
export function alignVertices(
  m: PolyMesh,
  { vertices: wanted, to }: AlignVerticesOptions,
): OpResult<AlignVerticesReport> {
  const e = new MeshEdit(m);
  const list = [...wanted];
  const place = placeOnTo(
    to,
    list.map((v) => e.at(v)),
  );
  for (const v of list) e.move(v, place(e.at(v)));
  return { mesh: e.done(), report: { moved: list.length } };
}

function placeOnTo(to: AlignTo, points: readonly Vec3[]): (p: Vec3) => Vec3 {
  if ('axis' in to) {
    const k = 'xyz'.indexOf(to.axis);
    const at = to.at ?? points.reduce((s, p) => s + p[k]!, 0) / points.length;
    return (p) => p.map((x, i) => (i === k ? at : x)) as unknown as Vec3;
  }
  if ('line' in to) {
    const [a, b] = to.line;
    const way = unit(sub(b, a));
    return (p) => add(a, way, dot(sub(p, a), way));
  }
  const [a, b, c] = to.plane;
  const n = unit(cross(sub(b, a), sub(c, a)));
  return (p) => add(p, n, -dot(sub(p, a), n));
}

export interface MatchLoopOptions {
  /** The run that is moved, and the one that it comes to lie on. */
  run: Chain;
  other: Chain;
}

export interface MatchLoopReport {
  moved: number;
}

/**
 * Turns the corners of a closed run round its middle so that they stand at the angles of another run of as many: spokes
 * between the two are straight.
 *
 * @example
 * const round = (r: number, turn: number) => Array.from({ length: 6 }, (_, i) => [r * Math.cos(i + turn), r * Math.sin(i + turn), r]);
 * const m = meshFromFaces([...round(5, 0), ...round(9, 0.2)].flat(), [[0, 1, 2, 3, 4, 5], [6, 7, 8, 9, 10, 11]]);
 * const closed = (first: number) => ({ vertices: [0, 1, 2, 3, 4, 5].map((i) => first + i), closed: true });
 * const { mesh } = matchLoop(m, { run: closed(0), other: closed(6) });
 */
export function matchLoop(m: PolyMesh, { run, other }: MatchLoopOptions): OpResult<MatchLoopReport> {
  const e = new MeshEdit(m);
  if (!run.closed || !other.closed || run.vertices.length !== other.vertices.length)
    throw new MasonError(
      'bad-input',
      `Both runs must be closed and have the same number of corners (${run.vertices.length} and ${other.vertices.length}).`,
    );
  const points = run.vertices.map((v) => e.at(v));
  const target = other.vertices.map((v) => e.at(v));
  const axis = areaWay(points);
  const [mid, to] = [middleOf(points), middleOf(target)];
  const u = unit(cross(Math.abs(axis[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0], axis));
  const w = cross(axis, u);
  const seen = (p: Vec3, c: Vec3) => [dot(sub(p, c), u), dot(sub(p, c), w)] as const;
  const own = points.map((p) => seen(p, mid));
  const radius = own.reduce((s, [x, y]) => s + Math.hypot(x, y), 0) / own.length;
  // Corners are paired from the nearest angle on, in the same sense.
  const n = own.length;
  const angle = ([x, y]: readonly [number, number]) => Math.atan2(y, x);
  const theirs = target.map((p) => angle(seen(p, to)));
  const sense = areaSense(own) === areaSense(target.map((p) => seen(p, to))) ? 1 : -1;
  const order = (shift: number) => Array.from({ length: n }, (_, i) => theirs[(((shift + sense * i) % n) + n) % n]!);
  const apart = (list: readonly number[]) => list.reduce((s, a, i) => s + 1 - Math.cos(a - angle(own[i]!)), 0);
  const best = Array.from({ length: n }, (_, s) => order(s)).reduce((a, b) => (apart(b) < apart(a) ? b : a));
  run.vertices.forEach((v, i) => {
    const h = dot(sub(points[i]!, mid), axis);
    e.move(v, add(add(add(mid, u, radius * Math.cos(best[i]!)), w, radius * Math.sin(best[i]!)), axis, h));
  });
  return { mesh: e.done(), report: { moved: n } };
}

const areaSense = (list: readonly (readonly [number, number])[]): boolean =>
  list.reduce((s, [x, y], i) => s + x * list[(i + 1) % list.length]![1] - y * list[(i + 1) % list.length]![0], 0) > 0;
