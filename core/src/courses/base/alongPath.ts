import {
  MasonError,
  add,
  dot,
  lengthOf,
  placementAffine,
  sub,
  turnAbout,
  turnOfAxes,
  unit,
  type Placement,
  type Vec3,
} from '../../mesh/index.ts';

/** Settings of a repeat along an outline: see `RepeatSchema`. */
interface Along {
  path: readonly Vec3[];
  loop: boolean;
  count: number;
  spaced: 'even' | 'step';
  pathStep: number;
  follow: boolean;
}

/** Rounding has left its mark on zeros. */
const tidy = (v: readonly number[]): [number, number, number] =>
  v.map((x) => +x.toFixed(9) + 0) as [number, number, number];

/**
 * Where instance i of a placement stands along an outline. The placement itself is at the outline's place nearest to
 * it; the others keep their distance and, when they follow, their angle to the outline, turned about their own z.
 * Beyond the end of an open outline they go straight on.
 * Throws `bad-input` for a boundary without length.
 */
export function alongPath(p: Placement, r: Along, i: number): Placement {
  const path = new Path(r.path, r.loop);
  const from = path.nearest(p.position);
  const room = r.loop ? path.length / r.count : (path.length - from) / Math.max(1, r.count - 1);
  const [a, b] = [path.at(from), path.at(from + i * (r.spaced === 'step' ? r.pathStep : room))];
  const m = placementAffine({ ...p, scale: [1, 1, 1] });
  const [x, y, z] = [0, 1, 2].map((k): Vec3 => [m[k]!, m[4 + k]!, m[8 + k]!]) as [Vec3, Vec3, Vec3];
  const away = sub(p.position, a.point);
  if (!r.follow) return { ...p, position: tidy(add(b.point, away)) };
  // The angle between both directions, seen along its own z.
  const angleOf = (t: Vec3) => Math.atan2(dot(t, y), dot(t, x));
  const angle = angleOf(b.way) - angleOf(a.way);
  const turn = turnAbout(z, Math.cos(angle), Math.sin(angle));
  const axes = [turn(x), turn(y), z];
  return {
    ...p,
    position: tidy(add(b.point, turn(away))),
    turn: turnOfAxes(axes),
  };
}

/** A run of straight pieces in space, by the length along it. */
class Path {
  private readonly ends: { from: Vec3; way: Vec3; length: number; start: number }[] = [];
  readonly length: number;

  constructor(
    points: readonly Vec3[],
    private readonly loop: boolean,
  ) {
    let start = 0;
    for (let i = 0; i < (loop ? points.length : points.length - 1); i++) {
      const d = sub(points[(i + 1) % points.length]!, points[i]!);
      const length = lengthOf(d);
      if (!(length > 0)) continue;
      this.ends.push({ from: points[i]!, way: unit(d), length, start });
      start += length;
    }
    this.length = start;
    if (!this.ends.length)
      throw new MasonError('bad-input', 'There is no boundary yet to repeat along. Pick an edge of it.');
  }

  /** The place nearest to a point, as the length along the run, mm. */
  nearest(p: Vec3): number {
    let [best, least] = [0, Infinity];
    for (const { from, way, length, start } of this.ends) {
      const t = Math.max(0, Math.min(length, dot(sub(p, from), way)));
      const d = lengthOf(sub(p, add(from, way, t)));
      if (d < least) [best, least] = [start + t, d];
    }
    return best;
  }

  /** The place so many mm along, and the direction there. */
  at(s: number): { point: Vec3; way: Vec3 } {
    const along = this.loop ? ((s % this.length) + this.length) % this.length : s;
    const end = this.ends.find((e) => along < e.start + e.length) ?? this.ends.at(-1)!;
    return { point: add(end.from, end.way, along - end.start), way: end.way };
  }
}
