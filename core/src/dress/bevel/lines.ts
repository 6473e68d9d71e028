import { add, lengthOf, sub, topologyOf, type PolyMesh, type Spot, type Vec3 } from '../../mesh/index.ts';
import { FlatWays } from './flatWays.ts';
import { RAIL, ROUNDED, type GroupLoop } from './bevelLoops.ts';
import type { BevelNode, Nodes, Trouble } from './nodes.ts';
import { sideAt } from './rolling.ts';
import { offsetLoop, type OffsetVertex } from './offset.ts';

/**
 * A line beside an edge, or a part of a round join: its nodes, the face that each stretch of it runs in (−1 along an
 * edge), and how far along each node is, 0 to 1.
 */
export interface OffsetLine {
  nodes: BevelNode[];
  faces: number[];
  shares: number[];
}

/**
 * What is asked for: per edge how wide (mm, along the faces), per vertex which share of that, and into how many parts a
 * rounding is divided.
 */
export interface BevelAim {
  role: Uint8Array;
  width: Float64Array;
  share: Float64Array;
  segments: number;
  /** The bands stay on the faces, and the edges where they are: two parts in each row, the edge between. */
  holds: boolean;
  /** Corners of the inside are not gone round, but for those that are nearly a turn. */
  mitre: boolean;
  /**
   * Where it is known how far a ball touches at the ends of edges (see `sideAt`), mm, that counts in place of the
   * width, times the scale.
   */
  rolled: ReadonlyMap<number, number> | null;
  scale: number;
}

/** Inside corners above this angle (radians, 230°) are rounded at one distance. */
const ROUND_JOIN = (230 * Math.PI) / 180;
/** Above this they are rounded even where mitres are asked for: a mitre would stand out without end. */
const ALWAYS_ROUND = (320 * Math.PI) / 180;
/** A rail that an edge meets at less than this (sine) leads on from it: the strip runs out to a point there. */
const OBLIQUE = 0.17;
/** Bearings beyond a sector by less (radians) are rounding. */
const HAIR = 1e-6;

/** All lines of a bevel: what remains of the faces ends at them, and the strips lie between them. */
export class Lines {
  /** By the corner of each rounded edge or rail: the line beside it; one node only where its side is used up. */
  readonly beside = new Map<number, OffsetLine>();
  /**
   * By the corner that leaves along the boundary: the nodes of its sector, from the side that comes in to the one that
   * leaves.
   */
  readonly sectors = new Map<number, BevelNode[]>();
  /** Stretches of round joins and of caps. */
  readonly joins: OffsetLine[] = [];
  /** Each boundary once round: nodes, and the face that leads on from each. */
  readonly rounds: { node: BevelNode; face: number }[][] = [];
  readonly troubles: Trouble[] = [];
  private readonly ways: FlatWays;
  /** On rails, by edge and end: where the strip ends. */
  private readonly slides = new Map<number, BevelNode>();

  constructor(
    private readonly nodes: Nodes,
    private readonly aim: BevelAim,
    private readonly loops: readonly GroupLoop[],
  ) {
    this.ways = new FlatWays(nodes.surface, (f) => nodes.level(f));
    this.slideOnRails();
  }

  private get mesh() {
    return this.nodes.mesh;
  }

  /** The role of a side, and how far its line goes in at a vertex. */
  private role(c: number): number {
    return topologyOf(this.mesh).opposite[c]! < 0 ? RAIL : this.aim.role[topologyOf(this.mesh).edge[c]!]!;
  }

  private width(c: number, v: number): number {
    if (this.role(c) !== ROUNDED) return 0;
    const touch = this.aim.rolled?.get(sideAt(c, this.mesh.corners[c] === v));
    const width = touch === undefined ? this.aim.width[topologyOf(this.mesh).edge[c]!]! : touch * this.aim.scale;
    return width * this.aim.share[v]!;
  }

  private at(v: number): Vec3 {
    return this.nodes.surface.at(v);
  }

  private length(c: number): number {
    const { corners } = this.mesh;
    return lengthOf(sub(this.at(corners[topologyOf(this.mesh).next[c]!]!), this.at(corners[c]!)));
  }

  private slideKey(c: number, v: number): number {
    const t = topologyOf(this.mesh);
    const e = t.edge[c]!;
    return 2 * e + (this.mesh.corners[t.edgeCorner[e]!] === v ? 0 : 1);
  }

  /** Where strips end on rails: as far from the vertex as the sectors on both sides of the rail say, in the mean. */
  private slideOnRails(): void {
    const t = topologyOf(this.mesh);
    const wished = new Map<number, { c: number; v: number; all: number[] }>();
    for (const loop of this.loops)
      loop.sides.forEach((out, i) => {
        const v = this.mesh.corners[out]!;
        const come = loop.sides.at(i - 1)!;
        const [w, rail] = this.role(come) === ROUNDED ? [this.width(come, v), out] : [this.width(out, v), come];
        if (this.role(rail) !== RAIL || !(w > 0)) return;
        const key = this.slideKey(rail, v);
        const entry = wished.get(key) ?? { c: rail, v, all: [] };
        entry.all.push(w / Math.sin(loop.angles[i]!));
        wished.set(key, entry);
      });
    for (const [key, { c, v, all }] of wished) {
      const far = all.reduce((s, x) => s + x, 0) / all.length;
      const length = this.length(c);
      if (!(far > 0 && far < length)) {
        this.troubles.push({ what: 'used up', at: this.at(v), vertices: [v] });
        continue;
      }
      const share = far / length;
      const at = this.mesh.corners[c] === v ? share : 1 - share;
      const [a, b] = [this.at(this.mesh.corners[c]!), this.at(this.mesh.corners[t.next[c]!]!)];
      const spot: Spot = { point: add(a, sub(b, a), at), vertex: -1, corner: c, share: at, triangle: -1 };
      this.slides.set(key, this.nodes.node(spot, [v], true));
    }
  }

  /**
   * Draws all lines; what stands in their way goes into `troubles`. `caps` gives the nodes of a sector between two
   * rails.
   */
  draw(caps: (sector: number, come: BevelNode | undefined, leave: BevelNode | undefined) => BevelNode[]): void {
    for (const loop of this.loops) this.drawLoop(loop, caps);
  }

  private drawLoop(loop: GroupLoop, caps: Parameters<Lines['draw']>[0]): void {
    const n = loop.sides.length;
    const vertices: OffsetVertex[] = [];
    /** For each vertex of the offset: the sector that it belongs to, and by how much its bearings are turned. */
    const of: { sector: number; turned: number }[] = [];
    loop.sides.forEach((out, i) => {
      const v = this.mesh.corners[out]!;
      const come = loop.sides[(i + n - 1) % n]!;
      const angle = loop.angles[i]! || Math.PI;
      const [before, after] = [this.width(come, v), this.width(out, v)];
      const firm = this.role(come) === RAIL || this.role(out) === RAIL;
      const length = this.length(out);
      const joins =
        !firm && before > 0 && after > 0 && angle > (this.aim.mitre ? ALWAYS_ROUND : ROUND_JOIN)
          ? this.aim.segments
          : 0;
      const each = (angle + joins * Math.PI) / (joins + 1);
      for (let k = 0; k <= joins; k++) {
        vertices.push({
          angle: each,
          before: k ? after : before,
          after,
          length: k < joins ? 0 : length,
          firm,
        });
        of.push({ sector: i, turned: (joins - k) * (each - Math.PI) });
      }
    });
    const offset = offsetLoop(vertices);
    if ('usedUp' in offset) {
      const all = [...new Set(offset.usedUp.map((k) => this.mesh.corners[loop.sides[of[k]!.sector]!]!))];
      this.troubles.push({ what: 'used up', at: this.at(all[0]!), vertices: all });
      return;
    }
    const paths: BevelNode[][] = loop.sides.map(() => []);
    const nodeAt: BevelNode[] = [];
    let failed = false;
    for (const { first, count, from, bearing, distance } of offset.landings) {
      const { sector, turned } = of[from]!;
      const run = [
        ...new Set(
          Array.from({ length: count }, (_, k) => this.mesh.corners[loop.sides[of[(first + k) % of.length]!.sector]!]!),
        ),
      ];
      const node = this.land(loop, sector, bearing + turned, distance, run, count === 1, caps);
      if (!node) {
        failed = true;
        continue;
      }
      if (node.length > 1) paths[sector] = node;
      for (let k = 0; k < count; k++) nodeAt[(first + k) % of.length] = node.at(-1)!;
    }
    if (failed) return;
    of.forEach(({ sector }, k) => {
      if (paths[sector]!.length < 2 || vertices[k]!.firm === false) paths[sector]!.push(nodeAt[k]!);
    });
    loop.sides.forEach((c, i) => this.sectors.set(c, paths[i]!));
    this.join(loop, paths, of, offset.left);
  }

  /** The end of a sector's vertex: one node, or the nodes of a cap. */
  private land(
    loop: GroupLoop,
    i: number,
    bearing: number,
    distance: number,
    run: readonly number[],
    alone: boolean,
    caps: Parameters<Lines['draw']>[0],
  ): BevelNode[] | null {
    const out = loop.sides[i]!;
    const come = loop.sides.at(i - 1)!;
    const v = this.mesh.corners[out]!;
    const [slideIn, slideOut] = [come, out].map((c) =>
      this.role(c) === RAIL ? this.slides.get(this.slideKey(c, v)) : undefined,
    );
    if (this.role(come) === RAIL && this.role(out) === RAIL && (slideIn || slideOut))
      return caps(out, slideIn, slideOut);
    const slide = slideIn ?? slideOut;
    if (slide) return [slide];
    const here: Spot = { point: this.at(v), vertex: v, corner: -1, share: 0, triangle: -1 };
    if (!(distance > this.nodes.surface.tolerance)) return [this.nodes.node(here, [v], true)];
    const turn = 2 * Math.PI;
    const b = ((bearing % turn) + turn + HAIR) % turn;
    const sum = loop.angles[i]!;
    if (b > sum + 2 * HAIR) return this.stuck('in the way', v, run);
    const fan = loop.fans[i]!;
    const spot =
      this.ways.from(fan, Math.max(0, b - HAIR), distance) ??
      this.nodes.surface.walk(this.nodes.surface.fan(fan), Math.max(0, b - HAIR), [distance]).spots[0];
    if (!spot || spot.vertex === v) return this.stuck('in the way', v, run);
    const t = topologyOf(this.mesh);
    const faces = this.nodes.surface.facesOf(spot);
    const plain = alone && faces.every((f) => this.nodes.flat(f)) && fan.some((c) => faces.includes(t.face[c]!));
    return [this.nodes.node(spot, run, plain)];
  }

  private stuck(what: Trouble['what'], v: number, run: readonly number[]): null {
    this.troubles.push({ what, at: this.at(v), vertices: run });
    return null;
  }

  /** Draws the lines from sector to sector, and those within round joins and caps, and notes the whole round. */
  private join(loop: GroupLoop, paths: BevelNode[][], of: readonly { sector: number }[], left: readonly boolean[]) {
    const t = topologyOf(this.mesh);
    const n = loop.sides.length;
    const round: { node: BevelNode; face: number }[] = [];
    const last = (i: number) => of.findLastIndex((x) => x.sector === i);
    loop.sides.forEach((c, i) => {
      const path = paths[i]!;
      for (let k = 0; k + 1 < path.length; k++) {
        const [a, b] = [path[k]!, path[k + 1]!];
        if (a === b) continue;
        const line = this.alongEdge(a, b) ?? this.inOneFace(a, b, loop, i) ?? this.draught(a, b);
        if (!line) continue;
        this.joins.push(line);
        this.note(round, line);
      }
      const [a, b] = [path.at(-1)!, paths[(i + 1) % n]![0]!];
      if (!left[last(i)] || a === b) {
        this.beside.set(c, { nodes: [a], faces: [], shares: [0] });
        return;
      }
      const line = this.role(c) === RAIL ? { nodes: [a, b], faces: [t.face[c]!], shares: [0, 1] } : this.draught(a, b);
      if (!line) return;
      this.beside.set(c, line);
      this.note(round, line);
    });
    this.rounds.push(round);
  }

  private note(round: { node: BevelNode; face: number }[], line: OffsetLine): void {
    line.faces.forEach((face, k) => round.push({ node: line.nodes[k]!, face }));
  }

  /** Two nodes on the same rail, or a rail's end: nothing is drawn, the edge itself joins them. */
  private alongEdge(a: BevelNode, b: BevelNode): OffsetLine | null {
    const t = topologyOf(this.mesh);
    const on = (x: BevelNode) => (x.spot.corner >= 0 ? t.edge[x.spot.corner]! : -1);
    const e = on(a) >= 0 ? on(a) : on(b);
    if (e < 0 || (this.aim.role[e] !== RAIL && t.opposite[t.edgeCorner[e]!]! >= 0)) return null;
    const c = t.edgeCorner[e]!;
    const ends = [this.mesh.corners[c], this.mesh.corners[t.next[c]!]];
    const lies = (x: BevelNode) => on(x) === e || ends.includes(x.spot.vertex);
    if (!lies(a) || !lies(b)) return null;
    const faces = [t.face[c]!, t.opposite[c]! < 0 ? -1 : t.face[t.opposite[c]!]!];
    const way = (x: BevelNode) =>
      on(x) === e ? (x.spot.corner === c ? x.spot.share : 1 - x.spot.share) : ends[0] === x.spot.vertex ? 0 : 1;
    return { nodes: [a, b], faces: [way(b) > way(a) ? faces[0]! : faces[1]!], shares: [0, 1] };
  }

  /** A stretch of a cap in the one face that it closes. */
  private inOneFace(a: BevelNode, b: BevelNode, loop: GroupLoop, i: number): OffsetLine | null {
    const come = loop.sides.at(i - 1)!;
    if (this.role(come) !== RAIL || this.role(loop.sides[i]!) !== RAIL) return null;
    return { nodes: [a, b], faces: [topologyOf(this.mesh).face[loop.sides[i]!]!], shares: [0, 1] };
  }

  /**
   * The straightest line between two nodes over the faces: in the plane through both and along the mean of their
   * normals.
   */
  private draught(a: BevelNode, b: BevelNode): OffsetLine | null {
    const faces = this.nodes.surface.facesOf(b.spot);
    const shared = this.nodes.surface
      .facesOf(a.spot)
      .find((f) => faces.includes(f) && this.nodes.level(f) && this.ways.clear(f, a.at, b.at));
    if (shared !== undefined && a.spot.vertex < 0 && b.spot.vertex < 0)
      return { nodes: [a, b], faces: [shared], shares: [0, 1] };
    return this.section(a, b);
  }

  private section(a: BevelNode, b: BevelNode): OffsetLine | null {
    const { surface } = this.nodes;
    const up = add(a.normal, b.normal);
    // A way from a place right beside an edge may fail, and yet the way back succeed.
    const passes =
      surface.section(a.spot, b.spot, up) ??
      surface
        .section(b.spot, a.spot, up)
        ?.reverse()
        .map(({ face, from, to }) => ({ face, from: to, to: from }));
    if (!passes) {
      this.troubles.push({ what: 'in the way', at: a.at, vertices: [...a.of, ...b.of] });
      return null;
    }
    const of = [...new Set([...a.of, ...b.of])];
    const nodes = [a];
    const faces: number[] = [];
    passes.forEach((p, k) => {
      faces.push(p.face);
      nodes.push(k + 1 < passes.length ? this.nodes.node(p.to, of, false) : b);
    });
    const lengths = [0];
    for (let k = 1; k < nodes.length; k++)
      lengths.push(lengths[k - 1]! + lengthOf(sub(nodes[k]!.at, nodes[k - 1]!.at)));
    return { nodes, faces, shares: lengths.map((x) => x / (lengths.at(-1)! || 1)) };
  }
}

/**
 * Vertices at which strips run out to a point: where a rounded edge ends within a surface, or where a rail leads on
 * from it.
 */
export function pointedEnds(loops: readonly GroupLoop[], m: PolyMesh, role: (corner: number) => number): Set<number> {
  const t = topologyOf(m);
  const out = new Set<number>();
  const edges = new Map<number, Map<number, number>>();
  for (const loop of loops)
    loop.sides.forEach((c, i) => {
      const come = loop.sides.at(i - 1)!;
      const v = m.corners[c]!;
      const here = edges.get(v) ?? new Map<number, number>();
      for (const x of [c, come]) here.set(t.edge[x]!, role(x));
      edges.set(v, here);
      if (role(c) === ROUNDED && t.opposite[come] === c) out.add(v);
      if (role(c) !== role(come) && Math.abs(Math.sin(loop.angles[i]!)) < OBLIQUE) out.add(v);
    });
  for (const [v, here] of edges) {
    const rounded = [...here.values()].filter((r) => r === ROUNDED).length;
    if (rounded === 1 && here.size === 2) out.add(v);
  }
  return out;
}
