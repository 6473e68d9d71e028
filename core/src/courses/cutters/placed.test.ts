import { describe, expect, it } from 'vitest';
import { bounds, dot, MasonError, topologyOf, unit, vertexCount, type PolyMesh } from '../../mesh/index.ts';
import { box } from '../../shapes/index.ts';
import {
  alongOwnAxis,
  CutParams,
  cutterMeshes,
  fieldsOf,
  newShape,
  ownAxis,
  placedMesh,
  Shape,
  shapeKinds,
  sizeWords,
} from '../index.ts';

const none = () => undefined;
const wall = box(2400, 240, 1800);

describe('placed shapes', () => {
  it('the own axis follows the turn', () => {
    const axis = (turn: [number, number, number]) =>
      ownAxis({ position: [0, 0, 0], turn }).map((x) => +x.toFixed(9) + 0);
    expect(axis([0, 0, 0])).toEqual([0, 0, 1]);
    expect(axis([90, 0, 0])).toEqual([0, -1, 0]);
    expect(axis([0, 90, 0])).toEqual([1, 0, 0]);
    expect(
      ownAxis({ position: [0, 0, 0], turn: [20, 30, 40], scale: [2, 3, -4] }).reduce((s, x) => s + x * x, 0),
    ).toBeCloseTo(1, 12);
  });

  it('a part reaches so far along it, in the frame of the shape', () => {
    expect(alongOwnAxis(wall, { position: [0, 0, 0], turn: [90, 0, 0] })).toEqual([
      expect.closeTo(-120, 9),
      expect.closeTo(120, 9),
    ]);
    expect(alongOwnAxis(wall, { position: [0, 50, 0], turn: [90, 0, 0], scale: [1, 1, 2] })).toEqual([
      expect.closeTo(-35, 9),
      expect.closeTo(85, 9),
    ]);
  });

  it('through: past the part on both sides, round the same axis, never shorter than it was', () => {
    const pin = Shape.parse({ kind: 'cylinder', diameter: 20, height: 10 });
    const across = bounds(placedMesh(pin, { position: [100, 0, 0], turn: [90, 0, 0] }, none, (m) => m, wall));
    expect([across.min[1] < -120, across.max[1] > 120, across.max[0] - across.min[0]]).toEqual([
      true,
      true,
      expect.closeTo(20, 9),
    ]);
    const long = Shape.parse({ kind: 'cylinder', diameter: 20, height: 1000 });
    const kept = bounds(placedMesh(long, { position: [0, 0, 0], turn: [90, 0, 0] }, none, (m) => m, wall));
    expect([kept.min[1], kept.max[1]]).toEqual([expect.closeTo(-500, 9), expect.closeTo(500, 9)]);
  });

  it('lean: the outline stays in its plane, its sides run along a direction, whatever the place, turn and scale', () => {
    const pin = Shape.parse({ kind: 'polygon', sides: 6, diameter: 20, height: 30 });
    const placement = { position: [10, 20, 30], turn: [25, -40, 70], scale: [1, 2, 0.5] } as const;
    const along = [0.2, -0.5, 0.9] as const;
    const [plain, leant] = [null, along].map((lean) => placedMesh(pin, placement as never, none, (m) => m, null, lean));
    const t = topologyOf(leant!);
    let sides = 0;
    t.edgeCorner.forEach((c) => {
      const [a, b] = [3 * leant!.corners[c]!, 3 * leant!.corners[t.next[c]!]!];
      const edge = (m: PolyMesh) => unit([0, 1, 2].map((k) => m.positions[b + k]! - m.positions[a + k]!) as never);
      const own = Math.abs(dot(edge(plain!), ownAxis(placement as never)));
      if (own < 0.999) return;
      sides++;
      expect(Math.abs(dot(edge(leant!), unit(along)))).toBeCloseTo(1, 9);
    });
    expect(sides).toBe(6);
    // The middle of the two ends does not move.
    const middle = (m: PolyMesh) =>
      [0, 1, 2].map((k) => m.positions.filter((_, i) => i % 3 === k).reduce((s, x) => s + x, 0) / vertexCount(m));
    middle(leant!).forEach((x, k) => expect(x).toBeCloseTo(middle(plain!)[k]!, 9));
    expect(() =>
      placedMesh(pin, { position: [0, 0, 0], turn: [0, 0, 0] }, none, (m) => m, null, [1, 0, 0.001]),
    ).toThrow(/plane of the cutter’s outline/);
  });

  it('says sizes of every shape in a few characters', () => {
    for (const kind of shapeKinds(false)) expect(sizeWords(newShape(kind), 'mm'), kind).toMatch(/\d/);
    expect(
      sizeWords(
        Shape.parse({
          kind: 'outline',
          points: [
            [0, 0],
            [1, 0],
            [0, 1],
          ],
          height: 5,
        }),
        'mm',
      ),
    ).toBe('1 × 1 × 5');
    expect(sizeWords(Shape.parse({ kind: 'mesh', hash: 'abcdef01', title: 'Casting' }), 'mm')).toBe('Casting');
  });
});

describe('slots of new walls', () => {
  const cut = (more: Record<string, unknown>) =>
    CutParams.parse({
      cutters: [{ id: 9, name: 'Pin', shape: { kind: 'cylinder' }, placement: {}, slot: '' }],
      ...more,
    });
  const slotOf = (more: Record<string, unknown>) =>
    cutterMeshes({ ...wall, slots: ['Plaster'] }, cut(more), none, 5)[0]!.slots[0];

  it.each([
    [{}, 'Plaster'],
    [{ wallSlots: 'own', wallSlot: 'Reveal' }, 'Reveal'],
    [{ wallSlots: 'own', wallSlot: '' }, 'Walls'],
    [{ wallSlots: 'cutter' }, 'Pin'],
  ])('%j gives %s', (more, slot) => expect(slotOf(more)).toBe(slot));

  it('an imported cutter that is not stored is missed by name', () => {
    const lost = cut({
      cutters: [{ id: 9, name: '', shape: { kind: 'mesh', hash: 'abcdef01', title: 'Tool' }, placement: {} }],
    });
    expect(() => cutterMeshes(wall, lost, none, 5)).toThrow(MasonError);
  });

  it('a form shows only the fields that count for what the cut does', () => {
    const shown = (operation: string) =>
      fieldsOf(CutParams, { ...CutParams.parse({ operation, cutters: cut({}).cutters }) }).map((f) => f.key);
    expect(shown('subtract')).toEqual(['operation', 'joinFlush', 'ties', 'tidy', 'wallSlots', 'wallUvs']);
    expect(shown('split')).toContain('keeps');
    expect(shown('scribe')).toEqual(['operation', 'reach', 'along']);
    expect(shown('kerf')).toEqual([
      'operation',
      'reach',
      'along',
      'width',
      'depth',
      'bottom',
      'lines',
      'spacing',
      'wallSlots',
      'wallUvs',
    ]);
  });
});
