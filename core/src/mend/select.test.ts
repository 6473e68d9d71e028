import { describe, expect, it } from 'vitest';
import { carve } from '../carve/index.ts';
import { meshFromFaces, topologyOf, withSource, type PolyMesh, type Vec3 } from '../mesh/index.ts';
import { box, cylinder } from '../shapes/index.ts';
import type { ElementKind } from './elements.ts';
import { pickAct, pickShape, type PickAct } from './select.ts';

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
const after = (on: ElementKind, ids: number[], ...acts: PickAct[]) => [
  ...acts.reduce<Int32Array>((now, a) => pickAct(m, on, now, a).ids, Int32Array.from(ids)),
];

describe('pickAct', () => {
  it('takes what is nearest to a click, alone, besides, or out again', () => {
    const click = (how: 'only' | 'add' | 'drop', face: number, x: number, y: number): PickAct => ({
      do: 'aim',
      faces: [face],
      from: [x, y, 9],
      along: [0, 0, -1],
      how,
    });
    expect(after('face', [3], click('only', 7, 2.5, 1.5))).toEqual([7]);
    expect(after('face', [3], click('add', 7, 2.5, 1.5))).toEqual([3, 7]);
    expect(after('face', [3, 7], click('drop', 7, 2.5, 1.5))).toEqual([3]);
    expect(after('vertex', [], click('only', 7, 2.9, 1.2))).toEqual([9]);
    const [edge] = after('edge', [], click('only', 7, 2.5, 1.1));
    const t = topologyOf(m);
    expect([m.corners[edge!], m.corners[t.next[edge!]!]].sort()).toEqual([8, 9]);
  });

  it('takes the edge that looks nearest to a line of sight, also from beside the part', () => {
    const t = topologyOf(m);
    const aim = (on: ElementKind, from: Vec3, along: Vec3, faces: number[]) =>
      after(on, [], { do: 'aim', faces, from, along, how: 'only' });
    const places = (c: number) =>
      [m.corners[c]!, m.corners[t.next[c]!]!].map((v) => [...m.positions.slice(3 * v, 3 * v + 2)]);
    // Past the border of the grid by 0.1: the border is nearest.
    const [edge] = aim('edge', [-0.1, 2.5, 9], [0, 0, -1], [10]);
    expect(places(edge!).sort()).toEqual([
      [0, 2],
      [0, 3],
    ]);
    expect(aim('vertex', [-0.1, 2.9, 9], [0, 0, -1], [10])).toEqual([18]);
    // Nothing behind the eye.
    expect(aim('edge', [0, 0, 9], [0, 0, 1], [10])).toEqual([]);
    // At a slant, 0.48 beyond one edge and 0.52 before the next, which looks nearer as it is further away.
    const [far] = aim('edge', [2.5, -4, 3.36], [0, 0.8, -0.6], [2]);
    expect(places(far!).map(([, y]) => y)).toEqual([1, 1]);
    expect(aim('face', [0, 0, 9], [0, 0, -1], [7, 8])).toEqual([7]);
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
  it('draws edges and boundaries, and tells length and area', () => {
    expect(pickShape(m, 'face', Int32Array.of(0, 1))).toMatchObject({ amount: 2 });
    expect(pickShape(m, 'face', Int32Array.of(0, 1)).lines).toHaveLength(8 * 6);
    expect(pickShape(m, 'edge', Int32Array.from(after('edge', [], { do: 'all' }))).amount).toBe(60);
    expect([...pickShape(m, 'vertex', Int32Array.of(7)).points]).toEqual([1, 1, 0]);
  });
});

describe('picking by what things are', () => {
  const wall = cylinder(10, 30, 12, 3);
  const on = (mesh: PolyMesh, kind: ElementKind, ids: number[], act: PickAct) => pickAct(mesh, kind, ids, act);
  const upright = (mesh: PolyMesh) =>
    [...topologyOf(mesh).edgeCorner].filter(
      (c) =>
        mesh.positions[3 * mesh.corners[c]! + 2] !== mesh.positions[3 * mesh.corners[topologyOf(mesh).next[c]!]! + 2],
    );

  it('a run straight on, along a wall and along a rim; a ring across quads', () => {
    const t = topologyOf(wall);
    const level = [...t.edgeCorner].filter((c) =>
      [wall.corners[c]!, wall.corners[t.next[c]!]!].every((v) => Math.abs(wall.positions[3 * v + 2]! - 5) < 1e-9),
    );
    expect(level).toHaveLength(12);
    expect([...on(wall, 'edge', [level[0]!], { do: 'loop' }).ids].sort()).toEqual([...level].sort());
    expect(on(wall, 'edge', [upright(wall)[0]!], { do: 'ring' }).ids).toHaveLength(12);
    // Straight up and down the wall: three edges, as the ends fork.
    expect(on(wall, 'edge', [upright(wall)[0]!], { do: 'loop' }).ids).toHaveLength(3);
    const holed = carve(box(40, 40, 10), { cutters: [cylinder(8, 30, 24)], operation: 'subtract', course: 3 }).mesh;
    const seam = [...topologyOf(holed).edgeCorner].find((c) => holed.layers.seam![c])!;
    expect(on(holed, 'edge', [seam], { do: 'loop' }).ids).toHaveLength(24);
    expect(
      on(m, 'edge', [topologyOf(m).edgeCorner.find((c) => topologyOf(m).opposite[c]! < 0)!], { do: 'loop' }).ids,
    ).toHaveLength(20);
  });

  it('the border of faces as edges, and elements as others', () => {
    expect(on(m, 'face', [12], { do: 'border' })).toMatchObject({ on: 'edge' });
    expect(on(m, 'face', [12, 13], { do: 'border' }).ids).toHaveLength(6);
    expect(on(m, 'face', [12], { do: 'as', kind: 'vertex' }).ids).toHaveLength(4);
    expect(on(m, 'vertex', [14, 15, 20, 21], { do: 'as', kind: 'face' })).toEqual({
      on: 'face',
      ids: Int32Array.of(12),
    });
    expect(on(m, 'vertex', [14, 15, 20], { do: 'as', kind: 'edge' }).ids).toHaveLength(2);
    expect(
      on(m, 'edge', [...on(m, 'face', [12], { do: 'as', kind: 'edge' }).ids], { do: 'as', kind: 'face' }).ids,
    ).toEqual(Int32Array.of(12));
  });

  it('what is alike: in length, direction, area, corners, source; how many edges meet', () => {
    expect(on(wall, 'edge', [upright(wall)[0]!], { do: 'similar', by: 'direction' }).ids).toHaveLength(36);
    expect(on(wall, 'edge', [upright(wall)[0]!], { do: 'similar', by: 'length' }).ids).toHaveLength(36);
    const cap = [...Array(38).keys()].find((f) => wall.loopStart[f + 1]! - wall.loopStart[f]! === 12)!;
    expect(on(wall, 'face', [cap], { do: 'similar', by: 'sides' }).ids).toHaveLength(2);
    expect(on(wall, 'face', [cap], { do: 'similar', by: 'direction' }).ids).toHaveLength(1);
    expect(on(wall, 'face', [cap], { do: 'similar', by: 'area' }).ids).toHaveLength(2);
    expect(on(m, 'vertex', [0], { do: 'similar', by: 'valence' }).ids).toEqual(Int32Array.of(0, 5, 30, 35));
    const two = withSource(m, 4, 9);
    expect(on(two, 'face', [3], { do: 'similar', by: 'source' }).ids).toEqual(Int32Array.of(3));
    expect(on(two, 'face', [], { do: 'made', course: 9 }).ids).toHaveLength(25);
    expect(on(wall, 'edge', [], { do: 'sharper', angle: 60 }).ids).toHaveLength(24);
  });

  it('steps round a face, along a run, and from face to face', () => {
    const t = topologyOf(m);
    const round = (kind: ElementKind, from: number, times: number) => {
      let [ids, face]: [number[], number | null] = [[from], null];
      const seen = [from];
      for (let i = 0; i < times; i++) {
        const r = on(m, kind, ids, { do: 'step', by: 1, along: 'face', face });
        [ids, face] = [[...r.ids], r.face!];
        seen.push(ids[0]!);
      }
      return seen;
    };
    // Four steps round a square, and one is back; all of them are its own.
    const edges = round('edge', t.edgeCorner[17]!, 4);
    expect([edges[4], new Set(edges).size]).toEqual([edges[0], 4]);
    const vertices = round('vertex', 14, 4);
    expect([vertices[4], new Set(vertices).size]).toEqual([14, 4]);
    expect([...on(m, 'vertex', [0], { do: 'step', by: 1, along: 'face', face: null }).ids]).toEqual([1]);
    const inner = [...t.edgeCorner].find(
      (c) => t.opposite[c]! >= 0 && m.positions[3 * m.corners[c]! + 1] === m.positions[3 * m.corners[t.next[c]!]! + 1],
    )!;
    const next = on(m, 'edge', [inner], { do: 'step', by: 1, along: 'loop', face: null }).ids[0]!;
    expect(m.positions[3 * m.corners[next]! + 1]).toBe(m.positions[3 * m.corners[inner]! + 1]);
    expect(on(m, 'face', [12], { do: 'step', by: 1, along: 'face', face: null }).ids).toHaveLength(1);
  });

  it('what lies within a outline on the screen: all of it, or only what is seen', () => {
    const b = box(2, 2, 2);
    // From above along z, straight: x and y as they are, all of it before the eye.
    const view = [0.25, 0, 0, 0, 0, 0.25, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1];
    const area = (s: number, eye: [number, number, number] | null): PickAct => ({
      do: 'area',
      how: 'only',
      area: {
        outline: [
          [-s, -s],
          [s, -s],
          [s, s],
          [-s, s],
        ],
        view,
        eye,
      },
    });
    expect(on(b, 'vertex', [], area(0.5, null)).ids).toHaveLength(8);
    expect(on(b, 'vertex', [], area(0.5, [0, 0, 50])).ids).toHaveLength(4);
    expect(on(b, 'face', [], area(0.1, null)).ids).toHaveLength(2);
    expect(on(b, 'face', [], area(0.1, [0, 0, 50])).ids).toHaveLength(1);
    expect(on(b, 'face', [0, 1, 2, 3, 4, 5], { ...area(0.1, null), how: 'drop' } as PickAct).ids).toHaveLength(4);
  });
});

describe('what a scribe encloses', () => {
  const top = (mesh: PolyMesh, ids: number[]) =>
    ids.map((f) => {
      const corners = [
        ...mesh.corners.subarray(mesh.loopStart[mesh.faceLoops[f]!]!, mesh.loopStart[mesh.faceLoops[f + 1]!]!),
      ];
      return { corners: corners.length, z: mesh.positions[3 * corners[0]! + 2]! };
    });
  it('is picked as made by it: the disc of a circle, on both sides of a plate; the ring between two circles', () => {
    const plate = withSource(box(40, 40, 10), 1, 2);
    const one = carve(plate, { cutters: [cylinder(8, 30, 24)], operation: 'scribe', course: 3 }).mesh;
    const discs = [...pickAct(one, 'face', [], { do: 'made', course: 3 }).ids];
    expect(
      top(one, discs)
        .map((d) => [d.corners, d.z])
        .sort(),
    ).toEqual([
      [24, -5],
      [24, 5],
    ]);
    const two = carve(one, { cutters: [cylinder(14, 30, 24)], operation: 'scribe', course: 4 }).mesh;
    expect(pickAct(two, 'face', [], { do: 'made', course: 4 }).ids).toHaveLength(4);
    // The mark on a face is that of the outline drawn last: the disc lies within the larger circle, too.
    expect(pickAct(two, 'face', [], { do: 'made', course: 3 }).ids).toHaveLength(0);
  });
});
