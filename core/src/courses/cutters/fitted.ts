import { outlineRun } from '../base/runs.ts';
import { checked } from '../base/settingProblem.ts';
import { pivotPlace } from '../base/shapeMesh.ts';
import { Shape } from '../base/shapeSpec.ts';
import type { Part, Project } from '../document/document.ts';
import { partOf } from '../document/parts.ts';
import type { Cutter } from '../settings/cutSettings.ts';
import { mapPoint, placementAffine, turnOf } from '../../mesh/index.ts';
import { circleOutline, rectangleOutline, slotOutline, type Point2 } from '../../shapes/index.ts';

export type FittedShape = Extract<Shape, { kind: 'fitted' }>;
export type FittedPiece = FittedShape['piece'];

/** The opening that a cutter makes: its outline seen along the way through, and the frame in which that is z. */
interface Opening {
  points: Point2[];
  placement: Cutter['placement'];
}

/** The opening of a cutter; null for one that has no outline to fit: of a box the way through is its shortest side. */
export function openingOf(c: Cutter): Opening | null {
  const s = c.shape;
  const [kx, ky, kz] = (c.placement.scale ?? [1, 1, 1]).map(Math.abs) as [number, number, number];
  const scaled = (points: Point2[]): Point2[] => points.map(([x, y]) => [kx * x, ky * y]);
  switch (s.kind) {
    case 'box': {
      const sides = [kx * s.x, ky * s.y, kz * s.z] as const;
      const z = [2, 1, 0].reduce((a, b) => (sides[b]! < sides[a]! ? b : a)) as 0 | 1 | 2;
      const [x, y] = [(z + 1) % 3, (z + 2) % 3] as [0 | 1 | 2, 0 | 1 | 2];
      return { points: rectangleOutline(sides[x], sides[y]), placement: along(c, [x, y, z]) };
    }
    case 'plate':
      return { points: scaled(rectangleOutline(s.x, s.y, s.corner, s.segments)), placement: along(c, [0, 1, 2]) };
    case 'cylinder':
    case 'polygon':
    case 'tube':
      return { points: scaled(circleOutline(s.diameter / 2, s.segments)), placement: along(c, [0, 1, 2]) };
    case 'slot':
      return { points: scaled(slotOutline(s.x, s.y, s.segments)), placement: along(c, [0, 1, 2]) };
    case 'outline':
      return { points: scaled(outlineRun(s)), placement: along(c, [0, 1, 2]) };
    default:
      return null;
  }
}

/** The placement of a cutter without its scale, its axes taken in another order. */
function along(c: Cutter, axes: readonly [number, number, number]): Cutter['placement'] {
  const a = placementAffine({ ...c.placement, scale: [1, 1, 1] });
  const rows = [0, 1, 2].map((i) => axes.map((k) => a[4 * i + k]!));
  // Outlines are given about where the shape was made, which is not where its pivot need be.
  const pivot = pivotPlace(c.shape, () => undefined).map((x) => -x);
  const position = c.shape.pivot
    ? mapPoint(placementAffine(c.placement), ...(pivot as [number, number, number]))
    : c.placement.position;
  return { position, turn: turnOf(rows) };
}

/** Thicknesses and gaps that a piece begins with, as shares of the opening's narrower side. */
const BEGIN = {
  frame: { gap: 0, leg: 0.08, thickness: 0.15 },
  leaf: { gap: 0.005, leg: 0.08, thickness: 0.06 },
  pane: { gap: 0.002, leg: 0.08, thickness: 0.01 },
} as const;

/**
 * A new part in the place of a cutter, fitted to its opening; the same project when the cutter has no outline. It
 * becomes the last part.
 */
export function addFitted(p: Project, partId: number, courseId: number, cutter: Cutter, piece: FittedPiece): Project {
  const opening = openingOf(cutter);
  if (!opening) return p;
  const [xs, ys] = [0, 1].map((k) => opening.points.map((q) => q[k]!));
  const narrow = Math.min(Math.max(...xs!) - Math.min(...xs!), Math.max(...ys!) - Math.min(...ys!));
  const size = (share: number) => +(narrow * share).toPrecision(2);
  const { gap, leg, thickness } = BEGIN[piece];
  const shape = checked(Shape, {
    kind: 'fitted',
    piece,
    gap: size(gap),
    leg: size(leg),
    thickness: size(thickness),
    points: opening.points,
    source: { part: partId, course: courseId, cutter: cutter.id },
  });
  const title = `${piece[0]!.toUpperCase()}${piece.slice(1)}`;
  const name = `${title} of ${cutter.name || 'the opening'}`;
  const part = partOf(p.nextId, name, { name: title, shape, slot: title, placement: opening.placement });
  return { ...p, parts: [...p.parts, part], nextId: p.nextId + 2 };
}

/**
 * Fitted parts brought to where their cutters are now. A cutter that is gone, or that has no outline any more, lets its
 * part go: it stays as it was, detached.
 */
export function followCutters(p: Project): Project {
  let changed = false;
  const parts = p.parts.map((part): Part => {
    const [base, ...rest] = part.courses;
    if (base?.kind !== 'shape' || base.params.shape.kind !== 'fitted' || !base.params.shape.source) return part;
    const { source } = base.params.shape;
    const course = p.parts.find((q) => q.id === source.part)?.courses.find((c) => c.id === source.course);
    const cutter = course?.kind === 'cut' ? course.params.cutters.find((c) => c.id === source.cutter) : undefined;
    const opening = cutter && openingOf(cutter);
    const shape: FittedShape = opening
      ? { ...base.params.shape, points: opening.points }
      : { ...base.params.shape, source: null };
    const params = { ...base.params, shape, placement: opening?.placement ?? base.params.placement };
    if (JSON.stringify(params) === JSON.stringify(base.params)) return part;
    changed = true;
    return { ...part, courses: [{ ...base, params }, ...rest] };
  });
  return changed ? { ...p, parts } : p;
}
