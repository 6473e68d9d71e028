import { add, cross, dot, lengthOf, scaled, sub, unit, type Vec3 } from '../../mesh/index.ts';
import type { BevelNode, Nodes } from './nodes.ts';

/** A row of vertices across a strip, and the normals that light sees on it. */
export interface Row {
  ids: readonly number[];
  normals: readonly Vec3[];
}

/** Roundings of a smaller angle (radians) are drawn nearer to the chord, as their tangents meet far away or nowhere. */
const SHALLOW = 0.35;
/** Tangent planes nearer to parallel than this (squared sine) do not meet. */
const NO_MEETING = 1e-6;

/**
 * A point of a drawn profile, which is drawn from one side of a strip to its middle and is the same on the other half:
 * how far along, 0 … 1, and how far out from the straight line between both sides, as a share of how far out the
 * tangents meet.
 */
export type ProfilePoint = readonly [along: number, out: number];
/** −1 hollow, 0 straight, 1 round, 2 out to where the tangents meet, and between; or as it is drawn. */
export type Profile = number | readonly ProfilePoint[];

/** Whether the last point of a drawn profile stands in the middle of the strip. */
const toMiddle = (drawn: readonly ProfilePoint[]): boolean => drawn.at(-1)?.[0] === 1;

/** The parts of a strip with a drawn profile. */
export const drawnSegments = (drawn: readonly ProfilePoint[]): number => 2 * drawn.length + (toMiddle(drawn) ? 0 : 1);

/** As `rowWeights`, of a drawn profile. */
function drawnWeights(drawn: readonly ProfilePoint[]): [number, number, number][] {
  const half = drawn.map(([along, out]): [number, number, number] => [
    1 - along / 2 - out / 2,
    out,
    along / 2 - out / 2,
  ]);
  const other = half.slice(0, toMiddle(drawn) ? -1 : undefined).reverse();
  return [[1, 0, 0], ...half, ...other.map(([a, k, b]): [number, number, number] => [b, k, a]), [0, 0, 1]];
}

/**
 * How much of the two ends of a row, and of the place where their tangents meet, each vertex of it takes: a circle's
 * arc of an angle (radians) as a rational curve of second degree.
 */
export function rowWeights(angle: number, segments: number, profile: Profile): [number, number, number][] {
  if (typeof profile !== 'number') return drawnWeights(profile);
  return Array.from({ length: segments + 1 }, (_, k): [number, number, number] => {
    const t = k / segments;
    const chord: [number, number, number] = [1 - t, 0, t];
    if (k === 0 || k === segments || profile === 0) return chord;
    let arc: [number, number, number];
    if (angle < 1e-3) arc = [(1 - t) ** 2, 2 * t * (1 - t), t * t];
    else {
      const [c, s] = [Math.cos(angle / 2), Math.sin(angle / 2)];
      const turn = angle * (t - 0.5);
      const mid = (Math.cos(turn) - c) / (1 / c - c);
      const lean = Math.sin(turn) / s;
      arc = [(1 - mid - lean) / 2, mid, (1 - mid + lean) / 2];
    }
    const full: [number, number, number] = t < 0.5 ? [1 - 2 * t, 2 * t, 0] : [0, 2 - 2 * t, 2 * t - 1];
    // Hollow is the arc on the other side of the chord: it bends about what lies opposite to where the tangents meet.
    const hollow: [number, number, number] = [arc[0] + arc[1], -arc[1], arc[2] + arc[1]];
    const [from, to, share] =
      profile > 1 ? [arc, full, profile - 1] : [chord, profile < 0 ? hollow : arc, Math.abs(profile)];
    return from.map((x, i) => x + (to[i]! - x) * share) as [number, number, number];
  });
}

/** The rows of all strips: two strips that end at the same two nodes share one. */
export class Rows {
  private readonly known = new Map<string, number[]>();

  constructor(
    private readonly nodes: Nodes,
    private readonly segments: number,
    private readonly profile: Profile,
  ) {}

  /**
   * The vertices between two nodes, from the first one to the second; `meet` is where the tangents meet, where it is
   * known, with the angle between them.
   */
  between(a: BevelNode, b: BevelNode, meet?: { at: Vec3; angle: number }): number[] {
    const [low, high] = a.id < b.id ? [a, b] : [b, a];
    const key = `${low.id},${high.id}`;
    let ids = this.known.get(key);
    if (!ids) this.known.set(key, (ids = this.make(low, high, meet)));
    return a.id === low.id ? ids : [...ids].reverse();
  }

  private make(a: BevelNode, b: BevelNode, meet?: { at: Vec3; angle: number }): number[] {
    if (a.id === b.id) return Array.from({ length: this.segments + 1 }, () => a.id);
    const { at, angle } = meet ?? tangentsMeet(a, b);
    const weights = rowWeights(angle, this.segments, this.profile);
    return weights.map((w, k) => {
      if (k === 0) return a.id;
      if (k === this.segments) return b.id;
      return this.nodes.place(add(add(scaled(a.at, w[0]), at, w[1]), b.at, w[2]));
    });
  }
}

/** The place on the tangent planes of two nodes that is nearest to their middle, and the angle between the planes. */
function tangentsMeet(a: BevelNode, b: BevelNode): { at: Vec3; angle: number } {
  const axis = cross(a.normal, b.normal);
  const square = dot(axis, axis);
  const angle = Math.atan2(Math.sqrt(square), dot(a.normal, b.normal));
  const middle = scaled(add(a.at, b.at), 0.5);
  if (square < NO_MEETING) return { at: middle, angle };
  const off = [dot(a.normal, sub(a.at, middle)) / square, dot(b.normal, sub(b.at, middle)) / square] as const;
  const way = add(scaled(cross(b.normal, axis), off[0]), cross(axis, a.normal), off[1]);
  const most = 0.75 * lengthOf(sub(a.at, b.at)) * Math.tan(angle / 2);
  const far = lengthOf(way);
  return { at: add(middle, way, angle < SHALLOW && far > most ? most / far : 1), angle };
}

/** Normals turned evenly from one to another, `segments` + 1 of them. */
export function turnedNormals(from: Vec3, to: Vec3, segments: number): Vec3[] {
  const angle = Math.atan2(lengthOf(cross(from, to)), dot(from, to));
  const s = Math.sin(angle);
  return Array.from({ length: segments + 1 }, (_, k) => {
    const t = k / segments;
    if (s < 1e-9) return unit(add(scaled(from, 1 - t), to, t));
    return unit(add(scaled(from, Math.sin((1 - t) * angle) / s), to, Math.sin(t * angle) / s));
  });
}
