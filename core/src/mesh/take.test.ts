import { describe, expect, it } from 'vitest';
import { box, cylinder } from '../shapes/index.ts';
import { add, areaAndVolume, cross, dot, faceCount, joinMeshes, lengthOf, scaled, sub, takeFaces, unit, vertexCount, withSlot, withSource } from './index.ts'; // prettier-ignore

describe('taking faces', () => {
  it('parts two joined bodies again, each with its own vertices and layers', () => {
    const [a, b] = [
      withSource(withSlot(box(2, 3, 4), 'Steel'), 1, 7),
      withSource(withSlot(cylinder(1, 2, 12), 'Zinc'), 2, 8),
    ];
    const both = joinMeshes([a, b]);
    const back = takeFaces(both, (f) => both.layers.source![3 * f] === 2);
    expect([faceCount(back), vertexCount(back)]).toEqual([faceCount(b), vertexCount(b)]);
    expect(areaAndVolume(back).volume).toBeCloseTo(areaAndVolume(b).volume, 12);
    expect([...back.layers.source!].filter((_, i) => i % 3 === 2)).toEqual(Array(faceCount(b)).fill(8));
    expect(back.slots[back.layers.slot![0]!]).toBe('Zinc');
  });

  it('of none is empty, of all is the same', () => {
    expect(faceCount(takeFaces(box(1, 1, 1), () => false))).toBe(0);
    const all = takeFaces(box(1, 2, 3), () => true);
    expect([vertexCount(all), areaAndVolume(all).volume]).toEqual([8, expect.closeTo(6, 12)]);
  });
});

it('vectors add, turn and measure', () => {
  expect(sub([3, 2, 1], [1, 1, 1])).toEqual([2, 1, 0]);
  expect(add([1, 0, 0], [0, 2, 0], 3)).toEqual([1, 6, 0]);
  expect(cross([1, 0, 0], [0, 1, 0])).toEqual([0, 0, 1]);
  expect([dot([1, 2, 3], [4, 5, 6]), lengthOf([2, 3, 6])]).toEqual([32, 7]);
  expect([scaled([1, -2, 3], 2), unit([0, 0, 5]), unit([0, 0, 0])]).toEqual([[2, -4, 6], [0, 0, 1], [0, 0, 0]]); // prettier-ignore
});
