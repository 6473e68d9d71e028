import { describe, expect, it } from 'vitest';
import {
  areaAndVolume,
  bounds,
  dot,
  genus,
  isClosed,
  MasonError,
  placementAffine,
  type PolyMesh,
} from '../../mesh/index.ts';
import { signedArea2, sketchPlane, type Point2 } from '../../shapes/index.ts';
import {
  addCutOf,
  addPart,
  checkDrawn,
  drawingCutters,
  Evaluator,
  newProject,
  readProject,
  type CutCourse,
  DRAWN_TITLES,
  drawnCutter,
  drawnProblem,
  drawnRun,
  drawnTurned,
  placedMesh,
  Shape,
  shapeMesh,
  type Drawn,
} from '../index.ts';

const none = () => undefined;
const flat = sketchPlane([5, 6, 7], [0, 0, 1], [1, 0, 0]);
const tilted = sketchPlane([5, 6, 7], [1, -2, 2], [2, 1, 0]);
const mesh = (d: Drawn, pull: number, plane = flat, proud = 0): PolyMesh => {
  const { shape, placement } = drawnCutter(d, plane, pull, proud);
  return placedMesh(shape, placement, none);
};
const area = (d: Drawn) => Math.abs(signedArea2(drawnRun(d))) / 2;

const drawn: Record<string, Drawn> = {
  rectangle: { kind: 'rectangle', from: [1, 2], to: [-9, 22], corner: 0 },
  'rounded rectangle': { kind: 'rectangle', from: [-10, -5], to: [10, 5], corner: 2 },
  circle: { kind: 'circle', centre: [3, 4], radius: 7 },
  polygon: { kind: 'polygon', centre: [3, 4], corner: [9, 12], sides: 5 },
  slot: { kind: 'slot', from: [2, -3], to: [14, 6], width: 4 },
  free: {
    kind: 'free',
    points: [
      [0, 0],
      [12, 0],
      [12, 8],
      [4, 10],
    ],
    bows: [0, 2, 0, -1],
  },
  'free, clockwise': {
    kind: 'free',
    points: [
      [0, 0],
      [4, 10],
      [12, 8],
      [12, 0],
    ],
    bows: [1, 0, -2, 0],
  },
};

describe('a drawn outline that is pulled', () => {
  it.each(Object.entries(drawn))('%s: its area times the depth, on the right side of the plane', (name, d) => {
    for (const plane of [flat, tilted])
      for (const pull of [-3, 5]) {
        const m = mesh(d, pull, plane);
        expect(isClosed(m)).toBe(true);
        const heights = Array.from({ length: m.positions.length / 3 }, (_, v) =>
          dot([0, 1, 2].map((k) => m.positions[3 * v + k]! - plane.origin[k]!) as never, plane.axes[2]),
        );
        expect(Math.min(...heights)).toBeCloseTo(Math.min(0, pull), 7);
        expect(Math.max(...heights)).toBeCloseTo(Math.max(0, pull), 7);
        // The rounded rectangle has a rectangle for its run while it is drawn.
        if (name !== 'rounded rectangle') expect(areaAndVolume(m).volume).toBeCloseTo(area(d) * Math.abs(pull), 6);
      }
  });

  it.each(Object.entries(drawn))('%s: lies where it was drawn', (_name, d) => {
    const run = drawnRun(d);
    const { min, max } = bounds(mesh(d, -3));
    for (const k of [0, 1] as const) {
      expect(min[k] - flat.origin[k]!).toBeCloseTo(Math.min(...run.map((p) => p[k])), 7);
      expect(max[k] - flat.origin[k]!).toBeCloseTo(Math.max(...run.map((p) => p[k])), 7);
    }
  });

  it('both ways round give the same body', () => {
    const [a, b] = [mesh(drawn.free!, -3), mesh(drawn['free, clockwise']!, -3)];
    expect(areaAndVolume(a).volume).toBeCloseTo(areaAndVolume(b).volume, 9);
  });

  it('stands proud of the plane on its other side when asked, and goes through when told', () => {
    const { min, max } = bounds(mesh(drawn.circle!, -3, flat, 2));
    expect([min[2], max[2]]).toEqual([expect.closeTo(4, 9), expect.closeTo(9, 9)]);
    expect(bounds(mesh(drawn.circle!, 3, flat, 2)).min[2]).toBeCloseTo(5, 9);
    expect(drawnCutter(drawn.circle!, flat, 'through')).toMatchObject({
      through: true,
      shape: { height: expect.closeTo(14, 1) },
    });
    expect(drawnCutter(drawn.circle!, flat, -3).through).toBe(false);
  });

  it('becomes the shape that it is: a box, a cylinder, a prism, not a bag of points', () => {
    const kinds = Object.entries(drawn).map(([, d]) => drawnCutter(d, flat, -3).shape.kind);
    expect(kinds).toEqual(['box', 'plate', 'cylinder', 'polygon', 'slot', 'outline', 'outline']);
    expect(drawnCutter(drawn.rectangle!, flat, -3).shape).toMatchObject({ x: 10, y: 20, z: 3 });
    expect(drawnCutter(drawn.slot!, flat, -3).shape).toMatchObject({ x: 19, y: 4 });
    expect(drawnCutter(drawn.polygon!, flat, -3).shape).toMatchObject({ diameter: 20, segments: 5 });
    const a = placementAffine(drawnCutter(drawn.slot!, flat, -3).placement);
    expect([a[0], a[4]]).toEqual([expect.closeTo(0.8, 9), expect.closeTo(0.6, 9)]);
    expect(drawnCutter(drawn.circle!, flat, -3).name).toBe(DRAWN_TITLES.circle);
  });
});

describe('outlines of a drawing', () => {
  const square = (r: number, x = 0): Point2[] => [
    [x - r, -r],
    [x + r, -r],
    [x + r, r],
    [x - r, r],
  ];

  it('become one cut of a cutter each, where they lie in the drawing, with their holes', () => {
    const outlines = [{ points: square(8, -20), holes: [[...square(3, -20)].reverse()] }, { points: square(5, 20) }];
    const plate = addPart(newProject('p', 'P'), 'Plate', Shape.parse({ kind: 'box', x: 100, y: 60, z: 10 }));
    const p = addCutOf(plate, 2, drawingCutters(outlines, 'Grille', [0, 0, 5]), 'Grille');
    const course = p.parts[0]!.courses[1] as CutCourse;
    expect([course.name, course.params.cutters.map((c) => c.name)]).toEqual(['Grille', ['Grille 1', 'Grille 2']]);
    expect(course.params.cutters.map((c) => c.placement.position)).toEqual([
      [-20, 0, 5],
      [20, 0, 5],
    ]);
    const { mesh } = new Evaluator().evaluate(p.parts[0]!, none);
    expect(areaAndVolume(mesh).volume).toBeCloseTo(10 * (6000 - (256 - 36) - 100), 6);
    expect(readProject(JSON.parse(JSON.stringify(p)))).toEqual(p);
    expect(drawingCutters([outlines[1]!], 'Grille', [0, 0, 0])[0]!.name).toBe('Grille');
  });
});

describe('an outline that cannot be pulled', () => {
  it.each([
    ['no width', { kind: 'rectangle', from: [0, 0], to: [0, 5], corner: 0 }],
    ['no radius', { kind: 'circle', centre: [0, 0], radius: 0 }],
    ['a radius that is no number', { kind: 'circle', centre: [0, 0], radius: NaN }],
    ['the size of a country', { kind: 'circle', centre: [0, 0], radius: 1e9 }],
    ['two sides', { kind: 'polygon', centre: [0, 0], corner: [5, 0], sides: 2 }],
    ['a thousand sides', { kind: 'polygon', centre: [0, 0], corner: [5, 0], sides: 1000 }],
    ['no length', { kind: 'slot', from: [1, 1], to: [1, 1], width: 3 }],
    ['a negative width', { kind: 'slot', from: [1, 1], to: [9, 1], width: -3 }],
    [
      'two points',
      {
        kind: 'free',
        points: [
          [0, 0],
          [5, 0],
        ],
        bows: [],
      },
    ],
    [
      'points in a line',
      {
        kind: 'free',
        points: [
          [0, 0],
          [5, 0],
          [9, 0],
        ],
        bows: [],
      },
    ],
    [
      'a crossing',
      {
        kind: 'free',
        points: [
          [0, 0],
          [9, 9],
          [9, 0],
          [0, 9],
        ],
        bows: [],
      },
    ],
    [
      'an arc that crosses',
      {
        kind: 'free',
        points: [
          [0, 0],
          [10, 0],
          [10, 4],
          [0, 4],
        ],
        bows: [-6, 0, 0, 0],
      },
    ],
  ] as [string, Drawn][])('%s is refused in words', (_what, d) => {
    expect(() => checkDrawn(d)).toThrow(MasonError);
    expect(drawnProblem(d)).toMatch(/\.$/);
    expect(() => drawnCutter(d, flat, -3)).toThrow(MasonError);
  });

  it('nor one that is not pulled at all', () => {
    expect(drawnProblem(drawn.circle!)).toBeNull();
    expect(() => drawnCutter(drawn.circle!, flat, 0)).toThrow(/no depth yet/);
    expect(() => drawnCutter(drawn.circle!, flat, NaN)).toThrow(MasonError);
    expect(() => drawnCutter(drawn.circle!, flat, 1e8)).toThrow(/1 km/);
  });

  it('a stored outline that crosses itself says where, when it is made', () => {
    const points: Point2[] = [
      [0, 0],
      [9, 9],
      [9, 0],
      [0, 9],
    ];
    expect(() => shapeMesh(Shape.parse({ kind: 'outline', points, height: 2 }), none)).toThrow(/4\.5, 4\.5/);
  });

  it('two points and two arcs are a circle', () => {
    const d: Drawn = {
      kind: 'free',
      points: [
        [-5, 0],
        [5, 0],
      ],
      bows: [5, 5],
    };
    expect(areaAndVolume(mesh(d, -2)).volume).toBeCloseTo(2 * 32 * 25 * Math.sin(Math.PI / 32), 8);
  });
});

describe('a profile that is drawn and turned', () => {
  const front = sketchPlane([0, 0, 0], [0, -1, 0], [1, 0, 0]);
  const profile: Point2[] = [
    [0, 0],
    [30, 0],
    [30, 8],
    [10, 8],
    [10, 40],
    [0, 40],
  ];
  const place = (d: Drawn, plane = front) => {
    const c = drawnTurned(d, plane);
    return placedMesh(c.shape, c.placement, () => undefined);
  };
  const round = (x: readonly number[]) => x.map((v) => +v.toFixed(9) + 0);

  it('stands on the axis where it was drawn, on whichever side of it that was', () => {
    for (const sign of [1, -1]) {
      const m = place({ kind: 'free', points: profile.map(([x, y]): Point2 => [sign * x, y]), bows: [] });
      const { min, max } = bounds(m);
      expect([round(min), round(max)]).toEqual([
        [-30, -30, 0],
        [30, 30, 40],
      ]);
      expect(isClosed(m)).toBe(true);
      const area = (r: number) => 32 * r * r * Math.sin(Math.PI / 32);
      expect(areaAndVolume(m).volume).toBeCloseTo(area(30) * 8 + area(10) * 32, 6);
    }
  });

  it('an arc of it bows to the same side, and a circle beside the axis makes a ring', () => {
    const bowed = (sign: number) =>
      place({ kind: 'free', points: profile.map(([x, y]): Point2 => [sign * x, y]), bows: [0, 2 * sign] });
    expect(areaAndVolume(bowed(-1)).volume).toBeCloseTo(areaAndVolume(bowed(1)).volume, 6);
    expect(bounds(bowed(1)).max[0]).toBeCloseTo(32, 1);
    expect(genus(place({ kind: 'circle', centre: [20, 0], radius: 5 }))).toBe(1);
  });

  it('turns about the up axis of whatever plane it was drawn on', () => {
    const side = sketchPlane([5, 6, 7], [1, 0, 0], [0, 1, 0]);
    const { min, max } = bounds(place({ kind: 'free', points: profile, bows: [] }, side));
    expect([round(min), round(max)]).toEqual([
      [-25, -24, 7],
      [35, 36, 47],
    ]);
  });

  it('that crosses the axis is refused in words', () => {
    expect(() => drawnTurned({ kind: 'circle', centre: [3, 0], radius: 5 }, front)).toThrow(/crosses the axis/);
  });
});
