import { describe, expect, it } from 'vitest';
import { Surface, topologyOf, type PolyMesh } from '../../mesh/index.ts';
import { box, circleOutline, cylinder, prism, seededRandom } from '../../shapes/index.ts';
import { sharpEdges } from '../index.ts';
import { RAIL, ROUNDED, SOFT } from './bevelLoops.ts';
import { cut, edgesWhere } from './testing.ts';
import { alongFaces, chainsOf, edgeRoles, levelled, shortestBeside, turnAt } from './widths.ts';

const surfaceOf = (m: PolyMesh) => new Surface(m, () => false, 180);
const rolesOf = (m: PolyMesh, edges = sharpEdges(m, 30)) => edgeRoles(m, edges, surfaceOf(m));
const pocket = () => cut(box(20, 20, 10), box(8, 6, 10));
const plate = () => cut(box(40, 30, 10), cylinder(6, 30, 24));

describe('how wide a bevel is', () => {
  for (const degrees of [20, 60, 90, 130])
    it(`over a turn of ${degrees}°: a ball of the radius touches both faces there, a flat of the depth ends there`, () => {
      const turn = (degrees * Math.PI) / 180;
      // The edge at the origin, one face along +x, the other turned down by the angle.
      const other = [-Math.cos(turn), -Math.sin(turn)] as const;
      const along = alongFaces(2, turn, 'radius', 0);
      const middle = [along, -2] as const;
      const off = middle[0] * other[0] + middle[1] * other[1];
      // Its middle is 2 from the first face, and as far from the second, at the same place along it.
      expect(Math.abs(middle[0] * other[1] - middle[1] * other[0])).toBeCloseTo(2, 12);
      expect(off).toBeCloseTo(along, 12);
      const w = alongFaces(2, turn, 'depth', 0);
      const chord = [(w + w * other[0]) / 2, (w * other[1]) / 2] as const;
      expect(Math.hypot(...chord)).toBeCloseTo(2, 12);
      expect(alongFaces(2, turn, 'offset', 0)).toBe(2);
      expect(alongFaces(0.25, turn, 'share', 12)).toBe(3);
      expect(alongFaces(2, -turn, 'radius', 0)).toBe(along);
    });

  it('turns are told with their sign: out over an edge, into a hollow', () => {
    const m = pocket();
    const t = topologyOf(m);
    const s = surfaceOf(m);
    const turns = sharpEdges(m, 30).map((e) => Math.round((turnAt(m, s, t.edgeCorner[e]!) * 180) / Math.PI));
    // Of a pocket that goes through: its rims stick out, its four upright corners are hollow.
    expect(turns.filter((x) => x === 90)).toHaveLength(12 + 8);
    expect(turns.filter((x) => x === -90)).toHaveLength(4);
    const six = prism({ points: circleOutline(5, 6) }, 7);
    const sides = edgesWhere(six, () => true).filter(
      (e) =>
        six.positions[3 * six.corners[topologyOf(six).edgeCorner[e]!]! + 2] !==
        six.positions[3 * six.corners[topologyOf(six).next[topologyOf(six).edgeCorner[e]!]!]! + 2],
    );
    for (const e of sides)
      expect(turnAt(six, surfaceOf(six), topologyOf(six).edgeCorner[e]!)).toBeCloseTo(Math.PI / 3, 12);
    expect(sides).toHaveLength(6);
  });
});

describe('what becomes of edges', () => {
  it('those asked for are rounded, sharp ones hold, others are gone over', () => {
    const m = plate();
    const rims = edgesWhere(m, (x, y) => Math.hypot(x, y) < 7);
    const role = rolesOf(m, rims);
    const count = (r: number) => role.filter((x) => x === r).length;
    expect([count(ROUNDED), count(RAIL), count(SOFT)]).toEqual([48, 12, 24]);
    // The walls of the hole turn by 15° from one to the next: asked for, they are rounded as well.
    const { edgeCount } = topologyOf(m);
    expect(
      rolesOf(
        m,
        Array.from({ length: edgeCount }, (_, e) => e),
      ).filter((x) => x === ROUNDED),
    ).toHaveLength(84);
    const marked = { ...m, layers: { hard: new Uint8Array(m.corners.length).fill(1) } };
    expect(rolesOf(marked, rims).filter((x) => x === RAIL)).toHaveLength(36);
  });

  it('that lie in a flat have nothing to round', () => {
    const m = box(10, 10, 10, [2, 1, 1]);
    const { edgeCount } = topologyOf(m);
    const role = rolesOf(
      m,
      Array.from({ length: edgeCount }, (_, e) => e),
    );
    // The twelve edges, four of them in two pieces; four more across the flats.
    expect(role.filter((x) => x === ROUNDED)).toHaveLength(16);
    expect(edgeCount).toBe(20);
  });

  it('hang together in chains where they meet', () => {
    const m = plate();
    const { of, count } = chainsOf(m, rolesOf(m));
    expect(count).toBe(3);
    expect([0, 1, 2].map((k) => of.filter((x) => x === k).length).sort((a, b) => a - b)).toEqual([8, 24, 24]);
    expect(chainsOf(m, rolesOf(m, [])).count).toBe(0);
  });

  it('know the shortest edge that meets their chain; alone, of their own', () => {
    const m = box(4, 6, 8);
    const upright = edgesWhere(m, (x, y) => x > 0 && y > 0);
    const role = rolesOf(m, upright);
    expect([...shortestBeside(m, role, chainsOf(m, role))]).toEqual([4]);
    const all = rolesOf(m);
    expect([...shortestBeside(m, all, chainsOf(m, all))]).toEqual([4]);
  });
});

describe('levelling', () => {
  it('lessens what changes too fast, as little as it must, and no more the second time', () => {
    const m = plate();
    const role = rolesOf(m);
    const t = topologyOf(m);
    const width = new Float64Array(t.edgeCount).fill(1);
    for (let seed = 1; seed <= 10; seed++) {
      const random = seededRandom(seed);
      const share = Float64Array.from({ length: m.positions.length / 3 }, () => random());
      const before = share.slice();
      levelled(m, role, width, share);
      share.forEach((s, v) => expect(s).toBeLessThanOrEqual(before[v]!));
      // The least of all stays as it is.
      expect(Math.min(...share)).toBe(Math.min(...before));
      for (const c of t.edgeCorner) {
        if (role[t.edge[c]!] !== ROUNDED) continue;
        const [a, b] = [m.corners[c]!, m.corners[t.next[c]!]!];
        const long = Math.hypot(...[0, 1, 2].map((k) => m.positions[3 * a + k]! - m.positions[3 * b + k]!));
        expect(Math.abs(share[a]! - share[b]!)).toBeLessThanOrEqual(0.25 * long + 1e-9);
      }
      const again = share.slice();
      levelled(m, role, width, again);
      expect([...again]).toEqual([...share]);
    }
  });
});
