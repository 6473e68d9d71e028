import { describe, expect, it } from 'vitest';
import {
  faceCount,
  faceBoundaries,
  flipMesh,
  joinMeshes,
  meshFromFaces,
  placementAffine,
  shadingNormals,
  transformMesh,
  type FaceBoundaries,
  type PolyMesh,
} from '../mesh/index.ts';
import { toldWhile } from '../mesh/testProgress.ts';
import { ballFromPatches, ballFromRings, box, cylinder, prism, seededRandom, sheet, tube } from '../shapes/index.ts';
import {
  findingData,
  findings,
  findingsCsv,
  placeOf,
  RULE_NAMES,
  ruleOf,
  shownFinding,
  surveyCounts,
  verdict,
  verticesOf,
  type RuleName,
} from './index.ts';

const faces = (m: PolyMesh): FaceBoundaries[] => Array.from({ length: faceCount(m) }, (_, f) => faceBoundaries(m, f));
const at = (m: PolyMesh, x: number, y = 0, z = 0, k = 1): PolyMesh =>
  transformMesh(m, [k, 0, 0, x, 0, k, 0, y, 0, 0, k, z]);
const find = (m: PolyMesh, rule: RuleName) => findings(m, { rules: [rule] })[0];
const count = (m: PolyMesh, rule: RuleName) => find(m, rule)?.count ?? 0;
const points = (m: PolyMesh, rule: RuleName) => {
  const f = find(m, rule);
  return f ? [...f.ids].map((id) => placeOf(m, f.on, id).point.map((x) => +x.toFixed(6) + 0)) : [];
};
const uv = (m: PolyMesh, values: (c: number) => [number, number]): PolyMesh => ({
  ...m,
  layers: { ...m.layers, uv: Float64Array.from({ length: 2 * m.corners.length }, (_, i) => values(i >> 1)[i % 2]!) },
});
const cube = box(2, 2, 2);
/** A flat grid of n × n unit squares. */
const grid = (n: number) => sheet(n, n, [n, n]);
/** The mesh with a vertex moved. */
function moved(m: PolyMesh, v: number, by: [number, number, number]): PolyMesh {
  const positions = m.positions.slice();
  by.forEach((x, k) => (positions[3 * v + k]! += x));
  return { ...m, positions };
}

describe('each rule speaks where it must and is silent where it must', () => {
  it('open edges, by their number, the worst with the length of its opening', () => {
    const open = meshFromFaces(cube.positions, faces(cube).slice(1));
    expect([count(open, 'openEdges'), find(open, 'openEdges')!.worst, count(cube, 'openEdges')]).toEqual([4, 8, 0]);
    const two = joinMeshes([sheet(3, 3), at(sheet(1, 1), 9)]);
    expect([find(two, 'openEdges')!.worst, find(two, 'openEdges')!.values.at(-1)]).toEqual([12, 4]);
  });

  it('edges with three faces or more', () => {
    const fin = meshFromFaces(
      [...cube.positions, 5, 0, 0],
      [...faces(cube), [faces(cube)[0]!.flat()[0] as number, faces(cube)[0]!.flat()[1] as number, 8]],
    );
    expect([count(fin, 'nonManifoldEdges'), find(fin, 'nonManifoldEdges')!.worst]).toEqual([1, 3]);
    expect(count(cube, 'nonManifoldEdges')).toBe(0);
  });

  it('vertices where faces join at a point only', () => {
    const kiss = meshFromFaces(
      [0, 0, 0, 1, 0, 0, 0, 1, 0, -1, 0, 0, 0, -1, 0],
      [
        [0, 1, 2],
        [0, 3, 4],
      ],
    );
    expect(points(kiss, 'nonManifoldVertices')).toEqual([[0, 0, 0]]);
    expect(count(grid(2), 'nonManifoldVertices')).toBe(0);
  });

  it('flipped faces by their edges', () => {
    const [first, ...rest] = faces(cube);
    const turned = meshFromFaces(cube.positions, [[...(first as number[][])[0]!].reverse(), ...rest]);
    expect([count(turned, 'flippedFaces'), count(cube, 'flippedFaces'), count(flipMesh(cube), 'flippedFaces')]).toEqual(
      [1, 0, 0],
    );
    // Two boxes, one of them inside out as a whole: no face of it is at odds with its neighbours.
    expect(count(joinMeshes([cube, at(flipMesh(cube), 9)]), 'flippedFaces')).toBe(0);
    // Its faces still hang together at its corners.
    expect(count(turned, 'nonManifoldVertices')).toBe(0);
    expect([count(turned, 'flippedEdges'), count(cube, 'flippedEdges'), count(flipMesh(cube), 'flippedEdges')]).toEqual(
      [4, 0, 0],
    );
  });

  it('shading normals that are none, or look away', () => {
    const lit = { ...cube, layers: { normal: shadingNormals(cube).slice() } };
    expect([count(lit, 'badNormals'), count(cube, 'badNormals')]).toEqual([0, 0]);
    lit.layers.normal.fill(0, 0, 3);
    for (let k = 12; k < 24; k++) lit.layers.normal[k]! *= -1;
    expect([...find(lit, 'badNormals')!.ids]).toEqual([0, 1]);
    expect(verdict(lit).findings.map((f) => f.rule)).toEqual(['badNormals']);
  });

  it('the verdict tells of errors first, crossings, slivers and doubled vertices, and nothing of a sound part', () => {
    expect(verdict(cube)).toEqual({ findings: [], whole: true });
    const crossed = joinMeshes([cube, at(cube, 1, 0.3, 0.4)]);
    expect(verdict(crossed).findings.map((f) => f.rule)).toEqual(['crossingFaces']);
    const sliver = meshFromFaces(
      [0, 0, 0, 10, 0, 0, 5, 0.01, 0, 5, 8, 0],
      [
        [0, 1, 2],
        [0, 2, 3],
        [2, 1, 3],
      ],
    );
    expect(verdict(sliver).findings.map((f) => f.rule)).toEqual(['openEdges', 'slivers']);
  });

  it('shells inside out, hollows, and bodies within a body', () => {
    expect([
      count(flipMesh(cube), 'insideOut'),
      find(flipMesh(cube), 'insideOut')!.worst,
      count(cube, 'insideOut'),
    ]).toEqual([1, 8, 0]);
    const hollow = joinMeshes([box(9, 9, 9), flipMesh(cube)]);
    expect([count(hollow, 'voids'), count(hollow, 'insideOut'), count(hollow, 'innerShells')]).toEqual([1, 0, 0]);
    const nested = joinMeshes([box(9, 9, 9), cube]);
    expect([count(nested, 'voids'), count(nested, 'innerShells'), find(nested, 'innerShells')!.worst]).toEqual([
      0, 1, 8,
    ]);
    // A body in a hollow is a body again; one beside it was none.
    const island = joinMeshes([box(9, 9, 9), flipMesh(box(6, 6, 6)), cube, at(cube, 20)]);
    expect([count(island, 'voids'), count(island, 'innerShells'), count(island, 'insideOut')]).toEqual([1, 0, 0]);
    // In the bore of a tube is not in the tube.
    expect(count(joinMeshes([tube(9, 5, 10, 24), cube]), 'innerShells')).toBe(0);
  });

  it('faces that cut through each other, and not those that only touch', () => {
    const through = joinMeshes([box(4, 4, 4), at(box(1, 1, 9), 0.3, 0.2)]);
    // Four sides of the rod through the top and through the bottom.
    expect(count(through, 'crossingFaces')).toBe(8);
    expect(count(joinMeshes([cube, at(cube, 2)]), 'crossingFaces')).toBe(0);
    expect(count(joinMeshes([cube, at(cube, 2.5)]), 'crossingFaces')).toBe(0);
    for (const m of [cube, cylinder(5, 9, 24), ballFromRings(4, 16, 8), ballFromPatches(4, 5)])
      expect(count(m, 'crossingFaces')).toBe(0);
  });

  it('a corner that comes through a face by more than a billionth of the size, away from its border', () => {
    const tolerance = 10e-9;
    /** A triangle of 10 mm, and a needle whose tip goes through it by a depth at a place. */
    const pierced = (depth: number, x = 3, y = 3) =>
      meshFromFaces(
        [0, 0, 0, 10, 0, 0, 0, 10, 0, x, y, -depth, x - 0.1, y, 5, x + 0.1, y, 5],
        [
          [0, 1, 2],
          [3, 4, 5],
        ],
      );
    const crossing = (m: PolyMesh) => count(m, 'crossingFaces');
    expect([
      crossing(pierced(1)),
      crossing(pierced(1.5 * tolerance)),
      crossing(pierced(0.5 * tolerance)),
      crossing(pierced(0)),
      crossing(pierced(-1)),
    ]).toEqual([1, 1, 0, 0, 0]);
    // At the border both sides of the needle have to be in it.
    expect([
      crossing(pierced(1, 3, 2 * tolerance)),
      crossing(pierced(1, 3, 0.5 * tolerance)),
      crossing(pierced(1, 5.2, 5)),
    ]).toEqual([1, 0, 0]);
  });

  it('faces over each other in one plane, and not those beside each other', () => {
    const over = joinMeshes([sheet(4, 4), at(sheet(2, 2), 1, 1)]);
    expect([count(over, 'overlappingFaces'), count(over, 'crossingFaces')]).toEqual([1, 0]);
    expect(count(joinMeshes([sheet(2, 2), at(sheet(2, 2), 2)]), 'overlappingFaces')).toBe(0);
    expect(count(joinMeshes([sheet(2, 2), at(sheet(2, 2), 0, 0, 1e-3)]), 'overlappingFaces')).toBe(0);
    expect(count(grid(4), 'overlappingFaces')).toBe(0);
    // Two boxes on each other share the face between them.
    expect(count(joinMeshes([cube, at(cube, 0, 0, 2, 0.5)]), 'overlappingFaces')).toBe(0);
    expect(count(joinMeshes([cube, at(cube, 0, 0, 1.5, 0.5)]), 'overlappingFaces')).toBe(1);
  });

  it('crossings, overlaps and doubled vertices are the same however the part lies', () => {
    const crossed = joinMeshes([box(4, 4, 4), at(box(1, 1, 9), 0.3, 0.2)]);
    const over = joinMeshes([box(4, 4, 4), at(box(2, 2, 2), 0.5, 0.3, 3)]);
    const close = joinMeshes([grid(4), at(grid(4), 4 + 1e-6)]);
    // A side of two edges along a side of one, far from the origin on either side of it.
    const split = joinMeshes([
      at(sheet(2, 2), -5),
      at(sheet(2, 2, [1, 2]), -3),
      at(sheet(2, 2), 5),
      at(sheet(2, 2, [1, 4]), 7),
    ]);
    const deep = (m: PolyMesh) => findings(m, { rules: ['verticesOnEdges'], deep: true })[0]?.count;
    const run = meshFromFaces([0, 0, 0, 5, 0, 0, 10, 0, 0, 10, 9, 0, 0, 9, 0], [[0, 1, 2, 3, 4]]);
    // A corner cut off by next to nothing.
    const cut = prism(
      {
        points: [
          [0, 0],
          [10, 0],
          [10, 5],
          [10 - 2e-4, 5 + 2e-4],
          [0, 9],
        ],
      },
      1,
    );
    const random = seededRandom(11);
    for (let i = 0; i < 12; i++) {
      const turn: [number, number, number] = [360 * random(), 360 * random(), 360 * random()];
      const laid = (m: PolyMesh) => transformMesh(m, placementAffine({ position: [5, -3, 2], turn }));
      const told = [count(laid(crossed), 'crossingFaces'), count(laid(over), 'overlappingFaces')];
      expect([...told, count(laid(over), 'crossingFaces')], turn.join(' ')).toEqual([8, 1, 0]);
      expect(count(laid(close), 'doubledVertices'), turn.join(' ')).toBe(5);
      expect([count(laid(split), 'verticesOnEdges'), deep(laid(split))], turn.join(' ')).toEqual([4, 4]);
      expect([count(laid(cut), 'shortEdges'), count(laid(run), 'straightVertices')]).toEqual([2, 1]);
    }
  });

  it('faces without area, doubled faces, inner walls', () => {
    const line = meshFromFaces(
      [0, 0, 0, 1, 0, 0, 2, 0, 0, 0, 1, 0],
      [
        [0, 1, 2],
        [0, 1, 3],
      ],
    );
    expect([count(line, 'degenerateFaces'), [...find(line, 'degenerateFaces')!.ids]]).toEqual([1, [0]]);
    const doubled = meshFromFaces(cube.positions, [...faces(cube), faces(cube)[2]!]);
    expect([
      count(doubled, 'duplicateFaces'),
      [...find(doubled, 'duplicateFaces')!.ids],
      count(cube, 'duplicateFaces'),
      count(doubled, 'innerFaces'),
    ]).toEqual([1, [6], 0, 0]);
    const halves = box(4, 2, 2, [2, 1, 1]);
    const middle = Array.from({ length: halves.positions.length / 3 }, (_, v) => v).filter(
      (v) => halves.positions[3 * v] === 0,
    );
    const ring = middle.sort(
      (a, b) =>
        Math.atan2(halves.positions[3 * a + 2]!, halves.positions[3 * a + 1]!) -
        Math.atan2(halves.positions[3 * b + 2]!, halves.positions[3 * b + 1]!),
    );
    const walled = meshFromFaces(halves.positions, [...faces(halves), ring]);
    expect([
      [...find(walled, 'innerFaces')!.ids],
      count(walled, 'nonManifoldEdges'),
      count(halves, 'innerFaces'),
    ]).toEqual([[faceCount(halves)], 4, 0]);
  });

  it('slivers and very short edges, the worst first', () => {
    const thin = meshFromFaces(
      [0, 0, 0, 100, 0, 0, 100, 1, 0, 100, 3, 0],
      [
        [0, 1, 2],
        [0, 2, 3],
      ],
    );
    expect([count(thin, 'slivers'), find(thin, 'slivers')!.worst]).toEqual([
      1,
      expect.closeTo((Math.atan(0.01) * 180) / Math.PI, 9),
    ]);
    expect(count(cylinder(5, 9, 64), 'slivers')).toBe(0);
    const cut = (d: number) =>
      prism(
        {
          points: [
            [0, 0],
            [10, 0],
            [10, 5],
            [10 - d, 5 + d],
            [0, 9],
          ],
        },
        1,
      );
    expect([count(cut(2e-4), 'shortEdges'), find(cut(2e-4), 'shortEdges')!.worst]).toEqual([
      2,
      expect.closeTo(2e-4 * Math.SQRT2, 9),
    ]);
    expect(count(cut(2e-3), 'shortEdges')).toBe(0);
  });

  it('doubled vertices within a millionth of the part, wherever the cells of the search lie', () => {
    const random = seededRandom(9);
    for (let i = 0; i < 60; i++) {
      const shift = [random() * 50, random() * 50, random() * 50] as const;
      const two = (d: number) =>
        at(joinMeshes([sheet(100, 100), at(sheet(100, 100), 100 + d * (random() < 0.5 ? -1 : 1), 0, 0)]), ...shift);
      const close = two(5e-5);
      expect([count(close, 'doubledVertices'), find(close, 'doubledVertices')!.worst]).toEqual([
        2,
        expect.closeTo(5e-5, 9),
      ]);
      expect(count(two(1e-3), 'doubledVertices')).toBe(0);
    }
    expect(count(grid(5), 'doubledVertices')).toBe(0);
  });

  it('doubled vertices in any direction from each other, each of thousands', () => {
    const random = seededRandom(23);
    const points = Array.from({ length: 6000 }, () => [100 * random(), 100 * random(), 100 * random()]);
    const soup = (apart: number) => {
      const near = points.map((p) => {
        const d = [random() - 0.5, random() - 0.5, random() - 0.5];
        return p.map((x, k) => x + (apart * d[k]!) / Math.hypot(...d));
      });
      const triangles = Array.from({ length: 4000 }, (_, t) => [3 * t, 3 * t + 1, 3 * t + 2]);
      return meshFromFaces([...points, ...near].flat(), triangles);
    };
    // The reach is a millionth of the size of about 100 mm.
    expect(count(soup(0.95e-4), 'doubledVertices')).toBe(6000);
    expect(count(soup(1.1e-4), 'doubledVertices')).toBe(0);
  });

  it('vertices on a foreign edge, isolated vertices', () => {
    const t = joinMeshes([sheet(2, 2), at(sheet(2, 2, [1, 2]), 2)]);
    expect(points(t, 'verticesOnEdges')).toEqual([[1, 0, 0]]);
    expect(count(joinMeshes([sheet(2, 2), at(sheet(2, 2, [1, 2]), 2.01)]), 'verticesOnEdges')).toBe(0);
    expect(count(grid(3), 'verticesOnEdges')).toBe(0);
    // Closed pieces that touch: a corner on the middle of a foreign edge is found by the deep look alone.
    const touching = joinMeshes([box(2, 2, 2), at(box(2, 2, 2), 2, 1, 0)]);
    const deep = (m: PolyMesh) => findings(m, { rules: ['verticesOnEdges'], deep: true })[0];
    expect(count(touching, 'verticesOnEdges')).toBe(0);
    expect(deep(touching)!.count).toBe(4);
    expect(deep(t)!.count).toBe(1);
    expect(deep(joinMeshes([box(2, 2, 2), at(box(2, 2, 2), 2.01, 1, 0)]))).toBeUndefined();
    expect(deep(grid(3))).toBeUndefined();
    const alone = meshFromFaces([...cube.positions, 7, 8, 9], faces(cube));
    expect([points(alone, 'isolatedVertices'), count(cube, 'isolatedVertices')]).toEqual([[[7, 8, 9]], 0]);
  });

  it('stray edges and holes on a single tie', () => {
    const spur = meshFromFaces([0, 0, 0, 4, 0, 0, 4, 4, 0, 0, 4, 0, 2, 2, 0], [[0, 1, 2, 4, 2, 3]]);
    expect([count(spur, 'strayEdges'), count(spur, 'singleTies')]).toEqual([1, 0]);
    expect(points(spur, 'strayEdges')).toEqual([[3, 3, 0]]);
    const square = [0, 0, 0, 4, 0, 0, 4, 4, 0, 0, 4, 0, 1, 1, 0, 1, 2, 0, 2, 2, 0, 2, 1, 0];
    const single = meshFromFaces(square, [[0, 1, 2, 3, 0, 4, 5, 6, 7, 4]]);
    expect([count(single, 'singleTies'), count(single, 'strayEdges')]).toEqual([1, 0]);
    const twice = meshFromFaces(square, [
      [0, 1, 2, 6, 7, 4],
      [2, 3, 0, 4, 5, 6],
    ]);
    expect(count(twice, 'singleTies')).toBe(0);
    expect(
      count(
        meshFromFaces(square, [
          [
            [0, 1, 2, 3],
            [4, 5, 6, 7],
          ],
        ]),
        'singleTies',
      ),
    ).toBe(0);
  });

  it('leftover vertices, and none where three edges meet or the run turns', () => {
    const run = prism(
      {
        points: [
          [0, 0],
          [5, 0],
          [10, 0],
          [10, 5],
          [0, 5],
        ],
      },
      2,
    );
    // On the prism the vertex has an upright edge too.
    expect(count(run, 'straightVertices')).toBe(0);
    const flat = (y: number) => meshFromFaces([0, 0, 0, 5, y, 0, 10, 0, 0, 10, 5, 0, 0, 5, 0], [[0, 1, 2, 3, 4]]);
    expect([points(flat(0), 'straightVertices'), count(flat(0.01), 'straightVertices')]).toEqual([[[5, 0, 0]], 0]);
  });

  it('hard edges that end among soft ones', () => {
    const m = grid(4);
    const hard = (edges: [number, number][]) => {
      const layer = new Uint8Array(m.corners.length);
      for (let l = 0; l < m.loopStart.length - 1; l++)
        for (let c = m.loopStart[l]!; c < m.loopStart[l + 1]!; c++) {
          const next = c + 1 < m.loopStart[l + 1]! ? c + 1 : m.loopStart[l]!;
          if (
            edges.some(
              ([a, b]) =>
                (m.corners[c] === a && m.corners[next] === b) || (m.corners[c] === b && m.corners[next] === a),
            )
          )
            layer[c] = 1;
        }
      return { ...m, layers: { hard: layer } };
    };
    // Row 1 from the left rim to the middle ends there; to the other rim it does not.
    expect([
      ...find(
        hard([
          [5, 6],
          [6, 7],
        ]),
        'looseHardEdges',
      )!.ids,
    ]).toEqual([7]);
    expect(
      count(
        hard([
          [5, 6],
          [6, 7],
          [7, 8],
          [8, 9],
        ]),
        'looseHardEdges',
      ),
    ).toBe(0);
    expect(count(m, 'looseHardEdges')).toBe(0);
  });

  it('bent and folded faces', () => {
    const bent = moved(sheet(2, 2), 0, [0, 0, 0.4]);
    expect([count(bent, 'bentFaces'), find(bent, 'bentFaces')!.worst]).toEqual([1, expect.closeTo(0.1, 1)]);
    expect(count(moved(sheet(2, 2), 0, [0, 0, 1e-6]), 'bentFaces')).toBe(0);
    const dart = meshFromFaces([0, 0, 0, 4, 0, 0, 1, 1, 0, 0, 4, 0], [[0, 1, 2, 3]]);
    expect([count(dart, 'foldedFaces'), count(sheet(2, 2), 'foldedFaces')]).toEqual([1, 0]);
    const bow = meshFromFaces([0, 0, 0, 4, 0, 0, 0.5, 3, 0, 3.5, 3, 0, 2, 5, 0], [[0, 1, 2, 4, 3]]);
    expect(count(bow, 'foldedFaces')).toBe(1);
    // A concave boundary of many corners that does not cross itself is no finding.
    expect(
      count(
        prism(
          {
            points: [
              [0, 0],
              [6, 0],
              [6, 2],
              [2, 2],
              [2, 6],
              [0, 6],
            ],
          },
          1,
        ),
        'foldedFaces',
      ),
    ).toBe(0);
  });

  it('n-gons, triangles, poles', () => {
    expect([
      count(cylinder(5, 9, 12), 'ngons'),
      find(cylinder(5, 9, 12), 'ngons')!.worst,
      count(cube, 'ngons'),
    ]).toEqual([2, 12, 0]);
    expect([count(ballFromRings(4, 8, 4), 'triangles'), count(cube, 'triangles')]).toEqual([16, 0]);
    expect([count(cube, 'poles'), find(ballFromRings(4, 8, 4), 'poles')!.worst, count(grid(4), 'poles')]).toEqual([
      8, 8, 0,
    ]);
  });

  it('UVs that are missing, turned over, without area, or over each other', () => {
    const two = grid(2);
    expect([count(two, 'uvMissing'), count(two, 'uvFlipped'), count(two, 'uvOverlapping')]).toEqual([4, 0, 0]);
    const flat = (m: PolyMesh) =>
      uv(m, (c) => [m.positions[3 * m.corners[c]!]! + 3, m.positions[3 * m.corners[c]! + 1]! + 3]);
    const good = flat(two);
    for (const rule of RULE_NAMES.filter((r) => r.startsWith('uv'))) expect(count(good, rule), rule).toBe(0);
    const mirrored = uv(two, (c) =>
      c < 4
        ? [-good.layers.uv![2 * c]!, good.layers.uv![2 * c + 1]!]
        : [good.layers.uv![2 * c]!, good.layers.uv![2 * c + 1]!],
    );
    expect([[...find(mirrored, 'uvFlipped')!.ids], count(mirrored, 'uvOverlapping')]).toEqual([[0], 0]);
    const pressed = uv(two, (c) =>
      c < 4 ? [good.layers.uv![2 * c]!, 9] : [good.layers.uv![2 * c]!, good.layers.uv![2 * c + 1]!],
    );
    expect([...find(pressed, 'uvZeroArea')!.ids]).toEqual([0]);
    const stacked = uv(two, (c) => [good.layers.uv![2 * (c % 4)]!, good.layers.uv![2 * (c % 4) + 1]!]);
    expect(count(stacked, 'uvOverlapping')).toBe(6);
    const none = uv(two, (c) => (c < 4 ? [0, 0] : [good.layers.uv![2 * c]!, good.layers.uv![2 * c + 1]!]));
    expect([count(none, 'uvMissing'), count(none, 'uvZeroArea')]).toEqual([1, 0]);
  });

  it('every rule has words, and none speaks twice under one name', () => {
    expect(new Set(RULE_NAMES.map((r) => ruleOf(r).title)).size).toBe(RULE_NAMES.length);
    for (const r of RULE_NAMES)
      expect([ruleOf(r).why.endsWith('.'), ruleOf(r).spoils.length > 0]).toEqual([true, true]);
  });
});

describe('planted damage is counted exactly', () => {
  /** A ball of 24 × 12 with some of it damaged, at places that do not meet. */
  const ball = () => ballFromRings(50, 24, 12);
  const quads = (m: PolyMesh, n: number) =>
    faces(m)
      .map((_, f) => f)
      .filter((f) => faces(m)[f]!.flat().length === 4)
      .filter((_, i) => i % 31 === 0)
      .slice(0, n);
  const damages: [
    string,
    number,
    (m: PolyMesh, n: number) => PolyMesh,
    (n: number) => Partial<Record<RuleName, number>>,
  ][] = [];
  for (const n of [1, 3, 5]) {
    damages.push(
      [
        'faces missing',
        n,
        (m, k) => {
          const out = quads(m, k);
          return meshFromFaces(
            m.positions,
            faces(m).filter((_, f) => !out.includes(f)),
          );
        },
        (k) => ({ openEdges: 4 * k, flippedEdges: 0, nonManifoldEdges: 0 }),
      ],
      [
        'faces turned over',
        n,
        (m, k) => {
          const out = quads(m, k);
          return meshFromFaces(
            m.positions,
            faces(m).map((l, f) => (out.includes(f) ? [...(l as number[][])[0]!].reverse() : l)),
          );
        },
        (k) => ({ flippedFaces: k, flippedEdges: 4 * k, openEdges: 0, nonManifoldEdges: 0, nonManifoldVertices: 0 }),
      ],
      [
        'faces doubled',
        n,
        (m, k) => meshFromFaces(m.positions, [...faces(m), ...quads(m, k).map((f) => faces(m)[f]!)]),
        (k) => ({ duplicateFaces: k, nonManifoldEdges: 4 * k, openEdges: 0 }),
      ],
      [
        'fins',
        n,
        (m, k) => {
          const P = [...m.positions];
          const fins = quads(m, k).map((f) => {
            const [a, b] = (faces(m)[f] as number[][])[0] as [number, number];
            P.push(P[3 * a]! * 1.3, P[3 * a + 1]! * 1.3, P[3 * a + 2]! * 1.3);
            return [a, b, P.length / 3 - 1];
          });
          return meshFromFaces(P, [...faces(m), ...fins]);
        },
        (k) => ({ nonManifoldEdges: k, openEdges: 2 * k }),
      ],
    );
  }
  for (const width of [1e-7, 5e-7, 1e-5, 1e-4, 1e-3, 1e-2])
    damages.push([
      `cracks ${width} wide`,
      2,
      (m, k) => {
        // Both ends of an edge of a face are vertices of its own, drawn back by the width.
        const P = [...m.positions];
        const out = quads(m, k);
        const list = faces(m).map((l, f) => {
          if (!out.includes(f)) return l;
          return (l as number[][])[0]!.map((v) => {
            for (let j = 0; j < 3; j++)
              P.push(P[3 * v + j]! * (1 - (width * 100) / Math.hypot(P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!)));
            return P.length / 3 - 1;
          });
        });
        return meshFromFaces(P, list);
      },
      (k) => ({ openEdges: 8 * k, doubledVertices: width <= 1e-6 ? 4 * k : 0 }),
    ]);
  damages.push(
    [
      'vertices alone',
      4,
      (m, k) => meshFromFaces([...m.positions, ...Array.from({ length: 3 * k }, (_, i) => i)], faces(m)),
      (k) => ({ isolatedVertices: k, openEdges: 0 }),
    ],
    [
      'balls inside',
      2,
      (m, k) => joinMeshes([m, ...Array.from({ length: k }, (_, i) => at(ballFromRings(4, 8, 4), -12 + 24 * i))]),
      (k) => ({ innerShells: k, crossingFaces: 0, openEdges: 0 }),
    ],
  );

  it.each(damages)('%s, %i of them', (_, n, damage, want) => {
    const m = damage(ball(), n);
    const planted = want(n);
    for (const [rule, k] of Object.entries(planted)) expect(count(m, rule as RuleName), rule).toBe(k);
    // The level shows the same numbers.
    const level = surveyCounts(m) as unknown as Record<string, number>;
    for (const [rule, k] of Object.entries(planted)) if (rule in level) expect(level[rule], rule).toBe(k);
  });

  it('has at least twenty cases, and the undamaged ball has none of them', () => {
    expect(damages.length).toBeGreaterThanOrEqual(20);
    expect(findings(ball(), { deep: true }).filter((f) => f.severity === 'error')).toEqual([]);
  });
});

describe('findings as data', () => {
  const [first, ...rest] = faces(cube);
  const turned = meshFromFaces(cube.positions, [[...(first as number[][])[0]!].reverse(), ...rest]);

  it('leaves out what has nothing to tell, and deep rules unless they are asked for', () => {
    expect(findings(cube).map((f) => f.rule)).toEqual(['poles', 'uvMissing']);
    const crossed = joinMeshes([box(4, 4, 4), at(box(1, 1, 9), 0.3, 0.2)]);
    expect(findings(crossed).some((f) => f.rule === 'crossingFaces')).toBe(false);
    expect(findings(crossed, { deep: true }).some((f) => f.rule === 'crossingFaces')).toBe(true);
  });

  it('as a table and as plain data, with places', () => {
    const list = findings(turned, { rules: ['flippedEdges', 'slivers'] });
    expect(findingsCsv(turned, list).split('\r\n')[1]).toMatch(
      /^flippedEdges,Flipped edges,error,4,,,bevel subdivision shading export,-?[\d.]+,-?[\d.]+,-?[\d.]+$/,
    );
    expect(findingsCsv(turned, []).trim()).toBe('rule,title,severity,count,worst,unit,spoils,x mm,y mm,z mm');
    // Values parted by tabs keep their commas, and the other way round.
    const tight = findings(joinMeshes([sheet(4, 4), at(sheet(2, 2), 1, 1)]), { rules: ['openEdges'] });
    expect(
      findingsCsv(turned, tight, '\t')
        .split('\r\n')
        .map((row) => row.split('\t').length),
    ).toEqual([10, 10, 1]);
    expect(findingData(turned, list[0]!, 2)).toEqual({
      rule: 'flippedEdges',
      title: 'Flipped edges',
      severity: 'error',
      count: 4,
      worst: null,
      unit: null,
      spoils: ['bevel', 'subdivision', 'shading', 'export'],
      places: [expect.anything(), expect.anything()],
    });
    expect((findingData(turned, list[0]!, 3).places as unknown[]).length).toBe(3);
    const short = findings(box(4, 4, 1e-5), { rules: ['shortEdges'] })[0]!;
    expect(findingData(cube, short)).toMatchObject({
      unit: 'mm',
      worst: expect.closeTo(1e-5, 12),
      places: [{ edge: short.ids[0], value: expect.closeTo(1e-5, 12) }, {}, {}, {}],
    });
    expect(findingData(turned, list[0]!, 2)).toMatchObject({
      rule: 'flippedEdges',
      count: 4,
      worst: null,
      places: [{ edge: expect.any(Number), point: expect.any(Array) }, {}],
    });
    expect(verticesOf(turned, 'edge', list[0]!.ids[0]!).length).toBe(2);
    expect(placeOf(cube, 'face', 0).reach).toBeCloseTo(Math.SQRT2, 12);
  });

  it('a cancel stops the long ones', () => {
    const m = ballFromRings(50, 64, 32);
    expect(() => findings(m, { rules: ['crossingFaces'] }, { signal: { aborted: true } })).toThrow(/Cancelled/);
  });
});

describe('findings for a picture', () => {
  it('each place with its middle, its way out, and lines where there are any', () => {
    const hole = meshFromFaces(cube.positions, faces(cube).slice(1));
    const [missing] = faces(cube)[0] as number[][];
    const shown = shownFinding(hole, find(hole, 'openEdges')!);
    expect([shown.ids.length, shown.lines.length, shown.values[0]]).toEqual([4, 4 * 6, 8]);
    // All around the face that is gone: in its plane.
    const side = missing!.map((v) => [...cube.positions.subarray(3 * v, 3 * v + 3)]);
    const k = [0, 1, 2].find((j) => side.every((p) => p[j] === side[0]![j]))!;
    for (let i = 0; i < 4; i++) {
      expect(shown.points[3 * i + k]).toBe(side[0]![k]);
      expect(Math.hypot(...shown.normals.subarray(3 * i, 3 * i + 3))).toBeCloseTo(1, 6);
      expect(shown.reach[i]).toBeCloseTo(1, 6);
    }
    const corners = shownFinding(cube, find(cube, 'poles')!);
    expect([corners.lines.length, corners.reach.every((r) => r === 0)]).toEqual([0, true]);
    expect(shownFinding(cube, find(cube, 'uvMissing')!).lines.length).toBe(6 * 4 * 6);
  });

  it('tells how far the long looks are', () => {
    const m = ballFromPatches(10, 30);
    expect(toldWhile((ctx) => findings(m, { rules: ['crossingFaces'] }, ctx))).toHaveLength(1);
  });

  it('of very many the first are told', () => {
    const m = ballFromRings(50, 128, 64);
    const shown = shownFinding(m, find(m, 'uvMissing')!);
    expect([shown.count, shown.ids.length, shown.lines.length <= 6 * 6004]).toEqual([128 * 64, 2000, true]);
  });
});
