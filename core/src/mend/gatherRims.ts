import {
  lengthOf,
  nearestOn,
  segmentsMeet,
  sub,
  topologyOf,
  vertexCorners,
  vertexPlace,
  type Flat,
  type NewCorner,
  type OpResult,
  type PolyMesh,
  type Vec3,
} from '../mesh/index.ts';
import { keptEdges } from './band/keptEdges.ts';
import { MeshEdit } from './meshEdit.ts';
import type { EdgesOptions } from './operands.ts';
import { chainsOf } from './place.ts';

/** A rim moves by no more than this share of the edge that takes the place of those that are joined. */
const MAY_MOVE = 0.06;
/** The vertices that stay are more evenly apart than all were, by this factor at least. */
const MORE_EVEN = 1.2;
/** Fewer vertices than this make no rim. */
const LEAST_LEFT = 4;

export interface GatherReport {
  /** Vertices that went, and the farthest that a rim moved there, mm. */
  gathered: number;
  moved: number;
}

/**
 * Lets closed rims (by one corner for each edge) keep the vertices of one of their sides, as a rule those of what cut
 * them: vertices at which only edges of the other side end go, and these edges end at the nearest vertex that stays.
 * Vertices at which sharp or marked edges end stay, and so do those without which a face would turn over.
 *
 * @example
 * const bored = carve(cylinder(30, 80, 48), { cutters: [cylinder(12, 100, 24)], operation: 'subtract' }).mesh;
 * const { mesh } = gatherRims(bored, { edges: seamEdges(bored) });
 */
export function gatherRims(m: PolyMesh, { edges }: EdgesOptions): OpResult<GatherReport> {
  const { mesh, gathered, moved } = gatheredRims(m, [...edges], () => true);
  return { mesh, report: { gathered, moved } };
}

/** A mesh with rims that were gathered. */
export interface GatheredRims extends GatherReport {
  mesh: PolyMesh;
  /** For each of its faces: the earlier face that it is. */
  of: (f: number) => number;
  /** Those of them that lost a vertex, or had one moved. */
  changed: ReadonlySet<number>;
  /** Corners of the edges given, one for each that is left. */
  edges: () => number[];
}

/** As `gatherRims`; vertices of faces that may not change stay. */
export function gatheredRims(m: PolyMesh, edges: readonly number[], may: (f: number) => boolean): GatheredRims {
  const targets = new Map<number, number>();
  const off = new Map<number, number>();
  const ways = waysFrom(m, edges);
  for (const { vertices, closed } of chainsOf(m, edges)) {
    if (!closed) continue;
    const at = vertices.map((v) => vertexPlace(m, v));
    const stay = keptOf(
      vertices.map((_, i) => ways(vertices, i)),
      at,
    );
    if (!stay) continue;
    stay.forEach((a, i) => {
      const b = stay[(i + 1) % stay.length]!;
      const count = (b - a + vertices.length) % vertices.length;
      const between = Array.from({ length: count - 1 }, (_, k) => (a + 1 + k) % vertices.length);
      const far = between.map((k) => nearestOn(at[k]!, at[a]!, at[b]!).distance);
      if (Math.max(0, ...far) > MAY_MOVE * lengthOf(sub(at[b]!, at[a]!))) return;
      between.forEach((k, j) => {
        const near = lengthOf(sub(at[k]!, at[a]!)) <= lengthOf(sub(at[k]!, at[b]!)) ? a : b;
        targets.set(vertices[k]!, vertices[near]!);
        off.set(vertices[k]!, far[j]!);
      });
    });
  }
  const { numberOf, ...made } = joined(m, targets, may);
  return {
    ...made,
    edges: () => edgesBetween(made.mesh, m, edges, numberOf),
    gathered: targets.size,
    moved: [...targets.keys()].reduce((x, v) => Math.max(x, off.get(v)!), 0),
  };
}

/** Edges that leave a vertex of a rim to its left and to its right, by their corners; null where there is no side. */
type Sides = readonly [number[] | null, number[] | null];

/** The edges on either side of a rim at one of its vertices. `edges`: those of all rims. */
function waysFrom(
  m: PolyMesh,
  edges: Iterable<number>,
): (rim: readonly number[], i: number) => Sides & { kept: boolean } {
  const t = topologyOf(m);
  const isRim = new Uint8Array(t.edgeCount);
  for (const c of edges) isRim[t.edge[c]!] = 1;
  const cornersAt = vertexCorners(m);
  const isKept = keptEdges(m);
  return (rim, i) => {
    const [v, ends] = [rim[i]!, [rim[(i + 1) % rim.length]!, rim[(i + rim.length - 1) % rim.length]!]];
    let kept = false;
    const sides = ends.map((to): number[] | null => {
      let c = cornersAt(v).find((k) => m.corners[t.next[k]!] === to) ?? -1;
      if (c < 0) return null;
      const out: number[] = [];
      // Round the vertex to the left, up to the rim again.
      while (!isRim[t.edge[t.prev[c]!]!]) {
        c = t.opposite[t.prev[c]!]!;
        if (c < 0 || out.includes(c)) return null;
        out.push(c);
        kept ||= isKept(c);
      }
      return out;
    });
    return Object.assign(sides as unknown as Sides, { kept });
  };
}

/** Which vertices of a rim stay, by their places in it; null where all do. */
function keptOf(sides: readonly (Sides & { kept: boolean })[], at: readonly Vec3[]): number[] | null {
  const all = [...sides.keys()];
  const unevenness = (list: readonly number[]) => {
    const lengths = list.map((i, k) => lengthOf(sub(at[list[(k + 1) % list.length]!]!, at[i]!)));
    return Math.max(...lengths) / (Math.min(...lengths) || Number.MIN_VALUE);
  };
  const bare = (side: 0 | 1) =>
    all.filter((i) => !(sides[i]![side]?.length === 0 && sides[i]![1 - side]?.length && !sides[i]!.kept));
  const ways = ([0, 1] as const).map(bare).filter((list) => list.length >= LEAST_LEFT && list.length < all.length);
  const [best] = ways.sort((a, b) => unevenness(a) - unevenness(b));
  return best && unevenness(best) * MORE_EVEN < unevenness(all) ? best : null;
}

/**
 * The mesh with some vertices joined to others. Those are left out, and taken off `targets`, without which a face would
 * turn over or cross itself.
 */
function joined(
  m: PolyMesh,
  targets: Map<number, number>,
  may: (f: number) => boolean,
): Pick<GatheredRims, 'mesh' | 'of' | 'changed'> & { numberOf: (v: number) => number } {
  const e = new MeshEdit(m);
  const cornersAt = vertexCorners(m);
  const facesAt = (vertices: Iterable<number>) =>
    new Set([...vertices].flatMap(cornersAt).map((c) => e.topology.face[c]!));
  for (let faulty = true; faulty && targets.size;) {
    faulty = false;
    for (const f of facesAt(targets.keys())) {
      const was = e.boundaries(f);
      const now = was.map((loop) => without(loop, targets)).filter((loop) => loop.length > 2);
      if (may(f) && (now.length < was.length ? was.length === 1 : isSound(e, f, now))) continue;
      for (const { vertex } of was.flat()) faulty = targets.delete(vertex) || faulty;
    }
  }
  const touched = facesAt(targets.keys());
  for (const f of touched) {
    const [outer, ...holes] = e.boundaries(f).map((loop) => without(loop, targets)) as [NewCorner[], ...NewCorner[][]];
    e.replace(f, outer.length < 3 ? [] : [{ from: f, boundaries: [outer, ...holes.filter((h) => h.length > 2)] }]);
  }
  if (!targets.size) return { mesh: m, of: (f) => f, changed: new Set(), numberOf: (v) => v };
  const mesh = e.done();
  const changed = new Set([...e.origins.keys()].filter((f) => touched.has(e.origins[f]!)));
  return { mesh, of: (f) => e.origins[f]!, changed, numberOf: (v) => e.numbers[targets.get(v) ?? v]! };
}

/** Corners of a mesh along some edges (by a corner) of the one that it was made of. */
function edgesBetween(made: PolyMesh, m: PolyMesh, edges: Iterable<number>, numberOf: (v: number) => number): number[] {
  const { next } = topologyOf(m);
  const t = topologyOf(made);
  const name = (a: number, b: number) => (a < b ? `${a},${b}` : `${b},${a}`);
  const wanted = new Set([...edges].map((c) => name(numberOf(m.corners[c]!), numberOf(m.corners[next[c]!]!))));
  return [...t.edgeCorner].filter((c) => wanted.has(name(made.corners[c]!, made.corners[t.next[c]!]!)));
}

/** A boundary in which vertices are joined: of those that come to be one the last goes on. */
function without(loop: readonly NewCorner[], targets: ReadonlyMap<number, number>): NewCorner[] {
  const to = loop.map((c) => ({ ...c, vertex: targets.get(c.vertex) ?? c.vertex }));
  return to.filter((c, i) => c.vertex !== to[(i + 1) % to.length]!.vertex);
}

/** Whether a face with other boundaries looks the way that it did, and none of its edges cross. */
function isSound(e: MeshEdit, f: number, boundaries: readonly (readonly NewCorner[])[]): boolean {
  const rings = boundaries.map((loop) => e.flat(f, loop));
  const twice = (r: readonly Flat[]) =>
    r.reduce((s, p, i) => s + p[0] * r[(i + 1) % r.length]![1] - p[1] * r[(i + 1) % r.length]![0], 0);
  if (rings.some((r, i) => (i === 0 ? 1 : -1) * twice(r) <= 0)) return false;
  const segments = rings.flatMap((r) => r.map((p, i) => [p, r[(i + 1) % r.length]!] as const));
  return segments.every(([a, b], i) =>
    segments.every(([c, d], j) => j <= i || a === d || b === c || a === c || b === d || !segmentsMeet(a, b, c, d, 0)),
  );
}
