import type { SurveyCounts } from '@dusky-mason/core/survey';

/** A part's counts in a few words, with the mark that says the same. */
export function solidState(c: SurveyCounts | null): { sound: boolean; mark: string; words: string } {
  if (!c || !c.faces) return { sound: false, mark: '◇', words: 'Nothing left' };
  if (c.genus !== null) return { sound: true, mark: '◆', words: 'Closed solid' };
  if (c.nonManifoldEdges) return { sound: false, mark: '◇', words: 'Not manifold' };
  // Round a face that is turned over, vertices seem pinched too.
  if (c.flippedEdges) return { sound: false, mark: '◇', words: 'Faces flipped' };
  if (c.nonManifoldVertices) return { sound: false, mark: '◇', words: 'Not manifold' };
  return { sound: false, mark: '◇', words: `Open, ${c.openEdges} edge${c.openEdges === 1 ? '' : 's'}` };
}
