import {
  cornersOf,
  faceBegin,
  faceCount,
  faceEnd,
  facePlane,
  newellPlane,
  planeBasis,
  reface,
  shadingNormals,
  topologyOf,
  vertexCount,
  type Flat,
  type NewCorner,
  type NewFace,
  type PolyMesh,
  type Topology,
  type Vec3,
} from '../mesh/index.ts';

/** A corner to be, without an edge of the old mesh along it. */
export const corner = (vertex: number, edge = -1): NewCorner => ({ vertex, edge });

/** Places laid on a plane (unit normal, point), in its own two directions. */
function onPlane(plane: Float64Array, points: readonly Vec3[]): Flat[] {
  const b = new Float64Array(6);
  planeBasis(plane, 0, b);
  return points.map((p) => {
    const [x, y, z] = [p[0] - plane[3]!, p[1] - plane[4]!, p[2] - plane[5]!];
    return [b[0]! * x + b[1]! * y + b[2]! * z, b[3]! * x + b[4]! * y + b[5]! * z];
  });
}

/**
 * A change of a mesh, built piece by piece: faces replaced, taken out or added, vertices moved or added. `done` gives
 * the mesh: faces that were not touched stay as they are and in their order, layers are handed on, vertices that lost
 * their last face go.
 */
export class MeshEdit {
  readonly topology: Topology;
  private readonly replaced = new Map<number, readonly NewFace[]>();
  private readonly added: NewFace[] = [];
  private readonly more: number[] = [];
  private readonly moved = new Map<number, Vec3>();

  constructor(readonly mesh: PolyMesh) {
    this.topology = topologyOf(mesh);
  }

  /** The boundaries of a face as they are. */
  boundaries(f: number): NewCorner[][] {
    const { faceLoops } = this.mesh;
    return Array.from({ length: faceLoops[f + 1]! - faceLoops[f]! }, (_, i) => cornersOf(this.mesh, faceLoops[f]! + i));
  }

  /** What stands in the place of a face now. */
  now(f: number): readonly NewFace[] {
    return this.replaced.get(f) ?? [{ from: f, boundaries: this.boundaries(f) }];
  }

  /** Puts faces in the place of one; none takes it out. */
  replace(f: number, faces: readonly NewFace[]): void {
    this.replaced.set(f, faces);
  }

  remove(f: number): void {
    this.replaced.set(f, []);
  }

  /** Adds a face of new surface; it takes after a face of the mesh. */
  add(like: number, boundaries: readonly (readonly NewCorner[])[]): void {
    this.added.push({ from: like, boundaries });
  }

  /** A new vertex, mm; its number. */
  vertex(p: Vec3): number {
    this.more.push(...p);
    return vertexCount(this.mesh) + this.more.length / 3 - 1;
  }

  /** Where a vertex is now, mm. */
  at(v: number): Vec3 {
    const moved = this.moved.get(v);
    if (moved) return moved;
    const n = vertexCount(this.mesh);
    const [P, i] = v < n ? [this.mesh.positions, 3 * v] : [this.more, 3 * (v - n)];
    return [P[i]!, P[i + 1]!, P[i + 2]!];
  }

  move(v: number, p: Vec3): void {
    this.moved.set(v, p);
  }

  /** Corners of a face, new ones too, laid on the plane that the face has in the mesh. */
  flat(f: number, corners: readonly NewCorner[]): Flat[] {
    return this.flatPoints(
      f,
      corners.map((c) => this.at(c.vertex)),
    );
  }

  /** Places laid on the plane that a face has in the mesh. */
  flatPoints(f: number, points: readonly Vec3[]): Flat[] {
    return onPlane(facePlane(this.mesh, f), points);
  }

  /**
   * Boundaries laid on the plane of the first of them: what a face will be seen in whose vertices have left the plane
   * of before.
   */
  flatBoundaries(boundaries: readonly (readonly NewCorner[])[]): Flat[][] {
    const places = boundaries.map((loop) => loop.map((c) => this.at(c.vertex)));
    const [outer] = places as [Vec3[]];
    const plane = new Float64Array(6);
    newellPlane(Float64Array.from(outer.flat()), [...outer.keys()], 0, outer.length, plane, 0);
    return places.map((list) => onPlane(plane, list));
  }

  /** Where each vertex went, new ones after those of the mesh: its number after `done`, −1 for one that went. */
  numbers = new Int32Array(0);
  /** For each face after `done`: the face of the mesh that it is or that it replaced; −1 for added ones. */
  origins = new Int32Array(0);

  /** The mesh after the change; new surface is marked as made by a course. */
  done(course = 0): PolyMesh {
    const { mesh: m, replaced, added, moved } = this;
    const n = vertexCount(m);
    const positions = new Float64Array(m.positions.length + this.more.length);
    positions.set(m.positions);
    positions.set(this.more, 3 * n);
    for (const [v, p] of moved) positions.set(p, 3 * v);
    const faces: (NewFace | number)[] = [];
    const origins: number[] = [];
    for (let f = 0; f < faceCount(m); f++) {
      const put: readonly (NewFace | number)[] = replaced.get(f) ?? [f];
      for (const face of put) {
        faces.push(face);
        origins.push(f);
      }
    }
    const old = faces.length;
    this.origins = Int32Array.from({ length: old + added.length }, (_, f) => origins[f] ?? -1);
    const made = reface(m, [...faces, ...added], positions);
    const { source, plane } = made.layers;
    for (let i = 0; i < added.length; i++) {
      source?.set([course, i, course], 3 * (old + i));
      plane?.fill(NaN, 6 * (old + i), 6 * (old + i) + 6);
    }
    // Surface that is new, or was moved, has the light that its faces make.
    if (made.layers.normal && (added.length || moved.size)) relit(made, made.layers.normal, old, moved);
    // A plane is that of a face whose corners are where they were.
    if (plane && moved.size)
      for (let f = 0; f < old; f++) {
        for (let c = made.loopStart[made.faceLoops[f]!]!; c < made.loopStart[made.faceLoops[f + 1]!]!; c++)
          if (moved.has(made.corners[c]!)) plane.fill(NaN, 6 * f, 6 * f + 6);
      }
    return this.withoutUnused(made);
  }

  /** The mesh without the vertices that no face uses any more; those that no face used before stay. */
  private withoutUnused(made: PolyMesh): PolyMesh {
    const n = vertexCount(made);
    const used = new Uint8Array(n);
    for (const v of made.corners) used[v] = 1;
    const had = new Uint8Array(n);
    for (const v of this.mesh.corners) had[v] = 1;
    this.numbers = new Int32Array(n);
    let left = 0;
    for (let v = 0; v < n; v++) this.numbers[v] = used[v] || (v < vertexCount(this.mesh) && !had[v]) ? left++ : -1;
    if (left === n) return made;
    const positions = new Float64Array(3 * left);
    for (let v = 0; v < n; v++)
      if (this.numbers[v]! >= 0) positions.set(made.positions.subarray(3 * v, 3 * v + 3), 3 * this.numbers[v]!);
    return { ...made, positions, corners: made.corners.map((v) => this.numbers[v]!) };
  }
}

/**
 * Writes the shading normals of faces from `first` on, and of those with a moved vertex, as their faces and sharp edges
 * make them.
 */
function relit(m: PolyMesh, normal: Float32Array, first: number, moved: ReadonlyMap<number, unknown>): void {
  const shown = shadingNormals({ ...m, layers: { ...m.layers, normal: undefined } });
  for (let f = 0; f < faceCount(m); f++) {
    const [begin, end] = [faceBegin(m, f), faceEnd(m, f)];
    let other = f >= first;
    for (let c = begin; c < end && !other; c++) other = moved.has(m.corners[c]!);
    if (other) normal.set(shown.subarray(3 * begin, 3 * end), 3 * begin);
  }
}
