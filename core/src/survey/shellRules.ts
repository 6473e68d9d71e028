import { cross, dot, faceCount, SpatialIndex, takeFaces, type PolyMesh, type Vec3 } from '../mesh/index.ts';
import { Places, type Looked } from './look.ts';

/** A direction that no part is likely to have an edge along. */
const WAY: Vec3 = [0.5773, 0.2113, 0.7887];

interface Shell {
  /** Its first face. */
  face: number;
  /** Signed, mm³: below 0 for one that looks inward. */
  volume: number;
  min: [number, number, number];
  max: [number, number, number];
  vertex: Vec3;
}

/** The closed, consistently turned pieces of the surface, and in how many others each lies; found once for all rules. */
function shells(l: Looked): { shell: Shell; depth: number }[] {
  const known = l.known.get('shells') as ReturnType<typeof shells> | undefined;
  if (known) return known;
  const found = foundShells(l);
  l.known.set('shells', found);
  return found;
}

function foundShells({ mesh: m, topology: t, pieces: { count, of } }: Looked): { shell: Shell; depth: number }[] {
  const list = Array.from({ length: count }, (): Shell => ({ face: -1, volume: 0, min: [Infinity, Infinity, Infinity], max: [-Infinity, -Infinity, -Infinity], vertex: [0, 0, 0] })); // prettier-ignore
  const sound = new Uint8Array(count).fill(1);
  const P = m.positions;
  const at = (c: number): Vec3 => [P[3 * m.corners[c]!]!, P[3 * m.corners[c]! + 1]!, P[3 * m.corners[c]! + 2]!];
  for (let c = 0; c < m.corners.length; c++) if (t.opposite[c]! < 0) sound[of[t.face[c]!]!] = 0;
  for (let f = 0; f < faceCount(m); f++) {
    const s = list[of[f]!]!;
    const first = m.loopStart[m.faceLoops[f]!]!;
    if (s.face < 0) {
      s.face = f;
      s.vertex = at(first);
    }
    const [ox, oy, oz] = s.vertex;
    let [ax, ay, az] = [0, 0, 0];
    for (let c = first; c < m.loopStart[m.faceLoops[f + 1]!]!; c++) {
      const [p, q] = [3 * m.corners[c]!, 3 * m.corners[t.next[c]!]!];
      const [x, y, z] = [P[p]! - ox, P[p + 1]! - oy, P[p + 2]! - oz];
      const [u, v, w] = [P[q]! - ox, P[q + 1]! - oy, P[q + 2]! - oz];
      ax += y * w - z * v;
      ay += z * u - x * w;
      az += x * v - y * u;
      if (count > 1)
        for (let k = 0; k < 3; k++) {
          s.min[k] = Math.min(s.min[k]!, P[p + k]!);
          s.max[k] = Math.max(s.max[k]!, P[p + k]!);
        }
    }
    const p = 3 * m.corners[first]!;
    s.volume += ((P[p]! - ox) * ax + (P[p + 1]! - oy) * ay + (P[p + 2]! - oz) * az) / 6;
  }
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
  return closed.map(({ shell, k }) => ({ shell, depth: closed.filter((o) => o.k !== k && holds(o.k, o.shell, shell)).length })); // prettier-ignore
}

const from = (p: Vec3, o: Vec3): Vec3 => [p[0] - o[0], p[1] - o[1], p[2] - o[2]];

/** The area vector of a face's outer outline, twice its length. */
function newell(m: PolyMesh, f: number): Vec3 {
  const [begin, end] = [m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f]! + 1]!];
  const at = (c: number): Vec3 => [m.positions[3 * m.corners[c]!]!, m.positions[3 * m.corners[c]! + 1]!, m.positions[3 * m.corners[c]! + 2]!]; // prettier-ignore
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
  for (const { shell, depth } of shells(l)) if (wanted(depth % 2 === 1, shell.volume < 0)) out.add(shell.face, Math.abs(shell.volume)); // prettier-ignore
  return out;
}

/** Shells that look inward though they lie in no other. */
export const insideOut = (l: Looked): Places => sorted(l, (inside, inward) => !inside && inward);
/** Shells that look outward though they lie in another: a body within a body. */
export const innerShells = (l: Looked): Places => sorted(l, (inside, inward) => inside && !inward);
/** Shells that look inward in another: hollows that nothing leads to. */
export const voids = (l: Looked): Places => sorted(l, (inside, inward) => inside && inward);
