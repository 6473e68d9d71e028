import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  areaAndVolume,
  Bvh,
  checkIndices,
  components,
  cornerNormals,
  faceBend,
  faceCount,
  faceNormals,
  facePlane,
  flipMesh,
  genus,
  isClosed,
  joinMeshes,
  LAYERS,
  layersInUse,
  MasonError,
  meshFromFaces,
  OPEN,
  pinchedVertices,
  placementAffine,
  renderBuffers,
  sharpCorners,
  SpatialIndex,
  tieHoles,
  topologyOf,
  transformMesh,
  triangulateMesh,
  UNPAIRED,
  vertexCount,
  withSlot,
  withSource,
  type PolyMesh,
} from './index.ts';

/** A unit cube, corners numbered by x + 2y + 4z. */
const CUBE = [
  [0, 2, 3, 1],
  [4, 5, 7, 6],
  [0, 1, 5, 4],
  [2, 6, 7, 3],
  [0, 4, 6, 2],
  [1, 3, 7, 5],
];
const at = (v: number): number[] => [v & 1, (v >> 1) & 1, v >> 2];
const cube = (): PolyMesh => meshFromFaces([0, 1, 2, 3, 4, 5, 6, 7].flatMap(at), CUBE);

/** A flat plate in the plane z = 0: an n-gon with round holes. */
function plate(holes: [number, number, number][], n = 12): PolyMesh {
  const P: number[] = [];
  const ring = (x: number, y: number, r: number, turn: number) =>
    Array.from({ length: n }, (_, i) => {
      const a = (turn * 2 * Math.PI * i) / n;
      P.push(x + r * Math.cos(a), y + r * Math.sin(a), 0);
      return P.length / 3 - 1;
    });
  const loops = [ring(0, 0, 10, 1), ...holes.map(([x, y, r]) => ring(x, y, r, -1))];
  return meshFromFaces(P, [loops]);
}

const triangleArea = (m: PolyMesh): number => {
  const { triangles } = triangulateMesh(m);
  let sum = 0;
  for (let i = 0; i < triangles.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => m.positions.subarray(3 * m.corners[triangles[i + k]!]!));
    sum += ((b![0]! - a![0]!) * (c![1]! - a![1]!) - (c![0]! - a![0]!) * (b![1]! - a![1]!)) / 2;
  }
  return sum;
};

describe('building', () => {
  it('refuses what is not a mesh, and says where', () => {
    expect(() => meshFromFaces([0, 0, 0], [[0, 1, 2]])).toThrow(/vertex 1/);
    expect(() => meshFromFaces([0, 0, NaN], [])).toThrow(/Vertex 0/);
    expect(() => meshFromFaces([0, 0, 0], [[0, 0]])).toThrow(MasonError);
    expect(() => checkIndices(cube())).not.toThrow();
  });

  it('joins meshes, with slots of one name as one', () => {
    const a = withSlot(cube(), 'Steel');
    const b = withSlot(cube(), 'Brass');
    const j = joinMeshes([a, b, withSlot(cube(), 'Steel')]);
    expect(faceCount(j)).toBe(18);
    expect(j.slots).toEqual(['Steel', 'Brass']);
    expect([...j.layers.slot!]).toEqual([...Array(6).fill(0), ...Array(6).fill(1), ...Array(6).fill(0)]);
    expect(components(j).count).toBe(3);
    expect(areaAndVolume(j).volume).toBeCloseTo(3, 12);
    expect(layersInUse([a, withSource(a, 4, 7)])).toEqual(['slot', 'source']);
  });
});

describe('topology', () => {
  it('pairs each edge of a closed body', () => {
    const m = cube();
    const t = topologyOf(m);
    expect(t.edgeCount).toBe(12);
    expect(isClosed(m)).toBe(true);
    for (let c = 0; c < m.corners.length; c++) {
      expect(t.opposite[t.opposite[c]!]).toBe(c);
      expect(m.corners[t.opposite[c]!]).toBe(m.corners[t.next[c]!]);
      expect(t.prev[t.next[c]!]).toBe(c);
    }
    expect(topologyOf(m)).toBe(t);
  });

  it('finds open edges, three-faced edges and pinched vertices instead of failing on them', () => {
    const open = meshFromFaces(cube().positions, CUBE.slice(1));
    expect([...topologyOf(open).opposite].filter((o) => o === OPEN)).toHaveLength(4);
    const fin = meshFromFaces([...cube().positions, 2, 2, 2], [...CUBE, [0, 1, 8]]);
    expect([...topologyOf(fin).opposite].filter((o) => o === UNPAIRED)).toHaveLength(3);
    const twin = cube();
    const shifted = Float64Array.from(twin.positions, (x) => x + 1);
    const both = meshFromFaces(
      [...twin.positions, ...shifted.slice(3)],
      [...CUBE, ...CUBE.map((f) => f.map((v) => (v === 0 ? 7 : v + 7)))],
    );
    expect(pinchedVertices(both)).toEqual([7]);
    expect(genus(both)).toBe(null);
  });
});

describe('measures', () => {
  it('keeps its digits far from the origin, for any turn', () => {
    fc.assert(
      fc.property(fc.tuple(fc.nat(360), fc.nat(360), fc.nat(360)), fc.integer({ min: -1000, max: 1000 }), (turn, x) => {
        const m = transformMesh(cube(), placementAffine({ position: [x, -x, 2 * x], turn }));
        expect(areaAndVolume(m).volume).toBeCloseTo(1, 9);
        expect(areaAndVolume(m).area).toBeCloseTo(6, 9);
      }),
      { numRuns: 50 },
    );
  });

  it('counts a plate with k holes as flat with area less the holes', () => {
    const area = (r: number) => 6 * r * r * Math.sin(Math.PI / 6);
    const m = plate([
      [3, 0, 2],
      [-4, 1, 1.5],
    ]);
    expect(areaAndVolume(m).area).toBeCloseTo(area(10) - area(2) - area(1.5), 10);
    expect(faceBend(m, 0)).toBe(0);
    expect([...facePlane(m, 0).slice(0, 3)]).toEqual([0, 0, 1]);
  });

  it('a mirror keeps the volume positive and the carried plane outward', () => {
    const plane = new Float64Array(36);
    const m0 = cube();
    for (let f = 0; f < 6; f++) plane.set(facePlane(m0, f), 6 * f);
    const m = transformMesh(
      { ...m0, layers: { plane } },
      placementAffine({ position: [5, 6, 7], turn: [10, 20, 30], scale: [-1, 2, 3] }),
    );
    expect(areaAndVolume(m).volume).toBeCloseTo(6, 10);
    for (let f = 0; f < 6; f++) {
      const fresh = facePlane(m, f);
      for (let k = 0; k < 6; k++) expect(m.layers.plane![6 * f + k]).toBeCloseTo(fresh[k]!, 10);
    }
  });

  it('flipping twice gives the mesh back, edge data and all', () => {
    const hard = Uint8Array.from({ length: 24 }, (_, i) => i % 2);
    const m = { ...cube(), layers: { hard } };
    const twice = flipMesh(flipMesh(m));
    expect([...twice.corners]).toEqual([...m.corners]);
    expect([...twice.layers.hard!]).toEqual([...hard]);
    expect(areaAndVolume(flipMesh(m)).volume).toBeCloseTo(-1, 12);
  });
});

describe('triangulation', () => {
  it('covers concave boundaries with holes, with no corner left out', () => {
    const m = plate([
      [3, 0, 2],
      [-4, 1, 1.5],
      [0, -5, 1],
    ]);
    expect(triangleArea(m)).toBeCloseTo(areaAndVolume(m).area, 10);
    expect(triangulateMesh(m).triangles.length / 3).toBe(48 + 2 * 3 - 2);
  });

  it('keeps corners on a straight run, so that neighbours meet edge to edge', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 6 }), { minLength: 4, maxLength: 4 }), (counts) => {
        const ends = [
          [0, 0],
          [6, 0],
          [6, 4],
          [0, 4],
        ] as const;
        const P: number[] = [];
        ends.forEach((a, i) => {
          const b = ends[(i + 1) % 4]!;
          const n = counts[i]!;
          for (let k = 0; k < n; k++) P.push(a[0] + ((b[0] - a[0]) * k) / n, a[1] + ((b[1] - a[1]) * k) / n, 0);
        });
        const n = P.length / 3;
        const m = meshFromFaces(P, [Array.from({ length: n }, (_, i) => i)]);
        const { triangles } = triangulateMesh(m);
        const edges = new Set<string>();
        for (let i = 0; i < triangles.length; i += 3)
          for (let k = 0; k < 3; k++) edges.add(`${triangles[i + k]},${triangles[i + ((k + 1) % 3)]}`);
        for (let i = 0; i < n; i++) expect(edges.has(`${i},${(i + 1) % n}`)).toBe(true);
        expect(triangles.length / 3).toBe(n - 2);
        expect(triangleArea(m)).toBeCloseTo(24, 10);
      }),
    );
  });

  /** Each boundary edge in one triangle, each other edge in two that run opposite ways, and the area whole. */
  function expectCovered(points: readonly (readonly [number, number])[]): void {
    const n = points.length;
    const m = meshFromFaces(
      points.flatMap(([x, y]) => [x, y, 0]),
      [points.map((_, i) => i)],
    );
    const { triangles } = triangulateMesh(m);
    const edges = new Map<string, number>();
    for (let i = 0; i < triangles.length; i += 3)
      for (let k = 0; k < 3; k++) {
        const e = `${triangles[i + k]},${triangles[i + ((k + 1) % 3)]}`;
        edges.set(e, (edges.get(e) ?? 0) + 1);
      }
    for (const [e, count] of edges) {
      const [u, v] = e.split(',').map(Number) as [number, number];
      expect(count).toBe(1);
      expect(edges.has(`${v},${u}`)).toBe(v !== (u + 1) % n);
    }
    expect(triangles.length / 3).toBe(n - 2);
    const area = points.reduce(
      (sum, [x, y], i) => sum + (x * points[(i + 1) % n]![1] - y * points[(i + 1) % n]![0]) / 2,
      0,
    );
    expect(triangleArea(m) / area).toBeCloseTo(1, 9);
  }

  it('leaves no gap and covers nothing twice where corners all but coincide', () => {
    expectCovered([
      [-63.988734374867285, 173.91167272062287],
      [-63.98873423170558, 173.91167304493766],
      [-50.44783640556392, -265.38114153023304],
      [95.98310119058404, -260.8675094122942],
      [82.44220382155292, 178.42530517696656],
    ]);
    expectCovered([
      [-300.21370192110777, 11.729351313689572],
      [-300.5840524211075, -1.4611291203692887],
      [139.0986287141866, -13.806145787026985],
      [139.46897879431737, -0.6156647721525332],
      [139.46897921418628, -0.6156653529681926],
      [106.43325525133359, 0.3118821270996499],
      [38.16395747829122, 2.2286851715711027],
      [38.16395488990021, 2.228686420156695],
    ]);
    const hair = fc.integer({ min: -9, max: 9 });
    const side = fc.record({ runs: fc.integer({ min: 1, max: 3 }), off: hair, near: hair });
    fc.assert(
      fc.property(
        fc.array(side, { minLength: 4, maxLength: 4 }),
        fc.double({ min: 0, max: 6.3, noNaN: true }),
        (sides, turn) => {
          const ends = [
            [0, 0],
            [400, 0],
            [400, 150],
            [0, 150],
          ] as const;
          const [s, c] = [Math.sin(turn), Math.cos(turn)];
          const points = ends.flatMap((a, i): [number, number][] => {
            const b = ends[(i + 1) % 4]!;
            const { runs, off, near } = sides[i]!;
            const [x, y] = [Math.sign(b[0] - a[0]), Math.sign(b[1] - a[1])];
            const run = Array.from({ length: runs }, (_, k): [number, number] => [
              a[0] + ((b[0] - a[0]) * k) / runs - y * off * 1e-8 * Math.sign(k),
              a[1] + ((b[1] - a[1]) * k) / runs + x * off * 1e-8 * Math.sign(k),
            ]);
            return near ? [...run, [b[0] - x * Math.abs(near) * 1e-8, b[1] - y * Math.abs(near) * 1e-8]] : run;
          });
          expectCovered(points.map(([x, y]) => [c * x - s * y, s * x + c * y]));
        },
      ),
      { numRuns: 300 },
    );
  });

  it('ties every hole twice or more, with no area lost and no doubled edge', () => {
    const m = plate([
      [3, 0, 2],
      [-4, 1, 1.5],
      [0, -5, 1],
      [0, 6, 1],
    ]);
    const tied = tieHoles(withSource(m, 1, 2));
    expect(faceCount(tied)).toBe(tied.faceLoops.at(-1)!);
    expect(vertexCount(tied)).toBe(vertexCount(m));
    expect(areaAndVolume(tied).area).toBeCloseTo(areaAndVolume(m).area, 10);
    const t = topologyOf(tied);
    const inside = [...t.opposite].filter((o) => o >= 0).length / 2;
    expect(inside).toBeGreaterThanOrEqual(5);
    expect(inside).toBeLessThanOrEqual(8);
    for (let c = 0; c < tied.corners.length; c++)
      if (t.opposite[c]! >= 0) expect(t.face[c]).not.toBe(t.face[t.opposite[c]!]);
    const normals = faceNormals(tied);
    for (let f = 0; f < faceCount(tied); f++) expect(normals[3 * f + 2]).toBeCloseTo(1, 10);
    expect([...tied.layers.source!].filter((_, i) => i % 3 === 2)).toEqual(Array(faceCount(tied)).fill(2));
    expect(tieHoles(cube())).toEqual(cube());
  });
});

describe('shading and render buffers', () => {
  it('a cube shades flat, and its twelve edges are hard lines', () => {
    const m = cube();
    const r = renderBuffers(m);
    expect(r.positions.length).toBe(12 * 9);
    expect([...r.lineStart]).toEqual([0, 0, 0, 0, 12, 12, 12, 12]);
    // A flat that is parted, and known to be one face of its body: the edge between is a tie.
    const parted = meshFromFaces(
      [0, 0, 0, 2, 0, 0, 2, 2, 0, 0, 2, 0],
      [
        [0, 1, 2],
        [0, 2, 3],
      ],
      { layers: { source: Int32Array.of(1, 7, 1, 1, 7, 1) } },
    );
    expect([...renderBuffers(parted).lineStart]).toEqual([0, 0, 0, 1, 1, 1, 5, 5]);
    for (let i = 0; i < r.normals.length; i += 3)
      expect(Math.max(...[0, 1, 2].map((k) => Math.abs(r.normals[i + k]!)))).toBe(1);
    const open = renderBuffers(meshFromFaces(m.positions, CUBE.slice(1)));
    expect([...open.lineStart]).toEqual([0, 0, 0, 0, 8, 8, 12, 12]);
  });

  it('below the angle corners share a normal; a cut edge parts them again', () => {
    const roof = meshFromFaces(
      [0, 0, 0, 10, 0, 0, 10, 10, 1, 0, 10, 1, 10, 20, 0, 0, 20, 0],
      [
        [0, 1, 2, 3],
        [3, 2, 4, 5],
      ],
    );
    const flat = faceNormals(roof);
    const soft = cornerNormals(roof, flat, sharpCorners(roof, flat));
    expect(soft[3 * 2 + 1]).toBeCloseTo(0, 6);
    const seam = new Int32Array(8);
    seam[2] = 5;
    const cut = { ...roof, layers: { seam } };
    const hard = cornerNormals(cut, flat, sharpCorners(cut, flat));
    expect(hard[3 * 2 + 1]).toBeCloseTo(flat[1]!, 6);
    expect(LAYERS.seam.on).toBe('edge');
  });
});

describe('spatial index', () => {
  it('rays and nearest points agree with a cube known in closed form', () => {
    const index = new SpatialIndex(cube());
    fc.assert(
      fc.property(
        fc.tuple(fc.double({ min: 0.01, max: 0.99, noNaN: true }), fc.double({ min: 0.01, max: 0.99, noNaN: true })),
        ([y, z]) => {
          const hit = index.raycast([-2, y, z], [1, 0, 0])!;
          expect(hit.distance).toBeCloseTo(2, 12);
          expect(hit.face).toBe(4);
          expect(index.raycast([-2, y, z], [-1, 0, 0])).toBe(null);
          const near = index.closest([3, y, z])!;
          expect(near.face).toBe(5);
          [1, y, z].forEach((x, k) => expect(near.point[k]).toBeCloseTo(x, 12));
          expect(index.closest([2, 2, 2])!.distance).toBeCloseTo(Math.sqrt(3), 12);
        },
      ),
      { numRuns: 30 },
    );
  });

  it('a tree finds the same pairs as asking everyone', () => {
    const box = fc.tuple(fc.nat(40), fc.nat(40), fc.nat(40), fc.nat(6), fc.nat(6), fc.nat(6));
    fc.assert(
      fc.property(
        fc.array(box, { minLength: 1, maxLength: 40 }),
        fc.array(box, { minLength: 1, maxLength: 40 }),
        (a, b) => {
          const all = [...a, ...b];
          const boxes = Float64Array.from(all.flatMap(([x, y, z, p, q, r]) => [x, y, z, x + p, y + q, z + r]));
          const ids = (s: number, e: number) => Int32Array.from({ length: e - s }, (_, i) => s + i);
          const found = new Set<string>();
          new Bvh(boxes, ids(0, a.length)).pairs(new Bvh(boxes, ids(a.length, all.length)), 0.5, (i, j) =>
            found.add(`${i},${j}`),
          );
          let want = 0;
          a.forEach((p, i) =>
            b.forEach((q, j) => {
              const meet = [0, 1, 2].every((k) => p[k]! <= q[k]! + q[k + 3]! + 0.5 && q[k]! <= p[k]! + p[k + 3]! + 0.5);
              if (meet) want++;
              expect(found.has(`${i},${a.length + j}`)).toBe(meet);
            }),
          );
          expect(found.size).toBe(want);
        },
      ),
    );
  });
});

it('the nearest place is found on triangles without area, too', () => {
  const flat = meshFromFaces(
    [0, 0, 0, 2, 0, 0, 4, 0, 0, 1, 1, 0, 9, 9, 9],
    [
      [0, 1, 2],
      [0, 2, 3],
      [3, 3, 3],
    ],
  );
  const index = new SpatialIndex(flat);
  expect(index.closest([1, -1, 0])).toMatchObject({ distance: 1, point: [1, 0, 0] });
  expect(index.closest([5, 0, 0])!.distance).toBe(1);
  for (const p of [
    [0, 0, 0],
    [4, 0, 0],
    [1, 1, 1],
    [-2, 0, 0],
  ] as const)
    expect(index.closest(p)!.distance).toBeLessThan(3);
});
