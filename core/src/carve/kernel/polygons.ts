import { IntList } from './tables.ts';

/** Faces of a result while it is put together. */
export class Polygons {
  /**
   * Per face: the scene's face that it comes from, whether it was turned over, and 2 × plane + (looks against it), −1
   * if it was not cut.
   */
  readonly source = new IntList(1024);
  readonly flipped = new IntList(1024);
  readonly plane = new IntList(1024);
  /** Per face where it lies, when outlines are scribed: see `zones`. */
  readonly zone = new IntList(1024);
  /** First loop of each face, with the end; first corner of each loop, with the end. */
  readonly faceLoops = new IntList(1024);
  readonly loopStart = new IntList(1024);
  /** Per corner: the vertex, and the scene's corner along whose edge this corner's edge runs (−1 for a new edge). */
  readonly vertex = new IntList(4096);
  readonly corner = new IntList(4096);

  constructor() {
    this.faceLoops.push(0);
    this.loopStart.push(0);
  }

  get faces(): number {
    return this.source.length;
  }

  endLoop(): void {
    this.loopStart.push(this.vertex.length);
  }

  endFace(source: number, flipped: boolean, plane: number, zone: number): void {
    this.source.push(source);
    this.flipped.push(flipped ? 1 : 0);
    this.plane.push(plane);
    this.zone.push(zone);
    this.faceLoops.push(this.loopStart.length - 1);
  }

  /**
   * Adds a closed run of corners; backward when turned over, when the edge that leaves a vertex is the one that came to
   * it.
   */
  loop(vertices: ArrayLike<number>, corners: ArrayLike<number>, from: number, to: number, flipped: boolean): void {
    for (let i = from; i < to; i++) {
      const k = flipped ? to - 1 - (i - from) : i;
      this.vertex.push(vertices[k]!);
      this.corner.push(corners[!flipped ? k : k > from ? k - 1 : to - 1]!);
    }
    this.endLoop();
  }
}
