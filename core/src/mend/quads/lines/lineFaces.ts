import type { Flat, FlatFace, PolyMesh, Topology } from '../../../mesh/index.ts';
import { towards } from '../flatMesh.ts';
import type { Judge, QuadGoal } from '../quadFace.ts';
import type { LayoutMemory } from '../layoutMemory.ts';
import type { FaceRole, Strip } from '../quadStrips.ts';
import { linedFace } from './face.ts';
import type { Ways } from './drawnLayout.ts';
import { lineLayout, type LineLayout } from './lineLayout.ts';

/** A face that may be laid out by lines, its boundaries seen squarely. */
export interface FlatSeen {
  face: FlatFace;
  rings: readonly (readonly Flat[])[];
  /** What counts against a quad besides its shape, and what stands for that where layouts are found again. */
  judge?: Judge;
  judgedBy?: string;
}

/** Faces laid out by lines, and where their lines split edges: shares of each edge's length, along its first corner. */
export interface LinedFaces {
  layouts: ReadonlyMap<number, LineLayout>;
  places: ReadonlyMap<number, readonly number[]>;
}

/** What faces are laid out on. */
export interface Ground {
  mesh: PolyMesh;
  topology: Topology;
  role: (face: number) => FaceRole;
  stripOf: (corner: number) => Strip;
  goal: QuadGoal;
  check: () => void;
  memory?: LayoutMemory;
  /** Called with the share of the faces tried so far. */
  tell: (share: number) => void;
}

/**
 * How often faces are laid out again with the places that others ask for; faces that still ask for more are left out.
 */
const MOST_ROUNDS = 5;
/** How often all begin anew without the faces that failed; after that none is laid out by lines. */
const MOST_STARTS = 8;
/** Places nearer to each other than this share of an edge are one. */
const ONE_PLACE = 1e-6;

/**
 * Lays flat faces out by lines. Where a line ends on an edge, the place runs on through plain quads to the edges across
 * from it, and the faces there begin a line at it: faces are laid out one after the other, those with most corners
 * first, and again until none asks for a place that the others do not have. A face that finds no layout is left out,
 * and all begin anew without it.
 */
export function lineFaces(ground: Ground, seen: ReadonlyMap<number, FlatSeen>): LinedFaces {
  const corners = (f: number) => seen.get(f)!.rings.reduce((s, r) => s + r.length, 0);
  let faces = [...seen.keys()]
    .filter((f) => linedFace(seen.get(f)!.rings))
    .sort((a, b) => corners(b) - corners(a) || a - b);
  const ways = new Map<number, Ways>();
  for (let start = 0; faces.length && start < MOST_STARTS; start++) {
    const run = new Run(ground, seen, ways);
    const failed = run.all(faces);
    if (!failed.size) return { layouts: run.layouts, places: run.places };
    faces = faces.filter((f) => !failed.has(f));
  }
  return { layouts: new Map(), places: new Map() };
}

/** One try to lay some faces out together. */
class Run {
  readonly layouts = new Map<number, LineLayout>();
  readonly places = new Map<number, number[]>();

  constructor(
    private readonly ground: Ground,
    private readonly seen: ReadonlyMap<number, FlatSeen>,
    /** The ways in which faces were laid out last: those with like holes are laid out alike. */
    private readonly ways: Map<number, Ways>,
  ) {}

  /** The faces that found no layout, or went on asking. */
  all(faces: readonly number[]): Set<number> {
    const failed = new Set<number>();
    const asking = new Set<number>();
    for (let round = 0; round < MOST_ROUNDS; round++) {
      asking.clear();
      for (const f of faces) {
        if (failed.has(f)) continue;
        const made = this.lay(f);
        this.ground.tell(this.layouts.size / faces.length);
        if (made === 'none') failed.add(f);
        if (made === 'asks') asking.add(f);
      }
      // Failed faces may have asked for places before.
      if (failed.size) return failed;
      if (!asking.size) break;
    }
    return asking;
  }

  private lay(f: number): 'none' | 'asks' | 'same' {
    const { stripOf, goal, check, memory } = this.ground;
    const { face, rings, judge, judgedBy } = this.seen.get(f)!;
    /** Per ring and edge of it the corner that it is of, and from where to where along it. */
    const parts: { corner: number; from: number; to: number }[][] = [];
    const whole = rings.map((ring, l) => {
      const own: (typeof parts)[number] = [];
      const places = ring.flatMap((p, i): Flat[] => {
        const c = face.boundaries[l]![i]!;
        const shares = this.along(c);
        const stops = [0, ...shares, 1];
        stops.slice(1).forEach((to, k) => own.push({ corner: c, from: stops[k]!, to }));
        return [[p[0], p[1]], ...shares.map((s) => towards(p, ring[(i + 1) % ring.length]!, s))];
      });
      parts.push(own);
      return places;
    });
    const count = whole.reduce((s, r) => s + r.length, 0);
    const known = this.layouts.get(f);
    if (known && known.given === count && !known.splits.flat(2).length) return 'same';
    const price = (ring: number, edge: number): number => {
      const strip = stripOf(parts[ring]![edge]!.corner);
      return strip.free ? strip.edges.length - 1 : Infinity;
    };
    const own = this.ways.get(f);
    const like = [...(own ? [own] : []), ...this.ways.values()];
    const layout = lineLayout(whole, { goal, price, check, judge, judgedBy, like, memory });
    if (!layout) return 'none';
    this.layouts.set(f, layout);
    this.ways.set(f, layout.ways);
    let asks = false;
    layout.splits.forEach((ring, r) =>
      ring.forEach((points, e) => {
        if (!points.length) return;
        asks = true;
        const { corner, from, to } = parts[r]![e]!;
        const [a, b] = [whole[r]![e]!, whole[r]![(e + 1) % whole[r]!.length]!];
        const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
        for (const v of points) {
          const p = layout.points[v]!;
          const share = Math.hypot(p[0] - a[0], p[1] - a[1]) / length;
          this.put(corner, from + share * (to - from));
        }
      }),
    );
    return asks ? 'asks' : 'same';
  }

  /** The places on the edge of a corner, as shares along it. */
  private along(c: number): number[] {
    const { mesh, topology: t } = this.ground;
    const list = this.places.get(t.edge[c]!) ?? [];
    return mesh.corners[t.edgeCorner[t.edge[c]!]!] === mesh.corners[c] ? list : list.map((s) => 1 - s).reverse();
  }

  /** Puts a place into the edge of a corner, and into all edges that it runs on to through plain quads. */
  private put(corner: number, share: number): void {
    const { mesh, topology: t, role } = this.ground;
    const done = new Set<number>();
    const stack: [number, number][] = [[corner, share]];
    while (stack.length) {
      const [c, s] = stack.pop()!;
      const edge = t.edge[c]!;
      if (done.has(edge)) continue;
      done.add(edge);
      const first = t.edgeCorner[edge]!;
      const same = (d: number) => mesh.corners[d] === mesh.corners[c];
      const own = same(first) ? s : 1 - s;
      const list = this.places.get(edge) ?? [];
      if (!list.some((x) => Math.abs(x - own) < ONE_PLACE))
        this.places.set(
          edge,
          [...list, own].sort((a, b) => a - b),
        );
      for (let d = first; ; d = t.sameEdge[d]!) {
        if (role(t.face[d]!) === 'quad') stack.push([t.next[t.next[d]!]!, same(d) ? 1 - s : s]);
        if (t.sameEdge[d] === first) break;
      }
    }
  }
}
