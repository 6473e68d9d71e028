/** Lets a long piece of work of a worker be stopped: a flag that both sides see, where the browser allows one. */
export class Stopper {
  private flag: Int32Array | null = null;

  /** The flag of the work that was begun last. */
  get current(): Int32Array | null {
    return this.flag;
  }

  /** A new flag for the work that begins; null where there can be none. */
  begin(): Int32Array | null {
    return (this.flag = typeof SharedArrayBuffer === 'function' ? new Int32Array(new SharedArrayBuffer(4)) : null);
  }

  /** Stops the work that was begun last. */
  readonly stop = (): void => {
    if (this.flag) Atomics.store(this.flag, 0, 1);
  };
}
