import { SaidError } from '@dusky-mason/core/mesh';
import type { Part } from '@dusky-mason/core/courses';
import type { Answer, AnswerTo, Ask, FromWorker, ToWorker } from './protocol.ts';

/** A refusal that the worker gave in words. */
export class EngineError extends SaidError {
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}

/** A worker that crashed or ran past its limit; names the course it was at, if any. */
export class EngineLost extends Error {
  constructor(
    readonly why: 'crashed' | 'hung' | 'stopped',
    readonly course: { course: number; name: string } | null,
  ) {
    super(`The worker ${why}.`);
  }
}

/** Questions whose bytes are a file that nobody else needs. */
const HANDED_OVER = new Set<Ask['kind']>(['import', 'readDrawing', 'readProject']);

interface Waiting {
  resolve: (a: Answer) => void;
  reject: (e: Error) => void;
  watch: Watch;
  timer: number;
}

/** Callbacks on the way. */
export interface Watch {
  begun?: (course: { course: number; name: string }) => void;
  progress?: (p: { fraction: number; stage: string }) => void;
}

/**
 * The page's end of one worker. A worker that crashes, or gives no sign within its limit, is ended and a new one is
 * started with the meshes that the old one had been given; what was asked of it is rejected with `EngineLost`.
 */
export class EngineClient {
  private worker: Worker;
  private next = 1;
  private readonly waiting = new Map<number, Waiting>();
  /** The meshes that it was given or asked to load, for the next worker; null for those that it reads itself. */
  private readonly stored = new Map<string, Uint8Array | null>();
  private course: { course: number; name: string } | null = null;

  constructor(
    private readonly start: () => Worker,
    private readonly limit: () => number,
  ) {
    this.worker = this.hire();
  }

  private hire(): Worker {
    const w = this.start();
    w.onmessage = ({ data }: MessageEvent<FromWorker>) => this.hear(data);
    w.onerror = (e) => {
      e.preventDefault();
      this.lose('crashed');
    };
    return w;
  }

  /** The parts that cutters may be linked to, as they are when something is asked. */
  parts: () => readonly Part[] = () => [];

  /**
   * Asks and waits. The bytes of a file to be read are handed over; others are copied, so that the caller keeps them.
   */
  ask<A extends Ask>(ask: A, watch: Watch = {}): Promise<AnswerTo<A>> {
    const id = this.next++;
    if (ask.kind === 'store') this.stored.set(ask.hash, ask.bytes);
    if (ask.kind === 'load') this.stored.set(ask.hash, null);
    return new Promise<Answer>((resolve, reject) => {
      this.waiting.set(id, { resolve, reject, watch, timer: this.alarm() });
      const transfer = HANDED_OVER.has(ask.kind) && 'bytes' in ask ? [ask.bytes.buffer as ArrayBuffer] : [];
      this.worker.postMessage({ id, ask, parts: this.parts() } satisfies ToWorker, transfer);
    }) as Promise<AnswerTo<A>>;
  }

  private alarm(): number {
    return Number(self.setTimeout(() => this.lose('hung'), this.limit()));
  }

  private hear(m: FromWorker): void {
    const w = this.waiting.get(m.id);
    if (!w) return;
    if ('begun' in m) {
      this.course = m.begun;
      w.watch.begun?.(m.begun);
    } else if ('progress' in m) {
      // Long work that makes progress does not count as hanging, nor does work that waits for it.
      for (const x of this.waiting.values()) {
        clearTimeout(x.timer);
        x.timer = this.alarm();
      }
      w.watch.progress?.(m.progress);
    } else {
      this.waiting.delete(m.id);
      clearTimeout(w.timer);
      this.course = null;
      if ('error' in m) w.reject(new EngineError(m.error.code, m.error.message));
      else w.resolve(m.answer);
    }
  }

  /** Ends the worker and starts another; `stopped` when the user cancelled. */
  lose(why: EngineLost['why']): void {
    this.worker.terminate();
    const course = this.course;
    this.course = null;
    const left = [...this.waiting.values()];
    this.waiting.clear();
    this.worker = this.hire();
    for (const [hash, bytes] of this.stored)
      void this.ask(bytes ? { kind: 'store', hash, bytes } : { kind: 'load', hash }).catch(() => undefined);
    for (const w of left) {
      clearTimeout(w.timer);
      w.reject(new EngineLost(why, course));
    }
  }
}
