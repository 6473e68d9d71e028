import type { Flat } from '../../../mesh/index.ts';
import { apart, ringArea } from '../flatMesh.ts';

/** A rim of a ring-shaped face: its vertices from the seam on, to the left, and how far round each is in the frame. */
export interface RoundRim {
  /** The number of its ring, and of each vertex its number there. */
  ring: number;
  vertices: number[];
  x: number[];
}

/**
 * A face between two circles about one middle, unrolled: x runs round and y outwards, each by the same measure (the
 * logarithm of the radius keeps angles), so that lines and boxes in it are spokes and arcs.
 */
export interface RoundFrame {
  period: number;
  /** Of y, from the inner rim to the outer one. */
  bounds: [number, number];
  rims: [inner: RoundRim, outer: RoundRim];
  to(p: Flat): Flat;
  from(p: Flat): Flat;
}

/** A boundary is a circle whose vertices are as far from its middle, but for so much of that. */
const OUT_OF_ROUND = 0.02;
/** Circles have one middle that is off by less than this share of the outer radius. */
const OFF_CENTRE = 1e-3;
/** Fewest vertices of the outer and of the inner rim. */
const [LEAST_OUTER, LEAST_INNER] = [12, 8];
/** Angles nearer to a whole turn than this (radians) count as 0. */
const FULL_TURN = 1e-9;

/** The round frame of a face; null where its outline is no circle, or has no round hole in its middle. */
export function roundFrame(rings: readonly (readonly Flat[])[]): RoundFrame | null {
  const outline = rings[0]!;
  const c = middleOf(outline);
  const R = apart(outline[0]!, c);
  if (outline.length < LEAST_OUTER || !isCircle(outline, c)) return null;
  const hub = rings.findIndex(
    (r, i) => i > 0 && r.length >= LEAST_INNER && apart(middleOf(r), c) < OFF_CENTRE * R && isCircle(r, middleOf(r)),
  );
  if (hub < 0) return null;
  const angle = (p: Flat) => Math.atan2(p[1] - c[1], p[0] - c[0]);
  const others = rings
    .filter((_, i) => i !== 0 && i !== hub)
    .map((r) => {
      const m = middleOf(r);
      return { at: angle(m), half: Math.max(...r.map((p) => apart(p, m))) / apart(m, c) };
    });
  // The seam lies at a vertex of the inner rim that is far from all holes.
  const clear = (t: number) =>
    Math.min(9, ...others.map(({ at, half }) => Math.abs(Math.atan2(Math.sin(t - at), Math.cos(t - at))) - half));
  const seam = rings[hub]!.map(angle).reduce((a, b) => (clear(b) > clear(a) + FULL_TURN ? b : a));
  const turn = (a: number): number => {
    const t = (a - seam) % (2 * Math.PI);
    const positive = t < -FULL_TURN ? t + 2 * Math.PI : Math.max(0, t);
    return positive > 2 * Math.PI - FULL_TURN ? 0 : positive;
  };
  const rimOf = (ring: number): RoundRim => {
    const places = rings[ring]!;
    const order = ringArea(places) < 0 ? [...places.keys()].reverse() : [...places.keys()];
    const x = (v: number) => R * turn(angle(places[v]!));
    const first = order.reduce((b, v, i) => (x(v) < x(order[b]!) ? i : b), 0);
    const vertices = [...order.slice(first), ...order.slice(0, first)];
    return { ring, vertices, x: vertices.map(x) };
  };
  return {
    period: 2 * Math.PI * R,
    bounds: [R * Math.log(apart(rings[hub]![0]!, c) / R), 0],
    rims: [rimOf(hub), rimOf(0)],
    to: (p) => [R * turn(angle(p)), R * Math.log(apart(p, c) / R)],
    from: ([x, y]) => {
      const [r, a] = [R * Math.exp(y / R), x / R + seam];
      return [c[0] + r * Math.cos(a), c[1] + r * Math.sin(a)];
    },
  };
}

const middleOf = (ring: readonly Flat[]): Flat => [
  ring.reduce((s, p) => s + p[0], 0) / ring.length,
  ring.reduce((s, p) => s + p[1], 0) / ring.length,
];

/** Whether a ring is a circle about a middle. */
export function isCircle(ring: readonly Flat[], c: Flat): boolean {
  const radii = ring.map((p) => apart(p, c));
  return Math.max(...radii) < Math.min(...radii) * (1 + OUT_OF_ROUND);
}
