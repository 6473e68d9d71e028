import {
  add,
  cross,
  dot,
  lengthOf,
  scaled,
  sizeOf,
  sub,
  topologyOf,
  unit,
  type PolyMesh,
  type Vec3,
  vertexPlace,
} from '../../mesh/index.ts';
import { openings } from '../fillOpenings.ts';
import { corner, MeshEdit } from '../meshEdit.ts';
import { fitQuadric, ontoQuadric } from './quadric.ts';

// Fills openings: flat ones by one face; bent ones by the triangulation of the least area (Barequet and Sharir 1995;
// Liepa 2003), refined to the density of the rim and faired, so that the patch goes on from the surface round it; and
// where that lies on a plane, ball, cylinder or another quadric, so does the patch.

/** Openings whose rim leaves its plane by at most this share of its extent are flat. */
const FLAT_RIM = 1e-4;
/** The surface goes on beyond a flat rim where the mean cosine between its normals and the rim’s is more than this. */
const GOES_ON_COS = 0.6;
/** Rims with more edges are filled by one face: the least area takes time with the cube of the edges. */
const MOST_EDGES = 300;
/**
 * Rounds of refinement, of spanning flat, and of fairing; it ends when no vertex moves by more than this share of the
 * size.
 */
const [REFINED, SPANNED, FAIRED] = [6, 60, 3000];
/** A filling has come to rest when no vertex moves further than this share of the size. */
const STILL = 1e-8;
/** Lengths are taken anew after so many rounds. */
const RESCALED = 50;

export interface FillLimits {
  /** Openings wider than this stay, mm; 0 for no limit. */
  widest: number;
  /** Openings whose patch is more than this share of the area of their piece stay: that is a sheet. */
  share: number;
}

/**
 * Fills the openings of a mesh, of which `areaOf` gives the area (mm²) of a face's piece. Returns how many were filled,
 * how many of them, bent and of very many edges, by one face, and how many stay for their size.
 */
export function fillSmooth(
  m: PolyMesh,
  areaOf: (face: number) => number,
  { widest, share }: FillLimits,
  check: () => void,
): { mesh: PolyMesh; filled: number; stay: number; plain: number } {
  const t = topologyOf(m);
  const e = new MeshEdit(m);
  // Made only where a patch needs it.
  let known: Surroundings | null = null;
  const around = () => (known ??= new Surroundings(m));
  let [filled, stay, plain] = [0, 0, 0];
  for (const run of openings(m)) {
    if (run.length < 3) continue;
    check();
    const ring = run.map((c) => m.corners[c]!).reverse();
    const points = ring.map((v) => e.at(v));
    const size = areaVector(points);
    if ((widest > 0 && extentOf(points) > widest) || lengthOf(size) > share * areaOf(t.face[run[0]!]!)) {
      stay++;
      continue;
    }
    filled++;
    const like = t.face[run[0]!]!;
    const n = unit(size);
    const extent = extentOf(points);
    const flat = points.every((p) => Math.abs(dot(sub(p, points[0]!), n)) <= FLAT_RIM * extent);
    // A flat rim is closed by a flat lid where walls rise from it, and bulges where the surface goes on beyond it.
    const lid = ring.length < 5 || (flat && around().lean(ring, n) < GOES_ON_COS);
    if (!lid && ring.length > MOST_EDGES) plain++;
    if (lid || ring.length > MOST_EDGES) e.add(like, [ring.map((v) => corner(v))]);
    else {
      const patch = refined(
        e,
        ring,
        leastArea(points).map((f) => f.map((i) => ring[i]!)),
      );
      fair(e, patch.faces, patch.inner, around().neighbours);
      around().settle(e, ring, patch.inner, extent);
      for (const f of patch.faces) e.add(like, [f.map((v) => corner(v))]);
    }
  }
  return { mesh: filled ? e.done() : m, filled, stay, plain };
}

const areaVector = (points: readonly Vec3[]): Vec3 =>
  points.reduce<Vec3>(
    (s, p, i) => add(s, cross(sub(p, points[0]!), sub(points[(i + 1) % points.length]!, points[0]!)), 0.5),
    [0, 0, 0],
  );

function extentOf(points: readonly Vec3[]): number {
  const side = (k: 0 | 1 | 2) =>
    points.reduce(([l, h], p) => [Math.min(l, p[k]), Math.max(h, p[k])] as const, [Infinity, -Infinity] as const);
  return Math.hypot(...([0, 1, 2] as const).map((k) => side(k)[1] - side(k)[0]));
}

/** The triangulation of a ring of points of the least area, as triples of places in it. */
export function leastArea(points: readonly Vec3[]): [number, number, number][] {
  const n = points.length;
  const cost = new Float64Array(n * n).fill(Infinity);
  const best = new Int32Array(n * n).fill(-1);
  for (let i = 0; i + 1 < n; i++) cost[i * n + i + 1] = 0;
  for (let span = 2; span < n; span++)
    for (let i = 0; i + span < n; i++) {
      const k = i + span;
      for (let j = i + 1; j < k; j++) {
        const area = lengthOf(cross(sub(points[j]!, points[i]!), sub(points[k]!, points[i]!))) / 2;
        const sum = cost[i * n + j]! + cost[j * n + k]! + area;
        if (sum < cost[i * n + k]!) {
          cost[i * n + k] = sum;
          best[i * n + k] = j;
        }
      }
    }
  const out: [number, number, number][] = [];
  const stack: [number, number][] = [[0, n - 1]];
  while (stack.length) {
    const [i, k] = stack.pop()!;
    const j = best[i * n + k]!;
    if (k - i < 2 || j < 0) continue;
    out.push([i, j, k]);
    stack.push([i, j], [j, k]);
  }
  return out;
}

/**
 * Puts points into triangles that are large for their corners, and turns edges so that triangles are full: as dense as
 * the rim. Liepa 2003.
 */
function refined(e: MeshEdit, rim: readonly number[], triangles: number[][]): { faces: number[][]; inner: number[] } {
  const at = (v: number) => e.at(v);
  const far = (a: number, b: number) => lengthOf(sub(at(a), at(b)));
  const size = new Map<number, number>(
    rim.map((v, i) => [v, (far(v, rim[(i + 1) % rim.length]!) + far(v, rim[(i + rim.length - 1) % rim.length]!)) / 2]),
  );
  const inner: number[] = [];
  let faces = turnedEdges(e, triangles);
  for (let round = 0; round < REFINED; round++) {
    const next: number[][] = [];
    let added = 0;
    for (const f of faces) {
      const middle = scaled(
        f.reduce<Vec3>((s, v) => add(s, at(v)), [0, 0, 0]),
        1 / 3,
      );
      const wanted = f.reduce((s, v) => s + size.get(v)!, 0) / 3;
      const isLarge = f.every((v) => {
        const d = Math.SQRT2 * lengthOf(sub(at(v), middle));
        return d > wanted && d > size.get(v)!;
      });
      if (!isLarge) {
        next.push(f);
        continue;
      }
      const v = e.vertex(middle);
      inner.push(v);
      size.set(v, wanted);
      added++;
      for (let i = 0; i < 3; i++) next.push([f[i]!, f[(i + 1) % 3]!, v]);
    }
    faces = turnedEdges(e, next);
    if (!added) break;
  }
  return { faces, inner };
}

/** Turns edges between two triangles where the opposite angles come to more than half a turn. */
function turnedEdges(e: MeshEdit, triangles: readonly (readonly number[])[]): number[][] {
  const faces = triangles.map((f) => [...f]);
  const angle = (a: number, b: number, c: number) => {
    const [u, w] = [sub(e.at(a), e.at(b)), sub(e.at(c), e.at(b))];
    return Math.atan2(lengthOf(cross(u, w)), dot(u, w));
  };
  for (let round = 0; round < 20; round++) {
    const beside = new Map<string, number>();
    faces.forEach((f, i) => f.forEach((v, k) => beside.set(`${v},${f[(k + 1) % 3]!}`, i)));
    let turned = 0;
    const touched = new Set<number>();
    for (const [key, i] of beside) {
      const [u, v] = key.split(',').map(Number) as [number, number];
      const j = beside.get(`${v},${u}`);
      if (j === undefined || touched.has(i) || touched.has(j)) continue;
      const [a, b] = [faces[i]!.find((x) => x !== u && x !== v)!, faces[j]!.find((x) => x !== u && x !== v)!];
      if (beside.has(`${a},${b}`) || beside.has(`${b},${a}`) || angle(u, a, v) + angle(u, b, v) <= Math.PI + 1e-9)
        continue;
      faces[i] = [a, u, b];
      faces[j] = [a, b, v];
      touched.add(i).add(j);
      turned++;
    }
    if (!turned) break;
  }
  return faces;
}

/**
 * Surfaces that a patch settles on pass this near to what is round it, as a share of its extent; and their normals, as
 * a cosine.
 */
const [NEAR, ALIKE] = [0.01, 0.97];
/** How many rings of vertices round an opening are fitted to find its surface. */
const RINGS = 3;

/** What lies round the openings of a mesh. */
class Surroundings {
  readonly neighbours: Map<number, Set<number>>;
  private readonly normals = new Map<number, Vec3>();

  constructor(m: PolyMesh) {
    const t = topologyOf(m);
    this.neighbours = new Map([...new Set(m.corners)].map((v) => [v, new Set()]));
    const place = (v: number): Vec3 => vertexPlace(m, v);
    for (let c = 0; c < m.corners.length; c++) {
      const [z, a, b] = [m.corners[t.prev[c]!]!, m.corners[c]!, m.corners[t.next[c]!]!];
      this.neighbours.get(a)!.add(b);
      this.neighbours.get(b)!.add(a);
      this.normals.set(
        a,
        add(this.normals.get(a) ?? [0, 0, 0], cross(sub(place(b), place(a)), sub(place(z), place(a)))),
      );
    }
  }

  /** How the surface round an opening lies to a direction, as the mean cosine between them. */
  lean(ring: readonly number[], n: Vec3): number {
    return Math.abs(ring.reduce((s, v) => s + dot(unit(this.normals.get(v)!), n), 0)) / ring.length;
  }

  /** Moves the inner vertices of a patch onto the quadric that the surface round it lies on, if it lies on one. */
  settle(e: MeshEdit, ring: readonly number[], inner: readonly number[], extent: number): void {
    let near = new Set(ring);
    for (let k = 0; k < RINGS; k++) near = new Set([...near].flatMap((v) => [v, ...this.neighbours.get(v)!]));
    const list = [...near];
    const [points, normals] = [list.map((v) => e.at(v)), list.map((v) => unit(this.normals.get(v)!))];
    const q = fitQuadric(points, normals);
    if (
      !q ||
      points.some((p, i) => Math.abs(q.value(p)) > NEAR * extent || dot(unit(q.gradient(p)), normals[i]!) < ALIKE)
    )
      return;
    const places = inner.map((v) => ontoQuadric(q, e.at(v), extent / 2));
    if (places.every((p) => p !== null)) inner.forEach((v, i) => e.move(v, places[i]!));
  }
}

/**
 * Moves the inner vertices of a patch so that it goes on from the surface round it: first flat between its rim, each
 * vertex to the mean of its neighbours, then so that how far each is from that mean changes as little as may be, across
 * the rim, too: the bilaplacian, as a bent plate lies. Kobbelt et al. 1998.
 */
function fair(
  e: MeshEdit,
  faces: readonly (readonly number[])[],
  inner: readonly number[],
  beside: ReadonlyMap<number, ReadonlySet<number>>,
): void {
  if (!inner.length) return;
  const ring = new Map<number, Set<number>>();
  for (const f of faces)
    f.forEach((v, i) => {
      if (!ring.has(v)) ring.set(v, new Set(beside.get(v)));
      for (const w of [f[(i + 1) % 3]!, f[(i + 2) % 3]!]) ring.get(v)!.add(w);
    });
  const at = (v: number): Vec3 => e.at(v);
  const mean = (v: number, of: (w: number) => Vec3): Vec3 =>
    scaled(
      [...ring.get(v)!].reduce<Vec3>((s, w) => add(s, of(w)), [0, 0, 0]),
      1 / ring.get(v)!.size,
    );
  for (let round = 0; round < SPANNED; round++) for (const v of inner) e.move(v, mean(v, at));
  const bow = (v: number): Vec3 => sub(mean(v, at), at(v));
  // How far a vertex is from that mean goes with the square of the edges there: curvature is what is left of it.
  const square = (v: number) =>
    [...ring.get(v)!].reduce((s, w) => s + dot(sub(at(w), at(v)), sub(at(w), at(v))), 0) / ring.get(v)!.size;
  const still = STILL * sizeOf(e.mesh);
  let squares = new Map<number, number>();
  for (let round = 0; round < FAIRED; round++) {
    if (round % RESCALED === 0) squares = new Map([...ring.keys()].map((v) => [v, square(v)]));
    let moved = 0;
    for (const v of inner) {
      const own = squares.get(v)!;
      const d = sub(
        bow(v),
        mean(v, (w) => scaled(bow(w), own / squares.get(w)!)),
      );
      const share =
        [...ring.get(v)!].reduce((s, w) => s + own / squares.get(w)! / ring.get(w)!.size, 0) / ring.get(v)!.size;
      const step = scaled(d, 1 / (1 + share));
      e.move(v, add(at(v), step));
      moved = Math.max(moved, lengthOf(step));
    }
    if (moved < still) break;
  }
}
