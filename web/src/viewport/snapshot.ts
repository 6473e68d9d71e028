/** Size of a project's picture, pixels. */
const WIDTH = 320;
const HEIGHT = 200;
/** Taken at most this often, ms: reading back a frame costs time. */
const EVERY = 1000;

/** The last frame, small: what the Yard shows of a project. */
export class Snapshot {
  private readonly small = document.createElement('canvas');
  private last = -EVERY;

  constructor() {
    this.small.width = WIDTH;
    this.small.height = HEIGHT;
  }

  /** Copies a frame that was just drawn. */
  take(from: HTMLCanvasElement): void {
    const now = performance.now();
    if (now - this.last < EVERY || !from.width || !from.height) return;
    this.last = now;
    const k = Math.max(from.width / WIDTH, from.height / HEIGHT);
    const [w, h] = [WIDTH * k, HEIGHT * k];
    const c = this.small.getContext('2d')!;
    c.clearRect(0, 0, WIDTH, HEIGHT);
    c.drawImage(from, (from.width - w) / 2, (from.height - h) / 2, w, h, 0, 0, WIDTH, HEIGHT);
  }

  /** The picture as a data address; undefined before the first frame. */
  address(): string | undefined {
    return this.last < 0 ? undefined : this.small.toDataURL('image/png');
  }
}
