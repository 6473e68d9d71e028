import { add, cross, dot, lengthOf, scaled, sub, topologyOf, unit, type Vec3 } from '../../mesh/index.ts';
import { ROUNDED, type GroupLoop } from './bevelLoops.ts';
import type { BevelAim, Lines, OffsetLine } from './lines.ts';
import type { BevelNode, Nodes } from './nodes.ts';
import { fairPatch, patchGrid } from './cornerPatch.ts';
import { turnedNormals, type Row, type Rows } from './rows.ts';
import { turnAt } from './widths.ts';

/** A new face: its vertices, the normal that light sees at each, and the old face whose slot and UVs it takes. */
export interface MadeFace {
  boundary: number[];
  normals: Vec3[];
  from: number;
  of: readonly number[];
  kind: 'strip' | 'corner';
  /** For each of its edges the old corner along whose edge it runs, −1 for none. */
  edges: number[];
}

/** Places along a line nearer than this share of it are one. */
const ONE_PLACE = 1e-9;
/** A ball that touches all strips of a corner is one when its middles agree to this share of the width. */
const ONE_BALL = 1e-6;

/** The strips of all rounded edges and what lies between them at corners. */
export class Strips {
  readonly faces: MadeFace[] = [];
  /** Rows at vertices, by the corner that leaves along the edge: from its right side to its left. */
  private readonly ends = new Map<number, Row>();
  private readonly roundedAt = new Map<number, number[]>();
  private readonly severalAt = new Set<number>();

  constructor(
    private readonly nodes: Nodes,
    private readonly aim: BevelAim,
    private readonly lines: Lines,
    private readonly rows: Rows,
  ) {
    const m = nodes.mesh;
    const t = topologyOf(m);
    for (let c = 0; c < m.corners.length; c++)
      if (this.rounded(c)) {
        const list = this.roundedAt.get(m.corners[c]!);
        if (list) list.push(c);
        else this.roundedAt.set(m.corners[c]!, [c]);
      }
    for (const [c, path] of lines.sectors) if (path.length > 1) this.severalAt.add(m.corners[c]!);
    for (const c of t.edgeCorner) if (this.rounded(c)) this.strip(c);
  }

  private get mesh() {
    return this.nodes.mesh;
  }

  private rounded(c: number): boolean {
    const t = topologyOf(this.mesh);
    return t.opposite[c]! >= 0 && this.aim.role[t.edge[c]!] === ROUNDED;
  }

  /** The angle by which the surface turns over an edge, radians; negative in a hollow. */
  private turn(c: number): number {
    return turnAt(this.mesh, this.nodes.surface, c);
  }

  private way(c: number): Vec3 {
    const { corners } = this.mesh;
    return unit(
      sub(this.nodes.surface.at(corners[topologyOf(this.mesh).next[c]!]!), this.nodes.surface.at(corners[c]!)),
    );
  }

  private strip(c: number): void {
    const t = topologyOf(this.mesh);
    const o = t.opposite[c]!;
    const [left, right] = [this.lines.beside.get(c), this.lines.beside.get(o)];
    if (!left || !right) return;
    const shares = [...new Set([0, 1, ...left.shares, ...right.shares.map((x) => 1 - x)])].sort((a, b) => a - b);
    const at = shares.filter((x, i) => x === 0 || x === 1 || (x - shares[i - 1]! > ONE_PLACE && x < 1 - ONE_PLACE));
    const a = this.divided(left, at);
    const b = [...this.divided(right, at.map((x) => 1 - x).reverse())].reverse();
    const made = at.map((share, i): Row => {
      const [p, q] = [a[i]!, b[i]!];
      const ids = this.rows.between(q, p, this.meet(c, share, p, q));
      return { ids, normals: turnedNormals(this.normalAt(q, o), this.normalAt(p, c), this.aim.segments) };
    });
    this.ends.set(c, made[0]!);
    this.ends.set(o, { ids: [...made.at(-1)!.ids].reverse(), normals: [...made.at(-1)!.normals].reverse() });
    const of = [this.mesh.corners[c]!, this.mesh.corners[o]!];
    for (let i = 0; i + 1 < made.length; i++)
      for (let k = 0; k < this.aim.segments; k++) {
        const [x, y] = [made[i]!, made[i + 1]!];
        const from = t.face[2 * k >= this.aim.segments ? c : o]!;
        // Where bands stay on the faces, the edge itself runs along the middle of the rows.
        const edges = this.aim.holds ? (k ? [c, -1, -1, -1] : [-1, -1, o, -1]) : [-1, -1, -1, -1];
        this.add(
          [
            [x, k],
            [y, k],
            [y, k + 1],
            [x, k + 1],
          ].map(([r, j], i) => [(r as Row).ids[j as number]!, (r as Row).normals[j as number]!, edges[i]!]),
          from,
          of,
          'strip',
        );
      }
  }

  /** A face of vertices with their normals and old edges, without those that follow themselves. */
  private add(
    ring: readonly (readonly [number, Vec3, number])[],
    from: number,
    of: readonly number[],
    kind: MadeFace['kind'],
  ) {
    const kept = ring.filter(([id], i) => id !== ring[(i + 1) % ring.length]![0]);
    if (new Set(kept.map(([id]) => id)).size < 3) return;
    this.faces.push({
      boundary: kept.map(([id]) => id),
      normals: kept.map(([, n]) => n),
      edges: kept.map(([, , e]) => e),
      from,
      of,
      kind,
    });
  }

  /** The normal that a strip ends with on the side of a corner's face. */
  private normalAt(x: BevelNode, c: number): Vec3 {
    const f = topologyOf(this.mesh).face[c]!;
    return this.nodes.flat(f) ? this.nodes.surface.normal(f) : x.normal;
  }

  /** Where the tangents of a row meet, where the edge itself gives it: on its line. */
  private meet(c: number, share: number, p: BevelNode, q: BevelNode): { at: Vec3; angle: number } | undefined {
    const t = topologyOf(this.mesh);
    if (!this.aim.holds && (!p.plain || !q.plain)) return undefined;
    const way = this.way(c);
    const angle = Math.abs(this.turn(c));
    if (share === 0 || share === 1) {
      const v = this.mesh.corners[share ? t.next[c]! : c]!;
      const all = this.roundedAt.get(v)!;
      const from = this.nodes.surface.at(v);
      if (all.length <= 2 && !(all.length === 2 && this.severalAt.has(v)))
        return { at: from, angle: all.reduce((s, x) => s + Math.abs(this.turn(x)), 0) / all.length };
    }
    const from = this.nodes.surface.at(this.mesh.corners[c]!);
    if (this.aim.holds && share > 0 && share < 1) {
      const to = this.nodes.surface.at(this.mesh.corners[t.opposite[c]!]!);
      return { at: add(from, sub(to, from), share), angle };
    }
    return { at: add(from, way, dot(sub(scaled(add(p.at, q.at), 0.5), from), way)), angle };
  }

  /** A line with nodes at all of some shares of it; these become part of the line. */
  private divided(line: OffsetLine, shares: readonly number[]): BevelNode[] {
    if (line.nodes.length === 1) return shares.map(() => line.nodes[0]!);
    const nodes = [line.nodes[0]!];
    const faces: number[] = [];
    let k = 0;
    for (const share of shares.slice(1, -1)) {
      while (line.shares[k + 1]! < share - ONE_PLACE && k + 2 < line.nodes.length) k++;
      const [a, b] = [line.nodes[k]!, line.nodes[k + 1]!];
      faces.push(line.faces[k]!);
      if (Math.abs(line.shares[k + 1]! - share) <= ONE_PLACE && k + 2 < line.nodes.length) {
        nodes.push(b);
        continue;
      }
      const way = (share - line.shares[k]!) / (line.shares[k + 1]! - line.shares[k]! || 1);
      const at = add(a.at, sub(b.at, a.at), way);
      nodes.push({
        id: this.nodes.place(at),
        at,
        normal: unit(add(scaled(a.normal, 1 - way), b.normal, way)),
        spot: { point: at, vertex: -1, corner: -1, share: 0, triangle: -1 },
        of: a.of,
        plain: a.plain && b.plain,
      });
    }
    faces.push(line.faces.at(-1)!);
    nodes.push(line.nodes.at(-1)!);
    line.nodes = nodes;
    line.faces = faces;
    line.shares = [...shares];
    return nodes;
  }

  /** Fills the corners between strips. */
  corners(loops: readonly GroupLoop[]): void {
    const t = topologyOf(this.mesh);
    const come = new Map<number, number>();
    const after = new Map<number, number>();
    for (const loop of loops)
      loop.sides.forEach((c, i) => {
        come.set(c, loop.sides.at(i - 1)!);
        after.set(loop.sides.at(i - 1)!, c);
      });
    const seen = new Set<number>();
    for (const loop of loops)
      for (const c of loop.sides) {
        if (seen.has(c) || !this.roundedAt.has(this.mesh.corners[c]!)) continue;
        // At an open border the ring of sectors begins at its clockwise end.
        let first = c;
        for (let o = t.opposite[first]!; o >= 0 && after.has(o); o = t.opposite[first]!) {
          first = after.get(o)!;
          if (first === c) break;
        }
        const ring: number[] = [];
        let open = false;
        for (let s = first; !seen.has(s);) {
          seen.add(s);
          ring.push(s);
          const o = t.opposite[come.get(s)!]!;
          if (o < 0 || !come.has(o)) {
            open = true;
            break;
          }
          s = o;
        }
        this.corner(ring, come, open);
      }
  }

  private corner(ring: readonly number[], come: ReadonlyMap<number, number>, open: boolean): void {
    const t = topologyOf(this.mesh);
    const s = this.aim.segments;
    const v = this.mesh.corners[ring[0]!]!;
    const sides: { ids: readonly number[]; edge: number; normals: readonly Vec3[] | null }[] = [];
    ring.forEach((c, i) => {
      const path = [...(this.lines.sectors.get(c) ?? [])].reverse();
      for (let k = 0; k + 1 < path.length; k += s) {
        const part = path.slice(k, k + s + 1);
        sides.push({ ids: part.map((x) => x.id), edge: -1, normals: part.map((x) => this.normalAt(x, c)) });
      }
      const leave = t.opposite[come.get(c)!]!;
      if (leave < 0 || !this.rounded(leave) || (open && i + 1 === ring.length)) return;
      const row = this.ends.get(leave);
      if (row) sides.push({ ids: row.ids, edge: leave, normals: row.normals });
    });
    const kept = sides.filter((x) => new Set(x.ids).size > 1);
    if (kept.length < 2) return;
    if (kept.length === 2 && kept[0]!.ids.every((id, k) => id === kept[1]!.ids[s - k])) return;
    if (open) {
      const [a, b] = [kept.at(-1)!.ids.at(-1)!, kept[0]!.ids[0]!];
      const [p, q] = [this.nodes.at(a), this.nodes.at(b)];
      if (a !== b)
        kept.push({
          ids: Array.from({ length: s + 1 }, (_, k) =>
            k === 0 ? a : k === s ? b : this.nodes.place(add(p, sub(q, p), k / s)),
          ),
          edge: -1,
          normals: null,
        });
    }
    this.patch(v, kept, t.face[ring[0]!]!);
  }

  private patch(
    v: number,
    sides: { ids: readonly number[]; edge: number; normals: readonly Vec3[] | null }[],
    from: number,
  ) {
    const t = topologyOf(this.mesh);
    const s = this.aim.segments;
    const border = sides.flatMap((x) => x.ids.slice(0, s));
    const normals = sides.flatMap((x) => (x.normals ?? x.ids.map((): Vec3 => [0, 0, 0])).slice(0, s));
    const between = (ring: readonly number[]) =>
      ring.flatMap((id, i) => [id, ...this.onJoin(id, ring[(i + 1) % ring.length]!)]);
    if (sides.length === 2) {
      const ring = between(border);
      this.add(
        ring.map((id) => [id, normals[border.indexOf(id)] ?? normals[0]!, -1]),
        from,
        [v],
        'corner',
      );
      return;
    }
    const grid = patchGrid(sides.length, s);
    let places = fairPatch(
      grid,
      border.map((id) => this.nodes.at(id)),
      (i) => (sides[i]!.edge >= 0 ? this.way(sides[i]!.edge) : null),
    );
    const ball = this.ball(v, sides);
    if (ball)
      places = places.map((p, i) => (i < grid.border ? p : add(ball.middle, unit(sub(p, ball.middle)), ball.radius)));
    // Bands on the faces meet in the vertex itself.
    const ids = [...border, ...places.slice(grid.border).map((p) => (this.aim.holds ? v : this.nodes.place(p)))];
    const old = new Map<string, number>();
    if (this.aim.holds)
      sides.forEach(({ ids: row, edge }) => {
        if (edge < 0) return;
        old.set(`${v},${row[1]!}`, edge);
        old.set(`${row[1]!},${v}`, t.opposite[edge]!);
      });
    const shown: Vec3[] = [...normals];
    for (let i = 0; i < grid.count; i++) {
      if (i < grid.border && lengthOf(shown[i]!) > 0) continue;
      shown[i] = ball ? scaled(unit(sub(places[i]!, ball.middle)), ball.sign) : meanNormal(grid.faces, places, i);
    }
    for (const face of grid.faces) {
      const ring = face.flatMap((i, k): [number, Vec3, number][] => {
        const j = face[(k + 1) % face.length]!;
        const edge = old.get(`${ids[i]!},${ids[j]!}`) ?? -1;
        return [
          [ids[i]!, shown[i]!, edge],
          ...this.onJoin(ids[i]!, ids[j]!).map((id): [number, Vec3, number] => [id, shown[i]!, -1]),
        ];
      });
      this.add(ring, from, [v], 'corner');
    }
  }

  /** Nodes within a stretch of a round join, in the direction that a patch runs along it. */
  private onJoin(a: number, b: number): number[] {
    this.joined ??= new Map(
      this.lines.joins.map((j) => [
        `${j.nodes.at(-1)!.id},${j.nodes[0]!.id}`,
        j.nodes
          .slice(1, -1)
          .map((x) => x.id)
          .reverse(),
      ]),
    );
    return this.joined.get(`${a},${b}`) ?? [];
  }

  private joined: Map<string, number[]> | null = null;

  /**
   * The ball that touches all faces of a corner, where the strips come from one: all edges turn the same way, and its
   * middle is the same for all.
   */
  private ball(v: number, sides: readonly { ids: readonly number[]; edge: number }[]) {
    const t = topologyOf(this.mesh);
    let found: { middle: Vec3; radius: number; sign: number } | null = null;
    for (const { ids, edge } of sides) {
      if (edge < 0) return null;
      const turn = this.turn(edge);
      const width = this.aim.width[t.edge[edge]!]! * this.aim.share[v]!;
      const radius = width / Math.tan(Math.abs(turn) / 2);
      for (const [id, f] of [
        [ids[0]!, t.face[t.opposite[edge]!]!],
        [ids.at(-1)!, t.face[edge]!],
      ] as const) {
        if (!this.nodes.flat(f)) return null;
        const middle = add(this.nodes.at(id), this.nodes.surface.normal(f), -Math.sign(turn) * radius);
        if (!found) found = { middle, radius, sign: Math.sign(turn) };
        else if (found.sign !== Math.sign(turn) || lengthOf(sub(found.middle, middle)) > ONE_BALL * width) return null;
      }
    }
    return found;
  }
}

/** The mean of the normals of a patch's faces at a vertex, by their areas. */
function meanNormal(faces: readonly number[][], places: readonly Vec3[], i: number): Vec3 {
  let sum: Vec3 = [0, 0, 0];
  for (const f of faces) {
    if (!f.includes(i)) continue;
    for (let k = 1; k + 1 < f.length; k++)
      sum = add(sum, cross(sub(places[f[k]!]!, places[f[0]!]!), sub(places[f[k + 1]!]!, places[f[0]!]!)));
  }
  return unit(sum);
}
