/** Fewest and most cells of a recasting along the longest side. */
export const LEAST_CELLS = 8;
export const MOST_CELLS = 256;
