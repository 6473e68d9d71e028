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

/** An error whose message is a sentence for the person at the screen. */
export class SaidError extends Error {
  readonly saidToUser = true;
}

/** The one error that operations throw: a code, a sentence for the user, and the place. */
export class MasonError extends SaidError {
  constructor(
    readonly code: MasonErrorCode,
    message: string,
    readonly place: Place = {},
  ) {
    super(message);
    this.name = 'MasonError';
  }
}

/**
 * The sentence shown to a user about any error: that of a `MasonError`, and a general one for all others, as their own
 * texts are for programmers.
 */
export function sentenceOf(e: unknown): string {
  if (e instanceof Error && 'saidToUser' in e) return e.message;
  if (e instanceof RangeError && /call stack/i.test(e.message))
    return 'This goes too deep: too many things are linked in a row, or lie within each other. Use fewer.';
  if (e instanceof RangeError && /array|buffer|length|memory/i.test(e.message))
    return 'There is not enough memory for this. Use fewer faces, or close other pages.';
  if (typeof e === 'object' && e !== null && 'name' in e && e.name === 'QuotaExceededError')
    return 'The storage of this browser is full. Delete a project in the Yard, or write this one to a file on Dispatch.';
  return 'Something went wrong in Dusky Mason itself; nothing of yours is lost. Undo the last thing, or do it in another way.';
}
