import {
  addCutter,
  boxOfPoints,
  chosenPoints,
  cutterName,
  meetBoxes,
  movePart,
  movedPoints,
  setCutter,
  setParams,
  slidAlong,
  Shape,
  type MeetsBy,
  type Part,
  type StrokeCourse,
  type Placed,
  type Project,
  checked,
} from '@dusky-mason/core/courses';
import { useCage } from './cage.ts';
import { useCompany } from './company.ts';
import { usePartHand } from './partHand.ts';
import type { useProject } from './project.ts';

/** What is picked and stands somewhere: a cutter, or the base of a part. */
export interface Held {
  placed: Placed;
  name: string;
  kind: 'cutter' | 'base' | 'stroke' | 'part';
  /** The project with it changed. */
  put(p: Project, next: Placed): Project;
  /**
   * The project with a copy of it beside it, in the same cut, which has the old `nextId`; null for what has no copies.
   */
  copied(p: Project, next: Placed): Project | null;
  /** Brought level with what stands beside it, along an own axis, where that is within reach, mm; and by what it meets. */
  level?(next: Placed, axis: 0 | 1 | 2, within: number): { placed: Placed; by: number; meets: MeetsBy } | null;
}

/** Handles stand on a box of this at least, mm, so that a single vertex can be taken hold of. */
const LEAST_BOX = 1;

/** What a stroke moves, as a box at its new place. */
function movedPick(
  store: ReturnType<typeof useProject>,
  part: number,
  course: Extract<StrokeCourse, { kind: 'move' }>,
): Held | null {
  const box = store.outcome?.courses.find((c) => c.id === course.id)?.report.box;
  if (!box) return null;
  const { by, turn, scale } = course.params;
  const least = Math.max(LEAST_BOX, ...box.size.map((x) => x / 20));
  const [x, y, z] = box.size.map((s) => Math.max(least, s)) as [number, number, number];
  const position = by.map((b, k) => b + box.middle[k]!) as [number, number, number];
  const moved = (v: readonly number[], w: readonly number[]) =>
    v.map((a, k) => +(a - w[k]!).toFixed(9) + 0) as [number, number, number];
  return {
    placed: {
      shape: checked(Shape, {
        kind: 'box',
        x: x * Math.abs(scale[0]),
        y: y * Math.abs(scale[1]),
        z: z * Math.abs(scale[2]),
      }),
      placement: { position, turn },
    },
    name: course.name,
    kind: 'stroke',
    put: (p, { shape, placement }) => {
      const sizes = shape.kind === 'box' ? [shape.x / x, shape.y / y, shape.z / z] : [1, 1, 1];
      const next = sizes.map((s, k) => +(s * Math.sign(scale[k]!)).toFixed(9)) as [number, number, number];
      return setParams(p, part, course.id, {
        by: moved(placement.position, box.middle),
        turn: placement.turn,
        scale: next,
      });
    },
    copied: () => null,
  };
}

/** The chosen points of a cage, as a box that stands where they are. */
function chosenOfCage(
  store: ReturnType<typeof useProject>,
  part: number,
  course: Extract<StrokeCourse, { kind: 'cage' }>,
): Held | null {
  const rest = store.outcome?.courses.find((c) => c.id === course.id)?.report.places?.cage;
  const points = rest ? chosenPoints(course.params, rest, useCage().choice) : [];
  if (!points.length) return null;
  const { middle, size } = boxOfPoints(points);
  const whole = boxOfPoints(rest!.map((at) => ({ at }))).size;
  const least = Math.max(LEAST_BOX, Math.hypot(...whole) / 40);
  const [x, y, z] = size.map((s) => Math.max(least, s)) as [number, number, number];
  return {
    placed: { shape: checked(Shape, { kind: 'box', x, y, z }), placement: { position: [...middle], turn: [0, 0, 0] } },
    name: course.name,
    kind: 'stroke',
    put: (p, { shape, placement }) => {
      const factor: [number, number, number] =
        shape.kind === 'box' ? [shape.x / x, shape.y / y, shape.z / z] : [1, 1, 1];
      return setParams(p, part, course.id, { moves: movedPoints(course.params, points, placement, factor) });
    },
    copied: () => null,
  };
}

/** Whether a part stands where a cutter of another one does: it is moved with that. */
export function followsCutter(part: Part): boolean {
  const [base] = part.courses;
  return base?.kind === 'shape' && base.params.shape.kind === 'fitted' && !!base.params.shape.source;
}

/** The part as a whole, as the box round it; other parts that are seen are what it is brought level with. */
function wholePart(store: ReturnType<typeof useProject>, part: Part): Held | null {
  const box = store.outcome?.part === part.id ? store.outcome.counts.bounds : null;
  if (!box || !usePartHand().on || followsCutter(part)) return null;
  const size = box.max.map((x, k) => Math.max(LEAST_BOX, x - box.min[k]!)) as [number, number, number];
  const middle = box.max.map((x, k) => (x + box.min[k]!) / 2) as [number, number, number];
  const shifted = ({ placement }: Placed) =>
    placement.position.map((x, k) => x - middle[k]!) as [number, number, number];
  return {
    placed: {
      shape: checked(Shape, { kind: 'box', x: size[0], y: size[1], z: size[2] }),
      placement: { position: middle, turn: [0, 0, 0] },
    },
    name: part.name,
    kind: 'part',
    put: (p, next) => movePart(p, part.id, shifted(next)),
    copied: () => null,
    level(next, axis, within) {
      const by = shifted(next);
      const at = (v: readonly number[]) => v.map((x, k) => x + by[k]!) as [number, number, number];
      const met = meetBoxes({ min: at(box.min), max: at(box.max) }, useCompany().boxes, axis, within);
      return met && { placed: slidAlong(next, axis, met.by), ...met };
    },
  };
}

/** What is picked just now; null where it cannot be moved by itself. */
export function heldOf(store: ReturnType<typeof useProject>): Held | null {
  const { part, course, cutter } = store;
  if (!part || part.locked) return null;
  if (!course) return wholePart(store, part);
  if (course.kind === 'cut') {
    if (!cutter) return null;
    return {
      placed: cutter,
      name: cutterName(cutter),
      kind: 'cutter',
      put: (p, { shape, placement }) => setCutter(p, part.id, course.id, { ...cutter, shape, placement }),
      copied: (p, { shape, placement }) =>
        addCutter(p, part.id, course.id, { ...cutter, name: `${cutterName(cutter)} copy`, shape, placement }),
    };
  }
  if (course.kind === 'move') return movedPick(store, part.id, course);
  if (course.kind === 'cage') return chosenOfCage(store, part.id, course);
  if (course.kind !== 'shape') return null;
  const { shape, placement } = course.params;
  // A fitted part stands where its cutter does.
  if (shape.kind === 'fitted' && shape.source) return null;
  return {
    placed: { shape, placement },
    name: course.name,
    kind: 'base',
    put: (p, next) => setParams(p, part.id, course.id, { shape: next.shape, placement: next.placement }),
    copied: () => null,
  };
}
