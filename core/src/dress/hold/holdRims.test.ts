import { describe, expect, it } from 'vitest';
import { carve } from '../../carve/index.ts';
import {
  faceCount,
  faceNormals,
  isClosed,
  lengthOf,
  pairsThatMeet,
  topologyOf,
  transformMesh,
  unit,
  vertexPlace,
  type PolyMesh,
  type Vec3,
} from '../../mesh/index.ts';
import { chainsOf, seamEdges } from '../../mend/index.ts';
import { ballFromPatches, box, cone, cylinder, sheet, tube } from '../../shapes/index.ts';
import { gauge } from '../../survey/index.ts';
import { subdivide } from '../catmullClark.ts';
import type { GuideSurface } from '../guideSurface.ts';
import { holdRims } from './holdRims.ts';

const alongX = (m: PolyMesh, x: number) => transformMesh(m, [0, 0, 1, x, 0, 1, 0, 0, -1, 0, 0, 0]);
const cut = (m: PolyMesh, cutter: PolyMesh) => carve(m, { cutters: [cutter], operation: 'subtract', course: 2 }).mesh;

/** A smooth surface: its normal, and how far a place is from it. */
interface Smooth {
  normal(p: Vec3): Vec3;
  off(p: Vec3): number;
}
const roundZ = (r: number): Smooth => ({
  normal: ([x, y]) => [x, y, 0],
  off: ([x, y]) => Math.abs(Math.hypot(x, y) - r),
});
const roundX = (r: number): Smooth => ({
  normal: ([, y, z]) => [0, y, z],
  off: ([, y, z]) => Math.abs(Math.hypot(y, z) - r),
});
const ball = (r: number): Smooth => ({ normal: (p) => p, off: (p) => Math.abs(lengthOf(p) - r) });
const conical = (low: number, high: number, h: number): Smooth => {
  const k = (low - high) / h;
  return {
    normal: ([x, y]) => [x / Math.hypot(x, y), y / Math.hypot(x, y), k],
    off: ([x, y, z]) => Math.abs(Math.hypot(x, y) - low + k * (z + h / 2)) / Math.hypot(1, k),
  };
};

/** Of each face the smooth surface that its corners are near to, else its own plane. */
const guideOf =
  (surfaces: readonly Smooth[]) =>
  (m: PolyMesh): GuideSurface => {
    const N = faceNormals(m);
    const found = Array.from({ length: faceCount(m) }, (_, f): Smooth => {
      const n: Vec3 = [N[3 * f]!, N[3 * f + 1]!, N[3 * f + 2]!];
      const corners: Vec3[] = [];
      for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f]! + 1]!; c++)
        corners.push(vertexPlace(m, m.corners[c]!));
      const along = (s: Smooth) => Math.abs(unit(s.normal(corners[0]!)).reduce((x, y, k) => x + y * n[k]!, 0));
      const near = surfaces.find((s) => along(s) > 0.8 && corners.every((p) => s.off(p) < 1.2));
      return (
        near ?? {
          normal: () => n,
          off: (p: Vec3) => Math.abs(n.reduce((s, x, k) => s + x * (p[k]! - corners[0]![k]!), 0)),
        }
      );
    });
    return { knows: () => true, normal: (f, p) => found[f]!.normal(p), off: (f, p) => found[f]!.off(p) };
  };

/** What the plug gauge says of each rim. */
const gauged = (m: PolyMesh, axis: Vec3) =>
  chainsOf(m, seamEdges(m)).map(({ vertices }) =>
    gauge(
      vertices.map((v) => vertexPlace(m, v)),
      axis,
    ),
  );

const [X, Z]: [Vec3, Vec3] = [
  [1, 0, 0],
  [0, 0, 1],
];
const CASES: Record<string, { m: PolyMesh; surfaces: Smooth[]; r: number; axis: Vec3; rims: number }> = {
  plate: { m: cut(box(100, 60, 20), cylinder(12, 60, 32)), surfaces: [roundZ(12)], r: 12, axis: Z, rims: 2 },
  tube: {
    m: cut(tube(30, 24, 60, 48), alongX(cylinder(8, 60, 24), 30)),
    surfaces: [roundZ(30), roundZ(24), roundX(8)],
    r: 8,
    axis: X,
    rims: 2,
  },
  cylinder: {
    m: cut(cylinder(30, 80, 48), alongX(cylinder(12, 160, 24), 0)),
    surfaces: [roundZ(30), roundX(12)],
    r: 12,
    axis: X,
    rims: 2,
  },
  ball: {
    m: cut(ballFromPatches(40, 12), alongX(cylinder(12, 160, 24), 0)),
    surfaces: [ball(40), roundX(12)],
    r: 12,
    axis: X,
    rims: 2,
  },
  cone: {
    m: cut(cone(40, 20, 80, 48), alongX(cylinder(10, 160, 24), 0)),
    surfaces: [conical(40, 20, 80), roundX(10)],
    r: 10,
    axis: X,
    rims: 2,
  },
  sheet: { m: cut(sheet(60, 60, [6, 6]), cylinder(12, 20, 16)), surfaces: [], r: 12, axis: Z, rims: 1 },
};

describe('a held rim', () => {
  it.each(Object.entries(CASES))(
    'of a %s is round to 0.1 % and of its radius to 0.1 % after two levels and three',
    (name, { m, surfaces, r, axis, rims }) => {
      const { mesh, report } = holdRims(m, { edges: seamEdges(m), distance: 1, guide: guideOf(surfaces) });
      expect([report.rims, report.rings, report.none, report.left]).toEqual([rims, name === 'sheet' ? 1 : 4, [], 0]);
      expect([isClosed(mesh), pairsThatMeet(mesh, {}).length]).toEqual([name !== 'sheet', 0]);
      for (const levels of [2, 3]) {
        const smooth = subdivide(mesh, { levels });
        expect(smooth.report.eased).toEqual([]);
        const list = gauged(smooth.mesh, axis);
        expect(list.length).toBe(rims);
        for (const g of list) {
          expect(g.outOfRound).toBeLessThan(1e-3 * r);
          expect(Math.abs(g.radius - r)).toBeLessThan(1e-3 * r);
        }
      }
    },
  );

  it('has its size on the limit surface, where that is asked for', () => {
    const { m, surfaces, r, axis } = CASES['cylinder']!;
    const { mesh } = holdRims(m, { edges: seamEdges(m), by: 'limit', guide: guideOf(surfaces) });
    for (const g of gauged(subdivide(mesh, { levels: 2, limit: true }).mesh, axis))
      expect(Math.abs(g.radius - r)).toBeLessThan(2e-4 * r);
    // Between two rounds and three, the limit is nearer than it should be.
    const few = holdRims(m, { edges: seamEdges(m), guide: guideOf(surfaces) }).mesh;
    for (const g of gauged(subdivide(few, { levels: 2, limit: true }).mesh, axis)) expect(g.radius).toBeLessThan(r);
  });

  it('keeps flats flat and right to the edge of the part, with all sharp edges', () => {
    const { m, surfaces } = CASES['plate']!;
    const { mesh } = holdRims(m, { edges: seamEdges(m), guide: guideOf(surfaces) });
    const smooth = subdivide(mesh, { levels: 2 }).mesh;
    for (let v = 0; v < smooth.positions.length / 3; v++) {
      const [x, y, z] = vertexPlace(smooth, v);
      const onBox = [50 - Math.abs(x), 30 - Math.abs(y), 10 - Math.abs(z)].some((d) => Math.abs(d) < 1e-9);
      expect(onBox || Math.abs(Math.hypot(x, y) - 12) < 0.01).toBe(true);
    }
    // Without that the sides of the plate are rounded over.
    const soft = subdivide(holdRims(m, { edges: seamEdges(m), others: false }).mesh, { levels: 2 }).mesh;
    expect(Math.max(...soft.positions.filter((_, i) => i % 3 === 0))).toBeLessThan(49.9);
  });

  it('is rounded over by its rings alone, by a sixth of their distance, and stays as round', () => {
    const { m, surfaces, r } = CASES['plate']!;
    const { mesh } = holdRims(m, {
      edges: seamEdges(m),
      sharp: false,
      distance: 0.6,
      by: 'limit',
      guide: guideOf(surfaces),
    });
    const smooth = subdivide(mesh, { levels: 2, limit: true }).mesh;
    for (const g of gauged(smooth, Z)) {
      expect(g.outOfRound).toBeLessThan(1e-3 * r);
      // (4 rim + ring + wall) / 6 across, by the rules of a uniform cubic spline.
      expect(g.radius).toBeCloseTo(r + 0.6 / 6, 1);
      expect(g.radius - r).toBeGreaterThan(0.08);
    }
  });

  it('gets a band where quads leave no room for a ring: over a corner of patches, aslant, in a ring', () => {
    const aslant = (m: PolyMesh, d: Vec3, x: number) => {
      const u = unit([-d[1], d[0], 0]);
      const v: Vec3 = [d[1] * u[2] - d[2] * u[1], d[2] * u[0] - d[0] * u[2], d[0] * u[1] - d[1] * u[0]];
      return transformMesh(m, [u[0], v[0], d[0], x * d[0], u[1], v[1], d[1], x * d[1], u[2], v[2], d[2], x * d[2]]);
    };
    for (const [body, d, at] of [
      [ballFromPatches(40, 12), unit([1, 0.9, 0.8]), 35],
      [cylinder(30, 80, 32, 8), unit([1, 0.3, 0.2]), 35],
    ] as const) {
      const m = cut(body, aslant(cylinder(8, 60, 24), d, at));
      const { mesh, report } = holdRims(m, { edges: seamEdges(m) });
      expect([report.rims, report.rings, report.none]).toEqual([1, 2, []]);
      expect(report.least).toBeGreaterThan(0.4);
      const smooth = subdivide(mesh, { levels: 2 }).mesh;
      expect([isClosed(smooth), pairsThatMeet(smooth, { most: 1 }).length]).toEqual([true, 0]);
      const [g] = gauged(smooth, d);
      expect(g!.outOfRound).toBeLessThan(5e-3 * 8);
    }
  });

  it('needs a closed rim, and leaves the other edges of a pick out', () => {
    const { m } = CASES['plate']!;
    const t = topologyOf(m);
    const [one] = seamEdges(m);
    expect(() => holdRims(m, { edges: [one!] })).toThrow(/no closed rim/);
    const others = [...t.edgeCorner].filter(
      (c) => Math.abs(m.positions[3 * m.corners[c]! + 2]!) === 10 && Math.abs(m.positions[3 * m.corners[c]!]!) === 50,
    );
    const { report } = holdRims(m, { edges: [...seamEdges(m), others[0]!] });
    expect([report.rims, report.left]).toEqual([2, 1]);
  });
});
