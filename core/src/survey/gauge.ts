import { add, cross, dot, lengthOf, MasonError, scaled, sub, unit, type Vec3 } from '../mesh/index.ts';

/** A round hole or pin as it is measured, mm. */
export interface Gauged {
  radius: number;
  /** A place on the axis, in the middle of what was measured, and its direction, unit. */
  centre: [number, number, number];
  axis: [number, number, number];
  /**
   * How far each point is outside of the fitted radius (below 0: inside), and at which angle round the axis, degrees;
   * in the order of the points.
   */
  departures: Float64Array;
  angles: Float64Array;
  /** The greatest departure either way, and the root of the mean square of all. */
  worst: number;
  rms: number;
  /** Out of round by least squares: from the least to the greatest distance from its axis. */
  outOfRound: number;
  /** The narrowest ring between two circles of one axis that holds all points: no fit makes it rounder. */
  leastZone: number;
  /** Change of the radius along the axis, mm a mm; 0 where all points are at about one height. */
  taper: number;
  /**
   * How far the middle of a flat between neighbours is inside of the circle, mm: what the faceting costs, which is no
   * error.
   */
  sagitta: number;
  /**
   * Whether the points lie in one plane; a rim on a curved surface does not, and is measured along its axis all the
   * same.
   */
  flat: boolean;
}

/** Rounds of the fit, and of the search for the least zone. */
const FIT_ROUNDS = 60;
/** The step only shrinks; this bounds the loop where it does so slowly. */
const ZONE_ROUNDS = 4000;
/** The fit has settled when a round changes it by less than this share of the radius. */
const FIT_SETTLED = 1e-14;
/** Points within this share of the radius of a plane lie in it. */
const IN_PLANE = 1e-6;

/**
 * The circle or cylinder that a closed run of points lies on best, by least squares: of points in a plane the circle in
 * that plane, else the cylinder whose axis is free. Points of a wall, in any order, are accepted with the `way` that
 * its axis goes about. Throws `bad-input` for fewer than five points, or points that are not round at all.
 * Source: Gauss–Newton on the distances, as in Forbes, "Least-squares best-fit geometric elements", NPL report DITC
 * 140/89, 1989.
 */
export function gauge(points: readonly Vec3[], way?: Vec3): Gauged {
  if (points.length < 5)
    throw new MasonError('bad-input', 'A gauge needs five points or more. Pick a boundary with more corners.');
  const mid = scaled(
    points.reduce((s, p) => add(s, p), [0, 0, 0] as Vec3),
    1 / points.length,
  );
  const size = Math.max(...points.map((p) => lengthOf(sub(p, mid))));
  if (!(size > 0)) throw new MasonError('bad-input', 'All points are in one place. Pick another boundary.');
  // Twice the area vector of the run: the way through it.
  const area = points.reduce((n, p, i) => add(n, cross(sub(p, mid), sub(points[(i + 1) % points.length]!, mid))), [
    0, 0, 0,
  ] as Vec3);
  let axis: Vec3 = way ?? unit(lengthOf(area) > 1e-9 * size * size ? area : [0, 0, 1]);
  const flat = points.every((p) => Math.abs(dot(sub(p, mid), axis)) <= IN_PLANE * size);
  let { centre, radius } = circleAcross(points, mid, axis);
  for (let round = 0; round < FIT_ROUNDS; round++) {
    const change = improve(points, axis, centre, flat);
    if (!change) break;
    axis = change.axis;
    centre = change.centre;
    radius = change.radius;
    if (change.by < FIT_SETTLED * radius) break;
  }
  if (!(radius > 0 && radius < 1e3 * size))
    throw new MasonError('bad-input', 'This boundary is not round: no circle fits it. Pick another one.');
  return gaugedBy(points, axis, centre, radius, flat);
}

/** Two unit directions square to an axis. */
function across(axis: Vec3): [Vec3, Vec3] {
  const u = unit(cross(Math.abs(axis[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0], axis));
  return [u, cross(axis, u)];
}

/** A first circle square to an axis: the algebraic fit of Kåsa, 1976. */
function circleAcross(points: readonly Vec3[], mid: Vec3, axis: Vec3): { centre: Vec3; radius: number } {
  const [u, v] = across(axis);
  const rows = points.map((p) => {
    const [x, y] = [dot(sub(p, mid), u), dot(sub(p, mid), v)];
    return { row: [x, y, 1], right: x * x + y * y };
  });
  const s = leastSquares(
    rows.map((r) => r.row),
    rows.map((r) => r.right),
  );
  const [a, b, c] = s ? [s[0]! / 2, s[1]! / 2, s[2]!] : [0, 0, 0];
  return { centre: add(add(mid, u, a), v, b), radius: Math.sqrt(Math.max(0, c + a * a + b * b)) };
}

/** One round of Gauss–Newton on the distances from the axis. */
function improve(
  points: readonly Vec3[],
  axis: Vec3,
  centre: Vec3,
  flat: boolean,
): { axis: Vec3; centre: Vec3; radius: number; by: number } | null {
  const [u, v] = across(axis);
  const rows: number[][] = [];
  const right: number[] = [];
  for (const p of points) {
    const d = sub(p, centre);
    const [x, y, h] = [dot(d, u), dot(d, v), dot(d, axis)];
    const r = Math.hypot(x, y) || 1e-300;
    // By the centre's two places, the radius, and the two tilts of the axis.
    rows.push([-x / r, -y / r, -1, ...(flat ? [] : [(-x / r) * h, (-y / r) * h])]);
    right.push(-r);
  }
  const s = leastSquares(rows, right);
  if (!s) return null;
  const [dx, dy, radius, tu = 0, tv = 0] = s as [number, number, number, number?, number?];
  return {
    centre: add(add(centre, u, dx), v, dy),
    axis: unit(add(add(axis, u, tu), v, tv)),
    radius,
    by: Math.hypot(dx, dy) + Math.hypot(tu, tv) * radius,
  };
}

/**
 * The unknowns that fit all rows best; null where they do not settle them. Normal equations, columns scaled to length
 * 1.
 */
function leastSquares(rows: readonly (readonly number[])[], right: readonly number[]): number[] | null {
  const n = rows[0]!.length;
  const scale = Array.from({ length: n }, (_, j) => Math.hypot(...rows.map((r) => r[j]!)) || 1);
  const m = Array.from({ length: n }, (_, i) => [
    ...Array.from({ length: n }, (_, j) => rows.reduce((s, r) => s + (r[i]! / scale[i]!) * (r[j]! / scale[j]!), 0)),
    rows.reduce((s, r, k) => s + (r[i]! / scale[i]!) * right[k]!, 0),
  ]);
  for (let i = 0; i < n; i++) {
    const best = m.slice(i).reduce((k, row, j) => (Math.abs(row[i]!) > Math.abs(m[k]![i]!) ? i + j : k), i);
    [m[i], m[best]] = [m[best]!, m[i]!];
    if (Math.abs(m[i]![i]!) < 1e-13) return null;
    for (let j = 0; j < n; j++) {
      if (j === i) continue;
      const k = m[j]![i]! / m[i]![i]!;
      for (let c = i; c <= n; c++) m[j]![c]! -= k * m[i]![c]!;
    }
  }
  return m.map((row, i) => row[n]! / row[i]! / scale[i]!);
}

function gaugedBy(points: readonly Vec3[], axis: Vec3, centre: Vec3, radius: number, flat: boolean): Gauged {
  const [u, v] = across(axis);
  const seen = points.map((p) => {
    const d = sub(p, centre);
    return { x: dot(d, u), y: dot(d, v), h: dot(d, axis) };
  });
  const r = seen.map(({ x, y }) => Math.hypot(x, y));
  const departures = Float64Array.from(r, (x) => x - radius);
  const heights = seen.map((s) => s.h);
  const h0 = heights.reduce((a, b) => a + b, 0) / heights.length;
  const spread = heights.reduce((s, h) => s + (h - h0) ** 2, 0);
  const taper =
    spread > (1e-4 * radius) ** 2 * points.length
      ? heights.reduce((s, h, i) => s + (h - h0) * departures[i]!, 0) / spread
      : 0;
  const angles = Float64Array.from(seen, ({ x, y }) => (Math.atan2(y, x) * 180) / Math.PI);
  const order = [...angles.keys()].sort((i, j) => angles[i]! - angles[j]!);
  const widest = order.reduce((most, i, k) => {
    const gap = (angles[order[(k + 1) % order.length]!]! - angles[i]! + 360) % 360;
    return Math.max(most, Math.min(gap, 180));
  }, 0);
  return {
    radius,
    centre: [...add(centre, axis, h0)],
    axis: [...axis],
    departures,
    angles,
    worst: departures.reduce((m, d) => Math.max(m, Math.abs(d)), 0),
    rms: Math.sqrt(departures.reduce((s, d) => s + d * d, 0) / departures.length),
    outOfRound: Math.max(...r) - Math.min(...r),
    leastZone: leastZone(seen),
    taper,
    sagitta: radius * (1 - Math.cos((widest * Math.PI) / 360)),
    flat,
  };
}

/**
 * The narrowest ring that holds points of a plane, mm. The best centre is sought along the way in which the furthest
 * point comes nearer and the nearest gets further, by steps that are made shorter as nothing is gained; the width is
 * never reported too small.
 */
function leastZone(seen: readonly { x: number; y: number }[]): number {
  let [cx, cy] = [0, 0];
  const look = (x0: number, y0: number) => {
    let [far, near, most, least] = [seen[0]!, seen[0]!, -1, Infinity];
    for (const p of seen) {
      const d = Math.hypot(p.x - x0, p.y - y0);
      if (d > most) [far, most] = [p, d];
      if (d < least) [near, least] = [p, d];
    }
    return { far, near, most, least, width: most - least };
  };
  let now = look(0, 0);
  let best = now.width;
  let step = now.width / 2;
  for (let i = 0; i < ZONE_ROUNDS && step > 1e-15 * now.most; i++) {
    const [fx, fy] = [(now.far.x - cx) / now.most, (now.far.y - cy) / now.most];
    const [nx, ny] = now.least > 0 ? [(now.near.x - cx) / now.least, (now.near.y - cy) / now.least] : [0, 0];
    const [gx, gy] = [fx - nx, fy - ny];
    const g = Math.hypot(gx, gy);
    if (!(g > 0)) break;
    const next = look(cx + (gx / g) * step, cy + (gy / g) * step);
    cx += (gx / g) * step;
    cy += (gy / g) * step;
    if (next.width < best) best = next.width;
    else step *= 0.97;
    now = next;
  }
  return best;
}

/**
 * How much room a straight pin of a diameter has in a hole that was measured: between its skin and the nearest flat,
 * mm; below 0 it does not go in.
 */
export const clearanceOf = (g: Gauged, diameter: number): number => {
  const nearest = g.radius + Math.min(...g.departures) - g.sagitta;
  return nearest - diameter / 2;
};
