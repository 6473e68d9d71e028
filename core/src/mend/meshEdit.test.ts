import { describe, expect, it } from 'vitest';
import { faceCount, isClosed, vertexCount, withSlot, withSource } from '../mesh/index.ts';
import { box } from '../shapes/index.ts';
import { corner, MeshEdit } from './meshEdit.ts';

describe('MeshEdit', () => {
  const m = withSource(withSlot(box(10, 10, 10), 'Steel'), 4, 7);

  it('without a change gives the same mesh', () => {
    const same = new MeshEdit(m).done();
    expect([same.corners, same.positions, same.layers.source]).toEqual([m.corners, m.positions, m.layers.source]);
  });

  it('takes a face out and puts another one in, marked as new; vertices that lost their last face go', () => {
    const e = new MeshEdit(m);
    const [loop] = e.boundaries(0);
    const top = e.vertex([0, 0, 20]);
    e.remove(0);
    loop!.forEach((c, i) => e.add(0, [[c, corner(loop![(i + 1) % 4]!.vertex), corner(top)]]));
    const roof = e.done(9);
    expect([faceCount(roof), vertexCount(roof), isClosed(roof)]).toEqual([9, 9, true]);
    expect([...roof.layers.source!.slice(15)]).toEqual([9, 0, 9, 9, 1, 9, 9, 2, 9, 9, 3, 9]);
    expect(roof.slots).toEqual(['Steel']);
    const gone = new MeshEdit(roof);
    for (let f = 5; f < 9; f++) gone.remove(f);
    expect(vertexCount(gone.done())).toBe(8);
  });

  it('forgets the plane of a face whose corners move, and of no other', () => {
    const planes = { ...m, layers: { ...m.layers, plane: new Float64Array(36).fill(1) } };
    const e = new MeshEdit(planes);
    const v = m.corners[0]!;
    e.move(v, [9, 9, 9]);
    const out = e.done();
    expect([...out.positions.slice(3 * v, 3 * v + 3)]).toEqual([9, 9, 9]);
    const lost = [...Array(6).keys()].filter((f) => Number.isNaN(out.layers.plane![6 * f]));
    expect(lost).toEqual([...Array(6).keys()].filter((f) => [...m.corners.slice(4 * f, 4 * f + 4)].includes(v)));
  });
});
