import { describe, expect, it } from 'vitest';
import {
  faceBegin,
  faceCount,
  faceEnd,
  faceBoundaries,
  flipMesh,
  isClosed,
  joinMeshes,
  meshFromFaces,
  shadingNormals,
  takeFaces,
  topologyOf,
  transformMesh,
  type PolyMesh,
  type Vec3,
  shareArea,
} from '../mesh/index.ts';
import { ballFromPatches, box, cylinder, sheet } from '../shapes/index.ts';
import {
  departure,
  findings,
  heatShare,
  loopDistance,
  RULE_NAMES,
  ruleOf,
  shownFinding,
  surveyCounts,
  type RuleName,
} from './index.ts';
import { cornerCurvature } from './looks.ts';

const at = (m: PolyMesh, x: number, y = 0, z = 0) => transformMesh(m, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z]);
const faces = (m: PolyMesh) => Array.from({ length: faceCount(m) }, (_, f) => faceBoundaries(m, f));
const find = (m: PolyMesh, rule: RuleName) => findings(m, { rules: [rule], deep: true })[0];

/** Two cubes that share a vertex: closed, and pinched there. */
function pinchedCubes(): PolyMesh {
  const cube = box(2, 2, 2);
  const corner =
    cube.positions.findIndex((_, i) => i % 3 === 0 && [0, 1, 2].every((k) => cube.positions[i + k]! > 0)) / 3;
  const far = at(cube, 2, 2, 2);
  const low = far.positions.findIndex((_, i) => i % 3 === 0 && [0, 1, 2].every((k) => far.positions[i + k] === 1)) / 3;
  const both = joinMeshes([cube, far]);
  return { ...both, corners: both.corners.map((v) => (v === 8 + low ? corner : v)) };
}

describe('the figures of a part', () => {
  it('tell a volume and a genus of sound parts only: each kind of damage alone spoils them', () => {
    const cube = box(2, 2, 2);
    const [first, ...rest] = faces(cube);
    const pinched = pinchedCubes();
    const damaged = {
      openEdges: takeFaces(cube, (f) => f > 0),
      nonManifoldEdges: meshFromFaces(cube.positions, [...faces(cube), first!]),
      flippedEdges: meshFromFaces(cube.positions, [[...first![0]!].reverse(), ...rest]),
      nonManifoldVertices: pinched,
    };
    for (const [name, m] of Object.entries(damaged)) {
      const counts = surveyCounts(m);
      expect([counts.volume, counts.genus], name).toEqual([null, null]);
      expect(counts[name as 'openEdges'], name).toBeGreaterThan(0);
    }
    expect(surveyCounts(meshFromFaces([], []))).toMatchObject({ volume: null, genus: null, faces: 0, area: 0 });
    expect(surveyCounts(cube)).toMatchObject({ volume: expect.closeTo(8, 12), genus: 0 });
    expect(isClosed(pinched)).toBe(true);
  });
});

describe('findings as a picture shows them', () => {
  const line = (m: PolyMesh, c: number) =>
    [m.corners[c]!, m.corners[topologyOf(m).next[c]!]!].flatMap((v) => [...m.positions.subarray(3 * v, 3 * v + 3)]);

  it('edges by both of their ends, faces by all edges round them, vertices by their places', () => {
    const m = at(
      takeFaces(box(2, 3, 4), (f) => f > 0),
      7,
      -5,
      11,
    );
    const open = find(m, 'openEdges')!;
    const edges = shownFinding(m, open);
    expect([...edges.lines]).toEqual([...open.ids].flatMap((c) => line(m, c)));
    const ngon = cylinder(3, 5, 7);
    const caps = find(ngon, 'ngons')!;
    expect([...shownFinding(ngon, caps).lines]).toEqual(
      [...caps.ids].flatMap((f) =>
        Array.from({ length: faceEnd(ngon, f) - faceBegin(ngon, f) }, (_, i) =>
          line(ngon, faceBegin(ngon, f) + i),
        ).flat(),
      ),
    );
    const poles = shownFinding(m, find(m, 'poles')!);
    expect([poles.lines.length, [...poles.points]]).toEqual([
      0,
      [...poles.ids].flatMap((v) => [...m.positions.subarray(3 * v, 3 * v + 3)]),
    ]);
    // The way out at an open edge is that of its one face.
    edges.ids.forEach((c, i) =>
      expect(Math.hypot(...edges.normals.subarray(3 * i, 3 * i + 3)), `${c}`).toBeCloseTo(1, 6),
    );
  });

  it('each rule finds vertices, edges or faces, and says which', () => {
    const on: Partial<Record<RuleName, 'vertex' | 'edge' | 'face'>> = {
      openEdges: 'edge',
      nonManifoldEdges: 'edge',
      flippedEdges: 'edge',
      shortEdges: 'edge',
      flippedFaces: 'face',
      duplicateFaces: 'face',
      degenerateFaces: 'face',
      slivers: 'face',
      ngons: 'face',
      triangles: 'face',
      overlappingFaces: 'face',
      innerShells: 'face',
      voids: 'face',
      insideOut: 'face',
      uvMissing: 'face',
      uvFlipped: 'face',
      uvZeroArea: 'face',
      verticesOnEdges: 'vertex',
      doubledVertices: 'vertex',
      isolatedVertices: 'vertex',
      nonManifoldVertices: 'vertex',
      straightVertices: 'vertex',
      poles: 'vertex',
    };
    const cube = box(2, 2, 2);
    const [first, ...rest] = faces(cube);
    const junction = meshFromFaces(
      [0, 0, 0, 2, 0, 0, 2, 2, 0, 0, 2, 0, 2, 1, 0, 4, 0, 0, 4, 1, 0, 4, 2, 0, 9, 9, 9, 0, 0, 0],
      [
        [0, 1, 2, 3],
        [1, 5, 6, 4],
        [4, 6, 7, 2],
        [9, 1, 3],
      ],
    );
    const square = sheet(2, 2);
    const uv = (list: number[]) => ({ ...square, layers: { ...square.layers, uv: Float64Array.from(list) } });
    const meshes = [
      pinchedCubes(),
      takeFaces(cube, (f) => f > 0),
      meshFromFaces(cube.positions, [...faces(cube), first!]),
      meshFromFaces(cube.positions, [[...first![0]!].reverse(), ...rest]),
      box(4, 4, 1e-5),
      cylinder(3, 5, 7),
      joinMeshes([box(9, 9, 9), cube]),
      joinMeshes([box(9, 9, 9), flipMesh(cube)]),
      flipMesh(cube),
      junction,
      joinMeshes([sheet(4, 4), at(sheet(2, 2), 1, 1)]),
      meshFromFaces(
        [0, 0, 0, 1, 0, 0, 2, 0, 0, 0, 1, 0],
        [
          [0, 1, 2],
          [0, 1, 3],
        ],
      ),
      uv([0, 0, 0, 1, 1, 1, 1, 0]),
      uv([0, 0, 1, 0, 2, 0, 3, 0]),
      square,
      meshFromFaces([0, 0, 0, 1, 0, 0, 2, 0, 0, 2, 2, 0, 0, 2, 0], [[0, 1, 2, 3, 4]]),
    ];
    const seen = new Set<RuleName>();
    for (const m of meshes)
      for (const f of findings(m, { deep: true })) {
        seen.add(f.rule);
        if (on[f.rule]) expect(f.on, f.rule).toBe(on[f.rule]);
        expect(f.ids.length, f.rule).toBeGreaterThan(0);
      }
    expect(Object.keys(on).filter((rule) => !seen.has(rule as RuleName))).toEqual([]);
    expect(RULE_NAMES.every((name) => ruleOf(name).title && ruleOf(name).why.endsWith('.'))).toBe(true);
  });
});

describe('a body within a body', () => {
  it('is one only where it reaches out on no side', () => {
    const outer = box(10, 10, 10);
    // Turned, so that its first vertex is within the outer one also where it stands out below.
    const half = (turned: boolean) =>
      transformMesh(
        box(4, 4, 4),
        turned ? [-1, 0, 0, 0, 0, -1, 0, 0, 0, 0, 1, 0] : [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0],
      );
    const upright = transformMesh(box(4, 4, 4), [1, 0, 0, 0, 0, -1, 0, 0, 0, 0, -1, 0]);
    for (const inner of [half(false), half(true), upright])
      for (const k of [0, 1, 2])
        for (const by of [-4, 4]) {
          const by3 = [0, 0, 0].map((_, i) => (i === k ? by : 0)) as [number, number, number];
          expect(find(joinMeshes([outer, at(inner, ...by3)]), 'innerShells'), by3.join()).toBeUndefined();
        }
    expect(find(joinMeshes([outer, half(true)]), 'innerShells')!.worst).toBeCloseTo(64, 9);
  });
});

describe('two triangles of a plane', () => {
  const A = [
    [0, 0],
    [4, 0],
    [0, 4],
  ] as [number, number][];
  const line = [
    [1, 1],
    [2, 1],
    [3, 1],
  ] as [number, number][];
  it.each([
    [
      'one within the other',
      A,
      [
        [1, 1],
        [2, 1],
        [1, 2],
      ],
      true,
    ],
    ['the same', A, A, true],
    [
      'crossing like a star',
      A,
      [
        [3, 3],
        [-1, 1],
        [1, -1],
      ],
      true,
    ],
    [
      'with an edge in common, on both sides of it',
      A,
      [
        [4, 0],
        [0, 4],
        [4, 4],
      ],
      false,
    ],
    [
      'with a corner in common',
      A,
      [
        [4, 0],
        [8, 0],
        [8, 4],
      ],
      false,
    ],
    [
      'apart',
      A,
      [
        [5, 5],
        [6, 5],
        [5, 6],
      ],
      false,
    ],
    ['one without area', A, line, false],
    ['the other without area', line, A, false],
    ['both without area', line, line, false],
  ] as const)('%s', (_, S, T, share) => {
    for (const [s, t] of [
      [S, T],
      [T, S],
      [[...S].reverse(), T],
      [S, [...T].reverse()],
    ])
      expect(shareArea(s!.flat(), t!.flat())).toBe(share);
  });
});

describe('distances between boundaries', () => {
  const far: Vec3 = [5, 100, 900];
  it.each([
    ['corner to edge, beyond neither of its ends', [4, 1, 0], [4.5, 5, 0], 1, [4, 0, 0], [4, 1, 0]],
    ['corner to corner', [13, 4, 0], [15, 9, 0], 5, [10, 0, 0], [13, 4, 0]],
    ['across each other, one above the other', [6, -3, 2], [6, 5, 2], 2, [6, 0, 0], [6, 0, 2]],
    ['side by side', [2, 0, 3], [8, 0, 3], 3, null, null],
  ] as const)('%s', (_, b0, b1, least, from, to) => {
    const d = loopDistance(
      [
        [0, 0, 0],
        [10, 0, 0],
        [5, -100, -900],
      ],
      [b0 as unknown as Vec3, b1 as unknown as Vec3, far],
    );
    expect(d.least).toBeCloseTo(least, 12);
    if (from)
      expect([d.from, d.to]).toEqual([from.map((x) => expect.closeTo(x, 12)), to.map((x) => expect.closeTo(x, 12))]);
  });

  it('middles are those of lengths: a finely split side weighs no more', () => {
    const square: Vec3[] = [
      [0, 0, 0],
      [4, 0, 0],
      [4, 4, 0],
      [0, 4, 0],
    ];
    const split: Vec3[] = [
      [0, 0, 5],
      [1, 0, 5],
      [2, 0, 5],
      [3, 0, 5],
      [4, 0, 5],
      [4, 4, 5],
      [0, 4, 5],
    ];
    expect(loopDistance(square, split).middles).toBeCloseTo(5, 12);
    expect(loopDistance([[1, 2, 3]], [[1, 2, 7]])).toMatchObject({ least: 4, middles: expect.any(Number) });
  });
});

describe('looks over a surface', () => {
  it('a share of a heat is linear, or by tenfolds, and held between its ends', () => {
    expect([1, 2, 3, 4, 5].map((x) => heatShare({ min: 2, max: 4, log: false }, x))).toEqual([0, 0, 0.5, 1, 1]);
    expect([1, 10, 100].map((x) => heatShare({ min: 1, max: 100, log: true }, x))).toEqual([
      0,
      expect.closeTo(0.5, 12),
      1,
    ]);
    expect(heatShare({ min: 3, max: 3, log: false }, 3)).toBe(0);
  });

  it('the curvature of a tube without ends is that of its wall also at its open edges', () => {
    const wall = takeFaces(
      cylinder(10, 30, 64, 6),
      (f) => faceEnd(cylinder(10, 30, 64, 6), f) - faceBegin(cylinder(10, 30, 64, 6), f) === 4,
    );
    for (const k of cornerCurvature(wall)) expect(k).toBeCloseTo(1 / 20, 3);
    expect([...cornerCurvature(sheet(4, 4, [3, 3]))].every((k) => k === 0)).toBe(true);
  });

  it('the departure is worst at the corner whose normal was turned, and is told there', () => {
    const m = at(sheet(4, 4, [2, 2]), 3, -7, 2);
    const corner = 9;
    const normal = Float32Array.from(shadingNormals(m));
    normal.set([Math.sin(0.5), 0, Math.cos(0.5)], 3 * corner);
    const d = departure({ ...m, layers: { ...m.layers, normal } }, () => [0, 0, 1]);
    const v = m.corners[corner]!;
    expect(d.worst.angle).toBeCloseTo((0.5 * 180) / Math.PI, 4);
    expect(d.worst.point.map((x) => +x.toFixed(9))).toEqual(
      [...m.positions.subarray(3 * v, 3 * v + 3)].map((x) => +x.toFixed(9)),
    );
    expect(d.worst.face).toBe(topologyOf(m).face[corner]);
    const ball = ballFromPatches(5, 4);
    expect(departure(ball, (_, p) => p).worst.angle).toBeLessThan(3);
  });
});
