import { checkCancelled, type OpContext, type Place } from '../../mesh/index.ts';
import type { Scene } from './scene.ts';
import { BodySets, HungLists, IntList, PairTable } from './tables.ts';

/** What can go wrong at one rung of the ladder; each of these makes the rung fail. */
export type TroubleKind =
  | 'slice' // a face's boundary crosses a plane an odd number of times
  | 'parallel' // two planes that are not the same are too nearly parallel to meet in a line
  | 'cell' // the lines on a plane do not close to cells
  | 'coverage' // a cell is covered twice by one body
  | 'ray' // no direction tells inside from outside
  | 'seed' // two places of one piece disagree on inside and outside
  | 'area' // the cells of a face do not add up to the face
  | 'open' // a result would not be closed
  | 'boundary'; // a result's boundaries cannot be put together

export interface Trouble {
  kind: TroubleKind;
  place: Place;
}

/**
 * All that one run of the kernel, at one tolerance, knows. The steps fill it in order; each field says which step does.
 *
 * A *facet* is a near face, or a triangle of a bent near face. A *plane* is a cluster of facets declared to lie in one
 * plane; decisions on it use the canonical plane, the one of its largest facet.
 */
export class State {
  readonly tol: number;

  // Points. The first ones are the scene's vertices; new ones follow.
  P: Float64Array;
  vertices: number;
  /** Step 1: each of the scene's vertices → the one that it was merged into. */
  readonly rep: Int32Array;
  /** Vertices of near faces; those of far faces only are 0. */
  readonly near: Uint8Array;
  /** Whether a vertex is an end or a part of something that was split or cut. */
  touched: Uint8Array;

  // Facets (step 1).
  facets = 0;
  facetFace: Int32Array = new Int32Array(0);
  facetBody: Uint16Array = new Uint16Array(0);
  facetStart: Int32Array = new Int32Array(1);
  /**
   * Per facet corner: vertex, next corner, the scene's corner whose edge it leaves along (−1 on a hidden diagonal),
   * edge number.
   */
  fv: Int32Array = new Int32Array(0);
  fnext: Int32Array = new Int32Array(0);
  fcorner: Int32Array = new Int32Array(0);
  fedge: Int32Array = new Int32Array(0);
  /** Per facet: unit normal, point, length of the box's diagonal. */
  plane: Float64Array = new Float64Array(0);
  facetBoxes: Float64Array = new Float64Array(0);
  /** First facet of each near face; −1 for far faces. Facets of one face follow each other. */
  faceFacet: Int32Array;
  /** Facet pairs that may meet, and how many of them are left after the signs were looked at. */
  pairA: Int32Array = new Int32Array(0);
  pairB: Int32Array = new Int32Array(0);

  // Planes (step 1).
  planes = 0;
  facetPlane: Int32Array = new Int32Array(0);
  planeFacet: Int32Array = new Int32Array(0);
  /** Whether a plane has facets of more than one face in it. */
  planeShared: Uint8Array = new Uint8Array(0);
  anyShared = false;
  /** (vertex, plane) of facets in shared planes. */
  readonly member = new PairTable();

  // Edges by their two vertices (step 1), with what was declared or found on them.
  readonly edges: PairTable;
  /** Planes of the facets on an edge; filled only when some plane is shared. */
  readonly edgePlanes = new HungLists();
  /** Vertices declared to lie on an edge. */
  readonly onEdge = new HungLists();
  /** All vertices that split an edge. */
  readonly splits = new HungLists();

  // Cut lines (steps 3 and 4): per facet a list of segment numbers.
  readonly segments = new HungLists();
  readonly segA = new IntList();
  readonly segB = new IntList();
  /** The body on the other side of the cut line. */
  readonly segBody = new IntList();

  // Cells (step 5).
  cut: Uint8Array = new Uint8Array(0);
  cells = 0;
  readonly cellPlane = new IntList();
  readonly cellArea: number[] = [];
  /** Set of bodies that cover a cell, and the facets that do, the target's first. */
  readonly cellBodies = new IntList();
  readonly cellCover = new IntList();
  readonly cellCoverStart = new IntList();
  /** Boundaries of a cell, the outer one first, counter-clockwise on the canonical plane. */
  readonly cellLoopStart = new IntList();
  readonly loopCornerStart = new IntList();
  readonly cellVertex = new IntList(1024);
  /** The scene's corner along whose edge the cell's edge runs, of the first covering facet; −1 on a cut line. */
  readonly cellCorner = new IntList(1024);
  /**
   * Pieces of edges after splitting, and the set of bodies whose surfaces were found to carry each (−1: not looked at).
   */
  readonly carried = new PairTable();
  readonly carriedBy = new IntList();
  readonly sets: BodySets;

  /** Step 6: each edge that a node was asked about, as 2 × edge + direction; the guard counts them. */
  readonly linkNode = new IntList(1024);
  readonly linkEdge = new IntList(1024);

  // Step 6: per node (far face, facet, cell; see `nodeOf…`) its piece, and per piece inside target / inside a cutter.
  piece: Int32Array = new Int32Array(0);
  insideTarget: Uint8Array = new Uint8Array(0);
  insideCutter: Uint8Array = new Uint8Array(0);

  /** Step 6: whether rays through what is out of reach decided anything that the part in reach does not. */
  wholeAsked = false;

  /** Step 8: places where the result touches itself and was led apart. */
  contacts = 0;

  readonly troubles: Trouble[] = [];
  /** Greatest distance, mm, by which a vertex was moved or a boundary straightened. */
  drift = 0;

  constructor(
    readonly scene: Scene,
    tol: number,
    readonly ctx: OpContext | undefined,
    /** One body is held against itself: then several of its faces may cover a cell. */
    readonly alone = false,
  ) {
    this.tol = tol;
    const n = scene.positions.length / 3;
    this.vertices = n;
    this.P = new Float64Array(scene.positions.length + 3 * 1024);
    this.P.set(scene.positions);
    this.rep = new Int32Array(n);
    for (let v = 0; v < n; v++) this.rep[v] = v;
    this.near = new Uint8Array(n);
    this.touched = new Uint8Array(n + 1024);
    this.faceFacet = new Int32Array(scene.faceBody.length).fill(-1);
    this.edges = new PairTable(1024);
    this.sets = new BodySets(scene.bodies.length);
  }

  addVertex(x: number, y: number, z: number): number {
    const v = this.vertices++;
    if (3 * v + 3 > this.P.length) {
      const more = new Float64Array(2 * this.P.length);
      more.set(this.P);
      this.P = more;
      const flags = new Uint8Array(more.length / 3 + 1);
      flags.set(this.touched);
      this.touched = flags;
    }
    this.P[3 * v] = x;
    this.P[3 * v + 1] = y;
    this.P[3 * v + 2] = z;
    return v;
  }

  /** Vertices that part a touching place are copies; a copy's position is that of the vertex it stands for. */
  private readonly copies: number[] = [];
  private firstCopy = Infinity;

  /** A new vertex at the place of another, for parting bodies that only touch. */
  copyVertex(v: number): number {
    const w = this.addVertex(this.P[3 * v]!, this.P[3 * v + 1]!, this.P[3 * v + 2]!);
    this.firstCopy = Math.min(this.firstCopy, w);
    this.copies[w - this.firstCopy] = this.copyOf(v);
    return w;
  }

  copyOf(v: number): number {
    return v < this.firstCopy ? v : (this.copies[v - this.firstCopy] ?? v);
  }

  /** Distance of a vertex from a facet's own plane. */
  distance(v: number, facet: number): number {
    const q = 7 * facet;
    const { plane: L, P } = this;
    return (
      L[q]! * (P[3 * v]! - L[q + 3]!) +
      L[q + 1]! * (P[3 * v + 1]! - L[q + 4]!) +
      L[q + 2]! * (P[3 * v + 2]! - L[q + 5]!)
    );
  }

  /**
   * The declared side of a vertex: 0 on the plane, else its distance. On the plane is what lies within tol of it, and
   * what belongs to a facet of it (unless it strays by a thousand tol, which then is real).
   */
  side(v: number, plane: number): number {
    const d = this.distance(v, this.planeFacet[plane]!);
    const a = d < 0 ? -d : d;
    if (a <= this.tol) return 0;
    if (a < 1e3 * this.tol && this.planeShared[plane] && this.member.find(v, plane) >= 0) return 0;
    return d;
  }

  /** 1 when a facet looks along its canonical plane's normal, −1 when against it. */
  facing(facet: number): number {
    const a = 7 * facet;
    const b = 7 * this.planeFacet[this.facetPlane[facet]!]!;
    const L = this.plane;
    return L[a]! * L[b]! + L[a + 1]! * L[b + 1]! + L[a + 2]! * L[b + 2]! > 0 ? 1 : -1;
  }

  /** Declares that w splits the edge u–v. */
  split(edge: number, w: number): void {
    const u = this.edges.firstOf(edge);
    const v = this.edges.secondOf(edge);
    if (w === u || w === v) return;
    this.touched[u] = this.touched[v] = this.touched[w] = 1;
    this.splits.add(edge, w);
  }

  /** A cut line from a to b on two facets. */
  segment(f: number, g: number, a: number, b: number): void {
    this.touched[a] = this.touched[b] = 1;
    for (const [x, y] of [
      [f, g],
      [g, f],
    ] as const) {
      this.segments.add(x, this.segA.push(a), false);
      this.segB.push(b);
      this.segBody.push(this.facetBody[y]!);
    }
  }

  /** The number of a piece of an edge, as it is after splitting. */
  pieceOfEdge(u: number, v: number): number {
    const e = this.carried.indexEdge(u, v);
    if (e === this.carriedBy.length) this.carriedBy.push(-1);
    return e;
  }

  /** Notes that a body's surface carries the edge u–v. */
  carry(u: number, v: number, body: number): void {
    const e = this.pieceOfEdge(u, v);
    const known = this.carriedBy.get(e);
    this.carriedBy.data[e] = known < 0 ? body : this.sets.with(known, body);
  }

  /** Notes how far merging or dropping a vertex moved the surface. */
  moved(distance: number): void {
    if (distance > this.drift) this.drift = distance;
  }

  trouble(kind: TroubleKind, vertex?: number): void {
    if (this.troubles.length >= 16) return;
    const c = this.scene.centre;
    const place: Place =
      vertex === undefined
        ? {}
        : { point: [0, 1, 2].map((k) => this.P[3 * vertex + k]! + c[k]!) as [number, number, number] };
    this.troubles.push({ kind, place });
  }

  step(fraction: number, stage: string): void {
    checkCancelled(this.ctx);
    this.ctx?.progress?.(fraction, stage);
  }
}
