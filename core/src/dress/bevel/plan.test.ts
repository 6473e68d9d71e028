import { describe, expect, it } from 'vitest';
import { faceNormals, topologyOf, withSource, type PolyMesh } from '../../mesh/index.ts';
import { box, circleOutline, cylinder, prism, tube } from '../../shapes/index.ts';
import { bevel, BevelPlan, sharpEdges, type BevelWish } from '../index.ts';
import { cut, edgesWhere, moved, places, sound, WISH } from './testing.ts';

/** Drags a width over a mesh by a plan; how often something was built, and what came of each width. */
function dragged(m: PolyMesh, widths: readonly number[], wish: Partial<BevelWish> = {}, edges = sharpEdges(m, 30)) {
  const plan = new BevelPlan();
  let built = 0;
  const make = (width: number) => {
    built++;
    return bevel(m, { edges, ...WISH, ...wish, width });
  };
  const shown = widths.map((w) => plan.at(w, m, JSON.stringify(wish), make));
  return { built, shown, plan, make, direct: widths.map((w) => bevel(m, { edges, ...WISH, ...wish, width: w })) };
}
/** The greatest distance between the same vertices of two meshes. */
const apart = (a: PolyMesh, b: PolyMesh) => {
  expect([...a.corners]).toEqual([...b.corners]);
  return a.positions.reduce((d, x, i) => Math.max(d, Math.abs(x - b.positions[i]!)), 0);
};
const steps = (from: number, to: number, n: number) =>
  Array.from({ length: n }, (_, i) => from + ((to - from) * i) / (n - 1));
const plate = cut(box(40, 30, 10), cylinder(6, 30, 24));
const bent = edgesWhere(plate, (x, y) => Math.hypot(x, y) < 7);

describe('a bevel that is dragged', () => {
  const cases: [string, PolyMesh, Partial<BevelWish>][] = [
    ['a box', box(4, 6, 8), { segments: 3 }],
    ['a box by radius', box(4, 6, 8), { segments: 2, measure: 'radius' }],
    ['a prism by depth', prism({ points: circleOutline(5, 6) }, 7), { measure: 'depth' }],
    ['a plate with a hole', plate, { segments: 2 }],
    ['a tube, hollow', tube(5, 3, 8, 24), { segments: 3, profile: -1 }],
    ['a saddle', cut(box(30, 10, 10), moved(box(10, 30, 10), 10, 10, 0), 'union'), { segments: 3 }],
  ];
  for (const [name, m, wish] of cases)
    it(`${name}: what lies between two widths is what would be built there`, () => {
      const { built, shown, direct } = dragged(m, steps(0.2, 0.7, 11), wish);
      // One at first, and one further out each time the drag comes there: each goes four steps further.
      expect(built).toBeLessThanOrEqual(6);
      shown.forEach((s, i) => {
        expect(apart(s.mesh, direct[i]!.mesh)).toBeLessThan(1e-11);
        expect(s.report).toEqual(direct[i]!.report);
      });
      sound(shown[7]!.mesh, m);
      expect(topologyOf(shown[7]!.mesh).edgeCount).toBe(topologyOf(direct[7]!.mesh).edgeCount);
    });

  it('back and forth over the same widths builds nothing new', () => {
    const there = steps(0.2, 0.7, 11);
    const once = dragged(plate, there).built;
    expect(dragged(plate, [...there, ...there.toReversed(), ...there]).built).toBe(once);
  });

  it('light and slots go along', () => {
    const m = withSource(plate, 1, 1);
    const { shown, direct } = dragged(m, steps(0.2, 0.6, 9), { segments: 3, slot: 'Edges', course: 5 });
    shown.forEach(({ mesh }, i) => {
      const other = direct[i]!.mesh;
      expect(mesh.slots).toEqual(other.slots);
      expect([...mesh.layers.slot!]).toEqual([...other.layers.slot!]);
      expect([...mesh.layers.source!]).toEqual([...other.layers.source!]);
      mesh.layers.normal!.forEach((x, k) => expect(x).toBeCloseTo(other.layers.normal![k]!, 5));
      faceNormals(mesh).forEach((x, k) => expect(x).toBeCloseTo(faceNormals(other)[k]!, 9));
    });
  });

  it('where strips come to another facet it is built: the faces are those that it has at rest', () => {
    // The rim's strips go over the facets of a round body, from one to the next as they grow.
    const hull = cut(cylinder(20, 40, 48), moved(cylinder(5, 60, 16), 0, 0, 0));
    const port = cut(hull, box(8, 60, 8));
    const { shown, direct } = dragged(port, steps(0.1, 0.9, 9), { past: 'narrow' });
    expect(new Set(direct.map((d) => d.mesh.corners.length)).size).toBeGreaterThan(1);
    shown.forEach((s, i) => expect(apart(s.mesh, direct[i]!.mesh)).toBeLessThan(2e-3));
  });

  it('past its room it is built each time, as it is narrower there', () => {
    // 1 mm is left between the hole and the edge: less than 0.5 mm for each strip.
    const m = cut(box(40, 14, 10), cylinder(6, 30, 24));
    const widths = steps(0.3, 0.9, 7);
    const { shown, direct } = dragged(m, widths, { past: 'narrow' });
    shown.forEach((s, i) => expect(s.report.narrowed > 0).toBe(widths[i]! > 0.49));
    shown.forEach((s, i) => expect(apart(s.mesh, direct[i]!.mesh)).toBeLessThan(1e-11));
  });

  it('begins anew with other settings or another mesh, and a width that cannot be is refused as ever', () => {
    const { plan, make, built } = dragged(plate, [0.3, 0.35], {}, bent);
    const counted = { n: 0 };
    const again = (w: number) => {
      counted.n++;
      return make(w);
    };
    plan.at(0.33, plate, '{}', again);
    expect(counted.n).toBe(0);
    plan.at(0.33, plate, 'others', again);
    expect(counted.n).toBe(1);
    plan.at(0.33, box(1, 1, 1), 'others', again);
    expect([counted.n, built]).toEqual([2, 2]);
    expect(() => plan.at(50, plate, 'others', (width) => bevel(plate, { edges: bent, ...WISH, width }))).toThrow(
      'has no room',
    );
    expect(places(plan.at(0.4, plate, 'others', again).mesh)).toHaveLength(places(make(0.4).mesh).length);
  });
});
