import { meshFromFaces, type FaceBoundaries, type PolyMesh } from '../mesh/index.ts';

/** Collects vertices and faces of a shape while it is made. */
export class ShapeBuilder {
  private readonly positions: number[] = [];
  private readonly faces: FaceBoundaries[] = [];

  /** Adds a vertex (mm) and returns its number. */
  vertex(x: number, y: number, z: number): number {
    this.positions.push(x, y, z);
    return this.positions.length / 3 - 1;
  }

  /** Adds a face of one outline, or of an outer outline and inner ones, counter-clockwise from outside. */
  face(outlines: FaceBoundaries): void {
    this.faces.push(outlines);
  }

  /**
   * Quads between two rings of equal length; the upper ring stands to the left of the lower one's direction of walk.
   */
  band(lower: readonly number[], upper: readonly number[], closed = true): void {
    const n = lower.length;
    for (let i = 0; i < (closed ? n : n - 1); i++) {
      const j = (i + 1) % n;
      this.face([lower[i]!, lower[j]!, upper[j]!, upper[i]!]);
    }
  }

  mesh(): PolyMesh {
    return meshFromFaces(this.positions, this.faces);
  }
}

/** Point i of n on a circle, starting on the x axis, counter-clockwise; exact where it meets an axis. */
export function circlePoint(i: number, n: number, radius: number): [number, number] {
  const quarter = (4 * i) / n;
  if (Number.isInteger(quarter)) {
    const q = ((quarter % 4) + 4) % 4;
    return [radius * [1, 0, -1, 0][q]!, radius * [0, 1, 0, -1][q]!];
  }
  const a = (2 * Math.PI * i) / n;
  return [radius * Math.cos(a), radius * Math.sin(a)];
}
