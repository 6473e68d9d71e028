import { describe, expect, it } from 'vitest';
import { subdivide } from '../catmullClark.ts';
import { markEdges } from '../hardEdges.ts';
import { sharpEdges } from '../sharpEdges.ts';
import { ballFromPatches, box, cylinder, sheet } from '../../shapes/index.ts';
import { SoonSmooth } from './soonSmooth.ts';

const creased = (() => {
  const m = cylinder(10, 20, 12);
  return markEdges(m, { edges: sharpEdges(m, 60), layer: 'crease', value: 10 }).mesh;
})();

describe('where a subdivision brings the vertices of a cage', () => {
  it('is told without it: at the limit, with creases, n-gons, borders and their corners', () => {
    for (const m of [box(10, 20, 30, [2, 3, 2]), creased, ballFromPatches(20, 4), sheet(40, 30, [3, 2])]) {
      const told = new SoonSmooth(m, 'limit').at(m.positions);
      const { mesh } = subdivide(m, { levels: 2, limit: true });
      for (let i = 0; i < told.length; i++) expect(told[i]).toBeCloseTo(mesh.positions[i]!, 10);
    }
  });

  it('is told to a thousandth of the way between two rounds and three', () => {
    for (const m of [creased, ballFromPatches(20, 4), sheet(40, 30, [3, 2])]) {
      const told = new SoonSmooth(m, 'few').at(m.positions);
      const [two, three] = [2, 3].map((levels) => subdivide(m, { levels }).mesh.positions) as [
        Float64Array,
        Float64Array,
      ];
      for (let i = 0; i < told.length; i++) expect(told[i]).toBeCloseTo((two[i]! + three[i]!) / 2, 1);
      const off = (P: Float64Array) => told.reduce((x, p, i) => Math.max(x, Math.abs(p - P[i]!)), 0);
      const mean = two.map((x, i) => (x + three[i]!) / 2);
      expect(off(mean)).toBeLessThan(1e-3 * off(m.positions) + 1e-12);
    }
  });
});
