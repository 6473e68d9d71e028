/** Samples of a pixel where edges are smoothed. */
const PIXEL_SAMPLES = 4;
/** How long to wait before asking again whether a frame is drawn, ms. */
const ASK_AGAIN = 5;

interface Target {
  framebuffer: WebGLFramebuffer;
  buffers: WebGLRenderbuffer[];
  width: number;
  height: number;
}

/**
 * Where frames are drawn before they are shown. A canvas that was drawn on holds up the page until it is through,
 * wherever the processor draws; so there a frame is shown only when it is ready, and the page goes on meanwhile. The
 * renderer takes this place for the canvas's own.
 */
export class FrameStore {
  private target: Target | null = null;
  private waiting: ReturnType<typeof setTimeout> | null = null;

  constructor(
    private readonly gl: WebGL2RenderingContext,
    private readonly smooth: boolean,
    /** Whether a frame is waited for before it is shown. */
    private readonly patient: boolean,
  ) {
    gl.canvas.addEventListener('webglcontextlost', () => (this.target = null));
  }

  /** Clears the canvas, whose ground shines through until a frame is there: one that was never drawn on is black. */
  blank(): void {
    const { gl } = this;
    gl.bindFramebuffer(gl.FRAMEBUFFER, null);
    gl.clearColor(0, 0, 0, 0);
    gl.clear(gl.COLOR_BUFFER_BIT);
  }

  /** Whether a frame is being drawn: another one would only wait behind it. */
  get busy(): boolean {
    return this.waiting !== null;
  }

  /**
   * Draws now, or, where frames are waited for, when the one before it has left the canvas: that would wait for what is
   * drawn now.
   */
  turn(draw: () => void): void {
    if (this.patient) this.waiting = setTimeout(draw);
    else draw();
  }

  /** What is drawn from here on goes into the next frame. */
  begin(): void {
    const { gl } = this;
    this.waiting = null;
    const [width, height] = [gl.drawingBufferWidth, gl.drawingBufferHeight];
    if (this.target?.width !== width || this.target.height !== height) {
      this.release(this.target);
      this.target = this.make(
        width,
        height,
        this.smooth ? Math.min(PIXEL_SAMPLES, gl.getParameter(gl.MAX_SAMPLES) as number) : 0,
        true,
      );
    }
    gl.bindFramebuffer(gl.FRAMEBUFFER, this.target.framebuffer);
  }

  /** Shows what was drawn since it was begun; resolves when it is on the canvas. */
  show(shown: () => void): void {
    const { gl } = this;
    const done = this.patient ? gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0) : null;
    gl.bindFramebuffer(gl.FRAMEBUFFER, null);
    if (!done) {
      this.copy(null);
      shown();
      return;
    }
    gl.flush();
    const ask = (): void => {
      if (gl.clientWaitSync(done, 0, 0) === gl.TIMEOUT_EXPIRED) {
        this.waiting = setTimeout(ask, ASK_AGAIN);
        return;
      }
      this.waiting = null;
      gl.deleteSync(done);
      this.copy(null);
      shown();
    };
    this.waiting = setTimeout(ask, ASK_AGAIN);
  }

  /** Lets what was drawn so far be read, one sample a pixel. */
  read(reading: (width: number, height: number) => void): void {
    const { gl, target } = this;
    if (!target) return;
    const plain = this.make(target.width, target.height, 0, false);
    this.copy(plain.framebuffer);
    gl.bindFramebuffer(gl.FRAMEBUFFER, plain.framebuffer);
    reading(target.width, target.height);
    gl.bindFramebuffer(gl.FRAMEBUFFER, target.framebuffer);
    this.release(plain);
  }

  dispose(): void {
    if (this.waiting !== null) clearTimeout(this.waiting);
    this.waiting = null;
    this.release(this.target);
    this.target = null;
  }

  private copy(into: WebGLFramebuffer | null): void {
    const { gl, target } = this;
    if (!target) return;
    const { width, height } = target;
    gl.bindFramebuffer(gl.READ_FRAMEBUFFER, target.framebuffer);
    gl.bindFramebuffer(gl.DRAW_FRAMEBUFFER, into);
    // The scissors of the last drawing would cut it.
    const cut = gl.isEnabled(gl.SCISSOR_TEST);
    if (cut) gl.disable(gl.SCISSOR_TEST);
    gl.blitFramebuffer(0, 0, width, height, 0, 0, width, height, gl.COLOR_BUFFER_BIT, gl.NEAREST);
    if (cut) gl.enable(gl.SCISSOR_TEST);
    gl.bindFramebuffer(gl.FRAMEBUFFER, null);
  }

  private make(width: number, height: number, samples: number, depth: boolean): Target {
    const { gl } = this;
    const framebuffer = gl.createFramebuffer();
    gl.bindFramebuffer(gl.FRAMEBUFFER, framebuffer);
    const attach = (format: number, at: number): WebGLRenderbuffer => {
      const buffer = gl.createRenderbuffer();
      gl.bindRenderbuffer(gl.RENDERBUFFER, buffer);
      gl.renderbufferStorageMultisample(gl.RENDERBUFFER, samples, format, width, height);
      gl.framebufferRenderbuffer(gl.FRAMEBUFFER, at, gl.RENDERBUFFER, buffer);
      return buffer;
    };
    const buffers = [attach(gl.RGBA8, gl.COLOR_ATTACHMENT0)];
    if (depth) buffers.push(attach(gl.DEPTH_COMPONENT24, gl.DEPTH_ATTACHMENT));
    return { framebuffer, buffers, width, height };
  }

  private release(target: Target | null): void {
    if (!target) return;
    target.buffers.forEach((b) => this.gl.deleteRenderbuffer(b));
    this.gl.deleteFramebuffer(target.framebuffer);
  }
}
