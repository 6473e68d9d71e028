import {
  dot,
  faceBegin,
  faceCount,
  faceEnd,
  faceNormals,
  FlatFace,
  insideRing,
  lengthOf,
  MasonError,
  add,
  cross,
  scaled,
  segmentsMeet,
  sub,
  topologyOf,
  unit,
  type NewCorner,
  type PolyMesh,
  type Vec3,
  type OpResult,
} from '../mesh/index.ts';
import { corner, MeshEdit } from './meshEdit.ts';
import type { FacesOptions } from './operands.ts';

/** Rounds of the search for how far an inset may go. */
const INSET_ROUNDS = 40;

/** How far a face can be inset before its boundaries run into themselves or each other, mm: within a millionth. */
export function insetRoom(m: PolyMesh, f: number): number {
  const flat = new FlatFace(m, f);
  let high = 0;
  const [outer] = flat.boundaries as [number[]];
  for (const c of outer)
    for (const d of outer)
      high = Math.max(high, Math.hypot(flat.at(c)[0] - flat.at(d)[0], flat.at(c)[1] - flat.at(d)[1]));
  let low = 0;
  for (let i = 0; i < INSET_ROUNDS; i++) {
    const mid = (low + high) / 2;
    if (fits(flat, mid)) low = mid;
    else high = mid;
  }
  return low;
}

/** The boundaries of a face moved into it by a distance: where its edges meet that are moved so far. */
function moved(flat: FlatFace, distance: number): [number, number][][] {
  return flat.boundaries.map((loop) =>
    loop.map((c, i) => {
      const [p, q, r] = [
        flat.at(loop[(i + loop.length - 1) % loop.length]!),
        flat.at(c),
        flat.at(loop[(i + 1) % loop.length]!),
      ];
      const way = (a: readonly number[], b: readonly number[]) => {
        const l = Math.hypot(b[0]! - a[0]!, b[1]! - a[1]!) || 1;
        return [(b[0]! - a[0]!) / l, (b[1]! - a[1]!) / l] as const;
      };
      const [u, w] = [way(p, q), way(q, r)];
      // To the left of both edges; their normals’ sum, as long as it must be for both to be a distance away.
      const [nx, ny] = [-u[1] - w[1], u[0] + w[0]];
      const k = (2 * distance) / (nx * nx + ny * ny || 1);
      return [q[0] + k * nx, q[1] + k * ny];
    }),
  );
}

function fits(flat: FlatFace, distance: number): boolean {
  const loops = moved(flat, distance);
  // No edge has turned round, and none meets another one.
  for (const [l, loop] of loops.entries()) {
    const old = flat.boundaries[l]!;
    for (let i = 0; i < loop.length; i++) {
      const [a, b] = [loop[i]!, loop[(i + 1) % loop.length]!];
      const [p, q] = [flat.at(old[i]!), flat.at(old[(i + 1) % old.length]!)];
      if ((b[0] - a[0]) * (q[0] - p[0]) + (b[1] - a[1]) * (q[1] - p[1]) <= 0) return false;
    }
  }
  // A hole that grows stays within its surround, and outside of others.
  if (loops.slice(1).some((hole) => !insideRing(loops[0]!, hole[0]!))) return false;
  const edges = loops.flatMap((loop, l) =>
    loop.map((a, i) => ({ l, i, n: loop.length, a, b: loop[(i + 1) % loop.length]! })),
  );
  for (let i = 0; i < edges.length; i++)
    for (let j = i + 1; j < edges.length; j++) {
      const [e, g] = [edges[i]!, edges[j]!];
      const beside = e.l === g.l && ((e.i + 1) % e.n === g.i || (g.i + 1) % g.n === e.i);
      if (!beside && segmentsMeet(e.a, e.b, g.a, g.b, 0)) return false;
    }
  return true;
}

export interface InsetOptions extends FacesOptions {
  /** How far from the old boundary the new one is, mm. */
  distance?: number;
  /** As far as there is room, in place of the distance. */
  most?: boolean;
  /** Faces that hang together are inset as one. */
  group?: boolean;
  /** How far what is inset is moved along its normal besides, mm. */
  depth?: number;
}

export interface InsetReport {
  /** How far it went, mm. */
  distance: number;
  /** How far it could go, mm; infinite where only lots of several faces are inset, which are not measured. */
  room: number;
  faces: number;
  /** The smaller faces, by their numbers in the result. */
  inner: number[];
}

/** Defaults of the options. */
export const INSET_DEFAULTS: Required<Pick<InsetOptions, 'distance' | 'most' | 'group' | 'depth'>> = {
  distance: 1,
  most: false,
  group: false,
  depth: 0,
};

/**
 * Insets faces: a smaller one in each, or in each lot that hangs together, with a band of quads round it; holes get a
 * band of their own. Throws `bad-input` with the room there is when the distance is more.
 *
 * @example
 * const { mesh } = inset(box(10, 10, 10), { faces: [0], distance: 2 });
 */
export function inset(m: PolyMesh, options: InsetOptions): OpResult<InsetReport> {
  const { faces, distance: typed, most, group, depth } = { ...INSET_DEFAULTS, ...options };
  const list = [...faces];
  const lots = group ? connectedFaces(m, list) : list.map((f) => [f]);
  const e = new MeshEdit(m);
  const N = faceNormals(m);
  const room = Math.min(
    ...list.filter((f) => !group || lots.some((l) => l.length === 1 && l[0] === f)).map((f) => insetRoom(m, f)),
    Infinity,
  );
  // A hair less than what just fits.
  const distance = most ? Math.min(room, lotRoom(m, lots)) * (1 - 1e-6) : typed;
  if (!most && distance > room)
    throw new MasonError(
      'bad-input',
      `There is room for an inset of ${+room.toPrecision(4)} mm at most; ${distance} mm would run into itself.`,
      { face: list[0]! },
    );
  for (const lot of lots) {
    if (lot.length === 1) insetOne(e, lot[0]!, distance, depth, N);
    else insetLot(e, lot, distance, depth, N);
  }
  const mesh = e.done();
  // Each comes first of those that stand in its place.
  const first = new Map<number, number>();
  e.origins.forEach((from, f) => first.has(from) || first.set(from, f));
  return { mesh, report: { distance, room, faces: list.length, inner: list.map((f) => first.get(f)!) } };
}

function insetOne(e: MeshEdit, f: number, distance: number, depth: number, N: Float64Array): void {
  const flat = new FlatFace(e.mesh, f);
  const n: Vec3 = [N[3 * f]!, N[3 * f + 1]!, N[3 * f + 2]!];
  const loops = moved(flat, distance).map((loop) => loop.map((p) => e.vertex(add(flat.lift(p), n, depth))));
  const old = e.boundaries(f);
  const band = old.flatMap((loop, l) =>
    loop.map((c, i) => {
      const j = (i + 1) % loop.length;
      return { from: f, boundaries: [[c, corner(loop[j]!.vertex), corner(loops[l]![j]!), corner(loops[l]![i]!)]] };
    }),
  );
  e.replace(f, [{ from: f, boundaries: loops.map((loop) => loop.map((v) => corner(v))) }, ...band]);
}

/** Lots of faces that hang together by edges. */
export function connectedFaces(m: PolyMesh, faces: readonly number[]): number[][] {
  const t = topologyOf(m);
  const left = new Set(faces);
  const out: number[][] = [];
  for (const f of faces) {
    if (!left.delete(f)) continue;
    const lot = [f];
    for (let i = 0; i < lot.length; i++)
      for (let c = faceBegin(m, lot[i]!); c < faceEnd(m, lot[i]!); c++) {
        const g = t.opposite[c]! >= 0 ? t.face[t.opposite[c]!]! : -1;
        if (left.delete(g)) lot.push(g);
      }
    out.push(lot);
  }
  return out;
}

/** How far lots of several faces can be inset, mm: up to half of the shortest edge that leads into them. */
function lotRoom(m: PolyMesh, lots: readonly (readonly number[])[]): number {
  const t = topologyOf(m);
  let room = Infinity;
  for (const lot of lots) {
    if (lot.length < 2) continue;
    const inside = new Set(lot);
    for (const f of lot)
      for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
        const o = t.opposite[c]!;
        if (o < 0 || !inside.has(t.face[o]!)) continue;
        const [a, b] = [m.corners[c]!, m.corners[o]!];
        room = Math.min(
          room,
          Math.hypot(...[0, 1, 2].map((k) => m.positions[3 * a + k]! - m.positions[3 * b + k]!)) / 2,
        );
      }
  }
  return room;
}

/** The directed border edges of a lot of faces, as corners of it. */
function borderOf(m: PolyMesh, lot: ReadonlySet<number>): number[] {
  const t = topologyOf(m);
  return [...lot]
    .flatMap((f) => Array.from({ length: faceEnd(m, f) - faceBegin(m, f) }, (_, i) => faceBegin(m, f) + i))
    .filter((c) => t.opposite[c]! < 0 || !lot.has(t.face[t.opposite[c]!]!));
}

function insetLot(e: MeshEdit, lot: readonly number[], distance: number, depth: number, N: Float64Array): void {
  const { mesh: m, topology: t } = e;
  const inside = new Set(lot);
  const border = borderOf(m, inside);
  const place = new Map<number, { sum: Vec3; n: number; up: Vec3 }>();
  // At each border corner into the face, square to its border edges; of several faces the mean, where they meet along
  // an edge that leads in.
  for (const c of border)
    for (const [v, other] of [
      [m.corners[c]!, m.corners[t.next[c]!]!],
      [m.corners[t.next[c]!]!, m.corners[c]!],
    ] as const) {
      const f = t.face[c]!;
      const n: Vec3 = [N[3 * f]!, N[3 * f + 1]!, N[3 * f + 2]!];
      const along = unit(sub(e.at(other), e.at(v)));
      const into = m.corners[c] === v ? cross(n, along) : cross(along, n);
      const known = place.get(v);
      if (known) place.set(v, { sum: add(known.sum, unit(into)), n: known.n + 1, up: add(known.up, n) });
      else place.set(v, { sum: unit(into), n: 1, up: n });
    }
  const to = new Map<number, number>();
  for (const [v, { sum, up }] of place) {
    const l = dot(sum, sum);
    const p = add(add(e.at(v), sum, l > 1e-12 ? (2 * distance) / l : 0), unit(up), depth);
    to.set(v, e.vertex(p));
  }
  if (depth)
    for (const f of lot)
      for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
        const v = m.corners[c]!;
        if (!to.has(v)) e.move(v, add(e.at(v), meanNormal(e, v, inside, N), depth));
      }
  for (const f of lot) {
    const inner = e
      .boundaries(f)
      .map((loop) =>
        loop.map((c) => (to.has(c.vertex) ? corner(to.get(c.vertex)!, leads(c, inside, t) ? c.edge : -1) : c)),
      );
    const band = border
      .filter((c) => t.face[c] === f)
      .map((c) => {
        const [a, b] = [m.corners[c]!, m.corners[t.next[c]!]!];
        return { from: f, boundaries: [[corner(a, c), corner(b), corner(to.get(b)!), corner(to.get(a)!)]] };
      });
    e.replace(f, [{ from: f, boundaries: inner }, ...band]);
  }
}

/** Whether an edge of the lot leads from face to face within it. */
const leads = (c: NewCorner, inside: ReadonlySet<number>, { opposite, face }: MeshEdit['topology']): boolean =>
  opposite[c.edge]! >= 0 && inside.has(face[opposite[c.edge]!]!);

function meanNormal(e: MeshEdit, v: number, lot: ReadonlySet<number>, N: Float64Array): Vec3 {
  let n: Vec3 = [0, 0, 0];
  e.mesh.corners.forEach((w, c) => {
    const f = e.topology.face[c]!;
    if (w === v && lot.has(f)) n = add(n, [N[3 * f]!, N[3 * f + 1]!, N[3 * f + 2]!]);
  });
  return unit(n);
}

export interface ExtrudeOptions extends FacesOptions {
  /** mm; below 0 into the material. */
  distance?: number;
  /** Along the normals of the faces, or along an axis. */
  along?: 'normal' | 'x' | 'y' | 'z';
  /** Each face by itself, or what hangs together as one. */
  group?: boolean;
  /** Whether a face that looks the other way is left where an open sheet stood, so that it becomes closed. */
  back?: boolean;
  /** The course that new walls are marked with; 0 for none. */
  course?: number;
}

export interface ExtrudeReport {
  /** Faces of the walls that were made. */
  walls: number;
}

/** Defaults of the options. */
export const EXTRUDE_DEFAULTS: Required<Pick<ExtrudeOptions, 'distance' | 'along' | 'group' | 'back' | 'course'>> = {
  distance: 5,
  along: 'normal',
  group: true,
  back: false,
  course: 0,
};

/**
 * Extrudes faces: they are moved, and walls stand along the border of each lot. Along normals every face of a lot is
 * moved by the distance square to itself, as far as the corners between them allow.
 *
 * @example
 * const { mesh } = extrude(box(10, 10, 10), { faces: [0], distance: 5 });
 */
export function extrude(m: PolyMesh, options: ExtrudeOptions): OpResult<ExtrudeReport> {
  const { faces, distance, along, group, back, course } = { ...EXTRUDE_DEFAULTS, ...options };
  const list = [...faces];
  const lots = group ? connectedFaces(m, list) : list.map((f) => [f]);
  const e = new MeshEdit(m);
  const t = topologyOf(m);
  const N = faceNormals(m);
  const normal = (f: number): Vec3 => [N[3 * f]!, N[3 * f + 1]!, N[3 * f + 2]!];
  const axis: Vec3 | null = along === 'normal' ? null : [+(along === 'x'), +(along === 'y'), +(along === 'z')];
  let walls = 0;
  for (const lot of lots) {
    const inside = new Set(lot);
    const border = borderOf(m, inside);
    // Normals of the faces of the lot round each of its vertices, each direction once.
    const around = new Map<number, Vec3[]>();
    for (const f of lot)
      for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
        const known = around.get(m.corners[c]!) ?? [];
        if (!known.some((n) => dot(n, normal(f)) > 1 - 1e-9)) known.push(normal(f));
        around.set(m.corners[c]!, known);
      }
    const to = new Map<number, number>();
    const shift = (v: number): Vec3 => (axis ? scaled(axis, distance) : scaled(squareTo(around.get(v)!), distance));
    const rim = new Set(border.map((c) => m.corners[c]!));
    for (const v of around.keys()) {
      const p = add(e.at(v), shift(v));
      if (rim.has(v) || back || !group) to.set(v, e.vertex(p));
      else e.move(v, p);
    }
    for (const f of lot) {
      const moved = e.boundaries(f).map((loop) => loop.map((c) => corner(to.get(c.vertex) ?? c.vertex, c.edge)));
      const sheet = back && border.some((c) => t.opposite[c]! < 0);
      e.replace(f, [{ from: f, boundaries: moved }]);
      if (sheet)
        e.add(
          f,
          e.boundaries(f).map((loop) => [...loop].reverse().map((c) => corner(c.vertex))),
        );
    }
    for (const c of border) {
      const [a, b] = [m.corners[c]!, m.corners[t.next[c]!]!];
      e.add(t.face[c]!, [[corner(a, c), corner(b), corner(to.get(b)!), corner(to.get(a)!)]]);
      walls++;
    }
  }
  return { mesh: e.done(course), report: { walls } };
}

/**
 * The shortest way that goes by 1 along each of some unit normals, as far as three of them settle it; of more the mean,
 * scaled.
 */
function squareTo(normals: readonly Vec3[]): Vec3 {
  const [a, b, c] = normals as [Vec3, Vec3?, Vec3?];
  if (!b) return a;
  if (c) {
    const det = dot(a, cross(b, c));
    if (Math.abs(det) > 1e-6) {
      const p = scaled(add(add(cross(b, c), cross(c, a)), cross(a, b)), 1 / det);
      if (normals.every((n) => Math.abs(dot(p, n) - 1) < 1e-6)) return p;
    }
  }
  const mean = normals.reduce<Vec3>((s, n) => add(s, n), [0, 0, 0]);
  if (lengthOf(mean) < 1e-9) return a;
  const u = unit(mean);
  const least = Math.max(0.2, Math.min(...normals.map((n) => dot(u, n))));
  return normals.length === 2 ? scaled(mean, 1 / (1 + dot(a, b))) : scaled(u, 1 / least);
}

export interface DetachReport {
  /** Edges that were opened. */
  opened: number;
}

/**
 * Sets faces free: their border gets vertices of its own, and they lie where they were. How many edges came open.
 *
 * @example
 * const { mesh } = detach(box(10, 10, 10), { faces: [0] });
 */
export function detach(m: PolyMesh, { faces }: FacesOptions): OpResult<DetachReport> {
  const inside = new Set(faces);
  const e = new MeshEdit(m);
  const t = topologyOf(m);
  const border = borderOf(m, inside).filter((c) => t.opposite[c]! >= 0);
  const to = new Map<number, number>();
  const others = new Set<number>();
  for (let f = 0; f < faceCount(m); f++)
    if (!inside.has(f)) for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) others.add(m.corners[c]!);
  for (const f of inside) {
    const boundaries = e.boundaries(f).map((loop) =>
      loop.map((c) => {
        if (!others.has(c.vertex)) return c;
        if (!to.has(c.vertex)) to.set(c.vertex, e.vertex(e.at(c.vertex)));
        return corner(to.get(c.vertex)!, c.edge);
      }),
    );
    e.replace(f, [{ from: f, boundaries }]);
  }
  return { mesh: e.done(), report: { opened: border.length } };
}
