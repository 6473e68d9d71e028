import type { Project } from '@dusky-mason/core/courses';
import type { KeptHistory } from './history.ts';
import { cutJournal, keepEntry, keepProject, type Entry, type Opened } from './storage.ts';

/** The whole document is written once edits rest for so long, ms, and at the latest after so many of them. */
const RESTS = 1500;
const MOST_ENTRIES = 60;

/** What is written as a whole, once it is time. */
interface Whole {
  project: Project;
  history: KeptHistory;
  thumbnail?: string;
}

/**
 * Keeps the project that is open. Each change is one small entry of a journal, written at once; the document, its
 * picture and its place in the list follow when edits rest. No change waits for another write, and none is dropped.
 */
export class Keeper {
  private seq: number;
  private beside: 0 | 1;
  /** Entries that no whole document holds yet. */
  private since = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly writing = new Set<Promise<void>>();
  private failed = false;
  /** What an earlier life of the project left behind goes first. */
  private readonly ready: Promise<void>;
  /** One whole document is written after the other. */
  private wholes: Promise<void> = Promise.resolve();

  constructor(
    private readonly id: string,
    opened: Opened,
    private readonly whole: () => Whole,
    /** Told of how writing goes; 'saving' until all that was handed over is written. */
    private readonly report: (state: 'saving' | 'saved' | 'failed') => void,
  ) {
    this.seq = opened.seq;
    this.beside = opened.generation;
    this.ready = cutJournal(id, opened.seq).then(
      () => undefined,
      () => undefined,
    );
  }

  private track(job: Promise<unknown>): Promise<void> {
    this.report('saving');
    const tracked: Promise<void> = job
      .then(
        () => undefined,
        () => {
          this.failed = true;
        },
      )
      .then(() => {
        this.writing.delete(tracked);
        if (!this.writing.size) this.report(this.failed ? 'failed' : 'saved');
      });
    this.writing.add(tracked);
    return tracked;
  }

  /** Writes what was done to the journal, at once. */
  note(entry: Entry): void {
    this.failed = false;
    const seq = ++this.seq;
    this.since++;
    void this.track(this.ready.then(() => keepEntry(this.id, seq, entry)));
    clearTimeout(this.timer);
    if (this.since >= MOST_ENTRIES) void this.settle();
    else this.timer = setTimeout(() => void this.settle(), RESTS);
  }

  /**
   * Writes the whole document, if anything has changed since it was written; resolves when all that was handed over is
   * written.
   */
  async settle(): Promise<void> {
    clearTimeout(this.timer);
    if (this.since) {
      const { project, history, thumbnail } = this.whole();
      const { seq, since } = this;
      this.since = 0;
      this.wholes = this.wholes.then(() =>
        this.track(
          keepProject(project, thumbnail, { seq, history, beside: this.beside }).then(
            () => {
              this.beside = this.beside ? 0 : 1;
            },
            (e: unknown) => {
              // It is tried again after the next change.
              this.since += since;
              throw e;
            },
          ),
        ),
      );
    }
    await this.wholes;
    await Promise.all(this.writing);
  }
}
