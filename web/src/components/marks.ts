/**
 * The marks of operations, as strokes on a field of 24: a line of stone, and what a chisel does to it. A notch takes away, a
 * peak adds, a lozenge between two lines keeps what is common, two upright strokes part it, a dashed stroke marks, a narrow notch
 * slits; a standing block is a base. Strokes that rise from the line and sink into it settle which way faces look.
 */
export const MARKS = {
  shape: ['M5 19V6h14v13', 'M3 19h18'],
  subtract: ['M3 9h5l4 8 4-8h5'],
  union: ['M3 16h5l4-9 4 9h5'],
  split: ['M3 12h5', 'M16 12h5', 'M10 5v14', 'M14 5v14'],
  scribe: ['M3 8h18', 'M4 15h3', 'M10.5 15h3', 'M17 15h3'],
  kerf: ['M3 8h7v9h4V8h7'],
  orient: ['M3 18h18', 'M7 18V7', 'M7 7l-3 4', 'M17 7v11', 'M17 14l3 4'],
  intersect: ['M3 5h18', 'M3 19h18', 'M12 8l4 4-4 4-4-4z'],
} as const;
export type MarkName = keyof typeof MARKS;

/** What an operation does, in one word. */
export const OPERATION_WORDS = {
  subtract: 'remove',
  union: 'add',
  intersect: 'keep',
  split: 'split',
  scribe: 'scribe',
  kerf: 'kerf',
} as const;
export type CutOperationName = keyof typeof OPERATION_WORDS;

/** The same at length. */
export const OPERATION_SAYS = {
  subtract: 'Takes the cutter out of the part',
  union: 'Adds the cutter to the part',
  intersect: 'Keeps only what part and cutter share',
  split: 'Parts it along the cutter; the offcut stays in place',
  scribe: 'Puts the outline of the cutter on the surface as edges, and takes nothing away',
  kerf: 'Cuts a narrow slit along the skin of the cutter',
} as const;
