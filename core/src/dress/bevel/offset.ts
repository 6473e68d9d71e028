/**
 * A vertex of a closed boundary that is drawn inwards, described by lengths and angles alone, so that it may lie on any
 * surface that can be unrolled.
 */
export interface OffsetVertex {
  /** The angle of the inside at it, radians. */
  angle: number;
  /** How far in the side before it goes, and the one after it, mm. */
  before: number;
  after: number;
  /** The length of the side after it, mm. */
  length: number;
  /** It has a place of its own that must not be merged with others. */
  firm: boolean;
}

/** Where a run of vertices ends: by a way from one of them, its angle measured from the side after that one. */
export interface Landing {
  first: number;
  count: number;
  from: number;
  bearing: number;
  distance: number;
}

/**
 * The result for a boundary: where its vertices end, and for each side whether it is still there; or which run of
 * vertices is used up.
 */
export type Offset = { landings: Landing[]; left: boolean[] } | { usedUp: number[] };

/** Sides whose lines make less than this angle (radians) are parallel for what is cut of them. */
const PARALLEL = 0.05;

/**
 * The place at the given distances from two sides: along the side after, and square to it, mm. `alongBefore` is how
 * much of the side before is used up. Where the sides are nearly one line it lies square to them.
 */
export function landingOf(angle: number, before: number, after: number): { x: number; y: number; alongBefore: number } {
  const s = Math.sin(angle);
  if (before === after) {
    const x = before / Math.tan(angle / 2);
    return { x, y: after, alongBefore: x };
  }
  if (Math.abs(s) < PARALLEL) return { x: 0, y: (before + after) / 2, alongBefore: 0 };
  return {
    x: (before + after * Math.cos(angle)) / s,
    y: after,
    alongBefore: (after + before * Math.cos(angle)) / s,
  };
}

/**
 * Draws a closed boundary inwards, side by side. A side that gets no length left is passed over, its neighbours meet,
 * and it goes on: the events of a straight skeleton that lie along the boundary (Aichholzer and Aurenhammer, 1996).
 * Events from the opposite side are not seen here.
 */
export function offsetLoop(vertices: readonly OffsetVertex[]): Offset {
  const n = vertices.length;
  const length = vertices.map((v) => v.length);
  const angle = vertices.map((v) => v.angle);
  const before = vertices.map((v) => v.before);
  const firm = vertices.map((v) => v.firm);
  const first = vertices.map((_, i) => i);
  const next = vertices.map((_, i) => (i + 1) % n);
  const prev = vertices.map((_, i) => (i + n - 1) % n);
  const left = vertices.map(() => true);
  let alive = n;
  let done = 0;
  const speed = (i: number) => {
    const j = next[i]!;
    return (
      landingOf(angle[i]!, before[i]!, vertices[i]!.after).x +
      landingOf(angle[j]!, before[j]!, vertices[j]!.after).alongBefore
    );
  };
  const rates = vertices.map((_, i) => speed(i));
  for (;;) {
    let [soonest, which] = [Infinity, -1];
    for (let i = 0; i < n; i++)
      if (left[i] && rates[i]! > 0) {
        const at = done + Math.max(0, length[i]!) / rates[i]!;
        if (at < soonest) [soonest, which] = [at, i];
      }
    const upto = Math.min(1, soonest);
    for (let i = 0; i < n; i++) if (left[i]) length[i]! -= (upto - done) * rates[i]!;
    done = upto;
    if (!(soonest < 1)) break;
    const j = next[which]!;
    if (alive <= 3) return { usedUp: vertices.map((_, i) => i) };
    const sum = angle[which]! + angle[j]! - Math.PI;
    if (firm[which] || firm[j] || sum <= PARALLEL) {
      const count = ((j - first[which]! + n) % n) + 1;
      return { usedUp: Array.from({ length: count }, (_, k) => (first[which]! + k) % n) };
    }
    left[which] = false;
    alive--;
    next[prev[which]!] = j;
    prev[j] = prev[which]!;
    angle[j] = sum;
    before[j] = before[which]!;
    first[j] = first[which]!;
    rates[j] = speed(j);
    rates[prev[j]!] = speed(prev[j]!);
  }
  const landings: Landing[] = [];
  for (let i = 0; i < n; i++)
    if (left[i]) landings.push(landed(vertices, first[i]!, ((i - first[i]! + n) % n) + 1, before[i]!));
  return { landings, left };
}

/**
 * Where a run of vertices ends: a single one by its own angle; else the run is laid out in the plane, and the sides at
 * its ends are intersected.
 */
function landed(vertices: readonly OffsetVertex[], first: number, count: number, before: number): Landing {
  const n = vertices.length;
  const at = (i: number) => vertices[(first + i) % n]!;
  if (count === 1) {
    const { x, y } = landingOf(at(0).angle, before, at(0).after);
    return { first, count, from: first, bearing: Math.atan2(y, x), distance: Math.hypot(x, y) };
  }
  // The side before comes in along the x axis to the origin; the group lies above.
  const points: [number, number][] = [[0, 0]];
  let heading = Math.PI - at(0).angle;
  const headings = [heading];
  for (let i = 0; i + 1 < count; i++) {
    const [x, y] = points[i]!;
    points.push([x + at(i).length * Math.cos(heading), y + at(i).length * Math.sin(heading)]);
    heading += Math.PI - at(i + 1).angle;
    headings.push(heading);
  }
  const last = points.at(-1)!;
  const after = at(count - 1).after;
  const normal = [-Math.sin(heading), Math.cos(heading)];
  const place: [number, number] =
    Math.abs(normal[0]!) < PARALLEL
      ? [last[0] / 2, (before + after) / 2 + last[1] / 2]
      : [(after + normal[0]! * last[0] + normal[1]! * last[1] - normal[1]! * before) / normal[0]!, before];
  let [best, least] = [0, Infinity];
  points.forEach(([x, y], i) => {
    const d = Math.hypot(place[0] - x, place[1] - y);
    if (d < least) [best, least] = [i, d];
  });
  const turn = 2 * Math.PI;
  const bearing = Math.atan2(place[1] - points[best]![1], place[0] - points[best]![0]) - headings[best]!;
  return { first, count, from: (first + best) % n, bearing: ((bearing % turn) + turn) % turn, distance: least };
}
