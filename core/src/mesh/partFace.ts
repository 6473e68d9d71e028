import { insideRing, type Flat } from './flatFace.ts';
import type { NewCorner, NewFace } from './reface.ts';

/**
 * A face cut along chords: straight edges between its own corners, that lie in it and cross nothing. A face of several
 * boundaries gives faces of as many as the chords leave; holes that no chord reaches go to the piece that they lie in.
 * Corners are numbered through all boundaries of the face, in order. Walks from corner to corner with the face on its
 * left; at each corner the ways out are ordered from its own edge on, to the left.
 */
export function partFace(
  face: NewFace,
  places: readonly Flat[],
  chords: readonly (readonly [number, number])[],
): NewFace[] {
  if (!chords.length) return [face];
  const corners = face.boundaries.flat();
  const next: number[] = [];
  const prev: number[] = [];
  let begin = 0;
  for (const loop of face.boundaries) {
    loop.forEach((_, i) => {
      next[begin + i] = begin + ((i + 1) % loop.length);
      prev[begin + i] = begin + ((i + loop.length - 1) % loop.length);
    });
    begin += loop.length;
  }
  const angle = (a: number, b: number) => Math.atan2(places[b]![1] - places[a]![1], places[b]![0] - places[a]![0]);
  /** How far one turns to the left at a corner, from its own edge to the way to another corner. */
  const turn = (a: number, b: number) => (angle(a, b) - angle(a, next[a]!) + 4 * Math.PI) % (2 * Math.PI);
  const out = new Map<number, { to: number; chord: boolean; done: boolean }[]>();
  corners.forEach((_, a) => out.set(a, [{ to: next[a]!, chord: false, done: false }]));
  for (const [a, b] of chords)
    for (const [from, to] of [
      [a, b],
      [b, a],
    ] as const)
      out.get(from)!.push({ to, chord: true, done: false });
  for (const [a, list] of out) {
    const [own, ...rest] = list;
    list.splice(0, list.length, own!, ...rest.sort((x, y) => turn(a, x.to) - turn(a, y.to)));
  }
  const rings: number[][] = [];
  const edges: number[][] = [];
  for (let first = 0; first < corners.length; first++)
    for (const start of out.get(first)!) {
      if (start.done) continue;
      const ring: number[] = [];
      const own: number[] = [];
      for (let [a, e] = [first, start]; !e.done;) {
        e.done = true;
        ring.push(a);
        own.push(e.chord ? -1 : corners[a]!.edge);
        const list = out.get(e.to)!;
        // Arriving along a chord, the way before it; along the boundary, the last one.
        const at = e.chord ? list.findIndex((x) => x.chord && x.to === a) : list.length;
        [a, e] = [e.to, list[at - 1]!];
      }
      rings.push(ring);
      edges.push(own);
    }
  const flat = rings.map((ring) => ring.map((a) => places[a]!));
  const area = flat.map((p) =>
    p.reduce((s, [x, y], i) => s + x * p[(i + 1) % p.length]![1] - y * p[(i + 1) % p.length]![0], 0),
  );
  const loop = (i: number): NewCorner[] =>
    rings[i]!.map((a, k) => ({ vertex: corners[a]!.vertex, edge: edges[i]![k]! }));
  const outer = [...rings.keys()].filter((i) => area[i]! > 0).sort((i, j) => area[i]! - area[j]!);
  const pieces = new Map(
    outer.map((i): [number, NewFace & { boundaries: NewCorner[][] }] => [
      i,
      { from: face.from, boundaries: [loop(i)] },
    ]),
  );
  for (const i of rings.keys()) {
    if (area[i]! > 0) continue;
    const holder =
      outer.find((o) => !rings[o]!.includes(rings[i]![0]!) && insideRing(flat[o]!, flat[i]![0]!)) ?? outer.at(-1);
    if (holder !== undefined) pieces.get(holder)!.boundaries.push(loop(i));
  }
  return [...pieces.values()];
}
