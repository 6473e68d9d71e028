import { describe, expect, it } from 'vitest';
import {
  areaAndVolume,
  bounds,
  faceCount,
  faceShapes,
  isClosed,
  vertexCount,
  topologyOf,
  pairsThatMeet,
  flipMesh,
  joinMeshes,
  vertexPlace,
  type PolyMesh,
} from '../mesh/index.ts';
import { box, cylinder, prism, sheet } from '../shapes/index.ts';
import { subdivide } from './index.ts';

const moved = (m: PolyMesh, by: readonly number[]): PolyMesh => ({
  ...m,
  positions: m.positions.map((x, i) => x + by[i % 3]!),
});

describe('Catmull–Clark', () => {
  it('a cube: counts, and the first round in closed form', () => {
    const {
      mesh,
      report: { cage },
    } = subdivide(box(2, 2, 2), { levels: 1 });
    expect([faceCount(mesh), vertexCount(mesh), isClosed(mesh)]).toEqual([24, 26, true]);
    // Corners (F + 2 E + 0 · P) / 3 of three faces and edges: each coordinate (1/3 + 2 · 2/3) / 3 = 5/9.
    for (let v = 0; v < 8; v++)
      for (let k = 0; k < 3; k++) expect(Math.abs(mesh.positions[3 * v + k]!)).toBeCloseTo(5 / 9, 12);
    // Middles of edges: two coordinates (1 + 1 + 1 + 0) / 4 = 3/4, one 0; of faces 1, 0, 0.
    const edge = [...mesh.positions.subarray(3 * 14, 3 * 15)].map(Math.abs).sort();
    expect(edge.map((x) => +x.toFixed(12))).toEqual([0, 0.75, 0.75]);
    expect([
      cage.length,
      subdivide(box(2, 2, 2), { levels: 3 }).report.cage.length,
      faceCount(subdivide(box(2, 2, 2), { levels: 3 }).mesh),
    ]).toEqual([48, 192, 384]);
  });

  it('comes nearer to its smooth surface with every round, and gets smaller', () => {
    const volumes = [0, 1, 2, 3].map((n) => areaAndVolume(subdivide(box(2, 2, 2), { levels: n }).mesh).volume);
    for (let i = 1; i < 4; i++) expect(volumes[i]!).toBeLessThan(volumes[i - 1]!);
    expect(volumes[2]! - volumes[3]!).toBeLessThan((volumes[1]! - volumes[2]!) / 2);
  });

  it('a crease that ends within the surface: its end is as smooth as without it, its middle is not', () => {
    const m = box(4, 4, 4, [4, 4, 4]);
    const t = topologyOf(m);
    const P = m.positions;
    const at = (v: number) => [P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!].join();
    const vertex = (...p: number[]) =>
      Array.from({ length: P.length / 3 }, (_, v) => v).find((v) => at(v) === p.join())!;
    const run = [
      [-1, 0, 2],
      [0, 0, 2],
      [1, 0, 2],
    ].map((p) => vertex(...p));
    const crease = new Float32Array(m.corners.length);
    for (let c = 0; c < crease.length; c++) {
      const [a, b] = [run.indexOf(m.corners[c]!), run.indexOf(m.corners[t.next[c]!]!)];
      if (a >= 0 && b >= 0 && Math.abs(a - b) === 1) crease[c] = 10;
    }
    // Bent out of the flat, so that the rules differ.
    const positions = P.slice();
    for (const v of run) positions[3 * v + 2]! += 1;
    const bent = { ...m, positions };
    const [plain, creased] = [{}, { crease }].map(
      (layers) => subdivide({ ...bent, layers }, { levels: 1 }).mesh.positions,
    );
    const z = (Q: Float64Array, v: number) => Q[3 * v + 2]!;
    expect([0, 2].map((i) => z(creased!, run[i]!))).toEqual([0, 2].map((i) => z(plain!, run[i]!)));
    expect(z(creased!, run[1]!)).toBe(3);
    expect(z(plain!, run[1]!)).toBeLessThan(2.9);
  });

  it('a flat sheet stays flat, its straight rim straight, its corners are rounded', () => {
    const { mesh } = subdivide(sheet(8, 8, [4, 4]), { levels: 2, corners: false });
    for (let v = 0; v < vertexCount(mesh); v++) expect(Math.abs(mesh.positions[3 * v + 2]!)).toBe(0);
    expect(bounds(mesh).max[0]).toBeCloseTo(4, 12);
    expect(faceCount(mesh)).toBe(16 * 16);
    expect(areaAndVolume(mesh).area).toBeLessThan(64);
  });

  it('hard edges hold: a box with all of them hard keeps its shape to the last digit', () => {
    const m = box(3, 4, 5);
    const hard = { ...m, layers: { ...m.layers, hard: new Uint8Array(m.corners.length).fill(1) } };
    const { mesh } = subdivide(hard, { levels: 2 });
    expect(areaAndVolume(mesh).volume).toBeCloseTo(60, 10);
    expect(bounds(mesh)).toEqual(bounds(m));
  });

  it('faces that are not seen from their middle are cut into such that are: flat ones are covered once', () => {
    const comb = [
      [0, 0],
      [70, 0],
      ...[6, 5, 4, 3, 2, 1, 0].flatMap((i) => [
        [10 * i + 8, i % 2 ? 10 : 60],
        [10 * i + 2, i % 2 ? 10 : 60],
      ]),
    ] as [number, number][];
    const m = prism({ points: comb, holes: [] }, 5);
    const { mesh } = subdivide(m, { levels: 1 });
    expect(isClosed(mesh)).toBe(true);
    // Turned over, a quad of an end would look the other way.
    const { normals, areas } = faceShapes(mesh);
    let [up, down] = [0, 0];
    for (let f = 0; f < faceCount(mesh); f++) {
      if (normals[3 * f + 2]! > 0.5) up += areas[f]!;
      else if (normals[3 * f + 2]! < -0.5) down += areas[f]!;
    }
    // Both ends are smoothed alike: of the same area, seen from above and from below, and of nothing twice.
    expect(up).toBeCloseTo(down, 6);
    expect(pairsThatMeet(mesh)).toEqual([]);
  });

  describe('where the smooth surface would cut through itself', () => {
    /** A coarse cube of 10 mm round a cavity that dense faces keep from shrinking. */
    const hollow = (cavity: number) => joinMeshes([box(10, 10, 10), flipMesh(box(cavity, cavity, cavity, [9, 9, 9]))]);

    it('it stays nearer to the cage there: corners that would go inside the cavity stay where they were', () => {
      const m = hollow(9);
      const { mesh, report } = subdivide(m, { levels: 1 });
      expect(pairsThatMeet(mesh)).toEqual([]);
      // The corners of the cube went 20/9 mm in, to where the cavity is; a quarter of that is clear of it.
      expect(Array.from({ length: 8 }, (_, v) => report.eased.includes(v))).toEqual(new Array(8).fill(true));
      for (let v = 0; v < 8; v++)
        for (const x of vertexPlace(mesh, v)) expect(Math.abs(x)).toBeCloseTo(5 - 20 / 9 / 4, 12);
      // Round after round, and on the limit.
      for (const limit of [false, true]) expect(pairsThatMeet(subdivide(m, { levels: 2, limit }).mesh)).toEqual([]);
    });

    it('nothing is held back where there is room, bit for bit', () => {
      const { mesh, report } = subdivide(hollow(2), { levels: 1 });
      expect(report.eased).toEqual([]);
      const alone = subdivide(box(10, 10, 10), { levels: 1 }).mesh;
      for (let v = 0; v < 8; v++) expect(vertexPlace(mesh, v)).toEqual(vertexPlace(alone, v));
    });

    it('what crossed before stays as it comes, and a crossing elsewhere is mended even so', () => {
      const two = joinMeshes([moved(box(10, 10, 10), [16, 5, 4]), moved(box(10, 10, 10), [22, 0, 0]), hollow(9)]);
      const { mesh } = subdivide(two, { levels: 1 });
      const met = pairsThatMeet(mesh).flat();
      expect(met.length).toBeGreaterThan(0);
      expect(Math.max(...met)).toBeLessThan(48);
    });
  });

  it('faces with holes are tied first; slots and sources go along', () => {
    const square: [number, number][] = [
      [0, 0],
      [4, 0],
      [4, 4],
      [0, 4],
    ];
    const m = prism(
      {
        points: square,
        holes: [
          [
            [1, 1],
            [3, 1],
            [3, 3],
            [1, 3],
          ],
        ],
      },
      1,
    );
    const { mesh } = subdivide(
      { ...m, layers: { slot: new Int32Array(faceCount(m)).fill(1) }, slots: ['A', 'B'] },
      { levels: 1 },
    );
    expect(isClosed(mesh)).toBe(true);
    expect(mesh.layers.slot!.every((s) => s === 1)).toBe(true);
  });

  it('what would be too large is told before it is made', () => {
    expect(() => subdivide(cylinder(5, 9, 4096, 200), { levels: 3 })).toThrow(/would make .* faces; up to/);
  });
});
