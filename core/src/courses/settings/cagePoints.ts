import { placementAffine, type Placement, type Vec3 } from '../../mesh/index.ts';
import type { StrokeParams } from './strokes.ts';

type Cage = Pick<StrokeParams<'cage'>, 'x' | 'y' | 'z' | 'moves'>;
export type CagePoint = [number, number, number];
/** Points of a cage: along each side one of its places, or all of them (null). */
export type CageChoice = readonly [number | null, number | null, number | null];

/**
 * The points of a cage that a choice holds, where they are now (mm), and how far each was moved; `rest` is where all of
 * them are without their moves.
 */
export function chosenPoints(
  cage: Cage,
  rest: readonly Vec3[],
  choice: CageChoice,
): { point: CagePoint; by: Vec3; at: Vec3 }[] {
  const count = [cage.x + 1, cage.y + 1, cage.z + 1] as const;
  const along = (k: 0 | 1 | 2): number[] => {
    const one = choice[k];
    return one === null ? Array.from({ length: count[k] }, (_, i) => i) : [Math.min(one, count[k] - 1)];
  };
  return along(0).flatMap((i) =>
    along(1).flatMap((j) =>
      along(2).flatMap((k) => {
        const from = rest[(i * count[1] + j) * count[2] + k];
        const by = cage.moves.find((m) => m.point[0] === i && m.point[1] === j && m.point[2] === k)?.by ?? [0, 0, 0];
        return from
          ? [
              {
                point: [i, j, k] as CagePoint,
                by: by as unknown as Vec3,
                at: from.map((x, q) => x + by[q]!) as unknown as Vec3,
              },
            ]
          : [];
      }),
    ),
  );
}

/** The box of some points: its middle and its size, mm. */
export function boxOfPoints(points: readonly { at: Vec3 }[]): { middle: Vec3; size: Vec3 } {
  const ends = ([0, 1, 2] as const).map(
    (k) => [Math.min(...points.map((p) => p.at[k])), Math.max(...points.map((p) => p.at[k]))] as const,
  );
  return {
    middle: ends.map(([a, b]) => (a + b) / 2) as unknown as Vec3,
    size: ends.map(([a, b]) => b - a) as unknown as Vec3,
  };
}

/**
 * The moves of a cage after some of its points were moved, scaled and turned together about the middle of their box: to
 * a placement, by a factor along each axis.
 */
export function movedPoints(
  cage: Cage,
  points: ReturnType<typeof chosenPoints>,
  to: Placement,
  factor: Vec3,
): Cage['moves'] {
  const { middle } = boxOfPoints(points);
  const a = placementAffine({ ...to, scale: undefined });
  const chosen = new Set(points.map(({ point }) => point.join()));
  const next = points.map(({ point, by, at }) => {
    const rel = at.map((x, k) => (x - middle[k]!) * factor[k]!);
    const now = [0, 1, 2].map(
      (k) => a[4 * k]! * rel[0]! + a[4 * k + 1]! * rel[1]! + a[4 * k + 2]! * rel[2]! + a[4 * k + 3]!,
    );
    return { point, by: by.map((x, k) => +(x + now[k]! - at[k]!).toFixed(9) + 0) as [number, number, number] };
  });
  return [
    ...cage.moves.filter((m) => !chosen.has(m.point.join())),
    ...next.filter(({ by }) => by.some((x) => x !== 0)),
  ];
}
