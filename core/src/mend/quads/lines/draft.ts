import type { Flat } from '../../../mesh/index.ts';
import { ringArea } from '../flatMesh.ts';

/** Points and quads that are being laid out. */
export class Draft {
  readonly points: Flat[] = [];
  /** Points that may move: those of bands, and such as lines were loosened at. */
  readonly free: boolean[] = [];
  readonly quads: number[][] = [];

  point(p: Flat, free = false): number {
    this.free.push(free);
    return this.points.push(p) - 1;
  }

  /** Adds a quad, turned so that it runs to the left. */
  quad(a: number, b: number, c: number, d: number): void {
    const q = [a, b, c, d];
    this.quads.push(ringArea(this.places(q)) < 0 ? q.reverse() : q);
  }

  places(q: readonly number[]): Flat[] {
    return q.map((v) => this.points[v]!);
  }
}

export const squared = (a: Flat, b: Flat): number => (a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2;
