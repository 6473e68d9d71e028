import earcut from 'earcut';
import {
  Bvh,
  faceBoxes,
  faceTree,
  newellPlane,
  boundaryBend,
  planeBasis,
  triangulateFace,
  type PolyMesh,
} from '../../mesh/index.ts';
import { emptyBox, growBox } from './scene.ts';
import type { State } from './state.ts';

/** Directions of rays: none along an axis or a plane that parts are likely to have. */
const DIRECTIONS = [
  [0.5377, 0.6124, 0.5797],
  [-0.3127, 0.8211, 0.4774],
  [0.7431, -0.2219, 0.6313],
  [0.1931, 0.3372, -0.9214],
  [-0.6612, -0.4127, 0.6265],
  [0.8812, 0.1127, -0.4591],
] as const;

/** Above this many (rays × faces) a tree of boxes is built for the rays. */
const TREE_ABOVE = 4e5;
/**
 * Boundaries of more corners than this are not triangulated for a place inside: some lines across them are looked at.
 */
const SCAN_ABOVE = 96;
/** Lines across such a boundary; one of them nearly always runs clear of all corners. */
const SCAN_LINES = 7;

/** After this many rays through a whole target, in one cut or several, a tree of its faces is built. */
const WHOLE_TREE_ABOVE = 64;
const askedOfWhole = new WeakMap<PolyMesh, number>();

/** A ray that passes an edge within so many tolerances is discarded. */
const NEAR_EDGE = 100;
/** Boundaries of a face with more than this many get a box each. */
const MANY_LOOPS = 8;

/** What a ray is counted on. */
type Boundaries = Pick<PolyMesh, 'corners' | 'loopStart' | 'faceLoops'>;

/** Finds what a node is inside of, by counting how often a ray leaves each body. */
export class RayCaster {
  private readonly tree: Bvh | null;
  private readonly parity: Uint8Array;
  private readonly asked: Uint8Array;
  private readonly point = new Float64Array(3);
  /** Whether the last answer hung on the target. */
  askedTarget = false;
  private direction: readonly number[] = DIRECTIONS[0];
  private bad = false;
  private readonly farPlane = new Float64Array(6);
  private readonly basis = new Float64Array(6);
  private readonly bent = new Map<number, Int32Array | null>();
  /**
   * For a target that is not all in reach: its faces as given, their boxes, perhaps a tree, and the place in its
   * coordinates.
   */
  private readonly whole: PolyMesh | null;
  private readonly wholeTree: Bvh | null;
  private readonly wholePoint = new Float64Array(3);
  /** The coordinates of what is being hit, and the ray's start among them. */
  private P: Float64Array;
  private at: Float64Array;

  constructor(
    private readonly s: State,
    asks: number,
  ) {
    const n = s.scene.faceBody.length;
    this.P = s.P;
    this.at = this.point;
    this.whole = s.scene.beyond?.whole ?? null;
    const before = (this.whole && askedOfWhole.get(this.whole)) ?? 0;
    if (this.whole) askedOfWhole.set(this.whole, before + asks);
    this.wholeTree = this.whole && faceTree(this.whole, before + asks > WHOLE_TREE_ABOVE);
    this.tree =
      asks * n > TREE_ABOVE
        ? new Bvh(
            s.scene.faceBoxes,
            Int32Array.from({ length: n }, (_, f) => f),
          )
        : null;
    this.parity = new Uint8Array(s.scene.bodies.length);
    this.asked = new Uint8Array(s.scene.bodies.length);
  }

  /**
   * Bit 0: inside the target, bit 1: inside a cutter (only of bodies that do not cover the node); −1 when no ray
   * decides.
   */
  ask(node: number): number {
    const { s, point, asked } = this;
    this.askedTarget = false;
    const set = this.interior(node);
    let any = false;
    for (let k = 0; k < asked.length; k++) {
      asked[k] = !s.sets.has(set, k) && !(k === 0 && s.scene.open) && this.inBox(k) ? 1 : 0;
      if (asked[k]) any = true;
    }
    if (!any) return 0;
    this.askedTarget = asked[0] === 1;
    for (const d of DIRECTIONS) {
      this.direction = d;
      this.bad = false;
      this.parity.fill(0);
      if (this.tree) this.tree.ray(point, d, s.tol, (f) => this.hit(f));
      else this.everyFace();
      if (this.whole && asked[0] && !this.bad) this.hitWhole(this.whole);
      if (this.bad) continue;
      let cutter = 0;
      for (let k = 1; k < asked.length; k++) if (asked[k] && this.parity[k]) cutter = 2;
      return (asked[0] && this.parity[0] ? 1 : 0) | cutter;
    }
    return -1;
  }

  /** The roomiest place of a node, mm from the scene's centre; good until the next question. */
  placeIn(node: number): Float64Array {
    this.interior(node);
    return this.point;
  }

  vertexOf(node: number): number {
    const { s } = this;
    const faces = s.scene.faceBody.length;
    if (node < faces) return s.scene.corners[s.scene.loopStart[s.scene.faceLoops[node]!]!]!;
    if (node < faces + s.facets) return s.fv[s.facetStart[node - faces]!]!;
    return s.cellVertex.get(s.loopCornerStart.get(s.cellLoopStart.get(node - faces - s.facets)));
  }

  private inBox(body: number): boolean {
    const { tol } = this.s;
    const b = this.s.scene.bodyBoxes;
    for (let k = 0; k < 3; k++)
      if (this.point[k]! < b[6 * body + k]! - tol || this.point[k]! > b[6 * body + 3 + k]! + tol) return false;
    return true;
  }

  private everyFace(): void {
    const { scene } = this.s;
    for (let k = 0; k < this.asked.length; k++)
      if (this.asked[k]) this.eachBox(scene.faceBoxes, scene.faceBase[k]!, scene.faceBase[k + 1]!, (f) => this.hit(f));
  }

  private eachBox(B: Float64Array, from: number, to: number, hit: (f: number) => void): void {
    const { tol } = this.s;
    const { at: o, direction: d } = this;
    for (let f = from; f < to && !this.bad; f++) {
      let t0 = -tol;
      let t1 = Infinity;
      for (let x = 0; x < 3; x++) {
        const w = 1 / d[x]!;
        const p = (B[6 * f + x]! - tol - o[x]!) * w;
        const q = (B[6 * f + 3 + x]! + tol - o[x]!) * w;
        const near = p < q ? p : q;
        const far = p < q ? q : p;
        if (near > t0) t0 = near;
        if (far < t1) t1 = far;
      }
      if (t0 <= t1) hit(f);
    }
  }

  /** The target's faces, those out of reach among them. */
  private hitWhole(whole: PolyMesh): void {
    for (let k = 0; k < 3; k++) this.wholePoint[k] = this.point[k]! + this.s.scene.centre[k]!;
    this.P = whole.positions;
    this.at = this.wholePoint;
    const hit = (f: number) => {
      this.hitFar(whole, f, 0, () => this.trianglesOf(whole, f, () => triangulateFace(whole, f)));
      return this.bad;
    };
    if (this.wholeTree) this.wholeTree.ray(this.wholePoint, this.direction, this.s.tol, hit);
    else this.eachBox(faceBoxes(whole), 0, whole.faceLoops.length - 1, hit);
    this.P = this.s.P;
    this.at = this.point;
  }

  /** Counts a face that the ray goes through; true stops the walk, as the ray is to be discarded. */
  private hit(f: number): boolean {
    const { s } = this;
    const body = s.scene.faceBody[f]!;
    if (!this.asked[body] || (body === 0 && this.whole)) return false;
    const first = s.faceFacet[f]!;
    if (first >= 0) {
      for (let i = first; i < s.facets && s.facetFace[i] === f; i++) {
        const q = this.meets(s.plane, 7 * i);
        if (q < 0) continue;
        let inside = false;
        for (let c = s.facetStart[i]!; c < s.facetStart[i + 1]!; c++)
          if (this.edge(s.fv[c]!, s.fv[s.fnext[c]!]!, q)) inside = !inside;
        if (inside) this.count(body);
      }
    } else this.hitFar(s.scene, f, body, () => this.trianglesOfScene(f, body));
    return this.bad;
  }

  private hitFar(m: Boundaries, f: number, body: number, bentTriangles: () => Int32Array | null): void {
    const { P } = this;
    const begin = m.loopStart[m.faceLoops[f]!]!;
    const triangles = bentTriangles();
    if (triangles) {
      for (let i = 0; i < triangles.length; i += 3) {
        const t = triangles.subarray(i, i + 3);
        newellPlane(P, t, 0, 3, this.farPlane, 0);
        const q = this.meets(this.farPlane, 0);
        if (q < 0) continue;
        let inside = false;
        for (let k = 0; k < 3; k++) if (this.edge(t[k]!, t[(k + 1) % 3]!, q)) inside = !inside;
        if (inside) this.count(body);
      }
      return;
    }
    newellPlane(P, m.corners, begin, m.loopStart[m.faceLoops[f]! + 1]!, this.farPlane, 0);
    const q = this.meets(this.farPlane, 0);
    if (q < 0) return;
    let inside = false;
    const boxes = m.faceLoops[f + 1]! - m.faceLoops[f]! > MANY_LOOPS ? this.loopBoxes(m, f) : null;
    for (let l = m.faceLoops[f]!; l < m.faceLoops[f + 1]!; l++) {
      if (boxes && this.beside(boxes, 6 * (l - m.faceLoops[f]!), q)) continue;
      const end = m.loopStart[l + 1]!;
      let a = m.corners[end - 1]!;
      for (let c = m.loopStart[l]!; c < end; c++) {
        const b = m.corners[c]!;
        if (this.edge(a, b, q)) inside = !inside;
        a = b;
      }
    }
    if (inside) this.count(body);
  }

  private readonly boxesOfLoops = new Map<number, Float64Array>();

  private loopBoxes(m: Boundaries, f: number): Float64Array {
    const key = this.keyOf(m, f);
    let boxes = this.boxesOfLoops.get(key);
    if (boxes) return boxes;
    const first = m.faceLoops[f]!;
    boxes = new Float64Array(6 * (m.faceLoops[f + 1]! - first));
    for (let l = first; l < m.faceLoops[f + 1]!; l++) {
      emptyBox(boxes, 6 * (l - first));
      for (let c = m.loopStart[l]!; c < m.loopStart[l + 1]!; c++)
        growBox(boxes, 6 * (l - first), this.P, 3 * m.corners[c]!);
    }
    this.boxesOfLoops.set(key, boxes);
    return boxes;
  }

  /** Whether the hit is clear of a box, looked at along an axis. */
  private beside(B: Float64Array, at: number, k: number): boolean {
    const [i, j] = [k === 0 ? 1 : k === 1 ? 2 : 0, k === 0 ? 2 : k === 1 ? 0 : 1];
    const reach = NEAR_EDGE * this.s.tol;
    return (
      this.hx < B[at + i]! - reach ||
      this.hx > B[at + 3 + i]! + reach ||
      this.hy < B[at + j]! - reach ||
      this.hy > B[at + 3 + j]! + reach
    );
  }

  /** Faces of the whole target are numbered by themselves: below zero. */
  private keyOf(m: Boundaries, f: number): number {
    return m === this.whole ? -1 - f : f;
  }

  private trianglesOfScene(f: number, body: number): Int32Array | null {
    const { scene } = this.s;
    return this.trianglesOf(scene, f, () =>
      triangulateFace(scene.bodies[body]!, f - scene.faceBase[body]!).map((c) => c + scene.cornerBase[body]!),
    );
  }

  /** The triangles of a bent face as vertices, null for a flat one. */
  private trianglesOf(m: Boundaries, f: number, triangulate: () => number[]): Int32Array | null {
    const { P } = this;
    const begin = m.loopStart[m.faceLoops[f]!]!;
    const end = m.loopStart[m.faceLoops[f + 1]!]!;
    if (end - begin === 3) return null;
    const key = this.keyOf(m, f);
    let known = this.bent.get(key);
    if (known !== undefined) return known;
    newellPlane(P, m.corners, begin, m.loopStart[m.faceLoops[f]! + 1]!, this.farPlane, 0);
    const bent = boundaryBend(P, m.corners, begin, end, this.farPlane, 0) > this.s.tol;
    known = bent ? Int32Array.from(triangulate(), (c) => m.corners[c]!) : null;
    this.bent.set(key, known);
    return known;
  }

  private hx = 0;
  private hy = 0;
  private away = 0;

  /** Where the ray meets a plane, kept for `edge`; returns the axis to look along, or −1 when it does not ahead. */
  private meets(L: Float64Array, q: number): number {
    const { at: o, direction: d } = this;
    const nd = L[q]! * d[0]! + L[q + 1]! * d[1]! + L[q + 2]! * d[2]!;
    const height = L[q]! * (o[0]! - L[q + 3]!) + L[q + 1]! * (o[1]! - L[q + 4]!) + L[q + 2]! * (o[2]! - L[q + 5]!);
    if (Math.abs(nd) < 1e-9) {
      // Along the face: harmless when well beside it.
      if (Math.abs(height) < 1e-6 * this.s.scene.size) this.bad = true;
      return -1;
    }
    const t = -height / nd;
    if (t < -this.s.tol) return -1;
    this.away = t;
    const ax = Math.abs(L[q]!);
    const ay = Math.abs(L[q + 1]!);
    const az = Math.abs(L[q + 2]!);
    const k = ax > ay && ax > az ? 0 : ay > az ? 1 : 2;
    const i = k === 0 ? 1 : k === 1 ? 2 : 0;
    const j = k === 0 ? 2 : k === 1 ? 0 : 1;
    this.hx = o[i]! + t * d[i]!;
    this.hy = o[j]! + t * d[j]!;
    return k;
  }

  /** Whether an edge is passed by a line from the hit; a hit too near the edge discards the ray. */
  private edge(a: number, b: number, k: number): boolean {
    const { P } = this;
    const { tol } = this.s;
    const i = k === 0 ? 1 : k === 1 ? 2 : 0;
    const j = k === 0 ? 2 : k === 1 ? 0 : 1;
    const { hx, hy } = this;
    const x0 = P[3 * a + i]! - hx;
    const y0 = P[3 * a + j]! - hy;
    const x1 = P[3 * b + i]! - hx;
    const y1 = P[3 * b + j]! - hy;
    const ex = x1 - x0;
    const ey = y1 - y0;
    let s = -(x0 * ex + y0 * ey) / (ex * ex + ey * ey || 1);
    s = s < 0 ? 0 : s > 1 ? 1 : s;
    const dx = x0 + s * ex;
    const dy = y0 + s * ey;
    if (dx * dx + dy * dy < NEAR_EDGE * NEAR_EDGE * tol * tol) this.bad = true;
    return y0 > 0 !== y1 > 0 && (ex * -y0) / ey + x0 > 0;
  }

  private count(body: number): void {
    // A face at the very place asked: the place is on this body, so this ray cannot tell.
    if (Math.abs(this.away) <= this.s.tol) this.bad = true;
    this.parity[body]! ^= 1;
  }

  /** Puts the roomiest place of a node into `point` and returns the set of bodies that cover the node. */
  private interior(node: number): number {
    const { s } = this;
    const { scene } = s;
    const faces = scene.faceBody.length;
    const loops: Int32Array[] = [];
    const plane = new Float64Array(6);
    let set: number;
    if (node < faces) {
      for (let l = scene.faceLoops[node]!; l < scene.faceLoops[node + 1]!; l++)
        loops.push(scene.corners.subarray(scene.loopStart[l], scene.loopStart[l + 1]));
      newellPlane(s.P, loops[0]!, 0, loops[0]!.length, plane, 0);
      set = scene.faceBody[node]!;
    } else if (node < faces + s.facets) {
      const f = node - faces;
      let from = s.facetStart[f]!;
      for (let c = from; c < s.facetStart[f + 1]!; c++)
        if (s.fnext[c] !== c + 1) {
          loops.push(s.fv.subarray(from, c + 1));
          from = c + 1;
        }
      plane.set(s.plane.subarray(7 * f, 7 * f + 6));
      set = s.facetBody[f]!;
    } else {
      const k = node - faces - s.facets;
      for (let l = s.cellLoopStart.get(k); l < s.cellLoopStart.get(k + 1); l++)
        loops.push(s.cellVertex.data.subarray(s.loopCornerStart.get(l), s.loopCornerStart.get(l + 1)));
      const f = s.planeFacet[s.cellPlane.get(k)]!;
      plane.set(s.plane.subarray(7 * f, 7 * f + 6));
      set = s.cellBodies.get(k);
    }
    this.roomiest(loops, plane);
    return set;
  }

  /** Middle of the triangle (of a triangulation) with the greatest least height. */
  private roomiest(loops: Int32Array[], plane: Float64Array): void {
    const { P } = this.s;
    const { basis } = this;
    planeBasis(plane, 0, basis);
    const flat: number[] = [];
    const vertices: number[] = [];
    const holes: number[] = [];
    for (const loop of loops) {
      if (vertices.length) holes.push(vertices.length);
      for (const v of loop) {
        const [x, y, z] = [P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!];
        flat.push(basis[0]! * x + basis[1]! * y + basis[2]! * z, basis[3]! * x + basis[4]! * y + basis[5]! * z);
        vertices.push(v);
      }
    }
    if (vertices.length > SCAN_ABOVE && this.scanned(flat, holes, plane)) return;
    const t = vertices.length === 3 ? [0, 1, 2] : earcut(flat, holes, 2);
    let best = 0;
    let most = -1;
    for (let i = 0; i < t.length; i += 3) {
      const [a, b, c] = [2 * t[i]!, 2 * t[i + 1]!, 2 * t[i + 2]!];
      const ux = flat[b]! - flat[a]!;
      const uy = flat[b + 1]! - flat[a + 1]!;
      const wx = flat[c]! - flat[a]!;
      const wy = flat[c + 1]! - flat[a + 1]!;
      const longest = Math.max(ux * ux + uy * uy, wx * wx + wy * wy, (wx - ux) ** 2 + (wy - uy) ** 2);
      const height = longest > 0 ? Math.abs(ux * wy - uy * wx) / Math.sqrt(longest) : 0;
      if (height > most) {
        most = height;
        best = i;
      }
    }
    const pick = t.length ? [t[best]!, t[best + 1]!, t[best + 2]!] : [0, 0, 0];
    for (let k = 0; k < 3; k++) this.point[k] = pick.reduce((sum, i) => sum + P[3 * vertices[i]! + k]!, 0) / 3;
  }

  /**
   * A place inside large boundaries: the middle of a stretch inside, on one of a few lines across them, that is
   * furthest from all edges. False when no line gives one.
   */
  private scanned(flat: number[], holes: number[], plane: Float64Array): boolean {
    const n = flat.length / 2;
    const starts = [0, ...holes, n];
    const next = new Int32Array(n);
    for (let l = 0; l + 1 < starts.length; l++)
      for (let i = starts[l]!; i < starts[l + 1]!; i++) next[i] = i + 1 < starts[l + 1]! ? i + 1 : starts[l]!;
    const clearance = (x: number, y: number) => {
      let least = Infinity;
      for (let i = 0; i < n; i++) {
        const [ax, ay] = [flat[2 * i]!, flat[2 * i + 1]!];
        const [ex, ey] = [flat[2 * next[i]!]! - ax, flat[2 * next[i]! + 1]! - ay];
        const t = Math.max(0, Math.min(1, ((x - ax) * ex + (y - ay) * ey) / (ex * ex + ey * ey || 1)));
        least = Math.min(least, (ax + t * ex - x) ** 2 + (ay + t * ey - y) ** 2);
      }
      return least;
    };
    const heights = Float64Array.from({ length: n }, (_, i) => flat[2 * i + 1]!).sort();
    let [bx, by, most] = [0, 0, 0];
    for (let k = 0; k < SCAN_LINES; k++) {
      // Between two corners' heights, so that no corner is on the line.
      let at = Math.floor(((k + 0.5) * (n - 1)) / SCAN_LINES);
      while (at > 0 && heights[at] === heights[at + 1]) at--;
      const y = (heights[at]! + heights[at + 1]!) / 2;
      const xs: number[] = [];
      for (let i = 0; i < n; i++) {
        const [ay, by2] = [flat[2 * i + 1]!, flat[2 * next[i]! + 1]!];
        if (ay > y === by2 > y) continue;
        xs.push(flat[2 * i]! + ((y - ay) / (by2 - ay)) * (flat[2 * next[i]!]! - flat[2 * i]!));
      }
      xs.sort((a, b) => a - b);
      let widest = 0;
      for (let i = 2; i + 1 < xs.length; i += 2) if (xs[i + 1]! - xs[i]! > xs[widest + 1]! - xs[widest]!) widest = i;
      if (xs.length < 2) continue;
      const x = (xs[widest]! + xs[widest + 1]!) / 2;
      const room = clearance(x, y);
      if (room > most) [bx, by, most] = [x, y, room];
    }
    if (!(most > 0)) return false;
    const { basis: b, point } = this;
    const height = plane[0]! * plane[3]! + plane[1]! * plane[4]! + plane[2]! * plane[5]!;
    for (let k = 0; k < 3; k++) point[k] = bx * b[k]! + by * b[3 + k]! + height * plane[k]!;
    return true;
  }
}
