import {
  addFitted,
  CutParams,
  CutterSchema,
  DOCUMENT_VERSION,
  renamePart,
  setParams,
  Shape,
  type Course,
  type CutCourse,
  type Cutter,
  type FittedShape,
  type Part,
  type Project,
  type ShapeCourse,
} from '../courses/index.ts';

type Vec3 = [number, number, number];
/** A shape that may leave out the fields that have defaults. */
type Sketch = { kind: Shape['kind'] } & Record<string, unknown>;

/** Numbers everything in order as the parts are laid. */
class Builder {
  nextId = 1;

  cutter(name: string, shape: Sketch, position: Vec3, turn: Vec3 = [0, 0, 0]): Cutter {
    return CutterSchema.parse({ id: this.nextId++, name, shape, placement: { position, turn } });
  }

  base(name: string, slot: string, shape: Sketch, position: Vec3): Course {
    const params = { shape: Shape.parse(shape), placement: { position, turn: [0, 0, 0] as Vec3 }, slot };
    return { id: this.nextId++, kind: 'shape', name, on: true, params };
  }

  cut(name: string, operation: CutCourse['params']['operation'], cutters: Cutter[], wallSlot = ''): Course {
    return {
      id: this.nextId++,
      kind: 'cut',
      name,
      on: true,
      params: CutParams.parse({ operation, cutters, ...(wallSlot && { wallSlots: 'own', wallSlot }) }),
    };
  }

  part(name: string, courses: Course[]): Part {
    return { id: this.nextId++, name, shown: true, locked: false, picks: [], courses };
  }
}

/** A plastered block with a doorway, a round-cornered hatch, a notch level with top and face, and a row of drains. */
function pumpHouseWall(b: Builder): Part {
  return b.part('Pump-house wall', [
    b.base('Plastered block', 'Plaster', { kind: 'box', x: 2400, y: 240, z: 1800 }, [0, 0, 900]),
    b.cut(
      'Doorway',
      'subtract',
      [b.cutter('Doorway', { kind: 'box', x: 800, y: 400, z: 1450 }, [-500, 0, 725])],
      'Reveal',
    ),
    b.cut(
      'Hatch',
      'subtract',
      [
        b.cutter(
          'Hatch',
          { kind: 'plate', x: 560, y: 420, z: 400, corner: 90, segments: 8 },
          [520, 0, 1050],
          [90, 0, 0],
        ),
      ],
      'Reveal',
    ),
    b.cut(
      'Lintel notch',
      'subtract',
      [b.cutter('Lintel notch', { kind: 'box', x: 1100, y: 90, z: 160 }, [-500, -75, 1720])],
      'Reveal',
    ),
    b.cut(
      'Drains',
      'subtract',
      [0, 1, 2, 3].map((i) =>
        b.cutter(
          `Drain ${i + 1}`,
          { kind: 'cylinder', diameter: 80, height: 400, segments: 32 },
          [220 + 200 * i, 0, 220],
          [90, 0, 0],
        ),
      ),
      'Reveal',
    ),
  ]);
}

/** A round hull with flange and collar, bored, with a port boss, a latch seat and a ring of bolt holes. */
function gaugePod(b: Builder): Part {
  const bolts = Array.from({ length: 10 }, (_, i) => {
    const a = ((i + 0.5) * Math.PI) / 5;
    return b.cutter(`Bolt ${i + 1}`, { kind: 'cylinder', diameter: 4.5, height: 20, segments: 24 }, [
      Math.round(430 * Math.cos(a)) / 10 + 0,
      Math.round(430 * Math.sin(a)) / 10 + 0,
      3,
    ]);
  });
  return b.part('Gauge pod', [
    b.base('Turned hull', 'Cast', { kind: 'cylinder', diameter: 76, height: 70, segments: 64 }, [0, 0, 35]),
    b.cut('Flange and collar', 'union', [
      b.cutter('Flange', { kind: 'cylinder', diameter: 96, height: 8, segments: 64 }, [0, 0, 4]),
      b.cutter('Collar', { kind: 'cylinder', diameter: 58, height: 24, segments: 64 }, [0, 0, 74]),
    ]),
    b.cut('Gland boss', 'union', [
      b.cutter('Gland boss', { kind: 'cylinder', diameter: 36, height: 36, segments: 48 }, [34, 0, 36], [0, 90, 0]),
    ]),
    b.cut(
      'Bore',
      'subtract',
      [b.cutter('Bore', { kind: 'cylinder', diameter: 46, height: 90, segments: 64 }, [0, 0, 55])],
      'Machined',
    ),
    b.cut(
      'Port',
      'subtract',
      [b.cutter('Port', { kind: 'cylinder', diameter: 25, height: 60, segments: 48 }, [40, 0, 36], [0, 90, 0])],
      'Machined',
    ),
    b.cut(
      'Latch seat',
      'subtract',
      [
        b.cutter(
          'Latch seat',
          { kind: 'plate', x: 18, y: 30, z: 14, corner: 4, segments: 6 },
          [0, -38, 40],
          [90, 0, 0],
        ),
      ],
      'Machined',
    ),
    b.cut('Bolt ring', 'subtract', bolts, 'Machined'),
  ]);
}

/** A bracket with a long slot, a cross hole, a sloped end and a fork. */
function mastClamp(b: Builder): Part {
  return b.part('Mast clamp', [
    b.base('Bracket', 'Steel', { kind: 'plate', x: 140, y: 64, z: 36, corner: 10, segments: 6 }, [0, 0, 18]),
    b.cut('Adjusting slot', 'subtract', [
      b.cutter('Adjusting slot', { kind: 'slot', x: 52, y: 14, z: 60, segments: 16 }, [-28, 0, 18]),
    ]),
    b.cut('Mast seat', 'subtract', [
      b.cutter('Mast seat', { kind: 'cylinder', diameter: 44, height: 60, segments: 64 }, [40, 0, 18]),
    ]),
    b.cut('Clamp gap', 'subtract', [b.cutter('Clamp gap', { kind: 'box', x: 40, y: 6, z: 36 }, [70, 0, 18])]),
    b.cut('Cross hole', 'subtract', [
      b.cutter('Cross hole', { kind: 'cylinder', diameter: 5, height: 90, segments: 32 }, [66, 0, 18], [90, 0, 0]),
    ]),
    b.cut('Sloped end', 'subtract', [
      b.cutter('Sloped end', { kind: 'wedge', x: 30, y: 80, z: 22 }, [-55, 0, 25], [180, 0, 180]),
    ]),
  ]);
}

/** A sheet with louvre slots and screw holes cut out and a panel line scribed round them. */
function louvrePanel(b: Builder): Part {
  const across = (name: string, n: number, at: (i: number) => Vec3, shape: Sketch) =>
    Array.from({ length: n }, (_, i) => b.cutter(`${name} ${i + 1}`, shape, at(i)));
  return b.part('Louvre panel', [
    b.base('Panel sheet', 'Zinc', { kind: 'sheet', x: 540, y: 400 }, [0, 0, 0]),
    b.cut(
      'Louvre slots',
      'subtract',
      across('Slot', 6, (i) => [0, -125 + 50 * i, 0], { kind: 'slot', x: 360, y: 22, z: 20, segments: 12 }),
    ),
    b.cut(
      'Screw holes',
      'subtract',
      across('Screw', 4, (i) => [i % 2 ? 250 : -250, i < 2 ? 180 : -180, 0], {
        kind: 'cylinder',
        diameter: 9,
        height: 20,
        segments: 24,
      }),
    ),
    b.cut('Panel line', 'scribe', [
      b.cutter('Panel line', { kind: 'plate', x: 470, y: 340, z: 20, corner: 20, segments: 6 }, [0, 0, 0]),
    ]),
  ]);
}

/** A frame and a leaf in the doorway of the wall, which is the first part: they follow its cutter. */
function fitDoor(p: Project): Project {
  const wall = p.parts[0]!;
  const doorway = wall.courses[1] as CutCourse;
  const cutter = doorway.params.cutters[0]!;
  const sized = (q: Project, name: string, change: Partial<FittedShape>): Project => {
    const made = q.parts.at(-1)!;
    const base = made.courses[0] as ShapeCourse;
    const shape = { ...(base.params.shape as FittedShape), ...change };
    return renamePart(setParams(q, made.id, base.id, { shape }), made.id, name);
  };
  const frame = sized(addFitted(p, wall.id, doorway.id, cutter, 'frame'), 'Door frame', {
    gap: 0,
    leg: 60,
    thickness: 110,
  });
  return sized(addFitted(frame, wall.id, doorway.id, cutter, 'leaf'), 'Door leaf', { gap: 64, thickness: 44 });
}

/** Skerry Light: the sample project, a small automatic tide-gauge station on a rock. All of it is made up. */
export function skerryLight(id = 'skerry-light'): Project {
  const b = new Builder();
  const parts = [pumpHouseWall(b), gaugePod(b), mastClamp(b), louvrePanel(b)];
  return fitDoor({
    version: DOCUMENT_VERSION,
    id,
    name: 'Skerry Light',
    unit: 'mm',
    parts,
    materials: [],
    pictures: [],
    nextId: b.nextId,
  });
}

/** The sample parts by the names that the command line takes. */
export const SAMPLES: Record<string, number> = {
  'pump-house-wall': 0,
  'gauge-pod': 1,
  'mast-clamp': 2,
  'louvre-panel': 3,
  'door-frame': 4,
  'door-leaf': 5,
};
