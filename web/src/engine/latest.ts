/**
 * Runs the newest request only: while one is under way, later ones replace each other, and the one under way is
 * stopped. So a dragged cutter is followed as fast as it can be computed, without a queue.
 */
export class Latest<T> {
  private running = false;
  private waiting: T | null = null;

  constructor(
    private readonly run: (request: T) => Promise<void>,
    private readonly stop: () => void,
  ) {}

  request(r: T): void {
    if (this.running) {
      this.waiting = r;
      this.stop();
      return;
    }
    void this.go(r);
  }

  private async go(r: T): Promise<void> {
    this.running = true;
    try {
      await this.run(r);
    } finally {
      this.running = false;
      const next = this.waiting;
      this.waiting = null;
      if (next !== null) void this.go(next);
    }
  }
}
