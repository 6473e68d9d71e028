import { describe, expect, it } from 'vitest';
import { bounds, MasonError } from '../mesh/index.ts';
import { box } from '../shapes/index.ts';
import { alongOwnAxis, CutParams, cutterMeshes, fieldsOf, newShape, ownAxis, placedMesh, Shape, shapeKinds, sizeWords } from './index.ts'; // prettier-ignore

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

  it('says sizes of every shape in a few characters', () => {
    for (const kind of shapeKinds(false)) expect(sizeWords(newShape(kind), 'mm'), kind).toMatch(/\d/);
    expect(sizeWords(Shape.parse({ kind: 'outline', points: [[0, 0], [1, 0], [0, 1]], height: 5 }), 'mm')).toBe('3 points × 5'); // prettier-ignore
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
    expect(shown('subtract')).toEqual(['operation', 'joinFlush', 'ties', 'wallSlots']);
    expect(shown('split')).toContain('keeps');
    expect(shown('scribe')).toEqual(['operation', 'reach']);
    expect(shown('kerf')).toEqual(['operation', 'reach', 'width', 'depth', 'bottom', 'lines', 'spacing', 'wallSlots']);
  });
});
