import { describe, expect, it } from 'vitest';
import { carve } from '../carve/index.ts';
import {
  areaAndVolume,
  faceCount,
  faceNormals,
  genus,
  loopCount,
  topologyOf,
  transformMesh,
  vertexCount,
  type PolyMesh,
} from '../mesh/index.ts';
import { box, cylinder } from '../shapes/index.ts';
import { grabAt, moveTie, tie } from './ties.ts';
import { vertexAt } from './testMeshes.ts';

const holed = carve(box(40, 40, 10), { cutters: [cylinder(8, 30, 24)], operation: 'subtract', course: 3 }).mesh;
const flats = (m: PolyMesh) =>
  [...Array(faceCount(m)).keys()].filter((f) => Math.abs(faceNormals(m)[3 * f + 2]!) > 0.9);
const hasEdge = (m: PolyMesh, a: number, b: number) =>
  [...topologyOf(m).edgeCorner].some(
    (c) => [a, b].includes(m.corners[c]!) && [a, b].includes(m.corners[topologyOf(m).next[c]!]!),
  );
const rim = (m: PolyMesh, k: number) =>
  vertexAt(m, 8 * Math.cos((k * Math.PI) / 12), 8 * Math.sin((k * Math.PI) / 12), 5);

describe('ties', () => {
  /** Edges that a mesh has and another has not, as places of their ends. */
  const added = (after: PolyMesh, before: PolyMesh) => {
    const edges = (m: PolyMesh) =>
      [...topologyOf(m).edgeCorner].map((c) =>
        [m.corners[c]!, m.corners[topologyOf(m).next[c]!]!].map(
          (v) => [...m.positions.subarray(3 * v, 3 * v + 3)] as [number, number, number],
        ),
      );
    const key = (e: number[][]) =>
      e
        .map((p) => p.join())
        .sort()
        .join(' ');
    const had = new Set(edges(before).map(key));
    return edges(after).filter((e) => !had.has(key(e)));
  };

  it('stand square to the boundaries for a bevel, more so than short ones', () => {
    // A disc of 24 with a hole of 24 out of its middle: at a vertex of either an edge lies along the circle there.
    const m = carve(cylinder(20, 10, 24), {
      cutters: [transformMesh(cylinder(6, 30, 24), [1, 0, 0, 9, 0, 1, 0, 0, 0, 0, 1, 0])],
      operation: 'subtract',
      course: 3,
    }).mesh;
    /** The greatest cosine between a tie and the circles at its ends: 0 where it stands square to both. */
    const slant = ([a, b]: [number[], number[]]) => {
      const way = [b[0]! - a[0]!, b[1]! - a[1]!];
      return Math.max(
        ...[a, b].map((p) => {
          const x = Math.hypot(p[0]!, p[1]!) > 19 ? 0 : 9;
          return Math.abs((p[0]! - x) * way[1]! - p[1]! * way[0]!) / Math.hypot(p[0]! - x, p[1]!) / Math.hypot(...way);
        }),
      );
    };
    const worst = (way: 'short' | 'bevel') => {
      const r = tie(m, { faces: flats(m), way });
      expect([genus(r.mesh), loopCount(r.mesh), areaAndVolume(r.mesh).area]).toEqual([
        1,
        faceCount(r.mesh),
        expect.closeTo(areaAndVolume(m).area, 9),
      ]);
      const ties = added(r.mesh, m);
      expect(ties.length).toBeGreaterThanOrEqual(4);
      return Math.max(...ties.map((e) => slant(e as unknown as [number[], number[]])));
    };
    expect(worst('bevel')).toBeLessThan(worst('short'));
    expect(worst('bevel')).toBeLessThan(Math.SQRT1_2);
  });

  it('run level over a bent face for light: from the rim to those corners that are as high', () => {
    const bent = {
      ...holed,
      positions: holed.positions.slice(),
      layers: { ...holed.layers, plane: undefined },
    } as PolyMesh;
    for (const s of [1, -1]) bent.positions[3 * vertexAt(holed, 20 * s, 20 * s, 5) + 2] = 9;
    const top = flats(bent).filter((f) => faceNormals(bent)[3 * f + 2]! > 0);
    const ties = added(tie(bent, { faces: top, way: 'light' }).mesh, bent);
    expect(ties.length).toBeGreaterThanOrEqual(2);
    for (const [a, b] of ties) expect(a![2]).toBe(b![2]);
  });

  it('are put in, two at least, and leave the surface as it was', () => {
    const r = tie(holed, { faces: flats(holed), way: 'corners' });
    expect([r.report.tied, faceCount(r.mesh), loopCount(r.mesh), genus(r.mesh)]).toEqual([
      2,
      faceCount(holed) + 6,
      faceCount(holed) + 6,
      1,
    ]);
    expect(areaAndVolume(r.mesh)).toEqual({
      area: expect.closeTo(areaAndVolume(holed).area, 9),
      volume: expect.closeTo(areaAndVolume(holed).volume, 9),
    });
    expect(tie(holed, { faces: [], way: 'short' }).report.tied).toBe(0);
  });

  it('are moved by one end, the others staying', () => {
    const tied = tie(holed, { faces: flats(holed), way: 'corners' }).mesh;
    const corner = vertexAt(tied, 20, 20, 5);
    const from = rim(tied, 3);
    expect(hasEdge(tied, corner, from)).toBe(true);
    const moved = moveTie(tied, { fixed: corner, from, to: rim(tied, 4) }).mesh;
    expect([
      hasEdge(moved, corner, from),
      hasEdge(moved, corner, rim(moved, 4)),
      faceCount(moved),
      vertexCount(moved),
      genus(moved),
    ]).toEqual([false, true, faceCount(tied), vertexCount(tied), 1]);
    expect(areaAndVolume(moved).area).toBeCloseTo(areaAndVolume(holed).area, 9);
  });

  it('of two between the same two faces only the one that is picked is moved', () => {
    const tied = tie(holed, { faces: flats(holed), way: 'short' }).mesh;
    const top = added(tied, holed).filter((e) => e.every((p) => p[2] === 5));
    expect(top).toHaveLength(2);
    const ends = top.map((e) => e.map((p) => vertexAt(tied, ...p)) as [number, number]);
    const isRim = (v: number) => Math.hypot(tied.positions[3 * v]!, tied.positions[3 * v + 1]!) < 9;
    for (const [k, both] of ends.entries()) {
      const [corner, from] = isRim(both[0]) ? [both[1], both[0]] : both;
      const angle = Math.round((Math.atan2(tied.positions[3 * from + 1]!, tied.positions[3 * from]!) * 12) / Math.PI);
      for (const step of [1, -1]) {
        const moved = moveTie(tied, { fixed: corner, from, to: rim(tied, angle + step) }).mesh;
        expect([
          hasEdge(moved, corner, from),
          hasEdge(moved, corner, rim(moved, angle + step)),
          hasEdge(moved, ...ends[1 - k]!),
        ]).toEqual([false, true, true]);
        expect([faceCount(moved), loopCount(moved), genus(moved)]).toEqual([faceCount(tied), loopCount(tied), 1]);
      }
    }
  });

  it('are not moved off their faces, across the hole, or where there is none', () => {
    const tied = tie(holed, { faces: flats(holed), way: 'corners' }).mesh;
    const corner = vertexAt(tied, 20, 20, 5);
    expect(() => moveTie(tied, { fixed: corner, from: rim(tied, 3), to: rim(tied, 15) }).mesh).toThrow(
      /no room|not on the faces/,
    );
    expect(() => moveTie(tied, { fixed: corner, from: rim(tied, 3), to: vertexAt(tied, 20, 20, -5) }).mesh).toThrow(
      /not on the faces/,
    );
    expect(() => moveTie(tied, { fixed: corner, from: rim(tied, 9), to: rim(tied, 4) }).mesh).toThrow(/no tie between/);
    // An edge of the body parts no flat.
    expect(() => moveTie(tied, { fixed: corner, from: vertexAt(tied, 20, -20, 5), to: rim(tied, 4) }).mesh).toThrow(
      /at an angle/,
    );
  });
});

describe('what can be dragged', () => {
  it('is the nearest vertex along its edges', () => {
    const m = box(10, 10, 10);
    const top = flats(m).find((f) => faceNormals(m)[3 * f + 2]! > 0)!;
    const grab = grabAt(m, 'vertex', top, [4, 3, 5])!;
    expect([grab.at, grab.fixed]).toEqual([[5, 5, 5], null]);
    expect(grab.ways.map((w) => w.at).sort()).toEqual([
      [-5, 5, 5],
      [5, -5, 5],
      [5, 5, -5],
    ]);
  });

  it('is the nearer end of a tie, to all vertices that it has room to', () => {
    const tied = tie(holed, { faces: flats(holed), way: 'corners' }).mesh;
    const up = flats(tied).filter((f) => faceNormals(tied)[3 * f + 2]! > 0);
    const [corner, from] = [vertexAt(tied, 20, 20, 5), rim(tied, 3)];
    const beside = up.find((f) =>
      [corner, from].every((v) =>
        tied.corners.subarray(tied.loopStart[tied.faceLoops[f]!], tied.loopStart[tied.faceLoops[f + 1]!]).includes(v),
      ),
    )!;
    const grab = grabAt(tied, 'tie', beside, [7, 7, 5])!;
    expect([grab.vertex, grab.fixed!.vertex]).toEqual([from, corner]);
    expect(grab.ways.length).toBeGreaterThan(3);
    // Every reported way is possible, and no other.
    const others = new Set(
      up.flatMap((f) => [
        ...tied.corners.subarray(tied.loopStart[tied.faceLoops[f]!], tied.loopStart[tied.faceLoops[f + 1]!]),
      ]),
    );
    const can = [...others].filter((v) => {
      if (v === corner || v === from) return false;
      try {
        return faceCount(moveTie(tied, { fixed: corner, from, to: v }).mesh) === faceCount(tied);
      } catch {
        return false;
      }
    });
    expect(grab.ways.map((w) => w.vertex).sort((a, b) => a - b)).toEqual(can.sort((a, b) => a - b));
    expect(grabAt(tied, 'tie', beside, [18, 18, 5])!.vertex).toBe(corner);
    expect(grabAt(box(5, 5, 5), 'tie', 0, [0, 0, 0])).toBeNull();
  });
});
