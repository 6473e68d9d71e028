/**
 * The marks of operations, as strokes on a field of 24: a line of stone, and what a chisel does to it. A notch takes
 * away, a peak adds, a lozenge between two lines keeps what is common, two upright strokes part it, a dashed stroke
 * marks, a narrow notch slits; a standing block is a base. Strokes that rise from the line and sink into it settle
 * which way faces look.
 */
export const MARKS = {
  shape: ['M5 19V6h14v13', 'M3 19h18'],
  subtract: ['M3 9h5l4 8 4-8h5'],
  union: ['M3 16h5l4-9 4 9h5'],
  split: ['M3 12h5', 'M16 12h5', 'M10 5v14', 'M14 5v14'],
  scribe: ['M3 8h18', 'M4 15h3', 'M10.5 15h3', 'M17 15h3'],
  kerf: ['M3 8h7v9h4V8h7'],
  orient: ['M3 18h18', 'M7 18V7', 'M7 7l-3 4', 'M17 7v11', 'M17 14l3 4'],
  weld: ['M3 12h6', 'M15 12h6', 'M9 9l3 3-3 3', 'M15 9l-3 3 3 3'],
  merge: ['M4 5l8 7', 'M20 5l-8 7', 'M12 12v8'],
  toOutline: ['M3 18h18', 'M8 5v9', 'M16 5v9', 'M5 11l3 3 3-3'],
  slide: ['M3 18L21 6', 'M8 8l4 4', 'M6 11l5 5'],
  dissolve: ['M4 4h16v16H4z', 'M12 8v2', 'M12 14v2'],
  remove: ['M4 20h16', 'M6 16V4h12v12', 'M9 10h6'],
  fill: ['M4 4v16h16V4', 'M4 4h4', 'M16 4h4', 'M9 12h6', 'M12 9v6'],
  bridge: ['M5 4v16', 'M19 4v16', 'M5 9h14', 'M5 15h14'],
  connect: ['M4 19h1', 'M19 5h1', 'M6 17L18 7'],
  gathered: ['M4 7h16', 'M4 12h16', 'M4 17h16', 'M20 4v16'],
  line: ['M3 5h18v14H3z', 'M6 19l5-8 7-6'],
  splitEdge: ['M3 12h7', 'M14 12h7', 'M12 8v8'],
  loop: ['M4 4h16v16H4z', 'M4 12h16'],
  divide: ['M4 4h16v16H4z', 'M4 12h16', 'M12 4v16'],
  quads: ['M3 6l8-3 10 4-3 12-12 2z', 'M11 3l2 18', 'M4 13l15-1'],
  collar: ['M8 8h8v8H8z', 'M4 4h16v16H4z', 'M4 4l4 4', 'M20 4l-4 4', 'M4 20l4-4', 'M20 20l-4-4'],
  recast: ['M4 8h16M4 16h16M8 4v16M16 4v16', 'M12 6l6 6-6 6-6-6z'],
  heal: ['M4 20V8l8-5 8 5v12z', 'M9 9l3 3-2 3 3 3', 'M6 20h12'],
  tidy: ['M3 18h18', 'M6 14V9', 'M12 14V5', 'M18 14v-5', 'M9 5h6'],
  finish: ['M3 20h18', 'M5 16V9l4-4h6l4 4v7'],
  bevel: ['M4 21V11', 'M4 11l7-7', 'M11 4h10'],
  cutOff: ['M4 21V9l8-5 8 5v12', 'M8 9h8'],
  ownWidth: ['M4 21V13l9-9h8', 'M8 21h5', 'M21 8v5'],
  hold: ['M12 3v18', 'M7 5v14', 'M17 5v14'],
  holdRims: ['M12 8a4 4 0 1 0 .1 0', 'M12 4a8 8 0 1 0 .1 0', 'M12 2v2', 'M12 20v2', 'M2 12h2', 'M20 12h2'],
  hard: ['M4 18l8-13 8 13'],
  crease: ['M3 17l6-2 3-9 3 9 6 2'],
  subdivide: ['M12 3l9 9-9 9-9-9z', 'M12 8l4 4-4 4-4-4z', 'M3 12h5', 'M16 12h5'],
  relight: ['M3 19a13 13 0 0 1 18 0', 'M12 4v6', 'M5 8l3 4', 'M19 8l-3 4'],
  reseat: ['M3 19a13 13 0 0 1 18 0', 'M12 3v9', 'M9 9l3 3 3-3'],
  cage: ['M5 4h14l2 16H3z', 'M4 12h16', 'M12 4v16'],
  thicken: ['M3 8h18v7H3z', 'M3 11.5h3', 'M18 11.5h3'],
  inset: ['M3 3h18v18H3z', 'M8 8h8v8H8z'],
  extrude: ['M3 19h5v-9h8v9h5', 'M12 7V3'],
  detach: ['M3 18h18', 'M6 12V5h12v7', 'M6 14v1', 'M18 14v1'],
  move: ['M4 16l6-6', 'M14 14l6-6', 'M4 20h8', 'M15 8h5v5'],
  shapeRun: ['M12 4a8 8 0 1 0 8 8', 'M16 6l2-2'],
  match: ['M12 3v4', 'M12 17v4', 'M3 12h4', 'M17 12h4', 'M9 9h6v6H9z'],
  align: ['M12 3v18', 'M7 8h5', 'M12 16h5'],
  tie: ['M3 3h18v18H3z', 'M10 10h4v4h-4z', 'M3 3l7 7', 'M14 14l7 7'],
  moveTie: ['M3 20h18', 'M6 20L14 5', 'M6 20L19 9'],
  plane: ['M3 8l9-4 9 4', 'M3 16l9 4 9-4', 'M2 12h20'],
  mirror: ['M12 3v18', 'M9 7l-5 5 5 5', 'M15 7l5 5-5 5'],
  symmetric: ['M12 3v3', 'M12 9v3', 'M12 15v3', 'M8 6v12H4', 'M16 6v12h4'],
  intersect: ['M3 5h18', 'M3 19h18', 'M12 8l4 4-4 4-4-4z'],
} as const;
export type MarkName = keyof typeof MARKS;

/** An operation in one word. */
export const OPERATION_WORDS = {
  subtract: 'remove',
  union: 'add',
  intersect: 'keep',
  split: 'split',
  scribe: 'scribe',
  kerf: 'kerf',
} as const;
export type CutOperationName = keyof typeof OPERATION_WORDS;

/** An operation at length. */
export const OPERATION_SAYS = {
  subtract: 'Takes the cutter out of the part',
  union: 'Adds the cutter to the part',
  intersect: 'Keeps only what part and cutter share',
  split: 'Parts it along the cutter; the offcut stays in place',
  scribe: 'Puts the outline of the cutter on the surface as edges, and takes nothing away',
  kerf: 'Cuts a narrow slit along the skin of the cutter',
} as const;
