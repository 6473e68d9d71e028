import type { FrameStore } from './frameStore.ts';

/** Size of a project's picture, pixels. */
const WIDTH = 320;
const HEIGHT = 200;
/** Taken at most this often, ms: reading back a frame costs time. */
const TAKEN_EVERY = 1000;
/** How long to wait before asking again whether a frame was drawn, ms. */
const ASK_AGAIN = 40;

/** The last frame, small: what the Yard shows of a project. */
export class Snapshot {
  private readonly small = document.createElement('canvas');
  private readonly large = document.createElement('canvas');
  private last = -TAKEN_EVERY;
  private there = false;
  private reading = false;

  constructor() {
    this.small.width = WIDTH;
    this.small.height = HEIGHT;
  }

  /** Copies what was drawn so far, once the graphics card has it ready: to wait for it would hold up the page. */
  take(gl: WebGL2RenderingContext, frames: FrameStore): void {
    const now = performance.now();
    if (this.reading || now - this.last < TAKEN_EVERY) return;
    this.last = now;
    const buffer = gl.createBuffer();
    let [w, h] = [0, 0];
    frames.read((width, height) => {
      [w, h] = [width, height];
      gl.bindBuffer(gl.PIXEL_PACK_BUFFER, buffer);
      gl.bufferData(gl.PIXEL_PACK_BUFFER, 4 * w * h, gl.STREAM_READ);
      gl.readPixels(0, 0, w, h, gl.RGBA, gl.UNSIGNED_BYTE, 0);
      gl.bindBuffer(gl.PIXEL_PACK_BUFFER, null);
    });
    const drawn = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
    gl.flush();
    if (!drawn || !w || !h) {
      gl.deleteSync(drawn);
      gl.deleteBuffer(buffer);
      return;
    }
    this.reading = true;
    const ask = (): void => {
      const state = gl.clientWaitSync(drawn, 0, 0);
      if (state === gl.TIMEOUT_EXPIRED) {
        setTimeout(ask, ASK_AGAIN);
        return;
      }
      this.reading = false;
      gl.deleteSync(drawn);
      // A context that was lost has nothing to give; the picture before it stays.
      if (state !== gl.WAIT_FAILED) {
        const pixels = new Uint8ClampedArray(4 * w * h);
        gl.bindBuffer(gl.PIXEL_PACK_BUFFER, buffer);
        gl.getBufferSubData(gl.PIXEL_PACK_BUFFER, 0, pixels);
        gl.bindBuffer(gl.PIXEL_PACK_BUFFER, null);
        this.shrink(pixels, w, h);
      }
      gl.deleteBuffer(buffer);
    };
    setTimeout(ask, ASK_AGAIN);
  }

  private shrink(pixels: Uint8ClampedArray<ArrayBuffer>, width: number, height: number): void {
    // The canvas holds colours times their opacity; pictures hold them apart.
    for (let i = 0; i < pixels.length; i += 4) {
      const a = pixels[i + 3]!;
      if (a > 0 && a < 255) for (let k = 0; k < 3; k++) pixels[i + k] = (255 * pixels[i + k]!) / a;
    }
    this.large.width = width;
    this.large.height = height;
    this.large.getContext('2d')!.putImageData(new ImageData(pixels, width, height), 0, 0);
    const k = Math.max(width / WIDTH, height / HEIGHT);
    const [w, h] = [WIDTH * k, HEIGHT * k];
    const c = this.small.getContext('2d')!;
    c.clearRect(0, 0, WIDTH, HEIGHT);
    c.save();
    // Rows come from below.
    c.translate(0, HEIGHT);
    c.scale(1, -1);
    c.drawImage(this.large, (width - w) / 2, (height - h) / 2, w, h, 0, 0, WIDTH, HEIGHT);
    c.restore();
    this.there = true;
  }

  /** The picture as a data address; undefined before the first frame. */
  address(): string | undefined {
    return this.there ? this.small.toDataURL('image/png') : undefined;
  }
}
