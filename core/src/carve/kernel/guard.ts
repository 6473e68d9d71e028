import { faceCount, isClosed, MasonError, OPEN, topologyOf, type OpContext, type PolyMesh } from '../../mesh/index.ts';
import { Arranger } from './arrange.ts';
import { assemble, type Assembled, type AssembleOptions } from './assemble.ts';
import { classify, nodeBeyond } from './classify.ts';
import { splitAtContacts } from './contacts.ts';
import { crossCoplanarEdges, declareVerticesOnEdges, EdgeFinder } from './coplanar.ts';
import { declare } from './declare.ts';
import { nearPairs, type FacePairs } from './near.ts';
import { Crossings } from './points.ts';
import { gatherScene, MOST_BODIES, toleranceOf, type Scene } from './scene.ts';
import type { Beyond } from './reach.ts';
import { nearestOnly, OPERATIONS, select, zones, type Selection } from './selection.ts';
import { Slicer } from './slices.ts';
import { splitWhereThreeMeet } from './triples.ts';
import { State, type Trouble, type TroubleKind } from './state.ts';

/** Tolerances that are tried in turn, as shares of the size. */
export const LADDER = [1e-9, 1e-7, 1e-11, 1e-6, 1e-12, 1e-5] as const;

export interface KernelReport {
  /** The rung of the ladder that served: 0 for the first; its tolerance as a share of the size, and in mm. */
  rung: number;
  relativeTolerance: number;
  tolerance: number;
  /** Greatest distance (mm) by which merging a vertex or straightening an edge moved the surface. */
  drift: number;
  /** Faces of the target and of the cutters that were cut or lay flush, and the cells that they fell into. */
  facesCut: number;
  cells: number;
  /** Vertices and edges at which the result only touches itself: kept apart as manifold pieces. */
  contacts: number;
}

export interface KernelResult {
  /** One for each selection asked for; without faces where nothing is kept. */
  meshes: Assembled[];
  /** Edges at which the target hangs together with what is out of reach: see `Scene`. */
  borderEdges: Int32Array;
  /** Whether a vertex there was merged with another one: then what is out of reach would have to change too. */
  borderMerged: boolean;
  /** Whether rays through faces out of reach decided anything: see `State`. */
  wholeAsked: boolean;
  report: KernelReport;
}

export interface CarveBodiesOptions extends AssembleOptions {
  /** The target is an open sheet. */
  open?: boolean;
  /** Scribe only on the surface that is met first along this direction. */
  nearest?: readonly [number, number, number];
  /** What of the target is out of reach: body 0 is then only what is in reach. */
  beyond?: Beyond;
}

/**
 * Steps 0 to 6 at one tolerance: everything about how the bodies meet, before it is decided what to keep.
 * Subtract, union, intersect, and later split and scribe, are choices from the same arrangement.
 */
export function arrangeBodies(scene: Scene, rel: number, ctx?: OpContext, contacts = false): State {
  const s = new State(scene, toleranceOf(scene, rel), ctx);
  s.step(0.02, 'Finding near faces');
  arrangePairs(s, nearPairs(scene, s.tol), contacts);
  classify(s);
  s.step(0.85, 'Checking');
  return s;
}

/** Steps 1 to 5 on pairs of faces that may meet. */
export function arrangePairs(s: State, pairs: FacePairs, contacts: boolean): void {
  s.step(0.1, 'Declaring planes');
  const grid = declare(s, pairs);
  const crossings = new Crossings(s, grid);
  const edges = new EdgeFinder(s);
  declareVerticesOnEdges(s, edges);
  crossCoplanarEdges(s, crossings, edges);
  s.step(0.2, 'Crossing faces');
  new Slicer(s, crossings).run();
  if (s.alone) splitWhereThreeMeet(s, crossings);
  if (contacts) splitAtContacts(s);
  s.step(0.5, 'Arranging planes');
  new Arranger(s).run();
  s.step(0.7, 'Telling inside from outside');
}

/**
 * Step 9, guard and ladder: carves the bodies (the first is the target, the others are cutters that act as one and
 * whose surfaces do not come near each other: see `uniteNear`), accepting only a result without any trouble: no step
 * had a doubt, cut lines part inside from outside, every face's cells add up to it (from which V(A−B) + V(A∩B) = V(A)
 * and V(A∪B) + V(A∩B) = V(A) + V(B) follow), and subtract, union and intersect would all be closed. Else the next
 * tolerance is tried, each first as if no body touched itself and then with such contacts looked for. Throws `not-done`
 * with the place when none serves.
 */
export function carveBodies(
  bodies: readonly PolyMesh[],
  selections: readonly Selection[],
  options: CarveBodiesOptions,
  ctx?: OpContext,
): KernelResult {
  if (bodies.length > MOST_BODIES)
    throw new MasonError(
      'bad-input',
      `One cut takes up to ${MOST_BODIES - 1} cutters; there are ${bodies.length - 1}.`,
    );
  const filled = bodies.filter((b, i) => i === 0 || faceCount(b) > 0);
  const scene = gatherScene(filled, options.open, options.beyond);
  let first: Trouble | undefined;
  for (let step = 0; step < 2 * LADDER.length; step++) {
    const rung = step >> 1;
    const s = arrangeBodies(scene, LADDER[rung]!, ctx, step % 2 === 1);
    if (!s.troubles.length) checkCrossings(s);
    if (!s.troubles.length) checkClosed(s);
    if (!s.troubles.length) {
      s.step(0.9, 'Putting faces together');
      const meshes = selections.map((selection) => put(s, selection, options));
      // Vertices are dropped and pinches parted after the balance was struck, so the meshes themselves are checked once
      // more.
      if (options.pinches === 'part' && !scene.open && !meshes.every((m) => closedWithin(s, m))) s.trouble('open');
      if (!s.troubles.length)
        return {
          meshes,
          borderEdges: scene.borderEdges,
          borderMerged: isBorderMerged(s),
          wholeAsked: s.wholeAsked,
          report: reportOf(s, rung),
        };
    }
    first ??= s.troubles[0];
  }
  throw new MasonError('not-done', explain(first!.kind), first!.place);
}

function put(s: State, selection: Selection, options: CarveBodiesOptions): Assembled {
  if (selection !== 'scribe') return assemble(s, select(s, selection), options);
  const zone = zones(s);
  if (options.nearest) nearestOnly(s, zone, options.nearest);
  return assemble(s, select(s, selection), options, zone);
}

function reportOf(s: State, rung: number): KernelReport {
  let facesCut = 0;
  for (const c of s.cut) facesCut += c;
  return {
    rung,
    relativeTolerance: LADDER[rung]!,
    tolerance: s.tol,
    drift: s.drift,
    facesCut,
    cells: s.cells,
    contacts: s.contacts,
  };
}

/**
 * Where the inside of one facet of the target crosses the inside of one of a cutter, the crossing line parts each of
 * the two into a piece inside the other body and a piece outside of it. Lines that do not close leave whole faces on
 * one side: a result of that is closed and its volumes add up, and yet it is wrong.
 */
function checkCrossings(s: State): void {
  const firstCell = s.scene.faceBody.length + s.facets;
  /** Per edge the four cells round it: two of the target, two of a cutter; −1 for none. */
  const round = new Int32Array(4 * s.carried.count).fill(-1);
  const links = new Uint8Array(s.carried.count);
  for (let i = 0; i < s.linkNode.length; i++) {
    const e = s.linkEdge.get(i) >> 1;
    if (s.carriedBy.get(e) < 0) continue;
    if (links[e]! < 5) links[e]!++;
    const node = s.linkNode.get(i);
    const facet = node < firstCell || node === nodeBeyond(s) ? -1 : onlyFacet(s, node - firstCell);
    if (facet < 0) continue;
    const at = 4 * e + (s.facetBody[facet] === 0 ? 0 : 2);
    if (round[at]! < 0) round[at] = node;
    else round[at + 1] = node;
  }
  for (let e = 0; e < s.carried.count; e++) {
    if (links[e] !== 4) continue;
    const [a, b, c, d] = [round[4 * e]!, round[4 * e + 1]!, round[4 * e + 2]!, round[4 * e + 3]!];
    if (b < 0 || d < 0) continue;
    const same = (x: number, y: number) => onlyFacet(s, x - firstCell) === onlyFacet(s, y - firstCell);
    if (!same(a, b) || !same(c, d)) continue;
    // A cutter may lie in another one: then both pieces of the target are inside.
    const [inA, inB] = [s.insideCutter[s.piece[a]!]!, s.insideCutter[s.piece[b]!]!];
    const nested = inA === 1 && inB === 1 && s.scene.bodies.length > 2;
    const cutterParted = s.scene.open || s.insideTarget[s.piece[c]!] !== s.insideTarget[s.piece[d]!];
    if ((inA === inB && !nested) || !cutterParted) {
      s.trouble('seed', s.carried.firstOf(e));
      return;
    }
  }
}

/** The facet that covers a cell, −1 when several do. */
function onlyFacet(s: State, cell: number): number {
  const from = s.cellCoverStart.get(cell);
  return s.cellCoverStart.get(cell + 1) - from === 1 ? s.cellCover.get(from) : -1;
}

const isBorderMerged = ({ rep, scene }: State): boolean =>
  rep.some((r, v) => r !== v && (scene.beyond?.border[r] === 1 || scene.beyond?.border[v] === 1));

/** Whether a result is closed, but for edges at which it hangs together with what is out of reach. */
function closedWithin(s: State, { mesh, vertices }: Assembled): boolean {
  if (!s.scene.beyond) return isClosed(mesh);
  const border = s.scene.beyond.border;
  const { opposite, next } = topologyOf(mesh);
  const onBorder = (c: number) => border[vertices[mesh.corners[c]!]!] === 1;
  return opposite.every((o, c) => o >= 0 || (o === OPEN && onBorder(c) && onBorder(next[c]!)));
}

/** Every edge of what would be kept must be walked as often one way as the other, for each of the three operations. */
function checkClosed(s: State): void {
  // A sheet has a border to begin with.
  if (s.scene.open) return;
  for (const operation of OPERATIONS) if (!isBalanced(s, select(s, operation))) return;
}

/** Whether every edge of what would be kept is walked as often one way as the other; a trouble where not. */
export function isBalanced(s: State, keep: Int8Array): boolean {
  const balance = new Int32Array(s.carried.count);
  for (let i = 0; i < s.linkNode.length; i++) {
    const k = keep[s.linkNode.get(i)]!;
    if (!k) continue;
    const e = s.linkEdge.get(i);
    balance[e >> 1]! += e & 1 ? -k : k;
  }
  const open = balance.findIndex((b) => b !== 0);
  if (open >= 0) s.trouble('open', s.carried.firstOf(open));
  return open < 0;
}

const WHAT: Record<TroubleKind, string> = {
  slice: 'a face is so bent or folded that its boundary cannot be sliced',
  parallel: 'two faces are too nearly parallel to meet in a line',
  cell: 'cut lines on a face do not close',
  coverage: 'two faces of one body lie on top of each other',
  ray: 'inside and outside cannot be told apart',
  seed: 'inside and outside cannot be told apart',
  area: 'the pieces of a face do not add up to it',
  open: 'the result would not be closed',
  boundary: 'the boundaries of a face cannot be put together',
};

const explain = (kind: TroubleKind): string =>
  `The cut could not be done cleanly: ${WHAT[kind]}. Move or turn the cutter a little, or look at the marked place for damage.`;
