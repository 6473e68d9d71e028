import {
  cross,
  dot,
  faceCount,
  SpatialIndex,
  takeFaces,
  type PolyMesh,
  type Vec3,
  vertexPlace,
} from '../mesh/index.ts';
import { Places, type Looked } from './look.ts';

/** A direction that no part is likely to have an edge along. */
const WAY: Vec3 = [0.5773, 0.2113, 0.7887];

/** A closed piece of the surface that looks one way. */
export interface Shell {
  /** Its first face. */
  face: number;
  /** Signed, mm³: below 0 for one that looks inward. */
  volume: number;
  min: [number, number, number];
  max: [number, number, number];
  vertex: Vec3;
}

/**
 * The closed, consistently turned pieces of the surface, and in how many others each lies; found once for all rules.
 */
export function shells(l: Looked): { shell: Shell; depth: number }[] {
  const known = l.known.get('shells') as ReturnType<typeof shells> | undefined;
  if (known) return known;
  const found = foundShells(l);
  l.known.set('shells', found);
  return found;
}

function foundShells({
  mesh: m,
  topology: t,
  edges,
  areas,
  normals: N,
  pieces: { count, of },
}: Looked): { shell: Shell; depth: number }[] {
  const list = Array.from({ length: count }, (): Shell => ({
    face: -1,
    volume: 0,
    min: [Infinity, Infinity, Infinity],
    max: [-Infinity, -Infinity, -Infinity],
    vertex: [0, 0, 0],
  }));
  const sound = new Uint8Array(count).fill(1);
  const P = m.positions;
  const { corners, faceLoops, loopStart } = m;
  const { open, odd } = edges;
  for (const list of [open, odd])
    for (const c of list)
      for (let o = t.sameEdge[c]!; ; o = t.sameEdge[o]!) {
        sound[of[t.face[o]!]!] = 0;
        if (o === c) break;
      }
  const volumes = new Float64Array(count);
  if (count === 1) {
    // A single piece needs no box: nothing else can lie in it.
    const [only] = list as [Shell];
    const p0 = 3 * corners[loopStart[faceLoops[0]!]!]!;
    const [ox, oy, oz] = (only.vertex = [P[p0]!, P[p0 + 1]!, P[p0 + 2]!]);
    only.face = 0;
    let sum = 0;
    for (let f = 0; f < areas.length; f++) {
      const p = 3 * corners[loopStart[faceLoops[f]!]!]!;
      sum +=
        areas[f]! * ((P[p]! - ox) * N[3 * f]! + (P[p + 1]! - oy) * N[3 * f + 1]! + (P[p + 2]! - oz) * N[3 * f + 2]!);
    }
    only.volume = sum / 3;
    return sound[0] ? [{ shell: only, depth: 0 }] : [];
  }
  for (let f = 0; f < faceCount(m); f++) {
    const k = of[f]!;
    const s = list[k]!;
    const [first, end] = [loopStart[faceLoops[f]!]!, loopStart[faceLoops[f + 1]!]!];
    const p = 3 * corners[first]!;
    if (s.face < 0) {
      s.face = f;
      s.vertex = [P[p]!, P[p + 1]!, P[p + 2]!];
    }
    // A pyramid from the shell's first vertex over the face.
    const o = s.vertex;
    const high = (P[p]! - o[0]) * N[3 * f]! + (P[p + 1]! - o[1]) * N[3 * f + 1]! + (P[p + 2]! - o[2]) * N[3 * f + 2]!;
    volumes[k]! += (high * areas[f]!) / 3;
    for (let c = first; c < end; c++)
      for (let i = 0; i < 3; i++) {
        const x = P[3 * corners[c]! + i]!;
        if (x < s.min[i]!) s.min[i] = x;
        if (x > s.max[i]!) s.max[i] = x;
      }
  }
  list.forEach((s, k) => (s.volume = volumes[k]!));
  const closed = list.map((shell, k) => ({ shell, k })).filter(({ k }) => sound[k]);
  const index = new Map<number, { tree: SpatialIndex; mesh: PolyMesh }>();
  const holds = (k: number, outer: Shell, inner: Shell): boolean => {
    if ([0, 1, 2].some((i) => inner.min[i]! < outer.min[i]! || inner.max[i]! > outer.max[i]!)) return false;
    let known = index.get(k);
    if (!known) {
      const mesh = takeFaces(m, (f) => of[f] === k);
      index.set(k, (known = { mesh, tree: new SpatialIndex(mesh) }));
    }
    const hit = known.tree.raycast(inner.vertex, WAY);
    if (!hit) return false;
    // Leaving it, the ray meets the back of a face; of a shell that looks inward, the front.
    const n = newell(known.mesh, hit.face);
    return dot(n, WAY) > 0 === outer.volume > 0;
  };
  return closed.map(({ shell, k }) => ({
    shell,
    depth: closed.filter((o) => o.k !== k && holds(o.k, o.shell, shell)).length,
  }));
}

const from = (p: Vec3, o: Vec3): Vec3 => [p[0] - o[0], p[1] - o[1], p[2] - o[2]];

/** The area vector of a face's outer boundary, twice its length. */
function newell(m: PolyMesh, f: number): Vec3 {
  const [begin, end] = [m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f]! + 1]!];
  const at = (c: number): Vec3 => vertexPlace(m, m.corners[c]!);
  const o = at(begin);
  let n: [number, number, number] = [0, 0, 0];
  for (let c = begin + 1; c < end - 1; c++) {
    const x = cross(from(at(c), o), from(at(c + 1), o));
    n = [n[0] + x[0], n[1] + x[1], n[2] + x[2]];
  }
  return n;
}

/** Shells by what they are, each by its first face, with its volume, mm³. */
function sorted(l: Looked, wanted: (inside: boolean, inward: boolean) => boolean): Places {
  const out = new Places('face');
  for (const { shell, depth } of shells(l))
    if (wanted(depth % 2 === 1, shell.volume < 0)) out.add(shell.face, Math.abs(shell.volume));
  return out;
}

/** Shells that look inward though they lie in no other. */
export const insideOut = (l: Looked): Places => sorted(l, (inside, inward) => !inside && inward);
/** Shells that look outward though they lie in another: a body within a body. */
export const innerShells = (l: Looked): Places => sorted(l, (inside, inward) => inside && !inward);
/** Shells that look inward in another: hollows that nothing leads to. */
export const voids = (l: Looked): Places => sorted(l, (inside, inward) => inside && inward);
