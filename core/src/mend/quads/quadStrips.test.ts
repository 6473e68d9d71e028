import { describe, expect, it } from 'vitest';
import { topologyOf, type Flat } from '../../mesh/index.ts';
import { box } from '../../shapes/index.ts';
import { edgeOf, grid, vertexAt } from '../testMeshes.ts';
import { isRounded, joinOddFaces, stripsOf, wantedParts, type Strip } from './quadStrips.ts';

const circle = (n: number, r: number): Flat[] =>
  Array.from({ length: n }, (_, i) => [r * Math.cos((2 * Math.PI * i) / n), r * Math.sin((2 * Math.PI * i) / n)]);
const square = (w: number): Flat[] => [
  [-w, -w],
  [w, -w],
  [w, w],
  [-w, w],
];
const strip = (ends: number[], more: Partial<Strip> = {}): Strip => ({
  edges: [0],
  ends,
  open: false,
  free: true,
  round: false,
  parts: 1,
  tried: false,
  ...more,
});

describe('strips of edges', () => {
  it('run across quads from side to side of a grid, and all round a box', () => {
    const m = grid(4);
    const { strips, of } = stripsOf(
      m,
      topologyOf(m),
      () => 'quad',
      () => false,
    );
    // Four rows and four columns, each of five edges, open at both ends.
    expect([strips.length, strips.every((s) => s.edges.length === 5 && s.open && s.free)]).toEqual([8, true]);
    const e = (a: number[], b: number[]) => of[topologyOf(m).edge[edgeOf(m, vertexAt(m, ...a), vertexAt(m, ...b))]!];
    expect(e([0, 0], [1, 0])).toBe(e([0, 4], [1, 4]));
    expect(e([0, 0], [1, 0])).not.toBe(e([1, 0], [2, 0]));
    const b = box(1, 1, 1);
    const round = stripsOf(
      b,
      topologyOf(b),
      () => 'quad',
      () => false,
    ).strips;
    expect(round.map((s) => [s.edges.length, s.open, s.ends.length])).toEqual([
      [4, false, 0],
      [4, false, 0],
      [4, false, 0],
    ]);
  });

  it('end at faces that are laid out anew, and are not free where one stays', () => {
    const m = grid(3);
    const roles = stripsOf(
      m,
      topologyOf(m),
      (f) => (f === 4 ? 'anew' : f === 0 ? 'stays' : 'quad'),
      () => false,
    ).strips;
    expect(roles.flatMap((s) => s.ends)).toEqual([4, 4, 4, 4]);
    expect(roles.filter((s) => !s.free).flatMap((s) => s.edges).length).toBeGreaterThan(3);
  });
});

describe('how edges are split', () => {
  it('long ones near a hole are, rounded ones are not', () => {
    const hole = circle(24, 4).reverse();
    const parts = wantedParts([square(20), hole]);
    expect(parts.slice(0, 4).every((k) => k > 1 && k < 9)).toBe(true);
    expect(parts.slice(4)).toEqual(hole.map(() => 1));
    expect([isRounded(hole, 3), isRounded(square(20), 0)]).toEqual([true, false]);
    // Equal parts would not suit a narrow face.
    const narrow: Flat[] = [
      [0, 0],
      [2, 0],
      [2, 60],
      [1.4, 60.1],
      [0.7, 60.1],
      [0, 60],
    ];
    expect(wantedParts([narrow])[1]).toBe(1);
  });

  it('odd faces are joined in pairs by the least costly way, over others and to the open', () => {
    const sides = new Map([
      [1, 5],
      [2, 6],
      [3, 7],
      [4, 5],
    ]);
    const list = [strip([1, 2]), strip([2, 3]), strip([1, 3], { edges: [0, 1, 2] }), strip([4], { open: true })];
    const count = (f: number) =>
      sides.get(f)! + list.reduce((s, x) => s + (x.parts - 1) * x.ends.filter((y) => y === f).length, 0);
    expect(joinOddFaces(list, count, [1, 2, 3, 4])).toBe(0);
    // One to three goes over two: two edges instead of three; four has the open edge.
    expect(list.map((s) => s.parts)).toEqual([2, 2, 1, 2]);
    expect([1, 2, 3, 4].map((f) => count(f) % 2)).toEqual([0, 0, 0, 0]);
  });

  it('a face that no strip leads from stays odd', () => {
    expect(joinOddFaces([strip([1, 2], { free: false })], (f) => (f === 1 ? 5 : 7), [1, 2])).toBe(2);
    expect(joinOddFaces([], () => 3, [1])).toBe(1);
  });
});
