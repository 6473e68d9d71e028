import { describe, expect, it } from 'vitest';
import { carve } from '../carve/index.ts';
import {
  faceNormals,
  transformMesh,
  triangulateMesh,
  withSource,
  joinMeshes,
  type PolyMesh,
  type Vec3,
} from '../mesh/index.ts';
import { ballFromPatches, box, cylinder, prism, sheet, tube } from '../shapes/index.ts';
import {
  cornerThickness,
  loopDistance,
  measureFace,
  Thickness,
  wallLeft,
  furthestVertex,
  heatShare,
  LOOKS,
  lookValues,
  cornerCurvature,
  type LookName,
} from './index.ts';

/** The values of a look by face, where all corners agree. */
function byFace(m: PolyMesh, look: LookName): number[] {
  const { values } = lookValues(m, look);
  const { face } = triangulateMesh(m);
  const out: number[] = [];
  face.forEach((f, t) => (out[f] = values[3 * t]!));
  return out;
}

describe('looks', () => {
  it('have a value for each corner of each triangle of the picture', () => {
    for (const look of Object.keys(LOOKS) as LookName[])
      expect(lookValues(cylinder(5, 9, 12), look).values.length, look).toBe(3 * (2 * 12 + 2 * 10));
  });

  it('polygon sides, edges at a vertex, where faces come from', () => {
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
            [2, 1],
            [1, 2],
          ],
        ],
      },
      1,
    );
    expect(byFace(m, 'sides').sort()).toEqual([1, 1, 1, 1, 1, 1, 1, 5, 5]);
    expect(byFace(cylinder(5, 9, 6), 'sides').filter((x) => x === 3).length).toBe(2);
    expect([...new Set(lookValues(sheet(4, 4, [2, 2]), 'valence').values)].sort()).toEqual([0, 1, 2]);
    const two = joinMeshes([withSource(box(1, 1, 1), 1, 7), withSource(box(1, 1, 1), 2, 3)]);
    expect([lookValues(two, 'source').classes, byFace(two, 'source')[0], byFace(two, 'source')[6]]).toEqual([
      ['3', '7'],
      1,
      0,
    ]);
  });

  it('of thickness, by rays and by balls, and of curvature: what their own measures give, each at its corner', () => {
    const wedge = prism(
      {
        points: [
          [0, 0],
          [100, 0],
          [100, 40],
        ],
      },
      300,
    );
    const hull = cylinder(20, 60, 24, 6);
    const { triangles: corners } = triangulateMesh(wedge);
    const [ray, ball] = [cornerThickness(wedge), cornerThickness(wedge, 'ball')];
    expect([...ray]).not.toEqual([...ball]);
    expect([...lookValues(wedge, 'thickness').values]).toEqual([...Float32Array.from(corners, (c) => ray[c]!)]);
    expect([...lookValues(wedge, 'ball').values]).toEqual([...Float32Array.from(corners, (c) => ball[c]!)]);
    const bent = cornerCurvature(hull);
    const { triangles } = triangulateMesh(hull);
    expect([...lookValues(hull, 'curvature').values]).toEqual([...Float32Array.from(triangles, (c) => bent[c]!)]);
  });

  it('of departure: the angle from the flat face, evenly shared out, with the place of the worst', () => {
    const flat = box(2, 2, 2);
    const tilt = (10 * Math.PI) / 180;
    const N = faceNormals(flat);
    // The light of one face leans by 10° at one corner.
    const normal = Float32Array.from({ length: 72 }, (_, i) => N[3 * Math.floor(i / 12) + (i % 3)]!);
    const n = [normal[0]!, normal[1]!, normal[2]!];
    const beside = [n[1]!, n[2]!, n[0]!];
    for (let k = 0; k < 3; k++) normal[k] = Math.cos(tilt) * n[k]! + Math.sin(tilt) * beside[k]!;
    const look = lookValues({ ...flat, layers: { ...flat.layers, normal } }, 'departure');
    expect(look).toMatchObject({ min: 0, max: expect.closeTo(10, 3), log: false, classes: [] });
    const corner = 3 * flat.corners[0]!;
    expect(look.worst).toEqual([...flat.positions.subarray(corner, corner + 3)]);
    // Between the corner and the even rest of its face the angle falls off evenly: no share of it is empty.
    expect(look.bins.reduce((a, b) => a + b)).toBeGreaterThan(0);
    expect(look.bins[0]).toBeGreaterThan(look.bins.at(-1)!);
    expect(lookValues(flat, 'departure').max).toBe(0);
    const { classes, values } = lookValues(flat, 'edges');
    expect([classes, new Set(values)]).toEqual([['part'], new Set([0])]);
  });

  it('the shortest edge of each face, in tenfolds', () => {
    const v = lookValues(box(1, 10, 100), 'edgeLength');
    expect([v.min, v.max, v.log]).toEqual([1, 10, true]);
    expect([1, 3.1622776, 10, 50].map((x) => +heatShare(v, x).toFixed(6))).toEqual([0, 0.5, 1, 1]);
    expect(heatShare({ min: 2, max: 2, log: false }, 2)).toBe(0);
  });

  it('slope: up, level, down', () => {
    expect(
      byFace(box(1, 1, 1), 'slope')
        .map(Math.round)
        .sort((a, b) => a - b),
    ).toEqual([0, 90, 90, 90, 90, 180]);
  });

  it('mean curvature of a round wall is half of one by its radius, in a bore below 0, of a ball one by its radius, of a flat 0', () => {
    const n = 96;
    // Rows in between: their vertices have faces of the wall alone round them.
    const wall = cylinder(20, 60, n, 6);
    const inner = [...cornerCurvature(wall)].filter((_, c) => Math.abs(wall.positions[3 * wall.corners[c]! + 2]!) < 15);
    // The flats of a wall are a little narrower than its arcs: 2 r sin(π/n) for 2 π r / n.
    const exact = Math.PI / n / Math.sin(Math.PI / n) / 40;
    for (const k of inner) expect(k).toBeCloseTo(exact, 9);
    const bore = tube(30, 20, 60, n);
    expect(Math.min(...cornerCurvature(bore))).toBeLessThan(0);
    const ball = cornerCurvature(ballFromPatches(50, 24));
    const mean = ball.reduce((a, b) => a + b, 0) / ball.length;
    expect(mean * 50).toBeCloseTo(1, 1);
    for (const k of cornerCurvature(box(3, 4, 5))) expect(k).toBe(0);
    // The flat end of a round wall is flat, up to its rim.
    const ends = cylinder(20, 60, n);
    expect([...cornerCurvature(ends).subarray(0, n)].every((k) => k === 0)).toBe(true);
  });
});

it('the greatest distance between two surfaces, each way', () => {
  const [small, large] = [box(10, 10, 10), box(10, 10, 16)];
  expect(furthestVertex(small, large)).toEqual({ distance: 0, point: expect.any(Array) });
  const there = furthestVertex(large, small)!;
  expect([there.distance, Math.abs(there.point[2])]).toEqual([3, 8]);
  expect(
    furthestVertex(small, {
      ...small,
      faceLoops: new Int32Array(1),
      loopStart: new Int32Array(1),
      corners: new Int32Array(),
    }),
  ).toBeNull();
  expect(() => furthestVertex(small, large, { signal: { aborted: true } })).toThrow(/Cancelled/);
});

describe('wall thickness', () => {
  it('of a plate, of a tube, of a plate with a pocket: what is left', () => {
    const plate = lookValues(box(100, 60, 4), 'thickness');
    expect([plate.min, plate.max].map((x) => +x.toFixed(3))).toEqual([4, 100]);
    const n = 64;
    const pipe = tube(30, 26, 50, n);
    const thick = cornerThickness(pipe);
    // Through a flat wall square to it: between the middles of two flats of the outer and the inner ring.
    const wall = Math.min(...thick);
    expect(wall).toBeCloseTo(4 * Math.cos(Math.PI / n), 1);
    const pocket = carve(box(100, 60, 20), {
      cutters: [transformMesh(box(30, 30, 20), [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 8])],
      operation: 'subtract',
    }).mesh;
    expect(lookValues(pocket, 'thickness').min).toBeCloseTo(8, 6);
  });

  it('by the largest ball: of a plate its thickness, of a wedge what touches both sides', () => {
    const plate = cornerThickness(box(100, 60, 4), 'ball');
    expect(Math.min(...plate)).toBeCloseTo(4, 6);
    // Top and bottom are beside the ends, not across from them: between the ends there are 100 mm.
    expect(Math.max(...plate)).toBeCloseTo(100, 6);
    // Between two planes that meet at an angle: at distance s from the ridge along one of them 2 s tan(angle / 2).
    const wedge = prism(
      {
        points: [
          [0, 0],
          [100, 0],
          [100, 40],
        ],
      },
      300,
    );
    const t = new Thickness(wedge);
    const n = faceNormals(wedge);
    const foot = [0, 1, 2, 3, 4].find((f) => n[3 * f + 1]! < -0.9)!;
    const angle = Math.atan2(40, 100);
    expect(t.ball(foot, [30, 0, 0])).toBeCloseTo(2 * 30 * Math.tan(angle / 2), 6);
    expect(t.ray(foot, [30, 0, 0]).thick).toBeCloseTo(30 * Math.tan(angle), 6);
  });

  it('that is left beside a cut: a hole near an edge, and where', () => {
    const n = 64;
    const holed = carve(box(100, 60, 10), {
      cutters: [withSource(transformMesh(cylinder(10, 30, n), [1, 0, 0, 37, 0, 1, 0, 0, 0, 0, 1, 0]), 5, 9)],
      operation: 'subtract',
      course: 9,
    }).mesh;
    const left = wallLeft(holed, (f) => holed.layers.source![3 * f + 2] === 9)!;
    // From x = 47 to the side at 50; a ray starts a little beside the vertex that is nearest.
    expect(left.ray).toBeGreaterThan(3 - 1e-9);
    expect(left.ray).toBeLessThan(3.01);
    expect(left.ball).toBeLessThanOrEqual(left.ray);
    expect(left.point[0]).toBeGreaterThan(46.9);
    expect(wallLeft(holed, () => false)).toBeNull();
    expect(wallLeft(sheet(10, 10), () => true)).toBeNull();
  });

  it('of an open sheet there is none: the size is told', () => {
    expect(lookValues(sheet(30, 40), 'thickness').min).toBeCloseTo(40, 3);
  });
});

describe('measures', () => {
  const square = (s: number, x = 0, z = 0): Vec3[] => [
    [x - s, -s, z],
    [x + s, -s, z],
    [x + s, s, z],
    [x - s, s, z],
  ];

  it('between two boundaries: where they come nearest, and between their middles', () => {
    const d = loopDistance(square(5), square(2, 20, 3));
    expect(d.least).toBeCloseTo(Math.hypot(13, 3), 12);
    expect([d.from[0], d.to[0]]).toEqual([5, 18]);
    expect(d.middles).toBeCloseTo(Math.hypot(20, 3), 12);
    expect(loopDistance(square(5), square(2)).least).toBe(3);
    // Crossing runs touch.
    expect(loopDistance(square(5), square(5, 3)).least).toBe(0);
  });

  it('of a face: area, boundaries, bend, and the wall below', () => {
    const plate = prism(
      {
        points: square(10).map(([x, y]): [number, number] => [x, y]),
        holes: [square(2).map(([x, y]): [number, number] => [x, y])],
      },
      6,
    );
    const n = faceNormals(plate);
    const top = Array.from({ length: 10 }, (_, f) => f).find((f) => n[3 * f + 2]! > 0.9)!;
    expect(measureFace(plate, top, [6, 0, 3])).toEqual({
      area: 400 - 16,
      boundaries: [
        { length: 80, corners: 4 },
        { length: 16, corners: 4 },
      ],
      bend: 0,
      ray: expect.closeTo(6, 4),
      ball: expect.closeTo(6, 6),
    });
    expect(measureFace(sheet(4, 4), 0, [0, 0, 0])).toMatchObject({ ray: null, ball: null });
  });

  it('edges by class, with their lengths; a checker with UVs, and without', () => {
    const open = lookValues(sheet(4, 4, [2, 2]), 'edges').edges!;
    expect(open.find((e) => e.name === 'open')).toMatchObject({ count: 8, length: 16 });
    expect(open.find((e) => e.name === 'plain')).toMatchObject({ count: 4, length: 8 });
    const m = box(1, 1, 1);
    expect(lookValues(m, 'uv')).toMatchObject({ square: 0 });
    const uv = Float64Array.from({ length: 48 }, (_, i) => [0, 0, 24, 0, 24, 24, 0, 24][i % 8]!);
    const v = lookValues({ ...m, layers: { ...m.layers, uv } }, 'uv');
    expect(v.square).toBe(1);
    expect(v.uvs).toHaveLength(2 * 36);
    expect(Math.max(...v.uvs!)).toBe(24);
    expect([v.classes, [...new Set(v.values)]]).toEqual([['part'], [0]]);
    // The squares go by how far the UVs reach, wherever they lie.
    const spread = (low: number, high: number) =>
      lookValues({ ...m, layers: { ...m.layers, uv: uv.map((x) => low + (x / 24) * (high - low)) } }, 'uv').square;
    expect([spread(-5, 5), spread(-120, 120), spread(1000, 1002.4), spread(3, 3)]).toEqual([1, 10, 0.1, 0]);
  });
});
