import {
  add,
  cross,
  faceBegin,
  faceEnd,
  faceNormals,
  lengthOf,
  MasonError,
  nearestOn,
  scaled,
  sub,
  topologyOf,
  unit,
  type PolyMesh,
  type Vec3,
  vertexPlace,
  type OpResult,
} from '../mesh/index.ts';
import { splitAtPlane, type SplitAtPlaneReport, type Plane } from './mirror.ts';
import { MeshEdit } from './meshEdit.ts';
import { elementAt } from './select.ts';
import { between, connect, putIntoEdges } from './split.ts';

/** A stop of a line: on an edge (by its first corner), at a share of its length from the end that the corner leaves. */
export interface LineStop {
  edge: number;
  share: number;
}

/** Shares nearer to an end than this are the end. */
const AT_END = 1e-9;

/** Stops from places on faces: on the nearest edge of each face. */
export function stopsAt(m: PolyMesh, places: readonly { face: number; point: Vec3 }[]): LineStop[] {
  const t = topologyOf(m);
  const at = (v: number): Vec3 => vertexPlace(m, v);
  return places.map(({ face, point }) => {
    const edge = elementAt(m, 'edge', face, point);
    return { edge, share: nearestOn(point, at(m.corners[edge]!), at(m.corners[t.next[edge]!]!)).share };
  });
}

/**
 * Stops from a freehand path over the surface: where it passes from face to face, on the edge between the two; and the
 * nearest edge of its first and last face, where the path begins or ends. Places follow each other so closely that
 * faces between two of them share an edge; others are passed over. Shares within `snap` (mm) of an end are the end.
 */
export function stopsAlong(m: PolyMesh, path: readonly { face: number; point: Vec3 }[], snap: number): LineStop[] {
  const t = topologyOf(m);
  const at = (v: number): Vec3 => vertexPlace(m, v);
  const ends = (c: number): [Vec3, Vec3] => [at(m.corners[c]!), at(m.corners[t.next[c]!]!)];
  const between = (f: number, g: number) => {
    const out: number[] = [];
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++)
      for (let o = t.sameEdge[c]!; o !== c; o = t.sameEdge[o]!)
        if (t.face[o] === g) out.push(t.edgeCorner[t.edge[c]!]!);
    return out;
  };
  const crossed: LineStop[] = [];
  for (let i = 0; i + 1 < path.length; i++) {
    const [p, q] = [path[i]!, path[i + 1]!];
    if (p.face === q.face) continue;
    const middle = scaled(add(p.point, q.point), 0.5);
    const edges = between(p.face, q.face).sort(
      (c, d) => nearestOn(middle, ...ends(c)).distance - nearestOn(middle, ...ends(d)).distance,
    );
    if (edges.length) crossed.push({ edge: edges[0]!, share: nearestOn(middle, ...ends(edges[0]!)).share });
  }
  const [first, last] = stopsAt(m, path.length ? [path[0]!, path.at(-1)!] : []);
  const whole = [first, ...crossed, last].flatMap((s): LineStop[] => {
    if (!s) return [];
    const length = lengthOf(sub(...ends(s.edge)));
    return [{ edge: s.edge, share: s.share * length <= snap ? 0 : (1 - s.share) * length <= snap ? 1 : s.share }];
  });
  // Two stops in a row on one edge make no line.
  return whole.filter((s, i) => i === 0 || s.edge !== whole[i - 1]!.edge);
}

export interface CutLineOptions {
  stops: readonly LineStop[];
}

export interface CutLineReport {
  /** Vertices that were put in, and faces that were cut. */
  added: number;
  cut: number;
}

/**
 * Draws a line of edges from stop to stop, straight over the surface between each two; how many vertices were added,
 * and how many edges the line has.
 *
 * @example
 * const { mesh } = cutLine(sheet(20, 20), { stops: [{ edge: 0, share: 0.5 }, { edge: 2, share: 0.5 }] });
 */
export function cutLine(m: PolyMesh, { stops }: CutLineOptions): OpResult<CutLineReport> {
  const e = new MeshEdit(m);
  const t = topologyOf(m);
  const inside = new Map<number, { share: number; vertex: number }[]>();
  const vertices = stops.map(({ edge, share }) => {
    const [a, b] = [m.corners[edge]!, m.corners[t.next[edge]!]!];
    if (share <= AT_END) return a;
    if (share >= 1 - AT_END) return b;
    const list = inside.get(t.edge[edge]!) ?? [];
    const known = list.find((x) => Math.abs(x.share - share) < AT_END);
    if (known) return known.vertex;
    const vertex = e.vertex(between(e.at(a), e.at(b), share));
    inside.set(t.edge[edge]!, [...list, { share, vertex }]);
    return vertex;
  });
  putIntoEdges(
    e,
    new Map([...inside].map(([k, list]) => [k, list.sort((x, y) => x.share - y.share).map((x) => x.vertex)])),
  );
  let mesh = e.done();
  const before = topologyOf(mesh).edgeCount;
  let added = 0;
  for (let i = 0; i + 1 < vertices.length; i++) {
    const [a, b] = [vertices[i]!, vertices[i + 1]!];
    if (a === b || hasEdge(mesh, a, b)) continue;
    // New vertices come last: those of the line keep their numbers.
    const r = connect(mesh, { from: a, to: b, normals: faceNormals(mesh) });
    mesh = r.mesh;
    added += r.report.added;
  }
  const cut = topologyOf(mesh).edgeCount - before - added;
  return { mesh, report: { added: added + [...inside.values()].reduce((s, l) => s + l.length, 0), cut } };
}

function hasEdge(m: PolyMesh, a: number, b: number): boolean {
  const t = topologyOf(m);
  return m.corners.some((v, c) => (v === a && m.corners[t.next[c]!] === b) || (v === b && m.corners[t.next[c]!] === a));
}

export interface LineThroughOptions {
  stops: readonly LineStop[];
  /** Size of the part, mm: tolerances go by it. */
  size: number;
}

/**
 * Parts the whole part along the plane through the first and last stop and along the surface’s normal between them. How
 * many faces were cut.
 *
 * @example
 * const { mesh } = lineThrough(box(20, 20, 20), { stops: [{ edge: 0, share: 0.5 }, { edge: 2, share: 0.5 }], size: 20 });
 */
export function lineThrough(m: PolyMesh, { stops, size }: LineThroughOptions): OpResult<SplitAtPlaneReport> {
  const t = topologyOf(m);
  const N = faceNormals(m);
  const e = new MeshEdit(m);
  const point = ({ edge, share }: LineStop) => between(e.at(m.corners[edge]!), e.at(m.corners[t.next[edge]!]!), share);
  const [a, b] = [point(stops[0]!), point(stops.at(-1)!)];
  // The common face of both gives the direction inward; else the mean of theirs.
  const faces = (s: LineStop) => [
    t.face[s.edge]!,
    t.opposite[s.edge]! < 0 ? t.face[s.edge]! : t.face[t.opposite[s.edge]!]!,
  ];
  const [one, two] = [faces(stops[0]!), faces(stops.at(-1)!)];
  const shared = one.find((f) => two.includes(f));
  const list = shared === undefined ? [...one, ...two] : [shared];
  const up = list.reduce<Vec3>((s, f) => add(s, [N[3 * f]!, N[3 * f + 1]!, N[3 * f + 2]!]), [0, 0, 0]);
  const n = cross(sub(b, a), up);
  if (!(lengthOf(n) > 0))
    throw new MasonError('bad-input', 'The line has no length. Draw it from one place to another.');
  const normal = unit(n);
  const plane: Plane = { normal, at: normal[0] * a[0] + normal[1] * a[1] + normal[2] * a[2] };
  return splitAtPlane(m, { plane, size });
}
