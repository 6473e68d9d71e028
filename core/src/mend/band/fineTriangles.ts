import {
  Bvh,
  faceBend,
  facePlane,
  nearestOn,
  topologyOf,
  triangulateFace,
  vertexPlace,
  type PolyMesh,
  type Vec3,
} from '../../mesh/index.ts';

/** What an edge of the fine triangles is. */
export const PLAIN = 0;
export const SEAM = 1;
export const CREASE = 2;
/** In the place of a corner of the mesh: no edge of it, or the fold between two flat pieces of a bent face. */
export const NO_EDGE = -1;
export const FOLD = -2;
/** The step from a half-edge to the next one of its triangle. */
const STEP = [1, 1, -2] as const;
/** Two sides of a triangle whose lengths differ by less than this share are alike. */
const ALIKE = 1e-12;
/** A triangle is near where its middle is; of its longest side it reaches no further than this share. */
const FROM_MIDDLE = 0.67;

/** A flat part of the surface: a flat face, or one triangle of a bent one, and its plane (unit normal, point). */
export interface Group {
  face: number;
  plane: Float64Array;
}

/**
 * A triangulated copy of some faces of a mesh, to be made finer: it has the very surface of the mesh. Half-edge h
 * leaves corner h of triangle ⌊h / 3⌋; vertices are numbered anew.
 */
export class FineTriangles {
  readonly positions: number[] = [];
  /** Vertex that each half-edge leaves. */
  readonly vertex: number[] = [];
  /** The half-edge on its other side; −1 at a border. */
  readonly opposite: number[] = [];
  /** Plain, seam or crease. */
  readonly kind: number[] = [];
  /** Corner of the mesh along whose edge a half-edge runs; within faces none, or a fold. */
  readonly corner: number[] = [];
  /** Group of each triangle. */
  readonly group: number[] = [];
  readonly groups: Group[] = [];
  /** Vertex of the mesh for each vertex that is the mesh's own. */
  readonly own: number[] = [];
  /** The edges of the seam as the mesh has them, by their vertices. */
  readonly seam: [number, number][] = [];
  /** Called for each half-edge that is halved: its number, that of its second half, and the vertex between. */
  onSplit: ((first: number, second: number, mid: number) => void) | null = null;

  /** `kindOf` tells the kind of an edge of the mesh by one of its corners; `flat` is how flat a flat face is, mm. */
  constructor(
    readonly mesh: PolyMesh,
    faces: readonly number[],
    kindOf: (corner: number) => number,
    flat: number,
  ) {
    const t = topologyOf(mesh);
    const number = new Map<number, number>();
    const vertexOf = (v: number): number => {
      const known = number.get(v);
      if (known !== undefined) return known;
      number.set(v, this.own.length);
      this.own.push(v);
      this.positions.push(...vertexPlace(mesh, v));
      return this.own.length - 1;
    };
    const halfOf = new Map<number, number>();
    for (const f of faces) {
      const isFlat = faceBend(mesh, f) <= flat;
      const c = triangulateFace(mesh, f);
      const inner = new Map<string, number>();
      for (let i = 0; i < c.length; i += 3) {
        if (i === 0 || !isFlat)
          this.groups.push({
            face: f,
            plane: isFlat
              ? facePlane(mesh, f).slice()
              : planeOf([c[i]!, c[i + 1]!, c[i + 2]!].map((x) => vertexPlace(mesh, mesh.corners[x]!))),
          });
        for (let k = 0; k < 3; k++) {
          const [from, to] = [c[i + k]!, c[i + ((k + 1) % 3)]!];
          const h = this.vertex.length;
          this.vertex.push(vertexOf(mesh.corners[from]!));
          this.opposite.push(-1);
          if (t.next[from] === to) {
            this.corner.push(from);
            this.kind.push(kindOf(from));
            halfOf.set(from, h);
            const other = halfOf.get(t.opposite[from]!);
            if (other !== undefined) this.join(h, other);
          } else {
            this.corner.push(isFlat ? NO_EDGE : FOLD);
            this.kind.push(PLAIN);
            const other = inner.get(`${to},${from}`);
            if (other !== undefined) this.join(h, other);
            else inner.set(`${from},${to}`, h);
          }
        }
        this.group.push(this.groups.length - 1);
      }
    }
    for (let h = 0; h < this.kind.length; h++)
      if (this.kind[h] === SEAM && this.edge(h) === h) this.seam.push([this.vertex[h]!, this.end(h)]);
  }

  private join(h: number, o: number): void {
    this.opposite[h] = o;
    this.opposite[o] = h;
  }

  get triangles(): number {
    return this.group.length;
  }

  next(h: number): number {
    return h + STEP[h % 3]!;
  }

  /** The half-edge before one in its triangle. */
  before(h: number): number {
    return h % 3 === 0 ? h + 2 : h - 1;
  }

  /** Vertex that a half-edge comes to. */
  end(h: number): number {
    return this.vertex[this.next(h)]!;
  }

  /** One number for both half-edges of an edge. */
  edge(h: number): number {
    const o = this.opposite[h]!;
    return o >= 0 && o < h ? o : h;
  }

  at(v: number): [number, number, number] {
    const P = this.positions;
    return [P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!];
  }

  /** A new vertex at a place, mm. */
  add(p: Vec3): number {
    this.positions.push(p[0], p[1], p[2]);
    return this.positions.length / 3 - 1;
  }

  length(a: number, b: number): number {
    const P = this.positions;
    const x = P[3 * a]! - P[3 * b]!;
    const y = P[3 * a + 1]! - P[3 * b + 1]!;
    const z = P[3 * a + 2]! - P[3 * b + 2]!;
    // Many times faster than `Math.hypot`, whose care for the range is not needed here.
    return Math.sqrt(x * x + y * y + z * z);
  }

  /** Halves an edge; writes the triangles that it has about it now. */
  private split(h: number, out: number[]): void {
    const o = this.opposite[h]!;
    const [p, q] = [this.at(this.vertex[h]!), this.at(this.end(h))];
    const mid = this.add([(p[0] + q[0]) / 2, (p[1] + q[1]) / 2, (p[2] + q[2]) / 2]);
    const second = this.halved(h, mid, out);
    const other = o >= 0 ? this.halved(o, mid, out) : -1;
    this.opposite[second] = o;
    if (o >= 0) {
      this.opposite[o] = second;
      this.opposite[h] = other;
      this.opposite[other] = h;
    }
    this.onSplit?.(h, second, mid);
    if (o >= 0) this.onSplit?.(o, other, mid);
  }

  /** Triangle (a, b, c) becomes (a, mid, c) in its place and (mid, b, c); the half-edge from mid to b. */
  private halved(h: number, mid: number, out: number[]): number {
    const [n, p] = [this.next(h), this.before(h)];
    const far = this.opposite[n]!;
    const at = this.vertex.length;
    this.vertex.push(mid, this.vertex[n]!, this.vertex[p]!);
    this.kind.push(this.kind[h]!, this.kind[n]!, PLAIN);
    this.corner.push(this.corner[h]!, this.corner[n]!, NO_EDGE);
    this.opposite.push(-1, far, n);
    if (far >= 0) this.opposite[far] = at + 1;
    this.group.push(this.group[(h / 3) | 0]!);
    this.vertex[n] = mid;
    this.kind[n] = PLAIN;
    this.corner[n] = NO_EDGE;
    this.opposite[n] = at + 2;
    // The far side was cut off with the second half: what was known of it goes along.
    this.onMove?.(n, at + 1);
    out.push((h / 3) | 0, (at / 3) | 0);
    return at;
  }

  /** Called where a half-edge gets another number. */
  onMove: ((from: number, to: number) => void) | null = null;

  /** The longest side of a triangle; of alike ones that of the lowest vertices, so that neighbours agree. */
  private longest(t: number): number {
    let best = 3 * t;
    let most = -1;
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const l = this.length(this.vertex[h]!, this.end(h));
      if (l > most * (1 + ALIKE) || (l > most * (1 - ALIKE) && this.isLower(h, best))) {
        most = Math.max(l, most);
        best = h;
      }
    }
    return best;
  }

  private isLower(h: number, g: number): boolean {
    const [a, b, c, d] = [this.vertex[h]!, this.end(h), this.vertex[g]!, this.end(g)];
    const [low, other] = [Math.min(a, b), Math.min(c, d)];
    return low < other || (low === other && Math.max(a, b) < Math.max(c, d));
  }

  /**
   * Halves the longest side at the end of the path of longer and longer sides that begins at a triangle, so that
   * triangles stay well shaped. Source: Rivara, "New longest-edge algorithms for the refinement of triangulations", 1997.
   */
  private halve(t: number, out: number[]): void {
    for (let at = t; ;) {
      const h = this.longest(at);
      const o = this.opposite[h]!;
      if (o < 0) return this.split(h, out);
      const other = (o / 3) | 0;
      if (this.longest(other) === o) return this.split(h, out);
      at = other;
    }
  }

  /**
   * Halves triangles that are nearer to seam edges than their width times `reach`, until no side is longer than that
   * width times `fine`. `widthOf` tells the width (mm) of a seam half-edge; 0 leaves what is about it as it is.
   */
  refine(reach: number, fine: number, widthOf: (h: number) => number): void {
    const seam: number[] = [];
    for (let h = 0; h < this.kind.length; h++) if (this.kind[h] === SEAM && this.edge(h) === h) seam.push(h);
    const list = seam.map((h) => ({ w: widthOf(h), p: this.at(this.vertex[h]!), q: this.at(this.end(h)) }));
    const segments = list.filter((x) => x.w > 0);
    if (!segments.length) return;
    const boxes = new Float64Array(6 * segments.length);
    segments.forEach(({ w, p, q }, i) => {
      for (let k = 0; k < 3; k++) {
        boxes[6 * i + k] = Math.min(p[k]!, q[k]!) - reach * w;
        boxes[6 * i + 3 + k] = Math.max(p[k]!, q[k]!) + reach * w;
      }
    });
    const tree = new Bvh(
      boxes,
      Int32Array.from(segments, (_, i) => i),
    );
    const box = new Float64Array(6);
    const least = segments.reduce((x, { w }) => Math.min(x, w), Infinity);
    const todo = Array.from({ length: this.triangles }, (_, t) => t);
    /** The segment that a triangle, or the one it was cut from, was found near to. */
    const hint: number[] = [];
    const P = this.positions;
    const mid: [number, number, number] = [0, 0, 0];
    let longest = 0;
    let near = -1;
    const look = (i: number): void => {
      const s = segments[i]!;
      if (near >= 0 || longest <= fine * s.w) return;
      if (nearestOn(mid, s.p, s.q).distance < reach * s.w + FROM_MIDDLE * longest) near = i;
    };
    while (todo.length) {
      const t = todo.pop()!;
      const h = this.longest(t);
      longest = this.length(this.vertex[h]!, this.end(h));
      if (longest <= fine * least) continue;
      const [a, b, c] = [3 * this.vertex[3 * t]!, 3 * this.vertex[3 * t + 1]!, 3 * this.vertex[3 * t + 2]!];
      for (let k = 0; k < 3; k++) {
        const [x, y, z] = [P[a + k]!, P[b + k]!, P[c + k]!];
        mid[k] = (x + y + z) / 3;
        box[k] = Math.min(x, y, z);
        box[3 + k] = Math.max(x, y, z);
      }
      near = -1;
      if (hint[t] !== undefined) look(hint[t]!);
      if (near < 0) tree.overlaps(box, 0, 0, look);
      if (near < 0) continue;
      const from = this.triangles;
      todo.push(t);
      this.halve(t, todo);
      hint[t] = near;
      for (let x = from; x < this.triangles; x++) hint[x] = near;
    }
  }
}

/** The plane through three places: unit normal, first place. */
function planeOf([a, b, c]: Vec3[]): Float64Array {
  const u = [b![0] - a![0], b![1] - a![1], b![2] - a![2]] as const;
  const w = [c![0] - a![0], c![1] - a![1], c![2] - a![2]] as const;
  const n = [u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]] as const;
  const l = Math.hypot(...n) || 1;
  return Float64Array.from([n[0] / l, n[1] / l, n[2] / l, ...a!]);
}
