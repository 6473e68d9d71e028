import * as THREE from 'three';
import { offPlane, type Grid, type Point2, type Sketch } from '@dusky-mason/core/shapes';
import { LIMESTONE, OCHRE, VERDIGRIS } from '../theme/colours.ts';
import { disposeTree, overlayLines } from './lines.ts';

/** Lines of a grid to each side; a finer grid is drawn by its tenth lines. */
const MOST_LINES = 60;

/** What is drawn over the part while an outline is drawn on it. */
export interface Shown {
  plane: Sketch;
  grid: Grid | null;
  /** How far the grid is drawn, mm. */
  reach: number;
  points: readonly Point2[];
  closed: boolean;
  /** The place that the pointer means, and how large its mark is, mm. */
  mark: Point2 | null;
  size: number;
  /** How far the outline is pulled, mm along the normal. */
  pull: number;
  /** Where the outline lands on the part, as lines; empty where it is not known or lies in the face. */
  landed: Float64Array;
  /** Whether the plane's up axis is what the outline is turned about. */
  axis: boolean;
}

/** The plane that is drawn on: its face’s boundary, its grid, the outline so far, and where it is pulled to. */
export class SketchLayer {
  readonly group = new THREE.Group();

  show(s: Shown | null): void {
    disposeTree(this.group);
    this.group.clear();
    if (!s) return;
    const at = (p: Point2, height = 0) => offPlane(s.plane, p, height);
    if (s.grid)
      this.add(
        gridLines(s.grid, s.reach).flatMap(([a, b]) => [at(a), at(b)]),
        LIMESTONE,
        0.16,
      );
    for (const loop of s.plane.boundaries)
      this.add(
        ring(loop).flatMap(([a, b]) => [at(a), at(b)]),
        LIMESTONE,
        0.55,
      );
    if (s.axis) this.add([at([0, -2 * s.reach]), at([0, 2 * s.reach])], OCHRE, 0.9);
    if (s.landed.length) this.group.add(overlayLines([...s.landed], OCHRE, 0.9));
    const run = s.closed ? ring(s.points) : ring(s.points).slice(0, -1);
    this.add(
      run.flatMap(([a, b]) => [at(a), at(b)]),
      VERDIGRIS,
      1,
    );
    if (s.pull !== 0) {
      this.add(
        run.flatMap(([a, b]) => [at(a, s.pull), at(b, s.pull)]),
        VERDIGRIS,
        1,
      );
      const step = Math.max(1, Math.ceil(s.points.length / 16));
      this.add(
        s.points.filter((_, i) => i % step === 0).flatMap((p) => [at(p), at(p, s.pull)]),
        VERDIGRIS,
        0.6,
      );
    }
    if (s.mark) {
      const [x, y] = s.mark;
      const k = s.size;
      this.add(
        [
          [x - k, y],
          [x, y + k],
          [x, y + k],
          [x + k, y],
          [x + k, y],
          [x, y - k],
          [x, y - k],
          [x - k, y],
        ].map((p) => at(p as Point2)),
        OCHRE,
        1,
      );
    }
  }

  private add(places: readonly (readonly number[])[], color: number, opacity: number): void {
    if (!places.length) return;
    this.group.add(overlayLines(places.flat(), color, opacity));
  }
}

const ring = (points: readonly Point2[]): [Point2, Point2][] =>
  points.map((p, i) => [p, points[(i + 1) % points.length]!]);

function gridLines({ step: set, turn, origin }: Grid, reach: number): [Point2, Point2][] {
  let step = set;
  while (reach / step > MOST_LINES) step *= 10;
  const n = Math.ceil(reach / step);
  const a = (turn * Math.PI) / 180;
  const [c, s] = [Math.cos(a), Math.sin(a)];
  const at = (u: number, v: number): Point2 => [origin[0] + c * u - s * v, origin[1] + s * u + c * v];
  const end = n * step;
  return Array.from({ length: 2 * n + 1 }, (_, i) => (i - n) * step).flatMap((k): [Point2, Point2][] => [
    [at(k, -end), at(k, end)],
    [at(-end, k), at(end, k)],
  ]);
}
