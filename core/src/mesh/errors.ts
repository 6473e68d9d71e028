/** Where something went wrong: indices into the mesh, or a point in the part's units (mm). */
export interface Place {
  vertex?: number;
  face?: number;
  point?: readonly [number, number, number];
}

/** Stable codes of what can go wrong; messages may change, codes do not. */
export type MasonErrorCode =
  | 'bad-input' // the data or a parameter cannot be used
  | 'bad-units' // a length or angle could not be read
  | 'bad-file' // a file is damaged, too large, or of an unknown kind
  | 'not-solid' // an operation needs a closed, outward, uncrossed solid
  | 'not-done' // an operation could not be done correctly and gave nothing
  | 'too-large' // an operation would take more memory than is set aside
  | 'cancelled';

/** The one error that operations throw: a code, a sentence for the user, and the place. */
export class MasonError extends Error {
  constructor(
    readonly code: MasonErrorCode,
    message: string,
    readonly place: Place = {},
  ) {
    super(message);
    this.name = 'MasonError';
  }
}

/** What a long operation may tell and ask while it runs. */
export interface OpContext {
  /** Told now and then: how far (0 … 1) and in which stage. */
  progress?: (fraction: number, stage: string) => void;
  /** Looked at now and then: an `AbortSignal`, or anything with the same flag. */
  signal?: { readonly aborted: boolean };
}

/** Throws the error of a cancelled operation when its signal says so. */
export function checkCancelled(ctx: OpContext | undefined): void {
  if (ctx?.signal?.aborted) throw new MasonError('cancelled', 'Cancelled; the part is as it was before.');
}
