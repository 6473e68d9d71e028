import { describe, expect, it } from 'vitest';
import { box, cylinder } from '../shapes/index.ts';
import {
  add,
  areaAndVolume,
  cross,
  dot,
  faceBoxes,
  faceCount,
  faceBoundaries,
  faceTree,
  isClosed,
  joinMeshes,
  lengthOf,
  loopCount,
  meshFromFaces,
  sameMesh,
  scaled,
  sub,
  takeFaces,
  takeBoundaries,
  unit,
  vertexCount,
  withPatch,
  withSlot,
  withSource,
} from './index.ts';

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

describe('a patch', () => {
  const cube = withSource(withSlot(box(2, 2, 2), 'Steel'), 1, 7);

  it('of the very faces that were taken gives the mesh back, in another order', () => {
    const { mesh, vertices, faces } = takeBoundaries(cube, [1, 3], () => true);
    expect([faceCount(mesh), [...faces]]).toEqual([2, [1, 3]]);
    const back = withPatch(cube, Uint8Array.of(0, 1, 0, 1, 0, 0), { mesh, vertices, boundaries: new Map() });
    expect([faceCount(back), vertexCount(back), isClosed(back)]).toEqual([6, 8, true]);
    expect(areaAndVolume(back)).toEqual({
      area: expect.closeTo(24, 12) as number,
      volume: expect.closeTo(8, 12) as number,
    });
    expect([...back.layers.source!].filter((_, i) => i % 3 === 1)).toEqual([0, 2, 4, 5, 1, 3]);
    expect(back.slots).toEqual(['Steel']);
  });

  it('brings vertices of its own, and gives boundaries of the mesh a new face', () => {
    const frame = meshFromFaces(
      [0, 0, 0, 9, 0, 0, 9, 9, 0, 0, 9, 0, 3, 3, 0, 3, 6, 0, 6, 6, 0, 6, 3, 0],
      [
        [
          [0, 1, 2, 3],
          [4, 5, 6, 7],
        ],
      ],
    );
    const { mesh, vertices } = takeBoundaries(frame, [0], () => false);
    expect([faceCount(mesh), vertexCount(mesh), loopCount(mesh)]).toEqual([1, 4, 1]);
    const moved = { ...mesh, positions: mesh.positions.map((x) => 2 * x) };
    const own = { mesh: moved, vertices: vertices.map(() => -1), boundaries: new Map([[0, [1]]]) };
    const back = withPatch(frame, Uint8Array.of(1), own);
    expect([faceCount(back), vertexCount(back), loopCount(back)]).toEqual([1, 8, 2]);
    expect(areaAndVolume(back).area).toBeCloseTo(18 * 18 - 9, 12);
  });

  it('leaves out what nothing uses any more', () => {
    const none = { mesh: takeFaces(cube, () => false), vertices: new Int32Array(0), boundaries: new Map() };
    const rest = withPatch(cube, Uint8Array.of(1, 1, 1, 1, 1, 0), none);
    expect([faceCount(rest), vertexCount(rest)]).toEqual([1, 4]);
  });
});

describe('telling meshes apart', () => {
  it('by places, faces, layers and slots, number by number', () => {
    const a = withSlot(box(1, 2, 3), 'Zinc');
    const copy = { ...a, positions: a.positions.slice(), corners: a.corners.slice() };
    expect(sameMesh(a, copy)).toBe(true);
    copy.positions[4]! += 1e-15;
    expect(sameMesh(a, copy)).toBe(false);
    expect(sameMesh(a, withSlot(a, 'Steel'))).toBe(false);
    expect(sameMesh(a, withSource(a, 1, 1))).toBe(false);
    expect(sameMesh(a, box(1, 2, 3, [2, 1, 1]))).toBe(false);
  });
});

describe('boxes of faces', () => {
  it('are those of their corners, and are handed on to what they are patched to', () => {
    const m = box(2, 4, 6);
    const all = faceBoxes(m);
    expect(faceBoxes(m)).toBe(all);
    for (let f = 0; f < 6; f++)
      for (let k = 0; k < 3; k++) {
        const xs = faceBoundaries(m, f)[0]!.map((v) => m.positions[3 * v + k]!);
        expect([all[6 * f + k], all[6 * f + 3 + k]]).toEqual([Math.min(...xs), Math.max(...xs)]);
      }
    const { mesh, vertices } = takeBoundaries(m, [2], () => true);
    const back = withPatch(m, Uint8Array.of(0, 0, 1, 0, 0, 0), { mesh, vertices, boundaries: new Map() });
    expect([...faceBoxes(back)]).toEqual([...faceBoxes({ ...back })]);
  });

  it('hang in a tree when one is asked for', () => {
    const m = box(1, 1, 1);
    expect(faceTree(m, false)).toBeNull();
    expect(faceTree(m, true)!.size).toBe(6);
    expect(faceTree(m, false)).not.toBeNull();
  });
});

it('vectors add, turn and measure', () => {
  expect(sub([3, 2, 1], [1, 1, 1])).toEqual([2, 1, 0]);
  expect(add([1, 0, 0], [0, 2, 0], 3)).toEqual([1, 6, 0]);
  expect(cross([1, 0, 0], [0, 1, 0])).toEqual([0, 0, 1]);
  expect([dot([1, 2, 3], [4, 5, 6]), lengthOf([2, 3, 6])]).toEqual([32, 7]);
  expect([scaled([1, -2, 3], 2), unit([0, 0, 5]), unit([0, 0, 0])]).toEqual([
    [2, -4, 6],
    [0, 0, 1],
    [0, 0, 0],
  ]);
});
