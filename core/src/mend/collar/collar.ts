import {
  checkCancelled,
  lengthOf,
  MasonError,
  segmentsMeet,
  sizeOf,
  sub,
  Surface,
  topologyOf,
  type NewCorner,
  type NewFace,
  type OpContext,
  type PolyMesh,
  type Vec3,
  type OpResult,
} from '../../mesh/index.ts';
import { corner, MeshEdit } from '../meshEdit.ts';
import { NoBand, partAlong, type Laid } from './layBand.ts';
import { sidesOf, type Side } from './lineSides.ts';
import { aimSpokes, edgesAcross, graded, walkSpokes, type BandWish, type Manner, type Walks } from './spokes.ts';
import type { EdgesOptions } from '../operands.ts';

export interface CollarOptions extends Partial<BandWish>, EdgesOptions {
  /** Which sides of the edges get a band: of a cut the part's own surface, or the walls that the cut made. */
  sides?: 'both' | 'surface' | 'walls';
}

export interface CollarReport {
  /** Sides that got a band, and those that found no room; with their places, mm. */
  bands: number;
  none: Vec3[];
  quads: number;
  /** The narrowest band, mm, and where. */
  narrowest: number;
  at: Vec3 | null;
  /** Spokes narrower than the width asked for. */
  narrowed: number;
  /** Faces and edges that went altogether under bands. */
  swallowed: number;
  under: number;
  /** Edges of runs that do not close, which have no band. */
  ends: number;
}

/** Ways to try it, one after the other, until the band is nowhere narrower than `ENOUGH` of what there is room for. */
const MANNERS: readonly Manner[] = [
  { snap: 0.08, smooth: 0 },
  { snap: 0.08, smooth: 0.6 },
  { snap: 0.02, smooth: 1 },
  { snap: 0, smooth: 1.5 },
];
/** A band this share as wide as the room at its narrowest is good: no other way is tried. */
const ENOUGH_WIDTH = 0.95;
/** Tries, each with the faulty spokes narrower by this share. */
const [MOST_TRIES, NARROWER] = [16, 0.72];
/** A band narrower than this share of the width asked for is left out. */
const USELESS = 0.02;
/** Edges where the surface bends by more (degrees) end a band. */
const BEND = 35;
/** Faces with more corners are not searched for crossings: they are flats, and edges do not move in them. */
const MOST_LOOKED_AT = 200;
/** The band's area is that of what goes under it, but for this share. */
const AREA = 0.25;

/** What is taken where an option is left out. */
export const COLLAR_DEFAULTS: Required<Pick<CollarOptions, 'width' | 'rows' | 'aim' | 'shift' | 'sides'>> = {
  width: 5,
  rows: 2,
  aim: 'square',
  shift: 0,
  sides: 'both',
};

/**
 * Lays a band of quads along each side of some edges (by one corner each): spokes from the line's vertices over the
 * surface that is there, rows between them, what lies beneath taken out and what lies beyond tied to it. The line keeps
 * its vertices. A band narrows where there is no room.
 *
 * @example
 * const { mesh: plate } = carve(box(100, 60, 20), { cutters: [cylinder(8, 40, 24)], operation: 'subtract' });
 * const { mesh } = collar(plate, { edges: seamEdges(plate), width: 3, sides: 'surface' });
 */
export function collar(m: PolyMesh, options: CollarOptions, ctx?: OpContext): OpResult<CollarReport> {
  const { edges, ...wish } = { ...COLLAR_DEFAULTS, ...options };
  const report: CollarReport = {
    bands: 0,
    none: [],
    quads: 0,
    narrowest: Infinity,
    at: null,
    narrowed: 0,
    swallowed: 0,
    under: 0,
    ends: 0,
  };
  let mesh = m;
  const t = topologyOf(m);
  const picked = [...edges].filter((c) => t.opposite[c]! >= 0);
  const found = sidesOf(t, picked);
  report.ends = found.ends;
  // Known again by their ends, whose numbers each round hands on.
  const pair = (x: PolyMesh, c: number): [number, number] => [x.corners[c]!, x.corners[topologyOf(x).next[c]!]!];
  let lines = picked.map((c) => pair(m, c));
  let todo = found.sides
    .filter((side) => wish.sides === 'both' || isWall(m, side) === (wish.sides === 'walls'))
    .map((side) => side.along.map((c) => pair(m, c)));
  if (!todo.length)
    throw new MasonError(
      'bad-input',
      report.ends
        ? 'The picked edges are no run that closes. Pick a whole loop: the seam of a cut, or the border of some faces.'
        : 'None of the sides that are asked for is there. Ask for both sides.',
    );
  const all = todo.length;
  while (todo.length) {
    ctx?.progress?.(1 - todo.length / all, 'Bands');
    const round = new Round(mesh, lines, wish);
    const later: typeof todo = [];
    for (const side of todo) {
      checkCancelled(ctx);
      if (round.lay(side, report) === 'later') later.push(side);
    }
    const next = round.done();
    mesh = next.mesh;
    const moved = (list: readonly (readonly [number, number])[]) =>
      list.map(([a, b]): [number, number] => [next.numbers[a]!, next.numbers[b]!]);
    lines = moved([...lines, ...round.outer]);
    todo = later.map(moved);
  }
  if (!report.bands)
    throw new MasonError(
      'not-done',
      'There is no room for a band on any side. Type a smaller width, or pick other edges.',
      { point: report.none[0] },
    );
  return { mesh, report };
}

/** Whether the faces of a side are walls that the cut of its edges made. */
function isWall(m: PolyMesh, side: Side): boolean {
  const { face } = topologyOf(m);
  const { seam, source } = m.layers;
  const walls = side.along.filter((c) => seam?.[c] && source?.[3 * face[c]! + 2] === seam[c]);
  return 2 * walls.length > side.along.length;
}

/** Bands that are laid in one mesh: those whose faces do not touch each other. */
class Round {
  private readonly surface: Surface;
  private readonly edit: MeshEdit;
  private readonly touched = new Set<number>();
  private readonly corners = new Map<string, number>();
  /** Outer edges of the bands, by their ends: lines that later bands keep away from. */
  readonly outer: [number, number][] = [];

  constructor(
    readonly mesh: PolyMesh,
    private readonly lines: readonly (readonly [number, number])[],
    private readonly wish: BandWish,
  ) {
    this.edit = new MeshEdit(mesh);
    const t = this.edit.topology;
    const ends = new Set(lines.flat());
    for (let c = 0; c < mesh.corners.length; c++)
      if (ends.has(mesh.corners[c]!)) this.corners.set(`${mesh.corners[c]!},${mesh.corners[t.next[c]!]!}`, c);
    const held = new Uint8Array(t.edgeCount);
    for (const [a, b] of lines) held[t.edge[this.corner(a, b)]!] = 1;
    mesh.layers.seam?.forEach((course, c) => course && (held[t.edge[c]!] = 1));
    this.surface = new Surface(mesh, (edge) => held[edge] === 1, BEND);
  }

  private corner(a: number, b: number): number {
    const c = this.corners.get(`${a},${b}`) ?? this.corners.get(`${b},${a}`);
    if (c === undefined) throw new RangeError('a line has lost an edge');
    return c;
  }

  /** Lays the band of a side, where there is room; later, where another one of this round is in its way. */
  lay(pairs: readonly (readonly [number, number])[], report: CollarReport): 'laid' | 'none' | 'later' {
    const { edit: e, surface: s, wish } = this;
    const mine = new Set(pairs.map(([a, b]) => this.corners.get(`${a},${b}`)));
    const sides = sidesOf(
      e.topology,
      this.lines.map(([a, b]) => this.corner(a, b)),
    ).sides;
    const side = sides.find((x) => mine.has(x.along[0]!));
    if (!side) throw new RangeError('a side has lost its line');
    if (side.along.some((c) => this.touched.has(e.topology.face[c]!))) return 'later';
    const opposite =
      wish.aim === 'across'
        ? sides.filter((x) => x !== side && x.along.some((c) => mine.has(e.topology.opposite[c]!)))
        : [];
    const across = new Map(opposite.flatMap((x) => [...edgesAcross(s, x)]));
    let best: Band | null = null;
    for (const manner of MANNERS) {
      const band = this.fitted(side, across, manner);
      if (band && (!best || band.least > best.least)) best = band;
      if (best && best.least >= ENOUGH_WIDTH * best.room) break;
    }
    if (!best) {
      report.none.push(e.at(pairs[0]![0]));
      return 'none';
    }
    const faces = [...best.laid.swallowed, ...best.laid.kept.keys()];
    if (faces.some((f) => this.touched.has(f))) return 'later';
    for (const f of faces) this.touched.add(f);
    this.put(side, best, report);
    return 'laid';
  }

  /** The widest band that one manner comes to; null where there is none. */
  private fitted(side: Side, across: ReadonlyMap<number, number>, manner: Manner): Band | null {
    const { surface: s, wish, edit: e } = this;
    const n = side.along.length;
    const spokes = aimSpokes(s, side, across, wish, manner);
    const edges = side.along.map((c, i) =>
      lengthOf(sub(s.at(this.mesh.corners[side.along[(i + 1) % n]!]!), s.at(this.mesh.corners[c]!))),
    );
    let widths = graded(spokes.room, edges);
    const room = widths.reduce((a, b) => Math.min(a, b));
    for (let i = 0; i < MOST_TRIES; i++) {
      const least = widths.reduce((a, b) => Math.min(a, b));
      if (!(least > USELESS * wish.width)) return null;
      const r = walkSpokes(s, side, spokes, widths, wish.rows, manner.snap);
      let culprits: Iterable<number>;
      if ('walks' in r) {
        const { walks } = r;
        const ends = walks.rows.map((list) =>
          list.at(-1)!.vertex >= 0 ? list.at(-1)!.vertex : e.vertex(list.at(-1)!.point),
        );
        try {
          const laid = partAlong(e, side, { ends, spots: walks.rows.map((list) => list.at(-1)!), links: walks.links });
          const columns = this.columns(side, walks, ends);
          const crossing = this.crossing(laid, ends);
          if (!crossing.length && this.covers(laid, columns)) return { laid, columns, widths, least, room };
          culprits = crossing.length ? crossing : widths.keys();
        } catch (why) {
          if (!(why instanceof NoBand)) throw why;
          culprits = why.culprits.length ? why.culprits : widths.keys();
        }
      } else culprits = r.culprits;
      const shrunk = [...widths];
      for (const k of culprits) shrunk[k]! *= NARROWER;
      widths = graded(shrunk, edges);
    }
    return null;
  }

  /** Vertices of each spoke, from the line outward. */
  private columns(side: Side, walks: Walks, ends: readonly number[]): number[][] {
    return side.along.map((c, i) => [
      this.mesh.corners[c]!,
      ...walks.rows[i]!.slice(0, -1).map((x) => (x.vertex >= 0 ? x.vertex : this.edit.vertex(x.point))),
      ends[i]!,
    ]);
  }

  /** Ends at faces whose boundaries would cross once edges that the line crosses end at them. */
  private crossing({ kept }: Laid, ends: readonly number[]): number[] {
    const at = new Map(ends.map((v, i) => [v, i]));
    const bad = new Set<number>();
    for (const [f, faces] of kept)
      for (const { boundaries } of faces) {
        const corners = boundaries.flat();
        // Where nothing but ends is new, as in a flat with a hole, there is nothing to cross.
        if (corners.length > MOST_LOOKED_AT) continue;
        if (!this.crosses(f, boundaries)) continue;
        for (const c of corners) if (at.has(c.vertex)) bad.add(at.get(c.vertex)!);
      }
    return [...bad];
  }

  /**
   * Whether sides of boundaries meet, in the plane of their face or in that of the rest of it: where the line goes
   * over bends the two differ.
   */
  private crosses(f: number, boundaries: readonly (readonly NewCorner[])[]): boolean {
    const { edit: e } = this;
    return [boundaries.map((loop) => e.flat(f, loop)), e.flatBoundaries(boundaries)].some((rings) => {
      const sides = boundaries.flatMap((loop, l) =>
        loop.map((c, i) => {
          const k = (i + 1) % loop.length;
          return { a: rings[l]![i]!, b: rings[l]![k]!, ends: [c.vertex, loop[k]!.vertex] };
        }),
      );
      const meets = (x: (typeof sides)[0], y: (typeof sides)[0]) =>
        !x.ends.some((v) => y.ends.includes(v)) && segmentsMeet(x.a, x.b, y.a, y.b, 0);
      return sides.some((x, i) => sides.slice(i + 1).some((y) => meets(x, y)));
    });
  }

  /** Whether the band is as large as what goes under it: else it lies elsewhere, or twice over itself. */
  private covers(laid: Laid, columns: readonly number[][]): boolean {
    const { edit: e } = this;
    const area = (f: number, boundaries: readonly (readonly NewCorner[])[]) =>
      boundaries.reduce((sum, loop) => {
        const p = e.flat(f, loop);
        return (
          sum + p.reduce((a, [x, y], i) => a + (x * p[(i + 1) % p.length]![1] - y * p[(i + 1) % p.length]![0]) / 2, 0)
        );
      }, 0);
    const under = [
      ...laid.swallowed.map((f) => area(f, e.boundaries(f))),
      ...[...laid.kept].map(
        ([f, faces]) => area(f, e.boundaries(f)) - faces.reduce((sum, x) => sum + area(f, x.boundaries), 0),
      ),
    ].reduce((a, b) => a + b, 0);
    let band = 0;
    for (let i = 0; i < columns.length; i++) {
      const [a, b] = [columns[i]!, columns[(i + 1) % columns.length]!];
      for (let k = 0; k + 1 < a.length; k++) band += quadArea([a[k]!, b[k]!, b[k + 1]!, a[k + 1]!].map((v) => e.at(v)));
    }
    return Math.abs(band - under) <= AREA * Math.max(band, under);
  }

  /** Puts a band in. */
  private put(side: Side, { laid, columns, widths }: Band, report: CollarReport): void {
    const { edit: e, wish } = this;
    const n = columns.length;
    const rows: NewFace[] = [];
    columns.forEach((a, i) => {
      const b = columns[(i + 1) % n]!;
      const c = side.along[i]!;
      for (let k = 0; k < wish.rows; k++)
        rows.push({
          from: e.topology.face[c]!,
          boundaries: [[corner(a[k]!, k ? -1 : c), corner(b[k]!), corner(b[k + 1]!), corner(a[k + 1]!)]],
        });
      this.outer.push([a.at(-1)!, b.at(-1)!]);
    });
    for (const f of laid.swallowed) e.remove(f);
    for (const [f, faces] of laid.kept) e.replace(f, faces);
    // In the place of the first face of the side: faces of new surface would lose what they take after.
    const home = e.topology.face[side.along[0]!]!;
    e.replace(home, [...(laid.kept.get(home) ?? []), ...rows]);
    report.bands++;
    report.quads += rows.length;
    report.swallowed += laid.swallowed.length;
    report.under += laid.edges;
    widths.forEach((w, i) => {
      if (w < (1 - 1e-9) * wish.width) report.narrowed++;
      if (w < report.narrowest) [report.narrowest, report.at] = [w, e.at(columns[i]![0]!)];
    });
  }

  /** The mesh with the bands of this round, and the numbers of its vertices. */
  done(): { mesh: PolyMesh; numbers: Int32Array } {
    const mesh = this.edit.done();
    withoutLostPlanes(mesh);
    return { mesh, numbers: this.edit.numbers };
  }
}

interface Band {
  laid: Laid;
  columns: number[][];
  widths: number[];
  /** The narrowest width, and the narrowest that there was room for, mm. */
  least: number;
  room: number;
}

const quadArea = (p: readonly Vec3[]): number => {
  const [u, v] = [sub(p[2]!, p[0]!), sub(p[3]!, p[1]!)];
  return lengthOf([u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]]) / 2;
};

/** Places off a plane by less than this share of the size are on it. */
const ON_PLANE = 1e-9;

/** Takes from faces the planes that their corners do not lie on any more. */
function withoutLostPlanes(m: PolyMesh): void {
  const { plane } = m.layers;
  if (!plane) return;
  const near = ON_PLANE * sizeOf(m);
  for (let f = 0; f + 1 < m.faceLoops.length; f++) {
    const L = plane.subarray(6 * f, 6 * f + 6);
    for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++) {
      const v = 3 * m.corners[c]!;
      const off = [0, 1, 2].reduce((sum, k) => sum + L[k]! * (m.positions[v + k]! - L[3 + k]!), 0);
      if (Math.abs(off) > near) {
        L.fill(NaN);
        break;
      }
    }
  }
}
