import { describe, expect, it } from 'vitest';
import { ballFromRings, box, seededRandom } from '../shapes/index.ts';
import { Bvh, firstTriangle, renderBuffers, SpatialIndex, triangleTree, type Vec3 } from './index.ts';

const random = seededRandom(31);
const anywhere = (reach: number): Vec3 => [0, 1, 2].map(() => reach * (2 * random() - 1)) as [number, number, number];

describe('rays on the triangles of a picture', () => {
  it('meet a box where they should: from outside, from inside, never behind or beside it', () => {
    const { positions } = renderBuffers(box(2, 4, 6));
    const along = (o: Vec3, d: Vec3) => firstTriangle(positions, null, o, d)?.distance;
    expect(along([5, 0.3, 0.2], [-1, 0, 0])).toBe(4);
    expect(along([5, 0.3, 0.2], [-2, 0, 0])).toBe(2);
    expect(along([0.2, 0.3, 0.1], [0, 1, 0])).toBeCloseTo(1.7, 6);
    expect(along([5, 0.3, 0.2], [1, 0, 0])).toBeUndefined();
    expect(along([5, 2.1, 0.2], [-1, 0, 0])).toBeUndefined();
  });

  it('meet the same with a tree as without, and as on the mesh itself', () => {
    const ball = ballFromRings(10, 120, 60);
    const { positions } = renderBuffers(ball);
    const tree = triangleTree(positions)!;
    const exact = new SpatialIndex(ball);
    let met = 0;
    for (let i = 0; i < 300; i++) {
      const [o, d] = [anywhere(20), anywhere(1)];
      const hit = firstTriangle(positions, tree, o, d);
      const each = firstTriangle(positions, null, o, d);
      expect(hit?.distance).toBe(each?.distance);
      const own = exact.raycast(o, d);
      expect(hit === null).toBe(own === null);
      if (!hit || !own) continue;
      met++;
      expect(hit.distance).toBeCloseTo(own.distance, 3);
    }
    expect(met).toBeGreaterThan(30);
  });

  it('need no tree where there are few', () => {
    expect(triangleTree(renderBuffers(box(1, 1, 1)).positions)).toBe(null);
  });
});

describe('a tree of boxes', () => {
  it('finds each two of its own items that meet, once', () => {
    const n = 300;
    const boxes = new Float64Array(6 * n);
    for (let i = 0; i < n; i++) {
      const [at, size] = [anywhere(10), anywhere(1)];
      for (let k = 0; k < 3; k++) {
        boxes[6 * i + k] = at[k]! - Math.abs(size[k]!);
        boxes[6 * i + 3 + k] = at[k]! + Math.abs(size[k]!);
      }
    }
    const meet = (i: number, j: number) =>
      [0, 1, 2].every((k) => boxes[6 * i + k]! <= boxes[6 * j + 3 + k]! && boxes[6 * j + k]! <= boxes[6 * i + 3 + k]!);
    const all: string[] = [];
    for (let i = 0; i < n; i++) for (let j = i + 1; j < n; j++) if (meet(i, j)) all.push(`${i} ${j}`);
    const tree = new Bvh(
      boxes,
      Int32Array.from({ length: n }, (_, i) => i),
    );
    const found: string[] = [];
    expect(tree.ownPairs((a, b) => void found.push(`${Math.min(a, b)} ${Math.max(a, b)}`))).toBe(false);
    expect(all.length).toBeGreaterThan(20);
    expect(found.sort()).toEqual(all.sort());
    let asked = 0;
    expect(tree.ownPairs(() => ++asked === 3)).toBe(true);
    expect(asked).toBe(3);
  });
});
