import { describe, expect, it } from 'vitest';
import { seededRandom } from '../../shapes/index.ts';
import { graded } from './spokes.ts';

describe('widths of a collar', () => {
  it('grow from the narrowest place by six tenths of each edge, both ways round', () => {
    const out = graded([10, 10, 1, 10, 10, 10], [2, 3, 4, 5, 6, 7]);
    const expected = [1 + 0.6 * 5, 1 + 0.6 * 3, 1, 1 + 0.6 * 4, 1 + 0.6 * 9, 1 + 0.6 * 12];
    out.forEach((w, i) => expect(w).toBeCloseTo(expected[i]!, 12));
    expect(graded([3, 3, 3], [1, 1, 1])).toEqual([3, 3, 3]);
  });

  it('are never wider than before, and differ by no more than the edges between them allow', () => {
    const random = seededRandom(11);
    for (let run = 0; run < 200; run++) {
      const n = 3 + Math.floor(30 * random());
      const widths = Array.from({ length: n }, () => 10 * random());
      const edges = Array.from({ length: n }, () => 4 * random());
      const out = graded(widths, edges);
      out.forEach((w, i) => {
        expect(w).toBeLessThanOrEqual(widths[i]!);
        expect(Math.abs(w - out[(i + 1) % n]!)).toBeLessThanOrEqual(0.6 * edges[i]! + 1e-12);
      });
      // The narrowest place stays as wide as it is.
      expect(Math.min(...out)).toBe(Math.min(...widths));
    }
  });
});
