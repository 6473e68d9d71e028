import { faceBend, faceCount, facePlane, sizeOf, type PolyMesh } from '../mesh/index.ts';

/** Two edges that turn by less than this (sine) run straight on. */
const STRAIGHT_ON = 1e-9;
/** Faces whose planes agree to so many parts of a unit normal, and of the size, are sought in one plane. */
const PLANE_PARTS = 1e5;
const HEIGHTS = 1e7;
/** Faces that bend by more than this share of the size lie in no plane. */
const FLAT_FACE = 1e-10;

/** Faces of each of two meshes that the other has not, corner by corner. */
export function changedFaces(before: PolyMesh, after: PolyMesh): { before: number[]; after: number[] } {
  const [was, is] = [faceNames(before), faceNames(after)];
  const [gone, come] = [new Set(was), new Set(is)];
  return {
    before: [...was.keys()].filter((f) => !come.has(was[f]!)),
    after: [...is.keys()].filter((f) => !gone.has(is[f]!)),
  };
}

/**
 * Those of the changed faces whose surface may have changed, too: where flat faces of both meshes fill the same
 * boundaries of one plane, however they are cut there, nothing has. What is in no plane, or fills another boundary, may
 * have.
 */
export function changedSurface(before: PolyMesh, after: PolyMesh): { before: number[]; after: number[] } {
  const changed = changedFaces(before, after);
  const size = Math.max(sizeOf(before), sizeOf(after));
  const [was, is] = [byPlane(before, changed.before, size), byPlane(after, changed.after, size)];
  const alike = (name: string): boolean => {
    const [a, b] = [was.planes.get(name), is.planes.get(name)];
    return !!a && !!b && sameBoundaries(boundaryOf(before, a), boundaryOf(after, b));
  };
  const left = (x: ReturnType<typeof byPlane>) => [
    ...x.bent,
    ...[...x.planes].flatMap(([name, list]) => (alike(name) ? [] : list)),
  ];
  return { before: left(was), after: left(is) };
}

function byPlane(
  m: PolyMesh,
  faces: readonly number[],
  size: number,
): { planes: Map<string, number[]>; bent: number[] } {
  const planes = new Map<string, number[]>();
  const bent: number[] = [];
  for (const f of faces) {
    if (faceBend(m, f) > FLAT_FACE * size) {
      bent.push(f);
      continue;
    }
    const p = facePlane(m, f);
    const high = (p[0]! * p[3]! + p[1]! * p[4]! + p[2]! * p[5]!) / size;
    const name = [
      Math.round(p[0]! * PLANE_PARTS),
      Math.round(p[1]! * PLANE_PARTS),
      Math.round(p[2]! * PLANE_PARTS),
      Math.round(high * HEIGHTS),
    ].join();
    planes.set(name, [...(planes.get(name) ?? []), f]);
  }
  return { planes, bent };
}

/**
 * The directed edges round some faces by the places of their ends: those that two faces share cancel, runs straight on
 * are one.
 */
function boundaryOf(m: PolyMesh, faces: readonly number[]): Map<string, number> {
  const name = (v: number) =>
    `${m.positions[3 * v]! + 0},${m.positions[3 * v + 1]! + 0},${m.positions[3 * v + 2]! + 0}`;
  const next = new Map<string, string[]>();
  const place = new Map<string, number>();
  for (const f of faces)
    for (let l = m.faceLoops[f]!; l < m.faceLoops[f + 1]!; l++)
      for (let c = m.loopStart[l]!; c < m.loopStart[l + 1]!; c++) {
        const [u, v] = [m.corners[c]!, m.corners[c + 1 < m.loopStart[l + 1]! ? c + 1 : m.loopStart[l]!]!];
        const [a, b] = [name(u), name(v)];
        place.set(a, u).set(b, v);
        const back = next.get(b);
        const at = back?.indexOf(a) ?? -1;
        if (at >= 0) back!.splice(at, 1);
        else next.set(a, [...(next.get(a) ?? []), b]);
      }
  const before = new Map<string, string[]>();
  for (const [a, list] of next) for (const b of list) before.set(b, [...(before.get(b) ?? []), a]);
  const point = (a: string) => [0, 1, 2].map((k) => m.positions[3 * place.get(a)! + k]!) as [number, number, number];
  for (const v of [...next.keys()]) {
    const [list, came] = [next.get(v)!, before.get(v) ?? []];
    if (list.length !== 1 || came.length !== 1) continue;
    const [a, b] = [came[0]!, list[0]!];
    if (a === b || !straight(point(a), point(v), point(b))) continue;
    next.set(
      a,
      next.get(a)!.map((x) => (x === v ? b : x)),
    );
    before.set(
      b,
      before.get(b)!.map((x) => (x === v ? a : x)),
    );
    next.set(v, []);
  }
  const out = new Map<string, number>();
  for (const [a, list] of next) for (const b of list) out.set(`${a}>${b}`, (out.get(`${a}>${b}`) ?? 0) + 1);
  return out;
}

function straight(a: readonly number[], v: readonly number[], b: readonly number[]): boolean {
  const u = [v[0]! - a[0]!, v[1]! - a[1]!, v[2]! - a[2]!] as const;
  const w = [b[0]! - v[0]!, b[1]! - v[1]!, b[2]! - v[2]!] as const;
  const cross = Math.hypot(u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]);
  return cross <= STRAIGHT_ON * Math.hypot(...u) * Math.hypot(...w) && u[0] * w[0] + u[1] * w[1] + u[2] * w[2] > 0;
}

const sameBoundaries = (a: ReadonlyMap<string, number>, b: ReadonlyMap<string, number>): boolean =>
  a.size === b.size && [...a].every(([name, n]) => b.get(name) === n);

/**
 * A number for each face that faces with the very same corners share, wherever they begin: two mixed sums of 26 bits,
 * so that others share it once in 2⁵².
 */
function faceNames(m: PolyMesh): Float64Array {
  const words = new Int32Array(m.positions.slice().buffer);
  const mix = (v: number, seed: number): number => {
    let h = seed;
    for (let k = 0; k < 6; k++) {
      h = Math.imul(h ^ words[6 * v + k]!, 0x9e3779b1);
      h ^= h >>> 15;
    }
    return h;
  };
  const low = 0x3ffffff;
  return Float64Array.from({ length: faceCount(m) }, (_, f) => {
    let [a, b] = [0, 0];
    for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++) {
      a = (a + mix(m.corners[c]!, 7)) | 0;
      b = (b + mix(m.corners[c]!, 90001)) | 0;
    }
    return (a & low) * (low + 1) + (b & low);
  });
}
