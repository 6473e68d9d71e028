import { describe, expect, it } from 'vitest';
import { carve } from '../../carve/index.ts';
import {
  areaAndVolume,
  faceCount,
  isClosed,
  nearestOn,
  placementAffine,
  sizeOf,
  topologyOf,
  transformMesh,
  vertexPlace,
  withSource,
  type PolyMesh,
  type Vec3,
  pairsThatMeet,
} from '../../mesh/index.ts';
import { ballFromPatches, box, cylinder, seededRandom, sheet } from '../../shapes/index.ts';
import { surfaceDrift } from '../../survey/index.ts';
import { layBands } from './band.ts';
import type { BandWish } from './bands.ts';
import { distancesTo, neighboursOf } from './seamDistances.ts';
import { FineTriangles, PLAIN, SEAM } from './fineTriangles.ts';
import { keptEdges } from './keptEdges.ts';
import { levelLines } from './levelLine.ts';
import { SeamSides } from './seamSides.ts';

const WISH: Omit<BandWish, 'seam' | 'width'> = {
  rows: 1,
  shift: 0,
  aim: 'square',
  isWanted: () => true,
  isCrease: () => false,
};
const placed = (m: PolyMesh, position: [number, number, number], turn: [number, number, number] = [0, 0, 0]) =>
  transformMesh(m, placementAffine({ position, turn }));
const edgesAt = (m: PolyMesh, is: (p: Vec3) => boolean) => {
  const t = topologyOf(m);
  return [...t.edgeCorner].filter((c) => [c, t.next[c]!].every((x) => is(vertexPlace(m, m.corners[x]!))));
};
const seamOf = (m: PolyMesh) => {
  const t = topologyOf(m);
  return [...t.edgeCorner].filter((c) => m.layers.seam![c] || m.layers.seam![t.opposite[c]!]);
};

/** The fine triangles of all of a mesh, and the sides of a seam of it, of one width. */
function sidesOn(m: PolyMesh, seam: readonly number[], width: number) {
  const t = topologyOf(m);
  const is = new Set(seam.flatMap((c) => [c, t.opposite[c]!]));
  const faces = [...Array(faceCount(m)).keys()];
  const fine = new FineTriangles(m, faces, (c) => (is.has(c) ? SEAM : PLAIN), 1e-9 * sizeOf(m));
  fine.refine(1.35, 0.8, () => width);
  return {
    fine,
    s: new SeamSides(
      fine,
      () => [width, width],
      () => true,
    ),
  };
}

describe('fine triangles', () => {
  it('are the very surface, meet edge to edge, and are small beside the seam', () => {
    const m = ballFromPatches(20, 6);
    const width = 3;
    const seam = edgesAt(m, (p) => Math.abs(p[2]) < 1e-9);
    const { fine } = sidesOn(m, seam, width);
    let area = 0;
    for (let h = 0; h < fine.vertex.length; h++) {
      const o = fine.opposite[h]!;
      expect([fine.opposite[o], fine.vertex[o], fine.end(o)]).toEqual([h, fine.end(h), fine.vertex[h]]);
      if (h % 3) continue;
      const [a, b, c] = [0, 1, 2].map((k) => fine.at(fine.vertex[h + k]!)) as unknown as [Vec3, Vec3, Vec3];
      const [u, w] = [0, 1].map((i) => [b, c][i]!.map((x, k) => x - a[k]!)) as unknown as [Vec3, Vec3];
      area += Math.hypot(u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]) / 2;
      const near = Math.min(...[a, b, c].map((p) => Math.abs(p[2])));
      const longest = Math.max(
        fine.length(fine.vertex[h]!, fine.end(h)),
        fine.length(fine.vertex[h + 1]!, fine.end(h + 1)),
      );
      if (near < width) expect(longest).toBeLessThanOrEqual(0.8 * width + 1e-9);
    }
    expect(area).toBeCloseTo(areaAndVolume(m).area, 8);
  });
});

describe('the line of one width', () => {
  it('is at that distance all along, on both sides, and never at the far end of the surface', () => {
    // Round a tube the seam is a circle: lines lie above and below it.
    const m = cylinder(10, 40, 48);
    const cut = carve(withSource(m, 1, 1), {
      cutters: [withSource(box(60, 60, 20), 2, 3)],
      operation: 'scribe',
      course: 3,
    }).mesh;
    const seam = seamOf(cut).filter((c) => Math.abs(vertexPlace(cut, cut.corners[c]!)[2] - 10) < 1e-9);
    expect(seam.length).toBe(48);
    const { fine, s } = sidesOn(cut, seam, 2.3);
    const { lines } = levelLines(fine, s, distancesTo(fine, s, neighboursOf(fine)));
    expect(lines.map((l) => l.isClosed)).toEqual([true, true]);
    for (const line of lines)
      for (const { vertex } of line.nodes) expect(Math.abs(fine.at(vertex)[2] - 10)).toBeCloseTo(2.3, 9);
  });

  it('goes round the end of a run in half a circle', () => {
    const m = sheet(40, 40, [8, 8]);
    const seam = edgesAt(m, (p) => p[1] === 0 && Math.abs(p[0]) <= 10);
    const { fine, s } = sidesOn(m, seam, 4);
    expect(s.sides.map((x) => [x.isClosed, x.length])).toEqual([[true, 40]]);
    const { lines } = levelLines(fine, s, distancesTo(fine, s, neighboursOf(fine)));
    expect(lines.length).toBe(1);
    for (const { vertex } of lines[0]!.nodes)
      expect(nearestOn(fine.at(vertex), [-10, 0, 0], [10, 0, 0]).distance).toBeCloseTo(4, 9);
  });
});

describe('bands', () => {
  it('are full, closed and uncrossed on random bodies joined at random, and stay on their surface', () => {
    const random = seededRandom(5);
    const one = (): PolyMesh => {
      const r = 14 + 8 * random();
      return random() < 0.5 ? ballFromPatches(r, 8 + Math.floor(8 * random())) : box(1.8 * r, 1.5 * r, 1.3 * r);
    };
    let runs = 0;
    while (runs < 6) {
      const at = (): [number, number, number] => [0, 0, 0].map(() => 18 * (random() - 0.5)) as never;
      const turn = (): [number, number, number] => [0, 0, 0].map(() => 360 * random()) as never;
      const [a, b] = [one(), placed(one(), at(), turn())];
      const operation = random() < 0.5 ? 'union' : 'subtract';
      const m = carve(withSource(a, 1, 1), { cutters: [withSource(b, 2, 3)], operation, course: 3 }).mesh;
      const seam = seamOf(m);
      if (!seam.length) continue;
      runs++;
      const width = 0.02 * sizeOf(m);
      const made = layBands(m, { ...WISH, seam, width, isCrease: keptEdges(m) });
      expect([isClosed(made.mesh), pairsThatMeet(made.mesh)]).toEqual([true, []]);
      expect(made.quads / (made.quads + made.others)).toBeGreaterThan(0.9);
      expect(made.moved).toBeLessThanOrEqual(0.06 * width);
      // Cells are chords over the facets that lie beneath.
      expect(surfaceDrift(m, made.mesh)!.distance).toBeLessThan(0.15 * width);
      const volume = areaAndVolume(m).volume;
      expect(Math.abs(areaAndVolume(made.mesh).volume - volume)).toBeLessThan(1e-3 * volume);
    }
  });

  it('leave a bent face that they cut in flat pieces, with its folds marked', () => {
    const m = carve(withSource(cylinder(25, 120, 48), 1, 1), {
      cutters: [withSource(placed(ballFromPatches(20, 8), [25, 0, 0]), 2, 3)],
      operation: 'union',
      course: 3,
    }).mesh;
    const before = [...(m.layers.fold ?? [])].filter(Boolean).length;
    const made = layBands(m, { ...WISH, seam: seamOf(m), width: 2 });
    expect([made.bands, made.narrowed, isClosed(made.mesh)]).toEqual([2, 0, true]);
    const { fold } = made.mesh.layers;
    const t = topologyOf(made.mesh);
    for (let c = 0; c < fold!.length; c++) if (fold![c]) expect(fold![t.opposite[c]!]).toBe(1);
    expect([...fold!].filter(Boolean).length).not.toBe(before);
  });

  it('keep away from a line whose sides get none', () => {
    const m = sheet(40, 40, [8, 8]);
    const seam = [0, 5].flatMap((y) => edgesAt(m, (p) => p[1] === y));
    const t = topologyOf(m);
    const isOn = (c: number) => [c, t.next[c]!].every((x) => vertexPlace(m, m.corners[x]!)[1] === 0);
    const made = layBands(m, { ...WISH, seam, width: 6, isWanted: (corners) => corners.every(isOn) });
    expect([made.bands, made.others]).toEqual([2, 0]);
    // Below the line there is room; above it 5 mm to the other one, of which it takes 0.7.
    const ys = new Set(
      Array.from({ length: made.mesh.positions.length / 3 }, (_, v) => +vertexPlace(made.mesh, v)[1].toFixed(6)),
    );
    expect([ys.has(-6), ys.has(3.5)]).toEqual([true, true]);
    expect([...ys].filter((y) => y > 0 && y < 5)).toEqual([3.5]);
  });

  it('are none where no side has room; told by the place', () => {
    const m = box(20, 20, 20);
    const seam = edgesAt(m, (p) => p[2] === 10);
    expect(() => layBands(m, { ...WISH, seam, width: 2000 })).toThrow(/no room for a band/);
    expect(() => layBands(m, { ...WISH, seam, width: 2, isWanted: () => false })).toThrow(/None of the sides/);
  });
});
