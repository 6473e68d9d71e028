import { triangulateFace, type Flat, type PolyMesh } from '../../mesh/index.ts';
import { badness, cornerAngle, type FlatMesh } from './flatMesh.ts';

/**
 * Pairs of triangles that make convex quads, the best first, each triangle once; `pairs` are numbers of triangles with
 * the quad that they come to.
 */
export function paired<T extends { one: number; two: number; cost: number }>(pairs: readonly T[]): T[] {
  const taken = new Set<number>();
  return [...pairs]
    .sort((a, b) => a.cost - b.cost || a.one - b.one || a.two - b.two)
    .filter(({ one, two }) => {
      if (taken.has(one) || taken.has(two)) return false;
      taken.add(one).add(two);
      return true;
    });
}

/** Whether all corners of a ring turn left. */
export const isConvex = (ring: readonly Flat[]): boolean =>
  ring.every(
    (p, i) => cornerAngle(ring[(i + ring.length - 1) % ring.length]!, p, ring[(i + 1) % ring.length]!) < 179.9,
  );

/**
 * Fills loops with triangles, of which those that suit each other become quads: the way that always leads somewhere.
 */
export function fillByPairs(m: FlatMesh, loops: readonly (readonly number[])[]): void {
  const all = loops.flat();
  const positions = Float64Array.from(all.flatMap((v) => [...m.points[v]!, 0]));
  let at = 0;
  const loopStart = Int32Array.from([0, ...loops.map((l) => (at += l.length))]);
  const face: PolyMesh = {
    positions,
    faceLoops: Int32Array.of(0, loops.length),
    loopStart,
    corners: Int32Array.from(all.keys()),
    layers: {},
    slots: [],
  };
  const flat = triangulateFace(face, 0);
  const triangles = Array.from({ length: flat.length / 3 }, (_, i) => [0, 1, 2].map((k) => all[flat[3 * i + k]!]!));
  const beside = new Map<string, number>();
  triangles.forEach((t, i) => t.forEach((v, k) => beside.set(`${v},${t[(k + 1) % 3]!}`, i)));
  const pairs = triangles.flatMap((t, one) =>
    t.flatMap((u, k) => {
      const [v, w] = [t[(k + 1) % 3]!, t[(k + 2) % 3]!];
      const two = beside.get(`${v},${u}`);
      if (two === undefined || two <= one) return [];
      const far = triangles[two]!.find((x) => x !== u && x !== v)!;
      const quad = [u, far, v, w];
      const ring = m.places(quad);
      return isConvex(ring) ? [{ one, two, quad, cost: badness(ring) }] : [];
    }),
  );
  const chosen = paired(pairs);
  const used = new Set(chosen.flatMap(({ one, two }) => [one, two]));
  for (const { quad } of chosen) m.polygon(quad);
  triangles.forEach((t, i) => !used.has(i) && m.polygon(t));
}
