import { describe, expect, it } from 'vitest';
import { CUT_SET, markCut } from './index.ts';

describe('the set of everyday cuts', () => {
  it('has 24 of them', () => expect(Object.keys(CUT_SET)).toHaveLength(24));

  it.each(Object.entries(CUT_SET))('%s', (name, make) => {
    const { mesh, ...marks } = markCut(make());
    expect(mesh.corners.length).toBeGreaterThan(0);
    expect(marks.off).toBeLessThan(1e-9);
    const slit = /kerf/i.test(name);
    // A slit's walls are new from end to end: their edges are the slit's own.
    expect({ ...marks, off: 0, ...(slit && { strayVertices: 0, strayEdges: 0, offOutline: 0 }) }).toEqual({
      sound: true,
      off: 0,
      strayVertices: 0,
      strayEdges: 0,
      offOutline: 0,
      changedFaces: 0,
      shortEdges: 0,
    });
  });
});
