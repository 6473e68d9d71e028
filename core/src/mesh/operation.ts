import { MasonError } from './errors.ts';
import type { PolyMesh } from './polymesh.ts';

/**
 * What an operation gives. All of them have one shape, `op(mesh, options, ctx?)`: pure, the mesh that goes in is never
 * changed, and what it acts on (edges, faces, vertices) is among its options.
 */
export interface OpResult<Report> {
  mesh: PolyMesh;
  /** What was done, and what was left. */
  report: Report;
}

/** Progress and cancelling of a long operation. */
export interface OpContext {
  /** Called now and then with the progress (0 … 1) and the stage. */
  progress?: (fraction: number, stage: string) => void;
  /** Checked now and then: an `AbortSignal`, or anything with the same flag. */
  signal?: { readonly aborted: boolean };
}

/** A context for a part of a long job: its progress from 0 to 1 is mapped between two shares of the whole. */
export function partOf(ctx: OpContext | undefined, from: number, to: number): OpContext {
  return { signal: ctx?.signal, progress: (share, stage) => ctx?.progress?.(from + (to - from) * share, stage) };
}

/** A context whose progress never falls, for work that may start again. */
export function risingOnly(ctx: OpContext | undefined): OpContext {
  let reached = 0;
  return {
    signal: ctx?.signal,
    progress: (share, stage) => ctx?.progress?.((reached = Math.max(reached, share)), stage),
  };
}

/** Throws the error of a cancelled operation when its signal says so. */
export function checkCancelled(ctx: OpContext | undefined): void {
  if (ctx?.signal?.aborted) throw new MasonError('cancelled', 'Cancelled; the part is as it was before.');
}
