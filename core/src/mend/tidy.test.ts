import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { carve } from '../carve/index.ts';
import {
  areaAndVolume,
  faceCount,
  faceNormals,
  isClosed,
  meshFromFaces,
  topologyOf,
  vertexCount,
  type PolyMesh,
} from '../mesh/index.ts';
import { box, cylinder, seededRandom } from '../shapes/index.ts';
import { findings, surfaceDrift } from '../survey/index.ts';
import { seamVertices } from './merge.ts';
import { MeshEdit } from './meshEdit.ts';
import { putIntoEdges } from './split.ts';
import { edgeOf, placeOfVertex, vertexAt } from './testMeshes.ts';
import { tie } from './ties.ts';
import { tidy } from './tidy.ts';

const all = () => true;
const holed = carve(box(60, 40, 10), { cutters: [cylinder(8, 30, 24)], operation: 'subtract', course: 3 }).mesh;
const places = (m: PolyMesh, which: (v: number) => boolean) =>
  Array.from({ length: vertexCount(m) }, (_, v) => v)
    .filter(which)
    .map((v) => [...m.positions.subarray(3 * v, 3 * v + 3)].join())
    .sort();
const boundary = (m: PolyMesh) => {
  const on = seamVertices(m);
  return places(m, (v) => !!on[v]);
};

/** New vertices in edges that no cut made, at shares by chance. */
function withLeftovers(m: PolyMesh, count: number, seed: number): PolyMesh {
  const random = seededRandom(seed);
  const e = new MeshEdit(m);
  const t = e.topology;
  const put = new Map<number, number[]>();
  const free = [...t.edgeCorner].filter((c) => !m.layers.seam?.[c]);
  while (put.size < count) {
    const c = free[Math.floor(random() * free.length)]!;
    const [a, b] = [e.at(m.corners[c]!), e.at(m.corners[t.next[c]!]!)];
    const s = 0.1 + 0.8 * random();
    if (!put.has(t.edge[c]!))
      put.set(t.edge[c]!, [e.vertex([0, 1, 2].map((k) => a[k]! + s * (b[k]! - a[k]!)) as [number, number, number])]);
  }
  putIntoEdges(e, put);
  return e.done();
}

describe('tidying', () => {
  it('takes leftover vertices out of straight runs, and nothing else: the part is as it was', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 10 }), fc.integer(), (n, seed) => {
        const { mesh, report } = tidy(withLeftovers(holed, n, seed), { wanted: all, tolerance: 0 });
        expect([report.straight, vertexCount(mesh), faceCount(mesh), isClosed(mesh)]).toEqual([
          n,
          vertexCount(holed),
          faceCount(holed),
          true,
        ]);
        expect(places(mesh, all)).toEqual(places(holed, all));
        expect(surfaceDrift(holed, mesh)!.distance).toBe(0);
      }),
      { numRuns: 60 },
    );
  });

  it('collapses tiny edges over a flat, towards the boundary, which stays where it is', () => {
    const N = faceNormals(holed);
    const tied = tie(holed, {
      faces: Array.from({ length: faceCount(holed) }, (_, f) => f).filter((f) => Math.abs(N[3 * f + 2]!) > 0.9),
      way: 'corners',
    }).mesh;
    // On each tie a vertex a hair beside the rim, and an edge on from it to the next rim vertex: it is in no straight
    // run.
    const on = seamVertices(tied);
    const e = new MeshEdit(tied);
    const t = e.topology;
    const ties = [...t.edgeCorner].filter(
      (c) => on[tied.corners[c]!] !== on[tied.corners[t.next[c]!]!] && !tied.layers.seam![c],
    );
    expect(ties).toHaveLength(8);
    const put = new Map(
      ties.map((c) => {
        const [a, b] = [e.at(tied.corners[c]!), e.at(tied.corners[t.next[c]!]!)];
        const s = on[tied.corners[c]!] ? 1e-4 : 1 - 1e-4;
        return [
          t.edge[c]!,
          [e.vertex([0, 1, 2].map((k) => a[k]! + s * (b[k]! - a[k]!)) as [number, number, number])],
        ] as const;
      }),
    );
    putIntoEdges(e, put);
    const hurt = e.done();
    const { mesh, report } = tidy(hurt, { wanted: all, tolerance: 0.5 });
    expect([report.collapsed, vertexCount(mesh), faceCount(mesh), isClosed(mesh)]).toEqual([
      8,
      vertexCount(tied),
      faceCount(tied),
      true,
    ]);
    expect([boundary(mesh), places(mesh, all)]).toEqual([boundary(tied), places(tied, all)]);
    expect(surfaceDrift(hurt, mesh)!.distance).toBe(0);
  });

  it('makes a narrow face part of the flat beside it', () => {
    const m = box(20, 20, 20, [2, 1, 1]);
    // The middle line of the top is moved to a hair beside the edge.
    const P = m.positions.slice();
    for (let v = 0; v < vertexCount(m); v++) if (P[3 * v] === 0) P[3 * v] = 9.9999;
    const thin = { ...m, positions: P };
    expect(findings(thin, { rules: ['shortEdges'] }).length).toBeGreaterThan(0);
    const { mesh, report } = tidy(thin, { wanted: all, tolerance: 0.01 });
    expect([isClosed(mesh), surfaceDrift(thin, mesh)!.distance < 1e-9, areaAndVolume(mesh).volume]).toEqual([
      true,
      true,
      expect.closeTo(8000, 6),
    ]);
    expect(report.collapsed + report.narrow).toBeGreaterThan(0);
    expect(findings(mesh, { rules: ['shortEdges'] })).toEqual([]);
  });

  it('leaves what would not stay flat, and what is not wanted, and a clean part as it is', () => {
    expect(tidy(holed, { wanted: all, tolerance: 0 })).toMatchObject({
      mesh: holed,
      report: { straight: 0, collapsed: 0, narrow: 0 },
    });
    const left = withLeftovers(holed, 4, 3);
    expect(tidy(left, { wanted: () => false, tolerance: 0 }).mesh).toBe(left);
    // Rim edges of 2 mm are tiny against 3 mm, and stay.
    const { mesh, report } = tidy(holed, { wanted: all, tolerance: 3 });
    expect([boundary(mesh), isClosed(mesh), topologyOf(mesh).edgeCount]).toEqual([
      boundary(holed),
      true,
      topologyOf(holed).edgeCount,
    ]);
    expect(report.left).toBeGreaterThan(20);
  });

  it('collapses the shortest edge first: a vertex between two boundaries goes to the nearer, whatever its number', () => {
    const [A, B, C, D1, D2, E, W, X] = [0, 1, 2, 3, 4, 5, 6, 7];
    for (const [far, near] of [
      [0.3, 0.2],
      [0.2, 0.3],
    ] as const) {
      // A fan of five round B; A and C end seams, 0.5 mm from each other.
      const flat = meshFromFaces(
        [0, 0, 0, far, 0, 0, far + near, 0, 0, 1, 5, 0, -1, 5, 0, 0, -5, 0, -5, 0, 0, 5, 0, 0],
        [
          [B, C, D1],
          [B, D1, D2],
          [B, D2, A],
          [B, A, E],
          [B, E, C],
          [A, D2, W],
          [W, E, A],
          [C, X, D1],
          [X, C, E],
        ],
      );
      const seam = new Int32Array(flat.corners.length);
      for (const c of [edgeOf(flat, A, W), edgeOf(flat, C, X)]) seam[c] = 1;
      // All edges are creases, so that no face becomes part of another.
      const hard = new Uint8Array(flat.corners.length).fill(1);
      const m: PolyMesh = { ...flat, layers: { ...flat.layers, seam, hard } };
      const { mesh, report } = tidy(m, { wanted: all, tolerance: 0.45 });
      const [to, other] = far > near ? [C, A] : [A, C];
      const at = (v: number) => vertexAt(mesh, ...placeOfVertex(m, v));
      expect([report.collapsed, report.left, vertexCount(mesh), faceCount(mesh)]).toEqual([1, 0, 7, 7]);
      // What led to B leads to the nearer end now.
      expect(edgeOf(mesh, at(to), at(to === C ? D2 : D1))).toBeGreaterThanOrEqual(0);
      expect(() => edgeOf(mesh, at(other), at(other === C ? D2 : D1))).toThrow('No edge');
      expect(areaAndVolume(mesh).area).toBeCloseTo(areaAndVolume(m).area, 9);
    }
  });

  it('leaves a tiny edge whose collapse would fold a hole shut or bend a face, and says how many stay', () => {
    const thin = tidy(box(0.2, 10, 10), { wanted: all, tolerance: 0.5 });
    expect([thin.report.left, vertexCount(thin.mesh), areaAndVolume(thin.mesh).volume]).toEqual([
      4,
      8,
      expect.closeTo(20, 9),
    ]);
    // A hole of three corners in a sheet, one of its edges 0.2 mm long: without it the hole would be a slit between two
    // edges on each other.
    const sheet = meshFromFaces(
      [-5, -5, 0, 5, -5, 0, 5, 5, 0, -5, 5, 0, -0.1, 0, 0, 0.1, 0, 0, 0, 3, 0],
      [
        [0, 1, 5, 4],
        [1, 2, 6, 5],
        [2, 3, 6],
        [3, 0, 4, 6],
      ],
    );
    const { mesh, report } = tidy(sheet, { wanted: all, tolerance: 0.5 });
    expect([report.collapsed, report.left, vertexCount(mesh), faceCount(mesh)]).toEqual([0, 1, 7, 4]);
  });

  it('makes only what is narrower than the tolerance part of its neighbour, and over no boundary, crease or slot', () => {
    // A strip of 0.3 × 10 between two fields of a sheet.
    const strip = meshFromFaces(
      [-5, 0, 0, 0, 0, 0, 0.3, 0, 0, 5, 0, 0, -5, 10, 0, 0, 10, 0, 0.3, 10, 0, 5, 10, 0],
      [
        [0, 1, 5, 4],
        [1, 2, 6, 5],
        [2, 3, 7, 6],
      ],
    );
    const narrow = (m: PolyMesh, tolerance: number) => {
      const r = tidy(m, { wanted: (v) => m.positions[3 * v + 1]! >= 0, tolerance });
      return [r.report.narrow, faceCount(r.mesh)];
    };
    // Its ends are tiny edges of the border; held by boundaries they are not collapsed, and the face is what is narrow.
    const ends = new Int32Array(12);
    for (const c of [edgeOf(strip, 1, 2), edgeOf(strip, 5, 6)]) ends[c] = 1;
    const held: PolyMesh = { ...strip, layers: { ...strip.layers, seam: ends } };
    expect(narrow(held, 0.31)).toEqual([1, 2]);
    // Its width is its area against its reach, a little under 0.3 mm.
    expect(narrow(held, 0.29)).toEqual([0, 3]);
    const [seam, hard] = [ends.slice(), new Uint8Array(12)];
    for (const c of [edgeOf(strip, 1, 5), edgeOf(strip, 2, 6)]) seam[c] = hard[c] = 1;
    for (const layer of [{ seam }, { hard }])
      expect(narrow({ ...held, layers: { ...held.layers, ...layer } }, 0.31)).toEqual([0, 3]);
    const slots: PolyMesh = { ...held, slots: ['A', 'B'], layers: { ...held.layers, slot: Int32Array.of(0, 1, 0) } };
    expect(narrow(slots, 0.31)).toEqual([0, 3]);
  });
});
