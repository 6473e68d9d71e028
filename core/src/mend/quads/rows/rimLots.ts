import {
  cross,
  faceBegin,
  faceCount,
  faceEnd,
  faceNormals,
  dot,
  lengthOf,
  nearestOn,
  sub,
  topologyOf,
  vertexPlace,
  type PolyMesh,
  type Topology,
  type Vec3,
} from '../../../mesh/index.ts';
import { softBetween } from '../spread.ts';

// Where a surface of rows and columns is cut, its facets beside the rim are laid out anew together: a lot is as many
// whole facets as make a rectangle of rows and columns round the rim.

/** A lot of facets whose outer boundary is a rectangle of rows and columns. */
export interface RimLot {
  facets: number[];
  /** The vertices of its outer boundary, with the lot on their left, and which of them are the four corners. */
  outline: number[];
  corners: number[];
}

/** A corner of a lot is sharper than this, degrees, and a vertex at which a facet is missing blunter than that. */
const [CORNER, INWARD] = [135, 225];
/** A facet of rows and columns has corners between these, degrees. */
const [SHARP, BLUNT] = [40, 140];
/**
 * A rim of which so large a share of the vertices is uneven is taken whole, and so is one that is shorter than this
 * share of the longest of its surface.
 */
const [UNEVEN, SHORT] = [0.25, 0.6];
/**
 * A side of a lot that comes nearer to a rim than this share of half of its width gets another row; where that is wider,
 * only one that comes nearer than the second share.
 */
const [LEAST_GAP, LEAST_GAP_BY_WIDE_ROWS] = [0.5, 0.3];
/** No more bands one outside the other are kept. */
const MOST_BANDS = 8;
/** Most facets of a lot, and rounds of making it larger. */
const [MOST_FACETS, MOST_ROUNDS] = [3000, 200];

/**
 * Finds the lots round rims that cut through rows and columns. `may`: facets that may be laid out anew. A rim is taken
 * where vertices on it have other than two facets of the surface, or badly shaped ones, and not all facets beside it
 * are quads; lots that share a facet become one. Those that make no rectangle are left out.
 */
export function rimLots(m: PolyMesh, may: (f: number) => boolean): RimLot[] {
  if (!Array.from({ length: faceCount(m) }, (_, f) => f).some((f) => may(f) && !isQuad(m, f))) return [];
  const ground = new Ground(m, may);
  const lots: Set<number>[] = [];
  const seeds = ground.seeds();
  const seen = new Set<number>();
  for (const start of seeds.keys()) {
    if (seen.has(start)) continue;
    const lot = new Set([start]);
    for (const f of lot) for (const g of seeds.get(f)!) lot.add(g);
    for (const f of lot) seen.add(f);
    if ([...lot].some((f) => !isQuad(m, f))) lots.push(lot);
  }
  const out: RimLot[] = [];
  const taken = new Set<number>();
  for (let i = 0; i < lots.length; i++) {
    const made = ground.rectangle(lots[i]!);
    if (!made) continue;
    // A lot that has grown over what another one takes is made again with it.
    const other = lots.findIndex((l, j) => j > i && made.facets.some((f) => l.has(f)));
    if (other >= 0) {
      lots[other] = new Set([...lots[other]!, ...made.facets]);
      continue;
    }
    if (made.facets.some((f) => taken.has(f))) continue;
    for (const f of made.facets) taken.add(f);
    out.push(made);
  }
  return out;
}

const isQuad = (m: PolyMesh, f: number): boolean =>
  m.faceLoops[f + 1]! - m.faceLoops[f]! === 1 && faceEnd(m, f) - faceBegin(m, f) === 4;

/** Boundary of a set of facets: the corner of each edge, loop by loop. */
type Loop = number[];

class Ground {
  private readonly t: Topology;
  private readonly N: Float64Array;
  private readonly isSoft: (corner: number) => boolean;
  /** Facets of bands along rims that stay. */
  private readonly bands = new Set<number>();

  constructor(
    private readonly m: PolyMesh,
    private readonly may: (f: number) => boolean,
  ) {
    this.t = topologyOf(m);
    this.N = faceNormals(m);
    const soft = softBetween(m, this.N);
    const open = (f: number) => may(f) && !this.bands.has(f);
    this.isSoft = (c) => open(this.t.face[c]!) && soft(c) && open(this.t.face[this.t.opposite[c]!]!);
    for (let n = 0; n < MOST_BANDS && this.keepBands(); n++);
  }

  /**
   * Keeps the bands of quads along even rims beyond which the surface is uneven, as a collar leaves it: the rim is then
   * the outer line of the band. Facets beyond may end on it between the corners of quads. Whether there were any.
   */
  private keepBands(): boolean {
    const { t } = this;
    const before = this.bands.size;
    for (const rim of this.loops(this.surface(), this.isSoft)) {
      const band = new Set(rim.map((c) => t.face[c]!));
      if (band.size !== rim.length || !rim.every((c, i) => this.isCell(c, rim[(i + 1) % rim.length]!))) continue;
      if (!rim.every((c) => this.isEven(this.fan(c, this.isSoft)))) continue;
      // Along the outer line, seen from beyond.
      const beyond = (c: number) => this.isSoft(c) && !band.has(t.face[c]!) && !band.has(t.face[t.opposite[c]!]!);
      const line = rim.flatMap((c) => this.outer(c).map((k) => t.opposite[k]!));
      if (line.some((c) => band.has(t.face[c]!)) || line.every((c) => this.isEven(this.fan(c, beyond)))) continue;
      for (const f of band) this.bands.add(f);
    }
    return this.bands.size > before;
  }

  /** Whether a facet lies between a rim's edge, two edges that lead away from it, and facets beyond. */
  private isCell(c: number, after: number): boolean {
    const { m, t } = this;
    const f = t.face[c]!;
    if (m.faceLoops[f + 1]! - m.faceLoops[f]! > 1 || faceEnd(m, f) - faceBegin(m, f) < 4) return false;
    return t.opposite[t.next[c]!] === t.prev[after] && this.outer(c).every((k) => this.isSoft(k));
  }

  /** The edges of a cell away from the rim. */
  private outer(c: number): number[] {
    const { t } = this;
    const out: number[] = [];
    for (let k = t.next[t.next[c]!]!; k !== t.prev[c]; k = t.next[k]!) out.push(k);
    return out;
  }

  /** The facets that have a soft edge: others are surfaces by themselves. */
  private surface(): number[] {
    const { m } = this;
    const out: number[] = [];
    for (let f = 0; f + 1 < m.faceLoops.length; f++) {
      if (!this.may(f)) continue;
      let soft = false;
      for (let c = faceBegin(m, f); c < faceEnd(m, f) && !soft; c++) soft = this.isSoft(c);
      if (soft) out.push(f);
    }
    return out;
  }

  /** The angle of a face at a corner, degrees: more than 180 where it turns inward. */
  private angle(c: number): number {
    const { m, t, N } = this;
    const at = vertexPlace(m, m.corners[c]!);
    const [to, from] = [t.next[c]!, t.prev[c]!].map((x) => sub(vertexPlace(m, m.corners[x]!), at)) as unknown as [
      Vec3,
      Vec3,
    ];
    const f = 3 * t.face[c]!;
    const turn = Math.atan2(dot(cross(to, from), [N[f]!, N[f + 1]!, N[f + 2]!]), dot(to, from));
    return ((turn < 0 ? turn + 2 * Math.PI : turn) * 180) / Math.PI;
  }

  /**
   * The corners at a vertex of a boundary, from the one whose edge comes after the boundary's corner `c` on, to the one
   * whose edge goes on along the boundary. `within`: whether an edge is inside.
   */
  private fan(c: number, within: (corner: number) => boolean): number[] {
    const { t } = this;
    const out = [t.next[c]!];
    for (let k = out[0]!; within(k) && out.length < 100;) out.push((k = t.next[t.opposite[k]!]!));
    return out;
  }

  private loops(facets: Iterable<number>, within: (corner: number) => boolean): Loop[] {
    const { m } = this;
    const done = new Set<number>();
    const loops: Loop[] = [];
    for (const f of facets)
      for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
        if (within(c) || done.has(c)) continue;
        const loop: Loop = [];
        for (let k = c; !done.has(k); k = this.fan(k, within).at(-1)!) {
          done.add(k);
          loop.push(k);
        }
        loops.push(loop);
      }
    return loops;
  }

  /** Whether the facets at a vertex of a rim are those of rows and columns: two side by side, or one in a corner. */
  private isEven(fan: readonly number[]): boolean {
    const angles = fan.map((c) => this.angle(c));
    const sum = angles.reduce((a, b) => a + b);
    return fan.length < 4 && angles.every((a) => a > SHARP && a < BLUNT) && Math.abs(sum - 90 * fan.length) < 45;
  }

  /** Facets beside uneven rims, each with those that go with it. */
  seeds(): Map<number, Set<number>> {
    const { t } = this;
    const out = new Map<number, Set<number>>();
    const surface = this.surface();
    const rims = this.loops(surface, this.isSoft);
    const surfaceOf = this.surfaces(surface);
    const longest = new Map<number, number>();
    for (const rim of rims) {
      const k = surfaceOf.get(t.face[rim[0]!]!)!;
      longest.set(k, Math.max(longest.get(k) ?? 0, this.length(rim)));
    }
    for (const loop of rims) {
      const fans = loop.map((c) => this.fan(c, this.isSoft));
      const uneven = fans.map((fan) => !this.isEven(fan));
      const count = uneven.filter(Boolean).length;
      if (!count) continue;
      const short = this.length(loop) < SHORT * longest.get(surfaceOf.get(t.face[loop[0]!]!)!)!;
      const whole = short || count > UNEVEN * loop.length;
      const n = loop.length;
      let last = -1;
      for (let i = 0; i < n; i++) {
        if (!whole && !uneven[i] && !uneven[(i + 1) % n] && !uneven[(i + n - 1) % n]) {
          last = -1;
          continue;
        }
        for (const c of fans[i]!) {
          const f = t.face[c]!;
          if (!out.has(f)) out.set(f, new Set());
          if (last >= 0) {
            out.get(f)!.add(last);
            out.get(last)!.add(f);
          }
          last = f;
        }
      }
    }
    return out;
  }

  /** The first facet of the surface that each facet is of. */
  private surfaces(facets: readonly number[]): Map<number, number> {
    const { m, t } = this;
    const out = new Map<number, number>();
    for (const first of facets) {
      if (out.has(first)) continue;
      const own = new Set([first]);
      for (const f of own) {
        out.set(f, first);
        for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) if (this.isSoft(c)) own.add(t.face[t.opposite[c]!]!);
      }
    }
    return out;
  }

  /** Makes a lot larger until its outer boundary is a rectangle with room round the rims; null where that fails. */
  rectangle(seed: ReadonlySet<number>): RimLot | null {
    const { m, t } = this;
    const lot = new Set(seed);
    const within = (c: number) => this.isSoft(c) && lot.has(t.face[t.opposite[c]!]!);
    for (let round = 0; round < MOST_ROUNDS && lot.size < MOST_FACETS; round++) {
      const loops = this.loops(lot, within);
      const lengths = loops.map((loop) => this.length(loop));
      const outer = loops[lengths.indexOf(Math.max(...lengths))]!;
      const before = lot.size;
      for (const loop of loops)
        if (loop !== outer) for (const c of loop) if (this.isSoft(c)) lot.add(t.face[t.opposite[c]!]!);
      if (lot.size > before) continue;
      const angles = outer.map((c) => this.fan(c, within).reduce((s, k) => s + this.angle(k), 0));
      outer.forEach((c, i) => {
        const after = outer[(i + 1) % outer.length]!;
        if (angles[i]! <= INWARD) return;
        for (const k of [c, after]) if (this.isSoft(k)) lot.add(t.face[t.opposite[k]!]!);
      });
      if (lot.size > before) continue;
      const turns = [...angles.keys()].filter((i) => angles[i]! < CORNER);
      if (turns.length !== 4 || angles.some((a) => a > INWARD)) return null;
      // Angle i is at the end of edge i: sides begin after corners.
      const n = outer.length;
      const first = turns[0]! + 1;
      const edges = Array.from({ length: n }, (_, i) => outer[(first + i) % n]!);
      const corners = turns.map((i) => (i + 1 - first + n) % n).sort((a, b) => a - b);
      const rims = loops.filter((l) => l !== outer);
      if (!rims.length) return null;
      const sides = corners.map((at, k) => edges.slice(at, corners[k + 1] ?? n));
      for (const side of sides)
        if (side.every((c) => this.isSoft(c)) && this.isNear(side, rims))
          for (const c of side) lot.add(t.face[t.opposite[c]!]!);
      if (lot.size > before) continue;
      return { facets: [...lot].sort((a, b) => a - b), outline: edges.map((c) => m.corners[c]!), corners };
    }
    return null;
  }

  private length(loop: Loop): number {
    const { m, t } = this;
    return loop.reduce(
      (s, c) => s + lengthOf(sub(vertexPlace(m, m.corners[t.next[c]!]!), vertexPlace(m, m.corners[c]!))),
      0,
    );
  }

  /** Whether a side of a lot is too near to a rim for quads between. */
  private isNear(side: Loop, rims: readonly Loop[]): boolean {
    const { m, t } = this;
    const ends = side.map((c) => [vertexPlace(m, m.corners[c]!), vertexPlace(m, m.corners[t.next[c]!]!)] as const);
    // How wide the next row is: along the edges that lead on from the side.
    const next = this.length(side.map((c) => t.next[t.opposite[c]!]!)) / side.length;
    return rims.some((rim) => {
      const half = this.length(rim) / (2 * Math.PI);
      const least = half * (next > LEAST_GAP * half ? LEAST_GAP_BY_WIDE_ROWS : LEAST_GAP);
      return rim.some((c) => {
        const p = vertexPlace(m, m.corners[c]!);
        return ends.some(([a, b]) => nearestOn(p, a, b).distance < least);
      });
    });
  }
}
