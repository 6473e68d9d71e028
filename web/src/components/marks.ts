/**
 * The marks of operations, as strokes on a field of 24: a line of stone, and what a chisel does to it. A notch takes away, a
 * peak adds, a lozenge between two lines keeps what is common; a standing block is a base.
 */
export const MARKS = {
  shape: ['M5 19V6h14v13', 'M3 19h18'],
  subtract: ['M3 9h5l4 8 4-8h5'],
  union: ['M3 16h5l4-9 4 9h5'],
  intersect: ['M3 5h18', 'M3 19h18', 'M12 8l4 4-4 4-4-4z'],
} as const;
export type MarkName = keyof typeof MARKS;

/** What an operation does, in one word. */
export const OPERATION_WORDS = { subtract: 'remove', union: 'add', intersect: 'keep' } as const;

/** The same at length. */
export const OPERATION_SAYS = {
  subtract: 'Takes the cutter out of the part',
  union: 'Adds the cutter to the part',
  intersect: 'Keeps only what part and cutter share',
} as const;
