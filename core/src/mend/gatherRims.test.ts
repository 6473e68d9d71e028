import { describe, expect, it } from 'vitest';
import { carve } from '../carve/index.ts';
import {
  faceCount,
  isClosed,
  lengthOf,
  pairsThatMeet,
  sub,
  topologyOf,
  transformMesh,
  vertexPlace,
  type PolyMesh,
} from '../mesh/index.ts';
import { ballFromPatches, box, cylinder } from '../shapes/index.ts';
import { gatheredRims, gatherRims } from './gatherRims.ts';
import { chainsOf } from './place.ts';
import { toQuads } from './quads/toQuads.ts';
import { seamEdges } from './selectBy.ts';

const alongX = (m: PolyMesh, x: number) => transformMesh(m, [0, 0, 1, x, 0, 1, 0, 0, -1, 0, 0, 0]);
const cut = (m: PolyMesh, cutter: PolyMesh) => carve(m, { cutters: [cutter], operation: 'subtract', course: 2 }).mesh;
const rims = (m: PolyMesh) => chainsOf(m, seamEdges(m)).map((c) => c.vertices);
/** Longest edge of a run over its shortest. */
const unevenness = (m: PolyMesh, run: readonly number[]) => {
  const lengths = run.map((v, i) => lengthOf(sub(vertexPlace(m, run[(i + 1) % run.length]!), vertexPlace(m, v))));
  return Math.max(...lengths) / Math.min(...lengths);
};

const [R, SIDES] = [30, 48];
const bored = cut(cylinder(R, 80, SIDES), alongX(cylinder(12, 160, 24), 0));

describe('gathering rims', () => {
  it('leaves them the segments of the cutter; they move by little more than the flats are from their round', () => {
    expect(rims(bored).map((r) => r.length > 24)).toEqual([true, true]);
    const { mesh, report } = gatherRims(bored, { edges: seamEdges(bored) });
    expect(rims(mesh).map((r) => r.length)).toEqual([24, 24]);
    for (const r of rims(mesh)) expect(unevenness(mesh, r)).toBeLessThan(1.2);
    expect(report.gathered).toBe(rims(bored).flat().length - 48);
    expect(report.moved).toBeGreaterThan(0);
    expect(report.moved).toBeLessThan(2 * R * (1 - Math.cos(Math.PI / SIDES)));
    // What stays is where it was, on the cutter.
    const places = new Set(
      rims(bored)
        .flat()
        .map((v) => vertexPlace(bored, v).join()),
    );
    for (const v of rims(mesh).flat()) expect(places).toContain(vertexPlace(mesh, v).join());
    expect([isClosed(mesh), pairsThatMeet(mesh, {}).length]).toEqual([true, 0]);
  });

  it('does nothing where each vertex has edges on both sides, on flats, and on what has been gathered', () => {
    for (const m of [cut(box(60, 60, 20), cylinder(12, 40, 24)), gatherRims(bored, { edges: seamEdges(bored) }).mesh])
      expect(gatherRims(m, { edges: seamEdges(m) })).toEqual({ mesh: m, report: { gathered: 0, moved: 0 } });
  });

  it('keeps vertices at which sharp edges end, those too far out, and those of faces that may not change', () => {
    // Over an edge of a box: two vertices of the rim lie on it.
    const notched = cut(box(60, 60, 20), transformMesh(cylinder(12, 40, 24), [1, 0, 0, 30, 0, 1, 0, 0, 0, 0, 1, 0]));
    const kept = gatherRims(notched, { edges: seamEdges(notched) });
    expect(kept.report.gathered).toBe(0);
    const coarse = cut(cylinder(R, 80, 6), alongX(cylinder(12, 160, 24), 0));
    expect(gatherRims(coarse, { edges: seamEdges(coarse) }).report.gathered).toBe(0);
    expect(gatheredRims(bored, seamEdges(bored), () => false).mesh).toBe(bored);
  });

  it('lays a hole over a corner of three patches out without a fan', () => {
    const [a, b] = [Math.PI / 4, Math.atan(Math.SQRT1_2)];
    const [c, s, k, h] = [Math.cos(a), Math.sin(a), Math.cos(b), Math.sin(b)];
    const toCorner = transformMesh(cylinder(12, 60, 24), [
      -s,
      -c * h,
      c * k,
      35 * c * k,
      c,
      -s * h,
      s * k,
      35 * s * k,
      0,
      k,
      h,
      35 * h,
    ]);
    const holed = cut(ballFromPatches(40, 12), toCorner);
    const { mesh, report } = toQuads(holed, {});
    expect([isClosed(mesh), report.triangles, report.left]).toEqual([true, 0, 0]);
    const t = topologyOf(mesh);
    expect(t.edgeCount).toBe(2 * faceCount(mesh));
    // The fan round an ungathered rim had 90 and more.
    expect(report.poles).toBeLessThan(24);
    expect(report.sharpest).toBeGreaterThan(15);
  });
});
