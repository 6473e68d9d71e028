import {
  boxUvs,
  faceBegin,
  faceCount,
  faceEnd,
  faceNormals,
  FlatFace,
  textureScale,
  topologyOf,
  type Flat,
  type PolyMesh,
} from '../mesh/index.ts';

/** How new walls get texture coordinates: looked at along the main axes, or unrolled along the rim. */
export type WallUvs = 'box' | 'strip';

/** Walls that meet at less than this are unrolled as one even where no rung leads from the rim, cosine. */
const UNROLLED_COS = Math.cos(Math.PI / 4);

/**
 * Gives the new walls of a cut texture coordinates at the scale that the target's faces have in the middle. `box`: each
 * wall is looked at along the main axis nearest to its normal. `strip`: walls are unrolled one after the other along
 * the rim, which runs along u; the floor of a pocket is a piece of its own. Where the target has no texture
 * coordinates, or the cutters bring their own, the mesh is as it was.
 */
export function withWallUvs(
  mesh: PolyMesh,
  target: PolyMesh,
  cutters: readonly PolyMesh[],
  course: number,
  how: WallUvs = 'box',
): PolyMesh {
  const { uv, source } = mesh.layers;
  if (!uv || !source || !target.layers.uv || cutters.some((c) => c.layers.uv)) return mesh;
  const scale = textureScale(target);
  const walls: number[] = [];
  for (let f = 0; f < faceCount(mesh); f++) if (source[3 * f + 2] === course) walls.push(f);
  const out = uv.slice();
  const set = (corner: number, [x, y]: Flat) => out.set([scale * x, scale * y], 2 * corner);
  if (how === 'box') boxUvs(mesh, walls, scale, out);
  else unrolled(mesh, walls, set);
  return { ...mesh, layers: { ...mesh.layers, uv: out } };
}

type Set2 = (corner: number, place: Flat) => void;

/** A way to lay a flat face down: turned by (cos, sin), then moved. */
interface Lay {
  face: FlatFace;
  cos: number;
  sin: number;
  at: Flat;
}

const laid = ({ face, cos, sin, at }: Lay, corner: number): Flat => {
  const [x, y] = face.at(corner);
  return [cos * x - sin * y + at[0], sin * x + cos * y + at[1]];
};

/** The way to lay a face down so that its corners a and b come to two given places as far apart. */
function layOnto(face: FlatFace, a: number, b: number, p: Flat, q: Flat): Lay {
  const [s, t] = [face.at(a), face.at(b)];
  const turn = Math.atan2(q[1] - p[1], q[0] - p[0]) - Math.atan2(t[1] - s[1], t[0] - s[0]);
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  return { face, cos, sin, at: [p[0] - cos * s[0] + sin * s[1], p[1] - sin * s[0] - cos * s[1]] };
}

function unrolled(mesh: PolyMesh, walls: readonly number[], set: Set2): void {
  const t = topologyOf(mesh);
  const N = faceNormals(mesh);
  const isWall = new Set(walls);
  const seam = (c: number) => (t.opposite[c]! < 0 ? !isWall.has(t.face[c]!) : !isWall.has(t.face[t.opposite[c]!]!));
  const onRim = new Set<number>();
  for (const f of walls)
    for (let c = faceBegin(mesh, f); c < faceEnd(mesh, f); c++)
      if (seam(c)) onRim.add(mesh.corners[c]!).add(mesh.corners[t.next[c]!]!);
  /** Whether the next wall across an edge goes on with the strip. */
  const goesOn = (c: number): boolean => {
    const o = t.opposite[c]!;
    if (o < 0 || !isWall.has(t.face[o]!)) return false;
    const [f, g] = [3 * t.face[c]!, 3 * t.face[o]!];
    const rung = onRim.has(mesh.corners[c]!) || onRim.has(mesh.corners[t.next[c]!]!);
    return rung || N[f]! * N[g]! + N[f + 1]! * N[g + 1]! + N[f + 2]! * N[g + 2]! > UNROLLED_COS;
  };
  const done = new Set<number>();
  for (const first of walls) {
    if (done.has(first)) continue;
    done.add(first);
    const face = new FlatFace(mesh, first);
    const [start] = face.boundaries as [number[]];
    // The rim runs along u, the depth along v: of a wall its edge on the rim is laid down first.
    const rim = start.find(seam) ?? start[0]!;
    const [p, q] = [face.at(rim), face.at(t.next[rim]!)];
    const todo = [layOnto(face, rim, t.next[rim]!, [0, 0], [Math.hypot(q[0] - p[0], q[1] - p[1]), 0])];
    for (let lay = todo.shift(); lay; lay = todo.shift()) {
      const own = lay;
      for (const c of own.face.boundaries.flat()) set(c, laid(own, c));
      for (const c of own.face.boundaries[0]!) {
        const o = t.opposite[c]!;
        if (!goesOn(c) || done.has(t.face[o]!)) continue;
        done.add(t.face[o]!);
        todo.push(layOnto(new FlatFace(mesh, t.face[o]!), o, t.next[o]!, laid(own, t.next[c]!), laid(own, c)));
      }
    }
  }
}
