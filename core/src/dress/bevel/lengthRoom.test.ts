import { describe, expect, it } from 'vitest';
import { carve } from '../../carve/index.ts';
import { placementAffine, topologyOf, transformMesh, withSource } from '../../mesh/index.ts';
import { toldWhile } from '../../mesh/testProgress.ts';
import { box, cylinder } from '../../shapes/index.ts';
import { bevel } from './bevel.ts';
import { bevelHeadroom } from './headroom.ts';
import { bevelLengthRooms } from './lengthRoom.ts';

const WISH = { width: 1, measure: 'offset', segments: 1, profile: 1 } as const;

/** The gap between a hole and the side of its plate, mm, and the hole's radius. */
const [GAP, RADIUS] = [0.2, 8];

/** A plate with a hole of 96 sides that comes near to its side, and the upper rim of that. */
function nearSide() {
  const at = placementAffine({ position: [0, 20 - RADIUS - GAP, 0], turn: [0, 0, 0] });
  const m = carve(withSource(box(60, 40, 10), 1, 1), {
    cutters: [withSource(transformMesh(cylinder(RADIUS, 30, 96), at), 2, 3)],
    operation: 'subtract',
    course: 3,
  }).mesh;
  const t = topologyOf(m);
  const edges = [...t.edgeCorner]
    .filter((c) => m.layers.seam![c] || m.layers.seam![t.opposite[c]!])
    .filter((c) => m.positions[3 * m.corners[c]! + 2]! > 0)
    .map((c) => t.edge[c]!);
  return { m, edges };
}

describe('the room for most of a length', () => {
  it('is the headroom for all of it, and never less for less of it', () => {
    const { m, edges } = nearSide();
    const [all] = bevelHeadroom(m, edges, WISH);
    const [room, more] = bevelLengthRooms(m, edges, WISH);
    expect([room!.edges, room!.headroom, more]).toEqual([all!.edges, expect.closeTo(all!.headroom, 3), undefined]);
    expect(room!.rooms.map((r) => r.share)).toEqual([1, 0.99, 0.95]);
    const widths = room!.rooms.map((r) => r.width);
    expect(widths[0]).toBeCloseTo(all!.headroom, 3);
    // So far is the rim from the side at the end of what is narrower, half of it on either hand.
    const gapAt = (share: number) => GAP + RADIUS * (1 - Math.cos(Math.PI * (1 - share)));
    expect(widths[2]).toBeGreaterThan(1.1 * widths[0]!);
    expect(widths[2]).toBeLessThan(gapAt(0.95));
    expect(widths[1]).toBeLessThan(gapAt(0.99));
    expect(room!.rooms[2]!.at[1]).toBeGreaterThan(19);
    // A bevel of that width has its full width on so much of the length.
    for (const { share, width } of room!.rooms.filter((r) => Number.isFinite(r.width)))
      expect(bevel(m, { edges, ...WISH, width: 0.98 * width }).report.full).toBeGreaterThanOrEqual(share - 0.01);
  });

  it('is without end where nothing is in the way', () => {
    const m = box(20, 20, 20);
    const t = topologyOf(m);
    const upright = [...t.edgeCorner]
      .filter((c) => m.positions[3 * m.corners[c]! + 2] !== m.positions[3 * m.corners[t.next[c]!]! + 2])
      .slice(0, 1)
      .map((c) => t.edge[c]!);
    const [room] = bevelLengthRooms(m, upright, WISH);
    expect(room!.edges).toBe(1);
    expect(new Set(room!.rooms.map((r) => r.width)).size).toBe(1);
  });

  it('tells how far it is', () => {
    const { m, edges } = nearSide();
    expect(toldWhile((ctx) => bevelLengthRooms(m, edges, WISH, ctx), 0)).toContain(
      'looking how wide most of it can get',
    );
  });
});
