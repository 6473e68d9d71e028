import { describe, expect, it } from 'vitest';
import {
  areaAndVolume,
  components,
  faceAreas,
  faceBoundaries,
  faceCount,
  isClosed,
  takeFaces,
} from '../../mesh/index.ts';
import {
  addCourse,
  addCut,
  addPart,
  bodySizes,
  CutParams,
  Evaluator,
  newProject,
  notRepeated,
  pickOf,
  setParams,
  Shape,
  type CutCourse,
  type Cutter,
  type Part,
} from '../index.ts';

const none = () => undefined;
const RADIUS = 8;
const circle = 32 * RADIUS * RADIUS * Math.sin((2 * Math.PI) / 64);
const pin = (placement: Cutter['placement']): Cutter => ({
  id: 9,
  name: 'Pin',
  shape: Shape.parse({ kind: 'cylinder', diameter: 2 * RADIUS, height: 40, segments: 64 }),
  placement,
  through: false,
  repeat: notRepeated(),
  slot: '',
});

/**
 * A plate of 100 × 60 × 20 mm with one scribed outline: the middle and area of what it encloses, and how the course
 * fared.
 */
function scribe(
  more: Partial<CutCourse['params']>,
  placement: Cutter['placement'] = { position: [10, 0, 0], turn: [0, 0, 0] },
) {
  const params = CutParams.parse({ operation: 'scribe', cutters: [pin(placement)], ...more });
  const shape = Shape.parse({ kind: 'box', x: 100, y: 60, z: 20 });
  const part: Part = {
    id: 4,
    name: 'Plate',
    shown: true,
    locked: false,
    picks: [],
    courses: [
      {
        id: 1,
        kind: 'shape',
        name: 'Plate',
        on: true,
        params: { shape, placement: { position: [0, 0, 0], turn: [0, 0, 0] }, slot: 'Body' },
      },
      { id: 2, kind: 'cut', name: 'Mark', on: true, params },
    ],
  };
  const r = new Evaluator().evaluate(part, none);
  const P = r.mesh.positions;
  const marked = Array.from(r.mesh.layers.mark ?? [], (x, f) => (x ? f : -1)).filter((f) => f >= 0);
  const middles = marked.map((f) => {
    const loop = faceBoundaries(r.mesh, f)[0]!;
    return [0, 1, 2].map((k) => +(loop.reduce((s, v) => s + P[3 * v + k]!, 0) / loop.length).toFixed(6) + 0);
  });
  return {
    course: r.courses[1]!,
    middles: middles.sort((a, b) => a[2]! - b[2]!),
    areas: marked.map((f) => faceAreas(r.mesh)[f]!),
  };
}

describe('a scribed outline', () => {
  it('goes along the cutter’s own axis to both sides by default', () => {
    expect(scribe({}).middles).toEqual([
      [10, 0, -10],
      [10, 0, 10],
    ]);
  });

  it('is projected along any direction: it lands where lines from it meet the surface, as large', () => {
    const along = { along: 'set', direction: [0.5, 0, 1] as [number, number, number] } as const;
    const { middles, areas } = scribe(along);
    // 10 mm up or down moves it by 5 mm.
    expect(middles).toEqual([
      [5, 0, -10],
      [15, 0, 10],
    ]);
    for (const a of areas) expect(a).toBeCloseTo(circle, 8);
    expect(scribe({ ...along, reach: 'nearest' }).middles).toEqual([[15, 0, 10]]);
    expect(scribe({ ...along, reach: 'nearest', fromBack: true }).middles).toEqual([[5, 0, -10]]);
  });

  it.each(['normal', 'z'] as const)('of a tilted cutter along %s is foreshortened by its tilt', (along) => {
    const { middles, areas } = scribe({ along, reach: 'nearest' }, { position: [0, 0, 14], turn: [30, 0, 0] });
    expect(middles).toEqual([[0, 0, 10]]);
    expect(areas[0]).toBeCloseTo(circle * Math.cos(Math.PI / 6), 8);
  });

  it('reaches the surface from afar: a projected outline has no length of its own', () => {
    expect(scribe({ along: 'z', reach: 'nearest' }, { position: [0, 0, 500], turn: [0, 0, 0] }).middles).toEqual([
      [0, 0, 10],
    ]);
  });

  it('says why when the direction would flatten it', () => {
    expect(scribe({ along: 'x' }).course).toMatchObject({ state: 'failed', error: { code: 'bad-input' } });
  });
});

describe('from an outline to a panel, on flat and bent bodies', () => {
  const bodies = [
    [
      { kind: 'box', x: 60, y: 60, z: 20 },
      { position: [0, 0, 15], turn: [0, 0, 0] },
    ],
    [
      { kind: 'cylinder', diameter: 76, height: 70, segments: 64 },
      { position: [38, 0, 0], turn: [0, 90, 0] },
    ],
    [
      { kind: 'patchBall', diameter: 60, segments: 10 },
      { position: [0, 0, 30], turn: [0, 0, 0] },
    ],
  ] as const;
  it.each(bodies)(
    '%o: what the scribe encloses is detached, then made thick by itself',
    (shape, { position, turn }) => {
      const base = addPart(newProject('p', 'P'), 'Body', Shape.parse(shape));
      const marked = addCut(base, 2, { ...pin({ position: [...position], turn: [...turn] }), id: undefined } as never);
      const course = marked.parts[0]!.courses.at(-1)!.id;
      const scribed = setParams(marked, 2, course, { operation: 'scribe' });
      const detached = addCourse(scribed, 2, 'detach', 'Detach', { pick: { by: 'walls', on: 'face', course } });
      const evaluator = new Evaluator();
      const first = evaluator.evaluate(detached.parts[0]!, none);
      const { made } = first.courses.at(-1)!.report;
      const pick = pickOf(first.mesh, 'face', made!.ids, bodySizes(detached.parts[0]!, none));
      const thick = addCourse(detached, 2, 'thicken', 'Thicken', { thickness: 2, side: 'outside', pick });
      const last = evaluator.evaluate(thick.parts[0]!, none);
      expect(last.courses.map((c) => c.state)).toEqual(['done', 'done', 'done', 'done']);
      const { count, of } = components(last.mesh);
      expect(count).toBe(2);
      const panel = takeFaces(last.mesh, (f) => of[f] === of[faceCount(last.mesh) - 1]);
      expect(isClosed(panel)).toBe(true);
      // A bent panel that grows outward is larger than its foot times its thickness.
      const { volume } = areaAndVolume(panel);
      expect(volume / (2 * circle)).toBeGreaterThan(0.999);
      expect(volume / (2 * circle)).toBeLessThan(1.1);
    },
  );
});
