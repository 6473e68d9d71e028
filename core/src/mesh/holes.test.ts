import { describe, expect, it } from 'vitest';
import { seededRandom } from '../shapes/index.ts';
import {
  areaAndVolume,
  cross,
  faceAreas,
  faceCount,
  faceBoundaries,
  isRimOf,
  lengthOf,
  loopCount,
  meshFromFaces,
  placementAffine,
  ringHoles,
  sub,
  tieHoles,
  tieToCorners,
  topologyOf,
  transformMesh,
  triangulateMesh,
  vertexCount,
  type PolyMesh,
} from './index.ts';

type Point = [number, number];

/** A flat face with holes, in the plane z = 0 looking up. */
function face(outer: Point[], ...holes: Point[][]): PolyMesh {
  const points = [outer, ...holes.map((h) => [...h].reverse())];
  let at = 0;
  const loops = points.map((loop) => loop.map(() => at++));
  return meshFromFaces(
    points.flat().flatMap(([x, y]) => [x, y, 0]),
    [loops],
  );
}
const rectangle = (x: number, y: number, at: Point = [0, 0]): Point[] =>
  [
    [-x, -y],
    [x, -y],
    [x, y],
    [-x, y],
  ].map(([a, b]) => [a! / 2 + at[0], b! / 2 + at[1]]);
const ngon = (n: number, r: number, at: Point = [0, 0], turn = 0): Point[] =>
  Array.from({ length: n }, (_, i) => [
    at[0] + r * Math.cos((2 * Math.PI * (i + turn)) / n),
    at[1] + r * Math.sin((2 * Math.PI * (i + turn)) / n),
  ]);
const ngonArea = (n: number, r: number) => (n / 2) * r * r * Math.sin((2 * Math.PI) / n);

/** The edges that a tied face has inside, each as its two ends. */
function ties(m: PolyMesh): [Point, Point][] {
  const t = topologyOf(m);
  const at = (v: number): Point => [m.positions[3 * v]!, m.positions[3 * v + 1]!];
  const out: [Point, Point][] = [];
  t.opposite.forEach((o, c) => {
    if (o > c) out.push([at(m.corners[c]!), at(m.corners[t.next[c]!]!)]);
  });
  return out;
}
const named = (list: [Point, Point][], map: (p: Point) => Point = (p) => p) =>
  list
    .map((t) =>
      t
        .map((p) =>
          map(p)
            .map((x) => (x || 0).toFixed(6))
            .join(),
        )
        .sort()
        .join(' '),
    )
    .sort();

/**
 * What any way of tying must keep: the area, the vertices, faces of one boundary, no edge with one face on both sides.
 */
function expectTied(tied: PolyMesh, from: PolyMesh): void {
  expect(areaAndVolume(tied).area).toBeCloseTo(areaAndVolume(from).area, 8);
  expect(vertexCount(tied)).toBe(vertexCount(from));
  expect(loopCount(tied)).toBe(faceCount(tied));
  const t = topologyOf(tied);
  t.opposite.forEach((o, c) => {
    if (o >= 0) expect(t.face[o]).not.toBe(t.face[c]);
  });
  expect(Math.min(...faceAreas(tied))).toBeGreaterThan(0);
}

describe('ties to the corners', () => {
  it('of a square with a hole in its middle lie on the diagonals, and part it in four like pieces', () => {
    const m = face(rectangle(20, 20), ngon(8, 3));
    const tied = tieToCorners(m);
    expectTied(tied, m);
    const d = 3 / Math.SQRT2;
    const want: [Point, Point][] = [
      [
        [10, 10],
        [d, d],
      ],
      [
        [-10, 10],
        [-d, d],
      ],
      [
        [-10, -10],
        [-d, -d],
      ],
      [
        [10, -10],
        [d, -d],
      ],
    ];
    expect(named(ties(tied))).toEqual(named(want));
    for (const a of faceAreas(tied)) expect(a).toBeCloseTo((400 - ngonArea(8, 3)) / 4, 10);
  });

  it.each([0, 0.5])('of a rectangle mirror in both its middle lines, the hole turned by %d of a step', (turn) => {
    const m = face(rectangle(50, 20), ngon(12, 4, [0, 0], turn));
    const tied = tieToCorners(m);
    expectTied(tied, m);
    const all = named(ties(tied));
    expect(all.length).toBe(4);
    expect(named(ties(tied), ([x, y]) => [-x, y])).toEqual(all);
    expect(named(ties(tied), ([x, y]) => [x, -y])).toEqual(all);
  });

  it('reach each hole twice at least, and never one of them once', () => {
    const m = face(rectangle(60, 20), ngon(10, 3, [-18, 0]), ngon(6, 2, [0, 3]), ngon(14, 4, [17, -1]));
    expectTied(tieToCorners(m), m);
    const outer = ties(tieToCorners(m)).filter((t) => t.some(([x, y]) => Math.abs(x) === 30 && Math.abs(y) === 10));
    expect(outer.length).toBeGreaterThanOrEqual(4);
  });

  it('do not run across a bay: a corner that does not see the hole has none', () => {
    const bay: Point[] = [
      [0, 0],
      [30, 0],
      [30, 30],
      [20, 30],
      [20, 10],
      [10, 10],
      [10, 30],
      [0, 30],
    ];
    const m = face(bay, ngon(8, 2, [15, 5]));
    const tied = tieToCorners(m);
    expectTied(tied, m);
    for (const t of ties(tied)) expect(t.every(([, y]) => y < 29)).toBe(true);
  });

  it('of a face without corners are short ones', () => {
    const m = face(ngon(48, 20), ngon(12, 4, [3, 1]));
    expect(named(ties(tieToCorners(m)))).toEqual(named(ties(tieHoles(m))));
  });

  it('leave faces alone that are not wanted', () => {
    const m = face(rectangle(20, 20), ngon(8, 3));
    expect(loopCount(tieToCorners(m, () => false))).toBe(2);
  });

  it('keep all that must be kept over 80 random faces', () => {
    const random = seededRandom(3);
    for (let i = 0; i < 80; i++) {
      const sides = 3 + Math.floor(5 * random());
      const holes: Point[][] = [];
      const places: [number, number, number][] = [];
      for (let k = 0; k < 1 + Math.floor(4 * random()); k++) {
        const [a, r, s] = [6.28 * random(), 6 * random(), 0.6 + random()];
        const at: Point = [r * Math.cos(a), r * Math.sin(a)];
        if (places.some(([x, y, t]) => Math.hypot(x - at[0], y - at[1]) < s + t + 0.05)) continue;
        places.push([...at, s]);
        holes.push(ngon(3 + Math.floor(8 * random()), s, at, random()));
      }
      const m = face(ngon(sides, 20, [0, 0], random()), ...holes);
      expectTied(tieToCorners(m), m);
      expectTied(tieHoles(m), m);
    }
  });
});

describe('a ring of quads', () => {
  const all = () => true;

  it('round a round hole has a quad for each edge, as wide as asked, mitred', () => {
    const m = face(rectangle(20, 20), ngon(24, 3));
    const { mesh, report } = ringHoles(m, 2, all);
    expect(report).toEqual({ rings: 1, narrowed: 0, left: 0 });
    expect([faceCount(mesh), vertexCount(mesh), loopCount(mesh)]).toEqual([25, 4 + 48, 26]);
    const apothem = 3 * Math.cos(Math.PI / 24);
    const outer = (apothem + 2) / Math.cos(Math.PI / 24);
    for (let v = 28; v < 52; v++)
      expect(Math.hypot(mesh.positions[3 * v]!, mesh.positions[3 * v + 1]!)).toBeCloseTo(outer, 10);
    const areas = [...faceAreas(mesh)].sort((a, b) => a - b);
    expect(areas.at(-1)).toBeCloseTo(400 - ngonArea(24, outer), 8);
    for (const a of areas.slice(0, 24)) expect(a).toBeCloseTo((ngonArea(24, outer) - ngonArea(24, 3)) / 24, 10);
    for (let f = 0; f < 25; f++) expect(faceBoundaries(mesh, f)[0]!.length).toBe(4);
  });

  it('round a square hole keeps its corners on the diagonals', () => {
    const { mesh } = ringHoles(face(rectangle(30, 30), rectangle(8, 8)), 3, all);
    const ring = Array.from({ length: 4 }, (_, i) => [mesh.positions[3 * (8 + i)]!, mesh.positions[3 * (8 + i) + 1]!]);
    for (const [x, y] of ring)
      expect([Math.abs(x!), Math.abs(y!)]).toEqual([expect.closeTo(7, 12), expect.closeTo(7, 12)]);
  });

  it('is made narrower where there is no room, and left out where there is none at all', () => {
    expect(ringHoles(face(rectangle(20, 20), rectangle(4, 4, [6.5, 0])), 2, all).report).toEqual({
      rings: 1,
      narrowed: 1,
      left: 0,
    });
    expect(ringHoles(face(rectangle(20, 20), rectangle(4, 4, [7.9, 0])), 2, all).report).toEqual({
      rings: 0,
      narrowed: 0,
      left: 1,
    });
    const near = ringHoles(face(rectangle(40, 20), rectangle(4, 4, [-4, 0]), rectangle(4, 4, [4, 0])), 3, all);
    expect(near.report).toEqual({ rings: 2, narrowed: 1, left: 0 });
    expect(areaAndVolume(near.mesh).area).toBeCloseTo(800 - 32, 8);
  });

  it('does not swallow a small hole beside a large one', () => {
    const m = face(rectangle(40, 40), rectangle(10, 10), rectangle(1, 1, [7, 0]));
    const { mesh, report } = ringHoles(m, 4, (_, loop) => loop === 1);
    expect(report).toEqual({ rings: 1, narrowed: 1, left: 0 });
    expect(areaAndVolume(mesh).area).toBeCloseTo(1600 - 101, 8);
  });

  it('follows a hole that bends inward, or leaves it when the ring would meet itself', () => {
    const bent: Point[] = [
      [0, 0],
      [12, 0],
      [12, 12],
      [8, 12],
      [8, 4],
      [4, 4],
      [4, 12],
      [0, 12],
    ];
    const around = rectangle(60, 60);
    expect(ringHoles(face(around, bent), 1, all).report).toEqual({ rings: 1, narrowed: 0, left: 0 });
    expect(ringHoles(face(around, bent), 3, all).report).toEqual({ rings: 1, narrowed: 1, left: 0 });
    expect(ringHoles(face(around, bent), 40, all).report.left).toBe(1);
  });

  it('carries UVs that vary linearly exactly, and the rim keeps its marks', () => {
    const m = face(rectangle(20, 20), ngon(6, 3));
    m.layers.uv = Float64Array.from(m.corners, (v) => v).reduce<Float64Array>(
      (out, v, c) => {
        out.set([2 * m.positions[3 * v]! - m.positions[3 * v + 1]!, 5 + m.positions[3 * v + 1]!], 2 * c);
        return out;
      },
      new Float64Array(2 * m.corners.length),
    );
    m.layers.seam = Int32Array.from(m.corners, (_, c) => (c >= 4 ? 9 : 0));
    expect([isRimOf(m, 1, 9), isRimOf(m, 0, 9), isRimOf(m, 1, 8)]).toEqual([true, false, false]);
    const { mesh } = ringHoles(m, 2, (_, loop) => isRimOf(m, loop, 9));
    mesh.corners.forEach((v, c) => {
      const [x, y] = [mesh.positions[3 * v]!, mesh.positions[3 * v + 1]!];
      expect(mesh.layers.uv![2 * c]).toBeCloseTo(2 * x - y, 9);
      expect(mesh.layers.uv![2 * c + 1]).toBeCloseTo(5 + y, 9);
    });
    expect([...mesh.layers.seam!].filter((s) => s === 9).length).toBe(6);
  });

  it('on a turned face lies in the plane of it', () => {
    const m = face(rectangle(20, 20), ngon(8, 3));
    const tilted = {
      ...m,
      positions: Float64Array.from(m.positions, (_, i) =>
        i % 3 === 2 ? 0.5 * m.positions[i - 2]! + 7 : m.positions[i]!,
      ),
    };
    const { mesh } = ringHoles(tilted, 1, all);
    for (let v = 0; v < vertexCount(mesh); v++)
      expect(mesh.positions[3 * v + 2]).toBeCloseTo(0.5 * mesh.positions[3 * v]! + 7, 10);
  });
});

it('a face with a hole and a vertex in the middle of every edge is covered once, however it is turned', () => {
  const halved = (ring: Point[]): Point[] =>
    ring.flatMap((p, i): Point[] => {
      const q = ring[(i + 1) % ring.length]!;
      return [p, [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2]];
    });
  const random = seededRandom(11);
  for (let run = 0; run < 400; run++) {
    const hole = ngon(5 + (run % 9), 2 + 5 * random(), [8 * random() - 4, 4 * random() - 2], random());
    const m = transformMesh(
      face(halved(rectangle(40, 30)), halved(hole)),
      placementAffine({ position: [100 * random(), 0, -50], turn: [360 * random(), 360 * random(), 360 * random()] }),
    );
    const t = triangulateMesh(m).triangles;
    const at = (c: number) => [0, 1, 2].map((k) => m.positions[3 * m.corners[c]! + k]!) as [number, number, number];
    let area = 0;
    for (let i = 0; i < t.length; i += 3)
      area += lengthOf(cross(sub(at(t[i + 1]!), at(t[i]!)), sub(at(t[i + 2]!), at(t[i]!)))) / 2;
    expect(area, `run ${run}`).toBeCloseTo(faceAreas(m)[0]!, 6);
    // Edge to edge: as many triangles as a polygon of so many corners and one hole has.
    expect(t.length / 3).toBe(m.corners.length);
  }
});
