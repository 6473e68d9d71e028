import {
  add,
  lengthOf,
  MasonError,
  reface,
  sub,
  takeFaces,
  topologyOf,
  vertexCorners,
  type NewCorner,
  type NewFace,
  type PolyMesh,
  type Vec3,
  vertexPlace,
  type OpResult,
} from '../../mesh/index.ts';

/** Where both ends of an edge are cut off, each may take this share at most; a single one, all but the rest. */
const MOST_OF_EDGE = 0.5;

export interface BevelVerticesOptions {
  vertices: readonly number[];
  /** mm along the edges. */
  width: number;
}

export interface BevelVerticesReport {
  /** Vertices where there was no room for the whole width. */
  narrowed: number;
}

/**
 * Cuts vertices off: each of their edges is taken back by a width (mm), and a face closes the corner. Where an edge is
 * too short for it the face comes nearer there: `narrowed` counts these vertices. Throws `bad-input` for a vertex at an
 * open border or one where the surface does not close round it.
 *
 * @example
 * const { mesh } = bevelVertices(box(20, 20, 20), { vertices: [0], width: 3 });
 */
export function bevelVertices(m: PolyMesh, { vertices, width }: BevelVerticesOptions): OpResult<BevelVerticesReport> {
  const t = topologyOf(m);
  const around = vertexCorners(m);
  const at = (v: number): Vec3 => vertexPlace(m, v);
  const cut = new Set(vertices);
  const made: number[] = [];
  /** By the corner that leaves a cut vertex along an edge: the new vertex on it. */
  const onEdge = new Map<number, number>();
  const caps: NewFace[] = [];
  const narrowed = new Set<number>();
  for (const v of cut) {
    const corners = around(v);
    const ring = [corners[0]!];
    for (let o = t.opposite[t.prev[ring[0]!]!]!; o !== ring[0]; o = t.opposite[t.prev[o]!]!) {
      if (o < 0 || ring.length >= corners.length)
        throw new MasonError(
          'bad-input',
          'A picked vertex lies at an open border, or pieces meet in it. Pick vertices within the surface.',
          { point: at(v) },
        );
      ring.push(o);
    }
    if (ring.length < corners.length || ring.length < 3)
      throw new MasonError(
        'bad-input',
        'A picked vertex has no corner to cut off. Pick vertices where three faces or more meet.',
        { point: at(v) },
      );
    for (const c of ring) {
      const to = m.corners[t.next[c]!]!;
      const way = sub(at(to), at(v));
      const room = (cut.has(to) ? MOST_OF_EDGE : 1) * lengthOf(way);
      const far = Math.min(width, 0.999 * room);
      if (far < width) narrowed.add(v);
      onEdge.set(c, m.positions.length / 3 + made.length / 3);
      made.push(...add(at(v), way, far / lengthOf(way)));
    }
    caps.push({ from: t.face[ring[0]!]!, boundaries: [ring.map((c) => ({ vertex: onEdge.get(c)!, edge: -1 }))] });
  }
  const faces: (NewFace | number)[] = [];
  for (let f = 0; f + 1 < m.faceLoops.length; f++) {
    let changed = false;
    const boundaries: NewCorner[][] = [];
    for (let l = m.faceLoops[f]!; l < m.faceLoops[f + 1]!; l++) {
      const loop: NewCorner[] = [];
      for (let c = m.loopStart[l]!; c < m.loopStart[l + 1]!; c++) {
        if (!cut.has(m.corners[c]!)) loop.push({ vertex: m.corners[c]!, edge: c });
        else {
          changed = true;
          // First on the edge that comes in, then on the one that leaves.
          loop.push({ vertex: onEdge.get(t.opposite[t.prev[c]!]!)!, edge: -1 }, { vertex: onEdge.get(c)!, edge: c });
        }
      }
      boundaries.push(loop);
    }
    faces.push(changed ? { from: f, boundaries } : f);
  }
  const positions = new Float64Array(m.positions.length + made.length);
  positions.set(m.positions);
  positions.set(made, m.positions.length);
  const mesh = reface({ ...m, layers: { ...m.layers, normal: undefined } }, [...faces, ...caps], positions);
  mesh.layers.plane?.fill(NaN, 6 * faces.length);
  return { mesh: takeFaces(mesh, () => true), report: { narrowed: narrowed.size } };
}
