import {
  cross,
  dot,
  lengthOf,
  sub,
  topologyOf,
  unit,
  vertexPlace,
  type PolyMesh,
  type Topology,
} from '../../mesh/index.ts';
import { between, cutFaces, MeshEdit, putIntoEdges } from '../../mend/index.ts';

/** A ring takes no more than this share of the edges that it crosses. */
const MOST_SHARE = 0.4;
/** A ring nearer than this share of its distance is left out. */
const NEAREST = 0.4;
/** Edges that leave a rim more flatly than this (sine) are met as if they left it so. */
const FLATTEST = 0.3;

/** The rings of edges that were laid beside rims. */
export interface Rings {
  mesh: PolyMesh;
  /** Sides of rims with a ring; and those without one, as faces there are no even quads, or too short ones. */
  rings: number;
  none: (readonly number[])[];
  /** The least distance of a ring, mm. */
  least: number;
}

/**
 * Lays a ring of edges beside each side of closed rims (corners with the side on their left, in order) at a distance,
 * mm, across the quads that lie there; nearer, all round, where these are short.
 */
export function ringsAlong(m: PolyMesh, rims: readonly (readonly number[])[], distance: number): Rings {
  const e = new MeshEdit(m);
  const t = topologyOf(m);
  const places = new Map<number, { share: number; vertex: number }[]>();
  const chords: { face: number; from: number; to: number }[] = [];
  const none: (readonly number[])[] = [];
  let [rings, least] = [0, distance];
  for (const rim of rims) {
    if (!isEven(m, t, rim)) {
      none.push(rim);
      continue;
    }
    // The edge that leads away from the end of each of the rim's.
    const ways = rim.map((c) => awayFrom(m, t, c));
    const d = ways.reduce((x, w) => Math.min(x, MOST_SHARE * w.length * w.sine), distance);
    if (d < NEAREST * distance) {
      none.push(rim);
      continue;
    }
    least = Math.min(least, d);
    rings++;
    const made = ways.map((w) => {
      const share = d / (w.length * w.sine);
      const vertex = e.vertex(between(w.from, w.to, share));
      const edge = t.edge[w.corner]!;
      const forward = t.edgeCorner[edge] === w.corner;
      places.set(edge, [...(places.get(edge) ?? []), { share: forward ? share : 1 - share, vertex }]);
      return vertex;
    });
    rim.forEach((c, i) => {
      const before = (i + rim.length - 1) % rim.length;
      chords.push({ face: t.face[c]!, from: made[before]!, to: made[i]! });
    });
  }
  if (!rings) return { mesh: m, rings, none, least };
  putIntoEdges(
    e,
    new Map([...places].map(([edge, list]) => [edge, list.sort((a, b) => a.share - b.share).map((x) => x.vertex)])),
  );
  cutFaces(e, chords);
  return { mesh: e.done(), rings, none, least };
}

/** Whether beside a rim there is one quad at each edge, and one edge that leads away at each vertex. */
function isEven(m: PolyMesh, t: Topology, rim: readonly number[]): boolean {
  return rim.every((c, i) => {
    const f = t.face[c]!;
    const quad = m.faceLoops[f + 1]! - m.faceLoops[f]! === 1 && t.next[t.next[t.next[t.next[c]!]!]!] === c;
    return quad && t.opposite[t.next[c]!] === t.prev[rim[(i + 1) % rim.length]!];
  });
}

function awayFrom(m: PolyMesh, t: Topology, c: number) {
  const corner = t.next[c]!;
  const [from, to] = [vertexPlace(m, m.corners[corner]!), vertexPlace(m, m.corners[t.next[corner]!]!)];
  const way = sub(to, from);
  const along = unit(sub(from, vertexPlace(m, m.corners[c]!)));
  const length = lengthOf(way);
  const sine: number = Math.max(FLATTEST, lengthOf(cross(along, way)) / (length || 1));
  return { corner, from, to, length, sine: dot(way, way) > 0 ? sine : 1 };
}
