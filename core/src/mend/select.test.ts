import { describe, expect, it } from 'vitest';
import { meshFromFaces, topologyOf, type PolyMesh } from '../mesh/index.ts';
import { pickAct, pickShape, type ElementKind, type PickAct } from './select.ts';

/** A square grid of n × n quads, 1 mm each, the vertices row by row. */
function grid(n: number): PolyMesh {
  const P = Array.from({ length: (n + 1) ** 2 }, (_, i) => [i % (n + 1), Math.floor(i / (n + 1)), 0]).flat();
  const faces = Array.from({ length: n * n }, (_, f) => {
    const v = (f % n) + (n + 1) * Math.floor(f / n);
    return [v, v + 1, v + n + 2, v + n + 1];
  });
  return meshFromFaces(P, faces);
}
const m = grid(5);
const after = (on: ElementKind, ids: number[], ...acts: PickAct[]) => [...acts.reduce<Int32Array>((now, a) => pickAct(m, on, now, a), Int32Array.from(ids))]; // prettier-ignore

describe('pickAct', () => {
  it('takes what is nearest to a click, alone, besides, or out again', () => {
    const click = (how: 'only' | 'add' | 'drop', face: number, x: number, y: number): PickAct => ({ do: 'click', face, point: [x, y, 0], how }); // prettier-ignore
    expect(after('face', [3], click('only', 7, 2.5, 1.5))).toEqual([7]);
    expect(after('face', [3], click('add', 7, 2.5, 1.5))).toEqual([3, 7]);
    expect(after('face', [3, 7], click('drop', 7, 2.5, 1.5))).toEqual([3]);
    expect(after('vertex', [], click('only', 7, 2.9, 1.2))).toEqual([9]);
    const [edge] = after('edge', [], click('only', 7, 2.5, 1.1));
    const t = topologyOf(m);
    expect([m.corners[edge!], m.corners[t.next[edge!]!]].sort()).toEqual([8, 9]);
  });

  it('grows by a ring of neighbours, and shrinks back', () => {
    expect(after('face', [12], { do: 'grow' })).toEqual([6, 7, 8, 11, 12, 13, 16, 17, 18]);
    expect(after('face', [12], { do: 'grow' }, { do: 'shrink' })).toEqual([12]);
    expect(after('vertex', [14], { do: 'grow' })).toEqual([8, 13, 14, 15, 20]);
    expect(after('edge', after('edge', [], { do: 'all' }), { do: 'shrink' })).toHaveLength(60);
  });

  it('goes to all, to none, to the others, and to all that hang together', () => {
    expect(after('face', [1], { do: 'invert' })).toHaveLength(24);
    expect(after('face', [1], { do: 'none' })).toEqual([]);
    expect(after('edge', [], { do: 'all' })).toHaveLength(60);
    expect(after('vertex', [0], { do: 'connected' })).toHaveLength(36);
  });

  it('leaves out what is not there any more', () => {
    expect(after('face', [1, 400, -3], { do: 'keep' })).toEqual([1]);
  });
});

describe('pickShape', () => {
  it('draws edges and outlines, and tells length and area', () => {
    expect(pickShape(m, 'face', Int32Array.of(0, 1))).toMatchObject({ amount: 2 });
    expect(pickShape(m, 'face', Int32Array.of(0, 1)).lines).toHaveLength(8 * 6);
    expect(pickShape(m, 'edge', Int32Array.from(after('edge', [], { do: 'all' }))).amount).toBe(60);
    expect([...pickShape(m, 'vertex', Int32Array.of(7)).points]).toEqual([1, 1, 0]);
  });
});
