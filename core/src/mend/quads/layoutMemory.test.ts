import { describe, expect, it } from 'vitest';
import { carve } from '../../carve/index.ts';
import { faceBegin, faceCount, faceEnd, transformMesh, vertexPlace, type PolyMesh } from '../../mesh/index.ts';
import { box, cylinder } from '../../shapes/index.ts';
import { LayoutMemory } from './layoutMemory.ts';
import { toQuads } from './toQuads.ts';

/** A block with a hole through it along z, and a pocket in its front: no face of the one is a face of the other. */
const block = (x: number): PolyMesh => {
  const hole = transformMesh(cylinder(8, 60, 24), [1, 0, 0, x, 0, 1, 0, 0, 0, 0, 1, 0]);
  const pocket = transformMesh(cylinder(5, 20, 16), [1, 0, 0, 0, 0, 0, -1, -30, 0, 1, 0, 0]);
  return carve(box(100, 60, 40), { cutters: [hole, pocket], operation: 'subtract' }).mesh;
};
/** The faces whose corners all lie on the front. */
const front = (m: PolyMesh) =>
  Array.from({ length: faceCount(m) }, (_, f) =>
    Array.from({ length: faceEnd(m, f) - faceBegin(m, f) }, (_, i) => vertexPlace(m, m.corners[faceBegin(m, f) + i]!)),
  )
    .filter((corners) => corners.every((p) => Math.abs(p[1] + 30) < 1e-9))
    .map((corners) => corners.map((p) => p.join()).join(';'))
    .sort();

describe('layouts that are remembered', () => {
  it('are found by all that they follow from, and forgotten two runs after they were asked for', () => {
    const memory = new LayoutMemory();
    let made = 0;
    const ask = (words: unknown) => memory.of(words, () => ({ made: ++made }));
    expect([ask([1, [2, 3]]), ask([1, [2, 3]]), ask([1, [2, 3 + 1e-15]])].map((x) => x.made)).toEqual([1, 1, 2]);
    // A missing layout is remembered, too.
    expect([memory.of('none', () => null), memory.of('none', () => ({}))]).toEqual([null, null]);
    memory.begin();
    expect([ask([1, [2, 3]]).made, memory.size]).toEqual([1, 3]);
    memory.begin();
    expect([ask([5]).made, memory.size]).toEqual([3, 2]);
    memory.begin();
    expect([ask([1, [2, 3]]).made, memory.size]).toEqual([4, 2]);
  });

  it('give what is laid out without them, and the same to the bit for faces that a moved cutter leaves alone', () => {
    const memory = new LayoutMemory();
    const first = toQuads(block(0), { memory });
    expect(first).toEqual(toQuads(block(0), {}));
    expect(toQuads(block(0), { memory })).toEqual(first);
    const moved = toQuads(block(13), { memory });
    expect(moved).toEqual(toQuads(block(13), {}));
    expect(moved.mesh.positions).not.toEqual(first.mesh.positions);
    expect(front(first.mesh).length).toBeGreaterThan(20);
    // Rows that run on over the edges of the top may part the front: what lies there without them is the same.
    expect(front(toQuads(block(13), {}).mesh)).toEqual(front(moved.mesh));
  });
});
