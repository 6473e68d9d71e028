/** A point or a direction. */
export type Vec3 = readonly [number, number, number];

/** The main axes by their names, and the names in their order. */
export const AXES = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] } as const;
export const AXIS_NAMES = ['x', 'y', 'z'] as const;

export const sub = (a: Vec3, b: Vec3): [number, number, number] => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
/** a + k · b. */
export const add = (a: Vec3, b: Vec3, k = 1): [number, number, number] => [
  a[0] + k * b[0],
  a[1] + k * b[1],
  a[2] + k * b[2],
];
export const scaled = (a: Vec3, k: number): [number, number, number] => [k * a[0], k * a[1], k * a[2]];
export const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const cross = (a: Vec3, b: Vec3): [number, number, number] => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
export const lengthOf = (a: Vec3): number => Math.hypot(a[0], a[1], a[2]);
/** The same direction with length 1; the zero vector stays. */
export const unit = (a: Vec3): [number, number, number] => scaled(a, 1 / (lengthOf(a) || 1));
/** The turn about a unit axis by an angle given by its cosine and sine. Rodrigues. */
export const turnAbout =
  (axis: Vec3, cos: number, sin: number) =>
  (v: Vec3): [number, number, number] =>
    add(add(scaled(v, cos), cross(axis, v), sin), axis, dot(axis, v) * (1 - cos));
/** The place of the stretch from a to b that is nearest to p: its share of the way from a, and how far p is from it. */
export function nearestOn(p: Vec3, a: Vec3, b: Vec3): { share: number; distance: number } {
  const e = sub(b, a);
  const share = Math.max(0, Math.min(1, dot(sub(p, a), e) / (dot(e, e) || 1)));
  return { share, distance: lengthOf(sub(p, add(a, e, share))) };
}
