import {
  faceCount,
  MasonError,
  partOf,
  sharedTopology,
  tieHoles,
  topologyOf,
  vertexCount,
  type OpContext,
  type PolyMesh,
  type OpResult,
} from '../mesh/index.ts';
import { easeCrossings, verticesOf } from './easeCrossings.ts';

/** Greatest number of faces: drawing more would crash the page. */
export const MOST_SUBDIVIDED = 2_000_000;

/** A subdivided mesh and what of it comes from the cage. */
export interface SubdivideReport {
  /** Corners whose edges lie on edges of the cage: all that is left of its lines. */
  cage: Int32Array;
  /** Vertices that stay nearer to the cage, as the smooth surface would cut through itself there. */
  eased: number[];
}

/** How a subdivision is done, beside its levels. */
export interface SubdivideOptions {
  /** How often, 0 for none. */
  levels?: number;
  /** Vertices of the last level go to where no end of levels would bring them. */
  limit?: boolean;
  /** Corners of open borders, where the border turns sharply, stay where they are. */
  corners?: boolean;
  /** UVs go with the surface, but for the borders of their islands; or they are halved. */
  uvs?: 'smooth' | 'straight';
}

/**
 * A border that turns by more than 50° at a vertex has a corner there: those of a square and a hexagon, not those of a
 * round hole of eight sides; cosine.
 */
const BORDER_CORNER = Math.cos((50 * Math.PI) / 180);
/** A crease that stays sharp in every round. */
const FOR_EVER = 10;

/**
 * How many faces a mesh has after some levels: four for each quad of the level before, one for each corner in the
 * first.
 */
const subdividedCount = (m: PolyMesh, levels: number): number => m.corners.length * 4 ** (levels - 1);

/** Defaults of the options. */
export const SUBDIVIDE_DEFAULTS: Required<Pick<SubdivideOptions, 'levels' | 'limit' | 'corners' | 'uvs'>> = {
  levels: 2,
  limit: false,
  corners: true,
  uvs: 'smooth',
};

/**
 * One or more rounds of Catmull–Clark subdivision: every face becomes quads round its middle, and vertices move towards
 * a smooth surface. Open edges follow the smooth curve of the rim alone; hard and non-manifold edges stay on their
 * lines, creases for as many rounds as their weight says, the last part of a round in proportion. Faces with holes, and
 * those that are not seen from their middle, are cut into such that are first. Where thin faces beside thick ones would
 * make the surface cut through itself, it stays nearer to the cage. Throws `too-large` before it would make more than
 * `MOST_SUBDIVIDED` faces.
 * Source: Catmull and Clark, "Recursively generated B-spline surfaces on arbitrary topological meshes", 1978; rims and
 * creases as in DeRose, Kass and Truong, "Subdivision Surfaces in Character Animation", 1998; limit positions as in
 * Halstead, Kass and DeRose, "Efficient, fair interpolation using Catmull-Clark surfaces", 1993.
 *
 * @example
 * const { mesh } = subdivide(box(20, 20, 20), { levels: 2 });
 */
export function subdivide(m: PolyMesh, options: SubdivideOptions = {}, ctx?: OpContext): OpResult<SubdivideReport> {
  const wish = { ...SUBDIVIDE_DEFAULTS, ...options };
  const { levels } = wish;
  // Cutting faces takes long on a large mesh, and only adds to their number.
  checkCount(m, levels);
  const mesh = tieHoles(m, undefined, 'middle');
  checkCount(mesh, levels);
  const cage: Int32Array = Int32Array.from({ length: mesh.corners.length }, (_, c) => c);
  return roundsOf(mesh, cage, wish, ctx);
}

/** Throws `too-large` where so many levels would make more faces than `MOST_SUBDIVIDED`. */
function checkCount(m: PolyMesh, levels: number): void {
  const made = subdividedCount(m, levels);
  if (made > MOST_SUBDIVIDED)
    throw new MasonError(
      'too-large',
      `${levels} levels would make ${made.toLocaleString('en')} faces; up to ${MOST_SUBDIVIDED.toLocaleString('en')} are made. Use a lower level.`,
    );
}

/** How often rounds are repeated, each time with more held still in the round before. */
const MOST_TRIES = 8;

/**
 * All rounds of a subdivision. What a round holds back leaves bent faces, which the next one may not be able to keep
 * apart: then the faces that they came from do not move at all, and the rounds from there on are made again.
 */
function roundsOf(
  cage: PolyMesh,
  lines: Int32Array,
  wish: Required<SubdivideOptions>,
  ctx?: OpContext,
): OpResult<SubdivideReport> {
  const { levels } = wish;
  const still = Array.from({ length: levels + 1 }, () => new Set<number>());
  const made: { mesh: PolyMesh; lines: Int32Array; eased: Set<number> }[] = [
    { mesh: cage, lines, eased: new Set<number>() },
  ];
  const share = (level: number): number => 4 ** (level - levels) * (wish.limit ? 0.5 : 1);
  /** Rounds the mesh of a level off, on to the limit after the last one. */
  const smoothed = (level: number): Round => {
    const { mesh, lines } = made[level]!;
    if (level < levels) return once(mesh, lines, wish);
    const limit = sharedTopology({ ...mesh, positions: limitPositions(mesh, wish) }, mesh);
    return { mesh: limit, straight: mesh.positions, cage: lines };
  };
  let tries = 0;
  for (let level = 0; level < levels + (wish.limit ? 1 : 0); level++) {
    const next = smoothed(level);
    const part = partOf(ctx, share(level), Math.min(1, share(level + 1)));
    const { mesh, vertices, left } = easeCrossings(next.mesh, next.straight, still[level]!, part);
    made[level + 1] = { mesh, lines: next.cage, eased: new Set([...made[level]!.eased, ...vertices]) };
    if (!left.length || level === 0 || tries === MOST_TRIES) continue;
    const { mesh: from } = made[level]!;
    const held = still[level - 1]!;
    const known = held.size;
    // A quad of a round comes from the corner of its number.
    const parents = level < levels ? left.map((f) => topologyOf(from).face[f]!) : left;
    for (const f of parents) for (const v of verticesOf(from, f)) held.add(v);
    if (held.size === known) continue;
    tries++;
    level -= 2;
  }
  const { mesh, lines: own, eased } = made.at(-1)!;
  return { mesh, report: { cage: own, eased: [...eased] } };
}

/**
 * What holds at each edge and vertex of a mesh: how sharp edges are (0 smooth, 10 for ever), and which vertices do not
 * move.
 */
export function sharpnessOf(
  m: PolyMesh,
  { corners = false }: SubdivideOptions,
): { sharp: Float64Array; fixed: Uint8Array } {
  const t = topologyOf(m);
  const sharp = new Float64Array(t.edgeCount);
  const { hard, crease } = m.layers;
  for (const c of t.edgeCorner) {
    const o = t.opposite[c]!;
    const e = t.edge[c]!;
    if (o < 0 || hard?.[c] || hard?.[o]) sharp[e] = FOR_EVER;
    else sharp[e] = Math.max(crease?.[c] ?? 0, crease?.[o] ?? 0);
  }
  const fixed = new Uint8Array(vertexCount(m));
  if (corners) fixBorderCorners(m, fixed);
  return { sharp, fixed };
}

/** Marks the vertices at which an open border turns a corner, however many faces meet there. */
function fixBorderCorners(m: PolyMesh, fixed: Uint8Array): void {
  const t = topologyOf(m);
  const P = m.positions;
  // Per vertex the way in which the border arrives; where it passes a vertex twice, the two ways cannot be told apart,
  // and the vertex moves.
  const arrives = new Map<number, number>();
  const way = (c: number): [number, number, number] => {
    const [u, v] = [3 * m.corners[c]!, 3 * m.corners[t.next[c]!]!];
    const w = [P[v]! - P[u]!, P[v + 1]! - P[u + 1]!, P[v + 2]! - P[u + 2]!];
    const length = Math.hypot(w[0]!, w[1]!, w[2]!) || 1;
    return [w[0]! / length, w[1]! / length, w[2]! / length];
  };
  for (let c = 0; c < m.corners.length; c++) {
    if (t.opposite[c]! >= 0) continue;
    const v = m.corners[t.next[c]!]!;
    arrives.set(v, arrives.has(v) ? -1 : c);
  }
  for (let c = 0; c < m.corners.length; c++) {
    const before = t.opposite[c]! < 0 ? (arrives.get(m.corners[c]!) ?? -1) : -1;
    if (before < 0) continue;
    const [a, b] = [way(before), way(c)];
    if (a[0] * b[0] + a[1] * b[1] + a[2] * b[2] < BORDER_CORNER) fixed[m.corners[c]!] = 1;
  }
}

/** A round of subdivision. */
interface Round {
  mesh: PolyMesh;
  /** Where its vertices would be if nothing was smoothed: on the faces and edges of the mesh before. */
  straight: Float64Array;
  /** As in the report. */
  cage: Int32Array;
}

function once(m: PolyMesh, cage: Int32Array, wish: SubdivideOptions): Round {
  const t = topologyOf(m);
  const [nv, nf, ne] = [vertexCount(m), faceCount(m), t.edgeCount];
  const P = m.positions;
  const { sharp, fixed } = sharpnessOf(m, wish);
  const out = new Float64Array(3 * (nv + nf + ne));
  const straight = new Float64Array(out.length);
  straight.set(P);
  const faceAt = 3 * nv;
  const edgeAt = 3 * (nv + nf);
  for (let f = 0; f < nf; f++) {
    const [begin, end] = [m.loopStart[f]!, m.loopStart[f + 1]!];
    for (let k = 0; k < 3; k++) {
      let s = 0;
      for (let c = begin; c < end; c++) s += P[3 * m.corners[c]! + k]!;
      out[faceAt + 3 * f + k] = straight[faceAt + 3 * f + k] = s / (end - begin);
    }
  }
  const lines = new Int32Array(nv);
  const lineSum = new Float64Array(3 * nv);
  const sharpness = new Float64Array(nv);
  const edges = new Int32Array(nv);
  const edgeSum = new Float64Array(3 * nv);
  for (const c of t.edgeCorner) {
    const e = t.edge[c]!;
    const [u, v] = [m.corners[c]!, m.corners[t.next[c]!]!];
    const share = Math.min(1, sharp[e]!);
    const o = t.opposite[c]!;
    for (let k = 0; k < 3; k++) {
      const mid = (P[3 * u + k]! + P[3 * v + k]!) / 2;
      const smooth =
        o < 0 ? mid : (2 * mid + out[faceAt + 3 * t.face[c]! + k]! + out[faceAt + 3 * t.face[o]! + k]!) / 4;
      straight[edgeAt + 3 * e + k] = mid;
      out[edgeAt + 3 * e + k] = smooth + share * (mid - smooth);
      for (const [a, b] of [
        [u, v],
        [v, u],
      ] as const) {
        edgeSum[3 * a + k]! += mid;
        if (share) lineSum[3 * a + k]! += P[3 * b + k]!;
      }
    }
    for (const a of [u, v]) {
      edges[a]!++;
      if (!share) continue;
      lines[a]!++;
      sharpness[a]! += sharp[e]!;
    }
  }
  const faces = new Int32Array(nv);
  const faceSum = new Float64Array(3 * nv);
  for (let c = 0; c < m.corners.length; c++) {
    const v = m.corners[c]!;
    faces[v]!++;
    for (let k = 0; k < 3; k++) faceSum[3 * v + k]! += out[faceAt + 3 * t.face[c]! + k]!;
  }
  for (let v = 0; v < nv; v++) {
    const n = edges[v]!;
    // On one line through it a vertex follows that line; where more meet it is a corner; where one ends it is smooth.
    const share = lines[v]! > 1 ? Math.min(1, sharpness[v]! / lines[v]!) : 0;
    for (let k = 0; k < 3; k++) {
      const p = P[3 * v + k]!;
      const bound = lines[v] === 2 && !fixed[v] ? (6 * p + lineSum[3 * v + k]!) / 8 : p;
      const smooth =
        share === 1 ? bound : (faceSum[3 * v + k]! / faces[v]! + (2 * edgeSum[3 * v + k]!) / n + (n - 3) * p) / n;
      out[3 * v + k] = n === 0 ? p : smooth + share * (bound - smooth);
    }
  }
  // A quad for each corner: the vertex, the middle of the edge that leaves it, the middle of the face, the middle of
  // the edge that arrives.
  const count = m.corners.length;
  const corners = new Int32Array(4 * count);
  const { slot, source, hard, crease, seam, uv } = m.layers;
  const half = hard && new Uint8Array(4 * count);
  const creases = crease && new Float32Array(4 * count);
  const seams = seam && new Int32Array(4 * count);
  const slots = slot && new Int32Array(count);
  const sources = source && new Int32Array(3 * count);
  for (let c = 0; c < count; c++) {
    const f = t.face[c]!;
    const before = t.prev[c]!;
    corners.set([m.corners[c]!, nv + nf + t.edge[c]!, nv + f, nv + nf + t.edge[before]!], 4 * c);
    if (half) [half[4 * c], half[4 * c + 3]] = [hard[c]!, hard[before]!];
    if (seams) [seams[4 * c], seams[4 * c + 3]] = [seam[c]!, seam[before]!];
    if (creases) {
      const next = (x: number) => (x >= FOR_EVER ? x : Math.max(0, x - 1));
      [creases[4 * c], creases[4 * c + 3]] = [next(crease[c]!), next(crease[before]!)];
    }
    if (slots) slots[c] = slot[f]!;
    if (sources) sources.set(source.subarray(3 * f, 3 * f + 3), 3 * c);
  }
  const mesh: PolyMesh = {
    positions: out,
    faceLoops: Int32Array.from({ length: count + 1 }, (_, i) => i),
    loopStart: Int32Array.from({ length: count + 1 }, (_, i) => 4 * i),
    corners,
    layers: {
      ...(slots && { slot: slots }),
      ...(sources && { source: sources }),
      ...(half && { hard: half }),
      ...(creases && { crease: creases }),
      ...(seams && { seam: seams }),
      ...(uv && { uv: subdividedUvs(m, uv, wish.uvs ?? 'straight') }),
    },
    slots: m.slots,
  };
  // An edge of the cage is now the first half of itself in one quad, and the second in the next.
  const left = new Int32Array(2 * cage.length);
  cage.forEach((c, i) => left.set([4 * c, 4 * t.next[c]! + 3], 2 * i));
  return { mesh, straight, cage: left };
}

/** UVs of the quads of the next level, two numbers for each corner. */
function subdividedUvs(m: PolyMesh, uv: Float64Array, way: 'smooth' | 'straight'): Float64Array {
  const t = topologyOf(m);
  const count = m.corners.length;
  const face = new Float64Array(2 * faceCount(m));
  for (let f = 0; f < faceCount(m); f++)
    for (let k = 0; k < 2; k++) {
      const [begin, end] = [m.loopStart[f]!, m.loopStart[f + 1]!];
      let s = 0;
      for (let c = begin; c < end; c++) s += uv[2 * c + k]!;
      face[2 * f + k] = s / (end - begin);
    }
  /** Whether the UVs go on over a corner's edge. */
  const joined = Uint8Array.from({ length: count }, (_, c) => {
    const o = t.opposite[c]!;
    const same = (a: number, b: number) => uv[2 * a] === uv[2 * b] && uv[2 * a + 1] === uv[2 * b + 1];
    return o >= 0 && same(c, t.next[o]!) && same(t.next[c]!, o) ? 1 : 0;
  });
  /** Per vertex: how many corners it has, and how many of their edges the UVs go on over. */
  const [around, inner] = [new Int32Array(vertexCount(m)), new Int32Array(vertexCount(m))];
  const [faceSum, edgeSum] = [new Float64Array(2 * around.length), new Float64Array(2 * around.length)];
  for (let c = 0; c < count; c++) {
    const v = m.corners[c]!;
    around[v]!++;
    inner[v]! += joined[c]!;
    for (let k = 0; k < 2; k++) {
      faceSum[2 * v + k]! += face[2 * t.face[c]! + k]!;
      edgeSum[2 * v + k]! += (uv[2 * c + k]! + uv[2 * t.next[c]! + k]!) / 2;
    }
  }
  const out = new Float64Array(8 * count);
  const middle = (c: number, k: number) => {
    const mid = (uv[2 * c + k]! + uv[2 * t.next[c]! + k]!) / 2;
    return way === 'smooth' && joined[c]
      ? (2 * mid + face[2 * t.face[c]! + k]! + face[2 * t.face[t.opposite[c]!]! + k]!) / 4
      : mid;
  };
  for (let c = 0; c < count; c++)
    for (let k = 0; k < 2; k++) {
      const v = m.corners[c]!;
      const n = around[v]!;
      const own = uv[2 * c + k]!;
      const smooth =
        way === 'smooth' && inner[v] === n
          ? (faceSum[2 * v + k]! / n + (2 * edgeSum[2 * v + k]!) / n + (n - 3) * own) / n
          : own;
      [out[8 * c + k], out[8 * c + 2 + k], out[8 * c + 4 + k], out[8 * c + 6 + k]] = [
        smooth,
        middle(c, k),
        face[2 * t.face[c]! + k]!,
        middle(t.prev[c]!, k),
      ];
    }
  return out;
}

/**
 * Where the vertices of a mesh of quads lie on the limit surface. Edges that are still sharp count as sharp for ever.
 * Within the surface (n² v + 4 Σ neighbours + Σ opposite corners) / (n (n + 5)); on a line (a + 4 v + b) / 6.
 */
function limitPositions(m: PolyMesh, wish: SubdivideOptions): Float64Array {
  const t = topologyOf(m);
  const { sharp, fixed } = sharpnessOf(m, wish);
  const P = m.positions;
  const out = P.slice();
  const nv = vertexCount(m);
  const [count, lines] = [new Int32Array(nv), new Int32Array(nv)];
  const [near, across, along] = [0, 1, 2].map(() => new Float64Array(3 * nv)) as [
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  for (const c of t.edgeCorner) {
    const [u, v] = [m.corners[c]!, m.corners[t.next[c]!]!];
    for (const [a, b] of [
      [u, v],
      [v, u],
    ] as const) {
      count[a]!++;
      if (sharp[t.edge[c]!]) lines[a]!++;
      for (let k = 0; k < 3; k++) {
        near[3 * a + k]! += P[3 * b + k]!;
        if (sharp[t.edge[c]!]) along[3 * a + k]! += P[3 * b + k]!;
      }
    }
  }
  for (let c = 0; c < m.corners.length; c++)
    for (let k = 0; k < 3; k++) across[3 * m.corners[c]! + k]! += P[3 * m.corners[t.next[t.next[c]!]!]! + k]!;
  for (let v = 0; v < nv; v++)
    for (let k = 0; k < 3; k++) {
      const i = 3 * v + k;
      const n = count[v]!;
      if (lines[v]! > 2 || fixed[v] || n === 0) continue;
      out[i] =
        lines[v] === 2 ? (4 * P[i]! + along[i]!) / 6 : (n * n * P[i]! + 4 * near[i]! + across[i]!) / (n * (n + 5));
    }
  return out;
}
