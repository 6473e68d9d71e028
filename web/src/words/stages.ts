/** The stages of the bench that have something in them, in the order of the work. */
export const STAGES = [
  { name: 'cut', title: 'Cut', says: 'place cutters and carve' },
  { name: 'survey', title: 'Survey', says: 'look at what the cuts left' },
  { name: 'dress', title: 'Dress', says: 'mend, and finish edges' },
  { name: 'dispatch', title: 'Dispatch', says: 'check and write files' },
] as const;
export type StageName = (typeof STAGES)[number]['name'];
